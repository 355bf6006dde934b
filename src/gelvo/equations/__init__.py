"""Equations: one unknown, and systems."""
