"""The classical orthogonal polynomials of Legendre, Hermite, Laguerre and Chebyshev, of any real degree.

Source: DLMF 18.3 (definitions), 18.6 (special values), 18.9 (recurrences), 18.9(iii) and 14.10 (derivatives), 15.9 (other degrees).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

from gelvo.errors import DomainError
from gelvo.expression.building import number, total
from gelvo.expression.constants import ONE, PI, ZERO
from gelvo.expression.registry import Function, register
from gelvo.functions.entire import by_recurrence
from gelvo.functions.support import Condition, Expression, FunctionName, Number, facts, junction, mpq, relation

legendre, hermite, laguerre, chebyt, chebyu = (FunctionName(n) for n in ("legendre", "hermite", "laguerre", "chebyt", "chebyu"))
sin = FunctionName("sin")
LARGEST = 24  # degree up to which a polynomial is written out
Row = list[mpq]
# p_(k+1) = (a*x + b)*p_k - c*p_(k-1), from p_0 = 1 and p_1
RECURRENCES: dict[str, tuple[Row, Callable[[int], tuple[mpq, mpq, mpq]]]] = {
    "legendre": ([mpq(0), mpq(1)], lambda k: (mpq(2 * k + 1, k + 1), mpq(0), mpq(k, k + 1))),
    "hermite": ([mpq(0), mpq(2)], lambda k: (mpq(2), mpq(0), mpq(2 * k))),
    "laguerre": ([mpq(1), mpq(-1)], lambda k: (mpq(-1, k + 1), mpq(2 * k + 1, k + 1), mpq(k, k + 1))),
    "chebyt": ([mpq(0), mpq(1)], lambda k: (mpq(2), mpq(0), mpq(1))),
    "chebyu": ([mpq(0), mpq(2)], lambda k: (mpq(2), mpq(0), mpq(1))),
}


def _coefficients(kind: str, degree: int) -> Row:
    before, current = [mpq(1)], RECURRENCES[kind][0]
    if degree == 0:
        return before
    for k in range(1, degree):
        a, b, c = RECURRENCES[kind][1](k)
        following = [mpq(0), *(a * v for v in current)]
        for place, row, share in ((0, current, b), (0, before, -c)):
            for j, v in enumerate(row):
                following[place + j] += share * v
        before, current = current, following
    return current


def _written_out(kind: str, degree: int, x: Expression) -> Expression:
    return total([number(c) * x**k if k else number(c) for k, c in enumerate(_coefficients(kind, degree)) if c])


def _turned(kind: str, n: int) -> tuple[int, int]:
    """A negative whole degree by one that is not, and the sign; the sign 0 where the function vanishes."""
    if kind == "legendre":
        return -n - 1, 1
    if kind == "chebyt":
        return -n, 1
    return (-n - 2, -1) if n < -1 else (0, 0)


def _at(
    kind: str, at_one: Callable[[Expression], Expression] | None = None
) -> Callable[[Expression, Expression], Expression | None]:
    """The polynomial, for small whole degrees; the value at 1 for any."""

    def at(n: Expression, x: Expression) -> Expression | None:
        if isinstance(n, Number) and n.is_whole:
            degree, sign = int(n.rational), 1
            if degree < 0 and kind in ("legendre", "chebyt", "chebyu"):
                degree, sign = _turned(kind, degree)
            if 0 <= degree <= LARGEST:
                return sign * _written_out(kind, degree, x)
        return at_one(n) if at_one is not None and x is ONE else None

    return at


def _at_laguerre(n: Expression, x: Expression) -> Expression | None:
    return ONE if x is ZERO else _at("laguerre")(n, x)


def _no_degree_derivative(n: Expression, x: Expression) -> Expression:
    raise DomainError("the derivative of an orthogonal polynomial by its degree has no closed form here")


def _entire(n: int, x: int) -> int:
    return facts.REAL if facts.is_real(n) and facts.is_real(x) else facts.ANY


def _known(n: int, x: int) -> int:
    right = facts.is_real(n) and facts.is_nonnegative(x)
    return facts.REAL if right or (facts.is_integer(n) and facts.is_real(x)) else facts.ANY


def _branch_point(n: Expression, x: Expression) -> tuple[Expression, ...]:
    """At -1, but for whole degrees."""
    return () if facts.is_integer(n.known) else (x + 1,)


def _real_where(n: Expression, x: Expression) -> tuple[Condition, ...]:
    """From -1 on, and everywhere for whole degrees, which a letter may be."""
    if facts.is_integer(n.known):
        return ()
    right = relation("<", -ONE, x)
    return (right,) if isinstance(n, Number) else (junction("or", (right, relation("=", sin(PI * n), ZERO))),)


def _nowhere(n: Expression, x: Expression) -> tuple[Expression, ...]:
    return ()


def _family(
    kind: FunctionName, about: str, example: Sequence[str], slope: Callable[[Expression, Expression], Expression],
    at: Callable[[Expression, Expression], Expression | None], latex: str, source: str, entire: bool, agreed: object = None,
) -> None:  # fmt: skip
    register(
        Function(
            name=kind, about=about, example=tuple(example), arguments=(2, 2), at=at, derivative=(_no_degree_derivative, slope),
            known=_entire if entire else _known, breaks=_nowhere if entire else _branch_point,
            jumps=_nowhere if entire else _branch_point, real_when=None if entire else _real_where,
            bounds=by_recurrence(kind, *RECURRENCES[kind]), agreed=agreed or str(kind), latex=latex, source=source,  # type: ignore[arg-type]
        )
    )  # fmt: skip


_family(
    legendre, "The Legendre polynomial, from its degree and its argument.", ("2", "x", "3*x^2/2 - 1/2"),
    lambda n, x: n * (legendre(n - 1, x) - x * legendre(n, x)) / (1 - x**2), _at("legendre", lambda n: ONE), "P", "DLMF 14.7, 18.3",
    False,
)  # fmt: skip
_family(
    hermite, "The Hermite polynomial orthogonal under exp(-x^2), from its degree and its argument.", ("2", "x", "4*x^2 - 2"),
    lambda n, x: 2 * n * hermite(n - 1, x), _at("hermite"), "H", "DLMF 18.3", True,
)  # fmt: skip
_family(
    laguerre, "The Laguerre polynomial orthogonal under exp(-x), from its degree and its argument.", ("1", "x", "1 - x"),
    lambda n, x: n * (laguerre(n, x) - laguerre(n - 1, x)) / x, _at_laguerre, "L", "DLMF 18.3", True,
    lambda context, n, x: context.laguerre(n, 0, x),
)  # fmt: skip
_family(
    chebyt, "The Chebyshev polynomial of the first kind, from its degree and its argument.", ("2", "x", "2*x^2 - 1"),
    lambda n, x: n * chebyu(n - 1, x), _at("chebyt", lambda n: ONE), "T", "DLMF 18.3", False,
)  # fmt: skip
_family(
    chebyu, "The Chebyshev polynomial of the second kind, from its degree and its argument.", ("2", "x", "4*x^2 - 1"),
    lambda n, x: ((n + 1) * chebyt(n + 1, x) - x * chebyu(n, x)) / (x**2 - 1), _at("chebyu", lambda n: n + 1), "U", "DLMF 18.3", False,
)  # fmt: skip
