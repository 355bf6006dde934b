"""Steps that split an integrand: constants in front, term by term, fractions, products of waves."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from gelvo.calculus.antiderivative.waves import linear_waves
from gelvo.calculus.lessons.line import Pupil, Step
from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, number, scale, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import AlgebraicNumber, Expression, Node, Number, Power
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, postorder, transform
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import quotient_parts
from gelvo.functions.named import COS, COSH, COT, COTH, CSC, CSCH, SEC, SECH, SIN, SINH, TAN, TANH, is_a
from gelvo.normal.rationalizing import rationalize_denominator
from gelvo.simplifying.factoring import factor_over_reals
from gelvo.simplifying.partial_fractions import partial_fractions, simple_fractions

MOST_REAL = 4  # degree of a denominator that is split over the reals


def _is_nested(node: Node) -> bool:
    return isinstance(node, Power) and not node.exponent.is_whole and not isinstance(node.base, Number)


def _split(f: Expression, rule: str) -> Step:
    return Step(rule, parts=tuple((ONE, t) for t in terms_of(f)))


def term_by_term(f: Expression, pupil: Pupil) -> Iterator[Step]:
    """x^2 + sin(x)  ->  integral_of(x^2, x) + integral_of(sin(x), x)"""
    if len(terms_of(f)) > 1:
        yield _split(f, "term by term")


def multiplied_out(f: Expression, pupil: Pupil) -> Iterator[Step]:
    """x*(x + 1)  ->  x^2 + x"""
    wide = expand(f)
    if wide is not f and len(terms_of(wide)) > 1:
        yield _split(wide, "multiplied out, term by term")


def fractions(f: Expression, pupil: Pupil) -> Iterator[Step]:
    """1/(x^2 - 1)  ->  1/(2*(x - 1)) - 1/(2*(x + 1))"""
    top, bottom = quotient_parts(f)
    if uni.coefficients_of(top, pupil.x) is None or len(uni.coefficients_of(bottom, pupil.x) or ()) < 2:
        return
    try:
        split = partial_fractions(f, pupil.x)
        if len(terms_of(split)) == 1:
            split = _over_reals(top, bottom, pupil)
    except DomainError:
        return
    if split is not f and len(terms_of(split)) > 1:
        yield _split(split, "partial fractions")


def _over_reals(top: Expression, bottom: Expression, pupil: Pupil) -> Expression:
    """1/(x^4 + 1) over x^2 + sqrt(2)*x + 1 and x^2 - sqrt(2)*x + 1."""
    x = pupil.x
    if len(uni.coefficients_of(bottom, x) or ()) > MOST_REAL + 1:
        raise DomainError(f"the real factors of {bottom} are not taught")
    product = factor_over_reals(bottom)
    if any(isinstance(n, AlgebraicNumber) or _is_nested(n) for n in postorder(product)):
        raise DomainError(f"the real factors of {bottom} have more than square roots")
    pairs = [base_and_exponent(g) for g in factors_in(product) if contains(g, x)]
    bases = [uni.coefficients_of(b, x) for b, _ in pairs]
    upper = uni.coefficients_of(top, x)
    if (
        upper is None
        or not all(isinstance(c, Number) and c.is_rational for c in upper)
        or any(b is None or len(b) > 3 or k is not ONE for b, (_, k) in zip(bases, pairs, strict=True))
    ):
        raise DomainError(f"{bottom} has no real factors in square roots")
    content = uni.lowest_terms(bottom / multiply_all([b for b, _ in pairs]))
    quotient, pieces = simple_fractions(upper, content, [(b, 1) for b in bases if b])
    digits = ([uni.lowest_terms(rationalize_denominator(d)) for d in p.digit] for p in pieces)
    parts = (uni.expression_of(d, x) / uni.expression_of(p.base, x) for d, p in zip(digits, pieces, strict=True))
    return total([uni.expression_of(quotient, x), *parts])


def over_a_quadratic(f: Expression, pupil: Pupil) -> Iterator[Step]:
    """(3*x + 1)/(x^2 + 2*x + 5): a multiple of the slope of the quadratic, and a constant over its completed square."""
    x = pupil.x
    top, bottom = quotient_parts(f)
    upper, lower = uni.coefficients_of(top, x), uni.coefficients_of(bottom, x)
    if upper is None or lower is None or len(lower) != 3 or len(upper) > 2 or lower[1] is ZERO:
        return
    _, b, a = lower
    slope = 2 * a * x + b
    if len(upper) == 2:
        share = uni.lowest_terms(upper[1] / (2 * a))
        rest = uni.lowest_terms(upper[0] - share * b)
        parts = ((share, slope / bottom), (rest, 1 / bottom))
        yield Step("the slope of the denominator split off", parts=tuple(p for p in parts if p[0] is not ZERO))


def waves_as_sums(f: Expression, pupil: Pupil) -> Iterator[Step]:
    """sin(x)^2  ->  1/2 - cos(2*x)/2"""
    pairs = [base_and_exponent(g) for g in factors_in(f)]
    waves = [k for base, k in pairs if is_a(base, SIN, COS)]
    others = [n for base, _ in pairs if not is_a(base, SIN, COS) for n in postorder(base) if is_a(n, SIN, COS, SINH, COSH)]
    if not waves or others or any(not k.is_whole or k.rational < 0 for k in waves):
        return
    plain = linear_waves(f, pupil.facts)
    if plain is not f and plain is not expand(f):
        yield _split(plain, "products of waves as sums")


def by_sine_and_cosine(f: Expression, pupil: Pupil) -> Iterator[Step]:
    """tan(x)*cos(x)^2 by sine and cosine; hyperbolic ones likewise."""

    def visit(node: object) -> object:
        if is_a(node, TAN, COT, SEC, CSC, TANH, COTH, SECH, CSCH) and node.function.as_elementary:
            return node.function.as_elementary(*node.arguments)
        return node

    plain = transform(f, visit)  # type: ignore[arg-type]
    if plain is not f:
        yield Step("by sine and cosine", parts=((ONE, plain),))


def powers_of_one_wave(f: Expression, pupil: Pupil) -> Iterator[Step]:
    """tan(x)^4  ->  tan(x)^3/3 - integral_of(tan(x)^2, x): the reduction formulas of the tables."""
    if not isinstance(f, Power) or not is_a(f.base, SIN, COS, TAN, COT, SEC, CSC, SINH, COSH, TANH):
        return
    n, u = f.exponent, f.base.arguments[0]
    parts = uni.linear_parts(u, pupil.x)
    if parts is None or not n.is_whole or abs(n.rational) > 60:
        return
    wave, k = f.base.name, int(n.rational)
    if k < 0 and wave in TURNED:
        wave, k = TURNED[wave], -k
    if k < (2 if wave in (SINH, COSH) else 3):  # squares of the others stand in the tables, or are sums of waves
        return
    row = REDUCTIONS.get(wave)
    if row is not None:
        outer, share, lower = row(k, u)
        yield Step(f"reduction formula for powers of {wave}", outer / parts[0], ((share, lower),))


def powers_of_a_quadratic(f: Expression, pupil: Pupil) -> Iterator[Step]:
    """1/(x^2 + 1)^2  ->  x/(2*(x^2 + 1)) + integral_of(1/(x^2 + 1), x)/2"""
    if not isinstance(f, Power) or not f.exponent.is_rational or f.exponent.rational >= -1:
        return
    square = uni.coefficients_of(f.base, pupil.x)
    if square is None or len(square) != 3:
        return
    c, b, a = square
    gap, n = uni.lowest_terms(4 * a * c - b**2), -f.exponent
    if pupil.facts.is_nonzero(gap):
        below = gap * (n - 1)
        outer = (2 * a * pupil.x + b) * f.base ** (1 - n) / below
        share = 2 * a * (2 * n - 3) / below
        yield Step("reduction formula for powers of a quadratic", outer, ((share, f.base ** (1 - n)),))


def _ratio(k: int) -> Expression:
    return number(k - 1) / number(k)


TURNED: dict[str, str] = {SIN: CSC, COS: SEC}
REDUCTIONS: dict[str, Callable[[int, Expression], tuple[Expression, Expression, Expression]]] = {
    SIN: lambda k, u: (-(SIN(u) ** (k - 1)) * COS(u) / k, _ratio(k), SIN(u) ** (k - 2)),
    COS: lambda k, u: (COS(u) ** (k - 1) * SIN(u) / k, _ratio(k), COS(u) ** (k - 2)),
    TAN: lambda k, u: (TAN(u) ** (k - 1) / (k - 1), scale(ONE, -1), TAN(u) ** (k - 2)),
    COT: lambda k, u: (-(COT(u) ** (k - 1)) / (k - 1), scale(ONE, -1), COT(u) ** (k - 2)),
    SEC: lambda k, u: (SEC(u) ** (k - 2) * TAN(u) / (k - 1), number(k - 2) / number(k - 1), SEC(u) ** (k - 2)),
    CSC: lambda k, u: (-(CSC(u) ** (k - 2)) * COT(u) / (k - 1), number(k - 2) / number(k - 1), CSC(u) ** (k - 2)),
    SINH: lambda k, u: (SINH(u) ** (k - 1) * COSH(u) / k, -_ratio(k), SINH(u) ** (k - 2)),
    COSH: lambda k, u: (COSH(u) ** (k - 1) * SINH(u) / k, _ratio(k), COSH(u) ** (k - 2)),
    TANH: lambda k, u: (-(TANH(u) ** (k - 1)) / (k - 1), ONE, TANH(u) ** (k - 2)),
}
