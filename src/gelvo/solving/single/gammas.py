"""Factorials, binomials and gamma functions of arguments that differ by whole numbers: polynomials times one of them."""

from __future__ import annotations

from gelvo.errors import NotSolved
from gelvo.expression.nodes import Expression
from gelvo.expression.traversal import has_call
from gelvo.functions.named import BINOMIAL, FACTORIAL, GAMMA
from gelvo.normal.prepare import prepared
from gelvo.solving.roots import Root
from gelvo.solving.single.work import Work


def gamma_quotients(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """factorial(x) - 20*factorial(x - 2) as (x^2 - x - 20)*gamma(x - 1)."""
    if not solver.real or not has_call(g, (FACTORIAL, BINOMIAL, GAMMA), solver.unknown):
        return None
    plain = prepared(g, solver.facts)
    if plain is g or (depth and has_call(plain, (FACTORIAL, BINOMIAL), solver.unknown)):
        return None
    if not has_call(g, (FACTORIAL, BINOMIAL), solver.unknown):
        return None
    before, solver.nested = solver.nested, True
    try:
        solver.roads["quotients of gamma functions"] = None
        return solver.solve(plain, depth + 1)
    except NotSolved:
        return None
    finally:
        solver.nested = before
