"""Majorants far out: a formula is at most C*x^p*exp(-q*x) for all x from a place on, with numbers worked out by bounds."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

import gmpy2
from gmpy2 import mpfr, mpq

from gelvo.deciding.bounded_integrals.analytic import Analytic
from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.building import number
from gelvo.expression.nodes import Call, Expression, Name, Number, Power, Product, Sum
from gelvo.expression.traversal import contains, substitute
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.functions.named import ATAN, COS, ERF, ERFC, EXP, LN, SIN, TANH, is_a
from gelvo.numbers.box import Box
from gelvo.numbers.interval import Interval, NoValue, arithmetic, exact

A = arithmetic(64)


class Majorant(NamedTuple):
    """C*x^p*exp(-q*x)."""

    C: mpfr
    p: mpq
    q: mpq

    def times(self, other: Majorant) -> Majorant:
        return Majorant(A.up.mul(self.C, other.C), self.p + other.p, self.q + other.q)


ZERO_POWERS = (mpq(0), mpq(0))


def tail_bound(f: Analytic, start: mpq) -> mpfr:
    """A bound of the integral of |f| from a start of at least 1 to infinity; NoValue where none is known."""
    try:
        far = f.of_quotients(Box(Interval(A.rational(start).low, mpfr("inf"))), 64)
        m = _Far(f.x, start, far).above(f.inside)
    except GelvoError as fault:
        raise NoValue(str(fault)) from None
    falls = m.q if m.p <= 0 else m.q - m.p / start
    if falls <= 0:
        raise NoValue("no bound of the tail that falls exponentially")
    return A.up.div(_size(m, start, A.up), mpfr(falls))


def _size(m: Majorant, at: mpq, context: gmpy2.context) -> mpfr:
    """C*x^p*exp(-q*x) at a place, rounded in a direction."""
    x = mpfr(at)
    spare = mpfr("1.0000001") if context is A.up else mpfr("0.9999999")
    return context.mul(context.mul(m.C, spare), context.mul(context.exp(mpfr(-m.q * at)), context.pow(x, mpfr(m.p))))


def _supremum(p: mpq, q: mpq, start: mpq) -> mpfr:
    """Of x^p*exp(-q*x) from the start on."""
    if q < 0 or (q == 0 and p > 0):
        raise NoValue("a part that outgrows the others")
    at = start if p <= 0 or start * q >= p else p / q
    return _size(Majorant(mpfr(1), p, q), at, A.up)


class _Far:
    """Bounds of formulas for all x from a start on; table: what is known of names beside."""

    def __init__(self, x: Name, start: mpq, table: Mapping[Name, Box]) -> None:
        self.x, self.start, self.table = x, start, table

    def above(self, f: Expression) -> Majorant:
        """An upper bound of |f|."""
        if not contains(f, self.x):
            return Majorant(self._modulus(f).high, *ZERO_POWERS)
        if f is self.x:
            return Majorant(mpfr(1), mpq(1), mpq(0))
        if isinstance(f, Sum):
            return self._sum(f)
        if isinstance(f, Product):
            whole = Majorant(self._modulus_of_number(f.coefficient), *ZERO_POWERS)
            for g in f.factors:
                whole = whole.times(self.above(g))
            return whole
        if isinstance(f, Power) and isinstance(f.exponent, Number) and f.exponent.is_rational:
            k = mpq(f.exponent.rational)
            inner = self.above(f.base) if k > 0 else self.below(f.base)
            size = A.up.pow(inner.C, mpfr(k)) if k > 0 else A.up.div(1, A.down.pow(inner.C, mpfr(-k)))
            return Majorant(A.up.mul(size, mpfr("1.0000001")), inner.p * k, inner.q * k)
        if isinstance(f, Call):
            return self._of_call(f)
        raise NoValue("no bound far out")

    def _modulus(self, f: Expression) -> Interval:
        box = Enclosure(f).at(self.table, 64)
        size = A.absolute(box.real)
        if box.imag is None:
            return size
        return Interval(max(size.low, A.absolute(box.imag).low), A.up.add(size.high, A.absolute(box.imag).high))

    def _modulus_of_number(self, value: object) -> mpfr:
        return self._modulus(number(value)).high

    def _sum(self, f: Sum) -> Majorant:
        parts = [self.above(t) for t in terms_of(f)]
        q = min(m.q for m in parts)
        p = max(m.p for m in parts if m.q == q)
        size = mpfr(0)
        for m in parts:
            size = A.up.add(size, A.up.mul(m.C, _supremum(m.p - p, m.q - q, self.start)))
        return Majorant(size, p, q)

    def _of_call(self, f: Call) -> Majorant:
        u = f.arguments[-1]
        if is_a(f, EXP):
            slope, level = self._line_above(u)
            return Majorant(A.up.exp(mpfr(level) if level < 0 else A.up.plus(mpfr(level))) * mpfr("1.0000001"), mpq(0), -slope)
        if is_a(f, ERFC) and self._rises_above_zero(u):
            return self.above(EXP(expand(-u * u)))  # DLMF 7.8.3
        if is_a(f, SIN, COS, ERF, TANH):
            return Majorant(mpfr(1), *ZERO_POWERS)
        if is_a(f, ATAN):
            return Majorant(mpfr("1.6"), *ZERO_POWERS)
        if is_a(f, LN) and u is self.x:  # ln(x) <= 4*x^(1/4)/e
            return Majorant(mpfr("1.4716"), mpq(1, 4), mpq(0))
        return self._over_all(f)

    def _rises_above_zero(self, u: Expression) -> bool:
        line = uni.linear_parts(u, self.x)
        if line is None or self._real(line[0]).low < 0:
            return False
        return bool(self._real(substitute(u, {self.x: number(self.start)})).low > 0)

    def _over_all(self, f: Expression) -> Majorant:
        """By bounds over all of the rest of the line at once."""
        far = Box(Interval(A.rational(self.start).low, mpfr("inf")))
        try:
            box = Enclosure(f).at({**self.table, self.x: far}, 64)
        except GelvoError as fault:
            raise NoValue(str(fault)) from None
        size = A.absolute(box.real).high
        if box.imag is not None or not gmpy2.is_finite(size):
            raise NoValue("no bound over the rest of the line")
        return Majorant(size, *ZERO_POWERS)

    def _line_above(self, u: Expression) -> tuple[mpq, mpq]:
        """(a, b) with u <= a*x + b from the start on."""
        slope, level = mpq(0), mpq(0)
        for t in terms_of(u):
            a, b = self._term_below_line(t)
            slope, level = slope + a, level + b
        return slope, level

    def _term_below_line(self, t: Expression) -> tuple[mpq, mpq]:
        if not contains(t, self.x):
            return mpq(0), exact(self._real(t).high)
        table = uni.coefficients_of(t, self.x)
        if table is not None:
            c, k = self._real(table[-1]), len(table) - 1
            if k == 1:
                return exact(c.high), exact(self._real(table[0]).high)
            if c.high <= 0:  # a falling power lies below its tangent
                high = exact(c.high)
                return high * k * self.start ** (k - 1), high * (1 - k) * self.start**k
            raise NoValue("an exponential that grows faster than any here")
        outer, inner = self._exponential_in(t)
        rate = uni.linear_parts(inner.arguments[0], self.x)
        if rate is None:
            raise NoValue("an exponent that is not followed far out")
        k, c = exact(self._real(rate[0]).low), self._real(outer)
        size = self._real(substitute(inner, {self.x: number(self.start)}))
        if k > 0 and c.high <= 0:
            high = exact(c.high) * exact(size.low)
            return high * k, high * (1 - k * self.start)
        if k < 0:
            return mpq(0), max(mpq(0), exact(c.high) * exact(size.high))
        raise NoValue("an exponential that grows faster than any here")

    def _exponential_in(self, t: Expression) -> tuple[Expression, Call]:
        moving = [g for g in (t.factors if isinstance(t, Product) else (t,)) if contains(g, self.x)]
        if len(moving) != 1 or not is_a(moving[0], EXP):
            raise NoValue("an exponent that is not followed far out")
        return t / moving[0], moving[0]

    def _real(self, e: Expression) -> Interval:
        box = Enclosure(e).at(self.table, 64)
        if box.imag is not None:
            raise NoValue("an exponent that is not real")
        return box.real

    def below(self, f: Expression) -> Majorant:
        """A lower bound of |f|, of the same shape."""
        if not contains(f, self.x):
            size = self._modulus(f).low
            if size <= 0:
                raise NoValue("a divisor that may be zero")
            return Majorant(size, *ZERO_POWERS)
        if f is self.x:
            return Majorant(mpfr(1), mpq(1), mpq(0))
        if isinstance(f, Product):
            whole = self._below_number(f)
            for g in f.factors:
                other = self.below(g)
                whole = Majorant(A.down.mul(whole.C, other.C), whole.p + other.p, whole.q + other.q)
            return whole
        if isinstance(f, Power) and isinstance(f.exponent, Number) and f.exponent.is_rational and f.exponent.rational > 0:
            k, inner = mpq(f.exponent.rational), self.below(f.base)
            return Majorant(A.down.mul(A.down.pow(inner.C, mpfr(k)), mpfr("0.9999999")), inner.p * k, inner.q * k)
        if is_a(f, EXP):
            line = uni.linear_parts(f.arguments[0], self.x)
            if line is not None:
                rate = self._real(line[0])
                return Majorant(A.down.exp(self._real(line[1]).low), mpq(0), -exact(rate.low))
        if isinstance(f, Sum):
            return self._sum_below(f)
        raise NoValue("no lower bound of a divisor far out")

    def _below_number(self, f: Product) -> Majorant:
        return Majorant(self._modulus(number(f.coefficient)).low, *ZERO_POWERS)

    def _sum_below(self, f: Sum) -> Majorant:
        """The largest term, less the share that the others may take away."""
        terms = terms_of(f)
        bounds = [self.above(t) for t in terms]
        first = min(range(len(terms)), key=lambda i: (bounds[i].q, -bounds[i].p))
        lead = self.below(terms[first])
        share = mpfr(0)
        for i, m in enumerate(bounds):
            if i != first:
                share = A.up.add(share, A.up.mul(A.up.div(m.C, lead.C), _supremum(m.p - lead.p, m.q - lead.q, self.start)))
        if share >= 1:
            raise NoValue("terms of a divisor that may cancel")
        return Majorant(A.down.mul(lead.C, A.down.sub(1, share)), lead.p, lead.q)
