"""Systems in waves or exponentials of their unknowns: polynomial ones in new unknowns, with the relation s^2 + c^2 = 1 for an angle.

An unknown that stands only in angles gives s = sin(u/q) and c = cos(u/q), one that stands only in exponents gives E = exp(u/q) > 0;
sums of unknowns are parted by the addition theorems.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from itertools import product
from math import lcm
from typing import NamedTuple

from gmpy2 import mpq

from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, number, power
from gelvo.expression.constants import PI
from gelvo.expression.nodes import Call, Expression, Name, Node, Power
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.angles import Pair, turned
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import quotient_parts
from gelvo.functions.named import ATAN2, COS, EXP, LN, SIN, is_a
from gelvo.normal.waves_of_one_angle import WAVES, wave_of
from gelvo.solving.polynomial_systems import polynomial_solutions
from gelvo.solving.roots import Root, SystemRoots, Table, Together
from gelvo.solving.single.families import members_in_range

HIGHEST = 6


class New(NamedTuple):
    """What stands for an unknown: its sine and cosine, or its exponential; of the unknown divided by `steps`."""

    steps: int
    symbols: tuple[Name, ...]


def by_new_unknowns(equations: Sequence[Expression], unknowns: Sequence[Name], facts: Facts) -> SystemRoots | None:
    """All real solutions of such a system with numbers for coefficients; None where it is none, or has infinitely many."""
    angles, exponents = _parts_of_system(equations, unknowns)
    new = _new_unknowns(angles, exponents, equations, unknowns, facts)
    if new is None:
        return None
    table: dict[Node, Expression] = {}
    for node, angle in angles.items():
        pair = _addition(angle, new, unknowns)
        if pair is None:
            return None
        assert isinstance(node, Call)
        table[node] = wave_of(node.name, pair)
    for node, exponent in exponents.items():
        parts = _parts(exponent, unknowns)
        if parts is None:
            return None
        table[node] = multiply_all(
            [EXP(parts[1]), *[power(new[u].symbols[0], number(k * new[u].steps)) for u, k in parts[0].items()]]
        )
    circles = [s**2 + c**2 - 1 for n in new.values() if len(n.symbols) == 2 for c, s in [n.symbols]]
    inside = [quotient_parts(substitute(e, table))[0] for e in equations]
    symbols = [s for u in unknowns for s in (new[u].symbols if u in new else (u,))]
    found = polynomial_solutions([*map(expand, inside), *circles], symbols, True)
    if found is None:
        return None
    road = "new unknowns for the waves and exponentials; a Groebner basis, and the roots of the polynomial of a separating form"
    return SystemRoots(tuple(_back(found, unknowns, new, facts, equations)), (), (), road)


def _parts_of_system(
    equations: Sequence[Expression], unknowns: Sequence[Name]
) -> tuple[dict[Node, Expression], dict[Node, Expression]]:
    """The waves with their angles, and the exponentials with their exponents to the base of exp."""
    angles: dict[Node, Expression] = {}
    exponents: dict[Node, Expression] = {}
    for node in postorder(*equations):
        if is_a(node, *WAVES) and any(contains(node, u) for u in unknowns):
            angles[node] = node.arguments[0]
        elif is_a(node, EXP) and any(contains(node, u) for u in unknowns):
            exponents[node] = node.arguments[0]
        elif isinstance(node, Power) and any(contains(node.exponent, u) for u in unknowns):
            exponents[node] = node.exponent * LN(node.base)
    return angles, exponents


def _parts(angle: Expression, unknowns: Sequence[Name]) -> tuple[dict[Name, mpq], Expression] | None:
    """The rational multiples of the unknowns in an angle, and the rest."""
    rest = expand(angle)
    shares: dict[Name, mpq] = {}
    for u in unknowns:
        if contains(rest, u):
            line = uni.linear_parts(rest, u)
            if line is None or not line[0].is_rational:
                return None
            shares[u] = line[0].rational
            rest = line[1]
    return shares, rest


def _new_unknowns(
    angles: Mapping[Node, Expression], exponents: Mapping[Node, Expression], equations: Sequence[Expression],
    unknowns: Sequence[Name], facts: Facts,
) -> dict[Name, New] | None:  # fmt: skip
    """The new unknowns; None where an unknown stands in more than one way, or none stands in a wave or an exponential."""
    found: dict[Name, New] = {}
    hidden = {n: number(0) for n in (*angles, *exponents)}
    plain = [substitute(e, hidden) for e in equations]
    for u in unknowns:
        listed = [[e for e in kind.values() if contains(e, u)] for kind in (angles, exponents)]
        ways = [bool(listed[0]), bool(listed[1]), any(contains(e, u) for e in plain)]
        if sum(ways) != 1:
            return None
        if ways[2]:
            continue
        read = [_parts(e, unknowns) for e in listed[0] or listed[1]]
        if None in read:
            return None
        steps = lcm(*(int(p[0][u].denominator) for p in read if p is not None))
        words = ("c", "s") if listed[0] else ("E",)
        symbols = tuple(facts.new_name(f"{w}_{u.name}", *equations) for w in words)
        found[u] = New(steps, symbols)
    return found or None


def _addition(angle: Expression, new: Mapping[Name, New], unknowns: Sequence[Name]) -> Pair | None:
    """(cosine, sine) of a sum of multiples of the unknowns and a number, by the addition theorems."""
    parts = _parts(angle, unknowns)
    if parts is None:
        return None
    pair: Pair = (COS(parts[1]), SIN(parts[1]))
    for u, share in parts[0].items():
        times = int(share * new[u].steps)
        if abs(times) > HIGHEST:
            return None
        c, s = new[u].symbols
        pair = turned(pair, (c, s), times)
    return pair


def _back(
    found: Sequence[Table], unknowns: Sequence[Name], new: Mapping[Name, New], facts: Facts, equations: Sequence[Expression]
) -> Iterator[Together]:
    """Each solution in the unknowns themselves, angles with whole turns, cut to the ranges that the facts give."""
    integers = facts.new_names("n", *equations, domain="integer")
    turns = {u: next(integers) for u in unknowns if u in new and len(new[u].symbols) == 2}
    for values in found:
        choices: list[list[Root]] = []
        for u in unknowns:
            if u not in new:
                choices.append([Root(values[u])])
                continue
            place = [values[s] for s in new[u].symbols]
            try:
                if len(place) == 2:
                    angle = new[u].steps * (ATAN2(place[1], place[0]) + 2 * PI * turns[u])
                    choices.append(members_in_range(Root(angle, (), (turns[u],)), u, facts))
                else:
                    choices.append([Root(new[u].steps * LN(place[0]))] if facts.is_positive(place[0]) else [])
            except DomainError:
                choices.append([])
        for row in product(*choices):
            families = tuple(n for r in row for n in r.families)
            conditions = tuple(c for r in row for c in r.conditions)
            yield Together({u: r.value for u, r in zip(unknowns, row, strict=True)}, conditions, families)
