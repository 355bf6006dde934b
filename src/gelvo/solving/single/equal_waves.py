"""Two waves of one amplitude: cos(U) + cos(V) = 2*cos((U + V)/2)*cos((U - V)/2), whatever stands inside.

Waves of one frequency are one wave before, by amplitude and phase.
"""

from __future__ import annotations

from typing import NamedTuple

from gmpy2 import mpq

from gelvo.deciding.equality import is_zero
from gelvo.expression.building import looks_negative, number, sqrt, weighted_terms
from gelvo.expression.constants import PI
from gelvo.expression.nodes import Expression, Sum
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, names
from gelvo.facts.conditions import nonzero
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import ATAN2, COS, SIN, is_a
from gelvo.numbers.exact import Gaussian
from gelvo.solving.roots import Root
from gelvo.solving.single.work import Work

MOST_WAVES = 4


class Wave(NamedTuple):
    """amplitude*cos(angle)."""

    amplitude: Expression
    angle: Expression


def equal_waves(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """The zeros of the sum of two waves of the same size; only over the reals, and where rational numbers are not all."""
    x = solver.unknown
    pair = _pair(solver, g) if solver.real and isinstance(g, Sum) and not g.constant else None
    if pair is None:
        return None
    one, other = pair
    angles = [expand(one.angle + turn * other.angle) for turn in (1, -1)]
    if any(not contains(angle, x) and names(angle) for angle in angles):
        return None
    solver.roads["two waves of one amplitude as a product of waves"] = None
    solver.need(nonzero(one.amplitude))
    found: list[Root] = []
    for angle in angles:
        if contains(angle, x):
            found += _zeros_of_cosine(solver, angle, g, depth)
        elif is_zero(COS(angle / 2), solver.facts) is True:
            return [Root(x)]
    return found


def _pair(solver: Work, g: Expression) -> tuple[Wave, Wave] | None:
    """The two waves of one amplitude that a sum consists of."""
    waves = _waves(solver, g)
    if waves is None or len(waves) > MOST_WAVES:
        return None
    plain = all(w.amplitude.is_rational for w in waves) and _of_one_angle(waves, solver)
    together = _by_frequency(waves, solver)
    if plain or len(together) != 2 or not all(contains(w.angle, solver.unknown) for w in together):
        return None
    one, other = together
    for sign in (1, -1):
        if is_zero(one.amplitude - sign * other.amplitude, solver.facts) is True:
            return one, other if sign > 0 else other._replace(angle=other.angle + PI)
    return None


def _zeros_of_cosine(solver: Work, angle: Expression, g: Expression, depth: int) -> list[Root]:
    """Where the cosine of half an angle vanishes: at pi and whole turns."""
    n = solver.free_integer(g)
    line = uni.linear_parts(angle, solver.unknown)
    if line is not None and looks_negative(line[0]):  # a cosine does not see the difference
        line = expand(-line[0]), expand(-line[1])
    if line is None:
        roots = solver.solve(expand(angle - PI - 2 * PI * n), depth + 1)
        return [r._replace(families=(n, *r.families)) for r in roots]
    solver.need(nonzero(line[0]))
    place = (_within_a_turn(expand(PI - line[1])) + 2 * PI * n) / line[0]
    return [Root(place if names(line[0]) else expand(place), (), (n,))]


def _within_a_turn(angle: Expression) -> Expression:
    """The angle less whole turns, as far as it is a multiple of pi."""
    share = next((c for t, c in weighted_terms(angle) if t is PI and not isinstance(c, Gaussian)), mpq(0))
    return angle - 2 * PI * number(mpq(-((1 - share) / 2).__floor__()))


def _waves(solver: Work, g: Expression) -> list[Wave] | None:
    """The terms as multiples of cosines; None where one is none."""
    found: list[Wave] = []
    for term, c in g.items() if isinstance(g, Sum) else ():
        functions = [f for f in factors_in(term) if contains(f, solver.unknown)]
        if len(functions) != 1 or not is_a(functions[0], SIN, COS):
            return None
        wave = functions[0]
        angle = wave.arguments[0] - (PI / 2 if wave.name == SIN else 0)
        found.append(Wave(number(c) * term / wave, angle))
    return found


def _of_one_angle(waves: list[Wave], solver: Work) -> bool:
    """Whether all angles are rational multiples of one, up to a number."""
    lines = [uni.linear_parts(w.angle, solver.unknown) for w in waves]
    return (
        all(line is not None and uni.lowest_terms(line[0] / lines[0][0]).is_rational for line in lines if lines[0] is not None)
        and None not in lines
    )


def _by_frequency(waves: list[Wave], solver: Work) -> list[Wave]:
    """Waves of one frequency joined: a*cos(u + p) + b*cos(u + q)."""
    groups: dict[Expression, list[tuple[Expression, Expression]]] = {}
    for amplitude, angle in waves:
        line = uni.linear_parts(expand(angle), solver.unknown)
        key, phase = (expand(angle), number(0)) if line is None else (line[0] * solver.unknown, line[1])
        groups.setdefault(key, []).append((amplitude, phase))
    result: list[Wave] = []
    for key, parts in groups.items():
        if len(parts) == 1:
            result.append(Wave(parts[0][0], key + parts[0][1]))
            continue
        along = factored(sum((a * COS(p) for a, p in parts), number(0)))
        across = factored(sum((a * SIN(p) for a, p in parts), number(0)))
        result.append(Wave(sqrt(factored(along**2 + across**2)), key + ATAN2(across, along)))
    return result
