"""Linear differential equations with constant coefficients: the characteristic polynomial, or the Laplace transform.

Source: G. Doetsch, "Introduction to the Theory and Application of the Laplace Transformation" (1974).
"""

from __future__ import annotations

import itertools
from collections.abc import Mapping
from typing import NamedTuple

from gelvo.calculus.transforms import Unknown, inverse_laplace, laplace, pole_response
from gelvo.deciding.equality import is_zero
from gelvo.differential.letters_in_roots import decisive, real_factors
from gelvo.differential.problem import Outcome, Problem, Solved, Values, derivative_of, imposed, is_initial, order_of, value_at
from gelvo.differential.variation import varied
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import call, junction, looks_negative, multiply_all, number, power, relation, sqrt, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Call, Cases, Condition, Expression, Name, Node, Number, Power, Product, Relation
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, fresh_name, has_call, names, postorder, substitute, transform
from gelvo.facts.conditions import nonzero, zero_where
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import apart_from_zero, denominators, letter_where_zero
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.forms.parts import resultant
from gelvo.forms.univariate import integer_coefficients
from gelvo.functions.named import ABS, CEIL, COS, DIRAC_DELTA, EXP, FLOOR, HEAVISIDE, MAX, MIN, SIGN, SIN, is_a
from gelvo.numbers.exact import real
from gelvo.simplifying.joining import common_factors_out, short_exponent
from gelvo.simplifying.partial_fractions import Piece, simple_fractions, split_fraction
from gelvo.simplifying.search import simplify
from gelvo.solving.linear import linear_rows, solve_linear
from gelvo.spectra.over_roots import real_basis, shown_roots

HIGHEST_ORDER = 12
# the transform reads these as they are after 0
ROUGH = (ABS, SIGN, FLOOR, CEIL, MIN, MAX)


class Linear(NamedTuple):
    """Each equation as {(unknown, order): coefficient}, and its right side."""

    table: dict[tuple[Applied, int], Expression]
    right: Expression


def linear_terms(problem: Problem, constant: bool) -> list[Linear] | None:
    """The equations as linear ones, or None; `constant` asks for coefficients without the variable."""
    found: list[Linear] = []
    for e in problem.equations:
        listed = [(u, k) for u in problem.unknowns for k in range(order_of(problem, u) + 1)]
        marks = {derivative_of(u, k): problem.facts.new_name(f"y_{u.name}_{k}", e) for u, k in listed}
        inside = expand(substitute(e, marks))
        table: dict[tuple[Applied, int], Expression] = {}
        for u, k in listed:
            mark = marks[derivative_of(u, k)]
            slope = differentiate(inside, mark)
            if any(m in names(slope) for m in marks.values()):
                return None
            slope = factored(slope)
            if constant and contains(slope, problem.variable):
                return None
            if slope is not ZERO:
                table[(u, k)] = slope
        right = expand(-substitute(inside, dict.fromkeys(marks.values(), ZERO)))
        found.append(Linear(table, right))
    return found


def constant_coefficients(problem: Problem) -> Outcome | None:
    parts = linear_terms(problem, True)
    if parts is None:  # a common factor in front may still be taken out
        parts = _after_division(problem)
    if parts is None:
        return None
    if len(parts) != len(problem.unknowns):
        raise NotSolved(f"{len(parts)} equations for {len(problem.unknowns)} unknown functions")
    if len(parts) == 1 and not is_initial(problem):
        return _general(problem, parts[0])
    try:
        outcome = _for_all_signs(problem, parts)
    except NotSolved:
        if len(parts) > 1:
            raise
        return _general(problem, parts[0])
    is_one = len(parts) == 1 and not any(_is_kinked(n, problem.variable) for n in postorder(parts[0].right))
    return _general(problem, parts[0]) if is_one and any(s.conditions for s in outcome.found) else outcome


def _for_all_signs(problem: Problem, parts: list[Linear]) -> Outcome:
    """The transform for each sign that the facts leave open: where it took one, the other and zero are cases of their own."""
    outcome = _by_transform(problem, parts)
    taken = [c for s in outcome.found for c in s.conditions if isinstance(c, Relation) and c.operator == "<"]
    sign = next((c for c in taken if problem.variable not in names(c)), None)
    if len(parts) == 1 or sign is None:
        return outcome
    found, lost = list(outcome.found), list(outcome.lost)
    gap = sign.right - sign.left
    try:
        other = _for_all_signs(problem._replace(facts=problem.facts.with_facts([relation("<", gap, ZERO)])), parts)
        found += [Solved(s.values, (relation("<", sign.right, sign.left), *s.conditions)) for s in other.found]
        lost += other.lost
    except (NotSolved, DomainError):
        lost.append(f"the case {relation('<', sign.right, sign.left)} is left")
    zero = zero_where(gap)
    inside = letter_put_in(problem, gap)
    listed = linear_terms(inside, True) if inside is not None else None
    try:
        if problem.facts.holds(zero) is not False:
            if inside is None or listed is None:
                raise NotSolved("no letter follows")
            found += [Solved(s.values, (zero, *s.conditions)) for s in _for_all_signs(inside, listed).found]
    except (NotSolved, DomainError):
        lost.append(f"the case {zero} is left")
    return outcome._replace(found=found, lost=tuple(dict.fromkeys(lost)))


def letter_put_in(problem: Problem, gap: Expression) -> Problem | None:
    """The problem with the letter that gap = 0 gives."""
    found = letter_where_zero(gap, problem.facts)
    if found is None:
        return None
    letter, value = found
    table = {letter: value}
    return problem._replace(
        equations=[substitute(e, table) for e in problem.equations],
        stated=[Equation(substitute(e.left, table), substitute(e.right, table)) for e in problem.stated],
        facts=problem.facts.without(letter),
    )


def _after_division(problem: Problem) -> list[Linear] | None:
    if len(problem.equations) != 1:
        return None
    parts = linear_terms(problem, False)
    if parts is None or not parts[0].table:
        return None
    lead = parts[0].table[max(parts[0].table, key=lambda key: key[1])]
    table = {k: factored(c / lead) for k, c in parts[0].table.items()}
    if any(contains(c, problem.variable) for c in table.values()):
        return None
    return [Linear(table, expand(parts[0].right / lead))]


def _by_transform(problem: Problem, parts: list[Linear]) -> Outcome:
    """Laplace's transform of all equations, a linear system for the transforms, and back."""
    t, facts = problem.variable, problem.facts.with_facts([problem.variable > 0])
    s = facts.new_name("s", t, *problem.formulas)
    start, constants = _start(problem)
    transforms = [facts.new_name(f"Y_{u.name}", *problem.formulas) for u in problem.unknowns]
    rows: list[Expression] = []
    delays: dict[Name, Expression] = {}
    for linear in parts:
        forced, places = _forcing(linear.right, t, s, facts)
        delays.update(places)
        terms = [-forced]
        for (u, k), c in linear.table.items():
            early = [start[value_at(u, ZERO, j)] * s ** (k - 1 - j) for j in range(k)]
            terms.append(c * (s**k * transforms[problem.unknowns.index(u)] - total(early)))
        rows.append(total(terms))
    found = _solved_transforms(rows, transforms, facts.with_facts([s > 0]))
    values: Values = {}
    conditions: dict[Condition, None] = {}
    for u, mark in zip(problem.unknowns, transforms, strict=True):
        back = inverse_laplace(found[mark], s, t, facts.with_facts([p > 0 for p in delays]))
        if back is None:
            raise NotSolved(f"the poles of {found[mark]} have no closed form here")
        conditions.update(dict.fromkeys(back.conditions))
        known = (problem.facts if delays else facts).with_facts(back.conditions)
        values[u] = simplify(substitute(back.value, delays), known).expression
    if any(_is_rough(n, t, facts, delays) for linear in parts for n in postorder(linear.right)):
        conditions.update(dict.fromkeys(problem.facts.open_conditions([t > 0])))
    outcome = Outcome([Solved(values, tuple(conditions))], constants, "Laplace transform of the equations")
    return imposed(problem, outcome) if constants and problem.stated else outcome


def _start(problem: Problem) -> tuple[dict[Expression, Expression], tuple[Name, ...]]:
    """The values at 0 of all derivatives below the order, and the constants among them."""
    given = {e.left: e.right for e in problem.stated} if is_initial(problem) else {}
    places = [value_at(u, ZERO, k) for u in problem.unknowns for k in range(order_of(problem, u))]
    constants = problem.constants(sum(p not in given for p in places))
    free = iter(constants)
    return {p: given[p] if p in given else next(free) for p in places}, constants


def _forcing(right: Expression, t: Name, s: Name, facts: Facts) -> tuple[Expression, dict[Name, Expression]]:
    """The transform of a right side, and the names that stand for its delays."""
    if right is ZERO:
        return ZERO, {}
    shifted, places = _delayed_steps(right, t, facts, at_start=True)
    forced = laplace(shifted, t, s, facts.with_facts([p > 0 for p in places])) if shifted is not ZERO else None
    if forced is None:
        raise NotSolved(f"the forcing {right} has no Laplace transform here")
    return forced.value, places


def _solved_transforms(rows: list[Expression], transforms: list[Name], facts: Facts) -> Mapping[Name, Expression]:
    table = linear_rows(rows, transforms)
    if table is None:
        raise NotSolved("the transformed equations are not linear")
    solved = solve_linear(table, transforms, facts)
    if not solved.found or any(names(v) and any(m in names(v) for m in transforms) for v in solved.found[0].values.values()):
        raise NotSolved("the equations do not determine all unknown functions (or contradict each other)")
    return solved.found[0].values


def _is_kinked(node: Node, t: Name) -> bool:
    """Whether the forcing has more than steps and impulses at places that are numbers."""
    if not contains(node, t) or not isinstance(node, (Call, Cases)):
        return False
    if is_a(node, HEAVISIDE, DIRAC_DELTA):
        parts = uni.linear_parts(expand(node.arguments[0]), t)
        return parts is None or not all(isinstance(p, Number) and p.is_rational for p in parts)
    return isinstance(node, Cases) or node.name in ROUGH


def _is_rough(node: Node, t: Name, facts: Facts, delays: dict[Name, Expression]) -> bool:
    """Whether a part of the forcing was taken as it is after 0, and may be another thing before."""
    if isinstance(node, Cases):
        return contains(node, t)
    if not isinstance(node, Call) or not contains(node, t):
        return False
    if is_a(node, HEAVISIDE, DIRAC_DELTA):
        parts = uni.linear_parts(expand(node.arguments[0]), t)
        place = None if parts is None else uni.lowest_terms(-parts[1] / parts[0])
        return place is None or not (facts.is_positive(place) or place in delays.values())
    return node.name in ROUGH


def _general(problem: Problem, linear: Linear) -> Outcome:
    """One equation: a basis of the homogeneous solutions, a particular one, and the stated values imposed."""
    order = order_of(problem, problem.unknowns[0])
    if order > HIGHEST_ORDER:
        raise NotSolved(f"the order {order} is above the limit of {HIGHEST_ORDER}")
    constants = problem.constants(order)
    lost: list[str] = []
    found = _cases(problem, linear, constants, lost)
    outcome = Outcome(found, constants, "characteristic polynomial and a particular solution", tuple(lost))
    return imposed(problem, outcome) if problem.stated else outcome


def _cases(problem: Problem, linear: Linear, constants: tuple[Name, ...], lost: list[str]) -> list[Solved]:
    """The solutions for each sign of a discriminant that the facts leave open."""
    t = problem.variable
    lead = linear.table[max(linear.table, key=lambda key: key[1])]
    present = apart_from_zero(lead, problem.facts)
    problem = problem._replace(facts=problem.facts.with_facts(present))
    s = problem.facts.new_name("s", t, *problem.equations, *linear.table.values())
    polynomial = total([c * s**k for (_, k), c in linear.table.items()])
    _, _, factors = split_fraction(factored(1 / polynomial), s)
    signs = next((listed for base, _ in factors if (listed := _open_signs(base, problem.facts))), None)
    if signs is None:
        solution = _one_case(problem, linear, polynomial, factors, s, constants)
        return [Solved(solution.values, (*present, *solution.conditions))]
    found: list[Solved] = []
    for sign in signs:
        for solution in _in_case(problem, linear, sign, constants, lost):
            found.append(Solved(solution.values, (*present, sign, *solution.conditions)))
    return found


def _in_case(problem: Problem, linear: Linear, sign: Condition, constants: tuple[Name, ...], lost: list[str]) -> list[Solved]:
    """The solutions for one sign; where two rates fall together, or a denominator vanishes, with a letter put in."""
    inside = problem._replace(facts=problem.facts.with_facts([sign]))
    if not (isinstance(sign, Relation) and sign.operator == "="):
        return _cases(inside, linear, constants, lost)
    before = len(lost)
    again = _with_letter(problem, sign, constants, lost)
    if again is not None:
        return again
    del lost[before:]
    try:  # no letter follows from the case: the same formulas, where nothing that they divide by vanishes
        solutions = _cases(inside, linear, constants, lost)
        if not any(_breaks_down(v, inside.facts) for v in solutions):
            return solutions
    except (DomainError, Unknown):
        pass
    del lost[before:]
    lost.append(f"the case {sign} is left")
    return []


def _breaks_down(solution: Solved, facts: Facts) -> bool:
    """Whether a condition of a solution fails in the case it is meant for."""
    gaps = [c.left - c.right for c in solution.conditions if isinstance(c, Relation) and c.operator == "!="]
    return any(is_zero(gap, facts) for gap in gaps)


def _with_letter(problem: Problem, case: Relation, constants: tuple[Name, ...], lost: list[str]) -> list[Solved] | None:
    """The equation with a letter put in from the case, solved anew; None where no letter follows from the case."""
    put_in = letter_put_in(problem, case.left - case.right)
    if put_in is None:
        return None
    inside = put_in._replace(stated=[])
    linear = linear_terms(inside, True)
    if linear is None or order_of(inside, inside.unknowns[0]) != len(constants):
        return None
    return _cases(inside, linear[0], constants, lost)


def _one_case(
    problem: Problem, linear: Linear, polynomial: Expression, factors: list[tuple[uni.Coefficients, int]], s: Name,
    constants: tuple[Name, ...],
) -> Solved:  # fmt: skip
    """The solution where the signs of all discriminants are known: its conditions keep the factors and the forcing apart."""
    t, facts = problem.variable, problem.facts
    needed = rates_apart(factors, s, facts)
    basis = [b for base, times in factors for b in basis_of(base, times, t, facts)]
    signs: dict[Condition, None] = {}
    particular = _particular(linear.right, polynomial, factors, s, t, facts, signs)
    if particular is None:
        lead = linear.table[max(linear.table, key=lambda key: key[1])]
        particular = varied(basis, linear.right / lead, t, facts)
    own = transform(common_factors_out(total([c * b for c, b in zip(constants, basis, strict=True)])), short_exponent)
    whole = total([own, particular])
    conditions = dict.fromkeys([*needed, *facts.open_conditions(signs), *denominators([particular], facts, free_of=t)])
    return Solved({problem.unknowns[0]: whole}, tuple(conditions))


def rates_apart(factors: list[tuple[uni.Coefficients, int]], s: Name, facts: Facts) -> list[Condition]:
    """What must hold for no two factors of a characteristic polynomial to share a root."""
    pairs = itertools.combinations([uni.expression_of(base, s) for base, _ in factors], 2)
    return list(dict.fromkeys(c for p, q in pairs for c in apart_from_zero(resultant(p, q, s), facts)))


def _open_signs(base: uni.Coefficients, facts: Facts) -> list[Condition]:
    """The signs of what decides over the roots of a factor, as the discriminant, that the facts leave open."""
    gap = decisive(base) if len(base) > 2 else None
    if gap is None or gap is ZERO or isinstance(gap, Number):
        return []
    pieces = factors_in(gap)
    squares = [f.base for f in pieces if isinstance(f, Power) and _is_even(f) and not facts.is_nonzero(f.base)]
    open_ones = [f for f in pieces if not _is_even(f) and not facts.is_positive(f) and not facts.is_negative(f)]
    turned = sum(facts.is_negative(f) for f in pieces if not _is_even(f)) + (
        isinstance(gap, Product) and real(gap.coefficient) < 0
    )
    apart = [nonzero(f) for f in squares]
    vanish: list[Condition] = [relation("=", f, ZERO) for f in squares]
    if not open_ones:
        signs: list[Condition] = [junction("and", apart) if len(apart) > 1 else apart[0]] if apart else []
    else:
        odd = multiply_all([number(-1 if turned % 2 else 1), *open_ones])
        low, high = _two_sides(odd)
        sides = [relation("<", low, high), relation("<", high, low)]
        if not any(facts.holds(side) for side in sides):
            plain = [f for f in open_ones if isinstance(f, Name)]
            vanish += [relation("=", f, ZERO) for f in plain]
            if len(plain) < len(open_ones):
                vanish.append(relation("=", *_two_sides(multiply_all([f for f in open_ones if f not in plain]))))
        signs = [junction("and", [*apart, side]) if apart else side for side in sides if facts.holds(side) is not False]
    if not vanish or any(facts.holds(c) for c in vanish):
        return []
    return [c for c in (*signs, *vanish) if facts.holds(c) is not False]


def _sign_of(base: uni.Coefficients, facts: Facts) -> int | None:
    """1 where a quadratic factor has complex roots, 0 where it is a square, -1 where its roots are real; None where it is not known."""
    gap = factored(4 * base[0] * base[2] - base[1] ** 2)
    low, high = _two_sides(_without_content(gap))
    if facts.is_positive(gap) or facts.holds(relation("<", low, high)):
        return 1
    if facts.is_negative(gap) or facts.holds(relation("<", high, low)):
        return -1
    return 0 if gap is ZERO or facts.holds(relation("=", low, high)) else None


def _without_bars(root: Expression) -> Expression:
    """The root without absolute values of whole factors: solutions come in pairs of both signs."""
    pieces = factors_in(root)
    bars = {p: p.arguments[0] for p in pieces if is_a(p, ABS)}
    return substitute(root, bars)


def _without_content(gap: Expression) -> Expression:
    """gap without its positive numeric factor."""
    return gap / ABS(number(gap.coefficient)) if isinstance(gap, Product) else gap


def _is_even(factor: Expression) -> bool:
    """Whether a factor is a square, a fourth power, …"""
    k = factor.exponent if isinstance(factor, Power) else ONE
    return isinstance(k, Number) and k.is_rational and k.rational % 2 == 0


def _two_sides(gap: Expression) -> tuple[Expression, Expression]:
    """(a, b) with gap = b - a and no minus signs: c^2 < 4*k*m reads better than 4*k*m - c^2 > 0."""
    pieces = terms_of(expand(gap))
    below = [-p for p in pieces if looks_negative(p)]
    return total(below), total([p for p in pieces if not looks_negative(p)])


def basis_of(base: uni.Coefficients, times: int, t: Name, facts: Facts) -> list[Expression]:
    """The homogeneous solutions that belong to one factor of the characteristic polynomial."""
    if len(base) == 2:
        rate = uni.lowest_terms(-base[0] / base[1])
        return [power(t, number(j)) * EXP(rate * t) for j in range(times)]
    if len(base) == 3:
        c, b, a = base
        h = uni.lowest_terms(-b / (2 * a))
        gap = uni.lowest_terms(c / a - (b / (2 * a)) ** 2)
        turns = _sign_of(base, facts)
        if turns == 0 or (turns is None and is_zero(gap, facts)):
            return [power(t, number(j)) * EXP(h * t) for j in range(2 * times)]
        if turns is None:
            decisive = factored(b * b - 4 * a * c)
            raise NotSolved(f"the sign of {decisive} decides the form of the solution: state it with given")
        root = _without_bars(simplify(sqrt(gap if turns > 0 else -gap), facts).expression)
        if turns < 0:
            pair = [EXP(expand((h + sign * root) * t)) for sign in (1, -1)]
        else:
            pair = [EXP(h * t) * COS(root * t), EXP(h * t) * SIN(root * t)]
        return [power(t, number(j)) * p for j in range(times) for p in pair]
    apart = real_factors(base, facts)
    if apart is not None:
        return [b for part in apart.bases for b in basis_of(part, times, t, apart.facts)]
    mark = fresh_name("s", t)
    whole = integer_coefficients(uni.expression_of(base, mark), mark)
    if whole is None:
        raise NotSolved(f"the roots of the characteristic polynomial {uni.expression_of(base, mark)} have no closed form here")
    return [power(t, number(j)) * own for own in real_basis(shown_roots(base, mark, facts), t, facts) for j in range(times)]


def _particular(
    right: Expression,
    polynomial: Expression,
    factors: list[tuple[uni.Coefficients, int]],
    s: Name,
    t: Name,
    facts: Facts,
    conditions: dict[Condition, None],
) -> Expression | None:
    """A particular solution: the partial fractions of F/p without those that only repeat homogeneous solutions."""
    if right is ZERO:
        return ZERO
    delayed, places = _delayed_steps(right, t, facts)
    known = facts.with_facts([p > 0 for p in places])
    forced = laplace(delayed, t, s, known)
    if forced is None:
        return None
    if has_call(forced.value, (EXP,)):
        back = inverse_laplace(forced.value / polynomial, s, t, known)
        if back is None:
            return None
        conditions.update(dict.fromkeys(c for c in back.conditions if not any(p in names(c) for p in places)))
        return substitute(back.value, places)
    try:
        quotient, pieces = simple_fractions(*split_fraction(factored(forced.value / polynomial), s))
    except DomainError:  # the transform has roots, as that of sqrt(t)
        return None
    if quotient:
        return None
    own = {tuple(base): times for base, times in factors}
    kept: list[Expression] = []
    for piece in pieces:
        if piece.exponent <= _multiplicity(piece, own):
            continue
        kept.append(pole_response(piece, t, facts, conditions))
    result = total(kept)
    return simplify(result, facts).expression


def _delayed_steps(right: Expression, t: Name, facts: Facts, at_start: bool = False) -> tuple[Expression, dict[Name, Expression]]:
    """Steps and impulses set to places that are surely after 0, and where they really are.

    The transform knows what comes after 0 only; the response is a formula in the place, and the place is put in at the end.
    at_start: only those at 0 itself.
    """
    table: dict[Node, Expression] = {}
    places: dict[Name, Expression] = {}
    for node in postorder(right):
        if not (is_a(node, HEAVISIDE, DIRAC_DELTA) and contains(node, t)):
            continue
        parts = uni.linear_parts(expand(node.arguments[0]), t)
        if parts is None or not facts.is_positive(parts[0]):
            continue
        place = uni.lowest_terms(-parts[1] / parts[0])
        if (place is not ZERO) if at_start else facts.is_positive(place):
            continue
        mark = next((m for m, p in places.items() if p is place), None)
        if mark is None:
            mark = facts.new_name(f"t_{len(places) + 1}", right, t, *places)
            places[mark] = place
        scale = 1 / parts[0] if is_a(node, DIRAC_DELTA) else ONE
        table[node] = scale * call(node.name, t - mark)
    return substitute(right, table), places


def _multiplicity(piece: Piece, own: dict[tuple[Expression, ...], int]) -> int:
    """How often the base of a simple fraction divides the characteristic polynomial."""
    for base, times in own.items():
        if len(base) == len(piece.base):
            ratio = piece.base[-1] / base[-1]
            if all(uni.lowest_terms(a - ratio * b) is ZERO for a, b in zip(piece.base, base, strict=True)):
                return times
    return 0
