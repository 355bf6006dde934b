"""Bounds of the records hold the values of an independent library, are narrow, and are no agreement of two precisions."""

from __future__ import annotations

from fractions import Fraction

import mpmath
import pytest
from gmpy2 import mpq

import gelvo
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.building import call, number
from gelvo.expression.registry import FUNCTIONS
from gelvo.numbers import box as boxes
from gelvo.numbers.box import Box
from gelvo.numbers.interval import Arithmetic, Interval, NoValue

# function, rows of arguments, the same by another library
PLACES = [
    ("airyai", ["-23/2", "-1/3", "5/4", "17/2"], mpmath.airyai),
    ("airybi", ["-23/2", "-1/3", "5/4", "17/2"], mpmath.airybi),
    ("airyai_prime", ["-9", "2/7", "6"], lambda x: mpmath.airyai(x, derivative=1)),
    ("airybi_prime", ["-9", "2/7", "6"], lambda x: mpmath.airybi(x, derivative=1)),
    ("erfi", ["-7/3", "1/9", "5"], mpmath.erfi),
    ("Si", ["-20", "1/3", "31"], mpmath.si),
    ("Ci", ["1/8", "3", "40"], mpmath.ci),
    ("Shi", ["-2", "15/2"], mpmath.shi),
    ("Chi", ["1/5", "9"], mpmath.chi),
    ("li", ["1/2", "7/5", "1000"], mpmath.li),
    ("fresnels", ["-3", "1/4", "27/5"], mpmath.fresnels),
    ("fresnelc", ["-3", "1/4", "27/5"], mpmath.fresnelc),
    ("zeta", ["-2", "1/2", "5/4", "7/3", "40"], mpmath.zeta),
    ("hyp0f1", ["-7/2 5/3", "1/3 -30"], mpmath.hyp0f1),
    ("hyp1f1", ["1/2 -5/2 3", "-7/3 4 -12", "40 3/2 1/7"], mpmath.hyp1f1),
    ("hyp2f1", ["1/2 1/3 -5/4 -2/3", "9 -3/2 2 4/5", "7/2 7/3 1/6 -1/9"], mpmath.hyp2f1),
    ("legendre", ["40 2/7", "33 -3/2"], mpmath.legendre),
    ("hermite", ["30 1/3", "41 -5/2"], mpmath.hermite),
    ("laguerre", ["27 9/2", "60 1/8"], lambda n, x: mpmath.laguerre(n, 0, x)),
    ("chebyt", ["100 2/7"], mpmath.chebyt),
    ("chebyu", ["100 2/7", "26 3"], mpmath.chebyu),
    ("ellipe", ["-5", "1/3", "99/100"], mpmath.ellipe),
    ("ellipf", ["1/2 4/5", "-6/5 -3", "3/2 99/100"], mpmath.ellipf),
    ("ellipeinc", ["1/2 4/5", "-6/5 -3", "3/2 99/100"], mpmath.ellipe),
    ("ellippi", ["-2 1/3", "1/2 3/4"], mpmath.ellippi),
    ("ellippiinc", ["-2 4/3 1/3", "1/2 -1 3/4", "4/5 1/7 -9"], mpmath.ellippi),
]
CASES = [(name, row, reference) for name, rows, reference in PLACES for row in rows]


def _fractions(row: str) -> list[mpq]:
    return [mpq(Fraction(part)) for part in row.split()]


@pytest.mark.parametrize(("name", "row", "reference"), CASES, ids=[f"{n} {r}" for n, r, _ in CASES])
def test_bounds_hold_the_value_and_nothing_else_was_used(name, row, reference):
    enclosure = Enclosure(call(name, *[number(v) for v in _fractions(row)]))
    found = enclosure.at({}, 160)
    assert enclosure.bounded, "two precisions that agree are no bounds"
    with mpmath.workdps(60):
        places = [mpmath.mpf(int(v.numerator)) / int(v.denominator) for v in _fractions(row)]
        wanted = mpmath.mpf(reference(*places))
        low, high = mpmath.mpf(str(found.real.low)), mpmath.mpf(str(found.real.high))
        slack = mpmath.mpf(10) ** -44 * max(1, abs(wanted))
        assert low - slack <= wanted <= high + slack
        assert high - low < mpmath.mpf(10) ** -20 * max(1, abs(wanted))


@pytest.mark.parametrize("name", ["erfi", "Shi", "zeta", "li"])
def test_a_range_is_bounded_by_its_ends_where_the_function_has_one_direction(name):
    a = Arithmetic(100)
    low, high = a.rational(mpq(3, 2)), a.rational(mpq(9, 4))
    wide = FUNCTIONS[name].bounds(a, Box(Interval(low.low, high.high)))
    for place in (low, high, a.rational(mpq(2))):
        inside = FUNCTIONS[name].bounds(a, Box(place))
        assert wide.real.low <= inside.real.low and inside.real.high <= wide.real.high


@pytest.mark.parametrize(
    ("name", "places"),
    [
        ("zeta", ["1"]),
        ("li", ["1"]),
        ("hyp1f1", ["1", "-2", "1"]),
        ("hyp2f1", ["1", "1/3", "2", "7/5"]),
        ("ellipf", ["2", "1/2"]),
        ("ellippi", ["3/2", "1/2"]),
        ("Si", ["1000"]),
        ("legendre", ["1/2", "1/3"]),
    ],
)
def test_where_there_are_no_bounds_it_is_said(name, places):
    a = Arithmetic(80)
    with pytest.raises(NoValue):
        FUNCTIONS[name].bounds(a, *[boxes.Box(a.rational(v)) for p in places for v in _fractions(p)])


def test_a_value_of_a_special_function_is_proved_to_all_its_digits():
    assert str(gelvo.value("ellippi(1/2, 3/4)", 28)) == mpmath.nstr(_with(lambda: mpmath.ellippi(0.5, 0.75)), 28)


def _with(work):
    with mpmath.workdps(45):
        return work()
