"""`export NAMES as …`: code bundles, a LaTeX fragment, MathML; each file is written later, all together."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import TYPE_CHECKING, cast

from gelvo.checking.certificate import UNDECIDED, Certificate
from gelvo.code.bundle import TARGETS, Accuracy, CodeBundle, target_named, unchecked_code, without_words
from gelvo.code.naming import function_name
from gelvo.derivation.lines import Line
from gelvo.derivation.measuring import formulas_of
from gelvo.derivation.results import Result, kind_of
from gelvo.errors import CheckFailed, ExportError
from gelvo.expression.building import name as make_name
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import appearing
from gelvo.forms.dimensions import numbers_of
from gelvo.reading.tree import Read
from gelvo.typesetting import arranged, latex, mathml
from gelvo.typesetting.breaking import PAGE, PAPER, fitted
from gelvo.typesetting.layout import name_layout
from gelvo.typesetting.named import kept, meanings
from gelvo.typesetting.pieces import Layout, equals, row

if TYPE_CHECKING:
    from gelvo.derivation.state import State

CODE, TYPESET = tuple(sorted(TARGETS)), ("latex", "mathml")


def export(derivation: State, names: list[str], formats: list[str], folder: str, line: Line) -> Result:
    """The files of one export statement and the check of each code bundle."""
    unknown = [f for f in formats if f not in (*CODE, *TYPESET)]
    if unknown:
        raise ExportError(f"`{unknown[0]}` is not an export format; choose from {', '.join((*CODE, *TYPESET))}")
    if folder.startswith("/") or ".." in folder.split("/"):
        raise ExportError(f"an export goes into a folder beside the results, and {folder!r} leaves it")
    stem = _stem(derivation, names)
    files: list[tuple[str, str]] = []
    details: list[str] = []
    open_claims: list[Certificate] = []
    prefix = f"{folder.strip('/')}/" if folder.strip("/.") else ""
    values = [(n, _thing(derivation, n)) for n in names]
    symbols = meanings([part for _, v in values for part in formulas_of(v)])
    on_paper = [*values, *[(n, e) for n, e in symbols if n not in names]]  # with what their symbols stand for
    for language in formats:
        if language in TYPESET:
            text = _latex(on_paper) if language == "latex" else _mathml(on_paper)
            files.append((f"{prefix}{stem}.{'tex' if language == 'latex' else 'mml'}", text))
            continue
        bundle, outcome = _code(derivation, values, language, stem)
        if not outcome.points:
            open_claims.append(Certificate(f"{line.text} ({language})", UNDECIDED, outcome.message))
        details.append(f"{language}, certificate {bundle.certificate}: {outcome.message}")
        taken = {path for path, _ in files}  # two languages of one ending get folders of their own
        inside = f"{language}/" if any(prefix + name in taken for name in bundle.files) else ""
        files.extend((prefix + inside + name, text) for name, text in bundle.files.items())
    return Result(
        "export", line.text, line.number, [(n, v) for n, v in values], files=files, details=details,
        certificate=open_claims[0] if open_claims else None,
    )  # fmt: skip


def _code(derivation: State, values: list[tuple[str, Read]], language: str, stem: str) -> tuple[CodeBundle, Accuracy]:
    """Code and what its check saw; CheckFailed where it is wrong."""
    outputs: dict[str, Expression] = {}
    for n, v in values:
        if not isinstance(v, Expression):
            raise ExportError(f"{n} is {kind_of(v)}, and code is written for expressions: export its parts by name")
        outputs[n] = numbers_of(v)
    name = function_name(stem, target_named(language))
    bundle = unchecked_code(
        outputs,
        appearing(*outputs.values()),
        language,
        name,
        derivation.units,
        derivation.given(None),
        digits="condition",
        written_with=_in_symbols,
    )
    # a file of somebody else that is only checked shapes nothing that runs but formulas
    outcome = (without_words(bundle) if derivation.only_checks else bundle).check()
    if outcome.points and not outcome.passed:
        raise CheckFailed(outcome.message)
    return bundle, outcome


def _in_symbols(e: Expression) -> tuple[Expression, tuple[tuple[Name, Expression], ...]]:
    """A formula with the symbols of the derivation, and what those are: what others need first."""
    return kept(e), tuple((make_name(letter), kept(meaning)) for letter, meaning in reversed(meanings([e])))


def _thing(derivation: State, name: str) -> Read:
    derivation.known(name)
    value = derivation.read(name)
    return cast(Read, getattr(value, "expression", value))


def _stem(derivation: State, names: list[str]) -> str:
    stem = derivation.stem or re.sub(r"\W+", "_", names[0]).strip("_") or "formula"
    used = {path.rsplit("/", 1)[-1] for r in derivation.results for path, _ in r.files}
    if any(u.startswith(f"{stem}.") for u in used):
        extra = re.sub(r"\W+", "_", names[0]).strip("_")
        stem = f"{stem}_{extra}"
    return stem


def _labelled(name: str, value: object) -> Layout:
    body = arranged(value)
    if isinstance(value, Equation) or not re.fullmatch(r"\w+", name):
        return body
    return row(name_layout(name), equals(body), body)


def _latex(values: Sequence[tuple[str, object]]) -> str:
    r"""A fragment to \input into a document that loads amsmath."""
    lines = [latex.render(fitted(_labelled(n, v), PAPER)) for n, v in values]
    body = " \\\\\n".join(f"  {line}" for line in lines)
    return f"% made by Gelvo; needs \\usepackage{{amsmath}}\n\\begin{{gather*}}\n{body}\n\\end{{gather*}}\n"


def _mathml(values: Sequence[tuple[str, object]]) -> str:
    return "\n".join(mathml.render(fitted(_labelled(n, v), PAGE)) for n, v in values) + "\n"
