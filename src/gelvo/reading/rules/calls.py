"""Calls: functions of the catalogue, of matrices, of the reader's own, cases."""

from __future__ import annotations

from typing import cast

from gelvo.deciding.algebraic import polynomial_root
from gelvo.errors import DomainError
from gelvo.expression import building
from gelvo.expression.constants import ZERO
from gelvo.expression.equation import in_each
from gelvo.expression.nodes import Condition, Expression
from gelvo.expression.registry import FUNCTIONS
from gelvo.expression.traversal import substitute
from gelvo.matrices.matrix import Matrix
from gelvo.operations.matrices import MADE_MATRICES, OF_MATRICES
from gelvo.reading import messages, words
from gelvo.reading.context import Own
from gelvo.reading.rules.names import applied, name, subscripted
from gelvo.reading.state import Reading, column_of, end_of
from gelvo.reading.tree import Read, Tree, Value, Values


def call(at: Reading, node: Tree, values: Values) -> Read:
    name = words.plain_name(str(values[0]))
    at.not_failed(name, node)
    listed = node.children[1].children if len(node.children) > 1 else []
    inner = values[1] if len(values) > 1 else []
    if name == "cases":
        return _cases(at, node, listed, inner)
    for value, child in zip(inner, listed, strict=True):
        if isinstance(value, tuple):
            raise at.fault("`when` and `otherwise` stand only inside cases(…)", child)
    if any(isinstance(v, Matrix) for v in inner):
        return _of_matrix(at, node, name, inner)
    arguments = [at.value(v, c) for v, c in zip(inner, listed, strict=True)]
    if name in at.context.unknowns:
        return applied(at, node, name, [0] * len(at.context.unknowns[name]), arguments)
    partial = subscripted(at, name)
    if partial is not None:
        return applied(at, node, partial[0], partial[1], arguments)
    if name in at.context.functions:
        return _own_function(at, node, name, at.context.functions[name], arguments)
    if name in at.context.operations:
        result = at.context.operations[name](*arguments)
        return result if isinstance(result, Matrix) else at.value(result, node)
    return _of_catalogue(at, node, name, listed, arguments)


def _of_catalogue(at: Reading, node: Tree, name: str, listed: list[Tree], arguments: list[Expression]) -> Value:
    """A function of the catalogue, a root, or a written form."""
    at.called.setdefault(name, column_of(node))
    if name == "log" and len(arguments) == 2:
        shown = [at.text_of(c) for c in listed]
        fitting = {"10": "log10", "2": "log2"}.get(shown[1])
        meant = f"{fitting}({shown[0]})" if fitting else f"ln({shown[0]})/ln({shown[1]})"
        raise at.fault("log is the natural logarithm, and takes 1 argument", node, f"Did you mean  {meant} ?")
    name = words.SAME_FUNCTION.get(name, name)
    if name == "sqrt":
        if len(arguments) != 1:
            raise at.fault(f"sqrt takes 1 argument, not {len(arguments)}", node)
        return at.noted(building.sqrt(arguments[0]))
    if name in building.WRITTEN_FORMS:
        return building.written(name, *arguments)
    if name == "polynomial_root":
        return _polynomial_root(at, node, arguments)
    if name in MADE_MATRICES:
        return _made_matrix(at, node, name, arguments)
    if name not in FUNCTIONS:
        spelt = str(node.children[0])
        inside = at.text[column_of(node) + len(spelt) : end_of(node)].strip().strip("()")
        near = {*at.context.declared, *at.bare, *at.context.definitions}
        raise messages.unknown_function(at.text, column_of(node), spelt, inside, near)
    return at.noted(building.call(name, *arguments))


def _of_matrix(at: Reading, node: Tree, name: str, arguments: Values) -> Value:
    """A function of a matrix: `transpose(A)`, `determinant(A)`, …; an operation of a derivation acts entry by entry."""
    work = at.context.operations.get(name) or OF_MATRICES.get(name)
    if work is None:
        known = ", ".join(sorted(OF_MATRICES))
        raise at.fault(f"{name} is not a function of matrices (there are {known})", node)
    return work(*arguments)


def entry(at: Reading, node: Tree, values: Values) -> Read:
    """`A[0, 1]`: an entry of a matrix that a name stands for, row and column counted from 0; of a row or a column one number does."""
    value = name(at, node, values[:1])
    if not isinstance(value, Matrix):
        raise at.fault(f"`{values[0]}` is not a matrix, so it has no entries", node, f"For a product write  {values[0]}*[…]")
    places = [at.value(v, c) for v, c in zip(values[1:], node.children[1:], strict=True)]
    if len(places) == 1 and 1 in value.shape:
        places = [ZERO, places[0]] if value.shape[0] == 1 else [places[0], ZERO]
    if len(places) != 2:
        raise at.fault("an entry has a row and a column, both counted from 0:  A[0, 1]", node)
    return cast(Read, OF_MATRICES["entry"](value, *places))


def _made_matrix(at: Reading, node: Tree, name: str, arguments: list[Expression]) -> Value:
    """identity(3), zeros(2, 3), …"""
    try:
        return MADE_MATRICES[name](*arguments)
    except TypeError:
        raise at.fault(f"{name} takes the sizes of a matrix, not {len(arguments)} arguments", node) from None


def _polynomial_root(at: Reading, node: Tree, arguments: list[Expression]) -> Value:
    if len(arguments) != 2:
        raise at.fault(f"polynomial_root takes a polynomial and the number of a root, not {len(arguments)} arguments", node)
    try:
        return polynomial_root(arguments[0], arguments[1])
    except DomainError as fault:
        raise at.fault(str(fault), node) from None


def _cases(at: Reading, node: Tree, listed: list[Tree], inner: Values) -> Value:
    pieces: list[tuple[Expression, Condition]] = []
    otherwise: Expression | None = None
    for value, child in zip(inner, listed, strict=True):
        if not isinstance(value, tuple):
            raise at.fault("each part of cases(…) reads  value when condition", child)
        if value[0] == "otherwise":
            otherwise = value[1]
        else:
            pieces.append((value[1], value[2]))
    return building.cases(pieces, otherwise)


def _own_function(at: Reading, node: Tree, name: str, own: Own, arguments: list[Expression]) -> Read:
    parameters, body = own
    if len(parameters) != len(arguments):
        raise at.fault(f"{name} takes {len(parameters)} arguments, not {len(arguments)}", node)
    table = dict(zip(parameters, arguments, strict=True))
    return in_each(body, lambda e: substitute(e, table))
