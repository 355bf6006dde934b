"""The collected sample tasks judged by value: solved, left open, or wrong; `make coverage` prints the table by level."""

from __future__ import annotations

import itertools
import sys
import time
from collections import Counter
from random import Random

from mpmath import mp, mpc, mpf

import gelvo
from gelvo.expression.nodes import Bound, Condition, Written
from gelvo.expression.traversal import free_names, postorder, substitute
from support import cases

SOLVED, OPEN, WRONG = "solved", "open", "wrong"
FILES = (
    "integrals_indefinite.jsonl", "integrals_definite.jsonl", "limits_series_sums.jsonl", "equations.jsonl",
    "equivalence.jsonl", "simplify.jsonl",
)  # fmt: skip
SECONDS = 20
DEFAULT = {name: str(mpf(k + 2) / 7 + mpf(k) / 3)[:6] for k, name in enumerate("abcdefghijklmnopqrstuvwxyz")}


VERDICTS = Counter()  # of the answers that were given


def looked_at(answer):
    """The answer; its verdict is counted, unless nothing was answered."""
    if not getattr(answer, "reason", ""):
        VERDICTS[answer.verdict] += 1
    return answer


def positive(names):
    return [f"{n} > 0" for n in names]


def numeric(expression, point, digits=25):
    """The value at a point given by name, as a complex number of mpmath."""
    names = {n.name: n for n in free_names(expression)}
    table = {names[n]: gelvo.formula(str(v)) for n, v in point.items() if n in names}
    shown = str(gelvo.value(substitute(expression, table), digits))
    return mpc(*_parts(shown))


def _parts(text):
    value = gelvo.formula(text)
    return [mpf(str(gelvo.value(part, 25))) for part in (gelvo.re(value), gelvo.im(value))]


def near(a, b, size=1e-15):
    return abs(a - b) <= size * max(1, abs(a), abs(b))


def is_open(answer):
    expression = getattr(answer, "expression", answer)
    return any(isinstance(n, Written) for n in postorder(expression))


def judged_value(answer, wanted, point):
    """An answer against the wanted text, at a point."""
    expression = getattr(answer, "expression", answer)
    if is_open(expression):
        return OPEN
    if wanted in ("none", "diverges", "inf", "-inf"):
        allowed = {"none": ("undefined",), "diverges": ("inf", "-inf", "undefined")}.get(wanted, (wanted,))
        return SOLVED if str(expression) in allowed else WRONG
    if isinstance(expression, Bound):
        return WRONG
    target = gelvo.formula(wanted, names_from=expression)
    return SOLVED if near(numeric(expression, point), numeric(target, point)) else WRONG


def indefinite(case):
    point = case["parameters"]
    answer = looked_at(gelvo.integrate(case["integrand"], case["variable"], given=positive(point)))
    if is_open(answer):
        return SOLVED if case["antiderivative"] is None else OPEN
    slope = gelvo.differentiate(answer.expression, case["variable"])
    integrand = gelvo.formula(case["integrand"], names_from=slope)
    low, high = map(mpf, case["interval"])
    for share in ("0.137", "0.361", "0.613", "0.877"):
        place = {**point, case["variable"]: mp.nstr(low + (high - low) * mpf(share), 12)}
        if not near(numeric(slope, place), numeric(integrand, place)):
            return WRONG
    return SOLVED


def definite(case):
    facts = []
    for condition in case["conditions"]:
        if condition.startswith("principal"):
            continue
        facts += ["n natural", "n > 0"] if condition == "n is a positive integer" else [condition]
    answer = looked_at(gelvo.integrate(case["integrand"], case["variable"], case["lower"], case["upper"], given=facts))
    return judged_value(answer, case["answer"], case["parameters"])


def _point_for(texts, facts, given):
    """Some values of all free names for which the facts hold."""
    given = given if isinstance(given, dict) else {}
    conditions = [gelvo.formula(f) for f in facts if not f.endswith(("integer", "real", "natural"))]
    names = sorted({n.name for e in [*map(gelvo.formula, texts), *conditions] for n in free_names(e)} | set(given))
    random = Random(7)
    for _ in range(400):
        point = {n: given.get(n) or str(random.choice((0.31, 0.47, 0.73, 1.3, 1.7, 2.6, 3.4, 0.17, -0.7, -2.3))) for n in names}
        for n in {f.split()[0] for f in facts if f.endswith(("integer", "natural"))} | ({"n"} if "n" in point else set()):
            if n in point and n not in given:
                point[n] = str(random.choice((2, 3, 5)))
        table = {n: gelvo.formula(v) for n, v in point.items()}
        if all(_decided(substitute(c, {k: table[k.name] for k in free_names(c)})) for c in conditions):
            return point
    raise AssertionError(f"no point for {facts}")


def limits_series_sums(case):
    facts, kind = case["facts"], case["kind"]
    if kind == "limit":
        side = None if case["side"] == "both" else case["side"]
        answer = looked_at(gelvo.limit(case["expression"], case["variable"], case["point"], side, given=facts))
        wanted = case["answer"] if case["answer"] in ("none", "inf", "-inf") else None
        point = {} if wanted else _point_for([case["answer"]], facts, case.get("parameters", {}))
        return judged_value(answer, case["answer"], point)
    if kind == "series":
        powers = [p for p, _ in case["coefficients"]]
        through = case["order"]
        answer = looked_at(gelvo.series(case["expression"], case["variable"], case["about"], through, given=facts))
        point = _point_for([c for _, c in case["coefficients"]], facts, case.get("parameters", {}))
        for power, wanted in case["coefficients"]:
            found = answer.coefficient(gelvo.formula(power))
            if not near(numeric(found, point), numeric(gelvo.formula(wanted), point)):
                return WRONG
        return SOLVED if powers else OPEN
    if kind == "sum":
        answer = looked_at(gelvo.add_up(case["term"], case["index"], case["lower"], case["upper"], given=facts))
        if case["answer"] == "diverges":
            return judged_value(answer, "diverges", {})
        return judged_value(answer, case["answer"], _point_for([case["answer"]], facts, case.get("parameters", {})))
    work = getattr(gelvo, case["transform"])
    options = {"convention": "angular"} if "fourier" in case["transform"] else {}
    answer = looked_at(work(case["expression"], case["variable"], case["target"], given=facts, **options))
    return judged_value(answer, case["answer"], _point_for([case["answer"]], facts, case.get("parameters", {})))


# --- equations -----------------------------------------------------------------------------------------------------------


def equations(case):
    over = {"reals": "real", "integers": "integer"}.get(case["over"], case["over"])
    found = gelvo.solve(case["equations"], case["unknowns"], over=over, given=case["given"])
    VERDICTS[found.verdict] += 1
    if "interval_set" in case or case["kind"] == "inequality":
        return _judged_set(found, case)
    splits = case.get("case_split") or [case]
    return max((_judged_split(found, split, case) for split in splits), key=[SOLVED, OPEN, WRONG].index)


def _judged_split(found, split, case):
    for sample in split.get("sample") or [{}]:
        own = _case_at(found, sample)
        if own is None:
            return OPEN
        if split.get("all"):
            if not own.everything:
                return OPEN
            continue
        wanted = _wanted(split, case, sample)
        if wanted is None:
            return OPEN if not len(own) else SOLVED
        got = _values(own, case["unknowns"], sample)
        missing = [w for w in wanted if not any(_same(w, g) for g in got)]
        extra = [g for g in got if not any(_same(w, g) for w in wanted)]
        if case.get("solutions") and any(s.get("family") for s in case["solutions"]):
            window = [w for w in wanted if all(abs(v) < 8 for v in w)]
            missing = [w for w in window if not any(_same(w, g) for g in got)]
            extra = [g for g in got if all(abs(v) < 8 for v in g) and not any(_same(w, g) for w in wanted)]
        if missing or extra:
            return WRONG
    return SOLVED


def _case_at(found, sample):
    """The solutions, or those of the special case, that hold for sample values; None where nothing is said of them."""
    failing = [c for c in found.conditions if _holds(c, sample) is False]
    if not failing:
        return found
    if found.everything:
        return gelvo.solve("x^2 = -1", "x")  # the empty set
    for condition, case in found.special_cases:
        if _holds(condition, sample) is True:
            return _case_at(case, sample)
    return None


def _wanted(split, case, sample):
    if "roots_of" in split:
        return None
    result = []
    for solution in split.get("solutions", []):
        texts = [solution[u] for u in case["unknowns"]]
        if any(u in solution.get("free", split.get("free", [])) for u in case["unknowns"]):
            return None
        for n in range(-9, 10) if solution.get("family") else [0]:
            result.append([numeric(gelvo.formula(t), {**sample, "n_1": str(n)}) for t in texts])
    return result


def _values(found, unknowns, sample):
    """The numeric solutions for sample values."""
    result = []
    for k, solution in enumerate(found):
        values = {str(u): v for u, v in solution.items()}
        for n in itertools.product(range(-9, 10), repeat=len(found.families)):
            point = {**sample, **{f.name: str(v) for f, v in zip(found.families, n, strict=True)}}
            if any(_holds(c, point) is False for c in found.conditions_of(k)):
                continue
            row = [numeric(values[u], point) for u in unknowns]
            if not any(_same(row, other) for other in result):
                result.append(row)
    return result


def _holds(condition, point):
    if not isinstance(condition, Condition):
        return None
    table = {n: gelvo.formula(point[n.name]) for n in free_names(condition) if n.name in point}
    try:
        return gelvo.is_known(substitute(condition, table)) or None if not table else _decided(substitute(condition, table))
    except gelvo.GelvoError:
        return None


def _decided(condition):
    from gelvo.facts.store import Facts

    return Facts().holds(condition)


def _same(a, b):
    return all(near(x, y, 1e-12) for x, y in zip(a, b, strict=True))


def _judged_set(found, case):
    """A solution set against intervals, at many places and beside each end."""
    for sample in case.get("sample") or [{}]:
        pieces = []
        for text in case["interval_set"].split(" union "):
            low, high = text.strip()[1:-1].split(",", 1)
            ends = [
                mpf(e) if e.strip() in ("inf", "-inf") else numeric(gelvo.formula(e), sample).real
                for e in (low.strip(), high.strip())
            ]
            pieces.append((ends, text.strip()[0] == "[", text.strip()[-1] == "]"))
        finite = sorted({e for p in pieces for e in p[0] if abs(e) < 1e9})
        tests = [mpf(k) / 3 - 20 for k in range(121)] + [e + d for e in finite for d in (mpf("1e-6"), mpf("-1e-6"))]
        condition = found.condition
        if condition is None:
            return OPEN
        for place in tests:
            wanted = any(
                (low < place < high) or (closed_low and place == low) or (closed_high and place == high)
                for (low, high), closed_low, closed_high in pieces
            )
            point = {**sample, case["unknowns"][0]: mp.nstr(place, 20)}
            if _decided(substitute(condition, {n: gelvo.formula(point[n.name]) for n in free_names(condition)})) is not wanted:
                return WRONG
    return SOLVED


# --- equality and simplification -----------------------------------------------------------------------------------------


def equivalence(case):
    try:
        told = gelvo.equal(case["left"], case["right"], given=case["facts"])
        VERDICTS["proved"] += 1
        return SOLVED if told == case["equal"] else WRONG
    except gelvo.Undecided:
        return OPEN


def size_of(text):
    """Leaves and operations of a formula as written: the plain count that the tasks are judged by."""
    import re

    tokens = re.findall(r"\d+(?:\.\d+)?j?|[^\W\d]\w*|[-+*/^]", text)
    return len(tokens)


def simplify(case):
    short = looked_at(gelvo.simplify(case["input"], given=case["facts"])).expression
    start = gelvo.formula(case["input"], names_from=short)
    if gelvo.is_known(gelvo.equation(start, short), given=case["facts"]) is False:
        return WRONG
    return SOLVED if size_of(str(short)) <= case["maximum_size"] else OPEN


JUDGES = dict(zip(FILES, (indefinite, definite, limits_series_sums, equations, equivalence, simplify), strict=True))


def judged(name, case):
    """solved, open or wrong, and why it stayed open."""
    try:
        with gelvo.time_limit(SECONDS):
            return JUDGES[name](case), ""
    except (
        gelvo.NotSolved,
        gelvo.NoClosedForm,
        gelvo.Undecided,
        gelvo.TimeLimitReached,
        gelvo.DomainError,
        gelvo.FormulaError,
    ) as fault:
        return OPEN, f"{type(fault).__name__}: {fault}"[:150]


def main(words):
    """[file] [--all]: the table; each task that is not solved on a line of its own."""
    chosen = [f for f in FILES if not words or any(w in f for w in words)]
    short = False
    for name in chosen:
        counts = Counter()
        before = VERDICTS.copy()
        for case in cases(name):
            start = time.perf_counter()
            outcome, why = judged(name, case)
            counts[(case["level"], outcome)] += 1
            taken = time.perf_counter() - start
            if outcome != SOLVED or taken > 5:
                print(f"  {case['id']} level {case['level']}: {outcome} ({taken:.1f} s) {why}")
        for level in sorted({k for k, _ in counts}):
            row = [counts[(level, o)] for o in (SOLVED, OPEN, WRONG)]
            bar = {1: 0.95, 2: 0.75}.get(level, 0)
            missed = row[2] or row[0] < bar * sum(row)
            short = short or bool(missed)
            print(
                f"{name:28} level {level}: solved {row[0]:3}  open {row[1]:3}  wrong {row[2]:3}{'   below its bar' if missed else ''}"
            )
        print(f"{name:28} {told(VERDICTS - before)}")
    print(told(VERDICTS))
    return 1 if short else 0


def told(verdicts):
    """proved 12 of 14 (86%), supported 2"""
    whole = max(1, sum(verdicts.values()))
    rest = "".join(f", {word} {count}" for word, count in sorted(verdicts.items()) if word != "proved")
    return f"proved {verdicts['proved']} of {whole} ({100 * verdicts['proved'] // whole}%){rest}"


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
