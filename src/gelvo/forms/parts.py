"""Degrees, division, common factors, resultants: what is asked of polynomials inside formulas."""

from __future__ import annotations

from gmpy2 import gcd as integer_gcd
from gmpy2 import lcm as integer_lcm
from gmpy2 import mpq

from gelvo.errors import DomainError
from gelvo.expression.building import bound, negate, number, power, scale
from gelvo.expression.constants import ONE
from gelvo.expression.nodes import Expression, Number
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import Form
from gelvo.polynomial import gcd as common
from gelvo.polynomial import resultant as eliminating
from gelvo.polynomial import sparse
from gelvo.polynomial.sparse import Polynomial


def degree(expression: Expression, target: Expression) -> Expression:
    """The degree in a name or function; that of the zero polynomial is -inf."""
    coefficients = _coefficients(expression, target)
    return number(len(coefficients) - 1) if coefficients else bound("-inf")


def leading_coefficient(expression: Expression, target: Expression) -> Expression:
    """The coefficient of the highest power; that of the zero polynomial is 0."""
    coefficients = _coefficients(expression, target)
    return coefficients[-1] if coefficients else number(0)


def _coefficients(expression: Expression, target: Expression) -> uni.Coefficients:
    found = uni.coefficients_of(expression, target)
    if found is None:
        raise DomainError(f"{expression} is not a polynomial in {target}")
    return found


def divide(top: Expression, bottom: Expression, target: Expression) -> tuple[Expression, Expression]:
    """(quotient, remainder) of polynomials in one name; other names may stand in denominators."""
    p, q = _coefficients(top, target), _coefficients(bottom, target)
    if not q:
        raise DomainError("division by the zero polynomial")
    quotient, rest = uni.divide(p, q)
    return uni.expression_of(quotient, target), uni.expression_of(rest, target)


def _pair(p: Expression, q: Expression, why: str) -> tuple[Form, Polynomial, Polynomial]:
    """Both formulas as polynomials over shared generators."""
    form = Form([p, q])
    tops = []
    for e in (p, q):
        top, bottom = form.lowest_terms(form.of(e))
        if len(bottom) != 1 or 0 not in bottom:
            raise DomainError(f"{why} needs polynomials, and {e} has a denominator")
        if sparse.has_gaussian(top):
            raise DomainError(f"{why} is built for polynomials with rational coefficients, and {e} contains the imaginary unit")
        tops.append(sparse.scale(top, 1 / bottom[0]))
    return form, tops[0], tops[1]


def gcd(p: Expression, q: Expression) -> Expression:
    """The greatest common divisor: of rational numbers, and of polynomials with coprime integer coefficients.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> print(gcd(x**2 - 1, x**2 + 2*x + 1))
    x + 1
    """
    form, a, b = _pair(p, q, "a greatest common divisor")
    if not a and not b:
        return number(0)
    content = _content_gcd(a, b)
    return scale(form.expression(common.gcd(a, b)), content)


def _content_gcd(a: Polynomial, b: Polynomial) -> Number | object:
    contents = [abs(sparse.integer_content(p)) for p in (a, b) if p]
    if len(contents) == 1:
        return contents[0]
    one, two = contents
    return mpq(integer_gcd(one.numerator, two.numerator), integer_lcm(one.denominator, two.denominator))


def lcm(p: Expression, q: Expression) -> Expression:
    """The least common multiple: p*q over their greatest common divisor, with a positive leading coefficient."""
    form, a, b = _pair(p, q, "a least common multiple")
    if not a or not b:
        return number(0)
    product = sparse.divide_exactly(sparse.multiply(a, b), common.gcd(a, b)) or {}
    result = scale(form.expression(product), ONE.rational / _content_gcd(a, b))
    return expand(negate(result)) if sparse.integer_content(product) < 0 else expand(result)


def _place(form: Form, target: Expression) -> int | None:
    """The number of the generator that a name is, or None where it does not occur."""
    for (base, unit), index in form.generators.items():
        if base is target and unit is ONE and form.roots_of[(base, unit)] == 1:
            return index
    return None


def resultant(p: Expression, q: Expression, target: Expression) -> Expression:
    """The determinant of the Sylvester matrix of two polynomials in one name, rows of the first above."""
    form, a, b = _pair(p, q, "a resultant")
    index = _place(form, target)
    if index is None:
        index = len(form.generators)
    return form.expression(eliminating.resultant(a, b, index))


def discriminant(p: Expression, target: Expression) -> Expression:
    """(-1)^(n*(n-1)/2) * Res(p, p') / leading coefficient: zero when a root occurs twice."""
    form, a, _ = _pair(p, p, "a discriminant")
    index = _place(form, target)
    if index is None or sparse.degree(a, index) < 1:
        raise DomainError(f"a discriminant needs a polynomial of degree one or more in {target}, not {p}")
    return form.expression(eliminating.discriminant(a, index))


def complete_square(expression: Expression, target: Expression) -> Expression:
    """a*x^2 + b*x + c as a*(x + b/(2*a))^2 + c - b^2/(4*a).

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> print(complete_square(x**2 + 6*x + 1, x))
    (x + 3)^2 - 8
    """
    found = _coefficients(expression, target)
    if len(found) != 3:
        raise DomainError(f"completing the square needs a polynomial of degree 2 in {target}, not of degree {len(found) - 1}")
    c, b, a = found
    return a * power(target + uni.lowest_terms(b / (2 * a)), number(2)) + uni.lowest_terms(c - b * b / (4 * a))
