"""Values of sums and products with error bounds: written out, by the ratio of their terms, or by Euler and Maclaurin's formula.

The rest of that formula after m terms is at most 4/(2*pi)^(2m) times the integral of the 2m-th derivative, which A. Cauchy's estimate
bounds on discs about each place. Sources: D. Lehmer, "On the maxima and minima of Bernoulli polynomials" (1940); DLMF 2.10.
"""

from __future__ import annotations

from gmpy2 import fac, mpfr, mpq

from gelvo.calculus.local.taylor import rational_taylor
from gelvo.calculus.summation import term_ratio
from gelvo.calculus.sums.rates import fall_of_quotient, geometric_rate
from gelvo.deadline import checkpoint
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.building import number, power
from gelvo.expression.constants import INFINITE, MINUS_INFINITE
from gelvo.expression.nodes import Bound, Expression, Name, Node, Number, Power
from gelvo.expression.registry import Hooks
from gelvo.expression.traversal import contains, fresh_name, substitute, transform
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import factored
from gelvo.functions.named import LN
from gelvo.numbers import box as boxes
from gelvo.numbers.box import Box
from gelvo.numbers.interval import Arithmetic, Interval, NoValue, arithmetic

MOST_TERMS = 200_000
GUARD = 24
FALLING = 0.9  # the largest ratio of neighbours of which the rest is bounded by a geometric series
DISCS = (4, 8, 16, 32, 64)  # Cauchy's estimate is taken on discs of this part of the distance from zero


def bounded_collection(kind: str, f: Expression, k: Name, lower: Expression, upper: Expression, precision: int) -> Box:
    """The value of `sum_of` or `product_of` at exact ends, in a box; NoValue where no method bounds it."""
    a = arithmetic(precision + GUARD)
    if lower is MINUS_INFINITE:
        turned = substitute(f, {k: -k})
        if upper is not INFINITE:
            return bounded_collection(kind, turned, k, -upper, INFINITE, precision)
        one, other = (bounded_collection(kind, g, k, number(j), INFINITE, precision) for g, j in ((f, 0), (turned, 1)))
        return _joined(kind, a, one, other)
    first = _whole(lower)
    if isinstance(upper, Bound):
        return _Rest(kind, f, k, precision + GUARD).from_place(first)
    last = _whole(upper)
    if last - first < MOST_TERMS:
        return _written_out(kind, f, k, first, last, precision + (last - first + 2).bit_length() + 4)
    if kind != "sum_of":
        raise NoValue(f"a product of more than {MOST_TERMS} factors", lasting=True)
    rest = _Rest(kind, f, k, precision + 2 * GUARD)
    return boxes.add(a, rest.from_place(first), boxes.negate(a, rest.from_place(last + 1)))


def _whole(end: Expression) -> int:
    if not (isinstance(end, Number) and end.is_whole):
        raise NoValue(f"an index runs over whole numbers, and {end} is none", certain=True)
    return int(end.rational)


def _joined(kind: str, a: Arithmetic, one: Box, other: Box) -> Box:
    return boxes.add(a, one, other) if kind == "sum_of" else boxes.multiply(a, one, other)


def _written_out(kind: str, f: Expression, k: Name, first: int, last: int, precision: int) -> Box:
    a, enclosure = arithmetic(precision), Enclosure(f)
    result = Box(a.zero if kind == "sum_of" else a.one)
    for j in range(first, last + 1):
        checkpoint()
        result = _joined(kind, a, result, enclosure.at({k: mpq(j)}, precision))
    return result


class _Rest:
    """Sums and products without end."""

    def __init__(self, kind: str, f: Expression, k: Name, precision: int) -> None:
        self.kind, self.f, self.k, self.precision = kind, f, k, precision
        self.a = arithmetic(precision)

    def from_place(self, first: int) -> Box:
        rate = geometric_rate(self.f, self.k)
        if rate is number(-1) and self.kind == "sum_of":
            return self._in_pairs(first)
        if self.kind == "product_of" or fall_of_quotient(self.f, self.k) is not None:
            return self._by_power(first)
        return self._by_ratio(first)

    def _in_pairs(self, first: int) -> Box:
        """Terms with alternating signs that go to zero."""
        plain = factored(transform(self.f, lambda node: _without_sign(node, self.k)))
        if not (fall_of_quotient(plain, self.k) or 0) > 0:
            raise NoValue("a sum without end of which no method bounds the rest", lasting=True)
        even, odd = (substitute(plain, {self.k: 2 * self.k + (first + j)}) for j in (0, 1))
        found = _Rest(self.kind, factored(even - odd), self.k, self.precision).from_place(0)
        return boxes.negate(self.a, found) if first % 2 else found

    def _by_ratio(self, first: int) -> Box:
        """Terms until they are small, where no later ratio exceeds a number below one."""
        ratio = term_ratio(self.f, self.k)
        if ratio is None:
            raise NoValue("a sum without end of which no method bounds the rest", lasting=True)
        a, s = self.a, fresh_name("s", ratio)
        far = Enclosure(factored(substitute(ratio, {self.k: 1 / s})))
        enclosure, result = Enclosure(self.f), Box(a.zero)
        for j in range(first, first + MOST_TERMS):
            checkpoint()
            term = enclosure.at({self.k: mpq(j)}, self.precision)
            size = boxes.modulus(a, term).high
            if j > 0 and j & 7 == 0 and size <= _tiny(a, result):
                beyond = boxes.modulus(a, far.at({s: Box(_up_to(a, mpq(1, j)))}, self.precision)).high
                if beyond < FALLING:
                    rest = a.divide(Interval(size, size), a.subtract(a.one, Interval(beyond, beyond))).high
                    ball = Interval(-rest, rest)
                    return boxes.add(a, result, Box(ball, None if result.imag is None else ball))
            result = boxes.add(a, result, term)
        raise NoValue("terms that do not fall fast enough", lasting=True)

    def _by_power(self, first: int) -> Box:
        """Euler and Maclaurin's formula for a quotient of polynomials, or for the logarithm of a factor, from a place far enough on."""
        f, k, product = self.f, self.k, self.kind == "product_of"
        if (fall_of_quotient(f - 1 if product else f, k) or 0) < 2:  # a sum of what does not vanish has a slope that falls, too
            raise NoValue("terms that do not fall fast enough", lasting=True)
        slope = factored(differentiate(f, k) / f if product else differentiate(f, k))
        fall = fall_of_quotient(slope, k)
        if fall is None:
            raise NoValue("factors that do not go to 1", lasting=True)
        for disc in DISCS:
            start = max(first, self.precision * disc // 8 + 16)
            size = _size_far_out(slope, k, fall, start, disc, self.precision)
            if size is not None:
                break
        else:
            raise NoValue("a pole far out", lasting=True)
        head = _written_out(self.kind, f, k, first, start - 1, self.precision)
        tail = self._tail(LN(f) if product else f, slope, fall, start, disc, size)
        return _joined(self.kind, self.a, head, boxes.exponential(self.a, tail) if product else tail)

    def _tail(self, g: Expression, slope: Expression, fall: int, start: int, disc: int, size: mpfr) -> Box:
        """The sum of g from `start` on, where |slope(x)| <= size/x^fall in the discs."""
        a, k = self.a, self.k
        terms = min(3 * start // disc, self.precision)
        u = fresh_name("u", slope)
        told = rational_taylor(substitute(slope, {k: start + u}), u, 2 * terms)
        if told is None:
            raise NoValue("coefficients that are not rational", lasting=True)
        coefficients = told[0]
        at_start = Enclosure(g).at({k: mpq(start)}, self.precision)
        # by parts, the integral of g is -start*g(start) less that of x*slope, here with s = 1/x
        s = fresh_name("s", slope)
        inner = factored(substitute(k * slope, {k: 1 / s}) / s**2)
        integral = Hooks.bounded_integral(inner, s, number(0), number(mpq(1, start)), self.precision)
        result = boxes.add(a, boxes.multiply(a, at_start, Box(a.rational(mpq(1, 2) - start))), boxes.negate(a, integral))
        share = mpq(0)
        for j, b in enumerate(_bernoulli(terms), 1):  # b = B(2j)/(2j)!, times the derivative of g of order 2j - 1
            share -= b * fac(2 * j - 2) * coefficients.get(mpq(2 * j - 2), mpq(0))
        result = boxes.add(a, result, Box(a.rational(share)))
        # |g^(2m)(x)| <= (2m - 1)!*size/x^fall*(disc/x)^(2m - 1); its integral from `start` on divides by the power and takes one off
        m = terms
        height = mpq(4 * fac(2 * m - 1) * disc ** (2 * m - 1), (fall + 2 * m - 2) * mpq(start) ** (fall + 2 * m - 2))
        turns = a.power(a.multiply(a.integer(2), a.pi()), 2 * m)
        rest = a.divide(a.multiply(a.rational(height), Interval(size, size)), turns).high
        return boxes.add(a, result, Box(Interval(-rest, rest)))


def _without_sign(node: Node, k: Name) -> Node:
    """(-1)^(a*k + b) for an odd a, as it is at k = 0."""
    if not (isinstance(node, Power) and node.base is number(-1) and contains(node.exponent, k)):
        return node
    return power(node.base, substitute(node.exponent, {k: number(0)}))


def _tiny(a: Arithmetic, result: Box) -> mpfr:
    size = boxes.modulus(a, result).high
    return a.up.mul(size if size else mpfr(1), a.up.div(1, 1 << (a.precision - GUARD // 2)))


def _up_to(a: Arithmetic, end: mpq) -> Interval:
    return Interval(a.zero.low, a.rational(end).high)


def _size_far_out(slope: Expression, k: Name, fall: int, start: int, disc: int, precision: int) -> mpfr | None:
    """A bound of |slope(z)|*x^fall for |z - x| <= x/disc and x >= start, by z = (1 + w/disc)/s; None where a pole may be near."""
    s, w = fresh_name("s", slope), fresh_name("w", slope)
    scaled = factored(substitute(slope, {k: (1 + w / disc) / s}) / power(s, number(fall)))
    a = arithmetic(precision)
    unit = Interval(a.integer(-1).low, a.one.high)
    try:
        box = Enclosure(scaled).at({s: Box(_up_to(a, mpq(1, start))), w: Box(unit, unit)}, precision)
    except NoValue:
        return None
    size = boxes.modulus(a, box).high
    return size if box.finite else None


def _bernoulli(count: int) -> list[mpq]:
    """B(2j)/(2j)! for j from 1 to `count`: the coefficients of x/2*coth(x/2)."""
    found: list[mpq] = [mpq(1)]
    odd = [mpq(1, fac(2 * i + 1) << (2 * i)) for i in range(count + 1)]
    for n in range(1, count + 1):
        found.append(mpq(1, fac(2 * n) << (2 * n)) - sum((found[n - i] * odd[i] for i in range(1, n + 1)), mpq(0)))
    return found[1:]
