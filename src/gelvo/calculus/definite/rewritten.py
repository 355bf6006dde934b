"""Integrals led to others: by parts, term by term, and from 0..1 to 0..inf where logarithms stand.

Source: J. Edwards, "A Treatise on the Integral Calculus", volume 1 (1921), chapter 10, and volume 2 (1922), chapter 24.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from gelvo.calculus.antiderivative.search import antiderivative
from gelvo.calculus.found import Found, summed
from gelvo.calculus.limits import limit
from gelvo.errors import DomainError
from gelvo.expression.building import sqrt
from gelvo.expression.constants import INFINITE, ONE, PI, ZERO
from gelvo.expression.nodes import Bound, Call, Expression, Name, Node, Number, Power, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, has_call, postorder, substitute, transform
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import ACOT, ASIN, ASINH, ATAN, ATANH, CI, COS, COSH, EI, ERF, ERFC, EXP, LN, SI, SIN, SINH, TAN, is_a
from gelvo.normal.prepare import prepared
from gelvo.simplifying.families.waves import by_multiple_angles

MOST_TERMS = 8
Integral = Callable[[Expression, Expression, Expression], Found | None]
Way = Callable[[Expression, Name, Expression, Expression, Facts, Integral], Found | None]
BY_SLOPE = (
    LN,
    ATAN,
    ACOT,
    ASIN,
    ASINH,
    ATANH,
    ERF,
    ERFC,
    EI,
    SI,
    CI,
)  # functions that a derivative makes algebraic, or exponentials


def rewritten(
    f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts, integral: Integral, ways: tuple[Way, ...]
) -> Iterator[Found]:
    """What other integrals say of this one, one after the other."""
    for way in ways:
        try:
            found = way(f, x, lower, upper, facts, integral)
        except (DomainError, ZeroDivisionError):
            continue
        if found is not None:
            yield found


def is_for_a_logarithm(f: Expression, x: Name, lower: Expression, upper: Expression) -> bool:
    """Whether ln(x) is the one function beside a quotient between 0 and 1: then x = exp(-t) is likelier than an antiderivative."""
    calls = {n for n in postorder(f) if isinstance(n, Call) and contains(n, x)}
    below = any(isinstance(n, Power) and isinstance(n.base, Sum) and contains(n.base, x) for n in postorder(f))
    return below and lower is ZERO and upper is ONE and calls == {LN(x)}


def from_zero_on(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts, integral: Integral) -> Found | None:
    """x = exp(-t) from 0 to 1, beside ln(x): (x^a - x^b)/ln(x) as exponentials over t."""
    if lower is not ZERO or upper is not ONE or not has_call(f, (LN,), x):
        return None
    t = facts.new_name("t", f)
    plain = transform(substitute(f, {x: EXP(-t)}) * EXP(-t), _of_exponentials)  # ln(1 - x) stays ln(1 - exp(-t))
    found = integral(substitute(expand(plain), {t: x}), ZERO, INFINITE)
    return None if found is None else found._replace(road=f"{x} = exp(-t); {found.road}", places=())


def _of_exponentials(node: Node) -> Node:
    """Powers and logarithms of single exponentials, of real exponents."""
    if is_a(node, LN) and is_a(node.arguments[0], EXP):
        return node.arguments[0].arguments[0]
    if isinstance(node, Power) and is_a(node.base, EXP):
        return EXP(node.base.arguments[0] * node.exponent)
    return node


def _as_exponentials(
    f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts, integral: Integral
) -> Found | None:
    """To infinity, hyperbolic functions by exponentials: sinh(x)*exp(-2*x)/x as a difference over x."""
    if not isinstance(upper, Bound) or not has_call(f, (SINH, COSH), x):
        return None

    def visit(node: Node) -> Node:
        if not is_a(node, SINH, COSH):
            return node
        assert node.function.as_elementary is not None
        return node.function.as_elementary(*node.arguments)

    found = integral(expand(transform(f, visit)), lower, upper)
    return None if found is None else found._replace(road=f"by exponentials; {found.road}")


def _by_parts(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts, integral: Integral) -> Found | None:
    """A function with a simpler slope beside exponentials, waves and powers: what stands at the ends, less the integral with its slope."""
    inside = [g for g in factors_in(f) if is_a(g, *BY_SLOPE) and contains(g, x)]
    if len(inside) != 1:
        return None
    rest = f / inside[0]
    if not has_call(rest, (EXP, SIN, COS), x):
        return None
    outer = antiderivative(rest, x, facts)
    if outer is None or outer.conditions or has_call(outer.value, BY_SLOPE, x):
        return None
    ends = []
    for end, side in ((upper, "below"), (lower, "above")):
        found = limit(outer.value * inside[0], x, end, None if isinstance(end, Bound) else side, facts)
        if found is None or isinstance(found.value, Bound):
            return None
        ends.append(found.value)
    left = integral(factored(outer.value * differentiate(inside[0], x)), lower, upper)
    if left is None:
        return None
    return Found(ends[0] - ends[1] - left.value, left.conditions, f"by parts; {left.road}")


def _by_terms(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts, integral: Integral) -> Found | None:
    """Term by term, a wave of a line by those of its multiple; each term must converge by itself."""

    def opened(node: Node) -> Node:
        parts = uni.linear_parts(node.arguments[0], x) if is_a(node, SIN, COS) else None
        if parts is None or parts[1] is ZERO:
            return node
        slope, start = parts[0] * x, parts[1]
        if is_a(node, SIN):
            return SIN(slope) * COS(start) + COS(slope) * SIN(start)
        return COS(slope) * COS(start) - SIN(slope) * SIN(start)

    plain = transform(f, opened)
    terms = terms_of(expand(plain))
    if any(_waves(t, x) > 1 for t in terms):
        turned = by_multiple_angles(plain, facts, False)
        terms = terms if turned is None else terms_of(expand(turned))
    if len(terms) < 2 or len(terms) > MOST_TERMS:
        return None
    found = []
    for term in terms:
        one = integral(term, lower, upper)
        if one is None:
            return None
        found.append(one)
    return summed(found)._replace(road=f"term by term; {found[0].road}")


def _waves(term: Expression, x: Name) -> int:
    """How many waves are multiplied in a term."""
    powers = [(base, k) for base, k in map(base_and_exponent, factors_in(term)) if is_a(base, SIN, COS) and contains(base, x)]
    return sum(int(k.rational) if isinstance(k, Number) and k.is_whole and k.rational > 0 else 2 for _, k in powers)


def _by_tangent(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts, integral: Integral) -> Found | None:
    """t = tan(x) over a quarter turn, where a logarithm of waves stands: ln(tan(x))^2 as ln(t)^2/(1 + t^2)."""
    if lower is not ZERO or upper is not PI / 2 or not any(has_call(n, (TAN, SIN, COS), x) for n in postorder(f) if is_a(n, LN)):
        return None
    hypotenuse = sqrt(1 + x**2)
    table: dict[Expression, Expression] = {TAN(x): x, SIN(x): x / hypotenuse, COS(x): 1 / hypotenuse}
    marks = dict(zip(table, facts.new_names("w", f), strict=False))
    marked = substitute(f, marks)
    if contains(marked, x):
        return None
    turned = substitute(marked, {mark: table[wave] for wave, mark in marks.items()}) / (1 + x**2)
    found = integral(prepared(turned, facts.with_facts([x > ZERO]), waves=False), ZERO, INFINITE)
    return None if found is None else found._replace(road=f"tan({x}) as the variable; {found.road}", places=())


WAYS: tuple[Way, ...] = (from_zero_on, _as_exponentials, _by_parts, _by_terms, _by_tangent)
