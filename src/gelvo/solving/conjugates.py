"""Equations in which a complex unknown stands under conj, re, im or abs: two real equations for its two parts."""

from __future__ import annotations

from collections.abc import Sequence

from gelvo.errors import DomainError, NotSolved
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Condition, Expression, Name
from gelvo.expression.traversal import contains, has_call, substitute
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import quotient_parts
from gelvo.functions.named import ABS, CONJ, IM, RE
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.solving.roots import SystemRoots, Together
from gelvo.solving.systems import solve_system

OF_PARTS = (CONJ, RE, IM, ABS)


def takes_parts(equations: Sequence[Expression], unknowns: Sequence[Name]) -> bool:
    """Whether equations are none of their complex unknowns alone: a conjugate or a part of one stands in them."""
    return any(has_call(g, OF_PARTS, z) for g in equations for z in unknowns if z.domain == "complex")


def solve_by_parts(
    equations: Sequence[Expression], unknowns: Sequence[Name], facts: Facts, written: tuple[Condition, ...] = ()
) -> SystemRoots:
    """The common roots of equations with complex unknowns, as z = u + i*v with real u and v; an equivalence.

    >>> from gelvo.expression.building import name
    >>> z = name("z", "complex")
    >>> [str(root.values[z]) for root in solve_by_parts([z + 2*CONJ(z) - 3 - 1j], [z], Facts()).found]
    ['1 - 1j']
    """
    spelled = facts.new_names("u", *equations), facts.new_names("v", *equations)
    letters = {z: (next(spelled[0]), next(spelled[1])) if z.domain == "complex" else (z,) for z in unknowns}
    table = {z: pair[0] + 1j * pair[1] for z, pair in letters.items() if len(pair) == 2}
    rows: list[Expression] = []
    for g in equations:
        try:
            parts = real_and_imaginary(substitute(g, table), facts)
        except DomainError as fault:
            raise NotSolved(f"an equation could not be parted into a real and an imaginary one: {fault}") from None
        rows += [row for row in (expand(quotient_parts(p)[0]) for p in parts) if row is not ZERO]
    real = [u for pair in letters.values() for u in pair]
    curve = "there are fewer real equations than real parts of the unknowns: the solutions are a curve or more, which has no list"
    if len(rows) < len(real):
        raise NotSolved(curve)
    system = solve_system(rows, real, facts, True)
    found = []
    for root in system.found:
        if any(contains(value, part) for value in root.values.values() for part in real):
            raise NotSolved(curve)
        values = {z: substitute(table.get(z, z), root.values) for z in unknowns}
        if not any(facts.holds(substitute(c, values)) is False for c in written):
            found.append(Together(values, root.conditions, root.families))
    return SystemRoots(tuple(found), system.conditions, (), f"real and imaginary parts; {system.road}")
