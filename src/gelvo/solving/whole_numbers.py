"""Linear equations over the integers: all solutions by the extended algorithm of Euclid.

Source: Brahmagupta's pulveriser (628), as in any text on number theory.
"""

from __future__ import annotations

import gmpy2
from gmpy2 import mpz

from gelvo.expression.building import number, total
from gelvo.expression.nodes import Expression, Name, Number
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
    coefficients = dict.fromkeys(unknowns, mpz(0))
    constant = mpz(0)
    expanded = expand(equation)
    scale = mpz(1)
    for term in terms_of(expanded):
        ratio = next((term / u for u in unknowns if contains(term, u)), term)
        if not (isinstance(ratio, Number) and ratio.is_rational):
            return None
        scale = gmpy2.lcm(scale, ratio.rational.denominator)
    for term in terms_of(expanded):
        unknown = next((u for u in unknowns if contains(term, u)), None)
        ratio = term if unknown is None else term / unknown
        assert isinstance(ratio, Number)
        value = mpz(ratio.rational * scale)
        if unknown is None:
            constant -= value
        else:
            coefficients[unknown] += value
    # g_k = u_k*g_(k-1) + v_k*a_k: the solutions grow by one unknown at a time
    used = [u for u in unknowns if coefficients[u]]
    if not used:
        return None
    common = coefficients[used[0]]
    weights: dict[Name, list[mpz]] = {used[0]: [mpz(1)]}  # particular share, then one share for each free integer
    for u in used[1:]:
        a = coefficients[u]
        g, p, q = gmpy2.gcdext(common, a)
        for shares in weights.values():
            base = shares[0]
            shares[0] = base * p
            shares.append(base * (a // g))
        weights[u] = [q] + [mpz(0)] * (len(next(iter(weights.values()))) - 2) + [-(common // g)]
        common = g
    if constant % common:
        return {}
    lead = constant // common
    values: Values = {}
    spare = list(free)
    for u, shares in weights.items():
        own: list[Expression] = [number(int(lead * shares[0]))]
        own += [number(int(s)) * n for s, n in zip(shares[1:], spare, strict=False)]
        values[u] = total(own)
    further = spare[len(used) - 1 :]
    for u in unknowns:
        if u not in values:
            values[u] = further.pop(0)
    return {u: values[u] for u in unknowns}
