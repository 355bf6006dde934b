"""Equations with letters and without closed form: the one zero, where it is told that there is one and no other."""

import mpmath
import pytest

import gelvo

ROWS = [  # equation, facts, the zeros as they are told, values of the letters, a polynomial or function for the numbers
    ("x^4 + x = a", "a > 0", "root_of(r^4 + r - a, r, -inf, 0) | root_of(r^4 + r - a, r, 0, inf)", {"a": 2}),
    ("x^4 - a*x - 1 = 0", "a > 0", "root_of(1 + a*r - r^4, r, -inf, 0) | root_of(1 + a*r - r^4, r, 0, inf)", {"a": 2}),
    ("x^5 + a*x = 1", "a > 0", "root_of(r^5 + a*r - 1, r, 0, inf)", {"a": 3}),
    ("x^7 + x^3 = a", "", "root_of(r^7 + r^3 - a, r, -inf, inf)", {"a": -5}),
    ("tanh(x) = a*x", "a > 1", "0", {"a": 2}),
    ("x*tan(x) = a", "a > 0; 0 < x; x < pi/2", "root_of(a - r*tan(r), r, 0, pi/2)", {"a": 2}),
    ("x = M + e*sin(x)", "0 < e; e < 1", "root_of(e*sin(r) + M - r, r, M - 2*e, M + 2*e)", {"M": 1, "e": "1/2"}),
    ("x + a*atan(x) = b", "a > 0", "root_of(r - b + a*atan(r), r, (2*b - pi*a)/2, (pi*a + 2*b)/2)", {"a": 3, "b": 2}),
    ("cos(x) = a*x", "a > 1", "root_of(a*r - cos(r), r, -2/a, 2/a)", {"a": 2}),
    ("x*exp(x) + a*x = b", "a > 0; b > 0; x > 0", "root_of(a*r + r*exp(r) - b, r, 0, inf)", {"a": 2, "b": 7}),
]


@pytest.mark.parametrize(("text", "given", "told", "letters"), ROWS, ids=[r[0] for r in ROWS])
def test_the_one_zero(text, given, told, letters):
    found = gelvo.solve(text, "x", given=given.split("; ") if given else [])
    assert [str(s["x"]) for s in found] == told.split(" | ")
    assert found.complete and found.verdict == "proved" and "no closed form" in found.road
    equation = gelvo.substitute(gelvo.equation(*text.split(" = ")), letters)
    for solution in found:
        place = mpmath.mpf(str(gelvo.value(gelvo.substitute(solution["x"], letters), 25)))
        sides = [
            gelvo.value(gelvo.substitute(s, {"x": gelvo.formula(mpmath.nstr(place, 25))}), 15)
            for s in (equation.left, equation.right)
        ]
        assert abs(float(sides[0]) - float(sides[1])) < 1e-12


@pytest.mark.parametrize(("text", "given"), [("x = M + e*sin(x)", "e > 0"), ("tan(x) = a*x", "a > 1; 0 < x; x < 3")])
def test_what_is_not_told_is_no_answer(text, given):
    with pytest.raises(gelvo.NotSolved):
        gelvo.solve(text, "x", given=given.split("; ") if given else [])


PIECES = [  # equation, facts, first rows as they are told, (values of the letters, how many zeros these leave)
    (
        "x^5 - x = a",
        "",
        "x = -5^(3/4)/5 if a = 4*5^(3/4)/25 | x = 5^(3/4)/5 if a = -4*5^(3/4)/25 | "
        "x = root_of(a + r - r^5, r, -inf, -5^(3/4)/5) if a < 4*5^(3/4)/25",
        [({"a": "1/2"}, 3), ({"a": 1}, 1), ({"a": -3}, 1)],
    ),
    ("x*tan(x) = a", "0 < x; x < pi/2", "x = root_of(a - r*tan(r), r, 0, pi/2) if a > 0", [({"a": 2}, 1), ({"a": -1}, 0)]),
    (
        "x^6 + a*x = 1",
        "",
        "x = root_of(r^6 + a*r - 1, r, -inf, -6^(4/5)*a^(1/5)/6) if a > 0",
        [({"a": 3}, 2), ({"a": 0}, 2), ({"a": -2}, 2)],
    ),
    ("x^5 + p*x + q = 0", "", "", [({"p": 1, "q": 2}, 1), ({"p": -5, "q": 1}, 3), ({"p": 0, "q": 7}, 1), ({"p": -5, "q": 4}, 2)]),
    ("tan(x) = a*x", "a > 1; 0 < x; x < pi/2", "x = root_of(a*r - tan(r), r, atan(sqrt(a - 1)), pi/2)", [({"a": 3}, 1)]),
    ("x + 2*sin(x) = a", "0 <= x; x <= 2*pi", "x = 0 if a = 0", [({"a": 0}, 1), ({"a": 3}, 3), ({"a": 6}, 1), ({"a": 7}, 0)]),
    (
        "exp(x) + x^2 = a",
        "",
        "x = -lambertw(1/2) if a = lambertw(1/2)^2 + exp(-lambertw(1/2))",
        [({"a": 2}, 2), ({"a": "1/2"}, 0)],
    ),
    ("cosh(x) = a*x", "", "", [({"a": 2}, 2), ({"a": 1}, 0)]),
    ("x^7 + p*x^2 = 1", "", "", [({"p": 3}, 3), ({"p": 0}, 1), ({"p": -2}, 1)]),
    ("a*x^5 + x^2 = 1", "", "", [({"a": "1/10"}, 3), ({"a": 2}, 1), ({"a": -1}, 1)]),
    ("x^5 + x^4 = a", "a > 0", "x = -4/5 if a = 256/3125", [({"a": "1/20"}, 3), ({"a": 1}, 1)]),
]


@pytest.mark.parametrize(("text", "given", "told", "counts"), PIECES, ids=[r[0] for r in PIECES])
def test_each_zero_has_its_region_of_the_letters(text, given, told, counts):
    found = gelvo.solve(text, "x", given=given.split("; ") if given else [])
    rows = str(found.listed()).split(" or x = ")
    assert " | x = ".join(rows).startswith(told) and found.complete and found.verdict == "proved"
    equation = gelvo.equation(*text.split(" = "))
    for letters, count in counts:
        places = set()
        for k, values in enumerate(found):
            if all(gelvo.is_known(gelvo.substitute(c, letters)) is True for c in found.conditions_of(k)):
                place = gelvo.value(gelvo.substitute(values["x"], letters), 20)
                left, right = (
                    gelvo.value(gelvo.substitute(s, {**letters, "x": gelvo.formula(str(place))}), 15)
                    for s in (equation.left, equation.right)
                )
                assert abs(float(left) - float(right)) < 1e-12
                places.add(round(float(place), 9))
        assert len(places) == count
