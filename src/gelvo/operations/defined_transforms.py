"""Transforms that are worked out and proved as what defines them: an integral (Mellin, Hankel, Hilbert, a convolution) or a sum (z).

Source: I. Sneddon, "The Use of Integral Transforms" (1972); E. Jury, "Theory and Application of the z-Transform Method" (1964).
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from gelvo.errors import DomainError, NoClosedForm
from gelvo.expression.building import call, power, relation
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, ONE, PI, ZERO
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import contains, substitute
from gelvo.facts.conditions import nonzero
from gelvo.facts.statements import Fact
from gelvo.functions.named import BESSELJ
from gelvo.operations.answer import Answer
from gelvo.operations.calculus import integrate
from gelvo.operations.general_term import general_coefficient
from gelvo.operations.inputs import Arguments, take
from gelvo.operations.series import add_up

HALF_LINE, LINE = "half line", "line"


def _taken(
    what: str, expression: Any, variable: Any, target: Any, given: Iterable[Any]
) -> tuple[Expression, Name, Name, Arguments]:
    arguments = take(expression, variables=[variable, target], given=given)
    (f,), (t, s) = arguments.expressions, arguments.names
    if s is t or contains(f, s):
        raise DomainError(f"the {what} needs a new variable, and {s} stands in the formula already")
    return f, t, s, arguments


def _facts(arguments: Arguments, *more: Fact) -> list[Fact]:
    return [*arguments.facts.given, *more]


def mellin(expression: Any, variable: Any, target: Any, given: Iterable[Any] = (), otherwise: str = "written") -> Answer:
    """The Mellin transform: the integral of f(t)*t^(s - 1) for t from 0 to infinity; the strip of s is its condition.

    expression: f; variable: t; target: the new variable s; given: facts; otherwise: "written" or "error". Returns an Answer.

    >>> import gelvo
    >>> gelvo.mellin("exp(-t)", "t", "s")
    gamma(s)   # if s > 0
    """
    f, t, s, arguments = _taken("Mellin transform", expression, variable, target, given)
    found = integrate(f * power(t, s - 1), t, ZERO, INFINITE, given=_facts(arguments), otherwise=otherwise)
    return _by(found, "the integral of f(t)*t^(s - 1)")


def hankel(
    expression: Any, variable: Any, target: Any, order: Any = 0, given: Iterable[Any] = (), otherwise: str = "written"
) -> Answer:
    """The Hankel transform: the integral of f(r)*besselj(order, k*r)*r for r from 0 to infinity; it is its own inverse.

    expression: f; variable: r; target: the new variable k > 0; order: that of the Bessel function. Returns an Answer.

    >>> import gelvo
    >>> gelvo.hankel("exp(-a*r^2)", "r", "k", given=["a > 0"])
    exp(-k^2/(4*a))/(2*a)
    """
    f, r, k, arguments = _taken("Hankel transform", expression, variable, target, given)
    (nu,) = take(order).expressions
    kernel = call(BESSELJ, nu, k * r) * r
    found = integrate(f * kernel, r, ZERO, INFINITE, given=_facts(arguments, relation("<", ZERO, k)), otherwise=otherwise)
    return _by(found, f"the integral of f({r})*{kernel}, {k} > 0")


def hilbert(expression: Any, variable: Any, target: Any, given: Iterable[Any] = (), otherwise: str = "written") -> Answer:
    """The Hilbert transform: 1/pi times the principal value of the integral of f(t)/(x - t) over the line; twice gives -f.

    expression: f; variable: t; target: the new variable x. Returns an Answer.

    >>> import gelvo
    >>> gelvo.hilbert("cos(a*t)", "t", "x", given=["a > 0"])
    sin(a*x)
    """
    f, t, x, arguments = _taken("Hilbert transform", expression, variable, target, given)
    found = integrate(
        f / (PI * (x - t)), t, MINUS_INFINITE, INFINITE, given=_facts(arguments), principal_value=True, otherwise=otherwise
    )
    return _by(found, f"the principal value of the integral of f({t})/(pi*({x} - {t}))")


def convolution(
    first: Any, second: Any, variable: Any, over: str = LINE, given: Iterable[Any] = (), otherwise: str = "written"
) -> Answer:
    """The convolution of two functions of t: the integral of f(u)*g(t - u).

    over: "line" for u over the whole line, "half line" for functions that begin at t = 0, and u from 0 to t. Returns an Answer.

    >>> import gelvo
    >>> gelvo.convolution("exp(-t)", "exp(-2*t)", "t", over="half line", given=["t > 0"])
    exp(-t) - exp(-2*t)
    """
    if over not in (LINE, HALF_LINE):
        raise DomainError(f"a convolution is over the line or the half line, not {over!r}")
    arguments = take(first, second, variables=[variable], given=given)
    (f, g), (t,) = arguments.expressions, arguments.names
    u = arguments.facts.new_name("u", f, g, t)
    low, high = (MINUS_INFINITE, INFINITE) if over == LINE else (ZERO, t)
    product = substitute(f, {t: u}) * substitute(g, {t: t - u})
    found = integrate(product, u, low, high, given=_facts(arguments), otherwise=otherwise)
    return _by(found, f"the integral of f({u})*g({t} - {u})")


def z_transform(expression: Any, index: Any, target: Any, given: Iterable[Any] = (), otherwise: str = "written") -> Answer:
    """The z-transform: the sum of f(n)*z^(-n) for n from 0 on; where it converges is its condition.

    expression: f; index: n; target: the new variable z. Returns an Answer.

    >>> import gelvo
    >>> gelvo.z_transform("a^n", "n", "z", given=["a > 0", "z > a"])
    z/(z - a)
    """
    f, n, z, arguments = _taken("z-transform", expression, index, target, given)
    found = add_up(f * power(z, -n), n, ZERO, INFINITE, given=_facts(arguments, nonzero(z)), otherwise=otherwise)
    return _by(found, f"the sum of f({n})*{z}^(-{n})")


def inverse_z_transform(expression: Any, variable: Any, index: Any, given: Iterable[Any] = ()) -> Answer:
    """The sequence f(n), n >= 0, with a given z-transform: the coefficients in powers of 1/z.

    expression: F(z); variable: z; index: n. Returns an Answer; raises NoClosedForm where the coefficients have no form.

    >>> import gelvo
    >>> gelvo.inverse_z_transform("z/(z - 1)^2", "z", "n")
    n
    """
    F, z, n, arguments = _taken("inverse z-transform", expression, variable, index, given)
    u = arguments.facts.new_name("u", F, n)
    try:
        return general_coefficient(substitute(F, {z: ONE / u}), u, n, arguments.facts)
    except NoClosedForm as fault:
        raise NoClosedForm(f"{fault}; u stands for 1/{z}") from None


def _by(found: Answer, definition: str) -> Answer:
    """The answer with its definition in words in front of its road."""
    if found.reason:
        return found
    certificate = found.certificate()
    return Answer(found.expression, lambda: certificate, found.conditions, f"{definition}: {found.road}", found.reason)
