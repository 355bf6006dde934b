"""The rows of the language: each example runs, each shape is asked for, and help, completion and the page say the same."""

from __future__ import annotations

import sys
from pathlib import Path

import pytest
from click.testing import CliRunner

from gelvo.cli import main
from gelvo.derivation.engine import Derivation
from gelvo.derivation.guide import continuations, told_of
from gelvo.derivation.lines import Line
from gelvo.derivation.report import plain_lines
from gelvo.derivation.statements import FORMULA, STATEMENTS
from gelvo.errors import DomainError

ROWS = [*STATEMENTS, FORMULA]
CUT = [row for row in STATEMENTS if not row.whole]
BY_OPENING = {row.opening: row for row in STATEMENTS}


def last(source):
    derivation = Derivation("trial")
    derivation.run(source)
    return derivation.results[-1]


@pytest.mark.parametrize("row", ROWS, ids=[row.opening for row in ROWS])
def test_the_example_of_a_row_runs(row):
    derivation = Derivation("trial")
    derivation.run(row.example)
    assert [r.note for r in derivation.results if r.kind == "fault"] == []
    result = derivation.results[-1]
    assert result.statement.endswith(row.shown.removeprefix(f"{row.opening} ") if row.whole else row.shown)
    assert plain_lines(result) or result.note or result.kind in ("title", "section")
    assert result.verdict in ("", "proved", "supported", "refuted as expected")


@pytest.mark.parametrize("row", CUT, ids=[row.opening for row in CUT])
def test_a_statement_without_its_parts_is_told_how_it_reads(row):
    alone = last(row.opening)
    assert alone.kind == "fault" and row.reads in alone.note and f"For example  {row.shown}" in alone.note


@pytest.mark.parametrize("row", CUT, ids=[row.opening for row in CUT])
def test_a_clause_that_has_no_meaning_is_told(row):
    foreign = "taking" if "taking" not in row.parts.words else "over"
    foreign = "be" if foreign in row.parts.words else foreign
    told = last(f"{row.shown} {foreign} q")
    allowed = ", ".join(row.parts.words) or "no clause"
    assert told.kind == "fault" and f"`{foreign} q` has no meaning in this statement (it may have: {allowed})" in told.note


@pytest.mark.parametrize(
    ("statement", "said"),
    [
        ("integrate x by x from 0", BY_OPENING["integrate"].reads),  # both ends or none
        ("combine foo in x", "combine powers in E"),
        ("rename a to 2b in a", "`2b` cannot be a name"),
        ("let f be title x", "`title` gives nothing"),
        ("value pi to 20", "to 20 digits"),
        ("integrate x) by x", "closes nothing"),
        ("integrate (x by x", "never closed"),
        ("series x about 3", "about x = A"),
        ("substitute x = 1, y in x", "old = new"),
        ("unknown y(t)\nlinearize y'' + y = 0 about 3 for y", "`3` is not of the form"),
        ("animate x for x from 0 to 1 over t from 0", "over t from A to B"),
        ("gcd x, y, z", "takes 2 formulas, not 3"),
    ],
)
def test_what_is_said_of_faulty_statements(statement, said):
    result = last(statement)
    assert result.kind == "fault" and said in result.note, result.note


@pytest.mark.parametrize(
    ("statement", "gives"),
    [
        ("check    not 1 = 2", "1 = 2"), ("common_denominator 1/x + 1/y", "(x + y)/(x*y)"), ("value pi to 1 digit", "3"),
        ("integrate k*x given k > 0 from 0 to 2 by x", "2*k"), ("let sum be 3\nsum", "3"), ("let value be 2\nvalue * 2", "4"),
        ("rename m to μ in m*c", "mu*c"), ("gcd of x^2 - 1, x - 1", "x - 1"), ("factor of x^2 - 1", "(x - 1)*(x + 1)"),
        ("limit 1/x as x->inf", "0"), ("differentiate x^2 by x given x > 0 given y > 0", "2*x"), ("2by = 3", "2*by = 3"),
    ],
)  # fmt: skip
def test_how_statements_may_be_written(statement, gives):
    result = last(statement)
    assert result.kind != "fault", result.note
    assert str(getattr(result.shown[-1][1], "expression", result.shown[-1][1])) == gives


@pytest.mark.parametrize(
    ("typed", "names", "wanted"),
    [
        ("integ", [], ["integrate"]), ("integrate k*x by x f", ["k", "force"], ["from", "force"]), ("inverse f", [], ["fourier"]),
        ("limit x as x ", [], ["->", "from", "with", "given"]), ("let a be differ", [], ["difference", "differentiate"]),
        ("solve x = 1 for x given x > 0 ", [], ["over", "taking", "with"]), ("al", ["alpha"], ["alpha"]), ("(", [], ["with", "given"]),
        ("expand l", [], ["logarithms"]), ("let ", [], ["be"]),
    ],
)  # fmt: skip
def test_an_unfinished_statement_goes_on_with(typed, names, wanted):
    assert continuations(typed, names) == wanted


def test_help_tells_of_every_statement_and_of_none_that_is_not_there():
    every = CliRunner().invoke(main, ["help"]).output
    assert all(row.opening in every for row in STATEMENTS)
    assert told_of("solve").splitlines()[0] == BY_OPENING["solve"].reads and BY_OPENING["solve numerically"].reads in told_of(
        "solve"
    )
    shown = CliRunner().invoke(main, ["help", "fourier", "transform"])
    assert shown.exit_code == 0 and shown.output.startswith("fourier transform of E from t to w")
    with pytest.raises(DomainError, match="did you mean integrate"):
        told_of("integrat x")
    console = CliRunner().invoke(main, ["console"], input="help jumps\nhelp nonsense\nvalue 1\n")
    assert "jumps of LAW by t" in console.output and "opens no statement" in console.output and "1 = 1" in console.output


def test_the_page_of_the_language_is_made_from_the_rows():
    sys.path.insert(0, str(Path(__file__).parents[2] / "docs"))
    try:
        import make_statements
    finally:
        sys.path.pop(0)
    assert make_statements.PAGE.read_text(encoding="utf-8") == make_statements.page(), "run docs/make_statements.py"


def test_a_line_of_many_brackets_is_a_fault_not_a_crash():
    deep = "(" * 5000 + "x" + ")" * 5000
    assert "nested" in Derivation().safely(Line(f"simplify {deep}", 1)).note
