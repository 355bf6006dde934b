"""Powers, exponentials and roots in products put together, as far as the facts allow."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.expression.building import multiply_all, number, power, total
from gelvo.expression.nodes import Expression, Node, Number, Power, Product
from gelvo.expression.terms import base_and_exponent
from gelvo.expression.traversal import transform
from gelvo.facts.store import Facts
from gelvo.functions.named import EXP, is_a


def powers_together(expression: Expression, facts: Facts) -> Expression:
    """a^n*b^n -> (a*b)^n."""

    def visit(node: Node) -> Node:
        if not isinstance(node, Product):
            return node
        groups: dict[Expression, list[Expression]] = {}
        for factor in node.factors:
            base, k = base_and_exponent(factor)
            groups.setdefault(k, []).append(base)
        pieces: list[Expression] = [number(node.coefficient)]
        for k, bases in groups.items():
            good = facts.is_integer(k) or sum(not facts.is_nonnegative(b) for b in bases) <= 1
            if len(bases) > 1 and good and not (isinstance(k, Number) and k.is_whole):
                pieces.append(power(multiply_all(bases), k))
            else:
                pieces.extend(power(b, k) for b in bases)
        return multiply_all(pieces)

    return transform(expression, visit)


def exponentials_together(expression: Expression, facts: Facts) -> Expression:
    """exp(a)*b^x -> exp(a + x*ln(b)) for a positive b; a^x*b^x -> (a*b)^x for positive numbers."""

    def visit(node: Node) -> Node:
        if not isinstance(node, Product):
            return node
        exponent: list[Expression] = []
        rest: list[Expression] = [number(node.coefficient)]
        number_powers: dict[Expression, mpq] = {}
        for factor in node.factors:
            if is_a(factor, EXP):
                exponent.append(factor.arguments[0])
            elif isinstance(factor, Power) and isinstance(factor.base, Number) and facts.is_positive(factor.base):
                known = number_powers.get(factor.exponent, mpq(1))
                number_powers[factor.exponent] = known * factor.base.rational
            else:
                rest.append(factor)
        powers = [power(number(b), k) for k, b in number_powers.items()]
        return multiply_all([*rest, *powers, EXP(total(exponent))])

    return transform(expression, visit)


def roots_together(expression: Expression, facts: Facts) -> Expression:
    """sqrt(a)*sqrt(b) -> sqrt(a*b), a*sqrt(b) stays."""

    def visit(node: Node) -> Node:
        if not isinstance(node, Product):
            return node
        groups: dict[mpq, list[Expression]] = {}
        rest: list[Expression] = [number(node.coefficient)]
        for factor in node.factors:
            k = factor.exponent if isinstance(factor, Power) else None
            if isinstance(k, Number) and k.is_rational and k.rational.denominator > 1 and abs(k.rational) < 1:
                groups.setdefault(mpq(1, k.rational.denominator), []).append(factor)
            else:
                rest.append(factor)
        for unit, factors in groups.items():
            # a quotient of roots has the root of the quotient only where what stands below is positive
            bad = sum(not facts.is_nonnegative(f.base) for f in factors if isinstance(f, Power))
            radicand = multiply_all([power(f.base, f.exponent / number(unit)) for f in factors if isinstance(f, Power)])
            rest.append(power(radicand, number(unit)) if len(factors) > 1 and bad <= 0 else multiply_all(factors))
        return multiply_all(rest)

    return transform(expression, visit)
