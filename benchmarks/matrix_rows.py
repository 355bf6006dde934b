"""Measured rows of matrices: numbers and letters in the ring of their entries; in seconds of the yardstick."""

from __future__ import annotations

from collections.abc import Callable
from itertools import count
from math import log
from random import Random

import gmpy2
import numpy
from gmpy2 import mpq, mpz
from solving_rows import in_yardsticks
from timing import paired, seconds

import gelvo
from gelvo.polynomial import sparse
from gelvo.polynomial.determinant import minors

_runs = count(1)


def numbers(n: int, bits: int) -> gelvo.Matrix:
    random = Random(next(_runs))
    return gelvo.from_function(n, n, lambda i, j: random.randrange(-(2**bits), 2**bits))


def letters(n: int, band: int = 99) -> gelvo.Matrix:
    run = next(_runs)
    return gelvo.from_function(n, n, lambda i, j: gelvo.variable(f"a_{run}_{i}_{j}") if abs(i - j) <= band else 0)


def of(make: Callable[[], gelvo.Matrix], work: Callable[[gelvo.Matrix], object]) -> float:
    """Work on a matrix that is made anew for each run."""
    return in_yardsticks(lambda: work(make()))


def formulas() -> gelvo.Matrix:
    run = next(_runs)
    return gelvo.from_function(5, 5, lambda i, j: gelvo.formula(f"sin(x_{run}_{i}) + {j + 1}*cos(y)^{j} + exp(z*{i * j % 3})"))


def hundred(m: gelvo.Matrix) -> gelvo.Matrix:
    return m.solve(gelvo.column(range(100)))


def growth_of_determinants() -> float:
    times = [seconds(numbers(n, 10).determinant) for n in (75, 150)]
    return log(times[1] / times[0]) / log(2)


def hilbert() -> gelvo.Matrix:
    return gelvo.from_function(50, 50, lambda i, j: gelvo.formula(f"1/{i + j + 1}"))


def plain(rows: list[list[mpz]]) -> list[list[mpq]]:
    """Elimination without fractions (E. Bareiss, 1968), written for this alone; what stands to the right is solved for."""
    work, previous, n = [list(r) for r in rows], mpz(1), len(rows)
    for k in range(n - 1):
        lead, pivot_row = work[k][k], work[k]
        for i in range(k + 1, n):
            factor = work[i][k]
            work[i] = [gmpy2.divexact(lead * c - factor * d, previous) for c, d in zip(work[i], pivot_row, strict=True)]
        previous = lead
    found: list[list[mpz]] = [[]] * n
    for k in range(n - 1, -1, -1):
        rest = [work[-1][n - 1] * c for c in work[k][n:]]
        for j in range(k + 1, n):
            rest = [c - work[k][j] * d for c, d in zip(rest, found[j], strict=True)]
        found[k] = [gmpy2.divexact(c, work[k][k]) for c in rest]
    return [[mpq(c, work[-1][n - 1]) for c in row] for row in found]


def whole(m: gelvo.Matrix) -> list[list[mpz]]:
    return [[mpz(int(e)) for e in row] for row in m.entries]


def against_plain(work: Callable[[gelvo.Matrix, int], object], right: Callable[[int], int]) -> float:
    """The worst ratio of sizes from 20 to 200 to plain elimination with so many right sides."""
    found = []
    for n in (20, 60, 120, 200):
        m = numbers(n, 10)
        wide = [[*row, *[mpz((i * j) % 7 + (i == j)) for j in range(right(n))]] for i, row in enumerate(whole(m))]
        if n == 200 and right(n) > 1:
            continue  # a plain inverse of 200 takes minutes
        found.append(paired(lambda m=m, n=n: work(m, n), lambda wide=wide: plain(wide), 5 if n < 100 else 1))
    return max(found)


def characteristic() -> float:
    m = numbers(40, 10)
    x = gelvo.variable("x")
    rows = whole(m)
    return paired(lambda: m.characteristic_polynomial(x), lambda: [plain(rows) for _ in range(41)], 3)


def powers() -> float:
    m = gelvo.matrix("[1, 2, 0; 3, -1, 1; 2, 1, 1]")
    rows = numpy.array(whole(m), dtype=object)

    def squared() -> object:
        found, square, rest = numpy.eye(3, dtype=object), rows, 10_000
        while rest:
            if rest & 1:
                found = found @ square
            rest >>= 1
            square = square @ square if rest else square
        return found

    return paired(lambda: m**10_000, squared, 5)


def six_letters() -> float:
    m = letters(6)
    place = {e: k for k, e in enumerate(m.flat())}
    rows = [[sparse.variable(place[e]) for e in row] for row in m.entries]
    return paired(m.determinant, lambda: minors(rows), 5)


def ring() -> gelvo.Matrix:
    e, k = (gelvo.variable(f"{n}_{next(_runs)}") for n in "ek")
    return gelvo.from_function(8, 8, lambda i, j: e if i == j else -k if (i - j) % 8 in (1, 7) else 0)


def moved(m: gelvo.Matrix) -> gelvo.Matrix:
    """The matrix with a number of its own added, so that nothing of it is known from before."""
    return m + gelvo.identity(m.shape[0]) * next(_runs)


def rosser() -> gelvo.Matrix:
    return moved(gelvo.matrix(ROSSER))


def frank() -> gelvo.Matrix:
    return moved(gelvo.from_function(8, 8, lambda i, j: 0 if i - j > 1 else 8 - max(i, j)))


def spectrum(m: gelvo.Matrix) -> object:
    return m.eigenvalues(), m.eigenvectors()


def defective() -> gelvo.Matrix:
    return moved(
        gelvo.matrix(
            "[2, 1, 0, 0, 1, 0; 0, 2, 1, 0, 0, 1/2; 0, 0, 2, 0, 0, 0; 1, 0, 0, -1, 1/3, 0; 0, 0, 1, 0, 3/2, 1; 0, 0, 0, 0, 0, 3/2]"
        )
    )


def with_values(m: gelvo.Matrix) -> object:
    return gelvo.numeric_function(m.exponential("t"), ["t"])(numpy.linspace(0, 1, 1000))


ROSSER = (
    "[611, 196, -192, 407, -8, -52, -49, 29; 196, 899, 113, -192, -71, -43, -8, -44; -192, 113, 899, 196, 61, 49, 8, 52; "
    "407, -192, 196, 611, 8, 44, 59, -23; -8, -71, 61, 8, 411, -599, 208, 208; -52, -43, 49, 44, -599, 411, 208, 208; "
    "-49, -8, 8, 59, 208, 208, 99, -911; 29, -44, 52, -23, 208, 208, -911, 99]"
)
ROWS: list[tuple[str, Callable[[], float], float, str]] = [
    ("determinant of 150 x 150 numbers of 10 bits", lambda: of(lambda: numbers(150, 10), lambda m: m.determinant()), 1.5, "s"),
    ("growth of determinants from 75 to 150", growth_of_determinants, 3.8, "power"),
    ("inverse of the Hilbert matrix of 50", lambda: of(hilbert, lambda m: m.inverse()), 0.5, "s"),
    ("100 x 100 with 64-bit numbers, solved", lambda: of(lambda: numbers(100, 64), hundred), 1.0, "s"),
    ("determinant of 7 x 7 letters", lambda: of(lambda: letters(7), lambda m: m.determinant()), 2.0, "s"),
    ("inverse of 4 x 4 letters", lambda: of(lambda: letters(4), lambda m: m.inverse()), 0.2, "s"),
    ("determinant of 12 x 12 letters in three bands", lambda: of(lambda: letters(12, 1), lambda m: m.determinant()), 0.2, "s"),
    ("determinant of 5 x 5 formulas", lambda: of(formulas, lambda m: m.determinant()), 0.3, "s"),
    (
        "determinants of 20 to 200 against plain elimination",
        lambda: against_plain(lambda m, n: m.determinant(), lambda n: 0),
        2.0,
        "x",
    ),
    (
        "equations of 20 to 200 against plain elimination",
        lambda: against_plain(lambda m, n: m.solve(gelvo.column(range(n))), lambda n: 1),
        2.0,
        "x",
    ),
    ("inverses of 20 to 120 against plain elimination", lambda: against_plain(lambda m, n: m.inverse(), lambda n: n), 2.0, "x"),
    ("determinant of 6 x 6 letters against its minors alone", six_letters, 3.0, "x"),
    ("characteristic polynomial of 40 against 41 determinants", characteristic, 1.5, "x"),
    ("A^10000 of 3 x 3 against squaring alone", powers, 2.0, "x"),
    ("spectrum of a ring of 8 with letters", lambda: of(ring, spectrum), 1.0, "s"),
    ("spectrum of Rosser's matrix", lambda: of(rosser, spectrum), 1.0, "s"),
    ("spectrum of Frank's matrix of 8", lambda: of(frank, spectrum), 1.0, "s"),
    ("exponential of 6 x 6 with a chain", lambda: of(defective, lambda m: m.exponential("t")), 0.5, "s"),
    ("exponential of 6 x 6 with 1000 values", lambda: of(lambda: numbers(6, 3), with_values), 2.0, "s"),
]

if __name__ == "__main__":
    for title, work, bar, unit in ROWS:
        print(f"{title:55} {work():8.3f} {unit}   bar {bar}", flush=True)
