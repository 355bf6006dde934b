"""Differential equations as they are written on paper: y'' + y = 0 for y, and x_dot, x_ddot for derivatives."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence

from gelvo.expression.building import applied
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Expression, Node
from gelvo.expression.registry import FUNCTIONS
from gelvo.expression.traversal import names, substitute

DOTS = ("_dot", "_ddot", "_dddot")
USUAL = ("x", "t", "s", "z")  # what an unknown function depends on where nothing is said
ANGLES = ("theta", "phi", "psi")  # of motions


def as_function(unknown: str, equations: Iterable[object], unknowns: Sequence[object] = ()) -> str:
    """`y(x)` for `y` where the equations have y', or y_dot, and do not say what it depends on.

    >>> as_function("y", ["y'' + 4*y = x"]), as_function("x", ["x_dot + k*x = 0"]), as_function("y", ["y^2 = 4"])
    ('y(x)', 'x(t)', 'y')
    """
    text = " ; ".join(e for e in equations if isinstance(e, str))
    letter = unknown.strip()
    if not letter.isidentifier() or re.search(rf"\b{letter}'*\(", text):
        return unknown
    dotted_there = re.search(rf"\b{letter}_d{{1,3}}ot\b", text)
    if not dotted_there and not re.search(rf"\b{letter}'", text) and not re.search(rf"\b{letter}\b.*\)'", text):
        return unknown
    there = {w for w in re.findall(r"\b[A-Za-z_]\w*\b(?!\s*['(])", text) if w not in FUNCTIONS}
    taken = {letter, *(u.strip() for u in unknowns if isinstance(u, str))}
    order = ("t", *USUAL) if dotted_there or taken & {"x", *ANGLES} else USUAL
    variable = next((w for w in order if w in there and w not in taken), next(w for w in order if w not in taken))
    return f"{letter}({variable})"


def primed(text: object, unknowns: Sequence[str]) -> object:
    """x'(0) for x_dot(0) in a text.

    >>> primed("x_dot(0) = v_0", ["x(t)"])
    "x'(0) = v_0"
    """
    if not isinstance(text, str):
        return text
    for letter in (u.split("(")[0].strip() for u in unknowns if "(" in u):
        for k, dots in enumerate(DOTS, 1):
            text = re.sub(rf"\b{re.escape(letter)}{dots}\(", letter + "'" * k + "(", text)
    return text


def dotted(unknowns: Sequence[Expression], values: Iterable[object]) -> dict[Node, Expression]:
    """The names x_dot, x_ddot, … of the derivatives of unknown functions, and those derivatives."""
    found = {
        n.name: n
        for v in values
        for s in ((v.left, v.right) if isinstance(v, Equation) else (v,))
        if isinstance(s, Node)
        for n in names(s)
    }
    table: dict[Node, Expression] = {}
    for u in unknowns:
        if isinstance(u, Applied) and len(u.arguments) == 1 and not any(u.orders):
            table.update(
                (found[u.name + d], applied(u.name, u.arguments, (k,))) for k, d in enumerate(DOTS, 1) if u.name + d in found
            )
            table.update({found[u.name]: u} if table and u.name in found else {})
    return table


def with_dots(equation: Equation, table: Mapping[Node, Expression]) -> Equation:
    """The equation with derivatives in place of such names."""
    if not table:
        return equation
    return Equation(substitute(equation.left, table), substitute(equation.right, table), equation.conditions)
