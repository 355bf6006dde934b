"""Differential equations of a methods course: each solution put back by an evaluator of its own, constants and stated values counted."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from hunt.differential_judge import free_constants, judged, solved

TASKS = [
    json.loads(line) for line in (Path(__file__).parent / "data" / "differential.jsonl").read_text(encoding="utf-8").splitlines()
]


@pytest.mark.parametrize("task", TASKS, ids=[t["id"] for t in TASKS])
def test_solutions_satisfy_the_equation(task):
    found = solved(task)
    assert found.verdict in ("proved", "supported") and len(found)
    assert len(found.constants) == free_constants(task)
    assert judged(found, task) >= 2
