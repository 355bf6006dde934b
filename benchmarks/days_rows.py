"""The rows of the working days: whole derivations, their hardest single steps, and simulation on generated code."""

from __future__ import annotations

import ctypes
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from yardstick import measure, yardstick

HERE = Path(__file__).parent
EXAMPLES = HERE.parent / "examples"
sys.path.insert(0, str(EXAMPLES))
DAYS = (
    "bead_on_a_wire", "polarised_light", "three_tanks", "ringing_flash", "rotor_on_turntable", "camera_slider", "microphone_amplifier",
    "crystal_tensor", "cooling_fin_elements", "readings_and_formula", "pulse_and_spectrum",
)  # fmt: skip


def _once() -> float:
    start = time.perf_counter()
    yardstick()
    return time.perf_counter() - start


def all_days() -> tuple[float, float]:
    """(the longest day, all of them) as whole processes with report and figures, in yardstick seconds."""
    seconds, unit = {}, _once()
    for name in DAYS:
        with tempfile.TemporaryDirectory() as folder:
            start = time.perf_counter()
            command = [sys.executable, "-m", "gelvo.cli", "run", str(EXAMPLES / f"{name}.gelvo"), "--to", folder]
            subprocess.run(command, check=True, capture_output=True)
            seconds[name] = time.perf_counter() - start
    unit = (unit + _once()) / 2
    slowest = max(seconds, key=seconds.__getitem__)
    print("         (" + ", ".join(f"{n} {s / unit:.1f}" for n, s in seconds.items()) + ")")
    return seconds[slowest] / unit, sum(seconds.values()) / unit


_KEPT: list[tuple[float, float]] = []


def longest_day() -> float:
    _KEPT.append(all_days())
    return _KEPT[0][0]


def every_day() -> float:
    return (_KEPT or [all_days()])[0][1]


def transfer() -> float:
    import microphone_amplifier

    return measure(lambda: microphone_amplifier.transfer(), 3)


def rotor_to_c() -> float:
    import rotor_on_turntable

    import gelvo

    def work() -> None:
        motion, facts = rotor_on_turntable.model()
        form = gelvo.first_order_form(motion.equations, motion.coordinates, given=facts)
        inputs = [*form.states, *[gelvo.variable(n) for n in rotor_on_turntable.VALUES]]
        rates = {f"rate_{s}": r for s, r in zip(form.states, form.rates, strict=True)}
        gelvo.export_code(rates, inputs, "c", "rotor", given=facts, check=False)

    return measure(work, 3)


def chain_motion(count: int) -> float:
    """Equations of motion of a planar chain and C code of its mass matrix and forces."""
    import chain_module

    import gelvo

    def work() -> None:
        motion, angles, lengths, masses, gravity = chain_module.motion(count)
        plain = {a: gelvo.variable(f"q_{k}") for k, a in enumerate(angles)}
        plain |= {a.derivative(): gelvo.variable(f"v_{k}") for k, a in enumerate(angles)}
        entries = [*motion.mass_matrix.flat(), *(motion.velocity_terms + motion.gravity_terms).flat()]
        outputs = {f"entry_{k}": gelvo.substitute(e, plain) for k, e in enumerate(entries)}
        gelvo.export_code(outputs, [*plain.values(), *lengths, *masses, gravity], "c", "chain", check=False)

    return measure(work, 1)


def exponential() -> float:
    import gelvo

    A = gelvo.matrix("[-1/2, 1/4, 0; 1/4, -1/2, 1/4; 0, 1/4, -1/2]")
    count = iter(range(1000))
    return measure(lambda: A.exponential(f"t_{next(count)}"), 3)


def simulation(bodies: int) -> float:
    """SciPy (LSODA) on a right-hand side in exported C beside the same by hand in NumPy: coupled pendulums, two states each."""
    import numpy
    from scipy.integrate import odeint

    import gelvo

    q = [gelvo.variable(f"q_{k}") for k in range(bodies)]
    v = [gelvo.variable(f"v_{k}") for k in range(bodies)]
    rates: list[object] = [*v]
    for k in range(bodies):
        left = gelvo.sin(q[k - 1] - q[k]) if k else 0
        right = gelvo.sin(q[k + 1] - q[k]) if k + 1 < bodies else 0
        rates.append(-4 * gelvo.sin(q[k]) + left + right - v[k] / 50)
    bundle = gelvo.export_code(rates, [{"state": [*q, *v]}], "c", "pendulums", check=False)
    count = 2 * bodies
    with tempfile.TemporaryDirectory() as folder:
        bundle.write(folder)
        command = ["cc", "-std=c99", "-O2", "-shared", "-fPIC", "pendulums.c", "-o", "sim.so", "-lm"]
        subprocess.run(command, cwd=folder, check=True)
        library = ctypes.CDLL(str(Path(folder) / "sim.so"))
    pointer = ctypes.c_void_p
    library.pendulums.argtypes, library.pendulums.restype = [pointer, pointer], None

    state_buffer, out = numpy.empty(count), numpy.empty(count)
    places = state_buffer.ctypes.data, out.ctypes.data

    def generated(time: float, state: numpy.ndarray) -> numpy.ndarray:
        state_buffer[:] = state
        library.pendulums(*places)
        return out

    def by_hand(time: float, state: numpy.ndarray) -> numpy.ndarray:
        angles, speeds = state[:bodies], state[bodies:]
        found = numpy.empty(count)
        found[:bodies] = speeds
        for k in range(bodies):
            force = -4 * numpy.sin(angles[k]) - speeds[k] / 50
            if k:
                force += numpy.sin(angles[k - 1] - angles[k])
            if k + 1 < bodies:
                force += numpy.sin(angles[k + 1] - angles[k])
            found[bodies + k] = force
        return found

    times = numpy.linspace(0, 60, 121)
    start = numpy.concatenate([numpy.linspace(0.2, 1.0, bodies), numpy.zeros(bodies)])

    def run(work: Callable[[float, numpy.ndarray], numpy.ndarray]) -> float:
        begin = time.perf_counter()
        odeint(work, start, times, rtol=1e-8, atol=1e-10, tfirst=True)
        return time.perf_counter() - begin

    assert numpy.abs(generated(0.0, start) - by_hand(0.0, start)).max() < 1e-12
    ratios = sorted(run(by_hand) / run(generated) for _ in range(3))
    return ratios[1]


ROWS = [
    ("the longest of the eleven days, whole derivation", longest_day, 8.0, "s"),
    ("all eleven days", every_day, 60.0, "s"),
    ("the microphone's transfer function, all letters", transfer, 0.5, "s"),
    ("the rotor's equations of motion and C code", rotor_to_c, 1.0, "s"),
    ("the same for a planar chain of four bodies", lambda: chain_motion(4), 8.0, "s"),
    ("the tanks' matrix exponential", exponential, 0.3, "s"),
    ("inverse speed-up of SciPy on exported C, 2 bodies", lambda: 1 / simulation(2), 1.0, "x"),
    ("inverse speed-up of SciPy on exported C, 20 states", lambda: 1 / simulation(10), 0.1, "x"),
]

if __name__ == "__main__":
    for title, work, bar, unit in ROWS:
        print(f"{title:55} {work():8.3f} {unit}   bar {bar}", flush=True)
