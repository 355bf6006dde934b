"""An integral as a sum: term by term, and by parts; each part by a theorem of its own.

By parts a function whose slope is simpler stands beside one with an antiderivative; the product of both has a limit at each end, so that
the integral converges where the one that is left does (E. Whittaker, G. Watson, "A Course of Modern Analysis" (1927), 4.14).
"""

from __future__ import annotations

from collections.abc import Iterator

from gelvo.checking.ends import value_at
from gelvo.checking.proposals import proposed_antiderivative, proposed_images
from gelvo.checking.values.converging import facts_between, has_no_break_between
from gelvo.checking.values.value import Question, Theorem, Value
from gelvo.deciding.equality import prove_zero
from gelvo.expression.building import total
from gelvo.expression.nodes import Bound, Expression, Name
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, dependents, has_call, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import ACOT, ASINH, ATAN, CI, COS, EI, ERF, ERFC, EXP, LN, SI, SIN, is_a
from gelvo.simplifying.families.waves import by_multiple_angles
from gelvo.simplifying.search import simplify

MOST_TERMS = 8
WITH_SIMPLE_SLOPES = (LN, ATAN, ACOT, ASINH, ERF, ERFC, EI, SI, CI)


def term_by_term(question: Question, x: Name, facts: Facts, known: Theorem) -> Iterator[Value]:
    """The sum of what is known of the terms, waves by multiples of their angle."""
    f, lower, upper = question
    turned = by_multiple_angles(f, facts, False) if has_call(f, (SIN, COS), x) else None
    terms = terms_of(expand(f if turned is None else turned))
    if not 1 < len(terms) <= MOST_TERMS or (turned is not None and not prove_zero(turned - f, facts)):
        return
    found = [next(known((t, lower, upper), x, facts), None) for t in terms]
    values = [v for v in found if v is not None]
    if len(values) == len(terms):
        yield Value(total([v.value for v in values]), f"term by term; {values[0].road}")


def by_parts(question: Question, x: Name, facts: Facts, known: Theorem) -> Iterator[Value]:
    """What stands at the ends, less what is known of the integral that is left."""
    f, lower, upper = question
    inside = [g for g in factors_in(f) if is_a(g, *WITH_SIMPLE_SLOPES) and contains(g, x)]
    if len(inside) != 1 or not has_call(f / inside[0], (EXP, SIN, COS), x):
        return
    rest = f / inside[0]
    outer = proposed_antiderivative(rest, x, facts)
    if outer is None or not prove_zero(differentiate(outer, x) - rest, facts):
        return
    whole = outer * inside[0]
    if not has_no_break_between(whole, x, lower, upper, facts):
        return
    at_ends = [value_at(whole, x, end, facts, side) for end, side in ((upper, "below"), (lower, "above"))]
    if any(v is None or isinstance(v, Bound) for v in at_ends):
        return
    high, low = (v for v in at_ends if isinstance(v, Expression))
    left = factored(outer * differentiate(inside[0], x))
    for v in known((left, lower, upper), x, facts):
        yield Value(high - low - v.value, f"by parts; {v.road}")


def by_an_image(question: Question, x: Name, facts: Facts, known: Theorem) -> Iterator[Value]:
    """The mean of an integrand and its image under a quotient of lines that swaps the ends, and has no pole between them."""
    f, lower, upper = question
    if isinstance(lower, Bound) or isinstance(upper, Bound):
        return
    within = facts_between(x, lower, upper, facts)
    for image in proposed_images(f, x, lower, upper, within):
        bottom = quotient_parts(image)[1]
        swapped = all(prove_zero(substitute(image, {x: here}) - there, facts) for here, there in ((lower, upper), (upper, lower)))
        if not swapped or uni.linear_parts(bottom, x) is None or not within.is_nonzero(bottom):
            continue
        whole = (f - differentiate(image, x) * substitute(f, {x: image})) / 2
        mean = simplify(whole, within).expression
        simpler = len(dependents(mean, x)) <= len(dependents(f, x))
        if simpler and prove_zero(mean - whole, within):
            yield from (Value(v.value, f"mean with the image {image}; {v.road}") for v in known((mean, lower, upper), x, facts))
