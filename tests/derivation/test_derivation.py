"""The derivation language: every statement, its faults, the report and the certificates."""

from __future__ import annotations

import json
import re
from importlib import resources

import jsonschema
import pytest

import gelvo
from gelvo.derivation import report
from gelvo.derivation.engine import Derivation
from gelvo.derivation.lines import Line, statements
from parts import examples

DEMO = resources.files("gelvo.derivation").joinpath("torsion_balance.gelvo").read_text(encoding="utf-8")
EXAMPLES = examples("gelvo")


def carry_out(source, stem="trial"):
    derivation = Derivation(stem)
    derivation.run(source)
    return derivation


def last(source):
    return carry_out(source).results[-1]


def shown(source):
    result = last(source)
    assert result.kind != "fault", result.note
    return str(getattr(result.shown[-1][1], "expression", result.shown[-1][1]))


STATEMENTS = [
    ("(a + b)^2 - (a - b)^2", "4*a*b"),
    ("simplify sin(x)^2 + cos(x)^2", "1"),
    ("expand (x + 1)^2", "x^2 + 2*x + 1"),
    ("factor x^2 - 1", "(x - 1)*(x + 1)"),
    ("collect a*x + b*x by x", "(a + b)*x"),
    ("differentiate sin(x)^2 by x", "sin(2*x)"),
    ("differentiate x^2*y^3 by x, y", "6*x*y^2"),
    ("integrate x^2*exp(-x) by x from 0 to inf", "2"),
    ("integrate exp(-a*x) by x given a > 0", "-exp(-a*x)/a"),
    ("solve x^2 = a for x given a > 0", "x = -sqrt(a) or x = sqrt(a)"),
    ("solve x^2 = 4 for x taking x > 0", "x = 2"),
    ("solve x + y = 3, x - y = 1 for x, y", "x = 2, y = 1"),
    ("solve x^2 = -1 for x over complex", "x = -1j or x = 1j"),
    ("value sqrt(2) to 10 digits", "1.414213562"),
    ("value x^2 to 5 digits with x = 1/3", "0.11111"),
    ("value sin(30 {deg})", "0.5"),
    ("substitute x = 3, y = a + b in x*y", "3*(a + b)"),
    ("rename mass to m in mass*c^2", "m*c^2"),
    ("factor common_denominator(1/(x-1) + 1/(x+1))", "2*x/((x - 1)*(x + 1))"),
    ("integrate 1/x by x from -1 to 1", "undefined"),
    ("power + sum", "power + sum"),
    ("2*x + 3*x", "5*x"),
]


@pytest.mark.parametrize(("statement", "result"), STATEMENTS, ids=[s[0] for s in STATEMENTS])
def test_statements(statement, result):
    assert shown(statement) == result


def test_definitions_functions_and_parts_of_solutions():
    derivation = carry_out(
        """
let E(v) be m*v^2/2
let twice be 2*E(3)
let w be solve w^2 = kappa/J for w given kappa > 0, J > 0 taking w > 0
let T be 2*pi/w
let both be solve i_1 + i_2 = i, i_1 - i_2 = d for i_1, i_2
let first be i_1 of both
let force be differentiate E(v) by v
"""
    )
    texts = {r.statement.split()[1]: str(r.shown[-1][1]) for r in derivation.results}
    assert texts["twice"] == "9*m"
    assert texts["T"] == "2*pi/sqrt(kappa/J)" or gelvo.equal(texts["T"], "2*pi*sqrt(J/kappa)", given=["J > 0", "kappa > 0"])
    assert gelvo.equal(texts["first"], "(i + d)/2")
    assert texts["force"] == "m*v"


def test_a_function_of_ones_own_may_give_a_matrix():
    turn = "let R(p) be [cos(p), -sin(p); sin(p), cos(p)]\n"
    assert shown(turn + "R(pi/2)") == "[0, -1; 1, 0]"
    assert shown(turn + "simplify R(a)*R(b) - R(a + b)") == "[0, 0; 0, 0]"


@pytest.mark.parametrize(
    "source",
    [
        "let law(a) be x*(x - a)/(x - a) = 1\nsolve law(1) for x",
        "let law be x*(x - 1)/(x - 1) = 1\nsolve law for x",
        "let law(v) be sin(x)^v/sin(x) = 0\nsolve law(2) for x",
    ],
)
def test_an_equation_keeps_what_it_divides_by_under_a_name(source):
    result = last(source)
    assert not len(result.shown[-1][1]) and any("denominator" in told for told in result.details)


def test_facts_hold_for_every_later_statement_and_conditions_travel():
    assert shown("given x > 0\nsimplify sqrt(x^2)") == "x"
    result = last("let F be integrate cos(k*x) by x\nsimplify F*k")
    assert [str(c) for c in carry_out("let F be integrate cos(k*x) by x").results[-1].conditions] == ["k != 0"]
    assert str(result.shown[-1][1]) == "sin(k*x)"


def test_the_conditions_of_a_name_are_no_facts_for_the_line_that_defines_it_anew():
    first = "let F be solve exp(x) = a for x\n"
    assert [str(c) for c in carry_out(first).results[-1].conditions] == ["a > 0"]
    assert shown(first + "let F be integrate sqrt(a^2) by x") == "x*abs(a)"
    assert shown(first + "let G be simplify F + sqrt(a^2)") == "a + ln(a)"


CHECKS = [
    ("check (x + 1)^2 = x^2 + 2*x + 1", "proved"),
    ("check not (x + 1)^2 = x^2 + 1", "refuted as expected"),
    ("check integral_of(2*x, x) = x^2", "proved"),
    ("check T = 2*pi*sqrt(J/kappa) with T = 2*pi*sqrt(J/kappa)", "proved"),
    ("check sqrt(x^2) = x given x > 0", "proved"),
    ("check sqrt(x^2) = x", "refuted"),
    ("check not 1 = 1", "proved"),
    ("check gamma(1/6) = 2^(-1/3)*sqrt(3/pi)*gamma(1/3)^2", "undecided"),
]


@pytest.mark.parametrize(("statement", "verdict"), CHECKS, ids=[c[0] for c in CHECKS])
def test_checks(statement, verdict):
    result = last(statement)
    assert result.verdict == verdict
    assert result.failed is (verdict in ("refuted", "undecided") or statement == "check not 1 = 1")


def test_a_stated_solution_of_a_differential_equation():
    source = "given k > 0, m > 0\nunknown x(t)\nlet motion be m*x'' + k*x = 0\nlet w be sqrt(k/m)\n"
    good = last(source + "check motion where x = x_0*cos(w*t) given x(0) = x_0, x'(0) = 0")
    assert good.verdict == "proved"
    assert last(source + "check not motion where x = x_0*cos(2*w*t)").verdict == "refuted as expected"
    assert last(source + "check motion where x = x_0*cos(w*t) + x_1*sin(w*t) with x_1 = 0 given x'(0) = 0").verdict == "proved"


FAULTS = [
    ("let be 3", "let NAME be"),
    ("let 2x be 3", "cannot be a name"),
    ("solve x^2 = a", "several names"),
    ("solve x^2 = 4 for x over purple", "not a domain"),
    ("solve x^2 = 4 for x taking x > 5", "no solution is left"),
    ("solve x^5 + a*x^3 + b*x^2 + c*x = 1 for x", "degree 5"),
    ("value x + 1", "needs numbers for x"),
    ("value x", "`x` is not defined"),
    ("value pi to many digits", "to 20 digits"),
    ("substitute x in y", "old = new"),
    ("check x + 1", "neither"),
    ("unknown theta", "unknown theta(t)"),
    ("given a > 0, a < 0", "contradict"),
    ("plot a*sin(x) for x from 0 to 1", "needs numbers for a"),
    ("plot sin(x) for x from 1 to 0", "empty"),
    ("export x as cobol", "export format"),
    ('export x as c to "../x"', "leaves it"),
    ("x(y + 1)", "x*(y + 1)"),
    ("simplify x +", "ends too early"),
    ("let v be solve x^2 = 4 for x\nv + 1", "2 solutions"),
    ("simplify x = 1", "equation"),
    ("value pi with x", "with x = "),
]


@pytest.mark.parametrize(("source", "said"), FAULTS, ids=[f[0] for f in FAULTS])
def test_faults_are_sentences(source, said):
    result = last(source)
    assert result.kind == "fault", result
    assert said in result.note


def test_a_faulty_line_does_not_stop_the_rest():
    derivation = carry_out("let a be 1/0\nlet b be x(y)\nlet c be 3\nvalue c")
    assert [r.kind for r in derivation.results] == ["fault", "fault", "let", "step"]
    assert report.summary(derivation.results)["faults"] == 2


def test_the_caret_of_a_fault_stands_in_the_whole_statement():
    result = last("let a be x + y(z)")
    lines = result.note.splitlines()
    assert lines[0] == "let a be x + y(z)"
    assert lines[1].index("^") == lines[0].index("(z)")


def test_lines_are_joined_and_comments_removed():
    source = "title A # not shown\n\nlet a be x +\n    y   # the rest\n> prose with # kept\n# alone\nvalue 1"
    assert [(line.text, line.number) for line in statements(source)] == [
        ("title A", 1),
        ("let a be x + y", 3),
        ("> prose with # kept", 5),
        ("value 1", 7),
    ]


def test_units_are_recorded_for_figures_and_code():
    derivation = carry_out("given J > 0 {kg m^2}, t real {s}\nunknown theta(t) {rad}\nlet y be J*t\nexport y as c")
    assert derivation.units["J"] == "kg m^2" and derivation.units["theta"] == "rad"
    header = dict(derivation.results[-1].files)["trial.h"]
    assert "t in s" in header and "J in kg m^2" in header


def test_exports_are_named_after_the_derivation_with_inputs_as_they_appear():
    derivation = carry_out('let y be b*sin(a*t)\nexport y as c, numpy, latex, mathml to "out/"')
    paths = [p for p, _ in derivation.results[-1].files]
    assert paths == [
        "out/trial.c",
        "out/trial.h",
        "out/test_trial.c",
        "out/trial.py",
        "out/test_trial.py",
        "out/trial.tex",
        "out/trial.mml",
    ]
    header = dict(derivation.results[-1].files)["out/trial.h"]
    order = re.search(r"trial\((.*)\)", header).group(1).replace("double ", "").split(", ")
    assert sorted(order) == ["a", "b", "t"]


@pytest.fixture(scope="module")
def demo():
    derivation = Derivation("torsion_balance")
    derivation.run(DEMO)
    return derivation


class TestDemo:
    def test_every_claim_comes_out_as_the_text_says(self, demo):
        counts = report.summary(demo.results)
        assert counts["faults"] == 0 and counts["refuted"] == 0 and counts["undecided"] == 0 and counts["supported"] == 0
        assert counts["proved"] >= 15 and counts["refuted as expected"] >= 3

    def test_the_numbers_are_right(self, demo):
        values = {r.shown[0][0]: str(r.shown[0][1]) for r in demo.results if r.statement.startswith("value")}
        import mpmath

        with mpmath.workdps(40):
            J, kappa, c = mpmath.mpf("2.1e-5"), mpmath.mpf("8.4e-6"), mpmath.mpf("1.5e-6")
            period = 2 * mpmath.pi / mpmath.sqrt(kappa / J - c**2 / (4 * J**2))
            ratio = mpmath.exp(-c * period / (2 * J))
            assert values["period"] == mpmath.nstr(period, 20, strip_zeros=False)
            assert values["ratio"] == mpmath.nstr(ratio, 20, strip_zeros=False)

    def test_the_report_is_one_page_without_scripts_or_outside_resources(self, demo):
        page = report.html(demo.title, demo.results)
        assert "<script" not in page and "http://www.w3.org/1998/Math/MathML" in page
        assert not re.search(r'(src|href)="(?!#)', page.replace('xlink:href="#', "#").replace('href="#', "#"))
        for word in (
            "proved",
            "refuted as expected",
            "how it was checked",
            "prefers-color-scheme: dark",
            "@media print",
            "<figure>",
        ):
            assert word in page
        assert page.count("<details>") >= 15

    def test_text_of_the_user_is_escaped(self):
        page = report.html("<b>title</b>", carry_out("> <script>alert(1)</script>\nlet a be 3 # <i>\nx $ <img>").results)
        assert "<script>alert" not in page and "<b>title" not in page and "<img>" not in page

    def test_certificates_follow_the_schema(self, demo):
        data = json.loads(report.as_json(demo.title, demo.results))
        jsonschema.Draft202012Validator.check_schema(report.schema())
        jsonschema.validate(data, report.schema())
        assert data["version"] == 1 and len(data["steps"]) > 30

    def test_the_same_report_twice(self):
        lines = "title Twice\nlet s be A*exp(-c*t)*sin(w*t)\ndifferentiate s by t\nplot s for t from 0 to 5 with A = 2, c = 1/2, w = 3\nsolve x^2 = a for x"
        pages = []
        for _ in range(2):
            derivation = Derivation("twice")
            pages.append(report.html(derivation.title, derivation.run(lines)))
        assert pages[0] == pages[1] and "<svg" in pages[0]

    def test_files_are_written(self, demo, tmp_path):
        written = [
            p.relative_to(tmp_path).as_posix() for p in report.write(tmp_path, demo.title, demo.results, "torsion_balance")
        ]
        assert "torsion_balance.html" in written and "certificates.json" in written and "out/torsion_balance.c" in written
        assert not list(tmp_path.rglob("*.part"))
        assert (tmp_path / "torsion_balance_figure_1.png").read_bytes().startswith(b"\x89PNG")


@pytest.mark.parametrize("path", EXAMPLES, ids=[p.stem for p in EXAMPLES])
def test_example_derivations_run_and_hold(path):
    derivation = Derivation(path.stem, folder=path.parent)
    derivation.run(path.read_text(encoding="utf-8"))
    counts = report.summary(derivation.results)
    faults = [r.note for r in derivation.results if r.kind == "fault"]
    assert not faults
    assert counts["refuted"] == 0 and counts["undecided"] == 0, counts
    assert counts["proved"] >= 2 and counts["supported"] <= 4
    jsonschema.validate(report.certificates(derivation.title, derivation.results), report.schema())
    assert not re.findall(r"[$*]", typeset_part(report.html(derivation.title, derivation.results)))


def typeset_part(page):
    """The text of a report without what was typed (statements, code) and the records of certificates."""
    page = page.split("<main>")[1]
    for tag in ("svg", "pre", "code", "dd", r'p class="statement"'):
        page = re.sub(rf"<{tag}[ >].*?</{tag.split()[0]}>", "", page, flags=re.DOTALL)
    return re.sub(r"<[^>]*>", " ", page)


def test_three_formulas_in_one_line_of_prose_are_no_emphasis():
    derivation = carry_out("> The spot moves by $y = 2*D*h/(1 - h^2)$ with $h = tan(theta/2)$; solve for $h$, **once**.")
    page = report.html("", derivation.results)
    assert page.count("<math") == 3 and "<em>" not in page and "<strong>once</strong>" in page
    assert not re.findall(r"[$*]", typeset_part(page))


def test_a_result_without_closed_form_is_no_fault():
    result = last("integrate 1/sqrt(x^5 - x + 1) by x")
    assert result.kind == "step" and result.reason and result.verdict == ""
    assert not result.failed


def test_a_proof_that_there_is_no_elementary_form_has_a_verdict():
    result = last("integrate tan(u)/u by u")
    assert result.kind == "step" and "no elementary antiderivative" in result.reason and result.verdict == "proved"
    assert "No elementary form" in report.html("", [result])


def test_words_of_operations_may_be_names():
    assert shown("let value be 3\nvalue + 1") == "4"
    assert shown("let sum be x\n2*sum") == "2*x"


def test_progress_is_told():
    seen = []
    Derivation().run("let a be 1\nlet b be 2", lambda done, total, text: seen.append((done, total, text)))
    assert seen == [(0, 2, "let a be 1"), (1, 2, "let b be 2")]


def test_one_line_alone():
    result = Derivation().safely(Line("integrate x by x", 1))
    assert result.verdict == "proved" and str(result.shown[0][1]) == "x^2/2"


@pytest.mark.parametrize(
    ("statement", "shown"),
    [
        ("factor x^4 + 1 over sqrt(2)", "(x^2 - sqrt(2)*x + 1)*(x^2 + sqrt(2)*x + 1)"),
        ("factor x^2 - 2 over reals", "(x - sqrt(2))*(x + sqrt(2))"),
        ("expand logarithms in ln(a*b) given a > 0, b > 0", "ln(a) + ln(b)"),
        ("combine logarithms in ln(a) + ln(b) given a > 0, b > 0", "ln(a*b)"),
        ("express tan(x)*cos(x) in terms of sin, cos", "sin(x)"),
        ("partial fractions 1/(x^2 - 1) by x", "1/(2*(x - 1)) - 1/(2*(x + 1))"),
        ("complete square x^2 + 2*x by x", "(x + 1)^2 - 1"),
        ("amplitude phase 3*cos(t) + 4*sin(t) by t", "5*cos(t - atan(4/3))"),
        ("rationalize denominator 1/(1 + sqrt(2))", "sqrt(2) - 1"),
        ("collect a*x*y + b*x*y by x, y", "x*y*(a + b)"),
        ("gcd x^2 - 1, x^3 - 1", "x - 1"), ("lcm of x, x^2", "x^2"), ("degree of x^3 by x", "3"), ("numerator of 1/x + 1/y", "x + y"),
        ("leading coefficient a*x^2 by x", "a"), ("discriminant x^2 + p*x + q by x", "p^2 - 4*q"),
        ("resultant of y^2 - 2, (x - y)^2 - 3 by y", "x^4 - 10*x^2 + 1"), ("minimal polynomial sqrt(2) + 1", "x^2 - 2*x - 1"),
        ("divide x^3 + 2 by x - 1 for x", "x^2 + x + 1"), ("coefficients of a*x^2 + 3*x by x", "3"),
        ("abbreviate (x + sqrt(a^2 + b*c + 1))/(x - sqrt(a^2 + b*c + 1))", "(x + sqrt(A_1))/(x - sqrt(A_1))"),
    ],
)  # fmt: skip
def test_rewriting_statements(statement, shown):
    result = Derivation().safely(Line(statement, 1))
    assert result.kind == "step", result.note
    assert str(result.shown[0][1]) == str(gelvo.formula(shown))
    assert result.certificate is None or result.verdict == "proved"


def test_invariants_are_told_apart():
    derivation = Derivation()
    derivation.run("let A be [s, tau; tau, 0]")
    result = derivation.safely(Line("invariants of A", 2))
    assert [(which, str(value)) for which, value in result.shown] == [
        ("first invariant", "s"), ("second invariant", "-tau^2"),
    ]  # fmt: skip
    assert "2 by 2 or 3 by 3" in derivation.safely(Line("invariants of [1, 2]", 3)).note
    solid = derivation.safely(Line("invariants of [1, 0, 0; 0, 2, 0; 0, 0, 3]", 4))
    assert [str(value) for _, value in solid.shown] == ["6", "11", "6"]


@pytest.mark.parametrize(
    ("statement", "told"),
    [
        ("eigenvalues of [1, 0; 0, 1]", "eigenvalue (2 times) = 1"),
        ("eigenvectors of [2, 1; 1, 2]", "its vector ="),
        ("null space of [1, 1; 1, 1]", "spanned by"),
        ("invariants of [s, tau; tau, 0]", "first invariant = s"),
    ],
)
def test_what_a_part_is_stands_before_it(statement, told):
    result = Derivation().safely(Line(statement, 1))
    assert told in report.plain_lines(result)
    words, _, _ = told.partition(" = ")
    assert words.removesuffix(" =") in report.html("Parts", [result]).replace("\u00a0", " ")


def test_steps_stand_in_the_result():
    result = Derivation(steps=True).safely(Line("simplify sqrt(x^2)/x given x > 0", 1))
    assert [s.verdict for s in result.steps] == ["proved"] and "x > 0" in str(result.steps[0])
