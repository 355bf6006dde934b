"""Large linear systems with letters: the values share their parts, and agree with numbers from elsewhere."""

import time

import numpy
import pytest

import gelvo
from gelvo.checking.solutions import check_shared


def ladder(sections):
    """A chain of equal sections R, C, driven by U, as equations and as a numeric matrix for R = 2, s*C = 0.03, U = 1."""
    equations = []
    matrix, right = numpy.zeros((sections, sections)), numpy.zeros(sections)
    for k in range(1, sections + 1):
        before, after = "U" if k == 1 else f"V_{k - 1}", f"(V_{k} - V_{k + 1})/R" if k < sections else "0"
        equations.append(f"({before} - V_{k})/R = s*C*V_{k} + {after}")
        matrix[k - 1, k - 1] = -0.5 - 0.03 - 0.5 * (k < sections)
        for other in (k - 2, k):
            if 0 <= other < sections:
                matrix[k - 1, other] = 0.5
    right[0] = -0.5
    return equations, [f"V_{k}" for k in range(1, sections + 1)], numpy.linalg.solve(matrix, right)


def test_a_ladder_of_two_hundred_sections():
    equations, unknowns, numbers = ladder(200)
    start = time.process_time()
    found = gelvo.solve(equations, unknowns)
    assert time.process_time() - start < 3
    assert found.complete and len(found) == 1 and "shared" in found.road and str(found.conditions[0]) == "R != 0"
    assert found.verdict == "supported"
    at = {"R": 2, "C": 3, "s": "1/100", "U": 1}
    for k in (1, 100, 200):
        assert float(gelvo.substitute(found[0][f"V_{k}"], at)) == pytest.approx(numbers[k - 1], rel=1e-9)


def test_wrong_values_are_refuted():
    equations, unknowns, _ = ladder(60)
    found = gelvo.solve(equations, unknowns)
    values = dict(found[0])
    first = next(iter(values))
    letters = [gelvo.variable(n) for n in ("R", "C", "s", "U")]
    assert check_shared(found.equations, values, letters).verdict == "supported"
    assert check_shared(found.equations, {**values, first: values[first] + 1}, letters).verdict == "refuted"


def test_a_large_system_without_a_certain_pivot_is_no_ladder():
    equations, unknowns, _ = ladder(60)
    with pytest.raises(gelvo.GelvoError), gelvo.time_limit(2):
        gelvo.solve([equations[1], *equations[1:]], unknowns)
