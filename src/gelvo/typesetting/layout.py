"""The arrangement of a formula on paper, before any output language: rows, fractions, scripts, roots, fences."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any, NamedTuple, TypeVar

from gmpy2 import mpq

from gelvo.deadline import checkpoint
from gelvo.expression import display
from gelvo.expression.building import name, number, power, total
from gelvo.expression.display import stands_below
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
from gelvo.expression.traversal import fold
from gelvo.numbers.exact import HALF, Gaussian, Scalar, parts

SUM, PRODUCT, POWER, ATOM = 1, 2, 3, 4
R = TypeVar("R")


class Layout(NamedTuple):
    """kind: atom, row, fraction, scripts, root, fence, cases, grid, big; `text` and `style` belong to atoms and fences."""

    kind: str
    children: tuple[Layout | None, ...] = ()
    text: str = ""
    style: str = ""
    level: int = ATOM


def atom(text: str, style: str, level: int = ATOM) -> Layout:
    return Layout("atom", (), text, style, level)


def row(*children: Layout, level: int = ATOM) -> Layout:
    return Layout("row", children, level=level)


def joined(pieces: Sequence[Layout], glue: Layout) -> Layout:
    out: list[Layout] = []
    for piece in pieces:
        if out:
            out.append(glue)
        out.append(piece)
    return out[0] if len(out) == 1 else row(*out)


def fence(body: Layout, kind: str = "()") -> Layout:
    return Layout("fence", (body,), kind)


def wrapped(piece: Layout, level: int) -> Layout:
    return piece if piece.level >= level else fence(piece)


def _root_layout(node: AlgebraicNumber) -> Layout:
    """root_k of a polynomial in x."""
    x = name("x")
    polynomial = total([number(c) * power(x, number(k)) for k, c in enumerate(node.coefficients)])
    return row(Layout("scripts", (atom("root", "text"), atom(str(node.index), "number"), None)), fence(layout_of(polynomial)))


def number_layout(value: Scalar) -> Layout:
    real, imag = parts(value)
    if not imag:
        if real.denominator == 1:
            return atom(str(real), "number", ATOM if real >= 0 else SUM)
        body = Layout(
            "fraction", (atom(str(abs(real.numerator)), "number"), atom(str(real.denominator), "number")), level=PRODUCT
        )
        return body if real > 0 else row(atom("-", "sign"), body, level=SUM)
    unit = atom("i", "imaginary")
    size = abs(imag)
    turned = unit if size == 1 else row(number_layout(size), unit, level=PRODUCT)
    if not real:
        return turned if imag > 0 else row(atom("-", "sign"), turned, level=SUM)
    return row(number_layout(real), atom("+" if imag > 0 else "-", "operator"), turned, level=SUM)


def name_layout(name: str, style: str = "name") -> Layout:
    """theta_1 with its subscript; digits at the end of a word stay on the line."""
    if name.startswith("{"):
        return atom(name.strip("{}"), "unit")  # it stands upright
    stem, _, rest = name.partition("_")
    if not stem or not rest.strip("_"):
        return atom(name, style)
    pieces = [p for p in rest.split("_") if p]
    sub = joined([atom(p, "number" if p.isdigit() else "subscript") for p in pieces], atom(",", "punctuation"))
    return Layout("scripts", (atom(stem, style), sub, None))


def _sum(node: Sum, done: dict[Node, Layout]) -> Layout:
    out: list[Layout] = []
    for coefficient, term in display.sum_terms(node):
        real, imag = parts(coefficient)
        negative = real < 0 or (not real and imag < 0)
        size = -coefficient if negative else coefficient
        body = wrapped(number_layout(size), PRODUCT) if term is None else _scaled(size, term, done)
        if out or negative:
            out.append(atom("-" if negative else "+", "operator" if out else "sign"))
        out.append(wrapped(body, PRODUCT))
    return row(*out, level=SUM)


def _scaled(coefficient: Scalar, term: Expression, done: dict[Node, Layout]) -> Layout:
    factors = factors_in(term)
    extra = term.coefficient if isinstance(term, Product) else mpq(1)
    return _fraction(coefficient * extra, factors, done)


def _product(node: Product | Power, done: dict[Node, Layout]) -> Layout:
    factors = factors_in(node)
    coefficient: Scalar = node.coefficient if isinstance(node, Product) else mpq(1)
    real, imag = parts(coefficient)
    if real < 0 or (not real and imag < 0):
        return row(atom("-", "sign"), wrapped(_fraction(-coefficient, factors, done), PRODUCT), level=SUM)
    return _fraction(coefficient, factors, done)


def _fraction(coefficient: Scalar, factors: Sequence[Expression], done: dict[Node, Layout]) -> Layout:
    top, bottom = ([f for f in factors if stands_below(f) == below] for below in (False, True))
    upper, lower = _pieces(top, 1, done), _pieces(bottom, -1, done)
    if isinstance(coefficient, Gaussian):
        upper.insert(0, wrapped(number_layout(coefficient), PRODUCT))
    else:
        if coefficient.numerator != 1:
            upper.insert(0, number_layout(mpq(coefficient.numerator)))
        if coefficient.denominator != 1:
            lower.insert(0, number_layout(mpq(coefficient.denominator)))
    if not lower:
        return _side_by_side(upper)
    if not upper:
        upper = [number_layout(mpq(1))]
    # one function or sum after a plain fraction reads better beside it than above it
    return Layout("fraction", (_side_by_side(upper), _side_by_side(lower)), level=PRODUCT)


def _pieces(factors: list[Expression], sign: int, done: dict[Node, Layout]) -> list[Layout]:
    out: list[Layout] = []
    for base, exponent in display.merged_roots(display.reading_order(factors)):
        if exponent:
            body = number_layout(base.value) if isinstance(base, Number) else done[base]
            out.append(_power(body, exponent * sign))
        elif isinstance(base, Power):
            inner = base.exponent
            if isinstance(inner, Number) and inner.is_rational:
                out.append(_power(done[base.base], inner.rational * sign, base.base))
            else:
                out.append(Layout("scripts", (wrapped(done[base.base], ATOM), None, done[inner]), level=POWER))
        else:
            out.append(done[base])
    return out


def _power(body: Layout, exponent: mpq, base: Node | None = None) -> Layout:
    if exponent == 1:
        return body
    if exponent == HALF:
        return Layout("root", (body, None))
    if exponent.numerator == 1 and exponent.denominator <= 9:
        return Layout("root", (body, atom(str(exponent.denominator), "number")))
    shown = number_layout(exponent)
    if isinstance(base, Call) and base.name in _POWER_ON_NAME and exponent.denominator == 1 and exponent > 0:
        head, rest = body.children[0], body.children[1:]
        assert head is not None
        return row(Layout("scripts", (head, None, shown)), *[r for r in rest if r is not None], level=PRODUCT)
    if body.kind == "scripts" and body.children[2] is None:
        return Layout("scripts", (body.children[0], body.children[1], shown), level=POWER)
    return Layout("scripts", (wrapped(body, ATOM), None, shown), level=POWER)


_POWER_ON_NAME = ("sin", "cos", "tan", "cot", "sec", "csc", "sinh", "cosh", "tanh")


def _side_by_side(pieces: list[Layout]) -> Layout:
    """Factors beside each other; two numbers get a dot between them."""
    if len(pieces) == 1:
        return pieces[0]
    out: list[Layout] = []
    for place, piece in enumerate(pieces):
        shown = wrapped(piece, PRODUCT)
        if place:
            digits = _starts_with_digit(shown) or (_is_fraction(shown) and _is_fraction(out[-1]))
            out.append(atom("·", "operator") if digits else atom("", "thin"))
        out.append(shown)
    return row(*out, level=PRODUCT)


def _is_fraction(piece: Layout) -> bool:
    return piece.kind == "fraction"


def _starts_with_digit(piece: Layout) -> bool:
    while piece.kind in ("row", "scripts", "fraction") and piece.children[0] is not None:
        piece = piece.children[0]
    return piece.kind == "atom" and piece.text[:1].isdigit()


def _arguments(pieces: Sequence[Layout]) -> Layout:
    return fence(joined(list(pieces), atom(",", "punctuation")))


def _call(node: Call, done: dict[Node, Layout]) -> Layout:
    inner = [done[a] for a in node.arguments]
    name = node.name
    if name == "exp":
        return Layout("scripts", (atom("e", "constant"), None, inner[0]), level=POWER)
    if name in ("abs", "floor", "ceil"):
        return fence(inner[0], {"abs": "||", "floor": "⌊⌋", "ceil": "⌈⌉"}[name])
    if name == "cbrt":
        return Layout("root", (inner[0], atom("3", "number")))
    if name == "factorial":
        return row(wrapped(inner[0], ATOM), atom("!", "postfix"), level=POWER)
    if name == "conj":
        return Layout("over", (inner[0],))
    if name == "binomial":
        return fence(Layout("stack", (inner[0], inner[1])))
    head = atom(name, "function")
    if name in ("log10", "log2"):
        head = Layout("scripts", (atom("log", "function"), atom(name[3:], "number"), None))
    return row(head, _arguments(inner), level=PRODUCT if len(inner) == 1 else ATOM)


def _applied(node: Applied, done: dict[Node, Layout]) -> Layout:
    head = name_layout(node.name)
    if len(node.orders) == 1 and node.orders[0]:
        order = node.orders[0]
        mark = atom("′" * order, "primes") if order <= 3 else fence(atom(str(order), "number"))
        base, sub = (head.children[0], head.children[1]) if head.kind == "scripts" else (head, None)
        head = Layout("scripts", (base, sub, mark))
    elif any(node.orders):
        marks = joined([atom(str(k), "number") for k in node.orders], atom(",", "punctuation"))
        head = Layout("scripts", (head, None, fence(marks)))
    return row(head, _arguments([done[a] for a in node.arguments]))


def _written(node: Written, done: dict[Node, Layout]) -> Layout:
    body, variable = done[node.body], done[node.variable]
    if node.kind == "integral_of":
        ends: tuple[Layout | None, ...] = tuple(done[e] for e in node.arguments[2:]) or (None, None)
        big = Layout("big", ends, "∫")
        return row(big, wrapped(body, PRODUCT), atom("d", "differential"), variable, level=SUM)
    if node.kind == "derivative_of":
        times = done[node.arguments[2]] if len(node.arguments) > 2 else None
        d = atom("d", "differential")
        top = d if times is None else Layout("scripts", (d, None, times))
        below = variable if times is None else Layout("scripts", (variable, None, times))
        return row(Layout("fraction", (top, row(d, below))), wrapped(body, POWER), level=PRODUCT)
    if node.kind == "limit_of":
        under = row(variable, atom("→", "relation"), done[node.arguments[2]])
        return row(Layout("big", (under, None), "lim"), wrapped(body, PRODUCT), level=SUM)
    symbol = "∑" if node.kind == "sum_of" else "∏"
    low = row(variable, atom("=", "relation"), done[node.arguments[2]])
    return row(Layout("big", (low, done[node.arguments[3]]), symbol), wrapped(body, PRODUCT), level=SUM)


def _cases(node: Cases, done: dict[Node, Layout]) -> Layout:
    rows: list[Layout] = []
    for value, condition in zip(node.values, node.conditions, strict=False):
        rows += [done[value], row(atom("if", "word"), done[condition])]
    return Layout("cases", (*rows, done[node.otherwise], atom("otherwise", "word")))


def _relation(node: Relation, done: dict[Node, Layout]) -> Layout:
    left, sign, right = display.relation_parts(node)
    return row(done[left], atom(RELATIONS.get(sign, sign), "relation"), done[right])


CONSTANTS = {"pi": "π", "euler_gamma": "γ", "catalan": "G"}
BOUNDS = {"inf": ("∞", "number"), "-inf": ("-∞", "number"), "undefined": ("undefined", "text")}
RELATIONS = {"<=": "≤", ">=": "≥", "!=": "≠"}
RULES: dict[type[Node], Callable[[Any, dict[Node, Layout]], Layout]] = {
    Number: lambda node, done: number_layout(node.value),
    Name: lambda node, done: name_layout(node.name),
    Constant: lambda node, done: atom(CONSTANTS[node.name], "constant"),
    AlgebraicNumber: lambda node, done: _root_layout(node),
    Bound: lambda node, done: atom(*BOUNDS[node.kind]),
    Sum: _sum,
    Product: _product,
    Power: _product,
    Call: _call,
    Applied: _applied,
    Written: _written,
    Cases: _cases,
    Relation: _relation,
    Junction: lambda node, done: joined([done[p] for p in node.parts], atom(node.word, "word")),
    Truth: lambda node, done: atom("always" if node.holds else "never", "word"),
}


def layout_of(root: Node) -> Layout:
    """The layout of an expression or condition, from the leaves up."""
    return fold(root, RULES)


def grid(pieces: Sequence[Layout], columns: int) -> Layout:
    """A matrix: its entries row by row."""
    return Layout("grid", tuple(pieces), str(columns))


def rendered(root: Layout, kinds: Mapping[str, Callable[[Layout, list[R | None]], R]]) -> R:
    """What the rules of an output language make of a layout, without recursion: each gets its piece and what the children became."""
    order: list[Layout] = []
    stack = [root]
    while stack:
        piece = stack.pop()
        order.append(piece)
        stack.extend(c for c in piece.children if c is not None)
    done: dict[int, R] = {}
    for piece in reversed(order):
        checkpoint()
        done[id(piece)] = kinds[piece.kind](piece, [None if c is None else done[id(c)] for c in piece.children])
    return done[id(root)]
