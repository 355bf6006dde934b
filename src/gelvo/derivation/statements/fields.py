"""The statements of fields and tensors."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from gelvo.derivation.results import Result, Words
from gelvo.derivation.said import Said
from gelvo.derivation.statement import Statement
from gelvo.operations import vectors
from gelvo.physics import tensors


def _of_scalar(work: Callable[..., object], said: Said) -> Result:
    return said.result(work(said.formula(), [said.read(v) for v in said.listed(said["by"])]))


def _of_vector(work: Callable[..., object], said: Said) -> Result:
    return said.result(work([said.formula(t) for t in said.listed()], [said.read(v) for v in said.listed(said["by"])]))


def _difference_quotient(said: Said) -> Result:
    return said.result(vectors.difference_quotient(said.formula(), said.read(said["by"]), said.read(said["step"])))


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
    Statement("invariants", f"of A {_END}", _invariants, "invariants of [a, b; b, c]", "what no rotation changes of a tensor"),
)  # fmt: skip
