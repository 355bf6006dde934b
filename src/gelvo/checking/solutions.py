"""Solutions looked at again: each put into each equation, families of angles class by class, stated solutions with their initial values."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from math import lcm
from random import Random
from typing import TypeGuard, TypeVar

from gelvo.checking.certificate import PROVED, REFUTED, SUPPORTED, UNDECIDED, Certificate, weakest
from gelvo.checking.claims import from_decision, is_impulse, numerically
from gelvo.deciding.algebraic import divides_as_root
from gelvo.deciding.equality import decide_zero
from gelvo.differential.problem import before_steps, slopes_of, with_relation
from gelvo.errors import DomainError
from gelvo.evaluation.modular import PRIMES, NotRational, residues
from gelvo.expression.building import number, relation, total
from gelvo.expression.constants import ONE, PI
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Call, Condition, Expression, Junction, Name, Node
from gelvo.expression.traversal import fresh_name, names, postorder, substitute
from gelvo.facts.steps import as_steps
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.patterns import substitute_meant
from gelvo.forms.univariate import linear_parts
from gelvo.functions.named import HEAVISIDE, is_a

T = TypeVar("T", bound=Node)
K = TypeVar("K", bound=Expression)
MODULAR = "all equations with the values put in, modulo primes of 61 bits at points for the letters"
POINTS_SEED = 5
MOST_STEPS = 24  # into how many classes the integer of a family of angles is parted


def check_solution(
    equations: Sequence[Equation], values: Mapping[Expression, Expression], facts: Facts, conditions: Sequence[Condition] = ()
) -> Certificate:
    """A solution is put into every equation: the difference of the sides must be exactly zero."""
    split = next((c for c in conditions if isinstance(c, Junction) and c.word == "or"), None)
    if split is not None:  # each alternative by itself
        rest = [c for c in conditions if c is not split]
        each = [[*rest, part] for part in split.parts]
        cases = tuple(check_solution(equations, values, facts, case) for case in each if not facts.exclude(case))
        claim = cases[0].claim if cases else "; ".join(map(str, equations))
        return Certificate(claim, weakest(cases), f"in each case of {split}", parts=cases)
    shown = ", ".join(f"{k} = {v}" for k, v in values.items())
    known = facts.with_facts([c for c in conditions if names(c)])
    parts = [_put_in(equation, values, known, f"{equation} where {shown}") for equation in equations]
    if weakest(tuple(parts)) != PROVED:
        by_remainder = _by_remainders(equations, values, facts, conditions, shown)
        if by_remainder is not None:
            return by_remainder
    if len(parts) == 1:
        return parts[0]
    together = "; ".join(map(str, equations))
    return Certificate(
        f"{together} where {shown}", weakest(tuple(parts)), "the solution put into each equation", parts=tuple(parts)
    )


def check_shared(equations: Sequence[Equation], values: Mapping[Expression, Expression], letters: Sequence[Name]) -> Certificate:
    """Values too large to be multiplied out, put into the equations modulo primes at points for the letters: supported at most."""
    claim = "; ".join(map(str, equations))
    random, tried = Random(POINTS_SEED), 0
    for prime in PRIMES:
        try:
            point = {n: random.randrange(1, prime) for n in letters}
            found = residues(list(values.values()), point, prime)
            everywhere = {**point, **{u: r for u, r in zip(values, found, strict=True) if isinstance(u, Name)}}
            left = residues([side for e in equations for side in (e.left, e.right)], everywhere, prime)
        except NotRational:
            continue
        if left[::2] != left[1::2]:
            return Certificate(claim, REFUTED, MODULAR, {"counterexample": f"letters {point} modulo {prime}"})
        tried += 1
    return Certificate(claim, SUPPORTED if tried > 1 else UNDECIDED, MODULAR, {"points": f"{tried}, all equations hold there"})


def _by_remainders(
    equations: Sequence[Equation],
    values: Mapping[Expression, Expression],
    facts: Facts,
    conditions: Sequence[Condition],
    shown: str,
) -> Certificate | None:
    """A family of angles such as pi/4 + n*pi/2 in each class of n modulo the steps of a turn; None for what is no such family."""
    found = _steps_of_a_turn(values)
    if found is None:
        return None
    n, steps = found
    classes: list[Certificate] = []
    for r in range(steps):
        table = {n: steps * n + r}
        inside = {k: expand(substitute(v, table)) for k, v in values.items()}
        known = facts.with_facts([substitute(c, table) for c in conditions if names(c)])
        classes += [_put_in(equation, inside, known, f"{equation} where {n} is {r} modulo {steps}") for equation in equations]
    claim = f"{'; '.join(map(str, equations))} where {shown}"
    return Certificate(
        claim, weakest(tuple(classes)), f"each class of {n} modulo {steps} put into the equations", parts=tuple(classes)
    )


def _steps_of_a_turn(values: Mapping[Expression, Expression]) -> tuple[Name, int] | None:
    """The one integer of a family, and into how many classes its angles fall that differ by whole turns."""
    integers = {n for v in values.values() for n in names(v) if n.domain == "integer"}
    if len(integers) != 1:
        return None
    (n,) = integers
    parts = [uni.linear_parts(expand(v), n) for v in values.values() if n in names(v)]
    shares = [uni.lowest_terms(p[0] / PI) for p in parts if p is not None]
    if len(shares) < len(parts) or not all(s.is_rational for s in shares):
        return None
    steps = 2 * lcm(*(int(s.rational.denominator) for s in shares))
    return (n, steps) if steps <= MOST_STEPS else None


def substitute_functions(root: T, table: Mapping[K, Expression]) -> T:
    """Substitution in which an unknown function, or one of its derivatives, may be replaced: higher derivatives and values follow.

    Other parts are found where a person means them (`gelvo.forms.patterns`).
    """
    functions: dict[str, list[tuple[Applied, Expression]]] = {}
    for old, new in table.items():
        if isinstance(old, Applied):
            functions.setdefault(old.name, []).append((old, new))
    plain: dict[Expression, Expression] = {k: v for k, v in table.items() if not isinstance(k, Applied)}
    meant = any(not isinstance(k, Name) for k in plain)
    if not functions:
        return substitute_meant(root, plain) if meant else substitute(root, plain)
    replaced: dict[Expression, Expression] = dict(plain)
    for node in postorder(root):
        if isinstance(node, Applied) and node.name in functions:
            value = _function_value(node, functions[node.name])
            if value is not None:
                replaced[node] = value
    return substitute(root, replaced)


def _function_value(node: Applied, entries: list[tuple[Applied, Expression]]) -> Expression | None:
    """theta''(0) for theta(t) = formula: differentiate by t twice, then put 0 in; from theta' = formula only once."""
    below = [e for e in entries if all(have <= want for have, want in zip(e[0].orders, node.orders, strict=True))]
    if not below:
        return None
    pattern, result = max(below, key=lambda e: sum(e[0].orders))
    for variable, have, want in zip(pattern.arguments, pattern.orders, node.orders, strict=True):
        if want > have:
            if not isinstance(variable, Name):
                raise DomainError(f"{pattern} is not a function of a variable")
            if sum(pattern.orders) and variable not in names(result):
                return None  # a plain letter for theta' says nothing of theta''
            result = differentiate(result, variable, want - have)
    table = {v: a for v, a in zip(pattern.arguments, node.arguments, strict=True) if v is not a}
    return substitute(result, table) if table else result


def _put_in(equation: Equation, values: Mapping[Expression, Expression], known: Facts, claim: str) -> Certificate:
    """A solution put into one equation."""
    if not equation.conditions and len(values) == 1:
        ((unknown, value),) = values.items()
        if isinstance(unknown, Name) and divides_as_root(value, equation.left - equation.right, unknown):
            return Certificate(claim, PROVED, "the polynomial of the exact root divides the equation")
    try:
        inside = substitute_functions(equation.left - equation.right, values)
        broken = [c for c in equation.conditions if known.holds(substitute_functions(c, values)) is False]
    except DomainError as fault:
        return Certificate(claim, REFUTED, "the solution put into the equation", {"fault": fault})
    if broken:
        evidence = {"fault": f"the equation as written needs {broken[0]}"}
        return Certificate(claim, REFUTED, "the solution put into the equation", evidence)
    return from_decision(claim, decide_zero(inside, known), "the solution put into the equation; the residual in the normal form")


def check_stated_solution(
    equations: Sequence[Equation], where: Mapping[Expression, Expression], initial: Sequence[Equation], facts: Facts
) -> Certificate:
    """A stated solution: every equation's residual and every initial value exactly zero."""
    shown = ", ".join(f"{k} = {v}" for k, v in where.items())
    parts: list[Certificate] = []
    for equation, what in [(e, "residual") for e in equations] + [(e, "initial value") for e in initial]:
        claim = f"{equation} where {shown}"
        try:
            parts.append(_stated_part(claim, equation, what, where, facts))
        except DomainError as fault:
            parts.append(Certificate(claim, REFUTED, f"{what} of the stated solution", {"fault": fault}))
    if len(parts) == 1:
        return parts[0]
    together = "; ".join(map(str, equations))
    return Certificate(
        f"{together} where {shown}",
        weakest(tuple(parts)),
        "residual and initial values of the stated solution",
        parts=tuple(parts),
    )


def check_relation(
    equations: Sequence[Equation], relation: Equation, u: Applied, initial: Sequence[Equation], facts: Facts
) -> Certificate:
    """A relation between a function and its variable: its derivatives put into every equation, and the stated values into itself."""
    (t,) = u.arguments
    assert isinstance(t, Name)
    y = facts.new_name("y", t, *[s for e in (*equations, relation) for s in (e.left, e.right)])
    orders = [
        sum(n.orders) for e in equations for n in postorder(e.left - e.right) if isinstance(n, Applied) and n.name == u.name
    ]
    method = "the relation differentiated, and put into the equation"
    parts = [
        from_decision(
            f"{e} where {relation}", decide_zero(with_relation(e.left - e.right, relation, u, y, max(orders)), facts), method
        )
        for e in equations
    ]
    for e in initial:
        assert isinstance(e.left, Applied)
        there = _in_relation(e.left, e.right, relation, u, y, initial)
        part = from_decision(f"{e} where {relation}", decide_zero(there, facts), "the stated value in the relation")
        parts.append(numerically(part, there, facts) if part.verdict == UNDECIDED else part)
    if len(parts) == 1:
        return parts[0]
    return Certificate("; ".join(p.claim for p in parts), weakest(tuple(parts)), method, parts=tuple(parts))


def _in_relation(
    left: Applied, right: Expression, relation: Equation, u: Applied, y: Name, initial: Sequence[Equation]
) -> Expression:
    """What must vanish for a stated value, or for a stated derivative at a place where the value is stated too."""
    t, place, order = u.arguments[0], left.arguments[0], sum(left.orders)
    value = next(
        (e.right for e in initial if isinstance(e.left, Applied) and e.left.arguments[0] is place and not any(e.left.orders)), y
    )
    if not order:
        return substitute(relation.left - relation.right, {u: right, t: place})
    return substitute(slopes_of(relation, u, y, order)[-1] - right, {y: value, t: place})


def _stated_part(claim: str, equation: Equation, what: str, where: Mapping[Expression, Expression], facts: Facts) -> Certificate:
    """A residual or an initial value of a stated solution."""
    pieces = _pieces(_by_steps(equation, where, facts), where, facts) if what == "residual" else None
    if pieces is not None:
        return Certificate(
            claim, weakest(pieces), "residual on each piece between steps; no jump beyond the forcing", parts=pieces
        )
    before = _before_the_place(equation, where) if what == "initial value" else where
    inside = substitute_functions(equation.left - equation.right, before)
    return from_decision(claim, decide_zero(inside, facts), f"{what} of the stated solution in the normal form")


def _by_steps(equation: Equation, where: Mapping[Expression, Expression], facts: Facts) -> Equation:
    """The equation with sections and steps backwards of the variable told by steps forwards."""
    t = next((k.arguments[0] for k in where if isinstance(k, Applied)), None)
    if not isinstance(t, Name):
        return equation
    return Equation(as_steps(equation.left, t, facts), as_steps(equation.right, t, facts), equation.conditions)


def _pieces(equation: Equation, where: Mapping[Expression, Expression], facts: Facts) -> tuple[Certificate, ...] | None:
    """A solution with steps: the residual between the steps, and the continuity of all derivatives below the highest order."""
    steps = [n for e in (equation.left, equation.right, *where.values()) for n in postorder(e) if _is_step(n) or is_impulse(n)]
    function = next((k for k in where if isinstance(k, Applied)), None)
    if not steps or function is None or not isinstance(function.arguments[0], Name):
        return None
    t = function.arguments[0]
    places: dict[Node, Expression] = {}
    for step in dict.fromkeys(steps):
        parts = linear_parts(step.arguments[0], t)
        even = is_impulse(step)  # an impulse is the same from both sides
        if parts is None or not (parts[0] is ONE or (even and parts[0] is -ONE)):
            return (Certificate(str(equation), UNDECIDED, f"the place of {step} is not read"),)
        places[step] = -parts[1] / parts[0]
    return _piece_by_piece(equation, where, t, places, facts)


def _piece_by_piece(
    equation: Equation, where: Mapping[Expression, Expression], t: Name, places: dict[Node, Expression], facts: Facts
) -> tuple[Certificate, ...] | None:
    """The residual between the places of the steps, and what happens at each."""
    steps = set(places)
    past = {s: p for s, p in places.items() if facts.holds(relation("<", p, t))}
    places = {s: p for s, p in places.items() if s not in past}
    done = {s: number(1 if _is_step(s) else 0) for s in past}
    where = {u: substitute(v, done) for u, v in where.items()}
    residual = substitute(equation.left - equation.right, done)
    if any(is_impulse(n) and n in steps for v in where.values() for n in postorder(v)):
        return (Certificate(str(equation), UNDECIDED, "an impulse in the solution itself"),)
    listed = sorted(dict.fromkeys(places.values()), key=lambda p: float(p) if not names(p) else 0.0)
    if len(listed) > 1 and any(names(p) for p in listed):
        return None
    found: list[Certificate] = []
    sides: list[dict[Expression, Expression]] = []
    for k in range(len(listed) + 1):
        table = {s: number(1 if _is_step(s) and listed.index(p) < k else 0) for s, p in places.items()}
        sides.append({u: substitute(v, table) for u, v in where.items()})
        inside = substitute_functions(substitute(residual, table), sides[-1])
        found.append(from_decision(f"piece {k + 1} of {equation}", decide_zero(inside, facts), "the residual on one piece"))
    for k, place in enumerate(listed):
        impulses = [s for s, p in places.items() if is_impulse(s) and p is place]
        found.extend(_at_step(residual, (sides[k], sides[k + 1]), t, place, impulses, facts))
    return tuple(found)


def _at_step(
    residual: Expression, sides: tuple[Mapping[Expression, Expression], Mapping[Expression, Expression]], t: Name,
    place: Expression, impulses: Sequence[Expression], facts: Facts,
) -> Iterator[Certificate]:  # fmt: skip
    """At a step the derivatives below the highest order do not jump, and the highest ones jump as the impulses there say."""
    before, after = sides
    pushes = total([_coefficient_of(residual, impulse) for impulse in impulses])
    for u in before:
        highest = [n for n in postorder(residual) if isinstance(n, Applied) and n.name == getattr(u, "name", "")]
        order = max((sum(n.orders) for n in highest), default=0)
        for j in range(order):
            jump = substitute(differentiate(after[u] - before[u], t, j), {t: place})
            weight = _coefficient_of(residual, max(highest, key=lambda n: sum(n.orders)))
            if j == order - 1 and not any(isinstance(n, Applied) for n in postorder(weight)):
                pushes = pushes + jump * weight
                continue
            claim = f"derivative {j} of {u} does not jump at {t} = {place}"
            yield from_decision(claim, decide_zero(jump, facts), "both sides at the step")
    claim = f"the highest derivatives jump at {t} = {place} as the impulses say"
    yield from_decision(claim, decide_zero(substitute(pushes, {t: place}), facts), "both sides at the step")


def _coefficient_of(expression: Expression, part: Expression) -> Expression:
    """The coefficient of a part that stands linearly."""
    mark = fresh_name("part", expression)
    return differentiate(substitute(expression, {part: mark}), mark)


def _before_the_place(stated: Equation, where: Mapping[Expression, Expression]) -> Mapping[Expression, Expression]:
    """A solution as it is just before the place of a stated value: steps there and later have not come yet."""
    places = [n.arguments[0] for n in postorder(stated.left - stated.right) if isinstance(n, Applied)]
    steps = any(_is_step(n) for v in where.values() for n in postorder(v))
    if not steps or len(set(places)) != 1:
        return where
    return {
        u: before_steps(v, u.arguments[0], places[0]) if isinstance(u, Applied) and isinstance(u.arguments[0], Name) else v
        for u, v in where.items()
    }


def _is_step(node: object) -> TypeGuard[Call]:
    return is_a(node, HEAVISIDE)
