"""Sums of sines and cosines by half angles and by sums of angles; angles that are multiples of pi."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import permutations

from gelvo.code.digits.differences import with_number
from gelvo.code.digits.numeric import grouped
from gelvo.code.digits.rules.sums import MOST_TERMS, splits
from gelvo.expression.building import multiply_all, number, scale, total
from gelvo.expression.constants import HALF as ONE_HALF
from gelvo.expression.constants import ONE, PI, TWO
from gelvo.expression.nodes import Call, Expression, Node, Power, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import free_names, substitute_plain
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import FunctionName

sin, cos, tan, sinh, cosh, tanh, floor = map(FunctionName, ("sin", "cos", "tan", "sinh", "cosh", "tanh", "floor"))


def tangents(e: Expression, facts: Facts) -> Iterator[Expression]:
    """A sum with tan(u) or tanh(u) in it as one fraction of sines and cosines, whose parts meet term by term."""
    if not isinstance(e, Sum) or len(e.terms) > MOST_TERMS:
        return
    found = dict.fromkeys(b for t in e.terms for f in factors_in(t) if isinstance(b := base_and_exponent(f)[0], Call))
    parts: dict[Node, Expression] = {}
    for f in found:
        if f.name in ("tan", "tanh"):
            above, below = (sin, cos) if f.name == "tan" else (sinh, cosh)
            parts[f] = above(f.arguments[0]) / below(f.arguments[0])
    if parts:
        yield factored(substitute_plain(e, parts))


def turns(e: Expression, facts: Facts) -> Iterator[Expression]:
    """sin and cos of pi*x after the whole turns are taken off x, which is exact."""
    if not (isinstance(e, Call) and e.name in ("sin", "cos", "tan")):
        return
    u = e.arguments[0]
    if isinstance(u, Product) and PI in u.factors:
        x = multiply_all([number(u.coefficient), *[f for f in u.factors if f is not PI]])
        if free_names(x):
            near = floor(x + ONE_HALF)
            rest = grouped(x - near)
            if e.name == "tan":
                yield tan(PI * rest)
            else:
                sign = 1 - 2 * grouped(near - 2 * floor(near / 2))
                if e.name == "sin":
                    yield sign * sin(PI * rest)
                else:
                    yield sign * cos(PI * rest)
                    half = floor(x)
                    yield (1 - 2 * grouped(half - 2 * floor(half / 2))) * sin(PI * grouped(ONE_HALF - grouped(x - half)))


def angles_between(e: Expression, facts: Facts) -> Iterator[Expression]:
    """A*sin(a)*sin(b) + B*cos(a)*cos(b) = A*cos(a - b) + (B - A)*cos(a)*cos(b), and the like for sin(a)*cos(b) with cos(a)*sin(b)."""
    if not isinstance(e, Sum):
        return
    terms = [scale(t, c) for t, c in e.items()]
    for i, j in permutations(range(len(terms)), 2):
        waves = [f for f in factors_in(terms[i]) if isinstance(f, Call) and f.name in ("sin", "cos")]
        if len(waves) != 2 or waves[0].name == "cos":  # of two of a kind the sines are taken, of sin(a)*cos(b) each in turn
            waves = waves[::-1]
        if len(waves) != 2 or waves[0].name != "sin":
            continue
        others = [cos(waves[0].arguments[0]), (cos if waves[1].name == "sin" else sin)(waves[1].arguments[0])]
        if not all(f in factors_in(terms[j]) for f in others):
            continue
        first, second = terms[i] / multiply_all(waves), terms[j] / multiply_all(others)
        rest = [*(t for k, t in enumerate(terms) if k not in (i, j)), number(e.constant)]
        angle, other = waves[0].arguments[0], waves[1].arguments[0]
        if waves[1].name == "sin":
            ways = ((cos(angle - other), first, second - first), (cos(angle + other), -first, second + first))
        else:
            ways = ((sin(angle - other), first, second + first), (sin(angle + other), first, second - first))
        for turn, front, left in ways:
            yield total([front * turn, multiply_all(others) * grouped(left), *rest])


def half_angles(e: Expression, facts: Facts) -> Iterator[Expression]:
    """R + A*cos(u) = (R + A) - 2*A*sin(u/2)^2 where R + A is a product, as a square is; R - A likewise, and the same for cosh."""
    if not isinstance(e, Sum) or len(e.terms) > MOST_TERMS:
        return
    for t, c in e.items():
        for front, wave in splits(t):
            if not (isinstance(wave, Call) and wave.name in ("cos", "cosh")):
                continue
            A = scale(front, c)
            for k in (ONE, -ONE):
                whole = factored(expand(e - scale(t, c) - k * A))
                if not isinstance(whole, Sum):
                    yield from (total([whole, A * square]) for square in with_number(wave, k))


def double_angles(e: Expression, facts: Facts) -> Iterator[Expression]:
    """cos(u)^2 - sin(u)^2 = cos(2*u)."""
    if isinstance(e, Sum):
        table = dict(e.items())
        for t, c in e.items():
            if isinstance(t, Power) and t.exponent == TWO and isinstance(t.base, Call) and t.base.name == "cos":
                u = t.base.arguments[0]
                other = sin(u) ** 2
                if table.get(other) == -c:
                    yield total(
                        [
                            scale(cos(2 * u), c),
                            *[scale(s, k) for s, k in e.items() if s is not t and s is not other],
                            number(e.constant),
                        ]
                    )
