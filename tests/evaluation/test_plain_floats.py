"""Fast floats without bounds: the same numbers as bounded evaluation, and no number where there is none."""

from __future__ import annotations

import pytest

import gelvo
from gelvo.evaluation.floats import NotReal, complex_function, float_function
from gelvo.evaluation.plain_floats import COMPLEX, REAL, plain_function
from gelvo.numbers.interval import NoValue

PLACES = (0.3, 0.75)
ORDERS = {"besselj": "1", "bessely": "1", "besseli": "2", "besselk": "1", "struveh": "1", "struvel": "0", "legendre": "3", "hermite": "4", "laguerre": "3", "chebyt": "5"}  # fmt: skip
SHIFTED = {"acosh": "1 + x", "min": "x, 1 - x", "max": "x, x^2"}


@pytest.mark.parametrize("name", REAL)
def test_functions_have_their_values(name):
    x = gelvo.variable("x")
    inside = SHIFTED.get(name, f"{ORDERS[name]}, x" if name in ORDERS else "x")
    f = gelvo.formula(f"{name}({inside})", names_from=[x])
    plain, bounded = plain_function(f, x), float_function(f, x)
    for place in PLACES:
        assert plain(place) == pytest.approx(bounded(place), rel=1e-12)


@pytest.mark.parametrize("name", COMPLEX)
def test_functions_have_their_complex_values(name):
    x = gelvo.variable("x")
    f = gelvo.formula(f"{name}(x*exp(1j*x)/2)", names_from=[x])
    if name in ("tanh", "tan", "atan", "cosh", "sinh", "sin", "cos", "exp", "ln", "abs"):
        plain, bounded = plain_function(f, x, True), complex_function(f, x)
        for place in PLACES:
            assert complex(plain(place)) == pytest.approx(bounded(place), rel=1e-12)


SHAPES = [
    "3*x^2 - x/7 + 1",
    "x^(-3)",
    "x^(2/3)",
    "x^pi",
    "2^x",
    "pi*x + sqrt(2)",
    "1/(x^2 + 1)",
    "exp(-x)*sin(3*x)/x",
    "sqrt(1 + sqrt(x))",
]


@pytest.mark.parametrize("text", SHAPES)
def test_shapes_have_their_values(text):
    x = gelvo.variable("x")
    f = gelvo.formula(text, names_from=[x])
    for place in PLACES:
        assert plain_function(f, x)(place) == pytest.approx(float_function(f, x)(place), rel=1e-13)


NOWHERE = [("ln(x)", -1.0), ("sqrt(x)", -2.0), ("1/x", 0.0), ("asin(x)", 2.0), ("x^(1/2)", -1.0), ("exp(x^2)", 100.0)]


@pytest.mark.parametrize(("text", "place"), NOWHERE)
def test_there_is_no_number_where_there_is_none(text, place):
    x = gelvo.variable("x")
    with pytest.raises((NotReal, NoValue)):
        plain_function(gelvo.formula(text, names_from=[x]), x)(place)


@pytest.mark.parametrize("text", ["polylog(2, x)", "zeta(x)", "x + 1j", "lambertw(x)"])
def test_what_has_no_fast_form_is_left_to_bounds(text):
    x = gelvo.variable("x")
    assert plain_function(gelvo.formula(text, names_from=[x]), x) is None
