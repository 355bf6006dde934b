"""The collection of limits, expansions, sums, products and transforms: what is answered is right, and what is said to be proved is."""

from __future__ import annotations

import json
from collections import Counter
from pathlib import Path

import pytest

import gelvo
import sample_tasks
from sample_tasks import OPEN, SOLVED, is_open, judged_value, limits_series_sums

ROWS = [json.loads(line) for line in (Path(__file__).parents[1] / "data" / "ends_own.jsonl").read_text().splitlines()]


def asked(case):
    """The answer of the library to a row."""
    kind, given = case["kind"], case["facts"]
    if kind == "limit":
        side = None if case["side"] == "both" else case["side"]
        return gelvo.limit(case["expression"], case["variable"], case["point"], side, given=given)
    if kind == "series":
        return gelvo.series(case["expression"], case["variable"], case["about"], case["order"], given=given)
    if kind in ("sum", "product"):
        work = gelvo.add_up if kind == "sum" else gelvo.multiply_up
        return work(case["term"], case["index"], case["lower"], case["upper"], given=given)
    return getattr(gelvo, case["transform"])(case["expression"], case["variable"], case["target"], given=given)


def judged(case):
    if case["kind"] == "product":
        answer = asked(case)
        return (
            OPEN
            if is_open(answer)
            else judged_value(answer, case["answer"], sample_tasks._point_for([case["answer"]], case["facts"], {}))
        )
    return limits_series_sums(case)


@pytest.mark.parametrize("case", ROWS, ids=[r["id"] for r in ROWS])
def test_rows_are_answered_and_right(case):
    if case["told"] == "left":
        try:
            answer = asked(case)
        except gelvo.NoClosedForm:
            return
        assert is_open(answer) or case.get("answer") is None or judged(case) == SOLVED
        return
    assert judged(case) == SOLVED
    if case["told"] == "proved":
        assert asked(case).verdict == "proved"


def test_the_collection_is_large_and_has_its_levels():
    kinds = Counter(r["kind"] for r in ROWS)
    assert kinds["limit"] >= 120 and kinds["series"] >= 80 and kinds["sum"] + kinds["product"] >= 90 and kinds["transform"] >= 90
    wanted = {1: 1.0, 2: 1.0, 3: 0.95, 4: 0.85, 5: 0.6}
    for level, share in wanted.items():
        told = [r["told"] != "left" for r in ROWS if r["level"] == level and r.get("answer", "") is not None]
        assert sum(told) >= share * len(told), level
    answered = [r["told"] for r in ROWS if r["told"] != "left"]
    assert answered.count("proved") >= 0.95 * len(answered)
