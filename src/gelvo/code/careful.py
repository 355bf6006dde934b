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
from typing import NamedTuple, Protocol

from gmpy2 import mpq

from gelvo.code.accuracy import partial_derivative
from gelvo.code.digits.exactness import Exact, is_exact, two_products
from gelvo.code.digits.numeric import MARKS
from gelvo.code.fractions import held_exactly, is_power_of_two
from gelvo.code.pieces import PRODUCT, Piece
from gelvo.code.program import below_the_line, prepared
from gelvo.errors import DomainError, ExportError
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.building import call, sqrt
from gelvo.expression.building import name as make_name
from gelvo.expression.nodes import Bound, Call, Cases, Condition, Expression, Node, Number, Power, Product, Sum
from gelvo.expression.traversal import free_names, postorder, transform
from gelvo.numbers.exact import HALF, nearest_float, real
from gelvo.numbers.interval import NoValue, exact

BITS = 300
AS_ELEMENTARY = ("sinh", "cosh", "asinh", "acosh", "atanh", "expm1", "log1p", "hypot", "log10", "log2")
PAIR_FUNCTIONS = {"exp": "pair_exp", "ln": "pair_log", "sin": "pair_sin", "cos": "pair_cos", "atan2": "pair_angle"}
# derivatives that the value of the function says: they cost no second function
BY_VALUE: dict[str, Callable[[Expression], Expression]] = {
    "expm1": lambda v: v + 1,
    "tan": lambda v: 1 + v**2,
    "tanh": lambda v: 1 - v**2,
}
_VALUE = make_name("value_")
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


# functions whose derivative is nowhere beyond what a double holds, so that nothing has to be put aside
BOUNDED = frozenset(("sin", "cos", "atan", "tanh", "erf", "erfc"))
# functions that go on turning: far out a loss of more than a small part of a turn is no matter of a derivative
WAVES = frozenset(("sin", "cos", "tan", "besselj", "bessely"))
STEPPED = frozenset(("abs", "sign", "floor", "ceil", "heaviside", "min", "max", "factorial", "binade", "grouped", "careful"))


def takes_pairs(node: Node) -> bool:
    """Whether a part is worked out as a number of arguments that are pairs: a function with a derivative, or a general power."""
    if isinstance(node, Power):
        return not (isinstance(node.exponent, Number) and node.exponent.is_rational and node.exponent.rational.denominator <= 2)
    return isinstance(node, Call) and node.name not in STEPPED and bool(node.function.derivative)


class Carried(NamedTuple):
    """What stands for a part: the text of a number, and of the pair it is the first of; '' where nothing was lost of the number."""

    high: str
    pair: str = ""


class Pairs:
    """The parts of one block that are worked out on pairs, one operation a statement."""

    def __init__(self, writer: Writing) -> None:
        self._writer, self.functions, self.syntax = writer, writer.functions, writer.syntax
        self._zero = writer.literal(0.0).text
        self._known: dict[Node, Carried] = {}

    def value(self, e: Expression) -> Piece:
        """The number that a formula gives when every step is carried as a pair.

        Of a function or a power only the arguments need pairs: what their rounding lost is put in afterwards, to the first order.
        """
        products = two_products(e)
        if products is not None:
            return self._sum_of_products([self._exactly(factor) for product in products for factor in product])
        if takes_pairs(e):
            inner = [transform(x, _by_elementary) for x in e.children if isinstance(x, Expression)]
            self._carry(inner)
            return self._power_of(inner) if isinstance(e, Power) else self._function_of(e, inner)  # type: ignore[arg-type]
        e = transform(e, _by_elementary)
        self._carry([e])
        return Piece(self._high(e))

    def _exactly(self, factor: Exact) -> str:
        """A power of two times what has no rounding, or a number."""
        coefficient, inner = factor
        number = self._writer.rounded(coefficient).text
        if inner is None:
            return number
        text = self._without_rounding(inner)
        return text if coefficient == 1 else f"-{text}" if coefficient == -1 else f"{number}*{text}"

    def _without_rounding(self, e: Expression) -> str:
        """The text of a part that has no rounding, by a name where it is worked out."""
        found = self._writer.render(e)
        return found.text if found.plain else self._writer.kept(found.text).text

    def _sum_of_products(self, factors: Sequence[str]) -> Piece:
        a, b, c, d = factors
        one = self._writer.rounded(mpq(1)).text
        return Piece(self.syntax["fused"].format(a, b, c) if d == one else f"sum_of_products({a}, {b}, {c}, {d})", 1)

    def _carry(self, outputs: Sequence[Expression]) -> None:
        for node in _in_order(outputs):
            if node not in self._known:
                self._known[node] = self._emitted(node)

    def _high(self, node: Node) -> str:
        return self._known[node].high

    def _low(self, node: Node) -> str:
        """What the number has lost; '' for nothing."""
        pair = self._known[node].pair
        return self.syntax["low"].format(pair) if pair else ""

    def _paired(self, part: Carried) -> str:
        return part.pair or f"pair_of({part.high}, {self._zero})"

    def _pair(self, text: str) -> Carried:
        word = self._writer.kept(text, "pair").text
        return Carried(self.syntax["high"].format(word), word)

    def _number(self, q: mpq) -> Carried:
        """A number: the nearest double, and the double nearest to the rest."""
        high, rest = self._writer.rounded(q).text, float(q - mpq(nearest_float(q)))
        return self._pair(f"pair_of({high}, {self._writer.literal(rest).text})") if rest else Carried(high)

    def _emitted(self, node: Expression) -> Carried:
        if not free_names(node):
            return self._number(_constant(node))
        if is_exact(node):
            return Carried(self._without_rounding(node))
        if isinstance(node, Sum):
            terms = [self._times(real(c), self._known[t]) for t, c in node.items()]
            return self._chain("sum", "added", [*terms, *[self._number(real(node.constant))] * bool(node.constant)])
        if isinstance(node, Product):
            above, below = ([self._known[f] for f in side] for side in _sides(node))
            return self._quotient(real(node.coefficient), above, below)
        if isinstance(node, Power):
            return self._power_pair(node)
        if isinstance(node, Cases):
            return self._cases_pair(node)
        assert isinstance(node, Call)
        return self._call_pair(node)

    def _call_pair(self, node: Call) -> Carried:
        inside = [self._known[x] for x in node.arguments]
        if node.function in MARKS:
            return inside[0]
        if node.name in PAIR_FUNCTIONS:
            return self._pair(f"{PAIR_FUNCTIONS[node.name]}({', '.join(map(self._paired, inside))})")
        if node.name == "atan":
            return self._pair(f"pair_angle({self._paired(inside[0])}, {self._paired(self._number(mpq(1)))})")
        if node.name == "abs":
            return self._chosen(f"{inside[0].high} < {self._zero}", self._times(mpq(-1), inside[0]), inside[0])
        return self._extreme(node) if node.name in ("min", "max") else self._function_pair(node)

    def _times(self, coefficient: mpq, part: Carried) -> Carried:
        """A number times a part; a power of two has no rounding."""
        if coefficient == 1:
            return part
        if is_power_of_two(coefficient):
            factor = self._writer.rounded(coefficient)
            if part.pair:
                return self._pair(f"pair_scaled({factor.text}, {part.pair})")
            return Carried(self._writer.kept(f"-{part.high}" if coefficient == -1 else f"{factor.text}*{part.high}").text)
        return self._quotient(coefficient, [part], [])

    def _quotient(self, coefficient: mpq, above: list[Carried], below: list[Carried]) -> Carried:
        """A number times factors, over others; a short fraction is a division, which loses less than its digits would."""
        if is_power_of_two(coefficient):
            outside, factors = coefficient, above
        elif held_exactly(abs(coefficient)):
            outside, factors = mpq(1), [self._number(coefficient), *above]
        else:
            outside = mpq(1 if coefficient > 0 else -1)
            over, under = (mpq(k) for k in (abs(coefficient.numerator), coefficient.denominator))
            factors = [*[self._number(over)] * (over != 1), *above]
            below = [*below, self._number(under)]
        top = self._chain("product", "multiplied", factors or [self._number(mpq(1))])
        if below:
            bottom = self._chain("product", "multiplied", below)
            if top.pair or bottom.pair:
                top = self._pair(f"pair_ratio({self._paired(top)}, {self._paired(bottom)})")
            else:
                top = self._pair(f"pair_divided({top.high}, {bottom.high})")
        return self._times(outside, top)

    def _chain(self, of_pairs: str, of_numbers: str, parts: list[Carried]) -> Carried:
        """Sums or products, by one function for pairs and one for two numbers that have lost nothing."""
        result = parts[0]
        for part in parts[1:]:
            if result.pair or part.pair:
                result = self._pair(f"pair_{of_pairs}({self._paired(result)}, {self._paired(part)})")
            else:
                result = self._pair(f"pair_{of_numbers}({result.high}, {part.high})")
        return result

    def _power_pair(self, node: Power) -> Carried:
        base, q = self._known[node.base], node.exponent.rational if isinstance(node.exponent, Number) else None
        if q is None or q.denominator > 2:
            logarithm = self._pair(f"pair_log({self._paired(base)})")
            exponent = self._number(q) if q is not None else self._known[node.exponent]
            inner = self._chain("product", "multiplied", [exponent, logarithm])
            return self._pair(f"pair_exp({self._paired(inner)})")
        if q.denominator == 2:
            base, q = self._pair(f"pair_root({self._paired(base)})"), q / HALF
        result = self._whole_power(base, abs(int(q)))
        return result if q > 0 else self._quotient(mpq(1), [], [result])

    def _whole_power(self, base: Carried, exponent: int) -> Carried:
        result: Carried | None = None
        square = base
        while exponent:
            if exponent & 1:
                result = self._chain("product", "multiplied", [result, square]) if result else square
            exponent >>= 1
            if exponent:
                square = self._chain("product", "multiplied", [square, square])
        assert result is not None
        return result

    def _extreme(self, node: Call) -> Carried:
        sign = "<" if node.name == "min" else ">"
        result = self._known[node.arguments[0]]
        for other in (self._known[x] for x in node.arguments[1:]):
            result = self._chosen(f"{result.high} {sign} {other.high}", result, other)
        return result

    def _chosen(self, condition: str, one: Carried, other: Carried) -> Carried:
        return self._pair(f"pair_choice({condition}, {self._paired(one)}, {self._paired(other)})")

    def _cases_pair(self, node: Cases) -> Carried:
        nan = Carried(self.syntax["nan"])
        highs: Mapping[Node, Piece] = {e: Piece(part.high, plain=True) for e, part in self._known.items()}
        rest = nan if isinstance(node.otherwise, Bound) else self._known[node.otherwise]
        for value, condition in zip(reversed(node.values[:-1]), reversed(node.conditions), strict=True):
            done = dict(highs)
            for part in postorder(condition):
                if isinstance(part, Condition):
                    done[part] = self._writer.condition(part, done)
            rest = self._chosen(done[condition].text, nan if isinstance(value, Bound) else self._known[value], rest)
        return rest

    def _function_pair(self, node: Call) -> Carried:
        """f at the numbers, and its derivatives times what their rounding lost."""
        value, lost = self._with_losses(node, node.arguments)
        return self._pair(f"pair_of({value}, {lost or self._zero})")

    def _function_of(self, node: Call, inner: Sequence[Expression]) -> Piece:
        """The number that a function gives for arguments on pairs."""
        if node.name == "exp":
            power, low = self.functions["exp"].format(self._high(inner[0])), self._low(inner[0])
            return Piece(f"{power}*({self._writer.literal(1.0).text} + {low})", 1, PRODUCT) if low else Piece(power, 1)
        value, lost = self._with_losses(node, inner)
        if not lost:
            return Piece(value, plain=True)
        if node.name in BOUNDED:
            return self._writer.kept(f"{value} + {lost}")
        return Piece(self._pair(f"pair_of({value}, {lost})").high)

    def _with_losses(self, node: Call, inner: Sequence[Expression]) -> tuple[str, str]:
        """f at the numbers, and what they have lost times its derivatives; '' for nothing."""
        value = self._writer.kept(self.functions[node.name].format(*map(self._high, inner))).text
        lost: list[str] = []
        for k, x in enumerate(inner):
            low = self._low(x)
            slope = self._slope(node, k, inner, value) if low else ""
            if slope:
                lost.append(f"{slope}*{f'pair_small({low})' if node.name in WAVES else low}")
        return value, " + ".join(lost)

    def _slope(self, node: Call, k: int, inner: Sequence[Expression], value: str) -> str:
        """The derivative by an argument; '' where it has no code, so that the number stands alone."""
        here = {_VALUE: value}
        row = BY_VALUE.get(node.name)
        if row is not None:
            formula = row(_VALUE)
        else:
            try:
                slope = partial_derivative(node.function, len(node.arguments), k)
                if slope is None:
                    return ""
                formula = prepared(slope.formula, self.functions)
            except (DomainError, ExportError):
                return ""
            here = {place: self._high(x) for place, x in zip(slope.places, inner, strict=True)}
        outer = self._writer._named  # an input may be called as a place is
        self._writer._named = {place: Piece(text, plain=True) for place, text in here.items()}
        found = self._writer.kept(self._writer.render(formula).text).text
        self._writer._named = outer
        return found

    def _power_of(self, inner: Sequence[Expression]) -> Piece:
        """The number that a power gives for a base and an exponent on pairs."""
        base, exponent = map(self._high, inner)
        value = self.syntax["power"].format(base, exponent)
        lost = []
        if self._low(inner[0]):
            lost.append(f"{exponent}*({self._low(inner[0])}/{base})")
        if self._low(inner[1]):
            lost.append(f"{self._low(inner[1])}*{self.functions['ln'].format(base)}")
        return self._writer.kept(f"pair_grown({value}, {' + '.join(lost)})") if lost else Piece(value, 1, PRODUCT)


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
        inner: Sequence[Node] = node.children
        if isinstance(node, Expression):
            stack.append((node, True))
            inner = _inside(node)
        stack.extend((c, False) for c in reversed(inner))
    return list(order)


def _inside(node: Expression) -> Sequence[Node]:
    """The parts of a part that become pairs."""
    if not free_names(node) or is_exact(node):
        return ()
    if isinstance(node, Product):
        return [f for side in _sides(node) for f in side]
    return (node.base,) if isinstance(node, Power) and isinstance(node.exponent, Number) else node.children


def _sides(node: Product) -> tuple[list[Expression], list[Expression]]:
    """The factors above the line, and what the others are divisions by."""
    inverses = [(f, below_the_line(f)) for f in node.factors]
    return [f for f, inverse in inverses if inverse is None], [i for _, i in inverses if i is not None]


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


_WORDS = r"pair_[a-z]+|sum_of_products"


@lru_cache(maxsize=8)
def _arithmetic(file: str, between: str) -> dict[str, str]:
    """Each function of the arithmetic by its name, in order, and the type of a pair, where a language has one."""
    source = resources.files("gelvo.code").joinpath("pairs", file).read_text(encoding="utf-8").rstrip("\n")
    blocks: dict[str, str] = {}
    for block in source.split(between):
        found = re.search(rf"\b({_WORDS})\(", block)
        blocks[found.group(1) if found else "pair"] = block
    return blocks


def arithmetic(code: str, file: str, between: str) -> list[str]:
    """The functions on pairs that some code uses, and those that these use, in the order of the file."""
    blocks = _arithmetic(file, between)
    needed: set[str] = set()
    todo = [code]
    while todo:
        for word in re.findall(rf"\b({_WORDS}|pair)\b", todo.pop()):
            if word in blocks and word not in needed:
                needed.add(word)
                todo.append(blocks[word])
    return [block for word, block in blocks.items() if word in needed and "import" not in block]
