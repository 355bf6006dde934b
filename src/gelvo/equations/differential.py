"""Ordinary differential equations: constant coefficients by the Laplace transform, first order by an integrating factor or by
separation, Euler's and Bernoulli's by a substitution.

Sources: E. Ince, "Ordinary Differential Equations" (1926); G. Doetsch, "Introduction to the Theory and Application of the Laplace
Transformation" (1974).
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from typing import NamedTuple

from gelvo.algebra import univariate as uni
from gelvo.algebra.collecting import terms_of
from gelvo.algebra.differentiation import differentiate
from gelvo.algebra.equality import is_zero
from gelvo.algebra.expanding import expand
from gelvo.algebra.facts import Facts
from gelvo.algebra.fractions import factored
from gelvo.algebra.partial_fractions import Piece, simple_fractions, split_fraction
from gelvo.algebra.simplification import simplify
from gelvo.algebra.univariate import ONE, ZERO
from gelvo.calculus.antiderivative.search import antiderivative
from gelvo.calculus.transforms import inverse_laplace, laplace, pole_response
from gelvo.equations.single import solve_single
from gelvo.equations.systems import linear_rows, solve_linear
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import applied, call, looks_negative, multiply_all, name, number, power, relation, total
from gelvo.expression.nodes import Applied, Call, Condition, Equation, Expression, Name, Node, Number
from gelvo.expression.traversal import contains, fresh_name, names, postorder, substitute
from gelvo.numbers.exact import HALF

Values = dict[Expression, Expression]
HIGHEST_ORDER = 12


class Solved(NamedTuple):
    """One solution: a formula for each unknown function, and when it holds."""

    values: Values
    conditions: tuple[Condition, ...] = ()


class Outcome(NamedTuple):
    """All solutions (several where the letters have cases), their free constants, the method."""

    found: list[Solved]
    constants: tuple[Name, ...]
    road: str


class Problem(NamedTuple):
    """The equations (left sides, = 0), the unknown functions of one variable, initial or boundary values, facts."""

    equations: list[Expression]
    unknowns: list[Applied]
    variable: Name
    stated: list[Equation]
    facts: Facts


def solve_differential(
    equations: Sequence[Expression], unknowns: Sequence[Applied], stated: Sequence[Equation], facts: Facts
) -> Outcome:
    """The solutions of ordinary differential equations; raises NotSolved with what was looked for."""
    problem = _problem(equations, unknowns, stated, facts)
    _check_stated(problem)
    linear = _constant_coefficients(problem)
    if linear is not None:
        return linear
    if len(problem.unknowns) > 1:
        raise NotSolved("only linear systems with constant coefficients are solved: use solve_numerically for others")
    for method in (_first_order, _euler, _higher_without_function):
        found = method(problem)
        if found is not None and all(_satisfies(problem, s) for s in found.found):
            return found
    raise NotSolved(
        f"no method solves this differential equation for {problem.unknowns[0]}: solve_numerically gives a table of values"
    )


def _satisfies(problem: Problem, solution: Solved) -> bool:
    """A solution found by inverting functions is believed only where its residual is proved to be zero."""
    facts = problem.facts.with_facts([c for c in solution.conditions if names(c)])
    residuals = [_with_values(e, solution.values, problem.variable) for e in problem.equations]
    return all(is_zero(r, facts) for r in residuals)


def _problem(equations: Sequence[Expression], unknowns: Sequence[Applied], stated: Sequence[Equation], facts: Facts) -> Problem:
    variables = {a for u in unknowns for a in u.arguments}
    if len(variables) != 1 or not isinstance(next(iter(variables)), Name):
        raise NotSolved("unknown functions of one and the same variable are needed")
    t = variables.pop()
    assert isinstance(t, Name)
    for e in equations:
        for node in postorder(e):
            if isinstance(node, Applied) and any(node.name == u.name for u in unknowns) and node.arguments != (t,):
                raise NotSolved(f"{node} is taken at another place than {t}: such equations are not solved")
    return Problem(list(equations), list(unknowns), t, list(stated), facts)


def _order(problem: Problem, u: Applied) -> int:
    orders = [sum(n.orders) for e in problem.equations for n in postorder(e) if isinstance(n, Applied) and n.name == u.name]
    return max(orders, default=0)


def _derivative(u: Applied, k: int) -> Expression:
    return applied(u.name, u.arguments, (k,))


def _at(u: Applied, place: Expression, k: int) -> Expression:
    return applied(u.name, (place,), (k,))


def _check_stated(problem: Problem) -> None:
    """Initial values: about the unknowns, one value each, none that contradict each other."""
    seen: dict[Expression, Expression] = {}
    known = {u.name for u in problem.unknowns}
    for e in problem.stated:
        for node in postorder(e.left - e.right):
            if isinstance(node, Applied) and node.name not in known:
                raise DomainError(f"{e} speaks of {node}, which is not among the unknowns")
        if isinstance(e.left, Applied):
            if e.left in seen and is_zero(seen[e.left] - e.right, problem.facts) is not True:
                raise DomainError(f"{e.left} is given twice, as {seen[e.left]} and as {e.right}")
            seen[e.left] = e.right
            if sum(e.left.orders) and sum(e.left.orders) >= max(
                _order(problem, u) for u in problem.unknowns if u.name == e.left.name
            ):
                raise DomainError(f"{e.left} follows from the equation and cannot be given as an initial value")


# --- linear with constant coefficients ---------------------------------------------------------------------------------------


class Linear(NamedTuple):
    """Each equation as {(unknown, order): coefficient}, and its right side."""

    table: dict[tuple[Applied, int], Expression]
    right: Expression


def _linear_parts(problem: Problem, constant: bool) -> list[Linear] | None:
    """The equations as linear ones, or None; `constant` asks for coefficients without the variable."""
    found: list[Linear] = []
    for e in problem.equations:
        listed = [(u, k) for u in problem.unknowns for k in range(_order(problem, u) + 1)]
        marks = {_derivative(u, k): fresh_name(f"y_{u.name}_{k}", e) for u, k in listed}
        inside = expand(substitute(e, marks))
        table: dict[tuple[Applied, int], Expression] = {}
        for u, k in listed:
            mark = marks[_derivative(u, k)]
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


def _constant_coefficients(problem: Problem) -> Outcome | None:
    parts = _linear_parts(problem, True)
    if parts is None:  # a common factor in front may still be taken out
        parts = _after_division(problem)
    if parts is None:
        return None
    if len(parts) != len(problem.unknowns):
        raise NotSolved(f"{len(parts)} equations for {len(problem.unknowns)} unknown functions")
    if len(parts) == 1 and not _is_initial(problem):
        return _general(problem, parts[0])
    return _by_transform(problem, parts)


def _after_division(problem: Problem) -> list[Linear] | None:
    if len(problem.equations) != 1:
        return None
    parts = _linear_parts(problem, False)
    if parts is None or not parts[0].table:
        return None
    lead = parts[0].table[max(parts[0].table, key=lambda key: key[1])]
    table = {k: factored(c / lead) for k, c in parts[0].table.items()}
    if any(contains(c, problem.variable) for c in table.values()):
        return None
    return [Linear(table, expand(parts[0].right / lead))]


def _is_initial(problem: Problem) -> bool:
    """Whether the stated values are the whole state at 0."""
    wanted = {_at(u, ZERO, k) for u in problem.unknowns for k in range(_order(problem, u))}
    return {e.left for e in problem.stated} == wanted and bool(wanted)


def _by_transform(problem: Problem, parts: list[Linear]) -> Outcome:
    """Laplace's transform of all equations, a linear system for the transforms, and back."""
    t, facts = problem.variable, problem.facts.with_facts([problem.variable > 0])
    taken: list[Expression] = [*problem.equations, *[side for e in problem.stated for side in (e.left, e.right)]]
    s = fresh_name("s", t, *taken)
    given = {e.left: e.right for e in problem.stated} if _is_initial(problem) else {}
    constants: list[Name] = []
    start: dict[Expression, Expression] = {}
    for u in problem.unknowns:
        for k in range(_order(problem, u)):
            place = _at(u, ZERO, k)
            if place in given:
                start[place] = given[place]
            else:
                constants.append(name(f"C_{len(constants) + 1}"))
                start[place] = constants[-1]
    transforms = [fresh_name(f"Y_{u.name}", *taken) for u in problem.unknowns]
    rows: list[Expression] = []
    for linear in parts:
        forced = laplace(linear.right, t, s, facts) if linear.right is not ZERO else None
        if linear.right is not ZERO and forced is None:
            raise NotSolved(f"the forcing {linear.right} has no Laplace transform here")
        terms: list[Expression] = [] if forced is None else [-forced.value]
        for (u, k), c in linear.table.items():
            mark = transforms[problem.unknowns.index(u)]
            early = [start[_at(u, ZERO, j)] * s ** (k - 1 - j) for j in range(k)]
            terms.append(c * (s**k * mark - total(early)))
        rows.append(total(terms))
    table = linear_rows(rows, transforms)
    if table is None:
        raise NotSolved("the transformed equations are not linear")
    solved = solve_linear(table, transforms, facts.with_facts([s > 0]))
    if not solved.found or any(names(v) and any(m in names(v) for m in transforms) for v in solved.found[0].values.values()):
        raise NotSolved("the equations do not determine all unknown functions (or contradict each other)")
    values: Values = {}
    conditions: dict[Condition, None] = {}
    for u, mark in zip(problem.unknowns, transforms, strict=True):
        back = inverse_laplace(solved.found[0].values[mark], s, t, facts)
        if back is None:
            raise NotSolved(f"the poles of {solved.found[0].values[mark]} have no closed form here")
        conditions.update(dict.fromkeys(back.conditions))
        values[u] = simplify(back.value, facts.with_facts(back.conditions)).expression
    outcome = Outcome([Solved(values, tuple(conditions))], tuple(constants), "Laplace transform of the equations")
    if constants and problem.stated:
        return _imposed(problem, outcome)
    return outcome


def _general(problem: Problem, linear: Linear) -> Outcome:
    """One equation: a basis of the homogeneous solutions, a particular one, and the stated values imposed."""
    t = problem.variable
    u = problem.unknowns[0]
    s = fresh_name("s", t, *problem.equations)
    polynomial = total([c * s**k for (_, k), c in linear.table.items()])
    order = _order(problem, u)
    if order > HIGHEST_ORDER:
        raise NotSolved(f"the order {order} is above the limit of {HIGHEST_ORDER}")
    top, content, factors = split_fraction(factored(1 / polynomial), s)
    del top, content
    outcomes: list[Solved] = []
    constants = tuple(name(f"C_{k + 1}") for k in range(order))
    for case in _damping_cases(factors, problem.facts):
        facts = problem.facts.with_facts([c for c in case if names(c)])
        basis: list[Expression] = []
        for base, times in factors:
            basis.extend(_basis(base, times, t, facts))
        particular = _particular(linear.right, polynomial, factors, s, t, facts)
        if particular is None:
            raise NotSolved(f"no particular solution was found for the forcing {linear.right}")
        whole = total([*[c * b for c, b in zip(constants, basis, strict=True)], particular])
        outcomes.append(Solved({u: whole}, tuple(case)))
    outcome = Outcome(outcomes, constants, "characteristic polynomial and a particular solution")
    return _imposed(problem, outcome) if problem.stated else outcome


def _damping_cases(factors: list[tuple[uni.Coefficients, int]], facts: Facts) -> list[list[Condition]]:
    """The signs of discriminants that the facts leave open: each sign is a case of its own."""
    choices: list[list[list[Condition]]] = []
    for base, _ in factors:
        if len(base) != 3:
            continue
        gap = factored(4 * base[0] * base[2] - base[1] ** 2)
        if gap is ZERO:
            continue
        low, high = _two_sides(gap)
        signs = [relation("<", low, high), relation("=", low, high), relation("<", high, low)]
        if not any(facts.holds(sign) for sign in signs):
            choices.append([[sign] for sign in signs if facts.holds(sign) is not False])
    return [[c for part in pick for c in part] for pick in itertools.product(*choices)] if choices else [[]]


def _two_sides(gap: Expression) -> tuple[Expression, Expression]:
    """(a, b) with gap = b - a and no minus signs: c^2 < 4*k*m reads better than 4*k*m - c^2 > 0."""
    pieces = terms_of(expand(gap))
    below = [-p for p in pieces if looks_negative(p)]
    return total(below), total([p for p in pieces if not looks_negative(p)])


def _basis(base: uni.Coefficients, times: int, t: Name, facts: Facts) -> list[Expression]:
    """The homogeneous solutions that belong to one factor of the characteristic polynomial."""
    if len(base) == 2:
        rate = uni.normal(-base[0] / base[1])
        return [power(t, number(j)) * call("exp", rate * t) for j in range(times)]
    if len(base) == 3:
        c, b, a = base
        h = uni.normal(-b / (2 * a))
        gap = uni.normal(c / a - (b / (2 * a)) ** 2)
        if is_zero(gap, facts):
            return [power(t, number(j)) * call("exp", h * t) for j in range(2 * times)]
        if facts.is_negative(gap):
            root = power(-gap, number(HALF))
            pair = [call("exp", expand((h + sign * root) * t)) for sign in (1, -1)]
        else:
            root = power(gap, number(HALF))
            pair = [call("exp", h * t) * call("cos", root * t), call("exp", h * t) * call("sin", root * t)]
        return [power(t, number(j)) * p for j in range(times) for p in pair]
    from gelvo.algebra.algebraic import all_roots, integer_coefficients

    mark = fresh_name("s", t)
    whole = integer_coefficients(uni.expression_of(base, mark), mark)
    if whole is None:
        raise NotSolved(f"the roots of the characteristic polynomial {uni.expression_of(base, mark)} have no closed form here")
    return [power(t, number(j)) * call("exp", r * t) for r in all_roots(whole) for j in range(times)]


def _particular(
    right: Expression, polynomial: Expression, factors: list[tuple[uni.Coefficients, int]], s: Name, t: Name, facts: Facts
) -> Expression | None:
    """A particular solution: the partial fractions of F/p without those that only repeat homogeneous solutions."""
    if right is ZERO:
        return ZERO
    forced = laplace(right, t, s, facts)
    if forced is None:
        return None
    if any(getattr(n, "name", "") == "exp" for n in postorder(forced.value)):
        back = inverse_laplace(forced.value / polynomial, s, t, facts)
        return None if back is None else back.value
    quotient, pieces = simple_fractions(*split_fraction(factored(forced.value / polynomial), s))
    if quotient:
        return None
    own = {tuple(base): times for base, times in factors}
    kept: list[Expression] = []
    for piece in pieces:
        if piece.exponent <= _multiplicity(piece, own):
            continue
        conditions: dict[Condition, None] = {}
        kept.append(pole_response(piece, t, facts, conditions))
    result = total(kept)
    return simplify(result, facts).expression


def _multiplicity(piece: Piece, own: dict[tuple[Expression, ...], int]) -> int:
    """How often the base of a simple fraction divides the characteristic polynomial."""
    for base, times in own.items():
        if len(base) == len(piece.base):
            ratio = piece.base[-1] / base[-1]
            if all(uni.normal(a - ratio * b) is ZERO for a, b in zip(piece.base, base, strict=True)):
                return times
    return 0


def _imposed(problem: Problem, outcome: Outcome) -> Outcome:
    """The stated values solved for the constants."""
    found: list[Solved] = []
    for solution in outcome.found:
        rows: list[Expression] = []
        for e in problem.stated:
            rows.append(_with_values(e.left - e.right, solution.values, problem.variable))
        facts = problem.facts.with_facts([c for c in solution.conditions if names(c)])
        constants = list(outcome.constants)
        table = linear_rows(rows, constants)
        if table is None:
            raise NotSolved("the stated values are not linear in the constants")
        solved = solve_linear(table, constants, facts)
        if not solved.found:
            raise DomainError("the initial values contradict each other or the equation")
        needed = facts.open_conditions(solved.conditions)
        if any(getattr(c, "operator", "") == "=" for c in needed):
            raise DomainError(f"the stated values can hold only if {' and '.join(map(str, needed))}")
        values = {u: simplify(substitute(v, solved.found[0].values), facts).expression for u, v in solution.values.items()}
        found.append(Solved(values, (*solution.conditions, *needed)))
    left = tuple(c for c in outcome.constants if any(contains(v, c) for s in found for v in s.values.values()))
    return Outcome(found, left, f"{outcome.road}; constants from the stated values")


def _with_values(e: Expression, values: Values, t: Name) -> Expression:
    """Unknown functions and their derivatives at places replaced by the formulas."""
    table: dict[Node, Expression] = {}
    for node in postorder(e):
        if isinstance(node, Applied):
            formula = next((v for u, v in values.items() if isinstance(u, Applied) and u.name == node.name), None)
            if formula is not None:
                table[node] = substitute(differentiate(formula, t, sum(node.orders)), {t: node.arguments[0]})
    return substitute(e, table)  # type: ignore[no-any-return]


# --- first order -----------------------------------------------------------------------------------------------------------------


def _first_order(problem: Problem) -> Outcome | None:
    u = problem.unknowns[0]
    if len(problem.equations) != 1 or _order(problem, u) != 1:
        return None
    y, slope = fresh_name("y", *problem.equations), fresh_name("v", *problem.equations)
    inside = substitute(problem.equations[0], {_derivative(u, 1): slope, _derivative(u, 0): y})
    parts = uni.linear_parts(expand(inside), slope)
    if parts is None:
        roots = solve_single(inside, slope, problem.facts, True)
        if len(roots.found) != 1:
            raise NotSolved("the equation does not give the derivative in one way only")
        rate = roots.found[0].value
    else:
        rate = factored(-parts[1] / parts[0])
    for method in (_integrating_factor, _bernoulli, _separated, _homogeneous):
        found = method(problem, rate, y)
        if found is not None:
            return found
    return None


def _integral(f: Expression, x: Name, facts: Facts) -> Expression | None:
    if f is ZERO:
        return ZERO
    found = antiderivative(f, x, facts)
    if found is None:
        return None
    # absolute values inside logarithms: in an integrating factor their sign is a constant factor
    bars = [n for n in postorder(found.expression) if isinstance(n, Call) and n.name == "abs"]
    return substitute(found.expression, {n: n.arguments[0] for n in bars})  # type: ignore[no-any-return]


def _integrating_factor(problem: Problem, rate: Expression, y: Name) -> Outcome | None:
    """y' + p*y = q."""
    t, facts = problem.variable, problem.facts
    parts = uni.coefficients_of(expand(rate), y)
    if parts is None or len(parts) > 2:
        return None
    q, p = parts[0] if parts else ZERO, -parts[1] if len(parts) == 2 else ZERO
    weight = _integral(p, t, facts)
    if weight is None:
        return None
    factor = simplify(call("exp", weight), facts).expression
    inner = _integral(simplify(factor * q, facts).expression, t, facts)
    if inner is None:
        return None
    c = name("C_1")
    value = simplify(c / factor + inner / factor, facts).expression
    outcome = Outcome([Solved({problem.unknowns[0]: expand(value)})], (c,), "integrating factor")
    return _imposed(problem, outcome) if problem.stated else outcome


def _bernoulli(problem: Problem, rate: Expression, y: Name) -> Outcome | None:
    """y' = a*y + b*y^n: linear for y^(1 - n)."""
    from gelvo.algebra.collecting import power_table

    if problem.stated:
        return None
    table = power_table(expand(rate), y)
    exponents = [e for e in table if e is not ONE]
    if len(exponents) != 1 or not isinstance(exponents[0], Number) or exponents[0] is ZERO or ONE not in table:
        return None
    n = exponents[0]
    a, b = total(table[ONE]), total(table[n])
    if contains(a, y) or contains(b, y) or not (contains(a, problem.variable) or contains(b, problem.variable)):
        return None
    inner = _integrating_factor(problem, (1 - n) * (a * y + b), y)
    if inner is None:
        return None
    value = power(inner.found[0].values[problem.unknowns[0]], 1 / (1 - n))
    return Outcome(
        [Solved({problem.unknowns[0]: value})], inner.constants, "Bernoulli's substitution, then an integrating factor"
    )


def _separated(problem: Problem, rate: Expression, y: Name) -> Outcome | None:
    """y' = f(t)*g(y): both sides integrated, then solved for y."""
    t, facts = problem.variable, problem.facts
    parts = _product_of(rate, t, y)
    if parts is None:
        return None
    f, g = parts
    u = problem.unknowns[0]
    start = next((e for e in problem.stated if isinstance(e.left, Applied) and not sum(e.left.orders)), None)
    if problem.stated and (start is None or len(problem.stated) > 1):
        raise DomainError("one initial value of the function itself belongs to an equation of the first order")
    left, right = antiderivative(1 / g, y, facts), antiderivative(f, t, facts)
    if left is None or right is None:
        return None
    constants: tuple[Name, ...] = ()
    if start is None:
        c = name("C_1")
        constants = (c,)
        offset: Expression = c
    else:
        assert isinstance(start.left, Applied)
        place = start.left.arguments[0]
        offset = substitute(left.expression, {y: start.right}) - substitute(right.expression, {t: place})
    equation = left.expression - right.expression - offset
    try:
        roots = solve_single(equation, y, facts, True)
    except NotSolved:
        raise NotSolved(f"separated, but not solved for {u}:  {left.expression} = {right.expression} + {offset}") from None
    found: list[Solved] = []
    for root in roots.found:
        value = simplify(root.value, facts).expression
        if start is not None:
            assert isinstance(start.left, Applied)
            try:
                at_start = substitute(value, {t: start.left.arguments[0]}) - start.right
            except DomainError:
                continue
            if is_zero(at_start, facts) is not True:
                continue
        # what the solving needed of the variable does not matter: the residual is proved to be zero
        kept = tuple(c for c in (*root.conditions, *roots.conditions) if not any(contains(c, k) for k in (*constants, t)))
        found.append(Solved({u: value}, facts.open_conditions(kept)))
    constant = solve_constant(g, y, facts) if start is None else []
    found += [Solved({u: v}) for v in constant if not any(is_zero(s.values[u] - v, facts) for s in found)]
    return Outcome(found, constants, "separation of variables") if found else None


def solve_constant(g: Expression, y: Name, facts: Facts) -> list[Expression]:
    """The constant solutions that separation divides away: the zeros of g."""
    if not contains(g, y):
        return []
    try:
        return [r.value for r in solve_single(g, y, facts, True).found if not r.conditions and not r.families]
    except (NotSolved, DomainError):
        return []


def _product_of(rate: Expression, t: Name, y: Name) -> tuple[Expression, Expression] | None:
    """(f(t), g(y)) with rate = f*g."""
    product = factored(rate)
    listed = product.factors if hasattr(product, "factors") else (product,)
    f: list[Expression] = [number(product.coefficient)] if hasattr(product, "coefficient") and hasattr(product, "factors") else []
    g: list[Expression] = []
    for piece in listed:
        if contains(piece, t) and contains(piece, y):
            return None
        (g if contains(piece, y) else f).append(piece)
    return multiply_all(f), multiply_all(g)


def _homogeneous(problem: Problem, rate: Expression, y: Name) -> Outcome | None:
    """y' = F(y/t): separable for w = y/t."""
    t = problem.variable
    if problem.stated:
        return None
    w = fresh_name("w", rate)
    inside = factored(substitute(rate, {y: w * t}))
    if contains(inside, t):
        return None
    u = problem.unknowns[0]
    inner = _separated(problem, factored((substitute(inside, {w: y}) - y) / t), y)
    if inner is None:
        return None
    found = [Solved({u: simplify(t * s.values[u], problem.facts).expression}, s.conditions) for s in inner.found]
    return Outcome(found, inner.constants, "the quotient of function and variable, then separation")


# --- second order with a substitution -----------------------------------------------------------------------------------------


def _euler(problem: Problem) -> Outcome | None:
    """t^2*y'' + a*t*y' + b*y = 0 for t > 0: powers of t, with logarithms where roots are double."""
    parts = _linear_parts(problem, False)
    if parts is None or len(parts) != 1 or parts[0].right is not ZERO:
        return None
    t = problem.variable
    table = parts[0].table
    top = max((k for _, k in table), default=0)
    lead = next(c for (_, k), c in table.items() if k == top)
    weights: dict[int, Expression] = {}
    for (_, k), c in table.items():
        weight = factored(c / lead * power(t, number(top - k)))
        if contains(weight, t):
            return None
        weights[k] = weight
    r = fresh_name("r", *problem.equations)
    polynomial = expand(total([w * multiply_all([r - j for j in range(k)]) for k, w in weights.items()]))
    _, _, factors = split_fraction(factored(1 / polynomial), r)
    log = fresh_name("l", *problem.equations)
    basis: list[Expression] = []
    for base, times in factors:
        basis.extend(_basis(base, times, log, problem.facts))
    constants = tuple(name(f"C_{k + 1}") for k in range(top))
    back = {log: call("ln", t)}
    facts = problem.facts.with_facts([t > 0])
    value = total([c * simplify(substitute(b, back), facts).expression for c, b in zip(constants, basis, strict=True)])
    outcome = Outcome(
        [Solved({problem.unknowns[0]: value}, facts.open_conditions([t > 0]))], constants, "powers of the variable (Euler)"
    )
    return _imposed(problem, outcome) if problem.stated else outcome


def _higher_without_function(problem: Problem) -> Outcome | None:
    """y'' = F(t, y'): first order for y'."""
    u, t = problem.unknowns[0], problem.variable
    if _order(problem, u) != 2 or problem.stated:
        return None
    bare = _derivative(u, 0)
    if any(bare in postorder(e) for e in problem.equations):
        return None
    v = applied(fresh_name(f"{u.name}_rate", *problem.equations).name, (t,), (0,))
    table = {_derivative(u, 2): _derivative(v, 1), _derivative(u, 1): v}
    inner = _first_order(Problem([substitute(e, table) for e in problem.equations], [v], t, [], problem.facts))
    if inner is None:
        return None
    found: list[Solved] = []
    c = name("C_2")
    for s in inner.found:
        whole = antiderivative(s.values[v], t, problem.facts)
        if whole is None:
            return None
        found.append(Solved({u: whole.expression + c}, s.conditions))
    return Outcome(found, (*inner.constants, c), f"first order for the derivative; {inner.road}")
