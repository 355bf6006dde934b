"""What each rule of the grammar builds: (the reading, the node of the tree, the values of its children) -> a value."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from gelvo.reading.rules import arithmetic, calls, names, statements
from gelvo.reading.state import Reading

HANDLERS: dict[str, Callable[[Reading, Any, list[Any]], Any]] = {
    "disjunction": statements.disjunction, "conjunction": statements.conjunction, "negation": statements.negation,
    "comparison": statements.comparison, "piece": statements.piece, "otherwise": statements.otherwise,
    "sum": arithmetic.sum_of_terms, "product": arithmetic.product, "negative": arithmetic.negative, "positive": arithmetic.positive,
    "root": arithmetic.root, "implicit": arithmetic.implicit, "power": arithmetic.power, "number": arithmetic.number,
    "quantity": arithmetic.measured_number, "imaginary": arithmetic.imaginary, "factorial": arithmetic.factorial,
    "superscript": arithmetic.superscript, "absolute": arithmetic.absolute, "group": arithmetic.group,
    "matrix": arithmetic.matrix, "matrix_row": arithmetic.matrix_row,
    "name": names.name, "primed": names.primed, "slope": names.slope, "ordered": names.ordered, "arguments": names.arguments,
    "call": calls.call, "entry": calls.entry,
}  # fmt: skip
