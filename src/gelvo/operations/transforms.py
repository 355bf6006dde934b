"""laplace, inverse_laplace, fourier, inverse_fourier."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace
from typing import Any

from gelvo.calculus import transforms
from gelvo.calculus.found import Found
from gelvo.calculus.tidying import for_a_reader
from gelvo.checking.certificate import REFUTED, Certificate, on_its_own_road
from gelvo.checking.transforms import check_fourier, check_laplace
from gelvo.errors import DomainError, NoClosedForm
from gelvo.expression.building import bound, multiply_all, number, power, total, written
from gelvo.expression.constants import IMAGINARY
from gelvo.expression.display import stands_below
from gelvo.expression.nodes import AlgebraicNumber, Condition, Expression, Name, Node, Power, Sum
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, postorder, transform
from gelvo.facts.divisors import new_divisors
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.forms.measure import measure
from gelvo.forms.parts import complete_square
from gelvo.functions.named import EXP
from gelvo.operations.answer import Answer, unevaluated
from gelvo.operations.inputs import take
from gelvo.operations.ranges import facts_over
from gelvo.refuted import note_refuted
from gelvo.roads import noted
from gelvo.simplifying.joining import short_exponent
from gelvo.simplifying.search import simplify

Work = Callable[[Expression, Name, Name, Facts], Found | None]
Check = Callable[[Expression, Name, Name, Expression, Facts], Certificate]


def laplace(expression: Any, variable: Any, target: Any, given: Iterable[Any] = (), otherwise: str = "written") -> Answer:
    """The Laplace transform: the integral of f(t)*exp(-s*t) for t from 0 to infinity.

    expression: f; variable: t; target: the new variable s; given: facts, also about s. Steps are written heaviside(t - a), impulses
    dirac_delta(t - a), unknown functions y(t), whose image is Y(s). Returns an Answer, whose conditions say for which s the
    integral converges (of unknown functions: for those that grow no faster than an exponential).

    >>> import gelvo
    >>> gelvo.laplace("t*exp(-2*t)", "t", "s")
    1/(s + 2)^2   # if s > -2
    """

    def work(f: Expression, t: Name, s: Name, facts: Facts) -> Found | None:
        found = transforms.laplace(f, t, s, facts)
        if found is None:
            return None
        road = f"the integral of f({t})*exp(-{s}*{t}) from 0 on: {found.road}"
        where = [] if transforms.unknowns_of(f, t) else transforms.region(f, t, s, facts)
        return found._replace(conditions=(*found.conditions, *where), road=road)

    return _transformed(
        expression,
        variable,
        target,
        given,
        otherwise,
        work,
        check_laplace,
        "Laplace transform",
        _laplace_integral,
        (number(0), bound("inf")),
    )


def _laplace_integral(f: Expression, t: Name, s: Name) -> Expression:
    return written("integral_of", f * EXP(-s * t), t, number(0), bound("inf"))


def inverse_laplace(expression: Any, variable: Any, target: Any, given: Iterable[Any] = ()) -> Answer:
    """The function of t >= 0 with a given Laplace transform: rational in s, times exp(-a*s) for delays.

    Raises NoClosedForm where no rule fits.

    >>> import gelvo
    >>> gelvo.inverse_laplace("1/(s*(s + 1))", "s", "t")
    1 - exp(-t)
    """

    def check(f: Expression, s: Name, t: Name, value: Expression, facts: Facts) -> Certificate:
        return check_laplace(value, t, s, f, facts)

    return _transformed(
        expression, variable, target, given, "error", transforms.inverse_laplace, check, "inverse Laplace transform"
    )


def fourier(
    expression: Any,
    variable: Any,
    target: Any,
    given: Iterable[Any] = (),
    convention: str = "angular",
    otherwise: str = "written",
) -> Answer:
    """The Fourier transform of f(t).

    convention: "angular" (the integral of f(t)*exp(-1j*w*t)), "unitary" (the same over sqrt(2*pi)) or "frequency"
    (the integral of f(t)*exp(-2j*pi*w*t)); the road of the answer states it.

    >>> import gelvo
    >>> gelvo.fourier("exp(-a*t^2)", "t", "w", given=["a > 0"])
    sqrt(pi/a)*exp(-w^2/(4*a))
    """
    return _fourier(expression, variable, target, given, convention, otherwise, False)


def inverse_fourier(
    expression: Any,
    variable: Any,
    target: Any,
    given: Iterable[Any] = (),
    convention: str = "angular",
    otherwise: str = "written",
) -> Answer:
    """The function with a given Fourier transform, in the same conventions as `fourier`.

    >>> import gelvo
    >>> gelvo.inverse_fourier("2*a/(a^2 + w^2)", "w", "t", given=["a > 0"])
    exp(-a*abs(t))
    """
    return _fourier(expression, variable, target, given, convention, otherwise, True)


def _in_words(t: Name, w: Name, convention: str, inverse: bool) -> str:
    """The integral that a convention stands for."""
    outer, rate = transforms.kernel(convention, inverse)
    front = "" if outer is number(1) else f"{outer} times "
    return f"{front}the integral of f({t})*{EXP(IMAGINARY * rate * w * t)} over the line, the {convention} convention"


def _fourier(
    expression: object, variable: object, target: object, given: Iterable[object], convention: str, otherwise: str, inverse: bool
) -> Answer:
    if convention not in transforms.CONVENTIONS:
        raise DomainError(f"{convention!r} is no convention of the Fourier transform; say {', '.join(transforms.CONVENTIONS)}")

    def work(f: Expression, t: Name, w: Name, facts: Facts) -> Found | None:
        found = transforms.fourier(f, t, w, facts, convention, inverse)
        return None if found is None else found._replace(road=f"{_in_words(t, w, convention, inverse)}: {found.road}")

    def check(f: Expression, t: Name, w: Name, value: Expression, facts: Facts) -> Certificate:
        return check_fourier(f, t, w, value, facts, transforms.kernel(convention, inverse), convention)

    def as_integral(f: Expression, t: Name, w: Name) -> Expression:
        outer, rate = transforms.kernel(convention, inverse)
        return outer * written("integral_of", f * EXP(IMAGINARY * rate * w * t), t, bound("-inf"), bound("inf"))

    return _transformed(
        expression,
        variable,
        target,
        given,
        otherwise,
        work,
        check,
        "Fourier transform",
        as_integral,
        (bound("-inf"), bound("inf")),
    )


def _shown(e: Expression, t: Name, facts: Facts) -> list[Expression]:
    """The forms to choose from; a sum over numbered roots stays as it is."""
    if any(isinstance(n, AlgebraicNumber) for n in postorder(e)):
        return [e]
    return [for_a_reader(e, facts), responses(e, t, facts)]


def responses(e: Expression, t: Name, facts: Facts) -> Expression:
    """A sum of exponentials and waves of t, each with its own simplified coefficient: easier to read than one fraction."""
    groups: dict[Expression, list[Expression]] = {}
    for term in terms_of(expand(e)):
        factors = factors_in(term)
        moving = multiply_all([f for f in factors if contains(f, t)])
        groups.setdefault(transform(moving, short_exponent), []).append(term / moving)
    return total([simplify(total(c), facts).expression * m for m, c in groups.items()])


def squares_completed(e: Expression, s: Name) -> Expression:
    """Quadratic denominators as tables of transforms have them: (s + a)^2 + w^2."""

    def visit(node: Node) -> Node:
        if not (isinstance(node, Power) and stands_below(node) and isinstance(node.base, Sum) and contains(node.base, s)):
            return node
        try:
            square = complete_square(node.base, s)
        except DomainError:
            return node
        return power(min(node.base, square, key=measure), node.exponent)

    return transform(e, visit)


def _transformed(
    expression: object,
    variable: object,
    target: object,
    given: Iterable[object],
    otherwise: str,
    work: Work,
    check: Check,
    what: str,
    written_as: Callable[[Expression, Name, Name], Expression] | None = None,
    over: tuple[Expression, Expression] | None = None,
) -> Answer:
    arguments = take(expression, variables=[variable, target], given=given)
    (f,), (t, s) = arguments.expressions, arguments.names
    if s is t:
        raise DomainError(f"the {what} needs a new variable, not {t} again")
    if contains(f, s):
        raise DomainError(f"the formula already contains the new variable {s}")
    facts = facts_over(t, *over, arguments.facts) if over else arguments.facts

    def left_written(reason: str) -> Answer:
        if written_as is None:
            raise NoClosedForm(reason)
        return unevaluated(written_as(f, t, s), reason, otherwise)

    with noted() as by_result:
        found = work(f, t, s, facts)
    if found is None:
        return left_written(f"no rule gives the {what} of this formula")
    value, conditions = _for_reading(found, f, t, s, facts)
    under = facts.with_facts(conditions)
    certificate = replace(on_its_own_road(lambda: check(f, t, s, value, under), by_result), conditions=conditions)
    if certificate.verdict == REFUTED:
        note_refuted("transform", f, value)
        return left_written(f"the {what} that was found does not agree with the formula")
    return Answer(value, lambda: certificate, conditions, found.road)


def _for_reading(found: Found, f: Expression, t: Name, s: Name, facts: Facts) -> tuple[Expression, tuple[Condition, ...]]:
    """The shortest of its forms, and what it needs."""
    conditions = facts.open_conditions(found.conditions)
    under = facts.with_facts(conditions)
    divisors = new_divisors(found.value, f, under, t, s)
    conditions, under = (*conditions, *divisors), under.with_facts(divisors)
    forms = _shown(found.value, s, under)
    return min([*forms, *[squares_completed(e, s) for e in forms]], key=lambda e: len(str(e))), conditions
