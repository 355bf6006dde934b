"""Limits of time: long loops ask `checkpoint()` now and then, and stop cleanly when the time is over.

No signals and no threads: a limit works in notebooks, servers and threads, and counts for the thread that set it.
"""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager
from time import monotonic

from gelvo.errors import DomainError, TimeLimitReached


class _State(threading.local):
    deadline: float = float("inf")
    seconds: float = 0.0
    reached: bool = False


_state = _State()


def checkpoint() -> None:
    """Raises TimeLimitReached when the limit of this thread has passed; cheap enough for inner loops."""
    if monotonic() > _state.deadline:
        _state.reached = True
        raise TimeLimitReached(f"stopped: the limit of {_state.seconds:g} s is over")


@contextmanager
def time_limit(seconds: float) -> Iterator[None]:
    """Stops any operation inside the block with TimeLimitReached when the time is over.

    seconds: how long the block may take. An inner limit can only shorten an outer one. Nothing is left half done: formulas are
    immutable, and caches take only finished results.

    >>> import gelvo
    >>> with gelvo.time_limit(10):
    ...     print(gelvo.expand("(x + 1)^2"))
    x^2 + 2*x + 1
    """
    if not seconds > 0:
        raise DomainError(f"a limit of time is a positive number of seconds, not {seconds}")
    before = _state.deadline, _state.seconds, _state.reached
    deadline = monotonic() + seconds
    if deadline < before[0]:
        _state.deadline, _state.seconds = deadline, seconds
    _state.reached = False
    try:
        yield
        if _state.reached:  # some method took the stop for "no result": say what happened instead
            raise TimeLimitReached(f"stopped: the limit of {_state.seconds:g} s is over")
    finally:
        _state.deadline, _state.seconds, _state.reached = before
