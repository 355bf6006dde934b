"""A factor that all entries of a matrix share, taken out in front where that is shorter to read."""

from __future__ import annotations

from collections.abc import Sequence

from gmpy2 import lcm, mpq

from gelvo.expression.building import multiply_all, power, scale
from gelvo.expression.nodes import Expression, Number, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.forms.measure import measure
from gelvo.numbers.exact import ONE, Gaussian, Scalar

LEAST_GAIN = 2.0  # of what a reader sees


def taken_out(entries: Sequence[Expression]) -> tuple[Expression | None, Sequence[Expression]]:
    """(common factor, entries without it), or (None, the entries) where nothing is gained.

    >>> from gelvo.expression.building import name, number
    >>> a, b, c = map(name, "abc")
    >>> common, entries = taken_out([a/(b + c), 2*b/(b + c), number(0), c/(b + c)])
    >>> common is 1/(b + c), entries[1] is 2*b
    (True, True)
    """
    shown = [e for e in entries if not (isinstance(e, Number) and not e.value)]
    if len(shown) < 2 or any(isinstance(e, Sum) for e in shown):
        return None, entries
    first, *others = [dict(map(base_and_exponent, factors_in(e))) for e in shown if not isinstance(e, Number)] or [{}]
    shared = {} if len(others) + 1 < len(shown) else {b: k for b, k in first.items() if all(o.get(b) is k for o in others)}
    below = _denominator([_coefficient(e) for e in shown])
    common = scale(multiply_all([power(b, k) for b, k in shared.items()]), mpq(1, below))
    if isinstance(common, Number) and common.value == 1:
        return None, entries
    inner = [e / common for e in entries]
    gain = sum(map(measure, entries)) - sum(map(measure, inner)) - measure(common)
    return (common, inner) if gain >= LEAST_GAIN else (None, entries)


def _coefficient(entry: Expression) -> Scalar:
    return entry.value if isinstance(entry, Number) else entry.coefficient if isinstance(entry, Product) else ONE


def _denominator(values: Sequence[Scalar]) -> int:
    """The number by which all values are divided, where they are fractions of one denominator."""
    plain = [v for v in values if not isinstance(v, Gaussian)]
    return int(lcm(*[v.denominator for v in plain])) if len(plain) == len(values) and all(v.denominator > 1 for v in plain) else 1
