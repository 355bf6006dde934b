"""Powers, exponentials and roots in products put together, as far as the facts allow."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.expression.building import multiply_all, number, power, scale, total
from gelvo.expression.display import stands_below
from gelvo.expression.nodes import Call, Expression, Node, Number, Power, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import transform
from gelvo.facts.store import Facts
from gelvo.forms.fractions import factored
from gelvo.forms.measure import measure
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


def common_factors_out(expression: Expression) -> Expression:
    """a*exp(-t)*x + a*exp(-t)/b -> a*exp(-t)*(x + 1/b); letters alone stay with their terms: m*v^2/2 + m*g*h."""

    def visit(node: Node) -> Node:
        if not isinstance(node, Sum) or node.constant:
            return node
        first, *others = [dict(map(base_and_exponent, factors_in(t))) for t in node.terms]
        shared = {b: k for b, k in first.items() if all(other.get(b) is k for other in others)}
        if not any(isinstance(b, Call) for b in shared):
            return node
        common = multiply_all([power(b, k) for b, k in shared.items()])
        return common * total([scale(t / common, c) for t, c in node.items()])

    return transform(expression, visit)


def divided_into_sums(expression: Expression) -> Expression:
    """x*(a*w + b)/w -> x*(a + b/w)."""

    def visit(node: Node) -> Node:
        sums = [f for f in node.factors if isinstance(f, Sum)] if isinstance(node, Product) else []
        if not isinstance(node, Product) or len(sums) != 1:
            return node
        below = multiply_all([f for f in node.factors if stands_below(f)])
        inside = total([*[scale(t * below, c) for t, c in sums[0].items()], scale(below, sums[0].constant)])
        return multiply_all(
            [number(node.coefficient), inside, *[f for f in node.factors if f is not sums[0] and not stands_below(f)]]
        )

    return transform(expression, visit)


def exponentials_into_sums(expression: Expression) -> Expression:
    """exp(-u)*(1 + exp(u)) -> exp(-u) + 1: an exponential goes into the sum that holds others, so that nothing overflows."""

    def visit(node: Node) -> Node:
        if not isinstance(node, Product):
            return node
        outside = [f for f in node.factors if is_a(f, EXP)]
        sums = [f for f in node.factors if isinstance(f, Sum) and any(is_a(p, EXP) for t in f.terms for p in factors_in(t))]
        if not outside or len(sums) != 1:
            return node
        raised = multiply_all(outside)
        terms = [*[scale(multiply_all([raised, t]), c) for t, c in sums[0].items()], scale(raised, sums[0].constant)]
        inside = total([transform(t, short_exponent) for t in terms])
        return multiply_all([number(node.coefficient), inside, *[f for f in node.factors if f not in outside and f not in sums]])

    return transform(expression, visit)


def short_exponent(node: Node) -> Node:
    """exp(w*t - g*t) -> exp((w - g)*t) where that is shorter."""
    if not is_a(node, EXP) or not isinstance(node.arguments[0], Sum):
        return node
    short = factored(node.arguments[0])
    return EXP(short) if measure(short) < measure(node.arguments[0]) else node


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
