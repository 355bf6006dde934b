"""Fourier transforms proved: waves, steps and impulses by their pairs of distributions, the rest by the defining integral.

A function that goes to zero far out has no impulse in its transform, so the integral at each frequency but zero tells all of it; the
integral is the sum of two over t > 0, of the even part with a cosine and of the odd part with a sine.
Sources: DLMF 1.16(viii); R. Bracewell, "The Fourier Transform and Its Applications" (1965), chapter 5.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from itertools import pairwise

from gelvo.checking.certificate import PROVED, Certificate
from gelvo.checking.ends import value_at
from gelvo.checking.integrals import check_definite
from gelvo.checking.pieces import places_of_steps
from gelvo.deciding.equality import decide_zero
from gelvo.errors import GelvoError
from gelvo.expression.building import bound, multiply_all, number, relation, total
from gelvo.expression.constants import IMAGINARY, INFINITE, MINUS_INFINITE, ONE, PI, ZERO
from gelvo.expression.nodes import Bound, Call, Expression, Name, Node, Product
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, postorder, substitute, transform
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.forms.impulses import has_impulse, separated, sifted
from gelvo.forms.univariate import linear_parts
from gelvo.functions.named import ABS, COS, DIRAC_DELTA, EXP, HEAVISIDE, SIGN, SIN, is_a

# the transforms of 1 and of steps at 0: what is times exp(1j*b*t) is the same at v - b
PAIRS: dict[str, Callable[[Expression], Expression]] = {
    "": lambda v: 2 * PI * DIRAC_DELTA(v),
    SIGN: lambda v: -2 * IMAGINARY / v,
    HEAVISIDE: lambda v: PI * DIRAC_DELTA(v) - IMAGINARY / v,
}


def check_on_both_sides(
    f: Expression, t: Name, w: Name, image: Expression, facts: Facts, kernel: tuple[Expression, Expression], claim: str
) -> Certificate | None:
    """A proof that the image is outer times the integral of f*exp(1j*rate*w*t), kernel = (outer, rate); None where there is none."""
    try:
        return _proved(f, t, w, image, facts, kernel, claim)
    except (GelvoError, ArithmeticError):
        return None


def _proved(
    f: Expression, t: Name, w: Name, image: Expression, facts: Facts, kernel: tuple[Expression, Expression], claim: str
) -> Certificate | None:
    outer, rate = kernel
    v = facts.new_name("v", f, image, domain="real")
    plain = substitute(image, {w: -v / rate}) / outer  # the integral of f*exp(-1j*v*t)
    parts = separated(f, t) if has_impulse(f, t) else (f, ())
    if parts is None:
        return None
    told: list[Expression] = [i.weight * EXP(-IMAGINARY * v * i.place) for i in parts[1]]
    left: list[Expression] = []
    for term in terms_of(expand(_as_exponentials(parts[0], t))):
        pair = _by_pair(term, t, v, facts)
        (left if pair is None else told).append(term if pair is None else pair)
    return _of_the_rest(t, v, total(left) if told else parts[0], plain - total(told), facts, claim, bool(told))


def _of_the_rest(
    t: Name, v: Name, smooth: Expression, image: Expression, facts: Facts, claim: str, told: bool
) -> Certificate | None:
    """That the image of what is no pair is right; told: whether pairs were taken off."""
    rest = expand(sifted(expand(_with_plain_impulses(image, v))))
    method = "pairs of distributions" if told else ""
    if smooth is ZERO:
        if not decide_zero(rest, facts).zero:
            return None
        return Certificate(
            claim, PROVED, f"{method}: 1, waves, steps at 0 and impulses", {"established": "the difference is zero"}
        )
    ends = [value_at(_far_out(smooth, t, end, facts), t, end, facts.without(t)) for end in (INFINITE, MINUS_INFINITE)]
    if any(end is None or isinstance(end, Bound) for end in ends):
        return None
    up, down = (end or ZERO for end in ends)
    if up is not ZERO or down is not ZERO:  # what goes to other values is a constant and a step beside
        mean, half = (up + down) / 2, (up - down) / 2
        smooth = smooth - mean - half * SIGN(t)
        rest = expand(sifted(expand(rest - mean * PAIRS[""](v) - half * PAIRS[SIGN](v))))
    if has_impulse(rest, v):
        return None
    if not all(_on_a_stretch(smooth, t, v, rest, stretch, claim) for stretch in _stretches(rest, v, facts)):
        return None
    integrals = "the defining integral of the even and of the odd part, at positive and negative frequencies"
    return Certificate(claim, PROVED, f"{method}; {integrals}" if method else integrals)


def _with_plain_impulses(e: Expression, v: Name) -> Expression:
    """dirac_delta(a*v + b) as that of v + b/a over |a|, so that equal ones are one node."""

    def visit(node: Node) -> Node:
        parts = linear_parts(node.arguments[0], v) if is_a(node, DIRAC_DELTA) else None
        return node if parts is None else DIRAC_DELTA(v + parts[1] / parts[0]) / ABS(parts[0])

    return transform(e, visit)


def _far_out(f: Expression, t: Name, end: Bound, facts: Facts) -> Expression:
    """Bars, signs and steps of lines as they are far out."""
    direction = 1 if end is INFINITE else -1
    table: dict[Expression, Expression] = {}
    for node in postorder(f):
        if not is_a(node, ABS, SIGN, HEAVISIDE):
            continue
        parts = linear_parts(node.arguments[0], t)
        if parts is not None and (facts.is_positive(parts[0]) or facts.is_negative(parts[0])):
            up = facts.is_positive(parts[0]) == (direction > 0)
            table[node] = _value_of_step(node, up)
    return substitute(f, table) if table else f


def _value_of_step(node: Call, up: bool) -> Expression:
    if is_a(node, ABS):
        return node.arguments[0] if up else -node.arguments[0]
    return ONE if up else -ONE if is_a(node, SIGN) else ZERO


def _as_exponentials(f: Expression, t: Name) -> Expression:
    """Waves beside nothing but steps as exponentials."""

    def visit(node: Node) -> Node:
        if is_a(node, SIN, COS) and linear_parts(node.arguments[0], t) is not None:
            up, down = EXP(IMAGINARY * node.arguments[0]), EXP(-IMAGINARY * node.arguments[0])
            return (up + down) / 2 if is_a(node, COS) else (up - down) / (2 * IMAGINARY)
        return node

    lone = all(not contains(g, t) or is_a(g, SIN, COS, SIGN, HEAVISIDE) for term in terms_of(f) for g in factors_in(term))
    return transform(f, visit) if lone else f


def _by_pair(term: Expression, t: Name, v: Name, facts: Facts) -> Expression | None:
    """The transform of c*exp(1j*b*t) times nothing or one step at 0; None for what is none of these."""
    shift, step = ZERO, ""
    outer: list[Expression] = [number(term.coefficient)] if isinstance(term, Product) else []
    for g in factors_in(term):
        if not contains(g, t):
            outer.append(g)
        elif (
            is_a(g, EXP)
            and (parts := linear_parts(expand(g.arguments[0] / IMAGINARY), t)) is not None
            and facts.is_real(parts[0])
        ):
            shift = shift + parts[0]
            outer.append(EXP(IMAGINARY * parts[1]))
        elif is_a(g, SIGN, HEAVISIDE) and g.arguments[0] is t and not step:
            step = g.name
        else:
            return None
    return multiply_all(outer) * PAIRS[step](v - shift)


def _stretches(rest: Expression, v: Name, facts: Facts) -> Iterator[tuple[int, Name, Facts]]:
    """The sign of the frequency, its size as a positive name, and the facts of a stretch where no step of the image changes."""
    for sign in (1, -1):
        size = facts.new_name("v", rest, v, domain="positive")
        places = [p for p in places_of_steps(substitute(rest, {v: sign * size}), size) if facts.is_positive(p)]
        order = sorted(dict.fromkeys(places), key=lambda p: sum(facts.is_positive(p - q) for q in places))
        for low, high in pairwise([ZERO, *order, None]):
            between = [] if low is ZERO or low is None else [relation("<", low, size)]
            yield sign, size, facts.with_facts([*between, *([] if high is None else [relation("<", size, high)])])


def _on_a_stretch(f: Expression, t: Name, v: Name, rest: Expression, stretch: tuple[int, Name, Facts], claim: str) -> bool:
    """Both halves of the integral at sign*size; each is told at the negative frequencies again, since the image is written there anew."""
    sign, size, facts = stretch
    at, opposite = (_under_signs(substitute(rest, {v: s * size}), facts) for s in (sign, -sign))
    over = facts.with_facts([relation("<", ZERO, t)])
    mirrored = substitute(f, {t: -t})
    for part, wave, value in (
        (f + mirrored, COS, (at + opposite) / 2),
        (f - mirrored, SIN, (at - opposite) * IMAGINARY / (2 * sign)),
    ):
        inside = expand(_under_signs(part, over))
        if inside is ZERO or decide_zero(inside, over).zero:
            if not decide_zero(value, facts).zero:
                return False
            continue
        claimed = check_definite(inside * wave(size * t), t, ZERO, bound("inf"), value, facts.without(t), claim)
        if claimed.verdict != PROVED:
            return False
    return True


def _under_signs(e: Expression, facts: Facts) -> Expression:
    """Bars, signs and steps of what has a known sign."""
    table: dict[Expression, Expression] = {}
    for node in postorder(e):
        if is_a(node, ABS, SIGN, HEAVISIDE):
            inner = node.arguments[0]
            up = facts.is_positive(inner) or facts.is_positive(expand(inner))
            if up or facts.is_negative(inner) or facts.is_negative(expand(inner)):
                table[node] = _value_of_step(node, up)
    return substitute(e, table) if table else e
