"""The search for a form that keeps its digits: rewritings one after the other, measured at points against correctly rounded values.

Where no one form is good everywhere, two are joined at a place where both are; what remains is worked out on pairs of numbers.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from functools import cache, partial
from itertools import islice, product
from typing import TYPE_CHECKING, NamedTuple

from gelvo.code.accuracy import BAR_ULP, GOAL_ULP, MUCH
from gelvo.code.digits.guards import careful_forms, guards
from gelvo.code.digits.joining import beside_limits, best_limit, cases, quantities
from gelvo.code.digits.near import near_forms
from gelvo.code.digits.numeric import CAREFUL, careful, is_numeric
from gelvo.code.digits.place import FIRST_SEED, LARGEST, POINTS, Form, Place, cost_of
from gelvo.code.digits.points import Point
from gelvo.code.digits.rewriting import rewritings, with_exact_products
from gelvo.code.digits.scaling import scaled
from gelvo.deadline import checkpoint
from gelvo.errors import GelvoError
from gelvo.expression.building import number
from gelvo.expression.constants import ONE
from gelvo.expression.nodes import Expression
from gelvo.expression.traversal import distinct_nodes, postorder

if TYPE_CHECKING:
    from numpy import bool_, float64
    from numpy.typing import NDArray

DENSER = 4  # fresh points of one input are many
MOST_FAILING, OFTEN, KEPT, JOINED = 40, 0.5, 8, 6
RARE = 0.03  # the part of the points that a limit has to leave on each side
ENDS = 2  # values of a quantity that are the ends of a range
CASE = 6.0  # what another case costs whoever reads it
MUCH_BETTER = 0.5  # a limit of an input is another case to be read
MOST_GUARDED = 0.5  # a sum smaller than this part of its terms has cancelled
SPARE = 300.0  # what may be added in any case: products and sums on pairs, in units of an addition
CHEAP, FEW = 1.5, 8.0  # what a form may cost that only keeps parts from overflowing where nobody stated that the code will run
SHORT = 4.5  # formulas of so few operations may be worked out on pairs without being asked
DEAREST = 2.0  # what digits that the formula's own condition does not ask for may cost, in times of the plain form


class Effort(NamedTuple):
    """How long is searched: so many searches, each with more points, of so many rounds of rewriting and forms.

    thorough: very many points are looked over, pairs stand beside other forms in all ways, and a dear form may be taken.
    """

    attempts: int
    rounds: int
    tries: int
    thorough: bool


# where it was stated that the code will run and all digits are wanted there, and elsewhere
ASKED, UNASKED = Effort(4, 6, 400, True), Effort(3, 4, 160, False)


def improved(e: Expression, place: Place, strict: bool = True) -> tuple[Form, Form]:
    """(the formula as it came, the best form found), tried at fresh points as well: where one fails there, the search goes on with them.

    strict: the goal holds everywhere; else only as far as the condition of the formula allows.
    """
    plain = place.form(e)
    if not len(place.points) or distinct_nodes(e) > LARGEST or _enough(plain, strict):
        return plain, plain
    kept: dict[Expression, Form] = {}
    effort = ASKED if place.ranges and strict else UNASKED
    others = cache(lambda formula: list(islice(rewritings(formula, place.facts), ASKED.tries)))
    for attempt in range(effort.attempts):
        best = _Search(place.form(e), place, strict, effort, others).found()
        kept[best.formula] = best
        seed = FIRST_SEED + 1 + attempt
        drawn = place.drawn(POINTS * (DENSER if len(place.inputs) == 1 else 1), seed)
        suspected = place.suspected(best.formula, e, seed + effort.attempts) if effort.thorough else []
        fresh = failing_points(best, place, [*suspected, *drawn, *beside_limits(best.formula, place.inputs, drawn)])
        if not fresh:
            break
        place.add(fresh)
    plain = place.form(e)
    rank = partial(_rank, plain=plain, effort=effort, strict=strict)
    best = min((place.form(f.formula, f.road) for f in kept.values()), key=rank)
    if best.worst > GOAL_ULP and plain.worst <= BAR_ULP and not plain.beyond:
        return plain, plain  # within the bar as it was written, and nothing else is better by much
    return plain, min(best, plain, key=rank)


def carried(e: Expression, place: Place) -> Expression:
    """A formula that is too long for the search: as it is where that passes, else on pairs of numbers."""
    if not len(place.points) or place.form(e).passes:
        return e
    return careful(e) if place.form(careful(e)).passes else e


def worst_unexcused(form: Form, place: Place) -> float:
    """The largest error where one rounding of an input moves the value by no more than some units."""
    found = form.errors[place.allowed <= MUCH]
    return float(found.max()) if len(found) else form.worst


def _enough(form: Form, strict: bool) -> bool:
    return form.worst <= GOAL_ULP and not form.beyond if strict else form.passes


def failing_points(best: Form, place: Place, fresh: Sequence[Point]) -> list[Point]:
    """The fresh points at which a form is worse than it is at the known ones."""
    other = place.at(fresh)
    if not len(other.points):
        return []
    found = other.form(best.formula)
    bad = (found.errors > max(GOAL_ULP, best.worst)) | (found.over > 1) & best.passes
    return [p for p, b in zip(other.points, bad, strict=True) if b][:MOST_FAILING]


class _Search:
    """The forms found so far; limited: the quantity that is small where a form holds, and up to where.

    others: (rule, form) for the rewritings of a form, which are the same at any points.
    """

    def __init__(
        self,
        plain: Form,
        place: Place,
        strict: bool,
        effort: Effort,
        others: Callable[[Expression], list[tuple[str, Expression]]],
    ) -> None:
        self.plain, self.place, self.strict, self.effort, self._others = plain, place, strict, effort, others
        self.forms: dict[Expression, Form] = {plain.formula: plain}
        self.limited: dict[Expression, tuple[Expression, float]] = {}
        self.best = plain

    def found(self) -> Form:
        """The best form, of as few ways as it takes."""
        for step in (self.rewrite, self.scale, self.join, self.approximate):
            step()
            if _enough(self.best, self.strict):
                return self.best
        # pairs of numbers are for digits that are asked for, or that the condition does not excuse
        if self.effort.thorough or not self.best.passes or self.plain.cost <= SHORT:
            self.carry()
        return self.best

    def add(self, e: Expression, road: tuple[str, ...]) -> Form | None:
        """Tries a form once; None for one that was tried, is too long or cannot be worked out."""
        checkpoint()
        if e in self.forms or distinct_nodes(e) > 3 * LARGEST:
            return None
        try:
            found = self.place.form(e, road)
        except GelvoError:
            return None
        self._keep(found)
        return found

    def _rank(self, form: Form) -> tuple[float, ...]:
        return _rank(form, self.plain, self.effort, self.strict)

    def _reached(self) -> bool:
        return self.best.worst <= GOAL_ULP if self.strict else self.best.passes

    def _keep(self, found: Form) -> None:
        self.forms[found.formula] = found
        if self._rank(found) < self._rank(self.best):
            self.best = found

    def rewrite(self) -> None:
        """Rewritings of the forms that lose least."""
        front = [self.plain]
        tried = 0
        self._with_exact_products(self.plain)
        for _ in range(self.effort.rounds):
            fresh = []
            for form in front:
                for rule, other in self._others(form.formula):
                    if tried >= self.effort.tries:
                        break
                    found = self.add(other, (*form.road, rule))
                    if found is not None:
                        tried += 1
                        fresh.append(found)
                        self._with_exact_products(found)
            if _enough(self.best, self.strict) or not fresh:
                return
            front = list(_front(fresh))

    def _with_exact_products(self, form: Form) -> None:
        other = with_exact_products(form.formula)
        if other is not form.formula:
            self.add(other, (*form.road, "exact products"))

    def scale(self) -> None:
        """Powers of two taken out of the inputs, where parts overflow or vanish on the way."""
        import numpy

        if not self.best.beyond and not numpy.any(self.place.hard & (self.best.over > 1)):
            return
        for form in list(_front(list(self.forms.values()))):
            for other in scaled(form.formula):
                self.add(other, (*form.road, "scaled"))

    def join(self) -> None:
        """Pairs of the best forms, each where it is good; then with a third one."""
        for _ in range(3):
            pool = list(_front([f for f in self.forms.values() if f.formula not in self.limited and not _joined(f)]))
            pool += [self.forms[e] for e in self.limited]
            before = self.best
            for joint in self._joints(list({f.formula: f for f in (self.best, self.plain, *pool)}.values())):
                self._take(joint)
            if self._reached() or self.best is before:
                return

    def approximate(self) -> None:
        """Polynomials near a point where digits are lost."""
        pool = list(_front([f for f in self.forms.values() if not _joined(f)]))
        for source in {f.formula: f for f in (self.plain, *pool[:3])}.values():
            for near in near_forms(source.formula, self.place.precision.bits):
                if self.add(near.formula, (*source.road, "polynomial")) is not None:
                    self.limited[near.formula] = near.quantity, float(near.radius)
        self.join()

    def carry(self) -> None:
        """Pairs of numbers, where a sum cancels or everywhere; and those of arguments, beside a form that is good where they are not."""
        plain = [f for f in self.forms.values() if f.formula not in self.limited and not _joined(f) and not _has_pairs(f)]
        pool = list(_front(plain))
        inside = []
        for source in {f.formula: f for f in (self.plain, *pool[:2], *sorted(pool, key=lambda f: f.cost)[:2])}.values():
            for form in careful_forms(source.formula):
                found = self.add(form, (*source.road, "doubles" if self.place.precision.is_single else "pairs"))
                if found is not None:
                    inside.append(found)
        others = list({f.formula: f for f in (self.best, self.plain, *pool[:4])}.values())
        limits = {f.formula: self._limits_by_guards(f) for f in (*others, *(inside if self.effort.thorough else ()))}
        beside = product(others, inside) if self.effort.thorough else ()
        self._guarded((*product(inside, others), *beside), limits)
        if self.effort.thorough:
            self._bands()
        if not self._reached():
            self.join()
        if self.effort.thorough and not self._reached():  # where pairs fail as well there may be a polynomial
            self._guarded(product(self._dear(), others), limits)

    def _guarded(self, ways: Iterable[tuple[Form, Form]], limits: Mapping[Expression, Sequence[_Limit]]) -> None:
        """One form where a sum of another one cancels, that other one elsewhere."""
        for one, other in ways:
            for limit in limits[other.formula]:
                self._take_at(limit, one, other, max(BAR_ULP, self.best.worst))

    def _dear(self) -> list[Form]:
        """Joined forms that have all digits, and cost too much to be worked out everywhere."""
        dear = [f for f in self.forms.values() if _joined(f) and f.worst <= GOAL_ULP and f.cost > self.plain.cost * DEAREST]
        return sorted(dear, key=lambda f: (len(f.road), f.cost))[:JOINED]

    def _bands(self) -> None:
        """A polynomial up to a limit, pairs from there to another one, and a plain form beyond: pairs only where nothing else holds."""
        others = [f for f in self._dear() if "polynomial" not in f.road]
        for near, other in product([self.forms[e] for e in self.limited], others):
            self._take_at(self._own_limit(near), near, other, GOAL_ULP)

    def _own_limit(self, near: Form) -> _Limit:
        """Up to where a polynomial holds."""
        quantity, most = self.limited[near.formula]
        return _Limit(quantity, ONE, self.place.values(quantity), most)

    def _limits_by_guards(self, form: Form) -> list[_Limit]:
        """The limits at which a sum in a form, or a function that passes through zero, begins to lose digits."""
        found = [] if _joined(form) else guards(form.formula)
        return [_Limit(g.size, g.terms, self.place.values(g.quantity), MOST_GUARDED, guarded=True) for g in found]

    def _take_at(self, limit: _Limit, one: Form, other: Form, most: float) -> None:
        """Two forms at a limit, where neither is worse there than so much."""
        joined = limit.between(one, other)
        if joined is not None and joined[0] <= most:
            self._take(joined[1])

    def _take(self, joint: _Joint) -> None:
        """A form for some points and another one elsewhere, whose errors are known."""
        import numpy

        one, other = joint.one, joint.other
        e = cases(one.formula, joint.quantity, joint.limit, other.formula)
        if e in self.forms:
            return
        errors, over = (numpy.where(joint.where, a, b) for a, b in ((one.errors, other.errors), (one.over, other.over)))
        test = self.place.cost(e) - self.place.cost(other.formula)
        spent = numpy.where(joint.where, one.spent, other.spent) + test
        # hard points are many among those tried, and few where the code will run
        usual = float(numpy.median(other.spent))
        dear = usual + test + OFTEN * float((spent[: self.place.usual] - usual).mean()) + CASE
        self._keep(Form(e, (*one.road, "or", *other.road), dear, errors, over, spent, max(one.beyond, other.beyond)))

    def _joints(self, pool: Sequence[Form]) -> Iterator[_Joint]:
        found: list[tuple[float, float, int, _Joint]] = []
        by_inputs = [_Limit(q, ONE, self.place.values(q), math.inf, usual=True) for q in quantities(self.place.inputs)]
        others = [(f, [*by_inputs, *self._limits_by_guards(f)]) for f in pool if f.formula not in self.limited]
        for one in pool:
            own = [self._own_limit(one)] if one.formula in self.limited else None
            for other, limits in others:
                for limit in limits if own is None else own:
                    joined = limit.between(one, other) if one is not other else None
                    if joined is not None and joined[0] < min(one.worst, other.worst) * (MUCH_BETTER if limit.usual else 1):
                        found.append((max(joined[0], GOAL_ULP), one.cost + other.cost, len(found), joined[1]))
        for *_, joint in sorted(found, key=lambda f: f[:3])[:JOINED]:
            yield joint


class _Joint(NamedTuple):
    """One form where a quantity is smaller than a limit, the other elsewhere; where: at which points that is."""

    one: Form
    quantity: Expression
    limit: Expression
    where: NDArray[bool_]
    other: Form


class _Limit(NamedTuple):
    """What a limit may be set on: a quantity against a unit, their quotient at the points, and up to which one it makes sense.

    guarded: the quantity is a sum, the unit that of the sizes of its terms; usual: the quantity is an input, whose limit means nothing by
    itself.
    """

    quantity: Expression
    unit: Expression
    sizes: NDArray[float64]
    most: float
    guarded: bool = False
    usual: bool = False

    def between(self, one: Form, other: Form) -> tuple[float, _Joint] | None:
        """(worst error, the two forms at the best limit), one below it."""
        found = best_limit(one.errors, other.errors, self.sizes, self.most, self.guarded, far_out=one.cost < other.cost)
        if found is None:
            return None
        worst, limit = found
        where = self.sizes < float(limit)
        part, beyond = where.mean(), set(self.sizes[~where].tolist())
        if (self.usual and part <= RARE) or ((self.usual or self.guarded) and (part >= 1 - RARE or len(beyond) <= ENDS)):
            return None  # where nearly no point lies, or only the ends of a range, a form is better by chance
        return worst, _Joint(one, self.quantity, number(limit) * self.unit, where, other)


def _has_pairs(form: Form) -> bool:
    return any(is_numeric(n, CAREFUL) for n in postorder(form.formula))


def _joined(form: Form) -> bool:
    return "or" in form.road


def _rank(form: Form, plain: Form, effort: Effort, strict: bool) -> tuple[float, ...]:
    """What is better comes first: all digits, then those that the condition leaves; the plain form rather than a dear one.

    strict: whether more is wanted than what the condition leaves.
    """
    if ((form.over > 1) & (plain.over <= 1)).any():
        return 5.0, form.lost, form.cost  # digits that the plain form keeps are not given away for others
    if not form.passes:
        return 4.0, form.lost, form.cost
    if effort.thorough:
        dear = form.cost > DEAREST * plain.cost + SPARE
    else:  # what has to be read counts, whichever case it is
        dear = form is not plain and cost_of(form.formula, whole=True) > DEAREST * cost_of(plain.formula, whole=True) + FEW
    far = form.beyond if form.cost <= CHEAP * plain.cost + FEW else max(plain.beyond, form.beyond)
    if not strict:
        return 0.0, far, form.cost, form.worst
    if form.worst <= GOAL_ULP:
        return (3.0 if dear else 0.0), far, form.cost, form.worst
    return (2.0 if dear else 1.0), far, form.lost, form.cost


def _front(forms: Iterable[Form]) -> Iterator[Form]:
    """The forms that lose least, and the cheapest that are best, or good, at some points."""
    import numpy

    ranked = sorted(forms, key=lambda f: (f.lost, f.cost))
    kept: list[Form] = ranked[: KEPT // 2]
    cheap = sorted(ranked, key=lambda f: f.cost)
    table = numpy.array([numpy.maximum(f.errors, GOAL_ULP) for f in cheap])
    winners = numpy.bincount(table.argmin(axis=0), minlength=len(cheap))
    for k in numpy.argsort(-winners, kind="stable"):
        if len(kept) >= KEPT or not winners[k]:
            break
        if not any(f is cheap[k] for f in kept):
            kept.append(cheap[k])
    return iter(kept)
