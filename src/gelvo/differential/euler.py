"""Euler's equation: the coefficients are powers of the variable, and constant with its logarithm as the variable.

Source: E. Ince, "Ordinary Differential Equations" (1926), section 6.3.
"""

from __future__ import annotations

from gelvo.differential.constant_coefficients import Linear, basis_of, linear_terms, rates_apart
from gelvo.differential.problem import Outcome, Problem, Solved, imposed
from gelvo.differential.variation import varied
from gelvo.expression.building import multiply_all, number, power, relation, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Expression, Name, Number, Written
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import EXP, LN
from gelvo.simplifying.partial_fractions import split_fraction
from gelvo.simplifying.search import simplify


def euler(problem: Problem) -> Outcome | None:
    """t^2*y'' + a*t*y' + b*y = f for t > 0: powers of t, with logarithms where roots are double."""
    parts = linear_terms(problem, False)
    if parts is None or len(parts) != 1 or not parts[0].table:
        return None
    t, order = problem.variable, max(k for _, k in parts[0].table)
    weights = _weights(parts[0], t, order)
    if weights is None:
        return None
    r = problem.facts.new_name("r", *problem.equations)
    polynomial = expand(total([w * multiply_all([r - j for j in range(k)]) for k, w in weights.items()]))
    _, _, factors = split_fraction(factored(1 / polynomial), r)
    log = problem.facts.new_name("l", *problem.equations)
    basis = [b for base, times in factors for b in basis_of(base, times, log, problem.facts)]
    facts = problem.facts.with_facts([t > 0])
    own = [simplify(substitute(b, {log: LN(t)}), facts).expression for b in basis]
    forced = _forced(parts[0], basis, log, t, order, facts)
    constants = problem.constants(order)
    value = total([*[c * b for c, b in zip(constants, own, strict=True)], forced])
    whole = all(len(b) == 2 and times == 1 and _is_whole(uni.lowest_terms(-b[0] / b[1])) for b, times in factors)
    inside = relation("!=", t, ZERO) if whole else relation("<", ZERO, t)
    needed = [*problem.facts.open_conditions([inside]), *rates_apart(factors, r, problem.facts)]
    outcome = Outcome([Solved({problem.unknowns[0]: value}, tuple(needed))], constants, "powers of the variable (Euler)")
    return imposed(problem, outcome) if problem.stated else outcome


def _weights(linear: Linear, t: Name, order: int) -> dict[int, Expression] | None:
    """The constants before t^k times the k-th derivative; None where they are not constant."""
    lead = next(c for (_, k), c in linear.table.items() if k == order)
    weights = {k: factored(c / lead * power(t, number(order - k))) for (_, k), c in linear.table.items()}
    return None if any(contains(w, t) for w in weights.values()) else weights


def _forced(linear: Linear, basis: list[Expression], log: Name, t: Name, order: int, facts: Facts) -> Expression:
    """A particular solution, with the logarithm as the variable."""
    if linear.right is ZERO:
        return ZERO
    lead = next(c for (_, k), c in linear.table.items() if k == order)
    pushed = simplify(substitute(linear.right / lead * power(t, number(order)), {t: EXP(log)}), facts).expression
    found = simplify(substitute(varied(basis, pushed, log, facts), {log: LN(t)}), facts).expression
    if not _is_written(found):
        return found
    own = [simplify(substitute(b, {log: LN(t)}), facts).expression for b in basis]
    plain = varied(own, factored(linear.right / lead), t, facts)
    return found if _is_written(plain) else plain


def _is_written(e: Expression) -> bool:
    return any(isinstance(n, Written) for n in postorder(e))


def _is_whole(exponent: Expression) -> bool:
    return isinstance(exponent, Number) and exponent.is_whole
