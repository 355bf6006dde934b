"""Rewriting and replacing: simplify, expand, factor, collect, common_denominator, substitute, rename."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from os import PathLike
from typing import Any, NamedTuple

from gelvo.checking.certificate import REFUTED
from gelvo.checking.claims import check_identity
from gelvo.checking.putting_in import substitute_functions
from gelvo.errors import DomainError, FormulaError
from gelvo.expression.building import applied, name
from gelvo.expression.equation import Equation, in_each
from gelvo.expression.nodes import Applied, Condition, Expression, Name, Node
from gelvo.expression.registry import Hooks
from gelvo.expression.traversal import check_one_meaning, names, postorder, transform
from gelvo.expression.traversal import substitute as traversal_substitute
from gelvo.facts.store import Facts
from gelvo.forms import abbreviating, collecting, expanding, fractions
from gelvo.normal import rationalizing
from gelvo.operations.answer import Answer
from gelvo.operations.inputs import one_expression, take
from gelvo.operations.tables import read_names
from gelvo.refuted import note_refuted
from gelvo.simplifying import expressing, factoring, phases, search, splitting


def _each_side(value: object, work: Callable[[Expression], Expression]) -> Expression | Equation:
    """A structural operation on an expression, or on both sides of an equation."""
    if isinstance(value, Equation):
        return Equation(work(value.left), work(value.right), value.conditions)
    return work(one_expression(value))


def _answer(before: Expression, after: Expression, steps: tuple[object, ...], facts: Facts, road: str) -> Answer:
    return Answer(after, lambda: check_identity(before, after, facts), (), road, "", steps)


def simplify(expression: Any, given: Iterable[Any] = (), steps: bool = False) -> Answer:
    """The shortest form that was found by a documented measure of what a reader sees; never longer than what came in.

    expression: an expression or text; given: facts that hold in this call;
    steps: whether `.steps` holds the chain of rewritings, each with its rule, the facts it had, and a proof that it is equal.
    Returns an Answer whose certificate compares both forms by the normal form.

    >>> import gelvo
    >>> gelvo.simplify("sin(x)^2 + cos(x)^2")
    1
    >>> gelvo.simplify("sqrt(x^2)")
    abs(x)
    >>> for step in gelvo.simplify("sqrt(x^2)/x", given=["x > 0"], steps=True).steps:
    ...     print(step)
    1  (signs, roots and logarithms sorted by the facts; using x > 0; proved)
    """
    arguments = take(expression, given=given)
    before = one_expression(arguments.values[0])
    found = search.simplify(before, arguments.facts)
    road = "; ".join(s.rule for s in found.steps) or "already short"
    chain = search.verified(before, found.steps, arguments.facts) if steps else ()
    answer = _answer(before, found.expression, chain, arguments.facts, road)
    if answer.verdict == REFUTED:  # a form that its own check refutes never leaves
        note_refuted("simplified", before, found.expression)
        return _answer(before, before, (), arguments.facts, "already short")
    return answer


def expand(expression: Any, given: Iterable[Any] = (), only: str | None = None) -> Any:
    """Products and natural powers of sums multiplied out.

    only: instead, one kind of thing taken apart: "powers" ((a*b)^n), "products" (sums but not their powers),
    "trigonometric" (sums and multiples of angles) or "logarithms" (of products and powers), as far as the facts allow.

    >>> import gelvo
    >>> gelvo.expand("(x + 1)^2*(x - 1)")
    x^3 + x^2 - x - 1
    >>> gelvo.expand("ln(a^2*b)", only="logarithms", given=["a > 0", "b > 0"])
    2*ln(a) + ln(b)
    """
    arguments = take(expression, given=given)
    if only is None:
        return _each_side(arguments.values[0], expanding.expand)
    return _each_side(arguments.values[0], lambda e: splitting.expand_only(e, only, arguments.facts))


def combine(expression: Any, only: str, given: Iterable[Any] = ()) -> Any:
    """One kind of thing put together: the way back from `expand(…, only=…)`.

    only: "logarithms", "powers", "exponentials", "roots" or "trigonometric" (products of waves as sums); what the facts do not
    allow stays as it is.

    >>> import gelvo
    >>> gelvo.combine("ln(a) + 2*ln(b)", only="logarithms", given=["a > 0", "b > 0"])
    ln(a*b^2)
    """
    arguments = take(expression, given=given)
    return _each_side(arguments.values[0], lambda e: splitting.combine_only(e, only, arguments.facts))


def factor(expression: Any, given: Iterable[Any] = (), over: Any = None) -> Any:
    """Numerator and denominator in lowest terms, as products of irreducible factors.

    over: None for factors over the rationals; a root such as "sqrt(2)" or "1j", or a list of them, for the field with these;
    "real" for linear and quadratic factors with real coefficients (of a formula in one name).

    >>> import gelvo
    >>> gelvo.factor("x^3 - x*y^2")
    x*(x - y)*(x + y)
    >>> gelvo.factor("x^4 + 1", over="sqrt(2)")
    (x^2 - sqrt(2)*x + 1)*(x^2 + sqrt(2)*x + 1)
    """
    words = {"rational": fractions.factored, "rationals": fractions.factored,
             "real": factoring.factor_over_reals, "reals": factoring.factor_over_reals}  # fmt: skip
    if over is None or (isinstance(over, str) and over in words):
        return _each_side(take(expression, given=given).values[0], words[over or "rational"])
    listed = over if isinstance(over, (list, tuple)) else [over]
    value, *found = take(expression, *listed, given=given).values
    roots = [one_expression(v, "a root") for v in found]
    return _each_side(value, lambda e: factoring.factor_over_roots(e, roots))


def collect(expression: Any, variable: Any, given: Iterable[Any] = (), apply: Any = None) -> Any:
    """Terms gathered by the powers of one or several names or functions.

    variable: a name, a function such as "sin(x)", or a list of them; apply: a function for each coefficient (else: factored).

    >>> import gelvo
    >>> gelvo.collect("a*x + b*x + c", "x")
    (a + b)*x + c
    >>> gelvo.collect("a*x*y + b*x*y + x", ["x", "y"])
    (a + b)*x*y + x
    """
    listed = variable if isinstance(variable, (list, tuple)) else [variable]
    value, *targets = take(expression, *listed, given=given).values
    targets = [one_expression(t, "a name or a function") for t in targets]

    def work(e: Expression) -> Expression:
        each = None if apply is None else lambda c: one_expression(getattr(apply(c), "expression", apply(c)))
        return collecting.collect(e, targets, each)

    return _each_side(value, work)


def express(expression: Any, in_terms_of: str, given: Iterable[Any] = ()) -> Any:
    """The same value by other functions.

    in_terms_of: "exponentials", "sin, cos", "sinh, cosh", "tan", "tan of half angles", "sin" or "cos" (even powers of the other
    one away), "waves" (exponentials of imaginary angles), "logarithms", "gamma", "factorials", "sign",
    "real and imaginary parts", "radicals", "polynomial roots".

    >>> import gelvo
    >>> gelvo.express("cosh(x) + sinh(x)", "exponentials")
    exp(x)
    >>> gelvo.express("1/(1 + 1j*w)", "real and imaginary parts")
    1/(w^2 + 1) - 1j*w/(w^2 + 1)
    """
    arguments = take(expression, given=given)
    return _each_side(arguments.values[0], lambda e: expressing.express(e, in_terms_of, arguments.facts))


def amplitude_phase(expression: Any, variable: Any, given: Iterable[Any] = ()) -> Any:
    """Sums of sines and cosines of one frequency as one wave A*cos(w*t - phi).

    variable: the name in whose multiples the waves run. The amplitude is sqrt(a^2 + b^2), the phase atan2(b, a), for real a and b.

    >>> import gelvo
    >>> gelvo.amplitude_phase("3*cos(w*t) + 4*sin(w*t)", "t")
    5*cos(w*t - atan(4/3))
    """
    arguments = take(expression, variables=[variable], given=given)
    (target,) = arguments.names
    return _each_side(arguments.values[0], lambda e: phases.amplitude_phase(e, target))


def rationalize_denominator(expression: Any, given: Iterable[Any] = ()) -> Any:
    """A fraction without roots and without the imaginary unit below the line.

    >>> import gelvo
    >>> gelvo.rationalize_denominator("1/(sqrt(a) + sqrt(b))")
    (sqrt(b) - sqrt(a))/(b - a)
    """
    return _each_side(take(expression, given=given).values[0], rationalizing.rationalize_denominator)


class Abbreviated(NamedTuple):
    """Short forms and what their names stand for: `.expressions`, `.where` ({name: formula}, in order), `.restored()`."""

    expressions: tuple[Expression | Equation, ...]
    where: dict[Name, Expression]

    def restored(self) -> tuple[Expression | Equation, ...]:
        """The long forms again, exactly as they were."""
        result = list(self.expressions)
        for short, long in reversed(self.where.items()):
            result = [_each_side(r, lambda e: traversal_substitute(e, {short: long})) for r in result]  # noqa: B023
        return tuple(result)

    def __str__(self) -> str:
        shown = "; ".join(str(e) for e in self.expressions)
        return shown + (" where " + ", ".join(f"{n} = {e}" for n, e in self.where.items()) if self.where else "")

    def _repr_mimebundle_(self, include: object = None, exclude: object = None) -> dict[str, str]:
        return Hooks.show(self)


def abbreviate(expressions: Any, names: str = "A", given: Iterable[Any] = ()) -> Abbreviated:
    """A long result as a short one with a table of named shorthands, by what saves a reader most.

    expressions: an expression, an equation, text, or a list of these; names: the letter of the new names (A_1, A_2, …).
    Returns an Abbreviated: `.expressions`, `.where`, and `.restored()`, which puts everything back exactly.

    >>> import gelvo
    >>> short = gelvo.abbreviate("(x + sqrt(a^2 + b*c + 1))/(x - sqrt(a^2 + b*c + 1))")
    >>> print(short)
    (x + sqrt(A_1))/(x - sqrt(A_1)) where A_1 = a^2 + b*c + 1
    """
    listed = list(expressions) if isinstance(expressions, (list, tuple)) else [expressions]
    if not names.isidentifier():
        raise FormulaError(f"{names!r} cannot begin a name")
    values = take(*listed, given=given).values
    flat = [side for v in values for side in ((v.left, v.right) if isinstance(v, Equation) else (one_expression(v),))]
    short, table = abbreviating.abbreviate(flat, lambda k: f"{names}_{k}")
    results: list[Expression | Equation] = []
    rest = iter(short)
    for v in values:
        results.append(Equation(next(rest), next(rest), v.conditions) if isinstance(v, Equation) else next(rest))
    return Abbreviated(tuple(results), dict(table))


def common_denominator(expression: Any, given: Iterable[Any] = ()) -> Any:
    """One fraction in lowest terms, numerator and denominator expanded.

    >>> import gelvo
    >>> gelvo.common_denominator("1/x + 1/y")
    (x + y)/(x*y)
    """

    def work(e: Expression) -> Expression:
        top, bottom = fractions.quotient_parts(e)
        return top / bottom

    return _each_side(take(expression, given=given).values[0], work)


def numerator(expression: Any) -> Expression:
    """The numerator in lowest terms, expanded.

    >>> import gelvo
    >>> gelvo.numerator("1/x + 1/y")
    x + y
    """
    return fractions.quotient_parts(one_expression(take(expression).values[0]))[0]


def denominator(expression: Any) -> Expression:
    """The denominator in lowest terms, expanded.

    >>> import gelvo
    >>> gelvo.denominator("1/x + 1/y")
    x*y
    """
    return fractions.quotient_parts(one_expression(take(expression).values[0]))[1]


def coefficients(expression: Any, variable: Any) -> dict[int, Expression]:
    """The coefficients of a polynomial in a variable, by power.

    >>> import gelvo
    >>> gelvo.coefficients("a*x^2 + 3*x", "x")
    {1: 3, 2: a}
    """
    arguments = take(expression, variables=[variable])
    return collecting.coefficients(*arguments.expressions, *arguments.variables)


def substitute(expression: Any, replacements: Mapping[Any, Any], given: Iterable[Any] = ()) -> Any:
    """Parts replaced by others, all at once; an unknown function may be replaced by a formula.

    replacements: {old: new}, each an expression, a number or text. An old part is found where a person means it: a^2 inside a^4,
    x + y inside 2*x + 2*y, a*b inside a^2*b.

    >>> import gelvo
    >>> gelvo.substitute("x + 2*y", {"x": "y", "y": "x"})
    2*x + y
    >>> gelvo.substitute("a^4 + 2*x + 2*y", {"a^2": "b", "x + y": "s"})
    2*s + b^2
    """
    flat = [p for pair in replacements.items() for p in pair]
    arguments = take(expression, *flat, given=given)
    table: dict[Expression, Expression] = {}
    for old, new in zip(arguments.values[1::2], arguments.values[2::2], strict=True):
        table[one_expression(old)] = one_expression(new)
    value = arguments.values[0]
    if not isinstance(value, (Equation, Condition)):
        value = one_expression(value)
    return in_each(value, lambda e: substitute_functions(e, table))


def rename(expression: Any, names_table: Mapping[Any, Any] | str | PathLike[str], given: Iterable[Any] = ()) -> Any:
    """Names replaced by other names, domains kept; a clash is reported before anything is changed.

    names_table: {old: new}, or the path of a table: CSV with two columns (old, new), or JSON with one object. A table from a file
    may name more than the formula has.

    >>> import gelvo
    >>> gelvo.rename("mass*speed^2/2", {"mass": "m", "speed": "v"})
    m*v^2/2
    """
    value = take(expression, given=given).values[0]
    value = value if isinstance(value, Equation) else one_expression(value)
    wanted = _new_names(value, names_table)

    def visit(node: Node) -> Node:
        if isinstance(node, Name) and node.name in wanted:
            return name(Hooks.read.plain_name(wanted[node.name]), node.domain)
        if isinstance(node, Applied) and node.name in wanted:
            return applied(wanted[node.name], node.arguments, node.orders)
        return node

    if isinstance(value, Equation):
        return Equation(
            transform(value.left, visit), transform(value.right, visit), [transform(c, visit) for c in value.conditions]
        )
    result = transform(value, visit)
    check_one_meaning([result])
    return result


def _new_names(value: Equation | Expression, names_table: Mapping[object, object] | str | PathLike[str]) -> dict[str, str]:
    """The table of a renaming, read and looked at: every name is there, and no two become one."""
    if not isinstance(names_table, (Mapping, str, PathLike)):
        raise DomainError(f"names are given as a mapping {{old: new}} or as the path of a table, not as {names_table!r}")
    listed = names_table if isinstance(names_table, Mapping) else read_names(names_table)
    wanted = {str(getattr(k, "name", k)): str(v) for k, v in listed.items()}
    roots = [value.left, value.right] if isinstance(value, Equation) else [value]
    present = {n.name for r in roots for n in names(r)} | {n.name for r in roots for n in postorder(r) if isinstance(n, Applied)}
    missing = [n for n in wanted if n not in present]
    if not isinstance(names_table, Mapping):
        wanted = {old: new for old, new in wanted.items() if old not in missing}
    elif missing:
        raise FormulaError(f"there is no name {missing[0]} to rename in this formula")
    kept = present - set(wanted)
    for old, new in wanted.items():
        if not new.isidentifier():
            raise FormulaError(f"{new!r} cannot be a name")
        if new in kept or list(wanted.values()).count(new) > 1:
            raise FormulaError(f"renaming {old} to {new} would make two different names one")
    return wanted
