"""Systems: not linear, stretched in time, Euler's; each solution put back by an evaluator of its own, constants and starts counted."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

import gelvo
from hunt.differential_judge import judged_system, solved_system

DATA = Path(__file__).parents[1] / "data" / "differential_systems.jsonl"
TASKS = [json.loads(line) for line in DATA.read_text(encoding="utf-8").splitlines()]


@pytest.mark.parametrize("task", TASKS, ids=[t["id"] for t in TASKS])
def test_solutions_satisfy_the_system(task):
    found = solved_system(task)
    assert found.verdict == "proved"
    orders = sum(
        max(e.count(f"{u.split('(')[0]}{chr(39) * k}") and k for e in task["equations"] for k in (1, 2)) for u in task["unknowns"]
    )
    stated = sum("(" in g for g in task["given"])
    assert len(found.constants) == orders - stated
    assert judged_system(found, task) >= 2


REFUSED = [
    (
        ["x' = a*x - b*x*y", "y' = -c*y + d*x*y"],
        ["x", "y"],
        "c*ln(abs(x(t))) + a*ln(abs(y(t))) - d*x(t) - b*y(t) keeps its value",
    ),
    (["S' = -b*S*J", "J' = b*S*J - g*J"], ["S", "J"], "J(t) + S(t) - g*ln(abs(S(t)))/b keeps its value"),
    (["x' = t*x*y", "y' = x - y"], ["x", "y"], "no method leads to formulas"),
]


@pytest.mark.parametrize(("equations", "unknowns", "told"), REFUSED, ids=[r[2][:20] for r in REFUSED])
def test_what_has_no_formulas_tells_what_is_kept(equations, unknowns, told):
    positive = ["a > 0", "b > 0", "c > 0", "d > 0", "g > 0"]
    with pytest.raises(gelvo.NotSolved) as refusal:
        gelvo.solve(equations, [f"{u}(t)" for u in unknowns], given=positive)
    assert told in str(refusal.value) and "solve_numerically" in str(refusal.value)


def test_independent_functions_have_constants_of_their_own():
    found = gelvo.solve(["r' = r*(1 - r)", "p' = 1"], ["r(t)", "p(t)"])
    assert str(found) == "r(t) = exp(t)/(C_1 + exp(t)), p(t) = t + C_2 or r(t) = 0, p(t) = t + C_2"


def test_a_reaction_of_two_substances_in_both_cases():
    found = gelvo.solve(
        ["x' = -k*x*y", "y' = -k*x*y"], ["x(t)", "y(t)"], given=["k > 0", "a > 0", "b > 0", "x(0) = a", "y(0) = b"]
    )
    assert len(found) == 2 and "conserved" in found.road
    assert [str(v) for v in found[1].values()] == ["b/(b*k*t + 1)", "b/(b*k*t + 1)"]
