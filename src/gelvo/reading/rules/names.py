"""Names, and unknown functions with their derivatives."""

from __future__ import annotations

from typing import cast

from gelvo.expression import building
from gelvo.expression.nodes import Applied, Expression, Name, Node
from gelvo.expression.traversal import postorder, substitute
from gelvo.forms.differentiation import differentiate
from gelvo.operations.building import MEANT
from gelvo.reading import messages, words
from gelvo.reading.state import Reading, column_of
from gelvo.reading.tree import Read, Tree, Value, Values


def name(at: Reading, node: Tree, values: Values) -> Read:
    text = at.spelt(values[0], node)
    if text in at.local:
        return at.local[text]
    at.not_failed(text, node)
    if text in at.context.definitions:
        value = at.context.definitions[text]
        return cast(Read, value() if callable(value) and not isinstance(value, Node) else value)
    if text in at.context.unknowns:
        arguments = at.context.unknowns[text]
        return building.applied(text, arguments, (0,) * len(arguments))
    partial = subscripted(at, text)
    if partial is not None:
        return building.applied(partial[0], at.context.unknowns[partial[0]], partial[1])
    if text in words.CONSTANTS:
        return building.constant(words.CONSTANTS[text])
    if text in words.BOUNDS:
        return building.bound(words.BOUNDS[text])
    return _variable(at, node, text)


def subscripted(at: Reading, text: str) -> tuple[str, list[int]] | None:
    """u_xt of an unknown function u(x, t): the function, and how often it is differentiated by each argument."""
    stem, _, letters = text.rpartition("_")
    arguments = [str(a) for a in at.context.unknowns.get(stem, ())]
    if len(arguments) < 2 or not letters or not set(letters) <= set(arguments) or text in at.context.declared:
        return None
    return stem, [letters.count(a) for a in arguments]


def _variable(at: Reading, node: Tree, text: str) -> Expression:
    """A name that stands for nothing but itself; what it may have been meant to be is told."""
    known = at.context.declared.get(text)
    if known is None and text in MEANT:
        raise at.fault(f"`{text}` is not a name of its own here", node, f"Did you mean  {MEANT[text]} ?" if MEANT[text] else "")
    at.function_alone(node)
    at.bare.setdefault(text, column_of(node))
    if known is not None:
        return known
    if text == "j" and "j" in at.called:
        raise at.fault("`3j` and the name `j` stand in one formula, so it is not clear what j means", node)
    if at.context.declared:
        fault = messages.undeclared_product(at.text, column_of(node), text, at.context.declared)
        if fault is not None:
            raise fault
    return building.name(text)


def primed(at: Reading, node: Tree, values: Values) -> Value:
    name = words.plain_name(str(values[0]))
    at.not_failed(name, node)
    order = sum(words.PRIME_MARKS.get(mark, 1) for mark in values[1])
    if name not in at.context.unknowns:
        own = at.context.functions.get(name)
        if own is not None and len(values) > 2 and len(own[0]) == 1 and isinstance(own[1], Expression):
            body = differentiate(own[1], own[0][0], order)
            return substitute(body, {own[0][0]: at.value(values[2][0], node)})
        if len(values) < 3:
            raise at.fault(
                f"`{name}{values[1]}` is a derivative, but `{name}` is not declared as an unknown function", node,
                f"Write {name}{values[1]}(t), or declare  unknown {name}(t) .",
            )  # fmt: skip
    places = at.context.unknowns.get(name)
    if places is not None and len(places) != 1:
        raise at.fault(f"{name} has {len(places)} arguments: write derivative_of({name}(…), x)", node)
    arguments = [at.value(v, node) for v in values[2]] if len(values) > 2 else list(places or ())
    return applied(at, node, name, [order], arguments)


def slope(at: Reading, node: Tree, values: Values) -> Value:
    """(p*y')' as the derivative by what the unknown function inside depends on."""
    inside = at.value(values[0], node)
    places = {a for n in postorder(inside) if isinstance(n, Applied) for a in n.arguments}
    (place,) = places if len(places) == 1 else (None,)
    if not isinstance(place, Name):
        raise at.fault(
            f"`{values[1]}` after `)` is a derivative, but no one variable of unknown functions stands inside", node,
            "Write derivative_of(…, x).",
        )  # fmt: skip
    return differentiate(inside, place, sum(words.PRIME_MARKS.get(mark, 1) for mark in values[1]))


def ordered(at: Reading, node: Tree, values: Values) -> Value:
    orders = [int(str(v)[:9]) for v in values[2:-1]]  # a longer one is beyond every derivative
    return applied(at, node, words.plain_name(str(values[0])), orders, [at.value(v, node) for v in values[-1]])


def applied(at: Reading, node: Tree, name: str, orders: list[int], arguments: list[Expression]) -> Value:
    if len(orders) != len(arguments):
        raise at.fault(f"{name} takes {len(orders)} argument{'s' * (len(orders) != 1)}, not {len(arguments)}", node)
    return building.applied(name, arguments, orders)


def arguments(at: Reading, node: Tree, values: Values) -> Values:
    return values
