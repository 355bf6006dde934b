"""A camera on a slider: a law by differentiation, a law in sections with its jumps, three panels, an angle in degrees."""

from pathlib import Path

import gelvo as gv

VALUES = {"D": 1.2, "T": 4}


def main(folder=None):
    t = gv.variable("t")
    position = gv.formula("D*(10*(t/T)^3 - 15*(t/T)^4 + 6*(t/T)^5)")
    speed, acceleration = position.differentiate(t), position.differentiate(t, times=2)
    print("speed:", gv.factor(speed))
    print("at rest at the end:", speed.substitute({t: gv.variable("T")}))
    constant = gv.solve("a*t_1^2/2 = a*t_1*t_1 + c", "c").single
    law = gv.join_sections(t, [("a*t^2/2", "t_1"), (gv.formula("a*t_1*t") + constant, "t_2")])
    for jump in gv.jumps(law, t, given=["a > 0"]):
        print("joint:", jump)
    even = gv.numeric_function(gv.formula("1/2") * t**0, [t])
    print("a constant section on a grid:", even([0, 1, 2]).tolist())
    turning = gv.formula("40 {deg}*sin(pi*t/T)^2")
    figure = gv.plot(
        [position, speed, acceleration, turning], t, 0, 4, values=VALUES, labels=["s", "v", "a", "phi"],
        units={"s": "m", "v": "m/s", "a": "m/s^2", "phi": "deg"}, panels="each", title="A camera on a slider",
    )  # fmt: skip
    compared = gv.plot([gv.formula("1.2*(t/4)^2"), gv.formula("1.2*(t/4)^3")], t, 0, 4, labels=["exponent 2", "exponent 3"])
    if folder is not None:
        figure.savefig(Path(folder) / "camera_slider.png", dpi=110)
        compared.savefig(Path(folder) / "camera_exponents.png", dpi=110)
    return figure


if __name__ == "__main__":
    main()
