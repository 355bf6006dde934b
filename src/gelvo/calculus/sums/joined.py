"""Sums put together from parts."""

from __future__ import annotations

from gelvo.calculus.found import Found
from gelvo.expression.building import total
from gelvo.expression.constants import UNDEFINED
from gelvo.expression.nodes import Bound


def joined(parts: list[Found]) -> Found:
    conditions = dict.fromkeys(c for p in parts for c in p.conditions)
    roads = dict.fromkeys(p.road for p in parts)
    infinite = [p.value for p in parts if isinstance(p.value, Bound)]
    if len(set(infinite)) > 1:
        return Found(UNDEFINED, tuple(conditions), "; ".join(roads))
    return Found(infinite[0] if infinite else total([p.value for p in parts]), tuple(conditions), "; ".join(roads))
