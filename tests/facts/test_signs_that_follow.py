"""Signs that follow from facts on quotients, products and squares; steps outside of functions; conditions as they are read."""

from __future__ import annotations

from random import Random

import pytest

import gelvo
from gelvo.expression.building import name, relation
from gelvo.expression.constants import ZERO
from gelvo.facts.steps import as_steps
from gelvo.facts.store import Facts
from gelvo.solving.putting_back import read_easily

FOLLOWS = [
    (["1/e >= 0"], "e", "positive"),
    (["1/e < 0"], "e", "negative"),
    (["e^3 >= 0"], "e", "nonnegative"),
    (["1/(c*x) > 0"], "c*x", "positive"),
    (["a^2*b^2 < a"], "a", "positive"),
    (["a^2*b^2 < a"], "1 - a*b^2", "positive"),
    (["a > 0", "a < a^2*b^2"], "a*b^2 - 1", "positive"),
    (["c > 0", "w > 0"], "c^2*w^2 + w^4 - 2*w^2 + 1", "positive"),
    (["c > 0", "w > 0"], "w^2 - c^2*w^2/2 - w^4/2 - 1/2", "negative"),
]
OPEN = [(["1/e^2 > 0"], "e"), (["e^2 >= 0"], "e"), (["c > 0"], "c^2*w^2 + w^4 - 3*w^2 + 1"), (["a^2*b^2 < a"], "b")]


@pytest.mark.parametrize(("given", "formula", "sign"), FOLLOWS, ids=[f"{f[1]} {f[0]}" for f in FOLLOWS])
def test_a_sign_follows(given, formula, sign):
    facts = Facts([gelvo.formula(g) for g in given])
    assert getattr(facts, f"is_{sign}")(gelvo.formula(formula))


@pytest.mark.parametrize(("given", "formula"), OPEN, ids=[f"{f[1]} {f[0]}" for f in OPEN])
def test_other_signs_stay_open(given, formula):
    facts = Facts([gelvo.formula(g) for g in given])
    assert not facts.is_positive(gelvo.formula(formula)) and not facts.is_negative(gelvo.formula(formula))


@pytest.mark.parametrize(
    "given", [["a^2*b^2 < a", "a*b^2 > 1"], ["a^2*b^2 < a", "a*b^2 = 1"], ["1/e > 0", "e < 0"], ["a^2*b^2 < a", "a < 0"]]
)
def test_contradictions_are_seen(given):
    with pytest.raises(gelvo.DomainError, match="contradict"):
        Facts([gelvo.formula(g) for g in given])


READ = [
    ("1/e", "<=", "e > 0"),
    ("-1/(c*x)", "<", "c*x < 0"),
    ("c*x + 1/(c*x)", "<=", "c*x > 0"),
    ("sqrt(a - b)", "<=", "a - b >= 0"),
    ("2*pi*c", "<", "c > 0"),
]


@pytest.mark.parametrize(("side", "operator", "told"), READ, ids=[r[2] for r in READ])
def test_conditions_are_read_easily(side, operator, told):
    assert str(read_easily(relation(operator, ZERO, gelvo.formula(side)))) == told


STEPPED = [
    "exp(-abs(x))", "abs(x)*exp(-2*abs(x - 1))", "max(x, 1)^2", "1/(1 + abs(x))", "sign(x - 1)*abs(x + 1)", "cos(max(x, 0))",
    "abs(abs(x) - 1)", "heaviside(x)*heaviside(x - 2)", "min(x, 2)*max(x, -1)", "sqrt(abs(x) + 1)",
]  # fmt: skip


@pytest.mark.parametrize("text", STEPPED)
def test_functions_of_steps_are_sums_of_steps(text):
    x, formula = name("x"), gelvo.formula(text)
    found = as_steps(formula, x, Facts())
    random = Random(text)
    for _ in range(12):
        at = {"x": f"{random.randint(-3000, 4000)}/1000 + 1/9999"}
        assert float(gelvo.value(gelvo.substitute(found, at), 15)) == pytest.approx(
            float(gelvo.value(gelvo.substitute(formula, at), 15))
        )
