"""Linear equations of order three and more: products of powers and exponentials are seen, and each lowers the order by one.

Source: E. Ince, "Ordinary Differential Equations" (1926), chapter 5 (reduction of order, J. d'Alembert).
"""

from __future__ import annotations

import contextlib
from collections.abc import Iterator
from math import comb

from gelvo.deciding.equality import is_zero
from gelvo.differential.constant_coefficients import HIGHEST_ORDER, linear_terms
from gelvo.differential.first_order.rate import growth, integral
from gelvo.differential.problem import Outcome, Problem, Solved, order_of
from gelvo.differential.second_order.linear import basis_of_second_order
from gelvo.differential.singular_values import imposed_anywhere
from gelvo.differential.variation import integral_or_written, varied
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import number, power, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Condition, Expression, Name
from gelvo.expression.traversal import substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import EXP
from gelvo.simplifying.search import simplify
from gelvo.solving.linear import linear_rows, solve_linear
from gelvo.solving.single.complete import solve_single

POWERS = range(-2, 6)
Equation = list[Expression]  # the coefficients of y, y', y'', …


def linear_higher_order(problem: Problem) -> Outcome | None:
    """The general solution from those that are seen, or the one with the stated values; None where too few are."""
    u, t, facts = problem.unknowns[0], problem.variable, problem.facts
    order = order_of(problem, u)
    parts = linear_terms(problem, False) if 2 < order <= HIGHEST_ORDER and len(problem.equations) == 1 else None
    if parts is None:
        return None
    equation = [parts[0].table.get((u, k), ZERO) for k in range(order + 1)]
    seen = list(_seen(equation, t, facts))
    found = _by_reduction(equation, seen, t, facts) if seen else None
    if found is None:
        return None
    basis, needed = found
    if not all(_solves(equation, b, t, facts.with_facts(needed)) for b in basis):
        return None
    forcing = factored(parts[0].right / equation[-1])
    forced = varied(basis, forcing, t, facts) if forcing is not ZERO else ZERO
    constants = problem.constants(order)
    value = total([*[c * b for c, b in zip(constants, basis, strict=True)], forced])
    outcome = Outcome(
        [Solved({u: value}, tuple(facts.open_conditions(needed)))], constants, "solutions that were seen, and reduction of order"
    )
    return imposed_anywhere(problem, outcome)


def _seen(equation: Equation, t: Name, facts: Facts) -> Iterator[Expression]:
    """Independent solutions p(t)*exp(r*t), p a sum of powers: r makes what grows fastest vanish."""
    r = facts.new_name("r", t, *equation)
    whole = quotient_parts(factored(total([c * r**k for k, c in enumerate(equation)])))[0]
    column = uni.coefficients_of(expand(whole), t)
    if column is None:
        return
    rates: list[Expression] = [ZERO]
    with contextlib.suppress(NotSolved, DomainError):
        rates += [
            root.value for root in solve_single(column[-1], r, facts, True, formulas_only=True).found if not root.conditions
        ]
    letters = [facts.new_name(f"a_{k - POWERS.start}", r, *equation) for k in POWERS]
    for rate in dict.fromkeys(rates):
        shape = total([a * power(t, number(k)) for a, k in zip(letters, POWERS, strict=True)])
        inside = simplify(_applied(equation, shape * EXP(rate * t), t) / EXP(rate * t), facts).expression
        rows = uni.coefficients_of(expand(quotient_parts(factored(inside))[0]), t)
        table = linear_rows([row for row in rows or () if row is not ZERO], letters)
        solved = solve_linear(table, letters, facts) if table is not None else None
        if solved is None or not solved.found or solved.conditions:
            continue
        left = substitute(shape, solved.found[0].values)
        for a in letters:
            piece = differentiate(left, a)
            if piece is not ZERO:
                yield simplify(piece * EXP(rate * t), facts).expression


def _applied(equation: Equation, y: Expression, t: Name) -> Expression:
    return total([c * differentiate(y, t, k) for k, c in enumerate(equation)])


def _solves(equation: Equation, y: Expression, t: Name, facts: Facts) -> bool:
    return is_zero(_applied(equation, y, t), facts) is True


def _by_reduction(
    equation: Equation, seen: list[Expression], t: Name, facts: Facts
) -> tuple[list[Expression], list[Condition]] | None:
    """A basis: y = u*integral of w, with an equation for w of the next lower order, of which the slopes of the others over u are known."""
    order = len(equation) - 1
    if order == 1:
        rate = integral(factored(-equation[0] / equation[1]), t, facts)
        return None if rate is None else ([growth(rate, t, facts)], [])
    if not seen:
        p, q = (factored(equation[k] / equation[2]) for k in (1, 0)) if order == 2 else (None, None)
        second = basis_of_second_order(p, q, t, facts) if p is not None and q is not None else None
        return None if second is None else (second[0], second[1])
    u = seen[0]
    lower = [
        simplify(total([equation[k] * comb(k, j) * differentiate(u, t, k - j) for k in range(j, order + 1)]), facts).expression
        for j in range(1, order + 1)
    ]
    slopes = [simplify(differentiate(s / u, t), facts).expression for s in seen[1:]]
    found = _by_reduction(lower, slopes, t, facts)
    if found is None:
        return None
    new = [simplify(u * integral_or_written(w, t, facts), facts).expression for w in found[0][len(slopes) :]]
    return [*seen, *new], found[1]
