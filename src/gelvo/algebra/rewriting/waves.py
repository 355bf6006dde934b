"""Sine and cosine (and the hyperbolic pair): multiple angles, powers of one angle, tangents."""

from __future__ import annotations

from collections.abc import Iterator

from gmpy2 import mpq

from gelvo.algebra.facts import Facts
from gelvo.algebra.fractions import IMAGINARY, PI, Form, euler
from gelvo.algebra.normal import prepared, reduced_with_factor, with_quarter_turns
from gelvo.expression.building import call, multiply_all, number, power, scale, total
from gelvo.expression.nodes import Call, Expression, Number, Power, Product
from gelvo.expression.traversal import names, postorder, transform
from gelvo.numbers.exact import Gaussian, parts
from gelvo.polynomial import sparse
from gelvo.polynomial.sparse import Polynomial

CIRCULAR = ("sin", "cos", "tan", "cot", "sec", "csc")
HYPERBOLIC = ("sinh", "cosh", "tanh", "coth", "sech", "csch")
MOST_TERMS = 400
MOST_ANGLES = 2


def wave_forms(expression: Expression, facts: Facts) -> Iterator[tuple[str, Expression]]:
    """2*sin(x)*cos(x) -> sin(2*x), 1 - cos(x)^2 -> sin(x)^2, sin(x)/cos(x) -> tan(x) and their like."""
    kinds = {n.name for n in postorder(expression) if isinstance(n, Call)}
    if not kinds & {*CIRCULAR, *HYPERBOLIC, "exp"}:
        return
    yield "tangents", tangents(expression)
    ready = prepared(expression, facts)
    form = Form([ready], facts)
    with_quarter_turns(form)
    quotient = form.of(ready)
    top, factor = reduced_with_factor(form, quotient.top)
    bottom = sparse.multiply(form.denominator(quotient), factor)
    if not top:
        yield "zero by exponentials", number(0)
        return
    if not sparse.has_gaussian(top) and not sparse.has_gaussian(bottom):
        top, bottom = form.without_common_factors(top, bottom)
    if len(top) + len(bottom) > MOST_TERMS:
        return
    hyperbolic = bool(kinds & {*HYPERBOLIC, "exp"})
    upper, lower = _as_waves(form, top, hyperbolic), _as_waves(form, bottom, hyperbolic)
    if upper is None or lower is None:
        return
    quotient_form = upper[0] / lower[0] * upper[1] / lower[1]
    yield "multiple angles", quotient_form
    yield "multiple angles, tangents", tangents(quotient_form)
    if len(_base_angles(quotient_form) or ()) > MOST_ANGLES:
        return  # powers of the waves of many angles are longer than what came in
    for keep, word in (("cos", "cosine"), ("sin", "sine")):
        for part, angle in ((1, "the angle"), (2, "half the angle")):
            powers = single_angles(quotient_form, keep, part)
            if powers is not None:
                yield f"powers of the {word} of {angle}", powers
                yield f"powers of the {word} of {angle}, tangents", tangents(powers)


def _as_waves(form: Form, p: Polynomial, hyperbolic: bool) -> tuple[Expression, Expression] | None:
    """A polynomial in exponentials as (sum of waves of multiple angles, exponential that was centred away)."""
    circular: dict[int, Expression] = {}
    for (base, unit), index in form.generators.items():
        if base is euler():  # not a root of an exponential, such as sqrt(exp(1j*x))
            step = scale(unit, mpq(1, form.roots_of[(base, unit)]))
            angle = step * -IMAGINARY
            imaginary = _imaginary(unit)
            if imaginary and unit is not multiply_all((IMAGINARY, PI)):
                circular[index] = angle
            elif hyperbolic and not imaginary:
                circular[index] = step
    spans = {k: [sparse.exponent_of(m, k) for m in p] for k in circular}
    centre = {k: mpq(max(v) + min(v), 2) for k, v in spans.items()}
    shift = total([scale(_step(form, k), centre[k]) for k in circular])
    terms: list[Expression] = []
    table: dict[tuple[tuple[int, mpq], ...], Polynomial] = {}
    for m, c in p.items():
        key = tuple((k, sparse.exponent_of(m, k) - centre[k]) for k in circular)
        inside = sum(sparse.exponent_of(m, k) << (sparse.BITS * k) for k in circular)
        table.setdefault(key, {})[m - inside] = c
    for key, coefficient in table.items():
        terms.append(form.expression(coefficient) * _exponential_of(form, key, circular))
    result = total([_expanded(t) for t in terms])
    return result, call("exp", shift)


def _imaginary(unit: Expression) -> bool:
    coefficient = (
        getattr(unit, "coefficient", None) if isinstance(unit, Product) else unit.value if isinstance(unit, Number) else None
    )
    return isinstance(coefficient, Gaussian) and not coefficient.real


def _step(form: Form, index: int) -> Expression:
    (base, unit) = list(form.generators)[index]
    return scale(unit, mpq(1, form.roots_of[(base, unit)]))


def _exponential_of(form: Form, key: tuple[tuple[int, mpq], ...], waves: dict[int, Expression]) -> Expression:
    """exp of an imaginary angle as cos + 1j*sin, of a real one as cosh + sinh."""
    turning: list[Expression] = []
    growing: list[Expression] = []
    for k, exponent in key:
        step = _step(form, k)
        (turning if _imaginary(list(form.generators)[k][1]) else growing).append(scale(step, exponent))
    angle, growth = total(turning) * -IMAGINARY, total(growing)
    circular = call("cos", angle) + IMAGINARY * call("sin", angle)
    return circular * (call("cosh", growth) + call("sinh", growth))


def _expanded(term: Expression) -> Expression:
    from gelvo.algebra.expanding import expand

    return expand(term)


def single_angles(expression: Expression, keep: str, part: int, squares: bool = True) -> Expression | None:
    """All sines and cosines of multiples of one angle by powers of the functions of that angle.

    squares: whether products such as (1 - cos(x))*(1 + cos(x)) are read as sin(x)^2 again.
    """
    found = _base_angles(expression)
    if not found:
        return None
    bases = {scale(angle, mpq(1, part)): None for angle in found}

    def visit(node: Expression) -> Expression:
        if isinstance(node, Call) and node.name in ("sin", "cos"):
            return _multiple(node, bases)
        return node

    inner = transform(expression, visit)
    form = Form([inner])
    quotient = form.of(inner)
    top, bottom = quotient.top, form.denominator(quotient)
    for angle in bases:
        kept, gone = call(keep, angle), call("cos" if keep == "sin" else "sin", angle)
        pair = [(n, form.generators.get((n, number(1)))) for n in (gone, kept)]
        gone_index, kept_index = pair[0][1], pair[1][1]
        if gone_index is None:
            continue
        if kept_index is None:
            kept_index = form.generators[(kept, number(1))] = len(form.generators)
            form.roots_of[(kept, number(1))] = 1
        square: Polynomial = {0: mpq(1), 2 << (sparse.BITS * kept_index): mpq(-1)}
        top, bottom = _reduced(top, gone_index, square), _reduced(bottom, gone_index, square)
    if not top:
        return number(0)
    if not bottom or sparse.has_gaussian(top) or sparse.has_gaussian(bottom):
        return None
    from gelvo.algebra.fractions import Quotient

    quotient = form.multiply(Quotient(top, {}), form.invert(Quotient(bottom, {})))
    top, bottom = form.lowest_terms(quotient)
    if not squares:
        return form.expression(top) / form.expression(bottom)
    return _pythagoras(form.factored(top)) / _pythagoras(form.factored(bottom))


def _reduced(p: Polynomial, index: int, square: Polynomial) -> Polynomial:
    result: Polynomial = {}
    for k, coefficient in sparse.by_powers(p, index).items():
        piece = sparse.multiply(coefficient, sparse.power(square, k // 2))
        result = sparse.add(result, sparse.from_powers({k % 2: piece}, index))
    return result


def _pythagoras(expression: Expression) -> Expression:
    """(cos(x) - 1)*(cos(x) + 1) in a product is -sin(x)^2."""
    factors = list(expression.factors) if isinstance(expression, Product) else [expression]
    coefficient = number(expression.coefficient) if isinstance(expression, Product) else number(1)
    table: dict[Expression, int] = {}
    for factor in factors:
        base, k = (factor.base, factor.exponent) if isinstance(factor, Power) else (factor, number(1))
        if isinstance(k, Number) and k.is_whole:
            table[base] = table.get(base, 0) + int(k.rational)
        else:
            return expression
    extra: list[Expression] = [coefficient]
    waves = [n for f in factors for n in postorder(f) if isinstance(n, Call) and n.name in ("sin", "cos")]
    for wave in dict.fromkeys(waves):
        low, high = wave - 1, wave + 1
        count = min(table.get(low, 0), table.get(high, 0))
        if count > 0:
            other = call("cos" if wave.name == "sin" else "sin", wave.arguments[0])
            table[low] -= count
            table[high] -= count
            extra.append(power(-(other**2), number(count)))
    return multiply_all([*extra, *[power(b, number(k)) for b, k in table.items()]])


def _base_angles(expression: Expression) -> dict[Expression, None] | None:
    """Angles of which all arguments are integer combinations."""
    from gelvo.algebra.fractions import exponent_parts

    units: dict[Expression, mpq] = {}
    for node in postorder(expression):
        if isinstance(node, Call) and node.name in ("sin", "cos"):
            for coefficient, unit in exponent_parts(node.arguments[0]):
                if not names(unit):
                    return None
                known = units.get(unit)
                units[unit] = abs(coefficient) if known is None else _common(known, abs(coefficient))
    return {scale(u, c): None for u, c in units.items()}


def _common(a: mpq, b: mpq) -> mpq:
    """The greatest rational of which both are integer multiples."""
    while b:
        a, b = b, a - b * (a // b)
    return a


def _multiple(node: Call, bases: dict[Expression, None]) -> Expression:
    """sin or cos of an integer combination of base angles, written in their sines and cosines."""
    from gelvo.algebra.expanding import expand
    from gelvo.algebra.fractions import exponent_parts

    product: Expression = number(1)
    for coefficient, unit in exponent_parts(node.arguments[0]):
        for base in bases:
            ratio = scale(unit, coefficient) / base
            if isinstance(ratio, Number):
                k = int(ratio.rational)
                sign = 1 if k > 0 else -1
                turn = call("cos", base) + sign * IMAGINARY * call("sin", base)
                product = product * power(turn, number(abs(k)))
    expanded = expand(product)
    chosen = []
    for term in _terms(expanded):
        real, imag = parts(term[1])
        part = real if node.name == "cos" else imag
        chosen.append(scale(term[0], part))
    return total(chosen)


def _terms(expression: Expression) -> list[tuple[Expression, object]]:
    from gelvo.expression.building import split_coefficient
    from gelvo.expression.nodes import Sum

    if isinstance(expression, Sum):
        return [*expression.items(), (number(1), expression.constant)]
    return [split_coefficient(expression)]


def tangents(expression: Expression) -> Expression:
    """sin(u)/cos(u) in products as tan(u), and the same for the hyperbolic pair."""

    def visit(node: Expression) -> Expression:
        if not isinstance(node, (Product, Power)):
            return node
        factors = node.factors if isinstance(node, Product) else (node,)
        table: dict[tuple[str, Expression], int] = {}
        rest: list[Expression] = [number(node.coefficient)] if isinstance(node, Product) else []
        for factor in factors:
            base, k = (factor.base, factor.exponent) if isinstance(factor, Power) else (factor, number(1))
            whole = isinstance(k, Number) and k.is_whole
            if isinstance(base, Call) and base.name in ("sin", "cos", "tan", "sinh", "cosh", "tanh") and whole:
                key = (base.name, base.arguments[0])
                table[key] = table.get(key, 0) + int(k.rational)  # type: ignore[attr-defined]
            else:
                rest.append(factor)
        for sine, cosine, tangent in (("sin", "cos", "tan"), ("sinh", "cosh", "tanh")):
            for kind, angle in list(table):
                if kind == tangent:
                    t = table[(tangent, angle)]
                    c = table.get((cosine, angle), 0)
                    if t * c > 0:
                        count = min(abs(t), abs(c)) * (1 if t > 0 else -1)
                        _shift(table, tangent, cosine, sine, angle, -count, -count, count)
                if kind == sine:
                    s, c = table[(sine, angle)], table.get((cosine, angle), 0)
                    if s * c < 0:
                        count = min(abs(s), abs(c)) * (1 if s > 0 else -1)
                        _shift(table, sine, cosine, tangent, angle, -count, count, count)
        return multiply_all([*rest, *[power(call(n, a), number(k)) for (n, a), k in table.items()]])

    return transform(expression, visit)  # type: ignore[no-any-return]


def _shift(table: dict[tuple[str, Expression], int], a: str, b: str, c: str, angle: Expression, *steps: int) -> None:
    for name, step in zip((a, b, c), steps, strict=True):
        table[(name, angle)] = table.get((name, angle), 0) + step
