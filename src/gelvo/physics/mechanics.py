"""Equations of motion from energies, with their parts.

Source: J. Lagrange, "Mécanique analytique" (1788), as in any text on analytical mechanics.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any, NamedTuple

from gelvo.errors import DomainError
from gelvo.expression.building import applied, multiply_all, name, number, total
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Applied, Expression, Name
from gelvo.expression.traversal import names, postorder, substitute
from gelvo.matrices.matrix import Matrix, column
from gelvo.operations.calculus import differentiate
from gelvo.operations.inputs import take
from gelvo.operations.matrix_methods import inverse
from gelvo.operations.rewriting import simplify
from gelvo.operations.trust import equal


class Motion(NamedTuple):
    """M(q) q'' + C(q, q') + G(q) = Q: the equations and their parts.

    equations: one for each coordinate; mass_matrix: M; velocity_terms: C (Coriolis, centrifugal, and what an energy that
    depends on time by itself adds), gravity_terms: G,
    forces: Q, each a column; energy: kinetic plus potential.
    """

    coordinates: list[Applied]
    equations: list[Equation]
    mass_matrix: Matrix
    velocity_terms: Matrix
    gravity_terms: Matrix
    forces: Matrix
    energy: Expression

    def is_conserved(self, quantity: Any, given: Iterable[Any] = ()) -> bool:
        """Whether a quantity does not change along the motion: its derivative by time, with the accelerations put in, is zero."""
        q = take(quantity, *[e.left for e in self.equations], given=given).expressions[0]
        rate = along(q, self, given)
        return equal(rate, 0, given)


def equations_of_motion(
    kinetic: Any, potential: Any, coordinates: Any, forces: Mapping[Any, Any] | None = None, given: Iterable[Any] = ()
) -> Motion:
    """The equations of motion of a system with kinetic and potential energy in generalized coordinates.

    kinetic, potential: formulas in the coordinates and their time derivatives; coordinates: unknown functions of time;
    forces: {coordinate: generalized force}. Returns a Motion with equations and parts.

    >>> import gelvo
    >>> t = gelvo.variable("t")
    >>> x = gelvo.unknown_function("x", t)
    >>> gelvo.equations_of_motion("m*x'^2/2", "k*x^2/2", [x]).equations[0]
    m*x''(t) + k*x(t) = 0
    """
    listed = list(coordinates) if isinstance(coordinates, (list, tuple)) else [coordinates]
    driven = list(forces or {})
    arguments = take(kinetic, potential, *(forces or {}).values(), variables=[*listed, *driven], given=given)
    T, V, *pushing = arguments.expressions
    q = _coordinates(arguments.variables[: len(listed)])
    driving: dict[str, Expression] = {}
    for pushed, force in zip(arguments.variables[len(listed) :], pushing, strict=True):
        if pushed not in q:
            raise DomainError(f"there is a force on {pushed}, which is not among the coordinates {', '.join(map(str, q))}")
        driving[pushed.name] = force
    _refuse_other_motion(q, {"kinetic": T, "potential": V})
    return _motion(T, V, q, [driving.get(c.name, number(0)) for c in q])


def _coordinates(targets: Sequence[Expression]) -> list[Applied]:
    """The coordinates, all functions of one time; DomainError for anything else."""
    q: list[Applied] = []
    for target in targets:
        if not isinstance(target, Applied) or any(target.orders):
            raise DomainError(f"a coordinate is an unknown function of time such as theta(t), not {target}")
        q.append(target)
    if not q:
        raise DomainError("at least one coordinate is needed")
    if len({c.arguments for c in q}) > 1 or not isinstance(q[0].arguments[0], Name):
        raise DomainError(f"the coordinates {', '.join(map(str, q))} must be functions of one and the same time")
    return q


def _refuse_other_motion(q: list[Applied], energies: Mapping[str, Expression]) -> None:
    """DomainError for accelerations and for coordinates at other times."""
    own = {c.name for c in q}
    for what, energy in energies.items():
        for node in postorder(energy):
            if isinstance(node, Applied) and node.name in own and (sum(node.orders) > 1 or node.arguments != q[0].arguments):
                raise DomainError(
                    f"the {what} energy contains {node}: only the coordinates at one time and their first derivatives can"
                )


def _motion(T: Expression, V: Expression, q: list[Applied], Q: Sequence[Expression]) -> Motion:
    places = [name(f"q_{k}_of_motion") for k in range(len(q))]
    speeds = [name(f"v_{k}_of_motion") for k in range(len(q))]
    rates = [applied(c.name, c.arguments, (1,)) for c in q]
    accelerations = [applied(c.name, c.arguments, (2,)) for c in q]
    plain = {**dict(zip(rates, speeds, strict=True)), **dict(zip(q, places, strict=True))}
    back = {v: k for k, v in plain.items()}
    kinetic, potential = substitute(T, plain), substitute(V, plain)
    if any(s in names(potential) for s in speeds):
        raise DomainError("the potential energy must not contain speeds: put such terms into the kinetic energy or the forces")
    momenta = [differentiate(kinetic, v) for v in speeds]
    mass = [[_short(differentiate(p, v)) for v in speeds] for p in momenta]
    t, moving = q[0].arguments[0], list(zip(places, speeds, strict=True))
    changes = [
        [differentiate(p, t), *[differentiate(p, x) * v for x, v in moving]] for p in momenta
    ]  # t: masses that change with time
    velocity = [_short(total([*change, -differentiate(kinetic, x)])) for change, x in zip(changes, places, strict=True)]
    gravity = [_short(differentiate(potential, x)) for x in places]
    found = []
    for k in range(len(q)):
        inertia = [multiply_all((m, a)) for m, a in zip(mass[k], accelerations, strict=True)]
        left = substitute(total([*inertia, velocity[k], gravity[k]]), back)
        found.append(Equation(left, Q[k]))
    restored = [substitute(e, back) for e in (*velocity, *gravity)]
    return Motion(
        q, found, Matrix([[substitute(m, back) for m in row] for row in mass]), column(restored[: len(q)]),
        column(restored[len(q) :]), column(list(Q)), T + V,
    )  # fmt: skip


def _short(e: Expression) -> Expression:
    return simplify(e).expression


def along(quantity: Expression, motion: Motion, given: Iterable[object] = ()) -> Expression:
    """The rate of change of a quantity along the motion, by M q'' = Q - C - G without inverting M for a linear dependence."""
    t = motion.coordinates[0].arguments[0]
    rates = [applied(c.name, c.arguments, (1,)) for c in motion.coordinates]
    rest = (motion.forces - motion.velocity_terms - motion.gravity_terms).flat()
    slopes = [differentiate(quantity, r) for r in rates]
    steady = total([differentiate(quantity, c) * r for c, r in zip(motion.coordinates, rates, strict=True)])
    if isinstance(t, Name) and t in names(quantity):
        plain = substitute(quantity, {c: name(f"held_{k}") for k, c in enumerate([*rates, *motion.coordinates])})
        held = {name(f"held_{k}"): c for k, c in enumerate([*rates, *motion.coordinates])}
        steady = steady + substitute(differentiate(plain, t), held)
    accelerations = inverse(motion.mass_matrix, given=given) @ column(rest)
    return steady + total([s * a for s, a in zip(slopes, accelerations.flat(), strict=True)])
