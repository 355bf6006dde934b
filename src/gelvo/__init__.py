"""Gelvo: formulas entered, simplified, differentiated, integrated and solved exactly, with verified results.

The names below are loaded when the first of them is used, so that importing the package costs next to nothing.
"""

from __future__ import annotations

from functools import cache
from types import ModuleType
from typing import TYPE_CHECKING

from gelvo.loading import to_stay
from gelvo.version import VERSION as __version__

if TYPE_CHECKING:
    from gelvo.library import *  # noqa: F403

__all__ = [
    "CheckFailed", "Chi", "Ci", "DomainError", "Ei", "ExportError", "FormulaError", "GelvoError", "Matrix", "NoClosedForm",
    "NotSolved", "Shi", "Si", "Table", "TimeLimitReached", "Undecided", "abbreviate", "absolute", "acos", "acosh", "acot",
    "acoth", "acsc", "acsch", "add_up", "airyai", "airyai_prime", "airybi", "airybi_prime", "amplitude_phase", "animate", "arg",
    "asec", "asech", "asin", "asinh", "assemble", "atan", "atan2", "atanh", "besseli", "besselj", "besselk", "bessely", "beta",
    "beta_inc", "binomial", "block_diagonal", "block_matrix", "by_parts", "carry_out", "cases", "catalan", "cbrt", "ceil",
    "change_variable", "chebyt", "chebyu", "check", "coefficients", "collect", "column", "combine", "common_denominator",
    "common_eigenvectors", "complete_square", "conj", "convolution", "cos", "cosh", "cot", "coth", "csc", "csch", "curl",
    "decimal", "degree", "denominator", "derivative_of", "diagonal", "difference_quotient", "difference_samples", "differentiate",
    "differentiate_implicitly", "differentiate_under", "digamma", "dirac_delta", "discriminant", "divergence", "divide",
    "eigenmodes", "element_matrix", "element_vector", "ellipe", "ellipeinc", "ellipf", "ellipk", "ellippi", "ellippiinc", "equal",
    "equation", "equations_of_motion", "erf", "erfc", "erfi", "euler_gamma", "euler_rotation", "exp", "expand", "export_code",
    "express", "factor", "factorial", "first_order_form", "floor", "flux", "formula", "fourier", "fourier_series", "fresnelc",
    "fresnels", "from_columns", "from_function", "gamma", "gamma_inc", "gcd", "gradient", "gram_schmidt", "hankel", "heaviside",
    "hermite", "hessian", "hilbert", "hyp0f1", "hyp1f1", "hyp2f1", "identity", "im", "inf", "integral_of", "integrate",
    "integrate_over", "integrate_samples", "interpolate", "invariants", "inverse_fourier", "inverse_laplace",
    "inverse_z_transform", "is_known", "jacobiam", "jacobian", "jacobicn", "jacobidn", "jacobisn", "join_sections", "jumps",
    "laguerre", "lambertw", "lambertw_lower", "laplace", "laplacian", "lcm", "leading_coefficient", "legendre", "li", "limit",
    "limit_of", "line_integral", "linearize", "ln", "log10", "log2", "loggamma", "matrix", "maximum", "mellin",
    "minimal_polynomial", "minimum", "multiply_all", "multiply_up", "native_function", "normal_modes", "numerator",
    "numeric_function", "orthogonal_series", "partial_fractions", "pi", "plot", "plot_path", "plot_region", "polygamma",
    "polylog", "polynomial_root", "positive_variables", "principal_values", "product_of", "random_matrix",
    "rationalize_denominator", "re", "read_table", "recurrence", "rename", "restrained", "resultant", "root_of", "roots_between",
    "rotated", "rotation", "sec", "sech", "separate_variables", "series", "series_implicitly", "series_solution", "set_writing",
    "shape_functions", "sign", "simplify", "simulation_module", "sin", "sinh", "sinhc", "solve", "solve_numerically",
    "sphericalj", "sphericaly", "split_integral", "sqrt", "state_space", "struveh", "struvel", "substitute", "sum_of", "tan",
    "tanh", "time_limit", "total", "transfer_function", "typeset", "undefined", "unknown_function", "value", "variable",
    "variables", "writing", "z_transform", "zeta",
]  # fmt: skip


def __getattr__(name: str) -> object:
    if name not in __all__:
        raise AttributeError(f"gelvo has no {name}")
    value = globals()[name] = getattr(_library(), name)
    return value


@cache
def _library() -> ModuleType:
    with to_stay():
        from gelvo import library
    return library


def __dir__() -> list[str]:
    return [*__all__, "__version__"]
