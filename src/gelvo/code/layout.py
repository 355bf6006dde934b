"""How a function takes its inputs and gives its outputs: numbers, vectors, matrices, and structures of those.

Formulas are worked out one number at a time; a layout says which numbers travel together, and what they are called there. Every
target writes the same layout in its own words.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Mapping, Sequence
from typing import NamedTuple, TypeVar

from gelvo.errors import ExportError
from gelvo.expression.nodes import Name
from gelvo.matrices.matrix import Matrix

T = TypeVar("T")
NUMBER, VECTOR, STRUCTURE = "number", "vector", "structure"
PARAMETERS = "parameters"


def parameters_type(name: str) -> str:
    """What a structure of parameters is named after a function, or after what several functions belong to."""
    return f"{name}_parameters"


class Group(NamedTuple):
    """Inputs that travel together under a name of their own: one number, a vector, or the structure of the parameters."""

    name: str
    kind: str
    members: tuple[str, ...]


class Output(NamedTuple):
    """One output: a number where the shape is (), a vector (n,), or a matrix (rows, columns)."""

    name: str
    shape: tuple[int, ...] = ()

    @property
    def places(self) -> list[tuple[int, ...]]:
        """The indices of its numbers, row by row."""
        return list(itertools.product(*map(range, self.shape)))


class Layout(NamedTuple):
    """The groups of the inputs and the outputs, each in order; shared: what the structure of the parameters is named after where several
    functions have the same."""

    groups: tuple[Group, ...]
    outputs: tuple[Output, ...]
    shared: str = ""

    @property
    def is_plain(self) -> bool:
        """Whether there are numbers alone."""
        return all(g.kind == NUMBER for g in self.groups) and not any(o.shape for o in self.outputs)

    @property
    def is_number(self) -> bool:
        """Whether there is one output, and that a number."""
        return len(self.outputs) == 1 and not self.outputs[0].shape

    def parameters_type(self, name: str) -> str:
        """What the structure of the parameters of a function is called."""
        return parameters_type(self.shared or name)

    def starts(self) -> Iterator[tuple[int, Group]]:
        """Each group with the place of its first member among all inputs."""
        place = 0
        for group in self.groups:
            yield place, group
            place += len(group.members)

    def group_of(self, kind: str) -> Group | None:
        """The first group of a kind."""
        return next((g for g in self.groups if g.kind == kind), None)


def plain_layout(inputs: Sequence[Name], outputs: Mapping[str, object]) -> Layout:
    """Numbers in, numbers out."""
    return Layout(tuple(Group(n.name, NUMBER, (n.name,)) for n in inputs), tuple(Output(k) for k in outputs))


def inputs_stated(inputs: object, parameters: object) -> tuple[list[object], list[tuple[str, str, int]]]:
    """(all inputs in order, (name, kind, how many) of each group) of what a person stated.

    inputs: names, and {name: names} for a vector; parameters: names that travel as one structure.
    """
    listed = list(inputs) if isinstance(inputs, (list, tuple)) else [inputs]
    names: list[object] = []
    groups: list[tuple[str, str, int]] = []
    for item in listed:
        if not isinstance(item, Mapping):
            names.append(item)
            groups.append(("", NUMBER, 1))
            continue
        for name, members in item.items():
            own = list(members.flat() if isinstance(members, Matrix) else members) if not isinstance(members, str) else [members]
            if not own:
                raise ExportError(f"the vector {name} has no members: write {{{name!r}: [names]}}")
            names += own
            groups.append((str(name), VECTOR, len(own)))
    own = list(parameters) if isinstance(parameters, (list, tuple)) else [parameters] if parameters else []
    if own:
        names += own
        groups.append((PARAMETERS, STRUCTURE, len(own)))
    return names, groups


def layout_of(
    inputs: Sequence[Name], groups: Sequence[tuple[str, str, int]], outputs: Sequence[Output], shared: str = ""
) -> Layout:
    """The layout of inputs that were read, of the groups that were stated."""
    names, start, found = [n.name for n in inputs], 0, list[Group]()
    for title, kind, count in groups:
        own = tuple(names[start : start + count])
        found.append(Group(title or own[0], kind, own))
        start += count
    for what, words in (("an input", names), ("a group of inputs", [g.name for g in found])):
        twice = next((w for k, w in enumerate(words) if w in words[:k]), None)
        if twice is not None:
            raise ExportError(f"{twice} is {what} twice: every name is given once")
    return Layout(tuple(found), tuple(outputs), shared)


def outputs_stated(outputs: object, name: str) -> tuple[list[Output], list[object]]:
    """(the outputs, their formulas one after the other): a formula, a vector as a list, a matrix, or {name: one of these}."""
    named = dict(outputs) if isinstance(outputs, Mapping) else {name: outputs}
    if not named:
        raise ExportError("there is no output: give a formula, or {name: formula}")
    found: list[Output] = []
    formulas: list[object] = []
    for key, value in named.items():
        value = getattr(value, "matrix", value)
        if isinstance(value, Matrix):
            rows, columns = value.shape
            found.append(Output(str(key), (rows,) if columns == 1 else (rows, columns)))
            formulas += value.flat()
        elif isinstance(value, (list, tuple)) and value and all(isinstance(row, (list, tuple)) for row in value):
            if len({len(row) for row in value}) != 1 or not value[0]:
                raise ExportError(f"the rows of {key} are not of one length")
            found.append(Output(str(key), (len(value), len(value[0]))))
            formulas += [e for row in value for e in row]
        elif isinstance(value, (list, tuple)):
            if not value:
                raise ExportError(f"the vector {key} has no entries")
            found.append(Output(str(key), (len(value),)))
            formulas += value
        else:
            found.append(Output(str(key)))
            formulas.append(value)
    return found, formulas


def flat_names(outputs: Sequence[Output]) -> list[str]:
    """What each number is called: energy, rates[0], jacobian[0][1].

    >>> flat_names([Output("energy"), Output("rates", (2,))])
    ['energy', 'rates[0]', 'rates[1]']
    """
    return [o.name + "".join(f"[{k}]" for k in place) for o in outputs for place in o.places]


def row(values: Sequence[str]) -> str:
    """A row of a literal.

    >>> row(["a", "b"])
    '[a, b]'
    """
    return f"[{', '.join(values)}]"


def nested(output: Output, values: Sequence[str]) -> str:
    """The numbers of one output as they are nested in a literal."""
    if not output.shape:
        return values[0]
    if len(output.shape) == 1:
        return row(values)
    width = output.shape[1]
    return row([row(values[k : k + width]) for k in range(0, len(values), width)])


def chunks(outputs: Sequence[Output], values: Sequence[T]) -> Iterator[tuple[Output, Sequence[T]]]:
    """Each output with its numbers."""
    start = 0
    for output in outputs:
        count = len(output.places)
        yield output, values[start : start + count]
        start += count


def slices(outputs: Sequence[Output]) -> list[tuple[slice, tuple[int, ...]]]:
    """Where the numbers of each output are among all, and its shape."""
    ends = list(itertools.accumulate((len(o.places) for o in outputs), initial=0))
    return [(slice(a, b), o.shape) for a, b, o in zip(ends, ends[1:], outputs, strict=False)]
