"""An integral led to one whose value is a theorem, by changes of variable that are sound for every integral that converges."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial
from itertools import islice

from gelvo.checking.proposals import proposes_a_mean
from gelvo.checking.values.around import residues_around_the_half_line
from gelvo.checking.values.beta import beta_integrals
from gelvo.checking.values.contours import residues_over_the_line
from gelvo.checking.values.converging import converges_absolutely
from gelvo.checking.values.geometric import geometric_series
from gelvo.checking.values.moments import by_moments
from gelvo.checking.values.partial_fractions import beside_partial_fractions
from gelvo.checking.values.rows import integrals_with_a_name
from gelvo.checking.values.split import by_an_image, by_parts, term_by_term
from gelvo.checking.values.swings import time_of_a_swing
from gelvo.checking.values.value import Question, Theorem, Value
from gelvo.checking.values.waves import powers_of_sine_and_cosine
from gelvo.deciding.equality import prove_zero
from gelvo.errors import GelvoError
from gelvo.expression.building import number, power
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, ONE, PI, ZERO
from gelvo.expression.nodes import Bound, Call, Expression, Name, Node, Number, Power
from gelvo.expression.traversal import contains, has_call, postorder, substitute, transform, tree_size
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.forms.measure import measure
from gelvo.functions.named import ATAN, COS, COSH, COT, COTH, CSCH, EXP, LN, SECH, SIN, SINH, TAN, TANH, is_a
from gelvo.normal.prepare import prepared
from gelvo.roads import on_the_way
from gelvo.simplifying.families.waves import by_multiple_angles
from gelvo.simplifying.search import simplify
from gelvo.simplifying.splitting import expand_only

Move = Callable[[Question, Name, Facts], Question | None]


def values_by_theorem(question: Question, x: Name, facts: Facts, by_ends: Theorem | None) -> Iterator[Value]:
    """What theorems say of the integral itself, one after the other.

    by_ends: what an antiderivative says of a question; with it, what they say of all that the integral can be moved to.
    """
    if by_ends is None:
        for way, same in (("", question), *((f"{name}; ", q) for name, q in _moved(question, x, facts, SYMMETRIES))):
            for theorem in THEOREMS:
                yield from (Value(v.value, f"{way}{v.road}") for v in _asked(theorem, same, x, facts))
        return
    seen = {question: ""}
    waiting = [(moved, f"{name}; ") for name, moved in _moved(question, x, facts, MOVES)]
    for _ in range(MOST_QUESTIONS):
        if not waiting:
            break
        question, way = waiting.pop(0)
        if question in seen:
            continue
        seen[question] = way
        for theorem in THEOREMS:
            yield from (Value(v.value, f"{way}{v.road}") for v in _asked(theorem, question, x, facts))
        waiting += [(moved, f"{way}{name}; ") for name, moved in _moved(question, x, facts, MOVES)]
    for question, way in list(seen.items())[1:]:  # an antiderivative takes longest
        if tree_size(question[0]) <= LARGEST or not any(isinstance(n, Call) and contains(n, x) for n in postorder(question[0])):
            yield from (Value(v.value, f"{way}{v.road}") for v in _asked(by_ends, question, x, facts))


def values_by_splitting(question: Question, x: Name, facts: Facts, by_ends: Theorem) -> Iterator[Value]:
    """What theorems say of the terms, or of the integral that is left by parts, and an antiderivative of a mean."""

    def directly(other: Question, y: Name, under: Facts) -> Iterator[Value]:
        return values_by_theorem(other, y, under, None)

    for split in (term_by_term, by_parts):
        yield from _asked(partial(split, known=directly), question, x, facts)
    yield from _asked(partial(by_an_image, known=by_ends), question, x, facts)


def _moved(question: Question, x: Name, facts: Facts, moves: dict[str, Move]) -> Iterator[tuple[str, Question]]:
    for name, move in moves.items():
        try:
            moved = move(question, x, facts)
        except (GelvoError, ZeroDivisionError):
            continue
        if moved is not None:
            yield name, moved


MOST_QUESTIONS = 6
LARGEST = 24  # of moved integrands with functions whose antiderivative is looked for; of longer ones there is none, after seconds


@on_the_way("theorems on integrals")
def _asked(theorem: Theorem, question: Question, x: Name, facts: Facts) -> list[Value]:
    try:
        return list(theorem(question, x, facts))
    except (GelvoError, ZeroDivisionError):
        return []


def _moments(question: Question, x: Name, facts: Facts) -> Iterator[Value]:
    f, lower, upper = question
    if lower is ZERO and upper is INFINITE:
        yield from by_moments(f, x, facts.with_facts([x > ZERO]))


def _odd(question: Question, x: Name, facts: Facts) -> Iterator[Value]:
    """An odd integrand between opposite ends, continuous there, and small far out."""
    f, lower, upper = question
    if _opposite(lower, upper) and prove_zero(substitute(f, {x: -x}) + f, facts) and converges_absolutely(question, x, facts):
        yield Value(ZERO, "an odd integrand between opposite ends")


def _mean(question: Question, x: Name, facts: Facts) -> Iterator[Value]:
    """A function and its mirror image whose sum is constant: the length times the value in the middle."""
    f, lower, upper = question
    if isinstance(lower, Bound) or isinstance(upper, Bound) or not proposes_a_mean(f, x, lower, upper):
        return
    inside = substitute(f, {x: (lower + upper) / 2})
    both = f + substitute(f, {x: lower + upper - x}) - 2 * inside
    if prove_zero(both, facts.with_facts([lower < x, x < upper])) and converges_absolutely(question, x, facts):
        yield Value((upper - lower) * inside, "a mirror image that adds up to a constant")


def _opposite(lower: Expression, upper: Expression) -> bool:
    if isinstance(lower, Bound) or isinstance(upper, Bound):
        return lower is MINUS_INFINITE and upper is INFINITE
    return factored(lower + upper) is ZERO


THEOREMS: tuple[Theorem, ...] = (
    _moments,
    residues_over_the_line,
    residues_around_the_half_line,
    beside_partial_fractions,
    integrals_with_a_name,
    geometric_series,
    beta_integrals,
    powers_of_sine_and_cosine,
    time_of_a_swing,
    _odd,
    _mean,
)


# --- changes of variable ----------------------------------------------------------------------------------------------------------


def _over(f: Expression, x: Name, place: Expression, slope: Expression, facts: Facts) -> Expression | None:
    """The integrand at x = place times its slope, in a short form that is proved to be the same where the facts hold."""
    whole = substitute(f, {x: place}) * slope
    short = simplify(whole, facts).expression
    return short if short is whole or prove_zero(short - whole, facts) else None


def _forwards(f: Expression | None) -> Question | None:
    return None if f is None else (f, ZERO, INFINITE)


def _even_over_the_line(question: Question, x: Name, facts: Facts) -> Question | None:
    f, lower, upper = question
    if lower is not MINUS_INFINITE or upper is not INFINITE:
        return None
    return (2 * f, ZERO, INFINITE) if prove_zero(substitute(f, {x: -x}) - f, facts) else None


def _halves_of_the_line(question: Question, x: Name, facts: Facts) -> Question | None:
    f, lower, upper = question
    if lower is not MINUS_INFINITE or upper is not INFINITE:
        return None
    mirrored = substitute(f, {x: -x})
    if not converges_absolutely(question, x, facts):  # else the halves may run off, and their sum not
        return None
    return _forwards(_over(f + mirrored, x, x, ONE, facts.with_facts([x > ZERO])))


def _exponential(question: Question, x: Name, facts: Facts) -> Question | None:
    """x = ln(t) over the line."""
    f, lower, upper = question
    if lower is not MINUS_INFINITE or upper is not INFINITE or not has_call(f, (EXP,)):
        return None
    whole = prepared(substitute(f, {x: LN(x)}), facts.with_facts([x > ZERO])) / x
    return None if has_call(whole, (EXP,), x) else (factored(whole), ZERO, INFINITE)


def _logarithm(question: Question, x: Name, facts: Facts) -> Question | None:
    """x = exp(-t) between 0 and 1, beside logarithms."""
    f, lower, upper = question
    if lower is not ZERO or upper is not ONE or not has_call(f, (LN,)):
        return None
    return _forwards(_over(f, x, EXP(-x), EXP(-x), facts.with_facts([x > ZERO])))


def _logarithm_as_it_stands(question: Question, x: Name, facts: Facts) -> Question | None:
    """The same, where ln(1 - x) is to become ln(1 - exp(-t))."""
    f, lower, upper = question
    if lower is not ZERO or upper is not ONE or not has_call(f, (LN,)):
        return None

    def visit(node: Node) -> Node:
        if is_a(node, LN) and is_a(node.arguments[0], EXP):
            return node.arguments[0].arguments[0]
        return EXP(node.base.arguments[0] * node.exponent) if isinstance(node, Power) and is_a(node.base, EXP) else node

    return transform(substitute(f, {x: EXP(-x)}) * EXP(-x), visit), ZERO, INFINITE


def _ratio(question: Question, x: Name, facts: Facts) -> Question | None:
    """x = t/(1 + t) between 0 and 1."""
    f, lower, upper = question
    if lower is not ZERO or upper is not ONE:
        return None
    return _forwards(_over(f, x, x / (1 + x), power(1 + x, number(-2)), facts.with_facts([x > ZERO])))


def _has_powers(f: Expression, x: Name) -> bool:
    """Of the angle itself: powers of an arctangent lead no further."""
    return any(isinstance(n, Power) and n.base is x for n in postorder(f))


def _tangent(question: Question, x: Name, facts: Facts) -> Question | None:
    """x = atan(t) over a quarter turn."""
    f, lower, upper = question
    if lower is not ZERO or upper is not PI / 2:
        return None
    hypotenuse = power(1 + x**2, number(1) / 2)
    table: dict[Expression, Expression] = {SIN(x): x / hypotenuse, COS(x): 1 / hypotenuse, TAN(x): x, COT(x): 1 / x}
    marks = list(islice(facts.new_names("w", f), len(table)))
    marked = substitute(f, dict(zip(table, marks, strict=False)))
    if _has_powers(marked, x):
        return None
    plain = substitute(marked, {x: ATAN(x)})
    turned = substitute(plain, dict(zip(marks, table.values(), strict=False)))
    if has_call(turned, (SIN, COS, TAN, COT), x):
        return None
    return _forwards(_over(turned, x, x, 1 / (1 + x**2), facts.with_facts([x > ZERO])))


def _folded(question: Question, x: Name, facts: Facts) -> Question | None:
    """Both halves of an interval upon each other."""
    f, lower, upper = question
    if isinstance(lower, Bound) or isinstance(upper, Bound):
        return None
    middle = (lower + upper) / 2
    mirrored = substitute(f, {x: lower + upper - x})
    if prove_zero(mirrored - f, facts):
        return 2 * f, lower, middle
    if not converges_absolutely(question, x, facts):
        return None
    both = _over(f + mirrored, x, x, ONE, facts.with_facts([lower < x, x < middle]))
    return None if both is None or measure(both) > measure(f) else (both, lower, middle)


def _from_the_end(question: Question, x: Name, facts: Facts) -> Question | None:
    """x = a + t from a to infinity."""
    f, lower, upper = question
    if upper is not INFINITE or isinstance(lower, Bound) or lower is ZERO:
        return None
    return substitute(f, {x: lower + x}), ZERO, INFINITE


def _inverse(question: Question, x: Name, facts: Facts) -> Question | None:
    """x = 1/t, where functions of 1/x stand."""
    f, lower, upper = question
    if lower is not ZERO or upper is not INFINITE:
        return None
    inside = [n for n in postorder(f) if isinstance(n, Power) and n.base is x and facts.is_negative(n.exponent)]
    if not any(isinstance(n, Call) and any(contains(n, p) for p in inside) for n in postorder(f)):
        return None
    return _forwards(_over(f, x, 1 / x, power(x, number(-2)), facts.with_facts([x > ZERO])))


def _whole_turns(question: Question, x: Name, facts: Facts) -> Question | None:
    """A periodic integrand over whole turns: as often that from -pi to pi."""
    f, lower, upper = question
    if isinstance(lower, Bound) or isinstance(upper, Bound) or not has_call(f, (SIN, COS, TAN, COT)):
        return None
    turns = factored((upper - lower) / (2 * PI))
    even = has_call(f, (COS, TAN, COT))
    if not isinstance(turns, Number) or not turns.is_whole or turns.rational < 1 or (lower is -PI and upper is PI and even):
        return None
    if not prove_zero(substitute(f, {x: x + 2 * PI}) - f, facts):
        return None
    turned = f if even else substitute(f, {x: PI / 2 - x})  # sines as cosines, which are even
    return turns * turned, -PI, PI


def _mirrored_turn(question: Question, x: Name, facts: Facts) -> Question | None:
    """An even integrand from -pi to pi: twice that from 0."""
    f, lower, upper = question
    if lower is not -PI or upper is not PI or not prove_zero(substitute(f, {x: -x}) - f, facts):
        return None
    return 2 * f, ZERO, PI


def _half_angle(question: Question, x: Name, facts: Facts) -> Question | None:
    """x = 2*atan(t): from -pi to pi over the line, from 0 to pi forwards, from 0 to pi/2 up to 1."""
    f, lower, upper = question
    if (lower, upper) not in HALF_ANGLES or not has_call(f, (SIN, COS)):
        return None
    single = expand_only(f, "trigonometric", facts)
    table: dict[Expression, Expression] = {SIN(x): 2 * x / (1 + x**2), COS(x): (1 - x**2) / (1 + x**2)}
    marks = dict(zip(table, facts.new_names("w", f), strict=False))
    marked = substitute(single, marks)
    if _has_powers(marked, x):
        return None
    marked = substitute(marked, {x: 2 * ATAN(x)})
    if has_call(marked, (SIN, COS), x) or not prove_zero(single - f, facts):
        return None
    turned = factored(substitute(marked, {mark: table[wave] for wave, mark in marks.items()}) * 2 / (1 + x**2))
    return turned, *HALF_ANGLES[(lower, upper)]


HALF_ANGLES: dict[tuple[Expression, Expression], tuple[Expression, Expression]] = {
    (-PI, PI): (MINUS_INFINITE, INFINITE),
    (ZERO, PI): (ZERO, INFINITE),
    (ZERO, PI / 2): (ZERO, ONE),
}


def _half_of_the_line(question: Question, x: Name, facts: Facts) -> Question | None:
    """An even integrand with waves: half of that over the line."""
    f, lower, upper = question
    if lower is not ZERO or upper is not INFINITE or not has_call(f, (SIN, COS)):
        return None
    return (f / 2, MINUS_INFINITE, INFINITE) if prove_zero(substitute(f, {x: -x}) - f, facts) else None


def _by_exponentials(question: Question, x: Name, facts: Facts) -> Question | None:
    """1/cosh(x)^k and its like far out, in falling exponentials: 2*exp(x)/(exp(2*x) + 1)."""
    f, lower, upper = question
    if lower is not ZERO or upper is not INFINITE or not has_call(f, HYPERBOLIC, x):
        return None

    def visit(node: Node) -> Node:
        if not is_a(node, *HYPERBOLIC):
            return node
        assert node.function.as_elementary is not None
        return node.function.as_elementary(*node.arguments)

    return factored(transform(f, visit)), lower, upper


HYPERBOLIC = (SINH, COSH, TANH, COTH, SECH, CSCH)


def _of_a_logarithm(question: Question, x: Name, facts: Facts) -> Question | None:
    """x = exp(-t) between 0 and 1, where ln(x) is the one function beside a quotient."""
    calls = {n for n in postorder(question[0]) if isinstance(n, Call) and contains(n, x)}
    return _logarithm_as_it_stands(question, x, facts) if calls == {LN(x)} else None


def _of_one_angle(question: Question, x: Name, facts: Facts) -> Question | None:
    """Logarithms of squares of waves by the double angle, and an angle k*x as the variable: ln(a*cos(x)^2 + b*sin(x)^2), ln(2 + cos(3*x))."""
    f, lower, upper = question
    if isinstance(lower, Bound) or isinstance(upper, Bound) or not has_call(f, (LN,), x) or not has_call(f, (SIN, COS), x):
        return None

    def visit(node: Node) -> Node:
        turned = by_multiple_angles(node.arguments[0], facts, False) if is_a(node, LN) and contains(node, x) else None
        return node if turned is None else LN(expand(turned))

    plain = transform(f, visit)
    angles = {n.arguments[0] for n in postorder(plain) if is_a(n, SIN, COS) and contains(n, x)}
    rate = factored(angles.pop() / x) if len(angles) == 1 else ZERO
    if not isinstance(rate, Number) or not rate.is_whole or rate.rational < 2 or not prove_zero(plain - f, facts):
        return None
    return substitute(plain, {x: x / rate}) / rate, rate * lower, rate * upper


SYMMETRIES: dict[str, Move] = {
    "one angle": _of_one_angle,
    "x = exp(-t)": _of_a_logarithm,
    "even": _even_over_the_line,
    "half of the line": _half_of_the_line,
    "by exponentials": _by_exponentials,
}
MOVES: dict[str, Move] = {
    **SYMMETRIES,
    "both halves of the line": _halves_of_the_line,
    "x = ln(t)": _exponential,
    "x = exp(-t)": _logarithm,
    "x = exp(-t), as it stands": _logarithm_as_it_stands,
    "x = t/(1 + t)": _ratio,
    "x = atan(t)": _tangent,
    "both halves upon each other": _folded,
    "x = 1/t": _inverse,
    "whole turns": _whole_turns,
    "an even integrand": _mirrored_turn,
    "x = 2*atan(t)": _half_angle,
    "x = a + t": _from_the_end,
}
