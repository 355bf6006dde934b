"""Products of powers that vanish at the ends, and powers of sine and cosine over quarter turns: values of the beta function.

Source: DLMF 5.12.1, 5.12.2, 5.12.5.
"""

from __future__ import annotations

from gelvo.calculus.definite.mellin import logarithms_apart, power_and_rest, start_and_monomial
from gelvo.calculus.found import Found
from gelvo.expression.building import power
from gelvo.expression.constants import INFINITE, PI, ZERO
from gelvo.expression.nodes import Bound, Expression, Name
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, substitute
from gelvo.facts.conditions import what_must_be_positive
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import factored
from gelvo.functions.named import BETA, COS, COT, CSC, SEC, SIN, TAN, is_a

MOST_LOGARITHMS = 3
MOST_QUARTERS = 40


def powers_of_the_ends(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """(x - a)^p*(b - x)^q from a to b, and x^p*(a - c*x^k)^q from 0 to where that vanishes; logarithms of x or b - x are slopes by p or q."""
    if isinstance(lower, Bound) or isinstance(upper, Bound):
        return None
    length = factored(upper - lower)
    outer, p, rest = power_and_rest(f if lower is ZERO else factored(substitute(f, {x: x + lower})), x)
    sigma = facts.new_name("sigma", f)
    count, others = logarithms_apart(rest, x, MOST_LOGARITHMS)
    if len(others) != 1:
        return None
    base, q = base_and_exponent(others[0])
    inner = start_and_monomial(base, x)
    if inner is None or contains(q, x) or inner[0] is ZERO:
        return None
    a, c, k = inner
    if factored(a + c * power(length, k)) is not ZERO:
        return None
    first, second = factored((p + 1) / k), factored(q + 1)
    needed = what_must_be_positive(facts, a, k, first, second, length)
    if needed is None:
        return None
    moving = p + sigma if count else p
    value = outer * power(length, moving + 1) / k * power(a, q) * BETA(factored((moving + 1) / k), second)
    if count:
        value = substitute(differentiate(value, sigma, count), {sigma: ZERO})
    return Found(value, needed, "beta integral")


def powers_beyond_an_end(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """x^p*(c*x^k - a)^q from where that vanishes to infinity: a/(c*x^k) as the variable."""
    if upper is not INFINITE or isinstance(lower, Bound):
        return None
    outer, p, rest = power_and_rest(f, x)
    base, q = base_and_exponent(rest[0]) if len(rest) == 1 else (ZERO, ZERO)
    inner = start_and_monomial(base, x)
    if inner is None or contains(q, x) or factored(inner[0] + inner[1] * power(lower, inner[2])) is not ZERO:
        return None
    a, c, k = inner
    first, second = factored(-(p + 1) / k - q), factored(q + 1)
    needed = what_must_be_positive(facts, -a, c, k, lower, first, second)
    if needed is None:
        return None
    return Found(outer * power(-a, q) * power(lower, p + 1) / k * BETA(first, second), needed, "beta integral")


# sin^m*cos^n by (m, n) of one of these
POWERS: dict[str, tuple[int, int]] = {SIN: (1, 0), COS: (0, 1), TAN: (1, -1), COT: (-1, 1), SEC: (0, -1), CSC: (-1, 0)}


def powers_of_waves(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Found | None:
    """sin(x)^m*cos(x)^n over whole quarters of a turn: each is a mirror image of the first, with its sign."""
    if isinstance(lower, Bound) or isinstance(upper, Bound):
        return None
    first, last = (factored(2 * end / PI) for end in (lower, upper))
    if not (first.is_whole and last.is_whole) or last.rational - first.rational > MOST_QUARTERS:
        return None
    m: Expression = ZERO
    n: Expression = ZERO
    outer = f
    for g in factors_in(f):
        base, k = base_and_exponent(g)
        if is_a(base, *POWERS) and base.arguments[0] is x and not contains(k, x):
            i, j = POWERS[base.name]
            m, n = m + i * k, n + j * k
            outer = outer / g
    if contains(outer, x) or (m is ZERO and n is ZERO):
        return None
    quarters = [(int(q) // 2 % 2, (int(q) + 1) // 2 % 2) for q in range(int(first.rational), int(last.rational))]
    odd = [0 if facts.is_integer(k / 2) else 1 if facts.is_integer((k - 1) / 2) else None for k in (m, n)]
    if any((s and odd[0] is None) or (c and odd[1] is None) for s, c in quarters):  # of a negative number
        return None
    needed = what_must_be_positive(facts, factored((m + 1) / 2), factored((n + 1) / 2))
    if needed is None:
        return None
    share = sum((-1) ** (s * (odd[0] or 0) + c * (odd[1] or 0)) for s, c in quarters)
    return Found(outer * share * BETA(factored((m + 1) / 2), factored((n + 1) / 2)) / 2, needed, "beta integral")
