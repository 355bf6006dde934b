"""Rewritings, values, facts, numeric functions and equations of motion of random formulas, held against numbers."""

from __future__ import annotations

import re
from random import Random

import gelvo
from hunt.calculus import FAULTS, SECONDS, applies, asked
from hunt.equations import shown, some
from hunt.formulas import LETTERS, complex_valued, facts_of, letters_of, line, points, rough, smooth
from hunt.plain import NoValue, holds, mp, read, value

# operation -> further arguments to choose from
REWRITINGS = {
    "simplify": [()], "expand": [()], "factor": [()], "collect": [("x",)], "combine": [("logarithms",), ("fractions",), ("powers",)], "common_denominator": [()], "rationalize_denominator": [()],
    "partial_fractions": [("x",)], "amplitude_phase": [("x",)], "complete_square": [("x",)],
    "express": [(w,) for w in ("exponentials", "sin, cos", "sinh, cosh", "tan", "tan of half angles", "waves", "logarithms", "gamma", "factorials", "sign", "real and imaginary parts", "radicals")],
}  # fmt: skip


def rewritten_formula(random, word, letters):
    u, v = line(random, "x", letters), line(random, "x", letters)
    special = {
        "amplitude_phase": lambda: f"{some(random, '2', 'a', '-1')}*sin({u}) + {some(random, '3', 'b')}*cos({u})",
        "complete_square": lambda: f"{some(random, '2*', '', 'a*')}x^2 + {some(random, '3', 'b')}*x + {some(random, '1', 'p')}",
        "partial_fractions": lambda: f"({u}*{v} + 1)/({u}*{v}*({line(random, 'x', letters)}))",
    }
    if word in special:
        return special[word]()
    pieces = [
        f"sqrt({u}^2)", f"ln({u}) + ln({v})", f"sqrt({u})*sqrt({v})", f"exp({u})^(1/2)", f"({u}*{v})^(1/2)", f"sin({u})^2 + cos({u})^2", f"1/({u} + sqrt({v}))", f"abs({u}*{v})", f"({u}^2)^(3/2)", f"atan({u}) + atan(1/{u})",
        f"ln({u}^2)", f"ln(exp({u}))", f"acos(cos({u}))", f"sign({u})*abs({v})", f"tanh({u})", f"cosh({u})^2 - sinh({u})^2", f"sqrt({u}^2*{v})", f"exp(ln({u})*{v})", f"({u})^x*({v})^x", f"1/sqrt({u}) - sqrt({v})/{u}", f"asin(sin({u}))",
        f"(1 + 1j*{u})/(2 - 1j*x)", f"abs({u} + 1j*{v})", f"re(exp(1j*{u})*{v})", f"arg({u})", "gamma(x + 1)/gamma(x)", "factorial(x)/factorial(x - 1)", f"floor({u})", f"max({u}, {v})", f"heaviside({u})*{v}", f"atan2({u}, {v})", "sqrt(sin(x)^2)",
    ]  # fmt: skip
    kind = random.random()
    if kind < 0.6:
        return some(
            random,
            some(random, *pieces),
            f"{some(random, *pieces)} {some(random, '+', '-', '*')} {some(random, *pieces)}",
            f"({some(random, *pieces)})/({some(random, *pieces)})",
        )
    return some(random, smooth, smooth, rough, complex_valued)(random, "x", letters)


def rewriting_task(seed):
    """(operation, formula, further arguments, facts)"""
    random = Random(seed)
    word = some(random, *REWRITINGS, "simplify", "simplify", "simplify", "express", "substitute", "equal")
    letters = letters_of(random)
    text = rewritten_formula(random, word, letters)
    given = facts_of(random, text, share=0.5)
    if random.random() < 0.3:
        given.append(f"x {some(random, '>', '<', '>', '!=')} {some(random, '0', '0', '1', *letters)}")
    return word, text, some(random, *REWRITINGS.get(word, [()])), given


def judge_rewriting(task, seed):
    word, text, extra, given = task
    random = Random(seed)
    if word == "equal":
        return judge_equal(text, given, random)
    if word == "substitute":
        return judge_substitution(text, random)
    found = asked(getattr(gelvo, word), text, *extra, given=given)
    if found is None:
        return "open"
    return same_values(text, found[0], found[1], given, random, bare=not hasattr(found[2], "conditions"))


def same_values(before, after, conditions, given, random, bare=False):
    """bare: whether the result can carry no conditions, so that its letters are generic."""
    original, result = read(before), read(after)
    seen = 0
    plain = [g for g in given if "x" not in re.findall(r"[^\W\d]\w*", g)]
    for at in points(random, [before, *given], plain, 4):
        for _ in range(5):
            here = {**at, "x": mp.mpf(random.randint(-60, 60)) / 17 + mp.mpf(1) / 101}
            if not all(holds(read(g), here) for g in given) or not applies(conditions, here):
                continue
            try:
                truth = value(original, here, True)
            except FAULTS:
                continue
            try:
                told = value(result, here, True)
            except FAULTS:
                if bare:
                    continue
                return f"WRONG {after} has no value at {shown(here)}, where the formula is {mp.nstr(truth, 6)}"
            if abs(told - truth) > mp.mpf(10) ** -25 * (1 + abs(truth)):
                return f"WRONG {after} is {mp.nstr(told, 8)}, not {mp.nstr(truth, 8)}, at {shown(here)}"
            seen += 1
    return "solved" if seen else "open"


def judge_equal(text, given, random):
    """True and False of `equal`, for a formula beside itself rewritten by hand, and beside something near it."""
    other = some(
        random,
        text,
        f"({text}) + {some(random, '0', 'x - x', '1/10^12', 'x/10^9')}",
        f"-(-({text}))",
        text.replace("^2", "*1^2"),
        rewritten_formula(random, "simplify", ()),
    )
    with gelvo.time_limit(SECONDS):
        try:
            told = gelvo.equal(text, other, given=given)
        except (gelvo.Undecided, gelvo.DomainError, gelvo.FormulaError):
            return "open"
    said = same_values(text, other, [], given, random)
    if told and said.startswith("WRONG"):
        return f"WRONG called equal to {other}: {said}"
    return "solved"


def judge_substitution(text, random):
    inner = some(random, "2*y + 1", "y^2", "-y", "1/y", "a*y", "1/2", "exp(y)")
    found = asked(gelvo.substitute, text, {"x": inner})
    if found is None:
        return "open"
    original, inside, result = read(text), read(inner), read(found[0])
    seen = 0
    for at in points(random, [text, inner], [], 3):
        for _ in range(3):
            here = {**at, "y": mp.mpf(random.randint(-60, 60)) / 17 + mp.mpf(1) / 101}
            try:
                truth = value(original, {**here, "x": value(inside, here, True)}, True)
                told = value(result, here, True)
            except FAULTS:
                continue
            if abs(told - truth) > mp.mpf(10) ** -25 * (1 + abs(truth)):
                return f"WRONG {found[0]} is {mp.nstr(told, 8)}, not {mp.nstr(truth, 8)}, at {shown(here)}"
            seen += 1
    return "solved" if seen else "open"


# --- values, facts, numeric functions -----------------------------------------------------------------------------------------

SPECIAL = ("gamma({0})", "erf({0})", "besselj(1, {0})", "zeta({0} + 2)", "Ei({0})", "Si({0})", "Ci({0})", "digamma({0})", "lambertw({0})", "ellipk({0}/9)", "li({0})", "erfc({0})", "loggamma({0})", "polylog(2, {0}/9)", "cbrt({0})", "floor({0})", "beta({0}, 2)", "factorial({0})", "exp(-{0}^2)*erfi({0})", "fresnels({0})", "log10({0})", "Shi({0})", "besselk(0, {0})", "bessely(1, {0})", "besseli(2, {0})")  # fmt: skip


def value_task(seed):
    """(a formula without names, digits)"""
    random = Random(seed)
    place = some(random, "2", "1/2", "3/4", "7", "pi", "sqrt(2)", "1/3", "5/2", "exp(1)", "2/7", "-3/2", "10")
    text = smooth(random, "x", (), 2) if random.random() < 0.6 else some(random, *SPECIAL).format("x")
    if random.random() < 0.3:
        text = f"({text}) {some(random, '+', '-', '*')} ({some(random, *SPECIAL).format('x')})"
    return re.sub(r"\bx\b", f"({place})", text), random.choice((5, 15, 15, 20, 30, 50))


def judge_value(task, seed):
    text, digits = task
    with gelvo.time_limit(SECONDS):
        try:
            told = gelvo.value(text, digits)
        except (gelvo.DomainError, gelvo.Undecided, gelvo.FormulaError):
            return "open"
    try:
        truth = value(read(text), {}, True)
        with mp.workdps(200):
            finer = value(read(text), {}, True)
    except FAULTS:
        return "open"
    if abs(truth - finer) > abs(truth) * mp.mpf(10) ** (-5 - digits):
        return "open"  # digits cancel: a root of zero among them
    parts = [(told.real, mp.re(truth)), (told.imag or "0", mp.im(truth))]
    for said, right in parts:
        off = abs(mp.mpf(str(said)) - right)
        if off > mp.mpf(10) ** (1 - digits) * abs(right) and off > mp.mpf(10) ** -70:
            return f"WRONG {said} for {mp.nstr(right, digits + 5)}"
    return "solved"


def fact_task(seed):
    """(fact, facts)"""
    random = Random(seed)

    def side():
        return some(
            random, "0", "0", "1", "2", "-1", *LETTERS[:3], "a*b", "a + b", "a - b", "a^2", "b^2", "a*b - b^2", "1/a", "sqrt(a)",
            "a^2 + b^2", "a/b", "abs(a)", "abs(a - 1)", "abs(b)", "a^3", "exp(a)", "(a - b)^2", "2*a*b", "sin(a)",
            "sqrt(a + b)", "sqrt(a^2 - 1)", "a - sqrt(b)", "sqrt(a - b) + 1", "2^a", "ln(a)", "ln(b) - 1", "a^b", "exp(b) - 1", "(a - b)/(a + b)", "p", "a - p", "b*p - a^2", "a + sqrt(a^2 - b*p)",
        )  # fmt: skip

    def fact():
        return f"{side()} {some(random, '<', '<=', '>', '>=', '!=', '>', '>')} {side()}"

    return fact(), [fact() for _ in range(random.randint(1, 3))]


def judge_fact(task, seed):
    fact, given = task
    with gelvo.time_limit(SECONDS):
        try:
            told = gelvo.is_known(fact, given=given)
        except (gelvo.DomainError, gelvo.FormulaError):
            return "open"
    if told is None:
        return "open"
    random = Random(seed)
    asked_tree, trees = read(fact), [read(g) for g in given]
    for _ in range(400):
        at = {n: mp.mpf(random.randint(-12, 12)) / random.choice((1, 2, 3, 5)) for n in LETTERS}
        if all(holds(t, at) for t in trees) and (state := holds(asked_tree, at)) is not None and state is not told:
            return f"WRONG {told}, at {shown({n: at[n] for n in LETTERS[:3]})}"
    return "solved"


def numeric_task(seed):
    """(formula,)"""
    random = Random(seed)
    return (smooth(random, "x", (), 3) if random.random() < 0.7 else rough(random),)


def judge_numeric(task, seed):
    (text,) = task
    try:
        with gelvo.time_limit(SECONDS):
            work = gelvo.numeric_function(text, ["x"])
    except (gelvo.DomainError, gelvo.ExportError, gelvo.FormulaError):
        return "open"
    if "floor" in text:
        return "open"  # a rounded argument may fall on the other side of a jump
    random, tree = Random(seed), read(text)
    places = [random.randint(-60, 60) / 17 + 1 / 101 for _ in range(6)]
    found = work(places)
    if len(found) != 6:
        return "WRONG the shape of the argument is lost"
    seen = 0
    for place, told in zip(places, found, strict=True):
        try:
            here = mp.mpf(place)
            truth = value(tree, {"x": here})
            moved = [value(tree, {"x": here * (1 + s * mp.mpf(10) ** -12)}) for s in (1, -1)]
        except FAULTS:
            continue
        slack = mp.mpf("1e-7") + 1e-6 * abs(truth) + 100 * max(abs(m - truth) for m in moved)
        if abs(truth) > mp.mpf(10) ** 300 or not abs(complex(told)) < float("inf"):
            continue  # too large for a double, here or on the way
        if not abs(mp.mpf(complex(told).real) - truth) <= slack:
            return f"WRONG {told} for {mp.nstr(truth, 12)} at x = {place}"
        seen += 1
    return "solved" if seen else "open"


# --- equations of motion ------------------------------------------------------------------------------------------------------


def motion_task(seed):
    """(kinetic energy, potential energy, coordinates)"""
    random = Random(seed)
    kinetic = some(random, "m*q'^2/2", "m*(q'^2 + s'^2)/2", "m*(q'^2 + q^2*s'^2)/2", "m*q'^2/2 + m*q'*s'*cos(q - s) + m*s'^2", "m*q'^2*(1 + q^2)/2", "m*(q' + w*cos(w*t))^2/2", "(m + a*t)*q'^2/2", "m*q'^2/2 + a*q'*s", "m*(q'^2 + w^2*sin(q)^2)/2 + s'^2/2")  # fmt: skip
    potential = some(random, "k*q^2/2", "-m*g*cos(q)", "k*(q - s)^2/2", "a/q", "k*q^2/2 - a*q*cos(w*t)", "k*q^4 + g*s", "-a*exp(-q^2)", "k*(sqrt(1 + q^2) - 1)^2/2", "0", "k*q^2*s")  # fmt: skip
    return kinetic, potential, ["q", "s"] if "s" in re.findall(r"[a-z]+", f"{kinetic} {potential}") else ["q"]


def judge_motion(task, seed):
    """The equations along random polynomial motions against d/dt(dL/dq') - dL/dq by differences."""
    kinetic, potential, coordinates = task
    t = gelvo.variable("t")
    functions = [gelvo.unknown_function(c, t) for c in coordinates]
    with gelvo.time_limit(SECONDS):
        motion = gelvo.equations_of_motion(kinetic, potential, functions)
    random = Random(seed)
    letters = {n: mp.mpf(random.randint(3, 40)) / 17 for n in "mkgaw"}
    paths = {c: [mp.mpf(random.randint(-20, 20)) / 13 for _ in range(4)] for c in coordinates}
    lagrangian = read(plain(f"({kinetic}) - ({potential})"))
    place = mp.mpf(random.randint(3, 20)) / 19

    def jets(time):
        rows = {}
        for c, row in paths.items():
            rows[c] = row[0] * time**3 + row[1] * time**2 + row[2] * time + row[3]
            rows[f"{c}_1"] = 3 * row[0] * time**2 + 2 * row[1] * time + row[2]
            rows[f"{c}_2"] = 6 * row[0] * time + 2 * row[1]
        return {**letters, **rows, "t": time}

    def partial(name, time):
        here, h = jets(time), mp.mpf(10) ** -25
        return (value(lagrangian, {**here, name: here[name] + h}) - value(lagrangian, {**here, name: here[name] - h})) / (2 * h)

    for c, equation in zip(coordinates, motion.equations, strict=True):
        h = mp.mpf(10) ** -15
        truth = (partial(f"{c}_1", place + h) - partial(f"{c}_1", place - h)) / (2 * h) - partial(c, place)
        try:
            told = value(read(plain(str(equation.left - equation.right))), jets(place))
        except NoValue:
            return "open"
        if abs(told - truth) > mp.mpf(10) ** -15 * (1 + abs(truth)) and abs(told + truth) > mp.mpf(10) ** -15 * (1 + abs(truth)):
            return f"WRONG {mp.nstr(told, 8)} for {mp.nstr(truth, 8)}: the equation of {c}"
    return "solved"


def plain(text):
    """q''(t) as q_2, q' as q_1, q(t) as q."""
    for c in ("q", "s"):
        for k in (2, 1):
            text = re.sub(rf"\b{c}{chr(39) * k}(\(t\))?", f"{c}_{k}", text)
        text = text.replace(f"{c}(t)", c)
    return text
