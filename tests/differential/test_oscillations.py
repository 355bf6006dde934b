"""Coupled oscillators: sums of normal modes, proved, and held against a numeric integration that shares nothing with them."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.integrate import solve_ivp

import gelvo

UNIT = {"m": 2.0, "M": 4.0, "k": 3.0, "q": 1.0, "a": 1.5, "v": 0.5}
POSITIVE = ["m > 0", "M > 0", "k > 0", "q > 0"]


def chain(n: int, last: str) -> list[list[str]]:
    """The stiffness of masses in a row between springs; the last one is held by a spring or free."""
    middle = [
        [("2*k" if i < n - 1 else last) if i == j else "-k" if abs(i - j) == 1 else "0" for j in range(n)] for i in range(n)
    ]
    return middle


def masses(*entries: str) -> list[list[str]]:
    return [[entries[i] if i == j else "0" for j in range(len(entries))] for i in range(len(entries))]


SYSTEMS = [
    ("two alike with a weak spring", masses("m", "m"), [["k + q", "-q"], ["-q", "k + q"]], ["a", "0"], ["0", "0"]),
    ("three, free", masses("m", "M", "m"), [["k", "-k", "0"], ["-k", "2*k", "-k"], ["0", "-k", "k"]], ["a", "0", "-a"], ["0", "v", "0"]),
    ("two pendulums", [["M + m", "m"], ["m", "m"]], [["2*k", "0"], ["0", "k"]], ["a", "0"], ["0", "0"]),
    ("one that runs away", [["2", "1"], ["1", "1"]], [["3", "0"], ["0", "-1"]], ["1", "0"], ["0", "0"]),
    ("a ring", masses("1", "1", "1"), [["2", "-1", "-1"], ["-1", "2", "-1"], ["-1", "-1", "2"]], ["1", "0", "0"], ["0", "0", "3"]),
    ("not symmetric", masses("1", "1"), [["2", "-3"], ["-1", "4"]], ["1", "0"], ["0", "2"]),
    ("one shape too few", masses("1", "1"), [["2", "0"], ["-1", "2"]], ["1", "0"], ["0", "2"]),
    ("four between walls", masses(*"mmmm"), chain(4, "2*k"), ["a", "0", "0", "0"], ["0", "0", "v", "0"]),
    ("six between walls", masses(*"mmmmmm"), chain(6, "2*k"), ["a"] + ["0"] * 5, ["0"] * 6),
    ("six, the last one free", masses(*"mmmmmm"), chain(6, "k"), ["0"] * 6, ["0"] * 5 + ["v"]),
]  # fmt: skip


def _written(mass: list[list[str]], stiffness: list[list[str]]) -> list[str]:
    n = len(mass)
    return [
        " + ".join([f"({mass[i][j]})*x_{j + 1}'' + ({stiffness[i][j]})*x_{j + 1}" for j in range(n)]) + " = 0" for i in range(n)
    ]


def _number(text: str) -> float:
    return float(eval(text, {}, UNIT))


@pytest.mark.parametrize(("title", "mass", "stiffness", "place", "speed"), SYSTEMS, ids=[s[0] for s in SYSTEMS])
def test_motion_from_a_start(title: str, mass: list, stiffness: list, place: list[str], speed: list[str]) -> None:
    n = len(mass)
    start = [f"x_{i + 1}(0) = {p}" for i, p in enumerate(place)] + [f"x_{i + 1}'(0) = {v}" for i, v in enumerate(speed)]
    found = gelvo.solve(_written(mass, stiffness), [f"x_{i + 1}(t)" for i in range(n)], given=POSITIVE + start)
    assert found.verdict == "proved" and not found.constants
    inverse = np.linalg.inv([[_number(e) for e in row] for row in mass]) @ [[_number(e) for e in row] for row in stiffness]
    y = solve_ivp(
        lambda t, y: np.concatenate([y[n:], -inverse @ y[:n]]),
        (0, 2),
        [_number(e) for e in place + speed],
        rtol=1e-11,
        atol=1e-12,
    ).y[:n, -1]
    numeric = [float(gelvo.value(gelvo.substitute(v, {**UNIT, "t": 2}), 12)) for v in found[0].values()]
    assert np.allclose(numeric, y, atol=1e-7)


def test_all_motions_have_two_constants_for_each_mode() -> None:
    n = 6
    found = gelvo.solve(_written(masses(*"mmmmmm"), chain(6, "2*k")), [f"x_{i + 1}(t)" for i in range(n)], given=POSITIVE)
    assert found.verdict == "proved" and len(found.constants) == 2 * n
    assert "sin(2*sqrt(k/m)*t*sin(pi/7))" in str(found)


@pytest.mark.parametrize(("title", "mass", "stiffness", "place", "speed"), SYSTEMS[:5], ids=[s[0] for s in SYSTEMS[:5]])
def test_amplitudes_of_a_start_add_up_to_it(title: str, mass: list, stiffness: list, place: list[str], speed: list[str]) -> None:
    text = [f"[{'; '.join(', '.join(row) for row in m)}]" for m in (mass, stiffness)]
    found = gelvo.normal_modes(*[gelvo.matrix(t) for t in text], given=POSITIVE)
    for wanted, side in ((place, 0), (speed, 1)):
        pairs = found.amplitudes(place, speed)
        shares = [
            shape * (pair[side] if side == 0 or w == 0 else pair[side] * w) for pair, (w, shape) in zip(pairs, found, strict=True)
        ]
        whole = sum(shares[1:], shares[0])
        assert all(gelvo.equal(a, b, given=POSITIVE) for a, b in zip(whole.flat(), wanted, strict=True))
    push = found.participation([1] * len(mass))
    assert all(
        gelvo.equal(e, 1, given=POSITIVE)
        for e in sum((s * p for p, (_, s) in zip(push, found, strict=True)), found[0][1] * 0).flat()
    )
    with pytest.raises(gelvo.DomainError, match="entries are needed"):
        found.participation([1])
