"""A motion as files: the C program, the module for SciPy, and units that an importer of its own loads, against integrals by hand."""

from __future__ import annotations

import json
import shutil
import subprocess
import sys

import numpy
import pytest
from scipy.integrate import solve_ivp

import gelvo

pytestmark = pytest.mark.skipif(shutil.which("cc") is None, reason="no C compiler")

# a buoy on a chain in a tide: a Duffing-like spring, drag, a driving force
VALUES = {"m": 40, "k": 900, "b": 120, "c": 15}
START = {"y": "1/5", "y'": 0}


@pytest.fixture(scope="module")
def buoy():
    y = gelvo.unknown_function("y", "t")
    return gelvo.simulation_module(
        "m*y'' + c*y' + k*y + b*y^3 = tide", y, "buoy", VALUES, START, inputs=["tide"],
        outputs={"energy": "m*y'^2/2 + k*y^2/2 + b*y^4/4"}, events={"level": "y"}, units={"y": "m", "t": "s", "m": "kg", "energy": "J", "tide": "N"},
        given=["m > 0"], check=False,
    )  # fmt: skip


def by_hand(end, tide=0.0, c=15.0):
    def rates(time, s):
        return [s[1], (tide - c * s[1] - 900 * s[0] - 120 * s[0] ** 3) / 40]

    found = solve_ivp(rates, (0, end), [0.2, 0.0], method="DOP853", rtol=1e-12, atol=1e-14)
    y, v = found.y[:, -1]
    return y, v, 20 * v**2 + 450 * y**2 + 30 * y**4


def test_the_whole_passes_its_check(buoy):
    outcome = buoy.check()
    assert outcome.passed and outcome.points > 100, outcome.message
    assert {k.split(" (")[0] for k in outcome.worst_ulp} == {"rates", "jacobian", "outputs", "events"}


@pytest.mark.parametrize(
    ("force", "language"),
    [
        ("-q - b*q^3", "python"),
        ("-b*ln(q)", "numba"),  # which has no value for some states
        ("-" + " - ".join(f"b^{k}*q^{k}" for k in range(1, 18)), "numba"),  # many operations
    ],
)
def test_few_operations_that_always_have_a_value_are_plain_python(force, language):
    q = gelvo.unknown_function("q", "t")
    module = gelvo.simulation_module(
        f"q'' = {force}", q, "spring", {"b": 2} if "b" in force else {}, {"q": 1, "q'": 0}, check=False
    )
    assert {k for k, kind in module.bundles if kind == "rates"} == {"c", language}
    assert ("njit" in module.files["python/spring_rates.py"]) == (language == "numba")


@pytest.mark.parametrize(
    ("words", "known"), [(["2", "4"], 1e-8), (["2", "4", "fixed", "400"], 1e-8), (["2", "1", "c=0", "tide=30"], 1e-8)]
)
def test_the_c_program_gives_the_motion_as_a_table(buoy, tmp_path, words, known):
    buoy.write(tmp_path)
    sources = ["main.c", "model.c", *[f"buoy_{kind}.c" for kind in ("rates", "jacobian", "outputs", "events")]]
    strict = ["-std=c99", "-Wall", "-Wextra", "-Wconversion", "-Wshadow", "-Werror", "-pedantic", "-ffp-contract=off"]
    subprocess.run(["cc", *strict, *sources, "-o", "simulate", "-lm"], cwd=tmp_path / "c", check=True)
    done = subprocess.run(["./simulate", *words], cwd=tmp_path / "c", capture_output=True, text=True, check=True)
    head, *rows = done.stdout.splitlines()
    stated = {k: float(v) for k, v in (w.split("=") for w in words if "=" in w)}
    assert head == "time,y,y_dot,energy" and len(rows) == int(words[1]) + 1
    assert [float(w) for w in rows[-1].split(",")] == pytest.approx([2.0, *by_hand(2.0, **stated)], rel=known, abs=known)
    wrong = subprocess.run(["./simulate", "2", "4", "mass=3"], cwd=tmp_path / "c", capture_output=True, text=True)
    assert wrong.returncode == 2 and "mass=3" in wrong.stderr


def test_the_module_for_scipy_has_rates_jacobian_outputs_and_events(buoy, tmp_path):
    buoy.write(tmp_path)
    code = """import json, numpy, buoy
stiff = buoy.simulate(0.0, 2.0, 5, method="Radau", c=15)
driven = buoy.simulate(0.0, 2.0, 5, inputs=lambda time: (30.0,), c=0)
try:
    buoy.simulate(0.0, 1.0, mass=3)
except TypeError as fault:
    said = str(fault)
first = float(stiff.t_events[0][0])
print(json.dumps([list(stiff.y[:, -1]), list(driven.y[:, -1]), float(driven.outputs[0, -1]), first, buoy.jacobian(0.0, [0.2, 0.0]).tolist(), said]))"""
    done = subprocess.run([sys.executable, "-c", code], cwd=tmp_path / "python", capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
    stiff, driven, energy, first, slopes, said = json.loads(done.stdout)
    assert stiff == pytest.approx(by_hand(2.0)[:2], rel=1e-6, abs=1e-7)
    assert [*driven, energy] == pytest.approx(by_hand(2.0, 30.0, 0.0), rel=1e-7, abs=1e-8)
    assert by_hand(first)[0] == pytest.approx(0, abs=1e-6) and 0 < first < 1
    assert slopes[0] == [0, 1] and slopes[1] == pytest.approx([-(900 + 360 * 0.04) / 40, -15 / 40])
    assert "mass is not among the parameters" in said


@pytest.mark.parametrize("version", [2, 3])
def test_an_importer_loads_the_unit_and_gets_the_motion(buoy, tmp_path, version):
    fmpy = pytest.importorskip("fmpy")
    from fmpy.validation import validate_fmu

    path = str(buoy.write_unit(tmp_path / "buoy.fmu", version))
    described = fmpy.read_model_description(path, validate=True, validate_model_structure=True)
    assert described.fmiVersion.startswith(str(version)) and not validate_fmu(path)
    by_name = {v.name: v for v in described.modelVariables}
    assert by_name["energy"].unit == "J" and by_name["tide"].causality == "input" and by_name["m"].start == "40.0"
    for way in ("ModelExchange", "CoSimulation"):
        steps = {"relative_tolerance": 1e-10} | ({"solver": "CVode"} if way == "ModelExchange" else {"output_interval": 0.1})
        found = fmpy.simulate_fmu(path, stop_time=2.0, fmi_type=way, start_values={"c": 0.0, "tide": 30.0}, **steps)
        last = found[-1]
        assert [last["y"], last["y_dot"], last["energy"]] == pytest.approx(by_hand(2.0, 30.0, 0.0), rel=2e-5, abs=1e-5)


def test_a_unit_is_the_same_bytes_on_every_day_and_its_state_can_be_kept(buoy, tmp_path):
    one, other = (buoy.write_unit(tmp_path / f"{k}.fmu").read_bytes() for k in "ab")
    assert one == other
    fmi3 = pytest.importorskip("fmpy.fmi3")
    import fmpy

    place = fmpy.extract(str(tmp_path / "a.fmu"), str(tmp_path / "unpacked"))
    described = fmpy.read_model_description(place)
    unit = fmi3.FMU3Slave(guid=described.guid, unzipDirectory=place, modelIdentifier="buoy", instanceName="one")
    unit.instantiate()
    unit.enterInitializationMode()
    unit.exitInitializationMode()
    kept = unit.getFMUState()
    unit.doStep(0.0, 0.5)
    moved = unit.getFloat64([1])
    unit.setFMUState(kept)
    assert unit.getFloat64([1]) == [0.2] and moved[0] == pytest.approx(by_hand(0.5)[0], rel=1e-6)
    unit.freeFMUState(kept)
    unit.terminate()
    unit.freeInstance()


def test_many_bodies_are_solved_step_by_step(tmp_path):
    """Three rods that hang from each other, against the mass matrix and forces by hand."""
    t = gelvo.variable("t")
    angles = [gelvo.unknown_function(f"q_{k}", t) for k in range(3)]
    kinetic = potential = 0
    for k in range(3):
        x = gelvo.total([a.derivative() * gelvo.cos(a) for a in angles[: k + 1]])
        y = gelvo.total([a.derivative() * gelvo.sin(a) for a in angles[: k + 1]])
        kinetic += gelvo.formula("m/2") * (x**2 + y**2)
        potential -= gelvo.formula("m*g") * gelvo.total([gelvo.cos(a) for a in angles[: k + 1]])
    motion = gelvo.equations_of_motion(kinetic, potential, angles)
    start = {f"q_{k}": 1 for k in range(3)} | {f"q_{k}'": 0 for k in range(3)}
    module = gelvo.simulation_module(motion, None, "rods", {"m": 1, "g": 10}, start, check=False)
    assert "step by step" in module.files["python/rods.py"] and len(module.files["c/rods_rates.c"]) < 4000
    for kind in ("rates", "jacobian"):
        outcome = module.bundles["c", kind].check()
        assert outcome.passed, outcome.message
    state = numpy.array([0.3, 0.2, -0.4, 0.9, 1.1, -0.7])

    def hand(s):
        q, v = s[0::2], s[1::2]
        heavy = numpy.array([[3, 2, 1], [2, 2, 1], [1, 1, 1]])
        d = q[:, None] - q[None, :]
        found = numpy.empty(6)
        found[0::2], found[1::2] = (
            v,
            numpy.linalg.solve(heavy * numpy.cos(d), -heavy * numpy.sin(d) @ v**2 - 10 * numpy.diag(heavy) * numpy.sin(q)),
        )
        return found

    assert module.bundles["c", "rates"].call(0.0, state, 1.0, 10.0) == pytest.approx(hand(state), rel=1e-12)
    steps = 1e-5 * numpy.eye(6)
    slopes = numpy.array([(hand(state + h) - hand(state - h)) / 2e-5 for h in steps]).T
    assert module.bundles["c", "jacobian"].call(0.0, state, 1.0, 10.0) == pytest.approx(slopes, rel=1e-6, abs=1e-6)


def test_words_of_the_files_may_be_letters_of_the_motion(tmp_path):
    """Names that C, Python, the integrator or the interface have for themselves."""
    lamp = gelvo.unknown_function("state", "time")
    values = {"rows": 2, "double": 3, "lambda": "1/4", "method": 1, "I": 2, "out": 1}
    module = gelvo.simulation_module(
        "rows*state'' + double*state + lambda*state' = method*I*out*parameters", lamp, "words", values, {"state": 1, "state'": 0},
        inputs=["parameters"], outputs={"kinetic energy": "rows*state'^2/2", "int": "state^2"}, check=False,
    )  # fmt: skip
    assert module.difference() < 1e-6
    module.write(tmp_path)
    code = "import words; print(words.simulate(0.0, 1.0, 2, rows_=4.0, lambda_=0.0, inputs=(1.0,)).outputs[1, -1])"
    done = subprocess.run([sys.executable, "-c", code], cwd=tmp_path / "python", capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
    found = solve_ivp(lambda _, s: [s[1], (2 - 3 * s[0]) / 4], (0, 1), [1.0, 0.0], rtol=1e-11, atol=1e-12)
    assert float(done.stdout) == pytest.approx(found.y[0, -1] ** 2, rel=1e-8)
    fmpy = pytest.importorskip("fmpy")
    last = fmpy.simulate_fmu(
        str(module.write_unit(tmp_path / "words.fmu")),
        stop_time=1.0,
        start_values={"rows": 4.0, "lambda": 0.0, "parameters": 1.0},
    )[-1]
    assert last["int"] == pytest.approx(found.y[0, -1] ** 2, rel=1e-4)


@pytest.mark.parametrize(
    ("changed", "said"),
    [
        ({"values": {"m": 1}}, "values=.* lacks"), ({"start": {"y": 1}}, "lacks y_dot"), ({"values": VALUES | {"z": 1}}, "z is not among the parameters"),
        ({"start": START | {"z": 1}}, "z is not among the states"), ({"outputs": {"y": "2*y"}}, "names two things"), ({"name": "for"}, "name of a function"), ({"name": "model"}, "another name"),
        ({"outputs": {"pull": "y''"}}, "no state of the motion"), ({"unknowns": None}, "unknown functions"), ({"inputs": ["tide", "y"]}, "cannot be an input"),
        ({"values": VALUES | {"m": "q"}}, "is no number"),
    ],
)  # fmt: skip
def test_what_is_missing_is_told(changed, said):
    y = gelvo.unknown_function("y", "t")
    stated = {"unknowns": y, "name": "buoy", "values": VALUES, "start": START, "inputs": ["tide"], "check": False} | changed
    with pytest.raises(gelvo.GelvoError, match=said):
        gelvo.simulation_module("m*y'' + c*y' + k*y + b*y^3 = tide", **stated)
