"""roots_between and solve_numerically: numbers with their residuals."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from gelvo.algebra.facts import fact_condition, is_about
from gelvo.calculus.zeros import NotKnown, zeros_between
from gelvo.errors import DomainError, NotSolved
from gelvo.evaluation.enclose import Enclosure, sign_at
from gelvo.expression.building import number
from gelvo.expression.nodes import Equation, Expression, Name
from gelvo.expression.traversal import names, substitute
from gelvo.numbers.interval import NoValue
from gelvo.operations.inputs import one_expression, take


def roots_between(expression: Any, variable: Any, lower: Any, upper: Any, given: Iterable[Any] = ()) -> list[Expression]:
    """All real zeros of a formula between two numbers, certified: exact where they have a form, else as bracketed values.

    Returns exact expressions in rising order. Raises NotSolved where it could not be made sure that none is missing.

    >>> import gelvo
    >>> gelvo.roots_between("x^3 - 2*x", "x", -2, 1)
    [-sqrt(2), 0]
    """
    arguments = take(expression, lower, upper, variables=[variable], given=given)
    value = arguments.values[0]
    f = one_expression(value.left - value.right if isinstance(value, Equation) else value)
    low, high = (one_expression(v) for v in arguments.values[1:])
    (x,) = arguments.names
    if names(low, high) or [n for n in names(f) if n is not x]:
        raise DomainError("roots_between needs numbers: put values in for the other letters")
    facts = arguments.facts.without(x)
    try:
        found = zeros_between(f, x, low, high, facts)
    except NotKnown:
        found = _bracketed(f, x, low, high)
    about = [c for c in (fact_condition(g) for g in arguments.facts.given if is_about(g, x)) if c is not None]
    return [z for z in found if not any(facts.holds(substitute(c, {x: z})) is False for c in about)]


def _bracketed(f: Expression, x: Name, low: Expression, high: Expression) -> list[Expression]:
    """Zeros of a smooth formula: pieces without a zero by bounds, pieces where it is monotone by the bounds of its derivative."""
    from gmpy2 import mpq

    from gelvo.algebra.differentiation import differentiate
    from gelvo.numbers.box import Box
    from gelvo.numbers.interval import Interval, arithmetic

    a = arithmetic(100)
    function, slope = Enclosure(f), Enclosure(differentiate(f, x))
    start, stop = (mpq(Enclosure(e).at({}, 200).real.low) for e in (low, high))
    work = [(start, stop, 0)]
    found: list[Expression] = []
    while work:
        left, right, depth = work.pop()
        box = Box(Interval(a.rational(left).low, a.rational(right).high))
        try:
            if not function.at({x: box}, 100).contains_zero():
                continue
            monotone = not slope.at({x: box}, 100).contains_zero()
        except NoValue:
            monotone = False
        if monotone:
            signs = [sign_at(substitute(f, {x: number(e)}), {}) for e in (left, right)]
            if signs[0] * signs[1] < 0:
                found.append(number(_refined(f, x, left, right, signs[0])))
            elif 0 in signs:
                found.append(number(left if signs[0] == 0 else right))
            continue
        if depth > 40:
            raise NotSolved(f"near {x} = {float(left):.6g} it could not be told whether there is a zero (a double one, perhaps)")
        middle = (left + right) / 2
        work += [(left, middle, depth + 1), (middle, right, depth + 1)]
    return sorted(dict.fromkeys(found), key=float)


def _refined(f: Expression, x: Name, left: Any, right: Any, sign: int) -> Any:
    for _ in range(110):
        middle = (left + right) / 2
        if sign_at(substitute(f, {x: number(middle)}), {}) == sign:
            left = middle
        else:
            right = middle
    from gmpy2 import mpq

    return mpq(round((left + right) / 2 * 10**30), 10**30)


class NumericSolution(Mapping[str, float]):
    """Numbers by name, with .residuals (how far each equation is off) and .table() for a reader."""

    def __init__(self, values: dict[str, float], residuals: dict[str, float]) -> None:
        self._values, self.residuals = values, residuals

    def __getitem__(self, name: Any) -> float:
        return self._values[str(getattr(name, "name", name))]

    def __iter__(self) -> Any:
        return iter(self._values)

    def __len__(self) -> int:
        return len(self._values)

    def table(self) -> str:
        """One line an equation: its text and the residual there."""
        width = max((len(k) for k in self.residuals), default=0)
        return "\n".join(f"{k.ljust(width)}  {v: .3e}" for k, v in self.residuals.items())

    def __str__(self) -> str:
        return ", ".join(f"{k} = {v:.12g}" for k, v in self._values.items())

    __repr__ = __str__


def numeric_solution(
    equations: Any, unknowns: Any, start: Mapping[Any, Any] | None = None, values: Mapping[Any, Any] | None = None,
    given: Iterable[Any] = (),
) -> NumericSolution:  # fmt: skip
    """Numbers for equations, from first guesses, with the residual of each equation."""
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
    guesses = {str(getattr(k, "name", k)): float(v) for k, v in (start or {}).items()}
    return _newton(inside, listed, variables, [guesses.get(v.name, 1.0) for v in variables])


def _newton(inside: list[Expression], shown: list[Any], variables: list[Name], start: list[float]) -> NumericSolution:
    import warnings

    import numpy
    from scipy.optimize import root

    enclosures = [Enclosure(e) for e in inside]

    def work(place: Any) -> Any:
        from gmpy2 import mpq

        if not numpy.isfinite(place).all():
            return numpy.full(len(inside), 1e6)
        point = {v: mpq(float(p)) for v, p in zip(variables, place, strict=True)}
        try:
            return numpy.array([float(e.at(point, 100).real.low) for e in enclosures])
        except NoValue:
            return numpy.full(len(inside), 1e6)

    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        found = root(work, numpy.array(start), method="hybr", options={"xtol": 1e-13})
    residuals = work(found.x)
    scale = max(1.0, float(numpy.abs(found.x).max()))
    if not found.success and float(numpy.abs(residuals).max()) > 1e-9 * scale:
        raise NotSolved(
            f"no solution was reached from {', '.join(f'{v} = {s:g}' for v, s in zip(variables, start, strict=True))}: "
            "give other first guesses with start={…}"
        )
    values = {v.name: float(p) for v, p in zip(variables, found.x, strict=True)}
    return NumericSolution(values, {str(e): float(r) for e, r in zip(shown, residuals, strict=True)})
