"""Exact polynomial arithmetic; no expression inside."""
