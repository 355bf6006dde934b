"""Every targeted form keeps its value at random points, whatever it is given."""

from __future__ import annotations

import re
from random import Random

import pytest
from gmpy2 import mpq

import gelvo
from support import box_at, close, names_in, random_expression

X, Y, A = gelvo.variables("x", "y", "a")
NAMES = [X, Y, A]
POSITIVE = ["x > 0", "y > 0", "a > 0"]


def agree(before, after, seed, positive, least=1):
    """Both have the same value at random points of the right signs."""
    random, looked = Random(seed), 0
    for _ in range(24):
        point = {
            n: mpq(random.randint(1, 30), random.choice((3, 5, 7))) * (1 if positive else random.choice((1, -1))) for n in NAMES
        }
        one, two = (box_at(e, point, 800) for e in (before, after))
        if one is None or two is None or not one.finite or not two.finite:
            continue
        assert close(one, two), (str(before), str(after), {str(k): str(v) for k, v in point.items()})
        looked += 1
        if looked == 4:
            break
    return looked >= least


def rational(random, depth=3):
    """A random rational expression."""
    if depth == 0:
        return random.choice([*NAMES, gelvo.formula(str(random.randint(1, 6)))])
    a, b = rational(random, depth - 1), rational(random, depth - 1)
    kind = random.randrange(5)
    if kind == 0:
        return a + b
    if kind == 1:
        return a - 2 * b
    if kind == 2:
        return a * b
    if kind == 3:
        return a ** random.choice((2, 3))
    try:
        return a / b
    except gelvo.GelvoError:
        return a


def wavy(random, depth=3):
    """A random expression of waves and exponentials of sums of angles."""
    if depth == 0:
        angle = random.choice([X, Y, X + Y, 2 * X, X - Y, 3 * X])
        return random.choice([gelvo.sin, gelvo.cos, gelvo.sinh, gelvo.cosh, gelvo.exp])(angle)
    a, b = wavy(random, depth - 1), wavy(random, depth - 1)
    return random.choice([lambda: a + b, lambda: a * b, lambda: a - b, lambda: a**2])()


def rooted(random, depth=2):
    """A random expression of logarithms, powers and roots of products."""
    inside = gelvo.multiply_all([n ** random.randint(-2, 3) for n in NAMES])
    pieces = [
        inside ** gelvo.formula(f"1/{random.choice((2, 3))}"),
        gelvo.ln(inside),
        inside**A,
        gelvo.absolute(X - Y) * X,
        gelvo.exp(X * random.randint(-1, 2)),
    ]
    if depth == 0:
        return random.choice(pieces)
    a, b = rooted(random, depth - 1), rooted(random, depth - 1)
    return random.choice([lambda: a + b, lambda: a * b, lambda: a - b])()


OPERATIONS = {
    "expand": (rational, gelvo.expand),
    "factor": (rational, gelvo.factor),
    "common denominator": (rational, gelvo.common_denominator),
    "collect": (rational, lambda e: gelvo.collect(e, ["x", "y"])),
    "collect, simplified": (rational, lambda e: gelvo.collect(e, "x", apply=gelvo.simplify)),
    "partial fractions": (rational, lambda e: gelvo.partial_fractions(e, "x")),
    "expand products": (rational, lambda e: gelvo.expand(e, only="products")),
    "simplify": (rational, lambda e: gelvo.simplify(e).expression),
    "rationalize": (rooted, gelvo.rationalize_denominator),
    "expand powers": (rooted, lambda e: gelvo.expand(e, only="powers", given=POSITIVE)),
    "combine powers": (rooted, lambda e: gelvo.combine(e, only="powers", given=POSITIVE)),
    "combine roots": (rooted, lambda e: gelvo.combine(e, only="roots", given=POSITIVE)),
    "combine exponentials": (rooted, lambda e: gelvo.combine(e, only="exponentials", given=POSITIVE)),
    "expand logarithms": (rooted, lambda e: gelvo.expand(e, only="logarithms", given=POSITIVE)),
    "combine logarithms": (rooted, lambda e: gelvo.combine(e, only="logarithms", given=POSITIVE)),
    "simplify roots": (rooted, lambda e: gelvo.simplify(e, given=POSITIVE).expression),
    "expand waves": (wavy, lambda e: gelvo.expand(e, only="trigonometric")),
    "combine waves": (wavy, lambda e: gelvo.combine(e, only="trigonometric")),
    "exponentials": (wavy, lambda e: gelvo.express(e, "exponentials")),
    "sin only": (wavy, lambda e: gelvo.express(e, "sin")),
    "cos only": (wavy, lambda e: gelvo.express(e, "cos")),
    "tangents": (wavy, lambda e: gelvo.express(e, "tan")),
    "half angles": (wavy, lambda e: gelvo.express(e, "tan of half angles")),
    "simplify waves": (wavy, lambda e: gelvo.simplify(e).expression),
}
ANY_SIGN = {
    "expand",
    "factor",
    "common denominator",
    "collect",
    "collect, simplified",
    "partial fractions",
    "expand products",
    "simplify",
}


@pytest.mark.parametrize("seed", range(12))
@pytest.mark.parametrize("name", OPERATIONS)
def test_values_are_kept(name, seed):
    make, work = OPERATIONS[name]
    before = make(Random(seed * 31 + len(name)))
    try:
        after = work(before)
    except gelvo.DomainError:
        return
    agree(before, after, seed, positive=name not in ANY_SIGN)


@pytest.mark.parametrize(
    "name", ["rationalize", "combine roots", "combine powers", "expand powers", "expand logarithms", "simplify roots"]
)
@pytest.mark.parametrize("seed", range(8))
def test_without_facts_nothing_is_assumed(name, seed):
    before = rooted(Random(seed))
    work = {
        "rationalize": gelvo.rationalize_denominator,
        "combine roots": lambda e: gelvo.combine(e, only="roots"),
        "combine powers": lambda e: gelvo.combine(e, only="powers"),
        "expand powers": lambda e: gelvo.expand(e, only="powers"),
        "expand logarithms": lambda e: gelvo.expand(e, only="logarithms"),
        "simplify roots": lambda e: gelvo.simplify(e).expression,
    }[name]
    agree(before, work(before), seed, positive=False, least=0)


@pytest.mark.parametrize("seed", range(25))
def test_amplitudes_and_phases(seed):
    random = Random(seed)
    a, b, c = (random.randint(-9, 9) for _ in range(3))
    before = a * gelvo.cos(2 * X) + b * gelvo.sin(2 * X) + c * gelvo.sin(X + Y) + A
    after = gelvo.amplitude_phase(before, "x")
    assert agree(before, after, seed, positive=False)
    assert len(set(re.findall(r"(?:sin|cos)\([^()]*\)", str(after)))) <= 4


@pytest.mark.parametrize("seed", range(25))
def test_squares_are_completed(seed):
    random = Random(seed)
    before = random.choice([A, gelvo.formula("3"), A + 1]) * X**2 + Y * X * random.randint(-4, 4) + random.randint(-9, 9)
    after = gelvo.complete_square(before, "x")
    assert gelvo.expand(after - before) == 0 or gelvo.equal(before, after)


@pytest.mark.parametrize("seed", range(20))
def test_division_with_remainder(seed):
    random = Random(seed)
    p = gelvo.total([random.randint(-9, 9) * X**k for k in range(6)] + [A * X**3])
    q = gelvo.total([random.randint(-9, 9) * X**k for k in range(3)] + [X**3])
    quotient, rest = gelvo.divide(p, q, "x")
    assert gelvo.expand(quotient * q + rest - p) == 0
    assert str(gelvo.degree(rest, "x")) == "-inf" or int(gelvo.degree(rest, "x")) < 3


@pytest.mark.parametrize("seed", range(20))
def test_common_divisors_and_multiples(seed):
    random = Random(seed)
    p, q, g = (gelvo.expand(gelvo.total([random.randint(1, 5) * n**k for n, k in ((X, 2), (Y, 1), (X, 0))])) for _ in range(3))
    one, two = gelvo.expand(p * g), gelvo.expand(q * g)
    common = gelvo.gcd(one, two)
    assert gelvo.denominator(common / g) == 1 or gelvo.degree(common, "x") == 2
    multiple = gelvo.lcm(one, two)
    assert gelvo.equal(multiple * common, one * two) or gelvo.equal(-multiple * common, one * two)


@pytest.mark.parametrize("seed", range(20))
def test_patterns_are_undone_by_putting_back(seed):
    random = Random(seed)
    e = rational(random, 4)
    old = random.choice([X**2, X + Y, X * Y, X**2 * Y, X + 2 * A, gelvo.formula("x^2 + y^2")])
    stand = gelvo.variable("stand_in")
    replaced = gelvo.substitute(e, {old: stand})
    back = gelvo.substitute(replaced, {stand: old})
    assert gelvo.equal(back, e)


@pytest.mark.parametrize("seed", range(20))
def test_abbreviations_come_back_exactly(seed):
    random = Random(seed)
    e = random_expression(random, NAMES, 6)
    short = gelvo.abbreviate([e, e**2 + 1], "B")
    assert short.restored() == (e, e**2 + 1)
    defined = set()
    for name, meaning in short.where.items():
        assert not {n for n in names_in(meaning) if str(n).startswith("B_")} - defined
        defined.add(name)


@pytest.mark.parametrize("seed", range(15))
def test_renaming_in_order_commutes_with_simplify(seed):
    e = wavy(Random(seed), 2) + rational(Random(seed), 2)
    table = {"a": "b", "x": "y", "y": "z"}
    one = gelvo.rename(
        gelvo.simplify(e).expression,
        {k: v for k, v in table.items() if any(str(n) == k for n in names_in(gelvo.simplify(e).expression))},
    )
    two = gelvo.simplify(gelvo.rename(e, {k: v for k, v in table.items() if any(str(n) == k for n in names_in(e))})).expression
    assert one is two


@pytest.mark.parametrize("seed", range(15))
def test_simplify_is_idempotent_on_what_it_made(seed):
    once = gelvo.simplify(rational(Random(seed), 4)).expression
    assert gelvo.simplify(once).expression is once


@pytest.mark.parametrize("seed", range(20))
def test_products_of_waves_and_angles_are_inverse_to_each_other(seed):
    e = wavy(Random(seed), 1)
    assert gelvo.equal(gelvo.combine(gelvo.expand(e, only="trigonometric"), only="trigonometric"), e)
