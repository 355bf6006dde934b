"""Linear partial differential equations in two variables by separation: heat, waves, potentials on intervals, rectangles and discs.

u = steady part + sum of (coefficient of mode n)*(its course)*(its shape); the shapes are the modes of a boundary problem, the coefficients
come from the initial data by the orthogonality of the modes.
Source: J. Fourier, "Théorie analytique de la chaleur" (1822); R. Courant and D. Hilbert, "Methoden der mathematischen Physik I" (1924).
"""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Mapping, Sequence
from typing import TYPE_CHECKING, Any, NamedTuple

from gelvo.checking.certificate import Certificate, weakest
from gelvo.deciding.equality import is_zero
from gelvo.differential.eigenmodes import Modes, eigenmodes, runs_off
from gelvo.differential.problem import Problem
from gelvo.differential.solving import solve_differential
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import applied, bound, number, relation, total, written
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Condition, Expression, Name, Number, Relation
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.figures.plotting import plot
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.forms.univariate import linear_parts, lowest_terms
from gelvo.operations.calculus import integrate
from gelvo.operations.inputs import one_expression, split_initial, take
from gelvo.physics.eigenmodes import Eigenmodes, in_numbers, vanishes
from gelvo.physics.polar_angle import is_polar_angle, polar_modes
from gelvo.simplifying.search import simplify
from gelvo.solving.linear import linear_rows, solve_linear

if TYPE_CHECKING:
    from matplotlib.figure import Figure

MOST_TERMS, CHECKED = 200, 3


class Part(NamedTuple):
    """The share of one shape: its coefficient formulas by z or n, the whole term, and the n for which other parts stand."""

    family: Modes
    shape: Expression
    coefficients: tuple[Expression, ...]
    term: Expression
    skipped: tuple[int, ...] = ()

    def sums(self) -> list[Expression]:
        """The written sums over all n from the first on, without those that are skipped."""
        n, low = self.family.n, self.family.first
        found: list[Expression] = []
        for k in self.skipped:
            found += [written("sum_of", self.term, n, number(low), number(k - 1))] if k > low else []
            low = k + 1
        return [*found, written("sum_of", self.term, n, number(low), bound("inf"))]


class Separated:
    """The solution of a partial differential equation: .steady, .parts, .solution (a written sum), .partial(count), .plot, .certificate().

    .modes: the boundary problem of the shapes; where their numbers z have no form, .solution is None and .partial(count) puts them in.
    """

    def __init__(self, work: _Work, modes: Eigenmodes, parts: list[Part]) -> None:
        self._work, self.modes, self.parts, self.steady = work, modes, parts, work.steady

    @property
    def solution(self) -> Expression | None:
        """The steady part and a sum over all whole numbers; None where the numbers of the modes have no form."""
        terms = [self.steady]
        for part in self.parts:
            if part.family.characteristic is ZERO:
                terms.append(part.term)
            elif part.family.places:
                terms += part.sums()
            else:
                return None
        return total(terms)

    def partial(self, count: int = 10) -> Expression:
        """The steady part and the first terms."""
        if not 1 <= count <= MOST_TERMS:
            raise DomainError(f"1 to {MOST_TERMS} terms can be added up, not {count}")
        terms = [self.steady]
        for part in self.parts:
            if part.family.characteristic is ZERO:
                terms.append(part.term)
            elif part.family.places:
                whole = range(part.family.first, part.family.first + count)
                terms += [substitute(part.term, {part.family.n: number(k)}) for k in whole if k not in part.skipped]
            else:
                numbers = [take(str(z)).expressions[0] for z in self.modes.z_values(count)]
                terms += [substitute(part.term, {part.family.z: z}) for z in numbers]
        return total(terms)

    def plot(self, at: Sequence[Any], values: Mapping[Any, Any] | None = None, terms: int = 40, **options: Any) -> Figure:
        """The solution over the first variable, one curve for each value of the second one; numbers for the letters in `values`."""
        work = self._work
        whole = self.partial(terms)
        low, high = in_numbers(values or {}, *work.ends)
        places = take(*at).expressions
        curves = [substitute(whole, {work.t: place}) for place in places]
        options.setdefault("labels", [f"{work.t} = {place}" for place in places])
        return plot(curves, work.x, low, high, values=values or {}, **options)

    def certificate(self) -> Certificate:
        """Every term satisfies the equation and the boundary values, the coefficients are those of orthogonal modes."""
        work = self._work
        parts = [vanishes("the steady part satisfies the equation", work.residual(self.steady, with_source=True), work.facts)]
        parts += [vanishes(f"the steady part satisfies {e}", work.at_ends(e, self.steady), work.facts) for e in work.boundary]
        for part in self.parts:
            facts = self.modes.facts_of(part.family)
            parts.append(vanishes(f"{part.term} satisfies the equation", work.residual(part.term, with_source=False), facts))
        parts += self._coefficients()
        parts.append(self.modes.certificate())
        return Certificate("the separated solution", weakest(tuple(parts)), "every claim by itself", parts=tuple(parts))

    def _coefficients(self) -> list[Certificate]:
        """Each side of the data against each of the first modes, whose integrals are taken with numbers for n."""
        work, found = self._work, []
        families = [f for f in self.modes.families if f.places or f.characteristic is ZERO]
        for family, shape in [(f, s) for f in families for s in f.shapes]:
            own = self.modes.at_places(family, shape)
            for k in range(family.first, family.first + CHECKED) if family.places else (0,):
                mode = substitute(own, {family.n: number(k)})
                for e in work.start:
                    claim = f"the data {e} against the mode {mode}"
                    found.append(vanishes(claim, self._missing(e, mode, k, family), work.facts))
        return found

    def _missing(self, e: Equation, mode: Expression, k: int, family: Modes) -> Expression:
        """The integral of weight*(data - solution)*mode, where the solution has its term k of this family alone."""
        work, node = self._work, e.left
        terms = [p.term for p in self.parts if p.family.value is family.value and p.family.places and k not in p.skipped]
        terms = [substitute(t, {family.n: number(k)}) for t in terms]
        terms += [p.term for p in self.parts if not p.family.places]  # other modes are at right angles
        inside = e.right - _put_in(node, work.u, work.x, work.t, total([work.steady, *terms]))
        weight = ONE if self.modes.weight is None else self.modes.weight
        whole = integrate(expand(weight * inside * mode), work.x, *work.ends, given=list(work.facts.given))
        return take(whole).expressions[0]

    @property
    def verdict(self) -> str:
        return self.certificate().verdict

    def __repr__(self) -> str:
        u = self._work.asked
        if self.solution is not None:
            return f"{u} = {self.solution}"
        terms = [str(p.term) for p in self.parts]
        zeros = f" over all z > 0 with {self.modes.main.characteristic} = 0"
        steady = "" if self.steady is ZERO else f"{self.steady} + "
        return f"{u} = {steady}the sum of {' + '.join(terms)}{zeros}"


class _Work(NamedTuple):
    """The equation taken apart for shapes in x and courses in t."""

    asked: Applied
    u: Applied  # with x first
    x: Name
    t: Name
    in_x: dict[int, Expression]  # coefficients of the derivatives by x, multiplied so that they do not depend on t
    in_t: dict[int, Expression]
    source: Expression
    boundary: list[Equation]
    start: list[Equation]
    steady: Expression
    ends: tuple[Expression, Expression]
    facts: Facts

    def residual(self, e: Expression, with_source: bool) -> Expression:
        terms = [c * differentiate(e, self.x, k) for k, c in self.in_x.items()]
        terms += [c * differentiate(e, self.t, k) for k, c in self.in_t.items()]
        return total([*terms, self.source if with_source else ZERO])

    def at_ends(self, e: Equation, value: Expression) -> Expression:
        """The difference of the sides of a boundary value, for a formula."""
        return _put_in(e.left - e.right, self.u, self.x, self.t, value)


def _put_in(e: Expression, u: Applied, x: Name, t: Name, value: Expression) -> Expression:
    table: dict[Expression, Expression] = {}
    for node in postorder(e):
        if isinstance(node, Applied) and node.name == u.name:
            inside = differentiate(differentiate(value, x, node.orders[0]), t, node.orders[1])
            table[node] = substitute(inside, dict(zip((x, t), node.arguments, strict=True)))
    return substitute(e, table)


def separate_variables(equation: Any, unknown: Any, given: Iterable[Any] = ()) -> Separated:
    """The solution of a linear partial differential equation in two variables: on an interval, a rectangle, a disc, a ball.

    equation: with u_t, u_xx, … for derivatives of u(x, t); a source that depends on the first variable only may stand in it;
    given: boundary values in one variable (also not 0, but constant), initial data or values at the other sides, facts about letters.
    Returns a Separated. Raises NotSolved where the variables do not separate, or where the boundary values do not determine modes.

    >>> import gelvo
    >>> rod = gelvo.separate_variables("u_t = a*u_xx", "u(x, t)", given=["u(0, t) = 0", "u(L, t) = 0", "u(x, 0) = T", "a > 0", "L > 0"])
    >>> rod
    u(x, t) = sum_of(2*T*(1 - (-1)^n)*exp(-pi^2*a*n^2*t/L^2)*sin(pi*n*x/L)/(pi*n), n, 1, inf)
    >>> rod.verdict
    'proved'
    """
    arguments = take(equation, variables=[unknown], given=given)
    (u,) = arguments.variables
    if not isinstance(u, Applied) or len(u.arguments) != 2 or not all(isinstance(a, Name) for a in u.arguments):
        raise DomainError("separate_variables needs an unknown function of two variables, such as u(x, t)")
    whole = arguments.values[0]
    read = whole.left - whole.right if isinstance(whole, Equation) else one_expression(whole)
    stated, rest = split_initial(arguments.facts.given)
    facts = arguments.facts.stating(rest)
    reasons: list[str] = []
    for first in (0, 1):
        try:
            return _separated(_taken_apart(read, u, first, stated, facts))
        except NotSolved as fault:
            reasons.append(str(fault))
    raise NotSolved(f"the variables are not separated: {'; '.join(dict.fromkeys(reasons))}")


def _taken_apart(e: Expression, u: Applied, first: int, stated: list[Equation], facts: Facts) -> _Work:
    x, t = (a for a in (u.arguments if first == 0 else u.arguments[::-1]) if isinstance(a, Name))
    turned = applied(u.name, (x, t), (0, 0))
    swap = (lambda n: n) if first == 0 else _swapped
    e = _turned(e, u.name, swap)
    stated = [Equation(_turned(s.left, u.name, swap), _turned(s.right, u.name, swap)) for s in stated]
    in_x, in_t, source = _coefficients(e, turned, x, t, facts)
    boundary = [s for s in stated if _is_at(s, u.name, 0, x)]
    start = [s for s in stated if s not in boundary]
    natural = is_polar_angle(in_x, x)  # the poles of a sphere need no values
    if (not boundary and not natural) or any(not _is_at(s, u.name, 1, t) for s in start):
        raise NotSolved(f"no boundary values in {x}")
    work = _Work(u, turned, x, t, in_x, in_t, source, boundary, start, ZERO, (ZERO, ZERO), facts)
    return work._replace(steady=_steady(work))


def _swapped(node: Applied) -> Applied:
    found = applied(node.name, node.arguments[::-1], node.orders[::-1])
    assert isinstance(found, Applied)
    return found


def _turned(e: Expression, name: str, swap: Any) -> Expression:
    return substitute(e, {n: swap(n) for n in postorder(e) if isinstance(n, Applied) and n.name == name})


def _is_at(e: Equation, name: str, side: int, variable: Name) -> bool:
    """Whether all values of the function in an equation are taken at fixed places of a variable."""
    nodes = [n for part in (e.left, e.right) for n in postorder(part) if isinstance(n, Applied) and n.name == name]
    return bool(nodes) and all(not contains(n.arguments[side], variable) for n in nodes)


def _coefficients(
    e: Expression, u: Applied, x: Name, t: Name, facts: Facts
) -> tuple[dict[int, Expression], dict[int, Expression], Expression]:
    """The equation as (derivatives by x) + (derivatives by t) + source(x), multiplied so that neither side knows the other variable."""
    nodes = list(dict.fromkeys(n for n in postorder(e) if isinstance(n, Applied) and n.name == u.name))
    marks = {n: facts.new_name(f"u_{k}", e) for k, n in enumerate(nodes)}
    inside = expand(substitute(e, marks))
    table: dict[tuple[int, int], Expression] = {}
    for node, mark in marks.items():
        slope = factored(differentiate(inside, mark))
        if any(contains(slope, m) for m in marks.values()):
            raise NotSolved("the equation is not linear")
        if all(node.orders):
            raise NotSolved("a mixed derivative stands in the equation")
        table[node.orders[0], node.orders[1]] = slope
    source = factored(substitute(inside, dict.fromkeys(marks.values(), ZERO)))
    highest = max((k for k, j in table if j == 0), default=0)
    if not highest or not any(j for _, j in table):
        raise NotSolved("derivatives by both variables are needed")
    for divisor in (ONE, table[highest, 0], next(c for (_, j), c in sorted(table.items(), key=lambda p: -p[0][1]) if j)):
        in_x = {k: factored(c / divisor) for (k, j), c in table.items() if j == 0}
        in_t = {j: factored(c / divisor) for (_, j), c in table.items() if j}
        rest = factored(source / divisor)
        if 0 in in_x and contains(in_x[0], t) and not contains(in_x[0], x):
            in_t[0] = in_x.pop(0)
        if not any(contains(c, t) for c in (*in_x.values(), rest)) and not any(contains(c, x) for c in in_t.values()):
            return in_x, in_t, rest
    raise NotSolved("the coefficients do not separate")


def _steady(work: _Work) -> Expression:
    """The solution that does not depend on t, where the boundary values or the source are not 0."""
    if work.source is ZERO and all(is_zero(e.right) or isinstance(e.right, Applied) for e in work.boundary):
        return ZERO
    if 0 in work.in_t or any(contains(e.right, work.t) for e in work.boundary):
        raise NotSolved("boundary values that change in time are not taken here")
    y = applied(f"{work.u.name}_steady", (work.x,), (0,))
    assert isinstance(y, Applied)
    equation = total([*[c * applied(y.name, (work.x,), (k,)) for k, c in work.in_x.items()], work.source])
    outcome = solve_differential([equation], [y], _in_x(work, y, homogeneous=False), work.facts)
    if outcome.constants or len(outcome.found) != 1:
        raise NotSolved("the steady part is not determined by the boundary values")
    return outcome.found[0].values[y]


def _in_x(work: _Work, y: Applied, homogeneous: bool) -> list[Equation]:
    """The boundary values as those of a function of x."""
    found = []
    for e in work.boundary:
        sides = []
        for side in (e.left, e.right):
            nodes = [n for n in postorder(side) if isinstance(n, Applied) and n.name == work.u.name]
            sides.append(substitute(side, {n: applied(y.name, (n.arguments[0],), (n.orders[0],)) for n in nodes}))
        plain = not any(isinstance(n, Applied) for n in postorder(sides[1]))
        found.append(Equation(sides[0], ZERO if homogeneous and plain else sides[1]))
    return found


def _separated(work: _Work) -> Separated:
    X = applied(f"{work.u.name}_shape", (work.x,), (0,))
    assert isinstance(X, Applied)
    q = work.facts.new_name("q", *work.in_x.values(), *work.in_t.values())
    order = max(work.in_x)
    lead = work.in_x[order]
    scale = ONE if contains(lead, work.x) else lead
    turn = 1 if order == 2 else -1
    shape = {k: factored(c / scale) for k, c in work.in_x.items()}  # S: X is a mode of S*X + turn*q*X = 0
    equation = total([*[c * applied(X.name, (work.x,), (k,)) for k, c in shape.items()], turn * q * X])
    problem = Problem([equation], [X], work.x, _in_x(work, X, homogeneous=True), work.facts)
    found = eigenmodes(problem, q) if work.boundary else polar_modes([e.right for e in work.start], work.x, work.facts)
    modes = Eigenmodes(problem, q, found)
    work = work._replace(ends=found.ends)
    parts = [part for family in found.modes for part in _parts(work, modes, family, -turn * scale)]
    return Separated(work, modes, parts)


def _parts(work: _Work, modes: Eigenmodes, family: Modes, factor: Expression) -> list[Part]:
    parts: list[Part] = []
    for shape in family.shapes:
        general, exceptions = _part(work, modes, family, shape, factor)
        for k in exceptions:  # the data hold this very mode
            table = {family.n: number(k)}
            single = family._replace(
                value=substitute(modes.at_places(family, family.value), table), characteristic=ZERO, places=(), shapes=()
            )
            own = substitute(modes.at_places(family, shape), table)
            parts.append(_part(work, modes, single, own, factor)[0])
        parts.append(general._replace(skipped=tuple(sorted(exceptions))))
    return [part for part in parts if part.term is not ZERO]


def _part(work: _Work, modes: Eigenmodes, family: Modes, shape: Expression, factor: Expression) -> tuple[Part, set[int]]:
    """The part of a shape, and the whole numbers n that its coefficients leave out."""
    facts = modes.facts_of(family)
    value = simplify(modes.at_places(family, family.value), facts).expression
    own = simplify(modes.at_places(family, shape), facts).expression
    norm = modes.norm(family, own)
    shares = [_share(work, e, modes.weight, family, own, norm, facts) for e in work.start]
    data = [(e, c) for e, (c, _) in zip(work.start, shares, strict=True)]
    exceptions = {k for _, left_out in shares for k in left_out}
    term = simplify(_course(work, value, factor, data, facts) * own, facts).expression
    return Part(family, own, tuple(c for _, c in data), term), exceptions


def _share(
    work: _Work, e: Equation, weight: Expression | None, family: Modes, shape: Expression, norm: Expression, facts: Facts
) -> tuple[Expression, set[int]]:
    """How much of the data of one side is in one mode, and for which n that formula is not meant."""
    nodes = [n for n in postorder(e.left) if isinstance(n, Applied)]
    if len(nodes) != 1 or e.left is not nodes[0]:
        raise NotSolved(f"{e} is no plain value at one side")
    if weight is None:
        raise NotSolved("the modes are not orthogonal with a weight that is known")
    f = e.right - _put_in(nodes[0], work.u, work.x, work.t, work.steady)
    if is_zero(f, facts):
        return ZERO, set()
    whole = integrate(weight * f * shape, work.x, *work.ends, given=list(facts.given))
    left_out = {k for c in whole.conditions for k in _left_out(c, family)}
    return simplify(take(whole).expressions[0] / norm, facts).expression, left_out


def _left_out(c: Condition, family: Modes) -> set[int]:
    """The n for which a condition does not hold; NotSolved where that is not known."""
    gap = c.left - c.right if isinstance(c, Relation) and c.operator == "!=" else None
    parts = linear_parts(expand(gap), family.n) if gap is not None and contains(gap, family.n) else None
    place = lowest_terms(-parts[1] / parts[0]) if parts is not None else None
    if not isinstance(place, Number):
        raise NotSolved(f"the coefficients hold only if {c}: say more of the letters")
    return {int(place.rational)} if place.is_whole and place.rational >= family.first else set()


def _course(
    work: _Work, value: Expression, factor: Expression, data: list[tuple[Equation, Expression]], facts: Facts
) -> Expression:
    """The function of t before a mode: its equation, with the shares of the data as its values."""
    T = applied(f"{work.u.name}_course", (work.t,), (0,))
    assert isinstance(T, Applied)
    equation = total([*[c * applied(T.name, (work.t,), (k,)) for k, c in work.in_t.items()], factor * value * T])
    letters = list(itertools.islice(facts.new_names("A", equation, *[c for _, c in data]), len(data)))
    stated = []
    for (e, _), letter in zip(data, letters, strict=True):
        node = e.left
        assert isinstance(node, Applied)
        stated.append(Equation(applied(T.name, (node.arguments[1],), (node.orders[1],)), letter))
    whole = _bounded_course(work, equation, T, stated, facts)
    return substitute(whole, {n: c for n, (_, c) in zip(letters, data, strict=True)})


def _bounded_course(work: _Work, equation: Expression, T: Applied, stated: list[Equation], facts: Facts) -> Expression:
    """The one course with the stated values; where one is missing, that which stays bounded at 0."""
    outcome = solve_differential([factored(equation)], [T], stated, facts)
    solutions = outcome.found
    if len(solutions) != 1 or solutions[0].relation is not None:
        raise NotSolved(f"the course of a mode has {len(solutions)} forms: say more of the letters")
    whole = solutions[0].values[T]
    if not any(contains(whole, c) for c in outcome.constants):
        return whole
    general = solve_differential([factored(equation)], [T], [], facts)
    basis = [differentiate(general.found[0].values[T], c) for c in general.constants]
    right = facts.with_facts([relation("<", ZERO, work.t)])
    kept = [b for b in basis if not runs_off(b, work.t, ZERO, right)]
    if len(kept) != len(stated):
        raise NotSolved(f"values at the sides of {work.t} are missing")
    letters = list(itertools.islice(facts.new_names("B", equation, *[e.right for e in stated]), len(kept)))
    form = total([c * b for c, b in zip(letters, kept, strict=True)])
    rows = [_put_in_course(e, T, work.t, form) for e in stated]
    table = linear_rows(rows, letters)
    solved = solve_linear(table, letters, facts) if table is not None else None
    if solved is None or not solved.found:
        raise NotSolved(f"the values at the sides of {work.t} do not determine the course")
    return simplify(substitute(form, solved.found[0].values), facts).expression


def _put_in_course(e: Equation, T: Applied, t: Name, form: Expression) -> Expression:
    node = e.left
    assert isinstance(node, Applied)
    return substitute(differentiate(form, t, node.orders[0]), {t: node.arguments[0]}) - e.right
