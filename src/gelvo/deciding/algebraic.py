"""Algebraic numbers: exact roots of polynomials, and the polynomial that a number made of radicals is a root of."""

from __future__ import annotations

from functools import lru_cache

from gmpy2 import mpq, mpz

from gelvo.errors import DomainError, Undecided
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression import known as bits
from gelvo.expression.building import algebraic_number, number, sqrt
from gelvo.expression.constants import ONE
from gelvo.expression.nodes import AlgebraicNumber, Expression, Name, Number
from gelvo.expression.registry import Hooks
from gelvo.expression.traversal import names
from gelvo.facts.store import Facts
from gelvo.forms.fractions import Form
from gelvo.forms.univariate import integer_coefficients
from gelvo.normal.prepare import prepared
from gelvo.normal.relations import is_unity
from gelvo.numbers.box import Box
from gelvo.numbers.interval import Arithmetic, Interval, NoValue
from gelvo.polynomial import dense, sparse
from gelvo.polynomial.factor_univariate import factor_square_free
from gelvo.polynomial.resultant import resultant
from gelvo.polynomial.roots import Disc, IsolatingInterval, isolate_complex, isolate_real, refine

Dense = dense.Dense
LARGEST_DEGREE = 400
MOST_BITS = 4000
MOST_COMPLEX_BITS = 8192


@lru_cache(maxsize=512)
def _real_intervals(coefficients: tuple[int, ...]) -> tuple[IsolatingInterval, ...]:
    return tuple(isolate_real([mpz(c) for c in coefficients]))


@lru_cache(maxsize=256)
def _discs(coefficients: tuple[int, ...], size: int) -> tuple[Disc, ...]:
    return tuple(isolate_complex([mpz(c) for c in coefficients], size))


@lru_cache(maxsize=1024)
def _real_root(coefficients: tuple[int, ...], index: int, size: int) -> tuple[mpq, mpq]:
    start = _real_root(coefficients, index, size // 2) if size > 64 else None
    ends = IsolatingInterval(*start) if start is not None else _real_intervals(coefficients)[index - 1]
    found = refine([mpz(c) for c in coefficients], ends, size)
    return found.low, found.high


def root_box(a: Arithmetic, coefficients: tuple[int, ...], index: int) -> Box:
    """The box of a root at the precision of an arithmetic."""
    size = 64
    while size < a.precision + 16:
        size *= 2
    if index <= len(_real_intervals(coefficients)):
        low, high = _real_root(coefficients, index, size)
        return Box(Interval(a.rational(low).low, a.rational(high).high))
    if size > MOST_COMPLEX_BITS:
        raise NoValue("a complex root to so many digits")
    try:
        disc = _discs(coefficients, size)[index - 1]
    except ArithmeticError as fault:
        raise NoValue(str(fault)) from None
    pieces = []
    for centre in (disc.real_part, disc.imaginary_part):
        pieces.append(Interval(a.rational(centre - disc.radius).low, a.rational(centre + disc.radius).high))
    return Box(pieces[0], pieces[1])


def _node(coefficients: Dense, index: int) -> Expression:
    """The root with a number of an irreducible polynomial; degrees one and two are written with rationals and square roots."""
    size = len(coefficients) - 1
    if size == 1:
        return number(mpq(-coefficients[0], coefficients[1]))
    if size == 2:
        c, b, a = (number(mpq(v)) for v in coefficients)
        step = sqrt(b * b - 4 * a * c)
        return (-b - step) / (2 * a) if index == 1 else (-b + step) / (2 * a)
    key = tuple(int(c) for c in coefficients)
    real = _real_intervals(key)
    if index > len(real):
        return algebraic_number(key, index, bits.NONZERO)
    precision = 64
    while True:
        low, high = _real_root(key, index, precision)
        if low >= 0 or high <= 0:
            return algebraic_number(key, index, bits.POSITIVE if low >= 0 else bits.NEGATIVE)
        precision *= 2


def root_of(coefficients: tuple[int, ...], index: int) -> Expression:
    """The index-th of the distinct roots of any polynomial with integer coefficients, constant term first."""
    whole = dense.trim([mpz(c) for c in coefficients])
    if len(whole) < 2:
        raise DomainError("polynomial_root needs a polynomial of degree one or more")
    if len(whole) - 1 > LARGEST_DEGREE:
        raise DomainError(f"polynomial_root takes degrees up to {LARGEST_DEGREE}")
    whole = dense.primitive(whole)
    if whole[-1] < 0:
        whole = dense.negate(whole)
    separate = dense.exact_quotient(whole, dense.gcd(whole, dense.derivative(whole))) or whole
    count = len(separate) - 1
    if not 1 <= index <= count:
        roots = "1 root" if count == 1 else f"{count} different roots"
        raise DomainError(f"the polynomial has {roots}: there is no number {index}")
    pieces = factor_square_free(separate)
    if len(pieces) == 1:
        return _node(pieces[0], index)
    size = 40
    while True:
        found = _place(separate, pieces, index, size)
        if found is not None:
            return _node(pieces[found[0]], found[1])
        size *= 2


def _place(whole: Dense, pieces: list[Dense], index: int, size: int) -> tuple[int, int] | None:
    """(number of the irreducible factor, number of the root in it) of one root of the product, or None: more digits are needed."""
    wanted = isolate_complex(whole, size)[index - 1]
    hits = []
    for i, piece in enumerate(pieces):
        for k, disc in enumerate(isolate_complex(piece, size), 1):
            x, y = disc.real_part - wanted.real_part, disc.imaginary_part - wanted.imaginary_part
            if x * x + y * y <= (disc.radius + wanted.radius) ** 2:
                hits.append((i, k))
    return hits[0] if len(hits) == 1 else None


def polynomial_root(p: Expression, k: object) -> Expression:
    """The k-th distinct root of a polynomial in one name: real roots ascending, then complex ones by real part.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> print(polynomial_root(x**5 - x - 1, 1))
    polynomial_root(x^5 - x - 1, 1)
    >>> print(polynomial_root(x**3 - 1, 1))
    1
    """
    used = sorted(names(p), key=lambda n: n.name)
    if len(used) != 1:
        raise DomainError("polynomial_root needs a polynomial in exactly one name with rational coefficients")
    index = int(k.rational) if isinstance(k, Number) and k.is_whole else k
    if not isinstance(index, int):
        raise DomainError(f"the number of a root is 1, 2, …, not {k}")
    coefficients = integer_coefficients(p, used[0])
    if coefficients is None:
        raise DomainError(f"polynomial_root needs a polynomial with rational coefficients, not {p}")
    return root_of(tuple(int(c) for c in coefficients), index)


def minimal_polynomial(value: Expression) -> Dense | None:
    """The irreducible integer polynomial of an algebraic number, constant term first; None where the number is not seen to be one.

    Method: resultants with the polynomial of each root in it, factored at each step; bounded evaluation tells which factor.

    >>> from gelvo.expression.building import number, power
    >>> half = number(mpq(1, 2))
    >>> [int(c) for c in minimal_polynomial(power(number(2), half) + power(number(3), half))]
    [1, 0, -10, 0, 1]
    """
    if names(value):
        return None
    ready = prepared(value, Facts())
    form = Form([ready])
    quotient = form.of(ready)
    top, bottom = quotient.top, form.denominator(quotient)
    count = len(form.generators)
    unknown, imaginary = count, count + 1
    relations: dict[int, sparse.Polynomial] = {}
    for (base, unit), index in form.generators.items():
        relation = _relation(form, base, unit, index, form.roots_of[(base, unit)])
        if relation is None:
            return None
        relations[index] = relation
    current = sparse.subtract(sparse.multiply(sparse.variable(unknown), bottom), top)
    if any(sparse.has_gaussian(p) for p in (current, *relations.values())):
        current = sparse.without_imaginary(current, imaginary)
        relations = {k: sparse.without_imaginary(p, imaginary) for k, p in relations.items()}
        relations[imaginary] = {2 << (sparse.BITS * imaginary): mpq(1), 0: mpq(1)}
    for index in sorted(relations, key=lambda i: -_depth(form, i)):
        if sparse.degree(current, index) > 0:
            current = resultant(relations[index], current, index)
            if not current:
                return None
    candidates = _candidates(current, unknown)
    return None if candidates is None else _vanishing_at(candidates, value)


def _candidates(polynomial: sparse.Polynomial, unknown: int) -> list[Dense] | None:
    """The irreducible factors of a polynomial in the unknown; None where it is constant or its degree too high."""
    column = [mpz(0)] * (sparse.degree(polynomial, unknown) + 1)
    for m, c in sparse.primitive(polynomial)[1].items():
        column[sparse.exponent_of(m, unknown)] = c.numerator
    if len(column) < 2 or len(column) - 1 > LARGEST_DEGREE:
        return None
    separate = dense.exact_quotient(dense.primitive(column), dense.gcd(column, dense.derivative(column)))
    return factor_square_free(dense.primitive(separate or column))


def _depth(form: Form, index: int) -> int:
    bases = list(form.generators)
    return bases[index][0].depth if index < len(bases) else -1


def _relation(form: Form, base: Expression, unit: Expression, index: int, degree: int) -> sparse.Polynomial | None:
    shift = sparse.BITS * index
    if is_unity(base, unit):
        return {k << shift: mpq(c) for k, c in enumerate(dense.cyclotomic(2 * degree)) if c}
    if unit is not ONE:
        return None
    if isinstance(base, AlgebraicNumber) and degree == 1:
        return {k << shift: mpq(c) for k, c in enumerate(base.coefficients) if c}
    if degree > 1:
        inner = form.convert().get(base)
        if inner is None:
            if not isinstance(base, Number):
                return None
            return sparse.add({degree << shift: mpq(1)}, sparse.constant(-base.value))
        left = sparse.multiply({degree << shift: mpq(1)}, form.denominator(inner))
        return sparse.subtract(left, inner.top)
    return None


def _vanishing_at(candidates: list[Dense], value: Expression) -> Dense | None:
    """The one polynomial that may vanish at a number; the number is known to be a root of one of them."""
    precision = 64
    while len(candidates) > 1 and precision <= MOST_BITS:
        left = []
        for p in candidates:
            total: Expression = number(0)
            for c in reversed(p):
                total = total * value + number(c)
            try:
                if Enclosure(total).at({}, precision).contains_zero():
                    left.append(p)
            except NoValue:
                left.append(p)
        candidates, precision = left, precision * 2
    return candidates[0] if len(candidates) == 1 else None


def as_root(value: Expression) -> Expression | None:
    """An algebraic number as a root of its irreducible polynomial (or with square roots, where that has degree two)."""
    coefficients = minimal_polynomial(value)
    if coefficients is None:
        return None
    if len(coefficients) <= 3:
        if len(coefficients) == 2:
            return _node(coefficients, 1)
        candidates = [_node(coefficients, k) for k in (1, 2)]
        return next((c for c in candidates if _near(c, value)), None)
    key = tuple(int(c) for c in coefficients)
    precision = 64
    while precision <= MOST_BITS:
        box = Enclosure(value).at({}, precision)
        hits = []
        for k in range(1, len(key)):
            other = Enclosure(_node(coefficients, k)).at({}, precision)
            if _meet(box, other):
                hits.append(k)
        if len(hits) == 1:
            return _node(coefficients, hits[0])
        precision *= 2
    raise Undecided(f"which root of its polynomial {value} is stayed open")


def _near(one: Expression, other: Expression) -> bool:
    return Enclosure(one - other).at({}, 256).contains_zero()


def _meet(one: Box, other: Box) -> bool:
    pairs = [(one.real, other.real)]
    if one.imag is not None or other.imag is not None:
        zero = Interval(one.real.low * 0, one.real.low * 0)
        pairs.append((one.imag or zero, other.imag or zero))
    return all(a.low <= b.high and b.low <= a.high for a, b in pairs)


def divides_as_root(value: Expression, g: Expression, x: Name) -> bool:
    """Whether the polynomial of an exact root divides the polynomial g in x: then g is zero there.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> divides_as_root(polynomial_root(x**5 - x - 1, 1), x**6 - x**2 - x, x)
    True
    """
    if not isinstance(value, AlgebraicNumber):
        return False
    whole = integer_coefficients(g, x)
    return whole is not None and dense.exact_quotient(whole, [mpz(c) for c in value.coefficients]) is not None


def all_roots(coefficients: Dense) -> list[Expression]:
    """All roots of an irreducible polynomial: with square roots for degree two, else as exact numbered roots."""
    return [_node(coefficients, k) for k in range(1, len(coefficients))]


def conjugates(value: AlgebraicNumber) -> list[Expression]:
    """All roots of the polynomial of an algebraic number, itself included."""
    return all_roots([mpz(c) for c in value.coefficients])


Hooks.polynomial_root = staticmethod(root_of)
Hooks.root_box = staticmethod(root_box)
