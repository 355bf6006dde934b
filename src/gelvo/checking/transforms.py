"""Transforms held against quadratures of their defining integrals."""

from __future__ import annotations

import cmath
import math
from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction
from typing import TYPE_CHECKING

from gmpy2 import mpq

from gelvo.calculus.transforms.pattern import by_root, growth_rates
from gelvo.calculus.transforms.unknown import for_an_exponential, image_name, unknowns_of
from gelvo.calculus.transforms.windows import by_steps
from gelvo.checking.certificate import PROVED, SUPPORTED, UNDECIDED, Certificate, weakest
from gelvo.checking.integrals import check_definite
from gelvo.checking.pieces import places_of_steps
from gelvo.checking.samples import samples
from gelvo.checking.spectra import check_on_both_sides
from gelvo.deciding.equality import decide_zero
from gelvo.errors import GelvoError
from gelvo.evaluation.agreement import DOUBLE_BITS, own_context
from gelvo.evaluation.floats import float_function
from gelvo.evaluation.value import value as value_of
from gelvo.expression.building import bound, number, relation
from gelvo.expression.nodes import Applied, Expression, Name
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.periods import in_one_period
from gelvo.facts.statements import DomainFact
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.impulses import Impulse, has_impulse, separated
from gelvo.functions.named import EXP

if TYPE_CHECKING:
    from mpmath import mpc, mpf

FREQUENCIES = (0.3, 1.1, 2.7)
METHOD = "quadrature of the defining integral at sample values"


def check_laplace(f: Expression, t: Name, s: Name, transform: Expression, facts: Facts) -> Certificate:
    """The transform at some s against the integral from 0 to infinity; impulses are sifted."""
    claim = f"the Laplace transform of {f} is {transform}"
    if unknowns_of(f, t):
        return _of_unknowns(f, t, s, transform, facts, claim)
    proof = _by_definition(f, t, s, transform, facts, claim)
    if proof is not None:
        return proof
    rays = [(place, complex(-place, 0)) for place in (1.5, 2.5, 6.0)]
    return _held(claim, (f, t), (transform, s), facts, rays, (0.0, math.inf), 6)


def _by_definition(f: Expression, t: Name, s: Name, transform: Expression, facts: Facts, claim: str) -> Certificate | None:
    """The defining integral worked out for s beyond the growth of f; a transform belongs to one function only (Lerch 1903)."""
    rates, parts = growth_rates(f, t), separated(f, t) if has_impulse(f, t) else (f, ())
    if rates is None or parts is None:
        return None
    try:
        far = facts.with_facts([relation("<", rate, s) for rate in rates if facts.is_real(rate)])
        rest = transform
        for impulse in parts[1]:
            if not (far.is_nonnegative(impulse.place) or far.is_negative(impulse.place)):
                return None
            if not far.is_negative(impulse.place):  # one at 0 counts whole
                rest = rest - impulse.weight * EXP(-s * impulse.place)
        certificate = _over_periods(parts[0], t, s, rest, far, claim)
        if certificate is None:
            integrand, variable = by_root(parts[0] * EXP(-s * t), t, far) or (parts[0] * EXP(-s * t), t)
            certificate = check_definite(integrand, variable, number(0), bound("inf"), rest, far, claim)
    except (GelvoError, ArithmeticError):
        return None
    if certificate.verdict != PROVED:
        return None
    return replace(certificate, method="the defining integral, for s beyond " + ", ".join(map(str, rates)))


def _of_unknowns(f: Expression, t: Name, s: Name, transform: Expression, facts: Facts, claim: str) -> Certificate:
    """Both sides are sums of images, of slopes of these and of values at the start, each times a coefficient (by parts); that they agree
    for every exponential exp(c*t) tells all the coefficients."""
    method = "both sides for every exponential, which tells the coefficients of a linear rule"
    c = facts.new_name("c", f, transform, domain="positive")
    by_name = {u.name for u in unknowns_of(f, t)}
    if len(by_name) != 1:  # each unknown function by itself: the rule is linear
        zeros = [{n: number(0) for n in postorder(f) if isinstance(n, Applied) and n.name != y} for y in sorted(by_name)]
        images = [
            {n: number(0) for n in postorder(transform) if isinstance(n, Applied) and n.name not in (y, image_name(y))}
            for y in sorted(by_name)
        ]
        parts = tuple(
            check_laplace(substitute(f, a), t, s, substitute(transform, b), facts) for a, b in zip(zeros, images, strict=True)
        )
        return Certificate(claim, weakest(parts), "each unknown function by itself", parts=parts)
    inner = for_an_exponential(f, t, s, c)
    rates = [r for r in growth_rates(f, t) or () if facts.is_real(r)]
    far = facts.with_facts([relation("<", r, s) for r in (*rates, c, *(r + c for r in rates))])
    told = check_definite(inner * EXP(-s * t), t, number(0), bound("inf"), for_an_exponential(transform, t, s, c), far, claim)
    verdict = PROVED if told.verdict == PROVED else UNDECIDED
    return Certificate(claim, verdict, method, {"for functions that": "grow no faster than an exponential"}, parts=(told,))


def _over_periods(f: Expression, t: Name, s: Name, transform: Expression, facts: Facts, claim: str) -> Certificate | None:
    """What is the same again after a length L, but for a sign and a constant: f(t + L) = r*f(t) + d has the transform F with
    F = (the integral over the first L) + exp(-s*L)*(r*F + d/s)."""
    told = in_one_period(f, t, facts)
    if told is None:
        return None
    length, inside, u, n = told
    whole = facts.with_facts([DomainFact(n, "natural")])
    after = substitute(inside, {n: n + 1})
    for r in (number(1), number(-1)):
        d = expand(substitute(after - r * inside, {n: number(0)}))
        if contains(d, u) or not decide_zero(after - r * inside - d, whole).zero:
            continue
        first = transform * (1 - r * EXP(-s * length)) - EXP(-s * length) * d / s
        start = substitute(inside, {n: number(0)})
        return check_definite(start * EXP(-s * u), u, number(0), length, first, facts, claim)
    return None


def check_fourier(
    f: Expression, t: Name, w: Name, transform: Expression, facts: Facts, kernel: tuple[Expression, Expression], word: str
) -> Certificate:
    """The transform at some frequencies against the integral of outer*f*exp(1j*rate*w*t) over the line, kernel = (outer, rate)."""
    outer, rate = complex(value_of(kernel[0], 15)), complex(value_of(kernel[1], 15)).real
    claim = f"the Fourier transform ({word}) of {f} is {transform}"
    proof = check_on_both_sides(by_steps(f, t, facts), t, w, transform, facts, kernel, claim)
    if proof is not None:
        return proof
    rays = [(place, complex(0, rate * place)) for place in FREQUENCIES]
    return _held(claim, (f, t), (transform, w), facts, rays, (-math.inf, math.inf), 5, outer)


def _held(
    claim: str,
    original: tuple[Expression, Name],
    image: tuple[Expression, Name],
    facts: Facts,
    rays: Sequence[tuple[float, complex]],
    ends: tuple[float, float],
    digits: int,
    outer: complex = 1.0,
) -> Certificate:
    """Both sides at sample letters and at each (place, rate of the kernel), to so many digits; one disagreement decides."""
    (f, t), (transform, target) = original, image
    agreed = 0
    for sample in samples([f, transform], t, facts, 2, target):
        table = {n: number(v) for n, v in sample.items()}
        before, after = separated(substitute(f, table), t), substitute(transform, table)
        if before is None or has_impulse(after, target):
            continue
        for place, rate in rays:
            found = _compare(before, t, after, target, place, ends, rate, outer)
            if found is None:
                continue
            if found > float(f"1e-{digits}"):
                return Certificate(claim, UNDECIDED, METHOD, {"disagreement": f"{found:.2g} at {target} = {place}"})
            agreed += 1
    if agreed:
        return Certificate(claim, SUPPORTED, METHOD, {"agreement": f"to {digits} digits at {agreed} points"})
    return Certificate(claim, UNDECIDED, METHOD)


def _compare(
    f: tuple[Expression, tuple[Impulse, ...]], t: Name, transform: Expression, target: Name, place: float, ends: tuple[float, float], rate: complex,
    outer: complex = 1.0,
) -> float | None:  # fmt: skip
    """How far the transform is from the integral of f*exp(rate*t), relative to its size; None where that cannot be told.

    f: what it is without impulses, and these.
    """
    smooth, impulses = f
    context = own_context()
    try:
        sifted = _weight(impulses, ends, rate)
        claimed = complex(value_of(substitute(transform, {target: number_of(place)}), 15))
    except (GelvoError, ArithmeticError, ValueError):
        return None
    at = float_function(smooth, t)
    cut = 60.0
    points = [p for p in (-cut, -20.0, -8.0, -3.0, -1.0, 0.0, 1.0, 3.0, 8.0, 20.0, cut) if ends[0] <= p <= ends[1]]

    def integrand(x: mpf) -> mpc:
        value = at(float(x))
        return context.mpc(value) * context.exp(context.mpc(rate) * x)

    try:
        points = sorted({*points, *map(float, places_of_steps(smooth, t))})
        with context.workprec(DOUBLE_BITS):  # whatever precision the caller has set
            found, error = context.quad(integrand, points, error=True, maxdegree=8)
            tail = max(abs(complex(integrand(context.mpf(p)))) for p in (points[0], points[-1]) if p)
    except (GelvoError, ArithmeticError, ValueError, TypeError):
        return None
    if tail > 1e-9 or error > 1e-6:
        return None  # it does not die away fast enough for a plain quadrature
    return abs(outer * (complex(found) + sifted) - claimed) / max(1e-3, abs(claimed))


def _weight(impulses: Sequence[Impulse], ends: tuple[float, float], rate: complex) -> complex:
    """The integral of impulses times exp(rate*t): one at a finite end counts whole (from 0-)."""
    found = 0j
    for impulse in impulses:
        at = complex(value_of(impulse.place, 15)).real
        if ends[0] <= at <= ends[1]:
            found += complex(value_of(impulse.weight, 15)) * cmath.exp(rate * at)
    return found


def number_of(x: float) -> Expression:
    return number(mpq(Fraction(str(x))))
