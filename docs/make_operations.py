"""Writes docs/operations.md from the docstrings of the public functions."""

from __future__ import annotations

import inspect
from pathlib import Path

import gelvo

GROUPS = {
    "Build": "variable variables positive_variables unknown_function formula equation decimal total multiply_all cases integral_of "
    "derivative_of limit_of sum_of product_of root_of",
    "Rewrite": "simplify expand combine factor collect common_denominator partial_fractions complete_square express amplitude_phase "
    "rationalize_denominator",
    "Replace": "substitute rename abbreviate",
    "Parts": "numerator denominator coefficients degree leading_coefficient divide gcd lcm resultant discriminant",
    "Exact roots": "polynomial_root minimal_polynomial",
    "Calculus": "differentiate differentiate_implicitly integrate by_parts split_integral change_variable recurrence differentiate_under carry_out limit series series_implicitly fourier_series orthogonal_series add_up multiply_up "
    "difference_quotient gradient hessian jacobian divergence curl laplacian",
    "Transforms": "laplace inverse_laplace fourier inverse_fourier mellin hankel hilbert convolution z_transform inverse_z_transform",
    "Equations": "solve series_solution eigenmodes separate_variables roots_between solve_numerically",
    "Matrices": "matrix column from_columns from_function identity diagonal random_matrix",
    "Mechanics, networks, motion": "equations_of_motion first_order_form linearize state_space transfer_function join_sections jumps",
    "Tensors and elements": "rotation rotated invariants principal_values shape_functions element_matrix element_vector assemble restrained",
    "Data": "read_table interpolate difference_samples integrate_samples",
    "Numbers, trust and limits": "value numeric_function native_function check equal is_known time_limit writing set_writing",
    "Leave": "typeset export_code plot plot_path animate",
}


def page() -> str:
    lines = [
        "# The operations",
        "",
        "Made from the docstrings by `docs/make_operations.py`. Every operation takes text where it takes an",
        "expression, and a variable by name.",
        "",
    ]
    for title, names in GROUPS.items():
        lines += [f"## {title}", ""]
        for name in names.split():
            function = getattr(gelvo, name)
            text = inspect.cleandoc(function.__doc__ or "")
            body, _, example = text.partition(">>> ")
            shape = str(inspect.signature(function)).replace("'", "")
            lines += [f"### `{name}`", "", f"`{name}{shape}`", "", body.strip()]
            if example:
                lines += ["", "```", f">>> {example}".replace(">>> import gelvo\n", ""), "```"]
            lines.append("")
    return "\n".join(lines)


if __name__ == "__main__":
    Path(__file__).with_name("operations.md").write_text(page(), encoding="utf-8")
