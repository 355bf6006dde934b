"""A program as statements of one language: nothing nested deeply, no statement long, long sums in groups.

A group of a long sum is added up by itself, so rounding grows with the depth of the groups and not with the number of terms
(N. J. Higham, "The Accuracy of Floating Point Summation", 1993).
"""

from __future__ import annotations

import textwrap
from collections.abc import Mapping, Sequence

from gmpy2 import mpq

from gelvo.code.careful import Pairs
from gelvo.code.digits.exactness import is_exact
from gelvo.code.digits.numeric import CAREFUL, GROUPED, is_numeric
from gelvo.code.fractions import divided, held_exactly
from gelvo.code.layout import NUMBER
from gelvo.code.loops import MANY, Run, in_long_vectors, runs
from gelvo.code.naming import meaning, members, result_type, safe_names
from gelvo.code.pieces import (
    ATOM,
    CHOICE,
    PRODUCT,
    QUOTIENT,
    STORE,
    SUM,
    WIDE,
    Branch,
    Choice,
    Line,
    Loop,
    Piece,
    Statement,
    statements_in,
)
from gelvo.code.precision import DOUBLE
from gelvo.code.program import MOST_BLOCKS, Path, Program, below_the_line, regions, small_power, without_number
from gelvo.code.target import Target
from gelvo.errors import ExportError
from gelvo.expression.display import product_parts, sum_terms
from gelvo.expression.nodes import (
    AlgebraicNumber,
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
)
from gelvo.numbers.exact import nearest_float, real

DEEPEST, LONGEST, GROUP, SHORT, PROSE_WIDTH, MOST_RENAMED = 24, 1500, 16, 60, 92, 60


class Writer:
    """A program as code of one language: `.inputs` are its identifiers, `.statements` come first, `.results` are the numbers of the outputs.

    `.groups` are the identifiers of the groups of inputs, `.outputs` those of the outputs in a structure. A part that several use is a
    statement of its own, in the innermost block that all of them stand in.
    """

    def __init__(
        self, program: Program, target: Target, function_name: str, taken: Sequence[str] = (), places: Sequence[str] = ()
    ) -> None:
        """places: where the numbers of the outputs are stored, in languages that have such statements: a long program stores each one as
        soon as it is there, so that little is kept in the meantime."""
        self.functions, self.syntax = target.tables(program.precision)
        self._target, self._program = target, program
        names = self._give_names(
            (function_name, program.layout.parameters_type(function_name), result_type(function_name)), taken
        )
        self.statements: list[Line] = []
        self._stem, self._count, self._kind = "part", 0, "number"
        used = [w.lower() for w in (*self.inputs, *self.groups, function_name)]
        while any(w.startswith(self._stem) for w in used):
            self._stem += "_"
        self._named: dict[Node, Piece] = {n: Piece(names[n.name], plain=True) for n in program.inputs}
        self.is_stored = len(places) > MANY
        self.read_in_place = self._in_vectors() if self.is_stored else {}
        self._named |= self.read_in_place
        self._blocks: dict[Path, list[Expression]] = {}
        for node, path in regions(program).items():
            self._blocks.setdefault(path, []).append(node)
        self._path: Path = ()
        self._pairs = Pairs(self)
        for symbol, formula in program.definitions:
            self._named[symbol] = self.kept(self.render(formula).text, name=names[symbol.name])
        if self.is_stored:
            self._in_loops(places)
        else:
            self._share()
        self.results = [] if self.is_stored else [bare(self.render(e).text) for e in program.outputs.values()]

    def _give_names(self, own: Sequence[str], taken: Sequence[str]) -> dict[str, str]:
        """Identifiers for inputs, symbols, groups and outputs; own: what the code itself calls things."""
        program, target = self._program, self._target
        layout, symbols = program.layout, [n.name for n, _ in program.definitions]
        names = safe_names([*[n.name for n in program.inputs], *symbols], target, (*own, *taken))
        together = [g.name for g in layout.groups if g.kind != NUMBER]
        grouped = safe_names(together, target, (*own, *taken, *names.values()))
        self.inputs = [names[n.name] for n in program.inputs]
        self.groups = [grouped.get(g.name) or names[g.members[0]] for g in layout.groups]
        self.outputs = members(layout, target)
        self._taken = {*own, *taken, *names.values(), *grouped.values()}
        return names

    def _in_vectors(self) -> dict[Node, Piece]:
        """The members of long vectors as they are read where they are: in a long program they get no names of their own."""
        found = in_long_vectors(self._program.inputs, self._program.layout)
        return {n: Piece(f"{self.groups[g]}[{k}]", plain=True) for n, (g, k) in found.items()}

    @property
    def renamed(self) -> list[str]:
        """What is told of inputs whose own name has no place in the language."""
        pairs = [f"{n.name} is {word}" for n, word in zip(self._program.inputs, self.inputs, strict=True) if n.name != word]
        return textwrap.wrap(f"in the code {', '.join(pairs)}", PROSE_WIDTH) if pairs and len(pairs) < MOST_RENAMED else []

    def _share(self) -> None:
        """Statements for what is used more than once in the block that is being written."""
        for node in self._blocks.get(self._path, ()):
            piece = self.render(node)
            self._named[node] = piece if piece.plain else self.kept(piece.text, name=self._by_meaning(node))

    def _in_loops(self, places: Sequence[str]) -> None:
        """The outputs in their order: as a loop where they are one formula of neighbours, else one after the other."""
        outputs, done = list(self._program.outputs.values()), 0
        for run in runs(self._program):
            self._in_turn(outputs[done : run.start], places[done : run.start])
            self.statements.append(self._loop(run, places[run.start]))
            done = run.stop
        self._in_turn(outputs[done:], places[done:])

    def _loop(self, run: Run, place: str) -> Loop:
        index = safe_names(["i"], self._target, self._taken)["i"]
        outer = self.statements, self._blocks, self._named, self._pairs
        inside = Program((*self._program.inputs, *run.places), {str(k): e for k, e in enumerate(run.formulas)})
        self.statements, self._blocks, self._pairs = [], {}, Pairs(self)
        self._named = {n: p for n, p in self._named.items() if isinstance(n, Name)}
        for n, (g, distance) in run.places.items():
            self._named[n] = Piece(f"{self.groups[g]}[{_moved(index, distance)}]", plain=True)
        for node, path in regions(inside).items():
            self._blocks.setdefault(path, []).append(node)
        self._share()
        for k, formula in enumerate(run.formulas):
            right = bare(self.render(formula).text)
            self.statements.append(Statement(f"{place.rpartition('[')[0]}[{_moved(index, k)}]", right, STORE))
        own = self.statements
        self.statements, self._blocks, self._named, self._pairs = outer
        return Loop(index, run.start, run.stop, run.step, own)

    def _in_turn(self, outputs: Sequence[Expression], places: Sequence[str]) -> None:
        """The outputs one after the other, each behind what it needs and others need too."""
        pending = set(self._blocks.get((), ()))
        for e, place in zip(outputs, places, strict=True):
            stack: list[tuple[Node, bool]] = [(e, False)]
            while stack:
                node, ready = stack.pop()
                if node in self._named:
                    continue
                if ready:
                    pending.discard(node)
                    self._named[node] = self.kept(self.render(node).text, name=self._by_meaning(node))  # type: ignore[arg-type]
                    continue
                if node in pending:
                    stack.append((node, True))
                others = (below_the_line(node), without_number(node))
                stack += [(n, False) for n in (*node.children, *others) if n is not None and n is not node]
            self.statements.append(Statement(place, bare(self.render(e).text), STORE))

    def kept(self, text: str, kind: str = "", name: str = "") -> Piece:
        """A statement of its own; its name stands for the text from now on."""
        name = name or self._new_name()
        self.statements.append(Statement(name, bare(text), kind or self._kind))
        return Piece(name, plain=True)

    def _new_name(self) -> str:
        self._count += 1
        return f"{self._stem}{self._count}"

    def _by_meaning(self, node: Expression) -> str:
        """A name that says what a part is, where that is short: sin_theta, x_squared; '' elsewhere."""
        wanted = meaning(node, self._named)
        if not wanted:
            return ""
        name = safe_names([wanted], self._target, self._taken)[wanted]
        self._taken.add(name)
        return name

    def _held(self, text: str, binds: int, *inner: Piece) -> Piece:
        """The piece, as a statement of its own where it has become too deep or too long to stay inside another."""
        depth = 1 + max((p.depth for p in inner), default=0)
        return self.kept(text) if depth > DEEPEST or len(text) > LONGEST else Piece(text, depth, binds)

    def render(self, root: Expression) -> Piece:
        done: dict[Node, Piece] = {}
        stack: list[tuple[Node, bool]] = [(root, False)]
        while stack:
            node, ready = stack.pop()
            if node in done:
                continue
            if node in self._named:
                done[node] = self._named[node]
            elif ready:
                done[node] = self._one(node, done)
            else:
                stack.append((node, True))
                stack.extend((c, False) for c in self._needed(node))
        return done[root]

    def _needed(self, node: Node) -> Sequence[Node]:
        """The parts whose code the code of a node is made of."""
        if is_numeric(node, CAREFUL):
            return ()
        if isinstance(node, Cases):
            return node.conditions if self._has_blocks else [c for c in node.children if not isinstance(c, Bound)]
        if not isinstance(node, (Product, Power)):
            return node.children
        _, top, bottom = product_parts(node)
        needed: list[Node] = []
        for factor in (*top, *bottom):
            if factor in self._named or not isinstance(factor, Power):
                needed.append(factor)
            else:
                needed.append(factor.base)
                if not (isinstance(factor.exponent, Number) and factor.exponent.is_rational):
                    needed.append(factor.exponent)
        return needed

    def _one(self, node: Node, done: Mapping[Node, Piece]) -> Piece:
        if isinstance(node, Number):
            return self.rounded(node.rational)
        if isinstance(node, Constant):
            return Piece(self.syntax[node.name], plain=True)
        if isinstance(node, AlgebraicNumber):
            return self.literal(float(node))
        if isinstance(node, Sum):
            return self._sum(node, done)
        if isinstance(node, (Product, Power)):
            return self._product(node, done)
        if isinstance(node, Call):
            return self._call(node, done)
        if isinstance(node, Cases):
            return self._cases(node, done)
        return self.condition(node, done)

    # --- numbers -------------------------------------------------------------------------------------------------------------

    def literal(self, value: float) -> Piece:
        precision = DOUBLE if self._kind == WIDE else self._program.precision
        text = precision.digits(value) + self.syntax.get("literal", "")
        return Piece(text, binds=ATOM if value >= 0 else SUM, plain=value >= 0)

    def rounded(self, q: mpq) -> Piece:
        """The double nearest to a number."""
        value = nearest_float(q)
        precision = self._program.precision
        if abs(value) > precision.largest or (q and not precision.rounded(value)):
            raise ExportError(
                f"a number of about 10^{_magnitude(q)} is beyond what a number of {precision.name} precision can hold"
            )
        return self.literal(value)

    def _scaled(self, size: mpq, body: Piece) -> Piece:
        """A positive number times code; a short fraction with a division, which rounds less than its decimal would."""
        if size == 1:
            return body
        if held_exactly(size):
            return Piece(f"{self.rounded(size).text}*{body.inside(PRODUCT)}", body.depth + 1, PRODUCT)
        above = (
            body.inside(QUOTIENT) if size.numerator == 1 else f"{self.rounded(mpq(size.numerator)).text}*{body.inside(PRODUCT)}"
        )
        return Piece(f"{above}/{self.rounded(mpq(size.denominator)).text}", body.depth + 1, QUOTIENT)

    # --- sums and products ---------------------------------------------------------------------------------------------------

    def _sum(self, node: Sum, done: Mapping[Node, Piece]) -> Piece:
        terms: list[tuple[bool, Piece]] = []
        for coefficient, term in sum_terms(node):
            negative, size = real(coefficient) < 0, abs(real(coefficient))
            if term is None:
                terms.append((negative, self.rounded(size)))
            else:
                terms.append((negative, self._scaled(size, done[term])))
        while len(terms) > 2 * GROUP:
            terms = [
                (False, self.kept(_joined(terms[k : k + GROUP]))) if len(terms) > k + 1 else terms[k]
                for k in range(0, len(terms), GROUP)
            ]
        return self._held(_joined(terms), SUM, *[p for _, p in terms])

    def _product(self, node: Product | Power, done: Mapping[Node, Piece]) -> Piece:
        bare = without_number(node)
        if bare is not None and bare in self._named:
            assert isinstance(node, Product)
            scaled = self._scaled(abs(real(node.coefficient)), self._named[bare])
            return scaled if real(node.coefficient) > 0 else Piece(f"-{scaled.text}", scaled.depth, SUM)
        coefficient, top, bottom = product_parts(node)
        negative, size = real(coefficient) < 0, abs(real(coefficient))
        above = self._grouped([self._factor(f, done) for f in top])
        below = self._grouped([self._factor(f, done) for f in bottom])
        over, under = divided(size, bool(above))
        above[:0] = [self.rounded(q) for q in over]
        below[:0] = [self.rounded(q) for q in under]
        if not below and len(above) == 1 and not negative:
            return above[0]
        text = _multiplied(above)
        if below:
            text += "/" + (below[0].inside(ATOM) if len(below) == 1 else f"({_multiplied(below)})")
        binds = SUM if negative else QUOTIENT if below else PRODUCT
        return self._held(f"-{text}" if negative else text, binds, *above, *below)

    def _grouped(self, factors: list[Piece]) -> list[Piece]:
        while len(factors) > 2 * GROUP:
            groups = [factors[k : k + GROUP] for k in range(0, len(factors), GROUP)]
            factors = [self.kept(_multiplied(g)) for g in groups]
        return factors

    def _factor(self, factor: Expression, done: Mapping[Node, Piece]) -> Piece:
        if factor in self._named or not isinstance(factor, Power):
            return done[factor]
        base, times, exponent = done[factor.base], small_power(factor), factor.exponent
        if times and factor.exponent.rational > 0:
            base = base if base.plain else self.kept(base.text)
            return Piece("*".join([base.text] * times), 1, PRODUCT)
        if isinstance(exponent, Number) and exponent.is_rational:
            q = exponent.rational
            if q.denominator == 2 and q.numerator in (1, 3):
                if q.numerator == 1:
                    return self._filled(self.functions["sqrt"], base)
                base = base if base.plain else self.kept(base.text)
                root = self._filled(self.functions["sqrt"], base)
                return self._held(f"{base.text}*{root.text}", PRODUCT, root)
            return self._filled(self.syntax["power"], base, self.rounded(q))
        return self._filled(self.syntax["power"], base, done[exponent])

    # --- functions and cases -------------------------------------------------------------------------------------------------

    def _filled(self, template: str, *arguments: Piece) -> Piece:
        """A template with its arguments; one that it names twice is worked out once."""
        ready = [self.kept(a.text) if template.count(f"{{{k}}}") > 1 and not a.plain else a for k, a in enumerate(arguments)]
        text = template.format(*[a.inside(SUM) for a in ready])
        return self._held(text, PRODUCT if "**" in template and not template.startswith("(2") else ATOM, *ready)

    def _call(self, node: Call, done: Mapping[Node, Piece]) -> Piece:
        if node.function is CAREFUL:
            inside = node.arguments[0]
            return self._in_double(inside) if self._program.precision.is_single else self._pairs.value(inside)
        arguments = [done[a] for a in node.arguments]
        if node.function is GROUPED and arguments[0].binds == ATOM:
            return arguments[0]
        template = self.functions[node.name]
        if node.name in ("min", "max"):
            result = arguments[0]
            for other in arguments[1:]:
                result = self._filled(template, result, other)
            return result
        return self._filled(template, *arguments)

    def _in_double(self, e: Expression) -> Piece:
        """A part that is worked out in double precision, of numbers of single precision, and rounded once."""
        outer = self.functions, self.syntax, self._named, self._kind
        self.functions, self.syntax = self._target.wide or (self._target.functions, self._target.syntax)
        self._kind = WIDE
        self._named = {n: Piece(self.syntax["wide"].format(p.text)) for n, p in self._named.items() if is_exact(n)}
        text = self.render(e).text
        self.functions, self.syntax, self._named, self._kind = outer
        return Piece(self.syntax["narrow"].format(bare(text)), 1)

    def _cases(self, node: Cases, done: Mapping[Node, Piece]) -> Piece:
        """A choice between blocks, each of which works out what it alone needs; on one line where that is nothing."""
        if self._has_blocks:
            branches = [self._branch(node, k, done) for k in range(len(node.values))]
        else:
            branches = [Branch(*self._written_out(node, k, done)) for k in range(len(node.values))]
        if not self._has_blocks or all(not b.statements and len(b.right) <= SHORT for b in branches):
            rest = Piece(branches[-1].right, 1, SUM)
            for branch in reversed(branches[:-1]):
                rest = self._filled(self.syntax["choose"], Piece(branch.condition, 1, SUM), Piece(branch.right, 1, SUM), rest)
            return rest
        name = self._new_name()
        self.statements.append(Choice(name, branches))
        return Piece(name, plain=True)

    @property
    def code(self) -> str:
        """All that is worked out, for a look at what it names."""
        return " ".join((*[s.right for s in statements_in(self.statements)], *self.results))

    @property
    def _has_blocks(self) -> bool:
        return len(self._path) < MOST_BLOCKS and self._kind != WIDE

    def _written_out(self, node: Cases, k: int, done: Mapping[Node, Piece]) -> tuple[str, list[Line], str]:
        value = node.values[k]
        condition = done[node.conditions[k]].text if k < len(node.conditions) else ""
        return condition, [], self.syntax["nan"] if isinstance(value, Bound) else done[value].text

    def _branch(self, node: Cases, k: int, done: Mapping[Node, Piece]) -> Branch:
        outer = self.statements, self._path, self._pairs
        self.statements, self._path, self._pairs = [], (*self._path, (node, k)), Pairs(self)
        self._share()
        value = node.values[k]
        right = self.syntax["nan"] if isinstance(value, Bound) else self.render(value).text
        own = self.statements
        self.statements, self._path, self._pairs = outer
        return Branch(bare(done[node.conditions[k]].text) if k < len(node.conditions) else "", own, right)

    def condition(self, node: Node, done: Mapping[Node, Piece]) -> Piece:
        if isinstance(node, Relation):
            sign = {"=": "==", "!=": self.syntax.get("differs", "!=")}.get(node.operator, node.operator)
            left, right = done[node.left], done[node.right]
            return Piece(f"{left.inside(SUM)} {sign} {right.inside(SUM)}", 1 + max(left.depth, right.depth), CHOICE)
        if isinstance(node, Junction):
            parts = [done[p] for p in node.parts]
            joined = f" {self.syntax[node.word]} ".join(p.inside(ATOM) for p in parts)
            return Piece(joined, 1 + max(p.depth for p in parts), CHOICE)
        assert isinstance(node, Truth)
        return Piece(self.syntax["true" if node.holds else "false"], plain=True)


def _moved(counter: str, distance: int) -> str:
    return f"{counter} {'+' if distance > 0 else '-'} {abs(distance)}" if distance else counter


def _joined(terms: Sequence[tuple[bool, Piece]]) -> str:
    out = ""
    for negative, piece in terms:
        text = piece.inside(QUOTIENT)
        out += f" {'-' if negative else '+'} {text}" if out else f"-{text}" if negative else text
    return out


def _multiplied(factors: Sequence[Piece]) -> str:
    return "*".join(p.inside(PRODUCT if k else QUOTIENT) for k, p in enumerate(factors))


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


def _magnitude(q: mpq) -> int:
    return int((q.numerator.bit_length() - q.denominator.bit_length()) * 0.30103)
