"""Linear equations of second order with coefficients that depend on the variable: a basis from z'' = r*z, then variation of the constants.

With y = z*exp(-1/2*integral of p) the equation y'' + p*y' + q*y = 0 is z'' = (p^2/4 + p'/2 - q)*z.
"""

from __future__ import annotations

import contextlib

from gmpy2 import mpq

from gelvo.deciding.equality import is_zero
from gelvo.differential.constant_coefficients import basis_of, linear_terms
from gelvo.differential.first_order.rate import growth, integral
from gelvo.differential.problem import Outcome, Problem, Solved, order_of, stated_places, without_bars
from gelvo.differential.second_order.bessel_type import around_zero, bessel_basis
from gelvo.differential.second_order.changed_variable import (
    changes,
    is_negative_at_start,
    parted,
    positive_where,
    to_constant_coefficients,
)
from gelvo.differential.second_order.hypergeometric_type import hypergeometric_solutions
from gelvo.differential.second_order.kovacic.decision import NONE, Form, forms, has_none
from gelvo.differential.second_order.singular_places import exponents, leading_at
from gelvo.differential.singular_values import has_value, imposed_anywhere
from gelvo.differential.variation import as_written, varied
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import multiply_all, number, power, sqrt, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Applied, Call, Condition, Expression, Name, Power, Product, Written
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, has_imaginary_unit, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import AIRYAI, BESSELI, BESSELJ, COS, COT, EXP, HYP0F1, HYP1F1, HYP2F1, SIN, TAN, is_a
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.simplifying.search import simplify

SPECIAL = (AIRYAI, BESSELJ, BESSELI, HYP0F1, HYP1F1, HYP2F1)
KOVACIC = "an exponential of an integral (Kovacic)"
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
    found = basis_of_second_order(p, q, t, problem.facts)
    if found is None:
        if has_none(_reduced(p, q, t), t, problem.facts):
            raise NotSolved(f"{NONE}, and none by the known special functions: use solve_numerically or series_solution")
        return None
    basis, needed, road = found
    valued = [b for b in basis if _has_values(b, problem)]
    if len(valued) < len(basis) and (not valued or all(_has_values(c, problem) for c in (p, q))):
        series = [_without_content(around_zero(b, t, problem.facts), t) for b in basis]
        if all(_solves(b, p, q, t, problem.facts) for b in series):
            basis, needed = series, [c for c in needed if not contains(c, t)]
    if any(is_a(n, *SPECIAL) for n in postorder(*basis)) and has_none(_reduced(p, q, t), t, problem.facts):
        road = f"{road}; {NONE}"
    inside = problem.facts.with_facts(needed)
    forced = varied(basis, factored(parts[0].right / lead), t, inside) if parts[0].right is not ZERO else ZERO
    constants = problem.constants(2)
    value = total([*[c * b for c, b in zip(constants, basis, strict=True)], forced])
    outcome = Outcome([Solved({u: value}, problem.facts.open_conditions(needed))], constants, road)
    return imposed_anywhere(problem, outcome, _told_apart(problem, p, q))


def _has_values(solution: Expression, problem: Problem) -> bool:
    """Whether a solution and its derivative have values where values are stated."""
    t = problem.variable
    return all(has_value(differentiate(solution, t, k), t, place) for place in stated_places(problem) for k in (0, 1))


def _told_apart(problem: Problem, p: Expression, q: Expression) -> list[Expression]:
    """The places of stated values at which the exponents tell that the multiples of one solution alone have a value."""
    found, t = [], problem.variable
    slopes = {e.left.arguments[0] for e in problem.stated if isinstance(e.left, Applied) and any(e.left.orders)}
    for place in stated_places(problem):
        with contextlib.suppress(DomainError):
            one, other = exponents(leading_at(p, t, place, 1), leading_at(q, t, place, 2), problem.facts)
            # of the exponents 0 and 1 the first brings t*ln(t), where q has a pole
            bent = one is ZERO and other is ONE and place in slopes and problem.facts.is_nonzero(leading_at(q, t, place, 1))
            if bent or any(problem.facts.is_negative(r) for r in (one, other)) or one is other is ZERO:
                found.append(place)
    return found


def basis_of_second_order(p: Expression, q: Expression, t: Name, facts: Facts) -> Basis | None:
    """Two solutions of the homogeneous equation, what they need, and how they were found."""
    direct = _as_it_is(p, q, t, facts)
    if direct is not None and all(contains(c, t) for c in direct[1]):
        return direct
    changed = _by_change(p, q, t, facts)
    both = [b for b in (direct, changed) if b is not None]
    return min(both, key=lambda b: len(b[1]), default=None)  # as few conditions on letters as there may be


def _reduced(p: Expression, q: Expression, t: Name) -> Expression:
    """r of z'' = r*z."""
    return factored(p**2 / 4 + differentiate(p, t) / 2 - q)


def _as_it_is(p: Expression, q: Expression, t: Name, facts: Facts) -> Basis | None:
    r = _reduced(p, q, t)
    exponential = _by_exponential(r, p, q, t, facts)
    if exponential is not None and not any(isinstance(n, Written) for n in postorder(*exponential[0])):
        return exponential
    return (
        _by_constant_coefficients(p, q, t, facts)
        or exponential
        or _by_bessel(r, p, q, t, facts)
        or _by_trial(p, q, t, facts)
        or _by_hypergeometric(p, q, t, facts)
    )


def _by_change(p: Expression, q: Expression, t: Name, facts: Facts, again: bool = True) -> Basis | None:
    """In a power, an exponential or a wave of the variable, and back; `again`: also in a power of the new one."""
    for change in changes(p, q, t, facts):
        found = _as_it_is(change.p, change.q, change.s, facts)
        if found is None and again:
            found = _by_change(change.p, change.q, change.s, facts, again=False)
        if found is None:
            continue
        basis, needed, road = found
        back = {change.s: change.by_old}
        basis, needed = [substitute(b, back) for b in basis], [substitute(c, back) for c in needed]
        ready = _tidied(basis, needed, change.where, p, q, t, facts)
        if ready is not None:
            return (*ready, road)
    return None


def _by_hypergeometric(p: Expression, q: Expression, t: Name, facts: Facts) -> Basis | None:
    for solutions in hypergeometric_solutions(p, q, t, facts):
        ready = _tidied(solutions.found, solutions.needed, solutions.positive, p, q, t, facts)
        if ready is not None:
            return (*ready, solutions.functions)
    return None


def _tidied(
    found: list[Expression],
    needed: list[Condition],
    positive: list[Condition],
    p: Expression,
    q: Expression,
    t: Name,
    facts: Facts,
) -> tuple[list[Expression], list[Condition]] | None:
    """Solutions simplified where certain formulas are positive, completed to two of them, and proved."""
    right = facts.with_facts([*needed, *positive])
    basis = [_without_content(simplify(_plain_roots(b, right), right).expression, t) for b in found]
    if not all(_solves(b, p, q, t, right) for b in basis):
        return None
    if len(basis) == 1:
        if integral(-p, t, right) is None:
            return None
        basis.append(_without_content(_second(basis[0], p, t, right), t))
    kept = [] if all(_solves(b, p, q, t, facts) for b in basis) else positive
    return basis, [*needed, *kept]


def _plain_roots(e: Expression, facts: Facts) -> Expression:
    """x for sqrt(x^2) of a positive x, and so on."""
    roots = [n for n in postorder(e) if isinstance(n, Power) and not n.exponent.is_whole]
    return substitute(e, {n: simplify(n, facts).expression for n in roots})


def _by_exponential(r: Expression, p: Expression, q: Expression, t: Name, facts: Facts) -> Basis | None:
    with contextlib.suppress(DomainError):
        for form in forms(r, t, facts):
            if form.square is not ZERO:
                found = _two_roots(form, p, q, t, facts)
                if found is not None:
                    return found
                continue
            whole = integral(factored((form.slope - p) / 2), t, facts)
            if whole is None:
                continue
            first = simplify(form.polynomial * growth(whole, t, facts), facts).expression
            if _solves(first, p, q, t, facts):
                return _with_second(first, p, t, facts), [], f"{KOVACIC}, and reduction of order"
    return None


def _two_roots(form: Form, p: Expression, q: Expression, t: Name, facts: Facts) -> Basis | None:
    """exp(integral of (f - p)/2) times the two waves, or exponentials, of the integral of the root of the square."""
    for sign in _signs(form.square, t, facts):
        still, inside = parted(sign * form.square, t)
        if facts.is_negative(still):
            still, inside = -still, factored(-inside)
        where = positive_where(inside, t, facts)
        right = facts.with_facts(where)
        size = without_bars(simplify(sqrt(still), facts).expression)
        front = integral(factored((form.slope - p) / 2), t, right)
        turn = integral(size * simplify(sqrt(inside), right).expression / 2, t, right)
        if not facts.is_positive(still) or front is None or turn is None:
            continue
        waves = (COS(turn), SIN(turn)) if sign < 0 else (EXP(turn), EXP(-turn))
        basis = [_without_content(simplify(growth(front, t, right) * w, right).expression, t) for w in waves]
        if all(_solves(b, p, q, t, right) for b in basis):
            return basis, [] if all(_solves(b, p, q, t, facts) for b in basis) else where, KOVACIC
    return None


def _signs(square: Expression, t: Name, facts: Facts) -> tuple[int, ...]:
    """The signs to try: the one that it has, else first the one that it has near 0 or 1."""
    if facts.is_positive(square):
        return (1,)
    if facts.is_negative(square):
        return (-1,)
    return (-1, 1) if is_negative_at_start(square, t, facts) else (1, -1)


def _by_constant_coefficients(p: Expression, q: Expression, t: Name, facts: Facts) -> Basis | None:
    found = to_constant_coefficients(p, q, t, facts)
    if found is None:
        return None
    right = facts.with_facts(found.where)
    inner = integral(found.slope, t, right)
    if inner is None:
        return None
    mark = facts.new_name("s", p, q, t)
    with contextlib.suppress(NotSolved):
        pair = basis_of([found.zeroth, found.first, ONE], 1, mark, right)
        basis = [simplify(substitute(b, {mark: inner}), right).expression for b in pair]
        if all(_solves(b, p, q, t, right) for b in basis):
            return basis, found.where, "constant coefficients in a new variable"
    return None


def _by_trial(p: Expression, q: Expression, t: Name, facts: Facts) -> Basis | None:
    """A solution among powers and what stands in the coefficients, and another one by reduction of order."""
    inside = dict.fromkeys(n for n in postorder(p, q) if isinstance(n, Call) and contains(n, t))
    waves = [wave(n.arguments[0]) for n in inside if is_a(n, SIN, COS, TAN, COT) for wave in (SIN, COS, TAN, COT)]
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
