"""Results are written as a textbook writes them: word for word, or in a listed equal form."""

from __future__ import annotations

import json
import shutil
import subprocess
from pathlib import Path

import pytest

import gelvo

FORMS = [
    json.loads(line)
    for line in (Path(__file__).parents[1] / "data" / "textbook_forms.jsonl").read_text(encoding="utf-8").splitlines()
]
NOT_YET = 5  # of a hundred


def written(case):
    options = {"given": case["given"]} if "given" in case else {}
    return gelvo.typeset(getattr(gelvo, case["operation"])(*case["arguments"], **options), "latex")


def test_nearly_all_forms_are_those_of_a_textbook():
    wrong = [
        (case["operation"], case["arguments"], form)
        for case in FORMS
        if (form := written(case)) not in (case["latex"], case.get("or"))
    ]
    assert len(wrong) * 100 <= NOT_YET * len(FORMS), wrong


@pytest.mark.parametrize("case", [c for c in FORMS if c["operation"] == "formula"], ids=lambda c: c["arguments"][0])
def test_what_is_shown_as_text_reads_back(case):
    e = gelvo.formula(case["arguments"][0])
    assert gelvo.formula(str(e)) == e


@pytest.mark.skipif(shutil.which("pdflatex") is None, reason="no TeX installation")
def test_every_form_is_taken_by_tex(tmp_path):
    """All forms, and long ones broken to a narrow column, in one document."""
    narrow = [gelvo.typeset(gelvo.expand(text), "latex", width=30) for text in ("(x + y)^12", "(a + sqrt(b))^7/(c + d)")]
    matrices = [gelvo.typeset(gelvo.matrix([["a/q", "b/q"], ["c/q", "d/q"]]), "latex", fractions="inline")]
    forms = [f for case in FORMS for f in (written(case), case["latex"]) if f] + narrow + matrices
    body = "\n".join(f"\\[ {form} \\]" for form in dict.fromkeys(forms))
    page = f"\\documentclass{{article}}\\usepackage{{amsmath}}\\begin{{document}}\n{body}\n\\end{{document}}\n"
    (tmp_path / "page.tex").write_text(page, encoding="utf-8")
    call = ["pdflatex", "-interaction=nonstopmode", "-halt-on-error", "page.tex"]
    run = subprocess.run(call, cwd=tmp_path, capture_output=True, text=True, timeout=120)
    assert run.returncode == 0, run.stdout[-2000:]
    assert (tmp_path / "page.pdf").stat().st_size > 10_000
