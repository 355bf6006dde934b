"""Text as people write it: signs from other keyboards are read as meant, slips are told with what was probably meant."""

from __future__ import annotations

import pytest

import gelvo

MEANT = [
    ("2x - 1 == 0", "2x - 1 = 0"),
    ("x^2 exp(-x)", "x^2*exp(-x)"),
    ("2^3 x", "2^3*x"),
    ("2^3x", "2^(3*x)  or  2^3*x"),
    ("a^2b", "a^(2*b)  or  a^2*b"),
    ("sin x", "sin(x)"),
    ("sqrt 2", "sqrt(2)"),
    ("sin(x) cos x", "sin(x)*cos(x)"),
    ("b⁻²c", "b⁻²*c"),
    ("f(x)", "An unknown function is declared first, as f(x)"),
    ("x(y+1)", "x*(y+1)"),
    ("log(x, 10)", "log10(x)"),
    ("log(x, 2)", "log2(x)"),
    ("log(x, b + 1)", "ln(x)/ln(b + 1)"),
    ("e^x", "exp(x)"),
    ("3*e^(-t/tau)", "exp(-t/tau)"),
    ("0x1F", "31"),
    ("0b101 + 1", "5"),
    ("1_000", "1000"),
    ("1_000_000*x", "1000000"),
    ("infinity", "inf"),
    ("2,5*x", "2.5"),
    ("5 {mm}/2 {mm}", "1/(2 {mm})"),
    ("x % 3", "x/100"),
    ("2*pi {rad/s}", "pi*{rad/s}"),
    ("5 {m}^2", "5 {m^2}  or  (5 {m})^2"),
    ("5 {m}²", "5 {m^2}  or  (5 {m})^2"),
    ("sin^2(x)", "sin(x)^2"),
    ("3 + cos²(k*x)", "cos(k*x)^2"),
    ("exp^2 x", "exp(x)^2"),
    ("sin^-1(x)", "asin(x)  for the inverse,  1/sin(x)"),
    ("tan⁻¹(y/x)", "atan(y/x)  for the inverse"),
    ("ln^(-1)(x)", "ln(x)^-1"),
    ("2*sin", "sin(…)"),
    ("½x", "(1/2)*…"),
    ("x_{max}", "x_max"),
    ("1 000 000*x", "1000000"),
    ("1'000", "1000"),
    ("a/2b", "a/(2*b)  or  (a/2)*b"),
    ("x <> y", "!="),
    ("x => y", ">="),
    ("x := 2", "has  ="),
    ("∫x dx", "integral_of(f, x)"),
    ("\\alpha", "alpha for"),
    ("PI*x", "pi"),
    ("Inf", "inf"),
    ("True + 1", "not a name of its own"),
]


@pytest.mark.parametrize(("text", "meant"), MEANT, ids=lambda v: v)
def test_slips_are_told_with_what_was_meant(text: str, meant: str) -> None:
    with pytest.raises(gelvo.FormulaError) as told:
        gelvo.formula(text)
    assert meant in str(told.value) and "^" in str(told.value)


READ = [
    ("a⋅b•c∙d÷k", "a*b*c*d/k"), ("a – b ‐ c ‑ d − f", "a - b - c - d - f"), ("sin(30°) + 90°", "1/2 + pi/2"), ("a⁻¹ + b⁻²*c⁺³", "1/a + c^3/b^2"),
    ("µ - μ", "0"), ("ħ - ℏ", "0"), ("ħ*ω", "hbar*omega"), ("x₁ - x_1", "0"), ("θ₁₂ + vₓ", "theta_12 + v_x"), ("x\u00a0+\u20091", "x + 1"),
    ("[1, 2; 3, 4]²", "[7, 10; 15, 22]"), ("e^2/(4*pi*epsilon_0)", "e^2/(4*pi*epsilon_0)"), ("e*x", "e*x"), ("0*x1", "0"), ("2 x", "2*x"),
    ("x + 1 # a comment", "x + 1"), ("√2·x", "sqrt(2)*x"), ("3 {m}", "3*{m}"), ("log(x)", "ln(x)"), ("𝑥 + ｘ", "2*x"), ("ℎ - h", "0"), ("ϑ - θ", "0"), ("𝑥₁ - x_1", "0"), ("gamma + zeta*beta", "gamma + zeta*beta"),
]  # fmt: skip


@pytest.mark.parametrize(("text", "meaning"), READ, ids=lambda v: v)
def test_signs_are_read_as_meant(text: str, meaning: str) -> None:
    assert str(gelvo.formula(text)) == str(gelvo.formula(meaning))


def test_letters_of_ones_own_stay_letters() -> None:
    e, x = gelvo.variables("e", "x")
    assert gelvo.formula("e^x", names_from=e) is e**x
    assert gelvo.formula(str(e**x)) is e**x and str(e**x) == "(e)^x"  # what is written reads back
    assert gelvo.variable("x₁") is gelvo.variable("x_1") and gelvo.variable("ħ").name == "hbar"
    for mark in ("''", "′′", "″"):
        assert str(gelvo.formula(f"y{mark} + y", names_from=gelvo.unknown_function("y", "x"))) == "y''(x) + y(x)"
    for name, said in [
        ("infinity", "mistaken for inf"),
        ("sin", "it is a function"),
        ("and", "a word of the language"),
        ("½", "cannot be a name"),
    ]:
        with pytest.raises(gelvo.FormulaError, match=said):
            gelvo.variable(name)
    with pytest.raises(gelvo.FormulaError, match="`max` is a function"):
        gelvo.differentiate("x", "max")


def test_a_call_tells_what_it_needs() -> None:
    found = gelvo.solve("x^2 = 4")
    assert str(found) == "x = -2 or x = 2" and found[0]["x"] == -2 and found[1].get("x") == 2 and "x" in found[0]
    assert str(gelvo.solve("y'' + y = 0", "y(x)", given=["y(0) = 1", "y'(0) = 0"])) == "y(x) = cos(x)"
    for wrong, said in [
        (lambda: found["x"], r"solutions\[0\]\[\"x\"\]"),
        (lambda: found[7], "2 were found, counted from 0"),
        (lambda: found[0]["y"], "y is not among the unknowns x"),
        (lambda: gelvo.solve("x^2 = a"), "several names"),
        (lambda: gelvo.solve("1 = 2"), "no name"),
        (lambda: gelvo.integrate("exp(-x)", "x", 0, "infinity"), "Did you mean  inf"),
        (lambda: gelvo.add_up("k", "k", 1, "pi"), "whole numbers"),
    ]:
        with pytest.raises(gelvo.GelvoError, match=said):
            wrong()


@pytest.mark.parametrize(
    "text", ["acos(x)*sin(exp(x*y))", "atan(x*y)*cos(ln(x + y))*asin(y)", "(sin(x)+cos(y))^40/(tan(x)-y)^30"]
)
def test_a_limit_of_time_holds(text: str) -> None:
    import time

    start = time.monotonic()
    try:
        with gelvo.time_limit(1):
            gelvo.simplify(text)
    except gelvo.GelvoError:
        pass
    assert time.monotonic() - start < 1.5
