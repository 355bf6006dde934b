"""Nodes without parts: numbers, named constants, variables, bounds; and formulas from Python's numbers."""

from __future__ import annotations

from decimal import Decimal
from fractions import Fraction
from numbers import Integral

from gmpy2 import mpq

from gelvo.errors import DomainError, WrongKind
from gelvo.expression import known as facts
from gelvo.expression.interning import interned
from gelvo.expression.nodes import AlgebraicNumber, Bound, Constant, Expression, Name, Number
from gelvo.numbers import exact
from gelvo.numbers.exact import Gaussian, Scalar

MOST_FLOAT_DIGITS = 14


CONSTANTS = ("pi", "euler_gamma", "catalan")


def number(value: Scalar | int) -> Number:
    """The node of an exact number."""
    if not isinstance(value, Gaussian):
        value = exact.rational(value)
    return interned(Number, (value,), _known_of_new_number)


def _known_of_new_number(node: Number) -> int:
    if exact.bits_of(node.value) > exact.LARGEST_NUMBER_BITS:
        raise DomainError(f"a number with {exact.bits_of(node.value)} binary digits is too large to go on with exactly")
    return known_of_number(node.value)


def known_of_number(value: Scalar) -> int:
    if isinstance(value, Gaussian):
        return facts.NONZERO
    sign = facts.NIL if not value else facts.POS if value > 0 else facts.NEG
    return sign if value.denominator == 1 else sign | facts.FRACTIONAL


def constant(name: str) -> Constant:
    return interned(Constant, (name,), facts.POSITIVE)


def algebraic_number(coefficients: tuple[int, ...], index: int, known: int) -> AlgebraicNumber:
    """The node of a root; only `gelvo.deciding.algebraic` calls this, after it has made sure of the polynomial."""
    return interned(AlgebraicNumber, (coefficients, index), known)


def name(text: str, domain: str = "real") -> Name:
    """A variable. The domain "real" is not used by building: an equation in it may be solved over complex numbers."""
    return interned(Name, (text, domain), facts.ANY if domain == "real" else facts.DOMAINS[domain])


def bound(kind: str) -> Bound:
    return interned(Bound, (kind,), facts.ANY)


def to_expression(value: object) -> Expression:  # noqa: C901
    """An expression from a Python or NumPy number; floats by their shortest decimal."""
    if isinstance(value, Expression):
        return value
    inner = getattr(value, "expression", None)
    if isinstance(inner, Expression):
        return inner
    if isinstance(value, bool):
        raise WrongKind("True and False are not numbers in a formula")
    if isinstance(value, (int, Integral)) or type(value).__name__ == "mpz":
        return number(mpq(int(value)))  # type: ignore[call-overload]
    if isinstance(value, Fraction):
        return number(mpq(value.numerator, value.denominator))
    if isinstance(value, mpq):
        return number(value)
    if isinstance(value, Decimal):
        if not value.is_finite():
            return _infinite(float(value))
        return number(exact.from_decimal_text(str(value)))
    if isinstance(value, complex):
        return number(exact.gaussian(_from_float(value.real), _from_float(value.imag)))
    if isinstance(value, float):
        if value - value != 0:
            return _infinite(value)
        return number(_from_float(value))
    if hasattr(value, "item") and getattr(value, "shape", None) == ():
        return to_expression(value.item())
    raise WrongKind(f"a {type(value).__name__} cannot stand in a formula")


def _infinite(value: float) -> Expression:
    return bound("undefined" if value != value else "inf" if value > 0 else "-inf")


def _from_float(value: float) -> mpq:
    text = repr(float(value))
    digits = text.lower().split("e")[0].replace(".", "").lstrip("-").strip("0")
    if len(digits) > MOST_FLOAT_DIGITS:
        raise DomainError(
            f"the float {text} has {len(digits)} digits, so it is probably a rounded value. "
            f'Write it exactly (Fraction(1, 3), "1/3", gelvo.pi), or say decimal({text}, digits) for that decimal.'
        )
    sign = -1 if text.startswith("-") else 1
    return sign * exact.from_decimal_text(text.lstrip("-"))


def shown_short(node: Expression) -> str:
    shown = str(node)
    return shown if len(shown) <= 40 else "(…)"
