"""Three answers of a student are checked; the wrong one comes back with a point at which it fails."""

import gelvo as gv

ANSWERS = [
    "integral_of(x*cos(x), x) = x*sin(x) + cos(x)",
    "derivative_of(ln(1 + x^2), x) = 2*x/(1 + x^2)",
    "sin(3*x) = 3*sin(x) - 3*sin(x)^3",
]

for answer in ANSWERS:
    certificate = gv.check(answer)
    print(f"{certificate.verdict:8}  {answer}")
    if certificate.verdict == "refuted":
        print("          ", certificate.evidence["counterexample"])
