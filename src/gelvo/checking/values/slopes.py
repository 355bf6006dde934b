"""An integral with a letter by its slope along the letter: the slope's integral, and a place of the letter where all vanishes.

Where the slope has one sign for all x (L. Tonelli, 1909), or is continuous on a closed interval, the order of the two integrals may
be exchanged, so that the value is the integral of the slope's integral along the letter.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from gelvo.calculus.definite.letters import with_a_letter
from gelvo.checking.ends import value_at
from gelvo.checking.values.converging import facts_between
from gelvo.checking.values.value import Question, Value
from gelvo.deciding.equality import prove_zero
from gelvo.errors import GelvoError
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Bound, Call, Expression, Name
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.facts.continuity import breaks
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import factored

Known = Callable[[Question, Facts], Iterator[Value]]  # what theorems and antiderivatives say of a question
Proof = Callable[[Question, Expression, Facts], str]  # how a value of an integral is proved; empty where it is not


def by_slope(question: Question, x: Name, value: Expression, facts: Facts, proof: Proof) -> str:
    """How the value is proved by a slope, in words; empty where it is not."""
    f, lower, upper = question
    if isinstance(value, Bound):
        return ""
    inside = {n for call in postorder(f) if isinstance(call, Call) and contains(call, x) for n in names(call)}
    for a in names(f):
        if a is x or a not in inside or contains(lower, a) or contains(upper, a) or not facts.is_positive(a):
            continue
        for start in (ZERO, *[b for b in names(f) if b not in (a, x) and facts.is_positive(b)]):
            try:
                told = _from(start, a, question, x, value, facts, proof)
            except (GelvoError, ZeroDivisionError):
                continue
            if told:
                return told
    return ""


def by_number(question: Question, x: Name, value: Expression, facts: Facts, proof: Proof, known: Known) -> str:
    """The same with a letter in place of a positive number: the slope's integral, integrated along the letter up to the number."""
    f, lower, upper = question
    lettered = None if isinstance(value, Bound) else with_a_letter(f, x, facts)
    if lettered is None:
        return ""
    g, a, c = lettered
    under = facts.with_facts([a > ZERO])
    slope = factored(differentiate(g, a))
    try:
        if not prove_zero(substitute(g, {a: ZERO}), facts) or not _exchangeable(slope, x, (lower, upper), under):
            return ""
        for rate in known((slope, lower, upper), under):
            told = proof((factored(substitute(rate.value, {a: x})), ZERO, c), value, facts)
            if told:
                return f"a letter {a} for {c}: its slope ({rate.road}), from 0 to {c} ({told})"
    except (GelvoError, ZeroDivisionError):
        pass
    return ""


def _from(start: Expression, a: Name, question: Question, x: Name, value: Expression, facts: Facts, proof: Proof) -> str:
    f, lower, upper = question
    if not prove_zero(substitute(f, {a: start}), facts):
        return ""
    under = _on_the_way(a, start, facts)
    if not _vanishes(value, a, start, under):
        return ""
    slope = factored(differentiate(f, a))
    if not _exchangeable(slope, x, (lower, upper), under):
        return ""
    told = proof((slope, lower, upper), differentiate(value, a), under)
    return f"the slope by {a} ({told}), and zero at {a} = {start}" if told else ""


def _on_the_way(a: Name, start: Expression, facts: Facts) -> Facts:
    """What holds of the letter everywhere between the start and itself."""
    bare = facts.without(a).with_facts([a > ZERO])
    return bare.with_facts([a < ONE]) if start is ZERO and facts.is_positive(1 - a) else bare


def _vanishes(value: Expression, a: Name, start: Expression, facts: Facts) -> bool:
    if start is not ZERO:
        return bool(prove_zero(substitute(value, {a: start}), facts))
    return value_at(value, a, ZERO, facts.without(a), "above") is ZERO


def _exchangeable(slope: Expression, x: Name, ends: tuple[Expression, Expression], facts: Facts) -> bool:
    within = facts_between(x, *ends, facts)
    if within.is_nonnegative(slope) or within.is_nonpositive(slope):
        return True
    if isinstance(ends[0], Bound) or isinstance(ends[1], Bound):
        return False
    closed = facts.with_facts([ends[0] <= x, x <= ends[1]])
    return all(closed.is_nonzero(b) for b in breaks(slope, x, kinks=False, facts=closed))
