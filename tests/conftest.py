"""Settings for all tests: deterministic property tests, and the tests' own folder on the path."""

import gc
import sys
from collections import Counter
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

sys.path.insert(0, str(Path(__file__).parent))

import gelvo.library  # noqa: F401  (the rooms of the engine that tests enter alone find the rest put together)
from gelvo.refuted import REFUTED
from parts import PARTS, PROFILE, WHOLE

settings.register_profile("steady", deadline=None, derandomize=True, suppress_health_check=list(HealthCheck), max_examples=60)
settings.register_profile("hunt", parent=settings.get_profile("steady"), derandomize=False, max_examples=600)
settings.load_profile(PROFILE)


def pytest_collection_finish():
    """What is collected stays to the end: nothing of it is looked at again for garbage."""
    gc.collect()
    gc.freeze()


def pytest_collection_modifyitems(config, items):
    """Of the long tables every few rows are taken (`parts.py`), and all of them for the hunt, or where a row is named."""
    if WHOLE or any("[" in asked for asked in config.args):
        return
    seen = Counter()
    kept, left = [], []
    for item in items:
        table = item.nodeid.partition("[")[0].removeprefix("tests/")
        (left if seen[table] % PARTS.get(table, 1) else kept).append(item)
        seen[table] += 1
    items[:] = kept
    config.hook.pytest_deselected(items=left)


@pytest.fixture(autouse=True)
def no_silent_faults():
    """A result that a cross-check refuted is a defect, even where the user was spared it."""
    yield
    found = list(REFUTED)
    REFUTED.clear()
    assert not found, found
