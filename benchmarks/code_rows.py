"""Rows about generated code: operations of a chain of bodies beside three published ways, a long program, compiled functions."""

from __future__ import annotations

import re
import subprocess
import sys
import tempfile
from pathlib import Path

from timing import paired
from yardstick import measure

sys.path.insert(0, str(Path(__file__).parent.parent / "examples"))


class Counted:
    """A number that counts what is done with it."""

    done = 0

    def _two(self, other: object) -> Counted:
        Counted.done += 1
        return Counted()

    __add__ = __radd__ = __sub__ = __rsub__ = __mul__ = __rmul__ = __truediv__ = __rtruediv__ = _two

    def one(self) -> Counted:
        """A function of it."""
        return self._two(self)


def _solved(matrix: list[list[Counted]], side: list[Counted]) -> None:
    """L D L^T, one triangle alone (A.-L. Cholesky, 1924, without roots)."""
    n = len(side)
    for k in range(n):
        factors = [matrix[i][k] / matrix[k][k] for i in range(k + 1, n)]
        for i in range(k + 1, n):
            for j in range(i, n):
                matrix[i][j] = matrix[i][j] - factors[i - k - 1] * matrix[j][k]
            side[i] = side[i] - factors[i - k - 1] * side[k]
    for k in reversed(range(n)):
        side[k] = side[k] / matrix[k][k]
        for i in range(k):
            side[i] = side[i] - matrix[k][i] * side[k]


def by_differences(n: int) -> int:
    """Mass matrix and forces of the chain in sines and cosines of differences of angles, then elimination."""
    q, v, l, m = ([Counted() for _ in range(n)] for _ in range(4))
    g, Counted.done = Counted(), 0
    return _chain(n, v, l, m, g, lambda i, j: ((q[i] - q[j]), None), lambda i: q[i].one())


def by_products(n: int) -> int:
    """The same with sines and cosines of the angles alone, and the rules for their differences."""
    q, v, l, m = ([Counted() for _ in range(n)] for _ in range(4))
    g, Counted.done = Counted(), 0
    sine, cosine = [a.one() for a in q], [a.one() for a in q]

    def waves(i: int, j: int) -> tuple[Counted, Counted]:
        return sine[i] * cosine[j] - cosine[i] * sine[j], cosine[i] * cosine[j] + sine[i] * sine[j]

    return _chain(n, v, l, m, g, waves, lambda i: sine[i])


def _chain(n, v, l, m, g, waves, sine) -> int:  # type: ignore[no-untyped-def]
    heavy = list(m)
    for k in reversed(range(n - 1)):
        heavy[k] = heavy[k] + heavy[k + 1]
    square, arm = [a * a for a in v], [heavy[k] * l[k] for k in range(n)]
    matrix = [[Counted()] * n for _ in range(n)]
    side = [g * arm[k] * sine(k) for k in range(n)]
    for i in range(n):
        matrix[i][i] = arm[i] * l[i]
        for j in range(i):
            one, other = waves(j, i)
            up, across = (one.one(), one.one()) if other is None else (one, other)
            weight = arm[i] * l[j]
            matrix[i][j] = weight * across
            push = weight * up
            side[i], side[j] = side[i] - push * square[j], side[j] + push * square[i]
    _solved(matrix, side)
    return Counted.done


def by_recursion(n: int) -> int:
    """Inertia carried from the last body to the first, then accelerations back (R. Featherstone, 1983): planar, about the joints."""
    q, v, l, m = ([Counted() for _ in range(n)] for _ in range(4))
    g, Counted.done = Counted(), 0
    sine, cosine = [a.one() for a in q], [a.one() for a in q]
    # of each body the inertia (xx, xy, yy) that a force at its upper end feels, and the force that it meets there without acceleration
    xx, xy, yy, px, py = (Counted() for _ in range(5))
    kept = []
    for k in reversed(range(n)):
        if k < n - 1:
            xx, yy = xx + m[k], yy + m[k]
            py = py + m[k] * g
        across, up = l[k] * cosine[k], l[k] * sine[k]
        pull = l[k] * v[k] * v[k]
        px, py = px - xx * sine[k] * pull + xy * cosine[k] * pull, py + xy * sine[k] * pull + yy * cosine[k] * pull
        ux, uy = xx * across + xy * up, xy * across + yy * up
        inertia = across * ux + up * uy
        turn = across * px + up * py
        share = turn / inertia
        wx, wy = ux / inertia, uy / inertia
        xx, xy, yy = xx - wx * ux, xy - wx * uy, yy - wy * uy
        px, py = px - ux * share, py - uy * share
        kept.append((wx, wy, share, across, up, pull))
    ax, ay = Counted(), Counted()
    for k, (wx, wy, share, across, up, pull) in zip(range(n), reversed(kept), strict=True):
        turn = share - wx * ax - wy * ay
        if k < n - 1:
            ax, ay = ax + across * turn - sine[k] * pull, ay + up * turn + cosine[k] * pull
    return Counted.done


def operations(source: str) -> int:
    """Operations and functions in the body of a generated C function."""
    body = source.split("\n{\n")[1].split("\n}")[0].replace("->", "")
    signs = len(re.findall(r"(?<=[\w)\]])\s+[-+]\s", body))
    return body.count("*") + body.count("/") + signs + len(re.findall(r"\b(?:sin|cos|sqrt|pow)\(", body))


def chain_operations() -> float:
    """Operations of the accelerations of five bodies beside the best of the three."""
    import chain_module

    module = chain_module.module(5)
    return operations(module.files["c/chain_rates.c"]) / min(way(5) for way in (by_differences, by_products, by_recursion))


def long_program() -> float:
    """20,000 operations in one function, generated and compiled."""
    import gelvo
    from gelvo.code.c_target import FLAGS

    cells = 1180
    x = [gelvo.variable(f"x_{k}") for k in range(cells)]
    a, b, c = gelvo.variables("a", "b", "c")

    def cell(k: int) -> object:
        left, right, far = x[k - 1], x[(k + 1) % cells], x[(7 * k + 3) % cells]
        springs = a * (left - 2 * x[k] + right) + b * (x[k] - left) ** 3 - b * (right - x[k]) ** 3
        return springs + c * gelvo.sin(far - x[k]) * x[k] + a * x[k] * left * right

    def work() -> None:
        bundle = gelvo.export_code([cell(k) for k in range(cells)], [{"x": x}, a, b, c], "c", "lattice", check=False)
        assert operations(bundle.files["lattice.c"]) >= 20_000
        with tempfile.TemporaryDirectory() as folder:
            bundle.write(folder)
            subprocess.run(["cc", *FLAGS, "-c", "lattice.c"], cwd=folder, check=True)

    return measure(work, 1)


def compiled() -> float:
    """A polynomial with roots at a million points, compiled, beside NumPy by hand."""
    import numpy

    import gelvo

    function = gelvo.native_function("sqrt(x^2 + a^2)*(x^3 - 2*x + 1)/(x^2 + 3)", ["x", "a"])
    x = numpy.linspace(0, 9, 10**6)
    return paired(lambda: function(x, 2.0), lambda: numpy.sqrt(x**2 + 4.0) * (x * x * x - 2 * x + 1) / (x**2 + 3), 9)


ROWS = [
    ("operations of a chain of five bodies, of the best of three ways", chain_operations, 1.1, "x"),
    ("20,000 operations generated and compiled", long_program, 20.0, "s"),
    ("a compiled function at 10^6 points, of NumPy by hand", compiled, 1 / 3, "x"),
]

if __name__ == "__main__":
    for title, work, bar, unit in ROWS:
        print(f"{title:65} {work():8.3f} {unit}   bar {bar:.3g}", flush=True)
