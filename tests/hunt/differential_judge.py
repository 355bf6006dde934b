"""Differential equations y' = …, y'' = … held against numbers: each solution or relation put back by an evaluator of its own."""

from __future__ import annotations

import re
from random import Random

import gelvo
from hunt.plain import NoValue, holds, mp, read, value

LETTERS = {"k": "0.7", "a": "1.9", "b": "0.6", "m": "1.3", "g": "9.1", "r": "0.8", "p": "2.3", "R": "1.7", "L": "0.9", "V": "2.1", "w": "1.4", "c": "0.5", "h": "1.2", "y_0": "0.8", "v_0": "1.1", "n": "1.7", "E": "3.3", "v": "2.6", "A": "0.8", "B": "1.6", "C": "0.6", "T": "1.5", "F": "1.4", "w_0": "2.2", "x_0": "0.9", "q": "1.2", "k_1": "0.9", "k_2": "1.6", "A_0": "1.3", "L_1": "1.1", "L_2": "1.8", "M": "0.5", "I_1": "1.3", "I_3": "2.2", "u": "1.5", "s": "0.4", "j": "1.1", "N_0": "1.9", "O": "0.8", "d": "0.7"}  # fmt: skip
CLOSE = mp.mpf(10) ** -12


def order_of(text):
    return max(len(primes) for primes in re.findall(r"y('+)", text))


def gap(text):
    """The difference of the sides of an equation, the derivatives as names y_1, y_2, …, the function as y_f."""
    left, right = (re.sub(r"\by('*)(?![\w(])", lambda m: f"(y_d{len(m[1])})", side) for side in text.split("="))
    return read(f"({left}) - ({right})")


def places(random):
    return [
        (mp.mpf(random.randint(3, 140)) / 47 + mp.mpf(1) / 10007) * (-1) ** (k % 3 == 2) for k in range(8)
    ]  # no whole numbers


def slope_of(f, place, rough):
    """The derivative; of written integrals, which are known to 22 digits, by a plain difference."""
    step = mp.mpf(10) ** -6
    return (f(place + step) - f(place - step)) / (2 * step) if rough else mp.diff(f, place)


def jet_of(tree, here, order):
    turned = "polynomial_root" in str(tree)
    if "integral_of" in str(tree):
        first = lambda x: value(tree, {**here, "x": x})
        listed = [first(here["x"]), slope_of(first, here["x"], True)]
        return [*listed, slope_of(lambda x: slope_of(first, x, True), here["x"], True)][: order + 1]
    return [mp.re(d) for d in mp.diffs(lambda x: value(tree, {**here, "x": x}, turned), here["x"], order)]


def along(left, here, order):
    """y and its derivatives where left(x, y) is constant, from differences of the relation itself."""

    def f(x, y):
        return value(left, {**here, "x": x, "y_f": y})

    rough = "integral_of" in str(left)

    def slope(x, y):
        return -slope_of(lambda u: f(u, y), x, rough) / slope_of(lambda u: f(x, u), y, rough)

    x, y = here["x"], here["y_f"]
    first = slope(x, y)
    found = [y, first]
    if order == 2:
        found.append(slope_of(lambda u: slope(u, y), x, rough) + first * slope_of(lambda u: slope(x, u), y, rough))
    return found


def residual(equation, jet, here):
    return value(equation, {**here, **{f"y_d{k}": v for k, v in enumerate(jet)}})


def judged(found, task, seed=0):
    """How many places were looked at; an AssertionError where a solution is none."""
    random, order, equation = Random(seed), order_of(task["equation"]), gap(task["equation"])
    letters = {n: mp.mpf(v) for n, v in LETTERS.items()}
    looked = 0
    for k in range(len(found)):
        ((key, formula),) = found[k].items()
        conditions = [read(str(c).replace("y(x)", "y_f")) for c in found.conditions_of(k)]
        is_function = str(key) == "y(x)"
        tree = read(str(formula)) if is_function else read(str(key).replace("y(x)", "y_f") + f" - ({formula})")
        conditions += [read(g) for g in task["given"] if re.fullmatch(r"x\s*[<>]=?\s*\S+", g)]
        own = 0
        for trial in range(4):
            constants = {
                str(c): (-1) ** (trial >> i & 1) * mp.mpf(random.randint(3, 120)) / 41 for i, c in enumerate(found.constants)
            }
            for x in places(random):
                here = {
                    **letters,
                    **constants,
                    "x": x,
                    "n_1": mp.mpf(1),
                    "n_2": mp.mpf(0),
                    "y_f": mp.mpf(random.randint(2, 30)) / 11 + mp.mpf(1) / 97,
                }
                try:
                    if not all(holds(c, here) for c in conditions):
                        continue
                    jet = jet_of(tree, here, order) if is_function else along(tree, here, order)
                    off = residual(equation, jet, here)
                except (NoValue, ZeroDivisionError, ValueError):
                    continue
                size = 1 + max(abs(v) for v in jet)
                if size > 1e9 or not mp.isfinite(off):
                    continue
                close = mp.mpf(10) ** -7 if "integral_of" in str(tree) else CLOSE
                assert abs(off) < close * size**3, (str(found[k]), mp.nstr(off, 5), {n: mp.nstr(v, 5) for n, v in here.items()})
                own += 1
        looked += own
        for given in task["given"]:
            stated = re.fullmatch(r"y('*)\((.+)\)\s*=\s*(.+)", given)
            if stated and is_function:
                at = value(read(stated[2]), letters)
                have = jet_of(tree, {**letters, "x": at + mp.mpf(10) ** -25, "n_1": mp.mpf(1)}, len(stated[1]))[-1]
                assert abs(have - value(read(stated[3]), letters)) < 1e-10, (given, mp.nstr(have, 6))
            elif stated:
                at = {**letters, "x": value(read(stated[2]), letters), "y_f": value(read(stated[3]), letters)}
                assert abs(value(tree, at)) < 1e-10, given
    return looked


def solved(task):
    y = gelvo.unknown_function("y", "x")
    return gelvo.solve(gelvo.formula(task["equation"], names_from=y), y, given=task["given"])


def free_constants(task):
    """How many constants are left free."""
    return order_of(task["equation"]) - sum(g.startswith("y") and "(" in g and "=" in g for g in task["given"])


def answered(solve, made, seconds):
    """(the solutions, "") of a task, or (None, what is said of it)."""
    try:
        with gelvo.time_limit(seconds):
            found = solve(made)
            verdict = found.verdict
    except (gelvo.NotSolved, gelvo.TimeLimitReached):
        return None, "open"
    except gelvo.DomainError as told:
        return None, "open" if made["given"] else f"WRONG error {told}"
    return (None, "WRONG refuted by its own check") if verdict == "refuted" else (found, "")


def judged_system(found, task, seed=0):
    """How many places were looked at; an AssertionError where functions of t do not solve a system together."""
    random = Random(seed)
    names = [u.split("(")[0] for u in task["unknowns"]]
    gaps = [_marked(e, names) for e in task["equations"]]
    orders = {n: max(len(p) for e in task["equations"] for p in re.findall(rf"\b{n}('*)(?!\w)", e)) for n in names}
    looked = 0
    for k in range(len(found)):
        formulas = {str(u).split("(")[0]: read(str(v)) for u, v in found[k].items()}
        conditions = [read(str(c)) for c in found.conditions_of(k)]
        for trial in range(4):
            letters = {n: mp.mpf(v) for n, v in LETTERS.items()}
            constants = {
                str(c): (-1) ** (trial >> i & 1) * mp.mpf(random.randint(3, 120)) / 41 for i, c in enumerate(found.constants)
            }
            for t in places(random)[:4]:
                here = {**letters, **constants, "t": t, "x": t, "n_1": mp.mpf(1)}
                try:
                    if not all(holds(c, here) for c in conditions):
                        continue
                    jets = {n: _jet_in_time(formulas[n], here, orders[n]) for n in names}
                    marked = {**here, **{f"{n}_d{j}": v for n, jet in jets.items() for j, v in enumerate(jet)}}
                    off = [value(g, marked) for g in gaps]
                except (NoValue, ZeroDivisionError, ValueError):
                    continue
                size = 1 + max(abs(v) for jet in jets.values() for v in jet)
                if size > 1e9:
                    continue
                assert all(abs(o) < CLOSE * size**3 for o in off), (str(found[k]), [mp.nstr(o, 5) for o in off])
                looked += 1
        _started_system(formulas, conditions, task)
    return looked


def _marked(text, names):
    """The difference of the sides, x, x', x'' as names x_d0, x_d1, x_d2."""
    for n in names:
        text = re.sub(rf"\b{n}('*)(?![\w(])", lambda m, n=n: f"({n}_d{len(m[1])})", text)
    left, right = text.split("=")
    return read(f"({left}) - ({right})")


def _jet_in_time(tree, here, order):
    return [mp.re(d) for d in mp.diffs(lambda t: value(tree, {**here, "t": t}), here["t"], order)]


def _started_system(formulas, conditions, task):
    letters = {n: mp.mpf(v) for n, v in LETTERS.items()}
    for given in task["given"]:
        stated = re.fullmatch(r"(\w+)('*)\((.+)\)\s*=\s*(.+)", given)
        if not stated:
            continue
        here = {**letters, "t": value(read(stated[3]), letters) + mp.mpf(10) ** -25}
        if not all(holds(c, here) for c in conditions):
            continue
        have = _jet_in_time(formulas[stated[1]], here, len(stated[2]))[-1]
        assert abs(have - value(read(stated[4]), letters)) < 1e-10, (given, mp.nstr(have, 6))


def solved_system(task):
    return gelvo.solve(task["equations"], task["unknowns"], given=task["given"])
