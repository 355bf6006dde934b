"""Results are written as a textbook writes them: word for word, or in a listed equal form."""

from __future__ import annotations

import json
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
