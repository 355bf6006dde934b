"""A table of numbers by column, read with clear refusals."""

from __future__ import annotations

import csv
from collections.abc import Iterator, Mapping
from pathlib import Path
from typing import TYPE_CHECKING, Any

from gelvo.errors import DomainError
from gelvo.files import write_file

if TYPE_CHECKING:
    from numpy import float64
    from numpy.typing import NDArray
    from pandas import DataFrame

LARGEST_FILE = 200_000_000


class Table(Mapping[str, Any]):
    """Columns of numbers by name: table["t"] is an array; len(table) counts columns, .rows the rows.

    >>> import gelvo
    >>> readings = gelvo.Table({"t": [0, 1, 2], "x": [0.0, 0.5, 2.0]})
    >>> print(readings.rows, list(readings), float(readings["x"][2]))
    3 ['t', 'x'] 2.0
    """

    def __init__(self, columns: Mapping[str, Any]) -> None:
        import numpy

        self._columns = {str(k): numpy.asarray(v, dtype=float) for k, v in columns.items()}
        sizes = {k: len(v) for k, v in self._columns.items()}
        if not sizes or len(set(sizes.values())) != 1 or 0 in sizes.values():
            raise DomainError(f"a table needs columns of one length, not {sizes}")
        for name, values in self._columns.items():
            if not numpy.isfinite(values).all():
                row = int(numpy.flatnonzero(~numpy.isfinite(values))[0])
                raise DomainError(f"column {name} has no number in row {row + 1}")

    @property
    def rows(self) -> int:
        return len(next(iter(self._columns.values())))

    def __getitem__(self, name: str) -> NDArray[float64]:
        if name not in self._columns:
            raise DomainError(f"there is no column {name!r}; the columns are {', '.join(self._columns)}")
        return self._columns[name]

    def __iter__(self) -> Iterator[str]:
        return iter(self._columns)

    def __len__(self) -> int:
        return len(self._columns)

    def to_pandas(self) -> DataFrame:
        """A pandas data frame."""
        import pandas

        return pandas.DataFrame(dict(self._columns))

    def write(self, path: str | Path) -> Path:
        """Writes a CSV file, by rename."""
        lines = [",".join(self._columns)]
        lines += [",".join(repr(float(v)) for v in row) for row in zip(*self._columns.values(), strict=True)]
        return write_file(Path(path), "\n".join(lines) + "\n")

    def __repr__(self) -> str:
        return f"Table({', '.join(self._columns)}: {self.rows} rows)"


def read_table(source: Any) -> Table:
    """A table from a CSV file with a header line, a pandas data frame, or a mapping of columns.

    Raises DomainError that names the line and column of a gap, or of text where a number is needed.

    >>> import gelvo
    >>> gelvo.read_table({"t": [0, 1], "y": [2.5, 3]})["y"].tolist()
    [2.5, 3.0]
    """
    if isinstance(source, Mapping):
        return Table(source)
    if hasattr(source, "columns") and hasattr(source, "to_numpy"):
        return Table({str(c): source[c].to_numpy() for c in source.columns})
    path = Path(source)
    rows = _rows(path)
    if len(rows) < 2:
        raise DomainError(f"{path.name} has no data under its header line")
    header = [h.strip() for h in rows[0][1]]
    if len(set(header)) < len(header) or "" in header:
        raise DomainError(f"the header of {path.name} needs a different name for each column, not {', '.join(header)}")
    columns: dict[str, list[float]] = {h: [] for h in header}
    for line, row in rows[1:]:
        if len(row) != len(header):
            raise DomainError(f"{path.name}, line {line}: {len(row)} entries for {len(header)} columns")
        for name, text in zip(header, row, strict=True):
            columns[name].append(_number(text, name, f"{path.name}, line {line}"))
    return Table(columns)


def _rows(path: Path) -> list[tuple[int, list[str]]]:
    """The lines of a CSV file that are neither empty nor comments, with their numbers."""
    if not path.exists():
        raise DomainError(f"there is no file {path}")
    try:
        if path.stat().st_size > LARGEST_FILE:
            raise DomainError(f"{path.name} is larger than {LARGEST_FILE // 10**6} MB")
        with path.open(encoding="utf-8-sig", newline="") as file:
            return [(k, row) for k, row in enumerate(csv.reader(file), start=1) if row and not row[0].lstrip().startswith("#")]
    except OSError as fault:
        raise DomainError(f"{path.name} cannot be read: {fault.strerror or fault}") from None
    except (UnicodeDecodeError, csv.Error) as fault:
        raise DomainError(f"{path.name} is not a CSV file in UTF-8: {fault}") from None


def _number(text: str, column: str, where: str) -> float:
    if not text.strip():
        raise DomainError(f"{where}: column {column} is empty")
    try:
        return float(text)
    except ValueError:
        raise DomainError(f"{where}: {text.strip()!r} in column {column} is not a number") from None
