"""Limits of time: long loops ask `checkpoint()` now and then, and stop cleanly when the time is over.

No signals: a limit works in notebooks, servers and threads, and counts for the thread that set it.
"""

from __future__ import annotations

import ctypes
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from importlib import import_module
from time import monotonic

from gelvo.errors import DomainError, TimeLimitReached


class _State(threading.local):
    deadline: float = float("inf")
    seconds: float = 0.0
    reached: bool = False
    watch: _Watch | None = None


_state = _State()


_interrupted = False  # of the whole process; read by every checkpoint, so nothing slower than a name


def interrupt(*_: object) -> None:
    """For a handler of Ctrl-C: stops at once, or at the next checkpoint where Python drops what is raised (in a finalizer)."""
    global _interrupted
    _interrupted = True
    raise KeyboardInterrupt


def forget_interrupt() -> None:
    """Before the next piece of work after an interrupt."""
    global _interrupted
    _interrupted = False


def checkpoint() -> None:
    """Raises TimeLimitReached when the limit of this thread has passed; cheap enough for inner loops."""
    if _interrupted:
        raise KeyboardInterrupt
    if monotonic() > _state.deadline:
        _state.reached = True
        raise TimeLimitReached(_message())


def _message() -> str:
    return f"stopped: the limit of {_state.seconds:g} s is over"


class _Watch:
    """Stops code of other packages, which asks for no checkpoint: a helper thread raises in the thread that runs it.

    That thread is between two of its own statements then, never inside of ours: `running` is set only around foreign code.
    """

    def __init__(self, deadline: float) -> None:
        self.lock, self.over = threading.Lock(), threading.Event()
        self.running = self.raised = False
        self.thread = threading.get_ident()
        threading.Thread(target=self._wait, args=(deadline,), daemon=True).start()

    def _wait(self, deadline: float) -> None:
        while not self.over.wait(max(deadline - monotonic(), 0.01)):
            if monotonic() > deadline:
                with self.lock:
                    if self.running:
                        self.raised = True
                        _raise_in(self.thread, TimeLimitReached)

    def leave(self) -> None:
        with self.lock:
            self.running = False
        if self.raised:  # it may not have arrived yet: another one takes its place, and is caught here
            # (taking it back by NULL would leave the interpreter's signal set, on which a profiler or debugger hangs)
            self.raised = False
            with suppress(_Replacement):
                _raise_in(self.thread, _Replacement)
                while True:
                    monotonic()


class _Replacement(BaseException):
    """Never leaves this file."""


def _raise_in(thread: int, kind: type[BaseException]) -> None:
    ctypes.pythonapi.PyThreadState_SetAsyncExc(ctypes.c_ulong(thread), ctypes.py_object(kind))


@contextmanager
def foreign() -> Iterator[None]:
    """Around a call of another package, or of plain arithmetic, that may take long: the limit of time holds there too.

    Only for what builds no formula and leaves nothing half done, since the stop may come between any two of its statements.
    """
    if _state.deadline == float("inf"):
        yield
        return
    checkpoint()
    if "numpy" not in sys.modules:
        import_module("numpy")  # not half way through: a stop in the middle of an import would leave a broken module for good
    if _state.watch is None:
        _state.watch = _Watch(_state.deadline)
    watch = _state.watch
    try:
        watch.running = True
        try:
            yield
        finally:
            watch.leave()
    except TimeLimitReached:
        watch.leave()  # the stop may have come in the middle of the first
        _state.reached = True
        raise TimeLimitReached(_message()) from None


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
    before = _state.deadline, _state.seconds, _state.reached, _state.watch
    deadline = monotonic() + seconds
    if deadline < before[0]:
        _state.deadline, _state.seconds, _state.watch = deadline, seconds, None
    _state.reached = False
    try:
        yield
        if _state.reached:  # some method took the stop for "no result": say what happened instead
            raise TimeLimitReached(_message())
    finally:
        if _state.watch is not None and _state.watch is not before[3]:
            _state.watch.over.set()
        _state.deadline, _state.seconds, _state.reached, _state.watch = before
