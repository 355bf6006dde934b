"""Linear equations of second order with coefficients that depend on the variable: a basis from z'' = r*z, then variation of the constants.

With y = z*exp(-1/2*integral of p) the equation y'' + p*y' + q*y = 0 is z'' = (p^2/4 + p'/2 - q)*z.
"""

from __future__ import annotations

from gelvo.deciding.equality import is_zero
from gelvo.differential.bessel_type import bessel_basis
from gelvo.differential.constant_coefficients import linear_terms
from gelvo.differential.first_order.rate import growth, integral
from gelvo.differential.kovacic import rational_exponent
from gelvo.differential.problem import Outcome, Problem, Solved, imposed, order_of
from gelvo.differential.variation import as_written, varied
from gelvo.errors import DomainError
from gelvo.expression.building import relation, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Condition, Expression, Name
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import factored
from gelvo.simplifying.search import simplify


def linear_second_order(problem: Problem) -> Outcome | None:
    """The general solution, or the one with the stated values; None where no basis is found."""
    u, t = problem.unknowns[0], problem.variable
    parts = linear_terms(problem, False) if order_of(problem, u) == 2 and len(problem.equations) == 1 else None
    if parts is None:
        return None
    table = parts[0].table
    lead = table[u, 2]
    p, q = (factored(table.get((u, k), ZERO) / lead) for k in (1, 0))
    found = _basis(p, q, t, problem.facts)
    if found is None:
        return None
    basis, needed, road = found
    forced = varied(basis, factored(parts[0].right / lead), t, problem.facts) if parts[0].right is not ZERO else ZERO
    constants = problem.constants(2)
    value = total([*[c * b for c, b in zip(constants, basis, strict=True)], forced])
    outcome = Outcome([Solved({u: value}, problem.facts.open_conditions(needed))], constants, road)
    return imposed(problem, outcome) if problem.stated else outcome


def _basis(p: Expression, q: Expression, t: Name, facts: Facts) -> tuple[list[Expression], list[Condition], str] | None:
    """Two solutions of the homogeneous equation, what they need, and how they were found."""
    r = factored(p**2 / 4 + differentiate(p, t) / 2 - q)
    inner = integral(-p / 2, t, facts)
    if inner is None:
        return None
    factor = growth(inner, t, facts)
    try:
        one = rational_exponent(r, t, facts)
    except DomainError:
        one = None
    if one is not None:
        polynomial, rate = one
        whole = integral(rate, t, facts)
        if whole is not None:
            first = simplify(polynomial * growth(whole, t, facts) * factor, facts).expression
            if _solves(first, p, q, t, facts):
                return [first, _second(first, p, t, facts)], [], "an exponential of an integral (Kovacic), and reduction of order"
    bessel = bessel_basis(r, t, facts)
    if bessel is not None:
        right = facts.with_facts([t > 0])
        basis = [simplify(factor * b, right).expression for b in bessel]
        if all(_solves(b, p, q, t, right) for b in basis):
            return basis, [relation("<", ZERO, t)], "Bessel functions of a power of the variable"
    return None


def _solves(y: Expression, p: Expression, q: Expression, t: Name, facts: Facts) -> bool:
    return is_zero(differentiate(y, t, 2) + p * differentiate(y, t) + q * y, facts) is True


def _second(first: Expression, p: Expression, t: Name, facts: Facts) -> Expression:
    """The solution that is independent of one: the integral of exp(-integral of p)/y^2 times it."""
    inner = integral(-p, t, facts)
    weight = growth(inner, t, facts) if inner is not None else None
    assert weight is not None
    rate = simplify(weight / first**2, facts).expression
    whole = integral(rate, t, facts)
    return simplify(first * (whole if whole is not None else as_written(rate, t, facts)), facts).expression
