"""Euler's equation: the coefficients are powers of the variable, and constant with its logarithm as the variable.

Source: E. Ince, "Ordinary Differential Equations" (1926), section 6.3.
"""

from __future__ import annotations

from gelvo.differential.constant_coefficients import basis_of, linear_terms, rates_apart
from gelvo.differential.problem import Outcome, Problem, Solved, stated_places
from gelvo.differential.singular_values import imposed_anywhere
from gelvo.differential.variation import varied
from gelvo.expression.building import multiply_all, number, power, relation, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Applied, Expression, Name, Number, Written
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.vanishing import factor_list
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import COSH, COTH, EXP, LN, SINH, TANH, is_a
from gelvo.simplifying.expressing import express
from gelvo.simplifying.partial_fractions import split_fraction
from gelvo.simplifying.search import simplify
from gelvo.solving.putting_back import read_easily


def euler(problem: Problem) -> Outcome | None:
    """u^2*y'' + a*u*y' + b*y = f for u = t - t_0 > 0: powers of u, with logarithms where roots are double; before t_0 if stated there."""
    parts = linear_terms(problem, False)
    if parts is None or len(parts) != 1 or not parts[0].table:
        return None
    t, order, facts = problem.variable, max(k for _, k in parts[0].table), problem.facts
    read = _weights(parts[0].table, t, order)
    if read is None:
        return None
    place, weights = read
    r, log = (facts.new_name(word, *problem.equations) for word in "rl")
    polynomial = expand(total([w * multiply_all([r - j for j in range(k)]) for k, w in weights.items()]))
    _, _, factors = split_fraction(factored(1 / polynomial), r)
    basis = [b for base, times in factors for b in basis_of(base, times, log, facts)]
    side = _side(problem, place)
    distance = side * (t - place)
    known = facts.with_facts([relation("<", ZERO, distance)])
    own = [simplify(substitute(b, {log: LN(distance)}), known).expression for b in basis]
    forcing = parts[0].right / parts[0].table[problem.unknowns[0], order]
    forced = (
        _forced(forcing, basis, own, log, problem._replace(facts=known), (place, side, order)) if forcing is not ZERO else ZERO
    )
    constants = problem.constants(order)
    value = total([*[c * b for c, b in zip(constants, own, strict=True)], forced])
    whole = all(len(b) == 2 and times == 1 and _is_whole(uni.lowest_terms(-b[0] / b[1])) for b, times in factors)
    inside = relation("!=", t, place) if whole else read_easily(relation("<", ZERO, distance))
    needed = [*facts.open_conditions([inside]), *rates_apart(factors, r, facts)]
    outcome = Outcome([Solved({problem.unknowns[0]: value}, tuple(needed))], constants, "powers of the variable (Euler)")
    return imposed_anywhere(problem, outcome)


def _weights(
    table: dict[tuple[Applied, int], Expression], t: Name, order: int
) -> tuple[Expression, dict[int, Expression]] | None:
    """A place t_0, and the constants before (t - t_0)^k times the k-th derivative; None where they are not constant."""
    lead = next(c for (_, k), c in table.items() if k == order)
    for place in _places(lead, t):
        weights = {k: factored(c / lead * power(t - place, number(order - k))) for (_, k), c in table.items()}
        if not any(contains(w, t) for w in weights.values()):
            return place, weights
    return None


def _places(lead: Expression, t: Name) -> list[Expression]:
    """0, and where linear factors of the leading coefficient vanish."""
    lines = [uni.linear_parts(f, t) for f in factor_list(factored(lead)) if contains(f, t)]
    places = [uni.lowest_terms(-line[1] / line[0]) for line in lines if line is not None]
    return list(dict.fromkeys([ZERO, *[p for p in places if not contains(p, t)]]))


def _side(problem: Problem, place: Expression) -> int:
    """-1 where values are stated before a place, or the variable is known to be there; else 1."""
    return -1 if any(problem.facts.is_negative(p - place) for p in (*stated_places(problem), problem.variable)) else 1


def _forced(
    forcing: Expression, basis: list[Expression], own: list[Expression], log: Name, problem: Problem, around: tuple[Expression, int, int]
) -> Expression:  # fmt: skip
    """A particular solution, with the logarithm of the distance as the variable; around: the place, the side and the order."""
    t, facts, (place, side, order) = problem.variable, problem.facts, around
    pushed = simplify(substitute(forcing * power(t - place, number(order)), {t: place + side * EXP(log)}), facts).expression
    in_logarithm = varied(basis, pushed, log, facts)
    plain_powers = {n: express(n, "exponentials") for n in postorder(in_logarithm) if is_a(n, SINH, COSH, TANH, COTH)}
    found = substitute(substitute(in_logarithm, plain_powers), {log: LN(side * (t - place))})
    found = simplify(found, facts).expression
    if not _is_written(found):
        return found
    plain = varied(own, factored(forcing), t, facts)
    return found if _is_written(plain) else plain


def _is_written(e: Expression) -> bool:
    return any(isinstance(n, Written) for n in postorder(e))


def _is_whole(exponent: Expression) -> bool:
    return isinstance(exponent, Number) and exponent.is_whole
