"""Roots of an irreducible polynomial, and sums of exponentials over them in a real form."""

from __future__ import annotations

from collections.abc import Iterator

from gelvo.deciding.algebraic import all_roots
from gelvo.errors import DomainError
from gelvo.expression import known as bits
from gelvo.expression.building import number
from gelvo.expression.constants import IMAGINARY, PI, ZERO
from gelvo.expression.nodes import AlgebraicNumber, Call, Expression, Name, Number, Power
from gelvo.expression.traversal import fresh_name, has_imaginary_unit, names, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import COS, EXP, IM, RE, SIN
from gelvo.matrices.plain import plain
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.solving.single.complete import solve_single

Coefficients = list[Expression]


def roots_of(coefficients: Coefficients, x: Name, facts: Facts) -> list[Expression]:
    """By the solver over the complex numbers; numbered roots all in one way, unless all of them are short."""
    found = solve_single(uni.expression_of(coefficients, x), x, Facts(facts.given, [x, *facts.complex_names]), False).found
    values = [root.value for root in found]
    if any(isinstance(v, AlgebraicNumber) for v in values):
        whole = uni.integer_coefficients(uni.expression_of(coefficients, x), x)
        if whole is not None:
            return all_roots(whole)
    return [_in_parts(_without_turns(v), facts) for v in values]


def _in_parts(value: Expression, facts: Facts) -> Expression:
    """A root of a complex number as real part + 1j*imaginary part: (sqrt(3) + 1j)/2 for sqrt(1/2 + sqrt(3)/2*1j)."""
    roots = [n for n in postorder(value) if isinstance(n, Power) and not n.exponent.is_whole]
    if names(value) or not any(has_imaginary_unit(n.base) for n in roots):
        return value
    try:
        real, imag = real_and_imaginary(value, facts)
    except DomainError:
        return value
    return plain(real, facts) + IMAGINARY * plain(imag, facts)


def _without_turns(value: Expression) -> Expression:
    """Powers of -1 by cosine and sine: (1 + 1j)/sqrt(2) for (-1)^(1/4)."""
    turns = {
        node: COS(PI * node.exponent) + IMAGINARY * SIN(PI * node.exponent)
        for node in postorder(value)
        if isinstance(node, Power) and isinstance(node.base, Number) and node.base == -1 and isinstance(node.exponent, Number)
    }
    return expand(substitute(value, turns)) if turns else value


def shown_roots(coefficients: Coefficients, x: Name, facts: Facts) -> list[Expression]:
    """The roots of an irreducible polynomial with rational coefficients, with square roots where that is enough, else numbered."""
    found = roots_of(coefficients, x, facts)
    whole = uni.integer_coefficients(uni.expression_of(coefficients, x), x)
    if whole is None or len(found) != len(coefficients) - 1:
        return found
    parts = postorder(*found)
    longer = any(isinstance(n, Call) or (isinstance(n, Power) and (n.exponent * 2).is_whole is False) for n in parts)
    return all_roots(whole) if longer else found


def parts_of(number: Expression, facts: Facts) -> tuple[Expression, Expression]:
    """Real and imaginary part of a number, in a short form where there is one."""
    if isinstance(number, AlgebraicNumber):
        return (number, ZERO) if bits.is_real(number.known) else (RE(number), IM(number))
    try:
        real, imag = real_and_imaginary(number, facts)
        return plain(real, facts), plain(imag, facts)
    except DomainError:
        return RE(number), IM(number)


def upper_roots(roots: list[Expression], facts: Facts) -> Iterator[tuple[Expression, Expression, Expression]]:
    """(root, real part, imaginary part) of the real roots, and of one of each pair of conjugate ones."""
    for root in roots:
        real, imag = parts_of(root, facts)
        if imag is ZERO or facts.is_positive(imag):
            yield root, real, imag


def real_basis(roots: list[Expression], t: Name, facts: Facts) -> list[Expression]:
    """exp(r*t) for real roots, and for each pair of conjugate ones what is real of it."""
    found: list[Expression] = []
    for _, real, imag in upper_roots(roots, facts):
        waves = (COS(imag * t), SIN(imag * t)) if imag is not ZERO else (None,)
        found += [EXP(real * t) if wave is None else EXP(real * t) * wave for wave in waves]
    return found


def in_lowest_terms(e: Expression) -> Expression:
    """A rational expression in one numbered root as a polynomial of low degree in it; any other one in lowest terms.

    >>> from gelvo.deciding.algebraic import all_roots
    >>> r = all_roots((-1, -1, 0, 1))[0]
    >>> print(in_lowest_terms(1/r))
    polynomial_root(x^3 - x - 1, 1)^2 - 1
    """
    roots = [n for n in postorder(e) if isinstance(n, AlgebraicNumber)]
    if len(roots) != 1:
        return uni.lowest_terms(e)
    (root,) = roots
    mark = fresh_name("z", e)
    top, bottom = (uni.coefficients_of(expand(p), mark) for p in quotient_parts(factored(substitute(e, {root: mark}))))
    if top is None or bottom is None:
        return e
    modulus: Coefficients = [number(c) for c in root.coefficients]
    inverse = uni.inverse_modulo(uni.divide(bottom, modulus)[1], modulus)
    reduced = uni.divide(uni.multiply(uni.divide(top, modulus)[1], inverse), modulus)[1]
    return uni.expression_of(reduced, root)
