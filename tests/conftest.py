"""Settings for all tests: deterministic property tests, and the tests' own folder on the path."""

import os
import sys
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

from gelvo.refuted import REFUTED

sys.path.insert(0, str(Path(__file__).parent))
settings.register_profile("steady", deadline=None, derandomize=True, suppress_health_check=list(HealthCheck), max_examples=60)
settings.register_profile("hunt", parent=settings.get_profile("steady"), derandomize=False, max_examples=600)
settings.load_profile(os.environ.get("GELVO_PROPERTY_TESTS", "steady"))


@pytest.fixture(autouse=True)
def no_silent_faults():
    """A result that a cross-check refuted is a defect, even where the user was spared it."""
    yield
    found = list(REFUTED)
    REFUTED.clear()
    assert not found, found
