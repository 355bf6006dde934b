"""Integrals from 0 to infinity by moments: each term is a power of x, powers of ln(x) and one kernel of c*x^q.

Where terms diverge by themselves and the whole converges, the moments are continued: with x^sigma beside it each half of the integral
is a meromorphic function of sigma, a power alone has the moment 0, and the sum of all has the integral as its limit at sigma = 0
(N. Bleistein, R. Handelsman, "Asymptotic Expansions of Integrals" (1975), chapter 4).
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from math import comb
from typing import NamedTuple

from gelvo.calculus.limits import limit_beside
from gelvo.calculus.local.expander import Local
from gelvo.calculus.local.expansion import Short
from gelvo.calculus.local.expansion import Unclear as NotTold
from gelvo.checking.values.exponential_series import exponential_series
from gelvo.checking.values.kernels import KERNELS, MASTER, Kernel, power_of_a_sum
from gelvo.checking.values.terms import Parted, monomial, parted, start_and_monomial
from gelvo.checking.values.value import Value
from gelvo.deciding.equality import prove_zero
from gelvo.deciding.suppositions import attempt
from gelvo.errors import DomainError, GelvoError
from gelvo.expression.building import call, number, power, sqrt, total
from gelvo.expression.constants import ONE, PI, ZERO
from gelvo.expression.nodes import Bound, Call, Expression, Name, Number, Power
from gelvo.expression.terms import base_and_exponent
from gelvo.expression.traversal import contains, has_call, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import ATAN, BESSELK, COS, EXP, GAMMA, LN, SIN, is_a
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.numbers.exact import HALF
from gelvo.simplifying.families.waves import by_multiple_angles
from gelvo.simplifying.splitting import expand_only


class Moment(NamedTuple):
    """outer*K(c*x^q) as a moment: of x^(s-1) times it, for s/q above low and below high."""

    forms: tuple[Callable[[Expression], Expression], ...]
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


def by_moments(f: Expression, x: Name, facts: Facts) -> Iterator[Value]:
    """The integral of f over x > 0, in the forms that the kernels have."""
    forms = [f]
    if any(is_a(n, SIN, COS) for n in postorder(f)):
        turned = by_multiple_angles(f, facts, False)
        forms += [] if turned is None or not prove_zero(turned - f, facts) else [turned]
    if has_call(f, (LN,)):
        forms += [expand_only(form, "logarithms", facts) for form in forms]
    for form in dict.fromkeys((*forms, *map(expand, forms))):
        found = _terms_as_moments(form, x, facts)
        if found is not None:
            yield from _summed(found, x, facts)
            return


class _Terms(NamedTuple):
    terms: list[tuple[Parted, Moment]]
    alone: bool


def _terms_as_moments(f: Expression, x: Name, facts: Facts) -> _Terms | None:
    """Its terms with their moments, where the whole is known to converge."""
    terms: list[tuple[Parted, Moment]] = []
    pieces = [parted(piece, x) for piece in terms_of(f)]
    powers = [p for p in pieces if not p.rest]
    for parts in pieces:
        moment = _moment(parts.rest, x, facts) if parts.rest else None
        if moment is not None:
            terms.append((parts, moment))
        elif parts.rest:
            return None
    alone = not powers and all(m.converges(p.s, facts) for p, m in terms)
    if not alone:
        dies = all(facts.is_negative(p.s) for p in powers) and all(
            facts.is_positive(m.q) and m.dies(p.s, facts) for p, m in terms
        )
        if not terms or not dies or not _integrable_at_zero(f, x, facts):
            return None
    return _Terms(terms, alone)


def _summed(found: _Terms, x: Name, facts: Facts) -> Iterator[Value]:
    sigma = facts.new_name("sigma", *[p.s for p, _ in found.terms], *[p.outer for p, _ in found.terms])
    sources = dict.fromkeys(m.source for _, m in found.terms)
    plainly = [not p.logarithms and m.converges(p.s, facts) for p, m in found.terms]
    said: set[Expression] = set()
    for form in (0, 1):
        moments = [m.forms[min(form, len(m.forms) - 1)] for _, m in found.terms]
        found_moments = [
            _plainly(of, p.s) if plain else None for (p, _), of, plain in zip(found.terms, moments, plainly, strict=True)
        ]
        whole = total(
            p.outer * (differentiate(of(p.s + sigma), sigma, p.logarithms) if plain is None else plain)
            for (p, _), of, plain in zip(found.terms, moments, found_moments, strict=True)
        )
        value = _at_zero(whole, sigma, facts)
        if value is not None and value not in said:
            said.add(value)
            yield Value(value, f"moments: {'; '.join(sources)}{'' if found.alone else ', continued'}")


def _plainly(of: Callable[[Expression], Expression], s: Expression) -> Expression | None:
    """The moment itself; None where its form has a pole that cancels."""
    try:
        return of(s)
    except (DomainError, ZeroDivisionError):
        return None


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


def _scaled(
    kernel: Kernel, orders: tuple[Expression, ...], c: Expression, q: Expression, facts: Facts, outer: Expression = ONE
) -> Moment | None:
    if kernel.parity and facts.is_negative(c):
        c, outer = -c, outer * kernel.parity
    # the exponential along a turned ray
    falls = facts.is_positive(c) or (kernel is KERNELS[EXP] and facts.is_positive(real_and_imaginary(c, facts)[0]))
    if not falls or not (facts.is_positive(q) or facts.is_negative(q)):
        return None
    size = q if facts.is_positive(q) else -q

    def scaled(moment: Callable[..., Expression]) -> Callable[[Expression], Expression]:
        return lambda s: outer * moment(factored(s / q), *orders) / (size * power(c, factored(s / q)))

    forms = tuple(scaled(m) for m in (kernel.moment, kernel.other) if m is not None)
    high = () if kernel.high is None else (kernel.high(*orders),)
    return Moment(forms, kernel.low(*orders), high, q, kernel.source)


def _of_function(rest: tuple[Expression, ...], x: Name, facts: Facts) -> Moment | None:
    """A row of the kernels."""
    if len(rest) != 1 or not isinstance(rest[0], Call) or rest[0].name not in KERNELS:
        return None
    kernel = KERNELS[rest[0].name]
    *orders, argument = rest[0].arguments
    inner = start_and_monomial(argument, x)
    if inner is None or inner[0] is not kernel.start or any(contains(order, x) for order in orders):
        return None
    return _scaled(kernel, tuple(orders), kernel.sign * inner[1], inner[2], facts)


def _of_sum(rest: tuple[Expression, ...], x: Name, facts: Facts) -> Moment | None:
    """(a + c*x^q)^(-p) with a > 0."""
    if len(rest) != 1 or not isinstance(rest[0], Power) or contains(rest[0].exponent, x):
        return None
    inner = start_and_monomial(rest[0].base, x)
    if inner is None or not facts.is_positive(inner[0]):
        return None
    a, c, q = inner
    return _scaled(power_of_a_sum(-rest[0].exponent), (), c / a, q, facts, power(a, rest[0].exponent))


def _of_sum_with_logarithm(rest: tuple[Expression, ...], x: Name, facts: Facts) -> Moment | None:
    """(a + c*x^q)^(-p)*ln(a + c*x^q)^k, a slope by the exponent."""
    logarithms = [g for g in rest if is_a(base_and_exponent(g)[0], LN)]
    sums = [g for g in rest if isinstance(g, Power) and g not in logarithms]
    if len(rest) != 2 or len(logarithms) != 1 or len(sums) != 1:
        return None
    base, k = base_and_exponent(logarithms[0])
    if base is not LN(sums[0].base) or not k.is_whole or not 0 < k.rational <= 4:
        return None
    tau = facts.new_name("tau", *rest)
    found = _of_sum((power(sums[0].base, sums[0].exponent + tau),), x, facts.with_facts([tau > ZERO]))
    if found is None:
        return None
    forms = tuple(lambda s, of=of: substitute(differentiate(of(s), tau, int(k.rational)), {tau: ZERO}) for of in found.forms)
    return found._replace(forms=forms, high=tuple(substitute(e, {tau: ZERO}) for e in found.high))


def _of_two_exponents(rest: tuple[Expression, ...], x: Name, facts: Facts) -> Moment | None:
    """exp(-a*x^q - b/x^q)."""
    pieces = [monomial(t, x) for g in rest if is_a(g, EXP) for t in terms_of(g.arguments[0])]
    if len(rest) > 2 or len(pieces) != 2 or None in pieces or not all(is_a(g, EXP) for g in rest):
        return None
    (a, q), (b, r) = sorted([m for m in pieces if m is not None], key=lambda m: facts.is_negative(m[1]))
    if factored(q + r) is not ZERO or not all(map(facts.is_positive, (-a, -b, q))):
        return None
    z = 2 * sqrt(a * b)
    scale = power(b / a, number(1) / (2 * q))

    def of(s: Expression) -> Expression:
        return 2 / q * power(scale, s) * bessel(factored(s / q))

    def bessel(order: Expression) -> Expression:
        half = isinstance(order, Number) and order.is_rational and abs(order.rational) == HALF
        return sqrt(PI / (2 * z)) * EXP(-z) if half else BESSELK(order, z)

    return Moment((of,), (), (), q, "DLMF 10.32.10")


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
        return GAMMA(z) * _turned(waves[0].name, a, b, z) / q

    return Moment((of,), (number(-1) if is_a(waves[0], SIN) else ZERO,), (), q, MASTER + ", along a turned ray")


MOST_POWERS = 40


def _turned(wave: str, a: Expression, b: Expression, z: Expression) -> Expression:
    """The part of (a - 1j*b)^(-z) that a wave takes: rational for whole z, as the angle of a long a + 1j*b is never handled then."""
    if isinstance(z, Number) and z.is_whole and 0 < z.rational <= MOST_POWERS:
        n, first = int(z.rational), int(wave == SIN)
        parts = [(-1) ** (k // 2) * comb(n, k) * a ** (n - k) * b**k for k in range(first, n + 1, 2)]
        return total(parts) / (a * a + b * b) ** n
    return call(wave, z * ATAN(b / a)) / power(a * a + b * b, z / 2)


def _of_exponential_series(rest: tuple[Expression, ...], x: Name, facts: Facts) -> Moment | None:
    found = exponential_series(rest, x, facts)
    return None if found is None else Moment((found.moment,), (found.low,), (), ONE, "a series of exponentials, term by term")


READINGS: tuple[Callable[[tuple[Expression, ...], Name, Facts], Moment | None], ...] = (
    _of_function,
    _of_sum,
    _of_sum_with_logarithm,
    _of_two_exponents,
    _of_damped_wave,
    _of_exponential_series,
)
