"""The yardstick second: a program whose running time is the unit of times on machines that differ.

`measure(task)` runs the yardstick and the task in turn and returns the median of task time / yardstick time.
"""

import statistics
import time

import gmpy2


def yardstick():
    table = {}
    for i in range(320_000):
        key = (i * 7919 % 5003, i * 104729 % 211)
        table[key] = table.get(key, 0) + i
    total = 0
    for key, count in sorted(table.items()):
        total += key[0] * count - key[1]
    a = gmpy2.mpz(3) ** 1_200_000 + total
    b = gmpy2.mpz(5) ** 900_000 - total
    return gmpy2.bit_length(a * b)


def _seconds(task):
    start = time.perf_counter()
    task()
    return time.perf_counter() - start


def measure(task, repeats=5):
    """Median over `repeats` pairs of (time of task) / (time of yardstick)."""
    yardstick()
    return statistics.median(_seconds(task) / _seconds(yardstick) for _ in range(repeats))


if __name__ == "__main__":
    print(f"{min(_seconds(yardstick) for _ in range(5)):.3f} s for one yardstick second on this machine")
