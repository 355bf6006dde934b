"""The equations of motion of a chain of bodies that swing in a plane, as they come out of the energies.

Every body hangs on the one before by a rod; the angles are counted from the vertical. The script prints the equations of the
first two bodies of a short chain, simplified and collected, and the abbreviations a paper would use.
"""

from __future__ import annotations

import gelvo


def energies(count):
    """(kinetic energy, potential energy, angles, speeds) of a chain of so many bodies."""
    angles = [gelvo.variable(f"theta_{k}") for k in range(1, count + 1)]
    speeds = [gelvo.variable(f"omega_{k}") for k in range(1, count + 1)]
    lengths = gelvo.positive_variables(*[f"l_{k}" for k in range(1, count + 1)])
    masses = gelvo.positive_variables(*[f"m_{k}" for k in range(1, count + 1)])
    gravity = gelvo.variable("g", domain="positive")
    kinetic, potential = [], []
    across, up, height = [], [], []
    for length, mass, angle, speed in zip(lengths, masses, angles, speeds, strict=True):
        across.append(length * speed * gelvo.cos(angle))
        up.append(length * speed * gelvo.sin(angle))
        height.append(-length * gelvo.cos(angle))
        kinetic.append(mass / 2 * (gelvo.total(across) ** 2 + gelvo.total(up) ** 2))
        potential.append(mass * gravity * gelvo.total(height))
    return gelvo.total(kinetic), gelvo.total(potential), angles, speeds


def equations(count):
    """The left sides of the equations of motion, as they come: d/dt(dL/d omega) - dL/d theta with accelerations alpha."""
    kinetic, potential, angles, speeds = energies(count)
    accelerations = [gelvo.variable(f"alpha_{k}") for k in range(1, count + 1)]
    lagrangian = kinetic - potential
    result = []
    for angle, speed in zip(angles, speeds, strict=True):
        momentum = gelvo.differentiate(lagrangian, speed)
        change = [gelvo.differentiate(momentum, a) * w for a, w in zip(angles, speeds, strict=True)]
        change += [gelvo.differentiate(momentum, w) * b for w, b in zip(speeds, accelerations, strict=True)]
        result.append(gelvo.expand(gelvo.total(change) - gelvo.differentiate(lagrangian, angle)))
    return result


def main():
    raw = equations(2)
    for k, equation in enumerate(raw, 1):
        short = gelvo.simplify(equation)
        collected = gelvo.collect(short.expression, ["alpha_1", "alpha_2", "g"], apply=gelvo.simplify)
        print(f"body {k}: {len(str(equation))} letters as it comes, {len(str(short))} simplified")
        print(f"  {collected} = 0")
        print(f"  verdict: {short.verdict}")
    alpha = gelvo.solve([gelvo.simplify(e).expression for e in raw], ["alpha_1", "alpha_2"])
    first = next(iter(alpha[0].values()))
    paper = gelvo.abbreviate(first)
    print(f"acceleration of the first body: {paper}")
    print(f"restored exactly: {paper.restored()[0] is first}")


if __name__ == "__main__":
    main()
