"""Long formulas fit into a line of the page, of paper, of the terminal; cases, matrices and further roots as a reader wants them."""

from __future__ import annotations

import re

import pytest

import gelvo
from gelvo.derivation.engine import Derivation
from gelvo.derivation.report import html, plain_lines

LONG = [
    "expand (x + y + z)^6",
    "(a*x + b*y + c*z)*(sin(x)*cos(y)*tan(z) + exp(-a*x)*exp(-b*y^2) + ln(x + y + z)*sinh(q*x))*(x^2 + y^2 + z^2 + a^2 + b^2 + c^2)",
    "(x^7 + x^6 + x^5 + x^4 + x^3 + x^2 + a*x + b + c)*(q + p + u + w + k + l)/(x + y + z + a + b + c + d + q + f + g + h + k + l + m + n)",
    "sin(alpha*x + beta*y + gamma*z + delta*u + epsilon*v + zeta*w + eta*p + theta*q + kappa*r + lambda*s)",
    "solve a*x + b*y = c_1, d*x + q*y = f, x + z = g_1, u + a*x - b*z = h_1 for x, y, z, u",
    "solve theta'' + 2*g*theta' + w^2*theta = F*cos(p*t) for theta(t) given theta(0) = 0, theta'(0) = 0, g > 0, w > g, p > 0",
    "solve (x - 1)*(x - 2)*(x - 3)*(x - 4)*(x - 5)*(x - 6)*(x - 7)*(x - 8)*(x - 9)*(x - 10)*(x - 11)*(x - 12)*(x - 13)*(x - 14) = 0 for x",
]


@pytest.mark.parametrize("width", [110, 76, 50])
@pytest.mark.parametrize("statement", LONG, ids=lambda s: s[:30])
def test_what_is_long_is_broken_to_the_width(statement, width):
    derivation = Derivation()
    derivation.run(statement)
    result = derivation.results[-1]
    assert result.kind != "fault", result.note
    shown = plain_lines(result, width=width)
    assert max(map(len, shown.splitlines())) <= width
    wide = plain_lines(result, width=10_000)
    signs = re.compile(r"[\s·⎛⎜⎝⎞⎟⎠─_()]+")  # brackets and lines become taller
    assert sorted(signs.sub("", shown)) == sorted(signs.sub("", wide))  # nothing is lost


def test_lines_stand_behind_the_sign_on_every_medium():
    shown = gelvo.typeset(gelvo.equation("f", gelvo.expand("(x + y)^9")), "text", width=50)
    first, *others = shown.splitlines()
    assert first.startswith("f = x⁹") and all(line.startswith(" " * 7 + "+ ") for line in others) and len(others) > 1
    latex = gelvo.typeset(gelvo.equation("f", gelvo.expand("(x + y)^9")), "latex", width=50)
    assert latex.startswith(r"\begin{aligned}f = & x^{9}") and latex.count(r"\\") == len(others)
    mathml = gelvo.typeset(gelvo.equation("f", gelvo.expand("(x + y)^9")), "mathml", width=50)
    assert mathml.count("<mtr>") == len(others) + 1
    assert gelvo.typeset("x + y", "latex", width=50) == "x + y"


def test_what_cannot_be_broken_is_abbreviated():
    derivation = Derivation()
    derivation.run(
        "let R be sqrt(a^2 + b^2 + c^2 + d^2 + f^2 + g^2 + h^2 + k^2 + l^2 + m^2)\nshow names expanded\nR^3*exp(R)/(1 + R) + 1/R^5"
    )
    shown = plain_lines(derivation.results[-1], width=46)
    assert "where" in shown and max(map(len, shown.splitlines())) <= 46


def test_the_report_has_no_line_wider_than_its_page():
    derivation = Derivation()
    derivation.run("\n".join(LONG))
    page = html("", derivation.results)
    assert page.count("<mtr>") > 20


@pytest.mark.parametrize(
    ("rows", "shown"),
    [
        ([["d/q", "-b/q"], ["-c/q", "a/q"]], [r"\frac{1}{q} \begin{pmatrix}"]),
        ([["1/11", "2/11"], ["3/11", "5/11"]], [r"\frac{1}{11} \begin{pmatrix}", "3 & 5"]),
        ([["a*x", "a*y"], ["0", "a*z"]], [r"a \begin{pmatrix}", "x & y"]),
        ([["a*x", "a*y"], ["0", "z"]], ["a x & a y"]),
        ([["1/2", "1"], ["0", "3/2"]], [r"\frac{1}{2} & 1"]),
        ([["x/(a + b)^2", "0"], ["0", "y^2/(a + b)^2"]], [r"\frac{1}{(a + b)^{2}} \begin{pmatrix}"]),
    ],
)
def test_a_common_factor_of_a_matrix_stands_in_front(rows, shown):
    latex = gelvo.typeset(gelvo.matrix(rows), "latex")
    assert all(piece in " ".join(latex.split()) for piece in shown)


@pytest.mark.parametrize(
    ("equation", "given", "names"),
    [
        ("x'' + 2*g*x' + w^2*x = 0", ["g > 0", "w > 0"], ("underdamped", "overdamped", "critical")),
        ("m*x'' + d*x' + k*x = 0", ["m > 0", "d > 0", "k > 0"], ("underdamped", "overdamped", "critical")),
        (
            "L*x'' + x'/G + x/C = U",
            ["L > 0", "G > 0", "C > 0", "x(0) = 0", "x'(0) = 0"],
            ("underdamped", "overdamped", "critical"),
        ),
        ("x'' + a*x = 0", [], ()),  # no damping
        ("x'' - 2*g*x' + w^2*x = 0", ["g > 0", "w > 0"], ()),  # it grows
        ("x'' + 3*x' + 2*x = 0", [], ()),  # one case
    ],
)
def test_the_cases_of_damping_have_their_names(equation, given, names):
    solutions = gelvo.solve(equation, "x(t)", given=given)
    assert solutions.cases == names and solutions.conditions == ()
    for place, name in enumerate(names):
        one = solutions.case(name)
        assert one.single is next(iter(solutions[place].values())) and one.cases == (name,)
        assert f"{name}: x(t) = " in gelvo.typeset(solutions, "text").replace("⎛", "(") or "_" in gelvo.typeset(solutions, "text")
        if name == "overdamped":
            assert not any(word in str(one) for word in ("sin(", "cos("))
    with pytest.raises(gelvo.GelvoError, match="there is no case"):
        solutions.case("undamped")


@pytest.mark.parametrize(
    ("statement", "said"),
    [
        ("solve x^3 + 2*x^2 + 2 = 0 for x", "further complex solutions: x ≈ 0.17965 ± 0.90301i"),
        ("solve x^4 = 1 for x", "further complex solutions: x = ±i"),
        ("solve x^5 = 1 for x", "further complex solutions: x ≈ −0.80902 ± 0.58779i, 0.30902 ± 0.95106i"),
        ("solve x^20 = 1 for x", "there are 18 further complex solutions"),
        ("solve a*x^2 + b = 0 for x given a > 0, b > 0", "there are 2 further complex solutions"),
    ],
)
def test_complex_solutions_beside_real_ones_are_listed(statement, said):
    derivation = Derivation()
    derivation.run(statement)
    assert said in derivation.results[-1].details


@pytest.mark.parametrize(
    ("normalized", "shown"),
    [("", "1/(C*L*s^2 + C*R*s + 1)"), ("constant", "1/(C*L*s^2 + C*R*s + 1)"), ("leading", "1/(C*L*(s^2 + R*s/L + 1/(C*L)))")],
)
def test_a_transfer_function_is_normalized_as_asked(normalized, shown):
    found = gelvo.transfer_function(
        ["U = R*I + s*L*I + V", "I = s*C*V"], "V", "U", ["I", "V"], normalized=normalized
    )  # fmt: skip
    assert gelvo.equal(found, shown)
    assert str(found) == shown
