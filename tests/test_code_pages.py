"""The pages about code: what they export, the programs that call it, and what those print; one page in a browser without a window."""

from __future__ import annotations

import doctest
import re
import shutil
import subprocess
from pathlib import Path

import pytest

PAGES = sorted(p for p in (Path(__file__).parents[1] / "docs" / "code").glob("*.md") if p.name != "README.md")
BLOCK = re.compile(r"^```(\w*) ?(\S*)\n(.*?)^```", re.S | re.M)
NEEDED = {"cc": "cc -", "c++": "c++ -", "gfortran": "gfortran", "node": "node ", "python3": "python3"}
BROWSER = next(filter(None, map(shutil.which, ("chromium", "chromium-browser", "google-chrome"))), None)


def prepared(page, folder):
    """The code of a page and the programs on it, written into a folder; the blocks of the page."""
    blocks = BLOCK.findall(page.read_text(encoding="utf-8"))
    runner, text = doctest.DocTestRunner(), "".join(body for language, _, body in blocks if not language)
    test = doctest.DocTestParser().get_doctest(text, {}, page.name, page.name, 0)
    runner.run(test, clear_globs=False)
    assert runner.failures == 0 and runner.tries > 3
    test.globs["bundle"].write(folder)
    for _, name, body in blocks:
        if name:
            (folder / name).write_text(body, encoding="utf-8")
    return blocks


@pytest.mark.parametrize("page", PAGES, ids=[p.stem for p in PAGES])
def test_the_programs_on_the_page_print_what_it_says(page, tmp_path):
    text = page.read_text(encoding="utf-8")
    missing = [tool for tool, mark in NEEDED.items() if mark in text and shutil.which(tool) is None]
    if missing:
        pytest.skip(f"no {', '.join(missing)}")
    blocks, printed = prepared(page, tmp_path), ""
    for line in "".join(body for language, _, body in blocks if language == "sh").splitlines():
        done = subprocess.run(line, shell=True, cwd=tmp_path, capture_output=True, text=True)
        assert done.returncode == 0, f"{line}\n{done.stderr}"
        printed += done.stdout
    assert printed == "".join(body for language, _, body in blocks if language == "text")


@pytest.mark.skipif(BROWSER is None, reason="no browser")
def test_the_page_runs_in_a_browser(tmp_path):
    prepared(next(p for p in PAGES if p.stem == "javascript"), tmp_path)
    command = [BROWSER, "--headless", "--no-sandbox", "--disable-gpu", "--allow-file-access-from-files", "--virtual-time-budget=4000",
               f"--user-data-dir={tmp_path / 'browser'}", "--dump-dom", (tmp_path / "page.html").as_uri()]  # fmt: skip
    found = subprocess.run(command, capture_output=True, text=True, timeout=60).stdout
    assert "angle -0.6650, energy 1.1803" in found and 'd="M0 ' in found
