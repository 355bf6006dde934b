"""The lid of a jar snaps: how many states of equilibrium it has under a load, as cases of one cubic equation.

A slightly domed lid pushes back with the force c*x^3 - k*x when its middle is moved by x. Under a load F it rests where
c*x^3 - k*x = F: in one place, or in three, the middle one of which it leaves at once.

python examples/snapping_lid.py [FIGURE.svg]
"""

import sys

import gelvo

LAW = "c*x^3 - k*x"
VALUES = {"c": 2, "k": 3}
LOAD = "1/2"

rests = gelvo.solve(f"{LAW} = F", "x", given=["c > 0", "k > 0"])
print(rests.case_table())

states = gelvo.solve(gelvo.substitute(gelvo.formula(f"{LAW} = F"), {**VALUES, "F": LOAD}), "x")
print(states.verdict, "complete:", states.complete)
for state in states:
    slope = gelvo.value(gelvo.substitute(gelvo.differentiate(LAW, "x"), {**VALUES, "x": state["x"]}), 6)
    print(f"x = {gelvo.value(state['x'], 8)}   stiffness {slope}   {'stays' if float(slope) > 0 else 'snaps away'}")

snap = gelvo.solve([f"{LAW} = F", "3*c*x^2 - k = 0"], ["x", "F"], given=["c > 0", "k > 0"])
print(snap)

places = [float(s["x"]) for s in states]
figure = gelvo.plot(
    [LAW, "F"], "x", -1.6, 1.6, values={**VALUES, "F": LOAD}, labels=["force of the lid", "load"],
    data=(places, [float(gelvo.formula(LOAD))] * len(places), "states of rest"), title="A lid under a load: three states of rest",
)  # fmt: skip
if len(sys.argv) > 1:
    figure.savefig(sys.argv[1])
    print("figure:", sys.argv[1])
