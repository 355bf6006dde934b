"""Equations, relations, and what joins conditions."""

from __future__ import annotations

from gelvo.errors import FormulaError
from gelvo.expression import building
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Condition, Expression
from gelvo.matrices.matrix import Matrix
from gelvo.operations.matrices import equality
from gelvo.reading.state import Reading
from gelvo.reading.tree import Claim, Tree, Values


def disjunction(at: Reading, node: Tree, values: Values) -> Claim:
    if len(values) == 1:
        return values[0]
    return building.junction("or", [at.condition(v, c) for v, c in zip(values, node.children, strict=True)])


def conjunction(at: Reading, node: Tree, values: Values) -> Claim:
    return building.junction("and", [at.condition(v, c) for v, c in zip(values, node.children, strict=True)])


def negation(at: Reading, node: Tree, values: Values) -> Claim:
    return building.opposite(at.condition(values[-1], node.children[-1]))


def comparison(at: Reading, node: Tree, values: Values) -> Claim:
    if any(isinstance(v, Matrix) for v in values):
        return _matrix_claim(at, node, values)
    sides = [at.value(v, c) for v, c in zip(values[::2], node.children[::2], strict=True)]
    signs = [{"≤": "<=", "≥": ">=", "≠": "!="}.get(str(s), str(s)) for s in values[1::2]]
    if signs == ["="]:
        return Equation(sides[0], sides[1])
    if "=" in signs and len(signs) > 1:
        column = values[1::2][1].start_pos
        raise FormulaError("a chain of `=` states several equations at once", at.text, column, "Write them one by one.")
    return building.junction("and", [building.relation(s, a, b) for s, a, b in zip(signs, sides, sides[1:], strict=False)])


def _matrix_claim(at: Reading, node: Tree, values: Values) -> Claim:
    """A = B for matrices: equal entry by entry."""
    if len(values) != 3 or str(values[1]) != "=" or not all(isinstance(v, Matrix) for v in values[::2]):
        raise at.fault("matrices are compared with matrices by one `=`", node)
    return equality(values[0], values[2])


def piece(at: Reading, node: Tree, values: Values) -> tuple[str, Expression, Condition]:
    return ("when", at.value(values[0], node.children[0]), at.condition(values[1], node.children[1]))


def otherwise(at: Reading, node: Tree, values: Values) -> tuple[str, Expression]:
    return ("otherwise", at.value(values[0], node.children[0]))
