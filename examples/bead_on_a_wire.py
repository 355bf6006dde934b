"""A bead on a turning wire: rearranging, a condition that chooses the root, candidates put back, an inequality."""

import gelvo as gv


def main():
    balance = gv.formula("m*w^2*R*sin(phi)*cos(phi) = m*g*sin(phi)")
    print("turning rate:", gv.solve(balance, "w", given=["w > 0", "R > 0", "m > 0", "g > 0", "0 < phi", "phi < pi/2"]))
    fall = gv.solve("h = v_0*t + g*t^2/2", "t", given=["g > 0", "h > 0", "v_0 > 0"]).taking("t > 0")
    print("time of the fall:", fall)
    cubic = gv.solve("4*u^3 - 3*u = 1/2", "u")
    for root in cubic:
        print("root of the cubic:", root[gv.variable("u")], "=", gv.value(root[gv.variable("u")], 8))
    powers = gv.solve("(2*u - 5)^(u + 1) = 1", "u")
    print("a power that is one:", powers)
    for candidate, reason in powers.excluded:
        print("  excluded:", candidate, "because", reason)
    stable = gv.solve("2*u^2 - u - 1 < 0", "u")
    print("stable places:", stable, f"({stable.verdict})")
    assert 0 in stable and 2 not in stable


if __name__ == "__main__":
    main()
