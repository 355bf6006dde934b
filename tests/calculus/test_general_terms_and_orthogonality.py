"""Coefficients of a letter are those of the series by numbers; Fourier series and transforms fit each other; substitution into cases."""

from __future__ import annotations

from fractions import Fraction
from math import comb
from random import Random

import mpmath
import pytest

import gelvo
from sample_tasks import numeric

SEED = 20261203


def drawn_fractions(count):
    """(formula text, numerator, denominator coefficients) with a denominator that does not vanish at 0."""
    source = Random(SEED)
    for _ in range(count):
        bottom = [1]
        for _ in range(source.randint(1, 3)):
            factor = source.choice(
                [[1, source.choice([-3, -2, -1, 1, 2])], [1, source.choice([-1, 1, 2]), source.choice([-1, 1])]]
            )
            bottom = [sum(bottom[i] * factor[k - i] for i in range(len(bottom)) if 0 <= k - i < len(factor)) for k in range(len(bottom) + len(factor) - 1)]  # fmt: skip
        top = [source.randint(-3, 3) for _ in range(source.randint(1, 3))]
        if not any(top):
            top = [1]
        text = "({})/({})".format(
            " + ".join(f"({c})*x^{k}" for k, c in enumerate(top)), " + ".join(f"({c})*x^{k}" for k, c in enumerate(bottom))
        )
        yield text, top, bottom


def expanded_by_hand(top, bottom, count):
    row = []
    for k in range(count):
        c = Fraction(top[k]) if k < len(top) else Fraction(0)
        row.append((c - sum(bottom[j] * row[k - j] for j in range(1, min(k, len(bottom) - 1) + 1))) / bottom[0])
    return row


@pytest.mark.parametrize(("text", "top", "bottom"), list(drawn_fractions(16)))
def test_fractions_by_their_own_recurrence(text, top, bottom):
    try:
        found = gelvo.series(text, "x").coefficient("n")
    except gelvo.NoClosedForm:
        return
    wanted = expanded_by_hand(top, bottom, 20)
    assert found.verdict == "proved"
    for k in (0, 1, 2, 3, 7, 19):
        have = numeric(found.expression.substitute({"n": k}), {})
        assert abs(have - float(wanted[k])) < 1e-9 * max(1, abs(float(wanted[k]))), (text, k)


SERIES = [
    ("exp(-3*x)", lambda m, k: m.mpf(-3) ** k / m.factorial(k)), ("sinh(2*x)", lambda m, k: m.mpf(2) ** k / m.factorial(k) if k % 2 else 0), ("(1 + x)^(1/3)", lambda m, k: m.binomial(m.mpf(1) / 3, k)),
    ("1/sqrt(1 + x)", lambda m, k: m.binomial(m.mpf(-1) / 2, k)), ("ln(1 - 2*x)", lambda m, k: -m.mpf(2) ** k / k if k else 0), ("polylog(3, x)", lambda m, k: m.mpf(1) / k**3 if k else 0), ("exp(x)*cos(x)", lambda m, k: m.re(m.mpc(1, 1) ** k) / m.factorial(k)),
    ("asinh(x)", lambda m, k: m.taylor(m.asinh, 0, k)[k] if k else 0), ("sin(x)^2", lambda m, k: -m.re(m.mpc(0, 2) ** k) / (2 * m.factorial(k)) if k else 0), ("1/(1 - x)^4", lambda m, k: comb(k + 3, 3)), ("x/(1 - x - x^2)", lambda m, k: m.fib(k)),
    ("(x + x^2)/(1 - x)^3", lambda m, k: k * k), ("atan(x/2)", lambda m, k: m.im(m.mpc(0, 1) ** k) / (k * m.mpf(2) ** k) if k else 0), ("cosh(sqrt(x))", lambda m, k: 1 / m.factorial(2 * k)),
]  # fmt: skip


@pytest.mark.parametrize(("text", "wanted"), SERIES, ids=[row[0] for row in SERIES])
def test_the_coefficients_of_known_series(text, wanted):
    found = gelvo.series(text, "x").coefficient("n")
    own = mpmath.mp.clone()
    own.dps = 30
    for k in range(9):
        have = numeric(found.expression.substitute({"n": k}), {})
        assert abs(have - complex(wanted(own, k))) < 1e-12, k


def test_a_fourier_series_is_the_transform_at_whole_frequencies():
    """The harmonics of what is one window, repeated, are the spectrum of the window at the multiples of the frequency."""
    series = gelvo.fourier_series("(1 - abs(t))*heaviside(1 - abs(t))", "t", -2, 2)
    image = gelvo.fourier("max(0, 1 - abs(t))", "t", "w")
    for k in (1, 2, 3, 5):
        at = numeric(image.expression, {"w": str(mpmath.pi * k / 2)})
        assert abs(numeric(series.harmonic(k).cosine, {}) - at / 2) < 1e-12
        assert abs(numeric(series.harmonic(k).sine, {})) < 1e-12


def test_cases_choose_their_branch_before_a_value_is_put_in():
    formula = gelvo.formula("cases(0 when n = 0, 5 when n = 1, otherwise 1/(n*(n - 1)))")
    assert [str(formula.substitute({"n": k})) for k in (0, 1, 2)] == ["0", "5", "1/2"]
    nested = gelvo.formula("cases(cases(1 when x = 0, otherwise 1/x) when x < 1, otherwise 2)")
    assert [str(nested.substitute({"x": k})) for k in (0, 2)] == ["1", "2"]
    with pytest.raises(gelvo.DomainError):
        gelvo.formula("cases(1/x when x < 1, otherwise 2)").substitute({"x": 0})


def test_the_transform_of_a_convolution_is_the_product():
    both = gelvo.convolution("exp(-t)", "sin(2*t)", "t", over="half line", given=["t > 0"])
    image = gelvo.laplace(both.expression, "t", "s", given=["s > 0"])
    assert gelvo.equal(image.expression, "1/(s + 1)*2/(s^2 + 4)", given=["s > 0"])
    twice = gelvo.hilbert(gelvo.hilbert("cos(3*t)", "t", "x").expression, "x", "t")
    assert gelvo.equal(twice.expression, "-cos(3*t)")
    again = gelvo.hankel(gelvo.hankel("exp(-r^2)", "r", "k").expression, "k", "r")
    assert gelvo.equal(again.expression, "exp(-r^2)")


@pytest.mark.parametrize(
    "text",
    ["tan(x)", "1/(2 + cos(x))", "ln(1 - x)^2", "gamma(1 + x)", "exp(exp(x))", "sqrt(x)", "1/x", "ln(x)", "1/(x^3 + x + 1)"],
)
def test_what_has_no_form_for_a_letter_is_told(text):
    """In a moment: the first coefficients are looked at before the many."""
    with pytest.raises(gelvo.NoClosedForm, match=r"closed form|natural|named|no expansion"):
        gelvo.series(text, "x", given=["x > 0"] if "ln(x)" in text or "sqrt" in text else []).coefficient("n")
