"""Solutions on paper: one with two signs where two differ by a sign, a decimal beside a root that has no short formula."""

from __future__ import annotations

from collections.abc import Sequence

from gelvo.errors import GelvoError
from gelvo.expression.building import distributed, looks_negative, negate, scale, total
from gelvo.expression.constants import ONE
from gelvo.expression.nodes import Bound, Condition, Expression, Number, Product, Sum, Truth
from gelvo.expression.traversal import free_names
from gelvo.expression.writing import writing_now, written
from gelvo.numbers.exact import ZERO, Gaussian, Scalar
from gelvo.operations.solution_set import SolutionSet
from gelvo.operations.solutions import Solutions
from gelvo.typesetting import text
from gelvo.typesetting.layout import beside, number_layout, numeric_value, qualified, sized
from gelvo.typesetting.pieces import SUM, Layout, atom, equals, is_rounded, joined, lines, row, said_rounded, wrapped

DIGITS = 5  # of the decimal beside a root
MOST_LISTED = 12  # complex solutions beside real ones
WHOLE = {True: "every value", False: "no solution"}


def solutions_layout(solutions: Solutions, common: Sequence[Condition] = ()) -> Layout:
    """The solutions one after the other, each with its own conditions; common: what holds for all, where that is to be said too."""
    if solutions.everything or not len(solutions):
        return qualified(atom(WHOLE[solutions.everything], "text"), common)
    own = [solutions.own_conditions(k) for k in range(len(solutions))]
    together = None if any(wants_decimal(v) for values in solutions for v in values.values()) else _both_signs(solutions, own)
    if together is not None:
        return qualified(together, (*own[0], *common))
    pieces: list[Layout] = []
    for place, values in enumerate(solutions):
        parts = [_equation(k, with_decimal(v)) for k, v in values.items()]
        shown = own[place] if len(solutions) > 1 else ()  # of a single one they stand beside it
        piece = qualified(joined(parts, atom(",", "separator")), shown)
        pieces.append(row(atom(f"{solutions.cases[place]}: ", "text"), piece) if len(solutions.cases) > 1 else piece)
    if len(pieces) > 1 and all(own):  # cases
        return qualified(lines(pieces), common)
    if any(len(values) > 1 for values in solutions) and len(pieces) > 1:  # of several unknowns each solution has a line
        return qualified(lines([*(row(p, atom("or", "word")) for p in pieces[:-1]), pieces[-1]]), common)
    return qualified(joined(pieces, atom("or", "word")), common)


def set_layout(found: SolutionSet) -> Layout:
    """A set of solutions: its condition, or with letters a line for each of their cases."""
    if len(found.cases) == 1 and not found.cases[0].when:
        return sized(found.condition)
    told = [atom(WHOLE[c.told.holds], "text") if isinstance(c.told, Truth) else sized(c.told) for c in found.cases]
    return lines([qualified(piece, c.when) for piece, c in zip(told, found.cases, strict=True)])


def further_text(solutions: Solutions) -> str:
    """The complex solutions beside the real ones, as decimals on one line; their number alone where they are many, or not numbers."""
    counted = f"there are {solutions.further} further complex solutions"
    if solutions.further > MOST_LISTED:
        return counted
    try:
        values = [v for found in solutions.further_solutions for v in found.values()]
    except GelvoError:
        return counted
    numbers = [numeric_value(v, DIGITS) for v in values]
    pairs = {n for n in numbers if isinstance(n, Gaussian) and n.imag > 0 and Gaussian(n.real, -n.imag) in numbers}
    if None in numbers or not numbers or len(numbers) != solutions.further:
        return counted
    with written(writing_now()._replace(decimals=DIGITS)):
        kept = [n for n in dict.fromkeys(numbers) if n is not None and not _is_below(n, pairs)]
        shown = [_pair(n) if n in pairs else text.render(number_layout(n)) for n in kept]
        sign = "≈" if any(is_rounded(number_layout(n)) for n in kept) else "="
    return f"further complex solutions: {solutions.unknowns[0]} {sign} {', '.join(shown)}"


def _is_below(value: Scalar, pairs: set[Gaussian]) -> bool:
    """Whether a value is the second one of a conjugate pair."""
    return isinstance(value, Gaussian) and Gaussian(value.real, -value.imag) in pairs


def _pair(value: Gaussian) -> str:
    real = text.render(number_layout(value.real)) if value.real else ""
    imag = text.render(number_layout(Gaussian(ZERO, value.imag)))
    return f"{real} ± {imag}" if real else f"±{imag}"


def _equation(unknown: Expression, value: Layout) -> Layout:
    return row(sized(unknown), equals(value), value)


def with_decimal(value: Expression) -> Layout:
    """A value; a root told by its polynomial, and any number beside decimals, with the decimal that it is."""
    shown = sized(value)
    if not wants_decimal(value):
        return shown
    known = numeric_value(value, DIGITS)
    if known is None:
        return shown
    with written(writing_now()._replace(decimals=DIGITS)):
        decimal = number_layout(known)
    return decimal if is_rounded(shown) else row(shown, atom("≈", "relation"), said_rounded(decimal))


def wants_decimal(value: Expression) -> bool:
    """Whether a decimal beside a value tells more: of any number that is not written as one already."""
    return not (isinstance(value, (Number, Bound)) or writing_now().digits or free_names(value))


def _both_signs(solutions: Solutions, own: Sequence[tuple[Condition, ...]]) -> Layout | None:
    """x = A ± B for the two solutions A - B and A + B under the same conditions; None where that is not what they are."""
    if len(solutions) != 2 or len(solutions[0]) != 1 or own[0] != own[1] or list(solutions[0]) != list(solutions[1]):
        return None
    ((unknown, first),) = solutions[0].items()
    second = solutions[1][unknown]
    formula = _with_two_signs(first, second)
    return None if formula is None else _equation(unknown, formula)


def _with_two_signs(first: Expression, second: Expression) -> Layout | None:
    if first is negate(second):
        return row(atom("±", "sign"), wrapped(sized(second), SUM + 1), level=SUM)
    left, right = _sum_in(first), _sum_in(second)
    if left is None or right is None or left[1] is not right[1] or left[0].constant != right[0].constant:
        return None
    terms, others = dict(left[0].items()), dict(right[0].items())
    if terms.keys() != others.keys():
        return None
    turned: list[tuple[Expression, Scalar]] = [(t, others[t]) for t, c in terms.items() if c != others[t]]
    if not turned or any(terms[t] != -c for t, c in turned):
        return None
    moving = total([scale(t, c) for t, c in turned])
    staying = total([left[0], moving])
    moving = negate(moving) if looks_negative(moving) else moving
    numerator = row(sized(staying), atom("±", "operator"), wrapped(sized(moving), SUM + 1), level=SUM)
    return beside(left[1], numerator)


def _sum_in(value: Expression) -> tuple[Sum, Expression] | None:
    """A value as (its one sum, what that is multiplied by)."""
    if isinstance(value, Sum):
        return value, ONE
    if not isinstance(value, Product):
        return None
    sums = [f for f in value.factors if isinstance(f, Sum)]
    if len(sums) != 1:
        return None
    inner, rest = sums[0], value / sums[0]
    turned = distributed(negate(inner)) if looks_negative(rest) else None  # -(b + d)/(2*a) is (-b - d)/(2*a)
    return (turned, negate(rest)) if isinstance(turned, Sum) else (inner, rest)
