"""Finite elements in one dimension: shape functions, element matrices as exact integrals, assembly.

Source: O. Zienkiewicz, R. Taylor, "The Finite Element Method" (1989), chapters 2 and 7.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import Any

from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, number, total
from gelvo.expression.nodes import Expression
from gelvo.matrices.matrix import Matrix, column
from gelvo.operations.calculus import integrate
from gelvo.operations.inputs import take
from gelvo.operations.matrix_methods import solve_for


def shape_functions(nodes: Sequence[Any], variable: Any) -> list[Expression]:
    """The polynomials that are one at one node and zero at the others (J. Lagrange).

    >>> import gelvo
    >>> gelvo.shape_functions([0, "h"], "x")
    [-(x - h)/h, x/h]
    """
    arguments = take(*nodes, variables=[variable])
    (x,), places = arguments.names, arguments.expressions
    if len(set(places)) < len(places) or len(places) < 2:
        raise DomainError("an element needs at least two different nodes")
    return [multiply_all([(x - q) / (p - q) for q in places if q is not p]) for p in places]


def element_matrix(
    integrand: Callable[[Expression, Expression], Any], functions: Sequence[Expression], variable: Any, lower: Any, upper: Any,
    given: Iterable[Any] = (),
) -> Matrix:  # fmt: skip
    """The matrix of integrals of integrand(N_i, N_j) over an element, exactly.

    >>> import gelvo
    >>> shapes = gelvo.shape_functions([0, "h"], "x")
    >>> gelvo.element_matrix(lambda a, b: a*b, shapes, "x", 0, "h", given=["h > 0"])
    [h/3, h/6; h/6, h/3]
    """
    shapes, x, low, high = _element(functions, variable, lower, upper, given)
    rows = [[integrate(integrand(a, b), x, low, high, given=given, otherwise="error").expression for b in shapes]
            for a in shapes]  # fmt: skip
    return Matrix(rows)


def element_vector(
    integrand: Callable[[Expression], Any], functions: Sequence[Expression], variable: Any, lower: Any, upper: Any,
    given: Iterable[Any] = (),
) -> Matrix:  # fmt: skip
    """The column of integrals of integrand(N_i) over an element.

    >>> import gelvo
    >>> shapes = gelvo.shape_functions([0, "h"], "x")
    >>> gelvo.element_vector(lambda shape: gelvo.variable("q")*shape, shapes, "x", 0, "h", given=["h > 0"])
    [q*h/2; q*h/2]
    """
    shapes, x, low, high = _element(functions, variable, lower, upper, given)
    return column([integrate(integrand(f), x, low, high, given=given, otherwise="error").expression for f in shapes])


def _element(
    functions: Sequence[object], variable: object, lower: object, upper: object, given: Iterable[object]
) -> tuple[Sequence[Expression], Expression, Expression, Expression]:
    arguments = take(*functions, lower, upper, variables=[variable], given=given)
    *shapes, low, high = arguments.expressions
    return shapes, arguments.names[0], low, high


def assemble(elements: Sequence[Matrix], places: Sequence[Sequence[int]], size: int) -> Matrix:
    """Element matrices (or columns) added into a whole one; places: for each element the numbers of its nodes, from 0.

    >>> import gelvo
    >>> one = gelvo.matrix([[1, -1], [-1, 1]])
    >>> gelvo.assemble([one, one], [(0, 1), (1, 2)], 3)
    [1, -1, 0; -1, 2, -1; 0, -1, 1]
    """
    if len(elements) != len(places):
        raise DomainError(f"{len(elements)} elements have {len(places)} lists of nodes")
    columns = 1 if elements and elements[0].shape[1] == 1 else size
    whole: list[list[Expression]] = [[number(0)] * columns for _ in range(size)]
    for element, nodes in zip(elements, places, strict=True):
        if len(nodes) != element.shape[0] or any(not 0 <= n < size for n in nodes):
            raise DomainError(f"an element of {element.shape[0]} nodes cannot stand at {tuple(nodes)} among {size}")
        for i, a in enumerate(nodes):
            for j, b in enumerate(nodes if columns > 1 else [0]):
                whole[a][b] = whole[a][b] + element[i, j]
    return Matrix(whole)


def restrained(matrix: Matrix, right: Matrix, fixed: dict[int, Any]) -> Matrix:
    """The values at all nodes where some are given: the others from the equations, exactly.

    >>> import gelvo
    >>> stiff = gelvo.matrix([[1, -1, 0], [-1, 2, -1], [0, -1, 1]])
    >>> gelvo.restrained(stiff, gelvo.column([0, 0, "F"]), {0: 0})
    [0; F; 2*F]
    """
    values = dict(zip(fixed, take(*fixed.values(), *matrix.flat(), *right.flat()).expressions[: len(fixed)], strict=True))
    free = [k for k in range(matrix.shape[0]) if k not in values]
    rows = [[matrix[i, j] for j in free] for i in free]
    rest = [right[i, 0] - _sum([matrix[i, k] * v for k, v in values.items()]) for i in free]
    solved = solve_for(Matrix(rows), column(rest)).flat()
    found = dict(zip(free, solved, strict=True))
    return column([values[k] if k in values else found[k] for k in range(matrix.shape[0])])


def _sum(terms: list[Expression]) -> Expression:
    return total(terms)
