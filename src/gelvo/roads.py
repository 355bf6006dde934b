"""Which methods a result, or its check, went through: they note themselves, so that one road is not taken for two."""

from __future__ import annotations

import functools
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import ParamSpec, TypeVar

Arguments = ParamSpec("Arguments")
Result = TypeVar("Result")

_notes: ContextVar[dict[str, None] | None] = ContextVar("notes", default=None)


def on_the_way(name: str) -> Callable[[Callable[Arguments, Result]], Callable[Arguments, Result]]:
    """A method that notes its name when it is used; what it uses itself belongs to it."""

    def marked(method: Callable[Arguments, Result]) -> Callable[Arguments, Result]:
        @functools.wraps(method)
        def run(*arguments: Arguments.args, **named: Arguments.kwargs) -> Result:
            notes = _notes.get()
            if notes is None:
                return method(*arguments, **named)
            notes[name] = None
            with unnoted():
                return method(*arguments, **named)

        return run

    return marked


@contextmanager
def noted() -> Iterator[dict[str, None]]:
    """The names of the methods used inside, in order.

    >>> @on_the_way("doubling")
    ... def double(x): return 2*x
    >>> with noted() as taken: _ = double(3)
    >>> list(taken)
    ['doubling']
    """
    notes: dict[str, None] = {}
    before = _notes.set(notes)
    try:
        yield notes
    finally:
        _notes.reset(before)


@contextmanager
def unnoted() -> Iterator[None]:
    """Inside, nothing is noted: a proposal that a check proves by itself is no road of the check."""
    before = _notes.set(None)
    try:
        yield
    finally:
        _notes.reset(before)
