"""Polynomials in place of a formula near a point where it loses digits: near 0, or far out, of one letter or of one product or sum.

The coefficients come from values with bounds at Chebyshev's points (L. N. Trefethen, "Approximation Theory and Approximation
Practice", 2013, ch. 3 and 8); the leading power is taken out, so that the relative error is small up to the point itself.
"""

from __future__ import annotations

import contextlib
from collections.abc import Iterator, Sequence
from functools import lru_cache
from typing import NamedTuple

import gmpy2
from gmpy2 import mpfr, mpq

from gelvo.code.precision import DOUBLE
from gelvo.deadline import checkpoint
from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.building import call, multiply_all, number, power, total
from gelvo.expression.nodes import Call, Expression, Name, Product, Sum
from gelvo.expression.traversal import contains, free_names, fresh_name, postorder, substitute, substitute_plain
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.numbers.exact import nearest_float
from gelvo.numbers.interval import NoValue, arithmetic, exact

BITS, NODES, MOST_DEGREE = 240, 40, 28
MORE_BITS = 4  # of the polynomial than of the numbers
RADII = tuple(mpq(v) for v in ("2.5", "2", "1.5", "1.2", "1", "0.85", "0.7", "0.5", "0.35", "0.2", "0.1", "0.05", "0.01"))
MOST_AMPLIFIED = 8  # the sizes of the terms against their sum
FORMS, MOST_LEADING = 3, 12


class Near(NamedTuple):
    """A form for part of the values: formula, and the quantity that is small there."""

    formula: Expression
    quantity: Expression
    radius: mpq


def near_forms(e: Expression, bits: int = DOUBLE.bits) -> Iterator[Near]:
    """Forms of a formula in which a sum, or all of it, is a polynomial near 0 or far out; bits: of the numbers of the code."""
    seen: set[Expression] = set()
    for node in [e, *reversed([n for n in postorder(e) if isinstance(n, Sum)])]:
        assert isinstance(node, Expression)
        for kernel, whole, letter in _kernels(node):
            for part in [whole, *[n for n in postorder(whole) if isinstance(n, Sum)]]:
                assert isinstance(part, Expression)
                if free_names(part) != [letter] or part in seen or not any(isinstance(n, Call) for n in postorder(part)):
                    continue
                seen.add(part)
                for far in (False, True):
                    for form, radius in _polynomials(part, letter, far, bits + MORE_BITS):
                        replaced = substitute(substitute_plain(whole, {part: form}), {letter: kernel})
                        size = call("abs", kernel)
                        quantity = power(size, number(-1)) if far else size
                        yield Near(replaced if node is e else substitute_plain(e, {node: replaced}), quantity, radius)


def _kernels(node: Expression) -> Iterator[tuple[Expression, Expression, Name]]:
    """(kernel, the part in a letter that stands for it, the letter)."""
    own = free_names(node)
    if len(own) == 1:
        letter = fresh_name("u", node)
        yield own[0], substitute(node, {own[0]: letter}), letter
        return
    found: dict[Expression, None] = {}
    for part in postorder(node):
        if isinstance(part, Call):
            found.update(dict.fromkeys(a for a in part.arguments if isinstance(a, (Product, Sum)) and free_names(a)))
    for name in own:
        found.setdefault(name)
    for kernel in found:
        letter = fresh_name("u", node)
        if isinstance(kernel, Name):
            yield kernel, substitute(node, {kernel: letter}), letter
            continue
        name = free_names(kernel)[0]
        for solved in (letter * name / kernel, letter - (kernel - name), letter + (kernel + name)):
            if not contains(solved, name):
                with contextlib.suppress(GelvoError):
                    yield kernel, factored(expand(substitute(node, {name: solved}))), letter
                break


class Function(NamedTuple):
    """A formula of one letter as high precision sees it, and its leading power at 0."""

    formula: Expression
    letter: Name

    def at(self, place: mpq) -> mpfr | None:
        """The value with more digits than a pair of doubles has; None where there is none."""
        return _value(self.formula, self.letter, place)


@lru_cache(maxsize=4096)
def _value(formula: Expression, letter: Name, place: mpq) -> mpfr | None:
    enclosure = _enclosure(formula)
    a = arithmetic(BITS)
    for bits in (BITS, 3 * BITS, 9 * BITS):
        checkpoint()
        try:
            box = enclosure.at({letter: place}, bits)
        except NoValue as fault:
            if fault.certain:
                return None
            continue
        except GelvoError:
            return None
        if box.imag is not None or not box.finite:
            return None
        low, high = box.real
        if low == high or a.up.mul(a.up.sub(high, low), 2**110) < min(abs(low), abs(high)):
            return low
    return None


@lru_cache(maxsize=64)
def _enclosure(formula: Expression) -> Enclosure:
    return Enclosure(formula)


def _polynomials(part: Expression, letter: Name, far: bool, bits: int) -> Iterator[tuple[Expression, mpq]]:
    """(power of the letter times a polynomial, up to where it holds), in rising order of cost."""
    inner = substitute(part, {letter: power(letter, number(-1))}) if far else part
    f = Function(inner, letter)
    leading = _leading_power(f)
    if leading is None:
        return
    parity = _parity(f)
    found = 0
    for radius in RADII:
        fitted = _fitted(f, leading, parity, radius, mpq(1, 1 << bits))
        if fitted is None:
            continue
        u = power(letter, number(-1)) if far else letter
        yield multiply_all([power(u, number(leading)), horner(fitted, power(u, number(2)) if parity else u)]), radius
        found += 1
        if found == FORMS:
            return


def _leading_power(f: Function) -> int | None:
    """k where f(u) behaves as c*u^k near 0."""
    for places, tolerance in (((4, 6, 8), 1e-4), ((2, 3, 4), 0.02)):
        with gmpy2.context(gmpy2.get_context(), precision=BITS):
            values = [f.at(mpq(1, 10**n)) for n in places]
            sizes = [gmpy2.log10(abs(v)) for v in values if v]
            if len(sizes) < len(values):
                continue  # beyond the exponents of long numbers, perhaps
            slope = (sizes[1] - sizes[2]) / (places[2] - places[1])
            k = int(gmpy2.rint(slope))
            return k if abs(slope - k) < tolerance and abs(k) <= MOST_LEADING else None
    return None


def _parity(f: Function) -> int:
    """1 for even, -1 for odd, 0 for neither, at some places: the fit is judged by its values anyhow."""
    pairs = [(f.at(p), f.at(-p)) for p in (mpq(1, 3), mpq(1, 17), mpq(2, 7))]
    with gmpy2.context(gmpy2.get_context(), precision=BITS):
        for sign in (1, -1):
            if all(a is not None and b is not None and abs(a - sign * b) <= abs(a) / mpfr(2) ** 100 for a, b in pairs):
                return sign
    return 0


def _fitted(f: Function, leading: int, parity: int, radius: mpq, small: mpq) -> list[mpq] | None:
    """The coefficients of the polynomial by which f(u)/u^k is replaced, lowest first; small: its largest relative error."""
    both = not parity and f.at(-radius) is not None and f.at(-radius / 3) is not None
    span = radius * radius if parity else radius
    with gmpy2.context(gmpy2.get_context(), precision=2 * BITS):
        values = []
        for t in chebyshev_places():
            v = span * t if both else span * (1 + t) / 2
            u = _root(v) if parity else v
            value = f.at(u)
            if value is None:
                return None
            values.append((gmpy2.mpfr(t), value / gmpy2.mpfr(u) ** leading))
        coefficients = chebyshev(values)
        smallest = min(abs(v) for _, v in values)
        if not smallest:
            return None
        degree = next((n for n in range(MOST_DEGREE + 1) if sum(map(abs, coefficients[n + 1 :])) < smallest * small), None)
        if degree is None:
            return None
        plain = monomials(coefficients[: degree + 1], span, both)
        worst = sum(abs(c) * gmpy2.mpfr(span) ** k for k, c in enumerate(plain))
        if worst > MOST_AMPLIFIED * smallest:
            return None
        return [mpq(nearest_float(exact(c))) for c in plain]


def chebyshev_places() -> list[mpq]:
    """Chebyshev's points between -1 and 1, as short numbers next to them."""
    angles = [gmpy2.const_pi() * (2 * j + 1) / (2 * NODES) for j in range(NODES)]
    return [exact(gmpy2.rint_round(gmpy2.cos(angle) * 2**70)) / 2**70 for angle in angles]


def _root(v: mpq) -> mpq:
    return exact(gmpy2.sqrt(gmpy2.mpfr(v)))


def chebyshev(values: Sequence[tuple[mpfr, mpfr]]) -> list[mpfr]:
    """The coefficients of Chebyshev's polynomials by the sums over their points."""
    rows = [(gmpy2.mpfr(1), t, t, v) for t, v in values]
    coefficients = [sum(v for *_, v in rows) / NODES]
    for _ in range(1, NODES):
        coefficients.append(2 * sum(now * v for _, now, _, v in rows) / NODES)
        rows = [(now, 2 * t * now - before, t, v) for before, now, t, v in rows]
    return coefficients


def monomials(coefficients: Sequence[mpfr], span: mpq, both: bool) -> list[mpfr]:
    """sum c_k T_k(v/span) for both signs, else sum c_k T_k(2*v/span - 1), in powers of v."""
    size = len(coefficients)
    scale, shift = (1 / gmpy2.mpfr(span), gmpy2.mpfr(0)) if both else (2 / gmpy2.mpfr(span), gmpy2.mpfr(-1))
    before, now = [gmpy2.mpfr(1)], [shift, scale]
    result = [gmpy2.mpfr(0)] * max(size, 2)
    for k, c in enumerate(coefficients):
        row = before if k == 0 else now
        for n, a in enumerate(row):
            result[n] += c * a
        if k:
            grown = [gmpy2.mpfr(0)] * (len(now) + 1)
            for n, a in enumerate(now):
                grown[n] += 2 * shift * a
                grown[n + 1] += 2 * scale * a
            for n, a in enumerate(before):
                grown[n] -= a
            before, now = now, grown
    return result[:size]


def horner(coefficients: Sequence[mpq], v: Expression) -> Expression:
    result: Expression = number(coefficients[-1])
    for c in reversed(coefficients[:-1]):
        result = total([number(c), multiply_all([v, result])])
    return result
