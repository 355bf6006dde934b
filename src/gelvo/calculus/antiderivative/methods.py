"""Linear substitution, derivative divides, by parts, and Gaussians."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from math import gcd

from gelvo.calculus.antiderivative.support import Search, roots_of
from gelvo.calculus.found import Found
from gelvo.errors import DomainError
from gelvo.expression import known as bits
from gelvo.expression.building import constant, multiply_all, number, power, sqrt, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Call, Condition, Expression, Name, Node, Number, Power, Product, Sum, Written
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import contains, has_call, postorder, substitute
from gelvo.facts.conditions import positive
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.fractions import Form, factored
from gelvo.functions.named import (
    ABS,
    ACOS,
    ACOSH,
    ACOT,
    ACOTH,
    ACSC,
    ARG,
    ASEC,
    ASIN,
    ASINH,
    ATAN,
    ATANH,
    CONJ,
    COS,
    COSH,
    COT,
    CSC,
    ERF,
    ERFC,
    EXP,
    IM,
    LN,
    LOG2,
    LOG10,
    RE,
    SEC,
    SECH,
    SIGN,
    SIN,
    SINH,
    TAN,
    TANH,
    is_a,
)
from gelvo.normal.rationalizing import rationalize_denominator
from gelvo.polynomial import sparse

BY_PARTS = (LN, LOG10, LOG2, ASIN, ACOS, ATAN, ACOT, ASINH, ACOSH, ATANH, ACOTH, ERF, ERFC, ASEC, ACSC)
EASY = (EXP, SIN, COS, SINH, COSH)  # what may stand beside the function that by parts takes away


def power_rule(f: Expression, search: Search) -> Found | None:
    """(a*x + b)^n with n free of x; n = -1 gives the logarithm, an unknown n the condition n != -1."""
    base, exponent = base_and_exponent(f)
    if not search.free(exponent) or isinstance(f, Sum):  # a sum goes term by term: no constant is left over
        return None
    parts = uni.linear_parts(base, search.variable)
    if parts is None:
        return None
    a = parts[0]
    conditions = search.nonzero(a)
    if exponent is number(-1):
        return Found(search.logarithm(base) / a, conditions, "power rule")
    conditions += search.nonzero(exponent + 1)
    return Found(power(base, exponent + 1) / (a * (exponent + 1)), conditions, "power rule")


def catalogue(f: Expression, search: Search) -> Found | None:
    """A function of the catalogue of a linear argument."""
    if not isinstance(f, Call) or len(f.arguments) != 1 or f.function.antiderivative is None:
        return None
    parts = uni.linear_parts(f.arguments[0], search.variable)
    if parts is None:
        return None
    inner = f.function.antiderivative(f.arguments[0])
    return Found(inner / parts[0], search.nonzero(parts[0]), "catalogue of functions, linear substitution")


def squares_of_functions(f: Expression, search: Search) -> Found | None:
    """The squares tan^2, sec^2, … whose antiderivative the derivative of a catalogue function gives."""
    if not (isinstance(f, Power) and isinstance(f.base, Call) and f.exponent in (number(2), number(-2))):
        return None
    inner = f.base
    if len(inner.arguments) != 1:
        return None
    u = inner.arguments[0]
    parts = uni.linear_parts(u, search.variable)
    if parts is None:
        return None
    table: dict[tuple[str, int], Callable[[], Expression]] = {
        (TAN, 2): lambda: TAN(u) - u,
        (COT, 2): lambda: -COT(u) - u,
        (SEC, 2): lambda: TAN(u),
        (COS, -2): lambda: TAN(u),
        (CSC, 2): lambda: -COT(u),
        (SIN, -2): lambda: -COS(u) / SIN(u),
        (TANH, 2): lambda: u - TANH(u),
        (SECH, 2): lambda: TANH(u),
        (COSH, -2): lambda: TANH(u),
        (SINH, -2): lambda: -COSH(u) / SINH(u),
    }
    entry = table.get((inner.name, int(f.exponent.rational)))
    return None if entry is None else Found(entry() / parts[0], search.nonzero(parts[0]), "square of a catalogue function")


def square_beside_a_power(f: Expression, search: Search) -> Found | None:
    """x^n times a square of the table, such as x/cos(x)^2: the power is lowered by parts."""
    factors = f.factors if isinstance(f, Product) else ()
    for chosen in factors:
        base, n = base_and_exponent(chosen)
        if base is not search.variable or not _whole(n) or not search.facts.is_positive(n):
            continue
        outer = squares_of_functions(multiply_all([g for g in factors if g is not chosen]), search)
        inner = None if outer is None else search.integrate(differentiate(chosen, base) * outer.value)
        if outer is not None and inner is not None:
            return Found(outer.value * chosen - inner.value, outer.conditions + inner.conditions, "by parts")
    return None


def by_parts(f: Expression, search: Search) -> Found | None:
    """rest * L^k with a logarithm or an inverse function L: Q*L^k less the integral of Q*(L^k)'."""
    factors = factors_in(f)
    for chosen in factors:
        base, k = base_and_exponent(chosen)
        natural = isinstance(k, Number) and k.is_whole and k.rational > 0
        if not (isinstance(base, Call) and base.name in BY_PARTS and natural):
            continue
        rest = multiply_all([g for g in factors if g is not chosen])
        if any(isinstance(n, Call) and n.name not in EASY and contains(n, search.variable) for n in postorder(rest)):
            continue
        outer = search.integrate(rest)
        if outer is None:
            continue
        change = factored(outer.value * differentiate(chosen, search.variable))
        inner = search.integrate(change)
        if inner is None:
            continue
        return Found(outer.value * chosen - inner.value, outer.conditions + inner.conditions, "by parts")
    return None


def power_as_variable(f: Expression, search: Search) -> Found | None:
    """x/(x^4 + 1) with u = x^2: a rational function of a power of x, times its slope."""
    x = search.variable
    form = Form([f])
    top, bottom = form.lowest_terms(form.of(f))
    place = next((k for (base, unit), k in form.generators.items() if base is x and unit is ONE), None)
    if place is None:
        return None
    powers = {sparse.exponent_of(m, place) + 1 for m in top} | {sparse.exponent_of(m, place) for m in bottom}
    lowest = min(sparse.exponent_of(m, place) for m in bottom)
    step = gcd(*(p - lowest for p in powers))
    if step < 2 or lowest % step:
        return None
    new = search.facts.new_name("u", f)
    u = x**step
    lowered = {m + (1 << (sparse.BITS * place)): c for m, c in top.items()}  # x*top/(step*x^step) du/x …
    upper, lower = (
        total([form.expression(c) * new ** (k // step) for k, c in sparse.by_powers(p, place).items()]) for p in (lowered, bottom)
    )
    known = bits.NONNEGATIVE if step % 2 == 0 else search.facts.known(x)
    found = search.deeper(new, known)(upper / (step * new * lower))
    if found is None:
        return None
    back = {new: u}
    conditions = tuple(substitute(c, back) for c in found.conditions)
    return Found(substitute(found.value, back), conditions, f"substitution u = {u}; {found.road}")


def changes_by(
    inner: Iterable[Expression], f: Expression, x: Name, facts: Facts
) -> Iterator[tuple[Expression, Name, Expression]]:
    """Of each inner function u of which f/u' is a formula: u, a name for it, and that formula."""
    real = has_call(f, (ABS, ARG, CONJ, IM, RE, SIGN))  # these have slopes along the real line only
    for u in inner:
        if real and not facts.is_real(u):
            continue
        slope = differentiate(u, x)
        if slope is ZERO or any(isinstance(n, Written) for n in postorder(slope)):
            continue
        new = facts.new_name("u", f)
        try:
            quotient = in_terms_of(f / slope, u, new, x)
        except DomainError:
            continue
        if quotient is not None:
            yield u, new, quotient


def derivative_divides(f: Expression, search: Search) -> Found | None:
    """g(u(x))*u'(x): the inner function is tried as the new variable."""
    x = search.variable
    for u, new, quotient in changes_by(inner_functions(f, x), f, x, search.facts):
        found = search.deeper(new, search.facts.known(u))(quotient)
        if found is not None:
            back = {new: u}
            conditions = tuple(substitute(c, back) for c in found.conditions)
            return Found(substitute(found.value, back), conditions, f"substitution u = {u}; {found.road}")
    return None


def without_roots_below(f: Expression, search: Search) -> Found | None:
    """1/(sqrt(x) + sqrt(x + 1))  ->  sqrt(x + 1) - sqrt(x)"""
    if len({n.base for n in roots_of(f, search.variable)}) < 2:
        return None
    plain = rationalize_denominator(f)
    return search.integrate(plain) if plain is not f else None


def inner_functions(f: Expression, x: Name) -> list[Expression]:
    found: dict[Expression, None] = {}
    for node in reversed(postorder(f)):
        if node is f or node is x or not isinstance(node, Expression) or not contains(node, x):
            continue
        if isinstance(node, Call):
            found[node] = None
            for argument in node.arguments:
                found[argument] = None
        elif isinstance(node, Power):
            found[node.base] = None
            found[node] = None
            found[node.exponent] = None
            if node.base is x and _whole(node.exponent):
                degree = abs(int(node.exponent.rational))
                found.update(dict.fromkeys(power(x, number(d)) for d in range(2, degree) if degree % d == 0))
        elif isinstance(node, Sum):
            found[node] = None
            found.update(dict.fromkeys(root for t in node.terms if (root := _root_of_product(t)) is not None))
    if isinstance(f, (Call,)):
        for argument in f.arguments:
            found[argument] = None
    return [u for u in found if u is not x and contains(u, x) and not _is_shift(u, x)]


def _root_of_product(term: Node) -> Expression | None:
    """x^2*asin(x) of x^4*asin(x)^2: what stands squared in the slopes of inverse functions."""
    if not isinstance(term, Product):
        return None
    exponents = [int(k.rational) if _whole(k) else 1 for _, k in map(base_and_exponent, term.factors)]
    shared = gcd(*exponents)
    return None if shared < 2 else multiply_all([base ** (k / shared) for base, k in map(base_and_exponent, term.factors)])


def _is_shift(u: Expression, x: Name) -> bool:
    """Whether a new variable would only be moved along the line, or measured in another unit: that leads on to the next one for ever."""
    return isinstance(u, (Sum, Product)) and uni.linear_parts(u, x) is not None


def in_terms_of(g: Expression, u: Expression, new: Name, x: Name) -> Expression | None:
    """g written in the new variable, or None where x remains."""
    for form in (g, factored(g)):
        replaced = _replace(form, u, new)
        if contains(replaced, x) and is_a(u, LN) and u.arguments[0] is x:
            replaced = substitute(replaced, {x: EXP(new)})
        if not contains(replaced, x):
            return replaced
    return None


def _replace(g: Expression, u: Expression, new: Name) -> Expression:
    table: dict[Node, Expression] = {u: new}
    core = u
    if isinstance(u, Product):
        core = multiply_all(u.factors)
        table[core] = new / number(u.coefficient)
    if isinstance(u, Sum) and len(u.terms) == 1:
        core = u.terms[0]
        table[core] = (new - number(u.constant)) / number(u.coefficients[0])
    for node in postorder(g):
        ratio = _exponent_over(node, core)
        if ratio is not None and node is not core:
            table[node] = table[core] ** ratio
    return substitute(g, table)


def _exponent_over(node: Node, core: Expression) -> Expression | None:
    """The whole k with node = core^k, for powers of one base, exponentials and products of such."""
    ratio: Expression | None = None
    if isinstance(node, Power) and isinstance(core, Power) and node.base is core.base:
        ratio = node.exponent / core.exponent if isinstance(node.exponent, Number) and isinstance(core.exponent, Number) else None
    elif isinstance(node, Call) and isinstance(core, Call) and node.name == core.name == EXP:
        ratio = node.arguments[0] / core.arguments[0]
    elif isinstance(node, Product) and isinstance(core, Product) and node.coefficient == 1:
        ours, theirs = (dict(map(base_and_exponent, p.factors)) for p in (node, core))
        shares = {k / theirs[base] for base, k in ours.items()} if ours.keys() == theirs.keys() else set()
        ratio = shares.pop() if len(shares) == 1 else None
    return ratio if ratio is not None and ratio.is_whole else None


def gaussian(f: Expression, search: Search) -> Found | None:
    """x^k*exp(-a*x^2 + b*x + c) by the error function."""
    x = search.variable
    factors = factors_in(f)
    exponentials = [g for g in factors if is_a(g, EXP)]
    if len(exponentials) != 1:
        return None
    exponent = uni.coefficients_of(exponentials[0].arguments[0], x)
    rest = uni.coefficients_of(multiply_all([g for g in factors if g is not exponentials[0]]), x)
    if exponent is None or rest is None or len(exponent) != 3:
        return None
    a, b, c = -exponent[2], exponent[1], exponent[0]
    if search.facts.is_nonpositive(a):
        return None
    conditions: tuple[Condition, ...] = () if search.facts.is_positive(a) else (positive(a),)
    middle = b / (2 * a)
    root = sqrt(a)
    base = sqrt(constant("pi")) / (2 * root) * ERF(root * (x - middle)) * EXP(c + b * b / (4 * a))
    full = exponentials[0]
    # J_k = integral of x^k*E: J_k = -x^(k-1)*E/(2a) + (k-1)/(2a)*J_(k-2) + middle*J_(k-1)
    known = [base, -full / (2 * a) + middle * base]
    for k in range(2, len(rest)):
        known.append(-(x ** (k - 1)) * full / (2 * a) + (k - 1) / (2 * a) * known[k - 2] + middle * known[k - 1])
    return Found(total([r * known[k] for k, r in enumerate(rest)]), conditions, "error function")


def _whole(k: Expression) -> bool:
    return isinstance(k, Number) and k.is_whole
