"""Derivations: names that nothing defined, matrices entry by entry, faults with their place, and units that count."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

import gelvo
from gelvo.derivation.engine import Derivation
from gelvo.derivation.report import as_json, plain_lines
from gelvo.derivation.watching import Memory


def run(text: str, folder: Path | None = None) -> Derivation:
    derivation = Derivation(stem="trial", folder=folder)
    derivation.run(text)
    assert not any(r.internal for r in derivation.results), [r.note for r in derivation.results if r.internal]
    return derivation


def last(text: str):
    return run(text).results[-1]


UNKNOWN = [
    ("export nothing as c", "`nothing` is not defined"),
    ("export nothing as latex", "`nothing` is not defined"),
    ("plot nothing for t from 0 to 1", "`nothing` is not defined"),
    ("animate nothing for x from 0 to 1 over t from 0 to 1", "`nothing` is not defined"),
    ("value nothing", "value nothing with nothing = …"),
    ("nothing", "`nothing` is not defined"),
    ("let energy be m*v^2\nexport enrgy as c", "Did you mean  energy ?"),
    ("let E be m*v^2/\nE", "its definition in line 1 is faulty"),
    ("let E be m*v^2/\nlet P be E/t\nP", "its definition in line 2 is faulty"),
    ("let E be m*v^2\nlet E be m*\nE", "its definition in line 2 is faulty"),
    ("let E be m*v^2/\nexport E as c", "its definition in line 1 is faulty"),
    ("let E be m*v^2/\nplot E for v from 0 to 1 with m = 1", "its definition in line 1 is faulty"),
    ("let f(x) be x^2 +\nf(3)", "`f` is not defined"),
    ("unknown theta(\ntheta'' + theta", "`theta` is not defined"),
    ("let pi be 3", "has its meaning already"),
    ("let a be b be c", "a definition has one `be`"),
    ("unknown f()", "unknown theta(t)"),
    ("given 2 > 3", "can never hold"),
    ("solve x^2 = a", "several names (a, x)"),
    ("A^T", None),
    ("[1, 2; 3, 4]^(q + 1)", "a number or a name"),
    ("let p be solve numerically x = cos(x) for x", "nothing exact that a name could stand for"),
    ("let r be roots of x^2 - 2 for x from -2 to 2", "2 results"),
    ("let d be divide x^2 by x - 1 for x", "2 results"),
    ("let A be [1, 2; 3, 4]\nexport A as c", "A is a matrix"),
    ("unknown q(t)\nlet w be equations of motion of m*q'^2/2, k*q^2/2 for q\nexport w as c", "w is a motion"),
    ("let A be [1, 2]\nvalue A", "is a matrix"),
    ("plot x^2 = 1 for x from 0 to 1", "is an equation"),
    ("let E be m*v^2\nshow E", "the name alone:  E"),
    ("plott x^2 for x from 0 to 1", "Did you mean  plot … ?"),
    ("solv x^2 = 4 for x", "Did you mean  solve … ?"),
    ("givn a > 0", "Did you mean  given … ?"),
    ("theta x", "Did you mean  theta*x ?"),
    ("sin x", "Did you mean  sin(x) ?"),
]


@pytest.mark.parametrize(("text", "said"), UNKNOWN, ids=lambda v: str(v)[:40])
def test_what_nothing_defined_is_told(text: str, said: str | None) -> None:
    result = last(text)
    if said is None:
        assert result.kind != "fault"  # T is a letter where A is one
    else:
        assert result.kind == "fault" and said in result.note and "^" in result.note


GIVES = [
    ("let E be m*v^2/\nlet E be m*v^2/2\nE", "m*v^2/2"),
    ("given m > 0\nm", "m"),
    ("solve x^2 = 4", "x = -2 or x = 2"),
    ("solve m*x'' = 0 for x(t) given m > 0", "x(t) = C_2*t + C_1"),
    ("let r be roots of x^2 - 2 for x from 0 to 2\nr^2", "2"),
    ("differentiate [x, x^2; 1, 0] by x", "[1, 2*x; 0, 0]"),
    ("integrate [x, cos(x)] by x from 0 to pi", "[pi^2/2, 0]"),
    ("limit [sin(x)/x, x] as x -> 0", "[1, 0]"),
    ("simplify [sin(x)^2 + cos(x)^2; x]", "[1; x]"),
    ("factor [x^2 - 1, x]", "[(x - 1)*(x + 1), x]"),
    ("let A be [x, 1]\nA with x = 3", "[3, 1]"),
    ("given z complex\nsimplify conj(z)*z", "z*conj(z)"),
    ("reduced form of [a, 0; 0, 1]", "[1, 0; 0, 1]   # if a != 0"),
]


@pytest.mark.parametrize(("text", "wanted"), GIVES, ids=lambda v: v[:40])
def test_statements_give_what_is_meant(text: str, wanted: str) -> None:
    result = last(text)
    assert result.kind != "fault", result.note
    assert str(getattr(result.shown[-1][1], "expression", result.shown[-1][1])) == wanted


def test_conditions_stand_beside_results_of_matrices_and_cases() -> None:
    assert [str(c) for c in last("eigenvectors of [1, b; 0, 1]").conditions] == ["b != 0"]
    assert [str(c) for c in last("integrate [x^n] by x").conditions] == ["n != -1"]
    assert [str(c) for c in last("carry out integral_of(x^n, x)").conditions] == ["n != -1"]
    damped = last("solve m*x'' + d*x' + k*x = 0 for x(t) given m > 0, k > 0, d > 0")
    assert damped.conditions == () and plain_lines(damped).count(" if ") == 3  # three cases, each with its own condition


def test_watching_tells_faulty_definitions_where_they_stand() -> None:
    memory = Memory()
    notes = []
    for text in ("let E be m*v^2/\nE", "\n\nlet E be m*v^2/\nE", "let E be m*v^2/2\nE", "let E be m*v^2/\nlet E be m\nE"):
        results = memory.run(Derivation(), text)
        notes.append(results[-1].note.splitlines()[-1] if results[-1].kind == "fault" else str(results[-1].shown[0][1]))
    assert [n.partition("definition in ")[2] or n for n in notes] == ["line 1 is faulty", "line 3 is faulty", "m*v^2/2", "m"]


def test_data_that_are_no_numbers_are_told_and_several_sets_are_drawn(tmp_path: Path) -> None:
    for name, rows in {
        "good": "t,y\n0,1\n1,2\n",
        "other": "t,y\n0,2\n1,1\n",
        "words": "t,y\n0,1\n1,abc\n",
        "one": "t\n0\n",
    }.items():
        (tmp_path / f"{name}.csv").write_text(rows)
    plot = 'plot t^2 for t from 0 to 1 as data "{}"'
    results = run(
        "\n".join([plot.format("words.csv"), plot.format("one.csv"), plot.format('good.csv", data "other.csv'), "1 + 1"]),
        tmp_path,
    ).results
    assert "'abc' in column y is not a number" in results[0].note and "two columns" in results[1].note
    points = [line for line in results[2].figure.axes[0].lines if line.get_marker() not in ("None", "")]
    assert len(points) == 2 and results[3].kind == "step"


# --- units -----------------------------------------------------------------------------------------------------------------

GIVEN = "given m > 0 {kg}, v > 0 {m/s}, L > 0 {mm}, C > 0 {nF}, R > 0 {Ohm}\n"
MEASURED = [
    ("value 5 {mm} + 1 {m}", "1.005 {m}", "m"),
    ("value 36 {km/h}", "10 {m/s}", "m/s"),
    ("value 3 {J}/(2 {N})", "1.5 {m}", "m"),
    ("value sqrt(4 {m^2})", "2 {m}", "m"),
    ("value 5 {m}/(2 {m})", "2.5", ""),
    ("value 180 {deg}/pi", "1", ""),
    ("value 1/(Q*P) with Q = 5 {kOhm}, P = 400 {pF}", "500000 {1/s}", "1/s"),
    (GIVEN + "value m*v^2/2 with m = 2, v = 36 {km/h}", "100", "J"),
    (GIVEN + "value m*v^2/2 with m = 500 {g}, v = 2", "1", "J"),
    (GIVEN + "value R*C with R = 5 {kOhm}, C = 400 {pF}", "2000", "ns"),
    (GIVEN + "value L + 5 {mm} with L = 2", "0.007 {m}", "m"),
    (GIVEN + "value L + 5 {mm} with L = 2 {m}", "2.005 {m}", "m"),
    (GIVEN + "let d be 5 {mm}\nlet D be d + L\nvalue D + d with L = 5", "0.015 {m}", "m"),
    ("given T > 0 {parrots}\nvalue 2*T with T = 4 {parrots}", "8", ""),
    ("given phi > 0 {deg}\nvalue sin(phi) with phi = 30 {deg}", "0.5", ""),
]


@pytest.mark.parametrize(("text", "number", "unit"), MEASURED, ids=lambda v: v[-44:])
def test_values_count_in_the_units_that_were_stated(text: str, number: str, unit: str) -> None:
    result = last(text)
    assert result.kind != "fault", result.note
    assert (str(result.shown[-1][1]), result.unit) == (number, unit)


REFUSED = [
    ("value 5 {mm} + 1 {s}", "differ in dimension"),
    ("value 5 {mm} + 1", "a plain number"),
    ("check 5 {mm} = 5 {s}", "cannot be compared"),
    ("1 {m} < 2 {s}", "cannot be compared"),
    ("exp(5 {mm})", "exp is taken of a pure number"),
    ("2^(5 {m})", "an exponent is a pure number"),
    ("value 20 {foo}", "{foo} is not a known unit"),
    ("value 20 {degC}", "offset"),
    ("check 5 {mm} = 1/200 {m}", "it is not clear what is divided"),
    (GIVEN + "m + v", "m (in kg) and v (in m/s) cannot be added"),
    (GIVEN + "check m = v", "cannot be compared"),
    (GIVEN + "m*v + m*v^2", "cannot be added"),
    (GIVEN + "L + sqrt(R)", "cannot be added"),
    (GIVEN + "sin(v*t/L) + exp(L)", "pure number"),
    (GIVEN + "value m with m = 2 {m}", "m is stated in {kg}"),
    (GIVEN + "check v > 1 given v > 5 {s}", "cannot be compared"),
    (GIVEN + "integrate v*L by v from 0 to L", "v (in m/s) cannot run to L (in mm)"),
    (GIVEN + "substitute v = 5 {km/h} in m*v", "put the numbers in with"),
    ("given T > 0 {parrots}\nvalue T with T = 4 {m}", "{parrots} is not a known unit"),
    ("solve 5 {m} = 2 {s} + x for x", "x + 2*{s} (in s) cannot be compared"),
    (GIVEN + "check m + q = v", "cannot be compared"),
    ("solve x + y = 5 {m}, x - y = 3 {s} for x, y", "(in m) and"),
    ("given M > 0 {Nm}", "Did you mean  {N m} ?"),
    ("value 3 {Nm}", "{N m}"),
    ("value 3 {Pas}", "{Pa s}"),
    ("value 3 {mAs}", "{mA s}"),
    ("value 3 {Kg}", "{kg}"),
    ("value 3 {kg/m3}", "{kg/m^3}"),
    ("value 3 {J/kgK}", "{J/(kg K)}"),
    ("value 3 {k}", "not a known unit"),
    ("value 3 {AU}", "{au}"),
    ("value 3 {rads/s}", "not a known unit"),
    ("value 3 {eVs}", "{eV s}"),
    ("value 3 {parsec}", "no exact factor"),
]


@pytest.mark.parametrize(("text", "said"), REFUSED, ids=lambda v: v[-44:])
def test_units_that_do_not_fit_are_refused(text: str, said: str) -> None:
    result = last(text)
    assert result.kind == "fault" and said in result.note


CLAIMS = [
    ("check 5 {mm} = 5 {m}", "refuted"), ("check 5 {mm} = 0.5 {cm}", "proved"), ("check 3 {m} < 400 {cm}", "proved"),
    ("check L = 5 {mm} with L = 5 {mm}", "proved"), (GIVEN + "check L = 5 {mm} with L = 5", "proved"),
    (GIVEN + "check L = 5 {mm} with L = 5 {m}", "refuted"), (GIVEN + "let E be m*v^2/2\ncheck E = m*v*v/2", "proved"),
]  # fmt: skip


@pytest.mark.parametrize(("text", "verdict"), CLAIMS, ids=lambda v: v[-40:])
def test_claims_about_quantities(text: str, verdict: str) -> None:
    assert last(text).verdict == verdict


def test_results_carry_their_unit_where_all_letters_have_one() -> None:
    derivation = run(GIVEN + "let E be m*v^2/2\nlet x be E*q\ndifferentiate E by v\nE/m\nm*v/(m*v)\nsolve 2*y = 5 {mm}")
    assert [r.unit for r in derivation.results[1:]] == ["J", "", "kg m/s", "m^2/s^2", "", ""]
    assert derivation.units["E"] == "J" and "x" not in derivation.units
    assert str(derivation.results[-1].shown[0][1]) == "y = {m}/400"
    pull = last("given m > 0 {kg}\nlet pull be m*9.81 {m/s^2}")
    assert (str(pull.shown[0][1]), pull.unit) == ("981*m/100", "N")  # the unit stands beside the formula, not among its letters
    steps = json.loads(as_json("", derivation.results))["steps"]
    assert steps[1]["unit"] == "J" and "unit" not in steps[2]


ENDS = [
    ("integrate k*x by x from 0 to 5 {mm}", "k/80000", "J"), ("limit k*x as x -> 5 {mm}", "k/200", ""), ("substitute x = 5 in k*x", "5*k", ""),
    ("integrate k*x by x", "k*x^2/2", "J"), ("differentiate k*x^2 by x", "2*k*x", "N"), ("roots of x - 2 for x from 0 to 5000 {mm}", "2", ""),
    ("solve k*x^2/2 = 8 {J} for x given x > 0", "x = 4/sqrt(k)", ""), ("let W be integrate k*x by x from 0 to 5 {mm}\nW + k*x^2", "k*(80000*x^2 + 1)/80000", "J"),
    ("let V be k*x^2 with x = 2\nV + k", "5*k", ""), ("let f(x) be k*x + 3\nf(2)", "2*k + 3", ""),
    ("let z be 3 {m}\nz + x", "x + 3", "m"),
    ("solve m*y'' + k*y = 0 for y(t) given y(0) = 5 {mm}, y'(0) = 0", "y(t) = cos(sqrt(k/m)*t)/200", ""),
]  # fmt: skip


@pytest.mark.parametrize(("text", "wanted", "unit"), ENDS, ids=lambda v: v[:40])
def test_ends_and_facts_count_in_stated_units(text: str, wanted: str, unit: str) -> None:
    """Where a number stands for a letter with a unit, the unit of the result is what the formula said before, or is not known."""
    result = last("given k > 0 {N/m}, x >= 0 {m}, m > 0 {kg}\nunknown y(t) {m}\n" + text)
    assert result.kind != "fault", result.note
    shown = result.shown[-1][1]
    assert (str(getattr(shown, "expression", shown)), result.unit) == (wanted, unit)


def test_a_fact_in_another_unit_is_converted() -> None:
    verdicts = [
        r.verdict for r in run("given F > 5 {kN}\ngiven F < 7000 {N}\ncheck F < 8\ncheck F > 8\ncheck F > 4500 {N}").results
    ]
    assert verdicts[2:] == ["proved", "refuted", "proved"]


def test_quantities_in_figures_and_code() -> None:
    derivation = run(
        GIVEN
        + "let D be L + 5 {mm}\nexport D as c\nplot q*t for t from 0 to 1 with q = 3 {m/s}\nplot m*v for v from 0 to 36 {km/h} with m = 1"
    )
    code, moved, ranged = derivation.results[2:]
    assert code.kind == "export" and any("return L/1000.0 + 0.005;" in text for _, text in code.files)
    assert moved.figure.axes[0].get_ylabel().endswith("[m/s]") and ranged.figure.axes[0].lines[0].get_xdata()[
        -1
    ] == pytest.approx(10)


SAME = [
    ("1 {eV}", "1.602176634e-19 {J}"), ("1 {kWh}", "3.6 {MJ}"), ("1 {bar}", "100 {kPa}"), ("1 {L}", "1000 {cm^3}"), ("1 {V A}", "1 {W}"),
    ("1 {T}", "1 {Wb/m^2}"), ("60 {rpm}", "2*pi*{rad/s}"), ("36 {km/h}", "10 {m/s}"), ("3 {inch}", "76.2 {mm}"), ("1 {kOhm}", "1000 {Ω}"),
    ("5 {%}", "1/20"), ("180 {deg}", "pi"), ("1 {µF}", "1 {μF}"), ("(5 {m})^2", "25 {m^2}"), ("1 {W/(m^2 K)}", "1 {kg/(s^3 K)}"), ("1 {t}", "1000 {kg}"),
]  # fmt: skip


@pytest.mark.parametrize(("one", "other"), SAME, ids=lambda v: v)
def test_factors_of_units_are_exact(one: str, other: str) -> None:
    assert gelvo.equal(one, other)


def test_units_in_python() -> None:
    length = gelvo.formula("5 {mm} + 1 {m}")
    assert str(length) == "201*{m}/200" and gelvo.formula(str(length)) is length
    assert gelvo.value(length).unit == "m" and str(gelvo.value(length, 5)) == "1.005 {m}"
    assert gelvo.equal("1 {N}", "1 {kg m/s^2}") and not gelvo.equal("5 {mm}", "5 {m}")
    assert gelvo.typeset("3 {m}", "latex") == r"3 \mathrm{m}"
    with pytest.raises(gelvo.FormulaError, match="differ in dimension"):
        gelvo.formula("5 {mm} + 1 {s}")
    with pytest.raises(gelvo.FormulaError, match="is not a known unit"):
        gelvo.formula("5 {parrots}")
