"""What matrices give: matrices, numbers, lists and tables that carry conditions, a certificate and steps, and the cases of letters."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Any, NamedTuple

from gelvo.checking.certificate import Certificate
from gelvo.checking.matrices import Claim, check_claims
from gelvo.expression.building import junction
from gelvo.expression.nodes import Condition, Expression
from gelvo.expression.registry import Hooks
from gelvo.expression.traversal import substitute
from gelvo.facts.store import Facts
from gelvo.matrices.matrix import Matrix
from gelvo.operations.answer import with_comment


class Beside:
    """.conditions: what the letters must be; .verdict and .certificate(): the result checked by a road of its own; .road; .steps."""

    conditions: tuple[Condition, ...]
    road: str = ""
    steps: tuple[object, ...] = ()
    _certificate: Certificate | None = None
    _make: Callable[[], Certificate] | None = None

    def certificate(self) -> Certificate:
        if self._certificate is None:
            assert self._make is not None
            self._certificate = self._make()
        return self._certificate

    @property
    def verdict(self) -> str:
        return self.certificate().verdict

    def _commented(self, text: str) -> str:
        return with_comment(text, f"if {junction('and', self.conditions)}" if self.conditions else "")

    def _repr_mimebundle_(self, include: object = None, exclude: object = None) -> dict[str, str]:
        return Hooks.show(self)

    def __getstate__(self) -> Any:
        """Everything worked out, so that a result travels to another process: closures stay behind."""
        self.certificate()
        return {**self.__dict__, "_make": None}


class MatrixResult(Beside, Matrix):
    """A matrix with what stands beside a result."""

    def __getstate__(self) -> Any:
        return super().__getstate__(), {"entries": self.entries, "conditions": self.conditions}


class CountResult(Beside, int):
    """A whole number with what stands beside a result."""

    def __repr__(self) -> str:
        return self._commented(str(int(self)))

    __str__ = __repr__


class ListResult(Beside, list[Any]):
    """A list with what stands beside a result."""

    def __repr__(self) -> str:
        return self._commented(list.__repr__(self))

    __str__ = __repr__


class TableResult(Beside, dict[Any, Any]):
    """A table with what stands beside a result."""

    def __repr__(self) -> str:
        return self._commented(dict.__repr__(self))

    __str__ = __repr__


class PartsResult(Beside, tuple[Any, ...]):
    """Matrices that belong together, each with its letter: P, J = result, or result.P."""

    letters: tuple[str, ...] = ()

    def __getattr__(self, name: str) -> Any:
        if name in self.letters:
            return self[self.letters.index(name)]
        raise AttributeError(f"there is no {name} here, but {', '.join(self.letters)}")

    def __repr__(self) -> str:
        return self._commented(", ".join(f"{letter} = {Matrix(m.entries)}" for letter, m in zip(self.letters, self, strict=True)))

    __str__ = __repr__


class WordResult(Beside, str):
    """A word with what stands beside a result."""

    __slots__ = ()


Claims = Callable[[], Sequence[Claim]]


def result(kind: type[Any], value: object, conditions: Iterable[Condition], claims: Claims, facts: Facts, road: str = "") -> Any:
    """A result of a kind; its claims are made and checked where somebody asks for the certificate."""
    told = tuple(dict.fromkeys(conditions))
    made = kind.again(value.entries, told) if kind is MatrixResult and isinstance(value, Matrix) else kind(value)
    made.conditions = told
    made.road = road
    made._make = lambda: check_claims(claims(), facts, told)
    return made


def parts_result(
    found: Sequence[Matrix], letters: Sequence[str], conditions: Iterable[Condition], claims: Claims, facts: Facts, road: str
) -> PartsResult:
    """Matrices that belong together; what holds for them stands beside all, not on each."""
    made = result(PartsResult, [Matrix.again(m.entries) for m in found], conditions, claims, facts, road)
    made.letters = tuple(letters)
    return made


class MatrixCase(NamedTuple):
    """What holds for the letters in a case, and the result then; None where it was not worked out."""

    when: tuple[Condition, ...]
    result: Any

    @property
    def shown(self) -> str:
        """The result in one line."""
        if self.result is None:
            return "not worked out"
        bare = self.result
        if isinstance(bare, (ListResult, TableResult, PartsResult, CountResult)):
            return repr(bare).partition("   # if ")[0]
        return str(Matrix(bare.entries)) if isinstance(bare, Matrix) else str(bare)


def put_in(m: Matrix, table: Mapping[Any, Expression]) -> Matrix:
    """The matrix with values of letters."""
    return m.map(lambda e: substitute(e, table)) if table else m
