"""Formulas without names: their signs, and relations between them, by bounded evaluation."""

from __future__ import annotations

from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import Enclosure, sign_at
from gelvo.expression import known as bits
from gelvo.expression.nodes import Applied, Expression, Relation
from gelvo.expression.traversal import free_names, postorder
from gelvo.numbers.interval import NoValue

MOST_BITS_TO_DIFFER = 500


def without_names(node: Expression) -> bool:
    return not free_names(node) and not any(isinstance(n, Applied) for n in postorder(node))


def sign_of_number(expression: Expression) -> int:
    """What bounded evaluation tells of a formula without names."""
    try:
        enclosure = Enclosure(expression)
        box = enclosure.at({}, 200)
    except (GelvoError, NoValue):
        return bits.ANY
    if box.imag is not None or not enclosure.bounded or box.real.sign is None:
        return bits.ANY
    return {1: bits.POSITIVE, -1: bits.NEGATIVE, 0: bits.NIL}[box.real.sign]


def numbers_differ(part: Relation) -> bool | None:
    """Whether = or != holds between two numbers."""
    sign = _sign_of_gap(part, MOST_BITS_TO_DIFFER)
    return None if sign is None else (sign != 0) == (part.operator == "!=")


def numbers_in_order(part: Relation) -> bool | None:
    """Whether < or <= holds between two numbers."""
    sign = _sign_of_gap(part)
    return None if sign is None else sign > 0 or (sign == 0 and part.operator == "<=")


def _sign_of_gap(part: Relation, *most_bits: int) -> int | None:
    if free_names(part):
        return None
    try:
        return sign_at(part.right - part.left, {}, *most_bits)
    except GelvoError:
        return None
