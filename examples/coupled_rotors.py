"""Three rotors on a shaft: equations of motion, normal modes, the motion from a start, an animation, friction by numbers."""

from pathlib import Path

import gelvo as gv

GIVEN = ["J > 0", "k > 0"]
START = ["a(0) = A", "b(0) = 0", "c(0) = 0", "a'(0) = 0", "b'(0) = 0", "c'(0) = 0"]
EQUATIONS = ["J*a'' + k*(a - b) = 0", "J*b'' + k*(2*b - a - c) = 0", "J*c'' + k*(c - b) = 0"]


def main(folder=None):
    inertia, stiffness = gv.identity(3) * gv.variable("J"), gv.matrix("[k, -k, 0; -k, 2*k, -k; 0, -k, k]")
    for frequency, shape in gv.normal_modes(inertia, stiffness, given=GIVEN):
        print("frequency", frequency, "shape", shape)
    whole = gv.solve(EQUATIONS, ["a(t)", "b(t)", "c(t)"], given=GIVEN)
    print("constants:", len(whole.constants), whole.verdict)
    motion = gv.solve(EQUATIONS, ["a(t)", "b(t)", "c(t)"], given=GIVEN + START)
    left, middle, right = motion[0].values()
    print("middle disc:", middle, motion.verdict)
    print("the turn that all share:", gv.simplify(left + middle + right))
    at = {"J": 1, "k": 1, "A": "3/10"}
    p, q, r = (gv.substitute(e, at) for e in (left, middle, right))
    x = gv.variable("x")
    twist = gv.cases([(p + (q - p) * x, x < 1)], otherwise=q + (r - q) * (x - 1))
    moving = gv.animate(twist, "x", 0, 2, {"t": (0, 12, 49)}, labels=["twist"], title="The twist along the shaft")
    rough = ["a'' = b - a - a'^3", "b'' = a + c - 2*b - b'^3", "c'' = b - c - c'^3"]
    start = [s.replace("A", "9/10") for s in START]
    course = gv.solve_numerically(rough, ["a(t)", "b(t)", "c(t)"], span=(0, 30), given=start, events={"middle at rest": "b'"})
    print("with friction, at t = 30:", {n: round(v, 4) for n, v in course.at(30).items() if "_" not in n})
    print(
        "error below 1e-7:",
        max(course.error.values()) < 1e-7,
        " first rest of the middle:",
        round(course.events["middle at rest"][1], 3),
    )
    if folder is not None:
        moving.write(Path(folder) / "twist.html")
        course.plot(["a", "b", "c"], title="Three rotors with friction").savefig(Path(folder) / "rotors.png")
    return motion


if __name__ == "__main__":
    main()
