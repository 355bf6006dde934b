"""The reduced row echelon form and what is read off it: rank, null space, column space, row space.

With letters all of it holds where one minor of the matrix is not zero: that is its condition.
"""

from __future__ import annotations

from typing import NamedTuple

from gelvo.deciding.equality import is_zero
from gelvo.errors import Undecided
from gelvo.expression.nodes import Condition, Expression, Name, Power, Product, Relation, Sum
from gelvo.expression.traversal import names
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import apart_from_zero, denominators
from gelvo.forms.fractions import factored
from gelvo.matrices.matrix import Matrix
from gelvo.matrices.ring import Polynomials, Reduced, Whole


class Echelon(NamedTuple):
    """A reduced row echelon form in its ring, and what must hold for it."""

    form: Reduced
    conditions: tuple[Condition, ...]


def echelon(m: Matrix, facts: Facts, width: int | None = None, ordered: bool = True) -> Echelon:
    """Gauss and Jordan without fractions; width: how many columns may have pivots (the others are right sides), None for all.

    ordered: whether the pivots stand as a reduced form needs them; else where the fewest conditions come of it.
    """
    width = m.shape[1] if width is None else width
    numbers = Whole.of(m)
    if numbers is not None:
        return Echelon(numbers.echelon(width), ())

    def zero(e: Expression) -> bool | None:
        known = not facts.given and _is_polynomial(e)  # one over names that nothing is known of is no zero
        return False if known else seen_as_zero(e, facts)

    found = Polynomials.of(m).echelon(width, zero, facts.is_nonzero, ordered)
    return Echelon(found, apart_from_zero_beside(found.minor, m, facts))


def seen_as_zero(e: Expression, facts: Facts) -> bool | None:
    """Whether an entry is zero as a formula, None where letters leave it open; raises Undecided where that is not known of a number."""
    found = is_zero(e, facts)
    if found is None and not names(e):
        raise Undecided(f"it is not known whether {e} is zero")
    return found


def _is_polynomial(e: Expression) -> bool:
    if isinstance(e, (Sum, Product)):
        return all(_is_polynomial(c) for c in e.children if isinstance(c, Expression))
    return isinstance(e, Name) or (isinstance(e, Power) and isinstance(e.base, Name) and e.exponent.is_whole)


def apart_from_zero_beside(e: Expression, m: Matrix, facts: Facts) -> tuple[Condition, ...]:
    """What must hold for a formula not to be zero, but for what the matrix needs anyway to have entries."""
    if not names(e):
        return ()
    known = (*m.conditions, *denominators(m.flat(), facts))
    return tuple(c for c in apart_from_zero(e, facts) if not is_implied(c, known))


def is_implied(condition: Condition, known: tuple[Condition, ...] | dict[Condition, None]) -> bool:
    """Whether p != 0 is among conditions up to a factor that is a number."""
    if not isinstance(condition, Relation):
        return False
    gap = condition.left - condition.right
    return any(
        isinstance(other, Relation) and other.operator == "!=" and not names(factored(gap / (other.left - other.right)))
        for other in known
    )


def reduced(m: Matrix, facts: Facts) -> tuple[Matrix, list[int], tuple[Condition, ...]]:
    """The reduced form, its pivot columns, and what must not be zero for it.

    >>> found = reduced(Matrix([["a", 1, 2], [0, 1, "b"]]), Facts())
    >>> print(found[0], *found[2])
    [1, 0, -(b - 2)/a; 0, 1, b] a != 0
    """
    form, conditions = echelon(m, facts)
    rank = len(form.pivots)
    rows = [[form.quotient(e) for e in row] for row in form.rows[:rank]]
    return Matrix([*rows, *[[0] * m.shape[1]] * (m.shape[0] - rank)], m.conditions), form.pivots, conditions


def rank(m: Matrix, facts: Facts) -> tuple[int, tuple[Condition, ...]]:
    """The number of independent rows, and what must not be zero for it."""
    form, conditions = echelon(m, facts, ordered=False)
    return len(form.pivots), conditions


def null_space(m: Matrix, facts: Facts) -> tuple[list[Matrix], tuple[Condition, ...]]:
    """Columns that span the vectors v with m @ v = 0, without fractions, and what must not be zero for that.

    >>> print(null_space(Matrix([["a", "b"], ["2*a", "2*b"]]), Facts()))
    ([[-b; a]], (a != 0,))
    """
    form, conditions = echelon(m, facts, ordered=False)
    return [Matrix([[e] for e in form.null_vector(c)]) for c in range(m.shape[1]) if c not in form.pivots], conditions
