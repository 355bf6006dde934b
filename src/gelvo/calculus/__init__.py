"""Antiderivatives, definite integrals and the limits they need."""
