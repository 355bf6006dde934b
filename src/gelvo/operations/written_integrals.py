"""Written integrals inside formulas: finding one, putting another thing in its place, what its ends are worth."""

from __future__ import annotations

from contextlib import suppress
from typing import NamedTuple

from gelvo.calculus.antiderivative.support import apart
from gelvo.calculus.definite import inside_facts
from gelvo.calculus.zeros import NotKnown, order, zeros_between
from gelvo.checking.certificate import PROVED, Certificate, weakest
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import written
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Bound, Expression, Name, Product, Written
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, postorder, substitute, transform
from gelvo.facts.continuity import breaks, has_no_break_at
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.functions.named import HEAVISIDE, SIGN, is_a
from gelvo.operations.inputs import one_expression
from gelvo.operations.ranges import facts_over
from gelvo.operations.series import limit


def integral_in(value: object) -> Written:
    """The one written integral in a formula."""
    found = [n for n in postorder(one_expression(value)) if isinstance(n, Written) and n.kind == "integral_of"]
    if len(dict.fromkeys(found)) != 1:
        raise DomainError(f"one integral_of(f, x) is needed, and there are {len(found)}")
    return found[0]


def facts_inside(form: Written, facts: Facts) -> Facts:
    """The facts that hold under an integral: between its ends its variable has them for itself."""
    if len(form.arguments) == 2:
        return facts
    lower, upper = form.arguments[2:]
    return facts_over(form.variable, lower, upper, facts)


def with_part(whole: Expression, form: Written, new: Expression) -> Expression:
    """A written form replaced as a whole: its bound variable stays as it is."""
    return transform(whole, lambda n: new if n is form else n)


def impulses_known(e: Expression) -> Expression:
    """Without the steps whose slopes are impulses, so that their jumps are not forgotten by a derivative."""
    steps = {n: n.arguments[0] for n in postorder(e) if is_a(n, SIGN, HEAVISIDE)}
    return substitute(e, steps) if steps else e


def refuse_breaks(g: Expression, x: Name, ends: tuple[Expression, Expression], facts: Facts, what: str) -> None:
    """NotSolved where a formula breaks between the ends of an integral, or that cannot be told."""
    low, high = ends
    try:
        if not breaks(g, x, kinks=False):
            return
        if order(low, high, facts) > 0:
            low, high = high, low
        between = inside_facts(x, low, high, facts)
        for b in breaks(g, x, kinks=False, facts=between):
            found = zeros_between(b, x, low, high, between)
            inside = [p for p in found if order(low, p, facts) and order(p, high, facts)]
            if inside:
                raise NotSolved(
                    f"{g} breaks at {x} = {inside[0]}, between the ends of the integral: split the integral there ({what})"
                )
    except (NotKnown, DomainError):
        raise NotSolved(f"it could not be told whether {g} is continuous between {low} and {high} ({what})") from None


class End(NamedTuple):
    """What a formula is worth at an end of an integral, and the certificates of the limits that were taken for it."""

    value: Expression
    limits: tuple[Certificate, ...] = ()


def between_ends(identity: Certificate, form: Written, inner: str, *ends: End) -> Certificate:
    """For a definite integral the certificate names what else was established: no break on the way, the limits at the ends."""
    if len(form.arguments) == 2:
        return identity
    low, high = form.arguments[2:]
    text = f"{inner} is continuous for {form.variable} between {low} and {high}"
    continuity = Certificate(text, PROVED, "its breaks looked for by facts and bounded evaluation: none between the ends")
    parts = (identity, continuity, *(limit for end in ends for limit in end.limits))
    return Certificate(identity.claim, weakest(parts), identity.method, identity.evidence, parts=parts)


def written_integral(f: Expression, x: Name, *ends: Expression) -> Expression:
    """A written integral with numbers in front of it."""
    if not isinstance(f, Product):
        return written("integral_of", f, x, *ends)
    outside, inside = apart(f, x)
    return outside * written("integral_of", inside, x, *ends)


def from_inside(low: Expression, high: Expression, facts: Facts) -> tuple[tuple[Expression, str], tuple[Expression, str]]:
    """The two ends with the side from which each is reached; an integral may run backwards."""
    backwards = not isinstance(low, Bound) and not isinstance(high, Bound) and facts.is_negative(high - low)
    return ((low, "below"), (high, "above")) if backwards else ((low, "above"), (high, "below"))


def value_at_end(f: Expression, x: Name, place: Expression, side: str, facts: Facts, infinite: bool = False) -> End:
    """The value at an end; where the formula breaks there, its limit from inside."""
    if isinstance(place, Bound):
        found = limit(f, x, place, given=facts.given)
    else:
        with suppress(DomainError):
            if has_no_break_at(f, x, place, facts, kinks=False):
                return End(substitute(f, {x: place}))
        if all(_falls_to_zero(t, x, place, facts) for t in terms_of(f)):
            return End(ZERO)
        found = limit(f, x, place, side=side, given=facts.given)
    if found.reason or (isinstance(found.expression, Bound) and not infinite):
        raise DomainError(f"the part {f} has no finite limit at {place}")
    return End(found.expression, (found.certificate(),))


def _falls_to_zero(term: Expression, x: Name, place: Expression, facts: Facts) -> bool:
    """A positive power of what is zero at a place, beside what has a value there."""
    factors = factors_in(term)
    for g in factors:
        base, exponent = base_and_exponent(g)
        rest = [h for h in factors if h is not g]
        if not contains(exponent, x) and facts.is_positive(exponent) and contains(base, x):
            with suppress(DomainError):
                value = substitute(base, {x: place})
                if value is ZERO and all(has_no_break_at(h, x, place, facts, kinks=False) for h in (base, *rest)):
                    return True
    return False
