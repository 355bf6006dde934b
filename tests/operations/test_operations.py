"""What every operation shares: text and objects as arguments, facts, names, answers."""

from __future__ import annotations

import pytest

import gelvo

x, y, a, b = gelvo.variables("x", "y", "a", "b")

SAME_FOR_TEXT_AND_OBJECTS = [
    (lambda arg: gelvo.expand(arg("(x + 1)^2"))),
    (lambda arg: gelvo.factor(arg("x^2 - 1"))),
    (lambda arg: gelvo.simplify(arg("sin(x)^2 + cos(x)^2")).expression),
    (lambda arg: gelvo.collect(arg("a*x + b*x"), "x")),
    (lambda arg: gelvo.common_denominator(arg("1/x + 1/y"))),
    (lambda arg: gelvo.differentiate(arg("x^3"), "x")),
    (lambda arg: gelvo.integrate(arg("x^3"), "x").expression),
    (lambda arg: gelvo.integrate(arg("x^3"), "x", 0, arg("a")).expression),
    (lambda arg: gelvo.substitute(arg("x + y"), {"x": arg("a")})),
    (lambda arg: gelvo.rename(arg("x + y"), {"x": "z"})),
    (lambda arg: gelvo.numerator(arg("x/y"))),
    (lambda arg: gelvo.denominator(arg("x/y"))),
    (lambda arg: gelvo.solve(arg("x^2 = 4"), "x")[0][x]),
    (lambda arg: gelvo.value(arg("sqrt(2)"), 8)),
    (lambda arg: gelvo.equal(arg("x"), arg("y"))),
    (lambda arg: gelvo.typeset(arg("x^2"))),
    (lambda arg: gelvo.check(arg("x = x")).verdict),
]


@pytest.mark.parametrize("call", SAME_FOR_TEXT_AND_OBJECTS, ids=[str(k) for k in range(len(SAME_FOR_TEXT_AND_OBJECTS))])
def test_text_and_objects_are_taken_alike(call):
    assert call(lambda text: text) == call(gelvo.formula)


@pytest.mark.parametrize("variable", ["x", x, "θ"])
def test_a_variable_by_name_or_object(variable):
    e = gelvo.formula("θ^2 + x^2")
    assert gelvo.differentiate(e, variable) == (2 * gelvo.variable("theta") if variable == "θ" else 2 * x)


def test_text_is_read_with_the_domains_of_the_call():
    m = gelvo.variable("m", "positive")
    assert gelvo.equal(m, "sqrt(m^2)") is True
    assert gelvo.substitute(m * x, {"m": 3}) is 3 * x
    assert gelvo.solve(gelvo.equation(m**2, 4), m).single == 2


@pytest.mark.parametrize(
    "given",
    [
        ["x > 0"],
        "x > 0",
        [x > 0],
        [gelvo.formula("x > 0")],
        ["x positive"],
        ["x > 1"],
        ["x > y", "y > 0"],
        ["x = 3"],
        [gelvo.equation(x, 3)],
    ],
)
def test_facts_in_every_form(given):
    assert gelvo.is_known("x > 0", given=given) is True or gelvo.simplify("sqrt(x^2)", given=given) in (x, 3)


def test_the_given_facts_never_change_the_names_of_the_result():
    answer = gelvo.simplify("sqrt(x^2)", given=["x > 0"])
    assert answer.expression is x
    assert gelvo.integrate("1/x", "x", given=["x > 0"]).expression is gelvo.ln(x)


@pytest.mark.parametrize(
    ("operation", "arguments"),
    [
        ("expand", (object(),)),
        ("simplify", (None,)),
        ("differentiate", ("x", None)),
        ("solve", (3.5j, "x")),
        ("substitute", ("x", 3)),
        ("typeset", (object(),)),
        ("coefficients", ("1/x", "x")),
        ("plot", ("x*y", "x", 0, 1)),
    ],
)
def test_wrong_things_are_refused(operation, arguments):
    with pytest.raises((gelvo.GelvoError, TypeError)):
        getattr(gelvo, operation)(*arguments)


def test_answers_carry_their_extras():
    answer = gelvo.integrate("cos(k*x)", "x")
    assert [str(c) for c in answer.conditions] == ["k != 0"]
    assert answer.verdict == "proved" and answer.road and answer.reason == ""
    assert answer.certificate() is answer.certificate()
    assert repr(answer) == str(answer) == "sin(k*x)/k   # if k != 0"
    assert gelvo.formula(str(answer)) is answer.expression
    assert hash(answer) == hash(answer.expression)
    assert -answer + answer == 0 and abs(answer) == abs(answer.expression)
    with pytest.raises(AttributeError):
        _ = answer.nothing


def test_written_forms():
    assert str(gelvo.integral_of("x^2", "x")) == "integral_of(x^2, x)"
    assert str(gelvo.derivative_of("x^2", "x", 2)) == "derivative_of(x^2, x, 2)"
    assert str(gelvo.limit_of("1/x", "x", "inf")) == "limit_of(1/x, x, inf)"
    assert str(gelvo.sum_of("k", "k", 1, "n")) == "sum_of(k, k, 1, n)"
    assert str(gelvo.product_of("k", "k", 1, "n")) == "product_of(k, k, 1, n)"


@pytest.mark.parametrize("name", ["simplify", "integrate", "solve", "check", "export_code", "value", "formula"])
def test_public_docstrings_tell_arguments_and_show_an_example(name):
    text = getattr(gelvo, name).__doc__
    assert ">>> " in text and ":" in text and len(text) > 200


class TestFigures:
    def test_curves_axes_and_legend(self):
        figure = gelvo.plot(
            ["sin(w*t)", "cos(w*t)"], "t", 0, "2*pi", values={"w": 2}, labels=["sine", "cosine"], units={"t": "s"}
        )
        (axis,) = figure.axes
        assert len(axis.lines) == 2 and "s" in axis.get_xlabel()
        assert [t.get_text() for t in axis.get_legend().get_texts()] == ["sine", "cosine"]

    def test_units_that_differ_make_panels(self):
        figure = gelvo.plot(["x", "x^2"], "x", 0, 1, labels=["length", "area"], units={"length": "m", "area": "m^2", "x": "m"})
        assert len(figure.axes) == 2
        assert "m²" in figure.axes[1].get_ylabel()

    def test_gaps_where_there_is_no_value(self):
        import numpy

        line = gelvo.plot("sqrt(x)", "x", -1, 1).axes[0].lines[0]
        heights = line.get_ydata()
        assert numpy.isnan(heights[0]) and heights[-1] == 1.0

    @pytest.mark.parametrize(
        ("arguments", "said"),
        [
            (("x*y", "x", 0, 1), "needs numbers for y"),
            (("x", "x", 1, 0), "empty"),
            (("sqrt(-1 - x^2)", "x", 0, 1), "no real values"),
        ],
    )
    def test_what_cannot_be_drawn_is_told(self, arguments, said):
        with pytest.raises(gelvo.DomainError, match=said):
            gelvo.plot(*arguments)

    def test_pictures_are_the_same_twice(self):
        from gelvo.figures.plotting import png_of, svg_of

        one, two = (gelvo.plot("sin(x)", "x", 0, 6) for _ in range(2))
        assert svg_of(one) == svg_of(two) and svg_of(one).startswith("<svg")
        assert png_of(one)[:4] == b"\x89PNG"


class TestDomains:
    @pytest.mark.parametrize(
        ("domain", "known"),
        [
            ("positive", "x > 0"),
            ("negative", "x < 0"),
            ("nonnegative", "x >= 0"),
            ("nonzero", "x != 0"),
            ("natural", "x >= 0"),
            ("integer", "x real"),
        ],
    )
    def test_a_declared_domain_is_known(self, domain, known):
        v = gelvo.variable("x", domain)
        assert gelvo.is_known(gelvo.formula(known, names_from=v) if "real" not in known else "x real") is True

    @pytest.mark.parametrize("plural", ["reals", "integers", "naturals"])
    def test_plurals_are_read(self, plural):
        assert gelvo.variable("q", plural).domain in ("real", "integer", "natural")

    def test_facts_against_a_domain_are_told(self):
        with pytest.raises(gelvo.DomainError, match="contradict"):
            gelvo.equal(gelvo.variable("x", "positive"), 1, given=[gelvo.variable("x", "positive") < 0])
