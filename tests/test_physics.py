"""Mechanics, systems, motion, tensors, elements and data: worked cases, and what each refuses."""

from __future__ import annotations

import math

import numpy
import pytest

import gelvo
from gelvo import DomainError

t = gelvo.variable("t")
x, y = gelvo.unknown_function("x", t), gelvo.unknown_function("y", t)
theta, phi = gelvo.unknown_function("theta", t), gelvo.unknown_function("phi", t)

MOTIONS = [
    ("m*x'^2/2", "k*x^2/2", [x], ["m*x'' + k*x"], "[m]"),
    ("m*x'^2/2", "m*g*x", [x], ["m*x'' + m*g"], "[m]"),
    ("m*l^2*theta'^2/2", "-m*g*l*cos(theta)", [theta], ["m*l^2*theta'' + m*g*l*sin(theta)"], "[m*l^2]"),
    ("m*(x'^2 + x^2*phi'^2)/2", "0", [x, phi], ["m*x'' - m*x*phi'^2", "m*x^2*phi'' + 2*m*x*x'*phi'"], "[m, 0; 0, m*x(t)^2]"),
    ("m*(x'^2 + y'^2)/2", "k*(x - y)^2/2", [x, y], ["m*x'' + k*(x - y)", "m*y'' + k*(y - x)"], "[m, 0; 0, m]"),
    ("(M + m)*x'^2/2 + m*l*x'*theta'*cos(theta) + m*l^2*theta'^2/2", "-m*g*l*cos(theta)", [x, theta],
     ["(M + m)*x'' + m*l*theta''*cos(theta) - m*l*theta'^2*sin(theta)", "m*l*x''*cos(theta) + m*l^2*theta'' + m*g*l*sin(theta)"],
     "[M + m, m*l*cos(theta(t)); m*l*cos(theta(t)), m*l^2]"),
]  # fmt: skip


@pytest.mark.parametrize(("kinetic", "potential", "coordinates", "wanted", "mass"), MOTIONS, ids=[c[0] for c in MOTIONS])
def test_equations_of_motion(kinetic, potential, coordinates, wanted, mass):
    T, V = (gelvo.formula(e, names_from=coordinates) for e in (kinetic, potential))
    motion = gelvo.equations_of_motion(T, V, coordinates)
    for equation, text in zip(motion.equations, wanted, strict=True):
        assert gelvo.equal(equation.left - equation.right, gelvo.formula(text, names_from=coordinates))
    assert str(motion.mass_matrix.simplify()) == str(gelvo.matrix(gelvo.formula(mass, names_from=coordinates)).simplify())
    parts = motion.velocity_terms + motion.gravity_terms
    assert parts.shape == (len(coordinates), 1)
    assert motion.is_conserved(
        motion.energy, given=["m > 0", "M > 0", "l > 0"] if "M" in kinetic else ["m > 0", "l > 0", "x(t) != 0"][:2]
    )


def test_forces_and_what_is_not_conserved():
    motion = gelvo.equations_of_motion("m*x'^2/2", "0", [x], forces={"x": gelvo.formula("-c*x'", names_from=x)}, given=["m > 0"])
    assert not motion.is_conserved(motion.energy, given=["m > 0", "c > 0"])
    free = gelvo.equations_of_motion(gelvo.formula("m*(x'^2 + x^2*phi'^2)/2", names_from=[x, phi]), "0", [x, phi])
    assert free.is_conserved(gelvo.formula("m*x^2*phi'", names_from=[x, phi]))
    with pytest.raises(DomainError, match="must not contain speeds"):
        gelvo.equations_of_motion("m*x'^2/2", gelvo.formula("x'", names_from=x), [x])
    with pytest.raises(DomainError, match="unknown function of time"):
        gelvo.equations_of_motion("m*v^2/2", "0", ["v"])


def test_first_order_form_and_linearization():
    form = gelvo.first_order_form("theta'' + c*theta' + w^2*sin(theta) = 0", theta)
    assert [s.name for s in form.states] == ["theta", "theta_dot"] and "theta_dot is theta'(t)" in str(form)
    assert gelvo.matrix("[0, 1; -w^2, -c]") == gelvo.linearize(form, {"theta": 0}).A
    assert gelvo.matrix("[0, 1; w^2, -c]") == gelvo.linearize(form, {"theta": "pi"}).A
    with pytest.raises(DomainError, match="no equilibrium"):
        gelvo.linearize(form, {"theta": 1}, given=["w > 0"])
    with pytest.raises(DomainError, match="not among the states"):
        gelvo.linearize(form, {"psi": 0})
    with pytest.raises(DomainError, match="no derivative"):
        gelvo.first_order_form(gelvo.equation(theta, 1), theta)


def test_state_space_and_transfer_functions():
    form = gelvo.first_order_form("m*x'' + c*x' + k*x = F", x)
    space = gelvo.state_space(form, ["F"], ["x", "F"])
    assert gelvo.matrix("[0, 1; -k/m, -c/m]") == space.A and gelvo.matrix("[0; 1/m]") == space.B
    assert gelvo.matrix("[1, 0; 0, 0]") == space.C and gelvo.matrix("[0; 1]") == space.D
    with pytest.raises(DomainError, match="not linear"):
        gelvo.state_space(gelvo.first_order_form("x'' + sin(x) = F", x), ["F"], ["x"])


NETWORKS = [
    (["U = R*I + V", "I = s*C*V"], "V", "U", ["I", "V"], "1/(1 + s*R*C)"),
    (["U = R*I + s*L*I + V", "I = s*C*V"], "V", "U", ["I", "V"], "1/(s^2*L*C + s*R*C + 1)"),
    (["U = R*I + V", "I = s*C*V"], "I", "U", ["I", "V"], "s*C/(1 + s*R*C)"),
    (["U = R_1*I + V", "V = R_2*I"], "V", "U", ["I", "V"], "R_2/(R_1 + R_2)"),
    (["U = R*I + V", "I = s*C*V", "W = A*V"], "W", "U", ["I", "V", "W"], "A/(1 + s*R*C)"),
]


@pytest.mark.parametrize(("network", "output", "source", "unknowns", "wanted"), NETWORKS, ids=[c[4] for c in NETWORKS])
def test_transfer_functions(network, output, source, unknowns, wanted):
    found = gelvo.transfer_function(network, output, source, unknowns)
    assert gelvo.equal(found, gelvo.formula(wanted, names_from=found))


def test_networks_that_are_not_determined():
    with pytest.raises(gelvo.NotSolved, match="leave an unknown free"):
        gelvo.transfer_function(["U = I + V"], "V", "U", ["I", "V"])
    with pytest.raises(DomainError, match="not proportional"):
        gelvo.transfer_function(["V = U + 1"], "V", "U", ["V"])


LAWS = [
    ([("t", 1), ("1", 2)], ["speed jumps by -1 at 1: an impulse of the acceleration"]),
    ([("t^2", 1), ("2*t - 1", 3)], ["acceleration jumps by -2 at 1: an impulse of the jerk"]),
    ([("0", 1), ("1", 2)], ["position jumps by 1 at 1: an impulse of the speed"]),
    ([("t^3", 1), ("t^3", 2)], []),
    ([("sin(t)", "pi/2"), ("1", 4)], ["acceleration jumps by 1 at pi/2: an impulse of the jerk"]),
]


@pytest.mark.parametrize(("sections", "wanted"), LAWS)
def test_jumps_at_the_joints(sections, wanted):
    law = gelvo.join_sections("t", sections)
    assert [str(j) for j in gelvo.jumps(law, "t", through=2)] == wanted
    with pytest.raises(DomainError, match="law in sections"):
        gelvo.jumps("t", "t")


def test_tensors_under_rotation():
    R = gelvo.rotation("phi")
    assert (R @ R.transpose()).simplify() == gelvo.identity(2)
    for axis in "xyz":
        turn = gelvo.rotation("phi", axis)
        assert gelvo.equal(turn.determinant(), 1)
    stress = gelvo.matrix("[s_x, tau; tau, s_y]")
    turned = gelvo.rotated(stress, R)
    assert gelvo.equal(turned[0, 1], "(s_x - s_y)*sin(2*phi)/2 + tau*cos(2*phi)")
    one, two = gelvo.invariants(stress), gelvo.invariants(turned)
    assert all(gelvo.equal(a, b) for a, b in zip(one, two, strict=True))
    values = [v for v, _ in gelvo.principal_values(gelvo.matrix("[2, 1; 1, 2]"))]
    assert sorted(map(float, values)) == [1.0, 3.0]
    with pytest.raises(DomainError, match="symmetric"):
        gelvo.principal_values(gelvo.matrix("[1, 2; 3, 4]"))
    with pytest.raises(DomainError, match="axis"):
        gelvo.rotation("phi", "w")
    with pytest.raises(DomainError, match="do not fit"):
        gelvo.rotated(stress, gelvo.rotation("phi", "z"))


def test_elements_reproduce_textbook_matrices():
    shapes = gelvo.shape_functions([0, "h"], "x")
    z = gelvo.variable("x")
    stiff = gelvo.element_matrix(lambda a, b: a.differentiate(z) * b.differentiate(z), shapes, "x", 0, "h", given=["h > 0"])
    assert stiff == gelvo.matrix("[1/h, -1/h; -1/h, 1/h]")
    load = gelvo.element_vector(lambda a: a, shapes, "x", 0, "h", given=["h > 0"])
    assert load == gelvo.matrix("[h/2; h/2]")
    quadratic = gelvo.shape_functions([0, "1/2", 1], "x")
    assert gelvo.equal(gelvo.total(quadratic), 1)
    whole = gelvo.assemble([gelvo.matrix("[1, -1; -1, 1]")] * 3, [(0, 1), (1, 2), (2, 3)], 4)
    values = gelvo.restrained(whole, gelvo.column([0, 0, 0, 0]), {0: 0, 3: 6})
    assert values == gelvo.matrix("[0; 2; 4; 6]")
    with pytest.raises(DomainError, match="two different nodes"):
        gelvo.shape_functions([0, 0], "x")
    with pytest.raises(DomainError, match="cannot stand"):
        gelvo.assemble([gelvo.identity(2)], [(0, 5)], 3)
    with pytest.raises(DomainError, match="lists of nodes"):
        gelvo.assemble([gelvo.identity(2)], [], 3)


CSV = [
    ("t,y\n0,1\n1,2\n", None),
    ("# a comment\nt,y\n0,1\n", None),
    ("t,y\n0,\n", "line 2: column y is empty"),
    ("t,y\n0,1\n1,two\n", "line 3: 'two' in column y is not a number"),
    ("t,y\n0,1,2\n", "line 2: 3 entries for 2 columns"),
    ("t,y\n", "no data"),
    ("t,t\n0,1\n", "different name"),
    ("t,y\n0,nan\n", "no number in row 1"),
]


@pytest.mark.parametrize(("text", "said"), CSV, ids=[repr(c[0])[:24] for c in CSV])
def test_tables_are_read_or_refused_by_line(text, said, tmp_path):
    path = tmp_path / "readings.csv"
    path.write_text(text, encoding="utf-8")
    if said is None:
        table = gelvo.read_table(path)
        assert table["t"][0] == 0 and list(table) == ["t", "y"]
        again = gelvo.read_table(table.write(tmp_path / "again.csv"))
        assert (again["y"] == table["y"]).all()
        with pytest.raises(DomainError, match="no column 'z'"):
            table["z"]
    else:
        with pytest.raises(DomainError, match=said):
            gelvo.read_table(path)


def test_tables_and_data_frames():
    table = gelvo.read_table({"a": [1, 2, 3], "b": [4, 5, 6]})
    frame = table.to_pandas()
    assert gelvo.read_table(frame)["b"].tolist() == [4.0, 5.0, 6.0] and table.rows == 3
    with pytest.raises(DomainError, match="one length"):
        gelvo.read_table({"a": [1], "b": [1, 2]})
    with pytest.raises(DomainError, match="no file"):
        gelvo.read_table("missing.csv")


def test_rules_on_samples_converge_as_they_should():
    errors = {}
    for count in (11, 21):
        grid = numpy.linspace(0, 1, count)
        for rule in ("left", "trapezoid", "simpson"):
            errors[rule, count] = abs(gelvo.integrate_samples(grid, numpy.exp(grid), rule) - (math.e - 1))
    for rule, order in (("left", 1), ("trapezoid", 2), ("simpson", 4)):
        assert abs(math.log2(errors[rule, 11] / errors[rule, 21]) - order) < 0.2
    grid = numpy.linspace(0, 2, 21)
    assert abs(gelvo.difference_samples(grid, grid**2)[10] - 2.0) < 1e-12
    for kind in ("linear", "quadratic", "cubic"):
        assert abs(float(gelvo.interpolate(grid, grid, kind)(0.33)) - 0.33) < 1e-12


SAMPLES = [
    (lambda: gelvo.interpolate([0, 1], [0, 1], "cubic"), "at least 4 samples"),
    (lambda: gelvo.interpolate([0, 1], [0, 1], "septic"), "one of linear"),
    (lambda: gelvo.interpolate([0, 1, 2, 3], [0, 1, 2, 3])(4), "outside the samples"),
    (lambda: gelvo.interpolate([1, 0], [0, 1], "linear"), "must rise"),
    (lambda: gelvo.integrate_samples([0, 1], [0, 1], "magic"), "quadrature rule"),
    (lambda: gelvo.integrate_samples([0, 1], [0, 1, 2]), "same number"),
    (lambda: gelvo.integrate_samples(["x"], [1]), "a list of numbers"),
    (lambda: gelvo.difference_samples([0, 1], {"x": 1}), "a list of numbers"),
    (lambda: gelvo.interpolate([0, 1], [0, float("nan")], "linear"), "finite numbers"),
    (lambda: gelvo.decimal([1], 3), "a decimal number is needed"),
    (lambda: gelvo.decimal(10**400, 3), "a decimal number is needed"),
]


@pytest.mark.parametrize(("work", "said"), SAMPLES, ids=[c[1] for c in SAMPLES])
def test_samples_refuse_clearly(work, said):
    with pytest.raises(DomainError, match=said):
        work()


T = gelvo.variable("t")
X, Y, THETA = (gelvo.unknown_function(n, T) for n in ("x", "y", "theta"))


def test_energies_that_depend_on_time_by_themselves():
    (rising,) = gelvo.equations_of_motion("m*exp(g*t)*x'^2/2", "k*x^2/2", [X]).equations
    assert gelvo.equal(rising.left - rising.right, gelvo.formula("m*exp(g*t)*(x'' + g*x') + k*x", names_from=X))
    (longer,) = gelvo.equations_of_motion("m*(L_0 + v*t)^2*theta'^2/2", "0", [THETA]).equations
    expected = gelvo.formula("m*(L_0 + v*t)^2*theta'' + 2*m*v*(L_0 + v*t)*theta'", names_from=THETA)
    assert gelvo.equal(longer.left - longer.right, expected)
    (lighter,) = gelvo.equations_of_motion("(m_0 - r*t)*x'^2/2", "0", [X], {"x": "F"}).equations
    assert gelvo.equal(lighter.left - lighter.right, gelvo.formula("(m_0 - r*t)*x'' - r*x' - F", names_from=X))


REFUSED = [
    (lambda: gelvo.equations_of_motion("m*x'^2/2", "k*x^2/2", [X], {"z": "F"}), "not among the coordinates"),
    (lambda: gelvo.equations_of_motion("m*x'^2/2", "k*x^2/2", [X], {Y: "F"}), "not among the coordinates"),
    (lambda: gelvo.equations_of_motion("m*x'^2/2 + x''^2", "0", [X]), "kinetic energy contains x''"),
    (lambda: gelvo.equations_of_motion("m*x'^2/2", "k*x''^2", [X]), "potential energy contains x''"),
    (lambda: gelvo.equations_of_motion("m*v^2/2", "0", []), "at least one coordinate"),
    (lambda: gelvo.equations_of_motion("m*x'^2/2", "0", [X, gelvo.unknown_function("y", "u")]), "one and the same time"),
    (lambda: gelvo.first_order_form("x''^2 = x", X), "2 solutions"),
    (lambda: gelvo.state_space(gelvo.first_order_form("m*x'' + k*x = F - m*g", X), ["F"], ["x"]), "the term -g"),
    (lambda: gelvo.state_space(gelvo.first_order_form("m*x'' + k*x = F", X), ["F"], ["x + 1"]), "the term 1"),
    (lambda: gelvo.state_space(["x' = F"], ["F"], ["x"]), "first-order form"),
    (lambda: gelvo.linearize("x'' + abs(x) = 0", {"x": 0}, X), "kink"),
    (lambda: gelvo.linearize("x'' + sign(x) = 0", {"x": 0}, X), "step"),
    (lambda: gelvo.linearize("x'' + min(x, 2*x) = 0", {"x": 0}, X), "break"),
    (lambda: gelvo.linearize("x'' + sqrt(x) = 0", {"x": 0}, X), "no finite slopes"),
    (lambda: gelvo.transfer_function(["V_i = R*I", "V_i = 2*R*I", "V_o = I"], "V_o", "V_i", ["I", "V_o"]), "contradict"),
    (
        lambda: gelvo.transfer_function(["V_i = R*I + V_o", "I = s*C*V_o", "V_o = 2*V_i"], "V_o", "V_i", ["I", "V_o"]),
        "contradict",
    ),
    (lambda: gelvo.transfer_function(["V_i = R*I + V_o"], "V_o", "V_i", ["I", "V_o"]), "free"),
    (lambda: gelvo.join_sections("t", [("t", 3), ("t^2", 1)]), "must rise"),
]


@pytest.mark.parametrize(("work", "reason"), REFUSED, ids=[f"{k} {r[1]}" for k, r in enumerate(REFUSED)])
def test_what_a_motion_or_a_network_cannot_be_is_told(work, reason):
    with pytest.raises((gelvo.DomainError, gelvo.NotSolved), match=reason):
        work()


def test_forms_carry_what_their_letters_must_be():
    form = gelvo.first_order_form("m*x'' + k*x = F", X)
    assert [str(c) for c in form.conditions] == ["m != 0"] and str(form).endswith("if m != 0")
    drag = gelvo.linearize("x'' + c*x'*abs(x') + k*x = 0", {"x": 0}, X)
    assert str(drag.A) == "[0, 1; -k, 0]"


def test_the_last_border_of_a_law_may_jump_too():
    found = gelvo.jumps("cases(t^2 when t < 1, 2*t - 1 when t <= 3, otherwise 7)", "t")
    assert [(str(j.place), j.order, str(j.size)) for j in found] == [("1", 2, "-2"), ("3", 0, "2"), ("3", 1, "-2")]
    assert len(gelvo.jumps("cases(t^2 when t < 1, 2*t - 1 when t <= 3)", "t")) == 1
    (ramp,) = gelvo.jumps("cases(0 when t < 0, otherwise t)", "t")
    assert (str(ramp.place), ramp.order, str(ramp.size)) == ("0", 1, "1")
