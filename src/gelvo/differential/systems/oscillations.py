"""Coupled oscillators, M*q'' + K*q = 0: a motion is a sum of normal modes, each with its frequency, its shape and two constants.

Source: J. W. Strutt (Rayleigh), "The Theory of Sound" (1877), chapter 4.
"""

from __future__ import annotations

from functools import cache
from typing import NamedTuple

from gelvo.differential.constant_coefficients import linear_terms
from gelvo.differential.problem import Outcome, Problem, Solved, Values, imposed, is_initial, order_of, value_at
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import multiply_all, sqrt, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import AlgebraicNumber, Condition, Expression
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import has_imaginary_unit, names, postorder
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import apart_from_zero
from gelvo.forms.fractions import factored
from gelvo.forms.univariate import lowest_terms
from gelvo.functions.named import COS, COSH, SIN, SINH
from gelvo.matrices.elimination import determinant
from gelvo.matrices.matrix import Matrix
from gelvo.matrices.plain import plain
from gelvo.normal.prepare import prepared
from gelvo.simplifying.search import simplify
from gelvo.spectra.jordan import Chain
from gelvo.spectra.over_roots import in_lowest_terms
from gelvo.spectra.together import modes

ROAD = "normal modes"


class Motion(NamedTuple):
    """Two motions of a mode: from a place, at rest there, and from the place 0, with a speed there."""

    from_place: Expression
    from_speed: Expression
    speed: Expression


def oscillations(problem: Problem) -> Outcome | None:
    """The sum of all modes, with free constants or with the amplitudes of a stated start; None for systems of another kind."""
    matrices = _matrices(problem)
    if matrices is None:
        return None
    mass, stiffness = matrices
    present = apart_from_zero(determinant(mass), problem.facts)
    facts = problem.facts.with_facts(present)
    try:
        shapes = modes(mass, stiffness, facts)
    except (NotSolved, DomainError):
        return None
    if len(shapes) != len(problem.unknowns) or any(has_imaginary_unit(c.value) for c in shapes):
        return None
    motions = [_motion(c.value, problem, facts) for c in shapes]
    known = [m for m in motions if m is not None]
    if len(known) < len(motions):
        return None
    if is_initial(problem) and _is_symmetric(mass) and _is_symmetric(stiffness) and _are_apart(shapes, facts):
        return Outcome(
            [Solved(_from_start(problem, mass, shapes, known), tuple(present))], (), f"{ROAD}; amplitudes of the start"
        )
    return _with_constants(problem, shapes, known, present)


def _matrices(problem: Problem) -> tuple[Matrix, Matrix] | None:
    """M and K of equations without forcing and without first derivatives."""
    n = len(problem.unknowns)
    parts = linear_terms(problem, True)
    if n < 2 or parts is None or len(parts) != n or any(order_of(problem, u) != 2 for u in problem.unknowns):
        return None
    if any(linear.right is not ZERO or any(k == 1 for _, k in linear.table) for linear in parts):
        return None
    mass, stiffness = (Matrix([[p.table.get((u, k), ZERO) for u in problem.unknowns] for p in parts]) for k in (2, 0))
    return None if factored(determinant(mass)) is ZERO else (mass, stiffness)


def _motion(square: Expression, problem: Problem, facts: Facts) -> Motion | None:
    """The motion of a mode for a squared frequency with a known sign."""
    t = problem.variable
    if square is ZERO:
        return Motion(ONE, t, ONE)
    if facts.is_positive(square):
        rate = _root(square, facts)
        return Motion(COS(rate * t), SIN(rate * t), rate)
    if facts.is_negative(square):
        rate = _root(-square, facts)
        return Motion(COSH(rate * t), SINH(rate * t), rate)
    return None


def _root(square: Expression, facts: Facts) -> Expression:
    """The square root, that of the letters as one: sqrt(k/m) and not sqrt(k)/sqrt(m)."""
    letters = multiply_all([f for f in factors_in(square) if names(f)])
    return simplify(sqrt(letters), facts).expression * prepared(sqrt(square / letters), facts, waves=False)


def _is_symmetric(m: Matrix) -> bool:
    return all(lowest_terms(m[i, j] - m[j, i]) is ZERO for i in range(m.shape[0]) for j in range(i))


def _are_apart(shapes: list[Chain], facts: Facts) -> bool:
    """Whether all squared frequencies are surely different: then shapes are orthogonal with the masses as weights."""
    return all(facts.is_nonzero(lowest_terms(a.value - b.value)) for k, a in enumerate(shapes) for b in shapes[:k])


def _from_start(problem: Problem, mass: Matrix, shapes: list[Chain], motions: list[Motion]) -> Values:
    """Each mode with its share of the places and speeds at 0: shape^T M q / (shape^T M shape)."""
    given = {e.left: e.right for e in problem.stated}
    start = [Matrix([[given[value_at(u, ZERO, k)]] for u in problem.unknowns]) for k in (0, 1)]
    terms: list[list[Expression]] = [[] for _ in problem.unknowns]
    sizes = cache(lambda e: plain(e, problem.facts))
    for chain, motion in zip(shapes, motions, strict=True):
        shape = chain.vectors[0]
        weighted = mass @ shape
        size = sizes(in_lowest_terms((weighted.transpose() @ shape)[0, 0]))
        place, speed = (in_lowest_terms((weighted.transpose() @ s)[0, 0] / size) for s in start)
        for i, row in enumerate(terms):
            row.append(_weight(shape[i, 0], place) * motion.from_place)
            row.append(_weight(shape[i, 0], speed) / motion.speed * motion.from_speed)
    return {u: total(row) for u, row in zip(problem.unknowns, terms, strict=True)}


def _weight(entry: Expression, amplitude: Expression) -> Expression:
    """Their product, multiplied out only where numbered roots stand in it."""
    whole = entry * amplitude
    return in_lowest_terms(whole) if any(isinstance(n, AlgebraicNumber) for n in postorder(whole)) else whole


def _with_constants(problem: Problem, shapes: list[Chain], motions: list[Motion], present: list[Condition]) -> Outcome:
    constants = problem.constants(2 * len(shapes))
    waves = [constants[2 * k] * m.from_place + constants[2 * k + 1] * m.from_speed for k, m in enumerate(motions)]
    values: Values = {
        u: total([c.vectors[0][i, 0] * w for c, w in zip(shapes, waves, strict=True)]) for i, u in enumerate(problem.unknowns)
    }
    outcome = Outcome([Solved(values, tuple(present))], constants, ROAD)
    return imposed(problem, outcome) if problem.stated else outcome
