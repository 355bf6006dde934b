"""Measured rows of matrices: numbers and letters in the ring of their entries; in seconds of the yardstick."""

from __future__ import annotations

from collections.abc import Callable
from itertools import count
from math import log
from random import Random

from solving_rows import in_yardsticks
from timing import seconds

import gelvo

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


ROWS: list[tuple[str, Callable[[], float], float, str]] = [
    ("determinant of 150 x 150 numbers of 10 bits", lambda: of(lambda: numbers(150, 10), lambda m: m.determinant()), 1.5, "s"),
    ("growth of determinants from 75 to 150", growth_of_determinants, 3.8, "power"),
    ("inverse of the Hilbert matrix of 50", lambda: of(hilbert, lambda m: m.inverse()), 0.5, "s"),
    ("100 x 100 with 64-bit numbers, solved", lambda: of(lambda: numbers(100, 64), hundred), 1.0, "s"),
    ("determinant of 7 x 7 letters", lambda: of(lambda: letters(7), lambda m: m.determinant()), 2.0, "s"),
    ("inverse of 4 x 4 letters", lambda: of(lambda: letters(4), lambda m: m.inverse()), 0.2, "s"),
    ("determinant of 12 x 12 letters in three bands", lambda: of(lambda: letters(12, 1), lambda m: m.determinant()), 0.2, "s"),
    ("determinant of 5 x 5 formulas", lambda: of(formulas, lambda m: m.determinant()), 0.3, "s"),
]

if __name__ == "__main__":
    for title, work, bar, unit in ROWS:
        print(f"{title:55} {work():8.3f} {unit}   bar {bar}", flush=True)
