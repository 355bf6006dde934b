"""An expansion as a thing to reckon with: sums, products, quotients, powers, one put into another, the inverse function, fractions that
agree with it, more of its terms, and a bound of what is left out.

Sources: J. Lagrange (1770) for the inverse function, as in DLMF 1.10.13; H. Padé (1892); B. Taylor (1715) with Lagrange's rest.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from fractions import Fraction
from typing import Any, NamedTuple

from gmpy2 import fac, mpq

from gelvo.calculus.local.expander import Local
from gelvo.calculus.local.expansion import Expansion, Short, Unclear, constant_term
from gelvo.checking.certificate import Certificate, weakest
from gelvo.deciding.suppositions import supposing
from gelvo.errors import DomainError
from gelvo.evaluation.enclose import Enclosure
from gelvo.evaluation.value import Value, decimal_text
from gelvo.expression.building import number, power, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Bound, Condition, Expression, Name, Number
from gelvo.expression.traversal import contains, names, substitute
from gelvo.expression.writing import with_typed
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.forms.univariate import lowest_terms
from gelvo.numbers import box as boxes
from gelvo.numbers.box import Box
from gelvo.numbers.exact import rounded
from gelvo.numbers.interval import Interval, NoValue, arithmetic, exact
from gelvo.operations.answer import Answer, in_a_row, with_comment
from gelvo.operations.general_term import general_coefficient
from gelvo.operations.inputs import take
from gelvo.polynomial.series import pade as pade_fraction

LEAST_TERMS, MOST_TERMS, PIECES, PRECISION = 6, 200, 64, 80


class Question(NamedTuple):
    """What was expanded: the formula (None for what came from arithmetic), its variable, the place, what is known, and how to go further."""

    formula: Expression | None
    variable: Name
    place: Expression
    facts: Facts
    further: Callable[[Any], Series]


def _no_more(_: Any) -> Series:
    raise DomainError("what arithmetic made has no more terms than its parts: take more of them")


class Series(Answer):
    """An expansion: its formula is the sum of the terms kept; .coefficient(k), .terms, .next_power (the first one left out).

    Two of them about one point are added, multiplied, divided; a number or a letter counts as one too; .of(inner), .inverse_function(y),
    .fraction(top, bottom), .further(power), .rest_bound(lower, upper).
    """

    __slots__ = ("local", "next_power", "question", "terms")

    def __init__(self, question: Question, terms: dict[Any, Expression], next_power: Any, local: Expression, *rest: Any) -> None:
        super().__init__(*rest)
        self.question, self.terms, self.local = question, terms, local
        self.next_power = next_power  # None where nothing is left out

    @property
    def in_order(self) -> list[Expression]:
        """The terms that are kept, by rising powers of the local variable."""
        return [
            c * power(self.local, number(e)) for e, c in sorted(self.terms.items()) if not (isinstance(c, Number) and not c.value)
        ] or [self.expression]

    @property
    def remainder(self) -> Expression | None:
        """The power of the local variable that bounds what is left out; None where nothing is."""
        return None if self.next_power is None else power(self.local, number(self.next_power))

    def __str__(self) -> str:
        """The terms by rising powers; what is left out as a comment: the text still reads back to the formula."""
        with with_typed(self.came_in):
            left_out = "" if self.remainder is None else f"+ O({self.remainder})"
        return with_comment(in_a_row(self.in_order, self.came_in), "; ".join(filter(None, (left_out, self.qualification))))

    __repr__ = __str__

    def coefficient(self, power_of: Any) -> Any:
        """The coefficient of one power of the local variable; an error for a power that was not worked out.

        For a letter, the coefficient of every natural power at once: an Answer with its proof, or NoClosedForm.

        >>> import gelvo
        >>> gelvo.series("1/(1 - x)^2", "x").coefficient("n")
        n + 1
        """
        (wanted,) = take(power_of).expressions
        if isinstance(wanted, Name):
            return self._general(wanted)
        if not (isinstance(wanted, Number) and wanted.is_rational):
            raise DomainError(f"a power is a number, not {wanted}")
        if self.next_power is not None and wanted.rational >= self.next_power:
            raise DomainError(f"the power {wanted} was left out: ask for .further({wanted})")
        return self.terms.get(wanted.rational, number(0))

    def _general(self, letter: Name) -> Answer:
        formula, x, place, facts, _ = self.question
        if formula is None:
            raise DomainError("what arithmetic made is known for the powers that are kept only")
        u = facts.new_name("u", formula, place)
        if isinstance(place, Bound) or self.local is not x - place:
            raise DomainError("a letter for the power needs an expansion about a finite point, from both sides")
        return general_coefficient(substitute(formula, {x: place + u}), u, letter, facts)

    def further(self, through: Any) -> Series:
        """The expansion of the same formula through another power.

        >>> import gelvo
        >>> gelvo.series("exp(x)", "x", through=1).further(3)
        1 + x + x^2/2 + x^3/6   # + O(x^4)
        """
        return self.question.further(through)

    # --- arithmetic -------------------------------------------------------------------------------------------------------

    def _known(self) -> Expansion:
        """What is kept, and where it ends."""
        order = None if self.next_power is None else mpq(self.next_power)
        return Expansion({mpq(e): c for e, c in sorted(self.terms.items()) if c is not ZERO}, order)

    def _work(self) -> Local:
        u = self.question.facts.new_name("u", self.expression, self.local)
        kept = [mpq(e) for e in self.terms] or [mpq(0)]
        end = mpq(self.next_power) if self.next_power is not None else 2 * max(kept) + 1
        count = max(LEAST_TERMS, int((end - min(kept)) * max(e.denominator for e in kept)) + 1)
        return Local(u, self.question.facts, min(count, MOST_TERMS))

    def _made(
        self, found: Expansion, how: str, *others: Series, local: Expression | None = None, question: Question | None = None,
        supposed: Iterable[Condition] = (),
    ) -> Series:  # fmt: skip
        """A series that arithmetic made, of which the weakest part tells the verdict."""
        place = self.local if local is None else local
        kept = total([c * power(place, number(e)) for e, c in found.terms.items()])
        parts = (self, *others)

        def certify() -> Certificate:
            made = tuple(p.certificate() for p in parts)
            return Certificate(
                f"{how} of expansions about one point", weakest(made), "exact arithmetic of what is kept", parts=made
            )

        asked = self.question if question is None else question
        conditions = self.question.facts.open_conditions([*(c for p in parts for c in p.conditions), *supposed])
        end = None if found.order is None else plain_number(found.order)
        asked = asked._replace(formula=None, further=_no_more)
        return Series(asked, dict(found.terms), end, place, kept, certify, conditions, "arithmetic of expansions")

    def _partner(self, other: Any) -> Series | Expansion | None:
        """The other one as a series about the same point, or as a constant; None where it is neither."""
        if isinstance(other, Series):
            if other.local is not self.local:
                raise DomainError(f"one expansion is in powers of {self.local}, the other in powers of {other.local}")
            return other
        if isinstance(other, str):
            return None
        (value,) = take(other).expressions
        if isinstance(value, Bound) or contains(value, self.question.variable):
            return None
        return constant_term(value)

    def _with(self, other: Any, how: str, work: Callable[[Local, Expansion, Expansion], Expansion], turned: bool = False) -> Any:
        partner = self._partner(other)
        if partner is None:
            return NotImplemented
        own, beside = self._known(), partner._known() if isinstance(partner, Series) else partner
        with supposing() as supposed:
            try:
                found = work(self._work(), *((beside, own) if turned else (own, beside)))
            except (Unclear, Short, ZeroDivisionError) as fault:
                raise DomainError(f"{how} of these expansions is not known{f': {fault}' if str(fault) else ''}") from None
        return self._made(found, how, *([partner] if isinstance(partner, Series) else []), supposed=supposed)

    def of(self, inner: Series) -> Series:
        """This expansion with another put in for its variable, which has to reach the point that this one is about.

        >>> import gelvo
        >>> outer, inner = gelvo.series("exp(x)", "x", through=3), gelvo.series("sin(x)", "x", through=4)
        >>> outer.of(inner)
        1 + x + x^2/2   # + O(x^4)
        """
        if not isinstance(inner, Series):
            raise DomainError("an expansion is put into another one: both are made by series(…)")
        place = self.question.place
        known = inner._known()
        if (
            isinstance(place, Bound)
            or lowest_terms(known.terms.get(mpq(0), ZERO) - place) is not ZERO
            or any(e < 0 for e in known.terms)
        ):
            raise DomainError(f"the inner expansion has to start with {place}, the point of the outer one")
        if any(e.denominator != 1 or e < 0 for e in self._known().terms):
            raise DomainError("only expansions in natural powers take another one in")
        z = Expansion({e: c for e, c in known.terms.items() if e}, known.order)
        work = inner._work()
        found = work.compose(z, lambda k: self.terms.get(mpq(k), ZERO))
        if self.next_power is not None and z.valuation is not None:
            end = z.valuation * mpq(self.next_power)
            found = work.add([found, Expansion({}, end)])
        return inner._made(found, "one put into the other", self)

    def inverse_function(self, variable: Any) -> Series:
        """The expansion of the inverse function, in a variable for the value of this one.

        >>> import gelvo
        >>> gelvo.series("x*exp(x)", "x", through=4).inverse_function("y")
        y - y^2 + 3*y^3/2 - 8*y^4/3   # + O(y^5)
        """
        (y,) = take(self.expression, variables=[variable]).names
        known = self._known()
        first = known.terms.get(mpq(0), ZERO)
        rest = Expansion({e: c for e, c in known.terms.items() if e}, known.order)
        if rest.valuation != 1 or any(e.denominator != 1 for e in rest.terms) or isinstance(self.question.place, Bound):
            raise DomainError("the inverse function has an expansion where the slope is not zero")
        work = self._work()
        end = 2 * len(rest.terms) if rest.order is None else int(rest.order)
        terms: dict[mpq, Expression] = {mpq(0): self.question.place} if self.question.place is not ZERO else {}
        shifted = Expansion({e - 1: c for e, c in rest.terms.items()}, None if rest.order is None else rest.order - 1)
        with supposing() as supposed:
            try:
                over = work.power(shifted, mpq(-1))
            except Unclear as fault:
                raise DomainError(f"the inverse function is not known: {fault}") from None
        piece = constant_term(ONE)
        for k in range(1, end):
            piece = work.multiply(piece, over)
            c = lowest_terms(piece.terms.get(mpq(k - 1), ZERO) / k)
            if c is not ZERO:
                terms[mpq(k)] = c
        question = self.question._replace(variable=y, place=first)
        return self._made(Expansion(terms, mpq(end)), "the inverse", local=y - first, question=question, supposed=supposed)

    def fraction(self, top: int, bottom: int) -> Expression:
        """The quotient of polynomials of these degrees that agrees with the expansion (H. Padé); its coefficients have to be rational.

        >>> import gelvo
        >>> gelvo.series("exp(x)", "x", through=4).fraction(2, 2)
        (x^2 + 6*x + 12)/(x^2 - 6*x + 12)
        """
        if top < 0 or bottom < 0:
            raise DomainError("the degrees of a fraction are natural numbers")
        listed = [self.coefficient(k) for k in range(top + bottom + 1)]
        if any(mpq(e) < 0 or mpq(e).denominator != 1 for e in self.terms) or not all(
            isinstance(c, Number) and c.is_rational for c in listed
        ):
            raise DomainError("a fraction agrees with an expansion in natural powers with rational coefficients")
        above, below = pade_fraction([c.rational for c in listed], top, bottom)
        sides = [total([number(c) * power(self.local, number(k)) for k, c in enumerate(side)]) for side in (above, below)]
        return lowest_terms(sides[0] / sides[1])

    def rest_bound(self, lower: Any, upper: Any) -> Value:
        """What |formula - kept terms| does not exceed between two numbers, by the next derivative between them (J. Lagrange).

        >>> import gelvo
        >>> gelvo.series("sin(x)", "x", through=5).rest_bound(-1, 1)
        0.00020
        """
        f, x, place = self.question.formula, self.question.variable, self.question.place
        (low, high) = take(lower, upper).expressions
        if f is None or isinstance(place, Bound) or any(mpq(e).denominator != 1 or mpq(e) < 0 for e in self.terms):
            raise DomainError("a bound is told of an expansion in natural powers that series(…) made")
        if set(names(f, place)) != {x}:
            raise DomainError("a bound is a number: substitute the letters first")
        ends = [Enclosure(e).at({}, PRECISION).real for e in (low, high, place)]
        if self.next_power is None:
            return Value("0", None, 1, True)
        order = int(self.next_power)
        size = _largest(differentiate(f, x, order), x, ends[0], ends[1])
        a = arithmetic(PRECISION)
        distance = a.absolute(a.hull(a.subtract(ends[0], ends[2]), a.subtract(ends[1], ends[2])))
        bound = a.divide(a.multiply(size, a.power(distance, order)), a.integer(int(fac(order)))).high
        return _not_below(exact(bound))


def _largest(f: Expression, x: Name, low: Interval, high: Interval) -> Interval:
    """The size of a formula between two ends, piece by piece."""
    a, enclosure = arithmetic(PRECISION), Enclosure(f)
    width = a.divide(a.subtract(high, low), a.integer(PIECES))
    if width.low <= 0:
        raise DomainError("the first end lies below the second one")
    result = a.zero
    for k in range(PIECES):
        start = a.add(low, a.multiply(width, a.integer(k)))
        stretch = a.hull(start, a.add(start, width))
        try:
            size = boxes.modulus(a, enclosure.at({x: Box(stretch)}, PRECISION))
        except NoValue as fault:
            raise DomainError(f"there is no bound of the next derivative there: {fault}") from None
        result = a.hull(result, size)
    return result


def _not_below(x: mpq) -> Value:
    """A number of two digits that x does not exceed."""
    whole, exponent = rounded(x, 2)
    if mpq(whole) * mpq(10) ** exponent < x:
        whole += 1
    return Value(decimal_text(whole, exponent, 2), None, 2, True)


def plain_number(value: mpq) -> int | Fraction:
    """As Python's own number."""
    return int(value) if value.denominator == 1 else Fraction(int(value.numerator), int(value.denominator))


def _times(work: Local, a: Expansion, b: Expansion) -> Expansion:
    return work.multiply(a, b)


def _less(work: Local, a: Expansion, b: Expansion) -> Expansion:
    return work.add([a, Expansion({e: -c for e, c in b.terms.items()}, b.order)])


OPERATORS: dict[str, tuple[str, Callable[[Local, Expansion, Expansion], Expansion]]] = {
    "add": ("the sum", lambda work, a, b: work.add([a, b])),
    "sub": ("the difference", _less),
    "mul": ("the product", _times),
    "truediv": ("the quotient", lambda work, a, b: work.multiply(a, work.power(b, mpq(-1)))),
}


def _operator(how: str, work: Callable[[Local, Expansion, Expansion], Expansion], turned: bool, plain: Any) -> Any:
    def method(self: Series, other: Any) -> Any:
        found = self._with(other, how, work, turned)
        return plain(self, other) if found is NotImplemented else found

    return method


for _name, (_how, _work) in OPERATORS.items():
    for _spelled, _turned in ((f"__{_name}__", False), (f"__r{_name}__", True)):
        setattr(Series, _spelled, _operator(_how, _work, _turned, getattr(Answer, _spelled)))


def _raised(self: Series, exponent: Any) -> Any:
    (q,) = take(exponent).expressions
    if not (isinstance(q, Number) and q.is_rational):
        return vars(Answer)["__pow__"](self, exponent)
    try:
        with supposing() as supposed:
            found = self._work().power(self._known(), q.rational)
        return self._made(found, "the power", supposed=supposed)
    except (Unclear, Short, ZeroDivisionError) as fault:
        raise DomainError(f"the power of this expansion is not known: {fault}") from None


setattr(Series, "__pow__", _raised)
