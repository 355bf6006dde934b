"""Random limits, expansions, sums and transforms held against numbers that share no code with the library."""

from __future__ import annotations

from random import Random

import mpmath
import pytest

import gelvo
from hunt.plain import NoValue, mp, read, value
from sample_tasks import is_open, numeric

SMALL = (
    "sin(x)",
    "tan(x)",
    "exp(x) - 1",
    "ln(1 + x)",
    "x",
    "sqrt(1 + x) - 1",
    "atan(x)",
    "sinh(x)",
    "1 - cos(x)",
    "x*exp(x)",
    "asin(x)",
)
NEAR_ONE = ("cos(x)", "exp(x)", "1 + x", "sqrt(1 + x)", "1/(1 - x)", "cosh(x)", "1 + sin(x)")
GROWING = ("x", "x^2 + x", "exp(x)", "ln(x)", "sqrt(x)", "x*ln(x)", "exp(x)/x", "x + sin(x)", "sqrt(x^2 + 1)", "exp(2*x) + x")


def small(rng):
    one = rng.choice(SMALL)
    kind = rng.random()
    if kind < 0.4:
        return f"({one})"
    if kind < 0.7:
        return f"({one} - {rng.choice(SMALL)}/{rng.randint(1, 3)})"
    return f"(({one})*({rng.choice(NEAR_ONE)}))"


def plain(text, x):
    return value(read(text), {"x": mp.mpf(x)})


@pytest.mark.parametrize("seed", range(40))
def test_quotients_of_what_vanishes(seed):
    rng = Random(seed)
    f = f"{small(rng)}/({rng.choice(SMALL)})" if seed % 2 else f"({rng.choice(NEAR_ONE)})^(1/{small(rng)})"
    answer = gelvo.limit(f, "x", 0, "above")
    if is_open(answer):
        return
    try:
        numbers = [plain(f, h) for h in ("1e-12", "1e-18")]
    except NoValue:
        return
    shown = str(answer.expression)
    if shown in ("inf", "-inf"):
        assert (numbers[1] > numbers[0] > 10) if shown == "inf" else (numbers[1] < numbers[0] < -10)
        return
    assert abs(numbers[1] - mp.mpf(str(numeric(answer.expression, {}).real))) < mp.mpf("1e-10") * max(1, abs(numbers[1])), f
    assert answer.verdict == "proved", f


@pytest.mark.parametrize("seed", range(30))
def test_quotients_of_what_grows(seed):
    rng = Random(1000 + seed)
    f = f"({rng.choice(GROWING)})*({rng.choice(GROWING)})/(({rng.choice(GROWING)})*({rng.choice(GROWING)}) + {rng.randint(0, 3)})"
    answer = gelvo.limit(f, "x", "inf")
    if is_open(answer):
        return
    try:
        numbers = [plain(f, x) for x in ("1e3", "3e3", "1e4")]
    except NoValue:
        return
    shown = str(answer.expression)
    if shown == "inf":
        assert numbers[2] > numbers[1] > numbers[0]
    elif shown == "0":
        assert abs(numbers[2]) < abs(numbers[1]) < abs(numbers[0])
    else:
        wanted = mp.mpf(str(numeric(answer.expression, {}).real))
        assert abs(numbers[2] - wanted) <= abs(numbers[0] - wanted) and abs(numbers[2] - wanted) < 0.5


@pytest.mark.parametrize("seed", range(30))
def test_expansions_of_random_formulas(seed):
    rng = Random(2000 + seed)
    outer = rng.choice(("exp({})", "sin({})", "1/(1 + {})", "ln(1 + {})", "sqrt(1 + {})", "({})^2", "atan({})"))
    f = f"{outer.format(small(rng))}*({rng.choice(NEAR_ONE)})"
    if seed % 3 == 0:
        f = f"({f})/({rng.choice(('x', 'sin(x)', 'x^2', 'exp(x) - 1'))})"
    answer = gelvo.series(f, "x", 0, 4)
    assert answer.verdict == "proved", f
    rests = [abs(plain(f, h) - plain(str(answer.expression), h)) for h in ("0.001", "0.0001")]
    assert rests[0] == 0 or rests[1] < rests[0] / 10 ** mp.mpf("4.5"), f


@pytest.mark.parametrize("seed", range(24))
def test_sums_of_random_rational_terms(seed):
    rng = Random(3000 + seed)
    a, b, c = (rng.randint(1, 6) for _ in range(3))
    term = rng.choice(
        (
            f"1/((k + {a})*(k + {a + b}))",
            f"1/(k^2 + {a})",
            f"(-1)^k/(k^2 + {a * a})",
            f"1/({a}*k + {b})^2",
            f"(-1)^k/({a}*k + {b})",
            f"k/{a + 1}^k",
            f"1/((2*k + 1)*{a + 1}^k)",
            f"1/(k^2 + {2 * a}*k + {a * a + b})",
            f"{c}^k/factorial(k + {a})",
        )
    )
    answer = gelvo.add_up(term, "k", 1, "inf")
    assert not is_open(answer), term
    tree = read(term)
    with mp.workdps(30):
        wanted = mp.nsum(lambda k: value(tree, {"k": mp.mpf(int(k))}), [1, mp.inf])
    assert abs(numeric(answer.expression, {}).real - mpmath.mpf(str(wanted))) < 1e-9 * max(1, abs(wanted)), term


@pytest.mark.parametrize("seed", range(24))
def test_transforms_of_random_responses(seed):
    """Forth, held against the integral; and back to where it came from."""
    rng = Random(4000 + seed)
    rate, w, n = rng.randint(0, 4), rng.randint(1, 4), rng.randint(0, 2)
    wave = rng.choice(("1", f"sin({w}*t)", f"cos({w}*t)", f"exp(-{w}*t)", f"besselj(0, {w}*t)", f"heaviside(t - {w})"))
    f = f"t^{n}*exp(-{rate}*t)*{wave}" if n else f"exp(-{rate}*t)*{wave}"
    image = gelvo.laplace(f, "t", "s", given=["s > 0"])
    tree = read(f.replace(f"heaviside(t - {w})", "1"))
    start = w if "heaviside" in f else 0
    with mp.workdps(25):
        wanted = mp.quad(lambda t: value(tree, {"t": t}) * mp.exp(-3 * t), [start, start + 1, start + 3, start + 8, start + 25])
    assert abs(numeric(image.expression, {"s": "3"}) - mpmath.mpf(str(wanted))) < 1e-12, f
    if "besselj" in f and (n or rate):
        return
    back = gelvo.inverse_laplace(image.expression, "s", "t", given=["t > 0"])
    for t in ("0.41", "5.3"):
        at = 0 if float(t) < start else value(tree, {"t": mp.mpf(t)})
        assert abs(numeric(back.expression, {"t": t}) - mpmath.mpf(str(at))) < 1e-12, f
