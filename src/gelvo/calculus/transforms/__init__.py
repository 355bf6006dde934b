"""Laplace and Fourier transforms and their inverses, by rules."""

from gelvo.calculus.transforms.fourier import CONVENTIONS, fourier, kernel
from gelvo.calculus.transforms.inverse_laplace import inverse_laplace, pole_response
from gelvo.calculus.transforms.laplace import laplace
from gelvo.calculus.transforms.pattern import Unknown, region
from gelvo.calculus.transforms.unknown import unknowns_of

__all__ = ["CONVENTIONS", "Unknown", "fourier", "inverse_laplace", "kernel", "laplace", "pole_response", "region", "unknowns_of"]
