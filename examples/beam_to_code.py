"""The sag of a loaded beam: from the line load to C and NumPy code that proves its own accuracy."""

import tempfile
from pathlib import Path

import gelvo as gv

L, E, I = gv.positive_variables("L", "E", "I")
x, q = gv.variables("x", "q")

# four times integrated, with the constants of a beam that rests on both ends
shear = -gv.integrate(q, x) + gv.variable("c_1")
moment = gv.integrate(shear, x)
slope = gv.integrate(moment, x) + gv.variable("c_2")
sag = gv.integrate(slope, x).expression
at_end = gv.substitute(sag, {x: L})
moment_at_end = gv.substitute(moment.expression, {x: L})
constants = gv.solve([gv.equation(at_end, 0), gv.equation(moment_at_end, 0)], ["c_1", "c_2"]).single
sag = gv.factor(gv.substitute(sag, constants) / (E * I))
print("sag:", sag)
print(gv.typeset(sag, "text"))
print("in the middle:", gv.substitute(sag, {x: L / 2}))
print(gv.check(gv.equation(gv.differentiate(sag, x, times=4), -q / (E * I))).verdict)

for language in ("numpy", "c"):
    bundle = gv.export_code({"sag": sag}, [x, q, L, E, I], language, "beam_sag", units={"x": "m", "sag": "m"})
    print(f"{language}: {bundle.check()}")
    with tempfile.TemporaryDirectory() as folder:
        print("written:", ", ".join(p.name for p in bundle.write(Path(folder))))
