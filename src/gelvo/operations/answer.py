"""An answer acts as its formula and carries what goes with it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from gmpy2 import mpq

from gelvo.checking.certificate import PROVED, UNDECIDED, Certificate
from gelvo.errors import NoClosedForm
from gelvo.expression.building import junction
from gelvo.expression.nodes import Condition, Expression, Sum
from gelvo.expression.registry import Hooks
from gelvo.expression.writing import with_typed


def with_comment(formula: str, comment: str) -> str:
    """Formula text with a comment behind it, as formula text allows."""
    return f"{formula}   # {comment}" if comment else formula


def in_a_row(terms: Sequence[Expression], typed: frozenset[mpq]) -> str:
    """Terms as text, one after the other."""
    with with_typed(typed):
        first, *others = (f"({t})" if isinstance(t, Sum) and t is not terms[0] else str(t) for t in terms)
    return first + "".join(f" - {t[1:]}" if t.startswith("-") else f" + {t}" for t in others)


class Answer:
    """A result with its conditions, verdict and road.

    .expression: the formula; .conditions: what it needs beyond the facts; .verdict: proved, supported, undecided;
    .road: how it was found; .reason: why there is no closed form; .steps: explained steps, where asked for;
    .certificate(): how it was checked.
    """

    __slots__ = ("_certificate", "_make", "_steps", "came_in", "conditions", "expression", "reason", "road")

    def __init__(
        self, expression: Expression, certify: Callable[[], Certificate], conditions: tuple[Condition, ...] = (),
        road: str = "", reason: str = "", steps: tuple[object, ...] | Callable[[], tuple[object, ...]] = (),
    ) -> None:  # fmt: skip
        self.expression, self.conditions, self.road, self.reason, self._steps = expression, conditions, road, reason, steps
        self._make = certify
        self.came_in: frozenset[mpq] = frozenset()  # the decimals that were typed for it, which stay decimals where it is shown
        self._certificate: Certificate | None = None

    def certificate(self) -> Certificate:
        if self._certificate is None:
            self._certificate = self._make()
        return self._certificate

    @property
    def steps(self) -> tuple[object, ...]:
        if callable(self._steps):
            self._steps = self._steps()
        return self._steps

    def with_steps(self, steps: Callable[[], tuple[object, ...]]) -> Answer:
        """The same answer, with explained steps that are worked out when they are asked for."""
        self._steps = steps
        return self

    @property
    def verdict(self) -> str:
        return self.certificate().verdict

    def __getstate__(self) -> tuple[None, dict[str, object]]:
        """Everything worked out, so that an answer travels to another process: closures stay behind."""
        self.certificate()
        state = {slot: getattr(self, slot) for kind in type(self).__mro__ for slot in getattr(kind, "__slots__", ())}
        return None, {**state, "_make": None, "_steps": self.steps}

    @property
    def qualification(self) -> str:
        """What a reader has to know beside the formula: its conditions, and a verdict below proved; empty where there is none."""
        parts = [f"if {junction('and', self.conditions)}"] if self.conditions else []
        if self.reason:
            proof = f"no elementary form ({self.verdict})" if self.verdict != UNDECIDED else "not worked out"
            parts.append(f"{proof}: {self.reason}")
        elif self.verdict != PROVED:
            parts.append(self.verdict)
        return "; ".join(parts)

    def __str__(self) -> str:
        """The formula, and its qualification as a comment: the text still reads back to the formula."""
        with with_typed(self.came_in):
            return with_comment(str(self.expression), self.qualification)

    __repr__ = __str__

    def __eq__(self, other: object) -> bool:
        return self.expression == getattr(other, "expression", other)

    def __hash__(self) -> int:
        return hash(self.expression)

    def __getattr__(self, name: str) -> Any:
        if name.startswith("__"):
            raise AttributeError(name)
        return getattr(self.expression, name)

    def _repr_mimebundle_(self, include: object = None, exclude: object = None) -> dict[str, str]:
        return Hooks.show(self)


def _forward(method: str) -> Callable[..., object]:
    def operate(self: Answer, *others: object) -> object:
        plain = [getattr(o, "expression", o) for o in others]
        return getattr(self.expression, method)(*plain)

    return operate


for _method in (
    "__add__", "__radd__", "__sub__", "__rsub__", "__mul__", "__rmul__", "__truediv__", "__rtruediv__", "__pow__", "__rpow__",
    "__neg__", "__pos__", "__abs__", "__lt__", "__le__", "__gt__", "__ge__", "__float__", "__complex__",
):  # fmt: skip
    setattr(Answer, _method, _forward(_method))


def unevaluated(form: Expression, reason: str, otherwise: str) -> Answer:
    """The written form as an answer that claims nothing; or NoClosedForm, where that was asked for."""
    if otherwise == "error":
        raise NoClosedForm(reason)
    certificate = Certificate(str(form), UNDECIDED, "nothing was claimed: the form stays written")
    return Answer(form, lambda: certificate, (), "", reason)
