"""Solutions looked at again: each put into each equation, families of angles class by class, stated solutions with their initial values."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from math import lcm
from random import Random

from gelvo.checking.certificate import PROVED, REFUTED, SUPPORTED, UNDECIDED, Certificate, weakest
from gelvo.checking.claims import from_decision, numerically
from gelvo.checking.joints import by_steps, is_step, period_by_period, pieces, state_in_period
from gelvo.checking.limits import check_limit
from gelvo.checking.putting_in import substitute_functions
from gelvo.deciding.algebraic import divides_as_root
from gelvo.deciding.equality import decide_zero
from gelvo.differential.problem import before_steps, slopes_of, with_relation
from gelvo.errors import DomainError
from gelvo.evaluation.modular import PRIMES, NotRational, residues
from gelvo.expression.constants import PI
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Condition, Expression, Junction, Name
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.facts.statements import fact_condition
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.simplifying.search import simplify

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
    facts = facts.with_facts(
        [substitute(c, {u: y}) for c in map(fact_condition, facts.given) if c is not None and contains(c, u)]
    )
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
        there = _in_relation(e.left, e.right, relation, u, y, initial, facts)
        part = from_decision(f"{e} where {relation}", decide_zero(there, facts), "the stated value in the relation")
        parts.append(numerically(part, there, facts) if part.verdict == UNDECIDED else part)
    if len(parts) == 1:
        return parts[0]
    return Certificate("; ".join(p.claim for p in parts), weakest(tuple(parts)), method, parts=tuple(parts))


def _in_relation(
    left: Applied, right: Expression, relation: Equation, u: Applied, y: Name, initial: Sequence[Equation], facts: Facts
) -> Expression:
    """What must vanish for a stated value, or for a stated derivative at a place where the value is stated too."""
    t, place, order = u.arguments[0], left.arguments[0], sum(left.orders)
    value = next(
        (e.right for e in initial if isinstance(e.left, Applied) and e.left.arguments[0] is place and not any(e.left.orders)), y
    )
    if not order:
        return substitute(relation.left - relation.right, {u: right, t: place})
    gap = slopes_of(relation, u, y, order)[-1] - right
    try:
        return substitute(gap, {y: value, t: place})
    except DomainError:  # at a turning place both parts of the slope vanish as they stand
        return substitute(simplify(gap, facts).expression, {y: value, t: place})


def _stated_part(claim: str, equation: Equation, what: str, where: Mapping[Expression, Expression], facts: Facts) -> Certificate:
    """A residual or an initial value of a stated solution."""
    periods = period_by_period(equation, where, facts) if what == "residual" else None
    if periods is not None:
        return Certificate(claim, weakest(periods), "residual within any one period; no jump between two of them", parts=periods)
    parts = pieces(by_steps(equation, where, facts), where, facts) if what == "residual" else None
    if parts is not None:
        return Certificate(claim, weakest(parts), "residual on each piece between steps; no jump beyond the forcing", parts=parts)
    if what == "initial value":
        state = state_in_period(equation, where, facts)
        if state is not None:
            return from_decision(claim, decide_zero(state, facts), "initial value of the stated solution in its period")
    before = _before_the_place(equation, where) if what == "initial value" else where
    try:
        inside = substitute_functions(equation.left - equation.right, before)
    except DomainError:
        reached = _reached(equation, where, facts) if what == "initial value" else None
        if reached is None:
            raise
        return reached
    return from_decision(claim, decide_zero(inside, facts), f"{what} of the stated solution in the normal form")


def _reached(stated: Equation, where: Mapping[Expression, Expression], facts: Facts) -> Certificate | None:
    """A stated value of a formula that has none there, but leads to one: 1 of sin(x)/x at 0."""
    at = stated.left
    u = next((f for f in where if isinstance(f, Applied) and isinstance(at, Applied) and f.name == at.name), None)
    if u is None or not isinstance(at, Applied) or not isinstance(t := u.arguments[0], Name):
        return None
    (place,) = at.arguments
    side = "below" if facts.is_negative(t - place) else "above"
    return check_limit(differentiate(where[u], t, sum(at.orders)), t, place, side, stated.right, facts)


def _before_the_place(stated: Equation, where: Mapping[Expression, Expression]) -> Mapping[Expression, Expression]:
    """A solution as it is just before the place of a stated value: steps there and later have not come yet."""
    places = [n.arguments[0] for n in postorder(stated.left - stated.right) if isinstance(n, Applied)]
    steps = any(is_step(n) for v in where.values() for n in postorder(v))
    if not steps or len(set(places)) != 1:
        return where
    return {
        u: before_steps(v, u.arguments[0], places[0]) if isinstance(u, Applied) and isinstance(u.arguments[0], Name) else v
        for u, v in where.items()
    }
