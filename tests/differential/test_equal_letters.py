"""Where two letters fall together: the solution then stands beside the general one, and is what that tends to."""

from __future__ import annotations

import pytest

import gelvo

# (equation, given, the letter that meets the other one, numbers for the letters)
MEETING = [
    ("x'' + w^2*x = F*cos(p*t)", ["w > 0", "p > 0", "x(0) = 0", "x'(0) = 0"], "p", {"w": 1.3, "F": 2.0}, "w"),
    ("x'' + w^2*x = F*sin(p*t)", ["w > 0", "p > 0", "x(0) = 1", "x'(0) = 0"], "p", {"w": 1.3, "F": 2.0}, "w"),
    ("x' + a*x = exp(-b*t)", ["x(0) = 1"], "a", {"b": 0.7}, "b"),
    ("x' + a*x = b*exp(c*t)", ["a > 0", "x(0) = 0"], "c", {"a": 0.7, "b": 2.0}, "-a"),
    ("x'' - a^2*x = exp(b*t)", ["a > 0", "b > 0", "x(0) = 0", "x'(0) = 0"], "a", {"b": 0.9}, "b"),
    ("x'' + 2*g*x' + g^2*x = exp(-a*t)", ["g > 0", "a > 0", "x(0) = 0", "x'(0) = 0"], "a", {"g": 0.8}, "g"),
    ("x' = k*(a - x)*(b - x)", ["a > 0", "b > 0", "k > 0", "x(0) = 0"], "a", {"b": 1.5, "k": 0.6}, "b"),
    ("t^2*x'' + t*x' - n^2*x = t^m", ["n > 0", "m > 0", "x(1) = 0", "x'(1) = 0"], "m", {"n": 1.5}, "n"),
]
PLACES = (1.25, 2.0, 3.5)


def at(formula, numbers, place):
    return float(gelvo.value(gelvo.substitute(formula, {**{n: str(v) for n, v in numbers.items()}, "t": str(place)}), 14))


@pytest.mark.parametrize(("equation", "given", "letter", "numbers", "other"), MEETING, ids=[m[0] for m in MEETING])
def test_the_special_case_is_what_the_general_one_tends_to(equation, given, letter, numbers, other):
    found = gelvo.solve(equation, "x(t)", given=given)
    assert len(found) == 2 and found.verdict == "proved"
    general, special = (next(iter(s.values())) for s in found)
    meeting = -numbers[other[1:]] if other.startswith("-") else numbers[other]
    for place in PLACES:
        near = [at(general, {**numbers, letter: round(meeting + side, 9)}, place) for side in (-1e-5, 1e-5)]
        assert at(special, {**numbers, letter: meeting}, place) == pytest.approx(sum(near) / 2, rel=1e-6, abs=1e-8)


SYSTEMS = [
    (["A' = -k*A", "B' = k*A - q*B"], ["A(t)", "B(t)"], ["k > 0", "q > 0", "A(0) = N", "B(0) = 0"], "B(t)"),
    (["x' = -a*x + b*y", "y' = -c*y"], ["x(t)", "y(t)"], ["a > 0", "c > 0", "x(0) = 0", "y(0) = 1"], "x(t)"),
    (["x' = -x*y*k", "y' = -x*y*k"], ["x(t)", "y(t)"], ["k > 0", "a > 0", "b > 0", "x(0) = a", "y(0) = b"], "x(t)"),
]


@pytest.mark.parametrize(("equations", "unknowns", "given", "which"), SYSTEMS, ids=[" ; ".join(s[0]) for s in SYSTEMS])
def test_systems_tell_both_cases(equations, unknowns, given, which):
    found = gelvo.solve(equations, unknowns, given=given)
    assert len(found) == 2 and found.verdict == "proved" and not found.constants
    told = [" and ".join(map(str, found.conditions_of(k))) for k in range(2)]
    assert "!= 0" in told[0] and " = 0" in told[1] and found.cases == ()
    formulas = [{str(u): v for u, v in s.items()}[which] for s in found]
    assert not gelvo.equal(*formulas)


@pytest.mark.parametrize(
    ("equation", "given", "cases"),
    [
        ("x'' + w^2*x = F*cos(p*t)", ["w > 0", "p > 0"], ("off resonance", "resonance")),
        ("m*x'' + k*x = F*cos(w*t)", ["m > 0", "k > 0", "w > 0"], ("off resonance", "resonance")),
        ("x'' + w^2*x = F*cos(p*t)", ["w > 0", "p > 0", "p != w"], ()),
        ("x'' + w^2*x = F*cos(w*t)", ["w > 0"], ()),
        ("x'' + 2*g*x' + w^2*x = 0", ["g > 0", "w > 0"], ("underdamped", "overdamped", "critical")),
    ],
)
def test_resonance_has_its_name(equation, given, cases):
    found = gelvo.solve(equation, "x(t)", given=given)
    assert found.cases == cases and found.verdict == "proved"
    for name in cases:
        assert found.case(name).single is not None and len(found.case(name)) == 1
