"""An immutable matrix of expressions."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from math import lcm
from operator import mul
from typing import Any, Self

from gmpy2 import mpq, mpz

from gelvo.deadline import checkpoint
from gelvo.errors import DomainError
from gelvo.expression.building import number, power, to_expression, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Condition, Expression, Name, Node, Number
from gelvo.expression.registry import Hooks
from gelvo.expression.traversal import names as names_of
from gelvo.forms.univariate import lowest_terms
from gelvo.functions.named import CONJ

LARGEST = 250_000


class Matrix:
    """Rows and columns of expressions, counted from 0 (row 0 is the first row on paper).

    A @ B is the product, A + B and 2*A act entry by entry, A[i, j] is an entry, A**n a power, A**-1 the inverse.
    .conditions: what the letters must be for it, as of an inverse; they travel with all that is made of it.

    >>> import gelvo
    >>> turn = gelvo.Matrix([["cos(phi)", "-sin(phi)"], ["sin(phi)", "cos(phi)"]])
    >>> print(turn.shape, turn[0, 1], (turn @ turn.transpose()).simplify())
    (2, 2) -sin(phi) [1, 0; 0, 1]
    """

    __slots__ = ("conditions", "entries")

    def __init__(self, rows: Sequence[Sequence[object]], conditions: Iterable[Condition] = ()) -> None:
        self.conditions: tuple[Condition, ...] = tuple(dict.fromkeys(conditions))
        listed = [list(r) for r in rows]
        if not listed or not listed[0]:
            raise DomainError("a matrix needs at least one row and one column")
        width = len(listed[0])
        for k, row in enumerate(listed):
            if len(row) != width:
                raise DomainError(f"row {k} has {len(row)} entries, but row 0 has {width}: all rows need the same number")
        check_size(len(listed), width)
        texts = any(isinstance(e, str) for row in listed for e in row)
        context = Hooks.read.context(*[e for row in listed for e in row if not isinstance(e, str)]) if texts else None
        self.entries: tuple[tuple[Expression, ...], ...] = tuple(_row(row, context) for row in listed)

    @classmethod
    def again(cls, entries: tuple[tuple[Expression, ...], ...], conditions: Iterable[Condition] = ()) -> Self:
        """A matrix from entries that were looked at before."""
        made = cls.__new__(cls)
        made.entries, made.conditions = entries, tuple(dict.fromkeys(conditions))
        return made

    # --- parts ------------------------------------------------------------------------------------------------------------

    @property
    def shape(self) -> tuple[int, int]:
        """(number of rows, number of columns)."""
        return len(self.entries), len(self.entries[0])

    def __getitem__(self, place: tuple[int, int]) -> Expression:
        if not (isinstance(place, tuple) and len(place) == 2):
            raise DomainError("an entry is A[row, column], both counted from 0; A.row(i) and A.column(j) give whole ones")
        i, j = place
        rows, columns = self.shape
        if not (-rows <= i < rows and -columns <= j < columns):
            raise DomainError(f"there is no entry [{i}, {j}] in a matrix of {rows} x {columns} (counted from 0)")
        return self.entries[i][j]

    def row(self, i: int) -> Matrix:
        """Row i, counted from 0, as a matrix of one row."""
        self[i, 0]
        return Matrix([self.entries[i]], self.conditions)

    def column(self, j: int) -> Matrix:
        """Column j, counted from 0, as a matrix of one column."""
        self[0, j]
        return Matrix([[r[j]] for r in self.entries], self.conditions)

    def flat(self) -> list[Expression]:
        """All entries, row by row."""
        return [e for row in self.entries for e in row]

    def __iter__(self) -> Iterator[Expression]:
        if 1 not in self.shape:
            raise DomainError("only a row or a column can be gone through entry by entry; use .flat() for all entries")
        return iter(self.flat())

    def map(self, work: Callable[[Expression], object]) -> Matrix:
        """A function applied to every entry."""
        return Matrix([[work(e) for e in row] for row in self.entries], self.conditions)

    @property
    def free_names(self) -> list[Name]:
        return names_of(*self.flat())

    # --- arithmetic ---------------------------------------------------------------------------------------------------------

    def _same_shape(self, other: Matrix, what: str) -> None:
        if self.shape != other.shape:
            raise DomainError(f"matrices of {_sized(self)} and {_sized(other)} cannot be {what}: the shapes must be equal")

    def __add__(self, other: object) -> Matrix:
        if not isinstance(other, Matrix):
            raise DomainError(
                f"a matrix and {other} cannot be added; for a multiple of the identity write A + {other}*identity(n)"
            )
        self._same_shape(other, "added")
        rows = [[a + b for a, b in zip(r, s, strict=True)] for r, s in zip(self.entries, other.entries, strict=True)]
        return Matrix(rows, (*self.conditions, *other.conditions))

    def __radd__(self, other: object) -> Matrix:
        return self + other

    def __neg__(self) -> Matrix:
        return self.map(lambda e: -e)

    def __pos__(self) -> Matrix:
        return self

    def __sub__(self, other: Matrix) -> Matrix:
        return self + (-other)

    def __rsub__(self, other: object) -> Matrix:
        return -self + other

    def __mul__(self, other: object) -> Matrix:
        if isinstance(other, Matrix):
            raise DomainError("the product of matrices is written A @ B in Python (in formula text A*B)")
        factor = to_expression(other)
        return self.map(lambda e: e * factor)

    __rmul__ = __mul__

    def __truediv__(self, other: object) -> Matrix:
        if isinstance(other, Matrix):
            raise DomainError("a matrix cannot be divided by a matrix: multiply by its inverse, A @ B**-1 or B**-1 @ A")
        return self * (1 / to_expression(other))

    def __matmul__(self, other: object) -> Matrix:
        if not isinstance(other, Matrix):
            raise DomainError(f"the product A @ B needs two matrices, and {other} is none")
        if self.shape[1] != other.shape[0]:
            raise DomainError(
                f"a matrix of {_sized(self)} cannot be multiplied by one of {_sized(other)}: {self.shape[1]} columns need as many rows"
            )
        conditions = (*self.conditions, *other.conditions)
        left, right = rationals(self), rationals(other)
        if left is not None and right is not None:
            return Matrix([[number(c) for c in row] for row in _product(left, right)], conditions)
        columns = list(zip(*other.entries, strict=True))
        rows = [[total([a * b for a, b in zip(row, c, strict=True)]) for c in columns] for row in self.entries]
        return Matrix(rows, conditions)

    def __pow__(self, exponent: Expression | int) -> Matrix:
        if not (to_expression(exponent).is_whole):
            return Hooks.matrix_power(self, exponent)
        count = to_expression(exponent).rational
        if self.shape[0] != self.shape[1]:
            raise DomainError(f"a matrix of {_sized(self)} is not square and has no powers")
        square = Hooks.inverse(self) if count < 0 else self
        exact = rationals(square)
        if exact is not None:
            return Matrix([[number(c) for c in row] for row in _power(exact, abs(int(count)))], square.conditions)
        result, rest = identity(self.shape[0]), abs(int(count))
        while rest:
            checkpoint()
            if rest & 1:
                result = (result @ square).map(lowest_terms)
            rest >>= 1
            square = (square @ square).map(lowest_terms) if rest else square
        return result

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Matrix) and self.entries == other.entries

    def __hash__(self) -> int:
        return hash(self.entries)

    # --- turning ------------------------------------------------------------------------------------------------------------

    def transpose(self) -> Matrix:
        """Rows and columns exchanged."""
        return Matrix.again(tuple(zip(*self.entries, strict=True)), self.conditions)

    def conjugate_transpose(self) -> Matrix:
        """The transpose with complex conjugates as entries."""
        return self.transpose().map(lambda e: CONJ(e))

    def trace(self) -> Expression:
        """The sum of the entries on the diagonal of a square matrix."""
        square(self, "a trace")
        return total([self.entries[i][i] for i in range(self.shape[0])])

    def dot(self, other: Matrix) -> Expression:
        """The sum of products of the entries of two rows or columns."""
        a, b = list(self), list(other)
        if len(a) != len(b):
            raise DomainError(f"vectors of {len(a)} and {len(b)} entries have no dot product")
        return total([x * y for x, y in zip(a, b, strict=True)])

    def cross(self, other: Matrix) -> Matrix:
        """The cross product of two columns (or rows) of three entries, as a column."""
        a, b = list(self), list(other)
        if len(a) != 3 or len(b) != 3:
            raise DomainError("the cross product needs two vectors of three entries")
        rows = [[a[1] * b[2] - a[2] * b[1]], [a[2] * b[0] - a[0] * b[2]], [a[0] * b[1] - a[1] * b[0]]]
        return Matrix(rows, (*self.conditions, *other.conditions))

    def length(self) -> Expression:
        """The Euclidean length of a row or a column of real entries."""
        return power(total([e * e for e in self]), number(1) / 2)

    # --- shown --------------------------------------------------------------------------------------------------------------

    def __str__(self) -> str:
        """The rows; conditions behind as a comment."""
        text = "[" + "; ".join(", ".join(map(str, row)) for row in self.entries) + "]"
        return f"{text}   # if {' and '.join(map(str, self.conditions))}" if self.conditions else text

    __repr__ = __str__

    def _repr_mimebundle_(self, include: object = None, exclude: object = None) -> dict[str, str]:
        return Hooks.show(self)


def rationals(m: Matrix) -> list[list[mpq]] | None:
    """The entries where all of them are rational numbers."""
    if not all(isinstance(e, Number) and e.is_rational for row in m.entries for e in row):
        return None
    return [[e.rational for e in row if isinstance(e, Number)] for row in m.entries]


def _product(left: list[list[Any]], right: list[list[Any]]) -> list[list[Any]]:
    columns = list(zip(*right, strict=True))
    found = []
    for row in left:
        checkpoint()
        found.append([sum(map(mul, row, column)) for column in columns])
    return found


def _power(rows: list[list[mpq]], count: int) -> list[list[mpq]]:
    """By squaring, over one denominator for all entries."""
    below = mpz(lcm(*(int(c.denominator) for row in rows for c in row)))
    square = [[mpz(c * below) for c in row] for row in rows]
    result = [[mpz(i == j) for j in range(len(rows))] for i in range(len(rows))]
    rest = count
    while rest:
        checkpoint()
        if rest & 1:
            result = _product(result, square)
        rest >>= 1
        square = _product(square, square) if rest else square
    return [[mpq(c, below**count) for c in row] for row in result]


def _row(entries: Iterable[object], context: object) -> tuple[Expression, ...]:
    checkpoint()
    return tuple(_entry(e, context) for e in entries)


def _entry(value: object, context: object) -> Expression:
    value = getattr(value, "expression", value)
    if isinstance(value, Matrix):
        raise DomainError("an entry of a matrix is an expression, not a matrix")
    if isinstance(value, str):
        value = Hooks.read(value, context)
    if isinstance(value, Node) and not isinstance(value, Expression):
        raise DomainError(f"an entry of a matrix is an expression, not the condition {value}")
    return to_expression(value)


def _sized(m: Matrix) -> str:
    return f"{m.shape[0]} x {m.shape[1]}"


def square(m: Matrix, what: str) -> int:
    """The number of rows of a square matrix; else an error that says what needs one."""
    if m.shape[0] != m.shape[1]:
        raise DomainError(f"{what} needs a square matrix, and this one is {_sized(m)}")
    return m.shape[0]


def side_by_side(parts: Sequence[Matrix]) -> Matrix:
    """Matrices of one height as one, such as columns, or equations with their right sides; conditions are left to the caller."""
    return Matrix.again(tuple(tuple([e for row in rows for e in row]) for rows in zip(*[p.entries for p in parts], strict=True)))


def diagonal_of(values: Sequence[Expression]) -> Matrix:
    """The square matrix with values on its diagonal."""
    return Matrix([[v if i == j else ZERO for j in range(len(values))] for i, v in enumerate(values)])


def column(entries: Sequence[object]) -> Matrix:
    """A matrix of one column.

    >>> import gelvo
    >>> print(gelvo.column([1, 2]))
    [1; 2]
    """
    return Matrix([[e] for e in entries])


def check_size(rows: int, columns: int) -> None:
    """A DomainError for a matrix with too many entries; asked before they are made."""
    if rows * columns > LARGEST:
        raise DomainError(f"a matrix of {rows} x {columns} entries is larger than the limit of {LARGEST}")


def identity(n: int) -> Matrix:
    """The n x n identity.

    >>> import gelvo
    >>> print(gelvo.identity(2))
    [1, 0; 0, 1]
    """
    if not isinstance(n, int) or n < 1:
        raise DomainError(f"the size of an identity matrix is a positive whole number, not {n}")
    check_size(n, n)
    return Matrix.again(tuple(tuple([ONE if i == j else ZERO for j in range(n)]) for i in range(n)))
