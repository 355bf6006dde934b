"""Everything that `import gelvo` offers, put together: the core, its hooks, and the outputs."""

from __future__ import annotations

from inspect import isfunction as _isfunction
from typing import TYPE_CHECKING, Any

from gelvo import functions as _functions
from gelvo.calculus.sums.bounded import bounded_collection as _bounded_collection
from gelvo.data.samples import difference_samples, integrate_samples, interpolate
from gelvo.data.tables import Table, read_table
from gelvo.deadline import time_limit
from gelvo.deciding.bounded_integrals import bounded_integral as _bounded_integral
from gelvo.deciding.equality import is_zero as _is_zero
from gelvo.errors import (
    CheckFailed,
    DomainError,
    ExportError,
    FormulaError,
    GelvoError,
    NoClosedForm,
    NotSolved,
    TimeLimitReached,
    Undecided,
)
from gelvo.evaluation.value import value as _value
from gelvo.expression.building import bound as _bound
from gelvo.expression.building import constant as _constant
from gelvo.expression.registry import FUNCTIONS as _FUNCTIONS
from gelvo.expression.registry import Hooks as _Hooks
from gelvo.expression.storing import load as _load
from gelvo.expression.storing import store as _store
from gelvo.expression.text import text as _text
from gelvo.expression.writing import set_writing, writing
from gelvo.matrices.elimination import inverse as _inverse
from gelvo.matrices.matrix import Matrix, column, identity
from gelvo.operations import methods as _methods
from gelvo.operations.boundary import told as _told
from gelvo.operations.building import (
    cases,
    decimal,
    derivative_of,
    equation,
    formula,
    integral_of,
    limit_of,
    mathematical_function,
    multiply_all,
    positive_variables,
    product_of,
    root_of,
    sum_of,
    total,
    unknown_function,
    variable,
    variables,
)
from gelvo.operations.by_hand import by_parts, carry_out, change_variable, split_integral
from gelvo.operations.calculus import differentiate, integrate
from gelvo.operations.defined_transforms import convolution, hankel, hilbert, inverse_z_transform, mellin, z_transform
from gelvo.operations.implicit_series import series_implicitly
from gelvo.operations.letters_in_integrals import differentiate_under, recurrence
from gelvo.operations.matrices import diagonal, entrywise, from_columns, from_function, matrix, random_matrix
from gelvo.operations.matrix_forms import block_diagonal, block_matrix, common_eigenvectors, gram_schmidt, normal_modes
from gelvo.operations.matrix_functions import power as _matrix_power
from gelvo.operations.numeric import roots_between
from gelvo.operations.numeric_systems import numeric_solution as _numeric_solution
from gelvo.operations.orthogonal_series import fourier_series, orthogonal_series
from gelvo.operations.polynomials import (
    complete_square,
    degree,
    discriminant,
    divide,
    gcd,
    lcm,
    leading_coefficient,
    minimal_polynomial,
    partial_fractions,
    polynomial_root,
    resultant,
)
from gelvo.operations.power_series import series_solution
from gelvo.operations.regions import flux, integrate_over, line_integral
from gelvo.operations.rewriting import (
    abbreviate,
    amplitude_phase,
    coefficients,
    collect,
    combine,
    common_denominator,
    denominator,
    expand,
    express,
    factor,
    numerator,
    rationalize_denominator,
    rename,
    simplify,
    substitute,
)
from gelvo.operations.series import add_up, limit, multiply_up, series
from gelvo.operations.solving import solve
from gelvo.operations.transforms import fourier, inverse_fourier, inverse_laplace, laplace
from gelvo.operations.trust import check, equal, is_known, value
from gelvo.operations.vectors import (
    curl,
    difference_quotient,
    differentiate_implicitly,
    divergence,
    gradient,
    hessian,
    jacobian,
    laplacian,
)
from gelvo.physics.eigenmodes import eigenmodes
from gelvo.physics.elements import assemble, element_matrix, element_vector, restrained, shape_functions
from gelvo.physics.mechanics import equations_of_motion
from gelvo.physics.motion import join_sections, jumps
from gelvo.physics.separation import separate_variables
from gelvo.physics.systems import first_order_form, linearize, state_space, transfer_function
from gelvo.physics.tensors import euler_rotation, invariants, principal_values, rotated, rotation
from gelvo.reading import protocol as _protocol

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping, Sequence

    from matplotlib.figure import Figure

    from gelvo.code.bundle import CodeBundle
    from gelvo.code.native import NativeFunction
    from gelvo.code.numeric import NumericFunction
    from gelvo.figures.animation import Animation
    from gelvo.operations.numeric_systems import NumericSolution
    from gelvo.simulating.course import Course
    from gelvo.simulating.module import SimulationModule


def _restored(rows: Iterable[tuple[Any, ...]]) -> object:
    """A formula that was pickled; found by this name, so that the process it comes to has the library put together."""
    return _load(rows)


_Hooks.read = _protocol.Reader()
_Hooks.bounded_integral = staticmethod(_bounded_integral)
_Hooks.bounded_collection = staticmethod(_bounded_collection)
_Hooks.value = staticmethod(_value)
_Hooks.text = staticmethod(_text)
_Hooks.stored = staticmethod(lambda node: (_restored, (_store(node),)))
_Hooks.is_zero = staticmethod(_is_zero)
_Hooks.inverse = staticmethod(_inverse)
_Hooks.matrix_power = staticmethod(_matrix_power)
_methods.attach()

pi, euler_gamma, catalan = _constant("pi"), _constant("euler_gamma"), _constant("catalan")
inf, undefined = _bound("inf"), _bound("undefined")
sqrt = mathematical_function("sqrt")
for _name in _FUNCTIONS:
    if _name not in ("abs", "min", "max"):
        globals()[_name] = mathematical_function(_name)
absolute, minimum, maximum = (mathematical_function(n) for n in ("abs", "min", "max"))


def typeset(expression: Any, style: str = "latex", width: int | None = None, **options: Any) -> str:
    """A formula as LaTeX, MathML Core, or two-dimensional text.

    style: "latex", "mathml" or "text"; width: letters in a line, to which long formulas are broken (72 on paper); options: how it is
    written, in the words of `writing`. Decimals in text stay decimals.

    >>> import gelvo
    >>> gelvo.typeset("m*c^2/2", "latex")
    '\\\\frac{m c^{2}}{2}'
    >>> print(gelvo.typeset("1 + 2*x + x^2", "text", powers="ascending"), gelvo.typeset("sqrt(2)*x", "text", decimals=3))
    1 + 2 x + x² 1.41 x
    """
    from gelvo.typesetting import typeset as work

    return work(expression, style, width, **options)


def numeric_function(expression: Any, inputs: Any) -> NumericFunction:
    """A NumPy function of arrays; results have the broadcast shape of the arguments, constants included.

    expression: an expression, text, a list of these (then a tuple comes back), or a matrix, whose rows and columns are the last two
    axes of the array that comes back; inputs: the argument names in order.

    >>> import gelvo
    >>> f = gelvo.numeric_function("3*a", ["a", "b"])
    >>> f([1, 2], 0).tolist()
    [3.0, 6.0]
    >>> gelvo.numeric_function(gelvo.matrix("[a, 1; 0, b]"), ["a", "b"])(2, 5).tolist()
    [[2.0, 1.0], [0.0, 5.0]]
    """
    from gelvo.code.numeric import numeric_function as work

    return work(expression, inputs)


def native_function(
    expression: Any,
    inputs: Any,
    given: Iterable[Any] = (),
    ranges: Mapping[Any, tuple[Any, Any]] | None = None,
    digits: str = "condition",
    parameters: Any = (),
) -> NativeFunction:
    """A compiled function of the inputs in order, for numbers or arrays: the C of `export_code`, built and loaded at once.

    expression, inputs, parameters, given, ranges, digits: as in `export_code`.
    Arrays broadcast, and long ones are divided among the processors, where all inputs are numbers; a function with a vector among its
    inputs takes one point, as integrators call it. Several outputs come back as a tuple with names. What was built is kept by its
    content. Raises ExportError without a C compiler.

    >>> import gelvo
    >>> f = gelvo.native_function("x^2 + y", ["x", "y"])
    >>> float(f(3, 1)), f([1.0, 2.0], 1).tolist()
    (10.0, [2.0, 5.0])
    """
    from gelvo.code.bundle import native_function as work

    return work(expression, inputs, given=given, ranges=ranges, digits=digits, parameters=parameters)


def export_code(
    outputs: Any,
    inputs: Any,
    language: str = "numpy",
    name: str = "formula",
    units: Mapping[str, str] | None = None,
    check: bool = True,
    given: Iterable[Any] = (),
    ranges: Mapping[Any, tuple[Any, Any]] | None = None,
    digits: str | None = None,
    parameters: Any = (),
    accepted_ulp: float = 0.0,
    also: Sequence[str] = (),
    precision: str = "double",
) -> CodeBundle:
    """Numeric code with a test of its own: a CodeBundle with .files, .digits, .write(folder) and .check().

    outputs: an expression, a list or a matrix of these, or {name: one of these}: several come back as one structure, and a
    complex one as NAME_real and NAME_imaginary; inputs: the argument
    names in order, where {"state": [names]} is a vector; parameters: names that travel as one structure (in Python as keywords);
    language: "numpy", "numba", "python", "c" (C99), "c++" (17), "fortran" (2008) or "javascript";
    units: texts for the documentation; given: facts that choose the points of the check; check: run the bundle's check now, and raise CheckFailed where it fails;
    ranges: {name: (lowest, highest)} where the code will run; digits: "full" (errors of a few ULP wherever they can be had, in another form
    where the formula as written loses digits: the default with ranges, and for one output), "condition" (as good as the condition of the
    formula allows) or "plain" (the formula as it is written); accepted_ulp: an error in units in the last place that you take where the
    check asks for less; also: derivatives beside the values, "gradient", "jacobian", "hessian" or the products with a further vector `direction`,
    "jacobian_product", "hessian_product": by the first vector of the inputs, or by all inputs that are numbers; precision: "double", or
    "single" (numpy, c, c++, fortran): numbers of 24 bits, and doubles only where digits would be lost.

    >>> import gelvo
    >>> sorted(gelvo.export_code("x^2", ["x"], "numpy", "square", check=False).files)
    ['square.py', 'test_square.py']
    """
    from gelvo.code.bundle import export_code as work

    return work(outputs, inputs, language, name, units, check, given, ranges, digits, parameters, accepted_ulp, also, precision)


def simulation_module(
    motion: Any, unknowns: Any = None, name: str = "motion", values: Mapping[Any, Any] | None = None, start: Mapping[Any, Any] | None = None,
    inputs: Sequence[Any] = (), outputs: Mapping[str, Any] | None = None, events: Mapping[str, Any] | None = None,
    units: Mapping[str, str] | None = None, given: Iterable[Any] = (),
    ranges: Mapping[Any, tuple[Any, Any]] | None = None, digits: str = "condition", check: bool = True,
) -> SimulationModule:  # fmt: skip
    """A motion as files for other programs: a SimulationModule with .files, .write(folder), .write_unit(path, version) and .check().

    motion, unknowns: equations and their unknown functions, or what `equations_of_motion` or `first_order_form` gives; values: a number
    for each parameter; start: where each state begins, {"theta": 0.3, "theta'": 0}; inputs: names that drive the motion; outputs, events:
    {name: formula} that is read off, or whose zeros are of interest; units: texts such as "m/s"; ranges: {name: (lowest, highest)} where the
    motion is (some times the values and the start, where nothing is said); given, digits, check: as in `export_code`.
    In the folder c/ stand rates, Jacobian, outputs and events with an integrator of fixed and one of adaptive steps, in python/ a module for
    SciPy; `write_unit` builds a unit of the Functional Mock-up Interface 3.0 or 2.0. Raises ExportError where a number is missing.

    >>> import gelvo
    >>> x = gelvo.unknown_function("x", "t")
    >>> swing = gelvo.simulation_module("m*x'' + k*x = 0", x, "swing", {"m": 2, "k": 8}, {"x": 1, "x'": 0}, check=False)
    >>> swing.model.rates, "c/swing_rates.c" in swing.files
    ((x_dot, -k*x/m), True)
    """
    from gelvo.simulating.module import simulation_module as work

    return work(motion, unknowns, name, values, start, inputs, outputs, events, units, given, ranges, digits, check)


def solve_numerically(
    equations: Any,
    unknowns: Any,
    start: Mapping[Any, Any] | None = None,
    values: Mapping[Any, Any] | None = None,
    span: Sequence[Any] | None = None,
    points: int = 201,
    given: Iterable[Any] = (),
    within: Mapping[Any, tuple[Any, Any]] | None = None,
    events: Mapping[str, Any] | None = None,
    watch: Mapping[str, Any] | None = None,
    stiff: bool | None = None,
) -> NumericSolution | list[NumericSolution] | Course:
    """Numbers for equations that have no formula, with their residuals.

    equations, unknowns: as for solve; start: first guesses {name: number}; values: numbers for the other letters.
    For differential equations: span = (from, to) of the variable, with the initial values in `given`; a Course comes back: arrays by
    name, .at(time), .table(), .plot(), .error (against a second tolerance). events: {name: formula}, whose zeros are found; watch:
    {name: formula} of what should stay as it is; stiff: True for the method with the exact Jacobian (None: where it is needed).
    Otherwise a NumericSolution with .residuals, .radius (a proof that there is one solution nearer than this, and no other) and
    .table(). within: a box {name: (from, to)}: a list of all solutions in it, each proved, and none missing.
    Raises NotSolved where no solution was reached, or where the proof fails.
    Methods: Powell's hybrid of Newton's method; for motions Dormand and Prince of order 8, or Radau IIA (SciPy).

    >>> import gelvo
    >>> found = gelvo.solve_numerically(["x^2 + y^2 = 4", "y = exp(x)"], ["x", "y"], start={"x": 1, "y": 1})
    >>> round(found["x"], 6), max(abs(r) for r in found.residuals.values()) < 1e-9
    (0.639263, True)
    >>> both = gelvo.solve_numerically(["x^2 + y^2 = 4", "y = exp(x)"], ["x", "y"], within={"x": (-3, 3), "y": (-3, 3)})
    >>> [round(s["x"], 3) for s in both]
    [-1.995, 0.639]
    >>> swing = gelvo.solve_numerically("theta'' + 4*sin(theta) = 0", "theta(t)", span=(0, 6), given=["theta(0) = 2", "theta'(0) = 0"])
    >>> round(swing.at(1.5)["theta"], 6), swing.error["theta"] < 1e-6
    (-1.061178, True)
    """
    if span is None:
        found: NumericSolution | list[NumericSolution] = _numeric_solution(equations, unknowns, start, values, given, within)
        return found
    from gelvo.simulating.course import followed

    return followed(equations, unknowns, span, values or {}, points, given, events or {}, watch or {}, stiff)


def plot(expressions: Any, variable: Any, lower: Any, upper: Any, **options: Any) -> Figure:
    """A figure of one or several formulas over a range: a matplotlib Figure.

    options: values {name: number}, units {label: text} ("deg" turns radians), labels [text], title, x_scale and y_scale
    ("linear", "log"), panels ("by unit", "each"), data (x values, y values, label) as points, impulses {place: strength}.
    Curves are cut at jumps, never joined across them.

    >>> import gelvo
    >>> figure = gelvo.plot(["exp(-t/tau)", "t*exp(-t)"], "t", 0, 5, values={"tau": 2}, labels=["charge", "flow"])
    >>> [len(axis.lines) for axis in figure.axes]
    [2]
    """
    from gelvo.figures.plotting import plot as work

    return work(expressions, variable, lower, upper, **options)


def plot_path(components: Sequence[Any], variable: Any, lower: Any, upper: Any, **options: Any) -> Figure:
    """A figure of a path with two or three components; options: values, labels (axis names), title.

    >>> import gelvo
    >>> figure = gelvo.plot_path(["cos(t)", "sin(2*t)"], "t", 0, "2*pi", labels=["x", "y"])
    >>> [axis.get_xlabel() for axis in figure.axes]
    ['$x$']
    """
    from gelvo.figures.plotting import plot_path as work

    return work(components, variable, lower, upper, **options)


def plot_region(ranges: Mapping[Any, Any], **options: Any) -> Figure:
    """A figure of a region of the plane with the order in which it is integrated: strips along the first variable.

    ranges: {first: (lower, upper), second: (lower, upper)}, as in integrate_over; options: values {name: number}, coordinates
    ("cartesian", "polar"), title. Raises DomainError for other than two variables, endless ranges, and letters without numbers.

    >>> import gelvo
    >>> figure = gelvo.plot_region({"y": (0, "b*x"), "x": (0, 1)}, values={"b": 2})
    >>> figure.axes[0].get_title(loc="left")
    'first along y (the strips), then along x'
    """
    from gelvo.figures.region import plot_region as work

    return work(ranges, **options)


def animate(expressions: Any, variable: Any, lower: Any, upper: Any, sliders: Mapping[Any, Any], **options: Any) -> Animation:
    """Curves (or with path=True one path) with one or two sliders: an Animation with .html(), .gif() and .write(path).

    sliders: {name: (from, to)} or {name: (from, to, steps)}; options: values, labels, title, path.

    >>> import gelvo
    >>> moving = gelvo.animate("sin(k*x)", "x", 0, 6, {"k": (1, 3, 5)})
    >>> moving.html().startswith("<!doctype html>")
    True
    """
    from gelvo.figures.animation import animate as work

    return work(expressions, variable, lower, upper, sliders, **options)


def _show(thing: object) -> dict[str, str]:
    from gelvo.typesetting import mimebundle

    return mimebundle(thing)


_Hooks.show = staticmethod(_show)

# matrices are taken entry by entry by what works on one formula; no error but one of ours leaves any operation
for _word in (*_methods.ENTRY_BY_ENTRY, *_methods.ON_ENTRIES):
    globals()[_word] = entrywise(globals()[_word])
for _word, _thing in list(globals().items()):
    if not _word.startswith("_") and _isfunction(_thing) and _word not in _FUNCTIONS:
        globals()[_word] = _told(_thing)
        globals()[_word].__module__ = "gelvo"  # where it is found again, by a process that it is sent to
