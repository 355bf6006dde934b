"""Products with an impulse: only the value at its place counts."""

from __future__ import annotations

from gelvo.algebra.expanding import expand
from gelvo.algebra.univariate import linear_parts
from gelvo.errors import DomainError
from gelvo.expression.nodes import Call, Expression
from gelvo.expression.traversal import contains, fresh_name, names, postorder, substitute


def sifted(expression: Expression, between_breaks: bool = False) -> Expression:
    """f(x)*dirac_delta(x - a) as f(a)*dirac_delta(x - a), where f has a value at a: where it vanishes there, the term is zero.

    between_breaks: an impulse where its factor has no value is dropped, for what is said between such places only.

    >>> from gelvo.expression.building import call, name
    >>> x = name("x")
    >>> print(sifted(x**2 * call("dirac_delta", x - 3)))
    9*dirac_delta(x - 3)
    """
    for impulse in [n for n in postorder(expression) if isinstance(n, Call) and n.name == "dirac_delta"]:
        mark = fresh_name("impulse", expression)
        parts = linear_parts(expand(substitute(expression, {impulse: mark})), mark)
        if parts is None or contains(parts[0], mark):
            continue
        for x in names(impulse):
            line = linear_parts(impulse.arguments[0], x)
            if line is None:
                continue
            try:
                expression = parts[1] + substitute(parts[0], {x: -line[1] / line[0]}) * impulse
            except DomainError:
                expression = parts[1] if between_breaks else expression
            break
    return expression
