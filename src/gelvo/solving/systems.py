"""Systems: linear ones by elimination over the field of formulas, others by solving one equation and putting it in."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from gelvo.deciding.equality import decide_zero
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Condition, Expression, Name, Number, Relation
from gelvo.expression.traversal import contains, free_names, names, substitute
from gelvo.facts.conditions import nonzero, zero_where
from gelvo.facts.statements import DomainFact
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import factor_list
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import Form
from gelvo.forms.unit_forms import unit_form
from gelvo.simplifying.search import simplify
from gelvo.solving.linear import linear_rows, numerator, solve_linear
from gelvo.solving.new_unknowns import by_new_unknowns
from gelvo.solving.polar import by_polar
from gelvo.solving.polynomial_systems import polynomial_solutions
from gelvo.solving.putting_back import Excluded, keep_once, left_open, real_conditions
from gelvo.solving.roots import Root, Roots, SystemRoots, Table, Together
from gelvo.solving.shared_rows import solve_shared
from gelvo.solving.single.complete import solve_single

DEEPEST, MOST_BRANCHES = 14, 300
MOST_REASONS = 3


def solve_system(
    equations: Sequence[Expression], unknowns: Sequence[Name], facts: Facts, real: bool, written: tuple[Condition, ...] = ()
) -> SystemRoots:
    """All common solutions found by elimination, each put back into every equation."""
    large = solve_shared(equations, unknowns, facts)
    if large is not None:
        return large
    work = _Elimination(facts, real)
    rows = linear_rows(equations, unknowns)
    exact = polynomial_solutions(equations, unknowns, real) if rows is None else None
    common: tuple[Condition, ...] = ()
    if rows is not None:
        linear = solve_linear(rows, unknowns, facts)
        found, common, road = list(linear.found), linear.conditions, linear.road
    elif exact is not None:
        found = [Together(values) for values in exact]
        road = "a Groebner basis, and the roots of the polynomial of a separating form"
    elif real and (turned := by_polar(equations, unknowns, facts, lambda e, u: solve_system(e, u, facts, True))) is not None:
        found, common, road = list(turned.found), turned.conditions, turned.road
    elif real and (waved := by_new_unknowns(equations, unknowns, facts)) is not None:
        found, road = list(waved.found), waved.road
    else:
        found = work.solutions(list(equations), list(unknowns), facts, 0)
        common = tuple(facts.open_conditions(work.needed))
        road = "elimination by solving for one unknown after the other, product by product"
    return finished(SystemRoots(tuple(found), common, (), road, tuple(work.lost)), equations, facts, real, written)


def finished(
    system: SystemRoots, equations: Sequence[Expression], facts: Facts, real: bool, written: tuple[Condition, ...] = ()
) -> SystemRoots:
    """The candidates put back: those that fail are told with the reason, the others carry what must hold for them."""
    unknowns = list(dict.fromkeys(u for s in system.found for u in s.values))
    needed = [*written, *[c for e in equations if real for c in real_conditions(e, unknowns, facts)]]
    kept: list[Together] = []
    excluded: list[tuple[Table, str]] = list(system.excluded)
    for found in system.found:
        reason, candidate = _put_back(found, equations, list(dict.fromkeys(needed)), facts, system.conditions)
        if reason:
            excluded.append((candidate.values, reason))
        else:
            keep_once(kept, candidate, facts)
    special = [s for s in kept if any(_is_instance(s, other) for other in kept)]
    return system._replace(found=tuple(s for s in kept if s not in special), excluded=tuple(excluded))


def _is_instance(solution: Together, general: Together) -> bool:
    """Whether another solution with free unknowns, and no conditions, has this one among its values."""
    free = {u: solution.values[u] for u, v in general.values.items() if v is u}
    if general is solution or general.conditions or not free or all(solution.values[u] is u for u in free):
        return False
    return all(substitute(v, free) is solution.values[u] for u, v in general.values.items())


def _put_back(
    candidate: Together, equations: Sequence[Expression], needed: list[Condition], facts: Facts, common: tuple[Condition, ...]
) -> tuple[str, Together]:
    """('' or why it is none, the solution with what must hold for it): denominators, domains of functions, facts, the equations."""
    try:
        own = [DomainFact(n, "integer") for n in candidate.families]
        known = facts.with_facts([*own, *[c for c in (*candidate.conditions, *common) if names(c)]])
    except DomainError as fault:
        return str(fault), candidate
    try:
        extra = [
            *left_open(candidate.values, list(candidate.values), facts, known, needed),
            *_unproved(candidate, equations, known),
        ]
    except Excluded as why:
        return str(why), candidate
    if False in [known.holds(c) for c in extra]:
        return NOT_EVERY, candidate
    conditions = tuple(dict.fromkeys((*candidate.conditions, *known.open_conditions(extra))))
    return "", candidate._replace(conditions=conditions)


NOT_EVERY = "it does not satisfy every equation"


def _unproved(candidate: Together, equations: Sequence[Expression], known: Facts) -> Iterator[Condition]:
    """What must hold for the equations that are not satisfied for all letters."""
    for equation in equations:
        try:
            inside = substitute(equation, candidate.values)
            zero = decide_zero(inside, known).zero
        except DomainError:
            raise Excluded("an equation has no value there") from None
        if zero is False:
            if not free_names(inside):
                raise Excluded(NOT_EVERY)
            yield zero_where(simplify(inside, known).expression)


class _Elimination:
    """One unknown is taken from the simplest equation that gives it, and put into the others; branch by branch.

    An equation that is a product is each of its factors in turn; where a step needs p != 0 with an unknown in p, the case p = 0 is a
    branch of its own.
    """

    def __init__(self, facts: Facts, real: bool) -> None:
        self.real = real
        self.lost: dict[str, None] = {}
        self.needed: dict[Condition, None] = {}  # on letters alone: where one fails, the system is a case of its own
        self.branches = 0

    def solutions(self, equations: list[Expression], unknowns: list[Name], facts: Facts, depth: int) -> list[Together]:
        equations = list(dict.fromkeys(e for e in (_cleared(e) for e in equations) if e is not ZERO))
        self.branches += 1
        if depth > DEEPEST or self.branches > MOST_BRANCHES:
            raise NotSolved("the system branches too often")
        for place, equation in enumerate(equations):
            factors = [f for f in _factors(equation) if any(contains(f, u) for u in unknowns)]
            self.needed.update(dict.fromkeys(nonzero(f) for f in _factors(equation) if f not in factors and factors))
            if factors and (len(factors) > 1 or factors[0] is not equation):
                rest = [*equations[:place], *equations[place + 1 :]]
                return [s for f in factors for s in self.solutions([f, *rest], unknowns, facts, depth + 1)]
        return self._without_products(equations, unknowns, facts, depth)

    def _without_products(self, equations: list[Expression], unknowns: list[Name], facts: Facts, depth: int) -> list[Together]:
        plain = [e for e in equations if not any(contains(e, u) for u in unknowns)]
        if plain:
            return self._on_letters(plain, [e for e in equations if e not in plain], unknowns, facts, depth)
        if not unknowns or not equations:
            if any(u.domain in ("integer", "natural") for u in unknowns):
                raise NotSolved("equations for integers with free unknowns are not solved here")
            return [Together({u: u for u in unknowns})]
        reasons: list[str] = []
        for equation, unknown in _choices(equations, unknowns):
            try:
                roots = solve_single(equation, unknown, facts, self.real)
                if roots.regions:
                    raise NotSolved(f"a whole range of {unknown} solves one of the equations")
                if _divides_by_zero(roots, equations):
                    continue
                result = self._with_roots(roots, equation, equations, unknown, unknowns, facts, depth)
            except NotSolved as fault:
                reasons.append(str(fault))
                continue
            self.lost.update(dict.fromkeys(roots.lost))
            return result
        told = list(dict.fromkeys(reasons))
        further = [f"and {len(told) - MOST_REASONS} more"] if len(told) > MOST_REASONS else []
        raise NotSolved("; ".join(told[:MOST_REASONS] + further) or "no equation could be solved for one of the unknowns")

    def _on_letters(
        self, plain: list[Expression], rest: list[Expression], unknowns: list[Name], facts: Facts, depth: int
    ) -> list[Together]:
        """Equations from which all unknowns have gone: they hold, they do not, or they are conditions on the letters."""
        needed: list[Condition] = []
        for equation in plain:
            zero = decide_zero(equation, facts).zero
            if zero:
                continue
            if facts.is_nonzero(equation) or (zero is False and not names(equation)):
                return []
            needed.append(zero_where(numerator(equation)))
        try:
            under = facts.with_facts(needed)
        except DomainError:
            return []
        return [_under(s, needed) for s in self.solutions(rest, unknowns, under, depth + 1)]

    def _with_roots(
        self, roots: Roots, equation: Expression, equations: list[Expression], unknown: Name, unknowns: list[Name], facts: Facts, depth: int
    ) -> list[Together]:  # fmt: skip
        rest, others = [e for e in equations if e is not equation], [u for u in unknowns if u is not unknown]
        if not roots.everything:
            letters = [c for c in roots.conditions if not any(contains(c, u) for u in others)]
            self.needed.update(dict.fromkeys(letters))
            roots = roots._replace(conditions=tuple(c for c in roots.conditions if c not in letters))
        result: list[Together] = []
        if roots.everything:
            result.extend(_under(s, list(roots.conditions)) for s in self.solutions(rest, unknowns, facts, depth + 1))
        for root in roots.found:
            result.extend(self._with_root(root, roots.conditions, unknown, rest, others, facts, depth))
        for condition in roots.conditions:
            if isinstance(condition, Relation) and condition.operator == "!=" and any(contains(condition, u) for u in others):
                result.extend(self.solutions([condition.left - condition.right, *equations], unknowns, facts, depth + 1))
        return result

    def _with_root(
        self, root: Root, conditions: tuple[Condition, ...], unknown: Name, rest: list[Expression], others: list[Name], facts: Facts, depth: int
    ) -> list[Together]:  # fmt: skip
        try:
            equal = [c.left - c.right for c in root.conditions if isinstance(c, Relation) and c.operator == "="]
            more = [e for e in equal if any(contains(e, u) for u in others)]
            table = {unknown: root.value}
            reached = [*more, *(simplify(substitute(e, table), facts).expression for e in rest)]
            about_letters = [c for c in (*root.conditions, *conditions) if names(c) and not any(contains(c, u) for u in others)]
            known = facts.with_facts([*about_letters, *[DomainFact(n, "integer") for n in root.families]])
        except DomainError:  # a denominator vanishes there, or what is needed contradicts the facts
            return []
        result: list[Together] = []
        for solution in self.solutions(reached, others, known, depth + 1):
            try:  # where a denominator of the root vanishes, that case is a branch of its own
                inside = substitute(root.value, solution.values)
                value = expand(inside) if solution.families else simplify(inside, known).expression
                own = [substitute(c, solution.values) for c in (*root.conditions, *conditions)]
            except DomainError:
                continue
            states = [facts.holds(c) for c in own]
            if False in states:
                continue
            still = tuple(c for c, s in zip(own, states, strict=True) if s is None)
            together = tuple(dict.fromkeys((*still, *solution.conditions)))
            result.append(Together({unknown: value, **solution.values}, together, root.families + solution.families))
        return result


def _under(solution: Together, conditions: list[Condition]) -> Together:
    return solution._replace(conditions=tuple(dict.fromkeys((*conditions, *solution.conditions))))


def _factors(equation: Expression) -> list[Expression]:
    return [f for f in factor_list(equation) if not isinstance(f, Number)]


def _cleared(equation: Expression) -> Expression:
    """An equation without denominators, as a product: where one of these vanishes, the candidate is refused when it is put back."""
    form = Form([equation])
    top, _ = form.lowest_terms(form.of(equation))
    return form.factored(top)


def _divides_by_zero(roots: Roots, equations: list[Expression]) -> bool:
    """Whether roots need p != 0 where p = 0 is one of the equations."""
    gaps = [c.left - c.right for c in roots.conditions if isinstance(c, Relation) and c.operator == "!="]
    zero = {unit_form(e)[0] for e in equations}
    return any(unit_form(_cleared(gap))[0] in zero for gap in gaps)


def _choices(equations: list[Expression], unknowns: list[Name]) -> list[tuple[Expression, Name]]:
    """Pairs in the order of effort: linear first, those that divide by no unknown, short first."""
    pairs: list[tuple[int, bool, int, int, Expression, Name]] = []
    for equation in equations:
        for place, unknown in enumerate(unknowns):
            if contains(equation, unknown):
                coefficients = uni.coefficients_of(equation, unknown)
                degree = 9 if coefficients is None else len(coefficients) - 1
                divides = coefficients is not None and any(contains(coefficients[-1], u) for u in unknowns)
                pairs.append((degree, divides, len(str(equation)), place, equation, unknown))
    return [(e, u) for _, _, _, _, e, u in sorted(pairs, key=lambda p: p[:4])]
