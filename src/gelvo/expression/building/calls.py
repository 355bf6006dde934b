"""Functions of the catalogue applied to arguments: exact values, parity, inverses."""

from __future__ import annotations

from gelvo.errors import DomainError
from gelvo.expression import known as facts
from gelvo.expression.building.sums import distributed, looks_negative, negate
from gelvo.expression.interning import interned
from gelvo.expression.nodes import Bound, Call, Expression, Product
from gelvo.expression.registry import FUNCTIONS, Function


def call(function_name: str, *arguments: Expression) -> Expression:
    """A function of the catalogue applied to arguments, with its exact values, parity and inverse used."""
    function = FUNCTIONS.get(function_name)
    if function is None:
        raise DomainError(f"there is no function {function_name} in the catalogue")
    return called(function, arguments)


def called(function: Function, arguments: tuple[Expression, ...]) -> Expression:
    """The function of a record, of the catalogue or not, applied to arguments."""
    least, most = function.arguments
    if not least <= len(arguments) <= most:
        wanted = str(least) if least == most else f"{least} or more" if most > 9 else f"{least} to {most}"
        raise DomainError(f"{function.name} takes {wanted} argument{'s' if wanted != '1' else ''}, not {len(arguments)}")
    if any(isinstance(a, Bound) for a in arguments):
        raise DomainError(f"inf and undefined cannot stand in {function.name}(…); use limit(…)")
    if (function.odd or function.even) and isinstance(arguments[0], Product):
        arguments = (distributed(arguments[0]),)
    if function.no_value is not None and function.no_value(*arguments):
        shown = ", ".join(map(str, arguments))
        raise DomainError(f"{function.name}({shown}) has no value")
    if function.at is not None:
        value = function.at(*arguments)
        if value is not None:
            return value
    if function.odd or function.even:
        argument = arguments[0]
        if looks_negative(argument):
            value = called(function, (distributed(negate(argument)),))
            return negate(value) if function.odd else value
    if function.inverse and isinstance(arguments[0], Call) and arguments[0].function.name == function.inverse:
        return arguments[0].arguments[0]
    return interned(Call, (function, arguments), _known_of_call)


def _known_of_call(node: Call) -> int:
    known = node.function.known
    return facts.ANY if known is None else known(*[a.known for a in node.arguments])
