"""What a statement gives: something to show, its conditions, its certificate, files and figures."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from gelvo.checking.certificate import Certificate
from gelvo.expression.nodes import Condition


@dataclass
class Result:
    """One carried-out statement.

    kind: title, prose, section, given, unknown, let, step, check, plot, export or fault; shown: (name or "", thing) pairs to
    typeset; note: a plain sentence; steps: the rewritings one after the other; value: what a name
    stands for, where that is not the last thing shown; expected_refuted: for `check not`.
    """

    kind: str
    statement: str
    number: int
    shown: list[tuple[str, Any]] = field(default_factory=list)
    note: str = ""
    conditions: tuple[Condition, ...] = ()
    certificate: Certificate | None = None
    expected_refuted: bool = False
    reason: str = ""
    road: str = ""
    figure: Any = None
    files: list[tuple[str, str]] = field(default_factory=list)
    details: list[str] = field(default_factory=list)
    steps: tuple[Any, ...] = ()
    value: Any = None

    @property
    def verdict(self) -> str:
        """proved, supported, undecided, refuted, or refuted as expected; empty where nothing was claimed."""
        if self.certificate is None:
            return ""
        if self.expected_refuted and self.certificate.verdict == "refuted":
            return "refuted as expected"
        return self.certificate.verdict

    @property
    def failed(self) -> bool:
        """Whether a check did not come out as the file says."""
        if self.certificate is None:
            return False
        if self.kind not in ("check", "export"):
            return self.certificate.verdict == "refuted"
        if self.expected_refuted:
            return self.certificate.verdict != "refuted"
        return self.certificate.verdict in ("refuted", "undecided")
