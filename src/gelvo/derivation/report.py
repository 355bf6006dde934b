"""What a derivation leaves behind: one self-contained HTML page, certificates, code, figures."""

from __future__ import annotations

import hashlib
import json
import re
from collections.abc import Callable, Sequence
from functools import lru_cache
from html import escape
from importlib import resources
from pathlib import Path
from typing import TYPE_CHECKING, Any

from gelvo.derivation.measuring import formulas_of
from gelvo.derivation.results import Result, Words, fault_of, split_detail
from gelvo.errors import STEERING, ExportError, GelvoError
from gelvo.evaluation.value import Value
from gelvo.expression.building import junction
from gelvo.expression.decimals import Decimal
from gelvo.expression.nodes import Expression
from gelvo.expression.registry import Hooks
from gelvo.expression.traversal import postorder
from gelvo.expression.writing import writing, written
from gelvo.figures.plotting import png_of, svg_of, unit_text
from gelvo.files import write_together
from gelvo.forms.abbreviating import abbreviate
from gelvo.matrices.matrix import Matrix
from gelvo.operations.solutions import Solutions
from gelvo.terminal import WIDEST
from gelvo.typesetting import arranged, mathml, text
from gelvo.typesetting.breaking import PAGE, fitted
from gelvo.typesetting.layout import decimal_layout, name_layout
from gelvo.typesetting.named import meanings
from gelvo.typesetting.pieces import Layout, atom, equals, joined, lines, row
from gelvo.typesetting.solutions import wants_decimal, with_decimal

if TYPE_CHECKING:
    from jinja2 import Template
    from markdown_it import MarkdownIt
    from markdown_it.rules_inline import StateInline

VERDICTS = ("proved", "supported", "undecided", "refuted", "refuted as expected")
MARKS = {"proved": "✓", "supported": "≈", "undecided": "?", "refuted": "✗", "refuted as expected": "✓"}
MOST_SHOWN, MOST_SHORTENED = 4000, 2000


def _value_layout(value: Value) -> Layout:
    """A value; its exponent as on paper, 2.1 × 10⁻⁹."""
    size, _, power = value.number.partition("e")
    if value.imag is not None or not power:
        return atom(value.number, "number")
    return decimal_layout(Decimal(size, int(power), False))


def labelled(name: str, thing: object) -> Layout:
    """The layout of NAME = thing; values are shown as decimal text."""
    if isinstance(thing, Words):
        return atom(_without_stars(thing), "text")
    if isinstance(thing, Value):
        body = _value_layout(thing)  # its unit stands below
    else:
        formula = getattr(thing, "expression", thing)
        body = with_decimal(formula) if isinstance(formula, Expression) and wants_decimal(formula) else arranged(thing)
    if not name:
        return body
    if name in ("where", "with", "spanned by"):
        return row(atom(name, "word"), body)
    if "{" in name or isinstance(name, Words):  # quantities as they were typed: units among letters would be read as letters
        return row(atom(_without_stars(name), "text"), equals(body), body)
    words, _, part = name.rpartition(" of ")
    if words:  # coefficient of x^2
        return row(atom(f"{words} of", "word"), labelled(part, thing))
    if name.replace("_", "a").isalnum():
        return row(name_layout(name), equals(body), body)
    try:
        return row(arranged(Hooks.read(name)), equals(body), body)
    except GelvoError:
        return body


def where(thing: object) -> Layout | None:
    """What the symbols of the derivation are with which a result is written; None where it has none."""
    found = meanings(formulas_of(thing))
    said = [row(name_layout(letter), equals(shown := arranged(meaning)), shown) for letter, meaning in found]
    return row(atom("where ", "text"), joined(said, atom(",", "punctuation"))) if said else None


def plain_lines(result: Result, fits: Callable[[str], bool] = lambda shown: True, width: int = WIDEST) -> str:
    """The two-dimensional text of what a statement gave, its unit behind it, broken to a width; formula text where that cannot be
    done, or a terminal lacks its letters."""
    with written(result.writing):
        blocks: list[str] = []
        for name, thing in result.shown:
            blocks.append(_plain_block("" if result.kind == "given" else name, thing, fits, width))
            if thing is result.shown[-1][1] and result.unit:  # at the end of one line or below several
                blocks[-1] += f"\nin {result.unit}" if "\n" in blocks[-1] else f"   in {result.unit}"
            said = where(thing)
            blocks += [] if said is None else [text.render(fitted(said, width))]
    return "\n".join(blocks)


def condition_text(result: Result, fits: Callable[[str], bool]) -> str:
    """The conditions of a result on one line, as formula text where they take several."""
    with written(result.writing._replace(fractions="inline")):
        shown = text.render(joined([arranged(c) for c in result.conditions], atom("and", "word")))
    return shown if "\n" not in shown and fits(shown) else str(junction("and", result.conditions))


def _plain_block(label: str, thing: object, fits: Callable[[str], bool], width: int) -> str:
    try:
        shown = text.render(fitted(labelled(label, thing), width))
    except ExportError:
        shown = _formula_text(thing)
    if max((len(line) for line in shown.splitlines()), default=0) <= width and fits(shown):
        return shown
    short = _abbreviated(label, thing, width) if fits(shown) else None
    if short is not None:
        return text.render(short)
    if isinstance(thing, Solutions):
        return thing.listed()
    return f"{label} = {_formula_text(thing)}" if label else _formula_text(thing)


def _abbreviated(label: str, thing: object, width: int) -> Layout | None:
    """A formula that cannot be broken, or a matrix, with names for what recurs in it; None where that does not help."""
    formula = getattr(thing, "expression", thing)
    matrix = formula if isinstance(formula, Matrix) else None
    entries = matrix.flat() if matrix is not None else [formula] if isinstance(formula, Expression) else []
    if not entries or len(postorder(*entries)) > MOST_SHORTENED:
        return None
    found, table = abbreviate(entries, "q_{}".format)
    short = found[0] if matrix is None else matrix.map(dict(zip(entries, found, strict=True)).__getitem__)
    said = [labelled(str(letter), meaning) for letter, meaning in table]
    parts = [labelled(label, short), *[row(atom("where ", "text"), s) for s in said]]
    shown = lines([fitted(part, width) for part in parts])
    return shown if table and _width(shown) <= width else None


def _width(layout: Layout) -> int:
    return max(map(len, text.render(layout).splitlines()))


def _formula_text(thing: object) -> str:
    """The formula alone: conditions and verdict stand beside it."""
    return str(getattr(thing, "expression", thing))


@lru_cache(maxsize=1)
def _template() -> Template:
    import jinja2

    folder = resources.files("gelvo.derivation")
    environment = jinja2.Environment(autoescape=True, trim_blocks=True, lstrip_blocks=True, undefined=jinja2.StrictUndefined)
    return environment.from_string(folder.joinpath("report.html.jinja").read_text(encoding="utf-8"))


def _math(result: Result) -> list[dict[str, str]]:
    out: list[dict[str, str]] = []
    for name, thing in result.shown:
        label = "" if result.kind in ("given", "plot") else name
        if isinstance(thing, Words):
            out.append({"words": _detail_html(thing)})
            continue
        try:
            body, said = fitted(labelled(label, thing), PAGE), where(thing)
            if isinstance(thing, Matrix) and _width(body) > PAGE:
                body = _abbreviated(label, thing, PAGE) or body
            shown = mathml.render(body if said is None else lines([body, fitted(said, PAGE)]))
            out.append(
                {
                    "math": shown if len(shown) < 200_000 else "",
                    "text": _formula_text(thing),
                    "unit": unit_text(name) if result.kind == "given" else "",
                }
            )
        except ExportError:
            out.append({"math": "", "text": _formula_text(thing)[:MOST_SHOWN], "unit": ""})
    return out


@lru_cache(maxsize=1)
def _prose() -> MarkdownIt:
    """Markdown without HTML, in which $…$ is a formula; inside of a link or of code it is what it is."""
    from markdown_it import MarkdownIt

    reader = MarkdownIt("commonmark", {"html": False})

    def formula(state: StateInline, silent: bool) -> bool:
        end = state.src.find("$", state.pos + 1)
        if state.src[state.pos] != "$" or end < 0 or end == state.pos + 1 or end > state.posMax:
            return False
        if not silent:
            state.push("formula", "", 0).content = state.src[state.pos + 1 : end]
        state.pos = end + 1
        return True

    reader.inline.ruler.before("escape", "formula", formula)
    reader.add_render_rule("formula", lambda self, tokens, index, options, env: _inline_formula(tokens[index].content))
    return reader


def _inline_formula(source: str) -> str:
    """$…$ in prose as MathML where it reads as a formula, else in italics."""
    try:
        with writing(fractions="inline"):
            return mathml.inline(arranged(Hooks.read(source.replace("\\", ""))))
    except GelvoError:
        return f"<i>{escape(_without_stars(source))}</i>"


def _detail_html(detail: str) -> str:
    return "".join(
        _inline_formula(piece) if formula else escape(_without_stars(piece)) for formula, piece in split_detail(detail)
    )


def _without_stars(text: str) -> str:
    """Formula text in a sentence, the signs of its products, and of what is negative, as on paper."""
    return re.sub(r"(?<![\w)\]])-(?=[\w(])", "−", re.sub(r"(?<=[\w)\]])\*(?=[\w(\[])", "·", text))


def detail_lines(result: Result, fits: Callable[[str], bool]) -> list[str]:
    """Each detail on one line of a terminal."""
    with written(result.writing):
        parts = [[_on_one_line(p, fits) if formula else p for formula, p in split_detail(d)] for d in result.details]
    return ["".join(pieces) for pieces in parts]


def _on_one_line(formula: str, fits: Callable[[str], bool]) -> str:
    try:
        with writing(fractions="inline"):
            shown = text.render(arranged(Hooks.read(formula)))
    except GelvoError:
        return formula
    return shown if "\n" not in shown and fits(shown) else formula


def _entry(result: Result) -> dict[str, object]:
    with written(result.writing):
        return _shown_entry(result)


def _shown_entry(result: Result) -> dict[str, object]:
    certificate = result.certificate
    return {
        "kind": result.kind,
        "number": result.number,
        "statement": result.statement,
        "prose": str(_prose().render(result.statement)) if result.kind == "prose" else "",
        "shown": _math(result),
        "conditions": [mathml.inline(arranged(c)) for c in result.conditions],
        "verdict": result.verdict,
        "mark": MARKS.get(result.verdict, ""),
        "note": _without_stars(result.note) if result.kind != "fault" else result.note,
        "unit": unit_text(result.unit) if result.unit else "",
        "reason": _without_stars(result.reason),
        "road": result.road,
        "details": [_detail_html(d) for d in result.details],
        "files": [path for path, _ in result.files],
        "figure": svg_of(result.figure) if result.figure is not None else "",
        "certificate": certificate.to_dict() if certificate is not None else None,
    }


def merged_prose(results: Sequence[Result]) -> list[Result]:
    """Neighbouring prose lines as one paragraph."""
    out: list[Result] = []
    for result in results:
        if result.kind == "prose" and out and out[-1].kind == "prose":
            out[-1] = Result("prose", f"{out[-1].statement}\n{result.statement}", out[-1].number)
        else:
            out.append(result)
    return out


def summary(results: Sequence[Result]) -> dict[str, int]:
    """How many claims came out how."""
    counts = {v: sum(r.verdict == v for r in results) for v in VERDICTS}
    return {**counts, "faults": sum(r.kind == "fault" for r in results)}


def summary_text(results: Sequence[Result]) -> str:
    counts = {k: v for k, v in summary(results).items() if v}
    return (
        ", ".join(f"{v} {k}" if k != "faults" else f"{v} faulty line{'s' * (v != 1)}" for k, v in counts.items()) or "no claims"
    )


def html(title: str, results: list[Result]) -> str:
    """The report as one page without scripts or outside resources; a result that cannot be shown becomes a fault in the list."""
    entries = []
    for result in merged_prose(results):
        if result.kind in ("title", "show"):
            continue
        try:
            entries.append(_entry(result))
        except Exception as fault:
            told = fault_of(fault, result.statement, result.number)
            entries.append(_entry(told))
            results[:] = [told if r is result else r for r in results]
    return str(
        _template().render(title=title or "Derivation", entries=entries, summary=summary_text(results), counts=summary(results))
    )


def certificates(title: str, results: Sequence[Result]) -> dict[str, object]:
    """The content of certificates.json, version 1."""
    steps = []
    for r in results:
        if r.kind in ("title", "prose", "section", "show"):
            continue
        step: dict[str, Any] = {
            "line": max(r.number, 1), "kind": r.kind, "statement": r.statement,
            "results": [f"{n} = {_formula_text(t)}" if n and r.kind != "given" else _formula_text(t) for n, t in r.shown],
            "conditions": [str(c) for c in r.conditions], "verdict": r.verdict,
        }  # fmt: skip
        for key in ("unit", "road", "reason", "note"):
            if getattr(r, key):
                step[key] = getattr(r, key)
        if r.details:
            step["details"] = ["".join(piece for _, piece in split_detail(d)) for d in r.details]
        if r.files:
            step["files"] = [path for path, _ in r.files]
            step["sha256"] = {path: digest(content) for path, content in r.files}
        if r.certificate is not None:
            step["certificate"] = r.certificate.to_dict()
        steps.append(step)
    return {"format": "gelvo-certificates", "version": 1, "title": title, "summary": summary(results), "steps": steps}


def digest(content: str | bytes) -> str:
    """What tells whether a file is still the one that was written."""
    return hashlib.sha256(content.encode("utf-8") if isinstance(content, str) else content).hexdigest()


def edited(folder: Path) -> list[str]:
    """The exported files of a folder of results that are no longer what was written there, as its certificates tell; [] without any."""
    try:
        told = json.loads((folder / "certificates.json").read_text(encoding="utf-8"))
    except (OSError, ValueError):
        return []
    found: list[str] = []
    steps = told.get("steps") if isinstance(told, dict) else None
    for step in steps if isinstance(steps, list) else []:
        written = step.get("sha256") if isinstance(step, dict) else None
        for path, known in (written if isinstance(written, dict) else {}).items():
            if Path(path).is_absolute() or ".." in Path(path).parts:
                continue  # nothing outside of the folder is looked at
            try:
                if digest((folder / path).read_bytes()) != known:
                    found.append(f"{path} was changed after it was written")
            except OSError:
                found.append(f"{path} is no longer there")
    return found


def schema() -> dict[str, object]:
    """The published JSON Schema of certificates.json and of every --json output."""
    place = resources.files("gelvo.derivation").joinpath("certificates.schema.json")
    loaded: dict[str, Any] = json.loads(place.read_text(encoding="utf-8"))
    return loaded


def as_json(title: str, results: Sequence[Result]) -> str:
    """JSON text; letters that steer a terminal or cannot be encoded are written as escapes."""
    shown = json.dumps(certificates(title, results), indent=2, ensure_ascii=False)
    return re.sub(STEERING, lambda m: m.group() if m.group() in "\n\t" else f"\\u{ord(m.group()):04x}", shown) + "\n"


def write(folder: Path, title: str, results: list[Result], stem: str) -> list[Path]:
    """The report, the certificates, exported files and figures; all are complete before the first appears."""
    page = html(title, results)
    contents: dict[Path, str | bytes] = {folder / f"{stem}.html": page, folder / "certificates.json": as_json(title, results)}
    count = 0
    for result in results:
        contents.update({folder / path: content for path, content in result.files})
        if result.figure is not None:
            count += 1
            contents[folder / f"{stem}_figure_{count}.png"] = png_of(result.figure)
    return write_together(contents, root=folder)
