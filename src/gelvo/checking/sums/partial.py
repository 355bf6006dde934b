"""Sums and products without end as the limit of what induction proves of the finite ones."""

from __future__ import annotations

from typing import TypeGuard

from gelvo.checking.certificate import PROVED, REFUTED, Certificate
from gelvo.checking.ends import proved_limit
from gelvo.checking.proposals import proposed_sum
from gelvo.checking.sums.finite import by_induction, product_by_induction
from gelvo.deciding.equality import decide_zero
from gelvo.errors import GelvoError
from gelvo.expression.building import power
from gelvo.expression.constants import INFINITE
from gelvo.expression.nodes import Bound, Expression, Name, Node, Number, Power
from gelvo.expression.traversal import contains, postorder, transform
from gelvo.facts.statements import DomainFact
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni

METHOD = "the limit of partial {}, of which induction proves the closed form"


def by_partial_form(
    term: Expression, k: Name, lower: Expression, value: Expression, facts: Facts, claim: str, product: bool = False
) -> Certificate | None:
    """The certificate where a closed form of the finite ones is proposed, proved, and has a proved limit; else None."""
    outer = facts.without(k)
    n = outer.new_name("n", term, lower)
    outer = outer.with_facts([DomainFact(n, "natural")])
    try:
        partial = proposed_sum(term, k, lower, n, facts, product)
        if partial is None or not _is_proved(term, k, lower, n, partial, outer, product):
            return None
        end = _limit(partial, n, outer.without(n))
        if end is None:
            return None
        same = end is value if isinstance(end, Bound) or isinstance(value, Bound) else decide_zero(end - value, outer).zero
    except (GelvoError, ArithmeticError):
        return None
    if same is None:
        return None
    evidence = {"to n": partial, "established": "the step to the next end; the beginning; the limit"}
    return Certificate(claim, PROVED if same else REFUTED, METHOD.format("products" if product else "sums"), evidence)


def _is_proved(term: Expression, k: Name, lower: Expression, n: Name, partial: Expression, facts: Facts, product: bool) -> bool:
    if product:
        return all(product_by_induction(term, k, lower, n, n, partial, facts))
    return by_induction(term, k, lower, n, n, partial, facts) is not None


def _limit(f: Expression, n: Name, facts: Facts) -> Expression | None:
    """As n grows; where n stands in powers of one number only, as that power grows."""
    found = proved_limit(f, n, INFINITE, facts)
    bases = {node.base for node in postorder(f) if _is_power_to(node, n, facts)}
    if found is not None or len(bases) != 1:
        return found
    N = facts.new_name("N", f, domain="positive")

    def visit(node: Node) -> Node:
        if not _is_power_to(node, n, facts):
            return node
        parts = uni.linear_parts(node.exponent, n)
        return node if parts is None else power(N, parts[0]) * power(node.base, parts[1])

    moved = transform(f, visit)
    return None if contains(moved, n) else proved_limit(moved, N, INFINITE, facts)


def _is_power_to(node: Node, n: Name, facts: Facts) -> TypeGuard[Power]:
    return (
        isinstance(node, Power)
        and contains(node.exponent, n)
        and isinstance(node.base, Number)
        and facts.is_positive(node.base - 1)
    )
