"""Airy functions and their derivatives, the solutions of y'' = x*y.

Source: DLMF 9.2 (definitions, values at 0, and Wronskian).
"""

from __future__ import annotations

from collections.abc import Callable

from gelvo.expression.building import number
from gelvo.expression.constants import ZERO
from gelvo.expression.registry import Function, register
from gelvo.functions.entire import (
    AIRY_EVEN,
    AIRY_EVEN_SLOPE,
    AIRY_ODD,
    AIRY_ODD_SLOPE,
    Row,
    airy_share,
    by_rows,
    of_airy_functions,
    within,
)
from gelvo.functions.support import Arithmetic, Box, Expression, FunctionName, mpq, nowhere, real_if_real

airyai, airybi, airyai_prime, airybi_prime = (FunctionName(n) for n in ("airyai", "airybi", "airyai_prime", "airybi_prime"))
gamma = FunctionName("gamma")


def _at_zero(power: mpq, place: mpq, sign: int) -> Callable[[Expression], Expression | None]:
    """At 0: a power of 3 over a value of the gamma function (DLMF 9.2.3 to 9.2.6)."""
    return lambda x: sign / (number(3) ** number(power) * gamma(number(place))) if x is ZERO else None


THIRD = mpq(1, 3)


def _bounds(name: str, even: Row, odd: Row) -> Callable[[Arithmetic, Box], Box]:
    """Both solutions of y'' = x*y by their power series, with the values at 0 of the function and of its derivative."""
    falling = name.startswith("airyai")
    at, slope = ((2 * THIRD, 1), (THIRD, -1)) if falling else ((THIRD / 2, 1), (-THIRD / 2, 1))
    return by_rows(
        name,
        [(airy_share(at[0], 2 * THIRD, at[1]), even), (airy_share(slope[0], THIRD, slope[1]), odd)],
        within(of_airy_functions),
    )


register(
    Function(
        name="airyai", about="Airy's function that falls off for large arguments.", example=("x", "airyai(x)"), at=_at_zero(2 * THIRD, 2 * THIRD, 1), known=real_if_real,
        derivative=lambda x: airyai_prime(x), bounds=_bounds("airyai", AIRY_EVEN, AIRY_ODD), breaks=nowhere, agreed="airyai", latex=r"\operatorname{Ai}", source="DLMF 9.2",
    )
)  # fmt: skip
register(
    Function(
        name="airybi", about="Airy's function that grows for large arguments.", example=("x", "airybi(x)"), at=_at_zero(THIRD / 2, 2 * THIRD, 1), known=real_if_real,
        derivative=lambda x: airybi_prime(x), bounds=_bounds("airybi", AIRY_EVEN, AIRY_ODD), breaks=nowhere, agreed="airybi", latex=r"\operatorname{Bi}", source="DLMF 9.2",
    )
)  # fmt: skip
register(
    Function(
        name="airyai_prime", about="The derivative of airyai.", example=("x", "airyai_prime(x)"), at=_at_zero(THIRD, THIRD, -1), known=real_if_real,
        derivative=lambda x: x * airyai(x), bounds=_bounds("airyai_prime", AIRY_EVEN_SLOPE, AIRY_ODD_SLOPE), breaks=nowhere, agreed=("airyai", 1), latex=r"\operatorname{Ai}'", source="DLMF 9.2",
    )
)  # fmt: skip
register(
    Function(
        name="airybi_prime", about="The derivative of airybi.", example=("x", "airybi_prime(x)"), at=_at_zero(-THIRD / 2, THIRD, 1), known=real_if_real,
        derivative=lambda x: x * airybi(x), bounds=_bounds("airybi_prime", AIRY_EVEN_SLOPE, AIRY_ODD_SLOPE), breaks=nowhere, agreed=("airybi", 1), latex=r"\operatorname{Bi}'", source="DLMF 9.2",
    )
)  # fmt: skip
