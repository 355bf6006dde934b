"""Found integrals: piece by piece between breaks, with one-sided limits, and never across a pole."""

from __future__ import annotations

import itertools
from collections.abc import Callable

from gelvo.calculus.antiderivative.search import antiderivative
from gelvo.calculus.definite.by_rule import by_other_means
from gelvo.calculus.definite.convergence import Tail, divergence
from gelvo.calculus.definite.half_angles import by_half_angles
from gelvo.calculus.definite.letters import by_a_letter, in_its_own_unit, is_for_a_letter
from gelvo.calculus.definite.mirrors import has_a_constant_mean, has_an_image, reflected
from gelvo.calculus.definite.rewritten import WAYS, Way, from_zero_on, is_for_a_logarithm, rewritten
from gelvo.calculus.found import Found
from gelvo.calculus.limits import limit
from gelvo.calculus.zeros import NotKnown, order, sort_places, zeros_between
from gelvo.deciding.complex_paths import is_complex, may_cross_cut, middle_of
from gelvo.deciding.cross_check import quadrature_agreement
from gelvo.deciding.equality import decide_zero
from gelvo.errors import DomainError
from gelvo.evaluation.enclose import sign_at
from gelvo.expression.building import call, number, total
from gelvo.expression.constants import IMAGINARY, INFINITE, MINUS_INFINITE, ONE, ZERO
from gelvo.expression.nodes import Bound, Call, Cases, Condition, Expression, Name, Number, Power
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, has_call, has_imaginary_unit, names, postorder, substitute
from gelvo.facts.continuity import breaks, has_no_break_at
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.bounds import difference, joined
from gelvo.forms.fractions import factored
from gelvo.forms.impulses import Impulse, has_impulse, separated
from gelvo.functions.named import ABS, CBRT, CEIL, COS, EXP, FLOOR, HEAVISIDE, LN, MAX, MIN, SIGN, SIN, TAN, is_a
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.normal.prepare import prepared
from gelvo.refuted import note_refuted

ORDERS = "orders of growth"
HIGH = 10  # powers of waves, of which an antiderivative has as many terms
AT_ENDS = "the antiderivative at the ends"
AT_BREAKS = "the antiderivative at the ends, piece by piece between its breaks"


def definite_integral(
    f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts, letters: bool = True
) -> tuple[Found | None, str]:
    """The integral of f from lower to upper, or (None, why not).

    letters: whether the slope along a letter may be integrated instead, which asks for this again.

    >>> from gelvo.expression.building import number
    >>> from gelvo.expression.building import name as variable
    >>> x = variable("x")
    >>> print(definite_integral(x**2, x, number(0), number(3), Facts())[0].value)
    9
    """
    try:
        direction = 0 if lower is upper else order(lower, upper, facts)
    except NotKnown:
        return _without_order(f, x, lower, upper, facts)
    if direction == 0:
        return Found(ZERO, (), "equal ends"), ""
    if direction > 0:
        found, reason = definite_integral(f, x, upper, lower, facts, letters)
        return (None, reason) if found is None else (found._replace(value=-found.value), "")
    if has_impulse(f, x):
        return _with_impulses(f, x, lower, upper, facts)
    found, reason = _by_roads(by_half_angles(f, x, facts), x, lower, upper, facts, letters)
    if found is None:
        return None, reason
    if isinstance(found.value, Bound):
        return _running_off(f, x, lower, upper, found, facts)
    if not _agrees(f, x, lower, upper, found, facts):
        note_refuted("definite integral", f, found.value)
        return None, "a quadrature does not agree with the closed form"
    return found, ""


def _by_roads(
    f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts, letters: bool
) -> tuple[Found | None, str]:
    """The likeliest road first: a letter's slope or a rule where an antiderivative would be long or is none."""
    ends, outermost = (f, x, lower, upper, facts), letters
    found = _diverging(*ends) if _may_have_a_pole(*ends) else None
    logarithm = any(is_a(n, LN) and has_call(n, (SIN, COS, TAN), x) for n in postorder(f))
    if found is None and logarithm:
        found = _by_rules(*ends)
    if found is None and letters and is_for_a_letter(f, x):
        found, letters = _by_a_letter(*ends), False
    if found is None and outermost and is_for_a_logarithm(f, x, lower, upper):
        found = _rewritten(*ends, (from_zero_on,))
    if found is None and (logarithm or has_a_constant_mean(f, x, lower, upper) or has_an_image(f, x, lower, upper, facts)):
        found = _by_reflection(*ends)
    rules = not _is_for_rules(f, x, lower, upper)
    if found is None and not rules:
        found = _by_rules(*ends)
    if found is not None:
        return found, ""
    found, reason = _forwards(*ends)
    return found or _by_other_roads(*ends, letters, rules) or (_rewritten(*ends) if outermost else None), reason


def _rewritten(
    f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts, ways: tuple[Way, ...] = WAYS
) -> Found | None:
    """By other integrals, none of which runs off; where a quadrature can be taken it must agree."""

    def integral(g: Expression, low: Expression, high: Expression) -> Found | None:
        farther = isinstance(high, Bound) and not isinstance(upper, Bound)  # from there no way leads back
        found = definite_integral(g, x, low, high, facts, farther)[0]
        return None if found is None or isinstance(found.value, Bound) else found

    for found in rewritten(f, x, lower, upper, facts, integral, ways):
        if _agrees(f, x, lower, upper, found, facts):
            return found
        note_refuted("definite integral", f, found.value)
    return None


def _may_have_a_pole(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> bool:
    """Whether a rational factor beside something else has a pole between two ends or at one: then an antiderivative may be long, and is not needed."""
    if not any(isinstance(n, Call) and contains(n, x) for n in postorder(f)):
        return False
    within = [n.base for n in factors_in(factored(f)) if isinstance(n, Power) and facts.is_negative(n.exponent)]
    inside = inside_facts(x, lower, upper, facts)
    try:
        return any(zeros_between(g, x, lower, upper, inside) for g in within if uni.coefficients_of(g, x) is not None)
    except (NotKnown, DomainError):
        return False


def _is_for_rules(f: Expression, x: Name, lower: Expression, upper: Expression) -> bool:
    """Whether a rule is likelier than an antiderivative: to infinity, beside functions other than one exponential as a factor."""
    calls = [n for n in postorder(f) if isinstance(n, Call) and contains(n, x)]
    powers = [n for n in postorder(f) if isinstance(n, Power) and contains(n.base, x)]
    if not (isinstance(lower, Bound) or isinstance(upper, Bound)):  # high powers of waves alone
        high = any(is_a(n.base, SIN, COS) and not (n.exponent.is_whole and n.exponent.rational < HIGH) for n in powers)
        return high and set(calls) <= {SIN(x), COS(x)}
    if any(
        not isinstance(n.exponent, Number) or (n.base is x and not n.exponent.is_whole) or any(contains(n.base, c) for c in calls)
        for n in powers
    ):
        return True
    return len(calls) > 1 or any(not is_a(n, EXP) for n in calls)


def _by_other_roads(
    f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts, letters: bool, rules: bool
) -> Found | None:
    """Without an antiderivative: symmetry, rules, a slope by a letter, real and imaginary part; and whether it has a value at all."""
    ends = (f, x, lower, upper, facts)
    found = _odd(*ends) or (_by_rules(*ends) if rules else None) or _by_reflection(*ends)
    if found is None and letters:
        found = _by_a_letter(*ends)
    return found or _by_parts_of_values(*ends) or _diverging(*ends)


def _by_a_letter(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    if lower is ZERO and upper is INFINITE:
        f = in_its_own_unit(f, x, facts)

    def integral(g: Expression, under: Facts) -> Found | None:
        return definite_integral(g, x, lower, upper, under, False)[0]

    return by_a_letter(f, x, facts, integral, isinstance(lower, Bound) or isinstance(upper, Bound))


def _odd(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """Zero, for an odd integrand between opposite ends whose integral converges."""
    if isinstance(lower, Bound) or isinstance(upper, Bound):
        opposite = (lower, upper) == (MINUS_INFINITE, INFINITE)
    else:
        opposite = factored(lower + upper) is ZERO
    if not opposite or decide_zero(substitute(f, {x: -x}) + f, facts).zero is not True:
        return None
    return Found(ZERO, (), "an odd integrand between opposite ends") if _converges(f, x, lower, upper, facts) else None


def _by_parts_of_values(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """Real and imaginary part, each by itself."""
    if not has_imaginary_unit(f):
        return None
    try:
        parts = real_and_imaginary(f, facts)
    except DomainError:
        return None
    found = [definite_integral(p, x, lower, upper, facts)[0] if p is not ZERO else Found(ZERO) for p in parts]
    if any(v is None or isinstance(v.value, Bound) for v in found):
        return None
    real, imaginary = (v for v in found if v is not None)
    conditions = tuple(dict.fromkeys((*real.conditions, *imaginary.conditions)))
    return Found(
        real.value + IMAGINARY * imaginary.value, conditions, f"real part: {real.road}; imaginary part: {imaginary.road}"
    )


def _cuts(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> list[Expression] | None:
    """The ends and the breaks between them; None where it is not known where those are."""
    inside = inside_facts(x, lower, upper, facts)
    try:
        places = _places(breaks(f, x, kinks=False, facts=inside), x, lower, upper, inside)
        return [lower, *_inner(places, lower, upper, facts), upper]
    except (NotKnown, DomainError):
        return None


def poles_between(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> list[Expression] | None:
    """The breaks of an integrand between its ends; None where it is not known where those are."""
    cuts = _cuts(f, x, lower, upper, facts)
    return None if cuts is None else cuts[1:-1]


def _told(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Tail | None:
    cuts = _cuts(f, x, lower, upper, facts)
    return None if cuts is None else divergence(f, x, cuts, facts)


def _diverging(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """An integral that runs off, or swings for ever, by the orders of growth at its ends and breaks."""
    cuts = _cuts(f, x, lower, upper, facts)
    told = None if cuts is None else divergence(f, x, cuts, facts)
    if cuts is None or told is None or not isinstance(told.kind, Bound):
        return None
    return Found(told.kind, (), f"{ORDERS}: {told.reason}", tuple(cuts[1:-1]))


def _running_off(
    f: Expression, x: Name, lower: Expression, upper: Expression, found: Found, facts: Facts
) -> tuple[Found | None, str]:
    """A divergence with its place and order, unless the orders of growth say that the integral converges."""
    told = None if found.road.startswith(ORDERS) else _told(f, x, lower, upper, facts)
    if told is None or (isinstance(told.kind, Bound) and told.kind is not found.value):
        return found, ""
    if not isinstance(told.kind, Bound):
        note_refuted("definite integral", f, found.value)
        return None, "the integral converges, and the antiderivative that was found runs off"
    return found._replace(road=f"{found.road}; {told.reason}"), ""


def _converges(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> bool:
    told = _told(f, x, lower, upper, facts)
    return told is not None and not isinstance(told.kind, Bound)


def _forwards(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> tuple[Found | None, str]:
    """From the lower to the upper end by an antiderivative, or why that gives nothing."""
    try:
        return _between(f, x, lower, upper, facts), "no antiderivative in closed form was found"
    except NotKnown:
        return None, "it could not be told where the integrand or its antiderivative breaks on the interval"
    except DomainError as fault:
        return None, str(fault)


def _with_impulses(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> tuple[Found | None, str]:
    """g(x)*dirac_delta(a*x + b) gives g(-b/a)/|a| where -b/a lies inside, the rest is integrated as it is."""
    parts = separated(f, x)
    if parts is None:
        return (
            None,
            "an impulse is sifted where its argument is a line or a parabola that crosses zero, and no other stands beside it",
        )
    smooth, reason = definite_integral(parts[0], x, lower, upper, facts)
    if smooth is None:
        return None, reason
    inside: list[Impulse] = []
    for impulse in parts[1]:
        try:
            sides = order(lower, impulse.place, facts), order(impulse.place, upper, facts)
            jumps = not has_no_break_at(impulse.rest, x, impulse.place, facts)
        except (NotKnown, DomainError):
            return None, f"it could not be told whether the impulse at {impulse.place} lies between the ends"
        if 0 in sides or (jumps and 1 not in sides):
            return None, f"the impulse at {impulse.place} meets an end of the interval, or a break"
        if 1 not in sides:
            inside.append(impulse)
    value = joined([smooth.value, *[i.weight for i in inside]])
    return Found(
        value, smooth.conditions, f"impulses are sifted; {smooth.road}", (*smooth.places, *[i.place for i in inside])
    ), ""


def _by_rules(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """Rules that need no antiderivative; what they say must agree with quadratures (`_agrees`, and at least one was taken)."""
    for other in by_other_means(f, x, lower, upper, facts):
        under = facts.with_facts(other.conditions)
        seen = quadrature_agreement(f, x, lower, upper, other.value, under, (), wanted=2, candidates=24)
        if seen.points and not seen.counterexample:
            return other
        if seen.counterexample:
            note_refuted("definite integral", f, other.value)
    return None


def _by_reflection(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """By the mean of the integrand and a mirror image."""
    for mean in reflected(f, x, lower, upper, facts):
        try:
            found = _between(mean, x, lower, upper, facts)
        except (NotKnown, DomainError):
            continue
        if found is None or isinstance(found.value, Bound):
            continue
        if not _has_no_break(f, x, lower, upper, facts):  # where f has no integral its mean with the mirror image may have one
            seen = quadrature_agreement(f, x, lower, upper, found.value, facts, found.places, wanted=2, candidates=24)
            if not seen.points or seen.counterexample:
                continue
        return found._replace(road=f"mean of the integrand and its mirror image; {found.road}")
    return None


def _has_no_break(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> bool:
    inside = inside_facts(x, lower, upper, facts)
    try:
        return not _places(breaks(f, x, kinks=False, facts=inside), x, lower, upper, inside)
    except (NotKnown, DomainError):
        return False


def _without_order(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> tuple[Found | None, str]:
    """Ends whose order is not known: allowed where neither integrand nor antiderivative has a break between them, whichever comes first."""
    if isinstance(lower, Bound) or isinstance(upper, Bound):
        return None, "the order of the ends is not known"
    inside = _on_one_side(x, lower, upper, facts)
    found = antiderivative(f, x, inside)
    if found is None:
        return None, "no antiderivative in closed form was found"
    for place in (*breaks(f, x, facts=inside), *breaks(found.value, x, facts=inside)):
        if not (inside.is_nonzero(place) or _keeps_its_sign(place, x, lower, upper, facts)):
            return None, f"it is not known whether {place} vanishes between the ends"
    value = substitute(found.value, {x: upper}) - substitute(found.value, {x: lower})
    conditions = inside.open_conditions(found.conditions)
    if any(contains(c, x) for c in conditions):
        return None, "the antiderivative holds under conditions on the variable"
    return Found(value, conditions, "antiderivative without breaks, difference of the ends"), ""


def _on_one_side(x: Name, lower: Expression, upper: Expression, facts: Facts) -> Facts:
    """The facts with the sign that both ends have."""
    ends = (lower, upper)
    if all(map(facts.is_positive, ends)):
        return facts.with_facts([x > ZERO])
    return facts.with_facts([x < ZERO]) if all(map(facts.is_negative, ends)) else facts


def _keeps_its_sign(place: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> bool:
    """Whether something linear in x has one sign at both ends."""
    if uni.linear_parts(place, x) is None:
        return False
    values = [substitute(place, {x: end}) for end in (lower, upper)]
    return all(map(facts.is_positive, values)) or all(map(facts.is_negative, values))


def inside_facts(x: Name, lower: Expression, upper: Expression, facts: Facts) -> Facts:
    """The facts with those of a variable that runs between two ends."""
    more: list[Condition] = []
    if not isinstance(lower, Bound):
        more.append(lower < x)
    if not isinstance(upper, Bound):
        more.append(x < upper)
    return facts.with_facts([c for c in more if names(c)])


def _between(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    inside = inside_facts(x, lower, upper, facts)
    kinds = {n.name for n in postorder(f) if isinstance(n, Call)}
    split = kinds & {ABS, SIGN, HEAVISIDE, MIN, MAX, FLOOR, CEIL, CBRT} or any(isinstance(n, Cases) for n in postorder(f))
    places = _places(breaks(f, x, kinks=bool(split), facts=inside), x, lower, upper, inside)
    cuts = [lower, *_inner(places, lower, upper, facts), upper]
    pieces: list[Expression] = []
    conditions: dict[Condition, None] = {}
    looked: dict[Expression, None] = dict.fromkeys(places)
    roads: dict[str, None] = {}
    for left, right in itertools.pairwise(cuts):
        piece = _smooth_piece(f, x, left, right, facts, bool(split))
        if piece is None:
            return None
        pieces.append(piece.value)
        conditions.update(dict.fromkeys(piece.conditions))
        looked.update(dict.fromkeys(piece.places))
        roads[piece.road] = None
    return Found(joined(pieces), tuple(conditions), "; ".join(roads), tuple(looked))


def _places(found: list[Expression], x: Name, lower: Expression, upper: Expression, facts: Facts) -> list[Expression]:
    result: list[Expression] = []
    for g in found:
        for place in zeros_between(g, x, lower, upper, facts):
            if not any(order(place, other, facts) == 0 for other in result):
                result.append(place)
    return sort_places(result, facts)


def _inner(places: list[Expression], lower: Expression, upper: Expression, facts: Facts) -> list[Expression]:
    """The places that are no ends."""
    return [p for p in places if order(lower, p, facts) < 0 and order(p, upper, facts) < 0]


def _smooth_piece(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts, split: bool) -> Found | None:
    """One piece on which the integrand has no break inside; the antiderivative may still jump."""
    inside = inside_facts(x, lower, upper, facts)
    if split:
        f = _chosen(f, x, lower, upper, inside)
    found = antiderivative(f, x, inside)
    if found is None:
        return None
    F = found.value
    if any(contains(c, x) and inside.holds(c) is not True for c in inside.open_conditions(found.conditions)):
        raise NotKnown  # an antiderivative for other values of the variable
    if is_complex(f, x, lower, upper) and may_cross_cut(F, x, inside):
        raise NotKnown
    places = _places(breaks(F, x, facts=inside), x, lower, upper, inside)
    inner = _inner(places, lower, upper, facts)
    cuts = [lower, *inner, upper]
    singular = [*places, *_places(breaks(f, x, facts=inside), x, lower, upper, inside)]
    pieces: list[Expression] = []
    for left, right in itertools.pairwise(cuts):
        local = inside_facts(x, left, right, facts)
        high = _end_value(F, x, right, "below", any(order(right, p, facts) == 0 for p in singular), local)
        low = _end_value(F, x, left, "above", any(order(left, p, facts) == 0 for p in singular), local)
        pieces.append(difference(high, low))
    road = f"{found.road}; {AT_BREAKS if inner else AT_ENDS}"
    return Found(joined(pieces), inside.open_conditions(found.conditions), road, tuple(places))


# the size, the sign or the step of an argument whose sign is known
OF_SIGN: dict[str, Callable[[Expression, int], Expression]] = {
    SIGN: lambda u, sign: number(sign),
    ABS: lambda u, sign: sign * u,
    HEAVISIDE: lambda u, sign: number((1 + sign) // 2),
}


def _chosen(f: Expression, x: Name, lower: Expression, upper: Expression, inside: Facts) -> Expression:
    """Absolute values, signs, steps and cases resolved on a piece where they cannot change."""
    middle = middle_of(lower, upper)
    table: dict[Expression, Expression] = {}
    for node in postorder(f):
        if isinstance(node, Cases):
            table[node] = _chosen_case(node, x, middle, inside)
        elif is_a(node, FLOOR, CEIL):
            table[node] = call(node.name, substitute(node.arguments[0], {x: middle}))
        elif is_a(node, *OF_SIGN):
            argument = node.arguments[0]
            table[node] = OF_SIGN[node.name](argument, _sign_on_a_piece(argument, x, middle, inside))
    chosen = substitute(f, table) if table else f
    return prepared(chosen, inside, waves=False) if not table else chosen


def _sign_on_a_piece(argument: Expression, x: Name, middle: Expression, inside: Facts) -> int:
    if inside.is_positive(argument) or inside.is_negative(argument):
        return 1 if inside.is_positive(argument) else -1
    if names(middle) or any(n is not x for n in names(argument)):
        raise NotKnown
    return sign_at(substitute(argument, {x: middle}), {})


def _chosen_case(node: Cases, x: Name, middle: Expression, inside: Facts) -> Expression:
    for value, condition in zip(node.values, node.conditions, strict=False):
        holds = inside.holds(condition)
        if holds is None:
            holds = inside.without(x).holds(substitute(condition, {x: middle}))
        if holds is None:
            raise NotKnown
        if holds:
            return value
    if isinstance(node.otherwise, Bound):
        raise DomainError("the integrand is undefined on a part of the interval")
    return node.otherwise


def _end_value(F: Expression, x: Name, end: Expression, side: str, singular: bool, facts: Facts) -> Expression:
    """The one-sided limit of F; `undefined` where it swings for ever."""
    if not isinstance(end, Bound) and not singular:
        return substitute(F, {x: end})
    value = None if isinstance(end, Bound) else _continuous_value(F, x, end, facts)
    if value is None:
        value = _limit(F, x, end, side, facts)
    if value is None and has_imaginary_unit(F):  # by its parts
        try:
            ends = [_limit(p, x, end, side, facts) for p in real_and_imaginary(F, facts)]
        except DomainError:
            raise NotKnown from None
        if not any(v is None or isinstance(v, Bound) for v in ends):
            value = total([c * v for c, v in zip((ONE, IMAGINARY), ends, strict=True) if v is not None])
    if value is None:
        raise NotKnown
    return value


def _limit(F: Expression, x: Name, end: Expression, side: str, facts: Facts) -> Expression | None:
    found = limit(F, x, end, None if isinstance(end, Bound) else side, facts)
    return None if found is None else found.value


def _continuous_value(F: Expression, x: Name, end: Expression, facts: Facts) -> Expression | None:
    """At a kink without a jump the value itself is the limit."""
    for g in breaks(F, x, kinks=False, facts=facts):
        value = substitute(g, {x: end})
        if not facts.is_nonzero(value) and not facts.is_positive(value):
            return None
    return substitute(F, {x: end})


def _agrees(f: Expression, x: Name, lower: Expression, upper: Expression, found: Found, facts: Facts) -> bool:
    """A quadrature at sample values of the other names agrees to 8 digits, or could not be taken."""
    if isinstance(found.value, Bound):
        return True
    under = facts.with_facts(found.conditions)
    return not quadrature_agreement(f, x, lower, upper, found.value, under, found.places, wanted=2, candidates=12).counterexample
