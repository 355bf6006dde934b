"""Waves of several multiples of an angle by powers of the waves of that angle."""

from __future__ import annotations

from functools import lru_cache

from gmpy2 import mpq

from gelvo.expression.building import call, multiply_all, number, power, scale, split_coefficient, total
from gelvo.expression.constants import IMAGINARY
from gelvo.expression.nodes import Call, Expression, Node, Number, Product, Sum
from gelvo.expression.terms import base_and_exponent
from gelvo.expression.traversal import names, postorder, transform
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import Form, Quotient, exponent_parts
from gelvo.functions.named import COS, SIN, is_a
from gelvo.numbers.exact import parts
from gelvo.polynomial import sparse
from gelvo.polynomial.sparse import Polynomial


def _circle(form: Form, angle: Expression, keep: str) -> tuple[int | None, Polynomial]:
    """The generator of the wave that goes, None where it does not appear, and its square as 1 less that of the one that stays."""
    kept, gone = call(keep, angle), call(COS if keep == SIN else SIN, angle)
    gone_index, kept_index = (form.generators.get((n, number(1))) for n in (gone, kept))
    if gone_index is not None and kept_index is None:
        kept_index = form.generators[(kept, number(1))] = len(form.generators)
        form.roots_of[(kept, number(1))] = 1
    return gone_index, {0: mpq(1), 2 << (sparse.BITS * (kept_index or 0)): mpq(-1)}


@lru_cache(maxsize=256)  # the search for a shorter form asks again and again for the same ones
def single_angles(expression: Expression, keep: str, part: int, squares: bool = True) -> Expression | None:
    """All sines and cosines of multiples of one angle by powers of the functions of that angle.

    squares: whether products such as (1 - cos(x))*(1 + cos(x)) are read as sin(x)^2 again.
    """
    found = base_angles(expression)
    if not found:
        return None
    bases = {scale(angle, mpq(1, part)): None for angle in found}

    def visit(node: Node) -> Node:
        if is_a(node, SIN, COS):
            return _multiple(node, bases)
        return node

    inner = transform(expression, visit)
    form = Form([inner])
    quotient = form.of(inner)
    top, bottom = quotient.top, form.denominator(quotient)
    for angle in bases:
        gone_index, square = _circle(form, angle, keep)
        if gone_index is not None:
            top, bottom = _reduced(top, gone_index, square), _reduced(bottom, gone_index, square)
    if not top:
        return number(0)
    if not bottom or sparse.has_gaussian(top) or sparse.has_gaussian(bottom):
        return None
    quotient = form.multiply(Quotient(top, {}), form.invert(Quotient(bottom, {})))
    top, bottom = form.lowest_terms(quotient)
    if not squares:
        return form.expression(top) / form.expression(bottom)
    return _pythagoras(form.factored(top)) / _pythagoras(form.factored(bottom))


def _reduced(p: Polynomial, index: int, square: Polynomial) -> Polynomial:
    result: Polynomial = {}
    for k, coefficient in sparse.by_powers(p, index).items():
        piece = sparse.multiply(coefficient, sparse.power(square, k // 2))
        result = sparse.add(result, sparse.from_powers({k % 2: piece}, index))
    return result


def _pythagoras(expression: Expression) -> Expression:
    """(cos(x) - 1)*(cos(x) + 1) in a product is -sin(x)^2."""
    factors = list(expression.factors) if isinstance(expression, Product) else [expression]
    coefficient = number(expression.coefficient) if isinstance(expression, Product) else number(1)
    table: dict[Expression, int] = {}
    for factor in factors:
        base, k = base_and_exponent(factor)
        if isinstance(k, Number) and k.is_whole:
            table[base] = table.get(base, 0) + int(k.rational)
        else:
            return expression
    extra: list[Expression] = [coefficient]
    waves = [n for f in factors for n in postorder(f) if is_a(n, SIN, COS)]
    for wave in dict.fromkeys(waves):
        low, high = wave - 1, wave + 1
        count = min(table.get(low, 0), table.get(high, 0))
        if count > 0:
            other = call(COS if is_a(wave, SIN) else SIN, wave.arguments[0])
            table[low] -= count
            table[high] -= count
            extra.append(power(-(other**2), number(count)))
    return multiply_all([*extra, *[power(b, number(k)) for b, k in table.items()]])


def base_angles(expression: Expression) -> dict[Expression, None] | None:
    """Angles of which all arguments are integer combinations."""
    units: dict[Expression, mpq] = {}
    for node in postorder(expression):
        if is_a(node, SIN, COS):
            for coefficient, unit in exponent_parts(node.arguments[0]):
                if not names(unit):
                    return None
                known = units.get(unit)
                units[unit] = abs(coefficient) if known is None else _common(known, abs(coefficient))
    return {scale(u, c): None for u, c in units.items()}


def _common(a: mpq, b: mpq) -> mpq:
    """The greatest rational of which both are integer multiples."""
    while b:
        a, b = b, a - b * (a // b)
    return a


def _multiple(node: Call, bases: dict[Expression, None]) -> Expression:
    """sin or cos of an integer combination of base angles, written in their sines and cosines; others as they are."""
    product: Expression = number(1)
    for coefficient, unit in exponent_parts(node.arguments[0]):
        base = next((b for b in bases if isinstance(scale(unit, coefficient) / b, Number)), None)
        if base is None:  # waves inside of the angle were rewritten
            return node
        k = int((scale(unit, coefficient) / base).rational)
        sign = 1 if k > 0 else -1
        turn = COS(base) + sign * IMAGINARY * SIN(base)
        product = product * power(turn, number(abs(k)))
    expanded = expand(product)
    chosen = []
    for term in _terms(expanded):
        real, imag = parts(term[1])
        part = real if is_a(node, COS) else imag
        chosen.append(scale(term[0], part))
    return total(chosen)


def _terms(expression: Expression) -> list[tuple[Expression, object]]:
    if isinstance(expression, Sum):
        return [*expression.items(), (number(1), expression.constant)]
    return [split_coefficient(expression)]
