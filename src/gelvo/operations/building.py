"""Making variables, unknown functions, formulas and equations."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from math import isfinite
from typing import Any

from gelvo.errors import DomainError, FormulaError
from gelvo.expression import building
from gelvo.expression.constants import ZERO
from gelvo.expression.equation import Equation, in_each
from gelvo.expression.known import DOMAINS, domain_word
from gelvo.expression.nodes import Applied, Condition, Expression, Name
from gelvo.expression.registry import FUNCTIONS, Function, Hooks
from gelvo.expression.traversal import check_one_meaning, relations_of, substitute
from gelvo.facts.statements import DomainFact
from gelvo.numbers.exact import from_decimal_text
from gelvo.operations.inputs import facts_listed, one_expression, roots_of, take

RESERVED = ("pi", "inf", "euler_gamma", "catalan", "undefined")
# words that mean something else here, and what, where formulas have it
MEANT = {
    **dict.fromkeys(("infinity", "Infinity", "Inf", "INF"), "inf"), **dict.fromkeys(("nan", "NaN"), "undefined"), "PI": "pi",
    **dict.fromkeys(("None", "True", "False", "and", "or", "not", "where", "when", "otherwise"), ""),
}  # fmt: skip


def variable(name: str, domain: str = "real") -> Name:
    """A variable with its domain.

    name: a word such as "x", "theta_1" or "θ"; domain: real, positive, nonnegative, negative, nonzero, integer, natural
    or complex. Returns the variable; the same name and domain always give the same object.
    Raises FormulaError for a word that is not a name, DomainError for an unknown domain.

    >>> import gelvo
    >>> n = gelvo.variable("n", domain="integer")
    >>> gelvo.formula("sin(n*pi)", names_from=n)
    0
    """
    word = domain_word(domain)
    if word is None:
        raise DomainError(f"{domain!r} is not a domain; choose one of {', '.join(DOMAINS)}")
    spelt = Hooks.read.plain_name(name.strip()) if isinstance(name, str) else ""
    if not spelt.isidentifier():
        raise FormulaError(f"{name!r} cannot be a name: a name is a letter followed by letters, digits and underscores")
    if spelt in RESERVED:
        raise FormulaError(f"{name} is a constant and cannot be a variable")
    if Hooks.read.names_a_function(spelt):
        raise FormulaError(f"{name} cannot be a variable: it is a function")
    if spelt in MEANT:
        raise FormulaError(f"{name} cannot be a variable: it would be mistaken for {MEANT[spelt] or 'a word of the language'}")
    return building.name(spelt, word)


def variables(*names: str, domain: str = "real") -> tuple[Name, ...]:
    """Several variables of one domain.

    >>> import gelvo
    >>> x, a = gelvo.variables("x", "a")
    >>> a*x
    a*x
    """
    return tuple(variable(n, domain) for n in names)


def positive_variables(*names: str) -> tuple[Name, ...]:
    """Several positive variables.

    >>> import gelvo
    >>> m, k = gelvo.positive_variables("m", "k")
    >>> gelvo.formula("sqrt(m^2)", names_from=m)
    m
    """
    return variables(*names, domain="positive")


def unknown_function(name: str, *arguments: Any) -> Applied:
    """A function that is not known yet: q(t), with derivatives q.derivative(1) and values q(0).

    >>> import gelvo
    >>> t = gelvo.variable("t")
    >>> q = gelvo.unknown_function("q", t)
    >>> q.derivative(2) + q
    q''(t) + q(t)
    """
    places = tuple(variable(a) if isinstance(a, str) else building.to_expression(a) for a in arguments)
    if not places:
        raise DomainError(f"the unknown function {name} needs at least one argument, such as t")
    return building.applied(name, places, (0,) * len(places))


def formula(text: str, given: Iterable[Any] = (), names_from: Any = None) -> Any:
    """An expression, an equation or a condition from text.

    text: formula text, see the page on the formula language; given: facts about single names, which set their domains;
    names_from: an expression (or several) whose names, domains and unknown functions are used.
    Raises FormulaError with the column, a caret and what was probably meant.

    >>> import gelvo
    >>> gelvo.formula("a*x^2*exp(-x) + 3x")
    a*x^2*exp(-x) + 3*x
    >>> gelvo.formula("sqrt(a*b)", given=["a > 0", "b real"])
    sqrt(a)*sqrt(b)
    """
    sources = names_from if isinstance(names_from, (list, tuple)) else [] if names_from is None else [names_from]
    stated = facts_listed(given)
    check_one_meaning([n for s in sources for n in roots_of(s)])
    context = Hooks.read.context(*sources, *[g for g in stated if not isinstance(g, str)])
    Hooks.read.declare(context, stated)
    value: Any = Hooks.read(text, context)
    table: dict[Name, Name] = {}
    for fact in Hooks.read.facts(stated, context):
        for name, domain in _domains_of(fact):
            table[name] = building.name(name.name, domain)
    if not table:
        return value
    return in_each(value, lambda e: substitute(e, table))


def _domains_of(fact: object) -> Iterable[tuple[Name, str]]:
    if isinstance(fact, DomainFact):
        yield fact
        return
    if not isinstance(fact, Condition):
        raise FormulaError(f"{fact} is not a fact about a single name")
    table = {"<": "positive", "<=": "nonnegative", "!=": "nonzero"}
    for relation in relations_of(fact):
        left, right = relation.left, relation.right
        if isinstance(right, Name) and left is ZERO and relation.operator in table:
            yield right, table[relation.operator]
        elif isinstance(left, Name) and right is ZERO and relation.operator in ("<", "!="):
            yield left, "negative" if relation.operator == "<" else "nonzero"
        else:
            raise FormulaError(f"the fact {fact} relates more than one name: give it to the operation instead")


def equation(left: Any, right: Any = 0, given: Iterable[Any] = ()) -> Equation:
    """An equation; it has .left and .right and is never a Python truth value.

    >>> import gelvo
    >>> gelvo.equation("a*x", "b")
    a*x = b
    """
    first, second = take(left, right, given=given).expressions
    return Equation(first, second)


def decimal(value: Any, digits: int) -> Expression:
    """A float as the decimal with that many significant digits, exactly.

    >>> import gelvo
    >>> gelvo.decimal(0.1 + 0.2, 5)
    3/10
    """
    if not isinstance(digits, int) or not 1 <= digits <= 17:
        raise DomainError(f"digits must be a whole number from 1 to 17, not {digits}")
    try:
        plain = float(value)
    except (TypeError, ValueError, OverflowError):
        raise DomainError(f"a decimal number is needed here, not {value!r:.60}") from None
    if not isfinite(plain):
        raise DomainError(f"{value} is no finite decimal number")
    text = f"{plain:.{digits - 1}e}"
    sign = -1 if text.startswith("-") else 1
    return building.number(sign * from_decimal_text(text.lstrip("-")))


def total(terms: Iterable[Any]) -> Expression:
    """The sum of many terms in one pass.

    >>> import gelvo
    >>> x = gelvo.variable("x")
    >>> gelvo.total([x, 1, x])
    2*x + 1
    """
    return building.total(_all_of(terms))


def multiply_all(factors: Iterable[Any]) -> Expression:
    """The product of many factors in one pass.

    >>> import gelvo
    >>> x = gelvo.variable("x")
    >>> gelvo.multiply_all([x, 2, x])
    2*x^2
    """
    return building.multiply_all(_all_of(factors))


def _all_of(parts: Iterable[object]) -> Sequence[Expression]:
    """Expressions as they are; with text among them, all read together."""
    listed = list(parts)
    if any(isinstance(p, str) for p in listed):
        return take(*listed).expressions
    return [building.to_expression(p) for p in listed]  # no walk through the parts: long sums stay linear


def cases(pieces: Iterable[tuple[Any, Any]], otherwise: Any = None) -> Expression:
    """Values under conditions, looked at in order.

    >>> import gelvo
    >>> x = gelvo.variable("x")
    >>> gelvo.cases([(x**2, x > 0)], otherwise=0)
    cases(x^2 when x > 0, otherwise 0)
    """
    listed = list(pieces)
    for piece in listed:
        if not isinstance(piece, (list, tuple)) or len(piece) != 2:
            raise DomainError(f"each case is a pair (value, condition), not {piece!r}")
    *flat, rest = take(*[p for piece in listed for p in piece], otherwise).values
    pairs = [(one_expression(v), c) for v, c in zip(flat[::2], flat[1::2], strict=True)]
    return building.cases(pairs, None if rest is None else one_expression(rest))


def _written(kind: str, body: object, variable: object, *rest: object) -> Expression:
    arguments = take(body, *rest, variables=[variable])
    inside, *ends = arguments.expressions
    return building.written(kind, inside, *arguments.names, *ends)


def integral_of(body: Any, variable: Any, lower: Any = None, upper: Any = None) -> Expression:
    """The written form of an integral; `integrate` works it out.

    >>> import gelvo
    >>> gelvo.integral_of("x^2", "x", 0, 1)
    integral_of(x^2, x, 0, 1)
    """
    return _written("integral_of", body, variable, *([] if lower is None else [lower, upper]))


def derivative_of(body: Any, variable: Any, times: int = 1) -> Expression:
    """The written form of a derivative; `differentiate` works it out.

    >>> import gelvo
    >>> gelvo.derivative_of("sin(x)", "x")
    derivative_of(sin(x), x)
    """
    return _written("derivative_of", body, variable, *([] if times == 1 else [times]))


def limit_of(body: Any, variable: Any, point: Any) -> Expression:
    """The written form of a limit.

    >>> import gelvo
    >>> gelvo.limit_of("sin(x)/x", "x", 0)
    limit_of(sin(x)/x, x, 0)
    """
    return _written("limit_of", body, variable, point)


def sum_of(body: Any, variable: Any, lower: Any, upper: Any) -> Expression:
    """The written form of a sum.

    >>> import gelvo
    >>> gelvo.sum_of("1/k^2", "k", 1, "inf")
    sum_of(1/k^2, k, 1, inf)
    """
    return _written("sum_of", body, variable, lower, upper)


def product_of(body: Any, variable: Any, lower: Any, upper: Any) -> Expression:
    """The written form of a product.

    >>> import gelvo
    >>> gelvo.product_of("k", "k", 1, "n")
    product_of(k, k, 1, n)
    """
    return _written("product_of", body, variable, lower, upper)


def root_of(body: Any, variable: Any, lower: Any, upper: Any) -> Expression:
    """The one zero of a formula between two ends: a number, or a function of the other letters, that has no closed form.

    It can be evaluated to any number of digits, differentiated by the letters (by its equation), and exported.

    >>> import gelvo
    >>> dottie = gelvo.root_of("cos(x) - x", "x", 0, 1)
    >>> str(gelvo.value(dottie, 20))
    '0.73908513321516064166'
    """
    return _written("root_of", body, variable, lower, upper)


def mathematical_function(name: str) -> Callable[..., Expression]:
    """A function of the catalogue as a Python function of expressions, numbers or text."""

    def apply(*arguments: object) -> Expression:
        values = _all_of(arguments)
        if name == "sqrt":
            if len(values) != 1:
                raise DomainError(f"sqrt takes 1 argument, not {len(values)}")
            return building.power(values[0], building.number(1) / 2)
        return building.call(name, *values)

    apply.__name__ = apply.__qualname__ = {"abs": "absolute", "min": "minimum", "max": "maximum"}.get(name, name)
    apply.__module__ = "gelvo"  # where it is found again, by a process that it is sent to
    apply.__doc__ = _documentation(apply.__name__, FUNCTIONS.get(name))
    return apply


def _documentation(name: str, record: Function | None) -> str:
    """The docstring of a function of the catalogue: what it is, where its formulas come from, and one example."""
    if record is None:
        return 'The square root that is not negative, or has a positive real part.\n\n>>> import gelvo\n>>> gelvo.sqrt("12")\n2*sqrt(3)\n'
    *arguments, value = record.example
    source = f"\n\nSource: {record.source}." if record.source else ""
    listed = ", ".join(f'"{a}"' for a in arguments)
    return f"{record.about}{source}\n\n>>> import gelvo\n>>> gelvo.{name}({listed})\n{value}\n"
