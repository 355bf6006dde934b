"""Expansions with rational coefficients and whole powers by recurrences, each in a number of steps that grows with the square of the order.

Sources: D. Knuth, "The Art of Computer Programming", volume 2 (1997), 4.7; R. Brent, H. Kung, "Fast algorithms for manipulating formal
power series" (1978).
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from gmpy2 import iroot, mpq

from gelvo.deadline import checkpoint
from gelvo.expression.nodes import Call, Expression, Name, Node, Number, Power, Product, Sum
from gelvo.expression.traversal import contains, postorder
from gelvo.functions.named import (
    ASIN,
    ASINH,
    ATAN,
    ATANH,
    COS,
    COSH,
    COT,
    COTH,
    CSC,
    CSCH,
    EXP,
    LN,
    SEC,
    SECH,
    SIN,
    SINH,
    TAN,
    TANH,
)
from gelvo.polynomial.series import Series, inverse, multiply, power

FIRST_GUARD, MOST_GUARD = 4, 400
LARGEST_POWER = 100_000


class Laurent(NamedTuple):
    """coefficients[k] stands before u^(start + k); the first is not zero; exact: nothing is left out."""

    start: int
    coefficients: Series
    exact: bool = False

    @property
    def end(self) -> int:
        """The first power that is not known."""
        return self.start + len(self.coefficients)


class Other(Exception):
    """A coefficient is not rational, or there is no expansion in whole powers: other methods know more."""


class Cancelled(Exception):
    """All terms that were kept cancel."""


def rational_taylor(root: Expression, u: Name, through: int) -> tuple[dict[mpq, mpq], int | None] | None:
    """(coefficients by power, the first power that is not known) about u = 0; None where this arithmetic does not apply.

    >>> from gelvo.expression.building import call, name
    >>> x = name("x")
    >>> terms, end = rational_taylor(call(EXP, call(SIN, x)), x, 3)
    >>> {int(k): str(c) for k, c in terms.items() if k < 4}
    {0: '1', 1: '1', 2: '1/2'}
    """
    guard = FIRST_GUARD
    while guard <= MOST_GUARD:
        try:
            found = _Work(u, max(through, 0) + guard).of(root)
        except Cancelled:
            guard *= 4
            continue
        except (Other, ZeroDivisionError):
            return None
        if found.exact or found.end > through + 1:
            terms = {mpq(found.start + k): c for k, c in enumerate(found.coefficients) if c}
            return terms, None if found.exact else found.end
        guard *= 4
    return None


class _Work:
    """One question: how many coefficients each part keeps."""

    def __init__(self, u: Name, count: int) -> None:
        self.u, self.count = u, count

    def of(self, root: Expression) -> Laurent:
        done: dict[Node, Laurent] = {}
        for node in postorder(root):
            checkpoint()
            if isinstance(node, Expression):
                done[node] = self.one(node, done)
        return done[root]

    def one(self, node: Expression, done: dict[Node, Laurent]) -> Laurent:
        if isinstance(node, Number):
            return self.constant(node)
        if node is self.u:
            return Laurent(1, [mpq(1)], True)
        if isinstance(node, Sum):
            return self.sum_of(node, done)
        if isinstance(node, Product):
            result = Laurent(0, [_rational(node.coefficient)], True)
            for factor in node.factors:
                result = self.product(result, done[factor])
            return result
        if isinstance(node, Power) and isinstance(node.exponent, Number) and node.exponent.is_rational:
            return self.power(done[node.base], node.exponent.rational)
        if isinstance(node, Call) and node.name in RULES and contains(node, self.u):
            return self.function(RULES[node.name], done[node.children[0]])
        raise Other

    def constant(self, node: Number) -> Laurent:
        value = _rational(node.value)
        return Laurent(0, [value] if value else [], True)

    def cut(self, start: int, coefficients: Series, exact: bool) -> Laurent:
        """Without zeros in front; no more than what is kept."""
        lead = next((k for k, c in enumerate(coefficients) if c), None)
        if lead is None:
            if not exact:
                raise Cancelled
            return Laurent(0, [], True)
        kept = coefficients[lead : lead + self.count]
        if exact:
            exact = not any(coefficients[lead + self.count :])
            while exact and not kept[-1]:
                kept.pop()
        return Laurent(start + lead, kept, exact)

    def sum_of(self, node: Sum, done: dict[Node, Laurent]) -> Laurent:
        parts = [(done[t], _rational(c)) for t, c in node.items() if done[t].coefficients]
        constant = _rational(node.constant)
        if constant:
            parts.append((Laurent(0, [constant], True), mpq(1)))
        if not parts:
            return Laurent(0, [], True)
        start = min(p.start for p, _ in parts)
        known = [p.end for p, _ in parts if not p.exact]
        end = min(known) if known else max(p.end for p, _ in parts)
        result = [mpq(0)] * max(end - start, 0)
        for p, c in parts:
            for k, v in enumerate(p.coefficients):
                if p.start + k < end:
                    result[p.start + k - start] += c * v
        return self.cut(start, result, not known)

    def product(self, a: Laurent, b: Laurent) -> Laurent:
        exact = a.exact and b.exact
        if not a.coefficients or not b.coefficients:
            return Laurent(0, [], True)
        size = min([len(p.coefficients) for p in (a, b) if not p.exact], default=len(a.coefficients) + len(b.coefficients) - 1)
        return self.cut(a.start + b.start, multiply(a.coefficients, b.coefficients, size - 1), exact)

    def padded(self, a: Laurent) -> Series:
        """The coefficients from the first on, as many as are known or kept."""
        return (a.coefficients + [mpq(0)] * self.count)[: self.count] if a.exact else a.coefficients

    def power(self, a: Laurent, q: mpq) -> Laurent:
        if not a.coefficients:
            if q <= 0:
                raise ZeroDivisionError
            return a
        if abs(q.numerator) > LARGEST_POWER or q.denominator > LARGEST_POWER:
            raise Other
        whole = q.denominator == 1
        if whole and a.exact and len(a.coefficients) == 1:
            return Laurent(a.start * int(q), [a.coefficients[0] ** int(q)], True)
        start = a.start * q
        if start.denominator != 1 or (not whole and a.start):  # of a root of u^2 the sign of u is another question
            raise Other
        first = a.coefficients[0] ** int(q) if whole else _root(a.coefficients[0], q)
        return self.cut(int(start), power(self.padded(a), q, first), False)

    def function(self, rule: Rule, a: Laurent) -> Laurent:
        if a.start < 0 and a.coefficients:
            raise Other
        series = [mpq(0)] * (a.start if a.coefficients else 0) + self.padded(a)
        found = rule(series, len(series) - 1)
        return self.cut(*found, False) if isinstance(found, tuple) else self.cut(0, found, False)


def _rational(value: object) -> mpq:
    if not isinstance(value, type(mpq(0))):
        raise Other
    return value


def _root(value: mpq, q: mpq) -> mpq:
    """value^q where that is rational."""
    if value <= 0:
        raise Other
    top, exact_top = iroot(value.numerator, int(q.denominator))
    bottom, exact_bottom = iroot(value.denominator, int(q.denominator))
    if not (exact_top and exact_bottom):
        raise Other
    return mpq(top, bottom) ** int(q.numerator)


Rule = Callable[[Series, int], "Series | tuple[int, Series]"]


def _vanishing(a: Series) -> None:
    if a and a[0]:
        raise Other


def _slope(a: Series) -> Series:
    return [k * a[k] for k in range(1, len(a))]


def _integrated(a: Series) -> Series:
    return [mpq(0), *(c / (k + 1) for k, c in enumerate(a))]


def _exponential(a: Series, n: int) -> Series:
    """e' = a'*e."""
    _vanishing(a)
    result = [mpq(1)]
    for k in range(1, n + 1):
        result.append(sum((j * a[j] * result[k - j] for j in range(1, k + 1) if a[j]), mpq(0)) / k)
    return result


def _logarithm(a: Series, n: int) -> Series:
    if not a or a[0] != 1:
        raise Other
    return _integrated(multiply(_slope(a), inverse(a, n), n - 1))


def _waves(a: Series, n: int, sign: int) -> tuple[Series, Series]:
    """Sine and cosine (sign -1) or their hyperbolic relatives: s' = a'*c, c' = sign*a'*s."""
    _vanishing(a)
    s, c = [mpq(0)], [mpq(1)]
    for k in range(1, n + 1):
        up = sum((j * a[j] * c[k - j] for j in range(1, k + 1) if a[j]), mpq(0))
        down = sum((j * a[j] * s[k - j] for j in range(1, k + 1) if a[j]), mpq(0))
        s.append(up / k)
        c.append(sign * down / k)
    return s, c


def _quotient(a: Series, n: int, sign: int, turned: bool) -> Series | tuple[int, Series]:
    """tan and its relatives, or one over them."""
    s, c = _waves(a, n, sign)
    return _over(c, s) if turned else multiply(s, inverse(c, n), n)


def _over(top: Series, bottom: Series) -> tuple[int, Series]:
    lead = next((k for k, v in enumerate(bottom) if v), None)
    if lead is None:
        raise Cancelled
    below = bottom[lead:]
    return -lead, multiply(top, inverse(below, len(below) - 1), len(below) - 1)


def _one_over(which: int, sign: int) -> Rule:
    return lambda a, n: _over([mpq(1)] + [mpq(0)] * n, _waves(a, n, sign)[which])


def _inverse_function(exponent: mpq, sign: int) -> Rule:
    """The integral of a'*(1 + sign*a^2)^exponent."""

    def work(a: Series, n: int) -> Series:
        _vanishing(a)
        square = [sign * c for c in multiply(a, a, n)]
        square[0] += 1
        return _integrated(multiply(_slope(a), power(square, exponent, mpq(1)), n - 1))

    return work


HALF = mpq(1, 2)
RULES: dict[str, Rule] = {
    EXP: _exponential,
    LN: _logarithm,
    SIN: lambda a, n: _waves(a, n, -1)[0],
    COS: lambda a, n: _waves(a, n, -1)[1],
    SINH: lambda a, n: _waves(a, n, 1)[0],
    COSH: lambda a, n: _waves(a, n, 1)[1],
    TAN: lambda a, n: _quotient(a, n, -1, False),
    TANH: lambda a, n: _quotient(a, n, 1, False),
    COT: lambda a, n: _quotient(a, n, -1, True),
    COTH: lambda a, n: _quotient(a, n, 1, True),
    CSC: _one_over(0, -1),
    SEC: _one_over(1, -1),
    CSCH: _one_over(0, 1),
    SECH: _one_over(1, 1),
    ASIN: _inverse_function(-HALF, -1),
    ATAN: _inverse_function(mpq(-1), 1),
    ASINH: _inverse_function(-HALF, 1),
    ATANH: _inverse_function(mpq(-1), -1),
}
