"""Questions that lead into error: each with its right answers, of which "written" and "error" are always honest ones."""

from __future__ import annotations

import pytest

import gelvo
from support import cases


def name(case):
    return f"{case['cause']}: {case['call']} {' '.join(map(str, case['arguments']))}"


def said(case):
    """("error", None), ("written", answer) or ("answer", answer)."""
    work = getattr(gelvo, case["call"])
    facts = {"given": case["given"]} if case["given"] else {}
    try:
        found = work(*case["arguments"], **{k: v for k, v in case["named"].items() if v is not None}, **facts)
        if case["call"] in ("change_variable", "by_parts"):
            found = gelvo.carry_out(found)
    except (gelvo.NotSolved, gelvo.NoClosedForm, gelvo.DomainError):
        return "error", None
    return ("written" if getattr(found, "reason", "") else "answer"), found


@pytest.mark.parametrize("case", cases("calculus_traps.jsonl"), ids=name)
def test_no_trap_leads_to_a_wrong_answer(case):
    kind, found = said(case)
    if kind != "answer":
        assert kind in case["want"]
        return
    shown = str(getattr(found, "expression", found))
    sources = [a for a in case["arguments"] if isinstance(a, str)][:1]
    plain = [w for w in case["want"] if w not in ("error", "written")]
    assert any(
        shown == w if "undefined" in (w, shown) or "inf" in (w.strip("-"), shown.strip("-")) else same(found, w, case["given"])
        for w in plain
    ) or (not case["want"] and case.get("conditions")), (shown, sources)
    if "conditions" in case:
        stated = [str(c) for c in found.conditions]
        assert all(c in stated or gelvo.is_known(c, given=list(found.conditions)) for c in case["conditions"]), stated


def same(found, wanted, given):
    difference = gelvo.simplify(gelvo.formula(wanted) - getattr(found, "expression", found), given=given)
    return gelvo.equal(difference, 0, given=given)
