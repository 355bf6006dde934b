"""Products of two functions of the catalogue over all x > 0, by the convolution of their Mellin transforms.

A function f(y) is the contour integral of M(u)*y^(-u), M a quotient of gamma functions. Of a product one contour integral is left;
its residues on one side are hypergeometric series, which are named where they have names.

Sources: O. Marichev, "Handbook of Integral Transforms of Higher Transcendental Functions" (1983); DLMF 2.4 and 16.17;
E. Barnes, "A New Development of the Theory of the Hypergeometric Functions" (1908) for the value where the scales agree.
"""

from __future__ import annotations

from collections.abc import Callable
from itertools import combinations
from math import gcd, lcm
from typing import NamedTuple

from gmpy2 import mpq

from gelvo.calculus.definite.mellin import power_and_rest, start_and_monomial
from gelvo.calculus.definite.named_hypergeometric import named
from gelvo.calculus.found import Found
from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, number, power, sqrt, total
from gelvo.expression.constants import HALF, ONE, PI, ZERO
from gelvo.expression.nodes import Condition, Expression, Name, Number, Power
from gelvo.expression.terms import base_and_exponent
from gelvo.expression.traversal import contains, names
from gelvo.facts.conditions import what_must_be_positive
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import AIRYAI, BESSELJ, BESSELK, CI, COS, EI, ERFC, EXP, GAMMA, LN, SIN, is_a

Factors = tuple[tuple[Expression, mpq], ...]  # gamma(a + k*u) as (a, k)


class Kernel(NamedTuple):
    """The Mellin transform front*base^u*(product of gammas `top`)/(product of gammas `bottom`) for low < u < high (None: no end)."""

    front: Expression
    base: Expression
    top: Factors
    bottom: Factors
    low: Expression
    high: Expression | None
    start: Expression = ZERO  # the function is taken of start + sign*y
    sign: int = 1


H, Q = mpq(1, 2), mpq(1)


def _wave(a: Expression, b: Expression, low: int) -> Kernel:
    return Kernel(sqrt(PI) / 2, number(2), ((a, H),), ((b, -H),), number(low), ONE)


KERNELS: dict[str, Callable[..., Kernel]] = {
    EXP: lambda: Kernel(ONE, ONE, ((ZERO, Q),), (), ZERO, None, sign=-1),
    SIN: lambda: _wave(HALF, ONE, -1),
    COS: lambda: _wave(ZERO, HALF, 0),
    LN: lambda: Kernel(ONE, ONE, ((ZERO, Q), (ZERO, Q), (ONE, -Q)), ((ONE, Q),), -ONE, ZERO, ONE),
    ERFC: lambda: Kernel(1 / sqrt(PI), ONE, ((HALF, H), (ZERO, Q)), ((ONE, Q),), ZERO, None),
    EI: lambda: Kernel(-ONE, ONE, ((ZERO, Q), (ZERO, Q)), ((ONE, Q),), ZERO, None, sign=-1),
    CI: lambda: Kernel(-sqrt(PI) / 2, number(2), ((ZERO, H), (ZERO, Q)), ((HALF, -H), (ONE, Q)), ZERO, ONE),
    AIRYAI: lambda: Kernel(
        power(number(3), number(mpq(-2, 3))), power(number(3), number(mpq(-1, 3))), ((ZERO, Q),), ((number(mpq(2, 3)), mpq(1, 3)),), ZERO, None
    ),
    BESSELJ: lambda n: Kernel(HALF, number(2), ((n / 2, H),), ((n / 2 + 1, -H),), -n, number(3) / 2),
    BESSELK: lambda n: Kernel(number(mpq(1, 4)), number(2), ((n / 2, H), (-n / 2, H)), (), n, None),
}  # fmt: skip


class Scaled(NamedTuple):
    """outer*f(c*x^p) for a function f with a kernel."""

    kernel: Kernel
    c: Expression
    p: mpq
    outer: Expression = ONE


class Line(NamedTuple):
    """front*z^v*(gammas of a + v, b - v above; of c + v, d - v below), to be integrated over a contour between the poles."""

    front: Expression
    z: Expression
    rising: list[Expression]
    falling: list[Expression]
    rising_below: list[Expression]
    falling_below: list[Expression]


def by_convolution(f: Expression, x: Name, facts: Facts) -> Found | None:
    """exp(-a*x)*besselj(0, b*x)  ->  1/sqrt(a^2 + b^2)"""
    outer, exponent, rest = power_and_rest(f, x)
    factors = [g for r in rest for g in _one_by_one(r)]
    if not 1 <= len(factors) <= 2:
        return None
    scaled = [_scaled(g, x) for g in factors]
    if None in scaled:
        return None
    first, *others = sorted((s for s in scaled if s is not None), key=lambda s: len(s.kernel.top))
    needed = _what_converges(first, others, exponent + 1, facts)
    if needed is None:
        return None
    under = facts.with_facts(needed)
    if not others:
        return _alone(first, outer, exponent + 1, needed)
    line = _in_steps(_joined(first, others[0], exponent + 1))
    value = None if line is None else _value(line, under)
    if value is None:
        return None
    return Found(outer * first.outer * others[0].outer * value, needed, "convolution of Mellin transforms")


def _alone(first: Scaled, outer: Expression, s: Expression, needed: tuple[Condition, ...]) -> Found:
    kernel, u = first.kernel, s / number(first.p)
    gammas = [GAMMA(expand(a + number(k) * u)) for a, k in kernel.top] + [
        1 / GAMMA(expand(a + number(k) * u)) for a, k in kernel.bottom
    ]
    value = outer * first.outer * kernel.front * power(kernel.base / first.c, u) * multiply_all(gammas) / number(first.p)
    return Found(value, needed, "Mellin transform")


def _one_by_one(g: Expression) -> list[Expression]:
    """A square as two equal factors."""
    base, k = base_and_exponent(g)
    return [base, base] if k is number(2) and is_a(base, *KERNELS) else [g]


def _scaled(g: Expression, x: Name) -> Scaled | None:
    if is_a(g, *KERNELS):
        *orders, argument = g.arguments
        if any(contains(n, x) for n in orders):
            return None
        kernel = KERNELS[g.name](*orders)
        inner = start_and_monomial(argument, x)
        if inner is None or inner[0] is not kernel.start or not _rational(inner[2]):
            return None
        return Scaled(kernel, kernel.sign * inner[1], inner[2].rational)
    if isinstance(g, Power) and not contains(g.exponent, x):  # (a + c*x^p)^(-m)
        inner = start_and_monomial(g.base, x)
        if inner is None or inner[0] is ZERO or not _rational(inner[2]):
            return None
        m = -g.exponent
        kernel = Kernel(1 / GAMMA(m), ONE, ((ZERO, Q), (m, -Q)), (), ZERO, m)
        return Scaled(kernel, inner[1] / inner[0], inner[2].rational, power(inner[0], -m))
    return None


def _rational(e: Expression) -> bool:
    return isinstance(e, Number) and e.is_rational and e.rational > 0


def _what_converges(first: Scaled, others: list[Scaled], s: Expression, facts: Facts) -> tuple[Condition, ...] | None:
    """Positive scales, and a strip that both transforms share: u of the first, (s - p*u)/q of the second."""
    if not others:
        u, kernel = s / number(first.p), first.kernel
        return what_must_be_positive(
            facts, first.c, factored(u - kernel.low), *([] if kernel.high is None else [factored(kernel.high - u)])
        )
    second = others[0]
    p, q = number(first.p), number(second.p)
    quantities = [first.c, second.c, (s - q * second.kernel.low) / p - first.kernel.low]
    if first.kernel.high is not None:
        quantities.append(first.kernel.high - first.kernel.low)
        if second.kernel.high is not None:
            quantities.append(first.kernel.high - (s - q * second.kernel.high) / p)
    return what_must_be_positive(facts, *[factored(e) for e in quantities])


def _joined(
    first: Scaled, second: Scaled, s: Expression
) -> tuple[Expression, Expression, list[tuple[Expression, mpq]], list[tuple[Expression, mpq]]]:
    """(front, z, top, bottom) of the integrand in u: the second transform is taken at (s - p*u)/q."""
    one, two = first.kernel, second.kernel
    ratio, shift = first.p / second.p, s / number(second.p)
    scale = two.base / second.c
    front = one.front * two.front * power(scale, shift) / number(second.p)
    z = one.base / first.c / power(scale, number(ratio))

    def turned(factors: Factors) -> list[tuple[Expression, mpq]]:
        return [(expand(a + number(k) * shift), -k * ratio) for a, k in factors]

    return front, z, [*one.top, *turned(two.top)], [*one.bottom, *turned(two.bottom)]


def _in_steps(joined: tuple[Expression, Expression, list[tuple[Expression, mpq]], list[tuple[Expression, mpq]]]) -> Line | None:
    """The gammas with +-v for one step v, by the multiplication formula (C. F. Gauss; DLMF 5.5.6)."""
    front, z, top, bottom = joined
    rates = [abs(k) for _, k in (*top, *bottom)]
    step = mpq(
        gcd(*[int(k * lcm(*[int(r.denominator) for r in rates])) for k in rates]), lcm(*[int(r.denominator) for r in rates])
    )
    front, z = front / number(step), power(z, 1 / number(step))
    sides: dict[tuple[bool, bool], list[Expression]] = {(up, above): [] for up in (True, False) for above in (True, False)}
    for above, factors in ((True, top), (False, bottom)):
        for a, rate in factors:
            m = int(abs(rate) / step)
            sign = 1 if rate > 0 else -1
            size = power(2 * PI, number(mpq(1 - m, 2))) * power(number(m), a - HALF)
            turn = power(number(m), number(sign * m))
            front, z = (front * size, z * turn) if above else (front / size, z / turn)
            sides[sign > 0, above].extend(expand((a + j) / m) for j in range(m))
    rising, rising_below = _without_shared(sides[True, True], sides[True, False])
    falling, falling_below = _without_shared(sides[False, True], sides[False, False])
    return Line(front, z, rising, falling, rising_below, falling_below)


def _without_shared(above: list[Expression], below: list[Expression]) -> tuple[list[Expression], list[Expression]]:
    left, rest = list(below), []
    for a in above:
        if a in left:
            left.remove(a)
        else:
            rest.append(a)
    return rest, left


def _value(line: Line, facts: Facts) -> Expression | None:
    """By Barnes' lemma where z = 1, else by the residues on the side where they converge."""
    if line.z is ONE or factored(line.z - 1) is ZERO:
        if len(line.rising) == len(line.falling) == 2 and not line.rising_below and not line.falling_below:
            (a, b), (c, d) = line.rising, line.falling
            return line.front * GAMMA(a + c) * GAMMA(a + d) * GAMMA(b + c) * GAMMA(b + d) / GAMMA(a + b + c + d)
    mirrored = Line(line.front, 1 / line.z, line.falling, line.rising, line.falling_below, line.rising_below)
    for side in (line, mirrored):
        if len(side.rising) == 2 and not (side.falling or side.rising_below or side.falling_below):  # also where its poles meet
            a, b = side.rising
            return side.front * 2 * power(side.z, -(a + b) / 2) * BESSELK(factored(a - b), 2 / sqrt(side.z))
    excess = len(line.rising) + len(line.falling) - len(line.rising_below) - len(line.falling_below)
    left = len(line.rising) + len(line.falling_below) - len(line.falling) - len(line.rising_below)
    if left > 0:
        return _residues(line, facts)
    if left < 0:
        return _residues(mirrored, facts)
    if excess <= 0:  # another formula on either side of |z| = 1
        inside = facts.is_positive(factored(1 / line.z - 1)), facts.is_positive(factored(line.z - 1))
        return _residues(mirrored if inside[0] else line, facts) if any(inside) else None
    found = [_residues(side, facts) for side in (line, mirrored) if _off_the_cut(side, facts)]
    known = [v for v in found if v is not None]
    return min(known, key=_length) if known else None


def _off_the_cut(line: Line, facts: Facts) -> bool:
    """Whether the argument of the series, a sign over z, is known to lie off the cut of what they add up to, from 1 on."""
    rises = (len(line.rising) - 1 + len(line.rising_below) + 1) % 2 == 0
    return (facts.is_positive(line.z) and not rises) or facts.is_positive(factored(line.z - 1))


def _length(e: Expression) -> int:
    return len(str(e))


def _residues(line: Line, facts: Facts) -> Expression | None:
    """The poles of gamma(a + v) at v = -a - k: one series for each a."""
    poles = line.rising
    if any(_may_be_whole(a - b, facts) for a, b in combinations(poles, 2)):
        return None
    series = []
    for a in poles:
        others = [b for b in poles if b is not a]
        try:
            front = multiply_all(
                [
                    power(line.z, -a),
                    *[GAMMA(expand(b - a)) for b in others],
                    *[GAMMA(expand(b + a)) for b in line.falling],
                    *[1 / _gamma(c - a) for c in line.rising_below if not _is_pole(c - a)],
                    *[1 / GAMMA(expand(d + a)) for d in line.falling_below],
                ]
            )
        except DomainError:
            return None
        if any(_is_pole(c - a) for c in line.rising_below):
            continue
        upper = [expand(b + a) for b in line.falling] + [expand(1 - c + a) for c in line.rising_below]
        lower = [expand(1 - b + a) for b in others] + [expand(d + a) for d in line.falling_below]
        sign = (-1) ** (len(others) + len(line.rising_below) + 1)
        found = named(upper, lower, factored(number(sign) / line.z), facts)
        if found is None:
            return None
        series.append(front * found)
    return factored(line.front) * total(series) if len(series) <= 2 else None


def _gamma(e: Expression) -> Expression:
    return GAMMA(expand(e))


def _is_pole(e: Expression) -> bool:
    e = expand(e)
    return isinstance(e, Number) and e.is_whole and e.rational <= 0


def _may_be_whole(e: Expression, facts: Facts) -> bool:
    e = expand(e)
    return (isinstance(e, Number) and e.is_whole) or (bool(names(e)) and facts.is_integer(e))
