"""`export_code`: files with their own test, and the check that builds and runs them apart from this process."""

from __future__ import annotations

import hashlib
import math
import tempfile
from collections.abc import Callable, Iterable, Mapping, Sequence
from functools import cached_property, partial
from pathlib import Path
from typing import Any, NamedTuple, TypeAlias, cast

from gelvo.code import c_target, cpp_target, fortran_target, javascript_target, numba_target, numpy_target
from gelvo.code.accuracy import BAR_ULP, MUCH, judge_of, sample_points, ulps
from gelvo.code.derivatives import DIRECTION, with_derivatives
from gelvo.code.digits.improving import GOALS, STEPS, Wanted, with_digits
from gelvo.code.digits.ranges import ends_stated
from gelvo.code.digits.trial import values_at
from gelvo.code.heading import Stated, known, prose
from gelvo.code.layout import STRUCTURE, VECTOR, Group, Layout, flat_names, inputs_stated, layout_of, outputs_stated, slices
from gelvo.code.loops import better_in_loops, runs
from gelvo.code.naming import check_function_name
from gelvo.code.native import NativeFunction
from gelvo.code.precision import PRECISIONS, Precision
from gelvo.code.program import Program, counted_out, in_real_numbers, make_program, straight, without_dust
from gelvo.code.running import run
from gelvo.code.target import Samples, Target
from gelvo.deciding.equality import relations_in
from gelvo.errors import CheckFailed, ExportError
from gelvo.expression.building import name as make_name
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import distinct_nodes, structure, substitute, zeros_in
from gelvo.facts.store import Facts
from gelvo.files import write_together
from gelvo.forms.dimensions import numbers_of
from gelvo.operations.inputs import take

InSymbols: TypeAlias = Callable[[Expression], tuple[Expression, tuple[tuple[Name, Expression], ...]]]
_MODULES = (numpy_target, numba_target, c_target, cpp_target, fortran_target, javascript_target)
TARGETS: dict[str, Target] = {t.name: t for t in (*[m.TARGET for m in _MODULES], numba_target.PYTHON_TARGET)}
SMALL = 40  # parts of a formula that is searched for all digits without being asked
SHOWN_POINTS, FEW_POINTS, MANY_OUTPUTS = 12, 3, 200
LEAST_BAR = 1e-300  # a number that every compiler takes
NOT_CHECKED = "not checked: no point with real values was found; state with given where the code will run"


LOST = (
    "Digits are lost there: state with given or ranges where the code will run, write the formula in another form, "
    "or accept the error: accepted_ulp="
)


class Accuracy(NamedTuple):
    """The outcome of a check: the worst error of each output in ULP, how many points were compared, and a sentence.

    passed: whether every value was within its bar; it is never True where no point could be compared.
    """

    passed: bool
    worst_ulp: dict[str, float]
    points: int
    message: str

    def __str__(self) -> str:
        return self.message


class CodeBundle:
    """Generated files; `.files` maps names to text, `.digits` tells what is known of the numbers of each output.

    `.certificate`: what identifies the formulas and all that was stated with them; it stands in the head of the code.
    """

    def __init__(
        self, name: str, target: Target, inputs: Sequence[Name], stated: Stated, head: Sequence[str], layout: Layout | None = None
    ) -> None:
        self.name, self.language = name, target.name
        self._target, self._stated, self._head = target, stated, head
        everywhere = bool(stated.ranges)
        self._judges = {k: judge_of(e, tuple(inputs), everywhere, stated.precision) for k, e in stated.outputs.items()}
        common = sample_points(list(self._judges.values()), inputs, stated.facts, stated.ranges)
        together = common if len(self._judges) > 1 else ()
        wanted = Wanted(inputs, stated.facts, stated.ranges, stated.goal, stated.precision, together)
        kept = with_digits(stated.outputs, wanted)
        if stated.counted:
            kept = kept._replace(outputs=without_dust(kept.outputs), shared=without_dust(kept.shared))
        self.digits = kept.digits
        as_written = all(kept.outputs[k] is e for k, e in stated.outputs.items())
        outputs = dict(stated.short) if as_written and stated.short else kept.shared
        self.program = Program(
            tuple(inputs), outputs, stated.symbols if outputs is not kept.shared else (), layout, stated.precision
        )
        apart = self.program._replace(outputs=kept.outputs)
        if zeros_in(*outputs.values()):
            self.program = straight(self.program, target.tables(stated.precision)[0])
        elif target.has_loops and outputs is kept.shared and better_in_loops(apart, self.program):
            self.program = apart
        self._told = list(stated.outputs), [n.name for n in inputs]  # what an outcome calls them
        self._points = list(dict.fromkeys([*common, *kept.points]))
        self.certificate = certificate_of(name, target.name, inputs, stated)
        told = [*head, *known(self.digits), f"certificate {self.certificate}"]
        self.files = target.files(self.program, name, told, self._samples())

    def _samples(self) -> Samples:
        """Some of the points, with right values and the errors allowed; what the formula itself allows is asked for where it is needed."""
        samples = Samples([], [], [])
        most = SHOWN_POINTS if len(self._judges) < MANY_OUTPUTS else FEW_POINTS
        usual = [p for p in self._points if all(j.right(p) is not None for j in self._judges.values())][: 2 * most]
        # a loop adds up in an order of its own
        inside = {k for r in runs(self.program) for k in range(r.start, r.stop)} if self._target.has_loops else set()
        formulas = list(self.program.outputs.values())
        found = (
            values_at(formulas, self.program.inputs, usual, self._stated.precision)
            if usual and not self.program.definitions
            else []
        )
        for place, point in enumerate(usual):
            if len(samples.points) == most:
                break
            right = [cast(float, j.right(point)) for j in self._judges.values()]
            bars = self._bars(right)
            near = [
                abs(float(column[place]) - r) <= bar(0.0) / BAR_ULP for column, r, bar in zip(found, right, bars, strict=False)
            ]
            judged = [
                (r, 0.0) if near and near[k] and k not in inside else j.at(point)
                for k, (j, r) in enumerate(zip(self._judges.values(), right, strict=True))
            ]
            if all(j is not None for j in judged):
                allowed = [bar(j[1]) for bar, j in zip(bars, judged, strict=True) if j is not None]
                samples.points.append(list(point))
                samples.expected.append(right)
                samples.allowed.append([float(f"{error:.3g}") for error in allowed])
        return samples

    def _bars(self, right: Sequence[float | None]) -> list[Callable[[float], float]]:
        """For each output at a point the error allowed, of the one that its own condition allows: at least some ULP, or what was accepted.

        Where that was stated, the errors of a vector are allowed by its largest number.
        """
        parts = [(1.0, 1)] * len(right)
        if self._stated.by_largest:
            for part, shape in slices(self.program.layout.outputs):
                largest = max(abs(r) if r is not None else 0.0 for r in right[part])
                parts[part] = [(largest, max(shape, default=1) ** 2)] * (part.stop - part.start)
        return [partial(self._bar, r or 0.0, *part) for r, part in zip(right, parts, strict=True)]

    def _bar(self, right: float, largest: float, times: int, own: float) -> float:
        precision = self._stated.precision
        unit = precision.ulp(right)
        found = max(own, BAR_ULP * unit, LEAST_BAR, self._stated.accepted * unit)
        if not self._stated.by_largest:
            return found
        return times * max(found * (largest / abs(right) if right else 1.0), BAR_ULP * precision.ulp(largest))

    def write(self, folder: str | Path) -> list[Path]:
        """Writes the files into a folder, each by rename; returns their paths."""
        return write_together({Path(folder) / name: text for name, text in self.files.items()})

    def check(self, folder: str | Path | None = None) -> Accuracy:
        """Builds and runs the code in processes of their own, at sample points, edges included, against correctly rounded values.

        folder: where the files were written; they are compared with what was made, and one that was changed is told.
        """
        if not self._points:
            return Accuracy(False, {}, 0, NOT_CHECKED)
        changed = [name for name, text in self.files.items() if folder is not None and not _is(Path(folder) / name, text)]
        if changed:
            return Accuracy(False, {}, 0, f"not what was written: {', '.join(changed)} in {folder}")
        with tempfile.TemporaryDirectory() as place:
            built = Path(place)
            driver = self._target.driver(self.program, self.name, len(self._points))
            write_together({built / name: text for name, text in {**self.files, **driver}.items()})
            given = "".join(" ".join(self._target.word(v) for v in p or [0.0]) + "\n" for p in self._points)
            commands = self._target.commands(self.name)
            printed = [run(command, built, given) for command in commands.driver][-1]
            outcome = self._compare([[_number(w) for w in line.split()] for line in printed.splitlines()])
            if outcome.passed:
                for command in commands.test:
                    run(command, built, given)
        return outcome

    @cached_property
    def _native(self) -> Any:
        return NativeFunction(self)

    def call(self, *inputs: object, **named: object) -> Any:
        """What the compiled code gives: C is built and loaded at once, and kept by its content.

        inputs, named: numbers or arrays in the order of the inputs, vectors and parameters as they were stated. Raises ExportError for
        another language than C, and without a compiler.
        """
        if self.language != "c":
            raise ExportError(f"only C is loaded at once, and this is {self.language}: export it as c, or use native_function")
        if self._stated.precision.is_single:
            raise ExportError("numbers of double precision are given to compiled code, and this takes single ones")
        return self._native(*inputs, **named)

    def _compare(self, rows: list[list[float]]) -> Accuracy:
        (outputs, inputs), precision = self._told, self._stated.precision
        worst, excused = dict.fromkeys(outputs, 0.0), dict.fromkeys(outputs, 0.0)
        failed, compared = "", 0
        for point, found in zip(self._points, rows, strict=True):
            right = [j.right(point) for j in self._judges.values()]
            bars = self._bars(right)
            for k, (name, judge, value) in enumerate(zip(outputs, self._judges.values(), found, strict=True)):
                here = right[k]
                if here is not None and abs(value - here) <= bars[k](0.0):  # whatever the condition is
                    compared += 1
                    worst[name] = max(worst[name], ulps(value, here, precision) if here else 0.0)
                    continue
                judged = None if here is None else judge.at(point)
                if here is None or judged is None:
                    continue
                allowed = bars[k](judged[1])
                compared += 1
                if abs(value - here) <= allowed:
                    table = worst if allowed <= MUCH * precision.ulp(here) else excused
                    table[name] = max(table[name], ulps(value, here, precision) if here else 0.0)
                elif not failed:
                    failed = f"{name} is {value!r} at {_place(inputs, point)}, but {here!r} is right (within {allowed:.2g})\n"
                    failed += LOST + _rounded_up(ulps(value, here, precision))
        if not compared:
            return Accuracy(False, {}, 0, NOT_CHECKED)
        shown = ", ".join(f"{n} {w:.2g} ULP{_excuse(w, excused[n])}" for n, w in worst.items())
        both = {n: max(w, excused[n]) for n, w in worst.items()}
        return Accuracy(not failed, both, len(self._points), failed or f"worst error at {len(self._points)} points: {shown}")

    def __repr__(self) -> str:
        return f"CodeBundle({self.name}, {self.language}: {', '.join(self.files)})"

    def __reduce__(self) -> tuple[object, ...]:
        outputs, facts, ranges, goal, symbols, short, *rest = self._stated
        told = (dict(outputs), tuple(facts.given), ranges, goal, symbols, dict(short), *rest)
        return _restored, (self.name, self.language, self.program.inputs, told, self._head, self.program.arranged)


def _restored(
    name: str, language: str, inputs: Sequence[Name], told: tuple[Any, ...], head: Sequence[str], layout: Layout | None
) -> CodeBundle:
    outputs, given, *rest = told
    return CodeBundle(name, TARGETS[language], inputs, Stated(outputs, Facts(given), *rest), head, layout)


def certificate_of(name: str, language: str, inputs: Sequence[Name], stated: Stated) -> str:
    """Twelve digits that any other formula, input, fact, range or wish would change."""
    said = (
        *(name, language, stated.goal, str(stated.accepted), stated.precision.name),
        *[f"{n} {n.domain} {stated.ranges.get(n)}" for n in inputs],
        *map(str, stated.facts.given),
        *stated.outputs,
        *structure(*stated.outputs.values()),
    )
    return hashlib.sha256("\n".join(said).encode("utf-8", "backslashreplace")).hexdigest()[:12]


def _is(path: Path, text: str) -> bool:
    """Whether a file holds a text."""
    try:
        return path.read_text(encoding="utf-8") == text
    except (OSError, UnicodeDecodeError):
        return False


def _rounded_up(error: float) -> str:
    """An error that is no smaller, in two digits."""
    return f"{error * 1.05:.1e}" if math.isfinite(error) and error < 1e300 else "inf"


def _excuse(worst: float, excused: float) -> str:
    """What is said of points where the formula itself is sensitive: the last digit of an input moves its value more than that."""
    return f" ({excused:.2g} where one rounding of an input moves the value more)" if excused > worst else ""


def _place(inputs: Sequence[str], point: Sequence[float]) -> str:
    shown = [f"{n} = {v!r}" for n, v in zip(inputs, point, strict=True)]
    return ", ".join(shown if len(shown) <= SHOWN_POINTS else [*shown[:SHOWN_POINTS], "…"]) or "no input"


def target_named(language: str) -> Target:
    if language not in TARGETS:
        raise ExportError(f"{language!r} is not a target language; choose one of {', '.join(TARGETS)}")
    return TARGETS[language]


def export_code(
    outputs: object,
    inputs: object,
    language: str = "numpy",
    name: str = "formula",
    units: Mapping[str, str] | None = None,
    check: bool = True,
    given: Iterable[object] = (),
    ranges: Mapping[object, tuple[object, object]] | None = None,
    digits: str | None = None,
    parameters: object = (),
    accepted_ulp: float = 0.0,
    also: Sequence[str] = (),
    precision: str = "double",
) -> CodeBundle:
    """A bundle of code for one or several outputs."""
    ways = {"parameters": parameters, "accepted_ulp": accepted_ulp, "also": also, "precision": precision}
    bundle = unchecked_code(outputs, inputs, language, name, units, given, ranges, digits, **ways)  # type: ignore[arg-type]
    if check:
        outcome = bundle.check()
        if not outcome.passed:
            raise CheckFailed(outcome.message)
    return bundle


def unchecked_code(
    outputs: object,
    inputs: object,
    language: str,
    name: str,
    units: Mapping[str, str] | None,
    given: Iterable[object],
    ranges: Mapping[object, tuple[object, object]] | None = None,
    digits: str | None = None,
    written_with: InSymbols | None = None,
    parameters: object = (),
    accepted_ulp: float = 0.0,
    shared: str = "",
    by_largest: bool = False,
    also: Sequence[str] = (),
    precision: str = "double",
) -> CodeBundle:
    """The code, not built and run yet; written_with: a formula with the symbols of a derivation, and what those are; shared: what the
    structure of the parameters is named after, where it is not the function; by_largest: see Stated."""
    target, numbers = _target_for(language, name, digits, accepted_ulp, precision)
    read, places, layout, facts = _read(outputs, name, inputs, parameters, given, shared, also)
    ends = ends_stated(ranges or {}, places)
    goal = STEPS if by_largest else digits or _goal(read, bool(ends))
    counted = {k: counted_out(e) for k, e in read.items()}
    ready = make_program(counted, places, target.tables(numbers)[0]).outputs
    symbols = _in_symbols(ready, places, written_with)
    stated = Stated(ready, facts, ends, goal, *symbols, accepted_ulp, by_largest, numbers, counted != read)
    head = prose(name, read, places, units or {}, stated, layout)
    return CodeBundle(name, target, places, stated, head, None if layout.is_plain else layout)


def _read(
    outputs: object, name: str, inputs: object, parameters: object, given: Iterable[object], shared: str, also: Sequence[str]
) -> tuple[dict[str, Expression], list[Name], Layout, Facts]:
    """The formulas of the outputs in real numbers, the names of the inputs, how both travel, and what is given."""
    forms, formulas = outputs_stated(outputs, name)
    wanted, grouped = inputs_stated(inputs, parameters)
    taken = take(*formulas, variables=wanted, given=given)
    forms, real = in_real_numbers(forms, [numbers_of(e) for e in taken.expressions], taken.facts)
    layout = layout_of(taken.names, grouped, forms, shared)
    read = dict(zip(flat_names(forms), real, strict=True))
    return *_with_derivatives(also, read, list(taken.names), layout), taken.facts


def _goal(read: Mapping[str, Expression], asked: bool) -> str:
    """Which digits are looked for where nobody says it; asked: whether it was stated where the code will run."""
    small = len(read) == 1 and all(distinct_nodes(e) <= SMALL and not zeros_in(e) for e in read.values())
    return "full" if asked or small else "condition"


def _with_derivatives(
    also: Sequence[str], read: dict[str, Expression], places: list[Name], layout: Layout
) -> tuple[dict[str, Expression], list[Name], Layout]:
    """Outputs, inputs and layout with the derivatives that are wanted besides."""
    if not also:
        return read, places, layout
    read, outputs, direction = with_derivatives([also] if isinstance(also, str) else also, read, places, layout)
    layout = layout._replace(outputs=outputs)
    if direction:  # behind the other inputs, before the parameters
        start, ends = next(((k, g) for k, g in layout.starts() if g.kind == STRUCTURE), (len(places), None))
        group = Group(DIRECTION, VECTOR, tuple(n.name for n in direction))
        places[start:start] = direction
        before = [g for g in layout.groups if g is not ends]
        layout = layout._replace(groups=(*before, group, *([ends] if ends else [])))
    return read, places, layout


def _target_for(language: str, name: str, digits: str | None, accepted_ulp: float, precision: str) -> tuple[Target, Precision]:
    """The target and the precision, where the options make sense and the name can be one there."""
    target = target_named(language)
    check_function_name(name, target)
    if not accepted_ulp >= 0:
        raise ExportError(f"accepted_ulp is an error in units in the last place, 0 or more, not {accepted_ulp!r}")
    if digits is not None and digits not in GOALS:
        raise ExportError(f"digits={digits!r} is not known; choose one of {', '.join(GOALS)}")
    if precision not in PRECISIONS:
        raise ExportError(f"precision={precision!r} is not known; choose one of {', '.join(PRECISIONS)}")
    return target, PRECISIONS[precision]


def _in_symbols(
    outputs: Mapping[str, Expression], inputs: Sequence[Name], written_with: InSymbols | None
) -> tuple[tuple[tuple[Name, Expression], ...], dict[str, Expression]]:
    """(the symbols that outputs are written with, the outputs in those)."""
    if written_with is None:
        return (), {}
    found = {k: written_with(e) for k, e in outputs.items()}
    symbols = dict(pair for _, pairs in found.values() for pair in pairs if pair[0] not in inputs)
    return tuple(symbols.items()), {k: e for k, (e, _) in found.items()} if symbols else {}


def without_words(bundle: CodeBundle) -> CodeBundle:
    """The same formulas as code in which nothing is named by the user."""
    inputs, stated = bundle.program.inputs, bundle._stated
    neutral = {n: make_name(f"x_{k + 1}", n.domain) for k, n in enumerate(inputs)}
    formulas = {f"y_{k + 1}": substitute(e, neutral) for k, e in enumerate(stated.outputs.values())}
    facts = Facts([substitute(f, neutral) for f in relations_in(stated.facts.given)])
    ranges = {neutral[n]: ends for n, ends in stated.ranges.items()}
    other = CodeBundle(
        "formula", bundle._target, list(neutral.values()), Stated(formulas, facts, ranges, stated.goal), ["a formula"]
    )
    other._told = bundle._told
    return other


def native_function(expression: object, inputs: object, **options: Any) -> NativeFunction:
    """The compiled function of one formula, or of several by name."""
    stated = {"given": (), "ranges": None, "digits": "condition", "parameters": ()} | options
    ways = (stated["given"], stated["ranges"], stated["digits"])
    bundle = unchecked_code(expression, inputs, "c", "formula", None, *ways, parameters=stated["parameters"])
    found = NativeFunction(bundle)
    _ = found.path  # a missing compiler is told here
    return found


def _number(word: str) -> float:
    return float.fromhex(word) if "0x" in word else float(word)
