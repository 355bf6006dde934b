"""A function whose derivative is zero on an interval, and which is zero at one of its points, is zero there."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from gmpy2 import mpq

from gelvo.errors import DomainError
from gelvo.expression import known as bits
from gelvo.expression.building import number, relation
from gelvo.expression.constants import PI, ZERO
from gelvo.expression.nodes import Applied, Call, Condition, Expression, Name, Relation, Sum, Written
from gelvo.expression.traversal import free_names, names, postorder, relations_of, substitute
from gelvo.facts.continuity import breaks
from gelvo.facts.statements import DomainFact, Fact
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.functions.named import COS, EXP, SIN, is_a

Prover = Callable[[Expression, Facts], bool]
PLACES: list[Expression] = [number(mpq(*v)) for v in ((0, 1), (1, 1), (1, 2), (-1, 2), (2, 1), (3, 1), (-2, 1), (5, 1), (-1, 1))]
PLACES += [PI, PI / 2, PI / 4, 2 * PI, -PI]


def is_constant_zero(expression: Expression, facts: Facts, prove: Prover) -> bool:
    """Whether zero is proved so; `prove` decides the derivative and the value at one point."""
    if any(isinstance(n, (Written, Applied)) for n in postorder(expression)):
        return False
    calls = [n for n in postorder(expression) if isinstance(n, Call) and not is_a(n, EXP, SIN, COS)]
    candidates = [v for v in free_names(expression) if any(v in names(c) for c in calls)]
    return any(_along(expression, variable, facts, prove) for variable in candidates)


def _along(expression: Expression, variable: Name, facts: Facts, prove: Prover) -> bool:
    if variable.domain in ("integer", "natural", "complex") or not _interval(variable, facts):
        return False
    inside, ends = _interior(variable, facts)
    try:
        places = breaks(expression, variable, facts=inside)
        if not all(inside.is_nonzero(b) and inside.is_real(b) for b in places):
            return False
        if not all(_zero_at(expression, variable, end, facts, prove) for end in ends):
            return False
        change = differentiate(expression, variable)
        if any(isinstance(n, Written) for n in postorder(change)) or not prove(change, inside):
            return False
    except DomainError:
        return False
    for place in PLACES:
        if _fits(variable, place, inside) and _zero_at(expression, variable, place, inside, prove):
            return True
    jumps = breaks(expression, variable, kinks=False, facts=inside)
    return any(_zero_towards(expression, variable, end, jumps, inside, prove) for end in _ends(variable, inside))


def _ends(variable: Name, facts: Facts) -> list[Expression]:
    """The ends that facts put to the variable alone."""
    found: dict[Expression, None] = {ZERO: None} if variable.domain == "positive" else {}
    for fact in facts.given:
        for part in relations_of(fact) if isinstance(fact, Condition) else ():
            if isinstance(part, Relation) and part.left is variable:
                found[part.right] = None
            elif isinstance(part, Relation) and part.right is variable:
                found[part.left] = None
    return list(found)


def _zero_at(expression: Expression, variable: Name, place: Expression, facts: Facts, prove: Prover) -> bool:
    try:
        value = substitute(expression, {variable: place})
        return value is ZERO or prove(value, _without(variable, facts))
    except DomainError:
        return False


def _interior(variable: Name, facts: Facts) -> tuple[Facts, list[Expression]]:
    """The facts with the ends of the interval left out, and those ends, where the value is looked at on its own."""
    given: list[Fact] = []
    ends: list[Expression] = []
    for fact in facts.given:
        if isinstance(fact, DomainFact):
            if fact.name is variable and fact.domain in ("nonnegative", "natural"):
                ends.append(ZERO)
                given.append(relation("<", ZERO, variable))
            given.append(fact)
            continue
        parts = relations_of(fact) if isinstance(fact, Condition) else [fact]
        for part in parts:
            if isinstance(part, Relation) and part.operator == "<=" and variable in names(part):
                end = part.left if part.right is variable else part.right if part.left is variable else None
                if end is not None:
                    ends.append(end)
                given.append(relation("<", part.left, part.right))
            else:
                given.append(part)
    if variable.domain == "nonnegative":
        ends.append(ZERO)
        given.append(relation("<", ZERO, variable))
    return facts.stating(given), ends


def _without(variable: Name, facts: Facts) -> Facts:
    """The facts that do not speak of a variable."""
    kept: list[Fact] = []
    for fact in facts.given:
        if isinstance(fact, DomainFact):
            if fact.name is not variable:
                kept.append(fact)
        elif isinstance(fact, Condition):
            kept.extend(part for part in relations_of(fact) if variable not in names(part))
    return facts.stating(kept)


def _interval(variable: Name, facts: Facts) -> bool:
    """Whether the facts leave an interval for the variable: no hole such as x != 1, no equation, only linear relations."""
    if _has_hole(facts.known(variable)) or any(variable in names(side) for pair in facts.equalities for side in pair):
        return False
    return all(
        core is variable
        or variable not in names(core)
        or (isinstance(core, Sum) and _linear(core, variable) and not _has_hole(mask))
        for core, mask in facts.table.items()
    )


def _has_hole(mask: int) -> bool:
    return bool(mask & bits.NEG and mask & bits.POS and not mask & bits.NIL)


def _linear(core: Sum, variable: Name) -> bool:
    return variable not in names(differentiate(core, variable))


def _conditions_at(variable: Name, place: Expression, facts: Facts) -> Iterator[bool | None]:
    """For each fact about the variable whether it holds when the variable has a value."""
    rest = _without(variable, facts)
    for fact in facts.given:
        if isinstance(fact, Condition):
            for part in relations_of(fact):
                if variable in names(part):
                    yield rest.holds(substitute(part, {variable: place}))


def _fits(variable: Name, place: Expression, facts: Facts) -> bool:
    mask = facts.known(variable) if variable.domain != "real" else bits.REAL
    sign = Facts().decide(place)
    if not sign & mask & (bits.NEG | bits.NIL | bits.POS):
        return False
    return all(_conditions_at(variable, place, facts))


def _zero_towards(
    expression: Expression, variable: Name, place: Expression, places: list[Expression], facts: Facts, prove: Prover
) -> bool:
    """Whether the value tends to zero at an end of the interval where the formula is continuous: then it is zero inside.

    The end fulfils every other fact strictly, so that the interval reaches it.
    """
    rest = _without(variable, facts)
    touching = 0
    for fact in facts.given:
        for part in relations_of(fact) if isinstance(fact, Condition) else ():
            if variable in names(part):
                if {part.left, part.right} == {variable, place}:
                    touching += 1
                elif not rest.holds(substitute(part, {variable: place})):
                    return False
    if variable.domain == "positive" and place is ZERO:
        touching += 1
    if touching != 1:
        return False
    try:
        at = [substitute(b, {variable: place}) for b in places]
        if not all(rest.is_nonzero(b) and rest.is_real(b) for b in at):
            return False
    except DomainError:
        return False
    return _zero_at(expression, variable, place, facts, prove)
