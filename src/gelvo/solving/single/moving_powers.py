"""Equations with the unknown in bases and exponents: powers that are one, and equal powers."""

from __future__ import annotations

from itertools import product
from typing import NamedTuple

from gelvo.errors import DomainError
from gelvo.expression.building import looks_negative, multiply_all, number, relation, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Condition, Expression, Name, Node, Power, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.facts.vanishing import letter_where_zero
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import ABS, EXP, LN, is_a
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
    """Logarithms of both sides where both are products of powers; each base that moves may have either sign.

    What does not move has the sign of the bases to their powers, where these are whole; else candidates are put back.
    """
    parts = _logarithm(left / right, solver.unknown)
    if parts is None:
        return None
    solver.implied = True
    solver.roads["logarithms of both sides, candidates put back"] = None
    found: list[Root] = []
    for signs in product((1, -1), repeat=len(parts.bases)):
        pieces = [k * LN(sign * b) for (b, k), sign in zip(parts.bases, signs, strict=True)]
        turned = [k for (_, k), sign in zip(parts.bases, signs, strict=True) if sign < 0]
        whole = all(k.is_whole for k in turned)
        rest = number(-1 if sum(int(k.rational) for k in turned) % 2 else 1) * parts.rest if whole else ABS(parts.rest)
        positive = tuple(relation("<", ZERO, sign * b) for (b, _), sign in zip(parts.bases, signs, strict=True))
        g = expand(total([*pieces, parts.exponents, LN(rest)]))
        found.extend(_for_positive(solver, rest, g, positive, depth))
    return [*found, *_at_zero(solver, parts, found, depth)]


def _for_positive(solver: Work, rest: Expression, g: Expression, when: tuple[Condition, ...], depth: int) -> list[Root]:
    """The roots of g = 0 where conditions hold and a formula without the unknown is positive."""
    needed = solver.condition(relation("<", ZERO, rest))
    before = solver.facts
    if needed is None:
        return []
    try:
        solver.facts = before.with_facts(needed)
        roots = where(solver, g, when, depth)
    except DomainError:  # it is positive nowhere
        return []
    finally:
        solver.facts = before
    return [r._replace(conditions=tuple(dict.fromkeys((*needed, *r.conditions)))) for r in roots]


def _at_zero(solver: Work, parts: _Logarithm, found: list[Root], depth: int) -> list[Root]:
    """Where what does not move is zero the bases are, and a formula for the other places may tell so too."""
    ways = {k.is_rational and (k.rational > 0) - (k.rational < 0) for _, k in parts.bases}
    if len(ways) != 1 or not (way := ways.pop()):
        return []
    size = factored(1 / parts.rest if way > 0 else parts.rest)
    needed = solver.condition(relation("=", size, ZERO)) if names(size) else None
    found_letter = letter_where_zero(size, solver.facts)
    result: list[Root] = []
    for root in [r for b, _ in parts.bases for r in solver.solve(b, depth + 1)] if needed else []:
        same = [f.value for f in found if found_letter and _value_at(f.value, found_letter) is root.value]
        result += [Root(value, (*(needed or ()), *root.conditions)) for value in same[:1] or [root.value]]
    return result


def _value_at(e: Expression, place: tuple[Name, Expression]) -> Expression | None:
    """A formula with a value for a letter; None where it has no value there."""
    try:
        return substitute(e, dict([place]))
    except DomainError:
        return None


class _Logarithm(NamedTuple):
    """ln of the size of a product of powers: the exponents that move, the bases that move with their powers, and what does not move."""

    exponents: Expression
    bases: list[tuple[Expression, Expression]]
    rest: Expression


def _logarithm(e: Expression, x: Name) -> _Logarithm | None:
    pieces: list[Expression] = []
    powers: dict[Expression, Expression] = {}
    rest: list[Expression] = []
    for f in factors_in(e):
        base, k = base_and_exponent(f)
        if not contains(f, x):
            rest.append(f)
        elif is_a(f, EXP):
            pieces.append(f.arguments[0])
        elif contains(base, x):
            if uni.linear_parts(base, x) is None:
                return None
            powers[base] = powers.get(base, ZERO) + k
        else:
            pieces.append(k * LN(base))
    if isinstance(e, Product):
        if isinstance(e.coefficient, Gaussian):
            return None
        rest.append(number(e.coefficient))
    return _Logarithm(total(pieces), list(powers.items()), multiply_all(rest))


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
