"""What holds in a call: facts about names and relations between them, and what follows for a formula.

Everything here is sound and incomplete: "not known" is always a possible answer.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from itertools import count
from typing import TYPE_CHECKING, Any, NamedTuple

from gmpy2 import mpq

from gelvo.algebra.linear_facts import Row, contradictory, row_of
from gelvo.algebra.unit_forms import Parity, parity, unit_form
from gelvo.errors import DomainError
from gelvo.expression import known as bits
from gelvo.expression.building import (
    as_condition,
    call,
    constant,
    junction,
    known_of_power,
    known_of_scaled,
    known_of_sum,
    looks_negative,
    multiply_all,
    negate,
    number,
    power,
    relation,
    scale,
    total,
)
from gelvo.expression.building import name as make_name
from gelvo.expression.nodes import (
    Applied,
    Call,
    Cases,
    Condition,
    Equation,
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
from gelvo.expression.order import ordered
from gelvo.expression.traversal import fresh_name, names, postorder, relations_of, spelled_in, substitute
from gelvo.numbers.exact import Gaussian

if TYPE_CHECKING:
    from gelvo.algebra.ranges import Span

_MASK_OF = {"<": bits.POSITIVE, "<=": bits.NONNEGATIVE, "!=": bits.NONZERO, "=": bits.NIL}


_QUARTER = {"sin": mpq(0), "cos": mpq(-1, 2)}  # where, in half turns, a half wave above zero begins


FEW_TERMS = 4
MOST_TERMS_SQUARED, MOST_TERMS_BESIDE_FACTS = 10, 60  # a longer sum is not squared, nor taken apart fact by fact


class DomainFact(NamedTuple):
    """A fact such as `n integer`."""

    name: Name
    domain: str

    def __str__(self) -> str:
        return f"{self.name} {self.domain}"


class Facts:
    """The facts of one call, ready to answer.

    >>> from gelvo.expression.building import name, relation, number
    >>> a, b = name("a"), name("b")
    >>> facts = Facts([relation("<", number(0), a), relation("<", a, b)])
    >>> facts.is_positive(a * b)
    True
    """

    def __init__(self, given: Iterable[Any] = (), complex_names: Iterable[Name] = (), spelled: Iterable[str] = ()) -> None:
        """spelled: the names of the whole call; what is made up during the work bears none of them."""
        self.given: list[Any] = list(given)
        self.complex_names = set(complex_names)
        self.spelled = frozenset(spelled)
        self.table: dict[Expression, int] = {}
        self.reason: dict[Expression, list[str]] = {}
        self.equalities: list[tuple[Expression, Expression]] = []
        self._bars: list[tuple[Expression, Expression, str, str]] = []  # (u, c, operator, text) of abs(u) < c
        self._memo: dict[Node, int] = {}
        self._sums: list[tuple[Expression, int]] = []
        self._busy: set[Name] = set()
        self._summed: set[Name] = set()
        self._rows: list[Row] = []
        self._row_texts: list[str] = []
        self._reducing = False
        self._parities: dict[Expression, int] | None = None  # signs of products without squares, once asked for
        self._whole: list[Expression] = []  # what is stated to be equal to its own floor
        self.reduction: tuple[list[tuple[Name, Expression]], Facts] | None = None  # what the equalities give, once asked for
        for fact in self.given:
            self._take(fact)
        self._take_bars()
        self._note_squares()
        if len(self._sums) > 1 and contradictory(self._rows):
            raise DomainError(f"the facts contradict each other: {' and '.join(self._least_contradiction())}")

    def _take(self, fact: Any) -> None:
        if isinstance(fact, DomainFact):
            if fact.domain == "complex":
                self.complex_names.add(fact.name)
            self._note(fact.name, bits.DOMAINS[fact.domain], str(fact))
            return
        condition = as_condition(fact)
        if isinstance(condition, Truth) and not condition.holds:
            raise DomainError(f"the fact {fact} can never hold")
        for part in relations_of(condition):
            if part.operator == "=":
                self.equalities.append((part.left, part.right))
                self._note_whole(part)
            if part.operator in ("<", "<=") and isinstance(part.left, Call) and part.left.name == "abs":
                self._bars.append((part.left.arguments[0], part.right, part.operator, str(part)))
            self._take_gap(part.right - part.left, part.operator, str(part))

    def _take_gap(self, gap: Expression, operator: str, text: str) -> None:
        self._note(gap, _MASK_OF[operator], text)
        if operator in ("<", "<=") and any(isinstance(n, Power) and looks_negative(n.exponent) for n in postorder(gap)):
            from gelvo.algebra.fractions import factored

            whole = factored(gap)  # questions come with one denominator
            if whole is not gap and names(whole):
                self._note(whole, _MASK_OF[operator], text)
        for sign in {"<": (1,), "<=": (1,), "=": (1, -1)}.get(operator, ()):
            row = row_of(gap, operator == "<", sign)
            if row is not None:
                self._rows.append(row)
                self._row_texts.append(text)

    def _take_bars(self) -> None:
        """abs(u) < c says of a real u that -c < u and u < c."""
        for u, c, operator, text in self._bars:
            if self.is_real(u):
                for one in (u, negate(u)):
                    self._take_gap(c - one, operator, text)

    def _note_whole(self, part: Relation) -> None:
        """n/2 = floor(n/2) says that n is an even whole number: that n/2 and n are whole."""
        for u, rounded in ((part.left, part.right), (part.right, part.left)):
            if isinstance(rounded, Call) and rounded.name in ("floor", "ceil") and rounded.arguments[0] is u:
                self._whole.append(u)
                core, coefficient = unit_form(u)
                terms = list(core.items()) if isinstance(core, Sum) else [(core, 1)]
                rest = core.constant if isinstance(core, Sum) else 0
                if len(terms) == 1 and not isinstance(coefficient, Gaussian):
                    term, weight = terms[0]
                    times = 1 / (coefficient * weight)
                    if times.denominator == 1 and (coefficient * rest * times).denominator == 1:
                        self._note(term, bits.DOMAINS["integer"], str(part))

    def _note(self, expression: Expression, mask: int, text: str) -> None:
        core, coefficient = unit_form(expression)
        if isinstance(core, Number):
            return
        if coefficient < 0:
            mask = bits.scaled(mask, -1, True)
        present = self.table.get(core, bits.ANY)
        combined = present & mask
        if not combined & (bits.NEG | bits.NIL | bits.POS | bits.NONREAL):
            raise DomainError(f"the facts contradict each other: {', '.join(self.reason.get(core, []))} and {text}")
        self.table[core] = combined
        self.reason.setdefault(core, []).append(text)
        if isinstance(core, Sum):
            self._sums.append((core, combined))
            self._summed.update(n for n in postorder(core) if isinstance(n, Name))
            self._note_name_bounds(core, combined)
        if isinstance(core, Name):
            own = self._of_name(core) & combined
            if not own & (bits.NEG | bits.NIL | bits.POS | bits.NONREAL):
                raise DomainError(f"the fact {text} contradicts the domain of {core.name}, which is {core.domain}")
        self._memo.clear()
        self._parities = None

    def _least_contradiction(self) -> list[str]:
        """Facts of which none can be left out for the contradiction to show."""
        kept = list(range(len(self._rows)))
        for k in list(kept):
            without = [i for i in kept if i != k]
            if contradictory([self._rows[i] for i in without]):
                kept = without
        return list(dict.fromkeys(self._row_texts[i] for i in kept))

    def _linear(self, expression: Sum) -> int:
        """The sign that follows from the facts as linear inequalities, with the known signs of the terms."""
        terms = {t for r in self._rows for t in r.coefficients}
        if not self._sums or not any(t in terms for t in expression.terms):
            return bits.ANY
        if not all(bits.is_real(self.known(t)) for t in (*expression.terms, *terms)):
            return bits.ANY
        rows = list(self._rows)
        for term in dict.fromkeys((*expression.terms, *ordered(terms))):
            mask = self.known(term)
            sign = 1 if bits.is_nonnegative(mask) else -1 if bits.is_nonpositive(mask) else 0
            if sign:
                rows.append(Row({term: mpq(sign)}, mpq(0), bits.is_nonzero(mask)))
        for sign, strict, open_side in ((-1, bits.POSITIVE, bits.NONNEGATIVE), (1, bits.NEGATIVE, bits.NONPOSITIVE)):
            weak, strong = row_of(expression, False, sign), row_of(expression, True, sign)
            if weak is not None and contradictory([*rows, weak]):
                return strict
            if strong is not None and contradictory([*rows, strong]):
                return open_side
        return bits.ANY

    def _note_name_bounds(self, core: Sum, mask: int) -> None:
        """x - 2 > 0 makes x positive too."""
        if len(core.terms) == 1 and isinstance(core.constant, type(mpq(0))):
            coefficient, constant = core.coefficients[0], core.constant
            if isinstance(coefficient, Gaussian):
                return
            if bits.is_nonnegative(mask) and constant < 0:
                self._note(core.terms[0], bits.POSITIVE if coefficient > 0 else bits.NEGATIVE, str(core))
            elif bits.is_nonpositive(mask) and constant > 0:
                self._note(core.terms[0], bits.NEGATIVE if coefficient > 0 else bits.POSITIVE, str(core))

    def known(self, expression: Node) -> int:
        """Five bits: what the value may be under the facts."""
        memo = self._memo
        for node in postorder(expression):
            if node not in memo and isinstance(node, Expression):
                memo[node] = self._one(node)
        return memo.get(expression, bits.ANY)

    def _one(self, node: Expression) -> int:
        memo = self._memo
        if isinstance(node, Name):
            result = self._of_name(node)
        elif isinstance(node, Sum):
            result = node.known & known_of_sum(node, [memo[t] for t in node.terms])
            if result & bits.NEG and result & bits.POS and len(node.terms) <= FEW_TERMS:
                result &= self._numbers_as_one(node)
            fraction = isinstance(node.constant, mpq) and node.constant.denominator != 1
            if fraction and all(
                bits.is_integer(memo[t]) and c.denominator == 1 for t, c in node.items() if not isinstance(c, Gaussian)
            ):
                result &= ~bits.NIL  # a whole number and a fraction
            memo[node] = result  # a fact about the sum may have the sum inside of a function
            result &= self._of_sum(node, result)
        elif isinstance(node, Product):
            result = node.known & known_of_scaled(bits.product_known([memo[f] for f in node.factors]), node.coefficient)
        elif isinstance(node, Power):
            result = node.known & known_of_power(node, memo[node.base], memo[node.exponent])
        elif isinstance(node, Call):
            result = node.known
            if node.function.known is not None:
                result &= node.function.known(*[memo[a] for a in node.arguments])
            if node.name == "ln" and self.table and result & bits.NEG and result & bits.POS:
                gap = self.known(node.arguments[0] - 1)  # a logarithm has the sign of its argument less 1
                result &= gap | bits.FRACTIONAL if bits.is_real(gap) and bits.is_positive(memo[node.arguments[0]]) else bits.ANY
            inner = node.arguments[0]
            if node.name == "cos" and isinstance(inner, Call) and inner.name == "atan" and bits.is_real(memo[inner.arguments[0]]):
                result &= bits.POS | bits.FRACTIONAL  # an angle between -pi/2 and pi/2
            if node.name in _QUARTER and result & bits.NEG and result & bits.POS and self._sums:
                result &= self._of_wave(node)
            if result & bits.NEG and result & bits.POS and _without_names(node):
                result &= _sign_of_number(node)
        elif isinstance(node, Cases):
            result = 0
            for value in node.values:
                result |= memo[value]
        else:
            result = node.known
        core, coefficient = unit_form(node)
        fact = self.table.get(core)
        if fact is not None:
            result &= known_of_scaled(fact, coefficient)
        return result

    def _of_name(self, name: Name) -> int:
        if name.domain == "real":
            mask = bits.ANY if name in self.complex_names else bits.REAL
        else:
            mask = name.known
        mask &= self.table.get(name, bits.ANY)
        if not self._sums or name in self._busy or not (mask & bits.NEG and mask & bits.POS):
            return mask
        self._busy.add(name)
        try:
            for core, fact in self._sums:
                mask &= self._from_sum(name, core, fact)
        finally:
            self._busy.discard(name)
        return mask

    def _from_sum(self, name: Name, core: Expression, fact: int) -> int:
        """E - m*c^2 > 0 makes E positive where m*c^2 is."""
        assert isinstance(core, Sum)
        coefficient = dict(core.items()).get(name)
        if coefficient is None or isinstance(coefficient, Gaussian):
            return bits.ANY
        rest = total((core, scale(name, -coefficient)))
        if any(n is name for n in postorder(rest)):
            return bits.ANY
        combined = bits.sum_known([(fact, 1), (self.known(negate(rest)), 1)])
        return bits.scaled(combined, 1 if coefficient > 0 else -1, False) | bits.FRACTIONAL

    def _of_wave(self, node: Call) -> int:
        """The sign of a sine or cosine whose angle the facts keep within a half turn."""
        x = node.arguments[0]
        if not any(isinstance(n, Name) and n in self._summed for n in postorder(x)):
            return bits.ANY
        start = _QUARTER[node.name]
        pi = constant("pi")
        for k in range(-3, 5):
            below = self.known(x - pi * (start + k))
            if bits.is_nonnegative(below):
                above = self.known(pi * (start + k + 1) - x)
                if bits.is_nonnegative(above):
                    open_ends = bits.is_positive(below) and bits.is_positive(above)
                    if k % 2:
                        return bits.NEGATIVE if open_ends else bits.NONPOSITIVE
                    return bits.POSITIVE if open_ends else bits.NONNEGATIVE
        return bits.ANY

    def _bounded(self, node: Sum) -> int:
        """The sign of a sum in which functions of known range cannot outweigh the rest."""
        lows: list[Expression] | None = [number(node.constant)]  # None: there is no bound on that side
        highs: list[Expression] | None = [number(node.constant)]
        strict = False
        used = False
        for term, c in node.items():
            if isinstance(c, Gaussian):
                return bits.ANY
            if _without_names(term):
                lows, highs = _with_part(lows, scale(term, c)), _with_part(highs, scale(term, c))
                continue
            ends = self._range_of(term)
            mask = known_of_scaled(self._memo[term], c)
            if ends is not None:
                used = True
                one, two = (None if e is None else scale(e, c) for e in ends[:2])
                lows, highs = _with_part(lows, one if c > 0 else two), _with_part(highs, two if c > 0 else one)
                strict = strict or ends[2]
            else:
                lows = lows if bits.is_nonnegative(mask) else None
                highs = highs if bits.is_nonpositive(mask) else None
                strict = strict or bits.is_nonzero(mask)
        if not used:
            return bits.ANY
        for parts, words in ((lows, (bits.POSITIVE, bits.NONNEGATIVE)), (highs, (bits.NEGATIVE, bits.NONPOSITIVE))):
            if parts is None:
                continue
            end = total(parts)
            sign = end.known if isinstance(end, Number) else _sign_of_number(end)
            wanted = words[0]
            if not sign & ~wanted:
                return wanted
            if not sign & ~words[1]:
                return wanted if strict else words[1]
        return bits.ANY

    def _range_of(self, term: Expression) -> tuple[Expression | None, Expression | None, bool] | None:
        """(lower, upper, whether the ends are never reached) of a function of a real argument, or of its powers."""
        base, k = (term.base, term.exponent) if isinstance(term, Power) else (term, None)
        if (
            not isinstance(base, Call)
            or base.function.range is None
            or not bits.is_real(self._memo.get(base.arguments[0], bits.ANY))
        ):
            return None
        below, above, strict = base.function.range
        low, high = (None if end is None else end() for end in (below, above))
        if k is None:
            return low, high, strict
        if not isinstance(k, Number) or not k.is_whole or k.rational <= 0:
            return None
        if int(k.rational) % 2 == 0 and not (low is not None and bits.is_nonnegative(low.known)):
            return number(0), None if high is None else power(high, k), False  # such ranges are the same on both sides of 0
        return None if low is None else power(low, k), None if high is None else power(high, k), strict

    def _numbers_as_one(self, node: Sum) -> int:
        """a + sqrt(2) - 1 with the sign of the number sqrt(2) - 1."""
        numbers = [(t, c) for t, c in node.items() if _without_names(t)]
        if not numbers:
            return bits.ANY
        if len(numbers) == len(node.terms):
            return _sign_of_number(node)
        rest = [(known_of_scaled(self._memo[t], c), 1) for t, c in node.items() if (t, c) not in numbers]
        together = bits.sum_known(rest)
        if together & bits.NEG and together & bits.POS:
            return bits.ANY
        one = total([*(scale(t, c) for t, c in numbers), number(node.constant)])
        return bits.sum_known([*rest, (_sign_of_number(one), 1)])

    def _of_sum(self, node: Sum, result: int) -> int:
        """A sum less a positive multiple of a fact: what remains may have a clear sign."""
        if (result & bits.NEG and result & (bits.POS | bits.NIL)) or (result & bits.POS and result & bits.NIL):
            result &= self._bounded(node)
            if not (result & bits.NEG and result & bits.POS):
                return result
        if not self._sums or not result & bits.NEG or not result & bits.POS or len(node.terms) > MOST_TERMS_BESIDE_FACTS:
            return bits.ANY
        pairs = dict(node.items())
        for core, mask in self._sums:
            assert isinstance(core, Sum)
            for term, coefficient in core.items():
                mine = pairs.get(term)
                if mine is None or isinstance(mine, Gaussian) or isinstance(coefficient, Gaussian):
                    continue
                ratio = mine / coefficient
                rest = total((node, scale(core, -ratio)))
                if isinstance(rest, Sum) and len(rest.terms) >= len(node.terms):
                    continue
                part = known_of_scaled(mask, ratio)
                other = self.known(rest)
                combined = bits.sum_known([(part, 1), (other, 1)])
                if not (combined & bits.NEG and combined & bits.POS):
                    return combined
        return bits.ANY

    def decide(self, expression: Expression) -> int:
        """As `known`, but looks at factors, at pairs of terms and at equalities where the plain rules do not tell."""
        result = self._decide(expression)
        signs = result & (bits.NEG | bits.NIL | bits.POS | bits.NONREAL)
        if self.equalities and signs & (signs - 1) and not self._reducing:
            result &= self._by_equalities(expression)
        return result

    def _by_equalities(self, expression: Expression) -> int:
        """What is known once a name that a fact sets equal to a formula is replaced by it."""
        from gelvo.algebra.given_equalities import without_equalities

        self._reducing = True  # the search for such names asks these facts itself
        try:
            inner, rest = without_equalities(expression, self)
            return bits.ANY if inner is expression else rest.decide(inner)
        except DomainError:
            return bits.ANY  # a division by zero on the way
        finally:
            self._reducing = False

    def _decide(self, expression: Expression) -> int:
        if isinstance(expression, Product) and len(expression.factors) == 1 and isinstance(expression.factors[0], Sum):
            return known_of_scaled(self._decide(expression.factors[0]), expression.coefficient)
        result = self.known(expression)
        if isinstance(expression, Power) and isinstance(expression.base, Sum) and result & bits.NONREAL | result & bits.NIL:
            return result & known_of_power(expression, self.decide(expression.base), self.known(expression.exponent))
        if not isinstance(expression, (Sum, Product)) or not (result & bits.NEG and result & bits.POS):
            if not result & bits.NIL or not isinstance(expression, Sum):
                return result
        if not any(isinstance(n, Name) for n in postorder(expression)):
            return result & _sign_of_number(expression)
        from gelvo.algebra.fractions import factored

        other = factored(expression)
        if other is not expression:
            result &= self.known(other)
        if isinstance(other, Product) and result & bits.NEG and result & bits.POS:
            pieces = [
                self.decide(f)
                if isinstance(f, Power)
                else self.known(f) & (self._quadratic(f) & self._root_against_rest(f) if isinstance(f, Sum) else bits.ANY)
                for f in other.factors
            ]
            result &= known_of_scaled(bits.product_known(pieces), other.coefficient)
        if self.table and result & bits.NEG and result & bits.POS:
            result &= self._by_parity(other)
        if isinstance(expression, Sum) and result & bits.NIL:
            result &= self._pythagorean(expression) & self._polynomial(expression)
        if isinstance(expression, Sum) and result & bits.NEG and result & bits.POS:
            result &= self._quadratic(expression) & self._root_against_rest(expression)
        if isinstance(expression, Sum) and result & bits.NIL:
            result &= self._exponentials(expression)
        if isinstance(expression, Sum) and result & bits.NEG and result & bits.POS:
            result &= self._linear(expression)
        if isinstance(expression, Sum) and result & bits.NEG and result & bits.POS:
            result &= self._between_ends(expression)
        return result

    def _by_parity(self, product: Expression) -> int:
        """(1 - a*p^3)/(a*p) has the sign that a fact gives to a*p - a^2*p^4: they differ by squares."""
        if self._parities is None:
            self._parities = self._noted_parities()
        found = parity(product) if self._parities else None
        mask = None if found is None else self._parities.get(found.core)
        if found is None or mask is None or not self._real_parity(found):
            return bits.ANY
        mask = known_of_scaled(mask, mpq(found.sign))
        if found.below:
            mask &= ~bits.NIL
        return mask | (0 if all(bits.is_nonzero(self.known(s)) for s in found.squares) else bits.NIL)

    def _noted_parities(self) -> dict[Expression, int]:
        from gelvo.algebra.fractions import factored

        table: dict[Expression, int] = {}
        for core, mask in self.table.items():
            if not isinstance(core, (Sum, Product)) or not (bits.is_nonnegative(mask) or bits.is_nonpositive(mask)):
                continue
            found = parity(factored(core))
            if found is None or not self._real_parity(found):
                continue
            if not mask & bits.NIL or not found.squares:  # a square that is zero says nothing about the rest
                table[found.core] = table.get(found.core, bits.ANY) & (known_of_scaled(mask, mpq(found.sign)) | bits.FRACTIONAL)
        return table

    def _real_parity(self, found: Parity) -> bool:
        return all(bits.is_real(self.known(e)) for e in (found.core, *found.squares))

    def _exponentials(self, expression: Sum) -> int:
        """exp(u) - c has the sign of u - ln(c), and exp(u) - exp(v) that of u - v: the exponential rises."""
        powers = [t.arguments[0] for t in expression.terms if isinstance(t, Call) and t.name == "exp"]
        first, *others = expression.coefficients
        if len(powers) != len(expression.terms) or len(powers) > 2 or any(isinstance(c, Gaussian) for c in (first, *others)):
            return bits.ANY
        if len(powers) == 2 and not expression.constant and others[0] == -first:
            gap = powers[0] - powers[1]
        elif len(powers) == 1 and not isinstance(expression.constant, Gaussian) and expression.constant * first < 0:  # type: ignore[operator]
            gap = powers[0] - call("ln", number(-expression.constant / first))  # type: ignore[operator]
        else:
            return bits.ANY
        known = self.decide(gap)
        return bits.scaled(known, 1 if first > 0 else -1, False) if bits.is_real(known) else bits.ANY  # type: ignore[operator]

    def _between_ends(self, expression: Sum) -> int:
        """a + b*cos(u) has one sign where both a - b and a + b have it, whatever the sign of b."""
        from gelvo.algebra.collecting import power_table

        for node in postorder(expression):
            if not isinstance(node, Call) or node.name not in _QUARTER or not bits.is_real(self.known(node.arguments[0])):
                continue
            table = power_table(expression, node)
            if set(table) != {number(0), number(1)}:
                continue
            rest, slope = total(table[number(0)]), total(table[number(1)])
            if any(isinstance(n, Call) and n.name in _QUARTER for n in postorder(slope)):
                continue
            ends = [self.decide(total((rest, scale(slope, mpq(sign))))) for sign in (1, -1)]
            for word in (bits.POSITIVE, bits.NEGATIVE, bits.NONNEGATIVE, bits.NONPOSITIVE):
                if not any(end & ~word for end in ends):
                    return word
        return bits.ANY

    def _root_against_rest(self, expression: Sum) -> int:
        """c*sqrt(A) - B with c and B not negative has the sign of c^2*A - B^2; where that is positive, any real B is outweighed."""
        from gelvo.algebra.expanding import expand

        if len(expression.terms) > MOST_TERMS_SQUARED:
            return bits.ANY
        for term, c in expression.items():
            under = _square_of_root(term)
            if under is None or isinstance(c, Gaussian) or not bits.is_nonnegative(self.known(term)):
                continue
            rest = total((expression, scale(term, -c)))
            if not bits.is_real(self.known(rest)):
                continue
            sign = 1 if c > 0 else -1
            gap = self.known(expand(total((scale(under, c * c), negate(rest * rest)))))
            if bits.is_nonnegative(self.known(scale(rest, mpq(-sign)))):
                return bits.scaled(gap, sign, False) | bits.FRACTIONAL
            if bits.is_nonnegative(gap):
                return bits.scaled(bits.POSITIVE if bits.is_positive(gap) else bits.NONNEGATIVE, sign, False)
        return bits.ANY

    def _note_squares(self) -> None:
        """B > c*sqrt(A) with c and B not negative says B^2 > c^2*A too (and so with the other signs)."""
        from gelvo.algebra.expanding import expand

        for core, mask in list(self._sums):
            assert isinstance(core, Sum)
            for term, c in core.items():
                under = _square_of_root(term)
                if under is None or isinstance(c, Gaussian) or not mask & (bits.NEG | bits.POS):
                    continue
                sign = -1 if c > 0 else 1
                other = scale(total((core, scale(term, -c))), mpq(sign))  # core is sign*(other - |c|*sqrt(A))
                gap = known_of_scaled(mask, mpq(sign))
                squares = expand(total((other * other, negate(scale(under, c * c)))))
                real = bits.is_real(self.known(other)) and bits.is_nonnegative(self.known(term))
                if real and isinstance(squares, Sum) and (bits.is_nonnegative(gap) or bits.is_nonnegative(self.known(other))):
                    self._note(squares, gap | bits.FRACTIONAL, f"the square of {core}")

    def _polynomial(self, expression: Sum) -> int:
        """The sign of a polynomial in one name between the numbers that facts put around the name: no root lies there."""
        found = {n for n in postorder(expression) if isinstance(n, Name)}
        plain = (Sum, Product, Power, Name, Number)
        if len(found) != 1 or not all(isinstance(n, plain) for n in postorder(expression)):
            return bits.ANY
        variable = found.pop()
        if self.known(variable) & bits.NONREAL:
            return bits.ANY
        from gelvo.algebra.ranges import sign_between

        return sign_between(expression, variable, self._span(variable))

    def _span(self, variable: Name) -> Span:
        """Rational numbers between which the facts keep a name."""
        from gelvo.algebra.ranges import Span

        span = Span()
        mask = self.known(variable)
        if not mask & bits.NEG:
            span = span.above(mpq(0), bool(mask & bits.NIL))
        if not mask & bits.POS:
            span = span.below(mpq(0), bool(mask & bits.NIL))
        for core, fact in self._sums:
            if isinstance(core, Sum) and core.terms == (variable,) and not isinstance(core.constant, Gaussian):
                end = -core.constant / core.coefficients[0]  # type: ignore[operator]
                rising = core.coefficients[0] > 0  # type: ignore[operator]
                if not fact & (bits.NEG if rising else bits.POS):
                    span = span.above(end, bool(fact & bits.NIL))
                if not fact & (bits.POS if rising else bits.NEG):
                    span = span.below(end, bool(fact & bits.NIL))
        return span

    def _pythagorean(self, expression: Sum) -> int:
        """1 - sin(x)^2 is cos(x)^2, and the other way round."""
        for term, c in expression.items():
            base = term.base if isinstance(term, Power) else None
            if isinstance(base, Call) and base.name in _QUARTER and isinstance(term, Power) and term.exponent is number(2):
                other = call("cos" if base.name == "sin" else "sin", base.arguments[0])
                return self.known(total((expression, scale(term, -c), number(c), scale(power(other, number(2)), -c))))
        return bits.ANY

    def _quadratic(self, expression: Sum) -> int:
        """A quadratic with negative discriminant has one sign."""
        from gelvo.algebra.collecting import polynomial_coefficients
        from gelvo.expression.traversal import names

        for variable in names(expression):
            table = polynomial_coefficients(expression, variable)
            if table is None or max(table) != 2 or bits.NONREAL & self.known(variable):
                continue
            a, b, c = (table.get(k, number(0)) for k in (2, 1, 0))
            leading = self.known(a)
            if bits.is_positive(leading) or bits.is_negative(leading):
                discriminant = total((b * b, negate(4 * a * c)))
                if bits.is_negative(self.known(discriminant)):
                    return leading
        return bits.ANY

    def is_positive(self, expression: Expression) -> bool:
        return bits.is_positive(self.decide(expression))

    def is_negative(self, expression: Expression) -> bool:
        return bits.is_negative(self.decide(expression))

    def is_nonnegative(self, expression: Expression) -> bool:
        return bits.is_nonnegative(self.decide(expression))

    def is_nonpositive(self, expression: Expression) -> bool:
        return bits.is_nonpositive(self.decide(expression))

    def is_nonzero(self, expression: Expression) -> bool:
        return bits.is_nonzero(self.decide(expression))

    def is_real(self, expression: Expression) -> bool:
        return bits.is_real(self.known(expression))

    def is_integer(self, expression: Expression) -> bool:
        if bits.is_integer(self.known(expression)):
            return True
        if not self._whole:
            return False
        from gelvo.algebra.expanding import expand

        # an expression that is stated to be whole, and something whole more or less
        return any(bits.is_integer(self.known(expand(expression - u))) for u in self._whole)

    def holds(self, condition: Condition) -> bool | None:
        """True or False where that follows from the facts, else None."""
        if isinstance(condition, Truth):
            return condition.holds
        if isinstance(condition, Junction):
            states = [self.holds(p) for p in condition.parts]
            decisive = condition.word == "or"
            if decisive in states:
                return decisive
            return None if None in states else not decisive
        assert isinstance(condition, Relation)
        return self._relation_holds(condition)

    def _relation_holds(self, part: Relation) -> bool | None:
        mask = self.decide(part.right - part.left)
        if part.operator in ("=", "!="):
            if not mask & bits.NIL:
                return part.operator == "!="
            if mask & (bits.NEG | bits.POS | bits.NONREAL) == 0:
                return part.operator == "="
            return self._numbers_differ(part)
        if bits.is_positive(mask) or (part.operator == "<=" and bits.is_nonnegative(mask)):
            return True
        if bits.is_negative(mask) or (part.operator == "<" and bits.is_nonpositive(mask)):
            return False
        return self._numeric(part)

    def _numbers_differ(self, part: Relation) -> bool | None:
        from gelvo.errors import GelvoError
        from gelvo.evaluation.enclose import sign_at
        from gelvo.expression.traversal import names

        if names(part):
            return None
        try:
            sign = sign_at(part.right - part.left, {}, 500)
        except GelvoError:
            return None
        return (sign != 0) == (part.operator == "!=")

    def _numeric(self, part: Relation) -> bool | None:
        from gelvo.errors import GelvoError
        from gelvo.evaluation.enclose import sign_at
        from gelvo.expression.traversal import names

        if names(part):
            return None
        try:
            sign = sign_at(part.right - part.left, {})
        except GelvoError:
            return None
        return sign > 0 or (sign == 0 and part.operator == "<=")

    def open_conditions(self, conditions: Iterable[Condition]) -> tuple[Condition, ...]:
        """Those conditions that do not follow from the facts, without repetition, and without the parts that the facts decide."""
        return tuple(dict.fromkeys(self._undecided(c) for c in conditions if self.holds(c) is not True))

    def _undecided(self, condition: Condition) -> Condition:
        """u > 0 or (u = 0 and u > 0) as u > 0: alternatives that cannot hold, and what holds anyway, are left out."""
        if not isinstance(condition, Junction) or self.holds(condition) is False:
            return condition
        parts = [p for p in map(self._undecided, condition.parts) if self.holds(p) is None]
        possible = [p for p in parts if not (condition.word == "or" and isinstance(p, Junction) and self.exclude(p.parts))]
        return junction(condition.word, possible) if possible else condition

    def exclude(self, conditions: Iterable[Condition]) -> bool:
        """Whether conditions contradict each other or the facts."""
        try:
            self.with_facts([c for c in conditions if names(c)])
        except DomainError:
            return True
        return False

    def without(self, name: Name) -> Facts:
        """The facts that do not speak of a name."""
        return self.stating(f for f in self.given if not is_about(f, name))

    def without_all(self, names: Iterable[Name]) -> Facts:
        """The facts that speak of none of several names."""
        wanted = list(names)
        return self.stating(f for f in self.given if not any(is_about(f, n) for n in wanted))

    def renamed(self, table: Mapping[Node, Expression]) -> Facts:
        """The facts with other names in the place of some."""
        if not table or not any(is_about(f, n) for f in self.given for n in table if isinstance(n, Name)):
            return self
        return self.stating(
            DomainFact(table.get(f.name, f.name), f.domain)  # type: ignore[arg-type]
            if isinstance(f, DomainFact)
            else Equation(substitute(f.left, table), substitute(f.right, table))
            if isinstance(f, Equation)
            else substitute(f, table)
            for f in self.given
        )

    def with_facts(self, more: Iterable[Any]) -> Facts:
        return self.stating([*self.given, *more])

    def stating(self, given: Iterable[Any]) -> Facts:
        """Other facts of the same call."""
        return Facts(given, self.complex_names, self.spelled)

    # --- names for the work -------------------------------------------------------------------------------------------------

    def new_name(self, stem: str, *roots: Node, domain: str = "real") -> Name:
        """A name of which nothing is known: neither the call, nor its facts, nor the given formulas spell it.

        >>> from gelvo.expression.building import name
        >>> u = name("u")
        >>> print(Facts([u > 5]).new_name("u"))
        u_1
        """
        plain = fresh_name(stem, *roots, avoiding=self._taken())
        return plain if domain == "real" else make_name(plain.name, domain)

    def new_names(self, stem: str, *roots: Node, domain: str = "real") -> Iterator[Name]:
        """stem_1, stem_2, …, as many as are asked for, all of them new."""
        taken = self._taken() | spelled_in(*roots)
        return (make_name(f"{stem}_{k}", domain) for k in count(1) if f"{stem}_{k}" not in taken)

    def _taken(self) -> frozenset[str]:
        return self.spelled | spelled_in(*map(_root_of, self.given))


def _square_of_root(term: Expression) -> Expression | None:
    """What stands under a square root, or a product with one: A for sqrt(A), a*b^2 for sqrt(a)*b; None for others."""
    factors = term.factors if isinstance(term, Product) else (term,)
    if any(isinstance(f, Power) and isinstance(f.exponent, Number) and f.exponent.value == mpq(1, 2) for f in factors):
        return power(term, number(2))
    return None


def _with_part(parts: list[Expression] | None, part: Expression | None) -> list[Expression] | None:
    if parts is None or part is None:
        return None
    parts.append(part)
    return parts


def _without_names(node: Expression) -> bool:
    return not any(isinstance(n, (Name, Applied)) for n in postorder(node))


def _sign_of_number(expression: Expression) -> int:
    """What bounded evaluation tells of a formula without names."""
    from gelvo.errors import GelvoError
    from gelvo.evaluation.enclose import Enclosure
    from gelvo.numbers.interval import NoValue

    try:
        enclosure = Enclosure(expression)
        box = enclosure.at({}, 200)
    except (GelvoError, NoValue):
        return bits.ANY
    if box.imag is not None or not enclosure.bounded or box.real.sign is None:
        return bits.ANY
    return {1: bits.POSITIVE, -1: bits.NEGATIVE, 0: bits.NIL}[box.real.sign]


def nonzero(expression: Expression) -> Condition:
    """expression != 0 as a reader would write it: a != 1 for a - 1, a != 0 for 4*a^2.

    >>> from gelvo.expression.building import name
    >>> print(nonzero(4*name("a")**2), nonzero(name("a") - 1))
    a != 0 a != 1
    """
    core, _ = unit_form(expression)
    pieces = core.factors if isinstance(core, Product) else (core,)
    kept = [_base_of_zero(p) for p in pieces]
    core = multiply_all([k for k in dict.fromkeys(kept) if k is not None])
    core, _ = unit_form(core)
    if isinstance(core, Sum) and len(core.terms) == 1:
        return relation("!=", core.terms[0], number(-core.constant))
    return relation("!=", core, number(0))


def zero_where(expression: Expression) -> Condition:
    """expression = 0 as a reader would write it: a = 1 for -(a - 1)/2."""
    apart = nonzero(expression)
    return relation("=", apart.left, apart.right) if isinstance(apart, Relation) else relation("=", expression, number(0))


def _base_of_zero(factor: Expression) -> Expression | None:
    """What vanishes where the factor does; None where it never does."""
    if bits.is_nonzero(factor.known):
        return None
    if isinstance(factor, Power) and isinstance(factor.exponent, Number) and factor.exponent.is_rational:
        return factor.base
    if isinstance(factor, Call) and factor.name in ("abs", "sign"):
        return factor.arguments[0]
    return factor


def positive(expression: Expression) -> Condition:
    """expression > 0 without factors that are certainly positive; of a square only that it is not zero."""
    core, coefficient = unit_form(expression)
    pieces = core.factors if isinstance(core, Product) else (core,)
    facts = Facts()
    kept = [p for p in pieces if not facts.is_positive(p)]
    if coefficient > 0 and kept and all(facts.is_nonnegative(p) for p in kept):
        return nonzero(multiply_all(kept))
    return relation("<", number(0), multiply_all([number(1 if coefficient > 0 else -1), *kept]))


def is_about(fact: Any, name: Name) -> bool:
    """Whether a fact speaks of a name."""
    return any(n is name for n in postorder(_root_of(fact)))


def _root_of(fact: Any) -> Node:
    """The formula or condition that a fact is about."""
    return fact.name if isinstance(fact, DomainFact) else getattr(fact, "condition", fact)


def fact_condition(fact: Any) -> Condition | None:
    """A fact as a condition, or None for a domain that no relation expresses."""
    if isinstance(fact, DomainFact):
        zero = number(0)
        table = {
            "positive": fact.name > zero,
            "negative": fact.name < zero,
            "nonnegative": fact.name >= zero,
            "nonzero": relation("!=", fact.name, zero),
        }
        return table.get(fact.domain)
    return fact.condition if isinstance(fact, Equation) else as_condition(fact)
