"""Values found by agreement of two precisions, for what has no rigorous evaluation: never called "bounded".

The numbers come from mpmath; the result is widened by guard digits, and a disagreement is a refusal.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from gmpy2 import mpfr, mpq, mpz

from gelvo.expression.nodes import Bound, Call, Name, Written
from gelvo.numbers.box import Box
from gelvo.numbers.interval import Arithmetic, Interval, NoValue

GUARD_BITS = 24


def _to_mpmath(context: Any, a: Interval, precision: int) -> Any:
    numerator, denominator = a.low.as_integer_ratio()
    return context.mpf(int(numerator)) / context.mpf(int(denominator))


def _from_mpmath(a: Arithmetic, value: Any) -> mpq:
    sign, mantissa, exponent, _ = value._mpf_
    exact = mpq(mpz(int(mantissa))) * (mpq(2) ** int(exponent))
    return -exact if sign else exact


def _widened(a: Arithmetic, first: Any, second: Any) -> Interval:
    middle, other = _from_mpmath(a, second), _from_mpmath(a, first)
    radius = max(abs(middle), mpq(1, 2**a.precision)) / 2 ** (a.precision - GUARD_BITS)
    if abs(middle - other) > radius:
        raise NoValue("two precisions disagree")
    return Interval(a.rational(middle - radius).low, a.rational(middle + radius).high)


def call(a: Arithmetic, node: Call, arguments: list[Box]) -> Box:
    """A function of the catalogue without rigorous bounds."""
    import mpmath

    if node.function.agreed is None:
        raise NoValue(f"{node.function.name} has no numeric evaluation there")
    if any(b.imag is not None for b in arguments):
        raise NoValue(f"{node.function.name} of complex numbers has no numeric evaluation here")
    name, *further = (node.function.agreed,) if isinstance(node.function.agreed, str) else node.function.agreed
    results = []
    for extra in (16, 64):
        context = mpmath.mp.clone()
        context.prec = a.precision + extra
        value = getattr(context, name)(*[_to_mpmath(context, b.real, context.prec) for b in arguments], *further)
        results.append(value)
    if any(hasattr(v, "_mpc_") for v in results):
        raise NoValue(f"{node.function.name} is not real there")
    return Box(_widened(a, *results))


def integral(a: Arithmetic, node: Written, point: Mapping[Name, Any]) -> Box:
    """A definite integral by quadrature in two precisions."""
    import mpmath

    from gelvo.evaluation.enclose import Enclosure

    body, variable, lower, upper = node.arguments
    assert isinstance(variable, Name)
    enclosure = Enclosure(body)
    results = []
    for extra in (10, 40):
        context = mpmath.mp.clone()
        context.prec = min(a.precision, 200) + extra

        def integrand(x: Any, context: Any = context) -> Any:
            box = enclosure.at({**point, variable: _from_mpmath(a, x)}, context.prec + 10)
            low = box.real.low
            numerator, denominator = mpfr(low).as_integer_ratio()
            return context.mpf(int(numerator)) / context.mpf(int(denominator))

        ends = []
        for end in (lower, upper):
            if isinstance(end, Bound):
                ends.append(context.inf if end.kind == "inf" else -context.inf)
            else:
                ends.append(_to_mpmath(context, Enclosure(end).at(point, context.prec).real, context.prec))
        results.append(context.quad(integrand, ends))
    return Box(_widened(a, *results))
