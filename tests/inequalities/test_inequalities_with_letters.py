"""Inequalities whose letters are open: the cases as a table, and what one does with them."""

import pytest

import gelvo

TABLES = [
    ("a*x > b", "", "a > 0: b/a < x | a = 0, b >= 0: no solution | a = 0, b < 0: every value solves | a < 0: x < b/a"),
    ("a*x < 1", "a != 0", "a > 0: x < 1/a | a < 0: 1/a < x"),
    ("x^2 > a", "", "a >= 0: x < -sqrt(a) or sqrt(a) < x | a < 0: every value solves"),
    ("(x - a)*(x - b) < 0", "", "b <= a: b < x and x < a | a < b: a < x and x < b"),
    ("abs(x - a) < b", "", "b >= 0: a - b < x and x < a + b | b < 0: no solution"),
    ("1/x > a", "", "a > 0: x > 0 and x < 1/a | a = 0: x > 0 | a < 0: x < 1/a or x > 0"),
    ("x/(b - 2*x) < 0", "", "b >= 0: x < 0 or b/2 < x | b < 0: x < b/2 or x > 0"),
    ("b - 2*x > x/a", "a > 0", "always: x < a*b/(2*a + 1)"),
    ("exp(x) > a", "", "a > 0: ln(a) < x | a <= 0: every value solves"),
    ("exp(-k*t) < c", "k > 0; c > 0", "always: -ln(c)/k < t"),
    ("ln(x) < a", "", "always: x > 0 and x < exp(a)"),
    ("a^x > b", "0 < a; a < 1; b > 0", "always: x < ln(b)/ln(a)"),
    ("x^2 - 2*a*x + 1 > 0", "a > 1", "always: x < a - sqrt(a^2 - 1) or a + sqrt(a^2 - 1) < x"),
    ("x + 1/x > a", "a > 2; x > 0", "always: (x > 0 and x < (a - sqrt(a^2 - 4))/2) or (a + sqrt(a^2 - 4))/2 < x"),
    ("sqrt(x + a) > x", "a > 0", "always: -a <= x and x < (sqrt(4*a + 1) + 1)/2"),
    ("sqrt(x + b) <= b*x", "", "b > 0: (sqrt(4*b^3 + 1) + 1)/(2*b^2) <= x | b = 0: x = 0 | b < 0: no solution"),
    ("m*x + 1 > x + m", "", "m > 1: x > 1 | m = 1: no solution | m < 1: x < 1"),
    ("v_0*t - g*t^2/2 > h", "g > 0; v_0 > 0; h > 0", "2*g*h <= v_0^2: (v_0 - sqrt(v_0^2 - 2*g*h))/g < t and t < (v_0 + sqrt(v_0^2 - 2*g*h))/g | v_0^2 < 2*g*h: no solution"),
]  # fmt: skip


@pytest.mark.parametrize(("text", "given", "rows"), TABLES, ids=[t[0] for t in TABLES])
def test_cases_of_the_letters(text, given, rows):
    unknown = "t" if "t" in text.replace("sqrt", "") else "x"
    found = gelvo.solve(text, unknown, given=given.split("; ") if given else [])
    assert [f"{', '.join(map(str, r.when)) or 'always'}: {r.shown}" for r in found.case_table()] == rows.split(" | ")
    assert found.verdict in ("proved", "supported") and found.complete


def test_a_set_with_cases_is_joined_asked_and_narrowed():
    found = gelvo.solve("x^2 > a", "x")
    assert (
        str(found.taking("a > 0").condition) == "x < -sqrt(a) or sqrt(a) < x"
        and str(found.taking("a = -1")) == "every value solves"
    )
    assert str(found & gelvo.solve("x > 0", "x", given=["a > 0"])) == "(a >= 0 and sqrt(a) < x) or (a < 0 and x > 0)"
    assert len(found.cases) == 2 and found.certificate().parts
    for wrong in (lambda: found.intervals, found.number_line):
        with pytest.raises(gelvo.NotSolved, match=r"depend on the letters \(a >= 0; a < 0\): state as a fact which case holds"):
            wrong()
