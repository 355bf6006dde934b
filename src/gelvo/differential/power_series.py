"""Solutions of linear equations as power series about ordinary and regular singular points, with logarithms where exponents ask for them.

With L[x^r] = the sum of P_s(r)*x^(r + s), the lowest of these, P, is the indicial polynomial, and
P(n + r)*c_n = -(P_1(n - 1 + r)*c_(n-1) + P_2(n - 2 + r)*c_(n-2) + …).
Source: G. Frobenius, "Ueber die Integration der linearen Differentialgleichungen durch Reihen" (1873).
"""

from __future__ import annotations

import itertools
from typing import NamedTuple

from gelvo.deadline import checkpoint
from gelvo.differential.constant_coefficients import linear_terms
from gelvo.differential.problem import Problem
from gelvo.differential.second_order.singular_places import poles, zeros
from gelvo.errors import NotSolved
from gelvo.evaluation.enclose import enclose
from gelvo.expression.building import applied, multiply_all, name, number, power, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Condition, Expression, Name, Number, Product
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, has_imaginary_unit, names, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import ABS, FACTORIAL, GAMMA, LN
from gelvo.functions.support import not_whole
from gelvo.simplifying.search import simplify

TERMS_IN_EPSILON = 3
Epsilon = list[Expression]  # a power series in a small change of the exponent, by its first coefficients


class Branch(NamedTuple):
    """One solution: its exponent, the coefficients c_0, c_1, … and those before the logarithm, the general one where it has a form."""

    exponent: Expression
    coefficients: list[Expression]
    before_logarithm: list[Expression]
    general: Expression | None  # of x^(exponent + step*k), by k
    step: int

    def polynomial(self, h: Expression, through: int) -> Expression:
        """The terms up to h^(exponent + through)."""
        front = power(h, self.exponent)
        plain = total([c * h**n for n, c in enumerate(self.coefficients[: through + 1])])
        rough = total([c * h**n for n, c in enumerate(self.before_logarithm[: through + 1])])
        return front * plain if rough is ZERO else front * (plain + rough * LN(h))


class PowerSeries(NamedTuple):
    """The point, all branches, the recurrence for each exponent, and the distance to the nearest singular point (None: there is none)."""

    about: Expression
    branches: list[Branch]
    recurrence: tuple[Expression, Expression]  # c(n) and what it is, with the letter r
    letters: tuple[Name, Name]  # n, r
    radius: Expression | None
    conditions: tuple[Condition, ...]


class Recurrence:
    """P_0, P_1, …: polynomials in the exponent."""

    def __init__(self, table: dict[int, Expression], x: Name, r: Name) -> None:
        shifts: dict[int, list[Expression]] = {}
        for k, coefficient in table.items():
            column = uni.coefficients_of(expand(coefficient), x)
            if column is None:
                raise NotSolved("power series are found for equations with rational coefficients")
            falling = multiply_all([r - number(j) for j in range(k)])
            for j, c in enumerate(column):
                if c is not ZERO:
                    shifts.setdefault(j - k, []).append(c * falling)
        low = min(shifts)
        self.r, self.k = r, name(f"{x.name}_k" if x.name == "k" else "k", "integer")
        self.parts = {s - low: factored(total(terms)) for s, terms in sorted(shifts.items())}
        self.parts = {s: p for s, p in self.parts.items() if p is not ZERO}

    @property
    def indicial(self) -> Expression:
        return self.parts[0]

    def at(self, shift: int, place: Expression) -> Expression:
        return uni.lowest_terms(substitute(self.parts[shift], {self.r: place}))

    def at_near(self, shift: int, place: Expression) -> Epsilon:
        """P_shift(place + epsilon)."""
        found, p = [], expand(self.parts[shift])
        for k in range(TERMS_IN_EPSILON):
            found.append(uni.lowest_terms(substitute(p, {self.r: place})))
            p = differentiate(p, self.r) / number(k + 1)
        return found


def power_series(problem: Problem, about: Expression, count: int) -> PowerSeries:
    """All solutions about a point, each with count + 1 coefficients."""
    x = problem.variable
    parts = linear_terms(problem, False)
    if parts is None or parts[0].right is not ZERO:
        raise NotSolved("power series are found for linear equations without a term of its own")
    moved = {k: factored(substitute(c, {x: x + about})) for (_, k), c in parts[0].table.items()}
    common: Expression = ONE
    for c in moved.values():
        common = common * quotient_parts(factored(c * common))[1]
    table = {k: factored(c * common) for k, c in moved.items()}
    n, r = problem.facts.new_name("n", *problem.formulas), problem.facts.new_name("r", *problem.formulas)
    work = Recurrence(table, x, r)
    order = max(table)
    exponents = _exponents(work, order, problem.facts)
    ordinary = substitute(factored(table[order]), {x: ZERO}) is not ZERO
    branches = _ordinary(work, order, count) if ordinary else _singular(work, exponents, count)
    rest = [factored(-work.at(s, n - s + r) / work.at(0, n + r)) * applied("c", (n - s,), (0,)) for s in work.parts if s]
    apart = [] if ordinary else [a - b for a, b in itertools.combinations(exponents, 2) if names(uni.lowest_terms(a - b))]
    needed = problem.facts.open_conditions([not_whole(uni.lowest_terms(gap)) for gap in apart])
    return PowerSeries(about, branches, (applied("c", (n,), (0,)), total(rest)), (n, r), _radius(table[order], x), tuple(needed))


def _exponents(work: Recurrence, order: int, facts: Facts) -> list[Expression]:
    column = uni.coefficients_of(expand(work.indicial), work.r)
    if column is None or len(column) - 1 < order:
        raise NotSolved("the point is an irregular singular one: there are fewer exponents than the order of the equation")
    found: list[Expression] = []
    for piece in factors_in(work.indicial):
        base, times = base_and_exponent(piece)
        parts = uni.coefficients_of(expand(base), work.r)
        if not contains(base, work.r) or parts is None:
            continue
        whole = int(times.rational) if isinstance(times, Number) else 1
        if len(parts) > 3:
            raise NotSolved(f"the exponents, zeros of {work.indicial}, have no short form")
        found += zeros(parts, facts) * whole
    if any(has_imaginary_unit(e) for e in found):
        raise NotSolved("the exponents are complex: the series has waves of the logarithm, which are not told here")
    return found


def _ordinary(work: Recurrence, order: int, count: int) -> list[Branch]:
    """One solution for each of the first derivatives: 1 there, 0 in the others."""
    found = []
    for first in range(order):
        column = _continued(work, [ONE if n == first else ZERO for n in range(order)], ZERO, count)
        general, step = _general(work, number(first))
        found.append(Branch(ZERO, column[: count + 1], [], general, step))
    return found


def _continued(work: Recurrence, start: list[Expression], exponent: Expression, count: int) -> list[Expression]:
    """The first coefficients, and those that the recurrence gives from them up to the one of number `count`."""
    column = list(start)
    for n in range(len(start), count + 1):
        checkpoint()
        rest = [work.at(s, exponent + number(n - s)) * column[n - s] for s in work.parts if s and n >= s]
        column.append(uni.lowest_terms(-total(rest) / work.at(0, exponent + number(n))))
    return column


def _singular(work: Recurrence, exponents: list[Expression], count: int) -> list[Branch]:
    found = []
    for k, exponent in enumerate(exponents):
        above = [_whole(e - exponent) for j, e in enumerate(exponents) if j != k and (j < k or e is not exponent)]
        steps = [a for a in above if a is not None and a >= 0]
        if not steps:
            general, step = _general(work, exponent)
            found.append(Branch(exponent, _continued(work, [ONE], exponent, count), [], general, step))
        elif len(exponents) == 2:
            found.append(_with_logarithm(work, exponent, steps[0], count))
        else:
            raise NotSolved("several exponents differ by whole numbers: that is told for equations of second order")
    return found


def _whole(e: Expression) -> int | None:
    e = uni.lowest_terms(e)
    return int(e.rational) if isinstance(e, Number) and e.is_whole else None


def _with_logarithm(work: Recurrence, exponent: Expression, gap: int, count: int) -> Branch:
    """The derivative by the exponent of a series with c_0 = epsilon (1 for a double exponent)."""
    start: Epsilon = [ZERO, ONE, ZERO] if gap else [ONE, ZERO, ZERO]
    column: list[Epsilon] = [start]
    for n in range(1, count + 1):
        checkpoint()
        rest: Epsilon = [ZERO] * TERMS_IN_EPSILON
        for s in work.parts:
            if s and n >= s:
                rest = _sum(rest, _product(work.at_near(s, exponent + number(n - s)), column[n - s]))
        column.append(_quotient([-c for c in rest], work.at_near(0, exponent + number(n))))
    plain, rough = [c[1] for c in column], [c[0] for c in column]
    return Branch(exponent, plain, [] if all(c is ZERO for c in rough) else rough, None, 1)


def _sum(a: Epsilon, b: Epsilon) -> Epsilon:
    return [uni.lowest_terms(x + y) for x, y in zip(a, b, strict=True)]


def _product(a: Epsilon, b: Epsilon) -> Epsilon:
    return [uni.lowest_terms(total([a[j] * b[k - j] for j in range(k + 1)])) for k in range(TERMS_IN_EPSILON)]


def _quotient(a: Epsilon, b: Epsilon) -> Epsilon:
    """a/b, where b may vanish to first order and a with it; the last coefficient is lost then, and is not asked for."""
    if b[0] is ZERO:
        a, b = [*a[1:], ZERO], [*b[1:], ZERO]
    found: Epsilon = []
    for k in range(TERMS_IN_EPSILON):
        rest = a[k] - total([found[j] * b[k - j] for j in range(k)])
        found.append(uni.lowest_terms(rest / b[0]))
    return found


def _general(work: Recurrence, exponent: Expression) -> tuple[Expression | None, int]:
    """The coefficient of x^(exponent + step*k) of a recurrence with two terms, by factorials; None for others."""
    shifts = [s for s in work.parts if s]
    if len(shifts) != 1:
        return None, 1
    (step,) = shifts
    k = work.k
    front: Expression = ONE
    pieces: list[tuple[Expression, Expression]] = []
    for p, place, sign in (
        (work.parts[step], exponent + number(step) * (k - 1), 1),
        (work.parts[0], exponent + number(step) * k, -1),
    ):
        whole = factored(substitute(p, {work.r: place}))
        front = front * power(number(whole.coefficient if isinstance(whole, Product) else 1), number(sign))
        for piece in factors_in(whole):
            base, times = base_and_exponent(piece)
            parts = uni.linear_parts(expand(base), k)
            if not contains(base, k):
                front = front * power(piece, number(sign))
            elif parts is None or not isinstance(times, Number) or names(parts[0]) or _ends(parts):
                return None, step
            else:
                front = front * power(parts[0], times * sign)
                pieces.append((uni.lowest_terms(parts[1] / parts[0]), times * sign))
    return multiply_all([power(-front, k), *[power(_rising(a, k), times) for a, times in pieces]]), step


def _ends(parts: tuple[Expression, Expression]) -> bool:
    """Whether a factor vanishes for a whole number k > 0: the series ends there, or begins anew."""
    place = uni.lowest_terms(-parts[1] / parts[0])
    return isinstance(place, Number) and place.is_whole and bool(place.rational > 0)


def _rising(a: Expression, k: Name) -> Expression:
    """(1 + a)*(2 + a)*…*(k + a)."""
    if a is ZERO:
        return FACTORIAL(k)
    whole = isinstance(a, Number) and a.is_whole and a.rational > 0
    return FACTORIAL(k + a) / FACTORIAL(a) if whole else GAMMA(k + a + 1) / GAMMA(a + 1)


def _radius(lead: Expression, x: Name) -> Expression | None:
    """The distance to the nearest zero of the leading coefficient other than the point itself; None where there is none, or it is open."""
    found = poles(1 / lead, x) if contains(lead, x) else []
    sizes = [simplify(ABS(p.value), Facts()).expression for p in found or [] if p.value is not ZERO]
    if found is None or not sizes or any(names(s) for s in sizes):
        return None
    return min(sizes, key=lambda s: enclose(s, {}, 80).real.low)
