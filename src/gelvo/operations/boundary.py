"""The border between a caller and an operation: no error but one of ours crosses it.

An argument of a kind that the signature does not allow is told in a sentence; anything else that goes wrong is an internal fault.
"""

from __future__ import annotations

import functools
import inspect
import numbers
from collections.abc import Callable, Iterable, Mapping
from typing import Any

from gelvo.errors import GelvoError, WrongKind, as_gelvo_error
from gelvo.expression.writing import came_in_with
from gelvo.matrices.matrix import Matrix

# how an annotation begins -> what it allows, and what that is called in messages
KINDS: dict[str, tuple[Callable[[Any], bool], str]] = {
    "int": (lambda v: isinstance(v, numbers.Integral) and not isinstance(v, bool), "a whole number"),
    "float": (lambda v: isinstance(v, numbers.Real) and not isinstance(v, bool), "a number"),
    "bool": (lambda v: isinstance(v, bool), "True or False"),
    "str": (lambda v: isinstance(v, str), "text"),
    "Sequence": (lambda v: isinstance(v, Iterable) and not isinstance(v, (str, bytes)), "a list"),
    "Iterable": (lambda v: isinstance(v, Iterable) and not isinstance(v, bytes), "a list"),
    "Mapping": (lambda v: isinstance(v, Mapping), "a mapping {…: …}"),
    "dict": (lambda v: isinstance(v, Mapping), "a mapping {…: …}"),
    "Callable": (callable, "a function"),
    "Matrix": (lambda v: isinstance(v, Matrix), "a matrix"),
}


def told(operation: Callable[..., object]) -> Callable[..., object]:
    """The operation; what goes wrong in it leaves as a GelvoError that says what was found and what is needed."""

    @functools.wraps(operation)
    def call(*arguments: object, **named: object) -> object:
        try:
            result = operation(*arguments, **named)
            if hasattr(result, "came_in"):
                result.came_in = came_in_with([*arguments, *named.values()])
            return result
        except GelvoError:
            raise
        except Exception as fault:
            error = _explained(operation, arguments, named, fault)
            if error is fault:
                raise
            raise error from fault

    return call


def _explained(
    operation: Callable[..., object], arguments: tuple[object, ...], named: Mapping[str, object], fault: Exception
) -> Exception:
    """The argument of a wrong kind, where there is one; what a caller's own function raised is left as it is."""
    try:
        bound = inspect.signature(operation).bind(*arguments, **named)
    except TypeError:
        return fault  # too few or too many arguments: Python says it best
    for name, parameter in inspect.signature(operation).parameters.items():
        if name not in bound.arguments or parameter.kind is inspect.Parameter.VAR_KEYWORD:
            continue
        values = bound.arguments[name] if parameter.kind is inspect.Parameter.VAR_POSITIONAL else [bound.arguments[name]]
        wanted = _kind_wanted(str(parameter.annotation))
        for value in values:
            if wanted is not None and not wanted[0](value) and not (value is None and "None" in str(parameter.annotation)):
                return WrongKind(f"{operation.__name__}: {name} is {wanted[1]}, not {_shown(value)}")
    if any(callable(v) and not hasattr(v, "children") for v in (*arguments, *named.values())):
        return fault
    return as_gelvo_error(fault)


def _kind_wanted(annotation: str) -> tuple[Callable[[object], bool], str] | None:
    return next((kind for start, kind in KINDS.items() if annotation.startswith(start)), None)


def _shown(value: object) -> str:
    text = repr(value)
    return f"{text[:60]}{'…' if len(text) > 60 else ''} ({type(value).__name__})"
