"""Terms that follow from each other by a rational ratio, and whether their sum converges.

Source: C. F. Gauss, "Disquisitiones generales circa seriem infinitam" (1813), section 16 (the test); P. Dirichlet (1862).
"""

from __future__ import annotations

from typing import NamedTuple

from gelvo.calculus.summation import Ratio, gosper_form, term_ratio
from gelvo.expression.building import number, relation
from gelvo.expression.constants import IMAGINARY, ONE, ZERO
from gelvo.expression.nodes import Expression, Name, Node
from gelvo.expression.traversal import contains, transform
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import COS, EXP, SIN, is_a
from gelvo.normal.complex_parts import angle_of_turn, size_beside_turns


class Chain(NamedTuple):
    """term(k) = outer(k)*core(k) with a polynomial `outer` and core(k + 1)/core(k) = top(k)/bottom(k)."""

    term: Expression
    outer: uni.Coefficients
    top: uni.Coefficients
    bottom: uni.Coefficients


def chains(term: Expression, k: Name) -> list[Chain] | None:
    """The term as a sum of such terms, waves as exponentials; None where a part is none."""
    found: list[Chain] = []
    for piece in [term] if _chain(term, k) else terms_of(expand(transform(expand(term), lambda n: _without_waves(n, k)))):
        one = _chain(piece, k)
        if one is None:
            return None
        found.append(one)
    return found


def _without_waves(node: Node, k: Name) -> Node:
    if not is_a(node, SIN, COS) or not contains(node, k):
        return node
    up = EXP(expand(IMAGINARY * node.arguments[0]))
    down = EXP(expand(-IMAGINARY * node.arguments[0]))
    return (up + down) / 2 if is_a(node, COS) else (up - down) / (2 * IMAGINARY)


def _chain(term: Expression, k: Name) -> Chain | None:
    ratio = term_ratio(term, k)
    if ratio is None:
        return None
    top, bottom = (uni.coefficients_of(p, k) for p in quotient_parts(ratio))
    if top is None or bottom is None or top == [ZERO]:
        return None
    a, b, c = gosper_form(Ratio(top, bottom), k)
    return Chain(term, c, a, b)


def converges(chain: Chain, facts: Facts) -> str:
    """ "absolutely", "by signs" (only beside others), or an empty text where it is not known.

    The ratio of two terms is q*(1 - c/k + O(1/k^2)): the terms fall like q^k/k^c.
    """
    above, below = len(chain.top), len(chain.bottom)
    if above < below:
        return "absolutely"
    if above > below:
        return ""
    q = limit_of_ratio(chain)
    if is_below_one(q, facts):
        return "absolutely"
    turn = angle_of_turn(q, facts) is not None and is_not_one(q, facts)
    if q is not ONE and not turn:
        return ""
    degree = number(len(chain.outer) - 1)
    c = factored(_second(chain.bottom) - _second(chain.top)) - degree
    if not facts.is_real(c):
        return ""
    if facts.is_positive(c - 1):
        return "absolutely"
    return "by signs" if turn and facts.is_positive(c) else ""


def limit_of_ratio(chain: Chain) -> Expression:
    return ZERO if len(chain.top) < len(chain.bottom) else factored(chain.top[-1] / chain.bottom[-1])


def is_below_one(q: Expression, facts: Facts, operator: str = "<") -> bool:
    """|q| < 1, or |q| <= 1, where turns exp(1j*x) have the size 1."""
    return facts.holds(relation(operator, size_beside_turns(q, facts), ONE)) is True


def _second(p: uni.Coefficients) -> Expression:
    return p[-2] / p[-1] if len(p) > 1 else ZERO


def is_not_one(q: Expression, facts: Facts) -> bool:
    """Of a turn where its angle is shown not to be a whole number of turns."""
    angle = angle_of_turn(q, facts)
    return facts.is_nonzero(1 - q if angle is None else SIN(expand(angle / 2)))
