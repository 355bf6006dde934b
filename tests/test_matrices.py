"""Matrices: entering, arithmetic, exact algebra, what they refuse, and how they are shown."""

from __future__ import annotations

import re
from fractions import Fraction
from random import Random

import numpy
import pytest
from scipy.linalg import expm

import gelvo
from gelvo import DomainError


def m(text):
    return gelvo.matrix(text)


def test_ways_to_enter_a_matrix():
    A = m([[1, "a"], ["1/2", gelvo.variable("b")]])
    assert str(A) == "[1, a; 1/2, b]" and m(str(A)) == A
    assert gelvo.from_columns([[1, 2], [3, 4]]) == m("[1, 3; 2, 4]")
    assert gelvo.from_function(2, 3, lambda i, j: i * j) == m("[0, 0, 0; 0, 1, 2]")
    assert gelvo.identity(2) == m("[1, 0; 0, 1]") and gelvo.diagonal(1, "a") == m("[1, 0; 0, a]")
    assert gelvo.random_matrix(3, 2, seed=1) == gelvo.random_matrix(3, 2, seed=1) != gelvo.random_matrix(3, 2, seed=2)
    assert gelvo.column([1, 2]).shape == (2, 1) and A.shape == (2, 2)
    assert A[0, 1] is gelvo.variable("a") and A.row(0) == m("[1, a]") and A.column(1) == m("[a; b]")
    assert list(A.row(0)) == [gelvo.formula("1"), gelvo.variable("a")] and A[-1, -1] is gelvo.variable("b")


ARITHMETIC = [
    ("[1, 2; 3, 4]*[0, 1; 1, 0]", "[2, 1; 4, 3]"),
    ("[1, 2; 3, 4]*[x; y]", "[x + 2*y; 3*x + 4*y]"),
    ("[1, 2]*[3; 4]", "[11]"),
    ("[1, 2; 3, 4] + [1, 1; 1, 1]", "[2, 3; 4, 5]"),
    ("2*[1, a] - [a, 1]", "[2 - a, 2*a - 1]"),
    ("[1, 2; 3, 4]/2", "[1/2, 1; 3/2, 2]"),
    ("-[1, 2]", "[-1, -2]"),
    ("[1, 1; 0, 1]^3", "[1, 3; 0, 1]"),
    ("[1, 2; 3, 4]^(-1)", "[-2, 1; 3/2, -1/2]"),
    ("[2, 0; 0, 3]^0", "[1, 0; 0, 1]"),
    ("transpose([1, 2; 3, 4])", "[1, 3; 2, 4]"),
    ("conjugate_transpose([1j, 2])", "[-1j; 2]"),
    ("inverse([1, 2; 3, 5])", "[-5, 2; 3, -1]"),
    ("row([1, 2; 3, 4], 1)", "[3, 4]"),
    ("column([1, 2; 3, 4], 0)", "[1; 3]"),
    ("cross([1; 0; 0], [0; 1; 0])", "[0; 0; 1]"),
    ("3[1, 2]", "[3, 6]"),
    ("[1, 2; 3, 4]^T", "[1, 3; 2, 4]"),
    ("[1, 2]^T*[1, 2]", "[1, 2; 2, 4]"),
    ("2*identity(2) + ones(2)", "[3, 1; 1, 3]"),
    ("zeros(1, 2) - ones(1, 2)", "[-1, -1]"),
    ("diagonal(a, 2)", "[a, 0; 0, 2]"),
]


@pytest.mark.parametrize(("text", "wanted"), ARITHMETIC, ids=[c[0] for c in ARITHMETIC])
def test_arithmetic_in_formula_text(text, wanted):
    assert gelvo.formula(text) == m(wanted)


SCALARS = [
    ("determinant([1, 2; 3, 4])", "-2"),
    ("determinant([a, b; c, d])", "a*d - b*c"),
    ("determinant([1, 2, 3; 4, 5, 6; 7, 8, 9])", "0"),
    ("determinant([1, x, x^2; 1, y, y^2; 1, z, z^2])", "(y - x)*(z - x)*(z - y)"),
    ("determinant([cos(t), -sin(t); sin(t), cos(t)])", "1"),
    ("trace([1, 2; 3, a])", "1 + a"),
    ("entry([1, 2; 3, 4], 1, 0)", "3"),
    ("dot([1; 2], [x; y])", "x + 2*y"),
    ("length([3; 4])", "5"),
]


@pytest.mark.parametrize(("text", "wanted"), SCALARS, ids=[c[0] for c in SCALARS])
def test_numbers_of_matrices(text, wanted):
    found = gelvo.formula(text)
    assert gelvo.equal(found, gelvo.formula(wanted))


FAULTY = [
    ("[1, 2; 3]", "row 1 has 1 entries"),
    ("[1, 2]*[3, 4]", "cannot be multiplied"),
    ("[1, 2] + [1; 2]", "shapes must be equal"),
    ("[1, 2] + x", "cannot be added"),
    ("x + [1, 2]", "cannot be added"),
    ("1/[1, 2]", "multiply by its inverse"),
    ("[1, 2]^2", "not square"),
    ("sin([1, 2])", "not a function of matrices"),
    ("[1, 2] < [2, 3]", "compared"),
    ("[1, 2] = 3", "compared"),
    ("inverse([1, 2; 2, 4])", "determinant is zero"),
    ("determinant([1, 2])", "square matrix"),
    ("entry([1, 2], 2, 0)", "no entry"),
    ("row([1, 2], 1/2)", "whole number"),
    ("cross([1; 2], [1; 2])", "three entries"),
]


@pytest.mark.parametrize(("text", "said"), FAULTY, ids=[c[0] for c in FAULTY])
def test_faulty_matrices_say_what_is_needed(text, said):
    with pytest.raises(gelvo.GelvoError, match=said):
        gelvo.formula(text)


@pytest.mark.parametrize("word", ["exponential", "characteristic_polynomial"])
def test_a_new_variable_is_no_letter_of_the_matrix(word):
    A = m("[x, 1; 0, x]")
    with pytest.raises(DomainError, match="already contains x"):
        getattr(A, word)("x")
    assert getattr(A, word)("t")


def test_python_operators_refuse_too():
    A, B = m("[1, 2; 3, 4]"), m("[1; 2]")
    with pytest.raises(DomainError, match="A @ B"):
        A * B
    with pytest.raises(DomainError, match="divided by a matrix"):
        A / A
    with pytest.raises(DomainError, match="A.row"):
        A[0]
    with pytest.raises(DomainError, match="only a row or a column"):
        list(A)
    with pytest.raises(DomainError, match="a number or a name"):
        A ** gelvo.formula("x + 1")
    with pytest.raises(DomainError, match="at least one row"):
        m([])
    with pytest.raises(DomainError, match="positive whole"):
        gelvo.identity(0)
    with pytest.raises(DomainError, match="is not a matrix"):
        m("x + 1")


def test_exact_algebra_agrees_with_floating_point():
    for seed in range(6):
        A = gelvo.random_matrix(4, 4, seed=seed)
        plain = numpy.array([[float(e) for e in A.row(i)] for i in range(4)])
        assert abs(float(A.determinant()) - numpy.linalg.det(plain)) < 1e-6 * max(1, abs(numpy.linalg.det(plain)))
        assert A @ A.inverse() == gelvo.identity(4)
        b = gelvo.random_matrix(4, 1, seed=seed + 50)
        assert A @ A.solve(b) == b
        assert A.rank() == 4 and A.null_space() == []


def test_rank_null_space_and_reduced_form():
    A = m("[1, 2, 3; 4, 5, 6; 7, 8, 9]")
    assert A.rank() == 2 and A.null_space() == [m("[1; -2; 1]")]
    assert A @ A.null_space()[0] == m("[0; 0; 0]")
    assert A.reduced() == m("[1, 0, -1; 0, 1, 2; 0, 0, 0]")
    assert str(m("[1, 1; 1, a]").rank()) == "2   # if a != 1"
    assert m("[1, 1; 1, a]").rank(given=["a != 1"]).conditions == () and m("[1, 1; 1, a]").rank(given=["a = 1"]) == 1
    with pytest.raises(DomainError, match="contradict"):
        m("[1, 1; 1, 1]").solve(m("[1; 2]"))
    with pytest.raises(DomainError, match="leave 1 unknown free"):
        m("[1, 1; 1, 1]").solve(m("[1; 1]"))


EIGEN = [
    ("[2, 1; 1, 2]", {"1": 1, "3": 1}),
    ("[0, 1; -1, 0]", {"1j": 1, "-1j": 1}),
    ("[1, 1; 0, 1]", {"1": 2}),
    ("[a, 1; 1, a]", {"a - 1": 1, "a + 1": 1}),
    ("[1, 2; 3, 4]", {"(5 - sqrt(33))/2": 1, "(5 + sqrt(33))/2": 1}),
    ("[2, 0, 0; 0, 3, 4; 0, 4, 9]", {"1": 1, "2": 1, "11": 1}),
    ("[1, 0, 0; 0, 0, -1; 0, 1, 0]", {"1": 1, "1j": 1, "-1j": 1}),
]


@pytest.mark.parametrize(("text", "wanted"), EIGEN, ids=[c[0] for c in EIGEN])
def test_eigenvalues_and_vectors(text, wanted):
    A = m(text)
    found = A.eigenvalues()
    assert len(found) == len(wanted)
    for value, times in wanted.items():
        assert any(gelvo.equal(v, value) and k == times for v, k in found.items())
    for value, vectors in A.eigenvectors():
        for vector in vectors:
            assert (A @ vector - vector * value).equal(vector * 0)


EXPONENTIALS = [
    ("[0, 1; 0, 0]", [], "[1, t; 0, 1]"),
    ("[0, -1; 1, 0]", [], "[cos(t), -sin(t); sin(t), cos(t)]"),
    ("[0, 1; -w^2, 0]", ["w > 0"], "[cos(w*t), sin(w*t)/w; -w*sin(w*t), cos(w*t)]"),
    ("[2, 1; 1, 2]", [], "[(exp(3*t) + exp(t))/2, (exp(3*t) - exp(t))/2; (exp(3*t) - exp(t))/2, (exp(3*t) + exp(t))/2]"),
    ("[-1, 1; 0, -1]", [], "[exp(-t), t*exp(-t); 0, exp(-t)]"),
    ("[a, 0; 0, b]", [], "[exp(a*t), 0; 0, exp(b*t)]"),
    ("[1, 1, 0; 0, 1, 1; 0, 0, 1]", [], "[exp(t), t*exp(t), t^2*exp(t)/2; 0, exp(t), t*exp(t); 0, 0, exp(t)]"),
]


@pytest.mark.parametrize(("text", "given", "wanted"), EXPONENTIALS, ids=[c[0] for c in EXPONENTIALS])
def test_exponentials(text, given, wanted):
    A = m(text)
    found = A.exponential("t", given=given)
    assert found.equal(m(wanted), given=given)
    assert (found.differentiate("t") - A @ found).equal(A * 0, given=given)
    assert found.substitute({"t": 0}).equal(gelvo.identity(A.shape[0]))


def test_an_exponential_with_letters_is_one_formula_or_all_cases():
    swing = m("[0, 1; -k, -c]")
    whole = swing.exponential("t")
    assert whole.verdict == "proved" and whole.conditions == () and "sinhc" in str(whole[0, 1])
    critical = whole.substitute({"c": 2, "k": 1})  # where the two eigenvalues meet
    assert critical.equal(m("[0, 1; -1, -2]").exponential("t"))
    for c, k in ((2, 1), (1, 1), (3, 1)):  # creeping at the border, swinging, creeping
        there = whole.substitute({"c": c, "k": k, "t": "7/10"})
        numbers = [[complex(gelvo.value(e, 15)) for e in row] for row in there.entries]
        assert numpy.allclose(numbers, expm(0.7 * numpy.array([[0, 1], [-k, -c]])))
    assert [[str(c) for c in row.when] for row in swing.exponential("t", cases=True)] == [
        ["c^2 < 4*k"],
        ["4*k < c^2"],
        ["k = c^2/4"],
    ]
    assert "cos" in str(swing.exponential("t", given=["c^2 < 4*k"])[0, 0]) and m("[0, 1; 0, 0]").exponential() == m(
        "[1, 1; 0, 1]"
    )
    assert m("[0, -w; w, 0]").exponential("t") == m("[cos(w*t), -sin(w*t); sin(w*t), cos(w*t)]")  # whatever w is


def test_operations_act_entry_by_entry():
    A = m("[x^2, sin(x)^2 + cos(x)^2; (x + 1)^2, a*x]")
    assert A.simplify()[0, 1] is gelvo.formula("1")
    assert A.expand()[1, 0] is gelvo.formula("x^2 + 2*x + 1")
    assert A.differentiate("x")[0, 0] is gelvo.formula("2*x")
    assert A.substitute({"a": 2, "x": 3})[1, 1] is gelvo.formula("6")
    assert A.rename({"a": "b"})[1, 1] is gelvo.formula("b*x")
    assert A.map(lambda e: e * 0) == m("[0, 0; 0, 0]")
    assert A.integrate("x")[1, 1] is gelvo.formula("a*x^2/2")
    with pytest.raises(DomainError, match="no name q"):
        A.rename({"q": "b"})


def test_matrices_are_shown():
    A = m("[1/2, -a; theta_1, 0]")
    latex = gelvo.typeset(A, "latex")
    assert latex.startswith("\\begin{pmatrix}") and latex.count("&") == 2
    columns = [line.index("&") for line in latex.splitlines() if "&" in line]
    assert len(set(columns)) == 1
    assert "<mtable>" in gelvo.typeset(A, "mathml") and "⎛" in gelvo.typeset(A, "text")
    assert "text/latex" in A._repr_mimebundle_()
    assert gelvo.check("[1, 2; 3, 4]*[1, 0; 0, 1] = [1, 2; 3, 4]").verdict == "proved"
    assert gelvo.check("[1, a]*[a; 1] = [a]").verdict == "refuted"


FIELDS = [
    ("gradient", "x^2*y + z", "[2*x*y; x^2; 1]"),
    ("hessian", "x*y*z", "[0, z, y; z, 0, x; y, x, 0]"),
    ("curl", ["-y", "x", "0"], "[0; 0; 2]"),
    ("curl", ["y*z", "x*z", "x*y"], "[0; 0; 0]"),
    ("jacobian", ["x*y", "y*z", "z*x"], "[y, x, 0; 0, z, y; z, 0, x]"),
]


@pytest.mark.parametrize(("work", "field", "wanted"), FIELDS)
def test_derivatives_of_fields(work, field, wanted):
    assert getattr(gelvo, work)(field, ["x", "y", "z"]) == m(wanted)


def test_scalars_of_fields_and_refusals():
    assert gelvo.divergence(["x^2", "y^2", "z^2"], ["x", "y", "z"]) is gelvo.formula("2*x + 2*y + 2*z")
    assert gelvo.equal(gelvo.laplacian("1/sqrt(x^2 + y^2 + z^2)", ["x", "y", "z"]), 0)
    assert gelvo.difference_quotient("x^3", "x", "h") is gelvo.formula("3*x^2 + 3*x*h + h^2")
    assert gelvo.differentiate_implicitly("x*y = 1", "y", "x") is gelvo.formula("-y/x")
    with pytest.raises(DomainError, match="three components"):
        gelvo.curl(["x", "y"], ["x", "y"])
    with pytest.raises(DomainError, match="as many coordinates"):
        gelvo.divergence(["x"], ["x", "y"])
    with pytest.raises(DomainError, match="contains the variable"):
        gelvo.difference_quotient("x", "x", "x")
    with pytest.raises(DomainError, match="must contain both"):
        gelvo.differentiate_implicitly("x^2 = 1", "y", "x")


def test_whole_and_rational_entries_against_fractions():
    random = Random(3)
    for n in (1, 2, 3, 5, 8, 26):  # the last by lifting and residues
        rows = [[Fraction(random.randint(-9, 9), random.choice((1, 1, 2, 3))) for _ in range(n)] for _ in range(n)]
        matrix = gelvo.matrix([[str(c) for c in row] for row in rows])
        size, solved = eliminated(rows, [Fraction(k + 1) for k in range(n)])
        assert Fraction(str(matrix.determinant())) == size
        x = gelvo.variable("x")
        polynomial = matrix.characteristic_polynomial(x)
        assert Fraction(str(gelvo.substitute(polynomial, {x: 0}))) == (-1) ** n * size
        assert Fraction(str(gelvo.coefficients(polynomial, x)[n - 1])) == -sum(rows[k][k] for k in range(n))
        if size:
            assert [Fraction(str(e)) for e in matrix.solve(gelvo.column(range(1, n + 1)))] == solved
            assert matrix @ matrix.inverse() == gelvo.identity(n)
    twice = gelvo.matrix([*[[random.randint(-9, 9) for _ in range(30)] for _ in range(29)], [0] * 30])
    assert twice.determinant() == 0
    with pytest.raises(DomainError, match="determinant is zero"):
        twice.inverse()


def eliminated(rows, right):
    """(determinant, solution) by elimination with fractions."""
    work, size, n = [[*row, b] for row, b in zip(rows, right, strict=True)], Fraction(1), len(rows)
    for k in range(n):
        pivot = next((i for i in range(k, n) if work[i][k]), None)
        if pivot is None:
            return Fraction(0), None
        if pivot != k:
            work[k], work[pivot], size = work[pivot], work[k], -size
        size *= work[k][k]
        work[k] = [c / work[k][k] for c in work[k]]
        for i in range(n):
            if i != k:
                work[i] = [c - work[i][k] * d for c, d in zip(work[i], work[k], strict=True)]
    return size, [row[-1] for row in work]


LETTER_MATRICES = [  # matrix, values of the letters
    ("[a, b, c; d, 1, 2; 3, a, b]", {"a": 2, "b": 5, "c": "-1/3", "d": 7}),
    ("[1/a, b; c, 1/(a + b)]", {"a": 2, "b": 5, "c": "1/3"}),
    ("[a, 1, 0, 0; b, a, 1, 0; 0, b, a, 1; 0, 0, b, a]", {"a": 3, "b": "2/7"}),
    ("[sqrt(a), 1, b; 1, sqrt(a), 0; 2, 1, sqrt(a)]", {"a": 4, "b": 3}),
    ("[a, 1j; 2, b]", {"a": 2, "b": 3}),
]


@pytest.mark.parametrize(("text", "values"), LETTER_MATRICES, ids=[c[0] for c in LETTER_MATRICES])
def test_letters_against_their_values(text, values):
    matrix = m(text)
    n = matrix.shape[0]
    right = gelvo.column([f"k_{i}" for i in range(n)])
    there = matrix.map(lambda e: gelvo.substitute(e, values))
    at = {**values, **{f"k_{i}": i + 2 for i in range(n)}}

    def put(found):
        return found.map(lambda e: gelvo.substitute(e, at))

    assert gelvo.equal(gelvo.substitute(matrix.determinant(), values), there.determinant())
    pairs = [(put(matrix.inverse()) @ there, gelvo.identity(n)), (there @ put(matrix.solve(right)), put(right))]
    for left, wanted in pairs:
        assert all(gelvo.equal(a, b) for a, b in zip(left.flat(), wanted.flat(), strict=True))
    never_singular = text == "[a, 1j; 2, b]"  # a*b - 2j with real letters
    assert bool(matrix.inverse().conditions) == bool(matrix.solve(right).conditions) == (not never_singular)


def test_a_determinant_that_roots_make_zero():
    assert m("[sqrt(2), 2; 1, sqrt(2)]").determinant() == 0
    with pytest.raises(DomainError, match="determinant is zero"):
        m("[sqrt(a), a; 1, sqrt(a)]").inverse()


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("identity(x)", "positive whole number, not x"),
        ("zeros(-1)", "positive whole number, not -1"),
        ("identity(2, 3)", "not 2 arguments"),
        ("zeros(1000, 1000)", "larger than the limit"),
        ("[1, 2; 3, 4]^(q + 1)", "a number or a name, not q + 1"),
    ],
)
def test_what_makes_no_matrix_is_said(text, told):
    with pytest.raises(gelvo.FormulaError, match=re.escape(told)):
        gelvo.formula(text)


def test_a_matrix_as_a_function_of_arrays():
    turn = gelvo.numeric_function(m("[cos(w*t), -sin(w*t); sin(w*t), cos(w*t)]"), ["w", "t"])
    places = numpy.linspace(0, 1, 5)
    found = turn(2.0, places)
    assert found.shape == (5, 2, 2) and numpy.allclose(numpy.linalg.det(found), 1)
    assert numpy.allclose(found[:, 1, 0], numpy.sin(2 * places)) and turn(1.0, 0.0).tolist() == [[1, 0], [0, 1]]
    assert gelvo.numeric_function("[a; b]", ["a", "b"])([1, 2], 3).tolist() == [[[1], [3]], [[2], [3]]]


ROOTS_OF_FRACTIONS = [
    [["sqrt(1/x^2 + 1)", "1"], ["1", "sqrt(1/x^2 + 1)"]],
    [["sqrt(1/x + 4)", "1", "a"], ["1", "sqrt(1/x + 4)", "x"], ["b", "1", "sqrt(1/x + 4)"]],
    [["abs(x/b)", "sqrt(a/x)", "0"], ["2", "abs(x/b)", "sqrt(a/x)"], ["sqrt(a/x)", "1", "3"]],
    [["cbrt(a/b)", "1/b"], ["x", "cbrt(a/b)^2"]],
]


@pytest.mark.parametrize("rows", ROOTS_OF_FRACTIONS, ids=[r[0][0] for r in ROOTS_OF_FRACTIONS])
def test_denominators_below_roots_are_kept(rows):
    """Squares of sqrt(1/x + 4) are multiplied by x on the way: determinant, inverse, and solution by numbers."""
    m = gelvo.matrix(rows)
    point = {"x": "7/5", "a": "3", "b": "11/4"}

    def at(formula):
        return float(gelvo.value(gelvo.substitute(formula, point), 20))

    def numbers(matrix):
        return numpy.array([[at(matrix[i, j]) for j in range(matrix.shape[1])] for i in range(matrix.shape[0])])

    plain = numbers(m)
    right = gelvo.column(["1", "x", "b"][: len(rows)])
    assert at(m.determinant()) == pytest.approx(numpy.linalg.det(plain))
    assert numbers(m.inverse()) == pytest.approx(numpy.linalg.inv(plain))
    assert numbers(m.solve(right)) == pytest.approx(numpy.linalg.solve(plain, numbers(right)))
