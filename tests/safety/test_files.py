"""Files appear whole or not at all: kills, two writers at once, a full disk, what was left behind."""

from __future__ import annotations

import json
import os
import random
import resource
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest
from click.testing import CliRunner

from gelvo.cli import main
from gelvo.files import write_file, write_together

HUNT = os.environ.get("GELVO_PROPERTY_TESTS") == "hunt"
KILLS, RACES = (200, 20) if HUNT else (30, 6)
NAMES = ("report.html", "certificates.json", "sub/code.c")
WRITER = """
import sys
from pathlib import Path
from gelvo.files import write_together
folder, word, rounds = Path(sys.argv[1]), sys.argv[2], int(sys.argv[3])
print("ready", flush=True)
for k in range(rounds):
    write_together({folder / name: (word + "\\n") * 40_000 + "end" for name in ("report.html", "certificates.json", "sub/code.c")}, root=folder)
"""
DERIVATION = "title Day\ngiven x > 0\nlet f be x^2 + 1\ncheck f = 1 + x^2\nexport f as latex\n"


def writer(folder, word, rounds):
    return subprocess.Popen([sys.executable, "-c", WRITER, str(folder), word, str(rounds)], stdout=subprocess.PIPE, text=True)


def contents(folder):
    """The one word of which each file consists; a torn file fails."""
    words = []
    for name in NAMES:
        lines = (folder / name).read_text(encoding="utf-8").split("\n")
        assert lines[-1] == "end" and len(lines) == 40_001 and len(set(lines[:-1])) == 1, name
        words.append(lines[0])
    return words


def left_behind(folder):
    return list(folder.rglob(".*.part"))


def test_a_killed_writer_tears_nothing_and_the_next_run_tidies_up(tmp_path):
    write_together({tmp_path / name: "first\n" * 40_000 + "end" for name in NAMES}, root=tmp_path)
    chance, seen = random.Random(4), 0
    for kill in range(KILLS):
        process = writer(tmp_path, f"word{kill}", 10_000)
        process.stdout.readline()
        time.sleep(chance.uniform(0.0, 0.03))
        process.send_signal(signal.SIGKILL)
        process.wait()
        contents(tmp_path)
        seen += bool(left_behind(tmp_path))
    write_together({tmp_path / name: "last\n" * 40_000 + "end" for name in NAMES}, root=tmp_path)
    assert contents(tmp_path) == ["last"] * 3 and left_behind(tmp_path) == []
    assert seen or KILLS < 100  # some kills did come in the middle of a file


def test_two_writers_take_turns(tmp_path):
    for race in range(RACES):
        both = [writer(tmp_path, word, 15) for word in ("one", "two")]
        assert [p.wait(timeout=60) for p in both] == [0, 0], race
        assert len(set(contents(tmp_path))) == 1 and left_behind(tmp_path) == []


def test_what_another_process_is_writing_is_not_taken_away(tmp_path):
    import fcntl

    busy, stale = tmp_path / f".a.html.{'0' * 16}.part", tmp_path / f".b.html.{'1' * 16}.part"
    stale.write_text("half", encoding="utf-8")
    (tmp_path / ".mine.part").write_text("of the user", encoding="utf-8")
    with busy.open("w") as file:
        fcntl.flock(file, fcntl.LOCK_EX)
        write_file(tmp_path / "c.html", "whole")
        assert busy.exists() and not stale.exists() and (tmp_path / ".mine.part").exists()


def small_disk():
    signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
    resource.setrlimit(resource.RLIMIT_FSIZE, (3000, 3000))


@pytest.mark.parametrize("arguments", [["run", "day.gelvo"], ["run", "day.gelvo", "--json"], ["do", "plot x for x from 0 to 1"]])
def test_a_full_disk_leaves_nothing_behind_and_is_told(arguments, tmp_path):
    (tmp_path / "day.gelvo").write_text(DERIVATION, encoding="utf-8")
    done = subprocess.run(
        [sys.executable, "-B", "-m", "gelvo.cli", *arguments], cwd=tmp_path, capture_output=True, text=True, preexec_fn=small_disk,
        env={**os.environ, "MPLCONFIGDIR": str(tmp_path / "none")},
    )  # fmt: skip
    assert done.returncode == 2 and "too large" in done.stderr and "Traceback" not in done.stderr
    written = [p.name for p in tmp_path.rglob("*") if p.is_file() and "none" not in p.parts]
    assert written == ["day.gelvo"]


def test_a_terminal_that_takes_no_more_is_told_in_a_sentence(tmp_path):
    (tmp_path / "day.gelvo").write_text(DERIVATION, encoding="utf-8")
    with open("/dev/full", "w") as full:
        done = subprocess.run(
            [sys.executable, "-m", "gelvo.cli", "run", "day.gelvo"], cwd=tmp_path, stdout=full, stderr=subprocess.PIPE, text=True
        )
    assert done.returncode != 0 and "Traceback" not in done.stderr
    assert (tmp_path / "day-results" / "day.html").exists()  # the results were there before the words


def test_a_closed_pipe_ends_quietly_with_the_results_written(tmp_path):
    (tmp_path / "day.gelvo").write_text(DERIVATION + "value pi to 2000 digits\n" * 60, encoding="utf-8")
    first = subprocess.Popen(
        [sys.executable, "-m", "gelvo.cli", "run", "day.gelvo"], cwd=tmp_path, stdout=subprocess.PIPE, stderr=subprocess.PIPE
    )
    first.stdout.readline()
    first.stdout.close()
    assert b"Traceback" not in first.stderr.read() and first.wait() in (0, 1, -signal.SIGPIPE)
    assert (tmp_path / "day-results" / "day.html").exists()


@pytest.mark.parametrize("encoding", ["ascii", "latin-1", "cp1252"])
def test_a_terminal_without_a_letter_shows_formula_text(encoding, tmp_path):
    (tmp_path / "day.gelvo").write_text("> θ и 漢\ncheck theta = theta\nlet α be 2\nα\nsqrt(beta)/2\n", encoding="utf-8")
    done = subprocess.run(
        [sys.executable, "-m", "gelvo.cli", "run", "day.gelvo"],
        cwd=tmp_path,
        capture_output=True,
        env={**os.environ, "PYTHONIOENCODING": encoding},
    )
    assert done.returncode == 0 and b"Traceback" not in done.stderr and b"proved" in done.stdout
    assert b"sqrt(beta)/2" in done.stdout and b"\\u221a" not in done.stdout


def test_a_mark_of_the_byte_order_is_no_part_of_a_file(tmp_path):
    path = tmp_path / "day.gelvo"
    path.write_bytes(b"\xef\xbb\xbf" + DERIVATION.encode())
    (tmp_path / "a.csv").write_bytes(b"\xef\xbb\xbft,x\n0,1\n1,2\n")
    done = CliRunner().invoke(main, ["check", str(path)])
    assert done.exit_code == 0 and "1 proved" in done.output
    assert CliRunner().invoke(main, ["do", "-"], input="\ufeffvalue pi to 5 digits").output.startswith("pi = 3.1416")


@pytest.mark.parametrize("statement", ["solve x^2 = a", "((", "value x", "no such words here"])
def test_json_is_json_on_faults_too(statement):
    done = CliRunner().invoke(main, ["do", "--json", statement])
    told = json.loads(done.stdout)
    assert done.exit_code == 2 and told["steps"][0]["kind"] == "fault" and told["steps"][0]["note"]
    assert told["summary"]["faults"] == 1


def test_no_statement_hides_behind_a_comment():
    done = CliRunner().invoke(main, ["do", "1 # \u2028 value pi"])
    assert "3.14" not in done.output


def test_names_of_files_that_the_system_refuses_are_faults_not_tracebacks(tmp_path):
    for name in ("a" * 300, "a\x00b", ".", "/dev/full/x"):
        done = CliRunner().invoke(main, ["check", str(tmp_path / name) if "\x00" not in name else name])
        assert done.exit_code == 2 and not isinstance(done.exception, (OSError, ValueError)), name
    assert Path(tmp_path).exists()
