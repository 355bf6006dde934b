"""The house: storeys that import downwards only, no circle of modules, and a picture that is true."""

from __future__ import annotations

import ast
import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1] / "docs"))

import make_architecture as house

import gelvo.functions  # noqa: F401  (fills the catalogue)
from gelvo.expression.registry import FUNCTIONS
from parts import PARTS


def test_no_modules_import_each_other_in_a_circle():
    assert house.circles(house.imports()) == []


def test_a_circle_would_be_found():
    assert house.circles({"a": {"b"}, "b": {"c"}, "c": {"a"}, "d": {"a"}}) == [["a", "b", "c"]]


def test_every_folder_stands_in_the_contract():
    contract = (house.ROOT / "pyproject.toml").read_text(encoding="utf-8").partition("layers = [")[2].partition("]")[0]
    assert ":" not in contract and "|" not in contract  # a strict list: no two folders on one storey
    assert {line.strip().strip('",').removeprefix("gelvo.") for line in contract.split()} == set(house.storeys(house.imports()))


def test_the_picture_of_the_house_is_true():
    assert house.PICTURE.read_text(encoding="utf-8") == house.drawing(), "run docs/make_architecture.py"


def test_all_arrows_of_the_picture_point_down():
    height = house.levels(house.storeys(house.imports()))
    assert all(height[a] > height[b] for a, targets in house.storeys(house.imports()).items() for b in targets)


# where functions are told as text: below the catalogue, in its records, and where text of users comes in or goes out
AS_TEXT = {"numbers", "expression", "functions", "reading", "typesetting", "code", "units", "library", ""}
AS_TEXT_IN = {"operations.building"}  # names of Python functions that users call


def test_rooms_speak_of_functions_by_their_names_not_by_text():
    found = []
    for module, nodes in house.nodes().items():
        if module.split(".")[0] in AS_TEXT or module in AS_TEXT_IN:
            continue
        for node in nodes:
            if isinstance(node, ast.Constant) and isinstance(node.value, str) and node.value in FUNCTIONS:
                found.append(f"{module}:{node.lineno} {node.value}")
    assert not found


def test_few_functions_are_long():
    """At most twenty of more than thirty lines of code: what is longer is taken apart, or its reason is a single algorithm."""
    long = []
    for module, path in house.files().items():
        lines = path.read_text(encoding="utf-8").splitlines()
        for node in house.nodes()[module]:
            if isinstance(node, ast.FunctionDef):
                body = node.body[1:] if ast.get_docstring(node) is not None else node.body
                head = range(node.lineno, node.body[0].lineno)
                counted = [*head, *range(body[0].lineno, node.end_lineno + 1)] if body else head
                code = [k for k in set(counted) if lines[k - 1].strip() and not lines[k - 1].strip().startswith("#")]
                if len(code) > 30:
                    long.append(f"{module}.{node.name}: {len(code)}")
    assert len(long) <= 20, "\n".join(long)


def test_each_table_that_is_taken_in_part_is_there():
    here = Path(__file__).parent
    for table in PARTS:
        path, _, function = table.partition("::")
        assert f"def {function}(" in (here / path).read_text(encoding="utf-8"), table
