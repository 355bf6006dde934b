"""Random members of many families of definite integrals against double exponential quadrature at 25 digits and more.

Where an integrand breaks, and how its waves run, is told by the family, so that the quadrature is never asked across a break.
Method: tanh-sinh and exp-sinh rules (H. Takahasi, M. Mori, 1974), the rule for waves (T. Ooura, M. Mori, 1999).
"""

from __future__ import annotations

import operator
import re
from collections.abc import Callable
from functools import cache
from itertools import pairwise
from random import Random
from typing import Any, NamedTuple

import gmpy2

import gelvo
from hunt.calculus import FAULTS, NONE, SECONDS, applies, outcome_of
from hunt.plain import NoValue, mp, read, value

DIGITS = 25
WORKING = 60
BITS = 200


class Family(NamedTuple):
    """An integrand with holes {p} {q} {r} (positive numbers) and {n} (1 to 4), its ends and facts; at `breaks` it has kinks or jumps.

    wave: "sin" or "cos" where the integrand is a smooth factor times such a wave of the frequency {p}.
    """

    text: str
    low: str = "0"
    high: str = "inf"
    breaks: tuple[str, ...] = ()
    given: tuple[str, ...] = ()
    wave: str = ""


SMOOTH = (
    "1", "x", "x^2", "x^3", "(x + {p})", "(x - {q})", "(x^2 + 1)", "sin({p}*x)", "cos({q}*x)", "exp(-{p}*x)", "exp({q}*x)", "1/(x + 5)",
    "1/(x^2 + {p})", "sqrt(x + 4)", "ln(x + 5)", "atan({p}*x)", "1/(3 + sin(x))", "1/({q} + 4 + {q}*cos(x))", "sin(x)^2", "cos({p}*x)^2", "sinh(x)",
    "cosh({q}*x)", "1/cosh(x)^2", "tanh(x)", "exp(-x^2)", "(x - 1)^2", "(x + 2)^{n}", "1/(x^2 + x + 1)", "asinh(x)", "1/(exp(x) + 1)",
    "cos(x + {p})", "x^{n}", "1/sqrt(x^2 + {p})", "(2 - x)", "sin(x)^3", "sqrt(x^2 + {q})",
)  # fmt: skip
PLACES = ("0", "0", "1", "2", "1/2", "-1", "-2", "3", "pi", "pi/2", "2*pi", "-pi", "3/2", "pi/4")
KINKS = (
    ("abs(x - {p})", ("{p}",)), ("abs(x)", ("0",)), ("sign(x - {q})", ("{q}",)), ("heaviside(x - {p})", ("{p}",)), ("heaviside({q} - x)", ("{q}",)),
    ("floor(x)", ("-2", "-1", "0", "1", "2", "3", "4", "5", "6")), ("max(x, {p})", ("{p}",)), ("min(x, {q})", ("{q}",)),
    ("abs(x^2 - {p}^2)", ("{p}", "-{p}")), ("cases(x when x < {p}, otherwise {q})", ("{p}",)), ("cases(x^2 when x < {p}, {p}*x when x < {p} + 1, otherwise 0)", ("{p}", "{p} + 1")),
    ("abs(sin(x))", ("-pi", "0", "pi")), ("abs(cos(x))", ("-pi/2", "pi/2", "3*pi/2")), ("sign(cos(x))", ("-pi/2", "pi/2", "3*pi/2")), ("sqrt((x - {p})^2)", ("{p}",)),
    ("floor(2*x)", tuple(f"{k}/2" for k in range(-5, 13))), ("exp(-abs(x - {q}))", ("{q}",)), ("ln(abs(x - {p}))", ("{p}",)), ("sqrt(abs(x - {q}))", ("{q}",)),
)  # fmt: skip
FORWARDS = tuple(
    Family(text) for text in (
    "x^({p} - 1)*exp(-{q}*x)", "x^({p} - 1)*exp(-{q}*x^2)", "x^{p}*exp(-{q}*sqrt(x))", "x^({p} - 1)/(1 + {q}*x)^({p} + {r})", "x^({p} - 1)/(x^{n} + {q})^({p} + {r})",
    "x^{n}/(exp({q}*x) - 1)", "x^{p}/(exp({q}*x) + 1)", "x^{n}*exp(-{p}*x)/(exp({q}*x) + 1)", "x^({n} + 1)*exp({q}*x)/(exp({q}*x) - 1)^2", "x^{n}*exp({q}*x)/(exp({q}*x) + 1)^2",
    "ln(x)/(x^2 + {q})", "ln(x)^2/(x^2 + {q})", "ln(x)/(x + {q})^2", "ln(1 + {p}*x^2)/(x^2 + {q})", "ln(1 + {p}/x^2)", "ln(x)*exp(-{q}*x)", "x*ln(x)*exp(-{q}*x)", "ln(x)^2*exp(-{p}*x)",
    "(exp(-{p}*x) - exp(-{q}*x))/x", "(atan({p}*x) - atan({q}*x))/x", "exp(-{p}*x)*sin({q}*x)/x", "exp(-{p}*x)*(1 - cos({q}*x))/x", "exp(-{p}*x)*sin({q}*x)^2", "x^{n}*exp(-{p}*x)*cos({q}*x)",
    "exp(-{p}*x^2)*cos({q}*x)", "x*exp(-{p}*x^2)*sin({q}*x)", "exp(-{p}*x^2 - {q}*x)", "exp(-{p}*x^2 - {q}/x^2)", "exp(-{p}*x - {q}/x)", "exp(-{p}*x - {q}/x)/sqrt(x)", "exp(-{p}*x)/sqrt(x + {q})",
    "x^{n}/sinh({p}*x)", "x^{n}/cosh({p}*x)", "x^2/cosh({p}*x)^2", "x^2/sinh({p}*x)^2", "1/cosh({p}*x)^{n}", "1/(x^2 + {p})^{n}", "1/((x^2 + {p})*(x^2 + {q} + 7))", "x^2/((x^2 + {p})*(x^2 + {q} + 7))",
    "1/(x^4 + {p})", "x^2/(x^4 + {p}*x^2 + {q})", "1/(x^3 + {p})", "1/(1 + x)/(x^2 + {p})", "sqrt(x)/(x^2 + {q})", "sqrt(x)/(x + {p})^2", "x^(1/3)/(x^2 + {q}*x + 5)", "1/(sqrt(x)*(x + {p})*(x + {q} + 7))",
    "erfc({p}*x)", "x^{n}*erfc({p}*x)", "exp(-{p}*x)*erf({q}*x)", "exp(-{p}*x)*atan({q}*x)", "exp(-{p}*x)*ln(1 + {q}*x)", "exp(-{p}*x)/(x + {q})", "airyai({p}*x)",
    "exp(-{p}*x)*besselj(0, {q}*x)", "exp(-{p}*x)*besselj(1, {q}*x)", "x*exp(-{p}*x^2)*besselj(0, {q}*x)", "atan({p}*x)/(x*(1 + x^2))", "atan({p}/x)/(x^2 + {q})", "exp(-{p}*x)*sinh({p}*x/2)", "tanh(x)*exp(-{p}*x)",
    "ln(1 + exp(-{p}*x))", "ln(1 - exp(-{p}*x))", "x*ln(1 - exp(-{p}*x))", "(1 - exp(-{p}*x))/(exp({q}*x) + 1)", "1/(x^2 + {p})^({r} + 1/2)", "cos(ln(x))/(1 + x)^2",
    "exp(-{p}*x)*cosh({p}*x/3)/sqrt(x)", "x^({r} - 1)*exp(-{p}*x)*(1 + x)", "ln(x)/(x^2 + {p}*x + {p}^2)", "x*ln(x)/(x^2 + {p})^2", "Ei(-{p}*x)*exp(-{q}*x)",
    ))  # fmt: skip
ON_A_LINE = tuple(
    Family(text, "-inf") for text in (
    "1/(x^2 + {p})^{n}", "1/(x^2 + x + {p} + 1)", "x/(x^2 + 2*x + {p} + 2)^2", "exp(-{p}*x^2 + {q}*x)", "x^{n}*exp(-{p}*x^2 - x)", "exp(-{p}*x^2)*cos({q}*x + 1)", "exp({r}*x/9)/(exp(x) + 1)", "1/cosh({p}*x)", "cos({q}*x)/cosh({p}*x)",
    "exp(-{p}*abs(x))*cos({q}*x)", "x*sin({q}*x)/sinh({p}*x)", "sin({q}*x)/sinh({p}*x)", "1/(exp(x) + exp(-x) + {p})", "x^2*exp(x)/(exp(x) + 1)^2", "exp(-exp(x) + {p}*x)", "(x^2 + 1)/(x^4 + {p}*x^2 + 9)", "1/((x^2 + {p})*(x^2 + 2*x + 9))",
    "x^2*exp(-{p}*(x - {q})^2)", "exp(-(x - {q})^2/{p})", "1/(1 + x^6)", "x^2/(x^2 + {p})^3", "exp(-x^2)*erf(x + {p})", "x*exp(-x^2)*erf({p}*x)", "sech(x - {p})^2", "tanh(x)/cosh(x)", "exp(-x^2)*sinh({p}*x)*x",
    ))  # fmt: skip
AT_ENDS = tuple(
    Family(text, "0", high) for text, high in (
    ("x^({p} - 1)*(1 - x)^({q} - 1)", "1"), ("x^({p} - 1)*(2 - x)^{n}", "2"), ("ln(x)*x^({p} - 1)", "1"), ("ln(x)^2*x^{n}", "1"), ("ln(x)*ln(1 - x)", "1"), ("ln(1 - x^2)", "1"), ("ln(x)/(1 + x)", "1"), ("ln(x)/sqrt(x)", "{p}"),
    ("1/sqrt({p}^2 - x^2)", "{p}"), ("x^{n}/sqrt({p}^2 - x^2)", "{p}"), ("sqrt({p}^2 - x^2)*x^{n}", "{p}"), ("1/sqrt(x*({p} - x))", "{p}"), ("sqrt(x/({p} - x))", "{p}"), ("sin(x)^{p}", "pi/2"), ("sin(x)^{p}*cos(x)^{q}", "pi/2"), ("ln(sin(x))", "pi/2"), ("ln(tan(x))", "pi/2"),
    ("sqrt(tan(x))", "pi/2"), ("ln(1 - x)/x", "1"), ("ln(1 + x)/x", "1"), ("atan({p}*x)/x", "1"), ("asin(x)", "1"), ("asin(x)^2", "1"), ("x*acos(x)", "1"), ("asin(x)/x", "1"), ("(x^{p} - 1)/ln(x)", "1"), ("(x^{p} - x^{q})/ln(x)", "1"), ("(1 - x^{p})/(1 - x)", "1"),
    ("ln(x)/(1 - x^2)", "1"), ("1/(1 + tan(x)^{p})", "pi/2"), ("ln(1 + tan(x))", "pi/4"), ("x*ln(sin(x))", "pi"), ("ln({p} + 3 + cos(x))", "pi"), ("1/({p} + 4 + {q}*cos(x))", "2*pi"), ("1/({p} + 4 + {q}*sin(x))^2", "2*pi"), ("exp(cos(x))", "pi"), ("cos({p}*sin(x))", "pi"), ("cos({n}*x)/(5 + 4*cos(x))", "2*pi"),
    ("sin(x)^2/(6 + {p}*cos(x))", "2*pi"), ("1/sqrt(1 - sin(x)^2/({p} + 2))", "pi/2"), ("sqrt(1 + {p}*sin(x)^2)", "pi/2"), ("1/({p}*cos(x)^2 + {q}*sin(x)^2)", "2*pi"), ("x^{n}*sqrt(x + {q})/sqrt(x)", "{p}"), ("ln(x + {q})/sqrt(x)", "{p}"), ("exp(-{q}*x)/sqrt(x)", "{p}"), ("x^(-{p}/9)", "{q}"), ("x*sin(x)/(1 + cos(x)^2)", "pi"),
    ("ln(x)*cos({p}*x)", "1"), ("ln(x)*exp(-x)", "1"), ("x^{n}*ln(x)^2", "{p}"), ("ln(ln(1/x))", "1"), ("sqrt(ln(1/x))", "1"), ("1/sqrt(-ln(x))", "1"), ("x^{p}*ln(1/x)^({q} - 1)", "1"), ("ellipk(x)", "1"), ("ellipe(x^2)*x", "1"), ("legendre({n}, x)*x^2", "1"), ("besselj(0, {p}*x)*x", "{q}"), ("(1 - x^2)^{p}", "1"), ("1/(1 + x^2)/sqrt(1 - x^2)", "1"),
    ))  # fmt: skip
WAVES = tuple(
    Family(text, wave=wave) for text, wave in (
    ("cos({p}*x)/(x^2 + {q})", "cos"), ("x*sin({p}*x)/(x^2 + {q})", "sin"), ("sin({p}*x)/x", "sin"), ("sin({p}*x)/(x*(x^2 + {q}))", "sin"), ("cos({p}*x)/(x^2 + {q})^2", "cos"), ("x*sin({p}*x)/(x^2 + {q})^2", "sin"), ("x*sin({p}*x)/(x^4 + {q})", "sin"), ("cos({p}*x)/(x^4 + {q})", "cos"),
    ("cos({p}*x)/sqrt(x)", "cos"), ("sin({p}*x)/sqrt(x)", "sin"), ("sin({p}*x)/x^({n}/9 + 1)", "sin"), ("cos({p}*x)/((x^2 + {q})*(x^2 + {r} + 7))", "cos"), ("x^3*sin({p}*x)/((x^2 + {q})*(x^2 + {r} + 7))", "sin"), ("ln(x)*sin({p}*x)/x", "sin"), ("sin({p}*x)*exp(-{q}*x)", "sin"),
    ("cos({p}*x)/(x + {q})", "cos"), ("sin({p}*x)/(x + {q})", "sin"), ("sin({p}*x)/(x^2 + {q})", "sin"), ("sin({p}*x)/sinh({q}*x)", "sin"), ("sin({p}*x)/(exp({q}*x) - 1)", "sin"), ("atan({q}/x)*sin({p}*x)", "sin"), ("cos({p}*x)/sqrt(x^2 + {q})", "cos"),
    ))  # fmt: skip
A, AB = ("a > 0",), ("a > 0", "b > 0")
LETTERED = (
    Family("exp(-a*x)*x^{n}", given=A), Family("x^a*exp(-b*x)", given=AB), Family("x^(a - 1)*(1 - x)^(b - 1)", "0", "1", given=AB), Family("1/(x^2 + a^2)^{n}", given=A), Family("1/(a^2*cos(x)^2 + b^2*sin(x)^2)", "0", "pi/2", given=AB),
    Family("exp(-a*x)*sin(b*x)", given=AB), Family("exp(-a*x)*sin(b*x)/x", given=AB), Family("exp(-a*x^2)*cos(b*x)", given=AB), Family("exp(-a*x^2 - b/x^2)", given=AB), Family("(exp(-a*x) - exp(-b*x))/x", given=AB), Family("x^{n}/(exp(a*x) - 1)", given=A),
    Family("ln(1 + a*x^2)/(1 + x^2)", given=A), Family("ln(x)/(x^2 + a^2)", given=A), Family("abs(x - a)", "0", "1", ("a",)), Family("x*heaviside(x - a)", "0", "2", ("a",), A), Family("1/(a + b + b*cos(x))", "0", "2*pi", given=AB), Family("x^n", "0", "1", given=("n > -1",)),
    Family("1/(x + a)", "0", "b", given=AB), Family("sqrt(a^2 - x^2)", "0", "a", given=A), Family("1/sqrt(a^2 - x^2)", "0", "a", given=A), Family("x*abs(x)", "a", "b", ("0",)), Family("exp(-a*abs(x))", "-1", "1", ("0",)), Family("1/((x^2 + a^2)*(x^2 + b^2))", "-inf", given=AB),
    Family("cos(a*x)", "0", "b"), Family("x*sin(a*x)", "0", "pi"), Family("sin(a*x)*sin(b*x)", "0", "pi"), Family("exp(a*x)", "0", "1"), Family("floor(x)*x", "0", "a", ("1", "2", "3", "4", "5", "6", "7", "8")), Family("min(x, a)", "0", "1", ("a",)), Family("1/(x^2 + 2*b*x + b^2 + a^2)", "-inf", given=AB),
    Family("x^(a - 1)/(1 + x^b)", given=("0 < a", "a < b")), Family("x^a/(1 + x)^2", given=("a > -1", "a < 1")), Family("x^a*ln(x)", "0", "1", given=("a > -1",)), Family("atan(a*x)/(x*(1 + x^2))", given=A), Family("1/(x*sqrt(x^2 - a^2))", "a", "inf", given=A), Family("cos(x)^a", "0", "pi/2", given=A), Family("besselj(0, a*x)*exp(-b*x)", given=AB),
    Family("cosh(a*x)/cosh(b*x)", given=("a > 0", "b > a")), Family("exp(-a*x)*(1 - cos(b*x))/x", given=AB), Family("x^2*exp(-a*x^2 + b*x)", "-inf", given=A), Family("sqrt(x*(a - x))", "0", "a", given=A), Family("ln(x + a)", "0", "b", given=AB), Family("(x - a)^{n}", "a", "b"), Family("1/(1 + a*sin(x)^2)", "0", "pi", given=A),
)  # fmt: skip
NUMBERS = ("1", "2", "3", "4", "5", "(1/2)", "(3/2)", "(2/3)", "(1/3)", "(5/2)", "(3/4)", "(5/3)", "6", "(1/5)", "7", "(7/4)")


def filled(family: Family, random: Random) -> Family:
    holes = {name: random.choice(NUMBERS) for name in "pqr"} | {"n": str(random.randint(1, 4))}
    text, low, high = (t.format(**holes) for t in family[:3])
    return family._replace(
        text=text,
        low=low,
        high=high,
        breaks=tuple(b.format(**holes) for b in family.breaks),
        wave=f"{family.wave}({holes['p']}" if family.wave in ("sin", "cos") else family.wave,
    )


def _product(random: Random, first: str, breaks: tuple[str, ...] = ()) -> Family:
    low, high = random.sample(PLACES, 2)
    rest = random.choice(SMOOTH)
    text = f"({first})*{rest}" if random.random() < 0.8 else f"({first}) + ({rest})*{random.choice(SMOOTH)}"
    return Family(text, low, high, breaks)


def _with_poles(random: Random) -> Family:
    places = random.sample(("0", "1", "2", "-1", "1/2", "3", "-2", "5"), random.randint(1, 3))
    powers = [random.choice((1, 1, 2, 3)) for _ in places]
    top = random.choice(("1", "3", "-2", "(x^2 + 1)", "exp(x)", "(2 + sin(x))"))
    low, high = random.sample(("0", "1", "2", "-3", "4", "3", "-1", "5/2", "-1/3"), 2)
    body = "*".join(f"(x - ({c}))^{k}" for c, k in zip(places, powers, strict=True))
    return Family(f"{top}/({body})", low, high, tuple(f"{c}|{k}" for c, k in zip(places, powers, strict=True)), wave="pole")


def _any_of(families: tuple[Family, ...]) -> Any:
    return lambda random: random.choice(families)


DRAWN = (
    lambda random: _product(random, random.choice(SMOOTH)), lambda random: _product(random, *random.choice(KINKS)), _with_poles, _any_of(FORWARDS), _any_of(ON_A_LINE), _any_of(AT_ENDS), _any_of(WAVES), _any_of(LETTERED),
)  # fmt: skip


def task(seed: int) -> Family:
    random = Random(seed)
    return filled(DRAWN[seed % len(DRAWN)](random), random)


OF_LETTERS = tuple(f for f in (*FORWARDS, *ON_A_LINE, *AT_ENDS, *WAVES) if "{p}" in "".join(f[:3]) or "{q}" in f.text)


def lettered_task(seed: int) -> Family:
    """A family with its numbers left as positive letters."""
    random = Random(seed)
    family = OF_LETTERS[seed % len(OF_LETTERS)]
    holes = {name: name for name in "pqr"} | {"n": str(random.randint(1, 4))}
    text, low, high = (t.format(**holes) for t in family[:3])
    used = [n for n in "pqr" if re.search(rf"\b{n}\b", " ".join((text, low, high)))]
    return Family(
        text,
        low,
        high,
        tuple(b.format(**holes) for b in family.breaks),
        tuple(f"{n} > 0" for n in used),
        family.wave and f"{family.wave}(p",
    )


def judge_lettered(asked_for: Any, seed: int, samples: int = 8) -> str:
    return judge(asked_for, seed, samples)


def judge(asked_for: Any, seed: int, samples: int = 6) -> str:
    drawn = Family(*asked_for)
    try:
        with gelvo.time_limit(SECONDS):
            found = gelvo.integrate(drawn.text, "x", drawn.low, drawn.high, given=drawn.given)
    except NONE:
        return "open"
    claimed, conditions = str(found.expression), [read(str(c)) for c in found.conditions]
    if "_of(" in claimed:
        return "open"
    random = Random(seed)
    used = set("abnpqr") & set(re.findall(r"\w+", " ".join(drawn[:3])))
    letters = [{n: mp.mpf(random.randint(1, 60)) / 17 for n in "abnpqr"} for _ in range(samples)] if used else [{}]
    told = []
    for at in letters:
        stated = all(holds_at(fact, at) for fact in drawn.given)
        if stated and applies(conditions, at):
            told.append(_same(drawn, claimed, at))
    return outcome_of(told)


def holds_at(fact: str, at: dict[str, Any]) -> bool:
    return applies([read(fact)], at)


def _same(drawn: Family, claimed: str, at: dict[str, Any]) -> str:
    with mp.workdps(WORKING):
        if drawn.wave == "pole" and (said := _with_pole(drawn, claimed)):
            return said
        try:
            truth, doubt = _truth(drawn, at)
        except (*FAULTS, KeyError):  # a function that numbers here do not know
            return "unknown"
        size = 1 + abs(truth)
        if claimed in ("inf", "-inf", "undefined"):
            return f"WRONG: {claimed} instead of {mp.nstr(truth, 12)} for {drawn[:3]}" if doubt < 1e-12 * size else "unknown"
        try:
            v = _steady(read(claimed), at)
        except (NoValue, KeyError):  # no value, or none that numbers here know
            return "unknown"
        if doubt > mp.mpf(10) ** (3 - DIGITS) * size and abs(v - truth) < 1e4 * doubt:
            return "unknown"
        tolerance = max(mp.mpf(10) ** -DIGITS * size, 1000 * doubt)
        return (
            "same"
            if abs(v - truth) < tolerance
            else f"WRONG: {claimed} = {mp.nstr(v, 25)} instead of {mp.nstr(truth, 25)} ± {mp.nstr(doubt, 2)} for {drawn[:3]} at {at}"
        )


def _steady(tree: Any, at: dict[str, Any]) -> Any:
    """A value from so many digits that as many again leave it (1 - erf(63/2) loses 430)."""
    digits, before = 2 * WORKING, None
    while digits <= 64 * WORKING:
        with mp.workdps(digits):
            v = value(tree, at, True)
            if v and before is not None and abs(v - before) <= abs(v) * mp.mpf(10) ** -WORKING:
                break
        before, digits = v, 4 * digits
    return v


def _with_pole(drawn: Family, claimed: str) -> str:
    """ "same" or what is wrong where a pole lies between the ends or at one; empty where none does."""
    low, high = (value(read(t), {}) for t in drawn[1:3])
    work, sides = read(drawn.text), []
    near = mp.mpf(10) ** -12
    for entry in drawn.breaks:
        place = value(read(entry.split("|")[0]), {})
        sides += [
            mp.sign(value(work, {"x": place + s * near})) for s in (-1, 1) if min(low, high) <= place + s * near <= max(low, high)
        ]
    if not sides:
        return ""
    direction = sides[0] * (1 if low < high else -1)
    wanted = "undefined" if len(set(sides)) > 1 else "inf" if direction > 0 else "-inf"
    return "same" if claimed == wanted else f"WRONG: {claimed} instead of {wanted} for {drawn[:3]}"


def _truth(drawn: Family, at: dict[str, Any]) -> tuple[Any, Any]:
    """(the value, how far the last two quadratures are apart)."""
    tree = read(drawn.text)
    work = _quick(tree, at) or (lambda v: value(tree, {**at, "x": mp.mpf(v)}))
    with gmpy2.context(precision=BITS):
        if drawn.wave and drawn.wave != "pole":
            return _of_waves(work, *drawn.wave.split("(", 1), at)
        low, high = (mp.inf if t == "inf" else -mp.inf if t == "-inf" else value(read(t), at) for t in drawn[1:3])
        sign = 1 if low <= high else -1
        low, high = min(low, high), max(low, high)
        inside = [] if drawn.wave else sorted({p for b in drawn.breaks if low < (p := value(read(b), at)) < high})
        if low == -mp.inf and not inside:
            inside = [mp.mpf(0)]
        if high == mp.inf:
            inside = [*inside, (inside[-1] if inside else low) + 2]
        parts = [between(work, _mpfr(a), _mpfr(b)) for a, b in pairwise([low, *inside, high])]
    return sign * sum(_mpf(v) for v, _ in parts), sum(_mpf(d) for _, d in parts)


def _mpfr(v: Any) -> Any:
    return gmpy2.mpfr(mp.nstr(v, WORKING))


def _mpf(v: Any) -> Any:
    return mp.mpf(str(v))


QUICK: dict[str, Callable[..., Any]] = {
    "exp": gmpy2.exp, "sin": gmpy2.sin, "cos": gmpy2.cos, "tan": gmpy2.tan, "ln": gmpy2.log, "sqrt": gmpy2.sqrt, "atan": gmpy2.atan, "asin": gmpy2.asin, "acos": gmpy2.acos, "sinh": gmpy2.sinh, "cosh": gmpy2.cosh, "tanh": gmpy2.tanh, "asinh": gmpy2.asinh, "sech": gmpy2.sech,
    "abs": abs, "floor": gmpy2.floor, "sign": gmpy2.sign, "erf": gmpy2.erf, "erfc": gmpy2.erfc, "max": max, "min": min, "heaviside": lambda u: (1 + gmpy2.sign(u)) / gmpy2.mpfr(2), "gamma": gmpy2.gamma, "+": operator.add, "-": operator.sub, "*": operator.mul, "/": operator.truediv, "^": operator.pow, "neg": operator.neg,
}  # fmt: skip


def _quick(tree: Any, at: dict[str, Any]) -> Callable[[Any], Any] | None:
    """A formula tree as nested functions of binary floating point with many digits; None where one is not known there."""
    kind = tree[0]
    if kind == "number" or (kind == "name" and tree[1] != "x"):
        with gmpy2.context(precision=BITS):
            fixed = _mpfr(value(tree, at))
        return lambda v: fixed
    if kind == "name":
        return lambda v: v
    if kind == "^" and tree[2][0] == "number" and tree[2][1].denominator == 1:
        base, exponent = _quick(tree[1], at), int(tree[2][1])
        return base and (lambda v: base(v) ** exponent)
    name, parts = (tree[1], tree[2:]) if kind == "call" else (kind, tree[1:])
    inner = [_quick(t, at) for t in parts] if name in QUICK else [None]
    if None in inner:
        return None
    work = QUICK[name]
    if len(inner) == 1:
        first = inner[0]
        return lambda v: work(first(v))
    first, second = inner
    return lambda v: work(first(v), second(v))


@cache
def _nodes(level: int, rule: str) -> tuple[tuple[Any, Any], ...]:
    """(place, weight) that a level adds to the level before: on -1..1 as the distance from the nearer end, signed, or on 0..inf."""
    h = mp.mpf(2) ** -level
    count = int(mp.mpf("4.6") / h)
    found = []
    for k in range(-count, count + 1):
        if level > FIRST and k % 2 == 0:
            continue
        t = k * h
        s, c = mp.pi / 2 * mp.sinh(t), mp.pi / 2 * mp.cosh(t)
        if rule == "far":
            found.append((mp.exp(s), c * mp.exp(s)))
        else:
            found.append(((1 if k < 0 else -1) * mp.exp(-abs(s)) / mp.cosh(s), c / mp.cosh(s) ** 2))
    return tuple((_mpfr(d), _mpfr(w)) for d, w in found)


FIRST, LAST = 2, 7


def between(work: Any, low: Any, high: Any) -> tuple[Any, Any]:
    """(value, distance of the last two levels) of a smooth integrand, whose ends may hold roots and logarithms, or be infinite."""
    half = (high - low) / 2
    if gmpy2.is_infinite(half):
        place = (lambda d: low + d) if gmpy2.is_finite(low) else (lambda d: high - d)
        rule, scale = "far", gmpy2.mpfr(1)
    else:
        place = lambda d: low + half * d if d > 0 else high + half * d
        rule, scale = "near", half
    sums, total = [], gmpy2.mpfr(0)
    for level in range(FIRST, LAST + 1):
        for d, w in _nodes(level, rule):
            try:
                term = gmpy2.mpfr(str(v)) if isinstance(v := work(place(d)), mp.mpf) else v
            except FAULTS:  # nearer to an end than the digits tell, or so far out that nothing is left
                continue
            if gmpy2.is_finite(term) and gmpy2.is_finite(w):
                total += w * term
        sums.append(total * scale / 2**level)
        if len(sums) > 2 and abs(sums[-1] - sums[-2]) < gmpy2.mpfr(10) ** -(DIGITS + 4) * (1 + abs(sums[-1])):
            break
    return sums[-1], abs(sums[-1] - sums[-2])


def _of_waves(work: Any, kind: str, frequency: str, at: dict[str, Any]) -> tuple[Any, Any]:
    """The rule that lets its nodes run into the zeros of the wave."""
    w, sums = value(read(f"({frequency})" if not frequency.startswith("(") else frequency), at), []
    for steps in (40, 70, 110):
        total = mp.mpf(0)
        for place, slope in _wave_nodes(steps, kind):
            try:
                v = work(_mpfr(place / w))
            except FAULTS:
                continue
            total += slope * _mpf(v)
        sums.append(total * mp.pi / w)
        if len(sums) > 1 and abs(sums[-1] - sums[-2]) < mp.mpf(10) ** -(DIGITS + 2) * (1 + abs(sums[-1])):
            break
    return sums[-1], abs(sums[-1] - sums[-2])


@cache
def _wave_nodes(steps: int, kind: str) -> list[tuple[Any, Any]]:
    big = mp.mpf(steps)
    h = mp.pi / big
    beta = mp.mpf(1) / 4
    alpha = beta / mp.sqrt(1 + big * mp.log(1 + big) / (4 * mp.pi))
    moved = [_moved(k * h if kind == "sin" else (k + mp.mpf(1) / 2) * h, alpha, beta) for k in range(int(-8 / h), int(5.5 / h))]
    return [(big * phi, slope) for phi, slope in moved]


def _moved(t: Any, alpha: Any, beta: Any) -> tuple[Any, Any]:
    """(place, slope) of the change of variable; both have a removable gap at 0, which is filled from beside it."""
    with mp.workdps(WORKING if t else 2 * WORKING):
        t = t or mp.mpf(10) ** -35
        e = mp.exp(-2 * t - alpha * (1 - mp.exp(-t)) - beta * (mp.exp(t) - 1))
        rate = 2 + alpha * mp.exp(-t) + beta * mp.exp(t)
        return t / (1 - e), (1 - e - t * rate * e) / (1 - e) ** 2
