"""`numeric_function`: a formula as a NumPy function in this process."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from gelvo.code.numpy_target import BUILTINS, TARGET, function_source
from gelvo.code.program import make_program, straight
from gelvo.errors import DomainError
from gelvo.expression.nodes import Expression, Name
from gelvo.forms.dimensions import numbers_of
from gelvo.operations.inputs import take


class NumericFunction:
    """Formulas as one function of numbers or arrays, in the order of the inputs; `.source` is its text in Python."""

    def __init__(self, outputs: Mapping[str, Expression], inputs: list[Name]) -> None:
        import numpy

        self._made_from = outputs, inputs
        program = make_program(outputs, inputs, TARGET.functions)
        self.source = function_source(straight(program, TARGET.functions), "formula")
        shown = ", ".join(map(str, outputs.values()))
        self.__doc__ = f"{shown if len(shown) < 400 else 'formulas'} as a function of {', '.join(n.name for n in inputs)}"
        space: dict[str, Any] = {"numpy": numpy, "__builtins__": BUILTINS}
        if "special." in self.source:
            from scipy import special

            space["special"] = special
        # the source holds operators, literals and identifiers that the target made safe, never text of the user
        exec(compile(self.source, "<numeric function>", "exec"), space)
        self._function = space["formula"]
        self.__wrapped__ = self._function  # for inspect.signature

    def __call__(self, *inputs: object, **named: object) -> object:
        return self._function(*inputs, **named)

    def __reduce__(self) -> tuple[object, ...]:
        return NumericFunction, self._made_from


def numeric_function(expression: object, inputs: object) -> NumericFunction:
    """A vectorised function of the inputs in order; one output, or a tuple for a list of formulas."""
    wanted = inputs if isinstance(inputs, (list, tuple)) else [inputs]
    arguments = take(*(expression if isinstance(expression, (list, tuple)) else [expression]), variables=wanted)
    names = list(arguments.names)
    if not arguments.values:
        raise DomainError("a numeric function needs at least one formula")
    outputs = {f"output_{k + 1}": numbers_of(e) for k, e in enumerate(arguments.expressions)}
    return NumericFunction(outputs, names)
