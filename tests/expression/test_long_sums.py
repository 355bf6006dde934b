"""Long sums of products are put together in one go, and are the ones that building term by term makes."""

from __future__ import annotations

from random import Random

import pytest
from gmpy2 import mpq

import gelvo
from gelvo.expression.building import multiply_all, number, power, total
from gelvo.expression.long_sums import sum_of_products

X, Y, A = NAMES = gelvo.variables("x", "y", "a")


@pytest.mark.parametrize("seed", range(20))
def test_long_sums_are_the_sums_that_building_makes(seed):
    random = Random(seed)
    pieces = [power(n, number(k)) for n in NAMES for k in (1, 2, 3)] + [gelvo.sin(X), gelvo.exp(Y), gelvo.sqrt(A)]
    groups = [(0, 1, 2), (3, 4, 5), (6, 7, 8, 11), (9,), (10,)]
    rows = {}
    for _ in range(30):
        row = tuple(random.choice(g) for g in groups if random.random() < 0.6)
        rows[row] = mpq(random.randint(1, 9), random.choice((1, 2, 7)))
    direct = total([multiply_all([number(c), *[pieces[i] for i in row]]) for row, c in rows.items()])
    assert sum_of_products(pieces, [(c, row) for row, c in rows.items()]) is direct
