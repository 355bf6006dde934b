"""The collection of definite integrals: found where it was found once, never wrong, and the share of each level is held."""

from __future__ import annotations

from collections import Counter

import pytest
from mpmath import mp, mpf

import gelvo
from sample_tasks import is_open, numeric
from support import by_id, cases

TASKS = cases("definite_own.jsonl")
BARS = {1: 100, 2: 98, 3: 92, 4: 80, 5: 55}  # percent of each level
ENDLESS = ("inf", "-inf", "undefined")


@pytest.mark.parametrize("case", [c for c in TASKS if not c["slow"]], ids=by_id)
def test_definite_integrals_are_found_and_right(case):
    answer = gelvo.integrate(case["integrand"], case["variable"], case["lower"], case["upper"], given=case["given"])
    if is_open(answer):
        assert case["expected"] == "open" and answer.reason
        return
    assert answer.verdict == "proved" if case["proved"] else answer.verdict != "refuted"
    if case["answer"] in ENDLESS or str(answer.expression) in ENDLESS:
        assert str(answer.expression) == case["answer"]
        return
    with mp.workdps(30):
        found, wanted = (numeric(e, case["parameters"]) for e in (answer.expression, gelvo.formula(case["answer"])))
        assert abs(found - wanted) < mpf("1e-15") * (1 + abs(wanted))


def test_the_collection_holds_its_bars():
    solved = Counter(c["level"] for c in TASKS if c["expected"] == "solved")
    whole = Counter(c["level"] for c in TASKS)
    assert sum(c["proved"] for c in TASKS) >= 0.95 * sum(c["expected"] == "solved" for c in TASKS)
    assert len(TASKS) >= 220 and sum(bool(c["trap"]) for c in TASKS) >= 70
    assert all(100 * solved[level] >= BARS[level] * whole[level] for level in BARS)
