"""Sums and products in closed form, finite and infinite."""

from gelvo.calculus.sums.up import add_up, multiply_up

__all__ = ["add_up", "multiply_up"]
