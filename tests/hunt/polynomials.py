"""Polynomials with planted factors and roots: quotients, common divisors, resultants and minimal polynomials held against numbers."""

from __future__ import annotations

import warnings
from itertools import pairwise
from math import prod
from random import Random

import gelvo
from hunt.calculus import NONE, SECONDS, outcome_of
from hunt.equations import some
from hunt.fields import compared
from hunt.formulas import points
from hunt.plain import NoValue, mp, read, value

ALGEBRAIC = (
    "sqrt(2)",
    "sqrt(3)",
    "cbrt(2)",
    "sqrt(1 + sqrt(2))",
    "1/3",
    "(1 + sqrt(5))/2",
    "cos(pi/5)",
    "1j",
    "2^(1/4)",
    "sin(pi/8)",
    "5",
)
NEARLY = mp.mpf(10) ** -20


def polynomial(random, highest=3, letters=()):
    """The coefficients of a polynomial as texts, the highest first; the highest is not zero for generic letters."""
    pool = ("0", "1", "2", "-1", "-3", "1/2", "5", *letters, *(f"({n} - 1)" for n in letters))
    return [some(random, "1", "1", "2", "-3", *letters), *(some(random, *pool) for _ in range(random.randint(1, highest)))]


def written(coefficients):
    highest = len(coefficients) - 1
    return " + ".join(f"({c})*x^{highest - k}" for k, c in enumerate(coefficients))


def roots(coefficients, at):
    row = [value(read(c), at) for c in coefficients]
    while row and not row[0]:
        row.pop(0)
    return row, mp.polyroots(row[::-1], maxsteps=400, extraprec=400, asc=True) if len(row) > 1 else []


def polynomial_task(seed):
    """(operation, rows of coefficients)"""
    random = Random(seed)
    word = some(random, *JUDGES)
    if word == "minimal_polynomial":
        one, other = some(random, *ALGEBRAIC), some(random, *ALGEBRAIC)
        return word, [[some(random, one, f"{one} + {other}", f"{one}*({other})", f"1/({one} + 2)", f"({one})^2 - {other}")]]
    letters = random.choice(((), (), ("a",), ("a", "b"))) if word not in ("gcd", "lcm") else ()
    rows = [polynomial(random, 3, letters) for _ in range(2)]
    if word in ("gcd", "lcm", "resultant", "numerator") and random.random() < 0.6:
        rows.append(polynomial(random, 2, letters if word == "numerator" else ()))  # a factor that both share
    return word, rows


def judge_polynomial(task, seed):
    word, rows = task
    letters = "".join(map(str, rows))
    with gelvo.time_limit(SECONDS):
        try:
            return outcome_of(
                JUDGES[word](rows, at) for at in points(Random(seed), [letters.replace("[", "").replace("'", "")], [], 4)
            )
        except NONE:
            return "open"


def gap(name, told, right, at):
    return compared(name, told, right, at, NEARLY)


def place_of(at):
    return {**at, "x": mp.mpf(37) / 29}


def divided(rows, at):
    p, q = map(written, rows)
    quotient, remainder = map(str, gelvo.divide(p, q, "x"))
    try:
        here = place_of(at)
        parts = [value(read(t), here) for t in (p, q, quotient, remainder)]
        degree = len(rows[1]) - 1
        differences = [value(read(remainder), {**at, "x": mp.mpf(k)}) for k in range(degree + 1)]
    except NoValue:
        return "unknown"  # the leading letter is zero here, which a pair of formulas cannot say
    for _ in range(degree):
        differences = [b - a for a, b in pairwise(differences)]
    if abs(differences[0]) > NEARLY:
        return f"WRONG the remainder {remainder} has the divisor's degree"
    return gap("p = d*q + r", parts[1] * parts[2] + parts[3], parts[0], at)


def products(rows):
    """Both polynomials as texts, times the factor that they share."""
    shared = f"*({written(rows[2])})" if len(rows) > 2 else ""
    return [f"({written(row)}){shared}" for row in rows[:2]]


def shared_roots(rows):
    """How many roots two polynomials with rational coefficients have in common, each as often as in both."""
    lists = [roots(row, {})[1] + (roots(rows[2], {})[1] if len(rows) > 2 else []) for row in rows[:2]]
    count = 0
    for root in lists[0]:
        near = min(lists[1], key=lambda other: abs(other - root), default=None)
        if near is not None and abs(near - root) < mp.mpf(10) ** -12:
            lists[1].remove(near)
            count += 1
    return count


def common(rows, at, multiple=False):
    """Of a divisor: both quotients are polynomials, and its degree is the number of shared roots; of a multiple the other way."""
    p, q = products(rows)
    found = gelvo.lcm(p, q) if multiple else gelvo.gcd(p, q)
    degrees = [int(str(gelvo.degree(t, "x"))) for t in (p, q, str(found))]
    right = shared_roots(rows)
    if degrees[2] != (degrees[0] + degrees[1] - right if multiple else right):
        return f"WRONG degree {degrees[2]} of {found}, where {right} roots are shared"
    tops, bottom = ([str(found)] * 2, (p, q)) if multiple else ((p, q), [str(found)] * 2)
    for top, below in zip(tops, bottom, strict=True):
        values = [
            value(read(top), {"x": mp.mpf(k) + mp.mpf(1) / 7}) / value(read(below), {"x": mp.mpf(k) + mp.mpf(1) / 7})
            for k in range(12)
        ]
        for _ in range(11):
            values = [b - a for a, b in pairwise(values)]
        if abs(values[0]) > NEARLY * 10**6:
            return f"WRONG {below} does not divide {top}"
    return "same"


def resulting(rows, at):
    p, q = products(rows)
    told = value(read(str(gelvo.resultant(p, q, "x"))), at)
    if len(rows) > 2:
        return gap("a resultant with a shared root", told, mp.mpf(0), at)
    (one, first), (other, second) = (roots(row, at) for row in rows)
    if len(one) < len(rows[0]) or len(other) < len(rows[1]):
        return "unknown"  # the degree falls for these letters
    right = one[0] ** len(second) * other[0] ** len(first) * prod((a - b for a in first for b in second), start=mp.mpf(1))
    return gap("resultant", told, right, at)


def discriminated(rows, at):
    told = value(read(str(gelvo.discriminant(written(rows[0]), "x"))), at)
    row, found = roots(rows[0], at)
    if len(row) < len(rows[0]):
        return "unknown"
    pairs = [(found[i] - found[j]) ** 2 for i in range(len(found)) for j in range(i)]
    return gap("discriminant", told, row[0] ** (2 * len(found) - 2) * prod(pairs, start=mp.mpf(1)), at)


def in_powers(rows, at):
    text = f"({written(rows[0])})*({written(rows[1])})"
    told = gelvo.coefficients(text, "x")
    here = place_of(at)
    whole = sum((value(read(str(c)), at) * here["x"] ** k for k, c in told.items()), mp.mpf(0))
    highest = len(rows[0]) + len(rows[1]) - 2
    if max(told) != highest or str(gelvo.degree(text, "x")) != str(highest):
        return f"WRONG degree {max(told)}, not {highest}"
    top = gelvo.leading_coefficient(text, "x")
    return outcome_of(
        (
            gap("coefficients", whole, value(read(text), here), at),
            gap("leading coefficient", value(read(str(top)), at), value(read(f"({rows[0][0]})*({rows[1][0]})"), at), at),
        )
    )


def in_lowest_terms(rows, at):
    p, q = products(rows)
    text = f"({p})/({q})"
    here = place_of(at)
    try:
        told = value(read(f"({gelvo.numerator(text)})/({gelvo.denominator(text)})"), here)
        return gap("a quotient in lowest terms", told, value(read(text), here), at)
    except NoValue:
        return "unknown"


def minimal(rows, at):
    (text,) = rows[0]
    told = str(gelvo.minimal_polynomial(text))
    place = value(read(text), {}, True)
    if abs(value(read(told), {"x": place}, True)) > NEARLY:
        return f"WRONG {told} does not vanish at {text}"
    degree = int(str(gelvo.degree(told, "x")))
    if abs(mp.im(place)) > NEARLY or degree == 1:
        return "same"
    with mp.workdps(60), warnings.catch_warnings():  # of mpmath about its own use of polyroots
        warnings.simplefilter("ignore")
        smaller = mp.findpoly(mp.re(place), degree - 1, maxcoeff=10**4, tol=mp.mpf(10) ** -45)
    return f"WRONG {told} for {text}, a root of {smaller}" if smaller else "same"


JUDGES = {
    "divide": divided, "gcd": common, "lcm": lambda rows, at: common(rows, at, True), "resultant": resulting, "discriminant": discriminated,
    "coefficients": in_powers, "numerator": in_lowest_terms, "minimal_polynomial": minimal,
}  # fmt: skip
