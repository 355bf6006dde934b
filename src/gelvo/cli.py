"""The command line: demo, do, run, check, new, console."""

from __future__ import annotations

import contextlib
import os
import signal
import sys
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from importlib import resources
from pathlib import Path
from typing import Any

import click

from gelvo.derivation import report
from gelvo.derivation.engine import Derivation
from gelvo.derivation.lines import Line
from gelvo.derivation.report import plain_lines, summary_text
from gelvo.derivation.watching import Memory
from gelvo.errors import DomainError, GelvoError, as_gelvo_error, visible
from gelvo.expression.building import junction
from gelvo.figures.plotting import png_of
from gelvo.files import write_file, write_together
from gelvo.limits import forget_interrupt, interrupt
from gelvo.version import VERSION

BAD_INPUT, CHECK_FAILED = 2, 1
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


def _colour(stream: Any = None) -> bool:
    return (stream or sys.stdout).isatty() and "NO_COLOR" not in os.environ


def _styled(text: str, colour: str) -> str:
    shown = visible(text)
    return click.style(shown, fg=colour) if _colour() else shown


def _encodable(text: str) -> bool:
    """Whether the terminal has all the letters of a text."""
    try:
        text.encode(sys.stdout.encoding or "utf-8")
    except UnicodeEncodeError:
        return False
    return True


def _say(text: str, err: bool = False) -> None:
    """Text of a derivation or of a fault: nothing in it steers the terminal."""
    click.echo(visible(text), err=err)


def _fail(message: str, code: int = BAD_INPUT) -> None:
    _say(message, err=True)
    sys.exit(code)


@contextmanager
def _stopping_on_interrupt() -> Iterator[None]:
    """Ctrl-C stops the work inside, unless whoever started the process wants it ignored or handled in another way."""
    usual = signal.getsignal(signal.SIGINT) is signal.default_int_handler
    if not usual or threading.current_thread() is not threading.main_thread():
        yield
        return
    forget_interrupt()
    signal.signal(signal.SIGINT, interrupt)
    try:
        yield
    finally:
        signal.signal(signal.SIGINT, signal.default_int_handler)


class _Commands(click.Group):
    """Commands in the order of a day's work; faults end in a sentence, never in a traceback."""

    def list_commands(self, context: click.Context) -> list[str]:
        return ["demo", "do", "run", "check", "new", "console"]

    def invoke(self, context: click.Context) -> Any:
        for stream in (sys.stdin, sys.stdout, sys.stderr):  # a terminal that lacks a letter shows an escape, and goes on
            if hasattr(stream, "reconfigure"):
                stream.reconfigure(errors="backslashreplace")
        try:
            with _stopping_on_interrupt():
                return super().invoke(context)
        except KeyboardInterrupt:
            _fail("stopped", 130)
        except (click.ClickException, click.exceptions.Exit, click.Abort, BrokenPipeError):
            raise  # told by click itself; a reader that went away is told nothing
        except Exception as fault:
            _fail(str(as_gelvo_error(fault)))


WATCH_SECONDS = 0.3
LARGEST_FILE = 50_000_000


@click.group(cls=_Commands, context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(VERSION, message="gelvo %(version)s")
def main() -> None:
    """Exact formulas for physics, each result checked by another road.

    Example:  gelvo do "integrate x^2*exp(-x) by x from 0 to inf"
    """


_json_option = click.option("--json", "as_json", is_flag=True, help="Print certificates as JSON (see the published schema).")


def _show(result: Any, with_statement: bool = False) -> None:
    """One result on the terminal."""
    if result.kind in ("title", "prose"):
        return
    if result.kind == "section":
        click.echo(_styled(f"\n{result.statement}", "cyan"))
        return
    if with_statement:
        click.echo(_styled(f"{result.number:>3}  {result.statement}", "bright_black"))
    pad = "     " if with_statement else ""
    if result.kind == "fault":
        lines = result.note.splitlines()
        if with_statement and lines[0] == result.statement:
            del lines[0]  # it stands above already, with its number
        _say("\n".join(pad + line for line in lines), err=True)
        return
    if result.kind not in ("given", "unknown", "plot", "export") or not with_statement:
        lines = plain_lines(result, _encodable).splitlines()
        if result.unit and len(lines) == 1:
            lines[0] += f"   in {result.unit}"
        elif result.unit:
            lines.append(f"in {result.unit}")
        if lines:
            _say("\n".join(pad + line for line in lines))
    if result.reason:
        _say(f"{pad}not worked out: {result.reason}")
    if result.note:
        _say(pad + result.note)
    for detail in result.details:
        _say(pad + detail)
    _verdict_line(result, pad)


def _verdict_line(result: Any, pad: str) -> None:
    words = []
    if result.conditions:
        words.append(visible(f"if {junction('and', result.conditions)}"))
    if result.verdict:
        mark = MARKS[result.verdict]
        words.append(_styled(f"{mark} {result.verdict}" if _encodable(mark) else result.verdict, VERDICT_STYLES[result.verdict]))
    if words:
        click.echo(pad + "   ".join(words))
    certificate = result.certificate
    if certificate is not None and (result.failed or result.verdict in ("supported", "undecided", "refuted")):
        for key, value in certificate.evidence.items():
            _say(f"{pad}  {key}: {value}")


def _exit_code(results: list[Any]) -> int:
    if any(r.kind == "fault" for r in results):
        return BAD_INPUT
    return CHECK_FAILED if any(r.failed for r in results) else 0


@main.command()
@click.argument("statement", nargs=-1, required=True)
@_json_option
@click.option("--steps", is_flag=True, help="Show how the result was found and checked.")
def do(statement: tuple[str, ...], as_json: bool, steps: bool) -> None:
    """Carry out one STATEMENT; `-` reads it from standard input.

    Example:  gelvo do "solve x^2 = a for x given a > 0"
    """
    text = " ".join(statement)
    if text == "-":
        text = sys.stdin.read().removeprefix("\ufeff").strip()
    derivation = Derivation(steps=steps)
    result = derivation.safely(Line(text, 1))
    if as_json:
        click.echo(report.as_json("", [result]), nl=False)
    elif result.kind == "fault":
        _fail(result.note)
    else:
        if result.kind == "plot" and result.figure is not None:
            _save_figure(result)
        _write_beside(result.files)
        _show(result)
        if steps:
            _show_steps(result)
    sys.exit(_exit_code([result]))


def _save_figure(result: Any) -> None:
    _write_beside([("figure.png", png_of(result.figure))])


def _write_beside(files: list[tuple[str, Any]]) -> None:
    """Files of one statement, in the folder where the command was given."""
    if files:
        for target in write_together({Path(path): content for path, content in files}, root=Path()):
            _say(f"written: {target}")


def _show_steps(result: Any) -> None:
    for number, step in enumerate(result.steps, 1):
        _say(f"{number:3}. {step}")
    if result.road and not result.steps:
        _say(f"found by: {result.road}")
    if result.certificate is not None:
        _say(str(result.certificate))


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
) -> Any:
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


def _summary_line(results: list[Any]) -> None:
    click.echo(f"\n{summary_text(results)}")


@main.command()
@click.argument("file")
@click.option("--to", "folder", help="Folder of the results; by default FILE-STEM-results beside the file.")
@_json_option
@click.option("--steps", is_flag=True, help="Show how each result was found and checked.")
def run(file: str, folder: str | None, as_json: bool, steps: bool) -> None:
    """Carry out a derivation FILE and write report, code, figures and certificates.

    Example:  gelvo run balance.gelvo
    """
    path = Path(file)
    target = Path(folder) if folder else path.with_name(f"{path.stem}-results")
    _run(_read_file(file), path.stem, target, as_json, steps, path.parent)


def _run(source: str, stem: str, folder: Path, as_json: bool, steps: bool = False, beside: Path | None = None) -> None:
    derivation = _carry_out(source, stem, as_json, steps, beside)
    try:
        written = report.write(folder, derivation.title, derivation.results, stem)
    except OSError as fault:
        _fail(f"the results cannot be written to {folder}: {fault.strerror or fault}")
    if as_json:
        click.echo(report.as_json(derivation.title, derivation.results), nl=False)
    else:
        click.echo(_styled(derivation.title or stem, "cyan"))
        for result in derivation.results:
            _show(result, with_statement=True)
            if steps:
                _show_steps(result)
        _summary_line(derivation.results)
        click.echo("written:")
        for target in written:
            _say(f"  {target}")
    sys.exit(_exit_code(derivation.results))


@main.command()
@click.argument("file")
@click.option("--to", "folder", help="Folder of the results; by default FILE-STEM-results beside the file.")
@click.option("--runs", type=int, default=0, help="Stop after so many runs (0: watch until Ctrl-C).")
def watch(file: str, folder: str | None, runs: int) -> None:
    """Carry out a derivation FILE again at each save, working out only what depends on the change.

    Example:  gelvo watch balance.gelvo
    """
    path = Path(file)
    target = Path(folder) if folder else path.with_name(f"{path.stem}-results")
    memory, seen, done = Memory(), None, 0
    _read_file(file)  # a file that was never there is a slip; one that goes away later may come back
    _say(f"watching {path} (Ctrl-C ends)")
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
                _say(str(as_gelvo_error(fault)), err=True)
    except KeyboardInterrupt:
        click.echo("stopped watching")


def _watched(memory: Any, path: Path, target: Path) -> None:
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
    _say(f"{memory.worked} lines worked out, {memory.reused} unchanged, {taken:.1f} s; report in {target}")


@main.command()
@click.argument("file")
@_json_option
def check(file: str, as_json: bool) -> None:
    """Carry out all checks of a derivation FILE without writing anything.

    Example:  gelvo check balance.gelvo
    """
    path = Path(file)
    derivation = _carry_out(_read_file(file), path.stem, as_json, beside=path.parent, only_checks=True)
    if as_json:
        click.echo(report.as_json(derivation.title, derivation.results), nl=False)
    else:
        for result in derivation.results:
            if result.kind in ("check", "fault") or result.failed:
                _show(result, with_statement=True)
        _summary_line(derivation.results)
    sys.exit(_exit_code(derivation.results))


@main.command()
@click.option("--to", "folder", default="demo-results", help="Folder of the results.")
@_json_option
def demo(folder: str, as_json: bool) -> None:
    """Run the demonstration: a torsion balance with eddy-current damping, read by an optical lever."""
    source = resources.files("gelvo.derivation").joinpath("torsion_balance.gelvo").read_text(encoding="utf-8")
    _run(source, "torsion_balance", Path(folder), as_json)


@main.command()
@click.argument("file")
def new(file: str) -> None:
    """Begin a derivation FILE from a short example.

    Example:  gelvo new pendulum.gelvo
    """
    path = Path(file if file.endswith(".gelvo") else f"{file}.gelvo")
    if path.exists():
        _fail(f"{path} exists already; choose another name")
    try:
        write_file(path, NEW_FILE.format(title=path.stem.replace("_", " ").capitalize()))
    except OSError as fault:
        _fail(f"{path} cannot be written: {fault.strerror or fault}")
    _say(f"written: {path}\nnext:    gelvo run {path}")


@main.command()
def console() -> None:
    """Type statements one a line; an empty line or `quit` ends, Ctrl-C stops a long one."""
    derivation = Derivation()
    interactive = sys.stdin.isatty()
    if interactive:
        with contextlib.suppress(ImportError):
            import readline  # noqa: F401, PLC0415  (line editing and history)
        click.echo("One statement a line, for example:  solve x^2 = 2 for x     (help shows more, quit ends)")
    number = 0
    while True:
        try:
            text = input("gelvo> " if interactive else "")
        except (EOFError, KeyboardInterrupt):
            break
        text = text.strip()
        if text in ("quit", "exit") or (not text and interactive):
            break
        if text == "help":
            click.echo(
                "given FACTS · let NAME be … · unknown theta(t) · check CLAIM · integrate E by x · solve E = 0 for x · value E to 20 digits"
            )
            continue
        if not text:
            continue
        number += 1
        forget_interrupt()
        try:
            result = derivation.safely(Line(text, number))
        except KeyboardInterrupt:
            click.echo("stopped", err=True)
            continue
        derivation.results.append(result)
        _show(result)


if __name__ == "__main__":
    main()
