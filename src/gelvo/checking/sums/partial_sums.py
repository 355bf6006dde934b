"""Infinite sums held against their partial sums: evidence, no proof."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from typing import TYPE_CHECKING, SupportsInt

from gmpy2 import log2, mpfr, mpq

from gelvo.checking.certificate import REFUTED, SUPPORTED, UNDECIDED, Certificate
from gelvo.checking.samples import samples
from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import Enclosure
from gelvo.evaluation.value import value as value_of
from gelvo.expression.building import number
from gelvo.expression.nodes import Expression, Name, Number
from gelvo.expression.traversal import substitute
from gelvo.facts.store import Facts
from gelvo.numbers.interval import NoValue
from gelvo.roads import on_the_way

if TYPE_CHECKING:
    from mpmath import mpf


METHOD = "partial sums at sample values (by mpmath extrapolated, where the terms fall like a power)"
PLACES = (40, 160, 640, 2560)
FAR = tuple(mpq(10) ** k for k in (2500, 5000, 10_000))


def by_partial_sums(term: Expression, k: Name, lower: Expression, value: Expression, facts: Facts, claim: str) -> Certificate:
    """Partial sums at a sample of the other names, where the terms were seen to fall fast enough."""
    agreed = 0
    for sample in samples([term, lower, value], k, facts, 4, degenerates=True):
        table = {n: number(v) for n, v in sample.items()}
        inner, first = substitute(term, table), substitute(lower, table)
        if not (isinstance(first, Number) and first.is_whole):
            continue
        shown = ", ".join(f"{n} = {v}" for n, v in sample.items())
        how = how_terms_fall(near_terms(inner, k))
        if how == "stay":
            return Certificate(claim, REFUTED, "the terms do not vanish", {"counterexample": shown or "no other names"})
        if how == "not known":
            return Certificate(claim, UNDECIDED, METHOD, {"terms": f"were not seen to fall fast enough  {shown}"})
        numeric = _sum_to(inner, k, int(first.rational), how == "geometric")
        try:
            exact = complex(value_of(substitute(value, table), 15))
        except (NoValue, GelvoError, ArithmeticError, ValueError, TypeError):
            continue
        if numeric is None:
            continue
        if abs(numeric - exact) > 1e-10 * max(1.0, abs(exact)):
            evidence = {"disagreement": f"{numeric:.10g}, not {exact:.10g}  {shown}"}  # an extrapolation is no proof against it
            return Certificate(claim, REFUTED if how == "geometric" else UNDECIDED, METHOD, evidence)
        agreed += 1
    if agreed:
        return Certificate(claim, SUPPORTED, METHOD, {"agreement": f"to 10 digits at {agreed} sample points"})
    return Certificate(claim, UNDECIDED, METHOD)


def terms_at(term: Expression, k: Name, places: Sequence[mpq | int]) -> list[tuple[mpfr, mpfr]] | None:
    """Real and imaginary parts of terms; None where one has no value, or bounds too wide."""
    enclosure, found = Enclosure(term), []
    for place in places:
        try:
            box = enclosure.at({k: mpq(place)}, 200)
        except (NoValue, GelvoError, OverflowError, ValueError):
            return None
        parts = [(p.low, p.high) if p is not None else (mpfr(0), mpfr(0)) for p in (box.real, box.imag)]
        noise = max(abs(high - low) for low, high in parts)
        if noise and not noise < max(abs(low) for low, _ in parts) / 2**60:
            return None
        found.append(tuple(low if abs(low) > noise else mpfr(0) for low, _ in parts))
    return found


def near_terms(term: Expression, k: Name) -> list[tuple[mpfr, mpfr]] | None:
    """Two neighbours at each of the places."""
    return terms_at(term, k, [p + j for p in PLACES for j in (0, 1)])


def how_terms_fall(pairs: list[tuple[mpfr, mpfr]] | None) -> str:
    """ "geometric", "power" (below 1/k^1.05, or with alternating signs), "stay" or "not known", as terms at the places tell."""
    if pairs is None:
        return "not known"
    sizes = [max(size_of(*pairs[i]), size_of(*pairs[i + 1])) for i in range(0, len(pairs), 2)]
    steps = [b - a for a, b in itertools.pairwise(sizes)]
    if all(math.isinf(s) or s < -100 for s in sizes[2:]) and all(t < -20 or math.isnan(t) for t in steps[1:]):
        return "geometric"
    if all(t > -0.02 for t in steps) and sizes[-1] > -10:
        return "stay"
    alternating = all(pairs[i][0] * pairs[i + 1][0] < 0 and not pairs[i][1] for i in range(0, len(pairs), 2))
    if all(t < -2.1 for t in steps) or (alternating and all(t < -0.3 for t in steps)):  # each place is four times as far
        return "power"
    return "not known"


def size_of(real: mpfr, imag: mpfr) -> float:
    size = max(abs(real), abs(imag))
    return float(log2(size)) if size else -math.inf


@on_the_way("partial sums (mpmath)")
def _sum_to(term: Expression, k: Name, first: int, geometric: bool) -> complex | None:
    import mpmath

    context = mpmath.mp.clone()
    context.dps = 20
    enclosure = Enclosure(term)

    def one(index: SupportsInt) -> mpf:
        box = enclosure.at({k: mpq(int(index))}, context.prec + 20)
        real = context.mpf(str(box.real.low))
        return real if box.imag is None else context.mpc(real, str(box.imag.low))

    try:
        if geometric:
            return complex(context.fsum(one(j) for j in range(first, max(first, 0) + PLACES[2])))
        return complex(context.nsum(one, [first, context.inf]))
    except (NoValue, GelvoError, ArithmeticError, ValueError, TypeError):
        return None
