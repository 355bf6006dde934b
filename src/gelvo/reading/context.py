"""What names mean while a text is read."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import TypeAlias

from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Condition, Expression, Name, Node
from gelvo.expression.traversal import postorder
from gelvo.facts.statements import DomainFact
from gelvo.matrices.matrix import Matrix
from gelvo.reading.tree import Read, Value

Own: TypeAlias = tuple[tuple[Name, ...], Read]  # a function of one's own: its parameters, its body


class Context:
    """What names mean while a text is read.

    declared: names with their domains; unknowns: name -> its arguments as declared; functions: one's own functions as
    (parameters, body); definitions: names that stand for a formula; operations: what may be called inside a formula;
    failed: names whose definition went wrong, and what to say to who uses one; cancelled: what parts that cancelled out of the
    inequalities read so far need to be real.
    """

    def __init__(
        self,
        declared: Mapping[str, Name] | None = None,
        unknowns: Mapping[str, tuple[Expression, ...]] | None = None,
        functions: Mapping[str, Own] | None = None,
        definitions: Mapping[str, object] | None = None,
        operations: Mapping[str, Callable[..., Value]] | None = None,
        failed: Mapping[str, str] | None = None,
    ) -> None:
        self.failed = dict(failed or {})
        self.cancelled: list[Condition] = []
        self.declared = dict(declared or {})
        self.unknowns = dict(unknowns or {})
        self.functions = dict(functions or {})
        self.definitions = dict(definitions or {})
        self.operations = dict(operations or {})

    @staticmethod
    def of(*formulas: object) -> Context:
        """The names, domains and unknown functions of given formulas."""
        context = Context()
        context.learn(*formulas)
        return context

    def learn(self, *formulas: object) -> None:
        """Adds the names and unknown functions of further formulas; what is known already stays."""
        for root in [n for f in formulas for n in _nodes(f)]:
            for node in postorder(root):
                if isinstance(node, Name):
                    self.declared.setdefault(node.name, node)
                elif isinstance(node, Applied):
                    known = self.unknowns.get(node.name)
                    if known is None or not all(isinstance(a, Name) for a in known):
                        self.unknowns[node.name] = node.arguments


def _nodes(formula: object) -> list[Node]:
    if isinstance(formula, Node):
        return [formula]
    if isinstance(formula, Equation):
        return [formula.left, formula.right]
    if isinstance(formula, Matrix):
        return list(formula.flat())
    if isinstance(formula, DomainFact):
        return [formula.name]
    inner = getattr(formula, "expression", None)
    return [inner] if isinstance(inner, Node) else []
