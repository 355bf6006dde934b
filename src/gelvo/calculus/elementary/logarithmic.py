"""Logarithmic derivatives in a field: f = m_1*w_1 + … + z'/z with rational m and a product z of rational powers.

Every factor of z has a pole of f or of a w, or of the logarithmic derivatives of such factors: these are the candidates, and the
exponents solve linear equations. Source: M. Bronstein, "Symbolic Integration I" (2005), 5.12 and 7.3, for what it decides.
"""

from __future__ import annotations

from math import prod
from typing import NamedTuple

from gmpy2 import mpq

from gelvo.calculus.elementary.constants import rational_solution
from gelvo.calculus.elementary.field import Element
from gelvo.calculus.elementary.tower import Tower
from gelvo.polynomial import sparse


class Logarithmic(NamedTuple):
    """The multiples m, and the factors of z with their exponents."""

    multiples: list[mpq]
    factors: list[tuple[Element, mpq]]

    @property
    def is_whole(self) -> bool:
        """Whether z has whole exponents only."""
        return all(k.denominator == 1 for _, k in self.factors)

    @property
    def function(self) -> Element:
        """z, for whole exponents."""
        return prod((p ** int(k) for p, k in self.factors[1:]), start=self.factors[0][0] ** int(self.factors[0][1]))


def logarithmic_derivative(tower: Tower, n: int, f: Element, ws: list[Element]) -> Logarithmic | None:
    """f as multiples of the w and one logarithmic derivative of a function of level n; None where there is no such form.

    >>> tower = Tower()
    >>> x = tower.add_primitive(tower.field.one)
    >>> found = logarithmic_derivative(tower, 0, tower.field.one / x.times(2), [])
    >>> found.factors[-1][1]
    mpq(1,2)
    """
    field = tower.field
    known: dict[frozenset[tuple[int, mpq]], Element] = {}
    work = [f, *ws]
    rates = [level.rate for level in tower.levels[: n + 1] if level.exponential]
    generators = [tower.generator(k) for k, level in enumerate(tower.levels[: n + 1]) if level.exponential]
    work += rates
    allowed = {level.place for level in tower.levels[: n + 1]}
    derivatives: list[Element] = []
    bases: list[Element] = []
    while work:
        e = work.pop()
        for p, _ in field.factors(e.bottom):
            key = frozenset(p.items())
            if key in known or not allowed & set(sparse.variables(p)):
                continue
            base = known[key] = Element(field, p)
            derivative = field.slope(base) / base
            if not derivative:
                continue
            bases.append(base)
            derivatives.append(derivative)
            work.append(derivative)
    columns = [f, *(-w for w in ws), *(-r for r in rates), *(-d for d in derivatives)]
    solution = rational_solution(field, [columns], len(columns))
    if solution is None:
        return None
    multiples = solution[1 : 1 + len(ws)]
    powers = list(zip([*generators, *bases], solution[1 + len(ws) :], strict=True))
    return Logarithmic(multiples, [(field.one, mpq(1)), *((p, k) for p, k in powers if k)])
