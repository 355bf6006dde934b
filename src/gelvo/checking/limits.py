"""Limits proved by their terms, by orders of growth or by derivatives; else held against values, instead of the way they were found."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from gelvo.calculus.growth import limit_at_infinity
from gelvo.calculus.sequences import classes_of
from gelvo.checking.certificate import PROVED, Certificate
from gelvo.checking.ends import ends_differ, proved_limit, value_at
from gelvo.checking.expansions import limit_by_expansion
from gelvo.checking.nearing import agreement_nearby
from gelvo.checking.subsequences import two_sequences
from gelvo.deciding.equality import decide_zero
from gelvo.deciding.suppositions import may_suppose_nonzero
from gelvo.errors import DomainError, GelvoError
from gelvo.expression.building import number
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, UNDEFINED
from gelvo.expression.nodes import Bound, Call, Expression, Name, Node, Power
from gelvo.expression.traversal import contains, distinct_nodes, has_call, substitute, transform
from gelvo.facts.continuity import has_no_break_at
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import COT, COTH, CSC, CSCH, EXP, LN, SEC, TAN, is_a
from gelvo.normal.far_out import logarithm_of_product, logarithms_taken_apart, without_lambert
from gelvo.normal.prepare import prepared
from gelvo.roads import unnoted
from gelvo.simplifying.families.waves import CIRCULAR

WHOLE = ("integer", "natural")


def check_limit(f: Expression, x: Name, point: Expression, side: str | None, value: Expression, facts: Facts) -> Certificate:
    """The other road: orders of growth; else bounded values of f closer and closer to the point."""
    claim = f"limit_of({f}, {x}, {point}) = {value}" + (f" from {side}" if side else "")
    own = facts.without(x)
    sides = ("above", "below") if side is None and not isinstance(point, Bound) else (side or "above",)
    asked = (f, x, point, sides, value, own, claim)
    return (
        _by_terms(*asked)
        or _by_classes(f, x, point, value, own, claim)
        or _rewritten(f, x, point, value, own, claim)
        or _by_growth(*asked)
        or _by_derivatives(*asked)
        or agreement_nearby(*asked)
    )


def _rewritten(f: Expression, x: Name, point: Expression, value: Expression, own: Facts, claim: str) -> Certificate | None:
    """Far out, by the logarithm of a product, or with Lambert's function as the variable."""
    if point is not INFINITE or value is UNDEFINED:
        return None
    w = own.new_name("w", f)
    for moved, v, back, method in (
        (without_lambert(f, x, w), w, _itself, "with lambertw as the variable, which grows without bound too"),
        (logarithm_of_product(f, x, own), x, _exponential_of, "the logarithm of the formula"),
        (logarithms_taken_apart(f, x, own), x, _itself, "with the largest power taken out of each logarithm"),
    ):
        end = None if moved is None else proved_limit(moved, v, INFINITE, own)
        if end is not None and _all_are([back(end)], value, own):
            return Certificate(claim, PROVED, method, {"limit there": end})
    return None


def _by_classes(f: Expression, x: Name, point: Expression, value: Expression, own: Facts, claim: str) -> Certificate | None:
    """Through whole numbers, each class of a period by itself: all of them go there, or two of them do not go to the same."""
    if x.domain not in WHOLE or not isinstance(point, Bound):
        return None
    m = own.new_name("m", f, domain="positive")
    with unnoted():  # which polynomial is taken out of a wave needs no trust: the addition theorem holds for any
        parts = classes_of(f if point is INFINITE else substitute(f, {x: -x}), x, m, own)
    ends = [proved_limit(p, m, INFINITE, own) if contains(p, m) else p for p in parts]
    if value is UNDEFINED:
        proved = any(ends_differ(one, ends[0], own) for one in ends[1:])
    else:
        proved = bool(ends) and None not in ends and _all_are(ends, value, own)
    evidence = {"limits": ", ".join(str(end) for end in ends)}
    return Certificate(claim, PROVED, "each class of a period by itself", evidence) if proved else None


def _itself(end: Expression | None) -> Expression | None:
    return end


def _by_terms(
    f: Expression, x: Name, point: Expression, sides: tuple[str, ...], value: Expression, own: Facts, claim: str
) -> Certificate | None:
    """What each term does, two sequences, or an expansion."""
    if not isinstance(value, Bound) and not contains(value, x) and has_call(f, CIRCULAR, x) and decide_zero(f - value, own).zero:
        return Certificate(claim, PROVED, "the formula is this value everywhere")
    seen = [_at_an_end(f, x, point, one, own) for one in sides]
    if None not in seen and _all_are(seen, value, own):
        evidence = {"established": f"what each term does there, {'far out' if isinstance(point, Bound) else ', '.join(sides)}"}
        return Certificate(claim, PROVED, "term by term, or by continuity", evidence)
    if value is UNDEFINED:
        apart = next((t for one in sides if (t := two_sequences(f, x, point, one, own))), "")
        if apart:
            return Certificate(claim, PROVED, "two sequences of places with different limits", {"sequences": apart})
    expanded = [limit_by_expansion(f, x, point, one, own) for one in sides]
    if None not in expanded and _all_are(expanded, value, own):
        evidence = {
            "established": f"the leading term beside the point, {', '.join(sides)}; what is left out is of a higher order"
        }
        return Certificate(claim, PROVED, "an expansion with a bound on the rest", evidence)
    return None


def _by_growth(
    f: Expression, x: Name, point: Expression, sides: tuple[str, ...], value: Expression, own: Facts, claim: str
) -> Certificate | None:
    grown = []
    for one in sides:
        u = x if isinstance(point, Bound) else own.new_name("u", f, point, x)
        if isinstance(point, Bound):
            moved = f if point is INFINITE else substitute(f, {x: -x})
        else:
            moved = substitute(f, {x: point + 1 / u if one == "above" else point - 1 / u})
        grown.append(limit_at_infinity(moved, u, own))
    if None not in grown and _all_are(grown, value, own):
        sides_seen = "far out" if isinstance(point, Bound) else ", ".join(f"from {one}" for one in sides)
        evidence = {"established": f"the leading term {sides_seen}"}
        return Certificate(claim, PROVED, "orders of growth of the parts (Hardy), from each side asked for", evidence)
    return None


def _at_an_end(f: Expression, x: Name, point: Expression, side: str, facts: Facts) -> Expression | None:
    try:
        return value_at(f, x, point, facts, side)
    except (GelvoError, ArithmeticError):
        return None


MOST_DERIVATIVES, LARGEST_DERIVATIVE = 9, 600


def _by_derivatives(
    f: Expression, x: Name, point: Expression, sides: tuple[str, ...], value: Expression, facts: Facts, claim: str
) -> Certificate | None:
    """A quotient by the first derivatives of its parts that do not vanish (de l'Hospital 1696); a power by its logarithm."""
    u = facts.new_name("u", f, point, x, domain="positive")
    ends: list[Expression] = []
    for side in sides:
        sign = -1 if point is MINUS_INFINITE or side == "below" else 1
        try:
            moved = substitute(f, {x: sign / u if isinstance(point, Bound) else point + sign * u})
            found = _at_zero(moved, u, facts)
        except (GelvoError, ArithmeticError):
            return None
        if found is None:
            return None
        ends.append(found)
    if not _all_are(ends, value, facts):
        return None
    evidence = {"established": f"the first derivatives of numerator and denominator that do not vanish, {', '.join(sides)}"}
    return Certificate(claim, PROVED, "a quotient by derivatives at the point (de l'Hospital)", evidence)


def _at_zero(f: Expression, u: Name, facts: Facts) -> Expression | None:
    """The limit as u > 0 falls to zero."""
    if isinstance(f, Power) and contains(f.exponent, u):
        if not (facts.is_positive(f.base) or _positive_beside_zero(f.base, u, facts)):
            return None
        return _exponential_of(_at_zero(f.exponent * LN(f.base), u, facts))
    if is_a(f, EXP):
        return _exponential_of(_at_zero(f.arguments[0], u, facts))
    for form in _forms(f, facts):
        top, bottom = quotient_parts(factored(form))
        upper, lower = (_first_derivative(part, u, facts) for part in (top, bottom))
        if upper is None or lower is None:
            continue
        (m, above), (n, below) = upper, lower
        if not may_suppose_nonzero(below, facts):
            continue
        if m > n:
            return number(0)
        if m == n:
            return above / below
        sign = facts.is_positive(above * below) - facts.is_negative(above * below)
        return INFINITE if sign > 0 else MINUS_INFINITE if sign < 0 else None
    return None


def _forms(f: Expression, facts: Facts) -> Iterator[Expression]:
    yield f
    yield prepared(f, facts, waves=False)
    yield _by_elementary(f)


def _positive_beside_zero(base: Expression, u: Name, facts: Facts) -> bool:
    """Whether a base is positive beside u = 0, since it is so at 0 and continuous there."""
    at = _value_at_zero(base, u, facts)
    return at is not None and facts.is_positive(at)


def _exponential_of(inner: Expression | None) -> Expression | None:
    if isinstance(inner, Bound):
        return INFINITE if inner is INFINITE else number(0) if inner is MINUS_INFINITE else None
    return None if inner is None else EXP(inner)


def _by_elementary(f: Expression) -> Expression:
    """cot, coth and their like as quotients, so that their poles stand in a denominator."""

    def visit(node: Node) -> Node:
        if isinstance(node, Call) and node.name in POLAR and node.function.as_elementary is not None:
            return node.function.as_elementary(*node.arguments)
        return node

    return transform(f, visit)


POLAR = (COT, CSC, COTH, CSCH, TAN, SEC)


def _value_at_zero(e: Expression, u: Name, facts: Facts) -> Expression | None:
    """The value at u = 0, where the formula is continuous there."""
    try:
        return substitute(e, {u: number(0)}) if has_no_break_at(e, u, number(0), facts) else None
    except DomainError:
        return None


def _first_derivative(e: Expression, u: Name, facts: Facts) -> tuple[int, Expression] | None:
    """(order, value) of the first derivative at u = 0 that is not zero; None where that is not told."""
    for order in range(MOST_DERIVATIVES):
        at = _value_at_zero(e, u, facts)
        if at is None:
            return None
        zero = decide_zero(at, facts).zero
        if zero is False or facts.is_nonzero(at):
            return order, at
        if zero is None:
            return None
        e = differentiate(e, u)
        if distinct_nodes(e) > LARGEST_DERIVATIVE:
            return None
    return None


def _all_are(found: Sequence[Expression | None], value: Expression, facts: Facts) -> bool:
    if value is UNDEFINED:
        return len(found) == 2 and found[0] is not None and found[1] is not None and _differ(found[0], found[1], facts)
    return all(v is value or (v is not None and not isinstance(v, Bound) and not isinstance(value, Bound)
               and decide_zero(v - value, facts).zero is True) for v in found)  # fmt: skip


def _differ(a: Expression, b: Expression, facts: Facts) -> bool:
    if isinstance(a, Bound) or isinstance(b, Bound):
        return a is not b
    return may_suppose_nonzero(a - b, facts)
