"""Statements for modes, separation, power series and motions by numbers: what they show, their verdicts, what is said of slips."""

from __future__ import annotations

import pytest

from gelvo.derivation.engine import Derivation
from gelvo.derivation.report import plain_lines

SHOWN = [
    (
        "eigenmodes of y'' + k*y = 0 for y(x), k given y(0) = 0, y(L) = 0, L > 0",
        ["n from 1 on", "orthogonal with the weight 1", "no k < 0"],
    ),
    ("eigenmodes of y'''' = k*y for y(x), k given y(0) = 0, y'(0) = 0, y(1) = 0, y'(1) = 0", ["cos(z)*cosh(z) - 1 = 0"]),
    ("eigenmodes of y'' + k*y = 0 for y(x), k given y'(0) = 0, y'(L) = 0, L > 0", ["k = 0"]),
    ("separate u_t = a*u_xx for u(x, t) given u(0, t) = 0, u(L, t) = 0, u(x, 0) = T, a > 0, L > 0", ["n = 1", "u(x, t) ="]),
    (
        "separate u_t = u_xx for u(x, t) given u(0, t) = 0, u(1, t) + u_x(1, t) = 0, u(x, 0) = 1",
        ["over all z > 0", "to 20 terms"],
    ),
    ("series solution of y'' - x*y = 0 for y(x) through power 6", ["with the exponent 0", "c(n - 3)"]),
    ("series solution of x*y'' + y' + x*y = 0 for y(x) about 0", ["ln(x)"]),
    ("series solution of y'' + x*y = 0 for y(x) about 1 through power 3", ["(x − 1)"]),
]


@pytest.mark.parametrize(("statement", "told"), SHOWN, ids=[s[0][:50] for s in SHOWN])
def test_what_a_statement_shows_and_proves(statement, told):
    found = Derivation()
    found.run(statement)
    result = found.results[-1]
    text = " ".join([plain_lines(result), *result.details]).replace("$", "")
    assert result.verdict == "proved"
    for piece in told:
        assert piece in text or piece.replace("−", "-").replace(" ", "") in text.replace(" ", ""), (piece, text)


def test_a_sum_may_be_named_valued_and_drawn():
    found = Derivation()
    found.run(
        "unknown u(x, t)\n"
        "let rod be separate u_t = u_xx for u to 6 terms given u(0, t) = 0, u(1, t) = 0, u(x, 0) = 1\n"
        "value rod to 6 digits with x = 1/2, t = 1/10\n"
        "let warm be rod with t = 1/10\n"
        "plot warm for x from 0 to 1"
    )
    assert "0.474487" in plain_lines(found.results[2])
    assert found.results[-1].figure is not None and not any(r.kind == "fault" for r in found.results)


def test_a_motion_is_followed_by_numbers():
    found = Derivation()
    found.run("follow theta'' + w^2*sin(theta) = 0 for theta(t) from 0 to 10 with w = 2 given theta(0) = 3, theta'(0) = 0")
    result = found.results[-1]
    assert result.figure is not None and "Dormand and Prince" in result.details[0] and "error at most" in result.details[1]
    found.run("follow x' = y, y' = -x for x(t), y(t) from 0 to 6 given x(0) = 1, y(0) = 0")
    assert len(found.results[-1].figure.axes[0].get_lines()) == 2


SLIPS = [
    ("eigenmodes of y'' + k*y = 0 for y(x) given y(0) = 0, y(1) = 0", "a function and a letter"),
    ("separate u_t = u_xx for u(x, t) to many terms given u(0, t) = 0, u(1, t) = 0, u(x, 0) = 1", "to 20 terms"),
    ("separate u_t = u_xx + u^2 for u(x, t) given u(0, t) = 0, u(1, t) = 0, u(x, 0) = 1", "not linear"),
    ("series solution of x^3*y'' + y = 0 for y(x)", "irregular"),
    ("follow y' = a*y for y(t) from 0 to 1 given y(0) = 1", "lacks a"),
    ("follow y' = y^2 for y(t) from 0 to 2 given y(0) = 1", "beyond t = 1"),
]


@pytest.mark.parametrize(("statement", "message"), SLIPS, ids=[s[1] for s in SLIPS])
def test_what_is_said_of_a_slip(statement, message):
    found = Derivation()
    found.run(statement)
    assert found.results[-1].kind == "fault" and message in str(found.results[-1].note) + str(
        found.results[-1].details
    ) + plain_lines(found.results[-1])
