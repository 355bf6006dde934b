"""Exact numbers (rationals, Gaussian rationals) and correctly rounded intervals."""
