"""LaTeX that compiles, MathML that parses, text that lines up; the order of a physicist."""

from __future__ import annotations

import shutil
import subprocess
import xml.etree.ElementTree as tree

import pytest

import gelvo

LATEX = [
    ("m*c^2", "m c^{2}"),
    ("-x + 1", "1 - x"),
    ("1 - x", "1 - x"),
    ("x - y", "x - y"),
    ("a*x^2 + b*x + c", "a x^{2} + b x + c"),
    ("m*v^2/2", r"\frac{m v^{2}}{2}"),
    ("sqrt(2)", r"\sqrt{2}"),
    ("sqrt(x + 1)", r"\sqrt{x + 1}"),
    ("x^(1/3)", r"\sqrt[3]{x}"),
    ("cbrt(x)", r"\sqrt[3]{x}"),
    ("theta_1", r"\theta_{1}"),
    ("sigma_xx", r"\sigma_{\mathrm{xx}}"),
    ("omega*t", r"\omega t"),
    ("speed", r"\mathrm{speed}"),
    ("sin(x)^2", r"\sin^{2}(x)"),
    ("exp(-x)", r"\mathrm{e}^{-x}"),
    ("abs(x)", r"\left|x\right|"),
    ("factorial(n)", "n!"),
    ("2*pi*r", r"2 \pi r"),
    ("x/y", r"\frac{x}{y}"),
    ("2*x/3", r"\frac{2 x}{3}"),
    ("(a + b)*(a - b)", r"(a - b) (a + b)"),
    ("integral_of(x^2, x, 0, 1)", r"\int_{0}^{1} x^{2}\,\mathrm{d}x"),
    ("sum_of(1/k^2, k, 1, inf)", r"\sum_{k = 1}^{\infty} \frac{1}{k^{2}}"),
    ("x > 0", "x > 0"),
    ("a <= b", r"a \le b"),
    ("E = m*c^2", "E = m c^{2}"),
    ("1j*x", r"\mathrm{i} x"),
    ("2^x", "2^{x}"),
    ("3*2^x", r"3 \cdot 2^{x}"),
    ("(-2)^x", r"(-2)^{x}"),
    ("x^y^z", "x^{y^{z}}"),
    ("-(x + 1)", r"-(x + 1)"),
    ("a/(b*c)", r"\frac{a}{b c}"),
    ("inf", r"\infty"),
    ("log10(x)", r"\log_{10}(x)"),
]


@pytest.mark.parametrize(("text", "latex"), LATEX, ids=[c[0] for c in LATEX])
def test_latex_in_the_order_of_a_physicist(text, latex):
    assert gelvo.typeset(gelvo.formula(text), "latex") == latex


MANY = [c[0] for c in LATEX] + [
    "cases(x^2 when x > 0, otherwise 0)",
    "limit_of(sin(x)/x, x, 0)",
    "derivative_of(f*x, x, 2)",
    "product_of(k, k, 1, n)",
    "floor(x/2) + ceil(y)",
    "conj(z)*re(z)",
    "binomial(n, k)",
    "atan2(y, x)",
    "asinh(x)*artificial_name",
    "x > 0 and y < 0 or z != 0",
    "undefined",
    "erf(x) + digamma(x)",
    "lambda_max^2/(1 + epsilon_0)",
    "a_b_c",
    "euler_gamma*catalan",
    "(1 + 2j)*x/3",
    "1/(1 + 1/(1 + 1/x))",
    "percent_x",
]


@pytest.mark.skipif(shutil.which("pdflatex") is None, reason="no TeX installation")
def test_latex_compiles(tmp_path):
    t = gelvo.variable("t")
    q = gelvo.unknown_function("theta_1", t)
    rows = [gelvo.typeset(gelvo.formula(m), "latex") for m in MANY]
    rows += [gelvo.typeset(q.derivative(k) + q(0), "latex") for k in range(6)]
    rows += [gelvo.typeset(gelvo.solve("x^2 = a", "x"), "latex")]
    lines = "\n".join(rf"\[ {row} \]" for row in rows)
    source = rf"\documentclass{{article}}\usepackage{{amsmath}}\begin{{document}}{lines}\end{{document}}"
    (tmp_path / "page.tex").write_text(source, encoding="utf-8")
    done = subprocess.run(
        ["pdflatex", "-interaction=nonstopmode", "-halt-on-error", "page.tex"], cwd=tmp_path, capture_output=True, text=True
    )
    assert done.returncode == 0, done.stdout[-1500:]
    assert (tmp_path / "page.pdf").stat().st_size > 5000


CORE = {
    "math",
    "mrow",
    "mi",
    "mn",
    "mo",
    "mtext",
    "mspace",
    "mfrac",
    "msqrt",
    "mroot",
    "msub",
    "msup",
    "msubsup",
    "munder",
    "mover",
    "munderover",
    "mtable",
    "mtr",
    "mtd",
}


@pytest.mark.parametrize("text", MANY)
def test_mathml_is_well_formed_and_core(text):
    root = tree.fromstring(gelvo.typeset(gelvo.formula(text), "mathml"))
    assert {e.tag.split("}")[1] for e in root.iter()} <= CORE
    counts = {"mfrac": 2, "msup": 2, "msub": 2, "msubsup": 3, "mroot": 2, "munderover": 3, "munder": 2, "mover": 2}
    for element in root.iter():
        wanted = counts.get(element.tag.split("}")[1])
        assert wanted is None or len(element) == wanted


@pytest.mark.parametrize("text", MANY)
def test_text_is_a_block(text):
    shown = gelvo.typeset(gelvo.formula(text), "text")
    assert shown.strip()
    assert all(line == line.rstrip() for line in shown.splitlines())


def test_two_dimensional_text():
    assert gelvo.typeset("m*v^2/2", "text").splitlines() == [" m v²", "──────", "  2"]
    assert gelvo.typeset("theta_0 + 1", "text") == "θ₀ + 1"
    assert gelvo.typeset("sqrt(x)", "text").splitlines() == ["  _", " √x"] or "√x" in gelvo.typeset("sqrt(x)", "text")
    assert "⌠" in gelvo.typeset("integral_of(x, x, 0, 1)", "text")


def test_notebooks_show_formulas_typeset():
    for thing in (
        gelvo.formula("x^2"),
        gelvo.formula("x = 1"),
        gelvo.formula("x > 1"),
        gelvo.integrate("x", "x"),
        gelvo.solve("x^2 = 4", "x"),
    ):
        bundle = thing._repr_mimebundle_()
        assert bundle["text/latex"].startswith("$") and bundle["text/plain"]


def test_what_cannot_be_typeset_is_told():
    with pytest.raises(gelvo.ExportError, match="style"):
        gelvo.typeset("x", "word")
    e = gelvo.variable("x")
    for _ in range(60):
        e = e**2 + e
    with pytest.raises(gelvo.ExportError, match="too many"):
        gelvo.typeset(e)
    assert "text/plain" in e._repr_mimebundle_()


@pytest.mark.parametrize(
    ("inequality", "lines"),
    [
        ("x^2 < 4", ["−2 < x < 2"]),
        ("(x < 1 or x > 4) and (x > 0 or x < -3)", ["x < −3 or 0 < x < 1 or x > 4"]),
        ("a*x > 2*a", ["x > 2 if a > 0", "no solution if a = 0", "x < 2 if a < 0"]),
    ],
)
def test_sets_of_solutions_by_cases_and_as_chains(inequality, lines):
    found = gelvo.solve(inequality, "x")
    shown = [line.strip() for line in gelvo.typeset(found, "text").splitlines() if line.strip()]
    assert shown == lines
    assert gelvo.typeset(found, "latex") in found._repr_mimebundle_()["text/latex"]


def test_alternatives_inside_a_junction_stand_in_parentheses():
    condition = gelvo.solve("x^2 > a", "x").condition
    assert str(condition) == "(a >= 0 and (x < -sqrt(a) or sqrt(a) < x)) or a < 0"
    assert "and" in gelvo.typeset(condition, "latex") and "(" in gelvo.typeset(condition, "latex")
