"""What all cases of Kovacic's algorithm share: choices of exponents, degrees, and polynomials that an operator takes to zero."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator, Sequence
from typing import TypeVar

from gelvo.deadline import checkpoint
from gelvo.errors import DomainError
from gelvo.expression.building import total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Expression, Name, Number
from gelvo.expression.traversal import substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.simplifying.search import simplify
from gelvo.solving.linear import linear_rows, solve_linear

HIGHEST = 24  # degree of the polynomial that is looked for
MOST_FAMILIES = 5000
T = TypeVar("T")


class Search:
    """Whether nothing was left out so far: only then is it a proof that nothing was found."""

    def __init__(self) -> None:
        self.complete = True

    def families(self, *choices: Sequence[T]) -> Iterator[tuple[T, ...]]:
        """All choices of one at each place."""
        for count, family in enumerate(itertools.product(*choices)):
            checkpoint()
            if count >= MOST_FAMILIES:
                self.complete = False
                return
            yield family

    def degree(self, e: Expression) -> int | None:
        """e as the degree of a polynomial; None where it is none."""
        found = uni.lowest_terms(e)
        if not (isinstance(found, Number) and found.is_whole and found.rational >= 0):
            return None
        if found.rational > HIGHEST:
            self.complete = False
            return None
        return int(found.rational)


def annihilated(operator: Callable[[Expression], Expression], degree: int, x: Name, facts: Facts) -> Expression | None:
    """The polynomial with 1 before its highest power that a linear operator with rational coefficients takes to zero.

    >>> from gelvo.expression.building import name
    >>> from gelvo.forms.differentiation import differentiate
    >>> x = name("x")
    >>> print(annihilated(lambda p: differentiate(p, x, 2) - 2*x*differentiate(p, x) + 4*p, 2, x, Facts()))
    x^2 - 1/2
    """
    letters = list(itertools.islice(facts.new_names("p", x, operator(x)), degree))
    polynomial = total([c * x**k for k, c in enumerate(letters)]) + x**degree
    rows = uni.coefficients_of(expand(quotient_parts(factored(operator(polynomial)))[0]), x)
    if rows is None:
        return None
    rows = [row for row in rows if row is not ZERO]
    none = dict.fromkeys(letters, ZERO)
    if not rows:
        return substitute(polynomial, none)
    table = linear_rows(rows, letters) if letters else None
    try:
        solved = solve_linear(table, letters, facts) if table is not None else None
    except DomainError:
        return None
    if solved is None or not solved.found or solved.conditions:
        return None
    values = {n: simplify(v, facts).expression for n, v in solved.found[0].values.items()}
    return substitute(substitute(polynomial, values), none)
