"""Where a formula vanishes: factor by factor, and as what a letter must be for it."""

from __future__ import annotations

from collections.abc import Iterable

from gelvo.expression.building import looks_negative, number
from gelvo.expression.nodes import Condition, Expression, Name, Number, Power, Sum
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, names, postorder
from gelvo.facts.conditions import nonzero
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.forms.univariate import linear_parts
from gelvo.functions.named import EXP, FACTORIAL, GAMMA, is_a
from gelvo.numbers.exact import Gaussian


def factor_list(product: Expression) -> list[Expression]:
    """The factors of a product, of whole powers the base."""
    pieces = factors_in(product)
    return [p.base if isinstance(p, Power) and isinstance(p.exponent, Number) and p.exponent.is_whole else p for p in pieces]


def apart_from_zero(e: Expression, facts: Facts) -> list[Condition]:
    """What must hold for a formula not to be zero: each factor with letters, as far as the facts leave it open.

    >>> from gelvo.expression.building import name
    >>> [str(c) for c in apart_from_zero(name("a") ** 2 - 1, Facts())]
    ['a != 1', 'a != -1']
    """
    return list(facts.open_conditions(nonzero(f) for f in factor_list(factored(e)) if names(f)))


def denominators(formulas: Iterable[Expression], facts: Facts, free_of: Name | None = None) -> list[Condition]:
    """What must not vanish for formulas to have a value: each factor of each denominator (of those without a name that runs)."""
    found: dict[Condition, None] = {}
    for formula in dict.fromkeys(formulas):
        for node in postorder(formula):
            if not (isinstance(node, Power) and looks_negative(node.exponent) and names(node.base)):
                continue
            if (free_of is not None and contains(node.base, free_of)) or is_never_zero(node.base):
                continue
            found.update(dict.fromkeys(apart_from_zero(node.base, facts)))
    return list(found)


def is_never_zero(base: Expression) -> bool:
    """Whether a function has no zero anywhere."""
    return is_a(base, EXP, FACTORIAL, GAMMA)


def letter_where_zero(gap: Expression, facts: Facts) -> tuple[Name, Expression] | None:
    """(letter, value) for which gap = 0: the first letter that stands linearly, times what is not zero; None where there is none."""
    for letter in names(gap):
        parts = linear_parts(expand(gap), letter)
        if parts is not None and (isinstance(parts[0], Number) or facts.is_nonzero(parts[0])):
            return letter, -parts[1] / parts[0]
    return None


def letters_where_zero(gap: Expression, facts: Facts) -> dict[Name, Expression] | None:
    """Letters with their values for which gap = 0: one that stands linearly, or all of a sum of even powers of real letters.

    >>> from gelvo.expression.building import name
    >>> a, b = name("a"), name("b")
    >>> letters_where_zero(a**2 + 3*b**2, Facts())
    {a: 0, b: 0}
    """
    found = letter_where_zero(gap, facts)
    if found is not None:
        return {found[0]: found[1]}
    whole = expand(gap)
    if not isinstance(whole, Sum) or whole.constant or any(isinstance(c, Gaussian) for c in whole.coefficients):
        return None
    letters = [t.base for t in whole.terms if isinstance(t, Power) and t.exponent.is_whole and not t.exponent.rational % 2]
    if len(letters) < len(whole.terms) or len({c > 0 for c in whole.coefficients if not isinstance(c, Gaussian)}) != 1:
        return None
    if not all(isinstance(n, Name) and facts.is_real(n) for n in letters):
        return None
    return {n: number(0) for n in letters if isinstance(n, Name)}
