"""Functions that swing for ever: bounds and values along two sequences."""

from __future__ import annotations

from gmpy2 import lcm, mpq

from gelvo.calculus.far_out import limit_at_infinity
from gelvo.calculus.found import Found
from gelvo.deciding.equality import surely_differ
from gelvo.errors import DomainError
from gelvo.expression.building import call, constant, number, weighted_terms
from gelvo.expression.constants import UNDEFINED
from gelvo.expression.nodes import Bound, Call, Expression, Name, Number
from gelvo.expression.traversal import contains, has_call, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.functions.named import CEIL, FLOOR, HEAVISIDE, SIGN
from gelvo.simplifying.families.waves import CIRCULAR


def oscillation(e: Expression, x: Name, facts: Facts) -> Found | None:
    """No limit where two phases of the waves, which both come back for ever, lead to different ends."""
    phases = _common_phase(e, x, facts)
    if phases is None:
        return None
    seen: list[tuple[Expression, Expression]] = []
    for phase in PHASES:
        try:
            inside = substitute(e, {w: call(w.name, k * phase + rest) for w, (k, rest) in phases.items()})
            end = limit_at_infinity(inside, x, facts)
        except DomainError:
            continue
        if end is None or end is UNDEFINED:
            continue
        for other, before in seen:
            if surely_differ(before, end, facts):
                return Found(UNDEFINED, road=f"the waves oscillate: {before} at the phase {other}, {end} at {phase}")
        seen.append((phase, end))
    return None


PHASES = tuple(constant("pi") * mpq(k, 4) for k in (0, 2, 4, 6, 1, 3))


ROUGH = (FLOOR, CEIL, SIGN, HEAVISIDE)  # their values jump over phases


def _common_phase(e: Expression, x: Name, facts: Facts) -> dict[Call, tuple[Expression, Expression]] | None:
    """Each wave far out as wave(k*p + rest), with one phase p that grows without bound and whole numbers k; None where there is none."""
    waves = [n for n in postorder(e) if isinstance(n, Call) and n.name in CIRCULAR and contains(n, x)]
    waves = [w for w in waves if isinstance(limit_at_infinity(w.arguments[0], x, facts), Bound)]
    if not waves:
        return None
    first = expand(waves[0].arguments[0])
    if has_call(first, ROUGH):
        return None
    term, coefficient = next((t, c) for t, c in weighted_terms(first) if contains(t, x))
    found: dict[Call, tuple[mpq, Expression]] = {}
    for wave in waves:
        ratio = number(dict(weighted_terms(expand(wave.arguments[0]))).get(term, mpq(0))) / number(coefficient)
        rest = expand(wave.arguments[0] - ratio * first)
        if contains(rest, x) or not isinstance(ratio, Number) or not ratio.is_rational:
            return None
        found[wave] = ratio.rational, rest
    common = lcm(*[k.denominator for k, _ in found.values()])
    return {w: (number(k * common), rest) for w, (k, rest) in found.items()}
