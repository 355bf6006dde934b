"""G(t, y) = F(t) + C solved for y: as a product of powers where G is a sum of logarithms, else as it stands; or told as a relation."""

from __future__ import annotations

from math import gcd, lcm

from gelvo.differential.first_order.rate import Rate, accepted, distinct, growth, told
from gelvo.differential.problem import Outcome, Solved, breaks_where_zero, without_bars
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import multiply_all, number, power, relation, sqrt, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Condition, Expression, Name, Node, Relation, Written
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, postorder, substitute, transform
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import denominators
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.forms.univariate import lowest_terms
from gelvo.functions.named import ABS, ACOSH, ASINH, ATANH, EXP, LN, is_a
from gelvo.simplifying.search import simplify
from gelvo.solving.putting_back import read_easily
from gelvo.solving.single.complete import solve_single

Product = tuple[Expression, Expression]


def from_level(rate: Rate, left: Expression, right: Expression, road: str) -> Outcome:
    """The solutions of left(t, y) = right(t) + C; C follows from a stated value.

    Where the left side is a sum of logarithms the constant is a factor of either sign.
    """
    constants = () if rate.start else (rate.constant(),)
    left, right, sides = _on_the_side_of_the_start(rate, left, right)
    logarithms = transform(left, _logarithm_of_inverse)
    forms = [left] if logarithms is left else [left, logarithms]
    if any(is_a(n, LN) for n in postorder(right)):  # of a logarithm on the other side the exponential is short
        forms.reverse()
    for form in forms:
        found, lost = _from_form(rate, form, right, constants)
        if found:
            break
    if not found:
        return told(rate, left, right, road)
    apart = [c for c in denominators([left, right], rate.facts, free_of=rate.t) if not contains(c, rate.y)]
    found = [
        s._replace(conditions=(*s.conditions, *sides, *(c for c in apart if constants or _breaks(s, c, rate.facts))))
        for s in found
    ]
    return Outcome(distinct(found, constants, rate.facts), constants, road, lost)


def _on_the_side_of_the_start(
    rate: Rate, left: Expression, right: Expression
) -> tuple[Expression, Expression, tuple[Condition, ...]]:
    """u for abs(u) where u(t) is positive at a stated place: a solution through it does not pass a zero of u."""
    table: dict[Node, Expression] = {}
    sides: list[Condition] = []
    for node in postorder(left, right) if rate.start else ():
        if is_a(node, ABS) and contains(node, rate.t) and not contains(node, rate.y) and rate.start:
            inside = node.arguments[0]
            there = substitute(inside, {rate.t: rate.start.place})
            sign = 1 if rate.facts.is_positive(there) else -1 if rate.facts.is_negative(there) else 0
            if sign:
                table[node] = sign * inside
                sides.append(read_easily(relation("<", ZERO, sign * inside)))
    return substitute(left, table), substitute(right, table), tuple(sides)


def _from_form(
    rate: Rate, left: Expression, right: Expression, constants: tuple[Name, ...]
) -> tuple[list[Solved], tuple[str, ...]]:
    product = _as_product(left, rate.y, rate.facts)
    try:
        candidates, lost = _of_product(rate, *product, right, constants) if product else _of_sum(rate, left, right, constants)
    except (NotSolved, DomainError):
        return [], ()
    if any(isinstance(n, Written) and n.kind == "root_of" for value, _ in candidates for n in postorder(value)):
        return [], ()
    return [s for value, own in candidates if (s := accepted(rate.problem, value, own)) is not None], lost


def _breaks(solution: Solved, apart: Condition, facts: Facts) -> bool:
    """Whether a formula has no value where two letters fall together."""
    return isinstance(apart, Relation) and breaks_where_zero(solution, apart.left - apart.right, facts)


def _as_product(left: Expression, y: Name, facts: Facts) -> Product | None:
    """(k, p) with exp(k*left) = p up to its sign, where the terms with y are logarithms with commensurable factors."""
    factors: list[Expression] = []
    bodies: list[Expression] = []
    rest: list[Expression] = []
    for term in terms_of(expand(left)):
        logs = [f for f in factors_in(term) if is_a(f, LN) and contains(f, y)]
        if not logs:
            rest.append(term)
        elif len(logs) == 1 and not contains(term / logs[0], y):
            factors.append(term / logs[0])
            bodies.append(logs[0].arguments[0])
        else:
            return None
    if not bodies:
        return None
    ratios = [lowest_terms(f / factors[0]) for f in factors]
    if not all(r.is_rational for r in ratios):
        return None
    common = lcm(*(int(r.rational.denominator) for r in ratios))
    k = number(common) / factors[0]
    powers = [power(without_bars(b), number(r.rational * common)) for b, r in zip(bodies, ratios, strict=True)]
    whole = multiply_all(powers)
    shortest = [base_and_exponent(f) for f in factors_in(simplify(whole, facts).expression)]
    exponent = gcd(*(int(e.rational) if e.is_whole else 1 for _, e in shortest))
    if exponent > 1:  # tan(u)^2/(1 + tan(u)^2) is sin(u)^2: the root, up to a factor
        whole, k = multiply_all([power(b, e / exponent) for b, e in shortest]), k / exponent
    return k, multiply_all([whole, *([_plain_exponential(k * total(rest))] if rest else [])])


def _logarithm_of_inverse(node: Node) -> Node:
    """asinh(u), acosh(u) and atanh(u) as logarithms (DLMF 4.37)."""
    if not is_a(node, ASINH, ACOSH, ATANH):
        return node
    (u,) = node.arguments
    if is_a(node, ATANH):
        return LN((1 + u) / (1 - u)) / 2
    return LN(u + sqrt(u**2 + (1 if is_a(node, ASINH) else -1)))


def _plain_exponential(inner: Expression) -> Expression:
    """exp of a sum, the logarithms in it as powers."""
    found: list[Expression] = []
    for term in terms_of(expand(inner)):
        logs = [f for f in factors_in(term) if is_a(f, LN)]
        if len(logs) == 1 and (k := term / logs[0]).is_rational:
            found.append(power(without_bars(logs[0].arguments[0]), k))
        else:
            found.append(EXP(term))
    return multiply_all(found)


Candidates = tuple[list[tuple[Expression, tuple[Condition, ...]]], tuple[str, ...]]


def _of_product(rate: Rate, k: Expression, product: Expression, right: Expression, constants: tuple[Name, ...]) -> Candidates:
    """product = C*exp(k*right)."""
    facts, e = rate.facts, rate.facts.new_name("E", product, right, rate.y, rate.t)
    factor = growth(k * right, rate.t, facts)
    if rate.start:
        at_start = {rate.y: rate.start.value, rate.t: rate.start.place}
        constant = simplify(substitute(product, at_start) / substitute(factor, {rate.t: rate.start.place}), facts).expression
    else:
        constant = constants[0]
    return _solved(rate, product - e, e, constant * factor)


def _of_sum(rate: Rate, left: Expression, right: Expression, constants: tuple[Name, ...]) -> Candidates:
    e = rate.facts.new_name("E", left, right, rate.y, rate.t)
    if rate.start:
        at_start = {rate.y: rate.start.value, rate.t: rate.start.place}
        constant = simplify(substitute(left - right, at_start), rate.facts).expression
    else:
        constant = constants[0]
    return _solved(rate, left - e, e, right + constant)


def _solved(rate: Rate, gap: Expression, mark: Name, meaning: Expression) -> Candidates:
    """The zeros of a formula for y, with what a mark in it stands for."""
    roots = solve_single(gap, rate.y, rate.facts, True, formulas_only=True)
    back = {mark: meaning}
    candidates = []
    for root in roots.found:
        value = simplify(substitute(root.value, back), rate.facts).expression
        candidates.append((value, tuple(substitute(c, back) for c in (*root.conditions, *roots.conditions))))
    return candidates, roots.lost
