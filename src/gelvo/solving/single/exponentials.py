"""Exponentials of several bases: one base for those that are powers of each other, one exponential for those whose ratios are."""

from __future__ import annotations

from collections.abc import Iterator
from math import lcm

from gmpy2 import mpq

from gelvo.deciding.equality import is_zero
from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import enclose
from gelvo.expression.building import multiply_all, number, power, relation, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Expression, Name, Node, Power, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.forms import univariate as uni
from gelvo.functions.named import EXP, LN, is_a
from gelvo.solving.roots import Root
from gelvo.solving.single.work import Work

HIGHEST = 4  # the powers that are tried
LARGEST = 10_000  # what is taken apart into primes
E = EXP(number(1))


def one_base(g: Expression, x: Name) -> Expression:
    """A formula with each base of an exponential that is a power of another one written by that one."""
    moving = [n for n in postorder(g) if isinstance(n, Power) and contains(n.exponent, x) and not names(n.base)]
    bases = list(dict.fromkeys(n.base for n in moving))
    if len(bases) < 2 or all(b.is_rational for b in bases):
        return g
    table: dict[Node, Expression] = {}
    leading: list[Expression] = []
    for base in bases:
        share = next(((lead, s) for lead in leading if (s := _share(base, lead)) is not None), None)
        if share is None:
            leading.append(base)
            continue
        table.update({n: power(share[0], number(share[1]) * n.exponent) for n in moving if n.base is base})
    return substitute(g, table) if table else g


def _share(base: Expression, lead: Expression) -> mpq | None:
    """The q with base = lead^q for positive numbers, or None."""
    for top in range(1, HIGHEST + 1):
        for bottom in range(1, HIGHEST + 1):
            for sign in (1, -1):
                gap = power(base, number(bottom)) - power(lead, number(sign * top))
                try:
                    if enclose(gap, {}, 80).contains_zero() and is_zero(gap):
                        return mpq(sign * top, bottom)
                except GelvoError:
                    return None
    return None


def exponential_sums(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """4^x + 6^x = 9^x: terms whose exponents differ by multiples of one are a polynomial in one exponential, here t = (3/2)^x.

    Each base is read as a product of primes, exp(x) as the power of a further one.
    """
    x = solver.unknown
    if not isinstance(g, Sum) or not solver.real:
        return None
    terms = [*((t, c) for t, c in g.items()), *([(number(1), g.constant)] if g.constant else [])]
    read = [rates_of(t, x) for t, _ in terms]
    if len(terms) < 3 or any(r is None for r in read):
        return None
    rates = [r for r in read if r is not None]
    gaps = [{p: rate.get(p, mpq(0)) - rates[0].get(p, mpq(0)) for p in {**rate, **rates[0]}} for rate in rates]
    unit = next((gap for gap in gaps if any(gap.values())), None)
    shares = [None if unit is None else _multiple(gap, unit) for gap in gaps]
    if unit is None or None in shares or sum(map(bool, unit.values())) < 2:
        return None  # of one prime alone the powers are those of one exponential already
    bottom = mpq(lcm(*(int(s.denominator) for s in shares if s is not None)))
    steps = [int(s * bottom) for s in shares if s is not None]
    if len(set(steps)) < 3:  # of two exponentials the logarithms are equal
        return None
    t = multiply_all([power(p, number(v / bottom) * x) if p is not E else EXP(number(v / bottom) * x) for p, v in unit.items()])
    u = solver.facts.new_name("u", g, *solver.taken)
    inside = total(
        number(c) * rest_of(term, x) * power(u, number(k - min(steps))) for (term, c), k in zip(terms, steps, strict=True)
    )
    solver.roads["a polynomial in one exponential"] = None
    roots = solver.inner(inside, u, depth, t)
    return list(_logarithms(solver, roots, growth({p: v / bottom for p, v in unit.items()})))


def _logarithms(solver: Work, roots: list[Root], rate: Expression) -> Iterator[Root]:
    """x for exp(rate*x) = value, where the value is positive."""
    for root in roots:
        positive = solver.condition(relation("<", ZERO, root.value))
        if positive is not None:
            yield Root(LN(root.value) / rate, (*root.conditions, *positive), root.families)


def rest_of(term: Expression, x: Name) -> Expression:
    """The factors of a term in which the unknown does not stand."""
    return multiply_all([f for f in factors_in(term) if not contains(f, x)])


def growth(rates: dict[Expression, mpq]) -> Expression:
    """The logarithm of the base that is raised to the power x."""
    return total(number(k) * (ONE if p is E else LN(p)) for p, k in rates.items())


def rates_of(term: Expression, x: Name) -> dict[Expression, mpq] | None:
    """The rational exponents of x by primes, of a product of exponentials; None where x stands elsewhere."""
    found: dict[Expression, mpq] = {}
    for factor in factors_in(term):
        if not contains(factor, x):
            continue
        base, exponent = (E, factor.arguments[0]) if is_a(factor, EXP) else base_and_exponent(factor)
        line = uni.linear_parts(exponent, x)
        if line is None or not line[0].is_rational or line[1] is not ZERO or contains(base, x):
            return None
        primes = {E: 1} if base is E else _primes(base)
        if primes is None:
            return None
        for p, k in primes.items():
            found[p] = found.get(p, mpq(0)) + k * line[0].rational
    return found


def _primes(base: Expression) -> dict[Expression, int] | None:
    """The primes of a positive fraction with their exponents; None for others, and where they are large."""
    if not base.is_rational or base.rational <= 0 or max(base.rational.numerator, base.rational.denominator) > LARGEST:
        return None
    found: dict[Expression, int] = {}
    for part, sign in ((int(base.rational.numerator), 1), (int(base.rational.denominator), -1)):
        p = 2
        while part > 1:
            while part % p == 0:
                part //= p
                found[number(p)] = found.get(number(p), 0) + sign
            p += 1
    return found


def _multiple(gap: dict[Expression, mpq], unit: dict[Expression, mpq]) -> mpq | None:
    """The q with gap = q*unit, or None."""
    lead = next(p for p, v in unit.items() if v)
    q = gap.get(lead, mpq(0)) / unit[lead]
    return q if all(gap.get(p, mpq(0)) == q * unit.get(p, mpq(0)) for p in {**gap, **unit}) else None
