"""What rewriting may ask of facts without knowing how they are kept."""

from __future__ import annotations

from typing import Protocol

from gelvo.expression.nodes import Expression


class Asked(Protocol):
    """Whether values are known to be real, or whole."""

    def is_real(self, expression: Expression) -> bool: ...

    def is_integer(self, expression: Expression) -> bool: ...
