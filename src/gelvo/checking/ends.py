"""What a formula does at an end of an interval, proved term by term or by continuity: no code of the integration is used.

A product of powers, logarithms, exponentials that die away and bounded functions goes to zero; the inverse tangent and the error
function are first written as their limit less a rest that goes to zero. Else the formula is written by u = 1/x (or the distance
from the end): where it is continuous at u = 0, its value there is the limit.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import suppress
from typing import NamedTuple

from gelvo.checking.expansions import limit_by_expansion
from gelvo.checking.germs import limit_far_out
from gelvo.deciding.equality import decide_zero, surely_differ
from gelvo.deciding.suppositions import may_suppose_nonzero
from gelvo.errors import DomainError, GelvoError
from gelvo.expression.building import bound, constant, name, number, power, relation, total
from gelvo.expression.constants import INFINITE, UNDEFINED, ZERO
from gelvo.expression.nodes import Bound, Call, Expression, Name, Node, Number, Power, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, postorder, substitute, transform
from gelvo.facts.continuity import has_no_break_at
from gelvo.facts.statements import DomainFact
from gelvo.facts.store import Facts
from gelvo.forms.collecting import polynomial_coefficients, terms_of
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import (
    ABS,
    AIRYAI,
    ATAN,
    BESSELK,
    CI,
    COS,
    EI,
    ERF,
    ERFC,
    EXP,
    GAMMA,
    GAMMA_INC,
    LN,
    SI,
    SIN,
    TANH,
    is_a,
)
from gelvo.normal.prepare import prepared
from gelvo.roads import on_the_way

# of odd functions, whose rest is at most const/u
LIMITS: dict[str, Expression] = {ATAN: constant("pi") / 2, ERF: number(1), TANH: number(1), SI: constant("pi") / 2}
# of functions that die away as fast as 1/u in that direction
DYING: dict[str, int] = {ERFC: 1, CI: 1, BESSELK: 1, GAMMA_INC: 1, AIRYAI: 1, EI: -1}


@on_the_way("ends term by term")
def value_at(F: Expression, x: Name, end: Expression, facts: Facts, side: str = "") -> Expression | None:
    """The limit of F at an end, inf and -inf among them; None where it is not proved.

    side: from where a finite end is reached, "above" or "below"; without it the formula has to be continuous there.
    """
    far, inverse = (facts.new_name(word, F, domain="positive") for word in ("x", "u"))
    if isinstance(end, Bound) and x.domain in ("integer", "natural"):
        facts = facts.with_facts([DomainFact(far, "integer")])
    if isinstance(end, Bound):
        moved = substitute(F, {x: far if end.kind == "inf" else -far})
        near = substitute(F, {x: 1 / inverse if end.kind == "inf" else -1 / inverse})
    else:
        if has_no_break_at(F, x, end, facts, kinks=False):
            return substitute(F, {x: end})
        if not side:
            return None
        sign = 1 if side == "above" else -1
        moved, near = substitute(F, {x: end + sign / far}), substitute(F, {x: end + sign * inverse})
    moved = _exponentials_taken_out(moved, far, facts)
    found = _of_monomial(moved, far, facts)
    if found is None:
        found = _term_by_term(moved, far, facts)
    if found is None:
        found = _term_by_term(factored(moved), far, facts)
    if found is None:
        found = _by_continuity(near, inverse, facts)
    return found if found is not None else limit_far_out(moved, far, facts)


def proved_limit(F: Expression, x: Name, end: Expression, facts: Facts, side: str = "") -> Expression | None:
    """The limit term by term or by continuity, else by an expansion with a bound on the rest; None where neither tells."""
    with suppress(GelvoError, ArithmeticError):
        found = value_at(F, x, end, facts, side)
        if found is not None:
            return found
    for form in (F, _exponentials_taken_out(F, x, facts)) if end is INFINITE else (F,):
        with suppress(GelvoError, ArithmeticError):
            found = limit_by_expansion(form, x, end, side, facts)
            if found is not None:
                return found
    return None


def ends_differ(a: Expression | None, b: Expression | None, facts: Facts) -> bool:
    """Whether two limits are known and surely not the same."""
    if a is None or b is None or a is UNDEFINED or b is UNDEFINED:
        return False
    return a is not b if isinstance(a, Bound) or isinstance(b, Bound) else surely_differ(a, b, facts)


def _exponentials_taken_out(F: Expression, x: Name, facts: Facts) -> Expression:
    """ln(c*exp(u) + d*exp(v)) as u + ln(c + d*exp(v - u)), for a real u that grows, and faster than any other."""

    def visit(node: Node) -> Node:
        if not is_a(node, LN) or not isinstance(node.arguments[0], Sum):
            return node
        factors = [g for t in terms_of(node.arguments[0]) for g in factors_in(t) if contains(g, x)]
        moving = dict.fromkeys(u for g in factors if (u := _exponent(g, x)) is not None)
        if not all(facts.is_real(u) for u in moving):
            return node
        for u in moving:
            if _growing(u, x, facts) == 1 and all(v is u or _growing(expand(u - v), x, facts) == 1 for v in moving):
                return u + LN(expand(node.arguments[0] * EXP(-u)))
        return node

    plain = transform(F, visit)
    return F if plain is F else expand(plain)


def _of_monomial(moved: Expression, x: Name, facts: Facts) -> Expression | None:
    """c*x^k with letters."""
    moving = [f for f in factors_in(moved) if contains(f, x)]
    base, k = base_and_exponent(moving[0]) if len(moving) == 1 else (x, ZERO)
    if k is ZERO or isinstance(k, Number) or base is not x or contains(k, x):
        return None
    c = moved / moving[0]
    if facts.is_negative(k):
        return ZERO
    if not facts.is_positive(k):
        return None
    return bound("inf") if facts.is_positive(c) else bound("-inf") if facts.is_negative(c) else None


def _by_continuity(near: Expression, u: Name, facts: Facts) -> Expression | None:
    """The value at u = 0 of what the formula is for u > 0, once the powers of u are taken out of roots and fractions."""

    def forms() -> Iterator[Expression]:
        yield near
        yield prepared(near, facts)

    try:
        for form in forms():
            if has_no_break_at(form, u, ZERO, facts, kinks=False):
                return substitute(form, {u: ZERO})
    except (DomainError, ZeroDivisionError):
        return None
    return None


class Order(NamedTuple):
    """How a term behaves far out, compared as a tuple: the direction of its exponentials, its powers of x and of ln(x)."""

    exponentials: int
    power: float
    logarithms: float


STAYS = Order(0, 0.0, 0.0)
LEAST = 1e-9  # for a negative power of which no more is known


def _term_by_term(F: Expression, x: Name, facts: Facts) -> Expression | None:
    """The limit as x > 0 grows without bound: of what grows, the fastest decides."""
    staying: list[Expression] = []
    growing: dict[Order, set[int]] = {}
    for term in terms_of(expand(_with_limits(F, x, facts))):
        if not contains(term, x):
            staying.append(term)
            continue
        found = _order(term, x, facts)
        if found is None:
            return None
        order, outer = found
        if order < STAYS:
            continue
        direction = facts.is_positive(outer) - facts.is_negative(outer) if outer is not None else 0
        if not direction or order == STAYS or not _plain(term, x):
            return None
        growing.setdefault(order, set()).add(direction)
    if not growing:
        return total(staying)
    fastest = max(growing)
    if len(growing[fastest]) > 1 or (fastest.exponentials > 0 and len(growing) > 1):
        return None  # terms that may cancel, or exponentials whose rates are not compared
    return bound("inf") if growing[fastest] == {1} else bound("-inf")


def _with_limits(F: Expression, x: Name, facts: Facts) -> Expression:
    """atan(u) as pi/2 less a rest, for u that grows: the rest is a fresh name known to die away."""
    table: dict[Expression, Expression] = {}
    for node in postorder(F):
        if isinstance(node, Call) and node.name in LIMITS and contains(node, x):
            sign = _growing(node.arguments[0], x, facts)
            if sign:
                # the rest, limit - f(u), is at most 1/u (or smaller): written as 1/x times a bounded wave
                table[node] = sign * LIMITS[node.name] + _bounded_rest(x)
        elif isinstance(node, Call) and node.name in DYING and contains(node, x):
            if (
                not any(contains(a, x) for a in node.arguments[:-1])
                and _growing(node.arguments[-1], x, facts) == DYING[node.name]
            ):
                table[node] = _bounded_rest(x)
            elif is_a(node, GAMMA_INC) and (near := _near_zero(node.arguments[0], node.arguments[1], x, facts)) is not None:
                table[node] = near
        elif is_a(node, LN, ABS) and contains(node, x):
            table[node] = _of_power(node, x, facts)
    return substitute(F, table) if table else F


def _near_zero(a: Expression, u: Expression, x: Name, facts: Facts) -> Expression | None:
    """gamma_inc(a, u) for a > 0 and a u = c/x^q that dies away: gamma(a) less at most u^a/a."""
    base, k = base_and_exponent(next((g for g in factors_in(u) if contains(g, x)), x))
    if base is not x or not facts.is_negative(k) or not facts.is_positive(a) or contains(u / power(x, k), x):
        return None
    return GAMMA(a) + SIN(name("bounded_rest")) * power(x, k * a)


def _of_power(node: Call, x: Name, facts: Facts) -> Expression:
    """ln|R| of a rational R ~ c*x^q as ln|c| + q*ln(x) and a rest, |R| without bars; the node itself where the sign is not known."""
    inner = node.arguments[0]
    inner = inner.arguments[0] if is_a(inner, ABS) else inner
    size = inner if facts.is_positive(inner) else -inner if facts.is_negative(inner) else None
    if size is None:
        return node
    if is_a(node, ABS):
        return size
    tables = [polynomial_coefficients(p, x) for p in quotient_parts(size)]
    if tables[0] is None or tables[1] is None:
        return node
    top, bottom = max(tables[0]), max(tables[1])
    lead = tables[0][top] / tables[1][bottom]
    exact = size - lead * x ** (top - bottom)
    rest = ZERO if decide_zero(exact, facts).zero else _bounded_rest(x)
    return LN(lead) + (top - bottom) * LN(x) + rest if facts.is_positive(lead) else node


def _bounded_rest(x: Name) -> Expression:
    """A stand-in for a quantity of size at most const/x."""
    return SIN(name("bounded_rest")) / x


def _exponent(g: Expression, x: Name) -> Expression | None:
    """u of exp(u), and u*ln(c) of c^u with a number c."""
    if is_a(g, EXP):
        return g.arguments[0]
    if isinstance(g, Power) and isinstance(g.base, Number) and contains(g.exponent, x):
        return g.exponent * LN(g.base)
    return None


def _growing(u: Expression, x: Name, facts: Facts) -> int:
    """1 or -1 where a polynomial argument goes to plus or minus infinity, else 0."""
    table = polynomial_coefficients(u, x)
    if table is None or max(table) < 1:
        return 0
    leading = table[max(table)]
    return 1 if facts.is_positive(leading) else -1 if facts.is_negative(leading) else 0


class _Sizes:
    """What the factors of a term add up to."""

    def __init__(self, term: Expression) -> None:
        self.outer: Expression = number(term.coefficient) if isinstance(term, Product) else number(1)
        self.direction, self.power, self.logarithms = 0, 0.0, 0.0
        self.wave = self.dying = False

    def takes(self, factor: Expression, x: Name, facts: Facts) -> bool:
        """Whether the size of a factor is told, and counted."""
        base, k = base_and_exponent(factor)
        if is_a(factor, EXP):
            rate = _growing(factor.arguments[0], x, facts)
            turns = rate > 0 and not facts.is_real(factor.arguments[0])  # what grows and turns has no direction
            told, self.direction = bool(rate) and not turns and self.direction in (0, rate), rate
            return told
        if isinstance(factor, Power) and not contains(base, x) and (rate := _growing(k, x, facts)):
            if not _is_small(base, facts):  # r^k with |r| < 1, or a real r > 1
                base, rate = 1 / base, -rate
            told = _is_small(base, facts) and (rate > 0 or facts.is_positive(base)) and self.direction in (0, -rate)
            self.direction = -rate
            return told
        if base is x and not isinstance(k, Number) and facts.is_negative(k):
            self.dying = True
            return True
        return isinstance(k, Number) and k.is_rational and self._takes_power(base, k, x, facts)

    def _takes_power(self, base: Expression, k: Number, x: Name, facts: Facts) -> bool:
        if is_a(base, SIN, COS) and k.rational > 0 and facts.is_real(base.arguments[0]):
            self.wave = True
        elif is_a(base, LN) and base.arguments[0] is x:
            self.logarithms += float(k.rational)
        elif (degree := _degree(base, x, facts, k.rational < 0)) is not None:
            self.power += degree * float(k.rational)
        else:
            return False
        return True


def _order(term: Expression, x: Name, facts: Facts) -> tuple[Order, Expression | None] | None:
    """(its order, its constant factor: None where a wave bounds it) of a term; None for what is no such product."""
    sizes = _Sizes(term)
    for factor in factors_in(term):
        if not contains(factor, x):
            sizes.wave = sizes.wave or any(isinstance(n, Name) and n.name == "bounded_rest" for n in postorder(factor))
            sizes.outer = sizes.outer * factor
        elif not sizes.takes(factor, x, facts):
            return None
    if sizes.dying and sizes.power > 0:
        return None  # a power with a letter, beside one that grows
    order = Order(sizes.direction, sizes.power - LEAST * sizes.dying, sizes.logarithms)
    return order, None if sizes.wave else sizes.outer


def _is_small(base: Expression, facts: Facts) -> bool:
    return facts.is_positive(number(1) - ABS(base)) or facts.holds(relation("<", ABS(base), number(1))) is True


def _plain(term: Expression, x: Name) -> bool:
    """Whether all powers in a term are of x itself, so that its sign far out is that of its constant factor."""
    factors = [f.base if isinstance(f, Power) else f for f in factors_in(term) if contains(f, x)]
    return all(f is x or isinstance(f, Call) for f in factors)


def _degree(base: Expression, x: Name, facts: Facts, below: bool) -> int | None:
    """The degree of a rational function at infinity, or a bound that a power keeps where letters make a coefficient zero.

    below: whether a negative power is taken, which needs a degree that does not fall.
    """
    parts = [polynomial_coefficients(p, x) for p in quotient_parts(base)]
    if parts[0] is None or parts[1] is None:
        return None
    top, bottom = max(parts[0]), max(parts[1])
    divisor = parts[0][top] if below else parts[1][bottom]
    return top - bottom if may_suppose_nonzero(divisor, facts) else None
