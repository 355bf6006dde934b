"""Conditions as a reader would write them: a != 1 for 4*(a - 1)^2 != 0."""

from __future__ import annotations

from gelvo.expression import known as bits
from gelvo.expression.building import multiply_all, number, relation, scale, total
from gelvo.expression.constants import ONE
from gelvo.expression.nodes import Condition, Expression, Name, Number, Power, Product, Relation, Sum
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import names
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.unit_forms import unit_form
from gelvo.functions.named import ABS, SIGN, is_a
from gelvo.numbers.exact import Gaussian, real


def nonzero(expression: Expression) -> Condition:
    """expression != 0 as a reader would write it: a != 1 for a - 1, a != 0 for 4*a^2.

    >>> from gelvo.expression.building import name
    >>> print(nonzero(4*name("a")**2), nonzero(name("a") - 1))
    a != 0 a != 1
    """
    core, _ = unit_form(expression)
    pieces = factors_in(core)
    kept = [_base_of_zero(p) for p in pieces]
    core = multiply_all([k for k in dict.fromkeys(kept) if k is not None])
    core, _ = unit_form(core)
    if isinstance(core, Sum) and len(core.terms) == 1:
        return relation("!=", core.terms[0], number(-core.constant))
    alone = letter_alone(core)
    if alone is not None:
        return relation("!=", alone[0], alone[1])
    return relation("!=", core, number(0))


def letter_alone(side: Expression) -> tuple[Name, Expression, int] | None:
    """(a, place, sign) of a sum sign*size*(a - place) of one letter and numbers, with size > 0; None for other formulas."""
    letters = [(t, c) for t, c in side.items() if names(t)] if isinstance(side, Sum) else []
    if len(letters) != 1 or not isinstance(letters[0][0], Name) or isinstance(letters[0][1], Gaussian):
        return None
    letter, share = letters[0][0], real(letters[0][1])
    assert isinstance(side, Sum) and isinstance(letter, Name)
    rest = total((side, -scale(letter, share)))
    return letter, expand(scale(rest, -1 / share)), 1 if share > 0 else -1


def zero_where(expression: Expression) -> Condition:
    """expression = 0 as a reader would write it: a = 1 for -(a - 1)/2."""
    apart = nonzero(expression)
    return relation("=", apart.left, apart.right) if isinstance(apart, Relation) else relation("=", expression, number(0))


def _base_of_zero(factor: Expression) -> Expression | None:
    """What vanishes where the factor does; None where it never does."""
    if bits.is_nonzero(factor.known):
        return None
    if isinstance(factor, Power) and isinstance(factor.exponent, Number) and factor.exponent.is_rational:
        return factor.base
    if is_a(factor, ABS, SIGN):
        return factor.arguments[0]
    return factor


def positive(expression: Expression) -> Condition:
    """expression > 0 without factors that are certainly positive; of a square only that it is not zero."""
    core, coefficient = unit_form(expression)
    pieces = factors_in(core)
    facts = Facts()
    kept = [p for p in pieces if not facts.is_positive(p)]
    if coefficient > 0 and kept and all(facts.is_nonnegative(p) for p in kept):
        return nonzero(multiply_all(kept))
    return relation("<", number(0), multiply_all([number(1 if coefficient > 0 else -1), *kept]))


def what_must_be_positive(facts: Facts, *quantities: Expression) -> tuple[Condition, ...] | None:
    """Conditions that quantities are positive; None where one is known not to be."""
    conditions: list[Condition] = []
    for q in quantities:
        if facts.is_nonpositive(q):
            return None
        if not facts.is_positive(q):
            conditions.append(positive(q))
    return tuple(conditions)


def without_positive_factors(gap: Expression, facts: Facts) -> Expression:
    """A discriminant without factors that are certainly not negative: its sign is the same."""
    if not isinstance(gap, Product):
        return gap
    kept = [f for f in gap.factors if not facts.is_positive(f)]
    sign = number(-1) if not isinstance(gap.coefficient, Gaussian) and gap.coefficient < 0 else ONE
    return multiply_all([sign, *kept]) if kept else gap
