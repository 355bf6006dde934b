"""A formula in terms of other functions: a table from the wish to the rewriting of each function."""

from __future__ import annotations

from collections.abc import Callable

from gmpy2 import mpq

from gelvo.deciding.algebraic import as_root
from gelvo.deciding.radical_roots import radical_form
from gelvo.errors import DomainError
from gelvo.expression.building import constant, number, power, scale, total
from gelvo.expression.constants import HALF
from gelvo.expression.constants import IMAGINARY as I
from gelvo.expression.nodes import AlgebraicNumber, Call, Expression, Node, Number
from gelvo.expression.traversal import transform
from gelvo.facts.store import Facts
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import exponent_parts
from gelvo.forms.one_angle import single_angles
from gelvo.forms.tangents import tangents
from gelvo.functions.named import (
    ABS,
    ACOS,
    ACOSH,
    ACOTH,
    ASIN,
    ASINH,
    ATAN,
    ATANH,
    BETA,
    BINOMIAL,
    COS,
    COSH,
    COT,
    COTH,
    CSC,
    CSCH,
    EXP,
    FACTORIAL,
    GAMMA,
    LN,
    LOG2,
    LOG10,
    SEC,
    SECH,
    SIGN,
    SIN,
    SINH,
    TAN,
    TANH,
    is_a,
)
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.numbers.exact import Gaussian

Table = dict[str, Callable[..., Expression]]


def _e(x: Expression) -> Expression:
    return EXP(x)


def _ln(x: Expression) -> Expression:
    return LN(x)


def _root(x: Expression) -> Expression:
    return power(x, HALF)


def _sin(x: Expression) -> Expression:
    return SIN(x)


def _cos(x: Expression) -> Expression:
    return COS(x)


def _gamma(x: Expression) -> Expression:
    return GAMMA(x)


def _factorial(x: Expression) -> Expression:
    return FACTORIAL(x)


_RATIOS: Table = {
    TAN: lambda x: _sin(x) / _cos(x), COT: lambda x: _cos(x) / _sin(x), SEC: lambda x: 1 / _cos(x), CSC: lambda x: 1 / _sin(x),
}  # fmt: skip
_HYPERBOLIC_RATIOS: Table = {
    TANH: lambda x: SINH(x) / COSH(x), COTH: lambda x: COSH(x) / SINH(x),
    SECH: lambda x: 1 / COSH(x), CSCH: lambda x: 1 / SINH(x),
}  # fmt: skip
_EXPONENTIALS: Table = {
    SIN: lambda x: (_e(I * x) - _e(-I * x)) / (2 * I), COS: lambda x: (_e(I * x) + _e(-I * x)) / 2,
    TAN: lambda x: -I * (_e(I * x) - _e(-I * x)) / (_e(I * x) + _e(-I * x)),
    COT: lambda x: I * (_e(I * x) + _e(-I * x)) / (_e(I * x) - _e(-I * x)),
    SEC: lambda x: 2 / (_e(I * x) + _e(-I * x)), CSC: lambda x: 2 * I / (_e(I * x) - _e(-I * x)),
    SINH: lambda x: (_e(x) - _e(-x)) / 2, COSH: lambda x: (_e(x) + _e(-x)) / 2,
    TANH: lambda x: (_e(x) - _e(-x)) / (_e(x) + _e(-x)), COTH: lambda x: (_e(x) + _e(-x)) / (_e(x) - _e(-x)),
    SECH: lambda x: 2 / (_e(x) + _e(-x)), CSCH: lambda x: 2 / (_e(x) - _e(-x)),
}  # fmt: skip
_LOGARITHMS: Table = {
    ASINH: lambda x: _ln(x + _root(x * x + 1)), ACOSH: lambda x: _ln(x + _root(x - 1) * _root(x + 1)),
    ATANH: lambda x: (_ln(1 + x) - _ln(1 - x)) / 2, ACOTH: lambda x: (_ln(1 + 1 / x) - _ln(1 - 1 / x)) / 2,
    ASIN: lambda x: -I * _ln(I * x + _root(1 - x * x)), ACOS: lambda x: constant("pi") / 2 + I * _ln(I * x + _root(1 - x * x)),
    ATAN: lambda x: I / 2 * (_ln(1 - I * x) - _ln(1 + I * x)),
    LOG10: lambda x: _ln(x) / _ln(number(10)), LOG2: lambda x: _ln(x) / _ln(number(2)),
}  # fmt: skip
_GAMMA: Table = {
    FACTORIAL: lambda n: _gamma(n + 1), BINOMIAL: lambda n, k: _gamma(n + 1) / (_gamma(k + 1) * _gamma(n - k + 1)),
    BETA: lambda a, b: _gamma(a) * _gamma(b) / _gamma(a + b),
}  # fmt: skip
_FACTORIALS: Table = {
    GAMMA: lambda x: _factorial(expand(x - 1)),
    BINOMIAL: lambda n, k: _factorial(n) / (_factorial(k) * _factorial(n - k)),
    BETA: lambda a, b: _factorial(a - 1) * _factorial(b - 1) / _factorial(a + b - 1),
}
_HALF_ANGLE: Table = {
    SIN: lambda x: 2 * TAN(x / 2) / (1 + TAN(x / 2) ** 2),
    COS: lambda x: (1 - TAN(x / 2) ** 2) / (1 + TAN(x / 2) ** 2),
    TAN: lambda x: 2 * TAN(x / 2) / (1 - TAN(x / 2) ** 2),
}

WISHES: dict[str, Table] = {
    "exponentials": _EXPONENTIALS, EXP: _EXPONENTIALS, "sin, cos": _RATIOS, "sinh, cosh": _HYPERBOLIC_RATIOS,
    "logarithms": _LOGARITHMS, LN: _LOGARITHMS, GAMMA: _GAMMA, "factorials": _FACTORIALS, FACTORIAL: _FACTORIALS,
    "tan of half angles": _HALF_ANGLE,
}  # fmt: skip


def express(expression: Expression, wish: str, facts: Facts | None = None) -> Expression:
    """The same value with other functions.

    wish: one of the keys of WISHES, or "real and imaginary parts", "waves" (exponentials of imaginary angles as cos and sin),
    "cos", "sin" (even powers of the other one away), "tan", "radicals", "polynomial roots".

    >>> from gelvo.expression.building import name
    >>> from gelvo.functions.named import TAN
    >>> print(express(TAN(name("x")), "sin, cos"))
    sin(x)/cos(x)
    """
    facts = facts or Facts()
    wish = " ".join(wish.replace(",", ", ").split())
    if wish in _OTHERS:
        return _OTHERS[wish](expression, facts)
    table = WISHES.get(wish)
    if table is None:
        known = ", ".join(f'"{w}"' for w in sorted({*WISHES, *_OTHERS}))
        raise DomainError(f'there is no form "{wish}": choose one of {known}')

    def visit(node: Node) -> Node:
        rule = table.get(node.function.name) if isinstance(node, Call) else None
        return rule(*node.arguments) if rule is not None and isinstance(node, Call) else node

    return transform(expression, visit)


def _waves(expression: Expression, facts: Facts) -> Expression:
    def visit(node: Node) -> Node:
        if not is_a(node, EXP):
            return node
        growing: list[tuple[mpq, Expression]] = []
        turning: list[tuple[mpq, Expression]] = []
        for coefficient, unit in exponent_parts(expand(node.arguments[0])):
            (turning if _is_imaginary(unit) else growing).append((coefficient, unit))
        if not turning:
            return node
        angle = total([scale(u, c) for c, u in turning]) * -I
        return EXP(total([scale(u, c) for c, u in growing])) * (_cos(angle) + I * _sin(angle))

    return expand(transform(expression, visit))


def _signs(expression: Expression, facts: Facts) -> Expression:
    """abs(u) as u*sign(u), for real u: the sign of another number is another thing."""

    def visit(node: Node) -> Node:
        if is_a(node, ABS) and facts.is_real(node.arguments[0]):
            return node.arguments[0] * SIGN(node.arguments[0])
        return node

    return transform(expression, visit)


def _is_imaginary(unit: Expression) -> bool:
    value = unit.value if isinstance(unit, Number) else getattr(unit, "coefficient", None)
    return isinstance(value, Gaussian) and not value.real


def _one_wave(keep: str) -> Callable[[Expression, Facts], Expression]:
    def work(expression: Expression, facts: Facts) -> Expression:
        plain = express(expression, "sin, cos", facts)
        return single_angles(plain, keep, 1, squares=False) or plain

    return work


def _tangents(expression: Expression, facts: Facts) -> Expression:
    return tangents(express(expression, "sin, cos", facts))


def _cartesian(expression: Expression, facts: Facts) -> Expression:
    real, imag = real_and_imaginary(expression, facts)
    return real + I * imag


def _radicals(expression: Expression, facts: Facts) -> Expression:
    def visit(node: Node) -> Node:
        return (radical_form(node) or node) if isinstance(node, AlgebraicNumber) else node

    return transform(expression, visit)


def _polynomial_roots(expression: Expression, facts: Facts) -> Expression:
    found = as_root(expression)
    if found is None:
        raise DomainError(f"{expression} is not seen to be an algebraic number")
    return found


_OTHERS: dict[str, Callable[[Expression, Facts], Expression]] = {
    "waves": _waves, SIGN: _signs, COS: _one_wave(COS), SIN: _one_wave(SIN), TAN: _tangents,
    "real and imaginary parts": _cartesian, "radicals": _radicals, "polynomial roots": _polynomial_roots,
}  # fmt: skip
