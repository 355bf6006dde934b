"""Straight-line programs: what is used more than once is worked out once, over all outputs together."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import NamedTuple

from gelvo.errors import DomainError, ExportError
from gelvo.expression.building import power
from gelvo.expression.display import has_minus
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
from gelvo.expression.traversal import free_names, postorder, transform
from gelvo.numbers.exact import Gaussian

MOST_MULTIPLICATIONS = 4


class Program(NamedTuple):
    """inputs: names in order; outputs: name -> formula; shared: nodes that get a name of their own, in order."""

    inputs: tuple[Name, ...]
    outputs: dict[str, Expression]
    shared: tuple[Expression, ...]


def make_program(outputs: Mapping[str, Expression], inputs: Sequence[Name], functions: Mapping[str, str]) -> Program:
    """The program for a target whose functions are given; others are rewritten by those.

    Raises ExportError for unknown names, written forms and functions without numeric counterpart.
    """
    ready = {name: transform(_real(e), lambda n: _supported(n, functions)) for name, e in outputs.items()}
    allowed = set(inputs)
    for name, e in ready.items():
        extra = [n for n in free_names(e) if n not in allowed]
        if extra:
            missing = ", ".join(n.name for n in extra)
            raise ExportError(
                f"the output {name} depends on {missing}, which {'is' if len(extra) == 1 else 'are'} not among the inputs"
            )
        gaps = {n.otherwise for n in postorder(e) if isinstance(n, Cases) and isinstance(n.otherwise, Bound)}  # no number there
        for node in postorder(e):
            if isinstance(node, (Written, Applied, Bound)) and node not in gaps:
                raise ExportError(f"the output {name} contains {node}, which has no numeric code")
            if any(isinstance(c, Gaussian) for c in _coefficients(node)):
                raise ExportError(f"the output {name} is complex; code is written for real formulas only")
    return Program(tuple(inputs), ready, tuple(_shared(list(ready.values()))))


def _real(e: Expression) -> Expression:
    """The size of a complex formula, and other real ones with the imaginary unit inside, by real and imaginary parts."""
    if not any(isinstance(c, Gaussian) for n in postorder(e) for c in _coefficients(n)):
        return e
    from gelvo.algebra.complex_parts import real_and_imaginary
    from gelvo.algebra.facts import Facts

    try:
        real, imag = real_and_imaginary(e, Facts())
    except DomainError:
        return e
    return real if isinstance(imag, Number) and not imag.value else e


def _coefficients(node: Node) -> tuple[object, ...]:
    if isinstance(node, Number):
        return (node.value,)
    if isinstance(node, Product):
        return (node.coefficient,)
    return (node.constant, *node.coefficients) if isinstance(node, Sum) else ()


def _supported(node: Node, functions: Mapping[str, str]) -> Node:
    if isinstance(node, Call) and node.name not in functions:
        if node.function.as_elementary is None:
            raise ExportError(f"the function {node.name} has no counterpart in the target language")
        return transform(node.function.as_elementary(*node.arguments), lambda n: _supported(n, functions))  # type: ignore[no-any-return]
    return node


def _shared(roots: list[Expression]) -> list[Expression]:
    """Nodes used at least twice that cost more than a name."""
    uses: dict[Node, int] = dict.fromkeys(roots, 1)
    for root in roots[1:]:
        uses[root] += roots.count(root) > 1
    order = postorder(*roots)
    named: dict[Node, None] = {}
    for node in reversed(order):
        times = uses.get(node, 0)
        inverse = below_the_line(node)
        if inverse is not None:
            # a negative power is written below a fraction line: what is used there is its inverse
            if inverse is not node.base:  # type: ignore[attr-defined]
                named[inverse] = None
                uses[inverse] = uses.get(inverse, 0) + times
            node = inverse if isinstance(inverse, Power) else node
            uses[node.base] = uses.get(node.base, 0) + times * max(1, small_power(node) if times == 1 else 1)  # type: ignore[attr-defined]
            continue
        named[node] = None
        for child in node.children:
            factor = small_power(node) if isinstance(node, Power) and child is node.base else 1
            uses[child] = uses.get(child, 0) + max(1, factor)
    plain = (Number, Name, Constant, AlgebraicNumber)
    chosen = [n for n in reversed(named) if isinstance(n, Expression) and not isinstance(n, plain) and uses.get(n, 0) > 1]
    place = {n: i for i, n in enumerate(postorder(*chosen))}
    return sorted(chosen, key=lambda n: place[n])


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


class Writer:
    """Renders nodes for one target; `functions` maps names to templates with {0}, {1}."""

    def __init__(
        self, program: Program, names: Mapping[Node, str], functions: Mapping[str, str], syntax: Mapping[str, str]
    ) -> None:
        self.program, self.names, self.functions, self.syntax = program, names, functions, syntax

    def statements(self) -> list[tuple[str, str]]:
        """(name, right side) of each shared part, in order."""
        return [(self.names[n], bare(self.render(n, own=True))) for n in self.program.shared]

    def results(self) -> list[str]:
        """The right side of each output."""
        return [bare(self.render(e)) for e in self.program.outputs.values()]

    def render(self, root: Expression, own: bool = False) -> str:
        """The formula as code; shared parts by name (unless it is the definition of that part)."""
        done: dict[Node, str] = {}
        stack: list[tuple[Node, bool]] = [(root, False)]
        while stack:
            node, ready = stack.pop()
            if node in done:
                continue
            if node in self.names and not (own and node is root):
                done[node] = self.names[node]
            elif ready:
                done[node] = self._one(node, done)
            else:
                stack.append((node, True))
                stack.extend((c, False) for c in node.children)
        return done[root]

    def _one(self, node: Node, done: dict[Node, str]) -> str:
        if isinstance(node, Number):
            return (
                self._literal(float(node.rational))
                if node.rational.denominator != 1
                else self._literal(float(int(node.rational)))
            )
        if isinstance(node, Constant):
            return self.syntax[node.name]
        if isinstance(node, Bound):  # the rest of cases that have no value there
            return self.syntax["nan"]
        if isinstance(node, AlgebraicNumber):
            return self._literal(float(node))
        if isinstance(node, Sum):
            return self._sum(node, done)
        if isinstance(node, (Product, Power)):
            return self._product(node, done)
        if isinstance(node, Call):
            return self._call(node, done)
        if isinstance(node, Cases):
            return self._cases(node, done)
        return self._condition(node, done)

    def _literal(self, value: float) -> str:
        text = repr(value) + self.syntax.get("literal", "")
        return text if value >= 0 else f"({text})"

    def _sum(self, node: Sum, done: dict[Node, str]) -> str:
        from gelvo.expression.display import sum_terms

        out = ""
        for coefficient, term in sum_terms(node):
            negative = coefficient < 0  # type: ignore[operator]
            size = -coefficient if negative else coefficient
            if term is None:
                body = self._literal(float(size))  # type: ignore[arg-type]
            else:
                body = done[term] if size == 1 else self._scaled(size, done[term])
            out += f" {'-' if negative else '+'} {body}" if out else f"-{body}" if negative else body
        return f"({out})"

    def _scaled(self, size: object, body: str) -> str:
        top, bottom = size.numerator, size.denominator  # type: ignore[attr-defined]
        if _is_power_of_two(bottom):
            return f"{self._literal(float(size))}*{body}"  # type: ignore[arg-type]
        text = body if top == 1 else f"{self._literal(float(top))}*{body}"
        return text if bottom == 1 else f"{text}/{self._literal(float(bottom))}"

    def _product(self, node: Product | Power, done: dict[Node, str]) -> str:
        from gelvo.expression.display import product_parts

        coefficient, top, bottom = product_parts(node)
        negative = coefficient < 0  # type: ignore[operator]
        size = abs(coefficient)  # type: ignore[arg-type]
        above = [self._factor(f, done, f is node) for f in top]
        below = [self._factor(f, done) for f in bottom]
        if _is_power_of_two(size.denominator) and (size != 1 or not above):
            above.insert(0, self._literal(float(size)))
        elif size != 1:
            if size.numerator != 1 or not above:
                above.insert(0, self._literal(float(size.numerator)))
            below.insert(0, self._literal(float(size.denominator)))
        text = "*".join(above)
        if below:
            text += "/" + (below[0] if len(below) == 1 else "(" + "*".join(below) + ")")
        return f"(-{text})" if negative else f"({text})"

    def _factor(self, factor: Expression, done: dict[Node, str], own: bool = False) -> str:
        """One factor; `own` where it is the very power that is being defined."""
        if factor in self.names and not own:
            return self.names[factor]
        if factor in done and not isinstance(factor, Power):
            return done[factor]
        if not isinstance(factor, Power):
            return self.render(factor)
        base = done.get(factor.base) or self.render(factor.base)
        times = small_power(factor)
        if times:
            return (
                f"({'*'.join([base] * times)})"
                if _is_plain(base)
                else self.syntax["power"].format(base, self._literal(float(times)))
            )
        exponent = factor.exponent
        if isinstance(exponent, Number) and exponent.is_rational:
            q = exponent.rational
            if q.denominator == 2 and q.numerator == 1:
                return self.functions["sqrt"].format(base)
            if q.denominator == 2 and q.numerator == 3:
                return f"({base}*{self.functions['sqrt'].format(base)})"
            return self.syntax["power"].format(base, self._literal(float(q)))
        return self.syntax["power"].format(base, done.get(exponent) or self.render(exponent))

    def _call(self, node: Call, done: dict[Node, str]) -> str:
        template = self.functions[node.name]
        arguments = [done[a] for a in node.arguments]
        if node.name in ("min", "max"):
            result = arguments[0]
            for other in arguments[1:]:
                result = template.format(result, other)
            return result
        return template.format(*arguments)

    def _cases(self, node: Cases, done: dict[Node, str]) -> str:
        rest = done.get(node.otherwise, self.syntax["nan"]) if not isinstance(node.otherwise, Bound) else self.syntax["nan"]
        for value, condition in zip(reversed(node.values[:-1]), reversed(node.conditions), strict=True):
            rest = self.syntax["choose"].format(done[condition], done[value], rest)
        return rest

    def _condition(self, node: Node, done: dict[Node, str]) -> str:
        from gelvo.expression.nodes import Junction, Relation, Truth

        if isinstance(node, Relation):
            sign = {"=": "==", "!=": self.syntax.get("differs", "!=")}.get(node.operator, node.operator)
            return f"({done[node.left]} {sign} {done[node.right]})"
        if isinstance(node, Junction):
            return "(" + f" {self.syntax[node.word]} ".join(done[p] for p in node.parts) + ")"
        assert isinstance(node, Truth)
        return self.syntax["true" if node.holds else "false"]


def bare(text: str) -> str:
    """Code without parentheses around all of it."""
    if not text.startswith("("):
        return text
    level = 0
    for place, letter in enumerate(text):
        level += (letter == "(") - (letter == ")")
        if level == 0:
            return text[1:-1] if place == len(text) - 1 and not text.startswith("(-") else text
    return text


def _is_power_of_two(bottom: int) -> bool:
    """Then the quotient is an exact double, and multiplying by it costs less than dividing."""
    return bottom & (bottom - 1) == 0


def _is_plain(text: str) -> bool:
    return text.replace("_", "a").isalnum()


def safe_names(wanted: Sequence[str], reserved: set[str]) -> dict[str, str]:
    """Identifiers for user names that clash with nothing: a word of the language gets an underscore behind it."""
    taken: set[str] = set()
    result: dict[str, str] = {}
    for name in wanted:
        plain = "".join(c if c.isascii() and (c.isalnum() or c == "_") else f"u{ord(c):x}" for c in name)
        while plain in reserved or plain in taken or (plain != name and plain in wanted):
            plain += "_"
        taken.add(plain)
        result[name] = plain
    return result


def identifiers(program: Program, function_name: str, reserved: set[str]) -> dict[Node, str]:
    """Identifiers for inputs and shared parts, apart from the words of a language and the function's own name."""
    inputs = safe_names([n.name for n in program.inputs], reserved | {function_name})
    table: dict[Node, str] = {n: inputs[n.name] for n in program.inputs}
    stem = "part"
    while any(v.startswith(stem) for v in inputs.values()) or function_name.startswith(stem):
        stem += "_"
    table.update({n: f"{stem}{k + 1}" for k, n in enumerate(program.shared)})
    return table
