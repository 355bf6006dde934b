"""What is known of functions near a place or far out: each file registers rows in the tables of `table.py`."""

from gelvo.calculus.local.rules import inverses, poles, singular, special, steps, waves

__all__ = ["inverses", "poles", "singular", "special", "steps", "waves"]
