"""A stated integral held against quadratures at sample values of its other names."""

from __future__ import annotations

import itertools
from contextlib import suppress
from typing import NamedTuple

from gelvo.deciding.equality import inside, relations_in, relevant_relations
from gelvo.errors import GelvoError
from gelvo.evaluation.quadrature import TooRough, quadrature
from gelvo.evaluation.sampling import Point, degenerate, of_all_signs, points
from gelvo.evaluation.value import value as value_of
from gelvo.expression.building import number
from gelvo.expression.nodes import Bound, Expression, Name, Number, Power, Sum
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms.univariate import coefficients_of


class Agreement(NamedTuple):
    """At how many sample values both agree to 8 digits, and the first disagreement as text (empty where there is none)."""

    points: int
    counterexample: str = ""


def quadrature_agreement(
    f: Expression, x: Name, lower: Expression, upper: Expression, value: Expression, facts: Facts,
    places: tuple[Expression, ...], wanted: int, candidates: int,
) -> Agreement:  # fmt: skip
    """Compares the value with quadratures until `wanted` of at most `candidates` sample values agree, or one does not."""
    ends = [e for e in (lower, upper) if not isinstance(e, Bound)]
    involved = [n for n in names(f, value, *ends) if n is not x]
    about = [r for r in relations_in(facts.given) if x not in names(r)]
    relations, involved = relevant_relations(about, involved)
    agreed = missed = 0

    def disagreement(point: Point) -> str | None:
        return _disagreement(f, x, (lower, upper), value, places, point)

    allowed = (p for p in points(involved, facts.known, candidates if involved else 1) if inside(relations, p))
    for point in of_all_signs(allowed, candidates):
        try:
            found = disagreement(point)
        except NO_VALUE:
            continue
        if found:
            return Agreement(agreed, found)
        agreed, missed = agreed + (found == ""), missed + (found is None)
        if agreed == wanted or (missed == MOST_MISSED and not agreed):
            break  # a pole, or a tail that falls too slowly, stays for all letters
    if agreed:
        for point in itertools.islice((p for p in degenerate(involved, facts.known) if inside(relations, p)), MOST_DEGENERATES):
            with suppress(*NO_VALUE):
                if found := disagreement(point):
                    return Agreement(agreed, found)
    return Agreement(agreed)


def _disagreement(
    f: Expression, x: Name, ends: tuple[Expression, Expression], value: Expression, places: tuple[Expression, ...], point: Point
) -> str | None:
    """At sample values: empty where both agree; None where no trustworthy quadrature came out."""
    table: dict[Name, Expression] = {n: number(v) for n, v in point.items()}
    cut = [substitute(e, table) for e in ends]
    exact, inside_f = complex(value_of(substitute(value, table), 15)), substitute(f, table)
    around = peaks(inside_f, x, *cut)
    # what floats do not agree to is for bounded evaluation, and what is next to an end for finer cuts
    for plain, cuts in ((True, around), (False, around), (False, [*around, *_beside_ends(*cut)])):
        try:
            numeric = quadrature(inside_f, x, cut[0], cut[1], places, table, cuts, plain)
        except TooRough:
            return None
        if numeric is not None and abs(exact - numeric[0]) <= 1e-8 * max(1.0, abs(exact)) + 10 * numeric[1]:
            return ""
    if numeric is None:
        return None
    shown = ", ".join(f"{n} = {v}" for n, v in point.items())
    return f"quadrature gives {_shown(numeric[0])}, not {_shown(exact)}" + (f" at {shown}" if shown else "")


def _beside_ends(lower: Expression, upper: Expression) -> list[float]:
    """Cuts that close in on the finite ends."""
    ends = [complex(value_of(e, 15)).real for e in (lower, upper) if not isinstance(e, Bound)]
    length = abs(ends[1] - ends[0]) if len(ends) == 2 else 1.0
    return [e + s * length * 10.0**-k for e in ends for s in (1, -1) for k in range(1, 7)]


NO_VALUE = (GelvoError, ArithmeticError, ValueError, OverflowError)
MOST_DEGENERATES = 3


def _shown(value: complex) -> str:
    return f"{value.real:.12g}" if abs(value.imag) < 1e-13 * abs(value) else f"{value.real:.12g} {value.imag:+.12g}j"


MOST_MISSED = 4
LONG = 40.0
SPREAD = (0.0, 1e-3, 0.03, 0.5, 3.0, 20.0, 150.0)


def peaks(f: Expression, x: Name, lower: Expression, upper: Expression) -> list[float]:
    """Where a long interval is cut so that no peak is missed: around the zeros of the polynomials in the formula, and of their slopes."""
    import numpy

    infinite = isinstance(lower, Bound) or isinstance(upper, Bound)
    if not infinite and abs(complex(value_of(upper - lower, 15))) < LONG:
        return []
    found: set[float] = set()
    for node in postorder(f):
        inner = node.base if isinstance(node, Power) else node
        if not isinstance(inner, Sum) or not contains(inner, x):
            continue
        parts = coefficients_of(inner, x)
        if parts is None or not 2 <= len(parts) <= 9 or not all(isinstance(c, Number) and c.is_rational for c in parts):
            continue
        numbers = numpy.array([float(c.rational) for c in parts[::-1]])
        for p in (numbers, numpy.polyder(numbers)):
            found |= {round(float(r.real), 12) for r in numpy.roots(p)} if len(p) > 1 else set()
    return [p + s * d for p in sorted(found)[:12] for d in SPREAD for s in (1, -1)]
