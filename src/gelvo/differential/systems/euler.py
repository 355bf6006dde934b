"""Euler's systems: every coefficient of a k-th derivative is a number times t^k. In s = ln(t) the coefficients are constant.

Source: E. Ince, "Ordinary Differential Equations" (1926), section 6.3.
"""

from __future__ import annotations

from gelvo.differential.constant_coefficients import Linear, constant_coefficients, linear_terms
from gelvo.differential.problem import Outcome, Problem, Solved, imposed
from gelvo.errors import NotSolved
from gelvo.expression.building import applied, relation, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Applied, Expression, Name, Node
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, substitute, transform
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import COSH, EXP, LN, SINH, is_a
from gelvo.simplifying.search import simplify


def euler_system(problem: Problem) -> Outcome | None:
    """The solutions on the right of 0, or where the stated values are; None where the coefficients are others."""
    parts = linear_terms(problem, False)
    if parts is None or len(problem.unknowns) < 2 or len(parts) != len(problem.unknowns):
        return None
    t, facts = problem.variable, problem.facts
    s = facts.new_name("s", *problem.formulas, *problem.unknowns)
    inner = {u: applied(facts.new_name(f"{u.name}_s", *problem.formulas).name, (s,), (0,)) for u in problem.unknowns}
    equations = [_in_logarithm(linear, inner, t, s) for linear in parts]
    if any(e is None for e in equations):
        return None
    try:
        found = constant_coefficients(Problem([e for e in equations if e is not None], list(inner.values()), s, [], facts))
    except NotSolved:
        return None
    if found is None:
        return None
    right = relation("<", ZERO, t)
    known = facts.with_facts([right])
    solved = []
    for one in found.found:
        values: dict[Expression, Expression] = {
            u: simplify(_in_powers(one.values[v], s, t), known).expression for u, v in inner.items()
        }
        solved.append(Solved(values, (right, *(substitute(c, {s: LN(t)}) for c in one.conditions))))
    lost = (*found.lost, f"the solutions where {t} < 0 are left") if not problem.stated else found.lost
    outcome = found._replace(found=solved, road=f"Euler's system, in ln({t}); {found.road}", lost=lost)
    return imposed(problem._replace(facts=known), outcome) if problem.stated else outcome


def _in_powers(value: Expression, s: Name, t: Name) -> Expression:
    """A formula in s = ln(t), cosh(k*s) as (t^k + t^-k)/2."""

    def visit(node: Node) -> Node:
        if not is_a(node, COSH, SINH):
            return node
        k = node.arguments[0] / s
        return node if contains(k, s) else (t**k + (1 if is_a(node, COSH) else -1) * t**-k) / 2

    return substitute(transform(value, visit), {s: LN(t)})


def _in_logarithm(linear: Linear, inner: dict[Applied, Applied], t: Name, s: Name) -> Expression | None:
    """An equation with t = exp(s): t^k times the k-th derivative is D*(D - 1)*…*(D - k + 1); None where a power is left."""
    terms: list[Expression] = []
    powers = set()
    for (u, k), coefficient in linear.table.items():
        plain, exponent = _power_in(coefficient, t)
        if contains(plain, t):
            return None
        powers.add(factored(exponent - k))
        falling: Expression = inner[u]
        for j in range(k):
            falling = differentiate(falling, s) - j * falling
        terms.append(plain * falling)
    if len(powers) != 1:
        return None
    forcing = linear.right / t ** powers.pop() if linear.right is not ZERO else ZERO
    table: dict[Node, Expression] = {t: EXP(s), LN(t): s}
    return expand(total(terms)) - expand(substitute(forcing, table))


def _power_in(coefficient: Expression, t: Name) -> tuple[Expression, Expression]:
    """(c, k) of c*t^k."""
    exponent: Expression = ZERO
    for factor in factors_in(factored(coefficient)):
        base, k = base_and_exponent(factor)
        if base is t:
            exponent += k
    return factored(coefficient / t**exponent), exponent
