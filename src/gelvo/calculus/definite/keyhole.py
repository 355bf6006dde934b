"""Rational functions beside a power of x and powers of ln(x), from 0 to infinity, by a contour around the positive half of the line.

With L = ln(-z), which jumps there from ln(x) - 1j*pi to ln(x) + 1j*pi, the integral of x^s*R(x) is -pi/sin(pi*s) times the sum of the
residues of exp(s*L)*R, and that of ln(x)^n*R(x) is minus the sum of those of Q_n(L)*R, where Q_n(l - 1j*pi) - Q_n(l + 1j*pi) is
-2j*pi*l^n. Source: E. Whittaker, G. Watson, "A Course of Modern Analysis" (1927), 6.24.
"""

from __future__ import annotations

from gmpy2 import bincoef, fac, mpq

from gelvo.calculus.definite.mellin import logarithms_apart, power_and_rest
from gelvo.calculus.definite.poles import Pole, upper_poles
from gelvo.calculus.found import Found
from gelvo.expression.building import multiply_all, number, power, sqrt, total
from gelvo.expression.constants import IMAGINARY, ONE, PI, ZERO
from gelvo.expression.nodes import Condition, Expression, Name, Node, Number
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import substitute, transform
from gelvo.facts.conditions import nonzero, what_must_be_positive
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import ACOS, COS, EXP, LN, SIN, is_a
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.normal.prepare import prepared

MOST_LOGARITHMS = 4
ROAD = "residues around the positive half of the line"


def keyhole(f: Expression, x: Name, facts: Facts) -> Found | None:
    """ln(x)/(x^2 + 2*x + 4)  ->  pi*sqrt(3)*ln(2)/9"""
    outer, k, rest = power_and_rest(f, x)
    count, others = logarithms_apart(rest, x, MOST_LOGARITHMS)
    top, bottom = quotient_parts(factored(multiply_all(others)))
    whole = facts.is_integer(k)
    if whole and isinstance(k, Number) and k.rational >= 0:
        top, k = top * x**k, ZERO
    upper, lower = uni.coefficients_of(top, x), uni.coefficients_of(bottom, x)
    if upper is None or lower is None or len(lower) < 2 or (whole and k is not ZERO):
        return None
    needed = what_must_be_positive(facts, k + 1, len(lower) - len(upper) - k - 1)
    poles = upper_poles(bottom, x, facts)
    if needed is None or poles is None:
        return None
    if whole:
        value = _of_logarithms(top, x, count, *poles, facts)
        return None if value is None else Found(factored(outer * value), needed, ROAD)
    if any(not facts.is_negative(p.place) for p in poles[1]):
        return None
    s = facts.new_name("s", f)
    value = -PI / SIN(PI * s) * _sum(EXP(s * (mark := facts.new_name("L", f, s))), mark, top, x, *poles, facts)
    slope = transform(substitute(differentiate(value, s, count), {s: k}), _by_half_angles)
    apart = facts.open_conditions(_no_whole_number(k, len(lower) - len(upper)))
    return Found(factored(outer * slope), (*needed, *apart), ROAD)


def _no_whole_number(k: Expression, end: int) -> tuple[Condition, ...]:
    """The whole numbers of the strip of convergence, at which sin(pi*k) vanishes."""
    return tuple(nonzero(k - j) for j in range(end - 1))


def _of_logarithms(top: Expression, x: Name, count: int, above: list[Pole], on: list[Pole], facts: Facts) -> Expression | None:
    """Of ln(x)^count: a simple pole at 1, where the logarithm vanishes, is met on both sides of the cut."""
    at_one = [p for p in on if p.place is ONE]
    left = [p for p in on if p.place is not ONE]
    if any(not facts.is_negative(p.place) for p in left) or any(p.order > 1 for p in at_one) or (at_one and not count):
        return None
    mark = facts.new_name("L", top, x)
    q = _jumping(count, mark)
    sums = [_sum(q, mark, top, x, above, left, facts)]
    for p in at_one:
        sides = [substitute(q, {mark: side * IMAGINARY * PI}) for side in (1, -1)]
        sums.append(substitute(top / p.others, {x: ONE}) * expand(total(sides)) / 2)
    return -total(sums)


def _jumping(n: int, mark: Name) -> Expression:
    """Q_n, whose values on both sides of the cut differ by -2j*pi*l^n."""
    lower = [
        number(mpq(int(bincoef(n + 1, j)) * (-1) ** ((j - 1) // 2), n + 1)) * PI ** (j - 1) * _jumping(n + 1 - j, mark)
        for j in range(3, n + 2, 2)
    ]
    return mark ** (n + 1) / (n + 1) - total(lower)


def _sum(kernel: Expression, mark: Name, top: Expression, x: Name, above: list[Pole], on: list[Pole], facts: Facts) -> Expression:
    """The residues of kernel(L)*top/bottom at pairs of poles, and at those on the negative half of the line."""
    pairs = [2 * real_and_imaginary(_residue(kernel, mark, top, x, p, facts), facts)[0] for p in above]
    return total([*pairs, *(_residue(kernel, mark, top, x, p, facts) for p in on)])


def _residue(kernel: Expression, mark: Name, top: Expression, x: Name, pole: Pole, facts: Facts) -> Expression:
    regular = kernel * top / pole.others
    for _ in range(pole.order - 1):
        regular = differentiate(regular, x) + differentiate(regular, mark) / x
    real, imaginary = real_and_imaginary(pole.place, facts)
    square = factored(expand(real**2 + imaginary**2))
    size = -pole.place if imaginary is ZERO else prepared(sqrt(square), facts, waves=False)
    angle = ZERO if imaginary is ZERO else -ACOS(factored(-real / size))
    if is_a(kernel, EXP):
        s = kernel.arguments[0] / mark
        turned = COS(s * angle) + IMAGINARY * SIN(s * angle)
        risen = power(size, s) if imaginary is ZERO else power(square, s / 2)
        regular = substitute(regular, {kernel: risen * turned})
    at_pole = substitute(regular, {mark: LN(size) + IMAGINARY * angle, x: pole.place})
    return expand(at_pole) / number(mpq(fac(pole.order - 1)))


def _by_half_angles(node: Node) -> Node:
    """cos(acos(c)/2) as sqrt((1 + c)/2), and so on for odd multiples."""
    if not is_a(node, COS, SIN):
        return node
    angles = [g for g in factors_in(node.arguments[0]) if is_a(g, ACOS)]
    twice = 2 * node.arguments[0] / angles[0] if len(angles) == 1 else ZERO
    if not (isinstance(twice, Number) and twice.is_whole and twice.rational % 2):
        return node
    c = angles[0].arguments[0]
    half = sqrt(factored((1 + c) / 2)) + (1 if twice.rational > 0 else -1) * IMAGINARY * sqrt(factored((1 - c) / 2))
    real, imaginary = real_and_imaginary(expand(half ** int(abs(twice.rational))), Facts())
    return real if is_a(node, COS) else imaginary
