"""A flash that rings down: an integral by parts twice, solved for itself, and compared with the automatic answer."""

import gelvo as gv

FACTS = ["a > 0", "w > 0"]


def main():
    f = gv.formula("exp(-a*t)*sin(w*t)")
    t = gv.variable("t")
    once = gv.by_parts(gv.integral_of(f, t), differentiate="sin(w*t)")
    print("once: ", once, f"({once.verdict})")
    twice = gv.by_parts(once.expression, differentiate="cos(w*t)")
    print("twice:", twice, f"({twice.verdict})")
    J = gv.variable("J")
    recurring = twice.expression.substitute({gv.integral_of(f, t): J})
    by_hand = gv.solve(gv.equation(J, recurring), J, given=FACTS).single
    automatic = gv.integrate(f, t, given=FACTS)
    print("by hand:  ", gv.simplify(by_hand, given=FACTS))
    print("automatic:", automatic)
    assert gv.equal(by_hand, automatic, given=FACTS)
    print("improper: ", gv.integrate(f, t, 0, "inf", given=FACTS))
    print("divergent:", gv.integrate("exp(a*t)", t, 0, "inf", given=FACTS))
    print("30 digits:", gv.value(gv.integrate(f, t, 0, "inf", given=FACTS).substitute({"a": "5/2", "w": 40}), 30))


if __name__ == "__main__":
    main()
