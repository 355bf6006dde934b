"""Generated code keeps the digits that a formula as written would lose, measured against mpmath, which shares nothing with it."""

from __future__ import annotations

import importlib.util
import math
import re
import shutil
import warnings
from random import Random

import mpmath
import numpy
import pytest

import gelvo
from support import by_id, cases

mp = mpmath.mp.clone()
mp.prec = 1300
ROWS = cases("lost_digits.jsonl")
needs = {"c": "cc", "fortran": "gfortran", "javascript": "node"}
SINGLE = ("unit-cosine", "discriminant", "sin-step", "interest")
FUNCTIONS = {n: getattr(mp, n) for n in "sin cos tan exp sqrt acos asin atan sinh cosh tanh coth cot erf erfc".split()}
MEANT = {
    **FUNCTIONS,
    "pi": mp.pi,
    "ln": mp.log,
    "cbrt": lambda u: mp.sign(u) * mp.cbrt(abs(u)),
    "abs": abs,
    "max": max,
    "mpf": mp.mpf,
}


def meant(formula, point):
    """What a formula is at a point, to hundreds of digits; None where that is no real number of ordinary size."""
    text = re.sub(r"(?<![\w.])(\d+\.\d+|\d+)(?![\w.])", r"mpf('\1')", formula).replace("^", "**")
    try:
        value = eval(text, dict(MEANT), {n: mp.mpf(v) for n, v in point.items()})
    except (ZeroDivisionError, ValueError):
        return None
    return value if isinstance(value, mpmath.ctx_mp_python._mpf) and 1e-290 < abs(value) < 1e300 else None


def drawn(ranges, count, random):
    """Points of every order of size, some with two inputs nearly equal."""
    for k in range(count):
        point = {}
        for name, (low, high) in ranges.items():
            size = math.exp(random.uniform(math.log(max(low, 1e-25)), math.log(max(abs(low), abs(high)))))
            value = size * (random.choice((1, -1)) if low < 0 < high else 1) if k % 2 else random.uniform(low, high)
            point[name] = value if low <= value <= high else random.uniform(low, high)
        if len(point) > 1 and k % 4 == 0:
            one, other = random.sample(list(point), 2)
            near = point[other] * (1 + random.choice((1, -1)) * 10 ** random.uniform(-14, -1))
            point[one] = near if ranges[one][0] <= near <= ranges[one][1] else point[one]
        yield point


def loaded(bundle, folder):
    bundle.write(folder)
    spec = importlib.util.spec_from_file_location(bundle.name, folder / f"{bundle.name}.py")
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return getattr(module, bundle.name)


def off(found, value):
    return abs(mp.mpf(float(found)) - value) / math.ulp(float(value)) if math.isfinite(found) else math.inf


@pytest.mark.parametrize("row", ROWS, ids=by_id)
def test_code_keeps_the_digits_of_formulas_that_lose_them(row, tmp_path):
    ranges = {n: tuple(map(float, ends)) for n, ends in row["ranges"].items()}
    bundle = gelvo.export_code(row["formula"], list(ranges), "numpy", "kept", ranges=ranges, check=False)
    kept = loaded(bundle, tmp_path)
    plain = loaded(gelvo.export_code(row["formula"], list(ranges), "numpy", "plain", digits="plain", check=False), tmp_path)
    worst = lost = 0.0
    for point in drawn(ranges, 40, Random(row["id"])):
        value = meant(row["formula"], point)
        if value is None:
            continue
        with warnings.catch_warnings(), numpy.errstate(all="ignore"):
            warnings.simplefilter("ignore")
            error, before = (float(off(float(f(*point.values())), value)) for f in (kept, plain))
        worst, lost = max(worst, error), max(lost, before)
    assert lost > 8, "the formula as it was written loses nothing here"
    assert worst <= 4


@pytest.mark.parametrize("language", ["numpy", "c", "fortran", "javascript"])
@pytest.mark.parametrize(
    ("formula", "ranges", "marks"),
    [
        ("(x - sin(x))/x^3", {"x": (-6, 6)}, ["polynomial"]),  # a polynomial near 0, the formula elsewhere
        ("b^2 - 4*a*c", {"a": (-9, 9), "b": (-9, 9), "c": (-9, 9)}, ["exact products"]),
        ("b^2 - 3*a*c", {"a": (-9, 9), "b": (-9, 9), "c": (-9, 9)}, ["pairs"]),  # pairs of numbers where the sum cancels
        ("ln(x + sqrt(x^2 + 1))", {"x": (-1e9, 1e9)}, ["logarithms"]),
        ("exp(x) - exp(y)", {"x": (-1, 1), "y": (-1, 1)}, ["differences"]),  # expm1
        ("sqrt(x^2 + y^2)", {"x": (-1e300, 1e300), "y": (-1e300, 1e300)}, ["roots"]),  # hypot
        ("(a*c + b*d)/(c^2 + d^2)", dict.fromkeys("abcd", (-1e200, 1e200)), ["scaled", "exact products"]),  # powers of two
        ("x^2 - 2*x*cos(a) + 1", {"x": (0.5, 2), "a": (-3, 3)}, ["half angles"]),
        ("sqrt(x*y - z*w)", dict.fromkeys("xyzw", (-9, 9)), ["exact products", "scaled"]),  # inputs that may be 0 are no units
        ("sin(x) - x*cos(x)", {"x": (0, 1)}, ["polynomial"]),
        ("(1 + x)^n - 1", {"x": (-0.5, 10), "n": (0.1, 30)}, ["differences", "pairs"]),  # only the base on pairs
        ("sin(x + h) - sin(x)", {"x": (-10, 10), "h": (-1, 1)}, ["differences", "pairs"]),  # only an angle on pairs
        ("a*(cosh(x/a) - 1)", {"a": (0.1, 1e8), "x": (-10, 10)}, ["differences", "pairs"]),  # a quotient
        (
            "tan(argument_0 + value_) - tan(argument_0)",
            {"argument_0": (0, 1), "value_": (0, 0.5)},
            ["differences"],
        ),  # names of ours
        ("exp(-(x + y)^2/3)", {"x": (-20, 20), "y": (-9, 9)}, ["pairs"]),
        ("E - e*sin(E)", {"E": (-3, 3), "e": (0.9, 0.999999)}, ["differences", "polynomial"]),
    ],
)
def test_each_way_of_keeping_digits_works_in_every_language(language, formula, ranges, marks):
    if language in needs and not shutil.which(needs[language]):
        pytest.skip(f"no {needs[language]}")
    bundle = gelvo.export_code(formula, list(ranges), language, "quantity", ranges=ranges, check=False)
    outcome = bundle.check()
    assert outcome.passed, outcome.message
    assert all(any(m in step for step in bundle.digits["quantity"].road) for m in marks), bundle.digits
    assert bundle.digits["quantity"].after < bundle.digits["quantity"].before


@pytest.mark.parametrize("language", ["numpy", "c", "c++", "fortran"])
def test_single_precision_has_its_own_digits_in_every_language_that_has_it(language, tmp_path):
    """Single numbers, with doubles only where digits would be lost."""
    if language in needs and not shutil.which(needs[language]):
        pytest.skip(f"no {needs[language]}")
    rows = [r for r in ROWS if r["id"] in SINGLE]
    assert len(rows) == len(SINGLE)
    scaled = dict.fromkeys("abcd", (1e20, 1e30))  # the parts are beyond single numbers, the quotient is not
    assert gelvo.export_code("(a*c + b*d)/(c^2 + d^2)", list(scaled), language, "kept", ranges=scaled, precision="single").digits
    for row in rows:
        ranges = {n: tuple(max(-1e30, min(1e30, float(v))) for v in ends) for n, ends in row["ranges"].items()}
        bundle = gelvo.export_code(row["formula"], list(ranges), language, "kept", ranges=ranges, precision="single")
        text = "".join(bundle.files.values())
        assert "single precision" in text
        if language == "c":
            assert ("(double)" in bundle.files["kept.c"]) == (row["id"] != "unit-cosine"), bundle.files["kept.c"]
        if language != "numpy":
            continue
        kept = loaded(bundle, tmp_path)
        for point in drawn(ranges, 40, Random(row["id"])):
            point = {n: float(numpy.float32(v)) for n, v in point.items()}
            value = meant(row["formula"], point)
            if value is not None and 1e-30 < abs(value) < 1e30:
                found = kept(*point.values())
                assert found.dtype == numpy.float32 and abs(mp.mpf(float(found)) - value) <= 4 * float(
                    numpy.spacing(numpy.float32(abs(value)))
                )


def test_a_language_without_single_precision_says_so():
    for language in ("javascript", "numba", "python"):
        with pytest.raises(gelvo.ExportError, match="single precision: numpy, c"):
            gelvo.export_code("1 - cos(x)", "x", language, precision="single")
    with pytest.raises(gelvo.ExportError, match="choose one of double, single"):
        gelvo.export_code("1 - cos(x)", "x", precision="half")
    with pytest.raises(gelvo.ExportError, match="single precision can hold"):
        gelvo.export_code("10^50*x", "x", precision="single")


def test_what_is_known_of_the_digits_stands_in_the_head_of_the_code():
    bundle = gelvo.export_code("1 - cos(x)", "x", "c", "sag", ranges={"x": (-3, 3)})
    assert "digits of sag: at most 1 ULP at" in bundle.files["sag.h"] and "as it was written" in bundle.files["sag.h"]
    assert "sin(" in bundle.files["sag.c"] and "cos(" not in bundle.files["sag.c"]
    same, other = (gelvo.export_code("1 - cos(x)", "x", "c", "sag", ranges={"x": (-3, top)}, check=False) for top in (3, 2))
    assert f"certificate {bundle.certificate}\n" in bundle.files["sag.h"]
    assert same.certificate == bundle.certificate != other.certificate
    plain = gelvo.export_code("1 - cos(x)", "x", "c", "sag", ranges={"x": (1, 3)}, digits="plain")
    assert "cos(x)" in plain.files["sag.c"] and plain.check().passed


@pytest.mark.parametrize(
    ("ranges", "said"),
    [
        ({"y": (0, 1)}, "names y, which is not among the inputs x"),
        ({"x": (2, 1)}, "ends at 1, below its start 2"),
        ({"x": 3}, "a pair"),
        ({"x": ("a", 1)}, "and a is none"),
    ],
)
def test_a_range_that_is_none_is_told(ranges, said):
    with pytest.raises(gelvo.DomainError, match=said):
        gelvo.export_code("x + 1", "x", ranges=ranges)


def test_ends_of_ranges_are_numbers_in_any_form():
    x = gelvo.variable("x")
    bundle = gelvo.export_code("1 - cos(x)", "x", ranges={x: ("-pi/2", gelvo.pi / 2)})
    assert all(-1.5708 <= p[0] <= 1.5708 for p in bundle._points)
    with pytest.raises(gelvo.ExportError, match="digits='some' is not known"):
        gelvo.export_code("x", "x", digits="some")


def test_the_same_code_on_every_run():
    made = [
        gelvo.export_code("exp(-a*t) - exp(-b*t)", ["t", "a", "b"], "c", ranges={"t": (0, 5)}, check=False).files
        for _ in range(2)
    ]
    assert made[0] == made[1]
