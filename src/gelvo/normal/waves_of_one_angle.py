"""Formulas that are rational in the waves of one angle, and the part of a rational function that is even in a name."""

from __future__ import annotations

from collections.abc import Callable
from math import lcm
from typing import NamedTuple

from gmpy2 import gcd as integer_gcd
from gmpy2 import mpq

from gelvo.expression.building import number
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Call, Expression, Name, Node, Number, Power
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.angles import Pair, turned
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import COS, COT, CSC, SEC, SIN, TAN

MOST_MULTIPLE = 12


WAVES = (SIN, COS, TAN, COT, SEC, CSC)


def _whole(k: Expression) -> bool:
    return isinstance(k, Number) and k.is_whole


class OneAngle(NamedTuple):
    """A rational function of s = sin(angle) and c = cos(angle), with the rate at which the angle grows."""

    function: Expression
    s: Name
    c: Name
    angle: Expression
    rate: Expression


def _common_angle(angles: list[Expression], x: Name) -> tuple[Expression, Expression, list[int]] | None:
    """The largest angle, linear in x, of which the rates of all are whole multiples; its rate; the multiples."""
    read = [uni.linear_parts(angle, x) for angle in angles]
    rates = [parts[0] for parts in read if parts is not None]
    if len(rates) < len(angles) or read[0] is None:
        return None
    ratios = [uni.lowest_terms(r / rates[0]) for r in rates]
    if not all(isinstance(m, Number) and m.is_rational for m in ratios):
        return None
    common = lcm(*[int(m.rational.denominator) for m in ratios])
    counts = [int(m.rational * common) for m in ratios]
    step = int(integer_gcd(*counts)) if len(counts) > 1 else abs(counts[0])
    rate = rates[0] * number(mpq(step, common))
    return rate * x + read[0][1] / number(counts[0] // step), rate, [count // step for count in counts]


def one_angle(f: Expression, x: Name, facts: Facts) -> OneAngle | None:
    """A formula in sines and cosines of whole multiples of one angle, linear in x; None for anything else."""
    waves = [n for n in postorder(f) if isinstance(n, Call) and n.name in WAVES and contains(n, x)]
    if not waves:
        return None
    common = _common_angle([node.arguments[0] for node in waves], x)
    if common is None:
        return None
    angle, rate, multiples = common
    s, c = (facts.new_name(word, f) for word in ("s", "c"))
    table: dict[Node, Expression] = {}
    for node, k in zip(waves, multiples, strict=True):
        if abs(k) > MOST_MULTIPLE or uni.lowest_terms(node.arguments[0] - k * angle) is not ZERO:
            return None
        table[node] = wave_of(node.name, turned((ONE, ZERO), (c, s), k))
    g = substitute(f, table)
    if contains(g, x) or any(isinstance(n, Call) and (contains(n, s) or contains(n, c)) for n in postorder(g)):
        return None
    if any(isinstance(n, Power) and (contains(n, s) or contains(n, c)) and not _whole(n.exponent) for n in postorder(g)):
        return None
    return OneAngle(factored(g), s, c, angle, rate)


def wave_of(wave: str, pair: Pair) -> Expression:
    """A sine, a cosine, or a quotient of them, of the angle whose (cosine, sine) are given."""
    cosine, sine = pair
    made: dict[str, Callable[[], Expression]] = {
        SIN: lambda: sine, COS: lambda: cosine, TAN: lambda: sine / cosine, COT: lambda: cosine / sine,
        SEC: lambda: 1 / cosine, CSC: lambda: 1 / sine,
    }  # fmt: skip
    return made[wave]()


def even_part(g: Expression, moving: Name, square: Expression) -> Expression | None:
    """A rational function that is even in a name, with `square` put for the square of that name."""
    parts = []
    for part in quotient_parts(factored(g)):
        coefficients = uni.coefficients_of(part, moving)
        if coefficients is None:
            return None
        parts.append(coefficients)
    parities = [{k % 2 for k, v in enumerate(p) if v is not ZERO} for p in parts]
    if any(len(p) != 1 for p in parities) or parities[0] != parities[1]:
        return None
    shift = parities[0].pop()
    top, bottom = (uni.expression_of(p[shift::2], square) for p in parts)
    return top / bottom
