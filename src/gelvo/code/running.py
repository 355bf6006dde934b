"""Tools outside of this process: the one that is there, and what a command prints."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from collections.abc import Sequence
from pathlib import Path

from gelvo.errors import CheckFailed, ExportError

LONGEST_SECONDS = 120
PYTHON = (sys.executable, "-P", "-B")  # another process of the same Python, which takes nothing from the folder by itself


def tool(variable: str, candidates: Sequence[str], missing: str) -> str:
    """The first of some programs that is there, the one that a variable of the environment names before others; else an ExportError.

    missing: what is said then, as "no C compiler was found: install one (cc)".
    """
    for candidate in (os.environ.get(variable), *candidates):
        if candidate and shutil.which(candidate):
            return candidate
    raise ExportError(f"{missing}, or export with check=False")


def run(command: Sequence[str], folder: Path, given: str = "") -> str:
    """What a command prints; it gets the text whether it reads it or not. Raises CheckFailed where it fails or takes too long."""
    try:
        done = subprocess.run(command, cwd=folder, capture_output=True, text=True, timeout=LONGEST_SECONDS, input=given)
    except subprocess.TimeoutExpired:
        raise CheckFailed(f"{command[0]} … was stopped after {LONGEST_SECONDS} s") from None
    if done.returncode:
        raise CheckFailed(f"{' '.join(command[:2])} … failed: {(done.stderr or done.stdout)[:800]}")
    return done.stdout
