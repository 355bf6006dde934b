"""Definite integrals over wide ranges against a quadrature of another library, and integrals without elementary form."""

from __future__ import annotations

import pytest
from mpmath import mp, mpf

import gelvo
from sample_tasks import is_open, numeric

WIDE = [
    ("tan(x)^1", "0.2", "1.4"),
    ("sinh(x)^1", "0.2", "1.4"),
    ("cot(x)^3", "0.2", "1.4"),
    ("cot(x)^4", "0.2", "1.4"),
    ("tan(x)^5", "0.2", "1.4"),
    ("sinh(x)^5", "0.2", "1.4"),
    ("cos(x)^6", "0.2", "1.4"),
    ("sin(x)/(3 + 2*cos(x))", "0.2", "5"),
    ("1/(2 + cos(x)^2)", "0.2", "5"),
    ("x/(exp(x) + 1)", "0.2", "5"),
    ("exp(x)/(2 + cosh(x))", "0.2", "5"),
    ("sin(x)^1*cos(x)^2", "-2", "5"),
    ("sin(x)^3*cos(x)^0", "-2", "5"),
    ("sin(x)^4*cos(x)^3", "-2", "5"),
    ("cos(x)/sqrt(1 - sin(x)^2/3)", "0.2", "5"),
    ("sin(x)^2/sqrt(1 + cos(x)^2)", "0.2", "5"),
    ("1/(1 + sin(x)^2)^(3/2)", "0.2", "5"),
    ("(1)/((x^2 + 4)^2)", "0.3", "1.9"),
    ("(1)/((x + 1)^3)", "0.3", "1.9"),
    ("(x)/(x^4 + 4)", "0.3", "1.9"),
    ("(x^2 + 1)/((x + 1)*(x + 2))", "0.3", "1.9"),
    ("(2*x - 3)/(x^2 + x + 1)", "0.3", "1.9"),
    ("(2*x - 3)/(x^6 + 1)", "0.3", "1.9"),
    ("(x^3)/((x^2 + 4)^2)", "0.3", "1.9"),
    ("(x^3)/((x + 1)^3)", "0.3", "1.9"),
    ("cos(x)/x^2", "0.2", "0.9"),
    ("sin(x^2)", "0.2", "0.9"),
    ("ln(1 + x)/x", "0.2", "0.9"),
    ("exp(-1/x)/x", "0.2", "0.9"),
    ("erf(2*x)*exp(x)", "0.2", "0.9"),
    ("exp(-x)*sqrt(x)", "0.2", "0.9"),
    ("x^2*exp(2*x)", "0.2", "2"),
    ("sin(x)*ln(x)", "0.2", "2"),
    ("ln(x)*sinh(x)", "0.2", "2"),
    ("exp(-2*x)", "0.1", "0.9"),
    ("cos(3*x)", "0.1", "0.9"),
    ("cosh(2*x)", "0.1", "0.9"),
    ("atan(x)", "0.1", "0.9"),
    ("acos(x)", "0.1", "0.9"),
    ("atanh(x)", "0.1", "0.9"),
    ("ln(x)^2", "0.1", "0.9"),
    ("x^2*asin(x)^2", "0.1", "0.9"),
    ("x^2*exp(-x)*cos(x)", "0.1", "0.9"),
    ("x^2*cos(x)^3", "0.1", "0.9"),
    ("x^2*ln(1 + x)", "0.1", "0.9"),
    ("x^2*ln(1 - x^2)", "0.1", "0.9"),
    ("x^2*Ei(x)", "0.1", "0.9"),
    ("lambertw(x)", "0.1", "0.9"),
    ("2*x*(x^2 + 1)^3", "0.2", "1.5"),
    ("(exp(x) + 1)*1/(exp(x) + x)", "0.2", "1.5"),
    ("1/x*cos(ln(x))", "0.2", "1.5"),
    ("(ln(x) + 1)*1/(1 + (x*ln(x))^2)", "0.2", "1.5"),
    ("(1 + cos(x))*1/(x + sin(x))^2", "0.2", "1.5"),
    ("(x + 1)*exp(x)*cos(x*exp(x))", "0.2", "1.5"),
    ("(3*x^2 + 1)*1/(1 + (x^3 + x)^2)", "0.2", "1.5"),
    ("x^2*sqrt(x^2 + 1)", "0.2", "0.9"),
    ("1/(x + 1)*sqrt(x^2 + 1)", "0.2", "0.9"),
    ("x^3*sqrt(1 - x^2)", "0.2", "0.9"),
    ("1*sqrt(x^2 + 2*x + 5)", "0.2", "0.9"),
    ("1/x*sqrt(x^2 + 2*x + 5)", "0.2", "0.9"),
    ("x*sqrt(2*x - x^2)", "0.2", "0.9"),
    ("1/x^2*sqrt(2*x - x^2)", "0.2", "0.9"),
    ("x^2*sqrt(x^2 + 4)", "0.2", "0.9"),
    ("1/(x + 1)*sqrt(x^2 + 4)", "0.2", "0.9"),
    ("x^3*sqrt(9 - x^2)", "0.2", "0.9"),
    ("1/sqrt(1 - x^4)", "0.2", "0.9"),
    ("x/sqrt(1 + x^4)", "0.2", "0.9"),
    ("x^2/sqrt((1 - x^2)*(4 - x^2))", "0.2", "0.9"),
    ("x^4/sqrt((1 + x^2)*(1 + 3*x^2))", "0.2", "0.9"),
    ("sqrt(x^4 + x^2 + 1)", "0.2", "0.9"),
    ("1/x/sqrt(4 - 5*x^2 + x^4)", "0.2", "0.9"),
    ("tanh(x)^1", "0.2", "1.4"),
    ("sech(x)^2", "0.2", "1.4"),
    ("sech(x)^3", "0.2", "1.4"),
    ("sech(x)^4", "0.2", "1.4"),
    ("tanh(x)^5", "0.2", "1.4"),
    ("csc(x)^6", "0.2", "1.4"),
    ("1/(2 + sin(x))", "0.2", "5"),
    ("exp(x)/(exp(2*x) + 2*exp(x) + 2)", "0.2", "5"),
    ("sin(x)^0*cos(x)^2", "-2", "5"),
    ("sin(x)^2*cos(x)^1", "-2", "5"),
    ("sin(x)^3*cos(x)^4", "-2", "5"),
    ("1/sqrt(1 - sin(x)^2/3)", "0.2", "5"),
    ("cos(x)/sqrt(2 + sin(x))", "0.2", "5"),
    ("1/(3 - 2*cos(x))^(3/2)", "0.2", "5"),
    ("(1)/((x + 1)*(x + 2))", "0.3", "1.9"),
    ("(x)/(x^2 + x + 1)", "0.3", "1.9"),
    ("(x)/(x^6 + 1)", "0.3", "1.9"),
    ("(x^2 + 1)/((x^2 + 4)^2)", "0.3", "1.9"),
    ("(x^2 + 1)/((x + 1)^3)", "0.3", "1.9"),
    ("(2*x - 3)/(x^4 + 4)", "0.3", "1.9"),
    ("(x^3)/((x + 1)*(x + 2))", "0.3", "1.9"),
    ("exp(x)/x", "0.2", "0.9"),
    ("exp(x)*ln(x)", "0.2", "0.9"),
    ("1/ln(x)^2", "0.2", "0.9"),
    ("x*tanh(x)", "0.2", "0.9"),
    ("cos(ln(x))", "0.2", "0.9"),
    ("li(x)", "0.2", "0.9"),
    ("x*exp(2*x)", "0.2", "2"),
    ("sin(x)*exp(2*x)", "0.2", "2"),
    ("exp(x)*sinh(x)", "0.2", "2"),
    ("exp(x)", "0.1", "0.9"),
    ("sin(x)", "0.1", "0.9"),
    ("sinh(x)", "0.1", "0.9"),
    ("ln(x)", "0.1", "0.9"),
    ("asin(x)", "0.1", "0.9"),
    ("asinh(x)", "0.1", "0.9"),
    ("erf(x)", "0.1", "0.9"),
    ("x*atan(x)^2", "0.1", "0.9"),
    ("x^2*exp(x)*sin(2*x)", "0.1", "0.9"),
    ("x^2*sin(x)^2", "0.1", "0.9"),
    ("sec(x)^2", "0.1", "0.9"),
    ("x^2*ln(1 + x^2)", "0.1", "0.9"),
    ("x^2*Si(x)", "0.1", "0.9"),
    ("x^2*erfc(2*x)", "0.1", "0.9"),
    ("2*x*1/(x^2 + 1)", "0.2", "1.5"),
    ("cos(x)*exp(sin(x) + 2)", "0.2", "1.5"),
    ("(exp(x) + 1)*(exp(x) + x)^3", "0.2", "1.5"),
    ("sinh(x)*cos(cosh(x))", "0.2", "1.5"),
    ("(1 + cos(x))*1/(1 + (x + sin(x))^2)", "0.2", "1.5"),
    ("(3*x^2 + 1)*1/(x^3 + x)^2", "0.2", "1.5"),
    ("1*sqrt(x^2 + 1)", "0.2", "0.9"),
    ("1/x*sqrt(x^2 + 1)", "0.2", "0.9"),
    ("x*sqrt(1 - x^2)", "0.2", "0.9"),
    ("1/x^2*sqrt(1 - x^2)", "0.2", "0.9"),
    ("x^2*sqrt(x^2 + 2*x + 5)", "0.2", "0.9"),
    ("1/(x + 1)*sqrt(x^2 + 2*x + 5)", "0.2", "0.9"),
    ("x^3*sqrt(2*x - x^2)", "0.2", "0.9"),
    ("1*sqrt(x^2 + 4)", "0.2", "0.9"),
    ("1/x*sqrt(x^2 + 4)", "0.2", "0.9"),
    ("x*sqrt(9 - x^2)", "0.2", "0.9"),
    ("1/x^2*sqrt(9 - x^2)", "0.2", "0.9"),
    ("1/x/sqrt(1 - x^4)", "0.2", "0.9"),
    ("x^4/sqrt(1 + x^4)", "0.2", "0.9"),
    ("x/sqrt((1 + x^2)*(1 + 3*x^2))", "0.2", "0.9"),
    ("x^2/sqrt(x^4 + x^2 + 1)", "0.2", "0.9"),
    ("x^2/sqrt(x^3 + 1)", "0.2", "0.9"),
]


@pytest.mark.parametrize(("integrand", "low", "high"), WIDE, ids=[w[0] for w in WIDE])
def test_no_jump_of_an_antiderivative_is_overlooked(integrand, low, high):
    answer = gelvo.integrate(integrand, "x", low, high)
    assert not is_open(answer) and answer.verdict in ("proved", "supported")
    f = gelvo.formula(integrand)
    cuts = mp.linspace(mpf(low), mpf(high), 4)
    wanted = mp.quad(lambda x: numeric(f, {"x": mp.nstr(x, 18)}, 15), cuts, maxdegree=5)
    assert abs(numeric(answer.expression, {}, 15) - wanted) < mpf("1e-8") * max(1, abs(wanted))


NO_ELEMENTARY_FORM = [
    "atan(x)^2",
    "x^2*atan(x)^2",
    "x^2*tan(x)^2",
    "x^2*sec(x)^2",
    "exp(x)/(1 + cos(x))",
    "x/(2 + sin(x))",
    "exp(x)/(3 + 2*cos(x))",
    "x/(sin(x) + cos(x))",
    "exp(x)/(1 + sin(x)^2)",
    "x/(2 + cos(x)^2)",
    "exp(x)/(1 + tan(x))",
    "x/(2 + cosh(x))",
    "x^3*tan(x)^2",
    "x^3*sec(x)^2",
    "exp(x)/(1 + sin(x))",
    "exp(x)/(2 + sin(x))",
    "x/(3 + 2*cos(x))",
    "exp(x)/(sin(x) + cos(x))",
    "x/(1 + sin(x)^2)",
    "exp(x)/(2 + cos(x)^2)",
    "x/(1 + tan(x))",
    "x/(exp(x) + exp(-x))",
    "x/(1 + sinh(x))",
    "sin(x)*atan(2*x)",
    "exp(x)*atan(2*x)",
    "tan(x)/x",
    "1/(exp(x)+x)",
    "1/(x+ln(x))",
    "x*tan(x)",
    "exp(x)*tan(x)",
    "atan(x)/x",
    "exp(-x)/(1+x^2)",
    "x/(exp(x)-ln(x))",
    "ln(ln(x))*exp(x)",
    "exp(x)/(x^2+1)",
    "sin(x)/(x^2+1)",
    "tan(x^2)",
    "1/(ln(x)+exp(x))",
    "x^2*tan(x)",
    "ln(sin(x))",
    "ln(cos(x))*x",
    "exp(x^3)",
    "1/(1+x*exp(x))",
    "exp(x)/sin(x)",
    "x/sinh(x)",
    "exp(x^4)",
    "exp(-x^5)*x",
    "x^3*tan(x)",
    "exp(x)/(x^2 + 4)",
    "1/(x^2 + ln(x))",
    "1/(exp(x) + x^2)",
    "exp(2*x)/(x + exp(x))",
    "x^2/(exp(x) + x)",
    "ln(x)/(exp(x) + ln(x))",
]


@pytest.mark.parametrize("integrand", NO_ELEMENTARY_FORM)
def test_the_proof_that_there_is_no_elementary_form_is_checked(integrand):
    answer = gelvo.integrate(integrand, "x")
    if not is_open(answer):  # then by a special function, and proved
        assert answer.verdict == "proved"
        return
    assert "has no elementary antiderivative" in answer.reason
    certificate = answer.certificate()
    assert certificate.verdict == "proved" and "established" in certificate.evidence
    with pytest.raises(gelvo.NoClosedForm, match="no elementary antiderivative"):
        gelvo.integrate(integrand, "x", otherwise="error")


VALUES = [
    ("gamma_inc(1/3, 2)", lambda: mp.gammainc(mpf(1) / 3, 2)),
    ("gamma_inc(5/2, 1/7)", lambda: mp.gammainc(mpf(5) / 2, mpf(1) / 7)),
    ("gamma_inc(-1/2, 3)", lambda: mp.gammainc(-mpf(1) / 2, 3)),
    ("gamma_inc(3, 1/2)", lambda: mp.gammainc(3, mpf(1) / 2)),
    ("ellipeinc(1, 1/2)", lambda: mp.ellipe(1, mpf(1) / 2)),
    ("ellipeinc(-2, -3)", lambda: mp.ellipe(-2, -3)),
    ("ellipeinc(pi/2, 1/4)", lambda: mp.ellipe(mpf(1) / 4)),
    ("ellippi(1/2, 1/3)", lambda: mp.ellippi(mpf(1) / 2, mpf(1) / 3)),
    ("ellippi(-2, 1/3)", lambda: mp.ellippi(-2, mpf(1) / 3)),
    ("ellippi(0, 1/3)", lambda: mp.ellipk(mpf(1) / 3)),
    ("ellippiinc(1/2, 1, 1/3)", lambda: mp.ellippi(mpf(1) / 2, 1, mpf(1) / 3)),
    ("ellippiinc(-1, -1/2, 1/3)", lambda: mp.ellippi(-1, -mpf(1) / 2, mpf(1) / 3)),
    ("ellippiinc(1/5, pi/2, 1/3)", lambda: mp.ellippi(mpf(1) / 5, mpf(1) / 3)),
    ("ellipf(pi/2, 1/3)", lambda: mp.ellipk(mpf(1) / 3)),
]


@pytest.mark.parametrize(("text", "wanted"), VALUES, ids=[v[0] for v in VALUES])
def test_values_of_the_new_functions(text, wanted):
    with mp.workdps(25):
        expected = wanted()
        assert abs(numeric(gelvo.formula(text), {}, 20) - expected) < mpf("1e-15") * max(1, abs(expected))


@pytest.mark.parametrize(
    ("text", "shown"),
    [
        ("gamma_inc(1, x)", "exp(-x)"), ("gamma_inc(1/2, x)", "sqrt(pi)*erfc(sqrt(x))"), ("ellipeinc(0, m)", "0"), ("ellipeinc(-x, m)", "-ellipeinc(x, m)"),
        ("ellipeinc(x, 0)", "x"), ("ellippi(0, m)", "ellipk(m)"), ("ellippiinc(0, x, m)", "ellipf(x, m)"), ("ellipf(pi/2, m)", "ellipk(m)"),
        ("ellipeinc(pi/2, m)", "ellipe(m)"),
    ],
)  # fmt: skip
def test_exact_values_of_the_new_functions(text, shown):
    assert str(gelvo.formula(text)) == shown
