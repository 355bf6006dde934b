"""Signs of sums: by the ranges of their functions, their numbers taken as one, and linear facts."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.expression import known as bits
from gelvo.expression.building import known_of_scaled, multiply_all, negate, number, power, scale, total
from gelvo.expression.nodes import Call, Expression, Name, Number, Power, Product, Sum
from gelvo.expression.order import ordered
from gelvo.expression.traversal import postorder
from gelvo.facts.knowledge import Knowledge
from gelvo.facts.linear import Row, contradictory, row_of
from gelvo.facts.sign_rules.numbers import sign_of_number, without_names
from gelvo.numbers.exact import Gaussian


def with_part(parts: list[Expression] | None, part: Expression | None) -> list[Expression] | None:
    if parts is None or part is None:
        return None
    parts.append(part)
    return parts


def outweighed(facts: Knowledge, node: Sum) -> int:
    """The sign of a sum in which functions of known range cannot outweigh the rest."""
    lows: list[Expression] | None = [number(node.constant)]  # None: there is no bound on that side
    highs: list[Expression] | None = [number(node.constant)]
    strict = False
    used = False
    for term, c in node.items():
        if isinstance(c, Gaussian):
            return bits.ANY
        if without_names(term):
            lows, highs = with_part(lows, scale(term, c)), with_part(highs, scale(term, c))
            continue
        ends = range_of(facts, term)
        mask = known_of_scaled(facts.memo[term], c)
        if ends is not None:
            used = True
            one, two = (None if e is None else scale(e, c) for e in ends[:2])
            lows, highs = with_part(lows, one if c > 0 else two), with_part(highs, two if c > 0 else one)
            strict = strict or ends[2]
        else:
            lows = lows if bits.is_nonnegative(mask) else None
            highs = highs if bits.is_nonpositive(mask) else None
            strict = strict or bits.is_nonzero(mask)
    return _sign_between(lows, highs, strict) if used else bits.ANY


def _sign_between(lows: list[Expression] | None, highs: list[Expression] | None, strict: bool) -> int:
    """The sign of what lies between two sums; strict: whether it reaches neither."""
    for parts, words in ((lows, (bits.POSITIVE, bits.NONNEGATIVE)), (highs, (bits.NEGATIVE, bits.NONPOSITIVE))):
        if parts is None:
            continue
        end = total(parts)
        sign = end.known if isinstance(end, Number) else sign_of_number(end)
        wanted = words[0]
        if not sign & ~wanted:
            return wanted
        if not sign & ~words[1]:
            return wanted if strict else words[1]
    return bits.ANY


def range_of(facts: Knowledge, term: Expression) -> tuple[Expression | None, Expression | None, bool] | None:
    """(lower, upper, whether the ends are never reached) of a function of a real argument, or of its powers."""
    if isinstance(term, Product):
        bounds = [_size(facts, f) for f in term.factors]
        if any(b is None for b in bounds):
            return None
        most = multiply_all([b for b in bounds if b is not None])
        return -most, most, False
    base, k = (term.base, term.exponent) if isinstance(term, Power) else (term, None)
    if not isinstance(base, Call) or base.function.range is None:
        return None
    if not all(bits.is_real(facts.memo.get(a, bits.ANY)) for a in base.arguments):
        return None
    below, above, strict = base.function.range
    low, high = (None if end is None else end() for end in (below, above))
    if k is None:
        return low, high, strict
    if not isinstance(k, Number) or not k.is_whole or k.rational <= 0:
        return None
    if int(k.rational) % 2 == 0 and not (low is not None and bits.is_nonnegative(low.known)):
        return number(0), None if high is None else power(high, k), False  # such ranges are the same on both sides of 0
    return None if low is None else power(low, k), None if high is None else power(high, k), strict


def _size(facts: Knowledge, factor: Expression) -> Expression | None:
    """The largest absolute value of a positive number, or of a function whose values lie as far below 0 as above."""
    if without_names(factor):
        return factor if bits.is_positive(sign_of_number(factor)) else None
    found = range_of(facts, factor)
    if found is None or found[0] is None or found[1] is None:
        return None
    return found[1] if found[0] is negate(found[1]) or (found[0].is_rational and not found[0].rational) else None


def numbers_as_one(facts: Knowledge, node: Sum) -> int:
    """a + sqrt(2) - 1 with the sign of the number sqrt(2) - 1."""
    numbers = [(t, c) for t, c in node.items() if without_names(t)]
    if not numbers:
        return bits.ANY
    if len(numbers) == len(node.terms):
        return sign_of_number(node)
    rest = [(known_of_scaled(facts.memo[t], c), 1) for t, c in node.items() if (t, c) not in numbers]
    together = bits.sum_known(rest)
    if together & bits.NEG and together & bits.POS:
        return bits.ANY
    one = total([*(scale(t, c) for t, c in numbers), number(node.constant)])
    return bits.sum_known([*rest, (sign_of_number(one), 1)])


def by_linear_facts(facts: Knowledge, expression: Sum) -> int:
    """The sign that follows from the facts as linear inequalities, with the known signs of the terms."""
    terms = {t for r in facts.rows for t in r.coefficients}
    if not facts.sums or not any(t in terms for t in expression.terms):
        return bits.ANY
    if not all(bits.is_real(facts.known(t)) for t in (*expression.terms, *terms)):
        return bits.ANY
    rows = list(facts.rows)
    for term in dict.fromkeys((*expression.terms, *ordered(terms))):
        mask = facts.known(term)
        sign = 1 if bits.is_nonnegative(mask) else -1 if bits.is_nonpositive(mask) else 0
        if sign:
            rows.append(Row({term: mpq(sign)}, mpq(0), bits.is_nonzero(mask)))
    for sign, strict, open_side in ((-1, bits.POSITIVE, bits.NONNEGATIVE), (1, bits.NEGATIVE, bits.NONPOSITIVE)):
        weak, strong = row_of(expression, False, sign), row_of(expression, True, sign)
        if weak is not None and contradictory([*rows, weak]):
            return strict
        if strong is not None and contradictory([*rows, strong]):
            return open_side
    return bits.ANY


def from_sum(facts: Knowledge, name: Name, core: Sum, fact: int) -> int:
    """E - m*c^2 > 0 makes E positive where m*c^2 is."""
    coefficient = dict(core.items()).get(name)
    if coefficient is None or isinstance(coefficient, Gaussian):
        return bits.ANY
    rest = total((core, scale(name, -coefficient)))
    if any(n is name for n in postorder(rest)):
        return bits.ANY
    combined = bits.sum_known([(fact, 1), (facts.known(negate(rest)), 1)])
    return bits.scaled(combined, 1 if coefficient > 0 else -1, False) | bits.FRACTIONAL
