"""The proof that a formula is zero: the numerator of its normal form is the zero polynomial.

Numbers that remain are decided by a bound on the size of algebraic integers (`deciding/algebraic_zero.py`)."""

from __future__ import annotations

from gelvo.errors import DomainError
from gelvo.expression.nodes import Call, Expression, Name
from gelvo.expression.traversal import postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms.fractions import Form
from gelvo.functions.named import JACOBIAM, JACOBIDN, SIN, is_a
from gelvo.normal.numbered_roots import modulo_other_roots
from gelvo.normal.prepare import prepared
from gelvo.normal.relations import reduce_relations, with_quarter_turns
from gelvo.polynomial import sparse
from gelvo.polynomial.groebner import Reducer, groebner_basis
from gelvo.polynomial.sparse import Polynomial

LARGEST_FACT_DEGREE, FACT_STEPS = 2000, 300_000


def vanishing(root: Expression, facts: Facts) -> tuple[bool, Form, Polynomial]:
    """(proved zero, form, numerator): the numerator of the normal form."""
    for left, right in facts.equalities:
        if isinstance(left, Name):
            root = substitute(root, {left: right})
    ready = prepared(root, facts)
    relations = fact_relations(facts)
    form = Form([ready, *relations], facts, squares=_squares(ready, facts))
    with_quarter_turns(form)
    quotient = form.of(ready)
    top = reduce_relations(form, quotient.top)
    for _ in range(3):
        if not top:
            break
        again = reduce_relations(form, top)
        if again == top:
            break
        top = again
    if top:
        top = modulo_other_roots(form, top)
    if top and relations:
        top = _modulo_facts(form, top, relations)
    return not top, form, top


def _squares(ready: Expression, facts: Facts) -> dict[Expression, Expression]:
    """dn^2 = 1 - m*sn^2, with sn as the sine of the amplitude (DLMF 22.6)."""
    found: dict[Expression, Expression] = {}
    for node in postorder(ready):
        if isinstance(node, Call) and is_a(node, JACOBIDN):
            u, m = node.arguments
            found[node] = prepared(1 - m * SIN(JACOBIAM(u, m)) ** 2, facts)
    return found


def fact_relations(facts: Facts) -> list[Expression]:
    """The differences that the facts set to zero, beside those that give a name its value."""
    result: list[Expression] = []
    for left, right in facts.equalities:
        if not isinstance(left, Name):
            result.append(prepared(left - right, facts))
    return result


def _modulo_facts(form: Form, top: Polynomial, relations: list[Expression]) -> Polynomial:
    """The remainder by a Groebner basis of the equations among the facts (B. Buchberger, 1965)."""
    ideal = [reduce_relations(form, form.of(r).top) for r in relations]
    polynomials = [top, *ideal]
    if any(sparse.has_gaussian(p) for p in polynomials):
        return top
    used = sorted({k for p in polynomials for k in sparse.variables(p)})
    if max((sparse.degree(p, k) for p in polynomials for k in used), default=0) > LARGEST_FACT_DEGREE:
        return top
    try:
        basis = groebner_basis([p for p in ideal if p], used, steps=FACT_STEPS)
    except DomainError:
        return top
    return Reducer(basis, used).remainder(top)
