"""What is known of a value once its parts are known: one rule for each kind of node."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.expression import known as bits
from gelvo.expression.building import known_of_power, known_of_scaled, known_of_sum, number, scale, total
from gelvo.expression.nodes import Call, Cases, Expression, Power, Product, Sum
from gelvo.expression.traversal import tree_size
from gelvo.facts.knowledge import Knowledge
from gelvo.facts.sign_rules.numbers import sign_of_number, without_names
from gelvo.facts.sign_rules.sums import numbers_as_one, outweighed
from gelvo.facts.sign_rules.waves import QUARTER, of_quotient, of_wave
from gelvo.functions.named import (
    ACOS,
    ASIN,
    ATAN,
    COS,
    COT,
    ELLIPE,
    ELLIPK,
    EXP,
    JACOBIDN,
    LAMBERTW,
    LAMBERTW_LOWER,
    LN,
    TAN,
    is_a,
)
from gelvo.numbers.exact import Gaussian

FEW_TERMS = 4
BELOW_ONE = (ELLIPK, ELLIPE, JACOBIDN)
MOST_UNDER_ROOTS = 40  # the size of what is looked at closely under a root
MOST_TERMS_BESIDE_FACTS = 60  # a longer sum is not taken apart fact by fact


def of_sum(facts: Knowledge, node: Sum) -> int:
    memo = facts.memo
    result = node.known & known_of_sum(node, [memo[t] for t in node.terms])
    if result & bits.NEG and result & bits.POS and len(node.terms) <= FEW_TERMS:
        result &= numbers_as_one(facts, node)
    fraction = isinstance(node.constant, mpq) and node.constant.denominator != 1
    if fraction and all(bits.is_integer(memo[t]) and c.denominator == 1 for t, c in node.items() if not isinstance(c, Gaussian)):
        result &= ~bits.NIL  # a whole number and a fraction
    memo[node] = result  # a fact about the sum may have the sum inside of a function
    if (result & bits.NEG and result & (bits.POS | bits.NIL)) or (result & bits.POS and result & bits.NIL):
        result &= outweighed(facts, node)
    if result & bits.NEG and result & bits.POS and len(node.terms) <= MOST_TERMS_BESIDE_FACTS:
        result &= _beside_facts(facts, node)
    return result


def _beside_facts(facts: Knowledge, node: Sum) -> int:
    """A sum less a positive multiple of a fact: what remains may have a clear sign."""
    pairs = dict(node.items())
    for core, mask in facts.sums:
        for term, coefficient in core.items():
            mine = pairs.get(term)
            if mine is None or isinstance(mine, Gaussian) or isinstance(coefficient, Gaussian):
                continue
            ratio = mine / coefficient
            rest = total((node, scale(core, -ratio)))
            if isinstance(rest, Sum) and len(rest.terms) >= len(node.terms):
                continue
            combined = bits.sum_known([(known_of_scaled(mask, ratio), 1), (facts.known(rest), 1)])
            if not (combined & bits.NEG and combined & bits.POS):
                return combined
    return bits.ANY


def of_product(facts: Knowledge, node: Product) -> int:
    return node.known & known_of_scaled(bits.product_known([facts.memo[f] for f in node.factors]), node.coefficient)


def of_power(facts: Knowledge, node: Power) -> int:
    base = facts.memo[node.base]
    if (
        base & bits.NEG
        and not bits.is_negative(base)
        and facts.table
        and isinstance(node.base, Sum)
        and not node.exponent.is_whole
    ):
        if tree_size(node.base) <= MOST_UNDER_ROOTS:
            base &= _closely(facts, node, node.base)[0]  # a root is real where what stands under it is not negative
    return node.known & known_of_power(node, base, facts.memo[node.exponent])


def of_cases(facts: Knowledge, node: Cases) -> int:
    result = 0
    for value in node.values:
        result |= facts.memo[value]
    return result


_LEAST = EXP(number(-1))


def _closely(facts: Knowledge, node: Expression, *questions: Expression) -> list[int]:
    """What is known of formulas at a closer look; nothing while that is being asked, by facts about the same function."""
    if node in facts.busy:
        return [bits.ANY] * len(questions)
    facts.busy.add(node)
    try:
        return [facts.decide(q) for q in questions]
    finally:
        facts.busy.discard(node)


def _within_one(facts: Knowledge, node: Call) -> bool:
    """Whether the argument of a function is known to lie between -1 and 1."""
    inner = node.arguments[0]
    return all(map(bits.is_nonnegative, _closely(facts, node, 1 + inner, 1 - inner)))


def _from_branch_point(facts: Knowledge, node: Call) -> bool:
    """Whether the argument is known to be at least -1/e."""
    return bits.is_nonnegative(_closely(facts, node, node.arguments[0] + _LEAST)[0])


def _of_logarithm(facts: Knowledge, node: Call, inner: Expression) -> int:
    """A logarithm has the sign of its argument less 1."""
    plain, gap = _closely(facts, node, inner, inner - 1)
    return gap | bits.FRACTIONAL if bits.is_positive(plain) and bits.is_real(gap) else bits.ANY


def _below_one(facts: Knowledge, node: Call) -> int:
    """The elliptic integrals and dn are positive where the parameter is below 1."""
    return bits.POSITIVE if bits.is_positive(_closely(facts, node, 1 - node.arguments[-1])[0]) else bits.ANY


def of_call(facts: Knowledge, node: Call) -> int:  # noqa: C901  (one line a function)
    memo = facts.memo
    result = node.known
    if node.function.known is not None:
        result &= node.function.known(*[memo[a] for a in node.arguments])
    inner = node.arguments[0]
    if is_a(node, LN) and facts.table and result & bits.NEG and result & bits.POS:
        result &= _of_logarithm(facts, node, inner)
    if is_a(node, COS) and is_a(inner, ATAN) and bits.is_real(memo[inner.arguments[0]]):
        result &= bits.POS | bits.FRACTIONAL  # an angle between -pi/2 and pi/2
    if node.name in QUARTER and result & bits.NEG and result & bits.POS and facts.table:
        result &= of_wave(facts, node)
    if is_a(node, TAN, COT) and result & bits.NEG and result & bits.POS and facts.sums:
        result &= of_quotient(facts, node)
    if is_a(node, ASIN, ACOS) and result & bits.NONREAL and facts.table and _within_one(facts, node):
        below_one = bits.is_positive(_closely(facts, node, 1 - inner)[0])
        result &= memo[inner] | bits.FRACTIONAL if is_a(node, ASIN) else bits.POSITIVE if below_one else bits.NONNEGATIVE
    if node.name in BELOW_ONE and bits.is_real(memo[inner]) and result & ~bits.POSITIVE:
        result &= _below_one(facts, node)
    if is_a(node, LAMBERTW) and result & bits.NONREAL and facts.table and _from_branch_point(facts, node):
        result &= bits.REAL  # real from -1/e on
    if is_a(node, LAMBERTW_LOWER) and result & bits.NONREAL and facts.table and bits.is_negative(memo[inner]):
        result &= bits.NEGATIVE if _from_branch_point(facts, node) else bits.ANY
    if result & bits.NEG and result & bits.POS and without_names(node):
        result &= sign_of_number(node)
    return result
