"""Parts of polynomials: degree, division, common factors, resultants, partial fractions, squares, exact roots."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from gelvo.deciding import algebraic
from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, number, power, total
from gelvo.expression.nodes import Expression
from gelvo.forms import parts
from gelvo.operations.inputs import take
from gelvo.simplifying import partial_fractions as fractions


def _in_one_name(expression: object, variable: object, given: Iterable[object] = ()) -> tuple[Expression, Expression]:
    arguments = take(expression, variables=[variable], given=given)
    return arguments.expressions[0], arguments.variables[0]


def degree(expression: Any, variable: Any) -> Expression:
    """The degree of a polynomial in a name or function; -inf for the zero polynomial.

    Raises DomainError where the formula is not a polynomial in it.

    >>> import gelvo
    >>> gelvo.degree("a*x^3 + x", "x"), gelvo.degree("0", "x")
    (3, -inf)
    """
    return parts.degree(*_in_one_name(expression, variable))


def leading_coefficient(expression: Any, variable: Any) -> Expression:
    """The coefficient of the highest power; 0 for the zero polynomial.

    >>> import gelvo
    >>> gelvo.leading_coefficient("(a + 1)*x^3 + x", "x")
    a + 1
    """
    return parts.leading_coefficient(*_in_one_name(expression, variable))


def divide(dividend: Any, divisor: Any, variable: Any) -> tuple[Expression, Expression]:
    """(quotient, remainder) of polynomials in one name; other names may come to stand in denominators.

    Raises DomainError for the zero polynomial as divisor.

    >>> import gelvo
    >>> gelvo.divide("x^3 + 2", "x - 1", "x")
    (x^2 + x + 1, 3)
    """
    arguments = take(dividend, divisor, variables=[variable])
    return parts.divide(*arguments.expressions, *arguments.variables)


def gcd(p: Any, q: Any) -> Expression:
    """The greatest common divisor of two polynomials with rational coefficients, or of two numbers.

    Its leading coefficient is positive; gcd(0, 0) is 0. Method: one integer gcd of packed values, or images modulo primes.

    >>> import gelvo
    >>> gelvo.gcd("x^2 - 1", "x^3 - 1")
    x - 1
    """
    return parts.gcd(*take(p, q).expressions)


def lcm(p: Any, q: Any) -> Expression:
    """The least common multiple of two polynomials with rational coefficients, or of two numbers, expanded.

    >>> import gelvo
    >>> gelvo.lcm("x^2 - 1", "x + 1")
    x^2 - 1
    """
    return parts.lcm(*take(p, q).expressions)


def resultant(p: Any, q: Any, variable: Any) -> Expression:
    """The resultant of two polynomials in one name: zero just where they share a root.

    It is the determinant of the Sylvester matrix, rows of p first. Method: subresultants (Brown and Traub 1971).

    >>> import gelvo
    >>> gelvo.resultant("y^2 - 2", "(x - y)^2 - 3", "y")
    x^4 - 10*x^2 + 1
    """
    arguments = take(p, q, variables=[variable])
    return parts.resultant(*arguments.expressions, *arguments.variables)


def discriminant(p: Any, variable: Any) -> Expression:
    """The discriminant of a polynomial in one name: zero just where a root occurs twice.

    It is (-1)^(n*(n-1)/2) * Res(p, p') / leading coefficient for degree n.

    >>> import gelvo
    >>> gelvo.discriminant("a*x^2 + b*x + c", "x")
    b^2 - 4*a*c
    """
    return parts.discriminant(*_in_one_name(p, variable))


def complete_square(expression: Any, variable: Any, given: Iterable[Any] = ()) -> Expression:
    """A quadratic polynomial as a square and a rest.

    >>> import gelvo
    >>> gelvo.complete_square("x^2 + 6*x + 1", "x")
    (x + 3)^2 - 8
    """
    return parts.complete_square(*_in_one_name(expression, variable, given))


def partial_fractions(expression: Any, variable: Any, roots: bool = False, given: Iterable[Any] = ()) -> Expression:
    """A rational function as a polynomial and a sum of simple fractions.

    roots: whether irreducible factors are split further, down to all their (complex) algebraic roots.

    >>> import gelvo
    >>> gelvo.partial_fractions("(3*x + 5)/(x^2 - 1)", "x")
    4/(x - 1) - 1/(x + 1)
    """
    return fractions.partial_fractions(*_in_one_name(expression, variable, given), roots)


def polynomial_root(p: Any, k: int) -> Expression:
    """An exact root of a polynomial in one name with rational coefficients.

    k: 1, 2, …: the different roots, real ones ascending, then complex ones by real part, negative imaginary part first.
    Roots of degree one and two come back with rationals and square roots. Arithmetic, comparison and `equal` are exact.

    >>> import gelvo
    >>> root = gelvo.polynomial_root("x^5 - x - 1", 1)
    >>> gelvo.equal(root**5, root + 1), str(gelvo.value(root, 20))
    (True, '1.1673039782614186843')
    """
    return algebraic.polynomial_root(*take(p, k).expressions)


def minimal_polynomial(value: Any, variable: Any = "x") -> Expression:
    """The irreducible polynomial with coprime integer coefficients that has an algebraic number as a root.

    value: a number made of rationals, roots, 1j, waves of rational multiples of pi, and exact roots.
    Raises DomainError where the number is not seen to be algebraic.

    >>> import gelvo
    >>> gelvo.minimal_polynomial("sqrt(2) + sqrt(3)")
    x^4 - 10*x^2 + 1
    """
    arguments = take(value, variables=[variable])
    (number_given,) = arguments.expressions
    coefficients = algebraic.minimal_polynomial(number_given)
    if coefficients is None:
        raise DomainError(f"{number_given} is not seen to be an algebraic number")
    (x,) = arguments.names
    return total([multiply_all((number(c), power(x, number(k)))) for k, c in enumerate(coefficients)])
