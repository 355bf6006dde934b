"""Where a formula may jump, have a pole or a kink on the real line: expressions whose zeros are all such places."""

from __future__ import annotations

from collections.abc import Iterable

from gelvo.errors import DomainError
from gelvo.expression.nodes import Applied, Call, Cases, Condition, Expression, Name, Node, Number, Power, Relation, Written
from gelvo.expression.traversal import dependents, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.functions.named import ACOS, ACOSH, ACOT, ACOTH, ACSC, ACSCH, ARG, ASEC, ASECH, ASIN, ASINH, ATAN, ATANH, CBRT, SIGN

# with a cut in the complex plane: `breaks` tells of the real line only
BRANCHED = (ARG, SIGN, ASIN, ACOS, ATAN, ACOT, ASEC, ACSC, ASINH, ACOSH, ATANH, ACOTH, ASECH, ACSCH, CBRT)
ROUND_ZERO = (ASIN, ACOS, ATAN, ASINH, ATANH)  # whose cuts begin at a distance of 1


def may_meet_cut(node: Call, facts: Facts, place: Expression | None = None) -> bool:
    """Whether a function with a cut is taken of what may be complex, and not beside a place where it has none."""
    if node.name not in BRANCHED or facts.is_real(node.arguments[0]):
        return False
    return not (node.name in ROUND_ZERO and isinstance(place, Number) and not place.value)


def breaks(expression: Expression, variable: Name, kinks: bool = True, facts: Facts | None = None) -> list[Expression]:
    """Expressions in the variable whose zeros contain every break; with `kinks=False` only jumps and poles.

    facts: with them, a row of poles that they keep away, as those of gamma(x) for x > 0, is left out.

    >>> from gelvo.expression.building import call, name
    >>> x = name("x")
    >>> from gelvo.functions.named import GAMMA
    >>> print(breaks(1 / (x - 1), x), breaks(GAMMA(x), x))
    [x - 1] [x, sin(pi*x)]
    """
    rows = [c for c in regular_when(expression, variable) if facts is None or facts.holds(c) is not True]
    parts = [part for c in rows for part in postorder(c) if isinstance(part, Relation) and part.operator == "!="]
    return list(dict.fromkeys([*single_breaks(expression, variable, kinks), *(p.left - p.right for p in parts)]))


def single_breaks(expression: Expression, variable: Name, kinks: bool = True) -> list[Expression]:
    """The breaks, but for rows of poles, of which only the first is among them: `regular_when` tells of the others."""
    affected = dependents(expression, variable)
    found: dict[Expression, None] = {}
    for node in postorder(expression):
        if node in affected:
            found.update(dict.fromkeys(_own_breaks(node, kinks)))
    return [e for e in found if any(n is variable for n in postorder(e))]


def _own_breaks(node: Node, kinks: bool) -> Iterable[Expression]:
    """The breaks of one node, its parts apart."""
    if isinstance(node, Power):
        return _of_power(node, kinks)
    if isinstance(node, Call):
        places = node.function.breaks if kinks or node.function.jumps is None else node.function.jumps
        if places is None:
            raise DomainError(f"it is not known where {node} is continuous")
        return places(*node.arguments)
    if isinstance(node, Cases):
        relations = [p for c in node.conditions for p in postorder(c) if isinstance(p, Relation)]
        return [p.left - p.right for p in relations]
    if isinstance(node, (Written, Applied)):
        raise DomainError(f"it is not known where {node} is continuous")
    return ()


def _of_power(node: Power, kinks: bool) -> tuple[Expression, ...]:
    exponent = node.exponent
    if exponent.is_rational:
        q = exponent.rational
        return (node.base,) if q < 0 or (q.denominator != 1 and kinks) else ()
    return () if node.base.is_rational and node.base.rational > 0 else (node.base,)


def has_no_break_at(e: Expression, x: Name, place: Expression, facts: Facts, kinks: bool = True) -> bool:
    """Whether a formula is shown to have no break at a place (with `kinks=False` no jump or pole)."""
    try:
        return all(facts.is_nonzero(substitute(b, {x: place})) for b in single_breaks(e, x, kinks)) and all(
            facts.holds(substitute(c, {x: place})) is True for c in regular_when(e, x)
        )
    except DomainError:
        return False


def regular_when(e: Expression, x: Name) -> list[Condition]:
    """Beside its breaks, what makes a formula smooth at x: that functions with a row of poles are not taken at one of them."""
    affected = dependents(e, x)
    calls = [n for n in postorder(e) if isinstance(n, Call) and n in affected]
    return [c for n in calls if n.function.regular_when is not None for c in n.function.regular_when(*n.arguments)]
