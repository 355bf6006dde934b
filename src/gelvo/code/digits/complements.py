"""exp(u^2)*erfc(u) as one function, which neither vanishes nor overflows: for u from 0 on, a polynomial in (u - k)/(u + k).

M. M. Shepherd, J. G. Laframboise, "Chebyshev Approximation of (1 + 2x) exp(x^2) erfc x in 0 <= x < infinity" (1981).
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache

import gmpy2
from gmpy2 import mpq

from gelvo.code.digits.joining import cases
from gelvo.code.digits.near import BITS, Function, chebyshev, chebyshev_places, horner, monomials
from gelvo.code.digits.numeric import careful
from gelvo.expression.building import call, multiply_all, name, number
from gelvo.expression.constants import ONE
from gelvo.expression.nodes import Call, Expression, Product
from gelvo.expression.terms import factors_in
from gelvo.facts.store import Facts
from gelvo.numbers.exact import nearest_float
from gelvo.numbers.interval import exact

CENTRE, DEGREE, FROM = mpq(15, 4), 27, number(mpq(1, 2))


def complements(e: Expression, facts: Facts) -> Iterator[Expression]:
    """erfc(u) far out, alone or with the exponential that it is the inverse of."""
    if isinstance(e, Call) and e.name == "erfc":
        u = e.arguments[0]
        yield cases(e, u, FROM, careful(call("exp", -(u**2))) * scaled_complement(u))
    if isinstance(e, Product):
        for one in e.factors:
            if not isinstance(one, Call) or one.name != "erfc":
                continue
            u = one.arguments[0]
            growth = call("exp", u**2)
            if growth in factors_in(e):
                rest, known = [f for f in e.factors if f is not one and f is not growth], careful(growth) * one
                yield multiply_all([number(e.coefficient), *rest, cases(known, u, FROM, scaled_complement(u))])


def scaled_complement(u: Expression) -> Expression:
    """A formula of exp(u^2)*erfc(u) for u >= 0, with an error far below that of doubles."""
    t = (u - number(CENTRE)) / (u + number(CENTRE))
    return horner(_coefficients(), t) / (ONE + 2 * u)


@cache
def _coefficients() -> list[mpq]:
    x = name("x")
    f = Function((ONE + 2 * x) * call("exp", x**2) * call("erfc", x), x)
    with gmpy2.context(gmpy2.get_context(), precision=2 * BITS):
        values = []
        for t in chebyshev_places():
            value = f.at(CENTRE * (1 + t) / (1 - t))
            assert value is not None
            values.append((gmpy2.mpfr(t), gmpy2.mpfr(value)))
        return [mpq(nearest_float(exact(c))) for c in monomials(chebyshev(values)[: DEGREE + 1], mpq(1), True)]
