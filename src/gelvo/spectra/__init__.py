"""Eigenvalues and what follows from them: Jordan's form, functions of a matrix, singular values, definiteness."""
