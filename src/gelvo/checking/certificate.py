"""A certificate: what was claimed, the verdict, how it was looked at, and on what that relies."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from gelvo.expression.building import junction
from gelvo.expression.nodes import Condition

PROVED, SUPPORTED, UNDECIDED, REFUTED = "proved", "supported", "undecided", "refuted"
_ORDER = (REFUTED, UNDECIDED, SUPPORTED, PROVED)


@dataclass(frozen=True)
class Certificate:
    """The result of a check.

    claim: the statement as text; verdict: proved, supported, undecided or refuted; method: how, in a sentence;
    evidence: what was found (a residual, a point, a numeric cross-check); conditions: under which it holds;
    relies_on: the parts of the library that both the result and the check use.
    """

    claim: str
    verdict: str
    method: str
    evidence: Mapping[str, Any] = field(default_factory=dict)
    conditions: tuple[Condition, ...] = ()
    relies_on: tuple[str, ...] = ("expression building", "polynomial arithmetic", "bounded evaluation")
    parts: tuple[Certificate, ...] = ()

    def to_dict(self) -> dict[str, Any]:
        """Plain data, as in certificates.json."""
        return {
            "claim": self.claim,
            "verdict": self.verdict,
            "method": self.method,
            "evidence": {k: str(v) for k, v in self.evidence.items()},
            "conditions": [str(c) for c in self.conditions],
            "relies_on": list(self.relies_on),
            "parts": [p.to_dict() for p in self.parts],
        }

    def __str__(self) -> str:
        lines = [f"{self.verdict}: {self.claim}", f"  {self.method}"]
        lines += [f"  {k}: {v}" for k, v in self.evidence.items()]
        if self.conditions:
            lines.append(f"  if {junction('and', self.conditions)}")
        return "\n".join(lines)

    def _repr_mimebundle_(self, include: object = None, exclude: object = None) -> dict[str, str]:
        return {"text/plain": str(self)}


def weakest(certificates: tuple[Certificate, ...]) -> str:
    """The verdict of claims that must all hold."""
    return min((c.verdict for c in certificates), key=_ORDER.index, default=UNDECIDED)
