"""Checks of sums and products, finite and infinite."""

from gelvo.checking.sums.check import check_sum
from gelvo.checking.sums.products import check_product

__all__ = ["check_product", "check_sum"]
