"""An equation as a polynomial with whole coefficients in its unknowns."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from math import gcd, lcm

from gelvo.expression.building import multiply_all, number, power, total
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import names
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import quotient_parts

Exponents = tuple[int, ...]
Whole = dict[Exponents, int]  # exponents of the unknowns -> coefficient


def whole_polynomial(equation: Expression, unknowns: Sequence[Name]) -> Whole | None:
    """The numerator of an equation, its coefficients without a common factor; None where it is no such polynomial.

    >>> from gelvo.expression.building import name
    >>> x, y = name("x"), name("y")
    >>> whole_polynomial(x**2/2 - y/3 - 1, [x, y])
    {(0, 1): -2, (2, 0): 3, (0, 0): -6}
    """
    found: dict[Exponents, int] = {}
    rows = []
    for term in terms_of(expand(quotient_parts(equation)[0])):
        exponents = dict.fromkeys(unknowns, 0)
        rest = term
        for factor in factors_in(term):
            base, k = base_and_exponent(factor)
            if base in exponents and k.is_whole and k.rational > 0 and isinstance(base, Name):
                exponents[base] = int(k.rational)
                rest = rest / factor
        if not rest.is_rational:
            return None
        rows.append((tuple(exponents.values()), rest.rational))
    scale = lcm(*(int(c.denominator) for _, c in rows)) if rows else 1
    for exponents_of_term, c in rows:
        found[exponents_of_term] = found.get(exponents_of_term, 0) + int(c * scale)
    common = gcd(*found.values()) if found else 1
    return {k: v // common for k, v in found.items() if v}


def as_expression(p: Mapping[Exponents, int], unknowns: Sequence[Name]) -> Expression:
    """The polynomial as a formula."""
    return total(
        [multiply_all([number(c), *[power(u, number(k)) for u, k in zip(unknowns, e, strict=True)]]) for e, c in p.items()]
    )


def value_at(p: Mapping[Exponents, int], place: Sequence[int]) -> int:
    """The value at whole numbers."""
    result = 0
    for exponents, c in p.items():
        for x, k in zip(place, exponents, strict=True):
            c *= x**k
        result += c
    return result


def letters_beside(equation: Expression, unknowns: Sequence[Name]) -> bool:
    """Whether other names stand in an equation."""
    return any(n not in unknowns for n in names(equation))
