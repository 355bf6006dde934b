"""The statements of matrices: what is asked of one, with all cases of its letters where that is wanted, and ways to enter one."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from functools import partial
from typing import Any

from gelvo.checking.certificate import Certificate, weakest
from gelvo.derivation.results import Result, Words
from gelvo.derivation.said import Said
from gelvo.derivation.statement import Statement
from gelvo.expression.building import junction
from gelvo.expression.nodes import Expression
from gelvo.matrices.matrix import Matrix
from gelvo.matrices.row_steps import row_steps
from gelvo.operations import matrix_forms, matrix_methods, polynomials
from gelvo.operations.case_table import CaseTable
from gelvo.operations.matrices import from_columns, random_matrix
from gelvo.operations.matrix_results import PartsResult

SUBSCRIPTS = str.maketrans("0123456789", "₀₁₂₃₄₅₆₇₈₉")
Shown = Callable[[Any], list[object]]


def _alone(value: object) -> list[object]:
    return [value]


def _eigenvalues(value: Mapping[Expression, int]) -> list[object]:
    return [(Words("eigenvalue" if times == 1 else f"eigenvalue ({times} times)"), v) for v, times in value.items()]


def _singular_values(value: Mapping[Expression, int]) -> list[object]:
    return [(Words("singular value" if times == 1 else f"singular value ({times} times)"), v) for v, times in value.items()]


def _eigenvectors(value: Iterable[tuple[Expression, Sequence[Matrix]]]) -> list[object]:
    return [row for v, vectors in value for row in ((Words("eigenvalue"), v), *[(Words("its vector"), w) for w in vectors])]


def _modes(value: Iterable[tuple[Expression, Matrix]]) -> list[object]:
    return [row for w, shape in value for row in ((Words("frequency"), w), (Words("its shape"), shape))]


def _basis(value: Iterable[Matrix]) -> list[object]:
    return [(Words("spanned by"), v) for v in value] or [(Words("only the zero vector"), 0)]


def _letters(value: PartsResult) -> list[object]:
    return [(letter, m) for letter, m in zip(value.letters, value, strict=True)]


def _told(said: Said, value: Any, shown: Shown) -> Result:
    """A result with its conditions, its certificate and its steps; of a table of cases each with its own."""
    if isinstance(value, CaseTable):
        parts = tuple(case.result.certificate() for case in value if hasattr(case.result, "certificate"))
        whole = Certificate(said.line.text, weakest(parts), "each case by itself", parts=parts) if parts else None
        return said.result(value, certificate=whole)
    certificate = value.certificate() if hasattr(value, "certificate") else None
    steps = value.steps if said.derivation.steps and hasattr(value, "steps") else ()
    return said.result(
        *shown(value),
        conditions=getattr(value, "conditions", ()),
        certificate=certificate,
        road=getattr(value, "road", ""),
        steps=steps,
    )


def _plain(method: str, said: Said) -> Result:
    """What a matrix has without any facts."""
    extra = [said.read(said["by"])] if said.get("by") else []
    steps = {"steps": True} if method == "determinant" else {}
    return _told(said, getattr(said.matrix(), method)(*extra, **steps), _alone)


def _under_facts(method: str, shown: Shown, said: Said) -> Result:
    extra = [said.read(said["by"])] if said.get("by") else []
    options: dict[str, Any] = {"cases": True} if _wants_cases(said) else {}
    if method in ("inverse", "reduced") and said.derivation.steps:
        options["steps"] = True
    return _told(said, getattr(said.matrix(), method)(*extra, given=said.given, **options), shown)


def _wants_cases(said: Said) -> bool:
    return said.get("as cases") is not None


def _minimal_polynomial(said: Said) -> Result:
    value = said.thing()
    if not isinstance(value, Matrix):
        return said.result(polynomials.minimal_polynomial(value))
    return _under_facts("minimal_polynomial", _alone, said)


def _row_reduce(said: Said) -> Result:
    """With each row operation, whether steps are asked for or not: they are the point of it."""
    m = said.matrix()
    value = matrix_methods.reduced(m, said.given)
    rows: list[object] = [m]
    for step in row_steps(m, said.facts):
        where = f", where {junction('and', step.conditions)}" if step.conditions else ""
        rows.append((Words(_written(step.operation) + where), step.matrix))
    return said.result(*rows, conditions=value.conditions, certificate=value.certificate(), road=value.road, value=value)


def _written(operation: str) -> str:
    """A row operation as on paper: R₂ − 3·R₁ → R₂."""
    shown = re.sub(r"R_(\d+)", lambda found: "R" + found[1].translate(SUBSCRIPTS), operation)
    return shown.replace("<->", "↔").replace("->", "→").replace("*", "·").replace("-", "−")


def _function(said: Said) -> Result:
    value = said.matrix(said["at"]).matrix_function(said.formula(), said.read(said["by"]), given=said.given)  # type: ignore[attr-defined]
    return _told(said, value, _alone)


def _of_two(work: Callable[..., object], shown: Shown, with_facts: bool, said: Said) -> Result:
    """Something of two matrices."""
    parts = said.listed()
    if len(parts) != 2:
        raise said.fault(f"two matrices are needed here, not {len(parts)}", said.head)
    options = {"given": said.given} if with_facts else {}
    return _told(said, work(*[said.matrix(p) for p in parts], **options), shown)


def _least_squares(said: Said) -> Result:
    value = said.matrix().least_squares(said.matrix(said["for"]), given=said.given)  # type: ignore[attr-defined]
    return _told(said, value, _alone)


def _gram_schmidt(unit: bool, said: Said) -> Result:
    return _told(said, matrix_forms.gram_schmidt([said.matrix(p) for p in said.listed()], unit, said.given), _basis)


def _norm(said: Said) -> Result:
    kind = (said.get("by") or "frobenius").strip()
    return said.result(matrix_forms.norm(said.matrix(), kind, said.given))


def _from_columns(said: Said) -> Result:
    return said.result(from_columns([said.matrix(p) for p in said.listed()]))


def _random(said: Said) -> Result:
    rows, columns, seed = (_whole(said, text) for text in (said.head, said["by"], said["seed"]))
    return said.result(random_matrix(rows, columns, seed))


def _whole(said: Said, text: str) -> int:
    if not text.strip().isdecimal() or len(text.strip()) > 9:
        raise said.fault(f"a whole number is needed here, not `{text.strip()}`", text.strip())
    return int(text)


def _solve_matrix(said: Said) -> Result:
    right = said.matrix(said["for"])
    value = said.matrix().solve(right, given=said.given)  # type: ignore[attr-defined]
    return _told(said, value, _alone)


_END = "[with VALUES] [given FACTS]"
_CASES = f"of A [as cases] {_END}"
STATEMENTS = (
    Statement("determinant", f"of A {_END}", partial(_plain, "determinant"), "determinant of [1, 2; 3, 4]", "the determinant"),
    Statement("inverse", f"of A {_END}", partial(_under_facts, "inverse", _alone), "inverse of [1, 2; 3, a]", "the inverse, where the determinant is not zero"),
    Statement("adjugate", f"of A {_END}", partial(_plain, "adjugate"), "adjugate of [1, 2; 3, 4]", "the transposed matrix of cofactors"),
    Statement("transpose", f"of A {_END}", partial(_plain, "transpose"), "transpose of [1, 2; 3, 4]", "rows as columns"),
    Statement("conjugate transpose", f"of A {_END}", partial(_plain, "conjugate_transpose"), "conjugate transpose of [1, 1j; 0, 1]", "rows as columns, conjugated"),
    Statement("trace", f"of A {_END}", partial(_plain, "trace"), "trace of [1, 2; 3, 4]", "the sum along the diagonal"),
    Statement("rank", _CASES, partial(_under_facts, "rank", _alone), "rank of [1, a; a, 1] as cases", "how many rows are independent"),
    Statement("null space", _CASES, partial(_under_facts, "null_space", _basis), "null space of [1, 2; 2, 4]", "the vectors that become zero"),
    Statement("column space", f"of A {_END}", partial(_under_facts, "column_space", _basis), "column space of [1, 2; 2, 4]", "columns that span all"),
    Statement("row space", f"of A {_END}", partial(_under_facts, "row_space", _basis), "row space of [1, 2; 2, 4]", "rows that span all"),
    Statement("reduced form", _CASES, partial(_under_facts, "reduced", _alone), "reduced form of [1, 2; 3, 4]", "the reduced row echelon form"),
    Statement("row reduce", f"A {_END}", _row_reduce, "row reduce [1, 2; 3, 4]", "the reduced form, with each row operation"),
    Statement("solve matrix", f"A for B {_END}", _solve_matrix, "solve matrix [1, 2; 3, 4] for [5; 6]", "the X with A*X = B"),
    Statement("least squares", f"A for B {_END}", _least_squares, "least squares [1, 0; 1, 1; 1, 2] for [1; 2; 4]", "the x for which A*x is nearest to B"),
    Statement("eigenvalues", f"of A {_END}", partial(_under_facts, "eigenvalues", _eigenvalues), "eigenvalues of [2, 1; 1, 2]", "the eigenvalues, each with how often"),
    Statement("eigenvectors", _CASES, partial(_under_facts, "eigenvectors", _eigenvectors), "eigenvectors of [2, 1; 1, 2]", "the eigenvalues with their vectors"),
    Statement("jordan form", _CASES, partial(_under_facts, "jordan_form", _letters), "jordan form of [3, 1; -1, 1]", "P and J with A*P = P*J"),
    Statement("diagonalization", _CASES, partial(_under_facts, "diagonalization", _letters), "diagonalization of [2, 1; 1, 2]", "P and D with A*P = P*D"),
    Statement("characteristic polynomial", f"of A [by x] {_END}", partial(_plain, "characteristic_polynomial"), "characteristic polynomial of [1, 2; 3, 4] by u", "its zeros are the eigenvalues"),
    Statement("minimal polynomial", f"of A [by x] {_END}", _minimal_polynomial, "minimal polynomial of [2, 0; 0, 2] by u", "of a matrix, or of an algebraic number such as sqrt(2) + sqrt(3)"),
    Statement("exponential", f"of A [by t] [as cases] {_END}", partial(_under_facts, "exponential", _alone), "exponential of [0, 1; 0, 0] by t", "exp(A*t)"),
    Statement("matrix power", f"of A by n [as cases] {_END}", partial(_under_facts, "power", _alone), "matrix power of [1, 1; 0, 1] by n", "A^n for a letter n"),
    Statement("matrix square root", _CASES, partial(_under_facts, "square_root", _alone), "matrix square root of [1, 0; 3, 4]", "the matrix whose square it is"),
    Statement("matrix logarithm", _CASES, partial(_under_facts, "logarithm", _alone), "matrix logarithm of [1, 1; 0, 1]", "the matrix whose exponential it is"),
    Statement("matrix function", f"F by x at A {_END}", _function, "matrix function cos(x) by x at [0, 1; 0, 0]", "a function of one variable, of a matrix"),
    Statement("lu decomposition", f"of A {_END}", partial(_under_facts, "lu_decomposition", _letters), "lu decomposition of [0, 1; 2, 3]", "P*A = L*U"),
    Statement("qr decomposition", f"of A {_END}", partial(_under_facts, "qr_decomposition", _letters), "qr decomposition of [1, 1; 1, 0]", "A = Q*R"),
    Statement("cholesky decomposition", f"of A {_END}", partial(_under_facts, "cholesky_decomposition", _alone), "cholesky decomposition of [4, 2; 2, 5]", "L with A = L*L^T"),
    Statement("ldl decomposition", f"of A {_END}", partial(_under_facts, "ldl_decomposition", _letters), "ldl decomposition of [4, 2; 2, 3]", "A = L*D*L^T"),
    Statement("singular values", f"of A {_END}", partial(_under_facts, "singular_values", _singular_values), "singular values of [3, 0; 4, 5]", "the singular values, each with how often"),
    Statement("singular value decomposition", f"of A {_END}", partial(_under_facts, "singular_value_decomposition", _letters), "singular value decomposition of [3, 0; 4, 0]", "A = U*S*V^T"),
    Statement("definiteness", f"of A {_END}", partial(_under_facts, "definiteness", _alone), "definiteness of [a, 1; 1, 2]", "positive definite, indefinite, …, or by cases"),
    Statement("norm", f"of A [by KIND] {_END}", _norm, "norm of [3, 0; 0, 4] by rows", "frobenius, columns, rows or spectral"),
    Statement("projection", f"of A {_END}", partial(_under_facts, "projection", _alone), "projection of [1; 2]", "the matrix that projects on the columns"),
    Statement("gram schmidt", f"U, V {_END}", partial(_gram_schmidt, False), "gram schmidt [1; 1], [1; 0]", "columns at right angles"),
    Statement("orthonormal", f"U, V {_END}", partial(_gram_schmidt, True), "orthonormal [1; 1], [1; 0]", "columns of length one at right angles"),
    Statement("kronecker product", f"of A, B {_END}", partial(_of_two, matrix_forms.kronecker, _alone, False), "kronecker product of [1, 2], [0, 1; 1, 0]", "each entry times the other matrix"),
    Statement("hadamard product", f"of A, B {_END}", partial(_of_two, matrix_forms.hadamard, _alone, False), "hadamard product of [1, 2], [3, 4]", "the product entry by entry"),
    Statement("exterior product", f"of A, B {_END}", partial(_of_two, matrix_forms.exterior, _alone, False), "exterior product of [1; 0], [0; 1]", "a*b^T - b*a^T"),
    Statement("common eigenvectors", f"of A, B {_END}", partial(_of_two, matrix_forms.common_eigenvectors, _alone, True), "common eigenvectors of [2, 1; 1, 2], [0, 3; 3, 0]", "columns that make both diagonal"),
    Statement("normal modes", f"of M, K {_END}", partial(_of_two, matrix_forms.normal_modes, _modes, True), "normal modes of [m, 0; 0, m], [2*k, -k; -k, 2*k] given m > 0, k > 0", "frequencies and shapes of M*q'' + K*q = 0"),
    Statement("from columns", f"U, V {_END}", _from_columns, "from columns [1; 2], [3; 4]", "a matrix from its columns"),
    Statement("random matrix", "ROWS by COLUMNS seed N", _random, "random matrix 3 by 4 seed 7", "whole numbers for practice"),
)  # fmt: skip
