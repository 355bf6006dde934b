"""Inequalities: intervals, unions, regions."""
