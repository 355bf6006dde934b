"""Equations and inequalities: `solve`."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any, cast

from gelvo.checking.inequalities import pieces_of_identity
from gelvo.deciding.equality import is_zero
from gelvo.differential.eigenmodes import eigenmodes
from gelvo.differential.problem import Problem
from gelvo.differential.solving import solve_differential
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import applied, junction, name, number, relation, total
from gelvo.expression.equation import Equation
from gelvo.expression.known import domain_word
from gelvo.expression.nodes import Applied, Condition, Expression, Name, Node, Number, Relation, Truth, Written
from gelvo.expression.traversal import free_names, names, postorder, substitute, transform
from gelvo.facts.conditions import zero_where
from gelvo.facts.statements import DomainFact, fact_condition, is_about
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import letters_where_zero
from gelvo.forms.differentiation import differentiate
from gelvo.forms.dimensions import SYMBOLS
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.inequalities.solving import SetCase, as_condition, one_case, solve_inequality
from gelvo.operations.explaining import solution_steps, steps_taken
from gelvo.operations.inputs import Arguments, split_initial, take
from gelvo.operations.on_paper import as_function, dotted, primed, with_dots
from gelvo.operations.region import Region
from gelvo.operations.solution_set import SolutionSet
from gelvo.operations.solutions import Solutions, is_differential, shown_values
from gelvo.simplifying.search import simplify
from gelvo.solving.conjugates import solve_by_parts, takes_parts
from gelvo.solving.putting_back import domain_condition, domains_of, real_conditions
from gelvo.solving.roots import Roots, SystemRoots
from gelvo.solving.single.complete import solve_single
from gelvo.solving.systems import finished, solve_system
from gelvo.solving.whole.solver import solve_whole


def solve(equations: Any, unknowns: Any = None, over: str | None = None, given: Iterable[Any] = (), steps: bool = False) -> Any:
    """The solutions of one or several equations, or the intervals where an inequality holds.

    equations: an equation, an expression (meant = 0), text, or a list of these; unknowns: a variable, unknown function or its
    derivative, text, or a list; where the equations have one name only, it may be left out; steps: whether .steps explains a
    linear or quadratic equation; over: a domain word, by default the unknown's own (an undeclared name is real).
    Returns Solutions; for inequalities in one unknown a SolutionSet (.condition, .intervals), for linear ones in several a Region.
    Raises NotSolved with the reason where no method applies.

    >>> import gelvo
    >>> gelvo.solve("x^2 = a", "x", given=["a > 0"])
    x = -sqrt(a) or x = sqrt(a)
    >>> gelvo.solve(["x + y = 3", "x - y = 1"], ["x", "y"]).single
    {x: 2, y: 1}
    >>> gelvo.solve("(x^2 - 4)/(x^2 - 2*x - 3) <= 0", "x")
    (x >= -2 and x < -1) or (x >= 2 and x < 3)
    """
    listed = list(equations) if isinstance(equations, (list, tuple)) else [equations]
    wanted = [] if unknowns is None else list(unknowns) if isinstance(unknowns, (list, tuple)) else [unknowns]
    if not listed or (unknowns is not None and not wanted):
        raise DomainError("solve needs at least one equation and one unknown")
    wanted = [as_function(w, listed, wanted) if isinstance(w, str) else w for w in wanted]
    words = [w for w in wanted if isinstance(w, str)]
    listed, given = [primed(e, words) for e in listed], [primed(g, words) for g in given]
    wanted = wanted or [the_one_unknown(take(*listed, given=given).values)]
    word = domain_word(over) if isinstance(over, str) else None
    if over is not None and word is None:
        raise DomainError(f"{over!r} is not a domain; say real, complex, positive, integer …")
    arguments = take(*listed, variables=wanted, given=given, over=word)
    if any(_is_inequality(v) for v in arguments.values[: len(listed)]):
        return _inequality(arguments, word)
    dots = dotted(arguments.variables, arguments.values)
    read = [_without_derivatives(with_dots(_as_equation(v), dots)) for v in arguments.values]
    targets = list(arguments.variables)
    if len(set(targets)) != len(targets):
        raise DomainError("an unknown is named twice")
    present = {n for e in read for part in (e.left, e.right, *e.conditions) for n in postorder(part)}
    if len(targets) == 1 and targets[0] not in present and arguments.fixed and not is_differential(read, targets):
        return _without_unknown(read, targets, arguments.facts, word or "real")
    for target in targets:
        if target not in present and not is_differential(read, [target]):
            _missing(target, read)
    solutions = _solved(read, targets, arguments.facts, word)
    if isinstance(solutions, SolutionSet):
        return solutions
    solutions._declared_as = {w: own for w, own in arguments.declared_as.items() if w is not own}
    if steps and len(read) == 1 and len(targets) == 1 and isinstance(targets[0], Name):
        solutions.steps = solution_steps(read[0], targets[0], arguments.facts) or steps_taken(read[0], solutions)
    return solutions


def the_one_unknown(values: Iterable[object]) -> Expression:
    """The unknown of equations that have one name or one unknown function only; else an error that lists them."""
    sides = [s for v in values for s in ((v.left, v.right) if isinstance(v, Equation) else (v,)) if isinstance(s, Node)]
    functions = {n.name: n for s in sides for n in postorder(s) if isinstance(n, Applied)}
    found: dict[str, Expression] = {n.name: applied(n.name, n.arguments, (0,) * len(n.orders)) for n in functions.values()}
    inside = {a for f in functions.values() for a in f.arguments}
    found.update({n.name: n for s in sides for n in free_names(s) if n not in inside and n not in SYMBOLS})
    if len(found) != 1:
        listed = ", ".join(sorted(found)) or "none"
        raise DomainError(
            f"solve needs to be told the unknown: the equations have {'several names' if found else 'no name'} ({listed})"
        )
    return next(iter(found.values()))


def _is_inequality(value: object) -> bool:
    return isinstance(value, Condition) and not (isinstance(value, Relation) and value.operator == "=")


def _inequality(arguments: Arguments, word: str | None) -> SolutionSet | Region:
    """One or several inequalities for one real unknown; linear ones for several."""
    if len(arguments.variables) != 1:
        if word not in (None, "real"):
            raise NotSolved("inequalities in several unknowns are solved over the real numbers")
        listed = [relation("=", v.left, v.right) if isinstance(v, Equation) else v for v in arguments.values]
        stated = [c for c in (fact_condition(f) for f in arguments.facts.given) if isinstance(c, Relation)]
        return Region([*listed, *(c for c in stated if not set(names(c)).isdisjoint(arguments.names))], arguments.names)
    (x,) = arguments.names
    if word in ("complex", "integer", "natural") or x.domain in ("complex", "integer", "natural"):
        raise NotSolved("inequalities are solved over the real numbers")
    parts = [relation("=", v.left, v.right) if isinstance(v, Equation) else v for v in arguments.values]
    parts += [substitute(c, arguments.fixed) for c in dict.fromkeys(arguments.context.cancelled)]
    condition = junction("and", parts) if len(parts) > 1 else parts[0]
    if x not in names(condition) and not isinstance(condition, Truth):
        raise DomainError(f"the unknown {x} does not occur in the inequality")
    facts: Facts = arguments.facts
    if word not in (None, "real", x.domain):
        facts = facts.with_facts([DomainFact(x, word)])
    under = _with_stated(condition, x, facts)
    return SolutionSet(under, x, solve_inequality(under, x, facts), facts)


def _with_stated(condition: Condition, x: Name, facts: Facts) -> Condition:
    """The inequality together with what the facts and the domain say of its unknown: their borders are borders of the solution."""
    stated = [fact_condition(f) for f in (*facts.given, DomainFact(x, x.domain)) if is_about(f, x)]
    parts = dict.fromkeys([condition, *[c for c in stated if c is not None and not isinstance(c, Truth)]])
    return junction("and", list(parts)) if len(parts) > 1 else condition


def _without_derivatives(equation: Equation) -> Equation:
    """Written derivatives worked out: their variable may be the unknown."""

    def visit(node: Node) -> Node:
        if isinstance(node, Written) and node.kind == "derivative_of":
            times = node.arguments[2] if len(node.arguments) > 2 else 1
            return differentiate(node.body, node.variable, int(times))
        return node

    return Equation(transform(equation.left, visit), transform(equation.right, visit), equation.conditions)


def _special_case(solutions: Solutions, condition: Condition) -> tuple[Condition, Solutions] | None:
    """The equations with p = 0 put in, solved again; None where p = 0 does not give one name."""
    if not (isinstance(condition, Relation) and condition.operator == "!="):
        return None
    p = condition.left - condition.right
    if any(u in names(p) for u in solutions.unknowns):
        return None
    table = letters_where_zero(p, solutions.facts)
    if table is None:
        return None
    inside = [Equation(substitute(e.left, table), substitute(e.right, table), e.conditions) for e in solutions.equations]
    case = zero_where(p)
    stated = [Equation(substitute(e.left, table), substitute(e.right, table)) for e in solutions.initial]
    facts = solutions.facts.without_all(table).with_facts(stated)
    if not any(_occurs(u, e) for u in solutions.unknowns for e in inside):
        return case, _without_unknown(inside, solutions.unknowns, facts, solutions.domain)
    present = [u for u in solutions.unknowns if any(_occurs(u, e) for e in inside)]
    try:
        again = _solved(inside, present, facts, solutions.domain)
    except (NotSolved, DomainError):
        return None
    if isinstance(again, SolutionSet):
        return None
    return case, again if len(present) == len(solutions.unknowns) else _with_free(again, solutions.unknowns)


def _with_free(solutions: Solutions, unknowns: Sequence[Expression]) -> Solutions:
    """Solutions for some unknowns as those for all: the others, which do not occur in the equations, are free."""
    found = [({u: values.get(u, u) for u in unknowns}, solutions.own_conditions(k)) for k, values in enumerate(solutions)]
    return Solutions(
        found, solutions.equations, solutions.facts, conditions=solutions.conditions, excluded=solutions.excluded,
        families=solutions.families, unknowns=unknowns, road=solutions.road, domain=solutions.domain,
        lost=[] if solutions.complete else [solutions.reason],
    )  # fmt: skip


def _occurs(unknown: Expression, equation: Equation) -> bool:
    """Whether an unknown, or a derivative of it, stands in an equation."""
    parts = postorder(equation.left - equation.right)
    if isinstance(unknown, Applied):
        return any(isinstance(n, Applied) and n.name == unknown.name for n in parts)
    return unknown in parts


def _without_unknown(equations: Sequence[Equation], unknowns: Sequence[Expression], facts: Facts, domain: str) -> Solutions:
    """Equations from which the unknown has gone: every value solves them, none does, or every one where the rest is zero."""
    rest = [expand(e.left - e.right) for e in equations]
    left = [factored(r) for r in rest if r is not number(0)]
    if any(isinstance(r, Number) or facts.is_nonzero(r) for r in left):
        return Solutions([], equations, facts, unknowns=unknowns, domain=domain)
    needed = facts.open_conditions(map(zero_where, left))
    return Solutions([], equations, facts, conditions=needed, everything=True, unknowns=unknowns, domain=domain)


def _missing(target: Expression, equations: list[Equation]) -> None:
    functions = [n for e in equations for s in (e.left, e.right) for n in postorder(s) if isinstance(n, Applied)]
    if isinstance(target, Applied) and any(f.name == target.name for f in functions):
        raise NotSolved(f"{target} occurs only as other derivatives or at other places in the equations")
    raise DomainError(f"the unknown {target} does not occur in the equations")


def _as_equation(value: object) -> Equation:
    if isinstance(value, Equation):
        return value
    if isinstance(value, Relation) and value.operator == "=":
        return Equation(value.left, value.right)
    if isinstance(value, Expression):
        return Equation(value, value * 0)
    raise DomainError(f"an equation is needed here, not {value}")


def _solved(equations: list[Equation], targets: list[Expression], facts: Facts, word: str | None) -> Solutions | SolutionSet:
    if is_differential(equations, targets):
        return _differential(equations, targets, facts)
    plain, back = _plain_unknowns(equations, targets, word, facts)
    replaced = [
        Equation(substitute(e.left, plain), substitute(e.right, plain), [substitute(c, plain) for c in e.conditions])
        for e in equations
    ]
    unknowns = [cast(Name, plain.get(t, t)) for t in targets]  # unknown functions stand there as plain names
    under = facts.renamed(plain)
    real = not any(u.domain == "complex" for u in unknowns)
    written = _as_written(equations, replaced, targets, plain, facts, real)
    differences = [e.left - e.right for e in replaced]
    common: dict[str, Any] = {"road": "", "domain": word or unknowns[0].domain, "unknowns": targets}
    if len(equations) == 1 and len(unknowns) == 1 and (real or not takes_parts(differences, unknowns)):
        roots = solve_single(differences[0], unknowns[0], under, real, written)
        if roots.regions:
            return _regions(roots, equations[0], unknowns[0], under, written)
        return _of_one(roots, equations, targets, back, facts, common)
    if not real and takes_parts(differences, unknowns):
        system: SystemRoots | None = solve_by_parts(differences, unknowns, under, written)
    else:
        system = _in_whole_numbers(differences, unknowns, under, written)
    if system is None:
        system = solve_system(differences, unknowns, under, real, written)
    return _together(system, equations, targets, unknowns, back, facts, common)


def _as_written(
    equations: list[Equation], replaced: list[Equation], targets: list[Expression], plain: Mapping[Expression, Name], facts: Facts,
    real: bool,
) -> tuple[Condition, ...]:  # fmt: skip
    """What must hold for the equations as they were written: parts may cancel, and of a positive unknown sqrt(-x) is a multiple of 1j."""
    written = tuple(c for e in replaced for c in e.conditions)
    if not real:
        return tuple(c for c in written if isinstance(c, Relation) and c.operator == "!=")
    old = [t for t in targets if isinstance(t, Name)]
    parts = [c for e in equations for side in (e.left, e.right) for c in real_conditions(side, old, facts)]
    return written + tuple(substitute(c, plain) for c in dict.fromkeys(parts))


def _of_one(
    roots: Roots, equations: list[Equation], targets: list[Expression], back: Mapping[Name, Expression], facts: Facts, common: dict[str, Any]
) -> Solutions:  # fmt: skip
    """The solutions of one equation for one unknown."""
    found = [({targets[0]: substitute(r.value, back)}, tuple(substitute(c, back) for c in r.conditions)) for r in roots.found]
    families = tuple(dict.fromkeys(n for r in roots.found for n in r.families))
    solutions = Solutions(
        found, equations, facts, conditions=tuple(substitute(c, back) for c in roots.conditions),
        excluded=[(f"{targets[0]} = {v}", reason) for v, reason in roots.excluded], families=families, everything=roots.everything,
        further=roots.further, lost=roots.lost, **{**common, "road": roots.road},
    )  # fmt: skip
    solutions.trail = roots.trail
    return solutions


def _in_whole_numbers(
    differences: list[Expression], unknowns: list[Name], facts: Facts, written: tuple[Condition, ...]
) -> SystemRoots | None:
    """The solutions of equations for integers; None where the real ones are few and may be looked through instead."""
    if not all(u.domain in ("integer", "natural") for u in unknowns):
        return None
    try:
        return finished(solve_whole(differences, unknowns, facts), differences, facts, True, written)
    except NotSolved:
        if len(differences) < len(unknowns):
            raise
        return None


def _regions(roots: Roots, equation: Equation, x: Name, facts: Facts, written: tuple[Condition, ...]) -> SolutionSet:
    """The intervals on which an equation is an identity, and the single places where it holds."""
    if roots.conditions or any(r.conditions or r.families for r in roots.found):
        raise NotSolved(f"whole ranges of {x} solve the equation, under conditions that the facts do not decide")
    parts = [junction("and", list(region)) if len(region) > 1 else region[0] for region in roots.regions]
    parts += [relation("=", x, r.value) for r in roots.found]
    reached = _with_stated(junction("or", parts) if len(parts) > 1 else parts[0], x, facts)
    said = [relation("=", equation.left, equation.right), *dict.fromkeys(written)]
    whole = _with_stated(junction("and", said) if len(said) > 1 else said[0], x, facts)
    found = solve_inequality(reached, x, facts)
    if not [n for n in names(equation.left, equation.right) if n is not x]:
        pieces = pieces_of_identity(equation.left - equation.right, x, one_case(found, x), facts)
        found = [SetCase((), tuple(pieces), as_condition(pieces, x), whole, facts)]
    return SolutionSet(whole, x, found, facts, roots.road)


def _together(
    system: SystemRoots, equations: list[Equation], targets: list[Expression], unknowns: list[Name],
    back: Mapping[Name, Expression], facts: Facts, common: dict[str, Any],
) -> Solutions:  # fmt: skip
    """Common solutions of several equations, in the unknowns that were asked for."""
    found = []
    excluded = [(shown_values(v), reason) for v, reason in system.excluded]
    real = not any(u.domain == "complex" for u in unknowns)
    for solution in system.found:
        values = {t: substitute(solution.values[u], back) for t, u in zip(targets, unknowns, strict=True)}
        known = facts.with_facts([DomainFact(n, "integer") for n in solution.families])
        inside = {
            u: domain_condition(word, solution.values[u], known, real)
            for u in unknowns if isinstance(u, Name) and not system.in_domain for word in domains_of(u, facts) if word != "real"
        }  # fmt: skip
        outside = [f"{u} is outside its domain" for u, state in inside.items() if state is False]
        if outside:
            excluded.append((shown_values(values), outside[0]))
            continue
        needed = [c for c in inside.values() if isinstance(c, Condition)]
        found.append((values, tuple(substitute(c, back) for c in dict.fromkeys([*solution.conditions, *needed]))))
    return Solutions(
        found, equations, facts, conditions=tuple(substitute(c, back) for c in system.conditions), excluded=excluded,
        families=tuple(dict.fromkeys(n for s in system.found for n in s.families)), lost=system.lost, shared=system.shared,
        **{**common, "road": system.road},
    )  # fmt: skip


def _differential(equations: list[Equation], targets: list[Expression], facts: Facts) -> Solutions:
    """Differential equations; initial and boundary values are among the facts."""
    unknowns = [t for t in targets if isinstance(t, Applied) and not any(t.orders)]
    letters = [t for t in targets if isinstance(t, Name)]
    if len(unknowns) == len(letters) == len(equations) == 1:
        return _boundary_problem(equations, unknowns[0], letters[0], facts)
    if len(unknowns) != len(targets):
        raise NotSolved("the unknowns of differential equations are functions such as theta(t)")
    initial, rest = split_initial(facts.given)
    under = facts.stating(rest)
    outcome = solve_differential([e.left - e.right for e in equations], unknowns, initial, under)
    found = [
        (s.values if s.relation is None else {s.relation.left: s.relation.right}, under.open_conditions(s.conditions))
        for s in outcome.found
    ]
    variables = {a for u in unknowns for a in u.arguments}
    common = [
        c
        for c in (found[0][1] if found else ())
        if all(c in own for _, own in found) and not any(v in names(c) for v in variables)
    ]
    return Solutions(
        [(values, tuple(c for c in own if c not in common)) for values, own in found], equations, under, conditions=tuple(common),
        road=outcome.road, unknowns=targets, constants=outcome.constants, initial=initial, lost=outcome.lost, families=outcome.families,
        cases=outcome.cases,
    )  # fmt: skip


def _boundary_problem(equations: list[Equation], u: Applied, letter: Name, facts: Facts) -> Solutions:
    """An unknown function and a letter, by boundary values: a family for whole numbers n, and single values."""
    initial, rest = split_initial(facts.given)
    under = facts.stating(rest)
    t = u.arguments[0]
    assert isinstance(t, Name)
    problem = Problem([equations[0].left - equations[0].right], [u], t, initial, under)
    found: list[tuple[dict[Expression, Expression], tuple[Condition, ...]]] = []
    modes = eigenmodes(problem, letter).modes
    constants = problem.constants(max((len(m.shapes) for m in modes), default=0))
    for m in modes:
        if not m.places and m.characteristic is not number(0):
            raise NotSolved(f"{letter} = {m.value} where {m.characteristic} = 0: eigenmodes tells those numbers")
        at = {m.z: m.places[0]} if m.places else {}
        shape = total([c * substitute(s, at) for c, s in zip(constants, m.shapes, strict=False)])
        known = under.with_facts([relation(">=", m.n, number(m.first))])
        value = simplify(substitute(m.value, at), known).expression
        squared = is_zero(problem.equations[0] - substitute(problem.equations[0], {letter: -letter}), under) is True
        for own in dict.fromkeys((value, -value) if squared and not under.is_positive(letter) else (value,)):
            values = {u: simplify(shape, known).expression, letter: own}
            found.append((values, (relation(">=", m.n, number(m.first)),) if m.places else ()))
    return Solutions(
        found, equations, under, road="general solution and boundary values", unknowns=[u, letter], constants=constants,
        initial=initial, families=tuple(m.n for m in modes if m.places), domain="real",
    )  # fmt: skip


def _plain_unknowns(
    equations: list[Equation], targets: list[Expression], word: str | None, facts: Facts
) -> tuple[dict[Expression, Name], dict[Name, Expression]]:
    """Unknown functions and unknowns of another domain as plain names, and the way back."""
    plain: dict[Expression, Name] = {}
    for target in targets:
        if isinstance(target, Applied):
            plain[target] = facts.new_name(f"{target.name}_unknown", *[side for e in equations for side in (e.left, e.right)])
        elif word is not None and isinstance(target, Name) and target.domain != word:
            if target.domain not in ("real", "complex") and word not in ("real", "complex"):
                raise DomainError(f"{target} is declared {target.domain}, and cannot be solved over {word}")
            plain[target] = name(target.name, word if target.domain == "real" or word == "complex" else target.domain)
    return plain, {v: k for k, v in plain.items()}


def _over_complex(solutions: Solutions) -> Solutions:
    """The same equations, the unknowns complex."""
    return cast(
        Solutions, solve(list(solutions.equations), list(solutions.unknowns), over="complex", given=solutions.facts.given)
    )


def _taking(found: SolutionSet, conditions: Sequence[Any]) -> SolutionSet:
    """The same inequality under further facts."""
    return cast(SolutionSet, solve(found.inequality, found.unknown, given=[*found.facts.given, *conditions]))


Solutions.special = staticmethod(_special_case)
Solutions.over_complex = staticmethod(_over_complex)
SolutionSet.again = staticmethod(_taking)
