"""Results that their own cross-check refuted: none of them leaves, and the tests count them.

Only the last few are kept, as text, so that nothing of a long run stays alive through them.
"""

from __future__ import annotations

from collections import deque

MOST_KEPT, LONGEST = 50, 400
REFUTED: deque[str] = deque(maxlen=MOST_KEPT)


def note_refuted(what: str, asked: object, found: object) -> None:
    """Keeps what was asked and what a method gave for it."""
    REFUTED.append(f"{what} of {asked}: {found}"[:LONGEST])
