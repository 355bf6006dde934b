"""How each kind of claim is checked."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TypeGuard, TypeVar, cast

from gelvo.checking.certificate import PROVED, REFUTED, SUPPORTED, UNDECIDED, Certificate, weakest
from gelvo.checking.integrals import check_definite
from gelvo.checking.limits import check_limit
from gelvo.checking.sums import check_product, check_sum
from gelvo.deciding.equality import Decision, decide_zero, witness_text
from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import Enclosure
from gelvo.evaluation.sampling import points
from gelvo.expression.building import number, power, relation, scale, total, written
from gelvo.expression.constants import UNDEFINED
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import (
    Applied,
    Bound,
    Call,
    Cases,
    Condition,
    Expression,
    Junction,
    Name,
    Node,
    Number,
    Power,
    Relation,
    Sum,
    Written,
)  # fmt: skip
from gelvo.expression.traversal import bound_apart, contains, names, postorder, substitute, transform
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.forms.impulses import sifted
from gelvo.functions.named import CEIL, COS, COT, CSC, DIRAC_DELTA, FLOOR, SEC, SIN, TAN, is_a
from gelvo.normal.prepare import prepared
from gelvo.normal.relations import lowest_by_relations
from gelvo.numbers.interval import NoValue

USUAL = 64
MANY = 8  # terms from which each slope is brought to lowest terms by itself
ENOUGH = 6  # points at which a formula is zero to 30 digits
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
    if isinstance(slope, Sum) and len(slope.terms) >= MANY:  # each slope by itself is often much simpler
        slope = total([number(slope.constant), *(lowest_by_relations(scale(t, c)) for t, c in slope.items())])
    decision = decide_zero(slope - f, facts)
    if decision.zero is None:
        decision = _on_the_circle(slope - f, x) or decision
    method = "the right side differentiated back, less the integrand, in the normal form"
    certificate = from_decision(
        claim, decision, method, {"established": f"the slope of the right side is {f}"} if decision.zero else {}
    )
    return certificate if decision.zero is not None else numerically(certificate, slope - f, facts)


def _on_the_circle(gap: Expression, x: Name) -> Decision | None:
    """Zero where waves of one angle are coordinates on the circle, told as names; None where that does not show it.

    Even powers of the sine are replaced by the cosine: what vanishes for all values of the names vanishes on the circle.
    """
    waves = [n for n in postorder(gap) if is_a(n, SIN, COS, TAN, COT, SEC, CSC) and contains(n, x)]
    if len({n.arguments[0] for n in waves}) != 1 or not any(
        isinstance(n, Power) and n.exponent.is_rational and not n.exponent.is_whole for n in postorder(gap)
    ):
        return None
    plain = Facts()
    s, c = plain.new_name("s", gap), plain.new_name("c", gap)
    table: dict[str, Expression] = {SIN: s, COS: c, TAN: s / c, COT: c / s, SEC: 1 / c, CSC: 1 / s}
    inside = transform(gap, lambda n: table[n.name] if n in waves and isinstance(n, Call) else n)
    if contains(inside, x):
        return None

    def even(node: Node) -> Node:
        if isinstance(node, Power) and node.base is s and isinstance(node.exponent, Number) and node.exponent.is_whole:
            half, odd = divmod(int(node.exponent.rational), 2)
            return power(1 - c**2, number(half)) * power(s, number(odd))
        return node

    facts = Facts([relation("<=", c**2, number(1))])
    decision = decide_zero(transform(inside, even), facts)
    return decision if decision.zero else None


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


def numerically(certificate: Certificate, difference: Expression, facts: Facts, tries: int = USUAL) -> Certificate:
    """Support by agreement where no proof was found: zero at many points to 30 digits."""
    if any(is_impulse(n) for n in postorder(difference)):
        return certificate  # no sample meets an impulse
    enclosure, agreed = Enclosure(difference), 0
    for point in points(names(difference), facts.known, tries):
        try:
            box = enclosure.at(point, 256)
        except (NoValue, GelvoError):
            continue
        if box.contains_zero() and float(box.real.high) - float(box.real.low) < 1e-30:
            agreed += 1
            if agreed == ENOUGH and tries < USUAL:
                break
    if agreed >= ENOUGH or (agreed and not names(difference)):
        evidence = {**certificate.evidence, "numeric agreement": f"zero to 30 digits at {agreed} points"}
        return Certificate(certificate.claim, SUPPORTED, certificate.method, evidence, certificate.conditions)
    return certificate


def is_impulse(node: object) -> TypeGuard[Call]:
    return is_a(node, DIRAC_DELTA)
