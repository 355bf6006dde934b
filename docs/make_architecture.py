"""Draws docs/architecture.svg from the imports: every file a box, every folder a storey, arrows down only.

Run it after files were added or moved; tests/test_architecture.py says when the picture is no longer true.
"""

from __future__ import annotations

import ast
from collections import defaultdict
from functools import cache
from pathlib import Path
from xml.sax.saxutils import escape

ROOT = Path(__file__).resolve().parents[1]
SOURCE = ROOT / "src" / "gelvo"
PICTURE = ROOT / "docs" / "architecture.svg"
GENERATED = {"_formula_parser"}

Graph = dict[str, set[str]]


@cache
def files() -> dict[str, Path]:
    """Every module by its name inside the package; a folder's own file bears the folder's name."""
    found = {}
    for path in sorted(SOURCE.rglob("*.py")):
        parts = path.relative_to(SOURCE).with_suffix("").parts
        if parts[-1] not in GENERATED:
            found[".".join(parts[:-1] if parts[-1] == "__init__" else parts)] = path
    return found


@cache
def nodes() -> dict[str, list[ast.AST]]:
    """All parts of each module's syntax tree."""
    return {module: list(ast.walk(ast.parse(path.read_text(encoding="utf-8")))) for module, path in files().items()}


@cache
def imports() -> Graph:
    """What each module imports, wherever the statement stands: at the top, in a function, or for types only."""
    found = files()
    graph: Graph = {}
    for module, parts in nodes().items():
        targets: set[str] = set()
        for node in parts:
            if isinstance(node, ast.Import):
                targets.update(a.name.removeprefix("gelvo.") for a in node.names if a.name.startswith("gelvo."))
            elif isinstance(node, ast.ImportFrom) and node.module and node.module.split(".")[0] == "gelvo":
                base = node.module.removeprefix("gelvo").lstrip(".")
                inner = {f"{base}.{a.name}".lstrip(".") for a in node.names}
                targets.update(t if t in found else base for t in inner)
        graph[module] = {t for t in targets if t in found and t not in ("", module)}
    return graph


def circles(graph: Graph) -> list[list[str]]:
    """Groups of nodes that reach each other (R. Tarjan, "Depth-first search and linear graph algorithms", 1972)."""
    number: dict[str, int] = {}
    low: dict[str, int] = {}
    open_ones: list[str] = []
    found: list[list[str]] = []

    def visit(node: str) -> None:
        number[node] = low[node] = len(number)
        open_ones.append(node)
        for target in sorted(graph[node]):
            if target not in number:
                visit(target)
                low[node] = min(low[node], low[target])
            elif target in open_ones:
                low[node] = min(low[node], number[target])
        if low[node] == number[node]:
            group = open_ones[open_ones.index(node) :]
            del open_ones[open_ones.index(node) :]
            if len(group) > 1:
                found.append(sorted(group))

    for node in sorted(graph):
        if node not in number:
            visit(node)
    return found


def storey_of(module: str) -> str:
    """The folder of the package in which a module stands, or the module itself where it stands alone."""
    return module.split(".")[0]


def storeys(graph: Graph) -> Graph:
    """The imports between folders."""
    between: Graph = defaultdict(set)
    for module, targets in graph.items():
        if module:
            between[storey_of(module)] |= {storey_of(t) for t in targets} - {storey_of(module)}
    return dict(between)


def levels(graph: Graph) -> dict[str, int]:
    """How far above the lowest each node stands: one more than the highest of what it imports."""
    done: dict[str, int] = {}
    waiting = sorted(graph)
    while waiting:
        ready = [n for n in waiting if all(t in done for t in graph[n])]
        if not ready:
            raise ValueError(f"a circle of imports: {circles(graph)}")
        done.update({n: 1 + max((done[t] for t in graph[n]), default=-1) for n in ready})
        waiting = [n for n in waiting if n not in done]
    return done


def reduced(graph: Graph) -> Graph:
    """The arrows without those that follow from others."""
    reach: Graph = {}
    for node in sorted(graph, key=levels(graph).__getitem__):
        reach[node] = set(graph[node]).union(*(reach[t] for t in graph[node]))
    return {n: {t for t in ts if not any(t in reach[o] for o in ts if o != t)} for n, ts in graph.items()}


BOX_WIDTH, BOX_HEIGHT, GAP, LEFT, WIDE = 140, 18, 8, 120, 9  # WIDE: boxes side by side before a row is broken
GUTTER, LANE = 215, 12  # where the arrows between folders run
STYLE = (
    ".storey{fill:#f4f6f9;stroke:#c5cedb}.file{fill:#fff;stroke:#7a8ca5}.label{font:10px sans-serif;fill:#1d2733}"
    ".name{font:bold 13px sans-serif;fill:#33445c}.inner{stroke:#9fb0c6;fill:none}.outer{stroke:#3d5a80;fill:none}"
)
TIP = (
    '<marker id="tip" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="7" markerHeight="7" orient="auto">'
    '<path d="M0 0L8 4L0 8z" fill="#3d5a80"/></marker>'
)


def inside(graph: Graph, storey: str, found: dict[str, Path]) -> Graph:
    """The imports among the files of one folder; a folder's own empty file is left out."""
    own = {m for m in graph if m and storey_of(m) == storey and (found[m].stem != "__init__" or graph[m])}
    return {m: graph[m] & own for m in own}


def boxes(own: Graph, top: float) -> tuple[dict[str, tuple[float, float]], float]:
    """Where the files of one folder stand, those that import others above them, and where the folder ends."""
    place: dict[str, tuple[float, float]] = {}
    level = levels(own)
    for step in sorted(set(level.values()), reverse=True):
        line = sorted(m for m in own if level[m] == step)
        for start in range(0, len(line), WIDE):
            place.update({m: (LEFT + k * (BOX_WIDTH + GAP), top + 6) for k, m in enumerate(line[start : start + WIDE])})
            top += BOX_HEIGHT + GAP
        top += 6
    return place, top


def gutter(between: Graph, middle: dict[str, float], right: float) -> list[str]:
    """The arrows between folders beside them, each in the first lane that is free there."""
    rows: list[str] = []
    busy: list[float] = []
    for start, end in sorted((middle[a], middle[b]) for a, targets in reduced(between).items() for b in targets):
        lane = next((k for k, until in enumerate(busy) if until < start - 4), len(busy))
        busy[lane : lane + 1] = [end]
        x = right + (lane + 1) * LANE
        rows.append(f'<path d="M{right:g} {start:g} H{x:g} V{end:g} H{right:g}" class="outer" marker-end="url(#tip)"/>')
    return rows


def drawing() -> str:
    """The picture as SVG."""
    found, graph = files(), imports()
    between = storeys(graph)
    height = levels(between)
    right = LEFT + WIDE * (BOX_WIDTH + GAP)
    rows: list[str] = []
    middle: dict[str, float] = {}
    y = 10.0
    for storey in sorted(between, key=lambda s: (-height[s], s)):
        own = inside(graph, storey, found)
        place, end = boxes(own, y)
        middle[storey] = (y + end) / 2
        rows.append(f'<rect x="10" y="{y:g}" width="{right - 10}" height="{end - y:g}" rx="6" class="storey"/>')
        rows.append(f'<text x="20" y="{y + 19:g}" class="name">{escape(storey)}</text>')
        for a, targets in sorted(reduced(own).items()):
            for (x1, y1), (x2, y2) in sorted((place[a], place[b]) for b in targets):
                rows.append(
                    f'<path d="M{x1 + BOX_WIDTH / 2:g} {y1 + BOX_HEIGHT:g} L{x2 + BOX_WIDTH / 2:g} {y2:g}" class="inner"/>'
                )
        for member, (x, top) in sorted(place.items()):
            label = (member.partition(".")[2] or member).rpartition("antiderivative.")[2]
            rows.append(f'<rect x="{x:g}" y="{top:g}" width="{BOX_WIDTH}" height="{BOX_HEIGHT}" rx="3" class="file"/>')
            rows.append(f'<text x="{x + 5:g}" y="{top + 13:g}" class="label">{escape(label)}</text>')
        y = end + 10
    rows += gutter(between, middle, right)
    size = f'width="{right + GUTTER}" height="{y:g}" viewBox="0 0 {right + GUTTER} {y:g}"'
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" {size}>\n<defs><style>{STYLE}</style>{TIP}</defs>\n'
        + "\n".join(rows)
        + "\n</svg>\n"
    )


if __name__ == "__main__":
    PICTURE.write_text(drawing(), encoding="utf-8")
