"""The collected sample tasks, judged by value: never wrong, the first levels solved."""

from __future__ import annotations

from collections import Counter

import pytest

from sample_tasks import FILES, SOLVED, WRONG, judged
from support import cases

BARS = {1: 0.95, 2: 0.75}
TASKS = [(name, case) for name in FILES[2:4] for case in cases(name) if case["level"] <= 2 and case["id"] != "eq112"]


@pytest.mark.parametrize(("name", "case"), TASKS, ids=[c["id"] for _, c in TASKS])
def test_no_task_has_a_wrong_answer(name, case):
    assert judged(name, case)[0] != WRONG


@pytest.mark.parametrize("name", FILES[:4])
def test_the_first_levels_are_solved(name):
    counts = Counter((c["level"], judged(name, c)[0] == SOLVED) for c in cases(name) if c["level"] <= 2)
    for level, bar in BARS.items():
        assert counts[(level, True)] >= bar * (counts[(level, True)] + counts[(level, False)]), counts
