"""A limit held against bounded values of the formula nearer and nearer to the point: support, never a proof."""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence

from gmpy2 import const_pi, context, get_context, mpfr, mpq

from gelvo.checking.certificate import REFUTED, SUPPORTED, UNDECIDED, Certificate
from gelvo.checking.samples import samples
from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import Enclosure, enclose
from gelvo.expression.building import number
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, UNDEFINED
from gelvo.expression.nodes import Bound, Call, Expression, Name
from gelvo.expression.traversal import contains, fresh_name, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.functions.named import (
    ABS,
    ACOSH,
    ACOT,
    ASINH,
    ATAN,
    BESSELI,
    BESSELK,
    CBRT,
    COSH,
    COTH,
    CSCH,
    EI,
    ERF,
    ERFC,
    ERFI,
    EXP,
    LAMBERTW,
    LI,
    LN,
    SECH,
    SIGN,
    SINH,
    SINHC,
    TANH,
)
from gelvo.numbers.box import Box
from gelvo.numbers.interval import NoValue
from gelvo.simplifying.families.waves import CIRCULAR

# places that no wave or step is made for: 1/h is neither whole nor a fraction that is seen often, and its whole part odd and even
STEPS = tuple(mpq(1) / (n + mpq(5, 17)) for n in (10**6 + 3, 10**9 + 8, 10**13 + 7, 10**18 + 4, 10**24 + 9))
NEAR_STEPS = tuple(mpq(1) / (n + mpq(5, 17)) for n in (8, 19, 37, 72))  # for formulas that vary faster than bounds can follow
PRECISION = 900


def agreement_nearby(
    f: Expression, x: Name, point: Expression, sides: tuple[str, ...], value: Expression, facts: Facts, claim: str
) -> Certificate:
    """Distances from the value that shrink (or values that grow) as the point is approached, at a sample of the other names.

    Supports only where every side asked for was seen to agree; one side, or one sample, that does not is enough against it.
    """
    method = "bounded values of the formula closer and closer to the point"
    shown: list[str] = []
    agreed: set[str] = set()
    restless = any(isinstance(n, Call) and n.name not in QUIET and contains(n, x) for n in postorder(f))
    for sample in samples([f, point, value], x, facts, 4, degenerates=True):
        table = {n: number(v) for n, v in sample.items()}
        if value is UNDEFINED:
            return _does_not_settle(substitute(f, table), x, substitute(point, table), claim)
        for side in sides:
            distances, agrees = _seen(f, x, point, side, value, table, restless)
            if not distances:
                continue
            listed = ", ".join(f"{d:.3g}" for d in distances)
            if agrees is False:
                return Certificate(claim, REFUTED, method, {"values": listed})
            if agrees is None:
                return Certificate(claim, UNDECIDED, method, {"values": listed})
            agreed.add(side)
            shown.append(f"{side}: {listed}")
    if agreed == set(sides):
        word = "values" if isinstance(value, Bound) else "distances from the limit, nearer and nearer"
        return Certificate(claim, SUPPORTED, method, {word: "; ".join(shown[:4])})
    return Certificate(claim, UNDECIDED, "neither orders of growth nor values could decide")


def _does_not_settle(f: Expression, x: Name, point: Expression, claim: str) -> Certificate:
    """Values at two scales that keep differing from each other."""
    method = "values closer and closer to the point keep differing"
    u = fresh_name("u", f, point, x)
    far = isinstance(point, Bound)
    sign = -1 if point is MINUS_INFINITE else 1
    step = mpq(1) if x.domain in ("integer", "natural") else mpq(7, 10)
    enclosure = Enclosure(substitute(f, {x: sign * u if far else point + 1 / u}))
    spreads = []
    try:
        for start in (1000, 100_000):
            boxes = [enclosure.at({u: mpq(start) + k * step}, 200).real for k in range(12)]
            if not all(b.finite and b.high - b.low < mpfr(1) / 2**20 * max(mpfr(1), abs(b.low)) for b in boxes):
                return Certificate(claim, UNDECIDED, method)
            values = [float(b.low) for b in boxes]
            spreads.append(max(values) - min(values))
    except (NoValue, GelvoError, OverflowError, ValueError):
        return Certificate(claim, UNDECIDED, method)
    if min(spreads) > 1e-3 and spreads[1] > spreads[0] / 2:
        return Certificate(claim, SUPPORTED, method, {"spread of values at two scales": ", ".join(f"{s:.3g}" for s in spreads)})
    return Certificate(claim, UNDECIDED, method)


def _seen(
    f: Expression, x: Name, point: Expression, side: str, value: Expression, table: Mapping[Name, Expression], restless: bool
) -> tuple[list[mpfr], bool | None]:
    """The distances on one side, and whether they tend to the value; of restless formulas the worst of several places."""
    with context(get_context(), precision=PRECISION):
        distances = _distances(f, x, point, side, value, table)
        agrees = _tends(distances, value) if distances else None
        if agrees and restless:
            distances = _distances(f, x, point, side, value, table, several=True)
            agrees = True if distances and _tends(distances, value) and _falls_fast(distances, value) else None
    return distances, agrees


def _distances(
    f: Expression, x: Name, point: Expression, side: str, value: Expression, table: Mapping[Name, Expression],
    several: bool = False,
) -> list[mpfr]:  # fmt: skip
    """How far the formula is from a finite limit, step by step; its values where the limit is none; [] where bounds are too wide.

    several: whether the worst of a few places at each step counts, for waves and steps come near to anything somewhere.
    """
    u = fresh_name("u", f, point, x)
    far = isinstance(point, Bound)
    whole = far and x.domain in ("integer", "natural")
    sign = -1 if point is MINUS_INFINITE or side == "below" else 1
    moved = substitute(f, {**table, x: sign / u if far else substitute(point, table) + sign * u})
    enclosure, lines = Enclosure(moved), _lines(moved, u) if several else []
    for steps in (STEPS, NEAR_STEPS):
        found = []
        try:
            at = None if isinstance(value, Bound) else enclose(substitute(value, table), {}, PRECISION)
            for h in steps:
                listed = _beside(1 / h, lines, wide=steps is STEPS) if several else [1 / h]
                boxes = [enclosure.at({u: mpq(1, round(p)) if whole else 1 / p}, PRECISION) for p in listed]
                sizes = [d for box in boxes if (d := _distance(box, at)) is not None]
                if len(sizes) < len(boxes):
                    break
                found.append(min(sizes) if value is INFINITE else max(sizes))
        except (NoValue, GelvoError, OverflowError, ValueError):
            pass
        if len(found) == len(steps):
            # at the near places only what comes nearer by far tells more than chance
            slow = steps is NEAR_STEPS and (
                found[-1] * 100 > found[0] if at is not None else abs(found[-1]) < 100 * abs(found[0])
            )
            return [] if slow else found
    return []


# what has no waves and no steps of its own: far out such functions rise, fall or settle
QUIET = (
    EXP, LN, SINH, SINHC, COSH, TANH, COTH, SECH, CSCH, ATAN, ACOT, ASINH, ACOSH, ERF, ERFC, ERFI, LAMBERTW,
    EI, LI, BESSELI, BESSELK, CBRT, ABS, SIGN,
)  # fmt: skip
MOST_WAVES = 2


Line = tuple[mpq, mpq]


def _lines(moved: Expression, u: Name) -> list[Line]:
    """(slope, shift) of the phases of waves that are a line far out, at 1/u."""
    phases = [n.arguments[0] for n in postorder(moved) if isinstance(n, Call) and n.name in CIRCULAR and contains(n, u)]
    return [line for phase in phases[:MOST_WAVES] if (line := _line(phase, u)) is not None]


def _beside(place: mpq, lines: Sequence[Line], wide: bool) -> list[mpq]:
    """Places about one far out: the crests and zeros of waves, or a few within a usual wave; wide: also at several times the distance."""
    quarter = mpq(const_pi(PRECISION)) / 2
    found = [place, *(place + mpq(k, 10) for k in ((16, 33, 47) if not lines else ()))]
    for slope, shift in lines:
        first = -((-(slope * place + shift)) // quarter)
        found += [((first + k) * quarter - shift) / slope for k in range(4)]
    return [*found, 3 * place, 7 * place, 17 * place] if wide else found


def _falls_fast(found: Sequence[mpfr], value: Expression) -> bool:
    """Distances that fall by far between the first and the last step: waves that are slow may fall a little by chance."""
    return isinstance(value, Bound) or 100 * found[-1] < found[0]


def _line(phase: Expression, u: Name) -> Line | None:
    """(slope, shift) of a phase slope/u + shift, by two values; None for what is no such line, or not for a slope that is seen."""
    far = mpq(10) ** 200
    try:
        one, two = (mpq(enclose(phase, {u: 1 / (k * far)}, 2 * PRECISION).real.low) for k in (1, 2))
    except (NoValue, GelvoError, OverflowError, ValueError):
        return None
    slope = (two - one) / far
    return (abs(slope), 2 * one - two if slope > 0 else two - 2 * one) if mpq(1, 10**9) < abs(slope) < 10**9 else None


def _distance(box: Box, end: Box | None) -> mpfr | None:
    """How far a value is from the end, or the value itself; None where its bounds are too wide, or it turns in the complex plane."""
    real, beside = box.real, mpfr(0) if box.imag is None else box.imag.low
    if real.high - real.low > max(mpfr(1), abs(real.low)) / 10**12:
        return None
    if end is None:
        return real.low if abs(beside) <= abs(real.low) / 8 else None
    return abs(real.low - end.real.low) + abs(beside - (mpfr(0) if end.imag is None else end.imag.low))


NOISE = mpfr(2) ** (100 - PRECISION)


def _tends(found: list[mpfr], value: Expression) -> bool | None:
    """True where distances shrink, or values leave every bound; False where they settle elsewhere or move away; None in between."""
    steps = [b - a for a, b in itertools.pairwise(found)]
    settles = all(abs(t) <= abs(s) / 500 for s, t in itertools.pairwise(steps))
    if isinstance(value, Bound):
        grown = found if value is INFINITE else [-v for v in found]
        rises = all(b > a for a, b in itertools.pairwise(grown))
        if rises and grown[-1] > 1 and not settles and 5 * grown[-1] > 6 * grown[0]:
            return True
        return False if settles or (grown[-1] < 0 and all(b < a for a, b in itertools.pairwise(grown))) else None
    last = found[-1]
    if last < NOISE:
        return True
    if last < found[0] / 2 and last <= 2 * min(found) and 20 * last < 17 * found[-2]:
        return True
    if all(b > 2 * a for a, b in itertools.pairwise(found)) and last > 1:
        return False  # it moves away
    return False if settles and last > max(found) / 10**6 else None
