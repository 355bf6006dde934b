"""Three tanks that exchange heat: matrix exponential, variation of parameters, the residual exactly zero."""

import gelvo as gv


def system(middle):
    """The exchange matrix for a conductance between the second and the third tank, written in one place."""
    k = gv.formula(middle)
    quarter = gv.formula("1/4")
    return gv.matrix([[-quarter * 2, quarter, 0], [quarter, -quarter - k, k], [0, k, -k - quarter]])


def main():
    t, u = gv.variable("t"), gv.variable("u")
    for middle in ("1/4", "1/8"):
        exchange = system(middle)
        if middle != "1/4":
            print("changed:", exchange)
            print("eigenvalues:", [str(gv.value(v, 6)) for v in exchange.eigenvalues()])
            continue
        forcing = gv.column([1, 0, 0])
        spread = exchange.exponential("t")
        print("exp(A*t), first entry:", spread[0, 0])
        # variation of parameters: the integral of exp(A*(t - u)) @ f
        inside = spread.substitute({t: t - u}) @ forcing
        course = inside.map(lambda e: gv.simplify(gv.integrate(gv.expand(e), u, 0, t)))
        residual = (course.differentiate(t) - exchange @ course - forcing).simplify()
        print("temperatures:", course[0, 0])
        print("residual:", residual)
        assert residual == gv.matrix([[0], [0], [0]])
        print("end state:", [str(gv.limit(e, t, "inf")) for e in course])


if __name__ == "__main__":
    main()
