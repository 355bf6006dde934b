"""f(u) = value over the complex numbers: every u, by the exponential that f is made of.

Source: M. Abramowitz, I. Stegun, "Handbook of Mathematical Functions" (1964), chapter 4.
"""

from __future__ import annotations

import contextlib
from collections.abc import Callable
from typing import NamedTuple

from gelvo.errors import DomainError
from gelvo.expression import known as bits
from gelvo.expression.building import sqrt
from gelvo.expression.constants import HALF, IMAGINARY, ONE, PI, ZERO
from gelvo.expression.nodes import Call, Expression
from gelvo.expression.traversal import names
from gelvo.facts.conditions import nonzero
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import ATAN2, COS, COSH, COT, COTH, EXP, LN, SIN, SINH, TAN, TANH
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.solving.roots import Root
from gelvo.solving.single.work import Work


class Undone(NamedTuple):
    """f(u) = c where exp(u/factor) is one of units(c), which are no zeros where apart(c) is none; u may turn by `turn`."""

    factor: Expression
    units: Callable[[Expression], tuple[Expression, ...]]
    apart: Callable[[Expression], Expression]
    turn: Expression


def _never(c: Expression) -> Expression:
    """The units of sines and cosines have the product one."""
    return ONE


_CIRCLE, _HALF_CIRCLE = -IMAGINARY, -IMAGINARY * HALF
UNDONE: dict[str, Undone] = {
    EXP: Undone(ONE, lambda c: (c,), lambda c: c, 2 * PI * IMAGINARY),
    SIN: Undone(_CIRCLE, lambda c: (IMAGINARY * c + sqrt(1 - c**2), IMAGINARY * c - sqrt(1 - c**2)), _never, 2 * PI),
    COS: Undone(_CIRCLE, lambda c: (c + IMAGINARY * sqrt(1 - c**2), c - IMAGINARY * sqrt(1 - c**2)), _never, 2 * PI),
    TAN: Undone(_HALF_CIRCLE, lambda c: ((1 + IMAGINARY * c) / (1 - IMAGINARY * c),), lambda c: c**2 + 1, PI),
    COT: Undone(_HALF_CIRCLE, lambda c: ((c + IMAGINARY) / (c - IMAGINARY),), lambda c: c**2 + 1, PI),
    SINH: Undone(ONE, lambda c: (c + sqrt(c**2 + 1), c - sqrt(c**2 + 1)), _never, 2 * PI * IMAGINARY),
    COSH: Undone(ONE, lambda c: (c + sqrt(c**2 - 1), c - sqrt(c**2 - 1)), _never, 2 * PI * IMAGINARY),
    TANH: Undone(HALF, lambda c: ((1 + c) / (1 - c),), lambda c: 1 - c**2, PI * IMAGINARY),
    COTH: Undone(HALF, lambda c: ((c + 1) / (c - 1),), lambda c: c**2 - 1, PI * IMAGINARY),
}


def complex_inverse(solver: Work, g: Call, value: Expression) -> list[tuple[Expression, Root]] | None:
    """Every argument at which a function has a value, over the complex numbers; None where no row knows the function."""
    row = UNDONE.get(g.name)
    if row is None:
        return None
    apart = nonzero(expand(row.apart(value)))
    conditions = solver.condition(apart)
    if conditions is None:
        return []  # a value that the function does not take, such as exp(u) = 0
    n = solver.free_integer(g, value)
    solver.roads[f"inverse of {g.name} by exponentials"] = None
    found: list[tuple[Expression, Root]] = []
    for unit in row.units(value):
        logarithm = LN(factored(unit))
        if not names(unit):
            with contextlib.suppress(DomainError):
                logarithm = _logarithm_of_number(*real_and_imaginary(expand(unit), solver.facts))
        found.append((g.arguments[0], Root(row.factor * logarithm + row.turn * n, conditions, (n,))))
    return found


def _logarithm_of_number(real: Expression, imag: Expression) -> Expression:
    """ln(real + 1j*imag), its direction read off where the number lies on an axis."""
    part, ahead, behind = (real, ZERO, PI) if imag is ZERO else (imag, PI / 2, -PI / 2)
    if real is ZERO or imag is ZERO:
        sign = Facts().decide(part)
        if bits.is_positive(sign):
            return LN(part) + IMAGINARY * ahead
        if bits.is_negative(sign):
            return LN(-part) + IMAGINARY * behind
    return LN(sqrt(real**2 + imag**2)) + IMAGINARY * ATAN2(imag, real)
