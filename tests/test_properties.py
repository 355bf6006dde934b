"""Properties that hold for every formula, tried on random ones."""

from __future__ import annotations

import copy
import os
import pickle
import subprocess
import sys
import threading
from random import Random

import pytest
from gmpy2 import mpq
from hypothesis import assume, given
from hypothesis import strategies as st

import gelvo
from support import box_at, close, names_in, random_expression, same_value, size

x, y, a = gelvo.variables("x", "y", "a")
NAMES = [x, y, a]
seeds = st.integers(min_value=0, max_value=10**6)


def formula_from(seed, depth=4):
    return random_expression(Random(seed), NAMES, depth)


@given(seeds)
def test_text_reads_back_to_the_same_formula(seed):
    e = formula_from(seed)
    assert gelvo.formula(str(e)) is e


@given(seeds)
def test_text_of_narrow_domains_reads_back_with_names_from(seed):
    p, n = gelvo.variable("p", "positive"), gelvo.variable("n", "integer")
    e = random_expression(Random(seed), [p, n], 4) + p * n
    assert gelvo.formula(str(e), names_from=e) is e


@given(seeds)
def test_pickling_and_copying_give_the_same_object(seed):
    e = formula_from(seed)
    assert pickle.loads(pickle.dumps(e)) is e
    assert copy.deepcopy(e) is e
    assert copy.copy(e) is e


@given(seeds, seeds)
def test_sums_and_products_commute(one, two):
    e, f = formula_from(one), formula_from(two)
    assert e + f is f + e
    assert e * f is f * e


@given(seeds, seeds, seeds)
def test_sums_and_products_have_the_value_of_any_grouping(one, two, three):
    e, f, g = formula_from(one, 3), formula_from(two, 3), formula_from(three, 3)
    assume(same_value((e + f) + g, e + (f + g), NAMES, 3))
    assume(same_value((e * f) * g, e * (f * g), NAMES, 3))
    assume(same_value(e * (f + g), e * f + e * g, NAMES, 3))


@given(seeds)
def test_a_formula_less_itself_is_zero(seed):
    e = formula_from(seed)
    assert e - e == 0


@given(seeds)
def test_substitution_of_names_for_each_other_is_undone_by_itself(seed):
    e = formula_from(seed)
    turned = gelvo.substitute(e, {x: y, y: x})
    assert gelvo.substitute(turned, {x: y, y: x}) is e


@given(seeds)
def test_substituting_numbers_commutes_with_evaluation(seed):
    e = formula_from(seed)
    point = {x: mpq(3, 7), y: mpq(-5, 3), a: mpq(11, 5)}
    try:
        inside = gelvo.substitute(e, {n: gelvo.formula(str(v)) for n, v in point.items()})
    except gelvo.DomainError:
        return
    first, second = box_at(e, point), box_at(inside, {})
    if first is not None and second is not None and first.finite and second.finite:
        assert close(first, second)


@given(seeds)
def test_expand_keeps_the_value(seed):
    e = formula_from(seed)
    assume(same_value(e, gelvo.expand(e), NAMES, 3))


@given(seeds)
def test_factor_keeps_the_value(seed):
    e = formula_from(seed, 3)
    try:
        f = gelvo.factor(e)
    except gelvo.DomainError:
        return
    assume(same_value(e, f, NAMES, 3))


@given(seeds)
def test_common_denominator_keeps_the_value(seed):
    e = formula_from(seed, 3)
    try:
        f = gelvo.common_denominator(e)
    except gelvo.DomainError:
        return
    assume(same_value(e, f, NAMES, 3))


@given(seeds)
def test_collect_keeps_the_value(seed):
    e = formula_from(seed, 3)
    assume(same_value(e, gelvo.collect(e, x), NAMES, 3))


@given(seeds)
def test_simplify_keeps_the_value_and_never_gets_longer(seed):
    e = formula_from(seed, 3)
    f = gelvo.simplify(e).expression
    assert size(f) <= size(e)
    assume(same_value(e, f, NAMES, 4))


@given(seeds)
def test_simplify_is_the_same_twice(seed):
    e = formula_from(seed, 3)
    assert gelvo.simplify(e).expression is gelvo.simplify(e).expression


@given(seeds)
def test_the_derivative_agrees_with_difference_quotients(seed):
    e = formula_from(seed)
    change = gelvo.differentiate(e, x)
    step = mpq(1, 10**30)
    for place in (mpq(3, 7), mpq(-11, 5), mpq(17, 3)):
        point = {y: mpq(2, 3), a: mpq(-4, 7)}
        up, down = box_at(e, {**point, x: place + step}, 600), box_at(e, {**point, x: place - step}, 600)
        slope = box_at(change, {**point, x: place}, 600)
        if None in (up, down, slope) or not slope.finite or slope.imag is not None:
            continue
        if up.imag is not None or not up.finite or abs(slope.real.low) > 1e12:
            continue
        quotient, right = (mpq(up.real.low) - mpq(down.real.low)) / (2 * step), mpq(slope.real.low)
        assert abs(quotient - right) <= mpq(1, 10**12) * max(1, abs(right)), str(e)


@given(seeds)
def test_an_antiderivative_differentiates_back(seed):
    e = random_expression(Random(seed), [x], 2)
    answer = gelvo.integrate(e, x)
    if answer.reason:
        assert answer.verdict == "undecided" or "no elementary antiderivative" in answer.reason
        return
    assume(same_value(gelvo.differentiate(answer.expression, x), e, [x], 3))
    assert answer.verdict in ("proved", "supported")


@given(seeds)
def test_what_equal_calls_equal_has_equal_values(seed):
    e, f = formula_from(seed, 3), formula_from(seed + 1, 3)
    square = gelvo.expand((e + f) ** 2)
    assert gelvo.equal(square, e**2 + 2 * e * f + f**2) is True


@given(seeds)
def test_what_equal_tells_apart_differs(seed):
    e = formula_from(seed, 3)
    try:
        assert gelvo.equal(e, e + mpq_text("1e-40")) is False
    except gelvo.Undecided:
        # a formula without real or complex values anywhere cannot be told from its neighbour
        assert same_value(e, e, NAMES, 2) == 0


def mpq_text(text):
    return gelvo.formula(text)


@given(seeds)
def test_renaming_in_order_commutes_with_operations(seed):
    e = formula_from(seed, 3)
    renamed = {n: gelvo.variable(f"{n}_1") for n in (x, y, a)}  # x_1 moves in a formula as x does

    def rename(f):
        return gelvo.substitute(f, renamed)

    assert rename(gelvo.expand(e)) is gelvo.expand(rename(e))
    assert rename(gelvo.differentiate(e, x)) is gelvo.differentiate(rename(e), renamed[x])
    assert str(rename(e)).replace("_1", "") == str(e)


@given(st.lists(st.integers(min_value=-9, max_value=9), min_size=2, max_size=6))
def test_the_factors_of_a_polynomial_multiply_back(coefficients):
    p = gelvo.total([c * x**k for k, c in enumerate(coefficients)])
    assert gelvo.expand(gelvo.factor(p)) is gelvo.expand(p)


@given(st.integers(min_value=-(10**12), max_value=10**12), st.integers(min_value=1, max_value=10**6))
def test_numbers_compare_and_hash_as_fractions(top, bottom):
    from fractions import Fraction

    fraction = Fraction(top, bottom)
    node = gelvo.total([fraction])
    assert node == fraction
    assert hash(node) == hash(fraction)
    assert {fraction: 1}[node] == 1


@given(st.lists(st.integers(min_value=-6, max_value=6), min_size=1, max_size=3))
def test_the_real_roots_of_a_product_of_linear_factors_are_found(roots):
    p = gelvo.expand(gelvo.multiply_all([x - r for r in roots]))
    found = [int(s[x]) for s in gelvo.solve(p, x)]
    assert found == sorted(set(roots))


@given(seeds)
def test_typesetting_never_fails_and_is_the_same_twice(seed):
    e = formula_from(seed)
    for style in ("latex", "mathml", "text"):
        assert gelvo.typeset(e, style) == gelvo.typeset(e, style)


@given(seeds)
def test_a_numeric_function_has_the_right_values(seed):
    import numpy

    e = formula_from(seed, 3)
    function = gelvo.numeric_function(e, [x, y, a])
    with numpy.errstate(all="ignore"):
        found = float(function(0.7, -1.3, 2.1))
    right = box_at(e, {x: mpq(0.7), y: mpq(-1.3), a: mpq(2.1)})
    if right is None or right.imag is not None or not numpy.isfinite(found):
        return
    value = float(right.real.low)
    assert found == pytest.approx(value, rel=1e-6, abs=1e-6 * max(1.0, abs(value)))


def test_threads_that_build_the_same_formulas_share_them():
    results = []

    def build():
        local = [formula_from(seed, 5) for seed in range(150)]
        results.append(local)

    threads = [threading.Thread(target=build) for _ in range(6)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert len(results) == 6
    for other in results[1:]:
        assert all(e is f for e, f in zip(results[0], other, strict=True))


def test_the_same_answer_for_every_hash_seed():
    script = (
        "import gelvo as g; e = g.formula('(a+b*sin(x))^3/(a-c)+exp(x*y)*c+b/a'); "
        "print(g.expand(e)); print(g.factor('x^4*y-y^5')); print(g.simplify('sin(x)^4-cos(x)^4')); "
        "print(g.solve(['x+a*y=1','x-y=b'],['x','y'])); print(g.integrate('x^2*exp(-x)*sin(x)','x'))"
    )
    said = set()
    for seed in ("0", "1", "77"):
        done = subprocess.run(
            [sys.executable, "-c", script], capture_output=True, text=True, env={**os.environ, "PYTHONHASHSEED": seed}
        )
        assert done.returncode == 0, done.stderr
        said.add(done.stdout)
    assert len(said) == 1


def test_random_formulas_use_all_names():
    used = {n for seed in range(30) for n in names_in(formula_from(seed))}
    assert used == set(NAMES)
