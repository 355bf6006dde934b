"""Products with an impulse: only the value at its place counts."""

from __future__ import annotations

from typing import NamedTuple

from gelvo.errors import DomainError
from gelvo.expression import known as bits
from gelvo.expression.building import sqrt, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Call, Expression, Name
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, fresh_name, has_call, names, postorder, substitute
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.forms.univariate import coefficients_of, linear_parts, lowest_terms
from gelvo.functions.named import ABS, DIRAC_DELTA, is_a


def sifted(expression: Expression, between_breaks: bool = False) -> Expression:
    """f(x)*dirac_delta(x - a) as f(a)*dirac_delta(x - a), where f has a value at a: where it vanishes there, the term is zero.

    between_breaks: an impulse where its factor has no value is dropped, for what is said between such places only.

    >>> from gelvo.expression.building import call, name
    >>> x = name("x")
    >>> print(sifted(x**2 * DIRAC_DELTA(x - 3)))
    9*dirac_delta(x - 3)
    """
    for impulse in [n for n in postorder(expression) if is_a(n, DIRAC_DELTA)]:
        mark = fresh_name("impulse", expression)
        parts = linear_parts(expand(substitute(expression, {impulse: mark})), mark)
        if parts is None or contains(parts[0], mark):
            continue
        if between_breaks and _has_no_value(parts[0], impulse.arguments[0]):
            expression = parts[1]
            continue
        for x in names(impulse):
            line = linear_parts(impulse.arguments[0], x)
            if line is None:
                continue
            try:
                expression = parts[1] + substitute(parts[0], {x: -line[1] / line[0]}) * impulse
            except DomainError:
                expression = parts[1] if between_breaks else expression
            break
    return expression


def _has_no_value(factor: Expression, argument: Expression) -> bool:
    """Whether a factor has no value where an argument that is no line, such as cos(x), vanishes."""
    try:
        substitute(factor, {argument: ZERO})
    except DomainError:
        return True
    return False


def has_impulse(e: Expression, x: Name) -> bool:
    return has_call(e, (DIRAC_DELTA,), x)


class Impulse(NamedTuple):
    """weight*dirac_delta(x - place); rest: the weight as a function of x, before it was taken at the place."""

    place: Expression
    weight: Expression
    rest: Expression


def separated(f: Expression, x: Name) -> tuple[Expression, tuple[Impulse, ...]] | None:
    """(what is left without impulses, the impulses); None where one is no line or parabola, or stands beside another or without a value."""
    smooth: list[Expression] = []
    found: list[Impulse] = []
    for term in terms_of(expand(f)):
        if not has_impulse(term, x):
            smooth.append(term)
            continue
        impulses = [g for g in factors_in(term) if has_impulse(g, x)]
        zeros = _zeros(impulses[0].arguments[0], x) if len(impulses) == 1 and isinstance(impulses[0], Call) else None
        if zeros is None:
            return None
        for place, slope in zeros:
            rest = term / impulses[0] / ABS(slope)
            try:
                found.append(Impulse(place, substitute(rest, {x: place}), rest))
            except DomainError:
                return None
    return total(smooth), tuple(found)


def _zeros(argument: Expression, x: Name) -> list[tuple[Expression, Expression]] | None:
    """(place, slope there) of the zeros of a line or a parabola; None for others, and where it touches zero."""
    parts = coefficients_of(argument, x)
    if parts is None or len(parts) not in (2, 3):
        return None
    if len(parts) == 2:
        return [(lowest_terms(-parts[0] / parts[1]), parts[1])]
    c, b, a = parts
    gap = expand(b * b - 4 * a * c)
    if bits.is_negative(gap.known):
        return []
    if not bits.is_positive(gap.known):
        return None
    return [(lowest_terms((sign * sqrt(gap) - b) / (2 * a)), sign * sqrt(gap)) for sign in (-1, 1)]
