"""`numeric_function`: a formula as a NumPy function in this process."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from gelvo.code.numpy_target import FUNCTIONS, function_source
from gelvo.code.program import make_program
from gelvo.operations.inputs import one_expression, plain_variable, take


def numeric_function(expression: Any, inputs: Any) -> Callable[..., Any]:
    """A vectorised function of the inputs in order; one output, or a tuple for a list of formulas."""
    listed = list(expression) if isinstance(expression, (list, tuple)) else [expression]
    arguments = take(*listed)
    names = [plain_variable(i, arguments.context) for i in (inputs if isinstance(inputs, (list, tuple)) else [inputs])]
    outputs = {f"output_{k + 1}": one_expression(v) for k, v in enumerate(arguments.values)}
    program = make_program(outputs, names, FUNCTIONS)
    source = function_source(program, "formula")
    import numpy

    space: dict[str, Any] = {"numpy": numpy, "__builtins__": {"float": float, "tuple": tuple}}
    if "special." in source:
        from scipy import special

        space["special"] = special
    # the source holds only operators, literals and names made by this library, never text of the user
    exec(compile(source, "<numeric function>", "exec"), space)
    function: Callable[..., Any] = space["formula"]
    function.__doc__ = f"{', '.join(map(str, outputs.values()))} as a function of {', '.join(n.name for n in names)}"
    function.source = source  # type: ignore[attr-defined]
    return function
