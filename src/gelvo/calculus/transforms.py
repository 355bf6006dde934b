"""Laplace and Fourier transforms by rules: linearity, shifts, derivatives of the transform, and a few pairs.

Sources: G. Doetsch, "Introduction to the Theory and Application of the Laplace Transformation" (1974); R. Bracewell, "The Fourier
Transform and Its Applications" (1965). Inverse transforms of rational functions go by partial fractions.
"""

from __future__ import annotations

from typing import NamedTuple

from gmpy2 import fac, mpq

from gelvo.calculus.antiderivative.waves import linear_waves
from gelvo.calculus.found import Found
from gelvo.deciding.algebraic import all_roots
from gelvo.deciding.equality import is_zero
from gelvo.errors import DomainError
from gelvo.expression.building import call, looks_negative, multiply_all, name, number, power, total
from gelvo.expression.constants import ONE, PI, ZERO
from gelvo.expression.nodes import Call, Condition, Expression, Name, Node, Number, Power, Product
from gelvo.expression.traversal import contains, fresh_name, postorder, substitute, transform
from gelvo.facts.conditions import positive
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.collecting import terms_of
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.forms.impulses import sifted
from gelvo.forms.univariate import Coefficients, integer_coefficients
from gelvo.normal.prepare import prepared
from gelvo.numbers.exact import HALF, Gaussian
from gelvo.simplifying.partial_fractions import Piece, simple_fractions, split_fraction

I = number(Gaussian(mpq(0), mpq(1)))
CONVENTIONS = {"angular": (ONE, number(-1)), "unitary": (power(2 * PI, number(-HALF)), number(-1)), "frequency": (ONE, -2 * PI)}


BY_RULES = "rules for shifts, products with powers, and common pairs"


class Unknown(Exception):
    """No rule fits."""


class Term(NamedTuple):
    """outer * t^power * exp(rate*t) * wave(frequency*t + phase) * step(t - delay) * impulse(t - place)."""

    outer: Expression
    power: Expression
    rate: Expression
    wave: str
    frequency: Expression
    phase: Expression
    delay: Expression | None
    place: Expression | None


def _term(e: Expression, t: Name) -> Term:
    """One summand read as the pattern above; raises Unknown."""
    outer: list[Expression] = [number(e.coefficient)] if isinstance(e, Product) else []
    exponent, rate, wave, frequency, phase = ZERO, ZERO, "", ZERO, ZERO
    delay: Expression | None = None
    place: Expression | None = None
    for f in e.factors if isinstance(e, Product) else (e,):
        if not contains(f, t):
            outer.append(f)
            continue
        base, k = (f.base, f.exponent) if isinstance(f, Power) else (f, ONE)
        if base is t and not contains(k, t):
            exponent = exponent + k
        elif isinstance(f, Power) and not contains(base, t):
            slope, constant_part = _linear(k, t)
            rate = rate + slope * call("ln", base)
            outer.append(power(base, constant_part))
        elif isinstance(f, Call) and f.name == "exp":
            slope, constant_part = _linear(f.arguments[0], t)
            rate = rate + slope
            outer.append(call("exp", constant_part))
        elif isinstance(f, Call) and f.name in ("sin", "cos") and not wave:
            wave = f.name
            frequency, phase = _linear(f.arguments[0], t)
        elif isinstance(f, Call) and f.name in ("heaviside", "dirac_delta"):
            slope, constant_part = _linear(f.arguments[0], t)
            where = -constant_part / slope
            if f.name == "heaviside" and slope is ONE and delay is None:
                delay = where
            elif f.name == "dirac_delta" and place is None:
                place = where
                outer.append(1 / call("abs", slope))
            else:
                raise Unknown
        else:
            raise Unknown
    return Term(multiply_all(outer), exponent, rate, wave, frequency, phase, delay, place)


def _linear(e: Expression, t: Name) -> tuple[Expression, Expression]:
    parts = uni.linear_parts(expand(e), t)
    if parts is None:
        raise Unknown
    return parts


def _prepared(e: Expression, t: Name, facts: Facts) -> list[Expression]:
    return terms_of(linear_waves(expand(e), facts))


# --- Laplace ------------------------------------------------------------------------------------------------------------------


def laplace(e: Expression, t: Name, s: Name, facts: Facts) -> Found | None:
    """The integral of e*exp(-s*t) for t from 0 to infinity, for large enough s.

    >>> from gelvo.expression.building import name
    >>> t, s = name("t"), name("s")
    >>> print(laplace(t * call("exp", -2 * t), t, s, Facts()).value)
    1/(s + 2)^2
    """
    conditions: dict[Condition, None] = {}
    try:
        pieces = [_laplace_term(_term(p, t), t, s, facts, conditions) for p in _prepared(e, t, facts)]
    except Unknown:
        return None
    return Found(total([factored(p) if not _delayed(p) else p for p in pieces]), tuple(conditions), BY_RULES)


def _delayed(e: Expression) -> bool:
    return isinstance(e, Product) and any(isinstance(f, Call) and f.name == "exp" for f in e.factors)


def _laplace_term(term: Term, t: Name, s: Name, facts: Facts, conditions: dict[Condition, None]) -> Expression:
    if term.place is not None:
        if facts.is_negative(term.place):
            return ZERO
        if not facts.is_nonnegative(term.place):
            conditions[term.place >= ZERO] = None
        at = substitute(_formula(term._replace(place=None), t), {t: term.place})
        return at * call("exp", -s * term.place)
    if term.delay is not None and not facts.is_nonpositive(term.delay):
        return _laplace_delayed(term, t, s, facts, conditions)
    if term.wave:
        return _laplace_wave(term, s)
    n_plus = term.power + 1
    if not facts.is_positive(n_plus):
        if facts.is_nonpositive(n_plus):
            raise Unknown
        conditions[positive(n_plus)] = None
    return term.outer * call("gamma", n_plus) / power(s - term.rate, n_plus)


def _laplace_delayed(term: Term, t: Name, s: Name, facts: Facts, conditions: dict[Condition, None]) -> Expression:
    """The shift: g(t - c) from c on is exp(-c*s)*G(s)."""
    assert term.delay is not None
    if not facts.is_positive(term.delay):
        conditions[positive(term.delay)] = None
    moved = substitute(_formula(term._replace(delay=None), t), {t: t + term.delay})
    inner = laplace(moved, t, s, facts)
    if inner is None:
        raise Unknown
    conditions.update(dict.fromkeys(inner.conditions))
    return call("exp", -s * term.delay) * inner.value


def _laplace_wave(term: Term, s: Name) -> Expression:
    """t^n*exp(r*t)*wave(w*t + phase): derivatives of the transform of the wave alone."""
    if not (term.power.is_whole and 0 <= term.power.rational <= 20):
        raise Unknown
    sine, cosine, w, shifted = call("sin", term.phase), call("cos", term.phase), term.frequency, s - term.rate
    square = shifted**2 + w**2
    base = (shifted * sine + w * cosine) / square if term.wave == "sin" else (shifted * cosine - w * sine) / square
    n = int(term.power.rational)
    return term.outer * number((-1) ** n) * differentiate(base, s, n)


def _formula(term: Term, t: Name) -> Expression:
    pieces = [term.outer, power(t, term.power), call("exp", term.rate * t)]
    if term.wave:
        pieces.append(call(term.wave, term.frequency * t + term.phase))
    if term.delay is not None:
        pieces.append(call("heaviside", t - term.delay))
    return multiply_all(pieces)


def inverse_laplace(e: Expression, s: Name, t: Name, facts: Facts) -> Found | None:
    """The function of t >= 0 whose Laplace transform is e: rational functions of s, times exp(-c*s).

    >>> from gelvo.expression.building import name
    >>> s, t = name("s"), name("t")
    >>> print(inverse_laplace(1 / (s + 2)**2, s, t, Facts()).value)
    t*exp(-2*t)
    """
    facts = facts.with_facts([t > ZERO]) if not facts.is_positive(t) else facts
    groups: dict[Expression, list[Expression]] = {}
    for piece in terms_of(expand(e)) if _has_exponential(e, s) else [e]:
        factors = piece.factors if isinstance(piece, Product) else (piece,)
        exponentials = [f for f in factors if isinstance(f, Call) and f.name == "exp" and contains(f, s)]
        delay = ZERO
        for f in exponentials:
            parts = uni.linear_parts(expand(f.arguments[0]), s)
            if parts is None:
                return None
            delay = delay - parts[0]
            piece = piece / call("exp", parts[0] * s)
        groups.setdefault(delay, []).append(piece)
    results: list[Expression] = []
    conditions: dict[Condition, None] = {}
    for delay, pieces in groups.items():
        try:
            impulse, inner = _inverse_rational(total(pieces), s, t, facts, conditions)
        except (Unknown, DomainError):
            return None
        results.append(impulse * call("dirac_delta", t - delay))
        if delay is ZERO:
            results.append(inner)
            continue
        if not facts.is_positive(delay):
            if facts.is_nonpositive(delay):
                return None
            conditions[positive(delay)] = None
        results.append(call("heaviside", t - delay) * substitute(inner, {t: t - delay}))
    return Found(total(results), tuple(conditions), "partial fractions and the pairs of simple poles")


def _has_exponential(e: Expression, s: Name) -> bool:
    return any(isinstance(n, Call) and n.name == "exp" and contains(n, s) for n in postorder(e))


def _inverse_rational(
    e: Expression, s: Name, t: Name, facts: Facts, conditions: dict[Condition, None]
) -> tuple[Expression, Expression]:
    """(the weight of an impulse at 0, the function beside it)."""
    top, content, factors = split_fraction(factored(e), s)
    quotient, pieces = simple_fractions(top, content, factors)
    if len(quotient) > 1:
        raise Unknown
    return total(quotient), total([pole_response(piece, t, facts, conditions) for piece in pieces])


def pole_response(piece: Piece, t: Name, facts: Facts, conditions: dict[Condition, None]) -> Expression:
    """The function of t for one simple fraction digit/base^k."""
    digit, base, k = piece
    if len(base) == 2:
        place = uni.lowest_terms(-base[0] / base[1])
        scale = digit[0] / power(base[1], number(k))
        return scale * power(t, number(k - 1)) / number(fac(k - 1)) * call("exp", place * t)
    if len(base) == 3:
        return _quadratic_response(digit, base, k, t, facts, conditions)
    if k != 1:
        raise Unknown
    return _root_responses(digit, base, t)


def _quadratic_response(
    digit: Coefficients, base: Coefficients, k: int, t: Name, facts: Facts, conditions: dict[Condition, None]
) -> Expression:
    """(A*(s + h) + B)/((s + h)^2 + c)^k: damped waves for c > 0, exponentials for c < 0."""
    a = base[2]
    h = uni.lowest_terms(base[1] / (2 * a))
    c = uni.lowest_terms(base[0] / a - h * h)
    upper = [uni.lowest_terms(d / power(a, number(k))) for d in digit]
    slope = upper[1] if len(upper) > 1 else ZERO
    rest = uni.lowest_terms(upper[0] - slope * h)
    root = name("root of the quadratic", "positive")  # c = ±root^2, and d/dc = ±1/(2*root) d/d root
    if is_zero(c, facts):  # a double pole, by the facts: where it fell on another one, the fractions are not valid
        if any(
            isinstance(n, Power) and looks_negative(n.exponent) and is_zero(n.base, facts) for d in digit for n in postorder(d)
        ):
            raise Unknown
        ramp = power(t, number(2 * k - 1)) / number(fac(2 * k - 1))
        return call("exp", -h * t) * (slope * differentiate(ramp, t) + rest * ramp)
    plain = expand(c)  # facts such as c^2 < 4*k*m are known of the sum
    overdamped = facts.is_negative(c) or facts.is_negative(plain)
    if not overdamped and not facts.is_positive(c) and not facts.is_positive(plain):
        conditions[positive(c)] = None
    g: Expression = call("sinh" if overdamped else "sin", root * t) / root
    for m in range(1, k):
        g = number(1 if overdamped else -1) * differentiate(g, root) / (2 * root * m)
    whole = slope * differentiate(g, t) + rest * g
    if overdamped:  # two plain exponentials are easier to read than a damped hyperbolic wave
        whole = _as_exponentials(whole)
    result = substitute(whole, {root: _either_root(-c if overdamped else c, facts)})
    return expand(call("exp", -h * t) * result) if overdamped else call("exp", -h * t) * result


def _either_root(c: Expression, facts: Facts) -> Expression:
    """A square root of either sign: sqrt(a^2) as a, for formulas that are even in it."""
    ready = prepared(power(c, number(HALF)), facts, waves=False)
    return transform(ready, lambda n: n.arguments[0] if isinstance(n, Call) and n.name == "abs" else n)


def _as_exponentials(e: Expression) -> Expression:
    def visit(node: Expression) -> Expression:
        if isinstance(node, Call) and node.name in ("sinh", "cosh"):
            assert node.function.as_elementary is not None
            return node.function.as_elementary(*node.arguments)
        return node

    return transform(e, visit)


def _root_responses(digit: Coefficients, base: Coefficients, t: Name) -> Expression:
    """A sum over the exact roots of an irreducible polynomial with rational coefficients."""
    mark = fresh_name("s", t)
    whole = integer_coefficients(uni.expression_of(base, mark), mark)
    if whole is None:
        raise Unknown
    lower = uni.expression_of(base, mark)
    weight = uni.expression_of(digit, mark) / differentiate(lower, mark)
    return total([substitute(weight, {mark: r}) * call("exp", r * t) for r in all_roots(whole)])


# --- Fourier ------------------------------------------------------------------------------------------------------------------


def kernel(convention: str, inverse: bool) -> tuple[Expression, Expression]:
    """(outer, rate): the transform is outer times the integral of f*exp(1j*rate*w*t)."""
    outer, rate = CONVENTIONS[convention]
    if not inverse:
        return outer, rate
    return {"angular": 1 / (2 * PI), "unitary": outer, "frequency": ONE}[convention], -rate


def fourier(e: Expression, t: Name, w: Name, facts: Facts, convention: str = "angular", inverse: bool = False) -> Found | None:
    """The integral of e*exp(-1j*w*t) over the whole line, in one of three conventions (`CONVENTIONS`)."""
    outer, rate = kernel(convention, inverse)
    v = facts.new_name("v", e, w)  # the plain transform at v; then v = -rate*w
    conditions: dict[Condition, None] = {}
    whole: list[Expression] = []
    try:
        for p in _with_halves(e, t, facts):
            whole.append(_fourier_term(p, t, v, facts, conditions))
    except Unknown:
        return None
    frequency = -rate * w
    value = transform(total(whole), _without_signs_squared)
    return Found(sifted(outer * substitute(value, {v: frequency})), tuple(conditions), BY_RULES)


def _without_signs_squared(node: Node) -> Node:
    """sign(v)^2 is 1 but for one point."""
    if isinstance(node, Power) and isinstance(node.base, Call) and node.base.name == "sign" and isinstance(node.exponent, Number):
        exponent = node.exponent.rational
        return power(node.base, number(exponent % 2)) if node.exponent.is_whole else node
    return node


def _with_halves(e: Expression, t: Name, facts: Facts) -> list[Expression]:
    def visit(node: Expression) -> Expression:
        if isinstance(node, Call) and node.name in ("sinh", "cosh"):
            return _as_exponentials(node)
        return node

    return terms_of(expand(transform(e, visit)))


def _fourier_term(e: Expression, t: Name, v: Name, facts: Facts, conditions: dict[Condition, None]) -> Expression:
    """One summand: pairs, shifts and modulations."""
    factors = list(e.factors) if isinstance(e, Product) else [e]
    outer = multiply_all([number(e.coefficient) if isinstance(e, Product) else ONE, *[f for f in factors if not contains(f, t)]])
    inner = [f for f in factors if contains(f, t)]
    inner.sort(
        key=lambda f: not (isinstance(f, Call) and f.name == "heaviside" and facts.is_negative(_linear(f.arguments[0], t)[0]))
    )
    for k, f in enumerate(inner):
        others = multiply_all(inner[:k] + inner[k + 1 :])
        if isinstance(f, Call) and f.name in ("sin", "cos"):
            b, phase = _linear(f.arguments[0], t)
            plain = _fourier_term(others, t, v, facts, conditions) if others is not ONE else 2 * PI * call("dirac_delta", v)
            up, down = call("exp", I * phase), call("exp", -I * phase)
            high, low = substitute(plain, {v: v - b}), substitute(plain, {v: v + b})
            if f.name == "cos":
                return outer * (up * high + down * low) / 2
            return outer * (up * high - down * low) / (2 * I)
        n = _natural_power(f, t)
        if n is not None and others is not ONE:
            return outer * power(I, number(n)) * differentiate(_fourier_term(others, t, v, facts, conditions), v, n)
        if isinstance(f, Call) and f.name == "heaviside":
            return outer * _one_sided(f, others, t, v, facts, conditions)
        if isinstance(f, Call) and f.name == "dirac_delta":
            slope, b = _linear(f.arguments[0], t)
            place = -b / slope
            return outer * substitute(others * call("exp", -I * v * t), {t: place}) / call("abs", slope)
    core = multiply_all(inner)
    return outer * (2 * PI * call("dirac_delta", v) if core is ONE else _pair(core, t, v, facts, conditions))


def _natural_power(f: Expression, t: Name) -> int | None:
    if f is t:
        return 1
    if (
        isinstance(f, Power)
        and f.base is t
        and isinstance(f.exponent, Number)
        and f.exponent.is_whole
        and 0 < f.exponent.rational < 12
    ):
        return int(f.exponent.rational)
    return None


def _one_sided(step: Call, others: Expression, t: Name, v: Name, facts: Facts, conditions: dict[Condition, None]) -> Expression:
    """heaviside(t - c)*g(t) for a decaying g: the Laplace transform on the imaginary axis."""
    slope, b = _linear(step.arguments[0], t)
    place = -b / slope
    if facts.is_negative(slope):
        return _ending(step, others, t, v, facts, conditions)
    for other in _calls(others):
        if other.name == "heaviside" and contains(other, t):  # the later of two steps counts
            rise, shift = _linear(other.arguments[0], t)
            later = -shift / rise - place
            if facts.is_nonpositive(later):
                others = others / other
            elif facts.is_nonnegative(later):
                return _one_sided(other, others / other, t, v, facts, conditions)
            else:
                raise Unknown
    moved = substitute(others, {t: t + place})
    s = facts.new_name("s", others, v)
    result = [
        # a plain step: its mean value is the impulse at zero frequency
        1 / (I * v) + PI * call("dirac_delta", v) * call("exp", I * v * place)
        if p is ONE
        else substitute(_decaying(p, t, s, facts, conditions), {s: I * v})
        for p in _prepared(moved, t, facts)
    ]
    return expand(call("exp", -I * v * place) * total(result))


def _ending(step: Call, others: Expression, t: Name, v: Name, facts: Facts, conditions: dict[Condition, None]) -> Expression:
    """A step that ends something, heaviside(c - t)*g(t): a window, or the mirror image."""
    steps = [f for f in _calls(others) if f.name == "heaviside" and contains(f, t)]
    if any(not facts.is_negative(_linear(f.arguments[0], t)[0]) for f in steps):
        # a window between two steps: all from the first step on, less what comes after the second
        plain = _fourier_term(others, t, v, facts, conditions)
        return plain - _fourier_term(others * call("heaviside", -step.arguments[0]), t, v, facts, conditions)
    mirrored = substitute(others * step, {t: -t})
    return substitute(_fourier_term(mirrored, t, v, facts, conditions), {v: -v})


def _decaying(p: Expression, t: Name, s: Name, facts: Facts, conditions: dict[Condition, None]) -> Expression:
    """The Laplace transform of a term that dies away; that it does is a condition where it is not known."""
    decay = -_term(p, t).rate
    real = call("re", decay) if not facts.is_real(decay) else decay
    if facts.is_nonpositive(real):
        raise Unknown
    if not facts.is_positive(real):
        conditions[positive(real)] = None
    found = laplace(p, t, s, facts)
    if found is None:
        raise Unknown
    conditions.update(dict.fromkeys(found.conditions))
    return found.value


def _pair(f: Expression, t: Name, v: Name, facts: Facts, conditions: dict[Condition, None]) -> Expression:
    """exp of a quadratic, exp(-a*|t - b|), 1/((t - b)^2 + a^2), sin(a*t)/t, sech(a*t)."""
    if isinstance(f, Call) and f.name == "exp":
        return _exponential_pair(f.arguments[0], t, v, facts, conditions)
    if isinstance(f, Power) and f.exponent is number(-1):
        parts = uni.coefficients_of(expand(f.base), t)
        if parts is not None and len(parts) == 3:
            a2, b, c = parts[2], uni.lowest_terms(parts[1] / (2 * parts[2])), parts[0]
            gap = uni.lowest_terms(c / a2 - b * b)
            if not facts.is_positive(gap):
                if facts.is_nonpositive(gap):
                    raise Unknown
                conditions[positive(gap)] = None
            root = power(gap, number(HALF))
            return PI / (a2 * root) * call("exp", -root * call("abs", v)) * call("exp", I * v * b)
        if f.base is t:
            return -I * PI * call("sign", v)
    raise Unknown


def _exponential_pair(argument: Expression, t: Name, v: Name, facts: Facts, conditions: dict[Condition, None]) -> Expression:
    parts = uni.coefficients_of(expand(argument), t)
    if parts is not None and len(parts) == 3:
        c, b, a = parts
        if not facts.is_negative(a):
            if facts.is_nonnegative(a):
                raise Unknown
            conditions[positive(-a)] = None
        # exp(a*t^2 + (b - 1j*v)*t + c), a < 0
        return power(PI / -a, number(HALF)) * call("exp", factored(expand(c + (b - I * v) ** 2 / (-4 * a))))
    if parts is not None and len(parts) == 2:
        rate = parts[1] / I
        if facts.is_real(rate):
            return 2 * PI * call("dirac_delta", v - rate) * call("exp", parts[0])
        raise Unknown
    bars = [n for n in _calls(argument) if n.name == "abs" and contains(n, t)]
    if len(bars) == 1:
        mark = facts.new_name("b", argument)
        outer = uni.linear_parts(expand(substitute(argument, {bars[0]: mark})), mark)
        if outer is not None and not contains(outer[0], t) and not contains(outer[1], t):
            slope, shift = _linear(bars[0].arguments[0], t)
            a = -outer[0] * call("abs", slope)
            if not facts.is_positive(a):
                if facts.is_nonpositive(a):
                    raise Unknown
                conditions[positive(a)] = None
            return call("exp", outer[1]) * call("exp", I * v * shift / slope) * 2 * a / (a**2 + v**2)
    raise Unknown


def _calls(e: Expression) -> list[Call]:
    return [n for n in postorder(e) if isinstance(n, Call)]
