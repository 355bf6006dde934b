"""Formula text read by python's own `ast` and evaluated with nothing but mpmath: it shares no code with the library."""

from __future__ import annotations

import ast
import re
from contextlib import contextmanager
from fractions import Fraction

import mpmath

mp = mpmath.mp.clone()
mp.dps = 90
SMALL = mp.mpf(10) ** -60
SIGNS = {
    ast.Add: "+", ast.Sub: "-", ast.Mult: "*", ast.Div: "/", ast.Pow: "^", ast.And: "and", ast.Or: "or", ast.Lt: "<", ast.LtE: "<=",
    ast.Gt: ">", ast.GtE: ">=", ast.Eq: "=", ast.NotEq: "!=",
}  # fmt: skip
BOUNDS = ("inf", "undefined")


class NoValue(Exception):
    """There is no real value here: a pole, a root of a negative number, 0^0."""


def read(text):
    """The tree of a formula or a condition: (sign, parts…), ("call", name, arguments…), ("number", n), ("name", text)."""
    plain = text.split("#")[0].strip().replace("^", "**").replace(" when ", ", ").replace("otherwise ", "")
    plain = re.sub(r"(?<![<>!=])=(?!=)", "==", plain)
    return _tree(ast.parse(plain, mode="eval").body, plain)


def _tree(node, text):
    if isinstance(node, ast.Constant):
        if isinstance(node.value, complex):
            return ("number", node.value)
        return ("number", Fraction(node.value if isinstance(node.value, int) else ast.get_source_segment(text, node)))
    if isinstance(node, ast.Name):
        return ("name", node.id)
    if isinstance(node, ast.UnaryOp):
        inner = _tree(node.operand, text)
        return ("neg", inner) if isinstance(node.op, ast.USub) else inner
    if isinstance(node, ast.BinOp):
        return (SIGNS[type(node.op)], _tree(node.left, text), _tree(node.right, text))
    if isinstance(node, ast.BoolOp):
        return (SIGNS[type(node.op)], *(_tree(part, text) for part in node.values))
    if isinstance(node, ast.Compare):
        parts = [_tree(part, text) for part in (node.left, *node.comparators)]
        pairs = [(SIGNS[type(op)], a, b) for op, a, b in zip(node.ops, parts, parts[1:], strict=False)]
        return pairs[0] if len(pairs) == 1 else ("and", *pairs)
    if isinstance(node, ast.Call):
        return ("call", node.func.id, *(_tree(part, text) for part in node.args))
    raise ValueError(f"cannot read {text!r}")


LARGEST = mp.mpf(10) ** 13  # exponents beyond it would take for ever


def sinhc(u):
    return mp.sinh(u) / u if u else mp.mpf(1)


def moderate(function, limit=LARGEST):
    """A function that grows like an exponential, told only where its argument is moderate."""

    def at(u):
        if abs(u) > limit:
            raise NoValue
        return function(u)

    return at


EXPONENTIAL = {name: moderate(getattr(mp, name)) for name in ("exp", "sinh", "cosh", "tanh", "sin", "cos", "erf", "erfc", "erfi", "sech")} | {
    name: moderate(getattr(mp, name), 10**6) for name in ("gamma", "factorial")
}  # fmt: skip


def is_whole(v):
    return abs(v - mp.nint(v)) < SMALL


def real_power(a, b):
    if abs(b) > 10**6 and a and abs(b * mp.log(abs(a))) > LARGEST:
        raise NoValue
    if is_whole(b):
        n = int(mp.nint(b))
        if abs(a) < SMALL and n <= 0:
            raise NoValue
        return a**n
    if abs(a) < SMALL and b > 0:
        return mp.mpf(0)
    if a <= 0:
        raise NoValue
    return a**b


def between(low, v, high):
    if not low - SMALL <= v <= high + SMALL:
        raise NoValue
    return min(max(v, low), high)


def above(v, low=0, touching=False):
    if v < low - SMALL or (not touching and v <= low + SMALL):
        raise NoValue
    return max(v, mp.mpf(low))


def amplitude(u, m):
    """Jacobi's amplitude by inverting the integral itself; no value where it turns back."""
    if m == 1:
        return 2 * mp.atan(mp.tanh(u / 2))
    if m > 1:
        near = mp.asin(1 / mp.sqrt(m))
        if abs(u) >= abs(mp.ellipf(near, m)):
            raise NoValue
        return mp.findroot(lambda phi: mp.re(mp.ellipf(phi, m)) - u, u * near / mp.re(mp.ellipf(near, m)))
    return mp.findroot(lambda phi: mp.ellipf(phi, m) - u, u * mp.pi / (2 * mp.ellipk(m)))


REAL = {
    "jacobiam": amplitude, "jacobisn": lambda u, m: mp.sin(amplitude(u, m)), "jacobicn": lambda u, m: mp.cos(amplitude(u, m)),
    "jacobidn": lambda u, m: mp.sqrt(above(1 - m * mp.sin(amplitude(u, m)) ** 2)),
    "sqrt": lambda u: mp.sqrt(above(u, touching=True)), "cbrt": lambda u: mp.sign(u) * mp.cbrt(abs(u)), "exp": mp.exp,
    "ln": lambda u: mp.log(above(u)), "log10": lambda u: mp.log10(above(u)), "log2": lambda u: mp.log(above(u), 2),
    "abs": abs, "sign": mp.sign, "floor": lambda u: mp.nint(u) if is_whole(u) else mp.floor(u), "ceil": lambda u: mp.nint(u) if is_whole(u) else mp.ceil(u), "min": min, "max": max,
    "sin": mp.sin, "cos": mp.cos, "tan": lambda u: mp.sin(u) / nonzero(mp.cos(u)), "cot": lambda u: mp.cos(u) / nonzero(mp.sin(u)),
    "asin": lambda u: mp.asin(between(-1, u, 1)), "acos": lambda u: mp.acos(between(-1, u, 1)), "atan": mp.atan, "atan2": mp.atan2,
    "sinh": mp.sinh, "sinhc": sinhc, "cosh": mp.cosh, "tanh": mp.tanh, "asinh": mp.asinh, "acosh": lambda u: mp.acosh(above(u, 1, True)),
    "atanh": lambda u: mp.atanh(above(1 - abs(u)) and u), "lambertw": lambda u: mp.lambertw(above(u, -mp.exp(-1), True)).real,
    "lambertw_lower": lambda u: mp.lambertw(between(-mp.exp(-1), u, 0), -1).real, "erf": mp.erf, "besselj_0": lambda u: mp.besselj(0, u), "gamma": mp.gamma,
    "heaviside": lambda u: (1 + mp.sign(u)) / 2, "dirac_delta": lambda u: mp.mpf(0) * nonzero(u), "coth": lambda u: 1 / mp.tanh(nonzero(u)),
    "sec": lambda u: 1 / nonzero(mp.cos(u)), "csc": lambda u: 1 / nonzero(mp.sin(u)), "erfi": mp.erfi, "Ei": lambda u: mp.ei(nonzero(u)),
    "Si": mp.si, "Ci": lambda u: mp.ci(above(u)), "sech": mp.sech, "acot": lambda u: mp.atan(1 / u) if u else mp.pi / 2, "csch": lambda u: 1 / mp.sinh(nonzero(u)),
    "erfc": mp.erfc, "li": lambda u: mp.li(above(u)), "Shi": mp.shi, "Chi": lambda u: mp.chi(above(u)), "fresnels": mp.fresnels, "fresnelc": mp.fresnelc,
    "digamma": mp.digamma, "zeta": mp.zeta, "factorial": mp.factorial, "binomial": mp.binomial, "loggamma": lambda u: mp.loggamma(above(u)),
    "besselj": mp.besselj, "bessely": lambda n, u: mp.bessely(n, above(u)), "besseli": mp.besseli, "besselk": lambda n, u: mp.besselk(n, above(u)),
    "ellipk": lambda m: mp.ellipk(above(1 - m) and m), "ellipe": lambda m: mp.ellipe(above(1 - m, touching=True) and m), "beta": mp.beta,
    "polylog": lambda n, u: mp.re(mp.polylog(n, above(1 - u, touching=True) and u)), "re": mp.re, "im": lambda u: mp.mpf(0), "conj": mp.re, "arg": lambda u: mp.pi * (u < 0), "acoth": lambda u: mp.acoth(u) if abs(u) > 1 else above(-1),
    "airyai": mp.airyai, "airybi": mp.airybi, "airyai_prime": lambda u: mp.airyai(u, derivative=1), "airybi_prime": lambda u: mp.airybi(u, derivative=1),
    "ellipf": lambda u, m: mp.ellipf(u, above(1 - m * mp.sin(u) ** 2) and m), "hyp0f1": mp.hyp0f1, "hyp1f1": mp.hyp1f1, "hyp2f1": lambda a, b, c, u: mp.hyp2f1(a, b, c, above(1 - u) and u),
    "polygamma": lambda n, u: mp.psi(int(n), u), "expint": lambda n, u: mp.expint(n, above(u)),
}  # fmt: skip
REAL |= EXPONENTIAL
CONSTANTS = {"pi": lambda: +mp.pi, "euler_gamma": lambda: +mp.euler, "catalan": lambda: +mp.catalan}


def nonzero(v):
    if abs(v) < SMALL:
        raise NoValue
    return v


def direction(u):
    return u / abs(u) if abs(u) > SMALL else mp.mpf(0)


def stepped(u):
    return (1 + direction(mp.re(u))) / 2


COMPLEX = {
    "sqrt": mp.sqrt, "exp": mp.exp, "ln": lambda u: mp.log(nonzero(u)), "abs": abs, "conj": mp.conj, "re": mp.re, "im": mp.im, "arg": mp.arg,
    "sin": mp.sin, "cos": mp.cos, "tan": lambda u: mp.sin(u) / nonzero(mp.cos(u)), "atan2": lambda y, x: mp.atan2(mp.re(y), mp.re(x)),
    "sign": direction, "cbrt": lambda u: mp.sign(mp.re(u)) * mp.cbrt(abs(u)), "cot": lambda u: mp.cos(u) / nonzero(mp.sin(u)),
    "sec": lambda u: 1 / nonzero(mp.cos(u)), "csc": lambda u: 1 / nonzero(mp.sin(u)), "coth": lambda u: mp.cosh(u) / nonzero(mp.sinh(u)),
    "sinh": mp.sinh, "sinhc": sinhc, "cosh": mp.cosh, "tanh": mp.tanh, "atan": mp.atan, "asin": mp.asin, "acos": mp.acos, "asinh": mp.asinh, "acosh": mp.acosh,
    "atanh": lambda u: mp.atanh(nonzero(1 - u * u) and u), "sech": lambda u: 1 / nonzero(mp.cosh(u)), "csch": lambda u: 1 / nonzero(mp.sinh(u)), "erf": mp.erf, "erfc": mp.erfc, "erfi": mp.erfi,
    "gamma": lambda u: mp.gamma(u), "lambertw": mp.lambertw, "polylog": mp.polylog, "Ei": lambda u: mp.ei(nonzero(u)), "heaviside": stepped, "dirac_delta": lambda u: mp.mpf(0) * nonzero(u),
    "log10": lambda u: mp.log(nonzero(u)) / mp.log(10), "log2": lambda u: mp.log(nonzero(u)) / mp.log(2), "loggamma": mp.loggamma,
}  # fmt: skip
REAL_ONLY = ("floor", "ceil", "min", "max", "cbrt", "heaviside", "atan2", "besselj", "bessely", "besseli", "besselk", "ellipk", "ellipe",
             "Si", "Ci", "li", "Shi", "Chi", "fresnels", "fresnelc", "digamma", "zeta", "factorial", "binomial", "acot", "acoth", "beta", "polygamma", "expint", "lambertw_lower",
             "airyai", "airybi", "airyai_prime", "airybi_prime", "ellipf", "jacobiam", "jacobisn", "jacobicn", "jacobidn", "hyp0f1", "hyp1f1", "hyp2f1")  # fmt: skip


def of_real(name):
    """A function of real arguments among complex values; an argument that is not real has no value."""

    def at(*arguments):
        if any(abs(mp.im(u)) > SMALL for u in arguments):
            raise NoValue
        return REAL[name](*map(mp.re, arguments))

    return at


COMPLEX |= {name: of_real(name) for name in REAL_ONLY} | {n: EXPONENTIAL[n] for n in EXPONENTIAL if n in COMPLEX}


_losses_are_told = False


@contextmanager
def losses_told():
    """Inside, a sum in which one term is lost in the other has no value: the lost one may be all that counts near a limit."""
    global _losses_are_told
    _losses_are_told = True
    try:
        yield
    finally:
        _losses_are_told = False


def value(tree, letters, over_complex=False):
    """The value at a point {name: number}; NoValue where there is none (over the reals: none that is real)."""
    kind = tree[0]
    if kind == "number":
        v = tree[1]
        if isinstance(v, complex):
            if not over_complex:
                raise NoValue
            return mp.mpc(v)
        return mp.mpf(v.numerator) / v.denominator
    if kind == "name":
        return CONSTANTS[tree[1]]() if tree[1] in CONSTANTS and tree[1] not in letters else letters[tree[1]]
    if kind == "call" and tree[1] == "polynomial_root":
        return numbered_root(tree[2], int(value(tree[3], {})), over_complex)
    if kind == "call" and tree[1] == "integral_of":
        from hunt.oracle import integral

        ends = [
            mp.inf * (-1 if t[0] == "neg" else 1) if "inf" in str(t) else mp.re(value(t, letters, over_complex)) for t in tree[4:]
        ]
        found = integral(tree[2], tree[3][1], *ends, letters)
        if isinstance(found, str) or found is None:
            raise NoValue
        return found
    if kind == "call" and tree[1] == "root_of":
        return bisected(tree[2], tree[3][1], *(value(t, letters) for t in tree[4:]), letters)
    if kind == "call" and tree[1] == "cases":
        return chosen(tree[2:], letters, over_complex)
    if kind == "call" and tree[1] in ("re", "im"):  # a part of a complex value is real
        return getattr(mp, tree[1])(value(tree[2], letters, True))
    parts = [value(t, letters, over_complex) for t in (tree[2:] if kind == "call" else tree[1:])]
    if kind == "neg":
        return -parts[0]
    if kind == "call":
        return (COMPLEX if over_complex else REAL)[tree[1]](*parts)
    a, b = parts
    if kind == "/":
        return a / nonzero(b)
    if kind == "^":
        if not over_complex:
            return real_power(a, b)
        if abs(a) < SMALL:
            if mp.re(b) > SMALL:
                return mp.mpf(0)
            raise NoValue
        if abs(b * mp.log(a)) > LARGEST:
            raise NoValue
        return mp.power(a, b)
    if _losses_are_told and kind in ("+", "-") and a and b and min(abs(a), abs(b)) < max(abs(a), abs(b)) * mp.eps:
        raise NoValue  # the smaller one is lost in the larger one, and may have been all that counts
    return a + b if kind == "+" else a - b if kind == "-" else a * b


def bisected(tree, x, low, high, letters):
    """The zero of a formula between two ends where it has opposite signs."""
    sign = mp.sign(value(tree, {**letters, x: low}))
    if sign == mp.sign(value(tree, {**letters, x: high})):
        raise NoValue
    for _ in range(280):
        middle = (low + high) / 2
        low, high = (middle, high) if mp.sign(value(tree, {**letters, x: middle})) == sign else (low, middle)
    return (low + high) / 2


def chosen(parts, letters, over_complex):
    """The value of the first case whose condition holds; the last part is what is otherwise."""
    for case, condition in zip(parts[0:-1:2], parts[1::2], strict=False):
        state = holds(condition, letters, over_complex)
        if state is None:
            raise NoValue
        if state:
            return value(case, letters, over_complex)
    if len(parts) % 2 == 0:
        raise NoValue
    return value(parts[-1], letters, over_complex)


def numbered_root(tree, number, over_complex):
    """The roots of a polynomial in x by its values at whole places: real ones ascending, then complex ones."""
    highest = degree(tree)
    nodes = range(highest + 1)
    rows = mp.matrix([[mp.mpf(k) ** j for j in range(highest, -1, -1)] for k in nodes])
    coefficients = mp.lu_solve(rows, mp.matrix([value(tree, {"x": mp.mpf(k)}) for k in nodes]))
    found = mp.polyroots([mp.nint(c * 10**6) / 10**6 for c in coefficients][::-1], maxsteps=500, extraprec=400, asc=True)
    real = sorted(r.real for r in found if abs(mp.im(r)) < 1e-20)
    rest = sorted((r for r in found if abs(mp.im(r)) >= 1e-20), key=lambda r: (float(mp.re(r)), float(mp.im(r))))
    chosen = [*real, *rest][number - 1]
    if mp.im(chosen) and not over_complex:
        raise NoValue
    return chosen


def degree(tree):
    if tree[0] == "^":
        return degree(tree[1]) * int(tree[2][1]) if tree[2][0] == "number" else 0
    if tree[0] in ("number", "name"):
        return int(tree == ("name", "x"))
    inside = [degree(t) for t in tree[1:]]
    return sum(inside) if tree[0] == "*" else max(inside)


def holds(tree, letters, over_complex=False, edge=SMALL):
    """Whether a condition holds at a point; None so near to a border that it cannot be said, or where a side has no value."""
    kind = tree[0]
    if kind in ("and", "or"):
        states = [holds(t, letters, over_complex, edge) for t in tree[1:]]
        decisive = kind == "or"
        return decisive if decisive in states else None if None in states else not decisive
    try:
        a, b = (value(t, letters, over_complex) for t in tree[1:])
    except NoValue:
        return None
    gap = a - b
    size = 1 + abs(a)
    if kind in ("=", "!="):
        return (abs(gap) < 1e-20 * size) == (kind == "=")
    if abs(mp.im(gap)) > 1e-20:
        return None
    gap = mp.re(gap)
    if abs(gap) < edge * size:
        return kind in ("<=", ">=")
    return (gap < 0) == (kind in ("<", "<="))
