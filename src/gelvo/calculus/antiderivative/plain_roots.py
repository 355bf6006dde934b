"""Square roots in plain form: squares taken out as bars, products of roots joined; each bar is a sign, which is constant on a piece."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.calculus.antiderivative.support import Search, half_odd
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
    g = transform(plain, lambda n: _with_letter(n, signs, facts, search))
    if g is f or len(signs) > MOST_SIGNS:
        return None
    found = search.integrate(_first_powers(g, signs))
    if found is None:
        return None
    table = {letter: SIGN(inside) for inside, letter in signs.items()}
    own = {c for letter in signs.values() for c in search.nonzero(letter)}
    kept = [substitute(c, table) for c in found.conditions if c not in own]
    value = substitute(_first_powers(found.value, signs), table)
    return Found(value, tuple(dict.fromkeys((*kept, *conditions))), f"roots in plain form; {found.road}")


def _with_letter(node: Node, signs: dict[Expression, Name], facts: Facts, search: Search) -> Node:
    """|u| as s*u, with a letter s for the sign of u, which is a number where it is known."""
    if not (is_a(node, ABS, SIGN) and contains(node, search.variable)):
        return node
    inside = node.arguments[0]
    letter: Expression
    if facts.is_nonnegative(inside) or facts.is_nonpositive(inside):
        letter = number(1 if facts.is_nonnegative(inside) else -1)
    else:
        letter = signs.setdefault(inside, search.facts.new_name(f"s_{len(signs) + 1}", inside, search.variable))
    return letter * inside if is_a(node, ABS) else letter


def _radicands(f: Expression, x: Name) -> list[Expression]:
    """What stands under square roots: not negative wherever each root is real."""
    return list(
        dict.fromkeys(n.base for n in postorder(f) if isinstance(n, Power) and half_odd(n.exponent) and contains(n.base, x))
    )


def with_plain_roots(f: Expression, x: Name, facts: Facts) -> Expression:
    """Every product with its square roots as one root of a polynomial without squares."""

    def visit(node: Node) -> Node:
        if isinstance(node, Power) and half_odd(node.exponent) and contains(node.base, x):
            return _plain(node.base, node.exponent.rational, facts)
        if isinstance(node, Product):
            roots = [g for g in node.factors if isinstance(g, Power) and half_odd(g.exponent) and contains(g.base, x)]
            if len(roots) > 1:
                return _joined(node, roots, facts)
        return node

    return transform(f, visit)


def _joined(node: Product, roots: list[Power], facts: Facts) -> Expression:
    """A^(p/2)*B^(q/2) as (A^p*B^q)^(1/2), for A and B that are not negative."""
    rest = multiply_all([number(node.coefficient), *(g for g in node.factors if g not in roots)])
    inside = multiply_all([power(g.base, number(2 * g.exponent.rational)) for g in roots])
    return rest * _plain(inside, mpq(1, 2), facts)


def _plain(base: Expression, exponent: mpq, facts: Facts) -> Expression:
    """base^exponent as powers of factors, bars of factors, and one square root."""
    listed = _factors(base)
    if listed is None:
        return power(base, number(exponent))
    content, factors = listed
    inside = [number(content), *(q for q, k in factors if k % 2)]
    outside = _taken_out([(q, k // 2) for q, k in factors if k // 2], facts)
    root = sqrt(multiply_all(inside))
    if exponent == mpq(-1, 2):
        return power(multiply_all([*outside, root]), number(-1))
    return power(base, number(exponent - mpq(1, 2))) * multiply_all([*outside, root])


def _factors(base: Expression) -> tuple[mpq, list[tuple[Expression, int]]] | None:
    """(number in front, [(factor, power)]) of a rational function; None where the imaginary unit stands in it."""
    form = Form([base])
    top, bottom = form.lowest_terms(form.of(base))
    if sparse.has_gaussian(top) or sparse.has_gaussian(bottom):
        return None
    content, above = factor(top)
    under, below = factor(bottom)
    listed = [*((form.expression(q), k) for q, k in above), *((form.expression(q), -k) for q, k in below)]
    return content / under, listed


def _taken_out(factors: list[tuple[Expression, int]], facts: Facts) -> list[Expression]:
    """What is before the root: bars where neither the sign of a factor nor that of their product is known."""
    odd = [(q, k) for q, k in factors if k % 2 and not facts.is_nonnegative(q)]
    plain = [power(q, number(k)) for q, k in factors if (q, k) not in odd]
    together = expand(multiply_all([q for q, _ in odd]))
    if facts.is_nonnegative(together) or facts.is_nonpositive(together):
        return [number(1 if facts.is_nonnegative(together) else -1), *plain, *(power(q, number(k)) for q, k in odd)]
    return [*plain, *(power(ABS(q), number(k)) for q, k in odd)]


def _first_powers(e: Expression, signs: dict[Expression, Name]) -> Expression:
    """Even powers of signs left out."""
    letters = set(signs.values())

    def visit(node: Node) -> Node:
        if isinstance(node, Power) and node.base in letters and isinstance(node.exponent, Number) and node.exponent.is_whole:
            return power(node.base, number(node.exponent.rational % 2))
        return node

    return transform(e, visit)
