"""A few seconds of the hunt, which `make hunt` goes on with: no wrong answer, no missing one that was called complete, no false claim supported, nothing but our own errors."""

from __future__ import annotations

import pytest

from hunt.run import KINDS, asked
from support import cases

# how many seeds of each kind
FIRST = 100_000
BLOCKS = {
    "equations": 4, "complex equations": 3, "systems": 3, "inequalities": 5, "inequalities with letters": 5, "differential equations": 3, "planted differential equations": 3, "driven and hidden": 4, "vibrations": 8, "letters in roots": 8, "letters in rates": 6, "matrices": 4, "zeros": 2,
    "derivatives": 13, "antiderivatives": 4, "definite integrals": 6, "families of integrals": 5, "families with letters": 3, "limits": 4, "expansions": 4, "families of ends": 21, "steps by hand": 6, "sums": 6,
    "transforms": 2, "polynomials": 13, "several variables": 6, "round trips": 6, "rewritings": 5, "values": 10, "facts": 10,
    "numeric functions": 6, "equations of motion": 5, "spellings": 4, "claims": 4,
}  # fmt: skip
FAILURES = ("wrong", "crashed", "slow")


@pytest.mark.filterwarnings("ignore::RuntimeWarning")  # a numeric function warns where a formula has no value
@pytest.mark.parametrize("kind", BLOCKS)
def test_random_questions_held_against_numbers(kind):
    outcomes = {seed: asked(kind, seed) for seed in range(FIRST, FIRST + BLOCKS[kind])}
    failures = {seed: (KINDS[kind].task(seed), said) for seed, (outcome, said) in outcomes.items() if outcome in FAILURES}
    assert not failures
    assert any(outcome == "answered" for outcome, _ in outcomes.values())


@pytest.mark.parametrize("case", cases("hunted.jsonl"), ids=lambda case: f"{case['kind']} {case['seed']}")
def test_what_the_hunt_found_stays_mended(case):
    outcome, said = asked(case["kind"], case["seed"], case["task"])
    assert outcome not in FAILURES, (case["task"], said)


def test_every_kind_is_asked():
    assert set(BLOCKS) == set(KINDS)
