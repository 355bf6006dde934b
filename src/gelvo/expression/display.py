"""The order in which a reader sees terms and factors; nothing but output depends on it."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.expression.building import number, power, scale
from gelvo.expression.nodes import Applied, Call, Constant, Expression, Name, Number, Power, Product, Relation, Sum
from gelvo.expression.order import ordered
from gelvo.expression.terms import factors_in
from gelvo.numbers.exact import ONE, Gaussian, Scalar


def _exponent(node: Expression) -> mpq:
    if isinstance(node, Power) and isinstance(node.exponent, Number) and node.exponent.is_rational:
        return node.exponent.rational
    return mpq(1)


def _degree(term: Expression) -> mpq:
    """The degree in plain names, which puts polynomials into descending order."""
    factors = factors_in(term)
    degree = mpq(0)
    for factor in factors:
        base = factor.base if isinstance(factor, Power) else factor
        if isinstance(base, (Name, Sum)):
            degree += _exponent(factor)
    return degree


def _exponents(term: Expression) -> tuple[tuple[str, mpq], ...]:
    """Terms of one degree by their names: a^2, a*b, b^2."""
    factors = factors_in(term)
    found = []
    for factor in factors:
        base = factor.base if isinstance(factor, Power) else factor
        if isinstance(base, Name):
            found.append((base.name, -_exponent(factor)))
    return tuple(sorted(found))


def _is_constant(term: Expression) -> bool:
    factors = factors_in(term)
    return all(isinstance(f.base if isinstance(f, Power) else f, (Constant, Number)) for f in factors)


def sum_terms(node: Sum) -> list[tuple[Scalar, Expression | None]]:
    """(coefficient, term) in reading order, the number last; (c, None) is the number itself."""
    pairs = dict(node.items())
    position = {t: i for i, t in enumerate(node.terms)}
    shown = sorted(node.terms, key=lambda t: (_is_constant(t), _has_unknown(t), -_degree(t), _exponents(t), position[t]))
    result: list[tuple[Scalar, Expression | None]] = [(pairs[t], t) for t in shown]
    if node.constant:
        result.append((node.constant, None))
    if len(result) == 2 and not isinstance(result[0][0], Gaussian) and result[0][0] < 0:
        second = result[1]
        if second[1] is not None and not isinstance(second[0], Gaussian) and second[0] > 0:
            result.reverse()
    return result


def _has_unknown(term: Expression) -> int:
    """Terms with derivatives of unknown functions come first, highest order first."""
    factors = factors_in(term)
    return -max((1 + sum(f.orders) for f in factors if isinstance(f, Applied)), default=0)


def _factor_rank(factor: Expression) -> tuple[object, ...]:
    base = factor.base if isinstance(factor, Power) else factor
    exponent = _exponent(factor)
    if isinstance(base, Number):
        return (0, 0, "")
    if isinstance(base, Constant):
        return (1, 0, base.name)
    if isinstance(base, Name):
        return (2, exponent if exponent > 0 else -exponent, base.name.lower(), base.name)
    if isinstance(base, Sum):
        return (3, 0, "")
    if isinstance(base, Applied):
        return (5, -sum(base.orders), base.name)
    if isinstance(base, Call):
        return (4, 1 if base.name == "exp" else 0, base.name)
    return (4, 0, "")


def product_parts(node: Expression) -> tuple[Scalar, list[Expression], list[Expression]]:
    """A product as (coefficient, factors above the fraction line, factors below it as positive powers)."""
    factors: tuple[Expression, ...]
    if isinstance(node, Product):
        coefficient, factors = node.coefficient, node.factors
    else:
        coefficient, factors = ONE, (node,)
    top: list[Expression] = []
    bottom: list[Expression] = []
    for factor in factors:
        if isinstance(factor, Power) and has_minus(factor.exponent):
            bottom.append(power(factor.base, scale(factor.exponent, mpq(-1))))
        else:
            top.append(factor)
    return coefficient, reading_order(top), reading_order(bottom)


def has_minus(exponent: Expression) -> bool:
    """Whether an exponent puts its power below a fraction line."""
    if isinstance(exponent, Number):
        return exponent.is_rational and exponent.rational < 0
    return isinstance(exponent, Product) and not isinstance(exponent.coefficient, Gaussian) and exponent.coefficient < 0


def reading_order(factors: list[Expression]) -> list[Expression]:
    place = {f: i for i, f in enumerate(ordered(factors))}
    return sorted(factors, key=lambda f: (_factor_rank(f), place[f]))


def merged_roots(factors: list[Expression]) -> list[tuple[Expression, mpq]]:
    """Factors as (base, exponent), with roots of integers of one exponent joined: sqrt(2)*sqrt(3) reads sqrt(6)."""
    joined: dict[mpq, mpq] = {}
    result: list[tuple[Expression, mpq]] = []
    for factor in factors:
        exponent = _exponent(factor)
        if isinstance(factor, Power) and isinstance(factor.base, Number) and factor.base.is_rational:
            if factor.base.rational > 0 and isinstance(factor.exponent, Number) and factor.exponent.is_rational:
                if exponent not in joined:
                    result.append((factor, exponent))
                joined[exponent] = joined.get(exponent, mpq(1)) * factor.base.rational
                continue
        result.append((factor, mpq(0)))
    return [(number(joined[e]), e) if e else (f, e) for f, e in result]


def relation_parts(node: Relation) -> tuple[Expression, str, Expression]:
    """A relation as (left, sign, right) with a plain number on the right: x > 0 rather than 0 < x."""
    if isinstance(node.left, Number) and not isinstance(node.right, Number):
        return node.right, {"<": ">", "<=": ">="}.get(node.operator, node.operator), node.left
    return node.left, node.operator, node.right


def stands_below(factor: Expression) -> bool:
    """Whether a factor is shown below a fraction line: a power with a negative rational exponent."""
    return isinstance(factor, Power) and factor.exponent.is_rational and factor.exponent.rational < 0
