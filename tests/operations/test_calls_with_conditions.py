"""Exact numbers, roots, powers, waves and matrices where a rule holds only for some numbers: the value with its conditions, or a clear refusal."""

from __future__ import annotations

import pytest

import gelvo

TABLE = [
    ('simplify("floor(pi*10^20)")', "314159265358979323846"),
    ('simplify("floor(-pi*10^20)")', "-314159265358979323847"),
    ('simplify("ceil(sqrt(2)*10^30)")', "1414213562373095048801688724210"),
    ('simplify("floor(exp(50))")', "5184705528587072464087"),
    ('simplify("floor(ln(2)*10^25) - floor(ln(2)*10^25/10)*10")', "1"),
    ('equal("floor(pi*10^20)", "314159265358979323846")', "True"),
    ('equal("floor(pi*10^20)", "314159265358979323845")', "False"),
    ('equal("ceil(pi*10^20)", "314159265358979323847")', "True"),
    ('formula("2^1j")', "2^1j"),
    ('formula("2^(1 + 1j)")', "2^(1 + 1j)"),
    ('formula("2^(-1j)")', "2^(-1j)"),
    ('formula("3^2j*2^1j")', "2^1j*3^2j"),
    ('formula(str(formula("2^1j*sqrt(2)")))', "2^(1/2 + 1j)"),
    ('equal("2^1j", "exp(1j*ln(2))")', "True"),
    ('formula("sqrt(3 - 4j)")', "2 - 1j"),
    ('formula("sqrt(-3 + 4j)")', "1 + 2j"),
    ('formula("sqrt(1j)")', "sqrt(1j)"),
    ('polynomial_root("sqrt(x) - 2", 1)', "DomainError"),
    ('polynomial_root("x^2 - a", 1)', "DomainError"),
    ('rationalize_denominator("1/sqrt(x/y)")', "y*sqrt(x/y)/x"),
    ('rationalize_denominator("1/(sqrt(x/y) + 1)")', "(y - y*sqrt(x/y))/(y - x)"),
    ('rationalize_denominator("1/sqrt((x + 1)/(x - 1))")', "(x*sqrt((x + 1)/(x - 1)) - sqrt((x + 1)/(x - 1)))/(x + 1)"),
    ('rationalize_denominator("1/(1 + x^(1/3))")', "1/(x^(1/3) + 1)"),
    ('rationalize_denominator("1/(sqrt(x) - sqrt(y))")', "(-sqrt(x) - sqrt(y))/(y - x)"),
    ('rationalize_denominator("sqrt(x/y)^3/(sqrt(x/y) - 1)")', "(-x^2 - x*y*sqrt(x/y))/(y^2 - x*y)"),
    ('simplify("sqrt(x - 1)*sqrt(x + 1)", given=["-1 < x", "x < 1"])', "sqrt(x^2 - 1)"),
    ('simplify("sqrt(x)*sqrt(y)", given=["x < 0", "y < 0"])', "sqrt(x)*sqrt(y)"),
    ('simplify("sqrt(x - 1)/sqrt(x + 1)", given=["-1 < x", "x < 1"])', "sqrt((x - 1)/(x + 1))"),
    ('amplitude_phase("a*sin(x) + 1j*a*cos(x)", "x")', "DomainError"),
    ('amplitude_phase("sin(x) + 1j*cos(x)", "x")', "DomainError"),
    ('amplitude_phase("a*sin(x) + b*cos(x)", "x")', "sqrt(a^2 + b^2)*cos(x - atan2(a, b))"),
    ('express("abs(x + 1j)", "sign")', "abs(x + 1j)"),
    ('express("abs(x)", "sign")', "x*sign(x)"),
    (
        'abbreviate("sum_of((k^2 + a)^2, k, 1, 5) + sin(k^2 + a)*cos(k^2 + a)")',
        "cos(k^2 + a)*sin(k^2 + a) + sum_of((k^2 + a)^2, k, 1, 5)",
    ),
    ('expand("(a + b)*(c + d)", only="a")', "DomainError"),
    ('equal("cbrt(a)^3", "a")', "True"),
    ('equal("cbrt(a^3)", "a")', "True"),
    ('equal("a^(b/ln(a))", "exp(b)", given=["a > 0", "a != 1"])', "True"),
    ('equal("asin(sin(5))", "5 - 2*pi")', "True"),
    ('equal("acos(cos(-10))", "4*pi - 10")', "True"),
    ('equal("atan(tan(2))", "2 - pi")', "True"),
    ('equal("(-8^(1/n))^n", "8", given=["n/2 = floor(n/2)", "n != 0"])', "True"),
    ('simplify("(-1)^n", given=["n/2 = floor(n/2)"])', "1"),
    ('formula("ln(0)")', "FormulaError"),
    ('formula("0*ln(0)")', "FormulaError"),
    ('formula("x*ln(x)").substitute({"x": 0})', "DomainError"),
    ('value("cos(10^25)")', "-0.667299094264823"),
    # matrices
    ('matrix("[sqrt(3), 1; 0, sqrt(3)]").eigenvalues()', "{sqrt(3): 2}"),
    ('matrix("[sqrt(3), 1; 0, sqrt(3)]").eigenvectors()', "[(sqrt(3), [[1; 0]])]"),
    ('matrix("[sqrt(2), 1, 0; 0, sqrt(2), 1; 0, 0, sqrt(2)]").eigenvalues()', "{sqrt(2): 3}"),
    ('matrix("[sqrt(2), 1; 1, sqrt(2)]").eigenvalues()', "{sqrt(2) - 1: 1, 1 + sqrt(2): 1}"),
    ('matrix("[2*sqrt(5), -5; 1, 0]").eigenvalues()', "{sqrt(5): 2}"),
    ('matrix("[pi, 1; 0, pi]").eigenvalues()', "{pi: 2}"),
    ('matrix("[a, 1; 0, a]").eigenvalues()', "{a: 2}"),
    ('matrix("[a, 1; 0, b]").eigenvectors()', "[(a, [[1; 0]]), (b, [[1; -(a - b)]])]   # if a - b != 0"),
    ('matrix("[1, 2; 2, 1]").eigenvectors()', "[(-1, [[1; -1]]), (3, [[1; 1]])]"),
    ('matrix("[0, 1; -1, 0]").eigenvalues()', "{-1j: 1, 1j: 1}"),
    ('matrix("[2, 1, 0; 0, 2, 1; 0, 0, 2]").eigenvectors()', "[(2, [[1; 0; 0]])]"),
    ('matrix("[a, b; c, d]").inverse()', "[d/(a*d - b*c), -b/(a*d - b*c); -c/(a*d - b*c), a/(a*d - b*c)]   # if a*d - b*c != 0"),
    (
        'matrix("[a, b; c, d]").inverse(given=["a*d - b*c != 0"])',
        "[d/(a*d - b*c), -b/(a*d - b*c); -c/(a*d - b*c), a/(a*d - b*c)]",
    ),
    (
        'matrix("[a, 1; 1, a]").inverse()',
        "[a/((a - 1)*(a + 1)), -1/((a - 1)*(a + 1)); -1/((a - 1)*(a + 1)), a/((a - 1)*(a + 1))]   # if a != 1 and a != -1",
    ),
    (
        'matrix("[a, 1; 1, a]").inverse(given=["a > 1"])',
        "[a/((a - 1)*(a + 1)), -1/((a - 1)*(a + 1)); -1/((a - 1)*(a + 1)), a/((a - 1)*(a + 1))]",
    ),
    ('matrix("[a, 1; 0, 1]")**-1', "[1/a, -1/a; 0, 1]   # if a != 0"),
    ('matrix("[a, 0; 0, b]")**-2', "[1/a^2, 0; 0, 1/b^2]   # if a != 0 and b != 0"),
    ('2*matrix("[a, 0; 0, 1]")**-1', "[2/a, 0; 0, 2]   # if a != 0"),
    ('(matrix("[a, 0; 0, 1]")**-1).transpose()', "[1/a, 0; 0, 1]   # if a != 0"),
    ('matrix("[a, 0; 0, 1]")**-1 @ column(["x", "y"])', "[x/a; y]   # if a != 0"),
    ('formula("inverse([a, 1; 0, 1])")', "[1/a, -1/a; 0, 1]   # if a != 0"),
    ('matrix("[1, a; 1, b]").reduced()', "[1, 0; 0, 1]   # if a - b != 0"),
    ('matrix("[a, b; 0, c]").reduced()', "[1, 0; 0, 1]   # if a != 0 and c != 0"),
    ('matrix("[1, 1; 1, 1]").solve(column(["a", "a"]))', "DomainError"),
    ('matrix("[1, 1; 1, 1]").solve(column(["a", "b"]))', "DomainError"),
    ('matrix("[1, 1; 1, 1]").solve(column(["1", "2"]))', "DomainError"),
    ('matrix("[a, 1; 1, 1]").solve(column(["1", "b"]))', "[-(b - 1)/(a - 1); (a*b - 1)/(a - 1)]   # if a != 1"),
    ('matrix("[a, 1; 1, 1]").solve(column(["1", "b"]), given=["a > 1"])', "[-(b - 1)/(a - 1); (a*b - 1)/(a - 1)]"),
    ('matrix("[a, 0; 0, b]").solve(column(["1", "1"]))', "[1/a; 1/b]   # if a != 0 and b != 0"),
    ('matrix("[1, 1; 2, 2; 0, 1]").solve(column(["1", "2", "3"]))', "[-2; 3]"),
    ('matrix("[1, 1; 1, a]").rank()', "2   # if a != 1"),
    ('matrix("[1, 1; 1, a]").rank(given=["a != 1"])', "2"),
    ('matrix("[sqrt(2), 2; 1, sqrt(2)]").determinant()', "0"),
    ('matrix("[sqrt(2), 2; 1, sqrt(2)]").rank()', "1"),
    ('matrix("[sqrt(2), 2; 1, sqrt(2)]").inverse()', "DomainError"),
]


@pytest.mark.parametrize(("call", "expected"), TABLE, ids=[c[0][:90] for c in TABLE])
def test_calls_with_what_must_hold(call, expected):
    world = {name: getattr(gelvo, name) for name in gelvo.__all__}
    if expected in ("DomainError", "FormulaError", "Undecided"):
        with pytest.raises(getattr(gelvo, expected)):
            eval(call, world)
        return
    assert str(eval(call, world)) == expected
