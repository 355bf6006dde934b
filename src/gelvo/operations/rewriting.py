"""Rewriting and replacing: simplify, expand, factor, collect, common_denominator, substitute, rename."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from gelvo.algebra import collecting, expanding, fractions, simplification
from gelvo.checking.claims import check_identity, substitute_functions
from gelvo.errors import DomainError, FormulaError
from gelvo.expression.building import applied, name
from gelvo.expression.nodes import Applied, Equation, Expression, Name, Node
from gelvo.expression.registry import Hooks
from gelvo.expression.traversal import check_one_meaning, names, postorder, transform
from gelvo.operations.answer import Answer
from gelvo.operations.inputs import one_expression, take, variable_in


def _each_side(value: Any, work: Any) -> Any:
    """A structural operation on an expression, or on both sides of an equation."""
    if isinstance(value, Equation):
        return Equation(work(value.left), work(value.right), value.conditions)
    return work(one_expression(value))


def _answer(before: Expression, after: Expression, steps: tuple[Any, ...], facts: Any, road: str) -> Answer:
    return Answer(after, lambda: check_identity(before, after, facts), (), road, "", steps)


def simplify(expression: Any, given: Iterable[Any] = (), steps: bool = False) -> Answer:
    """The shortest form that was found, never longer than what came in.

    expression: an expression or text; given: facts that hold in this call; steps: whether to record each rewriting.
    Returns an Answer whose certificate compares both forms by the normal form.

    >>> import gelvo
    >>> gelvo.simplify("sin(x)^2 + cos(x)^2")
    1
    >>> gelvo.simplify("sqrt(x^2)")
    abs(x)
    """
    arguments = take(expression, given=given)
    before = one_expression(arguments.values[0])
    found = simplification.simplify(before, arguments.facts)
    road = "; ".join(s.rule for s in found.steps) or "already short"
    return _answer(before, found.expression, found.steps if steps else (), arguments.facts, road)


def expand(expression: Any, given: Iterable[Any] = ()) -> Any:
    """Products and natural powers of sums multiplied out.

    >>> import gelvo
    >>> gelvo.expand("(x + 1)^2*(x - 1)")
    x^3 + x^2 - x - 1
    """
    return _each_side(take(expression, given=given).values[0], expanding.expand)


def factor(expression: Any, given: Iterable[Any] = ()) -> Any:
    """Numerator and denominator in lowest terms, as products of factors irreducible over the rationals.

    >>> import gelvo
    >>> gelvo.factor("x^3 - x*y^2")
    x*(x - y)*(x + y)
    """
    return _each_side(take(expression, given=given).values[0], fractions.factored)


def collect(expression: Any, variable: Any, given: Iterable[Any] = ()) -> Any:
    """Terms gathered by the powers of a variable or function.

    >>> import gelvo
    >>> gelvo.collect("a*x + b*x + c", "x")
    x*(a + b) + c
    """
    arguments = take(expression, given=given)
    target = variable_in(variable, arguments.context)
    return _each_side(arguments.values[0], lambda e: collecting.collect(e, target))


def common_denominator(expression: Any, given: Iterable[Any] = ()) -> Any:
    """One fraction in lowest terms, numerator and denominator expanded.

    >>> import gelvo
    >>> gelvo.common_denominator("1/x + 1/y")
    (x + y)/(x*y)
    """

    def work(e: Expression) -> Expression:
        top, bottom = fractions.quotient_parts(e)
        return top / bottom

    return _each_side(take(expression, given=given).values[0], work)


def numerator(expression: Any) -> Expression:
    """The numerator in lowest terms, expanded.

    >>> import gelvo
    >>> gelvo.numerator("1/x + 1/y")
    x + y
    """
    return fractions.quotient_parts(one_expression(take(expression).values[0]))[0]


def denominator(expression: Any) -> Expression:
    """The denominator in lowest terms, expanded.

    >>> import gelvo
    >>> gelvo.denominator("1/x + 1/y")
    x*y
    """
    return fractions.quotient_parts(one_expression(take(expression).values[0]))[1]


def coefficients(expression: Any, variable: Any) -> dict[int, Expression]:
    """The coefficients of a polynomial in a variable, by power.

    >>> import gelvo
    >>> gelvo.coefficients("a*x^2 + 3*x", "x")
    {1: 3, 2: a}
    """
    arguments = take(expression)
    return collecting.coefficients(one_expression(arguments.values[0]), variable_in(variable, arguments.context))


def substitute(expression: Any, replacements: Mapping[Any, Any], given: Iterable[Any] = ()) -> Any:
    """Parts replaced by others, all at once; an unknown function may be replaced by a formula.

    replacements: {old: new}, each an expression, a number or text.

    >>> import gelvo
    >>> gelvo.substitute("x + 2*y", {"x": "y", "y": "x"})
    2*x + y
    """
    if not isinstance(replacements, Mapping):
        raise DomainError("the replacements are a mapping {old: new}")
    flat = [p for pair in replacements.items() for p in pair]
    arguments = take(expression, *flat, given=given)
    table: dict[Expression, Expression] = {}
    for old, new in zip(arguments.values[1::2], arguments.values[2::2], strict=True):
        table[one_expression(old)] = one_expression(new)
    value = arguments.values[0]
    if isinstance(value, Equation):
        conditions = [substitute_functions(c, table) for c in value.conditions]
        return Equation(substitute_functions(value.left, table), substitute_functions(value.right, table), conditions)
    return substitute_functions(value, table)


def rename(expression: Any, names_table: Mapping[Any, str], given: Iterable[Any] = ()) -> Any:
    """Names replaced by other names, domains kept; a clash is reported before anything is changed.

    >>> import gelvo
    >>> gelvo.rename("mass*speed^2/2", {"mass": "m", "speed": "v"})
    m*v^2/2
    """
    value = take(expression, given=given).values[0]
    wanted = {str(getattr(k, "name", k)): str(v) for k, v in names_table.items()}
    roots = [value.left, value.right] if isinstance(value, Equation) else [value]
    present = {n.name: n for r in roots for n in names(r)}
    functions = {n.name for r in roots for n in postorder(r) if isinstance(n, Applied)}
    missing = [n for n in wanted if n not in present and n not in functions]
    if missing:
        raise FormulaError(f"there is no name {missing[0]} to rename in this formula")
    kept = ({*present} | functions) - set(wanted)
    for old, new in wanted.items():
        if not new.isidentifier():
            raise FormulaError(f"{new!r} cannot be a name")
        if new in kept or list(wanted.values()).count(new) > 1:
            raise FormulaError(f"renaming {old} to {new} would make two different names one")

    def visit(node: Node) -> Node:
        if isinstance(node, Name) and node.name in wanted:
            return name(Hooks.read.plain_name(wanted[node.name]), node.domain)  # type: ignore[attr-defined]
        if isinstance(node, Applied) and node.name in wanted:
            return applied(wanted[node.name], node.arguments, node.orders)
        return node

    if isinstance(value, Equation):
        return Equation(
            transform(value.left, visit), transform(value.right, visit), [transform(c, visit) for c in value.conditions]
        )
    result = transform(value, visit)
    check_one_meaning([result])
    return result
