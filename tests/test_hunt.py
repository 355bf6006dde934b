"""Half a minute of the hunt, which `make hunt` goes on with: no wrong answer, no missing one that was called complete, no false claim supported, nothing but our own errors."""

from __future__ import annotations

import pytest

from hunt.run import KINDS, asked
from support import cases

# how many seeds of each kind, in blocks so that a failure names its neighbourhood
FIRST = 100_000
BLOCKS = {
    "equations": (8, 8), "complex equations": (8, 8), "systems": (6, 6), "inequalities": (25, 25), "differential equations": (8, 8),
    "matrices": (12, 12), "zeros": (5, 5), "derivatives": (50, 50), "antiderivatives": (20, 20), "definite integrals": (6, 6),
    "limits": (10, 10), "expansions": (10, 10), "steps by hand": (30, 30), "sums": (30, 30), "transforms": (8, 8), "polynomials": (50, 50),
    "several variables": (30, 30), "round trips": (30, 30), "rewritings": (25, 25), "values": (40, 40), "facts": (50, 50),
    "numeric functions": (30, 30), "equations of motion": (20, 20), "spellings": (10, 10), "claims": (10, 10),
}  # fmt: skip
LISTED = [(kind, first, first + size) for kind, (count, size) in BLOCKS.items() for first in range(FIRST, FIRST + count, size)]
FAILURES = ("wrong", "crashed", "slow")


@pytest.mark.filterwarnings("ignore::RuntimeWarning")  # a numeric function warns where a formula has no value
@pytest.mark.parametrize(("kind", "first", "last"), LISTED, ids=[f"{b[0]} from {b[1]}" for b in LISTED])
def test_random_questions_held_against_numbers(kind, first, last):
    outcomes = {seed: asked(kind, seed) for seed in range(first, last)}
    failures = {seed: (KINDS[kind].task(seed), said) for seed, (outcome, said) in outcomes.items() if outcome in FAILURES}
    assert not failures
    assert any(outcome == "answered" for outcome, _ in outcomes.values())


@pytest.mark.parametrize("case", cases("hunted.jsonl"), ids=lambda case: f"{case['kind']} {case['seed']}")
def test_what_the_hunt_found_stays_mended(case):
    outcome, said = asked(case["kind"], case["seed"], case["task"])
    assert outcome not in FAILURES, (case["task"], said)


def test_every_kind_is_asked():
    assert set(BLOCKS) == set(KINDS)
