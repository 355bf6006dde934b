"""Limits and expansions in several variables at once."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Any, NamedTuple

from gmpy2 import mpq

from gelvo.calculus.local.expander import expanded
from gelvo.calculus.local.expansion import Unclear
from gelvo.calculus.several import Place, limit_of_several, monomial
from gelvo.calculus.tidying import for_a_reader
from gelvo.checking.certificate import PROVED, REFUTED, Certificate, on_its_own_road
from gelvo.checking.series import check_series
from gelvo.checking.several import check_limit_of_several
from gelvo.deciding.suppositions import supposing
from gelvo.errors import DomainError, NoClosedForm
from gelvo.expression.building import multiply_all, total
from gelvo.expression.constants import ZERO
from gelvo.expression.nodes import Bound, Expression, Name, Number
from gelvo.expression.traversal import names, substitute
from gelvo.facts.store import Facts
from gelvo.forms.collecting import terms_of
from gelvo.forms.expanding import expand
from gelvo.operations.answer import Answer, in_a_row, with_comment
from gelvo.operations.inputs import take
from gelvo.refuted import note_refuted
from gelvo.roads import noted

MOST_TOTAL = 40
Powers = tuple[int, ...]


def in_several(variable: object) -> bool:
    """Whether an operation was asked about a list of variables."""
    return isinstance(variable, (list, tuple))


def _taken(expression: object, variables: Any, point: Any, given: Iterable[object]) -> tuple[Expression, Place, Facts]:
    if not in_several(point) or len(point) != len(variables):
        raise DomainError(f"{len(variables)} variables need a list of {len(variables)} values for the point, one for each")
    arguments = take(expression, *point, variables=list(variables), given=given)
    f, *values = arguments.expressions
    if len(set(arguments.names)) < len(arguments.names):
        raise DomainError("the variables are different names, each of them once")
    place = dict(zip(arguments.names, values, strict=True))
    for x, a in place.items():
        if isinstance(a, Bound):
            raise DomainError(f"in several variables the point is finite: put {x} = 1/u and let u go to zero")
        if not set(place).isdisjoint(names(a)):
            raise DomainError(f"the point {x} = {a} contains a variable of the limit")
    return f, place, arguments.facts


def limit_in_several(expression: Any, variables: Any, point: Any, side: Any, given: Iterable[Any]) -> Answer:
    """The limit at a point of several coordinates; NoClosedForm where neither directions nor paths decide."""
    if side is not None:
        raise DomainError("a limit of several variables has no side: leave it out")
    f, place, facts = _taken(expression, variables, point, given)
    with noted() as by_result, supposing() as supposed:
        found = limit_of_several(f, place, facts)
    undecided = NoClosedForm("no method decides this limit: expansions in all directions, and paths that disagree")
    if found is None:
        raise undecided
    conditions = facts.open_conditions(list(supposed)) if found.paths else ()
    known = facts.with_facts(conditions)
    value = for_a_reader(found.value, facts)
    where = ", ".join(f"{x} -> {a}" for x, a in place.items())
    claim = f"the limit of {f} for {where} is {value}"
    certificate = on_its_own_road(lambda: check_limit_of_several(f, place, found, known, claim), by_result)
    if found.guessed and certificate.verdict != PROVED:
        raise undecided
    road = (
        "; ".join(f"{path.end} on {path}" for path in found.paths)
        if found.paths
        else "a bound that goes to zero"
        if found.guessed
        else "an expansion that holds for all directions"
    )
    return Answer(value, lambda: certificate, conditions, road)


class SeveralSeries(Answer):
    """An expansion in several variables: its formula is the sum of the terms kept; .terms by their powers, .coefficient([i, j])."""

    __slots__ = ("left_out", "place", "terms")

    def __init__(self, place: Place, terms: dict[Powers, Expression], left_out: str, *rest: Any) -> None:
        super().__init__(*rest)
        self.place, self.terms, self.left_out = place, terms, left_out

    @property
    def in_order(self) -> list[Expression]:
        """The terms that are kept, by rising total power."""
        return [c * _product(self.place, k) for k, c in self.terms.items()] or [self.expression]

    def __str__(self) -> str:
        """The terms by rising total power; what is left out as a comment."""
        return with_comment(in_a_row(self.in_order, self.came_in), "; ".join(filter(None, (self.left_out, self.qualification))))

    __repr__ = __str__

    def coefficient(self, powers: Any) -> Expression:
        """The coefficient of the product of these powers, one for each variable; zero for one that is not kept.

        >>> import gelvo
        >>> gelvo.series("sin(x*y)", ["x", "y"], [0, 0], through=6).coefficient([3, 3])
        -1/6
        """
        key = tuple(powers) if in_several(powers) else ()
        if len(key) != len(self.place):
            raise DomainError(f"a power for each of {', '.join(map(str, self.place))}: a list of {len(self.place)} numbers")
        return self.terms.get(key, ZERO)


class Along(NamedTuple):
    """The formula on the line from the place in a direction: x = a + r*h, and what is known."""

    formula: Expression
    r: Name
    steps: list[Name]
    facts: Facts


def _along(f: Expression, place: Place, facts: Facts) -> Along:
    known = facts
    for x in place:
        known = known.without(x)
    r = known.new_name("r", f, *place.values(), domain="positive")
    steps = {x: known.new_name(f"h_{k}", f, r, *place.values()) for k, x in enumerate(place, 1)}
    return Along(substitute(f, {x: a + r * steps[x] for x, a in place.items()}), r, list(steps.values()), known)


def series_in_several(expression: Any, variables: Any, about: Any, through: Any, given: Iterable[Any]) -> SeveralSeries:
    """The expansion about a point of several coordinates, by B. Taylor (1715): along every direction at once."""
    point = [about] * len(variables) if not in_several(about) and about == 0 else about
    f, place, facts = _taken(expression, variables, point, given)
    most = _powers(through, len(place))
    last = mpq(sum(most) if in_several(through) else most[0])
    line = _along(f, place, facts)
    with noted() as by_result, supposing() as supposed:
        try:
            found = expanded(line.formula, line.r, line.facts, last)
        except (Unclear, DomainError) as fault:
            raise NoClosedForm(f"there is no expansion there: {fault}") from None
    forms = {e: expand(c) for e, c in found.terms.items() if e <= last}
    terms = _by_powers(forms, line.steps)
    if any(not set(names(c)).isdisjoint(line.steps) for c in supposed):
        raise NoClosedForm("there is no expansion there: it is another one for each direction")
    conditions = facts.open_conditions(list(supposed))
    certificate = on_its_own_road(lambda: _checked(f, line, forms, last, facts.with_facts(conditions)), by_result)
    terms = {k: for_a_reader(c, facts) for k, c in terms.items() if all(i <= m for i, m in zip(k, most, strict=True))}
    kept = total([c * _product(place, k) for k, c in terms.items()])
    ended = found.order is None and all(e <= last for e in found.terms)
    left_out = "" if ended else "+ higher powers" if in_several(through) else f"+ terms of total power {last + 1} and more"
    return SeveralSeries(
        place, terms, left_out, kept, lambda: certificate, conditions, "arithmetic of expansions, along every direction"
    )


def _checked(f: Expression, line: Along, forms: Mapping[mpq, Expression], last: mpq, facts: Facts) -> Certificate:
    """The expansion along a line whose direction is left open."""
    known = line.facts.with_facts(facts.given)
    told = check_series(line.formula, line.r, line.r, ZERO, "above", forms, last, known)
    if told.verdict == REFUTED:
        note_refuted("expansion", f, total(list(forms.values())))
        raise NoClosedForm("the expansion that was found does not agree with the formula")
    return replace(told, claim=f"the expansion of {f} through total power {last}")


def _product(place: Place, powers: Powers) -> Expression:
    return multiply_all([(x - a) ** i for (x, a), i in zip(place.items(), powers, strict=True)])


def _powers(through: Any, count: int) -> list[int]:
    items = list(through) if in_several(through) else [through] * count
    powers = [e.rational for e in take(*items).expressions if isinstance(e, Number) and e.is_whole and e.rational >= 0]
    if len(powers) != count or (sum(powers) if in_several(through) else powers[0]) > MOST_TOTAL:
        raise DomainError(f"the last power is a natural number, or a list with one for each variable, of {MOST_TOTAL} in all")
    return [int(p) for p in powers]


def _by_powers(homogeneous: Mapping[mpq, Expression], steps: list[Name]) -> dict[Powers, Expression]:
    """The coefficients of the products of powers; NoClosedForm for terms that are no polynomial in the direction."""
    table: dict[Powers, list[Expression]] = {}
    for e, form in homogeneous.items():
        for term in terms_of(form):
            read = monomial(term, steps)
            if read is None:
                raise NoClosedForm("there is no expansion there in powers of the variables: a kink, a pole or a branch point")
            powers, outer = read
            if sum(powers.values()) != e:
                raise NoClosedForm("there is no expansion there in powers of the variables")
            table.setdefault(tuple(powers.values()), []).append(outer)
    return {k: total(v) for k, v in sorted(table.items(), key=lambda kv: (sum(kv[0]), tuple(-i for i in kv[0])))}
