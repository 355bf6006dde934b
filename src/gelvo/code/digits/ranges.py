"""`ranges={"x": (0, 10)}`: where code will run, as a person states it."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from gelvo.code.digits.points import Ends
from gelvo.errors import DomainError
from gelvo.evaluation.value import value
from gelvo.expression.nodes import Bound, Name
from gelvo.operations.inputs import one_expression, take


def ends_stated(ranges: Mapping[object, tuple[object, object]], inputs: Sequence[Name]) -> dict[Name, Ends]:
    """The lowest and the highest number of each input that a range names; DomainError where there is none."""
    names = {n.name: n for n in inputs}
    found: dict[Name, Ends] = {}
    for key, ends in ranges.items():
        name = names.get(getattr(key, "name", None) or str(key))
        if name is None:
            raise DomainError(f"ranges names {key}, which is not among the inputs {', '.join(names)}")
        if not isinstance(ends, (tuple, list)) or len(ends) != 2:
            raise DomainError(f"the range of {name} is a pair (lowest, highest), not {ends!r}")
        low, high = (_number(end, name) for end in ends)
        if not low <= high:
            raise DomainError(f"the range of {name} ends at {high:g}, below its start {low:g}")
        found[name] = (low, high)
    return found


def _number(end: object, name: Name) -> float:
    if isinstance(end, (int, float)):
        return float(end)
    e = one_expression(take(end).values[0])
    if isinstance(e, Bound) and e.kind in ("inf", "-inf"):
        return math.inf if e.kind == "inf" else -math.inf
    try:
        return float(value(e, 17))
    except DomainError:
        raise DomainError(f"an end of the range of {name} is a number, and {e} is none") from None
