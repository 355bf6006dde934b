"""`numeric_function`: a formula as a NumPy function in this process."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from gelvo.code.numpy_target import BUILTINS, TARGET, function_source
from gelvo.code.program import make_program, straight
from gelvo.errors import DomainError
from gelvo.expression.nodes import Expression, Name
from gelvo.forms.dimensions import numbers_of
from gelvo.matrices.matrix import Matrix
from gelvo.operations.inputs import take


class NumericFunction:
    """Formulas as one function of numbers or arrays, in the order of the inputs; `.source` is its text in Python."""

    def __init__(self, outputs: Mapping[str, Expression], inputs: list[Name], shape: tuple[int, int] | None = None) -> None:
        """shape: of a matrix whose entries, row by row, the outputs are."""
        import numpy

        self._made_from, self._shape = (outputs, inputs, shape), shape
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
        found = self._function(*inputs, **named)
        if self._shape is None:
            return found
        import numpy

        entries = numpy.stack(found if isinstance(found, tuple) else (found,), axis=-1)
        return entries.reshape(*entries.shape[:-1], *self._shape)

    def __reduce__(self) -> tuple[object, ...]:
        return NumericFunction, self._made_from


def numeric_function(expression: object, inputs: object) -> NumericFunction:
    """A vectorised function of the inputs in order; one output, a tuple for a list of formulas, or an array for a matrix."""
    wanted = inputs if isinstance(inputs, (list, tuple)) else [inputs]
    arguments = take(*(expression if isinstance(expression, (list, tuple)) else [expression]), variables=wanted)
    names = list(arguments.names)
    if not arguments.values:
        raise DomainError("a numeric function needs at least one formula")
    matrix = arguments.values[0] if len(arguments.values) == 1 else None
    entries = matrix.flat() if isinstance(matrix, Matrix) else arguments.expressions
    outputs = {f"output_{k + 1}": numbers_of(e) for k, e in enumerate(entries)}
    return NumericFunction(outputs, names, matrix.shape if isinstance(matrix, Matrix) else None)
