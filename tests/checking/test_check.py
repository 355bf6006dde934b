"""check: each kind of claim by its own road, right ones proved and wrong ones refuted."""

from __future__ import annotations

import json

import pytest

import gelvo

PROVED = [
    "integral_of(x^2, x) = x^3/3",
    "integral_of(x^2, x) = x^3/3 + 7",
    "x^3/3 = integral_of(x^2, x)",
    "integral_of(sin(x)^2, x) = x/2 - sin(2*x)/4",
    "integral_of(x*sin(x), x, 0, pi) = pi",
    "integral_of(x^2*exp(-x), x, 0, inf) = 2",
    "integral_of(1/(1 + x^2), x, -inf, inf) = pi",
    "integral_of(exp(-x^2), x, -inf, inf) = sqrt(pi)",
    "derivative_of(sin(x)^2, x) = sin(2*x)",
    "derivative_of(x^3, x, 2) = 6*x",
    "derivative_of(tanh(x), x) = 1/cosh(x)^2",
    "(x + 1)^2 = x^2 + 2*x + 1",
    "sin(x)^2 + cos(x)^2 = 1",
    "pi > 3",
    "2 + 2 = 4",
    "sqrt(2) < 3/2 and pi < 4",
]


@pytest.mark.parametrize("claim", PROVED)
def test_true_claims_are_proved(claim):
    certificate = gelvo.check(claim)
    assert certificate.verdict == "proved", str(certificate)
    assert certificate.method


REFUTED = [
    "integral_of(x^2, x) = x^3/2",
    "integral_of(x^2, x) = x^3/3 + x/10^25",
    "integral_of(x*sin(x), x, 0, pi) = 22/7",
    "integral_of(x^2, x, 0, 1) = 1/3 + 1/10^25",
    "integral_of(x^2*exp(-x), x, 0, inf) = 2 - 1/10^25",
    "derivative_of(sin(x)^2, x) = cos(2*x)",
    "derivative_of(sin(x), x) = cos(x)*(1 + 1/10^25)",
    "(x + 1)^2 = x^2 + 1",
    "sin(x)^2 + cos(x)^2 = 1 + 1/10^25",
    "pi = 22/7",
    "exp(pi*sqrt(163)) = 262537412640768744",
    "pi < 3",
    "sqrt(x^2) = x",
]


@pytest.mark.parametrize("claim", REFUTED)
def test_false_claims_are_refuted_with_evidence(claim):
    certificate = gelvo.check(claim)
    assert certificate.verdict == "refuted", str(certificate)
    if "=" in claim:
        assert "counterexample" in certificate.evidence


def test_a_claim_that_is_not_decided():
    assert gelvo.check("gamma(1/6) = 2^(-1/3)*sqrt(3/pi)*gamma(1/3)^2").verdict == "undecided"
    assert gelvo.check("a > 0").verdict == "undecided"


def test_facts_count():
    assert gelvo.check("sqrt(x^2) = x", given=["x > 0"]).verdict == "proved"
    assert gelvo.check("integral_of(1/(a*x + 1), x) = ln(a*x + 1)/a", given=["a > 0", "x > 0"]).verdict == "proved"


def test_an_antiderivative_is_never_a_bound():
    assert gelvo.check("integral_of(x, x) = inf").verdict == "refuted"


class TestStatedSolutions:
    motion = "J*theta''(t) + c*theta'(t) + kappa*theta(t) = 0"
    decay = "theta_0*exp(-c*t/(2*J))*(cos(w*t) + c/(2*J*w)*sin(w*t))"
    facts = ("w = sqrt(kappa/J - c^2/(4*J^2))", "J > 0", "kappa > 0", "c^2 < 4*J*kappa")

    def look(self, solution, *given):
        q = gelvo.unknown_function("theta", "t")
        return gelvo.check(gelvo.formula(self.motion, names_from=q), where={q: solution}, given=[*self.facts, *given])

    def test_residual_and_initial_values_are_exactly_zero(self):
        certificate = self.look(self.decay, "theta(0) = theta_0", "theta'(0) = 0")
        assert certificate.verdict == "proved"
        assert len(certificate.parts) == 3

    @pytest.mark.parametrize(
        "solution",
        [
            "theta_0*exp(-c*t/(2*J))*cos(2*w*t)",
            "theta_0*cos(w*t)",
            "theta_0*exp(-c*t/(2*J))*(cos(w*t) + (1 + 1/10^25)*c/(2*J*w)*sin(w*t)) + t/10^25",
        ],
    )
    def test_a_wrong_solution_is_refuted(self, solution):
        assert self.look(solution, "theta(0) = theta_0").verdict == "refuted"

    def test_a_wrong_initial_value_is_refuted(self):
        certificate = self.look(self.decay, "theta(0) = 2*theta_0")
        assert [p.verdict for p in certificate.parts] == ["proved", "refuted"]

    def test_a_solution_of_a_plain_equation(self):
        assert gelvo.check("x^2 - a = 0", where={"x": "sqrt(a)"}, given=["a > 0"]).verdict == "proved"
        assert gelvo.check("x^2 - a = 0", where={"x": "a"}).verdict == "refuted"
        assert gelvo.check("x^2/x = 0", where={"x": "0"}).verdict == "refuted"


def test_certificates_are_plain_data():
    certificate = gelvo.check("(x + 1)^2 = x^2 + 2*x + 1")
    data = certificate.to_dict()
    assert json.loads(json.dumps(data)) == data
    assert data["verdict"] == "proved" and data["relies_on"]
    assert "proved" in str(certificate) and "text/plain" in certificate._repr_mimebundle_()


def test_answers_and_solutions_bring_their_certificate():
    assert gelvo.check(gelvo.integrate("x", "x")).verdict == "proved"
    assert gelvo.check(gelvo.solve("x^2 = 4", "x")).verdict == "proved"


def test_bad_claims_are_told():
    with pytest.raises(gelvo.FormulaError, match="neither"):
        gelvo.check("x + 1")
    with pytest.raises(gelvo.FormulaError, match="none"):
        gelvo.check("x > 1", where={"x": "2"})


def test_a_wrong_constant_factor_is_caught():
    assert gelvo.check("integral_of(1/x, x) = ln(2*abs(x))").verdict == "proved"
    assert gelvo.check("integral_of(1/x, x) = 2*ln(abs(x))").verdict == "refuted"


@pytest.mark.parametrize(
    ("F", "end", "limit"),
    [
        ("(-x - 1)*exp(-x)", "inf", "0"),
        ("atan(x)", "inf", "pi/2"),
        ("atan(x)", "-inf", "-pi/2"),
        ("erf(2*x)", "inf", "1"),
        ("1/x + 3", "inf", "3"),
        ("exp(-x)*sin(x)/x", "inf", "0"),
        ("x/(x^2 + 1)", "inf", "0"),
        ("exp(x)", "-inf", "0"),
        ("x", "inf", "inf"),
        ("x - x^2", "inf", "-inf"),
        ("x/sqrt(x^2 + 1)", "inf", "1"),
        ("ln(x^2 + 1)", "-inf", "inf"),
        ("exp(x)", "inf", "inf"),
        ("exp(x) - exp(2*x)", "inf", "-inf"),
        ("x - x*atan(x)", "inf", "-inf"),
        ("sin(x)", "inf", None),
        ("x*sin(x)", "inf", None),
    ],
)
def test_ends_at_infinity_are_proved(F, end, limit):
    wanted = ["proved"] if limit else ["undecided", "refuted"]
    assert gelvo.check(f"limit_of({F}, x, {end}) = {limit or 0}").verdict in wanted
    assert gelvo.check(f"limit_of({F}, x, {end}) = 7/5").verdict not in ("proved", "supported")


DIVERGENT = [
    ("1/x", "-1", "1"),
    ("1/x^2", "-1", "1"),
    ("1/x", "1", "inf"),
    ("exp(x)", "0", "inf"),
    ("1/x^(3/2)", "0", "1"),
    ("tan(x)", "0", "pi/2"),
    ("x^3", "-inf", "0"),
]


@pytest.mark.parametrize(("f", "lower", "upper"), DIVERGENT)
def test_divergence_is_followed_towards_its_break(f, lower, upper):
    certificate = gelvo.integrate(f, "x", lower, upper).certificate()
    assert certificate.verdict == "proved" and certificate.evidence


NEVER_SUPPORTED = [
    # divergences that are none, or go the other way
    ("integral_of(1/x^2, x, 1, inf) = inf", []),
    ("integral_of(ln(x), x, 0, 1) = -inf", []),
    ("integral_of(x, x, 0, 1) = inf", []),
    ("integral_of(tan(x), x, 0, pi/2) = -inf", []),
    ("integral_of(tan(x), x, pi/2, 0) = inf", []),
    ("integral_of(1/((p*x - 3)^2*(p*x)), x, 1/2, 1) = -inf", ["p != 0"]),
    ("integral_of(1/((p*x - 3)^2*(p*x)), x, 1/2, 1) = inf", ["p != 0"]),
    # waves that are near to anything somewhere, and needles between their crests
    *((f"limit_of({f}, x, inf) = {v}", []) for f in ("cos(x)", "cos(3*x + 1)", "cos(sqrt(x))", "cos(ln(x)^2)", "x - floor(x)") for v in (0, 1, "1/2")),
    ("limit_of(exp(-x*sin(x)^2), x, inf) = 0", []),
    ("limit_of(1/(1 + x^2*sin(2*x)^2), x, inf) = 0", []),
    ("limit_of(x^2*cos(pi*x)^2, x, inf) = inf", []),
    ("limit_of(exp(-sin(1/x)^2/x^2), x, 0) = 0", []),
    # what holds but where letters are zero
    ("limit_of(1/(a*x + 1), x, inf) = 0", []),
    ("limit_of(x/(x + a), x, 0) = 0", []),
    ("limit_of(ln(a*x + 1)/ln(x), x, inf) = 1", ["a >= 0"]),
    ("limit_of(a*heaviside(x), x, 0) = undefined", []),
    ("integral_of(sin(a*x)/x, x, 0, inf) = pi/2", ["a >= 0"]),
]  # fmt: skip


@pytest.mark.parametrize(("claim", "given"), NEVER_SUPPORTED)
def test_a_false_claim_is_not_supported(claim, given):
    assert gelvo.check(claim, given=given).verdict in ("undecided", "refuted")


def test_a_condition_makes_such_a_claim_provable():
    assert gelvo.check("limit_of(1/(a*x + 1), x, inf) = 0", given=["a != 0"]).verdict == "proved"
    assert gelvo.check("limit_of(x*(2 + sin(x)), x, inf) = inf").verdict == "supported"
