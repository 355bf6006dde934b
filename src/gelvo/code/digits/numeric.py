"""Functions that only code has: those of the C library that keep digits, and marks that tell how a part is worked out.

They are records like those of the catalogue, so bounds, derivatives and proofs take them as they are; nobody can type them.
"""

from __future__ import annotations

import gmpy2
from gmpy2 import mpq

from gelvo.expression import known as facts
from gelvo.expression.building import called, number, power, sqrt
from gelvo.expression.constants import ONE
from gelvo.expression.known import REAL
from gelvo.expression.nodes import Call, Expression, Node, Number
from gelvo.expression.registry import Function
from gelvo.functions.named import FunctionName
from gelvo.numbers import box as boxes
from gelvo.numbers.box import Box
from gelvo.numbers.interval import Arithmetic, NoValue

exp, ln = FunctionName("exp"), FunctionName("ln")


def _expm1_bounds(a: Arithmetic, x: Box) -> Box:
    if x.imag is not None:
        return boxes.add(a, boxes.exponential(a, x), boxes.negate(a, Box(a.one)))
    return Box(a.rising("expm1", x.real))


def _log1p_bounds(a: Arithmetic, x: Box) -> Box:
    if x.imag is not None or x.real.low <= -1:
        raise NoValue("the logarithm of a number that is not positive", certain=x.imag is None and x.real.high <= -1)
    return Box(a.rising("log1p", x.real))


def _hypot_bounds(a: Arithmetic, x: Box, y: Box) -> Box:
    return boxes.square_root(a, boxes.add(a, boxes.integer_power(a, x, 2), boxes.integer_power(a, y, 2)))


def _same(a: Arithmetic, x: Box) -> Box:
    return x


def _binade_bounds(a: Arithmetic, x: Box) -> Box:
    low, high = x.real
    if x.imag is not None or low <= 0:
        raise NoValue("the power of two of a number that is not positive", certain=x.imag is None and high <= 0)
    powers = [mpq(2) ** int(gmpy2.get_exp(v) - 1) for v in (low, high)]
    return Box(a.hull(a.rational(powers[0]), a.rational(powers[1])))


def _real(*known: int) -> int:
    return REAL if all(facts.is_real(k) for k in known) else facts.ANY


def _itself(x: Expression) -> Expression | None:
    return None if x.children else x


EXPM1 = Function(
    name="expm1", about="exp(x) - 1 with all digits near 0", example=("0", "0"), bounds=_expm1_bounds, known=_real,
    at=lambda x: exp(x) - ONE if isinstance(x, Number) else None, derivative=lambda x: exp(x), as_elementary=lambda x: exp(x) - ONE,
    source="ISO/IEC 9899, 7.12.6.3",
)  # fmt: skip
LOG1P = Function(
    name="log1p", about="ln(1 + x) with all digits near 0", example=("0", "0"), bounds=_log1p_bounds, known=_real,
    at=lambda x: ln(ONE + x) if isinstance(x, Number) else None, derivative=lambda x: power(ONE + x, number(-1)),
    as_elementary=lambda x: ln(ONE + x), source="ISO/IEC 9899, 7.12.6.9",
)  # fmt: skip
HYPOT = Function(
    name="hypot", about="the root of x^2 + y^2 without overflow", example=("3", "4", "5"), arguments=(2, 2), bounds=_hypot_bounds,
    known=_real, derivative=(lambda x, y: x / sqrt(x**2 + y**2), lambda x, y: y / sqrt(x**2 + y**2)),
    as_elementary=lambda x, y: sqrt(x**2 + y**2), source="ISO/IEC 9899, 7.12.7.3",
)  # fmt: skip
GROUPED = Function(
    name="grouped", about="a part that is added up by itself", example=("1", "1"), bounds=_same, known=lambda k: k, at=_itself,
    derivative=lambda x: ONE, as_elementary=lambda x: x,
)  # fmt: skip
CAREFUL = Function(
    name="careful", about="a part that is worked out with pairs of numbers", example=("1", "1"), bounds=_same, known=lambda k: k,
    at=_itself, derivative=lambda x: ONE, as_elementary=lambda x: x,
)  # fmt: skip
BINADE = Function(
    name="binade", about="the largest power of two that is not larger than a positive number", example=("5", "4"), bounds=_binade_bounds,
    known=lambda k: facts.POSITIVE, derivative=lambda x: number(0),
)  # fmt: skip
MARKS = (GROUPED, CAREFUL)


def expm1(x: Expression) -> Expression:
    """exp(x) - 1.

    >>> from gelvo.expression.building import name
    >>> expm1(name("x")), expm1(number(0))
    (expm1(x), 0)
    """
    return called(EXPM1, (x,))


def log1p(x: Expression) -> Expression:
    """ln(1 + x)."""
    return called(LOG1P, (x,))


def hypot(x: Expression, y: Expression) -> Expression:
    """sqrt(x^2 + y^2)."""
    return called(HYPOT, (x, y))


def binade(x: Expression) -> Expression:
    """The power of two next to a positive number: multiplying by it is exact."""
    return called(BINADE, (x,))


def grouped(x: Expression) -> Expression:
    """The same number; what stands inside is added up by itself, before what stands beside it."""
    return called(GROUPED, (x,))


def careful(x: Expression) -> Expression:
    """The same number, with every step inside worked out on pairs: a number and what its rounding lost."""
    if is_numeric(x, CAREFUL):
        return x
    return called(CAREFUL, (x,))


def is_numeric(node: Node, function: Function) -> bool:
    """Whether a part is a call of one of these functions."""
    return isinstance(node, Call) and node.function is function
