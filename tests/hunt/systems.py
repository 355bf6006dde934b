"""Systems with planted solutions, and inequalities held against points: judged by an evaluator of its own."""

from __future__ import annotations

import re
from random import Random

import gelvo
from hunt.equations import LETTERS, inside, line, rational, residual, samples, shown, some, used
from hunt.plain import NoValue, holds, mp, read, value

UNKNOWNS = ("x", "y", "z")


def atom(random, n):
    """An unknown inside a function, or by itself."""
    return some(
        random, n, n, n, f"abs({n})", f"sqrt({n})", f"exp({n})", f"1/{n}", f"sqrt({n} + 4)", f"abs({n} - 1)", f"ln({n})", f"({n} - 1)", f"{n}^3"
    )  # fmt: skip


def form(random, names, letters, degree, wide=False):
    """A polynomial of the unknowns (or of functions of them), as a sum of a few terms."""
    terms = []
    for _ in range(random.choice((2, 2, 3))):
        chosen = [random.choice(names) for _ in range(random.choice(range(1, degree + 1)))]
        factors = [atom(random, n) for n in chosen] if wide else chosen
        terms.append(
            "*".join(
                [some(random, "1", "2", "-1", "-3", "1/2", *(LETTERS if letters and random.random() < 0.5 else ())), *factors]
            )
        )
    return "(" + " + ".join(f"({t})" for t in terms) + ")"


def system(random):
    """(equations, unknowns, domain word, facts, the planted solution) — the planted values solve by construction."""
    count = random.choice((2, 2, 2, 3))
    names = list(UNKNOWNS[:count])
    letters, wide = random.random() < 0.35, random.random() < 0.4
    place = {n: rational(random, -3, 3, 0.9) for n in names}
    equations = []
    for _ in range(count if random.random() < 0.85 else count - 1 or 1):
        f, at = planted(random, names, letters, wide, place)
        kind = random.random()
        if kind < 0.25:  # a product: one factor vanishes at the planted place
            equations.append(f"({f} - {at})*{form(random, names, False, 1, wide)} = 0")
        elif kind < 0.35:
            n = random.choice(names)
            equations.append(f"({f} - {at})/({n} - ({rational(random, -3, 3)})) = 0")
        elif kind < 0.42:
            n = random.choice(names)
            equations.append(f"exp({n} - ({place[n]})) = 1")
        else:
            equations.append(f"{f} = {at}")
    given = [f"{n} > 0" for n in LETTERS if any(n in used(e) for e in equations) and random.random() < 0.5]
    if random.random() < 0.15:
        given.append(f"{random.choice(names)} {some(random, '>', '>=', '<', '!=')} {random.randint(-2, 2)}")
    over = (
        some(random, "integer", "natural", "positive", "nonnegative", "nonzero", "negative") if random.random() < 0.25 else None
    )
    return equations, names, over, given, place


def planted(random, names, letters, wide, place):
    """(a formula of the unknowns, the same at the planted place, where it has a value)."""
    while True:
        f = form(random, names, letters, random.choice((1, 1, 2)), wide)
        at = re.sub(r"\b[xyz]\b", lambda m: f"({place[m.group()]})", f)
        try:
            value(read(at), dict.fromkeys(LETTERS, mp.mpf(2)))
        except NoValue:
            continue
        return f, at


def judge_system(equations, names, over, given, place, seed=0):
    random = Random(seed)
    if any(not any(n in used(e) for e in equations) for n in names):
        return "open"
    try:
        with gelvo.time_limit(10):
            found = gelvo.solve(equations, names, over=over, given=given)
            verdict = found.verdict
    except (gelvo.NotSolved, gelvo.TimeLimitReached, gelvo.FormulaError):
        return "open"
    except gelvo.DomainError as told:
        harmless = ("does not occur", "can never hold", "contradict")
        return "open" if any(words in str(told) for words in harmless) else f"WRONG error {told}"
    if verdict == "refuted":
        return "WRONG refuted by its own check"
    stated = [read(g) for g in given]

    def allowed(numbers, point):
        return all(inside(over, v) for v in numbers.values()) and all(holds(s, {**point, **numbers}) is not False for s in stated)

    rows = [[read(t) for t in e.split("=")] for e in equations]
    letters = [n for n in LETTERS if any(n in used(e) for e in equations)]
    about_letters = [g for g in given if not any(n in used(g) for n in names)]
    for point in samples(random, letters, about_letters) if letters else [{}]:
        planted = {n: value(read(place[n]), {}) for n in names}
        solves = all((off := residual(r, {**point, **planted})) is not None and off < 1e-20 for r in rows)
        solves = solves and allowed(planted, point)
        if not all(holds(read(str(c)), {**point, **planted}) for c in found.conditions):
            continue
        reached, unsure = found.everything, False
        for k in range(len(found)):
            table = {str(u): read(str(v)) for u, v in found[k].items()}
            free = [n for n in names if table[n] == ("name", n)]
            conditions = [read(str(c)) for c in found.own_conditions(k)]
            if any(str(n) in used(str(v)) for n in found.families for v in found[k].values()):
                unsure = True  # whole numbers that run: the planted one may be any of them
                continue
            for at in [{n: mp.mpf(random.randint(-20, 20)) / 7 for n in free} for _ in range(3 if free else 1)]:
                whole = {**point, **at}
                if not all(holds(c, whole) for c in conditions):
                    continue
                try:
                    numbers = {n: value(t, whole) for n, t in table.items()}
                except NoValue:
                    continue
                if any(abs(v) > 200 for v in numbers.values()) or (free and not allowed(numbers, point)):
                    continue
                if not allowed(numbers, point):
                    return f"WRONG {shown(numbers)} at {shown(point)} is outside the domain or the facts"
                for equation, r in zip(equations, rows, strict=True):
                    off = residual(r, {**whole, **numbers})
                    if off is None or off > 1e-15:
                        return f"WRONG {shown(numbers)} at {shown(point)} does not solve {equation}"
            at = {**point, **{n: planted[n] for n in free}}
            states = [holds(c, at) for c in conditions]
            unsure = unsure or None in states
            try:
                hit = all(abs(value(t, at) - planted[n]) < 1e-12 for n, t in table.items())
            except NoValue:
                hit = False
            reached = reached or (hit and all(states))
        if solves and found.complete and not reached and not unsure:
            return f"WRONG the planted {shown(planted)} at {shown(point)} is missing and complete is True"
    return "solved"


def inequality(random):
    """(text, domain word, facts) of one inequality in x, with numbers only."""
    sign = some(random, "<", "<=", ">", ">=")
    a, b, c = line(random), line(random), line(random)
    r, s = rational(random), rational(random, 0, 6)
    text = some(
        random,
        f"{a}*{b} {sign} 0", f"{a}/{b} {sign} {r}", f"{a}*{b}/{c} {sign} 0", f"{a}^2/{a} {sign} {r}", f"abs({a}) {sign} {b}", f"abs({a}) + abs({b}) {sign} {s}",
        f"sqrt({a}) {sign} {b}", f"exp({a}) {sign} {r}", f"ln({a}) {sign} {r}", f"1/{a} {sign} 1/{b}", f"{a}^2*{b} {sign} 0", f"x^3 - ({r})*x {sign} 0",
        f"{a} {sign} {b} and {c} < 3", f"sqrt({a}) + sqrt({b}) {sign} {s}", f"ln({a}) + ln({b}) {sign} 0", f"{rational(random, 2, 3)}^x {sign} {r}",
        f"{a}^(2/3) {sign} {r}", f"x^2 + ({r}) {sign} 0", f"{a}^3*{b} {sign} 0", f"atan({a}) {sign} {rational(random, -1, 1)}", f"abs({a}*{b}) {sign} {r}",
        f"{a} {sign} {b} or x > 2", f"sqrt({a}/{b}) {sign} {r}", f"ln({a}/{b}) {sign} {r}", f"asin({a}) {sign} {r}", f"acos({a}) {sign} 1", f"sqrt({a})^2 {sign} {b}",
        f"exp(ln({a})) {sign} {b}", f"{r} < {a} < {b}", f"sinh({a}) {sign} {r}", f"tanh({a}) {sign} 1/2", f"cosh({a}) {sign} {r}", f"({a})^x {sign} 0",
        f"sin(x) {sign} {some(random, '0', '1/2', '1', '-1', '2')}", f"cos({a}) {sign} 1/2", f"tan(x) {sign} 1", f"sqrt({a})*{b} {sign} 0", f"ln({a})*{b} {sign} 0",
        f"{a}/sqrt({b}) {sign} 0", f"{a}*exp(x) {sign} 0", f"abs({a})/{b} {sign} {r}", f"cbrt({a}) {sign} {r}", f"{a}^(-2) {sign} {s}", f"{a}^(3/2) {sign} {r}",
        f"abs(abs({a}) - {rational(random, 1, 3)}) {sign} 1", f"x^4 - ({r})*x^2 {sign} {s}", f"1/{a} + 1/{b} {sign} 0", f"({a} - {a})*{b} {sign} {r}", f"ln({a})^2 {sign} 1",
        f"{a} != {b} and {c} {sign} 0", f"{a}*{b} = 0 or {c} {sign} 0", f"sqrt({a}) {sign} sqrt({b})", f"abs({a}) {sign} abs({b})", f"ln({a}) {sign} ln({b})",
        f"x*ln(x) {sign} 0", f"x^x {sign} 1", f"{a}^2 {sign} {b}^2", f"atan({a}) {sign} atan({b})", f"2^({a}) {sign} 3^({b})",
    )  # fmt: skip
    given = [f"x {some(random, '>', '<', '>=', '<=')} {random.randint(-2, 2)}"] if random.random() < 0.2 else []
    if any(w in text for w in ("sin(", "cos(", "tan(x")) and random.random() < 0.8:
        given = [f"x >= {random.randint(-4, 0)}", f"x <= {random.randint(1, 5)}"]
    return text, some(random, None, None, None, *BORDERS), given


BORDERS = {"positive": "x > 0", "nonnegative": "x >= 0", "negative": "x < 0", "nonzero": "x != 0"}


def judge_inequality(text, over, given):
    asked, stated = read(text), [read(g) for g in (*given, *([BORDERS[over]] if over else []))]
    places = [{"x": mp.mpf(k) / 12} for k in range(-120, 121)]
    try:
        with gelvo.time_limit(10):
            found = gelvo.solve(text, "x", over=over, given=given)
            verdict = found.verdict
    except (gelvo.NotSolved, gelvo.TimeLimitReached, gelvo.FormulaError):
        return "open"
    except gelvo.DomainError as told:
        nowhere = not any(all(holds(s, at) for s in stated) for at in places)
        return "open" if "does not occur" in str(told) or nowhere else f"WRONG error {told}"
    if verdict == "refuted":
        return "WRONG refuted by its own check"
    answer = str(found)
    whole, none = answer.startswith("every value"), answer.startswith("no solution")
    tree = None if whole or none else read(answer)
    for at in places:
        if whole and not all(holds(s, at) for s in stated):
            continue  # every value within the facts
        wanted = [holds(asked, at), *[holds(s, at) for s in stated]]
        # a part without a value is no solution: the whole comparison has none there
        wants = all(w is True for w in wanted)
        if None in wanted and near_border(asked, at):
            continue
        has = whole or (tree is not None and belongs(tree, at, answer))
        if has != wants:
            return f"WRONG x = {mp.nstr(at['x'], 8)} {'is' if has else 'is not'} in {answer}"
    return "solved"


def belongs(tree, at, answer):
    """Whether a place is in a set, with some whole number n where it repeats."""
    return any(holds(tree, {**at, "n": mp.mpf(n)}) is True for n in (range(-16, 17) if "n" in used(answer) else (0,)))


def near_border(tree, at):
    """Whether a comparison has both values, so near to each other that its truth cannot be told."""
    if tree[0] in ("and", "or"):
        return any(near_border(t, at) for t in tree[1:])
    try:
        for t in tree[1:]:
            value(t, at)
    except NoValue:
        return False
    return True


def inequality_with_letters(random):
    """(text, facts) of one inequality in x with letters a and b."""
    u, v, w = (some(random, "x", "x - a", "x + b", "a*x", "a*x - b", "2*x - 1", "b - 2*x", "x/a", "a - x") for _ in range(3))
    c = some(random, "a", "b", "1", "0", "-1", "a + b", "a*b", "a^2", "a - b", "1/2")
    left = some(
        random, u, f"({u})*({v})", f"x^2 + a*x + {c}", f"abs({u})", f"({u})/({v})", f"exp({some(random, 'x', '-x', 'a*x')})", f"ln({u})", f"sqrt({u})",
        f"abs({u}) + abs({v})", f"max({u}, {c})", f"x^3 - {c}*x",
        f"sin({some(random, 'x', '2*x', 'x + a')})", f"a*cos({some(random, 'x', 'x/2')})",
    )  # fmt: skip
    text = f"{left} {some(random, '<', '<=', '>', '>=')} {some(random, c, c, '0', w)}"
    return text, some(random, [], [], ["a > 0"], ["a > b", "b > 0"], ["a < 0"], ["0 < a", "a < 1"], ["b != 0"])


def judge_inequality_with_letters(text, given, seed):
    """The whole answer, cases and all, held against the inequality at many places for many values of the letters."""
    try:
        with gelvo.time_limit(15):
            found = gelvo.solve(text, "x", given=given)
            verdict = found.verdict
    except (gelvo.NotSolved, gelvo.TimeLimitReached, gelvo.DomainError):
        return "open"
    if verdict == "refuted":
        return "WRONG refuted by its own check"
    random, asked, stated, told = Random(seed), read(text), [read(g) for g in given], read(str(found.condition))
    for _ in range(60):
        letters = {n: mp.mpf(random.choice((-3, -2, -1, 0, 1, 2, 3))) / random.choice((1, 2)) for n in ("a", "b")}
        if not all(holds(s, letters) for s in stated):
            continue
        for place in (mp.mpf(random.randint(-40, 40)) / 7, mp.mpf(random.randint(-400, 400)) / 97, letters["a"], -letters["b"]):
            at = {**letters, "x": place}
            wants = holds(asked, at)
            if wants is None and near_border(asked, at):
                continue
            if belongs(told, at, str(found.condition)) != (wants is True):
                return f"WRONG {shown(at)}: {wants} in {found.condition}"
    return "solved"
