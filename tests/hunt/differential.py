"""Differential equations made by construction; answers differentiated numerically and put back by an evaluator of its own."""

from __future__ import annotations

from fractions import Fraction
from functools import partial
from random import Random

import gelvo
from hunt.equations import rational, shown, some, used
from hunt.plain import NoValue, holds, mp, read, value

LETTERS = ("a", "b", "w", "p")
PRIMES = ("y", "y'", "y''", "y'''")
CONSTANTS = ("C_1", "C_2", "C_3")
STILL = {"n_1": mp.mpf(2), "n_2": mp.mpf(-1)}


def forcing(random, letters):
    """Right sides: polynomials, exponentials, waves, products of them, steps and impulses, with letters now and then."""
    rate = some(random, "1", "2", "-1", "-2", "1/2", *(LETTERS if letters else ()))
    kind = some(random, "none", "none", "constant", "power", "exp", "wave", "product", "step", "impulse", "sum")
    wave = f"{some(random, 'sin', 'cos')}({rate}*t)"
    place = some(random, "1", "2", "0", "1/2")
    return {
        "none": "0", "constant": some(random, "1", "-3", "p/a", *LETTERS) if letters else "2", "power": f"t^{random.randint(1, 2)}",
        "exp": f"exp({rate}*t)", "wave": wave, "product": f"t*exp({rate}*t)" if random.random() < 0.5 else f"exp(-t)*{wave}",
        "step": f"heaviside(t - {place})", "impulse": f"{some(random, '1', '-2', '3')}*dirac_delta(t - {place})",
        "sum": f"{wave} + exp({rate}*t) - 1",
    }[kind]  # fmt: skip


def characteristic(random, letters):
    """The coefficients of a product of planted factors, lowest order first, as texts."""
    order = random.choice((1, 2, 2, 2, 3))
    rows = ["1"]
    while len(rows) <= order:
        letter = some(random, *LETTERS)
        line = some(random, "1", "-1", "2", "-3", "0", *((letter, f"-{letter}", f"1/{letter}") if letters else ()))
        quadratic = [
            some(
                random, "1", "4", "2", "5", "-1", *((f"{letter}^2", letter, f"1/{letter}", f"1/(a*{letter})") if letters else ())
            ),
            some(random, "0", "0", "2", *((f"2*{letter}",) if letters else ())),
            "1",
        ]
        factor = quadratic if len(rows) + 1 <= order and random.random() < 0.5 else [line, "1"]
        rows = [
            " + ".join(f"({rows[i]})*({factor[k - i]})" for i in range(len(rows)) if 0 <= k - i < len(factor))
            for k in range(len(rows) + len(factor) - 1)
        ]
    if letters and random.random() < 0.2:
        rows[-1] = some(random, *LETTERS)
    return rows


def linear(random):
    """(equation, coefficients, right side, stated values, facts)"""
    letters = random.random() < 0.4
    rows, right = characteristic(random, letters), forcing(random, letters)
    equation = " + ".join(f"({c})*{PRIMES[k]}" for k, c in enumerate(rows)) + f" = {right}"
    stated = [f"{PRIMES[k]}(0) = {rational(random, -2, 2)}" for k in range(len(rows) - 1)] if random.random() < 0.4 else []
    given = [f"{n} {some(random, '>', '>', '!=')} 0" for n in LETTERS if n in used(equation) and random.random() < 0.4]
    return equation, rows, right, stated, given


def cauchy(random):
    """Equations with powers of the variable, homogeneous."""
    rows = [some(random, "0", "1", "-1", "4", "-2", "1/4"), f"{some(random, '1', '-1', '3', '-3', '0', '2')}*t", "t^2"]
    return " + ".join(f"({c})*{PRIMES[k]}" for k, c in enumerate(rows)) + " = 0", rows, "0", [], []


def rate(random):
    """(equation y' = rate, the rate, stated values, facts)"""
    f = some(random, "1", "2", "t", "-t", "1/t", "sin(t)", "exp(t)", "t^2", "a")
    g = some(
        random,
        "y",
        "y^2",
        "y^3",
        "1/y",
        "y*(1 - y)",
        "y^2 + 1",
        "y^2 - 1",
        "exp(y)",
        "sqrt(y)",
        "(y - 1)^2",
        "1 + y",
        "cos(y)^2",
        "y*(y - 2)",
    )
    kind = random.random()
    if kind < 0.6:
        text = f"{f}*({g})"
    elif kind < 0.8:
        text = (
            f"{some(random, '1', '-1', '1/t', '-1/t', 't')}*y + {some(random, '1', '-1', 't')}*y^{some(random, '2', '3', '(-1)')}"
        )
    elif kind < 0.9:
        text = f"{some(random, '1', '-2', '1/t', 't')}*y + {some(random, 't', '1', 'exp(t)', 'sin(t)', 't^2')}"
    else:
        text = some(random, "(y/t)^2", "y/t + 1", "y/t + (y/t)^2", "t/y + y/t", "1 + (y/t)^2 + y/t")
    stated = [f"y({some(random, '0', '1', '1', '2')}) = {rational(random, -2, 3)}"] if random.random() < 0.5 else []
    return f"y' = {text}", text, stated, ["a > 0"] if "a" in used(text) and random.random() < 0.5 else []


def solved(equation, stated, given):
    y = gelvo.unknown_function("y", "t")
    with gelvo.time_limit(10):
        found = gelvo.solve(gelvo.formula(equation, names_from=y), y, given=[*stated, *given])
        return found, found.verdict


def points(random, text, given):
    """Numbers for the letters: by chance equal, opposite or zero to each other, as far as the facts allow."""
    letters = [n for n in LETTERS if n in used(text)]
    result = []
    for trial in range(12):
        if len(result) > 3 or (result and not letters):
            break
        at = {n: mp.mpf(random.choice((-2, -1, 1, 2, 3))) / random.choice((1, 2)) for n in letters}
        if not result:  # numbers that no planted root meets
            at = {
                n: mp.mpf(random.choice((-1, 1)) if trial < 6 else 1) * mp.mpf(k) / 17
                for n, k in zip(letters, (11, 29, 43, 61), strict=False)
            }
        if result and trial % 2 and letters:
            one = random.choice(letters)
            at[one] = random.choice((mp.mpf(0), *(at[n] for n in letters), *(-at[n] for n in letters), mp.mpf(1), mp.mpf(2)))
        if all(holds(read(fact), at) for fact in given):
            result.append(at)
    return result


def is_rough(tree):
    """Whether written integrals, which are known to 22 digits, stand in a formula."""
    return "integral_of" in str(tree)


def by_differences(f, place, order):
    """The value and the derivatives by plain differences, to some eight digits."""
    step = mp.mpf(10) ** -5
    if not order:
        return [f(place)]
    low, high = (by_differences(f, place + sign * step, order - 1) for sign in (-1, 1))
    middle = by_differences(f, place, order - 1)
    return [*middle, (high[-1] - low[-1]) / (2 * step)]


def jet(tree, at, t, order):
    """The value and the derivatives at a place that is not a step."""
    if is_rough(tree):
        return by_differences(lambda place: value(tree, {**STILL, **at, "t": place}), t, order)
    found = [mp.re(d) for d in mp.diffs(lambda place: value(tree, {**STILL, **at, "t": place}), t, order)]
    return found


def branches(found, at):
    """The trees of the solutions whose conditions hold at the letters (conditions on the variable are left to the places)."""
    chosen = []
    for k in range(len(found)):
        listed = [read(str(c)) for c in found.conditions_of(k)]
        plain = [c for c in listed if "t" not in used(str(c))]
        timed = [read(str(c)) for c in found.conditions_of(k) if "t" in used(str(c))]
        if all(holds(c, at) for c in plain if not any(n in used(str(c)) for n in CONSTANTS)):
            ((key, formula),) = found[k].items()
            if str(key) == "y(t)":
                chosen.append((read(str(formula)), timed))
    return chosen


def off_the_relation(found, slope, at, random):
    """Where a relation between t and y has another slope than the equation; an empty text where none is seen."""
    for k in range(len(found)):
        ((key, side),) = found[k].items()
        if str(key) == "y(t)":
            continue
        whole = read(f"({str(key).replace('y(t)', 'y')}) - ({side})")
        here = {**at, **dict.fromkeys(CONSTANTS, mp.mpf(1))}
        for _ in range(6):
            t, y = mp.mpf(random.randint(-30, 40)) / 11, mp.mpf(random.randint(-30, 40)) / 13
            try:
                by_t = mp.diff(partial(lambda y, t: value(whole, {**here, "t": t, "y": y}), y), t)  # noqa: B023
                by_y = mp.diff(partial(lambda t, y: value(whole, {**here, "t": t, "y": y}), t), y)  # noqa: B023
                wanted = value(slope, {**here, "t": t, "y": y})
            except (NoValue, ZeroDivisionError):
                continue
            if abs(by_t + wanted * by_y) > 1e-12 * (1 + abs(by_t)):
                return f"WRONG the relation has another slope at {mp.nstr(t, 4)}, {mp.nstr(y, 4)}"
    return ""


def judge_linear(equation, rows, right, stated, given, seed=0):
    random = Random(seed)
    try:
        found, verdict = solved(equation, stated, given)
    except (gelvo.NotSolved, gelvo.TimeLimitReached):
        return "open"
    if verdict == "refuted":
        return "WRONG refuted by its own check"
    weights, force = [read(c) for c in rows], read(right)
    order = len(rows) - 1
    for count, at in enumerate(points(random, equation, given)):
        chosen = branches(found, at)
        if not chosen and not count and found.complete:
            return f"WRONG nothing at {shown(at)}"
        for tree, timed in chosen:
            numbers = {c: mp.mpf(random.randint(-3, 3)) / 2 for c in CONSTANTS}
            places = [mp.mpf(random.randint(-30, 40)) / 11 + mp.mpf(1) / 97 for _ in range(4)]
            for t in places:
                here = {**at, **numbers, "t": t}
                if not all(holds(c, here) for c in timed):
                    continue
                try:
                    jets = jet(tree, {**at, **numbers}, t, order)
                    parts = [value(w, here) * v for w, v in zip(weights, jets, strict=True)]
                    off = sum(parts) - value(force, here)
                except NoValue:
                    return f"WRONG no value at {shown(here)}"
                if abs(off) > (1e-6 if is_rough(tree) else 1e-15) * (1 + max(abs(v) for v in parts)):
                    return f"WRONG residual {mp.nstr(off, 4)} at {shown(here)}"
            if not stated and len(found.constants) == order:
                size = independence(tree, at, found.constants, order, timed)
                if size is not None and size < 1e-25:
                    return f"WRONG the constants are not independent at {shown(at)}"
            for text in stated:
                left, right_side = text.split("=")
                k = left.count("'")
                before = -(mp.mpf(10) ** -35)
                if not all(holds(c, {**at, "t": before}) for c in timed):
                    before = -before
                have = jet(tree, at, before, k)[k]
                if abs(have - value(read(right_side), at)) > 1e-15:
                    return f"WRONG {text} is {mp.nstr(have, 6)} at {shown(at)}"
        if "dirac_delta" in right:
            told = impulse(chosen, at, rows, right, order)
            if told:
                return told
    return "solved"


def impulse(chosen, at, rows, right, order):
    """The jump of the highest derivative but one at the impulse."""
    strength, place = right.split("*dirac_delta(t - ")
    a = value(read(place.rstrip(")")), {})
    lead = value(read(rows[-1]), at)
    for tree, _ in chosen:
        numbers = {c: mp.mpf(1) for c in CONSTANTS}
        whole = {**STILL, **at, **numbers}
        low, high = (side_of(tree, whole, a, order, s) for s in (-1, 1))
        jumps = [h - u for h, u in zip(high, low, strict=True)][:order]
        wanted = [mp.mpf(0)] * (order - 1) + [value(read(strength), {}) / lead]
        if any(abs(j - v) > 1e-12 for j, v in zip(jumps, wanted, strict=True)):
            return f"WRONG jumps {[mp.nstr(j, 5) for j in jumps]} at the impulse, with {shown(at)}"
    return ""


def side_of(tree, at, place, order, side):
    """The value and the derivatives at one side of a place."""
    start = place + side * mp.mpf(10) ** -30
    return [mp.re(d) for d in mp.diffs(lambda t: value(tree, {**at, "t": t}), start, order, direction=side)]


def independence(tree, at, constants, order, timed):
    """The determinant of the solutions of each constant and their derivatives: zero where two of them are the same."""
    t = mp.mpf(17) / 23
    zero = dict.fromkeys(map(str, constants), mp.mpf(0))
    if not all(holds(c, {**at, "t": t}) for c in timed):
        return None
    bare = jet(tree, {**at, **zero}, t, order - 1)
    rows = []
    for c in zero:
        one = jet(tree, {**at, **zero, c: mp.mpf(1)}, t, order - 1)
        rows.append([u - v for u, v in zip(one, bare, strict=True)])
    return abs(mp.det(mp.matrix(rows)))


def judge_rate(equation, text, stated, given, seed=0):
    random = Random(seed)
    try:
        found, verdict = solved(equation, stated, given)
    except (gelvo.NotSolved, gelvo.TimeLimitReached):
        return "open"
    except gelvo.DomainError as told:
        return "open" if stated else f"WRONG error {told}"
    if verdict == "refuted":
        return "WRONG refuted by its own check"
    slope = read(text)
    for at in points(random, equation, given):
        chosen = branches(found, at)
        tried = 0
        for tree, timed in chosen:
            for _ in range(8):
                here = {
                    **at,
                    **{c: mp.mpf(random.randint(-6, 6)) / 2 for c in CONSTANTS},
                    "t": mp.mpf(random.randint(-30, 40)) / 11,
                }
                if not all(holds(c, here) for c in timed):
                    continue
                try:
                    y, moves = jet(tree, here, here["t"], 1)
                    off = moves - value(slope, {**here, "y": y})
                except (NoValue, ZeroDivisionError):
                    continue
                tried += 1
                if abs(off) > (1e-6 if is_rough(tree) else 1e-15) * (1 + abs(moves)) and abs(y) < 1e12:
                    return f"WRONG residual {mp.nstr(off, 4)} at {shown(here)}"
            for given_value in stated:
                left, right = given_value.split("=")
                place = value(read(left.strip()[2:-1]), {})
                try:
                    have = value(tree, {**STILL, **dict.fromkeys(CONSTANTS, mp.mpf(2)), **at, "t": place})
                except NoValue:
                    return f"WRONG no value for {given_value}"
                if abs(have - value(read(right), {})) > 1e-15:
                    return f"WRONG {given_value} is {mp.nstr(have, 6)}"
        told = off_the_relation(found, slope, at, random)
        if told:
            return told
        if found.complete and not stated and chosen and len(chosen) == len(found):
            told = passes(chosen, slope, at, random)
            if told:
                return told
    return "solved" if len(found) else "open"


def passes(chosen, slope, at, random):
    """Whether one of the curves goes through a place of our choice, where the slope is smooth."""
    t, y = mp.mpf(random.choice((3, 5, 8))) / 7, mp.mpf(random.choice((-9, -4, 0, 5, 12))) / 8
    try:
        for near in (-1, 0, 1):
            value(slope, {**at, "t": t, "y": y + mp.mpf(near) / 100})
    except NoValue:
        return ""

    def gap(tree, c):
        try:
            return mp.re(value(tree, {**at, "t": t, "C_1": c})) - y
        except (NoValue, ZeroDivisionError):
            return None

    if "n_1" in str(chosen):
        chosen = [(substituted(tree, n), timed) for tree, timed in chosen for n in range(-3, 4)]
    for tree, _ in chosen:
        tiny = [mp.mpf(10) ** (mp.mpf(-k) / 3) / 4 for k in range(30)]
        large = [20 * mp.mpf(10) ** (mp.mpf(k) / 4) for k in range(1, 40)]
        grid = sorted([mp.mpf(k) / 3 for k in range(-60, 61)] + [sign * c for c in (*tiny, *large) for sign in (1, -1)])
        gaps = [gap(tree, c) for c in grid]
        if any(g is not None and abs(g) < 1e-20 for g in gaps):
            return ""
        for c, d, u, v in zip(grid, grid[1:], gaps, gaps[1:], strict=False):
            if u is None and v is None:
                continue
            if u is None or v is None:  # the edge of what the constant may be
                c, d = edge(partial(gap, tree), *((c, d) if v is None else (d, c)))
                u, v = gap(tree, c), gap(tree, d)
                start = c
                if v is not None and u is not None and u * v > 0:
                    continue
            elif u * v > 0 and min(abs(u), abs(v)) > 1:
                continue
            else:
                start = (c + d) / 2
            if u is not None and v is not None and u * v < 0:
                c, d = halved(partial(gap, tree), c, d, u)
                if (g := gap(tree, c)) is not None and abs(g) < 1e-15:
                    return ""
                continue
            try:
                root = mp.findroot(partial(capped, gap, tree), start, tol=1e-30, maxsteps=40)
            except (ValueError, ZeroDivisionError):
                continue
            if (g := gap(tree, root)) is not None and abs(g) < 1e-15:
                return ""
    return f"WRONG no curve goes through t = {mp.nstr(t, 4)}, y = {mp.nstr(y, 4)} with {shown(at)}"


def substituted(tree, n):
    """A tree with a whole number for its free integer."""
    if tree == ("name", "n_1"):
        return ("neg", ("number", Fraction(-n)))
    return tuple(substituted(t, n) if isinstance(t, tuple) else t for t in tree)


def edge(gap, inside, outside):
    """(the last place with a value, the place beside it where the scan began)."""
    first = inside
    for _ in range(150):
        middle = (inside + outside) / 2
        inside, outside = (inside, middle) if gap(middle) is None else (middle, outside)
    return inside, first


def halved(gap, c, d, u):
    """A bracket of a change of sign, halved until it is tiny."""
    for _ in range(200):
        middle = (c + d) / 2
        g = gap(middle)
        if g is None:
            break
        c, d = (middle, d) if g * u > 0 else (c, middle)
    return c, d


def capped(gap, tree, c):
    found = gap(tree, c)
    return mp.mpf(10) ** 6 if found is None else found


KINDS = {"linear": (linear, judge_linear), "cauchy": (cauchy, judge_linear), "rate": (rate, judge_rate)}


def task(seed):
    """(kind, the task) of a seed."""
    random = Random(seed)
    kind = random.choice(("linear", "linear", "linear", "rate", "rate", "cauchy"))
    return kind, KINDS[kind][0](random)


def judge(seed):
    kind, made = task(seed)
    return KINDS[kind][1](*made, seed)
