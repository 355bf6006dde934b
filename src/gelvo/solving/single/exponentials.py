"""Exponentials of bases that are powers of each other: one base for all, as in (2 + sqrt(3))^x + (2 - sqrt(3))^x."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.deciding.equality import is_zero
from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import enclose
from gelvo.expression.building import number, power
from gelvo.expression.nodes import Expression, Name, Node, Power
from gelvo.expression.traversal import contains, names, postorder, substitute

HIGHEST = 4  # the powers that are tried


def one_base(g: Expression, x: Name) -> Expression:
    """A formula with each base of an exponential that is a power of another one written by that one."""
    moving = [n for n in postorder(g) if isinstance(n, Power) and contains(n.exponent, x) and not names(n.base)]
    bases = list(dict.fromkeys(n.base for n in moving))
    if len(bases) < 2 or all(b.is_rational for b in bases):
        return g
    table: dict[Node, Expression] = {}
    leading: list[Expression] = []
    for base in bases:
        share = next(((lead, s) for lead in leading if (s := _share(base, lead)) is not None), None)
        if share is None:
            leading.append(base)
            continue
        table.update({n: power(share[0], number(share[1]) * n.exponent) for n in moving if n.base is base})
    return substitute(g, table) if table else g


def _share(base: Expression, lead: Expression) -> mpq | None:
    """The q with base = lead^q for positive numbers, or None."""
    for top in range(1, HIGHEST + 1):
        for bottom in range(1, HIGHEST + 1):
            for sign in (1, -1):
                gap = power(base, number(bottom)) - power(lead, number(sign * top))
                try:
                    if enclose(gap, {}, 80).contains_zero() and is_zero(gap):
                        return mpq(sign * top, bottom)
                except GelvoError:
                    return None
    return None
