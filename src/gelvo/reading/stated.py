"""Facts and variables as text, and what has to be known before anything else is read."""

from __future__ import annotations

import re
from collections.abc import Iterable

from gelvo.errors import DomainError, FormulaError
from gelvo.expression import building
from gelvo.expression.equation import Equation
from gelvo.expression.known import DOMAINS, domain_word
from gelvo.expression.nodes import Condition, Truth
from gelvo.expression.registry import FUNCTIONS
from gelvo.facts.statements import DomainFact, Fact
from gelvo.reading import words
from gelvo.reading.context import Context
from gelvo.reading.messages import names_a_function
from gelvo.reading.pieces import split_commas
from gelvo.reading.reader import read
from gelvo.reading.tree import Read


def domain_stated(text: str) -> tuple[str, str] | None:
    """(name, domain word) of a fact such as `n integer`; None for other facts."""
    pieces = text.split()
    if len(pieces) != 2 or not words.plain_name(pieces[0]).isidentifier():
        return None
    word = domain_word(pieces[1])
    return None if word is None else (words.plain_name(pieces[0]), word)


def declare(context: Context, facts: Iterable[str | Fact], variables: Iterable[str] = ()) -> None:
    """What has to be known before text is built: names that are stated to be complex, and unknown functions such as `y(x)`.

    Narrower domains (`n integer`) stay facts: they change no name of a result.
    """
    for text in variables:
        function = re.fullmatch(r"\s*(\w+)\s*\(([^()]*)\)\s*", text)
        if function is not None:
            name = words.plain_name(function.group(1))
            places = [words.plain_name(a.strip()) for a in function.group(2).split(",")]
            if name not in context.unknowns and name not in FUNCTIONS and all(p.isidentifier() for p in places):
                context.unknowns[name] = tuple(context.declared.get(p) or building.name(p) for p in places)
    for fact in facts:
        for part in split_commas(fact) if isinstance(fact, str) else ():
            stated = domain_stated(part)
            if stated is not None and stated[1] == "complex":
                known = context.declared.setdefault(stated[0], building.name(stated[0], "complex"))
                if known.domain != "complex":
                    raise DomainError(
                        f"the fact {part.strip()} comes too late: {known} is built as {known.domain} already. "
                        f'Make it with  variable("{known}", domain="complex")'
                    )


def read_variable(text: str, context: Context) -> Read:
    """A variable or an unknown function by its name, or a derivative such as x''."""
    plain = words.plain_name(text.strip())
    fixed = plain in context.unknowns or plain in words.CONSTANTS or plain in words.BOUNDS or names_a_function(plain)
    if plain.isidentifier() and not fixed:
        return context.declared.get(plain) or building.name(plain)
    return read(text, context)


def read_fact(text: str, context: Context | None = None) -> Fact:
    """A fact: a condition, or a name with a domain word such as `n integer`."""
    stated = domain_stated(text)
    if stated is not None:
        name, word = stated
        known = (context or Context()).declared.get(name)
        return DomainFact(known or building.name(name, "complex" if word == "complex" else "real"), word)
    result = read(text, context)
    if not isinstance(result, (Condition, Equation)):
        raise FormulaError(f"a fact is a condition such as a > 0, or a name with one of {', '.join(DOMAINS)}", text, 0)
    return result


def stated_fact(text: str, context: Context | None = None) -> Fact:
    """A fact that is stated, not asked about: what can never hold is none."""
    fact = read_fact(text, context)
    if isinstance(fact, Truth) and not fact.holds:
        raise FormulaError("this can never hold, so it is no fact", text, 0)
    return fact


def read_facts(texts: Iterable[str | Fact], context: Context | None = None, asked: bool = False) -> list[Fact]:
    """Facts from text, conditions and equations, in order; one text may hold several, separated by commas."""
    work = read_fact if asked else stated_fact
    result: list[Fact] = []
    for item in texts:
        if isinstance(item, str):
            result.extend(work(part.strip(), context) for part in split_commas(item) if part.strip())
        else:
            result.append(item)
    return result
