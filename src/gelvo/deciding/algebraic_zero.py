"""Is an expression in algebraic numbers zero? Decided by the norm: a non-zero algebraic integer has one of at least 1.

The conjugates of the number are bounded, so that a number smaller than a known bound must be zero (M. Mignotte, "Mathematics for
Computer Algebra", 1992, ch. 4).
"""

from __future__ import annotations

from collections.abc import Mapping
from math import prod
from typing import Any, NamedTuple

import gmpy2
from gmpy2 import lcm, mpq, mpz

from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.constants import ONE
from gelvo.expression.nodes import AlgebraicNumber, Expression, Product, Sum
from gelvo.expression.traversal import names
from gelvo.forms.fractions import Form
from gelvo.normal.relations import is_unity
from gelvo.numbers.exact import parts
from gelvo.numbers.interval import NoValue
from gelvo.polynomial import sparse
from gelvo.polynomial.dense import cyclotomic
from gelvo.polynomial.roots import bound_exponent
from gelvo.polynomial.sparse import Polynomial

MOST_SEPARATION_BITS = 250_000


class AlgebraicGenerator(NamedTuple):
    """A generator that is an algebraic number.

    steps: the roots that its field is built with, each with its degree over the ones before (their product bounds the number of
    conjugates); bound: on the size of every conjugate; denominator: a whole number times it is an algebraic integer.
    """

    steps: Mapping[Any, int]
    bound: mpq
    denominator: int


def _algebraic(form: Form, base: Expression, unit: Expression, degree: int) -> AlgebraicGenerator | None:
    """What is known of base^(unit/degree) as an algebraic number, or None where it is not seen to be one."""
    if is_unity(base, unit):
        return AlgebraicGenerator({("unity", degree): len(cyclotomic(2 * degree)) - 1}, mpq(1), 1)
    if unit is not ONE or names(base):
        return None
    if isinstance(base, AlgebraicNumber) and degree == 1:
        size = len(base.coefficients) - 1
        coefficients = [mpz(c) for c in base.coefficients]
        return AlgebraicGenerator({base: size}, mpq(2) ** bound_exponent(coefficients), abs(base.coefficients[-1]))
    if base.is_whole and degree > 1:
        return AlgebraicGenerator({(base, degree): degree}, _root_bound(abs(base.rational), degree), 1)
    return _root_of_algebraic(base, degree) if isinstance(base, (Sum, Product)) and degree > 1 else None


def _root_of_algebraic(base: Expression, degree: int) -> AlgebraicGenerator | None:
    """A root of a formula in algebraic numbers."""
    inner = Form([base])
    data = _algebraic_generators(inner)
    quotient = inner.of(base)
    if len(data) < len(inner.generators):
        return None
    bottom = inner.denominator(quotient)
    units = {index for (b, u), index in inner.generators.items() if is_unity(b, u)}
    if len(bottom) != 1 or any(k not in units for k in sparse.variables(bottom)):
        return None  # only powers of roots of unity, which are units of size 1, may stand below
    steps: dict[Any, int] = {(base, degree): degree}
    bound, denominator, powers = mpq(0), mpz(1), mpz(1)
    for m, c in quotient.top.items():
        real, imag = parts(c)
        denominator = lcm(denominator, lcm(real.denominator, imag.denominator))
        size_of = abs(real) + abs(imag)
        for index, entry in data.items():
            size_of *= max(mpq(1), entry.bound) ** sparse.exponent_of(m, index)
        bound += size_of
    for index, entry in data.items():
        steps.update(entry.steps)
        powers *= mpz(entry.denominator) ** sparse.degree(quotient.top, index)
    if sparse.has_gaussian(quotient.top):
        steps["imaginary unit"] = 2
    return AlgebraicGenerator(steps, max(mpq(1), _root_bound(bound, degree)), int(denominator * powers))


def _root_bound(size: mpq, degree: int) -> mpq:
    """A whole number not below the root."""
    return mpq(gmpy2.iroot(mpz(gmpy2.ceil(size)), degree)[0] + 1)


def _algebraic_generators(form: Form) -> dict[int, AlgebraicGenerator]:
    data: dict[int, AlgebraicGenerator] = {}
    for (base, unit), index in form.generators.items():
        entry = _algebraic(form, base, unit, form.roots_of[(base, unit)])
        if entry is not None:
            data[index] = entry
    return data


def algebraic_groups_vanish(form: Form, top: Polynomial) -> bool:
    """Whether every coefficient of a monomial in the transcendental generators is a vanishing algebraic number."""
    data = _algebraic_generators(form)
    if not data:
        return False
    groups: dict[int, Polynomial] = {}
    for m, c in top.items():
        inside = sum(sparse.exponent_of(m, k) << (sparse.BITS * k) for k in data)
        groups.setdefault(m - inside, {})[inside] = c
    return all(_algebraic_number_vanishes(form, group, data) for group in groups.values())


def _size(p: Polynomial, used: list[int], data: Mapping[int, AlgebraicGenerator]) -> mpq:
    """What no conjugate of the number is larger than."""
    bound = mpq(0)
    for m, c in p.items():
        real, imag = parts(c)
        size = abs(real) + abs(imag)
        for k in used:
            size *= max(mpq(1), data[k].bound) ** sparse.exponent_of(m, k)
        bound += size
    return bound


def _algebraic_number_vanishes(form: Form, p: Polynomial, data: Mapping[int, AlgebraicGenerator]) -> bool:
    """Multiplied by its denominators, the number is an algebraic integer of known degree with bounded conjugates."""
    if len(p) == 1:
        return False
    used = [k for k in sparse.variables(p) if k in data]
    scaling = mpq(1)
    steps: dict[Any, int] = {}
    for k in used:
        steps.update(data[k].steps)
        scaling *= mpq(data[k].denominator) ** sparse.degree(p, k)
    common = mpq(1)
    for c in p.values():
        real, imag = parts(c)
        common = mpq(lcm(common.numerator, lcm(real.denominator, imag.denominator)))
    if sparse.has_gaussian(p):
        steps["imaginary unit"] = 2
    degree = prod(steps.values())
    bound = _size(p, used, data) * scaling * common
    needed = (int(gmpy2.floor(bound)) + 2).bit_length() * max(1, degree - 1) + 8
    if needed > MOST_SEPARATION_BITS:
        return False
    try:
        box = Enclosure(form.expression(p)).at({}, needed + 64 + 4 * len(p))
    except NoValue:
        return False
    largest = max(abs(x) for x in (*box.real, *(box.imag or ())))
    return bool(box.contains_zero() and largest * int(scaling * common) < gmpy2.mpfr(2) ** -needed)
