"""What the methods share: the result with its conditions, and the logarithm of a real quantity."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from gelvo.calculus.elementary.tower import Work
from gelvo.calculus.found import Found
from gelvo.expression import known as bits
from gelvo.expression.building import multiply_all, number
from gelvo.expression.constants import ONE
from gelvo.expression.nodes import Condition, Expression, Name, Number, Power, Product
from gelvo.expression.traversal import contains, dependents, postorder
from gelvo.facts.conditions import nonzero
from gelvo.facts.statements import DomainFact
from gelvo.facts.store import Facts
from gelvo.functions.named import ABS, LN


class Search(NamedTuple):
    """What a method may use: the variable, the facts, and the whole search for parts of the integrand."""

    variable: Name
    facts: Facts
    integrate: Callable[[Expression], Found | None]
    deeper: Callable[[Name, int], Callable[[Expression], Found | None]]
    work: Work | None = None  # what the decision procedure may still do

    def free(self, expression: Expression) -> bool:
        return not contains(expression, self.variable)

    def nonzero(self, expression: Expression) -> tuple[Condition, ...]:
        """The condition that a formula is not zero, unless that is known."""
        return () if self.facts.is_nonzero(expression) else (nonzero(expression),)

    def logarithm(self, expression: Expression) -> Expression:
        """ln|u|, without the bars where the sign is known; ln(u) over complex numbers."""
        if self.facts.is_positive(expression) or not self.facts.is_real(self.variable):
            return LN(expression)
        if self.facts.is_negative(expression):
            return LN(-expression)
        return LN(ABS(expression))


def apart(f: Expression, x: Name) -> tuple[Expression, Expression]:
    """The constant factor of a term, and what moves.

    >>> from gelvo.expression.building import name
    >>> a, x = name("a"), name("x")
    >>> print(*apart(3*a*x**2, x))
    3*a x^2
    """
    if not contains(f, x):
        return f, ONE
    if not isinstance(f, Product):
        return ONE, f
    outside = [g for g in f.factors if not contains(g, x)]
    return multiply_all([number(f.coefficient), *outside]), multiply_all([g for g in f.factors if contains(g, x)])


def with_signs(variable: Name, known: int, facts: Facts) -> Facts:
    """The facts with what is known of the sign of a new variable."""
    words = [w for w in ("positive", "nonnegative", "negative") if not known & ~bits.DOMAINS[w]]
    return facts.with_facts([DomainFact(variable, words[0])]) if words else facts


def half_odd(k: Expression) -> bool:
    """Whether an exponent is that of a square root, times a whole power."""
    return isinstance(k, Number) and k.is_rational and k.rational.denominator == 2


def roots_of(f: Expression, variable: Name) -> list[Power]:
    """The powers with fractions as exponents whose base has the variable."""
    moving = dependents(f, variable)
    return [
        n for n in postorder(f) if n in moving and isinstance(n, Power) and n.exponent.is_rational and not n.exponent.is_whole
    ]


def whole_number(k: Expression) -> int | None:
    """A whole number as such, else None."""
    return int(k.rational) if isinstance(k, Number) and k.is_whole else None
