"""New variables for y'' + p*y' + q*y = 0: powers, exponentials and waves of the old one, where the equation in them is rational.

With s = f(t) the equation is Y'' + (f'' + p*f')/f'^2*Y' + q/f'^2*Y = 0.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import reduce
from typing import NamedTuple

from gmpy2 import gcd, lcm, mpq

from gelvo.differential.problem import without_bars
from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, name, number, power, relation, sqrt
from gelvo.expression.constants import HALF, ZERO
from gelvo.expression.nodes import Call, Condition, Expression, Name, Node, Number, Power
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, postorder, substitute, transform
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import power_table
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import COS, COSH, COT, COTH, CSC, CSCH, EXP, SEC, SECH, SIN, SINH, TAN, TANH, is_a
from gelvo.simplifying.search import simplify

WAVES = (SIN, COS, TAN, COT, SEC, CSC)
HYPERBOLIC: dict[str, Callable[[Expression, Expression], Expression]] = {  # from exp(u) and exp(-u)
    SINH: lambda e, f: (e - f) / 2, COSH: lambda e, f: (e + f) / 2, TANH: lambda e, f: (e - f) / (e + f),
    COTH: lambda e, f: (e + f) / (e - f), SECH: lambda e, f: 2 / (e + f), CSCH: lambda e, f: 2 / (e - f),
}  # fmt: skip


class Changed(NamedTuple):
    """The equation in the new variable: its coefficients, the new variable by the old one, and where that is so."""

    p: Expression
    q: Expression
    s: Name
    by_old: Expression
    where: list[Condition]


class Way(NamedTuple):
    """A new variable by the old one, where it is one, and a formula in the old variable told by the new one."""

    by_old: Expression
    where: list[Condition]
    told: Callable[[Expression, Name], Expression]


def changes(p: Expression, q: Expression, t: Name, facts: Facts) -> Iterator[Changed]:
    """All changes of variable that leave rational coefficients.

    >>> from gelvo.expression.building import name
    >>> t = name("t")
    >>> found = next(changes(-2*t, 2*name("n"), t, Facts()))
    >>> print(found.by_old, "|", found.p, "|", found.q)
    t^2 | -(2*s - 1)/(2*s) | n/(2*s)
    """
    fresh = facts.new_name("s", p, q, t).name
    for way in (*_powers(p, q, t), *_exponentials(p, q, t), *_waves(p, q, t)):
        s = name(fresh, "positive" if way.where else "real")
        slope = differentiate(way.by_old, t)
        first = (differentiate(slope, t) + p * slope) / slope**2
        new_p, new_q = (factored(way.told(e, s)) for e in (first, q / slope**2))
        if all(not contains(e, t) and _is_rational(e, s) for e in (new_p, new_q)):
            yield Changed(new_p, new_q, s, way.by_old, way.where)


def _is_rational(e: Expression, s: Name) -> bool:
    inside = [n for n in postorder(e) if contains(n, s)]
    powers = [n.exponent for n in inside if isinstance(n, Power)]
    return not any(isinstance(n, Call) for n in inside) and all(isinstance(k, Number) and k.is_whole for k in powers)


def _step(shares: list[mpq]) -> mpq:
    """The largest number of which all are whole multiples."""
    bottom = reduce(lcm, (e.denominator for e in shares))
    return mpq(reduce(gcd, (abs(e * bottom).numerator for e in shares)), bottom)


def _powers(p: Expression, q: Expression, t: Name) -> Iterator[Way]:
    """s = t^k with the k of which all powers of t in t*p and t^2*q are multiples."""
    shares: list[mpq] = []
    for e in (t * p, t**2 * q):
        for part in quotient_parts(factored(e)):
            table = power_table(expand(part), t)
            if any(contains(c, t) for terms in table.values() for c in terms):
                return
            if not all(isinstance(k, Number) and k.is_rational for k in table):
                return
            shares += [k.rational for k in table if isinstance(k, Number) and k is not ZERO]
    step = _step(shares) if shares else mpq(1)

    def told(e: Expression, s: Name) -> Expression:
        top, bottom = (substitute(expand(part), {t: power(s, number(1 / step))}) for part in quotient_parts(factored(e)))
        return top / bottom

    if step != 1:
        yield Way(power(t, number(step)), [relation("<", ZERO, t)], told)


def _exponentials(p: Expression, q: Expression, t: Name) -> Iterator[Way]:
    """s = exp(r*t) where all exponentials are whole powers of it."""
    rates = []
    for node in postorder(_by_exponentials(p, t), _by_exponentials(q, t)):
        if is_a(node, EXP) and contains(node, t):
            parts = uni.linear_parts(expand(node.arguments[0]), t)
            if parts is None:
                return
            rates.append(parts[0])
    shares = [uni.lowest_terms(r / rates[0]) for r in rates]
    if not shares or not all(isinstance(r, Number) and r.is_rational for r in shares):
        return
    step = rates[0] * number(_step([r.rational for r in shares if isinstance(r, Number)]))
    for rate in (step, -step):  # one of the two ends of the line becomes 0

        def told(e: Expression, s: Name, rate: Expression = rate) -> Expression:
            def visit(node: Node) -> Node:
                if not (is_a(node, EXP) and contains(node, t)):
                    return node
                slope, start = uni.linear_parts(expand(node.arguments[0]), t) or (ZERO, ZERO)
                return EXP(start) * power(s, uni.lowest_terms(slope / rate))

            return transform(_by_exponentials(e, t), visit)

        wave = EXP(rate * t)
        yield Way(wave, [relation("<", ZERO, wave)], told)


def _by_exponentials(e: Expression, t: Name) -> Expression:
    """Hyperbolic functions of the variable by exponentials."""
    found = [n for n in postorder(e) if is_a(n, *HYPERBOLIC) and contains(n, t)]
    return substitute(e, {n: HYPERBOLIC[n.name](EXP(n.arguments[0]), EXP(-n.arguments[0])) for n in found})


def _waves(p: Expression, q: Expression, t: Name) -> Iterator[Way]:
    """s = cos(u), sin(u) or sin(u)^2 where all waves have the one argument u."""
    arguments = {n.arguments[0] for n in postorder(p, q) if is_a(n, *WAVES) and contains(n, t)}
    if len(arguments) != 1:
        return
    (u,) = arguments
    if uni.linear_parts(expand(u), t) is None:
        return
    for by_old, parts in (
        (COS(u), lambda s: (sqrt(1 - s**2), s)), (SIN(u), lambda s: (s, sqrt(1 - s**2))), (SIN(u) ** 2, lambda s: (sqrt(s), sqrt(1 - s))),
    ):  # fmt: skip

        def told(e: Expression, s: Name, parts: Callable[[Name], tuple[Expression, Expression]] = parts) -> Expression:
            sine, cosine = parts(s)
            return substitute(e, {
                SIN(u): sine, COS(u): cosine, TAN(u): sine / cosine, COT(u): cosine / sine, SEC(u): 1 / cosine, CSC(u): 1 / sine,
            })  # fmt: skip

        yield Way(by_old, [], told)


class Stretched(NamedTuple):
    """Y'' + first*Y' + zeroth*Y = 0 with constant coefficients, in a variable with this slope, which is real where `where` holds."""

    first: Expression
    zeroth: Expression
    slope: Expression
    where: list[Condition]


def to_constant_coefficients(p: Expression, q: Expression, t: Name, facts: Facts) -> Stretched | None:
    """With the variable of slope sqrt(q/constant), where (q' + 2*p*q)/q^(3/2) is constant.

    Source: W. Boyce and R. DiPrima, "Elementary Differential Equations and Boundary Value Problems" (1977), section 3.3.
    """
    if q is ZERO:
        return None
    constant, moving = parted(q, t)
    if not contains(moving, t):
        return None
    if facts.is_negative(moving) or is_negative_at_start(moving, t, facts):
        constant, moving = -constant, factored(-moving)
    where = positive_where(moving, t, facts)
    slope = without_bars(simplify(sqrt(moving), facts.with_facts(where)).expression)  # either sign leads to the same solutions
    first = simplify((differentiate(slope, t) + p * slope) / moving, facts.with_facts(where)).expression
    return None if contains(first, t) else Stretched(first, constant, slope, where)


def positive_where(e: Expression, t: Name, facts: Facts) -> list[Condition]:
    """Where a formula is positive: between two numbers, beyond one, or told by the formula."""
    if facts.is_positive(e):
        return []
    sign = expand(multiply_all(quotient_parts(factored(e))))
    column = uni.coefficients_of(sign, t)
    if column is None or not all(isinstance(c, Number) and c.is_rational for c in column) or len(column) not in (2, 3):
        return [relation("<", ZERO, sign)]
    lead = column[-1]
    if len(column) == 2:
        end = uni.lowest_terms(-column[0] / lead)
        return [relation("<", end, t) if facts.is_positive(lead) else relation("<", t, end)]
    middle, half = (
        uni.lowest_terms(-column[1] / (2 * lead)),
        sqrt(uni.lowest_terms(column[1] ** 2 - 4 * lead * column[0])) / (2 * lead),
    )
    if facts.is_positive(lead) or not facts.is_negative(half):
        return [relation("<", ZERO, sign)]
    return [relation("<", uni.lowest_terms(middle + half), t), relation("<", t, uni.lowest_terms(middle - half))]


def parted(e: Expression, t: Name) -> tuple[Expression, Expression]:
    """The factors without the variable, and the others."""
    whole = factored(e)
    constant = multiply_all([f for f in factors_in(whole) if not contains(f, t)])
    return constant, whole / constant


def is_negative_at_start(e: Expression, t: Name, facts: Facts) -> bool:
    """Whether it is so at 0, or else at 1/2: of the pieces of the line between the poles, that one is meant first."""
    for place in (ZERO, HALF):
        try:
            return bool(facts.is_negative(substitute(e, {t: place})))
        except DomainError:
            continue
    return False
