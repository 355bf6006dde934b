"""Powers of x times exponentials and waves: exact for every x^k * exp(a*x + b) * product of sines and cosines."""

from __future__ import annotations

from gmpy2 import fac, mpq

from gelvo.calculus.antiderivative.support import Search
from gelvo.calculus.found import Found
from gelvo.expression.building import multiply_all, number, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Call, Condition, Expression, Node, Number, Power, Product
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import transform
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.functions.named import COS, COSH, EXP, LN, SIN, SINH, is_a

MOST_DEGREE = 60


def linear_waves(f: Expression, facts: Facts) -> Expression:
    """Products and powers of sines and cosines as sums of single ones; hyperbolic ones as exponentials."""

    def visit(node: Node) -> Node:
        if is_a(node, SINH, COSH):
            assert node.function.as_elementary is not None
            return node.function.as_elementary(*node.arguments)
        return node

    expanded = expand(transform(f, visit))
    done: list[Expression] = []
    work = terms_of(expanded)
    while work:
        term = work.pop()
        split = _two_waves(term)
        if split is None:
            done.append(term)
        else:
            work.extend(terms_of(expand(split)))
    return total(done)


def _two_waves(term: Expression) -> Expression | None:
    """One product of two waves replaced by a sum, or None where there is at most one wave."""
    factors = factors_in(term)
    waves: list[Call] = []
    rest: list[Expression] = [number(term.coefficient)] if isinstance(term, Product) else []
    for factor in factors:
        base, k = base_and_exponent(factor)
        natural = isinstance(k, Number) and k.is_whole and 0 < k.rational <= MOST_DEGREE
        if is_a(base, SIN, COS) and natural:
            waves.extend([base] * int(k.rational))
        else:
            rest.append(factor)
    if len(waves) < 2:
        return None
    first, second = waves[0], waves[1]
    a, b = first.arguments[0], second.arguments[0]
    kinds = first.name + second.name
    half = number(mpq(1, 2))
    if kinds == "sinsin":
        pair = half * (COS(a - b) - COS(a + b))
    elif kinds == "coscos":
        pair = half * (COS(a - b) + COS(a + b))
    else:
        if kinds == "cossin":
            a, b = b, a
        pair = half * (SIN(a + b) + SIN(a - b))
    return multiply_all([*rest, *waves[2:], pair])


def integrate_waves(f: Expression, search: Search) -> Found | None:
    """x*exp(2*x)*cos(3*x) and its like, term by term."""
    pieces: list[Expression] = []
    conditions: list[Condition] = []
    for term in terms_of(linear_waves(f, search.facts)):
        piece = _one(term, search, conditions)
        if piece is None:
            return None
        pieces.append(piece)
    return Found(total(pieces), tuple(dict.fromkeys(conditions)), "exponentials and waves by parts")


def _one(term: Expression, search: Search, conditions: list[Condition]) -> Expression | None:
    x = search.variable
    parts = _Parts(search)
    if isinstance(term, Product):
        parts.outer.append(number(term.coefficient))
    if not all(parts.take(factor) for factor in factors_in(term)):
        return None
    constant = multiply_all(parts.outer) * EXP(parts.offset)
    rate, degree, wave = parts.rate, parts.degree, parts.wave
    if wave is None and rate is ZERO:
        return constant * x ** (degree + 1) / (degree + 1)
    constant = multiply_all(parts.outer) * EXP(rate * x + parts.offset)
    if wave is None:
        conditions.extend(search.nonzero(rate))
        return constant * _exponential_sum(x, degree, rate)
    angle = uni.linear_parts(wave.arguments[0], x)
    return None if angle is None else constant * _wave_sum(x, degree, rate, angle[0], wave, search, conditions)


class _Parts:
    """The factors of a term: constants, a power of x, exp(rate*x + offset), one wave."""

    def __init__(self, search: Search) -> None:
        self.search = search
        self.outer: list[Expression] = []
        self.degree = 0
        self.rate: Expression = ZERO
        self.offset: Expression = ZERO
        self.wave: Call | None = None

    def take(self, factor: Expression) -> bool:
        """Notes a factor; False where it is of no kind that fits."""
        x = self.search.variable
        if self.search.free(factor):
            self.outer.append(factor)
        elif factor is x:
            self.degree = 1
        elif isinstance(factor, Power) and factor.base is x and _natural(factor.exponent):
            self.degree = int(factor.exponent.rational)
        elif is_a(factor, EXP):
            return self._grow(factor.arguments[0], ONE)
        elif isinstance(factor, Power) and self.search.free(factor.base):
            return self._grow(factor.exponent, LN(factor.base))
        elif is_a(factor, SIN, COS) and self.wave is None:
            self.wave = factor
        else:
            return False
        return True

    def _grow(self, exponent: Expression, logarithm: Expression) -> bool:
        parts = uni.linear_parts(exponent, self.search.variable)
        if parts is None:
            return False
        self.rate, self.offset = self.rate + parts[0] * logarithm, self.offset + parts[1] * logarithm
        return True


def _natural(k: Expression) -> bool:
    return isinstance(k, Number) and k.is_whole and 0 < k.rational <= MOST_DEGREE


def _exponential_sum(x: Expression, degree: int, rate: Expression) -> Expression:
    """The polynomial P with (P*exp(rate*x))' = x^degree*exp(rate*x)."""
    return total([_weight(degree, j) * x ** (degree - j) / rate ** (j + 1) for j in range(degree + 1)])


def _weight(degree: int, j: int) -> Expression:
    return number(mpq((-1) ** j * fac(degree), fac(degree - j)))


def _wave_sum(
    x: Expression, degree: int, rate: Expression, frequency: Expression, wave: Call, search: Search, conditions: list[Condition]
) -> Expression:
    """The same for exp(rate*x)*wave, by 1/(rate + 1j*frequency)^n = (real + 1j*imag)/norm^n."""
    norm = rate * rate + frequency * frequency
    conditions.extend(search.nonzero(norm if rate is not ZERO else frequency))
    sine, cosine = SIN(wave.arguments[0]), COS(wave.arguments[0])
    terms: list[Expression] = []
    real, imag = ONE, ZERO
    for j in range(degree + 1):
        real, imag = expand(real * rate + imag * frequency), expand(imag * rate - real * frequency)
        turned = real * cosine - imag * sine if is_a(wave, COS) else real * sine + imag * cosine
        terms.append(_weight(degree, j) * x ** (degree - j) * turned / norm ** (j + 1))
    return total(terms)
