"""How formulas grow as a variable goes to infinity: the leading term c * exp(P(x)) * x^k * ln(x)^j.

Method: orders of growth of exponential-logarithmic terms (G. H. Hardy, "Orders of Infinity", 1910); where the leading
terms of a sum cancel, the question is handed back as undecided.
"""

from __future__ import annotations

from typing import NamedTuple

from gmpy2 import mpq

from gelvo.calculus.real_far_out import is_real_far_out
from gelvo.deciding.equality import is_zero
from gelvo.deciding.suppositions import attempt, may_suppose_nonzero
from gelvo.errors import DomainError
from gelvo.expression.building import bound, call, multiply_all, number, power, scale, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Call, Expression, Name, Node, Number, Power, Product, Sum
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.facts.continuity import has_no_break_at, may_meet_cut
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import (
    ABS,
    BESSELJ,
    BESSELY,
    CEIL,
    COS,
    COSH,
    EXP,
    FLOOR,
    LN,
    SIN,
    SINH,
    SPHERICALJ,
    SPHERICALY,
    FunctionName,
)
from gelvo.roads import on_the_way
from gelvo.simplifying.families.logarithms import logarithm_forms
from gelvo.simplifying.search import shorter


class Growth(NamedTuple):
    """coefficient * exp(rate) * x^power * ln(x)^logs; `rate` holds the coefficients of a polynomial without constant.

    bounded: something that oscillates within bounds stands in the place of the coefficient, so that this only bounds the size.
    """

    coefficient: Expression
    rate: tuple[Expression, ...]
    power: mpq
    logs: mpq
    exact: bool
    bounded: bool = False


class Unclear(Exception):
    """The leading behaviour could not be told."""


DIES_AWAY = Growth(ZERO, (), mpq(0), mpq(0), False)  # at a rate that is not known


def constant_growth(value: Expression) -> Growth:
    return Growth(value, (), mpq(0), mpq(0), True)


@on_the_way("orders of growth")
def limit_at_infinity(expression: Expression, x: Name, facts: Facts) -> Expression | None:
    """The limit as x grows without bound: an expression, inf, -inf, or None where it is not decided."""
    facts = facts.with_facts([x > ZERO])
    for form in _forms(expression, facts):
        end = _end_of(form, x, facts)
        if end is not None:
            return end
    return None


@attempt
def _end_of(form: Expression, x: Name, facts: Facts) -> Expression | None:
    try:
        return _limit_of(leading(form, x, facts), facts)
    except (Unclear, DomainError):
        return None


def _forms(expression: Expression, facts: Facts) -> list[Expression]:
    found = [expression, expand(expression)]
    for make in (factored, lambda e: next(iter(logarithm_forms(e, facts, shorter)))[1]):
        try:
            found.append(make(expression))
        except DomainError:
            continue
    return list(dict.fromkeys(found))


def _limit_of(growth: Growth, facts: Facts) -> Expression:
    size = _size(growth, facts)
    if size < 0:
        return ZERO
    if growth.bounded:
        raise Unclear
    if size == 0:
        return growth.coefficient
    if facts.is_positive(growth.coefficient):
        return bound("inf")
    if facts.is_negative(growth.coefficient):
        return bound("-inf")
    raise Unclear


def _size(growth: Growth, facts: Facts) -> int:
    """1 where it grows without bound, -1 where it dies away, 0 where it stays."""
    if growth.coefficient is ZERO:
        return -1
    for rate in reversed(growth.rate):
        if rate is ZERO:
            continue
        if facts.is_positive(rate):
            return 1
        if facts.is_negative(rate):
            return -1
        raise Unclear
    for exponent in (growth.power, growth.logs):
        if exponent:
            return 1 if exponent > 0 else -1
    return 0


def _ratio(a: Growth, b: Growth) -> Growth:
    length = max(len(a.rate), len(b.rate))
    pad = [ZERO] * length
    rate = tuple(uni.lowest_terms((list(a.rate) + pad)[i] - (list(b.rate) + pad)[i]) for i in range(length))
    return Growth(ONE, rate, a.power - b.power, a.logs - b.logs, True)


def leading(root: Expression, x: Name, facts: Facts) -> Growth:
    """The leading term of a formula at infinity."""
    done: dict[Node, Growth] = {}
    for node in postorder(root):
        if not isinstance(node, Expression):
            raise Unclear
        if not contains(node, x):
            done[node] = constant_growth(node)
        elif node is x:
            done[node] = Growth(ONE, (), mpq(1), mpq(0), True)
        else:
            done[node] = _one(node, x, facts, done)
    return done[root]


def _one(node: Expression, x: Name, facts: Facts, done: dict[Node, Growth]) -> Growth:
    if isinstance(node, Sum):
        terms = [_times(done[t], constant_growth(number(c))) for t, c in node.items()]
        if node.constant:
            terms.append(constant_growth(number(node.constant)))
        return _sum(terms, facts)
    if isinstance(node, Product):
        result = constant_growth(number(node.coefficient))
        for factor in node.factors:
            result = _times(result, done[factor])
        return result
    if isinstance(node, Power):
        return _power(node, x, facts, done)
    if isinstance(node, Call):
        return _call(node, x, facts, done)
    raise Unclear


def _times(a: Growth, b: Growth) -> Growth:
    for one, other in ((a, b), (b, a)):
        if one.coefficient is ZERO and not one.exact and (other.rate or other.power > 0 or other.logs > 0):
            raise Unclear  # something that dies away at an unknown rate, times something that may grow
    length = max(len(a.rate), len(b.rate))
    pad = [ZERO] * length
    rate = tuple((list(a.rate) + pad)[i] + (list(b.rate) + pad)[i] for i in range(length))
    return Growth(
        multiply_all((a.coefficient, b.coefficient)),
        rate,
        a.power + b.power,
        a.logs + b.logs,
        a.exact and b.exact,
        a.bounded or b.bounded,
    )


def _sum(terms: list[Growth], facts: Facts) -> Growth:
    exact = all(t.exact for t in terms)
    vanishing = any(t.coefficient is ZERO and not t.exact for t in terms)
    terms = [t for t in terms if t.coefficient is not ZERO]
    best = _fastest(terms, facts)
    if not best:
        return constant_growth(ZERO)._replace(exact=exact)
    if vanishing and _size(best[0], facts) < 0:
        raise Unclear  # beside what dies away at an unknown rate
    if any(t.bounded for t in best):  # waves may add up or cancel: only their order is known
        return best[0]._replace(coefficient=ONE, exact=False, bounded=True)
    coefficient = total([t.coefficient for t in best])
    whole = exact and len(best) == len(terms)
    if len(best) > 1:
        zero = is_zero(coefficient, facts)
        if zero is None or (zero and not whole):
            raise Unclear
        if zero:
            return constant_growth(ZERO)
    return best[0]._replace(coefficient=coefficient, exact=whole, bounded=False)


def _fastest(terms: list[Growth], facts: Facts) -> list[Growth]:
    """The terms that no other one outgrows."""
    best: list[Growth] = []
    for term in terms:
        order = _size(_ratio(term, best[0]), facts) if best else 1
        best = [term] if order > 0 else [*best, term] if order == 0 else best
    return best


def _power(node: Power, x: Name, facts: Facts, done: dict[Node, Growth]) -> Growth:
    base, exponent = done[node.base], node.exponent
    if isinstance(exponent, Number) and exponent.is_rational:
        q = exponent.rational
        if (base.bounded and q < 0) or base.coefficient is ZERO:
            raise Unclear
        if q < 0 and not may_suppose_nonzero(base.coefficient, facts):
            raise Unclear  # the leading term vanishes for some letters, and leads no more
        if q.denominator != 1 and not facts.is_positive(base.coefficient):
            raise Unclear
        coefficient = power(base.coefficient, exponent)
        rate = tuple(scale(r, q) for r in base.rate)
        return Growth(coefficient, rate, base.power * q, base.logs * q, base.exact and q.denominator == 1, base.bounded)
    if facts.is_positive(node.base) or facts.is_positive(base.coefficient):
        return _exponential(exponent * LN(node.base), x, facts)
    raise Unclear


def _exponential(argument: Expression, x: Name, facts: Facts) -> Growth:
    parts = uni.coefficients_of(expand(argument), x)
    if parts is not None and len(parts) > 1:
        return Growth(EXP(parts[0]), tuple(parts[1:]), mpq(0), mpq(0), True)
    inner = leading(argument, x, facts)
    if _size(inner, facts) < 0 and not inner.bounded:
        return Growth(ONE, (), mpq(0), mpq(0), False)
    if _size(inner, facts) == 0 and not inner.bounded:
        return Growth(EXP(inner.coefficient), (), mpq(0), mpq(0), False)
    raise Unclear


def _call(node: Call, x: Name, facts: Facts, done: dict[Node, Growth]) -> Growth:
    name = node.name
    if name == EXP:
        return _exponential(node.arguments[0], x, facts)
    if name in _WAVES_THAT_FALL:
        return _falling_wave(node, x, facts, done)
    if len(node.arguments) != 1:
        raise Unclear
    if may_meet_cut(node, facts):
        raise Unclear  # which side of the cut it comes from is not looked at
    return _of_one_argument(node, done[node.arguments[0]], x, facts, done)


def _of_one_argument(node: Call, inner: Growth, x: Name, facts: Facts, done: dict[Node, Growth]) -> Growth:
    name, size = node.name, _size(inner, facts)
    if name == LN:
        return _logarithm(inner, size, facts)
    if not is_real_far_out(node.arguments[0], x, facts, lambda u: u in done and facts.is_positive(done[u].coefficient)):
        raise Unclear  # neither bounded waves nor values at infinity are those of complex arguments
    if name == ABS and not inner.bounded:
        return inner._replace(coefficient=ABS(inner.coefficient))
    if name in (FLOOR, CEIL) and size > 0 and not inner.bounded:
        return inner._replace(exact=False)  # less than one away
    if name in (SIN, COS) and (size > 0 or inner.bounded):
        return Growth(ONE, (), mpq(0), mpq(0), False, bounded=True)
    if size > 0 and not inner.bounded and node.function.at_infinity is not None:
        return _value_at_infinity(node, inner, facts)
    if name in (SINH, COSH):
        assert node.function.as_elementary is not None
        return leading(expand(node.function.as_elementary(node.arguments[0])), x, facts)
    return _near_a_value(node, inner, size, x, facts)


# the power of the argument by which they fall off, swinging (DLMF 10.7.8, 10.49)
_WAVES_THAT_FALL = {BESSELJ: mpq(-1, 2), BESSELY: mpq(-1, 2), SPHERICALJ: mpq(-1), SPHERICALY: mpq(-1)}


def _falling_wave(node: Call, x: Name, facts: Facts, done: dict[Node, Growth]) -> Growth:
    order, u = node.arguments
    inner = done[u]
    if contains(order, x) or inner.bounded or _size(inner, facts) <= 0 or not facts.is_positive(inner.coefficient):
        raise Unclear
    q = _WAVES_THAT_FALL[FunctionName(node.name)]
    return Growth(ONE, tuple(scale(r, q) for r in inner.rate), inner.power * q, inner.logs * q, False, bounded=True)


def _value_at_infinity(node: Call, inner: Growth, facts: Facts) -> Growth:
    ends = node.function.at_infinity
    assert ends is not None
    up = facts.is_positive(inner.coefficient)
    if not up and not facts.is_negative(inner.coefficient):
        raise Unclear
    end = ends[0 if up else 1]()
    return DIES_AWAY if end is ZERO else _nonzero(end)


def _near_a_value(node: Call, inner: Growth, size: int, x: Name, facts: Facts) -> Growth:
    """A function of what goes to a number: zero, or another one."""
    dies = inner.coefficient is ZERO and not inner.exact
    slope = _slope_at_zero(node.name, x, facts) if dies or size < 0 else None
    if dies and slope is not None:
        return DIES_AWAY
    if inner.bounded or size > 0:
        raise Unclear
    if size < 0 and slope is not None:
        return inner._replace(coefficient=inner.coefficient * slope, exact=False)
    place = ZERO if size < 0 else inner.coefficient
    _refuse_break(node.name, place, x, facts)
    return _nonzero(call(node.name, place))


def _slope_at_zero(name: str, x: Name, facts: Facts) -> Expression | None:
    """The slope of a function that vanishes at 0 and is smooth there: it goes to zero as its argument does."""
    try:
        if call(name, ZERO) is not ZERO or not has_no_break_at(call(name, x), x, ZERO, facts):
            return None
        slope = substitute(differentiate(call(name, x), x), {x: ZERO})
    except (DomainError, ZeroDivisionError):
        return None
    return None if names(slope) or is_zero(slope) is not False else slope


def _refuse_break(name: str, place: Expression, x: Name, facts: Facts) -> None:
    """A function is followed to its value only where it is continuous."""
    if not has_no_break_at(call(name, x), x, place, facts):
        raise Unclear


def _nonzero(value: Expression) -> Growth:
    """A finite limit; zero would hide how fast it is approached."""
    if value is ZERO:
        raise Unclear
    return Growth(value, (), mpq(0), mpq(0), False)


def _logarithm(inner: Growth, size: int, facts: Facts) -> Growth:
    if inner.bounded or not facts.is_positive(inner.coefficient):
        raise Unclear
    if size == 0:
        value = LN(inner.coefficient)
        if is_zero(value, facts) is not False:
            # it dies away; how fast is known only where the argument is exactly constant
            return DIES_AWAY._replace(exact=inner.exact)
        return Growth(value, (), mpq(0), mpq(0), False)
    for degree in range(len(inner.rate), 0, -1):
        if inner.rate[degree - 1] is not ZERO:
            return Growth(inner.rate[degree - 1], (), mpq(degree), mpq(0), False)
    if inner.power:
        return Growth(number(inner.power), (), mpq(0), mpq(1), False)
    raise Unclear
