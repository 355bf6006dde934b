"""Real and imaginary part of a formula in real names, function by function.

>>> from gelvo.expression.building import name
>>> from gelvo.facts.store import Facts
>>> x, y = name("x"), name("y")
>>> [str(p) for p in real_and_imaginary(EXP(x + 1j * y), Facts())]
['exp(x)*cos(y)', 'exp(x)*sin(y)']
"""

from __future__ import annotations

from collections.abc import Callable

from gmpy2 import mpq

from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, number, power, total
from gelvo.expression.constants import HALF, IMAGINARY, ONE, PI, ZERO
from gelvo.expression.nodes import Call, Constant, Expression, Node, Number, Power, Product, Sum
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import postorder, rebuild
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.functions.named import ABS, ARG, ATAN, ATAN2, CONJ, COS, COSH, EXP, IM, LN, RE, SIN, SINH, TAN, is_a
from gelvo.numbers.exact import parts

Pair = tuple[Expression, Expression]
Tidy = Callable[[Expression], Expression]
LARGEST_POWER = 40


def real_and_imaginary(expression: Expression, facts: Facts, tidy: Tidy = expand) -> Pair:
    """(real part, imaginary part); DomainError where a name may be complex or a function has no rule.

    tidy: what is done with each product of parts; numeric code leaves them as they are, since a square that is multiplied out loses digits.
    """
    done: dict[Node, Pair] = {}
    for node in postorder(expression):
        if isinstance(node, Expression):
            done[node] = _one(node, done, facts, tidy)
    return done[expression]


def _multiply(a: Pair, b: Pair, tidy: Tidy) -> Pair:
    if a[1] is ZERO and b[1] is ZERO:
        return a[0] * b[0], ZERO
    return tidy(a[0] * b[0] - a[1] * b[1]), tidy(a[0] * b[1] + a[1] * b[0])


def _one(node: Expression, done: dict[Node, Pair], facts: Facts, tidy: Tidy) -> Pair:
    if isinstance(node, Number):
        real, imag = parts(node.value)
        return number(real), number(imag)
    if isinstance(node, Sum):
        pairs = [_multiply(_one(number(c), done, facts, tidy), done[t], tidy) for t, c in node.items()]
        pairs.append(_one(number(node.constant), done, facts, tidy))
        return total([p[0] for p in pairs]), total([p[1] for p in pairs])
    if isinstance(node, Product):
        result = _one(number(node.coefficient), done, facts, tidy)
        for factor in node.factors:
            result = _multiply(result, done[factor], tidy)
        return result
    if all(done[c][1] is ZERO for c in node.children if c in done) and (facts.is_real(node) or isinstance(node, Constant)):
        changed = any(c in done and done[c][0] is not c for c in node.children)
        return (rebuild(node, tuple(done[c][0] if c in done else c for c in node.children)) if changed else node), ZERO
    if isinstance(node, Power):
        return _power(node, done[node.base], done, facts, tidy)
    if is_a(node, LN):
        return _logarithm(*done[node.arguments[0]], facts)
    if isinstance(node, Call):
        rule = _RULES.get(node.name)
        if rule is not None:
            return rule(*done[node.arguments[0]])
    raise DomainError(f"the real and imaginary parts of {node} are not known: it may be complex in a way that has no rule here")


def _power(node: Power, base: Pair, done: dict[Node, Pair], facts: Facts, tidy: Tidy) -> Pair:
    if isinstance(node.exponent, Number) and node.exponent.is_whole and abs(node.exponent.rational) <= LARGEST_POWER:
        count = int(node.exponent.rational)
        if count < 0:
            size = tidy(base[0] ** 2 + base[1] ** 2)
            base = base[0] / size, -base[1] / size
        result: Pair = (ONE, ZERO)
        for _ in range(abs(count)):
            result = _multiply(result, base, tidy)
        return result
    if facts.is_positive(node.base):  # a^(u + i*v) = exp((u + i*v)*ln(a))
        u, v = done[node.exponent]
        angle = v * LN(node.base)
        return power(node.base, u) * COS(angle), power(node.base, u) * SIN(angle)
    if node.exponent.is_rational and facts.is_negative(node.base):
        size, angle = power(expand(-node.base), node.exponent), PI * node.exponent
        return size * COS(angle), size * SIN(angle)
    if isinstance(node.exponent, Number) and node.exponent.value == mpq(1, 2):
        a, b = base
        size = power(a * a + b * b, HALF)
        sign = ONE if facts.is_positive(b) else -ONE if facts.is_negative(b) else None
        if sign is not None:
            return power((size + a) / 2, HALF), sign * power((size - a) / 2, HALF)
    raise DomainError(f"the real and imaginary parts of {node} are not known")


def _sine(a: Expression, b: Expression) -> Pair:
    return SIN(a) * COSH(b), COS(a) * SINH(b)


def _cosine(a: Expression, b: Expression) -> Pair:
    return COS(a) * COSH(b), -SIN(a) * SINH(b)


def _tangent(a: Expression, b: Expression) -> Pair:
    bottom = COS(2 * a) + COSH(2 * b)
    return SIN(2 * a) / bottom, SINH(2 * b) / bottom


def _logarithm(a: Expression, b: Expression, facts: Facts) -> Pair:
    return LN(a * a + b * b) / 2, _direction(a, b, facts)


def _direction(a: Expression, b: Expression, facts: Facts) -> Expression:
    """The angle of the point (a, b), by an arctangent where a sign is known."""
    if facts.is_positive(a):
        return ATAN(b / a)
    side = 1 if facts.is_positive(b) else -1 if facts.is_negative(b) else 0
    return side * PI / 2 - ATAN(a / b) if side else ATAN2(b, a)


_RULES: dict[str, Callable[[Expression, Expression], Pair]] = {
    EXP: lambda a, b: (EXP(a) * COS(b), EXP(a) * SIN(b)),
    SIN: _sine,
    COS: _cosine,
    TAN: _tangent,
    SINH: lambda a, b: (SINH(a) * COS(b), COSH(a) * SIN(b)),
    COSH: lambda a, b: (COSH(a) * COS(b), SINH(a) * SIN(b)),
    CONJ: lambda a, b: (a, -b),
    RE: lambda a, b: (a, ZERO),
    IM: lambda a, b: (b, ZERO),
    ABS: lambda a, b: (power(a * a + b * b, HALF), ZERO),
    ARG: lambda a, b: (ATAN2(b, a), ZERO),
}


def size_beside_turns(z: Expression, facts: Facts) -> Expression:
    """|z|, factor by factor, where turns exp(1j*x) have the size 1.

    >>> from gelvo.expression.building import name
    >>> print(size_beside_turns(-name("r") * EXP(IMAGINARY * name("x")), Facts()))
    abs(r)
    """
    factors = [number(z.coefficient), *factors_in(z)] if isinstance(z, Product) else [z]
    return multiply_all([ABS(f) for f in factors if angle_of_turn(f, facts) is None])


def angle_of_turn(z: Expression, facts: Facts) -> Expression | None:
    """The real x with z = exp(1j*x), where the factors of z show it: of -1 it is pi; None for any other z.

    >>> from gelvo.expression.building import name
    >>> print(angle_of_turn(-EXP(IMAGINARY * name("x")), Facts()))
    x + pi
    """
    angle: Expression = ZERO
    if isinstance(z, (Number, Product)):
        size = z if isinstance(z, Number) else number(z.coefficient)
        if size is not ONE and size is not number(-1):
            return None
        angle = PI if size is number(-1) else ZERO
    for f in factors_in(z) if not isinstance(z, Number) else ():
        base, exponent = base_and_exponent(f)
        x = expand(-IMAGINARY * base.arguments[0] * exponent) if is_a(base, EXP) else None
        if x is None or not facts.is_real(x):
            return None
        angle = angle + x
    return angle
