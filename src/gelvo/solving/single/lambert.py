"""Lambert's W: a power of a line equal to an exponential or to a logarithm.

Source: R. Corless, G. Gonnet, D. Hare, D. Jeffrey, D. Knuth, "On the Lambert W function" (1996).
"""

from __future__ import annotations

from fractions import Fraction
from typing import NamedTuple

from gmpy2 import mpq

from gelvo.deciding.equality import is_zero
from gelvo.errors import DomainError, NotSolved
from gelvo.evaluation.enclose import enclose
from gelvo.expression.building import multiply_all, number, power, relation
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Condition, Expression, Name, Node, Power, Product
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.facts.conditions import nonzero
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import EXP, LAMBERTW, LAMBERTW_LOWER, LN, is_a
from gelvo.numbers.interval import NoValue
from gelvo.simplifying.search import simplify
from gelvo.solving.roots import Root
from gelvo.solving.single.powers import undo_power
from gelvo.solving.single.work import Work

SIMPLE = 60  # the largest denominator of a fraction that is looked for


def lambert(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """k*(a*x + b)^p = exp(c*x + d), a*x + b = k*ln(c*x + d), over the reals."""
    if not solver.real:
        return None
    found = _power_and_exponential(solver, g, depth)
    return _linear_and_logarithm(solver, g, depth) if found is None else found


def _power_and_exponential(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """E = k*(x + b)^p with E = exp(c*x): (x + b)*exp(-c*x/p) is one of the p-th roots of 1/k."""
    x = solver.unknown
    mark = solver.facts.new_name("E", g)
    exponentials = _exponentials_in(solver, g)
    rate = _marked(exponentials, mark, x) if exponentials else None
    if rate is None:
        return None
    top: Expression = factored(substitute(g, rate.table))
    if isinstance(top, Product):  # a power of the exponential alone is never zero
        top = multiply_all([f for f in top.factors if not (f is mark or (isinstance(f, Power) and f.base is mark))])
    halves = uni.linear_parts(expand(top), mark)
    if halves is None:
        return None
    line = _power_of_line(factored(-halves[1] / halves[0]), x)
    if line is None:
        return None
    result: list[Root] = []
    for root in undo_power(solver, line.exponent, factored(1 / line.factor), depth):
        for found in _product_roots(solver, line.shift, -rate.rate / number(line.exponent), root.value):
            result.append(found._replace(conditions=(*root.conditions, *found.conditions)))
    return result


class _Marked(NamedTuple):
    """The rate c of exp(c*x), and each exponential as a power of that one."""

    rate: Expression
    table: dict[Node, Expression]


def _marked(exponentials: dict[Node, Expression], mark: Name, x: Name) -> _Marked | None:
    rate: Expression | None = None
    table: dict[Node, Expression] = {}
    for node, exponent in exponentials.items():
        parts = uni.linear_parts(exponent, x)
        if parts is None:
            return None
        rate = parts[0] if rate is None else rate
        share = uni.lowest_terms(parts[0] / rate)
        if share not in (ONE, number(-1)):
            return None
        table[node] = power(mark, share) * EXP(parts[1])
    return None if rate is None else _Marked(rate, table)


class _Line(NamedTuple):
    """factor*(x + shift)^exponent."""

    factor: Expression
    shift: Expression
    exponent: mpq


def _power_of_line(e: Expression, x: Name) -> _Line | None:
    """A formula as a power of one line in x, or None."""
    pieces = factors_in(e)
    moving = [f for f in pieces if contains(f, x)]
    factor = e / multiply_all(moving)
    exponent, shift = mpq(0), None
    for piece in moving:
        base, k = base_and_exponent(piece)
        line = uni.linear_parts(base, x)
        if line is None or not k.is_rational:
            return None
        here = uni.lowest_terms(line[1] / line[0])
        if shift is not None and here is not shift:
            return None
        shift, exponent, factor = here, exponent + k.rational, factor * power(line[0], k)
    return None if shift is None or not exponent else _Line(factor, shift, exponent)


def argument_in_power(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """x*exp(x^2) = 1: a new unknown for the power of x in the exponents, with x its root of either sign; over the reals."""
    x = solver.unknown
    exponents = [n.arguments[0] for n in postorder(g) if is_a(n, EXP, LN) and contains(n, x)]
    exponents += [n.exponent for n in postorder(g) if isinstance(n, Power) and contains(n.exponent, x)]
    spacing = _common_spacing(exponents, x)
    if not solver.real or spacing is None:
        return None
    result: list[Root] = []
    for sign in (1, -1):
        u = solver.facts.new_name("u", g, *solver.taken)
        place = sign * power(u, number(mpq(1, spacing)))
        for root in solver.inner(substitute(g, {x: place}), u, depth):
            if root.value is x:
                raise NotSolved(f"a whole range of {x} solves")
            inside = solver.condition(relation("<=", ZERO, root.value))
            if inside is not None:
                result.append(root._replace(value=substitute(place, {u: root.value}), conditions=(*root.conditions, *inside)))
    return result


def _common_spacing(exponents: list[Expression], x: Name) -> int | None:
    """The k >= 2 with all exponents linear in x^k."""
    found: set[int] = set()
    for exponent in exponents:
        coefficients = uni.coefficients_of(exponent, x)
        if coefficients is None or any(c is not ZERO for c in coefficients[1:-1]):
            return None
        found.add(len(coefficients) - 1)
    return found.pop() if len(found) == 1 and min(found) > 1 else None


def _exponentials_in(solver: Work, g: Expression) -> dict[Node, Expression]:
    """The exponentials with the unknown in the exponent alone, with that exponent to the base of exp."""
    x = solver.unknown
    found: dict[Node, Expression] = {}
    for node in postorder(g):
        if is_a(node, EXP) and contains(node, x):
            found[node] = node.arguments[0]
        elif isinstance(node, Power) and contains(node.exponent, x) and not contains(node.base, x):
            found[node] = node.exponent * LN(node.base)
            solver.need(relation("<", ZERO, node.base))
    return found


def _product_roots(solver: Work, b: Expression, c: Expression, e: Expression) -> list[Root]:
    """The x with (x + b)*exp(c*x) = e: c*x + c*b = W(c*e*exp(c*b))."""
    solver.need(nonzero(c))
    solver.roads["Lambert's W"] = None
    shift = factored(c * b)
    outer = factored(c * e)
    z = outer * EXP(shift)
    found: list[Root] = []
    for w, conditions in _branches(solver, z, outer, shift, c):
        found.append(Root((w - shift) / c, conditions))
    return found


def _branches(
    solver: Work, z: Expression, outer: Expression, shift: Expression, rate: Expression
) -> list[tuple[Expression, tuple[Condition, ...]]]:
    """The real w with w*exp(w) = z, exact values first."""
    facts = solver.facts
    known = _exact(z, outer, shift, rate)
    if facts.holds(relation("<=", ZERO, z)):
        return [(known[0] if known else LAMBERTW(z), ())]
    lowest = -EXP(number(-1))
    reaches = facts.holds(relation("<=", lowest, z))
    if reaches is False:
        return []
    conditions: tuple[Condition, ...] = () if reaches else (relation("<=", lowest, z),)
    upper: Expression = LAMBERTW(z)
    lower: Expression = LAMBERTW_LOWER(z)
    for w in known:
        if facts.is_nonnegative(w + 1):
            upper = w
        elif facts.is_negative(w + 1):
            lower = w
    if facts.holds(relation("<", z, ZERO)):
        return [(upper, conditions), (lower, conditions)]
    return [(upper, conditions), (lower, (*conditions, relation("<", z, ZERO)))]


def _exact(z: Expression, outer: Expression, shift: Expression, rate: Expression) -> list[Expression]:
    """Values w with w*exp(w) = z that can be read off: z = m*exp(m), a multiple of a logarithm in z, or a simple rational unknown."""
    found: list[Expression] = []
    if factored(outer - shift) is ZERO:
        found.append(shift)
    if names(z):
        return found
    logarithms = [n for n in postorder(z) if is_a(n, LN)][:2]
    tried = [_with_rational_unknown(builder(z), shift, rate) for builder in (LAMBERTW, LAMBERTW_LOWER)]
    tried += [number(mpq(top, bottom)) * ln for ln in logarithms for bottom in (1, 2, 3) for top in range(-12, 13) if top]
    for w in tried:
        if w is not None and w not in found and _near(w * EXP(w), z) and is_zero(w * EXP(w) - z):
            found.append(w)
    return found


def _with_rational_unknown(w: Expression, shift: Expression, rate: Expression) -> Expression | None:
    """rate*x + shift for the simple fraction x that is next to where it is w; None where there is none near."""
    try:
        place = enclose((w - shift) / rate, {}, 80)
    except (NoValue, DomainError):
        return None
    if place.imag is not None or not place.real.finite:
        return None
    middle = mpq(place.real.low)
    simple = mpq(Fraction(int(middle.numerator), int(middle.denominator)).limit_denominator(SIMPLE))
    return rate * number(simple) + shift if abs(simple - middle) < mpq(1, 10**15) else None


def _near(a: Expression, b: Expression) -> bool:
    return enclose(a - b, {}, 80).contains_zero()


def _linear_and_logarithm(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """a*x + b + k*ln(c*x + d): a new unknown v = ln(c*x + d); or a product u*ln(u) with u = exp(v)."""
    x = solver.unknown
    logarithms = list(dict.fromkeys(n for n in postorder(g) if is_a(n, LN) and contains(n, x)))
    if len(logarithms) != 1:
        return None
    inner = uni.linear_parts(logarithms[0].arguments[0], x)
    if inner is None:
        return None
    c, d = inner
    v = solver.facts.new_name("v", g, *solver.taken)
    inside = substitute(substitute(g, {logarithms[0]: v}), {x: (EXP(v) - d) / c})
    solver.need(nonzero(c))
    try:
        roots = solver.inner(expand(inside), v, depth, logarithms[0])
    except NotSolved:
        return None
    return [r if r.value is x else Root(_from_logarithm(r, c, d, solver), r.conditions, r.families) for r in roots]


def _from_logarithm(root: Root, c: Expression, d: Expression, solver: Work) -> Expression:
    """x where ln(c*x + d) is a root: exp(2 - W(exp(2))) is W(exp(2)) itself."""
    value = (EXP(root.value) - d) / c
    return value if root.families else simplify(value, solver.facts).expression
