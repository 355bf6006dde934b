"""y' = q(t) - p(t)*y by an integrating factor, and Bernoulli's equation, which becomes linear for a power of y."""

from __future__ import annotations

from gelvo.differential.first_order.rate import Rate, accepted, distinct, growth, integral
from gelvo.differential.problem import Outcome, Problem, Solved, derivative_of
from gelvo.differential.singular_values import imposed_anywhere
from gelvo.differential.variation import as_written
from gelvo.errors import DomainError
from gelvo.expression.building import power, relation, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Expression, Number
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import power_table
from gelvo.forms.expanding import expand
from gelvo.functions.named import ABS, is_a
from gelvo.simplifying.search import simplify
from gelvo.solving.single.complete import solve_single


def integrating_factor(rate: Rate, as_integral: bool = False) -> Outcome | None:
    """y' + p*y = q; as_integral: what has no antiderivative stays a written integral inside the solution."""
    parts = uni.coefficients_of(expand(rate.slope), rate.y)
    if parts is None or len(parts) > 2:
        return None
    t, facts, start = rate.t, rate.facts, rate.start
    q, p = parts[0] if parts else ZERO, -parts[1] if len(parts) == 2 else ZERO
    weight = integral(p, t, facts)
    if weight is None:
        return None
    factor = growth(weight, t, facts)
    bars = [n.arguments[0] for n in postorder(factor) if is_a(n, ABS) and not facts.is_nonzero(n.arguments[0])]
    if bars and not as_integral:
        return _on_both_sides(rate, bars[0])
    inner = simplify(factor * q, facts).expression
    whole = integral(inner, t, facts)
    if whole is None:
        if not as_integral:
            return None
        whole = as_written(inner, t, facts, start.place if start else ZERO)
    constants = rate.problem.constants(1)
    value = expand(simplify(constants[0] / factor + whole / factor, facts).expression)
    found = accepted(rate.problem._replace(stated=[]), value)
    if found is None:
        return None
    outcome = Outcome([found], constants, "integrating factor")
    return imposed_anywhere(rate.problem, outcome)


def _on_both_sides(rate: Rate, inside: Expression) -> Outcome | None:
    """The solutions where a formula is positive, and those where it is negative."""
    found: list[Solved] = []
    outcome: Outcome | None = None
    for side in (relation("<", ZERO, inside), relation("<", inside, ZERO)):
        if rate.start and rate.facts.holds(substitute(side, {rate.t: rate.start.place})) is False:
            continue
        try:
            under = rate.facts.with_facts([side])
        except DomainError:
            continue
        outcome = integrating_factor(rate._replace(problem=rate.problem._replace(facts=under)))
        if outcome is None:
            return None
        found += [s._replace(conditions=(side, *s.conditions)) for s in outcome.found]
    if outcome is None:
        return None
    together = distinct(found, outcome.constants, rate.facts)
    if len(together) < len(found):  # one formula on both sides
        together = [s._replace(conditions=s.conditions[1:]) for s in together]
    return outcome._replace(found=together)


def with_integral(rate: Rate) -> Outcome | None:
    """The linear equation whose integral has no closed form."""
    return integrating_factor(rate, as_integral=True)


def _bernoulli_parts(rate: Rate) -> tuple[Expression, Expression, Expression] | None:
    """(n, a, b) of y' = a*y + b*y^n."""
    table = power_table(expand(rate.slope), rate.y)
    exponents = [e for e in table if e is not ONE]
    if len(exponents) != 1 or not isinstance(exponents[0], Number) or exponents[0] is ZERO:
        return None
    a, b = total(table.get(ONE, [])), total(table[exponents[0]])
    return None if contains(a, rate.y) or contains(b, rate.y) else (exponents[0], a, b)


def bernoulli(rate: Rate) -> Outcome | None:
    """y' = a*y + b*y^n: linear for y^(1 - n)."""
    start, y, parts = rate.start, rate.y, _bernoulli_parts(rate)
    if parts is None:
        return None
    n, a, b = parts
    lifted = rate.facts.new_name("z", rate.slope, y)
    try:
        stated = [Equation(rate.problem.stated[0].left, power(start.value, 1 - n))] if start else []
    except DomainError:  # 0 to a negative power: the constant solution
        return None
    inner = integrating_factor(rate._replace(problem=_lifted(rate, stated, a, b, n), slope=(1 - n) * (a * y + b)), True)
    if inner is None:
        return None
    roots = solve_single(power(y, 1 - n) - lifted, y, rate.facts, True)
    if any(r.families for r in roots.found):
        return None
    candidates = []
    for root in roots.found:
        back = {lifted: inner.found[0].values[rate.unknown]}
        value = simplify(substitute(root.value, back), rate.facts).expression
        candidates.append((value, tuple(substitute(c, back) for c in root.conditions)))
    found: list[Solved] = [s for value, own in candidates if (s := accepted(rate.problem, value, own)) is not None]
    if not found:
        return None
    road = "Bernoulli's substitution, then an integrating factor"
    return Outcome(distinct(found, inner.constants, rate.facts), inner.constants, road, (*inner.lost, *roots.lost))


def _lifted(rate: Rate, stated: list[Equation], a: Expression, b: Expression, n: Expression) -> Problem:
    """The linear problem for y^(1 - n)."""
    u = rate.unknown
    equation = derivative_of(u, 1) - (1 - n) * (a * u + b)
    return rate.problem._replace(equations=[equation], stated=stated)
