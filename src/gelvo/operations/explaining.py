"""Explained steps: how a derivative is built rule by rule, an integral worked line by line, and an equation solved."""

from __future__ import annotations

from typing import Any, NamedTuple, Protocol

from gelvo.calculus.lessons.line import Line
from gelvo.calculus.lessons.teacher import lesson
from gelvo.checking.certificate import REFUTED, UNDECIDED
from gelvo.checking.claims import check_derivative, check_identity
from gelvo.expression.building import written
from gelvo.expression.constants import ZERO
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Call, Expression, Name, Number, Power, Product, Sum
from gelvo.expression.traversal import contains, postorder, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.forms.expanding import expand
from gelvo.forms.fractions import factored
from gelvo.refuted import note_refuted

MOST_STEPS = 40


class Explained(NamedTuple):
    """One step: the rule, what it says here, the verdict of its own check (empty where nothing is claimed), and the equation to be set."""

    rule: str
    statement: str
    verdict: str = ""
    equation: Equation | None = None

    def __str__(self) -> str:
        return f"{self.statement}  ({self.rule}{'; ' + self.verdict if self.verdict else ''})"


def derivative_steps(e: Expression, x: Name, facts: Facts) -> tuple[Explained, ...]:
    """The derivative of every part that contains the variable, inner parts first."""
    found: list[Explained] = []
    for node in postorder(e):
        if not isinstance(node, Expression) or node is x or not contains(node, x):
            continue
        slope = differentiate(node, x)
        verdict = check_derivative(node, x, 1, slope, facts).verdict
        found.append(Explained(_rule(node, x), f"derivative_of({node}, {x}) = {slope}", verdict))
    return tuple(found[-MOST_STEPS:])


def _rule(node: Expression, x: Name) -> str:
    if isinstance(node, Sum):
        return "a sum is differentiated term by term"
    if isinstance(node, Product):
        moving = [f for f in node.factors if contains(f, x)]
        return "product rule" if len(moving) > 1 else "a constant factor stays"
    if isinstance(node, Power):
        if not contains(node.exponent, x):
            return "power rule" if node.base is x else "power rule, then the derivative of the inside"
        return "exponential: the power times ln of the base times the derivative of the exponent"
    if isinstance(node, Call):
        inner = node.arguments[-1]
        return f"derivative of {node.name}" if inner is x else f"chain rule: {node.name} of {inner}"
    return "definition"


def integral_steps(f: Expression, x: Name, answer: Found, facts: Facts) -> tuple[Explained, ...]:
    """The lines of a lesson, each differentiated by itself, and the answer; nothing but that where a line is not known to hold."""
    found = lesson(f, x, facts)
    whole = Equation(written("integral_of", f, x), answer.expression)
    steps = [_explained(line, facts) for line in (found.lines if found is not None else ())]
    if any(s.verdict == REFUTED for s in steps):
        note_refuted("line of a lesson", f, answer.expression)
    if not steps or any(s.verdict in (REFUTED, UNDECIDED) for s in steps):
        return (Explained(answer.road, str(whole), answer.verdict, whole),)
    if steps[-1].equation == whole:
        return tuple(steps)
    return (*steps, Explained("put together, up to a constant", str(whole), answer.verdict, whole))


def _explained(line: Line, facts: Facts) -> Explained:
    rule = line.rule if line.change is None else f"{line.rule}, {line.change}"
    equation = Equation(written("integral_of", line.f, line.x), line.right)
    return Explained(rule, str(equation), _verdict(line, facts), equation)


def _verdict(line: Line, facts: Facts) -> str:
    """Both sides of a line differentiated: by the old variable, if the right side has a new one."""
    under = facts.with_facts(facts.open_conditions(line.conditions))
    if line.change is None:
        return check_identity(line.f, differentiate(line.right, line.x), under).verdict
    new, place = line.change.new, line.change.place
    slope = substitute(differentiate(line.right, new), {new: place}) * differentiate(place, line.x)
    return check_identity(line.f, slope, under).verdict


def solution_steps(equation: Equation, x: Name, facts: Facts) -> tuple[Explained, ...]:
    """The way of a linear or quadratic equation as it is taught: one side, coefficients, division or discriminant; nothing for others."""
    g = equation.left - equation.right
    coefficients = uni.coefficients_of(expand(g), x)
    if coefficients is None or len(coefficients) not in (2, 3):
        return ()
    ordered = uni.expression_of(coefficients, x)
    moved = Explained("everything on one side, ordered by powers", f"{ordered} = 0", check_identity(ordered, g, facts).verdict)
    if len(coefficients) == 2:
        b, a = coefficients
        return (
            moved,
            Explained("the constant to the right", f"{a * x} = {-b}"),
            Explained(f"divided by {a}", f"{x} = {factored(-b / a)}"),
        )
    c, b, a = coefficients
    gap = factored(b * b - 4 * a * c)
    steps = [moved, Explained("coefficients", f"a = {a}, b = {b}, c = {c}"), Explained("discriminant b^2 - 4*a*c", f"{gap}")]
    if gap is ZERO:
        steps.append(Explained("one double root -b/(2*a)", f"{x} = {factored(-b / (2 * a))}"))
    else:
        sign = "is negative: no real root" if isinstance(gap, Number) and facts.is_negative(gap) else "gives two roots"
        steps.append(Explained(f"(-b + sqrt({gap}))/(2*a) and (-b - sqrt({gap}))/(2*a)", f"the discriminant {sign}"))
    return tuple(steps)


class Found(Protocol):
    """An answer with the way to it."""

    expression: Expression
    road: str

    @property
    def verdict(self) -> str: ...


class Solved(Protocol):
    """Solutions with the way to them."""

    trail: tuple[tuple[str, Expression], ...]
    excluded: tuple[tuple[str, str], ...]
    road: str

    def __len__(self) -> int: ...
    def only(self, index: int) -> Any: ...


def steps_taken(equation: Equation, solutions: Solved) -> tuple[Explained, ...]:
    """The equations that were reached one after the other, the candidates put back with their verdicts, and what fell out with the reason."""
    g = equation.left - equation.right
    steps = [Explained("everything on one side", f"{g} = 0")]
    seen = {g}
    for rule, reached in solutions.trail:
        if reached not in seen:
            seen.add(reached)
            steps.append(Explained(rule or "factor by factor", f"{reached} = 0"))
    told = {s.rule for s in steps}
    steps += [Explained("method", road) for road in solutions.road.split("; ") if road and road not in told]
    steps = steps[:MOST_STEPS]
    for k in range(len(solutions)):
        one = solutions.only(k)
        steps.append(Explained("put back into the equation", one.listed(), one.certificate().verdict))
    steps += [Explained(f"excluded: {reason}", candidate) for candidate, reason in solutions.excluded]
    return tuple(steps)
