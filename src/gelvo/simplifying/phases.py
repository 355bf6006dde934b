"""Sums of sines and cosines of one frequency as one wave with an amplitude and a phase."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, number, scale, split_coefficient, sqrt, total
from gelvo.expression.nodes import Call, Expression, Name, Number, Product
from gelvo.expression.traversal import contains
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.forms.univariate import linear_parts
from gelvo.functions.named import ATAN2, COS, SIN, is_a
from gelvo.simplifying.search import simplify


def _parts(term: Expression, variable: Name) -> tuple[Expression, Expression, Expression] | None:
    """The speed of a wave, and what stands before the cosine and the sine of speed*variable; None for other terms."""
    wave, factor = _split(term, variable)
    parts = linear_parts(wave.arguments[0], variable) if wave is not None else None
    if wave is None or parts is None or contains(factor, variable):
        return None
    speed, start = parts
    sign = 1
    if split_coefficient(speed)[1].real < 0:
        speed, start, sign = -speed, -start, -1
    cosine, sine = COS(start), SIN(start)
    if is_a(wave, COS):  # cos(w*t + c) = cos(c)*cos(w*t) - sin(c)*sin(w*t)
        return speed, factor * cosine, -factor * sine
    return speed, sign * factor * sine, sign * factor * cosine


def amplitude_phase(expression: Expression, variable: Name) -> Expression:
    """a*cos(w*t) + b*sin(w*t) as sqrt(a^2 + b^2)*cos(w*t - atan2(b, a)), for real a and b that are not both zero.

    >>> from gelvo.expression.building import name
    >>> t = name("t")
    >>> print(amplitude_phase(3*COS(2*t) + 4*SIN(2*t), t))
    5*cos(2*t - atan(4/3))
    """
    groups: dict[Expression, list[tuple[Expression, Expression, Expression]]] = {}
    rest: list[Expression] = []
    for term in terms_of(expand(expression)):
        parts = _parts(term, variable)
        if parts is None:
            rest.append(term)
        else:
            groups.setdefault(parts[0], []).append((parts[1], parts[2], term))
    for speed, found in groups.items():
        a, b = (total([f[k] for f in found]) for k in (0, 1))
        if (isinstance(a, Number) and not a.value) or (isinstance(b, Number) and not b.value):
            rest.extend(f[2] for f in found)
            continue
        complex_one = next((c for c in (a, b) if not Facts().is_real(c)), None)
        if complex_one is not None:
            raise DomainError(f"an amplitude needs real coefficients, and {complex_one} is not known to be real")
        a, b = simplify(a).expression, simplify(b).expression
        size = simplify(sqrt(expand(a * a + b * b))).expression
        rest.append(size * COS(speed * variable - ATAN2(b, a)))
    return total(rest)


def _split(term: Expression, variable: Name) -> tuple[Call | None, Expression]:
    factors = [number(term.coefficient), *term.factors] if isinstance(term, Product) else [term]
    waves = [f for f in factors if is_a(f, SIN, COS) and contains(f, variable)]
    if len(waves) != 1:
        return None, term
    wave = waves[0]
    others = [f for f in factors if f is not wave]
    return wave, multiply_all(others) if others else scale(number(1), mpq(1))
