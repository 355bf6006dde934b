"""Rational functions of x and the square root of a quadratic: polynomial part, powers of the quadratic, linear denominators.

Source: the reductions of G. H. Hardy, "The Integration of Functions of a Single Variable" (1916), chapter 5.
"""

from __future__ import annotations

from collections.abc import Iterator

from gelvo.calculus.antiderivative.support import Search, half_odd
from gelvo.calculus.found import Found
from gelvo.errors import DomainError
from gelvo.expression import known as bits
from gelvo.expression.building import number, power, sqrt, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Call, Condition, Expression, Name, Node, Number, Power
from gelvo.expression.traversal import contains, fresh_name, postorder, substitute, transform
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import Form, factored
from gelvo.forms.fractions import factored as tidy
from gelvo.forms.univariate import Coefficients
from gelvo.functions.named import ASIN, ASINH, SIGN
from gelvo.normal.prepare import prepared
from gelvo.numbers.exact import HALF
from gelvo.simplifying.partial_fractions import simple_fractions, split_fraction


class RootOfQuadratic:
    """s = sqrt(a*x^2 + b*x + c) in one search."""

    def __init__(self, quadratic: Coefficients, search: Search) -> None:
        self.c, self.b, self.a = quadratic
        self.search, self.x = search, search.variable
        self.q = uni.expression_of(quadratic, self.x)
        self.s = sqrt(self.q)
        self.conditions: dict[Condition, None] = {}

    def polynomial(self, top: Coefficients) -> Expression | None:
        """The antiderivative of P/s: (Q*s)' = (Q'*q + Q*q'/2)/s, Q chosen from the highest power down."""
        x = self.x
        rest, pieces = list(top), [ZERO] * max(0, len(top) - 1)
        for k in range(len(top) - 1, 0, -1):
            factor = uni.lowest_terms(rest[k] / (self.a * k))
            pieces[k - 1] = factor
            slope = expand(
                differentiate(factor * x ** (k - 1), x) * self.q + factor * x ** (k - 1) * differentiate(self.q, x) / 2
            )
            for i, value in enumerate(uni.coefficients_of(slope, x) or []):
                if i < len(rest):
                    rest[i] = uni.lowest_terms(rest[i] - value)
        remaining = rest[0] if rest else ZERO
        result = uni.expression_of(pieces, x) * self.s
        if remaining is ZERO:
            return result
        inverse = self.inverse()
        return None if inverse is None else result + remaining * inverse

    def inverse(self) -> Expression | None:
        """The antiderivative of 1/s, by the sign of a."""
        facts, search = self.search.facts, self.search
        slope, gap = 2 * self.a * self.x + self.b, uni.lowest_terms(self.b**2 - 4 * self.a * self.c)
        if facts.is_negative(self.a):
            root = prepared(sqrt(gap), facts, waves=False)
            return -ASIN(uni.lowest_terms(slope / root)) / sqrt(-self.a)
        if facts.is_positive(self.a):
            root = sqrt(self.a)
            if facts.is_negative(gap):
                return ASINH(slope / sqrt(-gap)) / root
            return search.logarithm(slope + 2 * root * self.s) / root
        return None

    def over_own_power(self, digit: Coefficients, k: int) -> Expression | None:
        """The antiderivative of (m*x + n)/(q^k*s), with the half-integer exponent w = k + 1/2."""
        w = number(k + HALF)
        m, n = (digit[1] if len(digit) > 1 else ZERO), digit[0]
        result = m / (2 * self.a) * power(self.q, 1 - w) / (1 - w)
        n = uni.lowest_terms(n - m * self.b / (2 * self.a))
        if n is ZERO:
            return result
        gap = uni.lowest_terms(4 * self.a * self.c - self.b**2)
        if gap is ZERO:
            return None
        for condition in self.search.nonzero(gap):
            self.conditions[condition] = None
        slope = 2 * self.a * self.x + self.b
        lower = self.inverse() if k == 1 else self.over_own_power([ONE], k - 1)
        factor = 2 * self.a * (2 * w - 3) / (2 * (w - 1) * gap)
        if factored(factor) is ZERO:
            return result + n * slope / ((w - 1) * gap) * power(self.q, 1 - w)
        return None if lower is None else result + n * (slope / ((w - 1) * gap) * power(self.q, 1 - w) + factor * 2 * lower)

    def over_linear(self, scale: Expression, place: Expression, k: int) -> Expression | None:
        """The antiderivative of scale/((x - place)^k*s): u = 1/(x - place), on the side that the facts tell (else with its sign)."""
        u = self.search.facts.new_name("u", self.q, place)
        inside = [
            self.a,
            uni.lowest_terms(2 * self.a * place + self.b),
            uni.lowest_terms(expand(substitute(self.q, {self.x: place}))),
        ]
        under = uni.expression_of(inside, u)
        gap = self.x - place
        facts = self.search.facts
        known = bits.POSITIVE if facts.is_positive(gap) else bits.NEGATIVE if facts.is_negative(gap) else bits.REAL
        found = self.search.deeper(u, known)(-power(u, number(k - 1)) * power(under, number(-HALF)))
        if found is None:
            return None
        sign = ONE if known == bits.POSITIVE else -ONE if known == bits.NEGATIVE else SIGN(gap)
        back = {u: 1 / gap}
        for condition in found.conditions:
            self.conditions[substitute(condition, back)] = None
        return scale * substitute(self._in_terms_of_s(sign * found.value, under, sign, u), back)

    def _in_terms_of_s(self, e: Expression, under: Expression, sign: Expression, u: Name) -> Expression:
        """sqrt(q*u^2) as s*u*sign, and the square of the sign as one."""
        mark = self.search.facts.new_name("t", e, self.s)
        table: dict[Node, Expression] = {} if isinstance(sign, Number) else {sign: mark}
        for node in postorder(e):
            if isinstance(node, Power) and node.base is under and half_odd(node.exponent):
                k = number(2 * node.exponent.rational)
                table[node] = power(self.s, k) * power((mark if table.get(sign) else sign) * u, k)
        parts = uni.coefficients_of(expand(substitute(e, table)), mark)
        if parts is None:
            return e
        return total([c * power(sign, number(k % 2)) for k, c in enumerate(parts)])


def quadratic_root(f: Expression, search: Search) -> Found | None:
    """A rational function of x and one root of a quadratic, as A + B/s with rational A and B."""
    x = search.variable
    roots = [n for n in postorder(f) if isinstance(n, Power) and contains(n, x) and not _whole(n.exponent)]
    if any(isinstance(n, Call) and contains(n, x) for n in postorder(f)):
        return None
    if len({n.base for n in roots}) != 1 or any(not half_odd(n.exponent) for n in roots):
        return None
    quadratic = uni.coefficients_of(roots[0].base, x)
    if quadratic is None or len(quadratic) != 3:
        return None
    root = RootOfQuadratic(quadratic, search)
    parts = rational_over_root(f, root.q, x)
    if parts is None:
        return None
    terms = [*_of_rational_part(parts[0], root, search), *_of_root_part(parts[1], root, x)]
    known = [t for t in terms if t is not None]
    if len(known) < len(terms):
        return None
    return Found(total(known), (*search.nonzero(root.a), *root.conditions), "square root of a quadratic")


def _of_rational_part(plain: Expression, root: RootOfQuadratic, search: Search) -> Iterator[Expression | None]:
    """The antiderivative of the part without the root; None where it is not found."""
    if plain is not ZERO:
        found = search.integrate(plain)
        if found is not None:
            root.conditions.update(dict.fromkeys(found.conditions))
        yield None if found is None else found.value


def _of_root_part(over: Expression, root: RootOfQuadratic, x: Name) -> Iterator[Expression | None]:
    """The antiderivatives of the pieces of B/s: the polynomial, then one denominator after the other."""
    try:
        quotient, pieces = simple_fractions(*split_fraction(over, x))
    except DomainError:
        yield None
        return
    if quotient:
        yield root.polynomial(quotient)
    for digit, base, k in pieces:
        if len(base) == 2:
            scale = digit[0] / power(base[1], number(k))
            yield root.over_linear(scale, uni.lowest_terms(-base[0] / base[1]), k)
            continue
        ratio = uni.lowest_terms(base[2] / root.a) if len(base) == 3 else ZERO
        own = len(base) == 3 and factored(uni.expression_of(base, x) - ratio * root.q) is ZERO
        yield root.over_own_power([uni.lowest_terms(d / ratio**k) for d in digit], k) if own else None


def rational_over_root(f: Expression, q: Expression, x: Name) -> tuple[Expression, Expression] | None:
    """(A, B) with f = A + B/s for s = sqrt(q)."""
    mark = fresh_name("s", f)

    def visit(node: Node) -> Node:
        if isinstance(node, Power) and half_odd(node.exponent):
            ratio = tidy(node.base / q)
            if ratio is ONE:
                return power(mark, number(node.exponent.rational * 2))
        return node

    g = factored(transform(f, visit))
    if any(isinstance(n, Power) and contains(n, x) and not _whole(n.exponent) for n in postorder(g)):
        return None
    form = Form([g])
    top, bottom = form.lowest_terms(form.of(g))
    upper, lower = (_reduced(form.expression(p), mark, q) for p in (top, bottom))
    if upper is None or lower is None:
        return None
    # (p + r*s)/(m + n*s) times (m - n*s)
    (p, r), (m, n) = upper, lower
    size = expand(m * m - n * n * q)
    plain = factored((p * m - r * n * q) / size)
    over = factored((r * m - p * n) * q / size)
    return plain, over


def _reduced(p: Expression, mark: Name, q: Expression) -> tuple[Expression, Expression] | None:
    """(even, odd) with p = even + odd*s after s^2 = q."""
    coefficients = uni.coefficients_of(p, mark)
    if coefficients is None:
        return None
    even = total([c * q ** (k // 2) for k, c in enumerate(coefficients) if k % 2 == 0])
    odd = total([c * q ** (k // 2) for k, c in enumerate(coefficients) if k % 2])
    return expand(even), expand(odd)


def _whole(k: Expression) -> bool:
    return isinstance(k, Number) and k.is_whole
