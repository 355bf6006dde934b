"""A formula in one variable as a fast function of floats, without bounds: for quadratures, whose doubts go on to bounded evaluation."""

from __future__ import annotations

import cmath
import math
from collections.abc import Callable, Mapping
from operator import mul
from typing import Any, NamedTuple

from gelvo.errors import GelvoError
from gelvo.evaluation.enclose import Enclosure
from gelvo.evaluation.floats import NotReal
from gelvo.expression.nodes import Call, Expression, Name, Node, Number, Power, Product, Sum
from gelvo.expression.traversal import contains, postorder
from gelvo.functions import named
from gelvo.numbers.exact import Gaussian, Scalar
from gelvo.numbers.interval import NoValue

Plain = Callable[..., Any]


class _Step(NamedTuple):
    """values[target] = work(values[i] for i in sources)."""

    target: int
    work: Plain
    sources: tuple[int, ...]


def _special(name: str) -> Plain:
    """A function of scipy.special, fetched when it is first called for."""

    def work(*arguments: float) -> float:
        from scipy import special

        return float(getattr(special, name)(*arguments))

    return work


def _cot(u: Any) -> Any:
    return 1 / math.tan(u)


def _sign(u: float) -> float:
    return (u > 0) - (u < 0)


def _airy(which: int) -> Plain:
    def work(u: float) -> float:
        from scipy import special

        return float(special.airy(u)[which])

    return work


REAL: Mapping[str, Plain] = {
    named.EXP: math.exp, named.LN: math.log, named.SIN: math.sin, named.COS: math.cos, named.TAN: math.tan, named.COT: _cot,
    named.SEC: lambda u: 1 / math.cos(u), named.CSC: lambda u: 1 / math.sin(u), named.SINH: math.sinh, named.COSH: math.cosh,
    named.TANH: math.tanh, named.COTH: lambda u: 1 / math.tanh(u), named.SECH: lambda u: 1 / math.cosh(u) if abs(u) < 700 else 0.0,
    named.CSCH: lambda u: 1 / math.sinh(u) if abs(u) < 700 else 0.0, named.ASIN: math.asin, named.ACOS: math.acos, named.ATAN: math.atan,
    named.ASINH: math.asinh, named.ACOSH: math.acosh, named.ATANH: math.atanh, named.ABS: abs, named.SIGN: _sign,
    named.FLOOR: math.floor, named.CEIL: math.ceil, named.MIN: min, named.MAX: max, named.ERF: math.erf, named.ERFC: math.erfc,
    named.GAMMA: math.gamma, named.BESSELJ: _special("jv"), named.BESSELY: _special("yv"), named.BESSELI: _special("iv"),
    named.BESSELK: _special("kv"), named.EI: _special("expi"), named.DIGAMMA: _special("psi"), named.AIRYAI: _airy(0),
    named.AIRYAI_PRIME: _airy(1), named.AIRYBI: _airy(2), named.LEGENDRE: _special("eval_legendre"),
    named.HERMITE: _special("eval_hermite"), named.LAGUERRE: _special("eval_laguerre"), named.CHEBYT: _special("eval_chebyt"),
    named.SI: lambda u: _special_pair("sici", u)[0], named.CI: lambda u: _special_pair("sici", u)[1],
    named.ELLIPK: _special(named.ELLIPK), named.ELLIPE: _special(named.ELLIPE), named.STRUVEH: _special("struve"), named.STRUVEL: _special("modstruve"),
}  # fmt: skip
COMPLEX: Mapping[str, Plain] = {
    named.EXP: cmath.exp, named.LN: cmath.log, named.SIN: cmath.sin, named.COS: cmath.cos, named.TAN: cmath.tan, named.SINH: cmath.sinh,
    named.COSH: cmath.cosh, named.TANH: cmath.tanh, named.ATAN: cmath.atan, named.ABS: abs,
}  # fmt: skip


def _special_pair(name: str, u: float) -> tuple[float, float]:
    from scipy import special

    return getattr(special, name)(u)


def plain_function(f: Expression, x: Name, in_complex: bool = False) -> Callable[[float], Any] | None:
    """A function float -> float (complex where `in_complex`), None where a part has none; NoValue and NotReal are raised by it.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> plain_function(x**2 + 1, x)(3.0)
    10.0
    """
    try:
        steps, values, index = _program(f, x, COMPLEX if in_complex else REAL, complex if in_complex else float)
    except (LookupError, GelvoError, NoValue, OverflowError):
        return None

    def evaluate(place: float) -> Any:
        memory = values.copy()
        memory[0] = place
        try:
            for target, work, sources in steps:
                memory[target] = work(*[memory[i] for i in sources])
        except OverflowError:
            raise NoValue("too large") from None
        except (ValueError, ZeroDivisionError, TypeError):
            raise NotReal("not real, or not defined", certain=False) from None
        return memory[index]

    return evaluate


def _program(f: Expression, x: Name, table: Mapping[str, Plain], kind: type) -> tuple[list[_Step], list[Any], int]:
    values: list[Any] = [0.0]
    place: dict[Node, int] = {x: 0}
    steps: list[_Step] = []
    for node in postorder(f):
        if node is x or not isinstance(node, Expression):
            continue
        place[node] = len(values)
        if not contains(node, x):
            values.append(_constant(node, kind))
            continue
        values.append(0.0)
        steps.append(_Step(place[node], *_work(node, place, table, kind)))
    return steps, values, place[f]


def _constant(node: Expression, kind: type) -> Any:
    box = Enclosure(node).at({}, 90)
    real = float(box.real.low)
    if box.imag is None or box.imag.contains_zero():
        return kind(real)
    if kind is float:
        raise NoValue("not real")
    return complex(real, float(box.imag.low))


def _scalar(c: Scalar, kind: type) -> Any:
    if not isinstance(c, Gaussian):
        return float(c)
    if kind is float:
        raise NoValue("not real")
    return complex(float(c.real), float(c.imag))


def _work(node: Expression, place: dict[Node, int], table: Mapping[str, Plain], kind: type) -> tuple[Plain, tuple[int, ...]]:
    if isinstance(node, Sum):
        pairs = [(place[t], _scalar(c, kind)) for t, c in node.items()]
        weights, start = tuple(c for _, c in pairs), _scalar(node.constant, kind)
        return lambda *terms: sum(map(mul, weights, terms), start), tuple(i for i, _ in pairs)
    if isinstance(node, Product):
        outer = _scalar(node.coefficient, kind)
        return lambda *factors: math.prod(factors, start=outer), tuple(place[g] for g in node.factors)
    if isinstance(node, Power):
        if isinstance(node.exponent, Number) and node.exponent.is_whole:
            k = int(node.exponent.rational)
            return lambda base: base**k, (place[node.base],)
        return math.pow if kind is float else pow, (place[node.base], place[node.exponent])
    if isinstance(node, Call):
        return table[node.name], tuple(place[a] for a in node.arguments)
    raise LookupError(type(node))
