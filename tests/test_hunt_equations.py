"""A part of the hunt with planted solutions: no wrong answer, no missing one that was called complete, nothing but our own errors."""

from __future__ import annotations

import pytest

from hunt.run import KINDS, asked

# seeds of each kind, in blocks so that a failure names its neighbourhood: together about half a minute
BLOCKS = [
    *[("equations", first, first + 8) for first in range(100_000, 100_080, 8)],
    *[("complex equations", first, first + 8) for first in range(100_000, 100_032, 8)],
    *[("systems", first, first + 6) for first in range(100_000, 100_030, 6)],
    *[("inequalities", first, first + 25) for first in range(100_000, 100_100, 25)],
    *[("differential equations", first, first + 8) for first in range(100_000, 100_040, 8)],
    *[("matrices", first, first + 12) for first in range(100_000, 100_048, 12)],
    *[("zeros", first, first + 5) for first in range(100_000, 100_020, 5)],
]


@pytest.mark.parametrize(("kind", "first", "last"), BLOCKS, ids=[f"{b[0]} from {b[1]}" for b in BLOCKS])
def test_planted_solutions(kind, first, last):
    outcomes = {seed: asked(kind, seed) for seed in range(first, last)}
    failures = {
        seed: (KINDS[kind].task(seed), said) for seed, (outcome, said) in outcomes.items() if outcome in ("wrong", "crashed")
    }
    assert not failures
    assert any(outcome == "solved" for outcome, _ in outcomes.values())
