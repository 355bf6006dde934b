"""Canonical building: one object for one formula, and only rewritings that always hold."""

from __future__ import annotations

import time
from decimal import Decimal
from fractions import Fraction

import numpy
import pytest

import gelvo
from gelvo.expression.building import number
from gelvo.expression.nodes import Number, Product, Sum
from gelvo.expression.traversal import depth, distinct_nodes, free_names, substitute, tree_size
from parts import WHOLE

x, y, z, a, b = gelvo.variables("x", "y", "z", "a", "b")
m, k = gelvo.positive_variables("m", "k")
n = gelvo.variable("n", "integer")
nonneg = gelvo.variable("q", "nonnegative")
neg = gelvo.variable("w", "negative")

SAME = [
    (lambda: x + y, lambda: y + x),
    (lambda: x * y, lambda: y * x),
    (lambda: x + x, lambda: 2 * x),
    (lambda: x * x, lambda: x**2),
    (lambda: x - x, lambda: number(0)),
    (lambda: x / x, lambda: number(1)),
    (lambda: (x * y) ** 2, lambda: x**2 * y**2),
    (lambda: (x**2) ** 3, lambda: x**6),
    (lambda: x**a * x**b, lambda: x ** (a + b)),
    (lambda: gelvo.exp(x) * gelvo.exp(y), lambda: gelvo.exp(x + y)),
    (lambda: gelvo.exp(x) ** 3, lambda: gelvo.exp(3 * x)),
    (lambda: 1 / (1 / x), lambda: x),
    (lambda: gelvo.sqrt(12), lambda: 2 * gelvo.sqrt(3)),
    (lambda: gelvo.sqrt(2) * gelvo.sqrt(3), lambda: gelvo.sqrt(6)),
    (lambda: gelvo.sqrt(2) * gelvo.sqrt(2), lambda: number(2)),
    (lambda: gelvo.sqrt(Fraction(1, 2)), lambda: gelvo.sqrt(2) / 2),
    (lambda: gelvo.sqrt(-4), lambda: gelvo.formula("2j")),
    (lambda: number(8) ** Fraction(1, 3), lambda: number(2)),
    (lambda: number(2) ** Fraction(5, 2), lambda: 4 * gelvo.sqrt(2)),
    (lambda: gelvo.sqrt(4 * x), lambda: 2 * gelvo.sqrt(x)),
    (lambda: gelvo.sqrt(gelvo.sqrt(x)), lambda: x ** Fraction(1, 4)),
    (lambda: gelvo.sqrt(m**2), lambda: m),
    (lambda: gelvo.sqrt(m * x), lambda: gelvo.sqrt(m) * gelvo.sqrt(x)),
    (lambda: gelvo.sqrt(nonneg**2), lambda: nonneg),
    (lambda: gelvo.absolute(m), lambda: m),
    (lambda: gelvo.absolute(neg), lambda: -neg),
    (lambda: gelvo.absolute(-x), lambda: gelvo.absolute(x)),
    (lambda: gelvo.sin(-x), lambda: -gelvo.sin(x)),
    (lambda: gelvo.cos(y - x), lambda: gelvo.cos(x - y)),
    (lambda: gelvo.sin(n * gelvo.pi), lambda: number(0)),
    (lambda: gelvo.cos(2 * n * gelvo.pi), lambda: number(1)),
    (lambda: (-1) ** (2 * n), lambda: number(1)),
    (lambda: (-1) ** (2 * n + 1), lambda: number(-1)),
    (lambda: gelvo.exp(gelvo.ln(x)), lambda: x),
    (lambda: gelvo.exp(2 * gelvo.ln(x)), lambda: x**2),
    (lambda: gelvo.sin(gelvo.asin(x)), lambda: x),
    (lambda: gelvo.ln(gelvo.exp(m)), lambda: m),
    (lambda: x**0, lambda: number(1)),
    (lambda: number(0) ** 0, lambda: number(1)),
    (lambda: gelvo.total([x, y, x, 1]), lambda: 2 * x + y + 1),
    (lambda: gelvo.multiply_all([x, y, x, 3]), lambda: 3 * x**2 * y),
]


@pytest.mark.parametrize("pair", SAME, ids=[str(i) for i in range(len(SAME))])
def test_equal_structure_is_one_object(pair):
    assert pair[0]() is pair[1]()


DIFFERENT = [
    (lambda: gelvo.sqrt(x**2), lambda: x),
    (lambda: gelvo.sqrt(x * y), lambda: gelvo.sqrt(x) * gelvo.sqrt(y)),
    (lambda: gelvo.ln(gelvo.exp(x)), lambda: x),
    (lambda: gelvo.ln(x * y), lambda: gelvo.ln(x) + gelvo.ln(y)),
    (lambda: gelvo.asin(gelvo.sin(x)), lambda: x),
    (lambda: gelvo.exp(x) ** Fraction(1, 2), lambda: gelvo.exp(x / 2)),
    (lambda: (x**2) ** a, lambda: x ** (2 * a)),
    (lambda: gelvo.variable("x", "positive"), lambda: x),
]


@pytest.mark.parametrize("pair", DIFFERENT, ids=[str(i) for i in range(len(DIFFERENT))])
def test_what_does_not_always_hold_is_not_done(pair):
    assert pair[0]() is not pair[1]()


def test_a_rational_times_a_sum_stays_together_while_alone():
    e = 2 * (x + 1)
    assert isinstance(e, Product)
    assert str(e) == "2*(x + 1)"
    assert isinstance(e + y, Sum)
    assert str(e + y) == "2*x + y + 2"


@pytest.mark.parametrize(
    ("value", "shown"),
    [
        (3, "3"),
        (Fraction(1, 3), "1/3"),
        (Decimal("0.125"), "1/8"),
        (0.25, "1/4"),
        (1e-3, "1/1000"),
        (2 + 3j, "2 + 3j"),
        (numpy.float64(0.5), "1/2"),
        (numpy.int64(7), "7"),
        (numpy.float32(0.25), "1/4"),
        (float("inf"), "inf"),
        (-2.0, "-2"),
    ],
)
def test_python_and_numpy_numbers_are_exact(value, shown):
    from gelvo.expression.building import to_expression

    assert str(to_expression(value)) == shown


@pytest.mark.parametrize("value", [1 / 3, 3.141592653589793, 0.1 + 0.2])
def test_a_long_float_is_refused_with_a_hint(value):
    with pytest.raises(gelvo.DomainError, match="Fraction"):
        x + value
    assert gelvo.decimal(value, 3) == Fraction(round(value * 1000 if value < 1 else value * 100), 1000 if value < 1 else 100)


def test_text_and_truth_are_not_numbers_of_a_formula():
    with pytest.raises(TypeError):
        x + "y"
    with pytest.raises(TypeError):
        x + True
    assert (x == "x") is False


def test_numbers_are_python_numbers_where_it_counts():
    two = gelvo.formula("2")
    assert two == 2 and two == Fraction(2) and hash(two) == hash(2)
    assert int(two) == 2 and float(two) == 2.0
    assert gelvo.formula("1/2") < 1
    assert gelvo.formula("1/3") == Fraction(1, 3)
    assert two != 3
    assert complex(gelvo.formula("1+2j")) == 1 + 2j


def test_equations_and_conditions_are_not_truth_values():
    for thing in (gelvo.equation(x, 1), x < 2, gelvo.formula("x > 0 and y > 0")):
        with pytest.raises(TypeError, match="truth value"):
            bool(thing)


def test_equations_compare_by_content():
    one, two = gelvo.formula("x = 1"), gelvo.equation(x, 1)
    assert one == two and hash(one) == hash(two)
    assert one != gelvo.formula("x = 2")


@pytest.mark.parametrize(
    ("make", "said"),
    [
        (lambda: x / 0, "division by zero"),
        (lambda: number(0) ** -1, "division by zero"),
        (lambda: gelvo.inf + 1, "inf is not a number"),
        (lambda: gelvo.inf * x, "inf is not a number"),
        (lambda: x**gelvo.inf, "inf"),
        (lambda: gelvo.sin(gelvo.inf), "limit"),
        (lambda: gelvo.sin(x, y), "1 argument"),
        (lambda: number(3) ** 10**9, "too large"),
        (lambda: gelvo.gamma(0), "pole"),
        (lambda: gelvo.arg(0), "no value"),
        (lambda: gelvo.variable("x", "purple"), "not a domain"),
        (lambda: gelvo.unknown_function("q"), "at least one argument"),
        (lambda: gelvo.integral_of(x, 2), "variable is needed"),
    ],
)
def test_what_has_no_value_is_refused_with_a_sentence(make, said):
    with pytest.raises(gelvo.GelvoError, match=said):
        make()


@pytest.mark.parametrize("word", ["pi", "inf", "2x", "", "a b"])
def test_what_cannot_be_a_name(word):
    with pytest.raises(gelvo.FormulaError):
        gelvo.variable(word)


def test_two_domains_of_one_name_in_a_call_are_an_error():
    with pytest.raises(gelvo.DomainError, match="two domains"):
        gelvo.equal(gelvo.variable("x", "positive"), x)
    with pytest.raises(gelvo.DomainError, match="two domains"):
        gelvo.integrate(gelvo.variable("x", "positive") + x, x)


def test_deep_chains_need_no_recursion():
    e, links = x, 20_000 if WHOLE else 5_000
    for _ in range(links):
        e = gelvo.sin(e)
    assert depth(e) == links + 1
    assert substitute(e, {x: y}) is not e
    assert free_names(e) == [x]
    assert gelvo.differentiate(gelvo.substitute(e, {x: 3}), x) == 0
    import copy
    import pickle

    assert copy.deepcopy(e) is e
    assert pickle.loads(pickle.dumps(e)) is e
    assert gelvo.formula(str(e)) is e


def test_a_deep_chain_is_differentiated():
    e = x
    for _ in range(2_000):
        e = gelvo.sin(e)
    change = gelvo.differentiate(e, x)
    assert distinct_nodes(change) < 10_000


def test_a_shared_graph_costs_by_its_distinct_nodes():
    e = x
    for _ in range(60):
        e = e**2 + e
    assert tree_size(e) > 10**18
    start = time.perf_counter()
    change = gelvo.differentiate(e, x)
    text = str(change)
    assert time.perf_counter() - start < 2
    assert " where " in text
    assert gelvo.formula(str(e)) is e


def test_substitution_is_simultaneous_and_avoids_capture():
    assert gelvo.substitute("x + 2*y", {"x": "y", "y": "x"}) is 2 * x + y
    summed = gelvo.formula("sum_of(a*k, k, 1, n)")
    inside = gelvo.substitute(summed, {"a": "k"})
    assert str(inside) == "sum_of(k*k_1, k_1, 1, n)"
    assert gelvo.substitute(summed, {"k": 5}) is summed
    definite = gelvo.formula("integral_of(a*x, x, 0, x)")
    assert str(gelvo.substitute(definite, {"x": 3})) == "integral_of(a*x, x, 0, 3)"
    with pytest.raises(gelvo.DomainError, match="variable of the operation"):
        gelvo.substitute("derivative_of(x^2, x)", {"x": 3})


def test_an_unknown_function_is_replaced_with_its_derivatives():
    t = gelvo.variable("t")
    q = gelvo.unknown_function("q", t)
    e = q.derivative(2) + q(0) + q
    assert gelvo.substitute(e, {q: gelvo.sin(2 * t)}) is -3 * gelvo.sin(2 * t)


def test_renaming_reports_clashes_before_it_changes_anything():
    assert str(gelvo.rename("mass*speed^2/2", {"mass": "m", "speed": "v"})) == "m*v^2/2"
    with pytest.raises(gelvo.FormulaError, match="two different names one"):
        gelvo.rename("a + b", {"a": "b"})
    with pytest.raises(gelvo.FormulaError, match="no name"):
        gelvo.rename("a + b", {"c": "d"})
    assert gelvo.rename("a + 2*b", {"a": "b", "b": "a"}) is 2 * a + b


def test_complex_numbers():
    i = gelvo.formula("1j")
    assert isinstance(i * i, Number) and i * i == -1
    assert str((1 + 2 * i) / (3 - i)) == "1/10 + 7j/10"
    assert str(gelvo.absolute(3 + 4 * i)) == "5"
    assert gelvo.re(2 + 3 * i) == 2 and gelvo.im(2 + 3 * i) == 3
    assert str(gelvo.conj((1 + i) * x)) == "(1 - 1j)*x"


def test_methods_of_expressions():
    e = gelvo.formula("(x+1)^2")
    assert e.expand() is x**2 + 2 * x + 1
    assert e.expand().factor() is e
    assert e.differentiate("x") is 2 * (x + 1)
    assert e.substitute({"x": 2}) == 9
    assert e.simplify() == e
    assert gelvo.formula("a*x + b*x").collect("x") is x * (a + b)
    assert e.equal("x^2 + 2*x + 1") is True
    assert str(gelvo.formula("sqrt(2)").value(5)) == "1.4142"
    assert gelvo.formula("x^2 = 4").differentiate("x") == gelvo.formula("2*x = 0")
