"""Hypergeometric series by their names, against another library; and what has no name stays one, or is refused."""

from __future__ import annotations

import pytest
from mpmath import mp

import gelvo
from gelvo.calculus.definite.named_hypergeometric import named
from gelvo.facts.store import Facts
from sample_tasks import numeric

ROWS = [
    ([], [], "-3/4"),
    (["1/3"], [], "-2"),
    (["5/2"], [], "1/4"),
    ([], ["1/2"], "-2"),
    ([], ["1/2"], "2"),
    ([], ["3/2"], "-5/3"),
    ([], ["3/2"], "5/3"),
    ([], ["1"], "-1/4"),
    ([], ["1"], "3"),
    ([], ["7/3"], "-4"),
    ([], ["7/3"], "1/9"),
    (["1/2"], ["3/2"], "-4/9"),
    (["1/2"], ["3/2"], "4/9"),
    (["2"], ["3"], "-5/4"),
    (["3/4"], ["7/4"], "-2"),
    (["1/3"], ["2/3"], "-1"),
    (["1/3"], ["2/3"], "5/2"),
    (["3/2"], ["3"], "2"),
    (["1/4"], ["5/3"], "-3/2"),
    (["1/4"], ["9/4"], "3/2"),
    (["4"], ["3"], "-1/2"),
    (["1/2", "1"], ["3/2"], "-4"),
    (["1/2", "1"], ["3/2"], "1/4"),
    (["1", "1/2"], ["3/2"], "-1/4"),
    (["1/2", "1/2"], ["3/2"], "1/2"),
    (["1/2", "1/2"], ["3/2"], "-3"),
    (["1", "1"], ["2"], "1/3"),
    (["1", "1"], ["2"], "-7"),
    (["1/2", "1/2"], ["1"], "2/3"),
    (["1/2", "1/2"], ["1"], "-5"),
    (["-1/2", "1/2"], ["1"], "2/3"),
    (["-1/2", "1/2"], ["1"], "-5"),
    (["1/3", "5/6"], ["5/3"], "-2"),
    (["1/3", "5/6"], ["2/3"], "1/5"),
    (["5/6", "1/3"], ["2/3"], "-3"),
    (["1/3", "5/6"], ["1/2"], "-2"),
    (["1/3", "5/6"], ["3/2"], "-2"),
    (["1/4", "3/4"], ["1/3"], "-2"),
    (["1/4", "3/4"], ["1/3"], "1/2"),
    (["1/4", "1/3"], ["2"], "1"),
    (["-2", "1/3"], ["5/4"], "3"),
    (["2", "1/3"], ["1/3"], "-2"),
    (["3", "1/3"], ["2"], "-2"),
    (["1/3", "5/2"], ["3/2"], "1/4"),
    (["0", "1/2"], ["3"], "5"),
]


@pytest.mark.parametrize(("upper", "lower", "w"), ROWS, ids=[f"{u};{b};{w}" for u, b, w in ROWS])
def test_a_name_has_the_value_of_the_series(upper, lower, w):
    parts = [[gelvo.formula(p) for p in row] for row in (upper, lower)]
    found = named(parts[0], parts[1], gelvo.formula(w), Facts())
    assert found is not None
    with mp.workdps(30):
        top, bottom, at = (
            [mp.mpmathify(eval_fraction(p)) for p in upper],
            [mp.mpmathify(eval_fraction(p)) for p in lower],
            eval_fraction(w),
        )
        wanted = mp.hyper(top, bottom, at)
        assert abs(numeric(found, {}) - wanted) < mp.mpf("1e-20") * (1 + abs(wanted))


def eval_fraction(text):
    top, _, bottom = text.partition("/")
    return mp.mpf(top) / mp.mpf(bottom or 1)


ELEMENTARY = [
    (([], [], "x"), "exp(x)"),
    ((["a"], [], "x"), "(1 - x)^(-a)"),
    (([], ["1/2"], "-x^2/4"), "cos(x)"),
    ((["a", "b"], ["b"], "x"), "(1 - x)^(-a)"),
    ((["1/2", "1"], ["3/2"], "-x^2"), "atan(x)/x"),
    ((["1", "1"], ["2"], "-x"), "ln(1 + x)/x"),
]


@pytest.mark.parametrize(("row", "wanted"), ELEMENTARY, ids=[w for _, w in ELEMENTARY])
def test_letters_keep_their_places(row, wanted):
    x, a, b = gelvo.positive_variables("x", "a", "b")
    upper, lower = ([gelvo.formula(p, names_from=[x, a, b]) for p in part] for part in row[:2])
    found = named(upper, lower, gelvo.formula(row[2], names_from=[x, a, b]), Facts([x < 1]))
    assert gelvo.equal(found, gelvo.formula(wanted, names_from=[x, a, b]), given=[x < 1])


def test_series_without_a_record_are_refused():
    half = gelvo.formula("1/2")
    assert named([half, half, half], [gelvo.formula("1"), gelvo.formula("2")], gelvo.formula("1/4"), Facts()) is None
    assert named([half, half], [half / 2], gelvo.formula("1"), Facts()) is None  # it runs off at 1
