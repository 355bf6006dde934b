"""Every public name says in a docstring what it is, with an example that runs."""

from __future__ import annotations

import doctest
import inspect
from pathlib import Path

import pytest

import gelvo

RUN_WITH_THEIR_MODULE = {str(path) for path in Path(gelvo.__file__).parent.rglob("*.py")}  # by the doctests of the package
RUNNER_FLAGS = doctest.ELLIPSIS | doctest.NORMALIZE_WHITESPACE


@pytest.mark.parametrize("name", gelvo.__all__)
def test_a_public_name_has_an_example_that_runs(name):
    documentation = inspect.getdoc(getattr(gelvo, name)) or ""
    example = doctest.DocTestParser().get_doctest(documentation, {}, name, None, 0)
    assert example.examples, f"{name} has no example"
    if inspect.isfunction(getattr(gelvo, name)) and inspect.getmodule(getattr(gelvo, name)).__file__ in RUN_WITH_THEIR_MODULE:
        return
    told = []
    outcome = doctest.DocTestRunner(optionflags=RUNNER_FLAGS).run(example, out=told.append)
    assert not outcome.failed, "".join(told)
