"""Tensors of rank two under rotations: components, invariants, principal values and directions."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, NamedTuple

from gelvo.errors import DomainError
from gelvo.expression.building import number
from gelvo.expression.nodes import Expression
from gelvo.functions.named import COS, SIN
from gelvo.matrices.matrix import Matrix
from gelvo.operations.inputs import take
from gelvo.operations.matrices import determinant
from gelvo.operations.matrix_methods import eigenvectors
from gelvo.operations.rewriting import simplify

AXES = {"x": 0, "y": 1, "z": 2}


class Invariants(NamedTuple):
    """Trace, half the difference of its square and the trace of the square, determinant."""

    first: Expression
    second: Expression
    third: Expression


def rotation(angle: Any, axis: str | None = None) -> Matrix:
    """The matrix that turns components by an angle (in radians): in the plane, or about the axis "x", "y" or "z".

    >>> import gelvo
    >>> gelvo.rotation("phi")
    [cos(phi), -sin(phi); sin(phi), cos(phi)]
    """
    (phi,) = take(angle).expressions
    c, s = COS(phi), SIN(phi)
    if axis is None:
        return Matrix([[c, -s], [s, c]])
    if axis not in AXES:
        raise DomainError(f'the axis of a rotation is "x", "y" or "z", not {axis!r}')
    k = AXES[axis]
    i, j = (k + 1) % 3, (k + 2) % 3
    rows: list[list[Expression]] = [[number(1) if a == b else number(0) for b in range(3)] for a in range(3)]
    rows[i][i], rows[j][j], rows[i][j], rows[j][i] = c, c, -s, s
    return Matrix(rows)


def euler_rotation(angles: Iterable[Any], axes: str = "zxz") -> Matrix:
    """The matrix of three turns one after the other about axes that turn along, such as Euler's "zxz" or "zyx": the first angle first.

    angles: three angles in radians; axes: three letters. Raises DomainError where their numbers differ.

    >>> import gelvo
    >>> gelvo.euler_rotation(["phi", 0, 0]) == gelvo.rotation("phi", "z")
    True
    """
    turns = list(angles)
    if len(turns) != len(axes) or not turns:
        raise DomainError(f"{len(axes)} axes need as many angles, not {len(turns)}")
    made = rotation(turns[0], axes[0])
    for angle, axis in zip(turns[1:], axes[1:], strict=True):
        made = made @ rotation(angle, axis)
    return made


def rotated(tensor: Matrix, turn: Matrix, given: Iterable[Any] = ()) -> Matrix:
    """The components R T R^T of a tensor turned by R, each simplified.

    >>> import gelvo
    >>> gelvo.rotated(gelvo.diagonal("a", "a"), gelvo.rotation("phi"))
    [a, 0; 0, a]
    """
    if tensor.shape != turn.shape:
        raise DomainError(f"a tensor of {tensor.shape} and a rotation of {turn.shape} do not fit")
    return (turn @ tensor @ turn.transpose()).map(lambda e: simplify(e, given=given).expression)


def invariants(tensor: Matrix) -> Invariants:
    """What no rotation changes.

    >>> import gelvo
    >>> gelvo.invariants(gelvo.diagonal(1, 2, 3))
    Invariants(first=6, second=11, third=6)
    """
    if tensor.shape not in ((2, 2), (3, 3)):
        raise DomainError(
            f"invariants belong to a 2 by 2 or 3 by 3 tensor, and this one is {tensor.shape[0]} by {tensor.shape[1]}"
        )
    first = tensor.trace()
    second = simplify((first**2 - (tensor @ tensor).trace()) / 2).expression
    return Invariants(first, second, determinant(tensor))


def principal_values(tensor: Matrix, given: Iterable[Any] = ()) -> list[tuple[Expression, list[Matrix]]]:
    """The eigenvalues of a symmetric tensor with their directions.

    >>> import gelvo
    >>> gelvo.principal_values(gelvo.matrix([[2, 1], [1, 2]]))
    [(1, [[1; -1]]), (3, [[1; 1]])]
    """
    if tensor != tensor.transpose():
        raise DomainError("principal values belong to a symmetric tensor, and this one is not")
    return eigenvectors(tensor, given)
