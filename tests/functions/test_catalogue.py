"""Every record of the catalogue is held against numbers that come from elsewhere."""

from __future__ import annotations

import itertools
from fractions import Fraction
from random import Random

import mpmath
import pytest
from gmpy2 import mpq

import gelvo
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression import known as bits
from gelvo.expression.building import call, cases, constant, name, number, relation
from gelvo.expression.registry import FUNCTIONS, Function, register
from gelvo.numbers import box as boxes
from gelvo.numbers.box import Box
from gelvo.numbers.interval import NoValue
from support import box_at, random_expression, same_value

x = gelvo.variable("x")
ONE_ARGUMENT = sorted(n for n, f in FUNCTIONS.items() if f.arguments == (1, 1))
SMOOTH = [
    n
    for n in ONE_ARGUMENT
    if n
    not in (
        "floor",
        "ceil",
        "sign",
        "heaviside",
        "re",
        "im",
        "conj",
        "arg",
        "abs",
        "digamma",
        "zeta",
        "dirac_delta",
        "lambertw_lower",
    )
]
PLACES = [mpq(-1, 5), mpq(-1, 9), mpq(1, 3), mpq(-2, 5), mpq(7, 5), mpq(2, 3), mpq(-9, 4), mpq(21, 10), mpq(19, 3)]
REFERENCE = {
    "ln": mpmath.log,
    "log10": mpmath.log10,
    "log2": lambda v: mpmath.log(v, 2),
    "abs": abs,
    "airyai_prime": lambda v: mpmath.airyai(v, derivative=1),
    "airybi_prime": lambda v: mpmath.airybi(v, derivative=1),
    "sign": mpmath.sign,
    "ceil": mpmath.ceil,
    "re": mpmath.re,
    "im": mpmath.im,
    "conj": mpmath.conj,
    "acot": lambda v: mpmath.atan(1 / v),
    "sinhc": lambda v: mpmath.sinh(v) / v if v else mpmath.mpf(1),
    "asec": lambda v: mpmath.acos(1 / v),
    "acsc": lambda v: mpmath.asin(1 / v),
    "acoth": lambda v: mpmath.atanh(1 / v),
    "asech": lambda v: mpmath.acosh(1 / v),
    "acsch": lambda v: mpmath.asinh(1 / v),
    "digamma": mpmath.digamma,
    "loggamma": mpmath.loggamma,
    "heaviside": lambda v: (1 + mpmath.sign(v)) / 2,
    "Ei": mpmath.ei,
    "Shi": mpmath.shi,
    "Chi": mpmath.chi,
    "dirac_delta": lambda v: mpmath.mpf(0),
    "lambertw_lower": lambda v: mpmath.lambertw(v, -1),
    "Si": mpmath.si,
    "Ci": mpmath.ci,
    "cbrt": lambda v: mpmath.sign(v) * abs(v) ** (mpmath.mpf(1) / 3),
}


def test_the_catalogue_has_the_elementary_functions():
    assert len(FUNCTIONS) >= 45
    trigonometric = {p + f + h for f in ("sin", "cos", "tan", "cot", "sec", "csc") for p in ("", "a") for h in ("", "h")}
    assert trigonometric <= set(FUNCTIONS)


@pytest.mark.parametrize("function", ONE_ARGUMENT)
def test_values_agree_with_an_independent_library(function):
    looked = 0
    with mpmath.workdps(40):
        for place in PLACES:
            box = box_at(call(function, x), {x: place})
            if box is None or not box.finite or box.imag is not None:
                continue
            reference = REFERENCE.get(function) or getattr(mpmath, function)
            expected = mpmath.mpmathify(reference(mpmath.mpf(int(place.numerator)) / int(place.denominator)))
            assert abs(expected.imag) < mpmath.mpf(10) ** -30, (function, place)
            expected = expected.real
            low, high = (mpmath.mpf(str(v)) for v in (box.real.low, box.real.high))
            slack = mpmath.mpf(10) ** -35 * max(1, abs(expected))
            assert low - slack <= expected <= high + slack, (function, place)
            assert high - low < mpmath.mpf(10) ** -30 * max(1, abs(high))
            looked += 1
    assert looked >= 2


@pytest.mark.parametrize("function", SMOOTH)
def test_derivatives_agree_with_difference_quotients(function):
    e = call(function, x)
    change = gelvo.differentiate(e, x)
    step, looked = mpq(1, 10**25), 0
    for place in PLACES:
        up, down = box_at(e, {x: place + step}, 400), box_at(e, {x: place - step}, 400)
        slope = box_at(change, {x: place}, 400)
        if None in (up, down, slope) or up.imag is not None or slope.imag is not None:
            continue
        quotient, right = (mpq(up.real.low) - mpq(down.real.low)) / (2 * step), mpq(slope.real.low)
        assert abs(quotient - right) < mpq(1, 10**20) * max(1, abs(right)), place
        looked += 1
    assert looked >= 2


@pytest.mark.parametrize(
    "function", [n for n in ONE_ARGUMENT if FUNCTIONS[n].antiderivative and n not in ("heaviside", "dirac_delta")]
)
def test_antiderivatives_of_the_records_differentiate_back(function):
    record = FUNCTIONS[function]
    back = gelvo.differentiate(record.antiderivative(x), x)
    looked = 0
    for place in PLACES:
        one, two = box_at(back, {x: place}), box_at(call(function, x), {x: place})
        if one is None or two is None or one.imag is not None or two.imag is not None:
            continue
        assert abs(mpq(one.real.low) - mpq(two.real.low)) < mpq(1, 10**30) * max(1, abs(mpq(two.real.low))), place
        looked += 1
    assert looked >= 1


@pytest.mark.parametrize("function", [n for n in ONE_ARGUMENT if FUNCTIONS[n].zeros])
def test_the_zeros_of_the_records_are_all_that_an_independent_library_has(function):
    """A change of sign is looked for at each fiftieth from -7 to 7, where the value is real."""
    reference = REFERENCE.get(function) or getattr(mpmath, function)
    places = {mpmath.mpf(str(p)) for k in range(-3, 4) for p in map(gelvo.value, FUNCTIONS[function].zeros(number(k)))}

    def real(place):
        try:
            value = mpmath.mpmathify(reference(place))
        except (ValueError, ZeroDivisionError):
            return None
        return value.real if abs(value.imag) < 1e-12 and abs(value) < 1e6 else None

    assert all(abs(real(p)) < 1e-12 for p in places)
    grid = [mpmath.mpf(k) / 50 + mpmath.mpf("0.0037") for k in range(-350, 350)]
    for left, right in itertools.pairwise(grid):
        sides = [real(left), real(right)]
        if None in sides or sides[0] * sides[1] > 0:
            continue
        low, high = left, right
        for _ in range(40):  # towards the zero, or the pole, where the sign changes
            middle = (low + high) / 2
            at = real(middle)
            low, high = (middle, high) if at is not None and at * sides[0] > 0 else (low, middle)
        crosses = real(low) is not None and abs(real(low)) < 1e-6
        assert crosses <= any(left <= p <= right for p in places), (function, left)


@pytest.mark.parametrize("function", [n for n in ONE_ARGUMENT if FUNCTIONS[n].as_elementary])
def test_the_elementary_form_has_the_same_value(function):
    e = call(function, x)
    assert same_value(e, FUNCTIONS[function].as_elementary(x), [x], 3) >= 1


@pytest.mark.parametrize("function", [n for n in ONE_ARGUMENT if FUNCTIONS[n].odd or FUNCTIONS[n].even])
def test_parity(function):
    record = FUNCTIONS[function]
    assert call(function, -x) is (-call(function, x) if record.odd else call(function, x))


@pytest.mark.parametrize("function", [n for n in ONE_ARGUMENT if FUNCTIONS[n].inverse])
def test_the_inverse_on_the_right_cancels(function):
    assert call(function, call(FUNCTIONS[function].inverse, x)) is x


@pytest.mark.parametrize("function", [n for n in ONE_ARGUMENT if FUNCTIONS[n].period])
def test_the_period_is_one(function):
    period = FUNCTIONS[function].period()
    looked = 0
    for place in PLACES[:3]:
        one, two = box_at(call(function, x), {x: place}), box_at(call(function, x + period), {x: place})
        assert abs(mpq(one.real.low) - mpq(two.real.low)) < mpq(1, 10**30)
        looked += 1
    assert looked == 3


@pytest.mark.parametrize("function", [n for n in ONE_ARGUMENT if FUNCTIONS[n].solve_for])
def test_what_undoes_a_function_does(function):
    n = name("n", "integer")
    looked = 0
    for place in (mpq(1, 3), mpq(-2, 5), mpq(7, 5), mpq(2), mpq(1, 2)):
        value = number(place)
        for root, conditions in FUNCTIONS[function].solve_for(value, n):
            if not all(getattr(c, "holds", None) is True or gelvo.is_known(c) for c in conditions):
                continue
            box = box_at(call(function, root), {n: mpq(3)})
            if box is not None and box.imag is None:
                assert abs(mpq(box.real.low) - place) < mpq(1, 10**30)
                looked += 1
    assert looked >= 1


@pytest.mark.parametrize("function", [n for n in ONE_ARGUMENT if FUNCTIONS[n].at_infinity])
def test_limits_at_infinity(function):
    record = FUNCTIONS[function]
    ends = {"exp": (None, record.at_infinity[1]), "Ci": (record.at_infinity[0], None)}.get(function, record.at_infinity)
    for end, place in zip(ends, (mpq(10**9), mpq(-(10**9))), strict=True):
        if end is None:
            continue
        limit, near = box_at(end(), {}), box_at(call(function, x), {x: place}, 4000)
        assert abs(float(limit.real.low) - float(near.real.low)) < 1e-8


@pytest.mark.parametrize("function", [n for n in ONE_ARGUMENT if FUNCTIONS[n].known])
def test_what_is_known_of_values_is_true(function):
    record = FUNCTIONS[function]
    for place in PLACES:
        box = box_at(call(function, x), {x: place})
        if box is None or box.imag is not None:
            continue
        mask = record.known(bits.POSITIVE if place > 0 else bits.NEGATIVE)
        sign = bits.POS if box.real.low > 0 else bits.NEG if box.real.high < 0 else bits.NIL
        assert mask & sign, (function, place)


EXACT = [
    ("sin(pi/6)", "1/2"),
    ("cos(pi/3)", "1/2"),
    ("tan(pi/4)", "1"),
    ("sin(pi/12)", "(sqrt(6) - sqrt(2))/4"),
    ("cos(pi)", "-1"),
    ("sin(7*pi/6)", "-1/2"),
    ("cos(5*pi/4)", "-sqrt(2)/2"),
    ("tan(2*pi/3)", "-sqrt(3)"),
    ("cot(pi/6)", "sqrt(3)"),
    ("sec(pi/3)", "2"),
    ("csc(pi/2)", "1"),
    ("asin(1/2)", "pi/6"),
    ("asin(-1)", "-pi/2"),
    ("acos(0)", "pi/2"),
    ("acos(-1/2)", "2*pi/3"),
    ("atan(1)", "pi/4"),
    ("atan(-sqrt(3))", "-pi/3"),
    ("atan2(-1, -1)", "-3*pi/4"),
    ("asec(2)", "pi/3"),
    ("acsc(2)", "pi/6"),
    ("sinh(0)", "0"),
    ("cosh(0)", "1"),
    ("acosh(1)", "0"),
    ("exp(0)", "1"),
    ("exp(1j*pi)", "-1"),
    ("ln(1)", "0"),
    ("ln(8)", "3*ln(2)"),
    ("ln(1/5)", "-ln(5)"),
    ("ln(exp(1))", "1"),
    ("log10(1000)", "3"),
    ("log2(1/8)", "-3"),
    ("cbrt(-27)", "-3"),
    ("cbrt(2)^3", "2"),
    ("abs(-3/2)", "3/2"),
    ("sign(-7)", "-1"),
    ("floor(-3/2)", "-2"),
    ("ceil(-3/2)", "-1"),
    ("floor(x + 2)", "2 + floor(x)"),
    ("min(2, x, 1)", "min(x, 1)"),
    ("max(max(x, 1), 3)", "max(x, 3)"),
    ("gamma(1/2)", "sqrt(pi)"),
    ("gamma(5/2)", "3*sqrt(pi)/4"),
    ("gamma(-1/2)", "-2*sqrt(pi)"),
    ("digamma(1)", "-euler_gamma"),
    ("digamma(3)", "3/2 - euler_gamma"),
    ("binomial(6, 3)", "20"),
    ("erf(0)", "0"),
    ("erfc(0)", "1"),
    ("heaviside(2)", "1"),
    ("heaviside(0)", "1/2"),
    ("arg(-1)", "pi"),
    ("arg(1j)", "pi/2"),
    ("re(exp(1j*x))", "cos(x)"),
    ("im((1 + 2j)*x)", "2*x"),
    ("sin(x + pi/2)", "cos(x)"),
    ("cos(x - pi)", "-cos(x)"),
    ("tan(x + pi)", "tan(x)"),
    ("sin(pi/5)^2", "(5 - sqrt(5))/8"),
    ("factorial(20)", "2432902008176640000"),
]


@pytest.mark.parametrize(("text", "value"), EXACT, ids=[e[0] for e in EXACT])
def test_exact_values(text, value):
    assert str(gelvo.formula(text)) == value


@pytest.mark.parametrize("bottom", [7, 9, 11, 16, 24])
def test_one_name_for_each_sine_of_a_fraction_of_pi(bottom):
    seen = {}
    for top in range(-2 * bottom, 2 * bottom):
        turn = gelvo.pi * Fraction(top, bottom)
        for f in ("sin", "cos"):
            value = call(f, turn)
            key = gelvo.value(value, 25)
            seen.setdefault(str(key), set()).add(value)
    assert all(len(v) == 1 for v in seen.values())


@pytest.fixture
def cardinal_sine():
    """sin(x)/x, and 1 at 0: a function of which the library knows nothing but this record."""
    added = register(
        Function(
            name="cardinal_sine",
            about="sin(x)/x, and 1 at 0.",
            example=("0", "1"),
            derivative=lambda u: call("cos", u) / u - call("sin", u) / u**2,
            at=lambda u: number(1) if u is number(0) else None,
            even=True,
            breaks=lambda u: (),
            jumps=lambda u: (),
            known=lambda known: bits.REAL if bits.is_real(known) else bits.ANY,
            bounds=lambda a, u: Box(a.one) if u.is_zero else boxes.multiply(a, boxes.sine(a, u), boxes.invert(a, u)),
            as_elementary=lambda u: call("sin", u) / u,
            in_code=lambda u: cases([(number(1), relation("=", u, number(0)))], call("sin", u) / u),
            at_infinity=(lambda: number(0), lambda: number(0)),
            latex=r"\operatorname{sinc}",
        )
    )
    yield gelvo.formula("cardinal_sine(x)")
    del FUNCTIONS[added.name]


def test_adding_a_function_needs_one_record_only(cardinal_sine):
    assert gelvo.equal(gelvo.differentiate(cardinal_sine, x), "(x*cos(x) - sin(x))/x^2")
    assert gelvo.equal(cardinal_sine * x, "sin(x)")
    assert str(gelvo.substitute(cardinal_sine, {"x": 0})) == "1"
    assert str(gelvo.substitute(cardinal_sine, {"x": "pi/2"}).value(12)) == "0.636619772368"
    assert gelvo.formula(str(cardinal_sine)) is cardinal_sine
    assert "sinc" in gelvo.typeset(cardinal_sine)
    assert gelvo.equal(gelvo.series(cardinal_sine, x, through=4).expression, "1 - x^2/6 + x^4/120")
    assert gelvo.limit("(1 - cardinal_sine(x))/x^2", x, 0) == Fraction(1, 6)
    assert gelvo.limit(cardinal_sine, x, "inf") == 0


@pytest.mark.parametrize("language", ["numpy", "c", "fortran", "javascript"])
def test_code_of_an_added_function_is_right_also_where_its_formula_has_no_value(cardinal_sine, language):
    assert gelvo.export_code(cardinal_sine, ["x"], language, "cardinal", check=False).check().passed
    assert float(gelvo.numeric_function(cardinal_sine, ["x"])(0.0)) == 1.0


def test_a_second_record_of_one_name_is_refused():
    with pytest.raises(ValueError, match="two records"):
        register(Function(name="sin", about="", example=()))


def test_bounds_say_where_there_is_no_value():
    from gelvo.evaluation.enclose import enclose

    for text in ("ln(0*1 - 1 + 1)", "asin(2)", "polylog(2, 3)", "atanh(2)", "sign(sqrt(2)^2 - 2 + 0*pi)"):
        try:
            expression = gelvo.formula(text)
        except gelvo.FormulaError:
            continue
        if isinstance(expression, type(number(1))):
            continue
        with pytest.raises(NoValue):
            enclose(expression, {}, 100)


def test_names_of_the_functions_are_words_of_python_too():
    assert str(gelvo.sin("x") + gelvo.asinh(2)) == "asinh(2) + sin(x)"
    assert gelvo.sqrt(x) is x ** Fraction(1, 2)
    assert gelvo.absolute(-2) == 2 and gelvo.maximum(1, 2) == 2
    assert constant("pi") is gelvo.pi


def test_a_record_that_does_not_tell_its_breaks_proves_nothing():
    """What is left out is not known: a step that only its bounds know is not taken for smooth."""
    added = register(
        Function(
            name="hidden_step",
            about="0 before zero, 1 from there on.",
            example=("0", "1"),
            derivative=lambda u: number(0),
            bounds=lambda a, u: Box(a.one) if u.real.low >= 0 else Box(a.zero),
        )
    )
    try:
        step = gelvo.formula("hidden_step(x)")
        assert str(gelvo.limit(step, x, 0)).startswith("limit_of")
        assert gelvo.check("limit_of(hidden_step(x), x, 0) = 1").verdict in ("undecided", "refuted")
        assert str(gelvo.integrate(step, x, -1, 1)).startswith("integral_of")
    finally:
        del FUNCTIONS[added.name]


@pytest.mark.parametrize("function", sorted(FUNCTIONS))
def test_bounds_have_their_lower_end_below_the_upper(function):
    """At arguments that are no exact numbers of so many bits: an end rounded the wrong way would turn the interval round."""
    record = FUNCTIONS[function]
    count = max(record.arguments[0], min(2, record.arguments[1]))
    names = [gelvo.variable(f"x_{k}") for k in range(count)]
    formula, told = call(function, *names), 0
    for top in (-37, -5, -3, 2, 5, 17, 31):
        for precision in (53, 64, 101):
            point = {n: mpq(top + k, 11) for k, n in enumerate(names)}
            box = box_at(formula, point, precision)
            if box is not None:
                told += 1
                assert all(part is None or part.low <= part.high for part in box)
    assert told


def test_enclosures_hold_the_true_value():
    random = Random(5)
    looked = 0
    for _ in range(150):
        e = random_expression(random, [x], 4)
        point = {x: mpq(random.randint(-20, 20), 7)}
        try:
            coarse, fine = Enclosure(e).at(point, 40), Enclosure(e).at(point, 400)
        except NoValue:
            continue
        if not coarse.finite:
            continue
        assert coarse.real.low <= fine.real.high and fine.real.low <= coarse.real.high
        looked += 1
    assert looked > 80
