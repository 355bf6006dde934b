"""Formulas of physics rearranged for each of their symbols, each answer put back."""

from __future__ import annotations

import pytest

import gelvo

FORMULAS = [
    ("v = v_0 + a*t", ["v_0", "a", "t"]),
    ("s = v_0*t + a*t^2/2", ["v_0", "a", "t"]),
    ("v^2 = v_0^2 + 2*a*s", ["v", "v_0", "a", "s"]),
    ("F = m*a", ["m", "a"]),
    ("F = G*m_1*m_2/r^2", ["G", "m_1", "r"]),
    ("F = m*v^2/r", ["m", "v", "r"]),
    ("E = m*v^2/2", ["m", "v"]),
    ("E = m*g*h + m*v^2/2", ["m", "h", "v"]),
    ("E = m*c^2/sqrt(1 - v^2/c^2)", ["m", "v"]),
    ("T = 2*pi*sqrt(l/g)", ["l", "g"]),
    ("T = 2*pi*sqrt(m/k)", ["m", "k"]),
    ("w = sqrt(k/m - d^2)", ["k", "m", "d"]),
    ("p*V = n*R*T", ["p", "V", "n", "T"]),
    ("p_1*V_1^kappa = p_2*V_2^kappa", ["p_1", "V_1", "kappa"]),
    ("Q = m*c*(T_2 - T_1)", ["m", "c", "T_2", "T_1"]),
    ("1/f = 1/g + 1/b", ["f", "g", "b"]),
    ("n_1*sin(alpha) = n_2*sin(beta)", ["n_1", "n_2"]),
    ("1/R = 1/R_1 + 1/R_2", ["R", "R_1", "R_2"]),
    ("U = R*I", ["R", "I"]),
    ("P = U^2/R", ["U", "R"]),
    ("U = U_0*exp(-t/(R*C))", ["U_0", "t", "R", "C"]),
    ("U = U_0*(1 - exp(-t/tau))", ["U_0", "t", "tau"]),
    ("I = I_s*(exp(U/V_t) - 1)", ["I_s", "U", "V_t"]),
    ("Z = sqrt(R^2 + (w*L)^2)", ["R", "w", "L"]),
    ("f = 1/(2*pi*sqrt(L*C))", ["L", "C"]),
    ("N = N_0*2^(-t/T)", ["N_0", "t", "T"]),
    ("L = 10*ln(P/P_0)/ln(10)", ["P", "P_0"]),
    ("lambda = h/(m*v)", ["h", "m", "v"]),
    ("E = h*f - W", ["f", "W"]),
    ("f_b = f_0*(c + v)/(c - u)", ["v", "u", "c"]),
    ("sigma = F/(b*h)", ["F", "b", "h"]),
    ("w_m = F*l^3/(48*E*I)", ["F", "l", "E", "I"]),
    ("p + rho*v^2/2 = p_0", ["p", "v", "rho"]),
    ("F_w = c_w*A*rho*v^2/2", ["c_w", "v", "rho"]),
    ("x = l*sin(phi)", ["phi"]),
    ("h = l*(1 - cos(phi))", ["phi", "l"]),
    ("tan(phi) = w*L/R", ["phi", "L"]),
    ("y = a*cosh(x/a)", ["x"]),
    ("d = sqrt((x - x_0)^2 + y^2)", ["x", "y"]),
    ("V = 4*pi*r^3/3", ["r"]),
    ("A = 2*pi*r^2 + 2*pi*r*h", ["r", "h"]),
]
CASES = [(text, symbol) for text, symbols in FORMULAS for symbol in symbols]


@pytest.mark.parametrize(("text", "symbol"), CASES, ids=[f"{t} for {s}" for t, s in CASES])
def test_each_symbol_is_isolated(text, symbol):
    equation = gelvo.formula(text)
    names = {n.name for n in equation_names(equation)}
    facts = [f"{n} > 0" for n in sorted(names) if n not in (symbol, "alpha", "beta")]
    found = gelvo.solve(equation, symbol, given=facts)
    assert len(found) >= 1
    assert found.verdict in ("proved", "supported") or len(found.conditions_of(0)) > 0
    for solution in found:
        (value,) = solution.values()
        assert symbol not in {n.name for n in equation_names(gelvo.equation(value, 0))}


def equation_names(equation):
    from support import names_in

    return [*names_in(equation.left), *names_in(equation.right)]
