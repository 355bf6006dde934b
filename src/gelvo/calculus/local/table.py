"""What expansions know of each function: rows that register themselves under the function's name."""

from __future__ import annotations

from collections.abc import Callable
from typing import Protocol, TypeVar

from gmpy2 import mpq

from gelvo.calculus.local.expansion import Expansion, constant_term
from gelvo.expression.nodes import Call, Expression, Name, Node
from gelvo.facts.store import Facts


class Expanding(Protocol):
    """What a row may ask: arithmetic of expansions in the small u, under the facts."""

    u: Name
    facts: Facts

    def add(self, pieces: list[Expansion]) -> Expansion: ...
    def multiply(self, a: Expansion, b: Expansion) -> Expansion: ...
    def power(self, a: Expansion, q: mpq) -> Expansion: ...
    def log(self, a: Expansion) -> Expansion: ...

    def compose(self, z: Expansion, coefficient: Callable[[int], Expression]) -> Expansion:
        """The sum of coefficient(k)*z^k for a z that vanishes."""

    def divisor(self, a: Expansion) -> tuple[mpq, Expression, Expansion]:
        """(e, c, r) with a = c*u^e*(1 + r), where c is not zero."""

    def leading(self, a: Expansion) -> tuple[mpq, Expression, Expansion]:
        """The same without asking whether c may vanish."""

    def ordinary(self, node: Call, which: int, inner: Expansion) -> Expansion:
        """A function far out, or about a place of its argument that is off its cuts and smooth."""

    def regular(self, node: Call, which: int, place: Expression, z: Expansion) -> Expansion:
        """Taylor's series of a smooth function about a place of its argument."""

    def at_infinity(self, node: Call, inner: Expansion) -> Expansion:
        """A function whose argument grows without bound."""

    def rises(self, inner: Expansion) -> bool:
        """Whether what grows without bound goes to inf, and not to -inf."""

    def one(self, node: Expression, done: dict[Node, Expansion]) -> Expansion:
        """The expansion of a node whose parts are expanded."""


def scaled(at: Expanding, outer: Expression, a: Expansion) -> Expansion:
    return at.multiply(constant_term(outer), a)


Rule = Callable[[Expanding, Call, Expansion], Expansion]
Coefficients = Callable[[str, Expression], Callable[[int], Expression] | None]
LOCAL: dict[str, Rule] = {}  # near corners, jumps and poles: from the expansion of the argument
FAR: dict[str, Rule] = {}  # for an argument that grows without bound
TAYLOR: dict[str, Coefficients] = {}  # (name, place) -> the k-th coefficient there, where that is shorter than by derivatives
R = TypeVar("R", Rule, Coefficients)


def _register(table: dict[str, R], functions: tuple[str, ...]) -> Callable[[R], R]:
    def enter(rule: R) -> R:
        table.update(dict.fromkeys(functions, rule))
        return rule

    return enter


def local(*functions: str) -> Callable[[Rule], Rule]:
    return _register(LOCAL, functions)


def far(*functions: str) -> Callable[[Rule], Rule]:
    return _register(FAR, functions)


def taylor(*functions: str) -> Callable[[Coefficients], Coefficients]:
    return _register(TAYLOR, functions)
