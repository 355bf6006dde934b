"""What `solve` returns: solutions with their conditions, or the set of all that satisfy an inequality."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from typing import Any, ClassVar

from gmpy2 import mpq

from gelvo.checking.certificate import PROVED, Certificate, weakest
from gelvo.checking.solutions import check_relation, check_shared, check_solution, check_stated_solution
from gelvo.errors import DomainError, NoSuchSolution, NotSolved
from gelvo.expression.building import junction, opposite
from gelvo.expression.constants import ZERO
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Condition, Expression, Name, Relation
from gelvo.expression.registry import Hooks
from gelvo.expression.traversal import contains, names, postorder, substitute
from gelvo.expression.writing import with_typed
from gelvo.facts.statements import DomainFact, Fact, fact_condition
from gelvo.facts.store import Facts
from gelvo.forms.differentiation import differentiate
from gelvo.operations.answer import with_comment
from gelvo.operations.case_table import CaseTable, case_table
from gelvo.operations.inputs import take


class Values(dict[Expression, Expression]):
    """One solution: unknown -> expression; an unknown may also be named by its text, `values["x"]`."""

    def __missing__(self, key: Any) -> Expression:
        for unknown, value in self.items():
            if str(key).strip() in (str(unknown), getattr(unknown, "name", None)):
                return value
        raise DomainError(f"{key} is not among the unknowns {', '.join(map(str, self))}")

    def __contains__(self, key: object) -> bool:
        return any(str(key).strip() in (str(u), getattr(u, "name", None)) for u in self)

    def get(self, key: Any, default: Any = None) -> Any:
        return self[key] if key in self else default  # noqa: SIM401  (this is `get` itself)


class Solutions(Sequence[Values]):
    """The solutions of equations: a sequence of mappings unknown -> expression.

    .conditions: what must hold for all of them; .conditions_of(k): for one; .complete: whether these are all;
    .cases: the names of solutions that are cases, such as "underdamped", and .case(name); .special_cases: what holds where a condition fails; .families: the free integers; .constants: the free
    constants of differential equations; .case_table(): all cases of the letters; .excluded: candidates with the reason; .everything: every value solves;
    .taking(condition), .single, .check(), .road, .reason, .verdict, .certificate().
    """

    # how an equation is looked at where a condition fails: set by `solving`, which stands above
    special: ClassVar[Callable[[Solutions, Condition], tuple[Condition, Any] | None]]
    # the same equations over the complex numbers: set by `solving` too
    over_complex: ClassVar[Callable[[Solutions], Solutions]]

    def __init__(
        self, found: Sequence[tuple[Mapping[Any, Expression], tuple[Condition, ...]]], equations: Sequence[Equation], facts: Facts, *,
        conditions: tuple[Condition, ...] = (), excluded: Sequence[tuple[str, str]] = (), families: tuple[Name, ...] = (),
        everything: bool = False, further: int = 0, road: str = "", domain: str = "real", unknowns: Sequence[Expression] = (),
        constants: tuple[Name, ...] = (), initial: Sequence[Equation] = (), declared_as: Mapping[Any, Expression] | None = None,
        lost: Sequence[str] = (), cases: Sequence[str] = (), shared: bool = False,
    ) -> None:  # fmt: skip
        self.constants, self.initial, self._declared_as = constants, tuple(initial), dict(declared_as or {})
        self._found = tuple(found)
        self.equations, self.facts, self.conditions, self.families = tuple(equations), facts, conditions, families
        self.excluded, self.everything, self.further, self.road = tuple(excluded), everything, further, road
        self.domain, self.unknowns, self.complete, self.reason = domain, tuple(unknowns), not lost, "; ".join(lost)
        self.steps: tuple[object, ...] = ()
        self.trail: tuple[tuple[str, Expression], ...] = ()  # the equations that were reached on the way to one unknown
        self.cases, self._shared = tuple(cases), shared
        self.came_in: frozenset[mpq] = frozenset()  # the decimals that were typed for them
        self._certificate: Certificate | None = None

    def __len__(self) -> int:
        return len(self._found)

    def __getitem__(self, index: Any) -> Any:
        if isinstance(index, slice):
            return [self._outside(v) for v, _ in self._found[index]]
        if not isinstance(index, int):
            raise DomainError(f'a solution is chosen by its number from 0, and an unknown after it: solutions[0]["{index}"]')
        if not -len(self._found) <= index < len(self._found):
            raise NoSuchSolution(f"there is no solution [{index}]: {len(self._found)} were found, counted from 0")
        return self._outside(self._found[index][0])

    def own_conditions(self, index: int) -> tuple[Condition, ...]:
        """What one solution needs beyond the conditions of all."""
        return tuple(substitute(c, self._declared_as) for c in self._found[index][1])

    def _outside(self, values: Mapping[object, Expression]) -> Values:
        """A solution in the variables of the caller: an unknown sought over the complex numbers may be a real one there."""
        own = self._declared_as
        return Values({own.get(k, k): substitute(v, own) for k, v in values.items()})

    def conditions_of(self, index: int) -> tuple[Condition, ...]:
        """The conditions of one solution, with those of all."""
        return tuple(substitute(c, self._declared_as) for c in (*self.conditions, *self._found[index][1]))

    def __iter__(self) -> Iterator[Values]:
        return (self._outside(v) for v, _ in self._found)

    @property
    def special_cases(self) -> tuple[tuple[Condition, Solutions], ...]:
        """What the equations say where a condition `p != 0` of all solutions fails: (p = 0, the solutions then), as far as solved."""
        return tuple((condition, then) for condition, then in self.all_special_cases() if then is not None)

    def all_special_cases(self) -> Iterator[tuple[Condition, Solutions | None]]:
        """Each case p = 0 where p != 0 is a condition of all solutions; None for its solutions where these were not worked out."""
        for condition in self.conditions:
            case = Solutions.special(self, condition)
            if case is not None:
                case[1]._declared_as = self._declared_as
                yield substitute(case[0], self._declared_as), case[1]
            elif isinstance(condition, Relation) and condition.operator == "!=":
                yield substitute(opposite(condition), self._declared_as), None

    def case_table(self) -> CaseTable:
        """All cases as a table: what must hold for the letters, and the solutions then.

        >>> import gelvo
        >>> gelvo.solve("a*x = b", "x").case_table()
        a != 0          x = b/a
        a = 0, b = 0    every value solves
        a = 0, b != 0   no solution
        """
        return case_table(self)

    @property
    def further_solutions(self) -> tuple[Values, ...]:
        """The complex solutions beside real ones, where it is known that there are some."""
        if not self.further:
            return ()
        here = [dict(v) for v in self]
        return tuple(v for v in Solutions.over_complex(self) if dict(v) not in here)

    @property
    def single(self) -> Any:
        """The expression of the one solution for one unknown; with several unknowns the mapping."""
        if len(self._found) != 1:
            raise NotSolved(
                f"there are {len(self._found)} solutions, not one: {self.listed()}" if self._found else "there is no solution"
            )
        values = self[0]
        return next(iter(values.values())) if len(values) == 1 else values

    @property
    def general(self) -> Any:
        """The formula with the free constants, of a single solution (of several functions a mapping)."""
        if not self.constants:
            raise NotSolved("no constants are free here: `single` is the one solution")
        return self.single

    @property
    def particular(self) -> Any:
        """Of linear equations what is left of the general solution with all free constants 0: it satisfies the equation by itself."""
        values = {u: substitute(v, dict.fromkeys(self.constants, ZERO)) for u, v in self[0].items()}
        whole = [differentiate(v, c) for v in self[0].values() for c in self.constants]
        if len(self._found) != 1 or any(contains(slope, c) for slope in whole for c in self.constants):
            raise NotSolved("the solution is not linear in its constants: it has no part without them")
        return next(iter(values.values())) if len(values) == 1 else values

    def case(self, name: str) -> Solutions:
        """The solution of one case by its name, with its conditions."""
        if name not in self.cases:
            raise NoSuchSolution(f"there is no case {name!r}: {', '.join(self.cases) or 'these solutions have no names'}")
        return self.only(self.cases.index(name))

    def only(self, index: int) -> Solutions:
        """One solution by itself, with its conditions."""
        self[index]
        return Solutions(
            [self._found[index]], self.equations, self.facts, conditions=self.conditions, families=self.families, road=self.road,
            domain=self.domain, unknowns=self.unknowns, constants=self.constants, initial=self.initial,
            declared_as=self._declared_as, lost=("one of several solutions",), cases=self.cases[index:][:1],
        )  # fmt: skip

    def taking(self, *conditions: Any) -> Solutions:
        """The solutions for which the conditions follow; undecidable ones become conditional; an error when none is left."""
        read = take(*self.equations, variables=self.unknowns, given=self.facts.given, asked=conditions).asked
        kept: list[tuple[Mapping[Expression, Expression], tuple[Condition, ...]]] = []
        dropped = list(self.excluded)
        names: list[str] = []
        for place, (values, own) in enumerate(self._found):
            known = self.facts.with_facts([*own, *self.conditions])
            wanted = [substitute(as_condition_of(c), values) for c in read]
            states = [known.holds(c) for c in wanted]
            if False in states:
                dropped.append((shown_values(values), f"{read[states.index(False)]} does not hold"))
                continue
            extra = tuple(c for c, s in zip(wanted, states, strict=True) if s is None)
            kept.append((values, (*own, *extra)))
            names += self.cases[place : place + 1]
        if not kept:
            asked = " and ".join(map(str, read))
            raise NotSolved(f"no solution is left with {asked}; the candidates were {self.listed()}")
        return Solutions(
            kept, self.equations, self.facts, conditions=self.conditions, excluded=dropped, families=self.families,
            further=self.further, road=self.road, domain=self.domain, unknowns=self.unknowns, declared_as=self._declared_as,
            cases=names,
        )  # fmt: skip

    def certificate(self) -> Certificate:
        """Every solution put back into every equation."""
        if self._certificate is None:
            self._certificate = self._checked()
        return self._certificate

    def _checked(self) -> Certificate:
        if not self._found:
            reason = "every value solves" if self.everything else "no candidate is left"
            return Certificate("; ".join(map(str, self.equations)), PROVED, f"{reason}, by equivalent steps: {self.road}")
        if self._shared:
            sides = [s for e in self.equations for s in (e.left, e.right)]
            letters = [n for n in names(*sides) if n not in self.unknowns]
            return check_shared(self.equations, self._found[0][0], letters)
        parts = []
        for values, own in self._found:
            integers = [DomainFact(n, "integer") for n in self.families]
            words = () if self.domain in ("real", "complex") else (self.domain,)
            free = [DomainFact(u, word) for u, v in values.items() if v is u and isinstance(u, Name) for word in words]
            under = self.facts.with_facts([*integers, *free, *self.conditions])
            if any(isinstance(u, Applied) for u in self.unknowns) and is_differential(list(self.equations), list(self.unknowns)):
                known = under.with_facts([c for c in own if names(c)])
                parts.append(self._checked_function(values, known))
                continue
            parts.append(check_solution(self.equations, values, under, own))
        if len(parts) == 1:
            return parts[0]
        claim = "; ".join(map(str, self.equations))
        return Certificate(
            f"{claim}: {self.listed()}", weakest(tuple(parts)), "each solution put into each equation", parts=tuple(parts)
        )

    def _checked_function(self, values: Mapping[Expression, Expression], facts: Facts) -> Certificate:
        """Functions put into differential equations; or a relation, whose derivatives are."""
        (u, *_) = self.unknowns
        if isinstance(u, Applied) and not any(k in self.unknowns for k in values):
            ((left, right),) = values.items()
            return check_relation(self.equations, Equation(left, right), u, self.initial, facts)
        return check_stated_solution(self.equations, values, self.initial, facts)

    check = certificate

    @property
    def verdict(self) -> str:
        return self.certificate().verdict

    def __str__(self) -> str:
        """The solutions, each with its conditions; those of all, and a verdict below proved, as a comment."""
        with with_typed(self.came_in):
            return self._shown()

    def _shown(self) -> str:
        common = [f"if {junction('and', self.conditions)}"] if self.conditions and not self.everything else []
        return with_comment(self.listed(), "; ".join([*common, *([] if self.verdict == PROVED else [self.verdict])]))

    def listed(self) -> str:
        """The solutions, each with its own conditions."""
        if self.everything:
            return "every value solves" + (f" if {junction('and', self.conditions)}" if self.conditions else "")
        if not self._found:
            return "no solution"
        return " or ".join(shown_values(v) + (f" if {junction('and', c)}" if c else "") for v, c in self._found)

    __repr__ = __str__

    def _repr_mimebundle_(self, include: object = None, exclude: object = None) -> dict[str, str]:
        return Hooks.show(self)


def as_condition_of(fact: Fact) -> Condition:
    condition = fact_condition(fact)
    if condition is None:
        raise DomainError(f"{fact} cannot be used to choose solutions")
    return condition


def shown_values(values: Mapping[Any, Expression]) -> str:
    return ", ".join(f"{k} = {v}" for k, v in values.items())


def is_differential(equations: list[Equation], targets: list[Expression]) -> bool:
    """Whether a derivative of an unknown function is among the equations, beyond what is asked for."""
    functions = {t.name: sum(t.orders) for t in targets if isinstance(t, Applied)}
    inside = [n for e in equations for n in postorder(e.left - e.right) if isinstance(n, Applied)]
    return any(sum(n.orders) > functions.get(n.name, 10**9) for n in inside)
