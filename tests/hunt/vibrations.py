"""Random oscillators, boundary problems, rods and second-order equations in changed variables, each held against matrices or steps of its own."""

from __future__ import annotations

from random import Random

import numpy as np
from scipy.integrate import solve_ivp
from scipy.linalg import expm

import gelvo
from hunt.differential_judge import jet_of
from hunt.plain import NoValue, holds, mp, read, value

# (p, q) of y'' + p*y' + q*y = 0 in s, whose solutions have names
NAMED = (
    ("1/s", "1 - 4/(9*s^2)"), ("0", "-s"), ("0", "s"), ("(3/2 - s)/s", "-2/(3*s)"), ("-2*s", "3"), ("-2*s/(1 - s^2)", "2/(1 - s^2)"),
    ("(1/2 - 2*s)/(s*(1 - s))", "-1/(5*s*(1 - s))"), ("1/s", "-1"), ("2/s", "1"), ("0", "2 - s^2"), ("1/(2*s)", "-1/(4*s)"), ("0", "1"), ("-1", "-2"),
)  # fmt: skip
CHANGES = ("x", "x", "2*x", "x^2", "x^3", "exp(x)", "exp(-x)", "sin(x)", "cos(x)", "sqrt(x)", "1/x", "x + 1", "3*x - 1")
ENDS = (("y({p}) = 0",), ("y'({p}) = 0",), ("y({p}) + {h}*y'({p}) = 0",))


def task(seed):
    random = Random(seed)
    return [oscillator, boundary, rod, changed][seed % 4](random)


def judge(asked, seed):
    return {"oscillator": judge_oscillator, "boundary": judge_boundary, "rod": judge_rod, "changed": judge_changed}[asked[0]](
        asked, seed
    )


def _small(random, low=-3, high=3):
    return random.choice([k for k in range(low, high + 1) if k])


def oscillator(random):
    n = random.choice((2, 2, 3))
    half = [[random.randint(-2, 2) for _ in range(n)] for _ in range(n)]
    stiffness = [[sum(half[k][i] * half[k][j] for k in range(n)) for j in range(n)] for i in range(n)]
    mass = [[_small(random, 1, 4) if i == j else 0 for j in range(n)] for i in range(n)]
    start = [random.randint(-2, 2) for _ in range(2 * n)]
    return ["oscillator", mass, stiffness, start]


def judge_oscillator(asked, _):
    _, mass, stiffness, start = asked
    n = len(mass)
    equations = [" + ".join([f"({mass[i][j]})*q_{j}'' + ({stiffness[i][j]})*q_{j}" for j in range(n)]) + " = 0" for i in range(n)]
    given = [f"q_{i}(0) = {start[i]}" for i in range(n)] + [f"q_{i}'(0) = {start[n + i]}" for i in range(n)]
    try:
        found = gelvo.solve(equations, [f"q_{i}(t)" for i in range(n)], given=given)
    except gelvo.NotSolved:
        return "open"
    if len(found) != 1 or found.constants:
        return f"{len(found)} motions with {len(found.constants)} constants"
    inverse = np.linalg.solve(np.array(mass, float), np.array(stiffness, float))
    right = solve_ivp(lambda t, y: [*y[n:], *(-inverse @ y[:n])], (0, 1.3), start, rtol=1e-11, atol=1e-12).y[:n, -1]
    told = [float(gelvo.value(gelvo.substitute(v, {"t": "13/10"}), 12)) for v in found[0].values()]
    return "solved" if np.allclose(told, right, atol=1e-7) else f"{told} at t = 1.3, but {right} is right"


def boundary(random):
    h = random.choice(("1", "2", "1/2"))
    left, right = (random.choice(ENDS)[0] for _ in range(2))
    length = random.choice(("1", "2", "pi", "3/2"))
    return ["boundary", random.choice((1, 1, 2, 4)), left.format(p=0, h=f"(-{h})"), right.format(p=length, h=h), length]


def judge_boundary(asked, _):
    _, lead, left, right, length = asked
    try:
        found = gelvo.eigenmodes(f"{lead}*y'' + q*y = 0", "y(x)", "q", given=[left, right])
        told = sorted(
            [float(gelvo.value(v, 12)) for v in found.values(4)] + [0.0 for f in found.families if f.characteristic == 0]
        )[:3]
    except gelvo.NotSolved:
        return "open"
    size = float(gelvo.value(gelvo.formula(length), 15))
    values = _lowest(lead, *(_slope(text) for text in (left, right)), size)
    return "solved" if np.allclose(told, values, atol=1e-6, rtol=1e-6) else f"{told} for {left}, {right}, but {values} is right"


def _slope(text):
    """(a, b) of a*y + b*y' = 0."""
    if text.startswith("y'"):
        return 0.0, 1.0
    if "+" not in text:
        return 1.0, 0.0
    factor = text.split("+ ")[1].split("*y'")[0]
    return 1.0, float(gelvo.value(gelvo.formula(factor), 15))


def _lowest(lead, first, last, size):
    """The three lowest values, as sign changes of the condition at the far end over a fine grid, refined by bisection."""

    def gap(q):
        w = np.sqrt(complex(q / lead))
        y, slope = (-first[1], first[0])  # satisfies the left condition
        c, s = np.cos(w * size), (np.sin(w * size) / w if abs(w) > 1e-9 else size)
        end, rate = y * c + slope * s, -y * w * w * s + slope * c
        return (last[0] * end + last[1] * rate).real

    grid = np.linspace(-0.5001234, 400, 160_001)
    values = np.array([gap(q) for q in grid])
    found = []
    for k in np.nonzero(np.sign(values[1:]) != np.sign(values[:-1]))[0][:3]:
        low, high = grid[k], grid[k + 1]
        for _ in range(60):
            middle = (low + high) / 2
            low, high = (low, middle) if np.sign(gap(middle)) != np.sign(gap(low)) else (middle, high)
        found.append((low + high) / 2)
    return found


def rod(random):
    ends = [random.choice(("u({p}, t) = 0", "u_x({p}, t) = 0")).format(p=p) for p in (0, 1)]
    start = random.choice(("1", "x", "x*(1 - x)", "x^2", "sin(pi*x)", "2 - x", "x^3 - x"))
    return ["rod", ends, start, random.choice(("1", "1/2", "2"))]


def judge_rod(asked, _):
    _, ends, start, rate = asked
    try:
        found = gelvo.separate_variables(f"u_t = {rate}*u_xx", "u(x, t)", given=[*ends, f"u(x, 0) = {start}"])
    except gelvo.NotSolved:
        return "open"
    told = float(gelvo.value(gelvo.substitute(found.partial(25), {"x": "2/5", "t": "1/10"}), 12))
    n = 250
    places = (np.arange(n) + 0.5) / n  # middles of cells
    d = np.diag(-2 * np.ones(n)) + np.diag(np.ones(n - 1), 1) + np.diag(np.ones(n - 1), -1)
    for side, text in zip((0, -1), ends, strict=True):
        d[side, side] = -1 if "u_x" in text else -3
    source = start.replace("^", "**").replace("pi", "np.pi").replace("sin", "np.sin")
    begin = np.broadcast_to(eval(source, {"np": np, "x": places}), places.shape)
    later = expm(d * n**2 * float(gelvo.value(gelvo.formula(rate), 15)) / 10) @ begin
    right = float(np.interp(0.4, places, later))
    return "solved" if abs(told - right) < 2e-4 else f"{told} at x = 2/5, t = 1/10, but {right} is right"


def changed(random):
    p, q = random.choice(NAMED)
    return ["changed", p, q, random.choice(CHANGES)]


def _changed_equation(p, q, change):
    """The equation of y(x) = Y(s(x)): y'' + (p*s' - s''/s')*y' + q*s'^2*y = 0."""
    s = gelvo.formula(change)
    slope = gelvo.differentiate(s, "x")
    inside = {"s": s}
    first = gelvo.substitute(gelvo.formula(p), inside) * slope - gelvo.differentiate(slope, "x") / slope
    second = gelvo.substitute(gelvo.formula(q), inside) * slope**2
    return gelvo.simplify(first), gelvo.simplify(second)


def judge_changed(asked, seed):
    _, p, q, change = asked
    first, second = _changed_equation(p, q, change)
    try:
        found = gelvo.solve(f"y'' + ({first})*y' + ({second})*y = 0", "y(x)")
    except gelvo.NotSolved:
        return "open"
    if len(found) != 1 or len(found.constants) != 2:
        return f"{len(found)} solutions with {len(found.constants)} constants"
    (formula,) = found[0].values()
    tree, coefficients = read(str(formula)), (read(str(first)), read(str(second)))
    random, looked = Random(seed), 0
    for _ in range(12):
        x = mp.mpf(random.randint(5, 95)) / 97
        table = {str(c): mp.mpf(random.randint(-9, 9)) / 7 for c in found.constants}
        try:
            if not all(holds(read(str(c)), {**table, "x": x}) for c in found.conditions_of(0)):
                continue
            jet = jet_of(tree, {**table, "x": x}, 2)
            a, b = (value(c, {"x": x}) for c in coefficients)
        except (NoValue, ZeroDivisionError, ValueError):
            continue
        size = 1 + sum(map(abs, jet)) * (1 + abs(a) + abs(b))
        if abs(jet[2] + a * jet[1] + b * jet[0]) > mp.mpf(10) ** (-4 if "integral_of" in str(formula) else -6) * size:
            return f"{formula} does not satisfy the equation at x = {mp.nstr(x, 5)}"
        looked += 1
    return "solved" if looked else "open"
