"""check, equal, is_known, value."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from gelvo.checking import claims
from gelvo.checking.certificate import Certificate, on_its_own_road
from gelvo.checking.solutions import check_solution, check_stated_solution
from gelvo.deciding.equality import decide_zero
from gelvo.errors import FormulaError, Undecided
from gelvo.evaluation import value as evaluation
from gelvo.evaluation.value import Value
from gelvo.expression import known as bits
from gelvo.expression.building import as_condition, number, relation
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Bound, Condition, Junction, Number, Relation
from gelvo.facts.statements import DomainFact
from gelvo.facts.store import Facts
from gelvo.forms.dimensions import has_quantities, pure
from gelvo.normal.prepare import prepared
from gelvo.operations.inputs import Arguments, one_expression, split_initial, take


def check(claim: Any, where: Mapping[Any, Any] | None = None, given: Iterable[Any] = ()) -> Certificate:
    """Looks at a claim by a road other than the one that produced it.

    claim: an equation, a condition, text, or something with a certificate (an answer, solutions, a code bundle);
    where: a stated solution {unknown: expression}; given: facts, and initial values such as "theta(0) = 1".
    Returns a Certificate with .verdict: proved, supported, undecided or refuted.

    >>> import gelvo
    >>> gelvo.check("integral_of(x^2, x) = x^3/3").verdict
    'proved'
    >>> gelvo.check("(x + 1)^2 = x^2 + 1").verdict
    'refuted'
    """
    if hasattr(claim, "certificate") and where is None:
        return claim.certificate()
    if where is None:
        arguments = take(claim, given=given)
        value = arguments.values[0]
        if not isinstance(value, (Equation, Condition)):
            raise FormulaError(f"a claim is an equation or a condition, and {value} is neither: write  left = right")
        return on_its_own_road(lambda: claims.check_claim(value, arguments.facts))
    flat = [p for pair in where.items() for p in pair]
    arguments = take(claim, *flat, given=given)
    equation = arguments.values[0]
    if not isinstance(equation, Equation):
        raise FormulaError(f"a stated solution is checked in an equation, and {equation} is none")
    table = {one_expression(k): one_expression(v) for k, v in zip(arguments.values[1::2], arguments.values[2::2], strict=True)}
    initial, rest = split_initial(arguments.facts.given)
    if not any(isinstance(k, Applied) for k in table):
        return check_solution([equation], table, Facts(rest))
    return check_stated_solution([equation], table, initial, Facts(rest))


def equal(a: Any, b: Any, given: Iterable[Any] = ()) -> bool:
    """Whether two expressions have the same value wherever both have one.

    Returns True (proved) or False (a point with error bounds where they differ); raises Undecided where neither was found.

    >>> import gelvo
    >>> gelvo.equal("cos(2*x)", "1 - 2*sin(x)^2")
    True
    >>> gelvo.equal("sqrt(x^2)", "x")
    False
    """
    arguments = take(a, b, given=given)
    left, right = arguments.expressions
    if isinstance(left, Bound) or isinstance(right, Bound):
        return left is right
    decision = decide_zero(left - right, arguments.facts)
    if decision.zero is None:
        raise Undecided(f"{left} and {right} could neither be proved equal nor told apart")
    return decision.zero


def is_known(fact: Any, given: Iterable[Any] = ()) -> bool | None:
    """Does a fact follow? True, False where its opposite follows, None where neither does.

    >>> import gelvo
    >>> gelvo.is_known("a*b > 0", given=["a > 0", "b > a"])
    True
    """
    arguments = take(given=given, asked=[fact])
    states = [_holds(part, arguments) for part in arguments.asked]
    return False if False in states else None if None in states else True


def _holds(asked: object, arguments: Arguments) -> bool | None:
    facts = arguments.facts
    if isinstance(asked, DomainFact):
        value = arguments.fixed.get(asked.name, asked.name)
        if isinstance(value, Number) and value.is_rational and asked.domain in ("integer", "natural"):
            return value.is_whole and (asked.domain == "integer" or value.rational >= 0)
        mask = facts.decide(value)
        wanted = bits.DOMAINS[asked.domain]
        return True if not mask & ~wanted else False if not mask & wanted else None
    return _follows(as_condition(asked), facts)


def _follows(condition: Condition, facts: Facts) -> bool | None:
    """What the facts tell of it as written, else of the difference of its sides in normal form."""
    plain = facts.holds(condition)
    if plain is not None:
        return plain
    if isinstance(condition, Junction):
        states = [_follows(part, facts) for part in condition.parts]
        decisive = condition.word == "or"
        return decisive if decisive in states else None if None in states else not decisive
    assert isinstance(condition, Relation)
    difference = condition.right - condition.left
    if decide_zero(difference, facts).zero:
        return condition.operator in ("=", "<=")
    return facts.holds(relation(condition.operator, number(0), prepared(difference, facts)))


def value(expression: Any, digits: int = 15, given: Iterable[Any] = ()) -> Value:
    """A number to as many significant digits as asked for, correctly rounded.

    expression: a formula without free names; digits: 1 to 100,000. Returns a Value: decimal text with .digits and .bounded
    (True where error bounds prove the digits, False where two precisions agree) and .unit (of a quantity, as text).
    Raises Undecided where the value cannot be told from zero, DomainError where there is none.

    >>> import gelvo
    >>> gelvo.value("sqrt(10^40 + 1) - 10^20", 20)
    5.0000000000000000000e-21
    """
    (result,) = take(expression, given=given).expressions
    if has_quantities(result):
        result, unit = pure(result)
        found = evaluation.value(result, digits)
        return Value(found.real, found.imag, found.digits, found.bounded, str(unit))
    return evaluation.value(result, digits)
