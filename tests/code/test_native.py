"""Compiled functions, and code that an engineer keeps: names, line lengths, and files that are watched."""

from __future__ import annotations

import json
import pickle
import shutil
import subprocess
import sys

import numpy
import pytest

import gelvo
from gelvo.code import native
from gelvo.code.bundle import unchecked_code
from gelvo.code.folding import WIDTH

pytestmark = pytest.mark.skipif(shutil.which("cc") is None, reason="no C compiler")


@pytest.fixture(autouse=True)
def own_cache(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))


def test_a_compiled_function_takes_numbers_arrays_and_names():
    f = gelvo.native_function("A*exp(-c*t)*cos(w*t)", ["t", "A", "c", "w"])
    t = numpy.linspace(0, 5, 7)
    assert numpy.allclose(f(t, 2, 0.5, 3), 2 * numpy.exp(-0.5 * t) * numpy.cos(3 * t), rtol=1e-14)
    assert f(t[:, None], 2, 0.5, w=t).shape == (7, 7)
    assert float(f(0, 2, 1, 1)) == 2.0 and f(numpy.zeros((0,)), 1, 1, 1).shape == (0,)
    with pytest.raises(gelvo.DomainError, match="takes t, A, c, w"):
        f(1, 2)
    assert "cos" in f.bundle.files["formula.c"] and f.path.exists()


def test_several_outputs_and_long_arrays():
    f = gelvo.native_function({"place": "x^2 + y", "speed": "x - y", "one": "1"}, ["x", "y"])
    x = numpy.linspace(-1, 1, 200_001)
    place, speed, one = f(x, 0.25)
    assert numpy.array_equal(place, x * x + 0.25) and numpy.array_equal(speed, x - 0.25) and (one == 1).all()


def test_names_of_the_user_do_not_clash_with_those_of_the_loop():
    f = gelvo.native_function("count + index + values + result + restrict", ["count", "index", "values", "result", "restrict"])
    assert float(f(1, 2, 3, 4, 5)) == 15


def test_what_was_built_is_kept_and_what_was_changed_is_built_again(monkeypatch):
    built = []
    run = subprocess.run
    monkeypatch.setattr(native.subprocess, "run", lambda command, **k: (built.append("-o" in command), run(command, **k))[1])
    first = gelvo.native_function("x^3 + 1", "x")
    again = gelvo.native_function("x^3 + 1", "x")
    assert first.path == again.path and sum(built) == 1
    first.path.write_bytes(b"something else")
    assert float(gelvo.native_function("x^3 + 1", "x")(2)) == 9 and sum(built) == 3


LONG = "+".join(f"a_{k}*sin({k}*x + p_{k})" for k in range(1, 12))


@pytest.mark.parametrize("language", ["numpy", "c", "fortran", "javascript"])
def test_lines_are_short_and_parts_are_called_by_what_they_are(language):
    inputs = ["x", *[f"{n}_{k}" for n in "ap" for k in range(1, 12)]]
    outputs = {"wave": LONG, "wide": "sqrt(x^2 + 1)*sin(x) + exp(sin(x)) + exp(-x^2)"}
    bundle = gelvo.export_code(outputs, inputs, language, "model", units={"x": "m"}, given=["abs(x) < 1000"], check=False)
    main = next(text for name, text in bundle.files.items() if not name.startswith("test_") and not name.endswith(".h"))
    assert max(map(len, main.splitlines())) <= WIDTH
    assert "sin_x" in main and "x_squared" in main and "((" not in main.replace("((/", "").replace("abs((", "abs(")
    head = bundle.files.get("model.h", main)
    assert "x in m" in head and "holds where" in head and "(real)" not in head and "digits of wave: at most" in head
    assert bundle.check().passed


def test_a_file_that_was_changed_is_told(tmp_path):
    bundle = gelvo.export_code("x^2 + 1", "x", "c", "area")
    bundle.write(tmp_path)
    assert bundle.check(tmp_path).passed
    source = tmp_path / "area.c"
    source.write_text(source.read_text() + "/* mended */\n")
    outcome = bundle.check(tmp_path)
    assert not outcome.passed and "not what was written: area.c" in outcome.message
    source.unlink()
    assert "area.c" in bundle.check(tmp_path).message


def test_a_bundle_goes_to_another_process_with_its_symbols():
    t, k, m, omega = gelvo.variables("t", "k", "m", "omega")
    frequency = gelvo.sqrt(k / m)
    bundle = unchecked_code(
        {"place": gelvo.cos(frequency * t)}, [t, k, m], "c", "lamp", None, ["k > 0", "m > 0"], digits="condition",
        written_with=lambda e: (gelvo.substitute(e, {frequency: omega}), ((omega, frequency),)),
    )  # fmt: skip
    assert "const double omega = sqrt(k/m);" in bundle.files["lamp.c"] and "where omega = sqrt(k/m)" in bundle.files["lamp.h"]
    assert pickle.loads(pickle.dumps(bundle)).files == bundle.files and bundle.check().passed


DERIVATION = """# Hanging lamp
given k > 0, m > 0, A > 0
let omega be sqrt(k/m)
let place be A*cos(omega*t) + A*sin(omega*t)^2
export place as c
"""


def gelvo_says(*words, cwd):
    return subprocess.run([sys.executable, "-m", "gelvo.cli", *words], cwd=cwd, capture_output=True, text=True)


def test_the_command_line_exports_a_name_and_finds_files_that_were_changed(tmp_path):
    (tmp_path / "lamp.gelvo").write_text(DERIVATION)
    done = gelvo_says("export", "lamp.gelvo", "place", "--language", "c", "--to", "out", cwd=tmp_path)
    assert done.returncode == 0, done.stderr + done.stdout
    written = {p.name for p in (tmp_path / "out").iterdir()}
    assert "written: out/" in done.stdout and any(n.endswith(".c") for n in written)
    assert gelvo_says("export", "lamp.gelvo", "nothing", cwd=tmp_path).returncode == 2
    assert gelvo_says("run", "lamp.gelvo", cwd=tmp_path).returncode == 0
    results = tmp_path / "lamp-results"
    certificates = json.loads((results / "certificates.json").read_text())
    (step,) = [s for s in certificates["steps"] if s["kind"] == "export"]
    assert set(step["sha256"]) == set(step["files"])
    source = results / "lamp.c"
    assert "const double omega = sqrt(k/m);" in source.read_text()
    assert gelvo_says("check", "lamp.gelvo", cwd=tmp_path).returncode == 0
    source.write_text(source.read_text().replace("sqrt(k/m)", "sqrt(m/k)"))
    done = gelvo_says("check", "lamp.gelvo", cwd=tmp_path)
    assert done.returncode == 1 and "lamp.c was changed after it was written" in done.stderr
