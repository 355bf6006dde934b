"""The commonest operations as methods of expressions."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Expression
from gelvo.operations import calculus, matrices, rewriting, trust
from gelvo.operations.boundary import told

METHODS: dict[str, Callable[..., Any]] = {
    "simplify": rewriting.simplify,
    "expand": rewriting.expand,
    "factor": rewriting.factor,
    "collect": rewriting.collect,
    "substitute": rewriting.substitute,
    "rename": rewriting.rename,
    "differentiate": calculus.differentiate,
    "integrate": calculus.integrate,
    "value": trust.value,
    "equal": trust.equal,
}
# further operations on one formula that take a matrix entry by entry
ON_ENTRIES = (
    "combine",
    "common_denominator",
    "rationalize_denominator",
    "express",
    "amplitude_phase",
    "partial_fractions",
    "limit",
)
OF_EQUATIONS = ("expand", "factor", "collect", "substitute", "rename", "differentiate")


ENTRY_BY_ENTRY = ("simplify", "expand", "factor", "collect", "substitute", "differentiate", "integrate", "value")


def attach() -> None:
    """Gives expressions, equations and matrices their methods."""
    matrices.attach({n: told(matrices.entrywise(METHODS[n])) for n in ENTRY_BY_ENTRY})
    for name, operation in METHODS.items():
        setattr(Expression, name, told(operation))
        if name in OF_EQUATIONS:
            setattr(Equation, name, told(operation))
