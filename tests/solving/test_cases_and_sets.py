"""Tables of cases, sets of solutions, regions, numbers with proof, and roots without closed form."""

from __future__ import annotations

import math

import pytest

import gelvo
from support import box_at, close

TABLES = [
    ("a*x = b", "x", {}, ["a != 0 | x = b/a", "a = 0, b = 0 | every value solves", "a = 0, b != 0 | no solution"]),
    ("sqrt(x) = a", "x", {}, ["a >= 0 | x = a^2", "a < 0 | no solution"]),
    ("x^2 = a", "x", {}, ["a >= 0 | x = -sqrt(a) or x = sqrt(a)", "a < 0 | no solution"]),
    ("x^2 = a", "x", {"given": ["a > 0"]}, ["always | x = -sqrt(a) or x = sqrt(a)"]),
    (
        ["m*x + y = 1", "x + m*y = 1"], ["x", "y"], {},
        ["m != 1, m != -1 | x = 1/(m + 1), y = 1/(m + 1)", "m = 1 | x = 1 - y, y = y", "m = -1 | no solution"],
    ),
    (
        ["a*x^2 = y", "y = b"], ["x", "y"], {},
        ["a != 0, a*b >= 0 | x = -sqrt(a*b)/a, y = b or x = sqrt(a*b)/a, y = b", "a != 0, a*b < 0 | no solution", "a = 0, b = 0 | x = x, y = b", "a = 0, b != 0 | no solution"],
    ),
    (["a*x = 0", "y = 2"], ["x", "y"], {}, ["a != 0 | x = 0, y = 2", "a = 0 | x = x, y = 2"]),
    (
        ["x = r*cos(phi)", "y = r*sin(phi)"], ["r", "phi"], {"given": ["r >= 0"]},
        ["x^2 + y^2 != 0 | r = sqrt(x^2 + y^2), phi = 2*pi*n_1 + atan2(y, x)", "x^2 + y^2 = 0 | r = 0, phi = phi"],
    ),
]  # fmt: skip


@pytest.mark.parametrize(("equations", "unknowns", "options", "rows"), TABLES, ids=[str(t[0]) for t in TABLES])
def test_a_table_says_every_case_of_the_letters(equations, unknowns, options, rows):
    table = gelvo.solve(equations, unknowns, **options).case_table()
    shown = [" | ".join(part.strip() for part in line.split("   ", 1)) for line in str(table).splitlines()]
    assert shown == rows
    assert len(table) == len(rows) and "<table>" in table._repr_mimebundle_()["text/html"]


def test_the_rows_of_a_cubic_hold_for_numbers():
    table = gelvo.solve("x^3 + p*x + q = 0", "x").case_table()
    for p, q, count in ((1, 2, 1), (-3, 1, 3), (-3, 2, 2), (0, 0, 1), (2, 0, 1)):
        values = {"p": p, "q": q}
        found = set()
        for row in table:
            if all(gelvo.is_known(gelvo.substitute(c, values)) for c in row.when):
                found |= {round(float(gelvo.substitute(s["x"], values)), 9) for s in row.solutions}
        assert len(found) == count
        assert all(abs(x**3 + p * x + q) < 1e-7 for x in found)


QUARTICS = [  # coefficients of x^2, x, 1 and how many real roots: also a double one, a triple one, q = 0
    (1, 1, 1, 0), (-5, 1, 4, 4), (0, 1, -1, 2), (-2, 0, 1, 2), (-6, 8, -3, 2), (-3, 2, 0, 3), (2, -3, "17/16", 0), (-5, 0, 4, 4), (0, 0, 0, 1),
    ("-1/2", "1/3", -7, 2), (0, -4, 3, 1),
]  # fmt: skip


@pytest.mark.parametrize("equation", ["x^4 + p*x^2 + q*x + r = 0", "(x - 1)^4 + p*(x - 1)^2 + q*(x - 1) + r = 0"])
def test_the_rows_of_a_quartic_hold_for_numbers(equation):
    found = gelvo.solve(equation, "x")
    assert found.verdict == "proved" and "Ferrari" in found.road
    for p, q, r, count in QUARTICS:
        values = {"p": p, "q": q, "r": r}
        places = set()
        for k, solution in enumerate(found):
            if all(gelvo.is_known(gelvo.substitute(c, values)) for c in found.conditions_of(k)):
                places.add(round(float(gelvo.value(gelvo.substitute(solution["x"], values), 12)), 7))
        sides = gelvo.equation(*equation.split(" = "))
        assert len(places) == count
        for place in places:
            left = gelvo.substitute(sides.left, {**values, "x": gelvo.formula(f"{place:.7f}")})
            assert abs(float(left)) < 1e-4


def test_a_case_that_is_not_worked_out_is_said():
    table = gelvo.solve("(a^3 + a + 1)*x = 1", "x").case_table()
    assert [row.told for row in table] == ["", "not worked out"]


SETS = [
    ("x^2 > 4", "x > 0", "x > 2", "x < -2 or x > 0", "x >= -2 and x <= 2"),
    ("abs(x) <= 1", "x < 0", "x >= -1 and x < 0", "x <= 1", "x < -1 or x > 1"),
    ("x^2 < 0", "x > 1", "no solution", "x > 1", "every value solves"),
    ("x != 2", "x >= 2", "x > 2", "every value solves", "x = 2"),
]


@pytest.mark.parametrize(("one", "other", "both", "either", "rest"), SETS, ids=[s[0] for s in SETS])
def test_sets_are_joined(one, other, both, either, rest):
    first, second = gelvo.solve(one, "x"), gelvo.solve(other, "x")
    assert str(first & second) == both and str(first.intersect(second)) == both
    assert str(first | second) == either and str(first.unite(second)) == either
    assert str(~first) == rest and str(first.complement()) == rest


def test_sets_about_different_unknowns_are_not_joined():
    with pytest.raises(gelvo.DomainError, match="one set is about x, the other about y"):
        gelvo.solve("x > 1", "x").intersect(gelvo.solve("y > 1", "y"))
    with pytest.raises(gelvo.DomainError, match="joined with another one"):
        gelvo.solve("x > 1", "x").unite(3)


def test_a_set_is_a_fact():
    positive = gelvo.solve("x^3 > 8", "x")
    assert gelvo.is_known("x > 1", given=[positive.condition])
    assert positive.contains(3) and not positive.contains(2)


LINES = [
    ("x^2 >= 4", 30, ["━━━━━━━━━━●─────────●━━━━━━━━━", "          -2        2"]),
    ("x^2 < 0", 12, ["────────────"]),
    ("(x - 1)^2 <= 0", 12, ["──────●─────", "      1"]),
    ("x^2 < cos(x)", 30, ["───────────○━━━━━━━━━━○──────────", "           ≈ -0.8241  ≈ 0.8241"]),
]


@pytest.mark.parametrize(("inequality", "width", "drawn"), LINES, ids=[t[0] for t in LINES])
def test_a_set_on_the_number_line(inequality, width, drawn):
    lines = gelvo.solve(inequality, "x").number_line(width).splitlines()
    assert [line.rstrip() for line in lines] == drawn


REGIONS = [
    (["x + y <= 4", "x >= 0", "y >= 0", "x - y >= 1"], "y >= 0 and y <= 3/2 and x <= 4 - y and y + 1 <= x", {"x": 2, "y": 1}, {"x": 1, "y": 1}),
    (["x + y < 1", "x - y = 2"], "y < -1/2 and x = y + 2", {"x": 0, "y": -2}, {"x": 2, "y": 0}),
    (["x + y < 1", "x + y > 2"], "no solution", None, {"x": 0, "y": 0}),
]  # fmt: skip


@pytest.mark.parametrize(("conditions", "region", "inside", "outside"), REGIONS, ids=[r[1] for r in REGIONS])
def test_linear_inequalities_in_two_unknowns(conditions, region, inside, outside):
    found = gelvo.solve(conditions, ["x", "y"])
    assert str(found) == region and found.verdict == "proved" and found.complete
    assert inside is None or found.contains(inside)
    assert outside is None or not found.contains(outside)


def test_a_region_asks_for_what_it_needs():
    with pytest.raises(gelvo.NotSolved, match="not linear in x, y"):
        gelvo.solve(["x*y < 1", "x > 2"], ["x", "y"])
    with pytest.raises(gelvo.NotSolved, match="other names"):
        gelvo.solve(["x + y < a", "x > 2"], ["x", "y"])
    with pytest.raises(gelvo.DomainError, match="no value for y"):
        gelvo.solve(["x + y < 1", "x > 2"], ["x", "y"]).contains({"x": 1})


# --- numbers with proof --------------------------------------------------------------------------------------------------

BOXES = [
    (["x^2 + y^2 = 4", "y = exp(x)"], 3, 2),
    (["x^2 + y^2 = 1", "x*y = 1"], 2, 0),
    (["sin(x*y) = x - y", "cos(x) + y^2 = 2"], 5, 4),
    (["x^3 - 3*x*y^2 = 1", "3*x^2*y - y^3 = 0"], 2, 3),
]


@pytest.mark.parametrize(("equations", "half", "count"), BOXES, ids=[str(b[0]) for b in BOXES])
def test_all_solutions_in_a_box_and_no_other(equations, half, count):
    found = gelvo.solve_numerically(equations, ["x", "y"], within={"x": (-half, half), "y": (-half, half)})
    assert len(found) == count
    for solution in found:
        assert solution.radius is not None and "and no other: proved" in solution.table()
        assert max(abs(r) for r in solution.residuals.values()) < 1e-12


def test_what_cannot_be_proved_of_a_box_is_said():
    with pytest.raises(gelvo.NotSolved, match="near x = 1, y = 1 it could not be told"):
        gelvo.solve_numerically(["x^2 + y^2 = 2", "x + y = 2"], ["x", "y"], within={"x": (-3, 3), "y": (-3, 3)})
    with pytest.raises(gelvo.DomainError, match="no range for y"):
        gelvo.solve_numerically(["x + y = 2", "x - y = 1"], ["x", "y"], within={"x": (0, 1)})


def test_a_double_solution_has_no_radius():
    found = gelvo.solve_numerically(["x^2 = y", "y = 0"], ["x", "y"], start={"x": 0.1, "y": 0})
    assert found.radius is None and found.table().endswith("not proved")


# --- roots without closed form -------------------------------------------------------------------------------------------

ROOTS = [
    ("x = cos(x)", [], ["0.7390851332151606"]),
    ("x^2 = cos(x)", [], ["-0.8241323123025224", "0.8241323123025224"]),
    ("tan(x) = x", ["0 < x", "x < 8"], ["4.493409457909064", "7.725251836937707"]),
    ("cosh(x)*cos(x) = 1", ["0 < x", "x < 8"], ["4.730040744862704", "7.853204624095838"]),
    ("exp(x) = 4 - x^2", [], ["-1.964635597488865", "1.058006401090636"]),
    ("ln(x) = sin(x)", [], ["2.219107148913746"]),
    ("besselj(0, x) = 0", ["0 < x", "x < 6"], ["2.404825557695773", "5.520078110286311"]),
    ("x^5 + 2*x = sin(x) + 1", [], ["0.7298363812"]),
]


@pytest.mark.parametrize(("equation", "given", "places"), ROOTS, ids=[r[0] for r in ROOTS])
def test_zeros_without_closed_form_are_certified(equation, given, places):
    found = gelvo.solve(equation, "x", given=given)
    assert found.complete and found.verdict == "proved" and "no closed form" in found.road
    assert len(found) == len(places)
    for solution, place in zip(found, places, strict=True):
        digits = len(place.lstrip("-0.").replace(".", "")) - 2
        assert abs(float(solution["x"]) - float(place)) < 10.0 ** -min(digits, 14) * 10


AT_AN_END = "x*exp(x) + x^2 = sqrt(2)*exp(sqrt(2)) + 2"
ENDS = [
    (AT_AN_END, ["0 <= x", "x <= sqrt(2)"], "x = sqrt(2)"),
    (AT_AN_END, ["sqrt(2) <= x", "x <= 2"], "x = sqrt(2)"),
    (AT_AN_END, ["sqrt(2) < x", "x <= 2"], "no solution"),
    ("x*exp(x) + sin(x) = pi*exp(pi)", ["0 <= x", "x <= pi"], "x = pi"),
    ("x*exp(x) + x^2 = exp(1/3)/3 + 1/9", ["0 <= x", "x <= 1/3"], "x = 1/3"),
]


@pytest.mark.parametrize(("equation", "given", "found"), ENDS, ids=[f"{e[2]} in {e[1]}" for e in ENDS])
def test_a_zero_at_an_end_of_the_range_is_the_end(equation, given, found):
    assert str(gelvo.solve(equation, "x", given=given)) == found


LARGE = 2**53 + 3  # no double is this number
WHOLE = [
    (f"x^3 + y^2 = {LARGE**3 + 49}", [f"{LARGE} <= x", f"x <= {LARGE}", "0 <= y", "y <= 20"], f"x = {LARGE}, y = 7"),
    ("2*x - y = 31", ["2 <= x", "x <= 3", "y <= 10^400"], "x = 3, y = -25 or x = 2, y = -27"),
]


@pytest.mark.parametrize(("equation", "given", "found"), WHOLE, ids=[w[2] for w in WHOLE])
def test_ranges_of_whole_numbers_are_exact(equation, given, found):
    assert str(gelvo.solve(equation, ["x", "y"], over="integer", given=given)) == found


def test_a_range_too_long_to_search_is_said():
    with pytest.raises(gelvo.NotSolved, match="no method finds all whole solutions"):
        gelvo.solve("x^3 + y^2 = 31", ["x", "y"], over="integer", given=["x >= 0", "x <= 3", "y >= -10^400", "y <= 10^400"])


def test_zeros_between_places_that_are_zeros():
    assert (
        str(gelvo.roots_between(AT_AN_END, "x", 0, "sqrt(2)"))
        == str(gelvo.roots_between(AT_AN_END, "x", "sqrt(2)", 2))
        == "[sqrt(2)]"
    )


def test_a_root_is_an_object():
    place = gelvo.root_of("x^5 - a*x - 1", "x", 0, "inf")
    at = {"a": 2}
    x = float(gelvo.substitute(place, at))
    assert abs(x**5 - 2 * x - 1) < 1e-14
    slope = float(gelvo.substitute(gelvo.differentiate(place, "a"), at))
    assert math.isclose(slope, x / (5 * x**4 - 2), rel_tol=1e-12)
    assert gelvo.formula(str(place)) is place
    assert r"\operatorname*{root}" in gelvo.typeset(place, "latex")


def test_a_root_is_told_from_other_numbers_and_satisfies_its_equation():
    place = gelvo.solve("x = cos(x)", "x").single
    assert gelvo.equal(gelvo.cos(place), place) is True
    assert gelvo.equal(place, "3/4") is False
    assert gelvo.is_known(place > gelvo.formula("7/10"))
    assert close(box_at(place, {}), box_at(gelvo.cos(place), {}))
    assert gelvo.numeric_function(place * gelvo.variable("a"), ["a"])(2.0) == pytest.approx(1.4781702664303213)


def test_no_range_and_no_end_is_said():
    with pytest.raises(gelvo.NotSolved, match="give a range, such as given 0 <= x"):
        gelvo.solve("tan(x) = x", "x")
    with pytest.raises(gelvo.NotSolved, match="no closed form was found that solves"):
        gelvo.solve("besselj(x, 1) = 1/2", "x")  # no derivative by the order
    with pytest.raises(gelvo.NotSolved, match="how many zeros"):
        gelvo.solve("x^6 + a*x^4 + c*x^2 + d*x - b = 0", "x", given=["x > 0", "b > 0"])


STEPS = [
    ("4^x - 2^(x + 1) = 8", ["2^x - 4 = 0", "a factor"], "x = 2"),
    ("sqrt(x + 5) - sqrt(x) = 1", ["squaring, where both sides have one sign"], "x = 4"),
    ("x^4 - 5*x^2 + 4 = 0", ["a factor"], "x = -1"),
    ("sin(x)^2 + 2*sin(x) = 1", ["a new unknown: u = sin(x)", "u^2 + 2*u - 1 = 0"], "asin(sqrt(2) - 1)"),
    ("sqrt(2*x + 3) = x", ["excluded"], "x = 3"),
    ("cos(5*x) = cos(2*x)", ["the zeros on the unit circle"], "x = 2*pi*n_1/7"),
]


@pytest.mark.parametrize(("equation", "told", "solution"), STEPS, ids=[s[0] for s in STEPS])
def test_every_road_has_steps(equation, told, solution):
    steps = gelvo.solve(equation, "x", steps=True).steps
    text = "\n".join(map(str, steps))
    assert all(part in text for part in told), text
    assert any(s.rule == "put back into the equation" and s.verdict == "proved" and solution in s.statement for s in steps)


STEPS_OF_THEIR_OWN = [  # equation, what is given, the solutions, the step that led there
    ("sin(x) + cos(x) = sqrt(2)*sin(5*x)", {}, "x = pi/16 + pi*n_1/2 or x = pi/8 + pi*n_1/3", "two waves of one amplitude"),
    ("sin(a*x) = cos(b*x)", {"given": ["a > b", "b > 0"]}, "x = (pi/2 + 2*pi*n_1)/(a + b) or x = (pi/2 + 2*pi*n_1)/(a - b)", "two waves"),
    ("cos(pi*sin(x)) = 0", {}, "x = pi*n_1 - pi/6 or x = pi/6 + pi*n_1", "inverse of cos"),
    ("A*cos(w*x) = B*sin(w*x)", {"given": ["A > 0", "B > 0", "w > 0"]}, "x = (pi*n_1 + atan(A/B))/w", "the tangent of the angle"),
    ("4^x + 6^x = 9^x", {}, "x = ln((1 + sqrt(5))/2)/(ln(3) - ln(2))", "a polynomial in one exponential"),
    ("a*4^x + 6^x = 9^x", {"given": ["a > 0"]}, "x = ln((sqrt(4*a + 1) - 1)/(2*a))/(ln(2) - ln(3))", "a polynomial in one exponential"),
    ("3^x + 4^x = 5^x", {}, "x = 2", "1 zero between"),
    ("2^x - 3^x + 1 = 0", {}, "x = 1", "1 zero between"),
    ("2^x + 3^x + 6^x = 1", {}, "x = -1", "1 zero between"),
]  # fmt: skip


@pytest.mark.parametrize(("equation", "options", "told", "road"), STEPS_OF_THEIR_OWN, ids=[s[0] for s in STEPS_OF_THEIR_OWN])
def test_waves_and_exponentials_with_a_step_of_their_own(equation, options, told, road):
    found = gelvo.solve(equation, "x", **options)
    assert str(found) == told and found.verdict == "proved" and found.complete and road in found.road


def test_whole_numbers_between_bounds_are_put_in():
    found = gelvo.solve("2^x - 3^y = 1", ["x", "y"], over="natural", given=["x <= 30", "y <= 20"])
    assert str(found) == "x = 1, y = 0 or x = 2, y = 1" and found.complete
    with pytest.raises(gelvo.NotSolved, match="only polynomial"):
        gelvo.solve("2^x - 3^y = 1", ["x", "y"], over="natural", given=["x <= 300", "y <= 200"])
