"""Straight-line programs: what is used more than once is worked out once, over all outputs together."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import NamedTuple

from gmpy2 import mpq

from gelvo.code.digits.exactness import exact_parts
from gelvo.code.digits.numeric import CAREFUL, is_numeric
from gelvo.code.layout import Layout, Output, chunks, plain_layout
from gelvo.code.precision import DOUBLE, Precision
from gelvo.code.unrolled import unrolled
from gelvo.deciding.equality import is_zero
from gelvo.errors import DomainError, ExportError
from gelvo.evaluation.enclose import Enclosure
from gelvo.expression.building import cases, multiply_all, number, power, relation, scale, sqrt, total
from gelvo.expression.constants import HALF, ONE, ZERO
from gelvo.expression.display import has_minus
from gelvo.expression.known import is_nonnegative
from gelvo.expression.nodes import (
    AlgebraicNumber,
    Applied,
    Bound,
    Call,
    Cases,
    Constant,
    Expression,
    Name,
    Node,
    Number,
    Power,
    Product,
    Sum,
    Written,
)
from gelvo.expression.traversal import (
    free_names,
    has_imaginary_unit,
    is_not_real,
    names,
    postorder,
    substitute,
    transform,
    zeros_in,
)
from gelvo.facts.store import Facts
from gelvo.functions.named import COS, COSH, IM, RE, SIN, SINHC, is_a
from gelvo.normal.complex_parts import real_and_imaginary
from gelvo.numbers.exact import Scalar, parts
from gelvo.numbers.interval import NoValue

MOST_MULTIPLICATIONS = 4
MOST_BLOCKS = 12  # blocks stand inside each other only so deeply


Path = tuple[tuple[Cases, int], ...]  # the cases, and the value of each, that a part stands in


class Program(NamedTuple):
    """inputs: names in order; outputs: name -> formula; definitions: symbols that formulas are written with, those first that others need.

    arranged: which numbers travel together, where some do; precision: of the numbers.
    """

    inputs: tuple[Name, ...]
    outputs: dict[str, Expression]
    definitions: tuple[tuple[Name, Expression], ...] = ()
    arranged: Layout | None = None
    precision: Precision = DOUBLE

    @property
    def layout(self) -> Layout:
        """How the inputs come and the outputs go."""
        return self.arranged or plain_layout(self.inputs, self.outputs)


def make_program(outputs: Mapping[str, Expression], inputs: Sequence[Name], functions: Mapping[str, str]) -> Program:
    """The program for a target whose functions are given; others are rewritten by those.

    Raises ExportError for unknown names, written forms and functions without numeric counterpart.
    """
    ready = {name: prepared(e, functions) for name, e in outputs.items()}
    allowed = set(inputs)
    for name, e in ready.items():
        extra = [n for n in free_names(e) if n not in allowed]
        if extra:
            missing = ", ".join(n.name for n in extra)
            raise ExportError(
                f"the output {name} depends on {missing}, which {'is' if len(extra) == 1 else 'are'} not among the inputs"
            )
        gaps = {n.otherwise for n in postorder(e) if isinstance(n, Cases) and isinstance(n.otherwise, Bound)}  # no number there
        zeros = set(zeros_in(e))
        ends = {end for zero in zeros for end in zero.arguments[2:]}
        for node in postorder(e):
            if isinstance(node, (Written, Applied, Bound)) and node not in gaps and node not in zeros and node not in ends:
                raise ExportError(f"the output {name} contains {node}, which has no numeric code")
            if is_not_real(node):
                raise ExportError(
                    f"the output {name} is complex, and its real and imaginary parts are not known: code works with real numbers"
                )
    return Program(tuple(inputs), ready)


def prepared(e: Expression, functions: Mapping[str, str]) -> Expression:
    """A real formula in the functions of a target; ExportError where one has no counterpart there."""
    return transform(_of_either_sign(counted_out(_real(e))), lambda n: _supported(n, functions))


def straight(program: Program, functions: Mapping[str, str]) -> Program:
    """A program with the steps by which its zeros without closed form are found."""
    if not zeros_in(*program.outputs.values()):
        return program
    outputs, steps = unrolled(program.outputs)
    definitions = tuple((symbol, prepared(formula, functions)) for symbol, formula in steps)
    return program._replace(outputs=outputs, definitions=(*program.definitions, *definitions))


# with so many bits what a sum of such numbers lacks of an exact zero is below the smallest double
COUNTED_BITS, DUST_BITS = 1200, 1100


def counted_out(e: Expression) -> Expression:
    """The largest parts without letters that hold a root without closed form, or a part of a complex number, as numbers to more digits
    than any code holds.

    >>> from gelvo.deciding.algebraic import root_of
    >>> r = root_of((-1, -1, 0, 1), 1)
    >>> counted_out(r**2/(3*r**2 - 1) + 1).is_rational
    True
    """
    without_letters: dict[Node, bool] = {}  # and whether such a root stands inside
    largest: dict[Expression, None] = {}
    for node in postorder(e):
        if isinstance(node, AlgebraicNumber) or (_is_root_or_part(node) and not free_names(node)):
            without_letters[node] = True
        elif not isinstance(node, (Name, Applied, Bound, Written)) and all(c in without_letters for c in node.children):
            without_letters[node] = any(without_letters[c] for c in node.children)
        else:
            largest.update(dict.fromkeys(c for c in node.children if without_letters.get(c) and isinstance(c, Expression)))
    if without_letters.get(e):
        largest = {e: None}
    return substitute(e, {part: found for part in largest if (found := _as_number(part)) is not None}) if largest else e


def without_dust(outputs: Mapping[str, Expression]) -> dict[str, Expression]:
    """The outputs without what is left of the sums of counted numbers that are exactly zero."""

    def visit(node: Node) -> Node:
        if isinstance(node, Number):
            return ZERO if _is_dust(node.value) else node
        if isinstance(node, Product):
            return ZERO if _is_dust(node.coefficient) else node
        if isinstance(node, Sum) and (_is_dust(node.constant) or any(map(_is_dust, node.coefficients))):
            kept = [scale(term, c) for term, c in node.items() if not _is_dust(c)]
            return total(kept if _is_dust(node.constant) else [*kept, number(node.constant)])
        return node

    return {name: transform(e, visit) for name, e in outputs.items()}


def _is_dust(value: Scalar) -> bool:
    return all(abs(part) < mpq(1, 1 << DUST_BITS) for part in parts(value))


def _is_root_or_part(node: Node) -> bool:
    return is_a(node, RE, IM) or (isinstance(node, Written) and node.kind == "root_of")


def _as_number(part: Expression) -> Expression | None:
    try:
        box = Enclosure(part).at({}, COUNTED_BITS)
    except NoValue:
        return None
    return number(mpq(box.real.low)) if box.imag is None else None


def _real(e: Expression) -> Expression:
    """The size of a complex formula, and other real ones with the imaginary unit inside, by real and imaginary parts."""
    if not has_imaginary_unit(e):
        return e
    try:
        real, imag = real_and_imaginary(e, Facts(), _as_it_is)
    except DomainError:
        return e
    return real if is_zero(imag) is True else e


def _as_it_is(e: Expression) -> Expression:
    return e


def in_real_numbers(
    outputs: Sequence[Output], formulas: Sequence[Expression], facts: Facts
) -> tuple[list[Output], list[Expression]]:
    """Outputs with complex numbers as two of real ones, NAME_real and NAME_imaginary."""
    shapes: list[Output] = []
    found: list[Expression] = []
    for output, own in chunks(outputs, formulas):
        pairs = [_both(e, facts) for e in own]
        if all(pair is None for pair in pairs):
            shapes.append(output)
            found += own
            continue
        shapes += [output._replace(name=f"{output.name}_{word}") for word in ("real", "imaginary")]
        found += [e if pair is None else pair[0] for e, pair in zip(own, pairs, strict=True)]
        found += [ZERO if pair is None else pair[1] for pair in pairs]
    return shapes, found


def _both(e: Expression, facts: Facts) -> tuple[Expression, Expression] | None:
    """Real and imaginary part of a formula that has the imaginary unit; None for a real one, or where they are not known."""
    if not has_imaginary_unit(e):
        return None
    try:
        real, imag = real_and_imaginary(e, facts, _as_it_is)
    except DomainError:
        return None
    return None if is_zero(imag, facts) is True else (real, imag)


_TURNED: dict[str, Callable[[Expression], Expression]] = {  # f(1j*y)
    COSH: lambda y: COS(y),
    SINHC: lambda y: cases([(SIN(y) / y, relation("!=", y, ZERO))], ONE),
}


def _of_either_sign(e: Expression) -> Expression:
    """cosh and sinhc of sqrt(u)*v with a cosine and a sine where u is negative: one formula for growth and for swinging."""
    roots = [r for node in postorder(e) if is_a(node, SINHC) for r in _open_roots(node)]

    def visit(node: Node) -> Node:
        root = next((r for r in _open_roots(node) if r in roots), None) if is_a(node, *_TURNED) else None
        if root is None or not isinstance(node, Call):
            return node
        turned = _TURNED[node.name](node.arguments[0] / root * sqrt(-root.base))
        return cases([(turned, relation("<", root.base, ZERO))], node)

    return transform(e, visit) if roots else e


def _open_roots(node: Call) -> list[Power]:
    """The square roots that multiply in an argument, of what may be negative."""
    argument = node.arguments[0]
    factors = argument.factors if isinstance(argument, Product) else (argument,)
    return [
        f for f in factors if isinstance(f, Power) and f.exponent is HALF and names(f.base) and not is_nonnegative(f.base.known)
    ]


def _supported(node: Node, functions: Mapping[str, str]) -> Node:
    if isinstance(node, Call) and node.name not in functions:
        written = node.function.in_code or node.function.as_elementary
        if written is None:
            raise ExportError(f"the function {node.name} has no counterpart in the target language")
        return transform(written(*node.arguments), lambda n: _supported(n, functions))
    return node


def _shared_parts(roots: list[Expression]) -> list[Expression]:
    """Nodes used at least twice that cost more than a name."""
    uses: dict[Node, int] = dict.fromkeys(roots, 1)
    for root in roots[1:]:
        uses[root] += roots.count(root) > 1
    order = _as_numbers(roots)
    named: dict[Node, None] = {}
    for node in reversed(order):
        times = uses.get(node, 0)
        inverse = below_the_line(node)
        if inverse is not None and isinstance(node, Power):
            # a negative power is written below a fraction line: what is used there is its inverse
            if inverse is not node.base:
                named[inverse] = None
                uses[inverse] = uses.get(inverse, 0) + times
            node = inverse if isinstance(inverse, Power) else node
            uses[node.base] = uses.get(node.base, 0) + times * max(1, small_power(node) if times == 1 else 1)
            continue
        bare = without_number(node)
        if bare is not None:
            named[bare] = None
            uses[bare] = uses.get(bare, 0) + times
            if uses[bare] == times:  # its factors are counted once, however many numbers it stands behind
                for child in bare.children:
                    uses[child] = uses.get(child, 0) + 1
            continue
        named[node] = None
        for child in _parts(node):
            factor = small_power(node) if isinstance(node, Power) and child is node.base else 1
            uses[child] = uses.get(child, 0) + max(1, factor)
    return _inner_first([n for n in reversed(named) if uses.get(n, 0) > 1])


def _inner_first(nodes: list[Node]) -> list[Expression]:
    """The nodes that cost more than a name, those first that others are made of."""
    plain = (Number, Name, Constant, AlgebraicNumber)
    chosen = [n for n in nodes if isinstance(n, Expression) and not isinstance(n, plain)]
    place = {n: i for i, n in enumerate(_as_numbers(chosen))}
    return sorted(chosen, key=lambda n: place[n])


def regions(program: Program) -> dict[Expression, Path]:
    """Each part that gets a name of its own, in order, with the innermost block that all its uses stand in."""
    roots = list(program.outputs.values())
    places: dict[Node, Path] = dict.fromkeys(roots, ())
    for node in reversed(postorder(*roots)):
        own = places.get(node, ())
        inverse = below_the_line(node)
        if inverse is not None and inverse is not node:
            places[inverse] = _common(places.get(inverse, own), own)
        bare = without_number(node)
        if bare is not None:
            places[bare] = _common(places.get(bare, own), own)
        for k, child in enumerate(_parts(node)):
            inside = own
            if isinstance(node, Cases) and k < len(node.values) and len(own) < MOST_BLOCKS:
                inside = (*own, (node, k))
            places[child] = _common(places[child], inside) if child in places else inside
    return {node: places.get(node, ()) for node in _shared_parts(roots)}


def _common(one: Path, other: Path) -> Path:
    count = next((k for k, (a, b) in enumerate(zip(one, other, strict=False)) if a != b), min(len(one), len(other)))
    return one[:count]


def _parts(node: Node) -> tuple[Node, ...]:
    """The parts of a node that are worked out as numbers: of what is worked out on pairs those that have no rounding."""
    return exact_parts(node.children[0]) if is_numeric(node, CAREFUL) else node.children  # type: ignore[arg-type]


def _as_numbers(roots: list[Expression]) -> list[Node]:
    """All parts, inner ones first, but those inside of what is worked out on pairs."""
    inside = {n for r in roots for n in postorder(r) if is_numeric(n, CAREFUL)}
    if not inside:
        return postorder(*roots)
    found: dict[Node, None] = {}
    stack: list[tuple[Node, bool]] = [(r, False) for r in reversed(roots)]
    while stack:
        node, ready = stack.pop()
        if ready:
            found[node] = None
        elif node not in found:
            stack.append((node, True))
            stack.extend((c, False) for c in reversed(_parts(node)))
    return list(found)


def used_inputs(program: Program) -> set[Node]:
    """The inputs that stand in some output, or in a definition."""
    return {n for e in (*program.outputs.values(), *dict(program.definitions).values()) for n in free_names(e)}


def without_number(node: Node) -> Expression | None:
    """The product of the factors of a product with a number in front, else None."""
    if isinstance(node, Product) and node.coefficient != 1 and len(node.factors) > 1:
        return multiply_all(node.factors)
    return None


def below_the_line(node: Node) -> Expression | None:
    """The inverse of a power that is written as a division, else None."""
    if isinstance(node, Power) and has_minus(node.exponent):
        return power(node.base, -node.exponent)
    return None


def small_power(node: Power) -> int:
    """The number of factors where a power is best written as a product, else 0."""
    exponent = node.exponent
    if isinstance(exponent, Number) and exponent.is_whole:
        size = abs(int(exponent.rational))
        return size if 2 <= size <= MOST_MULTIPLICATIONS else 0
    return 0
