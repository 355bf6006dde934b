"""Formula text read and evaluated with nothing but mpmath: an evaluator that shares no code with the library."""

from __future__ import annotations

import re
from fractions import Fraction

import mpmath

mp = mpmath.mp.clone()
mp.dps = 90
TOKENS = re.compile(r"\s*(?:(\d+(?:\.\d*)?(?:[eE][+-]?\d+)?j?|\.\d+j?)|([^\W\d]\w*)|(<=|>=|!=|[-+*/^(),=<>;]))")
SMALL = mp.mpf(10) ** -60


class NoValue(Exception):
    """There is no real value here: a pole, a root of a negative number, 0^0."""


def tokens(text):
    found, place = [], 0
    text = text.split("#")[0].rstrip()
    while place < len(text):
        match = TOKENS.match(text, place)
        if not match:
            raise ValueError(f"cannot read {text[place:]!r}")
        found.append(match.group().strip())
        place = match.end()
    return found


class Reader:
    """A descent over the text: `or`, `and`, comparisons, sums, products, signs, powers."""

    def __init__(self, text):
        self.rest = [*tokens(text), ""]

    def take(self, *words):
        if self.rest[0] in words and self.rest[0]:
            return self.rest.pop(0)
        return None

    def whole(self):
        tree = self.chain("or", lambda: self.chain("and", self.comparison))
        if self.rest[0]:
            raise ValueError(f"left over: {self.rest}")
        return tree

    def chain(self, word, part):
        trees = [part()]
        while self.take(word):
            trees.append(part())
        return trees[0] if len(trees) == 1 else (word, *trees)

    def comparison(self):
        trees, signs = [self.sum()], []
        while sign := self.take("<", "<=", ">", ">=", "=", "!="):
            signs.append(sign)
            trees.append(self.sum())
        pairs = [(s, a, b) for s, a, b in zip(signs, trees, trees[1:], strict=False)]
        return trees[0] if not pairs else pairs[0] if len(pairs) == 1 else ("and", *pairs)

    def sum(self):
        tree = self.product()
        while sign := self.take("+", "-"):
            tree = (sign, tree, self.product())
        return tree

    def product(self):
        tree = self.signed()
        while sign := self.take("*", "/"):
            tree = (sign, tree, self.signed())
        return tree

    def signed(self):
        if self.take("-"):
            return ("neg", self.signed())
        return self.power()

    def power(self):
        base = self.atom()
        return ("^", base, self.signed()) if self.take("^") else base

    def atom(self):
        word = self.rest.pop(0)
        if word == "(":
            tree = self.chain("or", lambda: self.chain("and", self.comparison))
            if not self.take(")"):
                raise ValueError("an open parenthesis")
            return tree
        if word[:1].isdigit() or word[:1] == ".":
            return ("number", complex(0, float(word[:-1])) if word.endswith("j") else Fraction(word))
        if self.take("("):
            arguments = [self.sum()]
            while self.take(","):
                arguments.append(self.sum())
            if not self.take(")"):
                raise ValueError("an open call")
            return ("call", word, *arguments)
        return ("name", word)


def read(text):
    return Reader(text).whole()


def is_whole(v):
    return abs(v - mp.nint(v)) < SMALL


def real_power(a, b):
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


REAL = {
    "sqrt": lambda u: mp.sqrt(above(u, touching=True)), "cbrt": lambda u: mp.sign(u) * mp.cbrt(abs(u)), "exp": mp.exp,
    "ln": lambda u: mp.log(above(u)), "log10": lambda u: mp.log10(above(u)), "log2": lambda u: mp.log(above(u), 2),
    "abs": abs, "sign": mp.sign, "floor": lambda u: mp.nint(u) if is_whole(u) else mp.floor(u), "ceil": lambda u: mp.nint(u) if is_whole(u) else mp.ceil(u), "min": min, "max": max,
    "sin": mp.sin, "cos": mp.cos, "tan": lambda u: mp.sin(u) / nonzero(mp.cos(u)), "cot": lambda u: mp.cos(u) / nonzero(mp.sin(u)),
    "asin": lambda u: mp.asin(between(-1, u, 1)), "acos": lambda u: mp.acos(between(-1, u, 1)), "atan": mp.atan, "atan2": mp.atan2,
    "sinh": mp.sinh, "cosh": mp.cosh, "tanh": mp.tanh, "asinh": mp.asinh, "acosh": lambda u: mp.acosh(above(u, 1, True)),
    "atanh": lambda u: mp.atanh(above(1 - abs(u)) and u), "lambertw": lambda u: mp.lambertw(above(u, -mp.exp(-1), True)).real,
    "lambertw_lower": lambda u: mp.lambertw(between(-mp.exp(-1), u, 0), -1).real, "erf": mp.erf, "besselj_0": lambda u: mp.besselj(0, u), "gamma": mp.gamma,
    "heaviside": lambda u: (1 + mp.sign(u)) / 2, "dirac_delta": lambda u: mp.mpf(0) * nonzero(u), "coth": lambda u: 1 / mp.tanh(nonzero(u)),
    "sec": lambda u: 1 / nonzero(mp.cos(u)), "csc": lambda u: 1 / nonzero(mp.sin(u)), "erfi": mp.erfi, "Ei": lambda u: mp.ei(nonzero(u)),
    "Si": mp.si, "Ci": lambda u: mp.ci(above(u)), "sech": mp.sech, "acot": lambda u: mp.pi / 2 - mp.atan(u),
}  # fmt: skip


def nonzero(v):
    if abs(v) < SMALL:
        raise NoValue
    return v


COMPLEX = {
    "sqrt": mp.sqrt, "exp": mp.exp, "ln": lambda u: mp.log(nonzero(u)), "abs": abs, "conj": mp.conj, "re": mp.re, "im": mp.im, "arg": mp.arg,
    "sin": mp.sin, "cos": mp.cos, "tan": lambda u: mp.sin(u) / nonzero(mp.cos(u)), "atan2": lambda y, x: mp.atan2(mp.re(y), mp.re(x)),
    "sign": lambda u: mp.sign(mp.re(u)), "cbrt": lambda u: mp.sign(mp.re(u)) * mp.cbrt(abs(u)),
    "sinh": mp.sinh, "cosh": mp.cosh, "tanh": mp.tanh, "atan": mp.atan, "asin": mp.asin, "acos": mp.acos,
}  # fmt: skip


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
        if tree[1] == "pi":
            return +mp.pi
        return letters[tree[1]]
    if kind == "call" and tree[1] == "polynomial_root":
        return numbered_root(tree[2], int(value(tree[3], {})), over_complex)
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
        return mp.power(a, b)
    return a + b if kind == "+" else a - b if kind == "-" else a * b


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
