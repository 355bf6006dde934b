"""Definiteness of a symmetric matrix: by Sylvester's minors with letters, by the signs of the eigenvalues for numbers."""

from __future__ import annotations

from itertools import combinations, pairwise
from typing import NamedTuple

from gelvo.errors import DomainError
from gelvo.expression.building import relation, truth
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Condition, Expression, Name, Relation, Truth
from gelvo.expression.traversal import names, substitute
from gelvo.facts.conditions import without_positive_factors, zero_where
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.matrices.elimination import determinant
from gelvo.matrices.matrix import Matrix, square
from gelvo.matrices.resolvent import resolvent
from gelvo.solving.sign_cases import sign_condition

POSITIVE, NEGATIVE, POSITIVE_HALF, NEGATIVE_HALF, BOTH, ZERO_FORM = (
    "positive definite", "negative definite", "positive semidefinite", "negative semidefinite", "indefinite", "zero",
)  # fmt: skip


class Definite(NamedTuple):
    """A word, and where it holds; one case of several."""

    word: str
    when: tuple[Condition, ...]


def definiteness(m: Matrix, facts: Facts) -> list[Definite]:
    """The one word that the facts tell, or all cases: which signs of minors make the matrix what.

    >>> definiteness(Matrix([[2, 1], [1, 2]]), Facts())
    [Definite(word='positive definite', when=())]
    """
    n = square(m, "definiteness")
    signs = _signs(m, facts)
    if signs is not None:
        return [Definite(_word(*signs), ())]
    leading = [factored(determinant(Matrix([row[:k] for row in m.entries[:k]]))) for k in range(1, n + 1)]
    turned = [-p if k % 2 else p for k, p in enumerate(leading, 1)]
    found = [Definite(POSITIVE, _signed(leading, facts)), Definite(NEGATIVE, _signed(turned, facts))]
    minors = [_minors(m, k) for k in range(1, n)]
    half = [p for listed in minors for p in listed]
    half_turned = [-p if k % 2 else p for k, listed in enumerate(minors, 1) for p in listed]
    singular = () if leading[-1] is ZERO else (zero_where(leading[-1]),)
    found.append(Definite(POSITIVE_HALF, (*_signed(half, facts, ">="), *singular)))
    found.append(Definite(NEGATIVE_HALF, (*_signed(half_turned, facts, ">="), *singular)))
    if n == 2:
        found.append(Definite(BOTH, (sign_condition(expand(leading[-1]), "<"),)))
    possible = [d for d in found if not any(facts.holds(c) is False or (isinstance(c, Truth) and not c.holds) for c in d.when)]
    told = [d for d in possible if all(facts.holds(c) for c in d.when)]
    return [told[0]._replace(when=())] if told else [d._replace(when=_without_implied(d.when, facts)) for d in possible]


def _signs(m: Matrix, facts: Facts) -> tuple[int, int, int] | None:
    """(positive, zero, negative eigenvalues), by the signs of the coefficients of a polynomial all of whose roots are real; None where one is open.

    Source: R. Descartes, "La Géométrie" (1637): then the changes of sign are as many as positive roots.
    """
    coefficients = resolvent(m).coefficients
    signs = []
    for c in coefficients:
        sign = 0 if c is ZERO else 1 if facts.is_positive(c) else -1 if facts.is_negative(c) else None
        if sign is None:
            return None
        signs.append(sign)
    zero = next(k for k, s in enumerate(signs) if s)
    kept = [s for s in signs if s]
    positive = sum(a != b for a, b in pairwise(kept))
    return positive, zero, len(signs) - 1 - positive - zero


def _word(positive: int, zero: int, negative: int) -> str:
    if positive and negative:
        return BOTH
    if not positive and not negative:
        return ZERO_FORM
    full = not zero
    return (POSITIVE if full else POSITIVE_HALF) if positive else (NEGATIVE if full else NEGATIVE_HALF)


def _minors(m: Matrix, size: int) -> list[Expression]:
    """All principal minors of a size."""
    chosen = combinations(range(m.shape[0]), size)
    return [factored(determinant(Matrix([[m[i, j] for j in places] for i in places]))) for places in chosen]


def _signed(formulas: list[Expression], facts: Facts, operator: str = ">") -> tuple[Condition, ...]:
    """The signs one after the other, what is known from those before left out."""
    found: list[Condition] = []
    for f in dict.fromkeys(formulas):
        if f is ZERO and operator == ">=":
            continue
        rest = without_positive_factors(f, facts) if names(f) else f
        condition = sign_condition(expand(rest), operator) if names(rest) else relation(operator, rest, ZERO)
        found.append(condition)
        if operator == ">" and names(rest):
            try:
                facts = facts.with_facts([condition])
            except DomainError:
                return (truth(False),)
    return tuple(c for c in found if not (isinstance(c, Truth) and c.holds))


def _without_implied(conditions: tuple[Condition, ...], facts: Facts) -> tuple[Condition, ...]:
    equal = next((c for c in conditions if isinstance(c, Relation) and c.operator == "=" and isinstance(c.left, Name)), None)
    table = {equal.left: equal.right} if equal is not None else {}
    return tuple(c for c in conditions if c is equal or not facts.holds(substitute(c, table)))
