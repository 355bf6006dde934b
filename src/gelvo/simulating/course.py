"""A motion followed by numbers, as one object: read anywhere in its range, tabulated and drawn, with its error and its events.

Methods: J. Dormand and P. Prince, order 8 (1980), and for stiff motions Radau IIA of order 5 (E. Hairer and G. Wanner, "Solving Ordinary
Differential Equations II", 1996) with the exact Jacobian; both of SciPy.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from typing import TYPE_CHECKING, Any, NamedTuple

from gelvo.code.numeric import numeric_function
from gelvo.deadline import checkpoint
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.nodes import Applied, Expression
from gelvo.expression.traversal import postorder, substitute
from gelvo.operations.inputs import split_initial, take
from gelvo.physics.systems import FirstOrder, read_equations
from gelvo.simulating.model import Model, model_of

if TYPE_CHECKING:
    from matplotlib.figure import Figure
    from numpy import float64
    from numpy.typing import NDArray

TOLERANCES, STIFF = (1e-9, 1e-12), (1e-8, 1e-10)  # relative, of the motion and of the one that it is held against
STEEP = 60_000  # evaluations of the rates from which a motion is taken for stiff
MOST_ROWS = 60
RADAU = "Radau IIA, with the exact Jacobian"


class Run(NamedTuple):
    """What one integration gave: the state between any two times, the times of the events, and the method."""

    state: Callable[[Any], Any]
    events: list[list[float]]
    method: str


class Course(Mapping[str, Any]):
    """A motion by numbers: arrays by name at `.times` (functions and their derivatives as `theta`, `theta_dot`).

    .at(time): the state there; .events: when each formula was zero; .error: how far a run with a thousandth of the tolerance is away,
    at most, for each name; .drift: how far each watched quantity left its first value; .method; .table(rows) and .plot(names).
    """

    def __init__(self, model: Model, times: Any, run: Run, error: dict[str, float], drift: dict[str, float]) -> None:
        self.model, self.times, self.method, self.error, self.drift = model, times, run.method, error, drift
        self._state = run.state
        self._values = {s.name: row for s, row in zip(model.states, run.state(times), strict=True)}
        self.events = dict(zip(model.events, run.events, strict=True))

    def __getitem__(self, name: Any) -> NDArray[float64]:
        word = str(getattr(name, "name", name))
        if word not in self._values:
            raise DomainError(f"{word} is not among {', '.join(self._values)}")
        return self._values[word]

    def __iter__(self) -> Iterator[str]:
        return iter(self._values)

    def __len__(self) -> int:
        return len(self._values)

    def at(self, time: float) -> dict[str, float]:
        """The state at a time of the range, between the tabulated ones too."""
        first, last = float(self.times[0]), float(self.times[-1])
        if not min(first, last) <= time <= max(first, last):
            raise DomainError(f"{self.model.time} = {time:g} is outside of {first:g} to {last:g}, where the motion was followed")
        return {n: float(v) for n, v in zip(self._values, self._state(float(time)), strict=True)}

    def table(self, rows: int = 11) -> str:
        """Evenly spaced rows as text."""
        import numpy

        if not 2 <= rows <= MOST_ROWS:
            raise DomainError(f"a table has 2 to {MOST_ROWS} rows, not {rows}")
        places = numpy.linspace(self.times[0], self.times[-1], rows)
        width = max(14, *(len(n) + 2 for n in self._values))
        head = "".join(w.rjust(width) for w in (self.model.time.name, *self._values))
        body = ["".join(f"{v:.6g}".rjust(width) for v in (t, *self._state(t))) for t in places]
        return "\n".join([head, *body])

    def plot(self, names: Sequence[Any] = (), **options: Any) -> Figure:
        """A figure of some or all functions over the range; `options` as in `plot` (units, title, panels)."""
        from gelvo.figures.plotting import plot_curves  # noqa: PLC0415  (loaded by who draws)

        words = [str(getattr(n, "name", n)) for n in names] or list(self._values)
        return plot_curves([(self.times, self[w]) for w in words], words, self.model.time, **options)

    def told(self) -> list[str]:
        """What is to be known of the numbers: the range and the method, the error, the drift, the events."""
        first, last = self.times[0], self.times[-1]
        lines = [f"followed from {self.model.time} = {first:g} to {last:g} ({self.method})"]
        lines.append(
            "error at most " + ", ".join(f"{v:.1g} in {n}" for n, v in self.error.items()) + " (against a second tolerance)"
        )
        lines += [f"{n} leaves its first value by {v:.1g} at most" for n, v in self.drift.items()]
        lines += [
            f"{n} is zero at {', '.join(f'{t:.6g}' for t in found[:6])}{', …' * (len(found) > 6)}"
            for n, found in self.events.items()
        ]
        return lines

    def __str__(self) -> str:
        return "\n".join([self.table(6), *self.told()])

    def __repr__(self) -> str:
        return f"Course({', '.join(self._values)} at {len(self.times)} values of {self.model.time})"


def followed(
    equations: object, unknowns: object, span: Sequence[object], values: Mapping[Any, Any], points: int, given: Iterable[Any],
    events: Mapping[str, Any], watch: Mapping[str, Any], stiff: bool | None,
) -> Course:  # fmt: skip
    """A motion by numbers from the first-order form as generated NumPy code, with a second run against which its error is told."""
    import numpy

    if len(span) != 2:
        raise DomainError("the range is (from, to)")
    stated = list(given)
    ends = [float(e) for e in take(*span).expressions]
    if ends[0] == ends[1]:
        raise DomainError(f"the range from {ends[0]:g} to {ends[1]:g} is empty")
    if not isinstance(equations, FirstOrder):
        _starts_there(equations, unknowns, stated, ends[0])
    model = model_of(equations, unknowns, "motion", values, {}, (), dict(watch), dict(events), stated)
    first = _run(model, ends, 0, stiff)
    second = _run(model, ends, 1, first.method == RADAU)
    times = numpy.linspace(ends[0], ends[1], points)
    apart = numpy.abs(first.state(times) - second.state(times)).max(axis=1)
    error = {s.name: float(a) for s, a in zip(model.states, apart, strict=True)}
    return Course(model, times, first, error, _drift(model, times, first))


def _starts_there(equations: object, unknowns: object, given: Sequence[Any], start: float) -> None:
    """Whether the stated values are those at the start of the range, all of them."""
    read, functions, arguments = read_equations(equations, unknowns, given)
    initial = [e.left for e in split_initial(arguments.facts.given)[0] if isinstance(e.left, Applied)]
    for left in initial:
        if abs(float(left.arguments[0]) - start) > 1e-12:
            raise DomainError(f"{left} is not at the start {start:g} of the range")
    stated = {(left.name, sum(left.orders)) for left in initial}
    for u in functions:
        orders = [sum(n.orders) for n in postorder(*read) if isinstance(n, Applied) and n.name == u.name]
        for k in range(max(orders, default=0)):
            if (u.name, k) not in stated:
                raise DomainError(f"an initial value is missing: {u.name}{chr(39) * k}({start:g}) = …")


def _numbers(model: Model, formulas: Sequence[Expression]) -> Callable[..., Any]:
    """Formulas in the variable and the states, with the numbers of the parameters put in."""
    exact = (
        dict(zip(model.parameters, take(*[repr(v) for v in model.values]).expressions, strict=True)) if model.parameters else {}
    )
    return numeric_function([substitute(f, exact) for f in formulas], [model.time, *model.states])


def _run(model: Model, ends: Sequence[float], level: int, stiff: bool | None) -> Run:
    import numpy
    from scipy.integrate import solve_ivp

    rates = _numbers(model, model.rates)
    n = len(model.states)
    signs = [_numbers(model, [e]) for e in model.events.values()]
    watched = [lambda t, y, s=s: float(numpy.ravel(s(t, *y))[0]) for s in signs]
    counted, tolerance = 0, (STIFF if stiff else TOLERANCES)[level]

    def rate(t: float, y: Any) -> Any:
        nonlocal counted
        checkpoint()
        counted += 1
        if stiff is None and counted > STEEP:
            raise _Steep
        return numpy.atleast_1d(numpy.array(rates(t, *y), dtype=float))

    common: dict[str, Any] = {
        "rtol": tolerance, "atol": tolerance * 1e-3, "dense_output": True, "events": watched or None,
    }  # fmt: skip
    method = RADAU if stiff else "Dormand and Prince"
    if stiff:
        slopes = _numbers(model, [e for row in model.jacobian for e in row])
        common |= {"method": "Radau", "jac": lambda t, y: numpy.array(slopes(t, *y), dtype=float).reshape(n, n)}
    else:
        common["method"] = "DOP853"
    try:
        with numpy.errstate(all="ignore"):
            found = solve_ivp(rate, tuple(ends), model.start, **common)
    except _Steep:
        return _run(model, ends, level, True)
    _refuse_runaway(model, found)
    return Run(found.sol, [[float(t) for t in times] for times in found.t_events or []], method)


def _refuse_runaway(model: Model, found: Any) -> None:
    import numpy

    if not found.success or not numpy.isfinite(found.y).all():
        told = f"beyond {model.time} = {found.t[-1]:.6g}: it may run off there ({found.message})"
        raise NotSolved(f"the motion could not be followed {told}")


class _Steep(Exception):
    """The plain method needs too many steps."""


def _drift(model: Model, times: Any, run: Run) -> dict[str, float]:
    if not model.outputs:
        return {}
    import numpy

    found: dict[str, float] = {}
    for name, formula in model.outputs.items():
        values = numpy.broadcast_to(numpy.ravel(_numbers(model, [formula])(times, *run.state(times))), times.shape)
        found[name] = float(numpy.abs(values - values[0]).max())
    return found
