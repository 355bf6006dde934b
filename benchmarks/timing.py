"""Times of tasks, alone and in turn with another."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable


def seconds(task: Callable[[], object]) -> float:
    start = time.perf_counter()
    task()
    return time.perf_counter() - start


def paired(task: Callable[[], object], other: Callable[[], object], repeats: int = 7) -> float:
    """The median of time(task)/time(other), taken in turn."""
    task(), other()
    return statistics.median(seconds(task) / seconds(other) for _ in range(repeats))
