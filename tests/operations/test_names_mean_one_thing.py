"""One name means one thing in a call: text beside objects, domains stated as facts, bound names, facts about a range."""

from __future__ import annotations

from typing import Any

import pytest

import gelvo

M, K = gelvo.positive_variables("m", "k")
N, P = gelvo.variable("n", domain="integer"), gelvo.variable("p", domain="natural")
Z = gelvo.variable("z", domain="complex")
T = gelvo.variable("t")
Q = gelvo.unknown_function("q", T)

BESIDE_OBJECTS = [
    ("differentiate", ("k*x^2/2", K), "x^2/2"),
    ("differentiate", ("sin(n)*n", N), "n*cos(n) + sin(n)"),
    ("differentiate", ("z^2 + conj(a)", Z), "2*z"),
    ("differentiate", ("sin(q)", Q), "cos(q(t))"),
    ("differentiate", ("k*m^3", M, K), "3*m^2"),
    ("gradient", ("m*k^2", [M, K]), "[k^2; 2*m*k]"),
    ("jacobian", (["k*m", "k + x"], [K, M]), "[m, k; 1, 0]"),
    ("hessian", ("k*m", [K, M]), "[0, 1; 1, 0]"),
    ("divergence", (["m^2", "k*m"], [M, K]), "3*m"),
    ("laplacian", ("k^2*m", [K]), "2*m"),
    ("difference_quotient", ("k^2", K, "h"), "h + 2*k"),
    ("integrate", ("exp(-2*k)", K, 0, 1), "exp(-1)*sinh(1)"),
    ("integrate", ("sqrt(k^2)", K), "k^2/2"),
    ("add_up", ("k^2", K, 1, 10), "385"),
    ("add_up", ("n", N, 1, 4), "10"),
    ("multiply_up", ("k", K, 1, 5), "120"),
    ("limit", ("k*x", K, 3), "3*x"),
    ("limit", ("sqrt(k^2)/k", K, 0, "above"), "1"),
    ("series", ("sin(k)", K, 0, 3), "k - k^3/6   # + O(k^5)"),
    ("laplace", ("exp(-k)", K, "s"), "1/(s + 1)   # if s > -1"),
    ("degree", ("k^2 + k", K), "2"),
    ("coefficients", ("a*k^2 + 3*k", K), "{1: 3, 2: a}"),
    ("leading_coefficient", ("a*k^2 + 3*k", K), "a"),
    ("collect", ("a*k + b*k", K), "k*(a + b)"),
    ("partial_fractions", ("1/(k^2 - 1)", K), "1/(2*(k - 1)) - 1/(2*(k + 1))"),
    ("solve", ("k^2 = 4", K), "k = 2"),
    ("solve", ("k*x = m", "x"), "x = m/k   # if k != 0"),
    ("solve", ("m*q'' + k*q = 0", Q), None),
    ("roots_between", ("k^2 - 2", K, 1, 2), "[sqrt(2)]"),
    ("substitute", ("k + m", {K: 2, "m": "x"}), "x + 2"),
    ("matrix", ([[K, "k*m"], ["m", M]],), "[k, m*k; m, m]"),
    ("equal", ("sqrt(k^2)", K), "True"),
    ("is_known", ("k + 1 > 1",), "None"),
    ("simplify", ("sqrt(k^2) + abs(m)",), "abs(k) + abs(m)"),
]


@pytest.mark.parametrize(("call", "arguments", "gives"), BESIDE_OBJECTS, ids=lambda v: str(v)[:40])
def test_text_is_read_with_the_names_of_its_call(call: str, arguments: tuple[Any, ...], gives: str | None) -> None:
    result = getattr(gelvo, call)(*arguments)
    if gives is None:
        assert {n.name for n in result[0][Q].children[0].children} or result.verdict == "proved"
    else:
        assert str(result) == gives


@pytest.mark.parametrize(
    ("call", "arguments"),
    [
        ("differentiate", (K * T, gelvo.variable("k"))),
        ("equal", (K, gelvo.variable("k"))),
        ("integrate", (gelvo.variable("m") * T, "t", 0, M)),
        ("solve", ([K + 1], [gelvo.variable("k")])),
        ("is_known", (K > 0, [gelvo.variable("k") > 1])),
        ("simplify", (gelvo.variable("z"), ["z complex"])),
    ],
)
def test_one_spelling_with_two_domains_is_told(call: str, arguments: tuple[Any, ...]) -> None:
    with pytest.raises(gelvo.DomainError, match=r"two domains|built as real"):
        getattr(gelvo, call)(*arguments)


COMPLEX = [
    ("equal", ("conj(z)", "z"), {"given": ["z complex"]}, "False"),
    ("equal", ("abs(z)^2", "z*conj(z)"), {"given": ["z complex"]}, "True"),
    ("equal", ("abs(z + 1)^2", "abs(z)^2 + 1 + 2*re(z)"), {"given": ["z complex"]}, "True"),
    ("equal", ("abs(z)^2", "z^2"), {"given": ["z complex"]}, "False"),
    ("equal", ("re(z)", "(z + conj(z))/2"), {"given": ["z complex"]}, "True"),
    ("simplify", ("conj(z)*z",), {"given": ["z complex"]}, "z*conj(z)"),
    ("simplify", ("im(z)",), {"given": "z complex"}, "im(z)"),
    ("simplify", ("conj(conj(z))",), {"given": ["z complex"]}, "z"),
    ("simplify", ("sqrt(z^2)",), {"given": ["z complex, a > 0"]}, "sqrt(z^2)"),
    ("is_known", ("abs(z)^2 = z^2",), {"given": ["z complex"]}, "None"),
    ("solve", ("z^2 = -1", "z"), {"given": ["z complex"]}, "z = -1j or z = 1j"),
    ("solve", ("z^2 = -1", "z"), {"over": "complex"}, "z = -1j or z = 1j"),
    (
        "solve",
        ("z^2 = conj(z)", "z"),
        {"over": "complex"},
        "z = 0 or z = 1 or z = -1/2 - 1j*sqrt(3)/2 or z = -1/2 + 1j*sqrt(3)/2",
    ),
    ("solve", ("z + 2*conj(z) = 3 + 1j", "z"), {"over": "complex"}, "z = 1 - 1j"),
    ("solve", ("abs(z) + z = 2 + 1j", "z"), {"over": "complex"}, "z = 3/4 + 1j"),
    ("solve", ("z^2 = conj(z)", "z"), {}, "z = 0 or z = 1"),
    ("formula", ("conj(z) + z",), {"given": ["z complex"]}, "z + conj(z)"),
    ("expand", ("(z + conj(z))^2",), {"given": ["z complex"]}, "z^2 + 2*z*conj(z) + conj(z)^2"),
]


@pytest.mark.parametrize(("call", "arguments", "options", "gives"), COMPLEX, ids=lambda v: str(v)[:40])
def test_domains_take_effect_before_text_is_built(call: str, arguments: Any, options: Any, gives: str) -> None:
    assert str(getattr(gelvo, call)(*arguments, **options)) == gives


def test_a_complex_unknown_comes_back_as_the_variable_that_was_given() -> None:
    x = gelvo.variable("x")
    found = gelvo.solve(x**2 + 4, x, over="complex")
    assert list(found[0]) == [x] and (x + 1).substitute(found[0]) == 1 - 2j
    with pytest.raises(gelvo.NotSolved, match="curve"):
        gelvo.solve("z*conj(z) = 1", "z", over="complex")


BOUND = [
    ("add_up", ("k", "k", 1, "k"), "k*(k + 1)/2"),
    ("add_up", ("k*x", "x", 1, "x"), "k*x*(x + 1)/2"),
    ("integrate", ("x", "x", 0, "x"), "x^2/2"),
    ("integrate", ("a*x", "a", 0, "x"), "x^3/2"),
    ("integrate", ("x*sum_of(x, x, 1, 3)", "x"), None),
    ("limit", ("x*h", "x", "x"), "h*x"),
    ("limit", ("x*sum_of(x, x, 1, 3)", "x", 2), "2*sum_of(x_1, x_1, 1, 3)"),
    ("carry_out", ("k*sum_of(k*x, k, 1, k)",), "k^2*(k + 1)*x/2"),
    ("carry_out", ("k + sum_of(k, k, 1, 3)",), "k + 6"),
    ("carry_out", ("x + integral_of(x, x, 0, x)",), "x^2/2 + x"),
    ("differentiate", ("integral_of(x^2, x, 0, x)", "x"), "x^2"),
    ("differentiate", ("k*sum_of(x^k, k, 0, n)", "k"), "sum_of(x^k_1, k_1, 0, n)"),
    ("differentiate", ("sum_of(x^k, k, 0, k)", "k"), "derivative_of(sum_of(x^k_1, k_1, 0, k), k)"),
    ("solve", ("x + integral_of(x, x, 0, 1) = 2", "x"), "x = 2 - integral_of(x_1, x_1, 0, 1)"),
    ("degree", ("x + integral_of(x^2, x, 0, 1)", "x"), "1"),
    ("equal", ("integral_of(x, x, 0, a)", "integral_of(t, t, 0, a)"), "True"),
    ("equal", ("sum_of(x, x, 1, x)", "sum_of(t, t, 1, x)"), "True"),
    ("equal", ("limit_of(sin(h)/h, h, 0)", "limit_of(sin(u)/u, u, 0)"), "True"),
    ("simplify", ("sum_of(k^2, k, 1, n) - sum_of(j^2, j, 1, n)",), "0"),
    ("simplify", ("abs(x) + integral_of(abs(x), x, -1, 1)",), "abs(x) + integral_of(abs(x), x, -1, 1)"),
    ("substitute", ("sum_of(k*a, k, 1, n)", {"a": "k"}), "sum_of(k*k_1, k_1, 1, n)"),
    ("rename", ("x + sum_of(x, x, 1, 3)", {"x": "y"}), "y + sum_of(y, y, 1, 3)"),
]


@pytest.mark.parametrize(("call", "arguments", "gives"), BOUND, ids=lambda v: str(v)[:45])
def test_bound_names_are_apart_from_free_ones(call: str, arguments: Any, gives: str | None) -> None:
    result = getattr(gelvo, call)(*arguments)
    shown = str(getattr(result, "expression", result))
    assert shown == gives if gives else "x_1" in shown and result.reason


def test_facts_are_no_facts_about_a_bound_name() -> None:
    kept = gelvo.simplify("abs(x) + integral_of(abs(x), x, -1, 1)", given=["x > 0"])
    assert str(kept) == "x + integral_of(abs(x_1), x_1, -1, 1)"
    assert str(gelvo.simplify("integral_of(abs(x), x, -1, 1)", given=["x > 0"])) == "integral_of(abs(x), x, -1, 1)"


# a fact about the variable of an integral, a sum or a limit holds if the variable does run there, else it is refused
RANGES = [
    ("integrate", ("1/x^2", "x", -1, 1), ["x != 0"], None),
    ("integrate", ("tan(x)", "x", 0, "pi"), ["cos(x) != 0"], None),
    ("integrate", ("abs(x)", "x", -1, 1), ["x > 0"], None),
    ("integrate", ("x", "x", 0, 1), ["x integer"], None),
    ("integrate", ("x", "x", 0, 1), ["x = 1"], None),
    ("integrate", ("abs(x)", "x", 0, "L"), ["x > 0"], None),
    ("integrate", ("abs(x)", "x", 0, "L"), ["x > 0", "x < L", "L > 0"], "L^2/2"),
    ("integrate", ("abs(x)", "x", "L", 0), ["x > 0", "L > 0"], "-L^2/2"),
    ("integrate", ("abs(x)", "x", 0, 1), ["x positive"], "1/2"),
    ("integrate", ("x*exp(-x)", "x", 0, "inf"), ["x >= 0"], "1"),
    ("integrate", ("1/x^2", "x", 1, 2), ["x != 0", "x > 1/2"], "1/2"),
    ("carry_out", ("integral_of(abs(x), x, -1, 1)",), ["x > 0"], None),
    ("by_parts", ("integral_of(x*sqrt(x^2), x, -1, 1)", "x"), ["x > 0"], None),
    ("add_up", ("abs(k)", "k", -3, 3), ["k > 0"], None),
    ("add_up", ("abs(k)", "k", 1, 3), ["k > 0"], "6"),
    ("add_up", ("abs(k)", "k", 0, 3), ["k natural"], "6"),
    ("add_up", ("k", "k", 0, "n"), ["k <= n", "n natural"], "n*(n + 1)/2"),
    ("limit", ("sin(pi*n)", "n", "inf"), ["n natural"], "0"),
    ("limit", ("sin(pi*n)", "n", "inf"), [], "undefined"),
    ("limit", ("abs(x)/x", "x", 0), ["x > 0"], "1"),
    ("limit", ("abs(x)/x", "x", 0), ["x < 0"], "-1"),
    ("limit", ("abs(x)/x", "x", 0), ["x != 0"], "undefined"),
    ("limit", ("abs(x)/x", "x", 0, "above"), ["x < 0"], None),
    ("limit", ("abs(x)", "x", -1), ["x > 0"], None),
    ("limit", ("1/x", "x", "inf"), ["x > a"], "0"),
    ("limit", ("1/x", "x", "inf"), ["x < 5"], None),
    ("limit", ("x", "n", 3), ["n natural"], None),
    ("limit", ("ln(x)", "x", 0), ["x > 0"], "-inf"),
    ("laplace", ("abs(t)", "t", "s"), ["t < 0"], None),
    ("fourier", ("exp(-abs(t))", "t", "w"), ["t > 0"], None),
]


@pytest.mark.parametrize(("call", "arguments", "given", "gives"), RANGES, ids=lambda v: str(v)[:45])
def test_facts_about_a_variable_hold_only_where_it_runs(call: str, arguments: Any, given: list[str], gives: str | None) -> None:
    if gives is None:
        with pytest.raises(gelvo.DomainError, match=r"is about|whole numbers"):
            getattr(gelvo, call)(*arguments, given=given)
    else:
        assert str(getattr(gelvo, call)(*arguments, given=given).expression) == gives


def test_whole_numbers_do_not_oscillate_where_real_ones_do() -> None:
    shifted = gelvo.limit("sin(pi*sqrt(n^2 + 1))", N, "inf")  # it is sin(pi/(2*n)), nearly, and goes to 0
    assert (str(shifted), shifted.verdict) == ("0", "proved")
    assert gelvo.limit("cos(pi*n/2)", N, "inf") == gelvo.undefined


def test_claims_about_integrals_take_no_licence_either() -> None:
    assert gelvo.check("integral_of(1/x^2, x, -1, 1) = -2", given=["x != 0"]).verdict != "proved"
    assert gelvo.check("integral_of(abs(x), x, -1, 1) = 0", given=["x > 0"]).verdict == "refuted"
    assert gelvo.check("integral_of(abs(x), x, 0, x) = x^2/2", given=["x > 0"]).verdict == "proved"


SIDES = [
    ("abs(x)", ["x > 0"], "x"), ("abs(x)", ["x < 0"], "-x"), ("abs(x)", [], None), ("sqrt(x^2)", [], None), ("sqrt(x^2)", ["x > 0"], "x"),
    ("sqrt(x^2 + x^3)", [], None), ("abs(x)*x", [], None), ("sign(x)", [], None), ("floor(x)", [], None), ("atan(1/x)", [], None),
    ("atan(1/x)", ["x > 0"], "pi/2 - x"), ("sqrt(x)", [], "sqrt(x)"), ("x*ln(x)", [], "x*ln(x)"), ("cos(x)", [], "1 - x^2/2"), ("1/x", [], "1/x"),
]  # fmt: skip


@pytest.mark.parametrize(("text", "given", "gives"), SIDES, ids=str)
def test_an_expansion_holds_on_both_sides_or_says_on_which(text: str, given: list[str], gives: str | None) -> None:
    if gives is None:
        with pytest.raises(gelvo.NoClosedForm, match="both sides"):
            gelvo.series(text, "x", 0, 2, given=given)
    else:
        found = gelvo.series(text, "x", 0, 2, given=given)
        assert gelvo.equal(found, gives) and found.verdict in ("proved", "supported")


def test_expansions_far_out_hold_on_their_own_side() -> None:
    assert gelvo.series("abs(x)", "x", "-inf", 2) == gelvo.formula("-x") and gelvo.series("x", "x", "-inf", 2).verdict == "proved"
