"""Boundary problems with a letter as unknown: its values, the modes, their norm and their orthogonality."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import TYPE_CHECKING, Any

from gmpy2 import mpq

from gelvo.checking.certificate import PROVED, UNDECIDED, Certificate, weakest
from gelvo.deciding.equality import decide_zero, is_zero
from gelvo.differential.eigenmodes import Found, Modes
from gelvo.differential.eigenmodes import eigenmodes as find
from gelvo.differential.problem import Problem, with_values
from gelvo.errors import DomainError, GelvoError, NotSolved
from gelvo.expression.building import number, relation, sqrt
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Call, Expression, Name, Written
from gelvo.expression.traversal import contains, free_names, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.figures.plotting import plot
from gelvo.forms.differentiation import differentiate
from gelvo.operations.calculus import integrate
from gelvo.operations.inputs import one_expression, split_initial, take
from gelvo.operations.numeric import roots_between
from gelvo.operations.on_paper import as_function
from gelvo.simplifying.search import simplify

if TYPE_CHECKING:
    from matplotlib.figure import Figure

MOST, FARTHEST, HIGHEST = 40, 400, 9
NEAR = number(mpq(1, 4))


class Eigenmodes:
    """The values of a letter for which a boundary problem has solutions, and those: .families, .weight, .excluded, .certificate().

    Each family has .value (the letter by a number z), .characteristic (what vanishes for z), .places (z by a whole number, where there is
    such a form) and .shapes. .z_values(count), .values(count) and .mode(k) tell single ones, .norm() the integral of weight*shape^2.
    """

    def __init__(self, problem: Problem, letter: Name, found: Found) -> None:
        self.problem, self.letter = problem, letter
        self.families, self.weight, self.ends, self.excluded = found.modes, found.weight, found.ends, found.excluded
        self.flux = found.flux

    @property
    def main(self) -> Modes:
        """The family with infinitely many modes."""
        found = next((f for f in self.families if f.characteristic is not ZERO), None)
        if found is None:
            raise NotSolved("the boundary problem has no modes")
        return found

    def z_values(self, count: int = 5) -> list[Any]:
        """The first numbers z of the main family: exact where they have a form, else certified to 30 digits."""
        if not 1 <= count <= MOST:
            raise DomainError(f"1 to {MOST} modes can be told, not {count}")
        family = self.main
        if family.places:
            return [substitute(family.places[0], {family.n: number(family.first + k)}) for k in range(count)]
        reach = 4 * (count + 1)
        found: list[Any] = []
        start = _clear_of_zero(family)
        while len(found) < count:
            if reach > FARTHEST:
                raise NotSolved(f"fewer than {count} zeros of {family.characteristic} were found up to {FARTHEST}")
            found = roots_between(family.characteristic, family.z, start, reach)
            reach *= 2
        return found[:count]

    def values(self, count: int = 5) -> list[Expression]:
        """The first values of the letter, of numbers without a form to 30 digits."""
        return [substitute(self.main.value, {self.main.z: _exact(z)}) for z in self.z_values(count)]

    def mode(self, k: int) -> Expression:
        """The shape of the k-th mode of the main family, counted from 1."""
        if k < 1:
            raise DomainError(f"modes are counted from 1, not {k}")
        return substitute(self.main.shapes[0], {self.main.z: _exact(self.z_values(k)[-1])})

    def norm(self, family: Modes | None = None, shape: Expression | None = None) -> Expression:
        """The integral of weight*shape^2 from end to end, for the numbers z of the family."""
        family = family or self.main
        t, facts = self.problem.variable, self.facts_of(family)
        weight = ONE if self.weight is None else self.weight
        own = family.shapes[0] if shape is None else shape
        whole = integrate(weight * self.at_places(family, own) ** 2, t, *self.ends, given=[*facts.given])
        open_ones = [c for c in whole.conditions if facts.holds(c) is not True]
        if open_ones:
            raise NotSolved(f"the norm of the modes holds only if {open_ones[0]}")
        value = take(whole).expressions[0]
        if any(isinstance(n, Written) for n in postorder(value)) and self.flux is not None and contains(own, family.z):
            value = self._norm_by_ends(family, own, self.flux)
        return simplify(substitute(value, _gone(family)), facts).expression

    def _norm_by_ends(self, family: Modes, shape: Expression, flux: Expression) -> Expression:
        """From (flux*y')' + letter*weight*y = 0, differentiated by z: only the ends count."""
        t, z = self.problem.variable, family.z
        by_z = differentiate(shape, z)
        inside = flux * (by_z * differentiate(shape, t) - shape * differentiate(by_z, t)) / differentiate(family.value, z)
        low, high = (ZERO if is_zero(substitute(flux, {t: e})) else substitute(inside, {t: e}) for e in self.ends)
        return substitute(high - low, _gone(family))

    def normalised(self) -> Expression:
        """The shape of the main family divided by the root of its norm."""
        family = self.main
        return simplify(self.at_places(family, family.shapes[0]) / sqrt(self.norm()), self.facts_of(family)).expression

    def at_places(self, family: Modes, e: Expression) -> Expression:
        """A formula with the numbers z by n, where they have a form."""
        return substitute(e, {family.z: family.places[0]}) if family.places else e

    def facts_of(self, family: Modes) -> Facts:
        """What is known of the numbers z: whole numbers beside them, or the characteristic equation."""
        if family.places:
            return self.problem.facts.with_facts([relation(">=", family.n, number(family.first))])
        return self.problem.facts

    def certificate(self) -> Certificate:
        """Equation and boundary values for every family, and the orthogonality by integration by parts."""
        u, t = self.problem.unknowns[0], self.problem.variable
        parts: list[Certificate] = []
        for family in self.families:
            facts = self.facts_of(family)
            for shape in family.shapes:
                own: dict[Expression, Expression] = {u: shape}
                residual = with_values(substitute(self.problem.equations[0], {self.letter: family.value}), own, t)
                parts.append(vanishes(f"{shape} satisfies the equation for {self.letter} = {family.value}", residual, facts))
                for e in self.problem.stated:
                    value = self.at_places(family, with_values(e.left - e.right, own, t))
                    parts.append(_boundary(f"{shape} satisfies {e}", value, family, facts))
        if self.weight is not None:
            claim = f"modes of different values of {self.letter} are orthogonal with the weight {self.weight}"
            parts.append(
                Certificate(claim, PROVED, "integration by parts: what is left at the ends vanishes by the boundary values")
            )
        return Certificate(
            "the modes of the boundary problem", weakest(tuple(parts)), "every claim by itself", parts=tuple(parts)
        )

    @property
    def verdict(self) -> str:
        return self.certificate().verdict

    def plot(self, count: int = 4, values: Mapping[Any, Any] | None = None, **options: Any) -> Figure:
        """A figure of the first modes over the range, with numbers for the letters; `options` as in `plot`."""
        numbers = dict(values or {})
        low, high = in_numbers(numbers, *self.ends)
        options.setdefault("labels", [f"mode {k}" for k in range(1, count + 1)])
        return plot([self.mode(k) for k in range(1, count + 1)], self.problem.variable, low, high, values=numbers, **options)

    def _lines(self) -> list[str]:
        u = self.problem.unknowns[0]
        lines: list[str] = []
        for family in self.families:
            shapes = " and ".join(f"{u} = {self.at_places(family, s)}" for s in family.shapes)
            if family.characteristic is ZERO:
                lines.append(f"{self.letter} = {family.value}: {shapes}")
            elif family.places:
                value = simplify(self.at_places(family, family.value), self.facts_of(family)).expression
                first = family.first
                lines.append(f"{self.letter} = {value}: {shapes}, {family.n} = {first}, {first + 1}, {first + 2}, …")
            else:
                lines.append(f"{self.letter} = {family.value} where {family.characteristic} = 0: {shapes}")
        if self.weight is not None:
            lines.append(f"orthogonal with the weight {self.weight}")
        return [*lines, *self.excluded]

    def __repr__(self) -> str:
        return "\n".join(self._lines())


def _clear_of_zero(family: Modes) -> Expression:
    """A place up to which there is no zero but 0: the first derivative that is not 0 at 0 has none there (Taylor's formula)."""
    f, z = family.characteristic, family.z
    for _ in range(HIGHEST):
        if decide_zero(substitute(f, {z: ZERO})).zero is not True:
            if roots_between(f, z, ZERO, NEAR):
                break
            return NEAR
        f = differentiate(f, z)
    raise NotSolved(f"it could not be told where the first zero of {family.characteristic} after 0 lies")


def _exact(z: Any) -> Expression:
    return z if isinstance(z, Expression) else take(str(z)).expressions[0]


def in_numbers(values: Mapping[Any, Any], *formulas: Expression) -> list[float]:
    """Formulas of letters as floats, from numbers for the letters."""
    table = {str(getattr(k, "name", k)): v for k, v in values.items()}
    used = {n for e in formulas for n in free_names(e)}
    missing = sorted(n.name for n in used if n.name not in table)
    if missing:
        raise DomainError(f"numbers are needed for {', '.join(missing)}: values={{…}}")
    exact = {n: take(repr(v) if isinstance(v := table[n.name], float) else v).expressions[0] for n in used}
    return [float(substitute(e, exact)) for e in formulas]


def vanishes(claim: str, residual: Expression, facts: Facts) -> Certificate:
    """A claim that holds where a residual is 0."""
    decision = decide_zero(residual, facts)
    verdict = PROVED if decision.zero else UNDECIDED
    return Certificate(claim, verdict, decision.how or "not decided", {"residual": str(residual)[:200]})


def _boundary(claim: str, value: Expression, family: Modes, facts: Facts) -> Certificate:
    """Zero as it is, or a multiple of the characteristic function, which vanishes for the numbers z."""
    found = vanishes(claim, value, facts)
    if found.verdict == PROVED or family.places or family.characteristic is ZERO:
        return found
    try:
        share = simplify(value / family.characteristic, facts).expression
        settled = not contains(family.characteristic, share)
    except GelvoError:
        return found
    if settled and decide_zero(value - share * family.characteristic, facts).zero:
        return Certificate(claim, PROVED, f"a multiple of {family.characteristic}, which is 0", {"factor": str(share)})
    return found


def eigenmodes(equation: Any, unknown: Any, value: Any, given: Iterable[Any] = ()) -> Eigenmodes:
    """The values of a letter for which a linear boundary problem has solutions beside 0, with those solutions.

    equation: linear in the unknown function and without a term of its own; value: the letter, before the function or a lower derivative;
    given: the boundary values (all 0, or periodic), and facts about letters; where nothing is stated at a singular place, solutions stay
    bounded there. Raises NotSolved with the reason. Source: R. Courant and D. Hilbert, "Methoden der mathematischen Physik I" (1924).

    >>> import gelvo
    >>> gelvo.eigenmodes("y'' + k*y = 0", "y(x)", "k", given=["y(0) = 0", "y(L) = 0", "L > 0"])
    k = pi^2*n^2/L^2: y(x) = sin(pi*n*x/L), n = 1, 2, 3, …
    orthogonal with the weight 1
    no k < 0: the integral of the equation times y(x) has one sign
    >>> beam = gelvo.eigenmodes("y'''' = k*y", "y(x)", "k", given=["y(0) = 0", "y'(0) = 0", "y''(1) = 0", "y'''(1) = 0"])
    >>> beam.main.characteristic, [round(float(str(z)), 4) for z in beam.z_values(2)], beam.verdict
    (1 + cos(z)*cosh(z), [1.8751, 4.6941], 'proved')
    """
    named = as_function(unknown, [equation]) if isinstance(unknown, str) else unknown
    arguments = take(equation, variables=[named, value], given=given)
    u, letter = arguments.variables
    if not isinstance(u, Applied) or not isinstance(letter, Name):
        raise DomainError("eigenmodes needs an unknown function such as y(x), and a letter")
    whole = arguments.values[0]
    read = whole.left - whole.right if isinstance(whole, Equation) else one_expression(whole)
    if not contains(read, letter):
        raise DomainError(f"{letter} does not stand in the equation")
    stated, rest = split_initial(arguments.facts.given)
    variable = u.arguments[0]
    assert isinstance(variable, Name)
    problem = Problem([read], [u], variable, stated, arguments.facts.stating(rest))
    return Eigenmodes(problem, letter, find(problem, letter))


def _gone(family: Modes) -> dict[Expression, Expression]:
    """What vanishes at all numbers z of a family: its characteristic, where that is one function."""
    return {family.characteristic: ZERO} if isinstance(family.characteristic, Call) else {}
