"""Operations whose result says the same in another way: shorthands, other names, code, written forms carried out, laws in sections."""

from __future__ import annotations

import re
from random import Random

import gelvo
from hunt.calculus import applies, number
from hunt.equations import shown, some
from hunt.fields import anywhere, compared, judged
from hunt.formulas import letters_of, rough, smooth
from hunt.oracle import DIVERGES, integral, summed
from hunt.plain import mp, read, value


def round_trip_task(seed):
    """(operation, what it is asked)"""
    random = Random(seed)
    word = some(random, *JUDGES)
    letters = letters_of(random, 0.7)
    if word == "multiply_up":
        factor = some(random, "k", "2*k", "(1 + 1/k)", "(k + a)", "2^k", "a", "k/(k + 1)", "(1 - 1/k^2)", "k^2", "exp(k)", "(-1)^k", "(2*k - 1)", "1/k", "x^k", "(k + 1)/(k + 3)", "a*k", "k - 2")  # fmt: skip
        return word, [factor, some(random, "1", "2", "3", "0"), some(random, "n", "n + 1", "5", "2*n")]
    if word == "jumps":
        return word, [smooth(random, "x", letters, 1), some(random, "0", "1", "-1", "1/2", "2"), smooth(random, "x", letters, 1)]
    if word == "carry_out":
        inner = [some(random, "integral_of({0}, x, 0, {1})", "sum_of(k*({0}), k, 1, {2})", "integral_of({0}, x, {1}, {3})").format(some(random, "x*y", "exp(-x)", "sin(y)*x^2", "1/(1 + x^2)", "x", "y^2"), some(random, "1", "2", "y^2 + 1"), random.randint(1, 5), some(random, "0", "3", "1")) for _ in range(2)]  # fmt: skip
        return word, [inner[0], some(random, "+", "*", "-"), inner[1]]
    part = smooth(random, "x", letters, 2)
    text = some(random, f"{part}^2 + sqrt({part} + 2)*exp({part})", f"{smooth(random, 'x', letters, 2)} + {part}/(1 + {part})", rough(random, "x", letters, 1), smooth(random, "x", letters, 3))  # fmt: skip
    return word, [text]


def judge_round_trip(task, seed):
    word, texts = task
    return judged(ASKED[word], JUDGES[word], texts, seed, 4, lambda random: {"x": anywhere(random), "y": mp.mpf(random.randint(1, 30)) / 17, "n": mp.mpf(random.randint(3, 6))})  # fmt: skip


def with_shorthands(found, texts, here):
    places = dict(here)
    for name, formula in found.where.items():
        places[str(name)] = value(read(str(formula)), places, True)
    return compared(
        "with shorthands", value(read(str(found.expressions[0])), places, True), value(read(texts[0]), here, True), here
    )


SWAPPED = {"a": "b", "b": "w", "w": "p", "p": "a", "x": "x_1"}


def with_other_names(found, texts, here):
    places = {SWAPPED.get(n, n): v for n, v in here.items()}
    return compared("with other names", value(read(str(found)), places, True), value(read(texts[0]), here, True), here)


def code_of(texts):
    letters = sorted(set(re.findall(r"\b[abwp]\b", texts[0])))
    bundle = gelvo.export_code(texts[0], ["x", *letters], "numpy", check=False)
    room: dict[str, object] = {}
    exec(bundle.files["formula.py"], room)  # what an engineer runs
    return room["formula"], letters


def by_code(found, texts, here):
    work, letters = found
    if "floor" in texts[0]:
        return "unknown"  # a rounded argument may fall on the other side of a jump
    doubles = {n: mp.mpf(float(v)) for n, v in here.items()}
    right = value(read(texts[0]), doubles)
    moved = [value(read(texts[0]), {n: v * (1 + s * mp.mpf(10) ** -12) for n, v in doubles.items()}) for s in (1, -1)]
    told = complex(work(float(doubles["x"]), *[float(doubles[n]) for n in letters])).real
    if abs(right) > mp.mpf(10) ** 300 or abs(told) == float("inf") or told != told:
        return "unknown"  # too large for a double, here or on the way
    slack = mp.mpf("1e-7") + 1e-6 * abs(right) + 100 * max(abs(m - right) for m in moved)
    return "same" if abs(told - right) <= slack else f"WRONG code gives {told} for {mp.nstr(right, 10)} at {shown(here)}"


def worked_out(texts):
    found = gelvo.carry_out(" ".join(texts))
    return None if "_of(" in str(found.expression) else found


def carried_out(found, texts, here):
    ends = [truth_of(t, here) for t in (texts[0], texts[2])]
    if None in ends or DIVERGES in ends:
        return "unknown"
    right = {"+": lambda a, b: a + b, "-": lambda a, b: a - b, "*": lambda a, b: a * b}[texts[1]](*ends)
    return compared("carried out", value(read(str(found.expression).split("#")[0]), here, True), right, here)


def truth_of(text, here):
    tree = read(text)
    _, name, body, variable, low, high = tree
    ends = [mp.re(value(t, here)) for t in (low, high)]
    if name == "integral_of":
        return integral(body, variable[1], *ends, {n: v for n, v in here.items() if n != "x"})
    return summed(body, "k", *ends, here)


def product_of(texts):
    found = gelvo.multiply_up(texts[0], "k", texts[1], texts[2])
    return None if "_of(" in str(found.expression) else found


def multiplied(found, texts, here):
    if not applies([read(str(c)) for c in found.conditions], here):
        return "unknown"
    right = mp.mpf(1)
    for k in range(int(number(texts[1], here)), int(number(texts[2], here)) + 1):
        right *= value(read(texts[0]), {**here, "k": mp.mpf(k)})
    return compared("the product", value(read(str(found.expression).split("#")[0]), here), right, here)


def jumped(found, texts, here):
    before, place, after = texts
    v = value(read(place), {})
    right = value(read(after), {**here, "x": v}) - value(read(before), {**here, "x": v})
    size = next((value(read(str(j.size)), here) for j in found if j.order == 0), mp.mpf(0))
    return compared("the jump", size, right, here)


ASKED = {
    "abbreviate": lambda texts: gelvo.abbreviate(texts[0]),
    "rename": lambda texts: gelvo.rename(texts[0], {n: m for n, m in SWAPPED.items() if re.search(rf"\b{n}\b", texts[0])}),
    "export_code": code_of,
    "carry_out": worked_out,
    "multiply_up": product_of,
    "jumps": lambda texts: gelvo.jumps(f"cases({texts[0]} when x < {texts[1]}, otherwise {texts[2]})", "x"),
}
JUDGES = {
    "abbreviate": with_shorthands, "rename": with_other_names, "export_code": by_code, "carry_out": carried_out, "multiply_up": multiplied,
    "jumps": jumped,
}  # fmt: skip
