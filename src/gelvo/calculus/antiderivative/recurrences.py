"""Recurrences between the integrals of a family f_n: the slope of an outer part is a linear combination of neighbours in the family.

The outer part is f_n times a formula with undetermined coefficients; one linear system over the constants, of which n is one, gives
them. Source: G. Almkvist, D. Zeilberger, "The method of differentiating under the integral sign" (1990), for shifts instead of slopes.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple

from gelvo.calculus.elementary.constants import null_space
from gelvo.calculus.elementary.kernels import OutsideOfTowers, Translation
from gelvo.calculus.elementary.leaving import expression_of
from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, number, sqrt, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import factored
from gelvo.functions.named import (
    ACOS,
    ACOSH,
    ASIN,
    ASINH,
    COS,
    COSH,
    COT,
    COTH,
    CSC,
    CSCH,
    EXP,
    SEC,
    SECH,
    SIN,
    SINH,
    TAN,
    TANH,
    is_a,
)
from gelvo.normal.relations import lowest_by_relations

MOST_ORDER = 3
MOST_POWERS = 25
LOWEST_POWER = -2
BESIDE: dict[str, Callable[[Expression], Expression]] = {  # what else may stand in the outer part, beside a function of u
    SIN: COS, COS: SIN, SINH: COSH, COSH: SINH, SEC: TAN, CSC: COT, SECH: TANH, CSCH: COTH,
    ASIN: lambda u: sqrt(1 - u**2), ACOS: lambda u: sqrt(1 - u**2), ASINH: lambda u: sqrt(1 + u**2), ACOSH: lambda u: sqrt(u**2 - 1),
}  # fmt: skip


class Recurrence(NamedTuple):
    """integral of f_n = outer + the sum of shares[k-1] times the integrals of f_(n-k)."""

    outer: Expression
    shares: tuple[Expression, ...]


def recurrence(f: Expression, x: Name, n: Name, facts: Facts) -> Recurrence | None:
    """The shortest recurrence downwards; None where none is found.

    >>> from gelvo.expression.building import name
    >>> x, n = name("x"), name("n")
    >>> print(*recurrence(x**n*EXP(x), x, n, Facts()))
    x^n*exp(x) (-n,)
    """
    rate = lowest_by_relations(differentiate(f, x) / f)
    for order in range(1, MOST_ORDER + 1):
        ratios = [factored(substitute(f, {n: n - k}) / f) for k in range(1, order + 1)]
        if any(contains(r, n) for r in ratios):
            return None
        for outer in _outer_parts(f, x, n):
            found = _solved(f, rate, ratios, outer, x, facts)
            if found is not None:
                return found
    return None


def _outer_parts(f: Expression, x: Name, n: Name) -> Iterator[list[Expression]]:
    """What f_n may be multiplied by: each formula alone first, then all together."""
    listed = list(_monomials(f, x))
    yield from ([m] for m in listed)
    yield listed


def _monomials(f: Expression, x: Name) -> Iterator[Expression]:
    """Products of low powers of the variable, of the factors of the family, and of what stands beside waves; the shortest first."""
    bases = dict.fromkeys([x, *(base_and_exponent(g)[0] for g in factors_in(f) if contains(g, x) and not is_a(g, EXP))])
    beside = [ONE, *dict.fromkeys(BESIDE[h.name](h.arguments[0]) for h in postorder(f) if is_a(h, *BESIDE) and contains(h, x))]
    powers = itertools.product(range(LOWEST_POWER, 2), repeat=len(bases))
    seen: dict[Expression, None] = {}
    for exponents in sorted(powers, key=lambda e: (sum(map(abs, e)), [-k for k in e]))[:MOST_POWERS]:
        for w in beside:
            m = w * multiply_all([b ** number(k) for b, k in zip(bases, exponents, strict=True)])
            if m not in seen:
                seen[m] = None
                yield m


def _solved(
    f: Expression, rate: Expression, ratios: Sequence[Expression], outer: Sequence[Expression], x: Name, facts: Facts
) -> Recurrence | None:
    entries = [lowest_by_relations(e) for e in (ONE, *ratios, *(differentiate(m, x) + m * rate for m in outer))]
    try:
        translation = Translation(entries, x, facts, True)
        row = [translation.element(e) for e in entries]
        vectors = null_space(translation.field, [row], len(row))
    except (OutsideOfTowers, ZeroDivisionError, DomainError):
        return None
    for vector in vectors:
        if not vector[0]:
            continue
        shares = [factored(expression_of(c / vector[0], translation.texts)) for c in vector[1:]]
        before, weights = shares[: len(ratios)], shares[len(ratios) :]
        if before[-1] is not ZERO and not contains(total(shares), x):
            parts = [-w * m * f for w, m in zip(weights, outer, strict=True)]
            return Recurrence(total(parts), tuple(-c for c in before))
    return None
