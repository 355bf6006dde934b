"""The statements as people type them after `gelvo do`: text, steps, JSON, exit codes."""

from __future__ import annotations

import json

import pytest
from click.testing import CliRunner

from gelvo.cli import main

SAID = [
    ("factor x^4 + 1 over sqrt(2)", ["√2", "✓ proved"]),
    ("factor x^2 + 1 over 1j", ["x", "✓ proved"]),
    ("partial fractions 1/(x^2 - 1) by x", ["2 (x − 1)", "✓ proved"]),
    ("complete square x^2 + 6*x + 1 by x", ["(x + 3)² − 8"]),
    ("amplitude phase 3*cos(w*t) + 4*sin(w*t) by t", ["5 cos"]),
    ("rationalize denominator 1/(1 + sqrt(2))", ["√2 − 1"]),
    ("express tan(x)*cos(x) in terms of sin, cos", ["sin(x)"]),
    ("combine logarithms in ln(a) + ln(b) given a > 0, b > 0", ["ln(a b)"]),
    ("expand trigonometric in sin(x + y)", ["cos(x) sin(y) + cos(y) sin(x)"]),
    ("coefficients of a*x^2 + 3*x by x", ["coefficient of x = 3", "coefficient of x² = a"]),
    ("divide x^3 + 2 by x - 1 for x", ["quotient = x² + x + 1", "remainder = 3"]),
    ("gcd of x^2 - 1, x^3 - 1", ["x − 1"]),
    ("discriminant a*x^2 + b*x + c by x", ["b² − 4 a c"]),
    ("abbreviate (x + sqrt(a^2 + b*c + 1))/(x - sqrt(a^2 + b*c + 1))", ["where A₁ = a² + b c + 1"]),
    ("simplify sin(pi/7)*sin(2*pi/7)*sin(3*pi/7)", ["√7", "✓ proved"]),
    ("solve x^3 - 3*x + 1 = 0 for x", ["cos", "✓ proved"]),
    ("solve x^5 - x - 1 = 0 for x", ["root₁", "4 further complex solutions"]),
    ("value polynomial_root(x^5 - x - 1, 1) to 20 digits", ["1.1673039782614186843"]),
    ("solve y'' + y = 0 for y", ["y(x) = C₁ cos(x) + C₂ sin(x)", "✓ proved"]),
    ("solve m*x_ddot + k*x = 0 for x given m > 0, k > 0", ["x(t) =", "✓ proved"]),
    ("solve x'' + w_0^2*x = F*cos(w*t) for x given w_0 > 0, w > 0", ["off resonance:", "resonance:", "if w = w₀", "✓ proved"]),
    ("solve x' = x*y, y' = -x*y for x, y given x(0) = 1, y(0) = 1", ["x(t)", "y(t)", "✓ proved"]),
    ("check sqrt(a^2 + b^2) = c given c^2 = a^2 + b^2, c > 0", ["✓ proved"]),
]


@pytest.mark.parametrize(("statement", "words"), SAID, ids=[s for s, _ in SAID])
def test_what_is_shown(statement, words):
    done = CliRunner().invoke(main, ["do", statement])
    assert done.exit_code == 0, done.output
    flat = " ".join(done.output.split())
    for word in words:
        assert word in flat or all(piece in flat for piece in word.split()), done.output


def test_steps_are_shown_with_rule_fact_and_proof():
    done = CliRunner().invoke(main, ["do", "--steps", "simplify sqrt(x^2)/x given x > 0"])
    assert done.exit_code == 0
    assert "using x > 0" in done.output and "1." in done.output and done.output.count("proved") >= 2


@pytest.mark.parametrize("statement", [s for s, _ in SAID[:12]])
def test_programs_read_the_same_answers(statement):
    done = CliRunner().invoke(main, ["do", "--json", statement])
    loaded = json.loads(done.output)
    assert done.exit_code == 0 and loaded["steps"][0]["statement"] == statement
    assert loaded["steps"][0]["verdict"] in ("proved", "", None)


REFUSED = [
    ("partial fractions 1/x", "this reads  partial fractions E by x"),
    ("partial fractions sin(x) by x", "rational function"),
    ("combine foo in x", "combine powers in E"),
    ("express x", "in terms of"),
    ("express x in terms of magic", "choose one of"),
    ("gcd x", "takes 2 formulas"),
    ("divide x by y", "divide P by Q for x"),
    ("factor x over pi", "algebraic"),
    ("complete square x^3 by x", "degree 2"),
    ("minimal polynomial pi", "algebraic"),
    ("value polynomial_root(x^2 - 2, 5)", "2 different roots"),
    ("solve x^5 + a*x^3 + b*x^2 + c*x = 1 for x", "degree 5"),
    ("simplify q given x < y, y < x", "contradict"),
]


@pytest.mark.parametrize(("statement", "message"), REFUSED, ids=[s for s, _ in REFUSED])
def test_what_is_refused_is_said_in_a_sentence(statement, message):
    done = CliRunner().invoke(main, ["do", statement])
    assert done.exit_code == 2
    assert message in done.output + (done.stderr or "") and "Traceback" not in done.output


def test_a_whole_derivation_with_the_new_statements(tmp_path):
    source = tmp_path / "bridge.gelvo"
    source.write_text(
        "title A bridge of four resistors\n"
        "given R > 0, d > 0, d < R\n"
        "let U be (R + d)/(2*R + d) - 1/2\n"
        "let short be simplify U\n"
        "partial fractions short by d\n"
        "numerator short\n"
        "check short = d/(2*(2*R + d))\n"
        "check not short = d/(4*R)\n"
        "abbreviate (R + sqrt(R^2 + d^2 + 1))/(R - sqrt(R^2 + d^2 + 1))\n",
        encoding="utf-8",
    )
    done = CliRunner().invoke(main, ["run", str(source)])
    assert done.exit_code == 0, done.output
    report = (tmp_path / "bridge-results" / "bridge.html").read_text(encoding="utf-8")
    assert "where" in report and report.count("proved") >= 3
