"""Logarithms: one base for all, exponentials of both sides, and logarithms of products as sums."""

from __future__ import annotations

import gmpy2
from gmpy2 import mpq

from gelvo.expression.building import multiply_all, number, power, total
from gelvo.expression.constants import ONE
from gelvo.expression.nodes import Call, Expression, Node, Number, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, postorder, substitute, transform
from gelvo.forms.fractions import factored
from gelvo.functions.named import ABS, EXP, LN, LOG2, LOG10, FunctionName, is_a
from gelvo.numbers.exact import Gaussian
from gelvo.solving.roots import Root
from gelvo.solving.single.work import Work

BASES = {LOG10: number(10), LOG2: number(2)}


def logarithms(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """A sum of whole multiples of logarithms equal to a constant: exponentials of both sides; of several bases ln is the one."""
    natural = transform(g, _natural)
    if natural is not g:
        return solver.solve(natural, depth + 1)
    if not isinstance(g, Sum):
        return None
    inside: list[Expression] = []
    rest: list[Expression] = [number(g.constant)]
    for term, coefficient in g.items():
        if not contains(term, solver.unknown):
            rest.append(multiply_all((term, number(coefficient))))
        elif is_a(term, LN) and not isinstance(coefficient, Gaussian):
            inside.append(power(term.arguments[0], number(coefficient)))
        else:
            return _with_constant_rates(solver, g, depth)
    solver.implied = True
    solver.roads["exponentials of both sides, candidates put back"] = None
    return solver.solve(multiply_all(inside) - EXP(-total(rest)), depth + 1)


def _natural(node: Node) -> Node:
    """log10(u) as ln(u)/ln(10)."""
    if isinstance(node, Call) and node.name in BASES:
        return LN(node.arguments[0]) / LN(BASES[FunctionName(node.name)])
    if is_a(node, LN) and node.arguments[0].is_rational and node.arguments[0].rational > 1:  # ln(100) is 2*ln(10)
        value = node.arguments[0].rational
        for k in range(int(value.numerator).bit_length(), 1, -1):
            root, exact = gmpy2.iroot(value.numerator, k)
            if exact and value.denominator == 1:
                return k * LN(number(mpq(root)))
    return node


def _with_constant_rates(solver: Work, g: Sum, depth: int) -> list[Root] | None:
    """c*ln(u) + c*ln(v) + …, with the same c without the unknown in all: divided by it."""
    moving = [t for t, _ in g.items() if contains(t, solver.unknown)]
    shares = []
    for term in moving:
        logarithm = [f for f in factors_in(term) if is_a(f, LN) and contains(f, solver.unknown)]
        share = term / logarithm[0] if len(logarithm) == 1 else None
        if share is None or contains(share, solver.unknown):
            return None
        shares.append(share)
    if len(set(shares)) != 1 or isinstance(shares[0], Number) or not solver.facts.is_nonzero(shares[0]):
        return None
    divided = total([multiply_all((t / shares[0], number(c))) for t, c in g.items()] + [number(g.constant) / shares[0]])
    return None if divided is g else solver.solve(divided, depth + 1)


def split_logarithms(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """ln(x^2) as 2*ln(abs(x)), ln(a*x) as ln(a) + ln(x): then the same logarithm may stand in several places; over the reals."""
    if not solver.real:
        return None
    table = {n: _split(solver, n) for n in postorder(g) if is_a(n, LN) and contains(n, solver.unknown)}
    changed = {n: e for n, e in table.items() if e is not n}
    if not changed:
        return None
    solver.implied = True
    solver.roads["logarithms of products as sums, candidates put back"] = None
    return solver.solve(substitute(g, changed), depth + 1)


def _split(solver: Work, node: Call) -> Expression:
    """The logarithm of a product whose whole is positive: each factor by its size."""
    inside = factored(node.arguments[0])
    pieces = factors_in(inside)
    parts = [base_and_exponent(f) for f in pieces]
    factor = inside / multiply_all(pieces)  # a number
    alone = len(pieces) == 1 and solver.facts.is_positive(factor)
    if len(pieces) == 1 and parts[0][1] is ONE and (not alone or factor is ONE):
        return node
    found: list[Expression] = [LN(ABS(factor))]
    for base, exponent in parts:
        if is_a(base, EXP) or (not exponent.is_rational and solver.facts.is_positive(base)):
            found.append(exponent * (base.arguments[0] if is_a(base, EXP) else LN(base)))
            continue
        if not exponent.is_rational:
            return node
        even = exponent.rational.denominator == 1 and exponent.rational % 2 == 0
        plain = alone or solver.facts.is_positive(base)
        found.append(exponent * LN(base if plain and not even else ABS(base)))
    return total(found)
