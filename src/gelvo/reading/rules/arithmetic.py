"""Sums, products, powers, numbers, quantities and matrices."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.expression import building
from gelvo.expression.nodes import Expression, Name, Number
from gelvo.forms.dimensions import quantity
from gelvo.matrices.matrix import Matrix
from gelvo.numbers.exact import Gaussian, from_decimal_text
from gelvo.reading import words
from gelvo.reading.state import Reading, column_of, number_of
from gelvo.reading.tree import Tree, Value, Values
from gelvo.units import unit


def _folded(at: Reading, node: Tree, values: Values) -> Value:
    """Sums and products in which matrices stand: in order, from the left."""
    result = values[0]
    for sign, value in zip(values[1::2], values[2::2], strict=True):
        if sign == "+":
            result = result + value if isinstance(result, Matrix) or not isinstance(value, Matrix) else value + result
        elif sign in MINUS:
            result = result - value if isinstance(result, Matrix) or not isinstance(value, Matrix) else -value + result
        elif sign in words.DIVIDED:
            if isinstance(value, Matrix):
                raise at.fault("a matrix cannot be divided by: multiply by its inverse, A*B^(-1)", node)
            result = result / value
        elif isinstance(result, Matrix) and isinstance(value, Matrix):
            result = result @ value
        else:
            result = result * value
    return result


def sum_of_terms(at: Reading, node: Tree, values: Values) -> Value:
    if any(isinstance(v, Matrix) for v in values):
        return _folded(at, node, values)
    terms = [at.value(values[0], node.children[0])]
    for sign, value, child in zip(values[1::2], values[2::2], node.children[2::2], strict=True):
        term = at.value(value, child)
        terms.append(term if sign == "+" else building.negate(term))
    return building.total(terms)


def product(at: Reading, node: Tree, values: Values) -> Value:
    if any(isinstance(v, Matrix) for v in values):
        return _folded(at, node, values)
    factors = [at.value(values[0], node.children[0])]
    for sign, value, child in zip(values[1::2], values[2::2], node.children[2::2], strict=True):
        factor = at.value(value, child)
        if sign in words.DIVIDED:
            at.note_denominator(factor, child)
            factor = building.power(factor, building.number(-1))
        factors.append(factor)
    return building.multiply_all(factors)


def negative(at: Reading, node: Tree, values: Values) -> Value:
    if isinstance(values[1], Matrix):
        return -values[1]
    return building.negate(at.value(values[1], node.children[1]))


def positive(at: Reading, node: Tree, values: Values) -> Value:
    return at.value(values[1], node.children[1])


def root(at: Reading, node: Tree, values: Values) -> Value:
    return building.sqrt(at.value(values[1], node.children[1]))


def implicit(at: Reading, node: Tree, values: Values) -> Value:
    if isinstance(values[1], Matrix):
        return values[1] * number_of(values[0])
    return building.multiply_all((number_of(values[0]), at.value(values[1], node.children[1])))


def power(at: Reading, node: Tree, values: Values) -> Value:
    if isinstance(values[0], Matrix):
        exponent = at.value(values[2], node.children[2])
        if isinstance(exponent, Name) and exponent.name == "T":
            return values[0].transpose()  # the trade's sign
        return values[0] ** exponent
    base, exponent = at.value(values[0], node.children[0]), at.value(values[2], node.children[2])
    if isinstance(exponent, Number) and exponent.is_rational and exponent.rational < 0:
        at.note_denominator(base, node.children[0])
    return at.noted(building.power(base, exponent))


def number(at: Reading, node: Tree, values: Values) -> Value:
    return number_of(values[0])


def measured_number(at: Reading, node: Tree, values: Values) -> Value:
    """A number with a unit, or a unit alone: an exact number times SI base units."""
    text = str(values[-1]).strip("{} ")
    count = number_of(values[0]) if len(values) > 1 else building.number(1)
    if text in ("deg", "°"):
        return count * building.constant("pi") / 180
    at.measured = True
    return count * quantity(unit(text))


def imaginary(at: Reading, node: Tree, values: Values) -> Value:
    if "j" in at.context.declared or "j" in at.bare:
        raise at.fault("`j` is a name here, so it is not clear what this means", node, "Write 3*j for the name, or rename it.")
    at.called.setdefault("j", column_of(node))
    return building.number(
        Gaussian(mpq(0), from_decimal_text(str(values[0])[:-1])) if mpq(0) != from_decimal_text(str(values[0])[:-1]) else 0
    )


def factorial(at: Reading, node: Tree, values: Values) -> Value:
    return building.call("factorial", at.value(values[0], node.children[0]))


def superscript(at: Reading, node: Tree, values: Values) -> Value:
    text = str(values[1]).translate(words.SUPERSCRIPTS)
    exponent = building.number(from_decimal_text(text.lstrip("+-")) * (-1 if text[0] == "-" else 1))
    if isinstance(values[0], Matrix):
        return values[0] ** exponent
    base = at.value(values[0], node.children[0])
    if text[0] == "-":
        at.note_denominator(base, node.children[0])
    return building.power(base, exponent)


def absolute(at: Reading, node: Tree, values: Values) -> Value:
    return building.call("abs", at.value(values[1] if len(values) > 1 else values[0], node))


def matrix_row(at: Reading, node: Tree, values: Values) -> list[Expression]:
    return [at.value(v, c) for v, c in zip(values, node.children, strict=True)]


def matrix(at: Reading, node: Tree, values: Values) -> Value:
    return Matrix(values)


def group(at: Reading, node: Tree, values: Values) -> Value:
    return values[0]


MINUS = ("-", "−", "–", "‐", "‑")
