"""Claims that numbers show to be false must not be supported, and true ones must not be refuted."""

from __future__ import annotations

from itertools import pairwise
from random import Random

import gelvo
from hunt.calculus import FAULTS, SECONDS, definite_task, limit_task, number, sum_task
from hunt.equations import shown, some
from hunt.formulas import points
from hunt.oracle import DIVERGES, approaches, grows, integral, settled, summed
from hunt.plain import holds, mp, read, value

WRITTEN = {"integral": "integral_of({0}, x, {1}, {2})", "limit": "limit_of({0}, x, {1})", "sum": "sum_of({0}, k, {1}, {2})"}


def claim_task(seed):
    """(claim, what is asked, the value that is claimed, facts)"""
    random = Random(seed)
    kind = some(random, "integral", "integral", "limit", "sum")
    if kind == "integral":
        text, low, high, given = definite_task(random.randint(0, 10**9))
    elif kind == "limit":
        text, low, _, given = limit_task(random.randint(0, 10**9))
        high = ""
    else:
        text, low, high, given = sum_task(random.randint(0, 10**9))
    stated = some(
        random, "0", "1", "-1", "1/2", "pi", "inf", "2", "-inf", "pi/2", "sqrt(pi)", "ln(2)", "2/3", "-1/12", "exp(-1)", "undefined",
    )  # fmt: skip
    if random.random() < 0.5:
        found = own_answer(kind, text, low, high, given)
        if found:
            stated = some(
                random,
                found,
                found,
                f"({found})*2",
                f"({found}) + 1",
                f"-({found})",
                f"({found}) + {'1/100' if kind == 'limit' else '1/10^6'}",
            )
    form = WRITTEN[kind].format(text, low, high)
    return f"{form} = {stated}", (kind, text, low, high), stated, given


def own_answer(kind, text, low, high, given):
    """What the library itself says, as text; only its plain finite answers are changed into claims."""
    work = {"integral": gelvo.integrate, "limit": gelvo.limit, "sum": gelvo.add_up}[kind]
    try:
        with gelvo.time_limit(SECONDS):
            found = work(text, "k" if kind == "sum" else "x", *([low, high] if high else [low]), given=given)
    except gelvo.GelvoError:
        return ""
    said = str(found.expression)
    return "" if "_of(" in said or said in ("inf", "-inf", "undefined") or found.conditions else said


def truths(kind, text, low, high, at):
    """A number, DIVERGES, or None where numbers cannot tell."""
    if "dirac_delta" in text:
        return None
    if kind == "integral":
        return integral(read(text), "x", number(low, at), number(high, at), at)
    if kind == "sum":
        first, last = number(low, at), number(high, at)
        return summed(read(text), "k", first, last, at) if last >= first - 1 else None
    place = number(low, at)
    rows = approaches(read(text), "x", place, None, at)
    ends = [settled(row) for row in rows]
    if None not in ends:
        return ends[0] if all(abs(e - ends[0]) < mp.mpf(10) ** -4 for e in ends) else DIVERGES
    return DIVERGES if any(map(grows, rows)) or any(map(swings, rows)) else None


def swings(row):
    """Whether the values keep moving by much, as those of a wave do."""
    if None in row[-5:]:
        return False
    steps = [abs(b - a) for a, b in pairwise(row[-5:])]
    return min(steps[-2:]) > mp.mpf("0.1") * (1 + abs(row[-1])) and max(steps[-2:]) > max(steps) / 2


def judge_claim(task, seed):
    claim, (kind, text, low, high), stated, given = task
    try:
        with gelvo.time_limit(SECONDS):
            verdict = gelvo.check(claim, given=given).verdict
    except gelvo.FormulaError:
        return "open"
    except gelvo.DomainError:
        return "open"
    if verdict == "undecided":
        return "open"
    seen = 0
    right = []
    for at in points(Random(seed), [text, low, high], given, 3):
        here = {**at, "n": mp.mpf(5), "m": mp.mpf(1), "x": mp.mpf(7) / 5}
        if not all(holds(read(g), here) for g in given):
            continue
        truth = truths(kind, text, low, high, here)
        if truth is None:
            continue
        seen += 1
        right.append(agrees(stated, truth, here, "1e-3" if kind == "limit" else "2e-7"))
        if verdict in ("proved", "supported") and right[-1] is False:
            said = truth if truth is DIVERGES else mp.nstr(truth, 8)
            return f"WRONG {verdict}, and it is {said} at {shown(here)}"
    if (
        verdict == "refuted"
        and seen
        and all(right)
        and not [n for n in ("a", "b", "w", "p", "n", "m", "x^k") if n in claim.replace("exp", "")]
    ):
        return "WRONG a true claim is refuted"
    return "solved" if seen else "open"


def agrees(stated, truth, at, size):
    if stated in ("inf", "-inf", "undefined"):
        return truth is DIVERGES
    if truth is DIVERGES:
        return False
    try:
        return bool(abs(value(read(stated), at, True) - truth) < mp.mpf(size) * (1 + abs(truth)))
    except FAULTS:
        return False
