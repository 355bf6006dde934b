"""The solution of inequalities in one unknown: a set of intervals, with the operations of sets and a drawing on the number line."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any, ClassVar

from gelvo.checking.certificate import Certificate, weakest
from gelvo.checking.inequalities import check_case
from gelvo.errors import DomainError
from gelvo.expression.building import junction, opposite
from gelvo.expression.nodes import Condition, Expression, Name, Truth
from gelvo.expression.registry import Hooks
from gelvo.expression.traversal import substitute
from gelvo.facts.store import Facts
from gelvo.inequalities.solving import SetCase, SolutionInterval, one_case, solve_inequality
from gelvo.operations.case_table import EVERY, NONE, CaseRow, CaseTable
from gelvo.operations.inputs import take
from gelvo.operations.number_line import drawn

EACH_CASE = "each case of the letters by itself"
CUT_LINE = "the line cut at zeros, poles and borders of the domain; each piece decided at a point"


class SolutionSet:
    """The solution of an inequality, or of an equation that holds on whole intervals: a condition on its unknown.

    .condition: as a condition, which may be given as a fact; .intervals: (lower, upper, closed_lower, closed_upper) in rising order,
    of one .period where they come again; where these depend on letters .cases, .case_table() and .taking(condition);
    `value in solution` or .contains(value); .intersect(other) or &, .unite(other) or |, .complement() or ~; .number_line();
    .conditions, .verdict, .road, .certificate().

    >>> import gelvo
    >>> outside = gelvo.solve("x^2 > 4", "x")
    >>> outside & gelvo.solve("x > 0", "x")
    x > 2
    >>> ~outside
    x >= -2 and x <= 2
    >>> outside.contains(3)
    True
    """

    # the same inequality under further facts: set by `solving`, which stands above
    again: ClassVar[Callable[[SolutionSet, Sequence[Any]], SolutionSet]]

    def __init__(
        self, inequality: Condition, unknown: Name, cases: Sequence[SetCase], facts: Facts, road: str = CUT_LINE
    ) -> None:  # fmt: skip
        self.inequality, self.unknown, self.cases, self.facts = inequality, unknown, tuple(cases), facts
        self.condition = junction("or", [junction("and", [*c.when, c.told]) for c in cases])
        self.conditions: tuple[Condition, ...] = ()
        self.road = road
        self.complete, self.reason = True, ""
        self._certificate: Certificate | None = None

    @property
    def intervals(self) -> tuple[SolutionInterval, ...]:
        """The intervals, where they do not depend on letters; of one period, where they come again."""
        return one_case(self.cases, self.unknown)

    @property
    def period(self) -> Expression | None:
        """After what the intervals come again: 2*pi for sin(x) > 0; None for a set that is told by a few intervals."""
        one_case(self.cases, self.unknown)
        return self.cases[0].period

    @property
    def _by_itself(self) -> Condition:
        """The set as a condition without free integers."""
        return junction("or", [junction("and", [*c.when, c.told if c.period is None else c.condition]) for c in self.cases])

    def case_table(self) -> CaseTable:
        """The intervals in each case of the letters.

        >>> import gelvo
        >>> gelvo.solve("a*x > 1", "x").case_table()
        a > 0   1/a < x
        a = 0   no solution
        a < 0   x < 1/a
        """
        return CaseTable([CaseRow(c.when, (), _told(c.told)) for c in self.cases])

    def taking(self, *conditions: Any) -> SolutionSet:
        """The set where further conditions hold, for its letters or its unknown."""
        return SolutionSet.again(self, conditions)

    def certificate(self) -> Certificate:
        """Each piece and each gap looked at again: by the facts for the whole piece, else at points with bounds."""
        if self._certificate is None:
            parts = tuple(check_case(c, self.unknown) for c in self.cases)
            claim = f"{self.inequality} exactly where {self.condition}"
            self._certificate = parts[0] if len(parts) == 1 else Certificate(claim, weakest(parts), EACH_CASE, parts=parts)
        return self._certificate

    check = certificate

    @property
    def verdict(self) -> str:
        return self.certificate().verdict

    def __contains__(self, value: Any) -> bool:
        place = take(value).expressions[0]
        return self.facts.holds(substitute(self._by_itself, {self.unknown: place})) is True

    def contains(self, value: Any) -> bool:
        """Whether a number belongs to the set."""
        return value in self

    def intersect(self, other: SolutionSet) -> SolutionSet:
        """What belongs to both sets."""
        return self._made(junction("and", [self._by_itself, self._same_unknown(other)]))

    def unite(self, other: SolutionSet) -> SolutionSet:
        """What belongs to one set or the other."""
        return self._made(junction("or", [self._by_itself, self._same_unknown(other)]))

    def complement(self) -> SolutionSet:
        """The real numbers that do not belong to the set."""
        return self._made(opposite(self._by_itself))

    __and__, __or__, __invert__ = intersect, unite, complement

    def _same_unknown(self, other: SolutionSet) -> Condition:
        if not isinstance(other, SolutionSet):
            raise DomainError(f"a set of solutions is joined with another one, not with {other!r}")
        if other.unknown is not self.unknown:
            raise DomainError(f"one set is about {self.unknown}, the other about {other.unknown}")
        return other._by_itself

    def _made(self, condition: Condition) -> SolutionSet:
        plain = self.facts.without(self.unknown)
        return SolutionSet(condition, self.unknown, solve_inequality(condition, self.unknown, plain), plain, self.road)

    def number_line(self, width: int = 60) -> str:
        """The set drawn on a line, its ends in equal steps: ● belongs to it, ○ does not.

        >>> import gelvo
        >>> print(gelvo.solve("x^2 >= 4", "x").number_line(30))
        ━━━━━━━━━━●─────────●━━━━━━━━━
                  -2        2
        """
        line = drawn(self.intervals, width)
        return line if self.period is None else f"{line}\nand again after every {self.period}"

    def __str__(self) -> str:
        return _told(self.condition)

    __repr__ = __str__

    def _repr_mimebundle_(self, include: object = None, exclude: object = None) -> dict[str, str]:
        return Hooks.show(self)


def _told(condition: Condition) -> str:
    return str(condition) if not isinstance(condition, Truth) else EVERY if condition.holds else NONE
