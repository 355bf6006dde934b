"""Signs by slack: letters written by new ones that are free to be any positive number, so that the facts are used up.

a > c, c > b, b > 0 is a = u + v + w, c = u + v, b = u with u, v, w > 0: what has only positive terms then is positive.
"""

from __future__ import annotations

from collections.abc import Iterator

from gelvo.expression import known as bits
from gelvo.expression.building import name, scale
from gelvo.expression.nodes import Expression, Name, Product, Sum
from gelvo.expression.traversal import names, substitute
from gelvo.facts.knowledge import Stated
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.forms.univariate import linear_parts
from gelvo.numbers.exact import Gaussian

MOST_TERMS, MOST_FACTS, PASSES = 24, 12, 3
DEEPEST = 1  # questions within questions
STEM = "slack"
SIGNED = (  # what is known of a letter, the domain of the new one, the factor before it
    (bits.POSITIVE, "positive", 1), (bits.NEGATIVE, "positive", -1), (bits.NONNEGATIVE, "nonnegative", 1), (bits.NONPOSITIVE, "nonnegative", -1),
)  # fmt: skip
Replaced = list[tuple[Name, Expression]]


def by_slack(facts: Stated, expression: Sum) -> int:
    """The sign of a sum once its letters are written by slack; of letters that stand in no inequality nothing."""
    if (
        len(expression.terms) > MOST_TERMS
        or len(facts.busy) > DEEPEST
        or not facts.sums
        or facts.summed.isdisjoint(names(expression))
    ):
        return bits.ANY
    if facts.slack is None:
        facts.slack = _slack_of(facts)
    inner = _put_in(expression, facts.slack)
    return bits.ANY if inner is expression else facts.stating(()).decide(factored(inner))


def _put_in(expression: Expression, replaced: Replaced) -> Expression:
    for letter, value in replaced:
        expression = substitute(expression, {letter: value})
    return expression


def _slack_of(facts: Stated) -> Replaced:
    """The replacements, one after the other: each letter of known sign, then a letter of each inequality."""
    cores = [(core, mask) for core, mask in facts.sums if bits.is_nonnegative(mask) or bits.is_nonpositive(mask)][:MOST_FACTS]
    letters = [n for n in dict.fromkeys(n for core, _ in cores for n in names(core)) if bits.is_real(facts.known(n))]
    fresh = facts.new_names(STEM, *letters)
    replaced: Replaced = []
    for letter in letters:
        found = next(((domain, sign) for mask, domain, sign in SIGNED if not facts.known(letter) & ~mask), None)
        if found is not None:
            replaced.append((letter, scale(name(next(fresh).name, found[0]), found[1])))
    free = facts.stating(())
    for _ in range(PASSES):
        before = len(replaced)
        for pair in list(cores):
            step = _step(*pair, replaced, fresh, free)
            if step is not None:
                replaced.append(step)
                cores.remove(pair)
        if len(replaced) == before:
            break
    return replaced


def _step(core: Sum, mask: int, replaced: Replaced, fresh: Iterator[Name], free: Stated) -> tuple[Name, Expression] | None:
    """(letter, its value by a slack) that makes one inequality true, with no loss of what is known of the letter."""
    whole = factored(_put_in(core, replaced))
    factors = whole.factors if isinstance(whole, Product) else (whole,)
    signs = {f: free.known(f) for f in factors}
    unsure = [f for f, m in signs.items() if not (bits.is_positive(m) or bits.is_negative(m))]
    coefficient = whole.coefficient if isinstance(whole, Product) else 1
    if len(unsure) != 1 or not isinstance(unsure[0], Sum) or isinstance(coefficient, Gaussian):
        return None
    turns = sum(bits.is_negative(m) for m in signs.values()) + (coefficient < 0)
    rising, strict = bits.is_nonnegative(mask) != bool(turns % 2), bits.is_nonzero(mask)
    gap = expand(unsure[0])
    for letter in sorted(names(gap), key=lambda n: n.name.startswith(STEM)):
        parts = linear_parts(gap, letter)
        slope = bits.ANY if parts is None else free.known(parts[0])
        if parts is None or not (bits.is_positive(slope) or bits.is_negative(slope)):
            continue
        border = factored(-parts[1] / parts[0])
        value = _beyond(letter.known, border, free.decide(border), rising == bits.is_positive(slope), strict, fresh)
        if value is not None:
            return letter, value
    return None


def _beyond(
    known: int, border: Expression, at_border: int, above: bool, strict: bool, fresh: Iterator[Name]
) -> Expression | None:  # fmt: skip
    """A letter above or below a border; one of known sign keeps it."""
    domain = "positive" if strict else "nonnegative"
    if not bits.is_real(at_border):
        return None
    if not bits.is_nonnegative(known) or (above and bits.is_nonnegative(at_border)):
        return border + scale(name(next(fresh).name, domain), 1 if above else -1)
    if above or not bits.is_positive(at_border) or not (strict or bits.is_positive(known)):
        return None
    share = name(next(fresh).name, domain if bits.is_positive(known) else "nonnegative")
    return border * share / (1 + share) if strict else border / (1 + share)
