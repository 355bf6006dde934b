"""Sines and cosines of multiples of one angle: in one wave alone, by amplitude, by roots of unity, or by the tangent of the angle or its half."""

from __future__ import annotations

from gelvo.deciding.equality import is_zero
from gelvo.expression.building import number, relation, sqrt
from gelvo.expression.constants import ONE, PI, ZERO
from gelvo.expression.nodes import Call, Expression, Name, Node, Number
from gelvo.expression.traversal import contains, names, substitute, transform
from gelvo.facts.conditions import nonzero, zero_where
from gelvo.facts.vanishing import factor_list
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import ACOS, ATAN, ATAN2, COS, SIN, is_a
from gelvo.normal.waves_of_one_angle import OneAngle, even_part, one_angle
from gelvo.solving.roots import Root
from gelvo.solving.single.unit_circle import angles_on_the_circle
from gelvo.solving.single.work import Work


def waves_of_one_angle(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """An equation that is rational in sine and cosine of one angle, factor by factor; only over the reals."""
    found = one_angle(g, solver.unknown, solver.facts) if solver.real else None
    if found is None and solver.real:
        parted = transform(g, lambda n: _shift_parted(n, solver.unknown))
        found = one_angle(parted, solver.unknown, solver.facts) if parted is not g else None
    if found is None or uni.linear_parts(found.angle, solver.unknown) is None:
        return None
    top = factored(quotient_parts(found.function)[0])
    if not contains(top, found.s) and not contains(top, found.c):  # the waves cancel: every angle solves, or none does
        holds = solver.facts.holds(relation("=", top, ZERO))
        return [] if holds is False else [Root(solver.unknown, () if holds else (zero_where(top),))]
    roots: list[Root] = []
    for factor in factor_list(top):
        if contains(factor, found.s) or contains(factor, found.c):
            for way in (_roots_of_unity, _in_one_wave, _by_amplitude, _on_the_circle, _by_tangent):
                angles = way(solver, found._replace(function=factor), g, depth)
                if angles is not None:
                    roots.extend(angles)
                    break
        elif not isinstance(factor, Number):
            solver.need(nonzero(factor))
    return roots


def _shift_parted(node: Node, x: Name) -> Node:
    """sin(k*x + c) by the addition theorem, so that all angles are multiples of one."""
    line = uni.linear_parts(node.arguments[0], x) if is_a(node, SIN, COS) else None
    if line is None or line[1] is ZERO or not isinstance(node, Call):
        return node
    angle, c = line[0] * x, line[1]
    if node.name == SIN:
        return SIN(angle) * COS(c) + COS(angle) * SIN(c)
    return COS(angle) * COS(c) - SIN(angle) * SIN(c)


def _in_one_wave(solver: Work, wave: OneAngle, g: Expression, depth: int) -> list[Root] | None:
    """A polynomial in the sine alone, or in the cosine alone, with the other's square replaced."""
    forms = [
        (inside, kept, builder)
        for kept, other, builder in ((wave.s, wave.c, SIN), (wave.c, wave.s, COS))
        if (inside := _without(wave.function, other, 1 - kept**2)) is not None
    ]
    if not forms:
        return None
    inside, kept, builder = min(forms, key=lambda f: len(uni.coefficients_of(f[0], f[1]) or ()))
    u = solver.facts.new_name("u", g, *solver.taken)
    result: list[Root] = []
    for root in solver.inner(substitute(inside, {kept: u}), u, depth, builder(wave.angle)):
        if root.value is solver.unknown:
            result.append(root)
            continue
        for piece in solver.solve(builder(wave.angle) - root.value, depth + 1):
            result.append(Root(piece.value, (*root.conditions, *piece.conditions), root.families + piece.families))
    return result


def _without(f: Expression, moving: Expression, square: Expression) -> Expression | None:
    """A polynomial with even powers of one name only, with `square` for its square; None where there are odd ones."""
    coefficients = uni.coefficients_of(f, moving)
    if coefficients is None or any(c is not ZERO for c in coefficients[1::2]):
        return None
    return expand(uni.expression_of(coefficients[::2], square))


def _by_amplitude(solver: Work, wave: OneAngle, g: Expression, depth: int) -> list[Root] | None:
    """a*sin(t) + b*cos(t) + d = 0 as r*cos(t - atan2(a, b)) = -d with r^2 = a^2 + b^2."""
    parts = _linear(wave)
    if parts is None:
        return None
    a, b, d = parts
    turned = ATAN2(a, b)
    share = uni.lowest_terms(turned / PI)
    if d is ZERO or not (names(a, b) or share.is_rational):
        return None
    square = factored(a**2 + b**2)
    solver.need(nonzero(square))
    reaches = solver.condition(relation("<=", expand(d**2), expand(square)))
    if reaches is None:
        return []
    solver.roads["by amplitude and phase"] = None
    n = solver.free_integer(g)
    swing = ACOS(-d / sqrt(square))
    return [Root(_place(solver, wave, turned + sign * swing + 2 * PI * n), reaches, (n,)) for sign in (1, -1)]


def _linear(wave: OneAngle) -> tuple[Expression, Expression, Expression] | None:
    """(a, b, d) of a*sin + b*cos + d."""
    of_sine = uni.coefficients_of(wave.function, wave.s)
    if of_sine is None or len(of_sine) != 2 or contains(of_sine[1], wave.c):
        return None
    rest = uni.coefficients_of(of_sine[0], wave.c) if contains(of_sine[0], wave.c) else None
    return (of_sine[1], rest[1], rest[0]) if rest is not None and len(rest) == 2 else None


def _roots_of_unity(solver: Work, wave: OneAngle, g: Expression, depth: int) -> list[Root] | None:
    """As on the circle, where all zeros there are rational angles."""
    return _on_the_circle(solver, wave, g, depth, rational=True)


def _on_the_circle(solver: Work, wave: OneAngle, g: Expression, depth: int, rational: bool = False) -> list[Root] | None:
    """Rational coefficients: the roots of a polynomial in z = exp(1j*t) on the unit circle."""
    angles = angles_on_the_circle(wave.function, wave.s, wave.c)
    if angles is None or (rational and not all((a / PI).is_rational for a in angles)):
        return None
    solver.roads["the zeros on the unit circle of a polynomial in exp(1j*t)"] = None
    solver.implied = True
    n = solver.free_integer(g)
    return [Root(_place(solver, wave, angle + 2 * PI * n), (), (n,)) for angle in angles]


def _by_tangent(solver: Work, wave: OneAngle, g: Expression, depth: int) -> list[Root]:
    """By the tangent of the angle where that is enough, else by the tangent of its half; the angle that it misses by itself."""
    h, s, c = wave.function, wave.s, wave.c
    u = solver.facts.new_name("u", g, *solver.taken)
    turned = substitute(h, {s: -s, c: -c})
    whole_turn = factored(turned - h) is ZERO or factored(turned + h) is ZERO
    even = h if factored(turned - h) is ZERO else h * c
    inside = even_part(substitute(even, {s: u * c}), c, 1 / (1 + u**2)) if whole_turn else None
    if inside is not None:
        inside, lost, turn = factored(inside), PI / 2, ONE
    else:
        inside = factored(substitute(h, {s: 2 * u / (1 + u**2), c: (1 - u**2) / (1 + u**2)}))
        lost, turn = 1 * PI, number(2)
    at_lost = substitute(h, {s: SIN(lost), c: COS(lost)})
    tangent = SIN(wave.angle / turn) / COS(wave.angle / turn)
    roots = solver.inner(inside, u, depth, tangent)
    solver.roads["the tangent of the angle" if turn is ONE else "the tangent of half the angle"] = None
    n = solver.free_integer(g)
    found = [r for r in roots if r.value is solver.unknown]
    angles = [(turn * ATAN(r.value), r.conditions) for r in roots if r.value is not solver.unknown]
    if is_zero(at_lost, solver.facts):
        angles.append((lost, ()))
    elif names(at_lost):  # where it vanishes the lost angle solves: a case of its own
        solver.need(nonzero(at_lost))
    return [*found, *(Root(_place(solver, wave, a + turn * PI * n), conditions, (n,)) for a, conditions in angles)]


def _place(solver: Work, wave: OneAngle, angle: Expression) -> Expression:
    """The unknown where the angle has a value."""
    parts = uni.linear_parts(wave.angle, solver.unknown)
    assert parts is not None
    return (angle - parts[1]) / parts[0]
