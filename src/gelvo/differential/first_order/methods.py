"""Differential equations of the first order: an integrating factor, Bernoulli's substitution, separation, homogeneous ones.

Source: E. Ince, "Ordinary Differential Equations" (1926).
"""

from __future__ import annotations

from collections.abc import Sequence

from gelvo.calculus.antiderivative.search import antiderivative
from gelvo.deciding.equality import is_zero
from gelvo.differential.problem import Outcome, Problem, Solved, derivative_of, imposed, order_of, with_values
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import looks_negative, multiply_all, number, power, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Call, Condition, Expression, Name, Number, Power, Relation, Written
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import apart_from_zero
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import power_table
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.functions.named import ABS, EXP, LN, is_a
from gelvo.simplifying.search import simplify
from gelvo.solving.putting_back import real_conditions
from gelvo.solving.single.complete import solve_single


def first_order(problem: Problem) -> Outcome | None:
    u = problem.unknowns[0]
    if len(problem.equations) != 1 or order_of(problem, u) != 1:
        return None
    y, slope = (problem.facts.new_name(word, *problem.equations) for word in ("y", "v"))
    inside = substitute(problem.equations[0], {derivative_of(u, 1): slope, derivative_of(u, 0): y})
    parts = uni.linear_parts(expand(inside), slope)
    needed: tuple[Condition, ...] = ()
    if parts is None:
        roots = solve_single(inside, slope, problem.facts, True)
        if len(roots.found) != 1:
            raise NotSolved("the equation does not give the derivative in one way only")
        rate = roots.found[0].value
    else:
        rate = factored(-parts[1] / parts[0])
        lead = apart_from_zero(parts[0], problem.facts)
        needed = tuple(c for c in lead if not contains(c, y) and not contains(c, problem.variable))
    for method in (_integrating_factor, _bernoulli, _separated, _homogeneous):
        found = method(problem, rate, y)
        if found is not None:
            solutions = [s._replace(conditions=tuple(dict.fromkeys((*needed, *s.conditions)))) for s in found.found]
            at_rest = substitute(inside, {slope: ZERO})
            is_linear = parts is not None and not contains(parts[0], y) and uni.linear_parts(expand(at_rest), y) is not None
            return _with_constant_solutions(problem, found._replace(found=solutions), at_rest, y, is_linear)
    return None


def _with_constant_solutions(
    problem: Problem, outcome: Outcome, at_rest: Expression, y: Name, is_linear: bool = False
) -> Outcome:
    """The constants that satisfy the equation, which dividing by a factor without the derivative may have lost."""
    u, t, facts = problem.unknowns[0], problem.variable, problem.facts
    if is_linear:
        return outcome
    found, lost, families = list(outcome.found), list(outcome.lost), list(outcome.families)
    product = factored(at_rest)
    for piece in factors_in(product):
        factor = piece.base if isinstance(piece, Power) else piece
        if not contains(factor, y) or contains(piece, t) or (isinstance(piece, Power) and looks_negative(piece.exponent)):
            continue
        try:
            roots = solve_single(factor, y, facts, True)
        except (NotSolved, DomainError):
            lost.append(f"constant solutions are where {substitute(factor, {y: u})} = 0")
            continue
        lost += roots.lost
        for root in roots.found:
            if not _rests(at_rest, y, root.value, facts):
                continue
            if any(_is_among(s.values[u], root.value, outcome.constants, facts) for s in found) or not _meets(
                problem, root.value
            ):
                continue
            found.append(Solved({u: root.value}, tuple(facts.open_conditions((*root.conditions, *roots.conditions)))))
            families += root.families
    return outcome._replace(found=found, lost=tuple(dict.fromkeys(lost)), families=tuple(dict.fromkeys(families)))


def _rests(at_rest: Expression, y: Name, value: Expression, facts: Facts) -> bool:
    """Whether the whole equation holds for a constant, not only one of its factors."""
    try:
        return is_zero(substitute(at_rest, {y: value}), facts) is True
    except DomainError:
        return False


def _is_among(value: Expression, constant: Expression, constants: Sequence[Name], facts: Facts) -> bool:
    """Whether a constant solution is one of a family: with the constant 0, or as it is."""
    try:
        return is_zero(substitute(value, dict.fromkeys(constants, ZERO)) - constant, facts) is True
    except DomainError:
        return False


def _meets(problem: Problem, value: Expression) -> bool:
    """Whether a constant has the stated values."""
    rows = [with_values(e.left - e.right, {problem.unknowns[0]: value}, problem.variable) for e in problem.stated]
    return all(is_zero(row, problem.facts) is True for row in rows)


def _integral(f: Expression, x: Name, facts: Facts) -> Expression | None:
    if f is ZERO:
        return ZERO
    found = antiderivative(f, x, facts)
    return None if found is None else found.value


def _weight(p: Expression, x: Name, facts: Facts) -> Expression | None:
    """exp of an integral of p. Absolute values inside logarithms go where the power is whole: their sign is a constant factor."""
    inner = _integral(p, x, facts)
    if inner is None:
        return None
    bars = [n for n in postorder(inner) if is_a(n, ABS)]
    plain = simplify(EXP(substitute(inner, {n: n.arguments[0] for n in bars})), facts).expression
    broken = [c for c in real_conditions(plain, x, facts) if not (isinstance(c, Relation) and c.operator == "!=")]
    return simplify(EXP(inner), facts).expression if broken else plain


def _integrating_factor(problem: Problem, rate: Expression, y: Name) -> Outcome | None:
    """y' + p*y = q."""
    t, facts = problem.variable, problem.facts
    parts = uni.coefficients_of(expand(rate), y)
    if parts is None or len(parts) > 2:
        return None
    q, p = parts[0] if parts else ZERO, -parts[1] if len(parts) == 2 else ZERO
    factor = _weight(p, t, facts)
    if factor is None:
        return None
    inner = _integral(simplify(factor * q, facts).expression, t, facts)
    if inner is None:
        return None
    (c,) = problem.constants(1)
    value = simplify(c / factor + inner / factor, facts).expression
    outcome = Outcome([Solved({problem.unknowns[0]: expand(value)})], (c,), "integrating factor")
    return imposed(problem, outcome) if problem.stated else outcome


def _bernoulli(problem: Problem, rate: Expression, y: Name) -> Outcome | None:
    """y' = a*y + b*y^n: linear for y^(1 - n)."""
    plain = [e.left for e in problem.stated if isinstance(e.left, Applied) and not any(e.left.orders)]
    if len(problem.stated) > 1 or len(plain) < len(problem.stated):
        return None
    table = power_table(expand(rate), y)
    exponents = [e for e in table if e is not ONE]
    if len(exponents) != 1 or not isinstance(exponents[0], Number) or exponents[0] is ZERO or ONE not in table:
        return None
    n = exponents[0]
    a, b = total(table[ONE]), total(table[n])
    if contains(a, y) or contains(b, y):
        return None
    try:
        lifted_values = [Equation(e.left, power(e.right, 1 - n)) for e in problem.stated]
    except DomainError:  # 0 to a negative power: the constant solution
        return None
    inner = _integrating_factor(problem._replace(stated=lifted_values), (1 - n) * (a * y + b), y)
    if inner is None:
        return None
    return _lowered(problem, inner, problem.facts.new_name("z", rate), y, 1 - n)


def _lowered(problem: Problem, inner: Outcome, lifted: Name, y: Name, exponent: Expression) -> Outcome | None:
    """The solutions for y where those of y^exponent are known."""
    u = problem.unknowns[0]
    roots = solve_single(power(y, exponent) - lifted, y, problem.facts, True)
    if any(r.families for r in roots.found):
        return None
    # what the roots need of the power has the constant in it: where it fails, that solution ends
    values = [
        simplify(substitute(r.value, {lifted: s.values[u]}), problem.facts).expression for r in roots.found for s in inner.found
    ]
    values = [v for v in values if _meets(problem, v)]
    return Outcome(
        [Solved({u: v}, inner.found[0].conditions) for v in values], inner.constants,
        "Bernoulli's substitution, then an integrating factor", (*inner.lost, *roots.lost),
    )  # fmt: skip


def _separated(problem: Problem, rate: Expression, y: Name) -> Outcome | None:  # noqa: C901
    """y' = f(t)*g(y): both sides integrated, then solved for y."""
    t, facts, u = problem.variable, problem.facts, problem.unknowns[0]
    parts = _product_of(rate, t, y)
    if parts is None:
        return None
    f, g = parts
    start = next((e for e in problem.stated if isinstance(e.left, Applied) and not sum(e.left.orders)), None)
    if problem.stated and (start is None or len(problem.stated) > 1):
        raise DomainError("one initial value of the function itself belongs to an equation of the first order")
    if start is not None and contains(g, y):
        at_rest = _at_rest(problem, start, g, y)
        if at_rest is not None:
            return at_rest
    left, right = antiderivative(1 / g, y, facts), antiderivative(f, t, facts)
    if left is None or right is None:
        return None
    constants = problem.constants(1) if start is None else ()
    offset: Expression = constants[0] if constants else ZERO
    if start is not None:
        offset = substitute(left.value, {y: start.right}) - substitute(right.value, {t: _place_of(start)})
    try:
        roots = solve_single(left.value - right.value - offset, y, facts, True)
    except NotSolved:
        separated = substitute(left.value, {y: u})
        raise NotSolved(f"separated, but not solved for {u}:  {separated} = {right.value} + {offset}") from None
    found: list[Solved] = []
    for root in roots.found:
        value = simplify(root.value, facts).expression
        if start is None or _starts_right(value, start, t, facts):
            # what the solving needed of the variable does not matter: the residual is proved to be zero
            kept = [c for c in (*root.conditions, *roots.conditions) if not any(contains(c, k) for k in (*constants, t))]
            found.append(Solved({u: value}, facts.open_conditions(kept)))
    if constants:
        found = _with_one_constant(found, constants[0], u, facts)
    return Outcome(found, constants, "separation of variables", roots.lost) if found or start is None else None


def _place_of(start: Equation) -> Expression:
    """Where an initial value is stated."""
    assert isinstance(start.left, Applied)
    return start.left.arguments[0]


def _starts_right(value: Expression, start: Equation, t: Name, facts: Facts) -> bool:
    """Whether a solution has the initial value."""
    try:
        return is_zero(substitute(value, {t: _place_of(start)}) - start.right, facts) is True
    except DomainError:
        return False


def _with_one_constant(found: list[Solved], c: Name, u: Applied, facts: Facts) -> list[Solved]:
    """exp(C) as the constant itself where a formula has no other C: a factor of either sign, so that branches fall together."""
    positive = facts.new_name("C", c, *[s.values[u] for s in found], domain="positive")
    folded: list[Expression] = []
    for s in found:
        inside = simplify(substitute(s.values[u], {c: LN(positive)}), facts).expression
        if any(isinstance(n, Call) and contains(n, positive) for n in postorder(inside)) or s.conditions:
            return found
        value = substitute(inside, {positive: c})
        if not any(is_zero(substitute(other, {c: -c}) - value, facts) for other in folded):
            folded.append(value)
    return [Solved({u: v}) for v in folded]


def _at_rest(problem: Problem, start: Equation, g: Expression, y: Name) -> Outcome | None:
    """The constant solution where the initial value is a zero of g: the only one where g has a slope there."""
    lost: tuple[str, ...] = ()
    try:
        if not is_zero(substitute(g, {y: start.right}), problem.facts):
            return None
    except DomainError:  # no rate there at all
        return None
    try:
        slope = substitute(differentiate(g, y), {y: start.right})
        is_smooth = not any(isinstance(n, Written) for n in postorder(slope))
    except DomainError:
        is_smooth = False
    if not is_smooth:
        shown = substitute(g, {y: problem.unknowns[0]})
        lost = (f"others may branch off the constant solution, where {shown} has no slope",)
    return Outcome([Solved({problem.unknowns[0]: start.right})], (), "the constant solution, where the slope is zero", lost)


def _product_of(rate: Expression, t: Name, y: Name) -> tuple[Expression, Expression] | None:
    """(f(t), g(y)) with rate = f*g."""
    product = factored(rate)
    listed = product.factors if hasattr(product, "factors") else (product,)
    f: list[Expression] = [number(product.coefficient)] if hasattr(product, "coefficient") and hasattr(product, "factors") else []
    g: list[Expression] = []
    for piece in listed:
        if contains(piece, t) and contains(piece, y):
            return None
        (g if contains(piece, y) else f).append(piece)
    return multiply_all(f), multiply_all(g)


def _homogeneous(problem: Problem, rate: Expression, y: Name) -> Outcome | None:
    """y' = F(y/t): separable for w = y/t."""
    t = problem.variable
    if problem.stated:
        return None
    w = problem.facts.new_name("w", rate)
    inside = factored(substitute(rate, {y: w * t}))
    if contains(inside, t):
        return None
    u = problem.unknowns[0]
    inner = _separated(problem, factored((substitute(inside, {w: y}) - y) / t), y)
    if inner is None:
        return None
    inner = _with_constant_solutions(problem, inner, factored(substitute(inside, {w: y}) - y), y)
    found = [Solved({u: simplify(t * s.values[u], problem.facts).expression}, s.conditions) for s in inner.found]
    return inner._replace(found=found, road="the quotient of function and variable, then separation")
