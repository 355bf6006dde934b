"""Formulas as text that reads back to the same formula.

A formula too long or too deep to be written flat comes as a list of shorthands: `a_2 where a_1 = x^2 + x; a_2 = a_1^2`.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from gmpy2 import mpq

from gelvo.expression import display
from gelvo.expression.decimals import decimal
from gelvo.expression.nodes import (
    AlgebraicNumber,
    Applied,
    Bound,
    Call,
    Cases,
    Constant,
    Expression,
    Junction,
    Name,
    Node,
    Number,
    Power,
    Product,
    Relation,
    Sum,
    Truth,
    Written,
)
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import fold, names, postorder
from gelvo.expression.writing import writing_now
from gelvo.numbers.exact import HALF, Scalar, parts, real

LONGEST_FLAT, DEEPEST_FLAT = 20_000, 150
SUM, PRODUCT, UNARY, POWER, ATOM = 1, 2, 3, 4, 5
Piece = tuple[str, int]
LONGEST_PART, DEEPEST_PART, SHORT_ENOUGH = (
    60,
    30,
    3,
)  # in a long formula: larger parts get a shorthand, and repeated ones above the last


def text(root: Node) -> str:
    """The formula as text; a long one with shorthands for its parts, which follow after "where".

    >>> from gelvo.expression.building import name
    >>> print(text(name("m") * name("c") ** 2 / 2))
    m*c^2/2
    """
    nodes = postorder(root)
    sizes = _Sizes()
    for node in nodes:
        sizes.note(node)
    if sizes.long[root] <= LONGEST_FLAT and sizes.deep[root] <= DEEPEST_FLAT:
        return fold(root, RULES)[0]
    return _with_shorthands(root, nodes)


class _Sizes:
    """How long the text of each part is, in pieces, and how deep."""

    def __init__(self) -> None:
        self.long: dict[Node, int] = {}
        self.deep: dict[Node, int] = {}

    def note(self, node: Node) -> None:
        self.long[node] = 1 + sum(self.long[c] for c in node.children)
        self.deep[node] = 1 + max((self.deep[c] for c in node.children), default=0)

    def shorten(self, node: Node) -> None:
        self.long[node] = self.deep[node] = 1


def _with_shorthands(root: Node, nodes: list[Node]) -> str:
    uses: dict[Node, int] = {}
    for node in reversed(nodes):
        # powers and products are written into their parents, so their parts are used as often as they are
        times = uses.get(node, 1) if isinstance(node, (Power, Product)) else 1
        for child in node.children:
            uses[child] = uses.get(child, 0) + times
    taken = {n.name for n in names(root)} | {n.name for n in nodes if isinstance(n, Applied)}
    sizes = _Sizes()
    shown: dict[Node, Piece] = {}
    shorthands: list[str] = []
    for node in nodes:
        piece = shown[node] = RULES[type(node)](node, shown)
        sizes.note(node)
        plain = isinstance(node, Expression) and node.children and not isinstance(node, (Power, Product))
        size = sizes.long[node]
        repeated = uses.get(node, 0) > 1 and size > SHORT_ENOUGH
        if plain and node is not root and (size > LONGEST_PART or sizes.deep[node] > DEEPEST_PART or repeated):
            shorthand = _shorthand(len(shorthands), taken)
            shorthands.append(f"{shorthand} = {piece[0]}")
            shown[node] = shorthand, ATOM
            sizes.shorten(node)
    body = shown[root][0]
    return body if not shorthands else f"{body} where " + "; ".join(shorthands)


def _shorthand(count: int, taken: set[str]) -> str:
    stem = "w"
    while any(t.startswith(stem + "_") for t in taken):
        stem += "w"
    return f"{stem}_{count + 1}"


def _wrapped(piece: Piece, level: int) -> str:
    return piece[0] if piece[1] >= level else f"({piece[0]})"


def scalar_text(value: Scalar) -> Piece:
    """An exact number as text."""
    plain, imag = parts(value)
    if not imag:
        found = _decimal(abs(plain))
        if found is not None:
            return ("-" if plain < 0 else "") + found, ATOM if plain > 0 else PRODUCT
        level = ATOM if plain.denominator == 1 and plain >= 0 else PRODUCT
        return str(plain), level
    size = abs(imag)
    unit = f"{size.numerator}j" + (f"/{size.denominator}" if size.denominator != 1 else "")
    level = ATOM if size.denominator == 1 and imag > 0 else PRODUCT
    if not plain:
        return ("-" if imag < 0 else "") + unit, level
    return f"{plain} {'-' if imag < 0 else '+'} {unit}", SUM


def _decimal(value: mpq) -> str | None:
    """A number that is shown as a decimal and is one: what is rounded on paper stays a fraction here, so that it reads back."""
    found = decimal(value, writing_now())
    if found is None or found.is_rounded:
        return None
    return found.text


def polynomial_text(coefficients: tuple[int, ...]) -> str:
    """A polynomial in x, highest power first."""
    out = ""
    for k in range(len(coefficients) - 1, -1, -1):
        c = coefficients[k]
        if not c:
            continue
        power_of = "" if not k else "x" if k == 1 else f"x^{k}"
        size = str(abs(c)) if abs(c) != 1 or not k else ""
        piece = size + ("*" if size and power_of else "") + power_of
        sign = "-" if c < 0 else "+"
        out += (f" {sign} " if out else sign.strip("+")) + piece
    return out


def _listed(arguments: tuple[Expression, ...], shown: dict[Node, Piece]) -> str:
    return ", ".join(shown[a][0] for a in arguments)


def _applied(node: Applied, shown: dict[Node, Piece]) -> str:
    if len(node.orders) == 1:
        order = node.orders[0]
        primes = "'" * order if order <= 4 else f"'[{order}]"
    else:
        primes = f"'[{', '.join(map(str, node.orders))}]" if any(node.orders) else ""
    return f"{node.name}{primes}({_listed(node.arguments, shown)})"


def _sum(node: Sum, shown: dict[Node, Piece]) -> Piece:
    out: list[str] = []
    for coefficient, term in display.sum_terms(node):
        negative, size = display.split_sign(coefficient)
        if term is None:
            body = _wrapped(scalar_text(size), PRODUCT)
        else:
            body = _scaled(size, term, shown)
        if not out:
            out.append(f"-{body}" if negative else body)
        else:
            out.append(f" - {body}" if negative else f" + {body}")
    return "".join(out), SUM


def _scaled(coefficient: Scalar, term: Expression, shown: dict[Node, Piece]) -> str:
    """coefficient * term as one product."""
    factors = factors_in(term)
    extra = term.coefficient if isinstance(term, Product) else mpq(1)
    return _fraction(coefficient * extra, factors, shown, in_sum=True)[0]


def _product(node: Product | Power, shown: dict[Node, Piece]) -> Piece:
    factors = factors_in(node)
    negative, size = display.split_sign(node.coefficient) if isinstance(node, Product) else (False, mpq(1))
    piece = _fraction(size, factors, shown)
    return (f"-{_wrapped(piece, PRODUCT)}", PRODUCT) if negative else piece


def _fraction(coefficient: Scalar, factors: tuple[Expression, ...], shown: dict[Node, Piece], in_sum: bool = False) -> Piece:
    above, below = (
        [_factor_text(f, shown) for f in side] for side in display.quotient(coefficient, factors, in_sum, _has_decimal)
    )
    if len(above) == 1 and not below:
        return above[0]
    result = "*".join(_wrapped(u, UNARY) for u in above)
    if below:
        below_text = "*".join(_wrapped(p, UNARY) for p in below)
        result += f"/{below_text}" if len(below) == 1 else f"/({below_text})"
    return result, PRODUCT


def _has_decimal(value: mpq) -> bool:
    return _decimal(value) is not None


def _factor_text(factor: display.Factor, shown: dict[Node, Piece]) -> Piece:
    pieces = [_base_text(b, shown) for b in factor.bases]
    body = pieces[0]
    if len(pieces) > 1 or factor.divisors:
        above = "*".join(_wrapped(p, UNARY) for p in pieces)
        divisors = [_wrapped(_base_text(b, shown), UNARY) for b in factor.divisors]
        below = "*".join(divisors)
        body = f"{above}/({below})" if len(divisors) > 1 else f"{above}/{below}" if below else above, PRODUCT
    if isinstance(factor.exponent, Expression):
        base = "(e)" if body[0] == "e" else _wrapped(body, ATOM)  # a bare e^x asks for exp(x)
        return f"{base}^{_wrapped(shown[factor.exponent], ATOM)}", POWER
    return _power_text(body, real(factor.exponent))


def _base_text(base: Expression, shown: dict[Node, Piece]) -> Piece:
    return scalar_text(base.value) if isinstance(base, Number) else shown[base]


def _power_text(base: Piece, exponent: mpq) -> Piece:
    if exponent == 1:
        return base
    if exponent == HALF:
        return f"sqrt({base[0]})", ATOM
    shown = str(exponent)
    return f"{_wrapped(base, ATOM)}^{shown if exponent.denominator == 1 and exponent > 0 else f'({shown})'}", POWER


def _root(node: AlgebraicNumber, shown: dict[Node, Piece]) -> Piece:
    return f"polynomial_root({polynomial_text(node.coefficients)}, {node.index})", ATOM


def _relation(node: Relation, shown: dict[Node, Piece]) -> Piece:
    left, sign, right = display.relation_parts(node)
    return f"{shown[left][0]} {sign} {shown[right][0]}", ATOM


def _junction(node: Junction, shown: dict[Node, Piece]) -> Piece:
    inner = [f"({shown[p][0]})" if isinstance(p, Junction) else shown[p][0] for p in node.parts]
    return f" {node.word} ".join(inner), ATOM


def _cases(node: Cases, shown: dict[Node, Piece]) -> Piece:
    pieces = [f"{shown[v][0]} when {shown[c][0]}" for v, c in zip(node.values, node.conditions, strict=False)]
    return f"cases({', '.join(pieces)}, otherwise {shown[node.otherwise][0]})", ATOM


RULES: dict[type[Node], Callable[[Any, dict[Node, Piece]], Piece]] = {
    Number: lambda node, shown: scalar_text(node.value),
    Name: lambda node, shown: (node.name, ATOM),
    Constant: lambda node, shown: (node.name, ATOM),
    AlgebraicNumber: _root,
    Bound: lambda node, shown: (node.kind, PRODUCT if node.kind == "-inf" else ATOM),
    Sum: _sum,
    Product: _product,
    Power: _product,
    Call: lambda node, shown: (f"{node.name}({_listed(node.arguments, shown)})", ATOM),
    Applied: lambda node, shown: (_applied(node, shown), ATOM),
    Written: lambda node, shown: (f"{node.kind}({_listed(node.arguments, shown)})", ATOM),
    Relation: _relation,
    Junction: _junction,
    Truth: lambda node, shown: ("0 = 0" if node.holds else "0 = 1", ATOM),
    Cases: _cases,
}
