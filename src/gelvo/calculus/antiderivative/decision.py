"""The decision: an elementary antiderivative as a formula, or the reason why there is none."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from gmpy2 import mpq

from gelvo.calculus.antiderivative.rational import over_reals
from gelvo.calculus.antiderivative.support import Search
from gelvo.calculus.elementary import polynomials as poly
from gelvo.calculus.elementary.equation import solve
from gelvo.calculus.elementary.field import Element
from gelvo.calculus.elementary.integral import Left, Parts, Sum, integral
from gelvo.calculus.elementary.kernels import OutsideOfTowers, Translation
from gelvo.calculus.elementary.leaving import expression_of
from gelvo.calculus.elementary.rational_logarithms import arctangents, argument, constant_factors, split
from gelvo.calculus.elementary.real_form import RealForm, Term
from gelvo.calculus.found import Found
from gelvo.errors import DomainError
from gelvo.expression.building import multiply_all, number, scale, sqrt, total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Call, Condition, Expression, Name, Power, Product
from gelvo.expression.nodes import Sum as SumOfTerms
from gelvo.expression.traversal import contains, fresh_name, has_imaginary_unit, names, postorder, substitute
from gelvo.facts.conditions import positive
from gelvo.functions.named import ATAN, LN, is_a
from gelvo.normal.prepare import prepared
from gelvo.numbers.exact import rational_sqrt
from gelvo.polynomial import sparse


class Outcome(NamedTuple):
    """What was found of an antiderivative, the integrand that is left, and what proves that it has none (None: not decided)."""

    found: Found | None
    rest: Expression
    obstacle: Obstacle | None


def decide(f: Expression, search: Search) -> Outcome | None:
    """The elementary part of an antiderivative, and what is left; None where f is no function of a tower."""
    if has_imaginary_unit(f) or not is_real_somewhere(f, search):
        return None
    f = prepared(f, search.facts, waves=False)
    try:
        translation = Translation([f], search.variable, search.facts, work=search.work)
        parts = integral(translation.tower, translation.element(f))
        return _Leaving(translation, search).outcome(parts)
    except (OutsideOfTowers, ZeroDivisionError, DomainError):
        return None


def is_real_somewhere(f: Expression, search: Search) -> bool:
    """Whether real forms make sense: a real variable, no logarithm of what is known to be negative, and no such root."""
    facts = search.facts
    if not all(facts.is_real(n) for n in names(f)):
        return False
    for node in postorder(f):
        root = isinstance(node, Power) and node.exponent.is_rational and not node.exponent.is_whole
        if is_a(node, LN) or root:
            inside = node.arguments[0] if isinstance(node, Call) else node.children[0]
            if isinstance(inside, Expression) and facts.is_negative(inside):
                return False
    return True


def decided(f: Expression, search: Search) -> Found | None:
    """An elementary antiderivative by the decision procedure, where all of f has one."""
    outcome = decide(f, search)
    return outcome.found if outcome is not None and outcome.rest is ZERO else None


def in_field(f: Expression, joining: list[Expression], search: Search) -> Found | None:
    """An antiderivative among the functions of the tower of f and of some functions that join it; None where there is none.

    One parametric problem y' = c*f; new logarithms are not looked for.
    """
    if has_imaginary_unit(f) or not is_real_somewhere(f, search):
        return None
    x = search.variable
    needed = () if search.facts.is_positive(x) or not _has_power_of(f, x) else (positive(x),)
    try:
        translation = Translation([f, *joining], x, search.facts.with_facts(needed), work=search.work)
        tower = translation.tower
        pairs = solve(tower, len(tower.levels) - 1, tower.field.zero, [translation.element(f)])
        chosen = next((y / c[0] for c, y in pairs if c[0]), None)
        if chosen is None:
            return None
        outcome = _Leaving(translation, search).outcome(Parts(chosen, of_variable=tower.field.zero))
    except (OutsideOfTowers, ZeroDivisionError, DomainError):
        return None
    found = None if outcome is None else outcome.found
    if found is None:
        return None
    return found._replace(conditions=(*found.conditions, *needed), road="special functions whose derivatives lie in the field")


def _has_power_of(f: Expression, x: Name) -> bool:
    """Whether a power of x with a letter as exponent occurs, which is real for positive x."""
    return any(isinstance(n, Power) and n.base is x and not n.exponent.is_rational for n in postorder(f))


def by_residues(f: Expression, search: Search) -> Found | None:
    """A rational function whose denominator has factors of higher degree, by their residues.

    Source: D. Lazard and R. Rioboo (1990) and B. Trager (1976), as in M. Bronstein, "Symbolic Integration I" (2005), chapter 2.
    """
    if any(isinstance(n, Call) and contains(n, search.variable) for n in postorder(f)):
        return None
    try:
        translation = Translation([f], search.variable, search.facts)
        whole = translation.element(f)
        if len(translation.tower.levels) > 1 or translation.texts.imaginary is not None:
            return None
        parts = integral(translation.tower, whole, 0)
        outcome = _Leaving(translation, search).outcome(parts)
    except (OutsideOfTowers, ZeroDivisionError, DomainError):
        return None
    return None if outcome is None else outcome.found


class _Leaving:
    """Turns the parts of an integral into formulas."""

    def __init__(self, translation: Translation, search: Search) -> None:
        self.translation, self.search = translation, search
        self.tower, self.texts, self.field = translation.tower, translation.texts, translation.field
        self.conditions: dict[Condition, None] = dict(translation.supposed)
        self.known_roots: list[tuple[Element, Element, int]] = []
        self.real: RealForm | None = None
        if self.texts.imaginary is not None:
            angles = [translation.element(self.texts.angles[k]) for k in sorted(self.texts.angles)]
            self.real = RealForm(self.texts, self.field.roots, angles)

    def outcome(self, parts: Parts) -> Outcome | None:
        left = total([self._text(entry.part) for entry in parts.left])
        if self.real is not None and parts.left:
            left = self._real_text(self.field.total(entry.part for entry in parts.left))
        terms: list[Expression] = []
        rational = parts.rational
        if self.real is None:
            terms.extend(self._text(c) * self.search.logarithm(self._text(a)) for c, a in parts.logarithms)
        else:
            together = self.real.logarithms(parts.logarithms, self.field.zero)
            terms.extend(self._of_term(t) for t in together[0])
            rational = rational + together[1]
        sums = self._sums(parts.sums)
        if sums is None:
            return None
        terms.extend(sums)
        terms.append(self._real_text(rational))
        rest = parts.of_variable
        if rest:
            inner = self._of_variable(rest)
            if inner is None:
                return None
            self.conditions.update(dict.fromkeys(inner.conditions))
            terms.append(inner.value)
        road = "decision procedure for elementary antiderivatives (Risch)"
        value = total(terms)
        whole = Found(value, tuple(self.conditions), road) if value is not ZERO or not parts.left else None
        return Outcome(whole, left, self.obstacle(parts.left))

    def _of_variable(self, rest: Element) -> Found | None:
        """A rational function of the variable; a constant whose text has the variable in it is a letter meanwhile."""
        x, texts = self.search.variable, self.texts.generators
        fixed = {k: t for k, t in texts.items() if k not in self.field.slopes and contains(t, x)}
        letters = {k: self.search.facts.new_name(f"c_{k}", *texts.values()) for k in fixed}
        texts.update(letters)
        try:
            found = self.search.integrate(self._real_text(rest))
        finally:
            texts.update(fixed)
        back = {letters[k]: t for k, t in fixed.items()}
        if found is None or not back:
            return found
        return found._replace(
            value=substitute(found.value, back), conditions=tuple(substitute(c, back) for c in found.conditions)
        )

    def _text(self, e: Element) -> Expression:
        text = expression_of(e, self.texts)
        self._note_divisors(e)
        return text

    def _note_divisors(self, e: Element) -> None:
        """Letters that an antiderivative is divided by must not vanish."""
        moving = set(self.field.slopes)
        for p, _ in self.field.factors(e.bottom):
            if not moving & set(sparse.variables(p)):
                divisor = expression_of(Element(self.field, p), self.texts)
                self.conditions.update(dict.fromkeys(self.search.nonzero(divisor)))

    def _real_text(self, e: Element) -> Expression:
        self._note_divisors(e)
        if self.real is None:
            return self._by_monomials(e)
        return self.real.fraction(self.real.real_part(e))

    def _by_monomials(self, e: Element) -> Expression:
        """A sum over the monomials in logarithms and exponentials, where those stand in the numerator only."""
        upper = [level.place for level in self.tower.levels[1:]]
        mask = sparse.mask(upper)
        below = {m & mask for m in e.bottom}
        if len(below) > 1:
            return expression_of(e, self.texts)
        shared = Element(self.field, {below.pop(): mpq(1)})
        bottom = {m & ~mask: c for m, c in e.bottom.items()}
        groups: dict[int, sparse.Polynomial] = {}
        for m, c in e.top.items():
            groups.setdefault(m & mask, {})[m & ~mask] = c
        terms = []
        for monomial in sorted(groups, reverse=True):
            own = self.field.quotient(groups[monomial], bottom) * Element(self.field, {monomial: mpq(1)}) / shared
            terms.append(expression_of(own, self.texts))
        return total(terms)

    def _of_term(self, term: Term) -> Expression:
        if term.second is None:
            return term.coefficient * self.search.logarithm(_without_number(term.first))
        return term.coefficient * self._direction(term.first, term.second)

    def _direction(self, a: Expression, b: Expression) -> Expression:
        """arg(a + 1j*b) but for a constant on each piece: an arctangent whose denominator does not vanish, where one is known."""
        facts, free = self.search.facts, self.search.free
        if not free(a) and (free(b) or (facts.is_nonzero(b) and not facts.is_nonzero(a))):
            return -ATAN(a / b)
        return ATAN(b / a)

    # --- sums over residues ----------------------------------------------------------------------------------------------------

    def _sums(self, parts: Sequence[Sum]) -> list[Expression] | None:
        """The terms of all sums, factored over the field without the roots that they bring: those of one would split the other's polynomial."""
        if self.real is not None and parts:
            return None
        terms: list[Expression] = []
        for part, factors in [(part, constant_factors(self.tower, part.polynomial)) for part in parts]:
            for factor in factors:
                found = self._over_zeros(part, factor)
                if found is None:
                    return None
                terms.extend(found)
        return terms

    def _over_zeros(self, part: Sum, factor: list[Element]) -> list[Expression] | None:
        """The terms of the zeros of one irreducible factor of degree one or two."""
        field, n = self.field, part.level
        if len(factor) == 2:
            alpha = -factor[0]
            return [self._text(alpha) * self.search.logarithm(self._text(self.tower.element(argument(part, alpha), n)))]
        if len(factor) != 3:
            return self._over_reals(part) if n == 0 else None
        middle = factor[1].times(mpq(-1, 2))
        square = middle * middle - factor[0]  # alpha = middle +- sqrt(square)
        inside = Element(field, square.top) * Element(field, square.bottom)
        below = Element(field, square.bottom)
        root, place, ratio = self._root_of(inside)
        one = argument(part, middle + root.times(ratio) / below)
        u, w = split(one, place, field)
        w = poly.scale(w, field.number(1 / ratio))
        size = expression_of(inside, self.texts)
        facts = self.search.facts
        below_text = self._text(below)
        terms = []
        if middle:
            norm = poly.subtract(poly.multiply(u, u), poly.scale(poly.multiply(w, w), inside))
            terms.append(self._text(middle) * self.search.logarithm(self._text(self.tower.element(norm, n))))
        if facts.is_positive(size):
            return [*terms, self._two_logarithms(u, w, size, below_text, n)]
        if not facts.is_negative(size):
            self.conditions[positive(-size)] = None
        terms.extend(self._arctangents(u, w, inside, below, n))
        return terms

    def _root_of(self, square: Element) -> tuple[Element, int, mpq]:
        """(a generator s, its place, q) with (q*s)^2 = square; one whose square is a rational square times this one serves again."""
        for before, root, place in self.known_roots:
            ratio = square / before
            q = rational_sqrt(ratio.top[0] / ratio.bottom[0]) if set(ratio.top) == set(ratio.bottom) == {0} else None
            if q is not None:
                return root, place, q
        root = self.field.add_root([-square, self.field.zero])
        self.known_roots.append((square, root, self.field.size - 1))
        return root, self.field.size - 1, mpq(1)

    def _two_logarithms(self, u: poly.Poly, w: poly.Poly, size: Expression, below: Expression, n: int) -> Expression:
        """r/below*(ln(u + r*w) - ln(u - r*w)) with r = sqrt(size)."""
        root = sqrt(size)
        one, other = (self._text(self.tower.element(p, n)) for p in (u, w))
        return root / below * (self.search.logarithm(one + root * other) - self.search.logarithm(one - root * other))

    def _arctangents(self, u: poly.Poly, w: poly.Poly, inside: Element, below: Element, n: int) -> list[Expression]:
        """alpha*ln(u + 1j*s*w) and its conjugate for imaginary alpha, s = sqrt(-inside), as arctangents."""
        size = expression_of(inside, self.texts)
        root, place, ratio = self._root_of(-inside)
        s = root.times(ratio)
        self.texts.add(place, sqrt(-size) / number(ratio))
        front = self._text(s / below)
        return [2 * front * ATAN(self._text(self.tower.element(p, n))) for p in arctangents(u, poly.scale(w, s))]

    def _over_reals(self, part: Sum) -> list[Expression] | None:
        """A rational integrand over a factor that splits by square roots."""
        slope = self.tower.slope(part.factor, 0)
        digit = poly.divide(poly.multiply(part.residue, slope), part.factor)[1]
        found = over_reals([self._text(c) for c in digit], [self._text(c) for c in part.factor], self.search)
        return None if found is None else [found]

    # --- reasons ---------------------------------------------------------------------------------------------------------------

    def obstacle(self, left: list[Left]) -> Obstacle | None:
        """What proves that the first part that is left has no elementary antiderivative; None where the constants are not surely known."""
        if not left or not self.translation.exact:
            return None
        first = left[0]
        level = self.tower.levels[first.level]
        lower = tuple(self.texts.generators[n.place] for n in self.tower.levels[: first.level])
        part = self._told(first.part)
        start = f"{part} has no elementary antiderivative: "
        field = "the rational functions of " + ", ".join(map(str, lower))
        if first.equation is None:
            return self._obstacle_of_residue(first, start, lower)
        rate, right = (self._told(e) for e in first.equation)
        if first.kind == "exponential":
            factor = self._told(first.part / first.equation[1])
            why = f"it would be y*{_bracketed(factor)} with y' + {_coefficient(rate)}y = {right}, and no y among {field} solves that"
            return Obstacle(start + why, first.kind, lower, rate, right)
        slope = expression_of(level.rate, self.texts)
        why = f"{right} would have to be y' + c*{_bracketed(slope)} with a constant c and y among {field}, and there is no such y"
        return Obstacle(start + why, first.kind, lower, slope, right)

    def _told(self, e: Element) -> Expression:
        """An element as a formula, by waves where it is real."""
        if self.real is not None and e and self.real.conjugate_element(e) == e:
            return self.real.fraction(e)
        return expression_of(e, self.texts)

    def _obstacle_of_residue(self, first: Left, start: str, lower: tuple[Expression, ...]) -> Obstacle:
        assert first.factor is not None
        place = self.tower.levels[first.level].place
        own = self.texts.generators[place]
        factor = self.tower.element(first.factor, first.level)
        why = f"its logarithms would have constant residues, and the residue where {expression_of(factor, self.texts)} = 0 is not constant"
        u = fresh_name("u", *self.texts.generators.values())
        self.texts.generators[place] = u
        slope = self.tower.element(self.tower.slope(first.factor, first.level), first.level)
        algebra = tuple(expression_of(e, self.texts) for e in (first.part, factor, slope))
        self.texts.generators[place] = own
        return Obstacle(start + why, first.kind, lower, ZERO, ZERO, (u, *algebra))


class Obstacle(NamedTuple):
    """Why a part has no elementary antiderivative (Liouville's theorem), in words and in formulas.

    kind: "exponential" (y' + rate*y = right has no solution y among functions of the lower generators), "primitive" (right is no
    y' + c*rate with a constant c), "residue": generator is (u, part, factor, slope of the factor) where u stands for the generator of
    the part, and the residues part*factor/slope at the zeros u of the factor are not constant.
    """

    text: str
    kind: str
    lower: tuple[Expression, ...]
    rate: Expression
    right: Expression
    generator: tuple[Expression, ...] = ()


def _coefficient(rate: Expression) -> str:
    return "" if rate is ONE else f"{_bracketed(rate)}*"


def _bracketed(e: Expression) -> str:
    return f"({e})" if isinstance(e, SumOfTerms) or str(e)[0] == "-" or "/" in str(e) else str(e)


def _without_number(e: Expression) -> Expression:
    """A formula without a rational number in front."""
    if isinstance(e, Product):
        return multiply_all(e.factors)
    if isinstance(e, SumOfTerms) and not has_imaginary_unit(e):
        listed = [mpq(c) for c in (*e.coefficients, e.constant) if c]
        return scale(e, 1 / sparse.integer_content(dict(enumerate(listed))))
    return e
