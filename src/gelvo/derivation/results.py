"""What a statement gives: something to show, its conditions, its certificate, files and figures."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from gelvo.checking.certificate import Certificate
from gelvo.errors import DomainError, FormulaError, InternalFault, as_gelvo_error
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Condition
from gelvo.expression.writing import USUAL, Writing
from gelvo.matrices.matrix import Matrix
from gelvo.operations.solutions import Solutions
from gelvo.physics.mechanics import Motion
from gelvo.physics.systems import FirstOrder


class Words(str):
    """A label in words, which stands before a thing as it is (not the formula of what the thing is equal to), or on a line of its own."""


def split_detail(detail: str) -> list[tuple[bool, str]]:
    """A detail as pieces, each with whether it is a formula: those stand between dollar signs.

    >>> split_detail("excluded: $x = -2$ (no root)")
    [(False, 'excluded: '), (True, 'x = -2'), (False, ' (no root)')]
    """
    pieces = detail.split("$")
    if len(pieces) % 2 == 0:
        return [(False, detail)]
    return [(place % 2 == 1, piece) for place, piece in enumerate(pieces) if piece]


@dataclass
class Result:
    """One carried-out statement.

    kind: title, prose, section, given, unknown, show, let, step, check, plot, export or fault; shown: (formula or Words or "", thing) pairs to
    typeset; note: a plain sentence; details: further ones, formulas in them between dollar signs; unit: in what the last thing shown is measured; steps: the rewritings one after the other; value: what a name
    stands for, where that is not the last thing shown; expected_refuted: for `check not`; writing: how it is written.
    """

    kind: str
    statement: str
    number: int
    shown: list[tuple[str, Any]] = field(default_factory=list)
    note: str = ""
    unit: str = ""
    conditions: tuple[Condition, ...] = ()
    certificate: Certificate | None = None
    expected_refuted: bool = False
    reason: str = ""
    road: str = ""
    figure: Any = None
    files: list[tuple[str, str]] = field(default_factory=list)
    details: list[str] = field(default_factory=list)
    steps: tuple[Any, ...] = ()
    value: Any = None
    writing: Writing = USUAL

    @property
    def internal(self) -> bool:
        """Whether this is a mistake of the library: tests count these, and none is known."""
        return self.kind == "fault" and self.reason == InternalFault.__name__

    @property
    def verdict(self) -> str:
        """proved, supported, undecided, refuted, or refuted as expected; empty where nothing was claimed."""
        if self.certificate is None:
            return ""
        if self.expected_refuted and self.certificate.verdict == "refuted":
            return "refuted as expected"
        return self.certificate.verdict

    @property
    def failed(self) -> bool:
        """Whether a check did not come out as the file says."""
        if self.certificate is None:
            return False
        if self.kind not in ("check", "export"):
            return self.certificate.verdict == "refuted"
        if self.expected_refuted:
            return self.certificate.verdict != "refuted"
        return self.certificate.verdict in ("refuted", "undecided")


def fault_of(cause: BaseException, statement: str, number: int) -> Result:
    """A faulty line: its text, a caret, and what is wrong with it."""
    fault = as_gelvo_error(cause)
    column, (message, _, hint) = 0, str(fault).partition("\n")
    if isinstance(fault, FormulaError):
        message, hint = fault.message, fault.hint
        start = statement.find(fault.text) if fault.text else -1
        if fault.text and start < 0:
            return Result("fault", statement, number, note=str(fault), reason=type(fault).__name__)
        column = start + fault.column if fault.text else 0
    note = FormulaError(message, statement, column, hint).render()
    return Result("fault", statement, number, note=note, reason=type(fault).__name__)


_KINDS = {
    Equation: "an equation",
    Condition: "a condition",
    Matrix: "a matrix",
    Motion: "a motion",
    FirstOrder: "a first-order form",
}


def defined(name: str, result: Result) -> object:
    """What a name stands for that is defined by a statement: its one result."""
    if result.value is not None:
        return result.value
    if not result.shown:
        raise DomainError(f"{name} cannot be defined: this statement gives nothing exact that a name could stand for")
    if len(result.shown) > 1:
        listed = "; ".join(f"{label} = {thing}" if label else str(thing) for label, thing in result.shown)
        raise DomainError(
            f"{name} cannot be defined: this statement gives {len(result.shown)} results, {listed}: give the one that is meant its own name"
        )
    value = result.shown[0][1]
    if isinstance(value, Solutions) and not len(value):
        raise DomainError(f"{name} cannot be defined: there is no solution")
    return value


def kind_of(value: object) -> str:
    """What a thing is called in messages."""
    return next((word for kind, word in _KINDS.items() if isinstance(value, kind)), f"a {type(value).__name__}")
