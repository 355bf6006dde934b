"""Long results as short ones with a table of named shorthands, as a paper would print them.

What recurs and is large is named first; the gain counts what a reader sees (`forms/measure`): a piece of size s that stands n times
saves (n - 1)*s less the size of its definition.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from gelvo.deadline import checkpoint
from gelvo.expression import known as bits
from gelvo.expression.building import name, number
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import AlgebraicNumber, Applied, Call, Expression, Name, Node, Number, Power, Product, Sum
from gelvo.expression.traversal import has_imaginary_unit, names, postorder, rebuild
from gelvo.forms.measure import sizes

SMALLEST, LEAST_GAIN, MOST_NAMES = 6.0, 4.0, 60
NATURAL = 1.6  # how much more a radicand, a denominator or an argument is worth naming than another piece


def abbreviate(
    roots: Sequence[Expression], new_name: Callable[[int], str], most: int = MOST_NAMES
) -> tuple[list[Expression], list[tuple[Name, Expression]]]:
    """(short forms, [(name, what it stands for)]); later definitions may use earlier names.

    roots: formulas with shared pieces; new_name: the k-th name, from 1; most: the largest number of names.

    >>> from gelvo.expression.building import number, power
    >>> x = name("x")
    >>> root = power(x**2 + 3*x + 2, number(1)/2)
    >>> short, table = abbreviate([root + 1/root + x*root], lambda k: f"A_{k}")
    >>> print(short[0], "where", ", ".join(f"{n} = {e}" for n, e in table))
    sqrt(A_1)*x + sqrt(A_1) + 1/sqrt(A_1) where A_1 = x^2 + 3*x + 2
    """
    current = list(roots)
    table: list[tuple[Name, Expression]] = []
    taken = {n.name for r in roots for n in names(r)}
    count = 0
    known: dict[Node, float] = {}
    while len(table) < most:
        checkpoint()
        piece = _best(current + [e for _, e in table], known)
        if piece is None:
            break
        count += 1
        while new_name(count) in taken:
            count += 1
        short = name(new_name(count), _domain(piece))
        current = [replace(r, piece, short) for r in current]
        table = [(n, replace(e, piece, short)) for n, e in table]
        table.append((short, piece))
    return current, _in_order(table)


def _domain(piece: Expression) -> str:
    """What a name for a piece ranges over: a real name would come out of the real part of a product."""
    if bits.is_positive(piece.known):
        return "positive"
    turned = has_imaginary_unit(piece) or any(
        (isinstance(n, Name) and n.domain == "complex") or (isinstance(n, AlgebraicNumber) and not bits.is_real(n.known))
        for n in postorder(piece)
    )
    return "complex" if turned and not bits.is_real(piece.known) else "real"


def _best(roots: list[Expression], known: dict[Node, float]) -> Expression | None:
    """The piece whose name saves a reader most, or None when none saves enough; known: sizes of parts, kept from name to name."""
    order = postorder(*roots)
    size_of = sizes(roots, known)
    count = _seen(roots, order)
    arguments = [
        n.base if isinstance(n, Power) else n.arguments[0]
        for n in order
        if isinstance(n, Power) or (isinstance(n, Call) and n.arguments)
    ]
    natural = set(arguments)
    best, gain = None, LEAST_GAIN
    for node in order:
        if isinstance(node, (Number, Name, Applied)) or not isinstance(node, Expression) or node in roots:
            continue
        times, size = count[node], max(size_of[node], SMALLEST if isinstance(node, AlgebraicNumber) else 0)
        if times < 2 or size < SMALLEST:
            continue
        saved = ((times - 1) * (size - 1) - 3) * (NATURAL if node in natural else 1.0)
        if saved > gain:
            best, gain = node, saved
    return best if best is not None else _best_subsum(roots, count, size_of)


def _seen(roots: list[Expression], order: list[Node]) -> dict[Node, int]:
    """How often each piece is seen in the text."""
    count = dict.fromkeys(order, 0)
    for root in roots:
        count[root] += 1
    for node in reversed(order):  # parents before children
        for child in node.children:
            count[child] += count[node]
    return count


def _best_subsum(roots: list[Expression], count: dict[Node, int], size_of: dict[Node, float]) -> Expression | None:
    """A root over a piece, and its powers of other exponents: the common radicand."""
    found: dict[Expression, int] = {}
    for node in postorder(*roots):
        if isinstance(node, Power) and isinstance(node.base, (Sum, Product)):
            found[node.base] = found.get(node.base, 0) + count[node]
    best, gain = None, LEAST_GAIN
    for base, times in found.items():
        size = size_of[base]
        if times > 1 and size >= SMALLEST and (times - 1) * (size - 1) - 3 > gain and base not in roots:
            best, gain = base, (times - 1) * (size - 1) - 3
    return best


def replace(root: Expression, piece: Expression, short: Expression) -> Expression:
    """The piece by its name, inside its other powers too: with w for sqrt(k/m), k/m is w^2; with T for R*C, t/(R*C) is t/T."""
    done: dict[Node, Any] = {}
    for node in postorder(root):
        if node is piece:
            done[node] = short
            continue
        found = _as_power(node, piece, short)
        if found is not None:
            done[node] = found
            continue
        new = tuple([done[c] for c in node.children])
        changed = any(a is not b for a, b in zip(new, node.children, strict=True))
        made = rebuild(node, new) if changed else node
        done[node] = _with_factors(made, piece, short) if isinstance(made, Product) else made
    return done[root]


def _as_power(node: Node, piece: Expression, short: Expression) -> Expression | None:
    """A power of what the piece is a power of, as a power of the piece."""
    if not isinstance(piece, Power) or isinstance(piece.base, Name):
        return None
    base, exponent = (node.base, node.exponent) if isinstance(node, Power) else (node, number(1))
    if base is not piece.base:
        return None
    ratio = exponent / piece.exponent
    if not (isinstance(ratio, Number) and ratio.is_rational) or (not ratio.is_whole and not _turns_little(piece.exponent)):
        return None
    return short**ratio


def _turns_little(exponent: Expression) -> bool:
    """Whether a power leaves the argument of its base between -pi and pi, so that z^p is (z^q)^(p/q)."""
    return isinstance(exponent, Number) and exponent.is_rational and -1 < exponent.rational <= 1


def _with_factors(node: Product, piece: Expression, short: Expression) -> Expression:
    """A product in which all the factors stand of which the piece is a power, to one whole power."""
    base, exponent = _parted(piece)
    if not isinstance(base, Product):
        return node
    there = dict(map(_parted, node.factors))
    ratios = {there.get(inner, ZERO) / power for inner, power in map(_parted, base.factors)}
    ratio = next(iter(ratios))
    whole = isinstance(ratio, Number) and ratio.is_whole and ratio is not ZERO
    times = ratio / exponent
    if len(ratios) > 1 or not whole or not (isinstance(times, Number) and times.is_whole):
        return node
    return node * short**times / base**ratio


def _parted(factor: Expression) -> tuple[Expression, Expression]:
    return (factor.base, factor.exponent) if isinstance(factor, Power) else (factor, number(1))


def _in_order(table: list[tuple[Name, Expression]]) -> list[tuple[Name, Expression]]:
    """Definitions before their use."""
    left, result, known = list(table), [], set()
    waiting = {n for n, _ in table}
    while left:
        for entry in left:
            if not any(n in waiting and n not in known for n in names(entry[1])):
                result.append(entry)
                known.add(entry[0])
                left.remove(entry)
                break
        else:
            return result + left
    return result
