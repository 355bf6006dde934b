"""Relations between generators: powers of roots, roots of unity and absolute values replaced by what they equal."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.expression.building import multiply_all, number, power
from gelvo.expression.constants import IMAGINARY, PI
from gelvo.expression.constants import ONE as UNIT
from gelvo.expression.nodes import AlgebraicNumber, Expression, Number, Product, Sum
from gelvo.forms.fractions import Form, Quotient
from gelvo.functions.named import ABS, CBRT, EXP, is_a
from gelvo.normal.numbered_roots import minimal_relation
from gelvo.numbers.exact import ONE, parts
from gelvo.polynomial import sparse
from gelvo.polynomial.dense import cyclotomic
from gelvo.polynomial.extension import reduce
from gelvo.polynomial.sparse import Polynomial


def reduce_relations(form: Form, p: Polynomial) -> Polynomial:
    """Powers of roots, roots of unity and absolute values replaced by what they equal: zero just where p is."""
    return reduced_with_factor(form, p)[0]


def reduced_with_factor(form: Form, p: Polynomial) -> tuple[Polynomial, Polynomial]:
    """(q, f): p*f with powers of roots, roots of unity and absolute values replaced; f are the denominators of radicands."""
    factor: Polynomial = {0: ONE}
    for (base, unit), index in form.generators.items():
        degree = form.roots_of[(base, unit)]
        if unit is UNIT and degree > 1 and isinstance(base, Number):
            p = _replace_powers(p, index, degree, sparse.constant(base.value))
        elif unit is UNIT and isinstance(base, (Sum, Product)):  # also of (1 + x)^(n + 1)
            radicand = form.of(base)
            p, below = _reduce_radical(form, p, index, degree, radicand)
            factor = sparse.multiply(factor, below)
        elif unit is UNIT and isinstance(base, AlgebraicNumber):
            p = reduce(p, [minimal_relation(base, index, degree)])
        elif isinstance(base, Number) and base.value == -1 and degree == 1 and form.is_integer(unit):
            p = _replace_powers(p, index, 2, {0: ONE})
        elif is_unity(base, unit):
            p = _reduce_unity(p, index, degree)
        elif unit is UNIT and is_a(base, ABS, CBRT) and (is_a(base, CBRT) or form.is_real(base.arguments[0])):
            times, inside = (3, 1) if is_a(base, CBRT) else (2, 2)
            p, below = _reduce_radical(form, p, index, times * degree, form.power(form.of(base.arguments[0]), inside))
            factor = sparse.multiply(factor, below)
        elif unit is UNIT and base in form.squares:
            p, below = _reduce_radical(form, p, index, 2 * degree, form.of(form.squares[base]))
            factor = sparse.multiply(factor, below)
    return p, factor


def reduced_quotient(form: Form, quotient: Quotient) -> tuple[Polynomial, Polynomial]:
    """(top, bottom) of a quotient after `reduced_with_factor`: the factor goes below the line."""
    top, factor = reduced_with_factor(form, quotient.top)
    return top, sparse.multiply(form.denominator(quotient), factor)


def lowest_by_relations(expression: Expression) -> Expression:
    """One fraction in lowest terms, powers of roots replaced by what they equal.

    >>> from gelvo.expression.building import name, number, power
    >>> x, root = name("x"), power(number(7), number(mpq(1, 2)))
    >>> print(lowest_by_relations(1/(7*(1 + (x/root)**2))))
    1/(x^2 + 7)
    >>> root = power(1/x**2 - 4, number(mpq(1, 2)))
    >>> print(lowest_by_relations(1/(root*(x*root + 1))))
    x/(1 + x*sqrt(1/x^2 - 4) - 4*x^2)
    """
    form = Form([expression])
    top, bottom = reduced_quotient(form, form.of(expression))
    if not bottom:
        return expression
    (top, above), (bottom, below) = reduced_with_factor(form, top), reduced_with_factor(form, bottom)
    top, bottom = form.without_common_factors(sparse.multiply(top, below), sparse.multiply(bottom, above))
    return form.factored(top) * power(form.factored(bottom), number(-1))


def is_unity(base: Expression, unit: Expression) -> bool:
    return is_a(base, EXP) and unit is multiply_all((IMAGINARY, PI))


def _replace_powers(p: Polynomial, index: int, degree: int, replacement: Polynomial) -> Polynomial:
    if sparse.degree(p, index) < degree:
        return p
    result: Polynomial = {}
    cache: dict[int, Polynomial] = {}
    for k, coefficient in sparse.by_powers(p, index).items():
        whole, rest = divmod(k, degree)
        if whole not in cache:
            cache[whole] = sparse.power(replacement, whole)
        piece = sparse.multiply(coefficient, cache[whole])
        result = sparse.add(result, sparse.from_powers({rest: piece}, index))
    return result


def _reduce_radical(form: Form, p: Polynomial, index: int, degree: int, radicand: Quotient) -> tuple[Polynomial, Polynomial]:
    """g^degree = top/bottom; the whole numerator is multiplied by a power of the denominator, which is given too."""
    highest = sparse.degree(p, index) // degree
    if highest <= 0:
        return p, {0: ONE}
    bottom = form.denominator(radicand)
    result: Polynomial = {}
    for k, coefficient in sparse.by_powers(p, index).items():
        whole, rest = divmod(k, degree)
        piece = sparse.multiply(coefficient, sparse.power(radicand.top, whole))
        piece = sparse.multiply(piece, sparse.power(bottom, highest - whole))
        result = sparse.add(result, sparse.from_powers({rest: piece}, index))
    return result, sparse.power(bottom, highest)


def _reduce_unity(p: Polynomial, index: int, degree: int) -> Polynomial:
    """Powers of exp(1j*pi/degree), and the imaginary unit as one of them."""
    if degree % 2 == 0 and sparse.has_gaussian(p):
        turned: Polynomial = {}
        shift = sparse.variable(index, degree // 2)
        for m, c in p.items():
            real, imag = parts(c)
            turned = sparse.add(turned, {m: real} if real else {})
            turned = sparse.add(turned, sparse.multiply({m: imag}, shift) if imag else {})
        p = turned
    modulus = cyclotomic(2 * degree)
    size = len(modulus) - 1
    powers = sparse.by_powers(p, index)
    folded: dict[int, Polynomial] = {}
    for k, coefficient in powers.items():
        folded[k % (2 * degree)] = sparse.add(folded.get(k % (2 * degree), {}), coefficient)
    for k in range(2 * degree - 1, size - 1, -1):
        coefficient = folded.pop(k, {})
        if coefficient:
            for i in range(size):
                if modulus[i]:
                    step = sparse.scale(coefficient, mpq(-modulus[i]))
                    folded[k - size + i] = sparse.add(folded.get(k - size + i, {}), step)
    return sparse.from_powers({k: c for k, c in folded.items() if c}, index)


def with_quarter_turns(form: Form) -> None:
    """Makes the imaginary unit a power of the root of unity, where one occurs."""
    for base, unit in form.generators:
        if is_unity(base, unit) and form.roots_of[(base, unit)] % 2:
            form.roots_of[(base, unit)] *= 2
