"""differentiate, integrate."""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import Any

from gelvo.calculus.antiderivative.search import candidate, obstacle_of
from gelvo.calculus.definite import AT_BREAKS, AT_ENDS, definite_integral, folded, poles_between
from gelvo.calculus.tidying import for_a_reader
from gelvo.checking.certificate import PROVED, REFUTED, SUPPORTED, UNDECIDED, Certificate, on_its_own_road, weakest
from gelvo.checking.claims import check_antiderivative, check_derivative, check_identity
from gelvo.checking.elementary import check_no_elementary
from gelvo.checking.integrals import check_definite
from gelvo.deciding.complex_paths import real_where
from gelvo.errors import DomainError, NoClosedForm
from gelvo.expression.building import written
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Bound, Condition, Expression, Name
from gelvo.expression.traversal import bound_apart, names, substitute
from gelvo.facts.store import Facts
from gelvo.forms import differentiation
from gelvo.forms.bounds import joined
from gelvo.operations.answer import Answer
from gelvo.operations.explaining import Explained, derivative_steps, integral_steps
from gelvo.operations.inputs import one_expression, take
from gelvo.operations.ranges import facts_over
from gelvo.refuted import note_refuted
from gelvo.roads import noted


def differentiate(expression: Any, *variables: Any, times: int = 1, given: Iterable[Any] = (), steps: bool = False) -> Any:
    """The derivative with respect to one variable, or to several one after the other.

    expression: an expression, an equation (both sides) or text; variables: names, unknown functions or text;
    times: how often. Returns the derivative; with `steps=True` an Answer with its certificate and `.steps`, a rule for each part.

    >>> import gelvo
    >>> gelvo.differentiate("sin(x)^2", "x")
    2*cos(x)*sin(x)
    """
    if not variables:
        raise DomainError("differentiate needs a variable: differentiate(expression, x)")
    arguments = take(expression, variables=variables, given=given)
    value, targets = arguments.values[0], arguments.variables
    if isinstance(value, Equation):
        sides = [_derivative(s, targets, times, arguments.facts) for s in (value.left, value.right)]
        return Equation(sides[0], sides[1], value.conditions)
    before = one_expression(value)
    result = _derivative(before, targets, times, arguments.facts)
    if not steps:
        return result
    road = "rules of differentiation, inner functions first"
    facts = arguments.facts
    if len(targets) == 1 and isinstance(targets[0], Name):
        target = targets[0]
        chain = (lambda: derivative_steps(before, target, facts)) if times == 1 else ()
        return Answer(result, lambda: check_derivative(before, target, times, result, facts), (), road, "", chain)
    return Answer(result, lambda: _one_by_one(before, targets, times, result, facts), (), road)


def _one_by_one(before: Expression, targets: Sequence[Expression], times: int, result: Expression, facts: Facts) -> Certificate:
    """Derivatives by several variables, or by an unknown function: each one checked as a derivative by a plain name."""
    parts: list[Certificate] = []
    current = before
    for target in targets:
        after = differentiation.differentiate(current, target, times, facts)
        plain = target if isinstance(target, Name) else facts.new_name("u", current, after)
        one, other = (substitute(e, {target: plain}) for e in (current, after))
        parts.append(check_derivative(one, plain, times, other, facts))
        current = after
    claim = f"derivative of {before} by {', '.join(map(str, targets))} = {result}"
    return Certificate(claim, weakest(tuple(parts)), "one derivative after the other", parts=tuple(parts))


def _derivative(expression: Expression, targets: Sequence[Expression], times: int, facts: Facts) -> Expression:
    for target in targets:
        expression = differentiation.differentiate(expression, target, times, facts)
    return expression


def integrate(
    expression: Any, variable: Any, lower: Any = None, upper: Any = None, given: Iterable[Any] = (), otherwise: str = "written",
    steps: bool = False, principal_value: bool = False,
) -> Answer:  # fmt: skip
    """An antiderivative, or a definite integral between two ends.

    expression: an expression or text; variable: a real variable; lower, upper: ends, also "inf" and "-inf";
    given: facts; otherwise: "written" gives the written form where no closed form is found, "error" raises NoClosedForm;
    steps: whether `.steps` works the integral line by line as a teacher would, each line differentiated by itself;
    principal_value: whether both sides of each pole, and both ends of the line, are taken together (Cauchy's principal value).
    Returns an Answer with conditions and certificate; a proved divergence is inf, -inf or undefined.
    Method: tables, residues, substitution, by parts, and the decision procedure for elementary antiderivatives (R. Risch, 1969), whose
    proof that there is none is the `.reason`; a definite integral is taken piece by piece between breaks.

    >>> import gelvo
    >>> gelvo.integrate("x^2*exp(-x)", "x", 0, "inf")
    2
    >>> gelvo.integrate("1/x", "x", -1, 1)
    undefined
    >>> gelvo.integrate("1/x", "x", -1, 2, principal_value=True)
    ln(2)
    """
    ends = [] if lower is None and upper is None else [lower, upper]
    if len(ends) == 2 and (lower is None or upper is None):
        raise DomainError("a definite integral needs both ends")
    arguments = take(expression, *ends, variables=[variable], given=given)
    f, (x,) = one_expression(arguments.values[0], "an integrand"), arguments.names
    facts = arguments.facts
    bounds = [one_expression(e, "an end") for e in arguments.values[1:]]
    f, x = bound_apart(f, x, bounds)
    if principal_value and not bounds:
        raise DomainError("a principal value is that of an integral between two ends")
    definite = _principal if principal_value else _definite
    answer = _indefinite(f, x, facts) if not bounds else definite(f, x, bounds[0], bounds[1], facts)
    if answer.reason and otherwise == "error":
        raise NoClosedForm(answer.reason)
    return answer.with_steps(lambda: _worked(f, x, bounds, answer, facts)) if steps else answer


def _worked(f: Expression, x: Name, bounds: Sequence[Expression], answer: Answer, facts: Facts) -> tuple[Explained, ...]:
    """The lines that lead to an answer; of a definite integral those to an antiderivative, and what it is worth between the ends."""
    if answer.reason:
        return (Explained("why there is none", answer.reason, answer.verdict),)
    under = facts.with_facts(answer.conditions)
    if not bounds:
        return integral_steps(f, x, answer, under)
    claim = Equation(written("integral_of", f, x, *bounds), answer.expression)
    whole = Explained(answer.road, str(claim), answer.verdict, claim)
    way = next((w for w in (AT_ENDS, AT_BREAKS) if answer.road.endswith(w)), "")
    if not way or isinstance(answer.expression, Bound):
        return (whole,)
    under = facts_over(x, bounds[0], bounds[1], under)
    inner = _indefinite(f, x, under)
    return (whole,) if inner.reason else (*integral_steps(f, x, inner, under), whole._replace(rule=way))


def _indefinite(f: Expression, x: Name, facts: Facts) -> Answer:
    found = candidate(f, x, facts)
    if found is None:
        return _without_form(f, x, facts)
    conditions = facts.open_conditions(found.conditions)
    under = facts.with_facts(conditions)
    result = for_a_reader(found.value, under, x)
    real = under.open_conditions(real_where(result, under)) if under.is_real(x) else ()
    if real:  # the shorter form may stand in bars by itself
        conditions = facts.open_conditions([*(c for c in conditions if x not in names(c)), *real])
        under = facts.with_facts(conditions)
    certificate = _with(on_its_own_road(lambda: check_antiderivative(f, x, result, under)), conditions)
    if certificate.verdict not in (PROVED, REFUTED):
        result, certificate = _easier(f, x, (result, found.value), (under, facts), conditions) or (result, certificate)
    if certificate.verdict == REFUTED:
        note_refuted("antiderivative", f, result)
    if certificate.verdict not in (PROVED, SUPPORTED):
        return _unevaluated(written("integral_of", f, x), "the antiderivative that was found could not be differentiated back")
    return Answer(result, lambda: certificate, conditions, found.road)


def _easier(
    f: Expression, x: Name, forms: tuple[Expression, Expression], known: tuple[Facts, Facts], conditions: tuple[Condition, ...]
) -> tuple[Expression, Certificate] | None:
    """The longer form may be easier to prove, and fewer facts may lead straight on."""
    for value, facts in dict.fromkeys(itertools.product(forms, known)):
        certificate = on_its_own_road(lambda v=value, k=facts: check_antiderivative(f, x, v, k))  # type: ignore[misc]
        if certificate.verdict == PROVED:
            return value, _with(certificate, conditions)
    return None


def _without_form(f: Expression, x: Name, facts: Facts) -> Answer:
    """The written form: with the proof that there is no elementary one, where the decision procedure gives it."""
    form = written("integral_of", f, x)
    outcome = obstacle_of(f, x, facts)
    if outcome is None or outcome.obstacle is None:
        return _unevaluated(form, "no method found an antiderivative in closed form")
    return Answer(form, lambda: check_no_elementary(f, x, outcome, facts), (), "", outcome.obstacle.text)


def _definite(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Answer:
    facts = facts_over(x, lower, upper, facts)
    with noted() as by_result:
        found, reason = definite_integral(f, x, lower, upper, facts)
    if found is None:
        return _unevaluated(written("integral_of", f, x, lower, upper), reason)
    conditions = facts.open_conditions(found.conditions)
    under = facts.with_facts(conditions)
    result = for_a_reader(found.value, under)

    certificate = on_its_own_road(lambda: check_definite(f, x, lower, upper, result, under, "", found.places), by_result)
    if certificate.verdict == REFUTED:
        note_refuted("derivative or integral", f, result)
        return _unevaluated(
            written("integral_of", f, x, lower, upper), "the value that was found does not agree with the integrand"
        )
    certificate = _with(certificate, conditions)
    return Answer(result, lambda: certificate, conditions, found.road)


def _principal(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Answer:
    """The principal value by proper integrals: each is worked out and checked by itself."""
    form = written("integral_of", f, x, lower, upper)
    facts = facts_over(x, lower, upper, facts)
    poles = poles_between(f, x, lower, upper, facts)
    pieces = None if poles is None else folded(f, x, lower, upper, poles, facts)
    if pieces is None:
        return _unevaluated(form, "it could not be told where the integrand breaks between the ends")
    parts = [_definite(p.integrand, x, p.lower, p.upper, facts.without(x)) for p in pieces]
    for part in parts:
        if part.reason:
            return _unevaluated(form, part.reason)
    value = joined([p.expression for p in parts])
    if isinstance(value, Bound):
        return Answer(value, parts[0].certificate, (), "folded about its poles: what is left runs off")
    under = facts.with_facts(c for p in parts for c in p.conditions)
    result = for_a_reader(value, under)
    conditions = tuple(dict.fromkeys(c for p in parts for c in p.conditions))

    def certify() -> Certificate:
        own = (*(p.certificate() for p in parts), check_identity(value, result, under))
        claim = f"the principal value of {form} is {result}"
        return Certificate(
            claim, weakest(own), "both sides of each pole folded upon each other", conditions=conditions, parts=own
        )

    road = "principal value" + (f" at {', '.join(f'{x} = {p}' for p in poles)}" if poles else "")
    return Answer(result, certify, conditions, f"{road}; " + "; ".join(dict.fromkeys(p.road for p in parts)))


def _with(certificate: Certificate, conditions: tuple[Condition, ...]) -> Certificate:
    return replace(certificate, conditions=conditions)


def _unevaluated(form: Expression, reason: str) -> Answer:
    certificate = Certificate(str(form), UNDECIDED, "nothing was claimed: the integral stays written")
    return Answer(form, lambda: certificate, (), "", reason)
