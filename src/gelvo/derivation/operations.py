"""The operations in plain word order: what each opening word does with its head and clauses."""

from __future__ import annotations

import difflib
import re
from collections.abc import Mapping
from typing import TYPE_CHECKING, Any

from gelvo.checking.certificate import Certificate
from gelvo.checking.claims import substitute_functions
from gelvo.data.tables import read_table
from gelvo.derivation import calculus_statements, system_statements
from gelvo.derivation.exporting import export
from gelvo.derivation.lines import OPENINGS, Clauses, Line, clauses
from gelvo.derivation.measuring import put, unit_text_of, with_unit
from gelvo.derivation.results import Result
from gelvo.derivation.rewriting_statements import STATEMENTS
from gelvo.derivation.statement_parts import Handler, answered, facts_of, from_answer, pairs, put_in, reads, refuse
from gelvo.errors import DomainError, FormulaError
from gelvo.expression.building import written
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Condition, Expression, Name, Truth
from gelvo.expression.registry import FUNCTIONS
from gelvo.expression.traversal import substitute
from gelvo.figures.animation import animate
from gelvo.figures.plotting import plot, plot_path
from gelvo.forms.dimensions import has_quantities
from gelvo.matrices.matrix import Matrix
from gelvo.operations import calculus, rewriting, solving, trust
from gelvo.operations.inputs import split_initial
from gelvo.operations.solutions import Solutions, SolutionSet, family_note
from gelvo.reading.stated import split_commas
from gelvo.reading.words import GREEK
from gelvo.typesetting import typeset

if TYPE_CHECKING:
    from gelvo.derivation.state import State


def operation(derivation: State, text: str, line: Line, defining: bool = False) -> Result:
    """A statement that opens with the words of an operation; a bare expression is simplified."""
    for words, handler in _OPERATIONS.items():
        match = re.match(words.replace(" ", r"[ _]") + r"(?=\s|$)", text)
        if match and not _is_formula_after(text[match.end() :]):
            return handler(derivation, clauses(text[match.end() :].strip()), line)
    return _bare(derivation, clauses(text), line, defining)


def _is_formula_after(rest: str) -> bool:
    """`value = 3` or `sum + 1` use the word as a name."""
    return bool(re.match(r"\s*(=|\+|-\s|\*|/|\^|$)", rest)) and not rest.strip().startswith("-")


def _refuse_unknown_opening(derivation: State, text: str) -> None:
    """`plott E for x …` and `show E` open no statement: a word before a word is no formula either."""
    match = re.match(r"([a-z]{3,})\s+[^\W_]", text)
    if not match or match.group(1) in (*FUNCTIONS, *GREEK.values()) or derivation.stands_for_something(match.group(1)):
        return
    near = difflib.get_close_matches(match.group(1), {words.split()[0] for words in [*_OPERATIONS, *OPENINGS]}, n=1)
    hint = f"Did you mean  {near[0]} … ?" if near else f"A formula is shown where it stands by itself:  {text[match.end() - 1 :]}"
    raise FormulaError(f"`{match.group(1)}` opens no statement", text, 0, hint)


def _bare(derivation: State, parts: Clauses, line: Line, defining: bool) -> Result:
    _refuse_unknown_opening(derivation, parts.head)
    refuse(parts, "with", "given")
    if not defining:
        derivation.known(parts.head, *[n.name for n in derivation.values(parts.get("with"))])
    value = derivation.read(parts.head)
    value = put_in(derivation, getattr(value, "expression", value), parts)
    if (
        isinstance(value, (Equation, Condition, Solutions, SolutionSet))
        or defining
        or not isinstance(value, (Expression, Matrix))
    ):
        return Result("step", line.text, line.number, [("", value)])
    given = derivation.given(parts.get("given"), parts.head)
    return answered(value, lambda e: rewriting.simplify(e, given, steps=derivation.steps), line)


def _differentiate(derivation: State, parts: Clauses, line: Line) -> Result:
    refuse(parts, "by", "with", "given")
    by = parts.get("by")
    if by is None:
        raise FormulaError("differentiate needs a variable:  differentiate E by x", line.text, len(line.text))
    value = derivation.read(parts.head)
    variables = [derivation.read(v) for v in split_commas(by)]
    given = derivation.given(parts.get("given"), parts.head)
    if isinstance(value, Equation):
        return Result(
            "step", line.text, line.number, [("", put_in(derivation, calculus.differentiate(value, *variables), parts))]
        )
    if isinstance(value, Matrix):
        value = put_in(derivation, value, parts)
        return answered(value, lambda e: calculus.differentiate(e, *variables, given=given, steps=True), line)
    answer = calculus.differentiate(value, *variables, given=given, steps=True)
    result = from_answer(answer, line, derivation.steps)
    if len(variables) == 1 and isinstance(variables[0], Name):
        result.unit = unit_text_of(written("derivative_of", value, variables[0]), derivation.units)
    short = rewriting.simplify(answer.expression, given)
    if len(str(short.expression)) < len(str(answer.expression)):
        result.shown = [("", short.expression)]
    if parts.get("with"):
        result.shown = [("", put_in(derivation, result.shown[-1][1], parts))]
    return result


def _integrate(derivation: State, parts: Clauses, line: Line) -> Result:
    refuse(parts, "by", "from", "to", "with", "given")
    by = parts.get("by")
    if by is None:
        raise FormulaError("integrate needs a variable:  integrate E by x", line.text, len(line.text))
    given = derivation.given(parts.get("given"), line.text)
    f = put_in(derivation, derivation.entries(parts.head), parts)
    lower, upper = parts.get("from"), parts.get("to")
    if (lower is None) != (upper is None):
        raise reads(line, "integrate E by x from A to B", "a definite integral")
    ends: list[Any] = []
    if lower is not None and upper is not None:
        ends = [put_in(derivation, derivation.end(by, e), parts) for e in (lower, upper)]
    x = derivation.read(by)
    result = answered(
        f, lambda e: calculus.integrate(e, x, ends[0] if ends else None, ends[-1] if ends else None, given=given), line
    )
    if isinstance(f, Expression) and isinstance(x, Name):
        result.unit = unit_text_of(written("integral_of", f, x, *ends), derivation.units)
    return result


def _solve(derivation: State, parts: Clauses, line: Line) -> Result:
    refuse(parts, "for", "over", "with", "given", "taking")
    unknowns = parts.get("for")
    targets = [derivation.unknown(u.strip()) for u in split_commas(unknowns)] if unknowns else []
    equations = []
    for text in split_commas(parts.head):
        value = derivation.read(text)
        if not isinstance(value, (Equation, Expression, Condition)):
            raise FormulaError(f"`{text.strip()}` is not an equation", line.text, max(line.text.find(text.strip()), 0))
        equations.append(put_in(derivation, value, parts))
    targets = targets or [solving.the_one_unknown(equations)]
    given = derivation.given(parts.get("given"), parts.head)
    stated = (
        [*split_initial(given)[0], *facts_of(given).given]
        if any(isinstance(t, Applied) for t in targets)
        else facts_of(given).given
    )
    solutions = solving.solve(equations, targets, parts.get("over"), stated, steps=derivation.steps)
    if isinstance(solutions, SolutionSet):
        return Result("step", line.text, line.number, [("", solutions)], certificate=solutions.certificate(), road=solutions.road)
    taking = parts.get("taking")
    if taking is not None:
        solutions = solutions.taking(*[derivation.read(t) for t in split_commas(taking)])
    conditions = solutions.conditions_of(0) if len(solutions) == 1 else solutions.conditions  # of several each has its own
    details = [f"excluded: {what} ({why})" for what, why in solutions.excluded]
    if solutions.further:
        details.append(f"there are {solutions.further} further complex solutions")
    details += [f"where {case}: {then}" for case, then in solutions.special_cases]
    if solutions.constants:
        kind = "any number" if len(solutions.constants) == 1 else "any numbers"
        details.append(f"{', '.join(map(str, solutions.constants))} {kind}")
    if solutions.families:
        details.append(f"{family_note(solutions)}")
    return Result(
        "step", line.text, line.number, [("", solutions)], conditions=conditions, certificate=solutions.certificate(),
        road=solutions.road, details=details, steps=solutions.steps,
    )  # fmt: skip


def _value(derivation: State, parts: Clauses, line: Line) -> Result:
    refuse(parts, "to", "with", "given")
    digits = 15
    to = parts.get("to")
    name = parts.head.strip()
    hint = f"Define it, or put a number in:  value {name} with {name} = …"
    derivation.known(name, *[n.name for n in derivation.values(parts.get("with"))], hint=hint)
    if to is not None:
        match = re.fullmatch(r"([0-9]{1,9})\s*digits?", to)
        if not match:
            raise FormulaError(
                "the digits of a value are asked for as  value E to 20 digits", line.text, max(line.text.find(to), 0)
            )
        digits = int(match.group(1))
    exact = put_in(derivation, derivation.expression(parts.head), parts)
    number = trust.value(exact, digits)
    unit = number.unit or _unit_before(derivation, parts)
    note = "every digit is right, by error bounds" if number.bounded else "agreement at two precisions"
    certificate = Certificate(
        f"{parts.head} = {number}", "proved" if number.bounded else "supported", note, {"exact value": exact}
    )
    return Result("step", line.text, line.number, [(parts.head, number)], unit=unit, certificate=certificate)


def _unit_before(derivation: State, parts: Clauses) -> str:
    """The unit of a formula before numbers are put in for its letters."""
    own = derivation.units.get(parts.head.strip())
    return own or (with_unit(derivation.expression(parts.head), derivation.units)[1] if derivation.units else "")


def _substitute(derivation: State, parts: Clauses, line: Line) -> Result:
    match = re.match(r"(.*)\sin\s(.*)$", parts.head, re.S)
    if not match:
        raise reads(line, "substitute x = 3 in E", "substitution")
    refuse(parts, "with", "given")
    table = pairs(derivation, match.group(1), line, "old = new")
    value = derivation.read(match.group(2))
    result = put_in(derivation, rewriting.substitute(getattr(value, "expression", value), table), parts)
    return Result("step", line.text, line.number, [("", result)])


def _rename(derivation: State, parts: Clauses, line: Line) -> Result:
    """rename mass to m in E"""
    rest = parts.get("to") or ""
    match = re.match(r"(\w+)\s+in\s+(.*)$", rest, re.S)
    if not match:
        raise reads(line, "rename OLD to NEW in E", "renaming")
    value = derivation.read(match.group(2))
    return Result("step", line.text, line.number, [("", rewriting.rename(value, {parts.head: match.group(1)}))])


def _check(derivation: State, parts: Clauses, line: Line) -> Result:
    refuse(parts, "where", "with", "given", "for")
    head, expected = parts.head, False
    if re.match(r"not\s", head):
        head, expected = head[4:].strip(), True
    given = derivation.given(parts.get("given"), line.text)
    table = derivation.values(parts.get("with"))
    claim = derivation.read(head)
    where = parts.get("where")
    if where is None:
        certificate = _check_plain(derivation, claim, given, table)
        shown = claim
    else:
        listed = pairs(derivation, where, line, "unknown = formula")
        stated = {unknown: put(formula, table, derivation.units) for unknown, formula in listed.items()}
        if not isinstance(claim, Equation):
            raise FormulaError("a stated solution is checked in an equation", line.text, max(line.text.find(head), 0))
        given = [_replaced(g, table) for g in given]
        certificate = trust.check(_replaced(claim, table), stated, given)
        shown = claim
    things: list[tuple[str, Any]] = [("", shown)]
    if isinstance(claim, Truth) or has_quantities(claim):  # the text says more than "always", or than units among letters
        return Result("check", line.text, line.number, note=head, certificate=certificate, expected_refuted=expected)
    if where is not None:
        things += [("where", Equation(k, v)) for k, v in stated.items()]
    if table:
        things += [("with", Equation(k, v)) for k, v in table.items()]
    return Result(
        "check",
        line.text,
        line.number,
        things,
        certificate=certificate,
        expected_refuted=expected,
        conditions=certificate.conditions,
    )


def _replaced(thing: Any, table: Mapping[Any, Expression]) -> Any:
    if not table:
        return thing
    if isinstance(thing, Equation):
        return Equation(substitute_functions(thing.left, table), substitute_functions(thing.right, table))
    return substitute(thing, table) if isinstance(thing, (Expression, Condition)) else thing


def _check_plain(derivation: State, claim: Any, given: list[Any], table: dict[Name, Expression]) -> Certificate:
    if hasattr(claim, "certificate"):
        return claim.certificate()
    if not isinstance(claim, (Equation, Condition)):
        raise FormulaError(f"a claim is an equation or a condition, and {claim} is neither: write  left = right")
    replaced = [_replaced(g, table) for g in split_initial(given)[1]]
    kept = [g for g in replaced if not (isinstance(g, Truth) and g.holds)]
    return trust.check(put(claim, table, derivation.units), given=kept)


def _plot(derivation: State, parts: Clauses, line: Line) -> Result:
    """plot E, F for t from 0 to 60 with a = 1 as log x, log y, panels, path, data "file.csv\""""
    refuse(parts, "for", "from", "to", "with", "given", "as")
    variable, lower, upper = parts.get("for"), parts.get("from"), parts.get("to")
    if variable is None or lower is None or upper is None:
        raise reads(line, "plot E for t from 0 to 60", "a plot")
    texts = [t.strip() for t in split_commas(parts.head)]
    table = derivation.values(parts.get("with"))
    for t in texts:
        derivation.known(t, variable, *[n.name for n in table])
    measured = [with_unit(put(derivation.expression(t), table, derivation.units), {}) for t in texts]
    expressions = [e for e, _ in measured]
    ends = [derivation.end(variable, e) for e in (lower, upper)]
    values = {k.name: v for k, v in table.items() if not has_quantities(v)}
    labels = [t if re.fullmatch(r"\w+", t) else f"curve {k + 1}" if len(t) > 40 else t for k, t in enumerate(texts)]
    units = {**derivation.units, **{n: u for n, (_, u) in zip(labels, measured, strict=True) if u}}
    looks = [a.strip() for a in split_commas(parts.get("as") or "") if a.strip()]
    if "path" in looks:
        figure = plot_path(expressions, variable, *ends, values=values, labels=labels)
    else:
        figure = plot(expressions, variable, *ends, values=values, units=units, labels=labels, **_looks(derivation, looks, line))
    return Result("plot", line.text, line.number, [(t, e) for t, e in zip(texts, expressions, strict=True)], figure=figure)


def _looks(derivation: State, looks: list[str], line: Line) -> dict[str, Any]:
    """What `as …` says of a plot."""
    options: dict[str, Any] = {}
    for look in looks:
        data = re.fullmatch(r'data\s+"([^"]+)"', look)
        if look in ("log x", "log y"):
            options[f"{look[-1]}_scale"] = "log"
        elif look == "panels":
            options["panels"] = "each"
        elif data:
            table = read_table(derivation.file(data.group(1)))
            first, second = list(table)[:2] if len(table) > 1 else (None, None)
            if first is None or second is None:
                raise DomainError(f"{data.group(1)} needs two columns, one for each axis")
            options.setdefault("data", []).append((table[first], table[second], data.group(1)))
        else:
            raise FormulaError(
                f'`as {look}` is not known: a plot can be as log x, log y, panels, path, data "file.csv"',
                line.text,
                max(line.text.find(look), 0),
            )
    return options


def _animate(derivation: State, parts: Clauses, line: Line) -> Result:
    """animate E for x from -10 to 10 over t from 0 to 4, s from 1 to 2"""
    refuse(parts, "for", "from", "to", "over", "with", "as")
    listed = [(word, text) for word, text, _ in parts.parts if word in ("for", "from", "to", "over")]
    words = [w for w, _ in listed]
    if words[:4] != ["for", "from", "to", "over"] or words[4:6] != ["from", "to"]:
        raise reads(line, "animate E for x from -10 to 10 over t from 0 to 4", "an animation")
    texts = [t.strip() for t in split_commas(parts.head)]
    table = derivation.values(parts.get("with"))
    sliders: dict[str, tuple[Any, Any]] = {}
    place, name = 4, listed[3][1].strip()
    while place + 1 < len(listed) and words[place : place + 2] == ["from", "to"]:
        upper, _, following = listed[place + 1][1].partition(",")
        sliders[name] = (derivation.expression(listed[place][1]), derivation.expression(upper))
        name, place = following.strip(), place + 2
    for t in texts:
        derivation.known(t, listed[0][1], *sliders)
    expressions = [with_unit(put(derivation.expression(t), table, derivation.units), {})[0] for t in texts]
    low, high = derivation.expression(listed[1][1]), derivation.expression(listed[2][1])
    moving = animate(
        expressions, listed[0][1], low, high, sliders, labels=texts, title=derivation.title, path=parts.get("as") == "path"
    )
    stem = derivation.stem or "animation"
    number = 1 + sum(path.endswith(".html") for r in derivation.results for path, _ in r.files)
    files = [(f"{stem}_animation_{number}.html", moving.html())]
    return Result(
        "plot",
        line.text,
        line.number,
        [(t, e) for t, e in zip(texts, expressions, strict=True)],
        files=files,
        details=[f"animation in {files[0][0]}"],
    )


def _export(derivation: State, parts: Clauses, line: Line) -> Result:
    refuse(parts, "as", "to")
    formats = [f.strip() for f in (parts.get("as") or "").split(",") if f.strip()]
    if not formats:
        raise reads(line, 'export NAMES as c, numpy to "folder"', "an export")
    return export(derivation, [t.strip() for t in split_commas(parts.head)], formats, (parts.get("to") or "").strip('" '), line)


def _typeset(derivation: State, parts: Clauses, line: Line) -> Result:
    style = parts.get("as") or "latex"
    return Result("step", line.text, line.number, [], note=typeset(derivation.read(parts.head), style))


_ALL: dict[str, Handler] = {
    **STATEMENTS,
    **calculus_statements.STATEMENTS,
    **system_statements.STATEMENTS,
    "differentiate": _differentiate,
    "integrate": _integrate,
    "solve": _solve,
    "value": _value,
    "substitute": _substitute,
    "rename": _rename,
    "check": _check,
    "plot": _plot,
    "animate": _animate,
    "export": _export,
    "typeset": _typeset,
}

# longer openings first: `solve numerically` before `solve`
_OPERATIONS = dict(sorted(_ALL.items(), key=lambda item: -len(item[0])))
