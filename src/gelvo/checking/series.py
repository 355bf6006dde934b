"""Expansions held against the derivatives at the point, or against the rest of the formula beside them."""

from __future__ import annotations

from collections.abc import Mapping
from contextlib import suppress

from gmpy2 import fac, mpq

from gelvo.checking.certificate import PROVED, REFUTED, SUPPORTED, UNDECIDED, Certificate
from gelvo.checking.expansions import expansion_beside
from gelvo.checking.samples import samples
from gelvo.checking.taylor import taylor_coefficients
from gelvo.deciding.equality import decide_zero
from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import enclose
from gelvo.expression.building import number, power, total
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, ZERO
from gelvo.expression.nodes import Bound, Expression, Name, Node, Number
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, substitute, transform
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.functions.named import LN, is_a
from gelvo.numbers.box import Box
from gelvo.numbers.exact import nearest_float
from gelvo.numbers.interval import NoValue

MOST_DERIVATIVES = 12


def _by_derivatives(
    claim: str, f: Expression, x: Name, about: Expression, terms: Mapping[mpq, Expression], through: int, facts: Facts
) -> Certificate | None:
    """Each coefficient held against the derivative at the point; None where one is not decided."""
    slope, proved = f, True
    for k in range(through + 1):
        wanted = terms.get(mpq(k), number(0)) * number(fac(k))
        decision = decide_zero(substitute(slope, {x: about}) - wanted, facts)
        if decision.zero is False:
            return Certificate(claim, REFUTED, "derivatives at the point", {"power": k})
        proved = proved and decision.zero is True
        slope = differentiate(slope, x)
    evidence = {"established": f"the derivatives at the point up to the order {through}"}
    return Certificate(claim, PROVED, "each coefficient is the derivative at the point over k!", evidence) if proved else None


def _by_series(
    claim: str, f: Expression, x: Name, u: Name, about: Expression, terms: Mapping[mpq, Expression], through: int
) -> Certificate | None:
    """Each coefficient held against the series of the functions put into each other; None where one is not rational."""
    found = taylor_coefficients(substitute(f, {x: about + u}), u, through)
    if found is None:
        return None
    wrong = next((k for k, c in enumerate(found) if terms.get(mpq(k), ZERO) is not number(c)), None)
    method = "the series of the functions put into each other"
    if wrong is not None:
        return Certificate(claim, REFUTED, method, {"power": wrong, "coefficient": number(found[wrong])})
    return Certificate(claim, PROVED, method, {"established": f"the coefficients up to the power {through}"})


def _at_the_point(
    claim: str, f: Expression, x: Name, u: Name, about: Expression, terms: Mapping[mpq, Expression], through: mpq, facts: Facts
) -> Certificate | None:
    """Of an expansion in natural powers; None where neither series nor derivatives tell."""
    if not all(e.denominator == 1 and e >= 0 and not contains(c, u) for e, c in terms.items()):
        return None
    told = _by_series(claim, f, x, u, about, terms, int(through))
    if told is None and through <= MOST_DERIVATIVES:
        with suppress(GelvoError, ArithmeticError):
            told = _by_derivatives(claim, f, x, about, terms, int(through), facts)
    return told


def check_series(
    f: Expression,
    x: Name,
    u: Name,
    about: Expression,
    side: str | None,
    terms: Mapping[mpq, Expression],
    through: mpq,
    facts: Facts,
) -> Certificate:
    """Each coefficient against the derivative at the point; else the rest of the formula at small steps, on each side that is meant.

    terms: by powers of u > 0, where x = about + u; about - u for the side "below"; 1/u or -1/u far out.
    """
    claim = f"series of {f} about {x} = {about} through power {through}"
    if side is None and not isinstance(about, Bound):
        certificate = _at_the_point(claim, f, x, u, about, terms, through, facts)
        if certificate is not None:
            return certificate
    sides = (side or "above",) if side or isinstance(about, Bound) else ("above", "below")
    turned = {one: side is None and one == "below" for one in sides}
    told = [one for one in sides if _by_expansion(f, x, u, about, one, terms, through, facts, turned[one])]
    looked = {
        one: _rest_shrinks(f, x, u, about, one, terms, through, facts, claim, turned[one]) for one in sides if one not in told
    }
    if told and not any(looked.values()):  # there are no values on the other side
        evidence = {"established": f"every coefficient, {', '.join(told)}; what is left out is of a higher order"}
        return Certificate(claim, PROVED, "an expansion of its own, with a bound on the rest", evidence)
    found = [c for c in looked.values() if c is not None] or [
        Certificate(claim, UNDECIDED, "there are no values beside the point")
    ]
    return min(found, key=lambda c: (REFUTED, UNDECIDED, SUPPORTED).index(c.verdict))


def _by_expansion(
    f: Expression, x: Name, u: Name, about: Expression, side: str, terms: Mapping[mpq, Expression], through: mpq, facts: Facts, mirrored: bool
) -> bool:  # fmt: skip
    """Whether the own expansion has the same coefficients; mirrored: the terms are those of the other side, so odd powers turn."""
    found = expansion_beside(f, x, about, side, facts, through)
    if found is None:
        return False
    rough, _, L = found
    powers = {p for p, _ in rough.terms if p <= through} | {mpq(e) for e in terms if e <= through}
    if mirrored and any(p.denominator != 1 or contains(terms.get(p, number(0)), u) for p in powers):
        return False
    for p in powers:
        wanted = terms.get(p, number(0))
        if mirrored and p.numerator % 2:
            wanted = -wanted
        have = total([c * L**q for (r, q), c in rough.terms.items() if r == p])
        plain = transform(wanted, lambda node: _logarithm_as(node, u, L))
        if contains(plain, u) or decide_zero(have - plain, facts).zero is not True:
            return False
    return True


def _logarithm_as(node: Node, u: Name, L: Name) -> Node:
    """ln(c*u^q) as ln(c) - q*L."""
    if not is_a(node, LN) or not contains(node, u):
        return node
    moving = [g for g in factors_in(node.arguments[0]) if contains(g, u)]
    base, q = base_and_exponent(moving[0]) if len(moving) == 1 else (node, node)
    if base is not u or not (isinstance(q, Number) and q.is_rational):
        return node
    return LN(node.arguments[0] / moving[0]) - q * L


def _rest_shrinks(
    f: Expression, x: Name, u: Name, about: Expression, side: str, terms: Mapping[mpq, Expression], through: mpq, facts: Facts,
    claim: str, mirrored: bool,
) -> Certificate | None:  # fmt: skip
    """mirrored: whether the terms are those of the other side, so that odd powers change their sign. None: surely no values there."""
    method = "the rest of the formula beside its expansion, over the last power kept, at smaller and smaller steps"
    shown, surely_none = "", True
    bits = 500 + 80 * (int(through) + 9)  # the last step to the power that is left out, and what cancels
    for sample in samples([f, about, *terms.values()], x, facts, 4, u):
        table = {n: number(v) for n, v in sample.items()}
        sizes = []
        try:
            for h in (mpq(1, 2**40), mpq(1, 2**60), mpq(1, 2**80)):
                place = _place(about, h, side, table)
                step = number(-h if mirrored else h)
                partial = total([substitute(c, {u: step}) * power(step, number(e)) for e, c in terms.items()])
                box = enclose(substitute(f - partial, {**table, x: place}), {}, bits)
                last = enclose(power(number(h), number(through)), {}, bits)
                size = _size(box, bits)
                sizes.append(size / mpq(last.real.low))
        except (NoValue, GelvoError) as fault:
            surely_none = surely_none and isinstance(fault, NoValue) and fault.certain
            continue
        surely_none, shown = False, ", ".join(f"{nearest_float(s):.3g}" for s in sizes)
        if sizes[0] > mpq(1, 2**1500) and not sizes[2] < sizes[0] / 2:
            return Certificate(claim, REFUTED, method, {"sizes": shown})
    if surely_none:
        return None
    return Certificate(claim, SUPPORTED, method, {"sizes": shown}) if shown else Certificate(claim, UNDECIDED, method)


def _size(box: Box, bits: int) -> mpq:
    """The size of a value, whose bounds must be narrow."""
    parts = [part for part in (box.real, box.imag) if part is not None]
    least = mpq(1, 2**bits)
    if not all(p.finite and abs(mpq(p.high) - mpq(p.low)) * 2**20 <= max(abs(mpq(p.low)), least) for p in parts):
        raise NoValue("bounds that are too wide to tell")
    return sum((abs(mpq(part.low)) for part in parts), mpq(0))


def _place(point: Expression, h: mpq, side: str, table: Mapping[Name, Expression]) -> Expression:
    if point is INFINITE:
        return number(1 / h)
    if point is MINUS_INFINITE:
        return number(-1 / h)
    return substitute(point, table) + number(h if side == "above" else -h)
