"""Equations in which a complex unknown stands under conj, re, im or abs: two real equations for its two parts."""

from __future__ import annotations

from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import number
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


def takes_parts(g: Expression, z: Name) -> bool:
    """Whether an equation is no equation of z alone: its conjugate or its parts stand in it."""
    return has_call(g, OF_PARTS, z)


def solve_by_parts(g: Expression, z: Name, facts: Facts, written: tuple[Condition, ...] = ()) -> SystemRoots:
    """The complex roots of g = 0, as z = u + i*v with real u and v; an equivalence.

    >>> from gelvo.expression.building import call, name
    >>> z = name("z", "complex")
    >>> [str(root.values[z]) for root in solve_by_parts(z + 2*CONJ(z) - 3 - 1j, z, Facts()).found]
    ['1 - 1j']
    """
    u, v = (facts.new_name(word, g) for word in ("u", "v"))
    whole = u + 1j * v
    try:
        parts = real_and_imaginary(substitute(g, {z: whole}), facts)
    except DomainError as fault:
        raise NotSolved(f"the equation could not be parted into a real and an imaginary one: {fault}") from None
    rows = [row for row in (expand(quotient_parts(p)[0]) for p in parts) if row is not number(0)]
    curve = f"this is one real equation for the two parts of {z}: its solutions are a curve or more, which has no list"
    if len(rows) < 2:
        raise NotSolved(curve)
    system = solve_system(rows, [u, v], facts, True)
    found = []
    for root in system.found:
        if any(contains(value, part) for value in root.values.values() for part in (u, v)):
            raise NotSolved(curve)
        table = {z: substitute(whole, root.values)}
        if not any(facts.holds(substitute(c, table)) is False for c in written):
            found.append(Together(table, root.conditions, root.families))
    return SystemRoots(tuple(found), system.conditions, (), f"real and imaginary parts; {system.road}")
