"""Formulas as quotients, polynomials, sums and products: rewriting that needs no facts beside what an expression says of itself."""
