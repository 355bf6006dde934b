"""Exponentials over independent exponents, and waves as exponentials."""

from __future__ import annotations

from collections.abc import Callable

from gmpy2 import mpq

from gelvo.expression import known as bits
from gelvo.expression.building import looks_negative, multiply_all, number, power, scale, total, weighted_terms
from gelvo.expression.constants import HALF as HALF_NODE
from gelvo.expression.constants import IMAGINARY, PI
from gelvo.expression.nodes import Call, Expression, Name, Number, Power, Product, Sum
from gelvo.expression.registry import FUNCTIONS
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import names, postorder
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import exponent_parts
from gelvo.forms.one_angle import single_angles
from gelvo.functions.named import (
    ACOS,
    ASIN,
    ATAN,
    ATAN2,
    COS,
    COT,
    CSC,
    EXP,
    LAMBERTW,
    LAMBERTW_LOWER,
    SEC,
    SIN,
    TAN,
    FunctionName,
    is_a,
)
from gelvo.normal.rules.signs import whole_part
from gelvo.normal.rules.table import Work, rule
from gelvo.numbers.exact import HALF, Gaussian

FEW_WAVES = 4


def square_of_wave(node: Power) -> Expression | None:
    """The radicand of a root as a product, where it is a square of waves: 1 - sin(x)^2, or 1 - cos(x)."""
    if not isinstance(node.exponent, Number) or node.exponent.is_whole or not isinstance(node.base, Sum):
        return None
    waves = [n for n in postorder(node.base) if is_a(n, SIN, COS)]
    if not waves or len(node.base.terms) > FEW_WAVES:
        return None
    for part in (1, 2):
        for keep in (SIN, COS):
            found = single_angles(node.base, keep, part)
            if isinstance(found, (Product, Power)) and not any(isinstance(n, Sum) for n in postorder(found)):
                return found
    return None


@rule(SIN, circular=True)
def _sine(work: Work, x: Expression) -> Expression:
    return _wave(work, SIN, x)


@rule(COS, circular=True)
def _cosine(work: Work, x: Expression) -> Expression:
    return _wave(work, COS, x)


for _name in (TAN, COT, SEC, CSC):
    rule(_name, circular=True)(lambda work, x, name=_name: _by_sine_and_cosine(work, name, x))


def _by_sine_and_cosine(work: Work, name: str, x: Expression) -> Expression:
    elementary = FUNCTIONS[name].as_elementary
    assert elementary is not None
    return work.prepared(elementary(x))


def _wave(work: Work, name: str, x: Expression) -> Expression:
    up, down = exponential(work, IMAGINARY * x), exponential(work, -(IMAGINARY * x))
    if name == COS:
        return expand((up + down) / 2)
    return expand((up - down) * number(Gaussian(mpq(0), -HALF)))


def _inverse_wave(unit: Expression) -> Expression | None:
    """exp(1j*asin(x)) and its like, which are algebraic in x."""
    if not isinstance(unit, Call):
        return None
    x = unit.arguments[0]
    if is_a(unit, ATAN2):  # the direction of the point (y, x)
        across = unit.arguments[1]
        return (across + IMAGINARY * x) * power(across**2 + x**2, -HALF_NODE)
    root = power(1 - x * x, HALF_NODE)
    table: dict[str, Callable[[], Expression]] = {
        ASIN: lambda: root + IMAGINARY * x,
        ATAN: lambda: (1 + IMAGINARY * x) / power(1 + x * x, HALF_NODE),
    }
    entry = table.get(unit.name)
    return None if entry is None else entry()


@rule(EXP)
def exponential(work: Work, argument: Expression) -> Expression:
    """exp of a sum, with exp(1j*k*asin(x)) written out for integers k."""
    argument = expand(argument)
    pieces: list[Expression] = []
    for coefficient, unit in exponent_parts(argument):
        inner = unit * -IMAGINARY
        if is_a(unit, LAMBERTW, LAMBERTW_LOWER) and (
            coefficient.denominator == 1 or work.facts.is_nonnegative(unit.arguments[0])
        ):
            quotient = unit.arguments[0] / unit  # exp(W(z)) = z/W(z), which is positive where W is real
            whole = coefficient.denominator == 1
            pieces.append(power(quotient, number(coefficient)) if whole else work.prepared(power(quotient, number(coefficient))))
            continue
        algebraic = _inverse_wave(inner) if coefficient.denominator == 1 else None
        if algebraic is not None:
            pieces.append(work.prepared(power(algebraic, number(coefficient))))
            continue
        if coefficient.denominator == 1 and _integer_over_pi(inner, work.facts):
            if coefficient % 2:
                quotient = parity(inner / PI)
                pieces.append(power(number(-1), -quotient if looks_negative(quotient) else quotient))
            continue
        pieces.append(EXP(scale(unit, coefficient)))
    return multiply_all(pieces)


def parity(exponent: Expression) -> Expression:
    """A polynomial in integers modulo 2: n^k is n, and even coefficients go."""
    terms: list[Expression] = []
    expanded = expand(exponent)
    for term, c in weighted_terms(expanded):
        factors = factors_in(term)
        plain = all(
            isinstance(f, Name) or (isinstance(f, Power) and isinstance(f.base, Name) and _is_natural(f)) for f in factors
        )
        if not plain or isinstance(c, Gaussian) or c.denominator != 1:
            return exponent
        if c % 2:
            terms.append(multiply_all([f.base if isinstance(f, Power) else f for f in factors]))
    constant_part = expanded.constant if isinstance(expanded, Sum) else mpq(0)
    if isinstance(constant_part, Gaussian) or constant_part.denominator != 1:
        return exponent
    return total([*terms, number(constant_part % 2)])


def _is_natural(node: Power) -> bool:
    return isinstance(node.exponent, Number) and node.exponent.is_whole and node.exponent.rational > 0


def _integer_over_pi(inner: Expression, facts: Facts) -> bool:
    quotient = inner / PI
    return not isinstance(quotient, Number) and facts.is_integer(quotient)


_WAVE_OF: dict[str, FunctionName] = {ASIN: SIN, ACOS: COS, ATAN: TAN}


def angle_of_number(node: Call) -> Expression | None:
    """asin(sin(c)), acos(cos(c)) and atan(tan(c)) of numbers, moved into the range of the inverse."""
    x = node.arguments[0]
    wave = _WAVE_OF.get(node.name)
    if wave is None or not (isinstance(x, Call) and x.name == wave and not names(x) and bits.is_real(x.arguments[0].known)):
        return None
    c = x.arguments[0]
    turns = whole_part(c / PI + (0 if wave == COS else HALF), False)
    if not isinstance(turns, Number):
        return None
    k = int(turns.rational)
    if wave == COS:  # c - k*pi lies in (0, pi); an odd k turns it round
        return c - k * PI if k % 2 == 0 else (k + 1) * PI - c
    moved = c - k * PI
    return moved if wave == TAN or k % 2 == 0 else -moved
