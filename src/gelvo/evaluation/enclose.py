"""Bounded evaluation: a box that certainly contains the value of a formula at a point."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from gelvo.deadline import checkpoint
from gelvo.errors import DomainError, Undecided
from gelvo.evaluation import agreement
from gelvo.evaluation.zero import zero_between
from gelvo.expression.building import number
from gelvo.expression.nodes import (
    AlgebraicNumber,
    Applied,
    Bound,
    Call,
    Cases,
    Condition,
    Constant,
    Expression,
    Junction,
    Name,
    Node,
    Number,
    Power,
    Product,
    Relation,
    Sum,
    Truth,
    Written,
)
from gelvo.expression.registry import Hooks
from gelvo.expression.traversal import free_names, names, postorder, substitute
from gelvo.numbers import box as boxes
from gelvo.numbers.box import Box
from gelvo.numbers.exact import HALF, Scalar, parts
from gelvo.numbers.interval import Arithmetic, Interval, NoValue, arithmetic

MOST_WHOLE = 1 << 20

Point = Mapping[Name, "Scalar | Box"]


Found = Mapping[Node, Box | bool | NoValue]  # the box of each part, or why it has none


class Enclosure:
    """The order of evaluation of a formula, ready for any point and precision.

    >>> from gmpy2 import mpq
    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> Enclosure(x * x - 2).at({x: mpq(3)}, 60).real.contains_zero()
    False
    """

    def __init__(self, root: Expression, *others: Expression) -> None:
        """others: formulas whose parts are worked out with those of the first."""
        self.root = root
        self.order: Sequence[Node] = postorder(root, *others)
        self.bounded = True

    def at(self, point: Point, precision: int) -> Box:
        """The box of the value; NoValue where there is none or where the precision does not suffice to tell."""
        result = self.all_values(point, precision)[self.root]
        if isinstance(result, NoValue):
            raise result
        assert isinstance(result, Box)
        return result

    def all_values(self, point: Point, precision: int) -> Found:
        """The box of every part, or why it has none."""
        a = arithmetic(precision)
        found: dict[Node, Box | bool | NoValue] = {}
        for node in self.order:
            checkpoint()
            try:
                found[node] = VALUES[type(node)](self, a, node, found, point)
            except NoValue as fault:
                found[node] = fault
        return found

    # --- kinds of nodes ---------------------------------------------------------------------------------------------------

    def _name(self, a: Arithmetic, node: Name, found: Found, point: Point) -> Box:
        place = point.get(node)
        if place is None:
            raise NoValue(f"a value needs a number for {node}", certain=True)
        return place if isinstance(place, Box) else exact_box(a, place)

    def _call(self, a: Arithmetic, node: Call, found: Found, point: Point) -> Box:
        arguments = [_value(found, c) for c in node.arguments]
        if node.function.bounds is not None:
            try:
                return node.function.bounds(a, *arguments)
            except NoValue:
                if not agreement.monotone(node, arguments) and (
                    node.function.agreed is None
                    or (any(b.imag is not None for b in arguments) and not node.function.agreed_at_complex)
                ):
                    raise
        self.bounded = False
        return agreement.call(a, node, arguments)

    def _written(self, a: Arithmetic, node: Written, found: Found, point: Point) -> Box:
        if node.kind == "root_of":
            function = Enclosure(node.body)
            box = zero_between(a, node, point, function, Enclosure)
            self.bounded = self.bounded and function.bounded
            return box
        if node.kind == "integral_of" and len(node.arguments) == 4:
            try:
                return _bounded_integral(a, node, point)
            except NoValue:
                self.bounded = False
                return agreement.integral(a, node, point, Enclosure)
        if node.kind in ("sum_of", "product_of"):
            return _bounded_collection(a, node, point)
        return self._unknown(a, node, found, point)

    def _unknown(self, a: Arithmetic, node: Node, found: Found, point: Point) -> Box:
        raise DomainError(f"{node} has no numeric value: it contains a form that was not worked out")

    def _bound(self, a: Arithmetic, node: Bound, found: Found, point: Point) -> Box:
        raise NoValue(f"{node.kind} is not a number", certain=True)


def _value(found: Found, child: Node) -> Box:
    inner = found[child]
    if isinstance(inner, NoValue):
        raise inner
    assert isinstance(inner, Box)
    return inner


def _bounded_integral(a: Arithmetic, node: Written, point: Point) -> Box:
    """With error bounds, at exact values of the letters."""
    found: Box = Hooks.bounded_integral(*_at_exact_values(node, point), a.precision)
    return found


def _bounded_collection(a: Arithmetic, node: Written, point: Point) -> Box:
    found: Box = Hooks.bounded_collection(node.kind, *_at_exact_values(node, point), a.precision)
    return found


def _at_exact_values(node: Written, point: Point) -> tuple[Expression, Name, Expression, Expression]:
    body, variable, lower, upper = node.arguments
    assert isinstance(variable, Name)
    table = {n: number(v) for n, v in point.items() if n is not variable and not isinstance(v, Box)}
    f, low, high = (substitute(e, table) for e in (body, lower, upper))
    if any(n is not variable for e in (f, low, high) for n in free_names(e)):
        raise NoValue("letters without exact values")
    return f, variable, low, high


def _sum(self: Enclosure, a: Arithmetic, node: Sum, found: Found, point: Point) -> Box:
    total = exact_box(a, node.constant)
    for term, coefficient in node.items():
        total = boxes.add(a, total, boxes.multiply(a, exact_box(a, coefficient), _value(found, term)))
    return total


def _product(self: Enclosure, a: Arithmetic, node: Product, found: Found, point: Point) -> Box:
    result = exact_box(a, node.coefficient)
    for factor in node.factors:
        result = boxes.multiply(a, result, _value(found, factor))
    return result


def exact_box(a: Arithmetic, value: Scalar) -> Box:
    real, imag = parts(value)
    return Box(a.rational(real), a.rational(imag) if imag else None)


def _constant(a: Arithmetic, node: Constant) -> Box:
    if node.name == "pi":
        return Box(a.pi())
    method = {"euler_gamma": "const_euler", "catalan": "const_catalan"}[node.name]
    return Box(Interval(getattr(a.down, method)(), getattr(a.up, method)()))


def _power(a: Arithmetic, node: Power, base: Box, exponent: Box) -> Box:
    if isinstance(node.exponent, Number) and node.exponent.is_rational:
        q = node.exponent.rational
        if q.denominator == 1:
            return boxes.integer_power(a, base, int(q))
        if abs(q) == HALF:
            root = boxes.square_root(a, base)
            return root if q > 0 else boxes.invert(a, root)
        if base.imag is None and base.real.low >= 0 and q.denominator < 1000 and abs(q.numerator) < 10**6:
            return Box(a.power(a.root(base.real, int(q.denominator)), int(q.numerator)))
    whole = _whole(exponent)
    if whole is not None:  # a name that stands for a whole number
        return boxes.integer_power(a, base, whole)
    if base.is_zero:
        if exponent.imag is None and exponent.real.low > 0:
            return Box(a.zero)
        if exponent.is_zero:
            return Box(a.one)
        raise NoValue("zero to a power that is not positive", certain=exponent.imag is None and exponent.real.high < 0)
    return boxes.power(a, base, exponent)


def _whole(exponent: Box) -> int | None:
    """The whole number that an exponent surely is."""
    end = exponent.real.low
    if exponent.imag is not None or end != exponent.real.high or not end.is_integer() or abs(end) > MOST_WHOLE:
        return None
    return int(end)


def chosen(node: Cases, found: Found) -> Expression:
    """The case that holds, from what is found of the conditions; NoValue where that is too close to call."""
    for value, condition in zip(node.values, node.conditions, strict=False):
        holds = found[condition]
        if isinstance(holds, NoValue):
            raise holds
        if holds:
            return value
    return node.otherwise


def _decide(a: Arithmetic, node: Condition, found: Found) -> bool:
    if isinstance(node, Truth):
        return node.holds
    if isinstance(node, Junction):
        states = [found[p] for p in node.parts]
        decisive = node.word == "or"
        if any(s is decisive for s in states):
            return decisive
        for state in states:
            if isinstance(state, NoValue):
                raise state
        return not decisive
    assert isinstance(node, Relation)
    gap = boxes.add(a, _value(found, node.left), boxes.negate(a, _value(found, node.right)))
    holds = _equality(node, gap) if node.operator in ("=", "!=") else _order(node, gap)
    if holds is None:
        raise NoValue("a condition that is too close to call")
    return holds


def _equality(node: Relation, gap: Box) -> bool | None:
    if not gap.contains_zero():
        return node.operator == "!="
    return node.operator == "=" if gap.is_zero else None


def _order(node: Relation, gap: Box) -> bool | None:
    if gap.imag is not None:
        raise NoValue("complex numbers have no order", certain=not gap.imag.contains_zero())
    sign = gap.real.sign
    if sign is not None:
        return sign < 0 or (sign == 0 and node.operator == "<=")
    if node.operator == "<=" and gap.real.high == 0:
        return True
    return False if node.operator == "<" and gap.real.low == 0 else None


def enclose(root: Expression, point: Point, precision: int) -> Box:
    return Enclosure(root).at(point, precision)


def surely_not_real(root: Expression) -> bool:
    """Whether the value of a formula without names is certainly not real."""
    if names(root):
        return False
    try:
        box = enclose(root, {}, 128)
    except (NoValue, DomainError):
        return False
    return box.imag is not None and not box.imag.contains_zero()


def sign_at(root: Expression, point: Point, most_bits: int = 4000) -> int:
    """The sign of a real formula at a point, certain; Undecided where it stays too close to zero."""
    enclosure, precision = Enclosure(root), 64
    while precision <= most_bits:
        try:
            box = enclosure.at(point, precision)
            if box.imag is not None and not box.imag.contains_zero():
                raise DomainError(f"{root} is not real there")
            if box.real.sign is not None and box.imag is None:
                return box.real.sign
        except NoValue as fault:
            if fault.certain:
                raise DomainError(f"{root} has no value there: {fault}") from None
        precision *= 4
    raise Undecided(f"the sign of {root} is too close to zero to tell")


def _decided(self: Enclosure, a: Arithmetic, node: Condition, found: Found, point: Point) -> bool:
    return _decide(a, node, found)


VALUES: dict[type[Node], Callable[[Enclosure, Arithmetic, Any, Found, Point], Box | bool]] = {
    Number: lambda self, a, node, found, point: exact_box(a, node.value),
    Constant: lambda self, a, node, found, point: _constant(a, node),
    AlgebraicNumber: lambda self, a, node, found, point: Hooks.root_box(a, node.coefficients, node.index),
    Name: Enclosure._name,
    Bound: Enclosure._bound,
    Sum: _sum,
    Product: _product,
    Power: lambda self, a, node, found, point: _power(a, node, _value(found, node.base), _value(found, node.exponent)),
    Call: Enclosure._call,
    Applied: Enclosure._unknown,
    Written: Enclosure._written,
    Cases: lambda self, a, node, found, point: _value(found, chosen(node, found)),
    Relation: _decided,
    Junction: _decided,
    Truth: _decided,
}
