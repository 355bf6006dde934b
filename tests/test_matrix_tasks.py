"""Tasks of linear algebra judged by numbers: by what defines a result, at values of the letters that its conditions allow, and by answers known beforehand."""

from __future__ import annotations

import numpy
import pytest
from scipy.linalg import expm

import gelvo
from gelvo.expression.nodes import Relation
from support import by_id, cases

LETTERS = {
    "a": "2", "b": "3/4", "c": "5/3", "d": "7/5", "e": "1/3", "f": "11/7", "g": "9/4", "k": "3/2", "p": "4/5", "q": "6/7", "r": "5/4",
    "t": "3/10", "u": "2/3", "v": "8/5", "w": "7/6", "x": "4/3", "y": "9/5", "z": "11/6", "F": "2", "n": "4",
}  # fmt: skip
CLOSE = 1e-8


def number(e, at):
    return complex(array(gelvo.matrix([[e]]), at)[0, 0])


def array(m, at):
    found = m.map(lambda e: gelvo.substitute(e, {n.name: at[n.name] for n in m.free_names if n.name in at}))
    return numpy.array([[complex(gelvo.value(e, 17)) for e in row] for row in found.entries])


def hold(conditions, at):
    """Whether conditions hold at values of the letters."""
    return all(_holds(c, at) for c in conditions)


def _holds(condition, at):
    assert isinstance(condition, Relation)
    if any(
        n.name not in at for n in gelvo.matrix([[condition.left, condition.right]]).free_names
    ):  # t = pi/4 + pi*n_1, for some whole n_1
        return any(_holds(condition, {**at, "n_1": str(k)}) for k in range(-3, 4))
    left, right = number(condition.left, at), number(condition.right, at)
    same = abs(left - right) < 1e-12
    return {"=": same, "!=": not same, ">": left.real > right.real and not same, "<": left.real < right.real and not same,
            ">=": same or left.real > right.real, "<=": same or left.real < right.real}[condition.operator]  # fmt: skip


def near(one, other):
    return numpy.allclose(one, other, rtol=CLOSE, atol=CLOSE * max(1, numpy.abs(other).max(initial=0)))


def at_values(case, m, conditions=()):
    """The letters at their values, which the conditions of a result have to allow."""
    at = {n.name: LETTERS[n.name] for n in m.free_names}
    assert hold(conditions, at), (conditions, at)
    return at


def rank_of(a):
    return int(numpy.linalg.matrix_rank(a, tol=1e-9)) if a.size else 0


# --- what each kind of result has to be ----------------------------------------------------------------------------------------


def formula_equal(case, m, found):
    return gelvo.equal(found, case["answer"])


def inverse(case, m, found):
    at = at_values(case, m, found.conditions)
    return near(array(m, at) @ array(found, at), numpy.eye(m.shape[0]))


def in_every_case(judged):
    """At all values that are told: where the conditions hold the result itself, and in any case the table of cases."""

    def judge(case, m, found):
        table = getattr(m, case["kind"])(cases=True)
        for at, wanted in case.get("cases", [[{n.name: LETTERS[n.name] for n in m.free_names}, case.get("answer")]]):
            a = array(m, at)
            if hold(found.conditions, at) and not judged(found, a, wanted, at):
                return False
            there = [row for row in table if hold(row.when, at)]
            if not there or not all(
                row.result is not None and judged(row.result, a, wanted, {"n_1": "0", **at}) for row in there
            ):
                return False
        return True

    return judge


def rank_at(found, a, wanted, at):
    return int(found) == wanted == rank_of(a)


def null_space_at(found, a, wanted, at):
    columns = [array(v, at) for v in found]
    together = numpy.hstack(columns) if columns else numpy.zeros((a.shape[1], 0))
    return len(columns) == wanted == rank_of(together) and all(near(a @ v, numpy.zeros((a.shape[0], 1))) for v in columns)


def reduced_at(found, a, wanted, at):
    form = array(found, at)
    leads = [next((j for j, e in enumerate(row) if abs(e) > 1e-9), None) for row in form]
    steps = [j for j in leads if j is not None]
    is_reduced = leads == [*sorted(steps), *[None] * (len(leads) - len(steps))] and len(set(steps)) == len(steps) == wanted
    ones = all(abs(form[i, j] - 1) < 1e-9 and abs(form[:, j]).sum() < 1 + 1e-9 for i, j in enumerate(steps))
    return is_reduced and ones and rank_of(numpy.vstack([a, form])) == rank_of(a) == wanted


def eigenvalues(case, m, found):
    at = at_values(case, m)
    have = sorted(_listed(found, at), key=_place)
    want = sorted(_listed(case["answer"], at), key=_place)
    return near(numpy.array(have), numpy.array(want))


def _listed(table, at):
    return [number(v, at) for v, times in table.items() for _ in range(times)]


def _place(z):
    return round(z.real, 7), round(z.imag, 7)


def eigenvectors(case, m, found):
    at = at_values(case, m, found.conditions)
    a = array(m, at)
    for value, vectors in found:
        v = number(value, at)
        columns = [array(u, at) for u in vectors]
        if not all(near(a @ u, v * u) for u in columns):
            return False
        if rank_of(numpy.hstack(columns)) != len(columns) or len(columns) != m.shape[0] - rank_of(a - v * numpy.eye(m.shape[0])):
            return False
        if "answer" in case and case["answer"][str(value)] != len(columns):
            return False
    return sum(len(vectors) for _, vectors in found) == sum(case["answer"].values()) if "answer" in case else True


def jordan_form(case, m, found):
    at = at_values(case, m, found.conditions)
    p, j = (array(part, at) for part in found)
    blocks = {}
    start = 0
    for k in range(1, len(j) + 1):
        if k == len(j) or abs(j[k - 1, k]) < 1e-12:
            blocks.setdefault(str(found.J[start, start]), []).append(k - start)
            start = k
    off = j - numpy.diag(numpy.diag(j)) - numpy.diag(numpy.diag(j, 1), 1)
    right = near(array(m, at) @ p, p @ j) and rank_of(p) == len(p) and abs(off).max() < 1e-12
    return right and ("answer" not in case or {v: sorted(s, reverse=True) for v, s in blocks.items()} == case["answer"])


def exponential(case, m, found):
    at = at_values(case, m, found.conditions)
    t = 0.37
    name = "t" if "t" not in at else "s"
    return near(array(found, {**at, name: "0.37"}), expm(t * array(m, at)))


def power(case, m, found):
    at = at_values(case, m, [c for c in found.conditions if "n" not in (str(c.left), str(c.right))])
    return all(near(array(found, {**at, "n": str(k)}), numpy.linalg.matrix_power(array(m, at), k)) for k in (m.shape[0], 5))


def square_root(case, m, found):
    at = at_values(case, m, found.conditions)
    return near(array(found, at) @ array(found, at), array(m, at))


def logarithm(case, m, found):
    at = at_values(case, m, found.conditions)
    return near(expm(array(found, at)), array(m, at))


def product_of(*signs):
    """Parts whose product, some of them turned, is the matrix."""

    def judge(case, m, found):
        parts = [found] if isinstance(found, gelvo.Matrix) else list(found)
        at = at_values(case, m, found.conditions)
        numbers = [array(p, at) for p in parts]
        made = numpy.eye(numbers[0].shape[0])
        for k, turned in signs:
            made = made @ (numbers[k].conj().T if turned else numbers[k])
        a = array(m, at)
        return near(made, numbers[0] @ a if case["kind"] == "lu_decomposition" else a)

    return judge


def singular_values(case, m, found):
    at = at_values(case, m)
    have = sorted((number(v, at).real for v, times in found.items() for _ in range(times)), reverse=True)
    return near(numpy.array(have), numpy.linalg.svd(array(m, at), compute_uv=False))


def solution(case, m, found):
    right = gelvo.matrix(case["right"])
    at = {**at_values(case, m), **{n.name: LETTERS[n.name] for n in right.free_names}}
    assert hold(found.conditions, at)
    rest = array(m, at) @ array(found, at) - array(right, at)
    return near(array(m, at).conj().T @ rest, numpy.zeros((m.shape[1], 1)))


KINDS = {
    "determinant": formula_equal, "characteristic_polynomial": formula_equal, "minimal_polynomial": formula_equal,
    "inverse": inverse, "rank": in_every_case(rank_at), "null_space": in_every_case(null_space_at), "reduced": in_every_case(reduced_at),
    "eigenvalues": eigenvalues, "eigenvectors": eigenvectors, "jordan_form": jordan_form, "exponential": exponential, "power": power,
    "square_root": square_root, "logarithm": logarithm, "cholesky_decomposition": product_of((0, False), (0, True)),
    "ldl_decomposition": product_of((0, False), (1, False), (0, True)), "qr_decomposition": product_of((0, False), (1, False)),
    "lu_decomposition": product_of((1, False), (2, False)), "singular_values": singular_values,
    "singular_value_decomposition": product_of((0, False), (1, False), (2, True)),
    "definiteness": lambda case, m, found: found == case["answer"], "solve": solution, "least_squares": solution,
}  # fmt: skip
EXTRA = {"characteristic_polynomial": ["x"], "minimal_polynomial": ["x"], "power": ["n"]}


@pytest.mark.parametrize("case", cases("matrices.jsonl"), ids=by_id)
def test_tasks_of_linear_algebra(case):
    m, kind = gelvo.matrix(case["matrix"]), case["kind"]
    extra = EXTRA.get(kind, [])
    if kind == "exponential":
        extra = ["t" if "t" not in {n.name for n in m.free_names} else "s"]
    if "right" in case:
        extra = [gelvo.matrix(case["right"])]
    if case.get("answer") == "none":
        with pytest.raises(gelvo.DomainError, match="no inverse"):
            m.inverse()
        return
    options = {"given": case["facts"]} if "facts" in case else {}
    found = getattr(m, kind)(*extra, **options)
    assert KINDS[kind](case, m, found)
    assert getattr(found, "verdict", "proved") in ("proved", "supported")


def test_the_tasks_are_many_and_a_good_part_of_them_is_not_regular():
    tasks = cases("matrices.jsonl")
    letters = [t for t in tasks if gelvo.matrix(t["matrix"]).free_names]
    assert len(tasks) >= 200 and len(letters) > len(tasks) / 4
