"""Systems of polynomial equations with rational coefficients and finitely many solutions: all of them, exactly.

Method: a Groebner basis; the square-free parts of the minimal polynomials of the unknowns make the ideal radical (A. Seidenberg,
"Constructions in algebra", 1974); for a form u that takes different values at different solutions the lexicographic basis gives
every unknown as a polynomial in u (the shape lemma; F. Rouillier, "Solving zero-dimensional systems", 1999).
"""

from __future__ import annotations

from collections.abc import Sequence

from gmpy2 import mpq, mpz

from gelvo.deciding.algebraic import all_roots
from gelvo.errors import DomainError
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression import known as bits
from gelvo.expression.building import number, power, total
from gelvo.expression.constants import ONE
from gelvo.expression.nodes import AlgebraicNumber, Expression, Name
from gelvo.forms.fractions import Form
from gelvo.polynomial import dense, sparse
from gelvo.polynomial.factor_univariate import factor_square_free
from gelvo.polynomial.groebner import Reducer, change_order, groebner_basis, minimal_polynomial
from gelvo.polynomial.sparse import Polynomial
from gelvo.simplifying.search import simplify

MOST_SOLUTIONS = 120
FORMS = 12


def polynomial_solutions(
    equations: Sequence[Expression], unknowns: Sequence[Name], real: bool
) -> list[dict[Name, Expression]] | None:
    """All common solutions, or None where the equations are not of this kind or have infinitely many solutions.

    >>> from gelvo.expression.building import name
    >>> x, y = name("x"), name("y")
    >>> found = polynomial_solutions([x**2 + y**2 - 5, x*y - 2], [x, y], True)
    >>> sorted(str(s[x]) for s in found)
    ['-1', '-2', '1', '2']
    """
    polynomials = _polynomials(equations, unknowns)
    if polynomials is None:
        return None
    count = len(unknowns)
    variables = list(range(count))
    try:
        basis = groebner_basis(polynomials, variables)
        standard = Reducer(basis, variables).standard_monomials()
        if standard is None or len(standard) > MOST_SOLUTIONS:
            return None
        if not standard:
            return []
        basis = _radical(basis, variables)
        shape = _shape(basis, variables)
    except DomainError:
        return None
    if shape is None:
        return None
    separating, values = shape
    result = []
    for root in _roots(separating, real):
        result.append({u: _value(v, root) for u, v in zip(unknowns, values, strict=True)})
    return result


def _polynomials(equations: Sequence[Expression], unknowns: Sequence[Name]) -> list[Polynomial] | None:
    form = Form(equations)
    table = form.convert()
    place = {}
    for (base, unit), index in form.generators.items():
        if not isinstance(base, Name) or base not in unknowns or unit is not ONE or form.roots_of[(base, unit)] != 1:
            return None
        place[index] = list(unknowns).index(base)
    result = []
    for e in equations:
        top = table[e].top
        if sparse.has_gaussian(top):
            return None
        moved: Polynomial = {}
        for m, c in top.items():
            moved[sum(sparse.exponent_of(m, i) << (sparse.BITS * k) for i, k in place.items())] = c
        result.append(moved)
    return result


def _radical(basis: list[Polynomial], variables: list[int]) -> list[Polynomial]:
    extra = []
    for index in variables:
        p = minimal_polynomial(basis, variables, index)
        assert p is not None
        column = _column(p, index)
        separate = dense.exact_quotient(column, dense.gcd(column, dense.derivative(column))) or column
        if len(separate) < len(column):
            extra.append({k << (sparse.BITS * index): mpq(c) for k, c in enumerate(separate) if c})
    return groebner_basis([*basis, *extra], variables) if extra else basis


def _column(p: Polynomial, index: int) -> dense.Dense:
    whole = sparse.integers(p)[1]
    result = [mpz(0)] * (sparse.degree(p, index) + 1)
    for m, c in whole.items():
        result[sparse.exponent_of(m, index)] = c
    return dense.primitive(result)


def _shape(basis: list[Polynomial], variables: list[int]) -> tuple[dense.Dense, list[Polynomial]] | None:
    """(polynomial of a separating form u, each unknown as a polynomial in u, whose variable has the number 0)."""
    extra = len(variables)
    for attempt in range(FORMS):
        if attempt < extra:
            weights = [int(k == variables[-1 - attempt]) for k in variables]
        else:
            weights = [(attempt - extra + 1) ** k + k * attempt for k in range(extra)]
        relation = sparse.total(
            [
                sparse.variable(extra),
                *[sparse.scale(sparse.variable(k), mpq(-w)) for k, w in zip(variables, weights, strict=True)],
            ]
        )
        order = [*variables, extra]
        # u is linear in the others, so that the enlarged basis needs no new computation of the old part
        enlarged = groebner_basis([*basis, relation], order)
        lexicographic = change_order(enlarged, order)
        if lexicographic is None:
            return None
        found = _read_shape(lexicographic, variables, extra)
        if found is not None:
            return found
    return None


def _read_shape(basis: list[Polynomial], variables: list[int], extra: int) -> tuple[dense.Dense, list[Polynomial]] | None:
    separating: dense.Dense | None = None
    values: dict[int, Polynomial] = {}
    for g in basis:
        used = [k for k in sparse.variables(g) if k != extra]
        if not used:
            separating = _column(g, extra)
        elif len(used) == 1 and sparse.degree(g, used[0]) == 1:
            powers = sparse.by_powers(g, used[0])
            if set(powers[1]) == {0}:
                rest = sparse.scale(powers.get(0, {}), -1 / powers[1][0])
                values[used[0]] = {sparse.exponent_of(m, extra): c for m, c in rest.items()}
    if separating is None or len(values) < len(variables):
        return None
    return separating, [values[k] for k in variables]


def _roots(p: dense.Dense, real: bool) -> list[Expression]:
    found: list[Expression] = []
    for factor in factor_square_free(p):
        found.extend(r for r in all_roots(factor) if not real or bits.is_real(r.known) or not _is_complex(r))
    return found


def _is_complex(root: Expression) -> bool:
    if isinstance(root, AlgebraicNumber):
        return not bits.is_real(root.known)
    return Enclosure(root).at({}, 64).imag is not None


def _value(p: Polynomial, root: Expression) -> Expression:
    """A polynomial at an exact root; with rationals and square roots where the root has these."""
    exact = total([number(c) * power(root, number(k)) for k, c in p.items()])
    return exact if isinstance(root, AlgebraicNumber) else simplify(exact).expression
