"""The statements of fields and matrices."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from functools import partial
from typing import TypeVar

from gelvo.derivation.results import Result, Words
from gelvo.derivation.said import Said
from gelvo.derivation.statement import Statement
from gelvo.expression.nodes import Expression
from gelvo.matrices.matrix import Matrix
from gelvo.operations import vectors
from gelvo.physics import tensors

V = TypeVar("V")


def _of_scalar(work: Callable[..., object], said: Said) -> Result:
    return said.result(work(said.formula(), [said.read(v) for v in said.listed(said["by"])]))


def _of_vector(work: Callable[..., object], said: Said) -> Result:
    return said.result(work([said.formula(t) for t in said.listed()], [said.read(v) for v in said.listed(said["by"])]))


def _difference_quotient(said: Said) -> Result:
    return said.result(vectors.difference_quotient(said.formula(), said.read(said["by"]), said.read(said["step"])))


def _plain(method: str, said: Said) -> Result:
    """What a matrix has without any facts."""
    extra = [said.read(said["by"])] if said.get("by") else []
    return said.result(getattr(said.matrix(), method)(*extra))


def _under_facts(method: str, shown: Callable[[V], list[object]], said: Said) -> Result:
    extra = [said.read(said["by"])] if said.get("by") else []
    value = getattr(said.matrix(), method)(*extra, given=said.given)
    return said.result(*shown(value), conditions=getattr(value, "conditions", ()))


def _eigenvalues(value: Mapping[Expression, int]) -> list[object]:
    return [(Words("eigenvalue" if times == 1 else f"eigenvalue ({times} times)"), v) for v, times in value.items()]


def _eigenvectors(value: Iterable[tuple[Expression, Sequence[Matrix]]]) -> list[object]:
    return [row for v, vectors_of in value for row in ((Words("eigenvalue"), v), *[(Words("its vector"), w) for w in vectors_of])]


def _basis(value: Iterable[Matrix]) -> list[object]:
    return [(Words("spanned by"), v) for v in value] or [(Words("only the zero vector"), 0)]


def _alone(value: object) -> list[object]:
    return [value]


def _invariants(said: Said) -> Result:
    tensor = said.matrix()
    found = list(tensors.invariants(tensor)._asdict().items())[: tensor.shape[0]]  # in the plane the second is the determinant
    return said.result(*[(Words(f"{which} invariant"), value) for which, value in found])


_END = "[with VALUES] [given FACTS]"
STATEMENTS = (
    Statement("difference quotient", "of E by x step h [with VALUES]", _difference_quotient, "difference quotient of x^2 by x step h", "what a derivative is the limit of"),
    Statement("gradient", "of E by x, y [with VALUES]", partial(_of_scalar, vectors.gradient), "gradient of x^2*y by x, y", "the derivatives by all coordinates"),
    Statement("hessian", "of E by x, y [with VALUES]", partial(_of_scalar, vectors.hessian), "hessian of x^2*y by x, y", "the second derivatives"),
    Statement("laplacian", "of E by x, y [with VALUES]", partial(_of_scalar, vectors.laplacian), "laplacian of x^2 + y^2 by x, y", "the sum of the second derivatives"),
    Statement("jacobian", "of P, Q by x, y [with VALUES]", partial(_of_vector, vectors.jacobian), "jacobian of r*cos(p), r*sin(p) by r, p", "the derivatives of all by all"),
    Statement("divergence", "of P, Q by x, y [with VALUES]", partial(_of_vector, vectors.divergence), "divergence of x^2, y by x, y", "the source density of a field"),
    Statement("curl", "of P, Q, R by x, y, z [with VALUES]", partial(_of_vector, vectors.curl), "curl of -y, x, 0 by x, y, z", "the rotation density of a field"),
    Statement("determinant", f"of A {_END}", partial(_plain, "determinant"), "determinant of [1, 2; 3, 4]", "the determinant"),
    Statement("invariants", f"of A {_END}", _invariants, "invariants of [a, b; b, c]", "what no rotation changes of a tensor"),
    Statement("inverse", f"of A {_END}", partial(_under_facts, "inverse", _alone), "inverse of [1, 2; 3, a]", "the inverse, where the determinant is not zero"),
    Statement("transpose", f"of A {_END}", partial(_plain, "transpose"), "transpose of [1, 2; 3, 4]", "rows as columns"),
    Statement("conjugate transpose", f"of A {_END}", partial(_plain, "conjugate_transpose"), "conjugate transpose of [1, 1j; 0, 1]", "rows as columns, conjugated"),
    Statement("trace", f"of A {_END}", partial(_plain, "trace"), "trace of [1, 2; 3, 4]", "the sum along the diagonal"),
    Statement("rank", f"of A {_END}", partial(_under_facts, "rank", _alone), "rank of [1, 2; 2, 4]", "how many rows are independent"),
    Statement("null space", f"of A {_END}", partial(_under_facts, "null_space", _basis), "null space of [1, 2; 2, 4]", "the vectors that become zero"),
    Statement("reduced form", f"of A {_END}", partial(_under_facts, "reduced", _alone), "reduced form of [1, 2; 3, 4]", "the reduced row echelon form"),
    Statement("eigenvalues", f"of A {_END}", partial(_under_facts, "eigenvalues", _eigenvalues), "eigenvalues of [2, 1; 1, 2]", "the eigenvalues, each with how often"),
    Statement("eigenvectors", f"of A {_END}", partial(_under_facts, "eigenvectors", _eigenvectors), "eigenvectors of [2, 1; 1, 2]", "the eigenvalues with their vectors"),
    Statement("exponential", f"of A [by t] {_END}", partial(_under_facts, "exponential", _alone), "exponential of [0, 1; 0, 0] by t", "exp(A*t)"),
    Statement("characteristic polynomial", f"of A [by x] {_END}", partial(_plain, "characteristic_polynomial"), "characteristic polynomial of [1, 2; 3, 4] by u", "its zeros are the eigenvalues"),
)  # fmt: skip
