"""Expansions in a small u > 0 and L = ln(1/u) with a bound on what is left out, by own arithmetic: proofs of limits and of series.

Every quantity is a finite sum of c*u^p*L^q and a rest that is O(u^order*L^m) for some m. Sums, products, powers, exponentials and
logarithms keep that; a function that is smooth at the limit of its argument goes by its derivatives there (B. Taylor, with the rest of
J. Lagrange), any other by the expansion of its slope, integrated term by term from the place where it is continuous.
Source: G. Hardy, "Orders of Infinity" (1910); A. Erdélyi, "Asymptotic Expansions" (1956), chapter 1.
"""

from __future__ import annotations

from collections.abc import Callable

from gmpy2 import fac, mpq

from gelvo.calculus.local.asymptotic import ROWS, coefficients, is_series, written_far_out
from gelvo.checking.beside import AT_ZERO, BESIDE, BY_RECURRENCE, Key, Rough
from gelvo.deadline import checkpoint
from gelvo.deciding.equality import decide_zero
from gelvo.errors import DomainError
from gelvo.expression.building import call, constant, number, power, total
from gelvo.expression.constants import HALF, INFINITE, MINUS_INFINITE, ONE, ZERO
from gelvo.expression.nodes import Applied, Bound, Call, Expression, Name, Node, Number, Power, Product, Sum
from gelvo.expression.traversal import contains, has_call, names, postorder, substitute, transform
from gelvo.facts.continuity import has_no_break_at, may_meet_cut
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.functions.named import (
    ABS,
    ACOSH,
    CBRT,
    CEIL,
    CHI,
    CI,
    COS,
    COSH,
    COT,
    COTH,
    CSC,
    CSCH,
    EI,
    EXP,
    FLOOR,
    HEAVISIDE,
    LN,
    SEC,
    SECH,
    SIGN,
    SIN,
    SINH,
    TAN,
    TANH,
    is_a,
)
from gelvo.roads import on_the_way

MOST_TERMS, MOST_WINDOWS, MOST_SLOPES, MOST_NESTED = 400, 5, 24, 4
FLAT = mpq(10**6)  # of what dies away faster than every power of u


class Unknown(Exception):
    """No expansion is told."""


class Short(Unknown):
    """More of the parts is needed: the leading terms cancel."""


def expansion_beside(
    f: Expression, x: Name, point: Expression, side: str, facts: Facts, through: mpq
) -> tuple[Rough, Name, Name] | None:
    """(the expansion known beyond u^through, u, L) where x = point + u, point - u, 1/u or -1/u; None where there is none."""
    u = facts.new_name("u", f, point, domain="positive")
    sign = -1 if point is MINUS_INFINITE or side == "below" else 1
    try:
        moved = substitute(f, {x: sign / u if isinstance(point, Bound) else point + sign * u})
        window = max(mpq(4), through + 2)
        for _ in range(MOST_WINDOWS):
            work = _Work(u, facts.without(x), window)
            try:
                found = work.of(moved)
                if found.order is None or found.order > through:
                    return found, u, work.L
            except Short:
                pass
            window *= 2
    except (Unknown, DomainError, ZeroDivisionError):
        pass
    return None


@on_the_way("expansions with a bound on the rest")
def limit_by_expansion(f: Expression, x: Name, point: Expression, side: str, facts: Facts) -> Expression | None:
    """The limit, inf and -inf among them; None where it is not proved.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> print(limit_by_expansion((EXP(x) - 1 - x) / x**2, x, ZERO, "above", Facts()))
    1/2
    """
    found = expansion_beside(f, x, point, side, facts, mpq(0))
    if found is None:
        return None
    rough, _, L = found
    return _end(rough, L, facts.without(x))


def _end(rough: Rough, L: Name, facts: Facts) -> Expression | None:
    for p, q in sorted(rough.terms, key=lambda k: (k[0], -k[1])):
        c = rough.terms[p, q]
        if decide_zero(c, facts).zero:
            continue
        if p > 0 or (not p and q < 0):
            return ZERO
        if p < 0 or q > 0:
            return INFINITE if facts.is_positive(c) else MINUS_INFINITE if facts.is_negative(c) else None
        return c if not q else None
    return ZERO


class _Work:
    """One question: u > 0 that falls to zero, L = ln(1/u), and how far beyond its leading power each part is kept."""

    def __init__(self, u: Name, facts: Facts, window: mpq) -> None:
        self.u, self.window, self.nested = u, window, 0
        self.L = facts.new_name("L", u, domain="positive")
        self.facts = facts

    # --- the formula -----------------------------------------------------------------------------------------------------

    def of(self, root: Expression) -> Rough:
        root = self._far_functions(transform(root, _plainer))
        done: dict[Node, Rough] = {}
        for node in postorder(root):
            checkpoint()
            if not isinstance(node, Expression):
                continue
            if not contains(node, self.u):
                done[node] = Rough({(mpq(0), 0): node} if node is not ZERO else {}, None)
            elif node is self.u:
                done[node] = Rough({(mpq(1), 0): ONE}, None)
            elif not any(child not in done for child in node.children if isinstance(child, Expression)):
                try:
                    done[node] = self.cut(self.one(node, done))
                except Unknown:  # beside another one it may not grow
                    if node is root or not self.has_moving_exponent(node):
                        raise
            elif isinstance(node, Product):
                done[node] = self.cut(self.product(node, done))
        if root not in done:
            raise Unknown
        return done[root]

    def has_moving_exponent(self, f: Expression) -> bool:
        return (is_a(f, EXP) or (isinstance(f, Power) and contains(f.exponent, self.u))) and contains(f, self.u)

    def logarithm_of(self, f: Expression, done: dict[Node, Rough]) -> Rough:
        if any(part not in done for part in f.children):
            raise Unknown
        if isinstance(f, Power):
            return self.multiply(done[f.exponent], self.log(done[f.base]))
        return done[f.children[0]]

    def product(self, node: Product, done: dict[Node, Rough]) -> Rough:
        """Factors with a moving exponent together: each may grow without bound, and their product not."""
        result = Rough({(mpq(0), 0): number(node.coefficient)}, None)
        moving = [f for f in node.factors if self.has_moving_exponent(f)]
        together = len(moving) > 1 or any(f not in done for f in moving)
        if together:
            logarithms = [self.logarithm_of(f, done) for f in moving]
            result = self.multiply(result, self.exponential(self.add(logarithms)))
        for factor in node.factors:
            if not (together and factor in moving):
                if factor not in done:
                    raise Unknown
                result = self.multiply(result, done[factor])
        return result

    def _far_functions(self, e: Expression) -> Expression:
        if not has_call(e, tuple(ROWS), self.u):
            return e

        def direction(argument: Expression) -> int:
            try:
                p, q, c, _ = self.leading(self.of(argument))
            except (Unknown, DomainError, ZeroDivisionError):
                return 0
            grows = p < 0 or (not p and q > 0)
            return (self.facts.is_positive(c) - self.facts.is_negative(c)) if grows else 0

        return written_far_out(e, direction, lambda argument: contains(argument, self.u))

    def one(self, node: Expression, done: dict[Node, Rough]) -> Rough:
        if isinstance(node, Sum):
            parts = [Rough({(mpq(0), 0): number(node.constant)} if node.constant else {}, None)]
            return self.add([*parts, *(self.scaled(done[t], number(c)) for t, c in node.items())])
        if isinstance(node, Product):
            return self.product(node, done)
        if isinstance(node, Power):
            exponent = node.exponent
            if isinstance(exponent, Number) and exponent.is_rational:
                return self.power(done[node.base], exponent.rational)
            return self.exponential(self.multiply(done[exponent], self.log(done[node.base])))
        if isinstance(node, Applied) and is_series(node):
            p, _, _, _ = self.leading(done[node.arguments[-1]])
            if p <= 0:
                raise Unknown
            return self.compose(done[node.arguments[-1]], coefficients(node, ZERO))
        if isinstance(node, Call):
            return self.call(node, done)
        raise Unknown

    def call(self, node: Call, done: dict[Node, Rough]) -> Rough:
        moving = [a for a in node.arguments if contains(a, self.u)]
        if len(moving) != 1:
            raise Unknown
        inner = done[moving[0]]
        if is_a(node, EXP, LN):
            return self.exponential(inner) if is_a(node, EXP) else self.log(inner)
        if is_a(node, ABS, SIGN, HEAVISIDE, CBRT):
            return self.by_sign(node, inner)
        place, rest = self.apart(inner)
        return self.by_its_own(node, place, rest) or self.smooth_or_not(node, moving[0], place, rest)

    def by_its_own(self, node: Call, place: Expression | None, rest: Rough) -> Rough | None:
        """Of functions that have a rule of their own there."""
        if is_a(node, FLOOR, CEIL):
            return self.by_step(node, place, rest)
        if node.name in AT_ZERO and place is ZERO and not any(contains(a, self.u) for a in node.arguments[:-1]):
            series = AT_ZERO[node.name]
            return self.compose(rest, lambda k: series(node.arguments[:-1], k))
        if node.name in BESIDE and not any(contains(a, self.u) for a in node.arguments[:-1]):
            return BESIDE[node.name](self, node.arguments[:-1], place, rest)
        if is_a(node, *BY_RECURRENCE) and isinstance(place, Number) and place.is_whole and place.rational <= 0:
            return self.of(BY_RECURRENCE[node.name](node.arguments, 1 - int(place.rational)))
        return None

    def smooth_or_not(self, node: Call, argument: Expression, place: Expression | None, rest: Rough) -> Rough:
        t = self.facts.new_name("t", node)
        plain = substitute(node, {argument: t})
        if not isinstance(plain, Call) or not self.stays_real(argument, plain):
            raise Unknown
        if place is not None and has_no_break_at(plain, t, place, self.facts) and not may_meet_cut(plain, self.facts, place):
            try:
                return self.taylor(plain, t, place, rest)
            except (DomainError, ZeroDivisionError):
                pass
        return self.by_slope(node, plain, t, argument, place)

    def stays_real(self, argument: Expression, plain: Call) -> bool:
        return self.facts.with_facts([self.u > ZERO]).is_real(argument) or not any(
            isinstance(n, Call) and n.name == LN for n in postorder(argument)
        )

    # --- arithmetic --------------------------------------------------------------------------------------------------------

    def cut(self, a: Rough) -> Rough:
        """No more than the window beyond the lowest power."""
        if not a.terms:
            return a
        end = min(p for p, _ in a.terms) + self.window
        kept = {k: c for k, c in a.terms.items() if k[0] < end}
        if len(kept) == len(a.terms):
            return a
        order = end if a.order is None else min(end, a.order)
        return Rough(kept, order)

    def add(self, parts: list[Rough]) -> Rough:
        orders = [p.order for p in parts if p.order is not None]
        order = min(orders) if orders else None
        table: dict[Key, list[Expression]] = {}
        for part in parts:
            for key, c in part.terms.items():
                if order is None or key[0] < order:
                    table.setdefault(key, []).append(c)
        return Rough(_joined(table), order)

    def scaled(self, a: Rough, c: Expression) -> Rough:
        return Rough({k: c * v for k, v in a.terms.items()}, a.order) if c is not ZERO else Rough({}, None)

    def multiply(self, a: Rough, b: Rough) -> Rough:
        orders = []
        if a.order is not None and (b.terms or b.order is not None):
            orders.append(a.order + b.lowest())
        if b.order is not None and (a.terms or a.order is not None):
            orders.append(b.order + a.lowest())
        order = min(orders) if orders else None
        if len(a.terms) * len(b.terms) > MOST_TERMS * 20:
            raise Unknown
        table: dict[Key, list[Expression]] = {}
        for (p, q), c in a.terms.items():
            for (r, s), d in b.terms.items():
                if order is None or p + r < order:
                    table.setdefault((p + r, q + s), []).append(c * d)
        return Rough(_joined(table), order)

    def leading(self, a: Rough) -> tuple[mpq, int, Expression, Rough]:
        """(p, q, c, what is left): c is proved not to be zero; terms that are zero are dropped."""
        terms = dict(a.terms)
        for key in sorted(terms, key=lambda k: (k[0], -k[1])):
            c = terms.pop(key)
            if self.facts.is_nonzero(c):
                return *key, c, Rough(terms, a.order)
            zero = decide_zero(c, self.facts).zero
            if zero is None or (not zero and names(c)):  # letters may make it zero
                raise Unknown
            if not zero:
                return *key, c, Rough(terms, a.order)
        if a.order is None:
            raise ZeroDivisionError
        raise Short

    def apart(self, a: Rough) -> tuple[Expression | None, Rough]:
        """The limit (None where there is none) and what vanishes."""
        rest = dict(a.terms)
        place = rest.pop((mpq(0), 0), ZERO)
        if (a.order is not None and a.order <= 0) or any(p < 0 or (not p and q) for p, q in rest):
            p, q, _, _ = self.leading(a)
            if p < 0 or (not p and q > 0):
                return None, a
            raise Unknown
        return place, Rough(rest, a.order)

    def compose(self, z: Rough, coefficient: Callable[[int], Expression]) -> Rough:
        """The sum of coefficient(k)*z^k for a z that vanishes like a power of u."""
        step = z.lowest() if z.terms or z.order is not None else None
        result = [Rough({(mpq(0), 0): c} if (c := coefficient(0)) is not ZERO else {}, None)]
        if step is None:
            return result[0]
        if step <= 0:
            raise Unknown
        piece, k = Rough({(mpq(0), 0): ONE}, None), 0
        while k * step < self.window:
            k += 1
            if k > MOST_TERMS:
                raise Unknown
            piece = self.cut(self.multiply(piece, z))
            c = coefficient(k)
            if c is not ZERO:
                result.append(self.scaled(piece, c))
        return self.add([*result, Rough({}, step * (k + 1))])

    def power(self, a: Rough, r: mpq) -> Rough:
        if r.denominator == 1 and 0 < r <= 12:
            result = a
            for _ in range(int(r) - 1):
                result = self.cut(self.multiply(result, a))
            return result
        p, q, c, rest = self.leading(a)
        if (q and r.denominator != 1) or (r.denominator != 1 and not self.facts.is_positive(c)):
            raise Unknown
        small = Rough(
            {(k[0] - p, k[1] - q): v / c for k, v in rest.terms.items()}, None if rest.order is None else rest.order - p
        )
        binomial = self.compose(small, lambda k: number(_binomial(r, k)))
        outer = power(c, number(r))
        return Rough(
            {(k[0] + p * r, k[1] + q * int(r) if q else k[1]): outer * v for k, v in binomial.terms.items()},
            None if binomial.order is None else binomial.order + p * r,
        )

    def log(self, a: Rough) -> Rough:
        p, q, c, rest = self.leading(a)
        if q or not self.facts.is_positive(c):
            raise Unknown
        small = Rough({(k[0] - p, k[1]): v / c for k, v in rest.terms.items()}, None if rest.order is None else rest.order - p)
        series = self.compose(small, lambda k: number(mpq((-1) ** (k + 1), k)) if k else ZERO)
        start: dict[Key, Expression] = {(mpq(0), 0): LN(c)} if LN(c) is not ZERO else {}
        if p:
            start[mpq(0), 1] = number(-p)
        return self.add([Rough(start, None), series])

    def exponential(self, a: Rough) -> Rough:
        terms = (
            {k: c for k, c in a.terms.items() if not decide_zero(c, self.facts).zero}
            if any(p < 0 for p, _ in a.terms)
            else dict(a.terms)
        )
        if (a.order is not None and a.order <= 0) or any(p < 0 or (not p and q > 1) for p, q in terms):
            if a.order is not None and a.order <= 0:
                raise Short
            _, _, c, _ = self.leading(Rough(dict(a.terms), a.order))
            if self.facts.is_negative(c):
                return Rough({}, FLAT)
            raise Unknown
        base, rate = terms.pop((mpq(0), 0), ZERO), terms.pop((mpq(0), 1), ZERO)
        if not (isinstance(rate, Number) and rate.is_rational):
            raise Unknown
        series = self.compose(Rough(terms, a.order), lambda k: number(mpq(1, fac(k))))
        outer, shift = EXP(base), -rate.rational
        order = None if series.order is None else series.order + shift
        return Rough({(p + shift, q): outer * c for (p, q), c in series.terms.items()}, order)

    # --- functions ---------------------------------------------------------------------------------------------------------

    def by_sign(self, node: Call, inner: Rough) -> Rough:
        _, _, c, _ = self.leading(inner)
        up = self.facts.is_positive(c)
        if not up and not self.facts.is_negative(c):
            raise Unknown
        if is_a(node, ABS, CBRT):
            size = inner if up else self.scaled(inner, number(-1))
            return size if is_a(node, ABS) else self.scaled(self.power(size, mpq(1, 3)), ONE if up else number(-1))
        return Rough({(mpq(0), 0): ONE if up else number(-1)} if up or is_a(node, SIGN) else {}, None)

    def by_step(self, node: Call, place: Expression | None, rest: Rough) -> Rough:
        """floor and ceil beside a number, and at a whole one by the side from which it is reached."""
        if not (isinstance(place, Number) and place.is_rational):
            raise Unknown
        value = call(node.name, place)
        if place.is_whole:
            _, _, c, _ = self.leading(rest)
            below = self.facts.is_negative(c)
            if not below and not self.facts.is_positive(c):
                raise Unknown
            value = value + (-1 if below and is_a(node, FLOOR) else 1 if not below and is_a(node, CEIL) else 0)
        return Rough({(mpq(0), 0): value} if value is not ZERO else {}, None)

    def taylor(self, plain: Expression, t: Name, place: Expression, rest: Rough) -> Rough:
        slopes = [plain]

        def coefficient(k: int) -> Expression:
            while len(slopes) <= k:
                if len(slopes) > MOST_SLOPES:
                    raise Unknown
                slopes.append(expand(differentiate(slopes[-1], t)))
            return substitute(slopes[k], {t: place}) / number(fac(k))

        return self.compose(rest, coefficient)

    def by_slope(self, node: Call, plain: Call, t: Name, argument: Expression, place: Expression | None) -> Rough:
        """The slope along u integrated term by term; the constant is the value where the function is continuous, or is known."""
        slope = differentiate(plain, t)
        if has_call(slope, (plain.name,)) or self.nested >= MOST_NESTED:
            raise Unknown
        self.nested += 1
        try:
            inner = self.of(substitute(slope, {t: argument}) * differentiate(argument, self.u))
        finally:
            self.nested -= 1
        if inner.order is not None and inner.order <= -1:
            raise Short
        terms: dict[Key, list[Expression]] = {}
        for (p, q), c in inner.terms.items():
            for key, share in _integrated(p, q):
                terms.setdefault(key, []).append(share * c)
        grown = Rough(_joined(terms), None if inner.order is None else inner.order + 1)
        start = self.start(node, plain, t, place, argument)
        without = {k: c for k, c in grown.terms.items() if k != (mpq(0), 0)}
        if start is not None and any(p < 0 or (not p and q) for p, q in without):
            raise Unknown
        if start is None:
            start = self.beside_logarithm(node, argument)
        return self.add([Rough({(mpq(0), 0): start} if start is not ZERO else {}, None), Rough(without, grown.order)])

    def start(self, node: Call, plain: Call, t: Name, place: Expression | None, argument: Expression) -> Expression | None:
        if place is not None:
            if has_no_break_at(plain, t, place, self.facts, kinks=False):
                return substitute(plain, {t: place})
            return None
        ends = node.function.at_infinity
        if ends is None:
            raise Unknown
        _, _, c, _ = self.leading(self.of(argument))
        if not (self.facts.is_positive(c) or self.facts.is_negative(c)):
            raise Unknown
        return ends[0 if self.facts.is_positive(c) else 1]()

    def beside_logarithm(self, node: Call, argument: Expression) -> Expression:
        """The limit of f(v) - ln|v| at v = 0 (DLMF 6.6.1, 6.6.2, 6.6.5), and ln|c| of v = c*u^p."""
        if not is_a(node, EI, CI, CHI):
            raise Unknown
        _, q, c, _ = self.leading(self.of(argument))
        if q:
            raise Unknown
        return constant("euler_gamma") + LN(c if self.facts.is_positive(c) else -c if self.facts.is_negative(c) else _unknown())


def _unknown() -> Expression:
    raise Unknown


def _joined(table: dict[Key, list[Expression]]) -> dict[Key, Expression]:
    joined = {k: listed[0] if len(listed) == 1 else expand(total(listed)) for k, listed in table.items()}
    return {k: c for k, c in joined.items() if c is not ZERO}


def _binomial(r: mpq, k: int) -> mpq:
    result = mpq(1)
    for j in range(k):
        result = result * (r - j) / (j + 1)
    return result


def _integrated(p: mpq, q: int) -> list[tuple[Key, Expression]]:
    """u^p*L^q from 0 on, or up to a constant: by parts, as the slope of L is -1/u."""
    if q < 0:
        raise Unknown  # logarithmic integrals
    if p == -1:
        return [((mpq(0), q + 1), number(mpq(-1, q + 1)))]
    found: list[tuple[Key, Expression]] = []
    share = mpq(1) / (p + 1)
    for j in range(q, -1, -1):
        found.append(((p + 1, j), number(share)))
        share = share * j / (p + 1)
    return found


QUOTIENTS = (TAN, COT, SEC, CSC, TANH, COTH, SECH, CSCH)


def _plainer(node: Node) -> Node:
    """Functions with poles as quotients of functions without any; acosh by its logarithm."""
    if is_a(node, ACOSH):
        z = node.arguments[0]
        return LN(z + power(z - 1, HALF) * power(z + 1, HALF))
    if is_a(node, *QUOTIENTS):
        u = node.arguments[0]
        s, c = (SIN(u), COS(u)) if node.name in (TAN, COT, SEC, CSC) else (SINH(u), COSH(u))
        return {TAN: s / c, COT: c / s, SEC: 1 / c, CSC: 1 / s, TANH: s / c, COTH: c / s, SECH: 1 / c, CSCH: 1 / s}[node.name]  # type: ignore[index]
    return node
