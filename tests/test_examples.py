"""Every example script runs and says what it should."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

import pytest

SCRIPTS = sorted((Path(__file__).parents[1] / "examples").glob("*.py"))
SAID = {
    "beam_to_code": ["5*q*L^4/(384*E*I)", "proved", "numpy: worst error", "c: worst error"],
    "check_homework": ["proved    integral_of(x*cos(x), x)", "refuted   sin(3*x)", "at x ="],
    "draw_beat": ["equal: True", "curves drawn: 2"],
    "planar_chain": ["384 letters as it comes, 165 simplified", "verdict: proved", "restored exactly: True"],
    "rolling_hoop": ["2*pi*lambda_0*R^3", "sin(alpha)", "1.85725657889"],
}


@pytest.mark.parametrize("script", SCRIPTS, ids=[s.stem for s in SCRIPTS])
def test_example_scripts(script, tmp_path):
    done = subprocess.run([sys.executable, str(script)], cwd=tmp_path, capture_output=True, text=True, timeout=120)
    assert done.returncode == 0, done.stderr
    for words in SAID[script.stem]:
        assert words in done.stdout
    assert not list(tmp_path.iterdir())


def test_there_are_scripts_and_derivations():
    assert len(SCRIPTS) >= 4
    assert len(list(SCRIPTS[0].parent.glob("*.gelvo"))) >= 4
