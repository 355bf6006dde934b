"""What the command line says: plain on every terminal, in colour where that is seen, and never steering it."""

from __future__ import annotations

import os
import signal
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from typing import TextIO

import click

from gelvo.deadline import forget_interrupt, interrupt
from gelvo.errors import visible

BAD_INPUT, CHECK_FAILED = 2, 1
WIDEST, NARROWEST = 110, 40  # letters in a line


def _colour(stream: TextIO | None = None) -> bool:
    return (stream or sys.stdout).isatty() and "NO_COLOR" not in os.environ


def styled(text: str, colour: str) -> str:
    shown = visible(text)
    return click.style(shown, fg=colour) if _colour() else shown


def columns(indented: int = 0) -> int:
    """How many letters of a line are free: those of the terminal, or of a page where nobody watches."""
    wide = os.get_terminal_size().columns if sys.stdout.isatty() else WIDEST
    return max(NARROWEST, min(wide, WIDEST) - indented)


def encodable(text: str) -> bool:
    """Whether the terminal has all the letters of a text."""
    try:
        text.encode(sys.stdout.encoding or "utf-8")
    except UnicodeEncodeError:
        return False
    return True


def say(text: str, err: bool = False) -> None:
    """Text of a derivation or of a fault: nothing in it steers the terminal."""
    click.echo(visible(text), err=err)


def fail(message: str, code: int = BAD_INPUT) -> None:
    say(message, err=True)
    sys.exit(code)


@contextmanager
def stopping_on_interrupt() -> Iterator[None]:
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
