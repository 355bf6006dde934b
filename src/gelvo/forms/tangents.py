"""Quotients of sines and cosines as tangents."""

from __future__ import annotations

from gelvo.expression.building import call, multiply_all, number, power
from gelvo.expression.nodes import Call, Expression, Number, Power, Product
from gelvo.expression.traversal import transform


def tangents(expression: Expression) -> Expression:
    """sin(u)/cos(u) in products as tan(u), and the same for the hyperbolic pair."""

    def visit(node: Expression) -> Expression:
        if not isinstance(node, (Product, Power)):
            return node
        factors = node.factors if isinstance(node, Product) else (node,)
        table: dict[tuple[str, Expression], int] = {}
        rest: list[Expression] = [number(node.coefficient)] if isinstance(node, Product) else []
        for factor in factors:
            base, k = (factor.base, factor.exponent) if isinstance(factor, Power) else (factor, number(1))
            whole = isinstance(k, Number) and k.is_whole
            if isinstance(base, Call) and base.name in ("sin", "cos", "tan", "sinh", "cosh", "tanh") and whole:
                key = (base.name, base.arguments[0])
                table[key] = table.get(key, 0) + int(k.rational)
            else:
                rest.append(factor)
        for sine, cosine, tangent in (("sin", "cos", "tan"), ("sinh", "cosh", "tanh")):
            for kind, angle in list(table):
                if kind == tangent:
                    t = table[(tangent, angle)]
                    c = table.get((cosine, angle), 0)
                    if t * c > 0:
                        count = min(abs(t), abs(c)) * (1 if t > 0 else -1)
                        _shift(table, tangent, cosine, sine, angle, -count, -count, count)
                if kind == sine:
                    s, c = table[(sine, angle)], table.get((cosine, angle), 0)
                    if s * c < 0:
                        count = min(abs(s), abs(c)) * (1 if s > 0 else -1)
                        _shift(table, sine, cosine, tangent, angle, -count, count, count)
        return multiply_all([*rest, *[power(call(n, a), number(k)) for (n, a), k in table.items()]])

    return transform(expression, visit)


def _shift(table: dict[tuple[str, Expression], int], a: str, b: str, c: str, angle: Expression, *steps: int) -> None:
    for name, step in zip((a, b, c), steps, strict=True):
        table[(name, angle)] = table.get((name, angle), 0) + step
