"""Loading what stays to the end of the process."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from contextlib import contextmanager


@contextmanager
def to_stay() -> Iterator[None]:
    """Nothing that is loaded inside is searched for garbage, then or later: that would take a quarter of the time of a short run."""
    was_collecting = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        gc.freeze()
        if was_collecting:
            gc.enable()
