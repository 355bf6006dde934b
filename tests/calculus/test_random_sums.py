"""Random sums, products and expansions held against numbers that share no code with the library: what is proved has to be right."""

from __future__ import annotations

import itertools
import random
from fractions import Fraction

import mpmath
import pytest

import gelvo

SEED = 20261202
DIGITS = 30


def context():
    own = mpmath.mp.clone()
    own.dps = 50
    return own


def number_of(value, own):
    found = gelvo.value(value, DIGITS)
    return own.mpc(found.real, found.imag or 0)


def near(have, wanted, own, digits=18):
    return abs(have - wanted) <= own.mpf(10) ** -digits * max(1, abs(wanted))


# --- rational terms ----------------------------------------------------------------------------------------------------------


def rational_terms(count):
    """(text, python function) of 1/(product of factors without zeros at natural numbers)."""
    source = random.Random(SEED)
    for _ in range(count):
        factors, works = [], []
        for _ in range(source.choice([1, 2, 2])):
            kind = source.choice(["linear", "square", "shifted square"])
            a, b = source.randint(1, 4), source.randint(1, 5)
            if kind == "linear":
                factors.append(f"({a}*k + {b})")
                works.append(lambda k, a=a, b=b: a * k + b)
            elif kind == "square":
                factors.append(f"(k^2 + {b}^2)")
                works.append(lambda k, b=b: k**2 + b**2)
            else:
                factors.append(f"(k^2 + k + {b})")
                works.append(lambda k, b=b: k**2 + k + b)
        degree = sum(2 if "^2" in f else 1 for f in factors)
        if degree < 2:
            factors.append(factors[0])
            works.append(works[0])
        sign = source.random() < 0.4
        yield ("(-1)^k/" if sign else "1/") + f"({'*'.join(factors)})", works, sign


RATIONAL = list(rational_terms(30))


@pytest.mark.parametrize(("term", "works", "sign"), RATIONAL, ids=[row[0] for row in RATIONAL])
def test_sums_of_rational_terms(term, works, sign):
    own = context()

    def one(k):
        below = own.mpf(1)
        for work in works:
            below *= work(k)
        return (-1) ** int(k) / below if sign else 1 / below

    answer = gelvo.add_up(term, "k", 0, "inf")
    if answer.verdict == "undecided":
        return
    assert answer.verdict in ("proved", "supported")
    wanted = gelvo.value(f"sum_of({term}, k, 0, inf)", DIGITS)
    assert near(own.mpf(wanted.real), own.nsum(one, [0, own.inf]), own, 12)  # the bounded value first, by extrapolation
    assert near(number_of(answer, own), own.mpf(wanted.real), own, 25)


# --- power series ------------------------------------------------------------------------------------------------------------


def series_terms(count):
    source = random.Random(SEED + 1)
    for _ in range(count):
        rate = Fraction(source.randint(1, 3), source.randint(4, 7))
        shape = source.choice(
            [
                "k",
                "k^2",
                "1",
                "1/(k + 1)",
                "1/(2*k + 1)",
                "1/factorial(k)",
                "1/factorial(2*k)",
                "k/factorial(k)",
                "binomial(2*k, k)",
            ]
        )
        if shape == "binomial(2*k, k)":
            rate /= 5
        yield shape, source.choice([1, -1]) * rate


SHAPES = {
    "k": lambda m, k: k,
    "k^2": lambda m, k: k * k,
    "1": lambda m, k: 1,
    "1/(k + 1)": lambda m, k: m.mpf(1) / (k + 1),
    "1/(2*k + 1)": lambda m, k: m.mpf(1) / (2 * k + 1),
    "1/factorial(k)": lambda m, k: 1 / m.factorial(k),
    "1/factorial(2*k)": lambda m, k: 1 / m.factorial(2 * k),
    "k/factorial(k)": lambda m, k: k / m.factorial(k),
    "binomial(2*k, k)": lambda m, k: m.binomial(2 * k, k),
}
SERIES = list(series_terms(30))


@pytest.mark.parametrize(("shape", "rate"), SERIES)
def test_sums_of_power_series(shape, rate):
    own = context()
    answer = gelvo.add_up(f"({rate})^k*{shape}", "k", 0, "inf")
    x = own.mpf(rate.numerator) / rate.denominator
    wanted = own.fsum(x**k * SHAPES[shape](own, k) for k in range(600))
    assert answer.verdict == "proved"
    assert near(number_of(answer, own), wanted, own)
    with_letter = gelvo.add_up(f"x^k*{shape}", "k", 0, "inf", given=["0 < x", "x < 1/4"] if rate > 0 else ["-1/4 < x", "x < 0"])
    if with_letter.verdict == "proved" and abs(rate) < Fraction(1, 4):
        assert near(number_of(with_letter.expression.substitute({"x": gelvo.formula(str(rate))}), own), wanted, own)


# --- waves -------------------------------------------------------------------------------------------------------------------


def wave_terms(count):
    source = random.Random(SEED + 2)
    for _ in range(count):
        yield (
            source.choice(["cos", "sin"]),
            source.choice(["1/k", "1/k^2", "1/(k^2 + 4)", "k/(k^2 + 9)", "1/(k*2^k)", "1/factorial(k)"]),
            Fraction(source.randint(1, 5), 2),
        )


SIZES = {
    "1/k": lambda m, k: 1 / m.mpf(k),
    "1/k^2": lambda m, k: 1 / m.mpf(k) ** 2,
    "1/(k^2 + 4)": lambda m, k: 1 / (m.mpf(k) ** 2 + 4),
    "k/(k^2 + 9)": lambda m, k: k / (m.mpf(k) ** 2 + 9),
    "1/(k*2^k)": lambda m, k: 1 / (m.mpf(k) * 2**k),
    "1/factorial(k)": lambda m, k: 1 / m.factorial(k),
}
WAVES = list(dict.fromkeys(wave_terms(30)))


def by_summation_by_parts(own, wave, size, angle):
    """The sum through partial sums of the wave, applied four times: the rest falls four powers faster."""
    phase = own.expj(angle)
    terms = [size(own, k) for k in range(1, 1200)]
    total, factor = own.mpc(0), own.mpc(1)
    for _ in range(6):  # sum a_k z^k = (a_1 z + sum (a_(k+1) - a_k) z^(k+1))/(1 - z)
        factor = factor / (1 - phase)
        total += factor * terms[0] * phase
        terms = [b - a for a, b in itertools.pairwise(terms)]
        factor = factor * phase
    power = own.mpc(1)
    rest = own.mpc(0)
    for t in terms:
        power *= phase
        rest += t * power
    total += factor * rest
    return total.imag if wave == "sin" else total.real


@pytest.mark.parametrize(("wave", "size", "angle"), WAVES)
def test_sums_of_waves(wave, size, angle):
    own = context()
    answer = gelvo.add_up(f"{wave}(k*x)*{size}", "k", 1, "inf", given=["0 < x", "x < pi"])
    if answer.verdict == "undecided":
        return
    assert answer.verdict in ("proved", "supported")
    have = number_of(answer.expression.substitute({"x": gelvo.formula(str(angle))}), own)
    wanted = by_summation_by_parts(own, wave, SIZES[size], own.mpf(angle.numerator) / angle.denominator)
    assert near(have, wanted, own, 12)


# --- finite sums with binomials ----------------------------------------------------------------------------------------------

BINOMIAL = [
    ("binomial(n, k)*{r}^k", lambda m, n, k, r: m.binomial(n, k) * r**k),
    ("k*binomial(n, k)*{r}^k", lambda m, n, k, r: k * m.binomial(n, k) * r**k),
    ("binomial(n, k)*{r}^(n - k)", lambda m, n, k, r: m.binomial(n, k) * r ** (n - k)),
    ("binomial(n, k)*{r}^k/(k + 1)", lambda m, n, k, r: m.binomial(n, k) * r**k / m.mpf(k + 1)),
    ("binomial(n + {r}, k)*0 + binomial(n, k)^2", lambda m, n, k, r: m.binomial(n, k) ** 2),
    ("k^2*binomial(n, k)*{r}^k", lambda m, n, k, r: k * k * m.binomial(n, k) * r**k),
    ("(-1)^k*binomial(n, k)/(k + {r})", lambda m, n, k, r: (-1) ** k * m.binomial(n, k) / m.mpf(k + r)),
    ("binomial({r}*n, k)*binomial(n, k)*0 + binomial(2*n, k)*(-1)^k", lambda m, n, k, r: m.binomial(2 * n, k) * (-1) ** k),
]


@pytest.mark.parametrize("r", [1, 2, 3])
@pytest.mark.parametrize(("text", "work"), BINOMIAL, ids=[row[0] for row in BINOMIAL])
def test_finite_sums_with_binomials(text, work, r):
    own = context()
    answer = gelvo.add_up(text.format(r=r), "k", 0, "n", given=["n natural", "n > 0"])
    if answer.verdict == "undecided":
        return
    for n in (1, 2, 5, 9):
        wanted = own.fsum(work(own, n, k, r) for k in range(n + 1))
        assert near(number_of(answer.expression.substitute({"n": gelvo.formula(str(n))}), own), wanted, own)


# --- products ----------------------------------------------------------------------------------------------------------------

PRODUCTS = [("1 + {a}/k^2", 1), ("1 - 1/({a}*k + 1)^2", 1), ("(k^2 + {a}*k + 1)*(k + 1)^2/((k^2 + 1)*(k + 1)*(k + {a} + 1))", 1), ("k*(k + {a} + 1)/((k + 1)*(k + {a}))", 1)]  # fmt: skip


@pytest.mark.parametrize("a", [1, 2, 3])
@pytest.mark.parametrize(("factor", "first"), PRODUCTS)
def test_infinite_products(factor, first, a):
    own = context()
    text = factor.format(a=a)
    answer = gelvo.multiply_up(text, "k", first, "inf")
    wanted = gelvo.value(f"product_of({text}, k, {first}, inf)", 25)
    assert answer.verdict in ("proved", "supported", "undecided")
    if answer.verdict != "undecided":
        assert near(number_of(answer, own), own.mpf(wanted.real), own, 20)
