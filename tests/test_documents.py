"""The documents say what the library does: tutorial, operations page, links."""

from __future__ import annotations

import doctest
import re
import sys
from pathlib import Path

import pytest

import gelvo

ROOT = Path(__file__).parents[1]
PAGES = sorted(
    [ROOT / "README.md", ROOT / "CONTRIBUTING.md", *(ROOT / "docs").glob("*.md"), *(ROOT / "docs" / "code").glob("*.md")]
)


@pytest.mark.parametrize(
    "page",
    [
        "tutorial.md",
        "readable.md",
        "written.md",
        "same.md",
        "days.md",
        "digits.md",
        "solving.md",
        "matrices.md",
        "differential.md",
        "integrals.md",
        "definite.md",
    ],
)
def test_the_pages_show_real_output(page):
    parser = doctest.DocTestParser()
    text = (ROOT / "docs" / page).read_text(encoding="utf-8").replace("```", "")
    runner = doctest.DocTestRunner()
    runner.run(parser.get_doctest(text, {}, page, page, 0))
    assert runner.tries > 6 and runner.failures == 0


def test_the_operations_page_is_made_from_the_docstrings():
    sys.path.insert(0, str(ROOT / "docs"))
    try:
        import make_operations
    finally:
        sys.path.pop(0)
    assert (ROOT / "docs" / "operations.md").read_text(encoding="utf-8") == make_operations.page()


@pytest.mark.parametrize("page", PAGES, ids=[p.name for p in PAGES])
def test_links_lead_somewhere(page):
    for target in re.findall(r"\]\(([^)#]+)\)", page.read_text(encoding="utf-8")):
        if "://" not in target:
            assert (page.parent / target).exists(), target


def test_the_readme_example_in_python_runs(tmp_path, monkeypatch, capsys):
    monkeypatch.chdir(tmp_path)
    code = re.search(r"```python\n(.*?)```", (ROOT / "README.md").read_text(encoding="utf-8"), re.S).group(1)
    exec(compile(code, "README", "exec"), {})
    printed = capsys.readouterr().out
    assert "sqrt(pi)/(2*a^(3/2)) proved" in printed and "-7.4992740280181431112e-13" in printed
    assert (tmp_path / "out" / "decay.c").exists()


def test_the_readme_derivation_runs():
    from gelvo.derivation.engine import Derivation

    blocks = re.findall(r"```\n(given.*?)```", (ROOT / "README.md").read_text(encoding="utf-8"), re.S)
    derivation = Derivation()
    derivation.run(blocks[0])
    assert [r.kind for r in derivation.results] == ["given", "unknown", "let", "check", "step"]
    assert derivation.results[3].verdict == "proved"


def test_every_public_name_is_there_and_documented():
    for name in gelvo.__all__:
        thing = getattr(gelvo, name)
        if callable(thing) and not isinstance(thing, type):
            assert (thing.__doc__ or "").strip(), name
    assert set(gelvo.__all__) <= set(dir(gelvo))
    with pytest.raises(AttributeError):
        _ = gelvo.nothing_of_the_kind


def test_pictures_are_linked_and_few():
    pictures = sorted((ROOT / "docs" / "screenshots").glob("*.png"))
    text = "".join(p.read_text(encoding="utf-8") for p in PAGES)
    assert 3 <= len(pictures) < 20
    for picture in pictures:
        assert picture.name in text
