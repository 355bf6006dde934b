"""A rotor on a turntable: equations of motion, their parts, small oscillations, C code, and the drift of the energy."""

import numpy
from scipy.integrate import solve_ivp

import gelvo as gv

NAMES = {"inertia": "J", "mass": "m", "radius": "b", "rod": "l", "gravity": "g"}
VALUES = {"J": 0.02, "m": 0.3, "b": 0.15, "l": 0.2, "g": 9.81}


def model():
    """The motion, with long names renamed by a table."""
    t = gv.variable("t")
    phi, theta = gv.unknown_function("phi", t), gv.unknown_function("theta", t)
    kinetic = gv.formula(
        "inertia*phi'^2/2 + mass*((radius + rod*sin(theta))^2*phi'^2 + rod^2*theta'^2)/2", names_from=[phi, theta]
    )
    potential = gv.formula("-mass*gravity*rod*cos(theta)", names_from=[theta])
    kinetic, potential = (e.rename({k: v for k, v in NAMES.items() if k in str(e)}) for e in (kinetic, potential))
    facts = ["J > 0", "m > 0", "l > 0", "b > 0", "g > 0"]
    return gv.equations_of_motion(kinetic, potential, [phi, theta], given=facts), facts


def main(folder=None):
    motion, facts = model()
    for equation in motion.equations:
        print("equation:", equation)
    print("mass matrix:", motion.mass_matrix)
    print("energy is conserved:", motion.is_conserved(motion.energy, given=facts))
    form = gv.first_order_form(motion.equations, motion.coordinates, given=facts)
    small = gv.linearize(form, {"theta": 0}, given=facts)
    print("small oscillations:", [str(v) for v in small.A.eigenvalues(given=facts)])
    print(gv.typeset(motion.equations[1], "latex"))
    inputs = [*form.states, *[gv.variable(n) for n in VALUES]]
    rates = {f"rate_{s}": r for s, r in zip(form.states, form.rates, strict=True)}
    bundle = gv.export_code(rates, inputs, "numpy", "rotor", given=facts)
    print(bundle.check())
    work = gv.numeric_function(form.rates, inputs)
    numbers = list(VALUES.values())

    def right_side(time, state):
        return numpy.array(work(*state, *numbers), dtype=float)

    found = solve_ivp(right_side, (0, 10), [0, 4.0, 0.6, 0], method="DOP853", rtol=1e-10, atol=1e-12, dense_output=True)
    times = numpy.linspace(0, 10, 400)
    plain = gv.substitute(motion.energy, {m: s for s, m in form.meaning.items()})
    energy = gv.numeric_function(plain, inputs)(*found.sol(times), *numbers)
    drift = float(numpy.abs(energy / energy[0] - 1).max())
    print(f"relative drift of the energy: {drift:.1e}")
    assert drift < 1e-7
    return drift


if __name__ == "__main__":
    main()
