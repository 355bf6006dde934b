"""Boundary problems that have solutions for certain values of a letter only: strings, beams, wells, membranes.

The letter is told by a number z > 0 without unit, value = sign*factor*(z/length)^k; the characteristic equation is one in z. That
different modes are orthogonal, and that a sign does not occur, is found by integration by parts: what is left at the ends vanishes.
Source: R. Courant and D. Hilbert, "Methoden der mathematischen Physik I" (1924), chapter 5.
"""

from __future__ import annotations

from typing import NamedTuple

from gelvo.calculus.limits import limit
from gelvo.deciding.equality import is_zero
from gelvo.differential.constant_coefficients import linear_terms
from gelvo.differential.first_order.rate import growth, integral
from gelvo.differential.problem import Problem, order_of, value_at, with_values, without_bars
from gelvo.differential.solving import solve_differential
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import looks_negative, multiply_all, name, number, power, relation, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Applied, Bound, Call, Expression, Name, Number, Power
from gelvo.expression.registry import FUNCTIONS
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import power_table
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import BESSELK, BESSELY, COSH, EXP, LN, SINH, is_a
from gelvo.matrices.elimination import determinant
from gelvo.matrices.matrix import Matrix
from gelvo.simplifying.search import simplify
from gelvo.solving.linear import linear_rows, solve_linear
from gelvo.solving.single.complete import solve_single


class Modes(NamedTuple):
    """The modes of one sign of the letter.

    value: the letter by z; characteristic: what vanishes for those z; places: z by a whole number n from `first` on, where it has
    such a form; shapes: the modes by the variable and z. A mode without z belongs to one value alone.
    """

    value: Expression
    z: Name
    characteristic: Expression
    places: tuple[Expression, ...]
    n: Name
    first: int
    shapes: tuple[Expression, ...]


class Found(NamedTuple):
    """All modes, and what belongs to the whole problem.

    weight: with which different modes are orthogonal (None: not shown); excluded: signs that do not occur, with the reason; flux: P of
    (P*y')' + letter*weight*y = 0, of second order.
    """

    modes: list[Modes]
    weight: Expression | None
    ends: tuple[Expression, Expression]
    excluded: tuple[str, ...]
    flux: Expression | None


def eigenmodes(problem: Problem, letter: Name) -> Found:
    """All values of the letter for which there are solutions beside 0, and those solutions; NotSolved with the reason.

    Of a letter that stands in one even power alone the values that are not negative are told.
    """
    powers = [k for k in power_table(expand(problem.equations[0]), letter) if k is not ZERO]
    if len(powers) != 1 or not powers[0].is_whole or powers[0].rational < 2 or powers[0].rational % 2:
        return _found(problem, letter)
    (k,) = powers
    whole = problem.facts.new_name("q", *problem.formulas, letter)
    found = _found(problem._replace(equations=[substitute(expand(problem.equations[0]), {letter**k: whole})]), whole)
    root = [
        m._replace(value=without_bars(simplify(power(m.value, 1 / k), problem.facts).expression))
        for m in found.modes
        if not problem.facts.is_negative(m.value)
    ]
    return found._replace(modes=root, excluded=tuple(e.replace(f"{whole} ", f"{letter**k} ") for e in found.excluded))


def _found(problem: Problem, letter: Name) -> Found:
    u = problem.unknowns[0]
    parts = linear_terms(problem, False)
    if parts is None or parts[0].right is not ZERO:
        raise NotSolved(f"the equation is not linear in {u}, or has a term without it")
    if any(is_zero(e.right) is not True and not isinstance(e.right, Applied) for e in problem.stated):
        raise NotSolved("the boundary values must be 0: others are solved for with the letter as it is")
    ends = _ends(problem)
    scale = _Scale(problem, letter, {k: c for (_, k), c in parts[0].table.items()}, uni.lowest_terms(ends[1] - ends[0]))
    weight, sign = _by_parts(problem, letter, scale, ends)
    found: list[Modes] = []
    excluded: list[str] = []
    for s in (1, 0, -1):
        if sign is not None and s == -sign:
            excluded.append(f"no {letter} {'<' if s < 0 else '>'} 0: the integral of the equation times {u} has one sign")
            continue
        branch = _branch(problem, letter, scale, s, ends)
        found += [branch] if branch is not None else []
    flux = factored(weight * scale.lead / scale.share) if weight is not None and scale.order == 2 else None
    return Found(found, weight, ends, tuple(excluded), flux)


def _ends(problem: Problem) -> tuple[Expression, Expression]:
    """The two ends; where one place is stated alone, the other one is 0."""
    sides = [n for e in problem.stated for side in (e.left, e.right) for n in postorder(side) if isinstance(n, Applied)]
    places = list(dict.fromkeys(n.arguments[0] for n in sides))
    if len(places) == 1 and places[0] is not ZERO:
        places.insert(0, ZERO)
    if len(places) != 2:
        raise NotSolved("a boundary problem has values at two places")
    low, high = places
    if problem.facts.is_positive(low - high):
        low, high = high, low
    if not problem.facts.is_positive(high - low):
        raise NotSolved(f"the order of the ends is open: say {low} < {high} among the facts")
    return low, high


class _Scale:
    """How the letter is told by z: value = sign*factor*(z/length)^k, moved where constant terms of a lower order stand beside."""

    def __init__(self, problem: Problem, letter: Name, table: dict[int, Expression], length: Expression) -> None:
        self.table, self.length = table, length
        order = max(table)
        with_letter = {k: differentiate(c, letter) for k, c in table.items() if contains(c, letter)}
        if len(with_letter) != 1 or order in with_letter:
            raise NotSolved(f"{letter} must stand before one of the lower derivatives, or before the function itself")
        ((self.place, self.share),) = with_letter.items()
        if contains(self.share, letter):
            raise NotSolved(f"{letter} must stand as a plain factor, or as one even power alone")
        self.lead, self.order = table[order], order
        ratio = uni.lowest_terms(self.lead / self.share)
        plain = len(table) == 2 and uni.lowest_terms(table[self.place] - letter * self.share) is ZERO
        self.power = order - self.place if plain else 2
        constant = not contains(ratio, problem.variable)
        known = problem.facts.is_positive(ratio) or problem.facts.is_negative(ratio)
        self.factor = (ratio if problem.facts.is_positive(ratio) else -ratio) if constant and known else ONE
        self.moved: Expression = ZERO
        if order == 2 and self.place == 0 and not any(contains(c, problem.variable) for c in table.values()):
            slope = table.get(1, ZERO) / self.lead
            rest = substitute(table[0], {letter: ZERO})
            self.moved = uni.lowest_terms((self.lead * slope**2 / 4 - rest) / self.share)

    def is_plain(self, t: Name) -> bool:
        """Whether the equation has two terms, with constants before them."""
        return len(self.table) == 2 and not contains(self.lead, t) and not contains(self.share, t)

    def value(self, sign: int, z: Expression) -> Expression:
        return self.moved + sign * self.factor * power(z / self.length, number(self.power))


def _branch(problem: Problem, letter: Name, scale: _Scale, sign: int, ends: tuple[Expression, Expression]) -> Modes | None:
    """The modes for one sign of the letter, or for 0; None where there are none."""
    u, t = problem.unknowns[0], problem.variable
    z = name(problem.facts.new_name("z", *problem.formulas).name, "positive")
    facts = problem.facts.without(letter)
    value = scale.value(sign, z)
    equation = factored(substitute(problem.equations[0], {letter: value}))
    outcome = solve_differential([equation], [u], [], facts)
    if len(outcome.found) != 1 or outcome.found[0].relation is not None:
        raise NotSolved(f"the equation with {letter} = {value} has several forms of solution: say more of the letters")
    general = outcome.found[0].values[u]
    basis = _waves([differentiate(general, c) for c in outcome.constants])
    if len(problem.stated) == len(basis) - 1:
        basis = _bounded(basis, t, ends[0], facts)
    if len(problem.stated) != len(basis):
        raise NotSolved(f"{len(problem.stated)} boundary values for {len(basis)} constants")
    rows = [[_stated(problem, e.left - e.right, {u: b}) for b in basis] for e in problem.stated]
    whole = simplify(determinant(Matrix(rows)), facts).expression
    n = name(facts.new_name("n", *problem.formulas, z).name, "integer")
    if sign == 0:
        if is_zero(whole, facts) is not True:
            return None
        return Modes(value, z, ZERO, (), n, 0, _shapes(basis, rows, {}, t, facts))
    inside = _only_vanishing(whole, facts)
    if inside is ONE:
        return None
    places, first = _places(inside, z, n, facts)
    at = {z: places[0]} if places else {}
    return Modes(value, z, inside, places, n, first, _shapes(basis, rows, at, t, facts))


def _stated(problem: Problem, e: Expression, values: dict[Expression, Expression]) -> Expression:
    return simplify(with_values(e, values, problem.variable), problem.facts).expression


def _waves(basis: list[Expression]) -> list[Expression]:
    """f*exp(u) and f*exp(-u) as f*cosh(u) and f*sinh(u)."""
    parted: list[tuple[Expression, Expression]] = []
    for b in basis:
        wave = next((f for f in factors_in(b) if is_a(f, EXP)), None)
        parted.append((b, ZERO) if wave is None else (b / wave, wave.arguments[0]))
    found: dict[Expression, None] = {}
    for f, u in parted:
        if u is ZERO or (f, -u) not in parted:
            found[f * EXP(u)] = None
        else:
            shown = -u if looks_negative(u) else u
            found.update({f * COSH(shown): None, f * SINH(shown): None})
    return list(found)


def _bounded(basis: list[Expression], t: Name, place: Expression, facts: Facts) -> list[Expression]:
    """The solutions that stay bounded at a singular place, where nothing is stated there."""
    right = facts.with_facts([relation("<", place, t)])
    kept = [b for b in basis if not runs_off(b, t, place, right)]
    if len(kept) != len(basis) - 1:
        raise NotSolved(f"nothing is stated at {t} = {place}, and the solutions are not told apart there")
    return kept


def runs_off(e: Expression, t: Name, place: Expression, facts: Facts) -> bool:
    if any(is_a(n, BESSELY, BESSELK, LN) and contains(n, t) for n in postorder(e)):
        return True
    found = limit(e, t, place, "above", facts)
    return found is None or isinstance(found.value, Bound)


def _only_vanishing(e: Expression, facts: Facts) -> Expression:
    """The factors that may vanish."""
    return multiply_all([f for f in factors_in(factored(e)) if not (isinstance(f, Number) or facts.is_nonzero(f))])


def _places(inside: Expression, z: Name, n: Name, facts: Facts) -> tuple[tuple[Expression, ...], int]:
    """All zeros by a whole number, and from which on they are positive; () where they have no such form."""
    whole = _zeros_of_call(inside, z, n, facts) or _zeros_by_solving(inside, z, n, facts)
    if whole is None:
        return (), 0
    parts = uni.linear_parts(expand(whole), n)
    if parts is None or not facts.is_positive(parts[0]):
        return (), 0
    first = next((k for k in range(3) if facts.is_positive(substitute(whole, {n: number(k)}))), None)
    return ((), 0) if first is None else ((whole,), first)


def _zeros_of_call(inside: Expression, z: Name, n: Name, facts: Facts) -> Expression | None:
    """Of one function of a multiple of z."""
    pieces = factors_in(inside)
    base = pieces[0].base if len(pieces) == 1 and isinstance(pieces[0], Power) else pieces[0]
    if len(pieces) != 1 or not isinstance(base, Call) or len(base.arguments) != 1:
        return None
    zeros = FUNCTIONS[base.name].zeros
    parts = uni.linear_parts(expand(base.arguments[0]), z)
    if zeros is None or parts is None or parts[1] is not ZERO or not facts.is_positive(parts[0]):
        return None
    found = zeros(n)
    return uni.lowest_terms(found[0] / parts[0]) if len(found) == 1 else None


def _zeros_by_solving(inside: Expression, z: Name, n: Name, facts: Facts) -> Expression | None:
    """One family of the solver, with its free whole number."""
    plain = name(z.name, "real")
    try:
        roots = solve_single(substitute(inside, {z: plain}), plain, facts, True)
    except (NotSolved, DomainError):
        return None
    if len(roots.found) != 1 or len(roots.found[0].families) != 1:
        return None
    return substitute(roots.found[0].value, {roots.found[0].families[0]: n})


def _shapes(
    basis: list[Expression], rows: list[list[Expression]], at: dict[Name, Expression], t: Name, facts: Facts
) -> tuple[Expression, ...]:
    """The combinations that satisfy all boundary values: cofactors of a row, or all functions where every row vanishes."""
    if all(is_zero(substitute(e, at), facts) is True for row in rows for e in row):
        return tuple(basis)
    for leave in range(len(rows) - 1, -1, -1):
        kept = [row for k, row in enumerate(rows) if k != leave]
        weights = [_cofactor(kept, k) for k in range(len(basis))]
        pivot = next((k for k, w in enumerate(weights) if is_zero(substitute(w, at), facts) is False), None)
        if pivot is not None:
            shares = [simplify(w / weights[pivot], facts).expression for w in weights]
            shares = [ZERO if at and is_zero(substitute(w, at), facts) else w for w in shares]
            return (total([w * b for w, b in zip(shares, basis, strict=True)]),)
    raise NotSolved("the modes are not told: the boundary values leave more than one of them")


def _cofactor(rows: list[list[Expression]], k: int) -> Expression:
    if not rows:
        return ONE
    minor = Matrix([[e for j, e in enumerate(row) if j != k] for row in rows])
    return (-1) ** k * determinant(minor)


# --- integration by parts ------------------------------------------------------------------------------------------------------


def _by_parts(
    problem: Problem, letter: Name, scale: _Scale, ends: tuple[Expression, Expression]
) -> tuple[Expression | None, int | None]:
    """(the weight of the orthogonality, the only sign of the letter beside 0), each None where it is not shown."""
    if scale.place != 0 or (scale.order > 2 and not scale.is_plain(problem.variable)) or scale.order % 2:
        return None, None
    return (
        _of_constants(problem, scale, ends)
        if scale.is_plain(problem.variable)
        else (_of_second_order(problem, letter, scale, ends), None)
    )


def _of_constants(problem: Problem, scale: _Scale, ends: tuple[Expression, Expression]) -> tuple[Expression | None, int | None]:
    """Of lead*y^(2*m) + share*letter*y: the integral of y*y^(2*m) is (-1)^m times that of the square of y^(m)."""
    half = scale.order // 2
    pairs = [(scale.order - 1 - j, j, (-1) ** j) for j in range(scale.order)]
    turned = uni.lowest_terms((1 if half % 2 else -1) * scale.lead / scale.share)
    sign = 1 if problem.facts.is_positive(turned) else -1 if problem.facts.is_negative(turned) else None
    return (
        ONE if _vanishes(problem, ends, pairs, cross=True) else None,
        sign if sign and _vanishes(problem, ends, pairs[:half], cross=False) else None,
    )


def _of_second_order(problem: Problem, letter: Name, scale: _Scale, ends: tuple[Expression, Expression]) -> Expression | None:
    t = problem.variable
    weight = _weight(scale, t, problem.facts)
    if weight is None or contains(scale.table.get(1, ZERO), letter):
        return None
    front = factored(weight * scale.lead / scale.share)
    try:
        at = [uni.lowest_terms(substitute(front, {t: e})) for e in ends]
    except DomainError:  # no value at an end
        return None
    return weight if _vanishes(problem, ends, [(1, 0, 1), (0, 1, -1)], cross=True, factors=at) else None


def _weight(scale: _Scale, t: Name, facts: Facts) -> Expression | None:
    """share*exp(integral of p)/lead for lead*(y'' + p*y') + …: the factor that makes the equation its own adjoint."""
    inner = integral(factored(scale.table.get(1, ZERO) / scale.lead), t, facts)
    if inner is None:
        return None
    return simplify(scale.share * growth(inner, t, facts) / scale.lead, facts.with_facts([t > ZERO])).expression


def _vanishes(
    problem: Problem, ends: tuple[Expression, Expression], pairs: list[tuple[int, int, int]], cross: bool,
    factors: list[Expression] | None = None,
) -> bool:  # fmt: skip
    """Whether the sum of sign*y^(i)*w^(j) from end to end is 0 for all functions with the boundary values (`cross`: of two modes)."""
    u = problem.unknowns[0]
    order = order_of(problem, u)
    marks: dict[Expression, tuple[Name, Name]] = {}
    for e, end in enumerate(ends):
        for k in range(order):
            one, other = (problem.facts.new_name(f"{w}_{e}_{k}", *problem.formulas) for w in "ab")
            marks[value_at(u, end, k)] = (one, other)
    tables = [{place: pair[side] for place, pair in marks.items()} for side in (0, 1)]
    known = [_solved_values(problem, table) for table in tables]
    terms = []
    for e, end in enumerate(ends):
        front = (factors or [ONE, ONE])[e]
        for i, j, sign in pairs:
            first, second = marks[value_at(u, end, i)][0], marks[value_at(u, end, j)][1 if cross else 0]
            terms.append((1 if e else -1) * sign * front * first * second)
    whole = substitute(total(terms), {**known[0], **known[1]})
    return is_zero(expand(whole), problem.facts) is True


def _solved_values(problem: Problem, table: dict[Expression, Name]) -> dict[Name, Expression]:
    """The boundary values as equations for the values and derivatives at the ends."""
    rows = [substitute(e.left - e.right, table) for e in problem.stated]
    used = list(dict.fromkeys(n for row in rows for n in names(row) if n in table.values()))
    listed = linear_rows(rows, used)
    if listed is None:
        return {}
    try:
        solved = solve_linear(listed, used, problem.facts)
    except DomainError:
        return {}
    return dict(solved.found[0].values) if solved.found else {}
