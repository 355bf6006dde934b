"""Limits, expansions and sums held against values, derivatives and recurrences instead of the way they were found."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Mapping, Sequence

from gmpy2 import const_pi, context, fac, get_context, mpfr, mpq

from gelvo.algebra.continuity import has_no_break_at
from gelvo.algebra.differentiation import differentiate
from gelvo.algebra.equality import decide_zero, inside, relations_in, relevant_relations
from gelvo.algebra.facts import Facts
from gelvo.algebra.fractions import factored, quotient_parts
from gelvo.algebra.normal import prepared
from gelvo.algebra.rewriting.waves import CIRCULAR
from gelvo.algebra.suppositions import may_suppose_nonzero
from gelvo.calculus.growth import limit_at_infinity
from gelvo.checking.certificate import PROVED, REFUTED, SUPPORTED, UNDECIDED, Certificate
from gelvo.checking.ends import value_at
from gelvo.errors import DomainError, GelvoError
from gelvo.evaluation.enclose import Enclosure, enclose
from gelvo.evaluation.sampling import degenerate, of_all_signs, points
from gelvo.expression.building import bound, call, name, number, total
from gelvo.expression.nodes import Bound, Call, Expression, Name, Node, Power
from gelvo.expression.traversal import contains, distinct_nodes, names, postorder, substitute, transform
from gelvo.numbers.box import Box
from gelvo.numbers.exact import nearest_float
from gelvo.numbers.interval import NoValue

INFINITE, MINUS_INFINITE, UNDEFINED = bound("inf"), bound("-inf"), bound("undefined")
# places that no wave or step is made for: 1/h is neither whole nor a fraction that is seen often, and its whole part odd and even
MOST_DEGENERATES = 5
STEPS = tuple(mpq(1) / (n + mpq(5, 17)) for n in (10**6 + 3, 10**9 + 8, 10**13 + 7, 10**18 + 4, 10**24 + 9))
NEAR_STEPS = tuple(mpq(1) / (n + mpq(5, 17)) for n in (8, 19, 37, 72))  # for formulas that vary faster than bounds can follow
PRECISION = 900


def check_limit(f: Expression, x: Name, point: Expression, side: str | None, value: Expression, facts: Facts) -> Certificate:
    """The other road: orders of growth; else bounded values of f closer and closer to the point."""
    claim = f"limit_of({f}, {x}, {point}) = {value}" + (f" from {side}" if side else "")
    own = facts.without(x)
    sides = ("above", "below") if side is None and not isinstance(point, Bound) else (side or "above",)
    seen = [_at_an_end(f, x, point, one, own) for one in sides]
    if None not in seen and _all_are(seen, value, own):
        evidence = {"established": f"what each term does there, {'far out' if isinstance(point, Bound) else ', '.join(sides)}"}
        return Certificate(claim, PROVED, "term by term, or by continuity", evidence)
    grown = []
    for one in sides:
        u = x if isinstance(point, Bound) else _fresh(f, point, x)
        if isinstance(point, Bound):
            moved = f if point is INFINITE else substitute(f, {x: -x})
        else:
            moved = substitute(f, {x: point + 1 / u if one == "above" else point - 1 / u})
        grown.append(limit_at_infinity(moved, u, own))
    if None not in grown and _all_are(grown, value, own):
        sides_seen = "far out" if isinstance(point, Bound) else ", ".join(f"from {one}" for one in sides)
        evidence = {"established": f"the leading term {sides_seen}"}
        return Certificate(claim, PROVED, "orders of growth of the parts (Hardy), from each side asked for", evidence)
    by_slopes = _by_derivatives(f, x, point, sides, value, own, claim)
    if by_slopes is not None:
        return by_slopes
    return _by_values(f, x, point, sides, value, own, claim)


def _at_an_end(f: Expression, x: Name, point: Expression, side: str, facts: Facts) -> Expression | None:
    try:
        return value_at(f, x, point, facts, side)
    except (GelvoError, ArithmeticError):
        return None


def _fresh(f: Expression, point: Expression, x: Name) -> Name:
    from gelvo.expression.traversal import fresh_name

    return fresh_name("u", f, point, x)


MOST_DERIVATIVES, LARGEST_DERIVATIVE = 9, 600


def _by_derivatives(
    f: Expression, x: Name, point: Expression, sides: tuple[str, ...], value: Expression, facts: Facts, claim: str
) -> Certificate | None:
    """A quotient by the first derivatives of its parts that do not vanish (de l'Hospital 1696); a power by its logarithm."""
    u = name(_fresh(f, point, x).name, "positive")
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
        return _exponential_of(_at_zero(f.exponent * call("ln", f.base), u, facts))
    if isinstance(f, Call) and f.name == "exp":
        return _exponential_of(_at_zero(f.arguments[0], u, facts))
    for form in _forms(f, facts):
        top, bottom = quotient_parts(factored(form))
        orders = [_first_derivative(part, u, facts) for part in (top, bottom)]
        if None in orders:
            continue
        (m, above), (n, below) = orders  # type: ignore[misc]
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
    return None if inner is None else call("exp", inner)


def _by_elementary(f: Expression) -> Expression:
    """cot, coth and their like as quotients, so that their poles stand in a denominator."""

    def visit(node: Node) -> Node:
        if isinstance(node, Call) and node.name in POLAR and node.function.as_elementary is not None:
            return node.function.as_elementary(*node.arguments)
        return node

    return transform(f, visit)  # type: ignore[no-any-return]


POLAR = ("cot", "csc", "coth", "csch", "tan", "sec")


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


def _by_values(
    f: Expression, x: Name, point: Expression, sides: tuple[str, ...], value: Expression, facts: Facts, claim: str
) -> Certificate:
    """Distances from the value that shrink (or values that grow) as the point is approached, at a sample of the other names.

    Supports only where every side asked for was seen to agree; one side, or one sample, that does not is enough against it.
    """
    method = "bounded values of the formula closer and closer to the point"
    shown: list[str] = []
    agreed: set[str] = set()
    for sample in samples([f, point, value], x, facts, 4, degenerates=True):
        table = {n: number(v) for n, v in sample.items()}
        if value is UNDEFINED:
            return _does_not_settle(
                substitute(f, table), x, substitute(point, table) if not isinstance(point, Bound) else point, claim
            )
        for side in sides:
            with context(get_context(), precision=PRECISION):
                distances = _distances(f, x, point, side, value, table)
                agrees = _tends(distances, value) if distances else None
                if agrees and any(isinstance(n, Call) and n.name not in QUIET and contains(n, x) for n in postorder(f)):
                    distances = _distances(f, x, point, side, value, table, several=True)
                    agrees = True if distances and _tends(distances, value) and _falls_fast(distances, value) else None
            if not distances:
                continue
            listed = ", ".join(f"{d:.3g}" for d in distances)
            if agrees is False:
                return Certificate(claim, REFUTED, method, {"values": listed})
            if agrees is None:
                return Certificate(claim, UNDECIDED, method, {"values": listed})
            agreed.add(side)
            shown.append(f"{side}: {listed}")
    if agreed == set(sides):
        word = "values" if isinstance(value, Bound) else "distances from the limit, nearer and nearer"
        return Certificate(claim, SUPPORTED, method, {word: "; ".join(shown[:4])})
    return Certificate(claim, UNDECIDED, "neither orders of growth nor values could decide")


def _does_not_settle(f: Expression, x: Name, point: Expression, claim: str) -> Certificate:
    """Values at two scales that keep differing from each other."""
    method = "values closer and closer to the point keep differing"
    u = _fresh(f, point, x)
    far = isinstance(point, Bound)
    sign = -1 if point is MINUS_INFINITE else 1
    step = mpq(1) if x.domain in ("integer", "natural") else mpq(7, 10)
    enclosure = Enclosure(substitute(f, {x: sign * u if far else point + 1 / u}))
    spreads = []
    try:
        for start in (1000, 100_000):
            values = [float(enclosure.at({u: mpq(start) + k * step}, 200).real.low) for k in range(12)]
            spreads.append(max(values) - min(values))
    except (NoValue, GelvoError, OverflowError, ValueError):
        return Certificate(claim, UNDECIDED, method)
    if min(spreads) > 1e-3 and spreads[1] > spreads[0] / 2:
        return Certificate(claim, SUPPORTED, method, {"spread of values at two scales": ", ".join(f"{s:.3g}" for s in spreads)})
    return Certificate(claim, UNDECIDED, method)


def _distances(
    f: Expression, x: Name, point: Expression, side: str, value: Expression, table: Mapping[Name, Expression],
    several: bool = False,
) -> list[mpfr]:  # fmt: skip
    """How far the formula is from a finite limit, step by step; its values where the limit is none; [] where bounds are too wide.

    several: whether the worst of a few places at each step counts, for waves and steps come near to anything somewhere.
    """
    u = _fresh(f, point, x)
    far = isinstance(point, Bound)
    whole = far and x.domain in ("integer", "natural")
    sign = -1 if point is MINUS_INFINITE or side == "below" else 1
    moved = substitute(f, {**table, x: sign / u if far else substitute(point, table) + sign * u})
    enclosure, lines = Enclosure(moved), _lines(moved, u) if several else []
    for steps in (STEPS, NEAR_STEPS):
        found = []
        try:
            at = None if isinstance(value, Bound) else enclose(substitute(value, table), {}, PRECISION)
            for h in steps:
                listed = _beside(1 / h, lines, wide=steps is STEPS) if several else [1 / h]
                boxes = [enclosure.at({u: mpq(1, round(p)) if whole else 1 / p}, PRECISION) for p in listed]
                sizes = [d for box in boxes if (d := _distance(box, at)) is not None]
                if len(sizes) < len(boxes):
                    break
                found.append(min(sizes) if value is INFINITE else max(sizes))
        except (NoValue, GelvoError, OverflowError, ValueError):
            pass
        if len(found) == len(steps):
            # at the near places only what comes nearer by far tells more than chance
            slow = steps is NEAR_STEPS and (
                found[-1] * 100 > found[0] if at is not None else abs(found[-1]) < 100 * abs(found[0])
            )
            return [] if slow else found
    return []


# what has no waves and no steps of its own: far out such functions rise, fall or settle
QUIET = (
    "exp", "ln", "sinh", "cosh", "tanh", "coth", "sech", "csch", "atan", "acot", "asinh", "acosh", "erf", "erfc", "erfi", "lambertw",
    "Ei", "li", "besseli", "besselk", "cbrt", "abs", "sign",
)  # fmt: skip
MOST_WAVES = 2


Line = tuple[mpq, mpq]


def _lines(moved: Expression, u: Name) -> list[Line]:
    """(slope, shift) of the phases of waves that are a line far out, at 1/u."""
    phases = [n.arguments[0] for n in postorder(moved) if isinstance(n, Call) and n.name in CIRCULAR and contains(n, u)]
    return [line for phase in phases[:MOST_WAVES] if (line := _line(phase, u)) is not None]


def _beside(place: mpq, lines: Sequence[Line], wide: bool) -> list[mpq]:
    """Places about one far out: the crests and zeros of waves, or a few within a usual wave; wide: also at several times the distance."""
    quarter = mpq(const_pi(PRECISION)) / 2
    found = [place, *(place + mpq(k, 10) for k in ((16, 33, 47) if not lines else ()))]
    for slope, shift in lines:
        first = -((-(slope * place + shift)) // quarter)
        found += [((first + k) * quarter - shift) / slope for k in range(4)]
    return [*found, 3 * place, 7 * place, 17 * place] if wide else found


def _falls_fast(found: Sequence[mpfr], value: Expression) -> bool:
    """Distances that fall by far between the first and the last step: waves that are slow may fall a little by chance."""
    return isinstance(value, Bound) or 100 * found[-1] < found[0]


def _line(phase: Expression, u: Name) -> Line | None:
    """(slope, shift) of a phase slope/u + shift, by two values; None for what is no such line, or not for a slope that is seen."""
    far = mpq(10) ** 200
    try:
        one, two = (mpq(enclose(phase, {u: 1 / (k * far)}, 2 * PRECISION).real.low) for k in (1, 2))
    except (NoValue, GelvoError, OverflowError, ValueError):
        return None
    slope = (two - one) / far
    return (abs(slope), 2 * one - two if slope > 0 else two - 2 * one) if mpq(1, 10**9) < abs(slope) < 10**9 else None


def _distance(box: Box, end: Box | None) -> mpfr | None:
    """How far a value is from the end, or the value itself; None where its bounds are too wide, or it turns in the complex plane."""
    real, beside = box.real, mpfr(0) if box.imag is None else box.imag.low
    if real.high - real.low > max(mpfr(1), abs(real.low)) / 10**12:
        return None
    if end is None:
        return real.low if abs(beside) <= abs(real.low) / 8 else None
    return abs(real.low - end.real.low) + abs(beside - (mpfr(0) if end.imag is None else end.imag.low))


NOISE = mpfr(2) ** (100 - PRECISION)


def _tends(found: list[mpfr], value: Expression) -> bool | None:
    """True where distances shrink, or values leave every bound; False where they settle elsewhere or move away; None in between."""
    steps = [b - a for a, b in itertools.pairwise(found)]
    settles = all(abs(t) <= abs(s) / 500 for s, t in itertools.pairwise(steps))
    if isinstance(value, Bound):
        grown = found if value is INFINITE else [-v for v in found]
        rises = all(b > a for a, b in itertools.pairwise(grown))
        if rises and grown[-1] > 1 and not settles and 5 * grown[-1] > 6 * grown[0]:
            return True
        return False if settles or (grown[-1] < 0 and all(b < a for a, b in itertools.pairwise(grown))) else None
    last = found[-1]
    if last < NOISE:
        return True
    if last < found[0] / 2 and last <= 2 * min(found) and 20 * last < 17 * found[-2]:
        return True
    if all(b > 2 * a for a, b in itertools.pairwise(found)) and last > 1:
        return False  # it moves away
    return False if settles and last > max(found) / 10**6 else None


def _place(point: Expression, h: mpq, side: str, table: Mapping[Name, Expression]) -> Expression:
    if point is INFINITE:
        return number(1 / h)
    if point is MINUS_INFINITE:
        return number(-1 / h)
    return substitute(point, table) + number(h if side == "above" else -h)  # type: ignore[no-any-return]


def samples(
    roots: list[Expression], x: Name, facts: Facts, wanted: int = 2, *others: Name, degenerates: bool = False
) -> list[dict[Name, mpq]]:
    """Some values of the other names for which the facts hold; degenerates: and a few at which two are equal, or one is zero."""
    involved = [n for n in names(*[r for r in roots if not isinstance(r, Bound)]) if n is not x and n not in others]
    if not involved:
        return [{}]
    relations, involved = relevant_relations(relations_in(facts.given), involved)
    usual = of_all_signs((p for p in points(involved, facts.known, 24) if inside(relations, p)), wanted)
    special = (p for p in degenerate(involved, facts.known) if degenerates and inside(relations, p))
    return [*usual, *itertools.islice(special, MOST_DEGENERATES)]


def check_series(
    f: Expression,
    x: Name,
    u: Name,
    about: Expression,
    side: str | None,
    terms: Mapping[mpq, Expression],
    through: mpq,
    facts: Facts,
) -> Certificate:
    """Each coefficient against the derivative at the point; else the rest of the formula at small steps, on each side that is meant.

    terms: by powers of u > 0, where x = about + u; about - u for the side "below"; 1/u or -1/u far out.
    """
    claim = f"series of {f} about {x} = {about} through power {through}"
    smooth = all(e.denominator == 1 and not contains(c, u) for e, c in terms.items())
    if smooth and side is None and not isinstance(about, Bound) and all(e >= 0 for e in terms) and through <= 12:
        try:
            slope, proved = f, True
            for k in range(int(through) + 1):
                wanted = terms.get(mpq(k), number(0)) * number(fac(k))
                decision = decide_zero(substitute(slope, {x: about}) - wanted, facts)
                if decision.zero is False:
                    return Certificate(claim, REFUTED, "derivatives at the point", {"power": k})
                proved = proved and decision.zero is True
                slope = differentiate(slope, x)
            if proved:
                evidence = {"established": f"the derivatives at the point up to the order {int(through)}"}
                return Certificate(claim, PROVED, "each coefficient is the derivative at the point over k!", evidence)
        except (GelvoError, ArithmeticError):
            pass
    sides = (side or "above",) if side or isinstance(about, Bound) else ("above", "below")
    looked = [
        _rest_shrinks(f, x, u, about, one, terms, through, facts, claim, mirrored=side is None and one == "below")
        for one in sides
    ]
    found = [c for c in looked if c is not None] or [Certificate(claim, UNDECIDED, "there are no values beside the point")]
    return min(found, key=lambda c: (REFUTED, UNDECIDED, SUPPORTED).index(c.verdict))


def _rest_shrinks(
    f: Expression, x: Name, u: Name, about: Expression, side: str, terms: Mapping[mpq, Expression], through: mpq, facts: Facts,
    claim: str, mirrored: bool,
) -> Certificate | None:  # fmt: skip
    """mirrored: whether the terms are those of the other side, so that odd powers change their sign. None: surely no values there."""
    method = "the rest of the formula beside its expansion, over the last power kept, at smaller and smaller steps"
    shown, surely_none = "", True
    bits = max(3000, 500 + 80 * (int(through) + 8))  # the last step to the power that is left out, and what cancels
    for sample in samples([f, about, *terms.values()], x, facts, 4, u):
        table = {n: number(v) for n, v in sample.items()}
        sizes = []
        try:
            for h in (mpq(1, 2**40), mpq(1, 2**60), mpq(1, 2**80)):
                place = _place(about, h, side, table)
                step = number(-h if mirrored else h)
                partial = total([substitute(c, {u: step}) * _power_of(step, e) for e, c in terms.items()])
                box = enclose(substitute(f - partial, {**table, x: place}), {}, bits)
                last = enclose(_power_of(number(h), through), {}, bits)
                size = sum(abs(mpq(part.low)) for part in (box.real, box.imag) if part is not None)
                sizes.append(size / mpq(last.real.low))
        except (NoValue, GelvoError) as fault:
            surely_none = surely_none and isinstance(fault, NoValue) and fault.certain
            continue
        surely_none, shown = False, ", ".join(f"{nearest_float(s):.3g}" for s in sizes)
        if sizes[0] > mpq(1, 2**1500) and not sizes[2] < sizes[0] / 2:
            return Certificate(claim, REFUTED, method, {"sizes": shown})
    if surely_none:
        return None
    return Certificate(claim, SUPPORTED, method, {"sizes": shown}) if shown else Certificate(claim, UNDECIDED, method)


def _power_of(h: Expression, e: mpq) -> Expression:
    from gelvo.expression.building import power

    return power(h, number(e))
