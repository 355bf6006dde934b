"""exp(t*A) exactly, from the resolvent: the sum of B_k times the k-th derivative of the impulse response of det(s - A).

Source: M. Vidyasagar, "A novel method of evaluating e^(At) in closed form" (1970).
"""

from __future__ import annotations

from gelvo.calculus.transforms import inverse_laplace
from gelvo.errors import NotSolved
from gelvo.expression.building import total
from gelvo.expression.nodes import Condition, Expression, Name
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.matrices.matrix import Matrix
from gelvo.matrices.resolvent import resolvent


def matrix_exponential(m: Matrix, t: Name, facts: Facts) -> tuple[Matrix, tuple[Condition, ...]]:
    """(exp(t*A), conditions on the letters).

    >>> from gelvo.expression.building import name
    >>> print(matrix_exponential(Matrix([[0, 1], [0, 0]]), name("t"), Facts())[0])
    [1, t; 0, 1]
    """
    found = resolvent(m)
    s = facts.new_name("s", t, *m.flat())
    polynomial = total([c * s**k for k, c in enumerate(found.coefficients)])
    response = inverse_laplace(1 / polynomial, s, t, facts.with_facts([t > 0]))
    if response is None:
        raise NotSolved(f"the exponential needs the roots of {polynomial}, which have no closed form here")
    derivatives: list[Expression] = [response.value]
    for _ in range(len(found.parts) - 1):
        derivatives.append(differentiate(derivatives[-1], t))
    rows, columns = m.shape
    entries = [
        [expand(total([b.entries[i][j] * g for b, g in zip(found.parts, derivatives, strict=True)])) for j in range(columns)]
        for i in range(rows)
    ]
    return Matrix(entries), response.conditions
