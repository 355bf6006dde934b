"""Motions y'' = F(y) whose energy leads to elliptic functions: pendulums, and forces that are polynomials of the third degree.

With y'^2 = P(y) and z = y/y_0 (or the sine of half an angle) z'^2 = (1 - z^2)*(q - p*z^2) at a turning place z = 1.
Source: DLMF 22.13 (the differential equations of the Jacobian functions), 22.19 (pendulum, quartic oscillator).
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from gelvo.differential.first_order.rate import accepted, distinct, integral
from gelvo.differential.problem import Outcome, Problem, Solved, derivative_of, order_of, state_of
from gelvo.expression.building import relation, sqrt
from gelvo.expression.constants import PI, ZERO
from gelvo.expression.nodes import Condition, Expression, Name
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.forms.univariate import coefficients_of, linear_parts, lowest_terms
from gelvo.functions.named import ASIN, COS, ELLIPK, JACOBIAM, JACOBICN, JACOBIDN, JACOBISN, SIN, is_a
from gelvo.simplifying.search import simplify

Wave = Callable[[Expression, Expression, Expression], Expression]
ROAD = "energy, and an elliptic function"

# from a turning place z = 1 of z'^2 = (1 - z^2)*(q - p*z^2): what must be positive, and z in the variable, q and p
FROM_REST: tuple[tuple[Callable[[Expression, Expression], tuple[Expression, ...]], Wave], ...] = (
    (lambda p, q: (q, p, q - p), lambda t, p, q: _cd(sqrt(q) * t, p / q)),
    (lambda p, q: (q, -p), lambda t, p, q: JACOBICN(sqrt(q - p) * t, p / (p - q))),
    (lambda p, q: (q, p, p - q), lambda t, p, q: 1 / _cd(sqrt(p) * t, q / p)),
    (lambda p, q: (p, -q), lambda t, p, q: 1 / JACOBICN(sqrt(p - q) * t, q / (q - p))),
    (lambda p, q: (-p, -q, q - p), lambda t, p, q: JACOBIDN(sqrt(-p) * t, (p - q) / p)),
    (lambda p, q: (-p, -q, p - q), lambda t, p, q: 1 / JACOBIDN(sqrt(-q) * t, (q - p) / q)),
)


def _cd(u: Expression, m: Expression) -> Expression:
    """cn/dn, the sine a quarter period later: it starts at 1."""
    return JACOBISN(u + ELLIPK(m), m)


def elliptic_motion(problem: Problem) -> Outcome | None:
    """The motion from a stated state at one place, or all motions of a pendulum; None where the energy is another."""
    force = _force(problem)
    if force is None:
        return None
    y, f = force
    work = integral(f, y, problem.facts)
    if work is None:
        return None
    state = state_of(problem)
    if state is None:
        return None if problem.stated else _all_pendulums(problem, y, 2 * work)
    energy = expand(state.rate**2 + 2 * (work - substitute(work, {y: state.value})))
    t = problem.variable - state.place
    for way in (_polynomial, _pendulum):
        value, needed = way(energy, y, state.value, state.rate, t, problem.facts) or (None, ())
        solved = None if value is None else accepted(problem, simplify(value, problem.facts).expression, needed)
        if solved is not None:
            return Outcome([solved], (), ROAD)
    return None


def _force(problem: Problem) -> tuple[Name, Expression] | None:
    """A name for the function, and its second derivative as a formula of it alone."""
    u = problem.unknowns[0]
    if len(problem.equations) != 1 or order_of(problem, u) != 2:
        return None
    y, bend = (problem.facts.new_name(word, *problem.formulas) for word in ("y", "bend"))
    inside = substitute(problem.equations[0], {derivative_of(u, 2): bend, u: y})
    if derivative_of(u, 1) in postorder(inside) or contains(inside, problem.variable):
        return None
    parts = linear_parts(expand(inside), bend)
    if parts is None or contains(parts[0], y):
        return None
    return y, expand(factored(-parts[1] / parts[0]))


Found = tuple[Expression, tuple[Condition, ...]] | None


def _polynomial(energy: Expression, y: Name, start: Expression, speed: Expression, t: Expression, facts: Facts) -> Found:
    """y'^2 = a*y^4 + b*y^2 + c from rest, or through 0."""
    c = coefficients_of(energy, y)
    if c is None or len(c) != 5 or c[1] is not ZERO or c[3] is not ZERO:
        return None
    if speed is ZERO:
        z = _from_rest(lowest_terms(c[4] * start**2), lowest_terms(c[0] / start**2), t, facts) if start is not ZERO else None
        return None if z is None else (start * z, ())
    return _through_zero(c[4], c[2], speed, t, facts) if start is ZERO else None


def _from_rest(p: Expression, q: Expression, t: Expression, facts: Facts) -> Expression | None:
    for positive, wave in FROM_REST:
        if all(facts.is_positive(e) or facts.is_positive(factored(e)) for e in positive(p, q)):
            return wave(t, p, q)
    return None


def _through_zero(a: Expression, b: Expression, speed: Expression, t: Expression, facts: Facts) -> Found:
    """y'^2 = v^2*(1 - r*y^2)*(1 - s*y^2): a sine for two numbers r > s, r > 0."""
    inside = factored(b**2 - 4 * a * speed**2)
    if not facts.is_positive(inside):
        return None
    root = simplify(sqrt(inside), facts).expression
    r, s = (simplify((sign * root - b) / (2 * speed**2), facts).expression for sign in (1, -1))
    if not facts.is_positive(r):
        return None
    if facts.is_negative(s):  # sn with a negative parameter by functions with one between 0 and 1
        m = s / (s - r)
        u = speed * sqrt(r - s) * t
        return JACOBISN(u, m) / (JACOBIDN(u, m) * sqrt(r - s)), ()
    return JACOBISN(speed * sqrt(r) * t, s / r) / sqrt(r), ()


def _pendulum(energy: Expression, y: Name, start: Expression, speed: Expression, t: Expression, facts: Facts) -> Found:
    """y'^2 = e + b*cos(k*y + d): the sine of half the angle from rest, the amplitude through the lowest place."""
    parts = _waves(energy, y)
    if parts is None:
        return None
    if facts.is_negative(parts.b):
        parts = parts.turned()
    k, d, b, e = parts
    angle = lowest_terms(k * start + d)
    if angle is ZERO:
        return (2 * JACOBIAM(k * speed * t / 2, simplify(2 * b / (e + b), facts).expression) - d) / k, ()
    if speed is not ZERO or not (facts.is_positive(PI - angle) and facts.is_positive(PI + angle)) or not facts.is_positive(b):
        return None
    height = SIN(angle / 2)
    return (2 * ASIN(height * _cd(k * sqrt(b / 2) * t, height**2)) - d) / k, ()


class Pendulum(NamedTuple):
    """e + b*cos(k*y + d)."""

    k: Expression
    d: Expression
    b: Expression
    e: Expression

    def turned(self) -> Pendulum:
        """The same, with the other sign of b."""
        return Pendulum(self.k, self.d - PI, -self.b, self.e)


def _waves(energy: Expression, y: Name) -> Pendulum | None:
    waves = [n for n in dict.fromkeys(postorder(energy)) if is_a(n, COS, SIN) and contains(n, y)]
    if len(waves) != 1:
        return None
    (wave,) = waves
    inner, outer = linear_parts(expand(wave.arguments[0]), y), linear_parts(energy, wave)
    if inner is None or outer is None or contains(outer[1], y):
        return None
    return Pendulum(inner[0], inner[1] - (PI / 2 if is_a(wave, SIN) else ZERO), *outer)


def _all_pendulums(problem: Problem, y: Name, work: Expression) -> Outcome | None:
    """The motions of every energy, in both directions."""
    u, t, facts = problem.unknowns[0], problem.variable, problem.facts
    constants = problem.constants(2)
    parts = _waves(expand(work + constants[0]), y)
    if parts is None:
        return None
    k, d, b, e = parts
    found = []
    for sign in (1, -1):
        value = (2 * JACOBIAM(sign * k * sqrt(e + b) * (t + constants[1]) / 2, lowest_terms(2 * b / (e + b))) - d) / k
        solved = accepted(problem, value, [relation("<", ZERO, e + b)])
        if solved is not None:
            found.append(Solved({u: value}, (relation("<", ZERO, e + b),)))
    return Outcome(distinct(found, (), facts), constants, ROAD) if found else None
