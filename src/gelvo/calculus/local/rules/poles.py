"""The gamma function at its poles, roots at zero, and integrals with a logarithm at zero."""

from __future__ import annotations

from collections.abc import Callable

from gmpy2 import fac, mpq

from gelvo.calculus.local.expansion import Expansion, Unclear, binomial, constant_term, plus
from gelvo.calculus.local.table import Expanding, Rule, local
from gelvo.expression.building import constant, number
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Call, Expression, Number
from gelvo.functions.named import ABS, CBRT, CI, EI, GAMMA


@local(CBRT)
def _cube_root(at: Expanding, node: Call, inner: Expansion) -> Expansion:
    exponent, c, rest = at.divisor(inner)
    series = at.compose(rest, lambda k: number(binomial(mpq(1, 3), k)))
    outer = CBRT(c)
    shift = exponent / 3
    return Expansion({e + shift: outer * v for e, v in series.terms.items()}, plus(series.order, shift))


@local(GAMMA)
def _gamma(at: Expanding, node: Call, inner: Expansion) -> Expansion:
    """gamma by its recurrence away from the poles; ln gamma by Stirling's series where the argument grows."""
    if inner.terms and next(iter(inner.terms)) < 0:
        raise Unclear("gamma of something that grows")
    place = inner.terms.get(mpq(0), ZERO)
    z = Expansion({e: c for e, c in inner.terms.items() if e}, inner.order)
    if isinstance(place, Number) and place.is_whole and place.rational <= 0:
        shift = 1 - int(place.rational)
        top = at.regular(node, 0, place + shift, z)
        for j in range(shift):
            top = at.multiply(top, at.power(at.add([z, constant_term(place + j)]), mpq(-1)))
        return top
    return at.regular(node, 0, place, z)


def _with_logarithm(entire: Callable[[int], Expression]) -> Rule:
    """Functions such as Ei(v) = euler_gamma + ln|v| + an entire part, near v = 0."""

    def near(at: Expanding, node: Call, inner: Expansion) -> Expansion:
        if inner.terms and next(iter(inner.terms)) < 0:
            return at.at_infinity(node, inner)
        z = Expansion({e: c for e, c in inner.terms.items() if e}, inner.order)
        if mpq(0) in inner.terms:
            return at.regular(node, 0, inner.terms[mpq(0)], z)
        exponent, c, rest = at.divisor(inner)
        if not all(at.facts.is_real(v) for v in (c, *rest.terms.values())):
            raise Unclear(f"the size of {c} is taken of real values only")
        size = Expansion({e + exponent: ABS(c) * v for e, v in {mpq(0): ONE, **rest.terms}.items()}, plus(rest.order, exponent))
        return at.add([constant_term(constant("euler_gamma")), at.log(size), at.compose(z, entire)])

    return near


local(EI)(_with_logarithm(lambda n: number(mpq(1, n * fac(n))) if n else ZERO))
local(CI)(_with_logarithm(lambda n: ZERO if n % 2 or not n else number(mpq((-1) ** (n // 2), n * fac(n)))))
