"""What a statement says, for those who carry it out: its head and clauses as formulas, names, facts and values."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from typing import TYPE_CHECKING, Any, TypeVar, cast

from gelvo.checking.certificate import UNDECIDED, Certificate, weakest
from gelvo.derivation.lines import Line
from gelvo.derivation.measuring import put
from gelvo.derivation.results import Result
from gelvo.derivation.statement import Statement
from gelvo.errors import DomainError, FormulaError
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Condition, Expression, Name
from gelvo.facts.statements import Fact
from gelvo.facts.store import Facts
from gelvo.matrices.matrix import Matrix
from gelvo.operations.answer import Answer
from gelvo.operations.inputs import split_initial
from gelvo.reading.pieces import Cut, split_commas
from gelvo.reading.tree import Read

if TYPE_CHECKING:
    from gelvo.derivation.state import State

V = TypeVar("V")


class Said:
    """One statement as it was written, read with the state of its derivation.

    head: what stands before the first clause; text: the statement without a name that it defines; defining: whether it defines one.
    Texts that the methods take are parts of the statement; by default they are about the head.
    """

    def __init__(
        self, derivation: State, statement: Statement, cuts: list[Cut], text: str, line: Line, defining: bool = False
    ) -> None:
        self.derivation, self.statement, self.line = derivation, statement, line
        self.cuts, self.text, self.defining = cuts, text, defining
        self.head = cuts[0].text

    # --- clauses ---------------------------------------------------------------------------------------------------------

    def get(self, word: str) -> str | None:
        """The text of a clause, or None; one that stands several times is one list."""
        found = [part.text for part in self.cuts[1:] if part.word == word]
        return ", ".join(found) if found else None

    def __getitem__(self, word: str) -> str:
        """The text of a clause that the shape asks for."""
        text = self.get(word)
        if not text:
            raise self.statement.fault(self.line.text)
        return text

    def fault(self, message: str, part: str = "", hint: str = "") -> FormulaError:
        """A fault with the caret below a part of the statement, or behind it."""
        column = self.line.text.find(part) if part else len(self.line.text)
        return FormulaError(message, self.line.text, max(column, 0), hint)

    # --- what the texts stand for ------------------------------------------------------------------------------------------

    @cached_property
    def values(self) -> dict[Name, Expression]:
        """What `with` puts in."""
        return self.derivation.values(self.get("with"))

    @cached_property
    def given(self) -> list[Fact]:
        """The facts of the file and of the statement, and the conditions of the definitions that it uses."""
        return self.derivation.given(self.get("given"), self.text)

    @cached_property
    def facts(self) -> Facts:
        """The facts without initial values."""
        return Facts(split_initial(self.given)[1])

    def put(self, value: V) -> V:
        """The values of `with` put into a formula, an equation, a condition or a matrix."""
        if not self.values:
            return value
        if isinstance(value, Matrix):
            return cast(V, value.map(lambda e: put(e, self.values, self.derivation.units)))
        if isinstance(value, (Equation, Expression, Condition)):
            return put(value, self.values, self.derivation.units)
        raise DomainError("`with` cannot put values into this result")

    def read(self, text: str) -> Read:
        """What a text stands for, as it is written."""
        return self.derivation.read(text)

    def thing(self, text: str | None = None) -> Read:
        """A formula, an equation or a matrix, values put in."""
        value = self.put(self.read(self.head if text is None else text))
        return getattr(value, "expression", value)

    def entries(self) -> Expression | Matrix:
        """The head as a formula, or as a matrix that is taken entry by entry; values put in."""
        return self.put(self.derivation.entries(self.head))

    def formula(self, text: str | None = None) -> Expression:
        """A formula, values put in."""
        return self.put(self.derivation.expression(self.head if text is None else text))

    def matrix(self, text: str | None = None) -> Matrix:
        """A matrix, values put in."""
        text = self.head if text is None else text
        value = self.put(self.read(text))
        if not isinstance(value, Matrix):
            raise DomainError(f"`{text}` is not a matrix: write [1, 2; 3, 4]")
        return value

    def listed(self, text: str | None = None) -> list[str]:
        """The parts of a list."""
        return split_commas(self.head if text is None else text)

    def equations(self, text: str | None = None) -> list[Read]:
        """Each part of a list of equations, values put in."""
        return [self.put(self.read(part)) for part in self.listed(text)]

    def unknowns(self, text: str) -> list[Expression]:
        """The unknowns of a list, whatever their names are defined as."""
        return [self.derivation.unknown(part) for part in self.listed(text)]

    def ends(self, variable: str, *words: str) -> list[Expression]:
        """The ends of a variable's range, in its unit."""
        return [self.derivation.end(variable, self[word]) for word in words]

    def ranges(self) -> dict[Expression, tuple[Expression, Expression]]:
        """`over y in 0..x, x in 0..1`: the variables with their ends, the innermost first, values put in."""
        found: dict[Expression, tuple[Expression, Expression]] = {}
        for part in self.listed(self["over"]):
            variable, inside, ends = part.partition(" in ")
            low, dots, high = ends.partition("..")
            if not inside or not dots:
                raise self.fault(f"a range reads like  y in 0..x , found  {part.strip()}", part)
            (x,) = self.unknowns(variable)
            lower, upper = (self.put(self.derivation.end(variable, end)) for end in (low, high))
            found[x] = (lower, upper)
        return found

    def pairs(self, text: str, form: str) -> dict[Expression, Expression]:
        """`a = b, c = d` as a table from the left to the right sides."""
        table = {}
        for part in self.listed(text):
            pair = self.read(part)
            if not isinstance(pair, Equation):
                raise self.fault(f"`{part}` is not of the form  {form}", part)
            table[pair.left] = pair.right
        return table

    def assigned(self, text: str) -> list[tuple[str, str]]:
        """The left and right sides of `a = b, c = d` as text."""
        sides = [part.partition("=") for part in self.listed(text) if part]
        for left, equals, _ in sides:
            if not equals:
                raise self.fault(f"`{left}` is not of the form  x = A", left)
        return [(left.strip(), right) for left, _, right in sides]

    # --- results -------------------------------------------------------------------------------------------------------------

    def result(self, *shown: object, kind: str = "step", **more: Any) -> Result:
        """A result: things, or (label, thing) pairs, and what else stands beside them."""
        pairs = [s if isinstance(s, tuple) else ("", s) for s in shown]
        return Result(kind, self.line.text, self.line.number, pairs, **more)

    def answer(self, answer: Answer) -> Result:
        """An answer with its conditions, verdict and road, and its steps where the derivation wants them."""
        certificate = answer.certificate() if not answer.reason or answer.verdict != UNDECIDED else None
        return self.result(
            answer, conditions=answer.conditions, certificate=certificate, reason=answer.reason, road=answer.road,
            steps=answer.steps if self.derivation.steps else (),
        )  # fmt: skip

    def answers(self, value: Expression | Matrix, work: Callable[[Expression], Answer]) -> Result:
        """A formula's answer; of a matrix the answers to all its entries, with the conditions and the verdict of all."""
        if not isinstance(value, Matrix):
            return self.answer(work(value))
        answers = [work(e) for e in value.flat()]
        width = value.shape[1]
        entries = Matrix([answers[k : k + width] for k in range(0, len(answers), width)])
        conditions = tuple(dict.fromkeys(c for a in answers for c in a.conditions))
        parts = tuple(a.certificate() for a in answers if not a.reason)
        whole = (
            Certificate(self.line.text, weakest(parts), "each entry by itself", conditions=conditions, parts=parts)
            if parts
            else None
        )
        reason = "; ".join(dict.fromkeys(f"{a.expression}: {a.reason}" for a in answers if a.reason))
        return self.result(entries, conditions=conditions, certificate=whole, reason=reason)
