"""Values found by agreement of two precisions, for what has no rigorous evaluation: never called "bounded".

The numbers come from mpmath; the result is widened by guard digits, and a disagreement is a refusal.
"""

from __future__ import annotations

import math
import threading
from collections.abc import Callable, Mapping
from typing import TYPE_CHECKING, Any, Protocol

import gmpy2
from gmpy2 import mpfr, mpz

from gelvo.deadline import foreign
from gelvo.expression.nodes import Bound, Call, Expression, Name, Written
from gelvo.functions.named import (
    BESSELJ,
    BESSELK,
    BESSELY,
    CHI,
    CI,
    DIGAMMA,
    EI,
    ELLIPE,
    ELLIPK,
    FRESNELC,
    FRESNELS,
    GAMMA,
    LI,
    LOGGAMMA,
    SI,
    ZETA,
)
from gelvo.numbers.box import Box
from gelvo.numbers.interval import Arithmetic, Interval, NoValue, exact

if TYPE_CHECKING:
    from mpmath import mpf
    from mpmath.ctx_mp import MPContext

GUARD_BITS, DOUBLE_BITS = 24, 53
_of_thread = threading.local()
# beyond these, the series of such functions need more terms or longer numbers than any memory holds
LARGEST_ARGUMENT, LARGEST_ORDER = 1e12, 1e6
# functions of the last argument (the others fixed), and how steep they are at most from a place on: DLMF 6.2, 7.2, 10.14, 10.18
STEEPEST: dict[str, Callable[..., float]] = {
    BESSELJ: lambda n, low: 1.0 if n == int(n) else math.inf,
    BESSELY: lambda n, low: (_modulus(n - 1, low) + _modulus(n + 1, low)) / 2 if low > 0 else math.inf,
    SI: lambda low: 1.0,
    CI: lambda low: 1 / low if low > 0 else math.inf,
    LI: lambda low: 1 / math.log(low) if low > 1 else math.inf,
    ZETA: lambda low: 1 / (low - 1) ** 2 if low > 1 else math.inf,
    FRESNELS: lambda low: 1.0,
    FRESNELC: lambda low: 1.0,
}

# where functions of the last argument rise (1) or fall (-1) all the way: DLMF 5.4, 6.2, 10.21 (the first extremum of bessely lies
# beyond n + 2), 10.25, 19.2, 25.2; towards an end where they have no value they run off to infinity
MONOTONE: dict[str, Callable[..., tuple[tuple[float, float, int], ...]]] = {
    BESSELY: lambda n: ((0, n + 2 if n >= 0 else 0, 1),),
    BESSELK: lambda n: ((0, math.inf, -1),),
    EI: lambda: ((-math.inf, 0, -1), (0, math.inf, 1)),
    CI: lambda: ((0, 1.5, 1),),
    CHI: lambda: ((0, math.inf, 1),),
    LI: lambda: ((0, 1, -1), (1, math.inf, 1)),
    GAMMA: lambda: ((0, 1.4, -1),),
    LOGGAMMA: lambda: ((0, 1.4, -1),),
    DIGAMMA: lambda: ((0, math.inf, 1),),
    ZETA: lambda: ((0, 1, -1), (1, math.inf, -1)),
    ELLIPK: lambda: ((-math.inf, 1, 1),),
    ELLIPE: lambda: ((-math.inf, 1, -1),),
}


def _to_mpmath(context: MPContext, x: mpfr) -> mpf:
    """A float of ours as one of mpmath: mantissa and exponent as they are, so that no size is ever written out."""
    from mpmath.libmp import from_man_exp

    if not gmpy2.is_finite(x):
        raise NoValue("a number without bounds")
    mantissa, exponent = x.as_mantissa_exp() if x else (0, 0)
    return context.make_mpf(from_man_exp(mpz(mantissa), int(exponent)))


def _from_mpmath(value: mpf) -> mpfr:
    """A float of mpmath as one of ours, exactly."""
    sign, mantissa, exponent, bits = value._mpf_
    if not mantissa and exponent:
        raise NoValue("no finite number there")
    wide = gmpy2.context(precision=max(int(bits), 2))
    result = wide.mul(wide.plus(mpz(-mantissa if sign else mantissa)), wide.exp2(int(exponent)))
    if not gmpy2.is_finite(result) or (mantissa and not result):
        raise NoValue("a number beyond all floats")
    return result


def _widened(a: Arithmetic, first: mpf, second: mpf, at_other_end: mpf | None = None) -> Interval:
    middle, other = _from_mpmath(second), _from_mpmath(first)
    size = max(a.absolute(Interval(middle, middle)).high, a.up.exp2(-a.precision))
    apart = abs(a.up.sub(middle, other))
    if at_other_end is not None:
        apart = max(apart, abs(a.up.sub(middle, _from_mpmath(at_other_end))))
    if apart > a.up.mul(a.up.exp2(-a.precision // 2), max(size, 1)):
        raise NoValue("two precisions disagree")
    # near a zero of the function only the absolute error is small
    radius = max(a.up.mul(size, a.up.exp2(GUARD_BITS - a.precision)), a.up.mul(apart, a.up.exp2(GUARD_BITS // 2)))
    return Interval(a.down.sub(middle, radius), a.up.add(middle, radius))


def _is_wide(a: Arithmetic, x: Interval) -> bool:
    """Whether an argument is a range of numbers, not one number with its rounding."""
    width = a.up.sub(x.high, x.low)
    return bool(width > a.up.mul(max(abs(x.low), abs(x.high), a.up.exp2(-a.precision // 2)), a.up.exp2(GUARD_BITS - a.precision)))


def call(a: Arithmetic, node: Call, arguments: list[Box]) -> Box:
    """A function of the catalogue without rigorous bounds."""
    if any(b.imag is not None for b in arguments):
        return _of_complex_numbers(a, node, arguments)
    if any(_is_wide(a, b.real) for b in arguments):
        return _over_a_range(a, node, arguments)
    if node.function.agreed is None:
        raise NoValue(f"{node.function.name} has no numeric evaluation there")
    sizes = [abs(b.real.low) for b in arguments]
    if not (sizes[-1] <= LARGEST_ARGUMENT and all(s <= LARGEST_ORDER for s in sizes[:-1])):
        raise NoValue(f"{node.function.name} of such large numbers has no numeric evaluation here")
    results = _at_two_precisions(a, node, arguments)
    if any(hasattr(v, "_mpc_") for v in results):
        raise NoValue(f"{node.function.name} is not real there", lasting=True)
    return Box(_widened(a, *results))


def _at_two_precisions(a: Arithmetic, node: Call, arguments: list[Box]) -> list[Any]:
    """What mpmath says at the lower ends of the arguments, at two precisions, and at the upper ends where those are others."""
    import mpmath

    parts = [[p for p in (b.real, b.imag) if p is not None] for b in arguments]
    wide = any(p.low != p.high for pair in parts for p in pair)
    results = []
    for extra, end in ((16, "low"), (64, "low"), *(((64, "high"),) if wide else ())):
        context = own_context()
        try:
            with foreign(), context.workprec(a.precision + extra):
                floats = [[_to_mpmath(context, getattr(p, end)) for p in pair] for pair in parts]
                results.append(_value(context, node.function.agreed, [context.mpc(*z) if len(z) == 2 else z[0] for z in floats]))
        except (mpmath.libmp.NoConvergence, ArithmeticError, ValueError, MemoryError) as fault:
            raise NoValue(f"{node.function.name} could not be worked out there: {fault}") from None
    return results


def _of_complex_numbers(a: Arithmetic, node: Call, arguments: list[Box]) -> Box:
    """The value at one complex place, each part by the agreement of two precisions and of both ends of its rounding."""
    parts = [p for b in arguments for p in (b.real, b.imag) if p is not None]
    if not node.function.agreed_at_complex or any(_is_wide(a, p) for p in parts):
        raise NoValue(f"{node.function.name} of complex numbers has no numeric evaluation here")
    if any(max(abs(p.low), abs(p.high)) > LARGEST_ORDER for p in parts):
        raise NoValue(f"{node.function.name} of such large numbers has no numeric evaluation here")
    results = [(own_context().re(v), own_context().im(v)) for v in _at_two_precisions(a, node, arguments)]
    real, imag = (_widened(a, *column) if any(column) else a.zero for column in zip(*results, strict=True))
    return Box(real, imag)


def _value(context: MPContext, agreed: Any, place: list[mpf]) -> Any:
    """What mpmath says: by the name of its function, that name and further arguments, or a function of its context."""
    if callable(agreed):
        return agreed(context, *place)
    name, *further = (agreed,) if isinstance(agreed, str) else agreed
    return getattr(context, name)(*place, *further)


def own_context() -> MPContext:
    """The context of mpmath of this thread; making one takes as long as thousands of values."""
    import mpmath

    if not hasattr(_of_thread, "context"):
        _of_thread.context = mpmath.mp.clone()
    return _of_thread.context


def _modulus(n: float, x: float) -> float:
    """sqrt(J^2 + Y^2), which falls for positive x."""
    context = own_context()
    with context.workprec(DOUBLE_BITS):
        return float(context.hypot(context.besselj(n, x), context.bessely(n, x))) * (1 + 1e-9)


def _over_a_range(a: Arithmetic, node: Call, arguments: list[Box]) -> Box:
    """The value in the middle, widened by the steepest slope times half the width."""
    *orders, x = arguments
    direction = monotone(node, arguments)
    if direction:
        low = _at_an_end(a, node, [*orders, Box(Interval(x.real.low, x.real.low))], -direction)
        high = _at_an_end(a, node, [*orders, Box(Interval(x.real.high, x.real.high))], direction)
        return Box(Interval(min(low.low, high.low), max(low.high, high.high)))
    steepest = STEEPEST.get(node.name)
    if steepest is None or any(_is_wide(a, b.real) for b in orders):
        raise NoValue(f"{node.name} has no bounds over a range of arguments")
    slope = steepest(*[float(b.real.low) for b in orders], float(x.real.low) * (1 - 1e-9))
    if not slope < 1e300:
        raise NoValue(f"{node.name} has no bounds over that range")
    middle = a.down.div(a.down.add(x.real.low, x.real.high), 2)
    spread = a.up.mul(slope * (1 + 1e-6), max(a.up.sub(x.real.high, middle), a.up.sub(middle, x.real.low)))
    value = call(a, node, [*orders, Box(Interval(middle, middle))])
    return Box(Interval(a.down.sub(value.real.low, spread), a.up.add(value.real.high, spread)))


def _at_an_end(a: Arithmetic, node: Call, arguments: list[Box], sign: int) -> Interval:
    """The value at an end of a range; infinite where there is none."""
    for evaluate in (node.function.bounds, lambda a, *places: call(a, node, list(places))):
        try:
            if evaluate is not None:
                return evaluate(a, *arguments).real
        except NoValue:
            continue
    return Interval(mpfr(sign * math.inf), mpfr(sign * math.inf))


def monotone(node: Call, arguments: list[Box]) -> int:
    """Whether a function rises (1) or falls (-1) over a range of its last argument; 0 where neither is known."""
    *orders, x = arguments
    if x.imag is not None or any(b.imag is not None or _is_wide(Arithmetic(53), b.real) for b in orders):
        return 0
    if node.function.rising and node.function.bounds is None:  # for all real numbers
        return 1
    pieces = MONOTONE[node.name](*[float(b.real.low) for b in orders]) if node.name in MONOTONE else ()
    return next((direction for low, high, direction in pieces if low <= x.real.low and x.real.high <= high), 0)


class Evaluation(Protocol):
    """A formula made ready for bounded evaluation."""

    def at(self, point: Mapping[Name, object], precision: int) -> Box:
        """Bounds of the value at a point."""


def integral(a: Arithmetic, node: Written, point: Mapping[Name, object], enclosed: Callable[[Expression], Evaluation]) -> Box:
    """A definite integral by quadrature in two precisions; enclosed: how a formula is made ready for evaluation."""
    import mpmath

    body, variable, lower, upper = node.arguments
    assert isinstance(variable, Name)
    if any(isinstance(place, Box) and _is_wide(a, place.real) for place in point.values()):
        raise NoValue("an integral has no bounds over a range of its letters")
    enclosure = enclosed(body)
    results = []
    for extra in (10, 40):
        context = mpmath.mp.clone()
        context.prec = min(a.precision, 200) + extra

        def integrand(x: mpf, context: MPContext = context) -> mpf:
            box = enclosure.at({**point, variable: exact(_from_mpmath(x))}, context.prec + 10)
            return _to_mpmath(context, box.real.low)

        ends = []
        for end in (lower, upper):
            if isinstance(end, Bound):
                ends.append(context.inf if end.kind == "inf" else -context.inf)
            else:
                ends.append(_to_mpmath(context, enclosed(end).at(point, context.prec).real.low))
        results.append(context.quad(integrand, ends))
    return Box(_widened(a, *results))
