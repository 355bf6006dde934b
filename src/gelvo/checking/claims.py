"""How each kind of claim is checked."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import TypeGuard, TypeVar, cast

from gelvo.checking.certificate import PROVED, REFUTED, SUPPORTED, UNDECIDED, Certificate, weakest
from gelvo.checking.integrals import check_definite
from gelvo.checking.limits import check_limit
from gelvo.checking.sums import check_product, check_sum
from gelvo.deciding.equality import Decision, decide_zero, witness_text
from gelvo.dynamics.ordinary import before_steps
from gelvo.errors import DomainError, GelvoError
from gelvo.evaluation.enclose import Enclosure
from gelvo.evaluation.sampling import points
from gelvo.expression.building import number, relation, total, written
from gelvo.expression.constants import ONE, UNDEFINED
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Bound, Call, Cases, Condition, Expression, Junction, Name, Node, Relation, Written
from gelvo.expression.traversal import bound_apart, contains, fresh_name, names, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.forms.impulses import sifted
from gelvo.forms.patterns import substitute_meant
from gelvo.forms.univariate import linear_parts
from gelvo.functions.named import CEIL, DIRAC_DELTA, FLOOR, HEAVISIDE, is_a
from gelvo.normal.prepare import prepared
from gelvo.numbers.interval import NoValue

T = TypeVar("T", bound=Node)
K = TypeVar("K", bound=Expression)


def check_claim(claim: Equation | Condition, facts: Facts) -> Certificate:
    """An equation between formulas or written forms, or a condition.

    >>> from gelvo.expression.building import name, call
    >>> x = name("x")
    >>> from gelvo.functions.named import COS, SIN
    >>> check_claim(Equation(SIN(2*x), 2*SIN(x)*COS(x)), Facts()).verdict
    'proved'
    """
    if isinstance(claim, Equation):
        for one, other in ((claim.left, claim.right), (claim.right, claim.left)):
            if isinstance(one, Written) and not isinstance(other, Written):
                special = _check_written(one, other, claim, facts)
                if special is not None:
                    return special
        return check_identity(claim.left, claim.right, facts, str(claim))
    if isinstance(claim, Junction) and claim.word == "and":
        parts = tuple(check_claim(p, facts) for p in claim.parts)
        return Certificate(str(claim), weakest(parts), "each part on its own", parts=parts)
    if isinstance(claim, Relation) and claim.operator == "=":
        return check_claim(Equation(claim.left, claim.right), facts)
    return check_condition(claim, facts)


def _check_written(form: Written, value: Expression, claim: Equation, facts: Facts) -> Certificate | None:
    if form.kind == "integral_of" and len(form.arguments) == 2:
        return check_antiderivative(form.body, form.variable, value, facts, str(claim))
    if form.binds:  # what the other side and the facts say of that name, they say of another one
        body, x = bound_apart(form.body, form.variable, (value, *form.arguments[2:]))
        facts = facts.without(x)
        form = cast(Written, written(form.kind, body, x, *form.arguments[2:]))
    if form.kind == "integral_of":
        return check_definite(form.body, form.variable, form.arguments[2], form.arguments[3], value, facts, str(claim))
    if form.kind == "derivative_of":
        times = int(form.arguments[2].rational) if len(form.arguments) > 2 else 1
        return check_derivative(form.body, form.variable, times, value, facts, str(claim))
    if form.kind == "limit_of":
        return check_limit(form.body, form.variable, form.arguments[2], None, value, facts)
    if form.kind in ("sum_of", "product_of"):
        work = check_sum if form.kind == "sum_of" else check_product
        return work(form.body, form.variable, form.arguments[2], form.arguments[3], value, facts)
    return None


def from_decision(claim: str, decision: Decision, method: str, extra: Mapping[str, str] | None = None) -> Certificate:
    evidence: dict[str, str] = dict(extra or {})
    if decision.zero:
        evidence["difference"] = f"zero: {decision.how}"
        return Certificate(claim, PROVED, method, evidence)
    if decision.zero is False:
        evidence["counterexample"] = witness_text(decision)
        return Certificate(claim, REFUTED, method, evidence)
    evidence["difference"] = "neither proved zero nor seen to differ"
    return Certificate(claim, UNDECIDED, method, evidence)


def check_identity(left: Expression, right: Expression, facts: Facts, claim: str = "") -> Certificate:
    """Both sides have the same value wherever both have one."""
    claim = claim or f"{left} = {right}"
    if isinstance(left, Bound) or isinstance(right, Bound):
        same = left is right
        return Certificate(claim, PROVED if same else REFUTED, "both sides are bounds, compared as such")
    method = "the difference of both sides in the normal form; a point with error bounds where they differ"
    return from_decision(claim, decide_zero(left - right, facts), method)


def check_condition(claim: Condition, facts: Facts) -> Certificate:
    holds = facts.holds(claim)
    verdict = PROVED if holds else UNDECIDED if holds is None else REFUTED
    return Certificate(str(claim), verdict, "signs of the parts under the facts given, and bounded evaluation of numbers")


def check_antiderivative(f: Expression, x: Name, F: Expression, facts: Facts, claim: str = "") -> Certificate:
    """F' = f, proved in the normal form."""
    claim = claim or f"integral_of({f}, {x}) = {F}"
    if isinstance(F, Bound):
        return Certificate(claim, REFUTED, "an antiderivative is a function, not a bound")
    stepping: list[Node] = [n for n in postorder(F) if is_a(n, FLOOR, CEIL) and contains(n, x)]
    stepping += [n for n in postorder(F) if isinstance(n, Cases) and contains(n, x) and not _is_continuous(n, x, facts)]
    if any(n not in postorder(f) for n in stepping):
        return Certificate(claim, UNDECIDED, f"{stepping[0]} may jump, which its slope does not tell")
    slope = sifted(differentiate(F, x, 1, facts), between_breaks=True)
    decision = decide_zero(slope - f, facts)
    method = "the right side differentiated back, less the integrand, in the normal form"
    certificate = from_decision(
        claim, decision, method, {"established": f"the slope of the right side is {f}"} if decision.zero else {}
    )
    return certificate if decision.zero is not None else _numerically(certificate, slope - f, facts)


def _is_continuous(law: Cases, x: Name, facts: Facts) -> bool:
    """Whether the sections of a law, one up to the next, are shown to meet."""
    later = [*law.values[1:], law.otherwise]
    for before, after, border in zip(law.values, later, law.conditions, strict=False):
        if not isinstance(border, Relation) or border.left is not x or border.operator not in ("<", "<="):
            return False
        if after is UNDEFINED:
            continue
        if not decide_zero(substitute(before - after, {x: border.right}), facts).zero:
            return False
    return True


def check_derivative(f: Expression, x: Name, times: int, g: Expression, facts: Facts, claim: str = "") -> Certificate:
    """The derivative taken of the normal form, where other rules act, and high-precision difference quotients."""
    claim = claim or f"derivative_of({f}, {x}) = {g}"
    other = f
    for _ in range(times):
        other = differentiate(prepared(other, facts), x, 1, facts)
    decision = decide_zero(other - g, facts)
    certificate = from_decision(
        claim, decision, "the derivative of the normal form (exponentials, logarithms, roots) compared with the claim",
        {"difference quotients": _difference_quotients(f, x, times, g, facts)},
    )  # fmt: skip
    return certificate


def _difference_quotients(f: Expression, x: Name, times: int, g: Expression, facts: Facts) -> str:
    """Central difference quotients with 60 digits at sample points, as text."""
    if times != 1 or any(isinstance(n, (Applied, Written)) for n in postorder(f)):
        return "not taken"
    involved = names(f, x)
    agreed = 0
    step = number(1) / number(10**20)
    quotient = (substitute(f, {x: x + step}) - substitute(f, {x: x - step})) / (2 * step)
    enclosure = Enclosure(quotient - g)
    for point in points(involved, facts.known, 8):
        try:
            box = enclosure.at(point, 320)
        except (NoValue, GelvoError):
            continue
        if max(abs(float(box.real.low)), abs(float(box.real.high))) < 1e-12:
            agreed += 1
    return f"agree to 12 digits at {agreed} points"


def _numerically(certificate: Certificate, difference: Expression, facts: Facts) -> Certificate:
    """Support by agreement where no proof was found: zero at many points to 30 digits."""
    if any(_is_impulse(n) for n in postorder(difference)):
        return certificate  # no sample meets an impulse
    enclosure, agreed = Enclosure(difference), 0
    for point in points(names(difference), facts.known, 64):
        try:
            box = enclosure.at(point, 256)
        except (NoValue, GelvoError):
            continue
        if box.contains_zero() and float(box.real.high) - float(box.real.low) < 1e-30:
            agreed += 1
    if agreed >= 6:
        evidence = {**certificate.evidence, "numeric agreement": f"zero to 30 digits at {agreed} points"}
        return Certificate(certificate.claim, SUPPORTED, certificate.method, evidence, certificate.conditions)
    return certificate


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
    if len(parts) == 1:
        return parts[0]
    together = "; ".join(map(str, equations))
    return Certificate(
        f"{together} where {shown}", weakest(tuple(parts)), "the solution put into each equation", parts=tuple(parts)
    )


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


def _stated_part(claim: str, equation: Equation, what: str, where: Mapping[Expression, Expression], facts: Facts) -> Certificate:
    """A residual or an initial value of a stated solution."""
    pieces = _pieces(equation, where, facts) if what == "residual" else None
    if pieces is not None:
        return Certificate(
            claim, weakest(pieces), "residual on each piece between steps; no jump beyond the forcing", parts=pieces
        )
    before = _before_the_place(equation, where) if what == "initial value" else where
    inside = substitute_functions(equation.left - equation.right, before)
    return from_decision(claim, decide_zero(inside, facts), f"{what} of the stated solution in the normal form")


def _pieces(equation: Equation, where: Mapping[Expression, Expression], facts: Facts) -> tuple[Certificate, ...] | None:
    """A solution with steps: the residual between the steps, and the continuity of all derivatives below the highest order."""
    steps = [n for e in (equation.left, equation.right, *where.values()) for n in postorder(e) if _is_step(n) or _is_impulse(n)]
    function = next((k for k in where if isinstance(k, Applied)), None)
    if not steps or function is None or not isinstance(function.arguments[0], Name):
        return None
    t = function.arguments[0]
    places: dict[Node, Expression] = {}
    for step in dict.fromkeys(steps):
        parts = linear_parts(step.arguments[0], t)
        if parts is None or parts[0] is not ONE:
            return (Certificate(str(equation), UNDECIDED, f"the place of {step} is not read"),)
        places[step] = -parts[1]
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
    if any(_is_impulse(n) and n in steps for v in where.values() for n in postorder(v)):
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
        impulses = [s for s, p in places.items() if _is_impulse(s) and p is place]
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


def _is_impulse(node: object) -> TypeGuard[Call]:
    return is_a(node, DIRAC_DELTA)
