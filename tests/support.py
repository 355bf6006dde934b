"""What many tests share: reading formulas, random formulas, and values to compare with."""

from __future__ import annotations

import json
from pathlib import Path
from random import Random

from gmpy2 import mpq

import gelvo
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.building import number
from gelvo.expression.traversal import names
from gelvo.forms.measure import measure
from gelvo.numbers.interval import NoValue

DATA = Path(__file__).parent / "data"
FUNCTIONS = ("sin", "cos", "exp", "atan", "sinh", "tanh", "abs")


def cases(name):
    """The rows of a data file."""
    return [json.loads(line) for line in (DATA / name).read_text(encoding="utf-8").splitlines() if line.strip()]


def by_id(case):
    return case["id"]


def names_in(*formulas):
    """The names that stand in formulas."""
    return names(*formulas)


def size(formula):
    """How much of a formula a reader sees."""
    return measure(formula)


def read(text, *sources, given=()):
    return gelvo.formula(text, given=given, names_from=list(sources))


def box_at(expression, point, precision=160):
    """The enclosure of a value at a point given by name, or None where there is none."""
    table = {n: mpq(v) for n, v in point.items()}
    try:
        return Enclosure(expression).at(table, precision)
    except NoValue:
        return None


def close(a, b, size=1e-30):
    """Whether two enclosures agree to many digits."""
    gap = abs(mpq(a.real.low) - mpq(b.real.low))
    imag = [mpq(0) if v.imag is None else mpq(v.imag.low) for v in (a, b)]
    return bool(max(gap, abs(imag[0] - imag[1])) <= mpq(size) * max(1, abs(mpq(a.real.low))))


def same_value(a, b, names, count=6, seed=3, low=-4, high=4):
    """Both have the same value at random points wherever both have one; at least one point must count."""
    random = Random(seed)
    looked = 0
    for _ in range(count * 4):
        point = {n: mpq(random.randint(low * 7, high * 7), random.choice((7, 5, 3))) for n in names}
        first, second = box_at(a, point), box_at(b, point)
        if first is None or second is None or not first.finite or not second.finite:
            continue
        assert close(first, second), (str(a), str(b), {str(k): str(v) for k, v in point.items()}, first, second)
        looked += 1
        if looked == count:
            break
    return looked


def random_expression(random, names, depth=4):
    """A random formula of moderate size."""
    if depth == 0 or random.random() < 0.15:
        if random.random() < 0.6:
            return random.choice(names)
        return number(mpq(random.randint(-5, 5), random.choice((1, 1, 2, 3))))
    kind = random.randrange(7)
    a = random_expression(random, names, depth - 1)
    if kind == 0:
        return getattr(gelvo, "absolute" if (f := random.choice(FUNCTIONS)) == "abs" else f)(a)
    if kind == 1:
        return a ** random.choice((2, 3, 2))
    b = random_expression(random, names, depth - 1)
    if kind in (2, 3):
        return a + b
    if kind == 4:
        return a - b
    if kind == 5:
        return a * b
    try:
        return a / b
    except gelvo.DomainError:
        return a
