"""Regions of the plane drawn with the order of their integration, and the statements that integrate over regions, paths and surfaces."""

from __future__ import annotations

import numpy
import pytest

import gelvo
from gelvo.derivation.engine import Derivation


def carried_out(line):
    derivation = Derivation("test")
    derivation.run(line)
    return derivation.results[-1]


def _area(figure):
    """Of the polygon that is filled."""
    (patch,) = figure.axes[0].patches
    x, y = patch.get_xy().T
    return abs(float(numpy.sum(x[:-1] * y[1:] - x[1:] * y[:-1]))) / 2


REGIONS = [
    ({"y": (0, "x"), "x": (0, 1)}, {}, "cartesian", 0.5, ("x", "y")),
    ({"x": ("y", 1), "y": (0, 1)}, {}, "cartesian", 0.5, ("x", "y")),
    ({"y": ("x^2", "sqrt(x)"), "x": (0, 1)}, {}, "cartesian", 1 / 3, ("x", "y")),
    ({"y": (0, "b*x/a"), "x": (0, "a")}, {"a": 3, "b": 2}, "cartesian", 3.0, ("x", "y")),
    ({"y": (0, 2), "x": (3, 1)}, {}, "cartesian", 4.0, ("x", "y")),
    ({"r": (0, "R"), "phi": (0, "pi/2")}, {"R": 2}, "polar", numpy.pi, ("x", "y")),
    ({"phi": (0, "pi"), "r": (1, 2)}, {}, "polar", 1.5 * numpy.pi, ("x", "y")),
    ({"u": (0, "v"), "v": (0, 2)}, {}, "cartesian", 2.0, ("v", "u")),
]


@pytest.mark.parametrize(("ranges", "values", "coordinates", "area", "axes"), REGIONS)
def test_a_region_is_drawn(ranges, values, coordinates, area, axes):
    figure = gelvo.plot_region(ranges, values=values, coordinates=coordinates)
    axis = figure.axes[0]
    assert _area(figure) == pytest.approx(area, rel=2e-3)
    assert (axis.get_xlabel(), axis.get_ylabel()) == axes
    inner, outer = ranges
    assert axis.get_title(loc="left") == f"first along {inner} (the strips), then along {outer}"
    assert len(axis.lines) == 14 and len(axis.texts) == 13  # the edge, the strips and their arrows


REFUSED = [
    ({"y": (0, "b*x"), "x": (0, 1)}, "cartesian", "numbers for b"),
    ({"y": (0, "inf"), "x": (0, 1)}, "cartesian", "finite ends"),
    ({"y": (0, 1)}, "cartesian", "two variables"),
    ({"r": (0, 1), "theta": (0, 1)}, "spherical", "two variables"),
]


@pytest.mark.parametrize(("ranges", "coordinates", "said"), REFUSED)
def test_what_cannot_be_drawn_is_said(ranges, coordinates, said):
    with pytest.raises(gelvo.GelvoError, match=said):
        gelvo.plot_region(ranges, coordinates=coordinates)


STATEMENTS = [
    ("region integral of x*y over y in 0..x, x in 0..1", "1/8"),
    ("region integral of x*y over y in 0..b*x, x in 0..1 with b = 2", "1/2"),
    ("region integral of x^2 + y^2 over r in 0..2, phi in 0..pi in coordinates polar", "4*pi"),
    ("line integral of -y, x along cos(t), sin(t) over t in 0..2*pi", "2*pi"),
    ("line integral of x^2 along cos(t), sin(t) over t in 0..pi", "pi/2"),
    ("flux of x, y, 0 through cos(v), sin(v), u over v in 0..2*pi, u in 0..h given h > 0", "2*pi*h"),
    ("principal value of 1/(x^2 - 4) by x from 0 to 3", "-ln(5)/4"),
]


@pytest.mark.parametrize(("line", "value"), STATEMENTS)
def test_statements_over_regions_paths_and_surfaces(line, value):
    result = carried_out(line)
    assert str(result.shown[0][1].expression) == value and result.certificate.verdict == "proved"


FAULTY = [
    ("region integral of x over y 0..1", "a range reads like"),
    ("region integral of x over y in 0, x in 0..1", "a range reads like"),
    ("line integral of -y, x along cos(t), sin(t) over t in 0..1, s in 0..1", "one parameter"),
    ("flux of x, y through u, v, 0 over u in 0..1, v in 0..1", "three"),
    ("region integral of x over x in 0..1 in coordinates oblique", "oblique"),
    ("plot region over y in 0..c, x in 0..1", "numbers for c"),
]


@pytest.mark.parametrize(("line", "said"), FAULTY)
def test_faulty_statements_say_what_is_needed(line, said):
    result = carried_out(line)
    assert result.kind == "fault" and said in result.note
