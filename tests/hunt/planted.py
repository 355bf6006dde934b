"""Differential equations with something planted: a potential, a slope of one quotient, a particular solution, a basis of solutions."""

from __future__ import annotations

from random import Random

import gelvo
from hunt.differential_judge import answered, free_constants, judged, solved

PIECES = (
    "x", "y", "x*y", "x^2", "y^2", "x^2*y", "x*y^2", "exp(x)", "exp(y)", "sin(x)", "cos(y)", "x*exp(y)", "y*exp(x)", "sin(x)*y",
    "x*cos(y)", "y/x", "x/y", "ln(x)*y", "y*ln(y)", "x^3", "y^3", "exp(x*y)", "sin(x*y)",
)  # fmt: skip
FACTORS = ("1", "1", "x", "y", "1/x", "1/y", "x*y", "exp(x)", "x^2*y", "y/x")
SLOPES = (
    "w",
    "w^2",
    "1/w",
    "w^2 + 1",
    "(1 + w)/(1 - w)",
    "w + 1/w",
    "exp(w) + w",
    "(2*w + 1)/(w + 2)",
    "w^3",
    "tan(w) + w",
    "(w^2 - 1)/w",
)
COMBINED = ("(w)^2", "sqrt(w)", "exp(w)", "1/(w)", "sin(w)", "cos(w)^2", "(w)/(w + 1)")
SEEN = (
    "x",
    "x^2",
    "exp(x)",
    "exp(-x)",
    "x*exp(x)",
    "sin(x)",
    "cos(x)",
    "1/x",
    "sqrt(x)",
    "x^2 + 1",
    "x^3",
    "exp(2*x)",
    "x*sin(x)",
    "1",
)
LACKING = (
    "y'' = {a}*y'^2", "y'' = {a}*y' + {b}*x", "x*y'' + {a}*y' = {b}*x", "y*y'' = {a}*y'^2", "y'' = {a}*y'*y", "y'' = {a}*y' + {b}*y'^2",
    "y'' + {a}*y'^2/y = 0", "2*y*y'' - y'^2 = {a}",
)  # fmt: skip


def derivative(e, by="x", times=1):
    for _ in range(times):
        found = gelvo.differentiate(e, by)
        e = getattr(found, "expression", found)
    return e


def number(random):
    return random.choice((1, 1, 2, -1, 3, -2))


def potential(random):
    """F_x + F_y*y' = 0, times a factor that hides it."""
    whole = gelvo.formula(" + ".join(f"{number(random)}*{random.choice(PIECES)}" for _ in range(2)))
    by_x, by_y = derivative(whole), derivative(whole, "y")
    factor = gelvo.formula(random.choice(FACTORS))
    return f"({gelvo.simplify(by_x * factor)}) + ({gelvo.simplify(by_y * factor)})*y' = 0" if by_y != 0 else "x + y*y' = 0"


def quotient(random):
    return f"y' = {number(random)}*({random.choice(SLOPES)}) + {random.choice((0, 1, 2))}".replace("w", "(y/x)")


def combination(random):
    inside = f"({number(random)}*x + {number(random)}*y + {random.choice((0, 1, -2))})"
    return f"y' = {random.choice(COMBINED)}".replace("w", inside)


def particular(random):
    """Riccati's equation with a solution that is known."""
    known = gelvo.formula(random.choice(("x", "1/x", "x^2", "2", "exp(x)", "-x", "2/x", "x + 1")))
    linear, square = (
        gelvo.formula(random.choice(words)) for words in (("0", "1", "x", "1/x", "-2"), ("1", "-1", "x", "1/x", "2"))
    )
    return f"y' = ({gelvo.simplify(derivative(known) - linear * known - square * known**2)}) + ({linear})*y + ({square})*y^2"


def basis(random):
    """The linear equation of second order with two solutions that are known."""
    one, two = map(gelvo.formula, random.sample(SEEN, 2))
    bottom = one * derivative(two) - two * derivative(one)
    first = gelvo.simplify(-(one * derivative(two, times=2) - two * derivative(one, times=2)) / bottom)
    last = gelvo.simplify((derivative(one) * derivative(two, times=2) - derivative(two) * derivative(one, times=2)) / bottom)
    return f"y'' + ({first})*y' + ({last})*y = {random.choice(('0', '0', '1', 'x'))}"


def lacking(random):
    return random.choice(LACKING).format(a=number(random), b=number(random))


KINDS = (potential, potential, quotient, combination, particular, basis, lacking)


def task(seed):
    """The equation of a seed, now and then with a stated value."""
    random = Random(seed)
    kind = random.choice(KINDS)
    equation = kind(random)
    stated = kind not in (basis, lacking) and random.random() < 0.3
    return {"id": kind.__name__, "equation": equation, "given": [f"y(1) = {random.choice((1, 2, '1/2'))}"] if stated else []}


def judge(seed):
    made = task(seed)
    found, said = answered(solved, made, 15)
    if found is None:
        return said
    if len(found.constants) != free_constants(made):
        return f"WRONG number of constants: {found.constants}"
    try:
        judged(found, made, seed)
    except AssertionError as told:
        return f"WRONG {str(told)[:200]}"
    return "solved"
