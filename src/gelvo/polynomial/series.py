"""Power series to an order, rational functions that agree with them, and polynomials through points; coefficients are rational.

Sources: H. Padé (1892), by the extended algorithm of Euclid (R. McEliece, J. Shearer, "A property of Euclid's algorithm and an
application to Padé approximation", 1978); I. Newton's divided differences; P. Henrici, "Automatic Computations with Power Series" (1956).
"""

from __future__ import annotations

from collections.abc import Sequence

from gmpy2 import mpq

from gelvo.errors import DomainError

Series = list[mpq]  # constant term first


def multiply(a: Series, b: Series, order: int) -> Series:
    """The product up to and including the power `order`."""
    result = [mpq(0)] * (order + 1)
    for i, x in enumerate(a[: order + 1]):
        if x:
            for j, y in enumerate(b[: order + 1 - i]):
                result[i + j] += x * y
    return result


def inverse(a: Series, order: int) -> Series:
    """1/a up to and including the power `order`; the constant term must not be zero.

    >>> [int(c) for c in inverse([mpq(1), mpq(-1)], 3)]
    [1, 1, 1, 1]
    """
    if not a or not a[0]:
        raise DomainError("a power series without a constant term has no inverse power series")
    result = [1 / a[0]]
    for k in range(1, order + 1):
        total = sum((a[i] * result[k - i] for i in range(1, min(k, len(a) - 1) + 1)), mpq(0))
        result.append(-total / a[0])
    return result


def power(a: Series, q: mpq, first: mpq) -> Series:
    """a^q as far as a is known, where `first` is the power of its constant term, which is not zero (J. C. P. Miller's recurrence).

    >>> [str(c) for c in power([mpq(1), mpq(1), mpq(0)], mpq(1, 2), mpq(1))]
    ['1', '1/2', '-1/8']
    """
    result = [first]
    for k in range(1, len(a)):
        total = sum(((j * q - k + j) * a[j] * result[k - j] for j in range(1, k + 1) if a[j]), mpq(0))
        result.append(total / (k * a[0]))
    return result


def compose(a: Series, b: Series, order: int) -> Series:
    """a(b(x)) up to and including the power `order`; b must have no constant term."""
    if b and b[0]:
        raise DomainError("a power series is composed with one that has no constant term")
    result: Series = [mpq(0)] * (order + 1)
    for c in reversed(a[: order + 1]):
        result = multiply(result, b, order)
        result[0] += c
    return result


def _degree(p: Series) -> int:
    return max((k for k, c in enumerate(p) if c), default=-1)


def pade(a: Series, top: int, bottom: int) -> tuple[Series, Series]:
    """(numerator, denominator) of degrees at most `top` and `bottom` that agree with a series up to the power top + bottom.

    The denominator has the constant term 1. Raises DomainError where there is no such fraction.

    >>> above, below = pade([mpq(1), mpq(1), mpq(1, 2)], 1, 1)
    >>> [str(c) for c in above], [str(c) for c in below]
    (['1', '1/2'], ['1', '-1/2'])
    """
    size = top + bottom + 1
    old: Series = [mpq(0)] * size + [mpq(1)]
    new: Series = (list(a) + [mpq(0)] * size)[:size]
    t_old: Series = [mpq(0)]
    t_new: Series = [mpq(1)]
    while _degree(new) > top:
        quotient, rest = _divide(old, new)
        old, new = new, rest
        t_old, t_new = t_new, _subtract(t_old, _product(quotient, t_new))
    if not t_new[0] or _degree(t_new) > bottom:
        raise DomainError(f"there is no fraction of degrees {top} and {bottom} that agrees with the series so far")
    scale = 1 / t_new[0]
    return [c * scale for c in new[: _degree(new) + 1]], [c * scale for c in t_new[: _degree(t_new) + 1]]


def _product(a: Series, b: Series) -> Series:
    return multiply(a, b, max(len(a) + len(b) - 2, 0))


def _subtract(a: Series, b: Series) -> Series:
    size = max(len(a), len(b))
    return [(a[k] if k < len(a) else mpq(0)) - (b[k] if k < len(b) else mpq(0)) for k in range(size)]


def _divide(a: Series, b: Series) -> tuple[Series, Series]:
    rest, size = list(a), _degree(b)
    quotient = [mpq(0)] * max(_degree(a) - size + 1, 1)
    for k in range(_degree(a) - size, -1, -1):
        quotient[k] = rest[k + size] / b[size]
        for j in range(size + 1):
            rest[k + j] -= quotient[k] * b[j]
    return quotient, rest[: max(size, 1)]


def interpolate(points: Sequence[tuple[mpq, mpq]]) -> Series:
    """The polynomial of lowest degree through points with different abscissas.

    >>> [int(c) for c in interpolate([(mpq(0), mpq(1)), (mpq(1), mpq(2)), (mpq(2), mpq(5))])]
    [1, 0, 1]
    """
    nodes = [x for x, _ in points]
    if len(set(nodes)) < len(nodes):
        raise DomainError("two points have the same abscissa")
    table = [y for _, y in points]
    for level in range(1, len(table)):
        for k in range(len(table) - 1, level - 1, -1):
            table[k] = (table[k] - table[k - 1]) / (nodes[k] - nodes[k - level])
    result: Series = []
    for node, c in zip(reversed(nodes), reversed(table), strict=True):
        result = _subtract([mpq(0), *result], [node * v for v in result])
        result = [result[0] + c, *result[1:]] if result else [c]
    return result[: _degree(result) + 1]
