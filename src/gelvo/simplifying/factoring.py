"""`factor` beyond the rationals: over given roots, over the imaginary unit, and down to real linear and quadratic factors."""

from __future__ import annotations

from collections.abc import Sequence

from gmpy2 import mpq, mpz

from gelvo.deciding.algebraic import all_roots, as_root, minimal_polynomial
from gelvo.deciding.radical_roots import radical_form
from gelvo.errors import DomainError
from gelvo.expression import known as bits
from gelvo.expression.building import multiply_all, number, power
from gelvo.expression.constants import IMAGINARY, ONE
from gelvo.expression.nodes import AlgebraicNumber, Expression, Name, Product
from gelvo.expression.terms import base_and_exponent
from gelvo.expression.traversal import free_names, names
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import Form, factored
from gelvo.forms.univariate import integer_coefficients
from gelvo.normal.prepare import prepared
from gelvo.polynomial import sparse
from gelvo.polynomial.extension import AdjoinedRoot, factor_over
from gelvo.polynomial.sparse import Polynomial
from gelvo.simplifying.search import simplify

LARGEST_REAL_DEGREE = 12


def factor_over_roots(expression: Expression, roots: Sequence[Expression]) -> Expression:
    """Irreducible factors over the rationals extended by given algebraic numbers, and by those in the formula itself.

    >>> from gelvo.expression.building import name
    >>> print(factor_over_roots(name("x")**2 + 1, [IMAGINARY]))
    (x - 1j)*(x + 1j)
    """
    for root in roots:
        if names(root) or minimal_polynomial(root) is None:
            raise DomainError(f"factor works over algebraic numbers such as sqrt(2) or 1j, and {root} is not seen to be one")
    ready = prepared(expression, Facts(), waves=False)
    form = Form([ready])
    quotient = form.of(ready)
    top, bottom = quotient.top, form.denominator(quotient)
    field = _Field(form, [*_own(form), *roots, *([IMAGINARY] if sparse.has_gaussian(top) or sparse.has_gaussian(bottom) else [])])
    return field.factored(top) / field.factored(bottom)


def _own(form: Form) -> list[Expression]:
    """The algebraic numbers in a formula."""
    found = []
    for base, unit in form.generators:
        degree = form.roots_of[(base, unit)]
        if unit is ONE and not names(base) and (degree > 1 or isinstance(base, AlgebraicNumber)):
            found.append(power(base, number(mpq(1, degree))))
    return found


class _Field:
    """The variables of a form that stand for algebraic numbers, each irreducible over the ones before."""

    def __init__(self, form: Form, numbers: Sequence[Expression]) -> None:
        self.form, self.roots, self.imaginary = form, list[AdjoinedRoot](), None
        for value in dict.fromkeys(numbers):
            relation = minimal_polynomial(value)
            if relation is None:
                raise DomainError(f"{value} is not seen to be an algebraic number")
            index = self._place(value)
            whole: Polynomial = {k << (sparse.BITS * index): mpq(c) for k, c in enumerate(relation) if c}
            if self.roots:
                pieces = factor_over(whole, self.roots)[1]
                if len(pieces) > 1:
                    if any(sparse.degree(p, index) == 1 for p, _ in pieces):
                        continue  # the number lies in the field already
                    raise DomainError(f"{value} is only partly independent of the other roots; give the roots one by one")
            if value is IMAGINARY:
                self.imaginary = index
            self.roots.append(AdjoinedRoot(index, whole))

    def _place(self, value: Expression) -> int:
        for (base, unit), index in self.form.generators.items():
            if unit is ONE and power(base, number(mpq(1, self.form.roots_of[(base, unit)]))) is value:
                return index
        index = self.form.generators[(value, ONE)] = len(self.form.generators)
        self.form.roots_of[(value, ONE)] = 1
        return index

    def factored(self, p: Polynomial) -> Expression:
        if not p:
            return number(0)
        if self.imaginary is not None:
            p = sparse.without_imaginary(p, self.imaginary)
        leading, factors = factor_over(p, self.roots)
        pieces = [self.form.expression(leading), *[power(self._shown(f), number(k)) for f, k in factors]]
        return multiply_all(pieces)

    def _shown(self, f: Polynomial) -> Expression:
        return expand(self.form.expression(f))


def factor_over_reals(expression: Expression) -> Expression:
    """A polynomial in one name as linear and quadratic factors with real coefficients.

    >>> from gelvo.expression.building import name
    >>> print(factor_over_reals(name("x")**4 + 1))
    (x^2 - sqrt(2)*x + 1)*(x^2 + sqrt(2)*x + 1)
    """
    variables = free_names(expression)
    if len(variables) != 1:
        raise DomainError("real factors are built for formulas in exactly one name; give the roots instead, as over=[sqrt(2)]")
    variable = variables[0]
    whole = factored(expression)
    factors = [number(whole.coefficient), *whole.factors] if isinstance(whole, Product) else [whole]
    pieces: list[Expression] = []
    for factor in factors:
        base, k = base_and_exponent(factor)
        pieces.append(power(_real_factors(base, variable), k))
    return multiply_all(pieces)


def _real_factors(base: Expression, variable: Name) -> Expression:
    coefficients = integer_coefficients(base, variable)
    if coefficients is None or len(coefficients) < 3:
        return base
    if len(coefficients) - 1 > LARGEST_REAL_DEGREE:
        raise DomainError(f"real factors are built for irreducible parts up to degree {LARGEST_REAL_DEGREE}")
    roots = all_roots(coefficients)
    if len(coefficients) == 3:
        c, b, a = (mpz(v) for v in coefficients)
        if b * b - 4 * a * c < 0:
            return base
        return multiply_all([number(a), *[variable - r for r in roots]])
    real = [r for r in roots if _is_real(r)]
    pieces: list[Expression] = [number(mpq(coefficients[-1])), *[variable - _readable(r) for r in real]]
    pairs = roots[len(real) :]
    for one, two in zip(pairs[::2], pairs[1::2], strict=True):
        total, product = (_readable(as_root(e) or e) for e in (one + two, one * two))
        pieces.append(variable**2 + simplify(-total).expression * variable + product)
    return multiply_all(pieces)


def _is_real(root: Expression) -> bool:
    return bits.is_real(root.known)


def _readable(value: Expression) -> Expression:
    found = radical_form(value) if isinstance(value, AlgebraicNumber) else None
    if found is None:
        return value
    return simplify(found).expression
