"""The teacher: an integral is worked by the first kind of step that leads to its end, line by line.

A step that leads back to an integral on the way (as for exp(x)*sin(x)) gives an equation for it, which is solved.
"""

from __future__ import annotations

from typing import NamedTuple

from gelvo.calculus.antiderivative.support import apart, with_signs
from gelvo.calculus.lessons import new_variables, products, splitting
from gelvo.calculus.lessons.line import Lesson, Line, Pupil, Rule, Step, integral_of
from gelvo.calculus.lessons.tables import tables
from gelvo.errors import DomainError
from gelvo.expression.building import total
from gelvo.expression.constants import ONE, ZERO
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import contains, distinct_nodes, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni

MOST_LOOKED_AT = 1500  # nodes of integrands
DEEPEST = 9
MOST_CHANGES = 3
LARGEST = 80

RULES: tuple[Rule, ...] = (
    tables,
    splitting.term_by_term,
    new_variables.inner_function,
    new_variables.slope_beside,
    splitting.powers_of_one_wave,
    splitting.powers_of_a_quadratic,
    products.by_parts,
    new_variables.inner_function_at_length,
    splitting.over_a_quadratic,
    new_variables.shifted,
    splitting.fractions,
    splitting.waves_as_sums,
    new_variables.root_as_variable,
    splitting.multiplied_out,
    new_variables.wave_for_variable,
    new_variables.exponential_as_variable,
    new_variables.wave_as_variable,
    splitting.by_sine_and_cosine,
)


class Open(NamedTuple):
    """An integral that is being worked on, and the name that stands for it when it comes back."""

    f: Expression
    x: Name
    itself: Name


class Teacher:
    """One lesson: the facts, how much more may be looked at, and how many changes of the variable lead to where it is."""

    def __init__(self, facts: Facts) -> None:
        self.facts, self.left, self.changes = facts, MOST_LOOKED_AT, 0

    def lesson(self, f: Expression, x: Name) -> Lesson | None:
        """The lines for an integrand; None where no rule leads to an antiderivative."""
        return self._worked(f, x, self.facts, ())

    def _worked(self, f: Expression, x: Name, facts: Facts, way: tuple[Open, ...]) -> Lesson | None:
        size = distinct_nodes(f)
        self.left -= size
        if self.left < 0 or len(way) > DEEPEST or size > LARGEST or self.changes > MOST_CHANGES:
            return None
        back = _coming_back(f, x, way)
        if back is not None:
            return Lesson(back, ())
        factor, inner = apart(f, x)
        if factor is not ONE:
            return self._in_front(f, x, self._worked(inner, x, facts, way))
        pupil = Pupil(x, facts, lambda g: self._simple(g, x, facts))
        here = Open(f, x, facts.new_name("J", f, x, *(o.itself for o in way)))
        for rule in RULES:
            for step in rule(f, pupil):
                self.changes += step.change is not None
                lesson = self._followed(step, here, pupil, way)
                self.changes -= step.change is not None
                if lesson is not None:
                    return lesson
        return None

    def _in_front(self, f: Expression, x: Name, lesson: Lesson | None) -> Lesson | None:
        if lesson is None:
            return None
        factor, inner = apart(f, x)
        line = Line("a constant factor stands in front", f, x, integral_of(((factor, inner),), x))
        return lesson._replace(value=factor * lesson.value, lines=(line, *lesson.lines))

    def _simple(self, f: Expression, x: Name, facts: Facts) -> Expression | None:
        """What is integrated in one's head on the way of another step."""
        if f is ONE:
            return x
        lesson = self._worked(f, x, facts, ())
        return lesson.value if lesson is not None and len(lesson.lines) <= 6 else None

    def _followed(self, step: Step, here: Open, pupil: Pupil, way: tuple[Open, ...]) -> Lesson | None:
        """A step with the lessons of all its parts."""
        f, x = here.f, here.x
        change, facts = step.change, pupil.facts
        inner, v = (facts, x) if change is None else (with_signs(change.new, change.known, facts), change.new)
        further = (*way, here) if change is None else ()
        parts = [(c * factor, g) for c, e in step.parts for factor, g in [apart(e, v)] if c * factor is not ZERO]
        lines = [line for g in step.before for line in self._before(g, x, facts)]
        lines.append(Line(step.rule, f, x, step.closed + integral_of(parts, v), change, step.conditions))
        terms = [step.closed]
        for coefficient, g in parts:
            lesson = self._worked(g, v, inner, further)
            if lesson is None:
                return None
            lines += [line for line in lesson.lines if line not in lines]
            terms.append(coefficient * lesson.value)
        value = total(terms)
        if change is not None:
            value = substitute(value, {v: change.place})
        return self._closed(value, here, Lesson(value, tuple(lines)))

    def _before(self, g: Expression, x: Name, facts: Facts) -> tuple[Line, ...]:
        lesson = self._worked(g, x, facts, ())
        return () if lesson is None else lesson.lines

    def _closed(self, value: Expression, here: Open, lesson: Lesson) -> Lesson | None:
        """Where the integral came back: the equation for it, solved."""
        if not contains(value, here.itself):
            return lesson
        parts = uni.linear_parts(value, here.itself)
        share = None if parts is None else uni.lowest_terms(ONE - parts[0])
        if parts is None or share is None or not self.facts.is_nonzero(share):
            return None
        solved = parts[1] / share
        line = Line(f"the integral came back, {parts[0]} times: the equation is solved for it", here.f, here.x, solved)
        return Lesson(solved, (*lesson.lines, line))


def _coming_back(f: Expression, x: Name, way: tuple[Open, ...]) -> Expression | None:
    """A multiple of an integral that is being worked on."""
    for o in way:
        if o.x is x:
            ratio = uni.lowest_terms(f / o.f)
            if not contains(ratio, x):
                return ratio * o.itself
    return None


def lesson(f: Expression, x: Name, facts: Facts) -> Lesson | None:
    """An antiderivative line by line; None where none is found.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> for line in lesson(3*x**2, x, Facts()).lines: print(line.f, "->", line.right)
    3*x^2 -> 3*integral_of(x^2, x)
    x^2 -> x^3/3
    """
    try:
        return Teacher(facts).lesson(f, x)
    except DomainError:
        return None
