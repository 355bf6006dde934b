"""What a formula does as x grows without bound, from the inside out: a limit with a bound on the rest, or how fast it grows.

Sizes are compared by G. Hardy, "Orders of Infinity" (1910): exponentials before powers of x before powers of ln(x). What is not
known of a part is not known of the whole: leading terms that may cancel, and exponentials whose rates are not compared, end it.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from gmpy2 import mpq

from gelvo.deciding.equality import decide_zero
from gelvo.errors import DomainError
from gelvo.expression.building import bound, call, constant, number, power, total
from gelvo.expression.constants import IMAGINARY, ONE, ZERO
from gelvo.expression.nodes import Call, Expression, Name, Node, Number, Power, Product, Sum
from gelvo.expression.traversal import contains, has_call, postorder, substitute, transform
from gelvo.facts.continuity import has_no_break_at
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import factored
from gelvo.functions.named import (
    AIRYAI,
    AIRYAI_PRIME,
    ATAN,
    BESSELJ,
    BESSELK,
    BESSELY,
    CEIL,
    CI,
    COS,
    COSH,
    COT,
    COTH,
    CSC,
    CSCH,
    EI,
    ERF,
    ERFC,
    EXP,
    FLOOR,
    GAMMA_INC,
    LN,
    SEC,
    SECH,
    SI,
    SIN,
    SINH,
    TAN,
    TANH,
    is_a,
)
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.numbers.exact import rational


class Order(NamedTuple):
    """The size of exp(± a power of x)*x^power*ln(x)^logarithms, compared as a tuple."""

    exponentials: int
    power: mpq
    logarithms: mpq

    def times(self, other: Order) -> Order | None:
        """The order of a product; None for exponentials in opposite directions."""
        if self.exponentials * other.exponentials < 0:
            return None
        return Order(self.exponentials or other.exponentials, self.power + other.power, self.logarithms + other.logarithms)

    def to(self, k: mpq) -> Order:
        sign = (k > 0) - (k < 0)
        return Order(self.exponentials * sign, self.power * k, self.logarithms * k)


def _order(exponentials: int, power: object = 0, logarithms: object = 0) -> Order:
    return Order(exponentials, rational(power), rational(logarithms))


STAYS = _order(0)
NOTHING = _order(-2)  # of what does not depend on x
SLOWLY = _order(0, 0, mpq(-1, 10**9))  # that something goes to zero, and no more


BEYOND_POWERS = _order(0, 10**30)  # x^k with a letter: no number tells its power, and an exponential is larger still
AS_A_POWER = _order(0, mpq(1, 10**6))


class Lead(NamedTuple):
    """A quantity like c times its order; the leading part of ln|quantity| where that is not a power of x or ln(x)."""

    order: Order
    c: Expression
    exponent: Lead | None = None


class Germ(NamedTuple):
    """value + rest: a limit (None where there is none) and the order that bounds what is left; `lead` is like what is left."""

    value: Expression | None
    rest: Order
    lead: Lead | None = None


class Unknown(Exception):
    """What a part does is not told."""


def limit_far_out(F: Expression, x: Name, facts: Facts) -> Expression | None:
    """The limit as x > 0 grows without bound, inf and -inf among them; None where it is not proved.

    >>> from gelvo.expression.building import name
    >>> x = name("x", "positive")
    >>> print(limit_far_out(2 * ATAN(EXP(x)) + x**3 * EXP(-x) * LN(x), x, Facts()))
    pi
    """
    try:
        germ = germ_of(F, x, facts)
    except (Unknown, DomainError, ZeroDivisionError):
        return None
    if germ.value is not None:
        return germ.value
    if germ.lead is None or germ.lead.order <= STAYS:
        return None
    return bound("inf") if facts.is_positive(germ.lead.c) else bound("-inf") if facts.is_negative(germ.lead.c) else None


def germ_of(F: Expression, x: Name, facts: Facts) -> Germ:
    """Of the whole, part by part. Raises Unknown."""
    done: dict[Node, Germ] = {x: Germ(None, _order(0, 1), Lead(_order(0, 1), ONE))}
    for node in postorder(_plainer(F, x)):
        if isinstance(node, Expression) and node is not x:
            done[node] = _one(node, done, x, facts) if contains(node, x) else Germ(node, NOTHING)
    return done[_plainer(F, x)]


def _plainer(F: Expression, x: Name) -> Expression:
    """What has rows of poles, or grows like an exponential, by plainer functions."""

    def visit(node: Node) -> Node:
        return PLAINER[node.name](node.arguments[0]) if is_a(node, *PLAINER) and contains(node, x) else node

    return transform(F, visit) if has_call(F, tuple(PLAINER)) else F


PLAINER: dict[str, Callable[[Expression], Expression]] = {
    SINH: lambda u: (EXP(u) - EXP(-u)) / 2,
    COSH: lambda u: (EXP(u) + EXP(-u)) / 2,
    TAN: lambda u: SIN(u) / COS(u),
    COT: lambda u: COS(u) / SIN(u),
    SEC: lambda u: 1 / COS(u),
    CSC: lambda u: 1 / SIN(u),
}


def _one(node: Expression, done: dict[Node, Germ], x: Name, facts: Facts) -> Germ:
    if isinstance(node, Sum):
        return _sum([*(_scaled(done[t], number(c)) for t, c in node.items()), Germ(number(node.constant), NOTHING)], facts)
    if isinstance(node, Product):
        germ = Germ(number(node.coefficient), NOTHING)
        for factor in node.factors:
            germ = _product(germ, done[factor])
        return germ
    if isinstance(node, Power):
        return _power(node, done, x, facts)
    if isinstance(node, Call):
        return _call(node, done, x, facts)
    raise Unknown


def _scaled(g: Germ, c: Expression) -> Germ:
    lead = None if g.lead is None else g.lead._replace(c=c * g.lead.c)
    return Germ(None if g.value is None else c * g.value, g.rest, lead)


def _sum(parts: list[Germ], facts: Facts) -> Germ:
    rest = max(p.rest for p in parts)
    fastest = [p for p in parts if p.rest == rest]
    lead = None
    if rest > NOTHING and all(p.lead is not None for p in fastest) and (rest.exponentials == 0 or len(fastest) == 1):
        leads = [p.lead for p in fastest if p.lead is not None]
        c = total([one.c for one in leads])
        # beside an exponential others of the same direction may be as large
        rivals = [p for p in parts if rest.exponentials and p.rest.exponentials == rest.exponentials]
        if len(rivals) <= 1 and facts.is_nonzero(c):
            lead = leads[0]._replace(c=c)
    if all(p.value is not None for p in parts):
        return Germ(_value(total([p.value for p in parts if p.value is not None]), facts), rest, lead)
    values = [p.value for p in parts if p.value is not None]
    if rest == STAYS and values:
        lead = None  # what swings, beside a constant
    return Germ(None, max(rest, STAYS), lead)


def _value(v: Expression, facts: Facts) -> Expression:
    return ZERO if decide_zero(v, facts).zero else v


def _product(a: Germ, b: Germ) -> Germ:
    """(v + r)*(w + s), without v and w where there is none."""
    terms: list[tuple[Order, Lead | None]] = []
    for one, other in ((a, b), (b, a)):
        if one.value is not None and one.value is not ZERO and other.rest > NOTHING:
            terms.append((other.rest, None if other.lead is None else other.lead._replace(c=one.value * other.lead.c)))
    if a.rest > NOTHING and b.rest > NOTHING:
        order = a.rest.times(b.rest)
        if order is None:
            raise Unknown
        both = a.lead is not None and b.lead is not None and not (a.rest.exponentials and b.rest.exponentials)
        lead = None
        if both and a.lead is not None and b.lead is not None:
            lead = Lead(order, a.lead.c * b.lead.c, a.lead.exponent or b.lead.exponent)
        terms.append((order, lead))
    rest = max((t[0] for t in terms), default=NOTHING)
    fastest = [t for t in terms if t[0] == rest]
    lead = fastest[0][1] if len(fastest) == 1 and (not rest.exponentials or len(terms) == 1) else None
    if a.value is not None and b.value is not None:
        return Germ(a.value * b.value, rest, lead)
    return _without_limit(rest, lead)


def _power(node: Power, done: dict[Node, Germ], x: Name, facts: Facts) -> Germ:
    base, k = node.base, node.exponent
    inner = done[base]
    if contains(k, x):
        if isinstance(base, Number) and base.value == -1 and facts.is_integer(k):
            return Germ(None, STAYS)  # it changes its sign
        raise Unknown
    if inner.value is not None and inner.value is not ZERO and not decide_zero(inner.value, facts).zero:
        whole = isinstance(k, Number) and k.is_whole
        if not (facts.is_positive(inner.value) or (whole and facts.is_nonzero(inner.value))):
            raise Unknown
        return _smooth(inner, power(inner.value, k), k * power(inner.value, k - 1), facts)
    if not isinstance(k, Number) or not k.is_rational:
        return _power_of_letter(inner, k, facts)
    exponent = mpq(k.rational)
    if inner.lead is None:
        if exponent < 0:
            raise Unknown
        order = inner.rest.to(exponent)
        return Germ(ZERO if order < STAYS else None, order)
    if not (facts.is_positive(inner.lead.c) or k.is_whole):
        raise Unknown
    order = inner.lead.order.to(exponent)
    under = inner.lead.exponent
    return _without_limit(order, Lead(order, power(inner.lead.c, k), None if under is None else under._replace(c=under.c * k)))


def _without_limit(order: Order, lead: Lead | None) -> Germ:
    """Of a quantity itself: zero where its order is small, c where it is like a constant c."""
    if order == STAYS and lead is not None:
        return Germ(lead.c, SLOWLY)
    return Germ(ZERO if order < STAYS else None, order, lead)


def _power_of_letter(inner: Germ, k: Expression, facts: Facts) -> Germ:
    """x^k with a letter: that it goes to zero, or is smaller than any exponential."""
    if inner.lead is None or not facts.is_positive(inner.lead.c) or inner.lead.order == STAYS:
        raise Unknown
    grows = inner.lead.order > STAYS
    if (grows and facts.is_negative(k)) or (not grows and facts.is_positive(k)):
        return Germ(ZERO, SLOWLY)
    if inner.lead.order.exponentials or not facts.is_real(k):
        raise Unknown
    return Germ(None, BEYOND_POWERS)


def _smooth(inner: Germ, value: Expression, slope: Expression, facts: Facts) -> Germ:
    """What is smooth at the limit of its argument."""
    lead = None
    if inner.lead is not None and facts.is_nonzero(slope):
        lead = inner.lead._replace(c=slope * inner.lead.c)
    return Germ(_value(value, facts), inner.rest, lead)


def _call(node: Call, done: dict[Node, Germ], x: Name, facts: Facts) -> Germ:
    *orders, argument = node.arguments
    if any(contains(order, x) for order in orders):
        raise Unknown
    inner = done[argument]
    if inner.value is None:
        growing = GROWING.get(node.name)
        if growing is None:
            raise Unknown
        return growing(node, inner, facts)
    if is_a(node, LN) and (inner.value is ZERO or decide_zero(inner.value, facts).zero):
        return _logarithm(node, inner, facts)
    t = facts.new_name("t", node)
    plain = call(node.name, *orders, t)
    value = substitute(plain, {t: inner.value})
    if has_no_break_at(plain, t, inner.value, facts):
        return _smooth(inner, value, _slope(plain, t, inner.value), facts)
    if has_no_break_at(plain, t, inner.value, facts, kinks=False):
        return Germ(_value(value, facts), SLOWLY)
    raise Unknown


def _slope(plain: Expression, t: Name, place: Expression) -> Expression:
    """Zero also where it is not told, so that nothing is built on it."""
    try:
        return substitute(differentiate(plain, t), {t: place})
    except (DomainError, ZeroDivisionError):
        return ZERO


# --- functions of what grows ------------------------------------------------------------------------------------------------------


def _direction(inner: Germ, facts: Facts) -> int:
    lead = inner.lead
    if lead is None or lead.order <= STAYS:
        return 0
    return 1 if facts.is_positive(lead.c) else -1 if facts.is_negative(lead.c) else 0


def _exponential(node: Call, inner: Germ, facts: Facts) -> Germ:
    lead = inner.lead
    if facts.is_real(factored(node.arguments[0] / IMAGINARY)):
        return Germ(None, STAYS)  # it turns
    if lead is None or lead.order < AS_A_POWER:
        raise Unknown  # exp(ln(x)) would be a power
    rate = real_and_imaginary(lead.c, facts)[0]
    direction = 1 if facts.is_positive(rate) else -1 if facts.is_negative(rate) else 0
    if not direction:
        raise Unknown
    order = _order(direction)
    turns = not facts.is_real(node.arguments[0])
    return Germ(ZERO if direction < 0 else None, order, None if turns else Lead(order, ONE, lead))


def _logarithm(node: Call, inner: Germ, facts: Facts) -> Germ:
    lead = inner.lead
    if lead is None or not facts.is_positive(lead.c):
        raise Unknown
    if lead.exponent is not None:
        return Germ(None, lead.exponent.order, lead.exponent)
    if not lead.order.power or lead.order.exponentials:
        raise Unknown
    order = _order(0, 0, 1)
    return Germ(None, order, Lead(order, number(lead.order.power)))


def _wave(node: Call, inner: Germ, facts: Facts) -> Germ:
    if not facts.is_real(node.arguments[-1]):
        raise Unknown
    return Germ(None, STAYS)


def _stepping(node: Call, inner: Germ, facts: Facts) -> Germ:
    """floor(u) is less than one away from u."""
    if inner.lead is None or inner.lead.order <= STAYS:
        raise Unknown
    return Germ(None, inner.rest, inner.lead)


def _saturating(limit: Callable[[], Expression]) -> Callable[[Call, Germ, Facts], Germ]:
    """An odd function whose rest is at most const/u."""

    def germ(node: Call, inner: Germ, facts: Facts) -> Germ:
        direction = _direction(inner, facts)
        if not direction:
            raise Unknown
        return Germ(direction * limit(), inner.rest.to(mpq(-1)))

    return germ


def _dying(direction: int, rate: mpq, exponential: bool = False) -> Callable[[Call, Germ, Facts], Germ]:
    """What dies in one direction as u^(-rate), or faster than every power."""

    def germ(node: Call, inner: Germ, facts: Facts) -> Germ:
        if _direction(inner, facts) * direction <= 0 and direction:
            raise Unknown
        if not direction and not _direction(inner, facts):
            raise Unknown
        far = inner.lead is not None and inner.lead.order >= AS_A_POWER
        return Germ(ZERO, _order(-1) if exponential and far else inner.rest.to(mpq(-rate)))

    return germ


GROWING: dict[str, Callable[[Call, Germ, Facts], Germ]] = {
    EXP: _exponential,
    LN: _logarithm,
    SIN: _wave,
    COS: _wave,
    FLOOR: _stepping,
    CEIL: _stepping,
    ATAN: _saturating(lambda: constant("pi") / 2),
    SI: _saturating(lambda: constant("pi") / 2),
    ERF: _saturating(lambda: ONE),
    TANH: _saturating(lambda: ONE),
    COTH: _saturating(lambda: ONE),
    SECH: _dying(0, mpq(1), True),
    CSCH: _dying(0, mpq(1), True),
    ERFC: _dying(1, mpq(1), True),
    BESSELK: _dying(1, mpq(1), True),
    GAMMA_INC: _dying(1, mpq(1), True),
    AIRYAI: _dying(1, mpq(1), True),
    AIRYAI_PRIME: _dying(1, mpq(1), True),
    EI: _dying(-1, mpq(1), True),
    CI: _dying(1, mpq(1)),
    BESSELJ: _dying(1, mpq(1, 2)),
    BESSELY: _dying(1, mpq(1, 2)),
}
