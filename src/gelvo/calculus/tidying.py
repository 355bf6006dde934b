"""Results in the form a reader expects: short, and checked to be the same."""

from __future__ import annotations

from gelvo.expression.building import number, scale, total
from gelvo.expression.nodes import Bound, Expression, Name, Sum
from gelvo.expression.traversal import contains, distinct_nodes
from gelvo.facts.store import Facts
from gelvo.simplifying.search import simplify

LARGEST = 400
MANY = 8  # terms from which each is simplified by itself


def for_a_reader(expression: Expression, facts: Facts, variable: Name | None = None) -> Expression:
    """The simplified result; an antiderivative loses its constant term."""
    if variable is not None and isinstance(expression, Sum) and len(expression.terms) >= MANY:
        return total([*(simplify(scale(t, c), facts).expression for t, c in expression.items() if contains(t, variable))])
    if isinstance(expression, Bound) or distinct_nodes(expression) > LARGEST:
        return expression
    result = simplify(expression, facts).expression
    if variable is not None and isinstance(result, Sum):
        kept = [scale(t, c) for t, c in result.items() if contains(t, variable)]
        if kept:
            result = total(kept)
    if isinstance(result, Sum) and result.constant and variable is not None:
        result = total((result, number(-result.constant)))
    return result
