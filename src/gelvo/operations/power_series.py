"""Power series as solutions of differential equations, for a reader: terms, exponents, recurrence, and what was proved of them."""

from __future__ import annotations

from collections.abc import Iterable
from math import factorial
from typing import Any

from gelvo.checking.certificate import PROVED, UNDECIDED, Certificate
from gelvo.deciding.equality import is_zero
from gelvo.differential.power_series import PowerSeries, power_series
from gelvo.differential.problem import Problem, value_at
from gelvo.errors import DomainError
from gelvo.expression.building import junction, number, power, total
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Expression, Name
from gelvo.expression.traversal import postorder, substitute
from gelvo.forms.collecting import power_table
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.forms.univariate import lowest_terms
from gelvo.functions.named import LN
from gelvo.operations.inputs import one_expression, split_initial, take
from gelvo.operations.on_paper import as_function, dotted

MOST_TERMS = 60


class SeriesSolution:
    """Solutions by powers of x - about: .solutions (polynomials), .exponents, .recurrence, .general (coefficients), .radius, .certificate().

    .recurrence: an equation for c(n), with r for the exponent; .general: for each solution the coefficient of the k-th term where it has a
    form, else None; .conditions; .radius: the distance to the nearest other singular point, within which the series converge (None: not known, or none).
    """

    def __init__(self, problem: Problem, found: PowerSeries, through: int) -> None:
        self.problem, self.found, self.through = problem, found, through
        self.factors = _factors(problem, found)
        h = problem.variable - found.about
        self.exponents = tuple(b.exponent for b in found.branches)
        self.solutions = tuple(b.polynomial(h, through) for b in found.branches)
        self.general = tuple(b.general for b in found.branches)
        self.recurrence = Equation(*found.recurrence)
        self.radius, self.conditions = found.radius, found.conditions

    @property
    def particular(self) -> Expression | None:
        """The terms of the solution with the stated values; None where none are stated."""
        if not self.factors:
            return None
        return expand(total([f * s for f, s in zip(self.factors, self.solutions, strict=True)]))

    def certificate(self) -> Certificate:
        """Each polynomial put into the equation: all powers below the first one that was left out vanish."""
        parts = [self._checked(s, b.exponent) for s, b in zip(self.solutions, self.found.branches, strict=True)]
        verdict = PROVED if all(p.verdict == PROVED for p in parts) else UNDECIDED
        return Certificate(
            "the terms of the series solutions", verdict, "the polynomials put into the equation", parts=tuple(parts)
        )

    @property
    def verdict(self) -> str:
        return self.certificate().verdict

    def _checked(self, solution: Expression, exponent: Expression) -> Certificate:
        u, x = self.problem.unknowns[0], self.problem.variable
        h = self.problem.facts.new_name("h", solution)
        moved = {x: h + self.found.about}
        logarithm = self.problem.facts.new_name("l", solution)
        residual = self.problem.equations[0]
        order = max(sum(n.orders) for n in postorder(residual) if isinstance(n, Applied) and n.name == u.name)
        table: dict[Expression, Expression] = {}
        for node in postorder(residual):
            if isinstance(node, Applied) and node.name == u.name:
                inside = differentiate(substitute(solution, moved), h, sum(node.orders))
                table[node] = substitute(expand(inside * power(h, -exponent)), {LN(h): logarithm})
        whole = factored(substitute(substitute(residual, table), moved))
        top, bottom = quotient_parts(whole)
        lowest = min((k for k in map(_plain, power_table(expand(bottom), h)) if k is not None), default=0)
        left = {}
        for k, terms in power_table(expand(top), h).items():
            place = _plain(k)
            if place is None or place - lowest < self.through + 1 - order:
                left[k] = total(terms)
        wrong = [e for e in left.values() if is_zero(e, self.problem.facts) is not True]
        claim = f"{solution} solves the equation up to its last power"
        return Certificate(
            claim, UNDECIDED if wrong else PROVED, "normal form of each power", {"powers looked at": str(len(left))}
        )

    def __repr__(self) -> str:
        u = self.problem.unknowns[0]
        told = self.particular
        family = " + ".join(f"C_{k}*({s})" for k, s in enumerate(self.solutions, 1))
        lines = [f"{u} = {family if told is None else told} + …"]
        r = self.found.letters[1]
        lines.append(f"exponents {', '.join(map(str, self.exponents))}; {self.recurrence} for each exponent {r}")
        if self.radius is not None:
            lines.append(f"converges for abs({self.problem.variable - self.found.about}) < {self.radius} at least")
        if self.conditions:
            lines.append(f"if {junction('and', self.conditions) if len(self.conditions) > 1 else self.conditions[0]}")
        return "\n".join(lines)


def _factors(problem: Problem, found: PowerSeries) -> list[Expression]:
    """The factors of the solutions by the stated values at an ordinary point; [] where nothing is stated."""
    if not problem.stated:
        return []
    x, h = problem.variable, problem.variable - found.about
    wanted = [value_at(problem.unknowns[0], found.about, k) for k in range(len(found.branches))]
    given = {e.left: e.right for e in problem.stated}
    ordinary = all(differentiate(b.polynomial(h, k), x, k) is number(factorial(k)) for k, b in enumerate(found.branches))
    if not ordinary or set(given) != set(wanted):
        raise DomainError(f"values are stated at an ordinary point, all of {', '.join(map(str, wanted))}, or none")
    return [given[place] / number(factorial(k)) for k, place in enumerate(wanted)]


def _plain(e: Expression) -> int | None:
    e = lowest_terms(e)
    return int(e.rational) if e.is_rational and e.is_whole else None


def series_solution(equation: Any, unknown: Any, about: Any = 0, through: int = 6, given: Iterable[Any] = ()) -> SeriesSolution:
    """The solutions of a linear differential equation as power series about an ordinary or a regular singular point.

    equation: with rational coefficients, without a term of its own; unknown: a function such as y(x); about: the point; through: how many
    powers above the exponent; given: facts, and at an ordinary point the value and the derivatives there, with which `.particular` has the
    terms of that solution. Raises NotSolved at irregular singular points. Source: G. Frobenius (1873).

    >>> import gelvo
    >>> found = gelvo.series_solution("x*y'' + y' + x*y = 0", "y(x)", through=4)
    >>> found.solutions
    (x^4/64 - x^2/4 + 1, (x^4/64 - x^2/4 + 1)*ln(x) + x^2/4 - 3*x^4/128)
    >>> found.recurrence, found.exponents, found.verdict
    (c(n) = -c(n - 2)/(r + n)^2, (0, 0), 'proved')
    """
    if not 0 <= through <= MOST_TERMS:
        raise DomainError(f"0 to {MOST_TERMS} powers can be told, not {through}")
    named = as_function(unknown, [equation]) if isinstance(unknown, str) else unknown
    arguments = take(equation, about, variables=[named], given=given)
    (u,) = arguments.variables
    if not isinstance(u, Applied) or len(u.arguments) != 1 or not isinstance(u.arguments[0], Name):
        raise DomainError("series_solution needs an unknown function such as y(x)")
    whole, place = arguments.values[0], one_expression(arguments.values[1])
    read = whole.left - whole.right if isinstance(whole, Equation) else one_expression(whole)
    read = substitute(read, dotted([u], [read]))
    initial, rest = split_initial(arguments.facts.given)
    problem = Problem([read], [u], u.arguments[0], initial, arguments.facts.stating(rest))
    return SeriesSolution(problem, power_series(problem, place, through), through)
