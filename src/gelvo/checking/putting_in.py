"""Unknown functions replaced by formulas: their derivatives and values at places follow."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TypeVar

from gelvo.errors import DomainError
from gelvo.expression.nodes import Applied, Expression, Name, Node
from gelvo.expression.traversal import names, postorder, substitute
from gelvo.forms.differentiation import differentiate
from gelvo.forms.patterns import substitute_meant

T = TypeVar("T", bound=Node)
K = TypeVar("K", bound=Expression)


def substitute_functions(root: T, table: Mapping[K, Expression]) -> T:
    """Substitution in which an unknown function, or one of its derivatives, may be replaced: higher derivatives and values follow.

    Other parts are found where a person means them (`gelvo.forms.patterns`).
    """
    functions: dict[str, list[tuple[Applied, Expression]]] = {}
    for old, new in table.items():
        if isinstance(old, Applied):
            functions.setdefault(old.name, []).append((old, new))
    plain: dict[Expression, Expression] = {k: v for k, v in table.items() if not isinstance(k, Applied)}
    meant = any(not isinstance(k, Name) for k in plain)
    if not functions:
        return substitute_meant(root, plain) if meant else substitute(root, plain)
    replaced: dict[Expression, Expression] = dict(plain)
    for node in postorder(root):
        if isinstance(node, Applied) and node.name in functions:
            value = _function_value(node, functions[node.name])
            if value is not None:
                replaced[node] = value
    return substitute(root, replaced)


def _function_value(node: Applied, entries: list[tuple[Applied, Expression]]) -> Expression | None:
    """theta''(0) for theta(t) = formula: differentiate by t twice, then put 0 in; from theta' = formula only once."""
    below = [e for e in entries if all(have <= want for have, want in zip(e[0].orders, node.orders, strict=True))]
    if not below:
        return None
    pattern, result = max(below, key=lambda e: sum(e[0].orders))
    for variable, have, want in zip(pattern.arguments, pattern.orders, node.orders, strict=True):
        if want > have:
            if not isinstance(variable, Name):
                raise DomainError(f"{pattern} is not a function of a variable")
            if sum(pattern.orders) and variable not in names(result):
                return None  # a plain letter for theta' says nothing of theta''
            result = differentiate(result, variable, want - have)
    table = {v: a for v, a in zip(pattern.arguments, node.arguments, strict=True) if v is not a}
    return substitute(result, table) if table else result
