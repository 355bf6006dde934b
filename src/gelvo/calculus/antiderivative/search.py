"""The search for an antiderivative: methods in order, each result differentiated back before it is believed."""

from __future__ import annotations

from collections.abc import Callable

from gelvo.calculus.antiderivative import methods, special, substitutions
from gelvo.calculus.antiderivative.ansatz import by_ansatz
from gelvo.calculus.antiderivative.by_special import by_special
from gelvo.calculus.antiderivative.curves import algebraic_curve
from gelvo.calculus.antiderivative.decision import Outcome, by_residues, decide, decided
from gelvo.calculus.antiderivative.euler import euler
from gelvo.calculus.antiderivative.gaussian_waves import gaussian_wave
from gelvo.calculus.antiderivative.grouping import by_groups, by_highest_power
from gelvo.calculus.antiderivative.plain_roots import plain_roots
from gelvo.calculus.antiderivative.powers_beside_poles import power_beside_pole
from gelvo.calculus.antiderivative.quadratic_root import quadratic_root
from gelvo.calculus.antiderivative.rational import integrate_rational
from gelvo.calculus.antiderivative.support import Search, apart, roots_of, with_signs
from gelvo.calculus.antiderivative.waves import integrate_waves
from gelvo.calculus.antiderivative.waves_in_roots import waves_in_roots
from gelvo.calculus.elementary.tower import Work
from gelvo.calculus.found import Found, summed
from gelvo.deciding.complex_paths import real_where
from gelvo.deciding.equality import decide_zero
from gelvo.deciding.suppositions import is_supposing
from gelvo.errors import DomainError
from gelvo.expression.building import call, multiply_all, name, number
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Call, Condition, Expression, Name, Node, Power, Product, Sum, Written
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import dependents, has_imaginary_unit, postorder, substitute, transform, tree_size
from gelvo.facts.divisors import new_divisors
from gelvo.facts.statements import DomainFact, is_about
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.impulses import sifted
from gelvo.functions.named import (
    ABS,
    CHI,
    CI,
    COS,
    COT,
    COTH,
    CSC,
    CSCH,
    LN,
    LOG2,
    LOG10,
    SEC,
    SECH,
    SIGN,
    SIN,
    SPHERICALJ,
    SPHERICALY,
    TAN,
    TANH,
    is_a,
)
from gelvo.functions.neighbours import of_order
from gelvo.normal.relations import lowest_by_relations
from gelvo.normal.undoing import wave_of_inverse
from gelvo.refuted import note_refuted
from gelvo.roads import on_the_way
from gelvo.simplifying.families.waves import by_multiple_angles

Method = Callable[[Expression, Search], Found | None]
METHODS: tuple[Method, ...] = (
    methods.power_rule,
    methods.catalogue,
    methods.squares_of_functions,
    methods.square_beside_a_power,
    integrate_rational,
    by_residues,
    integrate_waves,
    methods.gaussian,
    gaussian_wave,
    by_groups,
    by_ansatz,
    quadratic_root,
    algebraic_curve,
    waves_in_roots,
    special.over_linear,
    special.fresnel,
    special.imaginary_gaussian,
    special.dilogarithm,
    power_beside_pole,
    special.bessel_power,
    special.swing,
    special.power_beside_exponential,
    decided,
    by_special,
    substitutions.linear_root,
    substitutions.inverse_as_variable,
    methods.by_parts,
    by_highest_power,
    methods.derivative_divides,
    substitutions.exponential_rational,
    substitutions.trigonometric_rational,
    plain_roots,
    methods.without_roots_below,
    euler,
    special.power_of_binomial,
)
OF_RATIONAL = (methods.power_rule, integrate_rational, by_residues, methods.power_as_variable)
DEEPEST = 5
LARGEST_ORDER = 12  # of spherical Bessel functions by sine and cosine
MOST_EQUATIONS = 30  # for each integrand; what is found takes 370 in all, what is not would take thousands
MOST_INTEGRANDS = 18  # for each term of an integrand; what is found takes a dozen, what is not would go on for ever


Question = tuple[Expression, Name, frozenset[object], frozenset[Name]]
_without_any: dict[Question, None] = {}  # asked for a value, then again for its certificate
MOST_REMEMBERED = 256


def _remember(question: Question) -> None:
    if len(_without_any) >= MOST_REMEMBERED:
        _without_any.pop(next(iter(_without_any)), None)
    _without_any[question] = None


@on_the_way("search for an antiderivative")
def antiderivative(f: Expression, variable: Name, facts: Facts) -> Found | None:
    """An antiderivative with its conditions, differentiated back; None where no method finds one.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> print(antiderivative(x**2, x, Facts()).value)
    x^3/3
    """
    question = (f, variable, frozenset(facts.given), frozenset(facts.complex_names))
    if question in _without_any:
        return None
    found = candidate(f, variable, facts)
    if found is None:
        if is_supposing():  # what is not found then is not found by a check either, which supposes nothing
            _remember(question)
        return None
    under = facts.with_facts(found.conditions)
    slope = sifted(differentiate(found.value, variable, 1, under), between_breaks=True)
    if decide_zero(slope - f, under).zero is False:
        note_refuted("antiderivative", f, found.value)
        return None
    return found


@on_the_way("search for an antiderivative")
def candidate(f: Expression, variable: Name, facts: Facts) -> Found | None:
    """An antiderivative with its conditions for those who differentiate it back themselves; None where no method finds one."""
    found = _search(f, variable, facts, 0, _attempts(f)) or _decided(f, variable, facts)
    if found is None:
        return None
    plain = transform(found.value, _of_complex_value)
    real: tuple[Condition, ...] = ()
    if facts.is_real(variable):
        own = set(postorder(f))
        plain = transform(plain, lambda node: node if node in own else _of_both_signs(node, facts))
        real = facts.open_conditions(real_where(plain, facts))
    found = found._replace(value=plain, conditions=tuple(dict.fromkeys((*found.conditions, *real))))
    if facts.exclude(found.conditions):
        return None
    under = facts.with_facts(found.conditions)
    plain = transform(plain, lambda node: _signs_together(node, under))
    divisors = new_divisors(plain, f, under, variable)
    return found._replace(value=plain, conditions=(*found.conditions, *divisors))


def _decided(f: Expression, variable: Name, facts: Facts) -> Found | None:
    """By the decision procedure; what has no elementary antiderivative is looked for once more by itself."""
    attempts = _attempts(f)
    search = _search_of(variable, facts, 0, attempts)
    outcome = decide(f, search)
    if outcome is None or outcome.found is None:
        return None
    if outcome.rest is ZERO:
        return outcome.found
    rest = _search(outcome.rest, variable, facts, 0, attempts)
    return None if rest is None else outcome.found.plus(rest)


def obstacle_of(f: Expression, variable: Name, facts: Facts) -> Outcome | None:
    """What the decision procedure says of an integrand: the elementary part, the rest, and why that has no elementary antiderivative."""
    outcome = decide(f, _search_of(variable, facts, 0, _attempts(f)))
    return outcome if outcome is not None and outcome.obstacle is not None else None


def _search_of(variable: Name, facts: Facts, depth: int, attempts: Attempts) -> Search:
    return Search(
        variable,
        facts,
        lambda g: _search(g, variable, facts, depth + 1, attempts),
        lambda new, known: _with_variable(new, known, facts, depth, attempts),
        attempts.work,
    )


def _of_complex_value(node: Node) -> Node:
    """ln|u| as ln(u) where u is complex, as after a substitution of exp(1j*x): the bars forget its direction."""
    if is_a(node, LN):
        inside = node.arguments[0]
        if is_a(inside, ABS) and has_imaginary_unit(inside):
            return LN(inside.arguments[0])
    return node


def _of_both_signs(node: Node, facts: Facts) -> Node:
    """Ci(u) as Ci(|u|) of a real u, which has the same slope and is real for both signs; so with Chi. A sign that is known is a number."""
    if isinstance(node, Power) and is_a(node.base, SIGN) and node.exponent.is_whole and node.exponent.rational % 2 == 0:
        return number(1)
    if is_a(node, SIGN):
        inside = node.arguments[0]
        return number(1) if facts.is_nonnegative(inside) else number(-1) if facts.is_nonpositive(inside) else node
    if is_a(node, CI, CHI):
        inside = node.arguments[0]
        if facts.is_real(inside) and not facts.is_positive(inside):
            return call(node.name, ABS(inside))
    return node


def _signs_together(node: Node, facts: Facts) -> Node:
    """A product of signs as a number, where the sign of the product of their arguments is known."""
    if not isinstance(node, Product):
        return node
    signs = [g for g in node.factors if is_a(g, SIGN)]
    if len(signs) < 2:
        return node
    inside = expand(multiply_all([g.arguments[0] for g in signs]))
    value = 1 if facts.is_nonnegative(inside) else -1 if facts.is_nonpositive(inside) else 0
    return multiply_all([number(node.coefficient * value), *(g for g in node.factors if g not in signs)]) if value else node


class Attempts:
    """The integrands that one search has looked at, under one name for all variables, and how many more it may look at.

    A substitution may lead back to an integrand that is being worked on, in another variable: such a circle ends here.
    """

    def __init__(self, most: int) -> None:
        self.left = most
        self.work = Work(most * MOST_EQUATIONS)
        self.seen: dict[tuple[Expression, int], tuple[int, Found | None]] = {}


ANY_VARIABLE = name("any variable")  # no spelling of a user has a blank in it


def _attempts(f: Expression) -> Attempts:
    return Attempts(MOST_INTEGRANDS * len(terms_of(f)))


def _under_one_name(f: Expression, variable: Name, facts: Facts) -> tuple[Expression, int]:
    """The integrand and what is known of its variable; a variable with relations of its own keeps its name."""
    own = any(is_about(g, variable) for g in facts.given if not isinstance(g, DomainFact))
    return (f if own else substitute(f, {variable: ANY_VARIABLE})), facts.known(variable)


def _search(f: Expression, variable: Name, facts: Facts, depth: int, attempts: Attempts) -> Found | None:
    if depth > DEEPEST or any(isinstance(n, Written) for n in postorder(f)):
        return None
    key = _under_one_name(f, variable, facts)
    before = attempts.seen.get(key)
    if before is not None and (before[1] is not None or before[0] <= depth):
        return None if before[1] is None else before[1].renamed(ANY_VARIABLE, variable)
    attempts.left -= 1
    if attempts.left < 0:
        return None
    attempts.seen[key] = depth, None
    search = _search_of(variable, facts, depth, attempts)
    try:
        found = _whole(f, search)
    except DomainError:
        return None
    attempts.seen[key] = depth, None if found is None else found.renamed(variable, ANY_VARIABLE)
    return found


def _with_variable(new: Name, known: int, facts: Facts, depth: int, attempts: Attempts) -> Callable[[Expression], Found | None]:
    """The search one level further in, for another variable of which something is known."""
    inner = with_signs(new, known, facts)
    return lambda g: _search(g, new, inner, depth + 1, attempts)


def _whole(f: Expression, search: Search) -> Found | None:
    x = search.variable
    if search.free(f):
        return Found(f * x, (), "constant")
    plain = transform(f, wave_of_inverse)
    outer, inner = apart(_without_root_products(plain, x), x)
    found = _one(inner, search)
    if found is not None:
        return found.times(outer)
    for form in (f, expand(f)):
        terms = terms_of(form)
        if len(terms) > 1:
            joined = _termwise(terms, search)
            if joined is not None:
                return joined
    rewritten = _elementary(inner)
    if rewritten is inner:
        rewritten = _single_waves(inner, search)
    if rewritten is not inner:
        found = _whole(rewritten, search)
        return None if found is None else found.times(outer)
    return None


def _one(f: Expression, search: Search) -> Found | None:
    for method in OF_RATIONAL if _is_rational(f, search.variable) else METHODS:
        found = method(f, search)
        if found is not None and not any(search.facts.holds(c) is False for c in found.conditions):
            return found
    return None


def _is_rational(f: Expression, x: Name) -> bool:
    """Whether the variable stands in sums, products and whole powers only."""
    moving = dependents(f, x)
    return not any(
        isinstance(n, (Call, Written)) or (isinstance(n, Power) and not n.exponent.is_whole) for n in postorder(f) if n in moving
    )


def _without_root_products(f: Expression, x: Name) -> Expression:
    """One fraction where products of roots can be worked out: (x - sqrt(x))*(x + sqrt(x)) as x^2 - x."""
    roots = roots_of(f, x)
    if (
        not roots
        or not isinstance(f, Product)
        or not any(isinstance(g, (Sum, Power)) and any(r in postorder(g) for r in roots if r is not g) for g in f.factors)
    ):
        return f
    plain = lowest_by_relations(f)
    return plain if tree_size(plain) < tree_size(f) else f


def _single_waves(f: Expression, search: Search) -> Expression:
    """sin(x)*cos(x)/x as sin(2*x)/(2*x): products of waves beside something else by waves of multiples."""
    factors = [base_and_exponent(g) for g in factors_in(f) if not search.free(g)]
    waves = [k for base, k in factors if is_a(base, SIN, COS)]
    if len(waves) == len(factors) or not all(k.is_whole and k.rational > 0 for k in waves) or sum(k.rational for k in waves) < 2:
        return f
    turned = by_multiple_angles(f, search.facts, False)
    return f if turned is None else expand(turned)


def _termwise(terms: list[Expression], search: Search) -> Found | None:
    parts: list[Found] = []
    for term in terms:
        found = search.integrate(term)
        if found is None:
            return None
        parts.append(found)
    return summed(parts)


def _elementary(f: Expression) -> Expression:
    """tan, sec and their like, spherical Bessel functions by sine and cosine, where the function itself was not enough."""

    def visit(node: Node) -> Node:
        if is_a(node, TAN, COT, SEC, CSC, TANH, COTH, SECH, CSCH, LOG10, LOG2):
            assert node.function.as_elementary is not None
            return node.function.as_elementary(*node.arguments)
        if is_a(node, SPHERICALJ, SPHERICALY) and node.arguments[0].is_whole and 0 <= node.arguments[0].rational <= LARGEST_ORDER:
            order, u = node.arguments
            s, c = (SIN(u), COS(u)) if node.name == SPHERICALJ else (-COS(u), SIN(u))
            return of_order(node.name, int(order.rational), ZERO, u, (s / u, s / u**2 - c / u))
        return node

    return transform(f, visit)
