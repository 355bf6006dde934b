"""solve_numerically: numbers for systems without formula, with their residuals and with what is proved of them."""

from __future__ import annotations

import warnings
from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import TYPE_CHECKING, Any

from gmpy2 import mpq

from gelvo.errors import DomainError, NotSolved
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.building import number
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Expression, Name, Node
from gelvo.expression.traversal import names, substitute
from gelvo.facts.statements import fact_condition
from gelvo.forms.differentiation import differentiate
from gelvo.numbers.interval import Interval, NoValue
from gelvo.operations.inputs import one_expression, take
from gelvo.solving.krawczyk import System, all_inside, proved_near
from gelvo.solving.putting_back import real_conditions

if TYPE_CHECKING:
    from numpy import float64
    from numpy.typing import NDArray


class NumericSolution(Mapping[str, float]):
    """Numbers by name, with .residuals (how far each equation is off) and .table() for a reader.

    .radius: it is proved that one solution, and no other, lies nearer than this (times the size of a number above 1); None without proof.
    """

    def __init__(self, values: dict[str, float], residuals: dict[str, float], radius: float | None = None) -> None:
        self._values, self.residuals, self.radius = values, residuals, radius

    def __getitem__(self, name: Any) -> float:
        return self._values[str(getattr(name, "name", name))]

    def __iter__(self) -> Iterator[str]:
        return iter(self._values)

    def __len__(self) -> int:
        return len(self._values)

    def table(self) -> str:
        """One line an equation: its text and the residual there."""
        width = max((len(k) for k in self.residuals), default=0)
        proof = f"one solution within {self.radius:.2g}, and no other: proved" if self.radius else "not proved"
        return "\n".join([*(f"{k.ljust(width)}  {v: .3e}" for k, v in self.residuals.items()), proof])

    def __str__(self) -> str:
        return ", ".join(f"{k} = {v:.12g}" for k, v in self._values.items())

    __repr__ = __str__


def numeric_solution(
    equations: object, unknowns: object, start: Mapping[Any, object] | None = None, values: Mapping[Any, object] | None = None,
    given: Iterable[object] = (), within: Mapping[Any, tuple[object, object]] | None = None,
) -> Any:  # fmt: skip
    """Numbers for equations, from first guesses, with the residual of each equation; or all solutions in a box."""
    listed = list(equations) if isinstance(equations, (list, tuple)) else [equations]
    wanted = list(unknowns) if isinstance(unknowns, (list, tuple)) else [unknowns]
    numbers = {str(getattr(k, "name", k)): v for k, v in (values or {}).items()}
    arguments = take(*listed, *numbers.values(), variables=wanted, given=given)
    read = [v.left - v.right if isinstance(v, Equation) else one_expression(v) for v in arguments.values[: len(listed)]]
    table = dict(zip(numbers, arguments.values[len(listed) :], strict=True))
    inside = [substitute(e, {n: table[n.name] for n in names(e) if n.name in table}) for e in read]
    variables = list(arguments.names)
    missing = [n for e in inside for n in names(e) if n not in variables]
    if missing:
        raise DomainError(f"numbers are needed for {', '.join(dict.fromkeys(n.name for n in missing))}: values={{…}}")
    if len(inside) != len(variables):
        raise DomainError(f"{len(inside)} equations for {len(variables)} unknowns: a numeric solution needs as many")
    if within is not None:
        return _all_within(inside, listed, variables, within)
    guesses = {str(getattr(k, "name", k)): _first_guess(k, v) for k, v in (start or {}).items()}
    found = _newton(inside, listed, variables, [guesses.get(v.name, 1.0) for v in variables])
    point: dict[Node, Expression] = {v: number(mpq(found[v.name])) for v in variables}
    stated = [fact_condition(f) for f in arguments.facts.given]
    free = arguments.facts.without_all(variables)
    for condition in [*stated, *(c for e in inside for v in variables for c in real_conditions(e, v, arguments.facts))]:
        if condition is not None and free.holds(substitute(condition, point)) is False:
            raise NotSolved(f"{found} was reached, which is against {condition}: give other first guesses with start={{…}}")
    return found


def _all_within(
    inside: list[Expression], shown: Sequence[object], variables: list[Name], within: Mapping[Any, tuple[object, object]]
) -> list[NumericSolution]:
    """All solutions in a box, each proved."""
    ends = {str(getattr(k, "name", k)): v for k, v in within.items()}
    lacking = [v.name for v in variables if v.name not in ends]
    if lacking:
        raise DomainError(f"the box has no range for {', '.join(lacking)}: within={{{lacking[0]!r}: (0, 1), …}}")
    ranges = [(mpq(_first_guess(v, ends[v.name][0])), mpq(_first_guess(v, ends[v.name][1]))) for v in variables]
    system = System(inside, variables)
    found = []
    for place in all_inside(system, ranges):
        values = {v.name: float((x.low + x.high) / 2) for v, x in zip(variables, place, strict=True)}
        found.append(_with_proof(system, shown, values))
    return found


def _with_proof(system: System, shown: Sequence[object], values: dict[str, float]) -> NumericSolution:
    """The residuals of numbers, and up to where they are proved to be near the one solution."""
    proof = proved_near(system, [values[v.name] for v in system.unknowns])
    point = tuple(Interval(x, x) for x in (system.a.rational(mpq(values[v.name])).low for v in system.unknowns))
    residuals = {str(e): float(r.low) for e, r in zip(shown, system.at(point), strict=True)}
    return NumericSolution(values, residuals, None if proof is None else float(proof[1]))


def _first_guess(name: object, guess: Any) -> float:
    try:
        return float(guess)
    except (TypeError, ValueError, DomainError):
        raise DomainError(f"a first guess is a number, and that for {name} is {guess}") from None


def _converged(inside: list[Expression], variables: list[Name], place: NDArray[float64], residuals: NDArray[float64]) -> bool:
    """Whether the residuals are as small as rounding leaves them: beside the slopes there, which vanish where a formula only dies away."""
    import numpy

    if not numpy.isfinite(place).all() or float(numpy.abs(residuals).max()) > 1e-9 * max(1.0, float(numpy.abs(place).max())):
        return False
    point = {v: mpq(float(p)) for v, p in zip(variables, place, strict=True)}
    try:
        slopes = numpy.array([[float(Enclosure(differentiate(e, v)).at(point, 100).real.low) for v in variables] for e in inside])
        step = numpy.linalg.lstsq(slopes, -numpy.array(residuals), rcond=None)[0]
    except (NoValue, DomainError, numpy.linalg.LinAlgError):
        return True
    return bool(float(numpy.abs(step).max()) <= 1e-6 * max(1.0, float(numpy.abs(place).max())))


def _newton(inside: list[Expression], shown: Sequence[object], variables: list[Name], start: list[float]) -> NumericSolution:
    import numpy
    from scipy.optimize import root

    enclosures = [Enclosure(e) for e in inside]

    def work(place: NDArray[float64]) -> NDArray[float64]:
        if not numpy.isfinite(place).all():
            return numpy.full(len(inside), 1e6)
        point = {v: mpq(float(p)) for v, p in zip(variables, place, strict=True)}
        try:
            found = [e.at(point, 100) for e in enclosures]
        except NoValue:
            return numpy.full(len(inside), 1e6)
        if any(b.imag is not None and not b.imag.contains_zero() for b in found):
            return numpy.full(len(inside), 1e6)  # no real value there
        return numpy.array([float(b.real.low) for b in found])

    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        found = root(work, numpy.array(start), method="hybr", options={"xtol": 1e-13})
    residuals = work(found.x)
    if not _converged(inside, variables, found.x, residuals):
        raise NotSolved(
            f"no solution was reached from {', '.join(f'{v} = {s:g}' for v, s in zip(variables, start, strict=True))}: "
            "give other first guesses with start={…}"
        )
    values = {v.name: float(p) for v, p in zip(variables, found.x, strict=True)}
    try:
        return _with_proof(System(inside, variables), shown, values)
    except (NotSolved, NoValue):
        return NumericSolution(values, {str(e): float(r) for e, r in zip(shown, residuals, strict=True)})
