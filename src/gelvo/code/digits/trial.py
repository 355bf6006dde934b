"""What code would give: a formula in doubles at many points at once, in the order in which the writer puts its operations.

Parts are worked out once for all forms of a formula, which differ in few of them. Where a form is taken in the end, the code itself is
run; what the two differ by is a last place here and there.
"""

from __future__ import annotations

import warnings
from collections.abc import Callable, Sequence
from functools import cache
from typing import TYPE_CHECKING, Any

from gmpy2 import mpq

from gelvo.code.digits.numeric import CAREFUL, is_numeric
from gelvo.code.fractions import divided, held_exactly
from gelvo.code.numpy_target import BUILTINS, FUNCTIONS, SYNTAX, function_source
from gelvo.code.precision import DOUBLE, Precision
from gelvo.code.program import Program, small_power
from gelvo.expression.display import product_parts, sum_terms
from gelvo.expression.nodes import (
    AlgebraicNumber,
    Bound,
    Call,
    Cases,
    Constant,
    Expression,
    Junction,
    Name,
    Node,
    Number,
    Power,
    Product,
    Relation,
    Sum,
    Truth,
)
from gelvo.numbers.exact import nearest_float, real

if TYPE_CHECKING:
    from numpy import float64
    from numpy.typing import NDArray

WORST = 1e308  # in place of an error without bounds


def function_of(e: Expression, inputs: Sequence[Name]) -> Callable[..., Any]:
    """The generated NumPy function of a formula."""
    source = function_source(Program(tuple(inputs), {"value": e}), "value")
    # the source holds operators, literals and identifiers that the target made safe, never text of the user
    space = _space(source)
    exec(compile(source, "<trial>", "exec"), space)
    function: Callable[..., Any] = space["value"]
    return function


def _space(source: str) -> dict[str, Any]:
    """What the code of a formula may name; the special functions are loaded where it has some."""
    import numpy

    space: dict[str, Any] = {"numpy": numpy, "__builtins__": BUILTINS}
    if "special." in source:
        from scipy import special

        space["special"] = special
    return space


@cache
def _template(text: str, count: int) -> Callable[..., Any]:
    """A template of the target as a function."""
    words = [f"a{k}" for k in range(count)]
    function: Callable[..., Any] = eval(f"lambda {', '.join(words)}: {text.format(*words)}", _space(text))
    return function


def values_at(
    formulas: Sequence[Expression], inputs: Sequence[Name], points: Sequence[Sequence[float]], precision: Precision = DOUBLE
) -> list[Any]:
    """What code would give for each of some formulas at points."""
    import numpy

    columns = [numpy.array([p[k] for p in points], dtype=float) for k in range(len(inputs))]
    trial = Trial(inputs, columns, len(points), precision)
    return [trial.values(e) for e in formulas]


class Trial:
    """The values of formulas in doubles at some points, whose coordinates are the columns."""

    def __init__(
        self, inputs: Sequence[Name], columns: Sequence[NDArray[float64]], count: int, precision: Precision = DOUBLE
    ) -> None:
        import numpy

        self._inputs, self._columns, self._count, self._precision = list(inputs), list(columns), count, precision
        self._type = numpy.float32 if precision.is_single else numpy.float64
        self._known: dict[Node, Any] = {n: c.astype(self._type) for n, c in zip(inputs, columns, strict=True)}
        self._in_double: Trial | None = None

    def values(self, e: Expression) -> NDArray[float64]:
        """The values of a formula at the points."""
        import numpy

        with warnings.catch_warnings(), numpy.errstate(all="ignore"):
            warnings.simplefilter("ignore")
            stack: list[tuple[Node, bool]] = [(e, False)]
            while stack:
                node, ready = stack.pop()
                if node in self._known:
                    continue
                if ready:
                    value = self._one(node)
                    if self._precision.is_single and getattr(value, "dtype", None) == numpy.float64:
                        value = value.astype(self._type)
                    self._known[node] = value
                else:
                    stack.append((node, True))
                    stack.extend((c, False) for c in _needed(node))
            return numpy.broadcast_to(numpy.asarray(self._known[e], dtype=float), (self._count,))

    def _one(self, node: Node) -> Any:
        if isinstance(node, (Number, Constant, AlgebraicNumber, Bound)):
            return _number(node)
        if isinstance(node, Sum):
            return self._sum(node)
        if isinstance(node, (Product, Power)):
            return self._product(node)
        if isinstance(node, Call):
            return self._call(node)
        if isinstance(node, Cases):
            return self._cases(node)
        return self._condition(node)

    def _sum(self, node: Sum) -> Any:
        total: Any = None
        for coefficient, term in sum_terms(node):
            negative, size = real(coefficient) < 0, abs(real(coefficient))
            value = nearest_float(size) if term is None else _scaled(size, self._known[term])
            total = (-value if negative else value) if total is None else total - value if negative else total + value
        return total

    def _product(self, node: Product | Power) -> Any:
        coefficient, top, bottom = product_parts(node)
        negative, size = real(coefficient) < 0, abs(real(coefficient))
        above, below = [self._factor(f) for f in top], [self._factor(f) for f in bottom]
        over, under = divided(size, bool(above))
        above[:0] = [nearest_float(q) for q in over]
        below[:0] = [nearest_float(q) for q in under]
        value = _multiplied(above)
        if below:
            value = value / _multiplied(below)
        return -value if negative else value

    def _factor(self, factor: Expression) -> Any:
        if not isinstance(factor, Power):
            return self._known[factor]
        base, times, exponent = self._known[factor.base], small_power(factor), factor.exponent
        if times and factor.exponent.rational > 0:
            return _multiplied([base] * times)
        root = _template(FUNCTIONS["sqrt"], 1)
        if isinstance(exponent, Number) and exponent.is_rational:
            q = exponent.rational
            if q.denominator == 2 and q.numerator in (1, 3):
                return root(base) if q.numerator == 1 else base * root(base)
            return _template(SYNTAX["power"], 2)(base, nearest_float(q))
        return _template(SYNTAX["power"], 2)(base, self._known[exponent])

    def _call(self, node: Call) -> Any:
        if node.function is CAREFUL and self._precision.is_single:
            self._in_double = self._in_double or Trial(self._inputs, self._columns, self._count)
            return self._in_double.values(node.arguments[0])
        if node.function is CAREFUL:
            return function_of(node, self._inputs)(*self._columns)
        inside = [self._known[x] for x in node.arguments]
        template = FUNCTIONS[node.name]
        if node.name in ("min", "max"):
            value = inside[0]
            for other in inside[1:]:
                value = _template(template, 2)(value, other)
            return value
        return _template(template, len(inside))(*inside)

    def _cases(self, node: Cases) -> Any:
        import numpy

        value = self._known[node.otherwise]
        for inside, condition in zip(reversed(node.values[:-1]), reversed(node.conditions), strict=True):
            value = numpy.where(self._known[condition], self._known[inside], value)
        return value

    def _condition(self, node: Node) -> Any:
        import numpy

        if isinstance(node, Relation):
            signs = {"=": numpy.equal, "!=": numpy.not_equal, "<": numpy.less, "<=": numpy.less_equal}
            return signs[node.operator](self._known[node.left], self._known[node.right])
        if isinstance(node, Junction):
            joined = numpy.logical_and if node.word == "and" else numpy.logical_or
            return joined.reduce([numpy.broadcast_to(self._known[p], (self._count,)) for p in node.parts])
        assert isinstance(node, Truth)
        return node.holds


def _needed(node: Node) -> Sequence[Node]:
    """The parts whose values the value of a node is made of."""
    if is_numeric(node, CAREFUL):
        return ()
    if not isinstance(node, (Product, Power)):
        return node.children
    _, top, bottom = product_parts(node)
    needed: list[Node] = []
    for factor in (*top, *bottom):
        needed += [factor.base, factor.exponent] if isinstance(factor, Power) else [factor]
    return needed


def _number(node: Node) -> Any:
    if isinstance(node, Number):
        return nearest_float(node.rational)
    if isinstance(node, Constant):
        return _template(SYNTAX[node.name], 0)()
    return float("nan") if isinstance(node, Bound) else float(node)  # type: ignore[arg-type]


def _scaled(size: mpq, body: Any) -> Any:
    if size == 1:
        return body
    if held_exactly(size):
        return nearest_float(size) * body
    return (body if size.numerator == 1 else nearest_float(mpq(size.numerator)) * body) / nearest_float(mpq(size.denominator))


def _multiplied(factors: Sequence[Any]) -> Any:
    value = factors[0]
    for factor in factors[1:]:
        value = value * factor
    return value


def errors_of(found: NDArray[float64], right: NDArray[float64], precision: Precision = DOUBLE) -> NDArray[float64]:
    """The distance from the right values in units of their last places."""
    import numpy

    with numpy.errstate(all="ignore"):
        distance = numpy.abs(found - right) / precision.units(right)
    return numpy.where(found == right, 0.0, numpy.where(numpy.isfinite(distance), numpy.minimum(distance, WORST), WORST))
