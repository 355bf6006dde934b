"""A faulty line never takes the file with it, whatever it raises; an internal fault says that it is one."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import threading
import time

import pytest
from click.testing import CliRunner

import gelvo
from gelvo.cli import main
from gelvo.derivation import engine, report
from gelvo.derivation.engine import Derivation
from gelvo.derivation.statement import Statement
from gelvo.derivation.statements import BY_FIRST_WORD

SOURCE = "title Day\nlet f be x^2 + 1\nboom f\ncheck f = 1 + x^2\n"
RAISED = [
    (gelvo.DomainError("out of the domain"), "out of the domain", False),
    (gelvo.FormulaError("this cannot be read", "f", 0), "this cannot be read", False),
    (MemoryError(), "not enough memory", False),
    (RecursionError("maximum recursion depth exceeded"), "nested too deeply", False),
    (FileNotFoundError(2, "No such file or directory", "a.csv"), "a.csv: No such file", False),
    (OSError(28, "No space left on device"), "No space left", False),
    (BrokenPipeError(32, "Broken pipe"), "Broken pipe", False),
    (UnicodeEncodeError("ascii", "θ", 0, 1, "ordinal not in range"), "internal fault", True),
    (ValueError("Exceeds the limit (4300 digits) for integer string conversion"), "internal fault", True),
    (KeyError("x"), "internal fault", True),
    (AssertionError(), "internal fault", True),
    (ZeroDivisionError("division by zero"), "internal fault", True),
    (AttributeError("'NoneType' object has no attribute 'left'"), "internal fault", True),
    (RuntimeError("several\nlines\x1b[31m"), "internal fault", True),
]


@pytest.fixture
def raising(monkeypatch):
    def with_fault(fault):
        def boom(said):
            said.derivation.definitions["half"] = said.derivation.facts.append("half done")
            raise fault

        monkeypatch.setitem(BY_FIRST_WORD, "boom", [Statement("boom", "TEXT", boom, "boom", "breaks", whole=True)])

    return with_fault


@pytest.mark.parametrize(("fault", "told", "internal"), RAISED, ids=[type(f).__name__ for f, _, _ in RAISED])
def test_whatever_a_line_raises_becomes_its_fault(fault, told, internal, raising, tmp_path):
    raising(fault)
    path = tmp_path / "day.gelvo"
    path.write_text(SOURCE, encoding="utf-8")
    done = CliRunner().invoke(main, ["run", str(path)])
    assert done.exit_code == 2 and told in done.output and "Traceback" not in done.output and "\x1b" not in done.output
    assert "1 proved, 1 faulty line" in done.output and "boom f\n" in done.output and "^ " in done.output
    assert ("Please report it" in done.output) == internal
    written = json.loads((tmp_path / "day-results" / "certificates.json").read_text(encoding="utf-8"))
    assert [s["kind"] for s in written["steps"]] == ["let", "fault", "check"]
    assert told.split()[0] in (tmp_path / "day-results" / "day.html").read_text(encoding="utf-8")
    console = CliRunner().invoke(main, ["console"], input="let f be 2\nboom f\nvalue f to 3 digits\n")
    assert console.exit_code == 0 and "2" in console.output and told in console.output
    watched = CliRunner().invoke(main, ["watch", str(path), "--runs", "1"])
    assert watched.exit_code == 0 and told in watched.output


def test_a_faulty_line_leaves_the_state_as_it_was(raising):
    raising(KeyError("x"))
    derivation = Derivation()
    derivation.run("given a > 0\nboom\ngiven b > 0, c > 0 and\nlet g(v) be (v\n")
    assert len(derivation.facts) == 1 and set(derivation.declared) == {"a"} and not derivation.functions
    assert "half" not in derivation.definitions


def test_what_cannot_be_shown_is_a_fault_of_its_line(monkeypatch, tmp_path):
    def broken(result):
        if result.kind == "check":
            raise IndexError("list index out of range")
        return shown(result)

    shown = report._entry
    monkeypatch.setattr(report, "_entry", broken)
    derivation = Derivation("day")
    derivation.run("let f be x\ncheck f = x\nlet g be 2*f\n")
    report.write(tmp_path, "", derivation.results, "day")
    assert [r.kind for r in derivation.results] == ["let", "fault", "let"] and derivation.results[1].internal
    assert "internal fault" in (tmp_path / "day.html").read_text(encoding="utf-8")


def test_an_error_outside_of_any_line_is_a_sentence_too(monkeypatch):
    monkeypatch.setattr(engine.Derivation, "safely", lambda self, line: {}["nothing"])
    done = CliRunner().invoke(main, ["do", "1 + 1"])
    assert done.exit_code == 2 and "internal fault" in done.output and "report it" in done.output


def test_a_stop_by_the_user_is_no_fault(monkeypatch):
    def stopped(said):
        raise KeyboardInterrupt

    monkeypatch.setitem(BY_FIRST_WORD, "boom", [Statement("boom", "E", stopped, "boom", "stops")])
    console = CliRunner().invoke(main, ["console"], input="boom f\nvalue 1 + 1 to 3 digits\n")
    assert "stopped" in console.output and "2" in console.output
    assert CliRunner().invoke(main, ["do", "boom f"]).exit_code == 130


BIG = [
    "let n be 10^6000\nlet m be n + 1\nm - n\n", "value 10^6000 + 1/3 to 20 digits\n", "solve x^2 = 10^9001 for x\n",
    "factor 10^5000*x^2 - 10^5000\n", "simplify sin(10^100000)\n", "integrate x^(10^5000) by x\n", "solve x^(10^5000) = 1 for x\n",
    "series x^(10^5000) about x = 0 through power 3\n", "typeset 9^9000 as text\n", "check 10^5000 = 10^5000 + 1\n",
    "export 10^400*x as latex\n", "differentiate x^(10^4500) by x\n", "sum k for k from 1 to 10^5000\n", "limit x^(10^5000) as x -> 1\n",
]  # fmt: skip


@pytest.mark.parametrize("source", BIG, ids=[b.split("\n")[0] for b in BIG])
def test_numbers_of_many_thousand_digits_end_in_results_or_clear_errors(source):
    derivation = Derivation("big")
    with gelvo.time_limit(20):
        derivation.run(source)
    assert [r.note for r in derivation.results if r.internal] == []
    assert report.as_json("", derivation.results) and report.html("", derivation.results)


def test_watching_follows_the_files_that_a_derivation_reads(tmp_path):
    path, data = tmp_path / "day.gelvo", tmp_path / "a.csv"
    path.write_text('plot x for x from 0 to 1 as data "a.csv"\nlet f be x\n', encoding="utf-8")
    data.write_text("t,x\n0,1\n1,2\n", encoding="utf-8")
    command = [sys.executable, "-u", "-m", "gelvo.cli", "watch", str(path), "--runs", "4"]
    process = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True)
    lines: list[str] = []
    threading.Thread(target=lambda: lines.extend(process.stdout), daemon=True).start()

    def wait(count):
        until = time.monotonic() + 30
        while sum("report in" in line for line in lines) < count and time.monotonic() < until:
            time.sleep(0.05)
        assert sum("report in" in line for line in lines) == count, lines

    wait(1)
    data.write_text("t,x\n0,1\n1,2\n2,5\n", encoding="utf-8")
    wait(2)
    data.write_text("t,x\n0,broken\n", encoding="utf-8")
    wait(3)
    text = path.read_text(encoding="utf-8")
    os.replace(path, tmp_path / "gone")  # an editor that writes aside: the file is away for a moment
    time.sleep(0.7)
    path.write_text(text + "value pi to 3 digits\n", encoding="utf-8")
    assert process.wait(timeout=30) == 0
    assert "1 lines worked out, 1 unchanged" in "".join(lines) and "is not a number" in "".join(lines)
