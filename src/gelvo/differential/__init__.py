"""Ordinary differential equations: methods, solutions, stated values."""
