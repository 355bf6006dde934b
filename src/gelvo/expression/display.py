"""The shape in which a reader sees sums and products; every output renders it, and nothing else depends on it.

The principles, each with its example:
- a sum opens with a positive term where there is one: `2 - sqrt(2)`, `1 - p`; powers fall, and a plain number
  stands last, but before roots of numbers, functions and imaginary parts: `1 + sqrt(2)`, `1 + cos(x)`, `R + 1j*L*omega`;
- a product reads from what is fixed to what moves: numbers, named constants, letters of the problem, then variables, functions
  behind them, decays before waves: `2*zeta*omega*t`, `rho*g*h`, `v*t*cos(alpha)`, `A*exp(-g*t)*cos(w*t)`, `(x + 1)*exp(-x)`;
- roots of numbers, of named constants and of one group of letters stand under one root, and below the line rather than above where they cancel a
  divisor: `sqrt(2*pi)`, `sqrt(2/pi)`, `1/(sigma*sqrt(2*pi))`;
- a relation has its plain number on the right, `x > 0`, and no minus where both sides can do without: `b^2 >= 4*a*c` on paper.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import NamedTuple

from gmpy2 import mpq

from gelvo.expression.building import distributed, multiply_all, negate, number, power, scale, total
from gelvo.expression.nodes import Applied, Call, Constant, Expression, Name, Node, Number, Power, Product, Relation, Sum
from gelvo.expression.order import ordered
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import names
from gelvo.expression.writing import writing_now
from gelvo.numbers.exact import HALF, ONE, ZERO, Gaussian, Scalar, parts


def _base(factor: Expression) -> Expression:
    return factor.base if isinstance(factor, Power) else factor


def _exponent(node: Expression) -> mpq:
    if isinstance(node, Power) and isinstance(node.exponent, Number) and node.exponent.is_rational:
        return node.exponent.rational
    return mpq(1)


def _degree(term: Expression) -> tuple[mpq, mpq]:
    """Minus the degree in variables, then in all names, which puts polynomials into descending order: s^2 + 2*zeta*omega*s + omega^2."""
    moving = whole = mpq(0)
    for factor in factors_in(term):
        base = _base(factor)
        if isinstance(base, (Name, Sum)):
            whole += _exponent(factor)
            moving += _exponent(factor) if isinstance(base, Name) and is_variable(base) else 0
    return -moving, -whole


def _exponents(term: Expression) -> tuple[tuple[str, mpq], ...]:
    """Terms of one degree by their names: a^2, a*b, b^2."""
    factors = factors_in(term)
    found = []
    for factor in factors:
        base = _base(factor)
        if isinstance(base, Name):
            found.append((base.name, -_exponent(factor)))
    return tuple(sorted(found))


def _is_constant(term: Expression) -> bool:
    factors = factors_in(term)
    return all(isinstance(_base(f), (Constant, Number)) for f in factors)


def _place(term: Expression, pair: bool) -> tuple[object, ...]:
    """Where a term stands: unknown functions, powers of variables, of a pair the cosine before its sine, letters, those
    beside functions, at last constants: a^2 + b^2 - 2*a*b*cos(gamma)."""
    moving, whole = _degree(term)
    waves = {f.name for f in factors_in(term) if isinstance(f, Call)}
    sine = pair and bool(waves & {"sin", "sinh"}) and not waves & {"cos", "cosh"}
    return _is_constant(term), _has_unknown(term), moving, sine, whole, not _is_of_letters(term), _exponents(term)


def _is_of_letters(term: Expression) -> bool:
    return all(isinstance(_base(f), (Name, Constant, Number, Sum)) for f in factors_in(term))


def _has_constant(term: Expression) -> bool:
    return any(isinstance(_base(f), Constant) for f in factors_in(term))


def sum_terms(node: Sum) -> list[tuple[Scalar, Expression | None]]:
    """(coefficient, term) in reading order, the number last; (c, None) is the number itself."""
    pairs = dict(node.items())
    position = {t: i for i, t in enumerate(node.terms)}
    pair = len(node.terms) == 2
    shown = sorted(node.terms, key=lambda t: (*_place(t, pair), position[t]))
    if all(map(_has_constant, shown)):  # pi/6 + 2*pi*n
        shown.sort(key=lambda t: not _is_constant(t))
    rising = writing_now().powers == "ascending"
    if rising:
        shown.sort(key=lambda t: tuple(-d for d in _degree(t)))
    result: list[tuple[Scalar, Expression | None]] = [(pairs[t], t) for t in shown if not isinstance(pairs[t], Gaussian)]
    if node.constant:
        result.insert(0 if rising or all(map(_is_of_functions, shown)) else len(result), (node.constant, None))
    result += [(pairs[t], t) for t in shown if isinstance(pairs[t], Gaussian)]
    return result if rising else _positive_first(result)


def _positive_first(terms: list[tuple[Scalar, Expression | None]]) -> list[tuple[Scalar, Expression | None]]:
    """Rising powers where those open with a plus, else the first positive term in front; as they are where none is."""
    positive = [_is_positive(c) for c, _ in terms]
    if not terms or isinstance(terms[0][0], Gaussian) or positive[0] or not any(positive):
        return terms
    if positive[-1]:
        return terms[::-1]
    first = positive.index(True)
    return [terms[first], *terms[:first], *terms[first + 1 :]]


def _is_of_functions(term: Expression) -> bool:
    """Whether a term has a function of the catalogue, or no letter: 1 + cos(x), 1 + x*exp(-x), 2 + sqrt(3)."""
    factors = factors_in(term)
    return any(isinstance(_base(f), Call) for f in factors) or all(isinstance(_base(f), (Number, Constant)) for f in factors)


def _has_unknown(term: Expression) -> int:
    """Terms with derivatives of unknown functions come first, highest order first."""
    factors = factors_in(term)
    return -max((1 + sum(f.orders) for f in factors if isinstance(f, Applied)), default=0)


VARIABLES = ("t", "x", "y", "z", "r", "s")
"""Letters that move in a formula, with or without a number of their own (x_1; x_0 is a place that stays)."""
NATURE = ("G", "hbar", "k_B", "epsilon_0", "mu_0", "N_A")
COUNTS = ("binomial",)  # read as numbers
MATERIALS = ("rho", "kappa", "mu", "eta", "gamma", "epsilon", "chi", "sigma")  # before masses: rho*g*h, gamma*m*c^2
MASSES = ("m", "M", "q")  # the first letters of a problem: m*g*h, q*E
FREQUENCIES = ("omega", "ω", "w")  # the last of what is fixed: zeta*omega*t
MOST_LOOKED_AT = 40


FIRST = ((-3, NATURE), (-2, MATERIALS), (-1, MASSES))


def is_variable(name: Name) -> bool:
    stem, _, number_of = name.name.partition("_")
    return stem in VARIABLES and (not number_of or (number_of.isdigit() and int(number_of) > 0))


def _moves(part: Node) -> bool:
    """Whether a variable stands in a part."""
    return _found(part, lambda n: isinstance(n, Name) and is_variable(n))


def _found(part: Node, asked: Callable[[Node], bool]) -> bool:
    """Whether a node of a kind stands in a part; in a large one, which is not looked through, it is taken so."""
    work = [part]
    for _ in range(MOST_LOOKED_AT):
        if not work:
            return False
        node = work.pop()
        if asked(node):
            return True
        work.extend(node.children)
    return bool(work)


def _factor_rank(factor: Expression, in_sum: bool) -> tuple[object, ...]:
    base, exponent = _base(factor), _exponent(factor)
    if isinstance(base, Number):
        return (0, 0, "")
    if isinstance(base, Constant):
        return (1, 0, base.name)
    moving = 10 * _moves(factor)
    if isinstance(base, Name):
        whole, stem = exponent.denominator == 1, base.name.partition("_")[0]
        kind = next((k for k, group in FIRST if base.name in group or stem in group), float(stem in FREQUENCIES))
        return (moving + (2 if whole else 3), kind, 0 if moving or in_sum else abs(exponent), base.name.lower(), base.name)
    if isinstance(base, Sum):
        return (moving + (5.5 if _found(base, lambda n: isinstance(n, Call)) else 4), 0, "")
    if isinstance(base, Applied):
        return (19, -sum(base.orders), base.name)
    if isinstance(base, Call) and base.name in COUNTS:
        return (1.5, 0, base.name)
    if isinstance(base, Call):  # functions of what stays behind all letters: v*t*cos(alpha)
        return ((15 if base.name == "exp" else 16) if moving else 14.5, 0, base.name)
    return (moving + 6, 0, "")


def product_parts(node: Expression) -> tuple[Scalar, list[Expression], list[Expression]]:
    """A product as (coefficient, factors above the fraction line, factors below it as positive powers)."""
    factors: tuple[Expression, ...]
    if isinstance(node, Product):
        coefficient, factors = node.coefficient, node.factors
    else:
        coefficient, factors = ONE, (node,)
    top: list[Expression] = []
    bottom: list[Expression] = []
    for factor in factors:
        if isinstance(factor, Power) and has_minus(factor.exponent):
            bottom.append(power(factor.base, scale(factor.exponent, mpq(-1))))
        else:
            top.append(factor)
    return coefficient, reading_order(top), reading_order(bottom)


def has_minus(exponent: Expression) -> bool:
    """Whether an exponent puts its power below a fraction line."""
    if isinstance(exponent, Number):
        return exponent.is_rational and exponent.rational < 0
    return isinstance(exponent, Product) and not isinstance(exponent.coefficient, Gaussian) and exponent.coefficient < 0


def reading_order(factors: list[Expression], in_sum: bool = False) -> list[Expression]:
    """Factors as they are read; letters by their powers, q*L^4, but in a sum by their names: a^3 + 3*a^2*b."""
    place = {f: i for i, f in enumerate(ordered(factors))}
    return sorted(factors, key=lambda f: (_factor_rank(f, in_sum), place[f]))


class Factor(NamedTuple):
    """What stands under one exponent: `bases` over `divisors`, each of several only under a root; the exponent is positive or a formula."""

    bases: tuple[Expression, ...]
    exponent: Scalar | Expression = ONE
    divisors: tuple[Expression, ...] = ()


class Quotient(NamedTuple):
    """A product as it is shown: the factors above and below the fraction line, numbers among them."""

    above: list[Factor]
    below: list[Factor]


def quotient(
    coefficient: Scalar, factors: Iterable[Expression], in_sum: bool = False, whole: Callable[[mpq], bool] = lambda value: False
) -> Quotient:
    """A coefficient without minus times factors, sorted to above and below the line, roots joined; whole: tells of a number that
    no line divides, as a decimal."""
    listed = list(factors)
    above, roots_above = _sorted(reading_order([f for f in listed if not stands_below(f)], in_sum), 1)
    below, roots_below = _sorted(reading_order([f for f in listed if stands_below(f)], in_sum), -1)
    coefficient, roots, sunk = _common_roots(coefficient, above, below, roots_above, roots_below)
    undivided = not isinstance(coefficient, Gaussian) and whole(coefficient)
    size_above, size_below = (coefficient, mpq(1)) if undivided else _over_one_number(coefficient)
    named = next((k for k, f in enumerate(above) if not isinstance(f.bases[0], Constant)), len(above))
    above[named:named] = roots  # pi*sqrt(2)
    below += sunk
    if size_above != ONE or not above:
        above.insert(0, Factor((number(size_above),)))
    if size_below != ONE:
        below.insert(0, Factor((number(size_below),)))
    return Quotient(above, below)


def _common_roots(
    coefficient: Scalar, above: list[Factor], below: list[Factor],
    roots_above: dict[Scalar, tuple[Expression, ...]], roots_below: dict[Scalar, tuple[Expression, ...]],
) -> tuple[Scalar, list[Factor], list[Factor]]:  # fmt: skip
    """What is left of the coefficient, and the roots above and below the line; roots of letters are taken out of the factors."""
    roots: list[Factor] = []
    sunk: list[Factor] = []
    for exponent in dict.fromkeys([*roots_above, *roots_below]):
        bases, divisors = roots_above.get(exponent, ()), roots_below.get(exponent, ())
        # a positive number under the root goes with any formula: sqrt(2*g*h)
        letters, under = _letters_under(above, exponent, True) if bases else ((), ())
        size = _cancelling(coefficient, exponent, bases)
        if size is not None and len(bases) == 1 and not (letters or divisors):
            beneath, over = _letters_under(below, exponent)
            if beneath:  # 1/sqrt(2*a)
                coefficient = coefficient * size
                below.append(Factor((*bases, *beneath), exponent, over))
                continue
        elif size is not None:  # sqrt(2)*sqrt(a)/2 is sqrt(a/2)
            coefficient, bases, divisors = coefficient * size, bases[1:], (bases[0], *divisors)
        over_line = (*bases, *letters)
        if over_line:
            roots.append(Factor(over_line, exponent, (*divisors, *under)))
        else:
            sunk.append(Factor(divisors, exponent))
    return coefficient, roots, sunk


def _cancelling(coefficient: Scalar, exponent: Scalar, bases: tuple[Expression, ...]) -> mpq | None:
    """The number under a square root that a divisor of the coefficient cancels: sqrt(2)/2 is 1/sqrt(2)."""
    first = bases[0] if bases else None
    if not isinstance(first, Number) or exponent != HALF or isinstance(coefficient, Gaussian):
        return None
    return None if coefficient.denominator % first.rational else first.rational


def _letters_under(
    factors: list[Factor], exponent: Scalar, over_line: bool = False
) -> tuple[tuple[Expression, ...], tuple[Expression, ...]]:
    """The letters above and below the line under the one root of letters with an exponent, which is taken out of the factors.

    over_line: whether something stands above the line already, so that letters may stand below it alone: sqrt(pi/a).
    """
    found = [f for f in factors if f.exponent == exponent]
    base = found[0].bases[0] if len(found) == 1 else None
    if not isinstance(base, (Name, Product)) and not (over_line and isinstance(base, Power)):
        return (), ()
    above: list[Expression] = []
    below: list[Expression] = []
    for part in factors_in(base):
        whole = isinstance(part, Name) or (isinstance(part, Power) and part.exponent.is_whole)
        if whole and _exponent(part) > 0:
            above.append(part)
        elif whole and _exponent(part) == -1 and isinstance(_base(part), Name):
            below.append(_base(part))
        else:
            return (), ()
    if not (above or over_line) or (isinstance(base, Product) and base.coefficient != ONE):
        return (), ()
    factors.remove(found[0])
    return tuple(reading_order(above)), tuple(below)


def _over_one_number(value: Scalar) -> tuple[Scalar, mpq]:
    """A number as what stands above the line and below it; a sum of a real and an imaginary part stays one."""
    if isinstance(value, Gaussian):
        return (value, ONE) if value.real else (Gaussian(ZERO, mpq(value.imag.numerator)), mpq(value.imag.denominator))
    return mpq(value.numerator), mpq(value.denominator)


def _sorted(factors: list[Expression], sign: int) -> tuple[list[Factor], dict[Scalar, tuple[Expression, ...]]]:
    """Factors with positive exponents, and apart from them what can stand under a common root: numbers (as one) and named constants."""
    rest: list[Factor] = []
    roots: dict[Scalar, list[Expression]] = {}
    for factor in factors:
        if not isinstance(factor, Power):
            rest.append(Factor((factor,)))
        elif not (isinstance(factor.exponent, Number) and factor.exponent.is_rational):
            rest.append(Factor((factor.base,), factor.exponent))
        elif factor.exponent.rational.denominator > 1 and _joins(factor.base):
            roots.setdefault(factor.exponent.rational * sign, []).append(factor.base)
        else:
            rest.append(Factor((factor.base,), factor.exponent.rational * sign))
    return rest, {e: _with_one_number(bases) for e, bases in roots.items()}


def _joins(base: Expression) -> bool:
    return isinstance(base, Constant) or (isinstance(base, Number) and base.is_rational and base.rational > 0)


def _with_one_number(bases: list[Expression]) -> tuple[Expression, ...]:
    numbers = multiply_all([b for b in bases if isinstance(b, Number)])
    rest = [b for b in bases if not isinstance(b, Number)]
    return (numbers, *rest) if numbers is not number(ONE) else tuple(rest)


def relation_parts(node: Relation) -> tuple[Expression, str, Expression]:
    """A relation as (left, sign, right) with a plain number on the right: x > 0 rather than 0 < x, a > pi/4 rather than pi/4 < a."""
    number_left = isinstance(node.left, Number) or (isinstance(node.right, Name) and not names(node.left))
    if number_left and not isinstance(node.right, Number):
        return node.right, {"<": ">", "<=": ">="}.get(node.operator, node.operator), node.left
    return node.left, node.operator, node.right


def sides_without_minus(left: Expression) -> tuple[Expression, Expression] | None:
    """b^2 - 4*a*c, which is compared with zero, as b^2 and 4*a*c; None where it has no terms of both signs."""
    if not isinstance(left, Sum):
        return None
    plus: list[Expression] = []
    minus: list[Expression] = []
    for term, coefficient in [*left.items(), (number(ONE), left.constant)]:
        if isinstance(coefficient, Gaussian):
            return None
        if coefficient:
            (plus if coefficient > 0 else minus).append(scale(term, abs(coefficient)))
    return (total(plus), total(minus)) if plus and minus else None


def split_sign(value: Scalar) -> tuple[bool, Scalar]:
    """Whether a minus stands before a number, and the number without it."""
    size, imag = parts(value)
    negative = bool(size < 0 or (not size and imag < 0))
    return negative, -value if negative else value


def signed(coefficient: Scalar, factors: tuple[Expression, ...]) -> tuple[bool, Scalar, tuple[Expression, ...]]:
    """A product on paper as (minus in front?, coefficient, factors): differences are turned where that takes the minus away."""
    negative, size = split_sign(coefficient)
    turned = list(factors)
    for place, factor in enumerate(factors):
        if isinstance(factor, Sum) and not any(map(_is_positive, (*factor.coefficients, factor.constant))):
            turned[place], negative = distributed(negate(factor)), not negative
    for place, factor in enumerate(turned):
        if negative and isinstance(factor, Sum) and any(_is_positive(-c) for c in (*factor.coefficients, factor.constant)):
            turned[place], negative = distributed(negate(factor)), False
    return negative, size, tuple(turned)


def _is_positive(value: Scalar) -> bool:
    return not isinstance(value, Gaussian) and value > 0


def stands_below(factor: Expression) -> bool:
    """Whether a factor is shown below a fraction line: a power with a negative rational exponent."""
    return isinstance(factor, Power) and factor.exponent.is_rational and factor.exponent.rational < 0
