"""Jacobi's elliptic functions of u and the parameter m (the square of the modulus): the amplitude, its sine and cosine, its slope.

The amplitude is the inverse of ellipf: am(ellipf(phi, m), m) = phi where ellipf grows. Source: DLMF 22.2, 22.13, 22.16.
"""

from __future__ import annotations

from typing import Any

from gelvo.errors import DomainError
from gelvo.expression.building import looks_negative
from gelvo.expression.constants import ONE, TWO, ZERO
from gelvo.expression.registry import Function, register
from gelvo.functions.support import Expression, FunctionName, facts, sqrt

sin, cos, tanh, cosh, atan = (FunctionName(n) for n in ("sin", "cos", "tanh", "cosh", "atan"))
ellipk = FunctionName("ellipk")
jacobiam, jacobisn, jacobicn, jacobidn = (FunctionName(n) for n in ("jacobiam", "jacobisn", "jacobicn", "jacobidn"))


def _real_if_both(u: int, m: int) -> int:
    return facts.REAL if facts.is_real(u) and facts.is_real(m) else facts.ANY


def _no_parameter_derivative(u: Expression, m: Expression) -> Expression:
    raise DomainError("the derivative of Jacobi's functions by their parameter has no closed form here")


def _am_at(u: Expression, m: Expression) -> Expression | None:
    if u is ZERO or m is ZERO:
        return u
    if looks_negative(u):
        return -jacobiam(-u, m)
    return TWO * atan(tanh(u / 2)) if m is ONE else None


def _sn_at(u: Expression, m: Expression) -> Expression | None:
    if u is ZERO or m is ZERO:
        return sin(u)
    if looks_negative(u):
        return -jacobisn(-u, m)
    return tanh(u) if m is ONE else ONE if u is ellipk(m) else None


def _cn_at(u: Expression, m: Expression) -> Expression | None:
    if u is ZERO or m is ZERO:
        return cos(u)
    if looks_negative(u):
        return jacobicn(-u, m)
    return 1 / cosh(u) if m is ONE else ZERO if u is ellipk(m) else None


def _dn_at(u: Expression, m: Expression) -> Expression | None:
    if u is ZERO or m is ZERO:
        return ONE
    if looks_negative(u):
        return jacobidn(-u, m)
    return 1 / cosh(u) if m is ONE else sqrt(1 - m) if u is ellipk(m) else None


def _wave(kind: str) -> Any:
    return lambda context, u, m: context.re(context.ellipfun(kind, u, m=m))  # by complex theta functions beyond m = 1


def _amplitude(context: Any, u: Any, m: Any) -> Any:
    """The angle with the sine sn and the cosine cn: continued over the half periods up to m = 1; beyond it turns back."""
    turns = 0
    if m < 1:
        half = 2 * context.ellipk(m)
        turns = context.nint(u / half)
        u -= turns * half
    return turns * context.pi + context.atan2(*(_wave(kind)(context, u, m) for kind in ("sn", "cn")))


register(
    Function(
        name="jacobiam", about="Jacobi's amplitude: the angle of which ellipf with the parameter m is u.", example=("u", "0", "u"), arguments=(2, 2),
        at=_am_at, known=_real_if_both, derivative=(lambda u, m: jacobidn(u, m), _no_parameter_derivative), breaks=lambda u, m: (),
        agreed=_amplitude, latex=r"\operatorname{am}", source="DLMF 22.16",
    )
)  # fmt: skip
register(
    Function(
        name="jacobisn", about="Jacobi's sn: the sine of the amplitude.", example=("u", "0", "sin(u)"), arguments=(2, 2),
        at=_sn_at, known=_real_if_both, range=(lambda: -ONE, lambda: ONE, False), breaks=lambda u, m: (),
        derivative=(lambda u, m: jacobicn(u, m) * jacobidn(u, m), _no_parameter_derivative),
        as_elementary=lambda u, m: sin(jacobiam(u, m)), agreed=_wave("sn"), latex=r"\operatorname{sn}", source="DLMF 22.2",
    )
)  # fmt: skip
register(
    Function(
        name="jacobicn", about="Jacobi's cn: the cosine of the amplitude.", example=("u", "0", "cos(u)"), arguments=(2, 2),
        at=_cn_at, known=_real_if_both, range=(lambda: -ONE, lambda: ONE, False), breaks=lambda u, m: (),
        derivative=(lambda u, m: -jacobisn(u, m) * jacobidn(u, m), _no_parameter_derivative),
        as_elementary=lambda u, m: cos(jacobiam(u, m)), agreed=_wave("cn"), latex=r"\operatorname{cn}", source="DLMF 22.2",
    )
)  # fmt: skip
register(
    Function(
        name="jacobidn", about="Jacobi's dn: the slope of the amplitude.", example=("u", "1", "1/cosh(u)"), arguments=(2, 2),
        at=_dn_at, known=_real_if_both, breaks=lambda u, m: (),
        derivative=(lambda u, m: -m * jacobisn(u, m) * jacobicn(u, m), _no_parameter_derivative),
        agreed=_wave("dn"), latex=r"\operatorname{dn}", source="DLMF 22.2",
    )
)  # fmt: skip
