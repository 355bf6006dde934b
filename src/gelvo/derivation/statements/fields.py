"""The statements of fields and tensors."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from gelvo.derivation.results import Result, Words
from gelvo.derivation.said import Said
from gelvo.derivation.statement import Statement
from gelvo.operations import regions, vectors
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


def _region_integral(said: Said) -> Result:
    which = said.get("in coordinates") or "cartesian"
    return said.answer(regions.integrate_over(said.formula(), said.ranges(), which, said.given))


def _line_integral(said: Said) -> Result:
    ranges = said.ranges()
    if len(ranges) != 1:
        raise said.fault("a path has one parameter, as in  over t in 0..1", said["over"])
    ((t, (low, high)),) = ranges.items()
    field = [said.formula(part) for part in said.listed()]
    path = [said.formula(part) for part in said.listed(said["along"])]
    return said.answer(regions.line_integral(field if len(field) > 1 else field[0], path, t, low, high, given=said.given))


def _flux(said: Said) -> Result:
    field, surface = ([said.formula(part) for part in said.listed(text)] for text in (said.head, said["through"]))
    return said.answer(regions.flux(field, surface, said.ranges(), given=said.given))


_END = "[with VALUES] [given FACTS]"
STATEMENTS = (
    Statement("difference quotient", "of E by x step h [with VALUES]", _difference_quotient, "difference quotient of x^2 by x step h", "what a derivative is the limit of"),
    Statement("gradient", "of E by x, y [with VALUES]", partial(_of_scalar, vectors.gradient), "gradient of x^2*y by x, y", "the derivatives by all coordinates"),
    Statement("hessian", "of E by x, y [with VALUES]", partial(_of_scalar, vectors.hessian), "hessian of x^2*y by x, y", "the second derivatives"),
    Statement("laplacian", "of E by x, y [with VALUES]", partial(_of_scalar, vectors.laplacian), "laplacian of x^2 + y^2 by x, y", "the sum of the second derivatives"),
    Statement("jacobian", "of P, Q by x, y [with VALUES]", partial(_of_vector, vectors.jacobian), "jacobian of r*cos(p), r*sin(p) by r, p", "the derivatives of all by all"),
    Statement("divergence", "of P, Q by x, y [with VALUES]", partial(_of_vector, vectors.divergence), "divergence of x^2, y by x, y", "the source density of a field"),
    Statement("curl", "of P, Q, R by x, y, z [with VALUES]", partial(_of_vector, vectors.curl), "curl of -y, x, 0 by x, y, z", "the rotation density of a field"),
    Statement(
        "region integral", f"of E over RANGES [in coordinates WHICH] {_END}", _region_integral, "region integral of x*y over y in 0..x, x in 0..1",
        "over a region, the first variable innermost; in polar, cylindrical or spherical coordinates",
    ),
    Statement(
        "line integral", f"of P, Q along X, Y over RANGE {_END}", _line_integral, "line integral of -y, x along cos(t), sin(t) over t in 0..2*pi",
        "of a field along a path; of one formula along its length",
    ),
    Statement(
        "flux", f"of P, Q, R through X, Y, Z over RANGES {_END}", _flux, "flux of x, y, z through cos(v), sin(v), u over u in 0..h, v in 0..2*pi",
        "of a field through a surface",
    ),
    Statement("invariants", f"of A {_END}", _invariants, "invariants of [a, b; b, c]", "what no rotation changes of a tensor"),
)  # fmt: skip
