"""What working a formula out costs, in units of an addition; measured with a C compiler on a common processor."""

from __future__ import annotations

from gelvo.code.careful import BY_VALUE, takes_pairs
from gelvo.code.digits.exactness import is_exact, two_products
from gelvo.code.digits.numeric import CAREFUL, GROUPED
from gelvo.expression.nodes import Call, Cases, Expression, Node, Number, Power, Product, Relation, Sum
from gelvo.expression.traversal import postorder

FUNCTION, DIVISION, PAIR, PAIR_FUNCTION = 12.0, 3.0, 20.0, 700.0
PRODUCTS, FROM_NUMBERS = 12.0, 7.0  # a*b + c*d, and a pair from two numbers
CALLS = {"sqrt": 4.0, "abs": 0.5, "sign": 1.0, "binade": 20.0, "floor": 1.0, "ceil": 1.0, "min": 1.0, "max": 1.0, "hypot": 6.0, "grouped": 0.0,
         "exp": 8.0, "ln": 8.0, "tan": 20.0, "atan2": 20.0, "asinh": 20.0, "acosh": 20.0, "atanh": 20.0, "expm1": 12.0, "log1p": 12.0}  # fmt: skip
ON_PAIRS = {"sqrt": 60.0, **dict.fromkeys(("atan", "atan2", "asin", "acos"), 2 * PAIR_FUNCTION)}
POWER, DOUBLE = 25.0, 1.5


def cost(*formulas: Expression, in_double: bool = False, whole: bool = False) -> float:
    """The sum over all parts, each once; of cases the one that is worked out last, with the conditions.

    in_double: what others work out on pairs is worked out in double precision; whole: all that is written counts, whichever case it is.
    """
    needed: dict[Node, None] = {}
    stack: list[Node] = [*formulas]
    while stack:
        node = stack.pop()
        if node not in needed:
            needed[node] = None
            inside = isinstance(node, Call) and node.function is CAREFUL
            chosen = isinstance(node, Cases) and not whole
            stack += () if inside else (node.otherwise, *node.conditions) if chosen else node.children  # type: ignore[attr-defined]
    return sum(_in_double(n) if in_double and isinstance(n, Call) and n.function is CAREFUL else _one(n) for n in needed)


def _in_double(node: Call) -> float:
    return DOUBLE * cost(node.arguments[0]) + 2


def _one(node: Node) -> float:
    if isinstance(node, Sum):
        scaled = sum(1 for c in node.coefficients if c not in (1, -1))
        return len(node.terms) + bool(node.constant) - 1 + scaled
    if isinstance(node, Product):
        return len(node.factors) - 1 + (node.coefficient not in (1, -1)) + (DIVISION if any(map(_below, node.factors)) else 0)
    if isinstance(node, Power):
        return _power(node)
    if isinstance(node, Call):
        if node.function is CAREFUL:
            inner = node.arguments[0]
            if two_products(inner):
                return PRODUCTS
            if takes_pairs(inner):
                slope = 2.0 if isinstance(inner, Call) and (inner.name in BY_VALUE or inner.name == "exp") else FUNCTION
                return _one(inner) + slope + sum(_on_pairs(n) for c in inner.children for n in postorder(c))
            return sum(_on_pairs(n) for n in postorder(inner))
        return 0.0 if node.function is GROUPED else CALLS.get(node.name, FUNCTION)
    return 1.0 if isinstance(node, Relation) else 0.0


def _on_pairs(node: Node) -> float:
    if is_exact(node):
        return _one(node)
    if isinstance(node, (Sum, Product)) and all(map(is_exact, node.children)) and len(node.children) == 2:
        return FROM_NUMBERS
    if isinstance(node, Call) and node.name not in ("abs", "min", "max", "grouped"):
        return ON_PAIRS.get(node.name, PAIR_FUNCTION)
    if isinstance(node, Power) and _power(node) >= POWER:
        return 2 * PAIR_FUNCTION
    return PAIR * _one(node)


def _below(node: Node) -> bool:
    return (
        isinstance(node, Power) and isinstance(node.exponent, Number) and node.exponent.is_rational and node.exponent.rational < 0
    )


def _power(node: Power) -> float:
    exponent = node.exponent
    if not isinstance(exponent, Number) or not exponent.is_rational:
        return POWER
    size = abs(exponent.rational)
    if size.denominator == 1 and size <= 4:
        return float(size - 1)
    return CALLS["sqrt"] + float(size.numerator > 1) if size.denominator == 2 and size.numerator <= 3 else POWER
