"""Proved equal, proved different with a point, or Undecided."""

from __future__ import annotations

import pytest

import gelvo
from gelvo.deciding.equality import decide_zero, witness_text
from gelvo.facts.store import Facts
from gelvo.reading.context import Context
from gelvo.reading.stated import read_facts

EQUAL = [
    ("(x + 1)^2", "x^2 + 2*x + 1", []),
    ("(x^3 - 1)/(x - 1)", "x^2 + x + 1", []),
    ("1/(x - 1) - 1/(x + 1)", "2/(x^2 - 1)", []),
    ("sin(2*x)", "2*sin(x)*cos(x)", []),
    ("cos(3*x)", "4*cos(x)^3 - 3*cos(x)", []),
    ("tan(x)^2 + 1", "sec(x)^2", []),
    ("sin(x + y)", "sin(x)*cos(y) + cos(x)*sin(y)", []),
    ("sin(x)^4", "3/8 - cos(2*x)/2 + cos(4*x)/8", []),
    ("cosh(x)^2 - sinh(x)^2", "1", []),
    ("tanh(2*x)", "2*tanh(x)/(1 + tanh(x)^2)", []),
    ("exp(x)*exp(-x)", "1", []),
    ("cosh(x) + sinh(x)", "exp(x)", []),
    ("exp(1j*x)", "cos(x) + 1j*sin(x)", []),
    ("ln(6)", "ln(2) + ln(3)", []),
    ("ln(x*y)", "ln(x) + ln(y)", ["x > 0", "y > 0"]),
    ("ln(x^2)", "2*ln(x)", ["x > 0"]),
    ("ln(x^2)", "2*ln(abs(x))", []),
    ("log10(x)", "ln(x)/ln(10)", []),
    ("sqrt(x^2)", "abs(x)", []),
    ("sqrt(x^2)", "-x", ["x < 0"]),
    ("sqrt(a*b)", "sqrt(a)*sqrt(b)", ["a > 0", "b > 0"]),
    ("sqrt(3 + 2*sqrt(2))", "1 + sqrt(2)", []),
    ("sqrt(5 + 2*sqrt(6))", "sqrt(2) + sqrt(3)", []),
    ("1/(sqrt(5) - 2)", "sqrt(5) + 2", []),
    ("cos(pi/7)*cos(2*pi/7)*cos(4*pi/7)", "-1/8", []),
    ("cos(2*pi/5)", "(sqrt(5) - 1)/4", []),
    ("sin(pi/18)*sin(5*pi/18)*sin(7*pi/18)", "1/8", []),
    ("tan(3*pi/11) + 4*sin(2*pi/11)", "sqrt(11)", []),
    ("4*atan(1/5) - atan(1/239)", "pi/4", []),
    ("atan(1) + atan(2) + atan(3)", "pi", []),
    ("asin(x) + acos(x)", "pi/2", []),
    ("atan(x) + atan(1/x)", "pi/2", ["x > 0"]),
    ("sin(asin(x))", "x", []),
    ("cos(asin(x))", "sqrt(1 - x^2)", []),
    ("sin(atan(x))", "x/sqrt(1 + x^2)", []),
    ("ln(lambertw(x))", "ln(x) - lambertw(x)", ["x > 0"]),
    ("ln(-lambertw(-exp(-4)))", "-4 - lambertw(-exp(-4))", []),
    ("ln(-lambertw_lower(-exp(-4)))", "-4 - lambertw_lower(-exp(-4))", []),
    ("2*ln(abs(lambertw(3)))", "2*ln(3) - 2*lambertw(3)", []),
    ("asinh(x)", "ln(x + sqrt(x^2 + 1))", []),
    ("atanh(x)", "ln((1 + x)/(1 - x))/2", ["x > -1", "x < 1"]),
    ("sin(n*pi)", "0", ["n integer"]),
    ("cos(n*pi)", "(-1)^n", ["n integer"]),
    ("x^(n + 1)", "x*x^n", []),
    ("2^x*3^x", "6^x", []),
    ("4^x", "(2^x)^2", []),
    ("abs(x)^2", "x^2", []),
    ("abs(x*y)", "abs(x)*abs(y)", []),
    ("abs(a)", "a", ["a > b", "b > 0"]),
    ("max(x, y)", "(x + y + abs(x - y))/2", []),
    ("factorial(n)", "gamma(n + 1)", []),
    ("erf(x) + erfc(x)", "1", []),
    ("c^2", "a^2 + b^2", ["c = sqrt(a^2 + b^2)"]),
    ("(a^2 - b^2)/(a - b)", "a + b", []),
    ("cbrt(x)^3", "x", ["x > 0"]),
    ("exp(ln(x) + ln(y))", "x*y", ["x > 0", "y > 0"]),
    ("re(exp(1j*x))", "cos(x)", []),
    ("sin(x)/cos(x)", "tan(x)", []),
    ("csc(x)*sin(x)", "1", []),
    ("(1 + 1j)^4", "-4", []),
    ("acosh(cosh(u))", "abs(u)", []),
    ("acosh(cosh(tan(u)/2 - 4))", "abs(tan(u) - 8)/2", []),
    ("asech(sech(1/u))", "1/abs(u)", []),
    ("acos(cos(u))", "u", ["u > 0", "u < 3"]),
    ("asin(sin(u))", "u", ["u >= -pi/2", "u <= pi/2"]),
    ("atan(tan(u))", "u", ["u > 0", "u < pi/2"]),
    ("10^(ln(u)/ln(10))", "u", []),
    ("cosh(abs(u))", "cosh(u)", []),
    ("cos(2*abs(u)*t/abs(v))", "cos(2*u*t/v)", []),
    ("abs(sin(u)/2 - 4)", "abs(sin(u) - 8)/2", []),
    ("sqrt(2*exp(1j*u) - 2*1j)", "sqrt(2)*sqrt(exp(1j*u) - 1j)", []),
]


@pytest.mark.parametrize(("left", "right", "given"), EQUAL, ids=[f"{e[0]} = {e[1]}" for e in EQUAL])
def test_identities_are_proved(left, right, given):
    assert gelvo.equal(left, right, given=given) is True


DIFFERENT = [
    ("acos(cos(u))", "u", ["u > 3", "u < 7"]),
    ("asin(sin(u))", "u", ["u > 0"]),
    ("acosh(cosh(u))", "u", []),
    ("cos(abs(u) + 1)", "cos(u + 1)", []),
    ("sin(abs(u))", "sin(u)", []),
    ("(x + 1)^2", "x^2 + 1", []),
    ("sqrt(x^2)", "x", []),
    ("sqrt(a*b)", "sqrt(a)*sqrt(b)", []),
    ("ln(x*y)", "ln(x) + ln(y)", []),
    ("ln(x^2)", "2*ln(x)", []),
    ("asin(sin(x))", "x", []),
    ("atan(x) + atan(1/x)", "pi/2", []),
    ("sin(2*x)", "2*sin(x)", []),
    ("(x^2)^(1/4)", "x^(1/2)", []),
    ("abs(x + y)", "abs(x) + abs(y)", []),
    ("floor(x + y)", "floor(x) + floor(y)", []),
    ("exp(x + y)", "exp(x) + exp(y)", []),
    ("sqrt(2) + sqrt(3)", "sqrt(10) - 1/10^60", []),
    ("pi", "355/113", []),
    ("exp(pi*sqrt(163))", "262537412640768744", []),
    ("1/(1 + x)", "1 - x + x^2 - x^3", []),
    ("ln(exp(z))", "z", ["z complex"]),
    ("sin(n*pi)", "0", []),
    ("a - b", "0", ["a > b"]),
    ("cos(x)", "1 - x^2/2 + x^4/24", ["x > 0"]),
]


@pytest.mark.parametrize(("left", "right", "given"), DIFFERENT, ids=[f"{e[0]} = {e[1]}" for e in DIFFERENT])
def test_false_claims_are_told_apart(left, right, given):
    assert gelvo.equal(left, right, given=given) is False


@pytest.mark.parametrize("size", ["1e-25", "1e-40", "1e-60"])
@pytest.mark.parametrize("pair", [EQUAL[0], EQUAL[4], EQUAL[12], EQUAL[21], EQUAL[24], EQUAL[28]], ids=lambda p: p[0])
def test_near_misses_are_refuted(pair, size):
    left, right, given = pair
    assert gelvo.equal(left, f"{right} + {size}", given=given) is False
    assert gelvo.equal(left, f"({right})*(1 + {size})", given=given) is False


def test_a_difference_comes_with_a_point_and_a_value():
    left, right = gelvo.formula("(x+1)^2"), gelvo.formula("x^2 + 1")
    decision = decide_zero(left - right)
    assert decision.zero is False
    text = witness_text(decision)
    assert text.startswith("at x = ") and "the difference is" in text


def test_facts_choose_the_points():
    facts = Facts(read_facts(["x > 5", "x < 6"], Context()))
    decision = decide_zero(gelvo.formula("x^2 - 3"), facts)
    (place,) = decision.point.values()
    assert 5 < place < 6


def test_what_is_not_decided_is_undecided():
    with pytest.raises(gelvo.Undecided):
        gelvo.equal("gamma(1/6)", "2^(-1/3)*sqrt(3/pi)*gamma(1/3)^2")
    with pytest.raises(gelvo.Undecided):
        gelvo.equal("integral_of(exp(-x^2), x, 0, a)", "1")


def test_bounds_are_equal_only_to_themselves():
    assert gelvo.equal(gelvo.inf, gelvo.inf) is True
    assert gelvo.equal(gelvo.inf, "x") is False


def test_contradicting_facts_are_named():
    with pytest.raises(gelvo.DomainError, match="contradict") as caught:
        gelvo.equal("a", "b", given=["a > 0", "a < 0"])
    assert "a > 0" in str(caught.value) and "a < 0" in str(caught.value)


KNOWN = [
    ("a*b > 0", ["a > 0", "b > a"], True),
    ("a + b > 0", ["a > 0", "b >= 0"], True),
    ("a^2 >= 0", [], True),
    ("a^2 + 1 > 0", [], True),
    ("a - b < 0", ["a < b"], True),
    ("b - a > 0", ["a < b"], True),
    ("2*b - 2*a > 0", ["a < b"], True),
    ("exp(a) > 0", [], True),
    ("cosh(a) > 0", [], True),
    ("x^2 + x + 1 > 0", [], True),
    ("4*J*kappa - c^2 > 0", ["c^2 < 4*J*kappa"], True),
    ("kappa/J - c^2/(4*J^2) > 0", ["J > 0", "c^2 < 4*J*kappa"], True),
    ("sqrt(D^2 + y^2) - D > 0", ["D > 0", "y > 0"], True),
    ("E > 0", ["E > m*c^2", "m > 0"], True),
    ("a < 0", ["a > 0"], False),
    ("a = 0", ["a > 0"], False),
    ("a != 0", ["a < 0"], True),
    ("a > 0", [], None),
    ("a > b", ["a > 0", "b > 0"], None),
    ("pi > 3", [], True),
    ("sqrt(2) > 3/2", [], False),
    ("n^2 >= 0", ["n integer"], True),
    ("x > 0", ["x > 2"], True),
    ("x > 3", ["x > 2"], None),
    ("n integer", ["n natural"], True),
    ("n natural", ["n integer"], None),
    ("x real", [], True),
    ("abs(x) >= 0", [], True),
    ("atan(x) > 0", ["x > 0"], True),
    ("sinh(x) < 0", ["x < 0"], True),
    ("a > 0 and b > 0", ["a > 0", "b > 0"], True),
    ("a > 0 or b > 0", ["a > 0"], True),
    ("sqrt(2) != 1", [], True),
    ("1/(a*b) > 0", ["a*b > 0"], True),
    ("a^3/b < 0", ["a*b < 0"], True),
    ("(1 - a*b)/b > 0", ["b - a*b^2 > 0"], True),
    ("(1 - a*b)^2/b > 0", ["b - a*b^2 > 0"], None),
    ("a*b*c^2 >= 0", ["a*b > 0"], True),
    ("a*b*c^2 > 0", ["a*b > 0"], None),
    ("a*b >= 0", ["a*b*c^2 >= 0"], None),
    ("(13*p^2 - 6*p + 9)/p^2 > 0", ["p > 0"], True),
    ("cosh(x) >= 1", [], True),
    ("3*cosh(x)^2 + x^2 >= 3", [], True),
    ("cosh(x) > 1", [], None),
    ("sech(x) <= 1", [], True),
    ("2*tanh(x)^3 < 2", [], True),
    ("tanh(x)^2 + 1 > 2", [], False),
]


@pytest.mark.parametrize(("fact", "given", "answer"), KNOWN, ids=[f"{k[0]} if {', '.join(k[1])}" for k in KNOWN])
def test_what_follows_from_facts(fact, given, answer):
    assert gelvo.is_known(fact, given=given) is answer


@pytest.mark.parametrize(
    ("left", "right", "fact"),
    [
        ("atan(1/(x - 1)) + atan(x - 1)", "pi/2", "x != 1"),
        ("atan(1/(2*x - 1)) + atan(2*x - 1)", "pi/2", "2*x != 1"),
        ("abs(x - 1)/(x - 1)", "1", "x != 1"),
        ("atan(1/x) + atan(x)", "pi/2", "x != 0"),
    ],
)
def test_a_hole_in_the_domain_is_no_interval(left, right, fact):
    assert gelvo.equal(left, right, given=[fact]) is False
    assert gelvo.equal(left, right, given=[fact.replace("!=", ">")]) is True
    assert gelvo.simplify(left, given=[fact]) != gelvo.formula(right)


@pytest.mark.parametrize(
    ("one", "other", "same"),
    [
        ("u(1 - t)", "u(-(t - 1))", True),
        ("u(sin(t)^2)", "u(1 - cos(t)^2)", True),
        ("u(2*(t + 1)) + u(t)", "u(2*t + 2) + u(t)", True),
        ("u(1 - t)", "u(t - 1)", False),
        ("u(t)", "u(t + 1)", False),
    ],
)
def test_values_of_unknown_functions_at_one_place_are_one(one, other, same):
    u, t = gelvo.unknown_function("u", "t"), gelvo.variable("t")
    left, right = (gelvo.formula(text, names_from=[u, t]) for text in (one, other))
    assert gelvo.equal(left, right) is same
    assert not gelvo.simplify(left - right).steps or gelvo.equal(gelvo.simplify(left - right).expression, left - right)
