"""Careful code, for formulas whose plain code loses digits: every value is a pair, the number and what its rounding lost.

Sources: T. J. Dekker, "A Floating-Point Technique for Extending the Available Precision" (1971); Y. Hida, X. S. Li, D. H. Bailey,
"Algorithms for Quad-Double Precision Floating Point Arithmetic" (2001). The arithmetic itself stands in `pairs/`, one file a
language, and generated files take from it what they use.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from functools import lru_cache
from importlib import resources
from typing import Protocol

from gmpy2 import mpq

from gelvo.code.accuracy import partial_derivative
from gelvo.code.digits.numeric import BINADE, MARKS, is_numeric
from gelvo.code.pieces import PRODUCT, SUM, Line, Piece, statements_in
from gelvo.code.program import prepared
from gelvo.errors import DomainError, ExportError
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.building import call, sqrt
from gelvo.expression.nodes import Bound, Call, Cases, Condition, Expression, Name, Node, Number, Power, Product, Sum
from gelvo.expression.traversal import free_names, postorder, transform
from gelvo.numbers.exact import HALF, nearest_float, real
from gelvo.numbers.interval import NoValue, exact

BITS = 300
AS_ELEMENTARY = ("sinh", "cosh", "asinh", "acosh", "atanh", "expm1", "log1p", "hypot", "log10", "log2")
PAIR_FUNCTIONS = {"exp": "pair_exp", "ln": "pair_log", "sin": "pair_sin", "cos": "pair_cos", "atan2": "pair_angle"}
BY_OTHERS: dict[str, Callable[..., Expression]] = {
    "tan": lambda x: call("sin", x) / call("cos", x),
    "tanh": lambda x: 1 - 2 / (call("exp", 2 * x) + 1),
    "asin": lambda x: call("atan2", x, sqrt((1 - x) * (1 + x))),
    "acos": lambda x: call("atan2", sqrt((1 - x) * (1 + x)), x),
}


class Writing(Protocol):
    """What the writer of a program does for a part that is worked out on pairs."""

    functions: Mapping[str, str]
    syntax: Mapping[str, str]
    _named: dict[Node, Piece]

    def kept(self, text: str, kind: str = "number") -> Piece: ...
    def render(self, root: Expression) -> Piece: ...
    def rounded(self, q: mpq) -> Piece: ...
    def literal(self, value: float) -> Piece: ...
    def condition(self, node: Node, done: Mapping[Node, Piece]) -> Piece: ...


class Pairs:
    """The parts of one block that are worked out on pairs, one operation a statement."""

    def __init__(self, writer: Writing) -> None:
        self._writer, self.functions, self.syntax = writer, writer.functions, writer.syntax
        self._pairs: dict[Node, str] = {}

    def value(self, e: Expression) -> Piece:
        """The number that a formula gives when every step is carried as a pair."""
        e = transform(e, _by_elementary)
        inside = e.arguments[0] if isinstance(e, Call) and e.name == "exp" else e
        for node in _in_order([inside]):
            if node not in self._pairs:
                self._pairs[node] = self._emitted(node)
        if inside is not e:  # only the argument needs a pair: what its rounding lost is put in afterwards
            power = self.functions["exp"].format(self._high(inside))
            return Piece(f"{power}*({self._writer.literal(1.0).text} + {self._low(inside)})", 1, PRODUCT)
        return Piece(f"{self._high(e)} + {self._low(e)}", 1, SUM)

    def _high(self, node: Node) -> str:
        return self.syntax["high"].format(self._pairs[node])

    def _low(self, node: Node) -> str:
        return self.syntax["low"].format(self._pairs[node])

    def _pair(self, text: str) -> str:
        return self._writer.kept(text, "pair").text

    def _number(self, q: mpq) -> str:
        """A number as a pair: the nearest double, and the double nearest to the rest."""
        high = self._writer.rounded(q)
        return f"pair_of({high.text}, {self._writer.literal(float(q - mpq(nearest_float(q)))).text})"

    def _emitted(self, node: Expression) -> str:
        if isinstance(node, Name):
            return self._pair(f"pair_of({self._writer._named[node].text}, {self._writer.literal(0.0).text})")
        if not free_names(node):
            return self._pair(self._number(_constant(node)))
        if isinstance(node, Sum):
            terms = [self._scaled_pair(real(c), t) for t, c in node.items()]
            return self._chain("pair_sum", [*terms, *[self._number(real(node.constant))] * bool(node.constant)])
        if isinstance(node, Product):
            return self._times(real(node.coefficient), self._chain("pair_product", [self._pairs[f] for f in node.factors]))
        if isinstance(node, Power):
            return self._power_pair(node)
        if isinstance(node, Cases):
            return self._cases_pair(node)
        assert isinstance(node, Call)
        return self._call_pair(node)

    def _call_pair(self, node: Call) -> str:
        if node.function is BINADE:  # a power of two has no rounding
            return self._pair(f"pair_of({self._writer.render(node).text}, {self._writer.literal(0.0).text})")
        inside = [self._pairs[x] for x in node.arguments]
        if node.function in MARKS:
            return inside[0]
        if node.name in PAIR_FUNCTIONS:
            return self._pair(f"{PAIR_FUNCTIONS[node.name]}({', '.join(inside)})")
        if node.name == "atan":
            return self._pair(f"pair_angle({inside[0]}, {self._number(mpq(1))})")
        if node.name == "abs":
            minus = self._pair(f"pair_product({self._number(mpq(-1))}, {inside[0]})")
            below = f"{self.syntax['high'].format(inside[0])} < {self._writer.literal(0.0).text}"
            return self._pair(f"pair_choice({below}, {minus}, {inside[0]})")
        return self._extreme(node) if node.name in ("min", "max") else self._function_pair(node)

    def _scaled_pair(self, coefficient: mpq, term: Expression) -> str:
        return self._times(coefficient, self._pairs[term])

    def _times(self, coefficient: mpq, pair: str) -> str:
        """A number times a pair; a power of two has no rounding."""
        if coefficient == 1:
            return pair
        if all(int(k) & (int(k) - 1) == 0 for k in (abs(coefficient.numerator), coefficient.denominator)):
            high, low = (self.syntax[part].format(pair) for part in ("high", "low"))
            factor = self._writer.rounded(coefficient).text
            return self._pair(f"pair_of({factor}*{high}, {factor}*{low})")
        return self._pair(f"pair_product({self._number(coefficient)}, {pair})")

    def _chain(self, helper: str, pieces: list[str]) -> str:
        result = pieces[0]
        for piece in pieces[1:]:
            result = self._pair(f"{helper}({result}, {piece})")
        return result

    def _power_pair(self, node: Power) -> str:
        base, q = self._pairs[node.base], node.exponent.rational if isinstance(node.exponent, Number) else None
        if q is None or q.denominator > 2:
            logarithm = self._pair(f"pair_log({base})")
            exponent = self._number(q) if q is not None else self._pairs[node.exponent]
            inner = self._pair(f"pair_product({exponent}, {logarithm})")
            return self._pair(f"pair_exp({inner})")
        if q.denominator == 2:
            base, q = self._pair(f"pair_root({base})"), q / HALF
        result = self._whole_power(base, abs(int(q)))
        one = self._number(mpq(1))
        return result if q > 0 else self._pair(f"pair_ratio({one}, {result})")

    def _whole_power(self, base: str, exponent: int) -> str:
        result, square = "", base
        while exponent:
            if exponent & 1:
                result = self._pair(f"pair_product({result}, {square})") if result else square
            exponent >>= 1
            if exponent:
                square = self._pair(f"pair_product({square}, {square})")
        return result

    def _extreme(self, node: Call) -> str:
        sign = "<" if node.name == "min" else ">"
        result = self._pairs[node.arguments[0]]
        for other in node.arguments[1:]:
            first, second = (self.syntax["high"].format(p) for p in (result, self._pairs[other]))
            result = self._pair(f"pair_choice({first} {sign} {second}, {result}, {self._pairs[other]})")
        return result

    def _cases_pair(self, node: Cases) -> str:
        nan = (
            self._pair(f"pair_of({self.syntax['nan']}, {self._writer.literal(0.0).text})")
            if isinstance(node.otherwise, Bound)
            else ""
        )
        highs: Mapping[Node, Piece] = {e: Piece(self._high(e), plain=True) for e in self._pairs}
        rest = nan or self._pairs[node.otherwise]
        for value, condition in zip(reversed(node.values[:-1]), reversed(node.conditions), strict=True):
            done = dict(highs)
            for part in postorder(condition):
                if isinstance(part, Condition):
                    done[part] = self._writer.condition(part, done)
            chosen = nan if isinstance(value, Bound) else self._pairs[value]
            rest = self._pair(f"pair_choice({done[condition].text}, {chosen}, {rest})")
        return rest

    def _function_pair(self, node: Call) -> str:
        """f at the numbers, and its derivatives times what their rounding lost."""
        value = self._writer.kept(self.functions[node.name].format(*[self._high(x) for x in node.arguments])).text
        lost: list[str] = []
        for k, argument in enumerate(node.arguments):
            try:
                slope = partial_derivative(node.function, len(node.arguments), k)
                if slope is None:
                    continue
                formula = prepared(slope.formula, self.functions)
            except (DomainError, ExportError):
                continue  # the derivative has no code: the number alone then
            for place, inner in zip(slope.places, node.arguments, strict=True):
                self._writer._named[place] = Piece(self._high(inner), plain=True)
            lost.append(f"{self._writer.kept(self._writer.render(formula).text).text}*{self._low(argument)}")
        return self._pair(f"pair_of({value}, {' + '.join(lost) or self._writer.literal(0.0).text})")


def _in_order(outputs: Sequence[Expression]) -> list[Expression]:
    """The parts that become pairs, inner ones first: nothing inside of a number, and no exponent that is one."""
    order: dict[Expression, None] = {}
    stack: list[tuple[Node, bool]] = [(e, False) for e in reversed(outputs)]
    while stack:
        node, ready = stack.pop()
        if node in order or isinstance(node, Bound):
            continue
        if ready and isinstance(node, Expression):
            order[node] = None
            continue
        inner = node.children
        if isinstance(node, Expression):
            stack.append((node, True))
            inner = (
                ()
                if not free_names(node) or is_numeric(node, BINADE)
                else (node.base,)
                if isinstance(node, Power) and isinstance(node.exponent, Number)
                else inner
            )
        stack.extend((c, False) for c in reversed(inner))
    return list(order)


def _by_elementary(node: Node) -> Node:
    """A function that has no pairs of its own, by those that have."""
    if isinstance(node, Call):
        row = BY_OTHERS.get(node.name)
        if row is not None:
            return row(*node.arguments)
        if node.name in AS_ELEMENTARY and node.function.as_elementary is not None:
            return node.function.as_elementary(*node.arguments)
    return node


def _constant(node: Expression) -> mpq:
    """A number without names, to many more digits than a pair holds."""
    try:
        return exact(Enclosure(node).at({}, BITS).real.low)
    except NoValue as fault:
        raise ExportError(f"{node} has no value that is known: {fault}") from None


@lru_cache(maxsize=8)
def _arithmetic(file: str, between: str) -> dict[str, str]:
    """Each function of the arithmetic by its name, in order; the first block without a name is what they all need."""
    source = resources.files("gelvo.code").joinpath("pairs", file).read_text(encoding="utf-8").rstrip("\n")
    blocks: dict[str, str] = {}
    for block in source.split(between):
        found = re.search(r"\b(pair_[a-z]+)\(", block)
        blocks[found.group(1) if found else ""] = block
    return blocks


def arithmetic(lines: Sequence[Line], file: str, between: str) -> list[str]:
    """The functions on pairs that some statements use, and those that these use, in the order of the file."""
    blocks = _arithmetic(file, between)
    needed, todo = {""}, [s.right for s in statements_in(lines)]
    while todo:
        for word in re.findall(r"\bpair_[a-z]+", todo.pop()):
            if word in blocks and word not in needed:
                needed.add(word)
                todo.append(blocks[word])
    if len(needed) == 1:
        return []
    return [block for word, block in blocks.items() if word in needed and "import" not in block]
