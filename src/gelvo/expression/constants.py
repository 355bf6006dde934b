"""The constants that every part of the library writes: 0, 1, 2, 1/2, pi and the imaginary unit, as formulas; and the bounds."""

from __future__ import annotations

from gelvo.expression.building import bound, constant, number
from gelvo.expression.nodes import Bound, Expression
from gelvo.numbers import exact

ZERO: Expression = number(exact.ZERO)
ONE: Expression = number(exact.ONE)
TWO: Expression = number(exact.TWO)
HALF: Expression = number(exact.HALF)
PI: Expression = constant("pi")
IMAGINARY: Expression = number(exact.Gaussian(exact.ZERO, exact.ONE))
INFINITE: Bound = bound("inf")
MINUS_INFINITE: Bound = bound("-inf")
UNDEFINED: Bound = bound("undefined")
