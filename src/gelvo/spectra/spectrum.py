"""All eigenvectors of a matrix, by the shortest way to them: a pattern, its letters taken out, or the factors of its polynomial."""

from __future__ import annotations

from typing import NamedTuple

from gelvo.expression.nodes import Condition
from gelvo.facts.store import Facts
from gelvo.facts.vanishing import apart_from_zero
from gelvo.matrices import elimination
from gelvo.matrices.matrix import Matrix, square
from gelvo.spectra import jordan, patterns
from gelvo.spectra.factors import Factor, factors
from gelvo.spectra.scaling import Scaled, scaled


class Spectrum(NamedTuple):
    """Chains known by a pattern, or else the factors, of the numbers of a matrix whose letters are a shift and a stretch."""

    known: list[jordan.Chain] | None
    letters: Scaled | None
    found: list[Factor]


def spectrum(m: Matrix, facts: Facts) -> Spectrum:
    """A pattern is used where the polynomial has letters or no short roots."""
    known, letters = patterns.known_chains(m), scaled(m)
    if known is not None and m.free_names and (letters is None or not patterns.has_short_waves(m)):
        return Spectrum(known, None, [])
    return Spectrum(None, letters, factors(m if letters is None else letters.numbers, facts))


def chains_of(m: Matrix, facts: Facts) -> tuple[list[jordan.Chain], tuple[Condition, ...]]:
    """Jordan's chains, and what must hold for the vectors to be independent."""
    square(m, "eigenvectors")
    known, letters, found = spectrum(m, facts)
    if known is not None:
        return known, elimination.with_denominators(Matrix([[e for c in known for e in c.vectors[0].flat()]]), facts).conditions
    if letters is not None:
        moved = jordan.stretched(jordan.chains(letters.numbers, found, facts), letters)
        return moved, tuple(apart_from_zero(letters.stretch, facts)) if any(len(c.vectors) > 1 for c in moved) else ()
    chains = jordan.chains(m, found, facts)
    return chains, jordan.independent(m, chains, facts)
