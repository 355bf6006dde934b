"""Is a formula zero? Proved, disproved by a point with error bounds, or left open."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from math import prod
from typing import Any, NamedTuple

import gmpy2
from gmpy2 import lcm, mpq, mpz

from gelvo.algebra.continuity import breaks
from gelvo.algebra.differentiation import differentiate
from gelvo.algebra.facts import Facts
from gelvo.algebra.fractions import IMAGINARY, PI, UNIT, Form
from gelvo.algebra.normal import is_unity, vanishing
from gelvo.errors import DomainError, GelvoError, Undecided
from gelvo.evaluation.enclose import Enclosure, sign_at
from gelvo.evaluation.sampling import points
from gelvo.expression import known as bits
from gelvo.expression.building import call, number, scale, total
from gelvo.expression.nodes import AlgebraicNumber, Applied, Call, Condition, Expression, Name, Node, Number, Product, Relation, Sum, Truth, Written
from gelvo.expression.traversal import free_names, fresh_name, names, postorder, substitute, tree_size
from gelvo.numbers.box import Box
from gelvo.numbers.exact import Gaussian, parts
from gelvo.numbers.interval import NoValue
from gelvo.polynomial import sparse
from gelvo.polynomial.dense import cyclotomic
from gelvo.polynomial.roots import bound_exponent
from gelvo.polynomial.sparse import Polynomial

PROVED_BY_NORMAL_FORM = "normal form over independent generators"
PROVED_BY_BOUND = "normal form, numbers decided by the norm of algebraic integers"
PROVED_BY_ANGLE = "a sum of angles: a whole number of turns exactly, and smaller than one turn by its bounds"
PROVED_BY_DERIVATIVE = "zero derivative on an interval and one exact zero"
MOST_SEPARATION_BITS = 60_000
SAMPLES = 24


class Decision(NamedTuple):
    """zero: True (proved), False (disproved) or None (open); how; for False the point and the value there."""

    zero: bool | None
    how: str = ""
    point: Mapping[Expression, mpq] | None = None
    value: Box | None = None


def decide_zero(expression: Expression, facts: Facts | None = None) -> Decision:
    """Whether a formula is zero wherever it has a value, under facts.

    >>> from gelvo.expression.building import call, name
    >>> x = name("x")
    >>> decide_zero(call("sin", x)**2 + call("cos", x)**2 - 1).zero
    True
    """
    expression, facts = without_equalities(expression, facts or Facts())
    if isinstance(expression, Number):
        return Decision(not expression.value, "exact arithmetic", {} if expression.value else None, None)
    quick = _one_point(expression, facts)
    if quick is not None:
        return quick
    proof = prove_zero(expression, facts)
    if proof:
        return Decision(True, proof)
    return disprove_zero(expression, facts) or Decision(None)


def without_equalities(expression: Expression, facts: Facts) -> tuple[Expression, Facts]:
    """Names that a fact sets equal to a formula replaced by it, so that the other names can be chosen freely."""
    table = {left: right for left, right in facts.equalities if isinstance(left, Name) and left not in names(right)}
    if not table:
        return expression, facts
    kept = [g for g in facts.given if getattr(g, "left", None) not in table]
    replaced = [substitute(g, table) if isinstance(g, Condition) else g for g in kept]
    rest = Facts([g for g in replaced if not isinstance(g, Truth) or not g.holds], facts.complex_names)
    return substitute(expression, table), rest


def prove_zero(expression: Expression, facts: Facts, depth: int = 2) -> str:
    """How zero is proved, or an empty text."""
    try:
        zero, form, top = vanishing(expression, facts)
    except DomainError:
        return ""
    if zero:
        return PROVED_BY_NORMAL_FORM
    if _algebraic_groups_vanish(form, top):
        return PROVED_BY_BOUND
    if not names(expression) and _by_angle(expression, facts):
        return PROVED_BY_ANGLE
    if depth and tree_size(expression) < 4000 and _by_derivative(expression, facts, depth):
        return PROVED_BY_DERIVATIVE
    return ""


# --- numbers: algebraic integers are zero or not too small --------------------------------------------------------------


class _Algebraic(NamedTuple):
    """A generator that is an algebraic number.

    steps: the roots that its field is built with, each with its degree over the ones before (their product bounds the number of
    conjugates); bound: on the size of every conjugate; denominator: a whole number times it is an algebraic integer.
    """

    steps: Mapping[Any, int]
    bound: mpq
    denominator: int


def _algebraic(form: Form, base: Expression, unit: Expression, degree: int) -> _Algebraic | None:
    """What is known of base^(unit/degree) as an algebraic number, or None where it is not seen to be one."""
    if is_unity(base, unit):
        return _Algebraic({("unity", degree): len(cyclotomic(2 * degree)) - 1}, mpq(1), 1)
    if unit is not UNIT or names(base):
        return None
    if isinstance(base, AlgebraicNumber) and degree == 1:
        size = len(base.coefficients) - 1
        coefficients = [mpz(c) for c in base.coefficients]
        return _Algebraic({base: size}, mpq(2) ** bound_exponent(coefficients), abs(base.coefficients[-1]))
    if isinstance(base, Number) and base.is_whole and degree > 1:
        return _Algebraic({(base, degree): degree}, _root_bound(abs(base.rational), degree), 1)
    if not isinstance(base, (Sum, Product)) or degree == 1:
        return None
    inner = Form([base])
    data = _algebraic_generators(inner)
    quotient = inner.of(base)
    if len(data) < len(inner.generators) or quotient.bottom:
        return None
    steps: dict[Any, int] = {(base, degree): degree}
    bound, denominator, powers = mpq(0), mpz(1), mpz(1)
    for m, c in quotient.top.items():
        real, imag = parts(c)
        denominator = lcm(denominator, lcm(real.denominator, imag.denominator))
        size_of = abs(real) + abs(imag)
        for index, entry in data.items():
            size_of *= max(mpq(1), entry.bound) ** sparse.exponent_of(m, index)
        bound += size_of
    for index, entry in data.items():
        steps.update(entry.steps)
        powers *= mpz(entry.denominator) ** sparse.degree(quotient.top, index)
    if sparse.has_gaussian(quotient.top):
        steps["imaginary unit"] = 2
    return _Algebraic(steps, max(mpq(1), _root_bound(bound, degree)), int(denominator * powers))


def _root_bound(size: mpq, degree: int) -> mpq:
    """A whole number not below the root."""
    return mpq(gmpy2.iroot(mpz(gmpy2.ceil(size)), degree)[0] + 1)


def _algebraic_generators(form: Form) -> dict[int, _Algebraic]:
    data: dict[int, _Algebraic] = {}
    for (base, unit), index in form.generators.items():
        entry = _algebraic(form, base, unit, form.roots_of[(base, unit)])
        if entry is not None:
            data[index] = entry
    return data


def _algebraic_groups_vanish(form: Form, top: Polynomial) -> bool:
    """Whether every coefficient of a monomial in the transcendental generators is a vanishing algebraic number."""
    data = _algebraic_generators(form)
    if not data:
        return False
    groups: dict[int, Polynomial] = {}
    for m, c in top.items():
        inside = sum(sparse.exponent_of(m, k) << (sparse.BITS * k) for k in data)
        groups.setdefault(m - inside, {})[inside] = c
    return all(_algebraic_number_vanishes(form, group, data) for group in groups.values())


def _algebraic_number_vanishes(form: Form, p: Polynomial, data: Mapping[int, _Algebraic]) -> bool:
    """Multiplied by its denominators, the number is an algebraic integer of known degree with bounded conjugates."""
    if len(p) == 1:
        return False
    used = [k for k in sparse.variables(p) if k in data]
    bound, scaling = mpq(0), mpq(1)
    steps: dict[Any, int] = {}
    for k in used:
        steps.update(data[k].steps)
        scaling *= mpq(data[k].denominator) ** sparse.degree(p, k)
    common = mpq(1)
    for c in p.values():
        real, imag = parts(c)
        common = mpq(lcm(common.numerator, lcm(real.denominator, imag.denominator)))
    if sparse.has_gaussian(p):
        steps["imaginary unit"] = 2
    degree = prod(steps.values())
    for m, c in p.items():
        real, imag = parts(c)
        size = abs(real) + abs(imag)
        for k in used:
            size *= max(mpq(1), data[k].bound) ** sparse.exponent_of(m, k)
        bound += size
    bound = bound * scaling * common
    needed = (int(gmpy2.floor(bound)) + 2).bit_length() * max(1, degree - 1) + 8
    if needed > MOST_SEPARATION_BITS:
        return False
    try:
        box = Enclosure(form.expression(p)).at({}, needed + 64 + 4 * len(p))
    except NoValue:
        return False
    largest = max(abs(x) for x in (*box.real, *(box.imag or ())))
    return bool(box.contains_zero() and largest * int(scaling * common) < gmpy2.mpfr(2) ** -needed)


def _by_angle(expression: Expression, facts: Facts) -> bool:
    """A rational combination of inverse tangents and their like, and of pi."""
    if not isinstance(expression, Sum) or expression.constant:
        return False
    common = mpz(1)
    for term, coefficient in expression.items():
        angle = (isinstance(term, Call) and term.name in ("atan", "asin", "acos", "acot")) or term is PI
        if not angle or isinstance(coefficient, Gaussian):
            return False
        common = lcm(common, coefficient.denominator)
    turned = scale(expression, mpq(common))
    box = Enclosure(turned).at({}, 128)
    if box.imag is not None or box.real.low <= -6 or box.real.high >= 6:
        return False
    try:
        zero, form, top = vanishing(call("exp", IMAGINARY * turned) - 1, facts)
    except DomainError:
        return False
    return zero or _algebraic_groups_vanish(form, top)


# --- functions: a zero derivative ---------------------------------------------------------------------------------------


def _by_derivative(expression: Expression, facts: Facts, depth: int) -> bool:
    if any(isinstance(n, (Written, Applied)) for n in postorder(expression)):
        return False
    calls = [n for n in postorder(expression) if isinstance(n, Call) and n.name not in ("exp", "sin", "cos")]
    candidates = [v for v in free_names(expression) if any(v in names(c) for c in calls)]
    for variable in candidates:
        if variable.domain in ("integer", "natural", "complex") or not _interval(variable, facts):
            continue
        if not all(facts.is_nonzero(b) and facts.is_real(b) for b in breaks(expression, variable)):
            continue
        change = differentiate(expression, variable)
        if any(isinstance(n, Written) for n in postorder(change)) or not prove_zero(change, facts, depth - 1):
            continue
        for value in (mpq(0), mpq(1), mpq(1, 2), mpq(-1, 2), mpq(2), mpq(3)):
            if _fits(variable, value, facts):
                try:
                    inside = substitute(expression, {variable: number(value)})
                    if inside is number(0) or prove_zero(inside, facts, depth - 1):
                        return True
                except DomainError:
                    continue
    return False


def _interval(variable: Name, facts: Facts) -> bool:
    """Whether the facts leave an interval for the variable."""
    mask = facts.known(variable)
    if mask & bits.NEG and mask & bits.POS and not mask & bits.NIL:
        return False
    return all(
        core is variable or variable not in names(core) or (isinstance(core, Sum) and _linear(core, variable))
        for core in facts.table
    )


def _linear(core: Sum, variable: Name) -> bool:
    return variable not in names(differentiate(core, variable))


def _fits(variable: Name, value: mpq, facts: Facts) -> bool:
    mask = facts.known(variable)
    sign = bits.NIL if not value else bits.POS if value > 0 else bits.NEG
    return bool(mask & sign) and all(core is variable or variable not in names(core) for core in facts.table)


# --- points -------------------------------------------------------------------------------------------------------------


def _as_variables(expression: Expression) -> tuple[Expression, dict[Name, Expression]]:
    """Unknown functions as independent names: values at one place can be chosen freely."""
    table: dict[Node, Expression] = {}
    back: dict[Name, Expression] = {}
    for node in postorder(expression):
        if isinstance(node, Applied):
            fresh = fresh_name(f"{node.name}_value", expression, *back)
            table[node] = fresh
            back[fresh] = node
    return (substitute(expression, table) if table else expression), back


def _one_point(expression: Expression, facts: Facts) -> Decision | None:
    """A cheap look at one point, which settles most false claims before a proof is tried."""
    return disprove_zero(expression, facts, count=2, most_bits=128)


def disprove_zero(expression: Expression, facts: Facts, count: int = SAMPLES, most_bits: int = 2000) -> Decision | None:
    """A point inside the facts where the value is certainly not zero, or None."""
    expression, back = _as_variables(expression)
    if any(isinstance(n, Written) for n in postorder(expression)):
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


def relevant_relations(given: Iterable[Any], involved: Iterable[Name]) -> tuple[list[Relation], list[Name]]:
    """The relations that touch some names, directly or through others, and all names then needed."""
    variables = dict.fromkeys(involved)
    waiting = [r for r in relations_in(given) if names(r)]
    chosen: list[Relation] = []
    while True:
        touching = [r for r in waiting if any(n in variables for n in names(r))]
        if not touching:
            return chosen, list(variables)
        chosen.extend(touching)
        waiting = [r for r in waiting if r not in touching]
        variables.update(dict.fromkeys(n for r in touching for n in names(r)))


def relations_in(given: Iterable[Any]) -> list[Relation]:
    from gelvo.algebra.facts import fact_condition
    from gelvo.expression.traversal import relations_of

    result: list[Relation] = []
    for fact in given:
        condition = fact_condition(fact)
        if condition is not None:
            result.extend(relations_of(condition))
    return result


def inside(relations: list[Relation], point: Mapping[Name, mpq]) -> bool:
    for relation in relations:
        gap = total((relation.right, -relation.left))
        try:
            sign = sign_at(gap, point, 256)
        except Undecided:
            if relation.operator not in ("=", "<="):
                return False
            continue
        except GelvoError:
            return False
        good = {"<": sign > 0, "<=": sign >= 0, "=": sign == 0, "!=": sign != 0}[relation.operator]
        if not good:
            return False
    return True


def is_zero(expression: Expression, facts: Facts | None = None) -> bool | None:
    """True, False or None: used wherever an algorithm must know."""
    return decide_zero(expression, facts).zero


def witness_text(decision: Decision, digits: int = 8) -> str:
    """The point and the value there, for people."""
    where = ", ".join(f"{n} = {v}" for n, v in (decision.point or {}).items())
    if decision.value is None:
        return where
    shown = gmpy2.mpfr(decision.value.real.low, 64)
    text = f"{shown:.{digits}g}"
    if decision.value.imag is not None:
        text += f" {gmpy2.mpfr(decision.value.imag.low, 64):+.{digits}g}j"
    return f"at {where} the difference is {text}" if where else f"the difference is {text}"
