"""Real and complex roots of polynomials over the integers, each in an interval or box of its own.

Real roots: bisection with Descartes' rule of signs (G. Collins, A. Akritas, "Polynomial real root isolation using Descartes'
rule of signs", 1976). Complex roots: approximations, around which discs are proved to hold exactly one root each (B. Smith,
"Error bounds for zeros of a polynomial based upon Gerschgorin's theorems", 1970).
"""

from __future__ import annotations

from itertools import pairwise
from typing import Any, NamedTuple

import gmpy2
from gmpy2 import mpq, mpz

from gelvo.deadline import checkpoint
from gelvo.polynomial import dense
from gelvo.polynomial.dense import Dense

MOST_BITS = 20_000
MOST_ROUNDS = 60


class IsolatingInterval(NamedTuple):
    """low < root < high, or low = high = root; both ends are rational."""

    low: mpq
    high: mpq


def _sign_changes(a: Dense) -> int:
    signs = [c > 0 for c in a if c]
    return sum(x != y for x, y in pairwise(signs))


def _scaled(a: Dense, k: int) -> Dense:
    """a(2^k x) times a power of two that keeps whole numbers."""
    if k >= 0:
        return [c << (k * i) for i, c in enumerate(a)]
    size = len(a) - 1
    return [c << (-k * (size - i)) for i, c in enumerate(a)]


def _positive_roots(a: Dense) -> list[IsolatingInterval]:
    """Isolating intervals of the positive roots of a square-free polynomial with a constant term."""
    if _sign_changes(a) == 0:
        return []
    k = bound_exponent(a)
    result: list[IsolatingInterval] = []
    work = [(_scaled(a, k), mpz(0), 0)]  # the piece (c/2^h, (c+1)/2^h) of (0, 1), mapped to (0, 1)
    while work:
        checkpoint()
        p, c, h = work.pop()
        if not p[0]:
            result.append(_exactly(mpq(c, mpz(1) << h), k))
            p = p[1:]
        count = _sign_changes(dense.shifted(p[::-1], mpz(1)))
        if count == 0:
            continue
        if count == 1:
            width = mpz(1) << h
            result.append(IsolatingInterval(mpq(c, width) * mpq(2) ** k, mpq(c + 1, width) * mpq(2) ** k))
            continue
        left = _scaled(p, -1)
        right = dense.shifted(left, mpz(1))
        work.append((right, 2 * c + 1, h + 1))
        work.append((left, 2 * c, h + 1))
    return result


def _exactly(x: mpq, k: int) -> IsolatingInterval:
    value = x * mpq(2) ** k
    return IsolatingInterval(value, value)


def bound_exponent(a: Dense) -> int:
    """k with every root smaller than 2^k in size (after J. Lagrange and M. Fujiwara, 1916)."""
    n = len(a) - 1
    top = abs(a[-1]).bit_length() - 1
    k = -(10**9)
    for i in range(1, n + 1):
        c = abs(a[n - i])
        if c:
            k = max(k, -(-(c.bit_length() - top) // i))
    return int(max(k, -(10**6)) + 1) if any(a[:-1]) else 0


def isolate_real(a: Dense) -> list[IsolatingInterval]:
    """Disjoint intervals with rational ends, one for each real root of a square-free polynomial, in ascending order.

    >>> [(str(r.low), str(r.high)) for r in isolate_real([mpz(-2), mpz(0), mpz(1)])]
    [('-4', '0'), ('0', '4')]
    """
    result: list[IsolatingInterval] = []
    if not a[0]:
        result.append(IsolatingInterval(mpq(0), mpq(0)))
        a = a[1:]
    result.extend(_positive_roots(a))
    mirrored = [c if k % 2 == 0 else -c for k, c in enumerate(a)]
    result.extend(IsolatingInterval(-r.high, -r.low) for r in _positive_roots(mirrored))
    return sorted(result)


def refine(a: Dense, root: IsolatingInterval, bits: int) -> IsolatingInterval:  # noqa: C901
    """The interval narrowed to a width of at most 2^-bits: bisection, then steps of regula falsi that double the digits.

    Source of the second part: J. Abbott, "Quadratic interval refinement for real roots" (2014).

    >>> r = refine([mpz(-2), mpz(0), mpz(1)], IsolatingInterval(mpq(1), mpq(2)), 50)
    >>> bool(r.low**2 < 2 < r.high**2) and r.high - r.low <= mpq(1, 2**50)
    True
    """
    low, high = root
    if low == high:
        return root
    target = mpq(1, mpz(1) << bits)
    below = dense.sign_at(a, low)
    if below == 0:  # an end may be another root of the polynomial: step off it
        below = -dense.sign_at(a, high) or _sign_beside(a, low)
    steps = 4
    while high - low > target:
        checkpoint()
        pieces = mpz(1) << steps
        width = (high - low) / pieces
        at_low, at_high = dense.evaluate(a, low), dense.evaluate(a, high)
        guess = None
        if at_low and at_high and steps > 1:
            k = (at_low / (at_low - at_high) * pieces + mpq(1, 2)).__floor__()
            guess = min(max(k, mpz(0)), pieces)
        narrowed = False
        if guess is not None:
            for shift in (0, -1):
                start = low + (guess + shift) * width
                if start < low or start + width > high:
                    continue
                one, two = dense.sign_at(a, start), dense.sign_at(a, start + width)
                if one == 0:
                    return IsolatingInterval(start, start)
                if two == 0:
                    return IsolatingInterval(start + width, start + width)
                if one == below and two == -below:
                    low, high, narrowed = start, start + width, True
                    break
        if narrowed:
            steps = min(steps * 2, 4096)
            continue
        steps = max(1, steps // 2)
        middle = (low + high) / 2
        sign = dense.sign_at(a, middle)
        if sign == 0:
            return IsolatingInterval(middle, middle)
        if sign == below:
            low = middle
        else:
            high = middle
    return IsolatingInterval(low, high)


def _sign_beside(a: Dense, low: mpq) -> int:
    """The sign just above a root."""
    return dense.sign_at(dense.derivative(a), low)


class Disc(NamedTuple):
    """A disc with a rational centre that holds exactly one root; the root is real when `real` is set."""

    real_part: mpq
    imaginary_part: mpq
    radius: mpq
    real: bool


def isolate_complex(a: Dense, bits: int = 30) -> list[Disc]:
    """A disc for each complex root of a square-free polynomial, of radius at most 2^-bits.

    Order: real roots ascending, then complex ones by real part, the negative imaginary part first.

    >>> [(d.real, int(round(d.imaginary_part))) for d in isolate_complex([mpz(1), mpz(0), mpz(1)])]
    [(False, -1), (False, 1)]
    """
    precision = max(2 * bits, 60) + 4 * len(a)
    intervals = isolate_real(a)
    while precision < MOST_BITS:
        discs = _discs(a, precision)
        if discs is not None and all(d.radius <= mpq(1, mpz(1) << bits) for d in discs):
            real = [d for d in discs if d.real]
            if len(real) == len(intervals):
                return _in_order(discs, mpq(1, mpz(1) << bits))
        precision *= 2
    raise ArithmeticError("the complex roots could not be told apart")


def _in_order(discs: list[Disc], width: mpq) -> list[Disc]:
    real = sorted((d for d in discs if d.real), key=lambda d: d.real_part)
    upper = sorted((d for d in discs if not d.real and d.imaginary_part > 0), key=lambda d: d.real_part)
    for i in range(1, len(upper)):  # equal real parts, as far as can be seen, go by the size of the imaginary part
        j = i
        while j and upper[j].real_part - upper[j - 1].real_part <= 2 * width and _higher(upper[j - 1], upper[j]):
            upper[j - 1], upper[j] = upper[j], upper[j - 1]
            j -= 1
    pairs = [pair for d in upper for pair in (d._replace(imaginary_part=-d.imaginary_part), d)]
    return real + pairs


def _higher(one: Disc, other: Disc) -> bool:
    return one.imaginary_part > other.imaginary_part


def _discs(a: Dense, precision: int) -> list[Disc] | None:
    """Discs around approximations x + 1j*y, given as whole multiples of 2^-precision; None where two of them meet."""
    points = _approximations(a, precision)
    if points is None:
        return None
    radii = [_radius(a, points, i, precision) for i in range(len(points))]
    result: list[Disc] = []
    for i, (x, y) in enumerate(points):
        radius = radii[i]
        if radius is None or any(_near(x - u, y - v, radius, radii[j]) for j, (u, v) in enumerate(points[:i])):
            return None
        # only this disc can hold the conjugate of its root when no other disc meets its mirror image
        meets = [j for j, (u, v) in enumerate(points) if _near(x - u, -y - v, radius, radii[j])]
        if len(meets) != 1:
            return None
        unit = mpz(1) << precision
        result.append(Disc(mpq(x, unit), mpq(y, unit), mpq(radius, unit), meets[0] == i))
    return result


def _near(x: mpz, y: mpz, one: mpz, other: mpz | None) -> bool:
    return other is None or x * x + y * y <= (one + other) ** 2


def _radius(a: Dense, points: list[tuple[mpz, mpz]], i: int, precision: int) -> mpz | None:
    """n*|a(z)|/|a_n*product of the distances to the other points|, rounded up, in units of 2^-precision."""
    up, down = (gmpy2.context(precision=precision, round=r) for r in (gmpy2.RoundUp, gmpy2.RoundDown))
    x, y = points[i]
    bottom = down.mul(abs(a[-1]), mpz(1))
    for j, (u, v) in enumerate(points):
        if j != i:
            bottom = down.mul(bottom, down.sqrt((x - u) ** 2 + (y - v) ** 2))
    if not bottom:
        return None
    n = len(points)
    # the distances are in units of 2^-precision
    top = up.mul(up.mul(_size_at(a, x, y, precision), n), up.exp2(precision * n))
    return mpz(up.div(top, bottom).__ceil__()) + 1


def _size_at(a: Dense, x: mpz, y: mpz, precision: int) -> Any:
    """A bound of |a(z)| by Horner's scheme with numbers that are cut off, and what the cuts amount to."""
    bits = 2 * precision + 64
    up = gmpy2.context(precision=64, round=gmpy2.RoundUp)
    real, imaginary, off = mpz(0), mpz(0), up.plus(gmpy2.mpfr(0))
    size = up.add(up.div(up.sqrt(x * x + y * y), up.exp2(precision)), up.exp2(-60))
    for c in reversed(a):
        real, imaginary = (((real * x - imaginary * y) >> precision) + (c << bits), (real * y + imaginary * x) >> precision)
        off = up.add(up.mul(off, size), 2)
    return up.div(up.add(up.sqrt(real * real + imaginary * imaginary), off), up.exp2(bits))


def _approximations(a: Dense, precision: int) -> list[tuple[mpz, mpz]] | None:
    """All roots at once by the iteration of O. Aberth (1973)."""
    starts = _starts(a)
    with gmpy2.context(gmpy2.context(), precision=2 * precision):
        points = [gmpy2.mpc(z) for z in starts]
        whole, slope = ([gmpy2.mpfr(c) for c in reversed(p)] for p in (a, dense.derivative(a)))
        small = gmpy2.exp2(-precision - 8)
        for _ in range(MOST_ROUNDS):
            checkpoint()
            moved = False
            for i, z in enumerate(points):
                value, change = _horner(whole, z), _horner(slope, z)
                if not value:
                    continue
                pull = sum((1 / (z - w) for j, w in enumerate(points) if j != i and w != z), gmpy2.mpc(0))
                below = change - value * pull
                if not below:
                    return None
                step = value / below
                points[i] = z - step
                moved = moved or abs(step) > small * max(abs(z), small)
            if not moved:
                break
        unit = gmpy2.exp2(precision)
        return [(mpz(gmpy2.rint(z.real * unit)), mpz(gmpy2.rint(z.imag * unit))) for z in points]


def _starts(a: Dense) -> list[complex]:
    """The eigenvalues of the companion matrix in machine numbers; points on a circle where these are not all found."""
    import numpy as np

    shift = max(0, max(abs(c) for c in a).bit_length() - 900)
    with np.errstate(all="ignore"):
        try:
            found = np.roots([float(c >> shift) for c in reversed(a)])
        except np.linalg.LinAlgError:
            found = np.array([])
    if len(found) == len(a) - 1 and np.all(np.isfinite(found)):
        return [complex(z) for z in found]
    return [complex(1.5 * np.exp(2j * np.pi * (k + 0.3) / (len(a) - 1))) for k in range(len(a) - 1)]


def _horner(coefficients: list[Any], z: Any) -> Any:
    value = gmpy2.mpc(0)
    for c in coefficients:
        value = value * z + c
    return value
