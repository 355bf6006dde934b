"""Random questions held against numbers: how many were answered by kind, and each wrong answer as a ready test case.

python tests/hunt/run.py --seconds 600 --first 0
"""

from __future__ import annotations

import argparse
import json
import sys
import time
from collections.abc import Callable
from pathlib import Path
from random import Random
from typing import Any, NamedTuple

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

import gelvo
from hunt import (
    calculus,
    claims,
    differential,
    driven,
    ends,
    equations,
    families,
    fields,
    forms,
    letters_in_roots,
    matrices,
    over_complex,
    planted,
    polynomials,
    round_trips,
    spellings,
    systems,
    vibrations,
    zeros,
)

OUTCOMES = ("answered", "undecided", "wrong", "crashed", "slow")
SLOW = 20.0  # seconds that nobody waits
SAID = {"solved": "answered", "open": "undecided"}


class Kind(NamedTuple):
    """task: seed -> what is asked; judge: (task, seed) -> "solved", "open" or what is wrong (the seed chooses sample values)."""

    task: Callable[[int], Any]
    judge: Callable[[Any, int], str]


KINDS: dict[str, Kind] = {
    "equations": Kind(lambda seed: equations.equation(Random(seed)), lambda task, seed: equations.judge(*task, seed)),
    "complex equations": Kind(over_complex.task, lambda _, seed: over_complex.judge(seed)),
    "systems": Kind(lambda seed: systems.system(Random(seed)), lambda task, seed: systems.judge_system(*task, seed)),
    "inequalities": Kind(lambda seed: systems.inequality(Random(seed)), lambda task, _: systems.judge_inequality(*task)),
    "inequalities with letters": Kind(
        lambda seed: systems.inequality_with_letters(Random(seed)),
        lambda task, seed: systems.judge_inequality_with_letters(*task, seed),
    ),
    "differential equations": Kind(differential.task, lambda _, seed: differential.judge(seed)),
    "planted differential equations": Kind(planted.task, lambda _, seed: planted.judge(seed)),
    "driven and hidden": Kind(driven.task, lambda _, seed: driven.judge(seed)),
    "letters in roots": Kind(lambda seed: letters_in_roots.rooted(Random(seed)), letters_in_roots.judge_rooted),
    "letters in rates": Kind(letters_in_roots.task, lambda _, seed: letters_in_roots.judge(seed)),
    "vibrations": Kind(vibrations.task, vibrations.judge),
    "matrices": Kind(matrices.task, lambda _, seed: matrices.judge(seed)),
    "zeros": Kind(zeros.task, lambda _, seed: zeros.judge(seed)),
    "derivatives": Kind(calculus.derivative_task, calculus.judge_derivative),
    "antiderivatives": Kind(calculus.antiderivative_task, calculus.judge_antiderivative),
    "definite integrals": Kind(calculus.definite_task, calculus.judge_definite),
    "families of integrals": Kind(families.task, families.judge),
    "families with letters": Kind(families.lettered_task, families.judge_lettered),
    "limits": Kind(calculus.limit_task, calculus.judge_limit),
    "expansions": Kind(calculus.series_task, calculus.judge_series),
    "families of ends": Kind(ends.task, ends.judge),
    "steps by hand": Kind(calculus.by_hand_task, calculus.judge_by_hand),
    "sums": Kind(calculus.sum_task, calculus.judge_sum),
    "transforms": Kind(calculus.laplace_task, calculus.judge_laplace),
    "rewritings": Kind(forms.rewriting_task, forms.judge_rewriting),
    "values": Kind(forms.value_task, forms.judge_value),
    "facts": Kind(forms.fact_task, forms.judge_fact),
    "numeric functions": Kind(forms.numeric_task, forms.judge_numeric),
    "equations of motion": Kind(forms.motion_task, forms.judge_motion),
    "polynomials": Kind(polynomials.polynomial_task, polynomials.judge_polynomial),
    "several variables": Kind(fields.field_task, fields.judge_field),
    "round trips": Kind(round_trips.round_trip_task, round_trips.judge_round_trip),
    "spellings": Kind(spellings.spelling_task, spellings.judge_spelling),
    "claims": Kind(claims.claim_task, claims.judge_claim),
}


def asked(kind: str, seed: int, task: Any = None) -> tuple[str, str]:
    """(one of OUTCOMES, what the judge said) of a task, by default the one that the seed makes."""
    start = time.process_time()  # of this process alone: other work on the machine makes no task slow
    try:
        said = KINDS[kind].judge(KINDS[kind].task(seed) if task is None else task, seed)
    except gelvo.TimeLimitReached as fault:
        return "slow", str(fault)
    except Exception as fault:  # whatever a judge or the library raises is a finding
        return "crashed", f"{type(fault).__name__}: {fault}"[:400]
    if said.startswith("WRONG"):
        return "wrong", said
    seconds = time.process_time() - start
    return ("slow", f"{seconds:.0f} s") if seconds > 2 * SLOW else (SAID[said], said)


def hunt(kind: str, seeds: range, until: float | None = None) -> tuple[dict[str, int], list[dict[str, Any]]]:
    """(how often each outcome, the failures as test cases) for seeds, up to a time."""
    counts = dict.fromkeys(OUTCOMES, 0)
    failures: list[dict[str, Any]] = []
    for seed in seeds:
        if until is not None and time.monotonic() > until:
            break
        outcome, said = asked(kind, seed)
        counts[outcome] += 1
        if outcome in ("wrong", "crashed", "slow"):
            failures.append({"kind": kind, "seed": seed, "task": KINDS[kind].task(seed), "said": said})
    return counts, failures


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--seconds", type=float, default=300, help="how long, over all kinds (default 300)")
    parser.add_argument("--seed", "--first", type=int, default=0, dest="first", help="the first seed (default 0)")
    parser.add_argument("--tasks", type=int, default=10**9, help="at most so many of each kind")
    parser.add_argument("--kinds", nargs="*", choices=list(KINDS), default=list(KINDS))
    parser.add_argument(
        "--into", type=Path, default=Path("hunt-failures.jsonl"), help="failures, a line each as in tests/data/hunted.jsonl"
    )
    chosen = parser.parse_args()
    found: list[dict[str, Any]] = []
    print(f"{'':26}{'tried':>8}" + "".join(f"{word:>11}" for word in OUTCOMES), flush=True)
    for kind in chosen.kinds:
        until = time.monotonic() + chosen.seconds / len(chosen.kinds)
        counts, failures = hunt(kind, range(chosen.first, chosen.first + chosen.tasks), until)
        found += failures
        print(f"{kind:26}{sum(counts.values()):8}" + "".join(f"{counts[word]:11}" for word in OUTCOMES), flush=True)
    if found:
        chosen.into.write_text("".join(json.dumps(case, default=str) + "\n" for case in found))
        print(f"{len(found)} failures, as test cases in {chosen.into}")
    return 1 if any(case["said"].startswith("WRONG") or "Error" in case["said"] for case in found) else 0


if __name__ == "__main__":
    raise SystemExit(main())
