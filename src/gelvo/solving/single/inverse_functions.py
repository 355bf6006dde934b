"""Sums of inverse functions: a function is taken of both sides, and what it gains is excluded when the candidates are put back.

With F = asin, acos, atan, … the sum c + m_1*F_1(u_1) + m_2*F_2(u_2) + … is zero only if exp(i*sum) has no imaginary part, and
exp(i*F(u)) is algebraic in u; with the inverse hyperbolic functions exp(sum) = 1 is the equation itself.
"""

from __future__ import annotations

from collections.abc import Callable
from math import gcd, lcm
from typing import NamedTuple

from gmpy2 import mpq

from gelvo.expression.building import multiply_all, number, power, sqrt, total
from gelvo.expression.constants import ONE, PI, ZERO
from gelvo.expression.nodes import Call, Expression, Sum
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.forms.angles import Pair, turned
from gelvo.forms.expanding import expand
from gelvo.functions.named import ACOS, ACOSH, ACOT, ACOTH, ASIN, ASINH, ATAN, ATANH, COS, EXP, SIN, is_a  # fmt: skip
from gelvo.numbers.exact import Gaussian
from gelvo.solving.roots import Root
from gelvo.solving.single.work import Work

MOST_TIMES = 6
# (cosine, sine) of the angle up to a positive factor, or with that of acot up to any real one
ANGLES: dict[str, Callable[[Expression], Pair]] = {
    ASIN: lambda u: (sqrt(1 - u**2), u),
    ACOS: lambda u: (u, sqrt(1 - u**2)),
    ATAN: lambda u: (ONE, u),
    ACOT: lambda u: (u, ONE),
}
# exp of the function to the power that is told
EXPONENTIALS: dict[str, tuple[int, Callable[[Expression], Expression]]] = {
    ASINH: (1, lambda u: u + sqrt(u**2 + 1)),
    ACOSH: (1, lambda u: u + sqrt(u**2 - 1)),
    ATANH: (2, lambda u: (1 + u) / (1 - u)),
    ACOTH: (2, lambda u: (u + 1) / (u - 1)),
}


class Part(NamedTuple):
    """times*function of the unknown."""

    times: int
    call: Call


class Read(NamedTuple):
    """The sum as whole multiples of functions, and the rest without the unknown."""

    parts: list[Part]
    rest: list[Expression]


def inverse_functions(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """A sum of whole multiples of inverse functions and of something without the unknown; only over the reals."""
    if not solver.real or not isinstance(g, Sum):
        return None
    read = _read(g, solver)
    if read is None:
        return None
    solver.implied = True
    if all(p.call.name in ANGLES for p in read.parts):
        solver.roads["sine of both sides, candidates put back"] = None
        return solver.solve(_imaginary_part(read, solver), depth + 1)
    solver.roads["exponentials of both sides, candidates put back"] = None
    scale = lcm(*(EXPONENTIALS[p.call.name][0] for p in read.parts))
    sides = [power(EXPONENTIALS[c.name][1](c.arguments[0]), number(k * scale // EXPONENTIALS[c.name][0])) for k, c in read.parts]
    upper = multiply_all([s for s, p in zip(sides, read.parts, strict=True) if p.times > 0])
    lower = multiply_all([1 / s for s, p in zip(sides, read.parts, strict=True) if p.times < 0])
    return solver.solve(upper - lower * EXP(number(-scale) * total(read.rest)), depth + 1)


def one_inverse(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """asin(u) and acos(u) of the same u, where their sum of a quarter turn makes one of them do."""
    cosines = [n for n in postorder(g) if is_a(n, ACOS) and contains(n, solver.unknown)]
    both = [n for n in cosines if contains(g, ASIN(n.arguments[0]))]
    if not both:
        return None
    solver.roads["acos(u) = pi/2 - asin(u)"] = None
    return solver.solve(expand(substitute(g, {n: PI / 2 - ASIN(n.arguments[0]) for n in both})), depth + 1)


def _read(g: Sum, solver: Work) -> Read | None:
    moving = [(t, c) for t, c in g.items() if contains(t, solver.unknown)]
    kinds = ANGLES if all(is_a(t, *ANGLES) for t, _ in moving) else EXPONENTIALS
    if not moving or any(not is_a(t, *kinds) or isinstance(c, Gaussian) for t, c in moving):
        return None
    shares = [c for _, c in moving if not isinstance(c, Gaussian)]
    common = mpq(lcm(*(int(c.denominator) for c in shares)))
    common /= gcd(*(int(c * common) for c in shares))
    parts = [Part(int(c * common), t) for (t, _), c in zip(moving, shares, strict=True) if isinstance(t, Call)]
    if sum(abs(p.times) for p in parts) > MOST_TIMES:
        return None
    rest = [multiply_all((t, number(c * common))) for t, c in g.items() if not contains(t, solver.unknown)]
    return Read(parts, [number(g.constant * common), *rest])


def _imaginary_part(read: Read, solver: Work) -> Expression:
    """The imaginary part of exp(i*sum), up to a factor that is not zero."""
    turns: list[tuple[int, Pair]] = []
    plain: list[Expression] = []
    for term in read.rest:
        factors = [f for f in factors_in(term) if is_a(f, *ANGLES)]
        times = term / factors[0] if len(factors) == 1 else ZERO
        if len(factors) == 1 and isinstance(factors[0], Call) and times.is_whole and abs(times.rational) <= MOST_TIMES:
            turns.append((int(times.rational), ANGLES[factors[0].name](factors[0].arguments[0])))
        else:
            plain.append(term)
    whole = total(plain)
    turns += [(p.times, ANGLES[p.call.name](p.call.arguments[0])) for p in read.parts]
    pair: Pair = (COS(whole), SIN(whole))
    for count, one in turns:
        pair = turned(pair, one, count)
    return pair[1]
