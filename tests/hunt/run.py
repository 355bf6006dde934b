"""Random questions with planted answers, held against numbers: how many were answered, and each wrong answer as a ready test case.

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

from hunt import differential, equations, matrices, over_complex, systems, zeros

OUTCOMES = ("solved", "open", "wrong", "crashed")


class Kind(NamedTuple):
    """task: seed -> what is asked, for people; judge: seed -> "solved", "open" or what is wrong."""

    task: Callable[[int], Any]
    judge: Callable[[int], str]


KINDS: dict[str, Kind] = {
    "equations": Kind(
        lambda seed: equations.equation(Random(seed)), lambda seed: equations.judge(*equations.equation(Random(seed)), seed)
    ),
    "complex equations": Kind(over_complex.task, over_complex.judge),
    "systems": Kind(
        lambda seed: systems.system(Random(seed)), lambda seed: systems.judge_system(*systems.system(Random(seed)), seed)
    ),
    "inequalities": Kind(
        lambda seed: systems.inequality(Random(seed)), lambda seed: systems.judge_inequality(*systems.inequality(Random(seed)))
    ),
    "differential equations": Kind(differential.task, differential.judge),
    "matrices": Kind(matrices.task, matrices.judge),
    "zeros": Kind(zeros.task, zeros.judge),
}


def asked(kind: str, seed: int) -> tuple[str, str]:
    """(one of OUTCOMES, what the judge said)."""
    try:
        said = KINDS[kind].judge(seed)
    except Exception as fault:  # whatever a judge or the library raises is a finding
        return "crashed", f"{type(fault).__name__}: {fault}"[:400]
    return ("wrong" if said.startswith("WRONG") else said), said


def hunt(kind: str, seeds: range, until: float | None = None) -> tuple[dict[str, int], list[dict[str, Any]]]:
    """(how often each outcome, the failures as test cases) for seeds, up to a time."""
    counts = dict.fromkeys(OUTCOMES, 0)
    failures: list[dict[str, Any]] = []
    for seed in seeds:
        if until is not None and time.monotonic() > until:
            break
        outcome, said = asked(kind, seed)
        counts[outcome] += 1
        if outcome in ("wrong", "crashed"):
            failures.append({"kind": kind, "seed": seed, "task": KINDS[kind].task(seed), "said": said})
    return counts, failures


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--seconds", type=float, default=300, help="how long, over all kinds (default 300)")
    parser.add_argument("--first", type=int, default=0, help="the first seed (default 0)")
    parser.add_argument("--kinds", nargs="*", choices=list(KINDS), default=list(KINDS))
    parser.add_argument("--into", type=Path, default=Path("hunt-failures.json"), help="where failures are written")
    chosen = parser.parse_args()
    found: list[dict[str, Any]] = []
    print(f"{'':24}{'tried':>8}" + "".join(f"{word:>9}" for word in OUTCOMES), flush=True)
    for kind in chosen.kinds:
        until = time.monotonic() + chosen.seconds / len(chosen.kinds)
        counts, failures = hunt(kind, range(chosen.first, chosen.first + 10**9), until)
        found += failures
        print(f"{kind:24}{sum(counts.values()):8}" + "".join(f"{counts[word]:9}" for word in OUTCOMES), flush=True)
    if found:
        chosen.into.write_text(json.dumps(found, indent=1, default=str) + "\n")
        print(f"{len(found)} failures, as test cases in {chosen.into}")
    return 1 if found else 0


if __name__ == "__main__":
    raise SystemExit(main())
