"""What a formula is: immutable nodes, of which one live object exists for one structure.

Equality of expressions is therefore identity, and the default hash serves every table. The table of live nodes holds
weak references (`interning.py`). Nodes are made only by `gelvo.expression.building`, which Python's operators reach through `Hooks.build`.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from fractions import Fraction
from typing import TYPE_CHECKING, Any, ClassVar, Union, cast

from gmpy2 import mpq

from gelvo.errors import DomainError, WrongKind
from gelvo.expression.registry import Function, Hooks
from gelvo.numbers.exact import Gaussian, Scalar, parts

if TYPE_CHECKING:
    from decimal import Decimal


class Node:
    """The root of expressions and conditions."""

    __slots__ = ("__weakref__", "depth", "known")
    known: int
    depth: int
    rank: ClassVar[int] = 0
    fields: ClassVar[tuple[str, ...]] = ()

    @property
    def children(self) -> tuple[Node, ...]:
        return ()

    def __copy__(self) -> Node:
        return self

    def __deepcopy__(self, memo: object) -> Node:
        return self

    def __reduce__(self) -> tuple[object, ...]:
        return Hooks.stored(self)

    def __str__(self) -> str:
        return Hooks.text(self)

    def __repr__(self) -> str:
        return str(self)

    def _repr_mimebundle_(self, include: object = None, exclude: object = None) -> dict[str, str]:
        return Hooks.show(self)


Operand = Union["Expression", int, float, complex, str, Fraction, "Decimal"]


class Expression(Node):
    """A formula with a value: Python's operators build further ones; `==` asks whether it is the same formula."""

    __slots__ = ()

    def __add__(self, other: Operand) -> Expression:
        right = _operand(other)
        return NotImplemented if right is None else Hooks.build.total((self, right))

    def __radd__(self, other: Operand) -> Expression:
        left = _operand(other)
        return _each(other, lambda e: e + self) if left is None else Hooks.build.total((self, left))

    def __sub__(self, other: Operand) -> Expression:
        right = _operand(other)
        return NotImplemented if right is None else Hooks.build.total((self, Hooks.build.negate(right)))

    def __rsub__(self, other: Operand) -> Expression:
        left = _operand(other)
        return _each(other, lambda e: e - self) if left is None else Hooks.build.total((left, Hooks.build.negate(self)))

    def __mul__(self, other: Operand) -> Expression:
        right = _operand(other)
        return NotImplemented if right is None else Hooks.build.multiply_all((self, right))

    def __rmul__(self, other: Operand) -> Expression:
        left = _operand(other)
        return _each(other, lambda e: e * self) if left is None else Hooks.build.multiply_all((self, left))

    def __truediv__(self, other: Operand) -> Expression:
        right = _operand(other)
        return NotImplemented if right is None else Hooks.build.divide(self, right)

    def __rtruediv__(self, other: Operand) -> Expression:
        left = _operand(other)
        return _each(other, lambda e: e / self) if left is None else Hooks.build.divide(left, self)

    def __pow__(self, other: Operand) -> Expression:
        right = _operand(other)
        return NotImplemented if right is None else Hooks.build.power(self, right)

    def __rpow__(self, other: Operand) -> Expression:
        left = _operand(other)
        return _each(other, lambda e: e**self) if left is None else Hooks.build.power(left, self)

    def __neg__(self) -> Expression:
        return Hooks.build.negate(self)

    def __pos__(self) -> Expression:
        return self

    @property
    def is_rational(self) -> bool:
        """Whether it is an exact rational number."""
        return False

    @property
    def is_whole(self) -> bool:
        """Whether it is an exact whole number."""
        return False

    @property
    def rational(self) -> mpq:
        """The rational number that it is; a DomainError for anything else."""
        raise DomainError(f"{self} is not a rational number")

    def __abs__(self) -> Expression:
        return Hooks.build.call("abs", self)

    def __lt__(self, other: Operand) -> Condition:
        return self._compare("<", other)

    def __le__(self, other: Operand) -> Condition:
        return self._compare("<=", other)

    def __gt__(self, other: Operand) -> Condition:
        return self._compare(">", other)

    def __ge__(self, other: Operand) -> Condition:
        return self._compare(">=", other)

    def _compare(self, operator: str, other: Operand) -> Condition:
        right = _operand(other)
        return NotImplemented if right is None else Hooks.build.relation(operator, self, right)

    def __float__(self) -> float:
        # more digits than a double has, so that the decimal text does not round a second time
        return float(Hooks.value(self, 40))

    def __int__(self) -> int:
        raise DomainError(f"{self} is not an integer")

    def __complex__(self) -> complex:
        return complex(Hooks.value(self, 40))

    # NumPy arrays and series must ask our operators, element by element, before their own.
    __array_priority__ = 1000.0


def _operand(value: object) -> Expression | None:
    if isinstance(value, Expression):
        return value
    try:
        return Hooks.build.to_expression(value)
    except TypeError:
        if isinstance(value, str):
            raise WrongKind(f'{value!r} is text, and Python operators take formulas: write formula("{value}")') from None
        if value is None or isinstance(value, (bool, bytes, list, tuple, dict, set)):
            raise WrongKind(f"{value!r} cannot stand in a formula: a number, a formula or a NumPy array can") from None
        return None


def _each(values: object, work: Callable[[Expression], Expression]) -> Expression:
    """A NumPy array on the left: the operation for each of its entries."""
    if not getattr(values, "ndim", 0) or type(values).__module__ != "numpy":
        return NotImplemented
    from numpy import frompyfunc

    return cast(Expression, frompyfunc(work, 1, 1)(cast(Any, values)))


class Number(Expression):
    """An exact rational or Gaussian rational; it compares and hashes as `Fraction` does."""

    __slots__ = ("value",)
    fields = ("value",)
    value: Scalar
    rank = 0

    @property
    def is_rational(self) -> bool:
        return not isinstance(self.value, Gaussian)

    @property
    def is_whole(self) -> bool:
        return not isinstance(self.value, Gaussian) and self.value.denominator == 1

    @property
    def rational(self) -> mpq:
        if isinstance(self.value, Gaussian):
            raise DomainError(f"{self} is not real")
        return self.value

    def __eq__(self, other: object) -> bool:
        if self is other:
            return True
        if isinstance(other, Number):
            return False
        if isinstance(other, (int, float, Fraction, mpq)):
            return not isinstance(self.value, Gaussian) and bool(self.value == other)
        if isinstance(other, complex):
            return tuple(parts(self.value)) == (other.real, other.imag)
        return NotImplemented

    def __hash__(self) -> int:
        return hash(self.value)

    def _compare(self, operator: str, other: Operand) -> Condition:
        right = _operand(other)
        if isinstance(right, Number):
            a, b = self.rational, right.rational
            return {"<": a < b, "<=": a <= b, ">": a > b, ">=": a >= b}[operator]
        return Expression._compare(self, operator, other)

    def __int__(self) -> int:
        if self.rational.denominator != 1:
            raise DomainError(f"{self} is not an integer")
        return int(self.rational)


class Constant(Expression):
    """A named number such as pi.

    >>> import gelvo
    >>> print(gelvo.pi.value(12), gelvo.sin(gelvo.pi), gelvo.euler_gamma.value(6), gelvo.catalan.value(6))
    3.14159265359 0 0.577216 0.915966
    """

    __slots__ = ("name",)
    fields = ("name",)
    name: str
    rank = 1


class AlgebraicNumber(Expression):
    """A root of an irreducible polynomial of degree three or more over the integers.

    coefficients: of the polynomial, constant term first; index: from 1, real roots ascending, then complex ones by real part,
    the negative imaginary part first.
    """

    __slots__ = ("coefficients", "index")
    fields = ("coefficients", "index")
    coefficients: tuple[int, ...]
    index: int
    rank = 1


class Name(Expression):
    """A variable; its name carries its domain."""

    __slots__ = ("domain", "name")
    fields = ("name", "domain")
    name: str
    domain: str
    rank = 2


class Bound(Expression):
    """`inf`, `-inf` or `undefined`: bounds and answers, never parts of sums or products.

    >>> import gelvo
    >>> print(gelvo.limit("1/x", "x", gelvo.inf), gelvo.limit("sin(x)", "x", gelvo.inf) == gelvo.undefined, -gelvo.inf)
    0 True -inf
    """

    __slots__ = ("kind",)
    fields = ("kind",)
    kind: str
    rank = 3

    def __neg__(self) -> Expression:
        return Hooks.build.bound({"inf": "-inf", "-inf": "inf"}.get(self.kind, "undefined"))


class Power(Expression):
    """base ^ exponent, as a principal value."""

    __slots__ = ("base", "exponent")
    fields = ("base", "exponent")
    base: Expression
    exponent: Expression
    rank = 4

    @property
    def children(self) -> tuple[Node, ...]:
        return self.base, self.exponent


class Product(Expression):
    """coefficient * factors; the factors have different bases."""

    __slots__ = ("coefficient", "factors")
    fields = ("coefficient", "factors")
    coefficient: Scalar
    factors: tuple[Expression, ...]
    rank = 5

    @property
    def children(self) -> tuple[Node, ...]:
        return self.factors


class Sum(Expression):
    """constant + the sum of coefficient * term; no term carries a coefficient of its own."""

    __slots__ = ("coefficients", "constant", "terms")
    fields = ("constant", "terms", "coefficients")
    constant: Scalar
    terms: tuple[Expression, ...]
    coefficients: tuple[Scalar, ...]
    rank = 6

    @property
    def children(self) -> tuple[Node, ...]:
        return self.terms

    def items(self) -> Iterator[tuple[Expression, Scalar]]:
        return zip(self.terms, self.coefficients, strict=True)


class Call(Expression):
    """A function of the catalogue applied to its arguments."""

    __slots__ = ("arguments", "function")
    fields = ("function", "arguments")
    function: Function
    arguments: tuple[Expression, ...]
    rank = 7

    @property
    def children(self) -> tuple[Node, ...]:
        return self.arguments

    @property
    def name(self) -> str:
        return self.function.name


class Applied(Expression):
    """An unknown function at a place, with the order of its derivative in each argument: theta''(t), theta'(0)."""

    __slots__ = ("arguments", "name", "orders")
    fields = ("name", "arguments", "orders")
    name: str
    arguments: tuple[Expression, ...]
    orders: tuple[int, ...]
    rank = 8

    @property
    def children(self) -> tuple[Node, ...]:
        return self.arguments

    def derivative(self, order: int = 1) -> Expression:
        """The derivative of a function of one argument: q.derivative(2) is q''."""
        if len(self.arguments) != 1:
            raise DomainError(f"{self.name} has {len(self.arguments)} arguments: use differentiate(…) with a variable")
        return Hooks.build.applied(self.name, self.arguments, (self.orders[0] + order,))

    def __call__(self, *arguments: Operand) -> Expression:
        places = tuple(Hooks.build.to_expression(a) for a in arguments)
        if len(places) != len(self.arguments):
            raise DomainError(f"{self.name} takes {len(self.arguments)} arguments, not {len(places)}")
        return Hooks.build.applied(self.name, places, self.orders)


class Written(Expression):
    """A result that has not been worked out: integral_of, derivative_of, limit_of, sum_of, product_of; or the one zero root_of(f, x, a, b).

    arguments: the body, the bound variable, then what the kind needs (bounds, a point).
    """

    __slots__ = ("arguments", "kind")
    fields = ("kind", "arguments")
    kind: str
    arguments: tuple[Expression, ...]
    rank = 9

    @property
    def children(self) -> tuple[Node, ...]:
        return self.arguments

    @property
    def body(self) -> Expression:
        return self.arguments[0]

    @property
    def variable(self) -> Name:
        variable = self.arguments[1]
        assert isinstance(variable, Name)
        return variable

    @property
    def binds(self) -> bool:
        """Whether the variable is only a dummy (it is not in a derivative or an indefinite integral)."""
        return not (self.kind == "derivative_of" or (self.kind == "integral_of" and len(self.arguments) == 2))


class Cases(Expression):
    """Values under conditions, looked at in order; `otherwise` may be `undefined`."""

    __slots__ = ("conditions", "values")
    fields = ("values", "conditions")
    values: tuple[Expression, ...]
    conditions: tuple[Condition, ...]
    rank = 10

    @property
    def children(self) -> tuple[Node, ...]:
        return (*self.values, *self.conditions)

    @property
    def otherwise(self) -> Expression:
        return self.values[-1]


class Condition(Node):
    """A statement about values that holds or not: never a Python truth value."""

    __slots__ = ()

    def __bool__(self) -> bool:
        raise WrongKind(
            f"the condition {self} is not a Python truth value. Ask is_known(…) whether it follows from facts, "
            "or equal(a, b) whether two expressions are the same."
        )

    def __and__(self, other: Condition) -> Condition:
        return Hooks.build.junction("and", (self, other))

    def __or__(self, other: Condition) -> Condition:
        return Hooks.build.junction("or", (self, other))

    def __invert__(self) -> Condition:
        return Hooks.build.opposite(self)


class Relation(Condition):
    """left < right and its like; operator is one of = != < <=."""

    __slots__ = ("left", "operator", "right")
    fields = ("operator", "left", "right")
    operator: str
    left: Expression
    right: Expression
    rank = 11

    @property
    def children(self) -> tuple[Node, ...]:
        return self.left, self.right


class Junction(Condition):
    """Conditions joined by `and` or `or`."""

    __slots__ = ("parts", "word")
    fields = ("word", "parts")
    word: str
    parts: tuple[Condition, ...]
    rank = 12

    @property
    def children(self) -> tuple[Node, ...]:
        return self.parts


class Truth(Condition):
    """A condition that always or never holds."""

    __slots__ = ("holds",)
    fields = ("holds",)
    holds: bool
    rank = 13
