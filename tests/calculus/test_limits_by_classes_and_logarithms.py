"""Limits through whole numbers class by class, with logarithms taken apart, of quotients of logarithms, squeezed by bounded waves."""

from __future__ import annotations

import pytest

import gelvo
from hunt.plain import mp, read, value

THROUGH_WHOLE = [
    ("sin(pi*sqrt(n^2 + 1))", "0"), ("sin(pi*sqrt(n^2 + n))", "undefined"), ("n*sin(pi*sqrt(n^2 + 1))", "undefined"), ("cos(pi*sqrt(n^2 + n))^2", "0"), ("sin(pi*sqrt(4*n^2 + n))", "sqrt(2)/2"), ("n*sin(2*pi*sqrt(1 + n^2))", "pi"),
    ("(-1)^n*sin(pi*sqrt(n^2 + n))", "1"), ("sin(pi*cbrt(n^3 + n^2))", "undefined"), ("cos(2*pi*sqrt(n^2 + 3*n))", "-1"), ("n*(cos(2*pi*sqrt(n^2 + 1)) - 1)", "0"),
]  # fmt: skip


@pytest.mark.parametrize(("text", "wanted"), THROUGH_WHOLE)
def test_waves_of_roots_through_whole_numbers(text, wanted):
    answer = gelvo.limit(text, "n", "inf", given=["n natural"])
    assert answer.verdict == "proved"
    assert str(answer.expression) == wanted or gelvo.equal(answer.expression, wanted)
    rows = [value(read(text), {"n": mp.mpf(10) ** 9 + j}) for j in range(2)]
    if wanted == "undefined":
        assert abs(rows[0] - rows[1]) > 0.1
    else:
        assert all(abs(r - value(read(wanted), {})) < 1e-6 for r in rows)


FAR = [
    ("exp(exp(2*ln(x^5 + x)*ln(ln(x))))/exp(exp(10*ln(x)*ln(ln(x))))", "inf", ("proved", "undecided")), ("ln(gamma(gamma(x)))/exp(x)", "inf", ("proved", "undecided")), ("gamma(x)/exp(x)", "inf", ("proved",)), ("exp(x)/gamma(x)", "0", ("proved",)),
    ("exp(exp(x + exp(-x))) - exp(exp(x))", "inf", ("proved", "undecided")), ("exp(exp(x)) - exp(exp(x - exp(-x))/(1 - 1/x))", "-inf", ("proved", "undecided")), ("exp(exp(exp(x + exp(-x))))/exp(exp(exp(x)))", "inf", ("proved", "undecided")),
    ("(ln(x + exp(x)))^(1/ln(x))", "exp(1)", ("proved", "supported", "undecided")), ("exp(x^2 + x) - exp(x^2 + ln(x)*x)", "-inf", ("proved", "supported", "undecided")), ("exp(exp(x)*(1 + 1/x))/exp(exp(x)) - exp(exp(x)/x)", "0", ("proved", "supported", "undecided")),
    ("(3^x + 5^x)^(1/x)", "5", ("proved",)), ("(2^x + 3^x + 5^x*x)^(2/x)", "25", ("proved",)), ("exp(x)*2^(-x)", "inf", ("proved",)), ("exp(x)*3^(-x)", "0", ("proved",)), ("2^x*3^(-x)*exp(x/2)", "inf", ("proved",)), ("x^a*exp(-x)*cos(x^2)", "0", ("proved",)),
]  # fmt: skip


@pytest.mark.parametrize(("text", "wanted", "verdicts"), FAR)
def test_far_out(text, wanted, verdicts):
    answer = gelvo.limit(text, "x", "inf")
    assert str(answer.expression) == wanted and answer.verdict in verdicts


BESIDE_ZERO = [
    ("bessely(0, x)/ln(x)", "2/pi"), ("ln(x)/ln(sin(x))", "1"), ("x*ln(x)/(1 + ln(x))", "0"), ("ln(x)^2/(ln(x)^2 + ln(x))", "1"), ("exp(1/ln(x))", "1"), ("Ei(x)/ln(x)", "1"), ("besselk(0, x)/ln(x)", "-1"), ("1/ln(x) - 1/ln(2*x)", "0"),
    ("ln(x)*ln(1 + x)", "0"), ("(ln(x) + 1/x)*x", "1"), ("ln(x)*sin(x)/(x*ln(2*x))", "1"),
]  # fmt: skip


@pytest.mark.parametrize(("text", "wanted"), BESIDE_ZERO)
def test_quotients_of_logarithms(text, wanted):
    answer = gelvo.limit(text, "x", 0, "above")
    assert (str(answer.expression), answer.verdict) == (wanted, "proved")


def test_a_bounded_wave_times_what_goes_to_zero():
    answer = gelvo.limit("x^a*sin(1/x)", "x", 0, "above", given=["a > 0"])
    assert (str(answer.expression), answer.verdict) == ("0", "proved")


ROOTS = [("cos(2*sqrt(t))/sqrt(t)", []), ("sin(2*sqrt(t))", []), ("besselj(0, 2*sqrt(3*t))", []), ("exp(-sqrt(t))", []), ("erf(sqrt(t))", [])]  # fmt: skip


@pytest.mark.parametrize(("text", "given"), ROOTS)
def test_transforms_of_functions_of_a_root(text, given):
    image = gelvo.laplace(text, "t", "s", given=given)
    assert image.verdict == "proved"
    with mp.workdps(25):
        wanted = mp.quad(lambda u: 2 * u * value(read(text), {"t": u * u}) * mp.exp(-3 * u * u), [mp.mpf("1e-20"), 1, 3, 6])
    assert abs(value(read(str(image.expression)), {"s": mp.mpf(3)}) - wanted) < 1e-12


IRRATIONAL = ["1/(k^2 + 4*k + 2)", "1/(k^2 + 6*k + 3/4)", "1/(k^2 + k - 1)", "1/(k^2 - 2)", "(-1)^k/(k^2 + 4*k + 2)", "1/(k^2 + k - 1)^2", "1/((k^2 - 2)*(k^2 - 3))", "(1 - (-1)^k)^2/k^2"]  # fmt: skip


@pytest.mark.parametrize("term", IRRATIONAL)
def test_sums_with_irrational_poles(term):
    """The other zero of the factor stays in the residue."""
    found = gelvo.add_up(term, "k", 1, "inf")
    assert found.verdict in ("proved", "supported") and "sum_of" not in str(found)
    tree = read(term)
    with mp.workdps(30):
        wanted = mp.nsum(
            lambda k: value(tree, {"k": mp.mpf(2 * int(k) - 1)}) + value(tree, {"k": mp.mpf(2 * int(k))}), [1, mp.inf]
        )
    assert abs(value(read(str(found.expression)), {}) - wanted) < 1e-12
