"""Short names for what every record of the catalogue uses."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from gmpy2 import mpq

from gelvo.expression import known as facts
from gelvo.expression.building import call, constant, junction, looks_negative, name, number, power, relation, sqrt
from gelvo.expression.constants import ONE, PI, TWO, ZERO
from gelvo.expression.nodes import Call, Condition, Constant, Expression, Name, Number, Product, Sum
from gelvo.functions.named import FunctionName
from gelvo.numbers import box as boxes
from gelvo.numbers.box import Box
from gelvo.numbers.exact import HALF
from gelvo.numbers.interval import Arithmetic, Interval, NoValue


def fraction(top: int, bottom: int) -> Expression:
    return number(mpq(top, bottom))


def positive(x: Expression) -> tuple[Condition, ...]:
    return (relation("<", ZERO, x),)


def beside_poles(x: Expression) -> tuple[Condition, ...]:
    """Not 0, -1, -2, …"""
    return (junction("or", (relation("<", ZERO, x), relation("!=", call("sin", constant("pi") * x), ZERO))),)


def not_whole(x: Expression) -> Condition:
    """x is no whole number: told in one way for x, -x and x + 1."""
    share: Expression = x - number(x.constant) if isinstance(x, Sum) and number(x.constant).is_whole else x
    return relation("!=", call("sin", constant("pi") * (-share if looks_negative(share) else share)), ZERO)


def between(low: int, x: Expression, high: int) -> tuple[Condition, ...]:
    return relation("<=", number(low), x), relation("<=", x, number(high))


def nowhere(*arguments: Expression) -> tuple[Expression, ...]:
    """The breaks of a function that is smooth on the whole real line, and the zeros of one that has none there."""
    return ()


def at_zero(n: Expression) -> tuple[Expression, ...]:
    """The zeros of a function that vanishes at 0 alone."""
    return (ZERO,)


def at_one(n: Expression) -> tuple[Expression, ...]:
    """The zeros of a function that vanishes at 1 alone."""
    return (ONE,)


def pole_at_zero(*arguments: Expression) -> bool:
    """For functions that run off where their last argument is 0."""
    return arguments[-1] is ZERO


def pole_at_one(x: Expression) -> bool:
    """For even and odd functions that run off at 1, and others that do."""
    return x is ONE or x is -ONE


def pole_at_negative_integers(*arguments: Expression) -> bool:
    """For relatives of the gamma function: 0, -1, -2, …"""
    return isinstance(arguments[-1], Number) and arguments[-1].is_whole and arguments[-1].rational <= 0


def nonzero(x: Expression) -> tuple[Condition, ...]:
    return (relation("!=", x, ZERO),)


def real_if_real(known: int) -> int:
    """For functions that are real and finite on the whole real line."""
    return facts.REAL if facts.is_real(known) else facts.ANY


def real_and_positive(known: int) -> int:
    return facts.POSITIVE if facts.is_real(known) else facts.ANY


def sign_of_argument(known: int) -> int:
    """For odd real functions that have the sign of their argument."""
    return known | facts.FRACTIONAL if facts.is_real(known) else facts.ANY


def rising(method: str) -> Callable[[Arithmetic, Box], Box]:
    """Bounds of a rising function that is real on the whole real line."""

    def bounds(a: Arithmetic, x: Box) -> Box:
        return Box(a.rising(method, only_real(x, method)))

    return bounds


def only_real(x: Box, method: str) -> Interval:
    if x.imag is not None:
        raise NoValue(f"{method} of complex numbers has no rigorous evaluation here", lasting=not x.imag.contains_zero())
    return x.real


def pi_multiple(x: Expression) -> mpq | None:
    """r where x = r*pi with rational r."""
    if isinstance(x, Number):
        return mpq(0) if not x.value else None
    if isinstance(x, Constant):
        return mpq(1) if x is PI else None
    if isinstance(x, Product) and x.factors == (PI,) and not isinstance(x.coefficient, complex):
        return x.coefficient if isinstance(x.coefficient, mpq) else None
    return None


__all__ = [
    "HALF", "ONE", "PI", "TWO", "ZERO", "Any", "Arithmetic", "Box", "Call", "Condition", "Constant", "Expression",
    "Interval", "Name", "NoValue", "Number", "Product", "Sum", "at_one", "at_zero", "between", "boxes", "call", "facts", "fraction",
    "FunctionName", "junction", "mpq", "name", "nonzero", "number", "only_real", "pi_multiple", "positive", "power",
    "real_and_positive", "real_if_real", "relation", "rising", "sign_of_argument", "sqrt",
]  # fmt: skip
