"""Random members of many families of limits, expansions, sums, products and transforms, held against numbers at 20 digits and more.

What a family says of itself (how fast a limit is reached, where a transform is asked for) chooses the numbers, so that they tell.
"""

from __future__ import annotations

from itertools import pairwise
from random import Random
from typing import Any, NamedTuple

import gelvo
from hunt.calculus import FAULTS, applies, asked, judge_laplace, judge_limit, judge_series, outcome_of
from hunt.families import NUMBERS
from hunt.plain import mp, read, value

SMALL = ("sin({p}*x)", "tan({p}*x)", "(exp({p}*x) - 1)", "ln(1 + {p}*x)", "{p}*x", "(sqrt(1 + {p}*x) - 1)", "atan({p}*x)", "sinh({p}*x)", "(1 - cos({p}*x))", "x*exp({p}*x)", "asin(x/{p})", "((1 + x)^{p} - 1)", "tanh({p}*x)", "asinh({p}*x)", "x^2", "(cosh({p}*x) - 1)", "erf({p}*x)", "(exp(x^2) - 1)", "x^3", "Si({p}*x)", "(besselj(0, {p}*x) - 1)", "besselj(1, {p}*x)", "ln(gamma(1 + x))")  # fmt: skip
NEAR_ONE = ("cos({q}*x)", "exp({q}*x)", "(1 + {q}*x)", "sqrt(1 + {q}*x)", "1/(1 - {q}*x)", "cosh({q}*x)", "(1 + sin({q}*x))", "gamma(1 + x)", "(1 + x)^{q}", "sin({q}*x)/({q}*x)", "{r}", "besselj(0, {q}*x)", "x/(exp(x) - 1)")  # fmt: skip
FAR = ("x^{p}", "(x^2 + {p}*x)", "(x + {p})", "sqrt(x^2 + {q}*x)", "exp({q}*x)", "ln(x)", "x*ln(x)", "(x + sin(x))", "ln(x)^{n}", "exp(sqrt(x))", "(exp({p}*x) + x)", "(2*x - cos(x))", "x^(1/{n})", "(x^3 + ln(x))", "atan(x)", "x*tanh(x)", "(x + 1/x)", "ln(x + exp(x))", "cosh(x)", "exp(x^2)", "Si(x)", "erf(x)", "loggamma(x)", "digamma(x)", "{q}^x", "(x*exp(1/x))")  # fmt: skip
SLOW_FAR = ("sqrt(x^2 + {p}*x) - sqrt(x^2 + {q}*x)", "x*(ln(x + {p}) - ln(x))", "(1 + {p}/x)^({q}*x)", "x*(exp({p}/x) - 1)", "x^2*(1 - cos({p}/x))", "(x + {p})^{q}/x^{q}", "x*atan({p}/x)", "((x + {p})/(x + {q}))^x", "cbrt(x^3 + {p}*x^2) - x", "x*(pi/2 - atan({p}*x))", "gamma(x + {p})/(gamma(x)*x^{p})", "x*exp(x^2)*erfc(x)", "x*(digamma(x + {p}) - digamma(x))", "digamma({p}*x) - ln(x)", "x*exp({p}*x)*expint(1, {p}*x)", "(ln(x + {p})/ln(x))^(x*ln(x))", "x*(x^(1/x) - 1)/ln(x)", "sqrt(x + sqrt({p}*x)) - sqrt(x)", "x*besselk(1, x)/besselk(0, x) - x", "besseli(1, x)/besseli(0, x)", "x*(1 - besseli({n}, x)/besseli(0, x))", "(x + {p})^(1 + 1/x) - x^(1 + 1/(x + {q}))", "gamma(x + 1/2)^2/(gamma(x)*gamma(x + 1))", "x*(coth(1/x) - x)", "x*(zeta(1 + 1/x) - x)")  # fmt: skip


def filled(text: str, random: Random) -> str:
    return text.format(**{name: random.choice(NUMBERS) for name in "pqr"}, n=random.randint(1, 4))


def limit_task(random: Random) -> list[Any]:
    def one(rows: tuple[str, ...]) -> str:
        return filled(random.choice(rows), random)

    kind = random.randrange(6)
    if kind == 0:
        return [f"{one(SMALL)}*{one(NEAR_ONE)}/({one(SMALL)}*{one(NEAR_ONE)})", "0", random.choice((None, "above", "below")), []]
    if kind == 1:
        return [f"({one(SMALL)} - {one(SMALL)})/({one(SMALL)}*{one(NEAR_ONE)})", "0", random.choice(("above", "below")), []]
    if kind == 2:
        return [
            f"({one(NEAR_ONE)})^({random.choice(('1/x', '2/x', '1/x^2', '1/sin(x)', '3/ln(1 + x)'))})",
            "0",
            random.choice(("above", "below")),
            [],
        ]
    if kind == 3:
        return [f"{one(FAR)}*{one(FAR)}/({one(FAR)}*{one(FAR)} + {one(FAR)})", "inf", None, []]
    if kind == 4:
        return [f"({one(FAR)} - {one(FAR)})/{one(FAR)}", "inf", None, []]
    return [one(SLOW_FAR), "inf", None, []]


OUTER = ("exp({0})", "sin({0})", "1/(1 + {0})", "ln(1 + {0})", "sqrt(1 + {0})", "({0})^2", "atan({0})", "cos({0})", "(1 + {0})^{q}", "tanh({0})", "erf({0})", "gamma(1 + {0})", "besselj({n}, {0})", "1/({q} + {0})^2", "Si({0})", "ellipk({0})", "polylog(2, {0})", "lambertw({0})", "Ei(1 + {0})", "zeta(2 + {0})", "airyai({0})")  # fmt: skip
BESIDE = ("acos(1 - {p}*x)", "ellipk(1 - {p}*x)", "polylog(2, 1 - x)", "gamma({p}*x)", "gamma(x - {n})", "digamma(x - {n})", "Ei({p}*x)", "Ci({p}*x)", "bessely(0, {p}*x)", "besselk({n}, {p}*x)", "x^x", "ln(sin({p}*x))", "sqrt(x)*exp({q}*x)", "sqrt(sin({p}*x))", "ln(x)*cos({p}*x)", "zeta(1 + {p}*x)", "expint(1, {p}*x)", "acosh(1 + {p}*x)", "asin(sqrt(x))/sqrt(x)", "x^{p}*exp(-x)", "lambertw(-exp(-1) + {p}*x)", "1/ln(1 + {p}*x)", "cot({p}*x)", "1/(exp({p}*x) - 1)", "ellipe(1 - x)", "beta(x, {p})")  # fmt: skip
PLACES = ("1", "2", "-1", "1/2", "pi", "pi/2", "3", "-2")
AT_PLACES = ("sin({p}*x)", "exp({p}*x)", "1/(x^2 + {p})", "sqrt(x + 3)", "atan({p}*x)", "ln(x + 4)", "cos(x)/(x + 5)", "x^{n}*exp(-x)", "erf(x)", "1/((x - 1)*(x + 7))", "tan(x)", "gamma(x + 3)", "besselj({n}, x)", "1/sin(x)", "cosh({q}*x)", "(x - 1)/(x^2 - 1)", "asinh(x)", "x/(x - 2)^2")  # fmt: skip


def series_task(random: Random) -> list[Any]:
    through = random.randint(2, 7)
    kind = random.randrange(4)
    inner = filled(random.choice(SMALL), random)
    if kind == 0:
        return [f"{filled(random.choice(OUTER).replace('{0}', '#'), random).replace('#', inner)}*{filled(random.choice(NEAR_ONE), random)}", "0", through, []]  # fmt: skip
    if kind == 1:
        return [f"{filled(random.choice(OUTER).replace('{0}', '#'), random).replace('#', inner)}/({filled(random.choice(SMALL), random)})", "0", through, []]  # fmt: skip
    if kind == 2:
        return [
            f"{filled(random.choice(BESIDE), random)}*{filled(random.choice(NEAR_ONE), random)}",
            "0",
            min(through, 4),
            ["x > 0"],
        ]
    return [f"{filled(random.choice(AT_PLACES), random)}*{filled(random.choice(AT_PLACES), random)}", random.choice(PLACES), min(through, 4), []]  # fmt: skip


RATIONAL = ("1/((k + {p})*(k + {q} + {n}))", "1/(k^2 + {p})", "1/({p}*k + {q})^2", "1/(k + {p})^{m}", "1/(k^2 + {p}*k + {q})", "k/(k^2 + {p})^2", "1/((k + {p})*(k + {q} + 1)*(k + {r} + 2))", "1/(k^4 + {p})", "(k + {q})/(k^3 + {p})", "1/((2*k + 1)^2*(2*k + 3))", "1/(k^2 + {p})^2", "(2*k + {q})/((k + {p})^2*(k + {p} + {q})^2)", "1/(k*(k + {p})^2 + 1/(k + 1))")  # fmt: skip
POWERS = ("k^{n}*{z}^k", "{z}^k/(k + {p})", "{z}^k/(2*k + 1)", "{z}^k/factorial(k)", "k^{n}*{z}^k/factorial(k)", "{z}^k/factorial(2*k)", "{z}^k*binomial(2*k, k)/5^k", "{z}^k/(k^2 + {n})", "{z}^k*cos(k*{p})", "{z}^k*sin(k*{p})/factorial(k)", "{z}^k*binomial(k + {n}, {n})", "{z}^k/((k + {n})*(k + {n} + 1))", "factorial(k)*{z}^k/factorial(k + {n})/2^k", "{z}^k/(k + 1)^2", "factorial(k)^2*{z}^k/factorial(2*k)", "{z}^k*digamma(k + 1)", "exp(-k*{p})*k^{n}", "1/cosh({p}*k)^2*0 + {z}^k")  # fmt: skip
FINITE = ("k^{m}", "k^{n}*{p}^k", "binomial(n, k)*{p}^k", "k*binomial(n, k)*{p}^k", "binomial(n, k)^2", "(-1)^k*binomial(n, k)/(k + {p})", "1/((k + {p})*(k + {p} + 1))", "k*factorial(k)", "cos({p}*k)", "sin({p}*k)^2", "k*cos({p}*k)", "binomial(k + {n}, {n})", "binomial(n, k)/(k + 1)", "binomial(n, k)*binomial(n, k + 1)", "(-1)^k*k^{n}", "binomial(2*k, k)/4^k", "1/(k + {p})", "1/(k + {n})^2", "exp({p}*k)", "factorial(k + {n})/factorial(k)", "ln(1 + 1/(k + 1))", "k^2*binomial(n, k)*(1/2)^k", "binomial(n + k, k)", "(-1)^k*binomial(2*n, k)", "sinh({p}*k)", "k^{n}/2^k", "k/factorial(k + 1)", "binomial(n, k)*cos({p}*k)")  # fmt: skip
FACTORS = ("1 + {p}/(k + 1)^2", "1 - 1/({n}*(k + 1) + 1)^2", "(k + {p})*(k + {q})/((k + {p} + {q})*k + {p}*{q})*1", "1 + 1/((k + 1)*(k + 3))", "(k + {p})*(k + {q} + {n})/((k + {q})*(k + {p} + {n}))", "1 + (-1)^k*0 + {p}/(k^2 + k + 1)")  # fmt: skip


def sum_task(random: Random) -> list[Any]:
    """(kind, term, low, high)"""
    z = random.choice(("1/2", "-1/3", "2/5", "-3/5", "1/4", "-1/2", "1/7"))
    m = random.randint(2, 5)

    def one(rows: tuple[str, ...]) -> str:
        return filled(random.choice(rows).replace("{z}", f"({z})").replace("{m}", str(m)), random)

    kind = random.randrange(8)
    if kind < 2:
        return ["sum_of", ("(-1)^k*" if random.random() < 0.35 else "") + one(RATIONAL), random.choice(("0", "1", "2")), "inf"]
    if kind < 4:
        return ["sum_of", one(POWERS), random.choice(("0", "1", "3")), "inf"]
    if kind < 7:
        return ["sum_of", one(FINITE), random.choice(("0", "0", "1")), random.choice(("n", "n", "n - 1", "2*n"))]
    return ["product_of", one(FACTORS), random.choice(("0", "1")), random.choice(("inf", "n"))]


def judge_sum(drawn: list[Any]) -> str:
    kind, term, low, high = drawn
    work = gelvo.add_up if kind == "sum_of" else gelvo.multiply_up
    found = asked(work, term, "k", low, high, given=["n natural", "n > 1"] if "n" in f"{term} {high}".replace("inf", "").replace("sin", "").replace("ln", "") else [])  # fmt: skip
    if found is None:
        return "open"
    claimed, conditions, _ = found
    tree = read(term)
    told = []
    for n in (2, 3, 7) if high != "inf" else (0,):
        at = {"n": mp.mpf(n)}
        if not applies(conditions, at):
            continue
        with mp.workdps(30):
            try:
                truth = _added(tree, kind, int(low), high, at)
                v = None if truth is None or claimed in ("inf", "-inf", "undefined") else value(read(claimed), at, True)
            except (*FAULTS, KeyError):
                told.append("unknown")
                continue
        if truth is None:
            told.append("unknown")
        elif v is None:
            told.append(f"WRONG {claimed} for {mp.nstr(truth, 15)}")
        else:
            same = abs(v - truth) < mp.mpf(10) ** -11 * (1 + abs(truth))
            told.append("same" if same else f"WRONG {mp.nstr(v, 20)} for {mp.nstr(truth, 20)}: {drawn} at n = {n}")
    return outcome_of(told)


def _added(tree: Any, kind: str, low: int, high: str, at: dict[str, Any]) -> Any:
    def term(k: Any) -> Any:
        return value(tree, {**at, "k": mp.mpf(k)}, True)

    if high != "inf":
        last = int(value(read(high), at))
        parts = [term(k) for k in range(low, last + 1)]
        return mp.fsum(parts) if kind == "sum_of" else mp.fprod(parts)
    if kind == "product_of":
        start = 40
        before = mp.fprod(term(k) for k in range(low, start))
        return before * mp.exp(_tail(lambda k: mp.log(term(k)), start))
    start = low + 40
    row = [term(k) for k in range(low, start)]
    if abs(row[-1]) < abs(row[20]) * mp.mpf("0.35"):
        more = [term(k) for k in range(start, 420)]
        if abs(more[-1]) < mp.mpf(10) ** -24:
            return mp.fsum([*row, *more])
    alternating = row[-1] * row[-2] < 0
    return mp.fsum(row) + (_paired(term, start) if alternating else _tail(term, start))


def _tail(term: Any, start: int) -> Any:
    """By L. Euler and C. Maclaurin: an integral and derivatives at the start; of what falls like a power."""
    return mp.sumem(term, [start, mp.inf], tol=mp.mpf(10) ** -16)


def _paired(term: Any, start: int) -> Any:
    """An alternating rest by G. Boole's formula through L. Euler's transformation of its differences."""
    row = [abs(term(k)) for k in range(start, start + 40)]
    sign, total, power = mp.sign(term(start)), mp.mpf(0), mp.mpf(1) / 2
    for _ in range(30):
        total += row[0] * power
        row = [a - b for a, b in pairwise(row)]
        power /= 2
    return sign * total


RESPONSES = ("t^{n}*exp(-{p}*t)", "sin({p}*t)", "cos({p}*t + {q})", "exp(-{p}*t)*sin({q}*t)", "t*cos({p}*t)", "sinh({p}*t)*exp(-{p}*t)", "besselj(0, {p}*t)", "besselj({n}, {q}*t)", "sin({p}*t)/t", "(1 - exp(-{p}*t))/t", "erf({p}*t)", "sqrt(t)*exp(-{p}*t)", "1/sqrt(t + {p})", "heaviside(t - {p})*t^{n}", "abs(sin({p}*t))", "abs(t - {p})", "exp(-t^2/{p})", "ln(t)*exp(-{p}*t)", "erfc(1/sqrt(t))", "floor(t)", "t^{p}", "cos({p}*t)^2", "sin({p}*t)*sin({q}*t)", "(1 - cos({p}*t))/t", "exp(-{p}*t)*besseli(0, {p}*t)", "heaviside({p} - t)*sin(t)", "besselj(0, {p}*sqrt(t))", "sin({p}*sqrt(t))", "min(t, {p})", "Si({p}*t)", "expint(1, t + {q})*0 + t^2*sin({p}*t)")  # fmt: skip
IMAGES = ("1/(s + {p})^{n}", "(s + {q})/(s^2 + {p}*s + {r} + {p}^2)", "1/((s + {p})*(s^2 + {q}))", "1/(s*(s + {p})*(s + {q} + {p}))", "exp(-{p}*s)/(s + {q})", "1/sqrt(s + {p})", "1/sqrt(s^2 + {p}^2)", "exp(-{p}*sqrt(s))", "exp(-{p}*sqrt(s))/s", "1/(sqrt(s) + {p})", "s^2/((s^2 + {p})*(s + {q}))", "1/(s^3 + {p}*s + {q})", "ln((s + {p})/(s + {q}))", "atan({p}/s)", "exp(-{p}/s)/sqrt(s)", "1/(s*(1 + exp(-{p}*s)))", "1/(s^2*(s^2 + {p}))", "s/(s^2 + {p})^2", "1/((s^2 + {p})*(s^2 + {q} + {p}))", "1/s^({p} + 1)", "(1 - exp(-{p}*s))/(s^2 + 1)", "1/(s*sqrt(s + {p}))")  # fmt: skip
SPECTRA = ("exp(-{p}*abs(t))", "exp(-{p}*t^2)", "heaviside(t)*exp(-{p}*t)", "heaviside(t + {p}) - heaviside(t - {p})", "t*exp(-{p}*t^2)", "heaviside(t)*t^{n}*exp(-{p}*t)", "exp(-t^2/{p})*cos({q}*t)", "exp(-abs(t - {p}))", "exp(-{p}*abs(t))*sin({q}*t)", "1/cosh({p}*t)", "t/sinh({p}*t)", "exp(-{p}*t^2 + {q}*t)", "heaviside(t)*exp(-{p}*t)*cos({q}*t)", "t^2*exp(-{p}*abs(t))", "exp(-{p}*(t - {q})^2)", "heaviside({p} - abs(t))*cos(t)", "1/cosh({p}*t)^2", "heaviside({p} - t)*heaviside(t)*t")  # fmt: skip


def transform_task(random: Random) -> list[Any]:
    word, rows = random.choice((("laplace", RESPONSES), ("inverse_laplace", IMAGES), ("fourier", SPECTRA)))
    return [word, filled(random.choice(rows), random), ["t > 0"] if word == "inverse_laplace" else []]


TASKS = {"limit": limit_task, "series": series_task, "sum": sum_task, "transform": transform_task}


class Task(NamedTuple):
    kind: str
    drawn: list[Any]


def task(seed: int) -> Task:
    kind = ("limit", "series", "sum", "series", "sum", "limit", "transform")[seed % 7]
    return Task(kind, TASKS[kind](Random(seed)))


def judge(asked_for: Any, seed: int) -> str:
    kind, drawn = asked_for
    if kind == "limit":
        return judge_limit(drawn, seed)
    if kind == "series":
        return judge_series(drawn, seed)
    return judge_sum(drawn) if kind == "sum" else judge_laplace(drawn, seed)
