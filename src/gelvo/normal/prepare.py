"""A formula with its functions rewritten to few kinds of generators: exponentials, logarithms and roots of independent parts.

What is made of each function is a rule in `normal/rules/`; functions without one are written by others where their record says how.
"""

from __future__ import annotations

from typing import Any

from gelvo.expression import known as bits
from gelvo.expression.building import call, multiply_all, number, power
from gelvo.expression.nodes import Call, Cases, Condition, Expression, Node, Power, Product, Written
from gelvo.expression.traversal import postorder, rebuild
from gelvo.facts.store import Facts
from gelvo.functions.named import ABS, SIGN, is_a
from gelvo.normal.arguments import as_argument, without_bars
from gelvo.normal.numbered_roots import without_denominator
from gelvo.normal.rules import bessel, complex_parts, gamma, hypergeometric, logarithms, neighbours, signs  # noqa: F401  (they register their rules)
from gelvo.normal.rules.roots import opened_root, prepared_power, taken_out
from gelvo.normal.rules.table import RULES
from gelvo.normal.rules.waves import angle_of_number, square_of_wave
from gelvo.normal.undoing import undone


def prepared(root: Expression, facts: Facts, waves: bool = True) -> Expression:
    """The formula with functions rewritten to few kinds of generators; `waves` turns sine and cosine into exponentials."""
    return Preparation(facts).prepared(root, waves)


class Preparation:
    """The normal form under the facts of one call: what the rules ask when they have made something new."""

    def __init__(self, facts: Facts) -> None:
        self.facts = facts

    def power(self, base: Expression, exponent: Expression) -> Expression:
        return prepared_power(self, base, exponent)

    def prepared(self, expression: Expression, waves: bool = True) -> Expression:
        done: dict[Node, Any] = {}
        for node in postorder(expression):
            new = tuple([done[c] for c in node.children])
            if isinstance(node, Call):
                left = undone(node, self.facts)
                done[node] = self._call(node, new, waves) if left is None else self.prepared(left, waves)
            elif isinstance(node, Power):
                done[node] = self._power(node, new, waves)
            elif isinstance(node, (Written, Cases, Condition)):
                done[node] = node
            elif isinstance(node, Product) and (merged := _merged_signs(node)) is not node:  # before waves are exponentials
                done[node] = self.prepared(merged, waves)
            else:
                changed = any(a is not b for a, b in zip(new, node.children, strict=True))
                made = rebuild(node, new) if changed else node
                done[node] = _merged_signs(made) if isinstance(made, Product) else made
        return done[expression]

    def _power(self, node: Power, new: tuple[Expression, ...], waves: bool) -> Expression:
        inverted = without_denominator(node)
        if inverted is not None:
            return self.prepared(inverted, waves)
        nested = opened_root(self, node)
        if nested is not node:
            return self.prepared(nested, waves)
        by_facts = taken_out(node, self.facts)  # before waves are exponentials, of which the facts do not speak
        if by_facts is not None:
            return self.prepared(by_facts, waves)
        square = square_of_wave(node) if waves else None
        if square is not None:
            plain = self.power(square, node.exponent)
            if plain is not node:
                return self.prepared(plain)
        return self.power(new[0], new[1])

    def _call(self, node: Call, arguments: tuple[Expression, ...], waves: bool) -> Expression:
        name, function = node.name, node.function
        turned = angle_of_number(node) if len(node.arguments) == 1 else None
        if turned is not None:
            return turned
        arguments = tuple([as_argument(a, self.facts) for a in arguments])
        if function.even:
            arguments = (without_bars(arguments[0], self.facts),)
        rule = RULES.get(name)
        if rule is not None and (waves or not rule.circular):
            return rule.work(self, *arguments)
        if rule is None and function.as_elementary is not None:
            return self.prepared(function.as_elementary(*arguments), waves)
        return call(name, *arguments)


def _merged_signs(product: Product) -> Expression:
    """u*sign(u) as |u|, which always holds, and sign(u)/|u|^k as u/|u|^(k + 1), which has the same domain."""
    for factor in product.factors:
        if is_a(factor, SIGN):
            inside = factor.arguments[0]
            bars = ABS(inside)
            rest = [f for f in product.factors if f is not factor]
            below = any(isinstance(f, Power) and f.base is bars and bits.is_negative(f.exponent.known) for f in rest)
            if inside in rest:
                rest.remove(inside)
                return multiply_all([number(product.coefficient), bars, *rest])
            if bars in rest:
                rest.remove(bars)
                return multiply_all([number(product.coefficient), inside, *rest])
            if below:
                return multiply_all([number(product.coefficient), inside, power(bars, number(-1)), *rest])
    return product
