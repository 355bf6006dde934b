"""Zeros between two numbers: those that sampling shows must be among those that are called all."""

from __future__ import annotations

from itertools import pairwise
from random import Random

import gelvo
from hunt.equations import line, nested, rational, roots_of, some
from hunt.plain import NoValue, mp, read, value


def task(seed):
    """(formula, lower, upper)"""
    random = Random(seed)
    kind = random.random()
    if kind < 0.35:
        formula = f"{nested(random, False)} - ({rational(random)})"
    elif kind < 0.6:
        formula = f"{some(random, 'sin', 'cos', 'exp', 'tan', 'atan', 'sqrt', 'ln')}({line(random)}) - {line(random)}"
    elif kind < 0.8:
        formula = f"({nested(random, False)})*({line(random)})/({line(random)})"
    else:
        formula = (
            f"{some(random, 'besselj(0, x)', 'erf(x)', 'x*exp(-x)', 'x^3 - 2*x', 'x^4 - 3*x^2')} - ({rational(random, -1, 1)}/2)"
        )
    low = random.randint(-4, 1)
    return formula, low, low + random.randint(1, 4)


def judge(seed):
    formula, low, high = task(seed)
    try:
        with gelvo.time_limit(10):
            found = gelvo.roots_between(formula, "x", low, high)
    except (gelvo.NotSolved, gelvo.TimeLimitReached, gelvo.FormulaError):
        return "open"
    if "besselj" in formula:
        formula = formula.replace("besselj(0, x)", "besselj_0(x)")
    tree = read(formula)
    numbers = [value(read(str(z)), {}) for z in found]
    for z in numbers:
        if not low - 1e-20 <= z <= high + 1e-20:
            return f"WRONG {mp.nstr(z, 8)} is outside"
        try:
            slope = abs(mp.diff(lambda x: value(tree, {"x": x}), z, h=mp.mpf(10) ** -30)) if low < z < high else 1
            off = abs(value(tree, {"x": z}))
        except (NoValue, ZeroDivisionError):
            continue
        if off > 1e-24 * (1 + slope):
            return f"WRONG {mp.nstr(z, 8)} is no zero: {mp.nstr(off, 4)}"
    if any(b - a <= 0 for a, b in pairwise(numbers)):
        return "WRONG they do not rise"
    for place in roots_of([tree, ("number", read("0")[1])], {}):
        if low <= place <= high and not any(abs(place - z) < 1e-15 for z in numbers):
            return f"WRONG {mp.nstr(place, 8)} is missing"
    return "solved"
