"""Plain floating-point evaluation of a formula in one variable, rounded from a bounded evaluation."""

from __future__ import annotations

from collections.abc import Callable

from gmpy2 import mpq

from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.nodes import Expression, Name
from gelvo.numbers.interval import NoValue


class NotReal(NoValue):
    """A value that is certainly complex, where a real one was asked for."""


def float_function(f: Expression, x: Name) -> Callable[[float], float]:
    """A function float -> float; complex values (NotReal) and missing ones raise."""
    enclosure = Enclosure(f)

    def evaluate(place: float) -> float:
        box = enclosure.at({x: mpq(place)}, 90)
        if box.imag is not None and not box.imag.contains_zero():
            raise NotReal("not real", certain=True)
        return float(box.real.low)

    return evaluate


def complex_function(f: Expression, x: Name) -> Callable[[float], complex]:
    """A function float -> complex; missing values raise."""
    enclosure = Enclosure(f)

    def evaluate(place: float) -> complex:
        box = enclosure.at({x: mpq(place)}, 90)
        return complex(float(box.real.low), 0.0 if box.imag is None else float(box.imag.low))

    return evaluate
