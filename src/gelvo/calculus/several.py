"""Limits of formulas of several variables at a point: along every direction at once, or along two paths that do not agree.

With x = a + r*c for a direction c, an expansion in r > 0 holds for all directions alike where it divides by nothing that some
direction makes zero: directions are a closed and bounded set. Source: R. Courant, "Differential and Integral Calculus" (1936), II.1.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from contextlib import suppress
from itertools import product
from typing import NamedTuple

from gmpy2 import mpq

from gelvo.calculus.limits import limit
from gelvo.calculus.local.expander import Local
from gelvo.calculus.local.expansion import Expansion, Short, Unclear
from gelvo.deciding.equality import is_zero, surely_differ
from gelvo.deciding.suppositions import may_suppose_nonzero, supposing_nothing
from gelvo.errors import GelvoError
from gelvo.expression.building import multiply_all, number, power, relation, total
from gelvo.expression.constants import INFINITE, MINUS_INFINITE, ONE, UNDEFINED, ZERO
from gelvo.expression.nodes import Bound, Expression, Name, Number, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.polynomial.roots import isolate_real

TERMS = (6, 12, 24)
LEAST_PATHS = 8
STEPS = (number(0), number(1), number(-1), number(2))

Place = Mapping[Name, Expression]


class Path(NamedTuple):
    """A way to the place: each variable by a small t > 0, and the limit on it."""

    by: dict[Name, Expression]
    t: Name
    end: Expression

    def __str__(self) -> str:
        return ", ".join(f"{x} = {e}" for x, e in self.by.items())


class Approached(NamedTuple):
    """The limit; for `undefined` two paths with different limits; guessed: whether only many paths that agree tell it."""

    value: Expression
    paths: tuple[Path, ...] = ()
    guessed: bool = False


def limit_of_several(f: Expression, place: Place, facts: Facts) -> Approached | None:
    """The limit at a finite place; None where neither directions nor paths decide.

    >>> from gelvo.expression.building import name
    >>> x, y = name("x"), name("y")
    >>> print(limit_of_several(x**2 * y / (x**2 + y**2), {x: ZERO, y: ZERO}, Facts()).value)
    0
    >>> print(*limit_of_several(x * y / (x**2 + y**2), {x: ZERO, y: ZERO}, Facts()).paths)
    x = 0, y = t x = t, y = t
    """
    known = facts
    for x in place:
        known = known.without(x)
    inner = through_one(f, place, known)
    if inner is not None:
        found = limit(inner.outer, inner.s, inner.at, inner.side, known)
        if found is not None and found.value is not UNDEFINED:
            return Approached(found.value)
    value = _for_all_directions(f, place, known)
    return Approached(value) if value is not None else _by_paths(f, place, known)


class Inside(NamedTuple):
    """A formula as outer(s) of one quantity s of the variables that goes to `at`, perhaps from one side only."""

    outer: Expression
    s: Name
    at: Expression
    side: str | None


def through_one(f: Expression, place: Place, facts: Facts) -> Inside | None:
    """The formula as one of a single quantity, such as x*y or x^2 + y^2, that is smooth at the place."""
    s = facts.new_name("s", f, *place.values())
    for u in dict.fromkeys(n for n in postorder(f) if isinstance(n, (Sum, Product)) and set(names(n)) >= set(place)):
        outer = multiply_all([power(substitute(part, {u: s}), k) for part, k in zip(quotient_parts(f), (ONE, -ONE), strict=True)])
        if moves(outer, place) or not _is_polynomial(u, place):
            continue
        at = substitute(u, dict(place))
        gap = u - at
        return Inside(outer, s, at, "above" if facts.is_nonnegative(gap) else "below" if facts.is_nonpositive(gap) else None)
    return None


def _is_polynomial(u: Expression, place: Place) -> bool:
    return all(uni.coefficients_of(expand(u), x) is not None for x in place)


def directions_for(f: Expression, place: Place, facts: Facts) -> tuple[Name, dict[Name, Name], Facts]:
    """(r, a letter c for each variable, the facts: not all of them are zero)."""
    r = facts.new_name("r", f, *place.values(), domain="positive")
    letters: dict[Name, Name] = {}
    for k, x in enumerate(place, 1):
        letters[x] = facts.new_name(f"c_{k}", f, r, *place.values(), *letters.values())
    some = relation("<", ZERO, total([c**2 for c in letters.values()]))
    return r, letters, facts.with_facts([some])


def moves(e: Expression, letters: Iterable[Name]) -> bool:
    """Whether a formula contains one of the letters."""
    return not set(letters).isdisjoint(names(e))


def never_vanishes(form: Expression, letters: list[Name], facts: Facts) -> bool:
    """Whether a form has no zero but the origin; its sign may be any."""
    if facts.is_nonzero(form):
        return True
    top, bottom = quotient_parts(factored(form))
    return all(_is_definite(f, letters, facts) for part in (top, bottom) for f in factors_in(part))


def _is_definite(factor: Expression, letters: list[Name], facts: Facts) -> bool:
    base, exponent = base_and_exponent(factor)
    if moves(exponent, letters):
        return False
    if facts.is_nonzero(base):
        return True
    form = expand(base)
    if _is_sum_of_squares(form, letters, facts):
        return True
    if len(letters) != 2:
        return False
    c, t = letters
    along = expand(substitute(form, {c: ONE}))
    if not facts.is_nonzero(substitute(form, {c: ZERO, t: ONE})):
        return False
    dense = uni.integer_coefficients(along, t)
    return not isolate_real(dense) if dense is not None else facts.is_nonzero(along)


def monomial(term: Expression, letters: Iterable[Name]) -> tuple[dict[Name, int], Expression] | None:
    """(the natural powers of the letters, the factor without them) of a product; None for any other term.

    >>> from gelvo.expression.building import name
    >>> x, y = name("x"), name("y")
    >>> powers, outer = monomial(3 * x**2 * y, [x, y])
    >>> print(*powers.values(), outer)
    2 1 3
    """
    powers, outer = dict.fromkeys(letters, 0), number(term.coefficient) if isinstance(term, Product) else ONE
    for factor in factors_in(term):
        base, k = base_and_exponent(factor)
        if isinstance(base, Name) and base in powers and isinstance(k, Number) and k.is_whole and k.rational > 0:
            powers[base] += int(k.rational)
        elif moves(factor, powers):
            return None
        else:
            outer = outer * factor
    return powers, outer


def _is_sum_of_squares(form: Expression, letters: list[Name], facts: Facts) -> bool:
    """Terms of one sign in even powers, a power of each letter alone among them."""
    alone: set[Name] = set()
    signs: set[int] = set()
    for term in terms_of(form):
        read = monomial(term, letters)
        if read is None or any(k % 2 for k in read[0].values()):
            return False
        signs.add(1 if facts.is_positive(read[1]) else -1 if facts.is_negative(read[1]) else 0)
        moving = [x for x, k in read[0].items() if k]
        if len(moving) == 1:
            alone.update(moving)
    return len(signs) == 1 and 0 not in signs and alone == set(letters)


def _for_all_directions(f: Expression, place: Place, facts: Facts) -> Expression | None:
    r, letters, known = directions_for(f, place, facts)
    moved = substitute(f, {x: a + r * letters[x] for x, a in place.items()})
    own = list(letters.values())
    for terms in TERMS:
        try:
            with supposing_nothing():
                work = Local(r, known, terms, nonzero=lambda c: never_vanishes(c, own, known))
                return _end(work.of(moved), own, known)
        except Short:
            continue
        except (Unclear, GelvoError, ZeroDivisionError):
            return None
    return None


def _end(found: Expansion, letters: list[Name], facts: Facts) -> Expression | None:
    """What the terms tell: a limit where the first one is the same for all directions."""
    for e, c in found.terms.items():
        if e > 0:
            return ZERO
        if is_zero(c, facts):
            continue
        if e < 0:
            if not never_vanishes(c, letters, facts):
                return None
            return INFINITE if facts.is_positive(c) else MINUS_INFINITE if facts.is_negative(c) else None
        at = substitute(c, {n: number(int(n is letters[0])) for n in letters})
        return at if is_zero(c - at, facts) else None
    if found.order is None or found.order > 0:
        return ZERO
    raise Short


def _by_paths(f: Expression, place: Place, facts: Facts) -> Approached | None:
    """Two paths on which the limits differ; else what many of them agree on, as a guess."""
    seen: list[Path] = []
    t = facts.new_name("t", f, *place.values(), domain="positive")
    for ways in _paths(f, place, t, facts):
        by = {x: a + w for (x, a), w in zip(place.items(), ways, strict=True)}
        with suppress(GelvoError, ArithmeticError):
            found = limit(substitute(f, by), t, ZERO, "above", facts)
            if found is None or found.value is UNDEFINED or contains(found.value, t):
                continue
            path = Path(by, t, found.value)
            other = next((p for p in seen if _differ(p.end, path.end, facts)), None)
            if other is not None:
                return Approached(UNDEFINED, (other, path))
            seen.append(path)
    return Approached(seen[0].end, guessed=True) if len(seen) >= LEAST_PATHS else None


def _differ(a: Expression, b: Expression, facts: Facts) -> bool:
    if isinstance(a, Bound) or isinstance(b, Bound):
        return a is not b
    return surely_differ(a, b, facts) or (bool(names(a, b)) and may_suppose_nonzero(a - b, facts))


def _paths(f: Expression, place: Place, t: Name, facts: Facts) -> Iterator[tuple[Expression, ...]]:
    """Straight lines, then curves of two and three powers, and those that hug the lines on which a divisor begins to vanish."""
    count = len(place)
    yield from (w for w in _scaled([t] * count) if any(e is not ZERO for e in w))
    for powers in product((1, 2, 3), repeat=count):
        if min(powers) == 1 and max(powers) > 1:
            yield from (w for w in _scaled([t**k for k in powers]) if all(e is not ZERO for e in w))
    if count == 2:
        yield from _beside_zeros(f, place, t, facts)


def _scaled(steps: list[Expression]) -> Iterator[tuple[Expression, ...]]:
    for scales in product(STEPS, repeat=len(steps)):
        yield tuple(s * e for s, e in zip(scales, steps, strict=True))


def _beside_zeros(f: Expression, place: Place, t: Name, facts: Facts) -> Iterator[tuple[Expression, ...]]:
    """y = m*x + s*x^k, where the divisor is zero on y = m*x at first."""
    bottom = substitute(quotient_parts(factored(f))[1], {x: a + t * n for (x, a), n in zip(place.items(), place, strict=True)})
    y = list(place)[1]
    for factor in factors_in(bottom):
        base, _ = base_and_exponent(factor)
        first = next((c for c in uni.coefficients_of(expand(base), t) or [] if c is not ZERO), None)
        slope = None if first is None else uni.linear_parts(expand(substitute(first, {next(iter(place)): ONE})), y)
        if slope is None or slope[0] is ZERO:
            continue
        m = uni.lowest_terms(-slope[1] / slope[0])
        for k, s in product((2, 3, 4), (ONE, number(-1), number(2))):
            yield (t, m * t + s * power(t, number(mpq(k))))
