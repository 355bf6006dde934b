"""Text of a user is data in every output: 500 payloads that try to get out of it, none of which may."""

from __future__ import annotations

import ast
import json
import re
import subprocess
import sys
import xml.dom.minidom
from functools import cache
from html.parser import HTMLParser
from pathlib import Path

import pytest
from click.testing import CliRunner
from jsonschema import Draft202012Validator

import gelvo
from gelvo.cli import main
from gelvo.code import bundle, c_target, careful, fortran_target, javascript_target, naming, numpy_target, target, writer
from gelvo.derivation import report
from gelvo.derivation.engine import Derivation
from parts import WHOLE
from support import cases

PAYLOADS = [row["text"] for row in cases("payloads.jsonl")]
GROUPS = [PAYLOADS[k : k + 24] for k in range(0, len(PAYLOADS), 24)]
LANGUAGES = list(bundle.TARGETS)
STEERING = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\u202a-\u202e\u2066-\u2069\ud800-\udfff]")
TAGS = set(
    "html head meta title style body main h1 h2 h3 h4 h5 h6 p ul ol li b i em strong code pre a br hr blockquote section span div details "
    "summary dl dt dd footer img figure math mi mn mo mtext mspace mrow mfrac msup msub msubsup msqrt mroot mover munder munderover "
    "mtable mtr mtd svg defs g path use rect clippath style metadata rdf:rdf cc:work dc:type dc:date dc:format dc:creator cc:agent dc:title".split()
)


def test_there_are_five_hundred_payloads():
    assert len(set(PAYLOADS)) >= 500


def bundle_with(texts, language):
    """Code whose outputs, units and file are named by payloads, and the same code named harmlessly."""
    texts = [f"{text} " if text.isidentifier() else text for text in texts]  # a word names its output
    outputs = {text: f"x_{k}^2 + {k}" for k, text in enumerate(texts)}
    inputs = [f"x_{k}" for k in range(len(texts))]
    units = {**{f"x_{k}": text for k, text in enumerate(texts)}, **{text: text for text in texts}}
    return gelvo.export_code(outputs, inputs, language, "quantity", units=units, check=False)


@cache
def harmless_bundle(count, language):
    return bundle_with([f"output {k}" for k in range(count)], language)


def without_words(text, language):
    """What a compiler sees: the code without its comments and documentation."""
    if language in ("numpy", "numba", "python"):
        tree = ast.parse(text)
        for node in ast.walk(tree):
            if isinstance(node, (ast.Module, ast.FunctionDef, ast.ClassDef)) and ast.get_docstring(node) is not None:
                node.body.pop(0)
        return ast.dump(tree)
    if language in ("c", "c++", "javascript"):
        for trigraph, letter in (("??/", "\\"), ("??=", "#"), ("??'", "^"), ("??(", "["), ("??)", "]"), ("??!", "|")):
            text = text.replace(trigraph, letter)
        return re.sub(r"/\*.*?\*/|//[^\n]*", " ", text.replace("\\\n", ""), flags=re.S)
    return "\n".join(line for line in text.splitlines() if not re.match(r"! |!$", line))


@pytest.mark.parametrize("language", LANGUAGES)
@pytest.mark.parametrize("group", range(len(GROUPS)))
def test_no_text_reaches_generated_code(group, language):
    texts = GROUPS[group]
    hostile = bundle_with(texts, language)
    harmless = harmless_bundle(len(texts), language)
    assert set(hostile.files) == set(harmless.files)
    for name, text in hostile.files.items():
        assert text.isascii() and not re.search(r"[^\n\x20-\x7e]", text), name
        assert without_words(text, language) == without_words(harmless.files[name], language), name


@pytest.mark.parametrize("language", LANGUAGES)
def test_hostile_words_still_build_and_pass(language):
    sample = PAYLOADS[::24]
    assert bundle_with(sample, language).check().passed


TEMPLATE = """\
title {0}
section {0}
> {0}
given x_1 > 0 {{{0}}}, {0}
let f be x_1^2 + 1
let g be {0}
unknown q(t) {{{0}}}
{0}
value f with x_1 = 2 {{{0}}}
check f = x_1^2 + 1 given {0}
export f as latex, mathml to "{0}"
export {0} as latex, mathml
typeset f as {0}
rename x_1 to {0} in f
simplify {0} # {0}
"""


def hostile(text, template=TEMPLATE):
    return template.replace("{{", "{").replace("}}", "}").replace("{0}", text)


HEAVY = """\
export f as numpy, c to "{0}"
plot f for x_1 from 0 to 1 as data "{0}"
plot f, {0} for x_1 from 0 to 1
"""


@pytest.fixture(scope="module")
def carried_out(tmp_path_factory):
    """Every third payload (every one for the hunt) in every place of a derivation; lines of a payload with line ends become several lines."""
    folder = tmp_path_factory.mktemp("hostile")
    results = []
    for text in PAYLOADS if WHOLE else PAYLOADS[1::3]:
        derivation = Derivation("hostile", folder=folder, only_checks=True)
        with gelvo.time_limit(60):
            results.append(
                (text, derivation, derivation.run(TEMPLATE.replace("{{", "{").replace("}}", "}").replace("{0}", text)))
            )
    yield results
    assert not list(folder.rglob("*OUT*"))


def test_no_payload_is_an_internal_fault(carried_out):
    assert [(t, r.note) for t, _, results in carried_out for r in results if r.internal] == []


class Elements(HTMLParser):
    def __init__(self):
        super().__init__(convert_charrefs=True)
        self.found: list[tuple[str, dict]] = []

    def handle_starttag(self, tag, attributes):
        self.found.append((tag, dict(attributes)))

    def handle_decl(self, text):
        assert text.lower() == "doctype html"

    def unknown_decl(self, text):
        raise AssertionError(text)

    def handle_pi(self, text):
        raise AssertionError(text)


def elements(page):
    parser = Elements()
    parser.feed(page)
    return parser.found


def test_no_payload_becomes_an_element_of_the_report(carried_out):
    for text, derivation, results in carried_out:
        page = report.html(derivation.title, list(results))
        for tag, attributes in elements(page):
            assert tag in TAGS, (text, tag)
            assert not [a for a in attributes if a.startswith("on")], (text, attributes)
            if tag == "meta":
                assert attributes.get("http-equiv", "") in ("", "Content-Security-Policy"), (text, attributes)
            for link in (attributes.get("href"), attributes.get("src"), attributes.get("xlink:href")):
                assert link is None or not re.match(r"\s*(javascript|vbscript|data|file):", link, re.I), (text, link)
                assert link is None or "<" not in link, (text, link)


def test_a_dollar_inside_a_link_or_code_is_no_formula():
    shown = Derivation("prose")
    results = shown.run("> [a](http://x.invalid/$x$) and `$y$` but $z^2$ and [b $w$](http://y.invalid)\n")
    page = report.html("", results)
    links = [a["href"] for tag, a in elements(page) if tag == "a"]
    assert links == ["http://x.invalid/$x$", "http://y.invalid"]
    assert "<code>$y$</code>" in page and page.count("<math") == 2


def test_no_payload_breaks_json(carried_out):
    validator = Draft202012Validator(report.schema())
    for text, derivation, results in carried_out:
        shown = report.as_json(derivation.title, results)
        assert not STEERING.search(shown), text
        validator.validate(json.loads(shown))


def test_no_payload_leaves_the_folder_or_the_formula_in_exports(carried_out):
    for text, _, results in carried_out:
        for result in results:
            for path, content in result.files:
                assert not Path(path).is_absolute() and ".." not in Path(path).parts, (text, path)
                if path.endswith(".tex"):
                    commands = set(re.findall(r"\\([A-Za-z]+)", content))
                    assert commands <= {
                        "usepackage",
                        "begin",
                        "end",
                        "frac",
                        "mathrm",
                        "left",
                        "right",
                        "text",
                        "cdot",
                        "sqrt",
                        "input",
                    } - {"input"} | set("alpha beta gamma pi le ge ne lambda omega operatorname".split()), (text, commands)
                    assert "^^" not in content
                if path.endswith(".mml"):
                    for line in content.splitlines():
                        xml.dom.minidom.parseString(line)


@pytest.mark.parametrize("text", PAYLOADS[::3])
def test_no_payload_steers_the_terminal(text, tmp_path):
    path = tmp_path / "hostile.gelvo"
    path.write_text(hostile(text), encoding="utf-8", errors="surrogatepass")
    for command in (["check", str(path)], ["do", f"simplify {text}"], ["do", "--json", f"value x {{{text}}}"]):
        done = CliRunner().invoke(main, command)
        assert done.exit_code in (0, 1, 2), (command, done.exception)
        assert not STEERING.search(done.output.replace("\n", "")), command
        assert "internal fault" not in done.output


def test_brackets_in_a_line_are_no_markup_of_the_progress_display(monkeypatch):
    from gelvo import commands

    monkeypatch.setattr("sys.stderr.isatty", lambda: True, raising=False)
    derivation = commands._carry_out("> [/usr/share] [bold] [/red]\n[/usr/share]\nlet a be 1\n", "brackets", quiet=False)
    assert [r.kind for r in derivation.results] == ["prose", "fault", "let"]


def test_figures_show_dollar_signs_and_markup_as_they_are(tmp_path):
    for label in ("a$b", "$\\frac{", "x$y$z", "<script>", "]]>", "--><x>", "\x1b[1m", "^{"):
        figure = gelvo.plot("x^2", "x", 0, 1, labels=[label], units={label: label}, title=label)
        from gelvo.figures.plotting import png_of, svg_of

        drawn = svg_of(figure)
        xml.dom.minidom.parseString(drawn.encode("utf-8"))
        assert {tag for tag, _ in elements(drawn)} <= TAGS and png_of(figure)


def test_animation_pages_keep_titles_and_labels_apart_from_code():
    for text in ("</script><script>OUT()</script>", "{{data}}", "{{title}}", "<!--<script>", "\u2028"):
        page = gelvo.animate("a*x", "x", 0, 1, {"a": (1, 2, 3)}, title=text, labels=[text]).html()
        found = [tag for tag, _ in elements(page)]
        assert found.count("script") == 1 and found.count("title") == 1
        data = re.search(r"const data = (\{.*?\});?\n", page, re.S)
        assert data is not None and json.loads(data.group(1))["title"] == text


ATTACK = '''\
given x > 0 {m}
export x*2 + 1 as numpy, c, fortran, javascript
let f be x + 1 {"""+__import__("os").system("touch OUT")+"""}
given y > 0 {"""); import os; os.system("touch OUT"); ("""}
export f*y as numpy, c
export y as numpy
'''


@pytest.mark.parametrize("command", ["check", "run"])
def test_a_derivation_file_runs_no_code_of_its_own(command, tmp_path):
    path = tmp_path / 'x"""; open("OUT2", "w") #.gelvo'
    path.write_text(ATTACK, encoding="utf-8")
    before = {p.name for p in tmp_path.iterdir()}
    done = subprocess.run([sys.executable, "-m", "gelvo.cli", command, path.name], cwd=tmp_path, capture_output=True, text=True)
    assert "Traceback" not in done.stderr
    assert not [p for p in tmp_path.rglob("*") if p.name.startswith("OUT")]
    if command == "check":
        assert {p.name for p in tmp_path.iterdir()} == before  # and it writes nothing


def test_a_check_runs_code_in_which_the_file_names_nothing(tmp_path, monkeypatch):
    ran: list[str] = []
    monkeypatch.setattr(
        bundle, "run", lambda command, folder, given: ran.extend(p.read_text() for p in folder.iterdir()) or "0x1p+0\n" * 60
    )
    derivation = Derivation("told", folder=tmp_path, only_checks=True)
    derivation.run("given secret_name > 0 {secret_unit}\nlet secret_output be secret_name^2\nexport secret_output as numpy\n")
    assert ran and not any("secret" in text or "told" in text for text in ran)


def test_a_link_in_the_results_folder_leads_nowhere(tmp_path):
    outside = tmp_path / "outside"
    outside.mkdir()
    (tmp_path / "day.gelvo").write_text('let f be x^2\nexport f as latex to "sub"\n', encoding="utf-8")
    results = tmp_path / "day-results"
    results.mkdir()
    (results / "sub").symlink_to(outside)
    done = CliRunner().invoke(main, ["run", str(tmp_path / "day.gelvo")])
    assert done.exit_code == 2 and "leads away" in done.output and not list(outside.iterdir())


def test_targets_write_text_only_through_their_one_way():
    """`prose`, the only user text that a target gets, stands nowhere but in a call of what makes it harmless."""
    for module in (numpy_target, c_target, fortran_target, javascript_target):
        source = Path(module.__file__).read_text(encoding="utf-8")
        assert re.findall(r"\{[^{}]*prose[^{}]*\}", re.sub(r"\{comment\([^{}]*\)\}", "", source)) == [], module
        tree = ast.parse(source)
        makers = {"docstring", "comment", "harmless"}
        for node in ast.walk(tree):
            if isinstance(node, ast.Call) and getattr(node.func, "id", "") in makers:
                makers_inside = [n for n in ast.walk(node) if isinstance(n, ast.Name) and n.id in ("prose", "line")]
                for name in makers_inside:
                    name.id = "made_harmless"
        allowed = {"files", "function_source", "_module", "_files", "_source"}
        for function in (n for n in tree.body if isinstance(n, ast.FunctionDef) and n.name not in {"docstring", "comment"}):
            uses = [n for n in ast.walk(function) if isinstance(n, ast.Name) and n.id == "prose"]
            assert not uses or function.name in allowed, (module, function.name)
            for formatted in (n for n in ast.walk(function) if isinstance(n, ast.JoinedStr)):
                assert not [n for n in ast.walk(formatted) if isinstance(n, ast.Name) and n.id == "prose"], (
                    module,
                    function.name,
                )
    for module in (careful, naming, target, writer):
        assert "prose" not in Path(module.__file__).read_text(encoding="utf-8").replace("name, prose, samples", ""), module
