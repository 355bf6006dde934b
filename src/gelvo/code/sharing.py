"""Products and sums that several formulas have in common as parts of longer ones, worked out once.

A product of three factors and one of four are different formulas even where two of their factors are the same. The pair that most of them
have is taken first, then the next one; the same with sums, whose terms may stand behind a common number.
Source: M. A. Breuer, "Generation of optimal code for expressions via factorization" (1969); A. Hosangadi, F. Fallah, R. Kastner,
"Optimizing polynomial expressions by algebraic factorization and common subexpression elimination" (2006).
"""

from __future__ import annotations

import heapq
import itertools
from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from gmpy2 import mpq

from gelvo.code.digits.cost import cost
from gelvo.code.digits.numeric import CAREFUL, grouped, is_numeric
from gelvo.code.program import small_power
from gelvo.deadline import checkpoint
from gelvo.expression.building import multiply_all, number, power, total
from gelvo.expression.nodes import Expression, Node, Number, Power, Product, Sum
from gelvo.expression.traversal import postorder, rebuild
from gelvo.numbers.exact import Gaussian

WORTH = 2.0  # what is saved at least, in units of an addition: formulas are left as they were written for less
LONGEST = 40  # what is longer is added up in groups anyway

Pair = tuple[Any, Any, Any]  # two parts, and the ratio of their coefficients; parts are numbers of a table


def shared_pairs(outputs: Mapping[str, Expression]) -> dict[str, Expression]:
    """The outputs with common pairs of factors, then of terms, as parts of their own, where that costs less.

    >>> from gelvo.expression.building import name
    >>> a, b, c, d, f = map(name, "abcdf")
    >>> found = shared_pairs({"x": a*b*c*d, "y": a*b*c*f, "z": a*b*c + d})
    >>> [str(e) for e in found.values()]
    ['d*grouped(a*b*c)', 'f*grouped(a*b*c)', 'd + grouped(a*b*c)']
    """
    roots = list(outputs.values())
    if any(is_numeric(n, CAREFUL) for n in postorder(*roots)):
        return dict(outputs)
    best = min(_in_pairs(roots), _in_pairs(_factored(roots)), key=lambda way: cost(*way))
    return dict(zip(outputs, best, strict=True)) if cost(*best) + WORTH <= cost(*roots) else dict(outputs)


def _in_pairs(roots: Sequence[Expression]) -> list[Expression]:
    for kind in (_Products, _Sums):
        roots = kind(roots).rewritten()
    return list(roots)


def _factored(roots: Sequence[Expression]) -> list[Expression]:
    """Sums with the factor that most of their terms have in front, again and again: a*x + a*y + b is a*(x + y) + b."""
    done: dict[Node, Node] = {}
    for node in postorder(*roots):
        children = tuple(done[c] for c in node.children)
        ready = node if children == node.children else rebuild(node, children)
        done[node] = _with_factors(ready) if isinstance(ready, Sum) and len(ready.terms) <= LONGEST else ready
    return [done[r] for r in roots]  # type: ignore[misc]


def _with_factors(e: Sum) -> Expression:
    terms = [(number(c), dict(map(_repeated, t.factors if isinstance(t, Product) else (t,)))) for t, c in e.items()]
    if any(isinstance(c, Gaussian) for c in (e.constant, *e.coefficients)):
        return e
    return total([number(e.constant), _by_factors(terms)])


def _by_factors(terms: Sequence[tuple[Expression, dict[Expression, int]]]) -> Expression:
    counts: dict[Expression, int] = {}
    for _, factors in terms:
        for factor in factors:
            counts[factor] = counts.get(factor, 0) + 1
    best = max(counts, key=lambda f: counts[f], default=None)
    if best is None or counts[best] < 2:
        return total([multiply_all([c, *[power(f, number(k)) for f, k in factors.items()]]) for c, factors in terms])
    inside = [(c, _without(factors, best)) for c, factors in terms if best in factors]
    outside = [(c, factors) for c, factors in terms if best not in factors]
    front = best * _by_factors(inside)
    return front + _by_factors(outside) if outside else front


def _without(factors: dict[Expression, int], one: Expression) -> dict[Expression, int]:
    return {f: k - (f is one) for f, k in factors.items() if f is not one or k > 1}


class _Pairs:
    """Rows of parts, each part with its multiplicity (in products) or coefficient (in sums), and the pairs that rows have in common."""

    def __init__(self, roots: Sequence[Expression]) -> None:
        self.roots = roots
        self.parts: list[Any] = []  # a formula, or the pair that a part was made of
        self._numbers: dict[Node, int] = {}
        self.rows: dict[Node, dict[int, Any]] = {}
        self._where: dict[Pair, dict[Node, None]] = {}
        self._heap: list[tuple[int, int, Pair]] = []
        self._order = itertools.count()
        for node in postorder(*roots):
            row = self.row(node)
            if (row and 1 < len(row) <= LONGEST) or (row and len(row) == 1 and max(row.values()) > 1):
                self.rows[node] = row
        for node, row in self.rows.items():
            self._enter(node, self.pairs(row, row))
        self._extract()

    def number_of(self, part: Expression) -> int:
        if part not in self._numbers:
            self._numbers[part] = len(self.parts)
            self.parts.append(part)
        return self._numbers[part]

    def _enter(self, node: Node, pairs: Iterator[Pair]) -> None:
        for pair in pairs:
            places = self._where.setdefault(pair, {})
            if node not in places:
                places[node] = None
                if len(places) > 1:
                    heapq.heappush(self._heap, (-len(places), next(self._order), pair))

    def _extract(self) -> None:
        """Takes the commonest pair out of its rows as a part of its own, until no pair stands in two rows."""
        while self._heap:
            checkpoint()
            count, _, pair = heapq.heappop(self._heap)
            places = [n for n in self._where.get(pair, ()) if self.has(self.rows[n], pair)]
            self._where[pair] = dict.fromkeys(places)
            if len(places) < 2:
                continue
            if len(places) < -count:
                heapq.heappush(self._heap, (-len(places), next(self._order), pair))
                continue
            made = len(self.parts)
            self.parts.append(pair)
            for node in places:
                row = self.rows[node]
                while self.has(row, pair):
                    self.take(row, pair, made)
                self._enter(node, self.pairs({made: row[made]}, row))
            del self._where[pair]

    def rewritten(self) -> list[Expression]:
        """The formulas with the pairs as parts of their own."""
        done: dict[Node, Node] = {}
        made: dict[int, Expression] = {}
        uses = self._uses()
        for node in postorder(*self.roots):
            row = self.rows.get(node)
            if row is None:
                children = tuple(done[c] for c in node.children)
                done[node] = node if children == node.children else rebuild(node, children)
            else:
                for k in row:
                    self._make(k, done, made, uses)
                done[node] = self.whole(node, [(made[k], much) for k, much in row.items()])
        return [done[r] for r in self.roots]  # type: ignore[misc]

    def _uses(self) -> list[int]:
        """How often each part stands in a row or in another part."""
        uses = [0] * len(self.parts)
        for row in self.rows.values():
            for k, much in row.items():
                uses[k] += much if isinstance(much, int) else 1
        for pair in self.parts:
            for k in () if isinstance(pair, Node) else pair[:2]:
                uses[k] += 1
        return uses

    def _make(self, k: int, done: Mapping[Node, Node], made: dict[int, Expression], uses: Sequence[int]) -> None:
        """The formula of a part, with those of the parts that it is made of; what is used once is no part of its own."""
        stack = [k]
        while stack:
            found = self.parts[stack[-1]]
            missing = [] if isinstance(found, Node) else [j for j in found[:2] if j not in made]
            stack += missing
            if missing:
                continue
            top = stack.pop()
            if isinstance(found, Node):
                made[top] = done[found]  # type: ignore[assignment]
            elif top not in made:
                whole = self.joined(made[found[0]], made[found[1]], found[2])
                made[top] = grouped(whole) if uses[top] > 1 else whole

    # what products and sums do in their own way
    def row(self, node: Node) -> dict[int, Any]:
        raise NotImplementedError

    def pairs(self, some: Mapping[int, Any], row: Mapping[int, Any]) -> Iterator[Pair]:
        raise NotImplementedError

    def has(self, row: Mapping[int, Any], pair: Pair) -> bool:
        raise NotImplementedError

    def take(self, row: dict[int, Any], pair: Pair, made: int) -> None:
        raise NotImplementedError

    def joined(self, one: Expression, other: Expression, ratio: Any) -> Expression:
        raise NotImplementedError

    def whole(self, node: Node, parts: Sequence[tuple[Expression, Any]]) -> Expression:
        raise NotImplementedError


def _repeated(factor: Expression) -> tuple[Expression, int]:
    """(x, 3) for x^3, and (x, 1) for any other part."""
    if isinstance(factor, Power) and isinstance(factor.exponent, Number) and small_power(factor) and factor.exponent.rational > 0:
        return factor.base, small_power(factor)
    return factor, 1


class _Products(_Pairs):
    """Factors with how often they stand in a product: small powers are products."""

    def row(self, node: Node) -> dict[int, int]:
        factors = node.factors if isinstance(node, Product) else (node,) if isinstance(node, Power) else ()
        found: dict[int, int] = {}
        for factor in factors:
            part, times = _repeated(factor)
            if part is not node:
                k = self.number_of(part)
                found[k] = found.get(k, 0) + times
        return found

    def pairs(self, some: Mapping[int, int], row: Mapping[int, int]) -> Iterator[Pair]:
        for i in some:
            for j, times in row.items():
                if i != j or times > 1:
                    yield (min(i, j), max(i, j), 1)

    def has(self, row: Mapping[int, int], pair: Pair) -> bool:
        i, j, _ = pair
        return row.get(i, 0) > 1 if i == j else i in row and j in row

    def take(self, row: dict[int, int], pair: Pair, made: int) -> None:
        for k in pair[:2]:
            row[k] -= 1
            if not row[k]:
                del row[k]
        row[made] = row.get(made, 0) + 1

    def joined(self, one: Expression, other: Expression, ratio: Any) -> Expression:
        return one * other

    def whole(self, node: Node, parts: Sequence[tuple[Expression, int]]) -> Expression:
        factors = [power(part, number(times)) if times > 1 else part for part, times in parts]
        return multiply_all([number(node.coefficient), *factors] if isinstance(node, Product) else factors)


class _Sums(_Pairs):
    """Terms with their coefficients; a pair is the same behind any common number."""

    def row(self, node: Node) -> dict[int, mpq]:
        if not isinstance(node, Sum) or any(isinstance(c, Gaussian) for c in (node.constant, *node.coefficients)):
            return {}
        return {self.number_of(term): mpq(c) for term, c in node.items()}

    def pairs(self, some: Mapping[int, mpq], row: Mapping[int, mpq]) -> Iterator[Pair]:
        for i, one in some.items():
            for j, other in row.items():
                if i != j:
                    yield (i, j, other / one) if i < j else (j, i, one / other)

    def has(self, row: Mapping[int, mpq], pair: Pair) -> bool:
        i, j, ratio = pair
        return i in row and j in row and row[j] == ratio * row[i]

    def take(self, row: dict[int, mpq], pair: Pair, made: int) -> None:
        i, j, _ = pair
        row[made] = row.pop(i)
        del row[j]

    def joined(self, one: Expression, other: Expression, ratio: mpq) -> Expression:
        return one + number(ratio) * other

    def whole(self, node: Node, parts: Sequence[tuple[Expression, mpq]]) -> Expression:
        assert isinstance(node, Sum)
        return total([number(node.constant), *[number(much) * part for part, much in parts]])
