"""Waves of sums of angles as products, and products of waves as sums (DLMF 4.21)."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.expression.building import call, multiply_all, number, scale, split_coefficient, total
from gelvo.expression.nodes import Call, Expression, Number, Product
from gelvo.expression.terms import base_and_exponent
from gelvo.expression.traversal import has_call
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.functions.named import COS, COSH, SIN, SINH, TAN, TANH, is_a
from gelvo.numbers.exact import Gaussian

LARGEST_MULTIPLE = 24
KINDS: dict[str, tuple[str, str, int]] = {SIN: (SIN, COS, -1), COS: (SIN, COS, -1), SINH: (SINH, COSH, 1), COSH: (SINH, COSH, 1)}

Pair = tuple[Expression, Expression]  # cosine and sine


def turned(pair: Pair, by: Pair, times: int, sign: int = -1) -> Pair:
    """(cosine, sine) of an angle and `times` another one, by the addition theorem; the hyperbolic ones with the sign 1."""
    cosine, sine = pair
    c, s = by if times >= 0 else (by[0], -by[1])
    for _ in range(abs(times)):
        cosine, sine = expand(cosine * c + sign * sine * s), expand(sine * c + cosine * s)
    return cosine, sine


def angles_apart(node: Call) -> Expression:
    """sin(a + 2*b) -> by sines and cosines of a and b; tangents too."""
    if is_a(node, TAN, TANH):
        x = expand(node.arguments[0])
        if len(terms_of(x)) > 1:
            first, rest = terms_of(x)[0], total(terms_of(x)[1:])
            a, b = angles_apart(call(node.name, first)), angles_apart(call(node.name, rest))  # type: ignore[arg-type]
            return (a + b) / (1 - a * b) if is_a(node, TAN) else (a + b) / (1 + a * b)
        return node
    if node.name not in KINDS:
        return node
    sine, cosine, sign = KINDS[node.name]
    pair: Pair = (number(1), number(0))  # of the angle so far
    for term in terms_of(expand(node.arguments[0])):
        core, c = split_coefficient(term)
        times, angle = 1, term
        if not isinstance(core, Number) and not isinstance(c, Gaussian) and c.denominator == 1 and abs(c) <= LARGEST_MULTIPLE:
            times, angle = int(c), core
        pair = turned(pair, (call(cosine, angle), call(sine, angle)), times, sign)
    return pair[1] if node.name == sine else pair[0]


def products_as_sums(expression: Expression) -> Expression:
    """Powers and products of sines and cosines as sums of waves of multiple angles.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> print(products_as_sums(SIN(x)*COS(x)))
    sin(2*x)/2
    """
    return total([_one(t) for t in terms_of(expand(expression))])


def _waves_of(term: Expression) -> tuple[list[tuple[str, Expression]], list[Expression]]:
    """The sines and cosines among the factors of a term, each as often as its power says, and the other factors."""
    rest: list[Expression] = []
    waves: list[tuple[str, Expression]] = []
    for factor in [number(term.coefficient), *term.factors] if isinstance(term, Product) else [term]:
        base, k = base_and_exponent(factor)
        wave = is_a(base, SIN, COS)
        if wave and isinstance(k, Number) and k.is_whole and 0 < k.rational <= LARGEST_MULTIPLE:
            assert isinstance(base, Call)
            waves.extend([(base.name, base.arguments[0])] * int(k.rational))
        else:
            rest.append(factor)
    return waves, rest


def _one(term: Expression) -> Expression:
    if not has_call(term, KINDS):
        return term
    waves, rest = _waves_of(term)
    if not waves:
        return term
    sums: dict[tuple[str, Expression], mpq] = {waves[0]: mpq(1)}
    for kind, angle in waves[1:]:
        changed: dict[tuple[str, Expression], mpq] = {}
        for (other, inner), c in sums.items():
            for name, argument, sign in _product(other, inner, kind, angle):
                key = (name, argument)
                changed[key] = changed.get(key, mpq(0)) + sign * c / 2
        sums = changed
    waves_sum = total([scale(call(name, argument), c) for (name, argument), c in sums.items()])
    return expand(multiply_all([*rest, waves_sum]))


def _product(one: str, a: Expression, two: str, b: Expression) -> list[tuple[str, Expression, int]]:
    """Twice the product of two waves."""
    up, down = a + b, a - b
    if one == two == COS:
        return [(COS, down, 1), (COS, up, 1)]
    if one == two == SIN:
        return [(COS, down, 1), (COS, up, -1)]
    if one == SIN:
        return [(SIN, up, 1), (SIN, down, 1)]
    return [(SIN, up, 1), (SIN, -down, 1)]
