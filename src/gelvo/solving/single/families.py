"""Families of solutions with a free integer: cut to a range, listed where there are few, and several made one."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from math import lcm

from gmpy2 import mpq

from gelvo.errors import DomainError
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.building import number, relation, split_coefficient, weighted_terms
from gelvo.expression.constants import ONE, PI
from gelvo.expression.nodes import Bound, Condition, Expression, Name, Node, Relation, Sum
from gelvo.expression.traversal import names, postorder, relations_of, substitute
from gelvo.facts.statements import DomainFact
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.functions.named import ACOS, ASIN, ATAN, ATAN2, is_a
from gelvo.numbers.box import Box
from gelvo.numbers.exact import Gaussian
from gelvo.numbers.interval import Interval, NoValue, arithmetic
from gelvo.simplifying.search import simplify
from gelvo.solving.far_signs import sign_beyond, with_slopes
from gelvo.solving.putting_back import about
from gelvo.solving.roots import Root, window

MOST_MEMBERS = 200
FARTHEST = 1 << 12  # how far it is looked for the integer beyond which no member of a family meets its conditions
MOST_PARTS = 64
FEW = 5  # conditions that are held against each other


def members_in_range(root: Root, x: Name, facts: Facts) -> list[Root]:
    """A family cut to a range of numbers that the facts give to the unknown, or that its conditions leave; else the root itself."""
    if len(root.families) != 1:
        return _few_of_several(root, x, facts)
    n = root.families[0]
    low, high = window(x, facts)
    parts = uni.linear_parts(root.value, n)
    if parts is None or names(parts[0]) or isinstance(low, Bound) or isinstance(high, Bound) or names(low, high):
        return _few_members(root, n, x, facts)
    offset = _range_of(parts[1], facts)
    if offset is None:
        return _few_members(root, n, x, facts)
    ends = sorted(float(end - number(o)) / float(parts[0]) for end in (low, high) for o in offset)
    if ends[-1] - ends[0] > MOST_MEMBERS:
        return [root]
    return list(_members(root, n, range(int(ends[0]) - 2, int(ends[-1]) + 3), x, facts, (low, high)))


def _range_of(offset: Expression, facts: Facts) -> tuple[mpq, mpq] | None:
    """Numbers between which a formula lies: itself, or with letters in inverse functions by the ranges of these."""
    table: dict[Node, Name] = {}
    point: dict[Name, Box] = {}
    a = arithmetic(60)
    quarter = a.divide(a.pi(), a.integer(2))
    whole = Interval(a.negate(quarter).low, quarter.high)
    for node in postorder(offset):
        if is_a(node, ASIN, ATAN, ACOS, ATAN2) and names(node):
            box = Interval(a.zero.low, quarter.high) if facts.is_nonnegative(node.arguments[0]) else whole
            ranges: dict[str, Interval] = {ACOS: a.subtract(quarter, whole), ATAN2: a.add(whole, whole)}
            name = facts.new_name("k", offset, *table.values())
            table[node], point[name] = name, Box(ranges.get(node.name, box))
    try:
        box_of_all = Enclosure(substitute(offset, table)).at(point, 60)
    except (NoValue, DomainError):
        return None
    if box_of_all.imag is not None or not box_of_all.real.finite:
        return None
    return mpq(box_of_all.real.low), mpq(box_of_all.real.high)


def _members(
    root: Root, n: Name, numbers: Iterable[int], x: Name, facts: Facts, ends: tuple[Expression, Expression]
) -> Iterator[Root]:
    stated = [c for c in (about(f, x) for f in facts.given) if c is not None]
    for k in numbers:
        try:
            about_member = [substitute(c, {n: number(k)}) for c in root.conditions]
            if any(_holds(c, facts) is False for c in about_member):
                continue
            value = simplify(substitute(root.value, {n: number(k)}), facts).expression
            needed = [*about_member, *(substitute(c, {x: value}) for c in stated)]
        except DomainError:
            continue
        if all(_holds(c, facts) is not False for c in needed) and _inside(ends[0], value, ends[1]):
            still = without_implied([c for c in about_member if _holds(c, facts) is not True], facts)
            yield Root(value, still, tuple(m for m in root.families if m is not n))


def without_implied(conditions: list[Condition], facts: Facts) -> tuple[Condition, ...]:
    """The conditions without those that follow from the others."""
    kept = list(dict.fromkeys(facts.open_conditions(conditions)))
    for condition in reversed(kept) if len(kept) <= FEW else ():
        others = [c for c in kept if c is not condition]
        try:
            if facts.with_facts([c for c in others if names(c)]).holds(condition) is True:
                kept = others
        except DomainError:
            return tuple(kept)
    return tuple(kept)


def _holds(condition: Condition, facts: Facts) -> bool | None:
    """As the facts tell; of inverse functions with letters also as their ranges do."""
    holds = facts.holds(condition)
    if holds is not None or not isinstance(condition, Relation) or condition.operator not in ("<", "<="):
        return holds
    gap = _range_of(expand(condition.right - condition.left), facts) if names(condition) else None
    if gap is None:
        return None
    return True if gap[0] > 0 else False if gap[1] < 0 else None


def _inside(low: Expression, value: Expression, high: Expression) -> bool:
    pairs = [(a, b) for a, b in ((low, value), (value, high)) if not isinstance(a, Bound) and not isinstance(b, Bound)]
    return all(Facts().holds(relation("<=", a, b)) is not False for a, b in pairs)


def _few_members(root: Root, n: Name, x: Name, facts: Facts) -> list[Root]:
    """A family whose own conditions leave a few integers only: these."""
    own = [r for c in root.conditions if names(c) == [n] for r in relations_of(c)]
    if not own:
        return [root]
    ends = [last_integer(own, n, sign) for sign in (-1, 1)]
    if None in ends:
        return [root]
    low, high = (end for end in ends if end is not None)
    if high - low > 2 * MOST_MEMBERS:
        return [root]
    found = list(_members(root, n, range(low, high + 1), x, facts, window(x, facts)))
    return found if len(found) <= MOST_MEMBERS else [root]


def _few_of_several(root: Root, x: Name, facts: Facts) -> list[Root]:
    """A family with several integers, of which the conditions leave a few values to one: those members, each a family of the others."""
    for n in root.families:
        found = _few_members(root, n, x, facts)
        if found != [root]:
            return [member for r in found for member in members_in_range(numbered(r, facts, x), x, facts)]
    return [root]


def steps_of_region(root: Root, x: Name) -> list[tuple[Condition, ...]]:
    """A region with a free integer in its ends as one region for each integer that leaves something of it; else as it is."""
    free = [n for n in root.families if any(n in names(c) for c in root.conditions)]
    parts = [r for c in root.conditions for r in relations_of(c) if r.operator in ("<", "<=")]
    lines = [(r, uni.linear_parts(r.right - r.left, x)) for r in parts]
    if len(free) != 1 or any(line is None or not line[0].is_rational for _, line in lines):
        return [root.conditions]
    n = free[0]
    lower = [-line[1] / line[0] for _, line in lines if line is not None and line[0].rational > 0]
    upper = [-line[1] / line[0] for _, line in lines if line is not None and line[0].rational < 0]
    gaps = [relation("<=", expand(a), expand(b)) for a in lower for b in upper]
    about_n = [g for g in gaps if isinstance(g, Relation) and names(g) == [n]]
    ends = [last_integer(about_n, n, sign) for sign in (-1, 1)]
    if ends[0] is None or ends[1] is None or ends[1] - ends[0] > MOST_MEMBERS:
        return [root.conditions]
    tables = [{n: number(k)} for k in range(ends[0], ends[1] + 1)]
    kept: list[tuple[Condition, ...]] = []
    for table in tables:
        try:
            if all(Facts().holds(substitute(g, table)) is not False for g in gaps):
                kept.append(tuple(substitute(c, table) for c in root.conditions))
        except DomainError:  # no whole number there
            continue
    return kept


def last_integer(conditions: Iterable[Relation], n: Name, sign: int) -> int | None:
    """An integer beyond which, in the direction of the sign, some condition fails for certain; None where none was found."""
    listed = [c for c in conditions if c.operator in ("<", "<=", "=")]
    gaps = [with_slopes(c.right - c.left, n) for c in listed]
    end = 1
    while end <= FARTHEST:
        for condition, functions in zip(listed, gaps, strict=True):
            gap = sign_beyond(functions, n, end, sign)
            if gap == -1 or (gap == 1 and condition.operator == "=") or _fails_beyond(condition, n, sign * end):
                return sign * end
        end *= 2
    return None


def _fails_beyond(condition: Relation, n: Name, end: int) -> bool:
    """Whether the facts tell that a relation holds for no number from `end` on, outwards."""
    outwards = relation("<=", number(end), n) if end > 0 else relation("<=", n, number(end))
    return Facts([DomainFact(n, "integer"), outwards]).holds(condition) is False


# --- several families as one ---------------------------------------------------------------------------------------------


def merged(roots: list[Root]) -> list[Root]:
    """Families with one period whose offsets lie evenly in it as one with the shorter period: pi/4 + 2*pi*n and 5*pi/4 + 2*pi*n."""
    groups: dict[tuple[object, ...], list[tuple[Root, mpq, mpq]]] = {}
    kept: list[Root | tuple[object, ...]] = []
    for root in roots:
        read = _arithmetic(root)
        if read is None:
            kept.append(root)
            continue
        unit, rest, period, offset = read
        key = (unit, rest, root.conditions, root.families)
        if key not in groups:
            kept.append(key)
        groups.setdefault(key, []).append((root, period, offset))
    result: list[Root] = []
    for entry in kept:
        result.extend([entry] if isinstance(entry, Root) else _merged_group(groups[entry], entry[0], entry[1]))
    return result


def _arithmetic(root: Root) -> tuple[Expression, Expression, mpq, mpq] | None:
    """(unit, rest, period, offset) of rest + unit*(offset + period*n): rest has no multiple of the unit."""
    if len(root.families) != 1 or any(root.families[0] in names(c) for c in root.conditions):
        return None
    parts = uni.linear_parts(expand(root.value), root.families[0])
    if parts is None:
        return None
    unit, period = split_coefficient(parts[0])
    if isinstance(period, Gaussian) or not period:
        return None
    offset = expand(parts[1])
    share = mpq(0)
    if unit is ONE:
        constant = offset.constant if isinstance(offset, Sum) else offset.rational if offset.is_rational else mpq(0)
        share = mpq(0) if isinstance(constant, Gaussian) else mpq(constant)
    else:
        share = next((c for term, c in weighted_terms(offset) if term is unit and not isinstance(c, Gaussian)), mpq(0))
    return unit, expand(offset - number(share) * unit), abs(period), share


def _merged_group(group: list[tuple[Root, mpq, mpq]], unit: object, rest: object) -> list[Root]:
    """The fewest progressions with these members, the longest runs first."""
    if len(group) < 2:
        return [root for root, _, _ in group]
    common = lcm(*(int(v.denominator) for _, p, o in group for v in (p, o)))
    periods = [int(p * common) for _, p, _ in group]
    whole = lcm(*periods)
    if whole // min(periods) * len(group) > MOST_PARTS:
        return [root for root, _, _ in group]
    members = {(int(o * common) + k * p) % whole for (_, _, o), p in zip(group, periods, strict=True) for k in range(whole // p)}
    found = _fewest(members, whole)
    if len(found) >= len(group):
        return [root for root, _, _ in group]
    n, template = group[0][0].families[0], group[0][0]
    assert isinstance(unit, Expression) and isinstance(rest, Expression)
    made = []
    for start, period in found:
        offset = start - period if 2 * start > period else start
        value = expand(rest + unit * (number(mpq(offset, common)) + number(mpq(period, common)) * n))
        made.append((offset, template._replace(value=value)))
    return [root for _, root in sorted(made, key=lambda m: m[0])]


def _fewest(members: set[int], whole: int) -> list[tuple[int, int]]:
    """(start, period) of few progressions that make up a set of remainders: each time the one that covers most of what is left."""
    runs = [(start, period) for period in range(1, whole + 1) if whole % period == 0 for start in range(period)]
    inside = [(start, period) for start, period in runs if set(range(start, whole, period)) <= members]
    found: list[tuple[int, int]] = []
    left = set(members)
    while left:
        start, period = max(inside, key=lambda r: (len(left.intersection(range(r[0], whole, r[1]))), -r[1], -r[0]))
        found.append((start, period))
        left.difference_update(range(start, whole, period))
    return found


def first_turn(root: Root) -> Root:
    """2*pi*n + 2*pi - 5 as 2*pi*n - 5: whole periods in a family are in its integer already."""
    if len(root.families) != 1:
        return root
    n = root.families[0]
    parts = uni.linear_parts(expand(root.value), n)
    if parts is None:
        return root
    (unit, period), offset = split_coefficient(parts[0]), expand(parts[1])
    if unit is not PI or isinstance(period, Gaussian):
        return root
    multiple = next((c for term, c in weighted_terms(offset) if term is PI and not isinstance(c, Gaussian)), mpq(0))
    # the multiple of pi that stays is above -1/2 and at most 1/2 of a period
    turns = -((mpq(1, 2) - multiple / period).__floor__())
    if not turns:
        return root
    table = {n: n - int(turns)}
    return Root(expand(substitute(root.value, table)), tuple(substitute(c, table) for c in root.conditions), root.families)


def numbered(root: Root, facts: Facts, *formulas: Expression) -> Root:
    """A family whose integers are the first that are free: those of different solutions may be the same."""
    table = dict(zip(root.families, facts.new_names("n", *formulas, domain="integer"), strict=False))
    conditions: tuple[Condition, ...] = tuple(substitute(c, table) for c in root.conditions)
    return Root(substitute(root.value, table), conditions, tuple(table.values()))
