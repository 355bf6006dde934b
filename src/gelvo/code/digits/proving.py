"""A bound of the error of code that holds everywhere in the ranges, where it can be had.

Relative errors go from the inputs through each operation: products add them, sums add them where the terms have one sign or do not
vanish together, a function multiplies them by its condition. The ranges are cut into boxes until the bound of each is small.
Taken for granted: additions, products, quotients and square roots are correctly rounded (IEEE 754), the functions of the library are
within 1 unit in the last place (hyperbolic ones, powers and their like within 4), and nothing underflows.
Source: N. J. Higham, "Accuracy and Stability of Numerical Algorithms" (1996), chapters 2 and 3.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from typing import NamedTuple

from gmpy2 import mpq

from gelvo.code.digits.exactness import two_products
from gelvo.code.digits.numeric import CAREFUL, is_numeric
from gelvo.code.digits.points import Ends
from gelvo.code.fractions import is_power_of_two
from gelvo.code.program import small_power
from gelvo.deadline import checkpoint
from gelvo.deciding.equality import is_zero
from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.building import number, relation
from gelvo.expression.nodes import AlgebraicNumber, Call, Constant, Expression, Name, Node, Number, Power, Product, Sum
from gelvo.expression.traversal import postorder, transform
from gelvo.facts.store import Facts
from gelvo.numbers.box import Box
from gelvo.numbers.exact import Gaussian
from gelvo.numbers.interval import Arithmetic, arithmetic

UNIT = 2.0**-53  # the largest relative error of a correctly rounded operation
GOOD, MOST_BOXES, LONGEST, BITS = 64.0, 400, 60, 60
PAIR_UNIT = 2.0**-98  # a generous bound of what sums and products of pairs lose
SLACK = 1.001  # for terms of the second order
LARGE = 1e290


class Spread(NamedTuple):
    """The values of a part over a box, and its relative error there."""

    low: float
    high: float
    error: float

    @property
    def size(self) -> float:
        return max(abs(self.low), abs(self.high))

    @property
    def least(self) -> float:
        return 0.0 if self.low <= 0 <= self.high else min(abs(self.low), abs(self.high))


def _around(low: float, high: float) -> float:
    return max(abs(low), abs(high))


def _below_one(value: float) -> float:
    return 1 / math.sqrt(1 - value * value) if value < 1 else math.inf


def _quotient(top: float, bottom: float) -> float:
    return top / bottom if bottom else math.inf


# by how much a function multiplies the relative error of its argument, at most, of the ends of the argument and the least value
CONDITIONS: dict[str, Callable[[float, float, float], float]] = {
    "exp": lambda a, b, v: _around(a, b),
    "expm1": lambda a, b, v: 1 + max(b, 0.0),
    "ln": lambda a, b, v: _quotient(1.0, v),
    "log1p": lambda a, b, v: 1.0 if a >= 0 else _quotient(1.0, 1 + a),
    "sin": lambda a, b, v: 1.0 if _around(a, b) <= 1.57 else _quotient(_around(a, b), v),
    "cos": lambda a, b, v: _quotient(_around(a, b) * min(1.0, _around(a, b)), v),
    "tan": lambda a, b, v: 1.58 if _around(a, b) <= 0.785 else math.inf,
    "sinh": lambda a, b, v: 1 + _around(a, b), "cosh": lambda a, b, v: _around(a, b), "tanh": lambda a, b, v: 1.0, "atan": lambda a, b, v: 1.0,
    "asinh": lambda a, b, v: 1.0, "cbrt": lambda a, b, v: 1 / 3, "abs": lambda a, b, v: 1.0,
    "asin": lambda a, b, v: _below_one(_around(a, b)), "acos": lambda a, b, v: _quotient(_around(a, b) * _below_one(_around(a, b)), v),
    "atanh": lambda a, b, v: _below_one(_around(a, b)) ** 2,
    "grouped": lambda a, b, v: 1.0,
}  # fmt: skip
# errors of the functions of libraries that are taken for granted, in units in the last place: more than what their makers state
LIBRARY = {"exp": 1, "ln": 1, "sin": 1, "cos": 1, "tan": 1, "atan": 1, "asin": 1, "acos": 1, "abs": 0, "grouped": 0}
SEVERAL = ("hypot", "max", "min", "atan2")
OTHERS = 4  # hyperbolic functions, powers, and what keeps digits near zero


def proved_bound(
    code: Expression, formula: Expression, inputs: Sequence[Name], ranges: Mapping[Name, Ends], facts: Facts
) -> float:
    """The error of code in units in the last place nowhere in the ranges exceeded; infinite where none was found.

    code: the formula in the form that is written; it is proved to be the same.
    """
    if any(n not in ranges or not all(map(math.isfinite, ranges[n])) for n in inputs) or len(postorder(code)) > LONGEST:
        return math.inf
    inside = [
        r for n in inputs for r in (relation(">=", n, number(mpq(ranges[n][0]))), relation("<=", n, number(mpq(ranges[n][1]))))
    ]
    if not _can_be_bounded(code) or not _are_same(code, formula, Facts([*facts.given, *inside])):
        return math.inf
    enclosure, a = Enclosure(code), arithmetic(BITS)
    boxes = [tuple(ranges[n] for n in inputs)]
    worst, used = 0.0, 0
    while boxes:
        checkpoint()
        box, used = boxes.pop(), used + 1
        found = _error_on(enclosure, a, dict(zip(inputs, box, strict=True))) / UNIT
        if found <= GOOD:
            worst = max(worst, found)
        elif used + len(boxes) >= MOST_BOXES:
            return math.inf
        else:
            halves = _halves(box)
            if halves is None:
                return math.inf
            boxes += halves
    return worst


def _can_be_bounded(e: Expression) -> bool:
    known = (Sum, Product, Power, Number, Name, Constant, AlgebraicNumber)
    e = transform(e, lambda n: n.arguments[0] if _is_power_on_pairs(n) or _is_exact_product(n) else n)  # type: ignore[attr-defined]
    return all(
        isinstance(n, known) or (isinstance(n, Call) and (n.name in CONDITIONS or n.name in SEVERAL)) for n in postorder(e)
    )


def _is_power_on_pairs(node: Node) -> bool:
    """exp of sums and products that are worked out on pairs."""
    if not is_numeric(node, CAREFUL):
        return False
    inner = node.children[0]
    plain = (Sum, Product, Number, Name)
    return (
        isinstance(inner, Call)
        and inner.name == "exp"
        and all(isinstance(n, plain) or (isinstance(n, Power) and small_power(n) > 0) for n in postorder(inner.arguments[0]))
    )


def _is_exact_product(node: Node) -> bool:
    """A sum of two products as one operation."""
    return is_numeric(node, CAREFUL) and two_products(node.children[0]) is not None


def _are_same(code: Expression, formula: Expression, facts: Facts) -> bool:
    if code is formula:
        return True
    try:
        return is_zero(transform(code, _plain) - formula, facts) is True
    except GelvoError:
        return False


def _plain(node: Node) -> Node:
    """A function of the C library by those of the catalogue."""
    if isinstance(node, Call) and node.name in ("expm1", "log1p", "hypot", "grouped", "careful"):
        written = node.function.as_elementary
        return node if written is None else written(*node.arguments)
    return node


def _halves(box: tuple[Ends, ...]) -> list[tuple[Ends, ...]] | None:
    """A box cut where it is widest: at zero, between orders of size, or in the middle."""
    widths = [(b - a) / max(abs(a), abs(b), 1e-300) for a, b in box]
    k = max(range(len(box)), key=lambda j: widths[j])
    low, high = box[k]
    if low < 0 < high:
        cut = 0.0
    elif low > 0 and high > 4 * low:
        cut = math.sqrt(low) * math.sqrt(high)
    elif high < 0 and low < 4 * high:
        cut = -math.sqrt(-low) * math.sqrt(-high)
    else:
        cut = low + (high - low) / 2
    if not low < cut < high:
        return None
    return [(*box[:k], ends, *box[k + 1 :]) for ends in ((low, cut), (cut, high))]


def _error_on(enclosure: Enclosure, a: Arithmetic, box: Mapping[Name, Ends]) -> float:
    """The relative error of the whole on a box."""
    place = {n: Box(a.hull(a.rational(mpq(low)), a.rational(mpq(high)))) for n, (low, high) in box.items()}
    values = enclosure.all_values(place, BITS)
    found: dict[Node, Spread] = {}
    for node in enclosure.order:
        value = values[node]
        if not isinstance(value, Box) or value.imag is not None:
            return math.inf
        low, high = float(value.real.low), float(value.real.high)
        if not max(abs(low), abs(high)) < LARGE:
            return math.inf
        found[node] = Spread(low, high, 0.0)
        found[node] = Spread(low, high, _error_of(node, found))
    return found[enclosure.root].error


def _error_of(node: Node, found: Mapping[Node, Spread]) -> float:
    if isinstance(node, Name):
        return 0.0
    if isinstance(node, Number):
        return 0.0 if float(node.rational) == node.rational else UNIT
    if isinstance(node, Sum):
        return _of_sum(node, found)
    if isinstance(node, Product):
        by_number = 0 if _is_power_of_two(node.coefficient) else 2
        return _grown([found[f].error for f in node.factors], len(node.factors) - 1 + by_number)
    if isinstance(node, Power):
        return _of_power(node, found)
    if isinstance(node, Call):
        return _of_call(node, found)
    return UNIT


def _of_call(node: Call, found: Mapping[Node, Spread]) -> float:
    if _is_exact_product(node):
        return 2 * UNIT
    if is_numeric(node, CAREFUL):
        sizes = sum(found[n].size for n in postorder(node.arguments[0].children[0]))
        return _grown([sizes * PAIR_UNIT], 2 * LIBRARY["exp"] + 2)
    inner = [found[x] for x in node.arguments]
    if node.name in ("hypot", "max", "min"):
        return _grown([max(x.error for x in inner)], 2 * OTHERS if node.name == "hypot" else 0)
    if node.name == "atan2":  # an angle in the right half plane changes by no more than the quotient does
        return _grown([x.error for x in inner], 2 * OTHERS) if inner[1].low >= 0 else math.inf
    condition = CONDITIONS[node.name](inner[0].low, inner[0].high, found[node].least)
    error = SLACK * condition * inner[0].error if inner[0].error else 0.0
    return _grown([error], 2 * LIBRARY.get(node.name, OTHERS))


def _is_power_of_two(value: object) -> bool:
    """Whether multiplying by a number is exact."""
    return not isinstance(value, Gaussian) and is_power_of_two(mpq(value))


def _grown(errors: Sequence[float], roundings: int) -> float:
    """Relative errors that multiply, and so many roundings."""
    return (
        math.expm1(sum(map(math.log1p, errors)) + roundings * math.log1p(UNIT)) * (1 + 1e-9)
        if max(errors, default=0) < 1
        else math.inf
    )


def _of_sum(node: Sum, found: Mapping[Node, Spread]) -> float:
    if any(isinstance(c, Gaussian) for c in (node.constant, *node.coefficients)):
        return math.inf
    parts: list[Spread] = []
    for term, coefficient in node.items():
        c, inner = float(mpq(coefficient)), found[term]
        error = inner.error if _is_power_of_two(coefficient) else _grown([inner.error], 2)
        parts.append(Spread(min(c * inner.low, c * inner.high), max(c * inner.low, c * inner.high), error))
    if node.constant:
        c = float(mpq(node.constant))
        parts.append(Spread(c, c, UNIT if mpq(c) != node.constant else 0.0))
    additions = len(parts) - 1
    if additions == 1 and not any(p.error for p in parts):
        return UNIT  # one operation on exact numbers
    if all(p.low >= 0 for p in parts) or all(p.high <= 0 for p in parts):
        return _grown([max(p.error for p in parts)], additions)
    least = found[node].least
    if not least or max(p.error for p in parts) == math.inf:
        return math.inf
    size = sum(p.size * (1 + p.error) for p in parts)
    return (sum(p.size * p.error for p in parts) + _grown([], additions) * size) / least * (1 + 1e-9)


def _of_power(node: Power, found: Mapping[Node, Spread]) -> float:
    base, exponent = found[node.base], node.exponent
    if not isinstance(exponent, Number) or not exponent.is_rational:
        power = found[exponent]
        if base.low <= 0:
            return math.inf
        turn = power.size * max(abs(math.log(base.low)), abs(math.log(base.high)))
        return _grown([SLACK * (power.size * base.error + turn * power.error)], 2 * OTHERS)
    p = float(abs(exponent.rational))
    times = small_power(node)
    if times:
        return _grown([base.error] * times, times)
    if exponent.rational.denominator == 2 and p <= 1.5:
        return _grown([SLACK * p * base.error], 3)
    if base.error and base.low <= 0 <= base.high and exponent.rational < 0:
        return math.inf
    inexact = (
        UNIT * p * max(abs(math.log(v)) for v in (base.size, base.least or 1e-300) if v)
        if float(exponent.rational) != exponent.rational
        else 0.0
    )
    return _grown([SLACK * p * base.error + inexact], 2 * OTHERS + 1)
