"""How results are written: options in words, for one call, for a block, for a whole program or a derivation.

Formulas stay what they are; only what is shown of them follows these options.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from fractions import Fraction
from math import isfinite
from typing import Any, NamedTuple

from gmpy2 import mpq

from gelvo.errors import DomainError

MOST_DIGITS, MOST_LOOKED_AT = 50, 100
CONSTANT_LETTERS = frozenset(("e", "i"))
# 2.1, .5, 1e-9, 6.02e23, but not the digits of a name; of an exponent beyond three digits nobody reads the decimal
DECIMAL = re.compile(r"(?<![\w.])(?:(?:\d+\.\d*|\.\d+)(?:[eE][+-]?\d{1,3}(?!\d))?|\d+[eE][+-]?\d{1,3}(?!\d))(?![eE.])")


class Writing(NamedTuple):
    """One value of every option; `came_in` are the decimals that were typed, to which `decimals="entered"` looks; `named`
    the symbols of a derivation with their formulas, those that `names="kept"` writes; `taken` the letters i and e where they are somebody's own."""

    powers: str = "descending"
    fractions: str = "stacked"
    decimals: str | int = "entered"
    derivatives: str = "usual"
    names: str = "kept"
    came_in: frozenset[mpq] = frozenset()
    named: tuple[tuple[str, Any], ...] = ()
    taken: frozenset[str] = frozenset()

    @property
    def digits(self) -> int:
        """To how many digits numbers are rounded; 0 where they are not."""
        return self.decimals if isinstance(self.decimals, int) else 0

    @property
    def in_decimals(self) -> bool:
        """Whether fractions are shown as decimals."""
        return bool(self.digits) or self.decimals == "all" or (self.decimals == "entered" and bool(self.came_in))


# the words that each option knows, the usual one first
OPTIONS: dict[str, tuple[str, ...]] = {
    "powers": ("descending", "ascending"),
    "fractions": ("stacked", "inline"),
    "decimals": ("entered", "all", "none"),
    "derivatives": ("usual", "dots", "primes", "fractions"),
    "names": ("kept", "expanded"),
}
USUAL = _always = Writing()
_now: ContextVar[Writing | None] = ContextVar("how results are written here", default=None)


def writing_now() -> Writing:
    """How results are written at this place of the program."""
    return _now.get() or _always


def with_options(base: Writing, options: dict[str, Any]) -> Writing:
    """Options changed, each looked at.

    >>> with_options(Writing(), {"powers": "ascending"}).powers
    'ascending'
    """
    for option, word in options.items():
        known = OPTIONS.get(option)
        if known is None:
            raise DomainError(f"{option!r} is not an option of how results are written; there are {', '.join(OPTIONS)}")
        if option == "decimals" and isinstance(word, int) and not isinstance(word, bool):
            if not 1 <= word <= MOST_DIGITS:
                raise DomainError(f"decimals are shown to 1 to {MOST_DIGITS} digits, not {word}")
        elif word not in known:
            more = " or a number of digits" if option == "decimals" else ""
            raise DomainError(f"{option} can be {', '.join(known)}{more}, not {word!r}")
    return base._replace(**options)


def decimals_in(text: str) -> frozenset[mpq]:
    """The decimals that stand in formula text.

    >>> sorted(decimals_in("2.1*cos(x_1*t) + 3*x - 1e-9"))
    [mpq(1,1000000000), mpq(21,10)]
    """
    return frozenset(mpq(Fraction(found)) for found in DECIMAL.findall(text))


@contextmanager
def written(how: Writing) -> Iterator[None]:
    """Results are written so inside of the block."""
    before = _now.set(how)
    try:
        yield
    finally:
        _now.reset(before)


def came_in_with(arguments: Iterable[Any]) -> frozenset[mpq]:
    """The decimals that stand in the arguments of a call: in texts, as floats, and those that came in with earlier answers.

    >>> sorted(came_in_with(["2.1*x", {"k": 0.5}, 3]))
    [mpq(1,2), mpq(21,10)]
    """
    found: set[mpq] = set()
    waiting = list(arguments)
    while waiting:
        thing = waiting.pop()
        if isinstance(thing, str):
            found |= decimals_in(thing)
        elif isinstance(thing, float) and isfinite(thing):
            found |= {mpq(Fraction(repr(thing)))}
        elif isinstance(thing, dict):
            waiting += thing.values()
        elif isinstance(thing, (list, tuple)):
            waiting += thing[:MOST_LOOKED_AT]
        else:
            found |= getattr(thing, "came_in", frozenset())
    return frozenset(found)


@contextmanager
def beside_letters(names: Iterable[str]) -> Iterator[None]:
    """Where a formula has a letter i of its own, the imaginary unit is written j; beside a letter e, exp is written out."""
    how = writing_now()
    taken = how.taken | CONSTANT_LETTERS.intersection(names)
    with written(how._replace(taken=taken)):
        yield


@contextmanager
def with_typed(came_in: frozenset[mpq]) -> Iterator[None]:
    """Decimals that were typed are shown as such inside of the block."""
    how = writing_now()
    with written(how._replace(came_in=how.came_in | came_in) if came_in else how):
        yield


@contextmanager
def writing(**options: Any) -> Iterator[None]:
    """How results are written inside of a `with` block.

    powers: "descending" or "ascending"; fractions: "stacked" or "inline"; decimals: "entered" (those that were typed), "all",
    "none", or to how many digits all numbers are rounded; derivatives: "usual" (dots for time, primes for others), "dots",
    "primes" or "fractions"; names: "kept" or "expanded". Formulas stay exact. Raises DomainError for other words.

    >>> import gelvo
    >>> with gelvo.writing(decimals="all", fractions="inline"):
    ...     print(gelvo.typeset("(21/10)*cos(t)/x", "text"))
    2.1 cos(t)/x
    """
    with written(with_options(writing_now(), options)):
        yield


def set_writing(**options: Any) -> None:
    """How results are written from now on, in the whole program; options as for `writing`.

    >>> import gelvo
    >>> gelvo.set_writing(powers="ascending")
    >>> print(gelvo.formula("x^2 + 2*x + 5"))
    5 + 2*x + x^2
    >>> gelvo.set_writing(powers="descending")
    """
    global _always
    _always = with_options(_always, options)
