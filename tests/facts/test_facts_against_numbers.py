"""Random facts and questions held against numbers: what is answered True holds at every point that the facts allow.

The numbers are mpmath's alone, read from the same text; points on the borders of the facts, at 0 and far out are among them.
"""

from __future__ import annotations

import itertools
import os
import re
from collections.abc import Iterator
from functools import cache
from random import Random
from typing import Any

import mpmath
import pytest

import gelvo

HUNT = os.environ.get("GELVO_PROPERTY_TESTS") == "hunt"
ROUNDS, EACH = (200, 100) if HUNT else (6, 100)
NAMES = ("a", "b")
DOMAINS = ("real", "real", "real", "real", "positive", "nonnegative", "integer", "natural", "nonzero", "negative")
NUMBERS = ("0", "1", "2", "3", "1/2", "-1", "-2", "4", "9", "-1/3")
SHAPES = (
    "{x}", "{x}", "{x}", "{x} - {c}", "{x} + {c}", "{c} - {x}", "{x} - {y}", "{x} + {y}", "{x}*{y}", "2*{x} - 3*{y}", "{x}^2", "{x}^2 - {c}",
    "{x}^2 - {y}", "{x}^2 + {y}^2", "{x}^3 - {x}", "({x} - {c})*({x} + 1)", "sqrt({x})", "{x} - 2*sqrt({x})", "{x}^(3/2)", "sqrt({x}) - {y}",
    "sqrt({x}^2 + {y}^2)", "sqrt({x}^2 + 1) - {x}", "abs({x})", "abs({x} - {y})", "abs({x}) - {c}", "1/{x}", "1/({x} - {c})", "{x}/{y}",
    "exp({x})", "exp({x}) - {c}", "ln({x})", "ln({x}) - {y}", "sin({x})", "cos({x})", "{c} + cos({x})", "{x}*sin({y})", "{x}^{x}",
    "{x}^{y}", "2^{x}", "{x}^4 - 5*{x}^2 + 4", "{x}^2 - 2*{x}*{y} + {y}^2", "{x}^2*{y}", "{x}^(1/3)", "cbrt({x})", "max({x}, {y})",
    "min({x}, {c})", "atan({x})", "tanh({x})", "floor({x})", "sign({x})", "cosh({x})", "({x} + {y})^2 - 4*{x}*{y}", "{x}^2 + {x}*{y} + {y}^2",
    "x_part({x})", "{x} - {x}^2", "sqrt({x}*{y})", "sqrt({x})*sqrt({y})", "({x}^2 - {y}^2)/({x} - {y})", "{x}^2 + {c}*{x} + 1", "{y}*{x}^2 - {c}",
)  # fmt: skip
SHAPES = tuple(s for s in SHAPES if "part" not in s)
SIGNS = ("<", "<=", ">", ">=", "!=", "<", ">", "=")


def expression(random: Random) -> str:
    x, y = random.sample(NAMES, 2) if random.random() < 0.6 else ["a", "a"]
    text = random.choice(SHAPES).format(x=x, y=y, c=random.choice(NUMBERS).join("()"))
    return text.replace("+ (-", "- (").replace("(-1/3)", "(0 - 1/3)").replace("(-1)", "(0 - 1)").replace("(-2)", "(0 - 2)")


def relation(random: Random, signs: tuple[str, ...] = SIGNS) -> str:
    kind, left, sign = random.random(), expression(random), random.choice(signs)
    if kind < 0.25:
        return f"{left} {sign} {expression(random)}"
    if kind < 0.45:
        left = f"{left} + {expression(random)}"
    return f"{left} {sign} {random.choice(NUMBERS) if kind < 0.8 else random.choice(NAMES)}"


# --- numbers, without the library ------------------------------------------------------------------------------------------


class NoNumber(Exception):
    """A formula without a value at a point."""


class Real:
    """An mpmath number whose powers, quotients and logarithms tell where they have no value."""

    def __init__(self, value: Any) -> None:
        self.value = mpmath.mpmathify(value)

    def __pow__(self, other: Any) -> Real:
        base, exponent = self.value, number(other)
        whole = isinstance(exponent, mpmath.mpf) and exponent == mpmath.floor(exponent)
        if base == 0:
            if isinstance(exponent, mpmath.mpf) and exponent > 0:
                return Real(0)
            raise NoNumber
        if abs(exponent) > 20:
            raise NoNumber  # rounding would hide it beside other numbers
        return Real(base ** int(exponent) if whole else mpmath.exp(exponent * mpmath.log(base)))

    def __truediv__(self, other: Any) -> Real:
        if number(other) == 0:
            raise NoNumber
        return Real(self.value / number(other))


def number(thing: Any) -> Any:
    return thing.value if isinstance(thing, Real) else mpmath.mpmathify(thing)


for _word, _work in {"add": lambda p, q: p + q, "sub": lambda p, q: p - q, "mul": lambda p, q: p * q}.items():
    setattr(Real, f"__{_word}__", lambda self, other, work=_work: Real(work(self.value, number(other))))
    setattr(Real, f"__r{_word}__", lambda self, other, work=_work: Real(work(number(other), self.value)))
Real.__rtruediv__ = lambda self, other: Real(number(other)) / self  # type: ignore[attr-defined]
Real.__rpow__ = lambda self, other: Real(number(other)) ** self  # type: ignore[attr-defined]
Real.__neg__ = lambda self: Real(-self.value)  # type: ignore[attr-defined]


def _logarithm(x: Any) -> Any:
    if x == 0:
        raise NoNumber
    return mpmath.log(x)


def _ordered(work: Any) -> Any:
    def apply(*values: Any) -> Any:
        if any(isinstance(v, mpmath.mpc) for v in values):
            raise NoNumber
        return work(*values)

    return apply


FUNCTIONS = {
    "sqrt": mpmath.sqrt, "abs": abs, "exp": lambda x: _bounded(mpmath.exp, x), "ln": _logarithm, "sin": mpmath.sin, "cos": mpmath.cos,
    "cbrt": _ordered(lambda x: mpmath.sign(x) * mpmath.cbrt(abs(x))), "max": _ordered(max), "min": _ordered(min), "atan": mpmath.atan,
    "tanh": lambda x: _bounded(mpmath.tanh, x, 50), "floor": _ordered(mpmath.floor), "sign": _ordered(mpmath.sign), "cosh": lambda x: _bounded(mpmath.cosh, x),
}  # fmt: skip


def _bounded(work: Any, x: Any, most: int = 10**4) -> Any:
    if abs(x) > most:
        raise NoNumber
    return work(x)


SPACE = {w: (lambda work: lambda *xs: Real(work(*map(number, xs))))(f) for w, f in FUNCTIONS.items()}


@cache
def compiled(text: str) -> Any:
    python = re.sub(r"(?<![\w.])(\d+)", r"R(\1)", text.replace("^", "**"))
    return compile(python, "<formula>", "eval")


def value(text: str, point: dict[str, Any]) -> Any:
    with mpmath.workdps(60):
        found = number(eval(compiled(text), {"__builtins__": {}, "R": Real, **SPACE}, {k: Real(v) for k, v in point.items()}))
        if isinstance(found, mpmath.mpc) and abs(found.imag) < mpmath.mpf(10) ** -45:
            found = found.real
        return found


def holds(text: str, point: dict[str, Any]) -> bool:
    """Whether a relation is true at a point; NoNumber where a side has no value."""
    left, sign, right = next(text.partition(f" {s} ") for s in ("<=", ">=", "!=", "<", ">", "=") if f" {s} " in text)
    one, two = value(left, point), value(right, point)
    gap = one - two
    same = gap == 0
    if not same and abs(gap) < mpmath.mpf(10) ** -50 * max(1, abs(one)):
        raise NoNumber  # rounding may have made it
    if sign.strip() in ("=", "!="):
        return same == (sign.strip() == "=")
    if same:
        return "=" in sign  # also of what is not real, as formulas that are the same
    if isinstance(gap, mpmath.mpc):
        return False
    return (gap > 0) == (sign.strip() in (">", ">="))


IN_DOMAIN = {
    "real": lambda v: True, "positive": lambda v: v > 0, "nonnegative": lambda v: v >= 0, "negative": lambda v: v < 0,
    "nonzero": lambda v: v != 0, "integer": lambda v: v == mpmath.floor(v), "natural": lambda v: v >= 0 and v == mpmath.floor(v),
}  # fmt: skip
PLACES = ["0", "1", "-1", "2", "-2", "3", "-3", "4", "9", "16", "81", "-9", "1/2", "-1/2", "1/3", "-1/3", "1/4", "1/9", "7/3", "-7/3", "5/2",
          "100", "-100", "1/1000", "-1/1000", "10000000", "-10000000", "31/10", "63/10", "2001/1000", "1999/1000", "1001/1000", "999/1000"]  # fmt: skip


def points(facts: list[str], domains: dict[str, str]) -> Iterator[dict[str, Any]]:
    """Numbers that the facts allow, their borders among them."""
    with mpmath.workdps(60):
        whole = [mpmath.mpf(p.partition("/")[0]) / mpmath.mpf(p.partition("/")[2] or 1) for p in PLACES]
        for values in itertools.product(whole, repeat=len(NAMES)):
            point = dict(zip(NAMES, values, strict=True))
            try:
                if all(IN_DOMAIN[domains[n]](point[n]) for n in NAMES) and all(holds(f, point) for f in facts):
                    yield point
            except NoNumber:
                continue


def wrong_answers(seed: int, count: int) -> tuple[list[str], int]:
    """Answers that a number contradicts, and how many were decided."""
    random = Random(seed)
    wrong: list[str] = []
    decided = asked = 0
    while asked < count:
        facts = [relation(random) for _ in range(random.choice((0, 1, 1, 1, 2, 2, 3)))]
        domains = {n: random.choice(DOMAINS) for n in NAMES}
        stated = [*facts, *[f"{n} {d}" for n, d in domains.items() if d != "real"]]
        allowed: list[dict[str, Any]] | None = None
        for _ in range(10):
            question = relation(random)
            asked += 1
            try:
                answer = gelvo.is_known(question, given=stated)
            except gelvo.GelvoError as fault:
                if "contradict" not in str(fault) and "never hold" not in str(fault):
                    continue  # something divides by zero as written
                answer = None
                allowed = list(points(facts, domains)) if allowed is None else allowed
                if allowed:
                    wrong.append(f"called contradictory: {stated} holds at {allowed[0]}")
                break
            if answer is None:
                continue
            decided += 1
            allowed = list(points(facts, domains)) if allowed is None else allowed
            for point in allowed:
                try:
                    if holds(question, point) != answer:
                        shown = {k: mpmath.nstr(v, 8) for k, v in point.items()}
                        wrong.append(f"is_known({question!r}, given={stated}) is {answer}, and not so at {shown}")
                        break
                except NoNumber:
                    continue
    return wrong, decided


@pytest.mark.parametrize("seed", range(ROUNDS))
def test_what_is_known_holds_at_every_point_that_the_facts_allow(seed: int) -> None:
    wrong, decided = wrong_answers(seed, EACH)
    assert not wrong
    assert decided
