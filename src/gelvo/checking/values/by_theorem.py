"""An integral led to one whose value is a theorem, by changes of variable that are sound for every integral that converges."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from gelvo.checking.values.moments import Value, by_moments
from gelvo.deciding.equality import decide_zero
from gelvo.errors import GelvoError
from gelvo.expression.building import number, power, total
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, ONE, PI, ZERO
from gelvo.expression.nodes import Bound, Expression, Name
from gelvo.expression.traversal import contains, has_call, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms.fractions import factored
from gelvo.functions.named import COS, COT, EXP, LN, SIN, TAN, is_a
from gelvo.normal.prepare import prepared
from gelvo.roads import on_the_way
from gelvo.simplifying.search import simplify

Question = tuple[Expression, Expression, Expression]  # integrand, lower end, upper end
Move = Callable[[Question, Name, Facts], Question | None]


def values_by_theorem(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Iterator[Value]:
    """What theorems say of the integral, one after the other."""
    seen: set[Question] = set()
    waiting: list[tuple[Question, str]] = [((f, lower, upper), "")]
    for _ in range(MOST_QUESTIONS):
        if not waiting:
            return
        question, way = waiting.pop(0)
        if question in seen:
            continue
        seen.add(question)
        for theorem in THEOREMS:
            found = _asked(theorem, question, x, facts)
            if found is not None:
                yield Value(found.value, f"{way}{found.road}")
        for name, move in MOVES.items():
            try:
                turned = move(question, x, facts)
            except (GelvoError, ZeroDivisionError):
                continue
            if turned is not None:
                waiting.append((turned, f"{way}{name}; "))


MOST_QUESTIONS = 6


@on_the_way("theorems on integrals")
def _asked(theorem: Callable[[Expression, Name, Expression, Expression, Facts], Value | None], question: Question, x: Name, facts: Facts) -> Value | None:
    try:
        return theorem(question[0], x, question[1], question[2], facts)
    except (GelvoError, ZeroDivisionError):
        return None


def _moments(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Value | None:
    return by_moments(f, x, facts.with_facts([x > ZERO])) if lower is ZERO and upper is INFINITE else None


THEOREMS: tuple[Callable[[Expression, Name, Expression, Expression, Facts], Value | None], ...] = (_moments,)


# --- changes of variable ----------------------------------------------------------------------------------------------------------


def _over(f: Expression, x: Name, place: Expression, slope: Expression, facts: Facts) -> Expression | None:
    """The integrand at x = place times its slope, in a short form that is proved to be the same."""
    whole = substitute(f, {x: place}) * slope
    short = simplify(whole, facts.with_facts([x > ZERO])).expression
    return short if short is whole or decide_zero(short - whole, facts.with_facts([x > ZERO])).zero else None


def _halves_of_the_line(question: Question, x: Name, facts: Facts) -> Question | None:
    f, lower, upper = question
    if lower is not MINUS_INFINITE or upper is not INFINITE:
        return None
    mirrored = substitute(f, {x: -x})
    if decide_zero(mirrored - f, facts).zero:
        return 2 * f, ZERO, INFINITE
    both = _over(f + mirrored, x, x, ONE, facts)
    return None if both is None else (both, ZERO, INFINITE)


def _exponential(question: Question, x: Name, facts: Facts) -> Question | None:
    """x = ln(t) over the line."""
    f, lower, upper = question
    if lower is not MINUS_INFINITE or upper is not INFINITE or not has_call(f, (EXP,)):
        return None
    whole = prepared(substitute(f, {x: LN(x)}), facts.with_facts([x > ZERO])) / x
    return None if has_call(whole, (LN, EXP)) and contains_exponential_of_log(whole, x) else (factored(whole), ZERO, INFINITE)


def contains_exponential_of_log(e: Expression, x: Name) -> bool:
    return any(is_a(n, EXP) and contains(n, x) for n in postorder(e))


def _logarithm(question: Question, x: Name, facts: Facts) -> Question | None:
    """x = exp(-t) between 0 and 1, beside logarithms."""
    f, lower, upper = question
    if lower is not ZERO or upper is not ONE or not has_call(f, (LN,)):
        return None
    turned = _over(f, x, EXP(-x), EXP(-x), facts)
    return None if turned is None else (turned, ZERO, INFINITE)


def _ratio(question: Question, x: Name, facts: Facts) -> Question | None:
    """x = t/(1 + t) between 0 and 1."""
    f, lower, upper = question
    if lower is not ZERO or upper is not ONE:
        return None
    turned = _over(f, x, x / (1 + x), power(1 + x, number(-2)), facts)
    return None if turned is None else (turned, ZERO, INFINITE)


def _tangent(question: Question, x: Name, facts: Facts) -> Question | None:
    """x = atan(t) over a quarter turn."""
    f, lower, upper = question
    if lower is not ZERO or upper is not PI / 2:
        return None
    hypotenuse = power(1 + x**2, number(1) / 2)
    table: dict[Expression, Expression] = {SIN(x): x / hypotenuse, COS(x): 1 / hypotenuse, TAN(x): x, COT(x): 1 / x}
    mark = facts.new_name("t", f)
    inside = substitute(substitute(f, table), {x: mark}) if not contains(substitute(f, dict.fromkeys(table, ONE)), x) else None
    if inside is None:
        return None
    turned = _over(substitute(inside, {mark: x}), x, x, 1 / (1 + x**2), facts)
    return None if turned is None else (turned, ZERO, INFINITE)


def _half_turn(question: Question, x: Name, facts: Facts) -> Question | None:
    """Both quarters of half a turn upon each other."""
    f, lower, upper = question
    if lower is not ZERO or upper is not PI or not has_call(f, (SIN, COS, TAN)):
        return None
    both = _over(f + substitute(f, {x: PI - x}), x, x, ONE, facts.with_facts([x < PI / 2]))
    return None if both is None else (both, ZERO, PI / 2)


def _from_the_end(question: Question, x: Name, facts: Facts) -> Question | None:
    """x = a + t from a to infinity."""
    f, lower, upper = question
    if upper is not INFINITE or isinstance(lower, Bound) or lower is ZERO:
        return None
    return total([substitute(f, {x: lower + x})]), ZERO, INFINITE


MOVES: dict[str, Move] = {
    "both halves of the line": _halves_of_the_line,
    "x = ln(t)": _exponential,
    "x = exp(-t)": _logarithm,
    "x = t/(1 + t)": _ratio,
    "x = atan(t)": _tangent,
    "both quarters": _half_turn,
    "x = a + t": _from_the_end,
}
