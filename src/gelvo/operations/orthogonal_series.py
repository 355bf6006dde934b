"""Fourier series of periodic functions, and expansions in orthogonal polynomials: coefficients by the integrals that define them.

Source: R. Courant, D. Hilbert, "Methods of Mathematical Physics" (1953), II; M. Abramowitz, I. Stegun (1964), 22.2.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Any, NamedTuple

from gelvo.calculus.tidying import for_a_reader
from gelvo.checking.certificate import Certificate, weakest
from gelvo.deciding.equality import is_zero
from gelvo.errors import DomainError, NoClosedForm
from gelvo.expression.building import call, multiply_all, name, number, relation, sqrt, total, written
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, ONE, PI, ZERO
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Bound, Condition, Expression, Name
from gelvo.expression.traversal import contains, names, substitute
from gelvo.expression.writing import with_typed
from gelvo.facts.store import Facts
from gelvo.functions.named import CHEBYT, COS, EXP, FACTORIAL, HERMITE, LAGUERRE, LEGENDRE, SIN
from gelvo.operations.answer import Answer, with_comment
from gelvo.operations.calculus import integrate
from gelvo.operations.inputs import take

MOST_HARMONICS, LATEST_EXCEPTION = 400, 60


class Harmonic(NamedTuple):
    """The coefficients of cos(n*w*x) and sin(n*w*x)."""

    cosine: Expression
    sine: Expression


class FourierSeries(Answer):
    """A Fourier series: its formula is the whole series, written; .mean, .cosine and .sine (of n*w*x, for a letter n), .frequency w.

    .exceptions: the harmonics at which the formulas for a letter have no value; .partial(count): the sum of so many harmonics;
    .harmonic(k): both coefficients; .mean_square(): Parseval's equation.
    """

    __slots__ = ("cosine", "exceptions", "formula", "frequency", "index", "mean", "range", "sine", "variable")

    def __init__(
        self, formula: Expression, variable: Name, ends: tuple[Expression, Expression], mean: Expression, letters: Harmonic,
        exceptions: dict[int, Harmonic], index: Name, certify: Callable[[], Certificate], conditions: tuple[Condition, ...],
    ) -> None:  # fmt: skip
        self.formula, self.variable, self.range, self.index = formula, variable, ends, index
        self.mean, (self.cosine, self.sine), self.exceptions = mean, letters, exceptions
        self.frequency = 2 * PI / (ends[1] - ends[0])
        super().__init__(self._whole(), certify, conditions, "coefficients by the integrals over one period")

    def _wave(self, n: Expression, found: Harmonic) -> Expression:
        angle = n * self.frequency * self.variable
        return found.cosine * COS(angle) + found.sine * SIN(angle)

    def _whole(self) -> Expression:
        last = max(self.exceptions, default=0)
        first = total([self._wave(number(k), self.harmonic(k)) for k in range(1, last + 1)])
        rest = self._wave(self.index, Harmonic(self.cosine, self.sine))
        tail = ZERO if rest is ZERO else written("sum_of", rest, self.index, number(last + 1), INFINITE)
        return self.mean + first + tail

    def harmonic(self, k: int) -> Harmonic:
        """The coefficients of cos and sin of the k-th multiple of the frequency, k from 1 on.

        >>> import gelvo
        >>> gelvo.fourier_series("abs(sin(x))", "x", "-pi", "pi").harmonic(2).cosine
        -4/(3*pi)
        """
        if not 1 <= k <= MOST_HARMONICS:
            raise DomainError(f"harmonics are counted from 1 to {MOST_HARMONICS}, not {k}")
        if k in self.exceptions:
            return self.exceptions[k]
        at = {self.index: number(k)}
        return Harmonic(substitute(self.cosine, at), substitute(self.sine, at))

    def partial(self, count: int) -> Expression:
        """The mean and the first `count` harmonics.

        >>> import gelvo
        >>> gelvo.fourier_series("abs(x)", "x", -1, 1).partial(2)
        1/2 - 4*cos(pi*x)/pi^2
        """
        return self.mean + total([self._wave(number(k), self.harmonic(k)) for k in range(1, count + 1)])

    def mean_square(self) -> Equation:
        """Parseval's equation: the mean of the square of the function, and that of its harmonics (M.-A. Parseval, 1799)."""
        low, high = self.range
        own = written("integral_of", self.formula**2, self.variable, low, high) / (high - low)
        last = max(self.exceptions, default=0)
        first = total([(h.cosine**2 + h.sine**2) / 2 for h in map(self.harmonic, range(1, last + 1))])
        rest = (self.cosine**2 + self.sine**2) / 2
        tail = ZERO if rest is ZERO else written("sum_of", rest, self.index, number(last + 1), INFINITE)
        return Equation(own, self.mean**2 + first + tail)


def fourier_series(
    expression: Any, variable: Any, lower: Any, upper: Any, index: Any = "n", given: Iterable[Any] = ()
) -> FourierSeries:
    """The Fourier series of a function that is given between two ends, and goes on periodically.

    expression: a function of the variable, also piecewise; lower, upper: the ends of one period; index: the letter that counts
    harmonics; given: facts. Returns a FourierSeries. At a jump the series has the mean of both sides.
    Raises NoClosedForm where a coefficient has none. Conditions on the index hold for the formulas with a letter.

    >>> import gelvo
    >>> gelvo.fourier_series("x", "x", "-pi", "pi")
    sum_of(-2*(-1)^n*sin(n*x)/n, n, 1, inf)
    """
    arguments = take(expression, lower, upper, variables=[variable, index], given=given)
    (f, low, high), (x, letter) = arguments.expressions, arguments.names
    n = name(letter.name, "natural")
    length = high - low
    if isinstance(low, Bound) or isinstance(high, Bound) or contains(length, x):
        raise DomainError(f"a period has finite ends without {x}, not {low} and {high}")
    if contains(f, letter) or letter is x:
        raise DomainError(f"the formula already contains {letter}: say index= another letter")
    known = arguments.facts.with_facts([relation("<", ZERO, length)]) if names(length) else arguments.facts
    period = _Period(f, x, low, length, known)
    mean = period.mean_of(f)
    letters = period.harmonic(n, relation("<=", ONE, n))
    exceptions = period.exceptions(letters, n)
    return FourierSeries(f, x, (low, high), mean, letters, exceptions, n, period.certificate, period.conditions(n, exceptions))


class _Period:
    """The integrals over one period, each with its certificate."""

    def __init__(self, f: Expression, x: Name, low: Expression, length: Expression, facts: Facts) -> None:
        self.f, self.x, self.low, self.length, self.facts = f, x, low, length, facts
        self.parts: list[Answer] = []

    def mean_of(self, g: Expression, *more: Condition) -> Expression:
        found = integrate(g / self.length, self.x, self.low, self.low + self.length, given=[*self.facts.given, *more])
        if found.reason or isinstance(found.expression, Bound):
            raise NoClosedForm(f"the integral of {g} over the period has no closed form, or no value")
        self.parts.append(found)
        return found.expression

    def harmonic(self, k: Expression, *more: Condition) -> Harmonic:
        angle = k * (2 * PI / self.length) * self.x
        return Harmonic(*(for_a_reader(2 * self.mean_of(self.f * wave(angle), *more), self.facts) for wave in (COS, SIN)))

    def _stated(self) -> list[Condition]:
        return list(dict.fromkeys(c for p in self.parts for c in p.conditions))

    def exceptions(self, letters: Harmonic, n: Name) -> dict[int, Harmonic]:
        """The harmonics for which the formulas with a letter do not hold."""
        own = self._stated()
        if any(self.facts.is_integer(m) for c in own if n in names(c) for m in names(c) if m is not n):
            raise NoClosedForm(
                "the coefficients have another form where the index meets a letter that is whole: give it a number"
            )
        return {k: self.harmonic(number(k)) for k in range(1, LATEST_EXCEPTION + 1) if _fails(letters, own, n, k)}

    def conditions(self, n: Name, exceptions: Mapping[int, Harmonic]) -> tuple[Condition, ...]:
        later = self.facts.with_facts([relation("<", number(max(exceptions, default=0)), n)])
        stated = self._stated()
        if any(list(names(c)) == [n] and later.holds(c) is not True for c in stated):
            raise NoClosedForm(f"the coefficients have another form beyond the harmonic {LATEST_EXCEPTION}")
        return later.open_conditions(stated)

    def certificate(self) -> Certificate:
        told = tuple(p.certificate() for p in self.parts)
        method = "each is the integral that defines it"
        return Certificate(f"the Fourier coefficients of {self.f}", weakest(told), method, parts=told)


def _fails(letters: Harmonic, conditions: list[Condition], n: Name, k: int) -> bool:
    """Whether the formulas for a letter do not hold for this number."""
    at = {n: number(k)}
    try:
        for part in letters:
            substitute(part, at)
        return any(Facts().holds(substitute(c, at)) is False for c in conditions if list(names(c)) == [n])
    except DomainError:
        return True


class Family(NamedTuple):
    """Polynomials that are orthogonal between two ends with a weight; norm: the integral of weight*polynomial^2."""

    lower: Expression
    upper: Expression
    weight: Callable[[Expression], Expression]
    norm: Callable[[int], Expression]


FAMILIES: Mapping[str, Family] = {
    LEGENDRE: Family(-ONE, ONE, lambda x: ONE, lambda k: number(2) / (2 * k + 1)),
    CHEBYT: Family(-ONE, ONE, lambda x: 1 / sqrt(1 - x**2), lambda k: PI if not k else PI / 2),
    HERMITE: Family(MINUS_INFINITE, INFINITE, lambda x: EXP(-(x**2)), lambda k: sqrt(PI) * 2**k * FACTORIAL(number(k))),
    LAGUERRE: Family(ZERO, INFINITE, lambda x: EXP(-x), lambda k: ONE),
}


class OrthogonalSeries(Answer):
    """An expansion in orthogonal polynomials: its formula is the sum that was kept, a polynomial; .terms: the coefficients by degree."""

    __slots__ = ("family", "terms", "variable")

    def __init__(self, family: str, variable: Name, terms: dict[int, Expression], *rest: Any) -> None:
        super().__init__(*rest)
        self.family, self.variable, self.terms = family, variable, terms

    def coefficient(self, degree: int) -> Expression:
        """The coefficient of the polynomial of a degree; zero for one that vanishes, an error for one that was not worked out."""
        if degree not in self.terms:
            raise DomainError(f"the coefficients are worked out for the degrees 0 to {max(self.terms)}")
        return self.terms[degree]

    def __str__(self) -> str:
        with with_typed(self.came_in):
            kept = [f"({c})*{self.family}({k}, {self.variable})" for k, c in self.terms.items() if c is not ZERO]
        return with_comment(" + ".join(kept) or "0", self.qualification)

    __repr__ = __str__


def orthogonal_series(
    expression: Any, variable: Any, family: str = LEGENDRE, through: int = 5, given: Iterable[Any] = ()
) -> OrthogonalSeries:
    """The expansion of a function in orthogonal polynomials, up to a degree.

    expression: a function, also piecewise; family: "legendre" or "chebyt" between -1 and 1, "hermite" over the line with the weight
    exp(-x^2), "laguerre" over the half line with exp(-x); through: the last degree. Returns an OrthogonalSeries.
    Raises NoClosedForm where a coefficient has none.

    >>> import gelvo
    >>> gelvo.orthogonal_series("abs(x)", "x", through=4)
    (1/2)*legendre(0, x) + (5/8)*legendre(2, x) + (-3/16)*legendre(4, x)
    """
    if family not in FAMILIES:
        raise DomainError(f"{family!r} is no family of polynomials here; say {', '.join(FAMILIES)}")
    if not isinstance(through, int) or not 0 <= through <= 40:
        raise DomainError(f"the last degree is a number from 0 to 40, not {through!r}")
    arguments = take(expression, variables=[variable], given=given)
    (f,), (x,), facts = arguments.expressions, arguments.names, arguments.facts
    row = FAMILIES[family]
    parts: list[Answer] = []
    terms: dict[int, Expression] = {}
    for k in range(through + 1):
        weighted = multiply_all([f, row.weight(x), call(family, number(k), x)])
        found = integrate(weighted, x, row.lower, row.upper, given=list(facts.given))
        if found.reason or isinstance(found.expression, Bound):
            raise NoClosedForm(f"the integral of {weighted} has no closed form, or no value")
        parts.append(found)
        value = for_a_reader(found.expression / row.norm(k), facts)
        terms[k] = ZERO if is_zero(value, facts) else value
    kept = total([c * call(family, number(k), x) for k, c in terms.items()])
    conditions = tuple(dict.fromkeys(c for p in parts for c in p.conditions))

    def certify() -> Certificate:
        told = tuple(p.certificate() for p in parts)
        return Certificate(
            f"the coefficients of {f} by {family} polynomials", weakest(told), "each is the integral that defines it", parts=told
        )

    return OrthogonalSeries(
        family, x, terms, kept, certify, facts.open_conditions(conditions), "integrals with the weight of the family"
    )
