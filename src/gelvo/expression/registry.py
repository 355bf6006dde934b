"""What other folders fill in: the catalogue of functions, and hooks that the core calls without importing them."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import Any, Protocol, TypeAlias, TypeVar

# formulas, conditions and any of both: the classes of nodes stand above this file, which they use
Expression: TypeAlias = Any
Condition: TypeAlias = Any
Node: TypeAlias = Any
C = TypeVar("C")
F = TypeVar("F")


@dataclass(frozen=True, eq=False, kw_only=True)
class Function:
    """One function of mathematics: everything that any part of the library knows of it.

    name: its name in formula text and in Python; about: what it is, in a sentence; example: texts of arguments, and the value there;
    arguments: how many it takes (at least, at most);
    derivative: one formula an argument; antiderivative: of the function of one plain variable;
    at: exact values; no_value: whether exact arguments are a pole, or outside of what it is defined on; odd, even: parity; inverse: the name of g with f(g(x)) = x for all complex x;
    solve_for: from c and a free integer n to the real u with f(u) = c, each with its conditions on c;
    zeros: from a free integer n to all real u with f(u) = 0, for a function of one argument (None: not known);
    period: the real period;
    real_when: conditions under which real arguments give a real, finite value;
    real_beyond: whether it is real at further real arguments too;
    breaks: expressions of the arguments whose zeros are the poles, jumps and kinks on the real line (None: not known);
    jumps: those of `breaks` where the function itself is not continuous (None: all of them);
    regular_when: conditions under which it is smooth at a place, where `breaks` tells only where the poles begin;
    range: (lower or None, upper or None, whether the ends are never reached) of the value at real arguments;
    known: from what is known of the arguments to what is known of the value; bounds: rigorous evaluation;
    agreed: the name of an mpmath function where no rigorous evaluation is at hand (or that name and further arguments, or a function
    of its context and the arguments); agreed_at_complex: whether that holds at complex arguments, with the same cuts;
    as_elementary: the same function by sin, cos, exp and ln, for the normal form; in_code: how generated code works it out where a
    target has no function of that name, also where `as_elementary` has no value (None: by `as_elementary`);
    at_infinity: limits at (inf, -inf); latex: how it is typeset (target languages have tables of their own); source: of the formulas.
    """

    name: str
    about: str
    example: tuple[str, ...]
    arguments: tuple[int, int] = (1, 1)
    derivative: Callable[..., Expression] | tuple[Callable[..., Expression], ...] | None = None
    antiderivative: Callable[[Expression], Expression] | None = None
    at: Callable[..., Expression | None] | None = None
    no_value: Callable[..., bool] | None = None
    odd: bool = False
    even: bool = False
    inverse: str | None = None
    solve_for: Callable[[Expression, Expression], tuple[tuple[Expression, tuple[Condition, ...]], ...]] | None = None
    zeros: Callable[[Expression], tuple[Expression, ...]] | None = None
    period: Callable[[], Expression] | None = None
    real_when: Callable[..., tuple[Condition, ...]] | None = None
    real_beyond: bool = False
    breaks: Callable[..., tuple[Expression, ...]] | None = None
    jumps: Callable[..., tuple[Expression, ...]] | None = None
    regular_when: Callable[..., tuple[Condition, ...]] | None = None
    known: Callable[..., int] | None = None
    range: tuple[Callable[[], Expression] | None, Callable[[], Expression] | None, bool] | None = None
    rising: bool = False
    bounds: Callable[..., Any] | None = None
    agreed: str | tuple[Any, ...] | Callable[..., Any] | None = None
    agreed_at_complex: bool = False
    as_elementary: Callable[..., Expression] | None = None
    in_code: Callable[..., Expression] | None = None
    at_infinity: tuple[Callable[[], Expression], Callable[[], Expression]] | None = None
    latex: str = ""
    source: str = ""

    def __repr__(self) -> str:
        return f"Function({self.name})"


FUNCTIONS: dict[str, Function] = {}


def register(function: Function) -> Function:
    """Puts a record into the catalogue; a second record of one name is a mistake in the program."""
    if function.name in FUNCTIONS:
        raise ValueError(f"two records for the function {function.name}")
    FUNCTIONS[function.name] = function
    return function


class Building(Protocol):
    """What Python's operators on formulas need of canonical building."""

    def to_expression(self, value: object) -> Expression: ...
    def total(self, terms: Iterable[Expression]) -> Expression: ...
    def negate(self, term: Expression) -> Expression: ...
    def multiply_all(self, factors: Iterable[Expression]) -> Expression: ...
    def divide(self, top: Expression, bottom: Expression) -> Expression: ...
    def power(self, base: Expression, exponent: Expression) -> Expression: ...
    def call(self, function_name: str, *arguments: Expression) -> Expression: ...
    def bound(self, kind: str) -> Expression: ...
    def applied(self, function_name: str, arguments: Sequence[Expression], orders: Sequence[int]) -> Expression: ...
    def relation(self, operator: str, left: Expression, right: Expression) -> Condition: ...
    def junction(self, word: str, parts: Iterable[Condition]) -> Condition: ...
    def opposite(self, condition: Condition) -> Condition: ...


class Reading(Protocol[C, F]):
    """What the operations need of the reader of formula text; `C` is what names mean to it, `F` a fact."""

    def __call__(self, text: str, context: C | None = None) -> object: ...
    def context(self, *formulas: object) -> C: ...
    def declare(self, context: C, facts: Iterable[str | F], variables: Iterable[str] = ()) -> None: ...
    def variable(self, text: str, context: C) -> object: ...
    def facts(self, given: Iterable[str | F], context: C, asked: bool = False) -> list[F]: ...
    def names_a_function(self, name: str) -> bool: ...
    def plain_name(self, text: str) -> str: ...


class _Filled(type):
    def __getattr__(cls, name: str) -> object:
        raise AttributeError(f"the hook {name} is not filled: gelvo.library puts the library together")


class Hooks(metaclass=_Filled):
    """Functions of upper folders that expressions need: each is set once, when the library is put together.

    Whatever travels to other processes is found again by a name of the library (`gelvo.library`), which puts it together there.
    """

    build: Building
    text: Callable[[Node], str]
    stored: Callable[[Node], tuple[Any, ...]]
    read: Reading[Any, Any]
    value: Callable[..., Any]
    is_zero: Callable[[Expression], bool | None]
    show: Callable[[Any], dict[str, str]]
    polynomial_root: Callable[[tuple[int, ...], int], Expression]
    inverse: Callable[[Any], Any]
    matrix_power: Callable[[Any, Any], Any]
    root_box: Callable[[Any, tuple[int, ...], int], Any]
    bounded_integral: Callable[..., Any]
    bounded_collection: Callable[..., Any]
