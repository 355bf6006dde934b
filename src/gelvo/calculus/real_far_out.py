"""Whether a formula is real for all large values of its variable: what waves and signs far out are told from.

A wave of a complex argument grows, and a product with a complex factor turns: neither is bounded, nor has a sign.
"""

from __future__ import annotations

from collections.abc import Callable

from gelvo.calculus.local.asymptotic import is_series
from gelvo.expression.building import call, name
from gelvo.expression.nodes import Call, Expression, Name, Node, Power, Product, Sum
from gelvo.expression.traversal import contains, postorder
from gelvo.facts.store import Facts
from gelvo.numbers.exact import Gaussian

ANY, ABOVE_ZERO = name("any value", "real"), name("any value", "positive")  # no spelling of a user has a blank in it


def is_real_far_out(root: Expression, x: Name, facts: Facts, is_positive: Callable[[Expression], bool]) -> bool:
    """is_positive: whether a real part of the formula is known to be positive for all large x."""
    real: dict[Node, bool] = {}
    for node in postorder(root):
        if not isinstance(node, Expression):
            real[node] = False
        elif node is x or facts.is_real(node):
            real[node] = True
        elif is_series(node):
            real[node] = all(real[part] for part in node.children)
        elif not contains(node, x) or not isinstance(node, Sum | Product | Power | Call):
            real[node] = False
        else:
            real[node] = all(real[part] for part in node.children) and _stays_real(node, facts, is_positive)
    return real[root]


def _stays_real(node: Expression, facts: Facts, is_positive: Callable[[Expression], bool]) -> bool:
    """Whether an operation gives a real value for these real parts of it."""
    if isinstance(node, Sum | Product):
        own = (node.constant, *node.coefficients) if isinstance(node, Sum) else (node.coefficient,)
        return not any(isinstance(c, Gaussian) for c in own)
    if isinstance(node, Power):
        return facts.is_integer(node.exponent) or is_positive(node.base)
    if isinstance(node, Call) and not facts.is_real(call(node.name, *[ANY] * len(node.arguments))):
        return len(node.arguments) == 1 and facts.is_real(call(node.name, ABOVE_ZERO)) and is_positive(node.arguments[0])
    return True
