"""Values stated where an equation is singular: what of the family has a value there, and what is reached in the limit."""

from __future__ import annotations

import pytest

import gelvo

TABLE = [
    # one function of the family has a value there, by the exponents
    ("x*y'' + y' + x*y = 0", ["y(0) = 1"], "y(x) = besselj(0, x)"),
    ("x*y'' + y' - x*y = 0", ["y(0) = 2"], "y(x) = 2*besseli(0, x)"),
    ("x*y'' + y' + x*y = x", ["y(0) = 0"], "y(x) = 1 - besselj(0, x)"),
    ("x^2*y'' + x*y' + (x^2 - 1)*y = 0", ["y(0) = 0", "y(1) = 2"], "y(x) = 2*besselj(1, x)/besselj(1, 1)"),
    ("(1 - x^2)*y'' - 2*x*y' + 6*y = 0", ["y(1) = 1"], "y(x) = (3*x^2 - 1)/2"),
    ("x*y'' + (1 - x)*y' + 2*y = 0", ["y(0) = 1"], "y(x) = x^2/2 - 2*x + 1"),
    # powers and logarithms that run off
    ("y'' + y'/x = -4", ["y(1) = 0", "y'(0) = 0"], "y(x) = 1 - x^2"),
    ("y'' + 2*y'/x = -q", ["y(R) = 0", "y'(0) = 0"], "y(x) = q*(R - x)*(x + R)/6"),
    ("x^2*y'' - 2*y = 0", ["y(0) = 0", "y(1) = 3"], "y(x) = 3*x^2"),
    ("x*y' + 2*y = 4*x^2", ["y(0) = 0"], "y(x) = x^2"),
    # all solutions have the value
    ("x*y' = y - x^2", ["y(0) = 0"], "y(x) = x*(C_1 - x)"),
    # a value that is reached in the limit; two that run off together
    ("x*y'' + 2*y' + x*y = 0", ["y(0) = 1", "y'(0) = 0"], "y(x) = sin(x)/x if x != 0"),
    ("y' + y/x = sin(x)", ["y(0) = 0"], "y(x) = sin(x)/x - cos(x) if x != 0"),
    ("y'' + 2*y'/x - y = 0", ["y(0) = 3"], "y(x) = 3*sinh(x)/x if x != 0"),
    ("y'' + 2*y'/x - k^2*y = 0", ["y(R) = T", "y'(0) = 0", "k > 0", "R > 0"], "y(x) = R*T*sinh(k*x)/(x*sinh(k*R)) if x != 0"),
]


@pytest.mark.parametrize(("equation", "given", "answer"), TABLE, ids=[e for e, _, _ in TABLE])
def test_what_has_a_value_at_a_singular_place(equation, given, answer):
    y = gelvo.unknown_function("y", "x")
    found = gelvo.solve(gelvo.formula(equation, names_from=y), y, given=given)
    assert str(found) == answer
    assert found.verdict == "proved"


def test_a_value_that_no_solution_has_is_refused():
    y = gelvo.unknown_function("y", "x")
    with pytest.raises(gelvo.DomainError, match="the solution has no value there|contradict"):
        gelvo.solve(gelvo.formula("x*y' + 2*y = 4*x^2", names_from=y), y, given=["y(0) = 1"])


@pytest.mark.parametrize(
    "text", ["bessely(0, 0)", "besselk(n, 0)", "besselj(-1/3, 0)", "Ei(0)", "li(1)", "atanh(-1)", "ellipk(1)", "digamma(-2)", "hyp2f1(1, 1, 1, 1)"]
)  # fmt: skip
def test_functions_have_no_value_at_their_poles(text):
    with pytest.raises(gelvo.FormulaError, match="has no value"):
        gelvo.formula(text)
