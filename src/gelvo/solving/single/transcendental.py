"""Equations with the unknown in bases and exponents: powers that are one, equal powers, and Lambert's W.

Source: R. Corless, G. Gonnet, D. Hare, D. Jeffrey, D. Knuth, "On the Lambert W function" (1996).
"""

from __future__ import annotations

from itertools import product

from gmpy2 import mpq

from gelvo.deciding.equality import is_zero
from gelvo.errors import NotSolved
from gelvo.evaluation.enclose import enclose
from gelvo.expression.building import looks_negative, multiply_all, number, power, relation, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Condition, Expression, Name, Node, Number, Power, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.facts.conditions import nonzero
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import EXP, LAMBERTW, LAMBERTW_LOWER, LN, is_a
from gelvo.numbers.exact import Gaussian
from gelvo.solving.roots import Root
from gelvo.solving.single.work import Work


def moving_powers(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """base^exponent with the unknown in both, before the exponents are taken apart; only over the reals."""
    x = solver.unknown
    if not solver.real or not isinstance(g, Sum) or not any(_moves(n, x) for n in postorder(g)):
        return None
    sides = _two_sides(g)
    if sides is None:
        return None
    left, right = sides
    if not any(_moves(n, x) for n in postorder(left / right)):
        return None  # the power is the same on both sides: a factor like any other
    same = _power_that_is_one(left, right, x)
    if same is not None:
        return _one(solver, *same, depth)
    return _by_logarithms(solver, left, right, depth)


def vanishes_by_base(node: Node, x: Name) -> bool:
    """Whether a node is a power of x whose exponent is no number: it may vanish, or have no value, where its base is zero."""
    return isinstance(node, Power) and contains(node.base, x) and bool(names(node.exponent))


def bases_that_vanish(solver: Work, g: Expression) -> list[tuple[Root, Expression]]:
    """Where the base of such a power is zero, with what g is there: no rule for powers holds, so that these places are put back."""
    x = solver.unknown
    powers = [n for n in postorder(g) if isinstance(n, Power) and vanishes_by_base(n, x)]
    solver.implied = solver.implied or bool(powers)
    found: list[tuple[Root, Expression]] = []
    for base in dict.fromkeys(n.base for n in powers):
        there = substitute(g, {n: ZERO for n in powers if n.base is base})
        found.extend((root, there) for root in solver.solve(base))
    return found


def _two_sides(g: Expression) -> tuple[Expression, Expression] | None:
    """(left, right) of a sum of two terms that is zero, the left one without a minus sign."""
    if not isinstance(g, Sum):
        return None
    terms = [multiply_all((t, number(c))) for t, c in g.items()]
    if g.constant:
        terms.append(number(g.constant))
    if len(terms) != 2:
        return None
    left, right = terms[0], -terms[1]
    return (-left, -right) if looks_negative(left) else (left, right)


def _moves(node: Node, x: Name) -> bool:
    """Whether a node is base^exponent with x in both."""
    return isinstance(node, Power) and contains(node.base, x) and contains(node.exponent, x)


def _power_that_is_one(left: Expression, right: Expression, x: Name) -> tuple[Expression, Expression] | None:
    """(base, exponent) where left = right says base^exponent = 1, if the base is not zero."""
    for one, other in ((left, right), (right, left)):
        if _moves(one, x) and isinstance(one, Power):
            if other is ONE:
                return one.base, one.exponent
            if other is one.base:
                return one.base, one.exponent - 1
            if isinstance(other, Power) and other.base is one.base:
                return one.base, one.exponent - other.exponent
    return None


def _one(solver: Work, base: Expression, exponent: Expression, depth: int) -> list[Root]:
    """base^exponent = 1 over the reals: the base is 1, the exponent is 0, or the base is -1 and the exponent even."""
    solver.implied = True
    solver.roads["a power is one: its base is 1, its exponent 0, or its base -1 with an even exponent; candidates put back"] = (
        None
    )
    found: list[Root] = []
    for case in (base - 1, exponent, base + 1):
        if contains(case, solver.unknown):
            found.extend(solver.solve(case, depth + 1))
    return found


def _by_logarithms(solver: Work, left: Expression, right: Expression, depth: int) -> list[Root] | None:
    """Logarithms of both sides where both are products of powers; each base that moves may have either sign."""
    one, other = (_logarithm(e, solver.unknown) for e in (left, right))
    if one is None or other is None:
        return None
    (first, bases), (second, more) = one, other
    moving = list(dict.fromkeys([*bases, *more]))
    solver.implied = True
    solver.roads["logarithms of both sides, candidates put back"] = None
    g = first - second
    found: list[Root] = []
    for signs in product((1, -1), repeat=len(moving)):
        table = {LN(b): LN(sign * b) for b, sign in zip(moving, signs, strict=True)}
        found.extend(solver.solve(expand(substitute(g, table)), depth + 1))
    return found


def _logarithm(e: Expression, x: Name) -> tuple[Expression, list[Expression]] | None:
    """(ln of the size of a product of powers, the bases that move)."""
    pieces: list[Expression] = []
    bases: list[Expression] = []
    for f in factors_in(e):
        base, k = base_and_exponent(f)
        if is_a(f, EXP):
            pieces.append(f.arguments[0])
            continue
        if contains(base, x):
            if uni.linear_parts(base, x) is None:
                return None
            bases.append(base)
        pieces.append(k * LN(base))
    if isinstance(e, Product):
        if isinstance(e.coefficient, Gaussian) or e.coefficient < 0:
            return None
        pieces.append(LN(number(e.coefficient)))
    if not isinstance(e, Product) and isinstance(e, Number) and (not e.is_rational or e.rational <= 0):
        return None
    return total(pieces), bases


def lambert(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """(a*x + b)*exp(c*x + d) = e, a*x + b = k*exp(c*x + d), a*x + b = k*ln(c*x + d), over the reals."""
    if not solver.real:
        return None
    found = _linear_and_exponential(solver, g)
    if found is None:
        found = _linear_and_logarithm(solver, g, depth)
    return _equal_powers(solver, g, depth) if found is None else found


def _equal_powers(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """2^x = x^2: one side moves in its base, the other in its exponent."""
    sides = _two_sides(g)
    moving = [n for n in postorder(g) if isinstance(n, Power) and contains(n.exponent, solver.unknown)]
    return None if sides is None or not moving else _by_logarithms(solver, *sides, depth)


def _linear_and_exponential(solver: Work, g: Expression) -> list[Root] | None:
    x = solver.unknown
    mark = solver.facts.new_name("E", g)
    exponentials = _exponentials_in(solver, g)
    if not exponentials:
        return None
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
    assert rate is not None
    top = replaced = factored(substitute(g, table))
    if isinstance(replaced, Product):  # a power of the exponential alone is never zero
        top = multiply_all([f for f in replaced.factors if not (f is mark or (isinstance(f, Power) and f.base is mark))])
    halves = uni.linear_parts(expand(top), mark)
    if halves is None:
        return None
    slope, rest = halves
    for one, other, c in ((slope, rest, rate), (rest, slope, -rate)):
        # (a*x + b)*exp(c*x) + e = 0
        line = uni.linear_parts(one, x)
        if line is not None and not contains(other, x):
            return _product_roots(solver, line[0], line[1], c, other)
    return None


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


def _product_roots(solver: Work, a: Expression, b: Expression, c: Expression, e: Expression) -> list[Root]:
    """The x with (a*x + b)*exp(c*x) = -e: c*x + c*b/a = W(-(c*e/a)*exp(c*b/a))."""
    for needed in (a, c):
        solver.need(nonzero(needed))
    solver.roads["Lambert's W"] = None
    shift = factored(c * b / a)
    outer = factored(-c * e / a)
    z = outer * EXP(shift)
    found: list[Root] = []
    for w, conditions in _branches(solver, z, outer, shift):
        found.append(Root((w - shift) / c, conditions))
    return found


def _branches(
    solver: Work, z: Expression, outer: Expression, shift: Expression
) -> list[tuple[Expression, tuple[Condition, ...]]]:
    """The real w with w*exp(w) = z, exact values first."""
    facts = solver.facts
    known = _exact(z, outer, shift)
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


def _exact(z: Expression, outer: Expression, shift: Expression) -> list[Expression]:
    """Values w with w*exp(w) = z that can be read off: z = m*exp(m), or a rational multiple of a logarithm in z."""
    found: list[Expression] = []
    if factored(outer - shift) is ZERO:
        found.append(shift)
    if names(z):
        return found
    logarithms = [n for n in postorder(z) if is_a(n, LN)]
    for ln in logarithms[:2]:
        for bottom in (1, 2, 3):
            for top in range(-12, 13):
                w = number(mpq(top, bottom)) * ln
                if top and w not in found and _near(w * EXP(w), z) and is_zero(w * EXP(w) - z):
                    found.append(w)
    return found


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
        roots = solver.inner(expand(inside), v, depth)
    except NotSolved:
        return None
    if [r.value for r in roots] == [x]:
        return roots
    return [Root((EXP(r.value) - d) / c, r.conditions, r.families) for r in roots]
