"""Hyperbolic functions by exponentials."""

from __future__ import annotations

from gelvo.errors import NotSolved
from gelvo.expression.nodes import Call, Expression
from gelvo.expression.traversal import postorder, substitute
from gelvo.functions.named import COSH, COTH, CSCH, SECH, SINH, TANH
from gelvo.solving.roots import Root
from gelvo.solving.single.work import Work

HYPERBOLIC = (SINH, COSH, TANH, COTH, SECH, CSCH)


def hyperbolic(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """Hyperbolic functions by exponentials."""
    calls = [n for n in postorder(g) if isinstance(n, Call) and n.name in HYPERBOLIC]
    table = {n: n.function.as_elementary(*n.arguments) for n in calls if n.function.as_elementary is not None}
    if not table:
        return None
    before, solver.nested = solver.nested, True  # zeros without closed form are those of the equation as it is
    try:
        return solver.solve(substitute(g, table), depth + 1)
    except NotSolved:
        return None
    finally:
        solver.nested = before
