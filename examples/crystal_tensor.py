"""A crystal turned in the light: a tensor of rank two under rotation, its invariants, principal values, and the ellipse in space."""

from pathlib import Path

import gelvo as gv


def main(folder=None):
    tensor = gv.matrix([["epsilon_xx", "epsilon_xy"], ["epsilon_xy", "epsilon_yy"]])
    turned = gv.rotated(tensor, gv.rotation("phi"))
    print("turned, off the diagonal:", turned[0, 1])
    before, after = gv.invariants(tensor), gv.invariants(turned)
    print("trace unchanged:", gv.equal(before.first, after.first), " determinant:", gv.equal(before.third, after.third))
    sample = turned[0, 1].substitute({"epsilon_xx": 3, "epsilon_yy": 1, "epsilon_xy": 1})
    angles = gv.solve(gv.equation(sample, 0), "phi", given=["0 < phi", "phi < pi"])
    print("angles without shear:", [str(gv.value(next(iter(a.values())).substitute({"n_1": 0}), 6)) for a in angles])
    numbers = gv.matrix([[3, 1], [1, 1]])
    for value, directions in gv.principal_values(numbers):
        print("principal value", value, "=", gv.value(value, 6), "along", directions[0])
    print(gv.typeset(tensor, "latex"))
    path = ["2*cos(t)", "sin(t)", "sin(2*t)/2"]
    figure = gv.plot_path(path, "t", 0, "2*pi", labels=["x", "y", "z"], title="A curve on the index surface")
    if folder is not None:
        figure.savefig(Path(folder) / "crystal.png", dpi=110)
    return figure


if __name__ == "__main__":
    main()
