"""The catalogue: one declarative record a function; importing this folder fills the registry."""

from gelvo.functions import bessel, exponential, hyperbolic, integral_functions, named_integrals, parts, special, trigonometric

__all__ = ["bessel", "exponential", "hyperbolic", "integral_functions", "named_integrals", "parts", "special", "trigonometric"]
