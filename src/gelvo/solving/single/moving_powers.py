"""Equations with the unknown in bases and exponents: powers that are one, and equal powers."""

from __future__ import annotations

from itertools import product

from gelvo.expression.building import looks_negative, multiply_all, number, relation, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Expression, Name, Node, Number, Power, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.functions.named import EXP, LN, is_a
from gelvo.numbers.exact import Gaussian
from gelvo.solving.roots import Root
from gelvo.solving.single.inverse import isolate
from gelvo.solving.single.pieces import where
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
        positive = tuple(relation("<", ZERO, sign * b) for b, sign in zip(moving, signs, strict=True))
        found.extend(where(solver, expand(substitute(g, table)), positive, depth))
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


def powers_of_one_base(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """x^n = a*x as x^(n - 1) = a, with an exponent in letters; where the base is zero is looked at by itself."""
    sides = _two_sides(g)
    if sides is None or not all(contains(s, solver.unknown) for s in sides):
        return None
    moving = [f for f in factors_in(sides[0] / sides[1]) if contains(f, solver.unknown)]
    if len(moving) != 1 or not isinstance(moving[0], Power) or not names(moving[0].exponent):
        return None
    if contains(moving[0].exponent, solver.unknown):
        return None
    solver.roads["powers of one base on one side"] = None
    return isolate(solver, moving[0] - moving[0] * sides[1] / sides[0], depth + 1)


def equal_powers(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """2^x = x^2: one side moves in its base, the other in its exponent; only over the reals."""
    if not solver.real:
        return None
    sides = _two_sides(g)
    x = solver.unknown
    moving = [n for n in postorder(g) if (isinstance(n, Power) and contains(n.exponent, x)) or (is_a(n, EXP) and contains(n, x))]
    return None if sides is None or not moving else _by_logarithms(solver, *sides, depth)
