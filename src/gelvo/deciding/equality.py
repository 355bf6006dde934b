"""Is a formula zero? Proved, disproved by a point with error bounds, or left open."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import NamedTuple

import gmpy2
from gmpy2 import lcm, mpq, mpz

from gelvo.deciding.algebraic_zero import algebraic_groups_vanish
from gelvo.deciding.constancy import is_constant_zero
from gelvo.deciding.independent import by_independent
from gelvo.deciding.root_relations import reduced_parts
from gelvo.errors import DomainError, GelvoError, Undecided
from gelvo.evaluation.enclose import Enclosure, sign_at
from gelvo.evaluation.sampling import points
from gelvo.expression.building import multiply_all, number, power, relation, scale, total
from gelvo.expression.constants import HALF, IMAGINARY, PI, ZERO
from gelvo.expression.nodes import (
    AlgebraicNumber,
    Applied,
    Bound,
    Call,
    Expression,
    Name,
    Node,
    Number,
    Power,
    Relation,
    Sum,
    Written,
)
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import free_names, names, postorder, relations_of, substitute, tree_size, unified
from gelvo.facts.equalities import without_equalities
from gelvo.facts.statements import Fact, fact_condition
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.forms.dimensions import SYMBOLS
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.forms.impulses import sifted
from gelvo.forms.univariate import linear_parts
from gelvo.functions.named import ACOS, ACOT, ASIN, ATAN, EXP, LN, is_a
from gelvo.normal.prepare import prepared
from gelvo.normal.vanishing import vanishing
from gelvo.numbers.box import Box
from gelvo.numbers.exact import Gaussian
from gelvo.numbers.interval import NoValue
from gelvo.roads import on_the_way

PROVED_BY_NORMAL_FORM = "normal form over independent generators"
PROVED_BY_BOUND = "normal form, numbers decided by the norm of algebraic integers"
PROVED_BY_RELATIONS = "the relations between its roots, or its cosines of parts of angles"
PROVED_BY_ANGLE = "a sum of angles: a whole number of turns exactly, and smaller than one turn by its bounds"
PROVED_BY_LOGARITHMS = "a sum of logarithms: the product of the positive numbers is exactly 1"
PROVED_BY_INDEPENDENT = "logarithms and angles of numbers by independent ones"
PROVED_BY_SQUARES = "both sides have one sign, and the same square"
PROVED_BY_DERIVATIVE = "zero derivative on an interval and one exact zero"
SAMPLES = 24
MANY_ROOTS = 3  # numbered ones, from which a sum is decided one function at a time
MOST_LOGARITHM_POWERS = 40


class Decision(NamedTuple):
    """zero: True (proved), False (disproved) or None (open); how; for False the point and the value there."""

    zero: bool | None
    how: str = ""
    point: Mapping[Expression, mpq] | None = None
    value: Box | None = None


@on_the_way("normal form")
def decide_zero(expression: Expression, facts: Facts | None = None) -> Decision:
    """Whether a formula is zero wherever it has a value, under facts.

    >>> from gelvo.expression.building import call, name
    >>> x = name("x")
    >>> from gelvo.functions.named import COS, SIN
    >>> decide_zero(SIN(x)**2 + COS(x)**2 - 1).zero
    True
    """
    (expression,) = unified(expression)
    expression, facts = without_equalities(expression, facts or Facts())
    expression = _with_values_joined(sifted(expression), facts)
    if isinstance(expression, Number):
        return Decision(not expression.value, "exact arithmetic", {} if expression.value else None, None)
    quick = _one_point(expression, facts)
    if quick is not None:
        return quick
    proof = prove_zero(expression, facts)
    if proof:
        return Decision(True, proof)
    return disprove_zero(expression, facts) or _on_a_branch(expression, facts) or Decision(None)


def _on_a_branch(expression: Expression, facts: Facts) -> Decision | None:
    """A point where a name with c^2 = … among the facts is taken not negative: a counterexample like any other."""
    for left, right in facts.equalities:
        signed = [(v, s) for v in free_names(left - right) for s in (1, -1)]
        for variable, sign in signed:
            try:
                chosen = facts.with_facts([relation("<=", number(0), sign * variable)])
                inner, rest = without_equalities(expression, chosen)
            except DomainError:
                continue
            if rest.equalities:
                continue
            found = disprove_zero(inner, rest)
            if found is not None:
                return found
    return None


def prove_zero(expression: Expression, facts: Facts, depth: int = 2) -> str:
    """How zero is proved, or an empty text."""
    parts = _parts(expression, facts) if depth else None
    if parts is not None and all(p is ZERO for p in parts):
        return PROVED_BY_RELATIONS
    if depth and _shares_vanish(expression, facts, depth - 1):
        return PROVED_BY_NORMAL_FORM
    try:
        zero, form, top = vanishing(expression, facts)
    except DomainError:
        return ""
    if zero:
        return PROVED_BY_NORMAL_FORM
    if algebraic_groups_vanish(form, top):
        return PROVED_BY_BOUND
    if parts is not None and all(prove_zero(p, facts, depth - 1) for p in parts):
        return PROVED_BY_RELATIONS
    if not names(expression) and _by_angle(expression, facts):
        return PROVED_BY_ANGLE
    if not names(expression) and _by_logarithms(expression, facts):
        return PROVED_BY_LOGARITHMS
    return _by_further_roads(expression, facts, depth - 1) if depth else ""


def _by_further_roads(expression: Expression, facts: Facts, depth: int) -> str:
    """By independent logarithms and angles, by squares, or by a derivative: claims of their own."""
    led_back = by_independent(expression, lambda e: _by_logarithms(e, facts), lambda e: _by_angle(e, facts))
    if led_back is not expression and (how := prove_zero(led_back, facts, 0)):
        return f"{PROVED_BY_INDEPENDENT}; {how}"
    if names(expression) and _by_squares(expression, facts, depth):
        return PROVED_BY_SQUARES
    if tree_size(expression) < 4000 and is_constant_zero(expression, facts, lambda e, f: bool(prove_zero(e, f, depth))):
        return PROVED_BY_DERIVATIVE
    return ""


def _by_squares(expression: Expression, facts: Facts, depth: int) -> bool:
    """a + b*sqrt(q) with a^2 = b^2*q, where -a/b is known not to be negative: a root below which there is a square in disguise."""
    roots = [n for n in postorder(expression) if isinstance(n, Power) and n.exponent is HALF and names(n.base)]
    if not roots:
        return False
    root, mark = roots[-1], facts.new_name("s", expression)
    line = linear_parts(expand(substitute(expression, {root: mark})), mark)
    if line is None or not facts.is_nonzero(line[0]) or not facts.is_nonnegative(factored(-line[1] / line[0])):
        return False
    return bool(prove_zero(expand(line[1] ** 2 - line[0] ** 2 * root.base), facts, depth))


def _shares_vanish(expression: Expression, facts: Facts, depth: int) -> bool:
    """Whether what stands before each function vanishes: a sum of waves over the roots of a polynomial, one root at a time."""
    roots = [n for n in postorder(expression) if isinstance(n, AlgebraicNumber)]
    if len(roots) < MANY_ROOTS or not isinstance(expression, Sum):
        return False
    shares: dict[Expression, list[Expression]] = {}
    for term in terms_of(expand(expression)):
        function = multiply_all([f for f in factors_in(term) if isinstance(f, Call) and names(f)])
        shares.setdefault(function, []).append(term / function)
    return len(shares) > 1 and all(prove_zero(total(share), facts, depth) for share in shares.values())


def _parts(expression: Expression, facts: Facts) -> list[Expression] | None:
    """What must vanish by the relations between roots, and so on; None where there are none or a part has no value."""
    try:
        return reduced_parts(expression, facts)
    except DomainError:
        return None


def _by_angle(expression: Expression, facts: Facts) -> bool:
    """A rational combination of inverse tangents and their like, and of pi."""
    if not isinstance(expression, Sum) or expression.constant:
        return False
    common = mpz(1)
    for term, coefficient in expression.items():
        angle = (is_a(term, ATAN, ASIN, ACOS, ACOT)) or term is PI
        if not angle or isinstance(coefficient, Gaussian):
            return False
        common = lcm(common, coefficient.denominator)
    turned = scale(expression, mpq(common))
    try:
        box = Enclosure(turned).at({}, 128)
    except NoValue:
        return False  # an inverse of a sine beyond 1: no real angle
    if box.imag is not None or box.real.low <= -6 or box.real.high >= 6:
        return False
    try:
        zero, form, top = vanishing(EXP(IMAGINARY * turned) - 1, facts)
    except DomainError:
        return False
    return zero or algebraic_groups_vanish(form, top)


def _by_logarithms(expression: Expression, facts: Facts) -> bool:
    """A rational combination of logarithms of positive numbers (of inverse hyperbolic functions too)."""
    ready = prepared(expression, facts)
    if not isinstance(ready, Sum) or ready.constant:
        return False
    pairs: list[tuple[Expression, mpq]] = []
    common = mpz(1)
    for term, coefficient in ready.items():
        if not (is_a(term, LN)) or isinstance(coefficient, Gaussian):
            return False
        if not facts.is_positive(term.arguments[0]):
            return False
        pairs.append((term.arguments[0], coefficient))
        common = lcm(common, coefficient.denominator)
    whole = [(x, int(c * common)) for x, c in pairs]
    if sum(abs(k) for _, k in whole) > MOST_LOGARITHM_POWERS:
        return False
    above = multiply_all([power(x, number(k)) for x, k in whole if k > 0])
    below = multiply_all([power(x, number(-k)) for x, k in whole if k < 0])
    try:
        zero, form, top = vanishing(above - below, facts)
    except DomainError:
        return False
    return zero or algebraic_groups_vanish(form, top)


# --- points -------------------------------------------------------------------------------------------------------------


def _as_variables(expression: Expression, facts: Facts) -> tuple[Expression, dict[Name, Expression]]:
    """Unknown functions as independent names: values at different places can be chosen freely, those at one place are one."""
    expression = _with_values_joined(expression, facts)
    table: dict[Node, Expression] = {}
    back: dict[Name, Expression] = {}
    for node in postorder(expression):
        if isinstance(node, Applied):
            fresh = facts.new_name(f"{node.name}_value", expression, *back)
            table[node] = fresh
            back[fresh] = node
    return (substitute(expression, table) if table else expression), back


def _with_values_joined(expression: Expression, facts: Facts) -> Expression:
    """Values of an unknown function at one place, written in several ways, as the first of them."""
    first: list[Applied] = []
    table: dict[Node, Expression] = {}
    for node in postorder(expression):
        if isinstance(node, Applied):
            same = next((other for other in first if _is_same_value(node, other, facts)), None)
            if same is None:
                first.append(node)
            else:
                table[node] = same
    return substitute(expression, table) if table else expression


def _is_same_value(node: Applied, other: Applied, facts: Facts) -> bool:
    """u(1 - t) and u(-(t - 1)), whose arguments are equal though written in two ways."""
    if (node.name, node.orders, len(node.arguments)) != (other.name, other.orders, len(other.arguments)):
        return False
    return all(_is_same_place(a, b, facts) for a, b in zip(node.arguments, other.arguments, strict=True))


def _is_same_place(a: Expression, b: Expression, facts: Facts) -> bool:
    """A name is another place than a number or another name: that needs no proof, and is asked for often."""
    if isinstance(a, (Number, Name)) and isinstance(b, (Number, Name)):
        return a is b
    return bool(prove_zero(a - b, facts))


def _one_point(expression: Expression, facts: Facts) -> Decision | None:
    """A cheap look at one point, which settles most false claims before a proof is tried."""
    return disprove_zero(expression, facts, count=2, most_bits=128)


def disprove_zero(expression: Expression, facts: Facts, count: int = SAMPLES, most_bits: int = 2000) -> Decision | None:
    """A point inside the facts where the value is certainly not zero, or None."""
    expression, back = _as_variables(expression, facts)
    if any(isinstance(n, Written) and n.kind != "root_of" for n in postorder(expression)):
        return None
    involved = free_names(expression)
    relations, variables = relevant_relations(facts.given, involved)
    enclosure = Enclosure(expression)
    ranges = numeric_ranges(relations)
    for point in points(variables, facts.known, count if variables else 1, ranges=ranges):
        if not inside(relations, point):
            continue
        precision = 64
        while precision <= most_bits:
            try:
                box = enclosure.at(point, precision)
            except NoValue as fault:
                if fault.certain:
                    break
            else:
                if not enclosure.bounded:
                    return None
                if not box.contains_zero() and box.finite:
                    shown = {back.get(n, n): v for n, v in point.items() if n in involved}
                    return Decision(False, "a point with error bounds", shown, box)
            precision *= 4
    return None


def numeric_ranges(relations: Iterable[Relation]) -> dict[Name, tuple[mpq | None, mpq | None]]:
    """The ends that relations such as pi/2 < x put to single names."""
    found: dict[Name, tuple[mpq | None, mpq | None]] = {}
    for r in relations:
        for name, other, sign in ((r.left, r.right, 1), (r.right, r.left, -1)):
            if isinstance(name, Name) and not names(other) and r.operator in ("<", "<="):
                try:
                    end = mpq(Enclosure(other).at({}, 100).real.low)
                except NoValue:
                    continue
                low, high = found.get(name, (None, None))
                if sign > 0:
                    high = end if high is None else min(high, end)
                else:
                    low = end if low is None else max(low, end)
                found[name] = (low, high)
    return found


def relevant_relations(given: Iterable[Fact], involved: Iterable[Name]) -> tuple[list[Relation], list[Name]]:
    """The relations that touch some names, directly or through others, those of numbers alone, and all names then needed."""
    variables = dict.fromkeys(involved)
    every = relations_in(given)
    waiting = [r for r in every if names(r)]
    chosen = [r for r in every if not names(r)]
    while True:
        touching = [r for r in waiting if any(n in variables for n in names(r))]
        if not touching:
            return chosen, list(variables)
        chosen.extend(touching)
        waiting = [r for r in waiting if r not in touching]
        variables.update(dict.fromkeys(n for r in touching for n in names(r)))


def relations_in(given: Iterable[Fact]) -> list[Relation]:
    result: list[Relation] = []
    for fact in given:
        condition = fact_condition(fact)
        if condition is not None:
            result.extend(relations_of(condition))
    return result


def inside(relations: list[Relation], point: Mapping[Name, mpq]) -> bool:
    for part in relations:
        gap = total((part.right, -part.left))
        try:
            sign = sign_at(gap, point, 256)
        except Undecided:  # an equality of numbers that no bounds can tell
            if part.operator in ("=", "<=") and _may_vanish(gap, point):
                continue
            return False
        except GelvoError:
            return False
        good = {"<": sign > 0, "<=": sign >= 0, "=": sign == 0, "!=": sign != 0}[part.operator]
        if not good:
            return False
    return True


def _may_vanish(gap: Expression, point: Mapping[Name, mpq]) -> bool:
    try:
        return Enclosure(gap).at(point, 256).contains_zero()
    except NoValue:
        return False


def is_zero(expression: Expression, facts: Facts | None = None) -> bool | None:
    """True, False or None: used wherever an algorithm must know."""
    return decide_zero(expression, facts).zero


def surely_differ(a: Expression, b: Expression, facts: Facts) -> bool:
    """Whether two ends, inf and -inf among them, differ for all values of their letters."""
    if isinstance(a, Bound) or isinstance(b, Bound):
        return a is not b
    gap = a - b
    return facts.is_nonzero(gap) or (not names(gap) and is_zero(gap, facts) is False)


def witness_text(decision: Decision, digits: int = 8) -> str:
    """The point and the value there, for people."""
    where = ", ".join(f"{n} = {number(v)}" for n, v in (decision.point or {}).items() if n not in SYMBOLS)
    if decision.value is None:
        return where
    shown = gmpy2.mpfr(decision.value.real.low, 64)
    text = f"{shown:.{digits}g}"
    if decision.value.imag is not None:
        text += f" {gmpy2.mpfr(decision.value.imag.low, 64):+.{digits}g}j"
    if any(n in SYMBOLS for n in decision.point or {}):
        text += " in SI base units"
    return f"at {where} the difference is {text}" if where else f"the difference is {text}"
