"""Results of matrices on paper: lists of vectors, eigenvalues, decompositions with their letters, and tables of cases."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from gelvo.operations.case_table import CaseTable
from gelvo.operations.matrix_results import CountResult, ListResult, MatrixCase, PartsResult, TableResult, WordResult
from gelvo.typesetting.layout import qualified
from gelvo.typesetting.pieces import Layout, atom, equals, joined, lines, row

Arranged = Callable[[object], Layout]
COMMA = (",", "separator")


def cases_layout(table: CaseTable, arranged: Arranged) -> Layout:
    """A line for each case: the result, and where it holds."""
    found = []
    for case in table:
        said = atom("not worked out", "text") if case.result is None else result_layout(case.result, arranged)
        found.append(qualified(said, case.when))
    return lines(found)


def result_layout(value: Any, arranged: Arranged) -> Layout:
    """What a matrix gave, whatever its kind."""
    for kind, work in KINDS:
        if isinstance(value, kind):
            return work(value, arranged)
    return arranged(value)


def _listed(value: ListResult, arranged: Arranged) -> Layout:
    if not value:
        return atom("only the zero vector", "text")
    pieces = []
    for item in value:
        if isinstance(item, tuple):
            number, vectors = item
            beside = vectors if isinstance(vectors, list) else [vectors]
            pieces.append(row(arranged(number), atom(": ", "text"), joined([arranged(v) for v in beside], atom(*COMMA))))
        else:
            pieces.append(arranged(item))
    return joined(pieces, atom(*COMMA))


def _counted(value: TableResult, arranged: Arranged) -> Layout:
    pieces = [row(arranged(v), atom(f" ({k} times)", "text")) if k > 1 else arranged(v) for v, k in value.items()]
    return joined(pieces, atom(*COMMA))


def _parts(value: PartsResult, arranged: Arranged) -> Layout:
    pieces = []
    for letter, m in zip(value.letters, value, strict=True):
        name, matrix = arranged(letter), arranged(m)
        pieces.append(row(name, equals(row(name, matrix)), matrix))
    return joined(pieces, atom(*COMMA))


KINDS: tuple[tuple[type, Callable[[Any, Arranged], Layout]], ...] = (
    (ListResult, _listed),
    (TableResult, _counted),
    (PartsResult, _parts),
    (CountResult, lambda value, arranged: arranged(int(value))),
    (WordResult, lambda value, arranged: atom(str(value), "text")),
    (MatrixCase, lambda value, arranged: result_layout(value.result, arranged)),
    (str, lambda value, arranged: atom(value, "text")),
)
