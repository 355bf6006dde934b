"""`simplify`: a bounded search over families of equal forms for the one a reader finds shortest."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple, TypeGuard, cast

from gelvo.deadline import checkpoint
from gelvo.deciding.equality import decide_zero, disprove_zero
from gelvo.errors import DomainError
from gelvo.expression.building import power
from gelvo.expression.nodes import Bound, Call, Cases, Expression, Name, Node, Number, Power, Relation, Written
from gelvo.expression.order import compare
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import distinct_nodes, postorder, rebuild, substitute, unified
from gelvo.facts.store import Facts
from gelvo.forms.measure import measure
from gelvo.functions.named import ABS, is_a
from gelvo.refuted import note_refuted
from gelvo.simplifying.families.errors import error_forms
from gelvo.simplifying.families.gammas import gamma_forms
from gelvo.simplifying.families.inverses import inverse_forms
from gelvo.simplifying.families.logarithms import logarithm_forms
from gelvo.simplifying.families.numbers import number_forms
from gelvo.simplifying.families.rational import rational_forms
from gelvo.simplifying.families.roots import root_forms
from gelvo.simplifying.families.signs import sign_forms
from gelvo.simplifying.families.waves import wave_forms
from gelvo.simplifying.family import Family

FAMILIES: tuple[Family, ...] = (
    rational_forms, wave_forms, logarithm_forms, root_forms, sign_forms, number_forms, inverse_forms, gamma_forms, error_forms,
)  # fmt: skip
BEAM, ROUNDS, LARGEST = 4, 3, 3000


class Step(NamedTuple):
    """One rewriting: what was done, the form it gave; once verified also the facts it could use and how it was proved."""

    rule: str
    result: Expression
    facts: tuple[str, ...] = ()
    verdict: str = ""

    def __str__(self) -> str:
        used = f"; using {', '.join(self.facts)}" if self.facts else ""
        return f"{self.result}  ({self.rule}{used}{'; ' + self.verdict if self.verdict else ''})"


def verified(before: Expression, steps: tuple[Step, ...], facts: Facts) -> tuple[Step, ...]:
    """The steps, each link proved equal under the facts that it needs: those without which the proof fails."""
    result: list[Step] = []
    current = before
    for step in steps:
        needed: tuple[str, ...] = ()
        plain = _proved(current, step.result, facts.stating(()))
        if not plain:
            given = list(facts.given)
            for fact in list(given):
                without = [g for g in given if g is not fact]
                if _proved(current, step.result, facts.stating(without)):
                    given = without
            needed = tuple(str(g) for g in given)
        verdict = "proved" if plain or _proved(current, step.result, facts) else "supported"
        result.append(Step(step.rule, step.result, needed, verdict))
        current = step.result
    return tuple(result)


def _proved(one: Expression, other: Expression, facts: Facts) -> bool:
    try:
        return decide_zero(one - other, facts).zero is True
    except DomainError:
        return False


class Simplified(NamedTuple):
    expression: Expression
    steps: tuple[Step, ...]


def simplify(expression: Expression, facts: Facts | None = None) -> Simplified:
    """The shortest form found, by `measure`; never longer than what came in.

    >>> from gelvo.expression.building import call, name
    >>> x = name("x")
    >>> print(simplify((x**2 - 1)/(x - 1)).expression)
    x + 1
    """
    facts = facts or Facts()
    for left, right in facts.equalities:
        if isinstance(left, Name):
            expression = substitute(expression, {left: right})
    if isinstance(expression, (Number, Name, Bound)):
        return Simplified(expression, ())
    (expression,) = unified(expression)
    inner = _arguments_first(expression, facts)
    steps = (Step("arguments simplified", inner),) if inner is not expression else ()
    result = _search(inner, facts, steps)
    roots = {n: _search(n, facts, ()).expression for n in postorder(result.expression) if _root_of_power(n)}
    if any(n is not root for n, root in roots.items()):  # beside other functions the whole normal form may not pay
        taken = substitute(result.expression, roots)
        result = _search(taken, facts, (*result.steps, Step("roots by themselves", taken)))
    if disprove_zero(expression - result.expression, facts, count=6, most_bits=200) is not None:
        note_refuted("simplified", expression, result)  # counted by the tests: a rule lacks a condition
        return Simplified(expression, ())
    return result


def shorter(expression: Expression, facts: Facts) -> Expression:
    """The shortest form alone."""
    return simplify(expression, facts).expression


def _arguments_first(expression: Expression, facts: Facts) -> Expression:
    """Arguments of functions and bases of roots in their own shortest form, from the inside out."""
    done: dict[Node, Node] = {}
    found: dict[Expression, Expression] = {}
    for node in postorder(expression):
        new = tuple([done.get(c, c) for c in node.children])
        if any(a is not b for a, b in zip(new, node.children, strict=True)):
            node_new = rebuild(node, new)
        else:
            node_new = node
        if isinstance(node_new, (Call, Power)):
            parts = node_new.arguments if isinstance(node_new, Call) else (node_new.base, node_new.exponent)
            simple = []
            for part in parts:
                plain = isinstance(part, (Number, Name)) or (isinstance(node_new, Power) and _natural(node_new))
                if not plain and part not in found:
                    found[part] = _search(part, facts, ()).expression
                simple.append(part if plain else found[part])
            node_new = _without_bars(rebuild(node_new, tuple(simple)), facts)
        done[node] = node_new
    return cast(Expression, done[expression])


def _without_bars(node: Node, facts: Facts) -> Node:
    """abs(u)^2 as u^2 of a real u."""
    if not (isinstance(node, Power) and is_a(node.base, ABS) and node.exponent.is_whole) or node.exponent.rational % 2:
        return node
    (inside,) = node.base.arguments
    return power(inside, node.exponent) if facts.is_real(inside) else node


def _root_of_power(node: Node) -> TypeGuard[Power]:
    """sqrt(k^2), sqrt(a*b^2): what facts on signs take out of a root."""
    if not isinstance(node, Power) or node.exponent.is_whole or not node.exponent.is_rational:
        return False
    return any(k.is_whole and abs(k.rational) > 1 for _, k in map(base_and_exponent, factors_in(node.base)))


def _natural(node: Power) -> bool:
    return isinstance(node.exponent, Number) and node.exponent.is_whole


def _search(expression: Expression, facts: Facts, steps: tuple[Step, ...]) -> Simplified:
    best = Simplified(expression, steps)
    if isinstance(expression, (Number, Name, Bound, Written, Cases, Relation)) or distinct_nodes(expression) > LARGEST:
        return best
    best_size = measure(expression)
    seen: dict[Expression, float] = {expression: best_size}
    beam = [best]
    for _ in range(ROUNDS):
        found = sorted(_further(beam, facts, seen), key=lambda entry: entry[0])
        if not found:
            break
        beam = [entry[1] for entry in found[:BEAM]]
        size, chosen = found[0]
        for other, tie in found[1:]:
            if other == size and compare(tie.expression, chosen.expression) < 0:
                chosen = tie
        if size >= best_size:
            break
        best, best_size = chosen, size
        if isinstance(best.expression, (Number, Name)):
            break
    return best


def _further(beam: list[Simplified], facts: Facts, seen: dict[Expression, float]) -> Iterator[tuple[float, Simplified]]:
    """The new forms of all that is looked at, with their sizes."""
    for current in beam:
        for rule, candidate in _candidates(current.expression, facts):
            checkpoint()
            if candidate not in seen:
                size = seen[candidate] = measure(candidate)
                yield size, Simplified(candidate, (*current.steps, Step(rule, candidate)))


def _candidates(expression: Expression, facts: Facts) -> Iterator[tuple[str, Expression]]:
    """Every family's forms; one that leaves a domain (a division by zero on the way) gives none."""
    for family in FAMILIES:
        forms = family(expression, facts, shorter)
        while True:
            try:
                rule, candidate = next(forms)
            except StopIteration:
                break
            except DomainError:
                break
            yield rule, candidate
