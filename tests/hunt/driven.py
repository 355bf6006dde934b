"""Forcing that repeats in sections, and systems made of simple parts that are hidden: random ones held against numbers."""

from __future__ import annotations

from random import Random

import gelvo
from hunt.differential_judge import (
    LETTERS,
    answered,
    free_constants,
    jet_of,
    judged,
    judged_system,
    mp,
    order_of,
    read,
    solved,
    solved_system,
)

REPEATING = (
    "floor({k}*x)", "x - floor(x)", "abs(sin({k}*x))", "sign(cos({k}*x))", "sign(sin({k}*x + pi/3))", "max(sin({k}*x), 0)", "ceil(x/{k})",
    "heaviside(sin(pi*x))", "cases(1 when x - floor(x) < 1/{k}, otherwise 0)", "abs(cos(x/{k}))", "min(cos({k}*x), 0)", "floor(-x)",
)  # fmt: skip
LEFT = (
    "y' + {a}*y", "{b}*y' + y", "y'' + {a}*y", "y'' + {a}*y' + {b}*y", "y'' - {a}*y", "y' - {a}*y", "y''", "y'", "y'' + {a}*y'",
    "y'' + 2*{a}*y' + {a}^2*y",
)  # fmt: skip
SMOOTH = ("", "", " + x", " + exp(-x)", " + sin(x)", " - 2")
INNER = ("{a}*p", "p^2", "-p^2", "1 - p", "p*(1 - p)", "{a}", "p^2 + 1", "1/p")
PARTS = ("{a}*x*y", "{a}*x*y", "{a}*x*y + {b}*x", "x*(1 - y)", "{a}*x + {b}*y", "x^2*y")
TURNS = ("1", "r", "{a}*r + {b}", "1/r", "r^2")
SWELLS = ("0", "r*(1 - r)", "{a}*r", "r*(r - {b})", "-r^2", "r/({a} + r)")
PACES = ("t", "1/t", "cos(t)", "exp(t)", "2*t + 1", "1")
MATRICES = ((1, 2, 2, 1), (0, 1, -1, 0), (2, -1, 3, -2), (1, 1, 0, 1), (0, 1, 1, 0), (1, -2, 1, -1))


def filled(text, random):
    return text.format(a=random.choice((1, 2, 3, "1/2")), b=random.choice((1, 2, 5)), k=random.choice((1, 2, 3)))


def driven(random):
    """A linear equation under a forcing that repeats."""
    left = filled(random.choice(LEFT), random)
    right = filled(random.choice(REPEATING), random) + random.choice(SMOOTH)
    started = random.random() < 0.6
    given = [f"y{chr(39) * k}(0) = {random.choice((0, 1, -1))}" for k in range(order_of(left))] if started else []
    return {"kind": "driven", "equation": f"{left} = {right}", "given": given}


def hidden(random):
    """p' and q' alone, told by x = (p + q)/2 and y = (p - q)/2."""
    one, two = (filled(random.choice(INNER), random) for _ in range(2))
    p, q = gelvo.formula(one.replace("p", "(x + y)")), gelvo.formula(two.replace("p", "(x - y)"))
    return [f"x' = {gelvo.simplify((p + q) / 2)}", f"y' = {gelvo.simplify((p - q) / 2)}"]


def conserved(random):
    f, sign = filled(random.choice(PARTS), random), random.choice(("-1", "1", "-2"))
    return [f"x' = {f}", f"y' = {sign}*({f})"]


def turning(random):
    """r' and the rate of the angle by the radius, told by x and y."""
    swell, turn = (filled(random.choice(words), random).replace("r", "(x^2 + y^2)") for words in (SWELLS, TURNS))
    return [f"x' = x*({swell})/(x^2 + y^2) - y*({turn})", f"y' = y*({swell})/(x^2 + y^2) + x*({turn})"]


def stretched(random):
    a, b, c, d = random.choice(MATRICES)
    pace, mean = random.choice(PACES), random.choice(("0", "0", "1", "t"))
    return [f"x' = ({mean} + {a}*({pace}))*x + {b}*({pace})*y", f"y' = {c}*({pace})*x + ({mean} + {d}*({pace}))*y"]


SYSTEMS = (hidden, conserved, turning, stretched)


def task(seed):
    random = Random(seed)
    if random.random() < 0.5:
        return driven(random)
    kind = random.choice(SYSTEMS)
    started = random.random() < 0.4
    given = ["x(1) = 2", "y(1) = 1/2"] if started else []
    return {"kind": kind.__name__, "equations": kind(random), "unknowns": ["x(t)", "y(t)"], "given": given}


def joints_hold(found, made):
    """Between the sections the solution and its derivatives below the order do not jump."""
    order = order_of(made["equation"])
    tree = read(str(next(iter(found[0].values()))))
    here = {**{n: mp.mpf(v) for n, v in LETTERS.items()}, **{str(c): mp.mpf(k + 1) / 3 for k, c in enumerate(found.constants)}}
    near = mp.mpf(10) ** -20
    for place in (mp.mpf(1), mp.mpf(-2), mp.pi, mp.pi / 2, mp.mpf(1) / 2, mp.mpf(3), mp.pi / 3, mp.mpf(1) / 3):
        sides = [jet_of(tree, {**here, "x": place + side * near}, order - 1) for side in (-1, 1)]
        assert all(abs(a - b) < mp.mpf(10) ** -12 * (1 + abs(a)) for a, b in zip(*sides, strict=True)), (
            str(found),
            mp.nstr(place, 6),
        )


def judge(seed):
    made = task(seed)
    is_system = "equations" in made
    found, said = answered(solved_system if is_system else solved, made, 20)
    if found is None:
        return said
    if len(found.constants) != (0 if made["given"] else 2 if is_system else free_constants(made)):
        return f"WRONG number of constants: {found.constants}"
    try:
        if is_system:
            judged_system(found, made, seed)
        else:
            judged(found, made, seed)
            if "integral_of" not in str(found):
                joints_hold(found, made)
    except AssertionError as told:
        return f"WRONG {str(told)[:200]}"
    return "solved"
