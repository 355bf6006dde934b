"""Linear equations over the integers: all solutions by the extended algorithm of Euclid.

Source: Brahmagupta's pulveriser (628), as in any text on number theory.
"""

from __future__ import annotations

import gmpy2
from gmpy2 import mpq, mpz

from gelvo.expression.building import number, total
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import contains
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand

Values = dict[Name, Expression]


def linear_over_integers(equation: Expression, unknowns: list[Name], free: list[Name]) -> Values | None:
    """The solutions of a_1*x_1 + … + a_n*x_n = c with the free integers given; an empty mapping where there is none.

    Returns None for an equation that is not linear with whole coefficients. Needs one free name less than unknowns.

    >>> from gelvo.expression.building import name
    >>> x, y, n = (name(t, "integer") for t in ("x", "y", "n_1"))
    >>> found = linear_over_integers(3 * x + 5 * y - 1, [x, y], [n])
    >>> [str(v) for v in found.values()]
    ['5*n_1 + 2', '-3*n_1 - 1']
    """
    read = _whole_coefficients(equation, unknowns)
    used = [] if read is None else [u for u in unknowns if read[0][u]]
    if read is None or not used:
        return None
    coefficients, constant = read
    weights, common = _shares(used, coefficients)
    if constant % common:
        return {}
    lead = constant // common
    values: Values = {}
    for u, shares in weights.items():
        own: list[Expression] = [number(int(lead * shares[0]))]
        values[u] = total(own + [number(int(s)) * n for s, n in zip(shares[1:], free, strict=False)])
    further = iter(free[len(used) - 1 :])
    return {u: values[u] if u in values else next(further) for u in unknowns}


def _whole_coefficients(equation: Expression, unknowns: list[Name]) -> tuple[dict[Name, mpz], mpz] | None:
    """The whole coefficients of the unknowns and the right side c, or None where the equation is not linear."""
    terms: list[tuple[Name | None, mpq]] = []
    for term in terms_of(expand(equation)):
        unknown = next((u for u in unknowns if contains(term, u)), None)
        ratio = term if unknown is None else term / unknown
        if not ratio.is_rational:
            return None
        terms.append((unknown, ratio.rational))
    scale = gmpy2.lcm(1, *[ratio.denominator for _, ratio in terms])
    sums: dict[Name | None, mpz] = {None: mpz(0), **dict.fromkeys(unknowns, mpz(0))}
    for unknown, ratio in terms:
        sums[unknown] += mpz(ratio * scale)
    return {u: sums[u] for u in unknowns}, -sums[None]


def _shares(used: list[Name], coefficients: dict[Name, mpz]) -> tuple[dict[Name, list[mpz]], mpz]:
    """The particular share of each unknown, then one share for each free integer; and the common divisor.

    g_k = u_k*g_(k-1) + v_k*a_k: the solutions grow by one unknown at a time.
    """
    common = coefficients[used[0]]
    weights: dict[Name, list[mpz]] = {used[0]: [mpz(1)]}
    for u in used[1:]:
        a = coefficients[u]
        g, p, q = gmpy2.gcdext(common, a)
        for shares in weights.values():
            base = shares[0]
            shares[0] = base * p
            shares.append(base * (a // g))
        weights[u] = [q] + [mpz(0)] * (len(next(iter(weights.values()))) - 2) + [-(common // g)]
        common = g
    return weights, common
