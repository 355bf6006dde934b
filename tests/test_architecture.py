"""The house: storeys that import downwards only, no circle of modules, and a picture that is true."""

from __future__ import annotations

import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1] / "docs"))

import make_architecture as house

FOUND = house.files()
GRAPH = house.imports(FOUND)


def test_no_modules_import_each_other_in_a_circle():
    assert house.circles(GRAPH) == []


def test_a_circle_would_be_found():
    assert house.circles({"a": {"b"}, "b": {"c"}, "c": {"a"}, "d": {"a"}}) == [["a", "b", "c"]]


def test_every_folder_stands_in_the_contract():
    contract = (house.ROOT / "pyproject.toml").read_text(encoding="utf-8").partition("layers = [")[2].partition("]")[0]
    assert ":" not in contract and "|" not in contract  # a strict list: no two folders on one storey
    assert {line.strip().strip('",').removeprefix("gelvo.") for line in contract.split()} == set(house.storeys(GRAPH))


def test_the_picture_of_the_house_is_true():
    assert house.PICTURE.read_text(encoding="utf-8") == house.drawing(), "run docs/make_architecture.py"


def test_all_arrows_of_the_picture_point_down():
    height = house.levels(house.storeys(GRAPH))
    assert all(height[a] > height[b] for a, targets in house.storeys(GRAPH).items() for b in targets)
