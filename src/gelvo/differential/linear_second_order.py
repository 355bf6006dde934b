"""Linear equations of second order with coefficients that depend on the variable: a basis from z'' = r*z, then variation of the constants.

With y = z*exp(-1/2*integral of p) the equation y'' + p*y' + q*y = 0 is z'' = (p^2/4 + p'/2 - q)*z.
"""

from __future__ import annotations

import contextlib

from gmpy2 import mpq

from gelvo.deciding.equality import is_zero
from gelvo.differential.bessel_type import bessel_basis
from gelvo.differential.constant_coefficients import linear_terms
from gelvo.differential.first_order.rate import growth, integral
from gelvo.differential.kovacic import rational_exponents
from gelvo.differential.problem import Outcome, Problem, Solved, imposed, order_of
from gelvo.differential.variation import as_written, varied
from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, number, power, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Call, Condition, Expression, Name, Product
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, has_imaginary_unit, postorder
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import COS, EXP, SIN, TAN, is_a
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.simplifying.search import simplify

Basis = tuple[list[Expression], list[Condition], str]


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


def _basis(p: Expression, q: Expression, t: Name, facts: Facts) -> Basis | None:
    """Two solutions of the homogeneous equation, what they need, and how they were found."""
    r = factored(p**2 / 4 + differentiate(p, t) / 2 - q)
    return _by_exponential(r, p, q, t, facts) or _by_bessel(r, p, q, t, facts) or _by_trial(p, q, t, facts)


def _by_exponential(r: Expression, p: Expression, q: Expression, t: Name, facts: Facts) -> Basis | None:
    with contextlib.suppress(DomainError):
        for polynomial, rate in rational_exponents(r, t, facts):
            whole = integral(factored(rate - p / 2), t, facts)
            if whole is None:
                continue
            first = simplify(polynomial * growth(whole, t, facts), facts).expression
            if _solves(first, p, q, t, facts):
                return _with_second(first, p, t, facts), [], "an exponential of an integral (Kovacic), and reduction of order"
    return None


def _by_trial(p: Expression, q: Expression, t: Name, facts: Facts) -> Basis | None:
    """A solution among powers and what stands in the coefficients, and another one by reduction of order."""
    inside = dict.fromkeys(n for n in postorder(p, q) if isinstance(n, Call) and contains(n, t))
    waves = [wave(n.arguments[0]) for n in inside if is_a(n, SIN, COS, TAN) for wave in (SIN, COS)]
    powers = [power(t, number(mpq(k, 2))) for k in (2, 4, -2, -4, 6, 1, -1)]
    for first in dict.fromkeys([*powers, *inside, *waves, EXP(t), EXP(-t), EXP(t**2), EXP(-(t**2))]):
        with contextlib.suppress(DomainError):
            if _solves(first, p, q, t, facts) and integral(-p, t, facts) is not None:
                return _with_second(first, p, t, facts), [], "a solution that was seen, and reduction of order"
    return None


def _by_bessel(r: Expression, p: Expression, q: Expression, t: Name, facts: Facts) -> Basis | None:
    inner = integral(-p / 2, t, facts)
    found = bessel_basis(r, t, facts) if inner is not None else None
    if found is None or inner is None:
        return None
    functions, needed = found
    right = facts.with_facts(needed)
    factor = growth(inner, t, right)
    basis = [_without_content(simplify(factor * b, right).expression, t) for b in functions]
    return (basis, needed, "Bessel functions") if all(_solves(b, p, q, t, right) for b in basis) else None


def _with_second(first: Expression, p: Expression, t: Name, facts: Facts) -> list[Expression]:
    """A solution and another one: of a complex one the real and the imaginary part."""
    if has_imaginary_unit(first) and facts.is_real(p):
        with contextlib.suppress(DomainError):
            parts = [simplify(e, facts).expression for e in real_and_imaginary(first, facts)]
            if ZERO not in parts:
                return [_without_content(e, t) for e in parts]
    return [_without_content(e, t) for e in (first, _second(first, p, t, facts))]


def _without_content(e: Expression, t: Name) -> Expression:
    """Without the factors that do not depend on the variable: a free constant stands before."""
    return multiply_all([f for f in factors_in(e) if contains(f, t)]) if isinstance(e, Product) else e


def _solves(y: Expression, p: Expression, q: Expression, t: Name, facts: Facts) -> bool:
    return is_zero(differentiate(y, t, 2) + p * differentiate(y, t) + q * y, facts) is True


def _second(first: Expression, p: Expression, t: Name, facts: Facts) -> Expression:
    """The solution that is independent of one: the integral of exp(-integral of p)/y^2 times it."""
    inner = integral(-p, t, facts)
    weight = growth(inner, t, facts) if inner is not None else None
    assert weight is not None
    rate = simplify(weight / first**2, facts).expression
    whole = integral(rate, t, facts)
    if whole is None:
        return simplify(first * as_written(rate, t, facts), facts).expression
    return simplify(total([simplify(first * term, facts).expression for term in terms_of(expand(whole))]), facts).expression
