"""A hoop rolls down a slope: the acceleration from the energy, checked, and the run time with 12 digits."""

import gelvo as gv

m, g, R = gv.positive_variables("m", "g", "R")
v, s, alpha = gv.variables("v", "s", "alpha")

inertia = gv.integrate("lambda_0*R^2", "phi", 0, "2*pi*R", given=["R > 0"])
print("inertia of the rim, with mass per length lambda_0:", inertia)

energy = gv.formula("m*v^2/2 + m*R^2*(v/R)^2/2 - m*g*s*sin(alpha)", names_from=[m, g, R])
print("energy:", gv.simplify(energy))

speed = gv.solve(gv.equation(energy, 0), v, given=["s > 0", "sin(alpha) > 0"])
print("speed after the distance s:", speed)

square = gv.formula("g*s*sin(alpha)", names_from=g)
print("acceleration, the derivative of v^2/2 by s:", gv.differentiate(square / 2, s))

time = gv.solve("L = a*t^2/2", "t", given=["L > 0", "a > 0"]).taking("t > 0").single
print("time for the length L:", time, "=", gv.value(gv.substitute(time, {"L": "2.5", "a": "9.81*sin(0.3)/2"}), 12), "s")
