"""A formula without names as a plain number: guessed from its digits, kept only when proved."""

from __future__ import annotations

from collections.abc import Iterator
from math import floor

from gmpy2 import mpfr, mpq

from gelvo.deciding.equality import prove_zero
from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.building import constant, number, sqrt
from gelvo.expression.nodes import AlgebraicNumber, Applied, Bound, Call, Expression, Name, Node, Number, Power
from gelvo.expression.traversal import distinct_nodes, names, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.functions.named import LN
from gelvo.numbers.interval import NoValue
from gelvo.polynomial.lattice import shortest_relation
from gelvo.simplifying.family import Shorter

BITS = 160
LARGEST_PART = 10**5
LARGEST_NODES = 60


def number_forms(expression: Expression, facts: Facts, shorter: Shorter) -> Iterator[tuple[str, Expression]]:
    """sin(pi/7)*sin(2*pi/7)*sin(3*pi/7)  ->  sqrt(7)/8, proved by the decision for zero."""
    if names(expression):
        inner = _constant_parts(expression)
        table = {part: found for part in inner if (found := _as_plain(part)) is not None}
        if table:
            yield "numbers told by their digits, and proved", substitute(expression, table)
        return
    found = _as_plain(expression)
    if found is not None:
        yield "a number told by its digits, and proved", found


def _constant_parts(expression: Expression) -> list[Expression]:
    """The largest parts without names."""
    free: set[Node] = set()
    result: dict[Expression, None] = {}
    for node in postorder(expression):
        if not isinstance(node, (Name, Applied, Bound)) and all(c in free for c in node.children):
            free.add(node)
        else:
            result.update(dict.fromkeys(c for c in node.children if c in free and isinstance(c, Expression)))
    return [e for e in result if _worth(e)]


def _as_plain(expression: Expression) -> Expression | None:
    if distinct_nodes(expression) > LARGEST_NODES or not _worth(expression):
        return None
    try:
        box = Enclosure(expression).at({}, BITS)
    except (NoValue, GelvoError):
        return None
    if (box.imag is not None and not box.imag.contains_zero()) or not box.finite:
        return None
    value = mpq(box.real.low)
    for guess in guesses(value, not _over_roots(expression)):
        if guess is not expression and prove_zero(expression - guess, Facts()):
            return guess
    return None


def _worth(expression: Expression) -> bool:
    """Whether there is more than one function or root in it."""
    parts = [
        n for n in postorder(expression) if isinstance(n, (Call, AlgebraicNumber)) or (isinstance(n, Power) and not _whole(n))
    ]
    return len(parts) > 1


def _over_roots(expression: Expression) -> bool:
    """Whether it is told by numbered roots: their sums are next to never square roots, and there are many of them."""
    return any(isinstance(n, AlgebraicNumber) for n in postorder(expression))


def _whole(node: Power) -> bool:
    return isinstance(node.exponent, Number) and node.exponent.is_whole


def guesses(value: mpq, square_roots: bool = True) -> Iterator[Expression]:
    found = nearby(value)
    if found is not None:
        yield number(found)
    square = nearby(value * value)
    if square is not None and square > 0:
        root = sqrt(number(square))
        yield root if value > 0 else -root
    pi = mpq(mpfr(Enclosure(constant("pi")).at({}, BITS).real.low, BITS))
    turn = nearby(value / pi)
    if turn is not None:
        yield number(turn) * constant("pi")
    for n in (2, 3, 5):
        size = mpq(Enclosure(LN(number(n))).at({}, BITS).real.low)
        ratio = nearby(value / size)
        if ratio is not None:
            yield number(ratio) * LN(number(n))
    if square_roots:
        yield from _quadratic_irrationals(value)


def _quadratic_irrationals(value: mpq) -> Iterator[Expression]:
    """(p + q*sqrt(n)) with small n: the shortest relation between 1, sqrt(n) and the value, in whole numbers."""
    for n in (2, 3, 5, 6, 7):
        root = sqrt(number(n))
        sizes = (mpq(1), mpq(Enclosure(root).at({}, BITS).real.low), value)
        plain, times, bottom = shortest_relation(sizes, BITS - 40)[0]
        if not bottom or not times:
            continue
        rest, ratio = -mpq(plain, bottom), -mpq(times, bottom)
        small = (
            abs(ratio.numerator) <= 24 and ratio.denominator <= 12 and max(abs(rest.numerator) // 100, rest.denominator) <= 2000
        )
        if small and abs(value - rest - sizes[1] * ratio) * 2 ** (BITS - 40) < 1:
            yield number(rest) + number(ratio) * root
            return


def nearby(value: mpq, largest: int = LARGEST_PART) -> mpq | None:
    """The one rational number with a small denominator that all digits agree with, by a continued fraction."""
    if abs(value) > largest * 100 or not _may_be_near(float(value), largest):
        return None
    rest, one, two = value, (1, 0), (0, 1)  # (numerator, denominator) of the last convergents
    for _ in range(40):
        whole = rest.numerator // rest.denominator
        one, two = (whole * one[0] + two[0], whole * one[1] + two[1]), one
        if one[1] > largest or abs(one[0]) > largest * 100:
            return None
        if abs(value - mpq(one[0], one[1])) * 2 ** (BITS - 40) < 1:
            return mpq(one[0], one[1])
        rest = rest - whole
        if not rest:
            return None
        rest = 1 / rest
    return None


def _may_be_near(value: float, largest: int) -> bool:
    """Whether the first digits agree with such a number, in floats: that sorts out nearly all candidates."""
    rest, top, bottom, last_top, last_bottom = value, 1, 0, 0, 1
    while True:
        whole = floor(rest)
        top, bottom, last_top, last_bottom = whole * top + last_top, whole * bottom + last_bottom, top, bottom
        if bottom > largest:
            return False
        if abs(value - top / bottom) <= 1e-11 * max(1.0, abs(value)):
            return True
        rest = 1 / (rest - whole)
