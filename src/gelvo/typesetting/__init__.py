"""LaTeX, MathML Core and two-dimensional text, all from one layout in the order that physicists read."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from gelvo.errors import ExportError
from gelvo.expression.building import looks_negative, negate, to_expression
from gelvo.expression.nodes import Node, Number, Product
from gelvo.expression.registry import Hooks
from gelvo.expression.traversal import tree_size
from gelvo.matrices.matrix import Matrix
from gelvo.operations.answer import Answer
from gelvo.operations.series import Series
from gelvo.operations.solutions import Solutions
from gelvo.typesetting import latex, mathml, text
from gelvo.typesetting.layout import SUM, Layout, atom, fence, grid, joined, layout_of, row, wrapped
from gelvo.typesetting.solutions import solutions_layout

STYLES = {"latex": latex.render, "mathml": mathml.render, "text": text.render}
LARGEST = 20_000


def arranged(thing: object) -> Layout:
    """The layout of an expression, a condition, an equation, an answer or solutions."""
    if isinstance(thing, Series):
        return _series(thing)
    if isinstance(thing, Solutions):
        return solutions_layout(thing)
    inner = getattr(thing, "expression", None)
    if isinstance(inner, Node):
        thing = inner
    if isinstance(thing, Node):
        if tree_size(thing) > LARGEST:
            raise ExportError(f"the formula has {tree_size(thing)} parts, too many to typeset; give inner parts names first")
        return layout_of(thing)
    if isinstance(thing, (int, float, str)):
        return arranged(Hooks.read(thing) if isinstance(thing, str) else to_expression(thing))
    for marks, work in OBJECTS:
        if all(hasattr(thing, mark) for mark in marks):
            return work(thing)
    raise ExportError(f"a {type(thing).__name__} cannot be typeset")


def _matrix(thing: Matrix) -> Layout:
    if tree_size_of(thing) > LARGEST:
        raise ExportError("the matrix has too many parts to typeset")
    return grid([arranged(e) for e in thing.flat()], thing.shape[1])


def tree_size_of(matrix: Matrix) -> int:
    return sum(tree_size(e) for e in matrix.flat())


def _series(series: Series) -> Layout:
    """The terms by rising powers, and what is left out."""
    pieces: list[Layout] = []
    for term in series.in_order:
        minus = isinstance(term, (Number, Product)) and looks_negative(term)
        if pieces or minus:
            pieces.append(atom("-" if minus else "+", "operator" if pieces else "sign"))
        pieces.append(wrapped(arranged(negate(term) if minus else term), SUM))
    if series.remainder is not None:
        pieces += [atom("+", "operator"), atom("O", "name"), fence(arranged(series.remainder))]
    return row(*pieces, level=SUM)


def qualified(formula: Layout, conditions: Sequence[object], mark: str = "") -> Layout:
    """A formula with its conditions, and a word about its verdict."""
    if conditions:
        formula = row(formula, atom("if", "word"), joined([arranged(c) for c in conditions], atom("and", "word")))
    return row(formula, atom(f"({mark})", "word")) if mark else formula


def typeset(thing: object, style: str = "latex") -> str:
    """A formula in one of the styles."""
    render = STYLES.get(style)
    if render is None:
        raise ExportError(f"{style!r} is not a style; choose latex, mathml or text")
    return render(arranged(thing))


def _with_conditions(thing: object) -> Layout:
    """An answer or solutions with all that a reader has to know beside the formula."""
    layout = arranged(thing)
    if isinstance(thing, Answer):
        mark = "not worked out" if thing.reason else "" if thing.verdict == "proved" else thing.verdict
        return qualified(layout, thing.conditions, mark)
    if isinstance(thing, Solutions):
        common = thing.conditions_of(0) if len(thing) == 1 else thing.conditions
        return qualified(layout, common, "" if thing.verdict == "proved" else thing.verdict)
    return layout


def mimebundle(thing: object) -> dict[str, str]:
    """What a notebook shows: LaTeX, and plain two-dimensional text."""
    try:
        layout = _with_conditions(thing)
    except ExportError:
        return {"text/plain": str(thing)}
    return {"text/latex": f"$\\displaystyle {latex.render(layout)}$", "text/plain": text.render(layout)}


# what else is typeset, told by what it has: a matrix, a set of solutions, a motion, an equation, a fact
OBJECTS: tuple[tuple[tuple[str, ...], Callable[[Any], Layout]], ...] = (
    (("flat", "shape"), _matrix),
    (("condition", "intervals"), lambda thing: arranged(thing.condition)),
    (("mass_matrix", "equations"), lambda thing: joined([arranged(e) for e in thing.equations], atom(";", "punctuation"))),
    (("left", "right"), lambda thing: row(arranged(thing.left), atom("=", "relation"), arranged(thing.right))),
    (("domain", "name"), lambda thing: row(arranged(thing.name), atom(thing.domain, "word"))),
)
