"""Equations over the complex numbers with planted roots, judged by an evaluator of its own."""

from __future__ import annotations

import re
from random import Random

import gelvo
from hunt.equations import rational, residual, some, used
from hunt.plain import NoValue, holds, mp, read, value


def number(random):
    a, b = rational(random, -3, 3, 0.85), rational(random, -3, 3, 0.85)
    return some(random, f"({a} + ({b})*1j)", f"({b})*1j", a)


def line(random):
    return f"({some(random, '1', '2', '-1', '1j', '(1 + 1j)', '1/2')}*x + ({number(random)}))"


def task(seed):
    """(text, the planted root or None) of one random equation."""
    random = Random(seed)
    root, a, b, c = number(random), line(random), line(random), number(random)
    f = some(
        random, f"{a}^2", f"{a}^3", f"{a}*{b}", f"exp({a})", f"{a}/{b}", f"1/{a}", f"{a}^2 + {b}", f"sin({a})", f"cos({a})", f"cosh({a})", f"sinh({a})", f"tan({a})",
        f"exp(2*x) + ({c})*exp(x)", f"sqrt({a})", f"ln({a})", f"{a}^4", f"x^4 + ({c})*x^2", f"1/{a} + 1/{b}", f"{a}^(-2)", f"sin(x)^2 + ({rational(random)})*cos(x)",
        f"conj({a})", f"abs({a})*x", f"conj(x)*({c}) + x", "x^2 + conj(x)", "exp(x) + exp(-x)", f"x*conj(x) + ({c})*x", f"{a}^(3/2)", f"{a}^(1/3)", f"{a}^(2/3)",
    )  # fmt: skip
    right = re.sub(r"\bx\b", f"({root})", f)
    forms = (f"{f} = {right}", f"{f} = {number(random)}", f"({f} - ({right}))*({b}) = 0", f"({f} - ({right}))/({b}) = 0")
    chosen = random.choice((0, 0, 0, 1, 2, 3))
    return forms[chosen], None if chosen == 1 else root


def judge(seed):
    text, root = task(seed)
    try:
        with gelvo.time_limit(10):
            found = gelvo.solve(text, "x", over="complex")
            verdict = found.verdict
    except (gelvo.NotSolved, gelvo.TimeLimitReached, gelvo.FormulaError):
        return "open"
    except gelvo.DomainError as told:
        return "open" if "does not occur" in str(told) or "can never hold" in str(told) else f"WRONG error {told}"
    if verdict == "refuted":
        return "WRONG refuted by its own check"
    if found.everything:
        return "solved"
    sides = [read(t) for t in text.split("=")]
    mine, unsure = [], False
    for k in range(len(found)):
        texts = [str(next(iter(found[k].values()))), *map(str, found.own_conditions(k))]
        tree, *conditions = map(read, texts)
        families = [str(n) for n in found.families if any(str(n) in used(t) for t in texts)]
        unsure = unsure or len(families) > 1
        for member in range(-8, 9) if len(families) == 1 else () if families else (0,):
            at = dict.fromkeys(families, mp.mpf(member))
            states = [holds(c, at, True) for c in conditions]
            unsure = unsure or None in states
            if not all(states):
                continue
            try:
                v = value(tree, at, True)
            except NoValue:
                return f"WRONG {texts[0]} has no value"
            off = residual(sides, {"x": v}, True)
            if off is None or off > 1e-15:
                return f"WRONG x = {mp.nstr(v, 8)} does not solve (solution {k})"
            mine.append(v)
    if root is None or unsure or not found.complete:
        return "solved"
    planted = value(read(root), {}, True)
    off = residual(sides, {"x": planted}, True)
    if off is not None and off < 1e-30 and not any(abs(planted - v) < 1e-12 for v in mine):
        return f"WRONG the planted {root} is missing and complete is True"
    return "solved"
