"""Other forms of sums, whose terms may cancel."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from itertools import combinations

from gelvo.code.digits import differences
from gelvo.code.digits.differences import gaps
from gelvo.code.digits.numeric import grouped
from gelvo.expression.building import multiply_all, number, power, scale, total
from gelvo.expression.constants import HALF as ONE_HALF
from gelvo.expression.constants import ONE, PI, ZERO
from gelvo.expression.nodes import Call, Expression, Name, Number, Power, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import free_names, substitute
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import FunctionName
from gelvo.numbers.exact import real

exp, sin, sinh, cosh = map(FunctionName, ("exp", "sin", "sinh", "cosh"))
MOST_TERMS = 8  # pairs are tried in sums of so many terms


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
        coefficient, factor = next(splits(term), (ONE, term))
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


def splits(term: Expression) -> Iterator[tuple[Expression, Expression]]:
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
    for A, f in splits(one):
        for B, g in splits(other):
            if f is g:
                continue
            rest = expand(A + B)
            if isinstance(rest, Sum) and _meet(f, g):
                yield _sum_of(rest, g, A, f - g)
            if isinstance(rest, Sum) and len(rest.terms) + bool(rest.constant) >= _size(A) + _size(B):
                continue
            for found in differences.of_factors(f, g):
                yield A * found if is_zero(rest) else _sum_of(rest, g, A, found)


def _meet(f: Expression, g: Expression) -> bool:
    """Whether two different functions of one name leave 0 together, so that their difference is small beside them: x and sin(x)."""
    own = free_names(f)
    simple = all(isinstance(h, (Name, Call)) for h in (f, g))
    return simple and len(own) == 1 and free_names(g) == own and all(is_zero(substitute(h, {own[0]: ZERO})) for h in (f, g))


def _sum_of(rest: Expression, g: Expression, A: Expression, found: Expression) -> Expression:
    """A*f + B*g = (A + B)*g + A*(f - g)."""
    return total([_closed(rest * g), _closed(A * found)])


def is_zero(e: Expression) -> bool:
    return isinstance(e, Number) and not e.value


def _size(e: Expression) -> int:
    e = expand(e)
    return len(e.terms) + bool(e.constant) if isinstance(e, Sum) else 1


def _with_constant(term: Expression, constant: Number) -> Iterator[tuple[Expression, Expression]]:
    for coefficient, factor in splits(term):
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
        root = next((f for f in factors_in(t) if base_and_exponent(f)[1] == ONE_HALF), None)
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
        if not is_zero(u + v) or abs(real(c)) != abs(real(d)):
            continue
        others = [scale(t, k) for n, (t, k) in enumerate(e.items()) if n not in (i, j)]
        pair = scale(cosh(u) if c == d else sinh(u), 2 * real(c))
        yield total([pair, *others, number(e.constant)])


def split_sums(e: Expression, facts: Facts) -> Iterator[Expression]:
    """Some terms added up before the others."""
    if isinstance(e, Sum) and 3 <= len(e.terms) + bool(e.constant) <= 5:
        terms = [*(scale(t, c) for t, c in e.items()), *[number(e.constant)] * bool(e.constant)]
        for i, j in combinations(range(len(terms)), 2):
            first = total([terms[i], terms[j]])
            if isinstance(first, Sum):
                yield total([grouped(first), *(t for k, t in enumerate(terms) if k not in (i, j))])
