"""What a program in a language is put together from: pieces of code, statements, and choices between blocks of them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

STORE, WIDE = "store", "wide"
ATOM, PRODUCT, QUOTIENT, SUM, CHOICE = range(5)  # what binds how tightly; the last are comparisons and choices


class Piece(NamedTuple):
    """Code of one part: how deeply it is nested, how tightly its outermost operation binds; `plain` where it is a name or a number."""

    text: str
    depth: int = 0
    binds: int = ATOM
    plain: bool = False

    def inside(self, most: int) -> str:
        """The text, in parentheses where its outermost operation binds less than what stands around it allows."""
        return self.text if self.binds <= most else f"({self.text})"


class Statement(NamedTuple):
    """name = right; kind: number, pair (the number and what its rounding lost), wide (in double precision where others are not), or store, where
    the name is a place of the outputs."""

    name: str
    right: str
    kind: str


class Branch(NamedTuple):
    """What is worked out where a condition holds ('' for the last one, which holds elsewhere), and the value then."""

    condition: str
    statements: list[Statement | Choice | Loop]
    right: str


class Choice(NamedTuple):
    """name = the value of the first branch whose condition holds; only that one is worked out."""

    name: str
    branches: list[Branch]


class Loop(NamedTuple):
    """Statements for a counter from start to before stop."""

    counter: str
    start: int
    stop: int
    step: int
    statements: list[Statement | Choice | Loop]


Line = Statement | Choice | Loop


def statements_in(lines: Sequence[Line]) -> Iterator[Statement]:
    """All statements, those of branches and the values they end with among them."""
    for line in lines:
        if isinstance(line, Statement):
            yield line
            continue
        if isinstance(line, Loop):
            yield from statements_in(line.statements)
            continue
        for branch in line.branches:
            yield from statements_in(branch.statements)
            yield Statement(line.name, f"{branch.condition} {branch.right}", "number")


def names_in(lines: Sequence[Line]) -> Iterator[tuple[str, str]]:
    """(name, kind) of every variable."""
    for line in lines:
        if isinstance(line, Statement):
            if line.kind != STORE:
                yield line.name, line.kind
            continue
        if isinstance(line, Loop):
            yield from names_in(line.statements)
            continue
        yield line.name, "number"
        for branch in line.branches:
            yield from names_in(branch.statements)


def in_braces(lines: Sequence[Line], step: str, number: str, pair: str, variable: str, pad: str = "") -> list[str]:
    """Statements and blocks of a language of the C family: step is how far a block stands in, the words open a declaration."""
    pad = pad or step
    out: list[str] = []
    for line in lines:
        if isinstance(line, Statement):
            opening = "" if line.kind == STORE else f"{ {'pair': pair, WIDE: 'const double'}.get(line.kind, number) } "
            out.append(f"{pad}{opening}{line.name} = {line.right};")
            continue
        if isinstance(line, Loop):
            word = line.counter
            out.append(
                f"{pad}for (int {word} = {line.start}; {word} < {line.stop}; {word}{'++' if line.step == 1 else f' += {line.step}'}) {{"
            )
            out += [*in_braces(line.statements, step, number, pair, variable, pad + step), f"{pad}}}"]
            continue
        out.append(f"{pad}{variable} {line.name};")
        for k, branch in enumerate(line.branches):
            opening = f"if ({branch.condition}) {{" if branch.condition else "{"
            out.append(f"{pad}}} else {opening}" if k else f"{pad}{opening}")
            out += in_braces(branch.statements, step, number, pair, variable, pad + step)
            out.append(f"{pad}{step}{line.name} = {branch.right};")
        out.append(f"{pad}}}")
    return out
