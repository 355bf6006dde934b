"""The same question with other letters, and with facts about letters that it does not have: the same answer, in those letters.

Work makes up names of its own (a new variable, a constant of integration, a whole number). None of them may be a letter of the question.
"""

from __future__ import annotations

import re
from random import Random

import gelvo
from hunt import calculus, differential, equations, systems
from hunt.calculus import FAULTS, NONE, SECONDS, outcome_of, slope
from hunt.equations import shown, some, used
from hunt.plain import holds, mp, read, value

# names that the work, or a textbook, gives to what it makes up: first those of any work, then those of one operation
MADE_UP = ("u", "u_1", "v", "s", "c", "w", "h", "L", "z", "r_0", "tau", "size")
OF_ONE = {
    "differential": ("C_1", "C_2", "r", "l", "y_0", "t_1"), "solve": ("n_1", "n_2", "E", "t"), "systems": ("n_1", "n_2"),
    "series": ("k_1", "sigma"), "add_up": ("z_1", "m"), "laplace": ("sigma", "root"), "definite": ("sigma", "n", "part"),
}  # fmt: skip
PLAIN = ("a", "b", "w", "p", "c")
CLOSE = mp.mpf(10) ** -12


def respelled(text, table):
    return re.sub(r"[^\W\d]\w*", lambda match: table.get(match[0], match[0]), text)


def differential_equation(random):
    equation, *_, stated, given = some(random, differential.linear, differential.linear, differential.cauchy, differential.rate)(
        random
    )
    return (equation, *stated), given


def equation_alone(random):
    text, over, given = equations.equation(random)
    return (text,), [*given, *([f"x {over}"] if over else [])]


# operation: (its question as formulas, and their facts), (how the library is asked)
ASKED = {
    "integrate": (lambda seed: _split(calculus.antiderivative_task(seed)), lambda texts, given: [gelvo.integrate(texts[0], "x", given=given)]),
    "definite": (lambda seed: _split(calculus.definite_task(seed)), lambda texts, given: [gelvo.integrate(texts[0], "x", *texts[1:], given=given)]),
    "limit": (lambda seed: _limit(calculus.limit_task(seed)), lambda texts, given: [gelvo.limit(texts[0], "x", texts[1], side="above" if "inf" not in texts[1] else None, given=given)]),
    "series": (lambda seed: _limit(calculus.series_task(seed)), lambda texts, given: [gelvo.series(texts[0], "x", about=texts[1], through=3, given=given)]),
    "add_up": (lambda seed: _split(calculus.sum_task(seed)), lambda texts, given: [gelvo.add_up(texts[0], "k", *texts[1:], given=given)]),
    "laplace": (lambda seed: _split(_transform(seed)), lambda texts, given: [gelvo.laplace(texts[0], "t", "s_0", given=given)]),
    "differential": (lambda seed: differential_equation(Random(seed)), lambda texts, given: _motions(texts, given)),
    "solve": (lambda seed: equation_alone(Random(seed)), lambda texts, given: _roots(gelvo.solve(texts[0], "x", given=given))),
    "systems": (lambda seed: _system(Random(seed)), lambda texts, given: _roots(gelvo.solve(list(texts), [n for n in "xyz" if any(n in used(t) for t in texts)], given=given))),
}  # fmt: skip


def _split(task):
    return task[:-1], task[-1]


def _limit(task):
    return task[:2], task[-1]


def _transform(seed):
    word, text, given = calculus.laplace_task(seed)
    return (text if word == "laplace" else "exp(-a*t)*sin(b*t)"), given


def _system(random):
    texts, *_, given = systems.system(random)
    return tuple(texts), [g for g in given if isinstance(g, str)]


def _motions(texts, given):
    y = gelvo.unknown_function("y", "t")
    found = gelvo.solve(gelvo.formula(texts[0], names_from=y), y, given=[*texts[1:], *given])
    return [s[y] for s in found]


def _roots(found):
    return [v for s in found for v in s.values()]


def spelling_task(seed):
    """(operation, formulas, facts, other letters for those of the question, facts about letters that it does not have)"""
    random = Random(seed)
    word = some(random, *ASKED)
    texts, given = ASKED[word][0](random.randrange(10**9))
    spelled = set().union(*map(used, [*texts, *given]))
    reserved = {"y", "m"} if word in ("differential", "systems", "add_up") else set()
    free = [
        n
        for n in dict.fromkeys((*OF_ONE.get(word, ()), *MADE_UP))
        if n not in spelled | reserved and not (word == "laplace" and n == "s")
    ]
    letters = [n for n in PLAIN if n in spelled]
    free.sort(key=lambda n: random.random() / (4 if n in OF_ONE.get(word, ()) else 1))
    chosen = free[: len(letters) + 2]
    about = [f"{n} {some(random, '> 0', '< 0', '= 0', '> 3', '!= 0')}" for n in chosen[len(letters) :]]
    return word, list(texts), list(given), dict(zip(letters, chosen, strict=False)), about


def judge_spelling(task, seed):
    word, texts, given, table, about = task
    ask = ASKED[word][1]
    with gelvo.time_limit(SECONDS):
        plain, other = (
            _answer(ask, [respelled(t, own) for t in texts], [*[respelled(g, own) for g in given], *more])
            for own, more in (({}, []), (table, about))
        )
    if plain is None or other is None:
        return "open"
    back = {new: old for old, new in table.items()}
    own = set().union(*map(used, [*texts, *given]))
    made_up = [
        sorted({n for t in found for n in used(t)} - known) for found, known in ((plain, own), (other, {*table.values(), *own}))
    ]
    if len(made_up[0]) != len(made_up[1]):
        return f"WRONG {other} for {plain}: one of them has more letters of its own"
    back |= dict(zip(made_up[1], made_up[0], strict=True))
    return outcome_of(_compared(word, plain, [respelled(t, back) for t in other], made_up[0], given, seed))


def _answer(ask, texts, given):
    try:
        found = [str(getattr(v, "expression", v)).split("#")[0].strip() for v in ask(texts, given)]
    except NONE:
        return None
    return None if not found or any("_of(" in t or t in ("inf", "-inf", "undefined") for t in found) else sorted(found)


def _compared(word, plain, other, constants, given, seed):
    """The answers of both at random numbers, as far as both have one; the constants of an equation need not be the same ones."""
    if word in ("differential", "systems", "solve") and constants:
        yield "same" if len(plain) == len(other) else "unknown"
        return
    random = Random(seed)
    letters = sorted({n for t in (*plain, *other) for n in used(t)})
    for _ in range(4):
        here = {n: mp.mpf(random.choice((1, 1, -1)) * random.randint(3, 70)) / 17 for n in letters}
        try:
            if not all(holds(read(g), here) for g in given if not g.split()[1].isalpha()):
                continue  # neither answer claims anything there
            rows = [[_value(word, t, here) for t in texts] for texts in (plain, other)]
        except (*FAULTS, KeyError):
            continue
        if len(rows[0]) != len(rows[1]):
            continue
        gaps = [min(abs(v - w) for w in rows[1]) / (1 + abs(v)) for v in rows[0]]
        yield "same" if max(gaps) < CLOSE else f"WRONG {other} for {plain} at {shown(here)}"


def _value(word, text, here):
    tree = read(text)
    if word != "integrate":
        return value(tree, here, True)
    return slope(lambda v: value(tree, {**here, "x": v}, True), here.get("x", mp.mpf(1) / 3))
