"""A rod between two baths: what is left in the end, the modes, the coefficients, the course, and an end that gives heat to the air."""

from pathlib import Path

import gelvo as gv

GIVEN = ["u(0, t) = T_1", "u(L, t) = T_2", "u(x, 0) = T_1", "a > 0", "L > 0"]


def main(folder=None):
    shapes = gv.eigenmodes("X'' + q*X = 0", "X(x)", "q", given=["X(0) = 0", "X(L) = 0", "L > 0"])
    print(shapes)
    print("norm:", shapes.norm(), " normalised:", shapes.normalised())
    rod = gv.separate_variables("u_t = a*u_xx", "u(x, t)", given=GIVEN)
    print("in the end:", rod.steady)
    print("coefficient:", rod.parts[0].coefficients[0], rod.verdict)
    middle = gv.substitute(rod.partial(8), {"x": "3/20", "L": "3/10", "a": "1/10000", "T_1": 20, "T_2": 80})
    for t in (20, 100, 400):
        print(f"the middle after {t} s:", gv.value(gv.substitute(middle, {"t": t}), 6))
    air = gv.separate_variables("u_t = u_xx", "u(x, t)", given=["u(0, t) = 0", "u(1, t) + u_x(1, t) = 0", "u(x, 0) = 1"])
    print("with an end in the air:", air.modes.main.characteristic, "= 0 at", [str(z)[:8] for z in air.modes.z_values(3)])
    if folder is not None:
        numbers = {"a": "1/10000", "L": "3/10", "T_1": 20, "T_2": 80}
        rod.plot([20, 100, 400, 2000], values=numbers, terms=20, title="A rod between two baths").savefig(
            Path(folder) / "rod.png"
        )
    return rod


if __name__ == "__main__":
    main()
