"""Derivatives in several variables, implicit ones, quotients of differences, networks and motion near rest, held against differences."""

from __future__ import annotations

import re
from random import Random

import gelvo
from hunt.calculus import FAULTS, NONE, SECONDS, outcome_of, slope
from hunt.equations import shown, some
from hunt.formulas import letters_of, points, rough, smooth
from hunt.plain import NoValue, mp, read, value

NAMES = ("x", "y", "z")
CLOSE = mp.mpf(10) ** -15


def field(random, letters, make=smooth):
    """A formula of up to three names."""
    parts = [make(random, n, letters, 1) for n in NAMES]
    return some(
        random, f"{parts[0]}*{parts[1]}", f"{parts[0]} + {parts[2]}*{parts[1]}", f"{parts[0]}/({parts[1]} + 2)", "sqrt(x^2 + y^2 + z^2)", "1/(x^2 + y^2)", f"exp({parts[0]}*y)*z", "atan2(y, x)",
        f"abs(x*{parts[1]} - z)", "ln(x^2 + y^2)", "x*y*z", f"sin({parts[0]} + {parts[2]})", "x^y", f"sqrt({parts[0]}^2 + 1)*z", "max(x, y)*z", "sign(x - y)*x", "(x^2 + y^2)^(3/2)/z", "cases(x*y when x > z, otherwise z^2)",
    )  # fmt: skip


def field_task(seed):
    """(operation, formulas)"""
    random = Random(seed)
    word = some(random, *JUDGES)
    letters = letters_of(random)
    if word == "differentiate_implicitly":
        return word, [some(random, *("x^2 + y^2 = a^2", "x*y + exp(y) = 3", "y^3 + y = x", "sin(x*y) = x/4", "x^3 + y^3 = 3*a*x*y", "y = x*exp(-y)", "ln(y) + y*x = 2", "sqrt(x) + sqrt(y) = 2", "abs(y)*y = x", "atan2(y, x) = sqrt(x^2 + y^2)", "y^2 = x^3 - x + 1", "cosh(y) = x + a"))]  # fmt: skip
    if word == "linearize":
        return word, [some(random, "sin(q)*{0}", "q + q^3*{0}", "(exp(q) - 1)*{0}", "tan(q)/{0}", "q*cos(p)*{0} + p", "abs(q)*q + p*{0}", "q/(1 + p^2) - {0}*p").format(some(random, "a", "2", "b^2")) for _ in range(2)]  # fmt: skip
    if word == "transfer_function":
        one, two, three = (some(random, "R", "s*L", "1/(s*C)", "R + s*L", "R/(1 + s*R*C)", "2", "r") for _ in range(3))
        return word, [one, two, three]
    if word == "difference_quotient":
        return word, [some(random, "x^3 - 2*x", "1/x", "1/(x^2 + 1)", "(x + 1)/(x - 2)", "x^5", "a*x^2 + b*x", "sqrt(x)", "exp(x)", "x/(x + a)", "sin(x)")]  # fmt: skip
    return word, [field(random, letters, some(random, smooth, smooth, rough)) for _ in range(3)]


def judge_field(task, seed):
    word, texts = task
    return judged(ASKED[word], JUDGES[word], texts, seed, 8, lambda random: {n: anywhere(random) for n in "xyzsRLCr"})


def anywhere(random):
    return mp.mpf(random.randint(-50, 50)) / 17 + mp.mpf(1) / 101


def judged(ask, judge, texts, seed, tries, places):
    """What `judge` says of the answer at random numbers for the letters, and at so many `places` each."""
    with gelvo.time_limit(SECONDS):
        try:
            found = ask(texts)
        except (*NONE, gelvo.ExportError):
            return "open"
    if found is None or "derivative_of" in str(found):
        return "open"
    random = Random(seed)

    def told():
        for at in points(random, texts, [], 2):
            for _ in range(tries):
                try:
                    yield judge(found, texts, {**at, **places(random)})
                except FAULTS:
                    continue

    return outcome_of(told())


def compared(name, told, right, here, nearly=CLOSE):
    if abs(told - right) > nearly * (1 + abs(right)):
        return f"WRONG {name}: {mp.nstr(told, 10)} for {mp.nstr(right, 10)} at {shown(here)}"
    return "same"


def partial(text, name, here, twice=None):
    """A first or second derivative by central differences."""
    tree = read(text)
    first = lambda place: slope(lambda v: value(tree, {**place, name: v}), place[name])
    return first(here) if twice is None else _again(tree, name, twice, here)


def _again(tree, name, other, here):
    if name == other:
        return slope(lambda v: value(tree, {**here, name: v}), here[name], 2)
    found = []
    with mp.workdps(140):
        for h in (mp.mpf(10) ** -30, mp.mpf(10) ** -31):
            corners = {
                (i, j): value(tree, {**here, name: here[name] + i * h, other: here[other] + j * h})
                for i in (1, -1)
                for j in (1, -1)
            }
            found.append((corners[1, 1] - corners[1, -1] - corners[-1, 1] + corners[-1, -1]) / (4 * h * h))
    if abs(found[0] - found[1]) > mp.mpf(10) ** -20 * (1 + abs(found[1])):
        raise NoValue
    return found[1]


def same_table(found, right, here):
    """A matrix, or one formula, beside its numbers row by row."""
    rows = getattr(found, "entries", [[found]])
    return outcome_of(
        compared(f"entry {i + 1}, {j + 1}", value(read(str(entry)), here), right[i][j], here)
        for i, row in enumerate(rows)
        for j, entry in enumerate(row)
    )  # fmt: skip


def rotation_of(texts, here):
    d = [[partial(t, n, here) for n in NAMES] for t in texts]
    return [[d[2][1] - d[1][2]], [d[0][2] - d[2][0]], [d[1][0] - d[0][1]]]


def implicit(found, texts, here):
    """Beside the slope of the curve: -F_x/F_y at a point of it, found by Newton's method from here."""
    left, right = texts[0].split(" = ")
    tree = read(f"({left}) - ({right})")
    try:
        y = mp.findroot(lambda v: value(tree, {**here, "y": v}), here["y"])
    except (ValueError, ZeroDivisionError, NoValue):
        return "unknown"
    at = {**here, "y": mp.re(y)}
    text = f"({left}) - ({right})"
    told = value(read(re.sub(r"y\(x\)", "y", str(found))), at)
    return compared("dy/dx", told, -partial(text, "x", at) / partial(text, "y", at), here)


def quotient(found, texts, here):
    tree, h = read(texts[0]), mp.mpf(3) / 7
    right = (value(tree, {**here, "x": here["x"] + h}) - value(tree, here)) / h
    return compared("the quotient of differences", value(read(str(found)), {**here, "h": h}), right, here)


def network(texts):
    one, two, three = texts
    return gelvo.transfer_function([f"u = ({one})*i + v", "i = j + k", f"v = ({two})*j", f"v = ({three})*k"], "v", "u", ["i", "j", "k", "v"])  # fmt: skip


def divider(found, texts, here):
    one, two, three = (value(read(t), here) for t in texts)
    both = two * three / (two + three)
    return compared("v/u", value(read(str(found)), here), both / (one + both), here)


def near_rest(texts):
    return gelvo.linearize([f"q'' = -({texts[0]}) - p'", f"p'' = -({texts[1].replace('q', 'Q').replace('p', 'q').replace('Q', 'p')})".replace("exq", "exp")], {}, ["q(t)", "p(t)"])  # fmt: skip


def stiffness(found, texts, here):
    other = texts[1].replace("exp", "EXP").replace("q", "Q").replace("p", "q").replace("Q", "p").replace("EXP", "exp")
    still = {**here, "q": mp.mpf(0), "p": mp.mpf(0)}
    order = [str(s) for s in found.states]
    right = [[mp.mpf(0)] * 4 for _ in order]
    for i, state in enumerate(order):
        if not state.endswith("_dot"):
            right[i][order.index(f"{state}_dot")] = mp.mpf(1)
            continue
        text = texts[0] if state.startswith("q") else other
        for n in "qp":
            right[i][order.index(n)] = -partial(text, n, still)
        if state.startswith("q"):
            right[i][order.index("p_dot")] -= 1
    return same_table(found.A, right, here)


ASKED = {
    "gradient": lambda texts: gelvo.gradient(texts[0], NAMES),
    "hessian": lambda texts: gelvo.hessian(texts[0], NAMES),
    "laplacian": lambda texts: gelvo.laplacian(texts[0], NAMES),
    "divergence": lambda texts: gelvo.divergence(texts, NAMES),
    "curl": lambda texts: gelvo.curl(texts, NAMES),
    "jacobian": lambda texts: gelvo.jacobian(texts, NAMES),
    "differentiate_implicitly": lambda texts: gelvo.differentiate_implicitly(texts[0], "y", "x"),
    "difference_quotient": lambda texts: gelvo.difference_quotient(texts[0], "x", "h"),
    "transfer_function": network,
    "linearize": near_rest,
}
JUDGES = {
    "gradient": lambda found, texts, here: same_table(found, [[partial(texts[0], n, here)] for n in NAMES], here),
    "hessian": lambda found, texts, here: same_table(found, [[partial(texts[0], n, here, m) for m in NAMES] for n in NAMES], here),
    "laplacian": lambda found, texts, here: same_table(found, [[sum(partial(texts[0], n, here, n) for n in NAMES)]], here),
    "divergence": lambda found, texts, here: same_table(found, [[sum(partial(t, n, here) for t, n in zip(texts, NAMES, strict=True))]], here),
    "curl": lambda found, texts, here: same_table(found, rotation_of(texts, here), here),
    "jacobian": lambda found, texts, here: same_table(found, [[partial(t, n, here) for n in NAMES] for t in texts], here),
    "differentiate_implicitly": implicit,
    "difference_quotient": quotient,
    "transfer_function": divider,
    "linearize": stiffness,
}  # fmt: skip
