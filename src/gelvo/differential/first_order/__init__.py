"""Differential equations of the first order."""
