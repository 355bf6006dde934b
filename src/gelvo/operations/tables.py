"""Tables that people keep in files: CSV and JSON, checked as they are read."""

from __future__ import annotations

import csv
import json
from os import PathLike
from pathlib import Path

from gelvo.errors import FormulaError

LARGEST_FILE = 10_000_000


def read_names(path: str | PathLike[str]) -> dict[str, str]:
    """{old name: new name} from a CSV file with two columns or a JSON file with one object of texts."""
    place = Path(path)
    if not place.is_file():
        raise FormulaError(f"there is no table of names at {place}")
    if place.stat().st_size > LARGEST_FILE:
        raise FormulaError(f"{place} is larger than {LARGEST_FILE} bytes: that is no table of names")
    text = place.read_text(encoding="utf-8-sig")
    if place.suffix.lower() == ".json":
        try:
            loaded = json.loads(text)
        except ValueError as fault:
            raise FormulaError(f"{place} is not JSON: {fault}") from None
        if not isinstance(loaded, dict) or not all(isinstance(v, str) for v in loaded.values()):
            raise FormulaError(f'{place} must hold one object of texts, as {{"mass": "m"}}')
        return dict(loaded)
    result: dict[str, str] = {}
    for count, row in enumerate(csv.reader(text.splitlines()), 1):
        cells = [c.strip() for c in row]
        if not any(cells) or (count == 1 and [c.lower() for c in cells[:2]] in (["old", "new"], ["name", "symbol"])):
            continue
        if len(cells) < 2 or not cells[0] or not cells[1]:
            raise FormulaError(f"line {count} of {place} needs two cells, the old name and the new one")
        if cells[0] in result:
            raise FormulaError(f"line {count} of {place} names {cells[0]} a second time")
        result[cells[0]] = cells[1]
    return result
