"""Functions of a matrix: exponential, powers with a letter, roots, logarithms, and any other; each with conditions, certificate and cases."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from gelvo.checking.matrices import Claim, Same
from gelvo.errors import DomainError
from gelvo.expression.building import number
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Name, Number
from gelvo.expression.traversal import names, substitute
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import apart_from_zero
from gelvo.forms.differentiation import differentiate
from gelvo.functions.named import COS, EXP, SIN
from gelvo.matrices import elimination
from gelvo.matrices.matrix import Matrix, identity
from gelvo.matrices.plain import plain
from gelvo.operations.inputs import one_expression, take
from gelvo.operations.matrix_methods import Conditions, Given, answered, needs_other_letters
from gelvo.operations.matrix_results import MatrixResult, result
from gelvo.spectra import functions
from gelvo.spectra.scalar import LOGARITHM, ROOT, MatrixFunction


def exponential(self: Matrix, variable: object = None, given: Given = (), cases: bool = False) -> Any:
    """exp(t*A) for a square matrix A without t, exactly; without a variable exp(A).

    given: facts that tell, for instance, oscillation from decay; cases: a table of all cases of the letters.

    >>> import gelvo
    >>> gelvo.matrix("[0, -w; w, 0]").exponential("t")
    [cos(w*t), -sin(w*t); sin(w*t), cos(w*t)]
    """
    arguments = take(self, variables=[] if variable is None else [variable], given=given)
    (t,) = arguments.names or (arguments.facts.new_name("t", *self.flat()),)
    needs_other_letters(self, t)
    function = MatrixFunction(
        lambda z: EXP(t * z), lambda c, w: (EXP(t * c) * COS(t * w), EXP(t * c) * SIN(t * w)), one_formula=not cases
    )

    def work(m: Matrix, facts: Facts) -> tuple[Matrix, Conditions]:
        found = functions.applied(m, function, facts)
        return found, elimination.with_denominators(Matrix(found.entries), facts, free_of=t).conditions

    def wrap(m: Matrix, found: Matrix, conditions: Conditions, facts: Facts) -> MatrixResult:
        def claims() -> list[Claim]:
            slope = found.map(lambda e: differentiate(e, t))
            start = found.map(lambda e: substitute(e, {t: ZERO}))
            return [
                Same(f"d/d{t} exp(A*{t}) = A*exp(A*{t})", slope, m @ found),
                Same("exp(0) = identity", start, identity(m.shape[0])),
            ]

        shown = found if variable is not None else found.map(lambda e: substitute(e, {t: ONE}))
        return result(MatrixResult, shown, conditions, claims, facts, functions.ROAD)

    return answered(self, given, cases, work, wrap, by_signs=True)


def power(self: Matrix, exponent: object, given: Given = (), cases: bool = False) -> Any:
    """A^n for a letter n (a whole number from 0), or a number.

    >>> import gelvo
    >>> gelvo.matrix("[1, 1; 0, 1]").power("n")
    [1, n; 0, 1]
    """
    arguments = take(self, exponent, given=given)
    n = one_expression(arguments.values[-1])
    if n.is_whole:
        return self ** int(n.rational)
    if isinstance(n, Number):
        return _function(
            self, MatrixFunction(lambda z: z**n), given, cases, lambda m, found: [Same("A*A^n = A^n*A", m @ found, found @ m)]
        )
    if not isinstance(n, Name):
        raise DomainError(f"the exponent of a power of a matrix is a number or a name, not {n} (the transpose of A is A^T)")
    needs_other_letters(self, n)

    def work(m: Matrix, facts: Facts) -> tuple[Matrix, Conditions]:
        found, least = functions.applied_power(m, n, facts)
        needed = elimination.with_denominators(Matrix(found.entries), facts, free_of=n).conditions
        return found, (*needed, *least)

    def wrap(m: Matrix, found: Matrix, conditions: Conditions, facts: Facts) -> MatrixResult:
        def claims() -> list[Claim]:
            further = found.map(lambda e: substitute(e, {n: n + 1}))
            second = found.map(lambda e: substitute(e, {n: number(m.shape[0])}))
            return [
                Same(f"A^({n} + 1) = A*A^{n}", further, m @ found),
                Same(f"A^{m.shape[0]}, multiplied out", second, m ** m.shape[0]),
            ]

        return result(MatrixResult, found, conditions, claims, facts, functions.ROAD)

    return answered(self, given, cases, work, wrap)


def matrix_function(self: Matrix, function: object, variable: object, given: Given = (), cases: bool = False) -> Any:
    """f(A) for a function f of one variable, such as cos(x): its values and derivatives at the eigenvalues.

    >>> import gelvo
    >>> gelvo.matrix("[0, 1; 0, 0]").matrix_function("cos(x) + sin(x)", "x")
    [1, 1; 0, 1]
    """
    arguments = take(self, function, variables=[variable], given=given)
    (x,) = arguments.names
    needs_other_letters(self, x)
    body = one_expression(arguments.values[-1])
    function = MatrixFunction(lambda z: substitute(body, {x: z}))
    return _function(self, function, given, cases, lambda m, found: [Same("f(A)*A = A*f(A)", found @ m, m @ found)])


def _function(
    m: Matrix, function: MatrixFunction, given: Given, cases: bool, claims: Callable[[Matrix, Matrix], Sequence[Claim]]
) -> Any:
    def work(a: Matrix, facts: Facts) -> tuple[Matrix, Conditions]:
        found = functions.applied(a, function, facts).map(lambda e: e if names(e) else plain(e, facts))
        regular = apart_from_zero(elimination.determinant(a), facts) if function is LOGARITHM else ()
        return found, elimination.with_denominators(Matrix(found.entries, regular), facts).conditions

    def wrap(a: Matrix, found: Matrix, conditions: Conditions, facts: Facts) -> MatrixResult:
        return result(MatrixResult, found, conditions, lambda: claims(a, found), facts, functions.ROAD)

    return answered(m, given, cases, work, wrap)


def square_root(self: Matrix, given: Given = (), cases: bool = False) -> Any:
    """The matrix whose square is this one, with the principal roots of the eigenvalues; DomainError where a chain at 0 has none.

    >>> import gelvo
    >>> gelvo.matrix("[1, 0; 3, 4]").square_root()
    [1, 0; 1, 2]
    """
    return _function(self, ROOT, given, cases, lambda m, found: [Same("root*root = A", found @ found, m)])


def logarithm(self: Matrix, given: Given = (), cases: bool = False) -> Any:
    """The matrix whose exponential is this one, with the principal logarithms of the eigenvalues; DomainError for a singular matrix.

    >>> import gelvo
    >>> gelvo.matrix("[1, 1; 0, 1]").logarithm()
    [0, 1; 0, 0]
    """

    def claims(m: Matrix, found: Matrix) -> list[Claim]:
        return [Same("exp(ln(A)) = A", functions.applied(found, MatrixFunction(lambda z: EXP(z)), Facts()), m)]

    return _function(self, LOGARITHM, given, cases, claims)


METHODS: dict[str, Callable[..., Any]] = {
    "exponential": exponential, "power": power, "matrix_function": matrix_function, "square_root": square_root,
    "logarithm": logarithm,
}  # fmt: skip
