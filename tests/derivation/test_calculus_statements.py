"""Statements of calculus, matrices, mechanics and numbers: what each gives, what each refuses, and what a whole day writes."""

from __future__ import annotations

import json

import pytest
from click.testing import CliRunner

import gelvo
from gelvo.cli import main
from gelvo.derivation.engine import Derivation
from gelvo.derivation.watching import Memory


def carried(source, **options):
    derivation = Derivation("test", **options)
    derivation.run(source)
    return derivation


def last(source, **options):
    return carried(source, **options).results[-1]


GIVES = [
    ("limit sin(3*x)/x as x -> 0", "3", "proved"),
    ("limit abs(x)/x as x -> 0 from below", "-1", "proved"),
    ("limit (1 + a/n)^n as n -> inf with a = 2", "exp(2)", "proved"),
    ("series exp(x) about x = 0 through power 3", "x^3/6 + x^2/2 + x + 1", "proved"),
    ("series sin(x)/x^2 about x = 0 through power 1", "1/x - x/6", "proved"),
    ("sum 1/n^2 for n from 1 to inf", "pi^2/6", "proved"),
    ("sum k for k from 1 to n", "n*(n + 1)/2", "proved"),
    ("add up k^2 for k from 1 to 3", "14", "proved"),
    ("product k for k from 1 to n", "factorial(n)", "proved"),
    ("multiply up 2 for k from 1 to 5", "32", "proved"),
    ("laplace transform of t*exp(-2*t) from t to s", "1/(s + 2)^2", "proved"),
    ("inverse laplace transform of 1/(s*(s + 1)) from s to t", "1 - exp(-t)", "proved"),
    ("fourier transform of exp(-t^2) from t to w", "sqrt(pi)*exp(-w^2/4)", "proved"),
    ("fourier transform of exp(-t^2/2) from t to w as unitary", "exp(-w^2/2)", "proved"),
    ("inverse fourier transform of exp(-abs(w)) from w to t", "1/(pi*(t^2 + 1))", "proved"),
    ("limit x^2*y/(x^2 + y^2) as x -> 0, y -> 0", "0", "proved"),
    ("limit x*y/(x^2 + y^2) as x -> 0, y -> 0", "undefined", "proved"),
    ("limit sin(pi*sqrt(n^2 + 1)) as n -> inf given n natural", "0", "proved"),
    ("mellin transform of exp(-t) from t to s", "gamma(s)", "proved"),
    ("hankel transform of exp(-2*r^2) from r to k", "exp(-k^2/8)/4", "proved"),
    ("hilbert transform of cos(2*t) from t to x", "sin(2*x)", "proved"),
    ("z transform of n*2^n from n to z given z > 2", "2*z/(z - 2)^2", "proved"),
    ("inverse z transform of z/(z - 1)^2 from z to n", "n", "proved"),
    ("fourier series of x by x from -pi to pi", "sum_of(-2*(-1)^n*sin(n*x)/n, n, 1, inf)", "proved"),
    ("fourier transform of max(0, 1 - abs(t)) from t to w", "2*(1 - cos(w))/w^2", "proved"),
    ("by parts integral_of(x*exp(x), x) differentiating x", "x*exp(x) - integral_of(exp(x), x)", "proved"),
    ("change variable u = x^2 in integral_of(x*exp(x^2), x)", "integral_of(exp(u), u)/2", "proved"),
    ("carry out 3*integral_of(x, x, 0, 2)", "6", "proved"),
    ("difference quotient of x^2 by x step h", "2*x + h", ""),
    ("laplacian of x^2 + y^2 by x, y", "4", ""),
    ("divergence of x^2, y by x, y", "2*x + 1", ""),
    ("determinant of [1, 2; 3, 4]", "-2", "proved"),
    ("trace of [1, 2; 3, 4]", "5", ""),
    ("characteristic polynomial of [1, 2; 3, 4] by u", "u^2 - 5*u - 2", ""),
    ("transfer function from U to V in U = R*I + V, I = s*C*V for I, V", "1/(C*R*s + 1)", ""),
]


@pytest.mark.parametrize(("text", "wanted", "verdict"), GIVES, ids=[c[0] for c in GIVES])
def test_statements_give_their_results(text, wanted, verdict):
    result = last(text)
    assert result.kind != "fault", result.note
    value = result.shown[-1][1]
    value = getattr(value, "expression", value)
    target = gelvo.formula(wanted, names_from=value)
    assert value is target or gelvo.equal(value, target, given=["t > 0"] if "laplace" in text else [])
    assert result.verdict == verdict


MATRICES = [
    ("inverse of [1, 2; 3, 5]", "[-5, 2; 3, -1]"),
    ("transpose of [1, 2; 3, 4]", "[1, 3; 2, 4]"),
    ("conjugate transpose of [1j, 0; 0, 1]", "[-1j, 0; 0, 1]"),
    ("exponential of [0, 1; 0, 0] by t", "[1, t; 0, 1]"),
    ("gradient of x*y by x, y", "[y; x]"),
    ("hessian of x*y by x, y", "[0, 1; 1, 0]"),
    ("jacobian of x*y, x + y by x, y", "[y, x; 1, 1]"),
    ("curl of -y, x, 0 by x, y, z", "[0; 0; 2]"),
    ("[1, 2; 3, 4]*[x; y]", "[x + 2*y; 3*x + 4*y]"),
    ("simplify([sin(x)^2 + cos(x)^2, 0; 0, 1])", "[1, 0; 0, 1]"),
]


@pytest.mark.parametrize(("text", "wanted"), MATRICES, ids=[c[0] for c in MATRICES])
def test_statements_about_matrices(text, wanted):
    result = last(text)
    assert result.kind != "fault", result.note
    assert result.shown[-1][1] == gelvo.matrix(wanted)


LISTS = [
    ("eigenvalues of [2, 1; 1, 2]", ["3", "1"]),
    ("eigenvectors of [2, 1; 1, 2]", ["3", "[1; 1]", "1", "[1; -1]"]),
    ("null space of [1, 1; 1, 1]", ["[-1; 1]"]),
    ("roots of x^2 - 2 for x from 0 to 5", ["sqrt(2)"]),
    ("solve x^2 < 4 for x", ["x > -2 and x < 2"]),
    ("solve y'' + 4*y = 0 for y(t) given y(0) = 1, y'(0) = 0", ["y(t) = cos(2*t)"]),
]


@pytest.mark.parametrize(("text", "wanted"), LISTS, ids=[c[0] for c in LISTS])
def test_statements_that_show_several_things(text, wanted):
    result = last(text)
    assert result.kind != "fault", result.note
    assert sorted(str(v) for _, v in result.shown) == sorted(wanted)


FAULTY = [
    ("limit 1/x as x -> 0 from aside", "from above or from below"),
    ("determinant of 3", "not a matrix"),
    ("inverse of [1, 1; 1, 1]", "determinant is zero"),
    ("equations of motion of T for x", "of T, V for x, y"),
    ("equations of motion of m*v^2, 0 for v", "unknown"),
    ("mass matrix of nothing", "not a motion"),
    ("equation 1 of nothing", "not a motion"),
    ("conserved E along nothing", "not a motion"),
    ("plot x for x from 0 to 1 as magic", "not known"),
    ('plot x for x from 0 to 1 as data "../secret.csv"', "outside the folder"),
    ("plot x for x from 0 to 1 as log x", "begins above zero"),
    ("fourier transform of exp(-t^2) from t to w as hertz", "convention"),
    ("let A be [1, 2; 3]", "row 1 has 1 entries"),
]


@pytest.mark.parametrize(("text", "said"), FAULTY, ids=[c[0] for c in FAULTY])
def test_faulty_statements_say_how_they_read(text, said):
    result = last(text)
    assert result.kind == "fault"
    assert said in result.note and "Traceback" not in result.note


PENDULUM = """
given m > 0, l > 0, g > 0
unknown theta(t)
let T be m*l^2*theta'^2/2
let V be -m*g*l*cos(theta)
let motion be equations of motion of T, V for theta
"""

OF_MOTION = [
    ("mass matrix of motion", "[l^2*m]"),
    ("gravity terms of motion", "[g*l*m*sin(theta(t))]"),
    ("velocity terms of motion", "[0]"),
    ("linearize motion about theta = 0", "[0, 1; -g/l, 0]"),
    ("linearize motion about theta = pi", "[0, 1; g/l, 0]"),
    ("equation 1 of motion", "l^2*m*theta''(t) + g*l*m*sin(theta(t)) = 0"),
]


@pytest.mark.parametrize(("text", "wanted"), OF_MOTION, ids=[c[0] for c in OF_MOTION])
def test_parts_of_a_motion(text, wanted):
    shown = last(PENDULUM + text).shown[-1][1]
    one, two = (sorted(c for c in str(e) if c.isalnum()) for e in (shown, wanted))
    assert one == two


def test_a_motion_keeps_its_energy_and_becomes_first_order():
    assert last(PENDULUM + "conserved T + V along motion").verdict == "proved"
    lost = last(PENDULUM + "conserved theta' along motion")
    assert lost.verdict == "refuted" and lost.failed
    form = last(PENDULUM + "let form be first order form of motion")
    assert [name for name, _ in form.shown] == ["theta'", "theta_dot'"]
    assert last(PENDULUM + "equation 2 of motion").kind == "fault"


def test_all_faults_are_reported_at_once_and_the_rest_is_computed(tmp_path):
    path = tmp_path / "day.gelvo"
    path.write_text("let A be [1, 2; 3]\nlimit x\ncheck 1 + 1 = 2\nsolve x^2 = for x\nvalue pi to 5 digits\n", encoding="utf-8")
    done = CliRunner().invoke(main, ["run", str(path), "--to", str(tmp_path / "out")])
    assert done.exit_code == 2
    assert done.output.count("^") >= 3 and "3.1416" in done.output and "proved" in done.output
    assert "3 faulty lines" in done.output


def test_an_animation_and_data_are_written_beside_the_report(tmp_path):
    (tmp_path / "readings.csv").write_text("t,y\n0,0\n1,1\n2,4\n", encoding="utf-8")
    path = tmp_path / "moving.gelvo"
    source = 'animate sin(k*x) for x from 0 to 6 over k from 1 to 3\nplot t^2 for t from 0 to 2 as data "readings.csv"\n'
    path.write_text(source, encoding="utf-8")
    done = CliRunner().invoke(main, ["run", str(path), "--to", str(tmp_path / "out")])
    assert done.exit_code == 0, done.output
    page = (tmp_path / "out" / "moving_animation_1.html").read_text(encoding="utf-8")
    assert page.startswith("<!doctype html>") and '"name":"k"' in page and "http" not in page
    assert (tmp_path / "out" / "moving.html").exists()
    (tmp_path / "readings.csv").write_text("t,y\n0,\n", encoding="utf-8")
    done = CliRunner().invoke(main, ["run", str(path), "--to", str(tmp_path / "out")])
    assert done.exit_code == 2 and "column y is empty" in done.output


DAY = """title A short day
given a > 0
let f be a*x^2
let F be integrate f by x
let other be integrate exp(-a*x) by x from 0 to inf
check F = a*x^3/3
check other = 1/a
"""


def test_watching_works_out_only_what_depends_on_a_change():
    memory = Memory()
    memory.run(Derivation("day"), DAY)
    assert (memory.worked, memory.reused) == (5, 0)
    results = memory.run(Derivation("day"), DAY)
    assert (memory.worked, memory.reused) == (0, 5) and [r.verdict for r in results[-2:]] == ["proved", "proved"]
    results = memory.run(Derivation("day"), DAY.replace("a*x^2", "a*x^3"))
    assert (memory.worked, memory.reused) == (3, 2)
    assert [r.verdict for r in results[-2:]] == ["refuted", "proved"]
    memory.run(Derivation("day"), DAY.replace("given a > 0", "given a > 1"))
    assert memory.reused == 0
    memory.run(Derivation("day"), DAY.replace("given a > 0", "given a > 1") + "value pi to 5 digits\n")
    assert (memory.worked, memory.reused) == (1, 5)


def test_the_watch_command_runs_and_ends(tmp_path):
    path = tmp_path / "day.gelvo"
    path.write_text(DAY, encoding="utf-8")
    done = CliRunner().invoke(main, ["watch", str(path), "--to", str(tmp_path / "out"), "--runs", "1"])
    assert done.exit_code == 0 and "5 lines worked out, 0 unchanged" in done.output
    assert (tmp_path / "out" / "day.html").exists()
    missing = CliRunner().invoke(main, ["watch", str(tmp_path / "none.gelvo"), "--runs", "1"])
    assert missing.exit_code == 2 and "there is no file" in missing.output


def test_new_statements_work_alone_and_as_json():
    done = CliRunner().invoke(main, ["do", "limit sin(x)/x as x -> 0"])
    assert done.exit_code == 0 and "1" in done.output
    done = CliRunner().invoke(main, ["do", "--json", "determinant of [1, 2; 3, 4]"])
    assert done.exit_code == 0 and "-2" in json.dumps(json.loads(done.output))
    done = CliRunner().invoke(main, ["do", "determinant of [1, 2]"])
    assert done.exit_code == 2 and "square" in done.output


def test_a_transform_says_which_integral_is_meant():
    result = last("fourier transform of exp(-t^2/2) from t to w as frequency")
    assert any("exp(-2j*pi*w*t)" in line and "frequency convention" in line for line in result.details)
    told = last("limit x^2*y/(x^4 + y^2) as x -> 0, y -> 0")
    assert told.details == ["0 on x = 0, y = t; 1/2 on x = t, y = t^2"]


def test_a_limit_of_several_variables_that_lacks_an_arrow_is_told():
    result = last("limit x*y as x -> 0, 3")
    assert result.kind == "fault" and "x -> 0, y -> 0" in str(result.note)
