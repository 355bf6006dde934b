"""Building matrices, their methods that need facts, and operations that act entry by entry."""

from __future__ import annotations

import functools
import random
from collections.abc import Callable, Iterable, Sequence
from typing import Any, SupportsInt

from gelvo.calculus.matrix_exponential import matrix_exponential
from gelvo.deciding.equality import is_zero
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import junction, number, relation
from gelvo.expression.constants import ONE
from gelvo.expression.nodes import Condition, Expression, Name, Number, Power
from gelvo.expression.registry import Hooks
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, names, substitute
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate as derivative
from gelvo.forms.fractions import factored
from gelvo.forms.univariate import coefficients_of
from gelvo.matrices import echelon, elimination, resolvent, spectrum
from gelvo.matrices.matrix import Matrix, check_size, identity
from gelvo.operations.answer import with_comment
from gelvo.operations.boundary import told
from gelvo.operations.inputs import take
from gelvo.operations.rewriting import rename as rename_names
from gelvo.operations.solving import solve
from gelvo.operations.trust import equal
from gelvo.simplifying.search import simplify


def matrix(rows: Any) -> Matrix:
    """A matrix from its rows, or from text such as "[1, 2; 3, a]".

    rows: a list of rows of expressions, numbers or text. Raises DomainError where the rows differ in length.

    >>> import gelvo
    >>> gelvo.matrix([[1, "a"], [0, 1]]) @ gelvo.column(["x", "y"])
    [a*y + x; y]
    """
    if isinstance(rows, Matrix):
        return rows
    if not isinstance(rows, Iterable) or any(
        isinstance(r, str) or not isinstance(r, Iterable) for r in rows if not isinstance(rows, str)
    ):
        raise DomainError(f"a matrix is a list of rows, each a list, or text such as [1, 2; 3, 4], not {rows!r}")
    if isinstance(rows, str):
        value = Hooks.read(rows)
        if not isinstance(value, Matrix):
            raise DomainError(f"{rows!r} is not a matrix: write [1, 2; 3, 4], rows apart by semicolons")
        return value
    return Matrix(list(rows))


def from_columns(columns: Sequence[Any]) -> Matrix:
    """A matrix from its columns: lists, or matrices of one column.

    >>> import gelvo
    >>> gelvo.from_columns([[1, 2], [3, 4]])
    [1, 3; 2, 4]
    """
    for column in columns:
        if not isinstance(column, Iterable) or isinstance(column, str):
            raise DomainError(f"a column is a list of entries, or a matrix of one column, not {column!r}")
    return Matrix([list(c) for c in columns]).transpose()


def from_function(rows: int, columns: int, entry: Callable[[int, int], Any]) -> Matrix:
    """A matrix whose entries are a function of row and column, both counted from 0.

    >>> import gelvo
    >>> gelvo.from_function(2, 3, lambda i, j: i + 10*j)
    [0, 10, 20; 1, 11, 21]
    """
    return Matrix([[entry(i, j) for j in range(columns)] for i in range(rows)])


def diagonal(*entries: Any) -> Matrix:
    """A square matrix with these entries on its diagonal.

    >>> import gelvo
    >>> gelvo.diagonal("a", 2)
    [a, 0; 0, 2]
    """
    listed = list(entries[0]) if len(entries) == 1 and isinstance(entries[0], (list, tuple, Matrix)) else list(entries)
    return Matrix([[e if i == j else 0 for j in range(len(listed))] for i, e in enumerate(listed)])


def random_matrix(rows: int, columns: int, seed: int, lowest: int = -9, highest: int = 9) -> Matrix:
    """A matrix of random whole numbers for practice; the same seed gives the same matrix.

    >>> import gelvo
    >>> gelvo.random_matrix(2, 2, seed=4) == gelvo.random_matrix(2, 2, seed=4)
    True
    """
    check_size(rows, columns)
    source = random.Random(seed)
    return Matrix([[source.randint(lowest, highest) for _ in range(columns)] for _ in range(rows)])


def _facts(given: Iterable[object], m: Matrix) -> Facts:
    return take(m, given=given).facts


def determinant(self: Matrix) -> Expression:
    """The determinant of a square matrix."""
    return elimination.determinant(self)


def inverse(self: Matrix, given: Iterable[object] = ()) -> Matrix:
    """The inverse; its `.conditions` say which letters make the determinant zero. DomainError where it is zero.

    >>> import gelvo
    >>> gelvo.matrix([["a", 1], [0, 1]]).inverse()
    [1/a, -1/a; 0, 1]   # if a != 0
    """
    return elimination.inverse(self, _facts(given, self))


def rank(self: Matrix, given: Iterable[object] = ()) -> int:
    """The rank; raises Undecided where it depends on letters."""
    return echelon.rank(self, _facts(given, self))[0]


def null_space(self: Matrix, given: Iterable[object] = ()) -> list[Matrix]:
    """Columns that span the vectors which the matrix takes to zero."""
    return echelon.null_space(self, _facts(given, self))[0]


class UnderConditions(list[Any]):
    """Results for matrices with letters: a list with `.conditions`, what the letters must be for them."""

    def __init__(self, found: Iterable[Any], conditions: Iterable[Condition]) -> None:
        super().__init__(found)
        self.conditions = tuple(dict.fromkeys(conditions))

    def __repr__(self) -> str:
        return with_comment(super().__repr__(), f"if {junction('and', self.conditions)}" if self.conditions else "")

    __str__ = __repr__


def reduced(self: Matrix, given: Iterable[object] = ()) -> Matrix:
    """The reduced row echelon form; its `.conditions` say which pivots with letters must not be zero.

    >>> import gelvo
    >>> gelvo.matrix([["a", 1], [0, 1]]).reduced()
    [1, 0; 0, 1]   # if a != 0
    """
    found, _, conditions = echelon.reduced(self, _facts(given, self))
    return Matrix(found.entries, (*self.conditions, *conditions))


def solve_for(self: Matrix, right: Matrix, given: Iterable[object] = ()) -> Matrix:
    """The one x with A @ x = right, with `.conditions`; DomainError where there is none, or more than one."""
    return elimination.solve(self, right, _facts(given, self))


def characteristic_polynomial(self: Matrix, variable: object) -> Expression:
    """det(x - A) as a polynomial in the variable, which must not be a letter of the matrix."""
    (x,) = take(self, variables=[variable]).names
    _needs_other_letters(self, x)
    return resolvent.characteristic_polynomial(self, x)


def _needs_other_letters(m: Matrix, variable: Name) -> None:
    if any(contains(e, variable) for e in m.flat()):
        raise DomainError(f"the matrix already contains {variable}: take another name here, and substitute afterwards")


def eigenvalues(self: Matrix, given: Iterable[object] = ()) -> dict[Expression, int]:
    """The complex eigenvalues with their multiplicities, {value: times}, by solving the characteristic polynomial."""
    facts = _facts(given, self)
    x = facts.new_name("x", *self.flat())
    found: dict[Expression, int] = {}
    for block in spectrum.diagonal_blocks(self):
        for value, times in _of_block(block, x, facts).items():
            found[value] = found.get(value, 0) + times
    return found


def _of_block(block: Matrix, x: Name, facts: Facts) -> dict[Expression, int]:
    if block.shape == (1, 1):
        return {block[0, 0]: 1}
    product = factored(resolvent.characteristic_polynomial(block, x))
    found: dict[Expression, int] = {}
    for f in factors_in(product):
        base, times = (f.base, int(f.exponent.rational)) if isinstance(f, Power) and isinstance(f.exponent, Number) else (f, 1)
        if not contains(base, x):
            continue
        for value, more in _roots_with_multiplicity(base, x, facts).items():
            found[value] = found.get(value, 0) + times * more
    return found


def _roots_with_multiplicity(base: Expression, x: Name, facts: Facts) -> dict[Expression, int]:
    """The complex roots of a factor; where there are fewer than its degree, its derivatives tell which are multiple."""
    degree = len(coefficients_of(base, x) or ()) - 1
    solutions = solve(relation("=", base, number(0)), x, over="complex", given=facts.given)
    values = [next(iter(s.values())) for s in solutions]
    if len(values) == degree:
        return dict.fromkeys(values, 1)
    found = {v: next((k for k in range(1, degree + 1) if not _vanishes(base, x, v, k, facts)), degree) for v in values}
    if sum(found.values()) != degree:
        raise NotSolved(f"not all roots of the characteristic polynomial were found: {found} of {degree}")
    return found


def _vanishes(base: Expression, x: Name, place: Expression, times: int, facts: Facts) -> bool:
    return is_zero(substitute(derivative(base, x, times), {x: place}), facts) is True


def eigenvectors(self: Matrix, given: Iterable[object] = ()) -> UnderConditions:
    """Each eigenvalue with a basis of its eigenvectors: [(value, [vector, …]), …], with the `.conditions` on letters.

    >>> import gelvo
    >>> gelvo.matrix([[1, "b"], [0, 1]]).eigenvectors()
    [(1, [[1; 0]])]   # if b != 0
    """
    facts = _facts(given, self)
    conditions: list[Condition] = []
    found: list[tuple[Expression, list[Matrix]]] = []
    for value in eigenvalues(self, given):
        vectors, needed = spectrum.eigenvectors(self, value, facts)
        found.append((value, vectors))
        conditions += needed
    return UnderConditions(found, conditions)


def exponential(self: Matrix, variable: object = None, given: Iterable[object] = ()) -> Matrix:
    """exp(t*A) for a square matrix A without t, exactly; without a variable exp(A).

    given: facts that tell, for instance, oscillation from decay. Raises NotSolved where the eigenvalues have no closed form.
    """
    arguments = take(self, variables=[] if variable is None else [variable], given=given)
    facts = arguments.facts
    (t,) = arguments.names or (facts.new_name("t", *self.flat()),)
    _needs_other_letters(self, t)
    found, conditions = matrix_exponential(self, t, facts)
    if conditions:
        raise DomainError(f"the form of the exponential depends on the letters: state whether {junction('and', conditions)}")
    for_a_reader = {
        e: simplify(e, facts).expression for e in dict.fromkeys(found.flat())
    }  # symmetric matrices repeat their entries
    short = elimination.with_denominators(found.map(lambda e: for_a_reader[e]), facts, free_of=t)
    return short if variable is not None else short.map(lambda e: substitute(e, {t: ONE}))


def equality(a: Matrix, b: Matrix) -> Condition:
    """a = b as one condition: equal entry by entry."""
    if a.shape != b.shape:
        raise DomainError(f"matrices of {a.shape[0]} x {a.shape[1]} and {b.shape[0]} x {b.shape[1]} cannot be equal")
    return junction("and", [relation("=", p, q) for p, q in zip(a.flat(), b.flat(), strict=True)])


def is_equal(self: Matrix, other: Matrix, given: Iterable[object] = ()) -> bool:
    """Whether every entry is equal; raises Undecided where that could not be told."""
    return self.shape == other.shape and all(equal(a, b, given) for a, b in zip(self.flat(), other.flat(), strict=True))


def rename(self: Matrix, table: Any) -> Matrix:
    """Names exchanged in every entry that has them."""
    known = {n.name for n in self.free_names}
    wanted = {str(getattr(k, "name", k)): v for k, v in dict(table).items()}
    missing = [k for k in wanted if k not in known]
    if missing:
        raise DomainError(f"there is no name {missing[0]} to rename in this matrix")

    def one(e: Expression) -> object:
        own = {k: v for k, v in wanted.items() if k in {n.name for n in names(e)}}
        return rename_names(e, own) if own else e

    return self.map(one)


METHODS: dict[str, Callable[..., Any]] = {
    "determinant": determinant, "inverse": inverse, "rank": rank, "null_space": null_space, "reduced": reduced, "solve": solve_for,
    "characteristic_polynomial": characteristic_polynomial, "eigenvalues": eigenvalues, "eigenvectors": eigenvectors,
    "exponential": exponential, "equal": is_equal, "rename": rename,
}  # fmt: skip


def _whole(value: Expression | SupportsInt) -> int:
    rational = getattr(value, "rational", value)
    if int(rational) != rational:
        raise DomainError(f"a row or column number is a whole number from 0, not {value}")
    return int(rational)


# the functions of matrices in formula text; rows and columns are counted from 0 there too
def _filled(value: int) -> Callable[..., Matrix]:
    """A matrix of so many rows and columns, all of whose entries are a number."""

    def made(rows: Expression, columns: Expression | None = None) -> Matrix:
        counts = [_count(rows), _count(rows if columns is None else columns)]
        check_size(*counts)
        return Matrix([[value] * counts[1] for _ in range(counts[0])])

    return made


def _count(size: Expression) -> int:
    if not (size.is_whole and size.rational > 0):
        raise DomainError(f"the size of a matrix is a positive whole number, not {size}")
    return int(size.rational)


# in text: identity(3), diagonal(a, b), zeros(2, 3), ones(2)
MADE_MATRICES: dict[str, Callable[..., Matrix]] = {
    "identity": lambda size: identity(_count(size)),
    "diagonal": lambda *entries: diagonal(list(entries)),
    "zeros": _filled(0),
    "ones": _filled(1),
}
OF_MATRICES: dict[str, Callable[..., Any]] = {
    "transpose": Matrix.transpose, "conjugate_transpose": Matrix.conjugate_transpose, "trace": Matrix.trace,
    "determinant": determinant, "inverse": inverse, "dot": Matrix.dot, "cross": Matrix.cross, "length": Matrix.length,
    "exponential": lambda m, t=None: exponential(m, t), "row": lambda m, i: m.row(_whole(i)),
    "column": lambda m, j: m.column(_whole(j)), "entry": lambda m, i, j: m[_whole(i), _whole(j)],
}  # fmt: skip


def attach(operations: dict[str, Callable[..., object]]) -> None:
    """Gives matrices their methods, those of expressions among them."""
    for word, method in {**operations, **METHODS}.items():
        setattr(Matrix, word, told(method))


def entrywise(operation: Callable[..., object]) -> Callable[..., object]:
    """The operation, which also takes a matrix and then acts on each entry: answers become their formulas, conditions those of the matrix."""

    @functools.wraps(operation)
    def work(expression: object, *arguments: object, **options: object) -> object:
        if not isinstance(expression, Matrix):
            return operation(expression, *arguments, **options)
        rows = [[operation(e, *arguments, **options) for e in row] for row in expression.entries]
        found = [c for row in rows for e in row if not isinstance(e, Expression) for c in getattr(e, "conditions", ())]
        return Matrix(rows, (*expression.conditions, *found))

    return work
