"""Random definite integrals of many kinds against quadratures of mpmath: no value is wrong, whatever its verdict."""

from __future__ import annotations

import random

import pytest
from mpmath import mp, mpf

import gelvo
from parts import WHOLE
from sample_tasks import is_open, numeric

NUMBERS = ("1", "2", "3", "1/2", "3/2", "2/3")
PARTS = ("x", "x^2", "(1 + x)", "(2 + x)", "(x^2 + 1)", "(x^2 + x + 1)", "(x + 2)^2", "1")


def _between(pick: random.Random) -> tuple[str, str, str]:
    p, q, r = (pick.choice(NUMBERS) for _ in range(3))
    one, other = (pick.choice(PARTS) for _ in range(2))
    f = pick.choice([
        f"{one}/(x^2 + {p})", f"{one}*sin({p}*x)", f"{one}*exp(-{q}*x)", f"ln({p} + x)*{one}", f"sqrt({q} + x)*{one}",
        f"1/({p} + 2 + {q}*cos(x)/2)", f"atan({r}*x)*{one}", f"{one}*{other}/(3 + x)", f"sqrt(x)*{one}", f"ln(x)*{one}",
    ])  # fmt: skip
    return f, "0", pick.choice(["1", "2", "3", "pi"])


def _forwards(pick: random.Random) -> tuple[str, str, str]:
    p, q, r = (pick.choice(NUMBERS) for _ in range(3))
    f = pick.choice([
        f"x^({p} - 1)*exp(-{q}*x)", f"x^({p} - 1)/(1 + {q}*x)^({r} + {p})", f"exp(-{q}*x)*sin({p}*x)", f"x^{p}/(exp({q}*x) + 1)",
        f"x^({p} + 1)/(exp({q}*x) - 1)", f"ln(x)/(x^2 + {q})", f"exp(-{q}*x^2)*cos({r}*x)", f"(exp(-{p}*x) - exp(-2*{p}*x))/x",
        f"x^({p} - 1)*exp(-x)*ln(x)", f"x/sinh({q}*x)", f"x^2/cosh({q}*x)^2", f"exp(-{q}*x - {r}/x)", f"1/((x^2 + {p})*(x^2 + 5))",
    ])  # fmt: skip
    return f, "0", "inf"


KINDS = {"between": _between, "forwards": _forwards}
SEEDS = range(400) if WHOLE else range(12)


@pytest.mark.parametrize("seed", SEEDS)
@pytest.mark.parametrize("kind", KINDS)
def test_random_integrals_are_not_wrong(kind, seed):
    f, lower, upper = KINDS[kind](random.Random(seed))
    answer = gelvo.integrate(f, "x", lower, upper)
    if is_open(answer):
        assert answer.reason
        return
    x = gelvo.formula(f)
    with mp.workdps(20):
        high = mp.mpf(80) if upper == "inf" else mp.re(numeric(gelvo.formula(upper), {}))

        def inside(t: mpf) -> mpf:
            try:
                return numeric(x, {"x": mp.nstr(mp.exp(t), 25)}, 20) * mp.exp(t)  # with exp(t) for x the ends die away
            except gelvo.GelvoError:  # too small to be written
                return mpf(0)

        wanted = mp.quad(inside, [-40, -10, -2, 0, 1, mp.log(high)], maxdegree=6)
        tail = mpf("1e-7") if "exp" in f or "cosh" in f or "sinh" in f or upper != "inf" else mpf("0.2")
        assert abs(numeric(answer.expression, {}) - wanted) < tail * (1 + abs(wanted)), (f, str(answer.expression))
