"""Other forms of products and powers, whose parts may overflow or vanish."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import combinations

from gelvo.code.digits.differences import gaps
from gelvo.code.digits.numeric import GROUPED, expm1, grouped, hypot, log1p
from gelvo.code.digits.rules.sums import is_zero
from gelvo.expression.building import multiply_all, number, power, scale, sqrt, total
from gelvo.expression.constants import HALF as ONE_HALF
from gelvo.expression.constants import ONE, TWO
from gelvo.expression.nodes import Call, Expression, Name, Number, Power, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.functions.named import FunctionName
from gelvo.numbers.exact import HALF

exp, sinh, cosh, tanh, absolute = map(FunctionName, ("exp", "sinh", "cosh", "tanh", "abs"))


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
        if not (isinstance(a, Call) and isinstance(b, Call) and {a.name, b.name} <= {"sinh", "cosh"} and is_zero(p + q)):
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
        halves = [f for f in e.factors if isinstance(f, Power) and f.exponent == ONE_HALF]
        for root in halves:
            if isinstance(root.base, Product):
                rest = [f for f in e.factors if f is not root]
                yield multiply_all(
                    [
                        number(e.coefficient),
                        *rest,
                        *[power(absolute(f), ONE_HALF) for f in (number(root.base.coefficient), *root.base.factors)],
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
