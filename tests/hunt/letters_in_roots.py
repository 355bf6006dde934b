"""Letters below roots, beside exponentials and in characteristic polynomials, and values at singular places: random ones held against numbers."""

from __future__ import annotations

from random import Random

from hunt import equations
from hunt.differential_judge import LETTERS, answered, free_constants, jet_of, judged, mp, places, read, solved, value

# --- equations: judged at values of the letters by their roots there ----------------------------------------------------

ROOTED = (
    "sqrt({p}*x + {a}) = {q}*x + {c}", "sqrt(x^2 + {a}) = {q}*x + {b}", "sqrt({p}*x + {a}) + {q}*x = {b}", "sqrt(x + {a}) - sqrt({p}*x + {c}) = {d}",
    "{p}/sqrt(x) = {b}", "{p}/sqrt(x + {c}) = {b}*{q}", "sqrt({a} - x^2) = {q}*x + {c}", "sqrt(x) + sqrt(x + {c}) = {b}", "{b}*sqrt(x) = {q}*x",
)  # fmt: skip
RAISED = (
    "x*exp({q}*x^2) = {b}", "x^3*exp({q}*x^2) = {b}", "x^2*exp({q}*x^2) = {b}", "x*exp(x^4) = {b}", "x*2^(x^2) = {b}", "(x - {c})*exp({q}*x) = {b}",
    "x^{n}*exp({q}*x) = {b}", "x^{n} = {b}*exp({q}*x)", "{b}*x = exp(x^2)",
)  # fmt: skip


def rooted(random):
    """(an equation with letters, facts)."""
    shape = random.choice(ROOTED if random.random() < 0.6 else RAISED)
    text = shape.format(
        p=random.choice((1, 2, 3, "1/2")), q=random.choice((1, 2, -1, "1/2", -2)), c=random.choice((0, 1, 2, -1, 3)), n=random.choice((1, 2, 3)),
        a=random.choice(("a", "a", "1", "5")), b=random.choice(("b", "b", "2", "-1")), d=random.choice((1, 2, "1/2", "b")),
    )  # fmt: skip
    given = [f"{n} > 0" for n in ("a", "b") if n in equations.used(text) and random.random() < 0.4]
    return text, given


def judge_rooted(task, seed):
    text, given = task
    return equations.judge(text, None, given, seed)


# --- differential equations ---------------------------------------------------------------------------------------------

POSITIVE = ("E", "k", "T", "w", "a", "m")
FOUNDED = (
    "{E}*y'''' + {k}*y = {f}", "{E}*y'''' - {T}*y'' + {k}*y = {f}", "{E}*y'''' + {T}*y'' + {k}*y = {f}", "y'''' - {k}*y = {f}", "y''' + {k}*y = {f}",
    "y''' - {k}*y = {f}", "{m}*y'''' + {T}*y'' = {f}", "y'''' + 2*{a}^2*y'' + {a}^4*y = {f}", "y'''' - {T}*y'' - {k}*y = {f}",
)  # fmt: skip
FORCES = ("0", "0", "1", "x", "exp(-x)", "cos(x)", "q")
ROUND = ("(x + {s})^2*y'' + {a}*(x + {s})*y' + {b}*y = {f}", "(x - {s})^2*y'' - {a}*(x - {s})*y' + {b}*y = {f}")
ROUND_FORCES = ("0", "1", "x", "x^2", "ln(abs(x + {s}))", "(x + {s})^2")


def founded(random):
    """An equation of order three or four with letters, or Euler's equation around a place."""
    if random.random() < 0.3:
        s = random.choice((1, 2, "1/2"))
        filled = {
            "s": s,
            "a": random.choice((1, 2, 3)),
            "b": random.choice((1, 2, 4, -1)),
            "f": random.choice(ROUND_FORCES).format(s=s),
        }
        return {"kind": "round", "equation": random.choice(ROUND).format(**filled), "given": []}
    letters = {n: n if random.random() < 0.6 else str(random.choice((1, 2, 4))) for n in POSITIVE}
    equation = random.choice(FOUNDED).format(**letters, f=random.choice(FORCES))
    given = [f"{n} > 0" for n in POSITIVE if n in equations.used(equation)]
    return {"kind": "founded", "equation": equation, "given": given}


def bounded(random):
    """Euler's equation with a planted solution A*u^r + p(u): the other power runs off at 0, where the value of p is stated."""
    low, high, lead = -random.choice((1, 2, 3)), random.choice((1, 2, 3)), random.choice((1, 2, -1))
    powers = {k: random.choice((1, -1, 2, 0)) for k in range(4) if k != high}
    first, zeroth = 1 - low - high, low * high
    column = {k: c * (k * (k - 1) + first * k + zeroth) for k, c in powers.items() if c}
    right = " + ".join(f"({c})*x^{k}" for k, c in column.items()) or "0"
    planted = " + ".join([f"({lead})*x^{high}", *(f"({c})*x^{k}" for k, c in powers.items())])
    equation = f"x^2*y'' + ({first})*x*y' + ({zeroth})*y = {right}"
    given = [f"y(0) = {powers.get(0, 0)}", f"y(1) = {lead + sum(powers.values())}"]
    return {"kind": "bounded", "equation": equation, "given": given, "planted": planted}


def task(seed):
    random = Random(seed)
    return bounded(random) if random.random() < 0.3 else founded(random)


def judge(seed):
    """("solved" or "open", or what is wrong) of the task of a seed."""
    made = task(seed)
    found, said = answered(solved, made, 20)
    if found is None:
        return said
    if made["kind"] == "bounded":
        return _is_planted(found, made, seed)
    if len(found.constants) != free_constants(made):
        return f"WRONG {len(found.constants)} free constants"
    try:
        judged(found, made, seed)
    except AssertionError as wrong:
        return f"WRONG {wrong}"
    return "solved"


def _is_planted(found, made, seed):
    """The one solution is the planted polynomial."""
    if len(found) != 1 or found.constants:
        return f"WRONG {len(found)} solutions with {len(found.constants)} constants instead of one"
    ((_, formula),) = found[0].items()
    tree, planted = read(str(formula)), read(made["planted"])
    letters = {n: mp.mpf(v) for n, v in LETTERS.items()}
    for x in places(Random(seed)):
        here = {**letters, "x": x}
        if abs(jet_of(tree, here, 0)[0] - value(planted, here)) > 1e-12 * (1 + abs(value(planted, here))):
            return f"WRONG {formula} is not {made['planted']} at {mp.nstr(x, 6)}"
    return "solved"
