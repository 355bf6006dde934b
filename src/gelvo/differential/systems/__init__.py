"""Several unknown functions: linear systems, triangular ones, those that are not linear."""
