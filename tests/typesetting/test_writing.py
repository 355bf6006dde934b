"""How results are written: options in words for a call, a block, a derivation and a program; formulas stay exact."""

from __future__ import annotations

from fractions import Fraction

import pytest
from click.testing import CliRunner

import gelvo
from gelvo.cli import main
from gelvo.derivation.engine import Derivation
from gelvo.derivation.report import html, plain_lines

# (formula, options, as two-dimensional text)
WRITTEN = [
    ("1 + 2*x + x^2", {"powers": "ascending"}, "1 + 2 x + x²"),
    ("x^2 - 3", {"powers": "ascending"}, "−3 + x²"),
    ("2.1*cos(2.4*t + 0.3)", {}, "2.1 cos(2.4 t + 0.3)"),
    ("9.81*t + m*v^2/2", {"fractions": "inline"}, "9.81 t + m v²/2"),
    ("0.5*m*v^2", {}, "0.5 m v²"),
    ("x/3 + 0.1*y", {"fractions": "inline"}, "x/3 + 0.1 y"),
    ("1e-9*x", {}, "10⁻⁹ x"),
    ("4.7e-6*C + 1e9", {}, "4.7 × 10⁻⁶ C + 10⁹"),
    ("21*x/10", {"decimals": "all"}, "2.1 x"),
    ("2.1*x", {"decimals": "none", "fractions": "inline"}, "21 x/10"),
    ("sqrt(2)*pi*x/3 + 1 + sqrt(2)", {"decimals": 3}, "1.48 x + 2.41"),
    ("exp(2)*cos(x/7)^2", {"decimals": 4}, "7.389 cos²(0.1429 x)"),
    ("123456789*x + 1/81", {"decimals": 3}, "123 × 10⁶ x + 0.0123"),
    ("(1 + sqrt(3)*1j)*y", {"decimals": 3}, "(1 + 1.73i) y"),
    ("p*V^1.4", {}, "  1.4\np V"),
    ("(a + b)/(c*d)", {"fractions": "inline"}, "(a + b)/(c d)"),
]


@pytest.mark.parametrize(("formula", "options", "shown"), WRITTEN, ids=lambda v: str(v)[:30])
def test_a_formula_is_written_as_asked(formula, options, shown):
    got = gelvo.typeset(formula, "text", **options)
    assert got.replace(" ", "") == shown.replace(" ", "")
    before = str(gelvo.formula(formula))
    with gelvo.writing(**options):
        assert gelvo.typeset(formula, "text") == got  # the same for a block
    assert str(gelvo.formula(formula)) == before


@pytest.mark.parametrize(
    ("how", "once", "twice", "mixed"),
    [
        ("usual", r"\dot{x}(t)", r"\ddot{x}(t)", r"y^{\prime}(z)"),
        ("dots", r"\dot{x}(t)", r"\ddot{x}(t)", r"\dot{y}(z)"),
        ("primes", r"x^{\prime}(t)", r"x^{\prime\prime}(t)", r"y^{\prime}(z)"),
        ("fractions", r"\frac{\mathrm{d}x(t)}{\mathrm{d}t}", r"\frac{\mathrm{d}^{2}x(t)}{\mathrm{d}t^{2}}", r"\frac{\mathrm{d}y(z)}{\mathrm{d}z}"),
    ],
)  # fmt: skip
def test_derivatives_are_written_in_one_of_three_ways(how, once, twice, mixed):
    x, y = gelvo.unknown_function("x", gelvo.variable("t")), gelvo.unknown_function("y", gelvo.variable("z"))
    shown = [gelvo.typeset(f, derivatives=how) for f in (x.derivative(), x.derivative(2), y.derivative())]
    assert shown == [once, twice, mixed]


def test_partial_derivatives_are_written_as_on_paper():
    found = Derivation()
    found.run("unknown u(x, t)\nderivative_of(u(x, t), x, 2)")
    assert [line.strip() for line in plain_lines(found.results[-1]).splitlines()][::2] == ["∂²u(x, t)", "∂x²"]


@pytest.mark.parametrize(
    ("options", "said"),
    [
        ({"powers": "up"}, "powers can be descending, ascending, not 'up'"),
        ({"decimals": 0}, "1 to 50 digits, not 0"),
        ({"decimals": True}, "or a number of digits, not True"),
        ({"colour": "red"}, "'colour' is not an option"),
    ],
)
def test_an_unknown_word_is_told(options, said):
    for work in (lambda: gelvo.typeset("x", **options), lambda: gelvo.set_writing(**options)):
        with pytest.raises(gelvo.GelvoError, match=said.replace("(", r"\(")):
            work()


def test_a_program_chooses_once():
    gelvo.set_writing(powers="ascending", decimals=2)
    try:
        assert gelvo.typeset("x^2/3 + 5", "text") == "5 + 0.33 x²"
        assert str(gelvo.formula("x^2/3 + 5")) == "5 + x^2/3"  # text reads back: nothing of it is rounded
    finally:
        gelvo.set_writing(powers="descending", decimals="entered")
    assert gelvo.typeset("x^2 + 5", "text") == "x² + 5"


@pytest.mark.parametrize(
    ("text", "shown"),
    [("2.5e-7*x", "2.5e-7*x"), ("x/100000000", "1e-8*x"), ("-x/2000000", "-5e-7*x"), ("(1/1000000)^y", "1e-6^y"), ("x/3000000", "x/3000000")],
)  # fmt: skip
def test_small_decimals_stay_readable_and_read_back(text, shown):
    formula = gelvo.formula(text)
    assert str(formula) == shown
    assert gelvo.formula(str(formula)) is formula


def test_an_answer_shows_the_decimals_that_came_in_and_stays_exact():
    answer = gelvo.integrate("2.1*cos(2.4*t)", "t")
    assert str(answer) == "0.875*sin(2.4*t)"
    assert answer.expression == Fraction(7, 8) * gelvo.sin("12*t/5")
    assert gelvo.formula(str(answer)) is answer.expression
    twice = gelvo.differentiate(answer, "t")
    assert gelvo.equal(twice, "2.1*cos(2.4*t)")
    solutions = gelvo.solve("0.5*x^2 = 2.42", "x")
    assert str(solutions) == "x = -2.2 or x = 2.2" and solutions[1]["x"] == Fraction(11, 5)
    assert "2.2" in solutions._repr_mimebundle_()["text/latex"]


def shown_last(source):
    derivation = Derivation()
    derivation.run(source)
    return plain_lines(derivation.results[-1])


@pytest.mark.parametrize(
    ("source", "shown"),
    [
        ("let a be 0.3*x\nlet b be 7*a\nb^2", "4.41 x²"),
        ("show decimals 3\npi*x", "3.14 x"),
        ("show powers ascending, fractions inline\n(x + 1)^2/y + 1", "1 + (1 + x)²/y"),
        ("2*pi*sqrt(0.2/5)", "0.4 π ≈ 1.2566"),
        ("let c be sqrt(2)\nshow decimals 4\nlet d be c*x", "d ≈ 1.414 x"),
        ('show decimals none\n2.5*x', "  2"),
        ("solve x^2 - 2.2*x + 0.3 = 0 for x taking x > 1", "x = 0.1 (11 + √91) ≈ 2.0539"),
    ],
)  # fmt: skip
def test_a_derivation_shows_decimals_and_follows_show(source, shown):
    got = shown_last(source)
    assert got.splitlines()[-1].replace("⎝", "(").replace("⎠", ")") == shown.splitlines()[-1]


def test_show_tells_what_it_knows():
    runner = CliRunner()
    assert "or a number of digits" in runner.invoke(main, ["do", "show decimals up"]).output
    assert "decimals 4" in runner.invoke(main, ["do", "show decimals 4"]).output


def test_a_report_shows_short_decimals_where_fractions_would_be_long():
    derivation = Derivation()
    derivation.run("let F be 0.123456789012345*x/0.987654321098765")
    page = html("", derivation.results)
    assert "≈" in page and "0.125" in page and "24691357802469" not in page.split("how it was checked")[0].split("<section")[1]


OSCILLATOR = """given m > 0, k > 0, c > 0
let omega be sqrt(k/m)
let gamma be c/(2*m)
let omega_d be sqrt(omega^2 - gamma^2)
let tau be R*C
let wave be A*exp(-gamma*t)*cos(omega_d*t + phi)
"""


@pytest.mark.parametrize(
    ("statement", "formula", "symbols"),
    [
        ("let x be x_0*cos(omega*t)", "x = x₀ cos(ω t)", ["ω"]),
        ("differentiate x_0*cos(omega*t) by t", "−x₀ ω sin(ω t)", ["ω"]),
        ("let f be omega/(2*pi)", " 2 π", ["ω"]),
        ("differentiate U*exp(-t/tau) by t", "τ", ["τ"]),
        ("let v be omega^2*x", "v = ω² x", ["ω"]),
        ("solve q^2 = omega for q taking q > 0", "q = √ω", ["ω"]),
        ("let u be 2*wave", "u = 2 A e     cos(ω_d t + φ)", ["ω_d", "γ", "ω"]),
        ("omega", "√│ m", []),  # what it is, is asked
        ("let omega be 2*omega", "√│ m", []),
        ("let E be omega + tau", "√│ m", []),
        ("let m be omega^2*m", "m = k", []),
        ("show names expanded\nsin(omega*t)", "⎝√│ m   ⎠", []),
    ],
)
def test_a_derivation_keeps_the_symbols_that_it_introduced(statement, formula, symbols):
    derivation = Derivation()
    derivation.run(OSCILLATOR + statement)
    shown = plain_lines(derivation.results[-1])
    body, *said = shown.split("where ")
    assert formula in body or formula in [line.strip() for line in body.splitlines()]
    assert [s for s in symbols if f"{s} =" in "".join(said)] == symbols and bool(said) == bool(symbols)
    assert not any(f"{s} =" in body.split("\n", 1)[-1] for s in symbols)


def test_symbols_stand_in_reports_and_on_paper_and_the_formula_stays():
    derivation = Derivation("osc")
    derivation.run(OSCILLATOR + 'export wave as latex, mathml to "out"')
    assert derivation.results[-1].kind == "export", derivation.results[-1].note
    (_, tex), (_, mml) = derivation.results[-1].files
    assert r"\omega_{d} t" in tex and r"\omega_{d} = \sqrt" in tex and r"\gamma = " in tex
    assert mml.count("<math") == 4
    page = html("", derivation.results)
    assert "where" in page.split("let wave be")[1]
    assert str(derivation.definitions["wave"]).count("k/m") == 1  # the formula itself is whole
