"""Quotients of sines and cosines as tangents."""

from __future__ import annotations

from gelvo.expression.building import call, multiply_all, number, power
from gelvo.expression.nodes import Call, Expression, Power, Product
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import transform
from gelvo.functions.named import COS, COSH, SIN, SINH, TAN, TANH


def tangents(expression: Expression) -> Expression:
    """sin(u)/cos(u) in products as tan(u), and the same for the hyperbolic pair."""
    return transform(expression, lambda node: _with_tangents(node) if isinstance(node, (Product, Power)) else node)


TRIPLES = ((SIN, COS, TAN), (SINH, COSH, TANH))
WAVES = {wave for triple in TRIPLES for wave in triple}


def _with_tangents(node: Product | Power) -> Expression:
    table: dict[tuple[str, Expression], int] = {}
    rest: list[Expression] = [number(node.coefficient)] if isinstance(node, Product) else []
    for factor in factors_in(node):
        base, k = base_and_exponent(factor)
        if isinstance(base, Call) and base.name in WAVES and k.is_whole:
            key = (base.name, base.arguments[0])
            table[key] = table.get(key, 0) + int(k.rational)
        else:
            rest.append(factor)
    for sine, cosine, tangent in TRIPLES:
        for kind, angle in list(table):
            c = table.get((cosine, angle), 0)
            if kind == tangent and table[(tangent, angle)] * c > 0:  # tan*cos is sin
                t = table[(tangent, angle)]
                count = min(abs(t), abs(c)) * (1 if t > 0 else -1)
                _shift(table, tangent, cosine, sine, angle, -count, -count, count)
            elif kind == sine and table[(sine, angle)] * c < 0:
                s = table[(sine, angle)]
                count = min(abs(s), abs(c)) * (1 if s > 0 else -1)
                _shift(table, sine, cosine, tangent, angle, -count, count, count)
    return multiply_all([*rest, *[power(call(n, a), number(k)) for (n, a), k in table.items()]])


def _shift(table: dict[tuple[str, Expression], int], a: str, b: str, c: str, angle: Expression, *steps: int) -> None:
    for name, step in zip((a, b, c), steps, strict=True):
        table[(name, angle)] = table.get((name, angle), 0) + step
