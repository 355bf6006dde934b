"""Functions that are one formula on one side of a border and another beyond it: each piece with the condition under which it is the one.

Every branch is an equivalence: the equation with the piece put in, together with the piece's condition. Where the equation is an
identity in a branch, the condition itself is the answer there: a region instead of a root.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import NamedTuple

from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import number, opposite, relation
from gelvo.expression.constants import HALF, ONE, ZERO
from gelvo.expression.nodes import Bound, Call, Cases, Condition, Expression, Name, Node, Relation, Truth
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.functions.named import ABS, CEIL, FLOOR, HEAVISIDE, MAX, MIN, SIGN, is_a
from gelvo.solving.putting_back import domain_condition, real_conditions
from gelvo.solving.roots import Root
from gelvo.solving.single.work import Work


class Piece(NamedTuple):
    """What a part is, and when."""

    value: Expression
    when: tuple[Condition, ...]


def _both_sides(u: Expression) -> list[Piece]:
    return [Piece(u, (relation("<=", ZERO, u),)), Piece(-u, (relation("<=", u, ZERO),))]


def _three_signs(middle: Expression, low: Expression) -> Callable[[Expression], list[Piece]]:
    def pieces_of(u: Expression) -> list[Piece]:
        return [
            Piece(ONE, (relation("<", ZERO, u),)),
            Piece(low, (relation("<", u, ZERO),)),
            Piece(middle, (relation("=", u, ZERO),)),
        ]

    return pieces_of


def _extreme(greatest: bool) -> Callable[..., list[Piece]]:
    def pieces_of(*arguments: Expression) -> list[Piece]:
        found: list[Piece] = []
        for one in arguments:
            others = [other for other in arguments if other is not one]
            found.append(Piece(one, tuple(relation("<=", *((o, one) if greatest else (one, o))) for o in others)))
        return found

    return pieces_of


PIECES: dict[str, Callable[..., list[Piece]]] = {
    ABS: _both_sides,
    SIGN: _three_signs(ZERO, number(-1)),
    HEAVISIDE: _three_signs(HALF, ZERO),
    MAX: _extreme(greatest=True),
    MIN: _extreme(greatest=False),
}
# floor(u) = n where n <= u < n + 1; ceil(u) = n where n - 1 < u <= n
STEPPED: dict[str, Callable[[Expression, Expression], tuple[Condition, Condition]]] = {
    FLOOR: lambda u, n: (relation("<=", n, u), relation("<", u, n + 1)),
    CEIL: lambda u, n: (relation("<", n - 1, u), relation("<=", u, n)),
}


def _innermost(g: Expression, x: Name) -> Node | None:
    """The first part with pieces in whose arguments there is none."""
    return next((n for n in postorder(g) if (isinstance(n, Cases) or is_a(n, *PIECES, *STEPPED)) and contains(n, x)), None)


def pieces(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """The first part that has pieces is one after the other of them; only over the reals."""
    part = _innermost(g, solver.unknown) if solver.real else None
    if part is None:
        return None
    if isinstance(part, Cases):
        solver.roads["each case by itself"] = None
        return [r for piece in _of_cases(part) for r in _branch(solver, g, part, piece, depth)]
    assert isinstance(part, Call)
    if part.name in STEPPED:
        solver.roads[f"{part.name} is a whole number"] = None
        return _stepped(solver, g, part, depth)
    solver.roads[f"each side of {part.name} by itself"] = None
    return [r for piece in PIECES[part.name](*part.arguments) for r in _branch(solver, g, part, piece, depth)]


def _of_cases(part: Cases) -> list[Piece]:
    """Each value under its condition, and none of those before."""
    before: list[Condition] = []
    found: list[Piece] = []
    for value, condition in zip(part.values, part.conditions, strict=False):
        found.append(Piece(value, (*before, condition)))
        before.append(opposite(condition))
    found.append(Piece(part.otherwise, tuple(before)))
    return [p for p in found if not isinstance(p.value, Bound)]


def _branch(solver: Work, g: Expression, part: Node, piece: Piece, depth: int) -> list[Root]:
    """The roots of g = 0 with a piece put in, where its conditions hold."""
    try:
        inside = substitute(g, {part: piece.value})
    except DomainError:  # the piece has no value there
        return []
    equal = [c for c in piece.when if isinstance(c, Relation) and c.operator == "=" and contains(c, solver.unknown)]
    if not equal:
        return where(solver, inside, piece.when, depth)
    # the border itself: the equation must hold at its places
    rest = [relation("=", inside, ZERO), *(c for c in piece.when if c not in equal)]
    return where(solver, equal[0].left - equal[0].right, tuple(rest), depth)


def where(solver: Work, g: Expression, when: tuple[Condition, ...], depth: int) -> list[Root]:
    """The roots of g = 0 where conditions hold; none where these contradict the facts or what must be real in g."""
    before = solver.facts
    try:
        solver.facts = before.with_facts([c for c in when if names(c) and not (isinstance(c, Relation) and c.operator == "=")])
        if any(solver.facts.holds(c) is False for c in real_conditions(g, solver.unknown, solver.facts)):
            return []
        roots = solver.solve(g, depth + 1)
    except DomainError:  # the branch is empty
        return []
    finally:
        solver.facts = before
    return list(under(solver, roots, when))


def under(solver: Work, roots: list[Root], when: tuple[Condition, ...] | list[Condition]) -> Iterator[Root]:
    """The roots for which conditions hold or are open; of a region the conditions stay with it."""
    for root in roots:
        if root.value is solver.unknown:
            yield root._replace(conditions=tuple(dict.fromkeys((*root.conditions, *(c for c in when if not _is_true(c))))))
            continue
        try:
            states = [solver.condition(substitute(c, {solver.unknown: root.value})) for c in when]
        except DomainError:
            continue
        if None not in states:
            needed = [c for state in states for c in state or ()]
            yield root._replace(conditions=tuple(dict.fromkeys((*root.conditions, *needed))))


def _is_true(condition: Condition) -> bool:
    return isinstance(condition, Truth) and condition.holds


def _stepped(solver: Work, g: Expression, part: Call, depth: int) -> list[Root]:
    """floor(u) or ceil(u) as a whole number n: the roots with n as a letter, where u lies in its step."""
    n = solver.free_integer(g)
    inside = substitute(g, {part: n})
    u = part.arguments[0]
    if not contains(inside, solver.unknown):  # the equation is one for n alone: whole steps
        roots = solver.inner(inside, n, depth)
        if any(r.value is solver.unknown for r in roots):
            return [Root(solver.unknown)]
        return [_in_step(solver, part, u, root, whole) for root in roots if (whole := _whole(solver, root)) is not None]
    before = dict(solver.conditions)
    roots = [r._replace(families=(*r.families, n)) for r in solver.solve(inside, depth + 1)]
    about_n = [c for c in solver.conditions if c not in before and contains(c, n)]
    found = list(under(solver, roots, [*about_n, *STEPPED[part.name](u, n)]))
    for condition in about_n:  # where such a condition fails, n is one number: a branch of its own
        del solver.conditions[condition]
        gap = condition.left - condition.right if isinstance(condition, Relation) and condition.operator == "!=" else None
        if gap is None:
            raise NotSolved(f"where {condition} fails could not be told")
        for root in solver.inner(gap, n, depth):
            whole = _whole(solver, root)
            if whole is not None:
                piece = Piece(root.value, (*whole, *STEPPED[part.name](u, root.value)))
                found.extend(_branch(solver, g, part, piece, depth))
    return found


def _whole(solver: Work, root: Root) -> tuple[Condition, ...] | None:
    """What must hold for a root to be a whole number; None where it is none."""
    state = domain_condition("integer", root.value, solver.facts, True)
    return None if state is False else () if state is True else (state,)


def _in_step(solver: Work, part: Call, u: Expression, root: Root, whole: tuple[Condition, ...]) -> Root:
    """Every x where u lies in the step of a whole number."""
    return Root(solver.unknown, (*root.conditions, *whole, *STEPPED[part.name](u, root.value)), root.families)
