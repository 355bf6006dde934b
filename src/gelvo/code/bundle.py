"""`export_code`: files with their own test, and the check that builds and runs them apart from this process."""

from __future__ import annotations

import math
import subprocess
import tempfile
from collections.abc import Iterable, Mapping, Sequence
from pathlib import Path
from typing import NamedTuple

from gelvo.code import c_target, fortran_target, javascript_target, numpy_target
from gelvo.code.accuracy import BAR_ULP, Judge, sample_points, ulps
from gelvo.code.naming import check_function_name
from gelvo.code.program import Program, make_program
from gelvo.code.target import Samples, Target
from gelvo.deciding.equality import relations_in
from gelvo.errors import CheckFailed, ExportError
from gelvo.expression.building import name as make_name
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import substitute
from gelvo.facts.statements import Fact
from gelvo.facts.store import Facts
from gelvo.files import write_together
from gelvo.forms.dimensions import numbers_of
from gelvo.operations.inputs import take

_LISTED = (numpy_target.TARGET, c_target.TARGET, fortran_target.TARGET, javascript_target.TARGET)
TARGETS: dict[str, Target] = {t.name: t for t in _LISTED}
SHOWN_POINTS, MOST_PROSE, LONGEST_RUN_SECONDS = 12, 4000, 120
LEAST_BAR = 1e-300  # a number that every compiler takes
CAREFUL = "plain arithmetic loses digits here: each value is carried as a pair, the number and what its rounding lost"
NOT_CHECKED = "not checked: no point with real values was found; state with given where the code will run"


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
    """Generated files; `.files` maps names to text."""

    def __init__(
        self, name: str, target: Target, program: Program, prose: Sequence[str], facts: Facts
    ) -> None:
        self.name, self.language, self.program = name, target.name, program
        self._target, self._facts, self._prose = target, facts, prose
        self._told = list(program.outputs), [n.name for n in program.inputs]  # what an outcome calls them
        self._judges = {k: Judge(e, program.inputs) for k, e in program.outputs.items()}
        self._points = sample_points(list(self._judges.values()), program.inputs, facts)
        self.files = target.files(program, name, prose, self._samples())

    def _samples(self) -> Samples:
        samples = Samples([], [], [])
        for point in self._points:
            if len(samples.points) == SHOWN_POINTS:
                break
            judged = [j.at(point) for j in self._judges.values()]
            if all(j is not None for j in judged):
                samples.points.append(point)
                samples.expected.append([j[0] for j in judged if j is not None])
                samples.allowed.append([float(f"{max(j[1], LEAST_BAR):.3g}") for j in judged if j is not None])
        return samples

    def write(self, folder: str | Path) -> list[Path]:
        """Writes the files into a folder, each by rename; returns their paths."""
        return write_together({Path(folder) / name: text for name, text in self.files.items()})

    def check(self) -> Accuracy:
        """Builds and runs the code in processes of their own, at sample points, edges included, against correctly rounded values."""
        if not self._points:
            return Accuracy(False, {}, 0, NOT_CHECKED)
        with tempfile.TemporaryDirectory() as place:
            folder = Path(place)
            driver = self._target.driver(self.program, self.name, len(self._points))
            write_together({folder / name: text for name, text in {**self.files, **driver}.items()})
            given = "".join(" ".join(self._target.word(v) for v in p or [0.0]) + "\n" for p in self._points)
            commands = self._target.commands(self.name)
            printed = [_run(command, folder, given) for command in commands.driver][-1]
            outcome = self._compare([[_number(w) for w in line.split()] for line in printed.splitlines()])
            if outcome.passed:
                for command in commands.test:
                    _run(command, folder, given)
        return outcome

    def _compare(self, rows: list[list[float]]) -> Accuracy:
        outputs, inputs = self._told
        worst, at_worst = dict.fromkeys(outputs, 0.0), dict.fromkeys(outputs, BAR_ULP)
        failed, compared = "", 0
        for point, found in zip(self._points, rows, strict=True):
            for name, judge, value in zip(outputs, self._judges.values(), found, strict=True):
                judged = judge.at(point)
                if judged is None:
                    continue
                right, allowed = judged
                compared += 1
                error = ulps(value, right)
                if abs(value - right) <= max(allowed, LEAST_BAR):
                    if right and error > worst[name]:
                        worst[name], at_worst[name] = error, allowed / math.ulp(right)
                elif not failed:
                    place = ", ".join(f"{n} = {v!r}" for n, v in zip(inputs, point, strict=True))
                    failed = (
                        f"{name} is {value!r} at {place or 'no input'}, but {right!r} is right (within {allowed:.2g})\n"
                        "Digits are lost there: state with given where the code will run, or write the formula in another form."
                    )
        if not compared:
            return Accuracy(False, {}, 0, NOT_CHECKED)
        shown = ", ".join(f"{n} {v:.2g} ULP of {at_worst[n]:.2g} allowed there" for n, v in worst.items())
        return Accuracy(not failed, worst, len(self._points), failed or f"worst error at {len(self._points)} points: {shown}")

    def __repr__(self) -> str:
        return f"CodeBundle({self.name}, {self.language}: {', '.join(self.files)})"

    def __reduce__(self) -> tuple[object, ...]:
        return _restored, (self.name, self.language, self.program, self._prose, tuple(self._facts.given), self.careful)


def _restored(
    name: str, language: str, program: Program, prose: Sequence[str], given: Iterable[Fact], careful: bool
) -> CodeBundle:
    return CodeBundle(name, TARGETS[language], program, prose, Facts(given), careful)


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
) -> CodeBundle:
    """A bundle of code for one or several outputs."""
    bundle = plain_code(outputs, inputs, language, name, units, given)
    if not check:
        return bundle
    bundle, outcome = checked(bundle)
    if not outcome.passed:
        raise CheckFailed(outcome.message)
    return bundle


def plain_code(
    outputs: object, inputs: object, language: str, name: str, units: Mapping[str, str] | None, given: Iterable[object]
) -> CodeBundle:
    """The code as the formulas are written, not checked yet."""
    target = target_named(language)
    check_function_name(name, target)
    named = dict(outputs) if isinstance(outputs, Mapping) else {name: outputs}
    wanted = inputs if isinstance(inputs, (list, tuple)) else [inputs]
    arguments = take(*named.values(), variables=wanted, given=given)
    read = {k: numbers_of(e) for k, e in zip(named, arguments.expressions, strict=True)}
    places = list(arguments.names)
    program = make_program(read, places, target.functions)
    return CodeBundle(name, target, program, _prose(name, read, places, units or {}), arguments.facts)


def checked(bundle: CodeBundle, only_formulas: bool = False) -> tuple[CodeBundle, Accuracy]:
    """A bundle with its outcome; where plain code loses digits, the careful code, if that keeps them.

    only_formulas: what is run takes nothing but formulas from the bundle, no names and no words.
    """
    outcome = (_without_words(bundle) if only_formulas else bundle).check()
    if outcome.passed or not outcome.points or bundle.careful:
        return bundle, outcome
    careful = CodeBundle(bundle.name, bundle._target, bundle.program, bundle._prose, bundle._facts, careful=True)
    second = checked(careful, only_formulas)
    return second if second[1].passed else (bundle, outcome)


def _without_words(bundle: CodeBundle) -> CodeBundle:
    """The same formulas as code in which nothing is named by the user."""
    neutral = {n: make_name(f"x_{k + 1}", n.domain) for k, n in enumerate(bundle.program.inputs)}
    formulas = {f"y_{k + 1}": substitute(e, neutral) for k, e in enumerate(bundle.program.outputs.values())}
    program = make_program(formulas, list(neutral.values()), bundle._target.functions)
    facts = Facts([substitute(f, neutral) for f in relations_in(bundle._facts.given)])
    neutral_bundle = CodeBundle("formula", bundle._target, program, ["a formula"], facts, bundle.careful)
    neutral_bundle._told = bundle._told
    return neutral_bundle


def _prose(name: str, outputs: Mapping[str, Expression], inputs: list[Name], units: Mapping[str, str]) -> list[str]:
    """What the head of the code says; each target turns it into a comment by its own way."""

    def with_unit(word: str) -> str:
        return f"{word} in {units[word]}" if units.get(word) else word

    shown = [f"{with_unit(k)} = {v}" for k, v in outputs.items()]
    listed = "inputs, in this order: " + (", ".join(f"{with_unit(n.name)} ({n.domain})" for n in inputs) or "none")
    lines = [*shown, "", listed] if sum(map(len, shown)) < MOST_PROSE else [listed]
    return [f"{name}: made by Gelvo from exact formulas", "", *lines]


def _run(command: list[str], folder: Path, given: str) -> str:
    """What a command prints; it gets the points whether it reads them or not."""
    try:
        done = subprocess.run(command, cwd=folder, capture_output=True, text=True, timeout=LONGEST_RUN_SECONDS, input=given)
    except subprocess.TimeoutExpired:
        raise CheckFailed(f"{command[0]} … was stopped after {LONGEST_RUN_SECONDS} s") from None
    if done.returncode:
        raise CheckFailed(f"{' '.join(command[:2])} … failed: {(done.stderr or done.stdout)[:800]}")
    return done.stdout


def _number(word: str) -> float:
    return float.fromhex(word) if "0x" in word else float(word)
