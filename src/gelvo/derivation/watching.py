"""A derivation carried out again after a change: only what depends on the change is worked out anew."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any, NamedTuple

from gelvo.derivation.engine import Derivation
from gelvo.derivation.lines import Line, statements
from gelvo.derivation.results import Result
from gelvo.derivation.state import signature

ALWAYS = ("title", "section", "given", "unknown", "show")  # quick, and they change the state that all later lines share
_WORD = re.compile(r"[^\W\d]\w*")


class Kept(NamedTuple):
    """What a line gave and what it left behind in the derivation."""

    result: Result
    changes: dict[str, dict[str, Any]]
    files: dict[Path, tuple[int, int]]

    @property
    def defined(self) -> set[str]:
        """The names that the line gave a meaning."""
        return self.changes["definitions"].keys() | self.changes["functions"].keys()

    @property
    def current(self) -> bool:
        """Whether the files that the line read are still what they were."""
        return all(signature(path) == was for path, was in self.files.items())


class Memory:
    """Results of earlier runs, by the text of a line and of everything that it depends on."""

    def __init__(self) -> None:
        self.kept: dict[tuple[Any, ...], Kept] = {}
        self.reused = self.worked = 0
        self.files: dict[Path, tuple[int, int]] = {}  # what the derivation read in the last run

    def seen(self, path: Path) -> tuple[tuple[int, int], ...]:
        """What changes when the derivation, or a file that it reads, is saved."""
        return tuple(signature(p) for p in (path, *self.files))

    def run(self, derivation: Derivation, source: str) -> list[Result]:
        """All statements, those with unchanged ground from memory."""
        self.reused = self.worked = 0
        ground: tuple[Any, ...] = ()  # the lines whose facts hold for everything after them
        names: dict[str, tuple[Any, ...]] = {}
        fresh: dict[tuple[Any, ...], Kept] = {}
        for line in statements(source):
            word = line.text.split(maxsplit=1)[0]
            if word in ALWAYS or line.text.startswith(">"):
                derivation.results.append(derivation.safely(line))
                if word in ("given", "unknown", "show"):
                    ground = (*ground, line.text)
                continue
            used = tuple(names[w] for w in dict.fromkeys(_WORD.findall(line.text)) if w in names)
            key = (line.text, hash(ground), tuple(hash(u) for u in used), len(derivation.results) if word == "export" else 0)
            kept = self.kept.get(key)
            if kept is None or not kept.current:
                kept = self._work(derivation, line)
                self.worked += 1
            else:
                self._replay(derivation, kept, line)
                self.reused += 1
            fresh[key] = kept
            for name in kept.defined:
                names[name] = key
            for name in kept.changes["failed"]:  # who uses it is told in which line it failed
                names[name] = (*key, line.number)
        self.kept, self.files = fresh, derivation.files_read
        return derivation.results

    def _work(self, derivation: Derivation, line: Line) -> Kept:
        before = derivation.copied()
        files, derivation.files_read = derivation.files_read, {}
        result = derivation.safely(line)
        used, derivation.files_read = derivation.files_read, {**files, **derivation.files_read}
        derivation.results.append(result)
        changes = {
            name: {k: v for k, v in table.items() if k not in before[name] or before[name][k] is not v}
            for name, table in derivation.tables().items()
        }
        return Kept(result, changes, used)

    def _replay(self, derivation: Derivation, kept: Kept, line: Line) -> None:
        kept.result.number = line.number
        derivation.files_read.update(kept.files)
        derivation.results.append(kept.result)
        for name, table in derivation.tables().items():
            table.update(kept.changes[name])
        for name in kept.defined:
            derivation.failed.pop(name, None)
        if kept.changes["failed"]:
            derivation.remember_failure(line)
