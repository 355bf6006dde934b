"""Sums of logarithms of positive things as one logarithm."""

from __future__ import annotations

from collections.abc import Iterator

from gelvo.algebra.facts import Facts
from gelvo.algebra.fractions import factored
from gelvo.expression.building import call, multiply_all, number, power, scale, total
from gelvo.expression.nodes import Call, Expression, Product, Sum
from gelvo.expression.traversal import transform
from gelvo.numbers.exact import Gaussian, Scalar


def logarithm_forms(expression: Expression, facts: Facts) -> Iterator[tuple[str, Expression]]:
    """ln(a) + 2*ln(b) -> ln(a*b^2) where a and b are positive."""

    def visit(node: Expression) -> Expression:
        return _joined(node, facts) if isinstance(node, Sum) else node

    yield "logarithms joined", transform(expression, visit)


def _joined(node: Sum, facts: Facts) -> Expression:
    inside: list[Expression] = []
    rest: list[Expression] = [number(node.constant)]
    groups: dict[Expression, list[tuple[Expression, Scalar]]] = {}
    for term, coefficient in node.items():
        outer, logarithm = _split(term)
        plain = not isinstance(coefficient, Gaussian)
        if logarithm is not None and plain and facts.is_positive(logarithm.arguments[0]):
            groups.setdefault(outer, []).append((logarithm.arguments[0], coefficient))
        else:
            rest.append(scale(term, coefficient))
    for outer, found in groups.items():
        if len(found) == 1:
            argument, coefficient = found[0]
            rest.append(scale(outer * call("ln", argument), coefficient))
            continue
        common = abs(found[0][1])  # type: ignore[arg-type]
        if any((c / common).denominator != 1 for _, c in found):  # type: ignore[union-attr, operator]
            common = common * 0 + 1
        inside = [power(argument, number(c / common)) for argument, c in found]  # type: ignore[operator]
        rest.append(scale(outer * call("ln", factored(multiply_all(inside))), common))
    return total(rest)


def _split(term: Expression) -> tuple[Expression, Call | None]:
    if isinstance(term, Call) and term.name == "ln":
        return number(1), term
    if isinstance(term, Product):
        logarithms = [f for f in term.factors if isinstance(f, Call) and f.name == "ln"]
        if len(logarithms) == 1:
            return multiply_all([f for f in term.factors if f is not logarithms[0]]), logarithms[0]
    return term, None
