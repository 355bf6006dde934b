"""Formulas that keep their digits: where they are lost, in what other form they are kept, and how many are right in the end."""
