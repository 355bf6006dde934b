"""Powers of x times a Gaussian and a wave, in real form: the error function of a complex argument, by its two parts.

Source: DLMF 7.7.
"""

from __future__ import annotations

from gelvo.calculus.antiderivative.support import Search
from gelvo.calculus.found import Found
from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, sqrt, total
from gelvo.expression.constants import IMAGINARY, ONE, PI, ZERO
from gelvo.expression.nodes import Condition, Expression
from gelvo.expression.terms import factors_in
from gelvo.facts.conditions import positive
from gelvo.forms import univariate as uni
from gelvo.functions.named import COS, ERF, EXP, IM, RE, SIN, is_a
from gelvo.normal.complex_parts import real_and_imaginary


def gaussian_wave(f: Expression, search: Search) -> Found | None:
    """exp(-x^2)*sin(x)  ->  sqrt(pi)*exp(-1/4)*im(erf(x - 1j/2))/2"""
    x, factors = search.variable, factors_in(f)
    exponentials = [g for g in factors if is_a(g, EXP)]
    waves = [g for g in factors if is_a(g, SIN, COS)]
    if len(exponentials) != 1 or len(waves) != 1:
        return None
    rest = uni.coefficients_of(f / (exponentials[0] * waves[0]), x)
    real, turn = (uni.coefficients_of(g.arguments[0], x) for g in (exponentials[0], waves[0]))
    if rest is None or real is None or turn is None or len(real) != 3 or len(turn) != 2 or search.facts.is_nonpositive(-real[2]):
        return None
    a, b, c = -real[2], real[1] + IMAGINARY * turn[1], real[0] + IMAGINARY * turn[0]
    conditions: tuple[Condition, ...] = () if search.facts.is_positive(a) else (positive(a),)
    middle, root = b / (2 * a), sqrt(a)
    whole = EXP(exponentials[0].arguments[0] + IMAGINARY * waves[0].arguments[0])
    # of x^k times the complex exponential: `outer` times it, and `share` times the error function
    outer, share = [ZERO, -1 / (2 * a)], [ONE, middle]
    for k in range(2, len(rest)):
        outer.append(-(x ** (k - 1)) / (2 * a) + (k - 1) / (2 * a) * outer[k - 2] + middle * outer[k - 1])
        share.append((k - 1) / (2 * a) * share[k - 2] + middle * share[k - 1])
    front = sqrt(PI) / (2 * root) * EXP(c + b * b / (4 * a))
    error = ERF(root * (x - middle))
    place = 0 if waves[0].name == COS else 1
    under = search.facts.with_facts(conditions)
    try:
        beside = real_and_imaginary(whole * total([r * outer[k] for k, r in enumerate(rest)]), under)[place]
        u, v = real_and_imaginary(front * total([r * share[k] for k, r in enumerate(rest)]), under)
    except DomainError:
        return None
    of_error = multiply_all((u, (RE, IM)[place](error))) + multiply_all((v, -IM(error) if place == 0 else RE(error)))
    return Found(beside + of_error, conditions, "error function of a complex argument, in real form")
