"""One live node for one structure in any number of threads; everything travels to other processes."""

import gc
import multiprocessing
import pickle
import sys
import threading
from concurrent.futures import ProcessPoolExecutor

import pytest

import gelvo
from gelvo.expression import building
from gelvo.expression.interning import live_nodes
from parts import WHOLE

PAIRS_PER_THREAD, THREADS, LINKS = (10_000, 4, 50_000) if WHOLE else (2_000, 4, 20_000)
ANSWERS = {
    "an answer": lambda: gelvo.limit("sin(x)/x", "x", 0),
    "a series": lambda: gelvo.series("exp(x)", "x"),
    "solutions": lambda: gelvo.solve("x^2 = a", "x", given=["a > 0"]),
    "a condition": lambda: gelvo.solve("x^2 < 4", "x"),
    "steps": lambda: gelvo.simplify("sin(x)^2 + cos(x)^2 + y", steps=True),
    "a transform": lambda: gelvo.laplace("exp(-t)", "t", "s"),
    "an exact root": lambda: gelvo.polynomial_root("x^5 - x + 1", 1),
    "a matrix": lambda: gelvo.matrix("[1, x; 2, y]"),
    "an equation": lambda: gelvo.equation("x^2/x", 1),
    "a certificate": lambda: gelvo.check("1 + 1 = 2"),
    "a value": lambda: gelvo.value("pi", 30),
    "a numeric function": lambda: gelvo.numeric_function("x^2", ["x"]),
    "code": lambda: gelvo.export_code("x^2 + 1", "x"),
}


@pytest.fixture
def tiny_switch_interval():
    before = sys.getswitchinterval()
    sys.setswitchinterval(1e-6)
    yield
    sys.setswitchinterval(before)


def test_threads_never_see_two_nodes_of_one_structure(tiny_switch_interval, monkeypatch):
    """Nodes die and are made again at once: each thread compares formulas that it builds twice."""
    ignored: list[str] = []
    monkeypatch.setattr(sys, "unraisablehook", lambda fault: ignored.append(repr(fault.exc_value)))
    different: list[str] = []
    x = building.name("x_in_threads")

    def build(k):
        return building.total((building.power(x, building.number(k % 7 + 2)), building.number(k % 5 + 300)))

    def work():
        for k in range(PAIRS_PER_THREAD):
            first, second = build(k), build(k)
            if first is not second or first - second != 0:
                different.append(f"{first} at {k}")

    threads = [threading.Thread(target=work) for _ in range(THREADS)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert (different, ignored) == ([], [])


def test_memory_of_formulas_is_given_back():
    before = live_nodes()
    kept = [gelvo.sin(gelvo.variable("x_given_back") * k) for k in range(1000, 3000)]
    assert live_nodes() > before + 1900
    del kept
    gc.collect()
    assert live_nodes() < before + 100


def test_memory_comes_back_even_from_very_deep_formulas():
    before = live_nodes()
    e = gelvo.variable("x_in_memory")
    for _ in range(LINKS):
        e = gelvo.sin(e) + 1
    assert live_nodes() > before + LINKS
    del e
    assert live_nodes() <= before + 20


@pytest.mark.parametrize("what", ANSWERS)
def test_everything_pickles(what):
    thing = ANSWERS[what]()
    back = pickle.loads(pickle.dumps(thing))
    assert type(back) is type(thing)
    assert (
        str(back) == str(thing)
        if what not in ("code", "a numeric function")
        else back.files == thing.files
        if what == "code"
        else back(3.0) == 9
    )
    assert getattr(back, "verdict", None) == getattr(thing, "verdict", None)


def test_new_processes_work_with_functions_and_formulas_that_come_in():
    """A spawned process has only what pickling imports; the hooks and the catalogue come with it."""
    context = multiprocessing.get_context("spawn")
    with context.Pool(1) as pool:
        assert pool.map(gelvo.simplify, ["sin(x)^2 + cos(x)^2"]) == [gelvo.formula("1")]
        assert pool.map(gelvo.sin, ["pi/6"]) == [gelvo.formula("1/2")]
        assert pool.map(str, [gelvo.formula("besselj(0, x) + erf(y)")]) == ["besselj(0, x) + erf(y)"]
    with ProcessPoolExecutor(1, mp_context=context) as pool:
        integrals = list(pool.map(gelvo.integrate, [gelvo.formula("x*exp(x)")], ["x"]))
        assert integrals == [gelvo.integrate("x*exp(x)", "x")] and integrals[0].verdict == "proved"
        assert list(pool.map(gelvo.numeric_function("x^2 + 1", ["x"]), [2.0, 3.0])) == [5.0, 10.0]
        with pytest.raises(gelvo.FormulaError):
            list(pool.map(gelvo.formula, ["x("]))
