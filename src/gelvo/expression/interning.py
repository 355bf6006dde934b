"""The table of live nodes: one object for one structure, held weakly, so that memory is given back."""

from __future__ import annotations

import threading
import weakref
from collections import deque
from collections.abc import Callable
from typing import TypeVar, cast

from gelvo.deadline import checkpoint
from gelvo.expression.nodes import Node

N = TypeVar("N", bound=Node)

Key = tuple[object, ...]


class _Reference(weakref.ref[Node]):
    __slots__ = ("key",)
    key: Key


_live: dict[Key, _Reference] = {}
_lock = threading.Lock()  # every change of the table happens under it
# References whose nodes are gone, while the table still has their keys. The garbage collector appends to it at any moment, in any
# thread, even one that holds the lock: a plain append runs no statement of ours, so nothing can stop it half way.
_dead: deque[_Reference] = deque()


def _sweep() -> None:
    """Takes the keys of dead nodes out of the table, under the lock; what dies through that is swept in the same loop."""
    while _dead:
        reference = _dead.popleft()
        if _live.get(reference.key) is reference:  # else a new node of that structure has taken the place
            del _live[reference.key]
        del reference  # the key that it holds keeps the parts alive: they die here, and the loop goes on with them


def live_nodes() -> int:
    """How many distinct nodes are alive now."""
    with _lock:
        _sweep()
        return len(_live)


def _find(key: Key) -> Node | None:
    """The live node of a structure, or None."""
    reference = _live.get(key)
    return None if reference is None else reference()


def _keep(key: Key, node: Node) -> Node:
    """Enters a new node, unless another thread was faster: the one node of that structure comes back.

    Whatever builds a formula comes through here, so a limit of time is asked for here.
    """
    checkpoint()
    deepest = -1
    for child in node.children:
        if child.depth > deepest:
            deepest = child.depth
    node.depth = deepest + 1
    reference = _Reference(node, _dead.append)
    reference.key = key
    with _lock:
        present = _find(key)
        if present is not None:
            return present
        _live[key] = reference
        if _dead:
            _sweep()
    return node


def interned(kind: type[N], parts: tuple[object, ...], known: int | Callable[[N], int]) -> N:
    """The one live node of a kind with these parts, made where there is none.

    parts: in the order of `kind.fields`; known: what is known of the value, or a function that tells it of the new node.
    """
    key = (kind, *parts)  # one tuple: there are as many keys as nodes
    reference = _live.get(key)
    node = None if reference is None else reference()
    if node is None:
        made = object.__new__(kind)
        for field, part in zip(made.fields, parts, strict=True):
            setattr(made, field, part)
        made.known = known if isinstance(known, int) else known(made)
        node = _keep(key, made)
    return cast(N, node)
