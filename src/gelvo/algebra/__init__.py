"""Rewriting and deciding: differentiation, expansion, factors, equality, simplification, facts."""
