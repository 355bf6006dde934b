"""What all statements share: values put in, clauses refused, facts, answers as results."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from gelvo.checking.certificate import Certificate, weakest
from gelvo.derivation.lines import Clauses, Line
from gelvo.derivation.measuring import put
from gelvo.derivation.results import Result
from gelvo.errors import DomainError, FormulaError
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Condition, Expression, Name
from gelvo.expression.traversal import free_names, postorder
from gelvo.facts.store import Facts
from gelvo.matrices.matrix import Matrix
from gelvo.operations.answer import Answer
from gelvo.operations.inputs import split_initial
from gelvo.reading.stated import split_commas

if TYPE_CHECKING:
    from gelvo.derivation.state import State

Handler = Callable[["State", Clauses, Line], Result]
"""Carries out what stands after the opening words of a statement."""


def reads(line: Line, shape: str, what: str = "this") -> FormulaError:
    """The fault of a statement that lacks a part: how the whole reads."""
    return FormulaError(f"{what} reads  {shape}", line.text, len(line.text))


def body(text: str) -> str:
    """What a statement is about: `of` may stand before it."""
    return re.sub(r"^of\s", "", text.strip())


def pairs(derivation: State, text: str, line: Line, form: str) -> dict[Any, Any]:
    """`a = b, c = d` as a table from the left to the right sides."""
    table = {}
    for part in split_commas(text):
        pair = derivation.read(part)
        if not isinstance(pair, Equation):
            raise FormulaError(f"`{part.strip()}` is not of the form  {form}", line.text, max(line.text.find(part.strip()), 0))
        table[pair.left] = pair.right
    return table


def put_in(derivation: State, value: Any, parts: Clauses) -> Any:
    """The values of a `with` clause put in."""
    table = derivation.values(parts.get("with"))
    if not table:
        return value
    if isinstance(value, (Equation, Expression, Condition)):
        return put(value, table, derivation.units)
    if isinstance(value, Matrix):
        return value.map(lambda e: put(e, table, derivation.units))
    raise DomainError("`with` cannot put values into this result")


def formula_in(derivation: State, parts: Clauses, text: str) -> Expression:
    """The formula that a text of the statement stands for, values put in."""
    value = put_in(derivation, derivation.expression(body(text)), parts)
    assert isinstance(value, Expression)
    return value


def refuse(parts: Clauses, *allowed: str) -> None:
    for word, text, _ in parts.parts:
        if word not in allowed:
            raise FormulaError(
                f"`{word} {text}` has no meaning in this statement (it may have: {', '.join(allowed) or 'no clause'})"
            )


def from_answer(answer: Answer, line: Line, steps: bool = True) -> Result:
    certificate = answer.certificate() if not answer.reason else None
    return Result(
        "step", line.text, line.number, [("", answer)], conditions=answer.conditions, certificate=certificate,
        reason=answer.reason, road=answer.road, steps=answer.steps if steps else (),
    )  # fmt: skip


def answered(value: Any, work: Callable[[Expression], Answer], line: Line, steps: bool = True) -> Result:
    """A formula's answer; of a matrix the answers to all its entries, with the conditions and the verdict of all."""
    if not isinstance(value, Matrix):
        return from_answer(work(value), line, steps)
    answers = [work(e) for e in value.flat()]
    width = value.shape[1]
    entries = Matrix([answers[k : k + width] for k in range(0, len(answers), width)])
    conditions = tuple(dict.fromkeys(c for a in answers for c in a.conditions))
    parts = tuple(a.certificate() for a in answers if not a.reason)
    whole = Certificate(line.text, weakest(parts), "each entry by itself", conditions=conditions, parts=parts) if parts else None
    reason = "; ".join(dict.fromkeys(f"{a.expression}: {a.reason}" for a in answers if a.reason))
    return Result("step", line.text, line.number, [("", entries)], conditions=conditions, certificate=whole, reason=reason)


def facts_of(given: list[Any]) -> Any:
    return Facts(split_initial(given)[1])


def appearing(expressions: list[Expression]) -> list[Name]:
    """Names in the order of their first appearance."""
    found: dict[Name, None] = {}
    for e in expressions:
        free = set(free_names(e))
        found.update(dict.fromkeys(n for n in postorder(e) if isinstance(n, Name) and n in free))
    return list(found)
