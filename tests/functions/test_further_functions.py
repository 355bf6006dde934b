"""Bessel functions, zeta, polylogarithms, Lambert's W and their like: values, exact values, derivatives, identities, code."""

from __future__ import annotations

import mpmath
import pytest
from gmpy2 import mpq

import gelvo
from gelvo.errors import DomainError
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.traversal import postorder
from gelvo.functions.integral_functions import bernoulli
from gelvo.functions.named import POLYGAMMA, is_a
from gelvo.numbers.interval import NoValue

VALUES = [
    ("ellipf(1/2, 3/10)", mpmath.ellipf(mpmath.mpf(1) / 2, mpmath.mpf(3) / 10)),
    ("airyai_prime(2)", mpmath.airyai(2, derivative=1)),
    ("hyp2f1(1/2, 1/3, 2/3, 1/2)", mpmath.hyp2f1(mpmath.mpf(1) / 2, mpmath.mpf(1) / 3, mpmath.mpf(2) / 3, mpmath.mpf(1) / 2)),
    ("hyp1f1(-1/2, 3, -5)", mpmath.hyp1f1(mpmath.mpf(-1) / 2, 3, -5)),
    ("hyp0f1(2/3, 4)", mpmath.hyp0f1(mpmath.mpf(2) / 3, 4)),
    ("besselj(0, 1)", mpmath.besselj(0, 1)),
    ("besselj(3, 7/2)", mpmath.besselj(3, mpmath.mpf(7) / 2)),
    ("besselj(10, 1/2)", mpmath.besselj(10, mpmath.mpf(1) / 2)),
    ("besselj(0, 30)", mpmath.besselj(0, 30)),
    ("besselj(1/3, 2)", mpmath.besselj(mpmath.mpf(1) / 3, 2)),
    ("besseli(0, 2)", mpmath.besseli(0, 2)),
    ("besseli(4, 9)", mpmath.besseli(4, 9)),
    ("bessely(1, 2)", mpmath.bessely(1, 2)),
    ("besselk(2, 3/2)", mpmath.besselk(2, mpmath.mpf(3) / 2)),
    ("zeta(3)", mpmath.zeta(3)),
    ("zeta(1/2)", mpmath.zeta(mpmath.mpf(1) / 2)),
    ("polylog(2, 1/3)", mpmath.polylog(2, mpmath.mpf(1) / 3)),
    ("polylog(2, -3)", mpmath.polylog(2, -3)),
    ("polylog(3, 1/4)", mpmath.polylog(3, mpmath.mpf(1) / 4)),
    ("lambertw(2)", mpmath.lambertw(2)),
    ("lambertw(-1/4)", mpmath.lambertw(-mpmath.mpf(1) / 4)),
    ("lambertw(1000)", mpmath.lambertw(1000)),
    ("ellipk(1/3)", mpmath.ellipk(mpmath.mpf(1) / 3)),
    ("ellipk(-2)", mpmath.ellipk(-2)),
    ("ellipe(1/2)", mpmath.ellipe(mpmath.mpf(1) / 2)),
    ("beta(2/3, 1/5)", mpmath.beta(mpmath.mpf(2) / 3, mpmath.mpf(1) / 5)),
    ("Ei(2)", mpmath.ei(2)),
    ("Si(2)", mpmath.si(2)),
    ("Ci(1)", mpmath.ci(1)),
]


@pytest.mark.parametrize(("text", "reference"), VALUES, ids=[t for t, _ in VALUES])
def test_values(text, reference):
    assert float(gelvo.formula(text)) == pytest.approx(float(reference.real), rel=1e-13)


BOUNDED = ["besselj(2, 5)", "besseli(1, 3)", "polylog(2, 1/5)", "lambertw(3)", "ellipk(1/2)", "beta(1/3, 1/4)", "Ei(3)"]


@pytest.mark.parametrize("text", BOUNDED)
def test_rigorous_bounds_narrow_with_precision(text):
    wide, narrow = (Enclosure(gelvo.formula(text)).at({}, bits) for bits in (60, 300))
    assert wide.real.low <= narrow.real.low <= narrow.real.high <= wide.real.high
    assert narrow.real.high - narrow.real.low < mpq(1, 2**250)
    assert gelvo.value(text, 50).bounded


@pytest.mark.parametrize(
    "text", ["polylog(2, 3)", "ellipk(2)", "lambertw(-1)", "acosh(1 + 0*pi) - acosh(sqrt(2)^2/2 + pi - pi)*0/0"]
)
def test_no_value_is_no_number(text):
    try:
        expression = gelvo.formula(text)
    except (gelvo.FormulaError, DomainError):
        return
    with pytest.raises((NoValue, gelvo.GelvoError)):
        Enclosure(expression).at({}, 100)


EXACT = [
    ("zeta(2)", "pi^2/6"),
    ("zeta(4)", "pi^4/90"),
    ("zeta(0)", "-1/2"),
    ("zeta(-1)", "-1/12"),
    ("zeta(-2)", "0"),
    ("polylog(1, x)", "-ln(1 - x)"),
    ("polylog(0, x)", "x/(1 - x)"),
    ("polylog(-1, x)", "x/(1 - x)^2"),
    ("polylog(2, 1)", "pi^2/6"),
    ("polylog(2, -1)", "-pi^2/12"),
    ("polylog(2, 1/2)", "pi^2/12 - ln(2)^2/2"),
    ("polylog(3, 0)", "0"),
    ("lambertw(0)", "0"),
    ("lambertw(exp(1))", "1"),
    ("ellipk(0)", "pi/2"),
    ("ellipe(0)", "pi/2"),
    ("ellipe(1)", "1"),
    ("besselj(0, 0)", "1"),
    ("besselj(3, 0)", "0"),
    ("besselj(-2, x)", "besselj(2, x)"),
    ("besselj(-3, x)", "-besselj(3, x)"),
    ("besseli(-3, x)", "besseli(3, x)"),
    ("besselk(-1/3, x)", "besselk(1/3, x)"),
    ("beta(2, 3)", "1/12"),
    ("beta(1/2, 1/2)", "pi"),
    ("Si(0)", "0"),
]


@pytest.mark.parametrize(("text", "exact"), EXACT, ids=[t for t, _ in EXACT])
def test_exact_values(text, exact):
    assert gelvo.formula(text) is gelvo.formula(exact)


def test_the_pole_of_zeta_is_refused():
    with pytest.raises((DomainError, gelvo.FormulaError), match="pole"):
        gelvo.formula("zeta(1)")


DERIVATIVES = [
    ("besselj(2, x)", "(besselj(1, x) - besselj(3, x))/2"),
    ("bessely(0, x)", "(bessely(-1, x) - bessely(1, x))/2"),
    ("besseli(1, x)", "(besseli(0, x) + besseli(2, x))/2"),
    ("besselk(1, x)", "-(besselk(0, x) + besselk(2, x))/2"),
    ("polylog(2, x)", "-ln(1 - x)/x"),
    ("polylog(3, x)", "polylog(2, x)/x"),
    ("lambertw(x)", "lambertw(x)/(x*(1 + lambertw(x)))"),
    ("ellipk(x)", "(ellipe(x) - (1 - x)*ellipk(x))/(2*x*(1 - x))"),
    ("ellipe(x)", "(ellipe(x) - ellipk(x))/(2*x)"),
    ("Ei(x)", "exp(x)/x"),
    ("Si(x)", "sin(x)/x"),
    ("Ci(x)", "cos(x)/x"),
    ("beta(x, 2)", "beta(x, 2)*(digamma(x) - digamma(x + 2))"),
]


@pytest.mark.parametrize(("text", "slope"), DERIVATIVES, ids=[t for t, _ in DERIVATIVES])
def test_derivatives(text, slope):
    assert gelvo.differentiate(text, "x") == gelvo.formula(slope)


IDENTITIES = [
    ("besselj(n - 1, x) + besselj(n + 1, x)", "2*n/x*besselj(n, x)", ["n integer", "x > 0"]),
    ("besselj(7/2, x)", "5/x*besselj(5/2, x) - besselj(3/2, x)", ["x > 0"]),
    ("airyai(x)*airybi_prime(x) - airyai_prime(x)*airybi(x)", "1/pi", []),
    ("hyp1f1(-3, 1/2, x)", "1 - 6*x + 4*x^2 - 8*x^3/15", []),
    (
        "x*hyp1f1(a + 1, b + 1, x)*a/b + (b - 1)*hyp1f1(a, b, x)",
        "(b - 1)*hyp1f1(a - 1, b - 1, x) + x*hyp1f1(a, b, x)",
        ["b > 1", "a > 1", "x > 0"],
    ),
    (
        "x*(1 - x)*hyp2f1(a + 2, b + 2, c + 2, x)*a*(a + 1)*b*(b + 1)/(c*(c + 1)) + (c - (a + b + 1)*x)*a*b/c*hyp2f1(a + 1, b + 1, c + 1, x)",
        "a*b*hyp2f1(a, b, c, x)",
        ["0 < x", "x < 1", "a > 0", "b > 0", "c > 0"],
    ),
    ("besselj(1, x)*bessely(0, x) - besselj(0, x)*bessely(1, x)", "2/(pi*x)", ["x > 0"]),
    ("besseli(0, x)*besselk(1, x) + besseli(1, x)*besselk(0, x)", "1/x", ["x > 0"]),
    ("besselk(n + 2, x)", "besselk(n, x) + 2*(n + 1)/x*besselk(n + 1, x)", ["x > 0"]),
    ("besseli(1/2, x)", "sqrt(2/(pi*x))*sinh(x)", ["x > 0"]),
    ("bessely(1/2, x)", "-sqrt(2/(pi*x))*cos(x)", ["x > 0"]),
    ("lambertw(x)*exp(lambertw(x))", "x", ["x > 0"]),
    ("lambertw(x*exp(x))", "x", ["x >= -1"]),
    ("polylog(2, x) + polylog(2, 1 - x)", "pi^2/6 - ln(x)*ln(1 - x)", ["x > 0", "x < 1"]),
    ("beta(a + 1, b)", "beta(a, b)*a/(a + b)", ["a > 0", "b > 0"]),
    ("digamma(x + 1)", "digamma(x) + 1/x", ["x > 0"]),
    ("loggamma(x + 1)", "loggamma(x) + ln(x)", ["x > 0"]),
    ("gamma(x)*gamma(1 - x)", "pi/sin(pi*x)", ["x > 0", "x < 1"]),
    ("gamma(3*x)", "3^(3*x - 1/2)*gamma(x)*gamma(x + 1/3)*gamma(x + 2/3)/(2*pi)", ["x > 0"]),
    ("gamma(1/3)*gamma(2/3)", "2*pi/sqrt(3)", []),
    ("abs(gamma(1/2 + 1j*y))^2", "pi/cosh(pi*y)", ["y real"]),
]


@pytest.mark.parametrize(("left", "right", "facts"), IDENTITIES, ids=[i[0] for i in IDENTITIES])
def test_identities_are_proved(left, right, facts):
    assert gelvo.equal(left, right, given=facts) is True


NEAR_MISSES = [
    ("besselj(1, x)", "(besselj(0, x) - besselj(2, x))*x/2", ["x > 0"]),
    ("besseli(n - 1, x) + besseli(n + 1, x)", "2*n/x*besseli(n, x)", ["n integer", "x > 0"]),
    ("lambertw(x)", "ln(1 + x)", ["x > 0"]),
    ("polylog(2, x)", "x + x^2/4", ["x > 0", "x < 1"]),
    ("beta(a + 1, b)", "beta(a, b + 1)", ["a > 0", "b > 0"]),
    ("ellipk(x)", "pi/2*(1 + x/4)", ["x > 0", "x < 1"]),
]


@pytest.mark.parametrize(("left", "right", "facts"), NEAR_MISSES, ids=[i[0] for i in NEAR_MISSES])
def test_near_misses_are_told_apart(left, right, facts):
    assert gelvo.equal(left, right, given=facts) is False


def test_bernoulli_numbers():
    assert [str(bernoulli(n)) for n in (0, 1, 2, 3, 12)] == ["1", "-1/2", "1/6", "0", "-691/2730"]


def test_further_functions_become_code():
    f = gelvo.numeric_function("besselj(0, x) + ellipk(x/10) + zeta(2 + x)", ["x"])
    x = 1.5
    assert f(x) == pytest.approx(float(mpmath.besselj(0, x) + mpmath.ellipk(x / 10) + mpmath.zeta(2 + x)), rel=1e-12)
    with pytest.raises(gelvo.ExportError):
        gelvo.export_code("besselj(0, x)", ["x"], "c")


@pytest.mark.parametrize("order", [1, 2, 3, 4, 5])
@pytest.mark.parametrize("place", ["1/3", "2/3", "3/4", "1/6", "5/6", "1/2", "4/3", "7/4", "13/6", "5/2", "11/3"])
def test_polygamma_at_thirds_quarters_and_sixths(order, place):
    found = gelvo.formula(f"polygamma({order}, {place})")
    with mpmath.workdps(30):
        top, bottom = map(int, place.split("/"))
        wanted = mpmath.psi(order, mpmath.mpf(top) / bottom)
        assert abs(mpmath.mpf(str(gelvo.value(found, 25))) - wanted) < mpmath.mpf("1e-20") * abs(wanted)
    left = [str(n.arguments[1]) for n in postorder(found) if is_a(n, POLYGAMMA)]
    assert set(left) <= {"1/3", "1/4"} and (not left or order % 2)
