"""The coefficient of a power that is a letter."""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.calculus.general_term import general_term
from gelvo.calculus.local.expander import expanded
from gelvo.calculus.local.expansion import Unclear
from gelvo.calculus.tidying import for_a_reader
from gelvo.checking.certificate import on_its_own_road
from gelvo.checking.general_term import check_general_term
from gelvo.deciding.equality import decide_zero
from gelvo.errors import DomainError, NoClosedForm
from gelvo.expression.building import cases, name, number, relation, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import contains, substitute
from gelvo.facts.store import Facts
from gelvo.operations.answer import Answer
from gelvo.roads import noted

COMPARED, LATEST_START = 14, 6


def general_coefficient(f: Expression, u: Name, letter: Name, facts: Facts) -> Answer:
    """The coefficient of u^n of f, for a natural letter n; NoClosedForm where there is none."""
    n = name(letter.name, "natural")
    if contains(f, letter) or contains(f, n):
        raise DomainError(f"the formula already contains {letter}: take another letter for the power")
    with noted() as by_result:
        pieces = general_term(f, u, n, facts)
    if pieces is None:
        raise NoClosedForm(f"no closed form is known for the coefficient of the power {n}")
    known = facts.without(u)
    term = for_a_reader(total([p.term for p in pieces]), known)
    first = _first_coefficients(f, u, facts)
    agrees = [_agrees(term, n, j, c, known) for j, c in enumerate(first)]
    start = next((j for j in range(LATEST_START) if all(agrees[j:])), None)
    if start is None:
        raise NoClosedForm(f"the form that was found for the power {n} does not agree with the first coefficients")
    claim = f"the coefficient of the power {n} of {f} is {term} from {n} = {start} on"
    certificate = on_its_own_road(lambda: check_general_term(f, u, n, term, first, start, known, claim), by_result)
    exceptions = [(c, relation("=", n, number(j))) for j, c in enumerate(first[:start]) if not agrees[j]]
    value = cases([(c, when) for c, when in exceptions], term) if exceptions else term
    return Answer(value, lambda: certificate, (), "the quotient of neighbouring coefficients, or poles")


def _first_coefficients(f: Expression, u: Name, facts: Facts) -> list[Expression]:
    try:
        found = expanded(f, u, facts, mpq(COMPARED))
    except (Unclear, DomainError) as fault:
        raise NoClosedForm(f"there is no expansion in natural powers: {fault}") from None
    if any(e.denominator != 1 or e < 0 or contains(c, u) for e, c in found.terms.items()):
        raise NoClosedForm("only an expansion in natural powers has a coefficient for every natural letter")
    return [found.terms.get(mpq(j), ZERO) for j in range(COMPARED)]


def _agrees(term: Expression, n: Name, j: int, c: Expression, facts: Facts) -> bool:
    try:
        return decide_zero(substitute(term, {n: number(j)}) - c, facts).zero is True
    except DomainError:
        return False  # the form has no value there
