"""Taylor coefficients by putting one power series into another: the coefficients of each function from their closed form, summed by
W. Horner's scheme. The recurrences of the result are not used.

Source: DLMF 4.2.19, 4.6.1, 4.19, 4.24, 4.33, 4.38; tangent numbers by L. Seidel's triangle (1877).
"""

from __future__ import annotations

from collections.abc import Callable

from gmpy2 import bincoef, fac, lcm, mpq, mpz

from gelvo.deadline import checkpoint
from gelvo.expression.nodes import Call, Expression, Name, Node, Number, Power, Product, Sum
from gelvo.expression.traversal import postorder
from gelvo.functions.named import ASIN, ASINH, ATAN, ATANH, COS, COSH, EXP, LN, SIN, SINH, TAN, TANH
from gelvo.polynomial import dense
from gelvo.polynomial.series import Series
from gelvo.roads import on_the_way

MOST, LARGEST_POWER = 200, 100_000


class _NotTold(Exception):
    pass


@on_the_way("series put into series")
def taylor_coefficients(root: Expression, u: Name, through: int) -> list[mpq] | None:
    """The coefficients of u^0 to u^through; None where one is not rational, or a function is taken at another place than its series.

    >>> from gelvo.expression.building import call, name
    >>> x = name("x")
    >>> [str(c) for c in taylor_coefficients(call(TAN, call(SIN, x)), x, 5)]
    ['0', '1', '0', '1/6', '0', '-1/40']
    """
    if through > MOST:
        return None
    done: dict[Node, Series] = {}
    try:
        for node in postorder(root):
            checkpoint()
            if isinstance(node, Expression):
                done[node] = _one(node, u, through, done)
    except _NotTold:
        return None
    return done[root]


def _one(node: Expression, u: Name, n: int, done: dict[Node, Series]) -> Series:
    if isinstance(node, Number):
        return _constant(node.value, n)
    if node is u:
        return [mpq(k == 1) for k in range(n + 1)]
    if isinstance(node, Sum):
        result = _constant(node.constant, n)
        for term, c in node.items():
            scale = _constant(c, 0)[0]
            result = [a + scale * b for a, b in zip(result, done[term], strict=True)]
        return result
    if isinstance(node, Product):
        result = _constant(node.coefficient, n)
        for factor in node.factors:
            result = _product(result, done[factor], n)
        return result
    if isinstance(node, Power) and isinstance(node.exponent, Number) and node.exponent.is_rational:
        return _power(done[node.base], node.exponent.rational, n)
    if isinstance(node, Call) and node.name in SERIES:
        place, coefficient = SERIES[node.name]
        inner = done[node.children[0]]
        if inner[0] != place:
            raise _NotTold
        return _put_in([coefficient(k) for k in range(n + 1)], [mpq(0), *inner[1:]], n)
    raise _NotTold


def _constant(value: object, n: int) -> Series:
    if not isinstance(value, type(mpq(0))):
        raise _NotTold
    return [value] + [mpq(0)] * n


def _product(a: Series, b: Series, n: int) -> Series:
    """By whole numbers over common denominators."""
    below, other = (_common(s) for s in (a, b))
    whole = dense.multiply(*(dense.trim([mpz(c * d) for c in s]) for s, d in ((a, below), (b, other))))
    scale = mpq(1, below * other)
    return [c * scale for c in whole[: n + 1]] + [mpq(0)] * (n + 1 - len(whole))


def _common(a: Series) -> mpz:
    return lcm(*(c.denominator for c in a))


def _put_in(outer: Series, inner: Series, n: int) -> Series:
    if sum(1 for c in inner if c) == 1 and inner[1]:  # a multiple of u
        return [c * inner[1] ** k for k, c in enumerate(outer)]
    result: Series = []
    for k in range(n, -1, -1):  # this sum is put in k times more: it is needed up to the power n - k
        result = _product(result, inner[: n - k + 1], n - k) if result else [mpq(0)] * (n - k + 1)
        result[0] += outer[k]
    return result


def _power(a: Series, q: mpq, n: int) -> Series:
    if abs(q.numerator) > LARGEST_POWER or q.denominator > LARGEST_POWER:
        raise _NotTold
    if q.denominator == 1 and 0 <= q <= 4:
        result = _constant(mpq(1), n)
        for _ in range(int(q)):
            result = _product(result, a, n)
        return result
    if not a[0] or (q.denominator != 1 and a[0] != 1):
        raise _NotTold
    coefficients = [mpq(1)]
    for k in range(n):
        coefficients.append(coefficients[-1] * (q - k) / (k + 1))
    inner = [mpq(0), *(c / a[0] for c in a[1:])]
    outer = a[0] ** int(q) if q.denominator == 1 else mpq(1)
    return [outer * c for c in _put_in(coefficients, inner, n)]


def _odd(sign: int, term: Callable[[int], mpq]) -> Callable[[int], mpq]:
    """term(k) before z^(2k + 1), with changing signs for -1."""
    return lambda k: sign ** (k // 2) * term(k // 2) if k % 2 else mpq(0)


def _even(sign: int) -> Callable[[int], mpq]:
    return lambda k: mpq(0) if k % 2 else mpq(sign ** (k // 2), fac(k))


def _tangent(k: int) -> mpq:
    """The coefficient of z^(2k + 1) in the tangent: zigzag numbers over factorials."""
    while len(_ZIGZAG) <= 2 * k + 1:
        _grow()
    return mpq(_ZIGZAG[2 * k + 1], fac(2 * k + 1))


_ZIGZAG: list[mpz] = [mpz(1)]
_ROW: list[mpz] = [mpz(1)]


def _grow() -> None:
    """The next row of the triangle: sums of the last one, from the other end."""
    row = [mpz(0)]
    for value in reversed(_ROW):
        row.append(row[-1] + value)
    _ROW[:] = row
    _ZIGZAG.append(row[-1])


def _arcsine(k: int) -> mpq:
    return mpq(bincoef(2 * k, k), 4**k * (2 * k + 1))


# the place and the coefficients of the powers of what lies beyond it
SERIES: dict[str, tuple[int, Callable[[int], mpq]]] = {
    EXP: (0, lambda k: mpq(1, fac(k))),
    LN: (1, lambda k: mpq((-1) ** (k + 1), k) if k else mpq(0)),
    SIN: (0, _odd(-1, lambda k: mpq(1, fac(2 * k + 1)))),
    COS: (0, _even(-1)),
    SINH: (0, _odd(1, lambda k: mpq(1, fac(2 * k + 1)))),
    COSH: (0, _even(1)),
    TAN: (0, _odd(1, _tangent)),
    TANH: (0, _odd(-1, _tangent)),
    ATAN: (0, _odd(-1, lambda k: mpq(1, 2 * k + 1))),
    ATANH: (0, _odd(1, lambda k: mpq(1, 2 * k + 1))),
    ASIN: (0, _odd(1, _arcsine)),
    ASINH: (0, _odd(-1, _arcsine)),
}
