"""The statements that rewrite formulas or take parts of them."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any, TypeVar

from gelvo.checking.certificate import Certificate, weakest
from gelvo.checking.claims import check_identity
from gelvo.derivation.results import Result, Words
from gelvo.derivation.said import Said
from gelvo.derivation.statement import Statement
from gelvo.expression.equation import Equation
from gelvo.expression.nodes import Expression
from gelvo.matrices.matrix import Matrix
from gelvo.operations import polynomials, rewriting
from gelvo.operations.matrices import entrywise
from gelvo.reading.tree import Read
from gelvo.reading.words import plain_name

V = TypeVar("V")


def _simplify(said: Said) -> Result:
    return said.answers(said.entries(), lambda e: rewriting.simplify(e, said.given, steps=said.derivation.steps))


def _checked(said: Said, value: V, result: V) -> Result:
    """A rewriting with the proof that it is equal."""
    if isinstance(value, Equation):
        return said.result(result)
    if isinstance(value, Matrix) and isinstance(result, Matrix):
        parts = tuple(check_identity(a, b, said.facts) for a, b in zip(value.flat(), result.flat(), strict=True))
        return said.result(result, certificate=Certificate(said.line.text, weakest(parts), "each entry by itself", parts=parts))
    assert isinstance(value, Expression) and isinstance(result, Expression)
    return said.result(result, certificate=check_identity(value, result, said.facts))


def _variable(said: Said) -> Read | list[Read]:
    listed = [said.read(t) for t in said.listed(said["by"])]
    return listed if len(listed) > 1 else listed[0]


def _whole(work: Callable[..., object], said: Said) -> Result:
    """A rewriting of the whole formula."""
    value = said.thing()
    return _checked(said, value, entrywise(work)(value, given=said.given))


def _by(work: Callable[..., object], said: Said) -> Result:
    """A rewriting about a name."""
    value = said.thing()
    return _checked(said, value, entrywise(work)(value, _variable(said), given=said.given))


def _only(work: Callable[..., object], kind: str, said: Said) -> Result:
    """A rewriting of one kind of thing."""
    value = said.thing()
    return _checked(said, value, entrywise(work)(value, only=kind, given=said.given))


def _factor(said: Said) -> Result:
    value, over = said.thing(), said.get("over")
    plain = over is None or over in ("real", "reals", "rationals")
    listed = over if plain else [said.read(t) for t in said.listed(over)]
    return _checked(said, value, entrywise(rewriting.factor)(value, said.given, over=listed))


def _express(said: Said) -> Result:
    value = said.thing()
    return _checked(said, value, entrywise(rewriting.express)(value, said["in terms of"], said.given))


def _part(work: Callable[..., object], said: Said) -> Result:
    """A part of one formula: nothing is claimed."""
    return said.result(work(said.thing()))


def _part_by(work: Callable[..., object], said: Said) -> Result:
    return said.result(work(said.thing(), _variable(said)))


def _of_two(work: Callable[..., object], said: Said) -> Result:
    texts = said.listed()
    if len(texts) != 2:
        raise said.fault(f"this statement takes 2 formulas, not {len(texts)}")
    extra = [_variable(said)] if said.get("by") else []
    return said.result(work(*[said.thing(t) for t in texts], *extra))


def _coefficients(said: Said) -> Result:
    target = said.formula(said["by"])
    return said.result(*[(f"coefficient of {target**k}", c) for k, c in rewriting.coefficients(said.thing(), target).items()])


def _divide(said: Said) -> Result:
    value, other = said.formula(), said.formula(said["by"])
    quotient, rest = polynomials.divide(value, other, said.read(said["for"]))
    certificate = check_identity(value, quotient * other + rest, said.facts)
    return said.result((Words("quotient"), quotient), (Words("remainder"), rest), certificate=certificate)


def _abbreviate(said: Said) -> Result:
    short = rewriting.abbreviate([said.thing(t) for t in said.listed()], said.get("as") or "A")
    where = [(Words("where" if k == 0 else ""), Equation(n, e)) for k, (n, e) in enumerate(short.where.items())]
    return said.result(*short.expressions, *where)


def _substitute(said: Said) -> Result:
    value = said.read(said["in"])
    return said.result(said.put(rewriting.substitute(getattr(value, "expression", value), said.pairs(said.head, "old = new"))))


def _rename(said: Said) -> Result:
    if not plain_name(said["to"]).isidentifier():
        raise said.fault(f"`{said['to']}` cannot be a name", said["to"])
    return said.result(rewriting.rename(said.read(said["in"]), {said.head: said["to"]}))


_END = "[with VALUES] [given FACTS]"
_KINDS: dict[str, tuple[Callable[..., Any], dict[str, str]]] = {
    "expand": (rewriting.expand, {"powers": "(a*b)^2", "products": "a*(b + c)", "trigonometric": "sin(a + b)", "logarithms": "ln(a*b) given a > 0, b > 0"}),
    "combine": (
        rewriting.combine,
        {
            "logarithms": "ln(2) + ln(3)", "powers": "2^x*2^y", "exponentials": "exp(x)*exp(y)", "roots": "sqrt(2)*sqrt(3)",
            "trigonometric": "sin(x)*cos(x)",
        },
    ),
}  # fmt: skip
STATEMENTS = (
    Statement("simplify", f"E {_END}", _simplify, "simplify sin(x)^2 + cos(x)^2", "the shortest form that is found, proved equal"),
    Statement("expand", f"E {_END}", partial(_whole, rewriting.expand), "expand (x + 1)^2", "products of sums, powers and functions of them taken apart"),
    *[
        Statement(f"{verb} {kind} in", f"E {_END}", partial(_only, work, kind), f"{verb} {kind} in {e}", f"only {kind}")
        for verb, (work, kinds) in _KINDS.items()
        for kind, e in kinds.items()
    ],
    Statement("factor", f"E [over FIELD] {_END}", _factor, "factor x^2 - 2 over sqrt(2)", "factors over the rationals, the reals or with roots"),
    Statement("common denominator", f"E {_END}", partial(_whole, rewriting.common_denominator), "common denominator 1/x + 1/y", "one fraction"),
    Statement("collect", f"E by x {_END}", partial(_by, rewriting.collect), "collect a*x + b*x by x", "terms gathered by powers"),
    Statement("partial fractions", f"E by x {_END}", partial(_by, polynomials.partial_fractions), "partial fractions 1/(x^2 - 1) by x", "a sum of simple fractions"),
    Statement("complete square", f"E by x {_END}", partial(_by, polynomials.complete_square), "complete square x^2 + 2*x by x", "a square and a rest"),
    Statement("amplitude phase", f"E by t {_END}", partial(_by, rewriting.amplitude_phase), "amplitude phase 3*sin(t) + 4*cos(t) by t", "one wave with amplitude and phase"),
    Statement("rationalize denominator", f"E {_END}", partial(_whole, rewriting.rationalize_denominator), "rationalize denominator 1/(1 + sqrt(2))", "no roots below the line"),
    Statement("express", f"E in terms of FUNCTIONS {_END}", _express, "express sin(x) in terms of exponentials", "the same in other functions"),
    Statement("substitute", f"x = A, y = B in E {_END}", _substitute, "substitute x = 3, y = a + b in x*y", "old put for new"),
    Statement("rename", "OLD to NEW in E", _rename, "rename mass to m in mass*c^2", "another name"),
    Statement("abbreviate", "E, F [as A] [with VALUES]", _abbreviate, "abbreviate sin(a + b)^2 + exp(sin(a + b)), (a + b)^3", "parts that repeat get names"),
    Statement("numerator", "of E [with VALUES]", partial(_part, rewriting.numerator), "numerator of (x + 1)/y", "what stands above the line"),
    Statement("denominator", "of E [with VALUES]", partial(_part, rewriting.denominator), "denominator of (x + 1)/y", "what stands below the line"),
    Statement("coefficients", "of E by x [with VALUES]", _coefficients, "coefficients of a*x^2 + b*x + c by x", "what stands before each power"),
    Statement("degree", "of E by x [with VALUES]", partial(_part_by, polynomials.degree), "degree of x^3 + x by x", "the highest power"),
    Statement("leading coefficient", "of E by x [with VALUES]", partial(_part_by, polynomials.leading_coefficient), "leading coefficient of a*x^3 + x by x", "what stands before it"),
    Statement("divide", "P by Q for x [with VALUES]", _divide, "divide x^3 - 1 by x - 1 for x", "quotient and remainder"),
    Statement("gcd", "of P, Q [with VALUES]", partial(_of_two, polynomials.gcd), "gcd of x^2 - 1, x^3 - 1", "the greatest common divisor"),
    Statement("lcm", "of P, Q [with VALUES]", partial(_of_two, polynomials.lcm), "lcm of x^2 - 1, x - 1", "the least common multiple"),
    Statement("resultant", "of P, Q by x [with VALUES]", partial(_of_two, polynomials.resultant), "resultant of x^2 - a, x - b by x", "zero where both have a common zero"),
    Statement("discriminant", "of P by x [with VALUES]", partial(_part_by, polynomials.discriminant), "discriminant of a*x^2 + b*x + c by x", "zero where two zeros meet"),
)  # fmt: skip
