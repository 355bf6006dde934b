"""An integrand prepared for bounds over boxes of the complex plane, where it is analytic: NoValue where that is not seen."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import NamedTuple

from gmpy2 import fac, mpfr, mpq

from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.building import multiply_all, number, power, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Call, Expression, Name, Node, Number, Power, Product, Sum
from gelvo.expression.terms import base_and_exponent
from gelvo.expression.traversal import contains, dependents, fresh_name, postorder, substitute, transform
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.functions import named
from gelvo.functions.named import is_a
from gelvo.numbers import box as boxes
from gelvo.numbers.box import Box
from gelvo.numbers.interval import Arithmetic, Interval, NoValue, arithmetic

HIGHEST_ORDER = 8


def _off_the_negative_axis(z: Box) -> bool:
    return z.real.low > 0 or (z.imag is not None and not z.imag.contains_zero())


def _off_the_imaginary_cuts(z: Box) -> bool:
    return z.imag is None or (z.imag.low > -1 and z.imag.high < 1) or not z.real.contains_zero()


def _off_the_real_cuts(z: Box) -> bool:
    return (z.real.low > -1 and z.real.high < 1) or (z.imag is not None and not z.imag.contains_zero())


def _everywhere(z: Box) -> bool:
    return True


# where each function is analytic; what is not here is not known to be so anywhere
ANALYTIC: dict[str, Callable[[Box], bool]] = {
    **dict.fromkeys((named.EXP, named.SIN, named.COS, named.SINH, named.COSH, named.ERF, named.ERFC, named.ERFI), _everywhere),
    **dict.fromkeys((named.TAN, named.COT, named.SEC, named.CSC, named.TANH, named.COTH, named.SECH, named.CSCH), _everywhere),
    **dict.fromkeys((named.AIRYAI, named.AIRYBI, named.AIRYAI_PRIME, named.AIRYBI_PRIME, named.SI, named.SHI), _everywhere),
    named.LN: _off_the_negative_axis,
    named.ATAN: _off_the_imaginary_cuts,
    named.ASINH: _off_the_imaginary_cuts,
    **dict.fromkeys((named.ASIN, named.ACOS, named.ATANH), _off_the_real_cuts),
}  # fmt: skip


class Guarded:
    """A formula over boxes on which all of its parts are analytic."""

    def __init__(self, f: Expression, *variables: Name) -> None:
        self.enclosure = Enclosure(f)
        self.guards: list[tuple[Node, Callable[[Box], bool]]] = []
        affected = set().union(*(dependents(f, n) for n in variables))
        for node in postorder(f):
            if node in affected and node not in variables:
                self._guard(node)

    def _guard(self, node: Node) -> None:
        if isinstance(node, Call):
            if node.name not in ANALYTIC or len(node.arguments) != 1:
                raise NoValue(f"{node.name} is not known to be analytic")
            if ANALYTIC[node.name] is not _everywhere:
                self.guards.append((node.arguments[0], ANALYTIC[node.name]))
        elif isinstance(node, Power):
            if not (isinstance(node.exponent, Number) and node.exponent.is_whole):
                self.guards.append((node.base, _off_the_negative_axis))
        elif not isinstance(node, (Sum, Product)):
            raise NoValue("a form that is not known to be analytic")

    def at(self, point: Mapping[Name, Box], precision: int) -> Box:
        found = self.enclosure.all_values(point, precision)
        for inner, allowed in self.guards:
            box = found[inner]
            if not isinstance(box, Box) or not allowed(box):
                raise NoValue("a cut in the way")
        result = found[self.enclosure.root]
        if isinstance(result, NoValue):
            raise result
        assert isinstance(result, Box)
        return result


class _Quotient(NamedTuple):
    """whole/x^order, analytic where the whole is: `slope` is the derivative of that order over its factorial."""

    name: Name
    whole: Guarded
    slope: Guarded
    order: int


class Analytic:
    """f over boxes, with the quotients that stay finite at x = 0.

    place: x by another variable, which is called x again; the integrand then is that times the weight;
    from_zero: whether x = 0 is looked at.
    """

    def __init__(
        self, f: Expression, x: Name, place: Expression | None = None, weight: Expression | None = None, from_zero: bool = True
    ) -> None:
        self.x = x
        self.quotients: list[_Quotient] = []
        inside = self._prepared(f) if from_zero else f
        if place is not None and weight is not None:
            inside = dying_forms(plain(substitute(inside, {x: place}) * weight), x)
        self.place = None if place is None else Guarded(place, x)
        self.inside = inside
        self.guarded = Guarded(inside, x, *[q.name for q in self.quotients])

    def _prepared(self, f: Expression) -> Expression:
        """What vanishes at x = 0 as x^k times a quotient, where it stands in products, powers and logarithms."""
        bases = {base for node in postorder(f) for base in _bases(node)}
        table: dict[Expression, Expression] = {}
        for base in sorted((b for b in bases if isinstance(b, (Sum, Call)) and contains(b, self.x)), key=str):
            order = self._order(base)
            if order:
                name = fresh_name(f"q{len(table)}", f)
                slope = differentiate(base, self.x, order) / number(mpq(fac(order)))
                self.quotients.append(_Quotient(name, Guarded(expand(base), self.x), Guarded(slope, self.x), order))
                table[base] = power(self.x, number(order)) * name
        return _replaced(f, table) if table else f

    def _order(self, base: Expression) -> int:
        """How often a formula vanishes at 0, as far as exact values show."""
        try:
            for k in range(HIGHEST_ORDER):
                if substitute(base, {self.x: ZERO}) is not ZERO:
                    return k
                base = differentiate(base, self.x)
        except (GelvoError, ArithmeticError):
            return 0
        return 0

    def at(self, z: Box, precision: int) -> Box:
        """Bounds over a box, on which the integrand is analytic."""
        return self.guarded.at({self.x: z, **self.of_quotients(z, precision)}, precision)

    def of_quotients(self, z: Box, precision: int) -> dict[Name, Box]:
        """Bounds of the quotients over a box."""
        if not self.quotients:
            return {}
        a = arithmetic(precision)
        inner = z if self.place is None else self.place.at({self.x: z}, precision)
        return {q.name: self._quotient(a, q, inner, precision) for q in self.quotients}

    def _quotient(self, a: Arithmetic, q: _Quotient, z: Box, precision: int) -> Box:
        """Beside 0 by the values of a derivative between 0 and there, whose mean it is (B. Taylor's remainder as an integral)."""
        if z.contains_zero():
            return q.slope.at({self.x: z}, precision)
        direct = boxes.multiply(a, q.whole.at({self.x: z}, precision), boxes.integer_power(a, z, -q.order))
        try:
            return _both(direct, q.slope.at({self.x: _with_zero(z)}, precision))
        except NoValue:
            return direct


def _replaced(f: Expression, table: Mapping[Expression, Expression]) -> Expression:
    """The bases of products, powers and logarithms replaced, and no other occurrence: a quotient is no part of a sum."""

    def visit(node: Node) -> Node:
        if isinstance(node, Power) and node.base in table:
            return power(table[node.base], node.exponent)
        if isinstance(node, Product):
            return multiply_all([number(node.coefficient), *(table.get(g, g) for g in node.factors)])
        if is_a(node, named.LN) and node.arguments[0] in table:
            return named.LN(table[node.arguments[0]])
        return node

    whole = transform(f, visit)
    return table.get(whole, whole) if isinstance(whole, Expression) else f


def plain(f: Expression) -> Expression:
    """Powers of exponentials as exponents, logarithms of products with exponentials as sums."""

    def visit(node: Node) -> Node:
        if isinstance(node, Power) and is_a(node.base, named.EXP):
            return named.EXP(expand(node.base.arguments[0] * node.exponent))
        if isinstance(node, Power) and isinstance(node.base, Product) and any(is_a(g, named.EXP) for g in node.base.factors):
            grown = [g for g in node.base.factors if is_a(g, named.EXP)]
            rest = multiply_all([number(node.base.coefficient), *(g for g in node.base.factors if g not in grown)])
            return power(rest, node.exponent) * named.EXP(expand(total([g.arguments[0] for g in grown]) * node.exponent))
        if is_a(node, named.LN):
            return _logarithm(node)
        return node

    return transform(f, visit)


def _logarithm(node: Call) -> Expression:
    inner = node.arguments[0]
    factors = inner.factors if isinstance(inner, Product) else (inner,)
    grown = [g.arguments[0] for g in factors if is_a(g, named.EXP)]
    if not grown:
        return node
    outer = number(inner.coefficient) if isinstance(inner, Product) else number(1)
    rest = multiply_all([outer, *(g for g in factors if not is_a(g, named.EXP))])
    return named.LN(rest) + total(grown)


def dying_forms(f: Expression, x: Name) -> Expression:
    """Sums under powers, divided through by their largest exponential: 1/(exp(x) - 1) as exp(-x)/(1 - exp(-x))."""

    def visit(node: Node) -> Node:
        if is_a(node, named.SINH, named.COSH, named.TANH, named.COTH, named.SECH, named.CSCH) and contains(node, x):
            assert node.function.as_elementary is not None
            return transform(node.function.as_elementary(node.arguments[0]), visit)
        if not isinstance(node, Power) or not isinstance(node.base, Sum) or not contains(node.base, x):
            return node
        rates = [(_rate(t, x), t) for t in terms_of(expand(node.base))]
        largest = max(r for r, _ in rates)
        if not largest:
            return node
        factor = number(largest) * x
        inner = total([_as_one_exponential(t * named.EXP(-factor)) for _, t in rates])
        return power(inner, node.exponent) * named.EXP(expand(factor * node.exponent))

    return _as_one_exponential(transform(f, visit))


def _as_one_exponential(t: Expression) -> Expression:
    """A product of exponentials as one."""
    if not isinstance(t, Product):
        return t
    exponents = [g.arguments[0] for g in t.factors if is_a(g, named.EXP)]
    others = [g for g in t.factors if not is_a(g, named.EXP)]
    return multiply_all([number(t.coefficient), *others, named.EXP(expand(total(exponents)))])


def _rate(t: Expression, x: Name) -> mpq:
    """The rational rate of the exponentials in a term, zero where there are none."""
    whole = mpq(0)
    for g in t.factors if isinstance(t, Product) else (t,):
        base, k = base_and_exponent(g)
        line = uni.linear_parts(base.arguments[0], x) if is_a(base, named.EXP) else None
        if line is not None and line[0].is_rational and k.is_rational:
            whole += mpq(line[0].rational) * mpq(k.rational)
    return whole


def _both(one: Box, other: Box) -> Box:
    """What lies in both of two boxes that hold the same number."""
    real = Interval(max(one.real.low, other.real.low), min(one.real.high, other.real.high))
    if one.imag is None or other.imag is None:
        return Box(real)
    return Box(real, Interval(max(one.imag.low, other.imag.low), min(one.imag.high, other.imag.high)))


def _bases(node: Node) -> list[Expression]:
    if isinstance(node, Product):
        return [base_and_exponent(g)[0] for g in node.factors]
    if isinstance(node, Power):
        return [node.base]
    return [node.arguments[0]] if is_a(node, named.LN) else []


def _with_zero(z: Box) -> Box:
    real = Interval(min(z.real.low, mpfr(0)), max(z.real.high, mpfr(0)))
    return Box(real, None if z.imag is None else Interval(min(z.imag.low, mpfr(0)), max(z.imag.high, mpfr(0))))
