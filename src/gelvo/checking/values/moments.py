"""Integrals from 0 to infinity by moments: each term is a power of x, powers of ln(x) and one kernel of c*x^q.

Where terms diverge by themselves and the whole converges, the moments are continued: with x^sigma beside it each half of the integral
is a meromorphic function of sigma, a power alone has the moment 0, and the sum of all has the integral as its limit at sigma = 0
(N. Bleistein, R. Handelsman, "Asymptotic Expansions of Integrals" (1975), chapter 4).
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from gelvo.calculus.limits import limit_beside
from gelvo.calculus.local.expander import Local
from gelvo.calculus.local.expansion import Short
from gelvo.calculus.local.expansion import Unclear as NotTold
from gelvo.checking.values.exponential_series import exponential_series
from gelvo.checking.values.kernels import KERNELS, MASTER, Kernel, power_of_a_sum
from gelvo.checking.values.terms import Parted, monomial, parted, start_and_monomial
from gelvo.deciding.equality import decide_zero
from gelvo.deciding.suppositions import attempt
from gelvo.errors import DomainError, GelvoError
from gelvo.expression.building import call, number, power, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Bound, Call, Expression, Name, Power
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import ATAN, COS, EXP, GAMMA, SIN, is_a
from gelvo.simplifying.families.waves import by_multiple_angles


class Value(NamedTuple):
    """What an integral is by a theorem, and which."""

    value: Expression
    road: str


class Moment(NamedTuple):
    """outer*K(c*x^q) as a moment: of x^(s-1) times it, for s/q above low and below high."""

    of: Callable[[Expression], Expression]
    low: tuple[Expression, ...]
    high: tuple[Expression, ...]
    q: Expression
    source: str

    def converges(self, s: Expression, facts: Facts) -> bool:
        z = s / self.q
        return all(facts.is_positive(factored(z - e)) for e in self.low) and self.dies(s, facts)

    def dies(self, s: Expression, facts: Facts) -> bool:
        """Towards infinity, or towards zero where q < 0."""
        return all(facts.is_positive(factored(e - s / self.q)) for e in self.high)


def by_moments(f: Expression, x: Name, facts: Facts) -> Value | None:
    """The integral of f over x > 0."""
    forms = [f]
    if any(is_a(n, SIN, COS) for n in postorder(f)):
        turned = by_multiple_angles(f, facts, False)
        forms += [] if turned is None or decide_zero(turned - f, facts).zero is not True else [turned]
    for form in dict.fromkeys((*forms, *map(expand, forms))):
        found = _of_terms(form, x, facts)
        if found is not None:
            return found
    return None


def _of_terms(f: Expression, x: Name, facts: Facts) -> Value | None:
    sigma = facts.new_name("sigma", f)
    values: list[Expression] = []
    sources: dict[str, None] = {}
    alone = True
    pieces = terms_of(f)
    for piece in pieces:
        parts = parted(piece, x)
        if not parts.rest:  # a power alone
            if len(pieces) == 1:
                return None
            alone = False
            continue
        moment = _moment(parts.rest, x, facts)
        if moment is None or not (moment.converges(parts.s, facts) or _tail_dies(moment, parts, facts)):
            return None
        alone = alone and moment.converges(parts.s, facts)
        values.append(parts.outer * differentiate(moment.of(parts.s + sigma), sigma, parts.logarithms))
        sources[moment.source] = None
    if not alone and not (_integrable_at_zero(f, x, facts) and _powers_die(pieces, x, facts)):
        return None
    value = _at_zero(total(values), sigma, facts)
    return None if value is None else Value(value, f"moments: {'; '.join(sources)}{'' if alone else ', continued'}")


def _tail_dies(moment: Moment, parts: Parted, facts: Facts) -> bool:
    """Whether what goes to infinity converges by itself, so that only zero has to be looked at."""
    return facts.is_positive(moment.q) and moment.dies(parts.s, facts)


def _powers_die(pieces: list[Expression], x: Name, facts: Facts) -> bool:
    """Whether all powers that stand alone are below 1/x far out."""
    alone = [p for p in (parted(piece, x) for piece in pieces) if not p.rest]
    return all(facts.is_negative(p.s) for p in alone)


@attempt
def _integrable_at_zero(f: Expression, x: Name, facts: Facts) -> bool:
    own = Local(x, facts.with_facts([x > ZERO]), 8)
    try:
        exponent, _, _ = own.leading(own.of(f))
    except (NotTold, Short, GelvoError, ZeroDivisionError):
        return False
    return exponent > -1


def _at_zero(value: Expression, sigma: Name, facts: Facts) -> Expression | None:
    try:
        return substitute(value, {sigma: ZERO})
    except (DomainError, ZeroDivisionError):
        pass
    try:
        found = limit_beside(value, sigma, ZERO, "above", facts)
    except GelvoError:
        return None
    return None if found is None or isinstance(found, Bound) else found


# --- what stands beside the power -------------------------------------------------------------------------------------------------


def _moment(rest: tuple[Expression, ...], x: Name, facts: Facts) -> Moment | None:
    for read in READINGS:
        found = read(rest, x, facts)
        if found is not None:
            return found
    return None


def _scaled(kernel: Kernel, orders: tuple[Expression, ...], c: Expression, q: Expression, outer: Expression, facts: Facts) -> Moment | None:
    if not facts.is_positive(c) or not (facts.is_positive(q) or facts.is_negative(q)):
        return None
    size = q if facts.is_positive(q) else -q

    def of(s: Expression) -> Expression:
        return outer * kernel.moment(factored(s / q), *orders) / (size * power(c, factored(s / q)))

    high = () if kernel.high is None else (kernel.high(*orders),)
    return Moment(of, kernel.low(*orders), high, q, kernel.source)


def _of_function(rest: tuple[Expression, ...], x: Name, facts: Facts) -> Moment | None:
    """A row of the kernels."""
    if len(rest) != 1 or not isinstance(rest[0], Call) or rest[0].name not in KERNELS:
        return None
    kernel = KERNELS[rest[0].name]
    *orders, argument = rest[0].arguments
    inner = start_and_monomial(argument, x)
    if inner is None or inner[0] is not kernel.start or any(contains(order, x) for order in orders):
        return None
    return _scaled(kernel, tuple(orders), kernel.sign * inner[1], inner[2], ONE, facts)


def _of_sum(rest: tuple[Expression, ...], x: Name, facts: Facts) -> Moment | None:
    """(a + c*x^q)^(-p) with a > 0."""
    if len(rest) != 1 or not isinstance(rest[0], Power) or contains(rest[0].exponent, x):
        return None
    inner = start_and_monomial(rest[0].base, x)
    if inner is None or not facts.is_positive(inner[0]):
        return None
    a, c, q = inner
    return _scaled(power_of_a_sum(-rest[0].exponent), (), c / a, q, power(a, rest[0].exponent), facts)


def _of_damped_wave(rest: tuple[Expression, ...], x: Name, facts: Facts) -> Moment | None:
    """exp(-a*x^q) times a wave of b*x^q: the moment of exp(-c*x^q) with c = a - 1j*b, whose real part is positive, in its parts."""
    waves = [g for g in rest if is_a(g, SIN, COS)]
    exponentials = [g for g in rest if is_a(g, EXP)]
    if len(rest) != 2 or len(waves) != 1 or len(exponentials) != 1:
        return None
    one, two = monomial(exponentials[0].arguments[0], x), monomial(waves[0].arguments[0], x)
    if one is None or two is None or one[1] is not two[1] or not facts.is_positive(one[1]) or not facts.is_negative(one[0]):
        return None
    a, b, q = -one[0], two[0], one[1]

    def of(s: Expression) -> Expression:
        z = factored(s / q)
        return GAMMA(z) * call(waves[0].name, z * ATAN(b / a)) / (q * power(a * a + b * b, z / 2))

    return Moment(of, (number(-1) if is_a(waves[0], SIN) else ZERO,), (), q, MASTER + ", along a turned ray")


def _of_exponential_series(rest: tuple[Expression, ...], x: Name, facts: Facts) -> Moment | None:
    found = exponential_series(rest, x, facts)
    return None if found is None else Moment(found.moment, (found.low,), (), ONE, "a series of exponentials, term by term")


READINGS: tuple[Callable[[tuple[Expression, ...], Name, Facts], Moment | None], ...] = (
    _of_function,
    _of_sum,
    _of_damped_wave,
    _of_exponential_series,
)
