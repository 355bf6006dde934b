"""Steps of linear algebra as a student writes them: row operations with their matrices, cofactors of a determinant."""

from __future__ import annotations

from gelvo.checking.claims import check_identity
from gelvo.expression.building import junction, looks_negative, multiply_all, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Expression, Sum
from gelvo.facts.store import Facts
from gelvo.forms.univariate import lowest_terms
from gelvo.matrices.elimination import determinant
from gelvo.matrices.matrix import Matrix, identity, side_by_side
from gelvo.matrices.row_steps import row_steps
from gelvo.operations.answer import Answer
from gelvo.operations.explaining import MOST_STEPS, Explained

LARGEST_BY_COFACTORS = 4


def reduction_steps(m: Matrix, facts: Facts, width: int | None = None) -> tuple[Explained, ...]:
    """Each row operation, the matrix after it, and what must not be zero for it."""
    found = []
    for step in row_steps(m, facts, width):
        where = f", where {junction('and', step.conditions)}" if step.conditions else ""
        found.append(Explained(f"{step.operation}{where}", str(step.matrix)))
    return tuple(found[:MOST_STEPS])


def inverse_steps(m: Matrix, facts: Facts) -> tuple[Explained, ...]:
    """The row operations that turn [A | identity] into [identity | inverse]."""
    n = m.shape[0]
    wide = side_by_side([m, identity(n)])
    start = Explained("the matrix with the identity beside it", str(wide))
    return (start, *reduction_steps(wide, facts, n))


def determinant_answer(m: Matrix, value: Expression) -> Answer:
    """The determinant with its expansion."""
    steps = cofactor_steps(m)
    by_hand = _expanded(m)[1] if m.shape[0] <= LARGEST_BY_COFACTORS else value
    return Answer(value, lambda: check_identity(value, by_hand, Facts()), m.conditions, "determinants of parts", steps=steps)


def cofactor_steps(m: Matrix) -> tuple[Explained, ...]:
    """Laplace's expansion, line by line; of larger matrices elimination."""
    if m.shape[0] > LARGEST_BY_COFACTORS:
        return (
            *reduction_steps(m, Facts()),
            Explained("the product of the pivots, with a minus for each exchange", str(determinant(m))),
        )
    return _expanded(m)[0]


def _expanded(m: Matrix) -> tuple[tuple[Explained, ...], Expression]:
    n = m.shape[0]
    if n == 1:
        return (Explained("one entry", str(m[0, 0])),), m[0, 0]
    if n == 2:
        value = m[0, 0] * m[1, 1] - m[0, 1] * m[1, 0]
        return (Explained("a*d - b*c of [a, b; c, d]", f"determinant({m}) = {lowest_terms(value)}"),), value
    row = max(range(n), key=lambda i: (sum(e is ZERO for e in m.entries[i]), -i))
    found: list[Explained] = []
    terms: list[Expression] = []
    shown: list[str] = []
    for j, entry in enumerate(m.entries[row]):
        if entry is ZERO:
            continue
        part = Matrix([[e for c, e in enumerate(r) if c != j] for i, r in enumerate(m.entries) if i != row])
        steps, value = _expanded(part)
        found += steps
        sign = -1 if (row + j) % 2 else 1
        terms.append(multiply_all([sign * entry, value]))
        factor = f"({entry})" if isinstance(entry, Sum) or looks_negative(entry) else str(entry)
        shown.append(f"{'-' if sign < 0 else '+'} {factor}*determinant({part})")
    written = " ".join(shown).removeprefix("+ ") or "0"
    head = Explained(f"expanded along row {row + 1}", f"determinant({m}) = {written}")
    value = total(terms)
    return (head, *found, Explained("put together", f"determinant({m}) = {lowest_terms(value)}")), value
