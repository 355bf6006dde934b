"""Where a formula may jump, have a pole or a kink on the real line: expressions whose zeros are all such places."""

from __future__ import annotations

from gelvo.errors import DomainError
from gelvo.expression.nodes import Applied, Call, Cases, Condition, Expression, Junction, Name, Number, Power, Relation, Written
from gelvo.expression.traversal import dependents, postorder, substitute
from gelvo.facts.store import Facts

# with a cut in the complex plane: `breaks` tells of the real line only
BRANCHED = (
    "arg",
    "sign",
    "asin",
    "acos",
    "atan",
    "acot",
    "asec",
    "acsc",
    "asinh",
    "acosh",
    "atanh",
    "acoth",
    "asech",
    "acsch",
    "cbrt",
)
ROUND_ZERO = ("asin", "acos", "atan", "asinh", "atanh")  # whose cuts begin at a distance of 1


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
    >>> print(breaks(1 / (x - 1), x), breaks(call("gamma", x), x))
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
        if node not in affected:
            continue
        if isinstance(node, Power):
            _of_power(node, kinks, found)
        elif isinstance(node, Call):
            places = node.function.breaks if kinks or node.function.jumps is None else node.function.jumps
            if places is None:
                raise DomainError(f"it is not known where {node} is continuous")
            found.update(dict.fromkeys(places(*node.arguments)))
        elif isinstance(node, Cases):
            for condition in node.conditions:
                for part in postorder(condition):
                    if isinstance(part, Relation) and not isinstance(part, Junction):
                        found[part.left - part.right] = None
        elif isinstance(node, (Written, Applied)):
            raise DomainError(f"it is not known where {node} is continuous")
    return [e for e in found if any(n is variable for n in postorder(e))]


def _of_power(node: Power, kinks: bool, found: dict[Expression, None]) -> None:
    exponent = node.exponent
    if isinstance(exponent, Number) and exponent.is_rational:
        q = exponent.rational
        if q < 0 or (q.denominator != 1 and kinks):
            found[node.base] = None
        return
    if not (isinstance(node.base, Number) and node.base.is_rational and node.base.rational > 0):
        found[node.base] = None


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
