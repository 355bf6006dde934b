"""The arrangement of a formula on paper, before any output language: each kind of node as pieces beside each other."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from fractions import Fraction
from typing import Any

from gmpy2 import mpq

from gelvo.errors import ExportError, GelvoError
from gelvo.evaluation.value import value
from gelvo.expression import display
from gelvo.expression.building import multiply_all, name, number, power, scale, total
from gelvo.expression.decimals import Decimal, decimal
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
from gelvo.expression.traversal import fold, free_names, names, postorder, tree_size
from gelvo.expression.writing import beside_letters, writing_now
from gelvo.numbers.exact import HALF, Gaussian, Scalar, parts, real
from gelvo.typesetting.letters import DOTS, LETTERS, LINE, MARKS
from gelvo.typesetting.named import kept
from gelvo.typesetting.pieces import ATOM, POWER, PRODUCT, SUM, Layout, atom, fence, inline, joined, row, summed, wrapped

LARGEST = 20_000  # parts of a formula
SPARE = 10  # digits beyond those that are shown, so that rounding twice changes none


def _root_layout(node: AlgebraicNumber) -> Layout:
    """root_k of a polynomial in x."""
    x = name("x")
    polynomial = total([number(c) * power(x, number(k)) for k, c in enumerate(node.coefficients)])
    return row(Layout("scripts", (atom("root", "function"), atom(str(node.index), "number"), None)), fence(layout_of(polynomial)))


def number_layout(value: Scalar) -> Layout:
    plain, imag = parts(value)
    if not imag:
        found = decimal(abs(plain), writing_now())
        if found is not None:
            body = decimal_layout(found)
            return body if plain > 0 else row(atom("-", "sign"), wrapped(body, PRODUCT), level=SUM)
        if plain.denominator == 1:
            return atom(str(plain), "number", ATOM if plain >= 0 else SUM)
        body = Layout(
            "fraction", (atom(str(abs(plain.numerator)), "number"), atom(str(plain.denominator), "number")), level=PRODUCT
        )
        return body if plain > 0 else row(atom("-", "sign"), body, level=SUM)
    unit = atom("j" if "i" in writing_now().taken else "i", "imaginary")
    size = abs(imag)
    turned = unit if size == 1 else row(number_layout(size), unit, level=PRODUCT)
    if not plain:
        return turned if imag > 0 else row(atom("-", "sign"), turned, level=SUM)
    return row(number_layout(plain), atom("+" if imag > 0 else "-", "operator"), turned, level=SUM)


def decimal_layout(found: Decimal) -> Layout:
    """2.1, and with a power of thousand 8.4 × 10⁻⁶."""
    size = atom(found.size, "rounded" if found.is_rounded else "number")
    if not found.power:
        return size
    scale = Layout("scripts", (atom("10", "number"), None, atom(str(found.power), "number")), level=POWER)
    return scale if found.size == "1" and not found.is_rounded else row(size, atom("×", "operator"), scale, level=PRODUCT)


def name_layout(name: str, style: str = "name") -> Layout:
    """theta_1 with its subscript, x_hat and vec_v with a mark above; a whole word stays a word: step_response."""
    if name.startswith("{"):
        return atom(name.strip("{}"), "unit")  # it stands upright
    stem, *pieces = [p for p in name.split("_") if p] or [name]
    if stem in MARKS and pieces:
        stem, pieces = pieces[0], [*pieces[1:], stem]
    if not pieces or (len(stem) > 1 and stem not in LETTERS and not stem[-1].isdigit()) or name.startswith("_"):
        return atom(name, style)
    body = atom(stem, style)
    for mark in [p for p in pieces if p in MARKS]:
        body = Layout("over", (body,), mark)
    below = [p for p in pieces if p not in MARKS]
    if not below:
        return body
    sub = joined([atom(p, "number" if p.isdigit() else "subscript") for p in below], atom(",", "punctuation"))
    return Layout("scripts", (body, sub, None))


def _sum(node: Sum, done: dict[Node, Layout]) -> Layout:
    terms: list[tuple[bool, Layout]] = []
    for coefficient, term in _in_numbers(display.sum_terms(node)):
        if term is None:
            negative, size = display.split_sign(coefficient)
            terms.append((negative, number_layout(size)))
        else:
            extra = term.coefficient if isinstance(term, Product) else mpq(1)
            negative, size, factors = display.signed(coefficient * extra, factors_in(term))
            terms.append((negative, _fraction(size, factors, done, in_sum=True)))
    return summed(terms)


def _in_numbers(terms: list[tuple[Scalar, Expression | None]]) -> list[tuple[Scalar, Expression | None]]:
    """The terms, with those that are numbers as one where all numbers are rounded: 2.41 + x for 1 + sqrt(2) + x."""
    digits = writing_now().digits
    numeric = [(c, t) for c, t in terms if t is None or not free_names(t)] if digits else []
    if len(numeric) < 2:
        return terms
    known = numeric_value(total([number(c) if t is None else scale(t, c) for c, t in numeric]), digits)
    if known is None:
        return terms
    place = terms.index(numeric[0])
    rest = [pair for pair in terms if pair not in numeric]
    return [*rest[:place], (known, None), *rest[place:]]


def _product(node: Product | Power, done: dict[Node, Layout]) -> Layout:
    negative, size, factors = display.signed(node.coefficient if isinstance(node, Product) else mpq(1), factors_in(node))
    body = _fraction(size, factors, done)
    return row(atom("-", "sign"), wrapped(body, PRODUCT), level=SUM) if negative else body


def _made_of(node: Node, done: dict[Node, Layout]) -> Layout:
    """The layout of a node whose parts are arranged already, as of a difference that was turned."""
    return done[node] if node in done else RULES[type(node)](node, done)


def _fraction(coefficient: Scalar, factors: Sequence[Expression], done: dict[Node, Layout], in_sum: bool = False) -> Layout:
    how = writing_now()
    if how.digits:
        coefficient, factors = _number_first(coefficient, factors, how.digits)
    found = display.quotient(coefficient, factors, in_sum, lambda value: decimal(value, how) is not None)
    above, below = ([_factor(f, done) for f in side] for side in found)
    if not below:
        return _side_by_side(above)
    derivatives = [p for p in above if _is_fraction(p)]  # they stand beside the line: 1/c² ∂²u/∂t²
    rest = [p for p in above if not _is_fraction(p)] or [atom("1", "number")]
    line = Layout("fraction", (_side_by_side(rest), _side_by_side(below)), level=PRODUCT)
    return row(line, *[x for d in derivatives for x in (atom("", "thin"), d)], level=PRODUCT) if derivatives else line


def _number_first(coefficient: Scalar, factors: Sequence[Expression], digits: int) -> tuple[Scalar, Sequence[Expression]]:
    """All that is a number in a product as its coefficient."""
    numeric = [f for f in factors if not free_names(f)]
    known = numeric_value(scale(multiply_all(numeric), coefficient), digits) if numeric else None
    return (coefficient, factors) if known is None else (known, [f for f in factors if f not in numeric])


def numeric_value(formula: Expression, digits: int) -> Scalar | None:
    """The number that a formula is, with some digits to spare; None where it is none, or is not known."""
    if free_names(formula):
        return None
    try:
        known = value(formula, digits + SPARE)
        found = [mpq(Fraction(part)) for part in (known.real, known.imag or "0")]
    except (GelvoError, ValueError):
        return None
    return Gaussian(*found) if found[1] else found[0]


def beside(rest: Expression, body: Layout) -> Layout:
    """A product that has no sum, times a formula that is arranged already."""
    coefficient = rest.value if isinstance(rest, Number) else rest.coefficient if isinstance(rest, Product) else mpq(1)
    factors = () if isinstance(rest, Number) else factors_in(rest)
    above, below = display.quotient(coefficient, factors, whole=lambda value: decimal(value, writing_now()) is not None)
    done = {n: layout_of(n) for f in (*above, *below) for n in (*f.bases, *f.divisors, f.exponent) if isinstance(n, Node)}
    upper = [_factor(f, done) for f in above if f.bases != (number(1),)]
    pieces = _side_by_side([*upper, body])
    return pieces if not below else Layout("fraction", (pieces, _side_by_side([_factor(f, done) for f in below])), level=PRODUCT)


def _factor(factor: display.Factor, done: dict[Node, Layout]) -> Layout:
    body = _side_by_side([_base(b, done) for b in factor.bases])
    if factor.divisors:
        body = Layout("fraction", (body, _side_by_side([_base(b, done) for b in factor.divisors])), level=PRODUCT)
    if isinstance(factor.exponent, Expression):
        return _raised(wrapped(body, ATOM), done[factor.exponent])
    return _power(body, real(factor.exponent), factor.bases[0])


def _base(base: Expression, done: dict[Node, Layout]) -> Layout:
    return wrapped(number_layout(base.value), PRODUCT) if isinstance(base, Number) else _made_of(base, done)


def _raised(base: Layout, exponent: Layout, below: Layout | None = None) -> Layout:
    """A power; fractions in its exponent are written on one line."""
    return Layout("scripts", (base, below, inline(exponent)), level=POWER)


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
    if body.kind == "scripts" and body.children[0] is not None and body.children[2] is None:
        return _raised(body.children[0], shown, body.children[1])
    return _raised(wrapped(body, ATOM), shown)


_POWER_ON_NAME = ("sin", "cos", "tan", "cot", "sec", "csc", "sinh", "cosh", "tanh")


def _side_by_side(pieces: list[Layout]) -> Layout:
    """Factors beside each other; two numbers get a dot between them."""
    if len(pieces) == 1:
        return pieces[0]
    out: list[Layout] = []
    for place, piece in enumerate(pieces):
        shown = wrapped(piece, PRODUCT)
        if place and pieces[place - 1].kind == "root":
            out.append(atom("", "gap"))
        elif place:
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
    if name == "exp" and "e" not in writing_now().taken:
        e = atom("e", "constant")
        return e if isinstance(node.arguments[0], Number) and node.arguments[0].value == 1 else _raised(e, inner[0])
    if name in ("abs", "floor", "ceil"):
        return fence(inner[0], {"abs": "||", "floor": "⌊⌋", "ceil": "⌈⌉"}[name])
    if name == "cbrt":
        return Layout("root", (inner[0], atom("3", "number")))
    if name == "factorial":
        return row(wrapped(inner[0], ATOM), atom("!", "postfix"), level=POWER)
    if name == "conj":
        return Layout("over", (inner[0],), LINE)
    if name == "binomial":
        return fence(Layout("stack", (inner[0], inner[1])))
    head = atom(name, "function")
    if name in ("log10", "log2"):
        head = Layout("scripts", (atom("log", "function"), atom(name[3:], "number"), None))
    held = inner[0] if len(inner) == 1 and inner[0].kind == "fence" and inner[0].text != "()" else _arguments(inner)  # ln|x|
    return row(head, held, level=PRODUCT if len(inner) == 1 else ATOM)


def _applied(node: Applied, done: dict[Node, Layout]) -> Layout:
    arguments = _arguments([done[a] for a in node.arguments])
    head = name_layout(node.name)
    if not any(node.orders):
        return row(head, arguments)
    by_names = all(isinstance(a, Name) for a in node.arguments)
    if by_names and (len(node.orders) > 1 or writing_now().derivatives == "fractions"):
        return _leibniz(node, head if len(node.orders) > 1 else row(head, arguments), done)
    return row(_derived(node, head), arguments)


def _derived(node: Applied, head: Layout) -> Layout:
    """The name of a derivative: with dots, primes, or its orders."""
    if len(node.orders) > 1:
        marks = joined([atom(str(k), "number") for k in node.orders], atom(",", "punctuation"))
        return Layout("scripts", (head, None, fence(marks)))
    order, how = node.orders[0], writing_now().derivatives
    by_time = isinstance(node.arguments[0], Name) and node.arguments[0].name == TIME
    if order <= len(DOTS) and (how == "dots" or (by_time and how in ("usual", "fractions"))):
        return _marked(head, DOTS[order - 1])
    mark = atom("′" * order, "primes") if order <= 3 else fence(atom(str(order), "number"))
    base, sub = (head.children[0], head.children[1]) if head.kind == "scripts" else (head, None)
    return Layout("scripts", (base, sub, mark))


def _leibniz(node: Applied, body: Layout, done: dict[Node, Layout]) -> Layout:
    """dx/dt, and with several variables ∂²u/∂x∂t."""
    sign = atom("∂" if len(node.orders) > 1 else "d", "constant")
    whole = sum(node.orders)

    def raised(piece: Layout, times: int) -> Layout:
        return piece if times == 1 else Layout("scripts", (piece, None, atom(str(times), "number")), level=POWER)

    below = [part for a, k in zip(node.arguments, node.orders, strict=True) if k for part in (sign, raised(done[a], k))]
    return Layout("fraction", (row(raised(sign, whole), body), row(*below)), level=PRODUCT)


def _marked(head: Layout, mark: str) -> Layout:
    """A mark above a name, not above its subscript."""
    if head.kind != "scripts" or head.children[0] is None:
        return Layout("over", (head,), mark)
    return head._replace(children=(Layout("over", (head.children[0],), mark), *head.children[1:]))


def _is_of_several(formula: Expression) -> bool:
    """Whether an unknown function of several variables stands in a formula, so that its derivatives are partial."""
    return any(isinstance(n, Applied) and len(n.arguments) > 1 for n in postorder(formula))


def _written(node: Written, done: dict[Node, Layout]) -> Layout:
    body, variable = done[node.body], done[node.variable]
    if node.kind == "integral_of":
        ends: tuple[Layout | None, ...] = tuple(done[e] for e in node.arguments[2:]) or (None, None)
        big = Layout("big", ends, "∫")
        return row(big, wrapped(body, PRODUCT), atom("d", "differential"), variable, level=SUM)
    if node.kind == "derivative_of":
        times = done[node.arguments[2]] if len(node.arguments) > 2 else None
        d = atom("∂" if _is_of_several(node.body) else "d", "constant")
        top = d if times is None else Layout("scripts", (d, None, times))
        below = variable if times is None else Layout("scripts", (variable, None, times))
        if isinstance(node.body, Applied) and not any(node.body.orders):
            return Layout("fraction", (row(top, body), row(d, below)), level=PRODUCT)
        return row(Layout("fraction", (top, row(d, below))), wrapped(body, POWER), level=PRODUCT)
    if node.kind == "limit_of":
        under = row(variable, atom("→", "relation"), done[node.arguments[2]])
        return row(Layout("big", (under, None), "lim"), wrapped(body, PRODUCT), level=SUM)
    if node.kind == "root_of":
        low, high = (atom("<" if isinstance(e, Bound) else "≤", "relation") for e in node.arguments[2:])
        under = row(done[node.arguments[2]], low, variable, high, done[node.arguments[3]])
        return row(Layout("big", (under, None), "root"), wrapped(body, POWER), level=SUM)
    symbol = "∑" if node.kind == "sum_of" else "∏"
    low = row(variable, atom("=", "relation"), done[node.arguments[2]])
    return row(Layout("big", (low, done[node.arguments[3]]), symbol), wrapped(body, PRODUCT), level=SUM)


def _cases(node: Cases, done: dict[Node, Layout]) -> Layout:
    rows: list[Layout] = []
    for body, condition in zip(node.values, node.conditions, strict=False):
        rows += [done[body], row(atom("if", "word"), done[condition])]
    return Layout("cases", (*rows, done[node.otherwise], atom("otherwise", "word")))


def _relation(node: Relation, done: dict[Node, Layout]) -> Layout:
    left, sign, right = display.relation_parts(node)
    sides = display.sides_without_minus(left) if isinstance(right, Number) and not right.value else None
    left, right = sides or (left, right)
    return row(_made_of(left, done), atom(RELATIONS.get(sign, sign), "relation"), _made_of(right, done))


def _junction(node: Junction, done: dict[Node, Layout]) -> Layout:
    """Conditions joined: a < x and x < b as a < x < b, and another junction inside in parentheses."""
    pieces: list[Layout] = []
    last: Relation | None = None
    for part in node.parts:
        if node.word == "and" and last is not None and isinstance(part, Relation) and _follow(last, part):
            signs = [atom(RELATIONS.get(r.operator, r.operator), "relation") for r in (last, part)]
            pieces[-1] = row(_made_of(last.left, done), signs[0], _made_of(part.left, done), signs[1], _made_of(part.right, done))
            last = None
            continue
        chain = isinstance(part, Junction) and part.word == "and" and len(part.parts) == 2 and _follow(*part.parts)
        pieces.append(fence(done[part]) if isinstance(part, Junction) and not chain else done[part])
        last = part if isinstance(part, Relation) else None
    return joined(pieces, atom(node.word, "word"))


def _follow(one: Node, other: Node) -> bool:
    """Whether two relations are read as one: a < x and x < b."""
    if not (isinstance(one, Relation) and isinstance(other, Relation)):
        return False
    return {one.operator, other.operator} <= {"<", "<="} and one.right is other.left


TIME = "t"  # derivatives by time are written with dots
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
    Junction: _junction,
    Truth: lambda node, done: atom("always" if node.holds else "never", "word"),
}


def _rounding(rule: Callable[[Any, dict[Node, Layout]], Layout]) -> Callable[[Any, dict[Node, Layout]], Layout]:
    """A rule for where numbers are rounded: what is a number is shown as one."""

    def work(node: Node, done: dict[Node, Layout]) -> Layout:
        known = numeric_value(node, writing_now().digits) if isinstance(node, Expression) else None
        return rule(node, done) if known is None else number_layout(known)

    return work


ROUNDING = {
    kind: _rounding(rule) if kind in (AlgebraicNumber, Call, Constant, Power, Product, Sum) else rule
    for kind, rule in RULES.items()
}


def layout_of(root: Node) -> Layout:
    """The layout of an expression or condition, from the leaves up."""
    return fold(root, ROUNDING if writing_now().digits else RULES)


def sized(root: Node) -> Layout:
    """The layout of an expression or condition that is not too large to be read; ExportError for others."""
    if tree_size(root) > LARGEST:
        raise ExportError(f"the formula has {tree_size(root)} parts, too many to typeset; give inner parts names first")
    root = kept(root) if isinstance(root, Expression) else root
    with beside_letters(n.name for n in names(root)):
        found = layout_of(root)
    return inline(found) if writing_now().fractions == "inline" else found


def qualified(formula: Layout, conditions: Sequence[Node], mark: str = "") -> Layout:
    """A formula with its conditions, and a word about its verdict."""
    if conditions:
        formula = row(formula, atom("if", "word"), joined([sized(c) for c in conditions], atom("and", "word")))
    return row(formula, atom(f"({mark})", "word")) if mark else formula
