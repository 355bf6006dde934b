"""Laplace transforms of unknown functions: y(t) becomes Y(s), its derivatives powers of s beside the values at the start.

Source: G. Doetsch, "Introduction to the Theory and Application of the Laplace Transformation" (1974), sections 7 to 9.
"""

from __future__ import annotations

from gelvo.calculus.found import Found
from gelvo.expression.building import applied, multiply_all, number, power, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Applied, Expression, Name, Product, Written
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.functions.named import EXP, is_a


def unknowns_of(e: Expression, t: Name) -> list[Applied]:
    """The unknown functions of t in a formula, as they stand; also under an integral up to t."""
    nodes = postorder(e)
    running = {t} | {n.variable for n in nodes if isinstance(n, Written)}
    return [n for n in nodes if isinstance(n, Applied) and not running.isdisjoint(names(n))]


def image_name(y: str) -> str:
    """Y for y; Theta for theta: what the transform is called, as on paper.

    >>> image_name("theta_1")
    'Theta_1'
    """
    return y[:1].upper() + y[1:] if y[:1].islower() else f"{y}_s"


def of_unknown(piece: Expression, t: Name, s: Name, facts: Facts) -> Found | None:
    """The image of t^n*exp(a*t) times y(t), a derivative of it, or its integral from 0 to t; None for any other form."""
    outer: list[Expression] = [number(piece.coefficient)] if isinstance(piece, Product) else []
    times, rate, inner = 0, ZERO, list[Expression]()
    for factor in factors_in(piece):
        base, k = base_and_exponent(factor)
        parts = uni.linear_parts(expand(factor.arguments[0]), t) if is_a(factor, EXP) else None
        if not contains(factor, t):
            outer.append(factor)
        elif base is t and k.is_whole and k.rational > 0:
            times += int(k.rational)
        elif parts is not None:
            rate = rate + parts[0]
            outer.append(EXP(parts[1]))
        else:
            inner.append(factor)
    image = _image(inner[0], t, s) if len(inner) == 1 else None
    if image is None:
        return None
    moved = substitute(differentiate(image, s, times) if times else image, {s: s - rate})
    return Found(expand(multiply_all(outer) * number((-1) ** times) * moved), (), "by parts, from the values at the start")


def _image(e: Expression, t: Name, s: Name) -> Expression | None:
    if isinstance(e, Applied) and e.arguments == (t,):
        n = e.orders[0]
        image = applied(image_name(e.name), (s,), (0,))
        starts = [power(s, number(n - 1 - k)) * applied(e.name, (ZERO,), (k,)) for k in range(n)]
        return power(s, number(n)) * image - total(starts) if n else image
    if isinstance(e, Written) and e.kind == "integral_of" and e.arguments[2:] == (ZERO, t):
        inside = _image(substitute(e.body, {e.variable: t}), t, s)
        return None if inside is None else inside / s
    return None


def for_an_exponential(e: Expression, t: Name, s: Name, rate: Expression) -> Expression:
    """A formula with every unknown function y(t) as exp(rate*t), and its image as 1/(s - rate)."""
    table: dict[Expression, Expression] = {}
    running = {n.variable for n in postorder(e) if isinstance(n, Written)}
    for node in postorder(e):
        if isinstance(node, Written) and node.kind == "integral_of" and node.arguments[2:] == (ZERO, t):
            inside = for_an_exponential(substitute(node.body, {node.variable: t}), t, s, rate)
            table[node] = (inside - substitute(inside, {t: ZERO})) / rate  # of a multiple of exp(rate*t)
        elif isinstance(node, Applied) and len(node.arguments) == 1 and running.isdisjoint(names(node)):
            at, order = node.arguments[0], node.orders[0]
            plain = 1 / (s - rate) if contains(at, s) else EXP(rate * t)
            variable = s if contains(at, s) else t
            slope = differentiate(plain, variable, order) if order else plain
            table[node] = substitute(slope, {variable: at})
    return substitute(e, table) if table else e
