"""Airy functions and their derivatives, the solutions of y'' = x*y.

Source: DLMF 9.2 (definitions, values at 0, and Wronskian).
"""

from __future__ import annotations

from collections.abc import Callable

from gelvo.expression.building import number
from gelvo.expression.constants import ZERO
from gelvo.expression.registry import Function, register
from gelvo.functions.support import Expression, FunctionName, mpq, nowhere, real_if_real

airyai, airybi, airyai_prime, airybi_prime = (FunctionName(n) for n in ("airyai", "airybi", "airyai_prime", "airybi_prime"))
gamma = FunctionName("gamma")


def _at_zero(power: mpq, place: mpq, sign: int) -> Callable[[Expression], Expression | None]:
    """At 0: a power of 3 over a value of the gamma function (DLMF 9.2.3 to 9.2.6)."""
    return lambda x: sign / (number(3) ** number(power) * gamma(number(place))) if x is ZERO else None


THIRD = mpq(1, 3)
register(
    Function(
        name="airyai", about="Airy's function that falls off for large arguments.", example=("x", "airyai(x)"), at=_at_zero(2 * THIRD, 2 * THIRD, 1), known=real_if_real,
        derivative=lambda x: airyai_prime(x), breaks=nowhere, agreed="airyai", latex=r"\operatorname{Ai}", source="DLMF 9.2",
    )
)  # fmt: skip
register(
    Function(
        name="airybi", about="Airy's function that grows for large arguments.", example=("x", "airybi(x)"), at=_at_zero(THIRD / 2, 2 * THIRD, 1), known=real_if_real,
        derivative=lambda x: airybi_prime(x), breaks=nowhere, agreed="airybi", latex=r"\operatorname{Bi}", source="DLMF 9.2",
    )
)  # fmt: skip
register(
    Function(
        name="airyai_prime", about="The derivative of airyai.", example=("x", "airyai_prime(x)"), at=_at_zero(THIRD, THIRD, -1), known=real_if_real,
        derivative=lambda x: x * airyai(x), breaks=nowhere, agreed=("airyai", 1), latex=r"\operatorname{Ai}'", source="DLMF 9.2",
    )
)  # fmt: skip
register(
    Function(
        name="airybi_prime", about="The derivative of airybi.", example=("x", "airybi_prime(x)"), at=_at_zero(-THIRD / 2, THIRD, 1), known=real_if_real,
        derivative=lambda x: x * airybi(x), breaks=nowhere, agreed=("airybi", 1), latex=r"\operatorname{Bi}'", source="DLMF 9.2",
    )
)  # fmt: skip
