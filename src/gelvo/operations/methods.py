"""The commonest operations as methods of expressions."""

from __future__ import annotations

from gelvo.expression.nodes import Equation, Expression
from gelvo.operations import calculus, matrices, rewriting, trust

METHODS = {
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
OF_EQUATIONS = ("expand", "factor", "collect", "substitute", "rename", "differentiate")


ENTRY_BY_ENTRY = ("simplify", "expand", "factor", "collect", "substitute", "differentiate", "integrate", "value")


def attach() -> None:
    """Gives expressions, equations and matrices their methods."""
    matrices.attach({n: matrices.entrywise(METHODS[n]) for n in ENTRY_BY_ENTRY})  # type: ignore[arg-type]
    for name, operation in METHODS.items():
        setattr(Expression, name, operation)
        if name in OF_EQUATIONS:
            setattr(Equation, name, operation)
