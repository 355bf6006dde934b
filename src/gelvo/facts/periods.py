"""What steps again and again along a line (floors, signs of waves), told within one period by steps at its places.

With t = n*L + u for the period L, a whole n and 0 < u < L, floor(t/L) is n and abs(sin(pi*t/L)) is sin(pi*u/L).
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from gmpy2 import gcd, lcm, mpq

from gelvo.expression.building import call, number, relation, total
from gelvo.expression.constants import ONE, PI, ZERO
from gelvo.expression.nodes import Applied, Call, Cases, Expression, Name, Node, Number, Power
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, postorder, substitute, transform
from gelvo.facts.steps import as_steps
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.univariate import linear_parts, lowest_terms
from gelvo.functions.named import ABS, CEIL, COS, COT, CSC, FLOOR, HEAVISIDE, MAX, MIN, SEC, SIGN, SIN, TAN, is_a

MOST_PLACES = 64  # in one period
TURNING = (SIN, COS, TAN, COT, SEC, CSC)
STEPPING = (FLOOR, CEIL, ABS, SIGN, HEAVISIDE, MAX, MIN)
Line = tuple[Expression, Expression]


def period_of_steps(e: Expression, t: Name, facts: Facts, *beside: Expression) -> Expression | None:
    """The common period of all floors and signs of waves in formulas; None where there are none, or others, or no common one.

    >>> from gelvo.expression.building import name
    >>> t = name("t")
    >>> print(period_of_steps(FLOOR(t/3) + FLOOR(t/2), t, Facts()))
    6
    """
    lengths: list[Expression] = []
    for node in dict.fromkeys(n for f in (e, *beside) for n in _rough(f, t)):
        length = _length(node, t, facts)
        if length is None:
            return None
        lengths.append(length)
    return common_multiple(lengths)


def common_multiple(lengths: Sequence[Expression]) -> Expression | None:
    """The least length of which all are parts, with the sign of the first; None where there are none, or one is no share of another."""
    shares = [lowest_terms(length / lengths[0]) for length in lengths]
    if not shares or not all(s.is_rational for s in shares):
        return None
    common = mpq(lcm(*(abs(s.rational.numerator) for s in shares)), gcd(*(s.rational.denominator for s in shares)))
    return lowest_terms(lengths[0] * number(common))


def _rough(e: Expression, t: Name) -> Iterator[Call]:
    """Floors, and the other calls that step and have no floors inside: those with floors are told once these are."""
    for node in postorder(e):
        if isinstance(node, Call) and is_a(node, *STEPPING) and contains(node, t):
            inside = list(postorder(node))[:-1]
            if not any(isinstance(n, Applied) or is_a(n, FLOOR, CEIL) for n in inside):
                yield node


def _length(node: Call, t: Name, facts: Facts) -> Expression | None:
    """After which length a node is the same again, apart from what is added to a floor."""
    if is_a(node, FLOOR, CEIL):
        line = _line(node.arguments[0], t, facts)
        return None if line is None else _positive(1 / line[0], facts)
    wave = _wave(_gap(node), t)
    line = None if wave is None else _line(wave.arguments[0], t, facts)
    if line is None:
        return None
    return _positive((PI if is_a(node, ABS) else 2 * PI) / line[0], facts)


def _positive(length: Expression, facts: Facts) -> Expression:
    return lowest_terms(length if facts.is_positive(length) else -length)


def _line(e: Expression, t: Name, facts: Facts) -> Line | None:
    """(a, b) of a*t + b, where the sign of a is known."""
    parts = linear_parts(expand(e), t)
    known = parts is not None and (facts.is_positive(parts[0]) or facts.is_negative(parts[0]))
    return parts if known else None


def _gap(node: Call) -> Expression:
    """What changes its sign where a node has a kink or a step."""
    arguments = [a for a in node.children if isinstance(a, Expression)]
    return expand(arguments[0] - arguments[1]) if is_a(node, MAX, MIN) and len(arguments) == 2 else arguments[0]


def _wave(gap: Expression, t: Name) -> Call | None:
    """The sine or cosine of which a formula is a multiple."""
    waves = [f for f in factors_in(gap) if contains(f, t)]
    found = waves[0] if len(waves) == 1 else None
    return found if isinstance(found, Call) and is_a(found, SIN, COS) else None


def without_whole_turns(e: Expression, n: Name) -> Expression:
    """Even powers of -1 and whole turns of waves taken away, for a whole n: (-1)^(2*n + 1) is -1, sin(2*pi*n + b) is sin(b).

    >>> from gelvo.expression.building import name
    >>> n = name("n")
    >>> print(without_whole_turns(COS(2*PI*n + 1) + (-number(1))**(4*n), n))
    1 + cos(1)
    """

    def visit(node: Node) -> Node:
        if isinstance(node, Power) and isinstance(node.base, Number) and node.base.value == -1:
            parts = linear_parts(expand(node.exponent), n)
            return node if parts is None or not (parts[0] / 2).is_whole else node.base ** parts[1]
        if is_a(node, *TURNING):
            parts = linear_parts(expand(node.arguments[0]), n)
            return node if parts is None or not expand(parts[0] / (2 * PI)).is_whole else call(node.name, parts[1])
        return node

    return transform(e, visit)


class OnePeriod(NamedTuple):
    """The formula at n*length + u, for a whole n and 0 < u < length."""

    length: Expression
    inside: Expression
    u: Name
    n: Name


def in_one_period(e: Expression, t: Name, facts: Facts) -> OnePeriod | None:
    """What steps again and again, told within the common period of its steps; None where there is none, or it is not told."""
    length = period_of_steps(e, t, facts)
    if length is None:
        return None
    u, n = facts.new_name("u", e, t, domain="positive"), facts.new_name("n", e, t)
    inside = within_period(e, t, length, u, n, facts)
    return None if inside is None else OnePeriod(length, inside, u, n)


def within_period(e: Expression, t: Name, length: Expression, u: Name, n: Name, facts: Facts) -> Expression | None:
    """The formula at t = n*length + u, for a whole n and 0 < u < length, with steps at places of u; None where it is not told."""
    inside = facts.with_facts([relation("<", ZERO, u), relation("<", u, length)])
    table: dict[Node, Expression] = {}
    for node in _rough(e, t):
        told = _floor(node, t, length, u, n, inside) if is_a(node, FLOOR, CEIL) else _of_wave(node, t, length, u, inside)
        if told is None:
            return None
        table[node] = told
    moved = substitute(substitute(e, table), {t: n * length + u})
    moved = as_steps(substitute(moved, {c: _expanded(c) for c in postorder(moved) if isinstance(c, Cases)}), u, inside)
    if any(isinstance(c, Cases) and contains(c, u) for c in postorder(moved)):
        return None
    return substitute(moved, {s: value for s in postorder(moved) if (value := _decided(s, inside)) is not None})


def _decided(node: Node, facts: Facts) -> Expression | None:
    """The value of a step that lies at an end of the period or beyond."""
    if not is_a(node, HEAVISIDE):
        return None
    gap = node.arguments[0]
    return ONE if facts.is_nonnegative(gap) else ZERO if facts.is_nonpositive(gap) else None


def _expanded(node: Cases) -> Expression:
    """The same sections, both sides of the conditions as sums: n*L + u - L*n is u."""
    table = {
        c: expand(c) for c in postorder(node) if isinstance(c, Expression) and c is not node and not isinstance(c, (Name, Number))
    }
    return substitute(node, table)


def _floor(node: Call, t: Name, length: Expression, u: Name, n: Name, facts: Facts) -> Expression | None:
    """floor(a*t + b): a*length more with every period, one more (or less) at the places inside."""
    line = _line(node.arguments[0], t, facts)
    steps = None if line is None else lowest_terms(line[0] * length)
    if line is None or steps is None or not steps.is_whole or not line[1].is_rational:
        return None
    a, b = line
    upwards = facts.is_positive(a)
    low, high = sorted((b.rational, b.rational + steps.rational))
    first = int(low // 1) + 1
    crossed = [j for j in range(first, int(-(-high // 1))) if low < j < high]
    if len(crossed) > MOST_PLACES:
        return None
    start = (b.rational // 1 if upwards else -((-b.rational) // 1) - 1) if is_a(node, FLOOR) else 0
    if is_a(node, CEIL):
        start = b.rational // 1 + 1 if upwards else -((-b.rational) // 1)
    jumps = [HEAVISIDE(u - lowest_terms((number(j) - b) / a)) for j in crossed]
    return number(start) + steps * n + (1 if upwards else -1) * total(jumps)


def _of_wave(node: Call, t: Name, length: Expression, u: Name, facts: Facts) -> Expression | None:
    """The sign, absolute value, maximum … of a wave, between its zeros."""
    gap = _gap(node)
    wave = _wave(gap, t)
    line = None if wave is None else _line(wave.arguments[0], t, facts)
    turns = None if line is None else lowest_terms(line[0] * length / PI)
    if wave is None or line is None or turns is None or not turns.is_whole or (turns.rational % 2 and not is_a(node, ABS)):
        return None
    zeros = _zeros(wave, line, length, facts)
    if zeros is None:
        return None
    here = substitute(gap, {t: u})
    first = substitute(here, {u: lowest_terms((zeros[0] if zeros else length) / 2)})
    sign = 1 if facts.is_positive(first) else -1 if facts.is_negative(first) else 0
    if not sign:
        return None
    jumps = total([(2 if k % 2 else -2) * sign * HEAVISIDE(u - z) for k, z in enumerate(zeros)])
    return _by_sign(node, number(sign) + jumps, here, t, u)


def _by_sign(node: Call, sign: Expression, here: Expression, t: Name, u: Name) -> Expression:
    """A node from the sign of what changes it."""
    if is_a(node, ABS):
        return sign * here
    if is_a(node, SIGN):
        return sign
    if is_a(node, HEAVISIDE):
        return (ONE + sign) / 2
    one, other = (substitute(a, {t: u}) for a in node.children if isinstance(a, Expression))
    return (one + other + (1 if is_a(node, MAX) else -1) * sign * here) / 2


def _zeros(wave: Call, line: Line, length: Expression, facts: Facts) -> list[Expression] | None:
    """The zeros of a wave inside one period, in their order."""
    a, b = line
    shift = number(mpq(1, 2)) if is_a(wave, COS) else ZERO
    first = lowest_terms(b / PI - shift)  # the number of the zero that would lie at 0
    turns = lowest_terms(a * length / PI)
    if not first.is_rational or abs(turns.rational) > MOST_PLACES:
        return None
    low, high = sorted((first.rational, first.rational + turns.rational))
    inside = [k for k in range(int(low // 1), int(high // 1) + 2) if low < k < high]
    places = [lowest_terms(((number(k) + shift) * PI - b) / a) for k in inside]
    return places if facts.is_positive(a) else places[::-1]
