"""That an integral has no elementary form, checked in its parts: what was split off, and the obstacle that is left.

The obstacle is looked at by means of its own: residues at some places by numbers, and y' + r*y = g over the rational functions by the
orders of all possible poles and one exact linear system (J. Liouville, 1835; R. Risch, 1969, for what follows from it).
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from typing import Any

from gmpy2 import mpq

from gelvo.calculus.antiderivative.decision import Obstacle, Outcome
from gelvo.checking.certificate import PROVED, REFUTED, SUPPORTED, UNDECIDED, Certificate
from gelvo.checking.tower_equation import has_no_solution
from gelvo.deadline import checkpoint
from gelvo.deciding.equality import decide_zero
from gelvo.evaluation.enclose import enclose
from gelvo.expression.building import number
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Expression, Name, Number
from gelvo.expression.traversal import names, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import quotient_parts
from gelvo.numbers.exact import Scalar, parts, reciprocal
from gelvo.numbers.interval import NoValue

PLACES = (mpq(13, 7), mpq(29, 11), mpq(47, 9))
LETTERS = (mpq(17, 5), mpq(23, 7), mpq(31, 11), mpq(41, 13), mpq(53, 17))
DIGITS = 30
MOST_DEGREE = 250  # unknowns of the linear system
MORE = 4  # powers beyond every bound that are tried as well


def check_no_elementary(f: Expression, x: Name, outcome: Outcome, facts: Facts) -> Certificate:
    """The claim that f has no elementary antiderivative."""
    claim = f"integral_of({f}, {x}) is no elementary function"
    obstacle = outcome.obstacle
    assert obstacle is not None
    known = ZERO if outcome.found is None else differentiate(outcome.found.value, x)
    split = decide_zero(known + outcome.rest - f, facts)
    if split.zero is False:
        return Certificate(claim, REFUTED, "the part that was split off, differentiated back")
    evidence: dict[str, object] = {"obstacle": obstacle.kind}
    seen = _residues_vary(obstacle, x) if obstacle.kind == "residue" else _has_no_solution(obstacle, x)
    if seen is False:
        return Certificate(claim, UNDECIDED, "the obstacle was not confirmed", evidence)
    if seen and split.zero:
        evidence["established"] = "what was split off; the obstacle, from which the claim follows by Liouville's theorem"
        return Certificate(claim, PROVED, "the obstacle looked at by itself, not by the decision procedure", evidence)
    return Certificate(claim, SUPPORTED, "the decision procedure (Risch), on its own road", evidence)


def _sample_letters(formulas: Sequence[Expression], x: Name) -> dict[Name, Number]:
    letters = [n for n in names(*formulas) if n is not x]
    return {n: number(LETTERS[k % len(LETTERS)] + k // len(LETTERS)) for k, n in enumerate(letters)}


def _residues_vary(obstacle: Obstacle, x: Name) -> bool | None:
    """Whether the sums of squares of the residues differ between places; None where they could not be told."""
    import mpmath

    u, part, factor, slope = obstacle.generator
    coefficients = uni.coefficients_of(quotient_parts(factor)[0], u)
    lower = [e for e in obstacle.lower if e is not x]
    if coefficients is None or len(coefficients) < 2:
        return None
    letters = _sample_letters([part, factor, slope, *lower], x)
    assert isinstance(u, Name)
    letters.pop(u, None)
    sizes: list[Any] = []
    with mpmath.workdps(2 * DIGITS):
        for place in PLACES:
            at: dict[Any, Expression] = {**letters, x: number(place)}
            try:
                row = [_number(substitute(c, at), mpmath) for c in coefficients]
                ratio = substitute(part * factor / slope, at)
                top, bottom = (uni.coefficients_of(p, u) for p in quotient_parts(ratio))
                assert top is not None and bottom is not None
                upper, under = ([_number(c, mpmath) for c in p] for p in (top, bottom))
                zeros = mpmath.polyroots(row, maxsteps=200, extraprec=400, asc=True)
                sizes.append(sum((_at(upper, z) / _at(under, z)) ** 2 for z in zeros))
            except (NoValue, ArithmeticError, mpmath.mp.NoConvergence, AssertionError):
                return None
        gaps = [abs(a - b) / (1 + abs(a)) for a, b in pairwise(sizes)]
    return True if max(gaps) > 1e-12 else None


def _number(e: Expression, mpmath: Any) -> Any:
    box = enclose(e, {}, 8 * DIGITS)
    real, imag = ((mpmath.mpf(str(p.low)) + mpmath.mpf(str(p.high))) / 2 if p else mpmath.mpf(0) for p in (box.real, box.imag))
    return mpmath.mpc(real, imag)


def _has_no_solution(obstacle: Obstacle, x: Name) -> bool | None:
    """Whether y' + rate*y = right (or right = y' + c*rate) has no solution among the functions below; None where it cannot be told."""
    letters = _sample_letters([obstacle.rate, obstacle.right, *obstacle.lower], x)
    rate, right, *lower = (substitute(e, letters) for e in (obstacle.rate, obstacle.right, *obstacle.lower))
    exponential = obstacle.kind == "exponential"
    return has_no_solution(rate, right, lower, exponential, lambda r, g, kind: _over_x(r, g, x, kind))


def _over_x(rate: Expression, right: Expression, x: Name, exponential: bool) -> bool | None:
    """Whether y' + rate*y = right, or right = y' + c*rate, has no solution among the rational functions of x."""
    (r_top, r_bottom), (g_top, g_bottom) = (_polynomials(e, x) for e in (rate, right))
    if None in (r_top, r_bottom, g_top, g_bottom):
        return None
    assert r_top is not None and r_bottom is not None and g_top is not None and g_bottom is not None
    # every pole of y is one of g or of the rate: y = q/(g_bottom*r_bottom)^MORE with a generous degree of q
    below = _product(g_bottom, r_bottom)
    whole = below
    for _ in range(MORE - 1):
        whole = _product(whole, below)
    residues = max((abs(int(c)) for c in _whole_parts(r_top)), default=0)
    degree = len(whole) + len(g_top) + len(r_top) + MORE + min(residues, 40)
    if degree > MOST_DEGREE:
        return None
    columns = []
    for k in range(degree):
        checkpoint()
        power = [mpq(0)] * k + [mpq(1)]
        # (x^k/w)' = (k*x^(k-1)*w - x^k*w')/w^2
        slope = _difference(_product(_slope(power), whole), _product(power, _slope(whole)))
        column = _product(slope, below)
        if exponential:
            column = _sum(column, _product(_product(_product(power, whole), r_top), g_bottom))
        columns.append(column)
    if not exponential:
        columns.append(_product(_product(_product(whole, whole), r_top), g_bottom))
    wanted = _product(_product(_product(whole, whole), g_top), r_bottom)
    return not _is_combination(columns, wanted)


Row = list[Any]


def _polynomials(e: Expression, x: Name) -> tuple[Row | None, Row | None]:
    found = []
    for p in quotient_parts(e):
        own = uni.coefficients_of(p, x)
        found.append(
            None
            if own is None or not all(isinstance(c, Number) for c in own)
            else [c.value for c in own if isinstance(c, Number)]
        )
    return found[0], found[1]


def _whole_parts(row: Row) -> list[mpq]:
    return [part for c in row for part in parts(c)]


def _sum(p: Row, q: Row) -> Row:
    size = max(len(p), len(q))
    return [(p[k] if k < len(p) else mpq(0)) + (q[k] if k < len(q) else mpq(0)) for k in range(size)]


def _difference(p: Row, q: Row) -> Row:
    return _sum(p, [-c for c in q])


def _product(p: Row, q: Row) -> Row:
    result: Row = [mpq(0)] * max(len(p) + len(q) - 1, 0)
    for i, a in enumerate(p):
        for j, b in enumerate(q):
            result[i + j] = result[i + j] + a * b
    return result


def _slope(p: Row) -> Row:
    return [c * k for k, c in enumerate(p)][1:]


def _is_combination(columns: list[Row], wanted: Row) -> bool:
    """Whether a polynomial is a combination of others, by elimination."""
    pivots: dict[int, Row] = {}
    for column in [*columns, wanted]:
        row = list(column)
        lead = len(row) - 1
        while lead >= 0:
            if not row[lead]:
                lead -= 1
                continue
            if lead not in pivots:
                break
            factor: Scalar = row[lead]
            other = pivots[lead]
            for k, c in enumerate(other):
                row[k] = row[k] - factor * c
            lead -= 1
        if column is wanted:
            return lead < 0
        if lead >= 0:
            scale = reciprocal(row[lead])
            pivots[lead] = [c * scale for c in row[: lead + 1]]
    return False


def _at(row: Row, z: Any) -> Any:
    result: Any = 0
    for c in reversed(row):
        result = result * z + c
    return result
