"""Laplace transforms by rules: linearity, shifts, derivatives of the transform.

Source: G. Doetsch, "Introduction to the Theory and Application of the Laplace Transformation" (1974).
"""

from __future__ import annotations

from gelvo.calculus.antiderivative.waves import linear_waves
from gelvo.calculus.found import Found, summed
from gelvo.calculus.transforms.by_definition import laplace_by_definition
from gelvo.calculus.transforms.pattern import BY_RULES, Term, Unknown, formula_of, need_positive, term_of
from gelvo.calculus.transforms.unknown import of_unknown, unknowns_of
from gelvo.expression.building import number, power
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Condition, Expression, Name, Product
from gelvo.expression.traversal import substitute
from gelvo.facts.conditions import positive
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import COS, EXP, GAMMA, SIN, is_a


def laplace(e: Expression, t: Name, s: Name, facts: Facts) -> Found | None:
    """The integral of e*exp(-s*t) for t from 0 to infinity, for large enough s.

    >>> from gelvo.expression.building import name
    >>> t, s = name("t"), name("s")
    >>> print(laplace(t * EXP(-2 * t), t, s, Facts()).value)
    1/(s + 2)^2
    """
    pieces = prepared_terms(e, t, facts)
    found = [_by_rule(p, t, s, facts) for p in pieces]
    if None in found:
        whole = laplace_by_definition(e, t, s, facts)
        if whole is not None or len(pieces) == 1:
            return whole
        found = [one or laplace_by_definition(p, t, s, facts) for one, p in zip(found, pieces, strict=True)]
    return None if None in found else summed([one for one in found if one is not None])


def _by_rule(piece: Expression, t: Name, s: Name, facts: Facts) -> Found | None:
    if unknowns_of(piece, t):
        return of_unknown(piece, t, s, facts)
    conditions: dict[Condition, None] = {}
    try:
        value = _laplace_term(term_of(piece, t), t, s, facts, conditions)
    except Unknown:
        return None
    return Found(value if _delayed(value) else factored(value), tuple(conditions), BY_RULES)


def prepared_terms(e: Expression, t: Name, facts: Facts) -> list[Expression]:
    return terms_of(linear_waves(expand(e), facts))


def _delayed(e: Expression) -> bool:
    return isinstance(e, Product) and any(is_a(f, EXP) for f in e.factors)


def _laplace_term(term: Term, t: Name, s: Name, facts: Facts, conditions: dict[Condition, None]) -> Expression:
    if term.place is not None:
        if facts.is_negative(term.place):
            return ZERO
        if not facts.is_nonnegative(term.place):
            conditions[term.place >= ZERO] = None
        at = substitute(formula_of(term._replace(place=None), t), {t: term.place})
        return at * EXP(-s * term.place)
    if term.delay is not None and not facts.is_nonpositive(term.delay):
        return _laplace_delayed(term, t, s, facts, conditions)
    if term.wave:
        return _laplace_wave(term, s)
    n_plus = term.power + 1
    need_positive(n_plus, facts, conditions)
    return term.outer * GAMMA(n_plus) / power(s - term.rate, n_plus)


def _laplace_delayed(term: Term, t: Name, s: Name, facts: Facts, conditions: dict[Condition, None]) -> Expression:
    """The shift: g(t - c) from c on is exp(-c*s)*G(s)."""
    assert term.delay is not None
    if not facts.is_positive(term.delay):
        conditions[positive(term.delay)] = None
    moved = substitute(formula_of(term._replace(delay=None), t), {t: t + term.delay})
    inner = laplace(moved, t, s, facts)
    if inner is None:
        raise Unknown
    conditions.update(dict.fromkeys(inner.conditions))
    return EXP(-s * term.delay) * inner.value


def _laplace_wave(term: Term, s: Name) -> Expression:
    """t^n*exp(r*t)*wave(w*t + phase): derivatives of the transform of the wave alone."""
    if not (term.power.is_whole and 0 <= term.power.rational <= 20):
        raise Unknown
    sine, cosine, w, shifted = SIN(term.phase), COS(term.phase), term.frequency, s - term.rate
    square = shifted**2 + w**2
    base = (shifted * sine + w * cosine) / square if term.wave == SIN else (shifted * cosine - w * sine) / square
    n = int(term.power.rational)
    return term.outer * number((-1) ** n) * differentiate(base, s, n)
