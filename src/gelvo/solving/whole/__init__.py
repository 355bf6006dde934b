"""Equations over the whole numbers: one file a kind of equation."""
