"""What follows from linear inequalities: contradictions and consequences, by elimination.

Source: J. Fourier (1826), T. Motzkin (1936). Every product, power or function counts as a variable of its own.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

from gmpy2 import mpq

from gelvo.expression.building import split_coefficient
from gelvo.expression.nodes import Expression, Number, Sum
from gelvo.expression.order import ordered
from gelvo.numbers.exact import Gaussian

MOST_ROWS = 160


class Row(NamedTuple):
    """sum of coefficient * term + constant > 0, or >= 0."""

    coefficients: dict[Expression, mpq]
    constant: mpq
    strict: bool


def row_of(expression: Expression, strict: bool, sign: int = 1) -> Row | None:
    """The inequality sign*expression > 0 (or >= 0); None where a coefficient is not real."""
    if isinstance(expression, Number):
        return None if isinstance(expression.value, Gaussian) else Row({}, sign * expression.value, strict)
    if isinstance(expression, Sum):
        pairs = list(expression.items())
        constant = expression.constant
    else:
        pairs, constant = [split_coefficient(expression)], mpq(0)
    if isinstance(constant, Gaussian) or any(isinstance(c, Gaussian) for _, c in pairs):
        return None
    return Row({t: sign * c for t, c in pairs}, sign * constant, strict)


def contradictory(rows: Iterable[Row]) -> bool:
    """Whether no real numbers fulfil all rows (found within a bounded number of rows; False may mean "not seen").

    >>> from gelvo.expression.building import name
    >>> x, y = name("x"), name("y")
    >>> contradictory([Row({x: mpq(1), y: mpq(-1)}, mpq(0), True), Row({y: mpq(1), x: mpq(-1)}, mpq(0), True)])
    True
    """
    current = list(rows)
    while True:
        if any(not r.coefficients and (r.constant < 0 or (r.constant == 0 and r.strict)) for r in current):
            return True
        terms = ordered(dict.fromkeys(t for r in current for t in r.coefficients))
        if not terms:
            return False
        term = min(terms, key=lambda t: _cost(current, t))
        above = [r for r in current if r.coefficients.get(term, 0) > 0]
        below = [r for r in current if r.coefficients.get(term, 0) < 0]
        rest = [r for r in current if term not in r.coefficients]
        if len(rest) + len(above) * len(below) > MOST_ROWS:
            return False
        for up in above:
            for down in below:
                rest.append(_combined(up, down, term))
        current = rest


def _cost(rows: Sequence[Row], term: Expression) -> int:
    above = sum(r.coefficients.get(term, 0) > 0 for r in rows)
    below = sum(r.coefficients.get(term, 0) < 0 for r in rows)
    return above * below - above - below


def _combined(up: Row, down: Row, term: Expression) -> Row:
    a, b = up.coefficients[term], -down.coefficients[term]
    total = {t: c / a for t, c in up.coefficients.items() if t is not term}
    for t, c in down.coefficients.items():
        if t is not term:
            value = total.get(t, mpq(0)) + c / b
            if value:
                total[t] = value
            else:
                total.pop(t, None)
    return Row(total, up.constant / a + down.constant / b, up.strict or down.strict)
