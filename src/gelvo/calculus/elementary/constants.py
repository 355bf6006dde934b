"""Linear equations over a field of functions whose unknowns are constants."""

from __future__ import annotations

from collections.abc import Sequence

from gmpy2 import mpq

from gelvo.calculus.elementary.field import Element, Field
from gelvo.deadline import checkpoint
from gelvo.polynomial import sparse
from gelvo.polynomial.gcd import lcm
from gelvo.polynomial.sparse import UNIT, Polynomial

Vector = list[Element]


def null_space(field: Field, rows: Sequence[Vector], width: int) -> list[Vector]:
    """A basis of the constant vectors c with row*c = 0 for every row."""
    moving = sparse.mask(field.slopes)
    split: list[dict[int, Polynomial]] = []
    for row in rows:
        split.extend(_split(row, moving))
    if all(set(p) <= {0} for entries in split for p in entries.values()):
        plain = _basis([{k: p[0] for k, p in entries.items()} for entries in split], width, mpq(0), mpq(1))
        return [[field.number(c) for c in vector] for vector in plain]
    found = _basis([{k: Element(field, p) for k, p in entries.items()} for entries in split], width, field.zero, field.one)
    return found


def rational_solution(field: Field, rows: Sequence[Vector], width: int) -> list[mpq] | None:
    """Rational c with c[0] = 1 and row*c = 0 for every row; None where there are none."""
    split: list[dict[int, Polynomial]] = []
    for row in rows:
        split.extend(_split(row, -1))
    basis = _basis([{k: p[0] for k, p in entries.items()} for entries in split], width, mpq(0), mpq(1))
    first = next((vector for vector in basis if vector[0]), None)
    return None if first is None else [c / first[0] for c in first]


def _split(row: Vector, mask: int) -> list[dict[int, Polynomial]]:
    """One equation for each monomial in the generators of the mask: {number of the unknown: its coefficient}."""
    common = UNIT
    for e in row:
        if e.bottom != UNIT and e.bottom != common:
            common = lcm(common, e.bottom)
    parts: dict[int, dict[int, Polynomial]] = {}
    for k, e in enumerate(row):
        top = e.top if e.bottom == common else sparse.multiply(e.top, sparse.divide_exactly(common, e.bottom) or UNIT)
        for m, c in top.items():
            parts.setdefault(m & mask, {}).setdefault(k, {})[m & ~mask] = c
    return [parts[m] for m in sorted(parts)]


def _basis(rows: Sequence[dict], width: int, zero, one) -> list[list]:  # type: ignore[type-arg, no-untyped-def]
    """The null space by elimination: each row loses the pivots of those before it."""
    pivots: dict[int, dict] = {}  # type: ignore[type-arg]
    for given in sorted(rows, key=len):
        checkpoint()
        row = dict(given)
        for column in sorted(row):
            if column in pivots and row.get(column):
                _subtract(row, row[column], pivots[column])
        row = {k: c for k, c in row.items() if c}
        if not row:
            continue
        lead = min(row)
        scaled = one / row[lead]
        row = {k: c * scaled for k, c in row.items()}
        for other in pivots.values():
            if other.get(lead):
                _subtract(other, other[lead], row)
        pivots[lead] = row
    free = [k for k in range(width) if k not in pivots]
    basis = []
    for chosen in free:
        vector = [zero] * width
        vector[chosen] = one
        for column, row in pivots.items():
            if row.get(chosen):
                vector[column] = -row[chosen]
        basis.append(vector)
    return basis


def _subtract(row: dict, factor, other: dict) -> None:  # type: ignore[type-arg, no-untyped-def]
    for k, c in other.items():
        row[k] = row[k] - factor * c if k in row else -(factor * c)
