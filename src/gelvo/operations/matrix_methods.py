"""The methods of matrices that need facts: each with its conditions, its certificate, and with cases=True all cases of the letters."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Any

from gelvo.checking.matrices import Apart, Claim, Same
from gelvo.errors import DomainError
from gelvo.expression.building import number
from gelvo.expression.constants import ONE
from gelvo.expression.nodes import AlgebraicNumber, Condition, Expression, Name, Number, Power
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import denominators
from gelvo.forms.univariate import expression_of, lowest_terms
from gelvo.matrices import echelon, elimination, resolvent
from gelvo.matrices.matrix import Matrix, identity, side_by_side, square
from gelvo.matrices.ring import without_content
from gelvo.operations.case_table import CaseTable
from gelvo.operations.inputs import take
from gelvo.operations.matrix_results import (
    CountResult,
    ListResult,
    MatrixCase,
    MatrixResult,
    PartsResult,
    TableResult,
    parts_result,
    put_in,
    result,
)
from gelvo.operations.matrix_steps import inverse_steps, reduction_steps
from gelvo.solving.sign_cases import sign_condition
from gelvo.solving.zero_cases import ZeroCase, zero_cases
from gelvo.spectra import jordan
from gelvo.spectra.factors import without_roots
from gelvo.spectra.spectrum import chains_of, spectrum

MOST_SIGNS = 8
Given = Iterable[object]
Conditions = tuple[Condition, ...]
Work = Callable[[Matrix, Facts], tuple[Any, Conditions]]
Wrap = Callable[[Matrix, Any, Conditions, Facts], Any]


def facts_of(given: Given, *matrices: Matrix) -> Facts:
    """The facts of a call about some matrices."""
    if not given and all(isinstance(e, Number) for m in matrices for e in m.flat()):
        return Facts()  # nothing is said of numbers
    return take(*matrices, given=given).facts


def answered(m: Matrix, given: Given, cases: bool, work: Work, wrap: Wrap, by_signs: bool = False) -> Any:
    """The result with its conditions, or the table of all cases; by_signs: also of what stands below square roots."""
    facts = facts_of(given, m)
    if not cases:
        found, conditions = work(m, facts)
        return wrap(m, found, (*m.conditions, *conditions), facts)
    rows = zero_cases(lambda table, under: work(put_in(m, table), under), _same, facts)
    if by_signs:
        rows = [part for row in rows for part in _by_signs(m, row, work)]
    return CaseTable(
        [MatrixCase(r.when, None if r.result is None else wrap(put_in(m, r.table), r.result, (), facts)) for r in rows], "result"
    )


def _by_signs(m: Matrix, row: ZeroCase, work: Work) -> list[ZeroCase]:
    """A case in parts, where a formula below a square root is positive or negative and the result then reads otherwise."""
    if row.result is None or len(row.when) > MOST_SIGNS:
        return [row]
    roots = {
        node.base: None
        for e in (row.result.flat() if isinstance(row.result, Matrix) else ())
        for node in postorder(e)
        if isinstance(node, Power) and isinstance(node.exponent, Number) and not node.exponent.is_whole and names(node.base)
    }
    gap = next(
        (g for g in roots if row.facts.is_real(g) and not row.facts.is_nonnegative(g) and not row.facts.is_nonpositive(g)), None
    )
    if gap is None:
        return [row]
    found = []
    for word in ("<", ">"):
        condition = sign_condition(gap, word)
        try:
            under = row.facts.with_facts([condition])
        except DomainError:
            continue
        kept = tuple(c for c in row.when if not under.stating([condition]).holds(c))
        found.append(ZeroCase((*kept, condition), row.table, work(put_in(m, row.table), under)[0], under))
    return [part for half in found for part in _by_signs(m, half, work)]


def _same(one: Any, other: Any, table: dict[Name, Expression]) -> bool:
    """Whether a result becomes another one where letters have values."""
    try:
        return _alike(one, other, table)
    except DomainError:  # no value there
        return False


def _alike(one: Any, other: Any, table: dict[Name, Expression]) -> bool:
    if isinstance(one, Matrix):
        there = put_in(one, table)
        if there.shape[1] == 1:  # of a vector that spans a space any multiple does
            return isinstance(other, Matrix) and without_content(there.flat()) == without_content(other.flat())
        return isinstance(other, Matrix) and there.map(lowest_terms) == other.map(lowest_terms)
    if isinstance(one, Expression):
        return bool(lowest_terms(substitute(one, table)) == other)
    if isinstance(one, (list, tuple)):
        return (
            isinstance(other, (list, tuple)) and len(one) == len(other) and all(map(lambda a, b: _alike(a, b, table), one, other))
        )
    return bool(one == other)


# --- elimination ------------------------------------------------------------------------------------------------------------


def inverse(self: Matrix, given: Given = (), steps: bool = False) -> Matrix:
    """The inverse; its `.conditions` say which letters make the determinant zero. DomainError where it is zero.

    steps: the row operations of [A | identity], in `.steps`.

    >>> import gelvo
    >>> gelvo.matrix([["a", 1], [0, 1]]).inverse()
    [1/a, -1/a; 0, 1]   # if a != 0
    """
    facts = facts_of(given, self)
    found = elimination.inverse(self, facts)
    made = result(
        MatrixResult,
        found,
        found.conditions,
        lambda: [Same("A*inverse = identity", self @ found, identity(self.shape[0]))],
        facts,
        "elimination in the ring of the entries",
    )
    if steps:
        made.steps = inverse_steps(self, facts)
    return made


def rank(self: Matrix, given: Given = (), cases: bool = False) -> Any:
    """The rank; with letters the one that holds generally, with its conditions.

    cases: a table of all cases of the letters instead.

    >>> import gelvo
    >>> gelvo.matrix("[1, a; a, 1]").rank()
    2   # if a != 1 and a != -1
    >>> gelvo.matrix("[1, a; a, 1]").rank(cases=True)
    a != 1, a != -1   2
    a = 1             1
    a = -1            1
    """

    def wrap(m: Matrix, found: int, conditions: Conditions, facts: Facts) -> CountResult:
        def claims() -> list[Claim]:
            vectors = echelon.null_space(m, facts)[0]
            zero = Matrix([[0]] * m.shape[0])
            return [
                _of_rank(m, found, facts),
                *[Same(f"A takes {m.shape[1] - found} independent vectors to zero", m @ v, zero) for v in vectors],
            ]

        return result(CountResult, found, conditions, claims, facts, "elimination without fractions")

    return answered(self, given, cases, echelon.rank, wrap)


def null_space(self: Matrix, given: Given = (), cases: bool = False) -> Any:
    """Columns that span the vectors which the matrix takes to zero; cases: a table of all cases of the letters.

    >>> import gelvo
    >>> gelvo.matrix("[a, b; 2*a, 2*b]").null_space()
    [[-b; a]]   # if a != 0
    """

    def wrap(m: Matrix, found: list[Matrix], conditions: Conditions, facts: Facts) -> ListResult:
        zero = Matrix([[0]] * m.shape[0])

        def claims() -> list[Claim]:
            count = m.shape[1] - len(found)
            products: list[Claim] = [Same("A*v = 0", m @ v, zero) for v in found]
            return [*products, _of_rank(m, count, facts)]

        return result(ListResult, found, conditions, claims, facts, "elimination without fractions")

    return answered(self, given, cases, echelon.null_space, wrap)


def _of_rank(m: Matrix, count: int, facts: Facts) -> Claim:
    """So many rows are independent: a minor that is not zero."""
    form = echelon.echelon(m, facts).form
    part = [[m[i, j] for j in form.pivots] for i in form.order[:count]]
    return Apart(f"a minor of {count} rows and columns is not zero", elimination.determinant(Matrix(part)) if part else ONE)


def column_space(self: Matrix, given: Given = ()) -> Any:
    """Columns of the matrix that span all of them.

    >>> import gelvo
    >>> gelvo.matrix("[1, 2, 0; 2, 4, 1]").column_space()
    [[1; 2], [0; 1]]
    """
    facts = facts_of(given, self)
    form, conditions = echelon.echelon(self, facts)
    found = [self.column(j) for j in form.pivots]
    return result(
        ListResult,
        [Matrix(v.entries) for v in found],
        (*self.conditions, *conditions),
        lambda: [_of_rank(self, len(found), facts)],
        facts,
    )


def row_space(self: Matrix, given: Given = ()) -> Any:
    """Rows that span all rows: those of the reduced form.

    >>> import gelvo
    >>> gelvo.matrix("[1, 2; 2, 4]").row_space()
    [[1, 2]]
    """
    facts = facts_of(given, self)
    found, pivots, conditions = echelon.reduced(self, facts)
    rows = [Matrix([found.entries[k]]) for k in range(len(pivots))]
    return result(ListResult, rows, (*self.conditions, *conditions), lambda: [_of_rank(self, len(rows), facts)], facts)


def reduced(self: Matrix, given: Given = (), cases: bool = False, steps: bool = False) -> Any:
    """The reduced row echelon form; its `.conditions` say which minor with letters must not be zero.

    cases: a table of all cases of the letters; steps: the row operations, in `.steps`.

    >>> import gelvo
    >>> gelvo.matrix([["a", 1], [0, 1]]).reduced()
    [1, 0; 0, 1]   # if a != 0
    """

    def work(m: Matrix, facts: Facts) -> tuple[Matrix, Conditions]:
        found, _, conditions = echelon.reduced(m, facts)
        return found, conditions

    def wrap(m: Matrix, found: Matrix, conditions: Conditions, facts: Facts) -> MatrixResult:
        def claims() -> list[Claim]:
            form = echelon.echelon(m, facts).form
            columns = [m.column(j) for j in form.pivots]
            if not columns:
                return [Same("A = 0", m, m * 0)]
            pivots, rows = side_by_side(columns), Matrix(found.entries[: len(columns)])
            return [
                Same("the columns with pivots times the reduced rows give A", pivots @ rows, m),
                _of_rank(m, len(columns), facts),
            ]

        return result(MatrixResult, found, conditions, claims, facts, "elimination without fractions")

    made = answered(self, given, cases, work, wrap)
    if steps and not cases:
        made.steps = reduction_steps(self, facts_of(given, self))
    return made


def solve_for(self: Matrix, right: Matrix, given: Given = ()) -> Any:
    """The one x with A @ x = right, with `.conditions`; DomainError where there is none, or more than one."""
    facts = facts_of(given, self, right)
    found = elimination.solve(self, right, facts)
    return result(MatrixResult, found, found.conditions, lambda: [Same("A*x = b", self @ found, right)], facts)


def solutions_of(self: Matrix, right: Matrix, given: Given = (), turned: bool = False) -> tuple[MatrixResult, list[Name]]:
    """(every x with A @ x = right, the names of what is free in it); turned: with x @ A = right instead."""
    facts = facts_of(given, self, right)
    a, b = (self.transpose(), right.transpose()) if turned else (self, right)
    found, free = elimination.all_solutions(a, b, facts)
    shown = Matrix(found.transpose().entries if turned else found.entries)
    claim = Same("x*A = b", shown @ self, right) if turned else Same("A*x = b", self @ shown, right)
    return result(MatrixResult, shown, found.conditions, lambda: [claim], facts, "elimination without fractions"), free


def adjugate(self: Matrix) -> Matrix:
    """The transposed matrix of cofactors: A times it is the determinant times the identity.

    >>> import gelvo
    >>> gelvo.matrix("[a, b; c, d]").adjugate()
    [d, -b; -c, a]
    """
    return elimination.adjugate(self)


# --- eigenvalues ------------------------------------------------------------------------------------------------------------


def characteristic_polynomial(self: Matrix, variable: object = "x") -> Expression:
    """det(x - A) as a polynomial in the variable, which must not be a letter of the matrix.

    >>> import gelvo
    >>> gelvo.matrix("[2, 1; 1, 2]").characteristic_polynomial()
    x^2 - 4*x + 3
    """
    (x,) = take(self, variables=[variable]).names
    needs_other_letters(self, x)
    return resolvent.characteristic_polynomial(self, x)


def minimal_polynomial(self: Matrix, variable: object = "x", given: Given = ()) -> Expression:
    """The polynomial of least degree, with leading coefficient 1, that the matrix satisfies; with letters the one that holds generally.

    >>> import gelvo
    >>> gelvo.matrix("[2, 0, 0; 0, 2, 0; 0, 0, 3]").minimal_polynomial("x")
    (x - 3)*(x - 2)
    """
    arguments = take(self, variables=[variable], given=given)
    (x,) = arguments.names
    needs_other_letters(self, x)
    square(self, "a minimal polynomial")
    found = without_roots(self, arguments.facts)
    product: Expression = ONE
    for factor in found:
        times = jordan.index(self, factor, arguments.facts)
        product = product * expression_of(factor.coefficients, x) ** times
    return product


def needs_other_letters(m: Matrix, variable: Name) -> None:
    if any(contains(e, variable) for e in m.flat()):
        raise DomainError(f"the matrix already contains {variable}: take another name here, and substitute afterwards")


def eigenvalues(self: Matrix, given: Given = ()) -> TableResult:
    """The complex eigenvalues with their multiplicities, {value: times}.

    >>> import gelvo
    >>> gelvo.matrix("[a, 1; 1, a]").eigenvalues()
    {a - 1: 1, a + 1: 1}
    """
    facts = facts_of(given, self)
    table = _multiplicities(self, facts)

    def claims() -> list[Claim]:
        x = facts.new_name("x", *self.flat())
        product, others = _numbered(table, x)
        for value, times in others.items():
            product = product * (x - value) ** times
        whole = resolvent.characteristic_polynomial(self, x)
        return [Same("the product of all x - value is det(x - A)", Matrix([[product]]), Matrix([[whole]]))]

    conditions = (*self.conditions, *denominators(table, facts))
    return result(TableResult, table, conditions, claims, facts, "the characteristic polynomial in factors")


def _numbered(table: Mapping[Expression, int], x: Name) -> tuple[Expression, dict[Expression, int]]:
    """(the product of x - root over whole sets of numbered roots, by their polynomials; the other eigenvalues)."""
    sets: dict[tuple[int, ...], dict[Expression, int]] = {}
    others: dict[Expression, int] = {}
    for value, times in table.items():
        home = sets.setdefault(value.coefficients, {}) if isinstance(value, AlgebraicNumber) else others
        home[value] = times
    product: Expression = ONE
    for coefficients, roots in sets.items():
        if len(roots) == len(coefficients) - 1 and len(set(roots.values())) == 1:
            polynomial = expression_of([number(c) / coefficients[-1] for c in coefficients], x)
            product = product * polynomial ** next(iter(roots.values()))
        else:
            others.update(roots)
    return product, others


def _multiplicities(m: Matrix, facts: Facts) -> dict[Expression, int]:
    """The eigenvalues, with how often each is one."""
    known, letters, found = spectrum(m, facts)
    if known is not None:
        pairs = [(c.value, 1) for c in known]
    else:
        pairs = [(r if letters is None else letters.value(r), f.times) for f in found for r in f.roots]
    table: dict[Expression, int] = {}
    for value, times in pairs:
        table[value] = table.get(value, 0) + times
    return table


def eigenvectors(self: Matrix, given: Given = (), cases: bool = False) -> Any:
    """Each eigenvalue with a basis of its eigenvectors: [(value, [vector, …]), …], with the `.conditions` on letters.

    cases: a table of all cases of the letters.

    >>> import gelvo
    >>> gelvo.matrix([[1, "b"], [0, 1]]).eigenvectors()
    [(1, [[1; 0]])]   # if b != 0
    """

    def work(m: Matrix, facts: Facts) -> tuple[list[tuple[Expression, list[Matrix]]], Conditions]:
        found, conditions = chains_of(m, facts)
        spaces: dict[Expression, list[Matrix]] = {}
        for chain in found:
            alone = (
                Matrix([[e] for e in without_content(chain.vectors[0].flat())]) if len(chain.vectors) > 1 else chain.vectors[0]
            )
            spaces.setdefault(chain.value, []).append(alone)
        return list(spaces.items()), (*conditions, *jordan.apart(m, list(spaces), facts))

    def wrap(m: Matrix, found: Any, conditions: Conditions, facts: Facts) -> ListResult:
        def claims() -> list[Claim]:
            return [Same("A*v = value*v", m @ v, v * value) for value, vectors in found for v in vectors]

        return result(ListResult, found, conditions, claims, facts, "vectors over the field of the entries")

    return answered(self, given, cases, work, wrap)


def jordan_form(self: Matrix, given: Given = (), cases: bool = False) -> Any:
    """(P, J) with A @ P = P @ J and Jordan's matrix J: eigenvalues on the diagonal, ones above it along each chain.

    cases: a table of all cases of the letters.

    >>> import gelvo
    >>> gelvo.matrix("[3, 1; -1, 1]").jordan_form()
    P = [1, 1; -1, 0], J = [2, 1; 0, 2]
    """

    def work(m: Matrix, facts: Facts) -> tuple[tuple[Matrix, Matrix], Conditions]:
        found, conditions = chains_of(m, facts)
        return jordan.written(found), conditions

    return answered(self, given, cases, work, _with_vectors("J"))


def _with_vectors(letter: str) -> Wrap:
    """(P, J) or (P, D), by what defines them."""

    def wrap(m: Matrix, found: tuple[Matrix, Matrix], conditions: Conditions, facts: Facts) -> PartsResult:
        p, j = found
        claims: Callable[[], Sequence[Claim]] = lambda: [Same(f"A*P = P*{letter}", m @ p, p @ j)]
        return parts_result(found, ("P", letter), conditions, claims, facts, "chains over the field of the entries")

    return wrap


def diagonalization(self: Matrix, given: Given = (), cases: bool = False) -> Any:
    """(P, D) with A @ P = P @ D and a diagonal D; DomainError where there are too few eigenvectors.

    >>> import gelvo
    >>> gelvo.matrix("[2, 1; 1, 2]").diagonalization()
    P = [1, 1; -1, 1], D = [1, 0; 0, 3]
    """

    def work(m: Matrix, facts: Facts) -> tuple[tuple[Matrix, Matrix], Conditions]:
        found, conditions = chains_of(m, facts)
        short = [c.value for c in found if len(c.vectors) > 1]
        if short:
            if cases:
                return jordan.written(found), conditions
            raise DomainError(
                f"the matrix cannot be made diagonal: the eigenvalue {short[0]} has too few eigenvectors (see jordan_form)"
            )
        return jordan.written(found), conditions

    return answered(self, given, cases, work, _with_vectors("D"))


METHODS: dict[str, Callable[..., Any]] = {
    "inverse": inverse, "rank": rank, "null_space": null_space, "column_space": column_space, "row_space": row_space,
    "reduced": reduced, "solve": solve_for, "adjugate": adjugate, "characteristic_polynomial": characteristic_polynomial,
    "minimal_polynomial": minimal_polynomial, "eigenvalues": eigenvalues, "eigenvectors": eigenvectors, "jordan_form": jordan_form,
    "diagonalization": diagonalization,
}  # fmt: skip
