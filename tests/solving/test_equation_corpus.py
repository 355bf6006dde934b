"""The collected equations of our own: answers held against listed ones by numbers that share no code with the library."""

from __future__ import annotations

from itertools import product

import pytest

import gelvo
from hunt.plain import NoValue, holds, mp, read, value
from support import by_id, cases

CASES = cases("equations_own.jsonl")
DOMAINS = {"reals": "real", "integers": "integer"}
NEAR = mp.mpf(10) ** -12
WIDTH = 12  # within it the members of families are compared
LISTED, FOUND = range(-60, 61), range(-48, 49)
SHARES = {1: 1.0, 2: 1.0, 3: 0.95, 4: 0.85, 5: 0.6}  # of the tasks of a level that must be answered


def one_or_all(listed):
    return listed[0] if len(listed) == 1 else listed


def point_of(sample):
    return {k: value(read(v), {}) for k, v in sample.items()}


def same(one, other):
    return all(abs(a - b) <= NEAR * max(1, abs(a), abs(b)) for a, b in zip(one, other, strict=True))


def rows(texts, conditions, families, numbers, at, over_complex):
    """The values of formulas for all members of the families that their conditions allow."""
    trees, needed = [read(t) for t in texts], [read(c) for c in conditions]
    mine = [n for n in families if any(n in t for t in (*texts, *conditions))]
    for members in product(numbers if len(mine) < 2 else range(-6, 7), repeat=len(mine)):
        here = {**at, **dict(zip(mine, map(mp.mpf, members), strict=True))}
        if all(holds(c, here, over_complex) for c in needed):
            yield [value(t, here, over_complex) for t in trees]


def wanted_rows(case, at):
    over_complex = case["over"] == "complex"
    for texts in case["solutions"]:
        yield from rows(texts, [], ["n_1"], LISTED, at, over_complex)


def found_rows(found, case, at):
    for k, solution in enumerate(found):
        texts = [str(solution[u]) for u in case["unknowns"]]
        yield from rows(texts, map(str, found.own_conditions(k)), map(str, found.families), FOUND, at, case["over"] == "complex")


def fault_of_list(case, found):
    """What is missing or too much in a list of solutions; None where it is right."""
    if not hasattr(found, "everything") or found.everything:
        return f"not a list: {found}"
    for sample in case.get("samples", [{}]):
        at = point_of(sample)
        if not all(holds(read(str(c)), at, case["over"] == "complex") for c in found.conditions):
            return f"a condition fails: {found.conditions}"
        wanted, got = list(wanted_rows(case, at)), list(found_rows(found, case, at))
        small = WIDTH if found.families else mp.inf
        missing = [w for w in wanted if all(abs(v) < small for v in w) and not any(same(w, g) for g in got)]
        extra = [g for g in got if all(abs(v) < small for v in g) and not any(same(w, g) for w in wanted)]
        if missing or extra:
            return f"missing {missing[:2]}, too much {extra[:2]}"
    return None


def fault_of_zeros(case, found):
    """The real zeros in a range, as decimals that were found by scanning."""
    got = [row[0] for row in found_rows(found, case, {})]
    wanted = [mp.mpf(z) for z in case["zeros"]]
    low, high = case["between"]
    missing = [z for z in wanted if not any(abs(z - g) < NEAR * 10**3 * max(1, abs(z)) for g in got)]
    extra = [g for g in got if low < g < high and not any(abs(z - g) < NEAR * 10**3 * max(1, abs(z)) for z in wanted)]
    return f"missing {missing[:2]}, too much {extra[:2]}" if missing or extra else None


def pieces_of(text, at):
    for piece in filter(None, (p.strip() for p in text.split(" union "))):
        ends = piece[1:-1]
        depth = [ends[:i].count("(") - ends[:i].count(")") for i in range(len(ends))]
        cut = next(i for i, c in enumerate(ends) if c == "," and not depth[i])
        low, high = (
            mp.mpf(t) if t in ("inf", "-inf") else value(read(t), at) for t in (ends[:cut].strip(), ends[cut + 1 :].strip())
        )
        yield low, high, piece[0] == "[", piece[-1] == "]"


def fault_of_set(case, found):
    """A set looked at in many places and beside each end."""
    if not hasattr(found, "condition"):
        return f"not a set: {found}"
    for sample in case.get("samples", [{}]):
        at = point_of(sample)
        pieces = list(pieces_of(case["set"], at))
        ends = [e for p in pieces for e in p[:2] if abs(e) < mp.inf]
        places = [mp.mpf(k) / 7 - 15 + mp.mpf(1) / 97 for k in range(210)] + [
            e + d for e in ends for d in (mp.mpf("1e-6"), -mp.mpf("1e-6"))
        ]
        condition = (
            read(str(found.condition)) if str(found.condition) not in ("true", "false") else str(found.condition) == "true"
        )
        for place in places:
            inside = any(low < place < high for low, high, _, _ in pieces)
            here = condition if isinstance(condition, bool) else holds(condition, {**at, case["unknowns"][0]: place})
            if here is not inside:
                return f"at {mp.nstr(place, 8)}: {found}"
        for low, high, closed_low, closed_high in pieces:
            for end, closed in ((low, closed_low), (high, closed_high)):
                if abs(end) < mp.inf and isinstance(condition, bool) is False and "." not in case["set"]:
                    if holds(condition, {**at, case["unknowns"][0]: end}, edge=mp.mpf(10) ** -40) is not closed:
                        return f"at the end {mp.nstr(end, 8)}: {found}"
    return None


def fault_of(case):
    found = gelvo.solve(
        one_or_all(case["equations"]),
        one_or_all(case["unknowns"]),
        over=DOMAINS.get(case["over"], case["over"]),
        given=case["given"],
    )
    if found.verdict == "refuted":
        return "refuted by its own certificate"
    if "set" in case:
        return fault_of_set(case, found)
    if case.get("all"):
        return None if found.everything else f"not every value: {found}"
    if "free" in case:
        return None if len(found) and any(str(v) in case["free"] for v in found[0].values()) else f"nothing is free: {found}"
    return fault_of_zeros(case, found) if "zeros" in case else fault_of_list(case, found)


@pytest.mark.parametrize("level", sorted(SHARES))
def test_equations_of_a_level_are_answered_and_none_is_wrong(level):
    mine = [c for c in CASES if c["level"] == level]
    left, wrong = [], {}
    for case in mine:
        try:
            fault = fault_of(case)
        except (gelvo.NotSolved, gelvo.DomainError) as reason:
            left.append(f"{case['id']}: {reason}")
            continue
        except NoValue:
            fault = "an answer has no value"
        if fault:
            wrong[case["id"]] = fault
    assert not wrong
    assert len(mine) - len(left) >= SHARES[level] * len(mine), left


def test_the_corpus_is_large_and_has_traps():
    assert len(CASES) >= 250 and sum(c["trap"] for c in CASES) >= 60
    assert len({by_id(c) for c in CASES}) == len(CASES)
