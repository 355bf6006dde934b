"""Every public operation with every mixture of text and objects, domains and facts: one answer, or one clear error."""

from __future__ import annotations

import inspect
import itertools
import json
import re
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest

import gelvo

TABLE = [json.loads(row) for row in (Path(__file__).parents[1] / "data" / "mixtures.jsonl").read_text().splitlines()]
FUNCTIONS: dict[str, Callable[..., Any]] = {"!product": lambda a, b: a * b, "!square": lambda a: a * a}
LETTERS = ("k", "x", "m", "w", "h", "t", "s", "u", "V_i", "V_o", "I")
# a name alone is meant by these parameters: a call that has one has to hear of it before it reads text
NEEDS_NAMES = {
    "variable",
    "variables",
    "index",
    "unknowns",
    "target",
    "function",
    "inputs",
    "coordinates",
    "names_from",
    "source",
}
NO_FORMULAS = {"read_table", "random_matrix", "identity", "variable", "variables", "positive_variables", "unknown_function",
               "time_limit", "writing", "set_writing", "decimal", "difference_samples", "integrate_samples", "interpolate", "from_function", "native_function",
               "simulation_module"}  # fmt: skip
OF_OBJECTS = {
    "assemble",
    "block_diagonal",
    "block_matrix",
    "common_eigenvectors",
    "gram_schmidt",
    "invariants",
    "normal_modes",
    "principal_values",
    "restrained",
    "rotated",
    "state_space",
    "formula",
}  # no text among them
OF_UNKNOWNS = {"eigenmodes", "separate_variables", "series_solution"}  # unknown functions in text: tests/differential
DRAWN = {"plot", "plot_path", "animate"}  # told apart below, by their curves


def texts_in(thing: Any) -> Iterator[str]:
    """Every text argument in order; words (with a quote) and functions (with !) are none."""
    if isinstance(thing, str):
        if thing[0] not in "'!":
            yield thing
    elif isinstance(thing, list):
        for part in thing:
            yield from texts_in(part)
    elif isinstance(thing, dict):
        for key, part in thing.items():
            yield from texts_in(key)
            yield from texts_in(part)


def letters_of(texts: list[str]) -> set[str]:
    """Those of the declared names that stand in texts."""
    return {"k", "x", "q"} & {word for t in texts for word in re.findall(r"[^\W\d]\w*", t)}


def put(thing: Any, chosen: Iterator[Any]) -> Any:
    """The arguments with the chosen things in the places of their texts."""
    if isinstance(thing, str):
        return FUNCTIONS[thing] if thing[0] == "!" else thing[1:] if thing[0] == "'" else next(chosen)
    if isinstance(thing, list):
        return [put(part, chosen) for part in thing]
    if isinstance(thing, dict):
        return {put(k, chosen): put(v, chosen) for k, v in thing.items()}
    return thing


def shown(result: Any) -> str:
    if isinstance(result, gelvo.GelvoError):
        return f"error: {type(result).__name__}"
    for part in ("files", "source", "equations", "entries", "verdict"):
        if hasattr(result, part) and not hasattr(result, "expression"):
            return str(getattr(result, part))
    return str(result)


def outcome(call: str, arguments: list[Any], **options: Any) -> str:
    try:
        with gelvo.time_limit(20):
            return shown(getattr(gelvo, call)(*arguments, **options))
    except gelvo.GelvoError as fault:
        return shown(fault)


def mixtures(count: int) -> list[tuple[bool, ...]]:
    """Which texts are handed over as objects: all choices, or, for many texts, each alone, all but each, all."""
    if count <= 4:
        return list(itertools.product((False, True), repeat=count))
    each = [tuple(i == k for i in range(count)) for k in range(count)]
    return [*each, *[tuple(not c for c in one) for one in each], (True,) * count]


@pytest.mark.parametrize("other", [False, True])
@pytest.mark.parametrize("case", TABLE, ids=lambda c: f"{c['call']}-{TABLE.index(c)}")
def test_one_answer_in_every_mixture(case: dict[str, Any], other: bool) -> None:
    """Each row with real names and with those of one other domain, in turn."""
    domain = ("positive", "integer", "complex")[TABLE.index(case) % 3] if other else "real"
    call, arguments = case["call"], case["arguments"]
    texts = list(texts_in(arguments))
    names = [gelvo.variable(n, domain=domain if n in ("k", "x") else "real") for n in LETTERS]
    names.append(gelvo.unknown_function("q", gelvo.variable("t")))
    objects = [gelvo.formula(t.removeprefix("~"), names_from=names) for t in texts]
    found: dict[str, list[tuple[bool, ...]]] = {}
    for choice in mixtures(len(texts)):
        handed = [t for t, c in zip(texts, choice, strict=True) if c]
        if letters_of(texts) != letters_of(handed):
            continue  # a name of the text is not among the objects: the call cannot know its domain
        picked = iter([o if c else t.removeprefix("~") for o, t, c in zip(objects, texts, choice, strict=True)])
        found.setdefault(outcome(call, put(arguments, picked)), []).append(choice)
    assert len(found) == 1, found


WITH_FACTS = [c for c in TABLE if "given" in inspect.signature(getattr(gelvo, c["call"])).parameters]


@pytest.mark.parametrize("domain", ["real", "complex"])
@pytest.mark.parametrize("case", WITH_FACTS, ids=lambda c: f"{c['call']}-{TABLE.index(c)}")
def test_a_domain_stated_as_a_fact_is_the_domain_declared(case: dict[str, Any], domain: str) -> None:
    """`given=["k complex", …]` with text alone is the same call as one with complex objects."""
    texts = [t.removeprefix("~") for t in texts_in(case["arguments"])]
    letters = sorted(letters_of(texts))
    names = [gelvo.variable(n, domain=domain) for n in letters]
    q = gelvo.unknown_function("q", gelvo.variable("t"))
    facts = [f"{n} {domain}" for n in letters]
    if "q" in letters:
        pytest.skip("an unknown function is declared by an object")
    stated = outcome(case["call"], put(case["arguments"], iter(texts)), given=facts)
    objects = iter([gelvo.formula(t, names_from=[*names, q]) for t in texts])
    assert stated == outcome(case["call"], put(case["arguments"], objects), given=[])


@pytest.mark.parametrize("case", WITH_FACTS, ids=lambda c: f"{c['call']}-{TABLE.index(c)}")
def test_facts_are_the_same_as_text_and_as_objects(case: dict[str, Any]) -> None:
    names = [gelvo.variable(n) for n in LETTERS] + [gelvo.unknown_function("q", gelvo.variable("t"))]
    texts = [t.removeprefix("~") for t in texts_in(case["arguments"])]
    objects = [gelvo.formula(t, names_from=names) for t in texts]
    stated = ["k > 0", "x != 0", "x <= 5"]
    relations = [gelvo.formula(f, names_from=names) for f in stated]
    found = {
        outcome(case["call"], put(case["arguments"], iter(things)), given=given)
        for things in (objects, [*objects[:1], *texts[1:]] if "q" in letters_of(texts[:1]) else texts)
        for given in (stated, relations, [*stated[:1], *relations[1:]], ["k > 0, x != 0", relations[2]])
    }
    assert len(found) == 1, found


def test_no_operation_is_left_out() -> None:
    operations = {n for n in gelvo.__all__ if inspect.isfunction(getattr(gelvo, n))}
    catalogue = {n for n in operations if list(inspect.signature(getattr(gelvo, n)).parameters) == ["arguments"]}
    covered = {c["call"] for c in TABLE}
    assert operations - catalogue - covered == NO_FORMULAS | OF_OBJECTS | OF_UNKNOWNS | DRAWN
    assert all(NEEDS_NAMES & set(inspect.signature(getattr(gelvo, n)).parameters) or n in covered for n in DRAWN)
