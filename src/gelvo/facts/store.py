"""What holds in a call: facts about names and relations between them, and what follows for a formula.

Everything here is sound and incomplete: "not known" is always a possible answer.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from itertools import count
from typing import Any, TypeVar

from gmpy2 import mpq

from gelvo.errors import DomainError
from gelvo.expression import known as bits
from gelvo.expression.building import as_condition, junction, known_of_power, known_of_scaled, looks_negative, negate, scale
from gelvo.expression.building import name as make_name
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import (
    Call,
    Cases,
    Condition,
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
from gelvo.expression.terms import base_and_exponent, factors_in
from gelvo.expression.traversal import free_names, fresh_name, names, postorder, relations_of, spelled_in, substitute
from gelvo.facts.equalities import without_equalities
from gelvo.facts.linear import Row, contradictory, row_of
from gelvo.facts.sign_rules.brackets import inside_brackets, of_written
from gelvo.facts.sign_rules.complex_sums import by_complex_parts
from gelvo.facts.sign_rules.exponentials import exponentials, logarithms
from gelvo.facts.sign_rules.inverses import of_rising
from gelvo.facts.sign_rules.numbers import numbers_differ, numbers_in_order, sign_of_number
from gelvo.facts.sign_rules.parities import by_parity
from gelvo.facts.sign_rules.plain import of_call, of_cases, of_power, of_product, of_sum
from gelvo.facts.sign_rules.polynomials import between_bounds, quadratic, square_and_rest
from gelvo.facts.sign_rules.roots import root_against_rest, roots_on_one_side, squares_of
from gelvo.facts.sign_rules.slack import by_slack
from gelvo.facts.sign_rules.steps import of_whole
from gelvo.facts.sign_rules.sums import by_linear_facts, from_sum
from gelvo.facts.sign_rules.waves import between_ends, between_squares, by_circle
from gelvo.facts.statements import DomainFact, Fact, is_about, root_of
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.forms.unit_forms import unit_form
from gelvo.functions.named import ABS, CEIL, FLOOR, is_a
from gelvo.numbers.exact import Gaussian

K = TypeVar("K", bound=Node)
_MASK_OF = {"<": bits.POSITIVE, "<=": bits.NONNEGATIVE, "!=": bits.NONZERO, "=": bits.NIL}


_BOTH = bits.NEG | bits.POS


SIGNS = (
    (bits.is_positive, bits.POSITIVE),
    (bits.is_negative, bits.NEGATIVE),
    (bits.is_nonnegative, bits.NONNEGATIVE),
    (bits.is_nonpositive, bits.NONPOSITIVE),
)


class Facts:
    """The facts of one call, ready to answer.

    >>> from gelvo.expression.building import name, relation, number
    >>> a, b = name("a"), name("b")
    >>> facts = Facts([relation("<", number(0), a), relation("<", a, b)])
    >>> facts.is_positive(a * b)
    True
    """

    def __init__(self, given: Iterable[Fact] = (), complex_names: Iterable[Name] = (), spelled: Iterable[str] = ()) -> None:
        """spelled: the names of the whole call; what is made up during the work bears none of them."""
        self.given: list[Any] = list(given)
        self.complex_names = set(complex_names)
        self.spelled = frozenset(spelled)
        self.table: dict[Expression, int] = {}
        self.reason: dict[Expression, list[str]] = {}
        self.equalities: list[tuple[Expression, Expression]] = []
        self._bars: list[tuple[Expression, Expression, str, str]] = []  # (u, c, operator, text) of abs(u) < c
        self.memo: dict[Node, int] = {}
        self.sums: list[tuple[Sum, int]] = []
        self.busy: set[Expression] = set()
        self.squared = 0
        self.summed: set[Name] = set()
        self.rows: list[Row] = []
        self._row_texts: list[str] = []
        self._reducing = False
        self.parities: dict[Expression, int] | None = None  # signs of products without squares, once asked for
        self._whole: list[Expression] = []  # what is stated to be equal to its own floor
        self.reduction: tuple[list[tuple[Name, Expression]], Facts] | None = None  # what the equalities give, once asked for
        self.slack: list[tuple[Name, Expression]] | None = None  # what the inequalities give, once asked for
        for fact in self.given:
            self._take(fact)
        self._take_bars()
        for squares, mask, text in squares_of(self):
            self._note(squares, mask, text)
        if len(self.sums) > 1 and contradictory(self.rows):
            raise DomainError(f"the facts contradict each other: {' and '.join(self._least_contradiction())}")

    def _take(self, fact: Fact) -> None:
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
            if part.operator in ("<", "<=") and is_a(part.left, ABS):
                self._bars.append((part.left.arguments[0], part.right, part.operator, str(part)))
            self._take_gap(part.right - part.left, part.operator, str(part))

    def _take_gap(self, gap: Expression, operator: str, text: str) -> None:
        self._note(gap, _MASK_OF[operator], text)
        if operator in ("<", "<=") and any(isinstance(n, Power) and looks_negative(n.exponent) for n in postorder(gap)):
            whole = factored(gap)  # questions come with one denominator
            if whole is not gap and names(whole):
                self._note(whole, _MASK_OF[operator], text)
                self._note_open_factor(whole, _MASK_OF[operator], text)
        for sign in {"<": (1,), "<=": (1,), "=": (1, -1)}.get(operator, ()):
            row = row_of(gap, operator == "<", sign)
            if row is not None:
                self.rows.append(row)
                self._row_texts.append(text)

    def _note_open_factor(self, product: Expression, mask: int, text: str) -> None:
        """(v^2 - g*R)/g > 0 says v^2 - g*R > 0 where g > 0 is known."""
        if not isinstance(product, Product) or isinstance(product.coefficient, Gaussian):
            return
        signs = {f: self.known(f) for f in product.factors}
        unsure = [f for f, m in signs.items() if not (bits.is_positive(m) or bits.is_negative(m))]
        if len(unsure) == 1:
            turns = sum(bits.is_negative(m) for m in signs.values()) + (product.coefficient < 0)
            self._note(unsure[0], bits.scaled(mask, -1, True) if turns % 2 else mask, text)

    def _note_factors(self, core: Product | Power, mask: int, text: str) -> None:
        """p*q^2 > 0 says that neither p nor q is zero, and that p > 0."""
        if mask & bits.NIL:
            return
        for factor in factors_in(core):
            base, k = base_and_exponent(factor)
            if k.is_rational and k.rational > 0 and not isinstance(base, Number) and not bits.is_nonzero(self.known(base)):
                self._note(base, bits.NONZERO, text)
        self._note_open_factor(core, mask, text)

    def _note_base(self, core: Power, mask: int, text: str) -> None:
        """1/u >= 0 says u > 0, and u^3 >= 0 of a real u that u >= 0."""
        k = core.exponent
        if not (k.is_whole and k.rational % 2) or not (k.rational == -1 or self.is_real(core.base)):
            return
        if k.rational < 0:
            mask &= ~bits.NIL
        for known, whole in SIGNS:
            if known(mask):
                self._note(core.base, whole, text)
                break

    def _take_bars(self) -> None:
        """abs(u) < c says of a real u that -c < u and u < c."""
        for u, c, operator, text in self._bars:
            if self.is_real(u):
                for one in (u, negate(u)):
                    self._take_gap(c - one, operator, text)

    def _note_whole(self, part: Relation) -> None:
        """n/2 = floor(n/2) says that n is an even whole number: that n/2 and n are whole."""
        for u, rounded in ((part.left, part.right), (part.right, part.left)):
            if is_a(rounded, FLOOR, CEIL) and rounded.arguments[0] is u:
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
            self.sums.append((core, combined))
            self.summed.update(n for n in postorder(core) if isinstance(n, Name))
            self._note_name_bounds(core, combined)
            self._note_term_alone(core, combined)
            product = factored(core) if not core.constant and len(core.terms) == 2 else core
            if isinstance(product, Product) and len(product.factors) > 1:
                self._note(product, combined, text)
        if isinstance(core, (Product, Power)):
            self._note_factors(core, combined, text)
        if isinstance(core, Power):
            self._note_base(core, combined, text)
        if isinstance(core, Name):
            own = self._of_name(core) & combined
            if not own & (bits.NEG | bits.NIL | bits.POS | bits.NONREAL):
                raise DomainError(f"the fact {text} contradicts the domain of {core.name}, which is {core.domain}")
        self.memo.clear()
        self.parities = None

    def _least_contradiction(self) -> list[str]:
        """Facts of which none can be left out for the contradiction to show."""
        kept = list(range(len(self.rows)))
        for k in list(kept):
            without = [i for i in kept if i != k]
            if contradictory([self.rows[i] for i in without]):
                kept = without
        return list(dict.fromkeys(self._row_texts[i] for i in kept))

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

    def _note_term_alone(self, core: Sum, mask: int) -> None:
        """4*p^3 + 27*q^2 < 0 says p < 0: the one term that may be negative is, and so is the base of its odd power."""
        for turn in (1, -1):
            if not bits.is_negative(mask if turn > 0 else bits.scaled(mask, -1, True)) or isinstance(core.constant, Gaussian):
                continue
            if core.constant * turn < 0 or any(isinstance(c, Gaussian) for c in core.coefficients):
                continue
            signs = [(t, c, self.known(scale(t, c))) for t, c in core.items()]
            unsure = [(t, c) for t, c, m in signs if not bits.is_nonnegative(m if turn > 0 else bits.scaled(m, -1, True))]
            if len(unsure) == 1:
                term, c = unsure[0]
                base = term.base if isinstance(term, Power) and term.exponent.is_whole and term.exponent.rational % 2 else term
                if isinstance(base, Name) and not isinstance(c, Gaussian):
                    self._note(base, bits.NEGATIVE if c * turn > 0 else bits.POSITIVE, str(core))

    def known(self, expression: Node) -> int:
        """Five bits: what the value may be under the facts."""
        memo = self.memo
        for node in postorder(expression):
            if node not in memo and isinstance(node, Expression):
                memo[node] = self._one(node)
        return memo.get(expression, bits.ANY)

    def _one(self, node: Expression) -> int:
        rule = _PLAIN.get(type(node))
        result = node.known if rule is None else rule(self, node)
        core, coefficient = unit_form(node)
        fact = self.table.get(core)
        return result if fact is None else result & known_of_scaled(fact, coefficient)

    def _of_name(self, name: Name) -> int:
        if name.domain == "real":
            mask = bits.ANY if name in self.complex_names else bits.REAL
        else:
            mask = name.known
        mask &= self.table.get(name, bits.ANY)
        if not self.sums or name in self.busy or not (mask & bits.NEG and mask & bits.POS):
            return mask
        self.busy.add(name)
        try:
            for core, fact in self.sums:
                mask &= from_sum(self, name, core, fact)
        finally:
            self.busy.discard(name)
        return mask

    def decide(self, expression: Expression) -> int:
        """As `known`, but looks at factors, at pairs of terms and at equalities where the plain rules do not tell."""
        result = self._decide(expression)
        signs = result & (bits.NEG | bits.NIL | bits.POS | bits.NONREAL)
        if self.equalities and signs & (signs - 1) and not self._reducing:
            result &= self._by_equalities(expression)
        return result

    def _by_equalities(self, expression: Expression) -> int:
        """What is known once a name that a fact sets equal to a formula is replaced by it."""
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
        if isinstance(expression, Product) and result & bits.NIL and result & _BOTH != _BOTH:
            return result & ~bits.NIL if all(bits.is_nonzero(self.decide(f)) for f in expression.factors) else result
        both = isinstance(expression, (Sum, Product)) and result & _BOTH == _BOTH
        if not both and not (isinstance(expression, Sum) and result & bits.NIL):
            return result
        if not free_names(expression):
            return result & sign_of_number(expression)
        result &= self._by_factors(expression, result)
        if isinstance(expression, Sum):
            for still_open, rules in _OF_SUMS:
                if result & still_open == still_open:
                    for rule in rules:
                        result &= rule(self, expression)
        return result

    def _by_factors(self, expression: Expression, result: int) -> int:
        """What the factors tell, and products that differ from a fact by squares."""
        other = factored(expression)
        if other is not expression:
            result &= self.known(other)
        if isinstance(other, Product) and result & _BOTH == _BOTH:
            pieces = [
                self.decide(f)
                if isinstance(f, Power)
                else self.known(f)
                & (quadratic(self, f) & root_against_rest(self, f) & between_ends(self, f) if isinstance(f, Sum) else bits.ANY)
                for f in other.factors
            ]
            result &= known_of_scaled(bits.product_known(pieces), other.coefficient)
        if self.table and result & _BOTH == _BOTH:
            result &= by_parity(self, other)
        return result

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
            return numbers_differ(part)
        if bits.is_positive(mask) or (part.operator == "<=" and bits.is_nonnegative(mask)):
            return True
        if bits.is_negative(mask) or (part.operator == "<" and bits.is_nonpositive(mask)):
            return False
        return numbers_in_order(part)

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

    def renamed(self, table: Mapping[K, Expression]) -> Facts:
        """The facts with other names in the place of some."""
        if not table or not any(is_about(f, n) for f in self.given for n in table if isinstance(n, Name)):
            return self
        changes: dict[Node, Expression] = dict(table.items())
        return self.stating(_renamed(f, changes) for f in self.given)

    def with_facts(self, more: Iterable[Fact]) -> Facts:
        return self.stating([*self.given, *more])

    def stating(self, given: Iterable[Fact]) -> Facts:
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
        return self.spelled | spelled_in(*map(root_of, self.given))


def _renamed(fact: Fact, table: Mapping[Node, Expression]) -> Fact:
    if isinstance(fact, DomainFact):
        name = table.get(fact.name, fact.name)
        assert isinstance(name, Name)
        return DomainFact(name, fact.domain)
    if isinstance(fact, Equation):
        return Equation(substitute(fact.left, table), substitute(fact.right, table))
    return substitute(fact, table)


# what is known of a node once its parts are known, and what is asked further of a sum whose sign is open
_PLAIN: dict[type[Expression], Callable[[Facts, Any], int]] = {
    Name: Facts._of_name,
    Sum: of_sum,
    Product: of_product,
    Power: of_power,
    Call: of_call,
    Cases: of_cases,
    Written: of_written,
}
_OF_SUMS: tuple[tuple[int, tuple[Callable[[Facts, Sum], int], ...]], ...] = (
    (bits.NIL, (by_circle, between_bounds, roots_on_one_side, by_complex_parts)),
    (_BOTH, (quadratic, square_and_rest, root_against_rest)),
    (bits.NIL, (exponentials, logarithms, of_rising)),
    (_BOTH, (by_linear_facts,)),
    (bits.NIL, (of_whole, between_ends, between_squares)),
    (_BOTH, (inside_brackets,)),
    (_BOTH, (by_slack,)),
)
