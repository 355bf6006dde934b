"""A microphone with its amplifier: six network equations, the transfer function, poles, magnitude and step response."""

from pathlib import Path

import numpy

import gelvo as gv

NETWORK = [
    "V_m = R_1*I_1 + V_1", "I_1 = s*C_1*V_1 + I_2", "V_1 = R_2*I_2 + V_2", "I_2 = s*C_2*V_2 + I_3", "V_2 = R_3*I_3", "V_o = A*V_2",
]  # fmt: skip
UNKNOWNS = ["I_1", "I_2", "I_3", "V_1", "V_2", "V_o"]
VALUES = {"R_1": 1000, "R_2": 1000, "R_3": 2000, "C_1": "1/10^6", "C_2": "1/10^6", "A": 10}


def transfer(output="V_o"):
    """The transfer function from the microphone to an output, with all letters."""
    return gv.transfer_function(NETWORK, output, "V_m", UNKNOWNS)


def main(folder=None):
    H = transfer()
    print("with letters:", H)
    print(gv.abbreviate(H))
    print("another output:", transfer("V_1"))
    G = gv.common_denominator(H.substitute(VALUES))
    top, bottom = gv.numerator(G), gv.denominator(G)
    print("numerator:", gv.coefficients(top, "s"), " denominator:", gv.coefficients(bottom, "s"))
    poles = [next(iter(p.values())) for p in gv.solve(gv.equation(bottom, 0), "s", over="complex")]
    print("poles:", [str(gv.value(p, 3)) for p in poles])
    step = gv.inverse_laplace(G / gv.variable("s"), "s", "t")
    print("step response:", step, f"({step.verdict})")
    print("end value:", gv.limit(step, "t", "inf"))
    w = gv.variable("w")
    size = gv.simplify(gv.absolute(G.substitute({"s": 1j * w})), given=["w > 0"]).expression
    print("magnitude:", size)
    if folder is not None:
        gv.plot(size, w, 10, 100000, x_scale="log", y_scale="log", labels=["|H|"]).savefig(
            Path(folder) / "microphone.png", dpi=110
        )
        gv.plot(step.expression, "t", 0, "1/50", labels=["step response"]).savefig(Path(folder) / "microphone_step.png", dpi=110)
    numbers = gv.numeric_function(size, [w])(numpy.array([0.0, 1e6]))
    assert numbers[0] > 4.99 and numbers[1] < 1e-4
    return step


if __name__ == "__main__":
    main()
