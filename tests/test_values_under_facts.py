"""Simplify and equal under facts, tried on random towers of functions: no value is ever changed inside the facts."""

from __future__ import annotations

from random import Random

import pytest
from gmpy2 import mpq

import gelvo
from support import box_at, close

X, Y, A = gelvo.variables("x", "y", "a")
INVERSES = [
    gelvo.asin,
    gelvo.acos,
    gelvo.atan,
    gelvo.atanh,
    gelvo.asinh,
    gelvo.acosh,
    gelvo.ln,
    gelvo.cbrt,
    gelvo.sqrt,
    gelvo.absolute,
    gelvo.sign,
    gelvo.gamma,
    gelvo.heaviside,
]
FACTS = {
    (): lambda x, y, a: True,
    ("x > 0",): lambda x, y, a: x > 0,
    ("x > 0", "y > 0", "a > 0"): lambda x, y, a: x > 0 and y > 0 and a > 0,
    ("x < 0",): lambda x, y, a: x < 0,
    ("x > -1", "x < 1"): lambda x, y, a: -1 < x < 1,
    ("x > 1",): lambda x, y, a: x > 1,
    ("0 < x", "x < y"): lambda x, y, a: 0 < x < y,
    ("x >= 0", "x <= 1"): lambda x, y, a: 0 <= x <= 1,
    ("a integer",): lambda x, y, a: a.denominator == 1,
    ("x*y > 0",): lambda x, y, a: x * y > 0,
    ("x + y > 1", "y < 1"): lambda x, y, a: x + y > 1 and y < 1,
}


def tower(random, depth=3):
    """A random formula in which inverse functions, roots and signs stand inside each other."""
    if depth == 0:
        return random.choice([X, Y, A, X + 1, X * Y, 1 - X**2, gelvo.formula("2"), gelvo.formula("x/(x^2 + 1)")])
    kind = random.randrange(5)
    one = tower(random, depth - 1)
    if kind == 0:
        return random.choice(INVERSES)(one)
    two = tower(random, depth - 1)
    if kind == 1:
        return one + two
    if kind == 2:
        return one * two
    return one - two if kind == 3 or str(two) == "0" else one / two


def points(random, holds, count=5):
    """Random points inside the facts."""
    found = []
    for _ in range(200):
        x, y = (mpq(random.randint(-40, 40), random.choice((7, 11, 3, 23))) for _ in range(2))
        a = mpq(random.randint(-9, 9), random.choice((1, 1, 2)))
        if holds(x, y, a):
            found.append({X: x, Y: y, A: a})
        if len(found) == count:
            break
    return found


@pytest.mark.parametrize("seed", range(150))
def test_simplify_keeps_values_inside_the_facts(seed):
    random = Random(seed)
    given, holds = random.choice(list(FACTS.items()))
    try:
        before = tower(random)
        after = gelvo.simplify(before, given=given).expression
    except gelvo.DomainError:
        return
    for point in points(random, holds):
        one, two = box_at(before, point, 600), box_at(after, point, 600)
        if one is None or two is None or not one.finite or not two.finite:
            continue
        assert close(one, two, 1e-25), (str(before), str(after), given, {str(k): str(v) for k, v in point.items()})


@pytest.mark.parametrize("seed", range(60))
def test_equal_never_calls_a_different_formula_equal(seed):
    random = Random(1000 + seed)
    given, holds = random.choice(list(FACTS.items()))
    try:
        before = tower(random, 2)
        other = random.choice(
            [before + gelvo.formula("1/10^20"), before * gelvo.formula("1 + 1/10^15"), before + X * Y * (X + 2) / 10**12]
        )
        verdict = gelvo.equal(before, other, given=given)
    except gelvo.GelvoError:
        return
    if verdict:
        for point in points(random, holds):
            one, two = box_at(before, point, 600), box_at(other, point, 600)
            assert one is None or two is None or not one.finite or close(one, two, 1e-60)


@pytest.mark.parametrize("seed", range(40))
def test_equal_agrees_with_simplify(seed):
    random = Random(2000 + seed)
    given, _ = random.choice(list(FACTS.items()))
    try:
        before = tower(random, 2)
        after = gelvo.simplify(before, given=given).expression
        assert gelvo.equal(before, after, given=given)
    except (gelvo.DomainError, gelvo.Undecided):
        return
