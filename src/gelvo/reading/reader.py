"""Text to expressions: a walk over the parse tree from the leaves up; nothing is ever evaluated as Python."""

from __future__ import annotations

from typing import Any, cast

from gelvo.errors import DomainError, FormulaError
from gelvo.expression import building
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Condition, Expression, Node, Number, Power, Relation
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import names, postorder
from gelvo.facts.store import Facts
from gelvo.forms.dimensions import unit_of
from gelvo.reading.context import Context
from gelvo.reading.parser import parsed
from gelvo.reading.rules import HANDLERS
from gelvo.reading.state import Reading
from gelvo.reading.tree import Read, Tree, Values
from gelvo.reading.unclear import look
from gelvo.solving.putting_back import real_part_conditions

LONGEST_TEXT, DEEPEST_NESTING = 2_000_000, 1000


def read(text: str, context: Context | None = None) -> Read:
    """A formula, an equation or a condition from text; FormulaError says where and what was probably meant.

    >>> import gelvo.functions
    >>> print(read("3x^2/2"))
    3*x^2/2
    """
    if not isinstance(text, str):
        raise FormulaError(f"a formula is text, not {type(text).__name__}")
    if len(text) > LONGEST_TEXT:
        raise FormulaError(f"the formula has {len(text)} characters; the limit is {LONGEST_TEXT}")
    _check_nesting(text)
    tree = parsed(text, "start")
    return _Builder(text, context or Context()).build(tree)


def _check_nesting(text: str) -> None:
    level = 0
    for place, letter in enumerate(text):
        if letter in "([{":
            level += 1
            if level > DEEPEST_NESTING:
                raise FormulaError(
                    f"parentheses are nested more than {DEEPEST_NESTING} deep",
                    text,
                    place,
                    "Give inner parts names with `where`.",
                )
        elif letter in ")]}":
            level = max(0, level - 1)


class _Builder(Reading):
    """One reading: the tree's nodes are worked off on an explicit stack."""

    def build(self, tree: Tree) -> Read:
        bindings = list(tree.children[1:])
        for binding in bindings:
            name = str(binding.children[0])
            self.local[name] = self._walk(binding.children[1])
        result = self._walk(tree.children[0])
        self._one_use()
        if self.measured:
            try:
                unit_of(result, {})
            except DomainError as fault:
                raise FormulaError(str(fault), self.text, 0) from None
        if isinstance(result, Equation):
            gone = self._conditions_of_cancelled(result.left, result.right)
            return Equation(result.left, result.right, dict.fromkeys([*result.conditions, *self.conditions, *gone]))
        if isinstance(result, Condition):  # a denominator that cancels, as in x^2/x < 5, is a condition still
            gone = [c for c in self.conditions if isinstance(c, Relation) and not _divides(c.left, result)]
            self.context.cancelled += self._conditions_of_cancelled(result)
            return building.junction("and", [result, *gone]) if gone else result
        return result

    def _one_use(self) -> None:
        for name, column in self.bare.items():
            if name in self.called:
                raise FormulaError(
                    f"`{name}` is used both as a variable and as a function in this formula", self.text, column,
                    f"Rename the variable, or write {name}*(…) for a product.",
                )  # fmt: skip

    def _walk(self, root: Tree) -> Read:
        values: Values = []
        stack: list[tuple[Any, bool]] = [(root, False)]
        while stack:
            node, ready = stack.pop()
            if not hasattr(node, "data"):
                values.append(node)
            elif ready:
                count = len(node.children)
                arguments = values[len(values) - count :] if count else []
                del values[len(values) - count :]
                values.append(self._one(node, arguments))
            else:
                look(self, node)
                stack.append((node, True))
                stack.extend((c, False) for c in reversed(node.children))
        return cast(Read, values[0])

    def _one(self, node: Tree, arguments: list[object]) -> object:
        handler = HANDLERS[node.data]
        try:
            return handler(self, node, arguments)
        except DomainError as fault:
            raise self.fault(str(fault), node) from None

    # each handler takes the tree node and the values of its children

    def _conditions_of_cancelled(self, *results: Node) -> list[Condition]:
        """What the parts need that are gone, as exp(ln(x)) = x needs x > 0, for solving it over the real numbers."""
        there = {n for result in results for n in postorder(result)}
        gone = [p for p in self.parts if p not in there and names(p)]
        if not gone:
            return []
        facts = Facts()
        if any(not facts.is_real(n) for p in gone for n in names(p)):
            return []
        kept = [c for n in there for c in real_part_conditions(n, facts)]
        return [c for p in gone for c in facts.open_conditions(real_part_conditions(p, facts)) if c not in kept]


def _divides(denominator: Expression, result: Condition) -> bool:
    """Whether every factor of a denominator is still one of the result."""
    below = {n.base for n in postorder(result) if isinstance(n, Power) and not _is_positive(n.exponent)}
    factors = factors_in(denominator)
    return all((f.base if isinstance(f, Power) else f) in below for f in factors)


def _is_positive(exponent: Expression) -> bool:
    return isinstance(exponent, Number) and exponent.is_rational and exponent.rational > 0
