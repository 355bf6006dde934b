"""Arguments as people give them: expressions, answers, numbers or text; facts; variables by name."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any, NamedTuple

from gelvo.algebra.facts import Facts
from gelvo.errors import DomainError, FormulaError
from gelvo.expression.building import name, to_expression
from gelvo.expression.nodes import Applied, Condition, Equation, Expression, Name, Node
from gelvo.expression.registry import Hooks
from gelvo.expression.traversal import check_one_meaning, postorder


class Arguments(NamedTuple):
    """The read arguments of one call, and its facts."""

    values: tuple[Any, ...]
    facts: Facts
    context: Any


def take(*items: Any, given: Iterable[Any] = ()) -> Arguments:
    """Reads every text argument with the names and domains of the others."""
    if isinstance(given, (str, Condition, Equation)):
        given = [given]
    given = list(given)
    plain = [i for i in items if not isinstance(i, str)]
    context = Hooks.read.context(*plain, *[g for g in given if not isinstance(g, str)])  # type: ignore[attr-defined]
    values: list[Any] = []
    for item in items:
        value = Hooks.read(item, context) if isinstance(item, str) else _plain(item)
        context = Hooks.read.context(*plain, *values) if isinstance(item, str) else context  # type: ignore[attr-defined]
        values.append(value)
    read_given = Hooks.read.facts(given, context)  # type: ignore[attr-defined]
    check_one_meaning([p for v in (*values, *read_given) for p in _parts(v)])
    return Arguments(tuple(values), Facts(read_given), context)


def _plain(item: Any) -> Any:
    if item is None or isinstance(item, (Node, Equation)):
        return item
    return to_expression(item)


def _parts(value: Any) -> Sequence[Any]:
    if isinstance(value, Equation):
        return (value.left, value.right)
    name_part = getattr(value, "name", None)
    if isinstance(name_part, Name):
        return (name_part,)
    return (value,)


def one_expression(value: Any, what: str = "an expression") -> Expression:
    if isinstance(value, Equation):
        raise FormulaError(f"{what} is needed here, but {value} is an equation", str(value), str(value).find("="))
    if isinstance(value, Condition):
        raise FormulaError(f"{what} is needed here, but {value} is a condition")
    if not isinstance(value, Expression):
        raise DomainError(f"{what} is needed here, not {type(value).__name__}")
    return value


def variable_in(item: Any, context: Any) -> Expression:
    """A variable or an unknown function, by object or by name."""
    if isinstance(item, str):
        text = item.strip()
        if not text.replace("'", "").replace("_", "a").isalnum() or text[0].isdigit():
            value = Hooks.read(text, context)
        elif text in context.unknowns or "'" in text:
            value = Hooks.read(text, context)
        else:
            spelt = Hooks.read.plain_name(text)  # type: ignore[attr-defined]
            value = context.declared.get(spelt) or name(spelt)
        item = value
    item = getattr(item, "expression", item)
    if not isinstance(item, (Name, Applied)):
        raise DomainError(f"a variable is needed here, not {item}")
    return item


def plain_variable(item: Any, context: Any) -> Name:
    found = variable_in(item, context)
    if not isinstance(found, Name):
        raise DomainError(f"a plain variable is needed here, not {found}")
    return found


def split_initial(given: Iterable[Any]) -> tuple[list[Equation], list[Any]]:
    """Initial values (equations about unknown functions) apart from facts."""
    initial: list[Equation] = []
    rest: list[Any] = []
    for fact in given:
        about = isinstance(fact, Equation) and any(isinstance(n, Applied) for n in postorder(fact.left - fact.right))
        (initial if about else rest).append(fact)
    return initial, rest
