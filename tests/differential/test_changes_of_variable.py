"""Where a solution lives, changes of the variable, special functions in them: each solution followed by numbers of its own."""

from __future__ import annotations

import pytest
from mpmath import mp

import gelvo
from hunt.plain import holds, read, value

LETTERS = {"n": "1.7", "a": "1.3", "v": "2.6", "k": "0.8", "E": "3.3"}

# y'' = -p*y' - q*y as Python of mpmath, against the solution that is told
LINEAR = [
    ("y'' + cot(x)*y' + n*(n + 1)*y = 0", lambda x: (1 / mp.tan(x), mp.mpf("1.7") * mp.mpf("2.7")), (0.8, 1.9)),
    ("y'' - tan(x)*y' + 2*y = 0", lambda x: (-mp.tan(x), 2), (0.2, 1.1)),
    ("y'' + (v/cosh(x)^2 - 1)*y = 0", lambda x: (0, mp.mpf("2.6") / mp.cosh(x) ** 2 - 1), (-0.7, 1.2)),
    ("y'' + (6/cosh(x)^2 - 1)*y = 0", lambda x: (0, 6 / mp.cosh(x) ** 2 - 1), (0.3, 1.5)),
    ("y'' - y' + exp(2*x)*y = 0", lambda x: (-1, mp.exp(2 * x)), (-0.5, 0.9)),
    ("y'' - (exp(-2*x) - 2*exp(-x) + a^2)*y = 0", lambda x: (0, -(mp.exp(-2 * x) - 2 * mp.exp(-x) + mp.mpf("1.69"))), (-0.4, 1.1)),
    ("x*y'' - y' + 4*x^3*y = 0", lambda x: (-1 / x, 4 * x**2), (0.5, 1.6)),
    ("(1 + x^2)*y'' + x*y' - k^2*y = 0", lambda x: (x / (1 + x**2), -mp.mpf("0.64") / (1 + x**2)), (-0.9, 1.4)),
    ("(1 - x^2)*y'' - 3*x*y' + n*(n + 2)*y = 0", lambda x: (-3 * x / (1 - x**2), mp.mpf("1.7") * mp.mpf("3.7") / (1 - x**2)), (-0.5, 0.6)),
    ("y'' + (E - x^2)*y = 0", lambda x: (0, mp.mpf("3.3") - x**2), (-0.8, 1.3)),
    ("x*(1 - x)*y'' + (1 - 2*x)*y' - y/4 = 0", lambda x: ((1 - 2 * x) / (x * (1 - x)), -1 / (4 * x * (1 - x))), (0.2, 0.7)),
    ("y'' + (2*x + 3)*y = 0", lambda x: (0, 2 * x + 3), (-1.5, 1.2)),
    ("4*x*y'' + 2*y' - y = 0", lambda x: (1 / (2 * x), -1 / (4 * x)), (0.4, 2.0)),
]  # fmt: skip


@pytest.mark.parametrize(("equation", "coefficients", "span"), LINEAR, ids=[c[0] for c in LINEAR])
def test_a_told_solution_is_the_one_that_numbers_follow(equation, coefficients, span):
    given = [f"{n} > 0" for n in LETTERS if n in equation.replace("exp", "").replace("tan", "").replace("cosh", "")]
    found = gelvo.solve(equation, "y(x)", given=given)
    assert found.verdict == "proved" and len(found) == 1 and len(found.constants) == 2
    (formula,) = found[0].values()
    here = {n: mp.mpf(v) for n, v in LETTERS.items()}
    for constants in ((1, 0), (0, 1), (0.4, -1.1)):
        table = {**here, **{str(c): mp.mpf(v) for c, v in zip(found.constants, constants, strict=True)}}
        y = lambda x, table=table: mp.re(value(read(str(formula)), {**table, "x": mp.mpf(x)}))
        assert all(holds(read(str(c)), {**table, "x": mp.mpf(span[0])}) for c in found.conditions_of(0))

        def slopes(x, state):
            p, q = coefficients(x)
            return [state[1], -p * state[1] - q * state[0]]

        followed = mp.odefun(slopes, span[0], [y(span[0]), mp.diff(y, span[0])])
        assert abs(followed(span[1])[0] - y(span[1])) < 1e-9 * (1 + abs(y(span[1])))


STRETCHES = [
    ("y' = y^2", ["y(0) = 1"], "y(x) = 1/(1 - x) if x < 1"),
    ("y' = y^2", ["y(0) = -1"], "y(x) = -1/(x + 1) if x > -1"),
    ("y' = y^2", ["y(0) = y_0", "y_0 > 0"], "y(x) = 1/(1/y_0 - x) if x < 1/y_0"),
    ("y' = 1 + y^2", ["y(0) = 0"], "y(x) = tan(x) if x > -pi/2 and x < pi/2"),
    ("y' = 1 + y^2", ["y(pi) = 0"], "y(x) = tan(x) if x > pi/2 and x < 3*pi/2"),
    ("x*y' = y^2", ["y(1) = 1"], "y(x) = 1/(1 - ln(x)) if x > 0 and x < exp(1)"),
    ("y' = 2*x*y^2", ["y(0) = 1"], "y(x) = 1/(1 - x^2) if x > -1 and x < 1"),
    ("y' = exp(y)", ["y(0) = 0"], "y(x) = -ln(1 - x) if x < 1"),
    ("x*y' + y = 1/x", ["y(-1) = 0"], "y(x) = ln(abs(x))/x if x < 0"),
    ("y'' + y = 1/cos(x)", ["y(0) = 0", "y'(0) = 0"], "y(x) = x*sin(x) + cos(x)*ln(cos(x)) if x > -pi/2 and x < pi/2"),
    ("x^2*y'' + x*y' + y = 0", ["y(1) = 1", "y'(1) = 0"], "y(x) = cos(ln(x)) if x > 0"),
    ("y' = y^2", ["y(0) = y_0"], "y(x) = 1/(1/y_0 - x) if y_0 != 0 and y_0*x != 1 or y(x) = 0 if y_0 = 0"),
]  # fmt: skip


@pytest.mark.parametrize(("equation", "given", "told"), STRETCHES, ids=[f"{s[0]} {s[1]}" for s in STRETCHES])
def test_a_start_has_its_stretch(equation, given, told):
    found = gelvo.solve(equation, "y(x)", given=given)
    assert str(found) == told and found.verdict == "proved"


def test_parts_of_a_general_solution():
    found = gelvo.solve("y'' + 4*y = x", "y(x)")
    assert str(found.general) == "x/4 + C_1*cos(2*x) + C_2*sin(2*x)" and str(found.particular) == "x/4"
    pair = gelvo.solve(["x' = y", "y' = -x + 1"], ["x(t)", "y(t)"])
    assert [str(v) for v in pair.particular.values()] != [str(v) for v in pair.general.values()]
    with pytest.raises(gelvo.NotSolved, match="not linear in its constants"):
        _ = gelvo.solve("y' = y*tan(x)*y", "y(x)").only(0).particular
    with pytest.raises(gelvo.NotSolved, match="no constants are free"):
        _ = gelvo.solve("y' = y", "y(x)", given=["y(0) = 1"]).general
