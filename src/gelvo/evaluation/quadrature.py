"""Numeric integrals for cross-checks: adaptive, with an error estimate, cut at the places that are named."""

from __future__ import annotations

import cmath
import itertools
import math
import warnings
from collections.abc import Callable, Iterable, Mapping
from functools import lru_cache

from gmpy2 import log2, mpq

from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import Enclosure
from gelvo.evaluation.floats import NotReal, complex_function, float_function
from gelvo.evaluation.plain_floats import plain_function
from gelvo.expression.building import number, total
from gelvo.expression.constants import IMAGINARY, INFINITE
from gelvo.expression.nodes import Bound, Call, Expression, Name, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, has_call, has_imaginary_unit, names, postorder, substitute
from gelvo.functions.named import BESSELJ, BESSELY, COS, DIRAC_DELTA, EXP, SIN, SPHERICALJ, SPHERICALY, is_a
from gelvo.numbers.exact import Gaussian, Scalar
from gelvo.numbers.interval import NoValue
from gelvo.roads import on_the_way


def _float(expression: Expression) -> float:
    return float(Enclosure(expression).at({}, 80).real.low)


@on_the_way("quadrature (QUADPACK)")
def quadrature(
    f: Expression,
    x: Name,
    lower: Expression,
    upper: Expression,
    places: Iterable[Expression] = (),
    table: Mapping[Name, Expression] | None = None,
    cuts: Iterable[float] = (),
    plain: bool = False,
) -> tuple[complex, float] | None:
    """(value, error estimate) of an integral without other names; None where no trustworthy number came out.

    places, cuts: where the integrand breaks, or may have a peak; plain: by floats without bounds, for a first look. To infinity only where the integrand was seen to die away fast enough that its tail is bounded.
    """
    if [n for n in names(f) if n is not x] or has_call(f, (DIRAC_DELTA,), x):
        return None  # no sample meets an impulse
    f = _in_waves(f, x)
    waves = (isinstance(lower, Bound) or isinstance(upper, Bound)) and any(_is_wave(n, x) for n in postorder(f))
    if waves and not all(_falls(f, x, DIES, _side(e)) for e in (lower, upper) if isinstance(e, Bound)):
        return _oscillating(f, x, lower, upper, plain)
    low, high = sorted(map(_end, (lower, upper)))
    sign = 1 if low == _end(lower) else -1
    if not all(tail_falls(f, x, end) for end in (low, high) if math.isinf(end)):
        return None
    # cut where no symmetry is, so that the two sides of a pole do not cancel by the places of the samples
    aside = 0.7357 if math.isinf(high - low) else low + 0.381966 * (high - low)
    try:
        breaks = [_float(substitute(place, table or {})) for place in places]
    except (GelvoError, NoValue):
        return None
    listed = sorted({c for c in (low, high, aside, *cuts, *breaks) if low <= c <= high})
    found = _over_pieces(f, x, listed, plain) if not waves else _or_none(lambda: _over_pieces(f, x, listed, plain))
    if found is None and waves:  # so many waves before it has died away
        return _oscillating(f, x, lower, upper, plain)
    return None if found is None else (sign * found[0], found[1])


def _or_none(taken: Callable[[], tuple[complex, float] | None]) -> tuple[complex, float] | None:
    try:
        return taken()
    except TooRough:
        return None


def _in_waves(f: Expression, x: Name) -> Expression:
    """exp(a + 1j*b) as exp(a)*(cos(b) + 1j*sin(b)), for sums a and b of real terms."""
    table: dict[Expression, Expression] = {}
    for n in postorder(f):
        if not is_a(n, EXP) or not contains(n, x):
            continue
        pairs = [_parted(t) for t in _terms(n.arguments[0])]
        turning = [(t, c.imag) for t, c in pairs if isinstance(c, Gaussian)]
        if turning and not any(has_imaginary_unit(t) for t, _ in pairs):
            angle = total([number(c) * t for t, c in turning])
            size = total([number(c.real if isinstance(c, Gaussian) else c) * t for t, c in pairs])
            table[n] = EXP(size) * (COS(angle) + IMAGINARY * SIN(angle))
    return substitute(f, table) if table else f


def _over_pieces(f: Expression, x: Name, cuts: list[float], plain: bool) -> tuple[complex, float] | None:
    """Of a real integrand, else of a complex one."""
    evaluate = _evaluator(f, x, plain)
    try:
        if evaluate is not None:
            return _adaptive(_dying(evaluate), cuts)
    except NotReal:
        pass
    turning = plain_function(f, x, True) if plain else complex_function(f, x)
    return None if turning is None else _adaptive(turning, cuts, complex_func=True)


def _terms(e: Expression) -> list[Expression]:
    return [number(e.constant), *(number(c) * t for t, c in e.items())] if isinstance(e, Sum) else [e]


def _parted(term: Expression) -> tuple[Expression, Scalar]:
    return (term / number(term.coefficient), term.coefficient) if isinstance(term, Product) else (term, mpq(1))


def _evaluator(f: Expression, x: Name, plain: bool) -> Callable[[float], float] | None:
    return plain_function(f, x) if plain else float_function(f, x)


def _end(e: Expression) -> float:
    if isinstance(e, Bound):
        return math.inf if e.kind == "inf" else -math.inf
    return _float(e)


FAR = (mpq(1003, 3) * 10, mpq(10007, 3) * 100, mpq(100003, 3) * 10**4, mpq(1000003, 3) * 10**7)
DIES = -100.0  # as a power of two, from each of the places to the next: as exponentials do
NOTHING = -130.0  # as a power of two: what is next to nothing may stay so


@lru_cache(maxsize=256)
def tail_falls(f: Expression, x: Name, end: float) -> bool:
    """Whether |f| falls faster than 1/|x| towards an infinite end, as far as four places tell: by a power, or below all of them."""
    # 1/ln(x) falls to two thirds at each hundredfold, and 1/(x*ln(x)) has no integral
    return _falls(f * x, x, math.log2(0.55), -1 if end < 0 else 1)


def _side(end: Bound) -> int:
    return -1 if end.kind == "-inf" else 1


def _falls(g: Expression, x: Name, by: float, sign: int = 1) -> bool:
    """Whether the size of a formula falls by a factor (2^by), or is next to nothing, from each of the places far out to the next."""
    enclosure, sizes = Enclosure(g), []
    for place in FAR:
        try:
            box = enclosure.at({x: sign * place}, 200)
        except (NoValue, GelvoError, OverflowError, ValueError):
            return _falls_by_floats(g, x, by, sign)
        ends = [abs(v) for part in (box.real, box.imag) if part is not None for v in (part.low, part.high)]
        sizes.append(max(float(log2(v)) if v else -math.inf for v in ends))
    if not all(s < math.inf for s in sizes):  # parts are too large for bounds so far out
        return _falls_by_floats(g, x, by, sign)
    return _each_falls(sizes, by)


NEAR = (5.0, 10.0, 20.0, 40.0)
FARTHER = (40.0, 80.0, 160.0, 320.0)  # for what begins to fall there


def _falls_by_floats(g: Expression, x: Name, by: float, sign: int) -> bool:
    """The same of functions that have no bounds, nearer by, and by a factor of four at each doubling."""
    for places in (NEAR, FARTHER):
        try:
            evaluate = float_function(g, x)
            sizes = [abs(evaluate(sign * place)) for place in places]
        except (NotReal, NoValue, GelvoError, ArithmeticError, ValueError):
            continue
        if _each_falls([math.log2(v) if v else -math.inf for v in sizes], -2.0):
            return True
    return False


def _each_falls(sizes: list[float], by: float) -> bool:
    return all(b < a + by or b < NOTHING for a, b in itertools.pairwise(sizes))


def _dying(evaluate: Callable[[float], float]) -> Callable[[float], float]:
    """Far out, where it was seen to die away, a function without bounds may be too small for a float."""

    def value(place: float) -> float:
        try:
            return evaluate(place)
        except NotReal:
            raise
        except NoValue:
            if abs(place) > NEAR[-1]:
                return 0.0
            raise

    return value


class TooRough(Exception):
    """More pieces than are allowed, by waves or peaks: bounds do not help there."""


TOLERANCES = ((1e-13, 1e-11), (1e-10, 1e-9))  # absolute and relative; the second where digits cancel beside a singular end


def _adaptive(evaluate: Callable[[float], complex], cuts: list[float], **kind: object) -> tuple[complex, float] | None:
    total, error = 0j, 0.0
    for left, right in itertools.pairwise(cuts):
        found = next((p for t in TOLERANCES if (p := _one_piece(evaluate, left, right, t, kind)) is not None), None)
        if found is None:
            return None
        total, error = total + found[0], error + abs(found[1])
    if not cmath.isfinite(total) or error > 1e-8 * max(1.0, abs(total)):
        return None
    return total, error


def _one_piece(
    evaluate: Callable[[float], complex], left: float, right: float, tolerances: tuple[float, float], kind: dict[str, object]
) -> tuple[complex, float] | None:
    from scipy.integrate import IntegrationWarning, quad

    with warnings.catch_warnings():
        warnings.simplefilter("error", IntegrationWarning)
        warnings.simplefilter("error", RuntimeWarning)
        try:
            return quad(evaluate, left, right, epsabs=tolerances[0], epsrel=tolerances[1], limit=150, **kind)
        except NotReal:
            raise
        except IntegrationWarning as told:
            if "subdivisions" in str(told):
                raise TooRough from None
            return None
        except (RuntimeWarning, NoValue, GelvoError, OverflowError, ZeroDivisionError, ValueError):
            return None


WAVES = (SIN, COS, BESSELJ, BESSELY, SPHERICALJ, SPHERICALY)


def _is_wave(node: object, x: Name) -> bool:
    return is_a(node, *WAVES) and contains(node, x)


def _oscillating(f: Expression, x: Name, lower: Expression, upper: Expression, plain: bool) -> tuple[complex, float] | None:
    """An integral with waves to infinity: the near part as it is, the far one wave by wave; None for waves that are not understood."""
    if (isinstance(lower, Bound) and lower.kind == "inf") or (isinstance(upper, Bound) and upper.kind == "-inf"):
        return None
    if isinstance(lower, Bound) and isinstance(upper, Bound):
        halves = [_to_infinity(g, x, 0.0, plain) for g in (f, substitute(f, {x: -x}))]
    elif isinstance(lower, Bound):
        halves = [_to_infinity(substitute(f, {x: -x}), x, _float(-upper), plain)]
    else:
        halves = [_to_infinity(f, x, _float(lower), plain)]
    found = [h for h in halves if h is not None]
    if len(found) < len(halves):
        return None
    return sum(v for v, _ in found), sum(e for _, e in found)


def _to_infinity(f: Expression, x: Name, start: float, plain: bool) -> tuple[complex, float] | None:
    power = _power_of_phases(f, x)
    if power is not None and start >= 0:  # with x^power as the variable the waves have steady rates
        f, start = substitute(f, {x: x ** number(1 / power)}) * x ** number(1 / power - 1) / number(power), start ** float(power)
    near = quadrature(
        f, x, number(mpq(start)), number(mpq(start) + 1), plain=plain
    )  # where parts may be large that tame each other
    terms = _single_waves(f, x)
    if near is None or terms is None:
        return None
    total, error = near
    for term in terms:
        found = _term_to_infinity(term, x, start + 1.0, plain)
        if found is None:
            return None
        total, error = total + found[0], error + found[1]
    return (total, max(error, 1e-9)) if cmath.isfinite(total) and error < 1e-6 * max(1.0, abs(total)) else None


def _power_of_phases(f: Expression, x: Name) -> mpq | None:
    """p where all waves have an angle c*x^p, with p > 0 and not 1."""
    found = set()
    for wave in (n for n in postorder(f) if _is_wave(n, x)):
        assert isinstance(wave, Call)
        angle = [g for g in factors_in(wave.arguments[-1]) if contains(g, x)]
        if len(angle) != 1:
            return None
        base, k = base_and_exponent(angle[0])
        if base is not x or not (k.is_rational and k.rational > 0):
            return None
        found.add(k.rational)
    return found.pop() if len(found) == 1 and 1 not in found else None


def _term_to_infinity(term: Expression, x: Name, start: float, plain: bool) -> tuple[complex, float] | None:
    if isinstance(term, Product) and isinstance(term.coefficient, Gaussian):
        c = number(term.coefficient)
        found = _term_to_infinity(term / c, x, start, plain)
        size = complex(float(term.coefficient.real), float(term.coefficient.imag))
        return None if found is None else (size * found[0], abs(size) * found[1])
    waves = [g for g in factors_in(term) if _is_wave(g, x)]
    if not waves and any(_is_wave(n, x) for n in postorder(term)):
        return None
    if not waves:
        return quadrature(term, x, number(mpq(start)), INFINITE, plain=plain)
    wave = waves[0]
    assert isinstance(wave, Call)
    rest, rate = term / wave, wave.arguments[-1] / x
    if len(waves) > 1 or contains(rate, x) or any(_is_wave(n, x) for n in postorder(rest)):
        return None
    return (
        _fourier(rest, x, waves[0], _float(rate), start, plain)
        if is_a(waves[0], SIN, COS)
        else _by_half_waves(term, x, _float(rate), start, plain)
    )


def _fourier(rest: Expression, x: Name, wave: Call, rate: float, start: float, plain: bool) -> tuple[complex, float] | None:
    """QUADPACK's Fourier integrals."""
    from scipy.integrate import IntegrationWarning, quad

    evaluate = _evaluator(rest, x, plain)
    if evaluate is None or not _falls(rest, x, math.log2(0.8)):  # an amplitude that does not vanish
        return None
    with warnings.catch_warnings():
        warnings.simplefilter("error", IntegrationWarning)
        try:
            value, estimate = quad(evaluate, start, math.inf, weight=wave.name, wvar=rate, limlst=200)
        except (IntegrationWarning, NoValue, GelvoError, ArithmeticError, ValueError):
            return None
    return complex(value), float(estimate)


HALF_WAVES = 25  # an odd number: the last column of the table is one of limits


def _by_half_waves(f: Expression, x: Name, rate: float, start: float, plain: bool) -> tuple[complex, float] | None:
    """Pieces of half a wave, whose alternating sums are carried to their limit (P. Wynn's epsilon algorithm, 1956)."""
    from mpmath import shanks

    evaluate, step = _evaluator(f, x, plain), math.pi / abs(rate)
    if evaluate is None or not 1e-3 < step < 1e3:
        return None
    pieces: list[float] = []
    for k in range(HALF_WAVES):
        piece = _adaptive(evaluate, [start + k * step, start + (k + 1) * step])
        if piece is None:
            return None
        pieces.append(piece[0].real)
    if not max(map(abs, pieces[-2:])) < 0.7 * max(map(abs, pieces[:2])):
        return None  # an amplitude that does not vanish has a limit in the mean at most
    sums = list(itertools.accumulate(pieces))
    best, before = (float(shanks(sums[:n])[-1][-1]) for n in (HALF_WAVES, HALF_WAVES - 2))
    return complex(best), 10 * abs(best - before) + 1e-11


MOST_WAVES = 64


def _single_waves(f: Expression, x: Name) -> list[Expression] | None:
    """The terms of a product of waves with one sine or cosine each; None where there are too many."""
    terms = _distributed(f, x)
    for _ in range(MOST_WAVES):
        chosen = next((pair for t in terms if (pair := _two_waves(t, x)) is not None), None)
        if chosen is None:
            return terms
        term, one, other = chosen
        a, b = one.arguments[0], other.arguments[0]
        outer = term / (one * other) / 2
        if is_a(one, SIN) and is_a(other, SIN):
            made = [outer * COS(a - b), -outer * COS(a + b)]
        elif is_a(one, COS) and is_a(other, COS):
            made = [outer * COS(a - b), outer * COS(a + b)]
        else:
            a, b = (a, b) if is_a(one, SIN) else (b, a)
            made = [outer * SIN(a + b), outer * SIN(a - b)]
        terms = [*(t for t in terms if t is not term), *made]
    return None


def _distributed(f: Expression, x: Name) -> list[Expression]:
    """The terms of a sum, or of a product with one sum of waves in it."""
    if isinstance(f, Sum):
        return _terms(f)
    sums = [g for g in factors_in(f) if isinstance(g, Sum) and any(_is_wave(n, x) for n in postorder(g))]
    return [t * (f / sums[0]) for t in _distributed(sums[0], x)] if len(sums) == 1 else [f]


def _two_waves(term: Expression, x: Name) -> tuple[Expression, Call, Call] | None:
    waves: list[Call] = []
    for g in factors_in(term):
        base, k = base_and_exponent(g)
        if isinstance(base, Call) and is_a(base, SIN, COS) and contains(base, x) and k.is_whole and k.rational > 0:
            waves.extend([base] * min(int(k.rational), 2))
    return (term, waves[0], waves[1]) if len(waves) > 1 else None
