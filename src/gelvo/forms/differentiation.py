"""Derivatives of everything the library can build, one new node a distinct node."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from gelvo.errors import DomainError
from gelvo.expression.building import applied, cases, multiply_all, number, power, scale, total, written
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Applied, Bound, Call, Cases, Expression, Name, Node, Power, Product, Relation, Sum, Written
from gelvo.expression.traversal import dependents, has_imaginary_unit, postorder, substitute
from gelvo.forms.asking import Asked
from gelvo.functions.named import ABS, ARG, ATAN2, CEIL, CONJ, DIRAC_DELTA, FLOOR, HEAVISIDE, IM, LN, MAX, MIN, RE, SIGN, is_a
from gelvo.roads import on_the_way


@on_the_way("rules of differentiation")
def differentiate(expression: Expression, variable: Expression, times: int = 1, facts: Asked | None = None) -> Expression:
    """The derivative with respect to a name (or an unknown function, or a derivative of one).

    facts: where they are given, abs, sign and arg of what they do not show to be real (sqrt(x) below zero) follow the complex value;
    without them such an argument is meant to be real.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> print(differentiate(x**3 - x, x))
    3*x^2 - 1
    """
    if not isinstance(variable, (Name, Applied)):
        raise DomainError(f"a derivative is taken with respect to a variable or an unknown function, not {variable}")
    if not isinstance(times, int) or times < 0:
        raise DomainError(f"the number of derivatives must be a natural number, not {times}")
    for _ in range(times):
        expression = _once(expression, variable, facts)
    return expression


def slope_of(expression: Expression, variable: Name) -> Expression | None:
    """The derivative; None where it has no formula, such as that of a Bessel function by its order."""
    try:
        slope = differentiate(expression, variable)
    except DomainError:
        return None
    return None if any(isinstance(n, Written) for n in postorder(slope)) else slope


def _once(root: Expression, variable: Expression, facts: Asked | None) -> Expression:
    if isinstance(root, Bound):
        return ZERO
    affected = dependents(root, variable)
    found = _Found(facts)
    for node in postorder(root):
        if node in affected and isinstance(node, Expression):
            if node is variable:
                found[node] = ONE
            elif not found.extend_chain(node):
                found[node] = _derivative(node, found, variable)
    return found.get(root, ZERO)


class _Found(dict[Node, Expression]):
    """Derivatives of nodes. In f(g(h(x))) the factors are only linked, and multiplied once, where the product is asked for."""

    def __init__(self, facts: Asked | None) -> None:
        super().__init__()
        self.facts = facts
        self.links: dict[Node, tuple[Expression, Node]] = {}

    def extend_chain(self, node: Expression) -> bool:
        """Links f'(u) for a function of one argument; False for everything else."""
        if not isinstance(node, Call) or len(node.arguments) != 1 or not callable(node.function.derivative):
            return False
        inner = node.arguments[0]
        if (is_a(node, LN) and is_a(inner, ABS)) or _needs_a_real_argument(node, self.facts):
            return False
        self.links[node] = (node.function.derivative(inner), inner)
        return True

    def __contains__(self, node: object) -> bool:
        return super().__contains__(node) or node in self.links

    def get(self, node: Node, default: object = None) -> Any:
        present = super().get(node)
        if present is None and node in self.links:
            factors: list[Expression] = []
            place: Node = node
            while (link := self.links.get(place)) is not None:
                factors.append(link[0])
                place = link[1]
            present = self[node] = multiply_all([*factors, super().get(place, ZERO)])
        return default if present is None else present

    def __missing__(self, node: Node) -> Expression:
        result = self.get(node)
        if result is None:
            raise KeyError(node)
        return result


def _derivative(node: Expression, found: _Found, variable: Expression) -> Expression:
    if isinstance(node, Sum):
        return total([scale(found[t], c) for t, c in node.items() if t in found])
    if isinstance(node, Product):
        return _of_product(node, found)
    if isinstance(node, Power):
        return _of_power(node, found)
    if isinstance(node, Call):
        return _of_call(node, found, variable)
    if isinstance(node, Applied):
        return _of_applied(node, found)
    if isinstance(node, Cases):
        # a value at one place tells nothing of the slope there
        listed = [(v, c) for v, c in zip(node.values, node.conditions, strict=False) if not _is_one_place(c, variable)]
        pieces = [(found.get(v, ZERO), c) for v, c in listed]
        rest = node.otherwise
        slope = rest if isinstance(rest, Bound) else found.get(rest, ZERO)
        return cases(pieces, slope) if pieces else slope
    if isinstance(node, Written):
        return _of_written(node, found, variable)
    raise DomainError(f"{node} cannot be differentiated")


def _is_one_place(condition: object, variable: Expression) -> bool:
    return isinstance(condition, Relation) and condition.operator == "=" and variable in postorder(condition)


# their derivatives are those along the real line
_OF_REAL_NUMBERS = (ABS, RE, IM, CONJ, SIGN, ARG, HEAVISIDE, DIRAC_DELTA, FLOOR, CEIL, MIN, MAX, ATAN2)


def _needs_a_real_argument(node: Call, facts: Asked | None) -> bool:
    """Whether a function that has a derivative along the real line only is taken of what may be complex."""
    if node.name not in _OF_REAL_NUMBERS:
        return False
    if _has_complex_name(node) or has_imaginary_unit(node):
        return True
    return facts is not None and node.name in _OF_COMPLEX_VALUES and not facts.is_real(node.arguments[0])


def _has_complex_name(node: Call) -> bool:
    return any(isinstance(n, Name) and n.domain == "complex" for n in postorder(node))


def _size(u: Expression) -> Expression:
    return ABS(u)


def _size_changes(u: Expression, slope: Expression) -> Expression:
    return RE(CONJ(u) * slope) / _size(u)


# of a complex value u(x) of a real x, by u and u'
_OF_COMPLEX_VALUES: dict[str, Callable[[Expression, Expression], Expression]] = {
    ABS: _size_changes,
    RE: lambda u, slope: RE(slope),
    IM: lambda u, slope: IM(slope),
    CONJ: lambda u, slope: CONJ(slope),
    ARG: lambda u, slope: IM(slope / u),
    SIGN: lambda u, slope: slope / _size(u) - u * _size_changes(u, slope) / _size(u) ** 2,
}


def _of_product(node: Product, found: _Found) -> Expression:
    terms: list[Expression] = []
    for factor in node.factors:
        inner = found.get(factor)
        if inner is not None and inner is not ZERO:
            others = [f for f in node.factors if f is not factor]
            terms.append(multiply_all([number(node.coefficient), inner, *others]))
    return total(terms)


def _of_power(node: Power, found: _Found) -> Expression:
    base, exponent = node.base, node.exponent
    inner = found.get(base, ZERO)
    terms = []
    if inner is not ZERO:
        terms.append(multiply_all((exponent, power(base, exponent - 1), inner)))
    outer = found.get(exponent, ZERO)
    if outer is not ZERO:
        terms.append(multiply_all((node, LN(base), outer)))
    return total(terms)


def _of_call(node: Call, found: _Found, variable: Expression) -> Expression:
    if _needs_a_real_argument(node, found.facts) and any(found.get(a, ZERO) is not ZERO for a in node.arguments):
        return _of_complex_argument(node, found, variable)
    inner = node.arguments[0] if node.arguments else None
    bars = is_a(node, LN) and is_a(inner, ABS)
    if bars and isinstance(inner, Call) and not _needs_a_real_argument(inner, found.facts):
        # ln|u| of a real u: u'/u, which spares the reader sign(u)/|u|
        inside = inner.arguments[0]
        return multiply_all((found.get(inside, ZERO), power(inside, number(-1))))
    formulas = node.function.derivative
    if formulas is None:
        if node.function.as_elementary is not None:
            return _once(node.function.as_elementary(*node.arguments), variable, found.facts)
        if not isinstance(variable, Name):
            raise DomainError(f"{node} has no known derivative")
        return written("derivative_of", node, variable)
    changes = [found.get(a, ZERO) for a in node.arguments]
    listed = formulas if isinstance(formulas, tuple) else (formulas,)
    return total([multiply_all((f(*node.arguments), c)) for f, c in zip(listed, changes, strict=True) if c is not ZERO])


def _of_complex_argument(node: Call, found: _Found, variable: Expression) -> Expression:
    """abs, sign and arg of what is not known to be real have no complex derivative, but one along a real variable."""
    if not isinstance(variable, Name):
        raise DomainError(f"{node} has no derivative where its argument is complex")
    if node.name in _OF_COMPLEX_VALUES and not _has_complex_name(node):  # a complex name has no direction to change in
        (argument,) = node.arguments
        return _OF_COMPLEX_VALUES[node.name](argument, found[argument])
    return written("derivative_of", node, variable)


def _of_applied(node: Applied, found: _Found) -> Expression:
    terms = []
    for place, argument in enumerate(node.arguments):
        inner = found.get(argument, ZERO)
        if inner is not ZERO:
            orders = tuple(k + (i == place) for i, k in enumerate(node.orders))
            terms.append(multiply_all((applied(node.name, node.arguments, orders), inner)))
    return total(terms)


def _of_written(node: Written, found: _Found, variable: Expression) -> Expression:
    if not isinstance(variable, Name):
        raise DomainError(f"{node} cannot be differentiated with respect to {variable}")
    if node.kind == "derivative_of":
        if node.variable is variable:
            times = node.arguments[2] if len(node.arguments) > 2 else ONE
            return written("derivative_of", node.body, variable, times + 1)
        return written("derivative_of", node, variable)
    if node.kind == "integral_of":
        return _of_integral(node, found, variable)
    if node.kind == "root_of":
        return _of_root(node, found, variable)
    if any(found.get(end, ZERO) is not ZERO for end in node.arguments[2:]):
        return written("derivative_of", node, variable)  # how a sum changes with its end is no rule of differentiation
    if node.variable is variable or _inner(node, found) is ZERO:
        return ZERO
    if node.kind == "sum_of":
        return written("sum_of", _inner(node, found), *node.arguments[1:])
    return written("derivative_of", node, variable)


def _of_root(node: Written, found: _Found, variable: Name) -> Expression:
    """By its equation: the ends of the bracket do not matter."""
    if node.variable is variable or _inner(node, found) is ZERO:
        return ZERO
    return substitute(-_inner(node, found) / differentiate(node.body, node.variable), {node.variable: node})


def _of_integral(node: Written, found: _Found, variable: Name) -> Expression:
    if len(node.arguments) > 2:
        return _of_definite(node, found, variable)
    return node.body if node.variable is variable else written("integral_of", _inner(node, found), node.variable)


def _of_definite(node: Written, found: _Found, variable: Name) -> Expression:
    """Under the integral sign, and at the ends that move (G. W. Leibniz)."""
    body, inside, lower, upper = node.arguments
    terms: list[Expression] = []
    if inside is not variable and _inner(node, found) is not ZERO:
        terms.append(written("integral_of", _inner(node, found), inside, lower, upper))
    for end, sign in ((upper, 1), (lower, -1)):
        change = found.get(end, ZERO)
        if change is not ZERO:
            terms.append(sign * substitute(body, {inside: end}) * change)
    return total(terms)


def _inner(node: Written, found: _Found) -> Expression:
    return found.get(node.body, ZERO)
