"""Every example script runs and says what it should."""

from __future__ import annotations

import runpy
import subprocess
import sys

import pytest

from parts import examples

SCRIPTS = examples("py")
SAID = {
    "bead_on_a_wire": ["time of the fall: t = (sqrt(2*g*h + v_0^2) - v_0)/g", "u = -1 or u = 3", "excluded: u = 2", "proved"],
    "camera_slider": ["30*D*t^2*(T - t)^2/T^5", "an impulse of the jerk", "[0.5, 0.5, 0.5]"],
    "chain_module": ["26 files in c, fmi2, fmi3, python", "Functional Mock-up Interface 3.0", "agree over 2 s: True"],
    "cooling_fin_elements": ["cosh(x - 3)/cosh(3)", "125/1448", "by 4.16 and 4.04"],
    "coupled_rotors": ["frequency sqrt(3*k/J) shape [1; -2; 1]", "A/3 - A*cos(sqrt(3*k/J)*t)/3 proved", "error below 1e-7: True"],
    "heated_rod": ["norm: L/2", "2*(-1)^n*(T_2 - T_1)/(pi*n) proved", "['2.028757', '4.913180', '7.978665']"],
    "crystal_tensor": ["trace unchanged: True", "['1.17810', '2.74889']", r"\epsilon_{\mathrm{xy}}"],
    "microphone_amplifier": ["{0: 2000000, 1: 3500, 2: 1}", "end value: 5", "['-2.78e3', '-719']"],
    "polarised_light": ["is not [0, 1j; 1, 0]", "unitary: True", "eigenvalue -1 vector"],
    "snapping_lid": ["4*k^3 - 27*c*F^2 > 0", "x = -0.16993844   stiffness -2.82673   snaps away", "proved complete: True"],
    "pulse_and_spectrum": ["convention: angular", "slope: -t*exp(-t^2/2)", "2*exp(-t) - exp(-2*t)"],
    "readings_and_formula": ["25 rows", "simpson", "refused: 13 is outside", "a = 19.99976"],
    "ringing_flash": ["improper:  w/(a^2 + w^2)", "divergent: inf", "0.0249027237354085603112840466926"],
    "rotor_on_turntable": ["energy is conserved: True", "sqrt(g/l)", "relative drift of the energy"],
    "three_tanks": ["residual: [0; 0; 0]", "['3', '2', '1']", "'-0.713659'"],
    "beam_to_code": ["5*q*L^4/(384*E*I)", "proved", "numpy: worst error", "c: worst error"],
    "check_homework": ["proved    integral_of(x*cos(x), x)", "refuted   sin(3*x)", "at x ="],
    "draw_beat": ["equal: True", "curves drawn: 2"],
    "planar_chain": ["383 letters as it comes, 165 simplified", "verdict: proved", "restored exactly: True"],
    "rolling_hoop": ["2*pi*lambda_0*R^3", "sin(alpha)", "1.85725657889"],
}


@pytest.mark.parametrize("script", SCRIPTS, ids=[s.stem for s in SCRIPTS])
def test_example_scripts(script, tmp_path, monkeypatch, capsys):
    monkeypatch.chdir(tmp_path)
    runpy.run_path(str(script), run_name="__main__")
    said = capsys.readouterr().out
    for words in SAID[script.stem]:
        assert words in said
    assert not list(tmp_path.iterdir())


def test_a_script_needs_nothing_but_the_library(tmp_path):
    done = subprocess.run([sys.executable, str(SCRIPTS[0])], cwd=tmp_path, capture_output=True, text=True, timeout=120)
    assert done.returncode == 0, done.stderr


def test_there_are_scripts_and_derivations():
    assert len(SCRIPTS) >= 4
    assert len(list(SCRIPTS[0].parent.glob("*.gelvo"))) >= 4
