"""Arguments as people give them: expressions, answers, numbers or text; facts; variables by name.

Every operation comes in through `take`: names, domains and unknown functions of all arguments of the call, its variables and the
domains that its facts state are known before any text is built, so that one name means one thing all through the call.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any, NamedTuple, Protocol, TypeVar, cast

from gelvo.errors import DomainError, FormulaError
from gelvo.expression.building import name, to_expression
from gelvo.expression.equation import Equation, in_each
from gelvo.expression.nodes import Applied, Condition, Expression, Name, Node, Written
from gelvo.expression.registry import Hooks
from gelvo.expression.traversal import check_one_meaning, free_names, names, postorder, set_apart, spelled_in, substitute
from gelvo.facts.statements import DomainFact, Fact, is_about
from gelvo.facts.store import Facts
from gelvo.matrices.matrix import Matrix

V = TypeVar("V")


class Names(Protocol):
    """What names mean in a call: those that are declared, and unknown functions."""

    declared: dict[str, Name]
    unknowns: dict[str, tuple[Expression, ...]]


class Arguments(NamedTuple):
    """What one call was given, read: values, variables, facts, and facts that are only asked about.

    stated: the facts with those about bound variables of written forms, which `facts` leaves out: they hold only where the form's
    range does; context: what names mean in this call; declared_as: for an unknown that is sought over the complex numbers, the variable
    that the caller had; fixed: letters that a fact sets equal to a number, put into the values.
    """

    values: tuple[Any, ...]
    variables: tuple[Expression, ...]
    facts: Facts
    stated: Facts
    asked: tuple[Any, ...]
    context: Any
    declared_as: dict[Name, Name]
    fixed: dict[Expression, Expression]

    @property
    def names(self) -> tuple[Name, ...]:
        """The variables, where only plain ones make sense."""
        for found in self.variables:
            if not isinstance(found, Name):
                raise DomainError(f"a plain variable is needed here, not {found}")
        return tuple(n for n in self.variables if isinstance(n, Name))

    @property
    def expressions(self) -> tuple[Expression, ...]:
        """The values, where only expressions make sense."""
        return tuple(one_expression(v) for v in self.values)


def take(
    *items: object, variables: Sequence[object] = (), given: Iterable[object] = (), over: str | None = None, asked: Iterable[object] = (),
    inside: bool = False,
) -> Arguments:  # fmt: skip
    """Reads the arguments of a call.

    items: formulas; variables: those of the operation; given: facts; over: "complex" where the variables are unknowns that may
    be complex; asked: facts that the call does not state but asks about; inside: whether the call works on a written form itself,
    so that the names of all arguments mean the form's own variable.
    """
    stated, questions = facts_listed(given), facts_listed(asked)
    values: list[Any] = [i if isinstance(i, str) else _plain(i) for i in items]
    targets = [v if isinstance(v, str) else _one_variable(v) for v in _each(variables)]
    objects = [o for o in (*values, *targets, *stated, *questions) if not isinstance(o, str)]
    context = Hooks.read.context(*objects)
    check_one_meaning(roots_of(*objects))
    Hooks.read.declare(context, stated, [t for t in targets if isinstance(t, str)])
    declared_as = _widened(targets, context) if over == "complex" else {}
    for place, item in enumerate(values):
        if isinstance(item, str):
            values[place] = Hooks.read(item, context)
            context.learn(values[place])
    read = [_variable_of_text(t, context) if isinstance(t, str) else t for t in targets]
    context.learn(*read)
    known = Hooks.read.facts(stated, context)
    wanted = Hooks.read.facts(questions, context, asked=True)
    if declared_as:
        table = {old: new for new, old in declared_as.items() if old is not new}
        values, read, known, wanted = ([_substituted(v, table) for v in part] for part in (values, read, known, wanted))
    roots = roots_of(*values, *read, *known, *wanted)
    check_one_meaning(roots)
    facts = Facts(known, spelled=spelled_in(*[r for r in roots if isinstance(r, Node)]))
    fixed = _fixed_numbers(facts, read)
    values = [in_each(v, lambda e: substitute(e, fixed)) for v in values] if fixed else values
    values, own = (values, facts) if inside else _scoped(values, read, facts)
    return Arguments(tuple(values), tuple(read), own, facts, tuple(wanted), context, declared_as, fixed)


def _fixed_numbers(facts: Facts, variables: Sequence[Expression]) -> dict[Expression, Expression]:
    """Letters that a fact sets equal to a number: they are that number in this call."""
    return {
        one: other
        for pair in facts.equalities for one, other in (pair, pair[::-1])
        if isinstance(one, Name) and one not in variables and not names(other) and not isinstance(other, Applied)
    }  # fmt: skip


def _scoped(values: list[object], variables: Sequence[Expression], facts: Facts) -> tuple[list[object], Facts]:
    """Bound variables of written forms get names of their own where the call means another thing by theirs; facts about names
    that are only bound are left out."""
    roots = roots_of(*values)
    bound = {n.variable for n in postorder(*roots) if isinstance(n, Written) and n.binds}
    if not bound:
        return values, facts
    free = {n for root in (*roots, *variables) for n in free_names(root)}
    spoken_of = {n for n in bound if any(is_about(f, n) for f in facts.given)}
    outside = bound & {*variables, *(free & spoken_of)}
    for name_only_bound in spoken_of - free:
        facts = facts.without(name_only_bound)
    return [in_each(v, lambda e: set_apart(e, outside)) for v in values] if outside else values, facts


def facts_listed(given: object) -> list[str | Fact]:
    """Facts as a list; one fact may stand alone."""
    if given is None:
        return []
    if isinstance(given, (str, Condition, Equation, DomainFact)):
        return [given]
    if not isinstance(given, Iterable):
        raise DomainError(f'facts are a list such as ["a > 0"], not {given!r}')
    result: list[str | Fact] = []
    for item in given:
        fact = getattr(item, "expression", item)
        if not isinstance(fact, (str, Condition, Equation, DomainFact)):
            raise DomainError(f"a fact is a condition such as a > 0, an equation, or text, not {fact!r}")
        result.append(fact)
    return result


def _each(variables: Iterable[object]) -> list[object]:
    return list(variables.flat() if isinstance(variables, Matrix) else variables)


def _plain(item: object) -> object:
    item = getattr(item, "expression", item)
    if item is None or isinstance(item, (Node, Equation, Matrix)):
        return item
    return to_expression(item)


def _one_variable(item: object) -> Expression:
    item = getattr(item, "expression", item)
    if not isinstance(item, (Name, Applied)):
        raise DomainError(f"a variable is needed here, not {item}")
    return item


def _variable_of_text(text: str, context: object) -> Expression:
    """A variable or an unknown function by its name; a definition of the same name does not matter here."""
    return _one_variable(Hooks.read.variable(text, context))


def _widened(targets: Sequence[object], context: Names) -> dict[Name, Name]:
    """Unknowns that are sought over the complex numbers: {the complex name: the one that the caller has}."""
    result: dict[Name, Name] = {}
    for target in targets:
        own = target if isinstance(target, Name) else None
        if isinstance(target, str) and Hooks.read.plain_name(target.strip()).isidentifier():
            spelt = Hooks.read.plain_name(target.strip())
            own = None if spelt in context.unknowns else context.declared.get(spelt) or name(spelt)
        if own is not None:
            wide = name(own.name, "complex")
            context.declared[own.name] = wide
            result[wide] = own
    return result


def _substituted(value: V, table: dict[Name, Name]) -> V:
    if isinstance(value, DomainFact):
        return cast(V, DomainFact(table.get(value.name, value.name), value.domain))
    return in_each(value, lambda e: substitute(e, table))


def roots_of(*values: object) -> list[Node]:
    """The formulas of which values consist."""
    result: list[Node] = []
    for value in values:
        if isinstance(value, Equation):
            result += [value.left, value.right]
        elif isinstance(value, Matrix):
            result += value.flat()
        elif isinstance(value, DomainFact):
            result.append(value.name)
        elif isinstance(value, Node):
            result.append(value)
    return result


def one_expression(value: object, what: str = "an expression") -> Expression:
    if isinstance(value, Equation):
        raise FormulaError(f"{what} is needed here, but {value} is an equation", str(value), str(value).find("="))
    if isinstance(value, Condition):
        raise FormulaError(f"{what} is needed here, but {value} is a condition")
    if isinstance(value, Matrix):
        raise DomainError(f"{what} is needed here, not a matrix of {value.shape[0]} x {value.shape[1]}")
    if not isinstance(value, Expression):
        raise DomainError(f"{what} is needed here, not {type(value).__name__}")
    return value


def split_initial(given: Iterable[Fact]) -> tuple[list[Equation], list[Fact]]:
    """Initial values (equations about unknown functions) apart from facts."""
    initial: list[Equation] = []
    rest: list[Fact] = []
    for fact in given:
        if isinstance(fact, Equation) and any(isinstance(n, Applied) for n in postorder(fact.left - fact.right)):
            initial.append(fact)
        else:
            rest.append(fact)
    return initial, rest
