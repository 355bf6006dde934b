"""Signs that follow by slack, by squares of roots, and because exponentials and logarithms rise; and what must stay open."""

import pytest

import gelvo

FOLLOWS = [
    ("sqrt((c - b)/(a - b)) <= 1", "a > c; c > b; b > 0"),
    ("(a - b)/(a + b) < 1", "a > b; b > 0"),
    ("a*c > b^2", "a > 2*b; c > b; b > 0"),
    ("R^2*C - 4*L < 0", "R > 0; C > 0; L > R^2*C/2"),
    ("a*(1 - a) <= 1/4", "0 < a; a < 1"),
    ("(a - b*sqrt(2*a - b^2))/2 > 0", "a > 0; b > sqrt(a); b^2 < 2*a"),
    ("c - sqrt(c^2 + b^2 - a^2) > 0", "a > b; b > 0; c > 0; c^2 > a^2 - b^2"),
    ("C*R + sqrt(C*(C*R^2 - 4*L)) != 0", "R > 0; C > 0; L > 0; R^2*C < 4*L"),
    ("sqrt(4*a + 1) - sqrt(2)*sqrt(2*a - sqrt(4*a + 1) - 1) + 1 != 0", "a > 1"),
    ("sqrt(a) + 2*sqrt(b + 1j*a) + 1 != 0", "a > 0"),
    ("sqrt(b + 1j*a) - 1 != 0", "a > 0"),
    ("-1/a - 1j*b != 0", "a > 0"),
    ("a^2 - 2*a*cos(b) + 1 > 0", "0 < a; a < 1"),
    ("2^(1/n) > 1", "n > 0"),
    ("(1/3)^n < 1", "n > 0"),
    ("a^(1/3) < a", "a > 1"),
    ("a^n > a^m", "a > 1; n > m"),
    ("exp(ln(a) - 1) < a", "a > 0"),
    ("ln(A/(A - p*r))/ln(r + 1) > 0", "A > p*r; p > 0; r > 0"),
    ("ln(a) <= exp(-1)", "a > 1; a < exp(exp(-1))"),
    ("exp(-lambertw(-ln(a))) > 0", "a > 1; a < exp(exp(-1))"),
    ("c^2*w^2 + w^4 - 2*w^2 + 1 > 0", "c > 0; w > 0"),
    ("2*asin(a) + pi > 0", "a > -1; a < 1"),
    ("asin(a) < pi/2", "a > 0; a < 1"),
    ("acos(a) > 0", "0 < a; a < 1"),
    ("acos(a) > pi/3", "-1 < a; a < 1/2"),
    ("atan(a) - pi/4 < 0", "a < 1"),
    ("q != 0", "q*p != 0"),
    ("256*q > 27*p^4", "q^2*(256*q - 27*p^4) > 0"),
    ("p < 0", "p*q^2 < 0"),
]
OPEN = [
    ("2*asin(a) + 1 > 0", "a > -1; a < 1"),
    ("p < 0", "p*q^2 <= 0"),
    ("a*c > b^2", "a > b; c > 0; b > 0"),
    ("sqrt(4*a + 1) - a > 0", "a > 1"),
    ("c - sqrt(c^2 + b^2 - a^2) > 0", "a > 0; b > 0; c > 0"),
    ("a^n > 1", "a > 0; n > 0"),
    ("sqrt(b + 1j*a) - 1 != 0", "a >= 0"),
    ("ln(a - b) > 0", "a > 0; b > 0"),
    ("a*(1 - a) < 1/5", "0 < a; a < 1"),
]


@pytest.mark.parametrize(("claim", "given", "told"), [(*row, True) for row in FOLLOWS] + [(*row, None) for row in OPEN])
def test_sign_that_follows_or_stays_open(claim, given, told):
    assert gelvo.is_known(claim, given=given.split("; ")) is told


def test_opposites_are_refused():
    assert gelvo.is_known("2^(1/n) <= 1", given=["n > 0"]) is False
    assert gelvo.is_known("sqrt(a - b) = -1", given=["a > b"]) is False
