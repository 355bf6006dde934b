"""Values found by agreement of two precisions, for what has no rigorous evaluation: never called "bounded".

The numbers come from mpmath; the result is widened by guard digits, and a disagreement is a refusal.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import gmpy2
from gmpy2 import mpfr, mpz

from gelvo.expression.nodes import Bound, Call, Name, Written
from gelvo.limits import foreign
from gelvo.numbers.box import Box
from gelvo.numbers.interval import Arithmetic, Interval, NoValue, exact

GUARD_BITS = 24
# beyond these, the series of such functions need more terms or longer numbers than any memory holds
LARGEST_ARGUMENT, LARGEST_ORDER = 1e12, 1e6


def _to_mpmath(context: Any, x: mpfr) -> Any:
    """A float of ours as one of mpmath: mantissa and exponent as they are, so that no size is ever written out."""
    from mpmath.libmp import from_man_exp

    if not gmpy2.is_finite(x):
        raise NoValue("a number without bounds")
    mantissa, exponent = x.as_mantissa_exp() if x else (0, 0)
    return context.make_mpf(from_man_exp(mpz(mantissa), int(exponent)))


def _from_mpmath(value: Any) -> mpfr:
    """A float of mpmath as one of ours, exactly."""
    sign, mantissa, exponent, bits = value._mpf_
    if not mantissa and exponent:
        raise NoValue("no finite number there")
    wide = gmpy2.context(precision=max(int(bits), 2))
    result = wide.mul(wide.plus(mpz(-mantissa if sign else mantissa)), wide.exp2(int(exponent)))
    if not gmpy2.is_finite(result) or (mantissa and not result):
        raise NoValue("a number beyond all floats")
    return result


def _widened(a: Arithmetic, first: Any, second: Any) -> Interval:
    middle, other = _from_mpmath(second), _from_mpmath(first)
    radius = a.up.mul(
        max(a.absolute(Interval(middle, middle)).high, a.up.exp2(-a.precision)), a.up.exp2(GUARD_BITS - a.precision)
    )
    if a.down.sub(middle, other) > radius or a.down.sub(other, middle) > radius:
        raise NoValue("two precisions disagree")
    return Interval(a.down.sub(middle, radius), a.up.add(middle, radius))


def call(a: Arithmetic, node: Call, arguments: list[Box]) -> Box:
    """A function of the catalogue without rigorous bounds."""
    import mpmath

    if node.function.agreed is None:
        raise NoValue(f"{node.function.name} has no numeric evaluation there")
    if any(b.imag is not None for b in arguments):
        raise NoValue(f"{node.function.name} of complex numbers has no numeric evaluation here")
    name, *further = (node.function.agreed,) if isinstance(node.function.agreed, str) else node.function.agreed
    sizes = [abs(b.real.low) for b in arguments]
    if not (sizes[-1] <= LARGEST_ARGUMENT and all(s <= LARGEST_ORDER for s in sizes[:-1])):
        raise NoValue(f"{node.function.name} of such large numbers has no numeric evaluation here")
    results = []
    for extra in (16, 64):
        context = mpmath.mp.clone()
        context.prec = a.precision + extra
        try:
            with foreign():
                value = getattr(context, name)(*[_to_mpmath(context, b.real.low) for b in arguments], *further)
        except (mpmath.libmp.NoConvergence, ArithmeticError, ValueError, MemoryError) as fault:
            raise NoValue(f"{node.function.name} could not be worked out there: {fault}") from None
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
            box = enclosure.at({**point, variable: exact(_from_mpmath(x))}, context.prec + 10)
            return _to_mpmath(context, box.real.low)

        ends = []
        for end in (lower, upper):
            if isinstance(end, Bound):
                ends.append(context.inf if end.kind == "inf" else -context.inf)
            else:
                ends.append(_to_mpmath(context, Enclosure(end).at(point, context.prec).real.low))
        results.append(context.quad(integrand, ends))
    return Box(_widened(a, *results))
