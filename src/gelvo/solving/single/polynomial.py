"""Polynomials in the unknown: linear and quadratic ones with letters, exact roots of others, polynomials in a power."""

from __future__ import annotations

from collections.abc import Callable
from math import gcd

from gmpy2 import mpq, mpz

from gelvo.deciding.algebraic import all_roots
from gelvo.deciding.radical_roots import radical_form
from gelvo.errors import NotSolved
from gelvo.expression import known as bits
from gelvo.expression.building import looks_negative, multiply_all, number, power, relation, sqrt, total, truth
from gelvo.expression.constants import IMAGINARY, PI, ZERO
from gelvo.expression.nodes import AlgebraicNumber, Condition, Expression, Number, Product
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import names, postorder
from gelvo.facts.conditions import nonzero, without_positive_factors, zero_where
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.forms.measure import measure
from gelvo.forms.univariate import integer_coefficients
from gelvo.functions.named import COS, EXP, SIN, is_a
from gelvo.polynomial.dense import cyclotomic
from gelvo.simplifying.search import simplify
from gelvo.solving.roots import Root
from gelvo.solving.single.cubic import cubic, quartic
from gelvo.solving.single.no_formula import no_formula
from gelvo.solving.single.powers import undo_power
from gelvo.solving.single.work import Work

LONGEST_RADICAL = 24.0


def _readable(root: Expression) -> Expression:
    """An exact root by radicals or cosines, where that is short."""
    if not isinstance(root, AlgebraicNumber):
        return root
    short = radical_form(root)
    return short if short is not None and measure(short) <= LONGEST_RADICAL else root


def polynomial(solver: Work, coefficients: list[Expression], g: Expression, depth: int) -> list[Root]:
    degree = len(coefficients) - 1
    if degree < 1:  # x drops out once its coefficients are worked out
        always = solver.condition(zero_where(coefficients[0]) if coefficients else truth(True))
        return [] if always is None else [Root(solver.unknown, always)]
    if looks_negative(coefficients[-1]):
        coefficients = [-c for c in coefficients]
    leading = coefficients[-1]
    solver.need(nonzero(leading))
    if degree == 1:
        solver.roads["linear"] = None
        return [Root(simplify(-coefficients[0] / leading, solver.facts).expression)]
    if degree == 2:
        return quadratic(solver, *coefficients)
    return _of_higher_degree(solver, coefficients, g, depth)


def _of_higher_degree(solver: Work, coefficients: list[Expression], g: Expression, depth: int) -> list[Root]:
    """By exact roots, a power as the unknown, formulas with radicals, or zeros that are counted."""
    degree = len(coefficients) - 1
    spacing = gcd(*(k for k, c in enumerate(coefficients) if c is not ZERO))
    ways: list[Callable[[], list[Root] | None]] = [
        lambda: _exact_roots(solver, coefficients),
        lambda: _in_powers(solver, coefficients, spacing, depth) if spacing > 1 else _about_centre(solver, coefficients, depth),
    ]
    for way in ways if degree == 3 else reversed(ways):
        found = way()
        if found is not None:
            return found
    if degree == 3:
        return cubic(solver, coefficients)
    if degree == 4 and solver.formulas_only and names(*coefficients):
        raise NotSolved(f"{shown_short(g)} = 0 has degree 4 in {solver.unknown}: its zeros have no short formulas")
    if degree == 4 and not solver.real:
        return quartic(solver, coefficients, depth)
    counted = no_formula(solver, g, depth) if solver.real else None
    if counted is not None:
        return counted
    if degree == 4:  # longer than a zero that is known to be the only one
        return quartic(solver, coefficients, depth)
    raise NotSolved(f"{shown_short(g)} = 0 has degree {degree} in {solver.unknown}, and no factor of degree one or two")


def _exact_roots(solver: Work, coefficients: list[Expression]) -> list[Root] | None:
    """Numbered exact roots of a polynomial with rational coefficients; with radicals or cosines where these are short."""
    if not all(isinstance(c, Number) and c.is_rational for c in coefficients):
        return None
    whole = integer_coefficients(total([c * solver.unknown**k for k, c in enumerate(coefficients)]), solver.unknown)
    if whole is None:
        return None
    unity = None if solver.real else _roots_of_unity(whole)
    if unity is not None:
        solver.roads["roots of unity"] = None
        return [Root(v) for v in unity]
    roots = all_roots(whole)
    real = [r for r in roots if bits.is_real(r.known)]
    solver.roads["exact roots of an irreducible polynomial"] = None
    if solver.real:
        solver.further += len(roots) - len(real)
    return [Root(_readable(r)) for r in (real if solver.real else roots)]


def _roots_of_unity(whole: list[mpz]) -> list[Expression] | None:
    """The roots of a cyclotomic polynomial: in square roots where that is short, else as exponentials."""
    order = next((n for n in range(3, 6 * len(whole)) if list(cyclotomic(n)) == whole), None)
    if order is None:
        return None
    turns = [number(mpq(2 * k if 2 * k <= order else 2 * (k - order), order)) for k in range(1, order) if gcd(k, order) == 1]
    plain = [COS(PI * t) + IMAGINARY * SIN(PI * t) for t in turns]
    short = not any(is_a(n, COS, SIN) for e in plain for n in postorder(e))
    return plain if short else [EXP(IMAGINARY * PI * t) for t in turns]


def quadratic(solver: Work, c: Expression, b: Expression, a: Expression) -> list[Root]:
    solver.roads["quadratic formula"] = None
    gap = factored(expand(b * b - 4 * a * c))
    sign = solver.facts.decide(gap)
    if not sign & ~bits.NIL:
        return [Root(simplify(-b / (2 * a), solver.facts).expression)]
    if solver.real and bits.is_negative(sign):
        solver.further += 2
        return []
    conditions: tuple[Condition, ...] = ()
    if solver.real and bits.is_nonpositive(sign):  # -4*y^2 under the root: real where it is zero
        nothing = zero_where(gap)
        return [Root(simplify(-b / (2 * a), solver.facts).expression, (nothing,))]
    if solver.real and not bits.is_nonnegative(sign):
        conditions = (relation("<=", ZERO, without_positive_factors(gap, solver.facts)),)
    under = solver.facts.with_facts([c for c in conditions if names(c)])
    outside, inside = square_parts(gap)
    root = outside * sqrt(inside)
    roots = [simplify((-b - root) / (2 * a), under).expression, simplify((-b + root) / (2 * a), under).expression]
    if not names(gap) and not names(a) and solver.real and solver.facts.is_negative(a):
        roots.reverse()
    return [Root(r, conditions) for r in roots]


def _in_powers(solver: Work, coefficients: list[Expression], spacing: int, depth: int) -> list[Root]:
    """a*x^(2k) + b*x^k + c: a new unknown for x^k."""
    u = solver.facts.new_name("u", solver.unknown, *coefficients, *list(solver.taken))
    reduced = total([c * u ** (k // spacing) for k, c in enumerate(coefficients)])
    before = solver.further
    roots = solver.inner(reduced, u, depth, power(solver.unknown, number(spacing)))
    solver.further = before + (solver.further - before) * spacing
    result: list[Root] = []
    for root in roots:
        if root.value is solver.unknown:
            result.append(root)
            continue
        for piece in undo_power(solver, mpq(spacing), root.value, depth):
            result.append(Root(piece.value, (*root.conditions, *piece.conditions), root.families + piece.families))
    return result


def _about_centre(solver: Work, coefficients: list[Expression], depth: int) -> list[Root] | None:
    """x = u + the mean of the roots, where the polynomial is one in a power of u."""
    degree, x = len(coefficients) - 1, solver.unknown
    centre = uni.lowest_terms(-coefficients[-2] / (degree * coefficients[-1]))
    if centre is ZERO or degree < 4:
        return None
    u = solver.facts.new_name("u", x, *coefficients, *list(solver.taken))
    moved = uni.coefficients_of(expand(total([c * (u + centre) ** k for k, c in enumerate(coefficients)])), u)
    if moved is None or gcd(*(k for k, c in enumerate(moved) if c is not ZERO)) < 2:
        return None
    roots = solver.inner(uni.expression_of(moved, u), u, depth, x - centre)
    return [r if r.value is x else r._replace(value=expand(r.value + centre)) for r in roots]


def square_parts(gap: Expression, fractions: bool = False) -> tuple[Expression, Expression]:
    """(a, b) with gap = a^2*b: of a discriminant, both of whose roots are taken, squares come out without bars.

    fractions: whether b may have a denominator, as in sqrt(g/l) for sqrt(g*l)/l.
    """
    outside: list[Expression] = []
    inside: list[Expression] = [number(gap.coefficient)] if isinstance(gap, Product) else []
    for piece in factors_in(gap):
        base, k = base_and_exponent(piece)
        if isinstance(k, Number) and k.is_whole and not isinstance(base, Number):
            up = k.rational % 2 if fractions and k.rational < 0 else 0
            whole = k.rational - k.rational % 2 + 2 * up
            outside.append(power(base, number(whole / 2)))
            inside.append(power(base, number(k.rational - whole)))
        else:
            inside.append(piece)
    return multiply_all(outside), multiply_all(inside)


def shown_short(g: Expression) -> str:
    shown = str(g)
    return shown if len(shown) <= 60 else shown[:57] + "…"
