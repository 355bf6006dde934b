"""Equalities among the facts: a name that one of them gives is replaced by what it is equal to."""

from __future__ import annotations

from typing import Any, TypeVar

from gmpy2 import mpq

from gelvo.expression import known as bits
from gelvo.expression.building import number, power, relation
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Expression, Name, Relation, Truth
from gelvo.expression.traversal import free_names, names, substitute
from gelvo.facts.knowledge import Stated
from gelvo.facts.statements import DomainFact, fact_condition
from gelvo.forms import univariate

MOST_EQUALITIES = 8
F = TypeVar("F", bound=Stated)


def without_equalities(expression: Expression, facts: F) -> tuple[Expression, F]:
    """Names that a fact sets equal to a formula replaced by it, so that the other names can be chosen freely.

    A fact such as c^2 = a^2 + b^2 gives c = sqrt(a^2 + b^2) where c is known not to be negative.
    """
    if not facts.equalities:
        return expression, facts
    if facts.reduction is None:
        facts.reduction = _reduced(facts)
    replaced, rest = facts.reduction
    for variable, value in replaced:
        expression = substitute(expression, {variable: value})
    return expression, rest


def _reduced(facts: F) -> tuple[list[tuple[Name, Expression]], F]:
    """The replacements, one after the other, and the facts that are left about the other names."""
    replaced: list[tuple[Name, Expression]] = []
    for _ in range(MOST_EQUALITIES):
        found = _solved_equality(facts)
        if found is None:
            break
        variable, value, used = found
        table = {variable: value}
        kept: list[Any] = []
        for fact in facts.given:
            if fact is used or (isinstance(fact, DomainFact) and fact.name is variable):
                continue
            condition = fact_condition(fact)
            kept.append(fact if condition is None else substitute(condition, table))
        if bits.is_nonpositive(facts.known(variable)):
            kept.append(relation("<=", value, number(0)))
        elif bits.is_nonnegative(facts.known(variable)):
            kept.append(relation("<" if bits.is_positive(facts.known(variable)) else "<=", number(0), value))
        facts = facts.stating(g for g in kept if not (isinstance(g, Truth) and g.holds))
        replaced.append((variable, value))
    return replaced, facts


def _solved_equality(facts: Stated) -> tuple[Name, Expression, object] | None:
    """(name, formula that a fact gives it, the fact) or None."""
    for fact in facts.given:
        condition = fact_condition(fact)
        if not (isinstance(condition, Relation) and condition.operator == "="):
            continue
        for one, other in ((condition.left, condition.right), (condition.right, condition.left)):
            if isinstance(one, Name) and one not in names(other):
                return one, other, fact
        gap = condition.left - condition.right
        for variable in free_names(gap):
            value = _pure_root(gap, variable, facts)
            if value is not None:
                return variable, value, fact
    return None


def _pure_root(gap: Expression, variable: Name, facts: Stated) -> Expression | None:
    """The one real root of a*x^k + b that the sign of x allows."""
    coefficients = univariate.coefficients_of(gap, variable)
    if coefficients is None or len(coefficients) < 2:
        return None
    k = len(coefficients) - 1
    if any(c is not ZERO for c in coefficients[1:-1]) or not facts.is_nonzero(coefficients[-1]):
        return None
    value = univariate.lowest_terms(-coefficients[0] / coefficients[-1])
    if k == 1:
        return value
    if facts.is_nonnegative(variable):
        return power(value, number(mpq(1, k)))
    return -power(value, number(mpq(1, k))) if k % 2 == 0 and facts.is_nonpositive(variable) else None
