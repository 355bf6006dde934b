"""Airy functions and their derivatives, the solutions of y'' = x*y.

Source: DLMF 9.2 (definitions and Wronskian).
"""

from __future__ import annotations

from gelvo.expression.registry import Function, register
from gelvo.functions.support import FunctionName, nowhere, real_if_real

airyai, airybi, airyai_prime, airybi_prime = (FunctionName(n) for n in ("airyai", "airybi", "airyai_prime", "airybi_prime"))

register(
    Function(
        name="airyai", about="Airy's function that falls off for large arguments.", example=("x", "airyai(x)"), known=real_if_real,
        derivative=lambda x: airyai_prime(x), breaks=nowhere, agreed="airyai", latex=r"\operatorname{Ai}", source="DLMF 9.2",
    )
)  # fmt: skip
register(
    Function(
        name="airybi", about="Airy's function that grows for large arguments.", example=("x", "airybi(x)"), known=real_if_real,
        derivative=lambda x: airybi_prime(x), breaks=nowhere, agreed="airybi", latex=r"\operatorname{Bi}", source="DLMF 9.2",
    )
)  # fmt: skip
register(
    Function(
        name="airyai_prime", about="The derivative of airyai.", example=("x", "airyai_prime(x)"), known=real_if_real,
        derivative=lambda x: x * airyai(x), breaks=nowhere, agreed=("airyai", 1), latex=r"\operatorname{Ai}'", source="DLMF 9.2",
    )
)  # fmt: skip
register(
    Function(
        name="airybi_prime", about="The derivative of airybi.", example=("x", "airybi_prime(x)"), known=real_if_real,
        derivative=lambda x: x * airybi(x), breaks=nowhere, agreed=("airybi", 1), latex=r"\operatorname{Bi}'", source="DLMF 9.2",
    )
)  # fmt: skip
