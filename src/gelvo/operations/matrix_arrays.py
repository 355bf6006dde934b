"""Matrices as arrays of NumPy and tables of pandas, and back: numbers only, since these know no letters."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, Any

from gelvo.errors import DomainError
from gelvo.expression.traversal import is_not_real
from gelvo.matrices.matrix import Matrix

if TYPE_CHECKING:
    from numpy.typing import NDArray
    from pandas import DataFrame


def rows_of(table: Any) -> Any:
    """The rows of an array or of a table; anything else as it is."""
    if hasattr(table, "to_numpy") and not isinstance(table, Matrix):
        table = table.to_numpy()
    if hasattr(table, "tolist") and hasattr(table, "ndim"):
        if table.ndim != 2:
            raise DomainError(f"a matrix is made of an array with two axes, and this one has {table.ndim}")
        return table.tolist()
    return table


def to_numpy(self: Matrix) -> NDArray[Any]:
    """The numbers as an array of NumPy: of floats, or of complex numbers where an entry is complex. DomainError where letters are left.

    >>> import gelvo
    >>> gelvo.matrix("[1/2, sqrt(4)]").to_numpy().tolist()
    [[0.5, 2.0]]
    """
    import numpy

    letters = self.free_names
    if letters:
        raise DomainError(
            f"an array holds numbers, and {letters[0]} has no value: substitute it, or make a numeric_function of the letters"
        )
    kind = complex if any(is_not_real(e) for e in self.flat()) else float
    return numpy.array([[kind(e) for e in row] for row in self.entries])


def to_frame(self: Matrix, columns: Sequence[str] | None = None, rows: Sequence[str] | None = None) -> DataFrame:
    """The numbers as a table of pandas; columns, rows: what these are called.

    >>> import gelvo
    >>> gelvo.matrix("[1, 2; 3, 4]").to_frame(["x", "y"])["y"].tolist()
    [2.0, 4.0]
    """
    import pandas

    return pandas.DataFrame(to_numpy(self), columns=columns, index=rows)


def as_array(self: Matrix, dtype: Any = None, copy: bool | None = None) -> NDArray[Any]:
    """What numpy.asarray(matrix) gives."""
    found = to_numpy(self)
    return found if dtype is None else found.astype(dtype)


METHODS: dict[str, Callable[..., Any]] = {"to_numpy": to_numpy, "to_frame": to_frame, "__array__": as_array}
