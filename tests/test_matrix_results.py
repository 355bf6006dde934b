"""What matrices give beside their formulas: conditions, cases, certificates, steps, forms on paper, arrays; and what they refuse."""

from __future__ import annotations

import math
import pickle

import numpy
import pandas
import pytest
from click.testing import CliRunner
from scipy.linalg import expm

import gelvo
from gelvo.cli import main
from gelvo.derivation.engine import Derivation
from sample_tasks import numeric


def m(text):
    return gelvo.matrix(text)


def shown(result):
    return str(result).splitlines() if "\n" in str(result) else str(result)


CALLS = [  # what is asked of a matrix, and what is printed
    ("[a, b; c, d]", "adjugate", [], "[d, -b; -c, a]"),
    ("[1, 2, 0; 2, 4, 1]", "column_space", [], "[[1; 2], [0; 1]]"),
    ("[1, 2; 2, 4]", "row_space", [], "[[1, 2]]"),
    ("[a, 2*a; 1, 2]", "null_space", [], "[[-2; 1]]"),
    ("[0, 0; 0, 0]", "null_space", [], "[[1; 0], [0; 1]]"),
    ("[a, b; b, a]", "eigenvectors", [], "[(a - b, [[1; -1]]), (a + b, [[1; 1]])]   # if b != 0"),
    ("[0, 1; -1, 0]", "diagonalization", [], "P = [1, 1; -1j, 1j], D = [-1j, 0; 0, 1j]"),
    ("[1/2, 1/3]", "norm", ["rows"], "5/6"),
    ("[3, -4]", "norm", [], "5"),
    ("[a, -3]", "norm", ["columns"], "max(abs(a), 3)"),
    ("[0, 2; 0, 0]", "norm", ["spectral"], "2"),
    ("[1; 1; 0]", "projection", [], "[1/2, 1/2, 0; 1/2, 1/2, 0; 0, 0, 0]"),
    ("[1, 0; 0, 0]", "power", ["n"], "[1, 0; 0, 0]   # if n >= 1"),
    ("[0, 1; 0, 0]", "power", ["n"], "[0, 0; 0, 0]   # if n >= 2"),
    ("[a, 1; 0, a]", "power", ["n"], "[a^n, a^(n - 1)*n; 0, a^n]   # if a != 0"),
    ("[1, 1; 1, 1]", "matrix_function", ["exp(2*x)", "x"], "[1/2 + exp(4)/2, exp(4)/2 - 1/2; exp(4)/2 - 1/2, 1/2 + exp(4)/2]"),
    ("[0, 1; -1, 0]", "logarithm", [], "[0, pi/2; -pi/2, 0]"),
    ("[1 + a^2, a; a, 1]", "cholesky_decomposition", [], "[sqrt(a^2 + 1), 0; a/sqrt(a^2 + 1), 1/sqrt(a^2 + 1)]"),
    ("[1j, 0; 0, 2]", "singular_values", [], "{2: 1, 1: 1}"),
    ("[a, b; 0, a]", "minimal_polynomial", ["x"], "(x - a)^2"),
    (
        "[0, 1, 0, 0, 0; 0, 0, 1, 0, 0; 0, 0, 0, 1, 0; 0, 0, 0, 0, 1; -a, -b, -c, 0, 0]",
        "minimal_polynomial",
        ["x"],
        "x^5 + c*x^2 + b*x + a",
    ),
    ("[cos(t), -sin(t); sin(t), cos(t)]", "inverse", [], "[cos(t), sin(t); -sin(t), cos(t)]"),
]


@pytest.mark.parametrize(("text", "method", "arguments", "wanted"), CALLS, ids=[f"{c[1]} of {c[0]}" for c in CALLS])
def test_what_is_asked_of_a_matrix(text, method, arguments, wanted):
    found = getattr(m(text), method)(*arguments)
    assert str(found) == wanted
    assert getattr(found, "verdict", "proved") == "proved"


CASES = [
    ("[1, a; a, 1]", "rank", ["a != 1, a != -1   2", "a = 1             1", "a = -1            1"]),
    ("[a, b; 0, 0]", "rank", ["a != 0          1", "a = 0, b != 0   1", "a = 0, b = 0    0"]),
    ("[1, 2, a; 2, 4, 6]", "null_space", ["a != 3   [[-2; 1; 0]]", "a = 3    [[-2; 1; 0], [-3; 0; 1]]"]),
    ("[a, 1; 0, 0]", "reduced", ["a != 0   [1, 1/a; 0, 0]", "a = 0    [0, 1; 0, 0]"]),
    ("[1, b; 0, 1]", "eigenvectors", ["b != 0   [(1, [[1; 0]])]", "b = 0    [(1, [[1; 0], [0; 1]])]"]),
    ("[a, 1; 0, b]", "exponential", ["a - b != 0   [exp(a), exp(a)/(a - b) - exp(b)/(a - b); 0, exp(b)]", "a = b        [exp(b), exp(b); 0, exp(b)]"]),
    ("[a^2 + b^2, 0; 0, 1]", "rank", ["a^2 + b^2 != 0   2", "a = 0, b = 0     1"]),
    ("[cos(t), sin(t); sin(t), cos(t)]", "rank", ["cos(t) - sin(t) != 0, cos(t) + sin(t) != 0   2", "t = pi/4 + pi*n_1                            1",
                                                  "t = pi*n_1 - pi/4                            1"]),
]  # fmt: skip


@pytest.mark.parametrize(("text", "method", "wanted"), CASES, ids=[f"{c[1]} of {c[0]}" for c in CASES])
def test_all_cases_of_the_letters(text, method, wanted):
    table = getattr(m(text), method)(cases=True)
    assert shown(table) == wanted
    assert all(row.result.verdict == "proved" for row in table)
    paper = gelvo.typeset(table, "latex")
    assert paper.count(r"\text{if") >= len(table) or "if" in paper


def test_facts_leave_fewer_cases():
    swing = m("[0, 1; -k, -c]")
    assert len(swing.exponential("t", given=["k > 0", "c = 0"], cases=True)) == 1
    assert len(m("[1, a; a, 1]").rank(given=["a > 0"], cases=True)) == 2
    assert m("[a, 1; 1, 2]").definiteness(given=["a > 1/2"]) == "positive definite"
    assert [row.result for row in m("[a, 0; 0, 1]").definiteness()] == [
        "positive definite",
        "positive semidefinite",
        "indefinite",
    ]


WHOLE = [
    ("block_matrix", [[[m("[1]"), m("[2, 3]")], [m("[4; 5]"), m("[6, 7; 8, 9]")]]], "[1, 2, 3; 4, 6, 7; 5, 8, 9]"),
    ("block_diagonal", [m("[a]"), m("[1, 2]")], "[a, 0, 0; 0, 1, 2]"),
    ("gram_schmidt", [[m("[1; 1; 0]"), m("[2; 2; 0]"), m("[1; 0; 0]")]], "[[1; 1; 0], [1/2; -1/2; 0]]"),
    ("gram_schmidt", [[[3, 4], [1, 0]], True], "[[3/5; 4/5], [4/5; -3/5]]"),
    ("euler_rotation", [["pi/2", 0, "pi/2"], "zyx"], "[0, 0, 1; 1, 0, 0; 0, 1, 0]"),
    ("common_eigenvectors", [m("[1, 0; 0, 1]"), m("[a, b; b, a]")], "[1, 1; -1, 1]"),
    ("normal_modes", [m("[1, 0; 0, 2]"), m("[3, -2; -2, 2]")], "[(sqrt(2 - sqrt(3)), [1 - sqrt(3); -1]), (sqrt(2 + sqrt(3)), [1 + sqrt(3); -1])]"),
]  # fmt: skip


@pytest.mark.parametrize(("name", "arguments", "wanted"), WHOLE, ids=[f"{c[0]}-{k}" for k, c in enumerate(WHOLE)])
def test_what_is_made_of_several_matrices(name, arguments, wanted):
    found = getattr(gelvo, name)(*arguments)
    assert str(found) == wanted and getattr(found, "verdict", "proved") == "proved"


REFUSED = [
    (lambda: m("[1, 2; 3, 4]").cholesky_decomposition(), "symmetric matrix"),
    (lambda: m("[1, 2; 2, 1]").cholesky_decomposition(), "positive definite"),
    (lambda: m("[0, 1; 1, 0]").ldl_decomposition(), "pivot 0 is zero"),
    (lambda: m("[1, 1; 1, 1]").qr_decomposition(), "independent columns"),
    (lambda: m("[1, 1; 1, 1]").least_squares(gelvo.column([1, 2])), "free"),
    (lambda: m("[1, 1; 0, 1]").diagonalization(), "too few eigenvectors"),
    (lambda: m("[1, 2; 2, 4]").logarithm(), "singular"),
    (lambda: m("[0, 1; 0, 0]").square_root(), "too few eigenvectors"),
    (lambda: m("[1, 2]").jordan_form(), "square matrix"),
    (lambda: m("[1, 2]").norm("tall"), "frobenius"),
    (lambda: m("[1, 2; 3, 4]").definiteness(), "symmetric"),
    (lambda: m("[1, 2]").hadamard(m("[1]")), "one shape"),
    (lambda: gelvo.column([1, 2]).exterior(gelvo.column([1])), "no exterior product"),
    (lambda: gelvo.block_matrix([[m("[1]"), m("[1; 2]")]]), "need the same number"),
    (lambda: gelvo.gram_schmidt([m("[1, 2; 3, 4]")]), "one row or one column"),
    (lambda: gelvo.common_eigenvectors(m("[0, 1; 0, 0]"), m("[0, 0; 1, 0]")), "do not commute"),
    (lambda: gelvo.common_eigenvectors(m("[1, 1; 0, 1]"), m("[1, 0; 0, 1]")), "too few eigenvectors"),
    (lambda: gelvo.euler_rotation([1, 2]), "3 axes"),
    (lambda: m("[a, 1]").to_numpy(), "a has no value"),
    (lambda: m(numpy.zeros(3)), "two axes"),
    (lambda: gelvo.formula("rank([a, 1; 1, a])"), "ask for the rank by itself"),
    (lambda: gelvo.formula("x[0, 1]"), "is not a matrix"),
]


@pytest.mark.parametrize(("call", "told"), REFUSED, ids=[c[1] for c in REFUSED])
def test_what_is_refused_says_why(call, told):
    with pytest.raises(gelvo.GelvoError, match=told):
        call()


def test_results_travel_with_what_stands_beside_them():
    a = m("[a, 1; 0, b]")
    for found in (a.rank(), a.inverse(), a.eigenvectors(), a.eigenvalues(), a.jordan_form(), a.null_space()):
        again = pickle.loads(pickle.dumps(found))
        assert again == found and str(again) == str(found) and again.conditions == found.conditions
        assert again.certificate().verdict == found.verdict == "proved"
        bundle = found._repr_mimebundle_()
        assert "text/latex" in bundle and bool(found.conditions) == ("if" in bundle["text/latex"])
    assert a @ a.jordan_form().P == a.jordan_form().P @ a.jordan_form().J
    with pytest.raises(AttributeError, match="there is no Q here, but P, J"):
        a.jordan_form().Q  # noqa: B018


def test_a_wrong_claim_is_refuted():
    from gelvo.checking.matrices import Apart, Same, check_claims
    from gelvo.facts.store import Facts

    one, other = m("[a, 1]"), m("[a, 2]")
    assert check_claims([Same("equal", one, other)], Facts()).verdict == "refuted"
    assert check_claims([Same("equal", one, one.transpose())], Facts()).verdict == "refuted"
    assert check_claims([Apart("not zero", gelvo.formula("sin(x)^2 + cos(x)^2 - 1"))], Facts()).verdict == "refuted"
    assert check_claims([Same("equal", one, one), Apart("not zero", gelvo.formula("x"))], Facts()).verdict == "proved"


def test_steps_lead_to_the_result():
    steps = m("[0, 2; a, 4]").reduced(steps=True).steps
    assert [s.rule for s in steps] == ["R_1 <-> R_2", "R_1/a -> R_1, where a != 0", "R_2/2 -> R_2", "R_1 - 4/a*R_2 -> R_1"]
    assert m(steps[-1].statement) == gelvo.identity(2)
    beside = m("[2, 1; 1, 1]").inverse(steps=True).steps
    assert m(beside[0].statement).shape == (2, 4) and m(beside[-1].statement).column(2) == m("[1; -1]")
    by_hand = m("[1, 0, 2; 3, a, 4; 5, 6, 7]").determinant(steps=True)
    assert by_hand.expression is gelvo.formula("-3*(a - 4)") and by_hand.verdict == "proved"
    assert by_hand.steps[0].statement.endswith("1*determinant([a, 4; 6, 7]) + 2*determinant([3, a; 5, 6])")
    assert gelvo.identity(5).determinant(steps=True).steps[-1].statement == "1"


def test_arrays_and_tables_in_and_out():
    table = pandas.DataFrame({"x": [1, 2], "y": [0.5, 3]})
    assert m(table) == m("[1, 1/2; 2, 3]") and m(numpy.array([[1, 2]])) == m("[1, 2]")
    assert numpy.asarray(m("[1, 2; 3, 4]")).dtype == float and m("[1j]").to_numpy().dtype == complex
    assert m("[1, 2; 3, 4]").to_frame(["u", "v"], ["p", "q"]).loc["q", "u"] == 3
    assert numpy.asarray(m("[1, 2]"), dtype=numpy.float32).dtype == numpy.float32


@pytest.mark.parametrize("n", [5, 7])
def test_patterns_give_waves(n):
    ring = gelvo.from_function(n, n, lambda i, j: "abcdefg"[min((j - i) % n, (i - j) % n)])
    bands = gelvo.from_function(n, n, lambda i, j: {0: "a", 1: "b", -1: "c"}.get(j - i, "0"))
    at = {"a": "1.3", "b": "0.7", "c": "2.1", "d": "0.4"}
    for matrix in (ring, bands):
        values = [complex(numeric(v, at)) for v, times in matrix.eigenvalues().items() for _ in range(times)]
        plain = numpy.array([[complex(numeric(e, at)) for e in row] for row in matrix.entries])
        wanted = numpy.linalg.eigvals(plain)
        assert numpy.allclose(sorted(v.real for v in values), sorted(wanted.real))
        for value, vectors in matrix.eigenvectors():
            for v in vectors:
                column = numpy.array([complex(numeric(e, at)) for e in v.flat()])
                assert numpy.allclose(plain @ column, complex(numeric(value, at)) * column)


def test_functions_of_patterns_are_sums_of_waves():
    around = gelvo.from_function(5, 5, lambda i, j: "abcdf"[(j - i) % 5])
    line = gelvo.from_function(4, 4, lambda i, j: {0: "a", 1: "b", -1: "c"}.get(j - i, "0"))
    at = {"a": "1.3", "b": "0.7", "c": "2.1", "d": "0.4", "f": "1.6", "t": "0.2", "n": "3"}
    for matrix, given in ((around, []), (line, ["b*c > 0"])):
        plain = numpy.array([[complex(numeric(e, at)) for e in row] for row in matrix.entries])
        grown, third = matrix.exponential("t", given=given), matrix.power("n", given=given)
        assert grown.verdict == "proved" and "1j" not in str(grown)
        for found, wanted in ((grown, expm(0.2 * plain)), (third, numpy.linalg.matrix_power(plain, 3))):
            assert numpy.allclose([[complex(numeric(e, at)) for e in row] for row in found.entries], wanted)
    chain = m("[0, 0, 1, 0; 0, 0, 0, 1; -(k + p)/w, p/w, 0, 0; p/w, -(k + p)/w, 0, 0]").eigenvalues(
        given=["k > 0", "p > 0", "w > 0"]
    )
    assert [str(v) for v in chain] == ["-1j*sqrt(k/w)", "1j*sqrt(k/w)", "-1j*sqrt(k/w + 2*p/w)", "1j*sqrt(k/w + 2*p/w)"]


def test_an_exponential_over_numbered_roots_evaluates_exports_and_has_limits():
    spread = m("[0, 1, 0; 0, 0, 1; -1, -3, -2]").exponential("t")
    assert spread.verdict == "proved" and "polynomial_root" in str(spread)
    start = spread.substitute({"t": 0})
    assert [float(gelvo.value(e, 20)) for e in start.flat()] == [1, 0, 0, 0, 1, 0, 0, 0, 1]
    code = gelvo.export_code({"e": spread[0, 1]}, ["t"], "python", digits="condition")
    assert code.check().passed
    assert gelvo.limit(spread[0, 0], "t", "inf").expression == 0


def test_entries_over_numbered_roots_are_exported_together_also_where_one_is_exactly_zero():
    spread = m("[0, 1, 0; 0, 0, 1; -1, -3, -2]").exponential("t")
    code = gelvo.export_code({"one": spread[0, 0], "two": spread[1, 2]}, ["t"], "c")  # the second one is 0 at t = 0
    assert code.check().passed and "e-36" not in code.files["formula.c"]
    nested = m("[0, 1, 0, 0; 0, 0, 1, 0; 0, 0, 0, 1; -1, 0, 1, 0]").exponential("t")
    assert str(nested[0, 0]).count("re(") == 0 and nested.verdict == "proved"


def test_long_matrices_are_shown_with_names_for_what_recurs(tmp_path):
    lines = ["exponential of [0, 1, 0; 0, 0, 1; 1, 1, 0] by t"]
    (tmp_path / "spread.gelvo").write_text("\n".join(lines), encoding="utf-8")
    shown = CliRunner().invoke(main, ["run", str(tmp_path / "spread.gelvo")]).output
    assert "where q₁ = root₃(x³ − x − 1) ≈ −0.66236 + 0.56228i" in shown and max(map(len, shown.splitlines())) < 120
    entries = m("[0, 1, 0; 0, 0, 1; 1, 1, 0]").exponential("t").flat()
    short = gelvo.abbreviate(entries)  # a name for a complex piece does not come out of a real part
    assert len(short.where) > 5 and all(one is other for one, other in zip(short.restored(), entries, strict=True))


def test_code_for_letters_swings_and_creeps_by_one_formula():
    whole = m("[0, 1; -k, -c]").exponential("t")
    steps = gelvo.numeric_function(whole, ["c", "k", "t"])
    for c, k in ((2, 1), (1, 1), (3, 1), (2, 1 + 1e-12), (0, 0)):
        assert numpy.allclose(steps(c, k, 0.7), expm(0.7 * numpy.array([[0, 1], [-k, -c]])))
    assert gelvo.numeric_function("cosh(sqrt(x))", ["x"])(4.0) == pytest.approx(math.cosh(2))
    assert str(gelvo.substitute(whole[0, 1], {"c": 1, "k": 1})) == "2*sqrt(3)*exp(-t/2)*sin(sqrt(3)*t/2)/3"


@pytest.mark.parametrize("text", ["[0, 1, 0; 0, 0, 1; 1, 1, 0]", "[1, 2, 0, 1; 0, 1, 3, 1; 1, 0, 1, 2; 2, 1, 0, 1]"])
def test_powers_and_exponentials_over_numbered_roots_are_proved(text):
    A = m(text)
    assert [A.power("n").verdict, A.exponential("t").verdict, A.jordan_form().verdict] == ["proved"] * 3


STATEMENTS = [
    ("let A be [1, 2; 3, a]\nA[1, 1]", "a"),
    ("let A be [1, 2; 3, 4]\nA^T", "[1, 3; 2, 4]"),
    ("[1, 1; 0, 1]^n", "[1, n; 0, 1]"),
    ("from columns [1; 2], [3; 4]", "[1, 3; 2, 4]"),
    ("differentiate [x, x^2; 1, 0] by x", "[1, 2*x; 0, 0]"),
    ("solve [1, 2; 3, 4]*X = [5; 6] for X", "[-4; 9/2]"),
    ("solve X*[1, 2; 3, 4] = [5, 6] for X", "[-1, 2]"),
    ("solve [1, 2]*X = [3] for X", "[3 - 2*c_1; c_1]"),
    ("let X be solve [2, 0; 0, a]*X = [1; 1] for X given a > 0\nX[1, 0]", "1/a"),
    ("matrix function cos(x) by x at [0, 1; 0, 0]", "[1, 0; 0, 1]"),
    ("least squares [1; 1] for [1; 3]", "[2]"),
    ("hadamard product of [1, a], [a, 2]", "[a, 2*a]"),
    ("row reduce [2, 4; 1, 3]", "[1, 0; 0, 1]"),
    ("norm of [3, 4]", "5"),
]


@pytest.mark.parametrize(("text", "wanted"), STATEMENTS, ids=[c[0] for c in STATEMENTS])
def test_statements_of_matrices(text, wanted):
    results = list(Derivation().run(text))
    assert all(r.kind != "fault" for r in results), [r.note for r in results]
    value = results[-1].shown[-1][1]
    assert str(getattr(value, "expression", value)).partition("   # ")[0] == wanted
    assert results[-1].verdict in ("proved", "")


def test_statements_tell_cases_and_faults():
    said = CliRunner().invoke(main, ["do", "null space of [1, a; a, 1] as cases"])
    assert said.exit_code == 0 and "only the zero vector if a ≠ 1 and a ≠ −1" in said.output and "✓ proved" in said.output
    said = CliRunner().invoke(main, ["do", "row reduce [1, 2; 3, 4]"])
    assert "R₂ − 3·R₁ → R₂" in said.output
    for text, told in (
        ("random matrix 2 by x seed 1", "a whole number is needed here"),
        ("kronecker product of [1]", "two matrices are needed"),
        ("rank of x", "is not a matrix"),
        ("solve [1, 1; 1, 1]*X = [1; 2] for X", "contradict"),
    ):
        result = CliRunner().invoke(main, ["do", text])
        assert result.exit_code == 2 and told in result.output + getattr(result, "stderr", "")
