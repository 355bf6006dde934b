"""Every public name says in a docstring what it is, with an example that runs."""

from __future__ import annotations

import doctest
import inspect

import pytest

import gelvo

RUNNER_FLAGS = doctest.ELLIPSIS | doctest.NORMALIZE_WHITESPACE


@pytest.mark.parametrize("name", gelvo.__all__)
def test_a_public_name_has_an_example_that_runs(name):
    documentation = inspect.getdoc(getattr(gelvo, name)) or ""
    example = doctest.DocTestParser().get_doctest(documentation, {}, name, None, 0)
    assert example.examples, f"{name} has no example"
    told = []
    outcome = doctest.DocTestRunner(optionflags=RUNNER_FLAGS).run(example, out=told.append)
    assert not outcome.failed, "".join(told)
