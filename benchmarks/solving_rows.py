"""Measured rows of solving: networks, ladders, linear systems, polynomials, certified zeros; in seconds of the yardstick.

Caches are those of one process: each run has letters or numbers of its own.
"""

from __future__ import annotations

from collections.abc import Callable
from itertools import count
from math import log
from random import Random

from timing import paired, seconds
from yardstick import yardstick

import gelvo

_runs = count(1)


def in_yardsticks(task: Callable[[], object], repeats: int = 3) -> float:
    return paired(task, yardstick, repeats)


def network() -> None:
    """Six equations of a two-stage filter for its transfer function."""
    k = next(_runs)
    u, y = f"U_{k}", f"Y_{k}"
    equations = [
        f"{u} - R_1*i_1 - V_1 = 0", "i_1 = i_2 + i_3", "V_1 = i_2/(s*C_1)", "V_1 - V_2 = R_2*i_3", "V_2 = i_3/(s*C_2)", f"{y} = V_2/{u}",
    ]  # fmt: skip
    found = gelvo.solve(equations, ["i_1", "i_2", "i_3", "V_1", "V_2", y])
    assert len(found) == 1


def ladder(sections: int) -> None:
    """A chain of equal sections R, C: the voltage at its end, multiplied out."""
    r = f"R_{next(_runs)}"
    equations = []
    for k in range(1, sections + 1):
        before = "U" if k == 1 else f"V_{k - 1}"
        after = f"(V_{k} - V_{k + 1})/{r}" if k < sections else "0"
        equations.append(f"({before} - V_{k})/{r} = s*C*V_{k} + {after}")
    gelvo.solve(equations, [f"V_{k}" for k in range(1, sections + 1)])


def shared_ladder() -> None:
    """A chain of 200 sections, its fractions not multiplied out."""
    r = f"R_{next(_runs)}"
    before = ["U", *(f"V_{k}" for k in range(1, 200))]
    after = [*(f"(V_{k} - V_{k + 1})/{r}" for k in range(1, 200)), "0"]
    equations = [f"({b} - V_{k})/{r} = s*C*V_{k} + {a}" for k, (b, a) in enumerate(zip(before, after, strict=True), 1)]
    gelvo.solve(equations, [f"V_{k}" for k in range(1, 201)])


def linear(n: int) -> Callable[[], object]:
    """n equations with whole numbers of 64 bits, read beforehand."""
    random = Random(next(_runs))
    names = gelvo.variables(*(f"x_{k}" for k in range(n)))
    equations = [
        gelvo.equation(gelvo.total([random.randrange(-(2**63), 2**63) * x for x in names]), random.randrange(-(2**63), 2**63))
        for _ in range(n)
    ]
    return lambda: gelvo.solve(equations, list(names))


def growth_of_linear() -> float:
    times = [seconds(linear(n)) for n in (25, 200)]
    return log(times[1] / times[0]) / log(8)


def all_roots(degree: int) -> None:
    random = Random(next(_runs))
    x = gelvo.variable("x")
    found = gelvo.solve(gelvo.total([random.randrange(-(2**31), 2**31) * x**k for k in range(degree + 1)]), x, over="complex")
    assert len(found) == degree and all(gelvo.value(s[x], 15) for s in found)


def zeros_of_bessel() -> None:
    shift = next(_runs)
    assert len(gelvo.roots_between("besselj(0, x)", "x", gelvo.formula(f"{shift}/1000000"), 1000)) == 318


def katsura() -> None:
    names = [f"u_{next(_runs)}_{k}" for k in range(5)]
    a, b, c, d, e = names
    equations = [
        f"{a} + 2*{b} + 2*{c} + 2*{d} + 2*{e} = 1", f"{a}^2 + 2*{b}^2 + 2*{c}^2 + 2*{d}^2 + 2*{e}^2 = {a}",
        f"2*{a}*{b} + 2*{b}*{c} + 2*{c}*{d} + 2*{d}*{e} = {b}", f"{b}^2 + 2*{a}*{c} + 2*{b}*{d} + 2*{c}*{e} = {c}",
        f"2*{b}*{c} + 2*{a}*{d} + 2*{b}*{e} = {d}",
    ]  # fmt: skip
    found = gelvo.solve(equations, names)
    assert len(found) == 12 and all(gelvo.value(v, 30) for s in found for v in s.values())


def linear_hundred() -> float:
    tasks = [linear(100) for _ in range(4)]
    return in_yardsticks(lambda: tasks.pop()())


ROWS = [
    ("six network equations for one transfer function", lambda: in_yardsticks(network), 0.15, "s"),
    ("a ladder of 30 sections, multiplied out", lambda: in_yardsticks(lambda: ladder(30), 1), 5.0, "s"),
    ("a ladder of 200 sections, its parts shared", lambda: in_yardsticks(shared_ladder), 1.0, "s"),
    ("100 linear equations with 64-bit numbers", linear_hundred, 1.0, "s"),
    ("growth of those from 25 to 200", growth_of_linear, 3.7, "power"),
    ("all complex roots of degree 100, 15 digits", lambda: in_yardsticks(lambda: all_roots(100)), 2.0, "s"),
    ("the 318 zeros of J_0 up to 1000", lambda: in_yardsticks(zeros_of_bessel), 2.0, "s"),
    ("katsura-4, all real solutions, 30 digits", lambda: in_yardsticks(katsura), 2.0, "s"),
]

if __name__ == "__main__":
    for title, work, bar, unit in ROWS:
        print(f"{title:55} {work():8.3f} {unit}   bar {bar}", flush=True)
