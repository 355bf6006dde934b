"""Shapes over the polar angle of a sphere: Legendre's polynomials of its cosine, as many as the data hold.

Source: DLMF 14.7, 18.3 (Legendre's polynomials, orthogonal with the weight sin(x) from 0 to pi).
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from gelvo.differential.eigenmodes import Found, Modes
from gelvo.errors import NotSolved
from gelvo.expression.building import number, power
from gelvo.expression.constants import ONE, PI, ZERO
from gelvo.expression.nodes import Call, Expression, Name, Node
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.forms.univariate import coefficients_of
from gelvo.functions.named import COS, SIN, TAN, is_a

HIGHEST_DEGREE = 40


def is_polar_angle(in_x: Mapping[int, Expression], x: Name) -> bool:
    """Whether the derivatives by x are those of a sphere: u_xx + cot(x)*u_x, times what is constant."""
    if set(in_x) != {1, 2} or contains(in_x[2], x):
        return False
    share = factored(in_x[1] / in_x[2])
    return any(factored(share - word) is ZERO for word in (COS(x) / SIN(x), 1 / TAN(x)))


def polar_modes(data: Iterable[Expression], x: Name, facts: Facts) -> Found:
    """The modes that the data hold; NotSolved where these are no polynomials of cos(x)."""
    degree = max((_degree(f, x, facts) for f in data), default=0)
    if degree > HIGHEST_DEGREE:
        raise NotSolved(f"data with powers of the cosine up to {HIGHEST_DEGREE} are taken, not {degree}")
    z, n = (facts.new_name(word, x) for word in "zn")
    modes = [Modes(number(k * (k + 1)), z, ZERO, (), n, 0, (legendre(k, COS(x)),)) for k in range(degree + 1)]
    return Found(modes, SIN(x), (ZERO, PI), (), SIN(x))


def legendre(n: int, c: Expression) -> Expression:
    """Legendre's polynomial, by (k + 1)*P_(k+1) = (2*k + 1)*c*P_k - k*P_(k-1).

    >>> from gelvo.expression.building import name
    >>> print(legendre(2, name("c")))
    (3*c^2 - 1)/2
    """
    before, here = ZERO, ONE
    for k in range(n):
        before, here = here, expand(((2 * k + 1) * c * here - k * before) / (k + 1))
    return factored(here)


def _degree(f: Expression, x: Name, facts: Facts) -> int:
    """The degree of a polynomial of cos(x)."""
    c, s = facts.new_name("c", f), facts.new_name("s", f)
    marks: dict[Node, Expression] = {}
    for node in postorder(f):
        if isinstance(node, Call) and is_a(node, SIN, COS) and contains(node, x):
            k = node.arguments[0] / x
            if not k.is_whole or abs(k.rational) > HIGHEST_DEGREE:
                raise NotSolved(f"{f} is no polynomial of cos({x})")
            marks[node] = _multiple(int(k.rational), c, s, is_a(node, SIN))
    inside = coefficients_of(expand(substitute(f, marks)), s)
    if inside is None or any(part is not ZERO for part in inside[1::2]):
        raise NotSolved(f"{f} is no polynomial of cos({x})")
    whole = coefficients_of(expand(sum((part * power(1 - c**2, number(k)) for k, part in enumerate(inside[::2])), ZERO)), c)
    if whole is None or any(contains(part, x) for part in whole):
        raise NotSolved(f"{f} is no polynomial of cos({x})")
    return len(whole) - 1


def _multiple(k: int, c: Expression, s: Expression, sine: bool) -> Expression:
    """cos(k*x) or sin(k*x) by c = cos(x) and s = sin(x): Chebyshev's recurrence."""
    before, here = (ZERO, s) if sine else (ONE, c)
    for _ in range(abs(k) - 1):
        before, here = here, expand(2 * c * here - before)
    return (-here if k < 0 else here) if sine else here
