"""recurrence and differentiate_under: what a letter inside of an integral is good for."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from typing import Any

from gelvo.calculus.antiderivative.recurrences import recurrence as recurrence_of
from gelvo.checking.certificate import UNDECIDED, Certificate, weakest
from gelvo.checking.claims import check_derivative, check_identity
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Bound, Expression, Name, Written
from gelvo.expression.traversal import contains, substitute
from gelvo.facts.continuity import has_no_break_at
from gelvo.facts.divisors import new_divisors
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate as slope_of
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.operations.answer import Answer
from gelvo.operations.calculus import integrate
from gelvo.operations.explaining import Explained
from gelvo.operations.inputs import one_expression, take
from gelvo.operations.written_integrals import (
    End,
    between_ends,
    facts_inside,
    from_inside,
    integral_in,
    refuse_breaks,
    value_at_end,
    with_part,
    written_integral,
)


def recurrence(integral: Any, letter: Any, given: Iterable[Any] = ()) -> Answer:
    """An integral with a letter n by its neighbours in n: the equation that integration by parts gives, solved for it.

    integral: an expression with one integral_of(f, x) or integral_of(f, x, a, b) in it, or text; letter: the name n; given: facts.
    Returns an Answer, in which the integrals of n - 1, n - 2, … stay written; its certificate compares derivatives.
    Raises NotSolved where no recurrence of at most three steps is found, or what stands outside has no value at an end.
    Method: undetermined coefficients for the outer part (G. Almkvist, D. Zeilberger, 1990, for shifts).

    >>> import gelvo
    >>> gelvo.recurrence("integral_of(sin(x)^n, x)", "n")
    (n - 1)*integral_of(sin(x)^(n - 2), x)/n - cos(x)*sin(x)^(n - 1)/n   # if n != 0
    >>> gelvo.recurrence("integral_of(x^n*exp(-x), x, 0, inf)", "n", given=["n > 0"])
    n*integral_of(x^(n - 1)*exp(-x), x, 0, inf)
    """
    form, whole, n, stated = _taken(integral, letter, given)
    x, f, facts = form.variable, form.body, facts_inside(form, stated)
    found = recurrence_of(f, x, n, facts)
    if found is None:
        raise NotSolved(f"no recurrence in {n} of at most three steps was found for {form}")
    family = [(share, factored(substitute(f, {n: n - k}))) for k, share in enumerate(found.shares, 1) if share is not ZERO]
    ends = form.arguments[2:]
    if len(family) > 1 and any(isinstance(e, Bound) for e in ends):
        raise NotSolved(f"{form} leads to {len(family)} integrals over an infinite range, which need not exist apart")
    outer = found.outer
    at_ends: tuple[End, ...] = ()
    if ends:
        refuse_breaks(outer, x, (ends[0], ends[1]), facts, "recurrence")
        at_ends = tuple(value_at_end(found.outer, x, place, side, facts) for place, side in from_inside(ends[0], ends[1], facts))
        outer = at_ends[1].value - at_ends[0].value
    value = with_part(whole, form, outer + total([share * written_integral(g, x, *ends) for share, g in family]))
    conditions = new_divisors(value, whole, facts, x)
    under = facts.with_facts(conditions)
    right = slope_of(found.outer, x) + total([share * g for share, g in family])
    shares = expand(right / f)  # the powers with n in their exponents are gone

    def certify() -> Certificate:
        identity = check_identity(ONE, shares, under, f"{f} = {right}")
        return replace(between_ends(identity, form, f"the outer part {found.outer}", *at_ends), conditions=conditions)

    slope = f - total([share * g for share, g in family])
    chain = (Explained("the slope of the outer part", f"derivative_of({found.outer}, {x}) = {slope}"),)
    return Answer(value, certify, conditions, f"recurrence in {n}", "", chain)


def differentiate_under(integral: Any, letter: Any, given: Iterable[Any] = ()) -> Answer:
    """The derivative of a written integral by a letter in it, taken under the integral sign (rule of Leibniz).

    integral: an expression with one integral_of in it, or text; letter: the name a, which may stand in the ends too; given: facts.
    Returns an Answer with the derivative, the integral of the slope written. Between finite ends the certificate proves it by the
    continuity of the integrand and of its slope; over an infinite range it compares closed forms, where there are some.

    >>> import gelvo
    >>> gelvo.differentiate_under("integral_of(sin(a*x)/x, x, 1, 2)", "a")
    integral_of(cos(a*x), x, 1, 2)
    >>> gelvo.differentiate_under("integral_of(exp(-a*x), x, 0, inf)", "a", given=["a > 0"])
    integral_of(-x*exp(-a*x), x, 0, inf)
    """
    form, whole, a, stated = _taken(integral, letter, given)
    x, f, facts = form.variable, form.body, facts_inside(form, stated)
    slope = slope_of(f, a)
    value, derivative = slope_of(whole, a), slope_of(form, a)

    def certify() -> Certificate:
        return _leibniz(form, a, slope, derivative, facts, stated)

    chain = (
        Explained(
            "the slope of the integrand", f"derivative_of({f}, {a}) = {slope}", check_derivative(f, a, 1, slope, facts).verdict
        ),
    )
    return Answer(value, certify, new_divisors(value, whole, facts, x), "differentiated under the integral", "", chain)


def _taken(integral: Any, letter: Any, given: Iterable[Any]) -> tuple[Written, Expression, Name, Facts]:
    arguments = take(integral, letter, given=given, inside=True)
    whole, name = one_expression(arguments.values[0]), arguments.values[1]
    form = integral_in(whole)
    if not isinstance(name, Name) or name is form.variable or not contains(form, name):
        raise DomainError(f"{name} is no letter of {form}")
    return form, whole, name, arguments.stated


def _leibniz(form: Written, a: Name, slope: Expression, derivative: Expression, facts: Facts, stated: Facts) -> Certificate:
    """d/da of an integral: without ends by exchanging derivatives, between finite ends by continuity, else by closed forms."""
    x, ends = form.variable, form.arguments[2:]
    claim = f"derivative_of({form}, {a}) = {derivative}"
    by_slope = check_derivative(form.body, a, 1, slope, facts)
    if not ends:
        return Certificate(claim, by_slope.verdict, "slopes by two names may be exchanged", parts=(by_slope,))
    if not any(isinstance(e, Bound) for e in ends) and all(_is_continuous(g, x, ends, facts) for g in (form.body, slope)):
        method = "the rule of Leibniz: the integrand and its slope are continuous between the ends"
        return Certificate(claim, by_slope.verdict, method, parts=(by_slope,))
    low, high = ends
    both = [integrate(g, x, low, high, given=stated.given) for g in (form.body, slope)]
    if any(b.reason or isinstance(b.expression, Bound) for b in both):
        method = "that the integral of the slope converges evenly in the letter was not shown"
        return Certificate(claim, UNDECIDED, method, parts=(by_slope,))
    under = stated.with_facts([c for b in both for c in b.conditions])
    compared = check_derivative(both[0].expression, a, 1, both[1].expression, under)
    parts = (both[0].certificate(), both[1].certificate(), compared)
    return Certificate(claim, weakest(parts), "closed forms of both integrals compared", parts=parts)


def _is_continuous(g: Expression, x: Name, ends: tuple[Expression, ...], facts: Facts) -> bool:
    """Whether a formula is known to have no break between two ends, nor at them."""
    low, high = ends
    try:
        refuse_breaks(g, x, (low, high), facts, "differentiated under the integral")
        return all(has_no_break_at(g, x, place, facts, kinks=False) for place in ends)
    except (NotSolved, DomainError):
        return False
