"""Units in a derivation: what its letters are measured in, quantities in its formulas, and values in the unit that was stated."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import TypeVar, cast

from gelvo.errors import DomainError
from gelvo.expression.building import junction, name, relation
from gelvo.expression.equation import Equation, in_each
from gelvo.expression.nodes import Applied, Condition, Expression, Junction, Name, Node, Relation
from gelvo.expression.traversal import postorder, substitute
from gelvo.forms.dimensions import SYMBOLS, has_quantities, in_quantities, pure, quantity, unit_of
from gelvo.matrices.matrix import Matrix
from gelvo.operations.solutions import Solutions
from gelvo.units import ANGLES, ONE, Unit, unit

C = TypeVar("C", bound=Condition | Equation)
K = TypeVar("K", bound=Node)
V = TypeVar("V")


def measures(units: Mapping[str, str]) -> dict[str, Unit]:
    """The units of letters, as far as the registry knows them; an angle is a number of radians, in whatever it is shown."""
    found: dict[str, Unit] = {}
    for letter, text in units.items():
        try:
            found[letter] = ONE if text in ANGLES else unit(text)
        except DomainError:
            continue  # a word of one's own: not known
    return found


def measured_letters(value: object, units: Mapping[str, str]) -> set[str]:
    """The letters of a formula that count in a unit."""
    return {n.name for root in _roots(value) for n in postorder(root) if isinstance(n, (Name, Applied)) and n.name in units}


def fits_to(letter: str, end: Expression, units: Mapping[str, str]) -> None:
    """Whether an end of a range, or a point, counts in the unit of the variable; DomainError where it does not."""
    known = measures(units)
    own, other = known.get(letter), unit_of(end, known) if not has_quantities(end) else None
    if own is not None and other is not None and other != own and measured_letters(end, units):
        raise DomainError(f"{letter} (in {own}) cannot run to {end} (in {other}): state both in one unit")


def unit_text_of(form: Expression, units: Mapping[str, str]) -> str:
    """The unit of a written form before it is worked out, as text; empty where it is not known."""
    try:
        return with_unit(form, units)[1] if units and not has_quantities(form) else ""
    except DomainError:
        return ""


def read_with_units(
    read: Callable[[Mapping[str, object]], object], definitions: Mapping[str, object], units: Mapping[str, str]
) -> object:
    """A formula read so that letters of known unit, numbers with a unit, and definitions that have one fit together.

    read: reads the text with given definitions. Raises DomainError where parts are added or compared that differ in unit.
    """
    value = read(definitions)
    known = measures(units) if units else {}
    if not has_quantities(value):
        if known:
            unit_of(value, known)
        return value
    # definitions with quantities are converted already: their letters are set aside while the others are converted
    aside: dict[Node, Expression] = {}
    sheltered = {k: _sheltered(v, aside) if has_quantities(v) else v for k, v in definitions.items()}
    value = in_quantities(read(sheltered), known)
    value = _replaced(value, {new: old for old, new in aside.items() if isinstance(old, Expression)})
    unit_of(value, {n.name: ONE for root in _roots(value) for n in postorder(root) if isinstance(n, Name) and n.name in known})
    return value


def _sheltered(value: object, aside: dict[Node, Expression]) -> object:
    for root in _roots(value):
        for node in postorder(root):
            if isinstance(node, (Name, Applied)) and node not in SYMBOLS:
                aside.setdefault(node, name(f"{node} aside", "real" if isinstance(node, Applied) else node.domain))
    return _replaced(value, aside)


def _roots(value: object) -> list[Node]:
    value = getattr(value, "expression", value)
    if isinstance(value, Equation):
        return [value.left, value.right]
    return [value] if isinstance(value, Node) else []


def formulas_of(value: object) -> list[Node]:
    """The formulas of a result: its sides, or the values of all solutions."""
    if isinstance(value, Solutions):
        return [e for solution in value for e in solution.values()]
    if isinstance(value, Matrix):
        return list(value.flat())
    return _roots(value)


def _replaced(value: object, table: Mapping[K, Expression]) -> object:
    return in_each(getattr(value, "expression", value), lambda e: substitute(e, table))


def in_stated_unit(letter: str, value: Expression, units: Mapping[str, str]) -> Expression:
    """A value that is put in for a letter: a number of the unit that was stated for it, or a quantity where none was."""
    if not has_quantities(value) or letter not in units:
        return value
    if units[letter] in ANGLES:
        stated = ONE
    else:
        stated = unit(units[letter])
    number, found = pure(value)
    if found.dimension != stated.dimension:
        raise DomainError(f"{letter} is stated in {{{units[letter]}}}, and {value} is in {found or 'a plain number'}")
    return number * quantity(found._replace(dimension=())) / quantity(stated._replace(dimension=()))


def in_numbers(fact: C) -> C:
    """A fact with quantities as one about numbers of the stated units: both sides of each relation are in the same unit."""
    if isinstance(fact, Equation):
        return cast(C, Equation(pure_side(fact.left, fact), pure_side(fact.right, fact), fact.conditions))
    if isinstance(fact, Junction):
        return cast(C, junction(fact.word, [in_numbers(p) for p in fact.parts]))
    if isinstance(fact, Relation):
        return cast(C, relation(fact.operator, pure_side(fact.left, fact), pure_side(fact.right, fact)))
    return fact


def pure_side(side: Expression, fact: object) -> Expression:
    unit_of(
        fact,
        {n.name: ONE for root in _roots(fact) for n in postorder(root) if isinstance(n, (Name, Applied)) and n not in SYMBOLS},
    )
    return pure(side)[0]


def put(value: V, table: Mapping[Name, Expression], units: Mapping[str, str]) -> V:
    """Values put in; where one of them is a quantity, the letters that stay are taken as quantities too."""
    if not table:
        return value
    if any(has_quantities(v) for v in table.values()) and not has_quantities(value):
        value = in_quantities(value, measures(units))
    result = cast(V, _replaced(value, table))
    if has_quantities(result):
        unit_of(result, {})
    return result


def with_unit(value: Expression, units: Mapping[str, str]) -> tuple[Expression, str]:
    """A formula as one of numbers, and the text of its unit where all its letters have one."""
    if has_quantities(value):
        number, found = pure(value)
        return number, str(found)
    known = measures(units) if units else {}
    found_unit = unit_of(value, known)
    return value, "" if found_unit is None else str(found_unit)
