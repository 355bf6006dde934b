"""Walks through a formula, and its rows in storage: nothing is built from damaged ones."""

from __future__ import annotations

import json

import pytest

import gelvo
from gelvo.expression.storing import load, store
from gelvo.expression.traversal import contains, dependents, distinct_nodes, free_names, fresh_name, names, postorder, rebuild

x, y = gelvo.variables("x", "y")


def test_walks_through_a_formula():
    e = gelvo.formula("sin(x + y)*a + integral_of(x*b, x, 0, a)")
    assert [n.name for n in names(e)] == ["a", "b", "x", "y"]
    assert [n.name for n in free_names(gelvo.formula("integral_of(x*b, x, 0, a)"))] == ["a", "b"]
    assert contains(e, gelvo.formula("x + y")) and not contains(e, gelvo.formula("x - y"))
    assert free_names(gelvo.formula("sum_of(k, k, 1, 3)")) == []
    order = postorder(e)
    assert len(order) == distinct_nodes(e) == len(set(order))
    for node in order:
        if node.children:
            assert rebuild(node, node.children) is node
    assert gelvo.sin(x + y) in dependents(e, y)
    assert fresh_name("x", e).name == "x_1" and fresh_name("z", e).name == "z"


@pytest.mark.parametrize(
    "text",
    [
        "x",
        "3/4",
        "1 + 2j",
        "pi*x",
        "inf",
        "sin(x)^2/y",
        "cases(x when x > 0 and y < 1, otherwise undefined)",
        "x = y",
        "integral_of(x^2, x, 0, inf)",
        "x > 0 or y != 2",
        "exp(-x)*ln(y)",
        "theta_1'(t)",
        "(-1)^(1/3)",
    ],
)
def test_storing_and_loading_go_through_the_builder(text):
    e = gelvo.formula(text)
    e = e.left - e.right if hasattr(e, "conditions") and hasattr(e, "difference") else e
    rows = store(e)
    assert load(rows) is e
    assert load(json.loads(json.dumps(rows))) is e


@pytest.mark.parametrize(
    "rows",
    [
        [],
        [("name", "x; import os", "real")],
        [("name", "x", "purple")],
        [("power", 0, 1)],
        [("call", "system", 0)],
        [("number", "1/0")],
        [("sum", "1", ["1"], 5)],
        [("what", 1)],
        [("constant", "tau")],
        [("relation", "~", 0, 0)],
        "text",
        [("power",)],
        [("truth", True), ("product", "2", 0)],
        [("name", "x", "real"), ("relation", "<=", 0, 0), ("power", 1, 0)],
        [("name", "x", "real"), ("junction", "and", 0, 0)],
        [("name", "x", "real"), ("cases", 2, 0, 0, 0)],
        [("name", "x", "real"), ("call", "system", 0)],
        7,
    ],
)
def test_damaged_data_is_refused(rows):
    with pytest.raises(gelvo.GelvoError):
        load(rows)
