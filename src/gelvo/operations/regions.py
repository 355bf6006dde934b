"""integrate_over, line_integral, flux: integrals over regions, along paths and through surfaces, one variable after the other."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Any, NamedTuple

from gelvo.checking.certificate import Certificate, weakest
from gelvo.errors import DomainError
from gelvo.expression.building import total, written
from gelvo.expression.constants import ONE
from gelvo.expression.nodes import Bound, Expression, Name
from gelvo.expression.traversal import contains, names, substitute
from gelvo.facts.store import Facts
from gelvo.forms import univariate as uni
from gelvo.forms.differentiation import differentiate
from gelvo.functions.named import COS, SIN
from gelvo.matrices.matrix import Matrix
from gelvo.operations.answer import Answer
from gelvo.operations.calculus import integrate
from gelvo.operations.explaining import Explained
from gelvo.operations.inputs import one_expression, take
from gelvo.simplifying.search import simplify


class Range(NamedTuple):
    variable: Name
    lower: Expression
    upper: Expression


class Coordinates(NamedTuple):
    """Cartesian coordinates by others, and the size of the volume element (the Jacobian)."""

    cartesian: Callable[..., tuple[Expression, ...]]
    element: Callable[..., Expression]
    names: tuple[str, ...]


COORDINATES: dict[str, Coordinates] = {
    "polar": Coordinates(lambda r, phi: (r * COS(phi), r * SIN(phi)), lambda r, phi: r, ("x", "y")),
    "cylindrical": Coordinates(lambda r, phi, z: (r * COS(phi), r * SIN(phi), z), lambda r, phi, z: r, ("x", "y", "z")),
    "spherical": Coordinates(
        lambda r, theta, phi: (r * SIN(theta) * COS(phi), r * SIN(theta) * SIN(phi), r * COS(theta)),
        lambda r, theta, phi: r**2 * SIN(theta),
        ("x", "y", "z"),
    ),
}  # fmt: skip


def integrate_over(
    expression: Any, ranges: Mapping[Any, Any], coordinates: str = "cartesian", given: Iterable[Any] = ()
) -> Answer:
    """An integral over a region, the first variable innermost: its ends may hold those that follow.

    expression: an expression or text, with coordinates="polar", "cylindrical" or "spherical" in x, y (and z), whose element is put in;
    ranges: variable -> (lower, upper), innermost first, in the order r, phi (polar), r, phi, z or r, theta, phi (theta from the z axis,
    angles in radians) where those are used; given: facts.
    Returns an Answer whose certificate has a part for each variable; where one order has no closed form, a triangle is taken in the other.
    Raises DomainError for ends that hold variables further in.
    Source: any text on several variables; the elements as in DLMF 1.5(ii) and 1.5(v).

    >>> import gelvo
    >>> gelvo.integrate_over("x*y", {"y": (0, "x"), "x": (0, 1)})
    1/8
    >>> gelvo.integrate_over("x^2 + y^2", {"r": (0, "R"), "phi": (0, "2*pi")}, coordinates="polar", given=["R > 0"])
    pi*R^4/2
    """
    f, listed, facts = _taken(expression, ranges, given)
    if coordinates != "cartesian":
        f = _in_coordinates(f, listed, coordinates)
    _refuse_inner_letters(listed)
    whole = _one_after_the_other(f, listed, facts)
    turned = _other_order(listed, facts) if whole.reason else None
    if turned is None:
        return whole
    again = _one_after_the_other(f, turned, facts)
    return whole if again.reason else again


def _taken(expression: Any, ranges: Mapping[Any, Any], given: Iterable[Any]) -> tuple[Expression, list[Range], Facts]:
    pairs = [(v, *_two_ends(v, ends)) for v, ends in ranges.items()]
    if not pairs:
        raise DomainError("a region needs at least one variable with its two ends")
    arguments = take(
        expression, *[e for _, low, high in pairs for e in (low, high)], variables=[v for v, _, _ in pairs], given=given
    )
    f, *ends = [one_expression(e) for e in arguments.values]
    return f, [Range(x, low, high) for x, low, high in zip(arguments.names, ends[::2], ends[1::2], strict=True)], arguments.facts


def _two_ends(variable: Any, ends: Any) -> tuple[Any, Any]:
    if not isinstance(ends, Sequence) or isinstance(ends, str) or len(ends) != 2:
        raise DomainError(f"the range of {variable} is a pair (lower, upper), not {ends!r}")
    return ends[0], ends[1]


def _in_coordinates(f: Expression, listed: list[Range], coordinates: str) -> Expression:
    known = COORDINATES.get(coordinates)
    if known is None:
        raise DomainError(f"coordinates are cartesian, {', '.join(COORDINATES)}, not {coordinates!r}")
    if len(listed) != len(known.names):
        raise DomainError(f"{coordinates} coordinates have {len(known.names)} variables, and there are {len(listed)} ranges")
    own = [r.variable for r in listed]
    table: dict[Name, Expression] = {
        n: e
        for n in names(f)
        if isinstance(n, Name) and n not in own
        for s, e in zip(known.names, known.cartesian(*own), strict=True)
        if n.name == s
    }
    return simplify(substitute(f, table), Facts()).expression * known.element(*own)


def _refuse_inner_letters(listed: list[Range]) -> None:
    for k, r in enumerate(listed):
        inner = [s.variable for s in listed[: k + 1] if contains(r.lower, s.variable) or contains(r.upper, s.variable)]
        if inner:
            raise DomainError(
                f"the ends of {r.variable} hold {inner[0]}, which is integrated before: list the innermost variable first"
            )


def _one_after_the_other(f: Expression, listed: list[Range], facts: Facts) -> Answer:
    parts: list[Answer] = []
    value = f
    for k, (x, low, high) in enumerate(listed):
        outside = [c for r in listed[k + 1 :] for c in _between(r)]
        answer = integrate(value, x, low, high, given=[*facts.given, *outside])
        if answer.reason or isinstance(answer.expression, Bound):
            rest = answer.expression
            for r in listed[k + 1 :]:
                rest = rest if isinstance(rest, Bound) else written("integral_of", rest, *r)
            return Answer(rest, answer.certificate, (), f"by {x}: {answer.road}", answer.reason)
        value, parts = answer.expression, [*parts, answer]
    conditions = tuple(dict.fromkeys(c for p in parts for c in p.conditions if not any(contains(c, r.variable) for r in listed)))
    claim = f"the integral of {f} over {', '.join(f'{x} from {low} to {high}' for x, low, high in listed)} = {value}"

    def certify() -> Certificate:
        own = tuple(p.certificate() for p in parts)
        return Certificate(claim, weakest(own), "one variable after the other", conditions=conditions, parts=own)

    whole = Answer(
        value, certify, conditions, "; ".join(f"by {r.variable}: {p.road}" for r, p in zip(listed, parts, strict=True))
    )
    return whole.with_steps(
        lambda: tuple(Explained(f"by {r.variable}", str(p.expression), p.verdict) for r, p in zip(listed, parts, strict=True))
    )


def _between(r: Range) -> list[Any]:
    """That an outer variable lies between its ends, which then are in order."""
    return [
        *([] if isinstance(r.lower, Bound) else [r.lower < r.variable]),
        *([] if isinstance(r.upper, Bound) else [r.variable < r.upper]),
    ]


def _other_order(listed: list[Range], facts: Facts) -> list[Range] | None:
    """A region between two lines in the other order: y from 0 to x, x from 0 to a is x from y to a, y from 0 to a."""
    if len(listed) != 2:
        return None
    (y, low, high), (x, left, right) = listed
    for moving, fixed, upper in ((high, low, True), (low, high, False)):
        line = uni.linear_parts(moving, x)
        if line is None or contains(fixed, x) or not facts.is_positive(line[0]):
            continue
        back = (y - line[1]) / line[0]
        at_left, at_right = (substitute(moving, {x: e}) for e in (left, right))
        if upper and fixed == at_left:
            return [Range(x, back, right), Range(y, fixed, at_right)]
        if not upper and fixed == at_right:
            return [Range(x, left, back), Range(y, at_left, fixed)]
    return None


def line_integral(
    field: Any, path: Sequence[Any], parameter: Any, lower: Any, upper: Any, variables: Sequence[Any] = ("x", "y", "z"), given: Iterable[Any] = ()
) -> Answer:  # fmt: skip
    """The integral of a field along a path: of a vector field the work, of a scalar one the sum along the length.

    field: components in the coordinates (a list or a column), or one formula; path: the coordinates by the parameter; lower, upper: its
    ends; variables: the names of the coordinates; given: facts. Returns an Answer.

    >>> import gelvo
    >>> gelvo.line_integral(["-y", "x"], ["R*cos(t)", "R*sin(t)"], "t", 0, "2*pi")
    2*pi*R^2
    >>> gelvo.line_integral("x^2", ["cos(t)", "sin(t)"], "t", 0, "pi")
    pi/2
    """
    vector = isinstance(field, (Matrix, list, tuple))
    listed, way_of = _components(field, "a field") if vector else [field], _components(path, "a path")
    if vector and len(listed) != len(way_of):
        raise DomainError(f"the field has {len(listed)} components, and the path {len(way_of)}")
    names_of = _components(variables, "what names the coordinates")[: len(way_of)]
    if len(names_of) != len(way_of):
        raise DomainError(f"the path has {len(way_of)} coordinates, and {len(names_of)} variables name them")
    arguments = take(*listed, *way_of, lower, upper, variables=[*names_of, parameter], given=given)
    *along, t = arguments.names
    parts = [one_expression(e) for e in arguments.values[: len(listed)]]
    way = [one_expression(e) for e in arguments.values[len(listed) : len(listed) + len(way_of)]]
    low, high = (one_expression(e) for e in arguments.values[-2:])
    table = dict(zip(along, way, strict=True))
    slopes = [differentiate(e, t) for e in way]
    inside = [substitute(p, table) for p in parts]
    if vector:
        f = total([a * b for a, b in zip(inside, slopes, strict=True)])
    else:
        f = inside[0] * total([s**2 for s in slopes]) ** (ONE / 2)
    facts = arguments.facts
    return integrate(simplify(f, facts.with_facts([low < t, t < high])).expression, t, low, high, given=facts.given)


def flux(
    field: Sequence[Any] | Matrix, surface: Sequence[Any], ranges: Mapping[Any, Any], variables: Sequence[Any] = ("x", "y", "z"), given: Iterable[Any] = ()
) -> Answer:  # fmt: skip
    """The flux of a field of three components through a surface, along the cross product of its slopes by the first and second parameter.

    field: three components in the coordinates; surface: the coordinates by two parameters; ranges: parameter -> (lower, upper),
    innermost first; variables: the names of the coordinates; given: facts. Returns an Answer.

    >>> import gelvo
    >>> sphere = ["R*sin(theta)*cos(phi)", "R*sin(theta)*sin(phi)", "R*cos(theta)"]
    >>> gelvo.flux(["x", "y", "z"], sphere, {"theta": (0, "pi"), "phi": (0, "2*pi")}, given=["R > 0"])
    4*pi*R^3
    """
    listed, coordinates = _components(field, "a field"), _components(surface, "a surface")
    if len(listed) != 3 or len(coordinates) != 3 or len(ranges) != 2:
        raise DomainError("a flux needs three components, three coordinates of the surface, and two parameters with their ranges")
    names_of = _components(variables, "what names the coordinates")
    if len(names_of) != 3:
        raise DomainError(f"the three coordinates of a surface need three variables, not {len(names_of)}")
    ends = [e for v, pair in ranges.items() for e in _two_ends(v, pair)]
    arguments = take(*listed, *coordinates, *ends, variables=[*names_of, *ranges], given=given)
    *xyz, u, v = arguments.names
    values = [one_expression(e) for e in arguments.values]
    place = values[3:6]
    inside = [substitute(p, dict(zip(xyz, place, strict=True))) for p in values[:3]]
    first, second = ([differentiate(e, w) for e in place] for w in (u, v))
    normal = [first[(k + 1) % 3] * second[(k + 2) % 3] - first[(k + 2) % 3] * second[(k + 1) % 3] for k in range(3)]
    f = simplify(total([a * b for a, b in zip(inside, normal, strict=True)]), arguments.facts).expression
    return integrate_over(f, {u: (values[6], values[7]), v: (values[8], values[9])}, given=arguments.facts.given)


def _components(field: Any, what: str) -> list[Any]:
    if isinstance(field, Matrix):
        return list(field.flat())
    if isinstance(field, Sequence) and not isinstance(field, (str, bytes)):
        return list(field)
    raise DomainError(f"{what} is a list or a column of formulas, not {field!r}")
