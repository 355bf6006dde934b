"""Other forms of one part of a formula that may keep digits which this form loses: a list of rules, each from a part to equal parts.

Nothing here is believed: the search measures what a form gives, and proves that it is the same formula.
N. J. Higham, "Accuracy and Stability of Numerical Algorithms", 2nd ed. 2002, ch. 1; W. Kahan, "Branch Cuts for Complex
Elementary Functions" (1987), for the inverse functions near their ends.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator

from gmpy2 import mpq

from gelvo.code.digits.complements import complements
from gelvo.code.digits.exactness import is_square, two_products
from gelvo.code.digits.numeric import CAREFUL, careful, is_numeric
from gelvo.code.digits.rules.functions import inverse_functions, logarithms
from gelvo.code.digits.rules.products import (
    decaying,
    divided_through,
    hyperbolic_ratios,
    powers_by_logarithm,
    quotients,
    ratios,
    root_of_products,
    roots,
)
from gelvo.code.digits.rules.sums import (
    conjugates,
    differences_from_numbers,
    differences_in_sums,
    hyperbolic,
    other_sums,
    split_sums,
)
from gelvo.code.digits.rules.waves import angles_between, double_angles, half_angles, tangents, turns
from gelvo.code.fractions import is_power_of_two
from gelvo.errors import GelvoError
from gelvo.expression.known import is_nonnegative
from gelvo.expression.nodes import Cases, Constant, Expression, Name, Number, Sum
from gelvo.expression.traversal import postorder, substitute_plain
from gelvo.facts.store import Facts
from gelvo.numbers.exact import HALF, real

Rule = Callable[[Expression, Facts], Iterable[Expression]]
FITTED = 1 << 30


RULES: tuple[Rule, ...] = (
    differences_in_sums, differences_from_numbers, conjugates, other_sums, hyperbolic, tangents, double_angles, half_angles, angles_between, split_sums, ratios, divided_through, hyperbolic_ratios, decaying,
    roots, root_of_products, quotients, powers_by_logarithm, logarithms, inverse_functions, turns, complements,
)  # fmt: skip


def _is_fitted(constant: object) -> bool:
    """Whether a number is one that nobody writes: a coefficient of a polynomial that stands for a function."""
    return isinstance(constant, type(HALF)) and is_power_of_two(mpq(1, constant.denominator)) and constant.denominator > FITTED


def with_exact_products(e: Expression) -> Expression:
    """A formula with every b^2 - 4*a*c in it as one operation, unless its terms have one sign."""
    found = {n: careful(n) for n in postorder(e) if isinstance(n, Sum) and two_products(n) and _may_cancel(n)}
    return substitute_plain(e, found) if found else e


def _may_cancel(e: Sum) -> bool:
    """Whether the terms of a sum of real numbers may have different signs."""
    signs = {real(c) > 0 if is_nonnegative(t.known) or is_square(t) else None for t, c in e.items()}
    if e.constant:
        signs.add(real(e.constant) > 0)
    return len(signs) > 1 or None in signs


def rewritings(e: Expression, facts: Facts) -> Iterator[tuple[str, Expression]]:
    """(rule, the formula with one part in another form)."""
    for node in reversed(postorder(e)):
        if not isinstance(node, Expression) or isinstance(node, (Name, Number, Constant, Cases)) or is_numeric(node, CAREFUL):
            continue
        if isinstance(node, Sum) and _is_fitted(node.constant):
            continue
        for rule in RULES:
            try:
                for found in rule(node, facts):
                    if found is not node:
                        yield rule.__name__, substitute_plain(e, {node: found})
            except GelvoError:
                continue  # a form that cannot be written, as a division by zero, is none
