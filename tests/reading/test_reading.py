"""Formula text: what it means, and what is said of faulty text."""

from __future__ import annotations

import pytest

import gelvo
from gelvo.errors import FormulaError
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Junction, Relation
from gelvo.reading import generate
from gelvo.reading.context import Context
from gelvo.reading.reader import read
from gelvo.reading.stated import read_facts

x, t = gelvo.variables("x", "t")
CONTEXT = Context({"a": gelvo.variable("a"), "b": gelvo.variable("b")}, {"theta": (t,)})

MEANINGS = [
    ("2+3*4", "14"),
    ("-x^2", "-x^2"),
    ("(-x)^2", "x^2"),
    ("2^3^2", "512"),
    ("x^-2", "1/x^2"),
    ("3x", "3*x"),
    ("3x^2", "3*x^2"),
    ("2(x+1)", "2*(x + 1)"),
    ("2sin(x)", "2*sin(x)"),
    ("x**3", "x^3"),
    ("0.25", "1/4"),
    ("4.8e-3", "3/625"),
    ("1e3x", "1000*x"),
    (".5", "1/2"),
    ("5!", "120"),
    ("x!", "factorial(x)"),
    ("3!!", "720"),
    ("|x - 1|", "abs(x - 1)"),
    ("|x|*|y|", "abs(x)*abs(y)"),
    ("√2", "sqrt(2)"),
    ("x²+y³", "y^3 + x^2"),
    ("2·x×y", "2*x*y"),
    ("x − 1", "x - 1"),
    ("θ_1 + ω", "omega + theta_1"),
    ("π", "pi"),
    ("∞", "inf"),
    ("log(x)", "ln(x)"),
    ("arctan(x)", "atan(x)"),
    ("sqrt(12)", "2*sqrt(3)"),
    ("1j^2", "-1"),
    ("2j*x", "2j*x"),
    ("(1+2j)*(1-2j)", "5"),
    ("cases(x^2 when x > 0, otherwise 0)", "cases(x^2 when x > 0, otherwise 0)"),
    ("cases(1 when x > 0 and y > 0, 2 when x < 0)", "cases(1 when x > 0 and y > 0, 2 when x < 0, otherwise undefined)"),
    ("integral_of(x^2, x, 0, 1)", "integral_of(x^2, x, 0, 1)"),
    ("derivative_of(sin(x), x)", "derivative_of(sin(x), x)"),
    ("sum_of(1/k^2, k, 1, inf)", "sum_of(1/k^2, k, 1, inf)"),
    ("a + b where a = x^2; b = a + 1", "2*x^2 + 1"),
    ("30{deg}", "pi/6"),
    ("5 {kg m^2}", "5*{kg}*{m}^2"),
    ("min(3, 5, 2)", "2"),
    ("binomial(5, 2)", "10"),
    ("exp(1)", "exp(1)"),
    ("e*i*I", "e*I*i"),
    ("atan2(1, 1)", "pi/4"),
    ("conj(3+4j)", "3 - 4j"),
    ("x/y/z", "x/(y*z)"),
    ("1/(2*x)", "1/(2*x)"),
    ("a - -b", "a + b"),
    ("gamma + 1", "gamma + 1"),
    ("gamma(5)", "24"),
]


@pytest.mark.parametrize(("text", "meaning"), MEANINGS, ids=[m[0] for m in MEANINGS])
def test_text_has_its_meaning(text, meaning):
    found = gelvo.formula(text)
    assert str(found) == meaning
    assert gelvo.formula(str(found)) is found


def test_an_equation_and_its_parts():
    equation = gelvo.formula("a*x = b")
    assert isinstance(equation, Equation)
    assert (str(equation.left), str(equation.right)) == ("a*x", "b")


@pytest.mark.parametrize(
    ("text", "shown"),
    [
        ("x < 2", "x < 2"),
        ("x > 2", "x > 2"),
        ("x ≤ 2", "x <= 2"),
        ("x ≠ y", "x != y"),
        ("x >= y", "y <= x"),
        ("0 < a < b", "a > 0 and a < b"),
        ("x != 2", "x != 2"),
        ("not x > 0", "x <= 0"),
        ("x > 0 or y > 0", "x > 0 or y > 0"),
        ("x > 0 or y > 0 and z > 0", "x > 0 or (y > 0 and z > 0)"),
        ("x! != 2", "factorial(x) != 2"),
    ],
)
def test_conditions(text, shown):
    condition = gelvo.formula(text)
    assert isinstance(condition, (Relation, Junction))
    assert str(condition) == shown


def test_unknown_functions_and_their_derivatives():
    assert str(read("theta'' + theta'(0) + theta", CONTEXT)) == "theta''(t) + theta'(0) + theta(t)"
    assert str(read("theta(2*t)", CONTEXT)) == "theta(2*t)"
    high = gelvo.unknown_function("u", "x", "t")
    mixed = gelvo.differentiate(gelvo.differentiate(high, "x"), "t")
    assert gelvo.formula(str(mixed), names_from=high) is mixed


def test_one_names_own_functions_and_definitions():
    context = Context(
        functions={"E": ((gelvo.variable("v"),), gelvo.formula("m*v^2/2"))}, definitions={"w": gelvo.formula("a+b")}
    )
    assert str(read("E(3)", context)) == "9*m/2"
    assert str(read("w^2", context)) == "(a + b)^2"


def test_the_conditions_of_the_text_as_written_are_kept():
    equation = gelvo.formula("x^2/x = 0")
    assert [str(c) for c in equation.conditions] == ["x != 0"]


def test_names_come_with_their_domains():
    m = gelvo.variable("m", "positive")
    assert gelvo.formula("sqrt(m^2)", names_from=m) is m
    assert str(gelvo.formula("sqrt(x^2)", given=["x >= 0"])) == "x"


def test_facts_about_single_names():
    facts = read_facts(["a > 0, n integer", "x real"])
    assert [str(f) for f in facts] == ["a > 0", "n integer", "x real"]


MESSAGES = [
    ("x(y+1)", 1, "`x` is a variable", "x*(y+1)"),
    ("ab + 1", 0, "`ab` is not declared", "a*b"),
    ("bab", 0, "`bab` is not declared", "b*a*b"),
    ("(x+1", 0, "never closed", "Add `)`"),
    ("x+1)", 3, "closes nothing", "Leave it out"),
    ("(x]", 2, "closes the `(`", ""),
    ("sin(x=2)", 5, "`=` stands where a value is needed", ""),
    ("x = y = z", 6, "chain of `=`", "one by one"),
    ("snh(x)", 0, "`snh` is not a known function", "`sinh`"),
    ("cosine(x)", 0, "`cosine` is not a known function", "`cos`"),
    ("2,5", 1, "comma", "2.5"),
    ("x,", 1, "comma", ""),
    ("x == 2", 2, "`==`", "x = 2"),
    ("1/2x", 2, "what is divided", "1/(2*x)"),
    ("2^3x", 2, "exponent ends", "2^(3*x)"),
    ("gamma*(1+z) + gamma(1+z)", 0, "both as a variable and as a function", "Rename"),
    ("3j + j", 5, "`3j` and the name `j`", ""),
    ("x y", 2, "multiplication sign is missing", "x*y"),
    ("x 2", 2, "multiplication sign is missing", "x*2"),
    ("(x)(y)", 3, "multiplication sign is missing", "(x)*(y)"),
    ("x +", 3, "ends too early", ""),
    ("x + * y", 4, "value is missing before `*`", ""),
    ("", 0, "no formula", "for example"),
    ("   ", 0, "no formula", ""),
    ("sin()", 0, "sin takes 1 argument, not 0", ""),
    ("sin(1, 2)", 0, "sin takes 1 argument, not 2", ""),
    ("sqrt(1, 2)", 0, "sqrt takes 1 argument", ""),
    ("x $ y", 2, "dollar signs stand around", ""),
    ("1/0", 2, "division by zero", ""),
    ("0^-1", 0, "division by zero", ""),
    ("(x > 1) + 2", 0, "condition stands where a value", ""),
    ("x'", 0, "not declared as an unknown function", "unknown x(t)"),
    ("theta(1, 2)", 0, "theta takes 1 argument, not 2", ""),
    ("inf + 1", 0, "inf is not a number", ""),
    ("tan(pi/2)", 0, "pole", ""),
    ("factorial(-1)", 0, "pole", ""),
    ("x when y", 2, "", ""),
    ("5%", 1, "percent", "5/100"),
    ("a && b", 2, "`and` and `or`", ""),
    ("integral_of(x, 2)", 0, "must be a variable", ""),
    ("cases(1)", 6, "value when condition", ""),
]


@pytest.mark.parametrize(("text", "column", "said", "meant"), MESSAGES, ids=[repr(m[0]) for m in MESSAGES])
def test_faulty_text_is_told_with_place_and_meaning(text, column, said, meant):
    with pytest.raises(FormulaError) as caught:
        read(text, CONTEXT)
    fault = caught.value
    assert fault.column == column
    assert said in fault.message
    assert meant in fault.hint
    shown = str(fault).splitlines()
    if text.strip():
        assert shown[0] == text
        assert shown[1][column] == "^"


def test_the_caret_of_a_long_line_stays_on_the_page():
    text = " + ".join(f"x_{k}" for k in range(100)) + " + $"
    with pytest.raises(FormulaError) as caught:
        read(text)
    line, caret = str(caught.value).splitlines()[:2]
    assert len(line) < 80
    assert line[caret.index("^")] == "$"


def test_sizes_and_nesting_are_bounded():
    with pytest.raises(FormulaError, match="nested"):
        read("(" * 2000 + "x" + ")" * 2000)
    with pytest.raises(FormulaError, match="limit"):
        read("x" * 3_000_000)
    with pytest.raises(FormulaError, match="too large"):
        read("10^(10^9)")
    with pytest.raises(FormulaError, match="too large"):
        read("(10^9)!")


def test_formula_text_is_never_run_as_python():
    for text in ("__import__('os')", "x.__class__", "lambda: 1", "exec(1)", "open(x)", "[x for x in y]", "x; y", "f'{x}'"):
        with pytest.raises(FormulaError):
            read(text)


def test_long_sums_are_read():
    text = " + ".join(f"{k}*x_{k}" for k in range(1, 3000))
    assert len(read(text).terms) == 2999


def test_only_text_is_a_formula():
    with pytest.raises(FormulaError, match="text"):
        read(3)


def test_the_stand_alone_parser_is_that_of_the_grammar():
    generate.write()
    assert generate.PARSER.read_text(encoding="utf-8").startswith(generate.stamp())
    assert "Lark_StandAlone" in generate.parser_source()
