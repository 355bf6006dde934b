"""Hypergeometric functions of Gauss and Kummer, and the confluent limit of both.

Source: DLMF 13.2, 13.3 (Kummer), 15.2, 15.5 (Gauss), 16.2 and 16.3 (series and derivatives).
"""

from __future__ import annotations

from collections.abc import Callable

from gelvo.errors import DomainError
from gelvo.expression.building import total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.registry import Function, register
from gelvo.functions.entire import hypergeometric
from gelvo.functions.support import Condition, Expression, FunctionName, Number, facts, junction, not_whole, nowhere, relation

hyp0f1, hyp1f1, hyp2f1 = FunctionName("hyp0f1"), FunctionName("hyp1f1"), FunctionName("hyp2f1")
LONGEST = 24  # degree up to which a series that ends is written out as a polynomial


def _is_pole(c: Expression) -> bool:
    return isinstance(c, Number) and c.is_whole and c.rational <= 0


def _written_out(upper: tuple[Expression, ...], lower: Expression, x: Expression) -> Expression | None:
    """1 at 0; a polynomial where an upper parameter is 0, -1, -2, …: the series ends."""
    if _is_pole(lower):
        raise DomainError(f"a hypergeometric function has no value where its lower parameter is {lower}: it is a pole")
    if x is ZERO:
        return ONE
    ends = [-int(a.rational) for a in upper if _is_pole(a)]
    if not ends or min(ends) > LONGEST:
        return None
    terms, term = [ONE], ONE
    for k in range(min(ends)):
        for a in upper:
            term = term * (a + k)
        term = term * x / ((lower + k) * (k + 1))
        terms.append(term)
    return total(terms)


def _at(*arguments: Expression) -> Expression | None:
    *upper, lower, x = arguments
    return _written_out(tuple(upper), lower, x)


def _runs_off_at_one(a: Expression, b: Expression, c: Expression, x: Expression) -> bool:
    """The series at 1, where it does not end and c <= a + b (C. F. Gauss, 1812)."""
    excess = c - a - b
    if x is not ONE or _is_pole(a) or _is_pole(b) or not (isinstance(excess, Number) and excess.is_rational):
        return False
    return excess.rational <= 0


def _no_derivative(*arguments: Expression) -> Expression:
    raise DomainError("the derivative of a hypergeometric function by a parameter has no closed form here")


def _beside_poles(c: Expression) -> tuple[Condition, ...]:
    """Not 0, -1, -2, …: nothing to say of a number that is none of them."""
    if isinstance(c, Number):
        return ()
    return (junction("or", (relation("<", ZERO, c), not_whole(c))),)


def _known(*arguments: int) -> int:
    return facts.REAL if all(map(facts.is_real, arguments)) else facts.ANY


def _known_of_gauss(a: int, b: int, c: int, x: int) -> int:
    return facts.REAL if facts.is_nonpositive(x) and all(map(facts.is_real, (a, b, c))) else facts.ANY


def _shifted(kind: FunctionName) -> Callable[..., Expression]:
    """The derivative: all parameters one higher, times the quotient of the upper ones by the lower one."""

    def slope(*arguments: Expression) -> Expression:
        *upper, lower, x = arguments
        product: Expression = ONE
        for a in upper:
            product = product * a
        return product / lower * kind(*[a + 1 for a in upper], lower + 1, x)

    return slope


register(
    Function(
        name="hyp0f1", about="The confluent limit function: the sum of x^k/(b*(b + 1)*…*k!), from b and x.", example=("1/2", "0", "1"),
        arguments=(2, 2), at=_at, known=_known, derivative=(_no_derivative, _shifted(hyp0f1)), breaks=nowhere, jumps=nowhere,
        real_when=lambda b, x: _beside_poles(b), bounds=hypergeometric("hyp0f1"), agreed="hyp0f1", latex="{}_0F_1", source="DLMF 16.2",
    )
)  # fmt: skip
register(
    Function(
        name="hyp1f1", about="Kummer's function, from a, b and x: the sum of a*(a + 1)*…/(b*(b + 1)*…)*x^k/k!.", example=("-1", "2", "x", "1 - x/2"),
        arguments=(3, 3), at=_at, known=_known, derivative=(_no_derivative, _no_derivative, _shifted(hyp1f1)), breaks=nowhere,
        jumps=nowhere, real_when=lambda a, b, x: _beside_poles(b), bounds=hypergeometric("hyp1f1"), agreed="hyp1f1", latex="{}_1F_1", source="DLMF 13.2",
    )
)  # fmt: skip
register(
    Function(
        name="hyp2f1", about="The hypergeometric function of Gauss, from a, b, c and x.", example=("-1", "2", "4", "x", "1 - x/2"),
        no_value=_runs_off_at_one,
        arguments=(4, 4), at=_at, known=_known_of_gauss,
        derivative=(_no_derivative, _no_derivative, _no_derivative, _shifted(hyp2f1)),
        real_when=lambda a, b, c, x: (*_beside_poles(c), relation("<", x, ONE)), breaks=lambda a, b, c, x: (1 - x,),
        jumps=lambda a, b, c, x: (1 - x,), bounds=hypergeometric("hyp2f1"), agreed="hyp2f1", latex="{}_2F_1", source="DLMF 15.2",
    )
)  # fmt: skip
