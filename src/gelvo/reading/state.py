"""One reading of a text: what its names mean, what was noted on the way, and how faults are told."""

from __future__ import annotations

from typing import TypeVar

from gelvo.errors import FormulaError
from gelvo.expression import building
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Call, Condition, Expression, Number, Power, Relation
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import names
from gelvo.numbers.exact import from_decimal_text
from gelvo.reading import messages, words
from gelvo.reading.context import Context
from gelvo.reading.tree import Read, Tree

E = TypeVar("E", bound=Expression)


class Reading:
    """A text that is read in a context; conditions: what it divides by; parts: calls and powers, which may cancel; bare, called: how names are used."""

    def __init__(self, text: str, context: Context) -> None:
        self.text, self.context = text, context
        self.local: dict[str, Read] = {}
        self.conditions: dict[Condition, None] = {}
        self.parts: dict[Expression, None] = {}
        self.bare: dict[str, int] = {}
        self.called: dict[str, int] = {}
        self.measured = False  # whether a unit stands in the text

    def text_of(self, node: Tree) -> str:
        """The text from which a part was read."""
        if not hasattr(node, "data"):
            return str(node)
        return self.text[column_of(node) : end_of(node)]

    def fault(self, message: str, node: Tree, hint: str = "") -> FormulaError:
        return FormulaError(message, self.text, column_of(node), hint)

    def value(self, value: object, node: Tree) -> Expression:
        if isinstance(value, Expression):
            return value
        if isinstance(value, Equation) or (isinstance(value, Relation) and value.operator == "="):
            place = self.text.find("=", column_of(node))
            raise FormulaError(
                "`=` stands where a value is needed", self.text, max(place, 0), "An equation cannot be part of a sum or a call."
            )
        inner = getattr(value, "expression", None)
        if isinstance(inner, Expression):
            return inner
        raise self.fault("a condition stands where a value is needed", node)

    def condition(self, value: object, node: Tree) -> Condition:
        if isinstance(value, Condition):
            return value
        if isinstance(value, Equation):
            return value.condition
        raise self.fault("a condition such as x > 0 is needed here", node)

    def function_alone(self, node: Tree) -> None:
        """`sin^2(x)`, `2*sin`: the name of a function that no letter has, unless somebody declared it."""
        text = words.plain_name(str(node.children[0]))
        taken = (self.local, self.context.declared, self.context.definitions, self.context.unknowns, self.context.failed)
        if messages.names_a_function(text) and not any(text in group for group in taken):
            raise messages.function_alone(self.text, column_of(node), text)

    def spelt(self, token: object, node: Tree) -> str:
        """A name in plain letters; signs that are part of no name, such as ½, are told."""
        text = words.plain_name(str(token))
        if not text.isidentifier() and text not in words.BOUNDS:
            sign = next(c for k, c in enumerate(text) if not text[: k + 1].isidentifier())
            count = words.fraction_of(sign)
            raise self.fault(f"`{sign}` cannot be part of a name", node, f"Did you mean  ({count})*… ?" if count else "")
        return text

    def note_denominator(self, factor: Expression, child: Tree) -> None:
        if isinstance(factor, Number):
            if not factor.value:
                raise self.fault("division by zero", child)
        elif names(factor):
            self.conditions[building.relation("!=", factor, building.number(0))] = None

    def not_failed(self, name: str, node: Tree) -> None:
        if name in self.context.failed:
            raise self.fault(self.context.failed[name], node)

    def noted(self, part: E) -> E:
        """A call or power that may cancel out of an equation: what it needs is a condition still."""
        for factor in factors_in(part):  # sqrt(x/2) is a product
            if isinstance(factor, (Call, Power)):
                self.parts[factor] = None
        return part


def number_of(token: object) -> Expression:
    return building.number(from_decimal_text(str(token)))


def column_of(node: Tree) -> int:
    if hasattr(node, "start_pos"):
        return int(node.start_pos or 0)
    return int(getattr(node.meta, "start_pos", 0) or 0)


def end_of(node: Tree) -> int:
    return int(getattr(node.meta, "end_pos", 0) or 0)
