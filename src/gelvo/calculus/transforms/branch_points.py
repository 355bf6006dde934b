"""Inverse Laplace transforms beyond rational functions: rows by what stands in them, in v = s + b.

Sources: M. Abramowitz, I. Stegun, "Handbook of Mathematical Functions" (1964), 29.3; G. Doetsch (1974); DLMF 7.18 and 10.22.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from gmpy2 import fac, mpq

from gelvo.calculus.far_out import limit_at_infinity
from gelvo.calculus.sums.up import add_up
from gelvo.calculus.transforms.pattern import Unknown
from gelvo.expression.building import multiply_all, number, power, sqrt, total
from gelvo.expression.constants import ONE, PI, ZERO
from gelvo.expression.nodes import Call, Expression, Name, Node, Number, Power
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, has_call, postorder, substitute, transform
from gelvo.facts.periods import common_multiple
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import ACOT, ATAN, ATANH, BESSELI, BESSELJ, ERFC, ERFI, EXP, FLOOR, GAMMA, HEAVISIDE, LN, is_a
from gelvo.numbers.exact import HALF
from gelvo.simplifying.families.waves import HYPERBOLIC
from gelvo.simplifying.partial_fractions import Piece, simple_fractions, split_fraction

Inner = Callable[[Expression], Expression]  # the function of t for a rational function of s


class Asked(NamedTuple):
    """F(s), the new variable, the facts, and the way back of what is simpler."""

    e: Expression
    s: Name
    t: Name
    facts: Facts
    inner: Inner

    def back(self, e: Expression) -> Expression:
        return self.inner(e)


def of_branch_points(e: Expression, s: Name, t: Name, facts: Facts, inner: Inner) -> Expression:
    """The function of t > 0 without impulses; raises Unknown. inner: the way back of any other function of s."""
    asked = Asked(e, s, t, facts, inner)
    for row in ROWS:
        found = row(asked)
        if found is not None:
            return found
    raise Unknown


def _shift(base: Expression, s: Name) -> Expression | None:
    """b where the base is s + b."""
    parts = uni.linear_parts(expand(base), s)
    return parts[1] if parts is not None and parts[0] is ONE else None


def _apart(e: Expression, s: Name) -> tuple[Expression, list[Expression]]:
    """What does not depend on s, and the factors that do."""
    moving = [f for f in factors_in(e) if contains(f, s)]
    return e / multiply_all(moving), moving


def _power(a: Asked) -> Expression | None:
    """c*v^(-p) and c*ln(v)^m*v^(-p), p > 0: t^(p - 1)/gamma(p), and its derivatives by p."""
    outer, moving = _apart(a.e, a.s)
    powers: Expression = ZERO
    logarithms, base = 0, None
    for f in moving:
        inside, k = base_and_exponent(f)
        own = inside.arguments[0] if is_a(inside, LN) else inside
        if base is not None and own is not base:
            return None
        base = own
        if not is_a(inside, LN):
            powers = powers - k
        elif isinstance(k, Number) and k.is_whole and 0 < k.rational < 6:
            logarithms += int(k.rational)
        else:
            return None
    shift = None if base is None else _shift(base, a.s)
    if shift is None or contains(powers, a.s) or not a.facts.is_positive(powers):
        return None
    p = a.facts.new_name("p", a.e, a.t, domain="positive")
    plain = power(a.t, p - 1) / GAMMA(p)
    slope = number((-1) ** logarithms) * differentiate(plain, p, logarithms) if logarithms else plain
    return outer * EXP(-shift * a.t) * substitute(slope, {p: powers})


def _by_slope(a: Asked) -> Expression | None:
    """Logarithms and arctangents that vanish far out: t*f(t) has the transform -F'(s)."""
    if not has_call(a.e, (LN, ATAN, ACOT, ATANH), a.s):
        return None
    slope = factored(differentiate(a.e, a.s))
    if has_call(slope, (LN, ATAN, ACOT, ATANH), a.s):
        return None
    far = a.facts.without(a.s)
    if limit_at_infinity(a.e, a.s, far) is not ZERO:
        return None
    return -a.back(slope) / a.t


def _root(a: Asked) -> Expression | None:
    """Rational in r = sqrt(s + b), times exp(-c*r): fraction by fraction in r."""
    roots = {n.base for n in postorder(a.e) if isinstance(n, Power) and contains(n.base, a.s) and not n.exponent.is_whole}
    shift = _shift(next(iter(roots)), a.s) if len(roots) == 1 else None
    if shift is None:
        return None
    r = a.facts.new_name("r", a.e, a.t, domain="positive")
    inside = substitute(a.e, {a.s: r**2 - shift})
    outer, moving = _apart(inside, r)
    exponentials = [f for f in moving if is_a(f, EXP)]
    rate = ZERO
    for f in exponentials:
        parts = uni.linear_parts(expand(f.arguments[0]), r)
        if parts is None or not a.facts.is_negative(parts[0]):
            return None
        rate, outer = rate - parts[0], outer * EXP(parts[1])
    rest = multiply_all([outer, *[f for f in moving if f not in exponentials]])
    top, content, factors = split_fraction(factored(rest), r)
    quotient, pieces = simple_fractions(top, content, factors)
    if any(q is not ZERO for q in quotient):
        return None
    found = [_of_root(digit, base, k, rate, a) for digit, base, k in pieces]
    return None if None in found else EXP(-shift * a.t) * total([f for f in found if f is not None])


def _of_root(digit: uni.Coefficients, base: uni.Coefficients, k: int, c: Expression, a: Asked) -> Expression | None:
    """digit/base^k in r = sqrt(v), times exp(-c*r)."""
    t = a.t
    if len(base) == 2:
        h, scale = uni.lowest_terms(base[0] / base[1]), digit[0] / power(base[1], number(k))
        if h is ZERO:
            return scale * _over_powers(k, c, t)
        if c is not ZERO and k > 1:
            return None
        mark = a.facts.new_name("h", h, a.e, t)
        z = mark * sqrt(t) + c / (2 * sqrt(t))
        wave = EXP(-(c**2) / (4 * t)) / sqrt(PI * t) - mark * EXP(mark**2 * t + mark * c) * ERFC(z)
        if k > 1:
            wave = number(mpq((-1) ** (k - 1), fac(k - 1))) * differentiate(wave, mark, k - 1)
        return scale * substitute(wave, {mark: h})
    if len(base) == 3 and k == 1 and c is ZERO and base[1] is ZERO and a.facts.is_positive(base[0] / base[2]):
        gap = uni.lowest_terms(base[0] / base[2])
        low, high = digit[0] / base[2], (digit[1] if len(digit) > 1 else ZERO) / base[2]
        decay = EXP(-gap * t)
        return low * decay + high * (1 / sqrt(PI * t) - sqrt(gap) * decay * ERFI(sqrt(gap * t)))
    return None


def _over_powers(k: int, c: Expression, t: Name) -> Expression:
    """exp(-c*sqrt(v))/v^(k/2): repeated integrals of the error function (DLMF 7.18.7), c > 0 or none."""
    if c is ZERO:
        return power(t, number(mpq(k, 2) - 1)) / GAMMA(number(mpq(k, 2)))
    z = c / (2 * sqrt(t))
    before, current = 2 * EXP(-(z**2)) / sqrt(PI), ERFC(z)  # of the orders -1 and 0
    if k == 1:
        return EXP(-(z**2)) / sqrt(PI * t)
    for n in range(1, k - 1):
        before, current = current, before / (2 * n) - z * current / n
    return power(4 * t, number(mpq(k - 2, 2))) * current


def _plain_root(a: Asked) -> Expression | None:
    """exp(-c*sqrt(v)) alone."""
    outer, moving = _apart(a.e, a.s)
    if len(moving) != 1 or not is_a(moving[0], EXP):
        return None
    terms = terms_of(expand(moving[0].arguments[0]))
    roots = [term for term in terms if contains(term, a.s)]
    c, parts = _apart(roots[0], a.s)
    base, k = base_and_exponent(parts[0])
    shift = _shift(base, a.s) if len(roots) == len(parts) == 1 and k is number(HALF) else None
    if shift is None or not a.facts.is_negative(c):
        return None
    constant = EXP(total([term for term in terms if term is not roots[0]]))
    return outer * constant * EXP(-shift * a.t) * -c * EXP(-(c**2) / (4 * a.t)) / (2 * sqrt(PI) * power(a.t, number(mpq(3, 2))))


def _essential(a: Asked) -> Expression | None:
    """exp(±c/v)*v^(-p): (t/c)^((p - 1)/2) times a Bessel function of order p - 1 at 2*sqrt(c*t)."""
    outer, moving = _apart(a.e, a.s)
    exponentials = [f for f in moving if is_a(f, EXP)]
    others = [base_and_exponent(f) for f in moving if f not in exponentials]
    if len(exponentials) != 1 or len(others) != 1:
        return None
    base, k = others[0]
    shift = _shift(base, a.s)
    c = factored(-exponentials[0].arguments[0] * base) if shift is not None else None
    if shift is None or c is None or contains(c, a.s) or contains(k, a.s) or not a.facts.is_negative(k):
        return None
    n = -k - 1
    if a.facts.is_positive(c):
        kind, size = BESSELJ, c
    elif a.facts.is_negative(c):
        kind, size = BESSELI, -c
    else:
        return None
    return outer * EXP(-shift * a.t) * power(a.t / size, n / 2) * kind(n, 2 * sqrt(size * a.t))


def _quadratic(a: Asked) -> Expression | None:
    """(v^2 + c)^(-p), p no whole number: a power of t times a Bessel function; v beside it: times t."""
    outer, moving = _apart(a.e, a.s)
    listed = [base_and_exponent(f) for f in moving]
    quadratics = [(b, k) for b, k in listed if len(uni.coefficients_of(expand(b), a.s) or ()) == 3]
    if len(quadratics) != 1 or len(listed) > 2:
        return None
    base, k = quadratics[0]
    parts = uni.coefficients_of(expand(base), a.s)
    if parts is None or contains(k, a.s):
        return None
    shift = uni.lowest_terms(parts[1] / (2 * parts[2]))
    c = uni.lowest_terms(parts[0] / parts[2] - shift**2)
    p = -k
    beside = [item for item in listed if item not in quadratics]
    times_v = len(beside) == 1 and beside[0][1] is ONE and factored(beside[0][0] - a.s - shift) is ZERO
    if beside and not times_v:
        return None
    if times_v:
        p, outer = p - 1, outer / (2 * (p - 1))
    if not a.facts.is_positive(p):
        return None
    order = p - number(HALF)
    positive = a.facts.is_positive(c)
    if not positive and not a.facts.is_negative(c):
        return None
    w, kind = sqrt(c if positive else -c), BESSELJ if positive else BESSELI
    found = sqrt(PI) / GAMMA(p) * power(a.t / (2 * w), order) * kind(order, w * a.t)
    return outer * power(parts[2], k) * EXP(-shift * a.t) * found * (a.t if times_v else ONE)


def _wave_front(a: Asked) -> Expression | None:
    """exp(-x*sqrt(s^2 + c))/sqrt(s^2 + c): nothing before t = x, a Bessel function after it (DLMF 10.22, the telegraph equation)."""
    outer, moving = _apart(a.e, a.s)
    exponentials = [f for f in moving if is_a(f, EXP)]
    others = [f for f in moving if f not in exponentials]
    if len(exponentials) != 1 or len(others) != 1:
        return None
    base, k = base_and_exponent(others[0])
    parts = uni.coefficients_of(expand(base), a.s)
    if k is not number(-HALF) or parts is None or len(parts) != 3 or parts[1] is not ZERO or parts[2] is not ONE:
        return None
    x = factored(-exponentials[0].arguments[0] / sqrt(base))
    if contains(x, a.s) or not a.facts.is_positive(x):
        return None
    c = parts[0]
    kind, size = (BESSELJ, c) if a.facts.is_positive(c) else (BESSELI, -c) if a.facts.is_negative(c) else (None, c)
    if kind is None:
        return None
    return outer * kind(ZERO, sqrt(size) * sqrt(a.t**2 - x**2)) * HEAVISIDE(a.t - x)


MOST_HALVINGS = 3


def _pulses(a: Asked) -> Expression | None:
    """Rational in s and q = exp(-c*s) with 1 - q or 1 + q below: what stands above comes again after each c, with the same sign or not."""
    plain = transform(a.e, _exponentials)
    rates = {
        parts[0]
        for n in postorder(plain)
        if is_a(n, EXP) and contains(n, a.s) and (parts := uni.linear_parts(n.arguments[0], a.s))
    }
    c = common_multiple([1 / r for r in rates]) if rates else None
    c = None if c is None else next((d for d in (1 / c, -1 / c) if a.facts.is_positive(d)), None)
    if c is None:
        return None
    q = a.facts.new_name("q", plain, a.t, domain="positive")
    exact: dict[Expression, Expression] = {}
    for node in postorder(plain):
        parts = uni.linear_parts(node.arguments[0], a.s) if is_a(node, EXP) and contains(node, a.s) else None
        if parts is not None and isinstance(node, Call):
            exact[node] = EXP(parts[1]) * power(q, uni.lowest_terms(-parts[0] / c))
    inside = factored(substitute(plain, exact))
    for _ in range(MOST_HALVINGS):
        wider = factored(substitute(inside, {q: sqrt(q)}))
        if any(isinstance(n, Power) and n.base is q and not n.exponent.is_whole for n in postorder(wider)):
            break
        inside, c = wider, 2 * c
    top, content, factors = split_fraction(inside, q)
    quotient, pieces = simple_fractions(top, content, factors)
    return _added_up(quotient, pieces, c, a)


def _added_up(quotient: uni.Coefficients, pieces: list[Piece], c: Expression, a: Asked) -> Expression | None:
    """The shares of the powers of q, each after its delay, and those over 1 - q^m and 1 + q^m again and again."""
    found = [_again(a.back(factored(share)), number(j) * c, a) for j, share in enumerate(quotient) if share is not ZERO]
    for digit, base, times in pieces:
        root = uni.lowest_terms(-base[-1] / base[0])  # digit/base is digit/base[0] over 1 - root*q^m
        if times != 1 or root not in (ONE, -ONE) or any(x is not ZERO for x in base[1:-1]):
            return None
        for j, share in enumerate(digit):
            row = ZERO if share is ZERO else _repeated(a.back(factored(share / base[0])), root, number(len(base) - 1) * c, a)
            if row is None:
                return None
            found.append(_again(row, number(j) * c, a))
    return total(found)


def _repeated(one: Expression, root: Expression, period: Expression, a: Asked) -> Expression | None:
    """one(t) + root*one(t - period) + root^2*one(t - 2*period) + …, as far as t goes."""
    k, n = a.facts.new_name("k", one, a.t), a.facts.new_name("n", one, a.t, domain="natural")
    summed = add_up(power(root, k) * substitute(one, {a.t: a.t - period * k}), k, ZERO, n, a.facts)
    return None if summed is None else substitute(summed.value, {n: FLOOR(a.t / period)})


def _again(f: Expression, delay: Expression, a: Asked) -> Expression:
    return f if delay is ZERO else HEAVISIDE(a.t - delay) * substitute(f, {a.t: a.t - delay})


def _exponentials(node: Node) -> Node:
    if isinstance(node, Call) and node.name in HYPERBOLIC and node.function.as_elementary is not None:
        return node.function.as_elementary(*node.arguments)
    return node


ROWS: tuple[Callable[[Asked], Expression | None], ...] = (
    _power,
    _plain_root,
    _root,
    _essential,
    _quadratic,
    _wave_front,
    _by_slope,
    _pulses,
)
