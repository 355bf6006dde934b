"""LaTeX, MathML Core and two-dimensional text, all from one layout in the order that physicists read."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from gelvo.errors import ExportError
from gelvo.expression.building import looks_negative, negate, to_expression
from gelvo.expression.nodes import Node, Number, Product
from gelvo.expression.registry import Hooks
from gelvo.expression.traversal import tree_size
from gelvo.expression.writing import came_in_with, with_options, with_typed, writing_now, written
from gelvo.matrices.matrix import Matrix
from gelvo.operations.answer import Answer
from gelvo.operations.case_table import CaseTable
from gelvo.operations.expansion import Series
from gelvo.operations.matrix_results import Beside
from gelvo.operations.solutions import Solutions
from gelvo.typesetting import latex, mathml, text
from gelvo.typesetting.breaking import PAGE, fitted
from gelvo.typesetting.common import taken_out
from gelvo.typesetting.layout import LARGEST, qualified, sized
from gelvo.typesetting.matrices import cases_layout, result_layout
from gelvo.typesetting.pieces import PRODUCT, Layout, atom, equals, fence, grid, inline, joined, row, summed, wrapped
from gelvo.typesetting.solutions import set_layout, solutions_layout

STYLES = {"latex": latex.render, "mathml": mathml.render, "text": text.render}


def arranged(thing: object) -> Layout:
    """The layout of an expression, a condition, an equation, an answer or solutions, as results are written here."""
    found = _arranged(thing)
    return inline(found) if writing_now().fractions == "inline" else found


def _arranged(thing: object) -> Layout:
    if isinstance(thing, Series):
        return _series(thing)
    if isinstance(thing, CaseTable) and thing.of_matrix:
        return cases_layout(thing, arranged)
    if isinstance(thing, Beside) and not isinstance(thing, Matrix):
        return result_layout(thing, arranged)
    inner = getattr(thing, "expression", None)
    if isinstance(inner, Node):
        thing = inner
    if isinstance(thing, Node):
        return sized(thing)
    if isinstance(thing, (int, float, str)):
        return _arranged(Hooks.read(thing) if isinstance(thing, str) else to_expression(thing))
    for marks, work in OBJECTS:
        if all(hasattr(thing, mark) for mark in marks):
            return work(thing)
    raise ExportError(f"a {type(thing).__name__} cannot be typeset")


def _matrix(thing: Matrix) -> Layout:
    if tree_size_of(thing) > LARGEST:
        raise ExportError("the matrix has too many parts to typeset")
    common, entries = taken_out(thing.flat())
    body = grid([arranged(e) for e in entries], thing.shape[1])
    return body if common is None else row(wrapped(sized(common), PRODUCT), atom("", "thin"), body, level=PRODUCT)


def tree_size_of(matrix: Matrix) -> int:
    return sum(tree_size(e) for e in matrix.flat())


def _series(series: Series) -> Layout:
    """The terms by rising powers, and what is left out."""
    terms: list[tuple[bool, Layout]] = []
    for term in series.in_order:
        minus = isinstance(term, (Number, Product)) and looks_negative(term)
        terms.append((minus, sized(negate(term) if minus else term)))
    if series.remainder is not None:
        terms.append((False, row(atom("O", "name"), fence(sized(series.remainder)))))
    return summed(terms)


def typeset(thing: object, style: str = "latex", width: int | None = None, **options: Any) -> str:
    """A formula in one of the styles; width: in letters, to which it is broken; options: how it is written, as for `writing`."""
    render = STYLES.get(style)
    if render is None:
        raise ExportError(f"{style!r} is not a style; choose latex, mathml or text")
    with written(with_options(writing_now(), options)), with_typed(came_in_with([thing])):
        layout = arranged(thing)
        return render(layout if width is None else fitted(layout, width))


def _with_conditions(thing: object) -> Layout:
    """An answer or solutions with all that a reader has to know beside the formula."""
    if isinstance(thing, Answer):
        mark = "not worked out" if thing.reason else "" if thing.verdict == "proved" else thing.verdict
        return qualified(arranged(thing), thing.conditions, mark)
    if isinstance(thing, Solutions):
        common = thing.conditions_of(0) if len(thing) == 1 else thing.conditions
        return qualified(solutions_layout(thing, common), (), "" if thing.verdict == "proved" else thing.verdict)
    if isinstance(thing, (Matrix, Beside)):
        return qualified(arranged(thing), thing.conditions)
    return arranged(thing)


def mimebundle(thing: object) -> dict[str, str]:
    """What a notebook shows: LaTeX, and plain two-dimensional text."""
    try:
        with with_typed(came_in_with([thing])):
            layout = _with_conditions(thing)
    except ExportError:
        return {"text/plain": str(thing)}
    layout = fitted(layout, PAGE)
    return {"text/latex": f"$\\displaystyle {latex.render(layout)}$", "text/plain": text.render(layout)}


def _equation(left: Layout, right: Layout) -> Layout:
    return row(left, equals(row(left, right)), right)


# what else is typeset, told by what it has: a matrix, a set of solutions, a motion, an equation, solutions, a fact
OBJECTS: tuple[tuple[tuple[str, ...], Callable[[Any], Layout]], ...] = (
    (("flat", "shape"), _matrix),
    (("condition", "cases"), set_layout),
    (("mass_matrix", "equations"), lambda thing: joined([arranged(e) for e in thing.equations], atom(";", "punctuation"))),
    (("left", "right"), lambda thing: _equation(arranged(thing.left), arranged(thing.right))),
    (("conditions_of",), solutions_layout),
    (("domain", "name"), lambda thing: row(arranged(thing.name), atom(thing.domain, "word"))),
)
