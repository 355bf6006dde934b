"""A candidate put back into its equation: is it in the domain, does every part have a value there, and is the equation satisfied?"""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence
from typing import TypeVar

from gelvo.deciding.algebraic import divides_as_root
from gelvo.deciding.equality import decide_zero
from gelvo.errors import DomainError
from gelvo.evaluation.enclose import enclose, surely_not_real
from gelvo.expression import known as bits
from gelvo.expression.building import junction, looks_negative, multiply_all, number, relation
from gelvo.expression.constants import HALF, ZERO
from gelvo.expression.nodes import Bound, Call, Condition, Expression, Junction, Name, Number, Power, Product, Relation, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, free_names, names, postorder, substitute
from gelvo.facts.conditions import letter_alone, nonzero, zero_where
from gelvo.facts.statements import DomainFact, Fact, fact_condition
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import factor_list
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.forms.unit_forms import unit_form
from gelvo.functions.named import ABS, FLOOR, is_a
from gelvo.numbers.exact import Gaussian
from gelvo.numbers.interval import NoValue, floor
from gelvo.simplifying.search import simplify
from gelvo.solving.roots import Root, Together

NEAR = 12  # how far a whole number is looked for that satisfies conditions on it alone


def real_conditions(g: Expression, x: Name | Collection[Name], facts: Facts) -> list[Condition]:
    """What must hold where all parts of g that contain x, or one of several names, have real, finite values."""
    wanted = {x} if isinstance(x, Name) else set(x)
    found: dict[Condition, None] = {}
    for node in postorder(g):
        if isinstance(node, (Call, Power)) and not wanted.isdisjoint(names(node)):
            found.update(dict.fromkeys(real_part_conditions(node, facts)))
    return list(found)


def real_part_conditions(node: object, facts: Facts) -> list[Condition]:
    """What must hold where one call or power has a real, finite value."""
    needed: Sequence[object] = ()
    if isinstance(node, Call) and node.function.real_when is not None and not node.function.real_beyond:
        needed = node.function.real_when(*node.arguments)
    elif isinstance(node, Power):
        needed = _of_power(node.base, node.exponent, facts)
    return [_plainly(c) for c in needed if isinstance(c, Condition)]


def letter_conditions(g: Expression, x: Name, facts: Facts) -> dict[Expression, list[Condition]]:
    """What must hold where the parts of g with other letters alone have real values, by part."""
    found: dict[Expression, list[Condition]] = {}
    for node in postorder(g):
        if not isinstance(node, Expression) or contains(node, x) or not names(node):
            continue
        if isinstance(node, Power) and node.exponent.is_whole:
            continue
        still = facts.open_conditions(real_part_conditions(node, facts))
        if still:
            found[node] = list(still)
    return found


def _plainly(condition: Condition) -> Condition:
    """abs(u) > 0 says u != 0."""
    if isinstance(condition, Relation) and condition.operator == "<" and condition.left is ZERO:
        right = condition.right
        if is_a(right, ABS):
            return nonzero(right.arguments[0])
    return condition


def _of_power(base: Expression, exponent: Expression, facts: Facts) -> Sequence[Condition]:
    """Where base^exponent is real: an integer power of anything but 0^0 and 1/0; else a positive base, or 0 to a positive power."""
    if isinstance(exponent, Number) and exponent.is_rational:
        k = exponent.rational
        if k.denominator == 1:
            return [nonzero(base)] if k < 0 else []
        return [relation("<=" if k > 0 else "<", ZERO, base)]
    positive = relation("<", ZERO, base)
    if facts.holds(positive):
        return []
    zero = junction("and", [relation("=", base, ZERO), relation("<", ZERO, exponent)])
    if facts.is_integer(exponent):
        return [junction("or", [nonzero(base), zero])]
    whole = junction("and", [relation("<", base, ZERO), relation("=", exponent, FLOOR(exponent))])
    return [junction("or", [positive, zero, whole])]


def put_back(
    g: Expression, root: Root, x: Name, facts: Facts, conditions: Sequence[Condition], real: bool, implied: bool
) -> tuple[str, Root]:
    """('' or the reason of exclusion, the root with what must hold for it).

    conditions: what must hold at a solution; implied: whether the root came by a step that goes one way only, so that it has to
    satisfy the equation again.
    """
    settled = _without_idle_integers(root)
    if settled is None:
        return "its conditions cannot hold", root
    root = settled
    integers = [DomainFact(n, "integer") for n in root.families]
    try:
        known = facts.with_facts([*integers, *[c for c in root.conditions if names(c)]])
        if False in [known.holds(c) for c in root.conditions] or _contradict(root.conditions, facts):
            return "its conditions cannot hold", root
        extra = [*_in_domain(root, x, facts, known, real), *left_open({x: root.value}, [x], facts, known, conditions)]
        extra += _satisfied(g, {x: root.value}, known, extra, implied)
    except Excluded as why:
        return str(why), root
    except DomainError as fault:
        return str(fault), root
    if False in [known.holds(c) for c in extra]:
        return ONE_WAY, root
    open_extra = known.open_conditions(map(read_easily, extra))
    own = facts.with_facts(integers).open_conditions(map(read_easily, root.conditions))
    return "", Root(root.value, tuple(dict.fromkeys((*own, *map(read_easily, open_extra)))), root.families)


def _contradict(conditions: Sequence[Condition], facts: Facts) -> bool:
    """Whether one of several conditions cannot hold where the others do."""
    for k, c in enumerate(conditions if len(conditions) > 1 else ()):
        others = [o for j, o in enumerate(conditions) if j != k and names(o)]
        try:
            if facts.with_facts(others).holds(c) is False:
                return True
        except DomainError:
            return True
    return False


class Excluded(Exception):
    """A candidate is no solution; the text says why."""


ONE_WAY = "it does not satisfy the equation (a step on the way goes one way only)"


def _in_domain(root: Root, x: Name, facts: Facts, known: Facts, real: bool) -> Iterator[Condition]:
    """What must hold for the value to lie in the domain of the unknown."""
    for word in domains_of(x, facts):
        try:
            inside = domain_condition(word, root.value, known, real)
        except DomainError:
            raise Excluded(f"{root.value} has no value") from None
        if inside is False:
            raise Excluded(f"{root.value} is outside the domain of {x} ({word})")
        if inside is not True:
            yield inside


def left_open(
    values: Mapping[Name, Expression], unknowns: Sequence[Name], facts: Facts, known: Facts, conditions: Sequence[Condition]
) -> Iterator[Condition]:
    """What is left open of the facts about the unknowns and of what must hold at a solution; raises Excluded."""
    stated = [c for c in (about(f, u) for f in facts.given for u in unknowns) if c is not None]
    for condition in (*dict.fromkeys(stated), *conditions):
        try:
            inside = substitute(condition, values)
            holds = follows(inside, known)
        except DomainError:
            holds = False
        if holds is False:
            raise Excluded(why_not(condition, condition in stated))
        if holds is None:
            yield inside


def _satisfied(
    g: Expression, table: dict[Name, Expression], known: Facts, extra: list[Condition], implied: bool
) -> list[Condition]:
    """What must hold for the equation to be satisfied."""
    if len(table) == 1 and all(divides_as_root(v, g, u) for u, v in table.items()):
        return []
    try:
        there = known.with_facts([c for c in extra if names(c)])
        inside = substitute(g, table)
        decision = decide_zero(inside, there)
    except DomainError:
        raise Excluded("the equation has no value there") from None
    if decision.zero is False or (decision.zero is None and implied and free_names(inside)):
        if not free_names(inside):
            raise Excluded(ONE_WAY)
        return [_vanishing(inside, there)]
    return []


def read_easily(condition: Condition) -> Condition:
    """c^2 != 0 as c != 0, 2*c > 0 as c > 0, -n > 0 as n < 0, u < 0 or u > 0 as u != 0."""
    if isinstance(condition, Junction):
        parts = list(map(read_easily, condition.parts))
        first = parts[0]
        if condition.word == "or" and len(parts) == 2 and isinstance(first, Relation) and _two_signs(first, parts[1]):
            return nonzero(first.left - first.right)
        return junction(condition.word, parts)
    if isinstance(condition, Relation) and condition.operator in ("<", "<="):
        one, other = condition.left, condition.right
        if all(e is ZERO or (looks_negative(e) and not isinstance(e, Sum)) for e in (one, other)):
            one, other = -other, -one
        operator = condition.operator
        if ZERO in (one, other):
            one, other = (_without_size(_over_one_line(side)) for side in (one, other))
            below = [_below_one(side) for side in (one, other)]
            if below != [one, other]:
                operator = "<" if operator == "<" or not any(_is_square_root(side) for side in (one, other)) else "<="
                one, other = below
            one, other = _letter_alone(one, other)
        return relation(operator, one, other)
    if isinstance(condition, Relation) and condition.operator == "!=" and condition.right is ZERO:
        return nonzero(factored(condition.left))
    return condition


def _over_one_line(side: Expression) -> Expression:
    """1/(c*x) for c*x + 1/(c*x), which is (c^2*x^2 + 1) times it: without the factors that are positive."""
    if not isinstance(side, Sum) or not any(
        looks_negative(k) for t in side.terms for _, k in map(base_and_exponent, factors_in(t))
    ):
        return side
    whole, plain = factored(side), Facts()
    kept = [f for f in factors_in(whole) if not plain.is_positive(f)]
    if not isinstance(whole, Product) or not kept or len(kept) == len(whole.factors):
        return side
    return multiply_all([number(-1 if looks_negative(whole) else 1), *kept])


def _below_one(side: Expression) -> Expression:
    """1/u as u, which has the same sign and is not zero where 1/u is not."""
    if _is_square_root(side):  # sqrt(u) >= 0 where u >= 0
        return base_and_exponent(side)[0]
    pieces = [base_and_exponent(f) for f in factors_in(side)]
    if not pieces or not all(k.is_whole and k.rational < 0 and k.rational % 2 for _, k in pieces):
        return side
    return multiply_all([number(-1 if looks_negative(side) else 1), *(base for base, _ in pieces)])


def _is_square_root(side: Expression) -> bool:
    return isinstance(side, Power) and side.exponent is HALF


def _without_size(side: Expression) -> Expression:
    """2*pi*c as c: without the factors that are positive for every value of their names."""
    if not isinstance(side, Product) or isinstance(side.coefficient, Gaussian):
        return side
    kept = [f for f in side.factors if not bits.is_positive(f.known)]
    return multiply_all([number(1 if side.coefficient > 0 else -1), *kept]) if kept else side


def _letter_alone(one: Expression, other: Expression) -> tuple[Expression, Expression]:
    """0 <= 2 - a as a <= 2: a sum of one letter and numbers has the letter by itself."""
    side = other if one is ZERO else one
    alone = letter_alone(side)
    if alone is None:
        return one, other
    letter, place, sign = alone
    return (letter, place) if (sign > 0) == (side is one) else (place, letter)


def _two_signs(one: Relation, other: Condition) -> bool:
    """Whether two conditions say u < 0 and u > 0."""
    if not (isinstance(other, Relation) and one.operator == other.operator == "<"):
        return False
    return one.left is other.right and one.right is other.left


Solution = TypeVar("Solution", Root, Together)


def keep_once(kept: list[Solution], candidate: Solution, facts: Facts) -> None:
    """Adds a solution; one that is there already came on two ways, and needs the conditions of one of them."""
    place = next((i for i, k in enumerate(kept) if k[0] == candidate[0]), None)
    if place is None:
        kept.append(candidate)
    else:
        kept[place] = candidate._replace(conditions=either(kept[place].conditions, candidate.conditions, facts))


def either(first: tuple[Condition, ...], second: tuple[Condition, ...], facts: Facts) -> tuple[Condition, ...]:
    """What must hold for a root that came on two ways."""
    if not first or not second:
        return ()
    if set(first) <= set(second) or set(second) <= set(first):
        return first if set(first) <= set(second) else second
    common = tuple(c for c in first if c in second)
    one, other = ([c for c in listed if c not in common] for listed in (first, second))
    if len(one) == len(other) == 1 and _even_or_odd(one[0], other[0], facts):
        return common
    either = junction("or", [junction("and", part) if len(part) > 1 else part[0] for part in (one, other)])
    return common if facts.holds(either) or _all_signs(either) else (*common, either)


SIGNS = {"<": "+", "<=": "+0", "=": "0", "!=": "+-"}  # of right - left


def _all_signs(either: Condition) -> bool:
    """Whether it says that a formula is positive, negative or zero."""
    seen: dict[Expression, set[str]] = {}
    for c in either.parts if isinstance(either, Junction) and either.word == "or" else ():
        if isinstance(c, Relation):
            gap = expand(c.right - c.left)
            seen.setdefault(gap, set()).update(SIGNS[c.operator])
            seen.setdefault(-gap, set()).update(SIGNS[c.operator].translate(str.maketrans("+-", "-+")))
    return any(len(signs) == len("+-0") for signs in seen.values())


def _even_or_odd(one: Condition, other: Condition, facts: Facts) -> bool:
    """Whether n/2 is whole or (n + 1)/2 is, for a whole n: always."""
    if not (isinstance(one, Relation) and isinstance(other, Relation) and one.operator == other.operator == "="):
        return False
    if any(c is not is_whole(c.left) for c in (one, other)):
        return False
    gap = expand(one.left - other.left)
    half = isinstance(gap, Number) and gap.is_rational and gap.rational.denominator == 2
    return half and facts.is_integer(expand(2 * one.left))


def is_whole(u: Expression) -> Condition:
    return relation("=", u, FLOOR(u))


def _without_idle_integers(root: Root) -> Root | None:
    """A family whose integer is in its conditions only, as of tan(u + n*pi): some whole number must satisfy them. None where none does."""
    for n in [n for n in root.families if n not in names(root.value)]:
        about_n = [c for c in root.conditions if n in names(c)]
        if any(m is not n for c in about_n for m in names(c)):
            continue
        places = [[Facts().holds(substitute(c, {n: number(k)})) for c in about_n] for k in range(-NEAR, NEAR + 1)]
        if any(all(states) for states in places):
            rest = tuple(c for c in root.conditions if c not in about_n)
            root = Root(simplify(root.value, Facts()).expression, rest, tuple(m for m in root.families if m is not n))
        elif all(False in states for states in places):
            return None
    return root


def follows(condition: Condition, facts: Facts) -> bool | None:
    """Whether a condition holds at a candidate: as it is, else with its differences simplified."""
    plain = facts.holds(condition)
    return facts.holds(worked_out(condition, facts)) if plain is None else plain


def why_not(condition: Condition, stated: bool) -> str:
    if stated:
        return f"against {condition}"
    if isinstance(condition, Relation) and condition.operator == "!=":
        return f"a denominator would be zero ({condition} is needed)"
    return f"a part of the equation has no real value there ({condition} is needed)"


def worked_out(condition: Condition, facts: Facts) -> Condition:
    """A relation whose difference is simplified, and told to be zero where it is."""
    if isinstance(condition, Junction):
        return junction(condition.word, [worked_out(p, facts) for p in condition.parts])
    if not isinstance(condition, Relation):
        return condition
    gap = simplify(condition.left - condition.right, facts).expression
    if decide_zero(gap, facts).zero:
        gap = ZERO
    return nonzero(gap) if condition.operator == "!=" and gap is not ZERO else relation(condition.operator, gap, ZERO)


def _vanishing(gap: Expression, facts: Facts) -> Condition:
    """gap = 0 as it is read most easily: abs(u) - u = 0 says u >= 0."""
    factors = factor_list(simplify(gap, facts).expression)
    gap, _ = unit_form(multiply_all([f for f in factors if len(factors) == 1 or not facts.is_nonzero(f)]))
    for node in postorder(gap):
        if is_a(node, ABS):
            for sign in (1, -1):
                inner = sign * node.arguments[0]
                if decide_zero(gap - (node - inner), facts).zero or decide_zero(gap + (node - inner), facts).zero:
                    return relation("<=", ZERO, expand(inner))
    return zero_where(gap)


def domains_of(x: Name, facts: Facts) -> list[str]:
    """The domain of an unknown, and those that facts state for it."""
    stated = [f.domain for f in facts.given if isinstance(f, DomainFact) and f.name is x and f.domain != "complex"]
    return list(dict.fromkeys([x.domain, *stated]))


def domain_condition(word: str, value: Expression, facts: Facts, real: bool) -> bool | Condition:
    """Whether a value lies in a domain, or what must hold for that."""
    if isinstance(value, Bound):
        return False
    if not real:
        return True
    if word == "real":
        return not surely_not_real(value)
    mask = facts.decide(value)
    wanted = bits.DOMAINS[word]
    if not mask & ~wanted:
        return True
    if not mask & wanted or (not mask & bits.NONREAL and not mask & wanted):
        return False
    if word in ("integer", "natural"):
        return _whole(value, word == "natural", facts)
    table = {
        "positive": value > ZERO,
        "nonnegative": value >= ZERO,
        "negative": value < ZERO,
        "nonzero": relation("!=", value, ZERO),
    }
    condition = table[word]
    if isinstance(condition, bool):
        return condition
    holds = facts.holds(condition)
    return condition if holds is None else holds


def _whole(value: Expression, natural: bool, facts: Facts) -> bool | Condition:
    """Whether a value is a whole number; with letters as a condition on them."""
    if isinstance(value, Number):
        return value.is_whole and not (natural and value.rational < 0)
    if natural and facts.is_negative(value):
        return False
    if not names(value):
        try:
            box = enclose(value, {}, 256)
        except (NoValue, DomainError):
            box = None
        if box is not None and (box.imag is None or box.imag.contains_zero()):
            low, high = floor(box.real.low), floor(box.real.high)
            if low == high and box.real.low > low:  # between two whole numbers
                return False
            whole = decide_zero(value - number(high), facts).zero if high - low <= 1 else None
            if whole is not None:
                return whole
    conditions = [relation("=", value, FLOOR(value)), *([relation("<=", ZERO, value)] if natural else [])]
    kept = facts.open_conditions(conditions)
    return junction("and", list(kept)) if len(kept) > 1 else kept[0] if kept else True


def about(fact: Fact, x: Name) -> Condition | None:
    condition = fact_condition(fact)
    return condition if condition is not None and contains(condition, x) else None
