"""Files that appear whole or not at all: written aside under a name of their own, then renamed.

A writer holds a lock on what it writes aside. A kill gives the lock back, so the next run can tell what was left behind from
what another process is writing just now, and takes it away.
"""

from __future__ import annotations

import contextlib
import os
import re
import time
from collections.abc import Iterator, Mapping
from pathlib import Path

try:
    import fcntl
except ImportError:  # another system: no locks, so nothing of another writer is ever taken away
    fcntl = None  # type: ignore[assignment]

_ASIDE = re.compile(r"\..*\.[0-9a-f]{16}\.part")
PATIENCE_SECONDS = 30.0


def write_file(path: str | Path, content: str | bytes) -> Path:
    """Writes one file so that it appears whole or not at all; returns its path.

    Raises OSError, and leaves nothing behind, where the disk is full or the folder cannot be written to.
    """
    return write_together({Path(path): content})[0]


def write_together(contents: Mapping[Path, str | bytes], root: Path | None = None) -> list[Path]:
    """Writes several files: all are complete on the disk before the first appears, and two writers take turns.

    contents: path -> text or bytes; root: the folder that no path may leave, not even through a link.
    """
    paths = list(contents)
    top = root or paths[0].parent
    for path in paths:
        if root is not None and not path.parent.resolve().is_relative_to(root.resolve()):
            raise PermissionError(f"{path} lies outside of {root}: a folder there is a link that leads away")
    for folder in dict.fromkeys([top, *[p.parent for p in paths]]):
        folder.mkdir(parents=True, exist_ok=True)
    with _turn(top), contextlib.ExitStack() as open_files:
        for folder in dict.fromkeys(p.parent for p in paths):
            _take_away_leftovers(folder)
        aside: list[Path] = []
        try:
            for path, content in contents.items():
                aside.append(path.parent / f".{path.name[:80]}.{os.urandom(8).hex()}.part")
                descriptor = os.open(aside[-1], os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o666)
                file = open_files.enter_context(os.fdopen(descriptor, "wb"))
                _lock(descriptor)
                file.write(content.encode("utf-8", "backslashreplace") if isinstance(content, str) else content)
                file.flush()
            for temporary, path in zip(aside, paths, strict=True):
                os.replace(temporary, path)
        except BaseException:
            for temporary in aside:
                with contextlib.suppress(OSError):
                    temporary.unlink()
            raise
    return paths


@contextlib.contextmanager
def _turn(folder: Path) -> Iterator[None]:
    """One writer of a folder at a time; after some patience the files are written all the same, each of them whole."""
    if fcntl is None:
        yield
        return
    descriptor = os.open(folder, os.O_RDONLY)
    try:
        until = time.monotonic() + PATIENCE_SECONDS
        while not _lock(descriptor) and time.monotonic() < until:
            time.sleep(0.01)
        yield
    finally:
        os.close(descriptor)


def _lock(descriptor: int) -> bool:
    """Whether the lock was free, or there are no locks on this file system."""
    if fcntl is None:
        return True
    try:
        fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        return False
    except OSError:
        return True
    return True


def _take_away_leftovers(folder: Path) -> None:
    """Removes what a killed writer left: files written aside whose lock nobody holds."""
    if fcntl is None:
        return
    for path in folder.iterdir():
        if not _ASIDE.fullmatch(path.name):
            continue
        with contextlib.suppress(OSError):
            descriptor = os.open(path, os.O_RDONLY)
            try:
                fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
                path.unlink()
            finally:
                os.close(descriptor)
