"""The expansion of a formula in a small positive u.

Sources: power series arithmetic as in D. Knuth, "The Art of Computer Programming", volume 2 (1997), section 4.7; fractional
exponents after V. Puiseux (1850)."""

from __future__ import annotations

import math
from collections.abc import Callable

from gmpy2 import fac, mpq

from gelvo.calculus.local import rules  # noqa: F401  (they register their rows)
from gelvo.calculus.local.asymptotic import ROWS, coefficients, is_series, written_far_out
from gelvo.calculus.local.expansion import (
    MOST_TERMS,
    TINY,
    Expansion,
    Short,
    Unclear,
    apart,
    binomial,
    clean,
    constant_term,
    falling,
    least,
    plus,
)
from gelvo.calculus.local.table import FAR, LOCAL, TAYLOR
from gelvo.calculus.local.taylor import rational_taylor
from gelvo.deadline import checkpoint
from gelvo.deciding.equality import is_zero
from gelvo.deciding.suppositions import may_suppose, may_suppose_nonzero
from gelvo.errors import DomainError
from gelvo.expression.building import call, number, power, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Applied, Call, Cases, Expression, Name, Node, Number, Power, Product, Sum
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, has_call, postorder, substitute
from gelvo.facts.continuity import may_meet_cut, regular_when, single_breaks
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.univariate import lowest_terms
from gelvo.functions.named import COS, COSH, EXP, LN, SIN, SINH, is_a
from gelvo.roads import on_the_way

PLAIN = (EXP, SIN, COS, SINH, COSH, LN)  # slopes of these are expanded without another one's


class Local:
    """Expansions in `u` as u goes to zero from above; `logarithm` is what ln(u) stands for."""

    def __init__(
        self,
        u: Name,
        facts: Facts,
        terms: int,
        logarithm: Expression | None = None,
        nonzero: Callable[[Expression], bool] | None = None,
    ) -> None:
        self.u, self.terms, self.nonzero = u, terms, nonzero  # nonzero: a further way to prove that a coefficient is not zero
        self.facts = facts.with_facts([u > ZERO])
        self.logarithm = LN(u) if logarithm is None else logarithm

    # --- arithmetic -------------------------------------------------------------------------------------------------------

    def add(self, pieces: list[Expansion]) -> Expansion:
        table: dict[mpq, list[Expression]] = {}
        for piece in pieces:
            for exponent, c in piece.terms.items():
                table.setdefault(exponent, []).append(c)
        return clean(table, least(*[p.order for p in pieces]))

    def multiply(self, a: Expansion, b: Expansion) -> Expansion:
        order = least(plus(a.order, b.valuation), plus(b.order, a.valuation))
        if (a.order is None and not a.terms) or (b.order is None and not b.terms):
            return Expansion({})
        table: dict[mpq, list[Expression]] = {}
        for e, c in a.terms.items():
            for f, d in b.terms.items():
                if order is None or e + f < order:
                    table.setdefault(e + f, []).append(c * d)
        return self._cut(clean(table, order))

    def _cut(self, a: Expansion) -> Expansion:
        """No more than the wanted number of terms."""
        if len(a.terms) <= self.terms:
            return a
        exponents = list(a.terms)
        return Expansion({e: a.terms[e] for e in exponents[: self.terms]}, exponents[self.terms])

    def divisor(self, a: Expansion) -> tuple[mpq, Expression, Expansion]:
        """As `leading`, where the coefficient comes to stand below a fraction line, or in a logarithm: letters must not make it zero."""
        exponent, c, rest = self.leading(a)
        if not self._never_zero(c):
            raise Unclear(f"{c} may be zero")
        return exponent, c, rest

    def _never_zero(self, c: Expression) -> bool:
        if self.nonzero is not None and self.nonzero(c):
            return True
        kept = [f for f in factors_in(c) if not contains(f, self.u)]
        return all(may_suppose_nonzero(f, self.facts) for f in kept)

    def leading(self, a: Expansion) -> tuple[mpq, Expression, Expansion]:
        """(exponent, coefficient, rest/leading): the coefficient is not zero for all letters, though it may be so for some."""
        terms = dict(a.terms)
        while terms:
            exponent = next(iter(terms))
            c = terms.pop(exponent)
            zero = False if self.facts.is_nonzero(c) else is_zero(c, self.facts)
            if zero is None and not (self.nonzero is not None and self.nonzero(c)):
                raise Unclear(f"it is not known whether {c} is zero")
            if not zero:
                shift = None if a.order is None else a.order - exponent
                return exponent, c, Expansion({e - exponent: lowest_terms(v / c) for e, v in terms.items()}, shift)
        if a.order is None:
            raise ZeroDivisionError
        raise Short

    def _steps(self, z: Expansion) -> int:
        """How many powers of z matter."""
        step = z.valuation
        if step is None:
            return 0
        if step <= 0:
            raise Unclear("a series is put into another that does not converge there")
        return self.terms if z.order is None or step < TINY * 10 else max(1, min(self.terms, int(z.order / step) + 1))

    def compose(self, z: Expansion, coefficient: Callable[[int], Expression]) -> Expansion:
        """The sum of coefficient(k)*z^k, for a z that vanishes at u = 0."""
        if not z.terms and z.order is None:
            return constant_term(coefficient(0))
        if z.valuation is not None and z.valuation < TINY * 10:
            return Expansion(constant_term(coefficient(0)).terms, z.order)
        count = self._steps(z)
        result = [constant_term(coefficient(0))]
        piece = constant_term(ONE)
        for k in range(1, count + 1):
            checkpoint()
            piece = self.multiply(piece, z)
            try:
                c = coefficient(k)
            except DomainError:  # a derivative that has no name here: the expansion ends before it
                assert z.valuation is not None
                return self._cut(self.add([*result, Expansion({}, z.valuation * k)]))
            if c is not ZERO:
                result.append(Expansion({e: c * v for e, v in piece.terms.items()}, piece.order))
        assert z.valuation is not None
        rest = Expansion({}, z.valuation * (count + 1))
        return self._cut(self.add([*result, rest]))

    def power(self, a: Expansion, q: mpq) -> Expansion:
        whole = q.denominator == 1
        try:
            exponent, c, rest = self.leading(a) if whole and q > 0 else self.divisor(a)
        except ZeroDivisionError:
            if q <= 0:
                raise Unclear("a power of zero") from None
            return Expansion({})
        if not whole and not self._off_the_cut(c, rest):
            raise Unclear(f"the root of {c} crosses its cut")
        series = self.compose(rest, lambda k: number(binomial(q, k)))
        outer = power(c, number(q))
        return Expansion({e + exponent * q: outer * v for e, v in series.terms.items()}, plus(series.order, exponent * q))

    def _off_the_cut(self, c: Expression, rest: Expansion) -> bool:
        if not self.facts.is_negative(c):
            return True
        return all(self.facts.is_real(v) for v in rest.terms.values())

    def exponential(self, a: Expansion) -> Expansion:
        if a.order is not None and a.order <= 0:
            raise Short
        constant_part = a.terms.get(mpq(0), ZERO)
        if any(e < 0 for e in a.terms):
            raise Unclear("an exponential of something that grows without bound has no power series here")
        shift, constant_part = self._powers_of_u(constant_part)
        z = Expansion({e: c for e, c in a.terms.items() if e > 0}, a.order)
        series = self.compose(z, lambda k: number(mpq(1, fac(k))))
        outer = EXP(constant_part)
        return Expansion({e + shift: outer * c for e, c in series.terms.items()}, plus(series.order, shift))

    def _powers_of_u(self, value: Expression) -> tuple[mpq, Expression]:
        """q and the rest where a constant term is q*ln(u) + rest."""
        if not contains(value, self.u):
            return mpq(0), value
        mark = self.facts.new_name("L", value)
        parts = uni.coefficients_of(substitute(value, {self.logarithm: mark}), mark)
        if parts is None or len(parts) != 2 or not (isinstance(parts[1], Number) and parts[1].is_rational):
            raise Unclear("an exponential of logarithms that is no power")
        return parts[1].rational, parts[0]

    def log(self, a: Expansion) -> Expansion:
        exponent, c, rest = self.divisor(a)
        if not self._off_the_cut(c, rest):
            raise Unclear(f"ln of {c} crosses its cut")
        series = self.compose(rest, lambda k: number(mpq((-1) ** (k + 1), k)) if k else ZERO)
        first = [LN(c)]
        if exponent:
            first.append(number(exponent) * self.logarithm)
        return self.add([constant_term(total(first)), series])

    # --- nodes ------------------------------------------------------------------------------------------------------------

    def of(self, root: Expression) -> Expansion:
        """The expansion of a formula; raises Unclear, or Short where more terms are needed."""
        done: dict[Node, Expansion] = {}
        for node in postorder(root):
            if not isinstance(node, Expression):
                continue
            checkpoint()
            if not contains(node, self.u):
                done[node] = constant_term(node)
            elif node is self.u:
                done[node] = Expansion({mpq(1): ONE})
            else:
                try:
                    done[node] = self.one(node, done)
                except Unclear:  # beside another one it may not grow
                    if node is root or not self._has_moving_exponent(node):
                        raise
        if root not in done:
            raise Unclear(f"{root} has no expansion")
        return done[root]

    def one(self, node: Expression, done: dict[Node, Expansion]) -> Expansion:
        if isinstance(node, Sum):
            pieces = [constant_term(number(node.constant))]
            for term, c in node.items():
                inner = done[term]
                pieces.append(Expansion({e: number(c) * v for e, v in inner.terms.items()}, inner.order))
            return self.add(pieces)
        if isinstance(node, Product):
            return self._product(node, done)
        if isinstance(node, Power):
            return self._power(node, done)
        if isinstance(node, Call):
            return self._call(node, done)
        if isinstance(node, Applied) and is_series(node):
            return self._far_series(node, done[node.arguments[-1]])
        if isinstance(node, Cases):
            raise Unclear("cases are expanded on one side of their borders only")
        raise Unclear(f"{node} has no expansion")

    def _product(self, node: Product, done: dict[Node, Expansion]) -> Expansion:
        result = constant_term(number(node.coefficient))
        moving = [f for f in node.factors if self._has_moving_exponent(f)]
        if len(moving) > 1:  # each may grow without bound, and their product not
            result = self.multiply(result, self.exponential(self.add([self._logarithm_of(f, done) for f in moving])))
        for factor in node.factors if len(moving) < 2 else [f for f in node.factors if f not in moving]:
            result = self.multiply(result, done[factor])
        return result

    def _far_series(self, node: Applied, inner: Expansion) -> Expansion:
        place, rest = apart(inner)
        if place is None:
            raise Unclear("a series far out of something that grows")
        return self.compose(rest, coefficients(node, place))

    def _has_moving_exponent(self, f: Expression) -> bool:
        return (is_a(f, EXP) and contains(f, self.u)) or (isinstance(f, Power) and contains(f.exponent, self.u))

    def _logarithm_of(self, f: Expression, done: dict[Node, Expansion]) -> Expansion:
        if isinstance(f, Power):
            return self.multiply(done[f.exponent], self.log(done[f.base]))
        return done[f.children[0]]

    def _power(self, node: Power, done: dict[Node, Expansion]) -> Expansion:
        exponent = node.exponent
        if isinstance(exponent, Number) and exponent.is_rational:
            return self.power(done[node.base], exponent.rational)
        if contains(exponent, self.u):
            return self.exponential(self.multiply(done[exponent], self.log(done[node.base])))
        place, c, rest = self.divisor(done[node.base])
        if place:
            raise Unclear(f"the exponent {exponent} is not known")
        series = self.compose(rest, lambda k: falling(exponent, k))
        outer = power(c, exponent)
        return Expansion({e: outer * v for e, v in series.terms.items()}, series.order)

    def _call(self, node: Call, done: dict[Node, Expansion]) -> Expansion:
        name = node.name
        if name == EXP:
            return self.exponential(done[node.arguments[0]])
        if name == LN:
            return self.log(done[node.arguments[0]])
        moving = [k for k, a in enumerate(node.arguments) if contains(a, self.u)]
        if len(moving) != 1:
            raise Unclear(f"{name} with several moving arguments")
        inner = done[node.arguments[moving[0]]]
        if inner.order is not None and inner.order <= 0 and not any(e < 0 for e in inner.terms):
            raise Short
        special = LOCAL.get(name)
        if special is not None:
            return special(self, node, inner)
        return self.ordinary(node, moving[0], inner)

    def ordinary(self, node: Call, which: int, inner: Expansion) -> Expansion:
        """A function far out, or about a place that is off its cuts and smooth."""
        if inner.terms and next(iter(inner.terms)) < 0:
            return self.at_infinity(node, inner)
        place = inner.terms.get(mpq(0), ZERO)
        if may_meet_cut(node, self.facts, place):
            raise Unclear(f"{node.name} may meet its cut there")
        z = Expansion({e: c for e, c in inner.terms.items() if e}, inner.order)
        return self.regular(node, which, place, z)

    def regular(self, node: Call, which: int, place: Expression, z: Expansion) -> Expansion:
        """Taylor's series about the value of the argument, where the function is smooth."""
        point = self.facts.new_name("s", node, self.u, place)
        arguments = list(node.arguments)
        arguments[which] = point
        function = call(node.name, *arguments)
        if not isinstance(function, Call):
            raise Unclear(f"{node.name} is not expanded here")
        short = TAYLOR[node.name](node.name, place) if node.name in TAYLOR else None
        if short is not None:
            return self.compose(z, short)
        self._smooth(function, point, place)
        slopes: list[Expression] = [function]
        termwise = self._by_integration(function, point, place)
        if termwise is not None:
            return self.compose(z, termwise)

        def coefficient(k: int) -> Expression:
            while len(slopes) <= k:
                if len(slopes) > 40:
                    raise Unclear("too many derivatives")
                slopes.append(expand(differentiate(slopes[-1], point)))
            return lowest_terms(substitute(slopes[k], {point: place}) / number(fac(k)))

        return self.compose(z, coefficient)

    def _by_integration(self, function: Call, point: Name, place: Expression) -> Callable[[int], Expression] | None:
        """Coefficients from the expansion of the derivative, where that is plainer, or has no value as it is written: Si at 0."""
        slope, has_value = differentiate(function, point), True
        try:
            substitute(slope, {point: place})
        except DomainError:
            has_value = False
        if has_value and not all(is_a(n, *PLAIN) for n in postorder(slope) if isinstance(n, Call)):
            return None
        if has_call(slope, (function.name,)):
            raise Unclear(f"{function.name} is not expanded there")
        u = self.facts.new_name("h", slope, place)
        try:
            found = expanded(substitute(slope, {point: place + u}), u, self.facts, mpq(self.terms))
        except Unclear:
            if has_value:
                return None
            raise
        if any(e < 0 or e.denominator != 1 for e in found.terms):
            raise Unclear(f"{function.name} is not smooth at {place}")
        start = substitute(function, {point: place})
        return lambda k: start if not k else found.terms.get(mpq(k - 1), ZERO) / k

    def _smooth(self, function: Call, point: Name, place: Expression) -> None:
        try:
            listed = single_breaks(function, point)
        except DomainError:
            raise Unclear(f"it is not known where {function.name} is smooth") from None
        for border in listed:
            value = substitute(border, {point: place})
            if not may_suppose_nonzero(value, self.facts):
                raise Unclear(f"{function.name} is not smooth at {place}")
        if not all(may_suppose(substitute(c, {point: place}), self.facts) for c in regular_when(function, point)):
            raise Unclear(f"{function.name} may have a pole at {place}")

    def rises(self, inner: Expansion) -> bool:
        """Whether what grows without bound goes to inf, and not to -inf."""
        _, c, _ = self.leading(inner)
        up = self.facts.is_positive(c)
        if not up and not self.facts.is_negative(c):
            raise Unclear(f"the sign of {c} is not known")
        return up

    def at_infinity(self, node: Call, inner: Expansion) -> Expansion:
        """A function whose argument grows without bound."""
        if node.name in FAR:
            return FAR[node.name](self, node, inner)
        up = self.rises(inner)
        ends = node.function.at_infinity
        if ends is None:
            raise Unclear(f"{node.name} has no limit there")
        return Expansion(constant_term(ends[0 if up else 1]()).terms, TINY)


@on_the_way("arithmetic of expansions")
def expanded(expression: Expression, u: Name, facts: Facts, through: mpq, logarithm: Expression | None = None) -> Expansion:
    """The expansion of a formula, known at least up to and including the power `through`."""
    plain = rational_taylor(expression, u, math.ceil(through)) if not expression.is_rational else None
    if plain is not None:
        coefficients_by_power, end = plain
        return Expansion({e: number(c) for e, c in coefficients_by_power.items()}, None if end is None else mpq(end))
    expression = _far_functions_written(expression, u, facts)
    terms, ends = 6, list[mpq]()
    while True:
        try:
            found = Local(u, facts, terms, logarithm).of(expression)
            if found.order is None or found.order > through:
                if any(is_series(n) for c in found.terms.values() for n in postorder(c)):
                    raise Unclear("a series in powers of logarithms")
                return found
            ends.append(found.order)
            if ends[-2:] == [found.order] * 2:
                raise Unclear(f"the coefficients from the power {found.order} on have no name")
        except Short:
            pass
        except ZeroDivisionError:
            raise Unclear("a division by something that vanishes everywhere") from None
        terms = terms * 2
        if terms > MOST_TERMS * 2:
            raise Unclear("too many leading terms cancel")


def _far_functions_written(e: Expression, u: Name, facts: Facts) -> Expression:
    """Functions of what grows as u falls to zero, by their series there."""
    if not has_call(e, tuple(ROWS), u):
        return e
    local = Local(u, facts, 4)

    def direction(argument: Expression) -> int:
        try:
            inner = local.of(argument)
            exponent, c, _ = local.leading(inner)
        except (Unclear, Short, DomainError, ZeroDivisionError):
            return 0
        return 0 if exponent >= 0 else facts.is_positive(c) - facts.is_negative(c)

    return written_far_out(e, direction, lambda argument: contains(argument, u))
