"""Arguments of every wrong kind in every place of every operation: a GelvoError that is no internal fault, never a raw one."""

from __future__ import annotations

from typing import Any

import pytest
from test_every_mixture import LETTERS, TABLE, put, texts_in

import gelvo

WRONG: list[Any] = [
    None, 3, "", "(", "x = 1", "x > 0", [], {}, object(), True, 1.5, float("nan"), float("inf"), 1 / 3, "x''", "π", b"x", "sin", "x y", 10**400, 1j,
    "inf", "undefined", set(), range(3), "[1, 2]", "x, y", gelvo.formula("x = 1"), gelvo.formula("x > 0"), gelvo.matrix([[1, 2], [3, 4]]),
    gelvo.unknown_function("u", "t"), gelvo.solve("x^2 = 1", "x"), gelvo.integrate("x^n", "x"), gelvo.check("x = x"), gelvo.inf,
]  # fmt: skip


def variants(arguments: list[Any], thing: Any) -> list[list[Any]]:
    """The arguments with one of them, or the first part of one, replaced."""
    found = []
    for place, argument in enumerate(arguments):
        found.append([*arguments[:place], thing, *arguments[place + 1 :]])
        if isinstance(argument, list):
            found.append([*arguments[:place], [thing, *argument[1:]], *arguments[place + 1 :]])
        elif isinstance(argument, dict):
            found.append([*arguments[:place], dict.fromkeys(argument, thing), *arguments[place + 1 :]])
    return found


@pytest.mark.parametrize("case", TABLE, ids=lambda c: f"{c['call']}-{TABLE.index(c)}")
def test_wrong_arguments_are_told(case: dict[str, Any]) -> None:
    names = [gelvo.variable(n) for n in LETTERS] + [gelvo.unknown_function("q", gelvo.variable("t"))]
    objects = [gelvo.formula(t.removeprefix("~"), names_from=names) for t in texts_in(case["arguments"])]
    arguments = put(case["arguments"], iter(objects))
    for thing in WRONG[::4] if case["call"] == "export_code" else WRONG:  # what is taken is built and run
        for tried in variants(arguments, thing):
            try:
                with gelvo.time_limit(1):
                    getattr(gelvo, case["call"])(*tried)
            except gelvo.GelvoError as fault:
                assert "internal fault" not in str(fault), (case["call"], repr(thing)[:60], str(fault))


@pytest.mark.parametrize(
    ("call", "said"),
    [
        (lambda: gelvo.curl(3, ["x", "y", "z"]), "curl: field is a list, not 3"),
        (lambda: gelvo.gradient("x", None), "gradient: variables is a list, not None"),
        (lambda: gelvo.check("x = 1", where=[1]), r"check: where is a mapping"),
        (lambda: gelvo.substitute("x", "y"), "substitute: replacements is a mapping"),
        (lambda: gelvo.value("pi", "many"), "value: digits is a whole number, not 'many'"),
        (lambda: gelvo.formula(3), "a formula is text, not int"),
        (lambda: gelvo.simplify("x", given=[3]), "a fact is a condition"),
        (lambda: gelvo.simplify(True), "True and False are not numbers"),
        (lambda: bool(gelvo.formula("x > 0")), "not a Python truth value"),
        (lambda: gelvo.variable("x") + "y", r"text, and Python operators take formulas: write formula\(\"y\"\)"),
        (lambda: "2" * gelvo.variable("x"), "is text, and Python operators"),
        (lambda: gelvo.variable("x") ** None, "None cannot stand in a formula"),
        (lambda: gelvo.variable("x") < "y", "is text, and Python operators"),
        (lambda: gelvo.variable("x") / [1], "cannot stand in a formula"),
        (lambda: int(gelvo.pi), "pi is not an integer"),
    ],
)
def test_a_wrong_kind_is_told_in_a_sentence(call: Any, said: str) -> None:
    with pytest.raises(gelvo.GelvoError, match=said):
        call()


def test_what_a_callers_own_function_raises_is_left_alone() -> None:
    with pytest.raises(ZeroDivisionError):
        gelvo.collect("a*x + x", "x", apply=lambda c: 1 // 0)
    with pytest.raises(TypeError, match="missing"):
        gelvo.differentiate()


def test_numpy_arrays_stand_on_both_sides() -> None:
    import numpy

    x, numbers = gelvo.variable("x"), numpy.array([1.0, 2.0])
    pairs = [(numbers * x, x * numbers), (numbers + x, x + numbers), (numbers - x, [1 - x, 2 - x]), (numbers / x, [1 / x, 2 / x])]
    assert all(list(a) == list(b) for a, b in pairs) and list(numbers**x) == [1, 2**x] and numpy.float64(2) * x is 2 * x
