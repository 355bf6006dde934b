"""A part of the fuzzing that `make fuzz` does in full."""

import pytest

from fuzz import run


@pytest.mark.parametrize(
    ("kind", "count", "least"), [("formula", 4000, 300), ("statement", 250, 30), ("table", 150, 10), ("file", 12, 0)]
)
def test_random_text_ends_in_a_result_or_a_clear_error(kind, count, least):
    good, refused, neither = run(kind, count, seed="daily")
    assert neither == []
    assert good >= least and good + refused == count and refused > count / 10
