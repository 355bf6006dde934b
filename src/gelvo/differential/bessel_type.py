"""z'' = (a/x^2 + b*x^m)*z by Bessel functions of a power of the variable; Airy's equation is among these.

Source: F. Olver et al., "NIST Digital Library of Mathematical Functions" (2010), section 10.13.
"""

from __future__ import annotations

from gelvo.expression.building import power, sqrt
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import contains
from gelvo.facts.store import Facts
from gelvo.forms.collecting import power_table
from gelvo.forms.expanding import expand
from gelvo.forms.univariate import lowest_terms
from gelvo.functions.named import BESSELI, BESSELJ, BESSELK, BESSELY
from gelvo.simplifying.search import simplify


def bessel_basis(r: Expression, x: Name, facts: Facts) -> list[Expression] | None:
    """sqrt(x) times two Bessel functions, for x > 0; None for another r, or where a sign is open.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> [str(b) for b in bessel_basis(-x, x, Facts())]
    ['sqrt(x)*besselj(1/3, 2*x^(3/2)/3)', 'sqrt(x)*bessely(1/3, 2*x^(3/2)/3)']
    """
    table = power_table(expand(r), x)
    shares = {k: simplify(sum(terms[1:], terms[0]), facts).expression for k, terms in table.items()}
    if any(contains(c, x) for c in shares.values()):
        return None
    a = next((c for k, c in shares.items() if lowest_terms(k + 2) is ZERO), ZERO)
    others = [(k, c) for k, c in shares.items() if lowest_terms(k + 2) is not ZERO]
    if len(others) != 1:
        return None
    m, b = others[0]
    gamma = lowest_terms((m + 2) / 2)
    order = simplify(sqrt(expand(a + ONE / 4)) / gamma, facts.with_facts([x > 0])).expression
    below = facts.is_negative(b)
    if not below and not facts.is_positive(b):
        return None
    scale = simplify(sqrt(expand(-b if below else b)), facts).expression / gamma
    inside = scale * power(x, gamma)
    return [sqrt(x) * f(order, inside) for f in ((BESSELJ, BESSELY) if below else (BESSELI, BESSELK))]
