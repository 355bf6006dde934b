"""Canonical building: the only place where nodes are made.

Rewritings done here hold for all complex values up to removable points, or follow from an explicitly declared domain.
"""

from __future__ import annotations

import sys
from typing import cast

from gelvo.expression.building.calls import call, called
from gelvo.expression.building.conditions import as_condition, junction, opposite, relation, truth
from gelvo.expression.building.leaves import (
    CONSTANTS,
    MOST_FLOAT_DIGITS,
    algebraic_number,
    bound,
    constant,
    known_of_number,
    name,
    number,
    shown_short,
    to_expression,
)
from gelvo.expression.building.products import divide, known_of_power, multiply_all, power, sqrt
from gelvo.expression.building.sums import (
    distributed,
    known_of_scaled,
    known_of_sum,
    looks_negative,
    make_product,
    make_sum,
    negate,
    scale,
    split_coefficient,
    total,
    weighted_terms,
)
from gelvo.expression.building.written import WRITTEN_FORMS, applied, cases, written
from gelvo.expression.registry import Building, Hooks

__all__ = [
    "CONSTANTS",
    "MOST_FLOAT_DIGITS",
    "WRITTEN_FORMS",
    "algebraic_number",
    "applied",
    "as_condition",
    "bound",
    "call",
    "called",
    "cases",
    "constant",
    "distributed",
    "divide",
    "junction",
    "known_of_number",
    "known_of_power",
    "known_of_scaled",
    "known_of_sum",
    "looks_negative",
    "make_product",
    "make_sum",
    "multiply_all",
    "name",
    "negate",
    "number",
    "opposite",
    "power",
    "relation",
    "scale",
    "sqrt",
    "shown_short",
    "split_coefficient",
    "to_expression",
    "total",
    "truth",
    "weighted_terms",
    "written",
]

Hooks.build = cast(Building, sys.modules[__name__])  # what Python's operators call
