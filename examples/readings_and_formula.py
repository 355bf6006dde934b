"""Readings against a formula: a CSV, difference quotients, quadrature rules, interpolation, and a system solved by numbers."""

from pathlib import Path

import numpy

import gelvo as gv

READINGS = Path(__file__).parent / "data" / "cooling_readings.csv"


def main(folder=None):
    readings = gv.read_table(READINGS)
    law = gv.formula("20 + 60*exp(-t/4)")
    exact, slope = gv.numeric_function(law, "t"), gv.numeric_function(law.differentiate("t"), "t")
    print(readings, f"mean distance {numpy.abs(readings['theta'] - exact(readings['t'])).mean():.2f}")
    print("step     error of the difference quotient at t = 2")
    for h in (0.1, 0.01, 0.001):
        print(f"{h:<7}  {(exact(2 + h) - exact(2)) / h - slope(2):.2e}")
    whole = float(gv.integrate(law, "t", 0, 12))
    grid = numpy.linspace(0, 12, 13)
    for rule in ("left", "trapezoid", "simpson"):
        print(f"{rule:10} {gv.integrate_samples(grid, exact(grid), rule) - whole: .4f}")
    for kind in ("linear", "quadratic", "cubic"):
        between = gv.interpolate(grid, exact(grid), kind)
        print(f"{kind:10} {float(between(2.5) - exact(2.5)): .2e}")
    try:
        gv.interpolate(grid, exact(grid))(13)
    except gv.DomainError as refusal:
        print("refused:", refusal)
    found = gv.solve_numerically(["a + b = 80", "a + b*exp(-3) = 22.987"], ["a", "b"], start={"a": 10, "b": 50})
    print(found)
    print(found.table())
    figure = gv.plot(
        law, "t", 0, 12, labels=["theta"], data=(readings["t"], readings["theta"], "readings"), title="A cooling cup"
    )
    if folder is not None:
        figure.savefig(Path(folder) / "readings.png", dpi=110)
    return found


if __name__ == "__main__":
    main()
