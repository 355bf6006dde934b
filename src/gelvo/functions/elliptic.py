"""Elliptic integrals beyond those of the first kind: the incomplete second kind, and the third kind, of the parameter m.

Source: DLMF 19.2 (definitions), 19.4 (derivatives).
"""

from __future__ import annotations

from gelvo.expression.building import looks_negative, relation
from gelvo.expression.constants import ONE, PI, ZERO
from gelvo.expression.nodes import Condition
from gelvo.expression.registry import Function, register
from gelvo.functions.duplication import bounds_of, second, third
from gelvo.functions.support import Expression, FunctionName, facts, sqrt

sin, cos = FunctionName("sin"), FunctionName("cos")
ellipk, ellipe, ellipf, ellipeinc, ellippi, ellippiinc = (
    FunctionName(n) for n in ("ellipk", "ellipe", "ellipf", "ellipeinc", "ellippi", "ellippiinc")
)

QUARTER_TURN = PI / 2


def _slope(phi: Expression, m: Expression) -> Expression:
    return sqrt(1 - m * sin(phi) ** 2)


def by_parameter_of_first(phi: Expression, m: Expression) -> Expression:
    """The derivative of ellipf by m (DLMF 19.4.5)."""
    return (ellipeinc(phi, m) - (1 - m) * ellipf(phi, m)) / (2 * m * (1 - m)) - sin(phi) * cos(phi) / (
        2 * (1 - m) * _slope(phi, m)
    )


def _turns(phi: Expression) -> bool:
    """Whether an odd function is better told of -phi."""
    return looks_negative(phi) and not looks_negative(-phi)


def _second_at(phi: Expression, m: Expression) -> Expression | None:
    if phi is ZERO or m is ZERO:
        return phi
    if phi is QUARTER_TURN:
        return ellipe(m)
    return -ellipeinc(-phi, m) if _turns(phi) else None


def _third_at(n: Expression, m: Expression) -> Expression | None:
    return ellipk(m) if n is ZERO else ellipe(m) / (1 - m) if n is m else None


def _incomplete_third_at(n: Expression, phi: Expression, m: Expression) -> Expression | None:
    if phi is ZERO:
        return ZERO
    if phi is QUARTER_TURN:
        return ellippi(n, m)
    if _turns(phi):
        return -ellippiinc(n, -phi, m)
    return ellipf(phi, m) if n is ZERO else None


def _third_by_n(n: Expression, m: Expression) -> Expression:
    return (ellipe(m) + (m - n) * ellipk(m) / n + (n**2 - m) * ellippi(n, m) / n) / (2 * (m - n) * (n - 1))


def _third_by_m(n: Expression, m: Expression) -> Expression:
    return (ellipe(m) / (m - 1) + ellippi(n, m)) / (2 * (n - m))


def _incomplete_by_n(n: Expression, phi: Expression, m: Expression) -> Expression:
    rest = n * _slope(phi, m) * sin(phi) * cos(phi) / (1 - n * sin(phi) ** 2)
    whole = ellipeinc(phi, m) + (m - n) * ellipf(phi, m) / n + (n**2 - m) * ellippiinc(n, phi, m) / n - rest
    return whole / (2 * (m - n) * (n - 1))


def _incomplete_by_m(n: Expression, phi: Expression, m: Expression) -> Expression:
    rest = m * sin(phi) * cos(phi) / ((m - 1) * _slope(phi, m))
    return (ellipeinc(phi, m) / (m - 1) + ellippiinc(n, phi, m) - rest) / (2 * (n - m))


def _real_below_one(phi: Expression, m: Expression) -> tuple[Condition, ...]:
    return (relation("<=", m * sin(phi) ** 2, ONE),)


def _known_if_small(phi: int, m: int) -> int:
    return facts.REAL if facts.is_real(phi) and facts.is_nonpositive(m) else facts.ANY


register(
    Function(
        name="ellipeinc", about="The incomplete elliptic integral of the second kind, of an angle and the parameter m.",
        example=("phi", "0", "phi"), arguments=(2, 2), at=_second_at, known=_known_if_small,
        derivative=(_slope, lambda phi, m: (ellipeinc(phi, m) - ellipf(phi, m)) / (2 * m)), real_when=_real_below_one,
        breaks=lambda phi, m: (1 - m * sin(phi) ** 2,), jumps=lambda phi, m: (),
        bounds=bounds_of("ellipeinc", second, ("phi", "m")), agreed=lambda context, phi, m: context.ellipe(phi, m), latex="E", source="DLMF 19.2.5",
    )
)  # fmt: skip
register(
    Function(
        name="ellippi", about="The complete elliptic integral of the third kind, of the characteristic n and the parameter m.",
        example=("0", "m", "ellipk(m)"), arguments=(2, 2), at=_third_at, no_value=lambda n, m: n is ONE or m is ONE,
        derivative=(_third_by_n, _third_by_m), real_when=lambda n, m: (relation("<", m, ONE), relation("<", n, ONE)),
        breaks=lambda n, m: (1 - m, 1 - n), bounds=bounds_of("ellippi", third, ("n", "m")), agreed="ellippi", latex=r"\Pi", source="DLMF 19.2.8",
    )
)  # fmt: skip
register(
    Function(
        name="ellippiinc", about="The incomplete elliptic integral of the third kind, of the characteristic n, an angle and the parameter m.",
        example=("0", "phi", "m", "ellipf(phi, m)"), arguments=(3, 3), at=_incomplete_third_at,
        derivative=(_incomplete_by_n, lambda n, phi, m: 1 / ((1 - n * sin(phi) ** 2) * _slope(phi, m)), _incomplete_by_m),
        real_when=lambda n, phi, m: (relation("<", m * sin(phi) ** 2, ONE), relation("<", n * sin(phi) ** 2, ONE)),
        breaks=lambda n, phi, m: (1 - m * sin(phi) ** 2, 1 - n * sin(phi) ** 2), bounds=bounds_of("ellippiinc", third, ("n", "phi", "m")), agreed="ellippi", latex=r"\Pi", source="DLMF 19.2.7",
    )
)  # fmt: skip
