"""A certificate: what was claimed, the verdict, how it was looked at, and on what that relies."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from gelvo.deciding.suppositions import supposing_nothing
from gelvo.expression.building import junction
from gelvo.expression.nodes import Condition
from gelvo.roads import noted

PROVED, SUPPORTED, UNDECIDED, REFUTED = "proved", "supported", "undecided", "refuted"
_ORDER = (REFUTED, UNDECIDED, SUPPORTED, PROVED)
FOUNDATIONS = ("expression building", "polynomial arithmetic", "bounded evaluation")
SHARED = ("normal form", "rules of differentiation", "quadrature (QUADPACK)")  # tools of many methods, no road by themselves


@dataclass(frozen=True)
class Certificate:
    """The result of a check.

    claim: the statement as text; verdict: proved, supported, undecided or refuted; method: how, in a sentence;
    evidence: what was found (a residual, a point, a numeric cross-check); conditions: under which it holds;
    relies_on: what this check used: the foundations of the whole library, and the methods that it went through.
    """

    claim: str
    verdict: str
    method: str
    evidence: Mapping[str, Any] = field(default_factory=dict)
    conditions: tuple[Condition, ...] = ()
    relies_on: tuple[str, ...] = FOUNDATIONS
    parts: tuple[Certificate, ...] = ()

    def to_dict(self) -> dict[str, object]:
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


def on_its_own_road(check: Callable[[], Certificate], by_result: Iterable[str] = ()) -> Certificate:
    """The certificate of a check with what it relied on; where it went the road of the result, it is supported at most."""
    with noted() as taken, supposing_nothing():
        certificate = check()
    used = tuple(dict.fromkeys((*FOUNDATIONS, *taken)))
    same = [name for name in taken if name in set(by_result) and name not in SHARED]
    if not same or certificate.verdict != PROVED:
        return replace(certificate, relies_on=used)
    evidence = {**certificate.evidence, "the same road as the result": ", ".join(same)}
    return replace(certificate, verdict=SUPPORTED, evidence=evidence, relies_on=used)


def weakest(certificates: tuple[Certificate, ...]) -> str:
    """The verdict of claims that must all hold."""
    return min((c.verdict for c in certificates), key=_ORDER.index, default=UNDECIDED)
