"""The integral of a function of a tower: its part in the field, its logarithms, and what has no elementary antiderivative, with the reason.

From the highest generator down: Hermite's reduction, the residues, the polynomial part; what is left is an integral one level below.
Source: R. Risch, "The problem of integration in finite terms" (1969); M. Bronstein, "Symbolic Integration I" (2005), chapter 5.
"""

from __future__ import annotations

from dataclasses import dataclass, field

from gmpy2 import mpq

from gelvo.calculus.elementary import polynomials as poly
from gelvo.calculus.elementary.equation import irreducible_factors, solve
from gelvo.calculus.elementary.field import Element
from gelvo.calculus.elementary.polynomials import Poly
from gelvo.calculus.elementary.tower import Tower
from gelvo.deadline import checkpoint
from gelvo.polynomial import sparse


@dataclass(frozen=True)
class Sum:
    """sum of alpha*ln(argument) over the zeros alpha of a polynomial, which are the residues modulo the factor."""

    polynomial: list[Element]  # in alpha, constants, constant term first
    residue: Poly
    factor: Poly
    level: int


@dataclass(frozen=True)
class Left:
    """A part without elementary antiderivative."""

    part: Element
    level: int
    kind: str
    equation: tuple[Element, Element] | None = None  # (f, g): y' + f*y = g has no solution
    factor: Poly | None = None


@dataclass
class Parts:
    """What an integral consists of."""

    rational: Element
    logarithms: list[tuple[Element, Element]] = field(default_factory=list)  # (constant, argument)
    sums: list[Sum] = field(default_factory=list)
    of_variable: Element | None = None  # a rational function of the variable that is still to be integrated
    left: list[Left] = field(default_factory=list)


def integral(tower: Tower, f: Element, lowest: int = 1) -> Parts:
    """The parts of the antiderivative of f, an element of the tower; what is below the lowest level stays to be integrated.

    >>> tower = Tower()
    >>> x = tower.add_primitive(tower.field.one)
    >>> exponential = tower.add_exponential(tower.field.one)
    >>> [left.kind for left in integral(tower, exponential / x).left]
    ['exponential']
    """
    parts = Parts(tower.field.zero)
    for n in range(len(tower.levels) - 1, lowest - 1, -1):
        checkpoint()
        if not f:
            break
        if tower.level_of(f) < n:
            continue
        f = _of_level(tower, n, f, parts)
    parts.of_variable = f
    return parts


def _of_level(tower: Tower, n: int, f: Element, parts: Parts) -> Element:
    """Takes out all that has the generator; gives what is left to be integrated in the field below."""
    top, bottom = tower.parts(f, n)
    level, field_ = tower.levels[n], tower.field
    low = 0
    if level.exponential:
        low = next(k for k, c in enumerate(bottom) if c)
    normal = bottom[low:]
    # top/(t^low*normal) = whole + proper/normal + special/t^low
    whole, rest = poly.divide(top, bottom)
    laurent: dict[int, Element] = {k: c for k, c in enumerate(whole) if c}
    proper = rest
    if low and len(normal) > 1:
        t_low = poly.shift([field_.one], low, field_)
        inverse = poly.inverse_modulo(t_low, normal)
        proper = poly.divide(poly.multiply(rest, inverse), normal)[1]
        rest = poly.divide(poly.subtract(rest, poly.multiply(proper, t_low)), normal)[0]
    if low:
        laurent.update({k - low: c for k, c in enumerate(rest) if c})
        if len(normal) == 1:
            proper = []
    if proper and len(normal) > 1:
        below = _normal_part(tower, n, proper, normal, parts)
        for k, c in below.items():
            laurent[k] = laurent.get(k, field_.zero) + c
    work = _exponentials if level.exponential else _powers
    return work(tower, n, laurent, parts)


def _normal_part(tower: Tower, n: int, top: Poly, bottom: Poly, parts: Parts) -> dict[int, Element]:
    """Hermite's reduction and the residues of a proper fraction; gives what is left as powers of the generator."""
    factors = irreducible_factors(tower, n, bottom)
    by_times: dict[int, Poly] = {}
    for p, k in factors:
        by_times[k] = poly.multiply(by_times[k], p) if k in by_times else p
    field_ = tower.field
    left: Element = field_.zero
    for k in sorted(by_times, reverse=True):
        v = by_times[k]
        rest = poly.divide(bottom, poly.power(v, k, field_))[0]
        if k > 1:
            slope = tower.slope(v, n)
            for j in range(k - 1, 0, -1):
                checkpoint()
                # top/(rest*v^(j+1)) = (B/v^j)' + …  with -j*B*rest*v' = top modulo v
                inverse = poly.inverse_modulo(poly.divide(poly.multiply(rest, slope), v)[1], v)
                B = poly.divide(poly.multiply(poly.divide(top, v)[1], inverse), v)[1]
                B = poly.scale(B, field_.number(mpq(-1, j)))
                parts.rational = parts.rational + tower.element(B, n) / tower.element(poly.power(v, j, field_), n)
                # what remains: (top + j*B*rest*v' - B'*rest*v) / (rest*v^j), over v once more
                taken = poly.scale(poly.multiply(poly.multiply(B, rest), slope), field_.number(j))
                new = poly.divide(poly.add(top, taken), v)[0]
                top = poly.subtract(new, poly.multiply(tower.slope(B, n), rest))
            bottom = poly.multiply(rest, v)
    whole, top = poly.divide(top, bottom)
    result = {k: c for k, c in enumerate(whole) if c}
    for p, _ in factors:
        more = _residues(tower, n, top, bottom, p, parts)
        left = left + more
    if left:
        result[0] = result.get(0, field_.zero) + left
    return result


def _residues(tower: Tower, n: int, top: Poly, bottom: Poly, p: Poly, parts: Parts) -> Element:
    """The logarithms of one simple factor; gives the rest of their derivatives, with the other sign, in the field below."""
    field_ = tower.field
    rest = poly.divide(bottom, p)[0]
    slope = tower.slope(p, n)
    digit = (
        poly.divide(poly.multiply(poly.divide(top, p)[1], poly.inverse_modulo(poly.divide(rest, p)[1], p)), p)[1]
        if len(rest) > 1
        else poly.scale(poly.divide(top, p)[1], rest[0].inverse())
    )
    if not digit:
        return field_.zero
    # digit/p has the residues digit/slope modulo p
    below = poly.divide(slope, p)[1]
    residue = poly.divide(poly.multiply(digit, poly.inverse_modulo(below, p)), p)[1]
    argument = _without_content(tower, n, p)
    if len(residue) == 1 and field_.is_constant(residue[0]):
        parts.logarithms.append((residue[0], argument))
        # digit/p - residue*p'/p is free of the generator in the bottom
        quotient, remainder = poly.divide(poly.subtract(digit, poly.scale(slope, residue[0])), p)
        assert not remainder
        lead = argument / tower.element(p, n)
        more = residue[0] * field_.slope(lead) / lead
        return quotient[0] - more if quotient else -more
    found = _characteristic(tower, n, residue, p)
    if found is None:
        parts.left.append(Left(tower.element(digit, n) / tower.element(p, n), n, "residue", factor=p))
        return field_.zero
    parts.sums.append(Sum(found, residue, p, n))
    # the sum of alpha*g'/g over all roots, less digit/p, is in the field below: from the leading coefficients
    return _rest_of_sum(tower, n, digit, residue, p)


def _without_content(tower: Tower, n: int, p: Poly) -> Element:
    """A multiple of a polynomial without factors from the field below."""
    result = tower.field.one
    for q, k in tower.field.factors(tower.element(p, n).top):
        if sparse.degree(q, tower.levels[n].place) > 0:
            result = result * Element(tower.field, q) ** k
    return result


def _rest_of_sum(tower: Tower, n: int, digit: Poly, residue: Poly, p: Poly) -> Element:
    """digit/p less the sum over the zeros b of p of residue(b)*(t - b)'/(t - b)."""
    field_, level = tower.field, tower.levels[n]
    if not level.exponential:
        return field_.zero  # (t - b)' is free of t: the difference vanishes at infinity and has no poles
    # (t - b)' = eta*t - b' = eta*(t - b) + …: the difference is -eta*sum of residue(b)
    return -(level.rate * _trace(tower, residue, p))


def _trace(tower: Tower, residue: Poly, p: Poly) -> Element:
    """The sum of residue(b) over the zeros b of p."""
    matrix = _multiplication(tower, residue, p)
    return tower.field.total(row[i] for i, row in enumerate(matrix))


def _multiplication(tower: Tower, residue: Poly, p: Poly) -> list[list[Element]]:
    """Row i: the coordinates of t^i*residue modulo p."""
    field_ = tower.field
    rows = []
    current = residue
    for _ in range(len(p) - 1):
        rows.append([current[i] if i < len(current) else field_.zero for i in range(len(p) - 1)])
        current = poly.divide(poly.shift(current, 1, field_), p)[1]
    return rows


def _characteristic(tower: Tower, n: int, residue: Poly, p: Poly) -> list[Element] | None:
    """The polynomial of which the residues are the zeros, where its coefficients are constants (monic); else None."""
    field_ = tower.field
    size = len(p) - 1
    matrix = _multiplication(tower, residue, p)
    # Faddeev and Le Verrier: coefficients from traces of powers
    coefficients = [field_.one]
    current = [[field_.one if i == j else field_.zero for j in range(size)] for i in range(size)]
    for k in range(1, size + 1):
        moved = [
            [
                field_.total(matrix[i][m] * current[m][j] for m in range(size) if matrix[i][m] and current[m][j])
                for j in range(size)
            ]
            for i in range(size)
        ]
        c = field_.total(moved[i][i] for i in range(size)).times(mpq(-1, k))
        if not field_.is_constant(c):
            return None
        coefficients.append(c)
        current = [[moved[i][j] + (c if i == j else field_.zero) for j in range(size)] for i in range(size)]
    return coefficients[::-1]


def _powers(tower: Tower, n: int, powers: dict[int, Element], parts: Parts) -> Element:
    """The polynomial in a primitive, from the highest power down (limited integration of each coefficient)."""
    field_, level = tower.field, tower.levels[n]
    top = [powers.get(k, field_.zero) for k in range(max(powers, default=-1) + 1)]
    while len(top) > 1:
        checkpoint()
        k = len(top) - 1
        chosen = None
        for c, y in solve(tower, n - 1, field_.zero, [top[k], level.rate]):
            if c[0]:
                chosen = c, y
                break
        t = tower.generator(n)
        if chosen is None:
            parts.left.append(Left(top[k] * t**k, n, "primitive", (field_.zero, top[k])))
            top.pop()
            poly.trim(top)
            continue
        (c0, c1), y = chosen
        # top[k] = (y/c0)' - (c1/c0)*t'
        piece = [field_.zero] * k + [y / c0, (-(c1 / c0)).times(mpq(1, k + 1))]
        poly.trim(piece)
        parts.rational = parts.rational + tower.element(piece, n)
        top = poly.subtract(top, tower.slope(piece, n))
        del top[k:]
        poly.trim(top)
    return top[0] if top else field_.zero


def _exponentials(tower: Tower, n: int, powers: dict[int, Element], parts: Parts) -> Element:
    """The powers of an exponential: y' + k*rate*y = coefficient for each."""
    field_, level = tower.field, tower.levels[n]
    t = tower.generator(n)
    for k in sorted(powers):
        if not k or not powers[k]:
            continue
        checkpoint()
        rate = level.rate.times(k)
        chosen = next(((c[0], y) for c, y in solve(tower, n - 1, rate, [powers[k]]) if c[0]), None)
        if chosen is None:
            parts.left.append(Left(powers[k] * t**k, n, "exponential", (rate, powers[k])))
        else:
            parts.rational = parts.rational + chosen[1] / chosen[0] * t**k
    return powers.get(0, field_.zero)
