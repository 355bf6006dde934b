"""Equations of second order: linear ones by exponentials and special functions, others by their energy."""
