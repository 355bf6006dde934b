"""A part of the fuzzing that `make fuzz` does in full."""

from fuzz_reader import run


def test_random_text_ends_in_a_formula_or_a_formula_error():
    good, refused = run(5000, seed=20)
    assert good > 300
    assert refused > 1000
