"""From a formula to a tower: its exponentials, waves and primitives become generators, the innermost first.

Sines and cosines are exponentials with an imaginary exponent; exponents share a basis over the rational numbers; a new primitive or
exponential that is a function of those before it becomes that function, with a constant of its own.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from contextlib import suppress
from math import lcm, prod
from typing import Any

from gmpy2 import mpq

from gelvo.calculus.elementary import lattice
from gelvo.calculus.elementary.equation import solve
from gelvo.calculus.elementary.field import Element
from gelvo.calculus.elementary.leaving import Texts, expression_of
from gelvo.calculus.elementary.logarithmic import logarithmic_derivative
from gelvo.calculus.elementary.tower import Tower, Work
from gelvo.errors import GelvoError
from gelvo.expression.building import multiply_all, number, power, relation, scale, total
from gelvo.expression.constants import IMAGINARY, ZERO
from gelvo.expression.nodes import AlgebraicNumber, Call, Condition, Constant, Expression, Name, Node, Number, Power, Product, Sum
from gelvo.expression.order import ordered
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, dependents, has_imaginary_unit, postorder
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import slope_of
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import exponent_parts
from gelvo.functions.named import (
    ABS,
    ACOS,
    ACOSH,
    ACOT,
    ACOTH,
    ACSC,
    ACSCH,
    ASEC,
    ASECH,
    ASIN,
    ASINH,
    ATAN,
    ATANH,
    CBRT,
    CHI,
    CI,
    COS,
    COSH,
    COT,
    COTH,
    CSC,
    CSCH,
    EI,
    ERF,
    ERFC,
    ERFI,
    EXP,
    FRESNELC,
    FRESNELS,
    GAMMA_INC,
    IM,
    LI,
    LN,
    LOG2,
    LOG10,
    POLYLOG,
    RE,
    SEC,
    SECH,
    SHI,
    SI,
    SIN,
    SINH,
    TAN,
    TANH,
    is_a,
)  # fmt: skip
from gelvo.normal.prepare import prepared
from gelvo.numbers.exact import parts, small_factors
from gelvo.simplifying.search import simplify

WAVES: tuple[str, ...] = (SIN, COS, TAN, COT, SEC, CSC)
HYPERBOLIC: tuple[str, ...] = (SINH, COSH, TANH, COTH, SECH, CSCH)
PRIMITIVES = (
    LN,
    LOG10,
    LOG2,
    ATAN,
    ACOT,
    ATANH,
    ACOTH,
    ERF,
    ERFC,
    ERFI,
    EI,
    LI,
    SI,
    CI,
    SHI,
    CHI,
    FRESNELS,
    FRESNELC,
    POLYLOG,
    GAMMA_INC,
    RE,
    IM,
)
OVER_ROOTS = (ASIN, ACOS, ASINH, ACOSH, ASEC, ACSC, ASECH, ACSCH)  # primitives where roots are generators
MOST_KERNELS = 16
LARGEST_POWER = 200
Exponent = tuple[tuple[Expression, mpq], ...]  # units with their multiples


class OutsideOfTowers(GelvoError):
    """A formula that is no function of a tower of logarithms and exponentials."""


class Translation:
    """The tower of some formulas, with what its generators stand for."""

    def __init__(
        self, formulas: Iterable[Expression], variable: Name, facts: Facts, with_roots: bool = False,
        joining: tuple[str, ...] = (), join: Callable[[Translation, Call], Element] | None = None, work: Work | None = None,
    ) -> None:  # fmt: skip
        """with_roots: whether roots of functions are generators too; joining: functions that `join` makes generators, when they are met."""
        self.variable, self.facts, self.with_roots, self.joining, self.join = variable, facts, with_roots, joining, join
        self.primitives = (*PRIMITIVES, *OVER_ROOTS) if with_roots else PRIMITIVES
        self.tower = Tower(work)
        self.field = self.tower.field
        self.texts = Texts(variable)
        self.supposed: dict[Condition, None] = {}  # what simplified the constants by which functions of one slope differ
        self.exact = True  # whether the constants are known to be independent
        self.known: dict[Node, Element] = {}
        self._constants: dict[object, Element] = {}
        self._bases: dict[bool, tuple[list[Expression], list[lattice.Vector], list[Element | None]]] = {}
        formulas = list(formulas)
        self._powers = _degrees_of_names(formulas, variable)
        self.known[variable] = self.tower.add_primitive(self.field.one)
        self.texts.add(self.tower.levels[0].place, variable)
        self._add_kernels(formulas)

    # --- generators that move --------------------------------------------------------------------------------------------------

    def _add_kernels(self, formulas: list[Expression]) -> None:
        inside = self._gathered(formulas)
        exponents = [(kind, e) for node in inside for kind, e in self._exponents(node)]
        waiting: list[tuple[list[Expression], object]] = []
        for kind in (False, True):
            vectors = [dict(e) for k, e in exponents if k is kind and e]
            # the deepest first, so that no row of the basis needs a later one
            units = sorted(ordered(dict.fromkeys(u for v in vectors for u in v)), key=lambda u: -_nesting(u, self.variable))
            rows = lattice.basis([tuple(v.get(u, mpq(0)) for u in units) for v in vectors])
            self._bases[kind] = (units, rows, [None] * len(rows))
            for k, row in enumerate(rows):
                whole = total([scale(u, c) for u, c in zip(units, row, strict=True) if c])
                waiting.append(([self._behind(whole)], (kind, k, whole)))
        waiting.extend((inner, node) for node, inner in inside.items() if is_a(node, *self.primitives))
        if len(waiting) > MOST_KERNELS:
            raise OutsideOfTowers("too many different functions")
        ready: set[object] = set()
        while waiting:
            turn = next((w for w in waiting if self._is_ready(w[0], ready)), None)
            if turn is None:
                raise OutsideOfTowers("functions that lead back to themselves")
            waiting.remove(turn)
            what = turn[1]
            if isinstance(what, tuple):
                self._add_exponential(*what)
                ready.add(what[:2])
            else:
                assert isinstance(what, Call)
                self._add_primitive(what)
                ready.add(what)

    def _gathered(self, formulas: list[Expression]) -> dict[Call | Power, list[Expression]]:
        """Every kernel with the formulas that have to be understood before it."""
        found: dict[Call | Power, list[Expression]] = {}
        work = list(formulas)
        while work:
            f = work.pop()
            moving = dependents(f, self.variable)
            inside = {
                n for p in postorder(f) if is_a(p, RE, IM) for n in postorder(p.arguments[0])
            }  # complex: only the part is real
            for node in postorder(f):
                if node not in moving or node in found or node in inside or not isinstance(node, (Call, Power)):
                    continue
                inner = self._inner(node)
                if inner is not None:
                    found[node] = inner
                    work.extend(inner)
        return found

    def _inner(self, node: Call | Power) -> list[Expression] | None:
        if isinstance(node, Power):
            return self._inner_of_power(node)
        if is_a(node, *self.joining):
            return list(node.arguments)
        if is_a(node, EXP, *WAVES, *HYPERBOLIC):
            return [node.arguments[0]]
        if is_a(node, *self.primitives):
            slope = self._slope(node)
            if slope is None or contains(slope, node):
                raise OutsideOfTowers(f"{node.function.name} of this argument")
            return [slope]
        if is_a(node, ABS) or (is_a(node, CBRT) and self.with_roots):
            return None
        raise OutsideOfTowers(f"the function {node.function.name}")

    def _inner_of_power(self, node: Power) -> list[Expression] | None:
        if contains(node.exponent, self.variable):
            return [node.exponent, LN(node.base)] if contains(node.base, self.variable) else [node.exponent]
        if not (isinstance(node.exponent, Number) and node.exponent.is_rational):
            return [node.base]
        if not node.exponent.is_whole and not self.with_roots:
            raise OutsideOfTowers("a root")
        return None

    def _is_ready(self, formulas: list[Expression], ready: set[object]) -> bool:
        for f in formulas:
            moving = dependents(f, self.variable)
            for node in postorder(f):
                if node not in moving or not isinstance(node, (Call, Power)):
                    continue
                if is_a(node, *self.primitives) and node not in ready:
                    return False
                for kind, e in self._exponents(node):
                    units, rows, _ = self._bases[kind]
                    if not e:
                        continue
                    vector = tuple(dict(e).get(u, mpq(0)) for u in units)
                    if any(k and (kind, i) not in ready for i, k in enumerate(lattice.coordinates(vector, rows) or [])):
                        return False
        return True

    def _exponents(self, node: Node) -> list[tuple[bool, Exponent]]:
        """(whether imaginary, the exponent) of the exponentials that a node consists of."""
        exponent = self._exponent(node)
        if exponent is None:
            return []
        real, imaginary = self._split(exponent)
        return [(False, real), (True, imaginary)]

    def _exponent(self, node: Node) -> Expression | None:
        if is_a(node, EXP, *HYPERBOLIC):
            return node.arguments[0]
        if is_a(node, *WAVES) and node.name not in self.joining:
            return IMAGINARY * node.arguments[0]
        if isinstance(node, Power) and not (isinstance(node.exponent, Number) and node.exponent.is_rational):
            if contains(node.exponent, self.variable) or contains(node.base, self.variable):
                return node.exponent * LN(node.base)
        return None

    def _split(self, exponent: Expression) -> tuple[Exponent, Exponent]:
        """(real units, units of the imaginary part) of an exponent, with their multiples."""
        real: dict[Expression, mpq] = {}
        imaginary: dict[Expression, mpq] = {}
        for c, unit in exponent_parts(expand(exponent)):
            turned = _without_imaginary(unit)
            kind = imaginary if turned is not None else real
            key = unit if turned is None else turned
            kind[key] = kind.get(key, mpq(0)) + c
        return tuple(real.items()), tuple(imaginary.items())

    def _add_exponential(self, imaginary: bool, k: int, whole: Expression) -> None:
        behind = self._behind(whole)
        rate = self.field.slope(self.element(whole)) if behind is whole else self.element(behind)
        if imaginary:
            rate = rate * self.imaginary_unit()
        text = EXP(IMAGINARY * whole if imaginary else whole)
        if not rate:
            self._bases[imaginary][2][k] = self._constant_phase(whole, text) if imaginary else self._opaque(text)
            return
        found = logarithmic_derivative(self.tower, len(self.tower.levels) - 1, rate, [])
        if found is not None:
            if not found.is_whole:
                raise OutsideOfTowers("an exponential that is a root")
            value = found.function
            constant = self._own_constant(text / expression_of(value, self.texts), text)
            self._bases[imaginary][2][k] = value * constant
            return
        self._bases[imaginary][2][k] = self.tower.add_exponential(rate)
        self.texts.add(self.tower.levels[-1].place, text, whole if imaginary else None)

    def _behind(self, exponent: Expression) -> Expression:
        """What has to be understood before an exponential: the exponent, or the slope of a constant times a logarithm."""
        if not _is_logarithm_times_constant(exponent, self.variable):
            return exponent
        slope = slope_of(exponent, self.variable)
        assert slope is not None
        return slope

    def _add_primitive(self, node: Call) -> None:
        slope = self._slope(node)
        assert slope is not None
        w = self.element(slope)
        if self.with_roots:  # a relation that is not seen costs a result, but makes none wrong
            self._new_primitive(node, w)
            return
        top = len(self.tower.levels) - 1
        for c, y in solve(self.tower, top, self.field.zero, [w]):
            if c[0]:
                value = y / c[0]
                constant = self._own_constant(node - expression_of(value, self.texts), node)
                self.known[node] = value + constant
                return
        self._new_primitive(node, w)

    def _slope(self, node: Call) -> Expression | None:
        """The derivative; of a part of a complex value in real form."""
        slope = slope_of(node, self.variable)
        if slope is None or not is_a(node, RE, IM):
            return slope
        real = prepared(slope, self.facts, waves=False)
        return None if has_imaginary_unit(real) else real

    def _new_primitive(self, node: Call, slope: Element) -> None:
        self.known[node] = self.tower.add_primitive(slope)
        self.texts.add(self.tower.levels[-1].place, node)

    def _own_constant(self, text: Expression, behind: Expression) -> Element:
        """The constant by which two functions of one slope differ."""
        if contains(text, self.variable):
            before, text = text, simplify(text, self.facts).expression
            if not contains(text, self.variable):  # ln(x^2) is 2*ln(x) where ln(x) is real
                inside = [n.arguments[0] for n in postorder(before) if is_a(n, LN)]
                self.supposed.update((relation("<", ZERO, u), None) for u in inside if not self.facts.is_positive(u))
        if contains(text, self.variable):
            self.exact = False
            found = self._constants.get(behind)
            if found is None:
                found = self._constants[behind] = self.field.add_generator()
                self.texts.add(self.field.size - 1, text)
            return found
        return self.element(text)

    # --- formulas --------------------------------------------------------------------------------------------------------------

    def element(self, formula: Expression) -> Element:
        """A formula over the tower."""
        work: list[Expression] = [formula]
        while work:
            node = work[-1]
            waiting = [] if node in self.known else [c for c in self._parts_of(node) if c not in self.known]
            work.extend(waiting)
            if not waiting:
                work.pop()
                if node not in self.known:
                    self.known[node] = self._element(node)
        return self.known[formula]

    def _parts_of(self, node: Expression) -> list[Expression]:
        """What has to be known before a node: terms, factors and bases."""
        if isinstance(node, Sum):
            return [t for t, _ in node.items()]
        if isinstance(node, Product):
            return list(node.factors)
        if isinstance(node, Power) and isinstance(node.exponent, Number) and node.exponent.is_rational:
            return [node.base] if node.exponent.is_whole or contains(node, self.variable) else []
        return list(node.arguments) if is_a(node, CBRT) and contains(node, self.variable) else []

    def _element(self, node: Expression) -> Element:
        arithmetic = self._arithmetic(node)
        if arithmetic is not None:
            return arithmetic
        if not contains(node, self.variable):
            return self._constant(node)
        if isinstance(node, Power) and isinstance(node.exponent, Number) and node.exponent.is_rational:
            return self._moving_root(node.base, node.exponent.rational)
        if is_a(node, CBRT):
            return self._moving_root(node.arguments[0], mpq(1, 3))
        if is_a(node, *self.joining) and self.join is not None:
            return self.join(self, node)
        exponent = self._exponent(node)
        if exponent is None:
            raise OutsideOfTowers(f"the formula {node}")
        return self._of_exponentials(node, exponent)

    def _arithmetic(self, node: Expression) -> Element | None:
        """Numbers, sums, products and whole powers of what is known."""
        if isinstance(node, Number):
            return self._number(node.value)
        if isinstance(node, Sum):
            return self.field.total([self._number(node.constant), *(self.known[t] * self._number(c) for t, c in node.items())])
        if isinstance(node, Product):
            return prod((self.known[g] for g in node.factors), start=self._number(node.coefficient))
        if isinstance(node, Power) and isinstance(node.exponent, Number) and node.exponent.is_whole:
            k = int(node.exponent.rational)
            if abs(k) > LARGEST_POWER or (k < 0 and not self.known[node.base]):
                raise OutsideOfTowers("a very high power, or a division by zero")
            return self.known[node.base] ** k
        return None

    def _number(self, value: Any) -> Element:
        real, imag = parts(value)
        return self.field.number(real) + self.imaginary_unit().times(imag) if imag else self.field.number(real)

    def _of_exponentials(self, node: Expression, exponent: Expression) -> Element:
        e = self.exponential(exponent)
        if not is_a(node, *WAVES, *HYPERBOLIC):
            return e
        i = self.imaginary_unit() if is_a(node, *WAVES) else self.field.one
        back = e.inverse()
        cosine, sine = (e + back).times(mpq(1, 2)), (e - back) / i.times(2)
        table: dict[str, tuple[Element | None, Element | None]] = {
            SIN: (sine, None), COS: (cosine, None), TAN: (sine, cosine), COT: (cosine, sine), SEC: (None, cosine), CSC: (None, sine),
        }  # fmt: skip
        flat = dict(zip(HYPERBOLIC, WAVES, strict=True))
        top, bottom = table[flat.get(node.name, node.name)]
        return (top or self.field.one) if bottom is None else (top or self.field.one) / bottom

    def exponential(self, exponent: Expression) -> Element:
        """exp of a formula over the basis of the exponents."""
        real, imaginary = self._split(exponent)
        result = self.field.one
        for kind, e in ((False, real), (True, imaginary)):
            if not e:
                continue
            units, rows, elements = self._bases[kind]
            table = dict(e)
            if any(u not in units for u in table):
                raise OutsideOfTowers("an exponential that was not met before")
            vector = tuple(table.get(u, mpq(0)) for u in units)
            shares = lattice.coordinates(vector, rows)
            if shares is None:
                raise OutsideOfTowers("an exponential that was not met before")
            for k, t in zip(shares, elements, strict=True):
                if k and t is None:
                    raise OutsideOfTowers("an exponential that was not met before")
                if k and t is not None:
                    result = result * t**k
        return result

    # --- constants -------------------------------------------------------------------------------------------------------------

    def imaginary_unit(self) -> Element:
        found = self._constants.get("i")
        if found is None:
            found = self._constants["i"] = self.field.add_root([self.field.one, self.field.zero])
            self.texts.add(self.field.size - 1, IMAGINARY)
            self.texts.imaginary = self.field.size - 1
        return found

    def _constant(self, node: Expression) -> Element:
        if is_a(node, EXP):
            return self._constant_exponential(node)
        if isinstance(node, (Sum, Product)):
            return self._element(node)
        if isinstance(node, Power) and isinstance(node.exponent, Number) and node.exponent.is_rational:
            q = node.exponent.rational
            return self._root_of_constant(node.base, int(q.denominator)) ** int(q.numerator)
        if is_a(node, SIN, COS):
            return self._circle(node.arguments[0])[0 if is_a(node, COS) else 1]
        if isinstance(node, Name):
            return self._letter(node)
        return self._opaque(node)

    def _letter(self, node: Name) -> Element:
        """A letter, or the power of its root where roots of it occur."""
        found = self._constants.get(node)
        degree = self._powers.get(node, 1)
        if found is None:
            found = self._constants[node] = self.field.add_generator()
            self.texts.add(self.field.size - 1, power(node, number(mpq(1, degree))))
        return found**degree

    def _opaque(self, node: Expression) -> Element:
        found = self._constants.get(node)
        if found is None:
            others = sum(1 for key in self._constants if isinstance(key, (Call, Constant)))
            if others or isinstance(node, AlgebraicNumber):
                self.exact = False
            found = self._constants[node] = self.field.add_generator()
            self.texts.add(self.field.size - 1, node)
        return found

    def _constant_exponential(self, node: Call) -> Element:
        """exp of a constant: over the basis of the exponents, or on its own."""
        with suppress(OutsideOfTowers):
            return self.exponential(node.arguments[0])
        real, imaginary = self._split(node.arguments[0])
        if real and imaginary:
            raise OutsideOfTowers("a constant with a complex exponent")
        if not imaginary:
            return self._opaque(node)
        return self._constants.get(node) or self._constant_phase(total([scale(u, c) for u, c in imaginary]), node)

    def _constant_phase(self, angle: Expression, text: Expression) -> Element:
        """exp(1j*angle) of a constant angle, a constant of its own where it has no exact value."""
        if not is_a(text, EXP):
            return self.element(text)
        self.exact = self.exact and not any(isinstance(key, (Call, Constant)) for key in self._constants)
        found = self._constants[text] = self.field.add_generator()
        self.texts.add(self.field.size - 1, text, angle)
        return found

    def _circle(self, angle: Expression) -> tuple[Element, Element]:
        """(cos, sin) of a constant angle, the sine as a root over the cosine."""
        cosine_text, sine_text = COS(angle), SIN(angle)
        if not (is_a(cosine_text, COS) and is_a(sine_text, SIN) and cosine_text.arguments[0] is angle):
            return (self._plain(cosine_text), self._plain(sine_text))
        key = ("circle", angle)
        found = self._constants.get(key)
        cosine = self._opaque(cosine_text)
        if found is None:
            self.exact = False  # over such a root, factors are not known to be irreducible: nothing is proved by them
            found = self._constants[key] = self.field.add_root([cosine * cosine - self.field.one, self.field.zero])
            self.texts.add(self.field.size - 1, sine_text)
        return cosine, found

    def _plain(self, text: Expression) -> Element:
        """A value of a wave, which is a number with roots or the wave of a turned angle."""
        factor, inner = (text.coefficient, text.factors) if isinstance(text, Product) else (mpq(1), (text,))
        if len(inner) == 1 and is_a(inner[0], SIN, COS):
            cosine, sine = self._circle(inner[0].arguments[0])
            return (cosine if is_a(inner[0], COS) else sine) * self._number(factor)
        return self.element(text)

    def _root_of_constant(self, base: Expression, degree: int) -> Element:
        """base^(1/degree), of numbers by primes."""
        if isinstance(base, Name):
            return self._letter_root(base, degree)
        if isinstance(base, Number) and base.is_rational and base.rational > 0:
            result = self.field.one
            for whole, sign in ((base.rational.numerator, 1), (base.rational.denominator, -1)):
                for prime, times in small_factors(whole):
                    result = result * self._prime_root(int(prime), degree) ** (sign * times)
            return result
        if isinstance(base, Number) or degree != 2:
            return self._opaque(power(base, number(mpq(1, degree))))
        inside = self.element(base)
        key = ("root", base)
        found = self._constants.get(key)
        if found is None:
            self.exact = False  # as for the circle
            radicand = Element(self.field, inside.top) * Element(self.field, inside.bottom)
            found = self._constants[key] = self.field.add_root([-radicand, self.field.zero])
            below = expression_of(Element(self.field, inside.bottom), self.texts)
            self.texts.add(self.field.size - 1, power(base, number(mpq(1, 2))) * below)
        return found / Element(self.field, inside.bottom)

    def _letter_root(self, base: Name, degree: int) -> Element:
        self._letter(base)
        return self._constants[base] ** (self._powers.get(base, 1) // degree)

    def _prime_root(self, prime: int, degree: int) -> Element:
        key = ("prime", prime, degree)
        found = self._constants.get(key)
        if found is None:
            if any(isinstance(k, tuple) and k[:2] == key[:2] and k[2] != degree for k in self._constants):
                raise OutsideOfTowers("several roots of one number")
            found = self._constants[key] = self.field.add_root([self.field.number(-prime), *[self.field.zero] * (degree - 1)])
            self.texts.add(self.field.size - 1, power(number(prime), number(mpq(1, degree))))
        return found

    def _moving_root(self, base: Expression, exponent: mpq) -> Element:
        degree = int(exponent.denominator)
        key = ("moving root", base, degree)
        found = self._constants.get(key)
        inside = self.known[base]
        if found is None:
            bottom = Element(self.field, inside.bottom)
            lower = [-(Element(self.field, inside.top) * bottom ** (degree - 1)), *[self.field.zero] * (degree - 1)]
            found = self._constants[key] = self.field.add_root(lower)
            root = CBRT(base) if degree == 3 else power(base, number(mpq(1, degree)))
            self.texts.add(self.field.size - 1, root * expression_of(bottom, self.texts))
        return (found / Element(self.field, inside.bottom)) ** int(exponent.numerator)


def _degrees_of_names(formulas: list[Expression], variable: Name) -> dict[Node, int]:
    """Of each letter the common denominator of its exponents."""
    found: dict[Node, int] = {}
    for node in postorder(*formulas):
        if isinstance(node, Power) and isinstance(node.base, Name) and node.base is not variable:
            if isinstance(node.exponent, Number) and node.exponent.is_rational:
                found[node.base] = lcm(found.get(node.base, 1), int(node.exponent.rational.denominator))
    return found


def _nesting(unit: Expression, variable: Name) -> int:
    """How deep functions of the variable stand in each other; 0 for a constant."""
    height: dict[Node, int] = {}
    moving = dependents(unit, variable)
    for node in postorder(unit):
        inner = max((height[c] for c in node.children if c in height), default=0)
        if node in moving:
            height[node] = inner + (1 if isinstance(node, Call) or node is variable else 0)
    return height.get(unit, 0)


def _without_imaginary(unit: Expression) -> Expression | None:
    """u of a unit 1j*u, else None."""
    if unit is IMAGINARY:
        return number(1)
    if isinstance(unit, Product) and parts(unit.coefficient)[1]:
        return multiply_all([number(parts(unit.coefficient)[1]), *unit.factors])
    return None


def _is_logarithm_times_constant(exponent: Expression, variable: Name) -> bool:
    """Whether an exponent is a sum of c*ln(u) with constants c: its exponential is a power, and the logarithm does not matter."""
    for term in exponent.terms if isinstance(exponent, Sum) else (exponent,):
        moving = [g for g in factors_in(term) if contains(g, variable)]
        if len(moving) != 1 or not is_a(moving[0], LN):
            return False
    return True
