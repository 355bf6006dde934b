"""Matrices with letters: inverses, solutions, reduced forms and eigenvectors say for which letters they hold."""

from __future__ import annotations

import pytest

import gelvo

TABLE = [
    ('matrix("[sqrt(3), 1; 0, sqrt(3)]").eigenvalues()', "{sqrt(3): 2}"),
    ('matrix("[sqrt(3), 1; 0, sqrt(3)]").eigenvectors()', "[(sqrt(3), [[1; 0]])]"),
    ('matrix("[sqrt(2), 1, 0; 0, sqrt(2), 1; 0, 0, sqrt(2)]").eigenvalues()', "{sqrt(2): 3}"),
    ('matrix("[sqrt(2), 1; 1, sqrt(2)]").eigenvalues()', "{sqrt(2) - 1: 1, sqrt(2) + 1: 1}"),
    ('matrix("[2*sqrt(5), -5; 1, 0]").eigenvalues()', "{sqrt(5): 2}"),
    ('matrix("[pi, 1; 0, pi]").eigenvalues()', "{pi: 2}"),
    ('matrix("[a, 1; 0, a]").eigenvalues()', "{a: 2}"),
    ('matrix("[a, 1; 0, b]").eigenvectors()', "[(a, [[1; 0]]), (b, [[1/(b - a); 1]])]   # if a - b != 0"),
    ('matrix("[1, 2; 2, 1]").eigenvectors()', "[(3, [[1; 1]]), (-1, [[-1; 1]])]"),
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
    ('matrix("[1, 1; 1, a]").rank()', "Undecided"),
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
