"""That y' + r*y = g has no solution over C(x) with one logarithm or exponential, by orders and coefficients of its own.

At a factor p of a denominator, that is no factor of its own slope, y' has one pole more than y: the orders of y follow from those of r
and g, or contradict each other. What is left of y is a polynomial in the logarithm or exponential, whose highest and lowest powers are
bounded by the terms that have to cancel there; its coefficients follow one after the other, or satisfy an equation over C(x).
Sources: J. Liouville (1835); M. Rosenlicht, "Integration in finite terms" (1972).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Literal, NamedTuple

from gelvo.deadline import checkpoint
from gelvo.errors import GelvoError
from gelvo.expression.building import name
from gelvo.expression.constants import IMAGINARY, ONE, ZERO
from gelvo.expression.nodes import Call, Expression, Name, Node, Number
from gelvo.expression.traversal import contains, postorder, substitute, transform
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import quotient_parts
from gelvo.functions.named import COS, EXP, SIN, is_a

Coefficients = list[Expression]
# whether y' + rate*y = right (True), or right = y' + c*rate (False), has no solution over C(x)
Solver = Callable[[Expression, Expression, bool], bool | None]
MOST_DEGREE = 12  # of what is looked at in the generator
T = name("generator of a tower")  # no spelling of a user has a blank in it


class NotTold(GelvoError):
    """Orders and coefficients do not decide it."""


class Top(NamedTuple):
    """The generator: its slope (of an exponential: over itself), and whether it is an exponential."""

    slope: Expression
    exponential: bool


class Laurent:
    """A polynomial in the generator and its inverse: coefficients from the power `low` upwards."""

    def __init__(self, coefficients: Coefficients, low: int = 0) -> None:
        kept = [uni.lowest_terms(c) for c in coefficients]
        while kept and kept[-1] is ZERO:
            kept.pop()
        skipped = next((k for k, c in enumerate(kept) if c is not ZERO), len(kept))
        self.coefficients, self.low = kept[skipped:], low + skipped

    @property
    def high(self) -> int:
        return self.low + len(self.coefficients) - 1

    def at(self, k: int) -> Expression:
        return self.coefficients[k - self.low] if self.low <= k <= self.high else ZERO


def has_no_solution(
    rate: Expression, right: Expression, generators: Sequence[Expression], exponential: bool, over_x: Solver
) -> bool | None:
    """Whether y' + rate*y = right (right = y' + c*rate where not `exponential`) has no solution y among the functions of some generators.

    generators: the variable, and logarithms and exponentials over it, each above those before. None where it cannot be told.
    """
    *below, generator = generators
    x = generators[0]
    assert isinstance(x, Name)
    if not below:
        return over_x(rate, right, exponential)
    top = _top(generator, x)
    r, g = (_in_generator(e, generator) for e in (rate, right))
    if top is None or any(_strange(e, below) for e in (r, g, top.slope)):
        return None

    def lower(of_rate: Expression, of_right: Expression, of_exponential: bool) -> bool | None:
        return has_no_solution(of_rate, of_right, below, of_exponential, over_x)

    try:
        return _of_exponential(r, g, x, top, lower) if exponential else _of_primitive(r, g, x, top, lower)
    except NotTold:
        return None


def _of_exponential(r: Expression, g: Expression, x: Name, top: Top, lower: Solver) -> bool | None:
    found = _without_poles(r, g, x, top)
    if found is True:
        return True
    a, b, c = found
    return _by_coefficients(a, b, c, x, top, lower)


def _of_primitive(r: Expression, g: Expression, x: Name, top: Top, lower: Solver) -> bool | None:
    fractions = [_fraction(r), _fraction(g)]
    below = [_normal(bottom, top) for _, bottom in fractions]
    for p in _coprime([f for bottom in below for f in _square_free_factors(bottom)]):
        if [_order(bottom, p) for _, bottom in fractions] == [0, 1] and len(_gcd(p, _slope(p, x, top))) == 1:
            return True  # no slope has a simple pole
    if not top.exponential or any(len(bottom) > 1 for bottom in below):
        return None
    other, c = (Laurent(upper, -_no_powers(bottom)[1]) for upper, bottom in fractions)
    for k in range(c.low, c.high + 1):
        if k and other.at(k) is ZERO and lower(uni.lowest_terms(k * top.slope), c.at(k), True):
            return True
    return lower(other.at(0), c.at(0), False) or None


def _top(generator: Expression, x: Name) -> Top | None:
    slope = differentiate(generator, x)
    if is_a(generator, EXP):
        return Top(uni.lowest_terms(differentiate(generator.arguments[0], x)), True)
    return None if contains(slope, generator) else Top(uni.lowest_terms(slope), False)


def _in_generator(e: Expression, generator: Expression) -> Expression:
    """The formula with a name for the generator and for the powers of an exponential; waves are exponentials."""
    e = transform(e, _by_exponentials)
    table: dict[Node, Expression] = {}
    for node in postorder(e):
        if is_a(generator, EXP) and is_a(node, EXP):
            ratio = uni.lowest_terms(node.arguments[0] / generator.arguments[0])
            if ratio.is_whole:
                table[node] = T**ratio
        elif node is generator:
            table[node] = T
    return substitute(e, table)


def _by_exponentials(node: Node) -> Node:
    if not is_a(node, SIN, COS):
        return node
    turn = EXP(IMAGINARY * node.arguments[0])
    return (turn + 1 / turn) / 2 if node.name == COS else (turn - 1 / turn) / (2 * IMAGINARY)


def _strange(e: Expression, below: Sequence[Expression]) -> bool:
    """Whether functions stand in a formula that are none of the generators below."""
    return any(isinstance(n, Call) and n not in below and any(contains(n, v) for v in (below[0], T)) for n in postorder(e))


def _slope(p: Coefficients, x: Name, top: Top) -> Coefficients:
    """The slope of a polynomial in the generator."""
    own = [differentiate(c, x) for c in p]
    if top.exponential:
        return uni.trim([uni.lowest_terms(s + k * top.slope * c) for k, (s, c) in enumerate(zip(own, p, strict=True))])
    below = [k * c * top.slope for k, c in enumerate(p)][1:]
    return uni.trim([uni.lowest_terms(s + (below[k] if k < len(below) else ZERO)) for k, s in enumerate(own)])


def _fraction(e: Expression) -> tuple[Coefficients, Coefficients]:
    """Top and bottom as polynomials in the generator without a common factor, the bottom without powers of it in front."""
    upper, lower = (uni.coefficients_of(p, T) for p in quotient_parts(e))
    if upper is None or lower is None or not lower:
        raise NotTold
    upper, lower = ([uni.lowest_terms(c) for c in p] for p in (upper, lower))
    if max(len(upper), len(lower)) > MOST_DEGREE:
        raise NotTold
    shared = _gcd(upper, lower)
    if len(shared) > 1:
        upper, lower = uni.divide(upper, shared)[0], uni.divide(lower, shared)[0]
    upper, lower = uni.trim(upper), uni.trim(lower)
    return [uni.lowest_terms(c / lower[-1]) for c in upper], [uni.lowest_terms(c / lower[-1]) for c in lower]


def _gcd(p: Coefficients, q: Coefficients) -> Coefficients:
    p, q = uni.trim(list(p)), uni.trim(list(q))
    while q:
        checkpoint()
        rest = uni.divide(p, q)[1] if len(p) >= len(q) else p
        p, q = q, uni.trim([uni.lowest_terms(c) for c in rest])
    return [uni.lowest_terms(c / p[-1]) for c in p] if p else []


def _order(p: Coefficients, factor: Coefficients) -> int:
    """How often a factor divides a polynomial."""
    count = 0
    while len(p) >= len(factor):
        quotient, rest = uni.divide(p, factor)
        if uni.trim([uni.lowest_terms(c) for c in rest]):
            break
        p, count = [uni.lowest_terms(c) for c in quotient], count + 1
    return count


def _square_free_factors(p: Coefficients) -> list[Coefficients]:
    """Factors without a common one, each of one multiplicity: enough, since the orders of r and g decide."""
    found: list[Coefficients] = []
    rest = p
    while len(rest) > 1:
        slope = [k * c for k, c in enumerate(rest)][1:]
        shared = _gcd(rest, slope)
        radical = uni.divide(rest, shared)[0] if len(shared) > 1 else rest
        found.append([uni.lowest_terms(c / radical[-1]) for c in radical])
        rest = shared
    return found


def _coprime(factors: list[Coefficients]) -> list[Coefficients]:
    """Factors refined until no two have anything in common."""
    base: list[Coefficients] = []
    work = [f for f in factors if len(f) > 1]
    while work:
        f = work.pop()
        for k, b in enumerate(base):
            shared = _gcd(f, b)
            if len(shared) > 1:
                base.pop(k)
                pieces = [shared, uni.divide(f, shared)[0], uni.divide(b, shared)[0]]
                work += [[uni.lowest_terms(c) for c in p] for p in pieces if len(p) > 1]
                break
        else:
            base.append(f)
    return base


def _without_poles(r: Expression, g: Expression, x: Name, top: Top) -> tuple[Laurent, Laurent, Laurent] | Literal[True]:
    """a*z' + b*z = c for z = y/q without poles at factors that are none of their slopes; True where orders contradict each other."""
    rate, right = _fraction(r), _fraction(g)
    q_upper: Coefficients = [ONE]
    q_lower: Coefficients = [ONE]
    for p in _coprime([f for e in (rate, right) for f in _square_free_factors(_normal(e[1], top))]):
        if len(_gcd(p, _slope(p, x, top))) > 1:
            raise NotTold
        of_r, of_g = (_order(e[1], p) - _order(e[0], p) for e in (rate, right))
        if of_r == 1:
            raise NotTold  # a residue may be a whole number
        if of_r <= 0 and of_g == 1:
            return True
        order = of_g - of_r if of_r > 1 else max(of_g - 1, 0)
        for _ in range(abs(order)):
            if order > 0:
                q_lower = uni.multiply(q_lower, p)
            else:
                q_upper = uni.multiply(q_upper, p)
    q = uni.expression_of(q_upper, T) / uni.expression_of(q_lower, T)
    slope = (
        uni.expression_of(_slope(q_upper, x, top), T) * uni.expression_of(q_lower, T)
        - uni.expression_of(q_upper, T) * uni.expression_of(_slope(q_lower, x, top), T)
    ) / uni.expression_of(q_lower, T) ** 2
    return _polynomials([q, slope + r * q, g])


def _no_powers(p: Coefficients) -> tuple[Coefficients, int]:
    """A polynomial without the powers of the generator that divide it."""
    low = next((k for k, c in enumerate(p) if c is not ZERO), 0)
    return p[low:], low


def _normal(p: Coefficients, top: Top) -> Coefficients:
    """A denominator without what divides its own slope: the powers of an exponential."""
    return _no_powers(p)[0] if top.exponential else p


def _polynomials(entries: list[Expression]) -> tuple[Laurent, Laurent, Laurent]:
    """The same multiple of some fractions, as Laurent polynomials."""
    parts = [_fraction(e) for e in entries]
    common: Coefficients = [ONE]
    for _, lower in parts:
        common = uni.multiply(common, uni.divide(lower, _gcd(common, lower))[0])
    tops = [uni.multiply(upper, uni.divide(common, lower)[0]) if upper else [] for upper, lower in parts]
    a, b, c = (Laurent(t) for t in tops)
    return a, b, c


def _by_coefficients(a: Laurent, b: Laurent, c: Laurent, x: Name, top: Top, below: Solver) -> bool | None:
    """a*z' + b*z = c for a polynomial z in the generator (and its inverse, if that is an exponential)."""
    if not c.coefficients:
        return False
    highest = max(p.high for p in (a, b) if p.coefficients)
    high = _end(a.at(highest), b.at(highest), c.high - highest, max, top, x)
    if top.exponential:
        lowest = min(p.low for p in (a, b) if p.coefficients)
        low = _end(a.at(lowest), b.at(lowest), c.low - lowest, min, top, x)
    else:
        lowest, low = 0, 0
    if high < low:
        return True
    if a.at(highest) is not ZERO:
        return _equation_below(a, b, c, (highest, lowest), (high, low), top, below)
    values: dict[int, Expression] = {}
    for k in range(high, low - 1, -1):
        values[k] = uni.lowest_terms((c.at(k + highest) - _row(a, b, values, k + highest, x, top)) / b.at(highest))
    return any(
        uni.lowest_terms(_row(a, b, values, k, x, top) - c.at(k)) is not ZERO
        for k in range(min(c.low, low + min(a.low, b.low) - 1), max(c.high, high + highest) + 1)
    )


def _end(alpha: Expression, beta: Expression, plain: int, further: Callable[..., int], top: Top, x: Name) -> int:
    """The last power that z may have: where its own terms cancel each other, or meet the right side."""
    if alpha is ZERO:
        return plain
    if not top.exponential:  # z' + (beta/alpha)*z = 0 must have no rational solution
        if not _polynomial_part(uni.lowest_terms(beta / alpha), x):
            raise NotTold
        return plain
    leading, other = (_polynomial_part(uni.lowest_terms(e), x) for e in (top.slope, beta / alpha))
    if not leading:
        raise NotTold
    at = len(leading) - 1
    share = uni.lowest_terms(-(other[at] if at < len(other) else ZERO) / leading[at])
    return further(plain, int(share.rational)) if isinstance(share, Number) and share.is_whole else plain


def _polynomial_part(e: Expression, x: Name) -> Coefficients:
    p, q = (uni.coefficients_of(part, x) for part in quotient_parts(e))
    if p is None or q is None or any(contains(c, x) for c in (*p, *q)):
        raise NotTold
    return uni.trim([uni.lowest_terms(c) for c in uni.divide(p, q)[0]]) if len(p) >= len(q) else []


def _row(a: Laurent, b: Laurent, z: dict[int, Expression], degree: int, x: Name, top: Top) -> Expression:
    """The coefficient of a power in a*z' + b*z."""
    whole: Expression = ZERO
    for k, value in z.items():
        slope = differentiate(value, x)
        if top.exponential:
            whole = whole + a.at(degree - k) * (slope + k * top.slope * value)
        else:
            whole = whole + a.at(degree - k) * slope + a.at(degree - k + 1) * k * top.slope * value
        whole = whole + b.at(degree - k) * value
    return uni.lowest_terms(whole)


def _equation_below(
    a: Laurent, b: Laurent, c: Laurent, ends: tuple[int, int], powers: tuple[int, int], top: Top, below: Solver
) -> bool | None:
    """Where each coefficient has an equation of its own, or the highest has: whether one of them has no solution below."""
    (highest, lowest), (high, low) = ends, powers
    alpha, beta = a.at(highest), b.at(highest)
    alone = highest == lowest and top.exponential
    for k in range(high, low - 1, -1) if alone else (high,):
        rate = uni.lowest_terms((k * top.slope if top.exponential else ZERO) + beta / alpha)
        if below(rate, uni.lowest_terms(c.at(k + highest) / alpha), True):
            return True
    return None
