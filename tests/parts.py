"""What `make test` takes of the long tables: every so many rows, spread evenly; `make hunt` takes them all.

A step has no factor in common with the length of an inner list (languages, seeds), so that each of its entries is met.
"""

from __future__ import annotations

import os
from pathlib import Path

PROFILE = os.environ.get("GELVO_PROPERTY_TESTS", "steady")
WHOLE = PROFILE == "hunt"


def examples(ending):
    """The example files of one kind; a problem that is told both as a script and as a derivation is run in one of them in turn."""
    folder = Path(__file__).parents[1] / "examples"
    files = sorted(folder.glob(f"*.{ending}"))
    twice = sorted({p.stem for p in folder.glob("*.py")} & {p.stem for p in folder.glob("*.gelvo")})
    elsewhere = twice[ending == "gelvo" :: 2]
    return [p for p in files if WHOLE or p.stem not in elsewhere]


PARTS = {
    "calculus/test_antiderivative_table.py::test_antiderivatives_are_found_and_right": 6,
    "calculus/test_antiderivative_table.py::test_definite_integrals": 6,
    "calculus/test_antiderivative_tasks.py::test_antiderivatives_are_found_proved_and_right": 4,
    "calculus/test_definite_tasks.py::test_definite_integrals_are_found_and_right": 4,
    "calculus/test_definite_table.py::test_values_agree_with_a_quadrature": 4,
    "calculus/test_integral_table.py::test_antiderivatives_are_found_and_proved": 6,
    "calculus/test_integrate.py::test_antiderivatives": 2,
    "calculus/test_integrate.py::test_definite_integrals": 2,
    "calculus/test_integrate.py::test_sample_antiderivatives_are_never_wrong": 5,
    "calculus/test_integrate.py::test_sample_definite_integrals_are_never_wrong": 3,
    "calculus/test_limits_table.py::test_limits_have_their_values": 3,
    "calculus/test_mellin_pairs.py::test_a_pair_is_the_integral": 3,
    "calculus/test_mellin_pairs.py::test_integrals_from_zero_on": 3,
    "calculus/test_more_limits_and_integrals.py::test_definite_integrals": 7,
    "calculus/test_more_limits_and_integrals.py::test_limits": 3,
    "calculus/test_table_of_integrals.py::test_the_antiderivative_has_the_integrand_as_slope": 8,
    "calculus/test_sums_table.py::test_finite_sums": 2,
    "calculus/test_sums_table.py::test_infinite_sums": 3,
    "calculus/test_sums_table.py::test_series_say_where_they_converge": 3,
    "calculus/test_transforms_table.py::test_fourier_pairs": 5,
    "calculus/test_transforms_table.py::test_inverse_laplace_pairs": 3,
    "calculus/test_transforms_table.py::test_laplace_pairs": 3,
    "calculus/test_transforms_table.py::test_there_and_back_again": 7,
    "calculus/test_traps.py::test_no_trap_leads_to_a_wrong_answer": 5,
    "calculus/test_wide_ranges.py::test_no_jump_of_an_antiderivative_is_overlooked": 6,
    "calculus/test_wide_ranges.py::test_the_proof_that_there_is_no_elementary_form_is_checked": 3,
    "code/test_code.py::test_exported_code_proves_its_accuracy": 7,
    "code/test_code.py::test_names_of_the_user_never_clash": 2,
    "code/test_fortran.py::test_fortran_has_the_right_values": 5,
    "code/test_digits.py::test_code_keeps_the_digits_of_formulas_that_lose_them": 3,
    "code/test_names_and_shapes.py::test_a_formula_whose_digits_are_lost_is_refused_as_it_is_and_kept_in_another_form": 7,
    "code/test_names_and_shapes.py::test_chains_of_a_thousand_functions_build": 3,
    "code/test_names_and_shapes.py::test_every_reserved_word_may_be_an_input": 3,
    "code/test_names_and_shapes.py::test_every_reserved_word_may_name_a_derivation": 3,
    "code/test_names_and_shapes.py::test_formulas_beyond_what_fortran_lets_go_on_build_too": 2,
    "code/test_names_and_shapes.py::test_long_and_deep_formulas_build_and_are_right": 4,
    "code/test_names_and_shapes.py::test_names_are_short_enough_and_apart": 4,
    "code/test_names_and_shapes.py::test_right_formulas_pass_the_check": 4,
    "code/test_names_and_shapes.py::test_what_the_test_calls_its_own_is_no_clash": 7,
    "code/test_names_and_shapes.py::test_without_a_sample_point_nothing_is_claimed": 4,
    "deciding/test_exact_numbers.py::test_numbers_that_are_almost_zero_are_told_apart": 4,
    "deciding/test_identity_table.py::test_identities_are_proved": 3,
    "deciding/test_identity_table.py::test_near_identities_are_refuted": 3,
    "derivation/test_derivation.py::test_example_derivations_run_and_hold": 2,
    "differential/test_differential_conditions.py::test_solutions_with_their_conditions": 4,
    "differential/test_differential_table.py::test_one_equation": 3,
    "inequalities/test_inequality_table.py::test_inequalities": 2,
    "inequalities/test_inequality_table.py::test_transcendental_equations": 3,
    "inequalities/test_inequality_table.py::test_zeros_of_special_functions_are_right_to_all_thirty_digits": 4,
    "inequalities/test_inequality_table.py::test_zeros_that_cannot_be_counted_are_refused": 3,
    "facts/test_facts_against_numbers.py::test_what_is_known_holds_at_every_point_that_the_facts_allow": 6,
    "functions/test_catalogue.py::test_bounds_have_their_lower_end_below_the_upper": 4,
    "functions/test_catalogue.py::test_code_of_an_added_function_is_right_also_where_its_formula_has_no_value": 3,
    "functions/test_catalogue.py::test_limits_at_infinity": 3,
    "functions/test_catalogue.py::test_the_zeros_of_the_records_are_all_that_an_independent_library_has": 7,
    "operations/test_every_mixture.py::test_a_domain_stated_as_a_fact_is_the_domain_declared": 7,
    "operations/test_every_mixture.py::test_facts_are_the_same_as_text_and_as_objects": 5,
    "operations/test_every_mixture.py::test_one_answer_in_every_mixture": 7,
    "operations/test_targeted_properties.py::test_amplitudes_and_phases": 4,
    "operations/test_targeted_properties.py::test_renaming_in_order_commutes_with_simplify": 5,
    "operations/test_targeted_properties.py::test_values_are_kept": 13,
    "operations/test_targeted_properties.py::test_without_facts_nothing_is_assumed": 5,
    "operations/test_wrong_kinds.py::test_wrong_arguments_are_told": 9,
    "polynomial/test_engine.py::test_common_factors_of_large_polynomials": 3,
    "polynomial/test_polynomials.py::test_sample_polynomials": 3,
    "polynomial/test_tasks.py::test_expanded_products": 4,
    "polynomial/test_tasks.py::test_real_roots": 3,
    "reading/test_fuzz.py::test_random_text_ends_in_a_result_or_a_clear_error": 4,
    "safety/test_files.py::test_a_full_disk_leaves_nothing_behind_and_is_told": 3,
    "safety/test_files.py::test_a_terminal_without_a_letter_shows_formula_text": 3,
    "safety/test_injections.py::test_a_derivation_file_runs_no_code_of_its_own": 2,
    "safety/test_injections.py::test_hostile_words_still_build_and_pass": 3,
    "safety/test_injections.py::test_no_payload_steers_the_terminal": 4,
    "safety/test_injections.py::test_no_text_reaches_generated_code": 9,
    "safety/test_sizes_and_times.py::test_a_limit_of_time_holds": 7,
    "safety/test_sizes_and_times.py::test_no_size_ends_the_process": 4,
    "simplifying/test_families.py::test_simplify_keeps_values_and_its_promises": 4,
    "simplifying/test_rewriting.py::test_simplify_gives_the_short_form": 2,
    "simplifying/test_simplify_gives.py::test_simplify_gives": 3,
    "solving/test_equation_table.py::test_solutions_satisfy_and_none_is_missing": 6,
    "solving/test_over_complex.py::test_all_roots_of_a_value": 4,
    "solving/test_physics_formulas.py::test_each_symbol_is_isolated": 3,
    "solving/test_rearranging.py::test_rearranged_formulas_are_proved": 3,
    "solving/test_solutions_with_conditions.py::test_solutions_with_their_conditions": 5,
    "test_held_against_numbers.py::test_areas_agree_with_quadrature": 7,
    "test_held_against_numbers.py::test_expansions_agree_with_numeric_derivatives": 3,
    "test_held_against_numbers.py::test_fourier_transforms_agree_with_their_integral": 3,
    "test_held_against_numbers.py::test_integrals_without_ends_have_the_integrand_as_slope": 4,
    "test_held_against_numbers.py::test_laplace_transforms_agree_with_their_integral": 4,
    "test_held_against_numbers.py::test_roots_put_back_into_the_text_and_none_is_missing": 4,
    "test_held_against_numbers.py::test_sums_without_end_agree_with_numeric_ones": 4,
    "test_hunt.py::test_random_questions_held_against_numbers": 2,
    "test_hunt.py::test_what_the_hunt_found_stays_mended": 7,
    "test_hunt_new_rooms.py::test_laplace_pairs_go_there_and_back": 3,
    "test_hunt_new_rooms.py::test_linear_differential_equations_with_random_coefficients": 3,
    "test_hunt_new_rooms.py::test_matrix_exponentials_agree_with_floating_point": 3,
    "test_hunt_new_rooms.py::test_rational_functions_of_waves_agree_with_quadrature": 7,
    "test_hunt_new_rooms.py::test_rational_integrals_agree_with_quadrature": 4,
    "test_sample_cases.py::test_simplify_is_never_wrong": 3,
    "test_sample_tasks.py::test_no_task_has_a_wrong_answer": 5,
    "test_sample_tasks.py::test_the_first_levels_are_solved": 4,
    "test_values_under_facts.py::test_simplify_keeps_values_inside_the_facts": 7,
    "test_differential_tasks.py::test_solutions_satisfy_the_equation": 3,
    "differential/test_systems.py::test_solutions_satisfy_the_system": 2,
}
