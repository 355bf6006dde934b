"""The collected sample tasks: equality and simplification are never wrong, and mostly done."""

from __future__ import annotations

import pytest

import gelvo
from gelvo.deciding.equality import decide_zero
from gelvo.facts.store import Facts
from gelvo.forms.measure import measure
from gelvo.reading.context import Context
from gelvo.reading.stated import read_facts
from support import by_id, cases

EQUIVALENCE = cases("equivalence.jsonl")
SIMPLIFY = cases("simplify.jsonl")


def readable(texts):
    try:
        return [gelvo.formula(t) for t in texts]
    except gelvo.FormulaError:
        return None


@pytest.mark.parametrize("case", EQUIVALENCE, ids=by_id)
def test_equality_is_never_wrong(case):
    sides = readable([case["left"], case["right"]])
    if sides is None:
        assert case["level"] >= 2
        return
    facts = Facts(read_facts(case["facts"], Context.of(*sides)))
    decision = decide_zero(sides[0] - sides[1], facts)
    assert decision.zero in (case["equal"], None)


def test_most_equalities_are_decided():
    decided = total = 0
    for case in EQUIVALENCE:
        sides = readable([case["left"], case["right"]])
        total += 1
        if sides is None:
            continue
        facts = Facts(read_facts(case["facts"], Context.of(*sides)))
        decided += decide_zero(sides[0] - sides[1], facts).zero is not None
    assert decided / total > 0.7


@pytest.mark.parametrize("case", SIMPLIFY, ids=by_id)
def test_simplify_is_never_wrong(case):
    sides = readable([case["input"]])
    if sides is None:
        return
    facts = read_facts(case["facts"], Context.of(*sides))
    answer = gelvo.simplify(sides[0], given=facts)
    assert measure(answer.expression) <= measure(sides[0])
    assert decide_zero(sides[0] - answer.expression, Facts(facts)).zero is not False


def test_most_simplifications_reach_the_wanted_size():
    reached = 0
    for case in SIMPLIFY:
        sides = readable([case["input"]])
        if sides is None:
            continue
        facts = read_facts(case["facts"], Context.of(*sides))
        short = gelvo.simplify(sides[0], given=facts).expression
        reached += measure(short) <= case["maximum_size"] + 1
    assert reached / len(SIMPLIFY) > 0.65
