"""A formula that stands by itself: it is simplified and shown."""

from __future__ import annotations

from gelvo.derivation.results import Result
from gelvo.derivation.said import Said
from gelvo.derivation.statement import Statement
from gelvo.expression.nodes import Expression
from gelvo.matrices.matrix import Matrix
from gelvo.operations import rewriting


def _formula(said: Said) -> Result:
    if not said.defining:
        said.derivation.known(said.head, *[n.name for n in said.values])
    value = said.read(said.head)
    value = said.put(getattr(value, "expression", value))
    if said.defining or not isinstance(value, (Expression, Matrix)):
        return said.result(value)
    return said.answers(value, lambda e: rewriting.simplify(e, said.given, steps=said.derivation.steps))


FORMULA = Statement("", "E [with VALUES] [given FACTS]", _formula, "2*x + 3*x", "a formula is simplified and shown")
