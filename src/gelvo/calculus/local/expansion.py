"""Sums of c*u^e in a small positive u, with rational exponents and a known remainder.

Every expansion says how far it is known, so that cancellation asks for more terms instead of giving a wrong one."""

from __future__ import annotations

from typing import NamedTuple

from gmpy2 import fac, mpq

from gelvo.expression.building import multiply_all, number, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Expression
from gelvo.forms.expanding import expand
from gelvo.forms.univariate import lowest_terms

TINY = mpq(1, 10**6)  # the exponent of a remainder of which only is known that it vanishes


MOST_TERMS = 64


class Unclear(Exception):
    """The expansion could not be told; the text says why."""


class Short(Exception):
    """More terms are needed before the question can be answered."""


class Expansion(NamedTuple):
    """Coefficients by exponent, ascending, and the first exponent that is not known (None where nothing is left out)."""

    terms: dict[mpq, Expression]
    order: mpq | None = None

    @property
    def valuation(self) -> mpq | None:
        return next(iter(self.terms), self.order)


def least(*orders: mpq | None) -> mpq | None:
    known = [o for o in orders if o is not None]
    return min(known) if known else None


def plus(a: mpq | None, b: mpq | None) -> mpq | None:
    return None if a is None or b is None else a + b


def clean(terms: dict[mpq, list[Expression]], order: mpq | None) -> Expansion:
    result: dict[mpq, Expression] = {}
    for exponent in sorted(terms):
        if order is not None and exponent >= order:
            break
        pieces = terms[exponent]
        value = pieces[0] if len(pieces) == 1 else lowest_terms(expand(total(pieces)))
        if value is not ZERO:
            result[exponent] = value
    return Expansion(result, order)


def constant_term(value: Expression) -> Expansion:
    return Expansion({mpq(0): value} if value is not ZERO else {})


def apart(a: Expansion) -> tuple[Expression | None, Expansion]:
    """Where a quantity goes (None where it grows), and what it is besides."""
    if a.terms and next(iter(a.terms)) < 0:
        return None, a
    return a.terms.get(mpq(0), ZERO), Expansion({e: c for e, c in a.terms.items() if e}, a.order)


def binomial(q: mpq, k: int) -> mpq:
    result = mpq(1)
    for j in range(k):
        result = result * (q - j) / (j + 1)
    return result


def falling(a: Expression, k: int) -> Expression:
    return lowest_terms(multiply_all([*[a - j for j in range(k)], number(mpq(1, fac(k)))]))
