"""limit, series, add_up, multiply_up."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace
from fractions import Fraction
from functools import partial
from typing import Any

from gmpy2 import mpq

from gelvo.calculus import limits, sums
from gelvo.calculus.found import Found
from gelvo.calculus.local.expander import expanded
from gelvo.calculus.local.expansion import Expansion, Unclear
from gelvo.calculus.tidying import for_a_reader
from gelvo.checking.certificate import PROVED, REFUTED, SUPPORTED, Certificate, on_its_own_road
from gelvo.checking.limits import check_limit
from gelvo.checking.series import check_series
from gelvo.checking.sums import check_product, check_sum
from gelvo.deciding.suppositions import supposing
from gelvo.errors import DomainError, NoClosedForm
from gelvo.expression.building import bound, number, power, total, written
from gelvo.expression.constants import UNDEFINED
from gelvo.expression.nodes import Bound, Call, Condition, Expression, Name, Number
from gelvo.expression.traversal import bound_apart, contains, distinct_nodes, names, postorder, substitute
from gelvo.facts.divisors import new_divisors
from gelvo.facts.store import Facts
from gelvo.operations.answer import Answer, unevaluated
from gelvo.operations.expansion import Question, Series, plain_number
from gelvo.operations.inputs import take
from gelvo.operations.ranges import WHOLE, approaching, facts_over
from gelvo.operations.several import in_several, limit_in_several, series_in_several
from gelvo.refuted import note_refuted
from gelvo.roads import noted
from gelvo.simplifying.families.waves import CIRCULAR, HYPERBOLIC

LONGEST_COEFFICIENT = 130  # about 1 s


def limit(
    expression: Any, variable: Any, point: Any, side: str | None = None, given: Iterable[Any] = (), otherwise: str = "written"
) -> Answer:
    """The limit of a formula at a point.

    expression: an expression or text; variable: a real variable; point: an expression, "inf" or "-inf"; for several variables a list of
    them and a list of finite values, and the limit is `undefined` where it depends on the path, of which the certificate shows two;
    side: None (from both sides), "above" or "below"; given: facts; otherwise: "written" or "error" where no method decides.
    Returns an Answer; `undefined` where both sides differ or the formula oscillates, inf or -inf for growth without bound; its
    conditions say which letters must not be zero.
    Method: D. Gruntz, "On Computing Limits in a Symbolic Manipulation System" (1996).

    >>> import gelvo
    >>> gelvo.limit("sin(3*x)/x", "x", 0)
    3
    >>> gelvo.limit("abs(x)/x", "x", 0)
    undefined
    >>> gelvo.limit("1/(a*x + 1)", "x", "inf")
    0   # if a != 0
    >>> gelvo.limit("x^2*y/(x^2 + y^2)", ["x", "y"], [0, 0])
    0
    """
    if in_several(variable):
        return limit_in_several(expression, variable, point, side, given)
    if side not in (None, "above", "below"):
        raise DomainError(f'side is "above", "below" or None for both, not {side!r}')
    arguments = take(expression, point, variables=[variable], given=given)
    (f, place), (x,) = arguments.expressions, arguments.names
    f, x = bound_apart(f, x, (place,))
    if isinstance(place, Bound) and side is not None:
        raise DomainError(f"{place} can be approached from one side only: leave the side out")
    shown = written("limit_of", f, x, place)
    f, x, side, facts = approaching(f, x, place, side, arguments.facts)
    with noted() as by_result, supposing() as supposed:
        found = limits.limit(f, x, place, side, facts)
    if found is None:
        return unevaluated(shown, "no method decides this limit", otherwise)
    value = for_a_reader(found.value, facts)
    conditions = _conditions(supposed, value, f, x, place, facts)
    known = facts.with_facts(conditions)
    certificate = on_its_own_road(lambda: check_limit(f, x, place, side, value, known), by_result)
    if value is UNDEFINED and x.domain in WHOLE and certificate.verdict not in (PROVED, SUPPORTED):
        return unevaluated(shown, f"the formula oscillates, but not seen to do so through whole {x}", otherwise)
    if certificate.verdict == REFUTED:
        note_refuted("value", f, value)
        return unevaluated(shown, "the value that was found does not agree with the formula", otherwise)
    return Answer(value, lambda: certificate, conditions, found.road)


def _conditions(
    supposed: Iterable[Condition], result: Expression, f: Expression, x: Name, place: Expression, facts: Facts
) -> tuple[Condition, ...]:
    """What was supposed on the way, and what the result divides by."""
    letters = set(names(f, place)) - {x}
    stated = [c for c in supposed if letters.issuperset(names(c))]
    known = facts.with_facts(stated)
    return facts.open_conditions([*stated, *new_divisors(result, f, known, x)])


def _is_short(coefficient: Expression) -> bool:
    """Whether nobody waits for its simplification: each wave multiplies the forms that are tried."""
    waves = [n for n in postorder(coefficient) if isinstance(n, Call) and n.name in (*CIRCULAR, *HYPERBOLIC)]
    return distinct_nodes(coefficient) * (len(waves) + 1) <= LONGEST_COEFFICIENT


def _further(expression: Any, variable: Any, about: Any, given: Iterable[Any], through: Any) -> Series:
    """The same expansion through another power; a function of its own, so that what asks for it can be stored."""
    return series(expression, variable, about, through, given)


def series(expression: Any, variable: Any, about: Any = 0, through: Any = 5, given: Iterable[Any] = ()) -> Any:
    """The expansion of a formula about a point, up to and including a power.

    variable: one, or a list of several; then about is a point for each, and through the total power or a list with one for each;
    about: a point, "inf" or "-inf" (then in powers of 1/x); through: the last power kept; powers may be negative (a pole) or
    fractional (a branch point), and logarithms stay as coefficients. Returns a Series: an Answer with .coefficient(k), .terms
    and .next_power; raises NoClosedForm where there is no such expansion, or a different one on each side of the point (a fact
    such as "x > 0" chooses the side).

    >>> import gelvo
    >>> gelvo.series("sin(x)", "x", through=5)
    x - x^3/6 + x^5/120   # + O(x^7)
    >>> gelvo.series("1/(x*(1 - x))", "x", through=2).coefficient(-1)
    1
    >>> gelvo.series("exp(x)*cos(y)", ["x", "y"], [0, 0], through=2)
    1 + x + x^2/2 - y^2/2   # + terms of total power 3 and more
    """
    if in_several(variable):
        return series_in_several(expression, variable, about, through, given)
    given = tuple(given) if not isinstance(given, str) else given
    arguments = take(expression, about, through, variables=[variable], given=given)
    (f, place, last), (x,) = arguments.expressions, arguments.names
    if contains(place, x):
        raise DomainError(f"the point {place} contains the variable {x}")
    _check_last(last)
    f, x, side, facts = approaching(f, x, place, None, arguments.facts)
    u = facts.new_name("u", f, place)
    far = isinstance(place, Bound)
    sign = number(-1) if place is bound("-inf") or side == "below" else number(1)
    inside = substitute(f, {x: sign / u if far else place + sign * u})
    with noted() as by_result, supposing() as supposed:
        found = _expansion(inside, u, facts, last.rational, x - place if not far else 1 / x)
    local = sign / x if far else sign * (x - place)
    back = {u: local}
    plain = {e: for_a_reader(c, facts) if _is_short(c) else c for e, c in found.terms.items() if e <= last.rational}
    terms = {e: substitute(c, back) for e, c in plain.items()}
    beyond = _first_left_out(found, last.rational)
    kept = total([c * power(local, number(e)) for e, c in terms.items()])
    conditions = _conditions(supposed, kept, f, x, place, facts)
    known = facts.with_facts(conditions)
    certificate = on_its_own_road(lambda: check_series(f, x, u, place, side, plain, last.rational, known), by_result)
    if certificate.verdict == REFUTED:
        hint = "" if far or side else f" on both sides: state {x} > {place} or {x} < {place} as a fact"
        raise NoClosedForm(f"there is no expansion about {place} that holds{hint}")
    question = Question(f, x, place, known, partial(_further, expression, variable, about, given))
    return Series(question, terms, beyond, local, kept, lambda: certificate, conditions, "arithmetic of expansions")


def _check_last(last: Expression) -> None:
    if not (isinstance(last, Number) and last.is_rational) or last.rational > 200:
        raise DomainError(f"the last power is a number up to 200, not {last}")


def _first_left_out(found: Expansion, last: mpq) -> int | Fraction | None:
    first = next((e for e in found.terms if e > last), found.order)
    return None if first is None else plain_number(first)


def _expansion(inside: Expression, u: Name, facts: Facts, through: mpq, local: Expression) -> Expansion:
    """The expansion in powers of u > 0; NoClosedForm where there is none."""
    try:
        found = expanded(inside, u, facts, through)
    except (Unclear, DomainError) as fault:
        raise NoClosedForm(f"there is no expansion in powers of {local} there: {fault}") from None
    if found.order is not None and found.order.denominator >= 10**5:
        raise NoClosedForm("only the leading behaviour is known there, not an expansion in powers")
    return found


def add_up(expression: Any, index: Any, lower: Any, upper: Any, given: Iterable[Any] = (), otherwise: str = "written") -> Answer:
    """The sum of a term for a whole index from one end to the other.

    expression: the term; index: its variable; lower, upper: whole numbers or formulas, also "inf"; given: facts such as "n natural".
    Returns an Answer; a proved divergence is inf, -inf or undefined; a series that converges only for some values says for which.
    Methods: Gosper (1978), Zeilberger (1991), and series with a name (zeta, exponential, binomial).

    >>> import gelvo
    >>> gelvo.add_up("k^2", "k", 1, "n")
    n*(n + 1)*(2*n + 1)/6
    >>> gelvo.add_up("1/k^2", "k", 1, "inf")
    pi^2/6
    """
    return _collected("sum_of", sums.add_up, check_sum, expression, index, lower, upper, given, otherwise)


def multiply_up(
    expression: Any, index: Any, lower: Any, upper: Any, given: Iterable[Any] = (), otherwise: str = "written"
) -> Answer:
    """The product of a factor for a whole index from one end to the other.

    >>> import gelvo
    >>> gelvo.multiply_up("k", "k", 1, "n")
    factorial(n)
    """
    return _collected("product_of", sums.multiply_up, check_product, expression, index, lower, upper, given, otherwise)


def _check_ends(*ends: Expression) -> None:
    for end in ends:
        if not isinstance(end, Bound) and not names(end) and not (isinstance(end, Number) and end.is_whole):
            raise DomainError(f"an index runs over whole numbers, and {end} is none")


def _collected(
    kind: str,
    work: Callable[[Expression, Name, Expression, Expression, Facts], Found | None],
    check: Callable[[Expression, Name, Expression, Expression, Expression, Facts], Certificate],
    expression: object,
    index: object,
    lower: object,
    upper: object,
    given: Iterable[object],
    otherwise: str,
) -> Answer:
    arguments = take(expression, lower, upper, variables=[index], given=given)
    (f, low, high), (k,) = arguments.expressions, arguments.names
    f, k = bound_apart(f, k, (low, high))
    _check_ends(low, high)
    facts = facts_over(k, low, high, arguments.facts, "sum")
    with noted() as by_result:
        found = work(f, k, low, high, facts)
    if found is None:
        return unevaluated(written(kind, f, k, low, high), "no method found a closed form", otherwise)
    conditions = facts.open_conditions(found.conditions)
    value = for_a_reader(found.value, facts.with_facts(conditions))
    conditions = facts.open_conditions([*conditions, *new_divisors(value, f, facts.with_facts(conditions), k)])
    under = facts.with_facts(conditions)
    certificate = replace(on_its_own_road(lambda: check(f, k, low, high, value, under), by_result), conditions=conditions)
    if certificate.verdict == REFUTED:
        note_refuted("value", f, value)
        return unevaluated(written(kind, f, k, low, high), "the value that was found does not agree with the formula", otherwise)
    return Answer(value, lambda: certificate, conditions, found.road)
