"""add_up and multiply_up: finite sums in closed form, infinite ones by limits or by name, and divergence.

Sources: G. Boole, "A Treatise on the Calculus of Finite Differences" (1860) for the elementary rules; see `summation.py` for the rest.
"""

from __future__ import annotations

from typing import NamedTuple

from gmpy2 import mpq

from gelvo.calculus import growth
from gelvo.calculus.limits import limit_at_infinity
from gelvo.calculus.summation import antidifference, product_of_ratio, step_ratio, term_ratio
from gelvo.deciding.equality import is_zero
from gelvo.errors import DomainError
from gelvo.expression.building import call, constant, multiply_all, number, power, relation, total
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, ONE, PI, UNDEFINED, ZERO
from gelvo.expression.nodes import Bound, Call, Condition, Expression, Name, Number, Power, Product
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.facts.conditions import nonzero
from gelvo.facts.statements import DomainFact
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.limits import checkpoint
from gelvo.simplifying.partial_fractions import partial_fractions

MOST_WRITTEN_OUT = 200


class Found(NamedTuple):
    """The value of a sum, its conditions, and how it was found."""

    value: Expression
    conditions: tuple[Condition, ...] = ()
    road: str = ""


def add_up(term: Expression, k: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """The sum of the term for k from lower to upper; None where no closed form was found.

    >>> from gelvo.expression.building import name
    >>> k, n = name("k"), name("n")
    >>> print(add_up(k, k, number(1), n, Facts()).value)
    n*(n + 1)/2
    """
    if isinstance(lower, Bound):
        if isinstance(upper, Bound):
            parts = [add_up(term, k, ZERO, upper, facts), add_up(substitute(term, {k: -k}), k, ONE, upper, facts)]
            return None if None in parts else _joined([p for p in parts if p is not None])
        return add_up(substitute(term, {k: -k}), k, -upper, INFINITE, facts)
    facts = facts.with_facts([DomainFact(k, "integer")] if k.domain == "real" else [])
    _refuse_poles(term, k, lower, upper, facts)
    if not isinstance(upper, Bound):
        return _finite(term, k, lower, upper, facts)
    inside = facts.with_facts([lower <= k] if not isinstance(lower, Number) else [number(lower.rational) <= k])
    return _infinite(term, k, lower, inside)


def multiply_up(factor: Expression, k: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """The product of a rational factor for k from lower to upper, by factorials."""
    if isinstance(lower, Number) and isinstance(upper, Number) and upper.rational - lower.rational < MOST_WRITTEN_OUT:
        listed = range(int(lower.rational), int(upper.rational) + 1)
        return Found(multiply_all([substitute(factor, {k: number(j)}) for j in listed]), (), "written out")
    if not contains(factor, k):
        return Found(power(factor, factored(upper - lower + 1)), (), "a power")
    if not (isinstance(lower, Number) and lower.is_whole) or isinstance(upper, Bound):
        return None
    if isinstance(factor, Power) and not contains(factor.base, k):
        inner = add_up(factor.exponent, k, lower, upper, facts)
        return None if inner is None else Found(power(factor.base, inner.value), inner.conditions, "the sum of the exponents")
    try:
        value = product_of_ratio(factor, k, int(lower.rational))
    except DomainError:
        return None
    return None if value is None else Found(substitute(value, {k: upper + 1}), (), "factorials")


def _joined(parts: list[Found]) -> Found:
    conditions = dict.fromkeys(c for p in parts for c in p.conditions)
    roads = dict.fromkeys(p.road for p in parts)
    infinite = [p.value for p in parts if isinstance(p.value, Bound)]
    if len(set(infinite)) > 1:
        return Found(UNDEFINED, tuple(conditions), "; ".join(roads))
    return Found(infinite[0] if infinite else total([p.value for p in parts]), tuple(conditions), "; ".join(roads))


def _refuse_poles(term: Expression, k: Name, lower: Expression, upper: Expression, facts: Facts) -> None:
    """A term that has no value at a whole number in the range."""
    if not (isinstance(lower, Number) and lower.is_whole):
        return
    bottoms = [
        n.base
        for n in postorder(term)
        if isinstance(n, Power) and isinstance(n.exponent, Number) and n.exponent.is_rational and n.exponent.rational < 0
    ]
    for bottom in bottoms:
        parts = uni.coefficients_of(bottom, k)
        if parts is None or not all(isinstance(c, Number) and c.is_rational for c in parts):
            continue
        last = int(upper.rational) if isinstance(upper, Number) else int(lower.rational) + 50
        for j in range(int(lower.rational), min(last, int(lower.rational) + 50) + 1):
            if substitute(bottom, {k: number(j)}) is ZERO:
                raise DomainError(f"the term has no value at {k} = {j}, where {bottom} is zero")


# --- finite sums --------------------------------------------------------------------------------------------------------------


def _finite(term: Expression, k: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    if isinstance(lower, Number) and isinstance(upper, Number):
        if not (lower.is_whole and upper.is_whole):
            raise DomainError(f"a sum runs over whole numbers, not from {lower} to {upper}")
        if upper.rational - lower.rational < MOST_WRITTEN_OUT:
            listed = range(int(lower.rational), int(upper.rational) + 1)
            return Found(total([substitute(term, {k: number(j)}) for j in listed]), (), "written out")
    if not contains(term, k):
        return Found(factored(term * (upper - lower + 1)), (), "a constant term")
    whole = _telescoped(term, k, lower, upper, facts)
    if whole is not None:
        return whole
    waves = _wave(term, k, lower, upper, facts)
    if waves is not None:
        return waves
    pieces = terms_of(expand(term))
    if len(pieces) > 1:
        parts = [_finite(p, k, lower, upper, facts) for p in pieces]
        if None not in parts:
            return _joined([p for p in parts if p is not None])
    return _by_recurrence(term, k, lower, upper, facts)


def _telescoped(term: Expression, k: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    try:
        found = antidifference(term, k, facts)
    except DomainError:
        return None
    if found is None:
        return None
    ends = []
    for place in (upper + 1, lower):
        try:
            ends.append(_at(found.factor, term, k, place))
        except DomainError:
            return None
    difference = ends[0] - ends[1]
    value = factored(difference) if not _has_factorials(term) else difference
    conditions = tuple(nonzero(p) for p in found.nonzero if names(p) and not contains(p, k))
    return Found(value, conditions, "difference of an antidifference, which Gosper's algorithm finds")


def _at(factor: Expression, term: Expression, k: Name, place: Expression) -> Expression:
    return substitute(factor * term, {k: place})


def _has_factorials(term: Expression) -> bool:
    return any(isinstance(n, Call) and n.name in ("factorial", "binomial", "gamma") for n in postorder(term))


def _wave(term: Expression, k: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """sin(a*k + b) and cos(a*k + b), from the difference of two shifted waves."""
    outer = [f for f in (term.factors if isinstance(term, Product) else (term,)) if not contains(f, k)]
    inner = [f for f in (term.factors if isinstance(term, Product) else (term,)) if contains(f, k)]
    if len(inner) != 1 or not isinstance(inner[0], Call) or inner[0].name not in ("sin", "cos"):
        return None
    parts = uni.linear_parts(inner[0].arguments[0], k)
    if parts is None:
        return None
    a, b = parts
    count, middle = factored(upper - lower + 1), factored(a * (lower + upper) / 2 + b)
    scale = multiply_all([*outer, number(term.coefficient)] if isinstance(term, Product) else outer)
    value = scale * call("sin", factored(a * count / 2)) * call(inner[0].name, middle) / call("sin", a / 2)
    return Found(value, facts.open_conditions([nonzero(call("sin", a / 2))]), "the difference of two shifted waves")


def _by_recurrence(term: Expression, k: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """Sums such as that of binomial(n, k): a recurrence in the upper end, its product, and checks at whole numbers."""
    if not (isinstance(lower, Number) and lower.is_whole):
        return None
    letters = names(upper)
    if len(letters) != 1 or uni.linear_parts(upper, letters[0]) is None:
        return None
    n = letters[0]
    try:
        ratio = step_ratio(term, k, n, facts)
        if ratio is None:
            return None
        for start in (0, 1, 2):
            first = _exact(term, k, lower, upper, n, start)
            if first is None or first is ZERO:
                continue
            value = product_of_ratio(ratio, n, start)
            if value is None:
                return None
            value = first * value
            for j in range(start, start + 7):
                exact = _exact(term, k, lower, upper, n, j)
                if exact is None or factored(expand(exact - substitute(value, {n: number(j)}))) is not ZERO:
                    return None
            return Found(value, (), "a recurrence in the upper end (creative telescoping), held against seven exact sums")
    except DomainError:
        return None
    return None


def _exact(term: Expression, k: Name, lower: Number, upper: Expression, n: Name, j: int) -> Expression | None:
    last = substitute(upper, {n: number(j)})
    if not (isinstance(last, Number) and last.is_whole):
        return None
    at = substitute(term, {n: number(j)})
    return total([substitute(at, {k: number(i)}) for i in range(int(lower.rational), int(last.rational) + 1)])


# --- infinite sums ------------------------------------------------------------------------------------------------------------


def _infinite(term: Expression, k: Name, lower: Expression, facts: Facts) -> Found | None:
    checkpoint()
    if not contains(term, k):
        return _of_constants(term, facts)
    diverges = _divergent(term, k, facts) or _alternates(term, k, facts)
    if diverges is not None:
        return diverges
    found = _telescoped_to_infinity(term, k, lower, facts)
    if found is not None:
        return found
    if not (isinstance(lower, Number) and lower.is_whole):
        return None
    for method in (_exponential_series, _powers_over_polynomial, _binomial_series, _halved_factorials, _wave_series):
        found = method(term, k, int(lower.rational), facts)
        if found is not None:
            return found
    pieces = terms_of(expand(term))
    if len(pieces) > 1:
        parts = [_infinite(p, k, lower, facts) for p in pieces]
        good = [p for p in parts if p is not None]
        if len(good) == len(parts) and not any(isinstance(p.value, Bound) for p in good):
            return _joined(good)
    return None


def _of_constants(term: Expression, facts: Facts) -> Found | None:
    """The same term for ever: nothing, or a sign that decides."""
    if is_zero(term, facts):
        return Found(ZERO, (), "every term is zero")
    for one, end in ((term, INFINITE), (-term, MINUS_INFINITE)):
        if facts.is_nonnegative(one):
            return Found(end, facts.open_conditions([nonzero(term)]), "a constant term")
    return None


def _divergent(term: Expression, k: Name, facts: Facts) -> Found | None:
    """Comparison with powers and logarithms (the integral test), or a term that does not vanish."""
    try:
        lead = growth.leading(term, k, facts)
    except (growth.Unclear, DomainError):
        return None
    if lead.bounded or lead.coefficient is ZERO:
        return None
    sign = 1 if facts.is_positive(lead.coefficient) else -1 if facts.is_negative(lead.coefficient) else 0
    rates = [r for r in reversed(lead.rate) if r is not ZERO]
    grows = bool(rates) and facts.is_positive(rates[0])
    slow = not rates and (lead.power > -1 or (lead.power == -1 and lead.logs >= -1))
    if not sign or not (grows or slow):
        return None
    return Found(INFINITE if sign > 0 else MINUS_INFINITE, (), "comparison of the term with powers of its index (integral test)")


def _alternates(term: Expression, k: Name, facts: Facts) -> Found | None:
    """R(k)*r^k with a negative r of size one or more, whose terms do not vanish."""
    split = _coefficient_and_rate(term, k)
    if split is None or not facts.is_nonnegative(-1 - split[1]):
        return None
    size = limit_at_infinity(split[0], k, facts)
    if split[1] is number(-1) and (size is None or size is ZERO):
        return None
    return Found(UNDEFINED, (), "the terms do not vanish and change their sign")


def _telescoped_to_infinity(term: Expression, k: Name, lower: Expression, facts: Facts) -> Found | None:
    try:
        found = antidifference(term, k, facts)
        if found is None:
            return None
        first = _at(found.factor, term, k, lower)
        whole = found.factor * term
    except DomainError:
        return None
    conditions: tuple[Condition, ...] = ()
    end = limit_at_infinity(whole, k, facts)
    if end is None or isinstance(end, Bound):
        ratio = _geometric_rate(term, k)
        if ratio is None:
            return None
        inside = relation("<", call("abs", ratio), ONE)
        state = facts.holds(inside)
        if state is False:
            return None
        conditions, end = (() if state else (inside,)), ZERO
    known = tuple(nonzero(p) for p in found.nonzero if names(p) and not contains(p, k))
    under = facts.with_facts(conditions)
    value = factored(end - first) if not _has_factorials(term) else end - first
    needed = tuple(c for c in under.open_conditions(known) if not _follows(c, under))
    return Found(value, (*conditions, *needed), "limit of an antidifference, which Gosper's algorithm finds")


def _follows(condition: Condition, facts: Facts) -> bool:
    """r != 1 follows from abs(r) < 1."""
    left, right = getattr(condition, "left", None), getattr(condition, "right", None)
    if getattr(condition, "operator", "") != "!=" or left is None or right is None:
        return False
    for one, other in ((left, right), (right, left)):
        if isinstance(other, Number) and other.is_rational and abs(other.rational) >= 1:
            if facts.holds(relation("<", call("abs", one), ONE)):
                return True
    return False


def _geometric_rate(term: Expression, k: Name) -> Expression | None:
    """r where the term is a rational function of k times r^k."""
    rates: list[Expression] = []
    for f in term.factors if isinstance(term, Product) else (term,):
        if not contains(f, k):
            continue
        base, exponent = (f.base, f.exponent) if isinstance(f, Power) else (f, ONE)
        if contains(exponent, k):
            parts = uni.linear_parts(exponent, k)
            if parts is None or contains(base, k):
                return None
            rates.append(power(base, parts[0]))
        elif isinstance(base, Call) and base.name == "exp":
            parts = uni.linear_parts(base.arguments[0], k)
            if parts is None:
                return None
            rates.append(call("exp", parts[0] * exponent))
        elif any(isinstance(n, Call) for n in postorder(base)):
            return None
    return multiply_all(rates) if rates else None


def _coefficient_and_rate(term: Expression, k: Name) -> tuple[Expression, Expression] | None:
    """(R(k), z) with term = R(k)*z^k and a rational R."""
    rate = _geometric_rate(term, k)
    z = ONE if rate is None else rate
    rest = factored(term / power(z, k)) if z is not ONE else term
    if any(isinstance(n, (Call,)) and contains(n, k) for n in postorder(rest)):
        return None
    if any(isinstance(n, Power) and contains(n.exponent, k) for n in postorder(rest)):
        return None
    return rest, z


def _exponential_series(term: Expression, k: Name, lower: int, facts: Facts) -> Found | None:
    """P(k)*z^k/k!: exp(z) times a polynomial, by falling factorials."""
    bare = factored(term * call("factorial", k)) if _has_factorials(term) else None
    if bare is None or _has_factorials(bare):
        return None
    split = _coefficient_and_rate(bare, k)
    if split is None:
        return None
    top, z = split
    coefficients = uni.coefficients_of(top, k)
    if coefficients is None:
        return None
    pieces: list[Expression] = []
    rest = list(coefficients)
    j = 0
    while rest:  # divide by k, k - 1, … in turn: the remainders are the coefficients of the falling factorials
        quotient, remainder = uni.divide(rest, [number(-j), ONE]) if len(rest) > 1 else ([], rest)
        pieces.append((remainder[0] if remainder else ZERO) * power(z, number(j)))
        rest = quotient
        j += 1
    value = call("exp", z) * factored(total(pieces))
    early = [substitute(term, {k: number(i)}) for i in range(min(lower, 0), lower)]
    if lower < 0:
        return None
    return Found(value - total(early), (), "the exponential series")


def _powers_over_polynomial(term: Expression, k: Name, lower: int, facts: Facts) -> Found | None:
    """R(k)*z^k with a rational R: zeta, eta and polylog values, digamma for the simple poles, coth for k^2 + a^2."""
    split = _coefficient_and_rate(term, k)
    if split is None:
        return None
    top, z = split
    try:
        pieces = terms_of(partial_fractions(factored(top), k))
    except DomainError:
        return None
    values: list[Expression] = []
    simple: list[tuple[Expression, Expression]] = []
    for piece in pieces:
        scale = multiply_all(
            [f for f in (piece.factors if isinstance(piece, Product) else (piece,)) if not contains(f, k)]
            + ([number(piece.coefficient)] if isinstance(piece, Product) else [])
        )
        core = [f for f in (piece.factors if isinstance(piece, Product) else (piece,)) if contains(f, k)]
        if len(core) != 1 or not isinstance(core[0], Power) or not isinstance(core[0].exponent, Number):
            return None
        base, m = core[0].base, -core[0].exponent.rational
        parts = uni.coefficients_of(base, k)
        if parts is None or m.denominator != 1 or m < 1:
            return None
        if len(parts) == 2:
            shift = uni.normal(parts[0] / parts[1])
            weight = scale / power(parts[1], number(m))
            if z is ONE and m == 1:
                simple.append((weight, shift))
                continue
            value = _one_pole(shift, int(m), z, k, lower, facts)
        elif len(parts) == 3 and parts[1] is ZERO and m == 1 and z is ONE:
            value = _square_pole(parts, lower, k, facts)
            weight = scale
        else:
            return None
        if value is None:
            return None
        values.append(weight * value)
    if simple:
        if factored(total([w for w, _ in simple])) is not ZERO:
            return None
        values += [-w * call("digamma", s + lower) for w, s in simple]
    conditions: tuple[Condition, ...] = ()
    if z not in (ONE, number(-1)):
        conditions = facts.open_conditions([relation("<", call("abs", z), ONE)])
    return Found(total(values), conditions, "partial fractions; values of zeta and its relatives")


def _one_pole(shift: Expression, m: int, z: Expression, k: Name, lower: int, facts: Facts) -> Expression | None:
    """The sum of z^k/(k + shift)^m from `lower` on."""
    if not (isinstance(shift, Number) and shift.is_rational):
        return None
    q = shift.rational
    exponent = number(m)
    if q.denominator == 1:
        first = lower + int(q)  # the sum over j = k + shift from here
        if first < 1:
            return None
        whole = _from_one(m, z)
        early = total([power(z, number(j)) / power(number(j), exponent) for j in range(1, first)])
        return (whole - early) / power(z, number(q))
    if q.denominator == 2 and z in (ONE, number(-1)):
        first = int(lower + q - mpq(1, 2))  # the sum over j + 1/2 from here
        if first < 0:
            return None
        if z is ONE:
            whole = (power(number(2), exponent) - 1) * call("zeta", exponent)
            sign = ONE
        else:
            known = _alternating_odd(m)
            if known is None:
                return None
            whole, sign = known, power(number(-1), number(lower - first))
        early = total([power(z, number(j)) / power(number(j + mpq(1, 2)), exponent) for j in range(first)])
        return sign * (whole - early)
    return None


def _from_one(m: int, z: Expression) -> Expression:
    """The sum of z^j/j^m for j from 1."""
    if z is ONE:
        return call("zeta", number(m))
    if m == 1:
        return -call("ln", 1 - z)
    if z is number(-1):
        return (power(number(2), number(1 - m)) - 1) * call("zeta", number(m))
    return call("polylog", number(m), z)


def _alternating_odd(m: int) -> Expression | None:
    """The sum of (-1)^j/(j + 1/2)^m for j from 0."""
    known = {1: PI / 4, 2: constant("catalan"), 3: power(PI, number(3)) / 32}
    return None if m not in known else known[m] * number(2**m)


def _square_pole(parts: list[Expression], lower: int, k: Name, facts: Facts) -> Expression | None:
    """The sum of 1/(p*k^2 + r) from `lower` on."""
    ratio = uni.normal(parts[0] / parts[2])
    if facts.is_positive(ratio):
        a = power(ratio, number(mpq(1, 2)))
        whole = PI * call("coth", PI * a) / (2 * a) - 1 / (2 * ratio)
    elif facts.is_negative(ratio):
        a = power(-ratio, number(mpq(1, 2)))
        whole = -1 / (2 * ratio) - PI * call("cot", PI * a) / (2 * a)
    else:
        return None
    if lower > 1:
        whole = whole - total([1 / (number(j * j) + ratio) for j in range(1, lower)])
    elif lower < 1:
        whole = whole + total([1 / (number(j * j) + ratio) for j in range(lower, 1)])
    return whole / parts[2]


def _binomial_series(term: Expression, k: Name, lower: int, facts: Facts) -> Found | None:
    """binomial(a, k)*z^k and its like: the sum is (1 + z)^a."""
    ratio = term_ratio(term, k)
    if ratio is None or lower != 0:
        return None
    top, bottom = (uni.coefficients_of(p, k) for p in _parts(ratio))
    if top is None or bottom is None or len(top) != 2 or len(bottom) != 2:
        return None
    if uni.normal(bottom[0] - bottom[1]) is not ZERO:
        return None
    z, a = uni.normal(top[1] / bottom[1]), uni.normal(top[0] / top[1])
    start = substitute(term, {k: ZERO})
    if start is ZERO:
        return None
    conditions = facts.open_conditions([relation("<", call("abs", z), ONE)])
    return Found(start * power(1 - z, -a), conditions, "the binomial series")


def _parts(ratio: Expression) -> tuple[Expression, Expression]:
    return quotient_parts(ratio)


def _halved_factorials(term: Expression, k: Name, lower: int, facts: Facts) -> Found | None:
    """z^k/(2k)! and z^k/(2k + 1)!: cosh and sinh of sqrt(z), cos and sin for a negative z."""
    ratio = term_ratio(term, k)
    if ratio is None or lower != 0:
        return None
    top, bottom = (uni.coefficients_of(p, k) for p in _parts(ratio))
    if top is None or bottom is None or len(top) != 1 or len(bottom) != 3:
        return None
    z = uni.normal(4 * top[0] / bottom[2])
    shape = [uni.normal(4 * c / bottom[2]) for c in bottom[:2]]
    start = substitute(term, {k: ZERO})
    negative = facts.is_negative(z)
    root = power(-z if negative else z, number(mpq(1, 2)))
    if shape == [number(2), number(6)]:
        value = call("cos" if negative else "cosh", root)
    elif shape == [number(6), number(10)]:
        value = call("sin" if negative else "sinh", root) / root
    else:
        return None
    return Found(start * value, (), "the series of the cosine or the sine")


def _wave_series(term: Expression, k: Name, lower: int, facts: Facts) -> Found | None:
    """cos(k*x)/k^2 and sin(k*x)/k for 0 <= x <= 2*pi: Bernoulli polynomials (J. Fourier, 1822)."""
    factors = [f for f in (term.factors if isinstance(term, Product) else (term,)) if contains(f, k)]
    waves = [f for f in factors if isinstance(f, Call) and f.name in ("sin", "cos")]
    powers = [f for f in factors if isinstance(f, Power) and f.base is k and isinstance(f.exponent, Number)]
    if lower != 1 or len(waves) != 1 or len(powers) != 1 or len(factors) != 2:
        return None
    x = waves[0].arguments[0] / k
    m = -powers[0].exponent.rational
    known = {
        ("sin", 1): lambda: (PI - x) / 2,
        ("cos", 2): lambda: PI**2 / 6 - PI * x / 2 + x**2 / 4,
        ("sin", 3): lambda: PI**2 * x / 6 - PI * x**2 / 4 + x**3 / 12,
        ("cos", 4): lambda: PI**4 / 90 - PI**2 * x**2 / 12 + PI * x**3 / 12 - x**4 / 48,
    }
    make = known.get((waves[0].name, int(m)))
    if contains(x, k) or make is None:
        return None
    strict = waves[0].name == "sin" and m == 1
    word = "<" if strict else "<="
    conditions = facts.open_conditions([relation(word, ZERO, x), relation(word, x, 2 * PI)])
    outer = factored(term / multiply_all(factors))
    return Found(outer * make(), conditions, "a Fourier series of a polynomial")
