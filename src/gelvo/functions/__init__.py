"""The catalogue: one declarative record a function; importing this folder fills the registry."""

from gelvo.functions import (
    airy,
    bessel,
    elliptic,
    exponential,
    hyperbolic,
    hypergeometric,
    incomplete,
    integral_functions,
    jacobi,
    named_integrals,
    orthogonal,
    parts,
    special,
    spherical,
    struve,
    trigonometric,
)

__all__ = [
    "airy",
    "bessel",
    "elliptic",
    "exponential",
    "hyperbolic",
    "hypergeometric",
    "incomplete",
    "integral_functions",
    "jacobi",
    "named_integrals",
    "orthogonal",
    "parts",
    "special",
    "spherical",
    "struve",
    "trigonometric",
]
