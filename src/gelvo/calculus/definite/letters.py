"""An integral with a letter in it by its slope along the letter, which is an easier integral, and one value.

Source: J. Edwards, "A Treatise on the Integral Calculus", volume 2 (1922), chapter 26 (differentiation under the sign of the integral).
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from gelvo.calculus.antiderivative.search import antiderivative
from gelvo.calculus.found import Found
from gelvo.calculus.limits import limit
from gelvo.errors import DomainError
from gelvo.expression import known as bits
from gelvo.expression.building import call, number, sqrt
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Bound, Call, Condition, Expression, Name, Number, Power, Product, Relation
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, has_call, names, postorder, substitute, tree_size
from gelvo.facts.continuity import has_no_break_at
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import factored
from gelvo.functions.named import ATAN, COS, ERF, EXP, LN, SIN, is_a

Integral = Callable[[Expression, Facts], Found | None]
INSIDE = (LN, ATAN, ERF, SIN)  # functions whose slopes by a letter inside of them are simpler
LARGEST = 60


def is_for_a_letter(f: Expression, x: Name) -> bool:
    """Whether a logarithm or arctangent with a letter stands beside a quotient, or of waves: an antiderivative would be long."""
    inside = [n for n in factors_in(f) if is_a(n, LN, ATAN) and contains(n, x) and (len(names(n)) > 1 or n.arguments[0] is not x)]
    if len(inside) == 1 and has_call(inside[0], (SIN, COS), x):
        return True
    return len(inside) == 1 and _is_over_something(f, x)


def _is_over_something(f: Expression, x: Name) -> bool:
    return any(isinstance(g, Power) and contains(g.base, x) and bits.is_negative(g.exponent.known) for g in factors_in(f))


def by_a_letter(f: Expression, x: Name, facts: Facts, integral: Integral, numbers: bool) -> Found | None:
    """ln(1 + a^2*x^2)/(1 + x^2) over x > 0: the slope by a is rational, and at a = 0 the integral vanishes.

    numbers: whether a letter is put in the place of a number too; to infinity, where the slope's integral is short.
    """
    if tree_size(f) > LARGEST:
        return None
    for a in _letters(f, x, facts):
        found = _along(f, x, a, facts, integral)
        if found is not None:
            return found
    lettered = with_a_letter(f, x, facts) if numbers else None
    if lettered is None:
        return None
    g, a, c = lettered
    found = _along(g, x, a, facts.with_facts([a > ZERO]), integral)
    if found is None:
        return None
    try:
        value = substitute(found.value, {a: c})
    except (DomainError, ZeroDivisionError):
        return None
    return Found(value, facts.open_conditions(substitute(k, {a: c}) for k in found.conditions), f"{found.road}, at {a} = {c}")


def _along(f: Expression, x: Name, a: Name, facts: Facts, integral: Integral) -> Found | None:
    slope = factored(differentiate(f, a))
    if tree_size(slope) > 2 * tree_size(f) or any(
        is_a(n, *INSIDE) and contains(n, x) and contains(n, a) for n in postorder(slope) if not is_a(n, EXP)
    ):
        return None
    try:
        at_zero = substitute(f, {a: ZERO})
    except DomainError:
        return None
    if factored(at_zero) is not ZERO:
        return None
    rate = integral(slope, facts)
    if rate is None or isinstance(rate.value, Bound):
        return None
    found = antiderivative(rate.value, a, facts)
    start = None if found is None else limit(found.value, a, ZERO, "above", facts)
    if found is None or start is None or isinstance(start.value, Bound):
        return None
    conditions = facts.open_conditions((*_still_needed(rate.conditions, a, found.value, facts), *found.conditions))
    return Found(found.value - start.value, conditions, f"slope by {a}: {rate.road}")


def in_its_own_unit(f: Expression, x: Name, facts: Facts) -> Expression:
    """The integrand at sqrt(c)*x, times sqrt(c), where x^2 + c stands below: the same integral from 0 to infinity, with 1 for c."""
    for g in factors_in(f):
        parts = uni.coefficients_of(g.base, x) if isinstance(g, Power) else None
        if parts is not None and len(parts) == 3 and parts[1] is ZERO and isinstance(c := parts[0] / parts[2], Number):
            unit = sqrt(c)
            return f if c is ONE or not facts.is_positive(c) else factored(substitute(f, {x: unit * x}) * unit)
    return f


def with_a_letter(f: Expression, x: Name, facts: Facts) -> tuple[Expression, Name, Expression] | None:
    """(f with a letter in place of a positive number, the letter, the number): a of ln(1 + a*x^2), atan(a*x).

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> print(*with_a_letter(LN(1 + 5*x**2)/(1 + x**2), x, Facts()))
    ln(a*x^2 + 1)/(x^2 + 1) a 5
    """
    inside = [n for n in factors_in(f) if is_a(n, LN, ATAN) and contains(n, x)]
    if len(inside) != 1 or not _is_over_something(f, x):
        return None
    node = inside[0]
    assert isinstance(node, Call)
    start: Expression = ONE if is_a(node, LN) else ZERO
    moving = factored(node.arguments[0] - start)
    c = number(moving.coefficient) if isinstance(moving, Product) else ONE
    if set(names(moving)) != {x} or not facts.is_positive(c):
        return None
    a = facts.new_name("a", f, domain="positive")
    return substitute(f, {node: call(node.name, start + a * moving / c)}), a, c


def _still_needed(conditions: tuple[Condition, ...], a: Name, value: Expression, facts: Facts) -> Iterator[Condition]:
    """That the letter is not at one place does not matter to an integral along it, where its value goes on."""
    for c in conditions:
        single = isinstance(c, Relation) and c.operator == "!=" and c.left is a
        if not (single and isinstance(c, Relation) and has_no_break_at(value, a, c.right, facts)):
            yield c


def _letters(f: Expression, x: Name, facts: Facts) -> list[Name]:
    """Positive letters inside of a function that has a simpler slope, beside the variable."""
    inside = [n for n in postorder(f) if isinstance(n, Call) and is_a(n, *INSIDE) and contains(n, x)]
    found = dict.fromkeys(a for n in inside for a in names(n) if a is not x and isinstance(a, Name) and facts.is_positive(a))
    return list(found)
