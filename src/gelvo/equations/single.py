"""One equation for one unknown: factors, linear and quadratic ones, one function undone after the other.

Every step is an equivalence under recorded conditions, or an implication whose candidates are put back.
"""

from __future__ import annotations

from gmpy2 import mpq

from gelvo.algebra import univariate as uni
from gelvo.algebra.algebraic import all_roots, integer_coefficients
from gelvo.algebra.complex_parts import real_and_imaginary
from gelvo.algebra.expanding import expand
from gelvo.algebra.facts import Facts, nonzero, zero_where
from gelvo.algebra.fractions import Form, factored
from gelvo.algebra.measure import measure
from gelvo.algebra.normal import angle_of_number
from gelvo.algebra.radical_roots import radical_form
from gelvo.algebra.simplification import simplify
from gelvo.algebra.undoing import undone
from gelvo.algebra.vanishing import factor_list, is_never_zero
from gelvo.equations.putting_back import (
    about,
    is_whole,
    keep_once,
    letter_conditions,
    put_back,
    read_easily,
    real_conditions,
    real_part_conditions,
)
from gelvo.equations.roots import Root, Roots, window
from gelvo.equations.transcendental import (
    bases_that_vanish,
    complex_inverse,
    lambert,
    moving_powers,
    vanishes_by_base,
    waves_of_one_angle,
)
from gelvo.errors import DomainError, NotSolved
from gelvo.expression import known as bits
from gelvo.expression.building import (
    call,
    constant,
    looks_negative,
    multiply_all,
    number,
    power,
    relation,
    split_coefficient,
    total,
    truth,
    weighted_terms,
)
from gelvo.expression.nodes import (
    AlgebraicNumber,
    Bound,
    Call,
    Cases,
    Condition,
    Expression,
    Name,
    Number,
    Power,
    Product,
    Relation,
    Sum,
    Written,
)
from gelvo.expression.traversal import contains, has_imaginary_unit, names, postorder, substitute, transform
from gelvo.numbers.exact import HALF, Gaussian
from gelvo.polynomial import sparse

ZERO, ONE = number(0), number(1)
PI = constant("pi")
IMAGINARY = number(Gaussian(mpq(0), mpq(1)))
DEEPEST = 8
LONGEST_RADICAL = 24.0
MOST_MEMBERS = 200
HYPERBOLIC = ("sinh", "cosh", "tanh", "coth", "sech", "csch")


def _readable(root: Expression) -> Expression:
    """An exact root by radicals or cosines, where that is short."""
    if not isinstance(root, AlgebraicNumber):
        return root
    short = radical_form(root)
    return short if short is not None and measure(short) <= LONGEST_RADICAL else root


class Solver:
    """The choices of one call: the unknown, the facts, whether complex values count."""

    def __init__(self, unknown: Name, facts: Facts, real: bool) -> None:
        self.unknown, self.facts, self.real = unknown, facts, real
        self.conditions: dict[Condition, None] = {}
        self.further = 0
        self.roads: dict[str, None] = {}
        self.taken: list[Expression] = []
        self.implied = False  # whether some step was an implication only, so that candidates must be put back
        self.lost: dict[str, None] = {}  # why there may be solutions beside those found: the steps that were no equivalence

    def solve(self, g: Expression, depth: int = 0) -> list[Root]:
        """The roots of g = 0."""
        if depth > DEEPEST:
            raise NotSolved("the equation needs more steps than the solver takes")
        x = self.unknown
        if any(isinstance(n, (Written, Cases)) and contains(n, x) for n in postorder(g)):
            raise NotSolved(f"{x} stands inside a form that is not worked out, or in cases")
        if isinstance(g, Product) and sum(contains(f, x) for f in g.factors) > 1:
            roots = _distinct([root for factor in g.factors for root in self.solve(factor, depth)])
            return next(([r] for r in roots if r.value is x and not r.conditions), roots)  # a factor that is zero everywhere
        early = moving_powers(self, g, depth)
        if early is not None:
            return _distinct(early)
        form = Form([g])
        top, bottom = form.lowest_terms(form.of(g))
        taken_apart = self.real and any(vanishes_by_base(n, x) for n in postorder(g))
        for part in factor_list(form.factored(bottom)):
            if contains(part, x) and not taken_apart:  # u^(x - 1) as u^x/u needs no u != 0; what is real is asked of the whole
                self.conditions[nonzero(part)] = None
        product = form.factored(top)
        if product is ZERO:
            if self.implied:
                raise NotSolved("squaring turns the equation into an identity, which does not tell its solutions")
            return [Root(x)]
        result: list[Root] = []
        for factor in factor_list(product):
            if contains(factor, x):
                result.extend(self._factor(factor, depth))
            elif not isinstance(factor, Number):
                # a factor without the unknown: where it vanishes every value solves
                self.need(nonzero(factor))
        return _distinct(result)

    def need(self, condition: Condition) -> None:
        """A condition of all solutions: on letters alone, so that the case where it fails can be looked at by itself."""
        if self.facts.holds(condition) is not True:
            self.conditions[condition] = None

    def inner(self, g: Expression, u: Name, depth: int) -> list[Root]:
        """The roots of g = 0 for a new unknown u; what was needed on the way counts here too, what is about u at each root.

        Where every u solves, the one root is the unknown of this solver, under the conditions of that.
        """
        solver = Solver(u, self.facts, self.real)
        solver.taken = [*self.taken, u]
        roots = solver.solve(g, depth + 1)
        self.roads.update(solver.roads)
        self.lost.update(solver.lost)
        self.implied = self.implied or solver.implied
        self.further += solver.further
        about_u = [c for c in solver.conditions if contains(c, u) and not self.facts.holds(c)]
        self.conditions.update({c: None for c in solver.conditions if not contains(c, u)})
        if [r.value for r in roots] == [u]:
            return [Root(self.unknown, roots[0].conditions)]
        result: list[Root] = []
        for root in roots:
            needed: list[Condition] = []
            try:
                states = [self._condition(substitute(c, {u: root.value})) for c in about_u]
            except DomainError:
                continue  # a denominator vanishes there
            if None not in states:
                needed = [c for state in states for c in state or ()]
                result.append(Root(root.value, (*root.conditions, *needed), root.families))
        return result

    def _factor(self, g: Expression, depth: int) -> list[Root]:
        if is_never_zero(g):
            return []
        if self.real and vanishes_by_base(g, self.unknown):
            return []  # zero only where its base is: such places are looked at for every equation
        coefficients = uni.coefficients_of(g, self.unknown)
        if coefficients is not None:
            return self._polynomial(coefficients, g, depth)
        for method in (self._by_generator, self._isolate, self._logarithms, self._absolute, self._radical, self._hyperbolic):
            found = method(g, depth)
            if found is not None:
                return found
        for further in (lambert, waves_of_one_angle):
            found = further(self, g, depth)
            if found is not None:
                return found
        raise NotSolved(f"no method solves {_short(g)} = 0 for {self.unknown}")

    # --- polynomials ---------------------------------------------------------------------------------------------------

    def _polynomial(self, coefficients: list[Expression], g: Expression, depth: int) -> list[Root]:
        degree = len(coefficients) - 1
        if degree < 1:  # x drops out once its coefficients are worked out
            always = self._condition(zero_where(coefficients[0]) if coefficients else truth(True))
            return [] if always is None else [Root(self.unknown, always)]
        if looks_negative(coefficients[-1]):
            coefficients = [-c for c in coefficients]
        leading = coefficients[-1]
        self.need(nonzero(leading))
        if degree == 1:
            self.roads["linear"] = None
            return [Root(simplify(-coefficients[0] / leading, self.facts).expression)]
        if degree == 2:
            return self._quadratic(*coefficients)
        exact = self._exact_roots(coefficients) if degree == 3 else None
        if exact is not None:
            return exact
        spacing = 0
        from math import gcd

        for k, c in enumerate(coefficients):
            if c is not ZERO:
                spacing = gcd(spacing, k)
        if spacing > 1:
            return self._in_powers(coefficients, spacing, depth)
        exact = self._exact_roots(coefficients)
        if exact is not None:
            return exact
        raise NotSolved(f"{_short(g)} = 0 has degree {degree} in {self.unknown}, and no factor of degree one or two")

    def _exact_roots(self, coefficients: list[Expression]) -> list[Root] | None:
        """Numbered exact roots of a polynomial with rational coefficients; with radicals or cosines where these are short."""
        if not all(isinstance(c, Number) and c.is_rational for c in coefficients):
            return None
        whole = integer_coefficients(total([c * self.unknown**k for k, c in enumerate(coefficients)]), self.unknown)
        if whole is None:
            return None
        roots = all_roots(whole)
        real = [r for r in roots if bits.is_real(r.known)]
        self.roads["exact roots of an irreducible polynomial"] = None
        if self.real:
            self.further += len(roots) - len(real)
        return [Root(_readable(r)) for r in (real if self.real else roots)]

    def _quadratic(self, c: Expression, b: Expression, a: Expression) -> list[Root]:
        self.roads["quadratic formula"] = None
        gap = factored(expand(b * b - 4 * a * c))
        sign = self.facts.decide(gap)
        if not sign & ~bits.NIL:
            return [Root(simplify(-b / (2 * a), self.facts).expression)]
        if self.real and bits.is_negative(sign):
            self.further += 2
            return []
        conditions: tuple[Condition, ...] = ()
        if self.real and bits.is_nonpositive(sign):  # -4*y^2 under the root: real where it is zero
            nothing = zero_where(gap)
            return [Root(simplify(-b / (2 * a), self.facts).expression, (nothing,))]
        if self.real and not bits.is_nonnegative(sign):
            conditions = (relation("<=", ZERO, _without_squares(gap, self.facts)),)
        under = self.facts.with_facts([c for c in conditions if names(c)])
        root = _root_of_discriminant(gap)
        roots = [simplify((-b - root) / (2 * a), under).expression, simplify((-b + root) / (2 * a), under).expression]
        if not names(gap) and not names(a) and self.real and self.facts.is_negative(a):
            roots.reverse()
        return [Root(r, conditions) for r in roots]

    def _in_powers(self, coefficients: list[Expression], spacing: int, depth: int) -> list[Root]:
        """a*x^(2k) + b*x^k + c: a new unknown for x^k."""
        u = self.facts.new_name("u", self.unknown, *coefficients, *list(self.taken))
        reduced = total([c * u ** (k // spacing) for k, c in enumerate(coefficients)])
        before = self.further
        roots = self.inner(reduced, u, depth)
        self.further = before + (self.further - before) * spacing
        result: list[Root] = []
        for root in roots:
            for piece in self._undo_power(mpq(spacing), root.value, depth):
                result.append(Root(piece.value, (*root.conditions, *piece.conditions), root.families + piece.families))
        return result

    # --- one function after the other ----------------------------------------------------------------------------------

    def _by_generator(self, g: Expression, depth: int) -> list[Root] | None:
        """A polynomial in one function of the unknown, such as exp(x) in exp(2*x) - 3*exp(x) + 2."""
        form = Form([g])
        active = [
            (key, index)
            for key, index in form.generators.items()
            if contains(key[0], self.unknown) or contains(key[1], self.unknown)
        ]
        if len(active) != 1:
            return None
        (_base, _unit), index = active[0]
        generator = form.generator_power(index, 1)
        top = form.of(g).top
        if generator is self.unknown or (sparse.degree(top, index) < 2 and generator is not g and self._single(g)):
            return None
        if generator is g:
            return None
        u = self.facts.new_name("u", g, *self.taken)
        table = {k: form.expression(p) for k, p in sparse.by_powers(top, index).items()}
        roots = self.inner(total([c * u**k for k, c in table.items()]), u, depth)
        result: list[Root] = []
        for root in roots:
            pieces = self._undo(generator, root.value, depth)
            if pieces is None:
                return None
            for piece in pieces:
                result.append(Root(piece.value, (*root.conditions, *piece.conditions), root.families + piece.families))
        return result

    def _single(self, g: Expression) -> bool:
        return _occurrences(g, self.unknown) == 1

    def _isolate(self, g: Expression, depth: int) -> list[Root] | None:
        joined = transform(g, _with_one_base)
        return self._undo(joined, ZERO, depth) if self._single(joined) else None

    def _undo(self, g: Expression, value: Expression, depth: int) -> list[Root] | None:
        """The roots of g = value where the unknown occurs once in g; each turn takes the outermost operation off."""
        pending: list[tuple[Expression, Root]] = [(g, Root(value))]
        result: list[Root] = []
        turns = 0
        while pending:
            turns += 1
            if turns > 200:
                raise NotSolved("the equation branches too often")
            inner, root = pending.pop()
            if inner is self.unknown:
                value = expand(root.value) if root.families else simplify(root.value, self.facts).expression
                result.append(Root(value, root.conditions, root.families))
                continue
            coefficients = uni.coefficients_of(inner - root.value, self.unknown)
            if coefficients is not None and len(coefficients) == 3:
                for piece in self._quadratic(*coefficients):
                    result.append(Root(piece.value, root.conditions + piece.conditions, root.families))
                continue
            steps = self._one_step(inner, root.value, depth)
            if steps is None:
                return None
            for next_inner, step in reversed(steps):
                reached = transform(step.value, self._undone)
                pending.append((next_inner, Root(reached, root.conditions + step.conditions, root.families + step.families)))
        return result

    def _undone(self, node: Expression) -> Expression:
        left = undone(node, self.facts) if isinstance(node, Call) else None
        return node if left is None else left

    def _one_step(self, g: Expression, value: Expression, depth: int) -> list[tuple[Expression, Root]] | None:
        x = self.unknown
        if isinstance(g, Sum):
            inside = [multiply_all((t, number(c))) for t, c in g.items() if contains(t, x)]
            rest = total([g, *[-t for t in inside]])
            if len(inside) != 1:
                return None
            return [(inside[0], Root(value - rest))]
        if isinstance(g, Product):
            inside = [f for f in g.factors if contains(f, x)]
            rest = multiply_all([number(g.coefficient), *[f for f in g.factors if not contains(f, x)]])
            if len(inside) != 1:
                return None
            self.need(nonzero(rest))
            return [(inside[0], Root(value / rest))]
        if isinstance(g, Power):
            return self._power_step(g, value, depth)
        if isinstance(g, Call):
            return self._call_step(g, value)
        return None

    def _power_step(self, g: Power, value: Expression, depth: int) -> list[tuple[Expression, Root]] | None:
        x = self.unknown
        if contains(g.base, x) and isinstance(g.exponent, Number) and g.exponent.is_rational:
            return [(g.base, r) for r in self._undo_power(g.exponent.rational, value, depth)]
        if contains(g.base, x) and not contains(g.exponent, x) and self.real:
            return [(g.base, r) for r in self._undo_letter_power(g.exponent, value)]
        if contains(g.exponent, x) and not contains(g.base, x):
            self.roads["logarithm"] = None
            if not self.real:
                condition = self._condition(nonzero(value))
                if condition is None:
                    return []
                n = self._free_integer(g, value)
                self.need(relation("!=", g.base, ONE))
                return [(g.exponent, Root((call("ln", value) + 2 * PI * IMAGINARY * n) / call("ln", g.base), condition, (n,)))]
            if g.base is ZERO:  # 0^u is 0 for u > 0, and has no value else
                if self.facts.holds(relation("=", value, ZERO)) is False:
                    return []
                raise NotSolved("0 to a power is 0 for every positive exponent: that is no list")
            if self.facts.is_negative(g.base):
                return self._exponent_of_negative(g, value)
            self.need(relation("<", ZERO, g.base))
            self.need(relation("!=", g.base, ONE))
            condition = self._condition(relation("<", ZERO, value))
            return [] if condition is None else [(g.exponent, Root(call("ln", value) / call("ln", g.base), condition))]
        return None

    def _undo_letter_power(self, k: Expression, value: Expression) -> list[Root]:
        """The real u with u^k = value, for a k with letters: positive ones, zero, and negative ones where k is known to be whole."""
        self.roads["roots"] = None
        self.need(nonzero(k))
        found: list[Root] = []
        positive = self._condition(relation("<", ZERO, value))
        if positive is not None:
            found.append(Root(power(value, 1 / k), positive))
        if self.facts.holds(relation("=", value, ZERO)) is not False:
            zero, rising = self._condition(relation("=", value, ZERO)), self._condition(relation("<", ZERO, k))
            if zero is not None and rising is not None:
                found.append(Root(ZERO, zero + rising))
        if value is ZERO:
            return found
        # an even whole k gives the negative of a root too, an odd one a negative root of a negative value
        even, odd = (self._condition(is_whole(expand(u))) for u in (k / 2, (k + 1) / 2))
        if even is not None:
            found = [*[Root(-r.value, r.conditions + even, r.families) for r in found if r.value is not ZERO], *found]
        negative = self._condition(relation("<", value, ZERO))
        if odd is not None and negative is not None:
            found.insert(0, Root(-power(-value, 1 / k), negative + odd))
        return found

    def _exponent_of_negative(self, g: Power, value: Expression) -> list[tuple[Expression, Root]] | None:
        """b^u = value with b < 0: real for whole u only, an even one where the value is positive."""
        size, k = self._condition(nonzero(value)), self._free_integer(g, value)
        if size is None:
            return []
        if g.base is number(-1):
            even, odd = (self._condition(relation("=", value, number(sign))) for sign in (1, -1))
            steps = [(2 * k, even), (2 * k + 1, odd)]
            return [(g.exponent, Root(place, condition, (k,))) for place, condition in steps if condition is not None]
        self.implied = True
        return [(g.exponent, Root(call("ln", call("abs", value)) / call("ln", -g.base), size))]

    def _condition(self, condition: Condition) -> tuple[Condition, ...] | None:
        """() where it follows, the condition where it is open, None where it cannot hold."""
        holds = self.facts.holds(condition)
        if holds is None and isinstance(condition, Relation) and condition.operator == "<=":
            gap = condition.right - condition.left
            if self.facts.is_nonpositive(gap):  # -u^2 >= 0 says u = 0
                return (zero_where(gap),)
        return () if holds else None if holds is False else (condition,)

    def _undo_power(self, q: mpq, value: Expression, depth: int) -> list[Root]:
        """The u with u^q = value."""
        self.roads["roots"] = None
        if q < 0:
            condition = self._condition(nonzero(value))
            if condition is None:
                return []
            return [Root(r.value, condition + r.conditions, r.families) for r in self._undo_power(-q, 1 / value, depth)]
        top, bottom = int(q.numerator), int(q.denominator)
        conditions: tuple[Condition, ...] = ()
        if bottom > 1:
            if not self.real:
                turned = _by_angle(q, value)
                if turned is not None:
                    return turned
                self.implied = True
            else:
                open_condition = self._condition(relation("<=", ZERO, value))
                if open_condition is None:
                    return []
                conditions = open_condition
            value = power(value, number(bottom))
        if top == 1:
            return [Root(value, conditions)]
        if value is ZERO:
            return [Root(ZERO, conditions)]
        if not self.real:
            turned = _by_angle(mpq(top), value) if isinstance(value, Number) and not value.is_rational else None
            if turned is not None:
                return turned
            root = power(value, number(mpq(1, top)))
            turns = [call("exp", IMAGINARY * 2 * PI * number(mpq(k, top))) for k in range(top)]
            return [Root(root * _as_root(t), conditions) for t in turns]
        if top % 2:
            return [Root(_real_root(value, top, self.facts), conditions)]
        inside = self._condition(relation("<=", ZERO, value))
        if inside is None:
            self.further += top
            return []
        root = power(value, number(mpq(1, top)))
        if bottom > 1:
            return [Root(root, conditions + inside)]
        return [Root(-root, conditions + inside), Root(root, conditions + inside)]

    def _call_step(self, g: Call, value: Expression) -> list[tuple[Expression, Root]] | None:
        if len(g.arguments) != 1 or g.function.solve_for is None:
            return None
        inner = g.arguments[0]
        if g.name == "exp" and not self.real:
            condition = self._condition(nonzero(value))
            if condition is None:
                return []
            n = self._free_integer(g, value)
            return [(inner, Root(call("ln", value) + 2 * PI * IMAGINARY * n, condition, (n,)))]
        if not self.real and g.name != "ln":
            steps = complex_inverse(self, g, value)
            if steps is not None:
                return steps
            raise NotSolved(f"{g.name} cannot be undone over the complex numbers here")
        family = () if g.function.period is None else (self._free_integer(g, value),)
        self.roads[f"inverse of {g.name}"] = None
        result: list[tuple[Expression, Root]] = []
        seen: list[Expression] = []
        try:
            undone = g.function.solve_for(value, *(family or (ZERO,)))
        except DomainError:  # a value that the function does not take, such as exp(u) = 0
            return []
        for place, conditions in undone:
            open_conditions: list[Condition] = []
            for wanted in conditions:
                state = self._condition(wanted)
                if state is None:
                    break
                open_conditions.extend(state)
            else:
                place = transform(place, lambda e: (angle_of_number(e) if isinstance(e, Call) else None) or e)
                if place in seen:
                    continue
                seen.append(place)
                result.append((inner, Root(place, tuple(open_conditions), family)))
        return result

    def _free_integer(self, *formulas: Expression) -> Name:
        """n_1, n_2, … : names for any integer."""
        chosen = next(self.facts.new_names("n", *formulas, self.unknown, *self.taken, domain="integer"))
        self.taken.append(chosen)
        return chosen

    # --- implications: the candidates are put back by the caller ---

    def _logarithms(self, g: Expression, depth: int) -> list[Root] | None:
        """A sum of whole multiples of logarithms equal to a constant: exponentials of both sides."""
        if not isinstance(g, Sum):
            return None
        inside: list[Expression] = []
        rest: list[Expression] = [number(g.constant)]
        for term, coefficient in g.items():
            if not contains(term, self.unknown):
                rest.append(multiply_all((term, number(coefficient))))
            elif isinstance(term, Call) and term.name == "ln" and not isinstance(coefficient, Gaussian):
                inside.append(power(term.arguments[0], number(coefficient)))
            else:
                return None
        self.implied = True
        self.roads["exponentials of both sides, candidates put back"] = None
        return self.solve(multiply_all(inside) - call("exp", -total(rest)), depth + 1)

    def _absolute(self, g: Expression, depth: int) -> list[Root] | None:
        """Each |u| as u and as -u."""
        bars = [n for n in postorder(g) if isinstance(n, Call) and n.name == "abs" and contains(n, self.unknown)]
        if not bars:
            return None
        self.implied = True
        self.roads["both signs of absolute values, candidates put back"] = None
        inner = bars[0].arguments[0]
        return [r for sign in (inner, -inner) for r in self.solve(substitute(g, {bars[0]: sign}), depth + 1)]

    def _hyperbolic(self, g: Expression, depth: int) -> list[Root] | None:
        """Hyperbolic functions by exponentials."""
        table = {n: n.function.as_elementary(*n.arguments) for n in postorder(g) if isinstance(n, Call) and n.name in HYPERBOLIC}  # type: ignore[misc]
        return self.solve(substitute(g, table), depth + 1) if table else None

    # --- square roots --------------------------------------------------------------------------------------------------

    def _radical(self, g: Expression, depth: int) -> list[Root] | None:
        """A + B*sqrt(q) = 0 squared; the candidates are put back by the caller."""
        roots = [n for n in postorder(g) if isinstance(n, Power) and contains(n, self.unknown) and _half(n.exponent)]
        bases = list(dict.fromkeys(n.base for n in roots))
        if not bases:
            return None
        base = bases[-1]
        s = self.facts.new_name("s", g, *self.taken)
        table: dict[Expression, Expression] = {}
        for n in postorder(g):
            if isinstance(n, Power) and n.base is base and isinstance(n.exponent, Number):
                table[n] = power(s, n.exponent * 2)
        replaced = substitute(g, table)
        form = Form([replaced])
        top = form.expression(form.lowest_terms(form.of(replaced))[0])
        coefficients = uni.coefficients_of(top, s)
        if coefficients is None:
            return None
        even = total([c * base ** (k // 2) for k, c in enumerate(coefficients) if k % 2 == 0])
        odd = total([c * base ** (k // 2) for k, c in enumerate(coefficients) if k % 2])
        self.implied = True
        self.roads["squaring, candidates put back"] = None
        return self.solve(expand(even * even - odd * odd * base), depth + 1)


def _root_of_discriminant(gap: Expression) -> Expression:
    """A square root of the discriminant, of either sign: squares come out without bars, since both roots are taken."""
    pieces = gap.factors if isinstance(gap, Product) else (gap,)
    outside: list[Expression] = []
    inside: list[Expression] = [number(gap.coefficient)] if isinstance(gap, Product) else []
    for piece in pieces:
        base, k = (piece.base, piece.exponent) if isinstance(piece, Power) else (piece, ONE)
        if isinstance(k, Number) and k.is_whole and not isinstance(base, Number):
            whole = k.rational - k.rational % 2
            outside.append(power(base, number(whole / 2)))
            inside.append(power(base, number(k.rational % 2)))
        else:
            inside.append(piece)
    return multiply_all([*outside, power(multiply_all(inside), number(HALF))])


def _by_angle(q: mpq, value: Expression) -> list[Root] | None:
    """The complex u with u^q = value: the angles in (-pi, pi] that q turns to that of the value."""
    try:
        real, imaginary = real_and_imaginary(value, Facts())
    except DomainError:
        return None
    share = expand(call("atan2", imaginary, real) / PI)
    if not isinstance(share, Number) or not share.is_rational:
        return None
    size = power(call("abs", value), number(1 / q))
    most = int(q) + 2
    angles = [(share.rational + 2 * k) / q for k in range(-most, most + 1)]
    turns = [call("cos", PI * number(a)) + IMAGINARY * call("sin", PI * number(a)) for a in angles if -1 < a <= 1]
    return [Root(expand(size * turn)) for turn in turns]


def _as_root(turn: Expression) -> Expression:
    """A root of unity in square roots where that is short."""
    if isinstance(turn, Call) and turn.name == "exp":
        angle = turn.arguments[0] / IMAGINARY
        return call("cos", angle) + IMAGINARY * call("sin", angle)
    return turn


def _real_root(value: Expression, degree: int, facts: Facts) -> Expression:
    if facts.is_nonnegative(value):
        return power(value, number(mpq(1, degree)))
    if facts.is_nonpositive(value):
        return -power(-value, number(mpq(1, degree)))
    if degree == 3:
        return call("cbrt", value)
    return call("sign", value) * power(call("abs", value), number(mpq(1, degree)))


def _half(k: Expression) -> bool:
    return isinstance(k, Number) and k.is_rational and k.rational.denominator == 2


def _first_turn(root: Root) -> Root:
    """2*pi*n + 2*pi - 5 as 2*pi*n - 5: whole periods in a family are in its integer already."""
    if len(root.families) != 1:
        return root
    n = root.families[0]
    parts = uni.linear_parts(expand(root.value), n)
    if parts is None:
        return root
    (unit, period), offset = split_coefficient(parts[0]), expand(parts[1])
    if unit is not PI or isinstance(period, Gaussian):
        return root
    multiple = next((c for term, c in weighted_terms(offset) if term is PI and not isinstance(c, Gaussian)), mpq(0))
    # the multiple of pi that stays is above -1/2 and at most 1/2 of a period
    turns = -((mpq(1, 2) - multiple / period).__floor__())
    if not turns:
        return root
    table = {n: n - int(turns)}
    return Root(expand(substitute(root.value, table)), tuple(substitute(c, table) for c in root.conditions), root.families)


def _without_squares(gap: Expression, facts: Facts) -> Expression:
    """A discriminant without factors that are certainly not negative: its sign is the same."""
    if not isinstance(gap, Product):
        return gap
    kept = [f for f in gap.factors if not facts.is_positive(f)]
    sign = number(-1) if not isinstance(gap.coefficient, Gaussian) and gap.coefficient < 0 else ONE
    return multiply_all([sign, *kept]) if kept else gap


def _with_one_base(node: Expression) -> Expression:
    """2^x*5^x as 10^x: the normal form takes the bases of powers apart."""
    if not isinstance(node, Product):
        return node
    bases: dict[Expression, mpq] = {}
    rest: list[Expression] = [number(node.coefficient)]
    for factor in node.factors:
        base = factor.base if isinstance(factor, Power) and names(factor.exponent) else None
        if isinstance(base, Number) and base.is_rational and base.rational > 0:
            bases[factor.exponent] = bases.get(factor.exponent, mpq(1)) * base.rational  # type: ignore[attr-defined]
        else:
            rest.append(factor)
    return multiply_all([*rest, *(power(number(base), k) for k, base in bases.items())])


def _occurrences(root: Expression, x: Name) -> int:
    count: dict[object, int] = {}
    for node in postorder(root):
        count[node] = 1 if node is x else sum(count[c] for c in node.children)
    return count[root]


def _distinct(roots: list[Root]) -> list[Root]:
    return list(dict.fromkeys(roots))


def _short(g: Expression) -> str:
    shown = str(g)
    return shown if len(shown) <= 60 else shown[:57] + "…"


def solve_single(g: Expression, unknown: Name, facts: Facts, real: bool, written: tuple[Condition, ...] = ()) -> Roots:
    """The roots of g = 0 for one unknown, each put back into the equation.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> [str(r.value) for r in solve_single(x**2 - 4, x, Facts(), True).found]
    ['-2', '2']
    """
    under = facts if real else Facts(facts.given, [unknown, *facts.complex_names], facts.spelled)
    nowhere = _without_real_value(g, unknown, under) if real else None
    if nowhere is not None:
        return Roots((), excluded=((unknown, f"{nowhere} has no real value"),), road="a part of the equation has no real value")
    solver = Solver(unknown, under, real)
    roots = solver.solve(_real_candidates(g, under) if real else g)
    if len(roots) == 1 and roots[0].value is unknown:
        about_all = (*written, *solver.conditions, *roots[0].conditions, *(real_conditions(g, unknown, under) if real else ()))
        conditions = tuple(dict.fromkeys(under.open_conditions(map(read_easily, about_all))))
        return Roots((), conditions, everything=True, road="identity")
    vanishing = bases_that_vanish(solver, g) if real else []
    kept: list[Root] = []
    excluded: list[tuple[Expression, str]] = []
    about_unknown = [c for c in (*written, *solver.conditions) if contains(c, unknown)]
    others = [c for c in (*written, *solver.conditions) if not contains(c, unknown)]
    try:
        under_all = under.with_facts([c for c in others if names(c)])
    except DomainError:  # what is needed contradicts the facts
        roots = []
    for part in real_conditions(g, unknown, under) if real else ():
        about_unknown.append(part)
    about_letters = letter_conditions(g, unknown, under_all) if real and roots else {}
    for root, there in [*((_first_turn(r), g) for r in roots), *vanishing]:
        shown = set(postorder(root.value))  # a part that the root itself has tells what it needs
        hidden = [c for node, listed in about_letters.items() if node not in shown for c in listed]
        root = root._replace(conditions=tuple(dict.fromkeys((*root.conditions, *hidden))))
        verdict, root = put_back(there, root, unknown, under_all, about_unknown, real, solver.implied)
        if verdict and there is g:  # to a base that vanishes no step led
            excluded.append((root.value, verdict))
        elif not verdict:
            for member in _members_in_range(_numbered(root, under, g, unknown), unknown, under):
                keep_once(kept, member, under_all)
    return Roots(
        _sorted(kept),
        tuple(dict.fromkeys(under.open_conditions(dict.fromkeys(map(read_easily, others))))),
        tuple(excluded),
        False,
        solver.further,
        "; ".join(solver.roads),
        tuple(solver.lost),
    )


def _without_real_value(g: Expression, x: Name, facts: Facts) -> Expression | None:
    """A part without the unknown that is real nowhere, such as asin(2) or sqrt(-a) with a > 0; the imaginary unit itself may stand there."""
    for node in postorder(g):
        if isinstance(node, (Call, Power)) and not contains(node, x):
            if any(facts.holds(c) is False for c in real_part_conditions(node, facts)):
                return node
    return None


def _real_candidates(g: Expression, facts: Facts) -> Expression:
    """Over the reals an equation with the imaginary unit is two: the real one gives the candidates, which are put back into both."""
    if not has_imaginary_unit(g):
        return g
    try:
        parts = [expand(p) for p in real_and_imaginary(g, facts)]
    except DomainError:
        return g
    kept = [p for p in parts if p is not ZERO]
    return kept[0] if kept else ZERO


def _numbered(root: Root, facts: Facts, *formulas: Expression) -> Root:
    """A family whose integers are the first that are free: those of different solutions may be the same."""
    table = dict(zip(root.families, facts.new_names("n", *formulas, domain="integer"), strict=False))
    conditions = tuple(substitute(c, table) for c in root.conditions)
    return Root(substitute(root.value, table), conditions, tuple(table.values()))


def _members_in_range(root: Root, x: Name, facts: Facts) -> list[Root]:
    """A family cut to a range of numbers that the facts give to the unknown; else the root itself."""
    low, high = window(x, facts)
    if len(root.families) != 1 or isinstance(low, Bound) or isinstance(high, Bound) or names(low, high):
        return [root]
    n = root.families[0]
    parts = uni.linear_parts(root.value, n)
    if parts is None or any(m is not n for m in names(root.value)):
        return [root]
    ends = sorted(float((end - parts[1]) / parts[0]) for end in (low, high))
    if ends[1] - ends[0] > MOST_MEMBERS:
        return [root]
    found: list[Root] = []
    stated = [c for c in (about(f, x) for f in facts.given) if c is not None]
    for k in range(int(ends[0]) - 2, int(ends[1]) + 3):
        value = simplify(substitute(root.value, {n: number(k)}), facts).expression
        about_member = [substitute(c, {n: number(k)}) for c in root.conditions]
        needed = [*about_member, *(substitute(c, {x: value}) for c in stated)]
        if all(facts.holds(c) is not False for c in needed) and _inside(low, value, high):
            found.append(Root(value, tuple(facts.open_conditions(about_member))))
    return found


def _inside(low: Expression, value: Expression, high: Expression) -> bool:
    return all(Facts().holds(relation("<=", a, b)) is not False for a, b in ((low, value), (value, high)))


def _sorted(roots: list[Root]) -> tuple[Root, ...]:
    """Real numbers ascending; formulas as they were found."""
    from gelvo.evaluation.enclose import enclose
    from gelvo.numbers.interval import NoValue

    keyed: list[tuple[float, float, int, Root]] = []
    for place, root in enumerate(roots):
        if names(root.value):
            return tuple(roots)
        try:
            box = enclose(root.value, {}, 80)
        except NoValue:
            return tuple(roots)
        keyed.append((float(box.real.low), 0.0 if box.imag is None else float(box.imag.low), place, root))
    return tuple(entry[3] for entry in sorted(keyed, key=lambda e: e[:3]))


def isolated(g: Expression, x: Name, facts: Facts) -> list[tuple[Expression, Name | None]] | None:
    """All real zeros of g where each is certain: (place, free integer or None); None where that cannot be said."""
    solver = Solver(x, facts, True)
    try:
        roots = solver.solve(g)
    except (NotSolved, DomainError):
        return None
    if (
        solver.lost
        or any(not contains(c, x) for c in solver.conditions)
        or any(r.conditions or len(r.families) > 1 for r in roots)
    ):
        return None
    return [(r.value, r.families[0] if r.families else None) for r in roots]
