"""Which step is tried on an equation: factors, polynomials, one function undone after the other, implications."""

from __future__ import annotations

from gelvo.deciding.equality import decide_zero
from gelvo.errors import DomainError, NotSolved
from gelvo.expression.building import relation
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Cases, Condition, Expression, Name, Number, Product, Relation, Written
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.facts.conditions import nonzero, zero_where
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import factor_list, is_never_zero
from gelvo.forms import univariate as uni
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import Form
from gelvo.solving.roots import Root
from gelvo.solving.single.equal_waves import equal_waves
from gelvo.solving.single.exponentials import exponential_sums, one_base
from gelvo.solving.single.gammas import gamma_quotients
from gelvo.solving.single.hyperbolic import hyperbolic
from gelvo.solving.single.inverse import by_generator, isolate
from gelvo.solving.single.inverse_functions import inverse_functions, one_inverse
from gelvo.solving.single.lambert import argument_in_power, lambert
from gelvo.solving.single.logarithms import logarithms, split_logarithms
from gelvo.solving.single.moving_powers import equal_powers, moving_powers, powers_of_one_base, vanishes_by_base
from gelvo.solving.single.no_formula import no_formula
from gelvo.solving.single.pieces import pieces
from gelvo.solving.single.polynomial import polynomial, shown_short
from gelvo.solving.single.radicals import radicals
from gelvo.solving.single.waves import waves_of_one_angle

DEEPEST, MOST_SLOPES = 8, 2
# what is tried on a factor that is no polynomial in the unknown, in this order
STEPS = (
    one_inverse, by_generator, isolate, powers_of_one_base, exponential_sums, logarithms, pieces, inverse_functions, radicals, hyperbolic, lambert, equal_powers, equal_waves, waves_of_one_angle,
    split_logarithms, argument_in_power, gamma_quotients,
)  # fmt: skip


class Roads(dict[str, None]):
    """The steps that were taken, each once, in order; `last`: the one taken last."""

    last = ""

    def __setitem__(self, road: str, nothing: None) -> None:
        super().__setitem__(road, nothing)
        self.last = road


Noted = tuple[dict[Condition, None], Roads, dict[str, None], int, bool, bool]


class Solver:
    """The choices of one call: the unknown, the facts, whether complex values count."""

    def __init__(self, unknown: Name, facts: Facts, real: bool, formulas_only: bool = False) -> None:
        self.unknown, self.facts, self.real, self.formulas_only = unknown, facts, real, formulas_only
        self.conditions: dict[Condition, None] = {}
        self.further = 0
        self.roads = Roads()
        self.taken: list[Expression] = []
        self.implied = False  # whether some step was an implication only, so that candidates must be put back
        self.trail: list[tuple[str, Expression]] = []  # the equations that were reached, each with the step that led there
        self.nested = False  # whether the unknown stands for a part of an equation
        self.squared = False  # whether such a step may have made an identity of what is none
        self.slopes = 0  # of how many formulas around this one it is the slope
        self.lost: dict[str, None] = {}  # why there may be solutions beside those found: the steps that were no equivalence

    def solve(self, g: Expression, depth: int = 0) -> list[Root]:
        """The roots of g = 0."""
        if depth > DEEPEST:
            raise NotSolved("the equation needs more steps than the solver takes")
        x = self.unknown
        if depth:
            self.trail.append((self.roads.last, g))
        if any(isinstance(n, Written) and contains(n, x) for n in postorder(g)):
            raise NotSolved(f"{x} stands inside a form that is not worked out")
        if any(isinstance(n, Cases) and contains(n, x) for n in postorder(g)):
            parted = pieces(self, g, depth)
            if parted is None:
                raise NotSolved(f"{x} stands in cases, which are told over the real numbers only")
            return _distinct(parted)
        if isinstance(g, Product) and sum(contains(f, x) for f in g.factors) > 1:
            roots = _distinct([root for factor in g.factors for root in self.solve(factor, depth)])
            return next(([r] for r in roots if r.value is x and not r.conditions), roots)  # a factor that is zero everywhere
        g = one_base(g, x)
        early = moving_powers(self, g, depth)
        return _distinct(self._by_factors(g, depth) if early is None else early)

    def _by_factors(self, g: Expression, depth: int) -> list[Root]:
        """The roots of the factors of the numerator, where the denominator does not vanish."""
        x = self.unknown
        form = Form([g])
        top, bottom = form.lowest_terms(form.of(g))
        taken_apart = self.real and any(vanishes_by_base(n, x) for n in postorder(g))
        product = form.factored(top)
        for part in factor_list(form.factored(bottom)):
            # u^(x - 1) as u^x/u needs no u != 0; what is real is asked of the whole
            if contains(part, x) and not taken_apart and not self._apart_from(part, product):
                self.conditions[nonzero(part)] = None
        if product is ZERO:
            if self.squared:
                raise NotSolved("squaring turns the equation into an identity, which does not tell its solutions")
            return [Root(x)]
        result: list[Root] = []
        factors = factor_list(product)
        for factor in factors:
            if contains(factor, x):
                if len(factors) > 1:
                    self.trail.append(("a factor", factor))
                result.extend(self._factor(factor, depth))
            elif not isinstance(factor, Number):
                # a factor without the unknown: where it vanishes every value solves
                if self._holds(relation("=", factor, ZERO)):
                    return [Root(x)]
                self.need(nonzero(factor))
        return result

    def _apart_from(self, part: Expression, product: Expression) -> bool:
        """Whether a linear part of a denominator vanishes at no root: the numerator is not zero where the part is."""
        line = uni.linear_parts(part, self.unknown)
        if line is None or not names(product) or uni.coefficients_of(product, self.unknown) is None:
            return False
        place = -line[1] / line[0]
        return not contains(place, self.unknown) and self.facts.is_nonzero(expand(substitute(product, {self.unknown: place})))

    def beside(self, g: Expression, facts: Facts) -> tuple[list[Condition], list[Root]]:
        """What is needed, and all roots of another formula of the same unknown under facts; NotSolved where some may be missing."""
        if self.slopes == MOST_SLOPES:
            raise NotSolved("the equation needs more slopes than the solver looks at")
        solver = Solver(self.unknown, facts, self.real, self.formulas_only)
        solver.slopes = self.slopes + 1
        roots = solver.solve(g)
        if solver.lost or solver.implied or any(r.value is self.unknown for r in roots):
            raise NotSolved(f"the zeros of {shown_short(g)} are not all certain")
        return [c for c in solver.conditions if not contains(c, self.unknown)], roots

    def need(self, condition: Condition) -> None:
        """A condition of all solutions: on letters alone, so that the case where it fails can be looked at by itself."""
        if self._holds(condition) is not True:
            self.conditions[condition] = None

    def _holds(self, condition: Condition) -> bool | None:
        """As the facts tell; of numbers also as exact arithmetic does."""
        holds = self.facts.holds(condition)
        if holds is None and isinstance(condition, Relation) and condition.operator in ("=", "!=") and not names(condition):
            zero = decide_zero(condition.left - condition.right).zero
            return None if zero is None else zero == (condition.operator == "=")
        return holds

    def inner(self, g: Expression, u: Name, depth: int, there: Expression | None = None) -> list[Root]:
        """The roots of g = 0 for a new unknown u; what was needed on the way counts here too, what is about u at each root.

        Where every u solves, or every one of a region, the root is the unknown of this solver under the conditions of that, with
        what u stands for put into them.
        """
        solver = Solver(u, self.facts, self.real)
        solver.nested, solver.trail = True, self.trail
        solver.roads.last = f"a new unknown: {u} = {there}" if there is not None else self.roads.last
        solver.taken = [*self.taken, u]
        roots = solver.solve(g, depth + 1)
        self.roads.update(solver.roads)
        self.lost.update(solver.lost)
        self.implied = self.implied or solver.implied
        self.squared = self.squared or solver.squared
        self.further += solver.further
        about_u = [c for c in solver.conditions if contains(c, u) and not self.facts.holds(c)]
        self.conditions.update({c: None for c in solver.conditions if not contains(c, u)})
        result: list[Root] = []
        for root in roots:
            if root.value is u:
                if there is None and any(contains(c, u) for c in root.conditions):
                    raise NotSolved(f"a whole range of {u} solves")
                inside = tuple(substitute(c, {u: there}) if there is not None else c for c in root.conditions)
                result.append(Root(self.unknown, inside, root.families))
                continue
            needed: list[Condition] = []
            try:
                states = [self.condition(substitute(c, {u: root.value})) for c in about_u]
            except DomainError:
                continue  # a denominator vanishes there
            if None not in states:
                needed = [c for state in states for c in state or ()]
                result.append(Root(root.value, (*root.conditions, *needed), root.families))
        return result

    def _factor(self, g: Expression, depth: int) -> list[Root]:
        if is_never_zero(g):
            return []
        if self.real and vanishes_by_base(g, self.unknown):
            return []  # zero only where its base is: such places are looked at for every equation
        coefficients = uni.coefficients_of(g, self.unknown)
        if coefficients is not None:
            return polynomial(self, coefficients, g, depth)
        if self.real and self.facts.is_nonzero(g):
            return []
        before = self._noted()
        try:
            for step in STEPS:
                found = step(self, g, depth)
                if found is not None:
                    return found
            why = NotSolved(f"no closed form was found that solves {shown_short(g)} = 0 for {self.unknown}{self._hint(g)}")
        except NotSolved as deeper:
            self._take_back(before)
            why = deeper
        counted = no_formula(self, g, depth)
        if counted is None:
            raise why
        return counted

    def _noted(self) -> Noted:
        """What was noted on the way so far."""
        return dict(self.conditions), Roads(self.roads), dict(self.lost), self.further, self.implied, self.squared

    def _take_back(self, noted: Noted) -> None:
        """Forgets what a road that led nowhere noted."""
        self.conditions, self.roads, self.lost, self.further, self.implied, self.squared = noted

    def _hint(self, g: Expression) -> str:
        """What would help."""
        if not self.real or any(n is not self.unknown for n in names(g)):
            return ""
        return (
            f": give a range, such as given 0 <= {self.unknown}, {self.unknown} <= 10, and its zeros there are found with proof"
        )

    def condition(self, condition: Condition) -> tuple[Condition, ...] | None:
        """() where it follows, the condition where it is open, None where it cannot hold."""
        holds = self._holds(condition)
        if holds is None and isinstance(condition, Relation) and condition.operator == "<=":
            gap = condition.right - condition.left
            if self.facts.is_nonpositive(gap):  # -u^2 >= 0 says u = 0
                return (zero_where(gap),)
        return () if holds else None if holds is False else (condition,)

    def free_integer(self, *formulas: Expression) -> Name:
        """n_1, n_2, … : names for any integer."""
        chosen = next(self.facts.new_names("n", *formulas, self.unknown, *self.taken, domain="integer"))
        self.taken.append(chosen)
        return chosen


def _distinct(roots: list[Root]) -> list[Root]:
    return list(dict.fromkeys(roots))
