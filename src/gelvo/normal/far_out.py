"""Formulas rewritten for a variable that grows without bound: by their logarithm, or by Lambert's function as the variable."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.expression.building import number, power, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Expression, Name, Node, Number, Power, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, has_call, substitute, transform
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.functions.named import EXP, FACTORIAL, GAMMA, LAMBERTW, LN, LOGGAMMA, is_a


def without_lambert(e: Expression, x: Name, w: Name) -> Expression | None:
    """With x = w*exp(w), where lambertw(x) is w; None where it does not stand in the formula.

    >>> from gelvo.expression.building import call, name
    >>> x, w = name("x"), name("w")
    >>> print(without_lambert(call(LAMBERTW, x) / x, x, w))
    exp(-w)
    """
    plain = transform(e, lambda node: w if is_a(node, LAMBERTW) and node.arguments[0] is x else node)
    return None if plain is e or has_call(plain, (LAMBERTW,)) else substitute(plain, {x: w * EXP(w)})


def logarithm_of_product(e: Expression, x: Name, facts: Facts, of: tuple[str, ...] = ()) -> Expression | None:
    """The logarithm, factor by factor, of a positive formula with a moving exponent or a gamma function; None for any other.

    of: functions of which one has to stand in the base of that power.
    """
    factors = [number(e.coefficient), *factors_in(e)] if isinstance(e, Product) else [e]
    moving = [f for f in factors if _moves(f, x, of)]
    far = facts.with_facts([x > number(10)])
    if not moving or not all(far.is_positive(base_and_exponent(f)[0]) for f in factors):
        return None
    pieces = [exponent * LN(base) for base, exponent in map(base_and_exponent, factors)]
    return transform(total([p for p in pieces if p is not ZERO]), _by_loggamma)


def _moves(f: Expression, x: Name, of: tuple[str, ...]) -> bool:
    if is_a(base_and_exponent(f)[0], GAMMA, FACTORIAL) and contains(f, x):
        return True
    return isinstance(f, Power) and contains(f.exponent, x) and (not of or has_call(f.base, of, x))


def _by_loggamma(node: Node) -> Node:
    if is_a(node, LN) and is_a(node.arguments[0], GAMMA, FACTORIAL):
        inner = node.arguments[0]
        return LOGGAMMA(inner.arguments[0] + (1 if is_a(inner, FACTORIAL) else 0))
    return node


def logarithms_taken_apart(e: Expression, x: Name, facts: Facts) -> Expression | None:
    """ln(5*x^3 + x) as ln(5) + 3*ln(x) + ln(1 + x^(-2)/5), and ln(gamma(u)) as loggamma(u); None where neither stands there.

    >>> from gelvo.expression.building import call, name
    >>> x = name("x")
    >>> print(logarithms_taken_apart(call(LN, x**2 + x), x, Facts()))
    ln(1/x + 1) + 2*ln(x)
    """
    far = facts.with_facts([x > number(10)])

    def visit(node: Node) -> Node:
        if not is_a(node, LN) or not contains(node, x):
            return node
        inner = node.arguments[0]
        if is_a(inner, GAMMA, FACTORIAL) and far.is_positive(inner.arguments[0]):
            return _by_loggamma(node)
        return _leading_out(inner, x, far) or node if isinstance(inner, Sum) else node

    plain = transform(e, visit)
    return None if plain is e else plain


def _leading_out(inner: Sum, x: Name, facts: Facts) -> Expression | None:
    """The logarithm of a sum of powers of x, the largest one first."""
    powers: dict[Expression, mpq] = {}
    for term in terms_of(inner):
        moving = [f for f in factors_in(term) if contains(f, x)]
        base, k = base_and_exponent(moving[0]) if len(moving) == 1 else (x, ZERO)
        if len(moving) > 1 or base is not x or not (isinstance(k, Number) and k.is_rational):
            return None
        powers[term] = k.rational
    largest = max(powers, key=lambda t: powers[t])
    k = powers[largest]
    c = largest / power(x, number(k))
    if not k or list(powers.values()).count(k) > 1 or not facts.is_positive(c):
        return None
    return LN(c) + number(k) * LN(x) + LN(total([t / largest for t in powers]))
