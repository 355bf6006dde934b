"""The normal form behind every proof of equality: functions by exponentials, logarithms and roots of independent parts.

A difference whose numerator is the zero polynomial after the relations of its generators is zero: that is a proof. Numbers
that remain are decided by a bound on the size of algebraic integers: a non-zero one has a norm of at least 1.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import gmpy2
from gmpy2 import mpq, mpz

from gelvo.algebra.expanding import expand
from gelvo.algebra.facts import Facts
from gelvo.algebra.fractions import IMAGINARY, PI, UNIT, Form, Quotient, exponent_parts
from gelvo.algebra.undoing import undone
from gelvo.errors import DomainError, Undecided
from gelvo.evaluation.enclose import enclose
from gelvo.expression import known as bits
from gelvo.expression.building import call, looks_negative, multiply_all, name, number, power, scale, total, weighted_terms
from gelvo.expression.nodes import (
    AlgebraicNumber,
    Applied,
    Bound,
    Call,
    Cases,
    Condition,
    Constant,
    Expression,
    Name,
    Node,
    Number,
    Power,
    Product,
    Sum,
    Written,
)
from gelvo.expression.traversal import names, postorder, rebuild, substitute
from gelvo.functions.bessel import half_order
from gelvo.numbers.exact import HALF, ONE, Gaussian, parts, small_factors
from gelvo.numbers.interval import NoValue
from gelvo.numbers.interval import floor as floor_of
from gelvo.polynomial import sparse
from gelvo.polynomial.dense import cyclotomic
from gelvo.polynomial.sparse import Polynomial

HALF_NODE = number(HALF)
LARGEST_SHIFT = 60
LARGEST_FACT_DEGREE, FACT_STEPS = 2000, 300_000
FEW_WAVES = 4
# C(n+1) = up*2*n/x*C(n) + back*C(n-1) (DLMF 10.6.1, 10.29.1); the second kinds of order n+1 follow from Wronskians
BESSEL = {"besselj": (1, -1), "bessely": (1, -1), "besseli": (-1, 1), "besselk": (1, 1)}
WRONSKIAN = {"bessely": "besselj", "besselk": "besseli"}
MOST_GAMMA_FACTORS = 6


def prepared(root: Expression, facts: Facts, waves: bool = True) -> Expression:
    """The formula with functions rewritten to few kinds of generators; `waves` turns sine and cosine into exponentials."""
    done: dict[Node, Any] = {}
    for node in postorder(root):
        children = node.children
        new = tuple([done[c] for c in children])
        if isinstance(node, Call):
            left = undone(node, facts)
            done[node] = _prepared_call(node, new, facts, waves) if left is None else prepared(left, facts, waves)
        elif isinstance(node, Power):
            nested = _opened_root(node, facts)
            if nested is not node:
                done[node] = prepared(nested, facts, waves)
                continue
            square = _square_of_wave(node) if waves else None
            if square is not None:
                plain = _prepared_power(square, node.exponent, facts)
                done[node] = prepared(plain, facts) if plain is not node else _prepared_power(new[0], new[1], facts)
            else:
                done[node] = _prepared_power(new[0], new[1], facts)
        elif isinstance(node, (Written, Cases, Condition)):
            done[node] = node
        else:
            changed = any(a is not b for a, b in zip(new, children, strict=True))
            made = rebuild(node, new) if changed else node
            done[node] = _merged_signs(made) if isinstance(made, Product) else made
    return done[root]  # type: ignore[no-any-return]


def _opened_root(node: Power, facts: Facts) -> Expression:
    """sqrt(x + 2*sqrt(x - 1)) as sqrt(x - 1) + 1, where the facts allow it."""
    if not names(node.base) or not isinstance(node.base, Sum):
        return node  # numbers are decided exactly without this
    from gelvo.algebra.rewriting.roots import denested

    return denested(node, facts)


def _square_of_wave(node: Power) -> Expression | None:
    """The radicand of a root as a product, where it is a square of waves: 1 - sin(x)^2, or 1 - cos(x)."""
    if not isinstance(node.exponent, Number) or node.exponent.is_whole or not isinstance(node.base, Sum):
        return None
    waves = [n for n in postorder(node.base) if isinstance(n, Call) and n.name in ("sin", "cos")]
    if not waves or len(node.base.terms) > FEW_WAVES:
        return None
    from gelvo.algebra.rewriting.waves import single_angles

    for part in (1, 2):
        for keep in ("sin", "cos"):
            found = single_angles(node.base, keep, part)
            if isinstance(found, (Product, Power)) and not any(isinstance(n, Sum) for n in postorder(found)):
                return found
    return None


def _merged_signs(product: Product) -> Expression:
    """u*sign(u) as |u|, which always holds, and sign(u)/|u|^k as u/|u|^(k + 1), which has the same domain."""
    for factor in product.factors:
        if isinstance(factor, Call) and factor.name == "sign":
            inside = factor.arguments[0]
            bars = call("abs", inside)
            rest = [f for f in product.factors if f is not factor]
            below = any(isinstance(f, Power) and f.base is bars and bits.is_negative(f.exponent.known) for f in rest)
            if inside in rest:
                rest.remove(inside)
                return multiply_all([number(product.coefficient), bars, *rest])
            if bars in rest:
                rest.remove(bars)
                return multiply_all([number(product.coefficient), inside, *rest])
            if below:
                return multiply_all([number(product.coefficient), inside, power(bars, number(-1)), *rest])
    return product


def _is_elementary(node: Expression) -> bool:
    return isinstance(node, (Number, Name, Constant, AlgebraicNumber, Applied))


def tidy(node: Expression, facts: Facts) -> Expression:
    """An argument in lowest terms and expanded, so that equal arguments become the same node."""
    if _is_elementary(node) or isinstance(node, Bound):
        return node
    form = Form([node], facts)
    top, bottom = form.lowest_terms(form.of(node))
    top, factor = reduced_with_factor(form, top)
    upper, lower = form.expression(top), form.expression(sparse.multiply(bottom, factor))
    if isinstance(lower, Number):
        return expand(upper / lower)
    if isinstance(upper, Sum):
        inverse = power(lower, number(-1))
        return total([multiply_all((t, inverse, number(c))) for t, c in upper.items()] + [scale(inverse, upper.constant)])
    return upper / lower


def _prepared_call(node: Call, arguments: tuple[Expression, ...], facts: Facts, waves: bool) -> Expression:
    name, function = node.function.name, node.function
    turned = angle_of_number(node) if len(node.arguments) == 1 else None
    if turned is not None:
        return turned
    arguments = tuple([tidy(a, facts) for a in arguments])
    if function.even:
        arguments = (_without_bars(arguments[0], facts),)
    if name in BESSEL:
        return _bessel(name, arguments[0], arguments[1], facts)
    if name in _SPECIAL:
        return _SPECIAL[name](arguments[0], facts)
    if name in ("sin", "cos") and waves:
        return _wave(name, arguments[0], facts)
    if function.as_elementary is not None and (name not in ("tan", "cot", "sec", "csc") or waves):
        return prepared(function.as_elementary(*arguments), facts, waves)
    return call(name, *arguments)


def _without_bars(x: Expression, facts: Facts) -> Expression:
    """2*|u|/|v| as 2*u/v with real u and v, which is the same but for its sign."""
    if not isinstance(x, (Call, Power, Product)):
        return x
    plain: list[Expression] = [number(getattr(x, "coefficient", ONE))]
    for factor in x.factors if isinstance(x, Product) else (x,):
        base, k = (factor.base, factor.exponent) if isinstance(factor, Power) else (factor, UNIT)
        if isinstance(base, Call) and base.name == "abs" and _odd(k) and facts.is_real(base.arguments[0]):
            factor = power(base.arguments[0], k)
        plain.append(factor)
    return multiply_all(plain)


def _wave(name: str, x: Expression, facts: Facts) -> Expression:
    up, down = _exponential(IMAGINARY * x, facts), _exponential(-(IMAGINARY * x), facts)
    if name == "cos":
        return expand((up + down) / 2)
    return expand((up - down) * number(Gaussian(mpq(0), -HALF)))


def _inverse_wave(unit: Expression) -> Expression | None:
    """exp(1j*asin(x)) and its like, which are algebraic in x."""
    if not isinstance(unit, Call):
        return None
    x = unit.arguments[0]
    if unit.name == "atan2":  # the direction of the point (y, x)
        across = unit.arguments[1]
        return (across + IMAGINARY * x) * power(across**2 + x**2, -HALF_NODE)
    root = power(1 - x * x, HALF_NODE)
    table: dict[str, Callable[[], Expression]] = {
        "asin": lambda: root + IMAGINARY * x,
        "atan": lambda: (1 + IMAGINARY * x) / power(1 + x * x, HALF_NODE),
    }
    entry = table.get(unit.name)
    return None if entry is None else entry()


def _exponential(argument: Expression, facts: Facts) -> Expression:
    """exp of a sum, with exp(1j*k*asin(x)) written out for integers k."""
    argument = expand(argument)
    pieces: list[Expression] = []
    for coefficient, unit in exponent_parts(argument):
        inner = unit * -IMAGINARY
        if coefficient.denominator == 1 and isinstance(unit, Call) and unit.name in ("lambertw", "lambertw_lower"):
            pieces.append(power(unit.arguments[0] / unit, number(coefficient)))  # exp(W(z)) = z/W(z)
            continue
        algebraic = _inverse_wave(inner) if coefficient.denominator == 1 else None
        if algebraic is not None:
            pieces.append(prepared(power(algebraic, number(coefficient)), facts))
            continue
        if coefficient.denominator == 1 and _integer_over_pi(inner, facts):
            if coefficient % 2:
                quotient = _parity(inner / PI)
                pieces.append(power(number(-1), -quotient if looks_negative(quotient) else quotient))
            continue
        pieces.append(call("exp", scale(unit, coefficient)))
    return multiply_all(pieces)


def _parity(exponent: Expression) -> Expression:
    """A polynomial in integers modulo 2: n^k is n, and even coefficients go."""
    terms: list[Expression] = []
    expanded = expand(exponent)
    for term, c in weighted_terms(expanded):
        factors = term.factors if isinstance(term, Product) else (term,)
        plain = all(
            isinstance(f, Name) or (isinstance(f, Power) and isinstance(f.base, Name) and _is_natural(f)) for f in factors
        )
        if not plain or isinstance(c, Gaussian) or c.denominator != 1:
            return exponent
        if c % 2:
            terms.append(multiply_all([f.base if isinstance(f, Power) else f for f in factors]))
    constant_part = expanded.constant if isinstance(expanded, Sum) else mpq(0)
    if isinstance(constant_part, Gaussian) or constant_part.denominator != 1:
        return exponent
    return total([*terms, number(constant_part % 2)])


def _is_natural(node: Power) -> bool:
    return isinstance(node.exponent, Number) and node.exponent.is_whole and node.exponent.rational > 0


def _integer_over_pi(inner: Expression, facts: Facts) -> bool:
    quotient = inner / PI
    return not isinstance(quotient, Number) and facts.is_integer(quotient)


def _prepared_ln(x: Expression, facts: Facts) -> Expression:
    """The logarithm of a product split where signs allow, of integers into primes."""
    if isinstance(x, Number):
        if x.is_rational and x.rational > 0:
            pieces = []
            for integer, factor in ((x.rational.numerator, 1), (x.rational.denominator, -1)):
                for prime, times in small_factors(integer):
                    pieces.append(scale(call("ln", number(mpq(prime))), mpq(factor * times)))
            return total(pieces)
        real, imag = parts(x.value)
        if imag:  # the principal logarithm of a complex number
            size = _prepared_ln(number(real * real + imag * imag), facts) / 2
            return size + IMAGINARY * call("atan2", number(imag), number(real))
        return call("ln", x)
    content, factors = _factors(x)
    if content == 0:
        return call("ln", x)
    outside: list[Expression] = []
    inside: list[Expression] = []
    if content < 0:
        inside.append(number(-1))
    if abs(content) != 1:
        outside.append(_prepared_ln(number(abs(content)), facts))
    for base, exponent in factors:
        mask = facts.decide(base)
        real_exponent = facts.is_real(exponent)
        if bits.is_positive(mask) and real_exponent:
            outside.append(multiply_all((exponent, _ln_of_size(base, base, facts))))
        elif bits.is_real(mask) and _even(exponent):
            outside.append(multiply_all((exponent, call("ln", _absolute(base, facts)))))
        elif bits.is_negative(mask) and _odd(exponent):
            inside.append(number(-1))
            outside.append(multiply_all((exponent, _ln_of_size(base, tidy(-base, facts), facts))))
        else:
            inside.append(power(base, exponent))
    rest = multiply_all(inside)
    if rest is not UNIT:
        outside.append(call("ln", tidy(rest, facts)))
    return total(outside)


def _ln_of_size(base: Expression, size: Expression, facts: Facts) -> Expression:
    """The logarithm of a positive size = base or -base; of w = W(z), which is real, it is ln(z/w*size) - w, as exp(w) = z/w."""
    if isinstance(base, Call) and base.name in ("lambertw", "lambertw_lower"):
        z = base.arguments[0]
        return _prepared_ln(z if size is base else -z, facts) - base
    return call("ln", size)


def _even(exponent: Expression) -> bool:
    return isinstance(exponent, Number) and exponent.is_whole and not exponent.rational % 2


def _odd(exponent: Expression) -> bool:
    return (
        isinstance(exponent, Number)
        and exponent.is_rational
        and exponent.rational.denominator == 1
        and bool(exponent.rational % 2)
    )


def _factors(x: Expression) -> tuple[mpq, list[tuple[Expression, Expression]]]:
    """(rational content, [(base, exponent)]) of a formula, factored over the rationals."""
    form = Form([x])
    top, bottom = form.lowest_terms(form.of(x))
    if sparse.has_gaussian(top) or sparse.has_gaussian(bottom) or not top:
        return mpq(0), []
    product = multiply_all((form.factored(top), power(form.factored(bottom), number(-1))))
    content: Any = getattr(product, "coefficient", ONE)
    if isinstance(product, Number):
        return (product.rational, []) if product.is_rational else (mpq(0), [])
    if isinstance(content, Gaussian):
        return mpq(0), []
    pieces = getattr(product, "factors", None) if hasattr(product, "coefficient") else None
    result: list[tuple[Expression, Expression]] = []
    for factor in pieces if pieces is not None else (product,):
        if isinstance(factor, Power):
            result.append((factor.base, factor.exponent))
        elif isinstance(factor, Call) and factor.name == "exp":
            result.append((call("exp", UNIT), factor.arguments[0]))
        else:
            result.append((factor, UNIT))
    return content, result


def _rounded(name: str) -> Callable[[Expression, Facts], Expression]:
    def work(x: Expression, facts: Facts) -> Expression:
        if facts.is_integer(x):
            return x
        known = _whole_part(x, name == "ceil") if not isinstance(x, Number) and not names(x) else None
        return call(name, x) if known is None else known

    return work


def _whole_part(x: Expression, up: bool) -> Expression | None:
    """The floor (or ceiling) of a number by bounds, as precise as its size asks; None where they do not tell."""
    precision = 64
    while precision <= 4096:
        try:
            box = enclose(x, {}, precision)
        except (NoValue, DomainError, Undecided):
            return None
        if box.imag is not None:
            return None
        low, high = floor_of(box.real.low), floor_of(box.real.high)
        if low == high and box.real.low != low:
            return number(low + 1 if up else low)
        precision *= 2
    return None


def _absolute(x: Expression, facts: Facts) -> Expression:
    """|x| by its factors; signs that are known drop out."""
    mask = facts.decide(x)
    if bits.is_nonnegative(mask):
        return x
    if bits.is_nonpositive(mask):
        return tidy(-x, facts)
    if not bits.is_real(mask):
        found = _complex_size(x, facts)
        if found is not None:
            return found
    content, factors = _factors(x)
    if content == 0:
        return call("abs", x)
    pieces: list[Expression] = [number(abs(content))]
    for base, exponent in factors:
        inner = facts.decide(base)
        if bits.is_nonnegative(inner) and facts.is_real(exponent):
            pieces.append(power(base, exponent))
        elif bits.is_nonpositive(inner) and isinstance(exponent, Number):
            pieces.append(power(tidy(-base, facts), exponent))
        elif _even(exponent) and bits.is_real(inner):
            pieces.append(power(base, exponent))
        elif isinstance(exponent, Number):
            pieces.append(power(call("abs", base), exponent))
        else:
            pieces.append(call("abs", power(base, exponent)))
    return multiply_all(pieces)


def _complex_size(x: Expression, facts: Facts) -> Expression | None:
    """|x| as the root of x times its conjugate, where that is written without `conj`."""
    mirrored = call("conj", x)
    if any(isinstance(n, Call) and n.name in ("conj", "abs") for n in postorder(mirrored)):
        return None
    if not all(facts.is_real(n) for n in postorder(x) if isinstance(n, (Name, Applied))):
        return None
    return _prepared_power(prepared(x * mirrored, facts), HALF_NODE, facts)


def _gamma(x: Expression, facts: Facts) -> Expression:
    """gamma by shifts, reflection and multiplication (DLMF 5.5): the argument becomes u + s with a primitive u and 0 < s <= 1."""
    x = expand(x)
    rest, s = (total((x, number(-x.constant))), x.constant) if isinstance(x, Sum) else (x, mpq(0))
    if isinstance(x, Number):
        rest, s = number(0), x.value
    if isinstance(s, Gaussian):
        return call("gamma", x)
    if isinstance(rest, Number):
        if s.denominator == 1 or abs(s) > LARGEST_SHIFT:
            return call("gamma", x)
        if (s < mpq(1, 2) and s != mpq(1, 2) and s < 0) or s > 1:
            return _shifted_gamma(rest, s, facts)
        if mpq(1, 2) < s < 1:
            return prepared(PI / (call("sin", PI * s) * call("gamma", number(1 - s))), facts)
        return call("gamma", x)
    turned = looks_negative(rest) and not looks_negative(tidy(expand(1 - x), facts))
    if turned and not facts.is_integer(rest):  # at whole numbers the reflection meets poles
        return prepared(PI / (call("sin", PI * x) * call("gamma", 1 - x)), facts)
    coefficients = rest.coefficients if isinstance(rest, Sum) else (getattr(rest, "coefficient", ONE),)
    if not any(isinstance(c, Gaussian) or c.denominator != 1 for c in coefficients):
        common = int(gmpy2.gcd(*[c.numerator for c in coefficients], 0))  # type: ignore[union-attr]
        if 2 <= common <= MOST_GAMMA_FACTORS:
            u = scale(rest, mpq(1, common))
            pieces = [_gamma(u + number((s + k) / common), facts) for k in range(common)]
            outside = power(2 * PI, number(mpq(1 - common, 2))) * power(number(common), x - HALF_NODE)
            return multiply_all([prepared(outside, facts), *pieces])
    return _shifted_gamma(rest, s, facts)


def _shifted_gamma(u: Expression, s: mpq, facts: Facts) -> Expression:
    if abs(s) > LARGEST_SHIFT:
        return call("gamma", u + number(s))
    factors: list[Expression] = []
    while s > 1:
        s -= 1
        factors.append(u + number(s))
    while s <= 0:
        factors.append(power(u + number(s), number(-1)))
        s += 1
    return multiply_all([*factors, _gamma(number(s), facts) if isinstance(u, Number) else call("gamma", u + number(s))])


def _digamma(x: Expression, facts: Facts) -> Expression:
    """digamma(u + s) by shifts (DLMF 5.5.2), with 0 < s <= 1."""
    x = expand(x)
    constant_part = x.constant if isinstance(x, Sum) else mpq(0)
    if isinstance(x, Number) or isinstance(constant_part, Gaussian) or abs(constant_part) > LARGEST_SHIFT:
        return call("digamma", x)
    s, u = constant_part, total((x, number(-constant_part)))
    terms: list[Expression] = []
    while s > 1:
        s -= 1
        terms.append(1 / (u + number(s)))
    while s <= 0:
        terms.append(-1 / (u + number(s)))
        s += 1
    return total([*terms, call("digamma", u + number(s))])


def _heaviside(x: Expression, facts: Facts) -> Expression:
    if facts.is_positive(x):
        return UNIT
    return number(0) if facts.is_negative(x) else call("heaviside", x)


def _lambertw(x: Expression, facts: Facts) -> Expression:
    """W(y*exp(y)) is y for y >= -1."""
    y = _beside_own_exponential(x)
    return y if y is not None and facts.is_nonnegative(y + 1) else call("lambertw", x)


def _lambertw_lower(x: Expression, facts: Facts) -> Expression:
    """The lower branch of y*exp(y) is y for y <= -1."""
    y = _beside_own_exponential(x)
    return y if y is not None and facts.is_nonpositive(y + 1) else call("lambertw_lower", x)


def _beside_own_exponential(x: Expression) -> Expression | None:
    """y where x is y*exp(y)."""
    factors = x.factors if isinstance(x, Product) else ()
    for factor in factors:
        if isinstance(factor, Call) and factor.name == "exp":
            y = multiply_all([number(x.coefficient), *[f for f in factors if f is not factor]])  # type: ignore[attr-defined]
            if factor.arguments[0] is y:
                return y
    return None


def _loggamma(x: Expression, facts: Facts) -> Expression:
    return _prepared_ln(_gamma(x, facts), facts) if facts.is_positive(x) else call("loggamma", x)


def _bessel(kind: str, order: Expression, x: Expression, facts: Facts) -> Expression:
    """Bessel functions of two neighbouring orders by recurrence, the second kind of the higher one by the Wronskian."""
    order = expand(order)
    s = order.constant if isinstance(order, Sum) else order.value if isinstance(order, Number) else mpq(0)
    if isinstance(s, Gaussian) or abs(s) > LARGEST_SHIFT:
        return call(kind, order, x)
    wanted = int(s.numerator // s.denominator)
    current = total((order, number(-wanted)))
    one, two = _bessel_pair(kind, current, x)  # of the orders `current` and `current + 1`
    up, back = BESSEL[kind]
    for _ in range(abs(wanted)):
        if wanted > 0:  # C(n+2) from C(n) and C(n+1)
            one, two = two, up * 2 * (current + 1) / x * two + back * one
            current = current + 1
        else:  # C(n-1) from C(n) and C(n+1)
            one, two = back * (two - up * 2 * current / x * one), one
            current = current - 1
    return prepared_sum(one, facts)


def _bessel_pair(kind: str, first: Expression, x: Expression) -> tuple[Expression, Expression]:
    half = half_order(kind, first.rational, x) if isinstance(first, Number) else None
    if half is not None:
        return half, _half_order_above(kind, x)
    low = call(kind, first, x)
    partner = WRONSKIAN.get(kind)
    if partner is None:
        return low, call(kind, first + 1, x)
    top, bottom = call(partner, first + 1, x), call(partner, first, x)
    return low, (top * low - 2 / (PI * x)) / bottom if kind == "bessely" else (1 / x - top * low) / bottom


def _half_order_above(kind: str, x: Expression) -> Expression:
    """Order 3/2 from 1/2 and -1/2."""
    sign_up, sign_back = BESSEL[kind]
    half = half_order(kind, HALF, x)
    below = half_order(kind, -HALF, x)
    assert half is not None and below is not None
    return sign_up / x * half + sign_back * below


def prepared_sum(e: Expression, facts: Facts) -> Expression:
    """A combination of Bessel functions whose other parts are still to be prepared."""
    stable = {n: name_for(i) for i, n in enumerate(postorder(e)) if isinstance(n, Call) and n.name in BESSEL}
    back = {v: k for k, v in stable.items()}
    return substitute(prepared(substitute(e, stable), facts), back) if stable else prepared(e, facts)  # type: ignore[arg-type]


def name_for(place: int) -> Expression:
    return name(f"bessel place {place}")


def _sign(x: Expression, facts: Facts) -> Expression:
    mask = facts.decide(x)
    if bits.is_positive(mask):
        return UNIT
    if bits.is_negative(mask):
        return number(-1)
    if bits.is_nonzero(mask):
        return x / _absolute(x, facts)
    return call("sign", x)


_WAVE_OF = {"asin": "sin", "acos": "cos", "atan": "tan"}


def angle_of_number(node: Call) -> Expression | None:
    """asin(sin(c)), acos(cos(c)) and atan(tan(c)) of numbers, moved into the range of the inverse."""
    x = node.arguments[0]
    wave = _WAVE_OF.get(node.name)
    if wave is None or not (isinstance(x, Call) and x.name == wave and not names(x) and bits.is_real(x.arguments[0].known)):
        return None
    c = x.arguments[0]
    turns = _whole_part(c / PI + (0 if wave == "cos" else HALF), False)
    if not isinstance(turns, Number):
        return None
    k = int(turns.rational)
    if wave == "cos":  # c - k*pi lies in (0, pi); an odd k turns it round
        return c - k * PI if k % 2 == 0 else (k + 1) * PI - c
    moved = c - k * PI
    return moved if wave == "tan" or k % 2 == 0 else -moved


def _cbrt(x: Expression, facts: Facts) -> Expression:
    mask = facts.decide(x)
    if bits.is_nonnegative(mask):
        return _prepared_power(x, number(mpq(1, 3)), facts)
    if bits.is_nonpositive(mask):
        return -_prepared_power(-x, number(mpq(1, 3)), facts)
    content, factors = _factors(x)
    outside: list[Expression] = []
    inside: list[Expression] = [number(content)]
    for base, k in factors:  # cubes of real numbers come out, whatever their sign
        if isinstance(k, Number) and k.is_whole and abs(k.rational) >= 3 and facts.is_real(base):
            whole, rest = divmod(int(k.rational), 3)
            outside.append(power(base, number(whole)))
            inside.append(power(base, number(rest)))
        else:
            inside.append(power(base, k))
    return multiply_all([*outside, _cbrt(multiply_all(inside), facts)]) if outside else call("cbrt", x)


_SPECIAL: dict[str, Callable[[Expression, Facts], Expression]] = {
    "exp": _exponential,
    "ln": _prepared_ln,
    "abs": _absolute,
    "floor": _rounded("floor"),
    "ceil": _rounded("ceil"),
    "sign": _sign,
    "cbrt": _cbrt,
    "gamma": _gamma,
    "digamma": _digamma,
    "loggamma": _loggamma,
    "lambertw": _lambertw,
    "lambertw_lower": _lambertw_lower,
    "heaviside": _heaviside,
}


def _prepared_power(base: Expression, exponent: Expression, facts: Facts) -> Expression:
    if isinstance(base, Call) and base.name == "abs" and isinstance(exponent, Number) and exponent.is_whole:
        inside = base.arguments[0]
        if exponent.rational % 2 == 0 and not facts.is_real(inside):  # |z|^2 is z*conj(z)
            return _prepared_power(prepared(inside * call("conj", inside), facts), exponent / 2, facts)
    if isinstance(exponent, Number) and exponent.is_whole:
        if isinstance(base, Call) and base.name == "cbrt" and abs(exponent.rational) >= 3:
            whole, rest = divmod(int(exponent.rational), 3)
            return multiply_all([power(base.arguments[0], number(whole)), power(base, number(rest))])
        return power(base, exponent)
    if isinstance(base, Number) and base.value == -1 and names(exponent):
        for shift, value in ((0, 1), (1, -1)):  # even and odd
            if facts.is_integer(expand((exponent + shift) / 2)):
                return number(value)
    if isinstance(exponent, Number) and exponent.is_rational and isinstance(base, (Product, Power)):
        outside, base = _known_roots(base, exponent.rational, facts)
        if outside:
            return multiply_all([*outside, _prepared_power(base, exponent, facts)])
    if not _is_elementary(base):
        base = tidy(base, facts)
    if not _is_elementary(exponent):
        exponent = tidy(exponent, facts)
    if isinstance(base, Number) and not base.value and facts.is_positive(exponent):
        return base
    if isinstance(base, Number) and base.value == -1 and facts.is_integer(exponent):
        return power(base, _parity(exponent))
    if isinstance(base, Number):
        if not isinstance(exponent, Number) or not exponent.is_rational:
            inverse = base.is_rational and base.rational > 0 and _below_is_logarithm(exponent)
            if not base.is_rational or (isinstance(exponent, Number) and base.rational < 0) or inverse:
                return _exponential(tidy(exponent * _prepared_ln(base, facts), facts), facts)
        return power(base, exponent)
    if isinstance(exponent, Number) and exponent.is_rational:
        return _root(base, exponent.rational, facts)
    if _below_is_logarithm(exponent) and facts.is_positive(base):
        return _exponential(tidy(exponent * _prepared_ln(base, facts), facts), facts)
    if facts.is_integer(exponent) or facts.is_positive(base):
        content, factors = _factors(base)
        if content < 0 and facts.is_integer(exponent):
            return multiply_all([_prepared_power(number(-1), exponent, facts), _prepared_power(-base, exponent, facts)])
        if content > 0 and (facts.is_integer(exponent) or all(facts.is_positive(b) for b, _ in factors)):
            return multiply_all([power(number(content), exponent), *[power(b, tidy(k * exponent, facts)) for b, k in factors]])
    return power(base, exponent)


def _below_is_logarithm(exponent: Expression) -> bool:
    """Whether an exponent is a quotient by a logarithm, as in 2^(ln(3)/ln(2)), or 10^(x/(ln(2) + ln(5)))."""
    terms = exponent.terms if isinstance(exponent, Sum) else (exponent,)
    factors = [f for t in terms for f in (t.factors if isinstance(t, Product) else (t,))]
    below = [f.base for f in factors if isinstance(f, Power)]
    return any(
        all(isinstance(t, Call) and t.name == "ln" for t in (b.terms if isinstance(b, Sum) and not b.constant else (b,)))
        for b in below
    )


def _known_roots(base: Product | Power, q: mpq, facts: Facts) -> tuple[list[Expression], Expression]:
    """Roots of whole factors as they stand, before they are multiplied out: of s^2 the root is s for a positive s."""
    outside: list[Expression] = []
    inside: list[Expression] = [number(base.coefficient)] if isinstance(base, Product) else []
    for factor in base.factors if isinstance(base, Product) else (base,):
        inner, k = (factor.base, factor.exponent) if isinstance(factor, Power) else (factor, UNIT)
        whole = isinstance(k, Number) and k.is_whole and isinstance(inner, Sum)
        if whole and facts.is_nonnegative(inner):
            outside.append(power(inner, scale(k, q)))
        elif whole and _even(k) and facts.is_nonpositive(inner):
            outside.append(power(-inner, scale(k, q)))
        else:
            inside.append(factor)
    return outside, multiply_all(inside)


def _common_size(u: Expression) -> mpq:
    """The positive rational number that leaves coprime whole real and imaginary parts in a sum of terms; 1 for other formulas."""
    if not isinstance(u, Sum):
        return ONE
    numbers = [part for c in (u.constant, *u.coefficients) for part in parts(c) if part]
    return mpq(gmpy2.gcd(*[c.numerator for c in numbers], 0), gmpy2.lcm(*[c.denominator for c in numbers], 1))


def _root(base: Expression, exponent: mpq, facts: Facts) -> Expression:
    """A root split into the parts whose signs are known; of squares of real numbers comes the absolute value."""
    content, factors = _factors(base)
    if content == 0:  # complex coefficients: only the number in front is told apart
        size = _common_size(base)
        return multiply_all((power(number(size), number(exponent)), power(expand(scale(base, 1 / size)), number(exponent))))
    outside: list[Expression] = [power(number(abs(content)), number(exponent))]
    inside: list[Expression] = []
    negative = content < 0
    for factor, k in factors:
        mask = facts.decide(factor)
        if bits.is_nonnegative(mask) and facts.is_real(k):
            outside.append(power(factor, scale(k, exponent)))
            continue
        if bits.is_nonpositive(mask) and isinstance(k, Number) and k.is_whole:
            outside.append(power(tidy(-factor, facts), scale(k, exponent)))
            negative ^= bool(k.rational % 2)
            continue
        if bits.is_real(mask) and isinstance(k, Number) and k.is_whole:
            even = k.rational - k.rational % 2
            if even:
                outside.append(power(_absolute(factor, facts), number(even * exponent)))
            if k.rational % 2:
                inside.append(factor)
            continue
        inside.append(power(factor, k))
    rest = multiply_all(inside)
    if negative:
        rest = -rest
    if rest is not UNIT:
        rest = tidy(rest, facts)
    outside.append(power(rest, number(exponent)))
    return multiply_all(outside)


# --- relations between generators -------------------------------------------------------------------------------------


def reduce_relations(form: Form, p: Polynomial) -> Polynomial:
    """Powers of roots, roots of unity and absolute values replaced by what they equal: zero just where p is."""
    return reduced_with_factor(form, p)[0]


def reduced_with_factor(form: Form, p: Polynomial) -> tuple[Polynomial, Polynomial]:
    """(q, f): p*f with powers of roots, roots of unity and absolute values replaced; f are the denominators of radicands."""
    factor: Polynomial = {0: ONE}
    for (base, unit), index in form.generators.items():
        degree = form.roots_of[(base, unit)]
        if unit is UNIT and degree > 1 and isinstance(base, Number):
            p = _replace_powers(p, index, degree, sparse.constant(base.value))
        elif unit is UNIT and degree > 1 and isinstance(base, (Sum, Product)):
            radicand = form.of(base)
            p, below = _reduce_radical(form, p, index, degree, radicand)
            factor = sparse.multiply(factor, below)
        elif unit is UNIT and isinstance(base, AlgebraicNumber):
            p = _reduce_by(p, index, [mpz(c) for c in base.coefficients])
        elif isinstance(base, Number) and base.value == -1 and degree == 1 and form.is_integer(unit):
            p = _replace_powers(p, index, 2, {0: ONE})
        elif is_unity(base, unit):
            p = _reduce_unity(p, index, degree)
        elif unit is UNIT and isinstance(base, Call) and base.name == "abs" and degree == 1:
            if form.is_real(base.arguments[0]):
                square = form.power(form.of(base.arguments[0]), 2)
                p, below = _reduce_radical(form, p, index, 2, square)
                factor = sparse.multiply(factor, below)
    return p, factor


def is_unity(base: Expression, unit: Expression) -> bool:
    return isinstance(base, Call) and base.name == "exp" and unit is multiply_all((IMAGINARY, PI))


def _reduce_by(p: Polynomial, index: int, modulus: list[mpz]) -> Polynomial:
    """Powers of an algebraic number below the degree of its polynomial."""
    from gelvo.polynomial.extension import Root, reduce

    return reduce(p, [Root(index, {k << (sparse.BITS * index): mpq(c) for k, c in enumerate(modulus) if c})])


def _replace_powers(p: Polynomial, index: int, degree: int, replacement: Polynomial) -> Polynomial:
    if sparse.degree(p, index) < degree:
        return p
    result: Polynomial = {}
    cache: dict[int, Polynomial] = {}
    for k, coefficient in sparse.by_powers(p, index).items():
        whole, rest = divmod(k, degree)
        if whole not in cache:
            cache[whole] = sparse.power(replacement, whole)
        piece = sparse.multiply(coefficient, cache[whole])
        result = sparse.add(result, sparse.from_powers({rest: piece}, index))
    return result


def _reduce_radical(form: Form, p: Polynomial, index: int, degree: int, radicand: Quotient) -> tuple[Polynomial, Polynomial]:
    """g^degree = top/bottom; the whole numerator is multiplied by a power of the denominator, which is given too."""
    highest = sparse.degree(p, index) // degree
    if highest <= 0:
        return p, {0: ONE}
    bottom = form.denominator(radicand)
    result: Polynomial = {}
    for k, coefficient in sparse.by_powers(p, index).items():
        whole, rest = divmod(k, degree)
        piece = sparse.multiply(coefficient, sparse.power(radicand.top, whole))
        piece = sparse.multiply(piece, sparse.power(bottom, highest - whole))
        result = sparse.add(result, sparse.from_powers({rest: piece}, index))
    return result, sparse.power(bottom, highest)


def _reduce_unity(p: Polynomial, index: int, degree: int) -> Polynomial:
    """Powers of exp(1j*pi/degree), and the imaginary unit as one of them."""
    if degree % 2 == 0 and sparse.has_gaussian(p):
        turned: Polynomial = {}
        shift = sparse.variable(index, degree // 2)
        for m, c in p.items():
            real, imag = parts(c)
            turned = sparse.add(turned, {m: real} if real else {})
            turned = sparse.add(turned, sparse.multiply({m: imag}, shift) if imag else {})
        p = turned
    modulus = cyclotomic(2 * degree)
    size = len(modulus) - 1
    powers = sparse.by_powers(p, index)
    folded: dict[int, Polynomial] = {}
    for k, coefficient in powers.items():
        folded[k % (2 * degree)] = sparse.add(folded.get(k % (2 * degree), {}), coefficient)
    for k in range(2 * degree - 1, size - 1, -1):
        coefficient = folded.pop(k, {})
        if coefficient:
            for i in range(size):
                if modulus[i]:
                    step = sparse.scale(coefficient, mpq(-modulus[i]))
                    folded[k - size + i] = sparse.add(folded.get(k - size + i, {}), step)
    return sparse.from_powers({k: c for k, c in folded.items() if c}, index)


def with_quarter_turns(form: Form) -> None:
    """Makes the imaginary unit a power of the root of unity, where one occurs."""
    for base, unit in form.generators:
        if is_unity(base, unit) and form.roots_of[(base, unit)] % 2:
            form.roots_of[(base, unit)] *= 2


def vanishing(root: Expression, facts: Facts) -> tuple[bool, Form, Polynomial]:
    """(proved zero, form, numerator): the numerator of the normal form."""
    for left, right in facts.equalities:
        if isinstance(left, Name):
            root = substitute(root, {left: right})
    ready = prepared(root, facts)
    relations = fact_relations(facts)
    form = Form([ready, *relations], facts)
    with_quarter_turns(form)
    quotient = form.of(ready)
    top = reduce_relations(form, quotient.top)
    for _ in range(3):
        if not top:
            break
        again = reduce_relations(form, top)
        if again == top:
            break
        top = again
    if top and relations:
        top = _modulo_facts(form, top, relations)
    return not top, form, top


def fact_relations(facts: Facts) -> list[Expression]:
    """The differences that the facts set to zero, beside those that give a name its value."""
    result: list[Expression] = []
    for left, right in facts.equalities:
        if not isinstance(left, Name):
            result.append(prepared(left - right, facts))
    return result


def _modulo_facts(form: Form, top: Polynomial, relations: list[Expression]) -> Polynomial:
    """The remainder by a Groebner basis of the equations among the facts (B. Buchberger, 1965)."""
    from gelvo.polynomial.groebner import Reducer, groebner_basis

    ideal = [reduce_relations(form, form.of(r).top) for r in relations]
    polynomials = [top, *ideal]
    if any(sparse.has_gaussian(p) for p in polynomials):
        return top
    used = sorted({k for p in polynomials for k in sparse.variables(p)})
    if max((sparse.degree(p, k) for p in polynomials for k in used), default=0) > LARGEST_FACT_DEGREE:
        return top
    try:
        basis = groebner_basis([p for p in ideal if p], used, steps=FACT_STEPS)
    except DomainError:
        return top
    return Reducer(basis, used).remainder(top)
