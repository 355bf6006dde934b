"""Limits by comparability: the most rapidly varying parts are written in one of them, and the leading term decides."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from gmpy2 import mpq

from gelvo.calculus.local.expander import Local
from gelvo.calculus.local.expansion import TINY, Short, Unclear
from gelvo.calculus.local.rules.special import polylogarithm_far_out
from gelvo.calculus.real_far_out import is_real_far_out
from gelvo.deadline import checkpoint
from gelvo.deciding.equality import is_zero
from gelvo.deciding.suppositions import may_suppose_nonzero
from gelvo.errors import DomainError
from gelvo.expression.building import constant, multiply_all, number, power, scale, total, weighted_terms
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, ONE, UNDEFINED, ZERO
from gelvo.expression.nodes import Bound, Call, Expression, Name, Node, Number, Power, Product
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, distinct_nodes, postorder, substitute, transform
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.forms.univariate import lowest_terms
from gelvo.functions.named import (
    ABS,
    ACOSH,
    ASINH,
    ATAN,
    CBRT,
    COSH,
    COTH,
    CSCH,
    EXP,
    HEAVISIDE,
    LN,
    POLYLOG,
    SECH,
    SIGN,
    SINH,
    SINHC,
    TANH,
    is_a,
)

DEEPEST = 24


LARGEST = 1500


Exponents = dict[Expression, Expression]  # a most rapidly varying part -> its logarithm


class Leading(NamedTuple):
    """coefficient * w^exponent, where w dies away faster than the coefficient varies."""

    coefficient: Expression
    exponent: mpq


class Comparison:
    """One question about x going to infinity: its facts, and the answers so far."""

    def __init__(self, x: Name, facts: Facts) -> None:
        self.x = x
        self.facts = facts.with_facts([x > number(10)])
        self.known: dict[Expression, Expression] = {}

    def limit(self, e: Expression, depth: int = 0) -> Expression:
        """The limit; raises Unclear."""
        checkpoint()
        if not contains(e, self.x):
            return e
        if e is self.x:
            return INFINITE
        if depth > DEEPEST or distinct_nodes(e) > LARGEST:
            raise Unclear("the comparison goes too deep")
        found = self.known.get(e)
        if found is None:
            found = self.known[e] = self._limit(e, depth)
        return found

    def _limit(self, e: Expression, depth: int) -> Expression:
        joined = self._product_of_exponentials(e, depth) or self._power_by_logarithm(e, depth)
        if joined is not None:
            return joined
        try:
            lead = self.leading(e, depth)
        except ZeroDivisionError:
            return ZERO
        if lead.exponent > 0:
            return ZERO
        if lead.coefficient is e and not lead.exponent:
            end = self.term_by_term(e, depth)
            if end is None:
                raise Unclear("no leading term is told")
            return end
        if lead.exponent < 0:
            return INFINITE if self.sign(lead.coefficient, depth + 1) > 0 else MINUS_INFINITE
        return self.limit(lead.coefficient, depth + 1)

    def _power_by_logarithm(self, e: Expression, depth: int) -> Expression | None:
        """A power whose base and exponent both move."""
        if not (isinstance(e, Power) and contains(e.exponent, self.x) and contains(e.base, self.x)):
            return None
        end = self.limit(e.exponent * LN(e.base), depth + 1)
        if end is UNDEFINED:
            raise Unclear("the logarithm has no limit")
        return INFINITE if end is INFINITE else ZERO if end is MINUS_INFINITE else EXP(end)

    def _product_of_exponentials(self, e: Expression, depth: int) -> Expression | None:
        """Powers whose exponents grow but whose logarithms together settle, such as 2^(-x)*(1 + 3^(1/x))^x."""
        if not isinstance(e, Product):
            return None
        parts = [(f, logarithm_of(f, self.x)) for f in e.factors]
        logarithms = [s for _, s in parts if s is not None]
        if len(logarithms) < 2:
            return None
        together = self.limit(total(logarithms), depth + 1)
        if isinstance(together, Bound):
            return None
        rest = self.limit(multiply_all([number(e.coefficient), *[f for f, s in parts if s is None]]), depth + 1)
        return None if isinstance(rest, Bound) else EXP(together) * rest

    def sign(self, e: Expression, depth: int) -> int:
        """The sign of a formula for all large x: it must not be zero."""
        if self.facts.is_positive(e):
            return 1
        if self.facts.is_negative(e):
            return -1
        if not contains(e, self.x):
            raise Unclear(f"the sign of {e} is not known")
        gap = self._gap_of_exponentials(e)
        if gap is not None:
            return self.sign(gap, depth + 1)
        try:
            lead = self.leading(e, depth)
        except ZeroDivisionError:
            raise Unclear("the sign of zero") from None
        if lead.coefficient is not e:
            return self.sign(lead.coefficient, depth + 1)
        end = self.term_by_term(e, depth)
        if end is None or (not contains(end, self.x) and not (self.facts.is_positive(end) or self.facts.is_negative(end))):
            raise Unclear(f"the sign of {e} is not known")
        return self.sign(end, depth + 1)

    def _gap_of_exponentials(self, e: Expression) -> Expression | None:
        """A - B + ln(c/d), which has the sign of p*(c*exp(A) - d*exp(B)) with positive p, c, d; None for any other formula."""
        outer = number(e.coefficient) if isinstance(e, Product) else ONE
        rest = [f for f in factors_in(e) if not (is_a(f, EXP) and self.facts.is_positive(f))]
        terms = terms_of(rest[0]) if len(rest) == 1 else []
        found: dict[int, Expression] = {}
        for term in terms if len(terms) == 2 else ():
            c = number(term.coefficient) if isinstance(term, Product) else ONE
            factors = factors_in(term)
            if not all(is_a(f, EXP) and self.facts.is_positive(f) for f in factors):
                return None
            way = 1 if self.facts.is_positive(outer * c) else -1
            found[way] = total([LN(way * outer * c), *(f.children[0] for f in factors if isinstance(f.children[0], Expression))])
        return found[1] - found[-1] if len(found) == 2 else None

    def term_by_term(self, e: Expression, depth: int) -> Expression | None:
        """The sum of the limits of the terms, in which exponentials of what settles together are joined."""
        terms = terms_of(expand(e))
        ends = [self.limit(t, depth + 1) for t in terms] if len(terms) > 1 else []
        return total(ends) if ends and not any(isinstance(end, Bound) for end in ends) else None

    def leading(self, e: Expression, depth: int) -> Leading:
        """The leading term in the most rapidly varying part."""
        if depth > DEEPEST:
            raise Unclear("the comparison goes too deep")
        e = self.prepared(e, depth)
        if not contains(e, self.x):
            return Leading(e, mpq(0))
        fastest = self.fastest(e, depth)
        moved = 0
        while self.x in fastest:
            # x itself is among them: with exp(x) for x they are exponentials, of the same order among each other
            up = {self.x: EXP(self.x)}
            e = _exponential_powers(substitute(e, up), self.facts)
            others = [_exponential_powers(substitute(s, up), self.facts) for f, s in fastest.items() if f is not self.x]
            fastest = {EXP(s): s for s in others} | self._like_exp(e, depth)
            fastest = fastest or self.fastest(e, depth + 1)  # x stood inside logarithms only
            moved += 1
            if moved > 5:
                raise Unclear("no exponential was found")
        return self._down(self._in_small(e, fastest, depth), moved)

    def _like_exp(self, e: Expression, depth: int) -> Exponents:
        """The parts exp(s) that grow or die away as a power of exp(x)."""
        found: Exponents = {}
        for node in postorder(e):
            if not is_a(node, EXP) or not contains(node, self.x):
                continue
            rate = expand(node.arguments[0] / self.x)
            if not (isinstance(rate, Number) and rate.is_rational):
                rate = self.limit(rate, depth + 1)
            if not isinstance(rate, Bound) and rate is not ZERO:
                found[node] = node.arguments[0]
        return found

    def _down(self, lead: Leading, moved: int) -> Leading:
        c = lead.coefficient
        for _ in range(moved):
            c = substitute(c, {self.x: LN(self.x)})
        return Leading(c, lead.exponent)

    # --- which parts vary fastest ----------------------------------------------------------------------------------------

    def fastest(self, e: Expression, depth: int) -> Exponents:
        """The most rapidly varying parts, each with its logarithm."""
        result: Exponents = {}
        seen: dict[Node, Exponents] = {}
        for node in postorder(e):
            if not isinstance(node, Expression) or not contains(node, self.x):
                continue
            if node is self.x:
                seen[node] = {node: LN(node)}
                continue
            result = {}
            for child in _children(node):
                if child in seen:
                    result = self._joined(result, seen[child], depth)
            argument = logarithm_of(node, self.x)
            if argument is not None:
                grown = self.limit(argument, depth + 1)
                if isinstance(grown, Bound) and grown is not UNDEFINED:
                    inner: Exponents = {}
                    for child in names_inside(argument, self.x, seen):
                        inner = self._joined(inner, seen[child], depth)
                    result = self._joined({node: argument}, inner, depth)
            seen[node] = result
        return seen.get(e, {})  # a formula without the variable has no such part

    def _joined(self, a: Exponents, b: Exponents, depth: int) -> Exponents:
        if not a or not b:
            return a or b
        f, g = next(iter(a.values())), next(iter(b.values()))
        if f is g:
            return {**a, **b}
        ratio = self.limit(_quotient(f, g), depth + 1)
        if ratio is ZERO:
            return b
        return a if isinstance(ratio, Bound) else {**a, **b}

    # --- in terms of one small quantity -------------------------------------------------------------------------------------

    def _in_small(self, e: Expression, fastest: Exponents, depth: int) -> Leading:
        """The formula expanded in w = exp(-|s|) for the simplest of the fastest parts exp(s)."""
        if not fastest:
            raise Unclear("no part varies with the variable")
        listed = sorted(fastest.items(), key=lambda item: distinct_nodes(item[0]))
        s = self.real_part(listed[0][1], depth)
        up = self.sign(s, depth + 1) > 0
        w = self.facts.new_name("w", e)
        logarithm = -s if up else s
        table: dict[Expression, Expression] = {}
        for part, t in listed:  # the simplest first: the rest of a later one may hold those before, as exp(x + exp(-x)) does
            c = self.limit(_quotient(t, s), depth + 1)
            if not (isinstance(c, Number) and c.is_rational and c is not ZERO):
                raise Unclear(f"{part} varies by a power that is no fraction")
            rest = expand(t - c * s)
            table[part] = EXP(_replaced(rest, table)) * power(w, number(-c.rational if up else c.rational))
        inside = _replaced(e, table)
        return self._leading_of(inside, w, logarithm, depth)

    def never_zero(self, e: Expression, depth: int) -> bool:
        """Whether a formula is not zero for all large x."""
        if not contains(e, self.x):
            return may_suppose_nonzero(e, self.facts)
        if self.facts.is_nonzero(e):
            return True
        try:
            return self.never_zero(self.leading(e, depth).coefficient, depth + 1)
        except ZeroDivisionError:
            return False

    def is_real(self, e: Expression, depth: int) -> bool:
        return is_real_far_out(e, self.x, self.facts, lambda u: self.sign(u, depth + 1) > 0)

    def real_part(self, s: Expression, depth: int) -> Expression:
        """The terms of a logarithm that are real: the others turn exp(s), and count among its coefficients."""
        if self.is_real(s, depth):
            return s
        kept = [scale(t, c) for t, c in weighted_terms(expand(s)) if contains(t, self.x) and self.is_real(scale(t, c), depth)]
        if not kept:
            raise Unclear(f"{s} is not known to be real")
        return total(kept)

    def _leading_of(self, inside: Expression, w: Name, logarithm: Expression, depth: int) -> Leading:
        terms = 3
        while terms <= 48:
            local = Local(w, self.facts, terms, logarithm, lambda c: contains(c, self.x) and self.never_zero(c, depth + 1))
            try:
                found = local.of(inside)
                if not found.terms and found.order is not None and 0 < found.order <= TINY * 1000:
                    return Leading(ONE, mpq(1))
                exponent, c, _ = local.leading(found)
                return Leading(c, exponent)
            except Short:
                terms *= 2
        if is_zero(inside, self.facts):
            return Leading(ZERO, mpq(0))
        raise Unclear("too many leading terms cancel")

    def prepared(self, e: Expression, depth: int) -> Expression:
        """Powers with x in the exponent, hyperbolic functions of something that grows, and functions with a rest at infinity."""

        def visit(node: Node) -> Node:
            if isinstance(node, Call) and contains(node, self.x):
                if node.name in _GROWING and isinstance(self.limit(node.arguments[0], depth + 1), Bound):
                    assert node.function.as_elementary is not None
                    return expand(node.function.as_elementary(*node.arguments))
                if node.name in _ORDERED:
                    return node
                # Far out a function may hide an exponential (gamma, 1 - erf) or vanish again and again (sin): neither is a
                # coefficient that varies slowly, so what stands in no table is not compared at all.
                for u in node.arguments:
                    ends = self.limit(u, depth + 1)
                    if isinstance(ends, Bound):
                        tail = _TAILS.get(node.name)
                        if tail is None or ends is UNDEFINED or not self.is_real(u, depth):
                            raise Unclear(f"the growth of {node.name} far out is not known")
                        return tail(*node.arguments, ends is INFINITE)
            return node

        return _exponential_powers(transform(e, visit), self.facts)


_GROWING = (SINH, SINHC, COSH, TANH, COTH, SECH, CSCH, ASINH, ACOSH)


def _atan_tail(u: Expression, up: bool) -> Expression:
    return (constant("pi") / 2 if up else -constant("pi") / 2) - ATAN(1 / u)


def _polylogarithm_tail(order: Expression, u: Expression, up: bool) -> Expression:
    if up or not (order.is_whole and 2 <= order.rational <= DEEPEST):
        raise Unclear("polylog is real below 1 only")
    n, w = int(order.rational), LN(-u)
    return total([c * w**k for c, k in polylogarithm_far_out(n)]) + (-1) ** (n - 1) * POLYLOG(order, 1 / u)


# What a function of something that grows, or falls, without bound is made of.
_TAILS: dict[str, Callable[..., Expression]] = {
    ATAN: _atan_tail,
    ABS: lambda u, up: u if up else -u,
    CBRT: lambda u, up: power(u, number(mpq(1, 3))) if up else -power(-u, number(mpq(1, 3))),
    SIGN: lambda u, up: number(1 if up else -1),
    HEAVISIDE: lambda u, up: number(1 if up else 0),
    POLYLOG: _polylogarithm_tail,
}


_ORDERED = (EXP, LN)  # compared by their growth


def _children(node: Node) -> tuple[Node, ...]:
    return tuple(n for n in node.children)


def names_inside(argument: Expression, x: Name, seen: dict[Node, Exponents]) -> list[Node]:
    return [argument] if argument in seen else [n for n in reversed(postorder(argument)) if n in seen][:1]


def logarithm_of(node: Node, x: Name) -> Expression | None:
    """s where the node is exp(s), or a power whose exponent moves."""
    if is_a(node, EXP):
        return node.arguments[0]
    if isinstance(node, Power) and contains(node.exponent, x):
        return node.exponent * LN(node.base)
    return None


def _exponential_powers(e: Expression, facts: Facts) -> Expression:
    """exp(x)^q as exp(q*x), so that one form stands for one order of growth; ln(exp(x)) is x for a real x."""

    def visit(node: Node) -> Node:
        if (
            isinstance(node, Power)
            and is_a(node.base, EXP)
            and (isinstance(node.exponent, Number) or facts.is_real(node.base.arguments[0]))
        ):
            return EXP(node.exponent * node.base.arguments[0])
        if is_a(node, LN) and is_a(node.arguments[0], EXP):
            return node.arguments[0].arguments[0]
        return node

    return transform(e, visit)


def _replaced(e: Expression, table: dict[Expression, Expression]) -> Expression:
    """The fastest parts replaced where they stand, the outermost first."""
    return substitute(e, table)


def _quotient(a: Expression, b: Expression) -> Expression:
    try:
        return lowest_terms(a / b)
    except DomainError:
        return a / b
