"""Polarised light through plates: complex 2x2 matrices by rows, by columns, by a function of the indices, and for practice."""

import gelvo as gv


def main():
    quarter = gv.matrix([[1, 0], [0, "1j"]])
    mirror = gv.from_columns([[0, 1], [1, 0]])
    ramp = gv.from_function(2, 2, lambda i, j: i + 2 * j)
    practice = gv.random_matrix(2, 2, seed=7)
    print("by rows", quarter, " by columns", mirror, " by indices", ramp, " for practice", practice)
    print("first row", quarter.row(0), " second column", quarter.column(1))
    print("in order:", quarter @ mirror, "is not", mirror @ quarter)
    print("unitary:", quarter.conjugate_transpose() @ quarter == gv.identity(2))
    print("inverse", quarter.inverse(), " determinant", quarter.determinant())
    for value, vectors in mirror.eigenvectors():
        print("eigenvalue", value, "vector", vectors[0])
        assert (mirror @ vectors[0] - vectors[0] * value).simplify() == gv.matrix([[0], [0]])
    print(gv.typeset(quarter, "latex"))


if __name__ == "__main__":
    main()
