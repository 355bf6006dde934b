"""Bounds that are proved: no point is worse, where no bound can be had none is claimed, and the head says which it is."""

from __future__ import annotations

import math
from random import Random

import mpmath
import numpy
import pytest

import gelvo

# formula, ranges, whether a bound is found; the value by numbers that share nothing with the library
ROWS = [
    ("x^2 - y^2", {"x": (-1e10, 1e10), "y": (-1e10, 1e10)}, lambda x, y: x**2 - y**2),
    ("b^2 - 4*a*c", dict.fromkeys("abc", (-9, 9)), lambda a, b, c: b**2 - 4 * a * c),
    ("1/(x + 1) - 1/x", {"x": (1, 1e100)}, lambda x: 1 / (x + 1) - 1 / x),
    ("sqrt(1 + x) - 1", {"x": (-1, 1e10)}, lambda x: mpmath.sqrt(1 + x) - 1),
    ("1/sqrt(1 - b^2) - 1", {"b": (-0.99, 0.99)}, lambda b: 1 / mpmath.sqrt(1 - b**2) - 1),
    ("exp(x) - 2 + exp(-x)", {"x": (-20, 20)}, lambda x: mpmath.exp(x) - 2 + mpmath.exp(-x)),
    ("1 - cos(x)", {"x": (-3, 3)}, lambda x: 1 - mpmath.cos(x)),
    ("a*exp(-c*t)*sqrt(1 + t)", {"a": (1, 5), "c": (0.1, 1), "t": (0, 9)}, lambda a, c, t: a * mpmath.exp(-c * t) * mpmath.sqrt(1 + t)),
]  # fmt: skip


@pytest.mark.parametrize(("formula", "ranges", "meant"), ROWS, ids=[r[0] for r in ROWS])
def test_no_point_is_worse_than_a_proved_bound(formula, ranges, meant, tmp_path, monkeypatch):
    bundle = gelvo.export_code(formula, list(ranges), "numpy", "bounded", ranges=ranges)
    known = bundle.digits["bounded"]
    assert math.isfinite(known.proved) and known.proved >= known.after
    assert "everywhere in the ranges (proved)" in " ".join(bundle.files["bounded.py"].split())
    space: dict[str, object] = {}
    exec(bundle.files["bounded.py"], space)
    random = Random(7)
    monkeypatch.setattr(mpmath.mp, "prec", 1200)
    for _ in range(400):
        point = [
            random.choice(
                [random.uniform(a, b), a + (b - a) * random.random() ** 40, (a + b) / 2 + (b - a) * 1e-12 * random.random()]
            )
            for a, b in ranges.values()
        ]
        right = meant(*[mpmath.mpf(v) for v in point])
        found = float(space["bounded"](*point))
        assert right == 0 or abs(found - right) <= known.proved * math.ulp(abs(float(right))), (point, found, right)


@pytest.mark.parametrize(
    ("formula", "ranges", "why"),
    [
        ("x + y", {"x": (-1, 1), "y": (-1, 1)}, None),  # one rounding of exact numbers
        ("x + y + z", {"x": (-1, 1), "y": (-1, 1), "z": (-1, 1)}, "terms that cancel"), ("exp(x)", {}, "no range"), ("exp(x)", {"x": (0, math.inf)}, "no end"),
        ("erfc(x)", {"x": (0, 5)}, "no error of the library is known"), ("(x - sin(x))/x^3", {"x": (-3, 3)}, "another formula near zero"),
    ],
)  # fmt: skip
def test_where_no_bound_is_known_none_is_claimed(formula, ranges, why):
    inputs = sorted({w for w in "xyz" if w in formula.replace("exp", "")})
    bundle = gelvo.export_code(formula, inputs, ranges=ranges, digits="full", check=False)
    assert math.isfinite(bundle.digits["formula"].proved) == (why is None)
    assert ("(proved)" in bundle.files["formula.py"]) == (why is None)
    assert numpy.isfinite(bundle.digits["formula"].after)
