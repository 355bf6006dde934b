"""The statements of integrals by hand, as they run in a derivation and leave in its report."""

from __future__ import annotations

import re

import pytest

import gelvo
from gelvo.derivation.engine import Derivation
from gelvo.derivation.report import html, plain_lines
from gelvo.derivation.results import Words


def carried(*lines, **options):
    derivation = Derivation("day", **options)
    derivation.run("\n".join(lines) + "\n")
    return derivation.results


def last(*lines, **options):
    return carried(*lines, **options)[-1]


EXPLAINED = [
    ("explain integral of x*exp(x^2) by x", ["substitution, u = x^2", "table: exp", "put together"]),
    ("explain integral x*exp(x) by x", ["table: exp", "by parts: x is differentiated", "put together"]),
    ("explain integral of exp(x)*cos(x) by x", ["table", "by parts", "by parts", "the integral came back, -1 times", "put together"]),
    ("explain integral of 1/(x^2 - 1) by x", ["partial fractions", "table: 1/x", "table: 1/x", "put together"]),
    ("explain integral of x*atan(x) by x from 0 to 1", ["power rule", "by parts", "partial", "table", "a constant", "put", "the antiderivative at"]),
    ("explain integral of sqrt(a^2 - x^2) by x given a > 0", ["substitution x = a*sin(u)", "products of waves", "table: cos", "a constant", "put"]),
    ("explain integral of x^2 by x from -1 to 2", ["power rule", "the antiderivative at the ends"]),
    ("explain integral of 2*x + sin(x) by x", ["term by term", "power rule", "table: sin", "put together"]),
]  # fmt: skip


@pytest.mark.parametrize(("line", "rules"), EXPLAINED, ids=[line for line, _ in EXPLAINED])
def test_an_explanation_has_a_rule_and_an_equation_for_each_line(line, rules):
    result = last(line)
    words = [str(thing) for _, thing in result.shown if isinstance(thing, Words)]
    equations = [thing for _, thing in result.shown if not isinstance(thing, Words)]
    assert [re.sub(r"^\d+\. ", "", w)[: len(r)] for w, r in zip(words, rules, strict=True)] == rules
    assert len(equations) == len(words) and all("integral_of(" in str(e) for e in equations)
    assert result.verdict == "proved" and all(w.endswith("(proved)") for w in words)
    assert [int(w.split(".")[0]) for w in words] == list(range(1, len(words) + 1))


def test_the_name_of_an_explained_integral_is_its_answer():
    results = carried("let F be explain integral of x*exp(x) by x", "check derivative_of(F, x) = x*exp(x)", "value F with x = 2")
    assert [r.verdict for r in results] == ["proved", "proved", "proved"]
    assert str(results[-1].shown[-1][1]).startswith("7.389")


def test_what_has_no_elementary_form_says_so_in_place_of_lines():
    result = last("explain integral of exp(-x^3) by x")
    assert "no elementary antiderivative" in result.reason and result.verdict == "proved"
    assert not any(isinstance(thing, Words) for _, thing in result.shown)


def test_a_divergent_integral_is_explained_in_one_line():
    result = last("explain integral of 1/x by x from -1 to 1")
    assert str(result.shown[-1][1]).endswith("= undefined") and result.verdict == "proved"


def test_the_report_sets_rules_as_sentences_and_lines_as_formulas():
    results = carried("title A page", "explain integral of exp(-x)*sin(2*x) by x")
    page = html("A page", results)
    assert (
        page.count('<p class="note">') >= 5
        and "by parts: sin(2·x) is differentiated, exp(−x) integrated to −exp(−x) (proved)" in page
    )
    assert page.count("<math") >= 5
    text = plain_lines(results[-1])
    assert "2. by parts: sin(2·x)" in text and "⌠" in text


def test_steps_of_a_plain_integral_are_shown_where_they_are_asked_for():
    plain, told = last("integrate x*exp(x^2) by x"), last("integrate x*exp(x^2) by x", steps=True)
    assert not plain.steps and [s.rule for s in told.steps] == [
        "substitution, u = x^2",
        "table: exp",
        "put together, up to a constant",
    ]
    assert str(told.steps[0]).endswith("(substitution, u = x^2; proved)")


BY_HAND = [
    ("split integral integral_of(abs(x), x, -1, 2) at 0, 1", "integral_of(abs(x), x, -1, 0) + integral_of(abs(x), x, 0, 1) + integral_of(abs(x), x, 1, 2)"),
    ("split integral integral_of(x + exp(x), x)", "integral_of(x, x) + integral_of(exp(x), x)"),
    ("recurrence of integral_of(tan(x)^n, x) for n", "tan(x)^(n - 1)/(n - 1) - integral_of(tan(x)^(n - 2), x)"),
    ("recurrence of integral_of(sin(x)^n, x, 0, pi/2) for n given n > 1", "(n - 1)*integral_of(sin(x)^(n - 2), x, 0, pi/2)/n"),
    ("differentiate under integral_of(sin(a*x)/x, x, 1, 2) by a", "integral_of(cos(a*x), x, 1, 2)"),
    ("differentiate under integral_of(x^a, x, 1, a) by a given a > 1", "a^a + integral_of(x^a*ln(x), x, 1, a)"),
]  # fmt: skip


@pytest.mark.parametrize(("line", "wanted"), BY_HAND, ids=[line for line, _ in BY_HAND])
def test_integrals_by_hand_are_statements(line, wanted):
    result = last(line)
    assert result.verdict == "proved"
    assert result.shown[-1][1].expression == gelvo.formula(wanted)


FAULTS = [
    ("recurrence of integral_of(gamma(x)^n, x) for n", "no recurrence in n"),
    ("recurrence of x^2 for n", "one integral_of(f, x) is needed"),
    ("differentiate under integral_of(x, x, 1, 2) by a", "a is no letter of"),
    ("split integral integral_of(1/x, x, -1, 2) at 0", "it is not known whether"),
    ("split integral integral_of(x, x) at 0", "has no ends"),
    ("explain integral of x", "this reads  explain integral of E by x"),
]


@pytest.mark.parametrize(("line", "fragment"), FAULTS, ids=[line for line, _ in FAULTS])
def test_a_faulty_line_says_what_is_wanted(line, fragment):
    result = last(line)
    assert result.kind == "fault" and fragment in result.note
