"""Animations, paths, log axes, panels, jumps and impulses: what is drawn, and what is refused."""

from __future__ import annotations

import json
import re

import numpy
import pytest

import gelvo
from gelvo import DomainError


def data_of(page):
    return json.loads(re.search(r"const data = (.*);\n", page).group(1))


def test_a_page_holds_its_frames_and_needs_no_network():
    moving = gelvo.animate(["sin(k*x)", "cos(k*x)"], "x", 0, 6, {"k": (1, 3, 5)}, labels=["s", "c"], title="Waves")
    page = moving.html()
    data = data_of(page)
    assert len(data["frames"]) == 5 and len(data["frames"][0]) == 2
    x = numpy.array(data["x"])
    assert abs(numpy.array(data["frames"][4][0]) - numpy.sin(3 * x)).max() < 1e-5
    assert data["sliders"] == [{"name": "k", "values": [1.0, 1.5, 2.0, 2.5, 3.0]}]
    assert "http" not in page and "<title>Waves</title>" in page
    assert moving._repr_html_().startswith("<iframe")


def test_two_sliders_and_labels_that_look_like_markup():
    moving = gelvo.animate("exp(-(x - t)^2/b)", "x", -3, 3, {"t": (0, 1, 3), "b": (1, 2, 2)}, title="</script><b>x")
    page = moving.html()
    assert len(data_of(page)["frames"]) == 6 and data_of(page)["title"] == "</script><b>x"
    assert "</script><b>" not in page.replace("&lt;/script&gt;", "")


def test_paths_grow_and_gifs_move(tmp_path):
    path = gelvo.animate(["cos(t)", "sin(t)", "t"], "t", 0, 6, {"t": (0, 6, 4)}, path=True)
    data = data_of(path.html())
    assert data["kind"] == "path3" and data["frames"][0][0][0][-1] is None and data["frames"][-1][0][0][-1] is not None
    gif = path.write(tmp_path / "path.gif").read_bytes()
    assert gif[:6] in (b"GIF87a", b"GIF89a")
    plane = gelvo.animate(["cos(t)", "sin(t)"], "t", 0, 6, {"t": (0, 6, 3)}, path=True)
    assert data_of(plane.html())["kind"] == "path2" and len(plane.gif()) > 1000
    assert gelvo.animate("x*k", "x", 0, 1, {"k": (1, 2, 2)}).write(tmp_path / "a.html").exists()


REFUSED = [
    (lambda: gelvo.animate("x", "x", 0, 1, {}), "one or two sliders"),
    (lambda: gelvo.animate("x", "x", 1, 1, {"k": (0, 1)}), "empty"),
    (lambda: gelvo.animate("a*x", "x", 0, 1, {"k": (0, 1)}), "numbers for a"),
    (lambda: gelvo.animate("x*k", "x", 0, 1, {"k": (1, 0)}), "rising order"),
    (lambda: gelvo.animate(["x"], "x", 0, 1, {"k": (0, 1)}, path=True), "two or three components"),
    (lambda: gelvo.animate("x*k*b", "x", 0, 1, {"k": (0, 1, 100), "b": (0, 1, 100)}), "fewer steps"),
    (lambda: gelvo.animate("x*k", "x", 0, 1, {"k": (0, 1)}).write("a.mp4"), "html or .gif"),
    (lambda: gelvo.plot("x", "x", 0, 1, x_scale="log"), "begins above zero"),
    (lambda: gelvo.plot("x", "x", 0, 1, y_scale="cubic"), "linear or log"),
    (lambda: gelvo.plot("x", "x", 0, 1, panels="all"), "by unit or each"),
    (lambda: gelvo.plot_path(["x"], "x", 0, 1), "two or three components"),
    (lambda: gelvo.plot_path(["x", "x^2"], "x", 1, 0), "empty"),
]


@pytest.mark.parametrize(("work", "said"), REFUSED, ids=[c[1] for c in REFUSED])
def test_what_cannot_be_drawn_says_why(work, said):
    with pytest.raises(DomainError, match=said):
        work()


def test_curves_are_cut_at_jumps():
    figure = gelvo.plot("cases(t when t < 1, otherwise 3)", "t", 0, 2)
    heights = figure.axes[0].lines[0].get_ydata()
    assert numpy.isnan(heights).sum() == 1
    steps = numpy.abs(numpy.diff(heights))
    assert numpy.nanmax(steps) < 0.01
    law = gelvo.join_sections("t", [("t", 1), ("2", 2)])
    beyond = gelvo.plot(law, "t", 0, 3).axes[0].lines[0].get_ydata()
    assert numpy.isnan(beyond[-1])


def test_panels_degrees_scales_data_and_impulses():
    figure = gelvo.plot(
        ["t", "pi*t", "t^2"],
        "t",
        0,
        1,
        labels=["s", "phi", "a"],
        units={"s": "m", "phi": "deg"},
        panels="each",
        impulses={"1/2": 2},
    )
    assert len(figure.axes) == 3
    assert abs(figure.axes[1].lines[0].get_ydata()[-1] - 180) < 1e-9
    logarithmic = gelvo.plot("1/(1 + w^2)", "w", 1, 100, x_scale="log", y_scale="log").axes[0]
    assert logarithmic.get_xscale() == logarithmic.get_yscale() == "log"
    grid = logarithmic.lines[0].get_xdata()
    assert abs(grid[1] / grid[0] - grid[-1] / grid[-2]) < 1e-9
    data = gelvo.plot("t", "t", 0, 1, data=([0, 1], [0, 1], "readings")).axes[0]
    assert len(data.lines) == 2 and data.get_legend() is not None
    size = gelvo.plot("abs(1/(1 + 1j*w))", "w", 0, 1).axes[0].lines[0].get_ydata()
    assert abs(size[-1] - 0.5**0.5) < 1e-12
    solid = gelvo.plot_path(["cos(t)", "sin(t)", "t"], "t", 0, 6)
    assert solid.axes[0].name == "3d" and gelvo.plot_path(["cos(t)", "sin(t)"], "t", 0, 6).axes[0].name == "rectilinear"


AREAS = {"1/(x^2 - 4)": [2.0], "1/((x - 1)*(x - 2))": [1.0, 2.0], "x^2*exp(-x)": [], "sin(x)": []}


@pytest.mark.parametrize("formula", AREAS)
def test_areas_are_shaded_and_breaks_are_marked(formula):
    axis = gelvo.plot(formula, "x", 0, 3, area=True).axes[0]
    marked = [float(line.get_xdata()[0]) for line in axis.lines if line.get_linestyle() == "--" and len(line.get_xdata()) == 2]
    assert marked == pytest.approx(AREAS[formula])
    assert len(axis.collections) == 1
    low, high = axis.get_ylim()
    assert not AREAS[formula] or max(-low, high) < 100


def test_a_plot_says_no_area_without_being_asked():
    assert not gelvo.plot("1/(x^2 - 4)", "x", 0, 3).axes[0].collections
