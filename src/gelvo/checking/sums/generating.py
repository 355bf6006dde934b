"""Infinite sums as the value at 1 of a power series with a letter y, whose differential equation the proposed function satisfies.

Where core(k + 1)*bottom(k) = core(k)*top(k), the sum F(y) of core(k)*y^k satisfies, with D = y*d/dy,
bottom(D - 1)*F - y*top(D)*F = bottom(lower - 1)*core(lower)*y^lower. Its singular place y = 0 is regular and no other lies in
0 < y < 1; a function that satisfies it there and begins like core(lower)*y^lower, beyond which no solution of the equation without
a right side begins, is F. At y = 1 the sum is the limit of F, where the series converges (N. H. Abel, 1826).
Sources: G. Frobenius, "Ueber die Integration der linearen Differentialgleichungen durch Reihen" (1873); DLMF 16.8.
"""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.calculus.summation import linear_factors, shifted
from gelvo.checking.certificate import PROVED, REFUTED, Certificate
from gelvo.checking.ends import proved_limit
from gelvo.checking.expansions import expansion_beside
from gelvo.checking.proposals import proposed_sum
from gelvo.checking.sums.ratios import Chain, chains, converges, is_below_one, is_not_one, limit_of_ratio
from gelvo.checking.values.converging import has_no_break_between
from gelvo.deciding.equality import decide_zero
from gelvo.errors import GelvoError
from gelvo.expression.building import number, power, total
from gelvo.expression.constants import IMAGINARY, INFINITE, ONE, PI, ZERO
from gelvo.expression.nodes import Applied, Bound, Call, Cases, Expression, Name, Node, Number, Power, Written
from gelvo.expression.traversal import contains, postorder, substitute, transform
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.functions.named import ATAN, COS, COSH, ERF, EXP, LN, SIN, SINH, is_a
from gelvo.normal.complex_parts import angle_of_turn, real_and_imaginary

MOST_SKIPPED, MOST_ORDER = 8, 8


def by_power_series(term: Expression, k: Name, lower: int, value: Expression, facts: Facts, claim: str) -> Certificate | None:
    """The certificate where every part of the term has a function with its differential equation; else None."""
    try:
        parts = chains(term, k)
        if parts is None or not all(converges(part, facts) for part in parts):
            return None
        known = facts.without(k)
        sums, functions = [], []
        for part in parts:
            one = _sum_of(part, k, lower, known)
            if one is None:
                return None
            sums.append(one[0])
            functions.append(one[1])
        found = transform(total(sums), lambda node: _polar(node, known))
        same = decide_zero(found - value, known).zero
    except (GelvoError, ArithmeticError):
        return None
    if same is None:
        return None
    evidence = {"functions of y": "; ".join(functions), "established": "their equation and how they begin; the limit at y = 1"}
    return Certificate(
        claim, PROVED if same else REFUTED, "the differential equation of the power series, and Abel's theorem", evidence
    )


def _sum_of(part: Chain, k: Name, lower: int, facts: Facts) -> tuple[Expression, str] | None:
    """(the sum from `lower` on, the function) of one chain of terms."""
    start = _first_place(part, k, lower, facts)
    if start is None:
        return None
    early = total([substitute(part.term, {k: number(j)}) for j in range(lower, start)])
    outer = uni.expression_of(part.outer, k)
    core = part.term / outer
    first = substitute(part.term, {k: number(start)}) / substitute(outer, {k: number(start)})
    y = facts.new_name("y", part.term, domain="positive")
    inside = facts.with_facts([y < 1])
    G = proposed_sum(core * power(y, k), k, number(start), INFINITE, inside)
    if G is None or isinstance(G, Bound):
        return None
    if not _satisfies(G, part, first, start, y, k, inside) or not _begins(G, part, first, start, y, k, facts):
        return None
    whole = _applied(part.outer, G, y)
    end = _at_one(whole, part, y, facts)
    if end is None or isinstance(end, Bound):
        return None
    return early + end, f"sum of {core * power(y, k)} = {G}"


def _at_one(whole: Expression, part: Chain, y: Name, facts: Facts) -> Expression | None:
    """The limit at y = 1; inside of the circle of convergence a function without branches is continuous there, as the sum is."""
    if is_below_one(limit_of_ratio(part), facts) and is_single_valued(whole, y):
        return substitute(whole, {y: ONE})
    if _may_meet_cut(whole, y, facts) and _logarithms_stay_right(whole, y, facts, closed=True):
        return substitute(whole, {y: ONE})
    return proved_limit(whole, y, ONE, facts, "below")


def _polar(node: Node, facts: Facts) -> Node:
    """ln(1 - exp(1j*x)) as ln(2*sin(x/2)) + 1j*(x - pi)/2 for 0 < x < 2*pi, its mirror images, and ln(a + 1j*b) with a > 0."""
    if not is_a(node, LN) or facts.is_real(node.arguments[0]):
        return node
    w = expand(1 - node.arguments[0])
    angle = angle_of_turn(w, facts)
    if angle is not None:
        for x, sign in ((angle, 1), (-angle, -1), (angle + 2 * PI, 1), (2 * PI - angle, -1)):
            if facts.is_positive(x) and facts.is_positive(2 * PI - x):
                return LN(2 * SIN(x / 2)) + sign * IMAGINARY * (x - PI) / 2
    if not is_below_one(w, facts):
        return node
    a, b = real_and_imaginary(node.arguments[0], facts)
    return LN(a**2 + b**2) / 2 + IMAGINARY * ATAN(b / a)


def _first_place(part: Chain, k: Name, lower: int, facts: Facts) -> int | None:
    """From where on the terms follow from the first, and `outer` is not zero."""
    for start in range(lower, lower + MOST_SKIPPED):
        at = {k: number(start)}
        late = all(_never_meets(s, start, facts) for s in _shifts(part, k))
        if late and facts.is_nonzero(substitute(uni.expression_of(part.outer, k), at)):
            return start
    return None


def _never_meets(s: Expression, start: int, facts: Facts) -> bool:
    """Whether k + s is not zero from the first place on; a solution without a right side that begins like y^(1 - s) is told apart."""
    if isinstance(s, Number) and s.is_rational:
        return not (s.is_whole and s.rational <= -start)
    return facts.is_nonnegative(s + (start - 1))


def _shifts(part: Chain, k: Name) -> list[Expression]:
    """s of the factors k + s of `bottom`."""
    found = [factor for factor, _ in linear_factors(part.bottom, k)]
    if any(len(factor) != 2 for factor in found):
        raise GelvoError("a factor that is not linear")
    return [uni.lowest_terms(p[0] / p[1]) for p in found]


def _applied(p: uni.Coefficients, G: Expression, y: Name) -> Expression:
    """p(D)*G with D = y*d/dy."""
    if len(p) > MOST_ORDER:
        raise GelvoError("an equation of high order")
    pieces, slope = [], G
    for j, c in enumerate(p):
        if j:
            slope = y * differentiate(slope, y)
        pieces.append(c * slope)
    return total(pieces)


def _satisfies(G: Expression, part: Chain, first: Expression, start: int, y: Name, k: Name, facts: Facts) -> bool:
    if not is_single_valued(G, y) and not _is_smooth(G, y, facts):
        return False
    before = shifted(part.bottom, k, -1)
    right = substitute(uni.expression_of(before, k), {k: number(start)}) * first * power(y, number(start))
    return decide_zero(_applied(before, G, y) - y * _applied(part.top, G, y) - right, facts).zero is True


def is_single_valued(G: Expression, y: Name) -> bool:
    """Whether a formula has isolated singular places at most: then it is the sum in the whole circle of convergence."""
    for node in postorder(G):
        if isinstance(node, Power) and contains(node, y):
            if contains(node.exponent, y) or not node.exponent.is_whole:
                return False
        elif isinstance(node, Call) and contains(node, y) and node.name not in SINGLE_VALUED:
            return False
    return not any(isinstance(n, (Applied, Written, Cases)) for n in postorder(G))


SINGLE_VALUED = (EXP, SIN, COS, SINH, COSH, ERF)


def _is_smooth(G: Expression, y: Name, facts: Facts) -> bool:
    """Differentiable for 0 < y < 1, where y may be written as a square."""
    w = facts.new_name("w", G, y, domain="positive")
    squared, beside = substitute(G, {y: w**2}), facts.without(y).with_facts([w < 1])
    return any(
        has_no_break_between(f, v, ZERO, ONE, known) and not _may_meet_cut(f, v, known)
        for f, v, known in ((G, y, facts), (squared, w, beside))
    ) or _logarithms_stay_right(G, y, facts)


def _may_meet_cut(G: Expression, y: Name, facts: Facts) -> bool:
    """Whether a root or a function with a cut is taken of what may be complex."""
    for node in postorder(G):
        if isinstance(node, Power) and contains(node, y):
            if not (node.exponent.is_whole or facts.is_real(node.base)):
                return True
        elif isinstance(node, Call) and contains(node, y) and node.name not in SINGLE_VALUED:
            if not all(facts.is_real(a) for a in node.arguments if isinstance(a, Expression)):
                return True
    return False


def _logarithms_stay_right(G: Expression, y: Name, facts: Facts, closed: bool = False) -> bool:
    """Whether y stands in polynomials and in logarithms of 1 - w with |w| < 1 alone, whose arguments never meet their cut.

    closed: at y = 1, where |w| <= 1 and 1 - w is not zero.
    """
    table = {y: ONE} if closed else {}
    for node in postorder(G):
        if isinstance(node, Power) and contains(node, y) and not (node.base is y and node.exponent.is_whole):
            return False
        if isinstance(node, Call) and contains(node, y):
            if not is_a(node, LN):
                return False
            w = expand(1 - substitute(node.arguments[0], table))
            inside = is_below_one(w, facts) or (closed and is_below_one(w, facts, "<=") and is_not_one(w, facts))
            if not inside:
                return False
    return True


def _begins(G: Expression, part: Chain, first: Expression, start: int, y: Name, k: Name, facts: Facts) -> bool:
    """Whether G is the first terms and what is smaller than where any solution without a right side begins."""
    through = max([mpq(start), *(1 - s.rational for s in _shifts(part, k) if isinstance(s, Number))])
    if through > start + MOST_SKIPPED:
        return False
    core = part.term / uni.expression_of(part.outer, k)
    listed = [first, *(substitute(core, {k: number(j)}) for j in range(start + 1, int(through) + 1))]
    head = total([c * power(y, number(start + j)) for j, c in enumerate(listed)])
    found = expansion_beside(G - head, y, ZERO, "above", facts, through)
    if found is None:
        return False
    return all(decide_zero(c, facts).zero is True for (p, _), c in found[0].terms.items() if p <= through)
