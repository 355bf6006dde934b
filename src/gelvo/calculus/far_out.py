"""Limits as a variable grows without bound: orders of growth, then comparison.

Source: D. Gruntz, "On Computing Limits in a Symbolic Manipulation System" (1996)."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress

from gmpy2 import mpq

from gelvo.calculus import growth
from gelvo.calculus.comparison import Comparison, logarithm_of
from gelvo.calculus.local.asymptotic import ROWS, written_far_out
from gelvo.calculus.local.expansion import Short, Unclear
from gelvo.deciding.suppositions import attempt
from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, number, total
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, PI, UNDEFINED, ZERO
from gelvo.expression.nodes import Bound, Call, Expression, Name, Number, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, has_call
from gelvo.facts.store import Facts
from gelvo.functions.named import (
    AIRYAI,
    AIRYBI,
    AIRYBI_PRIME,
    BESSELI,
    BESSELK,
    CHI,
    EI,
    ERFC,
    ERFI,
    EXP,
    FACTORIAL,
    GAMMA,
    GAMMA_INC,
    LN,
    SHI,
    STRUVEL,
)
from gelvo.roads import on_the_way


def limit_at_infinity(e: Expression, x: Name, facts: Facts) -> Expression | None:
    """The limit as x grows without bound, or None where it is not decided."""
    first = growth.limit_at_infinity(e, x, facts)
    if first is not None:
        return first
    return by_comparison(e, x, facts)


@on_the_way("the most rapidly varying part")
@attempt
def by_comparison(e: Expression, x: Name, facts: Facts) -> Expression | None:
    if has_call(e, tuple(ROWS), x):
        found = _by_series(e, x, facts)
        if found is not None:
            return found
    try:
        return _with_sizes(e, Comparison(x, facts))
    except (Unclear, Short, DomainError, ZeroDivisionError):
        return None


def _by_series(e: Expression, x: Name, facts: Facts) -> Expression | None:
    """What the functions are far out written in their places, and compared."""
    asked = Comparison(x, facts)

    def direction(argument: Expression) -> int:
        try:
            end = asked.limit(argument)
        except (Unclear, Short, DomainError, ZeroDivisionError):
            return 0
        return (end is INFINITE) - (end is MINUS_INFINITE)

    try:
        return asked.limit(written_far_out(e, direction, lambda argument: contains(argument, x)))
    except (Unclear, Short, DomainError, ZeroDivisionError):
        return None


def _with_sizes(e: Expression, asked: Comparison) -> Expression:
    """Factors such as gamma(u) with u -> inf give way to formulas whose ratio to them goes to one; terms are asked one by one."""
    if not has_call(e, tuple(SIZES), asked.x):
        return asked.limit(e)
    if isinstance(e, Sum):
        with suppress(Unclear, Short):
            return asked.limit(e)
        ends = [_with_sizes(number(c) * t, asked) for t, c in e.items()]
        infinite = {v for v in ends if isinstance(v, Bound)}
        if len(infinite) > 1 or UNDEFINED in infinite:
            raise Unclear("terms that may cancel")
        return infinite.pop() if infinite else total([number(e.constant), *ends])
    logarithms: list[Expression] = []
    rest: list[Expression] = [number(e.coefficient)] if isinstance(e, Product) else []
    for f in factors_in(e):
        try:
            s = _giving_way(f, asked) or logarithm_of(f, asked.x)
        except Unclear:
            return asked.limit(e)
        (rest if s is None else logarithms).append(f if s is None else s)
    left = multiply_all(rest)
    sign = asked.sign(left, 0)
    end = asked.limit(total([*logarithms, LN(sign * left)]))
    if end is MINUS_INFINITE:
        return ZERO
    if isinstance(end, Bound):
        if not asked.is_real(total(logarithms), 0):
            raise Unclear("a product that grows and turns")
        return INFINITE if sign > 0 else MINUS_INFINITE
    return sign * EXP(end)


def _giving_way(f: Expression, asked: Comparison) -> Expression | None:
    """The logarithm of what a power of a function goes over into far out; Unclear where its argument does not go to inf."""
    base, exponent = base_and_exponent(f)
    if not (isinstance(base, Call) and base.name in SIZES):
        return None
    *orders, u = base.arguments
    if asked.limit(u) is not INFINITE or not isinstance(exponent, Number) or any(contains(o, asked.x) for o in orders):
        raise Unclear("an argument that does not grow")
    return exponent * SIZES[base.name](*orders, u)


def _stirling(u: Expression) -> Expression:
    return (u - mpq(1, 2)) * LN(u) - u + LN(2 * PI) / 2


# the logarithm of a formula whose ratio to the function goes to one as the last argument goes to inf
# (DLMF 5.11.3, 6.12.1, 7.12.1, 7.12.4, 8.11.2, 9.7.5 to 9.7.8, 10.30.4, 10.40.2, 11.6.4)
SIZES: dict[str, Callable[..., Expression]] = {
    GAMMA: _stirling,
    FACTORIAL: lambda u: _stirling(u + 1),
    BESSELI: lambda n, u: u - LN(2 * PI * u) / 2,
    STRUVEL: lambda n, u: u - LN(2 * PI * u) / 2,
    BESSELK: lambda n, u: LN(PI / (2 * u)) / 2 - u,
    AIRYAI: lambda u: -mpq(2, 3) * u ** mpq(3, 2) - LN(u) / 4 - LN(4 * PI) / 2,
    AIRYBI: lambda u: mpq(2, 3) * u ** mpq(3, 2) - LN(u) / 4 - LN(PI) / 2,
    AIRYBI_PRIME: lambda u: mpq(2, 3) * u ** mpq(3, 2) + LN(u) / 4 - LN(PI) / 2,
    ERFC: lambda u: -(u**2) - LN(u) - LN(PI) / 2,
    ERFI: lambda u: u**2 - LN(u) - LN(PI) / 2,
    GAMMA_INC: lambda a, u: (a - 1) * LN(u) - u,
    EI: lambda u: u - LN(u),
    SHI: lambda u: u - LN(2 * u),
    CHI: lambda u: u - LN(2 * u),
}
