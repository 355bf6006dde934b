"""by_parts, split_integral, change_variable, carry_out: an integral worked by hand, each step proved."""

from __future__ import annotations

import itertools
from collections.abc import Iterable
from contextlib import suppress
from dataclasses import replace
from typing import Any

from gelvo.calculus.antiderivative.search import antiderivative
from gelvo.calculus.definite import inside_facts
from gelvo.calculus.tidying import for_a_reader
from gelvo.checking.certificate import PROVED, Certificate, weakest
from gelvo.checking.claims import check_antiderivative, check_identity
from gelvo.deciding.equality import decide_zero
from gelvo.errors import DomainError, NoClosedForm, NotSolved
from gelvo.expression.building import number, total
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Bound, Condition, Expression, Name, Node, Number, Sum, Written
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, free_names, names, postorder, substitute, transform, tree_size
from gelvo.facts.conditions import nonzero
from gelvo.facts.continuity import has_no_break_at
from gelvo.facts.divisors import new_divisors
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate as slope_of
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import COT, COTH, CSC, SEC, TAN, TANH, is_a
from gelvo.operations.answer import Answer
from gelvo.operations.calculus import differentiate, integrate
from gelvo.operations.explaining import Explained
from gelvo.operations.inputs import one_expression, take
from gelvo.operations.series import add_up, limit, multiply_up
from gelvo.operations.written_integrals import (
    End,
    between_ends,
    facts_inside,
    from_inside,
    impulses_known,
    integral_in,
    refuse_breaks,
    value_at_end,
    with_part,
    written_integral,
)
from gelvo.simplifying.search import simplify
from gelvo.solving.single.complete import solve_single

MOST_FORMS = 50


def by_parts(integral: Any, differentiate_factor: Any = None, given: Iterable[Any] = (), **words: Any) -> Answer:
    """One step of integration by parts: u*V less the integral of u'*V, which stays written.

    integral: an expression with one integral_of(f, x) or integral_of(f, x, a, b) in it, or text; differentiate: the factor u
    that is differentiated (the rest of the integrand is integrated). Returns an Answer whose certificate compares derivatives.

    >>> import gelvo
    >>> gelvo.by_parts("integral_of(x*exp(x), x)", differentiate="x")
    x*exp(x) - integral_of(exp(x), x)
    """
    chosen = words.pop("differentiate", differentiate_factor)
    if words or chosen is None:
        raise DomainError('by_parts(integral, differentiate="x") names the factor that is differentiated')
    arguments = take(integral, chosen, given=given, inside=True)
    whole, u = arguments.expressions
    form = integral_in(whole)
    x, facts = form.variable, facts_inside(form, arguments.stated)
    rest = factored(form.body / u)
    found = antiderivative(rest, x, facts)
    if found is None:
        raise NotSolved(f"the other factor {rest} could not be integrated")
    V = for_a_reader(found.value, facts, x)
    new = factored(slope_of(u, x) * V)
    outer = u * V
    at_ends: tuple[End, ...] = ()
    if len(form.arguments) == 2:
        result = outer - written_integral(new, x)
    else:
        low, high = form.arguments[2:]
        refuse_breaks(impulses_known(outer), x, (low, high), facts, "by parts")
        at_ends = tuple(value_at_end(outer, x, place, side, facts) for place, side in from_inside(low, high, facts))
        result = at_ends[1].value - at_ends[0].value - written_integral(new, x, low, high)
    value = with_part(whole, form, result)
    chain = (
        Explained("the factor that is differentiated", f"u = {u}, derivative_of(u, {x}) = {slope_of(u, x)}"),
        Explained("the rest, integrated", f"V = integral_of({rest}, {x}) = {V}", check_antiderivative(rest, x, V, facts).verdict),
        Explained("u*V less the integral of u'*V", f"{outer} - integral_of({new}, {x})"),
    )
    conditions = facts.open_conditions(found.conditions)
    under = facts.with_facts(conditions)

    def certify() -> Certificate:
        identity = check_identity(form.body, slope_of(outer, x) - new, under)
        return replace(between_ends(identity, form, f"u*V = {outer}", *at_ends), conditions=conditions)

    return Answer(value, certify, conditions, "by parts", "", chain)


def split_integral(integral: Any, at: Any = None, given: Iterable[Any] = ()) -> Answer:
    """An integral in parts: at a place (or several) between its ends, or term by term.

    integral: an expression with one integral_of in it, or text; at: a place, or a list of places in their order; given: facts.
    Returns an Answer with the parts written. Raises NotSolved where it is not known that each part exists.

    >>> import gelvo
    >>> gelvo.split_integral("integral_of(abs(x), x, -1, 2)", at=0)
    integral_of(abs(x), x, -1, 0) + integral_of(abs(x), x, 0, 2)
    >>> gelvo.split_integral("integral_of(x*exp(x) + 3, x)")
    integral_of(3, x) + integral_of(x*exp(x), x)
    """
    places = [] if at is None else list(at) if isinstance(at, (list, tuple)) else [at]
    arguments = take(integral, *places, given=given, inside=True)
    whole, *cuts = (one_expression(v) for v in arguments.values)
    form = integral_in(whole)
    x, ends, facts = form.variable, form.arguments[2:], facts_inside(form, arguments.stated)
    if cuts and not ends:
        raise DomainError(f"{form} has no ends between which it could be split")
    if cuts:
        for cut in cuts:
            for pair in ((ends[0], cut), (cut, ends[1])):
                _exists(form.body, x, pair, facts)
        places = [ends[0], *cuts, ends[1]]
        parts = [written_integral(form.body, x, *pair) for pair in itertools.pairwise(places)]
    else:
        terms = terms_of(form.body if isinstance(form.body, Sum) else expand(form.body))
        if ends:
            for term in terms:
                _exists(term, x, (ends[0], ends[1]), facts)
        parts = [written_integral(term, x, *ends) for term in terms]
    value = with_part(whole, form, total(parts))
    under = form.body if cuts else total(terms)

    def certify() -> Certificate:
        return between_ends(check_identity(form.body, under, facts), form, "each part")

    return Answer(value, certify, (), "split at places" if cuts else "split term by term")


def _exists(f: Expression, x: Name, ends: tuple[Expression, Expression], facts: Facts) -> None:
    """NotSolved where it is not known that an integral exists: by continuity between finite ends, or by its finite value."""
    low, high = ends
    if not isinstance(low, Bound) and not isinstance(high, Bound):
        with suppress(NotSolved, DomainError):
            refuse_breaks(f, x, ends, facts, "split")
            if all(has_no_break_at(f, x, place, facts, kinks=False) for place in ends):
                return
    found = integrate(f, x, low, high, given=facts.without(x).given)
    if found.reason or isinstance(found.expression, Bound):
        raise NotSolved(f"it is not known whether {written_integral(f, x, low, high)} exists")


def change_variable(integral: Any, substitution: Any, given: Iterable[Any] = ()) -> Answer:
    """An integral in a new variable: "u = x^2" (the new one alone on the left) or "x = sin(u)" (the old one).

    Returns an Answer with the integral in the new variable, written; its certificate compares the integrands.

    >>> import gelvo
    >>> gelvo.change_variable("integral_of(x*exp(x^2), x, 0, 1)", "u = x^2")
    integral_of(exp(u), u, 0, 1)/2
    """
    arguments = take(integral, substitution, given=given, inside=True)
    whole, rule = one_expression(arguments.values[0]), arguments.values[1]
    if not isinstance(rule, Equation) or not isinstance(rule.left, Name):
        raise DomainError('a substitution reads "u = x^2" or "x = sin(u)"')
    form = integral_in(whole)
    facts = facts_inside(form, arguments.stated)
    by_old = rule.left is form.variable
    u, new, (here, there) = (_of_old_variable if by_old else _of_new_variable)(rule, form, facts)
    ends = _new_ends(rule, form, u, facts, arguments.stated)
    if (
        by_old and ends and not any(isinstance(e, Bound) for e in ends)
    ):  # between its ends the new variable has a range of its own
        first, last = reversed(ends) if _falls(ends[0], ends[1], arguments.stated)[0] else ends
        facts = inside_facts(u, first, last, arguments.stated)
        shorter = simplify(new, facts).expression
        new, here = (shorter, shorter) if tree_size(shorter) < tree_size(new) else (new, here)
    result = with_part(whole, form, written_integral(new, u, *ends))
    conditions = _of_substitution(rule, (form.variable, u), result, whole, facts)
    known = facts.with_facts(conditions)
    chain = (
        Explained("the new variable", f"{rule}"),
        Explained("the integrand in the new variable", f"{new}", check_identity(here, there, known).verdict),
        *((Explained("the new ends", f"from {ends[0]} to {ends[1]}"),) if ends else ()),
    )

    def certify() -> Certificate:
        return replace(between_ends(check_identity(here, there, known), form, str(rule.right)), conditions=conditions)

    return Answer(result, certify, conditions, f"substitution {rule}", "", chain)


Changed = tuple[Name, Expression, tuple[Expression, Expression]]  # the new variable, the new integrand, what must be equal


def _of_old_variable(rule: Equation, form: Written, facts: Facts) -> Changed:
    """x = g(u): f(g(u))*g'(u)."""
    letters = [n for n in free_names(rule.right) if n not in free_names(form.body)]
    if len(letters) != 1:
        raise DomainError(f"the new variable of {rule} is not clear")
    u = letters[0]
    plain = substitute(form.body, {form.variable: rule.right}) * slope_of(rule.right, u)
    return u, factored(plain), (factored(plain), plain)


def _of_new_variable(rule: Equation, form: Written, facts: Facts) -> Changed:
    """u = g(x): written directly where that is possible, as h(g(x))*g'(x); else by the inverse of g."""
    u, x = rule.left, form.variable
    assert isinstance(u, Name)
    if u in free_names(form.body):
        raise DomainError(f"{form.body} already contains {u}: take another name for the new variable")
    inverse = solve_single(rule.right - u, x, facts, True)
    if not inverse.found:
        raise NotSolved(f"{rule} could not be solved for {x}")
    inside = inverse.found[-1].value
    new = factored(substitute(form.body, {x: inside}) * slope_of(inside, u))
    direct = substitute(factored(form.body / slope_of(rule.right, x)), {rule.right: u})
    new = direct if not contains(direct, x) else new
    back = substitute(new, {u: rule.right}) * slope_of(rule.right, x)
    if decide_zero(back - form.body, facts).zero is False:
        raise NotSolved(f"{rule} is not one to one on the range of the integral: split it first")
    return u, new, (back, form.body)


def _new_ends(rule: Equation, form: Written, u: Name, facts: Facts, stated: Facts) -> list[Expression]:
    if len(form.arguments) <= 2:
        return []
    low, high = form.arguments[2:]
    if rule.left is form.variable:
        return _ends_before(rule.right, u, low, high, stated, rule)
    refuse_breaks(rule.right, form.variable, (low, high), facts, f"substitution {rule}")
    return [
        value_at_end(rule.right, form.variable, place, side, facts, True).value for place, side in from_inside(low, high, facts)
    ]


def _of_substitution(
    rule: Equation, pair: tuple[Name, Name], result: Expression, before: Expression, facts: Facts
) -> tuple[Condition, ...]:
    """What the letters have to be so that the new variable moves, and that nothing new is divided by zero."""
    moving = pair[1] if rule.left is pair[0] else pair[0]
    slope = factored(slope_of(rule.right, moving))
    still = [g for g in factors_in(slope) if names(g) and not contains(g, moving)]
    needed = dict.fromkeys(facts.open_conditions([nonzero(g) for g in still]))
    under = facts.with_facts(needed)
    return (*needed, *new_divisors(result, before, under, *pair))


def _ends_before(
    inside: Expression, u: Name, low: Expression, high: Expression, facts: Facts, rule: Equation
) -> list[Expression]:
    """Values of u from which inside(u) runs from low to high without a break: rising ones and small ones are preferred."""
    choices = [_places_of(inside, u, place, facts, rule) for place in (low, high)]
    pairs = [(one, other) for one in choices[0] for other in choices[1] if one is not other]
    reasons: list[NotSolved] = []
    for pair in sorted(pairs, key=lambda pair: _falls(pair[0], pair[1], facts)):
        try:
            refuse_breaks(inside, u, pair, facts, f"substitution {rule}")
        except NotSolved as reason:
            reasons.append(reason)
            continue
        if _reaches(inside, u, pair, (low, high), facts):
            return list(pair)
    raise reasons[0] if reasons else NotSolved(f"no ends for {u} were found between which {inside} runs from {low} to {high}")


def _places_of(inside: Expression, u: Name, place: Expression, facts: Facts, rule: Equation) -> list[Expression]:
    """Where a formula has a value, or grows without bound."""
    if isinstance(place, Bound) and inside is u:
        return [place]
    gap = inside - place if not isinstance(place, Bound) else _reciprocal(inside, u)
    found = None if gap is None else solve_single(gap, u, facts, True)
    if found is None or not found.found:
        raise NotSolved(f"the new end for {rule.left} = {place} could not be found")
    turns = (0, -1, 1) if isinstance(place, Bound) else (0,)
    return list(dict.fromkeys(substitute(r.value, dict.fromkeys(r.families, number(k))) for r in found.found for k in turns))


def _reaches(
    inside: Expression, u: Name, pair: tuple[Expression, Expression], wanted: tuple[Expression, Expression], facts: Facts
) -> bool:
    """Whether a formula grows in the wanted direction towards ends at which it has no value."""
    falls = facts.is_negative(pair[1] - pair[0])
    sides = ("below", "above") if falls else ("above", "below")
    return all(
        not isinstance(end, Bound) or limit(inside, u, place, side=side, given=facts.given).expression is end
        for place, end, side in zip(pair, wanted, sides, strict=True)
    )


def _reciprocal(inside: Expression, u: Name) -> Expression | None:
    """What vanishes where a formula grows without bound: the denominator, tangents by sine and cosine."""

    def visit(node: Node) -> Node:
        plain = is_a(node, TAN, COT, SEC, CSC, TANH, COTH)
        return node.function.as_elementary(*node.arguments) if plain and node.function.as_elementary else node  # type: ignore[attr-defined]

    bottom = quotient_parts(transform(inside, visit))[1]
    return bottom if contains(bottom, u) else None


def _falls(one: Expression, other: Expression, facts: Facts) -> tuple[bool, int]:
    """Whether two ends fall, or their order is not known; the size of what a reader sees."""
    return not facts.is_positive(other - one), len(str(one)) + len(str(other))


def carry_out(expression: Any, given: Iterable[Any] = ()) -> Answer:
    """Every written integral, derivative, limit, sum and product inside a formula worked out, the innermost first.

    Returns an Answer with the conditions of all of them; its certificate has one part for each. Raises NoClosedForm where one of
    them has none, or holds only for some values of a variable that an outer one runs through.

    >>> import gelvo
    >>> gelvo.carry_out("2*integral_of(x, x, 0, 1) + derivative_of(x^2, x)")
    2*x + 1
    """
    arguments = take(expression, given=given)
    before = value = one_expression(arguments.values[0])
    conditions: dict[Condition, None] = {}
    parts: list[Certificate] = []
    for _ in range(MOST_FORMS):
        form = next((n for n in postorder(value) if isinstance(n, Written)), None)
        if form is None:
            return _carried_out(before, value, tuple(conditions), tuple(parts))
        done = _worked_out(form, arguments.stated)
        parts.append(done.certificate())
        outer = {n.variable: n for n in postorder(value) if isinstance(n, Written) and n.binds and contains(n.body, form)}
        for condition in done.conditions:
            around = [outer[v] for v in free_names(condition) if v in outer]
            if not around:
                conditions[condition] = None
            elif any(f.kind != "integral_of" for f in around) or getattr(condition, "operator", "") != "!=":
                raise NoClosedForm(
                    f"{form} is {done.expression} only if {condition}, and {around[0]} runs through other values too"
                )
        value = with_part(value, form, done.expression)
    raise NoClosedForm(f"more than {MOST_FORMS} written forms stand in this formula")


def _carried_out(
    before: Expression, value: Expression, conditions: tuple[Condition, ...], parts: tuple[Certificate, ...]
) -> Answer:
    road = "each written form by its operation, the innermost first"
    whole = Certificate(f"{before} = {value}", weakest(parts) if parts else PROVED, road, conditions=conditions, parts=parts)
    return Answer(value, lambda: whole, conditions, road)


def _worked_out(form: Written, facts: Facts) -> Answer:
    """One written form by its operation; NoClosedForm where there is none."""
    body, x, *rest = form.arguments
    if form.kind == "derivative_of":
        times = int(rest[0].rational) if rest and isinstance(rest[0], Number) else 1
        return differentiate(body, x, times=times, steps=True)
    work: Any = {"integral_of": integrate, "limit_of": limit, "sum_of": add_up, "product_of": multiply_up}[form.kind]
    return work(body, x, *rest, given=facts.given, otherwise="error")
