"""Products held against induction, and infinite ones against gamma functions."""

from __future__ import annotations

from gelvo.checking.certificate import PROVED, REFUTED, SUPPORTED, UNDECIDED, Certificate
from gelvo.checking.sums.finite import product_by_induction
from gelvo.checking.sums.partial import by_partial_form
from gelvo.checking.sums.poles import zeros_of
from gelvo.deciding.equality import decide_zero
from gelvo.errors import GelvoError
from gelvo.expression.building import multiply_all, number, power, total
from gelvo.expression.constants import INFINITE
from gelvo.expression.nodes import Bound, Expression, Name, Number
from gelvo.expression.traversal import names, substitute
from gelvo.facts.store import Facts
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import GAMMA
from gelvo.simplifying.partial_fractions import split_fraction


def check_product(f: Expression, k: Name, lower: Expression, upper: Expression, value: Expression, facts: Facts) -> Certificate:
    """A product by induction over its upper end."""
    claim = f"product_of({f}, {k}, {lower}, {upper}) = {value}"
    if upper is INFINITE and not isinstance(value, Bound) and isinstance(lower, Number) and lower.is_whole:
        told = _by_gammas(f, k, int(lower.rational), value, facts, claim)
        return told if told.verdict != UNDECIDED else by_partial_form(f, k, lower, value, facts, claim, product=True) or told
    if isinstance(value, Bound) or isinstance(upper, Bound):
        return Certificate(claim, UNDECIDED, "products without end were not looked at")
    letters = names(upper)
    if len(letters) != 1:
        if not (isinstance(lower, Number) and lower.is_whole and isinstance(upper, Number) and upper.is_whole):
            return Certificate(claim, UNDECIDED, "a product of which the ends are no whole numbers was not looked at")
        written_out = multiply_all([substitute(f, {k: number(j)}) for j in range(int(lower.rational), int(upper.rational) + 1)])
        same = decide_zero(written_out - value, facts).zero
        return Certificate(claim, PROVED if same else UNDECIDED if same is None else REFUTED, "written out")
    n = letters[0]
    if not decide_zero(substitute(upper, {n: n + 1}) - upper - 1).zero:
        return Certificate(claim, UNDECIDED, "a product of which the end does not grow by one was not looked at")
    if n in names(f) or n in names(lower):
        return _exact_products(f, k, lower, upper, value, n, facts, claim)
    decided = product_by_induction(f, k, lower, upper, n, value, facts)
    verdict = PROVED if all(decided) else REFUTED if False in decided else UNDECIDED
    return Certificate(claim, verdict, "induction: the quotient of two neighbours is the factor, and the product of one factor")


def _exact_products(
    f: Expression, k: Name, lower: Expression, upper: Expression, value: Expression, n: Name, facts: Facts, claim: str
) -> Certificate:
    """Products written out for small ends, where the factor itself changes with the end and no induction runs over it."""
    method = "products written out for small upper ends"
    agreed = 0
    for j in range(1, 7):
        table = {n: number(j)}
        ends = [substitute(e, table) for e in (lower, upper)]
        if not all(isinstance(e, Number) and e.is_whole for e in ends):
            return Certificate(claim, UNDECIDED, method)
        listed = range(int(ends[0].rational), int(ends[1].rational) + 1)
        inside = substitute(f, table)
        try:
            gap = multiply_all([substitute(inside, {k: number(i)}) for i in listed]) - substitute(value, table)
            same = decide_zero(gap, facts.without(n)).zero
        except GelvoError:
            continue
        if same is False:
            return Certificate(claim, REFUTED, method, {"counterexample": f"{n} = {j}"})
        agreed += bool(same)
    return Certificate(claim, SUPPORTED if agreed > 2 else UNDECIDED, method, {"agreed": f"at {agreed} ends"})


def _by_gammas(f: Expression, k: Name, lower: int, value: Expression, facts: Facts, claim: str) -> Certificate:
    """The product of (k - p)/(k - q) over zeros p and poles q of the same number and sum is that of gamma(lower - q)/gamma(lower - p).

    Source: E. Whittaker, G. Watson, "A Course of Modern Analysis" (1927), 12.13.
    """
    method = "gamma functions of the zeros and poles of the factor"
    known = facts.without(k)
    try:
        sides = [_zeros(part, k) for part in quotient_parts(factored(f))]
        (above, one), (below, other) = sides
        even = (
            len(above) == len(below)
            and decide_zero(one - other, known).zero
            and decide_zero(total(above) - total(below), known).zero
        )
        if not even:
            return Certificate(claim, UNDECIDED, "the factors were not seen to go to 1 fast enough")
        gammas = [multiply_all([GAMMA(lower - p) for p in side]) for side in (below, above)]
        same = decide_zero(gammas[0] - value * gammas[1], known).zero
    except (GelvoError, ArithmeticError):
        return Certificate(claim, UNDECIDED, "products without end of which the factor has no form were not looked at")
    verdict = PROVED if same else UNDECIDED if same is None else REFUTED
    return Certificate(claim, verdict, method, {"established": "the number and the sum of the zeros and of the poles"})


def _zeros(polynomial: Expression, k: Name) -> tuple[list[Expression], Expression]:
    """The zeros, each as often as it is one, and the leading coefficient."""
    top, content, factors = split_fraction(1 / polynomial, k)
    leading = content / top[0] * multiply_all([power(base[-1], number(times)) for base, times in factors])
    return [zero for base, times in factors for zero, _ in zeros_of(base) for _ in range(times)], leading
