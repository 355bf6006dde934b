"""The collected sample tasks: equality and simplification are never wrong, and mostly done."""

from __future__ import annotations

import pytest

import gelvo
from support import by_id, cases, size

EQUIVALENCE = cases("equivalence.jsonl")
SIMPLIFY = cases("simplify.jsonl")


def readable(texts, facts):
    try:
        return [gelvo.formula(t, given=facts) for t in texts]
    except gelvo.FormulaError:
        return None


def equal(one, two, facts):
    """True, False, or None where it is undecided."""
    try:
        return gelvo.equal(one, two, given=facts)
    except gelvo.Undecided:
        return None


@pytest.mark.parametrize("case", EQUIVALENCE, ids=by_id)
def test_equality_is_never_wrong(case):
    sides = readable([case["left"], case["right"]], case["facts"])
    if sides is None:
        assert case["level"] >= 2
        return
    assert equal(*sides, case["facts"]) in (case["equal"], None)


def test_most_equalities_are_decided():
    decided = total = 0
    for case in EQUIVALENCE:
        sides = readable([case["left"], case["right"]], case["facts"])
        total += 1
        if sides is None:
            continue
        decided += equal(*sides, case["facts"]) is not None
    assert decided / total > 0.7


@pytest.mark.parametrize("case", SIMPLIFY, ids=by_id)
def test_simplify_is_never_wrong(case):
    sides = readable([case["input"]], case["facts"])
    if sides is None:
        return
    answer = gelvo.simplify(sides[0], given=case["facts"])
    assert size(answer.expression) <= size(sides[0])
    assert equal(sides[0], answer.expression, case["facts"]) is not False


def test_most_simplifications_reach_the_wanted_size():
    reached = 0
    for case in SIMPLIFY:
        sides = readable([case["input"]], case["facts"])
        if sides is None:
            continue
        short = gelvo.simplify(sides[0], given=case["facts"]).expression
        reached += size(short) <= case["maximum_size"] + 1
    assert reached / len(SIMPLIFY) > 0.65
