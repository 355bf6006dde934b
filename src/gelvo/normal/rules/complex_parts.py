"""Real and imaginary parts of what has a rule for them."""

from __future__ import annotations

from gelvo.errors import DomainError
from gelvo.expression.constants import IMAGINARY
from gelvo.expression.nodes import Expression
from gelvo.functions.named import CONJ, IM, RE
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.normal.rules.table import Work, rule


def _part(work: Work, kind: str, place: int, u: Expression) -> Expression:
    try:
        return work.prepared(real_and_imaginary(u, work.facts)[place])
    except DomainError:  # by the conjugate
        return work.prepared((u + CONJ(u)) / 2 if kind == RE else (u - CONJ(u)) / (2 * IMAGINARY))


rule(RE)(lambda work, u: _part(work, RE, 0, u))
rule(IM)(lambda work, u: _part(work, IM, 1, u))
