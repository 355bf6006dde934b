"""A chain of hanging bodies as files for a simulation: from the energies to C, to SciPy and to a unit that other tools load.

The equations of many bodies have no short solution for their accelerations; the code solves them step by step, as a program would.
"""

from __future__ import annotations

import tempfile
from pathlib import Path

import gelvo


def motion(count):
    """(equations of motion, angles, lengths, masses, gravity) of so many bodies, from their energies."""
    t = gelvo.variable("t")
    angles = [gelvo.unknown_function(f"theta_{k}", t) for k in range(1, count + 1)]
    lengths, masses = (gelvo.positive_variables(*[f"{w}_{k}" for k in range(1, count + 1)]) for w in ("l", "m"))
    gravity = gelvo.variable("g", domain="positive")
    across, up, height, kinetic, potential = [], [], [], [], []
    for length, mass, angle in zip(lengths, masses, angles, strict=True):
        across.append(length * angle.derivative() * gelvo.cos(angle))
        up.append(length * angle.derivative() * gelvo.sin(angle))
        height.append(-length * gelvo.cos(angle))
        kinetic.append(mass / 2 * (gelvo.total(across) ** 2 + gelvo.total(up) ** 2))
        potential.append(mass * gravity * gelvo.total(height))
    return gelvo.equations_of_motion(gelvo.total(kinetic), gelvo.total(potential), angles), angles, lengths, masses, gravity


def module(count, check=False):
    """The simulation of so many bodies, each on a rod of 0.4 m."""
    equations, angles, lengths, masses, gravity = motion(count)
    values = {**dict.fromkeys(lengths, "0.4"), **{m: gelvo.formula(f"{k + 1}/10") for k, m in enumerate(masses)}, gravity: "9.81"}
    start = {f"theta_{k}": "1/2" for k in range(1, count + 1)} | {f"theta_{k}'": 0 for k in range(1, count + 1)}
    tip = gelvo.total([n * gelvo.sin(a) for n, a in zip(lengths, angles, strict=True)])
    units = {"g": "m/s^2", "t": "s", "tip": "m", **{str(n): "m" for n in lengths}, **{str(m): "kg" for m in masses}}
    return gelvo.simulation_module(equations, None, "chain", values, start, outputs={"tip": tip}, units=units, check=check)


def main():
    chain = module(3)
    print(chain)
    with tempfile.TemporaryDirectory() as folder:
        written = chain.write(folder)
        print(f"{len(written)} files in {', '.join(sorted({p.parent.name for p in written}))}")
        unit = chain.write_unit(Path(folder) / "chain.fmu")
        print(f"{unit.name}: {'a unit of the Functional Mock-up Interface 3.0' if unit.stat().st_size > 4000 else 'empty'}")
    apart = chain.difference(end=2.0)
    print(f"the C program and the SciPy module agree over 2 s: {apart < 1e-6}")


if __name__ == "__main__":
    main()
