"""Certificates: one way of checking for each kind of claim, none of them the way that produced the result."""
