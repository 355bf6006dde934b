"""Logarithms and angles of algebraic numbers led back to independent ones: relations are proposed by their digits, and proved.

Source: A. Lenstra, H. Lenstra, L. Lovász, "Factoring polynomials with rational coefficients" (1982), for whole relations between numbers.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

from gmpy2 import mpq

from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.building import scale, total
from gelvo.expression.constants import PI
from gelvo.expression.nodes import Call, Expression
from gelvo.expression.traversal import names, postorder, substitute, tree_size
from gelvo.functions.named import ACOS, ACOSH, ACOT, ACOTH, ASIN, ASINH, ATAN, ATANH, LN, is_a
from gelvo.numbers.interval import NoValue
from gelvo.polynomial.lattice import shortest_relation

BITS = 400
LARGEST = 40  # of the whole numbers in a relation
MOST = 6  # logarithms, or angles, at once
Proof = Callable[[Expression], bool]


def by_independent(expression: Expression, logarithms: Proof, angles: Proof) -> Expression:
    """ln(2 + sqrt(3))^2 - ln(2 - sqrt(3))^2  ->  0; each proof says whether a whole combination of the one kind vanishes."""
    table: dict[Expression, Expression] = {}
    for kinds, others, proved in (((LN, ASINH, ACOSH, ATANH, ACOTH), [], logarithms), ((ATAN, ACOT, ASIN, ACOS), [PI], angles)):
        calls = [n for n in postorder(expression) if isinstance(n, Call) and is_a(n, *kinds) and not names(n)]
        if 1 <= len(calls) <= MOST:
            table |= _led_back([*others, *sorted(calls, key=tree_size)], proved)
    return substitute(expression, table) if table else expression


def _led_back(numbers: list[Expression], proved: Proof) -> dict[Expression, Expression]:
    """Each number that is a combination of simpler ones, which come before it."""
    independent: list[Expression] = []
    table: dict[Expression, Expression] = {}
    for n in numbers:
        relation = _relation([*independent, n])
        if relation is None or not proved(total([scale(e, mpq(k)) for e, k in zip([*independent, n], relation, strict=True)])):
            independent.append(n)
        else:
            table[n] = total([scale(e, mpq(-k, relation[-1])) for e, k in zip(independent, relation, strict=False)])
    return table


def _relation(numbers: Sequence[Expression]) -> list[int] | None:
    """Whole numbers, the last of them not 0, with which the numbers seem to add up to 0."""
    try:
        boxes = [Enclosure(n).at({}, BITS) for n in numbers]
    except (NoValue, GelvoError):
        return None
    if any(not box.finite or (box.imag is not None and not box.imag.contains_zero()) for box in boxes):
        return None
    whole, rest = shortest_relation([mpq(box.real.low) for box in boxes], BITS - 40)
    return whole if whole[-1] and max(map(abs, whole)) <= LARGEST and abs(rest) < 2**20 else None
