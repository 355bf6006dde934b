"""Roots of cubics and quartics put back: relations between parts that the normal form holds for independent.

Nested roots are replaced from outside inwards by what their powers are, with no sign asked for. A cosine of a part of an arc cosine,
c = cos(acos(w)/k + b), satisfies T_k(c) = cos(acos(w) + k*b) with the Chebyshev polynomial T_k; the real cube roots of a and b have the
product that is the real cube root of a*b; f(r) = 0 for r = root_of(f, x, a, b).
"""

from __future__ import annotations

import contextlib
from itertools import combinations

import gmpy2
from gmpy2 import mpq

from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, number, power
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Expression, Name, Node, Number, Power, Sum, Written
from gelvo.expression.order import ordered
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, names, postorder, substitute, zeros_in
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import Form, factored, quotient_parts
from gelvo.functions.named import ABS, ACOS, CBRT, COS, COT, CSC, SEC, SIGN, TAN, is_a
from gelvo.normal.relations import reduce_relations

HIGHEST = 6


def reduced_parts(expression: Expression, facts: Facts) -> list[Expression] | None:
    """Formulas that must all vanish for the expression to do so; None where no such relation is among its parts.

    >>> from gelvo.expression.building import name
    >>> w = name("w")
    >>> c = COS(ACOS(w)/3)
    >>> [p is ZERO for p in reduced_parts(4*c**3 - 3*c - w, Facts()) or [w]]
    [True]
    """
    plain = _without_signs(expression, facts)
    joined = _with_joined_cubes(plain)
    relations = _of_cosines(joined)
    zeros = zeros_in(joined)
    if joined is expression and not relations and not zeros and not any(map(_is_deep_root, postorder(joined))):
        return None
    parts = [_numerator(joined, facts), *_where_signs_are_zero(expression, plain, facts)]
    for zero in zeros:
        parts = [p for part in parts for p in _modulo_equation(part, zero, facts)]
    for node, (k, value) in relations.items():
        c = facts.new_name("c", *parts)
        parts = [p for part in parts for p in _remainder(substitute(part, {node: c}), c, k, value)]
    return parts


def _is_deep_root(node: Node) -> bool:
    """Whether a node is a real cube root, or a root of a formula with letters in a root."""
    if isinstance(node, Power) and _is_root(node):
        return any(isinstance(n, Power) and _is_root(n) and names(n.base) for n in postorder(node.base))
    return is_a(node, CBRT)


def _is_root(node: Power) -> bool:
    return node.exponent.is_rational and not node.exponent.is_whole


def _without_signs(expression: Expression, facts: Facts) -> Expression:
    """sign(q) as q/abs(q), for a q that is not zero or a letter, of which zero is looked at by itself."""
    inner = [n.arguments[0] for n in postorder(expression) if is_a(n, SIGN)]
    known = [q for q in inner if facts.is_nonzero(q) or (isinstance(q, Name) and facts.is_real(q))]
    return substitute(expression, {SIGN(q): q / ABS(q) for q in known}) if known else expression


def _where_signs_are_zero(expression: Expression, plain: Expression, facts: Facts) -> list[Expression]:
    """The expression with each letter zero whose sign was replaced without knowing that it is not."""
    signs = {n.arguments[0] for n in postorder(expression) if is_a(n, SIGN)} - {
        n.arguments[0] for n in postorder(plain) if is_a(n, SIGN)
    }
    letters = ordered([q for q in signs if isinstance(q, Name) and not facts.is_nonzero(q)])
    found: list[Expression] = []
    for q in letters:
        with contextlib.suppress(DomainError):  # it has no value there
            found.append(substitute(expression, {q: ZERO}))
    return found


def _numerator(expression: Expression, facts: Facts) -> Expression:
    """The numerator over all roots as they stand, outer ones replaced by what they contain until nothing changes."""
    form = Form([expression], facts)
    top, before = form.of(expression).top, None
    while top and top != before:
        top, before = reduce_relations(form, top), top
    return form.expression(top)


def _modulo_equation(part: Expression, zero: Written, facts: Facts) -> list[Expression]:
    """What is left of a formula modulo the equation of a zero: nothing for a multiple of it."""
    c = facts.new_name("c", part, zero)
    inside, equation = substitute(part, {zero: c}), substitute(zero.body, {zero.variable: c})
    quotients = [n for n in postorder(inside, equation) if is_a(n, TAN, COT, SEC, CSC)]
    made = {n: n.function.as_elementary(*n.arguments) for n in quotients if n.function.as_elementary is not None}
    inside, equation = substitute(inside, made), substitute(equation, made)
    column, divisor = uni.coefficients_of(inside, c), uni.coefficients_of(quotient_parts(equation)[0], c)
    if column is not None and divisor is not None and len(divisor) > 1:
        return _modulo(inside, c, divisor)
    for body in (equation, quotient_parts(equation)[0]):
        below = quotient_parts(inside / body)[1]
        if not contains(below, c) or facts.is_nonzero(substitute(below, {c: zero})):
            return [ZERO]
    return [part]


def _of_cosines(expression: Expression) -> dict[Node, tuple[int, Expression]]:
    """cos(acos(w)/k + b) -> (k, cos(acos(w) + k*b))."""
    found: dict[Node, tuple[int, Expression]] = {}
    for node in postorder(expression):
        if not is_a(node, COS):
            continue
        angle = node.arguments[0]
        for unit, share in angle.items() if isinstance(angle, Sum) else [(angle, mpq(1))]:
            core = factors_in(unit)[0]
            coefficient = uni.lowest_terms(unit * number(share) / core)
            if is_a(core, ACOS) and isinstance(coefficient, Number) and coefficient.is_rational:
                k = int(coefficient.rational.denominator)
                if 2 <= k <= HIGHEST:
                    found[node] = k, COS(expand(k * angle))
    return found


def _remainder(part: Expression, c: Expression, k: int, value: Expression) -> list[Expression]:
    """The coefficients of the remainder modulo T_k(c) = value."""
    chebyshev = [number(1), c]
    while len(chebyshev) <= k:
        chebyshev.append(expand(2 * c * chebyshev[-1] - chebyshev[-2]))
    return _modulo(part, c, uni.coefficients_of(chebyshev[k] - value, c) or [])


def _modulo(part: Expression, c: Expression, relation: list[Expression]) -> list[Expression]:
    """The coefficients of the remainder of a polynomial in c modulo another one that is zero."""
    column = uni.coefficients_of(part, c)
    if not relation or column is None:
        return [part]
    if len(column) < len(relation):
        return list(column) or [ZERO]
    return [expand(e) for e in uni.divide(column, relation)[1]] or [ZERO]


def _with_joined_cubes(expression: Expression) -> Expression:
    """cbrt(b) as k/cbrt(a) where a*b = k^3: the same by continuity where cbrt(a) vanishes, as long as it is not all zero."""
    roots = [n for n in postorder(expression) if is_a(n, CBRT)]
    for one, other in combinations(dict.fromkeys(roots), 2):
        whole = _cube_root(factored(expand(one.arguments[0] * other.arguments[0])))
        if whole is not None and whole is not ZERO:
            return _with_joined_cubes(substitute(expression, {other: whole / one}))
    return expression


def _cube_root(product: Expression) -> Expression | None:
    """The real k with k^3 = product, where it is a product of cubes."""
    pieces: list[Expression] = []
    factors = [f for f in factors_in(product) if not isinstance(f, Number)]
    coefficient = uni.lowest_terms(product / multiply_all(factors))
    if not isinstance(coefficient, Number) or not coefficient.is_rational:
        return None
    for part, sign in ((coefficient.rational.numerator, 1), (coefficient.rational.denominator, -1)):
        root, exact = gmpy2.iroot(abs(part), 3)
        if not exact:
            return None
        pieces.append(power(number(mpq(root if part > 0 else -root)), number(sign)))
    for factor in factors:
        base, k = base_and_exponent(factor)
        if not k.is_whole or k.rational % 3:
            return None
        pieces.append(power(base, k / 3))
    return multiply_all(pieces)
