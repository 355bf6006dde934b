"""Other forms of one part of a formula that may keep digits which this form loses: a list of rules, each from a part to equal parts.

Nothing here is believed: the search measures what a form gives, and proves that it is the same formula.
N. J. Higham, "Accuracy and Stability of Numerical Algorithms", 2nd ed. 2002, ch. 1; W. Kahan, "Branch Cuts for Complex
Elementary Functions" (1987), for the inverse functions near their ends.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from itertools import combinations, permutations

from gmpy2 import mpq

from gelvo.code.digits import differences
from gelvo.code.digits.complements import complements
from gelvo.code.digits.differences import gaps
from gelvo.code.digits.exactness import two_products
from gelvo.code.digits.numeric import CAREFUL, EXPM1, GROUPED, careful, expm1, grouped, hypot, is_numeric, log1p
from gelvo.code.fractions import is_power_of_two
from gelvo.errors import GelvoError
from gelvo.expression.building import multiply_all, number, power, scale, sqrt, total
from gelvo.expression.constants import ONE, PI, TWO, ZERO
from gelvo.expression.display import product_parts
from gelvo.expression.known import is_nonnegative
from gelvo.expression.nodes import Call, Cases, Constant, Expression, Name, Node, Number, Power, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import free_names, postorder, substitute, substitute_plain
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import FunctionName
from gelvo.numbers.exact import HALF, real

exp, ln, sin, cos, tan, sinh, cosh, tanh = map(FunctionName, ("exp", "ln", "sin", "cos", "tan", "sinh", "cosh", "tanh"))
asin, acos, atan2, asinh, acosh, atanh, absolute, maximum, floor = map(
    FunctionName, ("asin", "acos", "atan2", "asinh", "acosh", "atanh", "abs", "max", "floor")
)
Rule = Callable[[Expression, Facts], Iterable[Expression]]
FITTED = 1 << 30
MOST_TERMS = 8  # pairs are tried in sums of so many terms


# --- sums --------------------------------------------------------------------------------------------------------------------


def differences_in_sums(e: Expression, facts: Facts) -> Iterator[Expression]:
    """A*f(a) + B*f(b): the difference of f by its row, and what is left of A + B."""
    if not isinstance(e, Sum) or len(e.terms) > MOST_TERMS:
        return
    terms = [scale(t, c) for t, c in e.items()]
    for i, j in combinations(range(len(terms)), 2):
        others = [*(t for k, t in enumerate(terms) if k not in (i, j)), number(e.constant)]
        for found in (*_pair(terms[i], terms[j]), *_pair(terms[j], terms[i])):
            yield _beside(found, others)


def differences_from_numbers(e: Expression, facts: Facts) -> Iterator[Expression]:
    """f(u) with a number, or with a multiple of pi, by its own row."""
    if not isinstance(e, Sum) or len(e.terms) > MOST_TERMS:
        return
    terms = [scale(t, c) for t, c in e.items()]
    for i, term in enumerate(terms):
        others = [t for k, t in enumerate(terms) if k != i]
        if e.constant:
            for found, left in _with_constant(term, number(e.constant)):
                yield _beside(found, [*others, left])
        coefficient, factor = next(_splits(term), (ONE, term))
        if PI in e.terms and isinstance(coefficient, Number) and term is not PI:
            turns = real(dict(e.items())[PI])
            rest = [t for k, t in enumerate(terms) if k != i and e.terms[k] is not PI]
            for found in differences.with_pi(factor, turns / coefficient.rational):
                yield _beside(coefficient * found, [*rest, number(e.constant)])


def _beside(found: Expression, others: Iterable[Expression]) -> Expression:
    others = [o for o in others if not (isinstance(o, Number) and not o.value)]
    return total([_closed(found), *others]) if others else found


def _closed(e: Expression) -> Expression:
    """A sum, or a number times a sum, that stays one inside another."""
    if isinstance(e, Sum):
        return grouped(e)
    if isinstance(e, Product) and len(e.factors) == 1 and isinstance(e.factors[0], Sum):
        return scale(grouped(e.factors[0]), e.coefficient)
    return e


def _splits(term: Expression) -> Iterator[tuple[Expression, Expression]]:
    """(the other factors, a factor) of a term, for each factor that is a function or a power."""
    if isinstance(term, Product):
        for k, factor in enumerate(term.factors):
            if isinstance(factor, (Call, Power)):
                yield multiply_all([number(term.coefficient), *term.factors[:k], *term.factors[k + 1 :]]), factor
        if len(term.factors) == 1 or all(isinstance(f, Name) for f in term.factors):
            yield number(term.coefficient), multiply_all(term.factors)
    else:
        yield ONE, term


def _pair(one: Expression, other: Expression) -> Iterator[Expression]:
    for A, f in _splits(one):
        for B, g in _splits(other):
            if f is g:
                continue
            rest = expand(A + B)
            if isinstance(rest, Sum) and _meet(f, g):
                yield _sum_of(rest, g, A, f - g)
            if isinstance(rest, Sum) and len(rest.terms) + bool(rest.constant) >= _size(A) + _size(B):
                continue
            for found in differences.of_factors(f, g):
                yield A * found if _is_zero(rest) else _sum_of(rest, g, A, found)


def _meet(f: Expression, g: Expression) -> bool:
    """Whether two different functions of one name leave 0 together, so that their difference is small beside them: x and sin(x)."""
    own = free_names(f)
    simple = all(isinstance(h, (Name, Call)) for h in (f, g))
    return simple and len(own) == 1 and free_names(g) == own and all(_is_zero(substitute(h, {own[0]: ZERO})) for h in (f, g))


def _sum_of(rest: Expression, g: Expression, A: Expression, found: Expression) -> Expression:
    """A*f + B*g = (A + B)*g + A*(f - g)."""
    return total([_closed(rest * g), _closed(A * found)])


def _is_zero(e: Expression) -> bool:
    return isinstance(e, Number) and not e.value


def _size(e: Expression) -> int:
    e = expand(e)
    return len(e.terms) + bool(e.constant) if isinstance(e, Sum) else 1


def _with_constant(term: Expression, constant: Number) -> Iterator[tuple[Expression, Expression]]:
    for coefficient, factor in _splits(term):
        if not isinstance(coefficient, Number) or not coefficient.is_rational:
            continue
        whole = scale(constant, 1 / coefficient.rational)
        for k in dict.fromkeys((whole, ONE, -ONE)):
            left = constant - coefficient * k
            if abs(left.rational) < abs(constant.rational):
                for found in differences.with_number(factor, k):
                    yield coefficient * found, left


def conjugates(e: Expression, facts: Facts) -> Iterator[Expression]:
    """c*sqrt(A) + R = (c^2*A - R^2)/(c*sqrt(A) - R)."""
    if not isinstance(e, Sum) or len(e.terms) > MOST_TERMS:
        return
    for t, c in e.items():
        root = next((f for f in factors_in(t) if base_and_exponent(f)[1] == HALF_NUMBER), None)
        if root is None:
            continue
        term = scale(t, c)
        rest = e - term
        for top in gaps(_square(term), _square(rest)):
            yield top / (term - rest)


def _square(e: Expression) -> Expression:
    """The square of a real number, without sizes."""
    squares: list[Expression] = []
    for f in factors_in(e):
        base, exponent = base_and_exponent(f)
        inner = base.arguments[0] if isinstance(base, Call) and base.name == "abs" else base
        squares.append(power(inner, 2 * exponent))
    return multiply_all([number(e.coefficient * e.coefficient) if isinstance(e, Product) else ONE, *squares])


HALF_NUMBER = number(HALF)


def other_sums(e: Expression, facts: Facts) -> Iterator[Expression]:
    """In factors over one denominator, and multiplied out."""
    if isinstance(e, Sum):
        yield factored(e)
        yield expand(e)
        yield from _horner(e)


def _horner(e: Sum) -> Iterator[Expression]:
    """A polynomial in one name from its highest power down."""
    for x in free_names(e):
        powers: dict[int, list[Expression]] = {}
        for t, c in e.items():
            degree = 0
            rest: list[Expression] = [number(c)]
            for f in factors_in(t):
                base, exponent = base_and_exponent(f)
                if base is x and isinstance(exponent, Number) and exponent.is_whole and exponent.rational > 0:
                    degree = int(exponent.rational)
                else:
                    rest.append(f)
            powers.setdefault(degree, []).append(multiply_all(rest))
        if e.constant:
            powers.setdefault(0, []).append(number(e.constant))
        if max(powers) < 2 or len(powers) < 2 or max(powers) > 40:
            continue
        degrees = sorted(powers, reverse=True)
        result = total(powers[degrees[0]])
        for high, low in zip(degrees, [*degrees[1:], 0], strict=True):
            result = _closed(result) * power(x, number(high - low)) if high > low else result
            if low != high and low in powers:
                result = total([result, *powers[low]])
        yield result


def hyperbolic(e: Expression, facts: Facts) -> Iterator[Expression]:
    """c*exp(u) + d*exp(-u) by the hyperbolic functions for d = c and d = -c."""
    if not isinstance(e, Sum):
        return
    exponentials = [(k, t.arguments[0]) for k, t in enumerate(e.terms) if isinstance(t, Call) and t.name == "exp"]
    for (i, u), (j, v) in combinations(exponentials, 2):
        c, d = e.coefficients[i], e.coefficients[j]
        if not _is_zero(u + v) or abs(real(c)) != abs(real(d)):
            continue
        others = [scale(t, k) for n, (t, k) in enumerate(e.items()) if n not in (i, j)]
        pair = scale(cosh(u) if c == d else sinh(u), 2 * real(c))
        yield total([pair, *others, number(e.constant)])


def tangents(e: Expression, facts: Facts) -> Iterator[Expression]:
    """A sum with tan(u) or tanh(u) in it as one fraction of sines and cosines, whose parts meet term by term."""
    if not isinstance(e, Sum) or len(e.terms) > MOST_TERMS:
        return
    found = dict.fromkeys(b for t in e.terms for f in factors_in(t) if isinstance(b := base_and_exponent(f)[0], Call))
    parts: dict[Node, Expression] = {}
    for f in found:
        if f.name in ("tan", "tanh"):
            above, below = (sin, cos) if f.name == "tan" else (sinh, cosh)
            parts[f] = above(f.arguments[0]) / below(f.arguments[0])
    if parts:
        yield factored(substitute_plain(e, parts))


def split_sums(e: Expression, facts: Facts) -> Iterator[Expression]:
    """Some terms added up before the others."""
    if isinstance(e, Sum) and 3 <= len(e.terms) + bool(e.constant) <= 5:
        terms = [*(scale(t, c) for t, c in e.items()), *[number(e.constant)] * bool(e.constant)]
        for i, j in combinations(range(len(terms)), 2):
            first = total([terms[i], terms[j]])
            if isinstance(first, Sum):
                yield total([grouped(first), *(t for k, t in enumerate(terms) if k not in (i, j))])


# --- products and powers ----------------------------------------------------------------------------------------------------------


def ratios(e: Expression, facts: Facts) -> Iterator[Expression]:
    """Factors of one power as a quotient that is raised to it, which neither overflows nor vanishes before the division."""
    if not isinstance(e, Product):
        return
    powers: dict[int, list[tuple[Expression, int]]] = {}
    for factor in e.factors:
        _, exponent = base_and_exponent(factor)
        if isinstance(exponent, Number) and exponent.is_whole and abs(exponent.rational) >= 2:
            powers.setdefault(abs(int(exponent.rational)), []).append((factor, 1 if exponent.rational > 0 else -1))
    for n, group in powers.items():
        if len(group) >= 2 and len({s for _, s in group}) == 2:
            inner = multiply_all([power(base_and_exponent(f)[0], number(s)) for f, s in group])
            rest = [f for f in e.factors if all(f is not g for g, _ in group)]
            yield multiply_all([number(e.coefficient), *rest, power(grouped(inner), number(n))])


def divided_through(e: Expression, facts: Facts) -> Iterator[Expression]:
    """T/S^n with a power or an exponential of T, or a term of S, divided out of S."""
    if not isinstance(e, (Product, Power)):
        return
    for factor in factors_in(e):
        base, exponent = base_and_exponent(factor)
        if not isinstance(base, Sum) or not (isinstance(exponent, Number) and exponent.is_rational):
            continue
        rest = multiply_all(
            [
                number(getattr(e, "coefficient", ONE) if isinstance(e, Product) else 1),
                *[f for f in factors_in(e) if f is not factor],
            ]
        )
        for t in base.terms:
            if any(isinstance(f, Call) and f.name in ("exp", "cosh", "sinh") for f in factors_in(t)) or isinstance(
                t, (Name, Power)
            ):
                inner = expand(total([scale(s, c) / t for s, c in base.items()] + [number(base.constant) / t]))
                if exponent.is_whole:
                    yield rest * power(t, exponent) * power(inner, exponent)
                elif isinstance(t, Power) and t.exponent == TWO:
                    yield rest * power(absolute(t.base), 2 * exponent) * power(inner, exponent)
                elif isinstance(t, Name):
                    yield rest * power(absolute(t), exponent) * power(inner * t / absolute(t), exponent)


def hyperbolic_ratios(e: Expression, facts: Facts) -> Iterator[Expression]:
    """cosh(u)/sinh(u) by tanh, sinh(u)/sinh(v) by exponentials that fall."""
    if not isinstance(e, Product):
        return
    calls = [(k, *base_and_exponent(f)) for k, f in enumerate(e.factors)]
    for (i, a, p), (j, b, q) in combinations(calls, 2):
        if not (isinstance(a, Call) and isinstance(b, Call) and {a.name, b.name} <= {"sinh", "cosh"} and _is_zero(p + q)):
            continue
        rest = [number(e.coefficient), *[f for k, f in enumerate(e.factors) if k not in (i, j)]]
        u, v = a.arguments[0], b.arguments[0]
        if u is v:
            yield multiply_all([*rest, power(tanh(u), p if a.name == "sinh" else q)])
        else:
            yield multiply_all([*rest, power(exp(u - v) * _falling(a.name, u) / _falling(b.name, v), p)])


def _falling(name: str, u: Expression) -> Expression:
    """2*sinh(u)*exp(-u), or that of cosh."""
    return -expm1(-2 * u) if name == "sinh" else ONE + exp(-2 * u)


def decaying(e: Expression, facts: Facts) -> Iterator[Expression]:
    """sinh, cosh and tanh by exponentials that do not overflow: of the size of the argument."""
    if (
        isinstance(e, Power)
        and isinstance(e.base, Call)
        and e.base.name == "cosh"
        and isinstance(e.exponent, Number)
        and e.exponent.rational < 0
    ):
        u = absolute(e.base.arguments[0])
        yield power(2 * exp(-u) / (ONE + exp(-2 * u)), -e.exponent)


def roots(e: Expression, facts: Facts) -> Iterator[Expression]:
    """The root of a sum of squares by hypot."""
    if not (isinstance(e, Power) and isinstance(e.exponent, Number) and abs(e.exponent.rational) == HALF):
        return
    base: Expression = e.base
    front: Expression = ONE
    if isinstance(base, Product) and len(base.factors) == 1:
        front, base = number(base.coefficient), base.factors[0]
    if not isinstance(base, Sum):
        return
    terms: list[Expression] = [_opened(scale(t, c) * front) for t, c in base.items()] + [number(base.constant) * front] * bool(
        base.constant
    )
    sides = [_root_of(t) for t in terms]
    known = [s for s in sides if s is not None]
    if 2 <= len(known) == len(sides) <= 4:
        result = known[0]
        for side in known[1:]:
            result = hypot(result, side)
        yield result if e.exponent.rational > 0 else power(result, number(-1))


def _opened(term: Expression) -> Expression:
    """A product whose factors that are added up by themselves are products as well."""
    coefficient = number(term.coefficient) if isinstance(term, Product) else ONE
    inner = [f.arguments[0] if isinstance(f, Call) and f.function is GROUPED else f for f in factors_in(term)]
    return multiply_all([coefficient, *inner])


def _root_of(term: Expression) -> Expression | None:
    """A formula whose square a term is, where it is not negative; a term that is no number has a square in it."""
    if isinstance(term, Number):
        root = sqrt(term)
        return root if isinstance(root, Number) and term.rational >= 0 else None
    coefficient = number(term.coefficient) if isinstance(term, Product) else ONE
    if not isinstance(coefficient, Number) or not coefficient.is_rational or coefficient.rational < 0:
        return None
    halves: list[Expression] = []
    odd: list[Expression] = []
    for factor in factors_in(term):
        base, exponent = base_and_exponent(factor)
        if isinstance(exponent, Number) and exponent.is_whole and exponent.rational % 2 == 0:
            halves.append(power(base, number(exponent.rational / 2)))
        else:
            odd.append(absolute(factor))
    return multiply_all([*halves, sqrt(multiply_all([coefficient, *odd]))]) if halves else None


def powers_by_logarithm(e: Expression, facts: Facts) -> Iterator[Expression]:
    """(1 + u)^p = exp(p*log1p(u))."""
    if (
        isinstance(e, Power)
        and isinstance(e.base, Sum)
        and not (isinstance(e.exponent, Number) and abs(e.exponent.rational) <= 4)
    ):
        for d in gaps(e.base, ONE):
            yield exp(e.exponent * log1p(d))


# --- functions -----------------------------------------------------------------------------------------------------------------


def logarithms(e: Expression, facts: Facts) -> Iterator[Expression]:
    """ln near 1 by log1p, of quotients by their difference, of sums of exponentials by the largest."""
    if not (isinstance(e, Call) and e.name == "ln"):
        return
    u = e.arguments[0]
    if isinstance(u, Sum):
        for d in gaps(u, ONE):
            yield log1p(d)
        yield from _of_exponentials(u)
        yield from _area(u)
    if isinstance(u, Call):
        yield from _of_function(u)
    top, bottom = _quotient(u)
    if bottom is not ONE:
        yield from _of_quotient(top, bottom)
    elif isinstance(u, Product):
        yield total([ln(f) for f in ([number(u.coefficient)] if u.coefficient != 1 else []) + list(u.factors)])


def _of_quotient(top: Expression, bottom: Expression) -> Iterator[Expression]:
    for d in gaps(top, bottom):
        yield log1p(d / bottom)
    for d in gaps(bottom, top):
        yield -log1p(d / top)
    yield log1p(top - 1) - log1p(bottom - 1)
    yield ln(top) - ln(bottom)
    yield 2 * atanh(factored((top - bottom) / (top + bottom)))


def _of_function(u: Call) -> Iterator[Expression]:
    inner = u.arguments[0]
    size = absolute(inner)
    if u.name == "cosh":
        yield size + log1p(exp(-2 * size)) - ln(TWO)
        yield HALF_NUMBER * log1p(sinh(inner) ** 2)
    elif u.name == "sinh":
        yield size + log1p(-exp(-2 * size)) - ln(TWO)
    elif u.function is EXPM1:
        yield inner + ln(-expm1(-inner))


def _quotient(u: Expression) -> tuple[Expression, Expression]:
    coefficient, top, bottom = product_parts(u)
    number_above, number_below = real(coefficient).numerator, real(coefficient).denominator
    return multiply_all([number(number_above), *top]), multiply_all([number(number_below), *bottom])


def _of_exponentials(u: Sum) -> Iterator[Expression]:
    """ln of a sum with exponentials: the largest exponent goes in front."""
    exponents = [t.arguments[0] for t in u.terms if isinstance(t, Call) and t.name == "exp"]
    if not exponents:
        return
    for v in exponents:
        rest = expand(total([scale(t, c) * exp(-v) for t, c in u.items() if t is not exp(v)] + [number(u.constant) * exp(-v)]))
        c = next(c for t, c in u.items() if t is exp(v))
        yield v + log1p(scale(rest, 1 / real(c))) + ln(number(c))
    every = [*exponents, *[number(0)] * bool(u.constant)]
    if len(every) == len(u.terms) + bool(u.constant) and len(every) >= 2:
        if len(every) == 2 and set(u.coefficients) == {1} and u.constant in (0, 1):
            a, b = every
            yield maximum(a, b) + log1p(exp(-absolute(a - b)))
        largest = maximum(*every)
        shifted = [scale(exp(v - largest), c) for v, c in zip(exponents, u.coefficients, strict=True)] + [
            number(u.constant) * exp(-largest)
        ] * bool(u.constant)
        yield largest + ln(total(shifted))


def _area(u: Sum) -> Iterator[Expression]:
    """ln(x + sqrt(x^2 + 1)) and ln(x + sqrt(x^2 - 1))."""
    for t, c in u.items():
        if isinstance(t, Power) and t.exponent == HALF_NUMBER and c == 1:
            x = u - t
            left = expand(t.base - x**2)
            if left == ONE:
                yield asinh(x)
            elif left == -ONE:
                yield acosh(x)


def inverse_functions(e: Expression, facts: Facts) -> Iterator[Expression]:
    """acos, asin, acosh and atanh near the ends of what they take."""
    if not isinstance(e, Call) or e.name not in ("acos", "asin", "acosh", "atanh"):
        return
    u = e.arguments[0]
    below, above = (factored(expand(ONE - u)), factored(expand(ONE + u))) if isinstance(u, (Sum, Product)) else (ONE - u, ONE + u)
    if e.name == "acos":
        yield 2 * asin(sqrt(below / 2))
        yield PI - 2 * asin(sqrt(above / 2))
        yield atan2(sqrt(below * above), u)
    elif e.name == "asin":
        yield atan2(u, sqrt(below * above))
        yield PI / 2 - 2 * asin(sqrt(below / 2))
        if isinstance(u, Power) and u.exponent == HALF_NUMBER:
            yield acos(sqrt(factored(expand(ONE - u.base))))
            yield atan2(u, sqrt(factored(expand(ONE - u.base))))
    elif e.name == "acosh":
        yield log1p(-below + sqrt(-below * above))
        yield 2 * asinh(sqrt(-below / 2))
    else:
        yield HALF_NUMBER * log1p(2 * u / below)


def turns(e: Expression, facts: Facts) -> Iterator[Expression]:
    """sin and cos of pi*x after the whole turns are taken off x, which is exact."""
    if not (isinstance(e, Call) and e.name in ("sin", "cos", "tan")):
        return
    u = e.arguments[0]
    if isinstance(u, Product) and PI in u.factors:
        x = multiply_all([number(u.coefficient), *[f for f in u.factors if f is not PI]])
        if free_names(x):
            near = floor(x + HALF_NUMBER)
            rest = grouped(x - near)
            if e.name == "tan":
                yield tan(PI * rest)
            else:
                sign = 1 - 2 * grouped(near - 2 * floor(near / 2))
                if e.name == "sin":
                    yield sign * sin(PI * rest)
                else:
                    yield sign * cos(PI * rest)
                    half = floor(x)
                    yield (1 - 2 * grouped(half - 2 * floor(half / 2))) * sin(PI * grouped(HALF_NUMBER - grouped(x - half)))


def root_of_products(e: Expression, facts: Facts) -> Iterator[Expression]:
    """sqrt(a*b) = sqrt(abs(a))*sqrt(abs(b)), whose product does not overflow."""
    if (
        isinstance(e, Power)
        and isinstance(e.base, Product)
        and isinstance(e.exponent, Number)
        and e.exponent.rational.denominator == 2
    ):
        yield multiply_all([power(absolute(f), e.exponent) for f in (number(e.base.coefficient), *e.base.factors)])
    if isinstance(e, Product):
        halves = [f for f in e.factors if isinstance(f, Power) and f.exponent == HALF_NUMBER]
        for root in halves:
            if isinstance(root.base, Product):
                rest = [f for f in e.factors if f is not root]
                yield multiply_all(
                    [
                        number(e.coefficient),
                        *rest,
                        *[power(absolute(f), HALF_NUMBER) for f in (number(root.base.coefficient), *root.base.factors)],
                    ]
                )


def quotients(e: Expression, facts: Facts) -> Iterator[Expression]:
    """Each factor above divided by one below before they are multiplied."""
    if not isinstance(e, Product):
        return
    top: list[Expression] = []
    bottom: list[Expression] = []
    for f in e.factors:
        _, exponent = base_and_exponent(f)
        (bottom if isinstance(exponent, Number) and exponent.rational < 0 else top).append(f)
    if len(bottom) < 2 or not top:
        return
    for order in (bottom, bottom[::-1]):
        pieces = [grouped(multiply_all([t, b])) for t, b in zip(top, order, strict=False)]
        rest = [*top[len(bottom) :], *order[len(top) :]]
        yield multiply_all([number(e.coefficient), *pieces, *rest])


def angles_between(e: Expression, facts: Facts) -> Iterator[Expression]:
    """A*sin(a)*sin(b) + B*cos(a)*cos(b) = A*cos(a - b) + (B - A)*cos(a)*cos(b), and the like for sin(a)*cos(b) with cos(a)*sin(b)."""
    if not isinstance(e, Sum):
        return
    terms = [scale(t, c) for t, c in e.items()]
    for i, j in permutations(range(len(terms)), 2):
        waves = [f for f in factors_in(terms[i]) if isinstance(f, Call) and f.name in ("sin", "cos")]
        if len(waves) != 2 or waves[0].name == "cos":  # of two of a kind the sines are taken, of sin(a)*cos(b) each in turn
            waves = waves[::-1]
        if len(waves) != 2 or waves[0].name != "sin":
            continue
        others = [cos(waves[0].arguments[0]), (cos if waves[1].name == "sin" else sin)(waves[1].arguments[0])]
        if not all(f in factors_in(terms[j]) for f in others):
            continue
        first, second = terms[i] / multiply_all(waves), terms[j] / multiply_all(others)
        rest = [*(t for k, t in enumerate(terms) if k not in (i, j)), number(e.constant)]
        angle, other = waves[0].arguments[0], waves[1].arguments[0]
        function, sign = (cos, 1) if waves[1].name == "sin" else (sin, -1)
        for turn, left in ((angle - other, second - sign * first), (angle + other, second + sign * first)):
            front = first if function is sin or turn is angle - other else -first
            yield total([front * function(turn), multiply_all(others) * grouped(left), *rest])


def half_angles(e: Expression, facts: Facts) -> Iterator[Expression]:
    """R + A*cos(u) = (R + A) - 2*A*sin(u/2)^2 where R + A is a product, as a square is; R - A likewise, and the same for cosh."""
    if not isinstance(e, Sum) or len(e.terms) > MOST_TERMS:
        return
    for t, c in e.items():
        for front, wave in _splits(t):
            if not (isinstance(wave, Call) and wave.name in HALVES):
                continue
            A, half = scale(front, c), wave.arguments[0] / 2
            for sign, square in zip((1, -1), HALVES[wave.name](half), strict=True):
                whole = factored(expand(e - scale(t, c) + sign * A))
                if not isinstance(whole, Sum):
                    yield total([whole, A * square])


# cos(u) - 1 and cos(u) + 1 by u/2
HALVES: dict[str, Callable[[Expression], tuple[Expression, Expression]]] = {
    "cos": lambda h: (-2 * sin(h) ** 2, 2 * cos(h) ** 2),
    "cosh": lambda h: (2 * sinh(h) ** 2, 2 * cosh(h) ** 2),
}


def double_angles(e: Expression, facts: Facts) -> Iterator[Expression]:
    """cos(u)^2 - sin(u)^2 = cos(2*u)."""
    if isinstance(e, Sum):
        table = dict(e.items())
        for t, c in e.items():
            if isinstance(t, Power) and t.exponent == TWO and isinstance(t.base, Call) and t.base.name == "cos":
                u = t.base.arguments[0]
                other = sin(u) ** 2
                if table.get(other) == -c:
                    yield total(
                        [
                            scale(cos(2 * u), c),
                            *[scale(s, k) for s, k in e.items() if s is not t and s is not other],
                            number(e.constant),
                        ]
                    )


RULES: tuple[Rule, ...] = (
    differences_in_sums, differences_from_numbers, conjugates, other_sums, hyperbolic, tangents, double_angles, half_angles, angles_between, split_sums, ratios, divided_through, hyperbolic_ratios, decaying,
    roots, root_of_products, quotients, powers_by_logarithm, logarithms, inverse_functions, turns, complements,
)  # fmt: skip


def _is_fitted(constant: object) -> bool:
    """Whether a number is one that nobody writes: a coefficient of a polynomial that stands for a function."""
    return isinstance(constant, type(HALF)) and is_power_of_two(mpq(1, constant.denominator)) and constant.denominator > FITTED


def with_exact_products(e: Expression) -> Expression:
    """A formula with every b^2 - 4*a*c in it as one operation, unless its terms have one sign."""
    found = {n: careful(n) for n in postorder(e) if isinstance(n, Sum) and two_products(n) and _may_cancel(n)}
    return substitute_plain(e, found) if found else e


def _may_cancel(e: Sum) -> bool:
    """Whether the terms of a sum of real numbers may have different signs."""
    signs = {real(c) > 0 if is_nonnegative(t.known) or _is_square(t) else None for t, c in e.items()}
    if e.constant:
        signs.add(real(e.constant) > 0)
    return len(signs) > 1 or None in signs


def _is_square(e: Expression) -> bool:
    return isinstance(e, Power) and e.exponent == TWO


def rewritings(e: Expression, facts: Facts) -> Iterator[tuple[str, Expression]]:
    """(rule, the formula with one part in another form)."""
    for node in reversed(postorder(e)):
        if not isinstance(node, Expression) or isinstance(node, (Name, Number, Constant, Cases)) or is_numeric(node, CAREFUL):
            continue
        if isinstance(node, Sum) and _is_fitted(node.constant):
            continue
        for rule in RULES:
            try:
                for found in rule(node, facts):
                    if found is not node:
                        yield rule.__name__, substitute_plain(e, {node: found})
            except GelvoError:
                continue  # a form that cannot be written, as a division by zero, is none
