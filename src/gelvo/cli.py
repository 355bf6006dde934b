"""The command line: demo, do, run, watch, check, new, console, help."""

from __future__ import annotations

import sys
from functools import cache
from types import ModuleType
from typing import Any

import click

from gelvo.errors import as_gelvo_error
from gelvo.loading import to_stay
from gelvo.terminal import fail, stopping_on_interrupt
from gelvo.version import VERSION


class _Commands(click.Group):
    """Commands in the order of a day's work; faults end in a sentence, never in a traceback."""

    def list_commands(self, context: click.Context) -> list[str]:
        return list(self.commands)  # in the order in which they stand below

    def invoke(self, context: click.Context) -> Any:
        for stream in (sys.stdin, sys.stdout, sys.stderr):  # a terminal that lacks a letter shows an escape, and goes on
            if hasattr(stream, "reconfigure"):
                stream.reconfigure(errors="backslashreplace")
        try:
            with stopping_on_interrupt():
                return super().invoke(context)
        except KeyboardInterrupt:
            fail("stopped", 130)
        except (click.ClickException, click.exceptions.Exit, click.Abort, BrokenPipeError):
            raise  # told by click itself; a reader that went away is told nothing
        except Exception as fault:
            fail(str(as_gelvo_error(fault)))


@click.group(cls=_Commands, context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(VERSION, message="gelvo %(version)s")
def main() -> None:
    """Exact formulas for physics, each result checked by another road.

    Example:  gelvo do "integrate x^2*exp(-x) by x from 0 to inf"
    """


_folder_option = click.option("--to", "folder", help="Folder of the results; by default FILE-STEM-results beside the file.")
_json_option = click.option("--json", "as_json", is_flag=True, help="Print certificates as JSON (see the published schema).")


@cache
def _work() -> ModuleType:
    """The commands."""
    with to_stay():
        from gelvo import commands  # noqa: PLC0415  (so that asking for help loads nothing)
    return commands


@main.command()
@click.option("--to", "folder", default="demo-results", help="Folder of the results.")
@_json_option
def demo(folder: str, as_json: bool) -> None:
    """Run the demonstration: a torsion balance with eddy-current damping, read by an optical lever."""
    _work().demo(folder, as_json)


@main.command()
@click.argument("statement", nargs=-1, required=True)
@_json_option
@click.option("--steps", is_flag=True, help="Show how the result was found and checked.")
def do(statement: tuple[str, ...], as_json: bool, steps: bool) -> None:
    """Carry out one STATEMENT; `-` reads it from standard input.

    Example:  gelvo do "solve x^2 = a for x given a > 0"
    """
    _work().do(" ".join(statement), as_json, steps)


@main.command()
@click.argument("file")
@_folder_option
@_json_option
@click.option("--steps", is_flag=True, help="Show how each result was found and checked.")
def run(file: str, folder: str | None, as_json: bool, steps: bool) -> None:
    """Carry out a derivation FILE and write report, code, figures and certificates.

    Example:  gelvo run balance.gelvo
    """
    _work().run(file, folder, as_json, steps)


@main.command()
@click.argument("file")
@_folder_option
@click.option("--runs", type=int, default=0, help="Stop after so many runs (0: watch until Ctrl-C).")
def watch(file: str, folder: str | None, runs: int) -> None:
    """Carry out a derivation FILE again at each save, working out only what depends on the change.

    Example:  gelvo watch balance.gelvo
    """
    _work().watch(file, folder, runs)


@main.command()
@click.argument("file")
@_folder_option
@_json_option
def check(file: str, folder: str | None, as_json: bool) -> None:
    """Carry out all checks of a derivation FILE without writing anything; exported files that were changed since are told.

    Example:  gelvo check balance.gelvo
    """
    _work().check(file, folder, as_json)


@main.command()
@click.argument("file")
@click.argument("names", nargs=-1, required=True)
@click.option("--language", default="numpy", help="Target language: numpy, numba, python, c, c++, fortran, javascript.")
@click.option("--to", "folder", default=".", help="Folder of the code.")
def export(file: str, names: tuple[str, ...], language: str, folder: str) -> None:
    """Write the code of some NAMES of a derivation FILE, checked.

    Example:  gelvo export balance.gelvo frequency --language c --to code
    """
    _work().export(file, names, language, folder)


@main.command()
@click.argument("file")
def new(file: str) -> None:
    """Begin a derivation FILE from a short example.

    Example:  gelvo new pendulum.gelvo
    """
    _work().new(file)


@main.command()
def console() -> None:
    """Type statements one a line; an empty line or `quit` ends, Ctrl-C stops a long one."""
    _work().console()


@main.command(name="help")
@click.argument("words", nargs=-1)
def help_(words: tuple[str, ...]) -> None:
    """All statements, or how those read that open with some WORDS, each with an example.

    Example:  gelvo help fourier transform
    """
    _work().tell(" ".join(words))


if __name__ == "__main__":
    main()
