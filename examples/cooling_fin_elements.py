"""A cooling fin in elements: exact element matrices with a linear section, assembly, and the error against the exact solution."""

import gelvo as gv


def fin(count, growth=0):
    """The exact nodal values for so many elements on a fin of length 3 whose section is 1 + growth*x."""
    h = gv.formula(f"3/{count}")
    elements, places = [], []
    x = gv.variable("x")
    for k in range(count):
        shapes = [gv.simplify(f).expression for f in gv.shape_functions([k * h, (k + 1) * h], x)]
        section = 1 + growth * x

        def weak(a, b, section=section):
            return gv.expand(section * (a.differentiate(x) * b.differentiate(x) + a * b))

        elements.append(gv.element_matrix(weak, shapes, x, k * h, (k + 1) * h))
        places.append((k, k + 1))
    whole = gv.assemble(elements, places, count + 1)
    return gv.restrained(whole, gv.column([0] * (count + 1)), {0: 1})


def main():
    x = gv.variable("x")
    u = gv.unknown_function("u", x)
    exact = gv.solve(gv.equation(u.derivative(2) - u, 0), u, given=["u(0) = 1", "u'(3) = 0"]).single
    print("exact:", exact)
    errors = []
    for count in (3, 6, 12):
        nodes = fin(count)
        end = nodes[count, 0]
        error = float(end) - float(exact.substitute({x: 3}))
        errors.append(error)
        print(f"{count:3} elements: end value {str(end)[:40]}  error {error:.2e}")
    print(f"halving the step divides the error by {errors[0] / errors[1]:.2f} and {errors[1] / errors[2]:.2f}")
    assert 3 < errors[1] / errors[2] < 5
    print("with a growing section:", gv.value(fin(3, gv.formula("1/4"))[3, 0], 8))


if __name__ == "__main__":
    main()
