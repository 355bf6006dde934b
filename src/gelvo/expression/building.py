"""Canonical building: the only place where nodes are made.

Rewritings done here hold for all complex values up to removable points, or follow from an explicitly declared domain.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from decimal import Decimal
from fractions import Fraction
from numbers import Integral
from typing import Any

from gmpy2 import mpq, mpz

from gelvo.errors import DomainError, WrongKind
from gelvo.expression import known as facts
from gelvo.expression.nodes import (
    AlgebraicNumber,
    Applied,
    Bound,
    Call,
    Cases,
    Condition,
    Constant,
    Expression,
    Junction,
    Name,
    Number,
    Power,
    Product,
    Relation,
    Sum,
    Truth,
    Written,
    find,
    keep,
)
from gelvo.expression.order import ordered
from gelvo.expression.registry import FUNCTIONS, record
from gelvo.numbers import exact
from gelvo.numbers.exact import MINUS_ONE, ONE, ZERO, Gaussian, Scalar, is_integer, parts

MOST_FLOAT_DIGITS = 14
WRITTEN_FORMS = {"integral_of": (2, 4), "derivative_of": (2, 3), "limit_of": (3, 4), "sum_of": (4, 4), "product_of": (4, 4)}
CONSTANTS = ("pi", "euler_gamma", "catalan")


def number(value: Scalar | int) -> Number:
    """The node of an exact number."""
    if not isinstance(value, Gaussian):
        value = exact.rational(value)
    key = (Number, value)
    node = find(key)
    if node is None:
        if exact.bits_of(value) > exact.LARGEST_NUMBER_BITS:
            raise DomainError(f"a number with {exact.bits_of(value)} binary digits is too large to go on with exactly")
        made: Number = object.__new__(Number)
        made.value = value
        made.known = _known_number(value)
        node = keep(key, made)
    return node  # type: ignore[return-value]


def _known_number(value: Scalar) -> int:
    if isinstance(value, Gaussian):
        return facts.NONZERO
    sign = facts.NIL if not value else facts.POS if value > 0 else facts.NEG
    return sign if value.denominator == 1 else sign | facts.FRACTIONAL


def constant(name: str) -> Constant:
    key = (Constant, name)
    node = find(key)
    if node is None:
        made: Constant = object.__new__(Constant)
        made.name, made.known = name, facts.POSITIVE
        node = keep(key, made)
    return node  # type: ignore[return-value]


def algebraic_number(coefficients: tuple[int, ...], index: int, known: int) -> AlgebraicNumber:
    """The node of a root; only `gelvo.deciding.algebraic` calls this, after it has made sure of the polynomial."""
    key = (AlgebraicNumber, coefficients, index)
    node = find(key)
    if node is None:
        made: AlgebraicNumber = object.__new__(AlgebraicNumber)
        made.coefficients, made.index, made.known = coefficients, index, known
        node = keep(key, made)
    return node  # type: ignore[return-value]


def name(text: str, domain: str = "real") -> Name:
    """A variable. The domain "real" is not used by building: an equation in it may be solved over complex numbers."""
    key = (Name, text, domain)
    node = find(key)
    if node is None:
        made: Name = object.__new__(Name)
        made.name, made.domain = text, domain
        made.known = facts.ANY if domain == "real" else facts.DOMAINS[domain]
        node = keep(key, made)
    return node  # type: ignore[return-value]


def bound(kind: str) -> Bound:
    key = (Bound, kind)
    node = find(key)
    if node is None:
        made: Bound = object.__new__(Bound)
        made.kind, made.known = kind, facts.ANY
        node = keep(key, made)
    return node  # type: ignore[return-value]


def to_expression(value: object) -> Expression:
    """An expression from a Python or NumPy number; floats by their shortest decimal."""
    if isinstance(value, Expression):
        return value
    inner = getattr(value, "expression", None)
    if isinstance(inner, Expression):
        return inner
    if isinstance(value, bool):
        raise WrongKind("True and False are not numbers in a formula")
    if isinstance(value, (int, Integral)) or type(value).__name__ == "mpz":
        return number(mpq(int(value)))  # type: ignore[call-overload]
    if isinstance(value, Fraction):
        return number(mpq(value.numerator, value.denominator))
    if isinstance(value, mpq):
        return number(value)
    if isinstance(value, Decimal):
        if not value.is_finite():
            return _infinite(float(value))
        return number(exact.from_decimal_text(str(value)))
    if isinstance(value, complex):
        return number(exact.gaussian(_from_float(value.real), _from_float(value.imag)))
    if isinstance(value, float):
        if value - value != 0:
            return _infinite(value)
        return number(_from_float(value))
    if hasattr(value, "item") and getattr(value, "shape", None) == ():
        return to_expression(value.item())
    raise WrongKind(f"a {type(value).__name__} cannot stand in a formula")


def _infinite(value: float) -> Expression:
    return bound("undefined" if value != value else "inf" if value > 0 else "-inf")


def _from_float(value: float) -> mpq:
    text = repr(float(value))
    digits = text.lower().split("e")[0].replace(".", "").lstrip("-").strip("0")
    if len(digits) > MOST_FLOAT_DIGITS:
        raise DomainError(
            f"the float {text} has {len(digits)} digits, so it is probably a rounded value. "
            f'Write it exactly (Fraction(1, 3), "1/3", gelvo.pi), or say decimal({text}, digits) for that decimal.'
        )
    sign = -1 if text.startswith("-") else 1
    return sign * exact.from_decimal_text(text.lstrip("-"))


def _make_sum(constant_part: Scalar, terms: Sequence[Expression], table: dict[Expression, Scalar]) -> Expression:
    in_order = tuple(ordered(terms))
    return make_sum(constant_part, in_order, tuple([table[t] for t in in_order]))


def make_sum(constant_part: Scalar, in_order: tuple[Expression, ...], coefficients: tuple[Scalar, ...]) -> Expression:
    """A sum node from ordered terms without coefficients of their own."""
    key = (Sum, constant_part, in_order, coefficients)
    node = find(key)
    if node is None:
        made: Sum = object.__new__(Sum)
        made.constant, made.terms, made.coefficients = constant_part, in_order, coefficients
        made.known = known_of_sum(made, [t.known for t in in_order])
        node = keep(key, made)
    return node  # type: ignore[return-value]


def known_of_scaled(known: int, coefficient: Scalar) -> int:
    if isinstance(coefficient, Gaussian):
        return facts.ANY if known & facts.NIL else facts.NONZERO
    return facts.scaled(known, 1 if coefficient > 0 else -1, coefficient.denominator == 1)


def known_of_sum(node: Sum, terms: Sequence[int]) -> int:
    parts = [(known_of_scaled(k, c), 1) for k, c in zip(terms, node.coefficients, strict=True)]
    if node.constant:
        parts.append((_known_number(node.constant), 1))
    return facts.sum_known(parts)


def total(terms: Iterable[Expression]) -> Expression:
    """The sum of many terms, in one pass; like terms are collected.

    >>> from gelvo.expression.building import name, total
    >>> print(total([name("x"), name("y"), name("x")]))
    2*x + y
    """
    terms = [t for t in terms if not (isinstance(t, Number) and not t.value)]
    if len(terms) == 1:
        return terms[0]
    table: dict[Expression, Scalar] = {}
    constant_part: Scalar = ZERO
    for term in terms:
        coefficient: Scalar = ONE
        if isinstance(term, Product) and len(term.factors) == 1 and isinstance(term.factors[0], Sum):
            coefficient, term = term.coefficient, term.factors[0]
        if isinstance(term, Number):
            constant_part = constant_part + term.value
        elif isinstance(term, Sum):
            constant_part = constant_part + coefficient * term.constant
            for inner, factor in term.items():
                table[inner] = table.get(inner, ZERO) + coefficient * factor
        elif isinstance(term, Bound):
            raise DomainError(f"{term.kind} is not a number and cannot stand in a sum")
        else:
            core, coefficient = split_coefficient(term)
            table[core] = table.get(core, ZERO) + coefficient
    remaining = [t for t, c in table.items() if c]
    if not remaining:
        return number(constant_part)
    if len(remaining) == 1 and not constant_part:
        return scale(remaining[0], table[remaining[0]])
    return _make_sum(constant_part, remaining, table)


def weighted_terms(e: Expression) -> list[tuple[Expression, Scalar]]:
    """The terms of a formula that are no numbers, each as (term without coefficient, coefficient)."""
    return list(e.items()) if isinstance(e, Sum) else [split_coefficient(e)]


def split_coefficient(term: Expression) -> tuple[Expression, Scalar]:
    """A term as (term without coefficient, coefficient)."""
    if isinstance(term, Product) and term.coefficient != ONE:
        if len(term.factors) == 1:
            return term.factors[0], term.coefficient
        return make_product(ONE, term.factors), term.coefficient
    if isinstance(term, Number):
        return number(ONE), term.value
    return term, ONE


def scale(term: Expression, coefficient: Scalar) -> Expression:
    """A number times an expression."""
    if not coefficient:
        return number(ZERO)
    if isinstance(term, Number):
        return number(term.value * coefficient)
    if isinstance(term, Product):
        combined = term.coefficient * coefficient
        if combined == ONE and len(term.factors) == 1:
            return term.factors[0]
        return make_product(combined, term.factors)
    if coefficient == ONE:
        return term
    if isinstance(term, Bound):
        raise DomainError(f"{term.kind} is not a number and cannot stand in a product")
    return make_product(coefficient, (term,))


def make_product(coefficient: Scalar, factors: tuple[Expression, ...]) -> Expression:
    """A product node from ordered factors of different bases."""
    key = (Product, coefficient, factors)
    node = find(key)
    if node is None:
        made: Product = object.__new__(Product)
        made.coefficient, made.factors = coefficient, factors
        made.known = known_of_scaled(facts.product_known([f.known for f in factors]), coefficient)
        node = keep(key, made)
    return node  # type: ignore[return-value]


def negate(term: Expression) -> Expression:
    if isinstance(term, Bound):
        return -term
    return scale(term, MINUS_ONE)


def _base_and_exponent(factor: Expression) -> tuple[Expression, Expression]:
    """x^n as (x, n); exp(u) as (exp(1), u)."""
    if isinstance(factor, Power):
        return factor.base, factor.exponent
    if isinstance(factor, Call) and factor.function.name == "exp":
        return call("exp", number(ONE)), factor.arguments[0]
    return factor, number(ONE)


def multiply_all(factors: Iterable[Expression]) -> Expression:
    """The product of many factors, in one pass; powers of one base are merged.

    >>> from gelvo.expression.building import name, multiply_all
    >>> print(multiply_all([name("x"), name("y"), name("x")]))
    y*x^2
    """
    coefficient: Scalar = ONE
    table: dict[Expression, list[Expression]] = {}
    work = list(factors)
    work.reverse()
    bounded: Bound | None = None
    while work:
        factor = work.pop()
        if isinstance(factor, Number):
            coefficient = coefficient * factor.value
        elif isinstance(factor, Product):
            coefficient = coefficient * factor.coefficient
            work.extend(reversed(factor.factors))
        elif isinstance(factor, Bound):
            bounded = factor
        else:
            base, exponent = _base_and_exponent(factor)
            entry = table.get(base)
            if entry is None:
                table[base] = [exponent, factor]
            else:
                del table[base]
                merged = power(base, total((entry[0], exponent)))
                work.append(merged)
    if bounded is not None:
        raise DomainError(f"{bounded.kind} is not a number and cannot stand in a product")
    if not coefficient or not table:
        return number(coefficient)
    if len(table) == 1:
        return scale(next(iter(table.values()))[1], coefficient)
    return make_product(coefficient, tuple(ordered([entry[1] for entry in table.values()])))


def divide(top: Expression, bottom: Expression) -> Expression:
    if isinstance(bottom, Number):
        if not bottom.value:
            raise DomainError(f"division by zero in {_short(top)}/0")
        return scale(top, exact.reciprocal(bottom.value))
    return multiply_all((top, power(bottom, number(MINUS_ONE))))


def _short(node: Expression) -> str:
    shown = str(node)
    return shown if len(shown) <= 40 else "(…)"


def _make_power(base: Expression, exponent: Expression) -> Expression:
    key = (Power, base, exponent)
    node = find(key)
    if node is None:
        made: Power = object.__new__(Power)
        made.base, made.exponent = base, exponent
        made.known = known_of_power(made, base.known, exponent.known)
        node = keep(key, made)
    return node  # type: ignore[return-value]


def known_of_power(node: Power, base: int, exponent: int) -> int:
    if isinstance(node.exponent, Number) and is_integer(node.exponent.value):
        return facts.integer_power_known(base, int(node.exponent.rational))
    if isinstance(node.exponent, Number) and facts.is_negative(exponent) and facts.is_nonnegative(base):
        return facts.POSITIVE
    return facts.power_known(base, exponent)


def power(base: Expression, exponent: Expression) -> Expression:
    """base ^ exponent in canonical form."""
    if isinstance(base, Bound) or isinstance(exponent, Bound):
        raise DomainError("inf and undefined cannot stand in a power; use limit(…)")
    if isinstance(exponent, Number) and exponent.is_rational:
        if exponent.rational.denominator == 1:
            return _integer_power(base, int(exponent.rational))
        return _rational_power(base, exponent.rational)
    return _symbolic_power(base, exponent)


def _integer_power(base: Expression, exponent: int) -> Expression:
    if exponent == 0:
        return number(ONE)
    if exponent == 1:
        return base
    if isinstance(base, Number):
        if not base.value and exponent < 0:
            raise DomainError(f"division by zero: 0^({exponent})")
        return number(exact.power(base.value, exponent))
    if isinstance(base, Power):
        return power(base.base, scale(base.exponent, mpq(exponent)))
    if isinstance(base, Product):
        factors = [number(exact.power(base.coefficient, exponent))]
        return multiply_all(factors + [power(f, number(exponent)) for f in base.factors])
    if isinstance(base, Call) and base.function.name == "exp":
        return call("exp", scale(base.arguments[0], mpq(exponent)))
    return _make_power(base, number(exponent))


def _rational_power(base: Expression, exponent: mpq) -> Expression:
    if isinstance(base, Number):
        return _radical(base.value, exponent)
    if isinstance(base, Product):
        outside, inside = _positive_part(base)
        if outside:
            return multiply_all([power(f, number(exponent)) for f in (*outside, inside)])
    if isinstance(base, Power):
        inner = base.exponent
        if isinstance(inner, Number) and inner.is_rational:
            if -1 < inner.rational <= 1 or facts.is_positive(base.base.known):
                return power(base.base, number(inner.rational * exponent))
            if facts.is_nonnegative(base.base.known) and inner.rational > 0:
                return power(base.base, number(inner.rational * exponent))
        elif facts.is_positive(base.base.known) and facts.is_real(inner.known):
            return power(base.base, scale(inner, exponent))
    if isinstance(base, Call) and base.function.name == "exp" and facts.is_real(base.arguments[0].known):
        return call("exp", scale(base.arguments[0], exponent))
    return _make_power(base, number(exponent))


def _positive_part(base: Product) -> tuple[list[Expression], Expression]:
    """The factors of a product that come out of a root: positive ones, and those that may be zero where the rest is not negative.

    sqrt(a*x) is 0 at x = 0 for every a, sqrt(a)*sqrt(x) has no real value there for a < 0.
    """
    settled = not isinstance(base.coefficient, Gaussian) and base.coefficient > 0
    settled = settled and all(facts.is_nonnegative(f.known) for f in base.factors)
    outward = facts.is_nonnegative if settled else facts.is_positive
    outside = [f for f in base.factors if outward(f.known)]
    inside = [f for f in base.factors if not outward(f.known)]
    coefficient = base.coefficient
    if isinstance(coefficient, Gaussian):
        if not outside:
            return [], base
        return outside, multiply_all([number(coefficient), *inside])
    size = abs(coefficient)
    if not inside and coefficient < 0:
        outside.append(number(size))
        return outside, number(MINUS_ONE)
    if size != 1:
        outside.append(number(size))
    if not outside:
        return [], base
    return outside, multiply_all([number(MINUS_ONE if coefficient < 0 else ONE), *inside])


def _radical(value: Scalar, exponent: mpq) -> Expression:
    """A rational power of an exact number: integers split into prime powers with exponents between 0 and 1."""
    if not value:
        if exponent < 0:
            raise DomainError(f"division by zero: 0^({exponent})")
        return number(ZERO)
    whole = exponent.numerator // exponent.denominator
    rest = exponent - whole
    if isinstance(value, Gaussian):
        outside = number(exact.power(value, int(whole)))
        root = exact.square_root(value) if rest == exact.HALF else None
        if root is not None:
            return multiply_all((outside, number(root)))
        return multiply_all((outside, _make_power(number(value), number(rest))))
    coefficient: Scalar = ONE
    factors: list[Expression] = []
    if value < 0:
        coefficient = MINUS_ONE if whole % 2 else ONE
        if rest == exact.HALF:
            coefficient = coefficient * Gaussian(ZERO, ONE)
        else:
            factors.append(_make_power(number(MINUS_ONE), number(rest)))
        value = -value
    exponents: dict[mpz, mpq] = {}
    for integer, sign in ((value.numerator, 1), (value.denominator, -1)):
        for prime, count in exact.small_factors(integer):
            exponents[prime] = exponents.get(prime, ZERO) + sign * count * exponent
    for prime, power_of in exponents.items():
        outside_exponent = int(power_of.numerator // power_of.denominator)
        coefficient = coefficient * exact.power(mpq(prime), outside_exponent)
        if power_of != outside_exponent:
            factors.append(_make_power(number(mpq(prime)), number(power_of - outside_exponent)))
    if not factors:
        return number(coefficient)
    if len(factors) == 1:
        return scale(factors[0], coefficient)
    return make_product(coefficient, tuple(ordered(factors)))


def _symbolic_power(base: Expression, exponent: Expression) -> Expression:
    if isinstance(base, Number):
        if base.value == ONE:
            return base
        if base.value == MINUS_ONE and facts.is_integer(exponent.known):
            return _sign_power(exponent)
        if isinstance(exponent, Sum) and base.value and not isinstance(exponent.constant, Gaussian):
            whole = exponent.constant.numerator // exponent.constant.denominator
            if whole:  # the fraction stays with the rest, with which a root of the base would merge again
                rest = total((exponent, number(-whole)))
                return multiply_all((power(base, number(whole)), power(base, rest)))
    if isinstance(base, Call) and base.function.name == "exp":
        inner = base.arguments[0]
        if facts.is_integer(exponent.known) or facts.is_real(inner.known):
            return call("exp", multiply_all((inner, exponent)))
    if isinstance(base, Power):
        real = facts.is_positive(base.base.known) and facts.is_real(base.exponent.known)
        if real or facts.is_integer(exponent.known):
            return power(base.base, multiply_all((base.exponent, exponent)))
    if isinstance(base, Product):
        if facts.is_integer(exponent.known):
            return multiply_all([power(f, exponent) for f in (number(base.coefficient), *base.factors)])
        outside, inside = _positive_part(base)
        if outside:
            return multiply_all([power(f, exponent) for f in (*outside, inside)])
    return _make_power(base, exponent)


def _sign_power(exponent: Expression) -> Expression:
    """(-1)^n for an integer n: even multiples of integers drop out."""
    sign = ONE
    odd: list[Expression] = []
    items = weighted_terms(exponent)
    if isinstance(exponent, Sum) and is_integer(exponent.constant):
        sign = MINUS_ONE if parts(exponent.constant)[0] % 2 else ONE
    elif isinstance(exponent, Sum) and exponent.constant:
        return _make_power(number(MINUS_ONE), exponent)
    for term, coefficient in items:
        if not (is_integer(coefficient) and facts.is_integer(term.known)):
            return _make_power(number(MINUS_ONE), exponent)
        if parts(coefficient)[0] % 2:
            odd.append(term)
    if not odd:
        return number(sign)
    return scale(_make_power(number(MINUS_ONE), total(odd)), sign)


def call(function_name: str, *arguments: Expression) -> Expression:
    """A function of the catalogue applied to arguments, with its exact values, parity and inverse used."""
    function = FUNCTIONS.get(function_name) or record(function_name)
    if function is None:
        raise DomainError(f"there is no function {function_name} in the catalogue")
    least, most = function.arguments
    if not least <= len(arguments) <= most:
        wanted = str(least) if least == most else f"{least} or more" if most > 9 else f"{least} to {most}"
        raise DomainError(f"{function_name} takes {wanted} argument{'s' if wanted != '1' else ''}, not {len(arguments)}")
    if any(isinstance(a, Bound) for a in arguments):
        raise DomainError(f"inf and undefined cannot stand in {function_name}(…); use limit(…)")
    if (function.odd or function.even) and isinstance(arguments[0], Product):
        arguments = (distributed(arguments[0]),)
    if function.at is not None:
        value = function.at(*arguments)
        if value is not None:
            return value
    if function.odd or function.even:
        argument = arguments[0]
        if looks_negative(argument):
            value = call(function_name, distributed(negate(argument)))
            return negate(value) if function.odd else value
    if function.inverse and isinstance(arguments[0], Call) and arguments[0].function.name == function.inverse:
        return arguments[0].arguments[0]
    key = (Call, function, arguments)
    node = find(key)
    if node is None:
        made: Call = object.__new__(Call)
        made.function, made.arguments = function, arguments
        made.known = function.known(*[a.known for a in arguments]) if function.known else facts.ANY
        node = keep(key, made)
    return node  # type: ignore[return-value]


def distributed(node: Expression) -> Expression:
    """A rational times a sum, multiplied out: so that an argument and its negative are told apart."""
    if isinstance(node, Product) and len(node.factors) == 1 and isinstance(node.factors[0], Sum):
        inner = node.factors[0]
        table = {t: c * node.coefficient for t, c in inner.items()}
        return _make_sum(inner.constant * node.coefficient, list(table), table)
    return node


def looks_negative(node: Expression) -> bool:
    """Whether the sign in front of a formula is a minus: the same answer for a formula and its negative never comes."""
    if isinstance(node, Number):
        leading = node.value
    elif isinstance(node, Product):
        leading = node.coefficient
        if leading == ONE and len(node.factors) == 1:
            return looks_negative(node.factors[0])
    elif isinstance(node, Sum):
        leading = node.coefficients[0]
    else:
        return False
    real, imag = exact.parts(leading)
    return bool(real < 0 or (real == 0 and imag < 0))


def applied(function_name: str, arguments: Sequence[Expression], orders: Sequence[int]) -> Applied:
    """An unknown function, or a derivative of it, at a place."""
    key = (Applied, function_name, tuple(arguments), tuple(orders))
    node = find(key)
    if node is None:
        made: Applied = object.__new__(Applied)
        made.name, made.arguments, made.orders = function_name, tuple(arguments), tuple(orders)
        made.known = facts.ANY
        node = keep(key, made)
    return node  # type: ignore[return-value]


def written(kind: str, *arguments: Expression) -> Expression:
    """A written form; the second argument is its variable."""
    least, most = WRITTEN_FORMS[kind]
    if not (least <= len(arguments) <= most) or (kind == "integral_of" and len(arguments) == 3):
        wanted = {"integral_of": "integral_of(f, x) or integral_of(f, x, a, b)"}.get(kind, f"{least} to {most} arguments")
        raise DomainError(f"{kind} needs {wanted}")
    if not isinstance(arguments[1], Name):
        raise DomainError(f"the second argument of {kind} must be a variable, not {_short(arguments[1])}")
    key = (Written, kind, arguments)
    node = find(key)
    if node is None:
        made: Written = object.__new__(Written)
        made.kind, made.arguments, made.known = kind, arguments, facts.ANY
        node = keep(key, made)
    return node  # type: ignore[return-value]


def cases(pieces: Iterable[tuple[Any, Condition]], otherwise: Any = None) -> Expression:
    """Values under conditions, looked at in order; without `otherwise` the rest is undefined."""
    values: list[Expression] = []
    conditions: list[Condition] = []
    last = bound("undefined") if otherwise is None else to_expression(otherwise)
    for value, condition in pieces:
        condition = as_condition(condition)
        if isinstance(condition, Truth):
            if condition.holds:
                last = to_expression(value)
                break
            continue
        values.append(to_expression(value))
        conditions.append(condition)
    while values and values[-1] is last:
        values.pop()
        conditions.pop()
    if not values:
        return last
    key = (Cases, tuple(values), tuple(conditions), last)
    node = find(key)
    if node is None:
        made: Cases = object.__new__(Cases)
        made.values, made.conditions = (*values, last), tuple(conditions)
        union = 0
        for value in made.values:
            union |= value.known
        made.known = union
        node = keep(key, made)
    return node  # type: ignore[return-value]


def truth(holds: bool) -> Truth:
    key = (Truth, holds)
    node = find(key)
    if node is None:
        made: Truth = object.__new__(Truth)
        made.holds, made.known = holds, facts.ANY
        node = keep(key, made)
    return node  # type: ignore[return-value]


def as_condition(value: Any) -> Condition:
    if isinstance(value, Condition):
        return value
    if isinstance(value, bool):
        return truth(value)
    condition = getattr(value, "condition", None)
    if isinstance(condition, Condition):
        return condition
    raise DomainError(f"{value} is not a condition such as x > 0")


_HOLDS = {"=": lambda s: s == 0, "!=": lambda s: s != 0, "<": lambda s: s < 0, "<=": lambda s: s <= 0}


def relation(operator: str, left: Expression, right: Expression) -> Condition:
    """left operator right; `>` and `>=` are turned round; numbers are compared at once."""
    if operator in (">", ">="):
        operator, left, right = {">": "<", ">=": "<="}[operator], right, left
    if isinstance(left, Number) and isinstance(right, Number):
        difference = left.value - right.value
        if not isinstance(difference, Gaussian):
            return truth(bool(_HOLDS[operator](difference)))
        if operator in ("=", "!="):
            return truth(operator == "!=")
    if left is right:
        return truth(operator in ("=", "<="))
    key = (Relation, operator, left, right)
    node = find(key)
    if node is None:
        made: Relation = object.__new__(Relation)
        made.operator, made.left, made.right, made.known = operator, left, right, facts.ANY
        node = keep(key, made)
    return node  # type: ignore[return-value]


def junction(word: str, parts: Iterable[Condition]) -> Condition:
    """Conditions joined by `and` or `or`; repeated and constant ones drop out."""
    neutral = word == "and"
    found: dict[Condition, None] = {}
    for part in parts:
        for inner in part.parts if isinstance(part, Junction) and part.word == word else (part,):
            if isinstance(inner, Truth):
                if inner.holds != neutral:
                    return inner
                continue
            found[inner] = None
    if not found:
        return truth(neutral)
    if len(found) == 1:
        return next(iter(found))
    key = (Junction, word, tuple(found))
    node = find(key)
    if node is None:
        made: Junction = object.__new__(Junction)
        made.word, made.parts, made.known = word, tuple(found), facts.ANY
        node = keep(key, made)
    return node  # type: ignore[return-value]


def opposite(condition: Condition) -> Condition:
    """The condition that holds where this one does not (for real values)."""
    if isinstance(condition, Truth):
        return truth(not condition.holds)
    if isinstance(condition, Relation):
        left, right = condition.left, condition.right
        if condition.operator in ("=", "!="):
            return relation("!=" if condition.operator == "=" else "=", left, right)
        return relation("<=" if condition.operator == "<" else "<", right, left)
    assert isinstance(condition, Junction)
    return junction("or" if condition.word == "and" else "and", [opposite(p) for p in condition.parts])
