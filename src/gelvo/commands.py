"""What the commands do. `cli.py` loads this file at the first command, so that asking for help costs nothing."""

from __future__ import annotations

import contextlib
import sys
import time
from collections.abc import Sequence
from importlib import resources
from pathlib import Path

import click

from gelvo.deadline import forget_interrupt
from gelvo.derivation import report
from gelvo.derivation.engine import Derivation
from gelvo.derivation.guide import continuations, overview, told_of
from gelvo.derivation.lines import Line
from gelvo.derivation.report import condition_text, detail_lines, plain_lines, summary_text
from gelvo.derivation.results import Result
from gelvo.derivation.watching import Memory
from gelvo.errors import DomainError, GelvoError, as_gelvo_error, visible
from gelvo.figures.plotting import png_of
from gelvo.files import write_file, write_together
from gelvo.terminal import BAD_INPUT, CHECK_FAILED, columns, encodable, fail, say, styled

VERDICT_STYLES = {
    "proved": "green",
    "refuted as expected": "green",
    "supported": "yellow",
    "undecided": "yellow",
    "refuted": "red",
}


MARKS = {"proved": "✓", "refuted as expected": "✓", "supported": "≈", "undecided": "?", "refuted": "✗"}


NEW_FILE = """\
title   {title}
> What this derivation is about, in a sentence or two.

section First steps
given   m > 0 {{kg}}, k > 0 {{N/m}}
unknown x(t) {{m}}
let     motion be m*x'' + k*x = 0
let     omega be sqrt(k/m)
check   motion where x = x_0*cos(omega*t) given x(0) = x_0, x'(0) = 0
let     period be 2*pi/omega
value   period to 10 digits with m = 0.2, k = 5
"""


WATCH_SECONDS = 0.3


LARGEST_FILE = 50_000_000


def _show(result: Result, with_statement: bool = False) -> None:
    """One result on the terminal."""
    if result.kind in ("title", "prose"):
        return
    if result.kind == "section":
        click.echo(styled(f"\n{result.statement}", "cyan"))
        return
    if with_statement:
        click.echo(styled(f"{result.number:>3}  {result.statement}", "bright_black"))
    pad = "     " if with_statement else ""
    if result.kind == "fault":
        _show_fault(result, pad)
        return
    told = [] if with_statement and result.kind in ("given", "unknown", "plot", "export") else _formula_lines(result, len(pad))
    if result.reason:
        told.append(f"{'no elementary form' if result.verdict else 'not worked out'}: {result.reason}")
    if result.note:
        told.append(result.note)
    for line in [*told, *detail_lines(result, encodable)]:
        say((pad + line).rstrip())
    _verdict_line(result, pad)


def _show_fault(result: Result, pad: str) -> None:
    lines = result.note.splitlines()
    if pad and lines[0] == result.statement:
        del lines[0]  # it stands above already, with its number
    say("\n".join(pad + line for line in lines), err=True)


def _formula_lines(result: Result, indented: int) -> list[str]:
    return plain_lines(result, encodable, columns(indented)).splitlines()


def _verdict_line(result: Result, pad: str) -> None:
    words = []
    if result.conditions:
        words.append(visible(f"if {condition_text(result, encodable)}"))
    if result.verdict:
        mark = MARKS[result.verdict]
        words.append(styled(f"{mark} {result.verdict}" if encodable(mark) else result.verdict, VERDICT_STYLES[result.verdict]))
    if words:
        click.echo(pad + "   ".join(words))
    certificate = result.certificate
    if certificate is not None and (result.failed or result.verdict in ("supported", "undecided", "refuted")):
        for key, value in certificate.evidence.items():
            say(f"{pad}  {key}: {value}")


def _exit_code(results: list[Result]) -> int:
    if any(r.kind == "fault" for r in results):
        return BAD_INPUT
    return CHECK_FAILED if any(r.failed for r in results) else 0


def do(text: str, as_json: bool, steps: bool) -> None:
    """One statement; `-` reads it from standard input."""
    if text == "-":
        text = sys.stdin.read().removeprefix("\ufeff").strip()
    derivation = Derivation(steps=steps)
    result = derivation.safely(Line(text, 1))
    if as_json:
        click.echo(report.as_json("", [result]), nl=False)
    elif result.kind == "fault":
        fail(result.note)
    else:
        if result.kind == "plot" and result.figure is not None:
            _save_figure(result)
        _write_beside(result.files)
        _show(result)
        if steps:
            _show_steps(result)
    sys.exit(_exit_code([result]))


def _save_figure(result: Result) -> None:
    _write_beside([("figure.png", png_of(result.figure))])


def _write_beside(files: Sequence[tuple[str, str | bytes]]) -> None:
    """Files of one statement, in the folder where the command was given."""
    if files:
        for target in write_together({Path(path): content for path, content in files}, root=Path()):
            say(f"written: {target}")


def _show_steps(result: Result) -> None:
    for number, step in enumerate(result.steps, 1):
        say(f"{number:3}. {step}")
    if result.road and not result.steps:
        say(f"found by: {result.road}")
    if result.certificate is not None:
        say(str(result.certificate))


def _read_file(file: str) -> str:
    """The text of a derivation; a mark of the byte order in front of it is taken away."""
    path = Path(file)
    try:
        if path.stat().st_size > LARGEST_FILE:
            raise DomainError(f"{file} is larger than {LARGEST_FILE // 10**6} MB, so it is hardly a derivation")
        return path.read_text(encoding="utf-8-sig")
    except FileNotFoundError:
        near = sorted(p.name for p in path.parent.glob("*.gelvo"))[:5] if path.parent.is_dir() else []
        hint = f" Derivations in that folder: {', '.join(near)}." if near else " Make one with  gelvo new FILE ."
        raise DomainError(f"there is no file {file}.{hint}") from None
    except OSError as fault:
        raise DomainError(f"{file} cannot be read: {fault.strerror or fault}") from None
    except UnicodeDecodeError as fault:
        raise DomainError(f"{file} cannot be read: it is not text in UTF-8 ({fault.reason} at byte {fault.start})") from None


def _carry_out(
    source: str, stem: str, quiet: bool, steps: bool = False, beside: Path | None = None, only_checks: bool = False
) -> Derivation:
    """The derivation, with a progress display when a person watches."""
    derivation = Derivation(stem, steps, beside, only_checks)
    if quiet or not sys.stderr.isatty():
        derivation.run(source)
        return derivation
    from rich.console import Console
    from rich.progress import BarColumn, Progress, TextColumn, TimeElapsedColumn

    console = Console(stderr=True)
    columns = (
        TextColumn("{task.description}", markup=False),
        BarColumn(bar_width=24),
        TextColumn("{task.completed}/{task.total}"),
        TimeElapsedColumn(),
    )
    with Progress(*columns, console=console, transient=True) as bar:
        task = bar.add_task("carrying out")

        def tell(done: int, total: int, text: str) -> None:
            bar.update(task, completed=done, total=total, description=visible(text[:48]))

        derivation.run(source, tell)
    return derivation


def _summary_line(results: list[Result]) -> None:
    click.echo(f"\n{summary_text(results)}")


def run(file: str, folder: str | None, as_json: bool, steps: bool) -> None:
    """Carry out a derivation FILE and write report, code, figures and certificates."""
    path = Path(file)
    _run(_read_file(file), path.stem, _results_of(path, folder), as_json, steps, path.parent)


def _run(source: str, stem: str, folder: Path, as_json: bool, steps: bool = False, beside: Path | None = None) -> None:
    derivation = _carry_out(source, stem, as_json, steps, beside)
    try:
        written = report.write(folder, derivation.title, derivation.results, stem)
    except OSError as fault:
        fail(f"the results cannot be written to {folder}: {fault.strerror or fault}")
    if as_json:
        click.echo(report.as_json(derivation.title, derivation.results), nl=False)
    else:
        click.echo(styled(derivation.title or stem, "cyan"))
        for result in derivation.results:
            _show(result, with_statement=True)
            if steps:
                _show_steps(result)
        _summary_line(derivation.results)
        click.echo("written:")
        for target in written:
            say(f"  {target}")
    sys.exit(_exit_code(derivation.results))


def watch(file: str, folder: str | None, runs: int) -> None:
    """Carry out a derivation FILE again at each save, working out only what depends on the change."""
    path = Path(file)
    target = Path(folder) if folder else path.with_name(f"{path.stem}-results")
    memory, seen, done = Memory(), None, 0
    _read_file(file)  # a file that was never there is a slip; one that goes away later may come back
    say(f"watching {path} (Ctrl-C ends)")
    try:
        while not runs or done < runs:
            now = memory.seen(path)
            if now == seen:
                time.sleep(WATCH_SECONDS)
                continue
            seen = now
            try:
                _watched(memory, path, target)
                seen = (now[0], *memory.files.values())
                done += 1
            except (GelvoError, OSError) as fault:
                say(str(as_gelvo_error(fault)), err=True)
    except KeyboardInterrupt:
        click.echo("stopped watching")


def _watched(memory: Memory, path: Path, target: Path) -> None:
    """One round of watching."""
    start = time.perf_counter()
    derivation = Derivation(path.stem, folder=path.parent)
    memory.run(derivation, _read_file(str(path)))
    report.write(target, derivation.title, derivation.results, path.stem)
    for result in derivation.results:
        if result.kind == "fault" or result.failed:
            _show(result, with_statement=True)
    _summary_line(derivation.results)
    taken = time.perf_counter() - start
    say(f"{memory.worked} lines worked out, {memory.reused} unchanged, {taken:.1f} s; report in {target}")


def check(file: str, folder: str | None, as_json: bool) -> None:
    """Carry out all checks of a derivation FILE without writing anything, and compare exported files with what was written."""
    path = Path(file)
    derivation = _carry_out(_read_file(file), path.stem, as_json, beside=path.parent, only_checks=True)
    changed = report.edited(_results_of(path, folder))
    if as_json:
        click.echo(report.as_json(derivation.title, derivation.results), nl=False)
    else:
        for result in derivation.results:
            if result.kind in ("check", "fault") or result.failed:
                _show(result, with_statement=True)
        _summary_line(derivation.results)
    for sentence in changed:
        say(f"{sentence}: what was checked is no longer what stands there", err=True)
    sys.exit(_exit_code(derivation.results) or int(bool(changed)))


def export(file: str, names: tuple[str, ...], language: str, folder: str) -> None:
    """Write the code of some NAMES of a derivation FILE, checked, and nothing else."""
    path = Path(file)
    derivation = _carry_out(
        f"{_read_file(file)}\nexport {', '.join(names)} as {language}\n", path.stem, False, beside=path.parent
    )
    last = derivation.results[-1]
    if last.kind != "export":
        _show(last, with_statement=True)
        sys.exit(_exit_code(derivation.results) or 2)
    try:
        written = write_together({Path(folder) / name: content for name, content in last.files}, root=Path(folder))
    except OSError as fault:
        fail(f"the code cannot be written to {folder}: {fault.strerror or fault}")
    _show(last, with_statement=True)
    for target in written:
        say(f"written: {target}")


def _results_of(path: Path, folder: str | None) -> Path:
    return Path(folder) if folder else path.with_name(f"{path.stem}-results")


def demo(folder: str, as_json: bool) -> None:
    """Run the demonstration: a torsion balance with eddy-current damping, read by an optical lever."""
    source = resources.files("gelvo.derivation").joinpath("torsion_balance.gelvo").read_text(encoding="utf-8")
    _run(source, "torsion_balance", Path(folder), as_json)


def new(file: str) -> None:
    """Begin a derivation FILE from a short example."""
    path = Path(file if file.endswith(".gelvo") else f"{file}.gelvo")
    if path.exists():
        fail(f"{path} exists already; choose another name")
    try:
        write_file(path, NEW_FILE.format(title=path.stem.replace("_", " ").capitalize()))
    except OSError as fault:
        fail(f"{path} cannot be written: {fault.strerror or fault}")
    say(f"written: {path}\nnext:    gelvo run {path}")


def tell(words: str) -> None:
    """Help about statements; headings and shapes stand out where there is colour."""
    for line in (told_of(words) if words else overview()).splitlines():
        click.echo(line if line.startswith(" ") else styled(line, "cyan"))


def console() -> None:
    """Type statements one a line; an empty line or `quit` ends, Ctrl-C stops a long one."""
    derivation = Derivation()
    interactive = sys.stdin.isatty()
    if interactive:
        _complete_words(derivation)
        click.echo(
            "One statement a line, for example:  solve x^2 = 2 for x     (help shows more, the tab key completes, quit ends)"
        )
    number = 0
    while True:
        try:
            text = input("gelvo> " if interactive else "")
        except (EOFError, KeyboardInterrupt):
            break
        text = text.strip()
        if text in ("quit", "exit") or (not text and interactive):
            break
        if text:
            number += 1
            _answer(derivation, text, number)


def _answer(derivation: Derivation, text: str, number: int) -> None:
    """One line of the console."""
    forget_interrupt()
    word, _, rest = text.partition(" ")
    try:
        if word == "help":
            tell(rest.strip())
            return
        result = derivation.safely(Line(text, number))
    except KeyboardInterrupt:
        click.echo("stopped", err=True)
    except DomainError as fault:
        say(str(fault), err=True)
    else:
        derivation.results.append(result)
        _show(result)


def _complete_words(derivation: Derivation) -> None:
    """Line editing, history, and the tab key, where the terminal has them."""
    with contextlib.suppress(ImportError):
        import readline  # noqa: PLC0415  (not on every system)

        def complete(last: str, count: int) -> str | None:
            typed = readline.get_line_buffer()[: readline.get_endidx()]
            found = continuations(typed, [*derivation.definitions, *derivation.unknowns, *derivation.declared])
            return f"{found[count]} " if count < len(found) else None

        readline.set_completer(complete)
        readline.set_completer_delims(" \t()[]{}+-*/^=<>,;!|")
        readline.parse_and_bind("tab: complete")
