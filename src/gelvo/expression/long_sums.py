"""Long sums of products of a few pieces, as an expanded polynomial has them: built with the pieces put in order only once."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from gelvo.deadline import checkpoint
from gelvo.expression.building import make_product, make_sum, number, scale
from gelvo.expression.nodes import Expression
from gelvo.expression.order import SHOWN_FACTORS, hint, hint_of_product, ordered
from gelvo.numbers.exact import ONE, ZERO, Scalar

CHECK_EVERY = 512


def sum_of_products(pieces: Sequence[Expression], rows: Iterable[tuple[Scalar, tuple[int, ...]]]) -> Expression:
    """The sum of coefficient * product of pieces; each row names its pieces by their place.

    pieces: names, powers, calls: no numbers, products or sums, and within one row of different bases; no two rows are alike.

    >>> from gmpy2 import mpq
    >>> from gelvo.expression.building import name
    >>> print(sum_of_products([name("x"), name("y")], [(mpq(2), (0, 1)), (mpq(1), ())]))
    2*x*y + 1
    """
    in_order = ordered(pieces)
    place = {piece: i for i, piece in enumerate(in_order)}
    rank = [place[p] for p in pieces]
    hints = [hint(p) for p in in_order]
    constant: Scalar = ZERO
    entries = []
    for count, (coefficient, row) in enumerate(rows):
        if not count % CHECK_EVERY:
            checkpoint()
        if not row:
            constant = coefficient
            continue
        ranks = sorted([rank[i] for i in row])
        if len(row) == 1:
            node = pieces[row[0]]
            entries.append((hints[ranks[0]], node.depth, len(node.children), ranks, node, coefficient))
        else:
            node = make_product(ONE, tuple([in_order[r] for r in ranks]))
            entries.append(
                (hint_of_product([hints[r] for r in ranks[:SHOWN_FACTORS]]), node.depth, len(ranks), ranks, node, coefficient)
            )
    if not entries:
        return number(constant)
    if len(entries) == 1 and not constant:
        return scale(entries[0][4], entries[0][5])
    entries.sort(key=lambda e: e[:4])
    return make_sum(constant, tuple([e[4] for e in entries]), tuple([e[5] for e in entries]))
