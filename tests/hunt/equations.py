"""Equations with planted roots: made by construction, solved by the library, judged by an evaluator of its own."""

from __future__ import annotations

import re
from itertools import product
from random import Random

import gelvo
from hunt.plain import NoValue, holds, mp, read, value

LETTERS = ("a", "b", "c")
WINDOW = 9


def rational(random, low=-4, high=4, whole=0.75):
    n = random.randint(low, high)
    return str(n) if random.random() < whole else f"{n}/{random.choice((2, 3))}"


def some(random, *texts):
    return random.choice(texts)


def line(random, x="x", letters=False):
    """A linear formula of x, with letters now and then."""
    slope = random.choice(("1", "1", "2", "-1", "3", "1/2", *(LETTERS if letters else ())))
    rest = random.choice((*(str(k) for k in range(-4, 5)), *(LETTERS if letters else ())))
    return f"({slope}*{x} + ({rest}))"


def unary(random, u):
    kind = random.choice(
        "exp ln sqrt abs sin cos tan asin atan sinh cosh tanh square cube root inverse inverse2 quad cbrt".split()
    )
    plain = {
        "square": f"{u}^2",
        "cube": f"{u}^3",
        "root": f"{u}^(2/3)",
        "inverse": f"1/{u}",
        "inverse2": f"{u}^(-2)",
        "quad": f"({u}^2 - {u})",
    }
    return plain.get(kind, f"{kind}({u})")


def nested(random, letters):
    g = line(random, letters=letters)
    for _ in range(random.choice((1, 1, 2))):
        g = f"({rational(random, 1, 3)}*{unary(random, g)} + ({rational(random)}))"
    return g


def planted(random, letters):
    """f(x) = f(r), with the right side as a number where it is one, else as the formula at r."""
    f, r = nested(random, letters), rational(random)
    return f"{f} = {f.replace('x', f'({r})') if 'exp' not in f else f.replace('exp', 'E').replace('x', f'({r})').replace('E', 'exp')}"


def radicals(random, letters):
    a, b = line(random), line(random, letters=letters)
    return f"sqrt({a}) {some(random, '+', '-')} sqrt({b}) = {some(random, rational(random, 0, 5), line(random), *(('a',) if letters else ()))}"


def bars(random, letters):
    a, b = line(random, letters=letters), line(random)
    return f"abs({a}) {some(random, '+', '-', '- 2*')} abs({b}) = {some(random, rational(random, -2, 6), line(random, letters=letters))}"


def exponentials(random, letters):
    c = some(random, *(LETTERS if letters else ()), *map(str, range(-5, 6)))
    return some(
        random,
        f"exp(2*x) + ({rational(random)})*exp(x) = {c}", f"exp(x) + ({rational(random)})*exp(-x) = {c}", f"2^x + ({rational(random)})*4^x = {c}",
        f"x*exp({rational(random, 1, 2)}*x) = {c}", f"{line(random)}*exp(x) = {c}", f"x*ln({line(random)}) = 0", f"cosh(x) = {c}", f"3^{line(random)} = {c}",
    )  # fmt: skip


def logarithms(random, letters):
    a, b = line(random, letters=letters), line(random)
    right = some(random, "0", "1", "ln(2)", "ln(3)", *(("a",) if letters else ()))
    return f"ln({a}) {some(random, '+', '-')} ln({b}) = {right}"


def waves(random, letters):
    a, b, c = (some(random, *map(str, range(-3, 4)), *(LETTERS if letters else ())) for _ in range(3))
    return some(
        random,
        f"({a})*sin(x) + ({b})*cos(x) = {c}", f"sin(x)^2 + ({a})*cos(x) = {c}", f"sin(2*x) = ({a})*cos(x)", f"tan(x)^2 + ({a})*tan(x) = {c}",
        f"cos({line(random)}) = {some(random, '0', '1/2', '-1', '1', '2', 'sqrt(3)/2')}", f"sin(x)*cos(x) = {some(random, '1/4', '1/2', '1', '0')}",
        f"({a})*sin(x)^2 + ({b})*cos(x)^2 = {c}", "sin(1/x) = 0", f"cos(x)^2 - sin(x)^2 = {c}",
    )  # fmt: skip


def quotients(random, letters):
    a, b, c = (line(random, letters=letters) for _ in range(3))
    return some(
        random,
        f"{a}*{b}/{c} = 0", f"{a}/{b} = {rational(random)}", f"1/{a} + 1/{b} = {rational(random)}", f"({a}^2 - {b}^2)/{a} = 0", f"{a}/{a} = {rational(random)}",
        f"{a}*{b} = {a}*{c}",
    )  # fmt: skip


def powers(random, letters):
    a, b = line(random), line(random)
    return some(
        random,
        f"x^({some(random, 2, 3, 4, 5, '2/3', '3/2', '1/3', -2, '4/3', '-1/2')}) = {rational(random, -4, 16)}", f"{a}^{b} = 1", f"{a}^{b} = {a}",
        f"{a}^(2*x) = {b}^(2*x)", f"({rational(random, -3, 4)})^x = {rational(random, -9, 9)}", f"x^x = {rational(random, 1, 4)}", "x^4 - 5*x^2 + 4 = 0",
        f"x^3 + ({rational(random)})*x = {rational(random)}", f"{a}^({rational(random, 2, 4)}) = {b}^({rational(random, 2, 4)})", f"2^x = x^2 + ({rational(random, -1, 1)})*x^2",
    )  # fmt: skip


def exponents(random, letters):
    """Powers whose exponent is a letter or moves, and places where their base is zero."""
    a, b, c = line(random, letters=letters), line(random), some(random, "c", "2*c", "-c", "c + 1", "(a*c)")
    return some(
        random,
        f"{a}^{c} = {rational(random, -3, 9)}", f"{a}^({c})*{b} = 0", f"{a}^{b} = 0", f"{a}^{b}*{line(random)} = 0", f"{b}^({c}) = {b}",
        f"{b}^(2*c) + ({rational(random)})*{b}^c = {rational(random)}", f"({some(random, 'a', 'c', 'a*c')})^{b} = {rational(random, -1, 4)}",
        f"({b}^c - 1)*{line(random, letters=letters)} = 0", f"{b}^c = {line(random)}^c", f"sqrt({b}^c) = {rational(random, -1, 3)}",
    )  # fmt: skip


KINDS = (planted, planted, radicals, bars, exponentials, logarithms, waves, quotients, powers, exponents)
WORDS = (None, None, None, None, None, None, "integer", "natural", "positive", "nonnegative", "negative", "nonzero")


def equation(random):
    """(text, over, facts) of one random equation."""
    letters = random.random() < 0.4
    text = random.choice(KINDS)(random, letters)
    if random.random() < 0.12:
        other = random.choice(KINDS)(random, False).split("=")
        left, right = text.split("=")
        text = f"(({left}) - ({right}))*(({other[0]}) - ({other[1]})) = 0"
    over = random.choice(WORDS)
    given = [f"{n} > 0" for n in LETTERS if f"{n}" in used(text) and random.random() < 0.6]
    if random.random() < 0.12:
        given.append(f"x {some(random, '>', '<', '>=', '<=', '!=')} {random.randint(-2, 3)}")
    return text, over, given


def used(text):
    return set(re.findall(r"[^\W\d]\w*", text))


def samples(random, letters, given, count=4):
    """Points {letter: number} at which the facts hold, zero and equal letters among them."""
    conditions = [read(g) for g in given if "x" not in used(g) and " " in g and not g.split()[1].isalpha()]
    found = []
    for _ in range(30):
        point = {n: mp.mpf(random.choice((-2, -1, 0, 1, 2, 3, 5))) / random.choice((1, 1, 2)) for n in letters}
        if all(holds(c, point) for c in conditions):
            found.append(point)
        if len(found) == count:
            break
    return found


def residual(sides, point, over_complex=False):
    """The difference of the two sides, relative; None where one has no value."""
    try:
        left, right = (value(s, point, over_complex) for s in sides)
    except NoValue:
        return None
    return abs(left - right) / (1 + abs(left) + abs(right))


def inside(word, v):
    whole = abs(v - mp.nint(v)) < 1e-15
    return {
        None: True, "integer": whole, "natural": whole and v > -0.5, "positive": v > 1e-15, "nonnegative": v > -1e-15,
        "negative": v < -1e-15, "nonzero": abs(v) > 1e-15,
    }[word]  # fmt: skip


def roots_of(sides, point):
    """Real roots that sampling shows: signs that change without a pole, and exact zeros at rational places."""
    found = []
    places = [mp.mpf(k) / 8 + mp.mpf(1) / 1009 for k in range(-8 * WINDOW, 8 * WINDOW)]

    def gap(x):
        try:
            left, right = (value(s, {**point, "x": x}) for s in sides)
        except NoValue:
            return None
        return left - right

    before = None
    for place in places:
        here = gap(place)
        if here is not None and before is not None and before[1] * here < 0:
            low, high, sign = before[0], place, before[1]
            for _ in range(200):
                middle = (low + high) / 2
                at = gap(middle)
                if at is None:
                    break
                low, high = (middle, high) if at * sign > 0 else (low, middle)
            else:
                if abs(at) < 1e-20 and not flat(gap, middle) and not any(at_pole(s, {**point, "x": middle}) for s in sides):
                    found.append(middle)
        before = None if here is None else (place, here)
    for k in range(-6 * WINDOW, 6 * WINDOW + 1):
        exact = residual(sides, {**point, "x": mp.mpf(k) / 6})
        if (
            exact is not None
            and exact < 1e-70
            and not flat(gap, mp.mpf(k) / 6)
            and not any(abs(mp.mpf(k) / 6 - f) < 1e-12 for f in found)
        ):
            found.append(mp.mpf(k) / 6)
    return found


def at_pole(tree, at):
    """Whether a part has a pole so near that the formula has no value at the place itself."""
    parts = [p for p in tree[1:] if isinstance(p, tuple)] if isinstance(tree, tuple) else []
    if any(at_pole(p, at) for p in parts):
        return True
    return tree[0] == "call" and tree[1] in ("tan", "cot", "sec", "csc") and abs(value(tree, at)) > 1e15


def flat(gap, place):
    """Whether a formula is so near to zero all around that numbers do not show its roots, as tanh far out."""
    sides = [gap(place + s) for s in (mp.mpf(-1) / 64, mp.mpf(1) / 64)]
    return all(s is not None and abs(s) < 1e-18 for s in sides)


def values_at(solutions, k, point, most=12):
    """All numbers that solution k stands for at a point: members of families, those whose conditions hold."""
    families = [str(n) for n in solutions.families]
    tree = read(str(next(iter(solutions[k].values()))))
    conditions = [read(str(c)) for c in solutions.own_conditions(k)]
    texts = [str(next(iter(solutions[k].values()))), *map(str, solutions.own_conditions(k))]
    mine = [n for n in families if any(n in used(text) for text in texts)]
    found, unsure = [], False
    for members in product(range(-most, most + 1), repeat=len(mine)) if len(mine) < 2 or most < 40 else ():
        at = {**point, **{n: mp.mpf(m) for n, m in zip(mine, members, strict=True)}}
        states = [holds(c, at) for c in conditions]
        if None in states:
            unsure = True
        if all(states):
            try:
                found.append(value(tree, at))
            except NoValue:
                unsure = unsure or bool(point)
                if not point:
                    found.append(None)
    return found, unsure


def judge(text, over, given, seed=0):
    """("solved" or "open", or what is wrong)."""
    random = Random(seed)
    try:
        with gelvo.time_limit(10):
            found = gelvo.solve(text, "x", over=over, given=given)
            verdict = found.verdict
            str(found)
    except (gelvo.NotSolved, gelvo.TimeLimitReached, gelvo.FormulaError):
        return "open"
    except gelvo.DomainError as told:
        return (
            "open"
            if "can never hold" in str(told) or "does not occur" in str(told) or "contradict" in str(told)
            else f"WRONG error {told}"
        )
    sides = [read(t) for t in text.split("=")]
    stated = [read(g) for g in given]
    if any(constant_without_value(s) for s in sides):
        return "open"  # a number in the text is not real: nothing is wrong about either reading
    if verdict == "refuted":
        return "WRONG refuted by its own check"
    letters = [n for n in LETTERS if n in used(text)]
    for point in samples(random, letters, given) if letters else [{}]:
        about = [holds(read(str(c)), {**point, "x": mp.mpf(0)}) for c in found.conditions if "x" not in used(str(c))]
        if not hasattr(found, "everything"):
            wrong = judge_set(found, sides, point, stated, over)
            if wrong:
                return wrong
            continue
        if found.everything:
            if all(about):
                wrong = judge_everything(found, sides, point, random, over)
                if wrong:
                    return wrong
            continue
        if not all(about):
            continue
        mine, unsure = [], False
        free = [k for k in range(len(found)) if str(next(iter(found[k].values()))) == "x"]
        if any(all(holds(read(str(c)), point) for c in found.own_conditions(k)) for k in free):
            continue  # every value solves at this point
        for k in set(range(len(found))) - set(free):
            numbers, open_one = values_at(found, k, point)
            unsure = unsure or open_one
            for v in numbers:
                if v is None:
                    return f"WRONG {next(iter(found[k].values()))} is no real number"
                if abs(v) > 200:
                    continue  # exponentials of it are beyond every precision
                off = residual(sides, {**point, "x": v})
                if off is not None and off > 1e-15 and too_steep(sides, point, v):
                    continue
                if off is None or off > 1e-15:
                    return f"WRONG x = {mp.nstr(v, 8)} at {shown(point)} does not solve (solution {k}, off {off and mp.nstr(off, 3)})"
                if not inside(over, v) or any(holds(c, {**point, "x": v}) is False for c in stated):
                    return f"WRONG x = {mp.nstr(v, 8)} at {shown(point)} is outside the domain or the facts"
                mine.append(v)
        wide = []
        if found.complete and not unsure:
            for root in roots_of(sides, point):
                if not inside(over, root) or not all(holds(c, {**point, "x": root}) for c in stated):
                    continue
                if not near(root, mine) and len(found.families) > 1:
                    continue  # the members that are looked at may be too few
                if not near(root, mine) and found.families:
                    wide = wide or [v for k in range(len(found)) for v in values_at(found, k, point, 900)[0] if v is not None]
                looked_at = not found.families or (abs(root) <= 2 and wide and min(wide) <= root <= max(wide))
                if not near(root, mine + wide) and looked_at:
                    return f"WRONG x = {mp.nstr(root, 10)} at {shown(point)} is missing and complete is True"
    return "solved"


def too_steep(sides, point, v):
    """Whether a formula changes so fast that the digits of v do not suffice to see whether it vanishes."""
    try:
        here, beside = (value(("-", *sides), {**point, "x": x}) for x in (v, v + mp.mpf(10) ** -40))
    except NoValue:
        return True
    return abs(beside - here) > abs(here) / 1000


def near(root, values):
    return any(abs(root - v) < 1e-9 * (1 + abs(root)) for v in values)


def constant_without_value(tree):
    """Whether a part without names has no real value."""
    if tree[0] in ("number", "name"):
        return False
    if not has_names(tree):
        try:
            value(tree, {})
        except NoValue:
            return True
    return any(constant_without_value(t) for t in tree[1:] if isinstance(t, tuple))


def has_names(tree):
    return (tree[0] == "name" and tree[1] != "pi") or any(has_names(t) for t in tree[1:] if isinstance(t, tuple))


def judge_set(found, sides, point, stated, over):
    """An equation that holds on intervals: in them, and nowhere else but at places that are told."""
    told = read(str(found.condition))
    for k in range(-60, 61):
        at = {**point, "x": mp.mpf(k) / 6}
        off = residual(sides, at)
        wants = off is not None and off < 1e-60 and inside(over, at["x"]) and all(holds(c, at) for c in stated)
        if (holds(told, at) is True) != wants:
            return f"WRONG x = {mp.nstr(at['x'], 8)} at {shown(point)}: {found.condition} (off {off and mp.nstr(off, 3)})"
    return ""


def judge_everything(found, sides, point, random, over):
    conditions = [read(str(c)) for c in found.conditions]
    for _ in range(12):
        at = {**point, "x": mp.mpf(random.randint(-30, 30)) / 7}
        if inside(over, at["x"]) and all(holds(c, at) for c in conditions):
            off = residual(sides, at)
            if off is None or off > 1e-15:
                return f"WRONG not every value solves: x = {mp.nstr(at['x'], 6)} at {shown(point)}"
    return ""


def shown(point):
    return ", ".join(f"{n} = {mp.nstr(v, 5)}" for n, v in point.items()) or "no letters"
