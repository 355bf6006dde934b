"""gradient, jacobian, hessian, divergence, curl, laplacian, difference_quotient, differentiate_implicitly."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from gelvo.errors import DomainError
from gelvo.expression.building import total
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import contains, substitute
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import factored
from gelvo.matrices.matrix import Matrix, column
from gelvo.operations.inputs import take


def _scalar(expression: object, variables: Sequence[object]) -> tuple[Expression, tuple[Name, ...]]:
    arguments = take(expression, variables=variables)
    return arguments.expressions[0], arguments.names


def _field(field: Sequence[object] | Matrix, variables: Sequence[object]) -> tuple[tuple[Expression, ...], tuple[Name, ...]]:
    arguments = take(*(field.flat() if isinstance(field, Matrix) else field), variables=variables)
    return arguments.expressions, arguments.names


def gradient(expression: Any, variables: Sequence[Any]) -> Matrix:
    """The column of first derivatives of a scalar field in Cartesian coordinates.

    >>> import gelvo
    >>> gelvo.gradient("x^2*y", ["x", "y"])
    [2*x*y; x^2]
    """
    f, names = _scalar(expression, variables)
    return column([differentiate(f, x) for x in names])


def hessian(expression: Any, variables: Sequence[Any]) -> Matrix:
    """The matrix of second derivatives of a scalar field.

    >>> import gelvo
    >>> gelvo.hessian("x^2*y", ["x", "y"])
    [2*y, 2*x; 2*x, 0]
    """
    f, names = _scalar(expression, variables)
    return Matrix([[differentiate(differentiate(f, a), b) for b in names] for a in names])


def jacobian(field: Sequence[Any] | Matrix, variables: Sequence[Any]) -> Matrix:
    """The matrix of derivatives of several formulas (one row each) by several variables (one column each).

    >>> import gelvo
    >>> gelvo.jacobian(["x*y", "x + y"], ["x", "y"])
    [y, x; 1, 1]
    """
    formulas, names = _field(field, variables)
    return Matrix([[differentiate(f, x) for x in names] for f in formulas])


def divergence(field: Sequence[Any] | Matrix, variables: Sequence[Any]) -> Expression:
    """The sum of the derivatives of each component by its coordinate.

    >>> import gelvo
    >>> gelvo.divergence(["x^2", "y", "z"], ["x", "y", "z"])
    2*x + 2
    """
    formulas, names = _field(field, variables)
    if len(formulas) != len(names):
        raise DomainError(f"a field of {len(formulas)} components needs as many coordinates, not {len(names)}")
    return total([differentiate(f, x) for f, x in zip(formulas, names, strict=True)])


def curl(field: Sequence[Any] | Matrix, variables: Sequence[Any]) -> Matrix:
    """The curl of a field of three components in Cartesian coordinates, as a column.

    >>> import gelvo
    >>> gelvo.curl(["-y", "x", 0], ["x", "y", "z"])
    [0; 0; 2]
    """
    formulas, names = _field(field, variables)
    if len(formulas) != 3 or len(names) != 3:
        raise DomainError("the curl needs three components and three coordinates")
    d = [[differentiate(f, x) for x in names] for f in formulas]
    return column([d[2][1] - d[1][2], d[0][2] - d[2][0], d[1][0] - d[0][1]])


def laplacian(expression: Any, variables: Sequence[Any]) -> Expression:
    """The sum of second derivatives of a scalar field in Cartesian coordinates.

    >>> import gelvo
    >>> gelvo.laplacian("x^2 + y^3", ["x", "y"])
    6*y + 2
    """
    f, names = _scalar(expression, variables)
    return total([differentiate(f, x, 2) for x in names])


def difference_quotient(expression: Any, variable: Any, step: Any) -> Expression:
    """(f(x + h) - f(x))/h in lowest terms.

    >>> import gelvo
    >>> gelvo.difference_quotient("x^2", "x", "h")
    2*x + h
    """
    arguments = take(expression, step, variables=[variable])
    (f, h), (x,) = arguments.expressions, arguments.names
    if contains(h, x):
        raise DomainError(f"the step {h} contains the variable {x}")
    return factored((substitute(f, {x: x + h}) - f) / h)


def differentiate_implicitly(equation: Any, function: Any, variable: Any) -> Expression:
    """dy/dx where an equation ties y to x.

    >>> import gelvo
    >>> gelvo.differentiate_implicitly("x^2 + y^2 = 25", "y", "x")
    -x/y
    """
    arguments = take(equation, variables=[function, variable])
    value = arguments.values[0]
    if not isinstance(value, Equation):
        raise DomainError("an equation between the variable and the function is needed")
    y, x = arguments.names
    g = value.left - value.right
    slope = differentiate(g, y)
    if not contains(g, y) or not contains(g, x):
        raise DomainError(f"the equation must contain both {y} and {x}")
    return factored(-differentiate(g, x) / slope)
