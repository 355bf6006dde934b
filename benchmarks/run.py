"""Prints each measured row beside its bar, writes benchmarks/results.json, and fails where a bar once reached is missed by a quarter."""

from __future__ import annotations

import ctypes
import json
import os
import statistics
import subprocess
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

from algebra_rows import ROWS as ALGEBRA_ROWS
from code_rows import ROWS as CODE_ROWS
from days_rows import ROWS as DAY_ROWS
from matrix_rows import ROWS as MATRIX_ROWS
from solving_rows import ROWS as SOLVING_ROWS
from timing import paired, seconds

HERE = Path(__file__).parent
RESULTS = HERE / "results.json"
HAND_C = """
#include <math.h>
double by_hand(double t, double theta_0, double c, double J, double omega)
{
    return theta_0*exp(-c*t/(2.0*J))*(cos(omega*t) + c/(2.0*J*omega)*sin(omega*t));
}
"""
LOOP_C = """
double %(name)s(double, double, double, double, double);
double loop_%(name)s(long n)
{
    double sum = 0.0;
    long k;
    for (k = 0; k < n; k++)
        sum += %(name)s(1e-6*(double)k, 0.02, 1.5e-6, 2.1e-5, 0.63);
    return sum;
}
"""
FORMULA = "theta_0*exp(-c*t/(2*J))*(cos(omega*t) + c/(2*J*omega)*sin(omega*t))"
INPUTS = ["t", "theta_0", "c", "J", "omega"]


def process(*command: str) -> Callable[[], object]:
    environment = {k: v for k, v in os.environ.items() if k != "PYTHONDONTWRITEBYTECODE"}
    return lambda: subprocess.run(command, check=True, capture_output=True, env=environment)


def import_time() -> float:
    script = "import time; t = time.perf_counter(); import {}; print(time.perf_counter() - t)"

    def once(module: str) -> float:
        done = subprocess.run([sys.executable, "-c", script.format(module)], check=True, capture_output=True, text=True)
        return float(done.stdout)

    once("gelvo"), once("numpy")
    return statistics.median(once("gelvo") / once("numpy") for _ in range(9))


def do_time() -> float:
    gelvo = str(Path(sys.executable).with_name("gelvo"))
    return paired(process(gelvo, "do", "differentiate sin(x)^2 by x"), process(sys.executable, "-c", "import numpy"), 9)


def generated_c() -> float:
    import gelvo

    bundle = gelvo.export_code(FORMULA, INPUTS, "c", "generated", check=False)
    with tempfile.TemporaryDirectory() as folder:
        bundle.write(folder)
        Path(folder, "by_hand.c").write_text(HAND_C)
        loops = "".join(LOOP_C % {"name": n} for n in ("generated", "by_hand"))
        Path(folder, "loops.c").write_text(loops)
        command = ["cc", "-std=c99", "-O2", "-shared", "-fPIC", "generated.c", "by_hand.c", "loops.c", "-o", "both.so", "-lm"]
        subprocess.run(command, cwd=folder, check=True)
        library = ctypes.CDLL(str(Path(folder, "both.so")))
        for name in ("loop_generated", "loop_by_hand"):
            function = getattr(library, name)
            function.restype, function.argtypes = ctypes.c_double, [ctypes.c_long]
        return paired(lambda: library.loop_generated(10**7), lambda: library.loop_by_hand(10**7), 5)


def numeric() -> float:
    import numpy

    import gelvo

    function = gelvo.numeric_function(FORMULA, INPUTS)
    t = numpy.linspace(0, 60, 10**6)
    values = (0.02, 1.5e-6, 2.1e-5, 0.63)

    def by_hand() -> object:
        theta_0, c, J, omega = values
        return theta_0 * numpy.exp(-c * t / (2 * J)) * (numpy.cos(omega * t) + c / (2 * J * omega) * numpy.sin(omega * t))

    return paired(lambda: function(t, *values), by_hand, 9)


def growth(task: Callable[[int], Callable[[], object]], small: int) -> float:
    """time(2n)/time(n), the median of pairs."""
    one, two = task(small), task(2 * small)
    return paired(two, one, 5)


def building(n: int) -> Callable[[], object]:
    import gelvo

    names = [gelvo.variable(f"x_{k}") for k in range(n)]
    return lambda: gelvo.total(names)


def differentiating(n: int) -> Callable[[], object]:
    import gelvo

    x = gelvo.variable("x")
    whole = gelvo.total([gelvo.variable(f"a_{k}") * x**k for k in range(1, n + 1)])
    return lambda: gelvo.differentiate(whole, x)


def shared_graph(n: int) -> Callable[[], object]:
    import gelvo

    x = gelvo.variable("x")
    e = x
    for _ in range(n):
        e = gelvo.sin(e) ** 2 + e * x
    return lambda: gelvo.differentiate(e, x)


def literal_shared_graph() -> float:
    """Seconds to differentiate and print x1 = x0^2 + x0, 60 times repeated."""
    import gelvo

    x = gelvo.variable("x")
    e = x
    for _ in range(60):
        e = e**2 + e
    return seconds(lambda: str(gelvo.differentiate(e, x)))


NODES = """
import os
import gelvo

def resident():
    return int(open("/proc/self/statm").read().split()[1]) * os.sysconf("SC_PAGE_SIZE")


x = gelvo.variable("x")
first = [gelvo.variable(f"y_{k}") for k in range(1000)]
second = [gelvo.variable(f"z_{k}") for k in range(500)]
gelvo.sin(first[0] * second[0])
kept = [None] * 1_000_000
before, place = resident(), 0
for a in first:
    for b in second:
        kept[place] = product = a * b
        kept[place + 1] = gelvo.sin(product)
        place += 2
print((resident() - before) / place)
"""


def node_memory() -> float:
    """Bytes of process memory for each of 10^6 distinct small nodes: half products of two names, half calls."""
    done = subprocess.run([sys.executable, "-c", NODES], check=True, capture_output=True, text=True)
    return float(done.stdout)


ROWS = [
    ("import gelvo / import numpy", import_time, 1.0, "x"),
    ('gelvo do "differentiate sin(x)^2 by x" / python -c "import numpy"', do_time, 2.0, "x"),
    ("generated C / the same by hand, 10^7 evaluations", generated_c, 1.05, "x"),
    ("numeric_function / hand-written NumPy, 10^6 points", numeric, 1.1, "x"),
    ("building a sum of 10^5 terms: twice the terms", lambda: growth(building, 100_000), 2.3, "x"),
    ("differentiating a sum of 10^5 terms: twice the terms", lambda: growth(differentiating, 50_000), 2.3, "x"),
    ("derivative of a shared graph: twice the nodes", lambda: growth(shared_graph, 150), 2.3, "x"),
    ("derivative and text of the graph with 10^18 leaves", literal_shared_graph, 1.0, "s of wall clock"),
    ("memory of 10^6 distinct small nodes", node_memory, 450.0, "bytes each"),
]


ROWS += ALGEBRA_ROWS
ROWS += DAY_ROWS
ROWS += CODE_ROWS
ROWS += SOLVING_ROWS + MATRIX_ROWS


def main() -> int:
    known = json.loads(RESULTS.read_text()) if RESULTS.exists() else {}
    worse = []
    for name, measure, bar, unit in ROWS:
        value = measure()
        reached = value <= bar
        print(f"{'reached' if reached else 'missed ':8} {value:10.3g} {unit:15} (bar {bar:g})  {name}", flush=True)
        once = known.get(name, {}).get("reached", False)
        if once and value > 1.25 * bar:
            worse.append(name)
        known[name] = {"value": round(value, 4), "bar": bar, "unit": unit, "reached": reached or once}
    temporary = RESULTS.with_suffix(".part")
    temporary.write_text(json.dumps(known, indent=2) + "\n")
    temporary.replace(RESULTS)
    for name in worse:
        print(f"was reached once and is now missed by more than a quarter: {name}")
    return 1 if worse else 0


if __name__ == "__main__":
    sys.exit(main())
