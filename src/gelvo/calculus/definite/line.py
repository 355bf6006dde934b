"""Exponentials over the whole line: with exp(x) = t they are powers and fractions of t, whose integral is a Mellin transform.

A wave beside them is an exponential with an imaginary rate, a power of x a slope by the rate: of V(r), the integral of exp(r*x) times
the rest, cos(a*x) makes (V(1j*a) + V(-1j*a))/2. Poles of order one on the way are taken as principal values, since what stands
beside them makes them harmless, or the quadrature refuses the result.

Source: E. Whittaker, G. Watson, "A Course of Modern Analysis" (1927), 6.24 and 12.14.
"""

from __future__ import annotations

from gelvo.calculus.definite.mellin import mellin, power_and_rest, start_and_monomial
from gelvo.calculus.found import Found, summed
from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, number, power
from gelvo.expression.constants import IMAGINARY, PI, ZERO
from gelvo.expression.nodes import Expression, Name, Node, Power
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, substitute, transform
from gelvo.facts.conditions import what_must_be_positive
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import COS, COSH, COTH, CSCH, EXP, SECH, SIN, SINH, TANH, is_a
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.normal.prepare import prepared

HYPERBOLIC = (SINH, COSH, TANH, COTH, SECH, CSCH)
LARGEST_POWER = 6


def exponentials_over_the_line(f: Expression, x: Name, facts: Facts) -> Found | None:
    """cos(a*x)/cosh(x)  ->  pi/cosh(pi*a/2)"""
    waves = [g for g in factors_in(f) if is_a(g, SIN, COS) and contains(g, x)]
    if len(waves) > 1:
        return None
    outer, k, rest = power_and_rest(f, x)
    if not (k.is_whole and 0 <= k.rational <= LARGEST_POWER):
        return None
    rest = [g for g in rest if g not in waves]
    rate = uni.linear_parts(waves[0].arguments[0], x) if waves else None
    if waves and (rate is None or rate[1] is not ZERO):
        return None
    t, sigma = facts.new_name("t", f), facts.new_name("sigma", f)
    under = facts.with_facts([sigma > ZERO])
    inside = in_powers(multiply_all(rest), x, t)
    if inside is None:
        return None
    found = _transform(factored(inside), sigma, t, under)
    if found is None:
        return None
    value = differentiate(found.value, sigma, int(k.rational)) if k is not ZERO else found.value
    try:
        if rate is None:
            value = substitute(value, {sigma: ZERO})
        else:
            value = _turned(value, sigma, rate[0], waves[0].name, facts)
    except (DomainError, ZeroDivisionError):
        return None
    conditions = facts.open_conditions(tuple(substitute(c, {sigma: ZERO}) for c in found.conditions))
    return Found(outer * value, conditions, f"exp({x}) as the variable; {found.road}")


def in_powers(g: Expression, x: Name, t: Name) -> Expression | None:
    """A formula in exponentials of multiples of x by t = exp(x), as it stands; None where x stands elsewhere."""

    def visit(node: Node) -> Node:
        if is_a(node, *HYPERBOLIC):
            assert node.function.as_elementary is not None
            return transform(node.function.as_elementary(*node.arguments), visit)
        if is_a(node, EXP):
            parts = uni.linear_parts(expand(node.arguments[0]), x)
            return power(t, parts[0]) * EXP(parts[1]) if parts is not None else node
        return node

    found = transform(g, visit)
    return None if contains(found, x) else found


def _transform(g: Expression, sigma: Name, t: Name, facts: Facts) -> Found | None:
    """The integral of t^(sigma - 1)*g(t) over t > 0, term by term over one denominator."""
    top, bottom = map(expand, quotient_parts(g))
    shared = power(t, power_and_rest(terms_of(bottom)[-1], t)[1])  # with a constant among the terms of the denominator
    below = power(expand(bottom / shared), number(-1))
    found = [_of_term(sigma, piece, below, t, facts) for piece in terms_of(expand(top / shared))]
    values = [v for v in found if v is not None]
    if len(values) < len(found):
        return None
    return summed(values)._replace(road=values[0].road)


def _of_term(sigma: Name, piece: Expression, below: Expression, t: Name, facts: Facts) -> Found | None:
    outer, k, rest = power_and_rest(piece, t)
    if rest:
        return None
    found = _with_pole(sigma + k, below, t, facts) or mellin(power(t, sigma + k - 1) * factored(below), t, facts)
    return None if found is None else found.times(outer)


def _with_pole(s: Expression, below: Expression, t: Name, facts: Facts) -> Found | None:
    """t^(s - 1)/(a - c*t^p) with a pole: the principal value pi*(c/a)^(-s/p)/(a*p)*cot(pi*s/p)."""
    outer, k, rest = power_and_rest(below, t)
    if len(rest) != 1 or not isinstance(rest[0], Power) or rest[0].exponent is not number(-1):
        return None
    inner = start_and_monomial(rest[0].base, t)
    if inner is None or inner[0] is ZERO or not facts.is_negative(inner[1] / inner[0]):
        return None
    a, c, p = inner
    if facts.is_negative(p):
        a, c, p, k = c, a, -p, k - p
    u = factored((s + k) / p)
    needed = what_must_be_positive(facts, p, u, factored(1 - u))
    if needed is None:
        return None
    return Found(
        outer / a * power(-c / a, -u) * PI * COS(PI * u) / SIN(PI * u) / p, needed, "Mellin transform, as a principal value"
    )


def _turned(value: Expression, sigma: Name, rate: Expression, wave: str, facts: Facts) -> Expression:
    """(V(1j*a) + V(-1j*a))/2 for a cosine, (V(1j*a) - V(-1j*a))/2j for a sine: the real or imaginary part of V(1j*a)."""
    inside = prepared(substitute(value, {sigma: IMAGINARY * rate}), facts, waves=False)
    real, imaginary = real_and_imaginary(inside, facts)
    return factored(real if wave == COS else imaginary)
