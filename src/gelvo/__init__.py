"""Gelvo: formulas entered, simplified, differentiated, integrated and solved exactly, with verified results.

The names below are loaded when the first of them is used, so that importing the package costs next to nothing.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from gelvo.version import VERSION as __version__

if TYPE_CHECKING:
    from gelvo.library import *  # noqa: F403

__all__ = [
    "CheckFailed", "DomainError", "ExportError", "FormulaError", "GelvoError", "NoClosedForm", "NotSolved",
    "TimeLimitReached", "Undecided", "absolute", "acos", "acosh", "acot", "acoth", "acsc", "acsch", "arg", "asec", "asech", "asin", "asinh",
    "atan", "atan2", "atanh", "binomial", "cases", "catalan", "cbrt", "ceil", "check", "coefficients", "collect",
    "common_denominator", "conj", "cos", "cosh", "cot", "coth", "csc", "csch", "decimal", "denominator", "derivative_of",
    "differentiate", "digamma", "equal", "equation", "erf", "erfc", "euler_gamma", "exp", "expand", "export_code", "factor",
    "factorial", "floor", "formula", "gamma", "heaviside", "im", "inf", "integral_of", "integrate", "is_known", "limit_of",
    "ln", "log10", "log2", "loggamma", "maximum", "minimum", "multiply_all", "numerator", "numeric_function", "pi", "plot",
    "positive_variables", "product_of", "re", "rename", "sec", "sech", "sign", "simplify", "sin", "sinh", "solve", "sqrt",
    "substitute", "sum_of", "tan", "tanh", "time_limit", "total", "typeset", "undefined", "unknown_function", "value", "variable",
    "variables",
]  # fmt: skip


def __getattr__(name: str) -> Any:
    if name not in __all__:
        raise AttributeError(f"gelvo has no {name}")
    from gelvo import library

    value = globals()[name] = getattr(library, name)
    return value


def __dir__() -> list[str]:
    return [*__all__, "__version__"]
