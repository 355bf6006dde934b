"""Steps that are implications only, after which candidates are put back: exponentials of both sides, signs, squares."""

from __future__ import annotations

from gelvo.expression.building import multiply_all, number, power, total
from gelvo.expression.nodes import Call, Expression, Number, Power, Sum
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import Form
from gelvo.functions.named import ABS, COSH, COTH, CSCH, EXP, LN, SECH, SINH, TANH, is_a
from gelvo.numbers.exact import Gaussian
from gelvo.solving.roots import Root
from gelvo.solving.single.work import Work

HYPERBOLIC = (SINH, COSH, TANH, COTH, SECH, CSCH)


def logarithms(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """A sum of whole multiples of logarithms equal to a constant: exponentials of both sides."""
    if not isinstance(g, Sum):
        return None
    inside: list[Expression] = []
    rest: list[Expression] = [number(g.constant)]
    for term, coefficient in g.items():
        if not contains(term, solver.unknown):
            rest.append(multiply_all((term, number(coefficient))))
        elif is_a(term, LN) and not isinstance(coefficient, Gaussian):
            inside.append(power(term.arguments[0], number(coefficient)))
        else:
            return None
    solver.implied = True
    solver.roads["exponentials of both sides, candidates put back"] = None
    return solver.solve(multiply_all(inside) - EXP(-total(rest)), depth + 1)


def absolute_values(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """Each |u| as u and as -u."""
    bars = [n for n in postorder(g) if is_a(n, ABS) and contains(n, solver.unknown)]
    if not bars:
        return None
    solver.implied = True
    solver.roads["both signs of absolute values, candidates put back"] = None
    inner = bars[0].arguments[0]
    return [r for sign in (inner, -inner) for r in solver.solve(substitute(g, {bars[0]: sign}), depth + 1)]


def hyperbolic(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """Hyperbolic functions by exponentials."""
    calls = [n for n in postorder(g) if isinstance(n, Call) and n.name in HYPERBOLIC]
    table = {n: n.function.as_elementary(*n.arguments) for n in calls if n.function.as_elementary is not None}
    return solver.solve(substitute(g, table), depth + 1) if table else None


def radicals(solver: Work, g: Expression, depth: int) -> list[Root] | None:
    """A + B*sqrt(q) = 0 squared; the candidates are put back by the caller."""
    roots = [n for n in postorder(g) if isinstance(n, Power) and contains(n, solver.unknown) and _half(n.exponent)]
    bases = list(dict.fromkeys(n.base for n in roots))
    if not bases:
        return None
    base = bases[-1]
    s = solver.facts.new_name("s", g, *solver.taken)
    table: dict[Expression, Expression] = {}
    for n in postorder(g):
        if isinstance(n, Power) and n.base is base and isinstance(n.exponent, Number):
            table[n] = power(s, n.exponent * 2)
    replaced = substitute(g, table)
    form = Form([replaced])
    top = form.expression(form.lowest_terms(form.of(replaced))[0])
    coefficients = uni.coefficients_of(top, s)
    if coefficients is None:
        return None
    even = total([c * base ** (k // 2) for k, c in enumerate(coefficients) if k % 2 == 0])
    odd = total([c * base ** (k // 2) for k, c in enumerate(coefficients) if k % 2])
    solver.implied = True
    solver.roads["squaring, candidates put back"] = None
    return solver.solve(expand(even * even - odd * odd * base), depth + 1)


def _half(k: Expression) -> bool:
    return isinstance(k, Number) and k.is_rational and k.rational.denominator == 2
