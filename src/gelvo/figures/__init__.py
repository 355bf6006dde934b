"""Figures of formulas."""
