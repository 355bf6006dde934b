"""A pulse and its spectrum: Fourier transform, series with what is left out, a filter, and animations with sliders."""

from pathlib import Path

import gelvo as gv


def main(folder=None):
    spectrum = gv.fourier("exp(-t^2/(2*tau^2))", "t", "w", given=["tau > 0"])
    print("spectrum:", spectrum, f"({spectrum.verdict}; {spectrum.road.rsplit('; ', 1)[-1]})")
    near = gv.series("exp(-t^2/2)", "t", through=4)
    print("near the top:", near, f"and further from the power {near.next_power} on")
    print("slope:", gv.limit(gv.difference_quotient("exp(-t^2/2)", "t", "h"), "h", 0))
    filter_ = gv.partial_fractions("(s + 3)/((s + 1)*(s + 2))", "s")
    print("filter:", filter_, "->", gv.inverse_laplace(filter_, "s", "t"))
    moving = gv.animate(
        "exp(-(x - 2*t)^2/(2*b^2))",
        "x",
        -4,
        12,
        {"t": (0, 4, 17), "b": ("1/2", 2, 7)},
        labels=["pulse"],
        title="A pulse on its way",
    )
    path = gv.animate(
        ["cos(3*t)", "sin(3*t)", "t"], "t", 0, 6, {"t": (0, 6, 25)}, path=True, labels=["x", "y", "z"], title="A path in space"
    )
    print("page:", len(moving.html()) // 1000, "kB")
    if folder is not None:
        moving.write(Path(folder) / "pulse.html")
        moving.write(Path(folder) / "pulse.gif")
        path.write(Path(folder) / "path.html")
    return moving


if __name__ == "__main__":
    main()
