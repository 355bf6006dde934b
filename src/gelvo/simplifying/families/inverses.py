"""Inverse functions of long arguments as multiples of inverse functions of a name, told by their derivative."""

from __future__ import annotations

from collections.abc import Iterator

from gmpy2 import mpq

from gelvo.deciding.equality import inside, numeric_ranges, prove_zero, relevant_relations
from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import Enclosure
from gelvo.evaluation.sampling import points
from gelvo.expression.building import call, number, power
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Call, Expression, Name, Written
from gelvo.expression.traversal import distinct_nodes, free_names, names, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.functions.named import ACOS, ACOSH, ACOT, ACOTH, ACSC, ASEC, ASIN, ASINH, ATAN, ATAN2, ATANH, LN
from gelvo.numbers.exact import HALF
from gelvo.numbers.interval import NoValue
from gelvo.simplifying.families.numbers import guesses, nearby
from gelvo.simplifying.family import Shorter

INVERSES = (ASIN, ACOS, ATAN, ACOT, ASINH, ACOSH, ATANH, ACOTH, LN, ATAN2, ASEC, ACSC)
BITS = 200
LARGEST_NODES = 80


def inverse_forms(expression: Expression, facts: Facts, shorter: Shorter) -> Iterator[tuple[str, Expression]]:
    """atan(x) + atan(1/x) -> pi/2 for x > 0, asin(2*x*sqrt(1 - x^2)) -> 2*asin(x) for small x and their like."""
    calls = [n for n in postorder(expression) if isinstance(n, Call) and n.name in INVERSES and names(n)]
    if not calls or distinct_nodes(expression) > LARGEST_NODES:
        return
    for variable in free_names(expression):
        change = differentiate(expression, variable)
        if any(isinstance(n, Written) for n in postorder(change)):
            return
        samples = _samples(expression, change, variable, facts)
        if len(samples) < 3:
            continue
        for shape, slope in (("", number(1)), *_shapes(variable)):
            ratio = mpq(0) if not shape else _constant_ratio(change, slope, samples)
            if ratio is None or (not shape and not _vanishes(change, samples)):
                continue
            inside = variable if shape == "itself" else call(shape, variable) if shape else ZERO
            part = number(ratio) * inside
            rest = _constant(expression - part, samples, facts)
            if rest is not None and prove_zero(expression - part - rest, facts):
                yield "inverse functions told by their derivative", part + rest
                return


def _shapes(x: Name) -> Iterator[tuple[str, Expression]]:
    yield "itself", number(1)
    yield ATAN, 1 / (1 + x**2)
    yield ASIN, power(1 - x**2, number(-HALF))
    yield ATANH, 1 / (1 - x**2)
    yield ASINH, power(1 + x**2, number(-HALF))
    yield LN, 1 / x


Sample = dict[Name, mpq]


def _samples(expression: Expression, change: Expression, variable: Name, facts: Facts) -> list[Sample]:
    """Points inside the facts at which formula and derivative have real values."""
    if any(isinstance(n, Written) for n in postorder(expression)):  # each point would take a quadrature
        return []
    relations, variables = relevant_relations(facts.given, free_names(expression))
    ranges = numeric_ranges(relations)
    found: list[Sample] = []
    both = (Enclosure(expression), Enclosure(change))
    for point in points(variables, facts.known, 24, seed=11, ranges=ranges):
        if not inside(relations, point) or any(not isinstance(v, type(mpq(0))) for v in point.values()):
            continue
        try:
            if all(e.at(point, BITS).imag is None for e in both):
                found.append(point)
        except (NoValue, GelvoError):
            continue
        if len(found) == 5:
            break
    return found


def _number_at(e: Expression, sample: Sample) -> mpq | None:
    try:
        box = Enclosure(e).at(sample, BITS)
    except (NoValue, GelvoError):
        return None
    return mpq(box.real.low) if box.imag is None and box.finite else None


def _vanishes(change: Expression, samples: list[Sample]) -> bool:
    values = [_number_at(change, s) for s in samples]
    return all(v is not None and abs(v) * 2 ** (BITS // 2) < 1 for v in values)


def _constant_ratio(change: Expression, slope: Expression, samples: list[Sample]) -> mpq | None:
    ratio: mpq | None = None
    for s in samples:
        value = _number_at(change / slope, s)
        small = None if value is None else nearby(value, 100)
        if small is None or not small or (ratio is not None and small != ratio):
            return None
        ratio = small
    return ratio


def _constant(rest: Expression, samples: list[Sample], facts: Facts) -> Expression | None:
    """The value of a formula that does not change, as a simple number."""
    found = [_number_at(rest, s) for s in samples]
    values = [v for v in found if v is not None]
    if len(values) < len(found) or any(abs(v - values[0]) * 2 ** (BITS // 2) > 1 for v in values):
        return None
    first = values[0]
    assert first is not None
    if abs(first) * 2 ** (BITS // 2) < 1:
        return ZERO
    guess = next(guesses(first), None)
    if guess is not None:
        return guess
    at = substitute(rest, {n: number(v) for n, v in samples[0].items()})
    return at if distinct_nodes(at) < 20 else None
