"""The variable as a function of the function: y' = 1/F(t, y) where dt/dy = F is Bernoulli's or Riccati's equation for t.

Source: E. Ince, "Ordinary Differential Equations" (1926), chapter 2.
"""

from __future__ import annotations

from gelvo.differential.first_order.levels import from_level
from gelvo.differential.first_order.linear import bernoulli
from gelvo.differential.first_order.rate import Rate
from gelvo.differential.first_order.riccati import riccati
from gelvo.differential.problem import Outcome, Problem, derivative_of
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import applied
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Applied, Written
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.forms.fractions import factored
from gelvo.solving.single.complete import solve_single


def exchanged(rate: Rate) -> Outcome | None:
    """The level sets of the constant in the solutions t(y)."""
    turned = _turned(rate)
    if turned is None:
        return None
    for method in (bernoulli, riccati):
        try:
            family = method(turned)
            found = None if family is None else _level(rate, family)
        except (NotSolved, DomainError):
            continue
        if found is not None:
            return found
    return None


def _turned(rate: Rate) -> Rate | None:
    """The problem dt/dy = 1/y' without what is stated."""
    if not contains(rate.slope, rate.t) or rate.slope is ZERO:
        return None
    t_of_y = applied(str(rate.facts.new_name("x", rate.slope, rate.t, rate.y)), (rate.y,), (0,))
    assert isinstance(t_of_y, Applied)
    inverse = factored(1 / rate.slope)
    equation = derivative_of(t_of_y, 1) - substitute(inverse, {rate.t: t_of_y})
    return Rate(Problem([equation], [t_of_y], rate.y, [], rate.facts), inverse, rate.t)


def _level(rate: Rate, family: Outcome) -> Outcome | None:
    """The family t = T(y, C) solved for C."""
    values = [
        s.values[u] for s in family.found for u in s.values if family.constants and contains(s.values[u], family.constants[0])
    ]
    if not values or any(isinstance(n, Written) for n in postorder(values[0])):
        return None
    roots = solve_single(values[0] - rate.t, family.constants[0], rate.facts, True)
    if len(roots.found) != 1 or not contains(roots.found[0].value, rate.y):
        return None
    return from_level(rate, factored(roots.found[0].value), ZERO, f"the variable as a function of {rate.unknown}; {family.road}")
