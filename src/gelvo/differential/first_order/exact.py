"""A(t, y)*y' + B(t, y) = 0 as the derivative of a potential, after an integrating factor where it needs one.

Source: E. Ince, "Ordinary Differential Equations" (1926), chapter 2.
"""

from __future__ import annotations

from collections.abc import Iterator

from gelvo.differential.first_order.levels import from_level
from gelvo.differential.first_order.rate import Rate, growth, integral
from gelvo.differential.problem import Outcome
from gelvo.errors import DomainError
from gelvo.expression.building import power
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Expression
from gelvo.expression.traversal import contains, has_call, substitute
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.forms.univariate import coefficients_of, linear_parts
from gelvo.functions.named import ATAN, ATANH
from gelvo.simplifying.search import simplify
from gelvo.solving.linear import linear_rows, solve_linear

Form = tuple[Expression, Expression]  # A and B


def exact(rate: Rate) -> Outcome | None:
    """The level sets of a potential."""
    found = _potential_and_factor(rate)
    if found is None:
        return None
    potential, factor = found
    road = "an exact equation" if factor is ONE else f"an exact equation after the factor {factor}"
    return from_level(rate, potential, ZERO, road)


def exact_level(rate: Rate) -> Expression | None:
    """The potential, which keeps its value along all solutions."""
    found = _potential_and_factor(rate)
    return None if found is None else found[0]


def _potential_and_factor(rate: Rate) -> tuple[Expression, Expression] | None:
    top, bottom = quotient_parts(factored(rate.slope))
    for (a, b), factor in _with_factors((bottom, expand(-top)), rate):
        potential = _potential(a, b, rate)
        if potential is not None and contains(potential, rate.y):
            return potential, factor
    return None


def _curl(form: Form, rate: Rate) -> Expression:
    a, b = form
    return simplify(differentiate(a, rate.t) - differentiate(b, rate.y), rate.facts).expression


def _with_factors(form: Form, rate: Rate) -> Iterator[tuple[Form, Expression]]:
    """The form as it is where it is exact, else with factors that make it so."""
    curl = _curl(form, rate)
    if curl is ZERO:
        yield form, ONE
        return
    for factor in (*_by_one_quantity(form, curl, rate), *_by_powers(form, curl, rate)):
        multiplied = tuple(factored(factor * part) for part in form)
        if _curl(multiplied, rate) is ZERO:  # type: ignore[arg-type]
            yield multiplied, substitute(factor, {rate.y: rate.unknown})  # type: ignore[misc]


def _by_one_quantity(form: Form, curl: Expression, rate: Rate) -> Iterator[Expression]:
    """Factors that depend on one quantity z(t, y): their logarithmic derivative is curl/(z_y*B - z_t*A)."""
    t, y, (a, b) = rate.t, rate.y, form
    z = rate.facts.new_name("z", a, b, t, y)
    # each quantity, with the y at which it has the value z
    for quantity, back in ((t, None), (y, z), (t * y, z / t), (t + y, z - t), (t - y, t - z), (y / t, z * t)):
        below = expand(differentiate(quantity, y) * b - differentiate(quantity, t) * a)
        if below is ZERO:
            continue
        share = factored(curl / below)
        inside = substitute(share, {t: z}) if back is None else factored(substitute(share, {y: back}))
        if contains(inside, t) or contains(inside, y):
            continue
        whole = integral(inside, z, rate.facts)
        if whole is not None and not (
            back is not None and has_call(whole, (ATAN, ATANH))
        ):  # a quotient separates more simply then
            yield substitute(growth(whole, z, rate.facts), {z: quantity})


def _by_powers(form: Form, curl: Expression, rate: Rate) -> Iterator[Expression]:
    """Factors t^m*y^n: then t*y*curl = n*t*B - m*y*A for all t and y."""
    t, y, (a, b) = rate.t, rate.y, form
    m, n = (rate.facts.new_name(word, a, b, t, y) for word in "mn")
    gap = expand(t * y * curl - n * t * b + m * y * a)
    columns = coefficients_of(gap, y)
    rows = [row for c in columns or () for row in coefficients_of(expand(c), t) or ()]
    if not rows or any(contains(row, t) or contains(row, y) for row in rows) or linear_parts(gap, m) is None:
        return
    table = linear_rows(rows, [m, n])
    try:
        solved = solve_linear(table, [m, n], rate.facts) if table is not None else None
    except DomainError:
        return
    if solved is not None and solved.found and not solved.conditions:
        values = solved.found[0].values
        yield power(t, values[m]) * power(y, values[n])


def _potential(a: Expression, b: Expression, rate: Rate) -> Expression | None:
    """F with F_t = B and F_y = A."""
    first = integral(expand(b), rate.t, rate.facts)
    if first is None:
        return None
    rest = simplify(a - differentiate(first, rate.y), rate.facts).expression
    if contains(rest, rate.t):
        return None
    second = integral(rest, rate.y, rate.facts)
    return None if second is None else first + second
