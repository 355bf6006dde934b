"""Text to expressions: a walk over the parse tree from the leaves up; nothing is ever evaluated as Python."""

from __future__ import annotations

import re
from collections.abc import Callable
from functools import lru_cache
from importlib import import_module
from typing import Any

from gmpy2 import mpq

from gelvo.deciding.algebraic import polynomial_root
from gelvo.errors import DomainError, FormulaError
from gelvo.expression import building
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Call, Condition, Expression, Name, Node, Number, Power, Product, Relation
from gelvo.expression.registry import FUNCTIONS
from gelvo.expression.traversal import names, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.forms.dimensions import quantity, unit_of
from gelvo.limits import foreign
from gelvo.matrices.matrix import Matrix
from gelvo.numbers.exact import HALF, Gaussian, from_decimal_text
from gelvo.operations.building import MEANT
from gelvo.operations.matrices import OF_MATRICES, equality
from gelvo.reading import generate, messages, words
from gelvo.reading.context import Context
from gelvo.solving.putting_back import real_part_conditions
from gelvo.units import unit

MINUS = ("-", "−", "–", "‐", "‑")
LONGEST_TEXT, DEEPEST_NESTING = 2_000_000, 1000


@lru_cache(maxsize=1)
def _parser() -> Any:
    try:
        module = import_module("gelvo.reading._formula_parser")
    except ImportError:  # made when the package is built; here on first use
        generate.write()
        module = import_module("gelvo.reading._formula_parser")
    return module, module.Lark_StandAlone()


def read(text: str, context: Context | None = None) -> Any:
    """A formula, an equation or a condition from text; FormulaError says where and what was probably meant.

    >>> import gelvo.functions
    >>> print(read("3x^2/2"))
    3*x^2/2
    """
    if not isinstance(text, str):
        raise FormulaError(f"a formula is text, not {type(text).__name__}")
    if len(text) > LONGEST_TEXT:
        raise FormulaError(f"the formula has {len(text)} characters; the limit is {LONGEST_TEXT}")
    _check_nesting(text)
    module, parser = _parser()
    try:
        with foreign():
            tree = parser.parse(text)
    except module.UnexpectedCharacters as fault:
        raise messages.syntax(text, fault.pos_in_stream, text[fault.pos_in_stream]) from None
    except module.UnexpectedToken as fault:
        at_end = fault.token.type == "$END"
        column = len(text) if at_end else fault.token.start_pos
        raise messages.syntax(text, column, "the end" if at_end else str(fault.token)) from None
    return _Builder(text, context or Context()).build(tree)


def _check_nesting(text: str) -> None:
    level = 0
    for place, letter in enumerate(text):
        if letter in "([{":
            level += 1
            if level > DEEPEST_NESTING:
                raise FormulaError(
                    f"parentheses are nested more than {DEEPEST_NESTING} deep",
                    text,
                    place,
                    "Give inner parts names with `where`.",
                )
        elif letter in ")]}":
            level = max(0, level - 1)


class _Builder:
    """One reading: the tree's nodes are worked off on an explicit stack."""

    def __init__(self, text: str, context: Context) -> None:
        self.text, self.context = text, context
        self.local: dict[str, Any] = {}
        self.conditions: dict[Condition, None] = {}
        self.parts: dict[Expression, None] = {}
        self.bare: dict[str, int] = {}
        self.called: dict[str, int] = {}
        self.measured = False  # whether a unit stands in the text

    def build(self, tree: Any) -> Any:
        bindings = list(tree.children[1:])
        for binding in bindings:
            name = str(binding.children[0])
            self.local[name] = self._walk(binding.children[1])
        result = self._walk(tree.children[0])
        self._one_use()
        if self.measured:
            try:
                unit_of(result, {})
            except DomainError as fault:
                raise FormulaError(str(fault), self.text, 0) from None
        if isinstance(result, Equation):
            gone = self._conditions_of_cancelled(result.left, result.right)
            return Equation(result.left, result.right, dict.fromkeys([*self.conditions, *gone]))
        if isinstance(result, Condition):  # a denominator that cancels, as in x^2/x < 5, is a condition still
            gone = [c for c in self.conditions if isinstance(c, Relation) and not _divides(c.left, result)]
            self.context.cancelled += self._conditions_of_cancelled(result)
            return building.junction("and", [result, *gone]) if gone else result
        return result

    def _one_use(self) -> None:
        for name, column in self.bare.items():
            if name in self.called:
                raise FormulaError(
                    f"`{name}` is used both as a variable and as a function in this formula", self.text, column,
                    f"Rename the variable, or write {name}*(…) for a product.",
                )  # fmt: skip

    def _walk(self, root: Any) -> Any:
        values: list[Any] = []
        stack: list[tuple[Any, bool]] = [(root, False)]
        while stack:
            node, ready = stack.pop()
            if not hasattr(node, "data"):
                values.append(node)
            elif ready:
                count = len(node.children)
                arguments = values[len(values) - count :] if count else []
                del values[len(values) - count :]
                values.append(self._one(node, arguments))
            else:
                self._look(node)
                stack.append((node, True))
                stack.extend((c, False) for c in reversed(node.children))
        return values[0]

    def _look(self, node: Any) -> None:
        """What must be seen before the parts are built: `1/2x` and `2^3x`, `0x1F` and `1_000`."""
        children = node.children
        if node.data == "implicit":
            self._digits(node)
        if node.data == "power" and getattr(children[0], "data", "") == "name":
            self._function_alone(children[0])
        if node.data in ("power", "superscript") and self._measured_number(children[0]):
            count, unit_text = children[0].children
            raised = str(children[-1]).translate(words.SUPERSCRIPTS) if node.data == "superscript" else self._text_of(children[2])
            ways = f"Write  {count} {{{str(unit_text).strip('{} ')}^{raised}}}  or  ({count} {unit_text})^{raised} ."
            raise self._fault("it is not clear what is raised", node, ways)
        if node.data == "product":
            for sign, part in zip(children[1::2], children[2::2], strict=True):
                if sign in words.DIVIDED and self._measured_number(part):
                    count, unit_text = part.children
                    ways = f"Write  1/({count} {unit_text})  or  (1/{count})*{unit_text}  with parentheses."
                    raise self._fault("it is not clear what is divided", part, ways)
                if sign in words.DIVIDED and getattr(part, "data", "") == "implicit":
                    count, rest = (self._text_of(c) for c in part.children)
                    above = self.text[_column(node) : sign.start_pos].strip()
                    ways = f"Write  {above}/({count}*{rest})  or  ({above}/{count})*{rest}  with parentheses."
                    raise self._fault("it is not clear what is divided", part, ways)
        elif node.data == "power" and getattr(children[2], "data", "") == "implicit":
            base, count, rest = (self._text_of(c) for c in (children[0], *children[2].children))
            column = _column(children[2]) + len(count)
            if self.text[column : column + 1].isspace():
                place = _column(children[2].children[1])
                raise FormulaError(
                    "a multiplication sign is missing here", self.text, place, f"Did you mean  {base}^{count}*{rest} ?"
                )
            raise self._fault(
                "it is not clear where the exponent ends",
                children[2],
                f"Write  {base}^({count}*{rest})  or  {base}^{count}*{rest} .",
            )
        elif node.data == "power" and getattr(children[0], "data", "") == "name" and children[0].children[0] == "e":
            self._letter_e(node)

    def _function_alone(self, node: Any) -> None:
        """`sin^2(x)`, `2*sin`: the name of a function that no letter has, unless somebody declared it."""
        text = words.plain_name(str(node.children[0]))
        taken = (self.local, self.context.declared, self.context.definitions, self.context.unknowns, self.context.failed)
        if messages.names_a_function(text) and not any(text in group for group in taken):
            raise messages.function_alone(self.text, _column(node), text)

    def _spelt(self, token: Any, node: Any) -> str:
        """A name in plain letters; signs that are part of no name, such as ½, are told."""
        text = words.plain_name(str(token))
        if not text.isidentifier() and text not in words.BOUNDS:
            sign = next(c for k, c in enumerate(text) if not text[: k + 1].isidentifier())
            count = words.fraction_of(sign)
            raise self._fault(f"`{sign}` cannot be part of a name", node, f"Did you mean  ({count})*… ?" if count else "")
        return text

    def _measured_number(self, node: Any) -> bool:
        """Whether a part is a number with a unit, `200 {m}`: the degree sign belongs to its number beyond doubt."""
        return getattr(node, "data", "") == "quantity" and len(node.children) > 1 and str(node.children[1]) != "°"

    def _digits(self, node: Any) -> None:
        """A number before a name that is no product but a way to write numbers in other places."""
        count, name = node.children
        spelt = self._text_of(name)
        if spelt.startswith("_") and spelt[1:2].isdigit():
            plain = str(count) + re.sub(r"[^_\d].*", "", spelt).replace("_", "")
            raise self._fault("digits are not grouped by underscores", node, f"Did you mean  {plain} ?")
        written = re.match(r"0([xXbBoO])([0-9A-Fa-f]+)", self.text[_column(node) :])
        if written and str(count) == "0":
            try:
                meant = f"Did you mean  {int(written.group(), 0)} ?"
            except ValueError:
                meant = f"Write  0*{spelt}  for the product."
            raise self._fault("numbers are written with decimal digits", node, meant)

    def _letter_e(self, node: Any) -> None:
        """`e^x` where no `e` is known: Euler's number has another name here."""
        exponent = node.children[2]
        plain = not re.search(r"[^\W\d]", self._text_of(exponent))
        if (
            plain
            or "e" in self.local
            or "e" in self.context.declared
            or "e" in self.context.definitions
            or "e" in self.context.unknowns
        ):
            return
        shown = self._text_of(exponent)
        shown = shown[1:-1] if shown.startswith("(") and shown.endswith(")") else shown
        raise self._fault(
            "`e` is a letter like others (a charge, say), not Euler's number", node,
            f"Did you mean  exp({shown}) ?  For a letter e, declare it, or write  (e)^…",
        )  # fmt: skip

    def _text_of(self, node: Any) -> str:
        """The text from which a part was read."""
        if not hasattr(node, "data"):
            return str(node)
        return self.text[_column(node) : _end(node)]

    def _fault(self, message: str, node: Any, hint: str = "") -> FormulaError:
        return FormulaError(message, self.text, _column(node), hint)

    def _value(self, value: Any, node: Any) -> Expression:
        if isinstance(value, Expression):
            return value
        if isinstance(value, Equation) or (isinstance(value, Relation) and value.operator == "="):
            place = self.text.find("=", _column(node))
            raise FormulaError(
                "`=` stands where a value is needed", self.text, max(place, 0), "An equation cannot be part of a sum or a call."
            )
        inner = getattr(value, "expression", None)
        if isinstance(inner, Expression):
            return inner
        raise self._fault("a condition stands where a value is needed", node)

    def _condition(self, value: Any, node: Any) -> Condition:
        if isinstance(value, Condition):
            return value
        if isinstance(value, Equation):
            return value.condition
        raise self._fault("a condition such as x > 0 is needed here", node)

    def _one(self, node: Any, arguments: list[Any]) -> Any:
        handler = _HANDLERS[node.data]
        try:
            return handler(self, node, arguments)
        except DomainError as fault:
            raise self._fault(str(fault), node) from None

    # each handler takes the tree node and the values of its children

    def disjunction(self, node: Any, values: list[Any]) -> Any:
        if len(values) == 1:
            return values[0]
        return building.junction("or", [self._condition(v, c) for v, c in zip(values, node.children, strict=True)])

    def conjunction(self, node: Any, values: list[Any]) -> Any:
        return building.junction("and", [self._condition(v, c) for v, c in zip(values, node.children, strict=True)])

    def negation(self, node: Any, values: list[Any]) -> Any:
        return building.opposite(self._condition(values[-1], node.children[-1]))

    def comparison(self, node: Any, values: list[Any]) -> Any:
        if any(isinstance(v, Matrix) for v in values):
            return self._matrix_claim(node, values)
        sides = [self._value(v, c) for v, c in zip(values[::2], node.children[::2], strict=True)]
        signs = [{"≤": "<=", "≥": ">=", "≠": "!="}.get(str(s), str(s)) for s in values[1::2]]
        if signs == ["="]:
            return Equation(sides[0], sides[1])
        if "=" in signs and len(signs) > 1:
            column = values[1::2][1].start_pos
            raise FormulaError("a chain of `=` states several equations at once", self.text, column, "Write them one by one.")
        return building.junction("and", [building.relation(s, a, b) for s, a, b in zip(signs, sides, sides[1:], strict=False)])

    def _matrix_claim(self, node: Any, values: list[Any]) -> Any:
        """A = B for matrices: equal entry by entry."""
        if len(values) != 3 or str(values[1]) != "=" or not all(isinstance(v, Matrix) for v in values[::2]):
            raise self._fault("matrices are compared with matrices by one `=`", node)
        return equality(values[0], values[2])

    def _folded(self, node: Any, values: list[Any]) -> Any:
        """Sums and products in which matrices stand: in order, from the left."""
        result = values[0]
        for sign, value in zip(values[1::2], values[2::2], strict=True):
            if sign == "+":
                result = result + value if isinstance(result, Matrix) or not isinstance(value, Matrix) else value + result
            elif sign in MINUS:
                result = result - value if isinstance(result, Matrix) or not isinstance(value, Matrix) else -value + result
            elif sign in words.DIVIDED:
                if isinstance(value, Matrix):
                    raise self._fault("a matrix cannot be divided by: multiply by its inverse, A*B^(-1)", node)
                result = result / value
            elif isinstance(result, Matrix) and isinstance(value, Matrix):
                result = result @ value
            else:
                result = result * value
        return result

    def sum(self, node: Any, values: list[Any]) -> Any:
        if any(isinstance(v, Matrix) for v in values):
            return self._folded(node, values)
        terms = [self._value(values[0], node.children[0])]
        for sign, value, child in zip(values[1::2], values[2::2], node.children[2::2], strict=True):
            term = self._value(value, child)
            terms.append(term if sign == "+" else building.negate(term))
        return building.total(terms)

    def product(self, node: Any, values: list[Any]) -> Any:
        if any(isinstance(v, Matrix) for v in values):
            return self._folded(node, values)
        factors = [self._value(values[0], node.children[0])]
        for sign, value, child in zip(values[1::2], values[2::2], node.children[2::2], strict=True):
            factor = self._value(value, child)
            if sign in words.DIVIDED:
                self._note_denominator(factor, child)
                factor = building.power(factor, building.number(-1))
            factors.append(factor)
        return building.multiply_all(factors)

    def _note_denominator(self, factor: Expression, child: Any) -> None:
        if isinstance(factor, Number):
            if not factor.value:
                raise self._fault("division by zero", child)
        elif names(factor):
            self.conditions[building.relation("!=", factor, building.number(0))] = None

    def negative(self, node: Any, values: list[Any]) -> Any:
        if isinstance(values[1], Matrix):
            return -values[1]
        return building.negate(self._value(values[1], node.children[1]))

    def positive(self, node: Any, values: list[Any]) -> Any:
        return self._value(values[1], node.children[1])

    def root(self, node: Any, values: list[Any]) -> Any:
        return building.power(self._value(values[1], node.children[1]), building.number(HALF))

    def implicit(self, node: Any, values: list[Any]) -> Any:
        if isinstance(values[1], Matrix):
            return values[1] * _number(values[0])
        return building.multiply_all((_number(values[0]), self._value(values[1], node.children[1])))

    def power(self, node: Any, values: list[Any]) -> Any:
        if isinstance(values[0], Matrix):
            return values[0] ** self._value(values[2], node.children[2])
        base, exponent = self._value(values[0], node.children[0]), self._value(values[2], node.children[2])
        if isinstance(exponent, Number) and exponent.is_rational and exponent.rational < 0:
            self._note_denominator(base, node.children[0])
        return self._noted(building.power(base, exponent))

    def number(self, node: Any, values: list[Any]) -> Any:
        return _number(values[0])

    def quantity(self, node: Any, values: list[Any]) -> Any:
        """A number with a unit, or a unit alone: an exact number times SI base units."""
        text = str(values[-1]).strip("{} ")
        count = _number(values[0]) if len(values) > 1 else building.number(1)
        if text in ("deg", "°"):
            return count * building.constant("pi") / 180
        self.measured = True
        return count * quantity(unit(text))

    def imaginary(self, node: Any, values: list[Any]) -> Any:
        if "j" in self.context.declared or "j" in self.bare:
            raise self._fault(
                "`j` is a name here, so it is not clear what this means", node, "Write 3*j for the name, or rename it."
            )
        self.called.setdefault("j", _column(node))
        return building.number(
            Gaussian(mpq(0), from_decimal_text(str(values[0])[:-1])) if mpq(0) != from_decimal_text(str(values[0])[:-1]) else 0
        )

    def factorial(self, node: Any, values: list[Any]) -> Any:
        return building.call("factorial", self._value(values[0], node.children[0]))

    def superscript(self, node: Any, values: list[Any]) -> Any:
        text = str(values[1]).translate(words.SUPERSCRIPTS)
        exponent = building.number(from_decimal_text(text.lstrip("+-")) * (-1 if text[0] == "-" else 1))
        if isinstance(values[0], Matrix):
            return values[0] ** exponent
        base = self._value(values[0], node.children[0])
        if text[0] == "-":
            self._note_denominator(base, node.children[0])
        return building.power(base, exponent)

    def absolute(self, node: Any, values: list[Any]) -> Any:
        return building.call("abs", self._value(values[1] if len(values) > 1 else values[0], node))

    def matrix_row(self, node: Any, values: list[Any]) -> Any:
        return [self._value(v, c) for v, c in zip(values, node.children, strict=True)]

    def matrix(self, node: Any, values: list[Any]) -> Any:
        return Matrix(values)

    def group(self, node: Any, values: list[Any]) -> Any:
        return values[0]

    def name(self, node: Any, values: list[Any]) -> Any:
        text = self._spelt(values[0], node)
        if text in self.local:
            return self.local[text]
        self._not_failed(text, node)
        if text in self.context.definitions:
            value = self.context.definitions[text]
            if callable(value) and not isinstance(value, Node):
                value = value()
            return value
        if text in self.context.unknowns:
            arguments = self.context.unknowns[text]
            return building.applied(text, arguments, (0,) * len(arguments))
        if text in words.CONSTANTS:
            return building.constant(words.CONSTANTS[text])
        if text in words.BOUNDS:
            return building.bound(words.BOUNDS[text])
        known = self.context.declared.get(text)
        if known is None and text in MEANT:
            raise self._fault(
                f"`{text}` is not a name of its own here", node, f"Did you mean  {MEANT[text]} ?" if MEANT[text] else ""
            )
        self._function_alone(node)
        self.bare.setdefault(text, _column(node))
        if known is not None:
            return known
        if text == "j" and "j" in self.called:
            raise self._fault("`3j` and the name `j` stand in one formula, so it is not clear what j means", node)
        if self.context.declared:
            fault = messages.undeclared_product(self.text, _column(node), text, self.context.declared)
            if fault is not None:
                raise fault
        return building.name(text)

    def _not_failed(self, name: str, node: Any) -> None:
        if name in self.context.failed:
            raise self._fault(self.context.failed[name], node)

    def call(self, node: Any, values: list[Any]) -> Any:
        name = words.plain_name(str(values[0]))
        self._not_failed(name, node)
        listed = node.children[1].children if len(node.children) > 1 else []
        inner = values[1] if len(values) > 1 else []
        if name == "cases":
            return self._cases(node, listed, inner)
        for value, child in zip(inner, listed, strict=True):
            if isinstance(value, tuple):
                raise self._fault("`when` and `otherwise` stand only inside cases(…)", child)
        if any(isinstance(v, Matrix) for v in inner):
            return self._of_matrix(node, name, inner)
        arguments = [self._value(v, c) for v, c in zip(inner, listed, strict=True)]
        if name in self.context.unknowns:
            return self._applied(node, name, [0] * len(self.context.unknowns[name]), arguments)
        own = self.context.functions.get(name)
        if own is not None:
            return self._own_function(node, name, own, arguments)
        operation = self.context.operations.get(name)
        if operation is not None:
            result = operation(*arguments)
            return result if isinstance(result, Matrix) else self._value(result, node)
        self.called.setdefault(name, _column(node))
        if name == "log" and len(arguments) == 2:
            shown = [self._text_of(c) for c in listed]
            fitting = {"10": "log10", "2": "log2"}.get(shown[1])
            meant = f"{fitting}({shown[0]})" if fitting else f"ln({shown[0]})/ln({shown[1]})"
            raise self._fault("log is the natural logarithm, and takes 1 argument", node, f"Did you mean  {meant} ?")
        name = words.SAME_FUNCTION.get(name, name)
        if name == "sqrt":
            if len(arguments) != 1:
                raise self._fault(f"sqrt takes 1 argument, not {len(arguments)}", node)
            return self._noted(building.power(arguments[0], building.number(HALF)))
        if name in building.WRITTEN_FORMS:
            return building.written(name, *arguments)
        if name == "polynomial_root":
            return self._polynomial_root(node, arguments)
        if name not in FUNCTIONS:
            inside = self.text[_column(node) + len(str(values[0])) : _end(node)].strip().strip("()")
            near = {*self.context.declared, *self.bare, *self.context.definitions}
            raise messages.unknown_function(self.text, _column(node), str(values[0]), inside, near)
        return self._noted(building.call(name, *arguments))

    def _noted(self, part: Any) -> Any:
        """A call or power that may cancel out of an equation: what it needs is a condition still."""
        for factor in part.factors if isinstance(part, Product) else (part,):  # sqrt(x/2) is a product
            if isinstance(factor, (Call, Power)):
                self.parts[factor] = None
        return part

    def _conditions_of_cancelled(self, *results: Node) -> list[Condition]:
        """What the parts need that are gone, as exp(ln(x)) = x needs x > 0, for solving it over the real numbers."""
        there = {n for result in results for n in postorder(result)}
        gone = [p for p in self.parts if p not in there and names(p)]
        if not gone:
            return []
        facts = Facts()
        if any(not facts.is_real(n) for p in gone for n in names(p)):
            return []
        kept = [c for n in there for c in real_part_conditions(n, facts)]
        return [c for p in gone for c in facts.open_conditions(real_part_conditions(p, facts)) if c not in kept]

    def _of_matrix(self, node: Any, name: str, arguments: list[Any]) -> Any:
        """A function of a matrix: `transpose(A)`, `determinant(A)`, …; an operation of a derivation acts entry by entry."""
        work = self.context.operations.get(name) or OF_MATRICES.get(name)
        if work is None:
            known = ", ".join(sorted(OF_MATRICES))
            raise self._fault(f"{name} is not a function of matrices (there are {known})", node)
        return work(*arguments)

    def _polynomial_root(self, node: Any, arguments: list[Expression]) -> Any:
        if len(arguments) != 2:
            raise self._fault(
                f"polynomial_root takes a polynomial and the number of a root, not {len(arguments)} arguments", node
            )
        try:
            return polynomial_root(arguments[0], arguments[1])
        except DomainError as fault:
            raise self._fault(str(fault), node) from None

    def _cases(self, node: Any, listed: list[Any], inner: list[Any]) -> Any:
        pieces: list[tuple[Expression, Condition]] = []
        otherwise: Expression | None = None
        for value, child in zip(inner, listed, strict=True):
            if not isinstance(value, tuple):
                raise self._fault("each part of cases(…) reads  value when condition", child)
            if value[0] == "otherwise":
                otherwise = value[1]
            else:
                pieces.append((value[1], value[2]))
        return building.cases(pieces, otherwise)

    def _own_function(self, node: Any, name: str, own: tuple[tuple[Name, ...], Any], arguments: list[Expression]) -> Any:
        parameters, body = own
        if len(parameters) != len(arguments):
            raise self._fault(f"{name} takes {len(parameters)} arguments, not {len(arguments)}", node)
        table = dict(zip(parameters, arguments, strict=True))
        if isinstance(body, Equation):
            return Equation(substitute(body.left, table), substitute(body.right, table))
        return substitute(body, table)

    def arguments(self, node: Any, values: list[Any]) -> Any:
        return values

    def piece(self, node: Any, values: list[Any]) -> Any:
        return ("when", self._value(values[0], node.children[0]), self._condition(values[1], node.children[1]))

    def otherwise(self, node: Any, values: list[Any]) -> Any:
        return ("otherwise", self._value(values[0], node.children[0]))

    def primed(self, node: Any, values: list[Any]) -> Any:
        name = words.plain_name(str(values[0]))
        self._not_failed(name, node)
        order = sum(words.PRIME_MARKS.get(mark, 1) for mark in values[1])
        if name not in self.context.unknowns:
            own = self.context.functions.get(name)
            if own is not None and len(values) > 2 and len(own[0]) == 1 and isinstance(own[1], Expression):
                body = differentiate(own[1], own[0][0], order)
                return substitute(body, {own[0][0]: self._value(values[2][0], node)})
            if len(values) < 3:
                raise self._fault(
                    f"`{name}{values[1]}` is a derivative, but `{name}` is not declared as an unknown function", node,
                    f"Write {name}{values[1]}(t), or declare  unknown {name}(t) .",
                )  # fmt: skip
        places = self.context.unknowns.get(name)
        if places is not None and len(places) != 1:
            raise self._fault(f"{name} has {len(places)} arguments: write derivative_of({name}(…), x)", node)
        arguments = [self._value(v, node) for v in values[2]] if len(values) > 2 else list(places or ())
        return self._applied(node, name, [order], arguments)

    def ordered(self, node: Any, values: list[Any]) -> Any:
        orders = [int(str(v)[:9]) for v in values[2:-1]]  # a longer one is beyond every derivative
        return self._applied(node, words.plain_name(str(values[0])), orders, [self._value(v, node) for v in values[-1]])

    def _applied(self, node: Any, name: str, orders: list[int], arguments: list[Expression]) -> Any:
        if len(orders) != len(arguments):
            raise self._fault(f"{name} takes {len(orders)} argument{'s' * (len(orders) != 1)}, not {len(arguments)}", node)
        return building.applied(name, arguments, orders)


_HANDLERS: dict[str, Callable[[_Builder, Any, list[Any]], Any]] = {
    rule: getattr(_Builder, rule)
    for rule in (
        "disjunction", "conjunction", "negation", "comparison", "sum", "product", "negative", "positive", "root", "implicit",
        "power", "number", "quantity", "imaginary", "factorial", "superscript", "absolute", "group", "name", "call",
        "arguments", "piece", "otherwise", "primed", "ordered", "matrix", "matrix_row",
    )
}  # fmt: skip


def _divides(denominator: Expression, result: Condition) -> bool:
    """Whether every factor of a denominator is still one of the result."""
    below = {n.base for n in postorder(result) if isinstance(n, Power) and not _is_positive(n.exponent)}
    factors = denominator.factors if isinstance(denominator, Product) else (denominator,)
    return all((f.base if isinstance(f, Power) else f) in below for f in factors)


def _is_positive(exponent: Expression) -> bool:
    return isinstance(exponent, Number) and exponent.is_rational and exponent.rational > 0


def _number(token: Any) -> Expression:
    return building.number(from_decimal_text(str(token)))


def _column(node: Any) -> int:
    if hasattr(node, "start_pos"):
        return int(node.start_pos or 0)
    return int(getattr(node.meta, "start_pos", 0) or 0)


def _end(node: Any) -> int:
    return int(getattr(node.meta, "end_pos", 0) or 0)
