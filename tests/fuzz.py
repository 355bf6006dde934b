"""Random and mutated text for everything that reads: it ends in a result or in a clear error, and in nothing else.

Formulas, statements, tables and whole files:  python tests/fuzz.py 1000000 [seed]
"""

from __future__ import annotations

import sys
import tempfile
import time
from collections import Counter
from multiprocessing import Pool
from pathlib import Path
from random import Random

from click.testing import CliRunner

import gelvo
from gelvo.cli import main
from gelvo.derivation.engine import Derivation
from gelvo.derivation.lines import Line
from gelvo.reading.reader import Context, read

SECONDS = 0.25  # for one statement; a stop is a clear error too
PIECES = [
    'x', 'y_1', 'ab', 'theta', 'sin', 'cos(', 'exp(', 'sqrt(', 'gamma', '(', ')', '[', ']', '{', '}', '+', '-', '*', '/',
    '^', '**', '!', '!=', '=', '==', '<', '<=', '>', ',', ';', '.', '1', '0', '2.5', '1e3', '3j', 'j', "'", "''", '|', ' ',
    '\n', 'and', 'or', 'not', 'when', 'otherwise', 'cases(', 'where', 'integral_of(', 'inf', 'undefined', 'pi', 'π', 'θ',
    '²', '√', '∞', '≤', '{deg}', '\\', '"', '#', '$', 'é', '\x00', '😀', '__', 'e', '1/', '0^', 'factorial(', 'atan2(',
    'log2(', 'given ', 'with ', 'by ', 'for ', 'from ', 'to ', 'be ', 'let ', '> ', '# ', '\t', '\r', '\u2028', '\x1b[31m',
    '999999999999999999999999999999', '10^20', '10^(10^9)', '1e400', '[1, 2; 3, x]', '=0', 'x(t)', 't', '{m}', '{"""}',
    '"a.csv"', 'over reals', 'as numpy', '-inf', '%', ' of ', 'digits', '0.1', '_', '\ud800',
]  # fmt: skip
SEEDS = [
    "a*x^2*exp(-x) + 3x",
    "integral_of(x^2*exp(-a*x^2), x, -inf, inf)",
    "cases(x^2 when x > 0, otherwise 0)",
    "theta''(t) + 2*gamma*theta'(t) + omega^2*theta(t) = 0",
    "sqrt(a^2 + b^2)/(1 - tan(x)^2)",
    "0 < a < b and c != 0",
    "w_2 where w_1 = x^2 + x; w_2 = w_1^2",
    "|x - 1| + 5! - 30{deg}",
    "(1+2j)*conj(3-4j)/atan2(y, x)",
]


STATEMENTS = """
given a > 0 {kg}, b >= a, n natural
unknown theta(t) {rad}
let f be a*x^2 + b
let g(v) be v^2/(1 + v)
simplify sin(x)^2 + cos(x)^2 given x > 0
integrate x*exp(-x) by x from 0 to inf
integrate 1/(x^2 + a) by x given a > 0
differentiate sin(x)/x by x, x
solve x^2 = a, y = x for x, y over reals given a > 0 taking x > 0
solve theta'' + theta = 0 for theta given theta(0) = 1, theta'(0) = 0
solve x^2 < 4 for x
limit sin(x)/x as x -> 0 from above
series exp(x) about x = 0 through power 5
sum 1/k^2 for k from 1 to inf
value pi^2 to 20 digits with x = 2
substitute x = 3, y = a in x*y
rename x to y in x + 1
check sin(x)^2 = 1 - cos(x)^2
check not x = 1 with x = 2
plot sin(x) for x from 0 to 10 as log y
plot x for x from 0 to 1 as data "a.csv"
export f as latex, mathml to "out"
eigenvalues of [a, b; b, a]
determinant of [1, 2; 3, 4]
inverse of [1, 2; 3, 4]
factor x^4 - 1
expand (x + y)^5
collect x*y + x by x
partial fractions of 1/(x^2 - 1) by x
laplace transform of exp(-t) from t to s
typeset x^2 as text
add up k for k from 1 to n
""".strip().splitlines()
TABLE = "t,x,y\n0,1.5,2\n1,2.5,3e3\n2,-1,0.25\n"
SHARES = {"formula": 0.93, "statement": 0.03, "table": 0.035, "file": 0.005}


def mutated(random, text, times=4):
    """A text with pieces cut out, doubled, swapped or put in."""
    for _ in range(random.randint(1, times)):
        start = random.randrange(len(text) + 1)
        stop = min(len(text), start + random.randint(0, 6))
        change = random.randrange(5)
        if change == 0:
            text = text[:start] + text[stop:]
        elif change in (1, 4):
            text = text[:start] + random.choice(PIECES) + text[start:]
        elif change == 2:
            text = text[:stop] + text[start:]
        else:
            text = text[:start] + text[start:stop][::-1] + text[stop:]
    return text


def formula(random):
    if random.random() < 0.5:
        return "".join(random.choice(PIECES) for _ in range(random.randint(1, 14)))
    return mutated(random, random.choice(SEEDS))


def statement(random):
    return mutated(random, random.choice(STATEMENTS), random.randint(1, 3)) if random.random() < 0.9 else formula(random)


def file(random):
    lines = [statement(random) if random.random() < 0.5 else random.choice(STATEMENTS) for _ in range(random.randint(1, 5))]
    raw = "\n".join(lines).encode("utf-8", "surrogatepass")
    for _ in range(random.randrange(3)):
        place = random.randrange(len(raw) + 1)
        raw = raw[:place] + bytes(random.randrange(256) for _ in range(random.randint(0, 3))) + raw[place:]
    return raw


def try_formula(random, folder):
    str(read(formula(random), Context(unknowns={"theta": (gelvo.variable("t"),)})))


def try_statement(random, folder):
    derivation = Derivation("fuzz", folder=folder, only_checks=True)
    for known in ("given a > 0", "unknown theta(t)", "let f be a*x^2 + 1"):
        derivation.safely(Line(known, 1))
    with gelvo.time_limit(SECONDS):
        result = derivation.safely(Line(" ".join(statement(random).split("\n")), 2))
    if result.internal:
        raise AssertionError(result.note)
    if result.kind == "fault":
        raise gelvo.GelvoError(result.note)


def try_table(random, folder):
    path = folder / "b.csv"
    path.write_bytes(mutated(random, TABLE, 6).encode("utf-8", "surrogatepass"))
    gelvo.read_table(path)


def try_file(random, folder):
    path = folder / "c.gelvo"
    path.write_bytes(file(random))
    with gelvo.time_limit(5 * SECONDS):
        done = CliRunner().invoke(main, ["check", str(path)])
    if done.exit_code not in (0, 1, 2) or "internal fault" in done.output:
        raise AssertionError(f"exit code {done.exit_code}: {done.output[-400:]} {done.exception!r}")
    if done.exit_code == 2:
        raise gelvo.GelvoError(done.output)


TRIES = {"formula": try_formula, "statement": try_statement, "table": try_table, "file": try_file}


def run(kind, count, seed=1):
    """(results, clear errors, what was neither, with the seed that shows it again)."""
    good = refused = 0
    neither: list[str] = []
    with tempfile.TemporaryDirectory() as place:
        folder = Path(place)
        (folder / "a.csv").write_text(TABLE, encoding="utf-8")
        for k in range(count):
            try:
                TRIES[kind](Random(f"{seed} {k}"), folder)
                good += 1
            except gelvo.GelvoError as fault:
                refused += bool(str(fault))
            except Exception as fault:
                neither.append(f"{kind}, seed {seed!r}, number {k}: {type(fault).__name__}: {str(fault)[:300]}")
    return good, refused, neither


def _part(task):
    kind, count, seed = task
    return kind, run(kind, count, seed)


if __name__ == "__main__":
    wanted = int(sys.argv[1]) if len(sys.argv) > 1 else 100_000
    first = sys.argv[2] if len(sys.argv) > 2 else "1"
    start = time.perf_counter()
    tasks = [(k, 200, f"{first} {n}") for k, share in SHARES.items() for n in range(max(1, round(wanted * share / 200)))]
    Random(first).shuffle(tasks)
    counts: Counter[str] = Counter()
    with Pool(maxtasksperchild=50) as pool:
        for done, (kind, (good, refused, neither)) in enumerate(pool.imap_unordered(_part, tasks), 1):
            counts.update({f"{kind}: results": good, f"{kind}: clear errors": refused, f"{kind}: neither": len(neither)})
            for line in neither:
                print(ascii(line), flush=True)
            if done % 100 == 0:
                print(f"{done * 200} of {wanted}, {time.perf_counter() - start:.0f} s", file=sys.stderr, flush=True)
    for what, count in sorted(counts.items()):
        print(f"{count:9} {what}")
    print(f"{sum(counts.values())} inputs in {time.perf_counter() - start:.0f} s")
    sys.exit(any(count for what, count in counts.items() if what.endswith("neither")))
