"""What a check takes from the methods of results: proposals, which it proves by itself."""

from __future__ import annotations

from collections.abc import Iterator

from gelvo.calculus.antiderivative.search import antiderivative
from gelvo.calculus.definite.half_angles import by_half_angles
from gelvo.calculus.definite.mirrors import has_a_constant_mean, quotients_between
from gelvo.calculus.definite.shifted import Terms, geometric_terms
from gelvo.calculus.sums.up import add_up, multiply_up
from gelvo.expression.nodes import Expression, Name
from gelvo.facts.store import Facts
from gelvo.roads import unnoted


def proposed_antiderivative(f: Expression, x: Name, facts: Facts) -> Expression | None:
    """An antiderivative to be differentiated back by whoever checks; the search for it is no road of the check."""
    with unnoted():
        found = antiderivative(f, x, facts)
    return None if found is None else found.value


def proposed_without_roots(f: Expression, x: Name, facts: Facts) -> Expression:
    """The integrand with bars in the place of roots of waves, where that may be the same."""
    return by_half_angles(f, x, facts)


def proposed_geometric_terms(f: Expression, x: Name, facts: Facts) -> tuple[int, Terms, Expression, int] | None:
    """A quotient of exponentials as terms over one difference or sum of two."""
    return geometric_terms(f, x, facts)


def proposed_images(f: Expression, x: Name, lower: Expression, upper: Expression, facts: Facts) -> Iterator[Expression]:
    """Changes of variable that swap two ends."""
    return quotients_between(f, x, lower, upper, facts)


def proposes_a_mean(f: Expression, x: Name, lower: Expression, upper: Expression) -> bool:
    """Whether it is worth proving that an integrand and its mirror image add up to a constant."""
    return has_a_constant_mean(f, x, lower, upper)


def proposed_sum(
    term: Expression, k: Name, lower: Expression, upper: Expression, facts: Facts, product: bool = False
) -> Expression | None:
    """A closed form of a sum or a product, to be proved by whoever checks."""
    with unnoted():
        found = (multiply_up if product else add_up)(term, k, lower, upper, facts)
    return None if found is None else found.value
