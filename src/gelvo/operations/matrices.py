"""Building matrices, their methods that need facts, and operations that act entry by entry."""

from __future__ import annotations

import functools
import random
from collections.abc import Callable, Iterable, Sequence
from typing import Any, SupportsInt

from gelvo.errors import DomainError
from gelvo.expression.building import junction, number, relation
from gelvo.expression.nodes import Condition, Expression
from gelvo.expression.registry import Hooks
from gelvo.expression.traversal import names
from gelvo.matrices import elimination
from gelvo.matrices.matrix import Matrix, check_size, identity
from gelvo.operations import matrix_arrays, matrix_forms, matrix_functions, matrix_methods
from gelvo.operations.boundary import told
from gelvo.operations.matrix_arrays import rows_of
from gelvo.operations.matrix_steps import determinant_answer
from gelvo.operations.rewriting import rename as rename_names
from gelvo.operations.trust import equal


def matrix(rows: Any) -> Matrix:
    """A matrix from its rows, from text such as "[1, 2; 3, a]", from an array of NumPy or a table of pandas.

    rows: a list of rows of expressions, numbers or text. Raises DomainError where the rows differ in length.

    >>> import gelvo
    >>> gelvo.matrix([[1, "a"], [0, 1]]) @ gelvo.column(["x", "y"])
    [a*y + x; y]
    """
    if isinstance(rows, Matrix):
        return rows
    rows = rows_of(rows)
    if not isinstance(rows, Iterable) or any(
        isinstance(r, str) or not isinstance(r, Iterable) for r in rows if not isinstance(rows, str)
    ):
        raise DomainError(f"a matrix is a list of rows, each a list, or text such as [1, 2; 3, 4], not {rows!r}")
    if isinstance(rows, str):
        value = Hooks.read(rows)
        if not isinstance(value, Matrix):
            raise DomainError(f"{rows!r} is not a matrix: write [1, 2; 3, 4], rows apart by semicolons")
        return value
    return Matrix(list(rows))


def from_columns(columns: Sequence[Any]) -> Matrix:
    """A matrix from its columns: lists, or matrices of one column.

    >>> import gelvo
    >>> gelvo.from_columns([[1, 2], [3, 4]])
    [1, 3; 2, 4]
    """
    for column in columns:
        if not isinstance(column, Iterable) or isinstance(column, str):
            raise DomainError(f"a column is a list of entries, or a matrix of one column, not {column!r}")
    return Matrix([list(c) for c in columns]).transpose()


def from_function(rows: int, columns: int, entry: Callable[[int, int], Any]) -> Matrix:
    """A matrix whose entries are a function of row and column, both counted from 0.

    >>> import gelvo
    >>> gelvo.from_function(2, 3, lambda i, j: i + 10*j)
    [0, 10, 20; 1, 11, 21]
    """
    return Matrix([[entry(i, j) for j in range(columns)] for i in range(rows)])


def diagonal(*entries: Any) -> Matrix:
    """A square matrix with these entries on its diagonal.

    >>> import gelvo
    >>> gelvo.diagonal("a", 2)
    [a, 0; 0, 2]
    """
    listed = list(entries[0]) if len(entries) == 1 and isinstance(entries[0], (list, tuple, Matrix)) else list(entries)
    return Matrix([[e if i == j else 0 for j in range(len(listed))] for i, e in enumerate(listed)])


def random_matrix(rows: int, columns: int, seed: int, lowest: int = -9, highest: int = 9) -> Matrix:
    """A matrix of random whole numbers for practice; the same seed gives the same matrix.

    >>> import gelvo
    >>> gelvo.random_matrix(2, 2, seed=4) == gelvo.random_matrix(2, 2, seed=4)
    True
    """
    check_size(rows, columns)
    source = random.Random(seed)
    return Matrix([[source.randint(lowest, highest) for _ in range(columns)] for _ in range(rows)])


def determinant(self: Matrix, steps: bool = False) -> Any:
    """The determinant of a square matrix; steps: an answer with the way by cofactors in `.steps`."""
    value = elimination.determinant(self)
    return determinant_answer(self, value) if steps else value


def equality(a: Matrix, b: Matrix) -> Condition:
    """a = b as one condition: equal entry by entry."""
    if a.shape != b.shape:
        raise DomainError(f"matrices of {a.shape[0]} x {a.shape[1]} and {b.shape[0]} x {b.shape[1]} cannot be equal")
    return junction("and", [relation("=", p, q) for p, q in zip(a.flat(), b.flat(), strict=True)])


def is_equal(self: Matrix, other: Matrix, given: Iterable[object] = ()) -> bool:
    """Whether every entry is equal; raises Undecided where that could not be told."""
    return self.shape == other.shape and all(equal(a, b, given) for a, b in zip(self.flat(), other.flat(), strict=True))


def rename(self: Matrix, table: Any) -> Matrix:
    """Names exchanged in every entry that has them."""
    known = {n.name for n in self.free_names}
    wanted = {str(getattr(k, "name", k)): v for k, v in dict(table).items()}
    missing = [k for k in wanted if k not in known]
    if missing:
        raise DomainError(f"there is no name {missing[0]} to rename in this matrix")

    def one(e: Expression) -> object:
        own = {k: v for k, v in wanted.items() if k in {n.name for n in names(e)}}
        return rename_names(e, own) if own else e

    return self.map(one)


METHODS: dict[str, Callable[..., Any]] = {
    **matrix_methods.METHODS, **matrix_functions.METHODS, **matrix_forms.METHODS, **matrix_arrays.METHODS, "determinant": determinant, "equal": is_equal, "rename": rename,
}  # fmt: skip


def _whole(value: Expression | SupportsInt) -> int:
    rational = getattr(value, "rational", value)
    if int(rational) != rational:
        raise DomainError(f"a row or column number is a whole number from 0, not {value}")
    return int(rational)


# the functions of matrices in formula text; rows and columns are counted from 0 there too
def _filled(value: int) -> Callable[..., Matrix]:
    """A matrix of so many rows and columns, all of whose entries are a number."""

    def made(rows: Expression, columns: Expression | None = None) -> Matrix:
        counts = [_count(rows), _count(rows if columns is None else columns)]
        check_size(*counts)
        return Matrix([[value] * counts[1] for _ in range(counts[0])])

    return made


def _count(size: Expression) -> int:
    if not (size.is_whole and size.rational > 0):
        raise DomainError(f"the size of a matrix is a positive whole number, not {size}")
    return int(size.rational)


def _rank(m: Matrix) -> Expression:
    """The rank as a number in a formula, where nothing can be said beside it."""
    found = matrix_methods.rank(m)
    if found.conditions:
        raise DomainError(
            f"the rank is {int(found)} if {junction('and', found.conditions)}: a formula cannot say so, ask for the rank by itself"
        )
    return number(int(found))


# in text: identity(3), diagonal(a, b), zeros(2, 3), ones(2)
MADE_MATRICES: dict[str, Callable[..., Matrix]] = {
    "identity": lambda size: identity(_count(size)),
    "diagonal": lambda *entries: diagonal(list(entries)),
    "zeros": _filled(0),
    "ones": _filled(1),
}
OF_MATRICES: dict[str, Callable[..., Any]] = {
    "transpose": Matrix.transpose, "conjugate_transpose": Matrix.conjugate_transpose, "trace": Matrix.trace,
    "determinant": determinant, "inverse": matrix_methods.inverse, "dot": Matrix.dot, "cross": Matrix.cross, "length": Matrix.length,
    "exponential": lambda m, t=None: matrix_functions.exponential(m, t), "row": lambda m, i: m.row(_whole(i)),
    "column": lambda m, j: m.column(_whole(j)), "entry": lambda m, i, j: m[_whole(i), _whole(j)],
    "adjugate": matrix_methods.adjugate, "rank": _rank, "power": matrix_functions.power,
    "norm": matrix_forms.norm, "kronecker": matrix_forms.kronecker, "hadamard": matrix_forms.hadamard, "outer": matrix_forms.outer,
    "exterior": matrix_forms.exterior, "block_diagonal": matrix_forms.block_diagonal, "square_root": matrix_functions.square_root,
    "logarithm": matrix_functions.logarithm,
}  # fmt: skip


def attach(operations: dict[str, Callable[..., object]]) -> None:
    """Gives matrices their methods, those of expressions among them."""
    for word, method in {**operations, **METHODS}.items():
        setattr(Matrix, word, told(method))


def entrywise(operation: Callable[..., object]) -> Callable[..., object]:
    """The operation, which also takes a matrix and then acts on each entry: answers become their formulas, conditions those of the matrix."""

    @functools.wraps(operation)
    def work(expression: object, *arguments: object, **options: object) -> object:
        if not isinstance(expression, Matrix):
            return operation(expression, *arguments, **options)
        rows = [[operation(e, *arguments, **options) for e in row] for row in expression.entries]
        found = [c for row in rows for e in row if not isinstance(e, Expression) for c in getattr(e, "conditions", ())]
        return Matrix(rows, (*expression.conditions, *found))

    return work
