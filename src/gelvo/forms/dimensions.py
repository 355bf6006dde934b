"""Units of formulas: what a formula is measured in, where the units of its letters are known, and quantities as formulas.

A quantity such as `5 {mm}` is the formula 1/200*{m}: an exact number times SI base units, which are positive names of their own.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from fractions import Fraction
from typing import Any, NamedTuple, TypeVar

from gmpy2 import mpq

from gelvo.errors import DomainError
from gelvo.expression.building import constant, multiply_all, name, number, power
from gelvo.expression.equation import Equation, in_each
from gelvo.expression.nodes import (
    Applied,
    Bound,
    Call,
    Cases,
    Condition,
    Expression,
    Junction,
    Name,
    Node,
    Number,
    Power,
    Product,
    Relation,
    Sum,
    Written,
)
from gelvo.expression.traversal import postorder, substitute
from gelvo.functions.named import ABS, ARG, ATAN2, CBRT, CONJ, DIRAC_DELTA, HEAVISIDE, IM, LN, LOG2, LOG10, MAX, MIN, RE, SIGN
from gelvo.units import BASE, ONE, Unit

SYMBOLS = {name(f"{{{symbol}}}", "positive"): symbol for symbol in BASE.values()}
ANY = Unit(Fraction(0), 0, ())  # of zero and of bounds: they fit to every unit
Known = Mapping[str, Unit]
V = TypeVar("V")


class _Supposed(Unit):
    """What a sum must be measured in because one of its terms is, while another has a letter of unknown unit."""


class _Setting(NamedTuple):
    """The units of letters, and whether a plain number is just that: beside a quantity it is, beside letters any unit may be meant."""

    units: Known
    strict: bool


def quantity(unit: Unit) -> Expression:
    """A unit as a formula: its exact factor times base units.

    >>> from gelvo.units import unit
    >>> print(quantity(unit("mm")), quantity(unit("m/s^2")))
    {m}/1000 {m}/{s}^2
    """
    base = {symbol: n for n, symbol in SYMBOLS.items()}
    factors = [power(base[s], number(mpq(k.numerator, k.denominator))) for s, k in unit.dimension]
    turns = [power(constant("pi"), number(unit.turns))] if unit.turns else []
    return multiply_all([number(mpq(unit.factor.numerator, unit.factor.denominator)), *turns, *factors])


def has_quantities(thing: object) -> bool:
    """Whether units stand in a formula, an equation or a condition."""
    return any(n in SYMBOLS for root in _sides(thing) for n in postorder(root))


def in_quantities(thing: V, known: Known) -> V:
    """Letters of known unit as quantities: L, stated in mm, becomes L/1000*{m}."""
    letters = {n for root in _sides(thing) for n in postorder(root) if isinstance(n, (Name, Applied)) and n.name in known}
    measured = {n: _of_letter(n, _Setting(known, True)) for n in letters}
    table: dict[Node, Expression] = {n: n * quantity(u) for n, u in measured.items() if u is not None}
    return in_each(thing, lambda e: substitute(e, table))


def pure(e: Expression) -> tuple[Expression, Unit]:
    """A formula with quantities as a formula of numbers and its unit; DomainError where its parts do not fit together."""
    letters = {n.name: ONE for n in postorder(e) if isinstance(n, (Name, Applied)) and n not in SYMBOLS}
    found = unit_of(e, letters)
    if found is None:
        raise DomainError(f"it is not known in what {e} is measured")
    return substitute(e, dict.fromkeys(SYMBOLS, number(1))), found


def numbers_of(e: Expression) -> Expression:
    """A formula for generated code: quantities as numbers of SI units."""
    return pure(e)[0] if has_quantities(e) else e


def unit_of(thing: object, known: Known) -> Unit | None:
    """The unit of a formula, None where it is not known; DomainError where parts are compared or added that differ in it.

    >>> from gelvo.units import unit
    >>> m, v = name("m"), name("v")
    >>> print(unit_of(m*v**2/2, {"m": unit("kg"), "v": unit("m/s")}), unit_of(m*v**2, {"m": unit("kg")}))
    J None
    """
    sides = _sides(thing)
    if not sides:
        return None
    strict = any(n in SYMBOLS for n in postorder(*sides))
    setting = _Setting(known, strict)
    done: dict[Node, Unit | None] = {}
    for node in postorder(*sides):
        if isinstance(node, Relation):
            _same([(node.left, done[node.left]), (node.right, done[node.right])], "compared")
        elif not isinstance(node, Condition):
            done[node] = ANY if not strict and _is_number(node, done) else _one(node, done, setting)
    if isinstance(thing, Equation):
        found = _same([(s, done[s]) for s in sides], "compared")
    else:  # the entries of a matrix may differ: then it has no unit as a whole
        found = done.get(sides[0]) if all(done.get(s) == done.get(sides[0]) for s in sides) else None
    return None if isinstance(found, _Supposed) else ONE if found is ANY else found


def _is_number(node: Node, done: Mapping[Node, Unit | None]) -> bool:
    return not isinstance(node, (Name, Applied)) and all(done.get(c, ANY) is ANY for c in node.children)


def _sides(thing: object) -> list[Node]:
    if isinstance(thing, Equation):
        return [thing.left, thing.right]
    if isinstance(thing, Node):
        return [thing]
    flat = getattr(thing, "flat", None)
    return list(flat()) if callable(flat) else []


def _same(parts: Iterable[tuple[Node, Unit | None]], done: str) -> Unit | None:
    """The one unit of parts that are added or compared, supposed for those of which it is not known; None where no part tells."""
    first: tuple[Node, Unit] | None = None
    unknown = False
    for part, unit in parts:
        if unit is None or unit is ANY:
            unknown = unknown or unit is None
        elif first is None:
            first = part, unit
        elif unit != first[1]:
            why = (
                "differ in dimension"
                if unit.dimension != first[1].dimension
                else "are stated in different units: state both in one"
            )
            raise DomainError(f"{first[0]} ({_in_words(first[1])}) and {part} ({_in_words(unit)}) cannot be {done}: they {why}")
    if first is None:
        return None if unknown else ANY
    return _Supposed(*first[1]) if unknown else first[1]


def _in_words(unit: Unit) -> str:
    return "a plain number" if unit == ONE else f"in {unit}"


def _one(node: Node, done: dict[Node, Unit | None], known: _Setting) -> Unit | None:
    rule = next((r for kind, r in _RULES.items() if isinstance(node, kind)), None)
    return ONE if rule is None else rule(node, done, known)


def _of_letter(node: Name | Applied, known: _Setting) -> Unit | None:
    """A name, or an unknown function with its derivatives."""
    if isinstance(node, Name) and node in SYMBOLS:
        return Unit(Fraction(1), 0, ((SYMBOLS[node], Fraction(1)),))
    found = known.units.get(node.name)
    if isinstance(node, Applied) and found is not None:
        for argument, order in zip(node.arguments, node.orders, strict=True):
            below = unit_of(argument, known.units) if order else ONE
            found = None if found is None or below is None else found.times(below, Fraction(-order))
    return found


def _of_sum(node: Sum, done: dict[Node, Unit | None], known: _Setting) -> Unit | None:
    parts: list[tuple[Node, Unit | None]] = [(t, done[t]) for t in node.terms]
    return _same([*parts, *([(number(node.constant), ONE)] if node.constant and known.strict else [])], "added")


def _of_product(node: Product, done: dict[Node, Unit | None], known: _Setting) -> Unit | None:
    result: Unit | None = ONE
    for factor in node.factors:
        other = done[factor]
        result = None if result is None or other is None else result.times(other) if other is not ANY else result
    return result


def _of_power(node: Power, done: dict[Node, Unit | None], known: _Setting) -> Unit | None:
    base, exponent = done[node.base], done[node.exponent]
    if exponent is not None and exponent.dimension:
        raise DomainError(f"the exponent {node.exponent} is in {exponent}, and an exponent is a pure number")
    if base is None or base is ANY or base == ONE:
        return base
    if not (isinstance(node.exponent, Number) and node.exponent.is_rational):
        return None
    k = node.exponent.rational
    return ONE.times(base, Fraction(int(k.numerator), int(k.denominator)))


def _of_call(node: Call, done: dict[Node, Unit | None], known: _Setting) -> Unit | None:
    return _CALLS.get(node.name, _of_pure_numbers)(node.name, [(a, done[a]) for a in node.arguments])


_Measured = list[tuple[Expression, Unit | None]]


def _of_pure_numbers(name: str, arguments: _Measured) -> Unit | None:
    for argument, unit in arguments:
        if unit is not None and unit is not ANY and unit.dimension:
            raise DomainError(f"{name} is taken of a pure number, and {argument} is in {unit}")
    return ONE if all(u in (ONE, ANY) for _, u in arguments) else None


def _that_of_the_arguments(name: str, arguments: _Measured) -> Unit | None:
    return _same(arguments, "compared")


def _one_for_any(name: str, arguments: _Measured) -> Unit | None:
    return ONE


def _one_where_they_compare(name: str, arguments: _Measured) -> Unit | None:
    return ONE if _same(arguments, "compared") is not None else None


def _one_of_pure_numbers(name: str, arguments: _Measured) -> Unit | None:
    """ln(p) of a pressure stands in many a derivation: its unit is not known, and no fault."""
    return ONE if all(u == ONE for _, u in arguments) else None


def _raised(power: Fraction) -> Callable[[str, _Measured], Unit | None]:
    return lambda name, arguments: None if arguments[0][1] is None else ONE.times(arguments[0][1], power)


# what does not take pure numbers to a pure number
_CALLS: dict[str, Callable[[str, _Measured], Unit | None]] = {
    **dict.fromkeys((ABS, RE, IM, CONJ, MIN, MAX), _that_of_the_arguments),
    **dict.fromkeys((SIGN, HEAVISIDE, ARG), _one_for_any),
    **dict.fromkeys((LN, LOG10, LOG2), _one_of_pure_numbers),
    ATAN2: _one_where_they_compare,
    CBRT: _raised(Fraction(1, 3)),
    DIRAC_DELTA: _raised(Fraction(-1)),
}


def _of_written(node: Written, done: dict[Node, Unit | None], known: _Setting) -> Unit | None:
    body, variable = done[node.body], done[node.variable]
    if node.kind in ("sum_of", "limit_of"):
        return body
    if body is None or variable is None or body is ANY or node.kind == "product_of":
        return None if node.kind == "product_of" else body
    if node.kind == "integral_of":
        _same([(node.variable, variable), *[(e, done[e]) for e in node.arguments[2:]]], "compared")
        return body.times(variable)
    times = node.arguments[2] if len(node.arguments) > 2 else number(1)
    return body.times(variable, Fraction(-int(times.rational)))


def _of_cases(node: Cases, done: dict[Node, Unit | None], known: _Setting) -> Unit | None:
    return _same([(v, done[v]) for v in node.values], "compared")


_RULES: dict[type | tuple[type, ...], Callable[[Any, dict[Node, Unit | None], _Setting], Unit | None]] = {
    Number: lambda node, done, known: ONE if node.value else ANY,
    Bound: lambda node, done, known: ANY,
    (Name, Applied): lambda node, done, known: _of_letter(node, known),
    Sum: _of_sum,
    Product: _of_product,
    Power: _of_power,
    Call: _of_call,
    Written: _of_written,
    Cases: _of_cases,
    Junction: lambda node, done, known: ONE,
}
