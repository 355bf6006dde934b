"""How good generated numbers are: right values at sample points, the condition of the formula there, errors in ULP."""

from __future__ import annotations

import math
from collections.abc import Sequence
from random import Random

from gmpy2 import mpq

from gelvo.algebra.equality import inside, relations_in
from gelvo.algebra.facts import Facts
from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import Enclosure
from gelvo.evaluation.sampling import fitted
from gelvo.expression.nodes import Call, Cases, Condition, Expression, Name, Node, Number, Power, Product, Sum
from gelvo.expression.traversal import names, postorder
from gelvo.numbers.box import Box
from gelvo.numbers.interval import NoValue

POINTS, BAR_ULP = 60, 4.0
EDGES = (0.0, 1.0, -1.0, 0.5, 1e-8, -1e-8, 1e8, 1e-300, 2.0, 100.0)


def sample_points(outputs: Sequence[Expression], inputs: Sequence[Name], facts: Facts, count: int = POINTS) -> list[list[float]]:
    """Points where every output has a real value: edges of the domain first, then spread ones; the same on every run."""
    random = Random(20)
    kept: list[list[float]] = []
    enclosures = [Enclosure(e) for e in outputs]
    relations = [r for r in relations_in(facts.given) if names(r) and set(names(r)) <= set(inputs)]
    for attempt in range(12 * count):
        point = []
        for place, name in enumerate(inputs):
            if attempt < len(EDGES):
                value = EDGES[(attempt + place) % len(EDGES)] if attempt % 2 else EDGES[attempt]
            else:
                value = random.choice((1, -1)) * random.uniform(0.1, 10) * 10.0 ** random.choice((-3, -1, 0, 0, 0, 1, 2))
            point.append(float(fitted(mpq(value), facts.known(name))))
        if (
            inside(relations, dict(zip(inputs, map(mpq, point), strict=True)))
            and _real_there(enclosures, inputs, point)
            and point not in kept
        ):
            kept.append(point)
        if len(kept) == count:
            break
    return kept


def _real_there(enclosures: Sequence[Enclosure], inputs: Sequence[Name], point: Sequence[float]) -> bool:
    for enclosure in enclosures:
        value = right_value(enclosure, inputs, point)
        if value is None or (not 1e-290 < abs(value) < 1e290 and value != 0):
            return False
    return True


def right_value(enclosure: Enclosure, inputs: Sequence[Name], point: Sequence[float]) -> float | None:
    """The correctly rounded double, or None where there is no real value."""
    table = {n: mpq(v) for n, v in zip(inputs, point, strict=True)}
    for precision in (120, 400, 2000):
        try:
            parts = enclosure.all_values(table, precision)
        except GelvoError:
            return None
        box = parts[enclosure.root]
        if isinstance(box, NoValue):
            if box.certain:
                return None
            continue
        assert isinstance(box, Box)
        if any(isinstance(p, Box) and p.imag is not None for p in parts.values()):
            return None  # real in the end, but not on the way: doubles cannot follow
        if any(isinstance(p, Box) and not (1e-300 < abs(p.real.high) < 1e300 or p.real.high == 0) for p in parts.values()):
            return None  # too large or too small on the way
        if float(box.real.low) == float(box.real.high):
            return float(box.real.low)
        if box.real.contains_zero() and precision == 2000:
            return 0.0
    return None


def condition(root: Expression, inputs: Sequence[Name], point: Sequence[float]) -> float:
    """How much rounding each operation of the formula once can move the result, in units of the result's own rounding."""
    table = {n: mpq(v) for n, v in zip(inputs, point, strict=True)}
    value: dict[Node, float] = {}
    error: dict[Node, float] = {}
    try:
        parts = Enclosure(root).all_values(table, 80)
    except GelvoError:
        return 0.0
    for node in postorder(root):
        if isinstance(node, Condition):
            continue
        box = parts[node]
        value[node] = float(box.real.low) if isinstance(box, Box) else math.nan
        error[node] = _error(node, value, error)
    size = abs(value[root])
    return error[root] / size if size and math.isfinite(error[root]) else 0.0


def _error(node: Node, value: dict[Node, float], error: dict[Node, float]) -> float:
    size = abs(value[node])
    if isinstance(node, Number):
        return 0.0 if float(node.rational) == node.rational else size
    if not node.children:
        return size
    if isinstance(node, Sum):
        return size + sum(abs(float(c)) * (error[t] + abs(value[t])) for t, c in node.items())  # type: ignore[arg-type]
    if isinstance(node, Product):
        return size * (len(node.factors) + sum(_relative(f, value, error) for f in node.factors))
    if isinstance(node, Power):
        base, exponent = node.base, node.exponent
        q = abs(value[exponent])
        grown = abs(math.log(abs(value[base]))) * error[exponent] if value[base] not in (0.0,) and error[exponent] else 0.0
        return size * (2 + q * _relative(base, value, error) + grown)
    if isinstance(node, Call):
        return _call_error(node, size, value, error)
    if isinstance(node, Cases):
        return size + max((error[v] for v in node.values if v in error and value[v] == value[node]), default=0.0)
    return size


def _relative(node: Node, value: dict[Node, float], error: dict[Node, float]) -> float:
    return error[node] / abs(value[node]) if value[node] else 0.0


def _call_error(node: Call, size: float, value: dict[Node, float], error: dict[Node, float]) -> float:
    total = 2 * size
    for argument in node.arguments:
        x, moved = value[argument], error[argument]
        if not moved:
            continue
        step = max(abs(x), 1e-300) * 1e-7
        changed = _near(node, argument, x + step, value)
        slope = abs(changed - value[node]) / step if changed is not None else 0.0
        total += slope * moved
    return total


def _near(node: Call, argument: Expression, place: float, value: dict[Node, float]) -> float | None:
    from gelvo.expression.building import call, name

    if not math.isfinite(place):
        return None
    variable = name("argument_moved")
    others = [variable if a is argument else None for a in node.arguments]
    try:
        arguments = [o if o is not None else _number(value[a]) for o, a in zip(others, node.arguments, strict=True)]
        return float(Enclosure(call(node.name, *arguments)).at({variable: mpq(place)}, 100).real.low)
    except (GelvoError, NoValue, ValueError):
        return None


def _number(value: float) -> Expression:
    from gelvo.expression.building import number

    return number(mpq(value))


def ulps(found: float, right: float) -> float:
    """The distance in units in the last place of the right value."""
    if found == right or (math.isnan(found) and math.isnan(right)):
        return 0.0
    if not math.isfinite(found) or not math.isfinite(right):
        return math.inf
    return abs(found - right) / math.ulp(right)
