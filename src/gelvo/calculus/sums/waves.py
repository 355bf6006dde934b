"""Sums with a sine or a cosine of the index by complex exponentials, and sums over odd numbers by those over all."""

from __future__ import annotations

from collections.abc import Callable

from gelvo.calculus.found import Found
from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, number
from gelvo.expression.constants import IMAGINARY, ONE
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.functions.named import COS, EXP, SIN, is_a
from gelvo.normal.complex_parts import real_and_imaginary

Sum = Callable[[Expression, Name, Expression, Facts], Found | None]


def by_exponentials(term: Expression, k: Name, lower: int, facts: Facts, add_up: Sum) -> Found | None:
    """f(k)*cos(k*x + p): the real part of the sum of f(k)*exp(1j*(k*x + p))."""
    waves = [f for f in factors_in(term) if is_a(f, SIN, COS) and contains(f, k)]
    parts = uni.linear_parts(waves[0].children[0], k) if len(waves) == 1 else None  # type: ignore[arg-type]
    if parts is None or not all(facts.is_real(p) for p in parts):
        return None
    rest = term / multiply_all(waves)
    if not facts.is_real(rest) or any(is_a(f, SIN, COS) for f in factors_in(rest)):
        return None
    found = add_up(rest * EXP(IMAGINARY * parts[0] * k), k, number(lower), facts)
    if found is None:
        return None
    try:
        pair = real_and_imaginary(EXP(IMAGINARY * parts[1]) * found.value, facts)
    except DomainError:
        return None
    value = pair[0 if is_a(waves[0], COS) else 1]
    return Found(value, facts.open_conditions(found.conditions), f"complex exponentials: {found.road}")


def over_odd_numbers(term: Expression, k: Name, lower: int, facts: Facts, add_up: Sum) -> Found | None:
    """g(2*k + 1) from k = 0 on: the sum of g over all numbers less that over the even ones."""
    inner = substitute(term, {k: (k - 1) / 2})
    waves = [f for f in factors_in(inner) if is_a(f, SIN, COS) and contains(f, k)]
    parts = uni.linear_parts(waves[0].children[0], k) if len(waves) == 1 else None  # type: ignore[arg-type]
    if lower or parts is None or (parts[1] is not number(0)):
        return None
    every, even = add_up(inner, k, ONE, facts), add_up(substitute(inner, {k: 2 * k}), k, ONE, facts)
    if every is None or even is None:
        return None
    return every.plus(even.times(number(-1)))
