"""Integrals over regions, along paths, through surfaces; principal values; each held against numbers of its own."""

from __future__ import annotations

import pytest
from mpmath import mp

import gelvo
from sample_tasks import numeric

REGIONS = [
    ("x*y", {"y": (0, "x"), "x": (0, 1)}, "cartesian", [], "1/8"),
    ("1", {"y": ("-sqrt(R^2 - x^2)", "sqrt(R^2 - x^2)"), "x": ("-R", "R")}, "cartesian", ["R > 0"], "pi*R^2"),
    ("exp(x^2)", {"x": ("y", 1), "y": (0, 1)}, "cartesian", [], "(exp(1) - 1)/2"),
    ("sin(y)/y", {"y": ("x", "pi"), "x": (0, "pi")}, "cartesian", [], "2"),
    ("exp(-x^2 - y^2)", {"x": ("-inf", "inf"), "y": ("-inf", "inf")}, "cartesian", [], "pi"),
    ("1/(x + y)", {"y": (0, 1), "x": (0, 1)}, "cartesian", [], "2*ln(2)"),
    ("x*y*z", {"z": (0, "1 - x - y"), "y": (0, "1 - x"), "x": (0, 1)}, "cartesian", [], "1/720"),
    ("x^2 + y^2", {"r": (0, "R"), "phi": (0, "2*pi")}, "polar", ["R > 0"], "pi*R^4/2"),
    ("1/sqrt(x^2 + y^2)", {"r": (0, "a"), "phi": (0, "2*pi")}, "polar", ["a > 0"], "2*pi*a"),
    ("rho*(x^2 + y^2)", {"r": (0, "R"), "phi": (0, "2*pi"), "z": (0, "h")}, "cylindrical", ["R > 0", "h > 0"], "pi*rho*h*R^4/2"),
    ("1", {"r": (0, "R"), "theta": (0, "pi"), "phi": (0, "2*pi")}, "spherical", ["R > 0"], "4*pi*R^3/3"),
    (
        "rho*(x^2 + y^2)", {"r": ("R_1", "R_2"), "theta": (0, "pi"), "phi": (0, "2*pi")}, "spherical", ["R_1 > 0", "R_2 > R_1"],
        "8*pi*rho*(R_2^5 - R_1^5)/15",
    ),
]  # fmt: skip


@pytest.mark.parametrize(
    ("f", "ranges", "coordinates", "given", "wanted"), REGIONS, ids=[f"{c}: {f}" for f, _, c, _, _ in REGIONS]
)
def test_regions_have_their_integrals(f, ranges, coordinates, given, wanted):
    answer = gelvo.integrate_over(f, ranges, coordinates, given=given)
    assert gelvo.equal(answer.expression, wanted, given=given)
    assert answer.verdict == "proved" and len(answer.certificate().parts) == len(ranges)
    assert len(answer.steps) == len(ranges)


def test_a_region_whose_integral_runs_off_says_so():
    answer = gelvo.integrate_over("1/(x^2 + y^2)", {"r": (0, "a"), "phi": (0, "2*pi")}, "polar", given=["a > 0"])
    assert str(answer.expression) == "inf" and not answer.reason


def test_what_has_no_form_stays_written_with_its_ranges():
    answer = gelvo.integrate_over("exp(sin(x*y) + y^4)", {"y": (0, 1), "x": (0, 2)})
    assert answer.reason and str(answer.expression).count("integral_of") == 2


REFUSED = [
    (({"x": (0, 1), "y": (0, "x")},), {}, "innermost"),
    (({"x": 1},), {}, "pair"),
    (({"x": (0, 1)},), {"coordinates": "polar"}, "2 variables"),
    (({"x": (0, 1)},), {"coordinates": "bent"}, "cartesian"),
    (({},), {}, "at least one"),
]


@pytest.mark.parametrize(("arguments", "options", "said"), REFUSED)
def test_regions_that_are_none_are_refused(arguments, options, said):
    with pytest.raises(gelvo.DomainError, match=said):
        gelvo.integrate_over("x*y", *arguments, **options)


PATHS = [
    (["-y", "x"], ["R*cos(t)", "R*sin(t)"], (0, "2*pi"), "2*pi*R^2"),
    (["2*x*y", "x^2"], ["t", "t^3"], (0, 1), "1"),
    (["y", "z", "x"], ["cos(t)", "sin(t)", "t"], (0, "2*pi"), "-pi"),
    ("x^2", ["cos(t)", "sin(t)"], (0, "pi"), "pi/2"),
    ("1", ["a*cos(t)", "a*sin(t)", "b*t"], (0, "2*pi"), "2*pi*sqrt(a^2 + b^2)"),
]


@pytest.mark.parametrize(("field", "path", "ends", "wanted"), PATHS)
def test_fields_along_paths(field, path, ends, wanted):
    answer = gelvo.line_integral(field, path, "t", *ends, given=["R > 0", "a > 0", "b > 0"])
    assert gelvo.equal(answer.expression, wanted, given=["a > 0", "b > 0"]) and answer.verdict == "proved"


def test_the_flux_out_of_a_ball_is_the_integral_of_the_divergence():
    field = ["x*z^2", "y*x^2", "z*y^2"]
    sphere = ["R*sin(theta)*cos(phi)", "R*sin(theta)*sin(phi)", "R*cos(theta)"]
    through = gelvo.flux(field, sphere, {"theta": (0, "pi"), "phi": (0, "2*pi")}, given=["R > 0"])
    inside = gelvo.integrate_over(
        gelvo.divergence(field, ["x", "y", "z"]),
        {"r": (0, "R"), "theta": (0, "pi"), "phi": (0, "2*pi")},
        "spherical",
        given=["R > 0"],
    )
    assert gelvo.equal(through.expression, inside.expression) and gelvo.equal(through.expression, "4*pi*R^5/5")
    assert through.verdict == inside.verdict == "proved"


PRINCIPAL = [
    ("1/x", -1, 2, [], "ln(2)"),
    ("1/(x^2 - 4)", 0, 3, [], "-ln(5)/4"),
    ("1/(x*(x - 2))", -1, 3, [], "-ln(3)"),
    ("x/(1 + x^2)", "-inf", "inf", [], "0"),
    ("1/(x^3 - 1)", "-inf", "inf", [], "-pi/sqrt(3)"),
    ("cos(x)/(1 - x^2)", "-inf", "inf", [], "pi*sin(1)"),
    ("exp(x)/x", -1, 1, [], "Ei(1) - Ei(-1)"),
    ("1/(x^2 - a^2)", 0, "inf", ["a > 0"], "0"),
    ("1/x^2", -1, 1, [], "inf"),
]


@pytest.mark.parametrize(("f", "low", "high", "given", "wanted"), PRINCIPAL, ids=[p[0] for p in PRINCIPAL])
def test_principal_values(f, low, high, given, wanted):
    plain = gelvo.integrate(f, "x", low, high, given=given)
    assert str(plain.expression) in ("undefined", "inf")
    answer = gelvo.integrate(f, "x", low, high, given=given, principal_value=True)
    if wanted == "inf":
        assert str(answer.expression) == "inf"
        return
    assert gelvo.equal(answer.expression, wanted, given=given)
    assert answer.verdict in ("proved", "supported") and answer.road.startswith("principal value")


DIVERGING = {
    ("sin(x)", 0, "inf"): ("undefined", ""), ("cos(x)/x", 0, "inf"): ("inf", "x = 0"), ("sin(x)^2/x", 0, "inf"): ("inf", "x = inf"),
    ("abs(sin(x))/x", 1, "inf"): ("inf", "x = inf"), ("1/ln(x)", 0, 1): ("-inf", "x = 1"), ("sin(x)/x^2", 0, "inf"): ("inf", "x = 0"),
    ("exp(-1j*w*x)", 0, "inf"): ("undefined", "swings"), ("x*sin(x^2)", 0, "inf"): ("undefined", ""),
}  # fmt: skip


@pytest.mark.parametrize("task", DIVERGING, ids=[t[0] for t in DIVERGING])
def test_what_diverges_names_the_place(task):
    value, said = DIVERGING[task]
    answer = gelvo.integrate(task[0], "x", *task[1:], given=["w > 0"])
    assert str(answer.expression) == value and said in answer.road
    assert answer.verdict in ("proved", "supported", "undecided")
    assert answer.verdict == "proved" or task[0] in ("sin(x)^2/x", "abs(sin(x))/x", "1/ln(x)", "sin(x)/x^2", "exp(-1j*w*x)")


SERIES_BY_NAME = [
    ("x^(5/2)*exp(-x^2)*besselj(1/2, x)", []),
    ("besselj(1, 2*x)*exp(-3*x)/x", []),
    ("cos(2*x)*besselk(0, 3*x)", []),
    ("erfc(x)*exp(-x)", []),
    ("besselk(1/3, x)*besselj(1/3, x/2)*x", []),
    ("x*exp(-x)*besselk(1/4, x)", []),
    ("x^2*airyai(x)", []),
    ("x*exp(-x)*besselj(0, x)", []),
]


@pytest.mark.parametrize(("f", "given"), SERIES_BY_NAME, ids=[f for f, _ in SERIES_BY_NAME])
def test_products_by_convolution_agree_with_quadratures_of_another_library(f, given):
    answer = gelvo.integrate(f, "x", 0, "inf", given=given)
    assert not answer.reason
    with mp.workdps(20):
        formula = gelvo.formula(f)
        wanted = mp.quad(lambda x: numeric(formula, {"x": mp.nstr(x, 20)}) if x > 0 else mp.zero, [0, 1, 4, 10, 30, 60])
        assert abs(numeric(answer.expression, {}) - wanted) < mp.mpf("1e-6") * (1 + abs(wanted))


COMPLEX = [
    ("exp(-t/tau)*exp(-1j*w*t)", "t", 0, "inf", "tau/(1 + 1j*w*tau)"),
    ("exp(1j*k*t)/(t^2 + a^2)", "t", "-inf", "inf", "pi*exp(-a*k)/a"),
    ("exp(-a*abs(t))*exp(-1j*w*t)", "t", "-inf", "inf", "2*a/(a^2 + w^2)"),
]


@pytest.mark.parametrize(("f", "variable", "low", "high", "wanted"), COMPLEX, ids=[c[0] for c in COMPLEX])
def test_complex_integrands_by_their_parts(f, variable, low, high, wanted):
    given = ["a > 0", "k > 0", "tau > 0", "w > 0"]
    assert gelvo.equal(gelvo.integrate(f, variable, low, high, given=given).expression, wanted, given=given)


def test_a_principal_value_needs_both_ends():
    with pytest.raises(gelvo.DomainError, match="between two ends"):
        gelvo.integrate("1/x", "x", principal_value=True)
