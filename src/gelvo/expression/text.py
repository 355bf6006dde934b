"""Formulas as text that reads back to the same formula.

A formula too long or too deep to be written flat comes as a list of shorthands: `a_2 where a_1 = x^2 + x; a_2 = a_1^2`.
"""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.expression import display
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
from gelvo.expression.traversal import names, postorder
from gelvo.numbers.exact import HALF, Gaussian, Scalar, parts

LONGEST_FLAT, DEEPEST_FLAT = 20_000, 150
SUM, PRODUCT, UNARY, POWER, ATOM = 1, 2, 3, 4, 5
Piece = tuple[str, int]


def text(root: Node) -> str:
    """The formula as text.

    >>> from gelvo.expression.building import name
    >>> print(text(name("m") * name("c") ** 2 / 2))
    m*c^2/2
    """
    nodes = postorder(root)
    long: dict[Node, int] = {}
    deep: dict[Node, int] = {}
    taken: set[str] | None = None
    shown: dict[Node, Piece] = {}
    shorthands: list[str] = []
    uses: dict[Node, int] = {}
    for node in reversed(nodes):
        # powers and products are written into their parents, so their parts are used as often as they are
        times = uses.get(node, 1) if isinstance(node, (Power, Product)) else 1
        for child in node.children:
            uses[child] = uses.get(child, 0) + times
    for node in nodes:
        long[node] = 1 + sum(long[c] for c in node.children)
        deep[node] = 1 + max((deep[c] for c in node.children), default=0)
    whole = long[root] <= LONGEST_FLAT and deep[root] <= DEEPEST_FLAT
    limit = LONGEST_FLAT if whole else 60
    if not whole:
        long.clear()
        deep.clear()
    for node in nodes:
        piece = _piece(node, shown)
        if whole:
            shown[node] = piece
            continue
        long[node] = 1 + sum(long[c] for c in node.children)
        deep[node] = 1 + max((deep[c] for c in node.children), default=0)
        plain = isinstance(node, Expression) and node.children and not isinstance(node, (Power, Product))
        if plain and node is not root and (long[node] > limit or deep[node] > 30 or (uses.get(node, 0) > 1 and long[node] > 3)):
            if taken is None:
                taken = {n.name for n in names(root)} | {n.name for n in nodes if isinstance(n, Applied)}
            shorthand = _shorthand(len(shorthands), taken)
            shorthands.append(f"{shorthand} = {piece[0]}")
            shown[node], long[node], deep[node] = (shorthand, ATOM), 1, 1
        else:
            shown[node] = piece
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
    real, imag = parts(value)
    if not imag:
        level = ATOM if real.denominator == 1 and real >= 0 else PRODUCT
        return str(real), level
    size = abs(imag)
    unit = f"{size.numerator}j" + (f"/{size.denominator}" if size.denominator != 1 else "")
    level = ATOM if size.denominator == 1 and imag > 0 else PRODUCT
    if not real:
        return ("-" if imag < 0 else "") + unit, level
    return f"{real} {'-' if imag < 0 else '+'} {unit}", SUM


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


def _piece(node: Node, shown: dict[Node, Piece]) -> Piece:
    if isinstance(node, Number):
        return scalar_text(node.value)
    if isinstance(node, (Name, Constant)):
        return node.name, ATOM
    if isinstance(node, AlgebraicNumber):
        return f"polynomial_root({polynomial_text(node.coefficients)}, {node.index})", ATOM
    if isinstance(node, Bound):
        return node.kind, PRODUCT if node.kind == "-inf" else ATOM
    if isinstance(node, Sum):
        return _sum(node, shown)
    if isinstance(node, (Product, Power)):
        return _product(node, shown)
    if isinstance(node, Call):
        return f"{node.function.name}({_listed(node.arguments, shown)})", ATOM
    if isinstance(node, Applied):
        return _applied(node, shown), ATOM
    if isinstance(node, Written):
        return f"{node.kind}({_listed(node.arguments, shown)})", ATOM
    if isinstance(node, Relation):
        left, sign, right = display.relation_parts(node)
        return f"{shown[left][0]} {sign} {shown[right][0]}", ATOM
    if isinstance(node, Junction):
        glue = f" {node.word} "
        inner = [f"({shown[p][0]})" if isinstance(p, Junction) else shown[p][0] for p in node.parts]
        return glue.join(inner), ATOM
    if isinstance(node, Truth):
        return ("0 = 0" if node.holds else "0 = 1"), ATOM
    assert isinstance(node, Cases)
    pieces = [f"{shown[v][0]} when {shown[c][0]}" for v, c in zip(node.values, node.conditions, strict=False)]
    return f"cases({', '.join(pieces)}, otherwise {shown[node.otherwise][0]})", ATOM


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
        negative, size = _sign(coefficient)
        if term is None:
            body = _wrapped(scalar_text(size), PRODUCT)
        else:
            body = _scaled(size, term, shown)
        if not out:
            out.append(f"-{body}" if negative else body)
        else:
            out.append(f" - {body}" if negative else f" + {body}")
    return "".join(out), SUM


def _sign(value: Scalar) -> tuple[bool, Scalar]:
    real, imag = parts(value)
    if real < 0 or (not real and imag < 0):
        return True, -value
    return False, value


def _scaled(coefficient: Scalar, term: Expression, shown: dict[Node, Piece]) -> str:
    """coefficient * term as one product."""
    factors = term.factors if isinstance(term, Product) else (term,)
    extra = term.coefficient if isinstance(term, Product) else mpq(1)
    return _fraction(coefficient * extra, factors, shown)[0]


def _product(node: Product | Power, shown: dict[Node, Piece]) -> Piece:
    factors = node.factors if isinstance(node, Product) else (node,)
    negative, size = _sign(node.coefficient) if isinstance(node, Product) else (False, mpq(1))
    piece = _fraction(size, factors, shown)
    return (f"-{_wrapped(piece, PRODUCT)}", PRODUCT) if negative else piece


def _fraction(coefficient: Scalar, factors: tuple[Expression, ...], shown: dict[Node, Piece]) -> Piece:
    top: list[Expression] = []
    bottom: list[Expression] = []
    for factor in factors:
        if stands_below(factor):
            bottom.append(factor)
        else:
            top.append(factor)
    upper = _factor_texts(display.reading_order(top), shown, 1)
    lower = _factor_texts(display.reading_order(bottom), shown, -1)
    if isinstance(coefficient, Gaussian):
        real, imag = coefficient.real, coefficient.imag
        common = real.denominator if not real else imag.denominator
        if real:
            upper.insert(0, (f"({scalar_text(coefficient)[0]})", ATOM))
        else:
            upper.insert(0, (f"{imag.numerator}j" if imag > 0 else f"({imag.numerator}j)", ATOM))
            if imag.denominator != 1:
                lower.insert(0, (str(imag.denominator), ATOM))
        del common
    else:
        if coefficient.numerator != 1 or not upper:
            upper.insert(0, (str(coefficient.numerator), ATOM))
        if coefficient.denominator != 1:
            lower.insert(0, (str(coefficient.denominator), ATOM))
    if len(upper) == 1 and not lower:
        return upper[0]
    result = "*".join(_wrapped(u, UNARY) for u in upper)
    if lower:
        below_text = "*".join(_wrapped(p, UNARY) for p in lower)
        result += f"/{below_text}" if len(lower) == 1 else f"/({below_text})"
    return result, PRODUCT


def _factor_texts(factors: list[Expression], shown: dict[Node, Piece], sign: int) -> list[Piece]:
    out: list[Piece] = []
    for base, exponent in display.merged_roots(factors):
        if exponent:
            out.append(_power_text(scalar_text(base.value), exponent * sign) if isinstance(base, Number) else shown[base])
        elif isinstance(base, Power):
            inner = base.exponent
            if isinstance(inner, Number) and inner.is_rational:
                out.append(_power_text(shown[base.base], inner.rational * sign))
            else:
                below = "(e)" if shown[base.base][0] == "e" else _wrapped(shown[base.base], ATOM)  # a bare e^x asks for exp(x)
                out.append((f"{below}^{_wrapped(shown[inner], ATOM)}", POWER))
        else:
            out.append(shown[base])
    return out


def _power_text(base: Piece, exponent: mpq) -> Piece:
    if exponent == 1:
        return base
    if exponent == HALF:
        return f"sqrt({base[0]})", ATOM
    shown = str(exponent)
    return f"{_wrapped(base, ATOM)}^{shown if exponent.denominator == 1 and exponent > 0 else f'({shown})'}", POWER
