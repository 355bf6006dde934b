"""The catalogue: one declarative record a function; importing this folder fills the registry."""

from gelvo.functions import exponential, hyperbolic, parts, special, trigonometric

__all__ = ["exponential", "hyperbolic", "parts", "special", "trigonometric"]
