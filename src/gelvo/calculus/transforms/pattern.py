"""What the transforms read a summand as: a power, an exponential, a wave, a step, an impulse."""

from __future__ import annotations

from typing import NamedTuple

from gelvo.expression.building import call, multiply_all, number, power, relation
from gelvo.expression.constants import HALF, ONE, ZERO
from gelvo.expression.nodes import Call, Condition, Expression, Name, Node, Power, Product
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, postorder, substitute, transform
from gelvo.facts.conditions import what_must_be_positive
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.forms.impulses import has_impulse
from gelvo.functions.named import ABS, BESSELI, COS, COSH, DIRAC_DELTA, ERFI, EXP, HEAVISIDE, LN, RE, SIN, SINH, is_a

BY_RULES = "rules for shifts, products with powers, and common pairs"


class Unknown(Exception):
    """No rule fits."""


def need_positive(e: Expression, facts: Facts, conditions: dict[Condition, None]) -> None:
    """That e is positive becomes a condition where it is not known; raises Unknown where it is known not to be."""
    needed = what_must_be_positive(facts, e)
    if needed is None:
        raise Unknown
    conditions.update(dict.fromkeys(needed))


class Term(NamedTuple):
    """outer * t^power * exp(rate*t) * wave(frequency*t + phase) * step(t - delay) * impulse(t - place)."""

    outer: Expression
    power: Expression
    rate: Expression
    wave: str
    frequency: Expression
    phase: Expression
    delay: Expression | None
    place: Expression | None


def term_of(e: Expression, t: Name) -> Term:
    """One summand read as the pattern above; raises Unknown."""
    outer: list[Expression] = [number(e.coefficient)] if isinstance(e, Product) else []
    exponent, rate, wave, frequency, phase = ZERO, ZERO, "", ZERO, ZERO
    delay: Expression | None = None
    place: Expression | None = None
    for f in factors_in(e):
        if not contains(f, t):
            outer.append(f)
            continue
        base, k = base_and_exponent(f)
        if base is t and not contains(k, t):
            exponent = exponent + k
        elif isinstance(f, Power) and not contains(base, t):
            slope, constant_part = linear_in(k, t)
            rate = rate + slope * LN(base)
            outer.append(power(base, constant_part))
        elif is_a(f, EXP):
            slope, constant_part = linear_in(f.arguments[0], t)
            rate = rate + slope
            outer.append(EXP(constant_part))
        elif is_a(f, SIN, COS) and not wave:
            wave = f.name
            frequency, phase = linear_in(f.arguments[0], t)
        elif is_a(f, HEAVISIDE, DIRAC_DELTA):
            slope, constant_part = linear_in(f.arguments[0], t)
            where = -constant_part / slope
            if is_a(f, HEAVISIDE) and slope is ONE and delay is None:
                delay = where
            elif is_a(f, DIRAC_DELTA) and place is None:
                place = where
                outer.append(1 / ABS(slope))
            else:
                raise Unknown
        else:
            raise Unknown
    return Term(multiply_all(outer), exponent, rate, wave, frequency, phase, delay, place)


def linear_in(e: Expression, t: Name) -> tuple[Expression, Expression]:
    parts = uni.linear_parts(expand(e), t)
    if parts is None:
        raise Unknown
    return parts


def formula_of(term: Term, t: Name) -> Expression:
    pieces = [term.outer, power(t, term.power), EXP(term.rate * t)]
    if term.wave:
        pieces.append(call(term.wave, term.frequency * t + term.phase))
    if term.delay is not None:
        pieces.append(HEAVISIDE(t - term.delay))
    return multiply_all(pieces)


# f(r*t) grows as exp(sign*r*t) does
GROWING: dict[str, tuple[int, ...]] = {EXP: (1,), SINH: (1, -1), COSH: (1, -1), BESSELI: (1, -1), ERFI: ()}


def growth_rates(f: Expression, t: Name) -> list[Expression] | None:
    """The rates of the exponentials in f, zero among them: its transform is asked for s beyond all of them; None where it grows faster."""
    rates: dict[Expression, None] = {ZERO: None}
    for node in calls_in(f):
        if not (is_a(node, *GROWING) and contains(node, t)):
            continue
        argument = node.arguments[-1]
        parts = uni.linear_parts(expand(argument), t)
        if parts is not None:
            rates.update(dict.fromkeys(sign * parts[0] for sign in GROWING[node.name]))
        elif not is_a(node, EXP):
            return None
    return list(rates)


def region(f: Expression, t: Name, s: Name, facts: Facts) -> list[Condition]:
    """Where the integral of f(t)*exp(-s*t) up to infinity converges at least: s, or its real part, beyond the growth of each summand."""
    rates: dict[Expression, None] = {}
    for term in (one for one in terms_of(expand(f)) if not has_impulse(one, t)):
        rate: Expression = ZERO
        rest: list[Expression] = []
        falls = False
        for factor in factors_in(term):
            parts = uni.coefficients_of(expand(factor.arguments[0]), t) if is_a(factor, EXP) else None
            if parts is not None and len(parts) == 2 and facts.is_real(parts[1]):
                rate = rate + parts[1]
            elif parts is not None and len(parts) == 3 and facts.is_negative(parts[2]):
                falls = True  # faster than any exponential
            elif contains(factor, t):
                rest.append(factor)
        others = growth_rates(multiply_all(rest), t)
        if falls or others is None:
            continue
        rates.update(dict.fromkeys(rate + other for other in others if facts.is_real(rate + other)))
    size = s if facts.is_real(s) else RE(s)
    kept = [r for r in rates if not any(facts.is_positive(other - r) for other in rates)]
    return [relation("<", r, size) for r in kept]


def beyond_growth(f: Expression, t: Name, s: Name, facts: Facts) -> Facts | None:
    """The facts for s beyond the growth of f."""
    rates = growth_rates(f, t)
    return None if rates is None else facts.with_facts([relation("<", r, s) for r in rates if facts.is_real(r)])


def calls_in(e: Expression) -> list[Call]:
    return [n for n in postorder(e) if isinstance(n, Call)]


def as_exponentials(e: Expression) -> Expression:
    def visit(node: Node) -> Node:
        if is_a(node, SINH, COSH):
            assert node.function.as_elementary is not None
            return node.function.as_elementary(*node.arguments)
        return node

    return transform(e, visit)


def by_root(f: Expression, t: Name, facts: Facts) -> tuple[Expression, Name] | None:
    """(2*u*f(u^2), u) of a formula with functions of sqrt(t): its integral over t from 0 on is that of this one over u."""
    roots: dict[Expression, Expression] = {}  # sqrt(c*t) -> sqrt(c)
    for node in (n for function in calls_in(f) for n in postorder(function) if isinstance(n, Power) and n.exponent is HALF):
        c = node.base / t
        if not contains(c, t) and facts.is_positive(c):
            roots[node] = power(c, HALF)
    if not roots:
        return None
    u = facts.new_name("u", f, t, domain="positive")
    plain = substitute(f, {node: c * u for node, c in roots.items()})
    return 2 * u * substitute(plain, {t: u**2}), u
