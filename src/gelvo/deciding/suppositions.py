"""What is taken not to be zero on the way to a result though no fact says so: it becomes a condition of the result.

A method that divides by a coefficient asks `may_suppose_nonzero`. The operation that called it listens, and states the conditions;
a check supposes nothing, so that it proves a result only under the conditions that were stated.
"""

from __future__ import annotations

import functools
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import ParamSpec, TypeVar

from gelvo.deciding.equality import is_zero
from gelvo.expression.nodes import Condition, Expression
from gelvo.expression.traversal import names
from gelvo.facts.conditions import nonzero
from gelvo.facts.store import Facts
from gelvo.forms.fractions import factored

Arguments = ParamSpec("Arguments")
Result = TypeVar("Result")
Suppositions = dict[Condition, None]

_listening: ContextVar[Suppositions | None] = ContextVar("suppositions", default=None)
_allowed: ContextVar[bool] = ContextVar("suppositions are allowed", default=True)


@contextmanager
def supposing() -> Iterator[Suppositions]:
    """The conditions that are supposed inside, in order.

    >>> from gelvo.expression.building import name
    >>> with supposing() as conditions: _ = may_suppose_nonzero(2*name("a"), Facts())
    >>> print(*conditions)
    a != 0
    """
    found: Suppositions = {}
    before = _listening.set(found)
    try:
        yield found
    finally:
        _listening.reset(before)


@contextmanager
def supposing_nothing() -> Iterator[None]:
    """Inside, only what the facts say is known not to be zero."""
    before = _allowed.set(False)
    try:
        yield
    finally:
        _allowed.reset(before)


def attempt(method: Callable[Arguments, Result | None]) -> Callable[Arguments, Result | None]:
    """A method whose suppositions are forgotten where it gives nothing."""

    @functools.wraps(method)
    def run(*arguments: Arguments.args, **named: Arguments.kwargs) -> Result | None:
        with supposing() as own:
            result = method(*arguments, **named)
        outer = _listening.get()
        if result is not None and outer is not None:
            outer.update(own)
        return result

    return run


def is_supposing() -> bool:
    """Whether anything may be supposed here, as on the way to a result, but not in a check."""
    return _allowed.get()


def may_suppose_nonzero(e: Expression, facts: Facts) -> bool:
    """Whether a formula is not zero, or may be taken so: then the condition is noted."""
    if facts.is_nonzero(e):
        return True
    if is_zero(e, facts) is not False:
        return False
    if not names(e):
        return True
    if not _allowed.get():
        return False
    _note(nonzero(factored(e)))
    return True


def may_suppose(condition: Condition, facts: Facts) -> bool:
    """Whether a condition on letters holds, or may be taken to hold: then it is noted."""
    holds = facts.holds(condition)
    if holds is not None or not names(condition) or not _allowed.get():
        return holds is True
    _note(condition)
    return True


def _note(condition: Condition) -> None:
    listening = _listening.get()
    if listening is not None:
        listening[condition] = None
