"""What a derivation knows while it is read: facts, unknown functions, definitions, units; and how text is read with that."""

from __future__ import annotations

import difflib
import re
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import Any, cast

from gmpy2 import mpq

from gelvo import library  # noqa: F401  (puts the hooks in place)
from gelvo.derivation.lines import Line
from gelvo.derivation.measuring import (
    fits_to,
    formulas_of,
    in_numbers,
    in_stated_unit,
    measured_letters,
    read_with_units,
    with_unit,
)
from gelvo.derivation.results import Result, kind_of
from gelvo.errors import DomainError, FormulaError
from gelvo.expression.building import name as make_name
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Condition, Expression, Name
from gelvo.expression.traversal import names, postorder, substitute
from gelvo.expression.writing import CONSTANT_LETTERS, Writing, decimals_in
from gelvo.facts.statements import Fact, root_of
from gelvo.forms.dimensions import has_quantities, unit_of
from gelvo.matrices.matrix import Matrix
from gelvo.operations import matrices, polynomials, rewriting
from gelvo.operations.solutions import Solutions
from gelvo.reading.context import Context, Own
from gelvo.reading.pieces import split_commas
from gelvo.reading.reader import read
from gelvo.reading.stated import declare, stated_fact
from gelvo.reading.tree import Read
from gelvo.reading.words import BOUNDS, CONSTANTS, plain_name
from gelvo.typesetting.named import may_stand_for

MODES = {"numbers", "quantities", "unknown"}  # what a statement is about; beside them stand its letters that have a unit
QUOTED, WORD = re.compile(r'"[^"]*"'), re.compile(r"[^\W\d]\w*")
UNIT = re.compile(r"\{([^{}]*)\}\s*$")
INSIDE: dict[str, Callable[..., Any]] = {
    "simplify": rewriting.simplify, "expand": rewriting.expand, "factor": rewriting.factor,
    "common_denominator": rewriting.common_denominator, "numerator": rewriting.numerator, "denominator": rewriting.denominator,
    "collect": rewriting.collect, "partial_fractions": polynomials.partial_fractions, "gcd": polynomials.gcd, "lcm": polynomials.lcm,
    "complete_square": polynomials.complete_square, "leading_coefficient": polynomials.leading_coefficient,
    "degree": polynomials.degree, "resultant": polynomials.resultant, "discriminant": polynomials.discriminant,
    "rationalize_denominator": rewriting.rationalize_denominator, "amplitude_phase": rewriting.amplitude_phase,
}  # fmt: skip
INSIDE = {name: matrices.entrywise(work) for name, work in INSIDE.items()}

TABLES = (
    "declared",
    "unknowns",
    "functions",
    "definitions",
    "conditions",
    "units",
    "unmeasured",
    "failed",
    "came_in",
    "built_on",
)


class State:
    """The state while a file is read: facts, unknown functions, definitions, units."""

    def __init__(self, stem: str = "", steps: bool = False, folder: Path | None = None, only_checks: bool = False) -> None:
        self.only_checks = only_checks  # whether nothing of the file may shape what is run, but formulas
        self.folder = folder or Path()  # where data files are looked for
        self.files_read: dict[Path, tuple[int, int]] = {}  # data files, as they were when they were read
        self.title = ""
        self.stem = stem  # the name of files that exports write
        self.steps = steps  # whether each result carries the chain of rewritings that led to it
        self.facts: list[Fact] = []
        self.units: dict[str, str] = {}
        self.declared: dict[str, Name] = {}
        self.unknowns: dict[str, tuple[Expression, ...]] = {}
        self.functions: dict[str, Own] = {}
        self.definitions: dict[str, Any] = {}
        self.conditions: dict[str, tuple[Condition, ...]] = {}
        self.unmeasured: dict[str, str] = {}  # definitions in which a number stands for a letter, so that their unit is not known
        self.failed: dict[str, str] = {}  # names whose defining line was faulty, and what is said to who uses one
        self.came_in: dict[str, frozenset[mpq]] = {}  # the decimals that were typed for a definition
        self.built_on: dict[str, tuple[str, ...]] = {}  # the definitions that a definition uses, and those that they use
        self.taken: frozenset[str] = frozenset()  # the letters i and e, once they were used
        self.writing = Writing()  # how results are written from here on
        self.results: list[Result] = []
        self.modes: set[str] = set()  # whether a statement is about numbers or about quantities, and its letters that have a unit

    def carried_out(self, text: str, line: Line, defining: bool = False) -> Result:
        """A statement that stands in another one."""
        raise NotImplementedError

    def tables(self) -> dict[str, dict[str, Any]]:
        """What names stand for, all that a statement may change of it."""
        return {table: getattr(self, table) for table in TABLES}

    def copied(self) -> dict[str, dict[str, Any]]:
        """The same as it is now."""
        return {name: dict(table) for name, table in self.tables().items()}

    def writing_of(self, text: str) -> Writing:
        """How the results of a statement are written: the decimals that came in with it, or with the names that it uses, are known."""
        formulas = QUOTED.sub("", text)
        typed = [decimals_in(formulas), *[self.came_in.get(w, frozenset()) for w in WORD.findall(formulas)]]
        used = set(self.used_in(formulas))
        named = [(n, getattr(e, "expression", e)) for n, e in self.definitions.items() if n in used]
        symbols = tuple((n, e) for n, e in named if may_stand_for(n, e))
        self.taken |= CONSTANT_LETTERS.intersection((*WORD.findall(formulas), *used))
        return self.writing._replace(came_in=frozenset().union(*typed), named=symbols, taken=self.taken)

    def used_in(self, text: str) -> tuple[str, ...]:
        """The names with a meaning that stand in a text, and those on which they are built; not what a definition defines."""
        defined = re.match(r"let\s+(\w+)", text)
        words = [plain_name(w) for w in WORD.findall(text)]
        met = [n for w in words if w in self.definitions or w in self.functions for n in (w, *self.built_on.get(w, ()))]
        return tuple(n for n in dict.fromkeys(met) if defined is None or n != plain_name(defined.group(1)))

    # --- reading with the state ------------------------------------------------------------------------------------------

    def context(self, definitions: Mapping[str, object] | None = None) -> Context:
        if definitions is None:
            definitions = {k: self._usable(k, v) for k, v in self.definitions.items()}
        return Context(self.declared, self.unknowns, self.functions, definitions, INSIDE, self.failed)

    def _usable(self, name: str, value: object) -> object:
        if isinstance(value, Solutions):
            return lambda: self._single(name, value)
        return getattr(value, "expression", value)

    def _single(self, name: str, value: Solutions) -> object:
        if len(value) == 1 and len(value.unknowns) == 1:
            return value.single
        if len(value.unknowns) > 1 and len(value) == 1:
            listed = ", ".join(f"{u} of {name}" for u in value.unknowns)
            raise DomainError(f"{name} holds several unknowns: write {listed}")
        raise DomainError(f"{name} stands for {len(value)} solutions ({value}): choose one with taking …")

    def read(self, text: str) -> Read:
        """A formula in the names of this derivation, its units looked at."""
        plain = self._with_parts(text)
        usable = {k: self._usable(k, v) for k, v in self.definitions.items()}
        words = WORD.findall(text)  # a function of one's own may be taken of numbers for letters with a unit
        open_units = any(word in self.unmeasured or word in self.functions for word in words)
        units = {} if open_units else self.units
        value = cast(Read, read_with_units(lambda definitions: read(plain, self.context(definitions)), usable, units))
        if open_units:
            self.modes.add("unknown")
        if has_quantities(value):
            self.modes.add("quantities")
        elif self.units:
            letters = measured_letters(value, self.units)
            self.modes |= {"numbers", *letters} if letters else set()
        return value

    def end(self, letter: str, text: str) -> Expression:
        """An end of a range, or a point: a number in the unit that was stated for its variable."""
        before = set(self.modes)
        value = in_stated_unit(plain_name(letter.strip()), self.expression(text), self.units)
        fits_to(letter, value, self.units)
        if not has_quantities(value):
            self.modes = before
        return value

    def _with_parts(self, text: str) -> str:
        """`V_a of NAME` as a name of its own."""

        def replace(match: re.Match[str]) -> str:
            part, name = match.groups()
            value = self.definitions.get(name)
            if not isinstance(value, Solutions):
                return match.group()
            if len(value) != 1:
                raise DomainError(f"{name} stands for {len(value)} solutions: choose one with taking …")
            for unknown, found in value[0].items():
                if str(unknown) == part or getattr(unknown, "name", "") == part:
                    key = f"{part}_of_{name}"
                    self.definitions[key] = found
                    self.conditions[key] = value.conditions_of(0)
                    return key
            raise DomainError(f"{part} is not among the unknowns of {name}")

        return re.sub(r"\b(\w+) of (\w+)\b", replace, text)

    def unknown(self, text: str) -> Expression:
        """The unknown itself, where a definition of the same name is put aside; `x(t)` declares an unknown function."""
        declared = re.fullmatch(r"(\w+)\s*\(\s*(\w+(?:\s*,\s*\w+)*)\s*\)", text)
        if declared and plain_name(declared.group(1)) not in self.unknowns:
            places = [plain_name(a.strip()) for a in declared.group(2).split(",")]
            self.unknowns[plain_name(declared.group(1))] = tuple(make_name(a) for a in places)
        if re.fullmatch(r"\w+", text) and text not in self.unknowns:
            return self.declared.get(text) or make_name(plain_name(text))
        value = self.read(text)
        if not isinstance(value, (Name, Applied)):
            raise FormulaError(f"`{text}` is not an unknown: write a name or an unknown function", text, 0)
        return value

    def file(self, path: str) -> Path:
        """A data file beside the derivation; nothing outside of its folder is read."""
        if not path.isprintable():
            raise DomainError("the name of a file has a letter that no file has")
        inside = (self.folder / path).resolve()
        if not inside.is_relative_to(self.folder.resolve()):
            raise DomainError(f"{path} is outside the folder of the derivation")
        self.files_read[inside] = signature(inside)
        return inside

    def known(self, text: str, *variables: str, hint: str = "") -> None:
        """Refuses a name alone that nothing has defined or declared: it would only stand for itself."""
        name = plain_name(text.strip())
        if name.isidentifier() and name not in variables and not self.stands_for_something(name):
            near = difflib.get_close_matches(name, [*self.definitions, *self.functions, *self.declared], n=1)
            hint = f"Did you mean  {near[0]} ?" if near else hint or f"Define it first:  let {name} be …"
            raise FormulaError(f"`{name}` is not defined", text, 0, hint)

    def stands_for_something(self, name: str) -> bool:
        """Whether a name is declared, defined, or of fixed meaning."""
        known = (self.declared, self.unknowns, self.functions, self.definitions, self.failed, CONSTANTS, BOUNDS)
        return any(name in group for group in known)

    def entries(self, text: str) -> Expression | Matrix:
        """An expression, or a matrix for a statement that takes one entry by entry."""
        value = self.read(text)
        return value if isinstance(value, Matrix) else self.expression(text)

    def expression(self, text: str) -> Expression:
        value = self.read(text)
        value = getattr(value, "expression", value)
        if not isinstance(value, Expression):
            raise FormulaError(f"an expression is needed here, but `{text.strip()}` is {kind_of(value)}")
        return value

    def given(self, clause: str | None, *texts: str) -> list[Fact]:
        """The facts of the file, of one statement, and the conditions of the definitions that it uses."""
        facts = list(self.facts)
        for text in texts:
            for word in dict.fromkeys(WORD.findall(text)):
                facts.extend(c for c in self.conditions.get(word, ()) if c not in facts)
        if clause:
            facts.extend(self.fact(part) for part in split_commas(clause) if part.strip())
        return facts

    def fact(self, text: str, declares: bool = False) -> Fact:
        """A fact; its unit is that of its letters. declares: whether a letter without a unit gets it."""
        written = UNIT.search(text.strip())
        plain = UNIT.sub("", text.strip()).strip()
        if declares and written and plain_name(plain).isidentifier():
            plain += " real"  # `given v {m/s}` says no more than in what v counts
        context = self.context()
        declare(context, [plain])
        fact = stated_fact(plain, context)
        own = {self.units.get(name) for name in letters_of(fact)}
        if written is None or (own and own <= ({written.group(1).strip(), None} if declares else {written.group(1).strip()})):
            return fact
        before = set(self.modes)
        measured = self.read(text)
        self.modes = before
        if not isinstance(measured, (Condition, Equation)):
            raise FormulaError("a fact with a unit compares:  given F > 5 {kN}", text, 0)
        return in_numbers(measured)

    def note_unit(self, result: Result) -> None:
        """In what the result is measured, where all its letters have a unit; where a number stands for one of them, that is not known."""
        if result.kind not in ("step", "let") or result.unit or not result.shown:
            return
        shown = result.shown[-1][1]
        for part in formulas_of(shown):
            if has_quantities(part):
                unit_of(part, {})  # what several equations led to may add meters to seconds
        thing = getattr(shown, "expression", shown)
        gone = self.modes - MODES - measured_letters(thing, self.units) | self.modes & {"unknown"}
        if isinstance(thing, Expression) and (self.units or has_quantities(thing)) and not gone:
            try:
                number, result.unit = with_unit(thing, self.units)
            except DomainError:
                return  # a rewriting may take logarithms of lengths apart: then the parts have no unit of their own
            if number is not thing:  # the unit stands beside it, not among the letters
                result.shown[-1] = (result.shown[-1][0], number)

    def values(self, clause: str | None) -> dict[Name, Expression]:
        """The values of a `with` clause, in order; each is an exact number or formula."""
        table: dict[Name, Expression] = {}
        for part in split_commas(clause) if clause else []:
            if "=" not in part:
                raise FormulaError(f"`with` puts values in:  with {part.strip()} = …", part, 0)
            left, right = part.split("=", 1)
            before = set(self.modes)
            name = self.declared.get(left.strip()) or make_name(plain_name(left.strip()))
            table[name] = self.stated_value(name.name, right.strip())
            self.modes = before  # what is put in fits to the formula by itself
        return {k: substitute(v, {n: e for n, e in table.items() if n is not k}) for k, v in table.items()}

    def stated_value(self, letter: str, text: str) -> Expression:
        """A value that is put in: a number in the unit that was stated for the letter."""
        written = UNIT.search(text)
        own = self.units.get(letter)
        if written and own is not None and written.group(1).strip() == own:
            text = text[: written.start()]  # the very unit, also where it is a word of one's own
            return self.expression(f"({text})*pi/180" if own in ("deg", "°") else text)
        return in_stated_unit(letter, self.expression(text), self.units)


def domain_of(fact: object) -> str:
    """The domain with which a fact declares its name: only complex numbers change how a formula is built."""
    return "complex" if getattr(fact, "domain", "") == "complex" else "real"


def signature(path: Path) -> tuple[int, int]:
    """What changes when a file is saved: its time and its size; zeros where there is none."""
    try:
        found = path.stat()
    except OSError:
        return 0, 0
    return found.st_mtime_ns, found.st_size


def letters_of(fact: Fact) -> list[str]:
    """The names and unknown functions of a fact."""
    return [n.name for n in postorder(root_of(fact)) if isinstance(n, Applied)] or names_of(fact)


def names_of(fact: Fact) -> list[str]:
    return [n.name for n in names(root_of(fact))]
