"""Sines and cosines of one angle: by the tangent of the angle, or of its half."""

from __future__ import annotations

from gelvo.deciding.equality import is_zero
from gelvo.expression.building import number, relation
from gelvo.expression.constants import ONE, PI, ZERO
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import contains, names, substitute
from gelvo.facts.conditions import nonzero, zero_where
from gelvo.forms import univariate as uni
from gelvo.forms.fractions import factored
from gelvo.functions.named import ATAN, COS, SIN
from gelvo.normal.waves_of_one_angle import even_part, one_angle
from gelvo.solving.roots import Root
from gelvo.solving.single.work import Work


def _by_tangent(h: Expression, s: Name, c: Name, u: Name) -> tuple[Expression, Expression, Expression]:
    """A formula in sine and cosine by u, the tangent of the angle or of its half, with the angle that u misses and 1 or 2."""
    whole_turn = factored(substitute(h, {s: -s, c: -c}) - h) is ZERO
    inside = even_part(substitute(h, {s: u * c}), c, 1 / (1 + u**2)) if whole_turn else None
    if inside is not None:
        return factored(inside), PI / 2, ONE
    inside = substitute(h, {s: 2 * u / (1 + u**2), c: (1 - u**2) / (1 + u**2)})
    return factored(inside), 1 * PI, number(2)


def waves_of_one_angle(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """Sines and cosines of one angle: by its tangent where that is enough, else by the tangent of its half; only over the reals."""
    if not solver.real:
        return None
    found = one_angle(g, solver.unknown, solver.facts)
    if found is None:
        return None
    h, s, c, angle, _ = found
    u = solver.facts.new_name("u", g, *solver.taken)
    inside, lost, turn = _by_tangent(h, s, c, u)
    parts = uni.linear_parts(angle, solver.unknown)
    if parts is None:
        return None
    at_lost = substitute(h, {s: SIN(lost), c: COS(lost)})
    if not contains(inside, u):  # the waves cancel: every angle solves, or none does
        holds = solver.facts.holds(relation("=", inside, ZERO))
        return [] if holds is False else [Root(solver.unknown, () if holds else (zero_where(inside),))]
    roots = solver.inner(inside, u, depth)
    if [r.value for r in roots] == [solver.unknown]:
        return roots
    solver.roads["the tangent of the angle" if turn is ONE else "the tangent of half the angle"] = None
    n = solver.free_integer(g)
    angles = [(turn * ATAN(r.value), r.conditions) for r in roots]
    if is_zero(at_lost, solver.facts):
        angles.append((lost, ()))
    elif names(at_lost):  # where it vanishes the lost angle solves: a case of its own
        solver.need(nonzero(at_lost))
    return [Root((a + turn * PI * n - parts[1]) / parts[0], conditions, (n,)) for a, conditions in angles]
