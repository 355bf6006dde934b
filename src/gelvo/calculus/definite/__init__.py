"""Integrals between two ends: breaks and convergence first, then an antiderivative at the ends, or a rule that needs none."""

from gelvo.calculus.definite.between import AT_BREAKS, AT_ENDS, definite_integral, inside_facts, poles_between
from gelvo.calculus.definite.principal import folded

__all__ = ["AT_BREAKS", "AT_ENDS", "definite_integral", "folded", "inside_facts", "poles_between"]
