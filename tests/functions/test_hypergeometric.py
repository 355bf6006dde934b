"""Hypergeometric and Airy functions: values, slopes, polynomials, poles, recurrences, code; held against another library."""

from __future__ import annotations

from random import Random

import mpmath
import pytest
from mpmath import mp

import gelvo

KINDS = {"hyp0f1": (1, mpmath.hyp0f1), "hyp1f1": (2, mpmath.hyp1f1), "hyp2f1": (3, mpmath.hyp2f1)}


def drawn(kind, seed):
    random = Random(f"{kind}{seed}")
    numbers = [f"{random.randint(-7, 7)}/{random.choice((2, 3, 5))}" for _ in range(KINDS[kind][0] - 1)]
    lower = f"{random.randint(1, 9)}/{random.choice((2, 3, 7))}"
    return [*numbers, lower], random.choice(("-7/3", "-1/2", "1/5", "2/3", "9/10"))


def exact(text):
    top, _, bottom = text.partition("/")
    return mp.mpf(int(top)) / int(bottom or 1)


@pytest.mark.parametrize("seed", range(8))
@pytest.mark.parametrize("kind", KINDS)
def test_values_and_slopes(kind, seed):
    parameters, place = drawn(kind, seed)
    reference = KINDS[kind][1]
    with mp.workdps(30):
        wanted = reference(*map(exact, parameters), exact(place))
        slope = mp.diff(lambda x: reference(*map(exact, parameters), x), exact(place))
        formula = f"{kind}({', '.join(parameters)}, x)"
        told = gelvo.value(gelvo.substitute(gelvo.formula(formula), {"x": place}), 18)
        told_slope = gelvo.value(gelvo.substitute(gelvo.differentiate(formula, "x"), {"x": place}), 15)
        assert abs(mp.mpf(str(told)) - wanted) < 1e-16 * (1 + abs(wanted))
        assert abs(mp.mpf(str(told_slope)) - slope) < 1e-12 * (1 + abs(slope))


EXACT = [
    ("hyp2f1(-2, 3, 1/2, x)", "1 - 12*x + 16*x^2"),
    ("hyp1f1(-1, b, x)", "1 - x/b"),
    ("hyp2f1(a, b, c, 0)", "1"),
    ("hyp1f1(0, b, x)", "1"),
    ("hyp0f1(1/3, 0)", "1"),
]


@pytest.mark.parametrize(("text", "value"), EXACT, ids=[e[0] for e in EXACT])
def test_series_that_end_are_written_out(text, value):
    assert gelvo.equal(gelvo.formula(text), value)


@pytest.mark.parametrize("text", ["hyp2f1(1, 2, -1, x)", "hyp1f1(a, 0, x)", "hyp0f1(-3, x)"])
def test_a_lower_parameter_at_a_pole_is_refused(text):
    with pytest.raises(gelvo.FormulaError, match="it is a pole"):
        gelvo.formula(text)


@pytest.mark.parametrize("text", ["hyp2f1(a, b, c, x)", "hyp1f1(a, b, x)"])
def test_slopes_by_a_parameter_are_refused_with_a_reason(text):
    with pytest.raises(gelvo.DomainError, match="no closed form"):
        gelvo.differentiate(text, "a")


def test_code_runs_and_other_languages_say_no():
    names = [
        "airyai(x)",
        "airybi_prime(x)",
        "hyp2f1(1/2, 1/3, 2/3, x/5)",
        "hyp1f1(1/2, 2, x)",
        "hyp0f1(3/2, x)",
        "ellipf(x, 1/3)",
    ]
    with mp.workdps(20):
        x = mp.mpf("0.8")
        wanted = [
            mp.airyai(x),
            mp.airybi(x, derivative=1),
            mp.hyp2f1(0.5, mp.mpf(1) / 3, mp.mpf(2) / 3, x / 5),
            mp.hyp1f1(0.5, 2, x),
        ]
        wanted += [mp.hyp0f1(1.5, x), mp.ellipf(x, mp.mpf(1) / 3)]
    for text, right in zip(names, wanted, strict=True):
        assert gelvo.numeric_function(text, ["x"])(0.8) == pytest.approx(float(right), rel=1e-12)
    with pytest.raises(gelvo.ExportError):
        gelvo.export_code("airyai(x)", ["x"], "c")
