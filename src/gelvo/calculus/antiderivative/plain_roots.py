"""Square roots in plain form: squares taken out as bars, products of roots joined; each bar is a sign, which is constant on a piece."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.calculus.antiderivative.support import Search
from gelvo.calculus.found import Found
from gelvo.expression.building import multiply_all, number, power, relation, sqrt
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Condition, Expression, Name, Node, Number, Power, Product
from gelvo.expression.traversal import contains, postorder, substitute, transform
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import Form
from gelvo.functions.named import ABS, SIGN, is_a
from gelvo.polynomial import sparse
from gelvo.polynomial.factor import factor

MOST_SIGNS = 3


def plain_roots(f: Expression, search: Search) -> Found | None:
    """x/sqrt(1 - 1/x^2)  ->  x*abs(x)/sqrt(x^2 - 1), whose bars are a sign times x."""
    conditions: dict[Condition, None] = {}
    bases = _radicands(f, search.variable)
    facts = search.facts.with_facts([relation("<", ZERO, b) for b in bases if not search.facts.is_nonnegative(b)])
    plain = with_plain_roots(f, search.variable, facts)
    if plain is not f:
        conditions.update((relation("<=", ZERO, b), None) for b in bases if not search.facts.is_nonnegative(b))
    signs: dict[Expression, Name] = {}

    def visit(node: Node) -> Node:
        if is_a(node, ABS, SIGN) and contains(node, search.variable):
            inside = node.arguments[0]
            if facts.is_nonnegative(inside) or facts.is_nonpositive(inside):
                side = 1 if facts.is_nonnegative(inside) else -1
                return side * inside if is_a(node, ABS) else number(side)
            if inside not in signs:
                signs[inside] = search.facts.new_name(f"s_{len(signs) + 1}", f)
            return signs[inside] * inside if is_a(node, ABS) else signs[inside]
        return node

    g = transform(plain, visit)
    if g is f or len(signs) > MOST_SIGNS:
        return None
    for letter in signs.values():
        g = _first_power(g, letter)
    found = search.integrate(g)
    if found is None:
        return None
    value = found.value
    for letter in signs.values():
        value = _first_power(value, letter)
    table = {letter: SIGN(inside) for inside, letter in signs.items()}
    kept = [
        substitute(c, table)
        for c in found.conditions
        if not any(c is search.nonzero(n)[0] for n in signs.values() if search.nonzero(n))
    ]
    road = f"roots in plain form; {found.road}"
    return Found(substitute(value, table), tuple(dict.fromkeys((*kept, *conditions))), road)


def _radicands(f: Expression, x: Name) -> list[Expression]:
    """What stands under square roots: not negative wherever each root is real."""
    return list(dict.fromkeys(n.base for n in postorder(f) if isinstance(n, Power) and _half(n.exponent) and contains(n.base, x)))


def with_plain_roots(f: Expression, x: Name, facts: Facts) -> Expression:
    """Every product with its square roots as one root of a polynomial without squares."""

    def visit(node: Node) -> Node:
        if isinstance(node, Power) and _half(node.exponent) and contains(node.base, x):
            return _plain(node.base, node.exponent.rational, facts)
        if isinstance(node, Product):
            roots = [g for g in node.factors if isinstance(g, Power) and _half(g.exponent) and contains(g.base, x)]
            if len(roots) > 1:
                return _joined(node, roots, facts)
        return node

    return transform(f, visit)


def _joined(node: Product, roots: list[Power], facts: Facts) -> Expression:
    """A^(p/2)*B^(q/2) as (A^p*B^q)^(1/2), for A and B that are not negative."""
    rest = multiply_all([number(node.coefficient), *(g for g in node.factors if g not in roots)])
    inside = multiply_all([power(g.base, number(2 * g.exponent.rational)) for g in roots])
    return rest * _plain(inside, mpq(1, 2), facts)


def _half(k: Expression) -> bool:
    return isinstance(k, Number) and k.is_rational and k.rational.denominator == 2


def _plain(base: Expression, exponent: mpq, facts: Facts) -> Expression:
    """base^exponent as powers of factors, bars of factors, and one square root."""
    form = Form([base])
    top, bottom = form.lowest_terms(form.of(base))
    if sparse.has_gaussian(top) or sparse.has_gaussian(bottom):
        return power(base, number(exponent))
    listed: list[tuple[Expression, int]] = []
    content = mpq(1)
    for p, sign in ((top, 1), (bottom, -1)):
        own, factors = factor(p)
        content *= own**sign
        listed.extend((form.expression(q), sign * k) for q, k in factors)
    outside: list[Expression] = []
    unclear: list[tuple[Expression, int]] = []
    inside: list[Expression] = [number(content)]
    for q, k in listed:
        half, odd = divmod(k, 2)
        if odd:
            inside.append(q)
        if half and (half % 2 == 0 or facts.is_nonnegative(q)):
            outside.append(power(q, number(half)))
        elif half:
            unclear.append((q, half))
    together = multiply_all([q for q, _ in unclear])
    whole_sign = expand(together)
    if unclear and (facts.is_nonnegative(whole_sign) or facts.is_nonpositive(whole_sign)):
        outside.extend([number(1 if facts.is_nonnegative(whole_sign) else -1), *(power(q, number(k)) for q, k in unclear)])
    else:
        outside.extend(power(ABS(q), number(k)) for q, k in unclear)
    root = sqrt(multiply_all(inside))
    whole = exponent - mpq(1, 2)
    if whole == 0:
        return multiply_all([*outside, root])
    if whole == -1:
        return multiply_all([*(power(g, number(-1)) for g in outside), power(root, number(-1))])
    return power(base, number(whole)) * multiply_all([*outside, root])


def _first_power(e: Expression, letter: Name) -> Expression:
    """Even powers of a sign left out."""

    def visit(node: Node) -> Node:
        if isinstance(node, Power) and node.base is letter and isinstance(node.exponent, Number) and node.exponent.is_whole:
            return power(letter, number(node.exponent.rational % 2))
        return node

    return transform(e, visit)
