"""Random and mutated text for the reader: it must end in a formula or in a FormulaError, nothing else.

Run with a count:  python tests/fuzz_reader.py 100000
"""

from __future__ import annotations

import sys
import time
from random import Random

import gelvo
from gelvo.errors import FormulaError
from gelvo.reading.reader import Context, read

PIECES = [
    "x",
    "y_1",
    "ab",
    "theta",
    "sin",
    "cos(",
    "exp(",
    "sqrt(",
    "gamma",
    "(",
    ")",
    "[",
    "]",
    "{",
    "}",
    "+",
    "-",
    "*",
    "/",
    "^",
    "**",
    "!",
    "!=",
    "=",
    "==",
    "<",
    "<=",
    ">",
    ",",
    ";",
    ".",
    "1",
    "0",
    "2.5",
    "1e3",
    "3j",
    "j",
    "'",
    "''",
    "|",
    " ",
    "\n",
    "and",
    "or",
    "not",
    "when",
    "otherwise",
    "cases(",
    "where",
    "integral_of(",
    "inf",
    "undefined",
    "pi",
    "π",
    "θ",
    "²",
    "√",
    "∞",
    "≤",
    "{deg}",
    "\\",
    '"',
    "#",
    "$",
    "é",
    "\x00",
    "😀",
    "__",
    "e",
    "1/",
    "0^",
    "factorial(",
    "atan2(",
    "log2(",
]
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


def inputs(count, seed=1):
    """Random rows of pieces, and sample formulas with pieces cut out, doubled, swapped or put in."""
    random = Random(seed)
    for k in range(count):
        if k % 2:
            yield "".join(random.choice(PIECES) for _ in range(random.randint(1, 14)))
            continue
        text = random.choice(SEEDS)
        for _ in range(random.randint(1, 4)):
            start = random.randrange(len(text) + 1)
            stop = min(len(text), start + random.randint(0, 5))
            change = random.randrange(4)
            if change == 0:
                text = text[:start] + text[stop:]
            elif change == 1:
                text = text[:start] + random.choice(PIECES) + text[start:]
            elif change == 2:
                text = text[:stop] + text[start:]
            else:
                text = text[:start] + text[start:stop][::-1] + text[stop:]
        yield text


def run(count, seed=1):
    """How many inputs were formulas and how many were refused; any other exception ends the run."""
    context = Context(unknowns={"theta": (gelvo.variable("t"),)})
    good = refused = 0
    for text in inputs(count, seed):
        try:
            found = read(text, context)
            str(found)
            good += 1
        except FormulaError as fault:
            assert str(fault)
            refused += 1
        except BaseException:
            print(f"not a FormulaError for {text!r}")
            raise
    return good, refused


if __name__ == "__main__":
    start = time.perf_counter()
    formulas, faults = run(int(sys.argv[1]) if len(sys.argv) > 1 else 100_000)
    print(f"{formulas} formulas, {faults} refused, {time.perf_counter() - start:.0f} s: nothing else")
