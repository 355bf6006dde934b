"""Settings for all tests: deterministic property tests, and the tests' own folder on the path."""

import os
import sys
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

sys.path.insert(0, str(Path(__file__).parent))
settings.register_profile("steady", deadline=None, derandomize=True, suppress_health_check=list(HealthCheck), max_examples=60)
settings.register_profile("hunt", parent=settings.get_profile("steady"), derandomize=False, max_examples=600)
settings.load_profile(os.environ.get("GELVO_PROPERTY_TESTS", "steady"))


@pytest.fixture(autouse=True)
def no_silent_faults():
    """A result that a cross-check refuted is a defect, even where the user was spared it."""
    from gelvo.calculus import definite
    from gelvo.calculus.antiderivative import search
    from gelvo.operations import calculus as operations
    from gelvo.operations import series
    from gelvo.simplifying import search as simplification

    yield
    logs = (simplification.FAULTS, definite.FAULTS, search.FAULTS, series.FAULTS, operations.FAULTS)
    found = [entry for log in logs for entry in log]
    for log in logs:
        log.clear()
    assert not found, found
