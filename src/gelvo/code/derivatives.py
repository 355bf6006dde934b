"""Derivatives beside the values, on request: they share their parts with the values."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from gelvo.code.layout import NUMBER, VECTOR, Layout, Output, flat_names
from gelvo.errors import ExportError
from gelvo.expression.building import total
from gelvo.expression.nodes import Expression, Name
from gelvo.expression.traversal import fresh_name
from gelvo.forms.differentiation import differentiate

ALSO = ("gradient", "jacobian", "hessian", "jacobian_product", "hessian_product")
DIRECTION = "direction"


def with_derivatives(
    also: Sequence[str], outputs: Mapping[str, Expression], inputs: Sequence[Name], layout: Layout
) -> tuple[dict[str, Expression], tuple[Output, ...], tuple[Name, ...]]:
    """(all outputs, their shapes, the members of the direction where a product with one is wanted).

    The derivatives are by the first vector among the inputs, or by all inputs that are numbers where there is none. A Jacobian has a row
    for each number of the outputs; a gradient and a Hessian belong to one number.
    """
    unknown = [w for w in also if w not in ALSO]
    if unknown:
        raise ExportError(f"also={unknown[0]!r} is not known; choose from {', '.join(ALSO)}")
    if any(not w.startswith("jacobian") for w in also) and len(outputs) != 1:
        raise ExportError(f"a gradient and a Hessian belong to one number, and there are {len(outputs)}")
    group = layout.group_of(VECTOR)
    chosen = set(group.members) if group else {g.name for g in layout.groups if g.kind == NUMBER}
    variables = [n for n in inputs if n.name in chosen]
    if not variables:
        raise ExportError("there is no input to differentiate by: parameters are kept")
    values = list(outputs.values())
    slopes = [[differentiate(e, v) for v in variables] for e in values]
    direction = tuple(fresh_name(f"{DIRECTION}_{n.name}", *values) for n in variables)
    made, shapes = dict(outputs), list(layout.outputs)
    for word in dict.fromkeys(also):
        rows = [[differentiate(s, v) for v in variables] for s in slopes[0]] if word.startswith("hessian") else slopes
        if word == "gradient":
            output, entries = Output(word, (len(variables),)), slopes[0]
        elif word.endswith("product"):
            output = Output(word, (len(rows),))
            entries = [total([e * d for e, d in zip(row, direction, strict=True)]) for row in rows]
        else:
            output = Output(word, (len(rows), len(variables)))
            entries = [e for row in rows for e in row]
        made.update(zip(flat_names([output]), entries, strict=True))
        shapes.append(output)
    return made, tuple(shapes), direction if any(w.endswith("product") for w in also) else ()
