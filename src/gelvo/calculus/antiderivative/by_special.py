"""Special functions whose derivatives lie in the field of an integrand: they join the tower, and one linear problem gives all coefficients.

Sources: G. Cherry, "Integration in finite terms with special functions: the error function" (1985) and "… the logarithmic integral" (1986)
for the arguments; M. Bronstein, "Symbolic Integration I" (2005), 7.1, for the parametric problem.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from gelvo.calculus.antiderivative.decision import in_field
from gelvo.calculus.antiderivative.support import Search
from gelvo.calculus.found import Found
from gelvo.errors import GelvoError
from gelvo.expression.building import multiply_all, name, number, power, relation, sqrt
from gelvo.expression.constants import IMAGINARY, ONE, PI, ZERO
from gelvo.expression.nodes import Call, Condition, Expression, Node, Number, Power
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, dependents, postorder, substitute, tree_size
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored, quotient_parts
from gelvo.functions.named import (
    ABS,
    ATAN,
    CHI,
    CI,
    COS,
    COSH,
    EI,
    ERF,
    ERFI,
    EXP,
    FRESNELC,
    FRESNELS,
    GAMMA_INC,
    IM,
    LN,
    POLYLOG,
    RE,
    SHI,
    SI,
    SIN,
    SINH,
    is_a,
)  # fmt: skip

Candidates = Iterator[Expression]
MOST = 6  # functions that join at once
LARGEST = 24  # integrands; what special functions are found for is short, and the field of what is long takes seconds to build
LARGEST_MULTIPLE = 4


def by_special(f: Expression, search: Search) -> Found | None:
    """exp(x)/(x + 1)  ->  exp(-1)*Ei(x + 1)"""
    if tree_size(f) > LARGEST:
        return None
    moving = dependents(f, search.variable)
    nodes = [n for n in postorder(f) if n in moving]
    inside = [relation("<", ZERO, n.arguments[0]) for n in nodes if is_a(n, LN) and not is_a(n.arguments[0], ABS)]
    real = _under(search, inside)  # elsewhere the integrand is not real
    found = _by_rules(f, nodes, real, RULES)
    if found is not None:
        return found
    if not _angles_of_quadratics(f, nodes, real):
        return None
    supposed = [*inside, *_beyond_places(f, nodes, real)]
    found = _by_rules(f, nodes, _under(search, supposed), BEYOND_PLACES)
    return None if found is None else found._replace(conditions=(*found.conditions, *supposed))


def _by_rules(f: Expression, nodes: list[Node], search: Search, rules: tuple[Rule, ...]) -> Found | None:
    for rule in rules:
        listed = list(dict.fromkeys(rule(f, nodes, search)))
        if not listed or len(listed) > MOST:
            continue
        found = in_field(f, listed, search)
        if found is not None:
            return found
    return None


def _under(search: Search, conditions: list[Condition]) -> Search:
    return search._replace(facts=search.facts.with_facts(conditions))


def _beyond_places(f: Expression, nodes: list[Node], search: Search) -> list[Condition]:
    """That x lies beyond the last of the real zeros whose side is not known: there the angles of complex fractions are arctangents."""
    x, facts = search.variable, search.facts
    places = [a for a in _real_places(f, nodes, search) if not _side_is_known(a, search)]
    last = next((a for a in places if all(facts.is_nonnegative(a - b) for b in places)), None)
    return [] if last is None else [relation("<", ZERO, x - last)]


def _places(f: Expression, search: Search) -> list[Expression]:
    """The zeros of linear factors of denominators."""
    found: dict[Expression, None] = {}
    try:
        bottom = quotient_parts(f)[1]
    except GelvoError:
        return []
    for g in factors_in(factored(bottom)):
        parts = uni.linear_parts(base_and_exponent(g)[0], search.variable)
        if parts is not None and search.free(parts[0]):
            found[uni.lowest_terms(-parts[1] / parts[0])] = None
    return list(found)


def _exponents(nodes: list[Node], search: Search) -> list[Expression]:
    """Exponents that depend on the variable, of exp and of constant bases."""
    found: dict[Expression, None] = {}
    for n in nodes:
        if is_a(n, EXP):
            found[expand(n.arguments[0])] = None
        elif isinstance(n, Power) and search.free(n.base):
            found[expand(n.exponent * LN(n.base))] = None
    return list(found)


def _angles(nodes: list[Node], *names: str) -> list[Expression]:
    return list(dict.fromkeys(expand(n.arguments[0]) for n in nodes if isinstance(n, Call) and n.name in names))


def exponential_integrals(f: Expression, nodes: list[Node], search: Search) -> Candidates:
    """Ei(u - u(a)) for the poles a, and Ei(u) for an exponent that is no polynomial."""
    for u in _exponents(nodes, search):
        yield from (EI(v) for v in _shifted(u, f, search))
        if uni.coefficients_of(u, search.variable) is None:
            yield EI(u)


def _shifted(u: Expression, f: Expression, search: Search) -> Iterator[Expression]:
    """u less its values at poles, and u itself where it has a pole."""
    for place in _places(f, search):
        try:
            value = substitute(u, {search.variable: place})
        except GelvoError:
            yield u
            continue
        yield uni.lowest_terms(u - value)


def sine_integrals(f: Expression, nodes: list[Node], search: Search) -> Candidates:
    """Si and Ci of shifted angles."""
    for u in _angles(nodes, SIN, COS):
        for v in _shifted(u, f, search):
            yield from (SI(v), CI(v))


def hyperbolic_integrals(f: Expression, nodes: list[Node], search: Search) -> Candidates:
    for u in _angles(nodes, SINH, COSH):
        for v in _shifted(u, f, search):
            yield from (SHI(v), CHI(v))


def error_functions(f: Expression, nodes: list[Node], search: Search) -> Candidates:
    """erf(w) where w^2 = b - u for a constant b, erfi(w) where w^2 = u - b."""
    for u in _exponents(nodes, search):
        for w, negative in _square_completions(u, search):
            yield (ERF if negative else ERFI)(w)


def fresnel_integrals(f: Expression, nodes: list[Node], search: Search) -> Candidates:
    for u in _angles(nodes, SIN, COS):
        for w, _ in _square_completions(u, search):
            v = sqrt(2 / PI) * w
            yield from (FRESNELS(v), FRESNELC(v))


def _square_completions(u: Expression, search: Search) -> Iterator[tuple[Expression, bool]]:
    """(w, sign): w^2 = +-(u - b), for the constants b for which that is a square."""
    x = search.variable
    b = name("the constant of a square")
    try:
        top, _ = quotient_parts(u - b)
    except GelvoError:
        return
    coefficients = uni.coefficients_of(top, x)
    if coefficients is None or not 3 <= len(coefficients) <= 5:
        return
    for value in _double_zeros(coefficients, b, search):
        for sign in (1, -1):
            w = _root_of_square(factored(sign * (u - value)), search)
            if w is not None:
                yield w, sign < 0


def _double_zeros(coefficients: list[Expression], b: Expression, search: Search) -> Iterator[Expression]:
    """The values of b at which a polynomial of degree two or an even one of degree four is a square up to a constant."""
    if len(coefficients) == 3:
        c, m, a = coefficients
        condition = expand(m * m - 4 * a * c)
    elif coefficients[1] is ZERO and coefficients[3] is ZERO:
        c, _, m, _, a = coefficients
        condition = expand(m * m - 4 * a * c)
    else:
        return
    for g in factors_in(factored(condition)):
        parts = uni.linear_parts(base_and_exponent(g)[0], b)
        if parts is not None:
            yield uni.lowest_terms(-parts[1] / parts[0])


def _root_of_square(e: Expression, search: Search) -> Expression | None:
    """The real root of a product of even powers with a positive constant in front."""
    outside: list[Expression] = []
    constants: list[Expression] = []
    for g in (number(e.coefficient) if hasattr(e, "coefficient") else ONE, *factors_in(e)):
        base, k = base_and_exponent(g)
        if search.free(g):
            constants.append(g)
        elif isinstance(k, Number) and k.is_whole and k.rational % 2 == 0:
            outside.append(power(base, k / 2))
        else:
            return None
    front = multiply_all(constants)
    return sqrt(front) * multiply_all(outside) if search.facts.is_positive(front) else None


def logarithmic_integrals(f: Expression, nodes: list[Node], search: Search) -> Candidates:
    """Ei(k*ln(u)), which is li(u^k)."""
    for n in nodes:
        if is_a(n, LN):
            yield from (EI(k * n) for k in range(1, LARGEST_MULTIPLE + 1))


def bose_and_fermi(f: Expression, nodes: list[Node], search: Search) -> Candidates:
    """Polylogarithms of multiples of exponentials, for powers of x over exp(u) + c."""
    t = name("the exponential")
    for u in _exponents(nodes, search):
        parts = uni.linear_parts(u, search.variable)
        if parts is None:
            continue
        table: dict[Node, Expression] = {n: t ** uni.lowest_terms(expand(n.arguments[0]) / u) for n in nodes if is_a(n, EXP)}
        inside = substitute(f, table)
        top, bottom = quotient_parts(inside)
        degree = uni.coefficients_of(top, search.variable)
        own = uni.coefficients_of(bottom, t)
        if degree is None or own is None or contains(bottom, search.variable):
            continue
        for g in factors_in(factored(bottom)):
            line = uni.linear_parts(base_and_exponent(g)[0], t)
            if line is not None and line[1] is not ZERO:
                z = uni.lowest_terms(-line[0] / line[1]) * EXP(u)
                z = z if search.facts.is_nonpositive(z) else 1 / z
                yield LN(1 - z)
                yield from (POLYLOG(number(k), z) for k in range(2, len(degree) + 1))


def dilogarithms(f: Expression, nodes: list[Node], search: Search) -> Candidates:
    """Li_2 of the linear fractions of which logarithms and denominators consist."""
    x, facts, places = search.variable, search.facts, _real_places(f, nodes, search)
    for i, a in enumerate(places):
        for b in places[:i]:
            share = uni.lowest_terms((x - a) / (b - a))
            rest = uni.lowest_terms(1 - share)  # Li_2(share) is real where the rest is positive
            yield POLYLOG(number(2), rest if facts.is_positive(share) and not facts.is_positive(rest) else share)


def _real_places(f: Expression, nodes: list[Node], search: Search) -> list[Expression]:
    """The zeros of linear factors in logarithms and of denominators."""
    lines: dict[Expression, None] = {}
    for n in nodes:
        if is_a(n, LN):
            for g in factors_in(factored(_without_bars(n.arguments[0]))):
                parts = uni.linear_parts(base_and_exponent(g)[0], search.variable)
                if parts is not None and search.free(parts[0]):
                    lines[uni.lowest_terms(-parts[1] / parts[0])] = None
    return list(lines | dict.fromkeys(_places(f, search)))


def _side_is_known(place: Expression, search: Search) -> bool:
    return search.facts.is_positive(search.variable - place) or search.facts.is_negative(search.variable - place)


def _without_bars(e: Expression) -> Expression:
    return e.arguments[0] if is_a(e, ABS) else e


def arctangent_integrals(f: Expression, nodes: list[Node], search: Search) -> Candidates:
    """The imaginary part of Li_2(1j*u), whose slope is atan(u)*u'/u (L. Lewin, "Polylogarithms and Associated Functions", 1981)."""
    angles = _angles_of_quadratics(f, nodes, search)
    if len(angles) == 1:  # between arctangents of different scales it needs other dilogarithms
        yield from (ATAN(angles[0]), IM(POLYLOG(number(2), IMAGINARY * angles[0])))


def dilogarithms_of_squares(f: Expression, nodes: list[Node], search: Search) -> Candidates:
    """Li_2(-u^2) for logarithms of the variable over 1 + u^2."""
    angles = _angles_of_quadratics(f, nodes, search)
    if len(angles) == 1 and any(is_a(n, LN) for n in nodes):
        yield from (LN(1 + angles[0] ** 2), POLYLOG(number(2), -(angles[0] ** 2)))


def dilogarithms_between_complex_places(f: Expression, nodes: list[Node], search: Search) -> Candidates:
    """ln(1 + x)/(1 + x^2): the parts of Li_2 of the complex fractions between a real zero and a zero of a quadratic factor."""
    x = search.variable
    places = [a for a in _real_places(f, nodes, search) if _side_is_known(a, search)]
    for u in _angles_of_quadratics(f, nodes, search):
        slope, shift = uni.linear_parts(u, x) or (ONE, ZERO)
        yield from (ATAN(u), LN(1 + u * u))
        for a in places:
            share = (x - a) / ((IMAGINARY - shift) / slope - a)  # u = 1j at the complex place
            yield from (IM(POLYLOG(number(2), share)), RE(POLYLOG(number(2), share)))


def dilogarithms_between_conjugates(f: Expression, nodes: list[Node], search: Search) -> Candidates:
    """atan(x)^2, ln(1 + x^2)/(1 + x^2): the parts of Li_2((1 + 1j*u)/2)."""
    for u in _angles_of_quadratics(f, nodes, search):
        yield from (ATAN(u), LN(1 + u * u), IM(POLYLOG(number(2), (1 + IMAGINARY * u) / 2)))


def _angles_of_quadratics(f: Expression, nodes: list[Node], search: Search) -> list[Expression]:
    """The linear u of arctangents atan(u), and those with 1 + u^2 a factor of a denominator or inside of a logarithm."""
    x = search.variable
    angles = {n.arguments[0]: None for n in nodes if is_a(n, ATAN) and uni.linear_parts(n.arguments[0], x) is not None}
    inside = [_without_bars(n.arguments[0]) for n in nodes if is_a(n, LN)]
    for e in (quotient_parts(f)[1], *inside):
        for g in factors_in(factored(e)):
            angle = _angle_of_quadratic(base_and_exponent(g)[0], search)
            if angle is not None:
                angles[angle] = None
    return list(angles)


def _angle_of_quadratic(g: Expression, search: Search) -> Expression | None:
    """u with g = c*(1 + u^2), for a quadratic g without real zeros."""
    coefficients = uni.coefficients_of(g, search.variable)
    if coefficients is None or len(coefficients) != 3:
        return None
    c, b, a = coefficients
    middle = uni.lowest_terms(-b / (2 * a))
    size = uni.lowest_terms(c / a - middle**2)
    return (search.variable - middle) / sqrt(size) if search.facts.is_positive(size) else None


def incomplete_gammas(f: Expression, nodes: list[Node], search: Search) -> Candidates:
    """gamma_inc(a, -u) for powers x^(q*a - 1) beside exp(u) with u = c*x^q."""
    x = search.variable
    powers = [
        n.exponent for n in nodes if isinstance(n, Power) and n.base is x and search.free(n.exponent) and not n.exponent.is_whole
    ]
    for u in _exponents(nodes, search):
        front = factored(u / differentiate(u, x) / x)  # 1/q
        if not search.free(front) or not search.facts.is_negative(substitute(u, {x: ONE})):
            continue
        yield from (GAMMA_INC(uni.lowest_terms((e + 1) * front), -u) for e in powers or [ZERO])


Rule = Callable[[Expression, list[Node], Search], Candidates]
RULES: tuple[Rule, ...] = (
    exponential_integrals,
    error_functions,
    sine_integrals,
    fresnel_integrals,
    hyperbolic_integrals,
    incomplete_gammas,
    logarithmic_integrals,
    bose_and_fermi,
    dilogarithms,
    arctangent_integrals,
    dilogarithms_of_squares,
    dilogarithms_between_conjugates,
)
BEYOND_PLACES: tuple[Rule, ...] = (dilogarithms_between_complex_places,)
